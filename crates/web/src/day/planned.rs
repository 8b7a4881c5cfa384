//! The plan of a day, worked out once for whichever screen asks.

use std::sync::Arc;

use actix_web::{HttpRequest, HttpResponse, get, web};
use askama::Template;
use chrono::Days;
use lantern_core::gym::Gym;
use lantern_store::MemberId;
use lantern_store::day::{self, DayRows};
use lantern_store::members;
use lantern_store::rows::StoredClass;
use lantern_store::sessions::StoredSession;

use crate::day::strip::HourStrip;
use crate::day::{done, slot_of};
use crate::planning::kept::that_counts;
pub(crate) use crate::planning::plans::Planned;
use crate::planning::plans::{DayBefore, Found};
use crate::request::Query;
use crate::request::house::House;
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::respond::error::{AppError, html};
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(strip);
}

/// What was done in these days before says what is usual.
const RECENT: Days = Days::new(28);

/// Most people that a day is planned for.
const MOST_PEOPLE: usize = 60;

/// Plans a day and makes a view of it; none when nothing is written for the day yet.
pub(crate) async fn with_plan<V: Send + 'static>(
    house: &House,
    day: Slot,
    view: impl FnOnce(&Planned) -> V + Send + 'static,
) -> Result<Option<V>, AppError> {
    let Some(planned) = planned_as(house, day, |_| ()).await? else { return Ok(None) };
    // A page about one member works some more out: not on the thread that answers everybody.
    let made = web::block(move || view(&planned));
    made.await.map(Some).map_err(|error| AppError::Inside(error.to_string()))
}

/// The plan of a day, of its class as it would be with something changed; none when nothing is written for the day yet.
pub(crate) async fn planned_as(
    house: &House,
    day: Slot,
    change: impl FnMut(&mut StoredClass),
) -> Result<Option<Arc<Planned>>, AppError> {
    let gym = house.gym.clone();
    let from = day.day - RECENT;
    let mut rows = house.look_since().await?;
    let DayRows { mut texts, mut kept, standing, classes, last, note } =
        day::rows(&mut rows, from, day.day, day.starts).await?;
    let own_text = texts.pop_if(|last| last.day == day.day);
    let Some(session) = own_text else { return Ok(None) };
    let is_asked = |class: &&StoredClass| class.day == day.day && Some(class.starts) == day.starts;
    let mut class = classes.iter().find(is_asked).cloned();
    class.iter_mut().for_each(change);
    let booked = class.as_ref().map(|class| &class.booked[..]);
    let stored = members::planned_for(&mut rows, &gym, (house.today(), day.day), booked).await?;
    // Planning takes its time, and needs no connection.
    drop(rows);
    let (catalogue, decisions) = (house.catalogue(), standing);
    let own = that_counts(kept.remove(&day.day), &gym, day.day, &classes);
    if day.starts.is_some() && class.is_none() {
        return Err(AppError::NoSuchPage);
    }
    let before = texts.into_iter().map(|session: StoredSession| {
        let booked = classes.iter().filter(|class| class.day == session.day).flat_map(StoredClass::here);
        let name = |id: &MemberId| {
            stored.iter().find(|known| known.id == *id).map(|known| known.member.name.clone())
        };
        DayBefore {
            present: booked.filter_map(name).collect(),
            kept: kept.remove(&session.day),
            text: session.text,
            corrections: session.corrections,
        }
    });
    let before = before.collect();
    let mut coming = stored;
    // A class is planned for, or a gym as small as one; of a big gym nobody knows who comes.
    let beyond = coming.len().saturating_sub(MOST_PEOPLE);
    coming.truncate(MOST_PEOPLE);
    let (mut ids, mut people, mut shown) = (Vec::new(), Vec::new(), Vec::new());
    for stored in coming {
        ids.push(stored.id);
        people.push(stored.member);
        shown.push(stored.shown);
    }
    let class_minutes = class.as_ref().map_or(gym.class_minutes, |class| class.minutes);
    let gym = Gym { class_minutes, ..gym };
    let seed = house.state.seed;
    let found = Found {
        session,
        before,
        kept: own,
        people,
        ids,
        shown,
        decisions,
        gym,
        catalogue,
        class,
        beyond,
        seed,
        last,
        note,
    };
    house.state.plans.of(house.id().number(), day, found).await.map(Some)
}

/// A page of a day's plan, as it was made last where nothing has changed since.
pub(crate) async fn plan_page<T: Template + Send + 'static>(
    house: &House,
    request: &HttpRequest,
    day: Slot,
    view: impl FnOnce(&Planned) -> T + Send + 'static,
) -> Result<HttpResponse, AppError> {
    let made = async { Ok(with_plan(house, day, view).await?.ok_or_else(|| to_read(day))) };
    done::shown(house, request, made).await
}

/// A day without text is first read.
pub(crate) fn to_read(day: Slot) -> HttpResponse {
    see_other(format!("/days/{day}/read"))
}

#[derive(Template)]
#[template(path = "day/strip.html")]
struct Strip {
    strip: HourStrip,
}

/// The same in a card: only what is drawn, and how it ends.
#[derive(Template)]
#[template(path = "day/strip_small.html")]
struct SmallStrip {
    strip: HourStrip,
}

#[derive(serde::Deserialize)]
struct Size {
    small: Option<String>,
}

/// `GET /days/{day}/strip`: the hour strip, for pages that are shown before anything is planned.
#[get("/days/{day}/strip")]
async fn strip(tenant: Tenant, path: web::Path<String>, size: Query<Size>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    if size.small.is_some() {
        let small = with_plan(&tenant, day, move |planned| SmallStrip { strip: HourStrip::of(planned, day) });
        return small.await?.map_or_else(|| Ok(HttpResponse::NoContent().finish()), |strip| html(&strip));
    }
    match with_plan(&tenant, day, move |planned| Strip { strip: HourStrip::of(planned, day) }).await? {
        Some(strip) => html(&strip),
        None => Ok(HttpResponse::NoContent().finish()),
    }
}
