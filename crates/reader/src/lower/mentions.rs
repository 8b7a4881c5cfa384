//! Movements that a piece only speaks of: named without a number beside others that have theirs.

use lantern_session::movement::MovementId;
use lantern_session::{Amount, Node, Work, works};

/// What was left out of a tree.
#[derive(Default)]
pub(super) struct Mentioned {
    /// All movements that it only spoke of.
    pub all: Vec<MovementId>,
    /// Those that are counted nowhere in it.
    pub uncounted: Vec<MovementId>,
}

/// A tree without the work that has no amount, and what was left out; unchanged where nothing has an amount.
pub(super) fn without_mentions(tree: Node) -> (Node, Mentioned) {
    let (open, counted): (Vec<_>, Vec<_>) =
        works(&tree).into_iter().partition(|work| work.dose.amount == Amount::Open);
    if counted.is_empty() || open.is_empty() {
        return (tree, Mentioned::default());
    }
    // "5 burpees (start with the burpees)" names again what it counts.
    let again = |work: &&&Work| counted.iter().any(|other| other.movement == work.movement);
    let mentioned = Mentioned {
        all: open.iter().map(|work| work.movement.clone()).collect(),
        uncounted: open.iter().filter(|work| !again(work)).map(|work| work.movement.clone()).collect(),
    };
    match pruned(tree.clone()) {
        Some(pruned) => (pruned, mentioned),
        None => (tree, Mentioned::default()),
    }
}

/// The node without open work; none when nothing is left of it.
fn pruned(node: Node) -> Option<Node> {
    let list = |of: Vec<Node>| -> Vec<Node> { of.into_iter().filter_map(pruned).collect() };
    let inner = |of: Box<Node>| pruned(*of).map(Box::new);
    Some(match node {
        Node::Work(work) if work.dose.amount == Amount::Open => return None,
        Node::Seq { of } => {
            let mut of = list(of);
            match of.len() {
                0 => return None,
                1 => of.remove(0),
                _ => Node::Seq { of },
            }
        }
        Node::Every { interval_s, times, alternate, of } => {
            let of = list(of);
            if of.is_empty() {
                return None;
            }
            Node::Every { interval_s, times, alternate, of }
        }
        Node::Rounds { times, rest_s, of } => Node::Rounds { times, rest_s, of: inner(of)? },
        Node::Scheme { reps, rest_s, of } => Node::Scheme { reps, rest_s, of: inner(of)? },
        Node::Ladder { start, step, of } => Node::Ladder { start, step, of: inner(of)? },
        Node::Within { seconds, of } => Node::Within { seconds, of: inner(of)? },
        Node::Together { size, sharing, of } => Node::Together { size, sharing, of: inner(of)? },
        Node::Interrupt { every_s, from_s, work, of } => match (inner(work), inner(of)) {
            (Some(work), Some(of)) => Node::Interrupt { every_s, from_s, work, of },
            (None, of) => *of?,
            (Some(work), None) => *work,
        },
        Node::Penalty { work, of } => match (inner(work), inner(of)) {
            (Some(work), Some(of)) => Node::Penalty { work, of },
            (None, of) => *of?,
            (Some(work), None) => *work,
        },
        other => other,
    })
}
