//! A day as text or JSON, to keep or to give to another program.

use actix_web::{HttpResponse, get, web};
use lantern_core::gym::Gym;
use lantern_core::movement::Catalogue;
use lantern_core::print::{reading_json, session_text};
use lantern_store::sessions::{self, StoredSession};

use super::{catalogue, day_of, gym};
use crate::State;
use crate::error::AppError;
use crate::plans::reading_of;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(as_text).service(as_json);
}

/// `GET /days/{day}/session.txt`: canonical text.
#[get("/days/{day}/session.txt")]
async fn as_text(state: web::Data<State>, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let (session, gym, catalogue) = stored(&state, &path).await?;
    let reading = reading_of(&session.text, &session.corrections, &gym, &catalogue);
    let text = session_text(&reading.session, &catalogue);
    Ok(HttpResponse::Ok().content_type("text/plain; charset=utf-8").body(text))
}

/// `GET /days/{day}/session.json`: the reading, with its schema's version inside.
#[get("/days/{day}/session.json")]
async fn as_json(state: web::Data<State>, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let (session, gym, catalogue) = stored(&state, &path).await?;
    let reading = reading_of(&session.text, &session.corrections, &gym, &catalogue);
    Ok(HttpResponse::Ok().json(reading_json(&reading)))
}

async fn stored(
    state: &State,
    day: &str,
) -> Result<(StoredSession, Gym, std::sync::Arc<Catalogue>), AppError> {
    let day = day_of(day)?;
    let (id, gym) = gym(state).await?;
    let session = sessions::of_day(&state.store, id, day).await?.ok_or(AppError::NoSuchPage)?;
    Ok((session, gym, catalogue(state, id).await?))
}
