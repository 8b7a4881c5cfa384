//! What has been decided about a day, as sentences: who, when, and undone whenever somebody wants it.

use std::collections::HashMap;

use actix_web::{HttpRequest, HttpResponse, get, post, web};
use askama::Template;
use lantern_core::decide::{Naming, Subjects};
use lantern_core::gym::Gym;
use lantern_core::movement::Catalogue;
use lantern_core::session::{Likeness, PartKind};
use lantern_core::warmup::standard_items;
use lantern_store::clock;
use lantern_store::decisions::{self, Decided};
use lantern_store::members;
use lantern_store::pieces::{self, StoredPiece};
use lantern_store::{DecisionId, MemberId};
use serde::Deserialize;

use crate::day::done::Did;
use crate::day::slot_of;
use crate::request::Form;
use crate::request::house::House;
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::respond::error::AppError;
use crate::respond::filters;
use crate::respond::shown::shown;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(change);
}

/// The steps that something is decided on.
const STEPS: [&str; 5] = ["warmup", "loads", "versions", "pace", "hour"];

/// Longest name of a part in a sentence, in characters.
const LONGEST: usize = 48;

#[derive(Template)]
#[template(path = "day/history/history.html")]
struct HistoryPage {
    gym: String,
    day: Slot,
    day_name: String,
    rows: Vec<Row>,
}

/// A decision in words.
pub(crate) struct Row {
    pub id: DecisionId,
    /// The day and the time at the gym, as `Mon 23 Nov, 18:42`.
    at: String,
    /// The class that it is about, as `18:00`; empty for the day.
    class: String,
    pub words: String,
    by: String,
    /// Who took it back and when; none where it stands.
    pub undone: Option<String>,
}

/// `GET /days/{day}/history`: every decision about the day and its classes, newest first.
#[get("/days/{day}/history")]
async fn show(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let page = async {
        let (gym, rows) = (tenant.gym.name.clone(), rows(&tenant, day, None).await?);
        Ok(Ok(HistoryPage { gym, day, day_name: day.name(), rows }))
    };
    shown(&tenant, &request, page).await
}

/// What was decided about a day, newest first: all of it, or what has some ids.
pub(crate) async fn rows(house: &House, day: Slot, ids: Option<&[DecisionId]>) -> Result<Vec<Row>, AppError> {
    let mut rows = house.look().await?;
    let catalogue = house.catalogue();
    let made = decisions::history(&mut rows, day.day, ids).await?;
    let pieces = pieces::of_day(&mut rows, day.day).await?;
    let called = members::called_by_id(&mut rows).await?;
    let told = Told::of(&pieces, &called, &catalogue);
    Ok(made.iter().filter_map(|made| told.row(made, &house.gym)).collect())
}

/// How decisions of a day are told.
struct Told<'a> {
    naming: Naming,
    parts: Vec<(PartKind, String)>,
    items: HashMap<&'a str, &'a str>,
    catalogue: &'a Catalogue,
}

impl<'a> Told<'a> {
    /// Parts that stand in the text no longer are told of too.
    fn of(rows: &[StoredPiece], members: &[(MemberId, String)], catalogue: &'a Catalogue) -> Self {
        let known: Vec<_> = rows.iter().map(|row| (Some(row.id.number()), row.likeness.kind)).collect();
        Self {
            naming: Naming::to_plan(members, &known),
            parts: rows.iter().map(|row| (row.likeness.kind, called(&row.likeness))).collect(),
            items: standard_items().iter().map(|item| (item.id.as_str(), item.name.as_str())).collect(),
            catalogue,
        }
    }

    /// None for what is about somebody who has left.
    fn row(&self, made: &Decided, gym: &Gym) -> Option<Row> {
        let item =
            |id: &str| self.items.get(id).map_or_else(|| id.replace('-', " "), |name| (*name).to_owned());
        let subjects = Subjects { parts: &self.parts, item: &item, catalogue: self.catalogue };
        let at = |moment| clock::time_text(gym, moment);
        Some(Row {
            id: made.id,
            at: at(made.made_at),
            class: made.starts.clone(),
            words: made.decision.told(&self.naming)?.words(&subjects),
            by: made.made_by.clone(),
            undone: made.undone.as_ref().map(|(moment, by)| match by.as_str() {
                "" => at(*moment),
                by => format!("{}, by {by}", at(*moment)),
            }),
        })
    }
}

/// What a part is called in a sentence: its first words.
fn called(part: &Likeness) -> String {
    let line = part.words.lines().take(2).collect::<Vec<_>>().join(", ");
    let line = if line.is_empty() { part.kind.heading().to_owned() } else { line };
    if line.chars().count() <= LONGEST {
        return line;
    }
    let short: String = line.chars().take(LONGEST).collect();
    short.rsplit_once(' ').map_or(short.clone(), |(words, _)| format!("{} …", words.trim_end_matches(',')))
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
