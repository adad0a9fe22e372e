//! Damage to the files of a data folder, while nothing runs: each time it is said what is damaged, the rest works, and there is a way back.

use crate::server::{Server, run, said};
use serde_json::{Value, json};
use std::{fs, path::Path};

const DEMO: [&str; 5] = ["demo", "--companies", "30", "--copies", "3"];

/// Waits for the copy of the day.
fn copied(server: &Server) -> Value {
    for _ in 0..100 {
        let safety = server.get("/api/safety");
        if safety["copies"].as_array().is_some_and(|all| !all.is_empty()) {
            return safety;
        }
        std::thread::sleep(std::time::Duration::from_millis(50));
    }
    panic!("no copy was made");
}

fn add(server: &Server, name: &str) {
    server.ask("POST", "/api/documents", &json!({ "kind": "screen", "name": name, "body": { "blocks": [] } }));
}

fn names(server: &Server) -> Vec<String> {
    let all = server.get("/api/documents?kind=screen");
    all.as_array().unwrap().iter().map(|d| d["name"].as_str().unwrap().to_owned()).collect()
}

/// Changes bytes of a file where a text stands.
fn overwrite(path: &Path, text: &str, with: &str) -> usize {
    let mut bytes = fs::read(path).unwrap();
    let places: Vec<usize> = bytes.windows(text.len()).enumerate().filter(|(_, w)| *w == text.as_bytes()).map(|(i, _)| i).collect();
    for place in &places {
        bytes[*place..][..with.len()].copy_from_slice(with.as_bytes());
    }
    fs::write(path, bytes).unwrap();
    places.len()
}

/// A bit flipped in one company's data: it is named, everybody else is answered, and importing again heals it.
#[test]
fn a_damaged_company_is_set_aside_until_it_is_imported_again() {
    let (data, out) = (tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap());
    let server = Server::start(data.path(), &DEMO);
    let package = out.path().join("whole");
    assert!(run(data.path(), &["export", package.to_str().unwrap()]).status.success());
    let symbols = server.ask("POST", "/api/screen/symbols", &json!({ "screen": { "blocks": [] } }));
    let (hit, other) = (symbols[0].as_str().unwrap(), symbols[1].as_str().unwrap());
    let price = |server: &Server, symbol: &str| {
        server.ask("POST", "/api/evaluate", &json!({ "formulas": ["price", "pe"], "symbols": [symbol] }))[0]["values"].clone()
    };
    let before = [price(&server, hit), price(&server, other)];
    let rows = server.ask("POST", "/api/screen/rows", &json!({ "list": { "screen": { "blocks": [] } }, "rows": 200 }));
    let row = rows["rows"].as_array().unwrap().iter().find(|row| row["symbol"] == hit).unwrap();
    let name = row["name"].as_str().unwrap().to_owned();
    let mut server = server;
    server.stop();
    // Its name stands in its row, and wherever else.
    let wrong = format!("{}x", &name[..name.len() - 1]);
    assert!(overwrite(&data.path().join("dataset.sqlite"), &name, &wrong) > 0);

    let server = Server::start(data.path(), &DEMO);
    let damaged = server.get("/api/safety")["dataset_damaged"].clone();
    let sentence = damaged[0]["sentence"].as_str().unwrap();
    assert!(sentence.contains("damaged on the disk") && sentence.contains("Import them again"), "{damaged}");
    assert!(server.get("/api/about")["damaged"].as_u64().unwrap() > 0);
    assert_eq!(price(&server, other), before[1], "everything else is as it was");
    let checked = run(data.path(), &["check"]);
    assert!(!checked.status.success() && said(&checked).contains("Something is damaged"), "{}", said(&checked));
    let partly = run(data.path(), &["export", out.path().join("partly").to_str().unwrap()]);
    assert!(partly.status.success() && said(&partly).contains("left out: "), "{}", said(&partly));
    drop(server);

    let healed = run(data.path(), &["import", package.to_str().unwrap()]);
    assert!(healed.status.success(), "{}", said(&healed));
    let server = Server::start(data.path(), &DEMO);
    assert_eq!([price(&server, hit), price(&server, other)], before);
    assert_eq!(server.get("/api/about")["damaged"], 0);
    assert!(run(data.path(), &["check"]).status.success());
}

