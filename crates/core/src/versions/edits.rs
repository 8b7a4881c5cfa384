//! What a coach has decided about the pieces of a day; a rebuild keeps all of it.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::hand::HandLine;
use super::names::VersionName;

/// Decisions by the piece's place among the conditioning pieces of the day, from 0.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub struct PieceEdits {
    /// The pieces that something was decided about.
    pub pieces: BTreeMap<usize, PieceEdit>,
}

/// Decisions about one piece.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub struct PieceEdit {
    /// Lower end of the intended result, in the unit of what is measured.
    pub low: Option<f64>,
    /// Upper end.
    pub high: Option<f64>,
    /// Versions that the coach has chosen, by member.
    pub versions: BTreeMap<String, VersionName>,
    /// Whether those who are ahead as written are offered more: a heavier load, or more repetitions.
    pub more: bool,
    /// Equipment that the version for home is made for; none means nothing.
    pub home: Option<String>,
    /// Lines that the coach has written anew, in the order in which they were.
    pub hand: Vec<HandLine>,
}

impl PieceEdit {
    /// Lines of a version on the board that were written anew.
    pub(super) fn on_board(&self, version: VersionName) -> impl Iterator<Item = &HandLine> {
        self.hand.iter().filter(move |line| line.version == version && line.member.is_none())
    }

    /// Lines of one person's version that were written anew.
    pub(super) fn of_member<'a>(
        &'a self,
        version: VersionName,
        name: &'a str,
    ) -> impl Iterator<Item = &'a HandLine> {
        self.hand.iter().filter(move |line| line.version == version && line.member.as_deref() == Some(name))
    }

    /// Whether both ask for the same versions to be made, whichever of them are chosen.
    pub(crate) fn asks_the_same(&self, other: &Self) -> bool {
        let Self { low, high, versions: _, more, home, hand } = self;
        (low, high, more, home, hand) == (&other.low, &other.high, &other.more, &other.home, &other.hand)
    }
}

impl PieceEdits {
    /// What was decided about a piece; nothing yet gives the default.
    pub fn of(&self, piece: usize) -> PieceEdit {
        self.pieces.get(&piece).cloned().unwrap_or_default()
    }

    /// Forgets everything about somebody who has left.
    pub fn forget(&mut self, name: &str) {
        let pieces: Vec<usize> = self.pieces.keys().copied().collect();
        for piece in pieces {
            self.change(piece, |edit| {
                edit.versions.remove(name);
                edit.hand.retain(|line| line.member.as_deref() != Some(name));
            });
        }
    }

    /// Changes what is decided about a piece.
    pub fn change(&mut self, piece: usize, change: impl FnOnce(&mut PieceEdit)) {
        let edit = self.pieces.entry(piece).or_default();
        change(edit);
        if *edit == PieceEdit::default() {
            self.pieces.remove(&piece);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn who_has_left_is_forgotten_and_the_rest_stays() {
        let mut edits = PieceEdits::default();
        edits.change(0, |edit| {
            edit.versions.insert("Ada".into(), VersionName::Simpler);
            edit.versions.insert("Ben".into(), VersionName::Lighter);
        });
        edits.forget("Ada");
        assert_eq!(edits.of(0).versions.keys().collect::<Vec<_>>(), ["Ben"]);
        edits.forget("Ben");
        assert_eq!(edits, PieceEdits::default());
    }

    #[test]
    fn a_decision_taken_back_leaves_nothing_behind() {
        let mut edits = PieceEdits::default();
        edits.change(1, |edit| {
            edit.versions.insert("Ada".into(), VersionName::Simpler);
        });
        assert_eq!(edits.of(1).versions["Ada"], VersionName::Simpler);
        assert_eq!(edits.of(0), PieceEdit::default());
        edits.change(1, |edit| {
            edit.versions.remove("Ada");
        });
        assert_eq!(edits, PieceEdits::default());
    }
}
