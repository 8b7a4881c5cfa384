//! Warm-up: what prepares the day, and the coach's changes to it.

use actix_web::{HttpResponse, get, post, web};
use askama::Template;
use lantern_core::warmup::{
    Block, Covered, Edits, Instead, Item, MINUTES, alternatives, cool_down, coverage, for_limits,
};
use lantern_store::warmups;
use serde::Deserialize;

use super::planned::{Planned, to_read, with_plan};
use super::{gym, slot_of};
use crate::State;
use crate::error::{AppError, html};
use crate::filters;
use crate::slot::Slot;
use crate::view::strip::HourStrip;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(edit);
}

#[derive(Template)]
#[template(path = "warmup.html")]
struct WarmupPage {
    gym: String,
    day: Slot,
    day_name: String,
    strip: HourStrip,
    seconds: u32,
    minutes: u32,
    blocks: Vec<BlockView>,
    specific: Vec<ItemView>,
    gaps: Vec<String>,
    covered: Vec<Covered>,
    instead: Vec<Instead>,
    after: Vec<(String, String)>,
    changed: bool,
}

struct BlockView {
    name: &'static str,
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
async fn show(state: web::Data<State>, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let page = with_plan(&state, day, move |planned| page(planned, day)).await?;
    page.map_or_else(|| Ok(to_read(day)), |page| html(&page))
}

fn page(planned: &Planned, day: Slot) -> WarmupPage {
    let Planned { reading, people, decisions, gym, catalogue, plan, .. } = planned;
    let edits = &decisions.warmup;
    let (session, warmup) = (&reading.session, &plan.warmup);
    let item = |item: &Item| ItemView {
        others: alternatives(session, warmup, &item.id, edits, catalogue)
            .into_iter()
            .map(|other| (other.id.clone(), other.name.clone()))
            .collect(),
        item: item.clone(),
    };
    let block = |block: &Block| BlockView {
        name: block.phase.name(),
        seconds: block.items.iter().map(|item| item.seconds).sum(),
        items: block.items.iter().map(item).collect(),
    };
    WarmupPage {
        gym: gym.name.clone(),
        day,
        day_name: day.name(),
        strip: HourStrip::new(&plan.hour, day),
        seconds: warmup.seconds,
        minutes: edits.minutes.unwrap_or((warmup.seconds + 30) / 60),
        blocks: warmup.blocks.iter().map(block).collect(),
        specific: warmup.specific.iter().flat_map(|block| &block.items).map(item).collect(),
        gaps: warmup.gaps.clone(),
        covered: coverage(session, warmup, catalogue),
        instead: for_limits(warmup, people),
        after: cool_down(session, catalogue)
            .into_iter()
            .map(|item| (item.name.clone(), item.dose.clone()))
            .collect(),
        changed: *edits != Edits::default(),
    }
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
async fn edit(
    state: web::Data<State>,
    path: web::Path<String>,
    form: web::Form<Change>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let Change { action, id, value } = form.into_inner();
    let Some((mut edits, warmup)) =
        with_plan(&state, day, |planned| (planned.decisions.warmup.clone(), planned.plan.warmup.clone()))
            .await?
    else {
        return Ok(to_read(day));
    };
    match action.as_str() {
        "lock" => edits.toggle_lock(&id),
        "up" => edits.shift(&warmup, &id, false),
        "down" => edits.shift(&warmup, &id, true),
        "swap" => edits.swap(&id, &value),
        "refuse" => edits.refuse(&id),
        "dose" => edits.dose(&id, &value),
        "minutes" => {
            let minutes = value.trim().parse().ok().filter(|minutes| MINUTES.contains(minutes));
            let wrong = || {
                AppError::Malformed(format!(
                    "the field `minutes` is `{value}`, but it should be from {} to {}",
                    MINUTES.start(),
                    MINUTES.end()
                ))
            };
            edits.minutes = Some(minutes.ok_or_else(wrong)?);
        }
        "reset" => edits = Edits::default(),
        other => {
            return Err(AppError::Malformed(format!("the field `action` is `{other}`, which is no change")));
        }
    }
    let (gym_id, _) = gym(&state).await?;
    warmups::put(&state.store, gym_id, day.day, &edits).await?;
    let to = format!("/days/{day}/warmup#{}", if action == "swap" { &value } else { &id });
    Ok(HttpResponse::SeeOther().insert_header(("Location", to)).finish())
}
