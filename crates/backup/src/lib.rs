//! Backups of a whole installation: one file, sealed with a passphrase, and the proof that it comes back.
//!
//! The database's own tools write and read what is in it; `age` (an open format, which other programs open too) seals it, and so notices every
//! changed or missing byte. In front of the dump stands a line of JSON, the [`Manifest`]: what every table held at that moment. [`restore`] compares.

mod gym;
mod sealed;
mod tools;

use std::fs::{File, OpenOptions};
use std::io::{BufRead, BufReader, BufWriter, Write};
use std::path::Path;

use anyhow::{Context as _, Result, bail, ensure};
use chrono::{DateTime, Utc};
use lantern_store::Operator;
use lantern_store::contents::{BackedUp, Contents};
use serde::{Deserialize, Serialize};

pub use gym::{GymFile, export, import};
pub use sealed::Passphrase;

/// The layout of the file, told in its first line.
pub const SCHEMA: &str = "honest-lantern/backup/1";

/// The first line of what is sealed.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Manifest {
    /// [`SCHEMA`].
    pub schema: String,
    /// The program that made it.
    pub program: String,
    /// The newest migration of its database.
    pub migration: String,
    /// When.
    pub made_at: DateTime<Utc>,
    /// What every table held.
    pub tables: Contents,
}

impl Manifest {
    /// Rows of all tables.
    pub fn rows(&self) -> i64 {
        self.tables.values().map(|table| table.rows).sum()
    }
}

/// Writes a backup of everything to a file that is not there yet: all of it as it was at one moment, whoever writes meanwhile. What is left when it fails is
/// nothing.
///
/// # Errors
/// When the database, its tools or the disk refuse.
pub async fn backup(url: &str, file: &Path, passphrase: &Passphrase) -> Result<(Manifest, BackedUp)> {
    let mut operator = Operator::at(url).await?;
    let snapshot = operator.hold().await?;
    let manifest = Manifest {
        schema: SCHEMA.to_owned(),
        program: env!("CARGO_PKG_VERSION").to_owned(),
        migration: operator.migration().await?,
        made_at: Utc::now(),
        tables: operator.contents().await?,
    };
    whole(file, |part| write(url, &snapshot, &manifest, part, passphrase))?;
    let bytes = file.metadata()?.len() as i64;
    let made = BackedUp { made_at: manifest.made_at, verified_at: None, bytes, rows: manifest.rows() };
    Ok((manifest, made))
}

/// Writes a file that is not there yet, all of it or nothing.
fn whole(file: &Path, write: impl FnOnce(&File) -> Result<()>) -> Result<()> {
    let told = || file.display().to_string();
    ensure!(!file.exists(), "{} is there already: nothing is written over", file.display());
    let folder = file.parent().filter(|folder| !folder.as_os_str().is_empty()).unwrap_or(Path::new("."));
    let part = tempfile::NamedTempFile::new_in(folder).with_context(|| folder.display().to_string())?;
    write(part.as_file()).with_context(told)?;
    part.as_file().sync_all()?;
    part.persist_noclobber(file).map_err(|error| error.error).with_context(told)?;
    // The name is as lasting as the bytes.
    Ok(File::open(folder)?.sync_all()?)
}

fn write(url: &str, snapshot: &str, manifest: &Manifest, part: &File, passphrase: &Passphrase) -> Result<()> {
    let mut sealed = sealed::seal(BufWriter::new(part), passphrase)?;
    serde_json::to_writer(&mut sealed, manifest)?;
    sealed.write_all(b"\n")?;
    tools::dump(url, snapshot, &mut sealed)?;
    sealed.finish()?.flush()?;
    Ok(())
}

/// Opens a backup and says what it holds, without a database.
///
/// # Errors
/// When it is none, or the passphrase is another.
pub fn look(file: &Path, passphrase: &Passphrase) -> Result<Manifest> {
    opened(file, passphrase).map(|(manifest, _)| manifest).with_context(|| file.display().to_string())
}

