//! Repetitions: how long they take, and how long one pauses between them.
//!
//! Pauses are not drawn set by set. What is spent of a movement is counted in capacities: one is all that somebody can do
//! unbroken when fresh. Up to a share of that nobody stops; beyond it every repetition costs a pause that grows with what is
//! spent, while the clock gives some of it back. That is smooth in repetitions, load and person, and never quicker for more;
//! the sets that people are told are the same pauses in whole numbers.

use super::{ROUNDS_KEPT, Task, Walk};
use crate::pacing::ability::Ability;
use crate::session::Work;

/// What is spent is looked at after this share of a capacity.
const STEP: f64 = 0.1;
/// Fewest parts in which many repetitions are walked: what is beyond a person takes no more steps than that.
const MOST_STEPS: f64 = 80.0;
/// Longest pause between two repetitions, in seconds; who would need more cannot do the piece.
const LONGEST_PAUSE_S: f64 = 60.0;
/// A planned set is at most this share of the fresh maximum; coaching practice: 50-65 % in pieces of 3-8 minutes.
const WHOLE: f64 = 0.65;
/// The last set is this share smaller than the first.
const FALL: f64 = 0.25;
/// From this pause before a repetition on, in seconds, somebody has blown up.
const BLOWN_S: f64 = 12.0;

impl<'a> Walk<'a> {
    pub(super) fn sets(&mut self, work: &'a Work, task: &Task, target: Option<f64>) {
        let ability = &*task.ability;
        let capacity = (ability.capacity * self.luck.capacity).max(0.2);
        let mut left = target.unwrap_or(f64::INFINITY);
        let from_s = self.clock;
        let (mut paused, mut done) = (0.0, 0.0);
        while left > 1e-9 && !self.over() {
            let whole = target.unwrap_or(capacity * 4.0);
            let step = (capacity * STEP).max(whole / MOST_STEPS).min(left);
            let (each, pause) = (self.seconds_each(task), self.pause_each(ability));
            let mut reps = step;
            if let Some(mark) = self.interrupt {
                reps = reps.min(((mark.next_s - self.clock) / (each + pause)).ceil().max(1.0));
            }
            // The bell comes in the middle of a step: what fits is done.
            let room = (self.deadline - self.clock) / (each + pause);
            reps = reps.min(room);
            let cost = reps / capacity / self.fresher()
                * (1.0 - self.model.fitted.bar.single_saves * ability.singles);
            self.pass((each + pause) * reps, Some((ability, cost)));
            done += reps;
            left -= reps;
            paused += pause * reps;
            self.run.count(work, reps);
            self.run.waits += u32::from(pause > BLOWN_S);
            self.step();
            if self.cut_in() {
                self.transition(work, ability);
            }
            if reps <= 1e-9 {
                self.clock = self.clock.max(self.deadline);
                break;
            }
        }
        let breaks = self.breaks(ability, paused, done, capacity);
        self.run.breaks += breaks;
        if self.how.record && self.round <= ROUNDS_KEPT && done >= 0.5 {
            self.record_sets(work, done.round() as u32, breaks);
        }
        if task.unit == work.dose.unit {
            self.mark(work, from_s, target.map_or(done, |target| target - left.max(0.0)), target);
        }
        if let Some(owed) = self.penalty.take() {
            for _ in 0..breaks.min(40) {
                self.node(owed, None);
                self.last = None;
            }
            self.penalty = Some(owed);
        }
    }

    /// Seconds of each repetition that comes now: slower with what is spent.
    fn seconds_each(&self, Task { ability, each_s, unit }: &Task) -> f64 {
        let tired = 1.0 + self.model.fitted.tempo.tired * self.spent(ability).min(3.0);
        (each_s * tired + ability.put_down_s) * self.luck.pace * self.tag(*each_s, *unit)
    }

    /// Seconds of pause with each repetition that comes now. One of a team pauses while the others work.
    fn pause_each(&self, ability: &Ability) -> f64 {
        let (from, factor) = self.how.strategy.pauses(self.model.fitted.pause.from);
        let beyond = (self.spent(ability) - from).max(0.0);
        let alone = self.pauses_alone(ability.capacity * self.luck.capacity);
        let chosen = self.how.strategy.pause_s(ability);
        (2.0 * factor * ability.pause_s * beyond * self.luck.pace + chosen).min(LONGEST_PAUSE_S) * alone
    }

    /// Pauses told as breaks of a usual length; nobody plans a set beyond a share of what they can do fresh.
    fn breaks(&self, ability: &Ability, paused: f64, done: f64, capacity: f64) -> u32 {
        let usual = ability.rest_s.max(1.0) * (1.0 + (self.spent(ability) - 1.0).clamp(0.0, 2.0) * 0.4);
        let most = (done - 1.0).max(0.0).round();
        let planned = if paused > 0.0 { (done / (capacity * WHOLE).max(1.0)).ceil() - 1.0 } else { 0.0 };
        (paused / usual).round().max(planned).min(most) as u32
    }

    /// Sets that get smaller: what was done in as many sets as there were breaks, and one.
    fn record_sets(&mut self, work: &Work, reps: u32, breaks: u32) {
        let sets = (breaks + 1).min(reps.max(1));
        for reps in falling(reps, sets) {
            self.run.sets.push((self.round, work.movement.clone(), reps));
        }
    }
}

/// A number of repetitions in so many sets, the first the largest: each is a little smaller than the one before.
fn falling(reps: u32, sets: u32) -> Vec<u32> {
    let weight = |n: u32| 1.0 - FALL * f64::from(n) / f64::from(sets.max(2) - 1).max(1.0);
    let all: f64 = (0..sets).map(weight).sum();
    let mut left = reps;
    let mut weight_left = all;
    let mut found: Vec<u32> = (0..sets)
        .map(|n| {
            let rest = sets - n - 1;
            let share = (f64::from(left) * weight(n) / weight_left).round() as u32;
            weight_left -= weight(n);
            let now = if rest == 0 { left } else { share.clamp(1, left.saturating_sub(rest).max(1)) };
            left = left.saturating_sub(now);
            now
        })
        .collect();
    // Rounding may put a 1 before a 2.
    found.sort_unstable_by(|a, b| b.cmp(a));
    found
}

#[cfg(test)]
mod tests {
    use super::falling;
    use proptest::prelude::*;

    #[test]
    fn sets_fall_as_people_tire() {
        assert_eq!(falling(50, 3), [19, 17, 14]);
        assert_eq!(falling(14, 2), [8, 6]);
        assert_eq!(falling(3, 3), [1, 1, 1]);
    }

    proptest! {
        #[test]
        fn prop_all_repetitions_are_in_sets_that_never_grow(reps in 1_u32..300, sets in 1_u32..40) {
            let sets = sets.min(reps);
            let found = falling(reps, sets);
            prop_assert_eq!(found.iter().sum::<u32>(), reps);
            prop_assert_eq!(found.len() as u32, sets);
            prop_assert!(found.iter().all(|set| *set >= 1));
            prop_assert!(found.windows(2).all(|pair| pair[1] <= pair[0]), "{:?}", found);
        }
    }
}
