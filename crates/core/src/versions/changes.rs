//! The changes that make a version, kept apart from the tree so that the board's can be tried on each member.

use super::home::HomeKit;
use super::ladder::Rung;
use super::rewrite::{
    Edit, add_reps, cut_reps, cut_rounds, cut_stations, lighten, load_up, scale_schemes, swap,
};
use super::world::World;
use crate::member::Member;
use crate::movement::LoadKind;
use crate::session::{Amount, Node, works};
use crate::strength::max_for;
use crate::units::Kilograms;

/// One movement for another, and why.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Swap {
    pub rung: Rung,
    pub why: String,
}

/// What is done to the text.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Changes {
    /// In this order: a later one may replace what an earlier one brought.
    pub swaps: Vec<Swap>,
    /// Factor on the repetitions of swapped-in movements, so that they take the time of the old ones.
    pub swap_reps: f64,
    /// Share of the loads.
    pub load: f64,
    /// Share of the repetitions.
    pub reps: f64,
    /// Share of what is done at each station of a clock that goes round; empty where none is changed.
    pub stations: Vec<f64>,
    /// Rounds left out.
    pub fewer_rounds: u32,
    /// What stands at home, which no load may be heavier than; none in the gym.
    pub home: Option<HomeKit>,
}

/// Share of the 1RM that a swapped-in movement is loaded with: light enough to cycle; coaching practice.
const SWAP_SHARE: f64 = 0.45;

/// Weights of departure: one swap, one round out, all of the load, all of the repetitions.
const A_SWAP: f64 = 1.0;
const A_ROUND: f64 = 0.5;
const ALL_LOAD: f64 = 1.0;
const ALL_REPS: f64 = 1.5;
/// A larger share of the repetitions is not worth other numbers on the board.
const WORTH_A_CUT: f64 = 0.93;
/// Below this share of the repetitions it is no longer the same piece, and every further cut weighs this much more.
const FEW_REPS: f64 = 0.65;
const BELOW_FEW: f64 = 4.0;

impl Changes {
    /// The text as it stands.
    pub fn none() -> Self {
        Self {
            swaps: Vec::new(),
            swap_reps: 1.0,
            load: 1.0,
            reps: 1.0,
            stations: Vec::new(),
            fewer_rounds: 0,
            home: None,
        }
    }

    /// These changes with as many repetitions and rounds as lie in the middle between them and others.
    pub fn half_way(&self, other: &Self) -> Self {
        let middle = |a: f64, b: f64| (a + b) / 2.0;
        let stations = match (self.stations.as_slice(), other.stations.as_slice()) {
            (own, []) | ([], own) => own.iter().map(|share| middle(*share, 1.0)).collect(),
            (own, others) => own.iter().zip(others).map(|(a, b)| middle(*a, *b)).collect(),
        };
        Self {
            reps: Some(middle(self.reps, other.reps)).filter(|reps| *reps <= WORTH_A_CUT).unwrap_or(1.0),
            swap_reps: middle(self.swap_reps, other.swap_reps),
            fewer_rounds: (self.fewer_rounds + other.fewer_rounds) / 2,
            stations,
            ..self.clone()
        }
    }

    /// These loads with what others count: repetitions, rounds and movements.
    pub fn with_numbers_of(&self, other: &Self) -> Self {
        Self { load: self.load, home: self.home.clone(), ..other.clone() }
    }

    /// Whether the same is counted and the same movements are done, whatever the loads.
    pub fn counts_the_same(&self, other: &Self) -> bool {
        *self == self.with_numbers_of(other)
    }

    /// How far this departs from the text: what a coach would have to explain. Modelling choice: a swap weighs as much
    /// as two thirds of the repetitions, or all of the load.
    pub fn departure(&self) -> f64 {
        let swaps = self.swaps.len() as f64 * A_SWAP;
        let rounds = f64::from(self.fewer_rounds) * A_ROUND;
        let stations = self.stations.iter().map(|share| (1.0 - share).abs()).sum::<f64>()
            / self.stations.len().max(1) as f64
            * ALL_REPS;
        let hollow = (FEW_REPS - self.reps).max(0.0) * BELOW_FEW;
        swaps
            + rounds
            + stations
            + hollow
            + (1.0 - self.load).abs() * ALL_LOAD
            + (1.0 - self.reps).abs() * ALL_REPS
    }

