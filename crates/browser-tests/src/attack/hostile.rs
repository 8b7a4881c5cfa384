//! Texts that ask for too much work, and what every page of their day then takes, cold, with 28 booked.

use std::time::{Duration, Instant};

use chrono::{Days, NaiveDate, NaiveTime};
use lantern_core::member::Member;
use lantern_core::strength::Source;
use lantern_store::classes::{self, NewClass};
use lantern_store::{clock, gyms, members};

use crate::{TestDatabase, TestServer, in_gym};

/// What the slowest page of a day took.
#[derive(Clone, Debug)]
pub struct Page {
    /// The text's name.
    pub text: &'static str,
    /// Its length, in bytes.
    pub bytes: usize,
    /// Reading it while typing.
    pub reading: Duration,
    /// The slowest page of the day.
    pub slowest: Duration,
    /// Which that was.
    pub page: &'static str,
    /// Statuses other than 200, by page.
    pub bad: Vec<(String, u16)>,
    /// Memory of the process afterwards, in MB; nothing where the system does not say.
    pub resident_mb: u64,
}

/// Most bytes that a form takes; a text is cut so that it fits when encoded.
const MOST: usize = 256 * 1024 - 200;

/// Texts by name.
pub fn texts() -> Vec<(&'static str, String)> {
    let many = |piece: &str, times: usize| piece.repeat(times);
    vec![
        ("100 short blocks", many("Tabata\nburpees\n\n", 100)),
        ("5000 short blocks", many("Tabata\nburpees\n\n", 5_000)),
        ("100000 rounds", "100000 rounds for time\n10 burpees".to_owned()),
        ("rounds of rounds", many("100 rounds of\n", 50) + "10 burpees"),
        ("every second for hours", "every 1s for 99999 min: 1 burpee".to_owned()),
        ("a million burpees", "For time\n1000000 burpees".to_owned()),
        ("a ladder to 100000", "1-2-3-4-5-6-7-8-9-10... to 100000 for time\nburpees\npull-ups".to_owned()),
        ("500 lifts", many("Back squat 5x5 @ 75%\n\n", 500)),
        ("60 sets, 30 lifts", many("Back squat 60x3 @ 80%\n\n", 30)),
        ("sets without end", "Back squat 99999x99999".to_owned()),
        ("20000 lines", many("10 burpees\n", 20_000)),
        ("20000 lines of three", many("10 burpees\n10 pull-ups\n10 thrusters 40 kg\n", 7_000)),
        (
            "long pieces",
            many("10 rounds for time\n20 burpees\n20 pull-ups\n20 thrusters 40 kg\n400 m run\n\n", 40),
        ),
        ("one long line", many("10 burpees ", 20_000)),
        ("unknown words", many("10 zorbles qwertz\n", 10_000)),
        ("headings", many("Conditioning\n", 15_000)),
        ("a list of schemes", many("1-1-1-", 40_000)),
        ("brackets", many("(", 200_000)),
        ("blank lines", many("\n", 100_000)),
        ("right to left", many("\u{202e}10 burpees\n", 8_000)),
        ("teams", many("In pairs, for time\n100 burpees\n100 cal row\n\n", 60)),
        ("intervals", many("60 x 1:00 on, 0:30 off\nmax cal row\n\n", 60)),
    ]
}

/// An application on a database, and the process that it runs in.
pub type Launch<'a> = &'a dyn Fn(&TestDatabase) -> (TestServer, u32, Box<dyn std::any::Any>);

/// Opens every page of the day of each text in a class of 28; a fresh application for each, so that nothing is warm.
pub fn hostile(only: Option<usize>, launch: Launch<'_>) -> Vec<Page> {
    let database = TestDatabase::demo();
    let id = database.demo_gym();
    let (today, starts) = database.with_store(move |store| async move {
        let gym = in_gym!(store, id, gyms::settings).expect("the demo");
        let today = clock::today(&gym);
        for n in 0..14 {
            let member = Member { name: format!("Extra {n}"), ..Member::default() };
            in_gym!(store, id, members::add, &member, today, Source::Stated).expect("a member");
        }
        let all = in_gym!(store, id, members::of_gym, &gym, today).expect("the members");
        let ids: Vec<_> = all.iter().map(|stored| stored.id).collect();
        let starts = NaiveTime::from_hms_opt(12, 0, 0).expect("noon");
        for n in 0..40 {
            let class =
                NewClass { day: today + Days::new(60 + n), starts, minutes: 60, coach: String::new() };
            let class = in_gym!(store, id, classes::put, &class).expect("a class");
            in_gym!(store, id, classes::book, class, &ids).expect("booked");
        }
        (today, starts)
    });
    let wanted = texts().into_iter().take(only.unwrap_or(usize::MAX)).enumerate();
    wanted
        .map(|(n, (name, text))| {
            one(&database, launch, today + Days::new(60 + n as u64), starts, name, &text)
        })
        .collect()
}

fn one(
    database: &TestDatabase,
    launch: Launch<'_>,
    day: NaiveDate,
    starts: NaiveTime,
    name: &'static str,
    text: &str,
) -> Page {
    let (server, process, _runs) = launch(database);
    let mut text = text;
    // A line break takes three bytes of a form.
    while text.len() + 2 * text.bytes().filter(|byte| !byte.is_ascii_alphanumeric()).count() > MOST {
        let mut half = text.len() * 9 / 10;
        while !text.is_char_boundary(half) {
            half -= 1;
        }
        text = &text[..half];
    }
    let mut bad = Vec::new();
    let begin = Instant::now();
    let answer = server.post(&format!("/days/{day}/reading"), &[("text", text)]);
    let reading = begin.elapsed();
    if answer.status != 200 {
        bad.push(("reading".to_owned(), answer.status));
    }
    let saved =
        server.post(&format!("/days/{day}/read"), &[("text", text), ("revision", "0"), ("writer", "proof")]);
    if saved.status != 303 {
        bad.push(("save".to_owned(), saved.status));
    }
    let (mut slowest, mut page) = (Duration::ZERO, "");
    let slot = format!("{day}T{}", starts.format("%H:%M"));
    for step in ["loads", "warmup", "versions", "pace", "hour", "board", "cards", "sheet", "read"] {
        let begin = Instant::now();
        let answer = server.get(&format!("/days/{slot}/{step}"));
        // A day without a word on it leads back to Read.
        if answer.status != 200 && !(text.trim().is_empty() && answer.status == 303) {
            bad.push((step.to_owned(), answer.status));
        }
        if begin.elapsed() > slowest {
            (slowest, page) = (begin.elapsed(), step);
        }
    }
    std::thread::sleep(Duration::from_millis(500));
    Page { text: name, bytes: text.len(), reading, slowest, page, bad, resident_mb: resident_mb(process) }
}

/// Memory of a process, in MB; 0 where the system does not say.
pub fn resident_mb(process: u32) -> u64 {
    let status = std::fs::read_to_string(format!("/proc/{process}/status")).unwrap_or_default();
    let line = status.lines().find_map(|line| line.strip_prefix("VmRSS:"));
    line.and_then(|line| line.split_whitespace().next()?.parse::<u64>().ok()).unwrap_or(0) / 1024
}
