//! Floor: the class while it runs. A control page for the coach, and what every screen of the class follows.

pub(crate) mod beat;
mod here;
pub(crate) mod hub;
mod note;
pub(crate) mod own;
mod racks;
mod shown;

use std::sync::Arc;
use std::time::Duration;

use actix_web::{HttpRequest, HttpResponse, Responder, get, post, web};
use actix_web_lab::sse;
use askama::Template;
use lantern_core::running::{Course, Event, Happened, PhaseId, Timeline, timeline};
use lantern_store::results;
use lantern_store::{GymId, ResultId, gyms, lifts, removals, running};
use serde::Deserialize;
use tokio::sync::mpsc;

use self::hub::Audience;
use self::shown::ClassShown;
use crate::State;
use crate::day::book::{Entered, keep_score};
use crate::day::planned::{to_read, with_plan};
use crate::day::slot_of;
use crate::request::Form;
use crate::request::class_code::code_of;
use crate::request::house::House;
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::respond::error::{AppError, html};
use crate::respond::filters;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    here::routes(config);
    note::routes(config);
    config.service(control).service(happens).service(score).service(unscore).service(live).service(time);
}

/// How often a connection on which nothing happens is written to.
const KEEP_ALIVE: Duration = Duration::from_secs(15);
/// How long one connection lasts: whoever is signed out, or whose address was revoked, hears no more after it. A screen connects again by itself.
const LASTS: Duration = Duration::from_secs(2 * 60);
/// How far back a device without a connection may tell what it saw, in milliseconds.
const TOLD_LATE_MS: i64 = 3 * 3600 * 1000;

#[derive(Template)]
#[template(path = "floor/floor.html")]
struct FloorPage {
    gym: String,
    day: Slot,
    day_name: String,
    /// With what guests look in; none for the whole gym.
    code: Option<String>,
    /// What the page's script begins with.
    shown: Arc<str>,
}

/// `GET /days/{day}/floor`
#[get("/days/{day}/floor")]
async fn control(tenant: Tenant, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    match class_shown(&tenant, day, Audience::Coach).await? {
        Some(shown) => {
            let code = day.starts.map(|_| code_of(&tenant.state, &tenant, day));
            html(&FloorPage {
                gym: tenant.gym.name.clone(),
                day,
                day_name: day.name(tenant.gym.clock),
                code,
                shown,
            })
        }
        None => Ok(to_read(day)),
    }
}

/// A class as its screens need it; none where nothing is written for the day.
pub(crate) async fn class_shown(
    house: &House,
    slot: Slot,
    audience: Audience,
) -> Result<Option<Arc<str>>, AppError> {
    let mut rows = house.look().await?;
    let events = running::of_class(&mut rows, (slot.day, slot.starts)).await?;
    let said = results::said(&mut rows, slot.day, slot.starts).await?;
    let sets = lifts::entered_on(&mut rows, slot.day).await?;
    drop(rows);
    let made_ms = house.state.beat.now_ms();
    let shown = with_plan(house, slot, move |planned| {
        serde_json::to_string(&ClassShown::new(planned, slot, (&events, said), &sets, (audience, made_ms)))
    });
    let Some(shown) = shown.await? else { return Ok(None) };
    let shown = shown.map_err(|error| AppError::Inside(error.to_string()))?;
    Ok(Some(Arc::from(within_a_page(&shown))))
}

/// JSON as it stands within a page, where nothing may look like the end of a script.
pub(crate) fn within_a_page(json: &str) -> String {
    json.replace("</", "<\\/").replace("<!--", "<\\u0021--")
}

/// Something that a coach does to the clock, as a form sends it.
#[derive(Deserialize)]
struct Told {
    what: String,
    #[serde(default)]
    block: String,
    #[serde(default)]
    n: usize,
    #[serde(default)]
    seconds: u32,
    #[serde(default)]
    member: i64,
    #[serde(default)]
    rounds: u32,
    #[serde(default)]
    interval: u32,
    /// When that was which is taken back.
    #[serde(default)]
    of_ms: i64,
    /// When, where it is told later.
    at_ms: Option<i64>,
    /// Made where it happened.
    #[serde(default)]
    key: String,
}

impl Told {
    fn happened(&self) -> Option<Happened> {
        let phase = || PhaseId { block: self.block.clone(), n: self.n };
        Some(match self.what.as_str() {
            "start" => Happened::Start,
            "pause" => Happened::Pause,
            "resume" => Happened::Resume,
            "longer" => Happened::Longer { phase: phase(), seconds: self.seconds },
            "next" => Happened::Next { from: phase() },
            "back" => Happened::Back { from: phase() },
            "go_to" => Happened::GoTo { phase: phase() },
            "without" => Happened::Without { block: self.block.clone() },
            "with" => Happened::With { block: self.block.clone() },
            "round" => Happened::Round { part: self.n, member: self.member, rounds: self.rounds },
            "split" => Happened::Split {
                part: self.n,
                member: self.member,
                interval: self.interval,
                seconds: self.seconds,
            },
            "undo" => Happened::Undo { at_ms: self.of_ms },
            "close" => Happened::Close,
            "reopen" => Happened::Reopen,
            _ => return None,
        })
    }

    fn key(&self) -> String {
        key_or_new(&self.key)
    }
}

/// A key that came along, or a new one.
fn key_or_new(key: &str) -> String {
    if key.len() < 8 { removals::key() } else { key.chars().take(60).collect() }
}

