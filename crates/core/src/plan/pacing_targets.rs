//! Targets as a coach gives them: splits, set breaks, checkpoints, what to do when behind.

mod advice;
mod behind;
mod machines;

use serde::Serialize;

use crate::member::Member;
use crate::movement::{Catalogue, MovementId};
use crate::pacing::{Athlete, Mark, Model, Prediction, Run, Window};
use crate::session::{Format, Node, Part, works};
use crate::units::clock;
use crate::versions::Choice;

/// Targets of one member for one piece.
#[derive(Clone, Debug, Default, PartialEq, Serialize)]
pub struct PacingTargets {
    /// Rounds, rungs or intervals with their end on the clock and the sets inside.
    pub rounds: Vec<RoundTarget>,
    /// Where to be when.
    pub checkpoints: Vec<Checkpoint>,
    /// In sentences: set breaks, the opening, what to hold.
    pub advice: Vec<String>,
    /// What to do when behind at a checkpoint.
    pub behind: Vec<String>,
    /// Splits on machines and runs, from the member's own times.
    pub machines: Vec<String>,
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

impl Checkpoint {
    /// The same place at another pace; the last call stays where the clock has it.
    pub(super) fn scaled(self, factor: f64) -> Self {
        if self.text == LAST_CALL {
            return self;
        }
        Self { at_s: (f64::from(self.at_s) * factor).round() as u32, ..self }
    }
}

/// Said a minute before the cap.
const LAST_CALL: &str = "last call: one minute to the cap";
/// Last call before the cap, in seconds.
const LAST_CALL_S: u32 = 60;
/// Most rounds that are given a split.
const MOST_ROUNDS: usize = 20;
/// Shares of the time at which a checkpoint stands.
const CHECKPOINTS: [f64; 3] = [0.25, 0.5, 0.75];

/// Whose targets they are, and of what.
#[derive(Clone, Copy)]
pub(super) struct Whose<'a> {
    pub part: &'a Part,
    pub choice: &'a Choice,
    pub member: &'a Member,
    pub window: &'a Window,
    pub catalogue: &'a Catalogue,
    pub model: &'a Model,
    /// What their team is expected to do, where they share the piece.
    pub team: Option<&'a Prediction>,
}

impl<'a> Whose<'a> {
    /// What they, or their team, are expected to do.
    fn predicted(&self) -> &'a Prediction {
        self.team.unwrap_or(&self.choice.predicted)
    }

    /// Factor on the times of their own walk: a team's clock is not that of one with mates alike.
    fn scale(&self) -> f64 {
        let own_s = self.choice.predicted.finish_s.p50.max(1.0);
        self.team.map_or(1.0, |team| team.finish_s.p50 / own_s)
    }
}

/// What a team does when it is behind, by the walk of one of them.
pub(super) fn team_behind(whose: Whose<'_>) -> Vec<String> {
    behind::when_behind(&whose)
}

/// What to aim for, in the unit of the score: of a team, where they share the piece.
pub(super) fn aims(whose: Whose<'_>) -> Vec<String> {
    advice::result(&whose)
}

/// Whose slow day ends before this share of the cap hears no last call.
const NEAR_THE_CAP: f64 = 0.8;

/// The targets that follow from the median walk of a choice.
pub(super) fn pacing_targets(whose: Whose<'_>) -> PacingTargets {
    let athlete = Athlete::new(whose.member);
    PacingTargets {
        rounds: rounds(whose.choice),
        checkpoints: checkpoints(&whose),
        advice: advice::advice(&whose),
        behind: behind::when_behind(&whose),
        machines: machines::machines(&whose, &athlete),
    }
}

fn rounds(choice: &Choice) -> Vec<RoundTarget> {
    let ends = choice.run.round_ends.iter().take(MOST_ROUNDS);
    ends.zip(1_u32..)
        .map(|(end, n)| {
            let mut sets = serde_json::Map::new();
            for (_, movement, reps) in choice.run.sets.iter().filter(|(round, ..)| *round == n) {
                let list = sets.entry(movement.to_string()).or_insert_with(|| serde_json::json!([]));
                if let Some(list) = list.as_array_mut() {
                    list.push(serde_json::json!(reps));
                }
            }
            RoundTarget { end_s: end.round() as u32, sets }
        })
        .collect()
}

