//! Warm-up: what prepares the day, and the coach's changes to it.

use actix_web::{HttpRequest, HttpResponse, get, post, web};
use askama::Template;
use lantern_core::decide::{Decision, WarmupDecision};
use lantern_core::member::Member;
use lantern_core::movement::Catalogue;
use lantern_core::plan::StrengthPlan;
use lantern_core::session::{Part, PartKind, Session};
use lantern_core::warmup::{
    Block, Covered, Edits, Instead, Item, MINUTES, Stage, alternatives, cool_down, coverage, for_limits,
};
use lantern_store::MemberId;
use serde::Deserialize;

use crate::day::planned::{Planned, plan_page, to_read, with_plan};
use crate::day::strip::HourStrip;
use crate::day::{Of, slot_of};
use crate::request::Form;
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::respond::error::AppError;
use crate::respond::filters;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(edit);
}

#[derive(Template)]
#[template(path = "day/warmup/warmup.html", blocks = ["main"])]
pub(crate) struct WarmupPage {
    gym: String,
    day: Slot,
    day_name: String,
    strip: HourStrip,
    seconds: u32,
    minutes: u32,
    blocks: Vec<BlockView>,
    own: bool,
    /// Lines of the coach's own warm-up that are no work: said, but not timed.
    said: Vec<String>,
    /// Lifts and the steps up to their first work set.
    climbs: Vec<(String, u32)>,
    offers: Vec<Item>,
    offered_s: u32,
    gaps: Vec<String>,
    covered: Vec<Covered>,
    instead: Vec<ForOne>,
    after: Vec<(String, String)>,
    changed: bool,
}

struct BlockView {
    name: &'static str,
    /// `3 rounds`, or what else is said beside the name.
    how: String,
    /// Whether it stands right before the piece, where only taking out is for the coach.
    at_piece: bool,
    seconds: u32,
    items: Vec<ItemView>,
}

struct ItemView {
    item: Item,
    /// Ids and names of what could stand in its place, best first.
    others: Vec<(String, String)>,
}

/// `GET /days/{day}/warmup`
#[get("/days/{day}/warmup")]
async fn show(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    plan_page(&tenant, &request, day, move |planned| page(planned, day)).await
}

pub(crate) fn page(planned: &Planned, day: Slot) -> WarmupPage {
    let Planned { people, ids, decisions, gym, catalogue, plan, .. } = planned;
    let edits = &decisions.warmup;
    let (session, warmup) = (&plan.session, &plan.warmup);
    let item = |item: &Item| ItemView {
        others: alternatives(session, warmup, &item.id, edits, catalogue)
            .into_iter()
            .map(|other| (other.id.clone(), other.name.clone()))
            .collect(),
        item: item.clone(),
    };
    let block = |block: &Block| BlockView {
        name: block.phase.name(),
        how: how_done(block),
        at_piece: block.phase == Stage::Climb,
        seconds: block.items.iter().map(|item| item.seconds).sum(),
        items: block.items.iter().map(item).collect(),
    };
    WarmupPage {
        gym: gym.name.clone(),
        day,
        day_name: day.name(gym.clock),
        strip: HourStrip::of(planned, day),
        seconds: warmup.seconds,
        minutes: edits.minutes.unwrap_or((warmup.seconds + 30) / 60),
        blocks: warmup.blocks.iter().chain(&warmup.specific).map(block).collect(),
        own: warmup.is_own(),
        said: said_beside(&planned.reading.session),
        climbs: plan.strength.iter().filter_map(|lift| climb_of(lift, catalogue)).collect(),
        offered_s: warmup.offers.iter().map(|item| item.seconds).sum(),
        offers: warmup.offers.clone(),
        gaps: warmup.gaps.clone(),
        covered: coverage(session, warmup, catalogue),
        instead: by_person(for_limits(session, warmup, people, catalogue), people, ids),
        after: cool_down(session, warmup, catalogue)
            .into_iter()
            .map(|item| (item.name.clone(), item.dose.clone()))
            .collect(),
        changed: *edits != Edits::default(),
    }
}

/// What the text says within its warm-up that is no work.
fn said_beside(session: &Session) -> Vec<String> {
    let own = |part: &&Part| part.kind == PartKind::Warmup;
    let lines: Vec<(usize, usize)> = session.parts.iter().filter(own).map(|part| part.lines).collect();
    let within = |line: usize| lines.iter().any(|(first, last)| (*first..=*last).contains(&line));
    session.notes.iter().filter(|note| within(note.line)).map(|note| note.text.clone()).collect()
}

