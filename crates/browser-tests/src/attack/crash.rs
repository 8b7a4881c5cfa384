//! The program, or its database, killed under writers: whatever was acknowledged is there, once.

use std::time::{Duration, Instant};

use anyhow::Result;

use super::Run;
use super::writers::{Writers, Written};
use crate::cluster::Cluster;
use crate::{TestDatabase, TestServer};

/// How long it goes well between two kills.
const BETWEEN: Duration = Duration::from_millis(250);

/// What came of being killed.
#[derive(Debug, Default)]
pub struct Crashed {
    /// How often.
    pub kills: usize,
    /// What the writers wrote meanwhile.
    pub written: Written,
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
    let writers = Writers::start(address);
    let mut longest = Duration::ZERO;
    let mut killed = || -> Result<()> {
        for _ in 0..times {
            std::thread::sleep(BETWEEN);
            let began = Instant::now();
            kill()?;
            writers.go_on()?;
            longest = longest.max(began.elapsed());
        }
        Ok(())
    };
    let done = killed();
    let written = writers.stop(database)?;
    done?;
    Ok(Crashed { kills: times, written, longest_away_ms: longest.as_millis() })
}
