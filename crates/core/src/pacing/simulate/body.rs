//! The body of one walk: what is spent of each muscle group, and time that goes by.

use super::{MUSCLES, Walk};
use crate::pacing::ability::Ability;
use crate::pacing::model::Kind;

/// Half-time of what comes back slowly, in seconds: many minutes.
const SLOW_HALF_S: f64 = 900.0;
/// Length of a piece, in seconds, at which repetitions take what the catalogue says.
const SHORT_S: f64 = 60.0;

impl Walk<'_> {
    /// What is spent of the muscle groups that matter, in capacities: 0 fresh, 1 as after one set to the limit.
    pub(super) fn spent(&self, ability: &Ability) -> f64 {
        (0..MUSCLES.len()).map(|n| (self.quick[n] + self.slow[n]) * ability.shares[n]).fold(0.0, f64::max)
    }

    /// Factor on a repetition's time for the length of the piece: nobody goes through twenty minutes as through one.
    pub(super) fn tempo(&self, kind: Kind) -> f64 {
        let slower = 1.0 + self.model.fitted.tempo.slow * (0.5 - self.athlete.level());
        let exponent = self.model.tempo(kind) * slower.max(0.2);
        (self.length.seconds / SHORT_S).max(0.3).powf(exponent)
    }

    /// Sharing costs a tag every few repetitions.
    pub(super) fn team_tag(&self) -> f64 {
        if self.team > 1.0 { 1.03 } else { 1.0 }
    }

    pub(super) fn rest_until(&mut self, time: f64) {
        let until = time.min(self.deadline);
        if until > self.clock {
            self.pass(until - self.clock, None);
        }
    }

    /// Time without work, no longer than the window around is open.
    pub(super) fn idle(&mut self, seconds: f64) {
        self.rest_until(self.clock + seconds);
    }

    /// Time goes by: something of what is spent comes back, and worked groups pay.
    pub(super) fn pass(&mut self, seconds: f64, cost: Option<(&Ability, f64)>) {
        let seconds = seconds.max(0.0);
        self.clock += seconds;
        let recovery = &self.model.fitted.recovery;
        let (quick, slow) = (
            (-seconds / recovery.half_time_s * std::f64::consts::LN_2).exp(),
            (-seconds / SLOW_HALF_S * std::f64::consts::LN_2).exp(),
        );
        for n in 0..MUSCLES.len() {
            let paid = cost.map_or(0.0, |(ability, each)| ability.shares[n] * each);
            self.quick[n] = self.quick[n] * quick + paid * (1.0 - recovery.lasting);
            self.slow[n] = self.slow[n] * slow + paid * recovery.lasting;
        }
    }
}
