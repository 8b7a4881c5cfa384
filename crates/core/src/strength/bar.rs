//! What a bar can hold: rounding to plates that exist, and the plates for each side.

use serde::Serialize;

use crate::gym::Gym;
use crate::units::Kilograms;

/// A bar with the same plates on both sides.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct LoadedBar {
    /// Bar and plates together.
    pub total: Kilograms,
    /// The bar alone.
    pub bar: Kilograms,
    /// Plates of one side from the inside out, in the gym's unit: heaviest first, or what lay on the bar before and then what was added.
    pub plates_per_side: Vec<f64>,
}

/// The heaviest load at or below `wanted` that one bar of the gym can hold. A load under the lightest
/// bar gives that bar empty.
///
/// Bars are tried heaviest first, so a load is put on the bar people expect; a lighter bar is used only
/// when it comes closer.
pub fn load_bar(gym: &Gym, wanted: Kilograms) -> LoadedBar {
    let mut best: Option<LoadedBar> = None;
    let mut bars: Vec<Kilograms> =
        gym.bars.iter().filter(|bar| bar.count > 0).map(|bar| gym.weight(bar.weight)).collect();
    bars.sort_by_key(|bar| std::cmp::Reverse(*bar));
    for bar in &bars {
        if *bar > wanted {
            continue;
        }
        let loaded = fill(gym, *bar, wanted);
        if best.as_ref().is_none_or(|known| loaded.total > known.total) {
            best = Some(loaded);
        }
    }
    best.unwrap_or_else(|| {
        let bar = bars.last().copied().unwrap_or_default();
        LoadedBar { total: bar, bar, plates_per_side: Vec::new() }
    })
}

/// The heaviest load at or below `wanted` on one `bar` of the gym; on a lighter one, where the load is under that.
pub fn at_most(gym: &Gym, bar: Kilograms, wanted: Kilograms) -> LoadedBar {
    if wanted < bar { load_bar(gym, wanted) } else { fill(gym, bar, wanted) }
}

/// The load that one bar of the gym can hold which is nearest to `wanted`; of two as near the lighter. `bar` is the one to put it on, where the
/// load is not under it.
pub fn nearest_bar(gym: &Gym, bar: Kilograms, wanted: Kilograms) -> LoadedBar {
    let below = at_most(gym, bar, wanted);
    let smallest = gym.plates.iter().filter(|plate| plate.count >= 2).map(|plate| gym.weight(plate.weight));
    let Some(step) = smallest.filter(|plate| *plate > Kilograms::ZERO).min() else { return below };
    let above = at_most(gym, bar, wanted + step * 2);
    let off = |loaded: &LoadedBar| (loaded.total.kg() - wanted.kg()).abs();
    if off(&above) < off(&below) - 1e-9 { above } else { below }
}

/// The same load on another bar; none where that bar does not come to it.
pub(super) fn on_bar(gym: &Gym, bar: Kilograms, load: &LoadedBar) -> Option<LoadedBar> {
    let other = (bar <= load.total).then(|| fill(gym, bar, load.total))?;
    (other.total == load.total).then_some(other)
}

/// The bar that somebody takes: the heaviest of the gym, or for who takes the second of a pair of numbers the one below it that
/// is made for smaller hands, from 14 to 16 kg.
pub fn usual_bar(gym: &Gym, first_of_pair: bool) -> Kilograms {
    let owned = gym.bars.iter().filter(|bar| bar.count > 0).map(|bar| gym.weight(bar.weight));
    let smaller = owned.clone().filter(|bar| !first_of_pair && (14.0..16.5).contains(&bar.kg())).max();
    smaller.or(owned.max()).unwrap_or_default()
}

/// A heavier load on the same bar, made of the plates that lie on it and more outside of them; none where that does not come to it exactly, or
/// the bar is another.
pub(super) fn added_to(gym: &Gym, below: &LoadedBar, load: &LoadedBar) -> Option<LoadedBar> {
    let same_bar = below.bar == load.bar && below.total <= load.total;
    let added = same_bar.then(|| fill_up(gym, below.clone(), load.total))?;
    (added.total == load.total).then_some(added)
}

