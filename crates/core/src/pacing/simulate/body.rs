//! The body of one walk: what is spent of each muscle group, and time that goes by.

use super::{Course, MUSCLES, Walk};
use crate::movement::Unit;
use crate::pacing::ability::Ability;
use crate::pacing::model::Kind;
use crate::session::Sharing;

/// Half-time of what comes back slowly, in seconds: many minutes.
const SLOW_HALF_S: f64 = 900.0;
/// Seconds that it takes to hand over to a mate, and so many times as many where one gets off a machine and the other on.
const A_CHANGE_S: f64 = 2.0;
const MACHINE_CHANGE: f64 = 4.0;
/// Seconds that a plank, a hang or a squat is held in a class before it breaks, with work waiting for it. Coaching judgement, nothing measured.
const A_HOLD_S: f64 = 45.0;
/// Length of a piece, in seconds, at which repetitions take what the catalogue says.
const SHORT_S: f64 = 60.0;

impl Course<'_> {
    /// Factor on a repetition's time for the length of the piece: nobody goes through twenty minutes as through one.
    pub(super) fn tempo(&self, kind: Kind) -> f64 {
        let slower = 1.0 + self.model.fitted.tempo.slow * (0.5 - self.athlete.level());
        let exponent = self.model.tempo(kind) * slower.max(0.2);
        (self.length.seconds / SHORT_S).max(0.3).powf(exponent)
    }
}

impl Walk<'_> {
    /// What is spent of the muscle groups that matter, in capacities: 0 fresh, 1 as after one set to the limit.
    pub(super) fn spent(&self, ability: &Ability) -> f64 {
        (0..MUSCLES.len()).map(|n| (self.quick[n] + self.slow[n]) * ability.shares[n]).fold(0.0, f64::max)
    }

    /// Factor on the time of shared work for changing over: after every few repetitions where they share as they like, after each
    /// turn where one is written, and whenever a hold breaks where work stands still without one.
    pub(super) fn tag(&self, each_s: f64, unit: Unit) -> f64 {
        if self.team <= 1.0 {
            return 1.0;
        }
        match self.way {
            Some(Sharing::InTurns { each, unit: of }) if of == unit => {
                let on_a_machine = if unit == Unit::Reps { 1.0 } else { MACHINE_CHANGE };
                1.0 + A_CHANGE_S * on_a_machine / (f64::from(each.max(1)) * each_s).max(1.0)
            }
            Some(Sharing::Held) => 1.0 + A_CHANGE_S * 2.0 / A_HOLD_S,
            _ => 1.03,
        }
    }

    /// Factor by which shared work spends less of somebody: they do a share of it and rest in between, or hold, which is half a rest.
    pub(super) fn fresher(&self) -> f64 {
        if self.way == Some(Sharing::Held) { self.team.sqrt() } else { self.team }
    }

    /// How far somebody pauses within their own share: not at all where they may hand over at any time, more and more where a written turn is
    /// longer than a set that they would plan.
    pub(super) fn pauses_alone(&self, capacity: f64) -> f64 {
        match self.way {
            _ if self.team <= 1.0 => 1.0,
            Some(Sharing::InTurns { each, unit: Unit::Reps }) => {
                (f64::from(each) / capacity.max(0.2) - 0.5).clamp(0.0, 1.0)
            }
            _ => 0.0,
        }
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
