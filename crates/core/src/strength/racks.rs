//! Racks shared by members of similar weights, and whether the plates suffice for all bars at once.

use std::collections::BTreeMap;

use serde::Serialize;

use super::bar::{LoadedBar, on_bar};
use super::sheet::{LiftSheet, SetKind};
use crate::floor::reform;
use crate::gym::Gym;
use crate::movement::Movement;
use crate::units::{Kilograms, plain};

/// Most members on one rack: more wait longer than they rest.
const MOST_ON_A_RACK: usize = 4;
/// As many share a bar without anybody waiting much; fewer bars than for this are not taken to spare plates.
const SHARE_GLADLY: usize = 3;
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

/// Where a lift is done: out of a rack, or from the floor, for which a bar is enough.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum LiftPlace {
    /// Squats, presses and what else begins in a rack.
    #[default]
    Rack,
    /// Pulls, cleans, snatches.
    Floor,
}

impl LiftPlace {
    /// Where a lift is done.
    pub fn of(lift: &Movement) -> Self {
        if lift.equipment.iter().any(|kit| kit == "rack") { Self::Rack } else { Self::Floor }
    }

    /// How many a gym has; at least one, so that whoever lifts stands somewhere.
    pub fn count(self, gym: &Gym) -> u32 {
        let bars: u32 = gym.bars.iter().map(|bar| bar.count).sum();
        match self {
            Self::Rack => gym.racks.min(bars),
            Self::Floor => bars,
        }
        .max(1)
    }

    /// As called: `rack`, `bar`.
    pub const fn name(self) -> &'static str {
        match self {
            Self::Rack => "rack",
            Self::Floor => "bar",
        }
    }

    /// With its number: `Rack 3`.
    pub fn numbered(self, n: usize) -> String {
        match self {
            Self::Rack => format!("Rack {n}"),
            Self::Floor => format!("Bar {n}"),
        }
    }
}

/// A lift's racks, or its bars on the floor.
#[derive(Clone, Debug, Default, PartialEq, Serialize)]
pub struct RackPlan {
    /// Racks, or bars on the floor.
    pub place: LiftPlace,
    /// Racks, lightest first; when those who stood at one are not here, it keeps its number and nobody.
    pub racks: Vec<Rack>,
    /// Places of the sheets that go by feel and join wherever there is room.
    pub by_feel: Vec<usize>,
    /// Places of the sheets that need no bar, where the lift itself needs one.
    pub beside: Vec<usize>,
    /// Most lifters on one rack, those who go by feel among them.
    pub most_on_one: u32,
    /// What is short, and what to do.
    pub shortages: Vec<String>,
}

impl RackPlan {
    /// The racks at which somebody lifts, each with its name.
    pub fn in_use(&self) -> impl Iterator<Item = (String, &Rack)> {
        let racks = self.racks.iter().enumerate().filter(|(_, rack)| !rack.order.is_empty());
        racks.map(|(n, rack)| (self.place.numbered(n + 1), rack))
    }
}

/// Groups the sheets of one lift into the racks there are, or the bars where it needs no rack. Members with similar work loads share, no rack has two
/// more than another, and within a rack the order moves the fewest plates. There are fewer racks where the plates do not suffice for all of them.
pub fn rack_groups(sheets: &[LiftSheet], place: LiftPlace, gym: &Gym) -> RackPlan {
    groups_of(sheets, &(0..sheets.len()).collect::<Vec<_>>(), None, (place, gym))
}

/// As [`rack_groups`], of the sheets of those who are `here`: who stood at a rack stays there, but for the few who have to move so that no rack has two
/// more than another.
pub fn rack_groups_again(
    sheets: &[LiftSheet],
    here: &[usize],
    stood: &[Vec<usize>],
    place: LiftPlace,
    gym: &Gym,
) -> RackPlan {
    groups_of(sheets, here, Some(stood), (place, gym))
}

