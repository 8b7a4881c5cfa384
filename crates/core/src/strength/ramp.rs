//! Climbing to the working weight: ramp sets as shares of it.

use crate::units::{Kilograms, WeightUnit};

/// A ramp step: share of the working weight, and repetitions.
type Step = (f64, u32);

/// Steps by how heavy the work is, after the empty bar; common coaching practice.
const LIGHT: &[Step] = &[(0.50, 5), (0.70, 4), (0.85, 2)];
const MEDIUM: &[Step] = &[(0.40, 5), (0.60, 4), (0.75, 3), (0.88, 2)];
const HEAVY: &[Step] = &[(0.40, 5), (0.55, 3), (0.70, 2), (0.80, 1), (0.88, 1), (0.94, 1)];
/// Steps closer than this are merged.
const CLOSEST: Kilograms = Kilograms::from_grams(5_000);

/// Wanted ramp loads and repetitions for a first working weight of `percent` of the 1RM, lightest first.
/// Steps at or below the bar, or within 5 kg of another, are left out.
pub fn ramp(working: Kilograms, percent: f64, bar: Kilograms) -> Vec<(Kilograms, u32)> {
    let steps = match percent {
        p if p < 75.0 => LIGHT,
        p if p < 87.0 => MEDIUM,
        _ => HEAVY,
    };
    let mut sets: Vec<(Kilograms, u32)> = Vec::new();
    if bar + CLOSEST <= working {
        sets.push((bar, if percent < 87.0 { 8 } else { 6 }));
    }
    for (share, reps) in steps {
        let load = working.share(*share);
        let far_from_last = sets.last().is_none_or(|(last, _)| load >= *last + CLOSEST);
        if load > bar && far_from_last && load + CLOSEST.share(0.5) <= working {
            sets.push((load, *reps));
        }
    }
    sets
}

/// Weights from here on are climbed to in the gym's bigger plates, in kilograms.
const HEAVY_KG: f64 = 60.0;

/// Ramp loads in plates that one would put on: fives and up below 60 kg, tens and up above, twice that in pounds. A step that would fall
/// together with another, or reach the work, stays where it is.
pub(super) fn in_big_plates(
    sets: Vec<(Kilograms, u32)>,
    working: Kilograms,
    bar: Kilograms,
    unit: WeightUnit,
) -> Vec<(Kilograms, u32)> {
    let mut before = Kilograms::ZERO;
    let mut rounded = Vec::with_capacity(sets.len());
    for (load, reps) in sets {
        let step = match (unit, load.kg() < HEAVY_KG) {
            (WeightUnit::Kg, true) => 5.0,
            (WeightUnit::Kg, false) | (WeightUnit::Lb, true) => 10.0,
            (WeightUnit::Lb, false) => 20.0,
        };
        let on_top = load.in_unit(unit) - bar.in_unit(unit);
        let big = bar + Kilograms::from_unit((on_top / step).round().max(0.0) * step, unit);
        let load = if big > before && big + CLOSEST.share(0.5) <= working { big } else { load };
        before = load;
        rounded.push((load, reps));
    }
    rounded
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_medium_ramp_climbs_in_four_steps_after_the_bar() {
        let sets = ramp(Kilograms::from_kg(100.0), 80.0, Kilograms::from_kg(20.0));
        let kg: Vec<f64> = sets.iter().map(|(load, _)| load.kg()).collect();
        assert_eq!(kg, [20.0, 40.0, 60.0, 75.0, 88.0]);
    }

    #[test]
    fn a_climb_is_made_of_plates_that_one_puts_on() {
        let bar = Kilograms::from_kg(20.0);
        let of = |kg: f64| -> Vec<f64> {
            let working = Kilograms::from_kg(kg);
            let sets = in_big_plates(ramp(working, 80.0, bar), working, bar, WeightUnit::Kg);
            sets.iter().map(|(load, _)| load.kg()).collect()
        };
        assert_eq!(of(125.0), [20.0, 50.0, 80.0, 90.0, 110.0]);
        assert_eq!(of(57.5), [20.0, 35.0, 45.0, 50.0]);
    }

    proptest! {
        #[test]
        fn prop_big_plates_still_climb(kg in 22.0..220.0_f64, percent in 55.0..100.0_f64) {
            let (bar, working) = (Kilograms::from_kg(20.0), Kilograms::from_kg(kg));
            let sets = in_big_plates(ramp(working, percent, bar), working, bar, WeightUnit::Kg);
            prop_assert!(sets.windows(2).all(|pair| pair[0].0 < pair[1].0), "{:?}", sets);
            prop_assert!(sets.iter().all(|(load, _)| *load < working));
        }

        #[test]
        fn prop_more_load_never_means_fewer_ramp_sets(light in 20.0..150.0_f64, more in 0.0..100.0_f64) {
            let bar = Kilograms::from_kg(20.0);
            let few = ramp(Kilograms::from_kg(light), 80.0, bar).len();
            let many = ramp(Kilograms::from_kg(light + more), 80.0, bar).len();
            prop_assert!(many >= few);
        }
    }
}
