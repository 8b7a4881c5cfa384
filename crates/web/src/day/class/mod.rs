//! Classes: when they are, who is booked, and the feed for calendars.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, get, post, web};
use askama::Template;
use chrono::{Days, Duration};
use icalendar::{Calendar, Component, Event, EventLike};
use lantern_core::gym::ClockFace;
use lantern_store::classes::{self, NewClass};
use lantern_store::keys::Opens;
use lantern_store::members::StoredMember;
use lantern_store::rows::StoredClass;
use lantern_store::{MemberId, bookings, clock, members, sessions};
use serde::Deserialize;

use crate::State;
use crate::day::slot_of;
use crate::planning::plans::reading_of;
use crate::request::house::House;
use crate::request::slot::Slot;
use crate::request::tenant::{AnyRole, Tenant};
use crate::request::{Form, typed};
use crate::respond::error::{AppError, html_as};
use crate::respond::filters;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config
        .service(show)
        .service(book)
        .service(take_bookings)
        .service(add)
        .service(remove)
        .service(own_calendar)
        .service(secret_calendar);
}

/// Days that the calendar feed looks back and ahead.
const CALENDAR_DAYS: (u64, u64) = (7, 28);

#[derive(Template)]
#[template(path = "day/class/class.html")]
struct ClassPage {
    gym: String,
    day: Slot,
    day_name: String,
    minutes: u32,
    coach: String,
    people: Vec<Person>,
    booked: usize,
    /// A feed as typed, with what was wrong in it.
    feed: String,
    problems: Vec<String>,
    message: Option<String>,
}

struct Person {
    id: MemberId,
    name: String,
    booked: bool,
}

/// A class as typed.
#[derive(Clone, Deserialize)]
struct ClassForm {
    starts: String,
    minutes: String,
    #[serde(default)]
    coach: String,
}

impl ClassForm {
    fn read(&self, day: Slot) -> Result<NewClass, AppError> {
        let starts = ClockFace::typed(&self.starts)
            .ok_or_else(|| AppError::field("starts", &self.starts, "a time such as 18:00"))?;
        let minutes = self.minutes.trim().parse().ok().filter(|minutes| (30..=90).contains(minutes));
        let minutes = minutes.ok_or_else(|| AppError::field("minutes", &self.minutes, "from 30 to 90"))?;
        let coach = self.coach.split_whitespace().collect::<Vec<_>>().join(" ").chars().take(60).collect();
        Ok(NewClass { day: day.day, starts, minutes, coach })
    }
}

/// `GET /days/{day}T18:00/class`: who is booked.
#[get("/days/{day}/class")]
async fn show(tenant: Tenant, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    page(&tenant, slot_of(&path)?, String::new(), Vec::new(), None, StatusCode::OK).await
}

async fn page(
    tenant: &Tenant,
    day: Slot,
    feed: String,
    problems: Vec<String>,
    message: Option<String>,
    status: StatusCode,
) -> Result<HttpResponse, AppError> {
    let (class, known, gym) = class_and_members(tenant, day).await?;
    let people = known.into_iter().map(|stored| Person {
        booked: class.booked.contains(&stored.id),
        id: stored.id,
        name: stored.member.name,
    });
    let page = ClassPage {
        gym,
        day,
        day_name: day.name(tenant.gym.clock),
        minutes: class.minutes,
        coach: class.coach,
        people: people.collect(),
        booked: class.booked.len(),
        feed,
        problems,
        message,
    };
    html_as(status, &page)
}

async fn class_and_members(
    tenant: &Tenant,
    day: Slot,
) -> Result<(StoredClass, Vec<StoredMember>, String), AppError> {
    let starts = day.starts.ok_or(AppError::NoSuchPage)?;
    let mut rows = tenant.look().await?;
    let class = classes::at(&mut rows, day.day, starts).await?.ok_or(AppError::NoSuchPage)?;
    let known = members::of_gym(&mut rows, &tenant.gym, tenant.today()).await?;
    Ok((class, known, tenant.gym.name.clone()))
}

/// `POST /days/{day}T18:00/class`: exactly the members ticked are booked.
#[post("/days/{day}/class")]
async fn book(
    tenant: Tenant,
    path: web::Path<String>,
    form: Form<Vec<(String, String)>>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let (class, ..) = class_and_members(&tenant, day).await?;
    let ticked = form.iter().filter(|(field, _)| field == "booked");
    let who: Vec<MemberId> = ticked.filter_map(|(_, id)| id.parse().ok()).collect();
    let mut rows = tenant.change().await?;
    classes::book(&mut rows, class.id, &who).await?;
    rows.keep().await?;
    Ok(see_other(format!("/days/{day}/hour")))
}

