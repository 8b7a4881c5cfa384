//! Texts whose parts are known.

use std::fs;
use std::path::{Path, PathBuf};

use anyhow::{Context as _, Result};
use serde_json::Value;

/// A text, and what a reading of it must say.
#[derive(Clone)]
pub struct Labelled {
    /// Folder and file, without its ending.
    pub name: String,
    /// As written.
    pub text: String,
    /// `{unit, parts: [...]}`; a key that is missing says nothing.
    pub want: Value,
}

impl Labelled {
    /// The same day without its empty lines, as some type it and as some programs paste it; none where there are none.
    pub fn without_empty_lines(&self) -> Option<Self> {
        let text = without_empty_lines(&self.text);
        let name = format!("{WITHOUT}/{}", self.name.replace('/', " "));
        (text.trim_end() != self.text.trim_end()).then(|| Self { name, text, want: self.want.clone() })
    }
}

/// The folder that texts without empty lines are counted under.
const WITHOUT: &str = "no-blanks";

/// A text without its empty lines.
pub fn without_empty_lines(text: &str) -> String {
    text.lines().filter(|line| !line.trim().is_empty()).collect::<Vec<_>>().join("\n")
}

/// Where the reader's labelled texts are.
pub fn corpus() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../reader/corpus")
}

/// The texts of a folder, by name.
///
/// # Errors
/// When the folder or one of its files cannot be read, or a label is no JSON; the message names the file.
pub fn folder(path: &Path) -> Result<Vec<Labelled>> {
    let entries = fs::read_dir(path).with_context(|| format!("read {}", path.display()))?;
    let mut files: Vec<PathBuf> = entries.map(|entry| Ok(entry?.path())).collect::<Result<_>>()?;
    files.retain(|file| file.extension().is_some_and(|extension| extension == "txt"));
    files.sort();
    let group = path.file_name().unwrap_or_default().to_string_lossy().into_owned();
    files
        .into_iter()
        .map(|file| {
            let label = file.with_extension("expected.json");
            let want = fs::read_to_string(&label).with_context(|| format!("read {}", label.display()))?;
            Ok(Labelled {
                name: format!("{group}/{}", file.file_stem().unwrap_or_default().to_string_lossy()),
                text: fs::read_to_string(&file).with_context(|| format!("read {}", file.display()))?,
                want: serde_json::from_str(&want).with_context(|| format!("{}", label.display()))?,
            })
        })
        .collect()
}

/// All labelled texts, folder by folder.
///
/// # Errors
/// As for a folder.
pub fn all() -> Result<Vec<Labelled>> {
    let mut folders: Vec<PathBuf> =
        fs::read_dir(corpus())?.map(|entry| Ok(entry?.path())).collect::<Result<_>>()?;
    folders.sort();
    let texts = folders.iter().map(|path| folder(path)).collect::<Result<Vec<_>>>()?;
    Ok(texts.into_iter().flatten().collect())
}
