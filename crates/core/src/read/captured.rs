//! From what a rule captured to the clauses it means.

use regex::Captures;

use super::clause::{Clause, Implement, ImplementLoad, TargetOf};
use super::quantity::{minutes_or_time, number, rest_seconds, seconds, whole};
use crate::movement::Unit;
use crate::session::{Load, LoadUnit, RestAfter, Score};

/// The value of a capture group, if it took part and has one.
pub(super) fn group<T>(captures: &Captures<'_>, n: usize, read: fn(&str) -> Option<T>) -> Option<T> {
    captures.get(n).filter(|m| !m.is_empty()).and_then(|m| read(m.as_str()))
}

pub(super) fn tempo(c: &Captures<'_>) -> Vec<Clause> {
    let Some(text) = c.get(1).or(c.get(2)).or(c.get(3)) else { return Vec::new() };
    let digits: String =
        text.as_str().chars().filter(char::is_ascii_alphanumeric).collect::<String>().to_uppercase();
    vec![Clause::Tempo(digits)]
}

pub(super) fn on_off(c: &Captures<'_>, before: usize, work: usize, rest: usize, after: usize) -> Vec<Clause> {
    let times = group(c, before, whole).or(group(c, after, whole));
    match (group(c, work, rest_seconds), group(c, rest, rest_seconds)) {
        (Some(work_s), Some(rest_s)) if work_s > 0 => vec![Clause::OnOff { times, work_s, rest_s }],
        _ => Vec::new(),
    }
}

pub(super) fn every_length(text: &str) -> u32 {
    match text {
        "minute" => 60,
        other => seconds(other).unwrap_or(60),
    }
}

pub(super) fn emom(c: &Captures<'_>) -> Vec<Clause> {
    let interval_s = group(c, 1, minutes_or_time).unwrap_or(60);
    let count = group(c, 3, whole);
    let counts_rounds = c.get(4).is_some_and(|unit| unit.as_str().starts_with(['r', 's', 't']))
        || (c.get(1).is_some_and(|m| !m.is_empty()) && c.get(2).is_some_and(|word| word.as_str() == "x"));
    let total_s = if counts_rounds { None } else { group(c, 3, minutes_or_time) };
    let times = match total_s {
        Some(total) => Some(total / interval_s.max(1)),
        None => count,
    };
    match (group(c, 5, whole), count) {
        // "E2MOM 6 x 2": six sets of two, not six minutes.
        (Some(reps), Some(sets)) => vec![
            Clause::Every { interval_s, times: Some(sets), total_s: None },
            Clause::SetsReps { sets, reps, upper: None },
        ],
        _ => vec![Clause::Every { interval_s, times, total_s }],
    }
}

pub(super) fn every(c: &Captures<'_>) -> Vec<Clause> {
    let interval_s = match group(c, 2, minutes_or_time) {
        Some(minutes) => minutes,
        None => every_length(&c[1]),
    };
    // "every 3 x 5" is no sentence that anybody writes; a bare number needs a unit or a count.
    if c.get(2).is_some() && c.get(4).is_none() && !c[1].contains("min") {
        return Vec::new();
    }
    let unit = c.get(5).map_or("", |m| m.as_str());
    let total_s = match c.get(4) {
        Some(length) if unit.starts_with('m') => minutes_or_time(length.as_str()),
        Some(length) if length.as_str().contains(':') => seconds(length.as_str()),
        _ => None,
    };
    let times = match total_s {
        Some(total) => Some(total / interval_s.max(1)),
        None => group(c, 4, whole),
    };
    vec![Clause::Every { interval_s, times, total_s }]
}

pub(super) fn interrupt(c: &Captures<'_>) -> Vec<Clause> {
    let every_s = match group(c, 2, number) {
        Some(minutes) => (minutes * 60.0) as u32,
        None => every_length(&c[1]),
    };
    let from_s = match c.get(3).map_or("", |m| m.as_str()) {
        "" => 0,
        "second" => every_s,
        "third" => every_s * 2,
        first => match (number(first), seconds(first)) {
            (Some(minute), _) => (minute.max(1.0) - 1.0) as u32 * every_s,
            (None, Some(at)) => at,
            (None, None) => 0,
        },
    };
    let from_s = if c[0].contains("including") { 0 } else { from_s };
    vec![Clause::Interrupt { every_s, from_s }]
}

