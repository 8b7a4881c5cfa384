//! Rewrites: from a tree to a tree, with the edits that were made and the reason of each.

mod swap;

use std::collections::BTreeSet;

use serde::Serialize;

pub use swap::swap;

use super::hand::{BY_HAND, HandLine};
use super::numbers;
use crate::gym::{Gym, at_or_below};
use crate::member::Member;
use crate::movement::{Catalogue, LoadKind, Movement};
use crate::session::{Amount, Load, Node, Part, PercentOf, works};
use crate::strength::{load_bar, max_for};
use crate::units::{Kilograms, WeightUnit, clock_s, plain};

/// Step in which bags, vests and sleds are filled, in kilograms.
const FILLED_IN: f64 = 2.5;
/// A load within this share of the written one is the same load on other plates.
const NO_CHANGE: f64 = 0.97;

const OF_HABIT: &str = "a habit of this gym's coaches";

/// One change to the text.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Edit {
    /// What was changed: `thruster 43 → 35 kg`.
    pub what: String,
    /// Why.
    pub why: String,
    #[serde(skip)]
    swap: bool,
}

impl Edit {
    /// A change that is no swap.
    pub(super) fn because(what: String, why: &str) -> Self {
        Self { what, why: why.to_owned(), swap: false }
    }

    /// What the coach has written in place of a line.
    pub(crate) fn by_hand(line: &HandLine) -> Self {
        let what = match line.to.trim() {
            "" => format!("without {}", line.from),
            to => format!("{} → {to}", line.from),
        };
        Self { what, why: BY_HAND.to_owned(), swap: false }
    }

    /// What the gym's coaches always do.
    pub(super) fn of_habit(what: String, swap: bool) -> Self {
        Self { what, why: OF_HABIT.to_owned(), swap }
    }

    /// Whether it is what the gym's coaches always do.
    pub fn is_of_habit(&self) -> bool {
        self.why == OF_HABIT
    }

    /// Whether it puts another movement in the place of one.
    pub fn is_swap(&self) -> bool {
        self.swap
    }
}

/// The tree as one member does it: of each written pair the member's own number, on equipment that
/// exists in the gym.
pub fn personal(tree: &Node, first_of_pair: bool) -> Node {
    tree.map_work(&mut |work| {
        let mut work = work.clone();
        if let Some(load) = &mut work.load {
            let own = if first_of_pair { load.first } else { load.second.unwrap_or(load.first) };
            *load = Load { first: own, second: None, ..*load };
        }
        if let (Amount::Fixed { .. }, Some(own)) =
            (work.dose.amount, work.dose.amount.own(first_of_pair, None))
        {
            work.dose.amount = Amount::Fixed { first: own, second: None };
        }
        Node::Work(work)
    })
}

/// The piece as one member does it: [`personal`], and what is written as a share of the 1RM as a load of their own.
pub fn for_member(part: &Part, member: &Member, gym: &Gym, catalogue: &Catalogue) -> Node {
    // A share that stands for the whole part is of its one barbell; of two it could be either's.
    let barbells: BTreeSet<_> = works(&part.tree)
        .into_iter()
        .filter(|work| catalogue.get(&work.movement).is_some_and(Movement::is_barbell))
        .map(|work| &work.movement)
        .collect();
    let of_all = part.strength.percent.first().filter(|_| barbells.len() == 1);
    personal(&part.tree, member.takes_first_of_pair()).map_work(&mut |work| {
        let mut work = work.clone();
        let share = work.percent.first().or(of_all).map(|[low, high]| (low + high) / 200.0);
        let movement = catalogue.get(&work.movement).filter(|movement| movement.is_barbell());
        if let (None, Some(share), Some(movement)) = (work.load, share, movement)
            && let Some(whole) = whole_of(part, movement, member, catalogue)
        {
            let own = available(whole.share(share), movement, gym);
            work.load = Some(Load {
                first: own.in_unit(gym.unit),
                second: None,
                unit: gym.unit.into(),
                implements: 1,
            });
        }
        Node::Work(work)
    })
}

