//! Lifts of a class: a sheet for each member, of the lift itself or of what stands in for it.

use super::{Decisions, Here, StrengthPlan};
use crate::gym::Gym;
use crate::hour::LiftTime;
use crate::limits::Ground;
use crate::member::Member;
use crate::movement::Movement;
use crate::pacing::Athlete;
use crate::session::{Format, Part, PartKind, PercentOf, Session, works};
use crate::strength::{
    Base, LiftPlace, LiftSheet, Lifting, Rack, RackPlan, SetKind, complex, leave_plates_on, light_sheets,
    one_bar_a_rack, rack_groups, rack_groups_again,
};
use crate::versions::{World, lift_instead, lift_they_can};

/// The build that a part's shares are taken of what it ends at: an earlier one of the same lift, where the part asks for a share of today's, else the
/// last of another.
pub(super) fn built_before(session: &Session, n: usize) -> Option<&Part> {
    let part = session.parts.get(n)?;
    let of_today = part.strength.percent_of == Some(PercentOf::Today) && part.format != Some(Format::BuildTo);
    let lifts = works(&part.tree);
    let builds = || session.parts[..n].iter().rev().filter(|earlier| earlier.format == Some(Format::BuildTo));
    let same = |earlier: &&Part| {
        works(&earlier.tree).iter().any(|work| lifts.iter().any(|own| own.movement == work.movement))
    };
    builds().find(same).or_else(|| builds().next()).filter(|_| of_today)
}

/// The sheets of a part for a class, and the racks of its lifts with a bar.
pub(super) fn strength_plan(
    (n, part): (usize, &Part),
    built: Option<&Part>,
    members: &[Member],
    decisions: &Decisions,
    world: &World<'_>,
) -> StrengthPlan {
    let World { gym, catalogue, .. } = *world;
    let elements = complex(part, catalogue);
    let mut lifts: Vec<&Movement> = Vec::new();
    for work in works(&part.tree) {
        if let Some(movement) = catalogue.get(&work.movement)
            && !lifts.iter().any(|known| known.id == movement.id)
            && (part.kind == PartKind::Strength || movement.takes_weight())
        {
            lifts.push(movement);
        }
    }
    if elements.is_some() {
        // One bar for all of it.
        lifts.truncate(1);
    }
    let sheet = |member: &Member, lift: &Movement| {
        let released = decisions.loads.release(&member.name, lift.id.as_str());
        let lifting = Lifting { part, built, member, most: None, released, gym, catalogue };
        let of_complex = elements.as_ref().and_then(|elements| lifting.complex(elements)).map(|sheet| {
            let own = sheet.elements.iter().filter_map(|(id, _)| catalogue.find(id));
            let own: Vec<&Movement> = own.collect();
            begun(sheet, &own, member, world)
        });
        of_complex.unwrap_or_else(|| lift_of(lifting, lift, world))
    };
    let mut sheets: Vec<LiftSheet> = members
        .iter()
        .flat_map(|member| lifts.iter().map(move |lift| (member, *lift)))
        .map(|(member, lift)| sheet(member, lift))
        .collect();
    let mut racks = Vec::new();
    for lift in lifts.iter().filter(|lift| lift.is_barbell()) {
        let place = LiftPlace::of(lift);
        let of_lift = |sheet: &&mut LiftSheet| sheet.written() == lift.id.as_str();
        let mut own: Vec<LiftSheet> = sheets.iter_mut().filter(of_lift).map(|sheet| sheet.clone()).collect();
        racks.push((lift.id.clone(), racks_of(&mut own, &decisions.here, place, gym)));
        sheets.iter_mut().filter(of_lift).zip(own).for_each(|(sheet, own)| *sheet = own);
    }
    let light = lifts.iter().flat_map(|lift| light_sheets(part, lift, members, world)).collect();
    let notes = notes(part, &sheets, world);
    StrengthPlan {
        part: n,
        prescription: part.clone(),
        built: built.cloned(),
        sheets,
        racks,
        light,
        notes,
        away: decisions.here.away.clone(),
    }
}

/// The racks of a lift for those who are here, and the loads on them as they come about with one bar a rack.
fn racks_of(sheets: &mut [LiftSheet], here: &Here, place: LiftPlace, gym: &Gym) -> RackPlan {
    let settled = |sheets: &mut [LiftSheet], groups: &dyn Fn(&[LiftSheet]) -> RackPlan| {
        let first = groups(sheets);
        one_bar_a_rack(sheets, &first, gym);
        let shared = groups(sheets);
        leave_plates_on(sheets, &shared, gym);
        groups(sheets)
    };
    match here.divide(sheets.iter().map(|sheet| sheet.name.as_str())) {
        None => settled(sheets, &|sheets| rack_groups(sheets, place, gym)),
        Some((booked, here)) => {
            let mut of_booked: Vec<LiftSheet> = booked.iter().map(|n| sheets[*n].clone()).collect();
            let stood = settled(&mut of_booked, &|sheets| rack_groups(sheets, place, gym));
            let stood: Vec<Vec<usize>> =
                stood.racks.iter().map(|rack| rack.order.iter().map(|n| booked[*n]).collect()).collect();
            settled(sheets, &|sheets| rack_groups_again(sheets, &here, &stood, place, gym))
        }
    }
}

/// Less than this beside a written weight is the same, in kilograms: what a pound and a kilogram plate differ by.
const AS_WRITTEN_KG: f64 = 0.3;

