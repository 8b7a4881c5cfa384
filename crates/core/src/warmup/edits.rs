//! What a coach has changed in a warm-up; a rebuild keeps all of it.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::build::Warmup;

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
    /// Keeps an item, or lets it go again.
    pub fn toggle_lock(&mut self, id: &str) {
        if self.locked.iter().any(|known| known == id) {
            self.locked.retain(|known| known != id);
        } else {
            self.locked.push(id.to_owned());
            self.refused.retain(|known| known != id);
        }
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

    /// Moves an item one place up or down within its block, and keeps the order as it stands.
    pub fn shift(&mut self, warmup: &Warmup, id: &str, down: bool) {
        let mut order: Vec<String> = Vec::new();
        for block in &warmup.blocks {
            let mut ids: Vec<String> = block.items.iter().map(|item| item.id.clone()).collect();
            if let Some(at) = ids.iter().position(|known| known == id) {
                let to = if down { at + 1 } else { at.wrapping_sub(1) };
                if to < ids.len() {
                    ids.swap(at, to);
                }
            }
            order.extend(ids);
        }
        self.order = order;
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
        edits.toggle_lock("easy-row");
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
