//! Columns of results on machines and of runs, and what nobody does.

use crate::member::TimedResult;
use crate::movement::{MovementId, Pattern, Unit};
use crate::pacing::Machine;

/// What a column of results counts.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Timed {
    /// A time over so many metres: `ski_1000m`.
    Metres(f64),
    /// Calories in so many seconds: `bike_10min_cal`.
    CaloriesIn(f64),
}

/// `row_500m`, `run_5000m`, `ski_10min_cal`: a machine, or a run, and how far or how long.
pub(super) fn timed_column(key: &str) -> Option<(Machine, Timed)> {
    let (machine, of) = key.split_once('_')?;
    let machine = Machine::ALL.into_iter().find(|known| known.name() == machine)?;
    let number = |text: &str| text.parse::<u32>().ok().map(f64::from);
    let timed = match (of.strip_suffix("min_cal"), of.strip_suffix('m')) {
        (Some(minutes), _) if machine != Machine::Run => {
            Timed::CaloriesIn(number(minutes).filter(|n| (1.0..=120.0).contains(n))? * 60.0)
        }
        (_, Some(metres)) => Timed::Metres(number(metres).filter(|n| (50.0..=50_000.0).contains(n))?),
        _ => return None,
    };
    Some((machine, timed))
}

/// The column that a result stands in.
pub(super) fn timed_key(result: &TimedResult) -> String {
    let machine = result.machine.name();
    match result.unit {
        Unit::Calories => format!("{machine}_{:.0}min_cal", result.seconds / 60.0),
        _ => format!("{machine}_{:.0}m", result.amount),
    }
}

/// Metres a second that nobody in a class goes faster or slower at, over a few hundred metres and beyond: world records, and a slow walk.
/// A bike goes twice as far.
const RUN_SPEEDS: ((f64, f64), f64) = ((9.9, 7.4), 0.7);
const ERG_SPEEDS: ((f64, f64), f64) = ((6.6, 6.2), 1.5);
/// Up to here it is a few hundred metres.
const SPRINT_M: f64 = 800.0;
/// Calories a minute that a machine counts for anybody.
const CALORIES_A_MINUTE: std::ops::RangeInclusive<f64> = 2.0..=70.0;

/// Whether a result is one that somebody in a class can have.
pub(super) fn is_possible(result: &TimedResult) -> bool {
    if result.unit == Unit::Calories {
        return CALORIES_A_MINUTE.contains(&(result.amount / result.seconds * 60.0));
    }
    let ((sprint, far), slowest) = if result.machine == Machine::Run { RUN_SPEEDS } else { ERG_SPEEDS };
    let scale = if result.machine == Machine::Bike { 2.0 } else { 1.0 };
    let speed = result.amount / result.seconds / scale;
    (slowest..=if result.amount < SPRINT_M { sprint } else { far }).contains(&speed)
}

/// The heaviest that anybody does of a lift, in kilograms, roughly: the records of its pattern.
pub(super) fn heaviest(lift: &MovementId) -> f64 {
    let pattern = crate::movement::Catalogue::standard().get(lift).map(|movement| movement.pattern);
    match pattern {
        Some(Pattern::Squat | Pattern::Hinge) => 520.0,
        Some(Pattern::PressHorizontal) => 360.0,
        Some(Pattern::PressVertical | Pattern::Olympic) => 280.0,
        _ => 400.0,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn nobody_is_quicker_than_the_records_and_a_short_way_is_quicker_than_a_long_one() {
        let over = |machine: Machine, amount: f64, seconds: f64| {
            is_possible(&TimedResult { machine, unit: Unit::Metres, amount, seconds })
        };
        // 8.5 m/s holds for 400 m, and for nobody over 5 km; a bike goes twice as far.
        assert!(over(Machine::Run, 400.0, 47.0) && !over(Machine::Run, 5000.0, 588.0));
        assert!(over(Machine::Run, 5000.0, 900.0) && !over(Machine::Run, 400.0, 900.0));
        assert!(over(Machine::Bike, 5000.0, 588.0) && !over(Machine::Row, 5000.0, 588.0));
        let calories = |amount: f64, seconds: f64| {
            is_possible(&TimedResult { machine: Machine::Row, unit: Unit::Calories, amount, seconds })
        };
        assert!(calories(200.0, 600.0) && !calories(1000.0, 600.0) && !calories(10.0, 600.0));
    }
}
