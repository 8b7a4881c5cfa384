//! What to do when behind: how late at half way is still in time, and what to leave out when it is later than that.

use super::{Whose, is_clocked, mark_near, place, said};
use crate::movement::Unit;
use crate::pacing::{Mark, Measure, nearest, step};
use crate::session::Node;
use crate::units::clock_s;

/// Less than this to spare is nothing to spare, in seconds.
const NOTHING_S: f64 = 20.0;
/// Who has more than this share of their time to spare is told no more than that.
const PLENTY: f64 = 0.25;
/// What is spared is said in steps of so many seconds.
const STEP_S: f64 = 15.0;
/// What is left out when it gets too late: a fifth of what takes longest; coaching practice.
const FIFTH: f64 = 0.2;
/// From here on nobody begins a round that they cannot end.
const NO_NEW_ROUND_S: u32 = 60;

/// What to do when behind, from small to large; for a piece on a clock of its own the clock says it.
pub(super) fn when_behind(whose: &Whose<'_>) -> Vec<String> {
    // A team is behind together, and its members are not timed apart.
    let alone = whose.team.is_none() && matches!(whose.choice.tree, Node::Together { .. });
    let Some(half) = half_way(whose).filter(|_| !is_clocked(whose) && !alone) else { return Vec::new() };
    let measure = whose.predicted().measure;
    let mut all = match measure {
        Measure::Finish => in_time(whose, &half),
        Measure::Rounds => in_rounds(whose, &half),
        _ => Vec::new(),
    };
    let near = |cap: u32| whose.predicted().finish_s.p90 > f64::from(cap) * super::NEAR_THE_CAP;
    if let Some(cap) = whose.part.cap_s.filter(|cap| *cap > 2 * NO_NEW_ROUND_S && near(*cap))
        && whose.choice.run.round_ends.len() > 1
    {
        all.push(format!(
            "not in the last round at {}: finish the round you are in",
            clock_s(cap - NO_NEW_ROUND_S)
        ));
    }
    all
}

/// The place nearest to the middle of the time.
fn half_way(whose: &Whose<'_>) -> Option<Mark> {
    mark_near(&whose.choice.run, whose.choice.run.finish_s / 2.0)
}

/// Who is late by so much at half way is late by twice as much at the end.
fn in_time(whose: &Whose<'_>, half: &Mark) -> Vec<String> {
    let ends = whose.predicted().spread.p50;
    let cap = whose.part.cap_s.map(f64::from);
    let until = [whose.window.high, cap].into_iter().flatten().fold(f64::INFINITY, f64::min);
    if !until.is_finite() {
        return Vec::new();
    }
    let half_s = half.at_s * whose.scale();
    let (at, place) = (said(half_s), place(half, whose));
    let spare = ((until - ends) / 2.0 / STEP_S).floor() * STEP_S;
    if spare > ends * PLENTY {
        let late = said(((ends * PLENTY) / STEP_S).floor().max(1.0) * STEP_S);
        return vec![format!(
            "half way is {place} at {at}; even {late} later you end by {}: no need to hurry",
            said(until)
        )];
    }
    let cut = cut(whose, half).unwrap_or_else(|| "make the rounds to come shorter".to_owned());
    if spare < NOTHING_S {
        return vec![format!(
            "half way is {place} at {at}; later than that there is nothing to spare: {cut}"
        )];
    }
    let latest = said(half_s + spare);
    let hurry = if whose.team.is_some() {
        "shorter turns and quicker changes"
    } else {
        "smaller sets and shorter breaks"
    };
    vec![
        format!(
            "half way is {place} at {at}; until {latest} you still end by {}: {hurry}, the same repetitions",
            said(until)
        ),
        format!("later than {latest}: {cut}"),
    ]
}

/// So many rounds at half the time, and what to do with fewer.
fn in_rounds(whose: &Whose<'_>, half: &Mark) -> Vec<String> {
    let (Some(least), Some(length)) = (whose.window.low, whose.part.duration_s) else { return Vec::new() };
    let middle = whose.predicted().spread.p50;
    let at = said(f64::from(length) / 2.0);
    let enough = least.min(middle) / 2.0;
    let mut all = Vec::new();
    if middle > least {
        all.push(format!("half way at {at}: with {enough:.1} rounds you still get to {least:.0}"));
    }
    all.extend(cut(whose, half).map(|cut| format!("fewer than {enough:.1} rounds at {at}: {cut}")));
    all
}

/// A fifth less of what takes longest after a place: `12 in place of 15 pull-ups a round`.
fn cut(whose: &Whose<'_>, from: &Mark) -> Option<String> {
    let marks = &whose.choice.run.marks;
    // What is being done there is one of them.
    let after = || {
        marks.iter().filter(|mark| {
            mark.from_s >= from.at_s - 0.5 || mark.from_s == from.from_s && mark.of > Some(from.done)
        })
    };
    let took = |of: &Mark| {
        let own = after().filter(|mark| mark.movement == of.movement);
        own.map(|mark| mark.at_s - mark.from_s).sum::<f64>()
    };
    let slowest = after()
        .filter(|mark| mark.of.is_some_and(|of| of >= 3.0))
        .max_by(|a, b| took(a).total_cmp(&took(b)))?;
    let written = slowest.of?;
    let unit = crate::session::works(&whose.choice.tree)
        .into_iter()
        .find(|work| work.movement == slowest.movement)
        .map_or(Unit::Reps, |work| work.dose.unit);
    let fewer = nearest(written * (1.0 - FIFTH), step(written, unit)).min(written);
    let name = whose.catalogue.name(&slowest.movement).to_lowercase();
    (fewer < written)
        .then(|| format!("{fewer:.0} in place of {written:.0}{} {name} from there on", unit.short()))
}
