//! Who lifts where, what goes on each bar next, and what was lifted.

use lantern_core::plan::StrengthPlan;
use lantern_core::strength::{LiftSheet, Rack, Record, sets_now};
use lantern_core::units::Kilograms;
use lantern_store::lifts::StoredLift;
use serde::Serialize;

use super::hub::Audience;
use super::shown::View;

#[derive(Serialize)]
pub(super) struct LiftShown {
    part: usize,
    racks: Vec<RackShown>,
}

#[derive(Serialize)]
struct RackShown {
    name: String,
    /// Which of the day's lifts, as Book counts them.
    lift: usize,
    people: Vec<LifterShown>,
}

/// On the wall no more than a name: what goes on the bar is nobody else's business.
#[derive(Default, Serialize)]
struct LifterShown {
    name: String,
    /// What Book finds them by.
    call: String,
    /// Sets that are on record today: `5 x 82.5 kg`, the newest first.
    done: Vec<String>,
    /// What goes on the bar in each work set.
    loads: Vec<String>,
    /// Why the sets that are left are others than planned.
    why: Option<String>,
}

/// Lifts are counted as Book counts them: each part's, in the order of its text.
pub(super) fn lifts(view: &View<'_>) -> Vec<LiftShown> {
    let mut before = 0;
    let mut shown = |lift: &StrengthPlan| {
        let written = lift.written();
        let racks = racks(view, lift, (before, &written));
        before += written.len();
        LiftShown { part: lift.part, racks }
    };
    view.planned.plan.strength.iter().map(&mut shown).collect()
}

fn racks(view: &View<'_>, lift: &StrengthPlan, (before, written): (usize, &[&str])) -> Vec<RackShown> {
    let of_lift = lift.racks.iter().flat_map(|(of, plan)| {
        let at = before + written.iter().position(|known| *known == of.as_str()).unwrap_or(0);
        let sheets = lift.sheets_of(of.as_str());
        let rack = move |(name, rack): (String, &Rack)| RackShown {
            name,
            lift: at,
            people: rack.order.iter().filter_map(|n| lifter(view, sheets.get(*n)?)).collect(),
        };
        plan.in_use().map(rack).collect::<Vec<_>>()
    });
    of_lift.collect()
}

fn lifter(view: &View<'_>, sheet: &LiftSheet) -> Option<LifterShown> {
    let place = view.planned.people.iter().position(|member| member.name == sheet.name)?;
    let name = view.name(place)?;
    if view.audience != Audience::Coach {
        return Some(LifterShown { name, ..LifterShown::default() });
    }
    let (id, gym) = (view.planned.ids[place], &view.planned.gym);
    let theirs = view.sets.iter().map(|(set, _)| set);
    let theirs: Vec<&StoredLift> =
        theirs.filter(|set| set.member_id == id && set.lift == sheet.lift).collect();
    let done: Vec<Record> = theirs.iter().map(|set| set.record(set.set_on)).collect();
    let (loads, why) = sets_now(sheet, &done, gym);
    let told = |set: &&StoredLift| {
        let load = Kilograms::from_grams(set.grams.unsigned_abs()).show(gym.unit);
        format!("{} x {load}{}", set.reps, if set.missed { ", missed" } else { "" })
    };
    Some(LifterShown { name, call: sheet.name.clone(), done: theirs.iter().map(told).collect(), loads, why })
}
