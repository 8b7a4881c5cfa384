//! Other ways to do the same piece with what there is: begun elsewhere in the round, on another machine, with a
//! neighbouring weight.

use super::Doer;
use super::stations::size_meant;
use crate::gym::Gym;
use crate::movement::{Catalogue, Movement, MovementId};
use crate::pacing::{Athlete, Model, in_the_time_of, keeps_count};
use crate::session::{Amount, Node, works};
use crate::units::Kilograms;

/// Machines that stand in for each other.
const MACHINES: [&str; 4] = ["row", "ski", "bike", "air-bike"];

/// The same piece begun at another movement of its round, for pieces whose rounds are all the same, and for rungs of which each has all
/// of them.
pub(super) fn rotations(tree: &Node) -> Vec<(MovementId, Node)> {
    fn round(node: &mut Node) -> Option<&mut Vec<Node>> {
        match node {
            Node::Rounds { times, of, .. } if *times != Some(1) => match &mut **of {
                Node::Seq { of } => Some(of),
                other => round(other),
            },
            Node::Scheme { of, .. } | Node::Ladder { of, .. } => match &mut **of {
                Node::Seq { of } => Some(of),
                _ => None,
            },
            Node::Every { alternate: true, of, .. } => Some(of),
            Node::Within { of, .. } => round(of),
            _ => None,
        }
    }
    let mut tree = tree.clone();
    let Some(stations) = round(&mut tree).map(|of| of.len()) else { return Vec::new() };
    let mut all = Vec::new();
    for _ in 1..stations {
        if let Some(of) = round(&mut tree) {
            of.rotate_left(1);
            if let Some(work) = of.first().map(works).and_then(|works| works.first().copied().cloned()) {
                all.push((work.movement, tree.clone()));
            }
        }
    }
    all
}

/// The same piece with other equipment, the smallest change first: with the weight on the shelf below and the one below that, where there is none
/// the one above; on another machine for as long.
pub(super) fn other_equipment(
    doer: &Doer<'_>,
    gym: &Gym,
    catalogue: &Catalogue,
    model: &Model,
) -> Vec<(String, Node)> {
    let lower: Vec<(String, Node)> =
        [-1, -2].into_iter().filter_map(|steps| other_weights(doer.tree, steps, gym, catalogue)).collect();
    // Heavier than chosen for them is nothing for whoever spares something.
    let above = (lower.is_empty() && doer.member.limits.is_empty())
        .then(|| other_weights(doer.tree, 1, gym, catalogue));
    let machines = other_machines(doer, catalogue, model);
    // "The lighter bell, on the bike": where both are short.
    let both = lower.first().into_iter().flat_map(|(lighter, _)| {
        machines.iter().filter_map(move |(machine, tree)| {
            let (_, tree) = other_weights(tree, -1, gym, catalogue)?;
            Some((format!("{machine}, {lighter}"), tree))
        })
    });
    let both: Vec<(String, Node)> = both.collect();
    lower.into_iter().chain(above.flatten()).chain(machines).chain(both).collect()
}

fn other_machines(doer: &Doer<'_>, catalogue: &Catalogue, model: &Model) -> Vec<(String, Node)> {
    let machine = works(doer.tree).into_iter().find(|work| MACHINES.contains(&work.movement.as_str()));
    let Some(from) = machine.map(|work| work.movement.clone()) else { return Vec::new() };
    let name = |id: &MovementId| catalogue.name(id).to_lowercase();
    let athlete = Athlete::new(doer.member);
    let rungs_count = |to: &Movement| {
        let mut own = works(doer.tree).into_iter().filter(|work| work.movement == from);
        own.all(|work| work.dose.amount != Amount::Scheme || keeps_count(work, to))
    };
    let others = MACHINES.into_iter().filter(|other| *other != from.as_str());
    others
        .filter_map(|other| catalogue.find(other))
        .filter(|to| rungs_count(to))
        .map(|to| {
            let swapped = doer.tree.map_work(&mut |work| {
                if work.movement != from {
                    return Node::Work(work.clone());
                }
                let pair = [&athlete, &athlete];
                Node::Work(in_the_time_of(work, to, pair, doer.run.finish_s, catalogue, model))
            });
            (format!("{} for {}", name(&to.id), name(&from)), swapped)
        })
        .collect()
}

