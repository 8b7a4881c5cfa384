//! The class on one's own phone: what I lift, what I do, where I should be next, by the clock of the class.

use std::sync::Arc;

use actix_web::{HttpResponse, Responder, get};
use askama::Template;
use chrono::Utc;
use lantern_store::lifts::{self, StoredLift};
use lantern_store::{classes, clock};

use super::{STILL, own_id};
use crate::day::handouts::cards::{Card, card};
use crate::day::planned::with_plan;
use crate::floor::hub::Audience;
use crate::floor::own::Own;
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
    html(&NowPage { gym, day_name: slot.name(tenant.gym.clock), card, shown, own: within_a_page(&own) })
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
