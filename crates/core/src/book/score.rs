//! Scores as they are called out across a room: "12:41", "cap+8", "5+13", "3x5 82.5", "1:52 1:55 1:58 2:04".

use std::fmt;

use serde::{Deserialize, Serialize};

use crate::units::{clock_s, plain};

/// What counts as the result of a piece, with what a score is checked against.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Scored {
    /// Seconds on the clock.
    Time {
        /// When it stops whoever is still at it.
        cap_s: Option<u32>,
        /// All repetitions of the piece as written, where they are known.
        reps: Option<u32>,
    },
    /// Full rounds and repetitions of the next.
    Rounds {
        /// Repetitions of a round as written, where they are known.
        a_round: Option<u32>,
        /// How long it goes.
        clock_s: Option<u32>,
    },
    /// Repetitions, calories or metres.
    Reps,
    /// A time for each of several intervals, or for the slowest.
    Intervals {
        /// How many there are.
        count: u32,
        /// How long one may take, rest included.
        every_s: Option<u32>,
    },
    /// What was on the bar.
    Load,
}

/// What somebody has done.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(tag = "done", rename_all = "snake_case")]
pub enum Done {
    /// All of it.
    Finished {
        /// Seconds on the clock.
        seconds: u32,
    },
    /// The cap came first.
    Capped {
        /// Repetitions that were left, where that was called.
        left: Option<u32>,
    },
    /// Full rounds and repetitions of the next.
    Rounds {
        /// Full ones.
        rounds: u32,
        /// Of the next.
        reps: u32,
    },
    /// Repetitions, calories or metres in all.
    Reps {
        /// How many.
        reps: u32,
    },
    /// Each interval, in order; one alone is the slowest.
    Intervals {
        /// Working seconds.
        seconds: Vec<u32>,
    },
    /// Sets with a load.
    Load {
        /// How many, where that was called.
        sets: Option<u32>,
        /// Repetitions of each.
        reps: u32,
        /// In the gym's unit.
        load: f64,
        /// Effort, 5 to 10, where it was called.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        rpe: Option<f64>,
        /// Whether the last repetition was missed.
        #[serde(default)]
        missed: bool,
    },
    /// Begun and not ended, for whatever reason.
    Stopped,
}

impl fmt::Display for Done {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Finished { seconds } => f.write_str(&clock_s(*seconds)),
            Self::Capped { left: Some(left) } => write!(f, "cap+{left}"),
            Self::Capped { left: None } => f.write_str("cap"),
            Self::Rounds { rounds, reps } => write!(f, "{rounds}+{reps}"),
            Self::Reps { reps } => write!(f, "{reps}"),
            Self::Intervals { seconds } => {
                let all: Vec<String> = seconds.iter().map(|seconds| clock_s(*seconds)).collect();
                f.write_str(&all.join(" "))
            }
            Self::Load { sets, reps, load, rpe, missed } => {
                if let Some(sets) = sets {
                    write!(f, "{sets}x")?;
                }
                write!(f, "{reps} @ {}", plain(*load))?;
                if let Some(rpe) = rpe {
                    write!(f, " rpe {}", plain(*rpe))?;
                }
                f.write_str(if *missed { " missed" } else { "" })
            }
            Self::Stopped => f.write_str("stopped"),
        }
    }
}

/// What came of a score that was called.
#[derive(Clone, Debug, PartialEq)]
pub enum Heard {
    /// It is kept.
    Kept(Done),
    /// It is asked about: it could be so, or it was heard wrong.
    Asked {
        /// What is odd about it.
        why: String,
        /// As it was heard, kept on a word.
        done: Done,
    },
    /// It is no score of this kind: what one looks like.
    Refused(String),
}

/// Longest time that anybody calls out, in seconds.
const LONGEST_S: u32 = 4 * 3600;
/// Most repetitions, calories or metres.
const MOST_REPS: u32 = 100_000;
/// Most rounds.
const MOST_ROUNDS: u32 = 500;
/// Heaviest load that is taken, in either unit, and from where on it is asked about.
const HEAVIEST: f64 = 1_500.0;
const UNHEARD_OF: f64 = 700.0;

