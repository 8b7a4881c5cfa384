//! The week: its days, and what each holds.

use actix_web::{HttpRequest, HttpResponse, get, web};
use askama::Template;
use chrono::{Datelike, Days, NaiveDate};
use lantern_core::session::{Part, PartKind, works};
use lantern_store::day::{self, DayRows};
use lantern_store::rows::StoredClass;
use serde::Deserialize;

use crate::day::{day_name, day_of, slot_of};
use crate::planning::kept::{as_kept, that_counts};
use crate::planning::plans::reading_of;
use crate::planning::shown::shown;
use crate::removed::{Undo, undo};
use crate::request::Query;
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::respond::error::AppError;
use crate::respond::filters;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(week).service(to_read);
}

#[derive(Template)]
#[template(path = "week/days.html")]
struct WeekPage {
    gym: String,
    title: String,
    class_minutes: u32,
    before: NaiveDate,
    after: NaiveDate,
    days: Vec<DayCard>,
    undo: Option<Undo>,
}

struct DayCard {
    day: NaiveDate,
    name: String,
    today: bool,
    parts: Vec<PartLine>,
    problems: usize,
    empty: bool,
    classes: Vec<ClassLink>,
}

struct ClassLink {
    slot: Slot,
    starts: String,
    booked: usize,
}

struct PartLine {
    kind: &'static str,
    words: String,
}

#[derive(Deserialize)]
struct Week {
    from: Option<String>,
    /// The key of what was just removed.
    removed: Option<String>,
}

/// `GET /days?from=2026-11-23`: the week that holds the day.
#[get("/days")]
async fn week(request: HttpRequest, tenant: Tenant, query: Query<Week>) -> Result<HttpResponse, AppError> {
    shown(&tenant, &request, async { page(&tenant, &query).await.map(Ok) }).await
}

async fn page(tenant: &Tenant, query: &Week) -> Result<WeekPage, AppError> {
    let asked = query.from.as_deref().map_or(Ok(tenant.today()), day_of)?;
    let monday = asked - Days::new(u64::from(asked.weekday().num_days_from_monday()));
    let today = tenant.today();
    let mut rows = tenant.look().await?;
    let undo = undo(&mut rows, query.removed.as_deref()).await?;
    let catalogue = tenant.catalogue();
    let DayRows { texts: stored, classes, mut kept, .. } =
        day::rows(&mut rows, monday, monday + Days::new(6), None).await?;
    drop(rows);
    let class_link = |class: &StoredClass| {
        let slot = Slot { day: class.day, starts: Some(class.starts) };
        ClassLink { slot, starts: slot.starts_text(), booked: class.booked.len() }
    };
    let days = (0..7)
        .map(|n| {
            let day = monday + Days::new(n);
            let session = stored.iter().find(|session| session.day == day);
            let text = session.map(|session| session.text.as_str());
            let kept = that_counts(kept.remove(&day), &tenant.gym, day, &classes);
            let reading = session.map(|session| {
                let reading = reading_of(&session.text, &session.corrections, &tenant.gym, &catalogue);
                as_kept(reading, kept.as_ref())
            });
            let parts = reading.iter().flat_map(|reading| &reading.session.parts);
            DayCard {
                day,
                name: day_name(day),
                today: day == today,
                parts: parts
                    .filter(|part| part.kind != PartKind::Home)
                    .map(|part| part_line(part, &catalogue))
                    .collect(),
                problems: reading.as_ref().map_or(0, |reading| reading.problems.len()),
                empty: text.is_none_or(|text| text.trim().is_empty()),
                classes: classes.iter().filter(|class| class.day == day).map(class_link).collect(),
            }
        })
        .collect();
    Ok(WeekPage {
        gym: tenant.gym.name.clone(),
        class_minutes: tenant.gym.class_minutes,
        title: format!("Week of {}", day_name(monday)),
        before: monday - Days::new(7),
        after: monday + Days::new(7),
        days,
        undo,
    })
}

fn part_line(part: &Part, catalogue: &lantern_core::movement::Catalogue) -> PartLine {
    let mut names: Vec<String> = Vec::new();
    for work in works(&part.tree) {
        let name = catalogue.name(&work.movement).to_lowercase();
        if !names.contains(&name) {
            names.push(name);
        }
    }
    PartLine { kind: part.kind.heading(), words: names.join(", ") }
}

/// `GET /days/{day}`
#[get("/days/{day}")]
async fn to_read(_: Tenant, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    Ok(see_other(format!("/days/{day}/read")))
}
