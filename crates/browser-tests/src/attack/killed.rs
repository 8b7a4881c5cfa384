//! Scores entered in a browser while the server is killed between entry and answer.

use std::io::{BufRead as _, BufReader};
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::time::Duration;

use anyhow::{Context as _, Result};

use crate::{TestDatabase, with_browser};

/// How the application is run as a process of its own: on a database, at an address or at any; gives where it listens.
pub type Run = fn(&str, Option<&str>) -> Result<(Child, String)>;

/// Runs a program as `proof serve` does, as a process of its own: it says where it listens in its first line.
///
/// # Errors
/// When it does not start.
pub fn launched(program: &Path, url: &str, address: Option<&str>) -> Result<(Child, String)> {
    let mut child =
        Command::new(program).args(["serve", url]).args(address).stdout(Stdio::piped()).spawn()?;
    let mut said = String::new();
    BufReader::new(child.stdout.take().context("it says nothing")?).read_line(&mut said)?;
    Ok((child, said.trim().to_owned()))
}

/// What became of scores.
#[derive(Debug)]
pub struct Killed {
    /// How many were entered, each with a kill.
    pub entered: usize,
    /// How many of them the server had not kept when it died, or kept and not answered: they were sent once more.
    pub sent_again: usize,
    /// Those that are not there exactly once.
    pub wrong: Vec<String>,
}

/// Longest pause between the entry and the kill: longer than an answer takes.
const LONGEST_MS: u64 = 40;

/// Enters scores on a day's Book, kills the server after each at another moment of its work, has it run again, and waits until nothing waits.
///
/// # Errors
/// When the browser or the program does not start, or something still waits after half a minute.
pub fn killed(times: usize, page: &str, run: Run) -> Result<Killed> {
    let database = TestDatabase::demo();
    let (url, path) = (database.url.clone(), page.to_owned());
    let (send, receive) = std::sync::mpsc::channel();
    let waits = "return Object.keys(localStorage).some((name) => name.startsWith('book:'))";
    with_browser(move |browser| async move {
        let (mut server, address) = run(&url, None)?;
        browser.open(&format!("{address}{path}")).await?;
        let mut sent_again = 0;
        for n in 0..times {
            let score = score(n);
            browser.client.active_element().await?.send_keys(&format!("alb {score}\u{e007}")).await?;
            let pause = n as u64 * 7 % LONGEST_MS;
            tokio::time::sleep(Duration::from_millis(pause)).await;
            server.kill()?;
            server.wait()?;
            let still = browser.client.execute(waits, Vec::new()).await?.as_bool() == Some(true);
            sent_again += usize::from(still);
            (server, _) = run(&url, Some(&address))?;
            let mut left = 300;
            while browser.client.execute(waits, Vec::new()).await?.as_bool() == Some(true) {
                left -= 1;
                anyhow::ensure!(left > 0, "{score} still waits");
                tokio::time::sleep(Duration::from_millis(100)).await;
            }
        }
        server.kill()?;
        server.wait()?;
        send.send(sent_again).context("somebody waits")
    })?;
    let sent_again = receive.recv().context("how many were sent again")?;
    let said = database.names("select what ->> 'said' as name from results order by id");
    let wrong = (0..times)
        .map(score)
        .filter(|score| said.iter().filter(|known| *known == score).count() != 1)
        .collect();
    Ok(Killed { entered: times, sent_again, wrong })
}

/// A score that no other entry has.
fn score(n: usize) -> String {
    let seconds = 200 + n;
    format!("{}:{:02}", seconds / 60, seconds % 60)
}
