//! Fitting a version to one person: as little off the load, the repetitions and the rounds as brings it inside.

use super::changes::Changes;
use super::ground::grounded;
use super::rewrite::{Edit, stations};
use super::rules::{Against, against, biggest_sets};
use super::world::World;
use crate::gym::{ShrinkFirst, SwapSchool};
use crate::pacing::{Athlete, Luck, Side, Window, simulate};
use crate::session::Node;

/// Shares of the written load that are tried, in this order.
const LOAD_STEPS: [f64; 13] = [1.0, 0.95, 0.9, 0.85, 0.8, 0.75, 0.7, 0.65, 0.6, 0.5, 0.4, 0.35, 0.3];
/// Shares of the written repetitions that are tried, in this order. With less than that it is another piece.
const REP_STEPS: [f64; 8] = [1.0, 0.9, 0.8, 0.75, 0.7, 0.65, 0.6, 0.5];
/// Finer shares of the repetitions, for the middle of a window.
const FINE_STEPS: [f64; 10] = [0.95, 0.9, 0.85, 0.8, 0.75, 0.7, 0.65, 0.6, 0.55, 0.5];
/// Factors on the repetitions of an easier movement that are tried to keep the time: a replacement keeps repetitions, time and
/// effort within a fifth.
const LONGER_SWAPS: [f64; 2] = [1.1, 1.2];
/// A station that does not fit is cut until it is this share of its interval's limit, and to no less than this share of itself: who has a
/// third of a class's power does a third of its calories in the same time.
const STATION_FITS: f64 = 0.97;
const LEAST_STATION: f64 = 0.3;
/// Steps up that are offered to who is ahead.
const MORE_LOAD: [f64; 4] = [1.1, 1.2, 1.3, 1.4];
const MORE_REPS: [f64; 5] = [1.1, 1.2, 1.3, 1.4, 1.5];
/// Load steps that are given up for the clock before something else shrinks: a lighter bar helps only so far.
const LOADS_FOR_THE_CLOCK: usize = 5;
/// Most rounds left out.
const MOST_ROUNDS_OUT: u32 = 4;

/// One person, one piece, one window.
pub(super) struct Fitter<'a> {
    pub athlete: &'a Athlete<'a>,
    pub window: &'a Window,
    pub world: &'a World<'a>,
    /// The piece with this person's own of the written numbers.
    pub written: &'a Node,
    /// How far inside the window the median is to lie.
    pub comfort: f64,
}

/// A median closer to the far end than this share of the window is not comfortably inside: half of the days would be
/// outside.
pub(super) const COMFORT: f64 = 0.25;

