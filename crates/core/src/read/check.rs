//! Contradictions and impossible figures: reported, never guessed away.

use super::Reading;
use super::problem::Problem;
use crate::movement::Catalogue;
use crate::session::{Amount, Format, Node, Part, totals, works};
use crate::units::clock_s;

/// Longest piece that a class hour can hold with any sense, in seconds; beyond it a figure is a slip.
const LONGEST_PIECE_S: u32 = 3 * 3600;
/// Shares of a 1RM above this are no prescription, in percent.
const HIGHEST_PERCENT: f64 = 130.0;
/// Heaviest load for one implement that anybody writes, in kilograms.
const HEAVIEST_LOAD_KG: f64 = 350.0;
/// More repetitions of one movement than this in a day is a slip, or worth a question.
const MOST_REPS: f64 = 2000.0;

pub(super) fn check(reading: &mut Reading, text: &str, catalogue: &Catalogue) {
    let mut found = Vec::new();
    for part in &reading.session.parts {
        check_part(part, catalogue, &mut found);
    }
    reading.problems.append(&mut found);
    if reading.session.parts.is_empty()
        && text.chars().any(|c| !c.is_whitespace())
        && reading.problems.is_empty()
    {
        reading.problems.push(Problem::nothing_here());
    }
}

fn check_part(part: &Part, catalogue: &Catalogue, found: &mut Vec<Problem>) {
    let line = part.lines.0;
    let mut error = |message: String| found.push(Problem::error(line, 1, message));
    if part.rounds == Some(0) || part.strength.sets == Some(0) {
        error("0 rounds or sets is no work; write how many are meant".to_owned());
    }
    for (what, seconds) in [("cap", part.cap_s), ("length", part.duration_s), ("interval", part.interval_s)] {
        match seconds {
            Some(0) => error(format!("a {what} of 0:00 leaves no time for any work")),
            Some(s) if s > LONGEST_PIECE_S => {
                error(format!("a {what} of {} minutes is longer than any class; is it a slip?", s / 60));
            }
            _ => {}
        }
    }
    let mut shares: Vec<f64> = part.strength.percent.iter().flatten().copied().collect();
    shares.dedup();
    for share in shares {
        if !(1.0..=HIGHEST_PERCENT).contains(&share) {
            error(format!(
                "{share} % is no share of a maximum that can be lifted; 1 to {HIGHEST_PERCENT} % can be planned"
            ));
        }
    }
    if part.strength.week.is_some_and(|(k, n)| n.is_some_and(|n| k > n) || k == 0) {
        let (k, n) = part.strength.week.unwrap_or_default();
        error(format!("week {k} of {} is outside its own cycle", n.unwrap_or_default()));
    }
    if let Some(target) = part.target {
        if let (Some(low), Some(high)) = (target.low_s, target.high_s)
            && low > high
        {
            error(format!("the target runs from {} back to {}; swap its ends", clock_s(low), clock_s(high)));
        }
        if let (Some(cap), Some(low)) = (part.cap_s, target.low_s)
            && low > cap
        {
            error(format!("the target begins at {}, after the cap at {}", clock_s(low), clock_s(cap)));
        }
    }
    if matches!(part.format, Some(Format::Amrap)) && part.duration_s.is_none() {
        error("as many rounds as possible in what time? write it as in `AMRAP 12`".to_owned());
    }
    if part.format == Some(Format::Every) && has_open_every(&part.tree) {
        error("this clock has no end; write it as in `EMOM 12` or `every 2:00 x 6`".to_owned());
    }
    check_work(part, catalogue, found);
}

fn check_work(part: &Part, catalogue: &Catalogue, found: &mut Vec<Problem>) {
    let line = part.lines.0;
    for work in works(&part.tree) {
        let name = catalogue.name(&work.movement);
        if matches!(work.dose.amount, Amount::Fixed { first, .. } if first == 0.0) {
            found.push(Problem::error(
                line,
                1,
                format!("0 of {} is no work; write how many are meant", name.to_lowercase()),
            ));
        }
        if let Some(weight) = work.load.as_ref().and_then(|load| load.weight())
            && weight.kg() > HEAVIEST_LOAD_KG
        {
            found.push(Problem::error(
                line,
                1,
                format!("{weight} of {} is more than a class lifts; is it a slip?", name.to_lowercase()),
            ));
        }
    }
    for total in totals(&part.tree) {
        if total.amount > MOST_REPS && total.unit == crate::movement::Unit::Reps {
            let name = catalogue.name(&total.movement).to_lowercase();
            found.push(Problem::warning(
                line,
                1,
                format!("{} {name} in one piece; is it a slip?", total.amount),
            ));
        }
    }
}

fn has_open_every(node: &Node) -> bool {
    match node {
        Node::Every { times, .. } => times.is_none(),
        other => other.children().into_iter().any(has_open_every),
    }
}
