//! Loads: what goes on each bar, rack by rack, and what was lifted.

mod view;

use std::collections::BTreeMap;

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, get, post, web};
use askama::Template;
use lantern_core::decide::{Decision, LoadDecision};
use lantern_core::print::loads_csv;
use lantern_core::strength::followed::Set;
use lantern_core::strength::{LiftSheet, Record, Release, Source, to_be_asked};
use lantern_core::units::Kilograms;
use lantern_store::clock::now_text;
use lantern_store::lifts::{self, NewLift};
use lantern_store::{LiftId, MemberId};
use serde::Deserialize;

use crate::day::cautions::CautionView;
use crate::day::loads::view::LoadTable;
use crate::day::planned::{Planned, plan_page, to_read, with_plan};
use crate::day::strip::HourStrip;
use crate::day::typical::TypicalView;
use crate::day::{Of, slot_of};
use crate::mark::Mark;
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::request::{Form, Query};
use crate::respond::error::{AppError, html_as};
use crate::respond::filters;
use crate::respond::redirect::see_other;
use crate::respond::tables::{TableKind, download};

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(as_table).service(enter).service(take_back).service(release);
}

#[derive(Template)]
#[template(path = "day/loads/loads.html", blocks = ["main"])]
pub(crate) struct LoadsPage {
    gym: String,
    day: Slot,
    day_name: String,
    strip: HourStrip,
    cautions: Vec<CautionView>,
    policy: &'static str,
    pub tables: Vec<LoadTable>,
    typical: Option<TypicalView>,
    /// Nobody comes, so nobody has loads.
    nobody: bool,
    message: Option<Message>,
}

pub(crate) struct Message {
    bad: bool,
    words: String,
    /// The key to take it back with, when something was put on record.
    undo: Option<String>,
    /// The set and whose it is, where it shows a better max that nobody has been asked about.
    asks: Option<(MemberId, LiftId)>,
}

#[derive(Deserialize)]
struct Shown {
    /// The key of what was just put on record.
    entered: Option<String>,
}

/// `GET /days/{day}/loads`
#[get("/days/{day}/loads")]
async fn show(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
    query: Query<Shown>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    match &query.entered {
        Some(key) => page(&tenant, day, entered(&tenant, day, key).await?, StatusCode::OK).await,
        None => plan_page(&tenant, &request, day, move |planned| view(planned, day, None)).await,
    }
}

/// What a result came to.
async fn entered(tenant: &Tenant, day: Slot, key: &str) -> Result<Option<Message>, AppError> {
    let gym = tenant.gym.clone();
    let mut rows = tenant.look().await?;
    let Some(stored) = lifts::entered(&mut rows, day.day, key).await? else { return Ok(None) };
    let record = stored.record(stored.set_on);
    let history = lifts::of_members(&mut rows, &[stored.member_id], &[&stored.lift]).await?;
    let records: Vec<Record> = history.iter().map(|set| set.record(tenant.today())).collect();
    drop(rows);
    let of = (stored.member_id, stored.lift.clone());
    let guess = of_sheet(tenant, day, of, |sheet| sheet.max.as_ref().map(|max| max.value)).await?;
    let asked = to_be_asked(&records, gym.max_policy, gym.formula, guess).map(|(place, _)| history[place].id);
    let asks = asked.filter(|id| *id == stored.id).map(|id| (stored.member_id, id));
    let set = format!("{} x {}", record.reps, record.load.show(gym.unit));
    let words = match record.estimate(gym.formula) {
        Some(max) => {
            let max = Kilograms::from_kg(max.kg().round()).show(gym.unit);
            let follow = match (asks, stored.kept) {
                (Some(_), _) => "Count loads from it?".to_owned(),
                (_, Some(false)) => "Loads stay as they were.".to_owned(),
                _ => format!("Loads follow the {}.", gym.max_policy.name()),
            };
            format!("Entered: {set} shows a 1RM of about {max}. {follow}")
        }
        None => {
            format!("Entered: {set} stays on record; a miss, or more than ten repetitions, shows no 1RM.")
        }
    };
    Ok(Some(Message { bad: false, words, undo: Some(key.to_owned()), asks }))
}

async fn page(
    tenant: &Tenant,
    day: Slot,
    message: Option<Message>,
    status: StatusCode,
) -> Result<HttpResponse, AppError> {
    let page = with_plan(tenant, day, move |planned| view(planned, day, message));
    match page.await? {
        Some(page) => html_as(status, &page),
        None => Ok(to_read(day)),
    }
}

pub(crate) fn view(planned: &Planned, day: Slot, message: Option<Message>) -> LoadsPage {
    let Planned { people, ids, gym, catalogue, plan, .. } = planned;
    let known: BTreeMap<&str, (MemberId, Option<Mark>)> =
        people.iter().zip(ids).map(|(member, id)| (member.name.as_str(), (*id, Mark::of(member)))).collect();
    LoadsPage {
        gym: gym.name.clone(),
        day,
        day_name: day.name(gym.clock),
        strip: HourStrip::of(planned, day),
        cautions: CautionView::at("loads", planned),
        policy: gym.max_policy.name(),
        tables: plan.strength.iter().flat_map(|lift| LoadTable::of(lift, gym, catalogue, &known)).collect(),
        typical: TypicalView::of(planned),
        nobody: people.is_empty() && !plan.strength.is_empty(),
        message,
    }
}

