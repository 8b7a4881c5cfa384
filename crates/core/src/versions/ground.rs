//! A version on somebody's [`Ground`]: nothing that they spare, and no load above what their words allow. It comes after all
//! else that makes a version, so that no swap and no lever can leave it. *As written* is the text itself and not a version of it: it
//! counts as against a rule for who is spared something, and where a coach chooses it nevertheless it stands as their word.

use super::rewrite::{Edit, available, unit_of};
use super::world::World;
use crate::limits::Ground;
use crate::member::Member;
use crate::movement::Movement;
use crate::session::{Load, Node, Work};

/// The tree as it may be done: what is still spared is left out, loads come down to their ceilings.
pub(super) fn grounded(tree: &Node, member: &Member, world: &World<'_>) -> (Node, Vec<Edit>) {
    let ground = Ground::of(member);
    if ground.is_free() {
        return (tree.clone(), Vec::new());
    }
    let mut edits: Vec<Edit> = Vec::new();
    let mut say = |what: String| {
        let edit = Edit::because(what, "keeps a limit");
        if !edits.contains(&edit) {
            edits.push(edit);
        }
    };
    let tree = tree.map_work(&mut |work| {
        let Some(movement) = world.catalogue.get(&work.movement) else { return Node::Work(work.clone()) };
        if ground.spares(movement) {
            say(format!("without {}", movement.name.to_lowercase()));
            return Node::seq(Vec::new());
        }
        match lowered(work, movement, ground, world) {
            Some(lower) => {
                let load = lower.load.map_or_else(|| "no load".to_owned(), |load| load.to_string());
                say(format!("{} {load}", movement.name.to_lowercase()));
                Node::Work(lower)
            }
            None => Node::Work(work.clone()),
        }
    });
    (tree, edits)
}

/// The work with a load that keeps the ceiling, where it is above it: what the gym has, else none at all.
fn lowered(work: &Work, movement: &Movement, ground: Ground<'_>, world: &World<'_>) -> Option<Work> {
    let load = work.load?;
    let (weight, most) = (load.weight()?, ground.ceiling(movement, world.catalogue)?);
    if weight <= most {
        return None;
    }
    let own = available(most, movement, world.gym);
    let unit = unit_of(load, own, movement, world.gym);
    let lower =
        (own <= most).then(|| Load { first: own.in_unit(unit), second: None, unit: unit.into(), ..load });
    Some(Work { load: lower, ..work.clone() })
}