pub(super) fn target(c: &Captures<'_>) -> Vec<Clause> {
    let word = c.get(1).map_or("", |m| m.as_str());
    let of = match c.get(6).map_or("", |m| m.as_str()) {
        unit if unit.starts_with("rd") || unit.starts_with("round") => TargetOf::Rounds,
        unit if unit.starts_with("rep") || unit.starts_with("cal") => TargetOf::Reps,
        unit if unit.starts_with('m') => TargetOf::Seconds,
        _ if c.get(2).is_some_and(|m| number(m.as_str()).is_none()) => TargetOf::Seconds,
        _ if c.get(4).is_some_and(|m| !m.is_empty() && number(m.as_str()).is_none()) => TargetOf::Seconds,
        _ => TargetOf::Bare,
    };
    let value = |n: usize| -> Option<f64> {
        let text = c.get(n).map(|m| m.as_str()).filter(|text| !text.is_empty())?;
        match of {
            TargetOf::Seconds => minutes_or_time(text).map(f64::from),
            _ => number(text),
        }
    };
    let (first, second) = (value(2), value(4));
    let open_above = [3, 5].iter().any(|&n| c.get(n).is_some_and(|m| m.as_str() == "+"));
    let at_most =
        ["sub", "under", "below", "inside", "less", "<", "faster"].iter().any(|w| word.starts_with(w))
            || c[0].contains("or less")
            || c[0].contains("or faster")
            || c[0].contains("within")
            || c[0].contains("finish under")
            || c[0].contains("finished under");
    let at_least =
        ["over", "at least", ">", "more"].iter().any(|w| word.starts_with(w)) || c[0].contains("or more");
    let (low, high) = match (first, second) {
        (Some(low), Some(high)) => (Some(low), Some(high)),
        (Some(only), None) if at_most => (None, Some(only)),
        (Some(only), None) if at_least || open_above => (Some(only), None),
        (Some(only), None) => match of {
            TargetOf::Seconds => (None, Some(only)),
            _ => (Some(only), None),
        },
        _ => return Vec::new(),
    };
    vec![Clause::Target { low, high, of }]
}

/// "sub 7" and "under 9:00", but not "under 50 kg" or "under 3 reps".
pub(super) fn target_bare_limit(c: &Captures<'_>) -> Vec<Clause> {
    let length = c.get(2).map_or("", |m| m.as_str());
    let has_unit = number(length).is_none() || c.get(6).is_some();
    if !has_unit && c.get(1).is_none_or(|word| word.as_str() != "sub") {
        return Vec::new();
    }
    minutes_or_time(length)
        .map(|limit| Clause::Target { low: None, high: Some(f64::from(limit)), of: TargetOf::Seconds })
        .into_iter()
        .collect()
}

pub(super) fn score(text: &str) -> Option<Score> {
    let has = |words: &[&str]| words.iter().any(|word| text.contains(word));
    if text.trim().is_empty() {
        None
    } else if has(&["slowest", "worst"]) {
        Some(Score::SlowestInterval)
    } else if is_working_time(text) {
        Some(Score::TimeMinusRest)
    } else if has(&["lowest", "fewest"]) {
        Some(Score::Reps)
    } else if has(&["none", "no score", "nothing"]) {
        Some(Score::None)
    } else if has(&["load", "weight", "heaviest", "kilos", "kg"]) {
        Some(Score::Load)
    } else if has(&[
        "round",
        "full minute",
        "minutes completed",
        "completed minute",
        "last minute",
        "last full",
    ]) && !has(&["time of", "total time"])
    {
        Some(Score::RoundsReps)
    } else if has(&["time", "clock"]) {
        Some(Score::Time)
    } else if has(&["rep", "cal", "metre", "meter", "total", "sum", "distance", "max"]) {
        Some(Score::Reps)
    } else {
        None
    }
}

