//! The database's own tools: what dumps and what loads.

use std::io::{Read, Write};
use std::path::PathBuf;
use std::process::{Command, Stdio};

use anyhow::{Context as _, Result, bail, ensure};

/// A tool of the newest PostgreSQL that is installed: an older one refuses a newer server.
fn tool(name: &str) -> PathBuf {
    let versions = std::fs::read_dir("/usr/lib/postgresql").into_iter().flatten().flatten();
    let number = |path: &PathBuf| path.file_name()?.to_str()?.parse::<u32>().ok();
    let newest = versions
        .map(|entry| entry.path())
        .filter(|path| path.join("bin").join(name).exists())
        .max_by_key(number);
    newest.map_or_else(|| PathBuf::from(name), |path| path.join("bin").join(name))
}

/// The options that show every gym's rows, whatever the policies of the tables say.
const EVERY_GYM: &str = "-c lantern.operator=on";

/// Tells a tool where the database is. The passphrase goes by the environment: whoever looks at the programs that run sees their arguments.
fn connected(tool: &mut Command, url: &str) {
    let (open, passphrase) = without_passphrase(url);
    tool.arg(format!("--dbname={open}")).env("PGOPTIONS", EVERY_GYM);
    if let Some(passphrase) = passphrase {
        tool.env("PGPASSWORD", passphrase);
    }
}

/// A URL without the passphrase in it, and the passphrase.
fn without_passphrase(url: &str) -> (String, Option<String>) {
    let parts = url.split_once("://").and_then(|(scheme, rest)| {
        let (who, host) = rest.split_once('@')?;
        let (user, passphrase) = who.split_once(':')?;
        Some((format!("{scheme}://{user}@{host}"), plain(passphrase)))
    });
    parts.map_or_else(|| (url.to_owned(), None), |(url, passphrase)| (url, Some(passphrase)))
}

/// A part of a URL as it is meant: `%2F` is a slash.
fn plain(part: &str) -> String {
    let mut bytes = Vec::new();
    let mut rest = part.as_bytes();
    while let [first, after @ ..] = rest {
        let hex = (*first == b'%').then(|| after.get(..2)).flatten();
        match hex.and_then(|hex| u8::from_str_radix(std::str::from_utf8(hex).ok()?, 16).ok()) {
            Some(byte) => (bytes.push(byte), rest = &after[2..]),
            None => (bytes.push(*first), rest = after),
        };
    }
    String::from_utf8_lossy(&bytes).into_owned()
}

/// Dumps everything as a snapshot shows it.
pub(crate) fn dump(url: &str, snapshot: &str, to: &mut impl Write) -> Result<()> {
    let mut dump = Command::new(tool("pg_dump"));
    dump.args(["--format=custom", "--no-owner", "--no-privileges", "--enable-row-security"]);
    dump.arg(format!("--snapshot={snapshot}"));
    connected(&mut dump, url);
    let mut child = dump.stdin(Stdio::null()).stdout(Stdio::piped()).stderr(Stdio::piped()).spawn();
    let child = child
        .as_mut()
        .map_err(|error| anyhow::anyhow!("{error}"))
        .context("pg_dump cannot be started: install PostgreSQL's client programs")?;
    let mut out = child.stdout.take().context("pg_dump says nothing")?;
    let errors = drained(child.stderr.take());
    std::io::copy(&mut out, to)?;
    let ended = child.wait()?;
    ensure!(ended.success(), "pg_dump: {}", errors.join().unwrap_or_default());
    Ok(())
}

/// Loads what was dumped, all of it or nothing.
pub(crate) fn load(url: &str, from: &mut impl Read) -> Result<()> {
    let mut load = Command::new(tool("pg_restore"));
    load.args(["--no-owner", "--no-privileges", "--exit-on-error", "--single-transaction"]);
    connected(&mut load, url);
    let mut child = load.stdin(Stdio::piped()).stdout(Stdio::null()).stderr(Stdio::piped()).spawn();
    let child = child
        .as_mut()
        .map_err(|error| anyhow::anyhow!("{error}"))
        .context("pg_restore cannot be started: install PostgreSQL's client programs")?;
    let mut into = child.stdin.take().context("pg_restore hears nothing")?;
    let errors = drained(child.stderr.take());
    let copied = std::io::copy(from, &mut into);
    drop(into);
    // A damaged file ends the copy in the middle: then nothing may be kept of what came before, and a dump that ends early is refused by whoever loads it.
    let ended = child.wait()?;
    let told = errors.join().unwrap_or_default();
    if let Err(error) = copied {
        bail!("the file is damaged, or the database refused it: {error} {told}");
    }
    ensure!(ended.success(), "pg_restore: {told}");
    Ok(())
}

/// Reads what a program complains of while it runs, so that it never waits for its reader; passphrases stand in no message of theirs.
fn drained(errors: Option<impl Read + Send + 'static>) -> std::thread::JoinHandle<String> {
    std::thread::spawn(move || {
        let mut told = String::new();
        errors.map(|mut errors| errors.read_to_string(&mut told));
        told.trim().to_owned()
    })
}

/// The URL of another database of the same server.
pub(crate) fn beside(url: &str, name: &str) -> Result<String> {
    let (before, query) = url.split_once('?').map_or((url, None), |(before, query)| (before, Some(query)));
    let (server, _) = before
        .rsplit_once('/')
        .filter(|(server, _)| server.contains("//"))
        .context("the database URL names no database")?;
    Ok(match query {
        Some(query) => format!("{server}/{name}?{query}"),
        None => format!("{server}/{name}"),
    })
}

#[cfg(test)]
mod tests {
    use super::{beside, without_passphrase};

    #[test]
    fn another_database_of_the_same_server() {
        assert_eq!(beside("postgres://a:b@h:1/x", "y").unwrap(), "postgres://a:b@h:1/y");
        assert_eq!(beside("postgres://h/x?sslmode=require", "y").unwrap(), "postgres://h/y?sslmode=require");
        assert!(beside("postgres://h", "y").is_err());
    }

    #[test]
    fn a_passphrase_stands_in_no_argument() {
        let (url, passphrase) = without_passphrase("postgres://a:b%2Fc%@h:1/x");
        assert_eq!((&*url, passphrase.as_deref()), ("postgres://a@h:1/x", Some("b/c%")));
        assert_eq!(without_passphrase("postgres://h/x"), ("postgres://h/x".to_owned(), None));
    }
}