/// What the shares of a piece are of: one's own weight, the 1RM of another lift, or that of the lift itself. None where it is not on file.
fn whole_of(part: &Part, movement: &Movement, member: &Member, catalogue: &Catalogue) -> Option<Kilograms> {
    let of = match &part.strength.percent_of {
        Some(PercentOf::Bodyweight) => return member.bodyweight,
        Some(PercentOf::Lift(other)) => other,
        _ => &movement.id,
    };
    Some(max_for(member, of, catalogue)?.value)
}

/// A load of at most this share of somebody's 1RM is not what stops them: it is lowered no further. Coaching practice.
const NO_BRAKE: f64 = 0.5;

/// Every weight taken down to a share of itself, to the nearest that the gym has at or below it, but not below half of the member's
/// own 1RM. The lightest equipment stays as it is.
pub fn lighten(
    tree: &Node,
    share: f64,
    member: &Member,
    gym: &Gym,
    catalogue: &Catalogue,
    why: &str,
) -> (Node, Vec<Edit>) {
    let mut edits: Vec<Edit> = Vec::new();
    let tree = tree.map_work(&mut |work| {
        let mut work = work.clone();
        if let (Some(load), Some(movement)) = (work.load, catalogue.get(&work.movement))
            && let Some(weight) = load.weight()
        {
            let most = max_for(member, &movement.id, catalogue).map(|max| max.value.share(NO_BRAKE));
            let wanted = weight.share(share).max(most.unwrap_or(Kilograms::from_kg(0.0)));
            let lighter = available(wanted, movement, gym);
            if lighter < weight.share(NO_CHANGE) {
                let written = load.unit.weight().unwrap_or(WeightUnit::Kg);
                let unit = unit_of(load, lighter, movement, gym);
                let second = load.second.map(|lower| {
                    let lower = Kilograms::from_unit(lower, written);
                    available(lower.share(share), movement, gym).min(lower).in_unit(unit)
                });
                let new = Load { first: lighter.in_unit(unit), second, unit: unit.into(), ..load };
                push(&mut edits, format!("{} {load} → {new}", movement.name.to_lowercase()), why);
                work.load = Some(new);
            }
        }
        Node::Work(work)
    });
    (tree, edits)
}

/// What a changed load is said in: a bar in the gym's plates, what comes in sizes as its size is made, all else as it was written.
pub(super) fn unit_of(load: Load, to: Kilograms, movement: &Movement, gym: &Gym) -> WeightUnit {
    match movement.load_kind {
        LoadKind::Barbell => gym.unit,
        LoadKind::DumbbellEach | LoadKind::DumbbellSingle | LoadKind::Kettlebell | LoadKind::Ball => {
            to.made_in()
        }
        LoadKind::None | LoadKind::BoxHeight | LoadKind::Vest | LoadKind::Sled => {
            load.unit.weight().unwrap_or(WeightUnit::Kg)
        }
    }
}

/// The nearest weight at or below `wanted` that the gym has for a movement.
pub fn available(wanted: Kilograms, movement: &Movement, gym: &Gym) -> Kilograms {
    match movement.load_kind {
        LoadKind::Barbell => load_bar(gym, wanted).total,
        LoadKind::DumbbellEach | LoadKind::DumbbellSingle | LoadKind::Kettlebell | LoadKind::Ball => {
            at_or_below(&gym.sizes_of(movement.load_kind), wanted).unwrap_or(wanted)
        }
        LoadKind::None | LoadKind::BoxHeight => wanted,
        // Bags, vests and sleds are filled in steps.
        LoadKind::Vest | LoadKind::Sled => {
            Kilograms::from_kg((wanted.kg() / FILLED_IN).floor().max(1.0) * FILLED_IN)
        }
    }
}

/// Repetitions, calories and metres taken down to a share, whole and never under one; schemes too. A time that as much as fits is done in stays.
pub fn cut_reps(tree: &Node, share: f64, catalogue: &Catalogue, why: &str) -> (Node, Vec<Edit>) {
    let mut cut_down = tree.map_work(&mut |work| {
        let mut work = work.clone();
        if let Amount::Fixed { first, second } = work.dose.amount
            && !work.is_as_much_as_fits(catalogue)
        {
            let cut = |amount| numbers::share_of(amount, work.dose.unit, share);
            work.dose.amount = Amount::Fixed { first: cut(first), second: second.map(cut) };
        }
        Node::Work(work)
    });
    change_schemes(&mut cut_down, &|reps| numbers::scheme_share(reps, share));
    if cut_down == *tree {
        return (cut_down, Vec::new());
    }
    let what = format!("repetitions down to {} %", plain((share * 100.0).round()));
    (cut_down, vec![Edit { what, why: why.to_owned(), swap: false }])
}

