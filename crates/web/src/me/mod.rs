//! What a member sees: own card, own classes, own numbers, own limits; nobody else's.

mod now;

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, get, post};
use askama::Template;
use chrono::{Duration, NaiveDate, NaiveTime, Utc};
use lantern_core::strength::max_for;
use lantern_store::person::Also;
use lantern_store::{
    MemberId, Role, StoreError, classes, clock, health_views, lifts, members, person, results,
};
use lantern_store::{name_shown::NameShown, privacy};
use serde::Deserialize;

use crate::day::handouts::cards::{Card, card};
use crate::day::planned::with_plan;
use crate::members::done::{self, DoneView};
use crate::members::take_along;
use crate::members::{standing, told_views};
use crate::request::Form;
use crate::request::slot::Slot;
use crate::request::tenant::{AnyRole, Tenant};
use crate::respond::error::{AppError, html_as};
use crate::respond::filters;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut actix_web::web::ServiceConfig) {
    config
        .service(home)
        .service(me)
        .service(now::now)
        .service(now::own_now)
        .service(now::live)
        .service(file)
        .service(show_name)
        .service(agree)
        .service(withdraw)
        .service(delete);
}

/// `GET /`: where somebody of that role begins.
#[get("/")]
async fn home(tenant: Tenant<AnyRole>) -> HttpResponse {
    see_other(if tenant.who.role.may(Role::Coach) { "/days" } else { "/me" })
}

#[derive(Template)]
#[template(path = "me/me.html")]
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
    /// What they have done of pieces.
    done: DoneView,
    opened: Vec<(String, String)>,
    shown: NameShown,
    all_shown: [NameShown; 4],
    /// Since when what they spare may be kept, as noted.
    agreed: Option<String>,
    wrong: Option<String>,
}

/// Hours after its start for which a class is still the one whose card is shown.
const STILL: Duration = Duration::hours(2);

/// `GET /me`
#[get("/me")]
async fn me(tenant: Tenant<AnyRole>) -> Result<HttpResponse, AppError> {
    page(&tenant, None, StatusCode::OK).await
}

async fn page(
    tenant: &Tenant<AnyRole>,
    wrong: Option<String>,
    status: StatusCode,
) -> Result<HttpResponse, AppError> {
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
        done: DoneView::new(Vec::new(), &[], (gym, &tenant.catalogue(), tenant.today())),
        shown: NameShown::default(),
        all_shown: NameShown::ALL,
        agreed: None,
        wrong,
    };
    let Some(id) = tenant.who.member else { return html_as(status, &page) };
    let mut rows = tenant.look().await?;
    let catalogue = tenant.catalogue();
    let known = members::with_ids(&mut rows, gym, tenant.today(), &[id]).await?;
    let known = known.into_iter().next().ok_or(AppError::NoSuchPage)?;
    let agreed = privacy::consents(&mut rows, id).await?;
    let booked = classes::of_member(&mut rows, id).await?;
    let opened = health_views::of_member(&mut rows, id).await?;
    let done = results::of_member(&mut rows, id, done::MOST).await?;
    let sets = lifts::of_member(&mut rows, id).await?;
    drop(rows);
    let to_come =
        |(day, starts): &(NaiveDate, NaiveTime)| clock::moment(gym, *day, *starts) + STILL > Utc::now();
    let slots: Vec<Slot> =
        booked.into_iter().filter(to_come).map(|(day, starts)| Slot { day, starts: Some(starts) }).collect();
    let shown = |lift| {
        let max = max_for(&known.member, lift, &catalogue)?;
        Some((catalogue.name(lift).to_owned(), max.value.show(gym.unit)))
    };
    page.done = DoneView::new(done, &sets, (gym, &catalogue, tenant.today()));
    page.shown = known.shown;
    page.agreed = standing(&agreed, gym);
    page.name.clone_from(&known.member.name);
    page.classes = slots.iter().map(|slot| slot.name(gym.clock)).collect();
    page.maxes = known.member.maxes.keys().filter_map(shown).collect();
    page.limits = known.member.limits.iter().map(|limit| limit.text.clone()).collect();
    page.opened = told_views(opened, gym);
    page.none = "Booked into no class that is to come: the card of the next one stands here.";
    if let Some(slot) = slots.first().copied() {
        page.day_name = slot.name(gym.clock);
        page.none = "Nothing is written for your next class yet.";
        let own = with_plan(tenant, slot, move |planned| {
            let place = planned.ids.iter().position(|known| *known == id)?;
            Some(card(planned, place))
        });
        page.card = own.await?.flatten();
    }
    html_as(status, &page)
}

