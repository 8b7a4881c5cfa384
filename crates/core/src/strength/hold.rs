//! What somebody's limits, age and time in the gym make of a lift: how heavy, how hard, how far and whether it is tested, until a
//! coach says otherwise.
//!
//! Each limit has its own rule, by what it says and by what the lift asks: a sore joint that the lift loads, a condition in which
//! nobody strains or holds their breath, words that were not understood. A limit that has nothing to do with the lift changes
//! nothing of it. What is spared altogether is another lift's sheet. Conservative coaching judgement; it defers to whoever treats
//! the person.

use serde::{Deserialize, Serialize};

use super::dose::{Asked, Base, ShareOf};
use super::most_reps;
use super::percent::percent_for_rpe;
use crate::limits::{Ground, Limit};
use crate::member::{Experience, Member};
use crate::movement::{Movement, Property};
use crate::session::{Format, Part};
use crate::units::{Kilograms, plain};

/// Share of the maximum, in percent, above which nobody with a sore joint or a ban of straining works: from about there people hold
/// their breath, whatever they mean to do (MacDougall et al. 1985; Hackett et al. 2012).
pub const HELD_AT: f64 = 80.0;
/// What a test or a build becomes: sets, repetitions of each, and percent below the ceiling of the first.
const IN_PLACE_OF_A_TEST: (usize, u32, f64) = (3, 3, 10.0);
/// Hardest effort by feel of a held lift, and of technique sets, as RPE.
const HELD_EFFORT: f64 = 7.0;
/// Stress (0 to 1) from which a lift has to do with a sore joint; above [`crate::limits::JOINT_LIMIT`] it is spared.
const HAS_TO_DO_WITH: f64 = 0.25;
/// Who says so when no coach is named for the class.
pub const UNSIGNED: &str = "unsigned";
/// Below this age a member is a minor.
const OF_AGE: u32 = 18;

/// How far somebody's loads of a lift are held back.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Hold {
    /// Highest share of the own maximum, in percent; 100 where only effort or tests are held.
    pub ceiling_percent: f64,
    /// Heaviest load that the words state.
    #[serde(skip)]
    pub load: Option<Kilograms>,
    /// Hardest effort, as RPE; 10 where it is not held.
    pub effort: f64,
    /// Hardest effort of sets that ask for a share, as RPE; 10 where the ceiling is enough.
    #[serde(skip)]
    pub in_every_set: f64,
    /// How it is done besides, in words that others may read.
    #[serde(skip)]
    pub manner: Vec<&'static str>,
    /// Whether it is for a limit, rather than for age or time in the gym.
    #[serde(skip)]
    pub by_limit: bool,
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

/// What one limit, or an age, makes of a lift.
#[derive(Clone, Copy, Debug)]
struct Rule {
    ceiling_percent: f64,
    effort: f64,
    /// Whether the effort holds for every set, and not only where an effort is asked for.
    in_every_set: bool,
    manner: Option<&'static str>,
}

/// Nobody strains or holds their breath.
const NO_STRAIN: Rule = Rule {
    ceiling_percent: HELD_AT,
    effort: HELD_EFFORT,
    in_every_set: true,
    manner: Some("breathe through every repetition, no breath held"),
};
/// As far as a sore joint lets it.
const SORE: Rule = Rule {
    ceiling_percent: HELD_AT,
    effort: HELD_EFFORT,
    in_every_set: false,
    manner: Some("only as far as nothing hurts"),
};
/// Words that nobody has understood yet.
const NOT_UNDERSTOOD: Rule =
    Rule { ceiling_percent: HELD_AT, effort: HELD_EFFORT, in_every_set: false, manner: None };
/// No tests, and repetitions left in every set.
const UNDER_AGE: Rule = Rule {
    ceiling_percent: 100.0,
    effort: HELD_EFFORT,
    in_every_set: true,
    manner: Some("every repetition clean"),
};
/// No tests, but nothing else is held.
const FIRST_WEEKS: Rule = Rule {
    ceiling_percent: 100.0,
    effort: 10.0,
    in_every_set: false,
    manner: Some("every repetition clean"),
};

/// What a limit makes of a lift; none where the two have nothing to do with one another.
fn rule_of(limit: &Limit, lift: &Movement) -> Option<Rule> {
    if limit.is_nothing() {
        return None;
    }
    let strains = [Property::Straining, Property::MaximalEffort].map(|property| property.key());
    if limit.forbids().any(|property| strains.contains(&property)) || limit.effort().is_some() {
        return Some(NO_STRAIN);
    }
    let loads = |reason: &str| match reason {
        "pregnancy" => true,
        joint => lift.joint(joint.trim_end_matches("_impact")) >= HAS_TO_DO_WITH,
    };
    // A ban of running or jumping alone says nothing of a joint that a bar loads.
    let impact_only = |reason: &str| reason.ends_with("_impact");
    if limit.reasons().any(|reason| !impact_only(reason) && loads(reason)) {
        return Some(SORE);
    }
    limit.is_unread().then_some(NOT_UNDERSTOOD)
}

/// Whether a part is a test: a build or a best of so many.
fn is_test(part: &Part) -> bool {
    part.format == Some(Format::BuildTo) || part.strength.rm.is_some()
}