impl Scored {
    /// Reads a score that was called out.
    pub fn hear(&self, called: &str) -> Heard {
        let called = plainly(called);
        if called.is_empty() {
            return Heard::Refused(format!("a score is missing: {}", self.looks_like()));
        }
        if matches!(called.as_str(), "dnf" | "stopped" | "stop" | "did not finish" | "partial") {
            return Heard::Kept(Done::Stopped);
        }
        let heard = match *self {
            Self::Time { cap_s, reps } => time(&called, cap_s, reps),
            Self::Rounds { a_round, clock_s } => rounds(&called, a_round, clock_s),
            Self::Reps => reps(&called),
            Self::Intervals { count, every_s } => intervals(&called, count, every_s),
            Self::Load => load(&called),
        };
        heard.unwrap_or_else(|| Heard::Refused(format!("`{called}` is none: {}", self.looks_like())))
    }

    /// What a score of this kind looks like.
    pub const fn looks_like(&self) -> &'static str {
        match self {
            Self::Time { .. } => "a time such as 12:41, or cap+8 with the repetitions that were left",
            Self::Rounds { .. } => "rounds and repetitions such as 5+13",
            Self::Reps => "a number such as 143",
            Self::Intervals { .. } => "a time for each interval such as 1:52 1:55 1:58, or for the slowest",
            Self::Load => "a load such as 82.5, or with sets and repetitions 3x5 82.5",
        }
    }
}

/// In small letters, without what only separates words.
fn plainly(called: &str) -> String {
    let small = called
        .trim()
        .to_lowercase()
        .replace(['\u{00d7}', '*'], "x")
        .replace(['\u{2019}', '\u{2032}', '\''], ":");
    small.split_whitespace().collect::<Vec<_>>().join(" ")
}

/// A time: `12:41`, `12.41`, `1241`, `12 41`, `12m41s`, `12 min`, `1:02:03`.
fn seconds(text: &str) -> Option<u32> {
    let text = text.trim().trim_end_matches("on the clock").trim();
    let mut units = text.replace("minutes", "m").replace("min", "m").replace("mins", "m");
    units = units.replace("seconds", "s").replace("sec", "s").replace("hours", "h").replace(' ', "");
    if units.chars().any(|c| matches!(c, 'm' | 's' | 'h')) {
        return with_units(&units);
    }
    let fields: Vec<&str> = text.split([':', '.', ',', ' ']).collect();
    if fields.iter().any(|field| field.is_empty() || !field.bytes().all(|b| b.is_ascii_digit())) {
        return None;
    }
    let number = |field: &str| field.parse::<u32>().ok();
    let below_60 = |field: &str| number(field).filter(|n| field.len() == 2 && *n < 60);
    let seconds = match fields.as_slice() {
        // Two digits are left to their kind: minutes or seconds, nobody says.
        [one] if (3..=4).contains(&one.len()) => {
            number(&one[..one.len() - 2])? * 60 + below_60(&one[one.len() - 2..])?
        }
        [minutes, rest] => number(minutes)?.checked_mul(60)?.checked_add(below_60(rest)?)?,
        [hours, minutes, rest] => {
            number(hours)?.checked_mul(3600)?.checked_add(below_60(minutes)? * 60 + below_60(rest)?)?
        }
        _ => return None,
    };
    (1..=LONGEST_S).contains(&seconds).then_some(seconds)
}

