//! Only pages of this server may talk to it: requests with a foreign Host or Origin are refused, and those that a page of another
//! site makes. What it answers says what browsers may do with it.

use crate::error::Problem;
use axum::{
    extract::{Request, State},
    http::{
        HeaderMap, HeaderName, HeaderValue, StatusCode,
        header::{self, CACHE_CONTROL},
    },
    middleware::Next,
    response::{IntoResponse, Response},
};
use std::net::SocketAddr;

/// Says from where a browser's request comes (Fetch Metadata).
const FETCH_SITE: HeaderName = HeaderName::from_static("sec-fetch-site");

/// What a page may load and do.
pub(crate) const POLICY: &str =
    "default-src 'self'; img-src 'self' data:; font-src 'self' data:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'";

/// What is said with every answer that does not say otherwise.
const MANNERS: [(HeaderName, &str); 5] = [
    (header::CONTENT_SECURITY_POLICY, POLICY),
    (header::X_CONTENT_TYPE_OPTIONS, "nosniff"),
    (header::REFERRER_POLICY, "no-referrer"),
    (HeaderName::from_static("cross-origin-resource-policy"), "same-origin"),
    (HeaderName::from_static("cross-origin-opener-policy"), "same-origin"),
];

pub(crate) async fn own_pages_only(State(address): State<SocketAddr>, request: Request, next: Next) -> Response {
    let of_api = request.uri().path().starts_with("/api");
    let mut answer = if is_own(request.headers(), address, of_api) {
        next.run(request).await
    } else {
        let sentence = "This server answers its own pages only. Open it by the address it printed when it started.";
        Problem::new(StatusCode::FORBIDDEN, "foreign-host", sentence).into_response()
    };
    let headers = answer.headers_mut();
    for (name, value) in MANNERS {
        headers.entry(name).or_insert(HeaderValue::from_static(value));
    }
    if of_api {
        headers.entry(CACHE_CONTROL).or_insert(HeaderValue::from_static("no-store"));
    }
    answer
}

/// Host must be a loopback name or the address listened on; Origin, when sent, must be the same. A browser that says from where
/// a request to the API comes must say from here.
fn is_own(headers: &HeaderMap, address: SocketAddr, of_api: bool) -> bool {
    let host = one(headers, &header::HOST);
    let origin = one(headers, &header::ORIGIN);
    let site = one(headers, &FETCH_SITE);
    host.is_ok_and(|host| host.is_some_and(|host| is_own_host(host, address)))
        && origin.is_ok_and(|origin| origin.is_none_or(|o| o.strip_prefix("http://").is_some_and(|host| is_own_host(host, address))))
        && (!of_api || site.is_ok_and(|site| site.is_none_or(|site| ["same-origin", "none"].contains(&site))))
}

/// A header that may be there once, in plain characters.
fn one<'h>(headers: &'h HeaderMap, name: &HeaderName) -> Result<Option<&'h str>, ()> {
    let mut all = headers.get_all(name).iter();
    let first = all.next().map(HeaderValue::to_str).transpose().map_err(drop)?;
    if all.next().is_some() { Err(()) } else { Ok(first) }
}

/// Browsers leave the port of plain HTTP out.
fn is_own_host(host: &str, address: SocketAddr) -> bool {
    let port = address.port();
    let names = ["localhost".to_owned(), "127.0.0.1".to_owned(), "[::1]".to_owned(), ip(address)];
    names.iter().any(|name| {
        let rest = host.get(..name.len()).filter(|start| start.eq_ignore_ascii_case(name)).map(|_| &host[name.len()..]);
        rest.is_some_and(|rest| (port == 80 && rest.is_empty()) || rest.strip_prefix(':').is_some_and(|p| p == port.to_string()))
    })
}

fn ip(address: SocketAddr) -> String {
    if address.is_ipv6() { format!("[{}]", address.ip()) } else { address.ip().to_string() }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn told(sent: &[(&'static str, &[u8])]) -> HeaderMap {
        let header = |(name, value): &(&'static str, &[u8])| (HeaderName::from_static(name), HeaderValue::from_bytes(value).unwrap());
        sent.iter().map(header).fold(HeaderMap::new(), |mut all, (name, value)| {
            all.append(name, value);
            all
        })
    }

    #[test]
    fn one_readable_host_and_origin_of_this_server_pass_and_nothing_else() {
        let at = |port: u16, sent: &[(&'static str, &[u8])]| is_own(&told(sent), SocketAddr::from(([127, 0, 0, 1], port)), true);
        let own = ("host", b"127.0.0.1:8017".as_slice());
        assert!(at(8017, &[own]) && at(8017, &[("host", b"LOCALHOST:8017")]) && at(8017, &[("host", b"[::1]:8017")]));
        assert!(at(8017, &[own, ("origin", b"http://localhost:8017"), ("sec-fetch-site", b"same-origin")]));
        assert!(at(80, &[("host", b"localhost"), ("origin", b"http://localhost")]) && at(80, &[("host", b"localhost:80")]));
        assert!(!at(8017, &[]) && !at(8017, &[("host", b"localhost")]) && !at(8017, &[("host", b"127.0.0.1:80")]));
        assert!(!at(8017, &[("host", b"127.0.0.1:8017.example")]) && !at(8017, &[("host", b"localhost.example:8017")]));
        assert!(!at(8017, &[own, own]), "several hosts");
        assert!(!at(8017, &[own, ("origin", b"http://localhost:8017"), ("origin", b"http://other.example")]), "a second origin");
        assert!(!at(8017, &[own, ("origin", b"\xff\xfe")]), "an origin that cannot be read");
        assert!(!at(8017, &[own, ("origin", b"null")]) && !at(8017, &[own, ("origin", b"https://localhost:8017")]));
        for site in [b"cross-site".as_slice(), b"same-site"] {
            assert!(!at(8017, &[own, ("sec-fetch-site", site)]));
        }
        // A link from elsewhere may open the page, which then asks for itself.
        let address = SocketAddr::from(([127, 0, 0, 1], 8017));
        assert!(is_own(&told(&[own, ("sec-fetch-site", b"cross-site")]), address, false));
        assert!(is_own(&told(&[("host", b"[::1]:8017")]), SocketAddr::from((std::net::Ipv6Addr::LOCALHOST, 8017)), true));
    }
}