/// `POST /days/{day}/floor`: something happens to the clock of a class.
#[post("/days/{day}/floor")]
async fn happens(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
    form: Form<Told>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    if form.block.chars().count() > 60 {
        return Err(AppError::field("block", &form.block, "one of the hour's blocks"));
    }
    let what = form.happened();
    let what = what.ok_or_else(|| AppError::field("what", &form.what, "start, pause, next and the like"))?;
    let now_ms = tenant.state.beat.now_ms();
    // Nothing has happened before it could, nor will.
    let at_ms = form.at_ms.unwrap_or(now_ms).clamp(now_ms - TOLD_LATE_MS, now_ms);
    let mut rows = tenant.change().await?;
    let event = Event { at_ms, what };
    running::add(&mut rows, (day.day, day.starts), &event, (&form.key(), &tenant.who.name)).await?;
    rows.keep().await?;
    Ok(answer(&request, day))
}

/// Nothing for a script, which hears of it by itself; the page again for everybody else.
fn answer(request: &HttpRequest, day: Slot) -> HttpResponse {
    if request.headers().contains_key("X-Floor") {
        return HttpResponse::NoContent().finish();
    }
    see_other(format_args!("/days/{day}/floor"))
}

/// `POST /days/{day}/floor/score`: somebody is done, or says what they did; it goes to the book.
#[post("/days/{day}/floor/score")]
async fn score(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
    form: Form<Entered>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let key = key_or_new(&form.key);
    match keep_score(&tenant, day, form.0, &key).await? {
        Some(Ok(())) => Ok(answer(&request, day)),
        Some(Err(why)) => Err(AppError::Malformed(why)),
        None => Ok(to_read(day)),
    }
}

#[derive(Deserialize)]
struct Taken {
    id: ResultId,
}

/// `POST /days/{day}/floor/unscore`: they are not done, after all.
#[post("/days/{day}/floor/unscore")]
async fn unscore(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
    form: Form<Taken>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let mut rows = tenant.change().await?;
    results::undo(&mut rows, day.day, form.id, (Some(&tenant.who.name), &tenant.gym)).await?;
    rows.keep().await?;
    Ok(answer(&request, day))
}

/// `GET /days/{day}/floor/live`: the class whenever something about it has changed.
#[get("/days/{day}/floor/live")]
async fn live(tenant: Tenant, path: web::Path<String>) -> Result<impl Responder, AppError> {
    let day = slot_of(&path)?;
    Ok(follow(tenant.state.clone(), tenant.id(), day, Audience::Coach))
}

/// Events for one screen, until it is gone: the whole class each time, so that one that missed a word is right with the next.
pub(crate) fn follow(state: web::Data<State>, gym: GymId, slot: Slot, audience: Audience) -> impl Responder {
    let (send, receive) = mpsc::channel(4);
    actix_web::rt::spawn(async move {
        let watched = state.hub.watch(gym.number(), slot);
        let ends = tokio::time::Instant::now() + LASTS;
        let mut changes = watched.changes();
        loop {
            changes.mark_unchanged();
            let made = async {
                let mut rows = state.store.look(gym).await?;
                let known = gyms::known(&mut rows).await?;
                drop(rows);
                let house = House::new(state.clone(), known, gym);
                Ok(class_shown(&house, slot, audience).await?.unwrap_or_else(|| Arc::from("null")))
            };
            // A database that is away for a moment says nothing: the screens go on by themselves.
            if let Ok(shown) = watched.shown(audience, made).await
                && send.send(sse::Data::new(&*shown).event("class").into()).await.is_err()
            {
                return;
            }
            tokio::select! {
                changed = changes.changed() => if changed.is_err() { return },
                () = send.closed() => return,
                () = state.hub.closes() => return,
                () = tokio::time::sleep_until(ends) => return,
            }
        }
    });
    sse::Sse::from_infallible_receiver(receive)
        .with_keep_alive(KEEP_ALIVE)
        .with_retry_duration(Duration::from_secs(1))
}

/// What the clock of a class reads, every second.
pub(crate) fn read_aloud(state: web::Data<State>, house: House, slot: Slot) -> impl Responder {
    let (send, receive) = mpsc::channel(2);
    actix_web::rt::spawn(async move {
        let watched = state.hub.watch(house.id().number(), slot);
        let mut changes = watched.changes();
        let ends = tokio::time::Instant::now() + LASTS;
        let mut known: Option<(Timeline, Vec<Event>)> = None;
        while tokio::time::Instant::now() < ends {
            if known.is_none() || changes.has_changed().unwrap_or(true) {
                changes.mark_unchanged();
                if let Ok(Some(now)) = line_and_events(&house, slot).await {
                    known = Some(now);
                }
            }
            if let Some((line, events)) = &known {
                let course = Course::after(line, events).at(state.beat.now_ms());
                let reads = format!("{} {}", course.reads(), course.state().name());
                if send.send(sse::Data::new(reads).into()).await.is_err() {
                    return;
                }
            }
            tokio::select! {
                () = state.hub.closes() => return,
                () = tokio::time::sleep(SECOND) => {}
            }
        }
    });
    sse::Sse::from_infallible_receiver(receive)
}

const SECOND: Duration = Duration::from_secs(1);

async fn line_and_events(house: &House, slot: Slot) -> Result<Option<(Timeline, Vec<Event>)>, AppError> {
    let events = running::of_class(&mut house.look().await?, (slot.day, slot.starts)).await?;
    let line = with_plan(house, slot, |planned| timeline(&planned.plan, &planned.catalogue)).await?;
    Ok(line.map(|line| (line, events)))
}

/// `GET /time`: what time it is for classes that run, and how it goes; for screens to set their clocks by.
#[get("/time")]
async fn time(state: web::Data<State>) -> HttpResponse {
    HttpResponse::Ok().json(serde_json::json!({ "now_ms": state.beat.now_ms(), "speed": state.beat.speed() }))
}