/// `12m41s`, `90s`, `1h2m`, `12m41`.
fn with_units(text: &str) -> Option<u32> {
    let (mut total, mut digits, mut least) = (0_u32, String::new(), 4000);
    let mut add = |digits: &mut String, each: u32| -> Option<()> {
        let number: u32 = digits.parse().ok()?;
        digits.clear();
        // Hours before minutes before seconds.
        let fits = each < least;
        least = each;
        total = total.checked_add(number.checked_mul(each)?)?;
        fits.then_some(())
    };
    for c in text.chars() {
        match c {
            '0'..='9' => digits.push(c),
            'h' => add(&mut digits, 3600)?,
            'm' => add(&mut digits, 60)?,
            's' => add(&mut digits, 1)?,
            _ => return None,
        }
    }
    if !digits.is_empty() {
        add(&mut digits, 1)?;
    }
    (1..=LONGEST_S).contains(&total).then_some(total)
}

fn whole(text: &str, most: u32) -> Option<u32> {
    let text = text.trim();
    let digits = !text.is_empty() && text.bytes().all(|b| b.is_ascii_digit());
    digits.then(|| text.parse().ok()).flatten().filter(|n| *n <= most)
}

fn time(called: &str, cap_s: Option<u32>, all: Option<u32>) -> Option<Heard> {
    let capped = ["time cap", "capped", "cap", "c"].iter().find_map(|word| {
        called.strip_prefix(word).filter(|rest| rest.is_empty() || rest.starts_with([' ', '+']))
    });
    if let Some(rest) = capped {
        let rest =
            rest.trim_start_matches([' ', '+']).trim_end_matches("left").trim_end_matches("reps").trim();
        let left = if rest.is_empty() { None } else { Some(whole(rest, MOST_REPS)?) };
        let done = Done::Capped { left };
        return Some(match (cap_s, all, left) {
            (None, ..) => Heard::Asked { why: "the piece has no cap".to_owned(), done },
            (_, Some(all), Some(left)) if left >= all => {
                Heard::Asked { why: format!("all of it is {all} repetitions"), done }
            }
            (_, _, Some(0)) => Heard::Asked { why: "with nothing left it is a time".to_owned(), done },
            _ => Heard::Kept(done),
        });
    }
    let seconds = seconds(called)?;
    let done = Done::Finished { seconds };
    match cap_s {
        Some(cap) if seconds > cap => {
            let why = format!("{} is past the cap of {}", clock_s(seconds), clock_s(cap));
            Some(Heard::Asked { why, done })
        }
        _ => Some(Heard::Kept(done)),
    }
}

fn rounds(called: &str, a_round: Option<u32>, clock: Option<u32>) -> Option<Heard> {
    let words = called.replace("rounds", "+").replace("round", "+").replace("rds", "+").replace("reps", "");
    let words = words.replace("and", "+").replace("plus", "+").replace(['r', ' '], "+");
    let fields: Vec<&str> = words.split('+').filter(|field| !field.is_empty()).collect();
    let (rounds, reps) = match fields.as_slice() {
        [rounds] => (whole(rounds, MOST_ROUNDS)?, 0),
        [rounds, reps] => (whole(rounds, MOST_ROUNDS)?, whole(reps, MOST_REPS)?),
        _ => return None,
    };
    let done = Done::Rounds { rounds, reps };
    // Nobody does a repetition of anything in less than half a second, nor a round in less than ten.
    let quickest_s = a_round.map_or(10.0, |reps| (f64::from(reps) * 0.5).max(5.0));
    Some(match (a_round, clock) {
        (Some(a_round), _) if a_round > 0 && reps >= a_round => {
            Heard::Asked { why: format!("{reps} repetitions are a round: one has {a_round}"), done }
        }
        (_, Some(clock)) if f64::from(rounds) * quickest_s > f64::from(clock) => {
            Heard::Asked { why: format!("{rounds} rounds do not go into {}", clock_s(clock)), done }
        }
        _ => Heard::Kept(done),
    })
}

fn reps(called: &str) -> Option<Heard> {
    let number = ["reps", "repetitions", "rep", "calories", "cals", "cal", "metres", "meters", "m"]
        .iter()
        .find_map(|unit| called.strip_suffix(unit))
        .unwrap_or(called);
    Some(Heard::Kept(Done::Reps { reps: whole(number, MOST_REPS)? }))
}

