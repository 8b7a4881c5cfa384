//! Fonts, styles and scripts, inside the program. Their address holds a hash of all of them, so a
//! browser may keep them for ever and still gets the new ones after an update.

use std::borrow::Cow;
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
        packed.write_all(&sent(name, &Files::get(name)?.data)).ok()?;
        Some((name.to_owned(), Bytes::from(packed.finish().ok()?)))
    };
    Files::iter().filter(|name| is_text(name)).filter_map(|name| pack(&name)).collect()
});

/// A script of our own goes out without what only its readers need: lines that are comments, and indentation. None has a text of several lines.
fn sent<'d>(name: &str, data: &'d [u8]) -> Cow<'d, [u8]> {
    let is_own = name.ends_with(".js") && !name.contains('/');
    match std::str::from_utf8(data) {
        Ok(script) if is_own => {
            let lines = script.lines().map(str::trim_start).filter(|line| !line.starts_with("//"));
            Cow::Owned(lines.flat_map(|line| [line, "\n"]).collect::<String>().into_bytes())
        }
        _ => Cow::Borrowed(data),
    }
}

/// A file packed with gzip, where that makes it smaller.
pub(crate) fn packed(name: &str) -> Option<Bytes> {
    PACKED.get(name).cloned()
}

/// The address of a file below `static/`.
pub(crate) fn address(name: &str) -> String {
    format!("/static/{}/{name}", *HASH)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn scripts_go_out_without_comments_and_have_no_text_of_several_lines() {
        let script = b"// Why.\n(() => {\n  // how\n  go(\"//\"); // here\n})();\n";
        assert_eq!(&*sent("a.js", script), b"(() => {\ngo(\"//\"); // here\n})();\n");
        assert_eq!(&*sent("vendor/a.js", script), script);
        for name in Files::iter().filter(|name| name.ends_with(".js") && !name.contains('/')) {
            let file = Files::get(&name).unwrap();
            let script = std::str::from_utf8(&file.data).unwrap();
            assert!(script.lines().all(|line| line.matches('`').count() % 2 == 0), "{name}");
        }
    }
}
