//! Work after every few rounds.

use lantern_session::Node;

use crate::facts::{Facts, StepKind};

/// After how many rounds it comes, and nothing yet of what.
pub(super) fn every_few(facts: &Facts) -> (u32, Vec<Node>) {
    let few = facts.steps.iter().find_map(|step| match step.what {
        StepKind::EveryRounds(few) => Some(few),
        _ => None,
    });
    (few.unwrap_or(1), Vec::new())
}

/// Rounds with work after every few of them: whole turns of rounds and work, and the rounds that are left.
pub(super) fn in_fews(times: u32, few: u32, round: Vec<Node>, work: Vec<Node>, rest_s: Option<u32>) -> Node {
    let rounds = |times| Node::Rounds { times: Some(times), rest_s, of: Box::new(Node::seq(round.clone())) };
    let turn = Node::seq([vec![rounds(few)], work].concat());
    let turns = Node::Rounds { times: Some(times / few), rest_s: None, of: Box::new(turn) };
    let left = (!times.is_multiple_of(few)).then(|| rounds(times % few));
    Node::seq([Some(turns), left].into_iter().flatten().collect())
}
