//! How the server is reached: by its own machine alone or by several people, encrypted by itself, by a proxy, or not at all.

use std::{
    net::{IpAddr, SocketAddr},
    path::PathBuf,
};
use url::{Host, Origin, Url};

/// What keeps others from reading what is sent.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Encryption {
    /// Nothing: on this machine alone, or where it was said plainly that nobody else listens.
    None,
    /// The server itself, with a chain of certificates and a key in PEM.
    Tls {
        /// The certificate, then those that vouch for it.
        certificate: PathBuf,
        /// Its private key.
        key: PathBuf,
    },
    /// A proxy in front of it, known by its address, which says for whom it asks.
    Proxy(IpAddr),
}

/// How the server is reached.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Reach {
    /// What the addresses of its own pages begin with, such as `http://127.0.0.1:8017`.
    origins: Vec<String>,
    /// Whether several people use it, each signed in.
    pub(crate) shared: bool,
    pub(crate) encryption: Encryption,
}

impl Reach {
    /// One person, on this machine.
    #[must_use]
    pub fn local(address: SocketAddr) -> Reach {
        Reach { origins: on_this_machine("http", address), shared: false, encryption: Encryption::None }
    }

    /// Several people, who open `url`, or the address that is listened on.
    ///
    /// # Errors
    /// What keeps it from being safe, as a sentence: `unencrypted` says that it is known and wanted.
    pub fn shared(address: SocketAddr, url: Option<&Url>, encryption: Encryption, unencrypted: bool) -> Result<Reach, String> {
        let scheme = if encryption == Encryption::None { "http" } else { "https" };
        if encryption == Encryption::None && !address.ip().is_loopback() && !unencrypted {
            return Err(format!(
                "{address} can be reached by others, who could read every passphrase. Give a certificate with --tls-cert and --tls-key, or \
                 put a proxy before it and name it with --behind-proxy. Where nobody else can listen, say so with --unencrypted."
            ));
        }
        let origins = match url {
            Some(url) => vec![origin(url, scheme)?],
            None if matches!(encryption, Encryption::Proxy(_)) => {
                return Err("Say with --url under which address people open it, as the proxy has it.".to_owned());
            }
            None if address.ip().is_unspecified() => {
                return Err(format!(
                    "Say with --url under which address people open it, like {scheme}://artemon.example:{}.",
                    address.port()
                ));
            }
            None if address.ip().is_loopback() => on_this_machine(scheme, address),
            None => vec![plain(scheme, &ip(address), address.port())],
        };
        Ok(Reach { origins, shared: true, encryption })
    }

    /// What links to its pages begin with.
    #[must_use]
    pub fn url(&self) -> &str {
        self.origins.last().map_or("", String::as_str)
    }

    /// Whether pages of this origin are its own.
    pub(super) fn is_own_origin(&self, origin: &str) -> bool {
        self.origins.iter().any(|own| own.eq_ignore_ascii_case(origin))
    }

    /// Whether it is called by this name.
    pub(super) fn is_own_host(&self, host: &str) -> bool {
        let names = self.origins.iter().filter_map(|own| own.split_once("://"));
        names.into_iter().any(|(_, name)| name.eq_ignore_ascii_case(host))
    }

    /// Whether browsers send what they keep over encrypted connections alone.
    pub(crate) fn is_encrypted(&self) -> bool {
        self.encryption != Encryption::None
    }
}

/// What an address begins with, without a path.
fn origin(url: &Url, scheme: &str) -> Result<String, String> {
    if url.scheme() != scheme {
        return Err(format!(
            "People open \"{url}\", and what is sent is {}encrypted: the address must begin with {scheme}://.",
            not(scheme)
        ));
    }
    if url.path() != "/" || url.query().is_some() || url.fragment().is_some() || !url.username().is_empty() {
        return Err(format!("\"{url}\" is more than a name and a port. Write it like {scheme}://artemon.example."));
    }
    match url.origin() {
        Origin::Tuple(_, Host::Domain(_) | Host::Ipv4(_) | Host::Ipv6(_), _) => Ok(url.origin().ascii_serialization()),
        Origin::Opaque(_) => Err(format!("\"{url}\" is no address of a server. Write it like {scheme}://artemon.example.")),
    }
}

