//! The browser's files, compressed when they were built, and answers that are not compressed.

use super::{OWN, ask_whole, server};

#[tokio::test]
async fn files_come_compressed_to_those_that_take_them_so() {
    let server = server().await;
    let get = async |path: &str, more: &str| ask_whole(&server, "GET", path, OWN, more, "").await;
    // Without the front end there is nothing to serve; the suite builds it first.
    let (status, head, page) = get("/", "").await;
    assert_eq!((status, head.to_lowercase().contains("content-encoding")), (200, false));
    let script = page.split('"').find(|part| part.starts_with("/assets/") && part.ends_with(".js")).expect("the page has a script");
    let (status, plain, _) = get(script, "").await;
    assert!(status == 200 && !plain.to_lowercase().contains("content-encoding"), "{plain}");
    let (status, packed, _) = get(script, "Accept-Encoding: br, gzip;q=0.8\r\n").await;
    let packed = packed.to_lowercase();
    assert!(status == 200 && packed.contains("content-encoding: gzip") && packed.contains("immutable"), "{packed}");
    assert!(packed.contains("javascript") && packed.contains("vary: accept-encoding"), "{packed}");
    let length =
        |head: &str| head.to_lowercase().split("content-length: ").nth(1).and_then(|t| t.lines().next()?.trim().parse::<u64>().ok());
    assert!(length(&packed).unwrap() * 2 < length(&plain).unwrap(), "{packed} {plain}");
    // A place of the application is its page; a file that is not there is none.
    assert_eq!(get("/companies/DRUA", "").await.0, 200);
    assert_eq!(get("/assets/nothing.js", "").await.0, 404);
}

#[tokio::test]
async fn small_answers_and_archives_are_sent_as_they_are() {
    let server = server().await;
    let gzip = "Accept-Encoding: gzip\r\n";
    for path in ["/api/about", "/api/export"] {
        let (status, head, _) = ask_whole(&server, "GET", path, OWN, gzip, "").await;
        assert!(status == 200 && !head.to_lowercase().contains("content-encoding"), "{path}: {head}");
    }
    let (status, head, _) = ask_whole(&server, "GET", "/api/openapi.json", OWN, gzip, "").await;
    assert!(status == 200 && head.to_lowercase().contains("content-encoding: gzip"), "a large one is: {head}");
}