fn groups_of(
    sheets: &[LiftSheet],
    here: &[usize],
    stood: Option<&[Vec<usize>]>,
    (place, gym): (LiftPlace, &Gym),
) -> RackPlan {
    let (with_bar, beside): (Vec<usize>, Vec<usize>) = here.iter().partition(|&&n| sheets[n].on_a_bar);
    let (mut loaded, by_feel): (Vec<usize>, Vec<usize>) =
        with_bar.into_iter().partition(|&n| top_load(&sheets[n]).is_some());
    loaded.sort_by_key(|&n| (top_load(&sheets[n]), n));
    let (places, lifters) = (place.count(gym) as usize, loaded.len() + by_feel.len());
    let most = places.min(loaded.len());
    let least = loaded.len().div_ceil(SHARE_GLADLY).min(most);
    let on = |racks: usize| -> Vec<Rack> {
        let groups = split(&loaded, racks, |n| top_load(&sheets[n]).map_or(0.0, Kilograms::kg));
        groups.into_iter().map(|group| turn_about(group, sheets)).collect()
    };
    let suffices = |racks: &[Rack]| missing(racks, sheets, gym).iter().all(|short| short.lighter.is_some());
    let again = stood.map(|stood| formed_again(stood, &loaded, most, sheets)).filter(|racks| suffices(racks));
    let racks = again.unwrap_or_else(|| {
        (least..=most).rev().map(on).find(|racks| suffices(racks)).unwrap_or_else(|| on(most))
    });
    let mut shortages = Vec::new();
    let most_on_one = if racks.len() < most {
        let (used, fewer) = (racks.len(), most - racks.len());
        let names = if used == 1 { place.name().to_owned() } else { format!("{}s", place.name()) };
        shortages.push(format!(
            "{used} {names} of {places}: the plates do not suffice for {fewer} more at once, so lifters of similar weights share"
        ));
        lifters.div_ceil(used.max(1))
    } else {
        lifters.div_ceil(places)
    };
    if most_on_one > MOST_ON_A_RACK {
        let name = place.name();
        shortages.push(format!(
            "{lifters} lifters on {places} {name}s: more than {MOST_ON_A_RACK} on a {name} wait longer than they rest; let two halves \
             start the lift and the warm-up crosswise, or take a lift off the floor"
        ));
    }
    let missing = missing(&racks, sheets, gym);
    shortages.extend(missing.into_iter().map(|short| short.words(&racks, place, gym)));
    RackPlan { place, racks, by_feel, beside, most_on_one: most_on_one as u32, shortages }
}

/// Racks as they stood, of those who lift now.
fn formed_again(stood: &[Vec<usize>], loaded: &[usize], most: usize, sheets: &[LiftSheet]) -> Vec<Rack> {
    let racks = stood.len().clamp(1, most.max(1));
    let sizes: Vec<usize> =
        (0..racks).map(|n| loaded.len() / racks + usize::from(n < loaded.len() % racks)).collect();
    let apart = |groups: &[Vec<usize>]| -> f64 {
        let loads = |group: &Vec<usize>| -> Vec<Kilograms> {
            group.iter().filter_map(|n| top_load(&sheets[*n])).collect()
        };
        let of_group = |loads: Vec<Kilograms>| Some((*loads.iter().max()? - *loads.iter().min()?).kg());
        groups.iter().map(loads).filter_map(of_group).sum()
    };
    let groups = reform(stood, loaded, &sizes, apart);
    groups.into_iter().map(|group| turn_about(group, sheets)).collect()
}

/// Lifters who share a rack share its bar: the heaviest of theirs that everybody's work comes to. Loads stay as they are.
pub fn one_bar_a_rack(sheets: &mut [LiftSheet], plan: &RackPlan, gym: &Gym) {
    for rack in &plan.racks {
        let mut bars: Vec<Kilograms> =
            rack.order.iter().flat_map(|n| work_loads(&sheets[*n])).map(|load| load.bar).collect();
        bars.sort();
        bars.dedup();
        let fits = |bar: &&Kilograms| {
            let loads = || rack.order.iter().flat_map(|n| work_loads(&sheets[*n]));
            loads().all(|load| on_bar(gym, **bar, load).is_some())
        };
        let Some(bar) = bars.iter().rev().find(fits).copied().filter(|_| bars.len() > 1) else { continue };
        for n in &rack.order {
            for load in sheets[*n].sets.iter_mut().filter_map(|set| set.load.as_mut()) {
                if let Some(same) = on_bar(gym, bar, load) {
                    *load = same;
                }
            }
        }
    }
}

