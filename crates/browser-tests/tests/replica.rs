//! Copies of the database: one that follows it and answers what it knows, and one brought to a moment of before.

use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

use anyhow::{Result, ensure};
use browser_tests::attack::Proxy;
use browser_tests::cluster::Cluster;
use browser_tests::pages::monday;
use browser_tests::{TestDatabase, TestServer};

/// The address of the demo's class of this week.
fn class() -> String {
    format!("/days/{}T18:00", monday())
}

/// Tries until it is so.
fn soon(what: &str, mut is_so: impl FnMut() -> bool) -> Result<()> {
    let began = Instant::now();
    while !is_so() {
        ensure!(began.elapsed() < Duration::from_secs(60), "{what}");
        std::thread::sleep(Duration::from_millis(50));
    }
    Ok(())
}

#[test]
fn a_replica_answers_what_it_knows_and_nobody_sees_what_was_there_before_their_own_change() -> Result<()> {
    let cluster = Cluster::start()?;
    let database = TestDatabase::demo_at(&cluster.url());
    let replica = cluster.copy(true)?;
    replica.start_again()?;
    let followed = replica.url_like(&database.url);
    let road = Proxy::before(&followed);
    let server = TestServer::start_with_replica(&database, &road.url);
    let mut count = 0;
    // Another address each time: what was shown before would be shown again without asking anybody.
    let mut is_asked = |page: &str| {
        count += 1;
        let before = road.queries();
        assert_eq!(server.get(&format!("{page}?other={count}")).status, 200, "{page}");
        road.queries() - before > 1
    };
    soon("the replica is never asked", || is_asked(&format!("{}/pace", class())))?;
    ensure!(server.get("/gym/health").body.contains("The replica has everything"));

    // It stands still while somebody writes: they see what they wrote, and the owner that it is behind.
    let at_replica = |sql: &str| -> Result<()> {
        let done = Command::new("psql").args(["-Xqc", sql, &followed]).stdout(Stdio::null()).status()?;
        ensure!(done.success(), "{sql}");
        Ok(())
    };
    at_replica("select pg_wal_replay_pause()")?;
    let written = server
        .post("/days/2031-03-03/read", &[("text", "3 rounds:\n400 m run\n15 burpees"), ("revision", "0")]);
    ensure!(written.status < 400, "{}", written.status);
    ensure!(server.get("/days/2031-03-03/read").body.contains("15 burpees"), "their own words are not shown");
    ensure!(server.get("/gym/health").body.contains("MB behind"), "{}", server.get("/gym/health").body);
    at_replica("select pg_wal_replay_resume()")?;
    soon("the replica does not catch up", || {
        server.get("/gym/health").body.contains("The replica has everything")
    })?;
    soon("it is not asked again", || is_asked("/days/2031-03-03/pace"))?;

    // It is gone, or silent: everything comes from the database.
    road.go_silent();
    let began = Instant::now();
    ensure!(server.get(&format!("{}/loads", class())).status == 200);
    ensure!(began.elapsed() < Duration::from_secs(60), "{:?}", began.elapsed());
    replica.kill()?;
    for n in 0..10 {
        ensure!(server.get(&format!("{}/pace?y={n}", class())).status == 200);
    }
    ensure!(server.get("/gym/health").body.contains("The replica does not answer"));
    Ok(())
}

/// As docs/operations.md describes it: somebody has deleted everybody, and the database is brought to the moment before.
#[test]
fn an_accident_is_undone_by_going_back_to_the_moment_before() -> Result<()> {
    let cluster = Cluster::start()?;
    let archive = cluster.folder_beside("archive")?;
    let to = archive.display();
    cluster
        .set(&["archive_mode = on", &format!("archive_command = 'test ! -f {to}/%f && cp %p {to}/%f'")])?;
    cluster.kill()?;
    cluster.start_again()?;
    let database = TestDatabase::demo_at(&cluster.url());
    let copy = cluster.copy(false)?;
    let server = TestServer::start(&database);
    ensure!(server.post(&format!("{}/note", class()), &[("note", "written after the copy")]).status == 303);
    let moment = database.names("select clock_timestamp()::text as name");
    std::thread::sleep(Duration::from_millis(50));
    database.run("delete from members");
    ensure!(!server.get("/members").body.contains("Alba Quenby"));
    database.run("select pg_switch_wal()");
    let archived = || std::fs::read_dir(&archive).is_ok_and(|files| files.count() > 1);
    soon("nothing is archived", archived)?;
    std::thread::sleep(Duration::from_secs(1));

    copy.set(&[
        "archive_mode = off",
        &format!("restore_command = 'cp {to}/%f %p'"),
        &format!("recovery_target_time = '{}'", moment[0]),
        "recovery_target_action = 'promote'",
    ])?;
    copy.mark("recovery.signal")?;
    copy.start_again()?;
    let url = copy.url_like(&database.url);
    let back = TestServer::start_on(&url);
    soon("it does not come back", || back.try_get("/members") == Ok(200))?;
    ensure!(back.get("/members").body.contains("Alba Quenby"), "who was deleted is not back");
    ensure!(back.get(&format!("{}/book", class())).body.contains("written after the copy"), "too far back");
    soon("it cannot be written to", || {
        back.post(&format!("{}/note", class()), &[("note", "goes on")]).status == 303
    })
}
