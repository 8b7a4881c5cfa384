//! The versions on the board: made for the typical person whom each is for, before any member is looked at.

use std::sync::Arc;

use super::changes::{Changes, Swap, side_by_side};
use super::edits::PieceEdit;
use super::fit::{COMFORT, Fitter};
use super::habit::by_habit;
use super::hand::by_hand;
use super::home::HomeKit;
use super::names::VersionName;
use super::rewrite::{Edit, for_member, personal};
use super::swaps::{around, to_home, what_cannot_be};
use super::world::World;
use crate::limits::{Limit, loads};
use crate::member::{Experience, Member, Sex};
use crate::movement::Catalogue;
use crate::pacing::{Athlete, Prediction, Window, predict, typical_member};
use crate::session::{Part, StandsFor, works};
use crate::units::plain;

/// A version that is explained to the class.
#[derive(Clone, Debug, PartialEq)]
pub struct ClassVersion {
    /// Which of the six.
    pub name: VersionName,
    /// What it spares, or what it is done with, for the two side versions.
    pub about: String,
    /// The part with the version's tree; where men's and women's numbers differ, both stand there.
    pub part: Part,
    /// What was changed.
    pub edits: Vec<Edit>,
    /// What somebody typical for it would do.
    pub expected: Prediction,
    /// Whether the coach has written lines of it anew.
    pub by_hand: bool,
    /// What makes it of the text, for who takes the first of a pair of numbers and for who takes the second.
    changes: [Changes; 2],
    /// Whom it is for: a man and a woman.
    whose: Arc<[Member; 2]>,
}

impl ClassVersion {
    /// What to aim for where it counts something else than the text: `aim at least 900 m`, or what stands for one of the text's.
    pub fn aim(&self, window: &Window, catalogue: &Catalogue) -> Option<String> {
        if let Some(aim) = self.expected.aim(window) {
            return Some(format!("aim {}", aim.show()));
        }
        let works = works(&self.part.tree);
        let counted = works.iter().filter(|work| self.expected.measure.is_count() && !work.uncounted);
        let mut words: Vec<String> = Vec::new();
        for work in counted {
            let StandsFor { each, unit } = work.counts_for();
            if unit == work.dose.unit {
                continue;
            }
            let for_one = plain((1.0 / each).round().max(1.0));
            let name = catalogue.name(&work.movement).to_lowercase();
            let said = format!("{for_one}{} {name} count as 1{}", work.dose.unit.short(), unit.short());
            if !words.contains(&said) {
                words.push(said);
            }
        }
        (!words.is_empty()).then(|| words.join(", "))
    }

    /// What makes this version of the text for somebody.
    pub(super) fn changes_for(&self, member: &Member) -> &Changes {
        &self.changes[usize::from(!member.takes_first_of_pair())]
    }
}

/// Shares of the typical regular's strength, and of what they can do unbroken, that a version is made for. Coaching
/// judgement: the tiers of a mixed class.
const LIGHTER_STRENGTH: f64 = 0.75;
const SIMPLER_STRENGTH: f64 = 0.65;
const NEWCOMER_STRENGTH: f64 = 0.5;
/// Loads that the versions begin with, as shares of the written ones.
const LIGHTER_LOAD: f64 = 0.8;
const FIRST_LIGHT_LOAD: f64 = 0.5;
/// A lighter version of a piece without loads begins with this share of the repetitions.
const LIGHTER_REPS: f64 = 0.8;

/// All versions of a piece, in the order of [`VersionName::ALL`]. `limits` are those of the class: the version around
/// a joint is made for the one that this piece loads most often.
pub(super) fn board(
    part: &Part,
    window: &Window,
    limits: &[&Limit],
    edit: &PieceEdit,
    world: &World<'_>,
) -> Vec<ClassVersion> {
    VersionName::ALL.into_iter().map(|name| class_version(name, part, window, limits, edit, world)).collect()
}