fn intervals(called: &str, count: u32, every_s: Option<u32>) -> Option<Heard> {
    let times: Option<Vec<u32>> =
        called.split([' ', ',', '/', ';']).filter(|word| !word.is_empty()).map(bout).collect();
    let times = times.filter(|times| !times.is_empty())?;
    let (heard, slowest) = (times.len() as u32, times.iter().copied().max()?);
    let done = Done::Intervals { seconds: times };
    Some(match every_s {
        _ if heard != 1 && heard != count => {
            Heard::Asked { why: format!("{heard} times for {count} intervals"), done }
        }
        Some(every) if slowest > every => Heard::Asked {
            why: format!("{} is longer than the {} that there are", clock_s(slowest), clock_s(every)),
            done,
        },
        _ => Heard::Kept(done),
    })
}

/// The time of a bout: seconds alone below two minutes are said without a colon.
fn bout(text: &str) -> Option<u32> {
    match whole(text, 119) {
        Some(seconds) if text.len() <= 2 => (seconds > 0).then_some(seconds),
        _ => seconds(text),
    }
}

/// As it is written: what is kept is what is shown.
fn to_hundredths(number: f64) -> f64 {
    (number * 100.0).round() / 100.0
}

fn load(called: &str) -> Option<Heard> {
    let ends = |word: &str| called.strip_suffix(word).map(str::trim_end);
    let (called, missed) = match ["missed", "miss", "failed"].into_iter().find_map(ends) {
        Some(rest) => (rest, true),
        None => (called, false),
    };
    let (called, rpe) = match called.split_once("rpe") {
        Some((rest, rpe)) => {
            let rpe = rpe.trim().replace(',', ".").parse::<f64>().ok();
            (rest.trim_end(), Some(rpe.filter(|rpe| (5.0..=10.0).contains(rpe)).map(to_hundredths)?))
        }
        None => (called, None),
    };
    // A comma within a number is a decimal one.
    let text =
        called.replace(',', ".").replace('@', " ").replace("kg", " ").replace("lbs", " ").replace("lb", " ");
    let words: Vec<&str> = text.split_whitespace().collect();
    let number = |word: &str| {
        let number = word.parse::<f64>().ok().filter(|n| (0.5..=HEAVIEST).contains(n));
        number.map(to_hundredths)
    };
    let dose: Vec<&str> = words.first()?.split('x').collect();
    let (sets, reps, load) = match (dose.as_slice(), words.get(1..)?) {
        ([load], []) => (None, 1, number(load)?),
        // `1x140` is one of 140, `82.5x5` five of 82.5: the load is the greater.
        ([a, b], []) => {
            let (a, b) = (number(a)?, number(b)?);
            (None, whole_of(a.min(b))?, a.max(b))
        }
        ([sets, reps, load], []) => (Some(whole(sets, 50)?), whole(reps, 100)?, number(load)?),
        ([reps], [load]) => (None, whole(reps, 100)?, number(load)?),
        ([sets, reps], [load]) => (Some(whole(sets, 50)?), whole(reps, 100)?, number(load)?),
        _ => return None,
    };
    if reps == 0 || sets == Some(0) {
        return None;
    }
    let done = Done::Load { sets, reps, load, rpe, missed };
    // Two small numbers are sets and repetitions as well, and then the load was not called.
    let bare = words.len() == 1 && dose.len() == 2 && load <= 20.0;
    Some(if bare {
        let why = format!("is {} what was on it? With sets it is 3x5 82.5", plain(load));
        Heard::Asked { why, done }
    } else if load > UNHEARD_OF {
        Heard::Asked { why: format!("{} is a lot for a bar", plain(load)), done }
    } else {
        Heard::Kept(done)
    })
}

fn whole_of(number: f64) -> Option<u32> {
    (number.fract() == 0.0 && (1.0..=100.0).contains(&number)).then_some(number as u32)
}