fn checkpoints(whose: &Whose<'_>) -> Vec<Checkpoint> {
    let Whose { part, choice, .. } = *whose;
    let run = &choice.run;
    let mut found: Vec<Checkpoint> = Vec::new();
    // On a clock of its own the clock is the checkpoint.
    if !matches!(part.format, Some(Format::Every | Format::UntilFailure | Format::Tabata)) {
        let shares = CHECKPOINTS.iter().map(|share| run.finish_s * share);
        found.extend(shares.filter_map(|at| {
            let mark = mark_near(run, at)?;
            Some(Checkpoint { at_s: mark.at_s.round() as u32, text: place(&mark, whose) })
        }));
    }
    // A heavier bar is a place that everybody remembers.
    for pair in run.marks.windows(2) {
        let same = pair[0].movement == pair[1].movement;
        if let (true, Some(before), Some(after)) = (same, pair[0].load, pair[1].load)
            && before.first < after.first
        {
            let text = format!("{before} done, on to {after}");
            found.push(Checkpoint { at_s: pair[0].at_s.round() as u32, text });
        }
    }
    // Of no use to who is done long before, even on a slow day.
    let near = |cap: u32| choice.predicted.finish_s.p90 > f64::from(cap) * NEAR_THE_CAP;
    if let Some(cap) = part.cap_s.filter(|cap| *cap > LAST_CALL_S * 2 && near(*cap)) {
        found.push(Checkpoint { at_s: cap - LAST_CALL_S, text: LAST_CALL.to_owned() });
    }
    found.sort_by_key(|checkpoint| checkpoint.at_s);
    found.dedup_by(|a, b| a.text == b.text);
    found
}

/// Work that takes more than this share of the whole has places of its own within it.
const LONG_WORK: f64 = 0.3;

/// The place nearest to a moment, at the moment at which it is reached: in the middle of long work as much of it as is done by then, in the
/// numbers that are counted aloud.
fn mark_near(run: &Run, at_s: f64) -> Option<Mark> {
    let long = run.marks.iter().find(|mark| {
        let length = mark.at_s - mark.from_s;
        mark.from_s <= at_s && at_s <= mark.at_s && length > run.finish_s * LONG_WORK
    });
    let within = long.and_then(|mark| {
        let of = mark.of.filter(|of| *of >= FEWEST_WITHIN)?;
        let length = mark.at_s - mark.from_s;
        let step = within_step(of);
        let done = ((at_s - mark.from_s) / length * of / step).round() * step;
        (step..of).contains(&done).then(|| Mark {
            done,
            at_s: mark.from_s + done / of * length,
            ..mark.clone()
        })
    });
    let off = |mark: &&Mark| (mark.at_s - at_s).abs();
    within.or_else(|| run.marks.iter().min_by(|a, b| off(a).total_cmp(&off(b))).cloned())
}

/// Fewest of something that have a place within them.
const FEWEST_WITHIN: f64 = 20.0;

/// What is counted aloud: fives of a few, tens of many, hundreds of metres.
fn within_step(of: f64) -> f64 {
    match of {
        of if of >= 1000.0 => 100.0,
        of if of >= 300.0 => 50.0,
        of if of >= 60.0 => 10.0,
        _ => 5.0,
    }
}

/// `round 2, 8 of 15 pull-ups done`, `run done`.
fn place(mark: &Mark, whose: &Whose<'_>) -> String {
    let name = whose.catalogue.name(&mark.movement).to_lowercase();
    let mut of_it = works(&whose.choice.tree).into_iter().filter(|work| work.movement == mark.movement);
    let unit = of_it.next().map_or("", |work| work.dose.unit.short());
    let done = match mark.of {
        Some(of) if mark.done + 0.5 >= of => format!("{name} done"),
        Some(of) => format!("{:.0} of {of:.0}{unit} {name}", mark.done),
        None => format!("{:.0}{unit} {name}", mark.done),
    };
    let rounds = whose.choice.run.round_ends.len();
    if rounds > 1 { format!("round {}, {done}", mark.round) } else { done }
}

/// Whether the clock says when each round begins or ends, so that nobody is early or late in it.
fn is_clocked(whose: &Whose<'_>) -> bool {
    fn holds_a_clock(node: &Node) -> bool {
        matches!(node, Node::Within { .. } | Node::Every { .. })
            || node.children().into_iter().any(holds_a_clock)
    }
    fn rounds_on_a_clock(node: &Node) -> bool {
        match node {
            Node::Rounds { of, .. } => holds_a_clock(of),
            Node::Every { .. } => true,
            other => other.children().into_iter().any(rounds_on_a_clock),
        }
    }
    matches!(whose.part.format, Some(Format::Every | Format::UntilFailure | Format::Tabata))
        || rounds_on_a_clock(&whose.choice.tree)
}

/// Seconds from the first to the last repetition of each round: written rests and partners' turns between them are nobody's work.
fn worked(choice: &Choice) -> Vec<f64> {
    let rounds = 1..=choice.run.round_ends.len() as u32;
    let of = |round| choice.run.marks.iter().filter(move |mark| mark.round == round);
    let span = |round| Some(of(round).next_back()?.at_s - of(round).next()?.from_s);
    rounds.filter_map(span).collect()
}

/// Sets of a movement in a round, as walked.
fn sets_in(choice: &Choice, round: u32, movement: &MovementId) -> Vec<u32> {
    let sets = choice.run.sets.iter();
    sets.filter(|(n, known, _)| *n == round && known == movement).map(|(.., reps)| *reps).collect()
}

/// `9:40`, for sentences.
fn said(seconds: f64) -> String {
    clock(seconds)
}