#[derive(Deserialize)]
struct FeedForm {
    #[serde(default)]
    feed: String,
    /// Set when the stand-in for a booking service is to be asked instead.
    #[serde(default)]
    stand_in: String,
}

/// `POST /days/{day}T18:00/bookings`: bookings from a feed, pasted or from the stand-in.
#[post("/days/{day}/bookings")]
async fn take_bookings(
    tenant: Tenant,
    path: web::Path<String>,
    form: Form<FeedForm>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let (class, known, _) = class_and_members(&tenant, day).await?;
    let names = known.iter().map(|stored| stored.member.name.as_str());
    let feed =
        if form.stand_in.is_empty() { form.0.feed } else { bookings::stand_in(day.day, class.starts, names) };
    let (booked, problems) = bookings::from_csv(&feed, class.starts, &known);
    if booked.is_empty() && !problems.is_empty() {
        return page(&tenant, day, feed, problems, None, StatusCode::UNPROCESSABLE_ENTITY).await;
    }
    let mut rows = tenant.change().await?;
    classes::book(&mut rows, class.id, &booked).await?;
    rows.keep().await?;
    let message = Some(format!("{} booked from the feed.", booked.len()));
    let feed = if problems.is_empty() { String::new() } else { feed };
    page(&tenant, day, feed, problems, message, StatusCode::OK).await
}

/// `POST /days/{day}/classes`: a class more, or other minutes and another coach for the one that starts then.
#[post("/days/{day}/classes")]
async fn add(
    tenant: Tenant,
    path: web::Path<String>,
    form: Form<ClassForm>,
) -> Result<HttpResponse, AppError> {
    let class = form.read(slot_of(&path)?)?;
    let mut rows = tenant.change().await?;
    classes::put(&mut rows, &class).await?;
    rows.keep().await?;
    let day = Slot { day: class.day, starts: Some(class.starts) };
    Ok(see_other(format!("/days/{day}/class")))
}

/// `POST /days/{day}T18:00/class/remove`
#[post("/days/{day}/class/remove")]
async fn remove(tenant: Tenant, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let (class, ..) = class_and_members(&tenant, day).await?;
    let mut rows = tenant.change().await?;
    let key = classes::remove(&mut rows, &class).await?;
    rows.keep().await?;
    Ok(see_other(format!("/days?from={}&removed={key}", day.day)))
}

/// `GET /classes.ics`: the classes of the next weeks for any calendar, as moments that every zone understands. No names of members.
#[get("/classes.ics")]
async fn own_calendar(tenant: Tenant<AnyRole>) -> Result<HttpResponse, AppError> {
    calendar_of(&tenant).await
}

/// `GET /calendar/{key}/classes.ics`: the same at a secret address, for calendars that sign in nowhere.
#[get("/calendar/{key}/classes.ics")]
async fn secret_calendar(state: web::Data<State>, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let house = House::of_key(state, (Opens::Calendar, None), &path).await?.ok_or(AppError::NoSuchPage)?;
    calendar_of(&house).await
}

async fn calendar_of(house: &House) -> Result<HttpResponse, AppError> {
    let gym = house.gym.clone();
    let (from, to) = (house.today() - Days::new(CALENDAR_DAYS.0), house.today() + Days::new(CALENDAR_DAYS.1));
    let mut rows = house.look_since().await?;
    let classes = classes::between(&mut rows, from, to).await?;
    let days = sessions::between(&mut rows, from, to).await?;
    let catalogue = house.catalogue();
    drop(rows);
    let mut calendar = Calendar::new().name(&typed(&gym.name)).timezone(clock::zone(&gym).name()).done();
    for class in classes {
        let starts = clock::moment(&gym, class.day, class.starts);
        let day = Slot { day: class.day, starts: Some(class.starts) };
        let title = if class.coach.is_empty() {
            "Class".to_owned()
        } else {
            format!("Class with {}", typed(&class.coach))
        };
        let mut event = Event::new();
        event
            .uid(&format!("class-{}-{day}@gym-{}.honest-lantern", class.id, house.id()))
            .timestamp(chrono::Utc::now())
            .summary(&format!("{title}, {} booked", class.booked.len()))
            .location(&typed(&gym.name))
            .starts(starts)
            .ends(starts + Duration::minutes(i64::from(class.minutes)));
        if let Some(session) = days.iter().find(|session| session.day == class.day) {
            let reading = reading_of(&session.text, &session.corrections, &gym, &catalogue);
            event.description(&typed(&lantern_core::print::session_text(&reading.session, &catalogue)));
        }
        calendar.push(event.done());
    }
    Ok(HttpResponse::Ok().content_type("text/calendar; charset=utf-8").body(calendar.to_string()))
}