/// What is done at each station of a clock that goes round taken down to a share of its own; the other stations stay.
pub(super) fn cut_stations(
    tree: &Node,
    shares: &[f64],
    catalogue: &Catalogue,
    why: &str,
) -> (Node, Vec<Edit>) {
    let mut edits = Vec::new();
    let mut tree = tree.clone();
    change_stations(&mut tree, &mut |n, station| {
        let Some(share) = shares.get(n).filter(|share| **share < 1.0) else { return };
        *station = station.map_work(&mut |work| {
            let mut work = work.clone();
            if let Amount::Fixed { first, second } = work.dose.amount
                && !work.is_as_much_as_fits(catalogue)
            {
                let cut = |amount| numbers::share_of(amount, work.dose.unit, *share);
                work.dose.amount = Amount::Fixed { first: cut(first), second: second.map(cut) };
                let name = catalogue.name(&work.movement).to_lowercase();
                let unit = work.dose.unit.short();
                push(&mut edits, format!("{name} {}{unit} → {}{unit}", plain(first), plain(cut(first))), why);
            }
            Node::Work(work)
        });
    });
    (tree, edits)
}

/// How many stations a clock goes round; none where it does not.
pub(super) fn stations(tree: &Node) -> usize {
    let mut count = 0;
    change_stations(&mut tree.clone(), &mut |n, _| count = n + 1);
    count
}

fn change_stations(node: &mut Node, change: &mut impl FnMut(usize, &mut Node)) {
    match node {
        Node::Every { alternate: true, of, .. } => {
            of.iter_mut().enumerate().for_each(|(n, station)| change(n, station));
        }
        Node::Within { of, .. } | Node::Together { of, .. } | Node::Rounds { of, .. } => {
            change_stations(of, change);
        }
        _ => {}
    }
}

/// Every weight taken up to about a factor of itself, to what the gym has at or below it; for who asks for more.
pub fn load_up(tree: &Node, factor: f64, gym: &Gym, catalogue: &Catalogue, why: &str) -> (Node, Vec<Edit>) {
    let mut edits: Vec<Edit> = Vec::new();
    let tree = tree.map_work(&mut |work| {
        let mut work = work.clone();
        if let (Some(load), Some(movement)) = (work.load, catalogue.get(&work.movement))
            && let Some(weight) = load.weight()
        {
            let heavier = available(weight.share(factor), movement, gym);
            if heavier > weight {
                let unit = unit_of(load, heavier, movement, gym);
                let new = Load { first: heavier.in_unit(unit), second: None, unit: unit.into(), ..load };
                push(&mut edits, format!("{} {load} → {new}", movement.name.to_lowercase()), why);
                work.load = Some(new);
            }
        }
        Node::Work(work)
    });
    (tree, edits)
}

/// Repetitions, calories and metres taken up by a factor; schemes too.
pub fn add_reps(tree: &Node, factor: f64, catalogue: &Catalogue, why: &str) -> (Node, Vec<Edit>) {
    let more = tree.map_work(&mut |work| {
        let mut work = work.clone();
        if let Amount::Fixed { first, second } = work.dose.amount
            && !work.is_as_much_as_fits(catalogue)
        {
            let more = |amount: f64| (amount * factor).round().max(amount);
            work.dose.amount = Amount::Fixed { first: more(first), second: second.map(more) };
        }
        Node::Work(work)
    });
    let what = format!("repetitions up to {} %", plain((factor * 100.0).round()));
    let more = scale_schemes(&more, factor);
    let edits =
        if more == *tree { Vec::new() } else { vec![Edit { what, why: why.to_owned(), swap: false }] };
    (more, edits)
}

/// The numbers of all schemes times a factor.
pub(super) fn scale_schemes(tree: &Node, factor: f64) -> Node {
    let mut tree = tree.clone();
    change_schemes(&mut tree, &|reps| numbers::scheme_times(reps, factor));
    tree
}

