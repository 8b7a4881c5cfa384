//! Racks shared by members of similar weights, and whether the plates suffice for all bars at once.

use std::collections::BTreeMap;

use serde::Serialize;

use super::bar::LoadedBar;
use super::sheet::{LiftSheet, SetKind};
use crate::gym::Gym;
use crate::units::{Kilograms, plain};

/// Most members on one rack: more wait longer than they rest.
const MOST_ON_A_RACK: usize = 4;
/// Members on one rack whose order is tried in every way; for more, lightest first is taken.
const MOST_ORDERED: usize = 5;

/// A rack and who shares it.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Rack {
    /// Places in the list of sheets, in the order in which they lift within a set.
    pub order: Vec<usize>,
    /// Lightest and heaviest work load on the rack.
    pub low: Kilograms,
    /// See `low`.
    pub high: Kilograms,
    /// Plates moved over all work sets in that order, both sides counted.
    pub plates_moved: u32,
}

/// A lift's racks.
#[derive(Clone, Debug, Default, PartialEq, Serialize)]
pub struct RackPlan {
    /// Racks, lightest first.
    pub racks: Vec<Rack>,
    /// Places of the sheets that go by feel and join wherever there is room.
    pub by_feel: Vec<usize>,
    /// Places of the sheets that need no bar, where the lift itself needs one.
    pub beside: Vec<usize>,
    /// What is short, and what to do.
    pub shortages: Vec<String>,
}

/// Groups the sheets of one lift into the racks there are. Members with similar work loads share; within a
/// rack the order moves the fewest plates.
pub fn rack_groups(sheets: &[LiftSheet], gym: &Gym) -> RackPlan {
    let (with_bar, beside): (Vec<usize>, Vec<usize>) = (0..sheets.len()).partition(|&n| sheets[n].on_a_bar);
    let (mut loaded, by_feel): (Vec<usize>, Vec<usize>) =
        with_bar.into_iter().partition(|&n| top_load(&sheets[n]).is_some());
    loaded.sort_by_key(|&n| (top_load(&sheets[n]), n));
    let bars: u32 = gym.bars.iter().map(|bar| bar.count).sum();
    let places = gym.racks.min(bars).max(1) as usize;
    let groups = split(&loaded, places, |n| top_load(&sheets[n]).map_or(0.0, Kilograms::kg));
    let mut racks: Vec<Rack> = groups.into_iter().map(|group| rack(group, sheets)).collect();
    racks.retain(|rack| !rack.order.is_empty());
    let mut shortages = Vec::new();
    let room = places * MOST_ON_A_RACK;
    let lifters = loaded.len() + by_feel.len();
    if lifters > room {
        shortages.push(format!(
            "{lifters} lifters on {places} racks: more than {MOST_ON_A_RACK} on a rack wait longer than they rest; let two halves \
             start the lift and the warm-up crosswise, or take a lift off the floor"
        ));
    }
    shortages.extend(plate_shortages(&racks, sheets, gym));
    RackPlan { racks, by_feel, beside, shortages }
}

fn top_load(sheet: &LiftSheet) -> Option<Kilograms> {
    work_loads(sheet).map(|load| load.total).max()
}

fn work_loads(sheet: &LiftSheet) -> impl Iterator<Item = &LoadedBar> {
    sheet.sets.iter().filter(|set| set.kind == SetKind::Work).filter_map(|set| set.load.as_ref())
}

/// Splits a sorted list into at most `places` runs so that the differences within the runs are least: dynamic
/// programming over where each run ends.
fn split(sorted: &[usize], places: usize, load: impl Fn(usize) -> f64) -> Vec<Vec<usize>> {
    let count = sorted.len();
    if count == 0 {
        return Vec::new();
    }
    let longest = MOST_ON_A_RACK.max(count.div_ceil(places));
    let places = places.min(count);
    // A light pull towards even groups, so that nobody has a rack alone beside a crowded one.
    let cost = |from: usize, to: usize| {
        let (low, high) = (load(sorted[from]), load(sorted[to - 1]));
        high - low + ((to - from) as f64).powi(2) * 0.8
    };
    let mut best = vec![vec![(f64::INFINITY, 0); count + 1]; places + 1];
    best[0][0] = (0.0, 0);
    for rack in 1..=places {
        for to in 1..=count {
            for from in to.saturating_sub(longest)..to {
                let total = best[rack - 1][from].0 + cost(from, to);
                if total < best[rack][to].0 {
                    best[rack][to] = (total, from);
                }
            }
        }
    }
    let used = (1..=places).min_by(|&a, &b| best[a][count].0.total_cmp(&best[b][count].0)).unwrap_or(places);
    let (mut groups, mut to) = (Vec::new(), count);
    for rack in (1..=used).rev() {
        let from = best[rack][to].1;
        groups.push(sorted[from..to].to_vec());
        to = from;
    }
    groups.reverse();
    groups
}

