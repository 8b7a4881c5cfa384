//! Hidden bodies: invented people who do pieces by a law of their own, against which it is tried what is learned of them.
//!
//! A body takes a time that is a power of the work, times what it is like all over, at this kind of piece and on this day; it gets a little
//! better from week to week, stays away once and is hurt once. Nothing of how anybody is predicted is known here, and nothing here may be
//! known there: this crate depends on the language of sessions alone.

mod work;

pub use work::{Kind, Work};

use rand::{RngExt as _, SeedableRng as _};
use rand_distr::{Distribution as _, StandardNormal};
use rand_pcg::Pcg64;

/// How far bodies lie apart, one standard deviation of a logarithm of time: all over, by kind of piece, and from day to day.
pub const ALL_OVER: f64 = 0.12;
/// See [`ALL_OVER`].
pub const BY_KIND: f64 = 0.08;
/// See [`ALL_OVER`].
pub const BY_DAY: f64 = 0.06;
/// Quicker by so much each week.
const TREND: f64 = 0.004;
/// Time grows a little faster than the work.
const POWER: f64 = 1.06;
/// Work of so many seconds is done in as many by a body that is like most.
const USUAL_S: f64 = 600.0;
/// Weeks that a body stays away, and how much slower it is when it comes back; it is as before after so many weeks.
const AWAY_WEEKS: f64 = 2.0;
const AFTER_AWAY: f64 = 0.06;
const BACK_WEEKS: f64 = 3.0;
/// How much slower it is while it is hurt, and for how many weeks.
const HURT: f64 = 0.10;
const HURT_WEEKS: f64 = 2.0;

/// One invented person.
#[derive(Clone, Debug)]
pub struct Body {
    all_over: f64,
    by_kind: [f64; Kind::ALL.len()],
    /// The week in which it begins to stay away, and the one in which it is hurt.
    away_from: f64,
    hurt_from: f64,
    luck: Pcg64,
}

impl Body {
    /// The `n`th of those that a seed draws.
    pub fn drawn(seed: u64, n: usize) -> Self {
        let mut luck = Pcg64::seed_from_u64(seed.wrapping_mul(0x9E37_79B9).wrapping_add(n as u64));
        let mut normal = || -> f64 { StandardNormal.sample(&mut luck) };
        let (all_over, by_kind) = (ALL_OVER * normal(), Kind::ALL.map(|_| BY_KIND * normal()));
        let (away_from, hurt_from) = (luck.random_range(1.0..10.0), luck.random_range(1.0..12.0));
        Self { all_over, by_kind, away_from, hurt_from, luck }
    }

    /// Whether it comes in a week, counted from 0 with parts of it.
    pub fn comes(&self, week: f64) -> bool {
        !(self.away_from..self.away_from + AWAY_WEEKS).contains(&week)
    }

    /// Factor on the time of a kind of piece on a day of a week, drawn anew each time.
    pub fn on_a_day(&mut self, kind: Kind, week: f64) -> f64 {
        let day: f64 = StandardNormal.sample(&mut self.luck);
        (self.usually(kind, week) + BY_DAY * day).exp()
    }

    /// The logarithm of the factor on a day like most.
    pub fn usually(&self, kind: Kind, week: f64) -> f64 {
        let back = week - self.away_from - AWAY_WEEKS;
        let out_of_practice = if back >= 0.0 { AFTER_AWAY * (1.0 - back / BACK_WEEKS).max(0.0) } else { 0.0 };
        let hurt = (self.hurt_from..self.hurt_from + HURT_WEEKS).contains(&week);
        self.all_over + self.by_kind[kind as usize] - TREND * week
            + out_of_practice
            + if hurt { HURT } else { 0.0 }
    }

    /// Whether something happens that has as many happen, of a hundred times.
    pub fn happens(&mut self, of_a_hundred: u32) -> bool {
        self.luck.random_range(0..100) < of_a_hundred
    }
}

/// Seconds that a body like most takes for so much work.
pub fn seconds(work_s: f64) -> f64 {
    USUAL_S * (work_s.max(1.0) / USUAL_S).powf(POWER)
}

/// How much work is done in so many seconds by a body like most.
pub fn work_in(seconds: f64) -> f64 {
    USUAL_S * (seconds.max(1.0) / USUAL_S).powf(POWER.recip())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn bodies_lie_apart_as_far_as_is_said() {
        let spread = |values: &[f64]| {
            let mean = values.iter().sum::<f64>() / values.len() as f64;
            (values.iter().map(|value| (value - mean).powi(2)).sum::<f64>() / values.len() as f64).sqrt()
        };
        let bodies: Vec<Body> = (0..2_000).map(|n| Body::drawn(5, n)).collect();
        let all_over: Vec<f64> = bodies.iter().map(|body| body.all_over).collect();
        assert!((spread(&all_over) / ALL_OVER - 1.0).abs() < 0.06);
        let at_bars: Vec<f64> = bodies.iter().map(|body| body.by_kind[Kind::Bar as usize]).collect();
        assert!((spread(&at_bars) / BY_KIND - 1.0).abs() < 0.06);
        let mut one = Body::drawn(5, 3);
        let days: Vec<f64> = (0..2_000).map(|_| one.on_a_day(Kind::Bar, 0.0).ln()).collect();
        assert!((spread(&days) / BY_DAY - 1.0).abs() < 0.06);
    }

    #[test]
    fn a_body_gets_better_and_is_away_once() {
        let body = Body::drawn(1, 1);
        let weeks: Vec<f64> = (0..120).map(|n| f64::from(n) / 10.0).collect();
        let away = weeks.iter().filter(|week| !body.comes(**week)).count();
        assert_eq!(away, 20);
        let before = body.usually(Kind::Bar, 0.0);
        let long_after = body.usually(Kind::Bar, 30.0);
        assert!((long_after - before + 30.0 * TREND).abs() < 1e-9);
    }

    #[test]
    fn work_and_seconds_are_the_way_there_and_back() {
        for work in [60.0, 600.0, 2_400.0] {
            assert!((work_in(seconds(work)) - work).abs() < 1e-6);
        }
        assert!(seconds(1_200.0) > 2.0 * seconds(600.0));
    }
}
