//! One gym alone: everything on file about it in one sealed file, and into another installation.

use std::io::{BufRead as _, BufReader, BufWriter, Write as _};
use std::path::Path;

use anyhow::{Context as _, Result, bail, ensure};
use chrono::{DateTime, Utc};
use lantern_store::contents::Contents;
use lantern_store::moving::MovedRow;
use lantern_store::{GymId, Operator};
use serde::{Deserialize, Serialize};

use crate::{Passphrase, differences, sealed, whole};

/// The layout of the file, told in its first line.
pub const SCHEMA: &str = "honest-lantern/gym/1";

/// The first line of what is sealed; each line after it is one row, with the name of its table.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct GymFile {
    /// [`SCHEMA`].
    pub schema: String,
    /// The program that made it.
    pub program: String,
    /// The newest migration of its database: what its rows look like.
    pub migration: String,
    /// When.
    pub made_at: DateTime<Utc>,
    /// The gym's name.
    pub gym: String,
    /// What every table held of it.
    pub tables: Contents,
}

/// Writes everything of one gym to a file that is not there yet, as it was at one moment. Who is signed in, invitations under way and the keys of screens and
/// programs stay behind; people come along by their address, without their passphrases.
///
/// # Errors
/// When there is no gym of that name, or the database or the disk refuse.
pub async fn export(url: &str, gym: &str, file: &Path, passphrase: &Passphrase) -> Result<GymFile> {
    let mut operator = Operator::at(url).await?;
    operator.hold().await?;
    let gyms = operator.gyms().await?;
    let named: Vec<GymId> = gyms.iter().filter(|(_, name, _)| name == gym).map(|(id, ..)| *id).collect();
    let [id] = named[..] else {
        let names: Vec<&str> = gyms.iter().map(|(_, name, _)| name.as_str()).collect();
        bail!("{} gyms are called `{gym}`; there are: {}", named.len(), names.join(", "));
    };
    let first = GymFile {
        schema: SCHEMA.to_owned(),
        program: env!("CARGO_PKG_VERSION").to_owned(),
        migration: operator.migration().await?,
        made_at: Utc::now(),
        gym: gym.to_owned(),
        tables: operator.contents_of(id).await?,
    };
    let rows = operator.rows_of(id).await?;
    whole(file, |part| {
        let mut sealed = sealed::seal(BufWriter::new(part), passphrase)?;
        serde_json::to_writer(&mut sealed, &first)?;
        for row in &rows {
            sealed.write_all(b"\n")?;
            serde_json::to_writer(&mut sealed, row)?;
        }
        Ok(sealed.finish()?.flush()?)
    })?;
    Ok(first)
}

/// Takes a gym in beside those that there are, under an id of its own, and compares every table with what the file says of it.
///
/// # Errors
/// When the file is none or damaged, its rows are those of another version of the program, or what came in is something else: then nothing stays.
pub async fn import(url: &str, file: &Path, passphrase: &Passphrase) -> Result<(GymId, GymFile)> {
    let told = || file.display().to_string();
    let (first, rows) = opened(file, passphrase).with_context(told)?;
    let mut operator = Operator::at(url).await?;
    let here = operator.migration().await?;
    ensure!(
        first.migration == here,
        "{}: its rows are as of {}, the database here is as of {here}: use the same version of the program on both sides",
        file.display(),
        first.migration
    );
    let (id, back) = operator.take_in(&rows).await.with_context(told)?;
    let differs = differences(&first.tables, &back);
    if !differs.is_empty() {
        operator.remove_gym(id).await?;
        bail!("{}: what came in is something else: {}", file.display(), differs.join("; "));
    }
    Ok((id, first))
}

fn opened(file: &Path, passphrase: &Passphrase) -> Result<(GymFile, Vec<MovedRow>)> {
    let open = BufReader::new(sealed::open(BufReader::new(std::fs::File::open(file)?), passphrase)?);
    let mut lines = open.lines().map(|line| line.context("the file is damaged, or cut off"));
    let first = lines.next().context("the file is empty")??;
    let first: GymFile = serde_json::from_str(&first).context("this is no gym of ours")?;
    ensure!(first.schema == SCHEMA, "the layout is {}, this program reads {SCHEMA}", first.schema);
    let row = |(n, line): (usize, Result<String>)| {
        serde_json::from_str(&line?).with_context(|| format!("line {} is no row", n + 2))
    };
    Ok((first, lines.enumerate().map(row).collect::<Result<_>>()?))
}
