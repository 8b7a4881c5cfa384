//! Machines and runs: time over distance through one's own results, and what a monitor counts.

use serde::{Deserialize, Serialize};

use crate::member::{Member, TimedResult};
use crate::movement::Unit;
use crate::units::clock;

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
        let mut points = results(member, Machine::Run).points;
        let guess = points.is_empty();
        if guess {
            points.push((1600.0, 1600.0 / between(SPEED_1600, quick)));
        }
        // Between a lap and a mile people lose more of their pace than beyond.
        let alone = |metres: f64| points.iter().all(|point| (point.0 / metres).ln().abs() > NEAR);
        let (first, last) = (points[0], points[points.len() - 1]);
        let lap = (400.0, first.1 * (400.0 / first.0).powf(RUN_MIDDLE));
        let mile = (1600.0, last.1 * (1600.0 / last.0).powf(RUN_MIDDLE));
        let (with_lap, with_mile) =
            (alone(400.0) && first.0 > 400.0, alone(1600.0) && last.0 < 1600.0 && last.0 >= 200.0);
        points.extend(with_lap.then_some(lap).into_iter().chain(with_mile.then_some(mile)));
        Self::new(points, RUN_SHORT, long, guess)
    }

    /// Of somebody's rowing.
    pub fn row(member: &Member, fitness: &Fitness) -> Self {
        Self::machine(member, Machine::Row, fitness).unwrap_or_else(|| {
            let watts = between(WATTS_PER_KG, fitness.value) * kilograms(member);
            let (short, long) = erg_exponents(fitness);
            Self::new(vec![(2000.0, metre_seconds(watts) * 2000.0)], short, long, true)
        })
    }

    /// Of a machine that somebody has results on, in metres of that machine.
    pub fn machine(member: &Member, machine: Machine, fitness: &Fitness) -> Option<Self> {
        let points = results(member, machine).points;
        let (short, long) = erg_exponents(fitness);
        (!points.is_empty()).then(|| Self::new(points, short, long, false))
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

fn erg_exponents(fitness: &Fitness) -> (f64, f64) {
    (ERG_SHORT, ERG_LONG + ERG_SLOW * (1.0 - fitness.value).clamp(0.0, 1.5))
}

/// Somebody's results on one machine or of their runs.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Results {
    /// Metres and seconds, shortest first; longer is never quicker.
    pub points: Vec<(f64, f64)>,
    /// What another result speaks against, in words: it is shown and not used.
    pub contradicted: Vec<String>,
}

/// Two distances this near to each other, on a scale of logarithms, are one.
const NEAR: f64 = 0.01;

/// What is known of somebody on a machine or of their runs. A shorter one that was slower a metre than a longer one was not all out.
pub fn results(member: &Member, machine: Machine) -> Results {
    let known = |metres: f64, seconds: Option<u32>| seconds.map(|s| (metres, f64::from(s)));
    let by_name = match machine {
        Machine::Run => [known(400.0, member.run_400_s), known(1600.0, member.run_1600_s)],
        Machine::Row => [known(2000.0, member.row_2k_s), None],
        Machine::Ski | Machine::Bike => [None, None],
    };
    let own = member.results.iter().filter(|result| result.machine == machine);
    let mut points: Vec<(f64, f64)> = by_name.into_iter().flatten().collect();
    points.extend(own.map(|result| (machine.metres_of(result), result.seconds)));
    points.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.total_cmp(&b.1)));
    points.dedup_by(|later, first| (later.0 / first.0).ln().abs() < NEAR);
    let mut found = Results::default();
    for (n, point) in points.iter().enumerate() {
        let pace = |point: &(f64, f64)| point.1 / point.0;
        match points[n + 1..].iter().find(|longer| pace(longer) < pace(point)) {
            None => found.points.push(*point),
            Some(longer) => found.contradicted.push(format!(
                "{:.0} m {} in {} is slower a metre than {:.0} m in {}: not used",
                point.0,
                machine.name(),
                clock(point.1),
                longer.0,
                clock(longer.1)
            )),
        }
    }
    found
}

/// What somebody's result nearest to 2000 m on a machine says of the same on the rower: watts, and the result in words.
pub(super) fn watts_over_2000(member: &Member, machine: Machine, ski_power: f64) -> Option<(f64, String)> {
    let of_row = if machine == Machine::Bike { 2000.0 * BIKE_METRES } else { 2000.0 };
    let (metres, seconds) = nearest(member, machine, of_row)?;
    let watts = machine.watts(seconds / metres * (of_row / metres).powf(ERG_LONG - 1.0));
    let power = if machine == Machine::Ski { ski_power } else { 1.0 };
    Some((watts / power, format!("{metres:.0} m {} in {}", machine.name(), clock(seconds))))
}

/// What somebody's run nearest to 1600 m says of that distance: metres a second, and the run in words.
pub(super) fn speed_over_1600(member: &Member) -> Option<(f64, String)> {
    let (metres, seconds) = nearest(member, Machine::Run, 1600.0)?;
    let speed = metres / seconds * (1600.0 / metres).powf(1.0 - RUN_MIDDLE);
    Some((speed, format!("{metres:.0} m run in {}", clock(seconds))))
}

