//! Whatever may come in as text, mangled by chance: nothing of it may stop the program, take long, or come back as something else.

use std::collections::BTreeMap;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::path::PathBuf;
use std::time::{Duration, Instant};

use anyhow::{Context as _, Result, ensure};
use chrono::NaiveTime;
use lantern_core::book::{Heard, Scored};
use lantern_core::bring_in::bring_in;
use lantern_core::gym::Gym;
use lantern_core::import::session_as_text;
use lantern_core::limits::Limit;
use lantern_core::movement::Catalogue;
use lantern_core::read::corrections::Correction;
use lantern_core::read::{read, read_corrected};
use lantern_core::roster::read_roster;
use lantern_core::units::{Kilograms, WeightUnit};
use lantern_store::bookings;
use rand::{RngExt as _, SeedableRng as _};
use rand_pcg::Pcg64Mcg;

/// Longest that one may take. In an unoptimised build as well.
const SLOWEST: Duration = Duration::from_secs(5);
/// Longest that is made, in bytes.
const LONGEST: usize = 6_000;

/// What takes text in. Says what is wrong with what came of it.
pub type Target = fn(&str, &Catalogue) -> Result<(), String>;

/// Every way in, by name; the seeds of each are in a folder of that name.
pub const TARGETS: [(&str, Target); 10] = [
    ("reader", |text, catalogue| {
        let reading = read(text, catalogue);
        same(&reading.session, &read(text, catalogue).session, "read twice, it is two things")
    }),
    ("corrections", |text, catalogue| {
        let (first, rest) = text.split_once('\n').unwrap_or((text, ""));
        let list: Vec<Correction> = serde_json::from_str(first).unwrap_or_default();
        let reading = read_corrected(rest, catalogue, &list);
        let again = read_corrected(rest, catalogue, &reading.corrections);
        same(&reading.session, &again.session, "what stands of its corrections makes something else of it")
    }),
    ("json", |text, catalogue| {
        let Ok(Some(as_text)) = session_as_text(text, catalogue) else { return Ok(()) };
        drop(read(&as_text, catalogue));
        Ok(())
    }),
    ("roster", |text, _| {
        let roster = read_roster(text, &BTreeMap::new());
        let named = roster.members.iter().all(|member| !member.name.trim().is_empty());
        if named { Ok(()) } else { Err("somebody has no name".to_owned()) }
    }),
    ("past", |text, catalogue| {
        let brought = bring_in(text, &[], (None, WeightUnit::Kg), catalogue);
        let bad = brought.lifts.iter().any(|lift| lift.load == Kilograms::ZERO);
        if bad { Err("a lift has no load".to_owned()) } else { Ok(()) }
    }),
    ("scores", |text, _| {
        let kinds = [
            Scored::Time { cap_s: Some(720), reps: Some(90) },
            Scored::Rounds { a_round: Some(30), clock_s: Some(720) },
            Scored::Reps,
            Scored::Intervals { count: 5, every_s: Some(120) },
            Scored::Load,
        ];
        for (line, kind) in text.lines().take(40).flat_map(|line| kinds.iter().map(move |kind| (line, kind)))
        {
            // What is kept is written so that it is heard as the same again.
            if let Heard::Kept(done) = kind.hear(line)
                && !matches!(kind.hear(&done.to_string()), Heard::Kept(again) | Heard::Asked { done: again, .. } if again == done)
            {
                return Err(format!(
                    "`{line}` is kept as `{done}`, which is heard as {:?}",
                    kind.hear(&done.to_string())
                ));
            }
        }
        Ok(())
    }),
    ("bookings", |text, _| {
        let starts = NaiveTime::from_hms_opt(18, 0, 0).expect("a time");
        let (booked, _) = bookings::from_csv(text, starts, &[]);
        if booked.is_empty() { Ok(()) } else { Err("somebody is booked whom nobody knows".to_owned()) }
    }),
    ("gym", |text, _| {
        let Ok(gym) = Gym::from_toml(text) else { return Ok(()) };
        let again = gym.to_toml().map_err(|error| error.to_string())?;
        let back = Gym::from_toml(&again).map_err(|error| format!("its own file is refused: {error}"))?;
        same(&gym, &back, "its own file is another gym")
    }),
    ("limits", |text, _| {
        // Whatever was said is either read or marked as unread: the words themselves are kept.
        let lost = Limit::several(text).find(|limit| limit.text.trim().is_empty() && !limit.is_nothing());
        lost.map_or(Ok(()), |limit| Err(format!("a limit without words: {limit:?}")))
    }),
    ("documents", |text, _| {
        let bytes = text.as_bytes();
        let _ = (lantern_documents::text_of(bytes), lantern_documents::table_of(bytes));
        Ok(())
    }),
];

fn same<T: PartialEq>(one: &T, other: &T, otherwise: &str) -> Result<(), String> {
    if one == other { Ok(()) } else { Err(otherwise.to_owned()) }
}

/// What came of a target.
#[derive(Debug, Default)]
pub struct Mangled {
    /// Texts that were tried.
    pub tried: usize,
    /// The longest that one took.
    pub slowest: Duration,
    /// What went wrong, with the text.
    pub wrong: Vec<(String, String)>,
}

