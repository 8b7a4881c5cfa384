//! Rounds with work after every few of them, as they are told: turns of so many rounds and the work, and the rounds that are left.

use crate::Node;

/// Rounds with work after every few of them.
pub(crate) struct EveryFew<'n> {
    /// How many rounds there are; none where they go on until the time is up.
    pub times: Option<u32>,
    /// After how many the work comes.
    pub few: u32,
    /// What each round is.
    pub round: &'n Node,
    /// What comes after every few.
    pub work: &'n [Node],
    /// The rest between rounds.
    pub rest_s: Option<u32>,
}

impl<'n> EveryFew<'n> {
    /// What a node is, where it is that.
    pub fn of(node: &'n Node) -> Option<Self> {
        let (turns, left) = match node {
            Node::Seq { of } => match &of[..] {
                [turns @ Node::Rounds { times: Some(_), .. }, left @ Node::Rounds { .. }] => {
                    (turns, Some(left))
                }
                _ => return None,
            },
            turns => (turns, None),
        };
        let Node::Rounds { times: turns, rest_s: None, of } = turns else { return None };
        let Node::Seq { of: turn } = &**of else { return None };
        let [Node::Rounds { times: Some(few), rest_s, of: round }, work @ ..] = &turn[..] else {
            return None;
        };
        let left = match left {
            None => 0,
            Some(Node::Rounds { times: Some(left), rest_s: rest, of }) if of == round && rest == rest_s => {
                *left
            }
            Some(_) => return None,
        };
        let plain = |node: &Node| matches!(node, Node::Work(_) | Node::Rest { seconds: Some(_) });
        let times = turns.map(|turns| turns.saturating_mul(*few).saturating_add(left));
        let whole = *few > 1 && left < *few && !work.is_empty() && work.iter().all(plain);
        whole.then_some(Self { times, few: *few, round, work, rest_s: *rest_s })
    }
}
