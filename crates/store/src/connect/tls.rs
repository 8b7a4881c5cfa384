//! TLS to a database.

use std::sync::Arc;

use rustls::ClientConfig;
use rustls::client::danger::{HandshakeSignatureValid, ServerCertVerified, ServerCertVerifier};
use rustls::crypto::{CryptoProvider, ring, verify_tls12_signature, verify_tls13_signature};
use rustls::pki_types::pem::PemObject;
use rustls::pki_types::{CertificateDer, ServerName, UnixTime};
use rustls::{DigitallySignedStruct, SignatureScheme};

use crate::StoreError;

/// What speaks it.
pub(super) type Connect = tokio_postgres_rustls::MakeRustlsConnect;

fn provider() -> Arc<CryptoProvider> {
    Arc::new(ring::default_provider())
}

fn builder() -> Result<rustls::ConfigBuilder<ClientConfig, rustls::WantsVerifier>, StoreError> {
    ClientConfig::builder_with_provider(provider())
        .with_safe_default_protocol_versions()
        .map_err(|error| StoreError::Away(error.to_string()))
}

/// Where the certificate must be good for the host, by the roots of a file or by the system's.
pub(super) fn verified(roots: Option<&str>) -> Result<Connect, StoreError> {
    let mut store = rustls::RootCertStore::empty();
    let found: Vec<CertificateDer<'static>> = match roots {
        Some(path) => CertificateDer::pem_file_iter(path)
            .and_then(Iterator::collect)
            .map_err(|error| StoreError::Away(format!("sslrootcert {path}: {error}")))?,
        None => rustls_native_certs::load_native_certs().certs,
    };
    store.add_parsable_certificates(found);
    Ok(Connect::new(builder()?.with_root_certificates(store).with_no_client_auth()))
}

/// Where nobody listens in, whoever answers.
pub(super) fn encrypted_only() -> Result<Connect, StoreError> {
    let verifier = Arc::new(Anybody(provider()));
    Ok(Connect::new(builder()?.dangerous().with_custom_certificate_verifier(verifier).with_no_client_auth()))
}

/// `sslmode=require` as PostgreSQL's own clients mean it: what is said is encrypted, whoever answers. Signatures are still
/// checked, so nobody listens in between without being the one who answers.
#[derive(Debug)]
struct Anybody(Arc<CryptoProvider>);

impl ServerCertVerifier for Anybody {
    fn verify_server_cert(
        &self,
        _: &CertificateDer<'_>,
        _: &[CertificateDer<'_>],
        _: &ServerName<'_>,
        _: &[u8],
        _: UnixTime,
    ) -> Result<ServerCertVerified, rustls::Error> {
        Ok(ServerCertVerified::assertion())
    }

    fn verify_tls12_signature(
        &self,
        message: &[u8],
        certificate: &CertificateDer<'_>,
        signed: &DigitallySignedStruct,
    ) -> Result<HandshakeSignatureValid, rustls::Error> {
        verify_tls12_signature(message, certificate, signed, &self.0.signature_verification_algorithms)
    }

    fn verify_tls13_signature(
        &self,
        message: &[u8],
        certificate: &CertificateDer<'_>,
        signed: &DigitallySignedStruct,
    ) -> Result<HandshakeSignatureValid, rustls::Error> {
        verify_tls13_signature(message, certificate, signed, &self.0.signature_verification_algorithms)
    }

    fn supported_verify_schemes(&self) -> Vec<SignatureScheme> {
        self.0.signature_verification_algorithms.supported_schemes()
    }
}
