//! The plan of a day, worked out once for whichever screen asks.

use actix_web::{HttpResponse, get, web};
use askama::Template;
use chrono::{Days, NaiveDate};
use lantern_core::plan::Decisions;
use lantern_store::{members, pieces, sessions, warmups};

use super::{catalogue, day_of, gym, today};
use crate::State;
use crate::error::{AppError, html};
use crate::plans::Found;
pub(super) use crate::plans::Planned;
use crate::view::strip::HourStrip;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(strip);
}

/// What was done in these days before says what is usual.
const RECENT: Days = Days::new(28);

/// Plans a day and makes a view of it; none when nothing is written for the day yet.
pub(super) async fn with_plan<V: Send + 'static>(
    state: &web::Data<State>,
    day: NaiveDate,
    view: impl FnOnce(&Planned) -> V + Send + 'static,
) -> Result<Option<V>, AppError> {
    let (id, gym) = gym(state).await?;
    let catalogue = catalogue(state, id).await?;
    let Some(session) = sessions::of_day(&state.store, id, day).await? else { return Ok(None) };
    let (warmup, pieces, before, stored) = tokio::try_join!(
        warmups::of_day(&state.store, id, day),
        pieces::of_day(&state.store, id, day),
        sessions::between(&state.store, id, day - RECENT, day - Days::new(1)),
        members::of_gym(&state.store, id, &gym, today()),
    )?;
    let (ids, people) = stored.into_iter().map(|stored| (stored.id, stored.member)).unzip();
    let decisions = Decisions { warmup, pieces, recent: Vec::new() };
    let found = Found { session, before, people, ids, decisions, gym, catalogue, seed: state.seed };
    let plans = state.plans.clone();
    // A class is some tens of milliseconds of work: not on the thread that answers everybody.
    let made = web::block(move || view(&plans.of(id, day, found)));
    made.await.map(Some).map_err(|error| AppError::Inside(error.to_string()))
}

/// A day without text is first read.
pub(super) fn to_read(day: NaiveDate) -> HttpResponse {
    HttpResponse::SeeOther().insert_header(("Location", format!("/days/{day}/read"))).finish()
}

#[derive(Template)]
#[template(path = "strip.html")]
struct Strip {
    strip: HourStrip,
}

/// `GET /days/{day}/strip`: the hour strip, for pages that are shown before anything is planned.
#[get("/days/{day}/strip")]
async fn strip(state: web::Data<State>, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let day = day_of(&path)?;
    match with_plan(&state, day, move |planned| Strip { strip: HourStrip::new(&planned.plan.hour, day) })
        .await?
    {
        Some(strip) => html(&strip),
        None => Ok(HttpResponse::NoContent().finish()),
    }
}
