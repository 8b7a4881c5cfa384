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

/// Most repetitions in an open set.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct MostReps {
    /// How many there were today.
    pub reps: u32,
    /// With what on the bar.
    pub load: Kilograms,
    /// How many there were before at most, with as much or more.
    pub before: u32,
}

/// The set of today that had more repetitions than ever before with as much on the bar, where there is a before; of several the heaviest. Singles are
/// tests of something else.
pub fn most_reps(today: &[Record], earlier: &[Record]) -> Option<MostReps> {
    let made = |record: &&Record| !record.missed && record.reps > 1;
    let mut best: Option<MostReps> = None;
    for Record { load, reps, .. } in today.iter().filter(made).copied() {
        let as_heavy = earlier.iter().filter(made).filter(|record| record.load >= load);
        let Some(before) = as_heavy.map(|record| record.reps).max().filter(|before| *before < reps) else {
            continue;
        };
        if best.is_none_or(|best| load > best.load) {
            best = Some(MostReps { reps, load, before });
        }
    }
    best
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::strength::Source;

    #[test]
    fn most_repetitions_are_counted_with_as_much_on_the_bar() {
        let set = |kg, reps, missed, days_old| Record {
            load: Kilograms::from_kg(kg),
            reps,
            rpe: None,
            missed,
            source: Source::ClassResult,
            days_old,
            kept: None,
        };
        let earlier = [
            set(80.0, 12, false, 40),
            set(90.0, 6, false, 20),
            set(95.0, 5, false, 10),
            set(90.0, 9, true, 5),
            set(120.0, 1, false, 5),
        ];
        let most = |kg, reps| most_reps(&[set(kg, reps, false, 0)], &earlier);
        let load = Kilograms::from_kg;
        assert_eq!(most(90.0, 8), Some(MostReps { reps: 8, load: load(90.0), before: 6 }));
        assert_eq!(most(92.5, 6), Some(MostReps { reps: 6, load: load(92.5), before: 5 }));
        // Fewer, as many, a single, and what was never so heavy before say nothing here.
        assert_eq!((most(90.0, 6), most(80.0, 11), most(90.0, 1), most(100.0, 3)), (None, None, None, None));
    }

    #[test]
    fn the_best_set_of_a_day_shows_a_max_with_its_range() {
        let set = |kg, reps, missed| Record {
            load: Kilograms::from_kg(kg),
            reps,
            rpe: None,
            missed,
            source: Source::ClassResult,
            days_old: 0,
            kept: None,
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