impl Hold {
    /// What holds for a member's lift in a part; none for whoever lifts as written.
    pub fn of(member: &Member, lift: &Movement, part: &Part) -> Option<Self> {
        let of_limits: Vec<Rule> = member.limits.iter().filter_map(|limit| rule_of(limit, lift)).collect();
        let words = Ground::of(member).strictest(lift);
        let stated = words.percent.is_some() || words.load.is_some();
        let by_limit = !of_limits.is_empty() || stated;
        let under_age = member.age.is_some_and(|age| age < OF_AGE).then_some(UNDER_AGE);
        let first_weeks = (member.experience == Experience::New && is_test(part)).then_some(FIRST_WEEKS);
        let rules: Vec<Rule> = of_limits.into_iter().chain(under_age).chain(first_weeks).collect();
        if rules.is_empty() && !stated {
            return None;
        }
        let lowest = |of: fn(&Rule) -> f64, most: f64| rules.iter().map(of).fold(most, f64::min);
        let mut manner: Vec<&'static str> = Vec::new();
        for said in rules.iter().filter_map(|rule| rule.manner) {
            if !manner.contains(&said) {
                manner.push(said);
            }
        }
        let in_every_set =
            rules.iter().filter(|rule| rule.in_every_set).map(|rule| rule.effort).fold(10.0, f64::min);
        Some(Self {
            in_every_set: words.effort.map_or(in_every_set, |stated| stated.min(in_every_set)),
            ceiling_percent: words.percent.unwrap_or(100.0).min(lowest(|rule| rule.ceiling_percent, 100.0)),
            load: words.load,
            effort: words.effort.unwrap_or(10.0).min(lowest(|rule| rule.effort, 10.0)),
            manner,
            by_limit,
        })
    }

    /// The most that technique sets in place of a test come to, in percent.
    fn technique_percent(&self) -> f64 {
        self.ceiling_percent.min(HELD_AT)
    }

    /// Sets in place of those asked for.
    pub(super) fn held(&self, part: &Part, asked: Vec<Asked>) -> Vec<Asked> {
        if is_test(part) {
            let (sets, reps, below) = IN_PLACE_OF_A_TEST;
            let step = below / (sets - 1) as f64;
            let percent = |n: usize| self.technique_percent() - below + step * n as f64;
            let set = |n| Asked { reps, percent: percent(n), base: Base::Percent, open: false };
            return (0..sets).map(set).collect();
        }
        let least = |set: Asked| {
            // An effort leaves repetitions in reserve, whatever the percentage says.
            let leaves = |rpe: f64| percent_for_rpe(set.reps.max(1), rpe.max(5.0));
            let most = match set.base {
                Base::Beyond(_) => return set,
                Base::Share(ShareOf::MostReps(most)) => return most_reps::held(set, most, self.effort),
                Base::Effort(rpe) if rpe > self.effort => {
                    let percent = set.percent.min(leaves(self.effort)).min(self.ceiling_percent);
                    return Asked { percent, base: Base::Effort(self.effort), ..set };
                }
                _ if self.in_every_set < 10.0 => self.ceiling_percent.min(leaves(self.in_every_set)),
                _ => self.ceiling_percent,
            };
            if set.percent <= 0.0 {
                // Nobody knows how heavy a written weight is for them.
                let effort = if self.effort < 10.0 { self.effort } else { HELD_EFFORT };
                return Asked { base: Base::Effort(effort), ..set };
            }
            // Nobody whose loads are held goes on in an open set.
            let set = Asked { open: set.open && set.reps == 0, ..set };
            if set.percent <= most {
                return set;
            }
            // A written weight that is too much is none any more; what is left of it is a share.
            Asked { percent: most, base: Base::Percent, ..set }
        };
        asked.into_iter().map(least).collect()
    }

    /// What was written, what was done instead and why, for the row: the words of the limit stand on the member's page.
    pub(super) fn told(&self, part: &Part, asked: &[Asked]) -> String {
        let why = if self.by_limit { "to keep a limit" } else { "technique before a number" };
        let mut told = if is_test(part) {
            let top = self.technique_percent();
            let (from, top) = (plain(top - IN_PLACE_OF_A_TEST.2), plain(top));
            format!("a test was written: three sets of 3 at {from} to {top} %, {why}")
        } else if asked.iter().all(|set| set.reps == 0 && matches!(set.base, Base::Effort(_))) {
            // Neither repetitions nor a share stand there.
            let effort = if self.effort < 10.0 { self.effort } else { HELD_EFFORT };
            format!("no more than an effort of {} of 10, {why}", plain(effort))
        } else {
            let held = if heaviest(asked) > self.ceiling_percent {
                format!("held at {} %", plain(self.ceiling_percent))
            } else {
                format!("held to an effort of {} of 10", plain(self.effort))
            };
            format!("{}: {held}, repetitions kept, {why}", written(part, asked))
        };
        if part.format == Some(Format::MaxReps) {
            told.push_str("; stop with three repetitions left");
        }
        if let Some(load) = self.load {
            told.push_str(&format!("; no more than {load}"));
        }
        for manner in &self.manner {
            told.push_str(&format!("; {manner}"));
        }
        told
    }
}

/// The highest share of the maximum that any set comes to, in percent.
fn heaviest(asked: &[Asked]) -> f64 {
    asked.iter().map(|set| set.percent).fold(0.0, f64::max)
}

/// What the text asks of somebody who is held back: a share only where one stands there or follows from a weight.
fn written(part: &Part, asked: &[Asked]) -> String {
    let efforts: Option<Vec<f64>> = asked
        .iter()
        .map(|set| match set.base {
            Base::Effort(effort) | Base::Build(effort) => Some(effort),
            _ => None,
        })
        .collect();
    match efforts {
        None => format!("up to {} % was written", plain(heaviest(asked).round())),
        Some(_) if part.strength.rpe.is_none() && part.format != Some(Format::BuildTo) => {
            "no load was written".to_owned()
        }
        Some(efforts) => {
            let hardest = efforts.into_iter().fold(0.0, f64::max);
            format!("an effort of {} of 10 was asked for", plain(hardest))
        }
    }
}
