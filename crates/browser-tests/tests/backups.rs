//! A backup comes back whole, and what is no backup, or not ours, brings nothing.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use anyhow::{Result, ensure};
use browser_tests::pages::monday;
use browser_tests::{TestDatabase, TestServer, soon};
use lantern_backup::{Passphrase, backup, export, import, look, note, restore, verify};

/// The address of the demo's class of this week.
fn class() -> String {
    format!("/days/{}T18:00", monday())
}

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
                    usize::from(server.post(&format!("{}/note", class()), &[("note", &note)]).status == 303);
            }
            written
        })
    };
    soon("something is written", || {
        !database.names("select id::text as name from happenings limit 1").is_empty()
    })
    .await?;
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
    let pace = back.get(&format!("{}/pace", class()));
    ensure!(pace.status == 200 && pace.body.contains("Alba Quenby"));
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

/// A gym moves to an installation that has others: everything is there under a new id, its people sign in there, what is made next collides with nothing.
#[tokio::test(flavor = "multi_thread")]
async fn one_gym_moves_into_an_installation_that_has_others() -> Result<()> {
    let (from, to) = (TestDatabase::demo(), TestDatabase::demo());
    let there = to.demo_gym();
    let server = TestServer::start(&from);
    let day = class();
    ensure!(server.post(&format!("{day}/note"), &[("note", "moves along")]).status == 303);
    // Somebody's limits were looked at by somebody whose account has gone since.
    from.run(
        "insert into health_views select gym_id, id, now(), 424242, 'Somebody gone' from members limit 1",
    );
    let folder = tempfile::tempdir()?;
    let file = folder.path().join("gym.lantern");
    let gyms = from.names("select name from gyms");
    let wrong = export(&from.url, "No such gym", &file, &passphrase()).await.unwrap_err().to_string();
    ensure!(wrong.contains(&gyms[0]) && !file.exists(), "{wrong}");
    let made = export(&from.url, &gyms[0], &file, &passphrase()).await?;
    ensure!(made.tables["happenings"].rows == 1 && made.tables["members"].rows >= 14, "{made:?}");
    let bytes = std::fs::read(&file)?;
    ensure!(!bytes.windows(4).any(|word| word == b"Alba"), "it can be read without the passphrase");

    let rows = |database: &TestDatabase, of: &str| {
        let all = database
            .names(&format!("select (to_jsonb(t) - 'gym_id' - 'account_id')::text as name from {of}"));
        let mut all: Vec<String> = all;
        all.sort();
        all
    };
    let before = rows(&to, "members t");
    let (id, _) = import(&to.url, &file, &passphrase()).await?;
    ensure!(id != there);
    for table in made.tables.keys() {
        let moved = rows(&to, &format!("{table} t where gym_id = {id}"));
        ensure!(moved == rows(&from, &format!("{table} t")), "{table}");
    }
    ensure!(rows(&to, &format!("members t where gym_id = {there}")) == before, "the other gym's changed");
    // The same people: one account each, of both gyms; and nobody is taken for whoever has gone.
    ensure!(to.names("select email as name from accounts where array_length(gyms, 1) <> 2").is_empty());
    ensure!(to.names("select viewer as name from health_views v join accounts a on a.id = v.account_id where viewer like 'Somebody%'").is_empty());
    // Keys of screens stay behind, and what is made here next collides with nothing that came in.
    ensure!(to.names(&format!("select id::text as name from keys where gym_id = {id}")).is_empty());
    to.run(&format!("begin; select set_config('lantern.gym', '{id}', true); insert into members (gym_id, name, profile) select gym_id, 'Newcomer', profile from members where gym_id = {id} limit 1; commit"));
    // Twice is two gyms; and a damaged file is none.
    let (again, _) = import(&to.url, &file, &passphrase()).await?;
    ensure!(again != id);
    let mut damaged = bytes;
    let middle = damaged.len() / 2;
    damaged[middle] ^= 1;
    std::fs::write(&file, damaged)?;
    let count = to.names("select id::text as name from gyms").len();
    ensure!(import(&to.url, &file, &passphrase()).await.is_err());
    ensure!(to.names("select id::text as name from gyms").len() == count, "something of it stays");
    Ok(())
}
