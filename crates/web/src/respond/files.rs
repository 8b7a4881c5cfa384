//! Fonts, styles and scripts, inside the program. Their address holds a hash of all of them, so a
//! browser may keep them for ever and still gets the new ones after an update.

use std::collections::BTreeMap;
use std::io::Write as _;
use std::sync::LazyLock;

use actix_web::web::Bytes;
use flate2::Compression;
use flate2::write::GzEncoder;
use rust_embed::RustEmbed;
use sha2::{Digest, Sha256};

/// The files of `static/`.
#[derive(RustEmbed)]
#[folder = "static"]
pub(crate) struct Files;

/// Of all of them.
pub(crate) static HASH: LazyLock<String> = LazyLock::new(|| {
    let mut names: Vec<_> = Files::iter().collect();
    names.sort();
    let mut hasher = Sha256::new();
    for file in names.iter().filter_map(|name| Files::get(name)) {
        hasher.update(file.metadata.sha256_hash());
    }
    hasher.finalize().iter().take(6).map(|byte| format!("{byte:02x}")).collect()
});

/// What is text, as small as it gets: packed once for all who ask.
static PACKED: LazyLock<BTreeMap<String, Bytes>> = LazyLock::new(|| {
    let is_text = |name: &str| [".css", ".js", ".svg"].iter().any(|end| name.ends_with(end));
    let pack = |name: &str| {
        let mut packed = GzEncoder::new(Vec::new(), Compression::best());
        packed.write_all(&Files::get(name)?.data).ok()?;
        Some((name.to_owned(), Bytes::from(packed.finish().ok()?)))
    };
    Files::iter().filter(|name| is_text(name)).filter_map(|name| pack(&name)).collect()
});

/// A file packed with gzip, where that makes it smaller.
pub(crate) fn packed(name: &str) -> Option<Bytes> {
    PACKED.get(name).cloned()
}

/// The address of a file below `static/`.
pub(crate) fn address(name: &str) -> String {
    format!("/static/{}/{name}", *HASH)
}