fn not(scheme: &str) -> &'static str {
    if scheme == "http" { "not " } else { "" }
}

/// The names under which this machine reaches itself; the address as it is listened on comes last.
fn on_this_machine(scheme: &str, address: SocketAddr) -> Vec<String> {
    let names = ["localhost".to_owned(), "[::1]".to_owned(), "127.0.0.1".to_owned(), ip(address)];
    names.iter().map(|name| plain(scheme, name, address.port())).collect()
}

/// Browsers leave the usual port out.
fn plain(scheme: &str, name: &str, port: u16) -> String {
    let usual = if scheme == "http" { 80 } else { 443 };
    if port == usual { format!("{scheme}://{name}") } else { format!("{scheme}://{name}:{port}") }
}

fn ip(address: SocketAddr) -> String {
    if address.is_ipv6() { format!("[{}]", address.ip()) } else { address.ip().to_string() }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn shared(address: &str, url: &str, encryption: Encryption, unencrypted: bool) -> Result<Reach, String> {
        let url = (!url.is_empty()).then(|| Url::parse(url).unwrap());
        Reach::shared(address.parse().unwrap(), url.as_ref(), encryption, unencrypted)
    }

    fn tls() -> Encryption {
        Encryption::Tls { certificate: "c.pem".into(), key: "k.pem".into() }
    }

    #[test]
    fn nobody_is_let_in_from_elsewhere_unencrypted_unless_that_is_said() {
        let proxy = Encryption::Proxy("192.0.2.9".parse().unwrap());
        for (address, url, encryption, unencrypted, said) in [
            ("0.0.0.0:8017", "http://artemon.example:8017", Encryption::None, false, "read every passphrase"),
            ("192.0.2.1:8017", "", Encryption::None, false, "read every passphrase"),
            ("[::]:8017", "", Encryption::None, false, "read every passphrase"),
            ("0.0.0.0:8017", "", tls(), false, "under which address"),
            ("0.0.0.0:8017", "", Encryption::None, true, "under which address"),
            ("127.0.0.1:8017", "", proxy.clone(), false, "as the proxy has it"),
            ("0.0.0.0:8017", "http://artemon.example", tls(), false, "must begin with https"),
            ("0.0.0.0:8017", "https://artemon.example", Encryption::None, true, "must begin with http://"),
            ("0.0.0.0:8017", "https://artemon.example/path", tls(), false, "more than a name and a port"),
            ("0.0.0.0:8017", "https://me@artemon.example", tls(), false, "more than a name and a port"),
        ] {
            let refused = shared(address, url, encryption, unencrypted).unwrap_err();
            assert!(refused.contains(said), "{address} {url}: {refused}");
        }
        for (address, url, encryption, unencrypted, link) in [
            ("127.0.0.1:8017", "", Encryption::None, false, "http://127.0.0.1:8017"),
            ("192.0.2.1:8017", "", Encryption::None, true, "http://192.0.2.1:8017"),
            ("192.0.2.1:443", "", tls(), false, "https://192.0.2.1"),
            ("0.0.0.0:8443", "https://Artemon.example:8443", tls(), false, "https://artemon.example:8443"),
            ("0.0.0.0:8017", "https://artemon.example", proxy, false, "https://artemon.example"),
        ] {
            assert_eq!(shared(address, url, encryption, unencrypted).unwrap().url(), link);
        }
    }

    #[test]
    fn only_its_own_names_are_its_own() {
        let reach = shared("0.0.0.0:443", "https://artemon.example", tls(), false).unwrap();
        assert!(reach.is_own_host("artemon.example") && reach.is_own_origin("https://artemon.example"));
        for host in ["artemon.example:443", "artemon.example:8017", "localhost", "other.artemon.example", "artemon.example.other", ""] {
            assert!(!reach.is_own_host(host), "{host}");
        }
        for origin in ["http://artemon.example", "https://artemon.example:8443", "null", "artemon.example"] {
            assert!(!reach.is_own_origin(origin), "{origin}");
        }
    }
}
