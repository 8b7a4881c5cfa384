//! Starts at which no station is short: all at once, from different places of a round, on another machine, sharing with
//! a partner, or in heats.

use rayon::prelude::*;
use serde::{Deserialize, Serialize};

use super::Doer;
use super::Tried;
use super::demand::{Claim, Holding, claims};
use super::stations::{Inventory, Station};
use super::variants::{other_equipment, rotations};
use crate::gym::Gym;
use crate::movement::{Catalogue, MovementId};
use crate::pacing::Run;
use crate::session::{Node, works};
use crate::units::clock;

/// A way of arranging a class, simplest first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Arrangement {
    /// Everybody starts together with their own equipment.
    Together,
    /// Together, but some begin with another movement of the round.
    Rotating,
    /// Together, some on another machine or with a neighbouring weight.
    OtherTool,
    /// Partners share a bar or a bell, the second a little behind.
    Sharing,
    /// Heats, as close behind each other as the stations allow.
    Heats,
}

impl Arrangement {
    /// All, simplest first.
    pub const ALL: [Self; 5] = [Self::Together, Self::Rotating, Self::OtherTool, Self::Sharing, Self::Heats];

    /// As chosen on the screen.
    pub const fn label(self) -> &'static str {
        match self {
            Self::Together => "All together",
            Self::Rotating => "Begin at different stations",
            Self::OtherTool => "Some with other equipment",
            Self::Sharing => "Partners share",
            Self::Heats => "Heats",
        }
    }

    /// With what it comes to: `3 heats, 4:00 apart`.
    pub(super) fn words(self, starts: &[Start]) -> String {
        let mut offsets: Vec<u32> = starts.iter().map(|start| start.offset_s).collect();
        offsets.sort_unstable();
        offsets.dedup();
        let gap = offsets.windows(2).map(|pair| pair[1] - pair[0]).max().unwrap_or(0);
        let elsewhere = starts.iter().filter(|start| start.begins_with.is_some()).count();
        let tools = starts.iter().filter(|start| start.instead.is_some()).count();
        let mut words = match self {
            Self::Together => "All together".to_owned(),
            Self::Rotating => {
                format!("Together, {elsewhere} of {} begin elsewhere in the round", starts.len())
            }
            Self::OtherTool => format!("Together, {tools} with other equipment"),
            Self::Sharing => format!("Partners share, the second {} behind", clock(f64::from(gap))),
            Self::Heats if offsets.len() < 2 => "One heat".to_owned(),
            Self::Heats if offsets.len() > MOST_TOLD => {
                format!("{} heats, {} apart", offsets.len(), clock(f64::from(gap)))
            }
            Self::Heats => {
                let at: Vec<String> = offsets.iter().map(|offset| clock(f64::from(*offset))).collect();
                format!("{} heats at {}", offsets.len(), at.join(", "))
            }
        };
        if matches!(self, Self::Sharing | Self::Heats) && tools > 0 {
            words.push_str(&format!(", {tools} with other equipment"));
        }
        words
    }
}

/// How one member begins.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Start {
    /// The member.
    pub name: String,
    /// Seconds after the first start.
    pub offset_s: u32,
    /// The movement of the round to begin with, when it is not the first.
    pub begins_with: Option<MovementId>,
    /// What is taken in place of what is short: `ski for row`, `7.5 kg for 10 kg`.
    pub instead: Option<String>,
    /// Whose equipment is shared.
    pub shares_with: Option<String>,
}

/// Somebody to place.
pub(super) struct Person<'a> {
    pub doer: Doer<'a>,
    /// The place of the team mate whose equipment they share, and with whom they start.
    pub follows: Option<usize>,
    /// Place in the class.
    pub place: usize,
}

impl Person<'_> {
    /// Whether they hold equipment of their own, or their team's.
    pub fn brings_kit(&self) -> bool {
        self.follows.is_none()
    }

    pub fn claims(&self, holding: Holding, gym: &Gym, catalogue: &Catalogue) -> Vec<Claim> {
        claims(self.doer.run, holding, gym, catalogue)
    }
}

/// One way in which one person could do the piece.
#[derive(Clone)]
struct Variant {
    begins_with: Option<MovementId>,
    instead: Option<String>,
    claims: Vec<Claim>,
    late_s: f64,
}

