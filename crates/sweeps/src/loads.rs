//! Load sheets and warm-ups of every text for everybody of every class: nothing that somebody spares is asked of them.

use std::fmt;
use std::sync::Arc;

use lantern_core::gym::Gym;
use lantern_core::limits::{Limit, Strictest};
use lantern_core::member::Member;
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::plan::{Plan, StrengthPlan};
use lantern_core::session::Format;
use lantern_core::strength::{Base, LiftSheet, SetKind, max_for};
use lantern_core::units::Kilograms;
use lantern_core::warmup::{cool_down, for_limits, standard_items};
use rayon::prelude::*;

use crate::fixtures::Fixture;
use crate::rosters::{Roster, days, planned};

/// What was looked at, and what was broken.
#[derive(Default)]
pub struct Seen {
    /// Sheets of a lift for one person.
    pub sheets: usize,
    /// Of them for who has a limit.
    pub of_limited: usize,
    /// Of those another lift than the one written.
    pub instead: usize,
    /// Of those nothing at all.
    pub left_out: usize,
    /// Items of a warm-up that one person does otherwise.
    pub items: usize,
    /// What breaks a limit, by whom and where.
    pub broken: Vec<String>,
}

impl fmt::Display for Seen {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        writeln!(
            f,
            "{} sheets, {} for who has a limit: another lift in {}, nothing in {}; {} items of warm-ups done otherwise",
            self.sheets, self.of_limited, self.instead, self.left_out, self.items
        )?;
        write!(f, "limits broken: {}", self.broken.len())
    }
}

/// Every text for every class.
pub fn sweep(fixtures: &[Fixture], rosters: &[Roster]) -> Seen {
    let catalogue = Catalogue::standard();
    let look = |(fixture, roster): (&Fixture, &Roster)| {
        let (plan, members) = (planned(fixture, roster), &roster.members);
        let mut seen = Seen::default();
        for lift in &plan.strength {
            for sheet in &lift.sheets {
                let person = members.iter().find(|member| member.name == sheet.name);
                let look =
                    |person: &Member| look_at(sheet, lift, person, &fixture.name, catalogue, &mut seen);
                person.into_iter().for_each(look);
            }
        }
        warmups(fixture, members, &plan, catalogue, &mut seen);
        seen
    };
    days(fixtures, rosters).into_par_iter().map(look).reduce(Seen::default, |mut all, mut one| {
        all.sheets += one.sheets;
        all.of_limited += one.of_limited;
        all.instead += one.instead;
        all.left_out += one.left_out;
        all.items += one.items;
        all.broken.append(&mut one.broken);
        all
    })
}

fn spares(person: &Member, id: &MovementId, catalogue: &Catalogue) -> bool {
    let movement = catalogue.get(id);
    movement.is_some_and(|movement| person.limits.iter().any(|limit| limit.spares(movement)))
}

/// Above this share of a maximum nothing is asked for, unless the text tests, builds or writes a weight: one step of plates.
const MOST_PERCENT: f64 = 101.5;
/// Share of a maximum above which nobody works who strains for nothing or is sore where the lift loads them.
const HELD_PERCENT: f64 = 80.0;
/// Stress from which a lift has to do with a sore joint.
const HAS_TO_DO_WITH: f64 = 0.25;

fn look_at(
    sheet: &LiftSheet,
    plan: &StrengthPlan,
    person: &Member,
    text: &str,
    catalogue: &Catalogue,
    seen: &mut Seen,
) {
    seen.sheets += 1;
    let mut broken = Vec::new();
    of_everybody(sheet, plan, &mut broken);
    if person.limits.iter().any(|limit| !limit.is_nothing()) {
        seen.of_limited += 1;
        seen.instead += usize::from(sheet.instead_of.is_some());
        seen.left_out += usize::from(sheet.sets.is_empty());
        of_limits(sheet, plan, person, catalogue, &mut broken);
    }
    seen.broken
        .extend(broken.into_iter().map(|what| format!("{text}: {}: {}: {what}", person.name, sheet.lift)));
}

