//! Lifts in the book: what was on the bar, and what it shows.

use chrono::NaiveDate;
use lantern_core::book::{Called, Done, Scored, call_among, shown_by};
use lantern_core::gym::Gym;
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::strength::{LiftSheet, SetKind, Source};
use lantern_core::units::{Kilograms, plain};
use lantern_store::MemberId;
use lantern_store::lifts::{NewLift, StoredLift};

use super::{Entered, Problem};
use crate::day::planned::Planned;

/// A lift of the day: everybody's sheet of it.
pub(crate) struct LiftOfDay<'a> {
    pub name: String,
    sheets: Vec<&'a LiftSheet>,
}

/// The lifts of a day in the order of its text.
pub(crate) fn lifts_of(planned: &Planned) -> Vec<LiftOfDay<'_>> {
    let mut found: Vec<LiftOfDay<'_>> = Vec::new();
    for plan in &planned.plan.strength {
        let mut written: Vec<&str> = Vec::new();
        for sheet in &plan.sheets {
            if !written.contains(&sheet.written()) {
                written.push(sheet.written());
            }
        }
        found.extend(written.into_iter().map(|lift| LiftOfDay {
            name: planned.catalogue.name(&MovementId::new(lift)).to_owned(),
            sheets: plan.sheets.iter().filter(|sheet| sheet.written() == lift).collect(),
        }));
    }
    found
}

/// A set that was heard: whose, of which lift, and what.
pub(crate) struct LiftTold {
    member: MemberId,
    lift: String,
    load: Kilograms,
    reps: u32,
    rpe: Option<f64>,
    missed: bool,
}

impl LiftTold {
    pub fn as_new(&self, day: NaiveDate) -> (MemberId, NewLift<'_>) {
        let Self { member, lift, load, reps, rpe, missed } = self;
        let new = NewLift {
            lift,
            load: *load,
            reps: *reps,
            rpe: *rpe,
            missed: *missed,
            source: Source::ClassResult,
            set_on: day,
        };
        (*member, new)
    }
}

/// What of the lines is kept, what is asked or refused, and the lines that are left to be put right.
pub(crate) fn heard(
    planned: &Planned,
    entered: &Entered,
    lift: usize,
) -> (Vec<LiftTold>, Vec<Problem>, String) {
    let lifts = lifts_of(planned);
    let Some(lift) = lifts.get(lift) else {
        let why = "that lift stands in the text no longer; look at the day again".to_owned();
        return (Vec::new(), vec![Problem { why, offers: Vec::new() }], entered.text.clone());
    };
    let names: Vec<&str> = lift.sheets.iter().map(|sheet| sheet.name.as_str()).collect();
    let (mut told, mut problems, mut left) = (Vec::new(), Vec::new(), Vec::new());
    for line in entered.lines() {
        match call_among(line, &names, |_| Scored::Load, entered.sure.is_some()) {
            Called::Kept { who, done: Done::Load { reps, load, rpe, missed, .. }, .. } => {
                let sheets = who.into_iter().map(|who| lift.sheets[who]);
                told.extend(sheets.filter_map(|sheet| {
                    let place = planned.people.iter().position(|member| member.name == sheet.name)?;
                    let (member, lift) = (planned.ids[place], sheet.lift.clone());
                    let load = Kilograms::from_unit(load, planned.gym.unit);
                    Some(LiftTold { member, lift, load, reps, rpe, missed })
                }));
            }
            // Who stopped has lifted nothing that counts.
            Called::Kept { .. } => {}
            Called::Asked { why, offers } => problems.push(Problem { why, offers }),
            Called::Refused(why) => {
                left.push(line);
                problems.push(Problem { why, offers: Vec::new() });
            }
        }
    }
    left.extend(entered.too_many(&mut problems));
    (told, problems, left.join("\n"))
}

pub(crate) struct LiftView {
    pub looks_like: &'static str,
    pub unit: String,
    pub rows: Vec<LiftRow>,
}

pub(crate) struct LiftRow {
    pub id: MemberId,
    pub name: String,
    /// Another lift in its place.
    pub own_lift: Option<String>,
    /// `5 x 82.5 kg`, the heaviest work set that is planned.
    pub planned: String,
    pub done: Vec<SetView>,
    /// What the best of today shows, beside what loads are counted from.
    pub shows: Option<String>,
}

pub(crate) struct SetView {
    pub told: String,
    pub key: String,
}

impl LiftView {
    pub fn new(planned: &Planned, lift: &LiftOfDay<'_>, entered: &[(StoredLift, String)]) -> Self {
        let Planned { people, ids, gym, catalogue, .. } = planned;
        let rows = lift.sheets.iter().filter_map(|sheet| {
            let id = ids[people.iter().position(|member| member.name == sheet.name)?];
            let theirs = |(set, _): &&(StoredLift, String)| set.member_id == id && set.lift == sheet.lift;
            let sets: Vec<&(StoredLift, String)> = entered.iter().filter(theirs).collect();
            let lift = MovementId::new(&sheet.lift);
            let own_lift = sheet.instead_of.as_ref().map(|_| catalogue.name(&lift));
            Some(LiftRow {
                id,
                name: sheet.name.clone(),
                own_lift: own_lift.map(str::to_owned),
                planned: heaviest(sheet, gym, catalogue),
                shows: shown(sheet, &sets, gym),
                done: sets.into_iter().map(|(set, key)| set_view(set, key, gym)).collect(),
            })
        });
        Self { looks_like: Scored::Load.looks_like(), unit: gym.unit.to_string(), rows: rows.collect() }
    }
}

fn set_view(set: &StoredLift, key: &str, gym: &Gym) -> SetView {
    let load = Kilograms::from_grams(set.grams.unsigned_abs()).show(gym.unit);
    let rpe = set.rpe.map_or(String::new(), |rpe| format!(" at RPE {}", plain(f64::from(rpe))));
    let missed = if set.missed { ", missed" } else { "" };
    SetView { told: format!("{} x {load}{rpe}{missed}", set.reps), key: key.to_owned() }
}

fn heaviest(sheet: &LiftSheet, gym: &Gym, catalogue: &Catalogue) -> String {
    let work = sheet.sets.iter().filter(|set| set.kind == SetKind::Work);
    let loaded = work.filter_map(|set| Some((set.reps, set.load.as_ref()?.total)));
    match loaded.max_by(|a, b| a.1.kg().total_cmp(&b.1.kg())) {
        Some((reps, load)) => format!("{reps} x {}", load.show(gym.unit)),
        None if sheet.elements.is_empty() => "by feel".to_owned(),
        None => sheet.called(catalogue),
    }
}

/// The best 1RM that today's sets show, with its range, beside what loads are counted from with it on record.
fn shown(sheet: &LiftSheet, sets: &[&(StoredLift, String)], gym: &Gym) -> Option<String> {
    let best = shown_by(sets.iter().map(|(set, _)| set.record(set.set_on)), gym.formula)?;
    let show = |load: Kilograms| plain((load.in_unit(gym.unit) * 2.0).round() / 2.0);
    let shows =
        format!("shows a 1RM of about {} ({} to {})", show(best.value), show(best.low), show(best.high));
    Some(match &sheet.max {
        Some(max) if (best.value.kg() - max.value.kg()).abs() <= 0.25 => {
            format!("{shows}: loads are counted from it now")
        }
        Some(max) => format!("{shows}: loads are counted from {}", show(max.value)),
        None => shows,
    })
}
