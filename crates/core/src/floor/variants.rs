//! Other ways to do the same piece with what there is: begun elsewhere in the round, on another machine, with a
//! neighbouring weight.

use crate::gym::{Gym, sizes};
use crate::movement::{Catalogue, LoadKind, MovementId};
use crate::session::{Node, Work, works};
use crate::units::Kilograms;

/// Machines that stand in for each other.
const MACHINES: [&str; 4] = ["row", "ski", "bike", "air-bike"];

/// The same piece begun at another movement of its round, for pieces whose rounds are all the same.
pub(super) fn rotations(tree: &Node) -> Vec<(MovementId, Node)> {
    fn round(node: &mut Node) -> Option<&mut Vec<Node>> {
        match node {
            Node::Rounds { times, of, .. } if *times != Some(1) => match &mut **of {
                Node::Seq { of } => Some(of),
                other => round(other),
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

/// The same piece with other equipment: on another machine, calories for calories, or with the weight on the shelf
/// below and the one below that.
pub(super) fn other_equipment(tree: &Node, gym: &Gym, catalogue: &Catalogue) -> Vec<(String, Node)> {
    let mut all = other_machines(tree, catalogue);
    all.extend([1, 2].into_iter().filter_map(|steps| lower_weights(tree, steps, gym, catalogue)));
    all
}

fn other_machines(tree: &Node, catalogue: &Catalogue) -> Vec<(String, Node)> {
    let machine = works(tree).into_iter().find(|work| MACHINES.contains(&work.movement.as_str()));
    let Some(from) = machine.map(|work| work.movement.clone()) else { return Vec::new() };
    let name = |id: &MovementId| catalogue.name(id).to_lowercase();
    MACHINES
        .iter()
        .map(|other| MovementId::new(other))
        .filter(|to| *to != from)
        .map(|to| {
            let swapped = tree.map_work(&mut |work| {
                let movement = if work.movement == from { to.clone() } else { work.movement.clone() };
                Node::Work(Work { movement, ..work.clone() })
            });
            (format!("{} for {}", name(&to), name(&from)), swapped)
        })
        .collect()
}

/// Every dumbbell, kettlebell and ball some steps down its shelf; none when there is nothing lower.
fn lower_weights(tree: &Node, steps: usize, gym: &Gym, catalogue: &Catalogue) -> Option<(String, Node)> {
    let mut told: Vec<String> = Vec::new();
    let lower = tree.map_work(&mut |work| {
        let mut work = work.clone();
        let kind = catalogue.get(&work.movement).map(|movement| movement.load_kind);
        let shelf: Vec<Kilograms> = match kind {
            Some(LoadKind::DumbbellEach | LoadKind::DumbbellSingle) => {
                sizes(&gym.dumbbells).map(|size| gym.weight(size)).collect()
            }
            Some(LoadKind::Kettlebell) => sizes(&gym.kettlebells).map(Kilograms::from_kg).collect(),
            Some(LoadKind::Ball) => sizes(&gym.balls).map(Kilograms::from_kg).collect(),
            _ => Vec::new(),
        };
        if let Some(load) = &mut work.load
            && let (Some(weight), Some(unit)) = (load.weight(), load.unit.weight())
        {
            let mut below: Vec<Kilograms> = shelf.into_iter().filter(|size| *size < weight).collect();
            below.sort();
            if let Some(next) = below.iter().rev().nth(steps - 1) {
                let words = format!("{} for {}", next.show(unit), weight.show(unit));
                if !told.contains(&words) {
                    told.push(words);
                }
                load.first = next.in_unit(unit);
            }
        }
        Node::Work(work)
    });
    (!told.is_empty()).then(|| (told.join(", "), lower))
}

#[cfg(test)]
mod tests {
    use super::*;
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
        // What is done once, or falls rung by rung, has one beginning.
        assert!(rotations(&tree("For time\n50 burpees\n50 air squats")).is_empty());
        assert!(rotations(&tree("21-15-9 for time\nburpees\nair squats")).is_empty());
    }

    #[test]
    fn other_equipment_is_another_machine_or_the_weight_below() {
        let (gym, catalogue) = (Gym::default(), Catalogue::standard());
        let told = |text: &str| -> Vec<String> {
            other_equipment(&tree(text), &gym, catalogue).into_iter().map(|(words, _)| words).collect()
        };
        let machines = told("For time\n50 cal row");
        assert!(machines.iter().any(|words| words == "bike for row") && machines.len() == 3, "{machines:?}");
        assert_eq!(told("For time\n50 kettlebell swings 24 kg"), ["20 kg for 24 kg", "16 kg for 24 kg"]);
        // The lightest has nothing below, and a bar is loaded, not chosen.
        assert!(told("For time\n50 kettlebell swings 6 kg").is_empty());
        assert!(told("For time\n50 thrusters 40 kg").is_empty());
    }
}
