//! A backup comes back whole, and what is no backup, or not ours, brings nothing.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::Duration;

use anyhow::{Result, ensure};
use browser_tests::{TestDatabase, TestServer};
use lantern_backup::{Passphrase, backup, look, note, restore, verify};

fn passphrase() -> Passphrase {
    Passphrase::new("kept where the backups are not").unwrap()
}

/// One moment of a database that others write to: what comes back is what was there then, to the row, and the application runs on it.
#[tokio::test(flavor = "multi_thread")]
async fn a_backup_under_writers_comes_back_to_the_row() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let folder = tempfile::tempdir()?;
    let file = folder.path().join("one.lantern");
    // Somebody writes all the while.
    let stop = Arc::new(AtomicBool::new(false));
    let writer = {
        let (stop, address) = (stop.clone(), server.address.clone());
        std::thread::spawn(move || {
            let server = TestServer::at(&address);
            let mut written = 0;
            while !stop.load(Ordering::SeqCst) {
                let note = format!("note {written}");
                written +=
                    usize::from(server.post("/days/2026-11-23T18:00/note", &[("note", &note)]).status == 303);
            }
            written
        })
    };
    tokio::time::sleep(Duration::from_millis(300)).await;
    let (manifest, made) = backup(&database.url, &file, &passphrase()).await?;
    stop.store(true, Ordering::SeqCst);
    let written = writer.join().expect("the writer ends");
    ensure!(
        written > 3 && manifest.tables["happenings"].rows > 0,
        "{written} {:?}",
        manifest.tables["happenings"]
    );
    ensure!(manifest.tables["members"].rows >= 14 && made.bytes > 10_000, "{manifest:?}");
    ensure!(look(&file, &passphrase())? == manifest);
    ensure!(backup(&database.url, &file, &passphrase()).await.is_err(), "written over");

    // Into a database without tables; and not into one that has some.
    let empty = TestDatabase::bare();
    ensure!(restore(&empty.url, &file, &passphrase()).await? == manifest);
    let again = restore(&empty.url, &file, &passphrase()).await.unwrap_err().to_string();
    ensure!(again.contains("has tables already"), "{again}");
    let back = TestServer::start(&empty);
    let day = "/days/2026-11-23T18:00/pace";
    ensure!(back.get(day).status == 200 && back.get(day).body.contains("Alba Quenby"));
    // Each gym still sees its own alone: the policies came back too.
    ensure!(
        empty.names("select count(*)::text as name from pg_policies")
            == database.names("select count(*)::text as name from pg_policies")
    );

    // Proven, and told to the owner.
    ensure!(server.get("/gym/health").body.contains("No backup was ever made"));
    verify(&database.url, &file, &passphrase()).await?;
    note(&database.url, made, true).await?;
    let told = server.get("/gym/health").body;
    ensure!(told.contains("Last proven less than an hour ago"), "{told}");
    ensure!(server.seen_by("alba").get("/gym/health").status == 403);
    let left = "select datname::text as name from pg_database where datname like 'lantern_verify_%'";
    ensure!(database.names(left).is_empty(), "the scratch database stays");
    Ok(())
}

/// Another passphrase, a byte that changed, a file that was cut off, a newer program: each is named, and nothing of it stays in the database.
#[tokio::test(flavor = "multi_thread")]
async fn what_is_no_whole_backup_brings_nothing() -> Result<()> {
    let database = TestDatabase::demo();
    let folder = tempfile::tempdir()?;
    let file = folder.path().join("one.lantern");
    backup(&database.url, &file, &passphrase()).await?;
    let whole = std::fs::read(&file)?;
    let empty = TestDatabase::bare();
    let other = Passphrase::new("somebody else's passphrase")?;
    let wrong = format!("{:#}", restore(&empty.url, &file, &other).await.unwrap_err());
    ensure!(wrong.contains("passphrase is another one") && wrong.contains("one.lantern"), "{wrong}");
    for (what, bytes) in [
        ("cut off", whole[..whole.len() * 2 / 3].to_vec()),
        ("changed", {
            let mut bytes = whole.clone();
            let place = bytes.len() * 2 / 3;
            bytes[place] ^= 1;
            bytes
        }),
        ("another file", b"nothing of ours".to_vec()),
    ] {
        let damaged = folder.path().join("damaged.lantern");
        std::fs::write(&damaged, bytes)?;
        ensure!(restore(&empty.url, &damaged, &passphrase()).await.is_err(), "{what} came back");
        let tables = "select tablename::text as name from pg_tables where schemaname = 'public'";
        ensure!(empty.names(tables).is_empty(), "{what}: {:?}", empty.names(tables));
    }
    database.run("insert into __diesel_schema_migrations (version) values ('99991231000000')");
    let newer = folder.path().join("newer.lantern");
    backup(&database.url, &newer, &passphrase()).await?;
    let told = format!("{:#}", restore(&empty.url, &newer, &passphrase()).await.unwrap_err());
    ensure!(told.contains("newer program"), "{told}");
    Ok(())
}
