//! What a version must satisfy for a member, besides the window: limits, skills, prerequisites, loads.

use super::rewrite::available;
use super::world::World;
use crate::gym::{Gym, KippingSchool};
use crate::limits::Ground;
use crate::member::Experience;
use crate::movement::{Movement, MovementId};
use crate::pacing::model::Kind;
use crate::pacing::{Ability, Athlete};
use crate::session::{Amount, Node, Work, works};
use crate::strength::max_for;
use crate::units::Kilograms;

/// A set is expected to be done in at most this many pieces: half the biggest set unbroken.
const PIECES: f64 = 2.0;
/// Of push-ups, somebody should have more than this share of the biggest set; coaching practice.
const HALF: f64 = 0.5;
/// No load above this share of the movement's 1RM is conditioning; coaching practice.
const MOST_PERCENT: f64 = 85.0;
/// "N unbroken when fresh" is asked for up to this number, however big the set.
const MOST_UNBROKEN: f64 = 8.0;
/// The next lighter of anything weighs at most this share of it.
const A_STEP_LESS: f64 = 0.97;
/// "No more than two sets": a set of n needs about n / 1.5 when fresh; coaching practice.
const TWO_SETS: f64 = 1.5;
/// From this step of the catalogue's skill on a movement without a weight is hard to learn: pistols, toes-to-bar, chest-to-bar pull-ups, rope
/// climbs, handstand push-ups, muscle-ups. Coaching judgement.
const HARD_SKILL: u8 = 3;

/// Why a movement cannot stand in this member's version.
#[derive(Clone, Debug, PartialEq)]
pub enum Against {
    /// It loads something the member spares.
    Limit {
        /// Ladders that lead around it, likeliest first: joints, or `pregnancy`.
        reasons: Vec<String>,
    },
    /// It is heavier than their words allow.
    Ceiling,
    /// The member cannot yet do it, or only a few.
    Skill {
        /// Unbroken repetitions when fresh.
        capacity: f64,
    },
    /// Something else is to be owned first, as the gym sees it.
    Prerequisite {
        /// In words: `3 strict pull-ups`.
        needs: String,
    },
    /// The load is too heavy for the set sizes.
    Load {
        /// Unbroken repetitions when fresh.
        capacity: f64,
        /// The biggest set.
        set: f64,
    },
}

impl Against {
    /// Whether it is a matter of what somebody's words allow.
    pub fn is_limit(&self) -> bool {
        matches!(self, Self::Limit { .. } | Self::Ceiling)
    }

    /// Whether less weight mends it.
    pub fn is_too_heavy(&self) -> bool {
        matches!(self, Self::Load { .. } | Self::Ceiling)
    }
}

/// The first thing that speaks against a piece of work: limits before skill before load.
pub(super) fn against(
    work: &Work,
    biggest_set: f64,
    athlete: &Athlete<'_>,
    world: &World<'_>,
) -> Option<Against> {
    let movement = world.catalogue.get(&work.movement)?;
    let ground = Ground::of(athlete.member);
    if ground.spares(movement) {
        let reasons = ground.reasons(movement).map(str::to_owned).collect();
        return Some(Against::Limit { reasons });
    }
    let weight = work.load.and_then(|load| load.weight());
    if weight.zip(ground.ceiling(movement, world.catalogue)).is_some_and(|(weight, most)| weight > most) {
        return Some(Against::Ceiling);
    }
    if let Some(needs) = missing_prerequisite(movement, athlete, world) {
        return Some(Against::Prerequisite { needs });
    }
    let ability = athlete.ability(work, world.catalogue, world.model);
    if ability.capacity.is_infinite() {
        return None;
    }
    if movement.takes_weight() {
        let broken = load_rules(&ability, biggest_set).into_iter().any(|rule| !rule.kept);
        // Of a max that nobody has measured no more is known than that the lightest there is should go.
        let by_feel = ability.guess && weight.is_some_and(|weight| is_lightest(weight, movement, world.gym));
        return (broken && !by_feel)
            .then_some(Against::Load { capacity: ability.capacity, set: biggest_set });
    }
    // Small sets of a skill are fine for who has some; a third of the set is where it turns to waiting. Of strict pressing it
    // is half.
    let shown = athlete.member.best(movement.id.as_str()).is_some() || ability.guess;
    // What a beginner has never been seen to do, and is hard to learn, is given to them where all of a set is likely to be there.
    let beginner = matches!(athlete.member.experience, Experience::New | Experience::Beginner);
    let too_few = match movement.skill {
        0 => false,
        HARD_SKILL.. if beginner && ability.guess => ability.capacity < biggest_set,
        1 => ability.kind == Kind::Push && shown && ability.capacity <= biggest_set * HALF,
        _ => ability.capacity < (biggest_set / 3.0).max(1.0),
    };
    too_few.then_some(Against::Skill { capacity: ability.capacity })
}

/// Whether the gym has nothing lighter for a movement.
fn is_lightest(weight: Kilograms, movement: &Movement, gym: &Gym) -> bool {
    available(weight.share(A_STEP_LESS), movement, gym) >= weight
}