/// Whether a score counts the time at work alone: rests taken off, or the times of the bouts added up.
fn is_working_time(text: &str) -> bool {
    let has = |words: &[&str]| words.iter().any(|word| text.contains(word));
    let less_rest = has(&[
        "working time",
        "work time",
        "minus",
        "take the",
        "off at the end",
        "without the rest",
        "without rest",
        "not count",
        "excluding",
        "less the rest",
    ]);
    let sum = has(&["sum of", "added up", "add up", "total of your", "total of the", "total of all"])
        && has(&["round", "interval", "times", "bout"]);
    (less_rest && !has(&["reps", "rounds plus"])) || (sum && !has(&["rep", "cal"]))
}

pub(super) fn rest(c: &Captures<'_>) -> Vec<Clause> {
    if let Some(seconds) = c.get(5).and_then(|m| rest_seconds(m.as_str())) {
        return vec![Clause::Rest { low_s: seconds, high_s: seconds, after: Some(RestAfter::Each) }];
    }
    let Some(low_s) = group(c, 1, rest_seconds) else { return Vec::new() };
    let high_s = group(c, 2, rest_seconds).unwrap_or(low_s);
    // "rest 2-3 min": the unit stands once, for both.
    let low_s = match (group(c, 1, number), group(c, 2, number)) {
        (Some(low), None) if high_s > low_s && c.get(2).is_some() => {
            if c[0].contains("min") {
                (low * 60.0) as u32
            } else {
                low as u32
            }
        }
        _ => low_s,
    };
    let after = match (c.get(3).map_or("", |m| m.as_str()), c.get(4).map_or("", |m| m.as_str())) {
        ("", _) if c.get(5).is_none() => None,
        _ => Some(RestAfter::Each),
    };
    vec![Clause::Rest { low_s, high_s, after }]
}

pub(super) fn until_failure(c: &Captures<'_>) -> Vec<Clause> {
    let mut found = vec![Clause::UntilFailure];
    if c[0].starts_with("add") || c[0].starts_with("death") {
        found.push(Clause::AddEach(1));
    }
    found
}

pub(super) fn add_each(c: &Captures<'_>) -> Vec<Clause> {
    let word = group(c, 3, |text| {
        whole(text).or(match text {
            "ones" => Some(1),
            "twos" => Some(2),
            "threes" => Some(3),
            "fours" => Some(4),
            "fives" => Some(5),
            "tens" => Some(10),
            _ => None,
        })
    });
    group(c, 1, whole).or(group(c, 2, whole)).or(word).map(Clause::AddEach).into_iter().collect()
}

pub(super) fn load_unit(text: &str, value: f64) -> Option<LoadUnit> {
    match text.chars().next()? {
        'k' => Some(LoadUnit::Kg),
        'l' | 'p' | '#' => Some(LoadUnit::Lb),
        'c' => Some(LoadUnit::Cm),
        // "20 in 10 minutes" is no box.
        'i' if value == 0.0 || (12.0..=48.0).contains(&value) => Some(LoadUnit::In),
        _ => None,
    }
}

pub(super) fn load_pair(c: &Captures<'_>) -> Vec<Clause> {
    let (Some(first), Some(second)) = (group(c, 2, number), group(c, 4, number)) else { return Vec::new() };
    let Some(unit) = c.get(5).and_then(|m| load_unit(m.as_str(), first)) else { return Vec::new() };
    let implements = group(c, 1, whole).unwrap_or(1) as u8;
    vec![Clause::Load(Load { first, second: Some(second), unit, implements })]
}

pub(super) fn implement_load(c: &Captures<'_>) -> Vec<Clause> {
    let (Some(first), second) = (group(c, 3, number), group(c, 4, number)) else { return Vec::new() };
    let implement = match c[1].as_bytes() {
        [b'k', ..] => Implement::Kettlebell,
        [b'd', ..] => Implement::Dumbbell,
        _ => Implement::Bar,
    };
    let unit = c.get(5).and_then(|m| load_unit(m.as_str(), first));
    let implements = group(c, 2, whole).unwrap_or(1) as u8;
    vec![Clause::ImplementLoad(ImplementLoad { implement, first, second, unit, implements })]
}

