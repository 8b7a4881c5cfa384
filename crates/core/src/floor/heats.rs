//! The search for starts at which no station is short: all at once, from different places of a round, with other
//! equipment, sharing with a partner, or in heats.

use rayon::prelude::*;

use super::arrangement::{Arrangement, Start, Tried};
use super::demand::{Claim, Holding, claims};
use super::queue::queue;
use super::stations::Inventory;
use super::timeline::Timeline;
use super::variants::{other_equipment, rotations};
use super::waits::Waits;
use super::{Doer, FloorPlan};
use crate::gym::Gym;
use crate::limits::Ground;
use crate::movement::{Catalogue, MovementId};
use crate::pacing::{Model, Run};
use crate::session::{Node, works};

/// Gaps between heats that are tried, in steps of so many seconds.
const GAPS: std::ops::RangeInclusive<u32> = 1..=40;
const GAP_STEP_S: u32 = 30;
/// Seconds that one heat more has to save to be worth it.
const WORTH_A_HEAT_S: f64 = 60.0;
/// Most heats that a coach can run with staggered starts; more go one after another.
const MOST_HEATS: u32 = 6;
/// Starts of a staggered class, in seconds: nobody waits longer than this for a machine.
const STAGGER_S: std::ops::RangeInclusive<u32> = 0..=180;
const STAGGER_STEP_S: usize = 30;
/// How far the second of two partners starts behind, in seconds.
const PARTNER_GAPS_S: [u32; 5] = [30, 60, 90, 120, 180];

/// Seconds of waiting that beginning elsewhere or taking something else is worth.
const WORTH_A_CHANGE_S: f64 = 10.0;

/// Walks another tree as a member of the class, by their place.
pub(super) type Walker<'a> = &'a (dyn Fn(usize, &Node) -> Run + Sync);

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
        claims(self.doer.run, self.doer.cap_s, holding, gym, catalogue)
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
#[derive(Default)]
struct Placement {
    /// Everybody's start, in the order of the class.
    starts: Vec<Start>,
    /// What everybody holds, on the common clock.
    claims: Vec<Vec<Claim>>,
    /// The last late finish.
    ends_s: f64,
}

impl Placement {
    fn fits(&self, available_s: f64) -> bool {
        self.ends_s <= available_s + 1.0
    }
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

/// A class in search of its starts.
#[derive(Clone, Copy)]
pub(super) struct Search<'a> {
    pub people: &'a [Person<'a>],
    pub inventory: &'a Inventory,
    pub gym: &'a Gym,
    pub catalogue: &'a Catalogue,
    pub model: &'a Model,
    pub walk: Walker<'a>,
    /// Whether somebody may wait for a turn; nobody can on a fixed clock.
    pub waits: Waits,
}

