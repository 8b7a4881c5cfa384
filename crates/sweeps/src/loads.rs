//! Load sheets and warm-ups of every text for everybody of every class: nothing that somebody spares is asked of them.

use std::fmt;

use lantern_core::limits::Strictest;
use lantern_core::member::Member;
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::plan::Plan;
use lantern_core::session::{PartKind, works};
use lantern_core::strength::{HELD_AT, LiftSheet};
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
        for sheet in plan.strength.iter().flat_map(|lift| &lift.sheets) {
            let person = members.iter().find(|member| member.name == sheet.name);
            person.into_iter().for_each(|person| look_at(sheet, person, &fixture.name, catalogue, &mut seen));
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

fn look_at(sheet: &LiftSheet, person: &Member, text: &str, catalogue: &Catalogue, seen: &mut Seen) {
    seen.sheets += 1;
    if person.limits.iter().all(|limit| limit.is_nothing()) {
        return;
    }
    seen.of_limited += 1;
    seen.instead += usize::from(sheet.instead_of.is_some());
    seen.left_out += usize::from(sheet.sets.is_empty());
    let lift = MovementId::new(&sheet.lift);
    let mut broken = |what: String| seen.broken.push(format!("{text}: {}: {what}", person.name));
    if !sheet.sets.is_empty() && spares(person, &lift, catalogue) {
        broken(format!("{lift} is spared"));
    }
    let Some(movement) = catalogue.get(&lift) else { return };
    let ceiling = Strictest::of(&person.limits, movement);
    let held_at = ceiling.percent.unwrap_or(HELD_AT).min(HELD_AT);
    for set in &sheet.sets {
        let loads = set.load.as_ref().map(|load| load.total);
        if loads.zip(ceiling.load).is_some_and(|(load, most)| load > most) {
            broken(format!("{lift} above the kilograms of the words"));
        }
        if set.range.zip(ceiling.load).is_some_and(|((_, high), most)| high > most) {
            broken(format!("{lift}: told to begin above the kilograms of the words"));
        }
        let lightest = set.load.as_ref().is_some_and(|load| load.total == load.bar);
        if !lightest && set.percent.is_some_and(|percent| percent.round() > held_at.round()) {
            broken(format!("{lift} at {:?} %, held at {held_at}", set.percent));
        }
    }
}

/// What the warm-up asks that somebody spares has something in its place, and that is not spared.
fn warmups(fixture: &Fixture, members: &[Member], plan: &Plan, catalogue: &Catalogue, seen: &mut Seen) {
    let instead = for_limits(&fixture.session, &plan.warmup, members, catalogue);
    seen.items += instead.len();
    let blocks = plan.warmup.blocks.iter().chain(&plan.warmup.specific);
    let after = cool_down(&fixture.session, &plan.warmup, catalogue);
    let after = after.iter().map(|item| item.id.as_str());
    let ids: Vec<&str> =
        blocks.flat_map(|block| &block.items).map(|item| item.id.as_str()).chain(after).collect();
    let items = standard_items().iter().filter(|item| ids.contains(&item.id.as_str()));
    let mut asked: Vec<(&str, &MovementId)> =
        items.flat_map(|item| item.like.iter().map(|id| (item.name.as_str(), id))).collect();
    let own = fixture.session.parts.iter().filter(|part| part.kind == PartKind::Warmup);
    let own: Vec<_> = own.flat_map(|part| works(&part.tree)).collect();
    asked.extend(own.iter().map(|work| (catalogue.name(&work.movement), &work.movement)));
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
