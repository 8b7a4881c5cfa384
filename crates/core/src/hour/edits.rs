//! What a coach has decided about the hour of a class.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::changes::{Change, with_changes_told};
use crate::floor::FloorEdits;
use crate::gym::Gym;
use crate::movement::Catalogue;
use crate::session::Session;

/// Decisions about one class of a day; a rebuild keeps all of them.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub struct HourEdits {
    /// Changes made to fit the hour, in the order in which they were made.
    pub changes: Vec<Change>,
    /// Lengths set by hand, in seconds, by the block's key.
    pub pins: BTreeMap<String, u32>,
    /// The floor of each piece, by its place among the conditioning pieces of the day.
    pub floors: BTreeMap<usize, FloorEdits>,
}

impl HourEdits {
    /// What was decided about the floor of a piece; nothing yet gives the default.
    pub fn floor(&self, piece: usize) -> FloorEdits {
        self.floors.get(&piece).cloned().unwrap_or_default()
    }

    /// Changes what is decided about the floor of a piece.
    pub fn change_floor(&mut self, piece: usize, change: impl FnOnce(&mut FloorEdits)) {
        let floor = self.floors.entry(piece).or_default();
        change(floor);
        if *floor == FloorEdits::default() {
            self.floors.remove(&piece);
        }
    }

    /// Forgets everything about somebody who has left.
    pub fn forget(&mut self, name: &str) {
        let pieces: Vec<usize> = self.floors.keys().copied().collect();
        for piece in pieces {
            self.change_floor(piece, |floor| {
                floor.places.remove(name);
                let others = |(a, b): &(String, String)| a != name && b != name;
                floor.teams.together.retain(others);
                floor.teams.apart.retain(others);
            });
        }
    }

    /// The changes made, in words, each told of the session as it stood when it was made.
    pub fn told(&self, session: &Session, gym: &Gym, catalogue: &Catalogue) -> Vec<String> {
        let until = |n: usize| with_changes_told(session, &self.changes[..n], gym, catalogue);
        let words = |(n, change): (usize, &Change)| {
            let (before, swapped) = until(n);
            let (words, mut after) = (change.words(&before), until(n + 1).1);
            after.retain(|swap| !swapped.contains(swap));
            if after.is_empty() { words } else { format!("{words}: {}", after.join(", ")) }
        };
        self.changes.iter().enumerate().map(words).collect()
    }

    /// Takes the last of equal changes back; one that was not made does nothing.
    pub(crate) fn take_back(&mut self, change: &Change) {
        if let Some(place) = self.changes.iter().rposition(|made| made == change) {
            self.changes.remove(place);
        }
    }

    pub(crate) fn cools_down_alone(&self) -> bool {
        self.changes.contains(&Change::CoolDownAlone)
    }

    pub(crate) fn longer_cool_down_s(&self) -> u32 {
        let longer = self.changes.iter().filter(|change| **change == Change::LongerCoolDown);
        longer.count() as u32 * Change::COOL_DOWN_STEP_S
    }

    /// Seconds on the warm-up, more or less than without these changes.
    pub(crate) fn warmup_change_s(&self) -> i64 {
        let of = |wanted: Change| self.changes.iter().filter(|change| **change == wanted).count() as i64;
        (of(Change::LongerWarmup) - of(Change::ShorterWarmup)) * i64::from(Change::WARMUP_STEP_S)
    }
}
