//! Repetitions that rise from one minute or round to the next.

use lantern_session::movement::MovementId;
use lantern_session::{Amount, Dose, Node, Work};

pub(super) fn movement_of(node: &Node) -> Option<&MovementId> {
    match node {
        Node::Work(work) => Some(&work.movement),
        _ => None,
    }
}

/// Start and step of repetitions that rise line by line: "min 1 - 1, min 2 - 2".
pub(super) fn rising(nodes: &[Node], add: Option<u32>) -> (u32, u32) {
    // What rises is one movement; what stands beside it with another amount stays as it is.
    let amounts: Vec<f64> = nodes
        .iter()
        .filter(|node| movement_of(node) == nodes.first().and_then(movement_of))
        .filter_map(|node| match node {
            Node::Work(Work { dose: Dose { amount: Amount::Fixed { first, .. }, .. }, .. }) => Some(*first),
            _ => None,
        })
        .collect();
    let start = amounts.first().copied().unwrap_or(1.0) as u32;
    let step = match amounts[..] {
        [first, second, ..] if second > first => (second - first) as u32,
        _ => add.unwrap_or(1),
    };
    (start, add.unwrap_or(step))
}

/// Start and step of "2 in minute one, 4 in minute two".
pub(super) fn rung_by_rung(in_minutes: &[(u32, u32)]) -> Option<(u32, u32)> {
    let &[(1, start), ..] = in_minutes else { return None };
    let next = in_minutes.iter().find(|(minute, _)| *minute == 2);
    Some((start, next.map_or(1, |(_, reps)| reps.saturating_sub(start).max(1))))
}

/// Marks the work that starts a rising round as scheme work, and tells its start.
pub(super) fn rising_start(nodes: &mut [Node]) -> u32 {
    let (start, _) = rising(nodes, Some(1));
    for node in nodes {
        if let Node::Work(work) = node
            && (work.dose.amount == Amount::Fixed { first: f64::from(start), second: None }
                || work.dose.amount == Amount::Open)
        {
            work.dose.amount = Amount::Scheme;
        }
    }
    start
}
