//! A class that runs now, and all of its screens in one browser.

use std::io::{BufRead, BufReader, Write};
use std::net::TcpStream;
use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::time::{Duration, Instant};

use anyhow::{Context as _, Result, ensure};
use chrono::Utc;
use fantoccini::wd::WindowHandle;

use crate::attack::resident_mb;
use crate::{Browser, TestDatabase, TestServer, soon, with_browser};

/// What the class does: a lift, and a piece for time.
const TEXT: &str = "Back squat 3x5 @ 70%, rest 1:00\n\n3 rounds for time, cap 8\n10 burpees\n20 air squats";

/// A class that has just begun, by the clock on the wall.
pub struct ClassNow {
    /// Its address: `2026-11-23T18:00`.
    pub slot: String,
    /// Where its wall is.
    pub wall: String,
}

impl ClassNow {
    /// Of the demo's members, who all come.
    pub fn new(database: &TestDatabase, server: &TestServer) -> Self {
        let now = Utc::now();
        let (day, starts) = (now.date_naive(), now.format("%H:%M").to_string());
        database.run(&format!("delete from classes where day >= '{day}'"));
        let revision =
            database.names(&format!("select revision::text as name from sessions where day = '{day}'"));
        let revision = revision.first().map_or("0", String::as_str);
        let saved = server.post(&format!("/days/{day}/read"), &[("text", TEXT), ("revision", revision)]);
        assert_eq!(saved.status, 303, "{}", saved.body);
        let class = [("starts", starts.as_str()), ("minutes", "60"), ("coach", "Iris")];
        assert_eq!(server.post(&format!("/days/{day}/classes"), &class).status, 303);
        let slot = format!("{day}T{starts}");
        // Not those of a feed: in the morning only half of them come.
        let all = database
            .names("select id::text as name from members where gym_id = (select id from gyms where demo)");
        let all: Vec<(&str, &str)> = all.iter().map(|id| ("booked", id.as_str())).collect();
        assert_eq!(server.post(&format!("/days/{slot}/class"), &all).status, 303);
        let made = server.post("/people/keys", &[("name", "By the rig"), ("opens", "wall")]).body;
        let wall =
            made.split("/wall/").nth(1).expect("a link").split(['<', '"', ' ']).next().unwrap_or_default();
        Self { slot, wall: format!("/wall/{wall}") }
    }
}

/// What a screen of a class shows.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Seen {
    /// Block and phase: `conditioning-1:2`.
    pub phase: String,
    /// What the clock reads.
    pub clock: String,
    /// By how much its idea of the time differs from the device's, in milliseconds.
    pub offset_ms: i64,
}

/// Screens of a class, each in a window of its own.
pub struct Screens {
    browser: Browser,
    /// The control page first.
    pub windows: Vec<WindowHandle>,
}

impl Screens {
    /// The control page, walls of two shapes, and a member's phone. Who is signed in is known by the name that the server is asked for under, so the phone asks
    /// for it by another.
    ///
    /// # Errors
    /// When a page does not come.
    pub async fn open(browser: Browser, address: &str, class: &ClassNow, phones: usize) -> Result<Self> {
        let here = address.replace("127.0.0.1", "localhost");
        browser.open(&format!("{address}/days/{}/floor", class.slot)).await?;
        let mut windows = vec![browser.client.window().await?];
        for (width, height) in [(1920, 1080), (1080, 1920)] {
            windows.push(window(&browser, (width, height), &format!("{address}{}", class.wall)).await?);
        }
        for _ in 0..phones {
            let handle = browser.client.new_window(false).await?.handle;
            browser.client.switch_to_window(handle.clone()).await?;
            browser.sign_in(&here, "alba").await?;
            browser.client.set_window_size(390, 844).await?;
            browser.client.goto(&format!("{here}/me/now")).await?;
            windows.push(handle);
        }
        Ok(Self { browser, windows })
    }

    /// To one of them.
    ///
    /// # Errors
    /// When it has gone.
    pub async fn to(&self, n: usize) -> Result<&Browser> {
        self.browser.client.switch_to_window(self.windows[n].clone()).await?;
        Ok(&self.browser)
    }

    /// What one of them shows.
    ///
    /// # Errors
    /// When it shows no class.
    pub async fn seen(&self, n: usize) -> Result<Seen> {
        let script = "const r = document.querySelector('[data-floor]'); return [r.dataset.phase, document.getElementById('clock').textContent, r.dataset.offset];";
        let told = self.to(n).await?.client.execute(script, Vec::new()).await?;
        let word =
            |n: usize| told[n].as_str().map(str::to_owned).with_context(|| format!("no class: {told}"));
        Ok(Seen { phase: word(0)?, clock: word(1)?, offset_ms: word(2)?.parse()? })
    }