fn rack(group: Vec<usize>, sheets: &[LiftSheet]) -> Rack {
    let (order, plates_moved) = if group.len() <= MOST_ORDERED {
        permutations(&group)
            .into_iter()
            .map(|order| {
                let moved = moved(&order, sheets);
                (order, moved)
            })
            .min_by_key(|(_, moved)| *moved)
            .unwrap_or((group.clone(), 0))
    } else {
        let moved = moved(&group, sheets);
        (group.clone(), moved)
    };
    let tops: Vec<Kilograms> = group.iter().filter_map(|&n| top_load(&sheets[n])).collect();
    let low = tops.iter().min().copied().unwrap_or_default();
    let high = tops.iter().max().copied().unwrap_or_default();
    Rack { order, low, high, plates_moved }
}

/// Plates put on and taken off when the members of a rack lift in this order, set after set.
fn moved(order: &[usize], sheets: &[LiftSheet]) -> u32 {
    let loads: Vec<Vec<&LoadedBar>> = order.iter().map(|&n| work_loads(&sheets[n]).collect()).collect();
    let sets = loads.iter().map(Vec::len).max().unwrap_or(0);
    let turns = (0..sets).flat_map(|set| loads.iter().filter_map(move |mine| mine.get(set).copied()));
    let mut on_bar: Option<&LoadedBar> = None;
    let mut moved = 0;
    for load in turns {
        if let Some(before) = on_bar {
            moved += plates_between(before, load);
        }
        on_bar = Some(load);
    }
    moved
}

/// Plates that differ between two loads, both sides counted. Plates sit in order of weight, so those outside the
/// first that differs come off too.
fn plates_between(a: &LoadedBar, b: &LoadedBar) -> u32 {
    let same = a.plates_per_side.iter().zip(&b.plates_per_side).take_while(|(x, y)| x == y).count();
    2 * (a.plates_per_side.len() + b.plates_per_side.len() - 2 * same) as u32
}

fn permutations(items: &[usize]) -> Vec<Vec<usize>> {
    if items.len() <= 1 {
        return vec![items.to_vec()];
    }
    let mut all = Vec::new();
    for n in 0..items.len() {
        let mut rest = items.to_vec();
        let first = rest.remove(n);
        for mut order in permutations(&rest) {
            order.insert(0, first);
            all.push(order);
        }
    }
    all
}

/// Plates that all bars together want more of than there are, at the set where most is missing.
fn plate_shortages(racks: &[Rack], sheets: &[LiftSheet], gym: &Gym) -> Vec<String> {
    let mut worst: BTreeMap<u64, (u32, usize)> = BTreeMap::new();
    let sets =
        racks.iter().flat_map(|rack| &rack.order).map(|&n| work_loads(&sheets[n]).count()).max().unwrap_or(0);
    for set in 0..sets {
        for (weight, wanted) in wanted_plates(racks, sheets, set) {
            let kept = worst.entry(weight).or_default();
            *kept = (*kept).max((wanted, set));
        }
    }
    let mut short = Vec::new();
    for (weight, (wanted, set)) in worst.into_iter().rev() {
        let weight = f64::from_bits(weight);
        let owned =
            gym.plates.iter().filter(|plate| plate.weight == weight).map(|plate| plate.count).sum::<u32>();
        if wanted > owned {
            let pairs = (wanted - owned).div_ceil(2);
            short.push(format!(
                "{wanted} plates of {} {} wanted at once in set {}, {owned} owned: {}",
                plain(weight),
                gym.unit,
                set + 1,
                instead(weight, pairs, racks, gym)
            ));
        }
    }
    short
}

/// Plates by weight that are on the bars at once in one set: each rack's most demanding member counts. Keys are the
/// bits of the weight, since floats have no order.
fn wanted_plates(racks: &[Rack], sheets: &[LiftSheet], set: usize) -> BTreeMap<u64, u32> {
    let mut all: BTreeMap<u64, u32> = BTreeMap::new();
    for rack in racks {
        let mut on_rack: BTreeMap<u64, u32> = BTreeMap::new();
        for load in rack.order.iter().filter_map(|&n| work_loads(&sheets[n]).nth(set)) {
            let mut own: BTreeMap<u64, u32> = BTreeMap::new();
            for plate in &load.plates_per_side {
                *own.entry(plate.to_bits()).or_default() += 2;
            }
            for (weight, count) in own {
                let kept = on_rack.entry(weight).or_default();
                *kept = (*kept).max(count);
            }
        }
        for (weight, count) in on_rack {
            *all.entry(weight).or_default() += count;
        }
    }
    all
}