/// The seeds of a target, each tried as it is and then mangled for a while, always the same way from the same number.
///
/// # Errors
/// When there is no such target, or it has no seeds.
pub fn mangled(name: &str, lasts: Duration, number: u64) -> Result<Mangled> {
    let (_, target) = TARGETS.iter().find(|(known, _)| *known == name).context("no such target")?;
    let seeds = seeds(name)?;
    let catalogue = Catalogue::standard();
    let (mut chance, mut seen) = (Pcg64Mcg::seed_from_u64(number), Mangled::default());
    let began = Instant::now();
    for seed in &seeds {
        seen.tries(*target, seed, catalogue);
    }
    while began.elapsed() < lasts {
        let text = mangle(&seeds, &mut chance);
        seen.tries(*target, &text, catalogue);
    }
    Ok(seen)
}

impl Mangled {
    fn tries(&mut self, target: Target, text: &str, catalogue: &Catalogue) {
        let began = Instant::now();
        let done = catch_unwind(AssertUnwindSafe(|| target(text, catalogue)));
        let took = began.elapsed();
        self.tried += 1;
        self.slowest = self.slowest.max(took);
        let wrong = match done {
            Err(panic) => {
                let words = panic.downcast_ref::<String>().cloned();
                Some(words.unwrap_or_else(|| "it panics".to_owned()))
            }
            Ok(Err(wrong)) => Some(wrong),
            Ok(Ok(())) if took > SLOWEST => Some(format!("it takes {:.1} s", took.as_secs_f64())),
            Ok(Ok(())) => None,
        };
        self.wrong.extend(wrong.map(|wrong| (wrong, text.to_owned())));
    }
}

/// The seeds of a target: files that are kept because each was wrong once or shows a kind, and what the demo and the practice texts have.
fn seeds(name: &str) -> Result<Vec<String>> {
    let here = PathBuf::from(env!("CARGO_MANIFEST_DIR"));
    let demo = here.join("../../data/demo");
    let of_others = match name {
        "reader" => vec![here.join("../reader/corpus/practice"), demo.join("sessions")],
        "roster" => vec![demo.join("members.csv")],
        "gym" => vec![demo.join("gym.toml")],
        _ => Vec::new(),
    };
    let mut files = Vec::new();
    for place in of_others.into_iter().chain([here.join("seeds").join(name)]) {
        if place.is_file() {
            files.push(place);
        } else if let Ok(folder) = std::fs::read_dir(&place) {
            files.extend(folder.flatten().map(|entry| entry.path()).filter(|path| path.is_file()));
        }
    }
    files.sort();
    ensure!(!files.is_empty(), "{name} has no seeds");
    files.iter().map(|file| Ok(String::from_utf8_lossy(&std::fs::read(file)?).into_owned())).collect()
}

/// Bits that mean something somewhere.
const BITS: [&str; 40] = [
    "21-15-9",
    "EMOM 10",
    "AMRAP",
    "for time",
    "3x5 @ 75%",
    "100%",
    "RPE 8",
    "60/40 kg",
    "24\"",
    ":30",
    "1:00",
    "rest",
    "x",
    "-",
    "+",
    "/",
    "(",
    ")",
    "[",
    "{",
    "\"",
    "\n\n",
    "\t",
    ",",
    ";",
    "\u{0}",
    "\u{202e}",
    "é",
    "🏋",
    "ﬁ",
    "½",
    "0",
    "-1",
    "1e309",
    "9999999999999999999",
    "NaN",
    "null",
    "true",
    "=1+1",
    "\u{feff}",
];

/// One of the seeds, changed a few times.
fn mangle(seeds: &[String], chance: &mut Pcg64Mcg) -> String {
    let one = |chance: &mut Pcg64Mcg| &seeds[chance.random_range(0..seeds.len())];
    let mut text: Vec<char> = one(chance).chars().collect();
    for _ in 0..chance.random_range(1..12) {
        let at = chance.random_range(0..=text.len());
        let end = (at + chance.random_range(0..40)).min(text.len());
        match chance.random_range(0..7) {
            0 => drop(text.drain(at..end)),
            1 => {
                let bit = BITS[chance.random_range(0..BITS.len())];
                text.splice(at..at, bit.chars());
            }
            2 => {
                let bit = BITS[chance.random_range(0..BITS.len())];
                text.splice(at..end, bit.chars());
            }
            3 => {
                let again: Vec<char> = text[at..end].to_vec();
                let times = chance.random_range(1..20);
                for _ in 0..times {
                    text.splice(at..at, again.iter().copied());
                }
            }
            4 => {
                let other: Vec<char> = one(chance).chars().collect();
                let from = chance.random_range(0..=other.len());
                let to = (from + chance.random_range(0..200)).min(other.len());
                text.splice(at..at, other[from..to].iter().copied());
            }
            5 if at < text.len() => {
                let swapped = chance.random_range(0..text.len());
                text.swap(at, swapped);
            }
            _ if at < text.len() => {
                text[at] = char::from_u32(chance.random_range(1..0x2fff)).unwrap_or('?');
            }
            _ => {}
        }
        text.truncate(LONGEST);
    }
    text.into_iter().collect()
}