/// What came of placing a class.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Placement {
    /// Everybody's start, in the order of the class.
    pub starts: Vec<Start>,
    /// What everybody holds, on the common clock.
    pub(super) claims: Vec<Vec<Claim>>,
    /// The last late finish.
    pub(super) ends_s: f64,
}

/// The placement chosen among all that were tried.
pub(super) struct Found {
    pub arrangement: Arrangement,
    pub starts: Vec<Start>,
    pub claims: Vec<Vec<Claim>>,
    pub ends_s: f64,
    pub tried: Vec<Tried>,
    pub unplaced: Vec<String>,
}

/// Length of a slot in which use is counted, in seconds; a slot that is touched counts as used.
const SLOT_S: f64 = 5.0;
/// Gaps between heats that are tried, in steps of so many seconds.
const GAPS: std::ops::RangeInclusive<u32> = 1..=40;
const GAP_STEP_S: u32 = 30;
/// Heats whose starts are told one by one.
const MOST_TOLD: usize = 4;
/// Seconds that one heat more has to save to be worth it.
const WORTH_A_HEAT_S: f64 = 60.0;
/// Most heats that a coach can run with staggered starts; more go one after another.
const MOST_HEATS: u32 = 6;
/// How far the second of two partners starts behind, in seconds.
const PARTNER_GAPS_S: [u32; 5] = [30, 60, 90, 120, 180];

/// Walks another tree as a member of the class, by their place.
pub(super) type Walker<'a> = &'a (dyn Fn(usize, &Node) -> Run + Sync);

/// Use of all stations over time.
struct Timeline<'a> {
    inventory: &'a Inventory,
    used: std::collections::BTreeMap<Station, Vec<u32>>,
}

impl<'a> Timeline<'a> {
    fn new(inventory: &'a Inventory) -> Self {
        Self { inventory, used: std::collections::BTreeMap::new() }
    }

    fn slots(claim: &Claim, offset_s: f64) -> std::ops::Range<usize> {
        let from = ((claim.from_s + offset_s) / SLOT_S).floor().max(0.0) as usize;
        let to = ((claim.to_s + offset_s) / SLOT_S).ceil() as usize;
        from..to.max(from)
    }

    fn free(&self, claims: &[Claim], offset_s: f64) -> bool {
        claims.iter().all(|claim| {
            let there = self.inventory.count(claim.station);
            match self.used.get(&claim.station) {
                _ if claim.count > there => false,
                Some(used) => {
                    let slots = Self::slots(claim, offset_s);
                    let slots = slots.start.min(used.len())..slots.end.min(used.len());
                    used[slots].iter().all(|used| used + claim.count <= there)
                }
                None => true,
            }
        })
    }

    fn take(&mut self, claims: &[Claim], offset_s: f64) {
        for claim in claims {
            let (used, slots) = (self.used.entry(claim.station).or_default(), Self::slots(claim, offset_s));
            used.resize(used.len().max(slots.end), 0);
            used[slots].iter_mut().for_each(|used| *used += claim.count);
        }
    }
}