fn opened(file: &Path, passphrase: &Passphrase) -> Result<(Manifest, impl BufRead)> {
    let sealed = OpenOptions::new().read(true).open(file)?;
    let mut open = BufReader::new(sealed::open(BufReader::new(sealed), passphrase)?);
    let mut first = String::new();
    open.read_line(&mut first).context("the file is damaged, or cut off")?;
    let manifest: Manifest = serde_json::from_str(&first).context("this is no backup of ours")?;
    ensure!(manifest.schema == SCHEMA, "the layout is {}, this program reads {SCHEMA}", manifest.schema);
    Ok((manifest, open))
}

/// Brings a backup back into a database without tables, and compares every table with what the backup says of it. Older tables are brought up to date
/// afterwards, by whoever starts the program.
///
/// # Errors
/// When the database is not empty, the backup was made by a newer program, is damaged, or what came back is something else.
pub async fn restore(url: &str, file: &Path, passphrase: &Passphrase) -> Result<Manifest> {
    let told = || file.display().to_string();
    let mut operator = Operator::at(url).await?;
    let there = operator.tables().await?;
    if let Some(table) = there.first() {
        bail!(
            "the database has tables already ({table} and {} more): restore into an empty one",
            there.len() - 1
        );
    }
    let (manifest, mut dump) = opened(file, passphrase).with_context(told)?;
    let newest = lantern_store::newest_migration();
    ensure!(
        manifest.migration <= newest,
        "the backup was made by a newer program (its tables are of {}, this one knows {newest}): install that one first",
        manifest.migration
    );
    tools::load(url, &mut dump).with_context(told)?;
    let back = operator.contents().await?;
    let differs = differences(&manifest.tables, &back);
    ensure!(differs.is_empty(), "what came back is something else: {}", differs.join("; "));
    Ok(manifest)
}

/// Where two databases differ, table by table, in words.
fn differences(told: &Contents, back: &Contents) -> Vec<String> {
    let names = told.keys().chain(back.keys()).collect::<std::collections::BTreeSet<_>>();
    let rows = |of: &Contents, name: &str| {
        of.get(name).map_or("none".to_owned(), |table| format!("{} rows", table.rows))
    };
    let differ = names.into_iter().filter(|name| told.get(*name) != back.get(*name));
    differ.map(|name| format!("{name}: {} saved, {} back", rows(told, name), rows(back, name))).collect()
}

/// Proves a backup: restores it into a database of its own, compares, and drops that again.
///
/// # Errors
/// When the role may make no database, or the backup does not come back whole.
pub async fn verify(url: &str, file: &Path, passphrase: &Passphrase) -> Result<Manifest> {
    let mut operator = Operator::at(url).await?;
    let scratch = format!("lantern_verify_{}", std::process::id());
    let made = operator.make_database(&scratch).await;
    made.context("a database to restore into cannot be made: the role needs `createdb`")?;
    let restored = restore(&tools::beside(url, &scratch)?, file, passphrase).await;
    operator.drop_database(&scratch).await?;
    restored
}

/// Notes in the database that a backup was made of it, and whether it was proven.
///
/// # Errors
/// When the database is away.
pub async fn note(url: &str, made: BackedUp, proven: bool) -> Result<()> {
    let made = BackedUp { verified_at: proven.then(Utc::now), ..made };
    Ok(Operator::at(url).await?.note_backup(&made).await?)
}

#[cfg(test)]
mod tests {
    use lantern_store::contents::TableSum;

    use super::*;

    #[test]
    fn a_row_more_a_row_changed_and_a_table_less_are_each_named() {
        let sum = |rows, sum: &str| TableSum { rows, sum: sum.to_owned() };
        let told = Contents::from([
            ("a".to_owned(), sum(2, "7")),
            ("b".to_owned(), sum(1, "3")),
            ("c".to_owned(), sum(0, "0")),
        ]);
        assert_eq!(differences(&told, &told), [""; 0]);
        let back = Contents::from([("a".to_owned(), sum(3, "9")), ("b".to_owned(), sum(1, "4"))]);
        let differs = differences(&told, &back);
        assert_eq!(differs.len(), 3, "{differs:?}");
        assert!(differs[0].starts_with("a: 2 rows saved, 3 rows back") && differs[2].ends_with("none back"));
    }
}
