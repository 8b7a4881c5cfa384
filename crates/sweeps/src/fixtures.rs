//! All texts that the project has: the labelled ones, the core's own and those of the demo gym.

use std::collections::BTreeSet;
use std::fs;
use std::path::{Path, PathBuf};

use anyhow::{Context as _, Result};
use lantern_core::movement::Catalogue;
use lantern_core::read::read;
use lantern_core::session::Session;
use rayon::prelude::*;
use reader_train::labelled;

/// A text as it is read.
pub struct Fixture {
    /// Folder and file.
    pub name: String,
    /// What is read from it.
    pub session: Session,
}

/// Folders of texts besides the labelled ones, from the root of the project.
const FOLDERS: [&str; 2] = ["crates/core/tests/fixtures", "data/demo/sessions"];

/// All of them, in order of their names.
///
/// # Errors
/// When a folder or a file cannot be read; the message names it.
pub fn fixtures() -> Result<Vec<Fixture>> {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let mut texts: Vec<(String, String)> =
        labelled::all()?.into_iter().map(|known| (known.name, known.text)).collect();
    for folder in FOLDERS {
        for file in text_files(&root.join(folder))? {
            let text = fs::read_to_string(&file).with_context(|| format!("read {}", file.display()))?;
            let name = file.file_stem().unwrap_or_default().to_string_lossy();
            texts.push((format!("{}/{name}", folder.rsplit('/').next().unwrap_or(folder)), text));
        }
    }
    texts.sort();
    // Some of the core's own stand among the labelled ones too.
    let mut known = BTreeSet::new();
    texts.retain(|(_, text)| known.insert(text.clone()));
    let catalogue = Catalogue::standard();
    let read = |(name, text): (String, String)| Fixture { name, session: read(&text, catalogue).session };
    Ok(texts.into_par_iter().map(read).collect())
}

fn text_files(folder: &Path) -> Result<Vec<PathBuf>> {
    let entries = fs::read_dir(folder).with_context(|| format!("read {}", folder.display()))?;
    let files: Vec<PathBuf> = entries.map(|entry| Ok(entry?.path())).collect::<Result<_>>()?;
    Ok(files.into_iter().filter(|file| file.extension().is_some_and(|kind| kind == "txt")).collect())
}
