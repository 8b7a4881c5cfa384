//! What has been decided about a day, as sentences: who, when, and undone whenever somebody wants it.

pub(crate) mod texts;

use actix_web::{HttpRequest, HttpResponse, get, post, web};
use askama::Template;
use lantern_store::{decisions, sessions};
use serde::Deserialize;

use crate::day::done::{Did, shown};
use crate::day::history::texts::TextRow;
use crate::day::slot_of;
use crate::day::told::{Row, rows};
use crate::request::Form;
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::respond::error::AppError;
use crate::respond::filters;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(change);
    texts::routes(config);
}

/// The steps that something is decided on.
const STEPS: [&str; 5] = ["warmup", "loads", "versions", "pace", "hour"];

#[derive(Template)]
#[template(path = "day/history/history.html")]
struct HistoryPage {
    gym: String,
    day: Slot,
    day_name: String,
    rows: Vec<Row>,
    texts: Vec<TextRow>,
}

/// `GET /days/{day}/history`: every decision about the day and its classes, and every text that it has had, newest first.
#[get("/days/{day}/history")]
async fn show(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let page = async {
        let (gym, rows) = (tenant.gym.name.clone(), rows(&tenant, day, None).await?);
        let texts = sessions::texts(&mut tenant.look().await?, day.day).await?;
        let texts = texts::rows(&texts, &tenant.gym);
        Ok(Ok(HistoryPage { gym, day, day_name: day.name(tenant.gym.clock), rows, texts }))
    };
    shown(&tenant, &request, page).await
}

#[derive(Deserialize)]
struct Asked {
    /// One decision, or several of one moment: `12,13`.
    id: String,
    /// `undo` takes it back, `again` has it stand again.
    action: String,
    /// The step to go back to; the history where it is none.
    #[serde(default)]
    step: String,
}

/// `POST /days/{day}/history`: takes decisions back, whoever made them and whatever came after, or has them stand again.
#[post("/days/{day}/history")]
async fn change(
    tenant: Tenant,
    path: web::Path<String>,
    form: Form<Asked>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let did = Did::read(&form.id).ok_or_else(|| AppError::field("id", &form.id, "a decision"))?;
    let by = match form.action.as_str() {
        "undo" => Some(tenant.who.name.as_str()),
        "again" => None,
        other => return Err(AppError::field("action", other, "undo or again")),
    };
    let mut rows = tenant.change().await?;
    decisions::undo(&mut rows, day.day, did.ids(), by).await?;
    rows.keep().await?;
    let step = STEPS.into_iter().find(|step| *step == form.step).unwrap_or("history");
    Ok(did.said_at(format_args!("/days/{day}/{step}"), ""))
}
