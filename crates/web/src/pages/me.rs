//! What a member sees: own card, own classes, own numbers, own limits; nobody else's.

use actix_web::{HttpResponse, get};
use askama::Template;
use chrono::{Duration, NaiveDate, NaiveTime, Utc};
use lantern_core::strength::max_for;
use lantern_store::{Role, classes, clock, health_views, members, person};

use super::handouts::cards::{Card, card};
use super::planned::with_plan;
use crate::error::{AppError, html};
use crate::filters;
use crate::request::see_other;
use crate::slot::Slot;
use crate::tenant::{AnyRole, Tenant};

pub(super) fn routes(config: &mut actix_web::web::ServiceConfig) {
    config.service(home).service(me).service(file);
}

/// `GET /`: where somebody of that role begins.
#[get("/")]
async fn home(tenant: Tenant<AnyRole>) -> HttpResponse {
    see_other(if tenant.who.role.may(Role::Coach) { "/days" } else { "/me" })
}

#[derive(Template)]
#[template(path = "me.html")]
struct MePage {
    gym: String,
    name: String,
    /// The class of the card.
    day_name: String,
    card: Option<Card>,
    /// Why there is no card.
    none: &'static str,
    classes: Vec<String>,
    maxes: Vec<(String, String)>,
    limits: Vec<String>,
    opened: Vec<(String, String)>,
}

/// Hours after its start for which a class is still the one whose card is shown.
const STILL: Duration = Duration::hours(2);

/// `GET /me`
#[get("/me")]
async fn me(tenant: Tenant<AnyRole>) -> Result<HttpResponse, AppError> {
    let gym = &tenant.gym;
    let none = "No member of the gym is yours: ask whoever runs it to invite you as one.";
    let mut page = MePage {
        gym: gym.name.clone(),
        name: tenant.who.name.clone(),
        day_name: String::new(),
        card: None,
        none,
        classes: Vec::new(),
        maxes: Vec::new(),
        limits: Vec::new(),
        opened: Vec::new(),
    };
    let Some(id) = tenant.who.member else { return html(&page) };
    let mut rows = tenant.look().await?;
    let catalogue = tenant.catalogue();
    let known = members::of_gym(&mut rows, gym, tenant.today()).await?;
    let known = known.into_iter().find(|stored| stored.id == id).ok_or(AppError::NoSuchPage)?;
    let booked = classes::of_member(&mut rows, id).await?;
    let opened = health_views::of_member(&mut rows, id).await?;
    drop(rows);
    let to_come =
        |(day, starts): &(NaiveDate, NaiveTime)| clock::moment(gym, *day, *starts) + STILL > Utc::now();
    let slots: Vec<Slot> =
        booked.into_iter().filter(to_come).map(|(day, starts)| Slot { day, starts: Some(starts) }).collect();
    let shown = |lift| {
        let max = max_for(&known.member, lift, &catalogue)?;
        Some((catalogue.name(lift).to_owned(), max.value.show(gym.unit)))
    };
    page.name.clone_from(&known.member.name);
    page.classes = slots.iter().map(|slot| slot.name()).collect();
    page.maxes = known.member.maxes.keys().filter_map(shown).collect();
    page.limits = known.member.limits.iter().map(|limit| limit.text.clone()).collect();
    page.opened = opened.into_iter().map(|(hour, by)| (clock::time_text(gym, hour), by)).collect();
    page.none = "Booked into no class that is to come: the card of the next one stands here.";
    if let Some(slot) = slots.first().copied() {
        page.day_name = slot.name();
        page.none = "Nothing is written for your next class yet.";
        let own = with_plan(&tenant, slot, move |planned| {
            let place = planned.ids.iter().position(|known| *known == id)?;
            Some(card(planned, place))
        });
        page.card = own.await?.flatten();
    }
    html(&page)
}

/// `GET /me/file.json`: all that is stored about whoever asks.
#[get("/me/file.json")]
async fn file(tenant: Tenant<AnyRole>) -> Result<HttpResponse, AppError> {
    let id = tenant.who.member.ok_or(AppError::NoSuchPage)?;
    let file = person::everything(&mut tenant.look().await?, id).await?;
    Ok(HttpResponse::Ok()
        .insert_header(("Content-Disposition", "attachment; filename=\"me.json\""))
        .json(file))
}
