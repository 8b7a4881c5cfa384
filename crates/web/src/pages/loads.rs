//! Loads: what goes on each bar, rack by rack, and what was lifted.

use std::collections::BTreeMap;

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, get, post, web};
use askama::Template;
use lantern_core::print::loads_csv;
use lantern_core::strength::Source;
use lantern_core::units::Kilograms;
use lantern_store::lifts::{self, NewLift};
use serde::Deserialize;

use super::planned::{Planned, to_read, with_plan};
use super::{gym, slot_of};
use crate::State;
use crate::error::{AppError, html_as};
use crate::filters;
use crate::slot::Slot;
use crate::view::cautions::CautionView;
use crate::view::loads::LoadTable;
use crate::view::strip::HourStrip;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(as_csv).service(enter).service(take_back);
}

#[derive(Template)]
#[template(path = "loads.html")]
struct LoadsPage {
    gym: String,
    day: Slot,
    day_name: String,
    strip: HourStrip,
    cautions: Vec<CautionView>,
    policy: &'static str,
    tables: Vec<LoadTable>,
    message: Option<Message>,
}

struct Message {
    bad: bool,
    words: String,
    /// The row to take back, when something was put on record.
    undo: Option<i64>,
}

#[derive(Deserialize)]
struct Shown {
    /// The row that was just put on record.
    entered: Option<i64>,
}

/// `GET /days/{day}/loads`
#[get("/days/{day}/loads")]
async fn show(
    state: web::Data<State>,
    path: web::Path<String>,
    query: web::Query<Shown>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let message = match query.entered {
        Some(row) => entered(&state, row).await?,
        None => None,
    };
    page(&state, day, message, StatusCode::OK).await
}

/// What a result came to.
async fn entered(state: &State, row: i64) -> Result<Option<Message>, AppError> {
    let (id, gym) = gym(state).await?;
    let all = lifts::of_gym(&state.store, id).await?;
    let Some(stored) = all.into_iter().find(|stored| stored.id == row) else { return Ok(None) };
    let record = stored.record(stored.set_on);
    let set = format!("{} x {}", record.reps, record.load.show(gym.unit));
    let words = match record.estimate(gym.formula) {
        Some(max) => {
            let max = Kilograms::from_kg(max.kg().round()).show(gym.unit);
            format!("Entered: {set} shows a 1RM of about {max}. Loads follow the {}.", gym.max_policy.name())
        }
        None => {
            format!("Entered: {set} stays on record; a miss, or more than ten repetitions, shows no 1RM.")
        }
    };
    Ok(Some(Message { bad: false, words, undo: Some(row) }))
}

async fn page(
    state: &web::Data<State>,
    day: Slot,
    message: Option<Message>,
    status: StatusCode,
) -> Result<HttpResponse, AppError> {
    let page = with_plan(state, day, move |planned| {
        let Planned { people, ids, gym, catalogue, plan, .. } = planned;
        let ids: BTreeMap<&str, i64> =
            people.iter().map(|member| member.name.as_str()).zip(ids.iter().copied()).collect();
        LoadsPage {
            gym: gym.name.clone(),
            day,
            day_name: day.name(),
            strip: HourStrip::new(&plan.hour, day),
            cautions: CautionView::at("loads", &plan.cautions),
            policy: gym.max_policy.name(),
            tables: plan.strength.iter().flat_map(|lift| LoadTable::of(lift, gym, catalogue, &ids)).collect(),
            message,
        }
    });
    match page.await? {
        Some(page) => html_as(status, &page),
        None => Ok(to_read(day)),
    }
}

/// `GET /days/{day}/loads.csv`
#[get("/days/{day}/loads.csv")]
async fn as_csv(state: web::Data<State>, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let csv =
        with_plan(&state, day, |planned| loads_csv(&planned.plan.strength, &planned.gym, &planned.catalogue));
    let csv = csv.await?.ok_or(AppError::NoSuchPage)?;
    Ok(HttpResponse::Ok()
        .content_type("text/csv; charset=utf-8")
        .insert_header(("Content-Disposition", format!("attachment; filename=\"loads-{day}.csv\"")))
        .body(csv))
}

/// What was lifted, as typed.
#[derive(Deserialize)]
struct Lifted {
    member: i64,
    lift: String,
    weight: String,
    reps: String,
    #[serde(default)]
    rpe: String,
    missed: Option<String>,
}

/// `POST /days/{day}/loads`: a result from the sheet becomes part of the member's history, and loads follow at once.
#[post("/days/{day}/loads")]
async fn enter(
    state: web::Data<State>,
    path: web::Path<String>,
    form: web::Form<Lifted>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let (id, gym) = gym(&state).await?;
    let set = match read_set(&form.weight, &form.reps, &form.rpe) {
        Ok(set) => set,
        Err(words) => {
            let message = Message { bad: true, words: format!("Not entered: {words}."), undo: None };
            return page(&state, day, Some(message), StatusCode::UNPROCESSABLE_ENTITY).await;
        }
    };
    let load = Kilograms::from_unit(set.weight, gym.unit);
    let new = NewLift {
        lift: &form.lift,
        load,
        reps: set.reps,
        rpe: set.rpe,
        missed: form.missed.is_some(),
        source: Source::ClassResult,
        set_on: day.day,
    };
    let row = lifts::add(&state.store, id, form.member, &new).await?;
    let to = format!("/days/{day}/loads?entered={row}");
    Ok(HttpResponse::SeeOther().insert_header(("Location", to)).finish())
}

/// `POST /days/{day}/loads/{row}/undo`: takes an entered result off the record again.
#[post("/days/{day}/loads/{row}/undo")]
async fn take_back(
    state: web::Data<State>,
    path: web::Path<(String, i64)>,
) -> Result<HttpResponse, AppError> {
    let (day, row) = path.into_inner();
    let day = slot_of(&day)?;
    let (id, _) = gym(&state).await?;
    lifts::remove(&state.store, id, row).await?;
    Ok(HttpResponse::SeeOther().insert_header(("Location", format!("/days/{day}/loads"))).finish())
}

/// A set whose numbers can be used.
pub(super) struct LiftedSet {
    pub weight: f64,
    pub reps: u32,
    pub rpe: Option<f64>,
}

/// Numbers of a set from what was typed, or which field is wrong.
pub(super) fn read_set(weight: &str, reps: &str, rpe: &str) -> Result<LiftedSet, String> {
    let number = |text: &str| text.trim().replace(',', ".").parse::<f64>().ok().filter(|n| n.is_finite());
    let weight_read = number(weight).filter(|n| (0.5..=1000.0).contains(n));
    let reps_read = number(reps).filter(|n| n.fract() == 0.0 && (1.0..=100.0).contains(n));
    let rpe_read = if rpe.trim().is_empty() {
        Some(None)
    } else {
        number(rpe).filter(|n| (5.0..=10.0).contains(n)).map(Some)
    };
    match (weight_read, reps_read, rpe_read) {
        (None, ..) => Err(format!("the weight `{}` is not between 0.5 and 1000", weight.trim())),
        (_, None, _) => Err(format!("the repetitions `{}` are not between 1 and 100", reps.trim())),
        (_, _, None) => Err(format!("the RPE `{}` is not between 5 and 10", rpe.trim())),
        (Some(weight), Some(reps), Some(rpe)) => Ok(LiftedSet { weight, reps: reps as u32, rpe }),
    }
}