/// Tries all ways and takes the simplest that ends within `available_s`, else the one that ends first; or the one that
/// the coach has asked for.
pub(super) fn arrange(
    people: &[Person<'_>],
    available_s: f64,
    asked: Option<Arrangement>,
    inventory: &Inventory,
    gym: &Gym,
    catalogue: &Catalogue,
    walk: Walker<'_>,
) -> Found {
    let has = |claims: &[Claim]| claims.iter().all(|claim| claim.count <= inventory.count(claim.station));
    let walked = |person: &Person<'_>, tree: &Node, holding| {
        let run = walk(person.place, tree);
        let late_s = person.doer.late_s + (run.finish_s - person.doer.run.finish_s).max(0.0);
        (claims(&run, holding, gym, catalogue), late_s)
    };
    let others = |person: &Person<'_>, holding| -> Vec<Variant> {
        let trees = other_equipment(person.doer.tree, gym, catalogue);
        let variants = trees.into_iter().map(|(instead, tree)| {
            let (claims, late_s) = walked(person, &tree, holding);
            Variant { begins_with: None, instead: Some(instead), claims, late_s }
        });
        variants.filter(|variant| has(&variant.claims)).collect()
    };
    let rotated = |person: &Person<'_>, holding| -> Vec<Variant> {
        let trees = rotations(person.doer.tree).into_iter();
        let variants = trees.map(|(first, tree)| {
            let (claims, late_s) = walked(person, &tree, holding);
            Variant { begins_with: Some(first), instead: None, claims, late_s }
        });
        variants.filter(|variant| has(&variant.claims)).collect()
    };
    // The text's own way; another machine where the gym has none of the text's.
    let plain = |holding: Holding| -> (Vec<Vec<Variant>>, Vec<String>) {
        let mut unplaced = Vec::new();
        let variants = people
            .iter()
            .map(|person| {
                let claims =
                    if person.brings_kit() { person.claims(holding, gym, catalogue) } else { Vec::new() };
                let mut own =
                    Variant { begins_with: None, instead: None, claims, late_s: person.doer.late_s };
                if has(&own.claims) {
                    return vec![own];
                }
                let others = others(person, holding);
                if others.is_empty() {
                    // What the gym has not got cannot be scheduled; it is named instead.
                    unplaced.extend(missing(person, &own.claims, inventory));
                    own.claims.retain(|claim| claim.count <= inventory.count(claim.station));
                    return vec![own];
                }
                others
            })
            .collect();
        (variants, unplaced)
    };
    let (own, unplaced) = plain(Holding::Own);
    let (shared, _) = plain(Holding::Shared);
    let together = place(people, &own, &[0], inventory);
    let mut tried = vec![option(Arrangement::Together, together.as_ref())];
    let mut found: Vec<(Arrangement, Placement)> = Vec::new();
    let fits = |placement: &Placement| placement.ends_s <= available_s + 1.0;
    // Nothing ends sooner than everybody at once.
    let enough = together.is_some() && asked.is_none_or(|asked| asked == Arrangement::Together);
    found.extend(together.map(|placement| (Arrangement::Together, placement)));
    if !enough {
        let with = |base: &[Vec<Variant>], more: &(dyn Fn(&Person<'_>) -> Vec<Variant> + Sync)| {
            let all = people.par_iter().zip(base).map(|(person, base)| {
                let more = if person.brings_kit() { more(person) } else { Vec::new() };
                base.iter().cloned().chain(more).collect::<Vec<Variant>>()
            });
            all.collect::<Vec<_>>()
        };
        let own_rotated = with(&own, &|person| rotated(person, Holding::Own));
        let own_others = with(&own, &|person| others(person, Holding::Own));
        let own_all = with(&own_others, &|person| rotated(person, Holding::Own));
        let mut attempt = |arrangement, placement: Option<Placement>| {
            tried.push(option(arrangement, placement.as_ref()));
            found.extend(placement.map(|placement| (arrangement, placement)));
        };
        attempt(Arrangement::Rotating, place(people, &own_rotated, &[0], inventory));
        attempt(Arrangement::OtherTool, place(people, &own_others, &[0], inventory));
        let behind = PARTNER_GAPS_S.iter().filter_map(|gap| place(people, &shared, &[0, *gap], inventory));
        attempt(Arrangement::Sharing, soonest(behind));
        // For each number of heats the smallest gap at which everybody finds a place.
        let heats = (2..=MOST_HEATS).filter_map(|heats| {
            GAPS.map(|gap| gap * GAP_STEP_S).find_map(|gap| {
                let offsets: Vec<u32> = (0..heats).map(|heat| heat * gap).collect();
                place(people, &own_all, &offsets, inventory)
            })
        });
        // With very little equipment one small heat goes after another.
        let heats = soonest(heats).or_else(|| {
            let longest = people.iter().map(|person| person.doer.late_s).fold(60.0, f64::max);
            let gap = (longest / f64::from(GAP_STEP_S)).ceil() as u32 * GAP_STEP_S;
            let offsets: Vec<u32> = (0..people.len() as u32).map(|heat| heat * gap).collect();
            place(people, &own, &offsets, inventory)
        });
        attempt(Arrangement::Heats, heats);
    }
    let wanted = asked.and_then(|asked| found.iter().position(|(arrangement, _)| *arrangement == asked));
    let simplest = || found.iter().position(|(_, placement)| fits(placement));
    let first_to_end = || (0..found.len()).min_by(|a, b| found[*a].1.ends_s.total_cmp(&found[*b].1.ends_s));
    match wanted.or_else(simplest).or_else(first_to_end) {
        Some(n) => {
            let (arrangement, mut placement) = found.swap_remove(n);
            if arrangement == Arrangement::Sharing {
                pair_up(&mut placement, people);
            }
            let Placement { starts, claims, ends_s } = placement;
            Found { arrangement, starts, claims, ends_s, tried, unplaced }
        }
        None => Found {
            arrangement: Arrangement::Heats,
            starts: Vec::new(),
            claims: Vec::new(),
            ends_s: 0.0,
            tried,
            unplaced,
        },
    }
}

