//! Work that is done after every few rounds.

use super::Printer;
use crate::Node;

/// Rounds with work after every few of them.
struct EveryFew<'n> {
    /// How many rounds there are; none where they go on until the time is up.
    times: Option<u32>,
    few: u32,
    round: &'n Node,
    /// What comes after every few.
    work: &'n [Node],
    rest_s: Option<u32>,
}

impl<'n> EveryFew<'n> {
    fn of(node: &'n Node) -> Option<Self> {
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
        let times = turns.map(|turns| turns * few + left);
        let whole = *few > 1 && left < *few && !work.is_empty() && work.iter().all(plain);
        whole.then_some(Self { times, few: *few, round, work, rest_s: *rest_s })
    }
}

impl Printer<'_> {
    /// Rounds with work after every few of them; says whether it is that.
    pub(super) fn every_few(&mut self, node: &Node) -> bool {
        let Some(EveryFew { times, few, round, work, rest_s }) = EveryFew::of(node) else { return false };
        match times {
            Some(times) => {
                let of = Box::new(round.clone());
                self.body(&Node::Rounds { times: Some(times), rest_s, of });
            }
            None => self.body(round),
        }
        for node in work {
            let place = self.lines.len();
            self.body(node);
            self.lines[place].insert_str(0, &format!("after every {few} rounds: "));
        }
        true
    }
}
