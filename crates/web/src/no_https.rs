//! A program that is built without HTTPS says so to whoever asks for it.

use std::path::Path;

/// What is never made.
pub enum Https {}

/// # Errors
/// Always.
pub fn tls(_: &Path, _: &Path) -> std::io::Result<Https> {
    Err(std::io::Error::new(std::io::ErrorKind::Unsupported, "this program is built without HTTPS"))
}
