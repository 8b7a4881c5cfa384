//! Many people at once: pages, changes and live screens, with the time that each answer took.

use std::collections::BTreeMap;
use std::io::{BufRead as _, BufReader, Write as _};
use std::net::TcpStream;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::sync::mpsc;
use std::time::{Duration, Instant};

use anyhow::Result;
use rand::{RngExt as _, SeedableRng as _};
use rand_pcg::Pcg64Mcg;

use crate::attack::resident_mb;
use crate::running::ClassNow;
use crate::server::Road;
use crate::{TestDatabase, TestServer};

/// What people do.
#[derive(Clone, Copy, Debug)]
pub struct Load {
    /// How many at once.
    pub people: usize,
    /// Between an answer and the next click, on average.
    pub pause: Duration,
    /// How long it goes on.
    pub lasts: Duration,
    /// Of a hundred clicks, those that change something.
    pub changes: u32,
    /// Screens on walls, which hear of every change.
    pub screens: usize,
    /// Whether each looks at pages that nobody has looked at before.
    pub anew: bool,
    /// Connections on which a request comes a letter a second, and never ends.
    pub slow: usize,
    /// Whether all of them look at the one class that runs now, and every three seconds something changes that makes its whole plan anew.
    pub together: bool,
}

/// What came of it.
#[derive(Debug, Default)]
pub struct Loaded {
    /// Answers by status; where none came, 0.
    pub by_status: BTreeMap<u16, usize>,
    /// How long each took that was no refusal, shortest first.
    pub took: Vec<Duration>,
    /// Those that were answered otherwise than they should, and not turned away either.
    pub failed: usize,
    /// Of those that were turned away, how many were not told when to come again.
    pub without_when: usize,
    /// Changes that were acknowledged, and those of them that are there.
    pub changes: (usize, usize),
    /// Memory of the server in megabytes, at the end of each tenth of the time.
    pub mb: Vec<u64>,
    /// Words that live screens have heard.
    pub heard: usize,
}

impl Loaded {
    /// The time within which so many of a thousand answers came.
    pub fn quantile(&self, of_thousand: usize) -> Duration {
        let place = (self.took.len() * of_thousand / 1000).min(self.took.len().saturating_sub(1));
        self.took.get(place).copied().unwrap_or_default()
    }
}

/// One answer.
struct Click {
    status: u16,
    took: Duration,
    is_when_said: bool,
    is_change: bool,
}

/// Days of the demo's week, as addresses of classes.
fn classes(database: &TestDatabase) -> Vec<String> {
    database.names(
        "select day::text || 'T' || to_char(starts, 'HH24:MI') as name from classes order by day, starts",
    )
}

/// Pages that coaches look at, by the class.
const STEPS: [&str; 9] = ["read", "warmup", "loads", "versions", "pace", "hour", "board", "cards", "book"];
/// Pages of no class.
const OTHERS: [&str; 4] = ["/days", "/members", "/search?q=thrusters", "/gym/results"];

