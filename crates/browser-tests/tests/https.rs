//! The application over HTTPS, with a certificate that the owner gives.

use std::path::Path;
use std::sync::Arc;

use anyhow::{Context as _, Result, ensure};
use browser_tests::{DEMO_KEY, TestDatabase, TestServer};
use tokio::io::{AsyncReadExt as _, AsyncWriteExt as _};
use tokio::net::TcpStream;
use tokio_rustls::TlsConnector;
use tokio_rustls::rustls::crypto::ring;
use tokio_rustls::rustls::pki_types::pem::PemObject as _;
use tokio_rustls::rustls::pki_types::{CertificateDer, ServerName};
use tokio_rustls::rustls::{ClientConfig, RootCertStore};

const TLS: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/tls");

/// What is answered to a request over HTTPS, by somebody who trusts the certificate.
async fn asked(address: &str, request: &str) -> Result<String> {
    let mut roots = RootCertStore::empty();
    roots.add(CertificateDer::from_pem_file(format!("{TLS}/cert.pem"))?)?;
    let config = ClientConfig::builder_with_provider(Arc::new(ring::default_provider()))
        .with_safe_default_protocol_versions()?
        .with_root_certificates(roots)
        .with_no_client_auth();
    let stream = TcpStream::connect(address).await?;
    let name = ServerName::try_from("127.0.0.1")?;
    let mut stream = TlsConnector::from(Arc::new(config)).connect(name, stream).await?;
    stream.write_all(format!("{request}\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n").as_bytes()).await?;
    let mut told = Vec::new();
    stream.read_to_end(&mut told).await.or_else(|error| if told.is_empty() { Err(error) } else { Ok(0) })?;
    Ok(String::from_utf8_lossy(&told).into_owned())
}

#[tokio::test]
async fn the_owners_certificate_serves_everything_and_logins_never_travel_openly() -> Result<()> {
    let database = TestDatabase::demo();
    let file = |name: &str| Path::new(TLS).join(name);
    let tls = lantern_web::tls(&file("cert.pem"), &file("key.pem"))?;
    let server = TestServer::start_secure(&database, tls);
    let address = server.address.trim_start_matches("http://").to_owned();
    let health = asked(&address, "GET /healthz HTTP/1.1").await?;
    ensure!(health.starts_with("HTTP/1.1 200"), "{health}");
    let signed_in = asked(&address, &format!("GET /demo/{DEMO_KEY}/iris HTTP/1.1")).await?;
    let cookie =
        signed_in.lines().find(|line| line.to_lowercase().starts_with("set-cookie")).context("a cookie")?;
    ensure!(cookie.contains("Secure") && cookie.contains("HttpOnly"), "{cookie}");
    // The wrong way round, each file is named.
    let wrong = lantern_web::tls(&file("key.pem"), &file("cert.pem")).unwrap_err().to_string();
    ensure!(wrong.contains(".pem"), "{wrong}");
    let missing = lantern_web::tls(&file("cert.pem"), &file("none.pem")).unwrap_err().to_string();
    ensure!(missing.contains("none.pem"), "{missing}");
    Ok(())
}
