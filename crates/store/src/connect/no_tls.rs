//! A program that is built without TLS says so to whoever asks for it.

use crate::StoreError;

/// What is never made.
pub(super) type Connect = tokio_postgres::NoTls;

pub(super) fn verified(_: Option<&str>) -> Result<Connect, StoreError> {
    encrypted_only()
}

pub(super) fn encrypted_only() -> Result<Connect, StoreError> {
    Err(StoreError::Away("this program is built without TLS, for a database on the same machine".to_owned()))
}
