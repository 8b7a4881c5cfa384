//! What a pair or a team shares, and what each of them does alone.

use std::collections::BTreeSet;

use lantern_session::{Node, Sharing, Work};

use crate::facts::{Facts, Item, Step, StepKind};
use crate::label::Label;

/// What is run by everybody at the same time.
const RUN: &str = "run";

/// "5 rounds each" of a pair are ten.
pub(super) fn each_does(tree: Node, size: u32) -> Node {
    match tree {
        Node::Rounds { times: Some(n), rest_s, of } => Node::Rounds { times: Some(n * size), rest_s, of },
        Node::Seq { of } => Node::Seq { of: of.into_iter().map(|node| each_does(node, size)).collect() },
        other => other,
    }
}

/// "1 km row each" of a pair is two; a run of each is run together. Says at which lines that was taken for granted.
pub(super) fn each_of_the_team(facts: &mut Facts) -> Vec<(usize, usize, String)> {
    let splits =
        facts.sharing.is_none_or(|sharing| matches!(sharing, Sharing::Freely | Sharing::InTurns { .. }));
    let Some(size) = facts.team.filter(|size| *size > 1 && splits) else { return Vec::new() };
    let mut told = Vec::new();
    for step in &mut facts.steps {
        let StepKind::Item(item) = &mut step.what else { continue };
        if !item.each || item.in_step || item.max {
            continue;
        }
        let run = item.movement.as_ref().is_some_and(|id| id.as_str() == RUN);
        if run {
            item.in_step = true;
        } else if let Some((first, second)) = &mut item.amount {
            *first *= f64::from(size);
            *second = second.map(|second| second * f64::from(size));
        }
        let how = if run { "all at once".to_owned() } else { format!("{size} times as much for the team") };
        told.push((step.line, step.column, format!("each of the team does it: read as {how}")));
    }
    told
}

/// "One rows, one carries, one rests", and below it how much of each: the line says who is where, and is no work beside it.
pub(super) fn posts_told_below(facts: &mut Facts) {
    let item = |step: &Step| match &step.what {
        StepKind::Item(item) => Some((step.line, item.clone())),
        _ => None,
    };
    let items = || facts.steps.iter().filter_map(item);
    let Some((line, _)) = items().next().filter(|_| facts.sharing == Some(Sharing::Stations)) else { return };
    let bare = |item: &Item| item.max && item.amount.is_none() && item.window_s.is_none();
    let posts = items().take_while(|(of, item)| *of == line && bare(item)).count();
    let counted = items().skip(posts).filter(|(of, item)| *of != line && item.amount.is_some()).count();
    if posts > 1 && counted >= posts {
        facts.steps.retain(|step| step.line != line || !matches!(step.what, StepKind::Item(_)));
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
