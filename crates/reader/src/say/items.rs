//! Movements, amounts and aims that a phrase says.

use lantern_session::movement::Unit;

use super::captures::Captures;
use super::{Aim, Item, MACHINES, Say};
use crate::values::Value;

/// Longest time for which anybody holds or carries a weight, in seconds.
pub(super) const LONGEST_HOLD_S: f64 = 300.0;
/// An aim's upper end is no more than this many times the lower.
const WIDEST_AIM: f64 = 5.0;
/// Longest stay at a station that a time in front of a name is read as, in seconds.
pub(super) const LONGEST_STATION_S: u32 = 180;

/// `counted_in` is what a unit behind "max" or the name counts.
pub(super) fn item(says: &str, c: &Captures<'_>, counted_in: Unit) -> Option<Say> {
    // "Row, 3 minutes" has a unit; "row, 12 burpees" is two.
    if says == "item.comma" {
        // "Back squat, 18 minutes" is how long the lift is worked on.
        let lift = matches!(c.value('m'), Some(Value::Movement { weighs: true, .. }));
        let timed = matches!(c.value('d'), Some(Value::Dose { unit: Some(Unit::Seconds), .. }));
        if !has_dose_unit(c) || lift && timed {
            return None;
        }
    }
    // "Push-ups, 14" at the end of a sentence is a number of them; "deadlift, 60/40" a load.
    if says == "item.end" && !matches!(c.value('d'), Some(Value::Dose { second: None, unit: None, .. })) {
        return None;
    }
    // The same in two languages has the same number.
    if says == "item.twice" {
        let Some(Value::Dose { first, unit, .. }) = c.value('d') else { return None };
        if c.number('n') != Some(*first) || c.has('u') && *unit != Some(Unit::Calories) {
            return None;
        }
    }
    // "Snatch - 14 mins for a heavy one" is how long the lift is worked on.
    if says == "item.behind"
        && matches!(
            c.value('m'),
            Some(Value::Movement { weighs: true, .. } | Value::Movement { shorthand: true, .. })
        )
        && matches!(c.value('d'), Some(Value::Dose { unit: Some(Unit::Seconds), first, .. }) if *first >= LONGEST_HOLD_S)
    {
        return None;
    }
    // "Crawl, roll, hang - 8 min" is how long all of it takes: nobody hangs for so long.
    let held = |id: &str| ["hang", "hold", "plank", "l-sit"].iter().any(|held| id.ends_with(held));
    if says == "item.behind"
        && matches!(c.value('m'), Some(Value::Movement { id, .. }) if held(id.as_str()))
        && matches!(c.value('d'), Some(Value::Dose { unit: Some(Unit::Seconds), first, .. }) if *first >= LONGEST_HOLD_S)
    {
        return None;
    }
    // "4 x 8-10" is sets with a range of repetitions; a range has a unit where it counts anything else.
    if says == "item.sets" && matches!(c.value('d'), Some(Value::Dose { range: true, unit: None, .. })) {
        return None;
    }
    let Some(Value::Movement { id: movement, shorthand, weighs, burns }) = c.value('m') else { return None };
    // "10 cal / 12 lunges": the calories are of no lunges.
    if !burns && matches!(c.value('d'), Some(Value::Dose { unit: Some(Unit::Calories), .. })) {
        return None;
    }
    // Of "2 laps of lunges" nobody knows where they end, of "2 laps easy run" neither how long they are: it is run all the same.
    if says == "item.laps" && movement.as_str() != "run" {
        return None;
    }
    // "20 s max effort bike" is ridden so long, as hard as it goes.
    if says == "item.effort" && (movement.as_str() == "run" || MACHINES.contains(&movement.as_str())) {
        return None;
    }
    let (amount, unit) = match c.value('d') {
        Some(Value::Dose { first, second, range, unit }) => {
            ((*first > 0.0).then_some((*first, second.filter(|_| !range))), *unit)
        }
        _ => (None, None),
    };
    if c.has('d') && amount.is_none() {
        return None;
    }
    // "31X1" is a tempo: nobody does so many sets.
    if c.count('s').is_some_and(|sets| sets > MOST_SETS) && unit.is_none_or(|unit| unit == Unit::Reps) {
        return None;
    }
    // "cleans 60/40" is a load; "row 12/10" an amount.
    if says == "item.behind"
        && *weighs
        && unit.is_none()
        && amount.is_some_and(|(_, second)| second.is_some())
    {
        return None;
    }
    // "Devil's press 2x15/10": what is held in each hand, for men and for women.
    if *weighs
        && c.count('s') == Some(2)
        && unit.is_none()
        && amount.is_some_and(|(_, second)| second.is_some())
    {
        return None;
    }
    let max = matches!(says, "item.max" | "item.maxbehind" | "item.timed" | "item.within" | "item.effort");
    let written = if c.has('u') { Some(counted_in) } else { unit };
    Some(Say::Item(Item {
        movement: Some(movement.clone()),
        shorthand: *shorthand,
        amount: if max { None } else { amount },
        unit: written,
        max,
        window_s: match says {
            "item.timed" | "item.effort" => c.seconds('t').map(|(s, _)| s),
            "item.window" | "item.within" => Some(c.seconds('t').filter(|(s, _)| *s <= LONGEST_STATION_S)?.0),
            _ => None,
        },
        sets: c.count('s'),
        per_side: says == "item.side",
        in_step: false,
        meanwhile: says == "item.meanwhile",
        guessed: says == "item.guess",
    }))
}