    /// Whether all of them come to show the same phase within a while; which phase it is.
    ///
    /// # Errors
    /// When they do not.
    pub async fn agree(&self, within: Duration) -> Result<String> {
        let deadline = Instant::now() + within;
        loop {
            let mut seen = Vec::new();
            for n in 0..self.windows.len() {
                seen.push(self.seen(n).await?.phase);
            }
            if seen.windows(2).all(|pair| pair[0] == pair[1]) {
                return Ok(seen.remove(0));
            }
            ensure!(Instant::now() < deadline, "the screens show {seen:?}");
        }
    }
}

async fn window(browser: &Browser, (width, height): (u32, u32), address: &str) -> Result<WindowHandle> {
    let handle = browser.client.new_window(false).await?.handle;
    browser.client.switch_to_window(handle.clone()).await?;
    browser.client.set_window_size(width, height).await?;
    browser.client.goto(address).await?;
    Ok(handle)
}

/// What came of a whole class.
#[derive(Debug, Default)]
pub struct Whole {
    /// Phases that all screens were seen in together, in order.
    pub phases: Vec<String>,
    /// Names that were tapped.
    pub tapped: usize,
    /// Results in the book afterwards, and how many people they are of.
    pub results: (usize, usize),
    /// Real seconds that it took.
    pub seconds: u64,
}

/// Runs a whole class so many times as quick as the world: the coach starts it, starts what waits, taps everybody's finish and closes it, and all
/// screens show the same phase throughout.
///
/// # Errors
/// When they do not, or a page does not come.
pub fn whole(speed: f64, phones: usize, within: Duration) -> Result<Whole> {
    let mut speed = speed;
    loop {
        if let Some(whole) = whole_at(speed, phones, within)? {
            return Ok(whole);
        }
        // On a busy machine a class that runs so quickly cannot be followed.
        speed /= 2.0;
        ensure!(speed > 2.0, "nobody can follow a class here");
    }
}

/// Most names that are tapped in one look at the control.
const TAPS_A_LOOK: usize = 3;
/// Fewer looks at a piece than so many show nothing: fourteen are booked.
const LEAST_LOOKS: usize = 8;

/// A whole class at a speed; nothing where the machine is too slow to look at its piece often enough.
fn whole_at(speed: f64, phones: usize, within: Duration) -> Result<Option<Whole>> {
    let database = TestDatabase::demo();
    let server = TestServer::start_quick(&database, speed);
    let class = ClassNow::new(&database, &server);
    let address = server.address.clone();
    let (send, receive) = std::sync::mpsc::channel();
    with_browser(move |browser| async move {
        let begun = Instant::now();
        let screens = Screens::open(browser, &address, &class, phones).await?;
        let (mut whole, mut looks) = (Whole::default(), 0);
        screens.to(0).await?.click("#run").await?;
        loop {
            let phase = screens.agree(within).await?;
            if whole.phases.last() != Some(&phase) {
                whole.phases.push(phase.clone());
            }
            let control = screens.to(0).await?;
            let does = "const waits = document.getElementById('clockis').textContent.includes('waits');
                const now = document.getElementById('piece-now'), works = document.querySelector('[data-floor]').dataset.kind;
                if (waits && !now.hidden) { now.click(); return 'started'; }
                // Some come in together.
                let tapped = 0;
                while (arguments[0] && tapped < arguments[1] && ['work', 'last_minute'].includes(works)) {
                    const next = document.querySelector('.tile:not(.done)[data-done=\"\"]');
                    if (!next) break;
                    next.click();
                    // A quick clock may have ended the piece meanwhile: then a name opens.
                    const opened = document.querySelector('dialog[open]');
                    opened?.close();
                    if (opened) break;
                    tapped++;
                }
                if (tapped) return String(tapped);
                return document.getElementById('left').textContent.startsWith('0:00') ? 'over' : '';";
            let tap = phase.starts_with("conditioning");
            looks += usize::from(tap);
            let did = control.client.execute(does, vec![tap.into(), TAPS_A_LOOK.into()]).await?;
            match did.as_str().unwrap_or_default() {
                "over" => break,
                did => whole.tapped += did.parse().unwrap_or(0),
            }
            ensure!(begun.elapsed() < Duration::from_secs(900), "the class does not end: {whole:?}");
        }
        screens.to(0).await?.click("#close").await?;
        // Whoever was not tapped in time is named first.
        let closes = "document.querySelector('#closing[open] [data-act=closed]')?.click()";
        screens.to(0).await?.client.execute(closes, Vec::new()).await?;
        screens.to(0).await?.wait_text("#title", |title| title == "The class is over").await?;
        whole.seconds = begun.elapsed().as_secs();
        send.send((looks >= LEAST_LOOKS).then_some(whole))?;
        Ok(())
    })?;
    let whole: Option<Whole> = receive.recv()?;
    Ok(whole.map(|whole| Whole { results: results(&database), ..whole }))
}

