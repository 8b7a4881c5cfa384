//! The program, or its database, killed under writers: whatever was acknowledged is there, once.

use std::collections::BTreeMap;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::thread::JoinHandle;
use std::time::{Duration, Instant};

use anyhow::{Result, ensure};

use super::Run;
use crate::cluster::Cluster;
use crate::{TestDatabase, TestServer};

/// Writers at once.
const WRITERS: usize = 4;
/// Most that one class keeps; a writer goes on with the next day.
const A_DAY: usize = 500;
/// How long it goes well between two kills.
const BETWEEN: Duration = Duration::from_millis(250);

/// What came of being killed.
#[derive(Debug, Default)]
pub struct Crashed {
    /// How often.
    pub kills: usize,
    /// Writes that were acknowledged.
    pub acknowledged: usize,
    /// Of them those that had to be sent again.
    pub sent_again: usize,
    /// Acknowledged and not there, or there more than once.
    pub wrong: Vec<String>,
    /// Longest time from the kill until a write was acknowledged again, in milliseconds.
    pub longest_away_ms: u128,
}

/// Kills the program, a process of its own, so many times.
///
/// # Errors
/// When it does not come up, or a writer gets no answer for a minute.
pub fn program_killed(times: usize, run: Run) -> Result<Crashed> {
    let cluster = Cluster::start()?;
    let database = TestDatabase::demo_at(&cluster.url());
    let (mut process, address) = run(&database.url, None)?;
    let at = address.trim_start_matches("http://").to_owned();
    let crashed = under_writers(&database, &address, times, || {
        process.kill()?;
        process.wait()?;
        process = run(&database.url, Some(&at))?.0;
        Ok(())
    });
    process.kill()?;
    process.wait()?;
    crashed
}

/// Kills the database so many times.
///
/// # Errors
/// When it does not come up again, or a writer gets no answer for a minute.
pub fn database_killed(times: usize) -> Result<Crashed> {
    let cluster = Cluster::start()?;
    let database = TestDatabase::demo_at(&cluster.url());
    let server = TestServer::start(&database);
    under_writers(&database, &server.address, times, || {
        cluster.kill()?;
        cluster.start_again()?;
        Ok(())
    })
}

fn under_writers(
    database: &TestDatabase,
    address: &str,
    times: usize,
    mut kill: impl FnMut() -> Result<()>,
) -> Result<Crashed> {
    let (stop, acknowledged) = (Arc::new(AtomicBool::new(false)), Arc::new(AtomicUsize::new(0)));
    let writers: Vec<JoinHandle<Result<Writer>>> = (0..WRITERS)
        .map(|n| {
            let (stop, acknowledged, address) = (stop.clone(), acknowledged.clone(), address.to_owned());
            std::thread::spawn(move || writes(n, &address, (&stop, &acknowledged)))
        })
        .collect();
    let mut crashed = Crashed { kills: times, ..Crashed::default() };
    let mut killed = || -> Result<()> {
        for _ in 0..times {
            std::thread::sleep(BETWEEN);
            let began = Instant::now();
            kill()?;
            let before = acknowledged.load(Ordering::SeqCst);
            while acknowledged.load(Ordering::SeqCst) == before {
                ensure!(began.elapsed() < Duration::from_secs(60), "nothing is acknowledged any more");
                std::thread::sleep(Duration::from_millis(2));
            }
            crashed.longest_away_ms = crashed.longest_away_ms.max(began.elapsed().as_millis());
        }
        Ok(())
    };
    let done = killed();
    stop.store(true, Ordering::SeqCst);
    let mut expected = Vec::new();
    for writer in writers {
        let writer = writer.join().expect("a writer ends")?;
        crashed.sent_again += writer.sent_again;
        expected.extend(writer.keys);
    }
    done?;
    crashed.acknowledged = expected.len();
    let rows = database.names("select key as name from happenings where key like 'writer-%'");
    let mut there: BTreeMap<&str, usize> = BTreeMap::new();
    rows.iter().for_each(|key| *there.entry(key).or_default() += 1);
    let wrong = expected.iter().filter(|key| there.get(key.as_str()) != Some(&1));
    crashed.wrong = wrong.cloned().collect();
    Ok(crashed)
}

#[derive(Default)]
struct Writer {
    keys: Vec<String>,
    sent_again: usize,
}

/// Writes one thing after another, each until it is acknowledged, always under the key it was made with.
fn writes(n: usize, address: &str, (stop, acknowledged): (&AtomicBool, &AtomicUsize)) -> Result<Writer> {
    let server = TestServer::at(address);
    let mut writer = Writer::default();
    while !stop.load(Ordering::SeqCst) {
        let count = writer.keys.len();
        let (key, day) = (format!("writer-{n}-{count:06}"), 1 + count / A_DAY);
        let path = format!("/days/2027-{:02}-{day:02}T1{n}:00/note", 1 + n);
        let form = format!("note=note+{count}&key={key}");
        let began = Instant::now();
        let mut tries = 0;
        while server.try_post(&path, &form) != Ok(303) {
            tries += 1;
            ensure!(began.elapsed() < Duration::from_secs(60), "no answer for a minute");
            std::thread::sleep(Duration::from_millis(20));
        }
        writer.sent_again += usize::from(tries > 0);
        acknowledged.fetch_add(1, Ordering::SeqCst);
        writer.keys.push(key);
    }
    Ok(writer)
}
