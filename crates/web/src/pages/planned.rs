//! The plan of a day, worked out once for whichever screen asks.

use actix_web::{HttpResponse, get, web};
use askama::Template;
use chrono::Days;
use lantern_core::gym::Gym;
use lantern_store::classes::{self, StoredClass};
use lantern_store::sessions::StoredSession;
use lantern_store::{GymId, StoreError, decisions, members, pieces, sessions};

use super::{catalogue, gym, slot_of, today};
use crate::State;
use crate::error::{AppError, html};
use crate::kept::that_counts;
pub(super) use crate::plans::Planned;
use crate::plans::{DayBefore, Found};
use crate::request::see_other;
use crate::slot::Slot;
use crate::view::strip::HourStrip;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(strip);
}

/// What was done in these days before says what is usual.
const RECENT: Days = Days::new(28);

/// Most people that a day is planned for.
const MOST_PEOPLE: usize = 60;

/// Plans a day and makes a view of it; none when nothing is written for the day yet.
pub(super) async fn with_plan<V: Send + 'static>(
    state: &web::Data<State>,
    day: Slot,
    view: impl FnOnce(&Planned) -> V + Send + 'static,
) -> Result<Option<V>, AppError> {
    let (id, gym) = gym(state).await?;
    let catalogue = catalogue(state, id).await?;
    let Some(session) = sessions::of_day(&state.store, id, day.day).await? else { return Ok(None) };
    let (from, to) = (day.day - RECENT, day.day - Days::new(1));
    let (decisions, class, texts, classes, stored, mut kept) = tokio::try_join!(
        decisions::standing(&state.store, id, day.day, day.starts),
        class_of(state, id, day),
        sessions::between(&state.store, id, from, to),
        classes::between(&state.store, id, from, day.day),
        members::of_gym(&state.store, id, &gym, today(&gym)),
        pieces::kept(&state.store, id, from, day.day),
    )?;
    let own = that_counts(kept.remove(&day.day), &gym, day.day, &classes);
    if day.starts.is_some() && class.is_none() {
        return Err(AppError::NoSuchPage);
    }
    let before = texts.into_iter().map(|session: StoredSession| {
        let booked = classes.iter().filter(|class| class.day == session.day).flat_map(|class| &class.booked);
        let name =
            |id: &i64| stored.iter().find(|known| known.id == *id).map(|known| known.member.name.clone());
        DayBefore {
            present: booked.filter_map(name).collect(),
            kept: kept.remove(&session.day),
            text: session.text,
            corrections: session.corrections,
        }
    });
    let before = before.collect();
    let booked = |id: &i64| class.as_ref().is_none_or(|class| class.booked.contains(id));
    let mut coming: Vec<_> = stored.into_iter().filter(|stored| booked(&stored.id)).collect();
    // A class is planned for, or a gym as small as one; of a big gym nobody knows who comes.
    let beyond = coming.len().saturating_sub(MOST_PEOPLE);
    coming.truncate(MOST_PEOPLE);
    let (ids, people) = coming.into_iter().map(|stored| (stored.id, stored.member)).unzip();
    let class_minutes = class.as_ref().map_or(gym.class_minutes, |class| class.minutes);
    let gym = Gym { class_minutes, ..gym };
    let seed = state.seed;
    let found =
        Found { session, before, kept: own, people, ids, decisions, gym, catalogue, class, beyond, seed };
    let planned = state.plans.of(id, day, found).await?;
    // A page about one member works some more out: not on the thread that answers everybody.
    let made = web::block(move || view(&planned));
    made.await.map(Some).map_err(|error| AppError::Inside(error.to_string()))
}

async fn class_of(
    state: &web::Data<State>,
    gym: GymId,
    day: Slot,
) -> Result<Option<StoredClass>, StoreError> {
    let Some(starts) = day.starts else { return Ok(None) };
    classes::at(&state.store, gym, day.day, starts).await
}

/// A day without text is first read.
pub(super) fn to_read(day: Slot) -> HttpResponse {
    see_other(format!("/days/{day}/read"))
}

#[derive(Template)]
#[template(path = "strip.html")]
struct Strip {
    strip: HourStrip,
}

/// `GET /days/{day}/strip`: the hour strip, for pages that are shown before anything is planned.
#[get("/days/{day}/strip")]
async fn strip(state: web::Data<State>, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    match with_plan(&state, day, move |planned| Strip { strip: HourStrip::of(planned, day) }).await? {
        Some(strip) => html(&strip),
        None => Ok(HttpResponse::NoContent().finish()),
    }
}