/// What came of a class whose server went away.
#[derive(Debug, Default)]
pub struct Outage {
    /// The most by which two screens differed in what time it is, in milliseconds, while all of them were looked at.
    pub apart_ms: i64,
    /// Names that were tapped: before, and without a server.
    pub tapped: usize,
    /// Results in the book afterwards, and how many people they are of.
    pub results: (usize, usize),
}

/// A class on all of its screens for a while, then without a server for another: clocks go on, names are tapped, pages are loaded again, and a second coach has
/// taken over before.
///
/// # Errors
/// When a screen shows something else than the others, or stops.
pub fn outage(away: Duration, together: Duration, within: Duration) -> Result<Outage> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let class = ClassNow::new(&database, &server);
    let (address, url) = (server.address.clone(), database.url.clone());
    let (send, receive) = std::sync::mpsc::channel();
    with_browser(move |browser| async move {
        let mut outage = Outage::default();
        let screens = Screens::open(browser, &address, &class, 1).await?;
        let control = screens.to(0).await?;
        control.click("#run").await?;
        control.click("#piece-now").await?;
        control.wait_text("#block", |block| block.contains("squat")).await?;
        control.click("#piece-now").await?;
        control.wait_text("#title", |title| title.starts_with("Cap")).await?;
        let until = Instant::now() + together;
        loop {
            let mut seen = Vec::new();
            for n in 0..screens.windows.len() {
                seen.push(screens.seen(n).await?);
            }
            let offsets = || seen.iter().map(|seen| seen.offset_ms);
            let apart = offsets().max().unwrap_or(0) - offsets().min().unwrap_or(0);
            outage.apart_ms = outage.apart_ms.max(apart);
            if Instant::now() > until {
                break;
            }
        }
        ensure!(screens.agree(within).await?.starts_with("conditioning"), "the piece runs");

        // A second control takes over: what the first does not know of is seen there all the same.
        let second = screens.to(0).await?;
        let other = second.client.new_window(false).await?.handle;
        second.client.switch_to_window(other.clone()).await?;
        second.client.goto(&format!("{address}/days/{}/floor", class.slot)).await?;
        second.click(".tile").await?;
        second.wait_text(".tile.done", |tile| tile.contains("0:")).await?;
        outage.tapped += 1;
        kept(&database, 1).await?;
        // Screens have had the time to keep what they need.
        for n in [0, 1] {
            let keeps = "return Boolean(navigator.serviceWorker.controller)";
            let screen = screens.to(n).await?;
            screen.until(keeps).await?;
            screen.client.refresh().await?;
            screen.wait_text("#clock", |clock| !clock.is_empty()).await?;
        }
        drop(server);
        let before = screens.seen(0).await?;
        tokio::time::sleep(away).await;
        let alone = screens.to(0).await?;
        alone.click(".tile:not(.done)").await?;
        alone
            .wait_text("#status", |words| words.contains("does not answer") && words.contains("waiting"))
            .await?;
        outage.tapped += 1;
        let after = screens.seen(0).await?;
        ensure!(after.phase == before.phase && after.clock > before.clock, "{before:?} {after:?}");
        let wall = screens.seen(1).await?;
        ensure!(wall.clock > before.clock, "the wall goes on too: {wall:?}");
        // Loaded again without a server: control and wall are where they were, and go on.
        for n in [0, 1] {
            screens.to(n).await?.client.refresh().await?;
            screens.to(n).await?.wait_text("#clock", |clock| !clock.is_empty()).await?;
            let again = screens.seen(n).await?;
            ensure!(again.phase == before.phase && again.clock > before.clock, "{before:?} {again:?}");
        }
        let words = "return (document.querySelector('script#class').textContent + Object.values(localStorage).join()).includes('\"limit')";
        ensure!(screens.to(0).await?.client.execute(words, Vec::new()).await? == false, "a limit is kept");
        let control = screens.to(0).await?;
        control.wait_text(".tile.done", |tile| tile.contains("0:")).await?;
        control.click(".tile:not(.done)").await?;
        control.wait_text("#status", |words| words.contains("2 waiting")).await?;
        outage.tapped += 1;

        let _again = TestServer::start_again(&address, &url);
        kept(&database, 3).await?;
        let quiet = "return document.getElementById('status').hidden";
        control.until(quiet).await?;
        // Somebody who loads the page again is right at once, and whoever was tapped is done there too.
        control.client.refresh().await?;
        control.wait_text(".tile.done", |tile| tile.contains("0:")).await?;
        ensure!(screens.agree(within).await?.starts_with("conditioning"), "the piece runs");
        outage.results = results(&database);
        send.send(outage)?;
        Ok(())
    })?;
    Ok(receive.recv()?)
}