    /// The tree with these changes, and what was changed. `tree` is the member's own (see `personal`).
    pub fn apply(&self, tree: &Node, member: &Member, world: &World<'_>) -> (Node, Vec<Edit>) {
        let World { catalogue, gym, .. } = *world;
        let mut tree = tree.clone();
        let mut edits = Vec::new();
        for Swap { rung, why } in &self.swaps {
            let old = works(&tree)
                .into_iter()
                .find(|work| work.movement == rung.from)
                .and_then(|work| work.load.and_then(|load| load.weight()));
            let load = load_for(rung, old, member, world);
            let (next, made) = swap(&tree, rung, self.swap_reps, load, gym, catalogue, why);
            tree = next;
            edits.extend(made);
        }
        if let Some(kit) = &self.home {
            tree = no_heavier_than(&tree, kit);
        }
        if self.swap_reps > 1.0 && self.brought_all(&tree) {
            // Repetitions of a scheme stand in it and not beside the movements.
            tree = scale_schemes(&tree, self.swap_reps);
        }
        if self.load > 1.0 {
            let (next, made) = load_up(&tree, self.load, gym, catalogue, "because the text is too easy");
            tree = next;
            edits.extend(made);
        }
        if self.load < 1.0 {
            let (next, made) = lighten(
                &tree,
                self.load,
                member,
                gym,
                catalogue,
                "so that the sets hold and the time is kept",
            );
            tree = next;
            edits.extend(made);
        }
        if self.fewer_rounds > 0 {
            let (next, made) = cut_rounds(&tree, self.fewer_rounds, "so that it ends in time");
            tree = next;
            edits.extend(made);
        }
        if self.reps < 1.0 {
            let (next, made) = cut_reps(&tree, self.reps, catalogue, "so that it ends in time");
            tree = next;
            edits.extend(made);
        }
        if !self.stations.is_empty() {
            let (next, made) =
                cut_stations(&tree, &self.stations, catalogue, "so that the station fits its interval");
            tree = next;
            edits.extend(made);
        }
        if self.reps > 1.0 {
            let (next, made) = add_reps(&tree, self.reps, catalogue, "because the text is too easy");
            tree = next;
            edits.extend(made);
        }
        (tree, edits)
    }

    /// Whether every movement of the tree came in by a swap.
    fn brought_all(&self, tree: &Node) -> bool {
        let brought = |id| self.swaps.iter().any(|swap| swap.rung.to.iter().any(|(to, _)| to == id));
        works(tree).iter().all(|work| brought(&work.movement))
    }
}

/// Loads down to the heaviest that stands at home.
fn no_heavier_than(tree: &Node, kit: &HomeKit) -> Node {
    tree.map_work(&mut |work| {
        let mut work = work.clone();
        if let Some(load) = &mut work.load
            && let Some(weight) = load.weight()
            && kit.at_most(weight) < weight
        {
            let own = kit.at_most(weight);
            (load.first, load.unit) = (own.in_unit(own.made_in()), own.made_in().into());
        }
        Node::Work(work)
    })
}

/// A load for a swapped-in movement: the usual share of what the member can lift of it, within what stands at home
/// when that is where it is done.
fn load_for(rung: &Rung, old: Option<Kilograms>, member: &Member, world: &World<'_>) -> Option<Kilograms> {
    let (to, _) = rung.to.first()?;
    let movement = world.catalogue.get(to)?;
    if !movement.takes_weight() {
        return None;
    }
    let own = max_for(member, to, world.catalogue).map(|max| max.value.share(SWAP_SHARE));
    // One implement of two carries half of what the bar did.
    let hands = if movement.load_kind == LoadKind::DumbbellEach { 0.4 } else { 0.7 };
    let heavier = if member.takes_first_of_pair() { 12.5 } else { 7.5 };
    let wanted = own.or(old.map(|kg| kg.share(hands))).unwrap_or(Kilograms::from_kg(heavier));
    // Never more in the hands than the bar that it stands in for.
    Some(old.map_or(wanted, |old| wanted.min(old)))
}

/// The board's tree from those of two members: where the second has a lower number, both stand there, as in `43/30 kg`;
/// nobody writes a pair the other way round.
pub(super) fn side_by_side(first: &Node, second: &Node) -> Node {
    let others = works(second).into_iter().cloned().collect::<Vec<_>>();
    if others.len() != works(first).len() {
        return first.clone();
    }
    let mut others = others.into_iter();
    first.map_work(&mut |work| {
        let mut work = work.clone();
        let Some(other) = others.next().filter(|other| other.movement == work.movement) else {
            return Node::Work(work);
        };
        if let (Some(load), Some(lower)) = (&mut work.load, other.load)
            && load.unit == lower.unit
            && load.first > lower.first
        {
            load.second = Some(lower.first);
        }
        if let (Amount::Fixed { first: a, second: pair @ None }, Amount::Fixed { first: b, .. }) =
            (&mut work.dose.amount, other.dose.amount)
            && *a > b
        {
            *pair = Some(b);
        }
        Node::Work(work)
    })
}
