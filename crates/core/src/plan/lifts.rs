//! Lifts of a class: a sheet for each member, of the lift itself or of what stands in for it.

use super::StrengthPlan;
use crate::hour::LiftTime;
use crate::member::Member;
use crate::movement::Movement;
use crate::pacing::Athlete;
use crate::session::{Part, works};
use crate::strength::{LiftPlace, LiftSheet, LoadEdits, Rack, SetKind, lift_sheet_released, rack_groups};
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
            (lift.id.clone(), rack_groups(&of_lift, LiftPlace::of(lift), gym))
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

/// Steps that somebody who finds the load by feel is given to climb in.
const STEPS_BY_FEEL: u32 = 3;

/// What decides how long a lift takes the class: the longest climb, the fullest rack, the plates moved there.
pub(super) fn lift_time(plan: &StrengthPlan) -> LiftTime {
    let steps = |sheet: &LiftSheet| sheet.sets.iter().filter(|set| set.kind == SetKind::Ramp).count() as u32;
    let on_bars = || plan.sheets.iter().filter(|sheet| sheet.on_a_bar);
    let by_feel = on_bars().any(|sheet| sheet.by_feel.is_some());
    let of_sheets = on_bars().map(steps).max().unwrap_or(0);
    let racks = || plan.racks.iter().map(|(_, racks)| racks);
    let fullest = racks().max_by_key(|racks| racks.most_on_one);
    let work = |sheet: &LiftSheet| sheet.sets.iter().filter(|set| set.kind == SetKind::Work).count();
    let sets = on_bars().map(work).max().unwrap_or(0).max(1);
    // Every lifter's turn of every set ends in a change of plates.
    let a_turn = |rack: &Rack| rack.plates_moved.div_ceil((sets * rack.order.len()).max(1) as u32);
    LiftTime {
        part: plan.part,
        ramp_steps: of_sheets.max(if by_feel { STEPS_BY_FEEL } else { 0 }),
        turns: fullest.map_or(1, |racks| racks.most_on_one).max(1),
        plates_a_turn: racks().flat_map(|racks| &racks.racks).map(a_turn).max().unwrap_or(0),
        place: fullest.map_or_else(LiftPlace::default, |racks| racks.place),
    }
}
