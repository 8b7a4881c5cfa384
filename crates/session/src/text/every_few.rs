//! Work that is done after every few rounds.

use super::Printer;
use crate::Node;
use crate::every_few::EveryFew;

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
