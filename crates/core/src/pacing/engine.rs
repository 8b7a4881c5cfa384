//! Machines and runs: time over distance through one's own results, and what a monitor counts.

use crate::member::Member;

use super::fitness::{Fitness, SPEED_1600, WATTS_PER_KG, between, kilograms};

/// Time over distance of one person, a straight line through the results on a scale of logarithms. Riegel 1981 found the exponent;
/// it is taken from the results where there are two.
#[derive(Clone, Debug, PartialEq)]
pub struct Curve {
    /// Distance in metres and time in seconds, shortest first; never empty.
    points: Vec<(f64, f64)>,
    /// Exponent below the shortest and beyond the longest result.
    short: f64,
    long: f64,
    /// Whether it rests on no result of this kind.
    pub guess: bool,
}

/// Exponents of time over distance of a run below 400 m, from 400 to 1600 m, and beyond for a quick runner; slower ones fall off
/// by `RUN_SLOW` more. Riegel 1981 has 1.06-1.08 for trained runners.
const RUN_SHORT: f64 = 1.065;
const RUN_MIDDLE: f64 = 1.115;
const RUN_LONG: f64 = 1.065;
const RUN_SLOW: f64 = 0.02;
/// The same of a machine, which loses 3-5 % of pace with each doubling.
const ERG_SHORT: f64 = 1.07;
const ERG_LONG: f64 = 1.06;
const ERG_SLOW: f64 = 0.01;
/// A bike goes about twice as far as a rower at the same power.
const BIKE_METRES: f64 = 2.0;

impl Curve {
    fn new(mut points: Vec<(f64, f64)>, short: f64, long: f64, guess: bool) -> Self {
        points.sort_by(|a, b| a.0.total_cmp(&b.0));
        Self { points, short, long, guess }
    }

    /// Of somebody's runs.
    pub fn run(member: &Member, fitness: &Fitness) -> Self {
        let quick = fitness.value;
        let long = RUN_LONG + RUN_SLOW * (1.0 - quick).clamp(0.0, 1.5);
        let known = |metres: f64, seconds: Option<u32>| seconds.map(|s| (metres, f64::from(s)));
        match (known(400.0, member.run_400_s), known(1600.0, member.run_1600_s)) {
            (Some(a), Some(b)) if b.1 > a.1 * 3.0 => Self::new(vec![a, b], RUN_SHORT, long, false),
            (_, Some(b)) => {
                let a = (400.0, b.1 / 4.0_f64.powf(RUN_MIDDLE));
                Self::new(vec![a, b], RUN_SHORT, long, false)
            }
            (Some(a), None) => {
                let b = (1600.0, a.1 * 4.0_f64.powf(RUN_MIDDLE));
                Self::new(vec![a, b], RUN_SHORT, long, false)
            }
            (None, None) => {
                let b = (1600.0, 1600.0 / between(SPEED_1600, quick));
                let a = (400.0, b.1 / 4.0_f64.powf(RUN_MIDDLE));
                Self::new(vec![a, b], RUN_SHORT, long, true)
            }
        }
    }

    /// Of somebody's rowing.
    pub fn row(member: &Member, fitness: &Fitness) -> Self {
        let slow = ERG_SLOW * (1.0 - fitness.value).clamp(0.0, 1.5);
        let seconds = member.row_2k_s.map(f64::from).unwrap_or_else(|| {
            metre_seconds(between(WATTS_PER_KG, fitness.value) * kilograms(member)) * 2000.0
        });
        Self::new(vec![(2000.0, seconds)], ERG_SHORT, ERG_LONG + slow, member.row_2k_s.is_none())
    }

    /// Seconds for a distance in metres, all out.
    pub fn seconds(&self, metres: f64) -> f64 {
        let metres = metres.max(1.0);
        let (a, exponent) = self.around(|point| point.0, metres);
        a.1 * (metres / a.0).powf(exponent)
    }

    /// Metres in a time in seconds, all out.
    pub fn metres(&self, seconds: f64) -> f64 {
        let seconds = seconds.max(1.0);
        let (a, exponent) = self.around(|point| point.1, seconds);
        a.0 * (seconds / a.1).powf(1.0 / exponent)
    }