pub(super) fn has_dose_unit(c: &Captures<'_>) -> bool {
    matches!(c.value('d'), Some(Value::Dose { unit: Some(_), .. }))
}

/// An amount whose movement is named elsewhere.
pub(super) fn dose(c: &Captures<'_>) -> Option<Say> {
    let Some(Value::Dose { first, second, range, unit }) = c.value('d') else { return None };
    Some(Say::Item(Item {
        movement: None,
        shorthand: false,
        amount: (*first > 0.0).then_some((*first, second.filter(|_| !range)))?.into(),
        unit: *unit,
        max: false,
        window_s: None,
        sets: None,
        per_side: false,
        in_step: false,
        meanwhile: false,
        guessed: false,
    }))
}

/// Most sets of one lift that anybody writes.
const MOST_SETS: u32 = 20;

/// Shortest time that is aimed at, in seconds.
const SHORTEST_AIM_S: f64 = 20.0;

/// Metres of a score that somebody would aim at.
const FEWEST_METRES: f64 = 100.0;

pub(super) fn target(c: &Captures<'_>, round_word: &str) -> Option<Say> {
    let (under, over) = (c.has('u'), c.has('o'));
    let of = if c.has('k') && !round_word.is_empty() {
        Aim::Rounds
    } else if c.has('c') || c.has('x') || c.has('y') {
        Aim::Reps
    } else if c.has('d') || c.has('m') {
        Aim::Seconds
    } else {
        Aim::Bare
    };
    let (low, high) = match (c.seconds('d'), c.range('r'), c.number('n')) {
        (Some((low, high)), ..) => (f64::from(low), f64::from(high)),
        (None, Some((low, high)), _) if of == Aim::Seconds => (low * 60.0, high * 60.0),
        (None, Some(range), _) => range,
        (None, None, Some(n)) if of == Aim::Seconds => (n * 60.0, n * 60.0),
        (None, None, Some(n)) => (n, n),
        _ => return None,
    };
    let of = if c.has('d') { Aim::Seconds } else { of };
    // "8-10 m" are minutes: nobody aims at so few metres.
    let (low, high, of) = match of {
        Aim::Reps if c.has('x') && high < FEWEST_METRES => (low * 60.0, high * 60.0, Aim::Seconds),
        Aim::Reps if c.has('y') => (low * 1000.0, high * 1000.0, of),
        of => (low, high, of),
    };
    // "1 - 15 min" is two numbers with a dash between them.
    if low > 0.0 && high > WIDEST_AIM * low {
        return None;
    }
    // Nobody finishes anything in so few seconds: how even the rounds are to be, or a pace.
    if of == Aim::Seconds && high < SHORTEST_AIM_S {
        return Some(Say::Told);
    }
    let single = low == high;
    let (low, high) = match (single, under, over) {
        (true, true, _) => (None, Some(high)),
        (true, _, true) => (Some(low), None),
        // A single number is the least of rounds, and about the time.
        (true, ..) if of == Aim::Rounds || of == Aim::Reps => (Some(low), None),
        (true, ..) if of == Aim::Seconds => (None, Some(high)),
        (true, ..) => return None,
        _ => (Some(low), Some(high)),
    };
    Some(Say::Target { low, high, of })
}