/// Waits until so many results are in the book.
async fn kept(database: &TestDatabase, count: usize) -> Result<()> {
    soon(&format!("{count} results came"), || results(database).0 >= count).await
}

/// Results of today that stand, and how many people they are of.
fn results(database: &TestDatabase) -> (usize, usize) {
    let count = |what: &str| {
        let rows = format!(
            "select {what}::text as name from results where day = current_date and undone_at is null"
        );
        database.names(&rows)[0].parse().unwrap_or(0)
    };
    (count("count(*)"), count("count(distinct member_id)"))
}

/// What many screens of one class cost, and whether they heard of everything.
#[derive(Debug)]
pub struct Crowd {
    /// Screens that follow the class.
    pub screens: usize,
    /// Resident megabytes of the server before the first and with all of them.
    pub mb: (u64, u64),
    /// Share of a core that the server took while they followed, with something happening every two seconds.
    pub core: f64,
    /// The longest time, in milliseconds, until the last of them had heard of something.
    pub slowest_ms: u128,
}

/// Seconds in which something happens now and then.
const FOLLOWED_S: u64 = 20;

/// So many screens follow a class on a server that runs as a process.
///
/// # Errors
/// When one of them cannot connect, or does not hear of something within ten seconds.
pub fn crowd(
    database: &TestDatabase,
    (server, process): (&TestServer, u32),
    screens: usize,
) -> Result<Crowd> {
    let class = ClassNow::new(database, server);
    let floor = format!("/days/{}/floor", class.slot);
    // A plan is worked out and kept before anything is weighed.
    server.get(&floor);
    let before = resident_mb(process);
    let heard = Arc::new(AtomicUsize::new(0));
    for _ in 0..screens {
        let mut line = TcpStream::connect(server.address.trim_start_matches("http://"))?;
        write!(line, "GET {}/live HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n", class.wall)?;
        let heard = heard.clone();
        std::thread::spawn(move || {
            let lines = BufReader::new(line).lines().map_while(Result::ok);
            for _ in lines.filter(|line| line.contains("event: class")) {
                heard.fetch_add(1, Ordering::SeqCst);
            }
        });
    }
    let all_heard = |times: usize| {
        let asked = Instant::now();
        while heard.load(Ordering::SeqCst) < times * screens {
            let so_far = heard.load(Ordering::SeqCst);
            ensure!(asked.elapsed() < Duration::from_secs(60), "{so_far} of {} were heard", times * screens);
            std::thread::sleep(Duration::from_millis(2));
        }
        Ok(asked.elapsed().as_millis())
    };
    all_heard(1)?;
    let (begun, spent, mut slowest_ms) = (Instant::now(), cpu_s(process), 0);
    for n in 0..FOLLOWED_S / 2 {
        let what = if n % 2 == 0 { "pause" } else { "resume" };
        server.post(&floor, &[("what", if n == 0 { "start" } else { what })]);
        slowest_ms = slowest_ms.max(all_heard(n as usize + 2)?);
        std::thread::sleep(Duration::from_secs(2));
    }
    let core = (cpu_s(process) - spent) / begun.elapsed().as_secs_f64();
    Ok(Crowd { screens, mb: (before, resident_mb(process)), core, slowest_ms })
}

/// Seconds of a core that a process has taken. The kernel counts them in hundredths.
fn cpu_s(process: u32) -> f64 {
    let told = std::fs::read_to_string(format!("/proc/{process}/stat")).unwrap_or_default();
    let fields: Vec<&str> = told.rsplit(')').next().unwrap_or_default().split_whitespace().collect();
    let ticks = |n: usize| fields.get(n).and_then(|field| field.parse::<f64>().ok()).unwrap_or(0.0);
    (ticks(11) + ticks(12)) / 100.0
}
