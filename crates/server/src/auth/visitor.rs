//! From where a request comes.

use super::{Encryption, Reach, cookies};
use artemon_app::Visitor;
use axum::http::{Extensions, HeaderMap, HeaderName, header::USER_AGENT};
use std::net::{IpAddr, SocketAddr};

/// The other end of a connection.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Peer(pub(crate) SocketAddr);

/// For whom a proxy asks.
const FORWARDED_FOR: HeaderName = HeaderName::from_static("x-forwarded-for");

/// Who a request comes from. What a proxy says counts where the connection is that of the proxy.
pub(crate) fn visitor(reach: &Reach, headers: &HeaderMap, extensions: &Extensions) -> Visitor {
    let peer = extensions.get::<Peer>().map(|peer| peer.0.ip());
    let text = |name: &HeaderName| headers.get(name).and_then(|value| value.to_str().ok()).unwrap_or_default().to_owned();
    let address = match (&reach.encryption, peer) {
        (Encryption::Proxy(proxy), Some(peer)) if same(*proxy, peer) => forwarded(headers).unwrap_or(peer).to_string(),
        (_, peer) => peer.map(|peer| peer.to_canonical().to_string()).unwrap_or_default(),
    };
    Visitor { address, browser: text(&USER_AGENT), device: cookies::device(reach, headers) }
}

/// Whether two addresses are of the same machine, however they are written.
pub(super) fn same(one: IpAddr, other: IpAddr) -> bool {
    one.to_canonical() == other.to_canonical()
}

/// The last address, which the proxy has added itself: those before may be anybody's words.
fn forwarded(headers: &HeaderMap) -> Option<IpAddr> {
    let last = headers.get_all(FORWARDED_FOR).iter().next_back()?.to_str().ok()?;
    let last = last.rsplit(',').next()?.trim();
    last.parse().ok().map(|ip: IpAddr| ip.to_canonical())
}

#[cfg(test)]
mod tests {
    use super::*;
    use url::Url;

    #[test]
    fn what_a_proxy_says_counts_only_from_the_proxy() {
        let url = Url::parse("https://artemon.example").unwrap();
        let proxy = Encryption::Proxy("192.0.2.9".parse().unwrap());
        let behind = Reach::shared("0.0.0.0:8017".parse().unwrap(), Some(&url), proxy, false).unwrap();
        let alone = Reach::local("127.0.0.1:8017".parse().unwrap());
        let from = |reach: &Reach, peer: &str, said: &[&str]| {
            let mut headers = HeaderMap::new();
            for said in said {
                headers.append(FORWARDED_FOR, said.parse().unwrap());
            }
            let mut extensions = Extensions::new();
            extensions.insert(Peer(peer.parse().unwrap()));
            visitor(reach, &headers, &extensions).address
        };
        assert_eq!(from(&behind, "192.0.2.9:5000", &["203.0.113.5"]), "203.0.113.5");
        assert_eq!(from(&behind, "192.0.2.9:5000", &["198.51.100.1, 203.0.113.5"]), "203.0.113.5", "the first may be made up");
        assert_eq!(from(&behind, "192.0.2.9:5000", &["198.51.100.1", "203.0.113.5"]), "203.0.113.5");
        assert_eq!(from(&behind, "[::ffff:192.0.2.9]:5000", &["203.0.113.5"]), "203.0.113.5");
        assert_eq!(from(&behind, "192.0.2.9:5000", &["unknown"]), "192.0.2.9");
        assert_eq!(from(&behind, "192.0.2.8:5000", &["203.0.113.5"]), "192.0.2.8", "another machine is not the proxy");
        assert_eq!(from(&alone, "127.0.0.1:5000", &["203.0.113.5"]), "127.0.0.1");
    }
}