fn top_load(sheet: &LiftSheet) -> Option<Kilograms> {
    work_loads(sheet).map(|load| load.total).max()
}

/// Loads of the work sets in order.
pub(super) fn work_loads(sheet: &LiftSheet) -> impl Iterator<Item = &LoadedBar> {
    sheet.sets.iter().filter(|set| set.kind == SetKind::Work).filter_map(|set| set.load.as_ref())
}

/// As [`work_loads`], to change them.
pub(super) fn work_loads_mut(sheet: &mut LiftSheet) -> impl Iterator<Item = &mut LoadedBar> {
    sheet.sets.iter_mut().filter(|set| set.kind == SetKind::Work).filter_map(|set| set.load.as_mut())
}

/// Of how many things the bars want more at once than there is, so that something has to be said.
pub(super) fn how_short(racks: &[Rack], sheets: &[LiftSheet], gym: &Gym) -> usize {
    missing(racks, sheets, gym).len()
}

/// Splits a sorted list into `places` runs, none two longer than another, so that the differences within the runs are least: dynamic
/// programming over where each run ends.
fn split(sorted: &[usize], places: usize, load: impl Fn(usize) -> f64) -> Vec<Vec<usize>> {
    let count = sorted.len();
    if count == 0 || places == 0 {
        return Vec::new();
    }
    let sizes = count / places..=count.div_ceil(places);
    let mut best = vec![vec![(f64::INFINITY, 0); count + 1]; places + 1];
    best[0][0] = (0.0, 0);
    for rack in 1..=places {
        for to in 1..=count {
            for size in sizes.clone().filter(|size| *size <= to) {
                let total = best[rack - 1][to - size].0 + load(sorted[to - 1]) - load(sorted[to - size]);
                if total < best[rack][to].0 {
                    best[rack][to] = (total, to - size);
                }
            }
        }
    }
    let (mut groups, mut to) = (Vec::new(), count);
    for rack in (1..=places).rev() {
        let from = best[rack][to].1;
        groups.push(sorted[from..to].to_vec());
        to = from;
    }
    groups.reverse();
    groups
}