/// What to put on in place of a plate that is short: two or more lighter ones that add up to it, else fewer bars.
fn instead(weight: f64, pairs: u32, racks: &[Rack], gym: &Gym) -> String {
    let mut lighter: Vec<f64> = gym.plates.iter().map(|plate| plate.weight).filter(|w| *w < weight).collect();
    lighter.sort_by(|a, b| b.total_cmp(a));
    let bars = if pairs == 1 { "one bar".to_owned() } else { format!("{pairs} bars") };
    for (n, first) in lighter.iter().enumerate() {
        if let Some(second) = lighter[n..].iter().find(|second| (first + **second - weight).abs() < 1e-9) {
            return format!("load {bars} with {} + {} in its place", plain(*first), plain(*second));
        }
    }
    match racks.len() {
        0 | 1 => "take the next lighter step".to_owned(),
        racks => format!("lift in {} racks instead of {racks}, or start {bars} a set later", racks - 1),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::gym::Plate;
    use crate::member::{Experience, Max, Member};
    use crate::movement::{Catalogue, MovementId};
    use crate::read::read;
    use crate::strength::lift_sheet;
    use proptest::prelude::*;

    fn sheets(maxes: &[f64], gym: &Gym) -> Vec<LiftSheet> {
        let catalogue = Catalogue::standard();
        let part = read("Back squat 5x5 @ 75%", catalogue).session.parts.remove(0);
        let lift = catalogue.get(&MovementId::new("back-squat")).unwrap();
        maxes
            .iter()
            .zip(1..)
            .map(|(kg, n)| {
                let member = Member {
                    name: format!("Member {n}"),
                    maxes: [(lift.id.clone(), Max::on_file(Kilograms::from_kg(*kg)))].into(),
                    experience: Experience::Intermediate,
                    ..Member::default()
                };
                lift_sheet(&part, lift, &member, gym, catalogue)
            })
            .collect()
    }

    #[test]
    fn members_of_similar_weights_share_a_rack() {
        let gym = Gym { racks: 3, ..Gym::default() };
        let plan = rack_groups(&sheets(&[60.0, 150.0, 62.0, 100.0, 104.0, 148.0], &gym), &gym);
        let groups: Vec<Vec<usize>> = plan
            .racks
            .iter()
            .map(|rack| {
                let mut order = rack.order.clone();
                order.sort_unstable();
                order
            })
            .collect();
        assert_eq!(groups, [vec![0, 2], vec![3, 4], vec![1, 5]]);
        assert_eq!(plan.shortages, [""; 0]);
    }

    #[test]
    fn the_order_in_a_rack_moves_the_fewest_plates() {
        let gym = Gym { racks: 1, ..Gym::default() };
        let sheets = sheets(&[80.0, 120.0, 82.0], &gym);
        let plan = rack_groups(&sheets, &gym);
        let least = permutations(&[0, 1, 2]).iter().map(|order| moved(order, &sheets)).min().unwrap();
        assert_eq!(plan.racks[0].plates_moved, least);
    }

    #[test]
    fn too_few_plates_are_named_with_what_to_load_instead() {
        let plates = [(20.0, 6), (15.0, 20), (10.0, 20), (5.0, 20), (2.5, 20), (1.25, 20)];
        let gym = Gym {
            racks: 4,
            plates: plates.map(|(weight, count)| Plate { weight, count }).to_vec(),
            ..Gym::default()
        };
        let plan = rack_groups(&sheets(&[140.0, 142.0, 144.0, 146.0], &gym), &gym);
        assert!(
            plan.shortages
                .iter()
                .any(|text| text.contains("20 kg wanted at once") && text.contains("15 + 5")),
            "{:?}",
            plan.shortages
        );
    }

    #[test]
    fn who_goes_by_feel_is_kept_apart() {
        let gym = Gym::default();
        let mut all = sheets(&[100.0], &gym);
        let catalogue = Catalogue::standard();
        let part = read("Back squat 5x5 @ 75%", catalogue).session.parts.remove(0);
        let lift = catalogue.get(&MovementId::new("back-squat")).unwrap();
        all.push(lift_sheet(&part, lift, &Member::default(), &gym, catalogue));
        assert_eq!(rack_groups(&all, &gym).by_feel, [1]);
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(40))]
        #[test]
        fn prop_everybody_with_a_load_has_one_rack_and_no_rack_is_over_full(
            maxes in prop::collection::vec(40.0..200.0_f64, 1..28),
            racks in 1_u32..9,
        ) {
            let gym = Gym { racks, ..Gym::default() };
            let plan = rack_groups(&sheets(&maxes, &gym), &gym);
            let mut seen: Vec<usize> = plan.racks.iter().flat_map(|rack| rack.order.clone()).collect();
            seen.sort_unstable();
            prop_assert_eq!(seen, (0..maxes.len()).collect::<Vec<_>>());
            prop_assert!(plan.racks.len() <= racks as usize);
            let most = MOST_ON_A_RACK.max(maxes.len().div_ceil(racks as usize));
            prop_assert!(plan.racks.iter().all(|rack| rack.order.len() <= most));
        }
    }
}