fn option(arrangement: Arrangement, placement: Option<&Placement>) -> Tried {
    Tried { arrangement, ends_s: placement.map(|placement| placement.ends_s) }
}

/// Of placements the one that ends first; one that comes later, with more starts, has to end well sooner.
fn soonest(placements: impl Iterator<Item = Placement>) -> Option<Placement> {
    placements.reduce(|best, next| if next.ends_s < best.ends_s - WORTH_A_HEAT_S { next } else { best })
}

/// Everybody at the earliest of some offsets at which all that they hold is free, slowest first; none when somebody
/// finds no place.
fn place(
    people: &[Person<'_>],
    variants: &[Vec<Variant>],
    offsets: &[u32],
    inventory: &Inventory,
) -> Option<Placement> {
    let mut order: Vec<usize> = (0..people.len()).collect();
    order.sort_by(|a, b| people[*b].doer.late_s.total_cmp(&people[*a].doer.late_s));
    let mut timeline = Timeline::new(inventory);
    let mut placed: Vec<Option<(u32, &Variant)>> = vec![None; people.len()];
    for n in order {
        let ways =
            offsets.iter().flat_map(|offset| variants[n].iter().map(move |variant| (*offset, variant)));
        let (offset, variant) =
            ways.into_iter().find(|(offset, variant)| timeline.free(&variant.claims, f64::from(*offset)))?;
        timeline.take(&variant.claims, f64::from(offset));
        placed[n] = Some((offset, variant));
    }
    let mut placement = Placement::default();
    for (person, placed) in people.iter().zip(placed) {
        let (offset_s, variant) = placed?;
        placement.ends_s = placement.ends_s.max(f64::from(offset_s) + variant.late_s);
        placement.claims.push(variant.claims.iter().map(|claim| claim.later(f64::from(offset_s))).collect());
        placement.starts.push(Start {
            name: person.doer.name.to_owned(),
            offset_s,
            begins_with: variant.begins_with.clone(),
            instead: variant.instead.clone(),
            shares_with: None,
        });
    }
    // A team starts together, on the same equipment.
    for (n, person) in people.iter().enumerate() {
        if let Some(leader) = person.follows {
            let Start { offset_s, begins_with, instead, .. } = placement.starts[leader].clone();
            let name = placement.starts[n].name.clone();
            placement.starts[n] = Start { name, offset_s, begins_with, instead, shares_with: None };
        }
    }
    Some(placement)
}

/// Partners for sharing: one of the first starters with one of the second who carries the nearest load.
fn pair_up(placement: &mut Placement, people: &[Person<'_>]) {
    let heaviest = |n: usize| {
        let weights = works(people[n].doer.tree).into_iter().filter_map(|work| work.load?.weight());
        weights.map(|weight| weight.grams()).max().unwrap_or(0)
    };
    let (mut first, mut second): (Vec<usize>, Vec<usize>) =
        (0..people.len()).partition(|n| placement.starts[*n].offset_s == 0);
    first.sort_by_key(|n| (heaviest(*n), *n));
    second.sort_by_key(|n| (heaviest(*n), *n));
    for (a, b) in first.into_iter().zip(second) {
        placement.starts[a].shares_with = Some(placement.starts[b].name.clone());
        placement.starts[b].shares_with = Some(placement.starts[a].name.clone());
    }
}

/// What somebody asks for that the gym has not got, even alone.
fn missing(person: &Person<'_>, claims: &[Claim], inventory: &Inventory) -> Option<String> {
    let short = claims.iter().find(|claim| claim.count > inventory.count(claim.station))?;
    let (there, station) = (inventory.count(short.station), short.station);
    let (name, needs) = (person.doer.name, short.count);
    Some(format!("{name} needs {needs} {}, the gym has {there}", station.name(needs)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::movement::Catalogue;
    use crate::pacing::Mark;
    use crate::read::read;
    use proptest::prelude::*;

    /// A walk that rows for some seconds and then does burpees for some.
    fn row_then_burpees(row_s: f64, burpees_s: f64) -> Run {
        let mark = |from_s, at_s, id: &str| Mark {
            from_s,
            at_s,
            round: 1,
            movement: MovementId::new(id),
            done: 1.0,
            of: None,
            load: None,
        };
        let finish_s = row_s + burpees_s;
        let marks = vec![mark(0.0, row_s, "row"), mark(row_s, finish_s, "burpee")];
        Run { finish_s, marks, ..Run::default() }
    }

    fn arranged(runs: &[Run], rowers: u32, asked: Option<Arrangement>) -> Found {
        let catalogue = Catalogue::standard();
        let tree = read("For time\n20 cal row\n20 burpees", catalogue).session.parts.remove(0).tree;
        let names: Vec<String> = (0..runs.len()).map(|n| format!("Member {n}")).collect();
        let people: Vec<Person<'_>> = runs
            .iter()
            .zip(&names)
            .enumerate()
            .map(|(place, (run, name))| {
                let doer = Doer { name, tree: &tree, run, late_s: run.finish_s };
                Person { doer, follows: None, place }
            })
            .collect();
        // No other machine stands in.
        let gym = Gym { rowers, skis: 0, bikes: 0, ..Gym::default() };
        let walk = |n: usize, _: &Node| runs[n].clone();
        arrange(&people, 600.0, asked, &Inventory::of(&gym), &gym, catalogue, &walk)
    }

    #[test]
    fn three_on_one_rower_start_one_after_the_other_as_close_as_it_allows() {
        let runs = vec![row_then_burpees(55.0, 60.0); 3];
        let found = arranged(&runs, 1, None);
        assert_eq!(found.arrangement, Arrangement::Heats);
        let mut offsets: Vec<u32> = found.starts.iter().map(|start| start.offset_s).collect();
        offsets.sort_unstable();
        assert_eq!(offsets, [0, 60, 120]);
        assert_eq!(found.ends_s, 235.0);
        assert_eq!(found.arrangement.words(&found.starts), "3 heats at 0:00, 1:00, 2:00");
    }

    #[test]
    fn enough_rowers_need_no_heats_and_none_at_all_are_named() {
        let runs = vec![row_then_burpees(55.0, 60.0); 3];
        assert_eq!(arranged(&runs, 3, None).arrangement, Arrangement::Together);
        let none = arranged(&runs, 0, None);
        assert_eq!(none.unplaced.len(), 3);
        assert!(none.unplaced[0].contains("needs 1 rower, the gym has 0"), "{:?}", none.unplaced);
    }

    #[test]
    fn the_slowest_go_first() {
        let runs = [row_then_burpees(55.0, 30.0), row_then_burpees(55.0, 300.0)];
        let found = arranged(&runs, 1, None);
        assert_eq!((found.starts[1].offset_s, found.starts[0].offset_s), (0, 60));
    }

    proptest! {
        #[test]
        fn prop_a_schedule_is_never_over_capacity(
            lengths in prop::collection::vec((10.0..200.0_f64, 10.0..200.0_f64), 1..16),
            rowers in 1_u32..6,
        ) {
            let runs: Vec<Run> = lengths.iter().map(|(row, burpees)| row_then_burpees(*row, *burpees)).collect();
            for asked in [None, Some(Arrangement::Heats), Some(Arrangement::Sharing)] {
                let found = arranged(&runs, rowers, asked);
                prop_assert_eq!(found.starts.len(), runs.len());
                // Counted at each beginning, apart from how the schedule counts.
                let claims: Vec<Claim> = found.claims.iter().flatten().copied().collect();
                for at in claims.iter().map(|claim| claim.from_s) {
                    let now = claims.iter().filter(|c| c.from_s <= at && at < c.to_s).count();
                    prop_assert!(now <= rowers as usize, "{} on {rowers}", now);
                }
            }
        }

        #[test]
        fn prop_more_rowers_never_end_later(people in 1_usize..14, rowers in 1_u32..6) {
            let runs: Vec<Run> = (0..people).map(|n| row_then_burpees(40.0 + n as f64 * 5.0, 60.0)).collect();
            prop_assert!(arranged(&runs, rowers + 1, None).ends_s <= arranged(&runs, rowers, None).ends_s);
        }
    }
}
