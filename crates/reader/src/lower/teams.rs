//! What a pair or a team shares, and what each of them does alone.

use std::collections::BTreeSet;

use lantern_session::{Node, Work};

use crate::facts::{Facts, Step, StepKind};
use crate::label::Label;

/// "5 rounds each" of a pair are ten.
pub(super) fn each_does(tree: Node, size: u32) -> Node {
    match tree {
        Node::Rounds { times: Some(n), rest_s, of } => Node::Rounds { times: Some(n * size), rest_s, of },
        Node::Seq { of } => Node::Seq { of: of.into_iter().map(|node| each_does(node, size)).collect() },
        other => other,
    }
}

/// "Partner A: ...", "Partner B: ...": each of a team has a station of their own, and they change over.
pub(super) fn one_at_each(facts: &Facts, size: u32) -> bool {
    let station = |step: &Step| match step.label {
        Label::Station(n) => Some(n),
        _ => None,
    };
    let items = facts.steps.iter().filter(|step| matches!(step.what, StepKind::Item(_)));
    let stations: Option<BTreeSet<u32>> = items.map(station).collect();
    stations.is_some_and(|stations| stations.len() > 1 && stations.len() as u32 == size)
}

/// With nothing in step: where everybody does all of it anyway, or nobody is there to share it with.
pub(super) fn each_alone(tree: &Node) -> Node {
    tree.map_work(&mut |work| Node::Work(Work { in_step: false, ..work.clone() }))
}
