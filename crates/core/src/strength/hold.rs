//! Holding loads back for whoever has a limit, is pregnant, has a heart note or is under age, until a coach says otherwise.
//!
//! A stop-gap that knows nothing of the lift beyond the words: sets above 80 % of the maximum are held there, tests and builds
//! become three sets of three below it. Conservative coaching judgement; it defers to whoever treats the person.

use serde::{Deserialize, Serialize};

use super::percent::percent_for_rpe;
use crate::limits::Strictest;
use crate::member::Member;
use crate::movement::Movement;
use crate::session::{Format, Part};
use crate::units::{Kilograms, plain};

/// Share of the maximum, in percent, at which loads are held.
pub const HELD_AT: f64 = 80.0;
/// What a test or a build becomes: sets, repetitions of each, and percent below the ceiling of the first.
const IN_PLACE_OF_A_TEST: (usize, u32, f64) = (3, 3, 10.0);
/// Hardest effort by feel, as RPE.
const HELD_EFFORT: f64 = 7.0;
/// Who says so when no coach is named for the class.
pub const UNSIGNED: &str = "unsigned";
/// Below this age a member is a minor.
const OF_AGE: u32 = 18;

/// How far somebody's loads of a lift are held back.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Hold {
    /// Highest share of the own maximum, in percent.
    pub ceiling_percent: f64,
    /// Heaviest load that the words state.
    #[serde(skip)]
    pub load: Option<Kilograms>,
    /// Hardest effort, as RPE.
    pub effort: f64,
}

/// A coach's word that somebody lifts as written, with who said it and when.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Release {
    /// The member's name.
    pub member: String,
    /// The lift's id.
    pub lift: String,
    /// The coach named for the class; `unsigned` without one.
    pub by: String,
    /// When, in the gym's time, as 2026-11-23 18:05.
    pub at: String,
}

/// Who lifts as written although their loads would be held.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(default)]
pub struct LoadEdits {
    /// Every word of a coach, one a member and lift.
    pub released: Vec<Release>,
}

impl LoadEdits {
    /// The word of a coach about a member's lift.
    pub fn release(&self, member: &str, lift: &str) -> Option<&Release> {
        self.released.iter().find(|release| release.member == member && release.lift == lift)
    }
}

impl Hold {
    /// What holds for a member's lift; none for whoever lifts as written.
    pub fn of(member: &Member, lift: &Movement) -> Option<Self> {
        let limited = member.limits.iter().any(|limit| !limit.is_nothing());
        if !limited && member.age.is_none_or(|age| age >= OF_AGE) {
            return None;
        }
        let words = Strictest::of(&member.limits, lift);
        Some(Self {
            ceiling_percent: words.percent.unwrap_or(HELD_AT).min(HELD_AT),
            load: words.load,
            effort: words.effort.unwrap_or(HELD_EFFORT).min(HELD_EFFORT),
        })
    }

    /// Repetitions and percentages in place of those asked for.
    pub(super) fn held(&self, part: &Part, asked: Vec<(u32, f64)>) -> Vec<(u32, f64)> {
        let tests = matches!(part.format, Some(Format::BuildTo)) || part.strength.rm.is_some();
        if tests {
            let (sets, reps, below) = IN_PLACE_OF_A_TEST;
            let step = below / (sets - 1) as f64;
            return (0..sets).map(|n| (reps, self.ceiling_percent - below + step * n as f64)).collect();
        }
        let least = |reps: u32, percent: f64| {
            // A stated effort leaves repetitions in reserve, whatever the percentage says.
            let by_effort = percent_for_rpe(reps.max(1), self.effort.max(5.0));
            let stated = self.effort < HELD_EFFORT;
            percent.min(self.ceiling_percent).min(if stated { by_effort } else { f64::INFINITY })
        };
        asked.into_iter().map(|(reps, percent)| (reps, least(reps, percent))).collect()
    }

    /// What was written, what was done instead and why, for the row: the words of the limit stand on the member's page.
    pub fn told(&self, part: &Part, asked: &[(u32, f64)]) -> String {
        let tests = part.format == Some(Format::BuildTo) || part.strength.rm.is_some();
        let ceiling = plain(self.ceiling_percent);
        let mut told = if tests {
            let from = plain(self.ceiling_percent - IN_PLACE_OF_A_TEST.2);
            format!("a test was written: three sets of 3 at {from} to {ceiling} %, to keep a limit")
        } else {
            let top = asked.iter().map(|(_, percent)| *percent).fold(0.0, f64::max);
            let written = plain(top.round());
            let held = if top > self.ceiling_percent {
                format!("held at {ceiling} %")
            } else {
                format!("held to an effort of {} of 10", plain(self.effort))
            };
            format!("up to {written} % was written: {held}, repetitions kept, to keep a limit")
        };
        if part.format == Some(Format::MaxReps) {
            told.push_str("; stop with three repetitions left");
        }
        if let Some(load) = self.load {
            told.push_str(&format!("; no more than {load}"));
        }
        told
    }
}
