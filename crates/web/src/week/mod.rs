//! The week: its days, and what each holds.

mod carry;
mod cycles;
mod lines;
mod month;

use std::collections::BTreeMap;

use actix_web::{HttpRequest, HttpResponse, get, web};
use askama::Template;
use chrono::{Datelike, Days, NaiveDate};
use lantern_core::movement::Catalogue;
use lantern_core::read::Reading;
use lantern_core::session::{Part, PartKind};
use lantern_core::strength::calendar::standings;
use lantern_core::strength::with_cycles;
use lantern_core::units::plain;
use lantern_core::volume::{self, Asked, Running, Volume, WEEKS_BEFORE};
use lantern_store::day::{self, DayRows};
use lantern_store::pieces::{self, Kept};
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
use crate::week::carry::{Carried, Refused};
use crate::week::cycles::CycleRow;
use crate::week::lines::PartLine;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    carry::routes(config);
    month::routes(config);
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
    /// What was carried just now, and how the form that takes it back names it.
    carried: Option<(String, String)>,
    refused: Option<Refused>,
    /// Whether the demo's visitors are offered a walk through it.
    demo: bool,
    from: NaiveDate,
    /// What the week asks for by family, and by joint.
    asked: [Vec<AskedRow>; 2],
    /// What is worked two days running, in words.
    running: Vec<String>,
    /// Lifts that are trained by weeks.
    cycles: Vec<CycleRow>,
}

/// One kind of work in the week.
struct AskedRow {
    name: &'static str,
    so_far: String,
    to_come: String,
    usual: String,
    much: Option<String>,
}

struct DayCard {
    day: NaiveDate,
    name: String,
    today: bool,
    parts: Vec<PartLine>,
    problems: usize,
    empty: bool,
    /// Whether it is behind us.
    over: bool,
    /// Whose hour is drawn: the day's fullest class.
    strip: Slot,
    classes: Vec<ClassLink>,
}

struct ClassLink {
    slot: Slot,
    starts: String,
    booked: usize,
}

#[derive(Deserialize)]
struct Week {
    from: Option<String>,
    /// The key of what was just removed.
    removed: Option<String>,
    /// What was just carried.
    carried: Option<String>,
}

impl Week {
    /// The week of a day, with nothing to say.
    fn of(day: NaiveDate) -> Self {
        Self { from: Some(day.to_string()), removed: None, carried: None }
    }
}

/// `GET /days?from=2026-11-23`: the week that holds the day.
#[get("/days")]
async fn week(request: HttpRequest, tenant: Tenant, query: Query<Week>) -> Result<HttpResponse, AppError> {
    shown(&tenant, &request, async { page(&tenant, &query, None).await.map(Ok) }).await
}