/// A rack with its lifters in the order that moves the fewest plates.
pub(super) fn turn_about(group: Vec<usize>, sheets: &[LiftSheet]) -> Rack {
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

/// Plates that differ between two loads, both sides counted. Plates sit one outside the other, so those outside the
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

/// Plates of one weight that all bars together want more of than there are.
struct Missing {
    weight: f64,
    wanted: u32,
    owned: u32,
    /// The set at which most are missing, from 0.
    set: usize,
    /// Two lighter ones that add up to it, where enough of them lie about.
    lighter: Option<(f64, f64)>,
}

impl Missing {
    fn words(&self, racks: &[Rack], place: LiftPlace, gym: &Gym) -> String {
        let pairs = (self.wanted - self.owned).div_ceil(2);
        let bars = if pairs == 1 { "one bar".to_owned() } else { format!("{pairs} bars") };
        let name = place.name();
        let instead = match (self.lighter, racks.len()) {
            (Some((first, second)), _) => {
                format!("load {bars} with {} + {} in its place", plain(first), plain(second))
            }
            (None, 0 | 1) => "take the next lighter step".to_owned(),
            (None, racks) => {
                format!("lift on {} {name}s instead of {racks}, or start {bars} a set later", racks - 1)
            }
        };
        let (weight, set) = (plain(self.weight), self.set + 1);
        let Self { wanted, owned, .. } = self;
        format!(
            "{wanted} plates of {weight} {} wanted at once in set {set}, {owned} owned: {instead}",
            gym.unit
        )
    }
}

/// Plates that all bars together want more of than there are, heaviest first, each at the set where most is missing.
fn missing(racks: &[Rack], sheets: &[LiftSheet], gym: &Gym) -> Vec<Missing> {
    let mut worst: BTreeMap<u64, (u32, usize)> = BTreeMap::new();
    let sets =
        racks.iter().flat_map(|rack| &rack.order).map(|&n| work_loads(&sheets[n]).count()).max().unwrap_or(0);
    for set in 0..sets {
        for (weight, wanted) in wanted_plates(racks, sheets, set) {
            let kept = worst.entry(weight).or_default();
            if wanted > kept.0 {
                *kept = (wanted, set);
            }
        }
    }
    let owned = |weight: f64| {
        gym.plates.iter().filter(|plate| plate.weight == weight).map(|plate| plate.count).sum::<u32>()
    };
    let free = |weight: f64| {
        owned(weight).saturating_sub(worst.get(&weight.to_bits()).map_or(0, |(wanted, _)| *wanted))
    };
    let all = worst.iter().rev().map(|(weight, (wanted, set))| (f64::from_bits(*weight), *wanted, *set));
    all.filter(|(weight, wanted, _)| *wanted > owned(*weight))
        .map(|(weight, wanted, set)| {
            let owned = owned(weight);
            Missing { weight, wanted, owned, set, lighter: lighter(weight, wanted - owned, gym, free) }
        })
        .collect()
}

/// Two lighter plates that add up to one that is short, where `free` says that enough of them lie about.
fn lighter(weight: f64, missing: u32, gym: &Gym, free: impl Fn(f64) -> u32) -> Option<(f64, f64)> {
    let mut lighter: Vec<f64> = gym.plates.iter().map(|plate| plate.weight).filter(|w| *w < weight).collect();
    lighter.sort_by(|a, b| b.total_cmp(a));
    let pairs =
        lighter.iter().enumerate().flat_map(|(n, first)| lighter[n..].iter().map(|second| (*first, *second)));
    pairs.into_iter().find(|(first, second)| {
        let enough = if first == second {
            free(*first) >= 2 * missing
        } else {
            free(*first).min(free(*second)) >= missing
        };
        (first + second - weight).abs() < 1e-9 && enough
    })
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

#[cfg(test)]
pub(super) mod tests {
    use super::*;
    use crate::gym::Plate;
    use crate::member::{Experience, Max, Member};
    use crate::movement::{Catalogue, MovementId};
    use crate::read::read;
    use crate::strength::lift_sheet;
    use proptest::prelude::*;

    fn sheets(maxes: &[f64], gym: &Gym) -> Vec<LiftSheet> {
        squatters("Back squat 5x5 @ 75%", maxes, gym)
    }

    /// A sheet for each of these maxima, in kilograms.
    pub(in crate::strength) fn squatters(text: &str, maxes: &[f64], gym: &Gym) -> Vec<LiftSheet> {
        let catalogue = Catalogue::standard();
        let part = read(text, catalogue).session.parts.remove(0);
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
        let plan =
            rack_groups(&sheets(&[60.0, 150.0, 62.0, 100.0, 104.0, 148.0], &gym), LiftPlace::Rack, &gym);
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
        let plan = rack_groups(&sheets, LiftPlace::Rack, &gym);
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
        let plan = rack_groups(&sheets(&[140.0, 142.0, 144.0, 146.0], &gym), LiftPlace::Rack, &gym);
        assert!(
            plan.shortages
                .iter()
                .any(|text| text.contains("20 kg wanted at once") && text.contains("15 + 5")),
            "{:?}",
            plan.shortages
        );
    }

    #[test]
    fn a_rack_has_no_two_more_than_another_however_the_weights_lie() {
        let gym = Gym { racks: 3, ..Gym::default() };
        let plan = rack_groups(&sheets(&[60.0, 61.0, 62.0, 63.0, 64.0, 150.0], &gym), LiftPlace::Rack, &gym);
        assert_eq!(plan.racks.iter().map(|rack| rack.order.len()).collect::<Vec<_>>(), [2, 2, 2]);
    }

    #[test]
    fn what_needs_no_rack_has_as_many_places_as_bars_while_the_plates_suffice() {
        let gym = Gym { racks: 2, ..Gym::default() };
        let lifters = [60.0, 80.0, 100.0, 120.0, 140.0];
        let on_floor = rack_groups(&sheets(&lifters, &gym), LiftPlace::Floor, &gym);
        assert_eq!((on_floor.racks.len(), on_floor.most_on_one), (5, 1));
        assert_eq!(rack_groups(&sheets(&lifters, &gym), LiftPlace::Rack, &gym).racks.len(), 2);
        // Two pairs of the heavy plates for three bars, and nothing to put in their place: fewer bars, and it is said.
        let plates = [(20.0, 4), (10.0, 4), (5.0, 20), (2.5, 20), (1.25, 20)];
        let few = Gym { plates: plates.map(|(weight, count)| Plate { weight, count }).to_vec(), ..gym };
        let shared = rack_groups(&sheets(&[118.0, 119.0, 120.0], &few), LiftPlace::Floor, &few);
        assert_eq!((shared.racks.len(), shared.most_on_one), (2, 2), "{shared:?}");
        assert!(shared.shortages[0].starts_with("2 bars of 18: the plates do not suffice"), "{shared:?}");
    }

    #[test]
    fn who_goes_by_feel_is_kept_apart() {
        let gym = Gym::default();
        let mut all = sheets(&[100.0], &gym);
        let catalogue = Catalogue::standard();
        let part = read("Back squat 5x5 @ 75%", catalogue).session.parts.remove(0);
        let lift = catalogue.get(&MovementId::new("back-squat")).unwrap();
        all.push(lift_sheet(&part, lift, &Member::default(), &gym, catalogue));
        assert_eq!(rack_groups(&all, LiftPlace::Rack, &gym).by_feel, [1]);
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(40))]
        #[test]
        fn prop_everybody_with_a_load_has_one_rack_and_no_rack_is_over_full(
            maxes in prop::collection::vec(40.0..200.0_f64, 1..28),
            racks in 1_u32..9,
        ) {
            let gym = Gym { racks, ..Gym::default() };
            let plan = rack_groups(&sheets(&maxes, &gym), LiftPlace::Rack, &gym);
            let mut seen: Vec<usize> = plan.racks.iter().flat_map(|rack| rack.order.clone()).collect();
            seen.sort_unstable();
            prop_assert_eq!(seen, (0..maxes.len()).collect::<Vec<_>>());
            prop_assert!(plan.racks.len() <= racks as usize);
            let sizes = || plan.racks.iter().map(|rack| rack.order.len());
            prop_assert!(sizes().max().unwrap() - sizes().min().unwrap() <= 1, "{:?}", plan.racks);
            prop_assert_eq!(sizes().max().unwrap() as u32, plan.most_on_one);
        }
    }

    #[test]
    fn missing_plates_say_what_to_do_for_one_rack_and_for_several() {
        let bar = Kilograms::from_kg(20.0);
        let racks = |count: usize| vec![Rack { order: vec![0], low: bar, high: bar, plates_moved: 0 }; count];
        let missing = |wanted, lighter| Missing { weight: 25.0, wanted, owned: 4, set: 1, lighter };
        let gym = Gym::default();
        let words = |missing: Missing, count| missing.words(&racks(count), LiftPlace::Rack, &gym);
        assert_eq!(
            words(missing(6, None), 3),
            "6 plates of 25 kg wanted at once in set 2, 4 owned: lift on 2 racks instead of 3, or start one bar a set later"
        );
        assert!(words(missing(8, None), 3).ends_with("or start 2 bars a set later"));
        assert!(words(missing(6, None), 1).ends_with("take the next lighter step"));
        assert!(words(missing(6, Some((15.0, 10.0))), 3).ends_with("load one bar with 15 + 10 in its place"));
    }
}
