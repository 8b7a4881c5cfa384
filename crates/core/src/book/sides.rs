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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::book::{Done, Predicted};
    use crate::pacing::Measure;
    use crate::versions::VersionName;

    #[test]
    fn each_result_is_counted_on_its_side_and_none_twice() {
        let predicted = Predicted {
            measure: Measure::Finish,
            spread: [540.0, 600.0, 660.0],
            window: [Some(480.0), Some(720.0)],
            rests: None,
        };
        let entry = |value: Option<f64>| Entry {
            version: VersionName::AsWritten,
            done: Done::Stopped,
            said: String::new(),
            predicted: Some(predicted.clone()),
            value,
            at_least: false,
            gone_on: None,
            effort: None,
            hurt: false,
            note: String::new(),
        };
        let all =
            [Some(600.0), Some(500.0), Some(470.0), Some(800.0), Some(900.0), Some(730.0), None].map(entry);
        let sides = Sides::of(all.iter());
        assert_eq!(sides, Sides { inside: 2, early: 1, late: 3, other: 1 });
        assert_eq!(sides.all(), 7);
    }
}