/// "holding 22.5/15 db": the load of what is in the hands.
pub(super) fn load_of_hand_tools(c: &Captures<'_>) -> Vec<Clause> {
    let (Some(first), Some(second)) = (group(c, 3, number), group(c, 4, number)) else { return Vec::new() };
    let unit = c.get(5).and_then(|m| load_unit(m.as_str(), first)).unwrap_or(LoadUnit::Kg);
    let implements = group(c, 2, whole).unwrap_or(1) as u8;
    vec![Clause::Load(Load { first, second: Some(second), unit, implements })]
}

pub(super) fn load_named_pair(c: &Captures<'_>) -> Vec<Clause> {
    let (Some(first), Some(second)) = (group(c, 1, number), group(c, 3, number)) else { return Vec::new() };
    let Some(unit) = c.get(4).and_then(|m| load_unit(m.as_str(), first)) else { return Vec::new() };
    vec![Clause::Load(Load { first, second: Some(second), unit, implements: 1 })]
}

pub(super) fn load_single(c: &Captures<'_>) -> Vec<Clause> {
    let (number_at, unit_at) = if c.get(2).is_some() { (2, 3) } else { (5, 6) };
    let Some(first) = group(c, number_at, number) else { return Vec::new() };
    let Some(unit) = c.get(unit_at).and_then(|m| load_unit(m.as_str(), first)) else { return Vec::new() };
    let implements = group(c, 1, whole).unwrap_or(1) as u8;
    vec![Clause::Load(Load { first, second: None, unit, implements })]
}

pub(super) fn percent(c: &Captures<'_>) -> Vec<Clause> {
    // "drop 10 % lighter" and "@ 80 % effort" are no share of a lift.
    if c.get(1).is_some_and(|m| !m.is_empty()) {
        return Vec::new();
    }
    let share_end = c[0].rfind(['%', 'p']).unwrap_or(c[0].len());
    let numbers: Vec<f64> = c[0][..share_end]
        .split(|ch: char| !(ch.is_ascii_digit() || ch == '.'))
        .filter_map(|text| text.parse().ok())
        .collect();
    match numbers[..] {
        [] => Vec::new(),
        [only] => vec![Clause::Percent(vec![[only, only]])],
        [low, high] => vec![Clause::Percent(vec![[low, high]])],
        _ => vec![Clause::Percent(numbers.into_iter().map(|n| [n, n]).collect())],
    }
}

/// "60 % of today's 3RM": a share, and no set to build to.
pub(super) fn percent_of_a_max(c: &Captures<'_>) -> Vec<Clause> {
    let share = c[0].split('%').next().unwrap_or_default();
    let numbers: Vec<f64> = share
        .split(|ch: char| !(ch.is_ascii_digit() || ch == '.'))
        .filter_map(|text| text.parse().ok())
        .collect();
    match numbers[..] {
        [only] => vec![Clause::Percent(vec![[only, only]])],
        [low, high] => vec![Clause::Percent(vec![[low, high]])],
        _ => Vec::new(),
    }
}

pub(super) fn build_to(c: &Captures<'_>) -> Vec<Clause> {
    if c.get(2).is_some_and(|m| !m.trim_is_empty()) {
        return Vec::new();
    }
    let rm = match c[1].trim_end_matches('s') {
        "single" => Some(1),
        "double" => Some(2),
        "triple" => Some(3),
        text => whole(text).or_else(|| whole(&c[1])),
    };
    rm.filter(|rm| (1..=20).contains(rm)).map(Clause::BuildTo).into_iter().collect()
}

trait TrimIsEmpty {
    fn trim_is_empty(&self) -> bool;
}

impl TrimIsEmpty for regex::Match<'_> {
    fn trim_is_empty(&self) -> bool {
        self.as_str().trim().is_empty()
    }
}

/// "5@75, 3@85, 1+@95%": the sign at the end speaks for all.
pub(super) fn sets_at(c: &Captures<'_>) -> Vec<Clause> {
    let sets = c[0].split([',', '/', ';']).filter_map(|set| {
        let (reps, percent) = set.split_once('@')?;
        let reps = whole(reps.trim().trim_end_matches('+'))?;
        let percent = number(percent.trim().trim_end_matches(['%', ' ']))?;
        Some(Clause::SetAt { reps, percent })
    });
    sets.collect()
}

