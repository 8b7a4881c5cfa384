//! The body of one walk: local reserves by muscle group, breath, and time that goes by.

use super::{MUSCLES, Walk};
use crate::pacing::ability::Ability;

impl Walk<'_> {
    /// What is left of the muscle groups that matter, 1 fresh.
    pub(super) fn reserve(&self, ability: &Ability) -> f64 {
        let spent = (0..MUSCLES.len()).map(|n| (1.0 - self.local[n]) * ability.shares[n]).fold(0.0, f64::max);
        (1.0 - spent).max(0.02)
    }

    pub(super) fn demand(&self, ability: &Ability) -> f64 {
        // The pace of a machine or a run is a share of the member's own that lasts; it neither empties nor refills.
        if ability.steady {
            return self.critical;
        }
        // One of a team working rests while the others do.
        ability.lungs / self.team.sqrt()
    }

    /// Slower as breath runs out, towards what can be kept up.
    pub(super) fn slow(&self, ability: &Ability) -> f64 {
        let from = self.model.engine.slow_from;
        if self.breath >= from {
            return 1.0;
        }
        let over = (self.demand(ability) / self.critical - 1.0).max(0.0);
        1.0 + over * (from - self.breath) / from
    }

    /// Sharing costs a tag every few repetitions.
    pub(super) fn team_tag(&self) -> f64 {
        if self.team > 1.0 { 1.03 } else { 1.0 }
    }

    pub(super) fn rest_until(&mut self, time: f64) {
        let until = time.min(self.deadline);
        if until > self.clock {
            self.pass(until - self.clock, 0.1, None);
        }
    }

    /// Time without work, no longer than the window around is open.
    pub(super) fn idle(&mut self, seconds: f64) {
        self.rest_until(self.clock + seconds);
    }

    /// Time goes by: breath follows demand, and rested groups refill while worked ones pay.
    pub(super) fn pass(&mut self, seconds: f64, demand: f64, cost: Option<(&Ability, f64)>) {
        let seconds = seconds.max(0.0);
        self.clock += seconds;
        let over = demand - self.critical;
        if over > 0.0 {
            self.breath = (self.breath - over * seconds / self.model.engine.reserve_s).max(0.0);
        } else {
            self.breath +=
                (1.0 - self.breath) * (-over * seconds / (self.model.engine.reserve_s * 0.5)).min(1.0);
        }
        let back = 1.0 - (-seconds / self.model.fatigue.half_time_s * std::f64::consts::LN_2).exp();
        for n in 0..MUSCLES.len() {
            let ceiling = 1.0 - self.lasting[n];
            let paid = cost.map_or(0.0, |(ability, each)| ability.shares[n] * each);
            // A group under load does not refill.
            let resting = 1.0 - cost.map_or(0.0, |(ability, _)| ability.shares[n]);
            self.local[n] += (ceiling - self.local[n]).max(0.0) * back * resting;
            self.local[n] = (self.local[n] - paid).max(0.0);
            // The last repetitions before failure cost more of what does not come back.
            let spent = 1.0 - self.local[n];
            let stays = self.model.fatigue.lasting * (1.0 + self.model.fatigue.near_failure * spent * spent);
            self.lasting[n] = (self.lasting[n] + paid * stays).min(0.45);
        }
    }
}