    /// Seconds a metre that are held for so long, in seconds.
    pub fn pace_for(&self, seconds: f64) -> f64 {
        seconds.max(1.0) / self.metres(seconds)
    }

    /// The result to start from, and the exponent from there on.
    fn around(&self, of: impl Fn(&(f64, f64)) -> f64, value: f64) -> ((f64, f64), f64) {
        let (first, last) = (self.points[0], self.points[self.points.len() - 1]);
        if value <= of(&first) {
            return (first, self.short);
        }
        if value >= of(&last) {
            return (last, self.long);
        }
        let n = self.points.iter().skip(1).position(|point| value <= of(point)).unwrap_or(0);
        let (a, b) = (self.points[n], self.points[n + 1]);
        (a, (b.1 / a.1).ln() / (b.0 / a.0).ln())
    }
}

/// What is counted and on what.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Machine {
    /// Running.
    Run,
    /// Rowing.
    Row,
    /// Skiing: as the rower at less power.
    Ski,
    /// A bike: as the rower, twice as far.
    Bike,
}

impl Machine {
    /// The machine of a movement, if it is one with a curve.
    pub fn of(movement: &str) -> Option<Self> {
        Some(match movement {
            "run" => Self::Run,
            "row" => Self::Row,
            "ski" => Self::Ski,
            "bike" => Self::Bike,
            _ => return None,
        })
    }

    /// Seconds a metre from seconds a metre of the curve it is read from.
    pub fn metre(self, pace: f64, ski_power: f64) -> f64 {
        match self {
            Self::Run | Self::Row => pace,
            Self::Ski => pace / ski_power.cbrt(),
            Self::Bike => pace / BIKE_METRES,
        }
    }

    /// Seconds a calorie.
    pub fn calorie(self, pace: f64, ski_power: f64) -> f64 {
        let watts = erg_watts(pace) * if self == Self::Ski { ski_power } else { 1.0 };
        calorie_seconds(watts)
    }
}

/// Watts at a pace in seconds a metre: the standard monitor formula, `2.80 / p^3`.
pub fn erg_watts(seconds_per_metre: f64) -> f64 {
    2.80 / seconds_per_metre.powi(3)
}

/// Seconds a metre at a power in watts.
pub fn metre_seconds(watts: f64) -> f64 {
    (2.80 / watts.max(20.0)).cbrt()
}

/// Seconds a calorie at a power in watts: the monitor counts `4 * 0.8604 * W + 300` calories an hour.
pub fn calorie_seconds(watts: f64) -> f64 {
    3600.0 / (4.0 * 0.8604 * watts.max(20.0) + 300.0)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn machine_formulas_agree_with_the_table() {
        // 200 W: 2:00.5 a 500 m, 3.64 s a calorie.
        assert!((metre_seconds(200.0) * 500.0 - 120.5).abs() < 0.1);
        assert!((calorie_seconds(200.0) - 3.64).abs() < 0.01);
        assert!((erg_watts(0.241) - 200.0).abs() < 1.0);
    }

    fn runner() -> Curve {
        let member = Member { run_400_s: Some(80), run_1600_s: Some(380), ..Member::default() };
        Curve::run(&member, &Fitness::of(&member))
    }

    #[test]
    fn own_results_come_back_and_longer_is_slower() {
        let curve = runner();
        assert!((curve.seconds(400.0) - 80.0).abs() < 1e-9 && (curve.seconds(1600.0) - 380.0).abs() < 1e-6);
        assert!((curve.metres(380.0) - 1600.0).abs() < 1e-6);
        let paces: Vec<f64> = (1..60).map(|n| curve.pace_for(f64::from(n) * 60.0)).collect();
        assert!(paces.windows(2).all(|pair| pair[0] <= pair[1]));
    }

    #[test]
    fn a_member_without_results_still_has_an_engine_and_it_is_modest() {
        let newcomer = Member::default();
        let row = Curve::row(&newcomer, &Fitness::of(&newcomer));
        assert!(row.guess && (500.0..640.0).contains(&row.seconds(2000.0)), "{row:?}");
    }
}
