//! Only pages of this server may talk to it: requests with a foreign Host or Origin are refused, and those that a page of another
//! site makes. What it answers says what browsers may do with it.

use super::{
    Encryption, Peer, Reach,
    visitor::{same, visitor},
};
use crate::{error::Problem, watched};
use axum::{
    extract::{Request, State},
    http::{
        HeaderMap, HeaderName, HeaderValue, StatusCode,
        header::{self, CACHE_CONTROL},
    },
    middleware::Next,
    response::{IntoResponse, Response},
};
use std::sync::Arc;

/// Says from where a browser's request comes (Fetch Metadata).
const FETCH_SITE: HeaderName = HeaderName::from_static("sec-fetch-site");

/// What a page may load and do.
pub(crate) const POLICY: &str = "default-src 'self'; object-src 'none'; img-src 'self' data:; font-src 'self' data:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'";

/// What is said with every answer that does not say otherwise.
const MANNERS: [(HeaderName, &str); 5] = [
    (header::CONTENT_SECURITY_POLICY, POLICY),
    (header::X_CONTENT_TYPE_OPTIONS, "nosniff"),
    (header::REFERRER_POLICY, "no-referrer"),
    (HeaderName::from_static("cross-origin-resource-policy"), "same-origin"),
    (HeaderName::from_static("cross-origin-opener-policy"), "same-origin"),
];

/// Refusals that tell of somebody who tries what they may not.
const REFUSALS: [StatusCode; 3] = [StatusCode::UNAUTHORIZED, StatusCode::FORBIDDEN, StatusCode::TOO_MANY_REQUESTS];

/// Encrypted pages stay so (RFC 6797): for a year.
const ALWAYS_ENCRYPTED: &str = "max-age=31536000; includeSubDomains";

pub(crate) async fn own_pages_only(State(reach): State<Arc<Reach>>, request: Request, next: Next) -> Response {
    let of_api = request.uri().path().starts_with("/api");
    let asked = watched::named(&request);
    let from = reach.shared.then(|| visitor(&reach, request.headers(), request.extensions()).address);
    let mut answer = if !comes_through_the_proxy(&reach, &request) {
        let sentence = "This server answers its proxy only. Open it by the address of the proxy.";
        Problem::new(StatusCode::FORBIDDEN, "foreign-host", sentence).into_response()
    } else if is_own(request.headers(), &reach, of_api, is_change(&request)) {
        next.run(request).await
    } else {
        let sentence = "This server answers its own pages only. Open it by the address it printed when it started.";
        Problem::new(StatusCode::FORBIDDEN, "foreign-host", sentence).into_response()
    };
    if let Some(from) = from.filter(|_| REFUSALS.contains(&answer.status())) {
        tracing::info!("{asked}: {} from {from}", answer.status());
    }
    let headers = answer.headers_mut();
    for (name, value) in MANNERS {
        headers.entry(name).or_insert(HeaderValue::from_static(value));
    }
    if reach.is_encrypted() {
        headers.insert(header::STRICT_TRANSPORT_SECURITY, HeaderValue::from_static(ALWAYS_ENCRYPTED));
    }
    if of_api {
        headers.entry(CACHE_CONTROL).or_insert(HeaderValue::from_static("no-store"));
    }
    answer
}

fn comes_through_the_proxy(reach: &Reach, request: &Request) -> bool {
    let Encryption::Proxy(proxy) = reach.encryption else { return true };
    request.extensions().get::<Peer>().is_some_and(|peer| same(proxy, peer.0.ip()))
}

/// Whether a request may change something, in the name of whoever the browser's cookie is.
fn is_change(request: &Request) -> bool {
    !request.method().is_safe() && !request.headers().contains_key(header::AUTHORIZATION)
}

/// Host must be a name of this server; Origin, when sent, must be that of its pages. A browser that says from where a request to the
/// API comes must say from here; on a server of several people a change must come with one of the two.
fn is_own(headers: &HeaderMap, reach: &Reach, of_api: bool, is_change: bool) -> bool {
    let host = one(headers, &header::HOST);
    let origin = one(headers, &header::ORIGIN);
    let site = one(headers, &FETCH_SITE);
    let shown = matches!(origin, Ok(Some(_))) || matches!(site, Ok(Some("same-origin")));
    host.is_ok_and(|host| host.is_some_and(|host| reach.is_own_host(host)))
        && origin.is_ok_and(|origin| origin.is_none_or(|origin| reach.is_own_origin(origin)))
        && (!of_api || site.is_ok_and(|site| site.is_none_or(|site| ["same-origin", "none"].contains(&site))))
        && (!of_api || !reach.shared || !is_change || shown)
}

/// A header that may be there once, in plain characters.
fn one<'h>(headers: &'h HeaderMap, name: &HeaderName) -> Result<Option<&'h str>, ()> {
    let mut all = headers.get_all(name).iter();
    let first = all.next().map(HeaderValue::to_str).transpose().map_err(drop)?;
    if all.next().is_some() { Err(()) } else { Ok(first) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::net::SocketAddr;

    fn told(sent: &[(&'static str, &[u8])]) -> HeaderMap {
        let header = |(name, value): &(&'static str, &[u8])| (HeaderName::from_static(name), HeaderValue::from_bytes(value).unwrap());
        sent.iter().map(header).fold(HeaderMap::new(), |mut all, (name, value)| {
            all.append(name, value);
            all
        })
    }

    #[test]
    fn one_readable_host_and_origin_of_this_server_pass_and_nothing_else() {
        let at = |port: u16, sent: &[(&'static str, &[u8])]| {
            is_own(&told(sent), &Reach::local(SocketAddr::from(([127, 0, 0, 1], port))), true, false)
        };
        let own = ("host", b"127.0.0.1:8017".as_slice());
        assert!(at(8017, &[own]) && at(8017, &[("host", b"LOCALHOST:8017")]) && at(8017, &[("host", b"[::1]:8017")]));
        assert!(at(8017, &[own, ("origin", b"http://localhost:8017"), ("sec-fetch-site", b"same-origin")]));
        assert!(at(80, &[("host", b"localhost"), ("origin", b"http://localhost")]) && !at(80, &[("host", b"localhost:8017")]));
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
        let local = Reach::local(SocketAddr::from(([127, 0, 0, 1], 8017)));
        assert!(is_own(&told(&[own, ("sec-fetch-site", b"cross-site")]), &local, false, false));
        let six = Reach::local(SocketAddr::from((std::net::Ipv6Addr::LOCALHOST, 8017)));
        assert!(is_own(&told(&[("host", b"[::1]:8017")]), &six, true, false));
    }

    #[test]
    fn a_change_among_several_people_says_that_it_comes_from_here() {
        let reach = Reach::shared(SocketAddr::from(([127, 0, 0, 1], 8017)), None, Encryption::None, false).unwrap();
        let changes = |more: &[(&'static str, &[u8])]| {
            let host = ("host", b"127.0.0.1:8017".as_slice());
            is_own(&told(&[&[host], more].concat()), &reach, true, true)
        };
        assert!(changes(&[("origin", b"http://127.0.0.1:8017")]) && changes(&[("sec-fetch-site", b"same-origin")]));
        assert!(!changes(&[]) && !changes(&[("sec-fetch-site", b"none")]) && !changes(&[("origin", b"http://other.example")]));
        assert!(!changes(&[("origin", b"http://other.example"), ("sec-fetch-site", b"same-origin")]));
    }
}