/// Every dumbbell, kettlebell and ball some steps down or up its shelf; none when there is nothing there.
fn other_weights(tree: &Node, steps: i32, gym: &Gym, catalogue: &Catalogue) -> Option<(String, Node)> {
    let mut told: Vec<String> = Vec::new();
    let lower = tree.map_work(&mut |work| {
        let mut work = work.clone();
        let kind = catalogue.get(&work.movement).map(|movement| movement.load_kind);
        if let Some(load) = &mut work.load
            && let (Some(written), Some(unit), Some(kind)) = (load.weight(), load.unit.weight(), kind)
        {
            let (weight, shelf) = size_meant(written, kind, gym);
            let (mut below, mut above): (Vec<Kilograms>, Vec<Kilograms>) =
                shelf.into_iter().filter(|size| *size != weight).partition(|size| *size < weight);
            below.sort_by_key(|size| std::cmp::Reverse(*size));
            above.sort();
            let side = if steps < 0 { below } else { above };
            if let Some(next) = side.get(steps.unsigned_abs() as usize - 1) {
                let words = format!("{next} for {}", written.show(unit));
                if !told.contains(&words) {
                    told.push(words);
                }
                (load.first, load.unit) = (next.in_unit(next.made_in()), next.made_in().into());
            }
        }
        Node::Work(work)
    });
    (!told.is_empty()).then(|| (told.join(", "), lower))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::limits::Limit;
    use crate::member::Member;
    use crate::movement::Unit;
    use crate::pacing::Run;
    use crate::read::read;
    use crate::session::totals;

    fn tree(text: &str) -> Node {
        read(text, Catalogue::standard()).session.parts.remove(0).tree
    }

    #[test]
    fn a_round_can_begin_at_each_of_its_movements_and_stays_as_much_work() {
        let written = tree("5 rounds for time\n10 cal row\n10 burpees\n10 air squats");
        let all = rotations(&written);
        assert_eq!(all.iter().map(|(first, _)| first.as_str()).collect::<Vec<_>>(), ["burpee", "air-squat"]);
        let sum = |node: &Node| totals(node).iter().map(|total| total.amount).sum::<f64>();
        assert!(all.iter().all(|(_, turned)| sum(turned) == sum(&written)));
        // What is done once has one beginning.
        assert!(rotations(&tree("For time\n50 burpees\n50 air squats")).is_empty());
        // Of a rung each has all movements, in whichever order.
        let rungs = rotations(&tree("21-15-9 for time\nburpees\nair squats"));
        assert_eq!(rungs.iter().map(|(first, _)| first.as_str()).collect::<Vec<_>>(), ["air-squat"]);
    }

    #[test]
    fn other_equipment_is_the_weight_beside_or_another_machine_for_as_long() {
        let (gym, catalogue, model) = (Gym::default(), Catalogue::standard(), Model::standard());
        let others = |text: &str, member: &Member| -> Vec<(String, Node)> {
            let (tree, run) = (tree(text), Run { finish_s: 300.0, ..Run::default() });
            let doer =
                Doer { name: "A", tree: &tree, run: &run, late_s: 300.0, cap_s: f64::INFINITY, member };
            other_equipment(&doer, &gym, catalogue, model)
        };
        let anybody = Member::default();
        let told = |text: &str| -> Vec<String> {
            others(text, &anybody).into_iter().map(|(words, _)| words).collect()
        };
        let machines = told("For time\n50 cal row");
        assert!(machines.iter().any(|words| words == "bike for row") && machines.len() == 3, "{machines:?}");
        assert_eq!(told("For time\n50 kettlebell swings 24 kg"), ["20 kg for 24 kg", "16 kg for 24 kg"]);
        // The lightest has nothing below: the next one up, but not for whoever spares something. A bar is loaded, not chosen.
        let lightest = "For time\n50 kettlebell swings 6 kg";
        assert_eq!(told(lightest), ["8 kg for 6 kg"]);
        let sore = Member { limits: vec![Limit::new("sore shoulder")], ..Member::default() };
        assert!(others(lightest, &sore).is_empty());
        assert!(told("For time\n50 thrusters 40 kg").is_empty());
        // Metres of a rower are not as many calories of a bike.
        let (_, by_bike) = others("For time\n500 m row", &anybody)
            .into_iter()
            .find(|row| row.0.starts_with("bike"))
            .unwrap();
        let cals = works(&by_bike)[0].dose;
        assert!(cals.unit == Unit::Calories && (20.0..=50.0).contains(&cals.first().unwrap()), "{cals:?}");
    }
}