async fn page(tenant: &Tenant, query: &Week, refused: Option<Refused>) -> Result<WeekPage, AppError> {
    let asked = query.from.as_deref().map_or(Ok(tenant.today()), day_of)?;
    let monday = asked - Days::new(u64::from(asked.weekday().num_days_from_monday()));
    let today = tenant.today();
    let mut rows = tenant.look_since().await?;
    let undo = undo(&mut rows, query.removed.as_deref(), tenant.gym.clock).await?;
    let catalogue = tenant.catalogue();
    let DayRows { texts: stored, classes, mut kept, .. } =
        day::rows(&mut rows, monday, monday + Days::new(6), None).await?;
    let before = pieces::kept(&mut rows, monday - Days::new(7 * WEEKS_BEFORE), monday - Days::new(1)).await?;
    drop(rows);
    let carried: Option<Carried> = query.carried.as_deref().and_then(|carried| carried.parse().ok());
    let mut volumes: Vec<(NaiveDate, Volume)> = Vec::new();
    let mut written: Vec<(NaiveDate, Part)> = Vec::new();
    let class_link = |class: &StoredClass| {
        let slot = Slot { day: class.day, starts: Some(class.starts) };
        ClassLink { slot, starts: tenant.gym.clock.told(class.starts), booked: class.booked.len() }
    };
    let days = (0..7)
        .map(|n| {
            let day = monday + Days::new(n);
            let session = stored.iter().find(|session| session.day == day);
            let text = session.map(|session| session.text.as_str());
            let kept = that_counts(kept.remove(&day), &tenant.gym, day, &classes);
            let reading = session.map(|session| {
                let reading = reading_of(&session.text, &session.corrections, &tenant.gym, &catalogue);
                let reading = as_kept(reading, kept.as_ref());
                // A lift that only names its week is what the gym's cycle says.
                let session = with_cycles(&reading.session, &tenant.gym.cycles, &catalogue);
                Reading { session, ..reading }
            });
            let parts = reading.iter().flat_map(|reading| &reading.session.parts);
            volumes.push((day, Volume::of(parts.clone(), &catalogue)));
            written.extend(parts.clone().map(|part| (day, part.clone())));
            DayCard {
                day,
                name: day_name(day),
                today: day == today,
                parts: parts
                    .filter(|part| part.kind != PartKind::Home)
                    .map(|part| PartLine::of(part, &catalogue))
                    .collect(),
                problems: reading.as_ref().map_or(0, |reading| reading.problems.len()),
                empty: text.is_none_or(|text| text.trim().is_empty()),
                // The hour of the class with most people says most about the day.
                strip: classes
                    .iter()
                    .filter(|class| class.day == day)
                    .max_by_key(|class| class.booked.len())
                    .map_or(Slot::from(day), |class| Slot { day, starts: Some(class.starts) }),
                over: day < today,
                classes: classes.iter().filter(|class| class.day == day).map(class_link).collect(),
            }
        })
        .collect();
    let running = volume::running(&volumes).iter().map(in_words).collect();
    let asked = asked_of(&volumes, &before, (monday, today), &catalogue);
    let earlier = before.iter().flat_map(|(day, kept)| kept.parts.iter().map(|part| (*day, part)));
    let all = earlier.chain(written.iter().map(|(day, part)| (*day, part)));
    let cycles = standings(&tenant.gym.cycles, all, monday, &catalogue);
    let cycles = cycles.iter().filter(|standing| !standing.is_over());
    let cycles = cycles.map(|standing| CycleRow::of(standing, monday, &catalogue)).collect();
    Ok(WeekPage {
        gym: tenant.gym.name.clone(),
        class_minutes: tenant.gym.class_minutes,
        title: format!("Week of {}", monday.format("%a %-d %b %Y")),
        before: monday - Days::new(7),
        after: monday + Days::new(7),
        days,
        undo,
        asked,
        running,
        cycles,
        carried: carried.map(|carried| (carried.told(), carried.to_string())),
        refused,
        demo: tenant.state.demo.is_some(),
        from: monday,
    })
}

/// `squat Mon and Tue (150 and 60 times)`
fn in_words(running: &Running) -> String {
    let Running { name, first, reps } = running;
    let days = [*first, *first + Days::new(1)].map(|day| day.format("%a").to_string());
    let reps = [reps.0, reps.1].map(|reps| plain(reps.round()));
    format!("{name} {} ({} times)", days.join(" and "), reps.join(" and "))
}

/// What the week asks for, beside the weeks before of which something was kept.
fn asked_of(
    days: &[(NaiveDate, Volume)],
    before: &BTreeMap<NaiveDate, Kept>,
    (monday, today): (NaiveDate, NaiveDate),
    catalogue: &Catalogue,
) -> [Vec<AskedRow>; 2] {
    let sum = |over: bool| {
        Volume::sum(days.iter().filter(|(day, _)| (*day < today) == over).map(|(_, volume)| volume))
    };
    let of_week = |ago: u64| {
        let from = monday - Days::new(7 * ago);
        let days = before.range(from..from + Days::new(7)).map(|(_, kept)| &kept.parts);
        let days: Vec<Volume> = days.map(|parts| Volume::of(parts.iter(), catalogue)).collect();
        (!days.is_empty()).then(|| Volume::sum(days.iter()))
    };
    let before: Vec<Volume> = (1..=WEEKS_BEFORE).filter_map(of_week).collect();
    let (families, joints) = volume::week(&sum(true), &sum(false), &before);
    let row = |asked: &Asked| AskedRow {
        name: asked.name,
        so_far: plain(asked.so_far.round()),
        to_come: plain(asked.to_come.round()),
        usual: if before.is_empty() { "-".to_owned() } else { plain(asked.usual.round()) },
        much: asked.is_much().then(|| format!("{:.1} times the usual", asked.week() / asked.usual)),
    };
    [families, joints].map(|all| all.iter().map(row).collect())
}

/// `GET /days/{day}`
#[get("/days/{day}")]
async fn to_read(_: Tenant, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    Ok(see_other(format!("/days/{day}/read")))
}
