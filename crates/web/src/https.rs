//! HTTPS.

use std::path::Path;
use std::sync::Arc;

use rustls::ServerConfig;
use rustls::pki_types::pem::PemObject;
use rustls::pki_types::{CertificateDer, PrivateKeyDer};

/// What it is served with.
pub type Https = ServerConfig;

/// What HTTPS is served with: a certificate with its chain and its key, each in a PEM file.
///
/// # Errors
/// When a file cannot be read, or the two do not go together.
pub fn tls(certificate: &Path, key: &Path) -> std::io::Result<Https> {
    let told = |error: &dyn std::fmt::Display, path: &Path| {
        std::io::Error::new(std::io::ErrorKind::InvalidData, format!("{}: {error}", path.display()))
    };
    let chain = CertificateDer::pem_file_iter(certificate).map_err(|error| told(&error, certificate))?;
    let chain: Result<Vec<_>, _> = chain.collect();
    let chain = chain.map_err(|error| told(&error, certificate))?;
    let private = PrivateKeyDer::from_pem_file(key).map_err(|error| told(&error, key))?;
    let provider = Arc::new(rustls::crypto::ring::default_provider());
    let config = ServerConfig::builder_with_provider(provider).with_safe_default_protocol_versions();
    let config = config.map_err(std::io::Error::other)?.with_no_client_auth();
    config.with_single_cert(chain, private).map_err(|error| told(&error, certificate))
}