pub(super) fn sets_reps(c: &Captures<'_>) -> Vec<Clause> {
    match (group(c, 1, whole), group(c, 2, whole)) {
        (Some(sets), Some(reps)) => vec![Clause::SetsReps { sets, reps, upper: group(c, 3, whole) }],
        _ => Vec::new(),
    }
}

fn whole_numbers(text: &str) -> Vec<u32> {
    text.split(|c: char| !c.is_ascii_digit()).filter_map(|n| n.parse().ok()).collect()
}

pub(super) fn scheme(c: &Captures<'_>) -> Vec<Clause> {
    if c.get(2).is_some_and(|m| !m.is_empty()) {
        return Vec::new();
    }
    vec![Clause::Scheme { reps: whole_numbers(&c[1]), open: None }]
}

/// "(3/3)" says how a number splits; "(32/24)" is a pair of loads.
pub(super) fn split(c: &Captures<'_>) -> Vec<Clause> {
    let unequal = group(c, 1, whole) != group(c, 2, whole);
    if unequal { Vec::new() } else { vec![Clause::Split] }
}

/// Most rungs that an ellipsis is spelt out to; more is no scheme that anybody does.
const MOST_RUNGS: usize = 100;

pub(super) fn scheme_with_dots(c: &Captures<'_>) -> Vec<Clause> {
    let end = group(c, 1, whole);
    let dots = c[0].find(['.', 'e', 'a']).unwrap_or(c[0].len());
    let mut reps = whole_numbers(&c[0][..dots]);
    let [.., before, last] = reps[..] else { return Vec::new() };
    let step = i64::from(last) - i64::from(before);
    match end {
        Some(end) if step != 0 && (i64::from(end) - i64::from(last)) % step == 0 => {
            let mut next = i64::from(last) + step;
            while (step > 0 && next <= i64::from(end)) || (step < 0 && next >= i64::from(end)) {
                if reps.len() >= MOST_RUNGS {
                    return Vec::new();
                }
                reps.push(next as u32);
                next += step;
            }
            vec![Clause::Scheme { reps, open: None }]
        }
        Some(end) => {
            reps.push(end);
            vec![Clause::Scheme { reps, open: None }]
        }
        None if step > 0 => vec![Clause::Scheme { reps, open: Some(step as u32) }],
        None => Vec::new(),
    }
}

pub(super) fn scheme_ends(c: &Captures<'_>) -> Vec<Clause> {
    let (from, to) = match (group(c, 1, whole), group(c, 4, whole)) {
        (Some(from), _) => (from, 1),
        (None, Some(to)) => (1, to),
        _ => return Vec::new(),
    };
    if from.abs_diff(to) < 3 || from.abs_diff(to) > 50 {
        return Vec::new();
    }
    let reps = if from > to { (to..=from).rev().collect() } else { (from..=to).collect() };
    vec![Clause::Scheme { reps, open: None }]
}

pub(super) fn max(c: &Captures<'_>) -> Vec<Clause> {
    let unit = c.get(1).and_then(|m| match m.as_str().chars().next() {
        Some('c') => Some(Unit::Calories),
        Some('m' | 'd') => Some(Unit::Metres),
        _ => None,
    });
    vec![Clause::Max(unit)]
}

pub(super) fn amount(c: &Captures<'_>, first: usize, second: usize, unit: usize) -> Option<Clause> {
    let (unit, factor) = match c.get(unit)?.as_str() {
        text if text.starts_with("cal") || text.starts_with("kcal") => (Unit::Calories, 1.0),
        text if text.starts_with("rep") => (Unit::Reps, 1.0),
        text if text.starts_with("km") || text.starts_with("kilo") => (Unit::Metres, 1000.0),
        text if text.starts_with("mi") => (Unit::Metres, 1609.0),
        text if text.starts_with('y') => (Unit::Metres, 0.9144),
        text if text.starts_with('f') => (Unit::Metres, 0.3048),
        _ => (Unit::Metres, 1.0),
    };
    let scaled = |n: f64| (n * factor * 10.0).round() / 10.0;
    Some(Clause::Amount {
        first: scaled(group(c, first, number)?),
        second: group(c, second, number).map(scaled),
        unit: Some(unit),
    })
}