/// Why somebody cannot do a piece as it is written, whatever time it takes: a load above what they lift once, or a skill of which
/// they have none on record. Names the movement.
pub fn cannot(tree: &Node, athlete: &Athlete<'_>, world: &World<'_>) -> Option<(MovementId, String)> {
    works(tree).into_iter().find_map(|work| {
        let movement = world.catalogue.get(&work.movement)?;
        let name = movement.name.to_lowercase();
        let ability = athlete.ability(work, world.catalogue, world.model);
        let why = match (ability.percent, athlete.member.best(movement.id.as_str())) {
            // Where no lift is on file at all nobody knows what cannot be lifted.
            (Some(percent), _)
                if percent > 100.0 && max_for(athlete.member, &movement.id, world.catalogue).is_some() =>
            {
                let load = work.load.map(|load| load.to_string()).unwrap_or_default();
                format!("{load} is {percent:.0} % of the most that they lift of {name}")
            }
            (_, Some(0)) if movement.skill >= 2 => format!("none of {name} on record"),
            _ => return None,
        };
        Some((movement.id.clone(), why))
    })
}

/// One rule about a load, with what it asks and what is there.
#[derive(Clone, Debug, PartialEq)]
pub struct LoadRule {
    /// In words: `half of the biggest set unbroken: 11 asked, about 14 there`.
    pub words: String,
    /// Whether it is kept.
    pub kept: bool,
}

fn load_rules(ability: &Ability, biggest_set: f64) -> Vec<LoadRule> {
    let mut rules = Vec::new();
    if let Some(percent) = ability.percent {
        rules.push(LoadRule {
            words: format!("{percent:.0} % of the movement's 1RM, at most {MOST_PERCENT:.0} %"),
            kept: percent <= MOST_PERCENT,
        });
    }
    let asked = (biggest_set / PIECES).clamp(1.0, MOST_UNBROKEN);
    rules.push(LoadRule {
        words: format!(
            "half of the biggest set unbroken: {asked:.0} asked, about {:.0} there",
            ability.capacity
        ),
        kept: ability.capacity >= asked,
    });
    rules
}

/// A movement's load in a version against all rules; what is stricter than the gym asks stands as a remark.
#[derive(Clone, Debug, PartialEq)]
pub struct LoadCheck {
    /// The movement's name.
    pub movement: String,
    /// The load, as written.
    pub load: String,
    /// Rules that must be kept.
    pub rules: Vec<LoadRule>,
    /// Whether it would even go in two sets.
    pub two_sets: LoadRule,
}

/// The loads of a member's tree against the rules, the movement that decides first: the one with the least to spare.
pub fn load_checks(tree: &Node, athlete: &Athlete<'_>, world: &World<'_>) -> Vec<LoadCheck> {
    let mut checks: Vec<(f64, LoadCheck)> = Vec::new();
    for (work, set) in biggest_sets(tree) {
        let (Some(movement), Some(load)) = (world.catalogue.get(&work.movement), work.load) else { continue };
        let name = movement.name.to_lowercase();
        if !movement.takes_weight() || checks.iter().any(|(_, known)| known.movement == name) {
            continue;
        }
        let ability = athlete.ability(work, world.catalogue, world.model);
        let asked = set / TWO_SETS;
        let two_sets = LoadRule {
            words: format!("no more than two sets: about {asked:.0} asked, {:.0} there", ability.capacity),
            kept: ability.capacity >= asked,
        };
        let check =
            LoadCheck { movement: name, load: load.to_string(), rules: load_rules(&ability, set), two_sets };
        checks.push((ability.capacity / set.max(1.0), check));
    }
    checks.sort_by(|a, b| a.0.total_cmp(&b.0));
    checks.into_iter().map(|(_, check)| check).collect()
}

/// What a kipping or a turning-over movement asks for first, where the gym wants strict strength before it.
/// Unknown strict numbers are asked for of newcomers only.
fn missing_prerequisite(movement: &Movement, athlete: &Athlete<'_>, world: &World<'_>) -> Option<String> {
    if world.gym.kipping == KippingSchool::AtOnce {
        return None;
    }
    let rule = world.model.prerequisite.iter().find(|rule| rule.movement == movement.id.as_str())?;
    let known = athlete.member.best(&rule.needs);
    let short = known.is_some_and(|best| best < rule.at_least);
    // Who has shown the movement itself in numbers is not sent back.
    let shown = athlete.member.best(movement.id.as_str()).unwrap_or(0);
    let name = world.catalogue.find(&rule.needs).map_or(rule.needs.as_str(), |needs| &needs.name);
    (short && shown < rule.unless_best).then(|| format!("{} {}s", rule.at_least, name.to_lowercase()))
}

/// The biggest set that a tree asks of each of its works, in repetitions.
pub fn biggest_sets(tree: &Node) -> Vec<(&Work, f64)> {
    fn rungs(node: &Node) -> f64 {
        match node {
            Node::Scheme { reps, .. } => reps.iter().copied().max().map_or(0.0, f64::from),
            other => other.children().into_iter().map(rungs).fold(0.0, f64::max),
        }
    }
    let rung = rungs(tree);
    works(tree)
        .into_iter()
        .map(|work| {
            let set = match work.dose.amount {
                Amount::Fixed { first, .. } => first,
                Amount::Scheme => rung.max(1.0),
                Amount::Max | Amount::Open | Amount::Meanwhile => 10.0,
            };
            (work, set)
        })
        .collect()
}