/// What holds of every sheet: shares, climbs, and what the gym's plates make.
fn of_everybody(sheet: &LiftSheet, plan: &StrengthPlan, broken: &mut Vec<String>) {
    let gym = Gym::default();
    let prescription = &plan.prescription;
    let asks_more = prescription.strength.percent.iter().flatten().any(|percent| *percent > 100.0);
    let work = || sheet.sets.iter().filter(|set| set.kind == SetKind::Work);
    for set in work() {
        let exempt = matches!(set.base, Some(Base::Weight(_) | Base::Build(_))) || asks_more;
        let known = sheet.max.as_ref().is_some_and(|max| !max.guess && !max.stale);
        if known && !exempt && set.percent.is_some_and(|percent| percent > MOST_PERCENT) && sheet.on_a_bar {
            broken.push(format!("{:?} % of what is on file, {:?}", set.percent, set.base));
        }
    }
    let climb: Vec<Kilograms> = sheet
        .sets
        .iter()
        .filter(|set| set.kind == SetKind::Ramp)
        .filter_map(|set| Some(set.load.as_ref()?.total))
        .collect();
    if !climb.windows(2).all(|pair| pair[0] < pair[1]) {
        broken.push(format!("the climb does not rise: {climb:?}"));
    }
    let first = work().find_map(|set| set.load.as_ref()).map(|load| load.total);
    if climb.last().zip(first).is_some_and(|(last, first)| *last >= first) {
        broken.push(format!("the climb ends at {climb:?}, the work begins at {first:?}"));
    }
    for load in sheet.sets.iter().filter_map(|set| set.load.as_ref()).filter(|_| sheet.on_a_bar) {
        let plates: f64 = load.plates_per_side.iter().sum::<f64>() * 2.0;
        let owned = |plate: &f64| {
            let wanted = load.plates_per_side.iter().filter(|other| *other == plate).count() as u32;
            gym.plates.iter().any(|own| own.weight == *plate && own.count / 2 >= wanted)
        };
        let bar = gym.bars.iter().any(|bar| bar.weight == load.bar.kg());
        let adds_up = (load.bar.kg() + plates - load.total.kg()).abs() < 0.01;
        if !bar || !adds_up || !load.plates_per_side.iter().all(owned) {
            broken.push(format!("no bar makes {load:?}"));
        }
    }
}

/// What holds of who has a limit: nothing that is spared, nothing above a ceiling, no tests and no more than four fifths
/// where the words forbid straining or a joint that the lift loads is sore.
fn of_limits(
    sheet: &LiftSheet,
    plan: &StrengthPlan,
    person: &Member,
    catalogue: &Catalogue,
    broken: &mut Vec<String>,
) {
    let lift = MovementId::new(&sheet.lift);
    if !sheet.sets.is_empty() && spares(person, &lift, catalogue) {
        broken.push("it is spared".to_owned());
    }
    let Some(movement) = catalogue.get(&lift) else { return };
    let ceiling = Strictest::of(&person.limits, movement);
    let has_to_do = |limit: &Limit| {
        let strains = limit.forbids().any(|what| what == "straining" || what == "maximal_effort");
        let sore = limit.reasons().any(|reason| movement.joint(reason) >= HAS_TO_DO_WITH);
        !limit.is_nothing() && (limit.is_unread() || strains || limit.effort().is_some() || sore)
    };
    let held = person.limits.iter().any(has_to_do);
    let held_at =
        ceiling.percent.unwrap_or(f64::INFINITY).min(if held { HELD_PERCENT } else { f64::INFINITY });
    for set in &sheet.sets {
        let loads = set.load.as_ref().map(|load| load.total);
        if loads.zip(ceiling.load).is_some_and(|(load, most)| load > most) {
            broken.push("above the kilograms of the words".to_owned());
        }
        if set.range.zip(ceiling.load).is_some_and(|((_, high), most)| high > most) {
            broken.push("told to begin above the kilograms of the words".to_owned());
        }
        let lightest = set.load.as_ref().is_some_and(|load| load.total == load.bar);
        // The shares of a complex are of its weakest element, a ceiling is of the lift that it names.
        let of_lift = max_for(person, &lift, catalogue)
            .and_then(|max| Some(set.load.as_ref()?.total.kg() / max.value.kg() * 100.0));
        let percent = if sheet.elements.is_empty() { set.percent } else { of_lift };
        if !lightest && percent.is_some_and(|percent| percent.round() > held_at.round()) {
            broken.push(format!("at {percent:?} %, held at {held_at}"));
        }
        let test =
            plan.prescription.format == Some(Format::BuildTo) || plan.prescription.strength.rm.is_some();
        if held && test && set.kind == SetKind::Work && set.reps < 3 {
            broken.push(format!("a test of {} for who does none", set.reps));
        }
    }
}

/// What the warm-up asks that somebody spares has something in its place, and that is not spared.
fn warmups(fixture: &Fixture, members: &[Member], plan: &Plan, catalogue: &Catalogue, seen: &mut Seen) {
    let instead = for_limits(&fixture.session, &plan.warmup, members, catalogue);
    seen.items += instead.len();
    let planned = plan.warmup.items().map(|item| Arc::clone(&item.of));
    let items: Vec<_> = planned.chain(cool_down(&fixture.session, &plan.warmup, catalogue)).collect();
    let asked: Vec<(&str, &MovementId)> =
        items.iter().flat_map(|item| item.like.iter().map(|id| (item.name.as_str(), id))).collect();
    for person in members.iter().filter(|person| !person.limits.is_empty()) {
        let told = |name: &str| instead.iter().find(|row| row.member == person.name && row.item == name);
        for (name, id) in &asked {
            if !spares(person, id, catalogue) {
                continue;
            }
            let given = told(name).map(|row| row.instead.as_str());
            let again = |given: &str| {
                let given = given.rsplit_once(", ").map_or(given, |(name, _)| name);
                let item = standard_items().iter().find(|item| item.name.to_lowercase() == given);
                item.is_some_and(|item| item.like.iter().any(|id| spares(person, id, catalogue)))
            };
            if given.is_none_or(again) {
                seen.broken.push(format!("{}: {}: {name}: {given:?}", fixture.name, person.name));
            }
        }
    }
}