fn class_version(
    name: VersionName,
    part: &Part,
    window: &Window,
    limits: &[&Limit],
    edit: &PieceEdit,
    world: &World<'_>,
) -> ClassVersion {
    let reason = joint_to_spare(part, limits, world);
    let kit = HomeKit::from_words(edit.home.as_deref().unwrap_or_default());
    let about = match name {
        VersionName::AroundIt => reason.replace('_', " ").replace("ankle impact", "ankle"),
        VersionName::AtHome => kit.name.clone(),
        _ => String::new(),
    };
    let whose = [Sex::M, Sex::F].map(|sex| whom_it_is_for(name, part, sex, world));
    let fitted = [0, 1].map(|n| {
        let athlete = Athlete::new(&whose[n]);
        let written = personal(&part.tree, n == 0);
        let fitter = Fitter { athlete: &athlete, window, world, written: &written, comfort: COMFORT };
        let swaps = match name {
            VersionName::AsWritten | VersionName::Lighter => Vec::new(),
            VersionName::Simpler | VersionName::FirstLight => what_cannot_be(&written, &athlete, world),
            VersionName::AroundIt => around(&written, &reason, world),
            VersionName::AtHome => to_home(&written, &kit, world),
        };
        let home = (name == VersionName::AtHome).then(|| kit.clone());
        let start = Changes { home, ..start(name, swaps, part, LIGHTER_LOAD) };
        if name == VersionName::AsWritten { start } else { fitter.fit(&start) }
    });
    // One version for a room: loads differ between men and women, and what is counted does not.
    let changes = [fitted[0].half_way(&fitted[1]), fitted[1].half_way(&fitted[0])];
    made(Made { name, about, changes, whose: Arc::new(whose) }, part, window, world)
}

/// What a version of the board is made of.
struct Made {
    name: VersionName,
    about: String,
    changes: [Changes; 2],
    whose: Arc<[Member; 2]>,
}

fn made(of: Made, part: &Part, window: &Window, world: &World<'_>) -> ClassVersion {
    let Made { name, about, changes, whose } = of;
    let athletes = [0, 1].map(|n| Athlete::new(&whose[n]));
    let trees = [0, 1].map(|n| {
        let written = personal(&part.tree, n == 0);
        let fitter = Fitter { athlete: &athletes[n], window, world, written: &written, comfort: COMFORT };
        fitter.tree(&changes[n])
    });
    let [(first, edits), (second, _)] = trees;
    let (expected, _) = predict(&first, &athletes[0], world.catalogue, world.model, window, world.days);
    let tree = if name == VersionName::AsWritten { part.tree.clone() } else { side_by_side(&first, &second) };
    let part = Part { tree, ..part.clone() };
    ClassVersion { name, about, part, edits, expected, by_hand: false, changes, whose }
}

/// A version with the repetitions, rounds and swaps of other changes, and with its own loads as far as they still hold.
pub(super) fn with_numbers_of(
    version: &ClassVersion,
    numbers: &Changes,
    part: &Part,
    window: &Window,
    world: &World<'_>,
) -> ClassVersion {
    let changes = [0, 1].map(|n| {
        let athlete = Athlete::new(&version.whose[n]);
        let written = personal(&part.tree, n == 0);
        let fitter = Fitter { athlete: &athlete, window, world, written: &written, comfort: COMFORT };
        let own = version.changes[n].with_numbers_of(numbers);
        fitter.heaviest(&own, own.load).unwrap_or(own)
    });
    let (about, whose) = (version.about.clone(), version.whose.clone());
    made(Made { name: version.name, about, changes, whose }, part, window, world)
}

