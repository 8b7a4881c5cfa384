//! A road to the database that speaks TLS, as a remote database does; the test's own certificate is good for 127.0.0.1.

use std::sync::Arc;

use tokio::io::{AsyncReadExt, AsyncWriteExt, copy_bidirectional};
use tokio::net::{TcpListener, TcpStream};
use tokio_rustls::TlsAcceptor;
use tokio_rustls::rustls::ServerConfig;
use tokio_rustls::rustls::pki_types::pem::PemObject;
use tokio_rustls::rustls::pki_types::{CertificateDer, PrivateKeyDer};

/// The eight bytes with which a client of PostgreSQL asks for TLS.
const ASKS_FOR_TLS: [u8; 8] = [0, 0, 0, 8, 4, 210, 22, 47];

/// Opens such a road to the database of a URL; gives the URL of the road. Plain text is refused on it.
pub fn tls_before(url: &str, certificate: &[u8], key: &[u8]) -> String {
    let (front, rest) = url.split_once('@').expect("a URL names who asks");
    let (target, name) = rest.split_once('/').expect("a URL names a database");
    let chain: Vec<CertificateDer<'static>> =
        CertificateDer::pem_slice_iter(certificate).collect::<Result<_, _>>().expect("a certificate");
    let key = PrivateKeyDer::from_pem_slice(key).expect("a key");
    let provider = Arc::new(tokio_rustls::rustls::crypto::ring::default_provider());
    let config = ServerConfig::builder_with_provider(provider)
        .with_safe_default_protocol_versions()
        .expect("versions")
        .with_no_client_auth()
        .with_single_cert(chain, key)
        .expect("the key fits the certificate");
    let acceptor = TlsAcceptor::from(Arc::new(config));
    let target = target.to_owned();
    let (send, port) = std::sync::mpsc::channel();
    std::thread::spawn(move || {
        let runtime = tokio::runtime::Builder::new_current_thread().enable_all().build().expect("a runtime");
        runtime.block_on(async move {
            let listener = TcpListener::bind("127.0.0.1:0").await.expect("a free port");
            send.send(listener.local_addr().expect("bound").port()).expect("somebody waits");
            while let Ok((mut client, _)) = listener.accept().await {
                let (acceptor, target) = (acceptor.clone(), target.clone());
                tokio::spawn(async move {
                    let mut first = [0; 8];
                    client.read_exact(&mut first).await.ok()?;
                    if first != ASKS_FOR_TLS {
                        return None;
                    }
                    client.write_all(b"S").await.ok()?;
                    let mut client = acceptor.accept(client).await.ok()?;
                    let mut server = TcpStream::connect(target).await.ok()?;
                    copy_bidirectional(&mut client, &mut server).await.ok()
                });
            }
        });
    });
    format!("{front}@127.0.0.1:{}/{name}", port.recv().expect("the road is open"))
}