/// The member that is whoever asks.
fn own_id(tenant: &Tenant<AnyRole>) -> Result<MemberId, AppError> {
    tenant.who.member.ok_or(AppError::NoSuchPage)
}

#[derive(Deserialize)]
struct Choice {
    shown: String,
}

/// `POST /me/shown`: what the wall shows of one's own name.
#[post("/me/shown")]
async fn show_name(tenant: Tenant<AnyRole>, form: Form<Choice>) -> Result<HttpResponse, AppError> {
    let shown = NameShown::named(&form.shown)
        .ok_or_else(|| AppError::field("shown", &form.shown, "full, first, initials or hidden"))?;
    let mut rows = tenant.change().await?;
    privacy::show_name(&mut rows, own_id(&tenant)?, shown).await?;
    rows.keep().await?;
    Ok(see_other("/me"))
}

/// `POST /me/agree`: what I spare may be kept.
#[post("/me/agree")]
async fn agree(tenant: Tenant<AnyRole>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    privacy::agree(&mut rows, own_id(&tenant)?, &tenant.who.name).await?;
    rows.keep().await?;
    Ok(see_other("/me"))
}

/// `POST /me/withdraw`: it may not any more, and goes.
#[post("/me/withdraw")]
async fn withdraw(tenant: Tenant<AnyRole>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    privacy::withdraw(&mut rows, own_id(&tenant)?).await?;
    rows.keep().await?;
    Ok(see_other("/me"))
}

#[derive(Deserialize)]
struct Sure {
    name: String,
}

/// `POST /me/delete`: everything on file about whoever asks goes, their account at this gym with it; the name typed stands for being sure.
#[post("/me/delete")]
async fn delete(tenant: Tenant<AnyRole>, form: Form<Sure>) -> Result<HttpResponse, AppError> {
    let id = own_id(&tenant)?;
    let mut rows = tenant.change().await?;
    let known = members::with_ids(&mut rows, &tenant.gym, tenant.today(), &[id]).await?;
    let name = known.first().map(|stored| stored.member.name.clone()).ok_or(AppError::NoSuchPage)?;
    if form.name.trim() != name {
        drop(rows);
        let wrong = Some(format!("Nothing was deleted: type {name} to be sure."));
        return page(&tenant, wrong, StatusCode::UNPROCESSABLE_ENTITY).await;
    }
    // What the gym has written is the gym's: a name can be a word of its texts. Its owner is asked about each place.
    let also = Also { coaches: true, ..Also::default() };
    match person::remove(&mut rows, id, also).await {
        Err(StoreError::Refused(why)) => {
            drop(rows);
            return page(
                &tenant,
                Some(format!("Nothing was deleted: {why}.")),
                StatusCode::UNPROCESSABLE_ENTITY,
            )
            .await;
        }
        done => done?,
    }
    rows.keep().await?;
    Ok(see_other("/sign-in"))
}

/// `GET /me/file.json`: all that is stored about whoever asks.
#[get("/me/file.json")]
async fn file(tenant: Tenant<AnyRole>) -> Result<HttpResponse, AppError> {
    let file = take_along::everything(&tenant, &mut tenant.look().await?, own_id(&tenant)?).await?;
    Ok(HttpResponse::Ok()
        .insert_header(("Content-Disposition", "attachment; filename=\"me.json\""))
        .json(file))
}