/// A version with the lines that the coach has written anew, today or always; none where there are none.
pub(super) fn with_the_hand(
    version: &ClassVersion,
    text: &Part,
    window: &Window,
    edit: &PieceEdit,
    world: &World<'_>,
) -> Option<ClassVersion> {
    let (tree, always) = by_habit(version.name, &version.part.tree, world.gym, world.catalogue);
    let (tree, held) = by_hand(text, &tree, edit.on_board(version.name), world.catalogue);
    if held.is_empty() && always.is_empty() {
        return None;
    }
    let mut edits = version.edits.clone();
    edits.extend(always);
    edits.extend(held.iter().map(|line| Edit::by_hand(line)));
    let part = Part { tree, ..version.part.clone() };
    let typical = &version.whose[0];
    let first = for_member(&part, typical, world.gym, world.catalogue);
    let athlete = Athlete::new(typical);
    let (expected, _) = predict(&first, &athlete, world.catalogue, world.model, window, world.days);
    Some(ClassVersion { part, edits, expected, by_hand: true, ..version.clone() })
}

/// Where a version begins before it is fitted to anybody; `lighter` is the share of the loads that Lighter begins with.
pub(super) fn start(name: VersionName, swaps: Vec<Swap>, part: &Part, lighter: f64) -> Changes {
    let loaded = works(&part.tree).iter().any(|work| work.load.is_some_and(|load| load.weight().is_some()));
    match name {
        VersionName::Lighter if loaded => Changes { load: lighter, ..Changes::none() },
        VersionName::Lighter => Changes { reps: LIGHTER_REPS, ..Changes::none() },
        VersionName::FirstLight => Changes { swaps, load: FIRST_LIGHT_LOAD, ..Changes::none() },
        _ => Changes { swaps, ..Changes::none() },
    }
}

/// The typical person of a version: the regular whom the text was written for, and steps down from there.
fn whom_it_is_for(name: VersionName, part: &Part, sex: Sex, world: &World<'_>) -> Member {
    let regular = typical_member(part, sex, world.catalogue, world.model);
    let weaker = |share: f64, reps: f64, experience| {
        let mut member = regular.clone();
        member.experience = experience;
        member.maxes.values_mut().for_each(|max| max.value = max.value.share(share));
        member.best_reps.values_mut().for_each(|best| *best = (f64::from(*best) * reps) as u32);
        member.row_2k_s = member.row_2k_s.map(|seconds| (f64::from(seconds) / share.powf(0.2)) as u32);
        member.run_400_s = member.run_400_s.map(|seconds| (f64::from(seconds) / share.powf(0.3)) as u32);
        member
    };
    match name {
        VersionName::AsWritten | VersionName::AroundIt | VersionName::AtHome => regular,
        VersionName::Lighter => weaker(LIGHTER_STRENGTH, 0.7, Experience::Intermediate),
        VersionName::Simpler => weaker(SIMPLER_STRENGTH, 0.1, Experience::Beginner),
        VersionName::FirstLight => weaker(NEWCOMER_STRENGTH, 0.0, Experience::New),
    }
}

/// What the version around a joint spares: the limit of the class that the piece goes against most often, else the
/// joint that the piece asks most of.
fn joint_to_spare(part: &Part, limits: &[&Limit], world: &World<'_>) -> String {
    const JOINTS: [&str; 7] = ["shoulder", "knee", "low_back", "wrist", "elbow", "hip", "ankle_impact"];
    let movements: Vec<_> =
        works(&part.tree).iter().filter_map(|work| world.catalogue.get(&work.movement)).collect();
    let asked = |reason: &str| {
        let members = limits.iter().filter(|limit| limit.reasons().any(|known| known == reason)).count();
        let loading = movements.iter().filter(|movement| loads(movement, reason)).count();
        let stress: f64 =
            movements.iter().map(|movement| movement.joint(reason.trim_end_matches("_impact"))).sum();
        (if loading > 0 { members } else { 0 }, loading, (stress * 100.0) as u32)
    };
    let named = limits.iter().flat_map(|limit| limit.reasons());
    named.chain(JOINTS).max_by_key(|reason| asked(reason)).unwrap_or("shoulder").to_owned()
}