impl Fitter<'_> {
    /// The tree under some changes, with the limits kept.
    pub fn tree(&self, changes: &Changes) -> (Node, Vec<Edit>) {
        let (tree, mut edits) = changes.apply(self.written, self.athlete.member, self.world);
        let (tree, kept) = grounded(&tree, self.athlete.member, self.world);
        edits.extend(kept);
        (tree, edits)
    }

    /// Everything that speaks against a tree.
    pub fn broken(&self, tree: &Node) -> Vec<Against> {
        biggest_sets(tree)
            .into_iter()
            .filter_map(|(work, set)| against(work, set, self.athlete, self.world))
            .collect()
    }

    /// Where the median walk ends.
    pub fn side(&self, tree: &Node) -> Side {
        self.window.comfortably(self.result(tree), self.comfort)
    }

    /// What the median walk comes to, as the window measures.
    fn result(&self, tree: &Node) -> f64 {
        let World { catalogue, model, .. } = *self.world;
        self.window.measure.of(&simulate(tree, self.athlete, catalogue, model, Luck::MEDIAN))
    }

    /// The heaviest load up to a share of the written one with which what is counted holds: a version's numbers with somebody's own loads.
    pub fn heaviest(&self, numbers: &Changes, most: f64) -> Option<Changes> {
        let steps = LOAD_STEPS.into_iter().filter(|step| *step < most - 1e-9);
        let loads = [most].into_iter().chain(steps).map(|load| Changes { load, ..numbers.clone() });
        loads.take(LOADS_FOR_THE_CLOCK * 2).find(|changes| self.holds(changes))
    }

    /// Whether changes bring the median comfortably inside and take no more away than that asks for, with nothing that speaks against them.
    pub fn holds(&self, changes: &Changes) -> bool {
        let (tree, _) = self.tree(changes);
        let result = self.result(&tree);
        self.window.comfortably(result, self.comfort) == Side::Inside
            && !self.window.is_overdone(result)
            && self.broken(&tree).is_empty()
    }

    /// Takes off from `start` what the loads' rules ask for, then what the clock asks for, in the gym's order.
    pub fn fit(&self, start: &Changes) -> Changes {
        let mut changes = self.lighten_to_the_rules(start);
        let (tree, _) = self.tree(&changes);
        match self.side(&tree) {
            Side::Inside => return changes,
            Side::Early => return self.longer_swaps(&changes),
            Side::Late => {}
        }
        if stations(self.written) > 1 {
            return self.fewer_at_stations(&changes);
        }
        let order: [fn(&Self, &Changes) -> Changes; 3] = match self.world.gym.shrink_first {
            ShrinkFirst::Load => [Self::lighter, Self::fewer_reps, Self::fewer_rounds],
            ShrinkFirst::Reps => [Self::fewer_reps, Self::lighter, Self::fewer_rounds],
            ShrinkFirst::Rounds => [Self::fewer_rounds, Self::fewer_reps, Self::lighter],
        };
        let mut result = self.result(&tree);
        for lever in order {
            let tried = lever(self, &changes);
            let now = self.result(&self.tree(&tried).0);
            // Fewer rounds of a clock that goes on anyway, or of what is counted, are only less.
            let is_nearer = if self.window.measure.is_time() { now < result } else { now > result };
            if !is_nearer {
                continue;
            }
            (changes, result) = (tried, now);
            if self.window.comfortably(result, self.comfort) != Side::Late {
                break;
            }
        }
        changes
    }

    /// For who is ahead of the window: the first step up of the load, then of the repetitions, that ends inside it with
    /// every rule kept and room on both sides; the last that is not late where none has.
    pub fn more(&self) -> Option<Changes> {
        let loads = MORE_LOAD.iter().map(|load| Changes { load: *load, ..Changes::none() });
        let both =
            MORE_REPS.iter().map(|reps| Changes { load: MORE_LOAD[0], reps: *reps, ..Changes::none() });
        let reps = MORE_REPS.iter().map(|reps| Changes { reps: *reps, ..Changes::none() });
        let mut last = None;
        for changes in loads.chain(reps).chain(both) {
            let (tree, edits) = self.tree(&changes);
            if edits.is_empty() || !self.broken(&tree).is_empty() {
                continue;
            }
            let result = self.result(&tree);
            if self.window.keeps_margin(result, self.comfort) {
                return Some(changes);
            }
            if self.window.comfortably(result, self.comfort) != Side::Late {
                last = Some(changes);
            }
        }
        last
    }

    /// An easier movement that is over too soon is done more often, where the gym's school is to keep the time.
    fn longer_swaps(&self, from: &Changes) -> Changes {
        if from.swaps.is_empty() || self.world.gym.swap_school != SwapSchool::SameTime {
            return from.clone();
        }
        let mut best = from.clone();
        for swap_reps in LONGER_SWAPS {
            let longer = Changes { swap_reps, ..from.clone() };
            let (tree, _) = self.tree(&longer);
            if self.side(&tree) == Side::Late || !self.broken(&tree).is_empty() {
                break;
            }
            best = longer;
            if self.side(&tree) == Side::Inside {
                break;
            }
        }
        best
    }

    /// For who is hard to predict: repetitions that bring the median as near to the middle of the window as they can, so
    /// that there is room on both sides. None where the window has no middle.
    pub fn to_the_middle(&self, start: &Changes) -> Option<Changes> {
        let middle = (self.window.low? + self.window.high?) / 2.0;
        let from = match self.world.gym.shrink_first {
            ShrinkFirst::Rounds => self.fewer_rounds(&self.lighten_to_the_rules(start)),
            ShrinkFirst::Load | ShrinkFirst::Reps => self.lighten_to_the_rules(start),
        };
        let value = |changes: &Changes| self.result(&self.tree(changes).0);
        let fewer = FINE_STEPS.iter().map(|reps| Changes { reps: *reps, ..from.clone() });
        let longer = LONGER_SWAPS
            .iter()
            .filter(|_| !from.swaps.is_empty() && self.world.gym.swap_school == SwapSchool::SameTime)
            .map(|swap_reps| Changes { swap_reps: *swap_reps, ..from.clone() });
        let off = |changes: &Changes| (value(changes) - middle).abs();
        let candidates = [from.clone()].into_iter().chain(fewer).chain(longer);
        candidates
            .map(|changes| (off(&changes), changes))
            .min_by(|a, b| a.0.total_cmp(&b.0))
            .map(|(_, best)| best)
    }

    pub fn lighten_to_the_rules(&self, start: &Changes) -> Changes {
        let heavy = |changes: &Changes| {
            let (tree, _) = self.tree(changes);
            self.broken(&tree).iter().any(|cause| matches!(cause, Against::Load { .. }))
        };
        let steps = LOAD_STEPS.into_iter().filter(|step| *step <= start.load + 1e-9);
        let mut changes = start.clone();
        for load in [start.load].into_iter().chain(steps) {
            changes.load = load;
            if !heavy(&changes) {
                break;
            }
        }
        changes
    }

    fn lighter(&self, from: &Changes) -> Changes {
        let steps = LOAD_STEPS.into_iter().filter(|step| *step < from.load - 1e-9);
        self.first_in_time(from, steps.take(LOADS_FOR_THE_CLOCK).map(|load| Changes { load, ..from.clone() }))
    }

    fn fewer_reps(&self, from: &Changes) -> Changes {
        // Halving the interval: more repetitions never end sooner.
        let steps: Vec<f64> = REP_STEPS.into_iter().filter(|step| *step < from.reps - 1e-9).collect();
        let late = |reps: &f64| {
            let (tree, _) = self.tree(&Changes { reps: *reps, ..from.clone() });
            self.side(&tree) == Side::Late
        };
        let place = steps.partition_point(late).min(steps.len().saturating_sub(1));
        steps.get(place).map_or(from.clone(), |reps| Changes { reps: *reps, ..from.clone() })
    }

    /// Where a clock goes round stations, only those that do not fit their interval are cut.
    fn fewer_at_stations(&self, from: &Changes) -> Changes {
        let World { catalogue, model, .. } = *self.world;
        let count = stations(self.written);
        let (mut changes, limit) = (from.clone(), self.window.high.unwrap_or(f64::INFINITY));
        changes.stations = vec![1.0; count];
        for _ in 0..count * 3 {
            let (tree, _) = self.tree(&changes);
            let run = simulate(&tree, self.athlete, catalogue, model, Luck::MEDIAN);
            let slowest =
                |n: usize| run.interval_work.iter().skip(n).step_by(count).copied().fold(0.0, f64::max);
            let worst = (0..count).max_by(|a, b| slowest(*a).total_cmp(&slowest(*b))).unwrap_or(0);
            if self.side(&tree) == Side::Inside || changes.stations[worst] <= LEAST_STATION {
                break;
            }
            let share = (limit * STATION_FITS / slowest(worst)).clamp(0.6, 0.95);
            changes.stations[worst] = (changes.stations[worst] * share).max(LEAST_STATION);
        }
        changes
    }

    fn fewer_rounds(&self, from: &Changes) -> Changes {
        let steps = (1..=MOST_ROUNDS_OUT).map(|out| Changes { fewer_rounds: out, ..from.clone() });
        let whole = self.tree(from).0;
        // A piece without counted rounds is not shortened this way.
        let steps = steps.filter(|changes| self.tree(changes).0 != whole);
        self.first_in_time(from, steps)
    }

    /// The first of some steps that ends in time, else the last of them that changes anything.
    fn first_in_time(&self, from: &Changes, steps: impl Iterator<Item = Changes>) -> Changes {
        let mut last = from.clone();
        for changes in steps {
            let (tree, _) = self.tree(&changes);
            last = changes;
            if self.side(&tree) != Side::Late {
                break;
            }
        }
        last
    }
}
