//! What a version must satisfy for a member, besides the window: skills, limits, set sizes.

use crate::movement::{Catalogue, Movement};
use crate::pacing::{Athlete, Model};
use crate::session::{Amount, Node, Work, works};

/// Above this stress (0 to 1) a movement goes against a member's joint limit; the caution on flagged
/// joints begins at the same figure.
pub const JOINT_LIMIT: f64 = 0.5;
/// A set is expected to be done in at most this many pieces: half the biggest set unbroken.
const PIECES: f64 = 2.0;

/// Why a movement cannot stand in this member's version.
#[derive(Clone, Debug, PartialEq)]
pub enum Against {
    /// It loads something the member spares; the reason names the ladder to go down.
    Limit {
        /// Joint or `pregnancy`.
        reason: String,
        /// The limit in the member's words.
        text: String,
    },
    /// The member cannot yet do it, or only a few.
    Skill {
        /// Unbroken repetitions when fresh.
        capacity: f64,
    },
    /// The load is too heavy for the set sizes.
    Load {
        /// Unbroken repetitions when fresh.
        capacity: f64,
        /// The biggest set.
        set: f64,
    },
}

/// The first thing that speaks against a piece of work, limits before skill before load.
pub fn against(
    work: &Work,
    biggest_set: f64,
    athlete: &Athlete<'_>,
    catalogue: &Catalogue,
    model: &Model,
) -> Option<Against> {
    let movement = catalogue.get(&work.movement)?;
    if let Some(limit) = athlete.member.limits.iter().find(|limit| is_against(movement, &limit.reason)) {
        return Some(Against::Limit { reason: limit.reason.clone(), text: limit.text.clone() });
    }
    let ability = athlete.ability(work, catalogue, model);
    if ability.capacity.is_infinite() {
        return None;
    }
    let needed = (biggest_set / PIECES).clamp(1.0, 15.0);
    if movement.takes_weight() {
        let heavy = ability.percent.is_some_and(|percent| percent > 85.0);
        return (ability.capacity < needed || heavy)
            .then_some(Against::Load { capacity: ability.capacity, set: biggest_set });
    }
    // Small sets of a skill are fine for who has some; a third of the set is where it turns to waiting.
    let enough = (biggest_set / 3.0).max(1.0);
    (movement.skill >= 2 && ability.capacity < enough)
        .then_some(Against::Skill { capacity: ability.capacity })
}

/// Whether a movement loads what a limit spares.
pub fn is_against(movement: &Movement, reason: &str) -> bool {
    match reason {
        "pregnancy" => {
            movement.joint("ankle") > 0.4
                || (matches!(movement.pattern, crate::movement::Pattern::Burpee)
                    && movement.joint("ankle") > 0.2)
                || movement.equipment.iter().any(|kit| kit == "rig" || kit == "rope")
                || movement.id.as_str().contains("v-up")
        }
        "ankle_impact" => movement.joint("ankle") > JOINT_LIMIT,
        joint => movement.joint(joint) > JOINT_LIMIT,
    }
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
                Amount::Max | Amount::Open => 10.0,
            };
            (work, set)
        })
        .collect()
}
