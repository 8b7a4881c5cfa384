//! What sets of one day show of a max.

use crate::strength::{Formula, Record};
use crate::units::Kilograms;

/// A 1RM that a set shows, with its range.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct ShownMax {
    /// The middle.
    pub value: Kilograms,
    /// The lower end.
    pub low: Kilograms,
    /// The upper end.
    pub high: Kilograms,
}

/// The best 1RM that sets of one day show by a formula, as far around it as such a set may be off; none where none of them shows one: misses, and more
/// repetitions than the formula holds for.
pub fn shown_by(records: impl Iterator<Item = Record>, formula: Formula) -> Option<ShownMax> {
    let shown = records.filter_map(|record| Some((record.estimate(formula)?, record.spread())));
    let (value, spread) = shown.max_by(|a, b| a.0.kg().total_cmp(&b.0.kg()))?;
    Some(ShownMax { value, low: value.share(1.0 - spread), high: value.share(1.0 + spread) })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::strength::Source;

    #[test]
    fn the_best_set_of_a_day_shows_a_max_with_its_range() {
        let set = |kg, reps, missed| Record {
            load: Kilograms::from_kg(kg),
            reps,
            rpe: None,
            missed,
            source: Source::ClassResult,
            days_old: 0,
        };
        // 90 kg for five show 105 by Epley (1985), more than the single of 100.
        let best = shown_by(
            [set(100.0, 1, false), set(90.0, 5, false), set(140.0, 1, true)].into_iter(),
            Formula::Epley,
        );
        let best = best.unwrap();
        assert_eq!(best.value, Kilograms::from_kg(105.0));
        assert!(best.low < best.value && best.value < best.high);
        assert_eq!(shown_by([set(140.0, 1, true), set(40.0, 30, false)].into_iter(), Formula::Epley), None);
    }
}