/// One's own work changed on the disk: it is said at the start, and the newest sound copy is put back from the browser.
#[test]
fn damaged_work_is_told_and_put_back() {
    let data = tempfile::tempdir().unwrap();
    let server = Server::start(data.path(), &DEMO);
    add(&server, "Cheap and sound firms");
    copied(&server);
    let kept = server.ask("POST", "/api/copies", &Value::Null)["name"].as_str().unwrap().to_owned();
    let mut server = server;
    server.stop();
    assert!(overwrite(&data.path().join("people.sqlite"), "Cheap and sound firms", "Cheap and bound") > 0);

    let server = Server::start(data.path(), &DEMO);
    let safety = server.get("/api/safety");
    assert_eq!((&safety["own_damaged"], &safety["sound_copy"]), (&json!(["documents"]), &json!(kept)), "{safety}");
    let said = run(data.path(), &["doctor"]);
    let lines = String::from_utf8_lossy(&said.stdout).into_owned();
    assert!(lines.contains("documents is not as it was written") && lines.contains("way back") && lines.lines().count() <= 12, "{lines}");
    let after = server.ask("POST", &format!("/api/copies/{}/restore", kept.replace(' ', "%20")), &Value::Null);
    assert_eq!(after["own_damaged"], json!([]));
    assert_eq!(names(&server), ["Cheap and sound firms"]);
    assert_eq!(server.get("/api/about")["damaged"], 0);
}

/// Files that cannot be read at all: the program says so at once, in words, and what to do works.
#[test]
fn a_file_that_cannot_be_read_is_put_back_at_the_terminal() {
    let (data, safe) = (tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap());
    let server = Server::start(data.path(), &DEMO);
    add(&server, "Mine");
    let backup = safe.path().join("backup");
    let made = run(data.path(), &["backup", backup.to_str().unwrap()]);
    assert!(made.status.success(), "{}", said(&made));
    assert!(said(&run(data.path(), &["backup", backup.to_str().unwrap()])).contains("exists already"));
    let mut server = server;
    let in_use = run(data.path(), &["restore", backup.to_str().unwrap()]);
    assert!(said(&in_use).contains("is in use"), "{}", said(&in_use));
    server.stop();
    for file in ["people.sqlite", "dataset.sqlite"] {
        // Whoever closes a file last puts what waits beside it into it; that would hide what is damaged.
        assert!(run(data.path(), &["check"]).status.success());
        for damage in ["cut", "zeroed", "other"] {
            let path = data.path().join(file);
            let mut bytes = fs::read(&path).unwrap();
            match damage {
                "cut" => bytes.truncate(bytes.len() / 3),
                "zeroed" => {
                    let to = 32_768.min(bytes.len() / 2);
                    bytes[100..to].fill(0);
                }
                _ => bytes = b"something else altogether, of somebody else".to_vec(),
            }
            fs::write(&path, bytes).unwrap();
            let started = std::time::Instant::now();
            match Server::try_start(data.path(), &["serve"]) {
                // What can be read is shown, and what cannot is told; where that is all that is one's own, a page offers the copies.
                Ok(server) => match server.answer("GET", "/api/about", &Value::Null) {
                    (200, about) => assert!(!about.contains("\"damaged\":0"), "{file} {damage} is not noticed: {about}"),
                    (status, words) => assert!(status == 503 && words.contains("own-unreadable"), "{file} {damage}: {words}"),
                },
                Err(words) => {
                    assert!(words.contains(file) || words.contains("damaged"), "{file} {damage}: {words}");
                    assert!(words.lines().count() <= 3, "{file} {damage}: {words}");
                }
            }
            assert!(started.elapsed().as_secs() < 5, "{file} {damage}: {:?}", started.elapsed());
            let back = run(data.path(), &["restore", backup.to_str().unwrap()]);
            assert!(back.status.success(), "{file} {damage}: {}", said(&back));
            let mut server = Server::start(data.path(), &DEMO);
            assert_eq!(names(&server), ["Mine"], "{file} {damage}");
            server.stop();
            assert!(run(data.path(), &["check"]).status.success());
        }
    }
    // What was there each time is kept.
    assert!(fs::read_dir(data.path().join("copies")).unwrap().count() >= 12);
    // A backup that is not sound replaces nothing.
    assert!(overwrite(&backup.join("people.sqlite"), "Mine", "Yours") > 0);
    let refused = run(data.path(), &["restore", backup.to_str().unwrap()]);
    assert!(!refused.status.success() && said(&refused).contains("damaged and was not put back"), "{}", said(&refused));
    assert_eq!(names(&Server::start(data.path(), &DEMO)), ["Mine"]);
}

