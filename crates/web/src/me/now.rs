//! The class on one's own phone: what I lift, what I do, where I should be next, by the clock of the class.

use std::sync::Arc;

use actix_web::{HttpResponse, Responder, get};
use askama::Template;
use chrono::Utc;
use lantern_core::strength::{Record, sets_now};
use lantern_store::lifts::{self, StoredLift};
use lantern_store::{classes, clock};
use serde::Serialize;

use super::{STILL, own_id};
use crate::day::handouts::cards::{Card, card};
use crate::day::planned::{Planned, with_plan};
use crate::floor::hub::Audience;
use crate::floor::{class_shown, follow, within_a_page};
use crate::request::slot::Slot;
use crate::request::tenant::{AnyRole, Tenant};
use crate::respond::error::{AppError, html};
use crate::respond::filters;
use crate::respond::redirect::see_other;

#[derive(Template)]
#[template(path = "me/now.html")]
struct NowPage {
    gym: String,
    day_name: String,
    card: Card,
    /// What the page's script begins with: the class, and what of it is one's own.
    shown: Arc<str>,
    own: String,
}

/// What of a class is one's own.
#[derive(Serialize)]
struct Own {
    lifts: Vec<OwnLift>,
    pieces: Vec<OwnPiece>,
}

#[derive(Serialize)]
struct OwnLift {
    part: usize,
    /// What goes on the bar in each work set: `5 x 82.5`.
    sets: Vec<String>,
    /// Why those that are left are others than planned.
    why: Option<String>,
}

#[derive(Serialize)]
struct OwnPiece {
    part: usize,
    /// Seconds after the first start.
    start_s: u32,
    /// Seconds from one's own start, and where one should be then.
    checkpoints: Vec<(u32, String)>,
    /// Set breaks, the opening, what to hold.
    advice: Vec<String>,
    behind: Vec<String>,
}

impl Own {
    fn of(planned: &Planned, place: usize, done: &[StoredLift]) -> Self {
        let Planned { plan, gym, people, .. } = planned;
        let sheets = plan.strength.iter().flat_map(|lift| lift.sheets.iter().map(|sheet| (lift.part, sheet)));
        let lifts = sheets.filter(|(_, sheet)| sheet.name == people[place].name).map(|(part, sheet)| {
            let of_lift = done.iter().filter(|set| set.lift == sheet.lift);
            let done: Vec<Record> = of_lift.map(|set| set.record(set.set_on)).collect();
            let (sets, why) = sets_now(sheet, &done, gym);
            OwnLift { part, sets, why }
        });
        let pieces = plan.pieces.iter().map(|piece| {
            let targets = &piece.members[place].targets;
            let floor = plan.floors.iter().find(|floor| floor.part == piece.part);
            OwnPiece {
                part: piece.part,
                start_s: floor
                    .and_then(|floor| floor.floor.starts.get(place))
                    .map_or(0, |start| start.offset_s),
                checkpoints: targets
                    .checkpoints
                    .iter()
                    .map(|point| (point.at_s, point.text.clone()))
                    .collect(),
                advice: targets.advice.clone(),
                behind: targets.behind.clone(),
            }
        });
        Self { lifts: lifts.collect(), pieces: pieces.collect() }
    }
}

/// The class that is on now or comes next.
async fn own_class(tenant: &Tenant<AnyRole>) -> Result<Option<Slot>, AppError> {
    let id = own_id(tenant)?;
    let booked = classes::of_member(&mut tenant.look().await?, id).await?;
    let next = booked
        .into_iter()
        .find(|(day, starts)| clock::moment(&tenant.gym, *day, *starts) + STILL > Utc::now());
    Ok(next.map(|(day, starts)| Slot { day, starts: Some(starts) }))
}

async fn own(tenant: &Tenant<AnyRole>, slot: Slot) -> Result<Option<(Card, String)>, AppError> {
    let id = own_id(tenant)?;
    let sets = lifts::entered_on(&mut tenant.look().await?, slot.day).await?;
    let done: Vec<StoredLift> =
        sets.into_iter().map(|(set, _)| set).filter(|set| set.member_id == id).collect();
    let made = with_plan(tenant, slot, move |planned| {
        let place = planned.ids.iter().position(|known| *known == id)?;
        Some((card(planned, place), serde_json::to_string(&Own::of(planned, place, &done))))
    });
    let Some((card, own)) = made.await?.flatten() else { return Ok(None) };
    Ok(Some((card, own.map_err(|error| AppError::Inside(error.to_string()))?)))
}

/// `GET /me/now`
#[get("/me/now")]
pub(super) async fn now(tenant: Tenant<AnyRole>) -> Result<HttpResponse, AppError> {
    let Some(slot) = own_class(&tenant).await? else { return Ok(see_other("/me")) };
    let Some((card, own)) = own(&tenant, slot).await? else { return Ok(see_other("/me")) };
    let shown = class_shown(&tenant, slot, Audience::Wall).await?.ok_or(AppError::NoSuchPage)?;
    let gym = tenant.gym.name.clone();
    html(&NowPage { gym, day_name: slot.name(), card, shown, own: within_a_page(&own) })
}

/// `GET /me/own`: what of the class is one's own, as it is now.
#[get("/me/own")]
pub(super) async fn own_now(tenant: Tenant<AnyRole>) -> Result<HttpResponse, AppError> {
    let slot = own_class(&tenant).await?.ok_or(AppError::NoSuchPage)?;
    let (_, own) = own(&tenant, slot).await?.ok_or(AppError::NoSuchPage)?;
    Ok(HttpResponse::Ok().content_type("application/json").body(own))
}

/// `GET /me/live`: the class whenever something about it has changed, with what everybody may see of it.
#[get("/me/live")]
pub(super) async fn live(tenant: Tenant<AnyRole>) -> Result<impl Responder, AppError> {
    let slot = own_class(&tenant).await?.ok_or(AppError::NoSuchPage)?;
    Ok(follow(tenant.state.clone(), tenant.id(), slot, Audience::Wall))
}
