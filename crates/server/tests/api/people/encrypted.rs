//! Encrypted connections, and a proxy in front.

use super::{PASSPHRASE, behind_a_proxy, reached};
use crate::ask_at;
use artemon_server::{Encryption, Reach};
use rcgen::{CertifiedKey, generate_simple_self_signed};
use serde_json::Value;
use std::sync::Arc;
use tokio::{
    io::{AsyncReadExt, AsyncWriteExt},
    net::TcpStream,
};
use tokio_rustls::{
    TlsConnector,
    rustls::{ClientConfig, RootCertStore, pki_types::ServerName},
};
use url::Url;

#[tokio::test(flavor = "multi_thread")]
async fn a_certificate_of_ones_own_encrypts_and_nothing_plain_is_answered() {
    let files = tempfile::tempdir().unwrap();
    let CertifiedKey { cert, signing_key } = generate_simple_self_signed(vec!["artemon.example".to_owned()]).unwrap();
    let (certificate, key) = (files.path().join("cert.pem"), files.path().join("key.pem"));
    std::fs::write(&certificate, cert.pem()).unwrap();
    std::fs::write(&key, signing_key.serialize_pem()).unwrap();
    let encryption = Encryption::Tls { certificate: certificate.clone(), key };
    let mut name = String::new();
    let shared = reached(|address| {
        name = format!("https://artemon.example:{}", address.port());
        Reach::shared(address, Some(&Url::parse(&name).unwrap()), encryption, false)
    })
    .await;
    let mut roots = RootCertStore::empty();
    roots.add(cert.der().clone()).unwrap();
    let provider = Arc::new(tokio_rustls::rustls::crypto::ring::default_provider());
    let config = ClientConfig::builder_with_provider(provider).with_safe_default_protocol_versions().unwrap();
    let connector = TlsConnector::from(Arc::new(config.with_root_certificates(roots).with_no_client_auth()));
    let ask = async |request: String| {
        let stream = TcpStream::connect(("127.0.0.1", shared.port)).await.unwrap();
        let mut stream = connector.connect(ServerName::try_from("artemon.example").unwrap(), stream).await.unwrap();
        stream.write_all(request.as_bytes()).await.unwrap();
        let mut answer = Vec::new();
        stream.read_to_end(&mut answer).await.ok();
        String::from_utf8_lossy(&answer).into_owned()
    };
    let host = name.strip_prefix("https://").unwrap();
    let body = format!("{{\"token\":\"{}\",\"name\":\"Anna\",\"passphrase\":\"{PASSPHRASE}\"}}", shared.token);
    let joined = ask(format!(
        "POST /api/join HTTP/1.1\r\nHost: {host}\r\nOrigin: {name}\r\nConnection: close\r\nContent-Type: application/json\r\n\
         Content-Length: {}\r\n\r\n{body}",
        body.len()
    ))
    .await;
    assert!(joined.starts_with("HTTP/1.1 200"), "{joined}");
    let lower = joined.to_lowercase();
    assert!(lower.contains("strict-transport-security: max-age=31536000; includesubdomains"), "{joined}");
    for name in ["__Host-artemon=", "__Host-artemon-device="] {
        let cookie = joined.lines().find(|line| line.contains(name)).expect("a cookie of this server alone");
        for said in ["HttpOnly", "SameSite=Strict", "Secure", "Path=/"] {
            assert!(cookie.contains(said) && !cookie.contains("Domain"), "{said}: {cookie}");
        }
    }
    assert!(lower.contains("cache-control: no-store"), "nothing of the API stays in the browser: {joined}");
    let mut plain = TcpStream::connect(("127.0.0.1", shared.port)).await.unwrap();
    plain.write_all(format!("GET /api/about HTTP/1.1\r\nHost: {host}\r\n\r\n").as_bytes()).await.unwrap();
    let mut answer = Vec::new();
    plain.read_to_end(&mut answer).await.ok();
    assert!(!String::from_utf8_lossy(&answer).contains("HTTP/"), "nothing plain is answered");
    // A key of another certificate is told at the start.
    let CertifiedKey { signing_key: other, .. } = generate_simple_self_signed(vec!["artemon.example".to_owned()]).unwrap();
    let wrong = files.path().join("wrong.pem");
    std::fs::write(&wrong, other.serialize_pem()).unwrap();
    let listener = tokio::net::TcpListener::bind("127.0.0.1:0").await.unwrap();
    let address = listener.local_addr().unwrap();
    let encryption = Encryption::Tls { certificate, key: wrong };
    let reach = Reach::shared(address, Some(&Url::parse("https://artemon.example").unwrap()), encryption, false).unwrap();
    let refused = artemon_server::serve(listener, shared.home.clone(), reach, std::future::pending()).await.unwrap_err();
    assert!(refused.to_string().contains("the certificate") && refused.to_string().contains("cannot be used"), "{refused}");
}

#[tokio::test(flavor = "multi_thread")]
async fn what_the_proxy_says_counts_and_whoever_goes_past_it_is_refused() {
    let shared = behind_a_proxy().await;
    let anna = shared.anna_in(shared.browser_at("203.0.113.5")).await;
    assert!(anna.cookie("__Host-artemon").is_some());
    let (_, account) = anna.does("GET /api/account", "/api/account", Value::Null).await;
    assert_eq!(account["sessions"][0]["address"], "203.0.113.5");
    // By another name than that of the proxy.
    let (status, _, _) = ask_at(shared.port, "GET", "/api/about", &format!("127.0.0.1:{}", shared.port), "", "").await;
    assert_eq!(status, 403);
    // Another proxy is meant than the machine that asks.
    let url = Url::parse("https://artemon.example").unwrap();
    let elsewhere = Encryption::Proxy("192.0.2.9".parse().unwrap());
    let past = reached(|address| Reach::shared(address, Some(&url), elsewhere, false)).await;
    let (status, _, said) = ask_at(past.port, "GET", "/", "artemon.example", "", "").await;
    assert!(status == 403 && said.contains("its proxy only"), "{status} {said}");
}