/// Heaviest plates first on an empty bar, as they are put on.
fn fill(gym: &Gym, bar: Kilograms, wanted: Kilograms) -> LoadedBar {
    fill_up(gym, LoadedBar { total: bar, bar, plates_per_side: Vec::new() }, wanted)
}

/// Heaviest plates first outside of those that lie on the bar; pairs limited by what is owned. Greedy filling is exact for the usual plate
/// sets, where each plate is at least the sum of some smaller ones.
fn fill_up(gym: &Gym, on: LoadedBar, wanted: Kilograms) -> LoadedBar {
    let taken = |weight: f64| on.plates_per_side.iter().filter(|plate| **plate == weight).count() as u32;
    let mut plates: Vec<(Kilograms, f64, u32)> = gym
        .plates
        .iter()
        .map(|plate| {
            let left = (plate.count / 2).saturating_sub(taken(plate.weight));
            (gym.weight(plate.weight), plate.weight, left)
        })
        .collect();
    plates.sort_by_key(|plate| std::cmp::Reverse(plate.0));
    // Converting pounds to whole grams may cost a gram a plate.
    let slack = Kilograms::from_grams(5);
    let LoadedBar { mut total, bar, plates_per_side: mut side } = on;
    for (weight, shown, pairs) in plates {
        let mut left = pairs;
        while left > 0 && weight > Kilograms::ZERO && total + weight * 2 <= wanted + slack {
            total = total + weight * 2;
            side.push(shown);
            left -= 1;
        }
    }
    LoadedBar { total, bar, plates_per_side: side }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::gym::{Bar, Plate};
    use crate::units::WeightUnit;
    use proptest::prelude::*;

    #[test]
    fn a_load_between_steps_goes_down_to_what_the_plates_make() {
        let loaded = load_bar(&Gym::default(), Kilograms::from_kg(91.3));
        assert_eq!(loaded.total.kg(), 90.0);
        assert_eq!(loaded.plates_per_side, [25.0, 10.0]);
        assert_eq!(load_bar(&Gym::default(), Kilograms::from_kg(92.5)).total.kg(), 92.5);
    }

    #[test]
    fn a_light_load_takes_a_lighter_bar_and_never_less_than_one() {
        assert_eq!(load_bar(&Gym::default(), Kilograms::from_kg(17.6)).bar.kg(), 15.0);
        assert_eq!(load_bar(&Gym::default(), Kilograms::from_kg(4.0)).total.kg(), 10.0);
    }

    #[test]
    fn no_more_pairs_are_put_on_than_there_are() {
        let gym = Gym {
            bars: vec![Bar { name: "bar".into(), weight: 20.0, count: 1 }],
            plates: vec![Plate { weight: 20.0, count: 5 }, Plate { weight: 5.0, count: 6 }],
            ..Gym::default()
        };
        let loaded = load_bar(&gym, Kilograms::from_kg(500.0));
        assert_eq!(loaded.plates_per_side, [20.0, 20.0, 5.0, 5.0, 5.0]);
        assert_eq!(loaded.total.kg(), 130.0);
    }

    #[test]
    fn pounds_stay_pounds() {
        let gym = Gym {
            unit: WeightUnit::Lb,
            bars: vec![Bar { name: "bar".into(), weight: 45.0, count: 1 }],
            plates: [45.0, 25.0, 10.0, 5.0, 2.5].map(|weight| Plate { weight, count: 8 }).to_vec(),
            ..Gym::default()
        };
        let loaded = load_bar(&gym, Kilograms::from_lb(187.0));
        assert_eq!(loaded.total.in_unit(WeightUnit::Lb), 185.0);
        assert_eq!(loaded.plates_per_side, [45.0, 25.0]);
    }

    proptest! {
        #[test]
        fn prop_rounding_never_adds_load_and_plates_sum_to_the_weight(kg in 10.0..300.0_f64) {
            let gym = Gym::default();
            let loaded = load_bar(&gym, Kilograms::from_kg(kg));
            let sides: f64 = loaded.plates_per_side.iter().sum::<f64>() * 2.0;
            prop_assert!(loaded.total.kg() <= kg + 0.01);
            prop_assert!((loaded.bar.kg() + sides - loaded.total.kg()).abs() < 0.001);
        }
    }
}
