//! A day as text or JSON, to keep or to give to another program.

use std::sync::Arc;

use actix_web::{HttpResponse, get, web};
use lantern_core::movement::Catalogue;
use lantern_core::print::{reading_json, session_text};
use lantern_core::read::Reading;
use lantern_store::sessions;

use crate::day::day_of;
use crate::planning::kept::{self, as_kept};
use crate::planning::plans::reading_of;
use crate::request::house::House;
use crate::request::tenant::Tenant;
use crate::respond::error::AppError;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(as_text).service(as_json);
}

/// `GET /days/{day}/session.txt`: canonical text.
#[get("/days/{day}/session.txt")]
async fn as_text(tenant: Tenant, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let (reading, catalogue) = reading_of_day(&tenant, &path).await?;
    let text = session_text(&reading.session, &catalogue);
    Ok(HttpResponse::Ok().content_type("text/plain; charset=utf-8").body(text))
}

/// `GET /days/{day}/session.json`: the reading, with its schema's version inside.
#[get("/days/{day}/session.json")]
async fn as_json(tenant: Tenant, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let (reading, _) = reading_of_day(&tenant, &path).await?;
    Ok(HttpResponse::Ok().json(reading_json(&reading)))
}

/// The reading of a stored day that counts.
pub(crate) async fn reading_of_day(house: &House, day: &str) -> Result<(Reading, Arc<Catalogue>), AppError> {
    let day = day_of(day)?;
    let mut rows = house.look_since().await?;
    let session = sessions::of_day(&mut rows, day).await?.ok_or(AppError::NoSuchPage)?;
    let catalogue = house.catalogue();
    let kept = kept::of_day(&mut rows, &house.gym, day).await?;
    let reading = reading_of(&session.text, &session.corrections, &house.gym, &catalogue);
    Ok((as_kept(reading, kept.as_ref()), catalogue))
}