/// So many rounds fewer wherever rounds or rungs are counted, and never under one; of a scheme the last rungs go.
pub fn cut_rounds(tree: &Node, fewer: u32, why: &str) -> (Node, Vec<Edit>) {
    let mut edits = Vec::new();
    let mut tree = tree.clone();
    cut_counted(&mut tree, fewer, &mut |before, after| {
        push(&mut edits, format!("{before} rounds → {after}"), why);
    });
    (tree, edits)
}

fn cut_counted(node: &mut Node, fewer: u32, told: &mut impl FnMut(u32, u32)) {
    match node {
        Node::Rounds { times: Some(times), .. } if *times > 1 => {
            let left = times.saturating_sub(fewer).max(1);
            if left < *times {
                told(*times, left);
            }
            *times = left;
        }
        Node::Scheme { reps, .. } if reps.len() > 2 => {
            let left = reps.len().saturating_sub(fewer as usize).max(1);
            if left < reps.len() {
                told(reps.len() as u32, left as u32);
            }
            reps.truncate(left);
        }
        Node::Seq { of } => of.iter_mut().for_each(|child| cut_counted(child, fewer, told)),
        Node::Together { of, .. } | Node::Interrupt { of, .. } | Node::Penalty { of, .. } => {
            cut_counted(of, fewer, told);
        }
        _ => {}
    }
}

/// A window of time taken down to `seconds`; a shorter one stays as it is.
pub fn shorten(tree: &Node, seconds: u32, why: &str) -> (Node, Vec<Edit>) {
    let mut edits = Vec::new();
    let mut tree = tree.clone();
    if let Node::Within { seconds: length, .. } = &mut tree
        && *length > seconds
    {
        push(&mut edits, format!("{} → {}", clock_s(*length), clock_s(seconds)), why);
        *length = seconds;
    }
    (tree, edits)
}

fn change_schemes(node: &mut Node, change: &impl Fn(&[u32]) -> Vec<u32>) {
    match node {
        Node::Scheme { reps, of, .. } => {
            *reps = change(reps);
            change_schemes(of, change);
        }
        Node::Seq { of } | Node::Every { of, .. } => {
            of.iter_mut().for_each(|child| change_schemes(child, change))
        }
        Node::Rounds { of, .. }
        | Node::Ladder { of, .. }
        | Node::Within { of, .. }
        | Node::Together { of, .. } => {
            change_schemes(of, change);
        }
        Node::Interrupt { of, .. } | Node::Penalty { of, .. } => change_schemes(of, change),
        Node::Work(_) | Node::Rest { .. } => {}
    }
}

