//! Encrypted connections: TLS 1.2 and 1.3 with a certificate of the person's own.

use crate::auth::Encryption;
use std::{io, path::Path, sync::Arc, time::Duration};
use tokio::{io::AsyncRead, io::AsyncWrite, net::TcpStream};
use tokio_rustls::{
    TlsAcceptor,
    rustls::{
        ServerConfig,
        crypto::ring,
        pki_types::{CertificateDer, PrivateKeyDer, pem::PemObject},
    },
};

/// How long it may take until a connection is encrypted.
const HANDSHAKE: Duration = Duration::from_secs(10);

/// What is done with a connection before anything is read from it.
#[derive(Clone)]
pub(crate) enum Encrypting {
    /// Nothing.
    None,
    /// It is encrypted.
    Tls(TlsAcceptor),
}

/// What a connection is read from and written to.
pub(crate) trait Stream: AsyncRead + AsyncWrite + Send {}
impl<S: AsyncRead + AsyncWrite + Send> Stream for S {}

impl Encrypting {
    /// Reads the certificate and its key.
    ///
    /// # Errors
    /// Files that cannot be read, or that do not belong together.
    pub(crate) fn of(encryption: &Encryption) -> io::Result<Encrypting> {
        let Encryption::Tls { certificate, key } = encryption else { return Ok(Encrypting::None) };
        let chain: Vec<CertificateDer<'static>> = CertificateDer::pem_file_iter(certificate)
            .and_then(Iterator::collect)
            .map_err(|e| unusable("certificate", certificate, &e.to_string()))?;
        let private = PrivateKeyDer::from_pem_file(key).map_err(|e| unusable("key", key, &e.to_string()))?;
        let config = ServerConfig::builder_with_provider(Arc::new(ring::default_provider()))
            .with_safe_default_protocol_versions()
            .and_then(|builder| builder.with_no_client_auth().with_single_cert(chain, private));
        let mut config = config.map_err(|e| unusable("certificate", certificate, &e.to_string()))?;
        config.alpn_protocols = vec![b"http/1.1".to_vec()];
        Ok(Encrypting::Tls(TlsAcceptor::from(Arc::new(config))))
    }

    /// The connection as it is read from; an error where the other end does not speak as it should.
    pub(crate) async fn begin(&self, stream: TcpStream) -> io::Result<Box<dyn Stream + Unpin>> {
        match self {
            Encrypting::None => Ok(Box::new(stream)),
            Encrypting::Tls(acceptor) => {
                let begun = tokio::time::timeout(HANDSHAKE, acceptor.accept(stream)).await;
                Ok(Box::new(begun.map_err(|_| io::Error::from(io::ErrorKind::TimedOut))??))
            }
        }
    }
}

fn unusable(what: &str, path: &Path, problem: &str) -> io::Error {
    io::Error::other(format!("the {what} {} cannot be used: {problem}", path.display()))
}
