//! Files that are archives: documents and spreadsheets.

use std::io::{Cursor, Read};

use zip::ZipArchive;

use crate::markup::{self, Dialect};
use crate::{DocumentError, LARGEST_FILE, sheet};

/// How much larger a file may become when it is unpacked.
const MOST_UNPACKED: u64 = 8 * LARGEST_FILE as u64;

/// What it is, and its text.
pub fn text(bytes: &[u8]) -> Result<(&'static str, String), DocumentError> {
    read(bytes, sheet::text)
}

/// What it is, and its table where it is a spreadsheet, else its text.
pub fn table(bytes: &[u8]) -> Result<(&'static str, String), DocumentError> {
    read(bytes, sheet::table)
}

fn read(
    bytes: &[u8],
    of_sheets: fn(&[u8]) -> Result<String, String>,
) -> Result<(&'static str, String), DocumentError> {
    let broken = |kind: &'static str, why: String| DocumentError::Broken { kind, why };
    let mut archive =
        ZipArchive::new(Cursor::new(bytes)).map_err(|error| broken("archive", error.to_string()))?;
    weigh(&mut archive)?;
    let has = |name: &str| archive.index_for_name(name).is_some();
    if has("xl/workbook.xml") {
        return Ok(("spreadsheet", of_sheets(bytes).map_err(|why| broken("spreadsheet", why))?));
    }
    let (name, dialect) = if has("word/document.xml") {
        ("word/document.xml", Dialect::Runs)
    } else if has("content.xml") {
        ("content.xml", Dialect::Open)
    } else {
        return Err(DocumentError::Unknown);
    };
    let mut xml = Vec::new();
    let file = archive.by_name(name).map_err(|error| broken("document", error.to_string()))?;
    file.take(MOST_UNPACKED).read_to_end(&mut xml).map_err(|error| broken("document", error.to_string()))?;
    let text =
        markup::text(&String::from_utf8_lossy(&xml), dialect).map_err(|why| broken("document", why))?;
    Ok(("document", text))
}

/// Unpacks everything once and keeps nothing: an archive may say less of its size than it holds.
fn weigh(archive: &mut ZipArchive<Cursor<&[u8]>>) -> Result<(), DocumentError> {
    let mut left = MOST_UNPACKED;
    for n in 0..archive.len() {
        // What cannot be unpacked is found when it is needed.
        let Ok(file) = archive.by_index(n) else { continue };
        let Ok(read) = std::io::copy(&mut file.take(left + 1), &mut std::io::sink()) else { continue };
        left = left.checked_sub(read).ok_or(DocumentError::TooLarge)?;
    }
    Ok(())
}
