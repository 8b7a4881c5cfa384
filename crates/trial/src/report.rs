//! What a trial shows, in figures.

use lantern_core::book::{Calibration, Outcome};
use serde::Serialize;

use crate::{Came, Trial};

/// From this week on errors are compared, counted from 1.
const BY_WEEK: u32 = 6;

/// One week of a trial.
#[derive(Clone, Debug, Serialize)]
pub struct Week {
    /// From 1.
    pub week: u32,
    /// Results that could be compared.
    pub results: usize,
    /// Middle of how far results lay from what was predicted, as a share, without learning and with it.
    pub error_by_file: f64,
    /// See `error_by_file`.
    pub error: f64,
    /// Share of results within eight of ten days.
    pub within: f64,
}

/// Share by which the middle error is to be smaller from the sixth week on, and of the people whose predictions are to be better.
pub const BETTER: f64 = 1.0 / 3.0;
/// See [`BETTER`].
pub const PEOPLE_BETTER: f64 = 0.9;
/// What eight of ten days are to hold, within.
pub const WITHIN: std::ops::RangeInclusive<f64> = 0.76..=0.84;

/// What came of a trial.
#[derive(Clone, Debug, Serialize)]
pub struct Report {
    /// What it was drawn from.
    pub seed: u64,
    /// Week by week.
    pub weeks: Vec<Week>,
    /// All results, as they were predicted.
    pub all: Calibration,
    /// Share of results that were capped or stopped.
    pub cut: f64,
    /// How much smaller the middle error is in the weeks from the sixth on than it would be without learning, as a share.
    pub better_from_week_6: f64,
    /// Share of people whose predictions were better than without learning, by their mean CRPS over all weeks.
    pub people_better: f64,
    /// Furthest that one absurd result moves any prediction, of what it may at most.
    pub nonsense: f64,
}

impl Report {
    /// Whether learning has made predictions as much better as it is to, and no absurd result moved more than it may.
    pub fn is_better(&self) -> bool {
        self.better_from_week_6 >= BETTER
            && self.people_better >= PEOPLE_BETTER
            && self.nonsense <= 1.0 + 1e-9
    }

    pub(crate) fn new(trial: Trial, came: &[Came], nonsense: f64) -> Self {
        let compared: Vec<(&Came, Outcome, Outcome)> = came
            .iter()
            .filter_map(|came| came.outcome.map(|(with, without)| (came, with, without)))
            .collect();
        let of = |keep: &dyn Fn(&Came) -> bool| {
            let kept = compared.iter().filter(|(came, ..)| keep(came));
            let (with, without): (Vec<Outcome>, Vec<Outcome>) =
                kept.map(|(_, with, without)| (*with, *without)).unzip();
            Calibration::of(&with).zip(Calibration::of(&without))
        };
        let weeks = (0..trial.weeks).filter_map(|week| {
            let (with, without) = of(&|came| came.week == week)?;
            Some(Week {
                week: week + 1,
                results: with.count,
                error_by_file: without.error,
                error: with.error,
                within: with.within,
            })
        });
        let late = of(&|came| came.week + 1 >= BY_WEEK);
        let people = (0..trial.people).filter_map(|who| of(&|came| came.who == who));
        let people: Vec<bool> = people.map(|(with, without)| with.crps < without.crps).collect();
        let share = |count: usize, all: usize| count as f64 / all.max(1) as f64;
        let nothing = || Calibration {
            count: 0,
            within: 0.0,
            error: 0.0,
            error_by_file: 0.0,
            crps: 0.0,
            slower: 0.0,
            below: Vec::new(),
        };
        Self {
            seed: trial.seed,
            weeks: weeks.collect(),
            all: of(&|_| true).map_or_else(nothing, |(with, _)| with),
            cut: share(came.iter().filter(|came| !came.full).count(), came.len()),
            better_from_week_6: late.map_or(0.0, |(with, without)| 1.0 - with.error / without.error),
            people_better: share(people.iter().filter(|better| **better).count(), people.len()),
            nonsense,
        }
    }
}
