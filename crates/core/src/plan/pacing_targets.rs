//! Targets as a coach gives them: splits, set breaks, checkpoints, what to do when behind.

use serde::Serialize;

use crate::movement::{Catalogue, MovementId};
use crate::pacing::{Measure, Window};
use crate::session::{Format, Part};
use crate::units::clock;
use crate::versions::Choice;

/// Targets of one member for one piece.
#[derive(Clone, Debug, Default, PartialEq, Serialize)]
pub struct PacingTargets {
    /// Rounds, rungs or intervals with their end on the clock and the sets inside.
    pub rounds: Vec<RoundTarget>,
    /// Where to be when.
    pub checkpoints: Vec<Checkpoint>,
    /// In sentences.
    pub advice: Vec<String>,
}

/// One round.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct RoundTarget {
    /// End on the clock, in seconds.
    pub end_s: u32,
    /// Sets of each movement.
    pub sets: serde_json::Map<String, serde_json::Value>,
}

/// A place to be at a time.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Checkpoint {
    /// On the clock, in seconds.
    pub at_s: u32,
    /// Where to be.
    pub text: String,
}

/// A first round faster than the mean by more than this is too hot.
const TOO_HOT: f64 = 0.9;
/// Last call before the cap, in seconds.
const LAST_CALL_S: u32 = 60;

/// The targets that follow from the median walk of a choice.
pub fn pacing_targets(part: &Part, choice: &Choice, window: &Window, catalogue: &Catalogue) -> PacingTargets {
    let run = &choice.run;
    let mut targets = PacingTargets::default();
    for (n, end) in run.round_ends.iter().enumerate().take(20) {
        let mut sets = serde_json::Map::new();
        for (round, movement, reps) in &run.sets {
            if *round as usize == n + 1 {
                let list = sets.entry(movement.to_string()).or_insert_with(|| serde_json::json!([]));
                if let Some(list) = list.as_array_mut() {
                    list.push(serde_json::json!(reps));
                }
            }
        }
        targets.rounds.push(RoundTarget { end_s: end.round() as u32, sets });
    }
    let finish = run.finish_s;
    if part.format != Some(Format::Every) {
        for (share, words) in [(0.25, "a quarter"), (0.5, "half"), (0.75, "three quarters")] {
            let at = finish * share;
            let done = run.round_ends.iter().filter(|end| **end <= at + 1.0).count();
            let text = match (done, run.round_ends.len()) {
                (_, 0 | 1) => format!("{words} of the work done"),
                (0, _) => "still in round 1".to_owned(),
                (done, all) if part.format == Some(Format::Amrap) => {
                    format!("{done} rounds done, {all} to come in all")
                }
                (done, all) => format!("{done} of {all} rounds done"),
            };
            targets.checkpoints.push(Checkpoint { at_s: at.round() as u32, text });
        }
    }
    if let Some(cap) = part.cap_s.filter(|cap| *cap > LAST_CALL_S * 2) {
        targets.checkpoints.push(Checkpoint {
            at_s: cap - LAST_CALL_S,
            text: "last call: one minute to the cap".to_owned(),
        });
    }
    targets.checkpoints.sort_by_key(|checkpoint| checkpoint.at_s);
    targets.advice = advice(part, choice, window, catalogue);
    targets
}

fn advice(part: &Part, choice: &Choice, window: &Window, catalogue: &Catalogue) -> Vec<String> {
    let run = &choice.run;
    let mut said = Vec::new();
    let mut seen: Vec<&MovementId> = Vec::new();
    for (_, movement, _) in run.sets.iter().filter(|(round, ..)| *round == 1) {
        if seen.contains(&movement) {
            continue;
        }
        seen.push(movement);
        let sets: Vec<String> = run
            .sets
            .iter()
            .filter(|(round, known, _)| *round == 1 && known == movement)
            .map(|(.., reps)| reps.to_string())
            .collect();
        let name = catalogue.name(movement).to_lowercase();
        if sets.len() > 8 {
            said.push(format!("{name}: singles from the start, short and steady"));
        } else if sets.len() > 1 {
            said.push(format!("{name}: {} in round 1", sets.join("+")));
        }
    }
    if let [first, .., last] = run.round_ends[..]
        && run.round_ends.len() > 2
    {
        let mean = last / run.round_ends.len() as f64;
        if first < mean * TOO_HOT {
            said.push(format!("open at {} a round or slower, not at {}", clock(mean), clock(first)));
        }
    }
    match choice.predicted.measure {
        Measure::Rounds => said.push(format!("goal {:.1} rounds", choice.predicted.spread.p50)),
        Measure::SlowestInterval => {
            let interval = f64::from(part.interval_s.unwrap_or(0));
            let rest = interval - choice.predicted.spread.p50;
            if interval > 0.0 {
                said.push(format!(
                    "about {} of work, {} of rest each interval",
                    clock(choice.predicted.spread.p50),
                    clock(rest.max(0.0))
                ));
            }
        }
        Measure::FailedRound => {
            said.push(format!("expect to stop in round {:.0}", choice.predicted.spread.p50))
        }
        Measure::Finish => {
            if let Some(high) = window.high.filter(|high| choice.predicted.spread.p50 > *high) {
                said.push(format!(
                    "behind the window by about {}: cut reps first",
                    clock(choice.predicted.spread.p50 - high)
                ));
            }
        }
        Measure::Reps => {}
    }
    said
}