fn nearest(member: &Member, machine: Machine, metres: f64) -> Option<(f64, f64)> {
    let off = |point: &(f64, f64)| (point.0 / metres).ln().abs();
    results(member, machine).points.into_iter().min_by(|a, b| off(a).total_cmp(&off(b)))
}

/// What is counted and on what.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
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

    /// All of them.
    pub const ALL: [Self; 4] = [Self::Run, Self::Row, Self::Ski, Self::Bike];

    /// In a word.
    pub const fn name(self) -> &'static str {
        match self {
            Self::Run => "run",
            Self::Row => "row",
            Self::Ski => "ski",
            Self::Bike => "bike",
        }
    }

    /// Metres of this machine that a result stands for: calories by what the monitor makes of power and power of pace.
    fn metres_of(self, result: &TimedResult) -> f64 {
        if result.unit != Unit::Calories {
            return result.amount;
        }
        let watts = watts_of_calories(result.seconds / result.amount);
        result.seconds / metre_seconds(watts) * if self == Self::Bike { BIKE_METRES } else { 1.0 }
    }

    /// Watts at a pace of this machine, in seconds a metre.
    pub(super) fn watts(self, pace: f64) -> f64 {
        erg_watts(if self == Self::Bike { pace * BIKE_METRES } else { pace })
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

/// Watts at a pace in seconds a calorie: [`calorie_seconds`] the other way round.
pub fn watts_of_calories(seconds: f64) -> f64 {
    (3600.0 / seconds.max(0.1) - 300.0) / (4.0 * 0.8604)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn timed(machine: Machine, amount: f64, unit: Unit, seconds: f64) -> TimedResult {
        TimedResult { machine, amount, unit, seconds }
    }

    #[test]
    fn results_of_any_distance_bend_the_curve_through_themselves() {
        let results = vec![
            timed(Machine::Row, 500.0, Unit::Metres, 95.0),
            timed(Machine::Row, 5000.0, Unit::Metres, 1230.0),
            timed(Machine::Run, 5000.0, Unit::Metres, 1500.0),
        ];
        let member = Member { row_2k_s: Some(455), results, ..Member::default() };
        let fitness = Fitness::of(&member);
        let (row, run) = (Curve::row(&member, &fitness), Curve::run(&member, &fitness));
        for (metres, seconds) in [(500.0, 95.0), (2000.0, 455.0), (5000.0, 1230.0)] {
            assert!((row.seconds(metres) - seconds).abs() < 1e-6, "{metres}");
        }
        // Between two results it is slower than the shorter and quicker than the longer one, on either side of the middle.
        for (metres, [low, high]) in [(1000.0, [95.0 / 500.0, 455.0 / 2000.0]), (3000.0, [0.2275, 0.246])] {
            let pace = row.seconds(metres) / metres;
            assert!(low < pace && pace < high, "{metres} m at {pace} s a metre");
        }
        assert!((run.seconds(5000.0) - 1500.0).abs() < 1e-6 && run.seconds(400.0) < 120.0 && !run.guess);
    }

    #[test]
    fn calories_in_a_time_are_the_pace_that_the_monitor_counts_them_at() {
        // 200 W for ten minutes: 3600 / 3.64 s a calorie, 2:00.5 a 500 m.
        let calories = 600.0 / calorie_seconds(200.0);
        let results = vec![timed(Machine::Ski, calories, Unit::Calories, 600.0)];
        let member = Member { results, ..Member::default() };
        let ski = Curve::machine(&member, Machine::Ski, &Fitness::of(&member)).unwrap();
        assert!((ski.pace_for(600.0) - metre_seconds(200.0)).abs() < 1e-6);
    }

    #[test]
    fn a_short_result_that_a_long_one_contradicts_is_shown_and_not_used() {
        let slow = vec![timed(Machine::Row, 500.0, Unit::Metres, 130.0)];
        let member = Member { row_2k_s: Some(455), results: slow, ..Member::default() };
        let found = results(&member, Machine::Row);
        assert_eq!(found.points, [(2000.0, 455.0)]);
        assert!(found.contradicted[0].starts_with("500 m row in 2:10 is slower"), "{found:?}");
    }

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

    #[test]
    fn another_distance_on_the_same_machine_says_what_two_thousand_metres_would_take() {
        let over = |results: Vec<TimedResult>, machine| {
            watts_over_2000(&Member { results, ..Member::default() }, machine, 0.9).unwrap()
        };
        let two = over(vec![timed(Machine::Row, 2000.0, Unit::Metres, 480.0)], Machine::Row);
        assert!((two.0 - Machine::Row.watts(480.0 / 2000.0)).abs() < 1e-9, "{two:?}");
        assert_eq!(two.1, "2000 m row in 8:00");
        // The pace of a shorter one is not held for longer: fewer watts, but not by half.
        let one = over(vec![timed(Machine::Row, 1000.0, Unit::Metres, 240.0)], Machine::Row);
        assert!(one.0 < two.0 && one.0 > 0.8 * two.0, "{one:?}");
        // On the ski machine the same watts are worth more.
        let ski = over(vec![timed(Machine::Ski, 2000.0, Unit::Metres, 480.0)], Machine::Ski);
        assert!((ski.0 - Machine::Ski.watts(0.24) / 0.9).abs() < 1e-9, "{ski:?}");
    }
}
