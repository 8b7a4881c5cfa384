//! What keeps a walk short whatever was written: rounds beyond many are taken to be as the last one, and a walk that has
//! taken too many steps is given up.

use super::run::Counted;
use super::{GIVE_UP_S, Walk};

/// Rounds that are walked one by one; after so many a body is in its rhythm.
pub(super) const ROUNDS_WALKED: u32 = 64;
/// Starts of a clock without an end; who still holds it then fails in none of them.
pub(crate) const STARTS_WITHOUT_END: u32 = 60;
/// Most steps of a walk. A piece of an hour takes some two thousand.
const MOST_STEPS: u32 = 8_000;

impl Walk<'_> {
    /// Counts a step; a walk that has taken too many ends as one that is too long.
    pub(super) fn step(&mut self) {
        self.run.steps += 1;
        if self.run.steps >= MOST_STEPS {
            self.clock = GIVE_UP_S;
        }
    }

    /// Passes over rounds that are as the last one, which began at `start` with so much counted: as many as are left but for
    /// one, and no more than the time left holds but for one. Gives how many.
    pub(super) fn skip_alike(&mut self, start: f64, counted: Counted, left: u32) -> u32 {
        let took = self.clock - start;
        if took <= 0.0 || self.interrupt.is_some() || self.over() {
            return 0;
        }
        let fit = ((self.deadline - self.clock) / took).floor().min(f64::from(u32::MAX)) as u32;
        let rounds = left.min(fit).saturating_sub(1);
        self.clock += took * f64::from(rounds);
        self.run.count_again(counted, f64::from(rounds));
        self.round += rounds;
        rounds
    }
}
