//! What a walk through a tree goes by, and what comes of it.

use crate::movement::MovementId;
use crate::pacing::capability::ByCapability;
use crate::session::{Load, Work};

/// A member's day: factors on time and on capacity, 1 on a median day.
#[derive(Clone, Copy, Debug)]
pub struct Luck {
    /// On every repetition's time.
    pub pace: f64,
    /// On unbroken repetitions.
    pub capacity: f64,
}

impl Luck {
    /// A median day.
    pub const MEDIAN: Self = Self { pace: 1.0, capacity: 1.0 };
}

/// What came of one walk through a tree.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Run {
    /// Seconds on the clock at the end, rests included.
    pub finish_s: f64,
    /// Rounds done in a window, with the part of the last one.
    pub rounds: f64,
    /// Repetitions, calories and metres done that count, all movements together.
    pub reps: f64,
    /// The same in what the text counts: what a substitute stands for.
    pub written_reps: f64,
    /// Interval that no longer held its work, for rising pieces.
    pub failed_round: Option<u32>,
    /// Clock at the end of each round, rung or interval.
    pub round_ends: Vec<f64>,
    /// Working seconds of each interval.
    pub interval_work: Vec<f64>,
    /// Repetitions of each interval, all movements together.
    pub interval_reps: Vec<f64>,
    /// Sets of each movement in the first rounds: (round, movement, repetitions).
    pub sets: Vec<(u32, MovementId, u32)>,
    /// Seconds of work by capability, of what was walked.
    pub on: ByCapability,
    /// Seconds of work by movement, machines and runs apart; of a walk that is recorded.
    pub by_movement: Vec<(MovementId, f64)>,
    /// Breaks of sets.
    pub breaks: u32,
    /// Stretches of work before which somebody had to stand longer than a set break: they have blown up.
    pub waits: u32,
    /// Ends of sets and stretches, for checkpoints.
    pub marks: Vec<Mark>,
    /// Steps that the walk took: what it costs to do once more.
    pub steps: u32,
}

/// What was counted up to a place in a walk.
#[derive(Clone, Copy, Debug)]
pub(super) struct Counted {
    pub reps: f64,
    written: f64,
}

impl Run {
    /// Counts so much of a work.
    pub(super) fn count(&mut self, work: &Work, amount: f64) {
        if !work.uncounted {
            self.reps += amount;
            self.written_reps += amount * work.counts_for().each;
        }
    }

    /// What was counted so far.
    pub(super) fn counted(&self) -> Counted {
        Counted { reps: self.reps, written: self.written_reps }
    }

    /// Counts what was counted since a place, so many times more.
    pub(super) fn count_again(&mut self, since: Counted, times: f64) {
        self.reps += (self.reps - since.reps) * times;
        self.written_reps += (self.written_reps - since.written) * times;
    }
}

/// A place in the piece and when it was reached.
#[derive(Clone, Debug, PartialEq)]
pub struct Mark {
    /// On the clock, in seconds, when it began.
    pub from_s: f64,
    /// On the clock, in seconds, when it ended.
    pub at_s: f64,
    /// Round, rung or interval, from 1.
    pub round: u32,
    /// What was being done.
    pub movement: MovementId,
    /// How much of it was done in this place.
    pub done: f64,
    /// How much of it there is; none when it is open.
    pub of: Option<f64>,
    /// What was carried, as written.
    pub load: Option<Load>,
}
