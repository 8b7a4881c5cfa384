//! The text of documents, PDF files and spreadsheets, as a coach could have typed it; and tables as spreadsheets, on their way out.
//!
//! Only what is written is taken: no pictures, no macros, nothing from outside the file. Whatever the bytes are, the answer is a text or
//! a message.

mod grid;
mod markup;
mod pages;
mod sheet;
mod workbook;
mod zipped;

use std::borrow::Cow;

pub use workbook::{MOST_ROWS_OUT, workbook};

/// Largest file that is opened, in bytes.
pub const LARGEST_FILE: usize = 8 * 1024 * 1024;

/// The marks in front of UTF-16, either way round.
const WIDE: [&[u8]; 2] = [&[0xFF, 0xFE], &[0xFE, 0xFF]];

/// Why a file gives no text.
#[derive(Debug, PartialEq, Eq, thiserror::Error)]
pub enum DocumentError {
    /// More than [`LARGEST_FILE`], or much more once it is unpacked.
    #[error("the file is too large: a day's text needs no more than {} MB", LARGEST_FILE / 1024 / 1024)]
    TooLarge,
    /// Cut off, locked by a password, or made in a way that nobody expects.
    #[error("this {kind} cannot be read: {why}")]
    Broken {
        /// What it seems to be.
        kind: &'static str,
        /// What is wrong with it.
        why: String,
    },
    /// Pictures of text have none.
    #[error("this {0} holds no text; a picture of text has to be typed")]
    NoText(&'static str),
    /// Something else.
    #[error(
        "this is no text, document, PDF or spreadsheet that can be read here; save it as .docx, .odt, .xlsx, .ods, .pdf or plain text"
    )]
    Unknown,
}

/// Whether a file is a document, a PDF file or a spreadsheet rather than plain text.
pub fn is_document(bytes: &[u8]) -> bool {
    bytes.starts_with(b"%PDF") || bytes.starts_with(b"PK\x03\x04")
}

/// The text of a file, told by its first bytes.
///
/// # Errors
/// When it is too large, damaged, without text, or of another kind.
pub fn text_of(bytes: &[u8]) -> Result<String, DocumentError> {
    if bytes.len() > LARGEST_FILE {
        return Err(DocumentError::TooLarge);
    }
    let (kind, text) = if bytes.starts_with(b"%PDF") {
        ("PDF file", pages::text(bytes)?)
    } else if bytes.starts_with(b"PK\x03\x04") {
        zipped::text(bytes)?
    } else if !WIDE.iter().any(|mark| bytes.starts_with(mark)) && bytes.iter().any(|byte| *byte < b'\t') {
        // Nobody writes these in a text.
        return Err(DocumentError::Unknown);
    } else {
        ("text", decoded(bytes))
    };
    let text = tidied(&text);
    if text.is_empty() { Err(DocumentError::NoText(kind)) } else { Ok(text) }
}

/// The table of a file: of a spreadsheet its first sheet that holds something, cells parted by tabs and quoted where they need it; of a text file the
/// text as it stands.
///
/// # Errors
/// When it is too large, damaged, empty, or of another kind.
pub fn table_of(bytes: &[u8]) -> Result<String, DocumentError> {
    if bytes.len() > LARGEST_FILE {
        return Err(DocumentError::TooLarge);
    }
    if !bytes.starts_with(b"PK\x03\x04") {
        return text_of(bytes);
    }
    let (kind, table) = zipped::table(bytes)?;
    if table.is_empty() { Err(DocumentError::NoText(kind)) } else { Ok(table) }
}

/// Text in one of the encodings that programs write: UTF-8, UTF-16 with its mark, or one byte a letter. Whatever the bytes are, none is lost
/// without a sign in its place.
pub fn decoded(bytes: &[u8]) -> String {
    let wide = |from: fn([u8; 2]) -> u16| {
        let units: Vec<u16> = bytes[2..].chunks_exact(2).map(|pair| from([pair[0], pair[1]])).collect();
        String::from_utf16_lossy(&units)
    };
    match bytes {
        [0xFF, 0xFE, ..] => wide(u16::from_le_bytes),
        [0xFE, 0xFF, ..] => wide(u16::from_be_bytes),
        _ => match String::from_utf8_lossy(bytes) {
            Cow::Borrowed(text) => text.trim_start_matches('\u{feff}').to_owned(),
            // A stray byte among letters of UTF-8 makes it no other encoding.
            Cow::Owned(text) if text.chars().any(|c| !c.is_ascii() && c != char::REPLACEMENT_CHARACTER) => {
                text
            }
            Cow::Owned(_) => bytes.iter().map(|byte| char::from(*byte)).collect(),
        },
    }
}

/// Without spaces at the ends of lines, and never more than one empty line in a row.
fn tidied(text: &str) -> String {
    let mut kept: Vec<&str> = Vec::new();
    for line in text.lines().map(str::trim_end) {
        if !line.is_empty() || kept.last().is_some_and(|last| !last.is_empty()) {
            kept.push(line);
        }
    }
    kept.join("\n").trim_end().to_owned()
}
