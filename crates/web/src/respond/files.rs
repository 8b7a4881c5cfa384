//! Fonts, styles and scripts, inside the program. Their address holds a hash of all of them, so a
//! browser may keep them for ever and still gets the new ones after an update.

use std::sync::LazyLock;

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

/// The address of a file below `static/`.
pub(crate) fn address(name: &str) -> String {
    format!("/static/{}/{name}", *HASH)
}
