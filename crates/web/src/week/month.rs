//! A month at a glance: what each day asks for, in two lines.

use actix_web::{HttpRequest, HttpResponse, get, web};
use askama::Template;
use chrono::{Datelike as _, Days, Months, NaiveDate};
use lantern_core::movement::Catalogue;
use lantern_core::session::PartKind;
use lantern_store::pieces::Kept;
use lantern_store::{classes, pieces};
use serde::Deserialize;

use crate::planning::shown::shown;
use crate::request::Query;
use crate::request::tenant::Tenant;
use crate::respond::error::AppError;
use crate::respond::filters;
use crate::week::lines::PartLine;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(month);
}

#[derive(Template)]
#[template(path = "week/month.html")]
struct MonthPage {
    gym: String,
    title: String,
    before: NaiveDate,
    after: NaiveDate,
    weeks: Vec<Vec<Cell>>,
}

struct Cell {
    day: NaiveDate,
    number: u32,
    today: bool,
    /// Whether it is another month's.
    beside: bool,
    over: bool,
    lines: Vec<String>,
    classes: usize,
}

#[derive(Deserialize)]
struct Asked {
    of: Option<String>,
}

/// `GET /month?of=2026-11-01`: the month that holds the day.
#[get("/month")]
async fn month(request: HttpRequest, tenant: Tenant, query: Query<Asked>) -> Result<HttpResponse, AppError> {
    shown(&tenant, &request, async { page(&tenant, query.of.as_deref()).await.map(Ok) }).await
}

async fn page(tenant: &Tenant, of: Option<&str>) -> Result<MonthPage, AppError> {
    let today = tenant.today();
    let asked = of.map_or(Ok(today), crate::day::day_of)?;
    let first = asked.with_day(1).unwrap_or(asked);
    let last = first + Months::new(1) - Days::new(1);
    let monday = first - Days::new(u64::from(first.weekday().num_days_from_monday()));
    let sunday = last + Days::new(u64::from(6 - last.weekday().num_days_from_monday()));
    let mut rows = tenant.look_since().await?;
    let kept = pieces::kept(&mut rows, monday, sunday).await?;
    let held = classes::between(&mut rows, monday, sunday).await?;
    drop(rows);
    let catalogue = tenant.catalogue();
    let cell = |day: NaiveDate| Cell {
        day,
        number: day.day(),
        today: day == today,
        beside: day.month() != first.month(),
        over: day < today,
        lines: kept.get(&day).map_or_else(Vec::new, |kept| lines(kept, &catalogue)),
        classes: held.iter().filter(|class| class.day == day).count(),
    };
    let days: Vec<NaiveDate> = monday.iter_days().take_while(|day| *day <= sunday).collect();
    Ok(MonthPage {
        gym: tenant.gym.name.clone(),
        title: first.format("%B %Y").to_string(),
        before: first - Months::new(1),
        after: first + Months::new(1),
        weeks: days.chunks(7).map(|week| week.iter().map(|day| cell(*day)).collect()).collect(),
    })
}

/// What the class trains: the lift and the piece, not what stands around them.
fn lines(kept: &Kept, catalogue: &Catalogue) -> Vec<String> {
    let is_of_class = |kind| matches!(kind, PartKind::Strength | PartKind::Skill | PartKind::Conditioning);
    let parts = kept.parts.iter().filter(|part| is_of_class(part.kind));
    parts.map(|part| PartLine::of(part, catalogue)).map(|line| line.in_short()).collect()
}
