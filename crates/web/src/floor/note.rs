//! What a coach notes about a class.

use actix_web::{HttpRequest, HttpResponse, post, web};
use lantern_core::running::{Event, Happened};
use lantern_store::running;
use serde::Deserialize;

use super::key_or_new;
use crate::day::slot_of;
use crate::request::Form;
use crate::request::tenant::Tenant;
use crate::respond::error::AppError;
use crate::respond::redirect::see_other;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(note);
}

/// Longest note, in characters.
const LONGEST: usize = 300;

#[derive(Deserialize)]
struct Noted {
    note: String,
    /// Made where it was written.
    #[serde(default)]
    key: String,
}

/// `POST /days/{day}/note`: what is noted about the class from now on.
#[post("/days/{day}/note")]
async fn note(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
    form: Form<Noted>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let text = form.note.split_whitespace().collect::<Vec<_>>().join(" ");
    if text.chars().count() > LONGEST {
        return Err(AppError::field("note", &text, "at most 300 characters"));
    }
    let event = Event { at_ms: tenant.state.beat.now_ms(), what: Happened::Note { text } };
    let mut rows = tenant.change().await?;
    running::add(&mut rows, (day.day, day.starts), &event, (&key_or_new(&form.key), &tenant.who.name))
        .await?;
    rows.keep().await?;
    if request.headers().contains_key("X-Floor") {
        return Ok(HttpResponse::NoContent().finish());
    }
    Ok(see_other(format!("/days/{day}/book")))
}