/// A lift with its steps up to the first work set.
fn climb_of(lift: &StrengthPlan, catalogue: &Catalogue) -> Option<(String, u32)> {
    let steps = lift.ramp_steps();
    let called = lift.sheets.first()?.called(catalogue);
    (steps > 0).then_some((called, steps))
}

/// Rounds, and how people begin.
fn how_done(block: &Block) -> String {
    let rounds = (block.rounds > 1).then(|| format!("{} rounds", block.rounds));
    let rotates = block.rotates.then(|| "begin at different moves".to_owned());
    rounds.into_iter().chain(rotates).collect::<Vec<_>>().join(", ")
}

/// What one person does otherwise, each thing once with all that it stands for.
struct ForOne {
    name: String,
    id: MemberId,
    does: Vec<(String, String)>,
}

fn by_person(rows: Vec<Instead>, people: &[Member], ids: &[MemberId]) -> Vec<ForOne> {
    let mut found: Vec<ForOne> = Vec::new();
    for row in rows {
        let Some(place) = people.iter().position(|member| member.name == row.member) else { continue };
        let at = found.iter().position(|known| known.id == ids[place]).unwrap_or_else(|| {
            found.push(ForOne { name: row.member.clone(), id: ids[place], does: Vec::new() });
            found.len() - 1
        });
        let item = row.item.to_lowercase();
        match found[at].does.iter_mut().find(|(instead, _)| *instead == row.instead) {
            Some((_, items)) => *items = format!("{items}; {item}"),
            None => found[at].does.push((row.instead, item)),
        }
    }
    found
}

/// A change, as a button or field sends it.
#[derive(Deserialize)]
struct Change {
    action: String,
    #[serde(default)]
    id: String,
    #[serde(default)]
    value: String,
}

/// `POST /days/{day}/warmup`: one change; everything else is rebuilt around it.
#[post("/days/{day}/warmup")]
async fn edit(tenant: Tenant, path: web::Path<String>, form: Form<Change>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let Change { action, id, value } = form.0;
    let Some((edits, warmup)) =
        with_plan(&tenant, day, |planned| (planned.decisions.warmup.clone(), planned.plan.warmup.clone()))
            .await?
    else {
        return Ok(to_read(day));
    };
    let own = id.clone();
    if action == "fill" {
        let take = |item: &Item| Decision::Warmup(WarmupDecision::Keep { id: item.id.clone() });
        let taken: Vec<Decision> =
            warmup.offers.iter().filter(|item| id.is_empty() || item.id == id).map(take).collect();
        let did = crate::day::decide(&tenant, day, &taken, &Of::default()).await?;
        return Ok(did.said_at(format_args!("/days/{day}/warmup"), ""));
    }
    let decision = match action.as_str() {
        "lock" if edits.locked.contains(&id) => Some(WarmupDecision::LetGo { id: own }),
        "lock" => Some(WarmupDecision::Keep { id: own }),
        "up" | "down" => Edits::neighbour(&warmup, &id, action == "down")
            .map(|(other, seen)| WarmupDecision::Exchange { id: own, other, seen }),
        "swap" => Some(WarmupDecision::Swap { id: own, to: value.clone() }),
        "refuse" => Some(WarmupDecision::Refuse { id: own }),
        "dose" => Some(WarmupDecision::Dose { id: own, dose: value.clone() }),
        "minutes" => {
            let wrong = || {
                let expected = format!("from {} to {}", MINUTES.start(), MINUTES.end());
                AppError::field("minutes", &value, &expected)
            };
            Some(WarmupDecision::Minutes { minutes: value.trim().parse().map_err(|_| wrong())? })
        }
        "reset" => Some(WarmupDecision::Stand { edits: Edits::default() }),
        other => return Err(AppError::field("action", other, "a change")),
    };
    let decision: Vec<Decision> = decision.into_iter().map(Decision::Warmup).collect();
    let did = crate::day::decide(&tenant, day, &decision, &Of::default()).await?;
    Ok(did.said_at(format_args!("/days/{day}/warmup"), if action == "swap" { &value } else { &id }))
}
