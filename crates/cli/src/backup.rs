//! `backup` and `restore`.

use std::path::PathBuf;
use std::process::ExitCode;

use anyhow::{Context as _, Result, bail};
use clap::Args;
use lantern_backup::{Manifest, Passphrase};
use lantern_store::contents::Contents;
use lantern_store::migrate;

use crate::serve::runtime;
use crate::settings::database_url;

/// Where everything is, and what seals it.
#[derive(Args)]
pub struct Sealed {
    /// Database URL; else that of the settings file.
    #[arg(long, env = "LANTERN_DATABASE_URL", hide_env_values = true)]
    database_url: Option<String>,
    /// Settings file of the server.
    #[arg(long, env = "LANTERN_SETTINGS")]
    settings: Option<PathBuf>,
    /// The passphrase; `LANTERN_BACKUP_PASSPHRASE` says it too. Without it nothing comes back: keep it where the backups are not.
    #[arg(long = "passphrase-file", value_name = "FILE")]
    file: Option<PathBuf>,
    /// The passphrase itself, by the environment alone.
    #[arg(long = "passphrase", env = "LANTERN_BACKUP_PASSPHRASE", hide = true, hide_env_values = true)]
    text: Option<String>,
}

impl Sealed {
    fn url(&self) -> Result<String> {
        database_url(self.database_url.as_deref(), self.settings.as_deref())
    }

    fn passphrase(&self) -> Result<Passphrase> {
        match (&self.file, &self.text) {
            (Some(file), _) => {
                let text = std::fs::read_to_string(file).with_context(|| file.display().to_string())?;
                Passphrase::new(&text).with_context(|| file.display().to_string())
            }
            (None, Some(text)) => Passphrase::new(text),
            (None, None) => bail!(
                "a backup holds health data and is sealed: say --passphrase-file FILE, or LANTERN_BACKUP_PASSPHRASE"
            ),
        }
    }
}

/// What `backup` can be told.
#[derive(Args)]
pub struct BackupArguments {
    /// The file to write; none may be there yet.
    to: PathBuf,
    #[command(flatten)]
    sealed: Sealed,
    /// Also restores it into a database of its own, compares every table, and drops that again: a backup that was never restored is a hope.
    #[arg(long)]
    verify: bool,
}

/// What `restore` can be told.
#[derive(Args)]
pub struct RestoreArguments {
    /// The backup.
    from: PathBuf,
    #[command(flatten)]
    sealed: Sealed,
    /// Restores into a database of its own beside the one that is named, compares, and drops that again.
    #[arg(long = "try")]
    only_try: bool,
    /// Says what the backup holds, without a database.
    #[arg(long)]
    look: bool,
}

/// What `export-gym` can be told.
#[derive(Args)]
pub struct ExportArguments {
    /// The file to write; none may be there yet.
    to: PathBuf,
    /// The gym's name.
    #[arg(long)]
    gym: String,
    #[command(flatten)]
    sealed: Sealed,
}

/// What `import-gym` can be told.
#[derive(Args)]
pub struct ImportArguments {
    /// What `export-gym` has written.
    from: PathBuf,
    #[command(flatten)]
    sealed: Sealed,
}

pub fn export(ExportArguments { to, gym, sealed }: &ExportArguments) -> Result<ExitCode> {
    let (url, passphrase) = (&sealed.url()?, sealed.passphrase()?);
    migrate(url)?;
    let made = runtime()?.block_on(lantern_backup::export(url, gym, to, &passphrase))?;
    println!("{}: {} with {} rows", to.display(), made.gym, rows(&made.tables));
    Ok(ExitCode::SUCCESS)
}

pub fn import(ImportArguments { from, sealed }: &ImportArguments) -> Result<ExitCode> {
    let (url, passphrase) = (&sealed.url()?, sealed.passphrase()?);
    migrate(url)?;
    let (id, made) = runtime()?.block_on(lantern_backup::import(url, from, &passphrase))?;
    println!(
        "{} is here as gym {id}: {} rows, every table as it was. Who had no account here asks for a passphrase, or gets a link by `passphrase-link`; screens and programs get new keys",
        made.gym,
        rows(&made.tables)
    );
    Ok(ExitCode::SUCCESS)
}

fn rows(tables: &Contents) -> i64 {
    tables.values().map(|table| table.rows).sum()
}

pub fn backup(arguments: &BackupArguments) -> Result<ExitCode> {
    let BackupArguments { to, sealed, verify } = arguments;
    let (url, passphrase) = (&sealed.url()?, sealed.passphrase()?);
    migrate(url)?;
    runtime()?.block_on(async {
        let (manifest, made) = lantern_backup::backup(url, to, &passphrase).await?;
        println!("{}: {} in {} bytes", to.display(), told(&manifest), made.bytes);
        if *verify {
            let proven = lantern_backup::verify(url, to, &passphrase).await;
            lantern_backup::note(url, made, proven.is_ok()).await?;
            proven.with_context(|| format!("{} was written, but does not come back", to.display()))?;
            println!("restored into a database of its own and compared: every table came back as it was");
        } else {
            lantern_backup::note(url, made, false).await?;
        }
        Ok(ExitCode::SUCCESS)
    })
}

pub fn restore(arguments: &RestoreArguments) -> Result<ExitCode> {
    let RestoreArguments { from, sealed, only_try, look } = arguments;
    let passphrase = sealed.passphrase()?;
    if *look {
        println!("{}: {}", from.display(), told(&lantern_backup::look(from, &passphrase)?));
        return Ok(ExitCode::SUCCESS);
    }
    let url = &sealed.url()?;
    runtime()?.block_on(async {
        let (manifest, done) = if *only_try {
            (lantern_backup::verify(url, from, &passphrase).await?, "comes back whole")
        } else {
            (lantern_backup::restore(url, from, &passphrase).await?, "is back, every table as it was")
        };
        println!("{}: {} {done}", from.display(), told(&manifest));
        Ok::<_, anyhow::Error>(())
    })?;
    if !only_try {
        migrate(url).context("it is back, but its tables could not be brought up to date")?;
    }
    Ok(ExitCode::SUCCESS)
}

fn told(manifest: &Manifest) -> String {
    let made = manifest.made_at.format("%Y-%m-%d %H:%M UTC");
    format!("{} rows of {} tables as of {made}", manifest.rows(), manifest.tables.len())
}
