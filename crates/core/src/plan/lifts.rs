//! Lifts of a class: a sheet for each member, of the lift itself or of what stands in for it.

use super::StrengthPlan;
use crate::member::Member;
use crate::movement::Movement;
use crate::pacing::Athlete;
use crate::session::{Part, works};
use crate::strength::{LiftSheet, LoadEdits, SetKind, lift_sheet_released, rack_groups};
use crate::versions::{World, lift_instead};

/// The sheets of a part for a class, and the racks of its lifts with a bar.
pub(super) fn strength_plan(
    n: usize,
    part: &Part,
    members: &[Member],
    edits: &LoadEdits,
    world: &World<'_>,
) -> StrengthPlan {
    let World { gym, catalogue, .. } = *world;
    let mut lifts = Vec::new();
    for work in works(&part.tree) {
        if let Some(movement) = catalogue.get(&work.movement)
            && !lifts.iter().any(|known: &&Movement| known.id == movement.id)
        {
            lifts.push(movement);
        }
    }
    let sheets: Vec<LiftSheet> = members
        .iter()
        .flat_map(|member| lifts.iter().map(move |lift| lift_of(part, lift, member, edits, world)))
        .collect();
    let racks = lifts
        .iter()
        .filter(|lift| lift.is_barbell())
        .map(|lift| {
            let of_lift: Vec<LiftSheet> =
                sheets.iter().filter(|sheet| sheet.written() == lift.id.as_str()).cloned().collect();
            (lift.id.clone(), rack_groups(&of_lift, gym))
        })
        .collect();
    StrengthPlan { part: n, prescription: part.clone(), sheets, racks }
}

/// A lift's sheet for a member: of the lift itself where they may do it or a coach says so, else of what stands in for it.
fn lift_of(part: &Part, lift: &Movement, member: &Member, edits: &LoadEdits, world: &World<'_>) -> LiftSheet {
    let World { gym, catalogue, .. } = *world;
    let released = edits.release(&member.name, lift.id.as_str());
    let sheet_of = |lift: &Movement| {
        let sheet = lift_sheet_released(part, lift, member, released, gym, catalogue);
        let usually = Athlete::new(member).usual_max(lift, catalogue);
        let usually = usually.filter(|_| lift.takes_weight() && gym.infer_maxes);
        match usually.filter(|_| sheet.max.is_none()) {
            Some(usually) => sheet.begun_at(usually, lift, gym),
            None => sheet,
        }
    };
    if released.is_some() || !member.limits.iter().any(|limit| limit.spares(lift)) {
        return sheet_of(lift);
    }
    match lift_instead(lift, member, world).and_then(|id| catalogue.get(&id)) {
        Some(own) => sheet_of(own).in_place_of(lift, own),
        None => sheet_of(lift).left_out(),
    }
}

/// Most steps that anybody climbs to the work.
pub(super) fn most_ramp_steps(plan: &StrengthPlan) -> u32 {
    let steps = |sheet: &LiftSheet| sheet.sets.iter().filter(|set| set.kind == SetKind::Ramp).count() as u32;
    plan.sheets.iter().map(steps).max().unwrap_or(0)
}
