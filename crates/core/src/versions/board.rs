//! The versions on the board: made for the typical person whom each is for, before any member is looked at.

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
use crate::pacing::{Athlete, Prediction, Window, predict, typical_member};
use crate::session::{Part, works};

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
    pub(super) changes: Changes,
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
    let athletes = [Athlete::new(&whose[0]), Athlete::new(&whose[1])];
    let written = [personal(&part.tree, true), personal(&part.tree, false)];
    let fitter =
        |n: usize| Fitter { athlete: &athletes[n], window, world, written: &written[n], comfort: COMFORT };
    let [first, second] = [0, 1].map(|n| {
        let swaps = match name {
            VersionName::AsWritten | VersionName::Lighter => Vec::new(),
            VersionName::Simpler | VersionName::FirstLight => {
                what_cannot_be(&written[n], &athletes[n], world)
            }
            VersionName::AroundIt => around(&written[n], &reason, world),
            VersionName::AtHome => to_home(&written[n], &kit, world),
        };
        let home = (name == VersionName::AtHome).then(|| kit.clone());
        let start = Changes { home, ..start(name, swaps, part, LIGHTER_LOAD) };
        if name == VersionName::AsWritten { start } else { fitter(n).fit(&start) }
    });
    // One version for a room: loads differ between men and women, and what is counted does not.
    let both = [first.half_way(&second), second.half_way(&first)];
    let [(first, edits), (second, _)] = [0, 1].map(|n| fitter(n).tree(&both[n]));
    let (expected, _) = predict(&first, &athletes[0], world.catalogue, world.model, window, world.days);
    let [changes, _] = both;
    let tree = if name == VersionName::AsWritten { part.tree.clone() } else { side_by_side(&first, &second) };
    let (tree, always) = by_habit(name, &tree, world.gym, world.catalogue);
    let (tree, held) = by_hand(part, &tree, edit.on_board(name), world.catalogue);
    let made = ClassVersion {
        name,
        about,
        part: Part { tree, ..part.clone() },
        edits,
        expected,
        changes,
        by_hand: !held.is_empty() || !always.is_empty(),
    };
    if !made.by_hand {
        return made;
    }
    let mut edits = made.edits;
    edits.extend(always);
    edits.extend(held.iter().map(|line| Edit::by_hand(line)));
    let first = for_member(&made.part, &whose[0], world.gym, world.catalogue);
    let (expected, _) = predict(&first, &athletes[0], world.catalogue, world.model, window, world.days);
    ClassVersion { edits, expected, ..made }
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