/// `GET /days/{day}/loads.csv`, `.xlsx` or `.json`
#[get("/days/{day}/loads.{kind}")]
async fn as_table(tenant: Tenant, path: web::Path<(String, TableKind)>) -> Result<HttpResponse, AppError> {
    let (day, kind) = path.into_inner();
    let day = slot_of(&day)?;
    let csv = with_plan(&tenant, day, |planned| {
        loads_csv(&planned.plan.strength, &planned.gym, &planned.catalogue)
    });
    let csv = csv.await?.ok_or(AppError::NoSuchPage)?;
    download(csv, &format!("loads-{day}"), kind).await
}

/// What was lifted, as typed.
#[derive(Deserialize)]
struct Lifted {
    member: MemberId,
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
    tenant: Tenant,
    path: web::Path<String>,
    form: Form<Lifted>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let gym = tenant.gym.clone();
    let set = match read_set(&form.weight, &form.reps, &form.rpe) {
        Ok(set) => set,
        Err(words) => {
            let message =
                Message { bad: true, words: format!("Not entered: {words}."), undo: None, asks: None };
            return page(&tenant, day, Some(message), StatusCode::UNPROCESSABLE_ENTITY).await;
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
        kept: None,
        asked: None,
    };
    if !is_a_lift(&tenant, &form.lift).await? {
        let message =
            Message { bad: true, words: "Not entered: that is no lift.".to_owned(), undo: None, asks: None };
        return page(&tenant, day, Some(message), StatusCode::UNPROCESSABLE_ENTITY).await;
    }
    let asked = of_sheet(&tenant, day, (form.member, form.lift.clone()), Set::heaviest).await?;
    let new = NewLift { asked, ..new };
    let mut rows = tenant.change().await?;
    let key = lifts::add(&mut rows, form.member, &new).await?;
    rows.keep().await?;
    Ok(see_other(format!("/days/{day}/loads?entered={key}")))
}

/// What a member's sheet of a lift says; nothing where they have none.
async fn of_sheet<V: Send + 'static>(
    tenant: &Tenant,
    day: Slot,
    (member, lift): (MemberId, String),
    says: impl FnOnce(&LiftSheet) -> Option<V> + Send + 'static,
) -> Result<Option<V>, AppError> {
    let said = with_plan(tenant, day, move |planned| {
        let place = planned.ids.iter().position(|id| *id == member)?;
        let sheets = planned.plan.strength.iter().flat_map(|plan| &plan.sheets);
        let mut own = sheets.filter(|sheet| sheet.name == planned.people[place].name && sheet.lift == lift);
        says(own.next()?)
    });
    Ok(said.await?.flatten())
}

/// Whether an id is that of a movement with a weight, the gym's own among them.
pub(crate) async fn is_a_lift(tenant: &Tenant, lift: &str) -> Result<bool, AppError> {
    let catalogue = tenant.catalogue();
    Ok(catalogue.find(lift).is_some_and(|movement| movement.takes_weight()))
}

#[derive(Deserialize)]
struct Key {
    key: String,
}

/// `POST /days/{day}/loads/undo`: takes back what was just entered on this sheet, by the key that entering it gave.
#[post("/days/{day}/loads/undo")]
async fn take_back(
    tenant: Tenant,
    path: web::Path<String>,
    form: Form<Key>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let mut rows = tenant.change().await?;
    lifts::take_back(&mut rows, day.day, &form.key).await?;
    rows.keep().await?;
    Ok(see_other(format!("/days/{day}/loads")))
}

#[derive(Deserialize)]
struct Word {
    /// Row id of the member.
    member: MemberId,
    lift: String,
    #[serde(default)]
    hold: String,
}

/// `POST /days/{day}/loads/release`: on a coach's word a member lifts as written although their loads are held back; or is held again.
#[post("/days/{day}/loads/release")]
async fn release(
    tenant: Tenant,
    path: web::Path<String>,
    form: Form<Word>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let Word { member, lift, hold } = form.0;
    let known = with_plan(&tenant, day, move |planned| {
        let place = planned.ids.iter().position(|id| *id == member)?;
        Some((planned.people[place].name.clone(), now_text(&planned.gym)))
    });
    let Some((name, at)) = known.await?.flatten() else { return Err(AppError::NoSuchPage) };
    let by = tenant.who.name.clone();
    let decision = if hold.is_empty() {
        LoadDecision::Release(Release { member: name, lift, by, at })
    } else {
        LoadDecision::Hold { member: name, lift }
    };
    let did = crate::day::decide(&tenant, day, &[Decision::Loads(decision)], &Of::default()).await?;
    Ok(did.said_at(format_args!("/days/{day}/loads"), &format!("member-{member}")))
}

/// A set whose numbers can be used.
pub(crate) struct LiftedSet {
    pub weight: f64,
    pub reps: u32,
    pub rpe: Option<f64>,
}

/// Numbers of a set from what was typed, or which field is wrong.
pub(crate) fn read_set(weight: &str, reps: &str, rpe: &str) -> Result<LiftedSet, String> {
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