/// What is one's own cannot be opened: the browser offers the sound copies, and the server goes on with the one that is chosen.
#[test]
fn a_file_that_cannot_be_read_is_put_back_in_the_browser() {
    let data = tempfile::tempdir().unwrap();
    let server = Server::start(data.path(), &DEMO);
    add(&server, "Mine");
    copied(&server);
    let kept = server.ask("POST", "/api/copies", &Value::Null)["name"].as_str().unwrap().to_owned();
    let mut server = server;
    let people = data.path().join("people.sqlite");
    let form = |choice: &str| format!("choice={}", choice.replace(' ', "+").replace(':', "%3A"));
    for (damage, choice, wanted) in [("other", kept.as_str(), &["Mine"][..]), ("gone", &kept, &["Mine"]), ("empty", "", &[])] {
        server.stop();
        assert!(run(data.path(), &["check"]).status.success());
        match damage {
            "other" => fs::write(&people, b"something else altogether, of somebody else").unwrap(),
            "gone" => fs::remove_file(&people).unwrap(),
            _ => fs::write(&people, b"").unwrap(),
        }
        // Nothing at the terminal begins with an empty one either.
        let asked = run(data.path(), &["rank"]);
        assert!(!asked.status.success() && said(&asked).contains("people.sqlite"), "{damage}: {}", said(&asked));
        server = Server::start(data.path(), &DEMO);
        let (status, page) = server.answer("GET", "/companies/anything", &Value::Null);
        assert!(status == 200 && page.contains("cannot be opened") && page.contains(&kept), "{page}");
        let (status, foreign) = server.form("/rescue", "Origin: http://evil.example\r\n", &form(choice));
        assert!(status == 403, "{foreign}");
        let (status, wrong) = server.form("/rescue", "", &form("20200101T000000.000 daily.sqlite"));
        assert!(status == 404 && wrong.contains("Choose again"), "{status} {wrong}");
        let (status, said) = server.form("/rescue", "", &form(choice));
        assert!(status == 200 && said.contains("Artemon starts now"), "{status} {said}");
        // The same address.
        let opened = (0..100).any(|_| {
            std::thread::sleep(std::time::Duration::from_millis(50));
            server.answer("GET", "/api/about", &Value::Null).0 == 200
        });
        assert!(opened);
        assert_eq!(names(&server), wanted);
        assert_eq!(server.get("/api/about")["damaged"], 0);
    }
    let apart = fs::read_dir(data.path().join("copies")).unwrap().filter(|f| {
        let path = f.as_ref().unwrap().path();
        path.to_string_lossy().contains("replaced") && fs::read(path).unwrap().starts_with(b"something else")
    });
    assert_eq!(apart.count(), 1, "what was there is kept");
}
