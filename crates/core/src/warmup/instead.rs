//! For whom an item of the warm-up is something that they spare, and what they do in its place.
//!
//! Which limit it is, is not said: others read this.

use std::sync::Arc;

use serde::Serialize;

use super::Warmup;
use super::coverage::cool_down;
use super::items::{Phase, WarmupItem, standard_items};
use crate::limits::{Ground, Limit};
use crate::member::Member;
use crate::movement::Catalogue;
use crate::session::Session;

/// Equipment that everybody finds beside them.
const AT_HAND: [&str; 3] = ["floor_space", "mat", "wall"];

/// An item that a member had better do otherwise.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct Instead {
    /// Whose limit it is.
    pub member: String,
    /// The item's name.
    pub item: String,
    /// What to do in its place.
    pub instead: String,
}

/// For members with a limit: what of the warm-up and of the cool-down they spare, the coach's own text included, with another item that keeps every limit
/// of theirs, and what loads a sore joint, with its easier way.
pub fn for_limits(
    session: &Session,
    warmup: &Warmup,
    members: &[Member],
    catalogue: &Catalogue,
) -> Vec<Instead> {
    let planned = warmup.items().map(|item| Arc::clone(&item.of));
    let items: Vec<Arc<WarmupItem>> = planned.chain(cool_down(session, warmup, catalogue)).collect();
    let ids: Vec<&str> = items.iter().map(|item| item.id.as_str()).collect();
    let mut found: Vec<Instead> = Vec::new();
    for member in members.iter().filter(|member| !Ground::of(member).is_free()) {
        let mut say = |item: &str, instead: String| {
            let row = Instead { member: member.name.clone(), item: item.to_owned(), instead };
            if !found.contains(&row) {
                found.push(row);
            }
        };
        for item in &items {
            if is_against(item, member, catalogue) {
                say(&item.name, in_place(&item.targets, item.phase, &ids, member, catalogue));
            } else if !item.easier.is_empty() && strains(item, member) {
                say(&item.name, item.easier.to_lowercase());
            }
        }
    }
    found
}

/// Whether an item is much like something that a member spares.
fn is_against(item: &WarmupItem, member: &Member, catalogue: &Catalogue) -> bool {
    item.like.iter().filter_map(|id| catalogue.get(id)).any(|movement| Ground::of(member).spares(movement))
}

/// Whether an item loads a joint of a limit.
fn strains(item: &WarmupItem, member: &Member) -> bool {
    member.limits.iter().flat_map(Limit::reasons).any(|reason| loads(item, reason))
}

/// Whether an item loads what a limit spares: its joint, or landing, for an ankle or in pregnancy. Stretches of the
/// joint are left to the member.
fn loads(item: &WarmupItem, reason: &str) -> bool {
    let joint = reason.trim_end_matches("_impact");
    let lands = item.targets.iter().any(|target| target == "jump");
    let stretches = matches!(item.phase, Phase::Mobilise | Phase::CoolDown);
    let bends = item.targets.iter().any(|target| target == joint) && !stretches;
    bends || (lands && matches!(reason, "ankle_impact" | "pregnancy" | "knee"))
}

/// The item that readies most of the same and keeps every limit, from what lies beside everybody; rehearsals, and what the coach has
/// written, give way to what switches the pattern on.
fn in_place(
    targets: &[String],
    phase: Phase,
    planned: &[&str],
    member: &Member,
    catalogue: &Catalogue,
) -> String {
    let given_way = phase.is_drill() || phase == Phase::Own;
    let phase = if given_way { Phase::Activate } else { phase };
    let shared = |item: &WarmupItem| item.targets.iter().filter(|own| targets.contains(own)).count();
    let best = standard_items()
        .iter()
        .filter(|item| item.phase == phase && !planned.contains(&item.id.as_str()))
        .filter(|item| item.equipment.iter().all(|kit| AT_HAND.contains(&kit.as_str())))
        .filter(|item| !is_against(item, member, catalogue) && !strains(item, member) && shared(item) > 0)
        .max_by(|a, b| shared(a).cmp(&shared(b)).then(b.id.cmp(&a.id)));
    best.map_or_else(
        || "leave it out".to_owned(),
        |item| format!("{}, {}", item.name.to_lowercase(), item.dose),
    )
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::warmup::of_day;

    const DAY: &str = "Warm-up\n2 rounds\n200 m run\n10 ring rows\n\nStrength\nPush press 5x3\n\nFor time\n50 box jumps\n\
                       50 pull-ups\n400 m run";

    const LED: &str = "Strength\nPush press 5x3\n\nFor time\n50 box jumps\n50 pull-ups\n400 m run";

    fn told(limits: &str) -> Vec<Instead> {
        told_on(DAY, limits)
    }

    fn told_on(day: &str, limits: &str) -> Vec<Instead> {
        let catalogue = Catalogue::standard();
        let (session, warmup) = of_day(day);
        let member =
            Member { name: "Joss".into(), limits: Limit::several(limits).collect(), ..Member::default() };
        for_limits(&session, &warmup, &[member], catalogue)
    }

    #[test]
    fn the_coach_s_own_run_is_replaced_for_who_does_not_run() {
        let found = told("no running");
        let run = found.iter().find(|row| row.item == "Run").unwrap();
        assert!(!run.instead.contains("jog") && !run.instead.contains("run"), "{run:?}");
        assert!(found.iter().all(|row| row.item != "Ring row"), "{found:?}");
    }

    #[test]
    fn drills_overhead_give_way_for_a_sore_shoulder_and_nobody_else_is_told_of() {
        let found = told_on(LED, "right shoulder: nothing overhead");
        assert!(found.iter().any(|row| row.item.to_lowercase().contains("push press")), "{found:?}");
        assert_eq!(told("none"), []);
    }

    #[test]
    fn what_only_loads_a_sore_joint_is_done_the_easier_way() {
        let day = "For time\n50 push-ups\n50 burpees\n50 pull-ups";
        let sore = ["elbow", "wrist", "knee"].map(|joint| format!("{joint} a bit sore"));
        let found: Vec<Instead> = sore.iter().flat_map(|limit| told_on(day, limit)).collect();
        let easier = |row: &Instead| {
            let item = standard_items().iter().find(|item| item.name == row.item);
            item.is_some_and(|item| item.easier.to_lowercase() == row.instead)
        };
        assert!(found.iter().any(easier) && !found.iter().all(easier), "{found:?}");
    }

    #[test]
    fn an_item_loads_the_joint_it_bends_and_what_lands_the_ankle_too() {
        let all = standard_items();
        let lands = all.iter().find(|item| item.targets.iter().any(|target| target == "jump")).unwrap();
        assert!(loads(lands, "ankle_impact") && loads(lands, "pregnancy") && loads(lands, "knee"));
        assert!(!loads(lands, "wrist") || lands.targets.iter().any(|target| target == "wrist"));
        let stretch =
            all.iter().find(|item| item.phase == Phase::CoolDown && !item.targets.is_empty()).unwrap();
        assert!(!loads(stretch, &stretch.targets[0]), "{}: a stretch is left to the member", stretch.id);
    }
}