fn push(edits: &mut Vec<Edit>, what: String, why: &str) {
    let edit = Edit { what, why: why.to_owned(), swap: false };
    if !edits.contains(&edit) {
        edits.push(edit);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::print::work_text;
    use crate::read::read;
    use crate::session::{totals, works};
    use proptest::prelude::*;

    fn tree(text: &str) -> Node {
        read(text, Catalogue::standard()).session.parts.remove(0).tree
    }

    fn lines(tree: &Node) -> Vec<String> {
        works(tree).into_iter().map(|work| work_text(work, Catalogue::standard())).collect()
    }

    #[test]
    fn each_of_a_pair_gets_the_number_that_is_theirs() {
        let written = tree("5 rounds for time\n12/10 cal row\n10 deadlifts 80/55 kg");
        assert_eq!(lines(&personal(&written, true)), ["12 cal row", "10 deadlift, 80 kg"]);
        assert_eq!(lines(&personal(&written, false)), ["10 cal row", "10 deadlift, 55 kg"]);
    }

    #[test]
    fn lightening_ends_on_equipment_that_the_gym_has() {
        let written = personal(
            &tree("For time\n21-15-9\nthrusters 43 kg\nkettlebell swings 24 kg\nwall balls 9 kg"),
            true,
        );
        let (lighter, edits) = lighten(
            &written,
            0.7,
            &Member::default(),
            &Gym::default(),
            Catalogue::standard(),
            "so that the sets hold",
        );
        assert_eq!(lines(&lighter), ["thruster, 30 kg", "kettlebell swing, 16 kg", "wall ball, 6 kg"]);
        assert_eq!(edits.len(), 3);
        insta::assert_snapshot!(edits[0].what, @"thruster 43 kg → 30 kg");
    }

    #[test]
    fn rounds_and_rungs_go_from_the_end_and_a_window_is_only_shortened() {
        let rounds = |text: &str, fewer| {
            let (cut, edits) = cut_rounds(&tree(text), fewer, "why");
            (totals(&cut)[0].amount, edits.first().map(|edit| edit.what.clone()))
        };
        assert_eq!(rounds("5 rounds for time\n10 burpees", 1), (40.0, Some("5 rounds → 4".to_owned())));
        assert_eq!(rounds("21-15-9 for time\nburpees", 1), (36.0, Some("3 rounds → 2".to_owned())));
        assert_eq!(rounds("5 rounds for time\n10 burpees", 9).0, 10.0);
        let amrap = tree("AMRAP 25\n10 burpees");
        assert!(matches!(shorten(&amrap, 1200, "why").0, Node::Within { seconds: 1200, .. }));
        assert_eq!(shorten(&amrap, 1800, "why").1, []);
    }

    #[test]
    fn both_of_a_pair_are_lightened() {
        let written = tree("For time\n30 thrusters 43/30 kg");
        let (lighter, _) =
            lighten(&written, 0.8, &Member::default(), &Gym::default(), Catalogue::standard(), "why");
        assert_eq!(lines(&lighter), ["30 thruster, 32.5/22.5 kg"]);
    }

    #[test]
    fn pounds_in_the_text_become_the_gyms_own_plates() {
        let written = personal(&tree("For time\n50 front squats 135/95 lb"), true);
        let (lighter, _) =
            lighten(&written, 0.8, &Member::default(), &Gym::default(), Catalogue::standard(), "why");
        assert_eq!(lines(&lighter), ["50 front squat, 47.5 kg"]);
    }

    proptest! {
        #[test]
        fn prop_cutting_reps_never_adds_any_and_never_leaves_none(reps in 1_u32..200, share in 0.3..1.0_f64) {
            let written = tree(&format!("3 rounds for time\n{reps} burpees\n{reps} air squats"));
            let (cut, _) = cut_reps(&written, share, Catalogue::standard(), "so that it ends in time");
            for (before, after) in totals(&written).iter().zip(totals(&cut)) {
                prop_assert!(after.amount <= before.amount && after.amount >= 3.0);
            }
        }

        #[test]
        fn prop_lighter_is_never_heavier(kg in 20_u32..140, share in 0.4..1.0_f64) {
            let written = tree(&format!("For time\n30 deadlifts {kg} kg"));
            let (lighter, _) = lighten(&written, share, &Member::default(), &Gym::default(), Catalogue::standard(), "why");
            let load = works(&lighter)[0].load.unwrap().first;
            prop_assert!(load <= f64::from(kg));
        }
    }

    #[test]
    fn a_time_that_as_much_as_fits_is_done_in_stays() {
        let catalogue = Catalogue::standard();
        let written = tree("4 rounds for reps\n40 s burpees\n30 s plank\n12 air squats");
        let (less, _) = cut_reps(&written, 0.5, catalogue, "why");
        assert_eq!(lines(&less), ["40 s burpee", "15 s plank", "6 air squat"]);
        let (more, _) = add_reps(&written, 1.5, catalogue, "why");
        assert_eq!(lines(&more), ["40 s burpee", "45 s plank", "18 air squat"]);
        let timed = tree("4 rounds for reps\n40 s burpees\n40 s air squats");
        let (same, edits) = cut_reps(&timed, 0.5, catalogue, "why");
        assert!(same == timed && edits.is_empty(), "{edits:?}");
    }

    #[test]
    fn more_repetitions_are_so_many_times_as_many_and_never_fewer() {
        let written = tree("5 rounds for time\n12/10 cal row\n9 burpees\n1 rope climb");
        let (more, edits) = add_reps(&written, 1.5, Catalogue::standard(), "done early");
        assert_eq!(lines(&more), ["18/15 cal row", "14 burpee", "2 rope climb"]);
        insta::assert_snapshot!(edits[0].what, @"repetitions up to 150 %");
        let (fewer, _) = add_reps(&written, 0.5, Catalogue::standard(), "done early");
        assert_eq!(lines(&fewer), lines(&written));
    }
}
