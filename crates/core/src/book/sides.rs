//! What the results of a class come to.

use super::Entry;
use crate::pacing::Side;

/// How many results of a piece lie inside what was meant, before it and behind it, and how many are not compared.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Sides {
    /// On stimulus.
    pub inside: usize,
    /// Sooner, or more, than was meant.
    pub early: usize,
    /// Later, or less.
    pub late: usize,
    /// Nothing to compare them with.
    pub other: usize,
}

impl Sides {
    /// Of results that stand.
    pub fn of<'e>(entries: impl Iterator<Item = &'e Entry>) -> Self {
        let mut sides = Self::default();
        for entry in entries {
            *match entry.beside().map(|beside| beside.side) {
                Some(Side::Inside) => &mut sides.inside,
                Some(Side::Early) => &mut sides.early,
                Some(Side::Late) => &mut sides.late,
                None => &mut sides.other,
            } += 1;
        }
        sides
    }

    /// All of them.
    pub fn all(self) -> usize {
        self.inside + self.early + self.late + self.other
    }
}
