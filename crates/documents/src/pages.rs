//! The text of a PDF file.

use std::panic::catch_unwind;

use crate::DocumentError;

const KIND: &str = "PDF file";

/// Its text, page by page.
pub fn text(bytes: &[u8]) -> Result<String, DocumentError> {
    let broken = |why: String| DocumentError::Broken { kind: KIND, why };
    // The crate gives up on some damaged files by a panic.
    let read = catch_unwind(|| pdf_extract::extract_text_from_mem(bytes));
    match read {
        Ok(Ok(text)) => Ok(text),
        Ok(Err(error)) => Err(broken(error.to_string())),
        Err(_) => Err(broken("it is damaged, or made in an unusual way".to_owned())),
    }
}
