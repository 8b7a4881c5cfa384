//! People who write while something breaks: each sends one thing until it is acknowledged, always under the key it was made with, then the next.

use std::collections::BTreeMap;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::thread::JoinHandle;
use std::time::{Duration, Instant};

use anyhow::{Result, ensure};

use crate::{TestDatabase, TestServer};

/// Writers at once.
const WRITERS: usize = 4;
/// Most that one class keeps; a writer goes on with the next day.
const A_DAY: usize = 500;
/// How long one thing is tried.
const PATIENCE: Duration = Duration::from_secs(120);

/// What came of it.
#[derive(Debug, Default)]
pub struct Written {
    /// Writes that were acknowledged.
    pub acknowledged: usize,
    /// Of them those that had to be sent again.
    pub sent_again: usize,
    /// Acknowledged and not there, or there more than once.
    pub wrong: Vec<String>,
    /// The longest that anybody waited for an answer of any kind.
    pub longest_wait: Duration,
}

/// Four who write.
pub struct Writers {
    stop: Arc<AtomicBool>,
    acknowledged: Arc<AtomicUsize>,
    threads: Vec<JoinHandle<Result<Writer>>>,
}

impl Writers {
    /// Lets them begin, at an application that runs.
    pub fn start(address: &str) -> Self {
        let (stop, acknowledged) = (Arc::new(AtomicBool::new(false)), Arc::new(AtomicUsize::new(0)));
        let threads = (0..WRITERS)
            .map(|n| {
                let (stop, acknowledged, address) = (stop.clone(), acknowledged.clone(), address.to_owned());
                std::thread::spawn(move || writes(n, &address, (&stop, &acknowledged)))
            })
            .collect();
        Self { stop, acknowledged, threads }
    }

    /// Waits until something more is acknowledged; how long it took.
    ///
    /// # Errors
    /// When nothing is for a minute.
    pub fn go_on(&self) -> Result<Duration> {
        self.go_on_by(1)
    }

    /// Waits until so much more is acknowledged, however slow the machine is; how long it took.
    ///
    /// # Errors
    /// When it is not within a minute.
    pub fn go_on_by(&self, more: usize) -> Result<Duration> {
        let (began, before) = (Instant::now(), self.acknowledged.load(Ordering::SeqCst));
        while self.acknowledged.load(Ordering::SeqCst) < before + more {
            ensure!(began.elapsed() < Duration::from_secs(60), "nothing is acknowledged any more");
            std::thread::sleep(Duration::from_millis(2));
        }
        Ok(began.elapsed())
    }

    /// Lets each finish what it sends, and looks whether all of it is there.
    ///
    /// # Errors
    /// When somebody got no answer.
    pub fn stop(self, database: &TestDatabase) -> Result<Written> {
        self.stop.store(true, Ordering::SeqCst);
        let (mut written, mut expected) = (Written::default(), Vec::new());
        for writer in self.threads {
            let writer = writer.join().expect("a writer ends")?;
            written.sent_again += writer.sent_again;
            written.longest_wait = written.longest_wait.max(writer.longest_wait);
            expected.extend(writer.keys);
        }
        written.acknowledged = expected.len();
        let rows = database.names("select key as name from happenings where key like 'writer-%'");
        let mut there: BTreeMap<&str, usize> = BTreeMap::new();
        rows.iter().for_each(|key| *there.entry(key).or_default() += 1);
        let wrong = expected.iter().filter(|key| there.get(key.as_str()) != Some(&1));
        written.wrong = wrong.cloned().collect();
        Ok(written)
    }
}

#[derive(Default)]
struct Writer {
    keys: Vec<String>,
    sent_again: usize,
    longest_wait: Duration,
}

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
        loop {
            let asked = Instant::now();
            let answered = server.try_post(&path, &form);
            writer.longest_wait = writer.longest_wait.max(asked.elapsed());
            if answered == Ok(303) {
                break;
            }
            tries += 1;
            ensure!(began.elapsed() < PATIENCE, "nothing is acknowledged: {answered:?}");
            std::thread::sleep(Duration::from_millis(20));
        }
        writer.sent_again += usize::from(tries > 0);
        acknowledged.fetch_add(1, Ordering::SeqCst);
        writer.keys.push(key);
    }
    Ok(writer)
}
