//! Sets: how many repetitions go in one, how long they take, and the breaks between them.

use super::{ROUNDS_KEPT, Walk};
use crate::pacing::ability::Ability;
use crate::pacing::strategy::Strategy;
use crate::session::Work;

/// Most repetitions that are walked in one step; reserves and breath are looked at between the steps.
const BURST: f64 = 5.0;

/// Waiting for the next set is looked at this often, in seconds.
const WAIT_S: f64 = 4.0;

impl Walk<'_> {
    pub(super) fn sets(&mut self, work: &Work, ability: &Ability, target: Option<f64>) {
        let capacity = ability.capacity * self.luck.capacity;
        let mut left = target.unwrap_or(f64::INFINITY);
        while left > 1e-9 && !self.over() {
            let from_s = self.clock;
            let available = capacity * self.reserve(ability);
            let size = self.set_size(capacity, available, left, ability);
            let mut done: f64 = 0.0;
            while done < size && left > 1e-9 && !self.over() {
                let each = self.seconds_each(ability, done, capacity);
                let wished = (size - done).min(left).min(BURST);
                let Some(reps) = self.burst(wished, each) else {
                    // The repetition that the bell interrupts does not count.
                    self.pass(self.deadline - self.clock, self.demand(ability), None);
                    break;
                };
                let cost = reps / capacity.max(0.5) / self.team * self.cost_of_a_rep(ability);
                self.pass(each * reps, self.demand(ability), Some((ability, cost)));
                done += reps;
                left -= reps;
                self.run.reps += reps;
                self.step();
                if self.cut_in() {
                    break;
                }
            }
            if self.how.record && self.round <= ROUNDS_KEPT && done > 0.0 {
                self.run.sets.push((self.round, work.movement.clone(), done.round() as u32));
            }
            self.mark(work, from_s, target.map_or(done, |target| target - left), target);
            if left > 1e-9 && !self.over() {
                self.take_break(ability, capacity, left);
            }
        }
    }

    /// A single with the bar put down costs less than one of a set: grip and breath come back in between.
    fn cost_of_a_rep(&self, ability: &Ability) -> f64 {
        if is_single(ability) { self.model.sets.single_cost } else { 1.0 }
    }

    /// Seconds of each repetition of a burst that begins after `done` of the set: slower deep into a set, the square
    /// of the place taken in the middle of a whole burst, and slower out of breath.
    fn seconds_each(&self, ability: &Ability, done: f64, capacity: f64) -> f64 {
        let deep = ((done + BURST * 0.5 - 0.5) / capacity.max(1.0)).min(1.5);
        let tired = 1.0 + self.model.fatigue.slope * deep * deep;
        ability.seconds * tired * self.slow(ability) * self.luck.pace * self.team_tag()
    }

    /// How many of the wished repetitions are done before the bell, and no more than the next mark of the clock
    /// lets through; none when not even one fits.
    fn burst(&self, wished: f64, each: f64) -> Option<f64> {
        let mut reps = wished;
        if let Some(mark) = self.interrupt {
            reps = reps.min(((mark.next_s - self.clock) / each).ceil().max(1.0));
        }
        let room = (self.deadline - self.clock) / each + 1e-9;
        if reps > room {
            reps = room.floor();
        }
        (reps > 0.0).then_some(reps)
    }

    /// The next set: the remainder in one go when that leaves something in the tank, else near-equal sets of at most the
    /// planned share of what is unbroken when fresh (12 = 6+6), and never more than is there.
    fn set_size(&self, capacity: f64, available: f64, left: f64, ability: &Ability) -> f64 {
        let sets = &self.model.sets;
        if let Some(size) = self.how.strategy.set_size(capacity, available, left) {
            return size;
        }
        if left <= capacity * sets.whole_share && left <= available * sets.finish_share {
            return left;
        }
        // Heavy singles: touch and go is over from about 70 % of the 1RM.
        if is_single(ability) {
            return 1.0;
        }
        let share = if left > capacity * sets.many { sets.share_of_many } else { sets.share };
        let most = (capacity * share).min(available * sets.finish_share).floor().max(1.0);
        if left.is_infinite() {
            return most;
        }
        (left / (left / most).ceil()).ceil()
    }

    fn take_break(&mut self, ability: &Ability, capacity: f64, left: f64) {
        self.run.breaks += 1;
        if let Some(work) = self.penalty.take() {
            self.node(work, None);
            self.penalty = Some(work);
            self.last = None;
        }
        // A team mate goes on instead.
        if self.team > 1.0 {
            self.idle(self.model.transition.tag_s);
            return;
        }
        let sets = &self.model.sets;
        // Who went too far stands longer.
        let too_far = ((sets.too_far - self.reserve(ability)) / sets.too_far).clamp(0.0, 1.0);
        let usual = ability.rest_s * self.luck.pace * (1.0 + sets.too_far_rest * too_far);
        let rest = self.how.strategy.rest_s(self.clock, usual);
        self.idle(rest);
        if self.how.strategy == Strategy::Planned {
            // Enough for a sensible next set.
            let least = (capacity * sets.least_share).max(1.0).min(left);
            let mut waited = 0.0;
            while capacity * self.reserve(ability) * sets.finish_share < least
                && waited < sets.longest_wait
                && !self.over()
            {
                self.idle(WAIT_S);
                waited += WAIT_S;
            }
        }
        // Not a repetition left: wait until one is there, and no longer than a minute at a time.
        let mut waits = 0;
        self.run.waits += u32::from(capacity * self.reserve(ability) < 1.0);
        while capacity * self.reserve(ability) < 1.0 && waits < 4 && !self.over() {
            let wait = if capacity < 1.0 { 15.0 / capacity.max(0.1) } else { 10.0 };
            self.idle(wait.min(60.0));
            waits += 1;
        }
    }
}

/// From this share of the 1RM, in percent, a bar is lifted once at a time; see the table of cycle times.
const SINGLES_FROM: f64 = 70.0;

fn is_single(ability: &Ability) -> bool {
    ability.percent.is_some_and(|percent| percent >= SINGLES_FROM)
}
