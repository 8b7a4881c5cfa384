//! Plates that stay on: who shares a bar takes what lies on it and adds to it.

use super::bar::added_to;
use super::racks::{RackPlan, how_short, turn_about, work_loads, work_loads_mut};
use super::sheet::LiftSheet;
use crate::gym::Gym;

/// Plates a side that a load may have more than the fewest: beyond that a sleeve is counted wrongly.
const MOST_MORE: usize = 2;

/// Has those who share a bar leave plates on it for one another, where fewer are moved so: the lighter one's stay, and the heavier one's are
/// added outside. Loads stay as they are, and the gym has too little of nothing more than before.
pub fn leave_plates_on(sheets: &mut [LiftSheet], plan: &RackPlan, gym: &Gym) {
    for rack in &plan.racks {
        let before: Vec<LiftSheet> = rack.order.iter().map(|n| sheets[*n].clone()).collect();
        let after = stacked(&before, gym);
        let moved = |of: &[LiftSheet]| turn_about((0..of.len()).collect(), of).plates_moved;
        if moved(&after) >= moved(&before) {
            continue;
        }
        let mut put = |of: Vec<LiftSheet>| {
            let short = how_short(&plan.racks, sheets, gym);
            rack.order.iter().zip(of).for_each(|(n, sheet)| sheets[*n] = sheet);
            how_short(&plan.racks, sheets, gym) > short
        };
        if put(after) {
            put(before);
        }
    }
}

/// The sheets of a rack with each set's plates on top of the next lighter one's.
fn stacked(sheets: &[LiftSheet], gym: &Gym) -> Vec<LiftSheet> {
    let mut own = sheets.to_vec();
    let sets = own.iter().map(|sheet| work_loads(sheet).count()).max().unwrap_or(0);
    for set in 0..sets {
        let mut turns: Vec<_> = own.iter_mut().filter_map(|sheet| work_loads_mut(sheet).nth(set)).collect();
        turns.sort_by_key(|load| load.total);
        for n in 1..turns.len() {
            let (lighter, heavier) = turns.split_at_mut(n);
            let fewest = heavier[0].plates_per_side.len();
            let added = added_to(gym, lighter[n - 1], heavier[0]);
            if let Some(added) = added.filter(|load| load.plates_per_side.len() <= fewest + MOST_MORE) {
                *heavier[0] = added;
            }
        }
    }
    own
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::strength::racks::tests::squatters;
    use crate::strength::{LiftPlace, Rack, rack_groups};
    use proptest::prelude::*;

    #[test]
    fn the_lighter_ones_plates_stay_on_for_the_heavier_one() {
        let gym = Gym { racks: 1, ..Gym::default() };
        let mut pair = squatters("Back squat 3x5 @ 75%", &[70.0, 84.0], &gym);
        let before = rack_groups(&pair, LiftPlace::Rack, &gym);
        leave_plates_on(&mut pair, &before, &gym);
        let after = rack_groups(&pair, LiftPlace::Rack, &gym);
        let plates = |n: usize| work_loads(&pair[n]).next().unwrap().plates_per_side.clone();
        // 52.5 and 62.5 kg on a bar of 15: what makes 18.75 a side stays, and five more make 23.75.
        assert_eq!((plates(0), plates(1)), (vec![15.0, 2.5, 1.25], vec![15.0, 2.5, 1.25, 5.0]));
        // One pair on and off again at each of five changes.
        assert_eq!(after.racks[0].plates_moved, 10);
        assert!(before.racks[0].plates_moved > 10, "{:?}", before.racks);
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(40))]
        #[test]
        fn prop_loads_stay_and_no_more_plates_are_moved_or_missing(
            maxes in prop::collection::vec(40.0..200.0_f64, 1..20),
            racks in 1_u32..7,
        ) {
            let gym = Gym { racks, ..Gym::default() };
            let before = squatters("Back squat 4x4 @ 70-85%", &maxes, &gym);
            let plan = rack_groups(&before, LiftPlace::Rack, &gym);
            let mut after = before.clone();
            leave_plates_on(&mut after, &plan, &gym);
            for (before, after) in before.iter().zip(&after) {
                for (before, after) in work_loads(before).zip(work_loads(after)) {
                    prop_assert_eq!((before.total, before.bar), (after.total, after.bar));
                    let side: f64 = after.plates_per_side.iter().sum();
                    prop_assert!((after.bar.kg() + 2.0 * side - after.total.kg()).abs() < 0.001);
                }
            }
            let again = rack_groups(&after, LiftPlace::Rack, &gym);
            let moved = |racks: &[Rack]| racks.iter().map(|rack| rack.plates_moved).sum::<u32>();
            prop_assert!(moved(&again.racks) <= moved(&plan.racks));
            prop_assert!(again.shortages.len() <= plan.shortages.len(), "{:?}", again.shortages);
        }
    }
}
