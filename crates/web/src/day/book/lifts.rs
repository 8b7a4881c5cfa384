//! Lifts in the book: what was on the bar, and what it shows.

use chrono::NaiveDate;
use lantern_core::book::{Called, Done, Scored, call_among, most_reps, shown_by};
use lantern_core::gym::Gym;
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::strength::cycle::{Ahead, ahead};
use lantern_core::strength::followed::Set;
use lantern_core::strength::{LiftSheet, Record, Source, lift_sheet, to_be_asked};
use lantern_core::units::{Kilograms, plain};
use lantern_store::lifts::{NewLift, StoredLift};
use lantern_store::{LiftId, MemberId};

use super::{Entered, Found, Problem};
use crate::day::planned::Planned;

/// A lift of the day: everybody's sheet of it.
pub(crate) struct LiftOfDay<'a> {
    pub name: String,
    sheets: Vec<&'a LiftSheet>,
    /// The next week of its cycle.
    ahead: Option<Ahead<'a>>,
}

/// The lifts of a day in the order of its text.
pub(crate) fn lifts_of(planned: &Planned) -> Vec<LiftOfDay<'_>> {
    let mut found: Vec<LiftOfDay<'_>> = Vec::new();
    for plan in &planned.plan.strength {
        found.extend(plan.written().into_iter().map(|lift| {
            LiftOfDay {
                name: planned.catalogue.name(&MovementId::new(lift)).to_owned(),
                sheets: plan.sheets_of(lift),
                ahead: ahead(&plan.prescription, &planned.gym.cycles, &planned.catalogue)
                    .filter(|ahead| ahead.cycle.lift == lift),
            }
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
    /// The heaviest that the sheet asks for.
    asked: Option<Set>,
}

impl LiftTold {
    pub fn as_new(&self, day: NaiveDate) -> (MemberId, NewLift<'_>) {
        let Self { member, lift, load, reps, rpe, missed, asked } = self;
        let new = NewLift {
            lift,
            load: *load,
            reps: *reps,
            rpe: *rpe,
            missed: *missed,
            source: Source::ClassResult,
            set_on: day,
            kept: None,
            asked: *asked,
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
                    let asked = Set::heaviest(sheet);
                    Some(LiftTold { member, lift, load, reps, rpe, missed, asked })
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
    /// The week of the cycle that comes next, and what is written for it.
    pub ahead: Option<String>,
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
    /// A better max that nobody has been asked about: the set, and the question.
    pub asks: Option<(LiftId, String)>,
    /// What was said of a set of today: the set, and what follows.
    pub said: Option<(LiftId, &'static str)>,
    /// More repetitions than ever with as much on the bar.
    pub most: Option<String>,
    /// The heaviest set of the cycle's next week, and what it is counted from.
    pub ahead: Option<String>,
}

pub(crate) struct SetView {
    pub told: String,
    pub key: String,
}

impl LiftView {
    pub fn new(planned: &Planned, of_day: &LiftOfDay<'_>, found: &Found, day: NaiveDate) -> Self {
        let Planned { people, ids, gym, catalogue, .. } = planned;
        let Found { lifts: entered, on_record, .. } = found;
        let rows = of_day.sheets.iter().filter_map(|sheet| {
            let place = people.iter().position(|member| member.name == sheet.name)?;
            let id = ids[place];
            let theirs = |(set, _): &&(StoredLift, String)| set.member_id == id && set.lift == sheet.lift;
            let sets: Vec<&(StoredLift, String)> = entered.iter().filter(theirs).collect();
            let theirs = |set: &&StoredLift| set.member_id == id && set.lift == sheet.lift;
            let history: Vec<&StoredLift> = on_record.iter().filter(theirs).collect();
            let lift = MovementId::new(&sheet.lift);
            let own_lift = sheet.instead_of.as_ref().map(|_| catalogue.name(&lift));
            Some(LiftRow {
                id,
                name: sheet.name.clone(),
                own_lift: own_lift.map(str::to_owned),
                planned: heaviest(sheet, gym, catalogue),
                shows: shown(sheet, &sets, gym),
                asks: asked(sheet, &history, gym, day),
                said: sets.iter().find_map(|(set, _)| Some((set.id, said(set.kept?)))),
                most: most(&history, gym, day),
                ahead: of_day.ahead.as_ref().filter(|_| !sets.is_empty()).and_then(|ahead| {
                    let next = lift_sheet(&ahead.part, catalogue.get(&lift)?, &people[place], gym, catalogue);
                    Some(format!(
                        "week {}: {}, {}",
                        ahead.week,
                        heaviest(&next, gym, catalogue),
                        next.max?.basis
                    ))
                }),
                done: sets.into_iter().map(|(set, key)| set_view(set, key, gym)).collect(),
            })
        });
        let ahead = of_day.ahead.as_ref();
        let ahead = ahead.map(|Ahead { cycle, week, line, .. }| {
            format!("{}: week {week} of {} comes next, {line}", cycle.name, cycle.weeks.len())
        });
        Self {
            looks_like: Scored::Load.looks_like(),
            unit: gym.unit.to_string(),
            ahead,
            rows: rows.collect(),
        }
    }
}

fn set_view(set: &StoredLift, key: &str, gym: &Gym) -> SetView {
    let load = Kilograms::from_grams(set.grams.unsigned_abs()).show(gym.unit);
    let rpe = set.rpe.map_or(String::new(), |rpe| format!(" at RPE {}", plain(f64::from(rpe))));
    let missed = if set.missed { ", missed" } else { "" };
    SetView { told: format!("{} x {load}{rpe}{missed}", set.reps), key: key.to_owned() }
}

fn heaviest(sheet: &LiftSheet, gym: &Gym, catalogue: &Catalogue) -> String {
    match Set::heaviest(sheet) {
        Some(Set { reps, load }) => format!("{reps} x {}", load.show(gym.unit)),
        None if sheet.elements.is_empty() => "by feel".to_owned(),
        None => sheet.called(catalogue),
    }
}

/// The best 1RM that today's sets show, with its range, beside what loads are counted from.
fn shown(sheet: &LiftSheet, sets: &[&(StoredLift, String)], gym: &Gym) -> Option<String> {
    let best = shown_by(sets.iter().map(|(set, _)| set.record(set.set_on)), gym.formula)?;
    let [value, low, high] = [best.value, best.low, best.high].map(|load| half(load, gym));
    let shows = format!("shows a 1RM of about {value} ({low} to {high})");
    Some(match &sheet.max {
        Some(max) if (best.value.kg() - max.value.kg()).abs() <= 0.25 => {
            format!("{shows}: loads are counted from it")
        }
        // Sets that were meant to be easy say nothing of a max.
        Some(max) if best.value < max.value => {
            format!("no more than the {} that is known", half(max.value, gym))
        }
        Some(max) => format!("{shows}: loads are counted from {}", half(max.value, gym)),
        None => shows,
    })
}

/// To the half, as maxes are shown.
fn half(load: Kilograms, gym: &Gym) -> String {
    plain((load.in_unit(gym.unit) * 2.0).round() / 2.0)
}

/// The question whether loads are counted from a better max, where there is one.
fn asked(sheet: &LiftSheet, history: &[&StoredLift], gym: &Gym, day: NaiveDate) -> Option<(LiftId, String)> {
    let records: Vec<Record> = history.iter().map(|set| set.record(day)).collect();
    let guess = sheet.max.as_ref().map(|max| max.value);
    let (place, max) = to_be_asked(&records, gym.max_policy, gym.formula, guess)?;
    let counted = match &sheet.max {
        Some(max) => format!("instead of {}", half(max.value, gym)),
        None => "so far they go by feel".to_owned(),
    };
    Some((history[place].id, format!("Count loads from {} {}, {counted}?", half(max, gym), gym.unit)))
}

fn said(kept: bool) -> &'static str {
    if kept { "A coach has had loads counted from it." } else { "A coach has left loads as they were." }
}

/// More repetitions today than ever with as much on the bar.
fn most(history: &[&StoredLift], gym: &Gym, day: NaiveDate) -> Option<String> {
    let (today, earlier): (Vec<&StoredLift>, Vec<_>) =
        history.iter().copied().filter(|set| set.set_on <= day).partition(|set| set.set_on == day);
    let records =
        |sets: Vec<&StoredLift>| sets.into_iter().map(|set| set.record(day)).collect::<Vec<Record>>();
    let most = most_reps(&records(today), &records(earlier))?;
    Some(format!("most repetitions with {}: {}, before {}", most.load.show(gym.unit), most.reps, most.before))
}
