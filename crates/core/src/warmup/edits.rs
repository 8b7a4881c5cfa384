//! What a coach has changed in a warm-up; a rebuild keeps all of it.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::Warmup;

/// Changes by item id.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub struct Edits {
    /// Items that stay, whatever else is rebuilt.
    pub locked: Vec<String>,
    /// Items that are not chosen again.
    pub refused: Vec<String>,
    /// The coach's order; items that are not named follow in teaching order.
    pub order: Vec<String>,
    /// Doses in the coach's words.
    pub doses: BTreeMap<String, String>,
    /// Minutes given, when not those of the text.
    pub minutes: Option<u32>,
}

/// Shortest and longest warm-up that is built, in minutes.
pub const MINUTES: std::ops::RangeInclusive<u32> = 5..=25;

impl Edits {
    /// Keeps an item, whatever else is rebuilt.
    pub fn keep(&mut self, id: &str) {
        if !self.locked.iter().any(|known| known == id) {
            self.locked.push(id.to_owned());
        }
        self.refused.retain(|known| known != id);
    }

    /// Lets an item go again.
    pub fn let_go(&mut self, id: &str) {
        self.locked.retain(|known| known != id);
    }

    /// Puts one item in the place of another, and keeps it.
    pub fn swap(&mut self, from: &str, to: &str) {
        self.refuse(from);
        self.refused.retain(|known| known != to);
        if !self.locked.iter().any(|known| known == to) {
            self.locked.push(to.to_owned());
        }
        for place in self.order.iter_mut().filter(|known| *known == from) {
            to.clone_into(place);
        }
    }

    /// Takes an item out; another may come in its stead.
    pub fn refuse(&mut self, id: &str) {
        self.locked.retain(|known| known != id);
        self.doses.remove(id);
        if !self.refused.iter().any(|known| known == id) {
            self.refused.push(id.to_owned());
        }
    }

    /// The item that one changes places with when it goes up or down within its block, and the order as it stands.
    pub fn neighbour(warmup: &Warmup, id: &str, down: bool) -> Option<(String, Vec<String>)> {
        let ids = |block: &super::Block| block.items.iter().map(|item| item.id.clone()).collect::<Vec<_>>();
        let block = warmup.blocks.iter().map(ids).find(|ids| ids.iter().any(|known| known == id))?;
        let at = block.iter().position(|known| known == id)?;
        let other = if down { block.get(at + 1) } else { at.checked_sub(1).and_then(|at| block.get(at)) }?;
        Some((other.clone(), warmup.blocks.iter().flat_map(ids).collect()))
    }

    /// Two items change places. Items that have no place yet take the one in which they were seen.
    pub fn exchange(&mut self, id: &str, other: &str, seen: &[String]) {
        if self.order.is_empty() {
            self.order = seen.to_vec();
        }
        for item in seen {
            if !self.order.contains(item) {
                self.order.push(item.clone());
            }
        }
        let at = |order: &[String], id: &str| order.iter().position(|known| known == id);
        if let (Some(a), Some(b)) = (at(&self.order, id), at(&self.order, other)) {
            self.order.swap(a, b);
        }
    }

    /// Gives an item another dose; an empty one goes back to the usual.
    pub fn dose(&mut self, id: &str, dose: &str) {
        let dose = dose.trim();
        if dose.is_empty() {
            self.doses.remove(id);
        } else {
            self.doses.insert(id.to_owned(), dose.to_owned());
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_swap_refuses_the_one_and_keeps_the_other() {
        let mut edits = Edits { order: vec!["easy-row".into()], ..Edits::default() };
        edits.keep("easy-row");
        edits.swap("easy-row", "easy-ski");
        assert_eq!(
            (&edits.locked[..], &edits.refused[..]),
            (&["easy-ski".to_owned()][..], &["easy-row".to_owned()][..])
        );
        assert_eq!(edits.order, ["easy-ski"]);
        edits.swap("easy-ski", "easy-row");
        assert_eq!(
            (&edits.locked[..], &edits.refused[..]),
            (&["easy-row".to_owned()][..], &["easy-ski".to_owned()][..])
        );
    }

    #[test]
    fn an_empty_dose_goes_back_to_the_usual_one() {
        let mut edits = Edits::default();
        edits.dose("cat-cow", " 20 reps ");
        assert_eq!(edits.doses["cat-cow"], "20 reps");
        edits.dose("cat-cow", "");
        assert!(edits.doses.is_empty());
    }
}