impl Load {
    /// Lets them click at a server, a process of its own, that serves a database.
    ///
    /// # Errors
    /// When a screen cannot connect.
    pub fn on(self, database: &TestDatabase, (server, process): (&TestServer, u32)) -> Result<Loaded> {
        let (over, count, heard) = (AtomicBool::new(false), AtomicUsize::new(0), AtomicUsize::new(0));
        // It takes the place of the classes that are left of today.
        let class = ClassNow::new(database, server);
        let classes = if self.together { vec![class.slot.clone()] } else { classes(database) };
        let mut loaded = Loaded::default();
        let (send, clicks) = mpsc::channel();
        let roads = ["iris", "rowan"].map(|who| server.seen_by(who).cookie());
        let mut lines = Vec::new();
        for _ in 0..self.screens {
            let mut line = TcpStream::connect(server.address.trim_start_matches("http://"))?;
            write!(line, "GET {}/live HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n", class.wall)?;
            lines.push(line);
        }
        std::thread::scope(|scope| {
            for line in &lines {
                let heard = &heard;
                scope.spawn(move || {
                    let lines = BufReader::new(line).lines().map_while(Result::ok);
                    for _ in lines.filter(|line| line.contains("event: class")) {
                        heard.fetch_add(1, Ordering::Relaxed);
                    }
                });
            }
            for _ in 0..self.slow {
                let (over, address) = (&over, server.address.trim_start_matches("http://"));
                scope.spawn(move || drips(address, over));
            }
            if self.together {
                scope.spawn(|| remakes(database, &over));
            }
            for person in 0..self.people {
                let (send, over, count, classes) = (send.clone(), &over, &count, &classes);
                let road = server.with_cookie(&roads[person % roads.len()]).road();
                scope.spawn(move || self.clicks(person, (&road, classes), (over, count), &send));
            }
            drop(send);
            for _ in 0..10 {
                std::thread::sleep(self.lasts / 10);
                loaded.mb.push(resident_mb(process));
            }
            over.store(true, Ordering::Relaxed);
            for line in &lines {
                let _ = line.shutdown(std::net::Shutdown::Both);
            }
            for Click { status, took, is_when_said, is_change } in clicks {
                *loaded.by_status.entry(status).or_default() += 1;
                let expected = if is_change { 303 } else { 200 };
                loaded.failed += usize::from(status != expected && status != 503);
                match status {
                    503 => loaded.without_when += usize::from(!is_when_said),
                    _ => loaded.took.push(took),
                }
                loaded.changes.0 += usize::from(is_change && status == expected);
            }
        });
        loaded.took.sort();
        let kept = database.names("select key as name from happenings where key like 'load-%'");
        loaded.changes.1 = kept.len();
        loaded.heard = heard.load(Ordering::Relaxed);
        Ok(loaded)
    }

    fn clicks(
        &self,
        person: usize,
        (road, classes): (&Road, &[String]),
        (over, count): (&AtomicBool, &AtomicUsize),
        send: &mpsc::Sender<Click>,
    ) {
        let mut chance = Pcg64Mcg::seed_from_u64(person as u64);
        let wait = |chance: &mut Pcg64Mcg| {
            // People are not in step.
            let until = Instant::now() + self.pause.mul_f64(chance.random_range(0.0..2.0));
            while Instant::now() < until && !over.load(Ordering::Relaxed) {
                std::thread::sleep(Duration::from_millis(50).min(self.pause));
            }
        };
        wait(&mut chance);
        while !over.load(Ordering::Relaxed) {
            let n = count.fetch_add(1, Ordering::Relaxed);
            let class = &classes[chance.random_range(0..classes.len())];
            let is_change = chance.random_range(0..100) < self.changes;
            let asked = Instant::now();
            let (status, is_when_said) = if is_change {
                road.send(&format!("/days/{class}/note"), &format!("note=note+{n}&key=load-{n:06}"))
            } else {
                let mut page = match chance
                    .random_range(0..STEPS.len() + if self.together { 0 } else { OTHERS.len() })
                {
                    step if step < STEPS.len() => format!("/days/{class}/{}", STEPS[step]),
                    other => OTHERS[other - STEPS.len()].to_owned(),
                };
                if self.anew {
                    page += &format!("{}anew={n}", if page.contains('?') { '&' } else { '?' });
                }
                road.status(&page)
            };
            let _ = send.send(Click { status, took: asked.elapsed(), is_when_said, is_change });
            wait(&mut chance);
        }
    }
}

/// Changes what every plan of the gym is made from.
fn remakes(database: &TestDatabase, over: &AtomicBool) {
    for racks in (4..8).cycle() {
        if over.load(Ordering::Relaxed) {
            return;
        }
        database.run(&format!(
            "update gyms set version = version + 1, settings = jsonb_set(settings, '{{racks}}', '{racks}') where demo"
        ));
        std::thread::sleep(Duration::from_secs(3));
    }
}

/// A request that comes a letter a second.
fn drips(address: &str, over: &AtomicBool) {
    while !over.load(Ordering::Relaxed) {
        let Ok(mut line) = TcpStream::connect(address) else { continue };
        for letter in
            "GET /days HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Long: ".bytes().chain(std::iter::repeat(b'x'))
        {
            if over.load(Ordering::Relaxed) || line.write_all(&[letter]).is_err() {
                break;
            }
            std::thread::sleep(Duration::from_secs(1));
        }
    }
}