/// Written weights that the gym's plates cannot make, with what is put on, and a week that no cycle of the gym fills in.
fn notes(part: &Part, sheets: &[LiftSheet], world: &World<'_>) -> Vec<String> {
    let World { gym, catalogue, .. } = *world;
    let mut notes: Vec<String> = Vec::new();
    let sets = sheets.iter().filter(|sheet| sheet.on_a_bar).flat_map(|sheet| &sheet.sets);
    for (set, load) in sets.filter_map(|set| Some((set, set.load.as_ref()?))) {
        let Some(Base::Weight(written)) = set.base else { continue };
        if (written.kg() - load.total.kg()).abs() > AS_WRITTEN_KG {
            let (written, bar, made) =
                (written.show(gym.unit), load.bar.show(gym.unit), load.total.show(gym.unit));
            let note =
                format!("{written} cannot be made on a bar of {bar} with the gym's plates: {made} it is");
            if !notes.contains(&note) {
                notes.push(note);
            }
        }
    }
    let strength = &part.strength;
    if let (Some((week, of)), true) = (strength.week, strength.reps.is_empty() && strength.percent.is_empty())
    {
        let name = works(&part.tree)
            .first()
            .map_or("this lift".to_owned(), |work| catalogue.name(&work.movement).to_lowercase());
        let of = of.map_or(String::new(), |of| format!(" of {of}"));
        notes.push(format!(
            "Week {week}{of} of what? The gym has no cycle for {name}: write its weeks on Gym, or the sets into the text"
        ));
    }
    notes
}

/// A sheet with where to begin, for who has no max on file of what is `done` with one bar: by what they are least likely to lift.
fn begun(sheet: LiftSheet, done: &[&Movement], member: &Member, world: &World<'_>) -> LiftSheet {
    let World { gym, catalogue, .. } = *world;
    if sheet.max.is_some() || !gym.infer_maxes {
        return sheet;
    }
    let athlete = Athlete::new(member);
    let usual = |lift: &&&Movement| athlete.usual_max(lift, catalogue);
    let weighed = done.iter().filter(|lift| lift.takes_weight());
    let least = weighed.filter_map(|lift| Some((usual(&lift)?, *lift))).min_by_key(|(usually, _)| *usually);
    match least {
        Some((usually, lift)) => sheet.begun_at(usually, lift, gym),
        None => sheet,
    }
}

/// A lift's sheet for a member: of the lift itself where they may do it or a coach says so, else of what stands in for it.
fn lift_of(lifting: Lifting<'_>, lift: &Movement, world: &World<'_>) -> LiftSheet {
    let Lifting { member, released, catalogue, .. } = lifting;
    let sheet_of = |own: &Movement| begun(lifting.sheet(lift, own), &[own], member, world);
    if released.is_some() || !Ground::of(member).spares(lift) {
        let sheet = sheet_of(lift);
        let most = sheet.sets.iter().map(|set| set.reps).max().unwrap_or(0);
        let easier = lift_they_can(lift, most, member, world).filter(|_| released.is_none());
        return match easier.and_then(|(id, why)| Some((catalogue.get(&id)?, why))) {
            Some((own, why)) => sheet_of(own).in_place_of(lift, own, &why),
            None => sheet,
        };
    }
    match lift_instead(lift, member, world).and_then(|id| catalogue.get(&id)) {
        Some(own) => sheet_of(own).in_place_of(lift, own, "to keep a limit"),
        None => sheet_of(lift).left_out(),
    }
}

/// Steps that somebody who finds the load by feel is given to climb in.
const STEPS_BY_FEEL: u32 = 3;

/// What decides how long a lift takes the class: the most sets and the longest climb on the sheet of anybody who is here, the fullest rack, the plates moved there.
pub(super) fn lift_time(plan: &StrengthPlan) -> LiftTime {
    let steps = |sheet: &LiftSheet| sheet.sets.iter().filter(|set| set.kind == SetKind::Ramp).count() as u32;
    let on_bars = || plan.sheets_here().filter(|sheet| sheet.on_a_bar);
    let by_feel = on_bars().any(|sheet| sheet.by_feel.is_some());
    let of_sheets = on_bars().map(steps).max().unwrap_or(0);
    let racks = || plan.racks.iter().map(|(_, racks)| racks);
    let fullest = racks().max_by_key(|racks| racks.most_on_one);
    let work = |sheet: &LiftSheet| sheet.sets.iter().filter(|set| set.kind == SetKind::Work).count();
    let sets = on_bars().map(work).max().unwrap_or(0).max(1);
    let reps = |sheet: &LiftSheet| {
        let once: u32 = sheet.elements.iter().map(|(_, reps)| reps).sum();
        let most = sheet.sets.iter().filter(|set| set.kind == SetKind::Work).map(|set| set.reps).max();
        most.map(|most| if once > 0 { once } else { most })
    };
    // Every lifter's turn of every set ends in a change of plates.
    let a_turn = |rack: &Rack| rack.plates_moved.div_ceil((sets * rack.order.len()).max(1) as u32);
    LiftTime {
        part: plan.part,
        sets: plan.sheets_here().map(work).max().unwrap_or(0) as u32,
        reps: plan.sheets_here().filter_map(reps).max().unwrap_or(0),
        ramp_steps: of_sheets.max(if by_feel { STEPS_BY_FEEL } else { 0 }),
        turns: fullest.map_or(1, |racks| racks.most_on_one).max(1),
        plates_a_turn: racks().flat_map(|racks| &racks.racks).map(a_turn).max().unwrap_or(0),
        place: fullest.map_or_else(LiftPlace::default, |racks| racks.place),
    }
}
