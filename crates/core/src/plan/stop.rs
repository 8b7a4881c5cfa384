//! Giving up a plan that nobody waits for, and bounding one that nobody can do.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use serde::Serialize;

/// A word that work in progress is no longer wanted.
#[derive(Clone, Debug, Default)]
pub struct Stop(Arc<AtomicBool>);

impl Stop {
    /// Says that nobody waits any longer.
    pub fn stop(&self) {
        self.0.store(true, Ordering::Relaxed);
    }

    /// Whether nobody waits any longer.
    pub fn is_stopped(&self) -> bool {
        self.0.load(Ordering::Relaxed)
    }
}

/// A part that is kept and shown, but not planned for.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct Unplanned {
    /// The part's place in the session.
    pub part: usize,
    /// Why, in a sentence.
    pub why: String,
}

/// Steps of a walk times members that one day's pieces may take together: three or four long pieces, or seven short ones, for a class
/// of 28.
const STEPS: u32 = 40_000;
/// However many come, so many steps for each.
const STEPS_EACH: u32 = 1_500;
/// Sets of all lifts of a day for one member.
const SETS: u32 = 240;

/// What may still be planned of a day.
pub(super) struct Budget {
    steps: u32,
    members: u32,
    sets: u32,
    full: bool,
}

impl Budget {
    pub fn new(members: usize) -> Self {
        let members = (members as u32).max(1);
        Self { steps: STEPS.max(members.saturating_mul(STEPS_EACH)), members, sets: SETS, full: false }
    }

    /// Whether a piece whose walk takes so many steps may be planned; once one is too much, so are those after it.
    pub fn piece(&mut self, steps: u32) -> bool {
        let cost = steps.saturating_mul(self.members);
        self.full |= cost > self.steps;
        if !self.full {
            self.steps -= cost;
        }
        !self.full
    }

    /// Whether a part with so many sets for each member may be planned.
    pub fn lifts(&mut self, sets: u32) -> bool {
        let fits = sets <= self.sets;
        if fits {
            self.sets -= sets;
        }
        fits
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_fits_a_day_is_planned_to_the_last_step_and_nothing_after_it() {
        let mut few = Budget::new(4);
        assert!(few.piece(STEPS / 4 - 10));
        assert!(few.piece(10));
        assert!(!few.piece(1));
        assert!(!few.piece(0), "once a piece is too much, so are those after it");

        // A large class does not take from what each may do.
        let mut many = Budget::new(60);
        assert!(many.piece(STEPS_EACH));
        assert!(!many.piece(1));
        assert!(!Budget::new(60).piece(STEPS_EACH + 1));
        assert!(Budget::new(0).piece(STEPS));
    }

    #[test]
    fn sets_are_counted_over_all_lifts_of_the_day() {
        let mut budget = Budget::new(14);
        assert!(budget.lifts(SETS - 20));
        assert!(!budget.lifts(21));
        assert!(budget.lifts(20), "what is too much leaves room for less");
        assert!(!budget.lifts(1));
    }
}