impl Search<'_> {
    /// Tries all ways and takes the simplest that ends within `available_s`, else the one that ends first; or the one
    /// that the coach has asked for.
    pub fn arrange(&self, available_s: f64, asked: Option<Arrangement>) -> Found {
        let (own, unplaced) = self.plain(Holding::Own);
        let together = self.place(&own, &[0]);
        // Nothing ends sooner than everybody at once.
        let enough = together.is_some() && asked.is_none_or(|asked| asked == Arrangement::Together);
        let mut all = vec![(Arrangement::Together, together)];
        if !enough {
            all.extend(self.other_ways(&own, available_s));
        }
        let tried = all.iter().map(|(arrangement, placement)| Tried {
            arrangement: *arrangement,
            ends_s: placement.as_ref().map(|placement| placement.ends_s),
            cost: placement.as_ref().map_or(String::new(), |placement| arrangement.words(&placement.starts)),
        });
        let tried = tried.collect();
        let mut found: Vec<(Arrangement, Placement)> =
            all.into_iter().filter_map(|(arrangement, placement)| Some((arrangement, placement?))).collect();
        let wanted = asked.and_then(|asked| found.iter().position(|(arrangement, _)| *arrangement == asked));
        let first_that_fits = || found.iter().position(|(_, placement)| placement.fits(available_s));
        let first_to_end =
            || (0..found.len()).min_by(|a, b| found[*a].1.ends_s.total_cmp(&found[*b].1.ends_s));
        let chosen = wanted.or_else(first_that_fits).or_else(first_to_end);
        let (arrangement, mut placement) =
            chosen.map_or((Arrangement::Heats, Placement::default()), |n| found.swap_remove(n));
        if arrangement == Arrangement::Sharing {
            self.pair_up(&mut placement);
        }
        let Placement { starts, claims, ends_s } = placement;
        Found { arrangement, starts, claims, ends_s, tried, unplaced }
    }

    /// Everybody as they were to start, and who is new at the first start at which there is room; nothing where that does not go, or where all can start at
    /// once with their own.
    pub fn again(&self, stood: &FloorPlan, available_s: f64) -> Option<Found> {
        let (own, unplaced) = self.plain(Holding::Own);
        if stood.arrangement == Arrangement::Together || self.place(&own, &[0]).is_some() {
            return None;
        }
        let variants = if stood.arrangement == Arrangement::Sharing {
            self.plain(Holding::Shared).0
        } else {
            let others = self.with(&own, &|person| self.others(person, Holding::Own));
            self.with(&others, &|person| self.rotated(person, Holding::Own))
        };
        let mut offsets: Vec<u32> = stood.starts.iter().map(|start| start.offset_s).collect();
        offsets.sort_unstable();
        offsets.dedup();
        let stood_at = |n: usize| stood.starts.iter().find(|start| start.name == self.people[n].doer.name);
        let ways = |n: usize| {
            let known = stood_at(n);
            let is_theirs = |variant: &&Variant| {
                known.is_some_and(|start| {
                    (&start.begins_with, &start.instead) == (&variant.begins_with, &variant.instead)
                })
            };
            match known.zip(variants[n].iter().find(is_theirs)) {
                Some((start, variant)) => vec![(start.offset_s, variant)],
                None => at_each(&offsets, &variants[n]),
            }
        };
        let placement = self.place_each(&ways, &|n| stood_at(n).is_some());
        let mut placement = placement.filter(|placement| placement.fits(available_s.max(stood.ends_s)))?;
        if stood.arrangement == Arrangement::Sharing {
            self.pair_up(&mut placement);
        }
        let Placement { starts, claims, ends_s } = placement;
        let cost = stood.arrangement.words(&starts);
        // The other ways as they came out for the class as it was booked.
        let mut tried = stood.tried.clone();
        tried.retain(|way| way.arrangement != stood.arrangement);
        tried.push(Tried { arrangement: stood.arrangement, ends_s: Some(ends_s), cost });
        tried.sort_by_key(|way| way.arrangement);
        Some(Found { arrangement: stood.arrangement, starts, claims, ends_s, tried, unplaced })
    }

    /// What is tried when not everybody can start at once with their own.
    fn other_ways(&self, own: &[Vec<Variant>], available_s: f64) -> [(Arrangement, Option<Placement>); 7] {
        let rotated = self.with(own, &|person| self.rotated(person, Holding::Own));
        let others = self.with(own, &|person| self.others(person, Holding::Own));
        let all = self.with(&others, &|person| self.rotated(person, Holding::Own));
        // Who begins elsewhere and takes something else costs a walk of each: only where nothing simpler goes.
        let (mut mixed, mut waiting) = (self.place(&all, &[0]), None);
        if mixed.is_none() {
            let both = self.with(&all, &|person| self.rotated_with_others(person));
            mixed = self.place(&both, &[0]);
            // Then with benches and boxes that go from one to the next.
            let handed_on = || {
                let (own, _) = self.plain(Holding::Loads);
                let others = self.with(&own, &|person| self.others(person, Holding::Loads));
                self.place_waiting(&self.with(&others, &|person| self.rotated(person, Holding::Loads)))
            };
            waiting = mixed.is_none().then(|| self.place_waiting(&both).or_else(handed_on)).flatten();
        }
        let (shared, _) = self.plain(Holding::Shared);
        let stagger: Vec<u32> = STAGGER_S.step_by(STAGGER_STEP_S).collect();
        // No other equipment where nobody needs it: the text's own first, then the next best.
        let staggered = self.place(own, &stagger).or_else(|| self.place(&others, &stagger));
        let behind = PARTNER_GAPS_S.iter().filter_map(|gap| self.place(&shared, &[0, *gap]));
        // For each number of heats the smallest gap at which everybody finds a place.
        let heats = (2..=MOST_HEATS).filter_map(|heats| {
            GAPS.map(|gap| gap * GAP_STEP_S).find_map(|gap| self.place(&all, &heats_apart(heats, gap)))
        });
        // With very little equipment one small heat goes after another.
        let heats = simplest(heats, available_s).or_else(|| {
            let longest = self.people.iter().map(|person| person.doer.late_s).fold(60.0, f64::max);
            // A step more, so that handing over is no overlap.
            let gap = ((longest / f64::from(GAP_STEP_S)).ceil() as u32 + 1) * GAP_STEP_S;
            self.place(own, &heats_apart(self.people.len() as u32, gap))
        });
        [
            (Arrangement::OtherTool, self.place(&others, &[0])),
            (Arrangement::Rotating, self.place(&rotated, &[0])),
            (Arrangement::Mixed, mixed),
            (Arrangement::Waiting, waiting),
            (Arrangement::Staggered, staggered),
            (Arrangement::Sharing, simplest(behind, available_s)),
            (Arrangement::Heats, heats),
        ]
    }

    /// Whether the gym has enough of everything for one.
    fn has(&self, claims: &[Claim]) -> bool {
        claims.iter().all(|claim| claim.count <= self.inventory.count(claim.station))
    }

    /// The text's own way; other equipment where the gym has none of the text's; and who can be given neither.
    fn plain(&self, holding: Holding) -> (Vec<Vec<Variant>>, Vec<String>) {
        let mut unplaced = Vec::new();
        let mut ways = |person: &Person<'_>| {
            let claims = if person.brings_kit() {
                person.claims(holding, self.gym, self.catalogue)
            } else {
                Vec::new()
            };
            let late_s = person.doer.late_s;
            let mut own = Variant { begins_with: None, instead: None, claims, late_s };
            if self.has(&own.claims) {
                return vec![own];
            }
            let others = self.others(person, holding);
            if others.is_empty() {
                // What the gym has not got cannot be scheduled; it is named instead.
                unplaced.extend(missing(person, &own.claims, self.inventory));
                own.claims.retain(|claim| claim.count <= self.inventory.count(claim.station));
                return vec![own];
            }
            others
        };
        let variants = self.people.iter().map(&mut ways).collect();
        (variants, unplaced)
    }

    /// The piece with other equipment, as far as nothing in it goes against what the person spares, and what is other.
    fn with_others(&self, person: &Person<'_>) -> impl Iterator<Item = (String, Node)> {
        let trees = other_equipment(&person.doer, self.gym, self.catalogue, self.model);
        let ground = Ground::of(person.doer.member);
        trees.into_iter().filter(move |(_, tree)| ground.lets(tree, self.catalogue))
    }

    /// With other equipment.
    fn others(&self, person: &Person<'_>, holding: Holding) -> Vec<Variant> {
        let variant = |(instead, tree)| self.walked(person, &tree, holding, None, Some(instead));
        self.with_others(person).filter_map(variant).collect()
    }

    /// Begun at another movement of the round.
    fn rotated(&self, person: &Person<'_>, holding: Holding) -> Vec<Variant> {
        let variant = |(first, tree)| self.walked(person, &tree, holding, Some(first), None);
        rotations(person.doer.tree).into_iter().filter_map(variant).collect()
    }

    /// Begun at another movement of the round, and with other equipment.
    fn rotated_with_others(&self, person: &Person<'_>) -> Vec<Variant> {
        let turned = self.with_others(person).flat_map(|(instead, tree)| {
            rotations(&tree).into_iter().map(move |(first, tree)| (instead.clone(), first, tree))
        });
        let variant =
            |(instead, first, tree)| self.walked(person, &tree, Holding::Own, Some(first), Some(instead));
        turned.filter_map(variant).collect()
    }

    /// Everybody at once, slowest first, each in the way in which they wait least; then who comes first to a station is served first. None where
    /// somebody would wait too long.
    fn place_waiting(&self, variants: &[Vec<Variant>]) -> Option<Placement> {
        let people = self.people;
        let mut order: Vec<usize> = (0..people.len()).collect();
        order.sort_by(|a, b| people[*b].doer.late_s.total_cmp(&people[*a].doer.late_s));
        let mut timeline = Timeline::new(self.inventory);
        let mut chosen: Vec<Option<&Variant>> = vec![None; people.len()];
        for n in order {
            let stops_s = people[n].doer.cap_s;
            let waited = |variant: &Variant| timeline.waited(&variant.claims, stops_s, variant.late_s);
            let worth = |variant: &Variant, waited_s: f64| {
                let changes = u8::from(variant.begins_with.is_some()) + u8::from(variant.instead.is_some());
                waited_s + f64::from(changes) * WORTH_A_CHANGE_S
            };
            let ways = variants[n].iter().filter_map(|variant| {
                let (claims, waited_s) = waited(variant)?;
                Some((variant, claims, worth(variant, waited_s)))
            });
            let (variant, claims, _) = ways.min_by(|a, b| a.2.total_cmp(&b.2))?;
            timeline.take(&claims, 0.0);
            chosen[n] = Some(variant);
        }
        let chosen: Vec<&Variant> = chosen.into_iter().collect::<Option<_>>()?;
        let asked: Vec<(&[Claim], f64)> = chosen
            .iter()
            .zip(people)
            .map(|(variant, person)| (&variant.claims[..], person.doer.cap_s))
            .collect();
        let all = queue(&asked, self.inventory)?;
        let mut placement = Placement::default();
        for ((person, variant), waited) in people.iter().zip(chosen).zip(all) {
            if !self.waits.bears(&waited, variant.late_s) {
                return None;
            }
            let stops_s = person.doer.cap_s.max(variant.late_s);
            placement.ends_s = placement.ends_s.max((variant.late_s + waited.all_s).min(stops_s));
            placement.starts.push(Start {
                name: person.doer.name.to_owned(),
                offset_s: 0,
                begins_with: variant.begins_with.clone(),
                instead: variant.instead.clone(),
                waits_s: waited.all_s.round() as u32,
                shares_with: None,
                away: false,
            });
            placement.claims.push(waited.claims);
        }
        self.follow_the_leaders(&mut placement);
        Some(placement)
    }

    fn walked(
        &self,
        person: &Person<'_>,
        tree: &Node,
        holding: Holding,
        begins_with: Option<MovementId>,
        instead: Option<String>,
    ) -> Option<Variant> {
        let run = (self.walk)(person.place, tree);
        let Doer { late_s, cap_s, .. } = person.doer;
        let late_s = (late_s + (run.finish_s - person.doer.run.finish_s).max(0.0)).min(cap_s);
        let claims = claims(&run, cap_s, holding, self.gym, self.catalogue);
        self.has(&claims).then_some(Variant { begins_with, instead, claims, late_s })
    }

    /// Everybody's ways with some more behind them.
    fn with(
        &self,
        base: &[Vec<Variant>],
        more: &(dyn Fn(&Person<'_>) -> Vec<Variant> + Sync),
    ) -> Vec<Vec<Variant>> {
        let all = self.people.par_iter().zip(base).map(|(person, base)| {
            let more = if person.brings_kit() { more(person) } else { Vec::new() };
            base.iter().cloned().chain(more).collect()
        });
        all.collect()
    }

    /// Everybody at the earliest of some offsets at which all that they hold is free, slowest first; none when somebody
    /// finds no place.
    fn place(&self, variants: &[Vec<Variant>], offsets: &[u32]) -> Option<Placement> {
        self.place_each(&|n| at_each(offsets, &variants[n]), &|_| false)
    }

    /// Everybody in the first of their own ways in which all that they hold is free: some before all others, and of each the slowest first.
    fn place_each<'v>(
        &self,
        ways: &dyn Fn(usize) -> Vec<(u32, &'v Variant)>,
        before: &dyn Fn(usize) -> bool,
    ) -> Option<Placement> {
        let people = self.people;
        let mut order: Vec<usize> = (0..people.len()).collect();
        order.sort_by(|a, b| {
            let slowest = people[*b].doer.late_s.total_cmp(&people[*a].doer.late_s);
            before(*b).cmp(&before(*a)).then(slowest)
        });
        let mut timeline = Timeline::new(self.inventory);
        let mut placed: Vec<Option<(u32, &Variant)>> = vec![None; people.len()];
        for n in order {
            let free =
                |(offset, variant): &&(u32, &Variant)| timeline.free(&variant.claims, f64::from(*offset));
            let (offset, variant) = ways(n).iter().find(free).copied()?;
            timeline.take(&variant.claims, f64::from(offset));
            placed[n] = Some((offset, variant));
        }
        let (mut placement, mut late) = (Placement::default(), Vec::new());
        for (person, placed) in people.iter().zip(placed) {
            let (offset_s, variant) = placed?;
            late.push(variant.late_s);
            placement
                .claims
                .push(variant.claims.iter().map(|claim| claim.later(f64::from(offset_s))).collect());
            placement.starts.push(Start {
                name: person.doer.name.to_owned(),
                offset_s,
                begins_with: variant.begins_with.clone(),
                instead: variant.instead.clone(),
                waits_s: 0,
                shares_with: None,
                away: false,
            });
        }
        self.follow_the_leaders(&mut placement);
        let ends =
            placement.starts.iter().zip(late).map(|(start, late_s)| f64::from(start.offset_s) + late_s);
        placement.ends_s = ends.fold(0.0, f64::max);
        Some(placement)
    }

    /// A team starts together, on the same equipment.
    fn follow_the_leaders(&self, placement: &mut Placement) {
        for (n, person) in self.people.iter().enumerate() {
            if let Some(leader) = person.follows {
                let Start { offset_s, begins_with, instead, waits_s, .. } = placement.starts[leader].clone();
                let name = placement.starts[n].name.clone();
                placement.starts[n] =
                    Start { name, offset_s, begins_with, instead, waits_s, shares_with: None, away: false };
            }
        }
    }

    /// Partners for sharing: one of the first starters with one of the second who carries the nearest load.
    fn pair_up(&self, placement: &mut Placement) {
        let people = self.people;
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
}

/// Each way at each offset, the earliest first.
fn at_each<'v>(offsets: &[u32], variants: &'v [Variant]) -> Vec<(u32, &'v Variant)> {
    offsets.iter().flat_map(|offset| variants.iter().map(|variant| (*offset, variant))).collect()
}

/// Starts of so many heats, so many seconds apart.
fn heats_apart(heats: u32, gap_s: u32) -> Vec<u32> {
    (0..heats).map(|heat| heat * gap_s).collect()
}

/// Of placements with more and more starts the first that fits the time; when none does, the one that ends first, and
/// one more start has to end well sooner.
fn simplest(placements: impl Iterator<Item = Placement>, available_s: f64) -> Option<Placement> {
    let mut best: Option<Placement> = None;
    for next in placements {
        if next.fits(available_s) {
            return Some(next);
        }
        if best.as_ref().is_none_or(|best| next.ends_s < best.ends_s - WORTH_A_HEAT_S) {
            best = Some(next);
        }
    }
    best
}

/// What somebody asks for that the gym has not got, even alone.
fn missing(person: &Person<'_>, claims: &[Claim], inventory: &Inventory) -> Option<String> {
    let short = claims.iter().find(|claim| claim.count > inventory.count(claim.station))?;
    let (there, station) = (inventory.count(short.station), short.station);
    Some(format!("{} needs {}, the gym has {there}", person.doer.name, station.counted(short.count)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::member::Member;
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
        let member = Member::default();
        let names: Vec<String> = (0..runs.len()).map(|n| format!("Member {n}")).collect();
        let people: Vec<Person<'_>> = runs
            .iter()
            .zip(&names)
            .enumerate()
            .map(|(place, (run, name))| {
                let late_s = run.finish_s;
                let doer = Doer { name, tree: &tree, run, late_s, cap_s: f64::INFINITY, member: &member };
                Person { doer, follows: None, place }
            })
            .collect();
        // No other machine stands in.
        let gym = Gym { rowers, skis: 0, bikes: 0, ..Gym::default() };
        let walk = |n: usize, _: &Node| runs[n].clone();
        let inventory = Inventory::of(&gym);
        let search = Search {
            people: &people,
            inventory: &inventory,
            gym: &gym,
            catalogue,
            model: Model::standard(),
            walk: &walk,
            waits: Waits::Shortly,
        };
        search.arrange(600.0, asked)
    }

    #[test]
    fn three_on_one_rower_start_one_after_the_other_as_close_as_it_allows() {
        let runs = vec![row_then_burpees(55.0, 60.0); 3];
        let staggered = arranged(&runs, 1, None);
        assert_eq!(staggered.arrangement, Arrangement::Staggered);
        let words = staggered.arrangement.words(&staggered.starts);
        assert_eq!(words, "Staggered, 2 of 3 start up to 2:00 later");
        // Who rows for minutes is not waited for: then there are heats.
        let long = vec![row_then_burpees(190.0, 60.0); 3];
        assert_eq!(arranged(&long, 1, None).arrangement, Arrangement::Heats);
        let found = arranged(&runs, 1, Some(Arrangement::Heats));
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
    fn fewer_heats_are_taken_when_they_fit_and_more_when_only_they_do() {
        let placed = |ends_s| Placement { ends_s, ..Placement::default() };
        let ends =
            |available_s| simplest([placed(840.0), placed(795.0), placed(700.0)].into_iter(), available_s);
        assert_eq!(ends(900.0).unwrap().ends_s, 840.0);
        assert_eq!(ends(800.0).unwrap().ends_s, 795.0);
        // None fits: the one that ends well sooner.
        assert_eq!(ends(600.0).unwrap().ends_s, 700.0);
        assert!(simplest(std::iter::empty(), 600.0).is_none());
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
