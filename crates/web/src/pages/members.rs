//! Members: who is in the class, and one member's file.

use actix_web::{HttpResponse, get, post, web};
use askama::Template;
use chrono::NaiveDate;
use lantern_core::gym::Gym;
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::pacing::Athlete;
use lantern_core::strength::{Estimate, Source, max_for};
use lantern_core::units::{Kilograms, clock_s, plain};
use lantern_store::lifts::{self, NewLift, StoredLift};
use lantern_store::members::{self, StoredMember};
use serde::Deserialize;

use super::drop_in::DropInForm;
use super::loads::read_set;
use super::{catalogue, gym, today};
use crate::State;
use crate::error::{AppError, html};
use crate::filters;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(list).service(show).service(add_lift).service(remove_lift);
}

#[derive(Template)]
#[template(path = "members.html")]
pub(super) struct MembersPage {
    gym: String,
    members: Vec<MemberRow>,
    /// The drop-in form as typed, with what is wrong with it.
    drop_in: DropInForm,
    experiences: [(&'static str, &'static str); 4],
    message: Option<String>,
}

/// Experience as a drop-in is asked for it.
const EXPERIENCES: [(&str, &str); 4] = [
    ("new", "some weeks"),
    ("beginner", "under a year"),
    ("intermediate", "years, regularly"),
    ("advanced", "years, and competes"),
];

struct MemberRow {
    id: i64,
    name: String,
    experience: &'static str,
    squat: String,
    deadlift: String,
    press: String,
    pull_ups: String,
    row: String,
    limits: usize,
}

#[derive(Template)]
#[template(path = "member.html")]
struct MemberPage {
    gym: String,
    name: String,
    experience: &'static str,
    facts: Vec<(&'static str, String)>,
    limits: Vec<String>,
    home: String,
    maxes: Vec<MaxRow>,
    /// Lift, 1RM with its range, and where it comes from.
    counted: Vec<(String, String, String)>,
    policy: &'static str,
    unit: &'static str,
    lifts: Vec<(String, String)>,
    today: NaiveDate,
    /// The day since which the member has been away; empty when not.
    away_since: String,
    undo: Option<Removed>,
    id: i64,
    reps: Vec<(String, u32)>,
    engine: String,
}

struct MaxRow {
    id: i64,
    lift_id: String,
    lift: String,
    /// `5 x 90 kg`.
    set: String,
    /// What it shows, where it shows anything.
    shows: String,
    set_on: NaiveDate,
    weeks: i64,
    source: String,
}

/// A lift that was just taken off the record, with all that brings it back.
struct Removed {
    lift: String,
    weight: String,
    reps: String,
    rpe: String,
    on: String,
    source: String,
}

fn max_row(lifted: &StoredLift, gym: &Gym, catalogue: &Catalogue) -> MaxRow {
    let record = lifted.record(today());
    let rpe = record.rpe.map_or(String::new(), |rpe| format!(" at RPE {}", plain(rpe)));
    let missed = if record.missed { ", missed" } else { "" };
    MaxRow {
        id: lifted.id,
        lift_id: lifted.lift.clone(),
        lift: catalogue.name(&MovementId::new(&lifted.lift)).to_owned(),
        set: format!("{} x {}{rpe}{missed}", record.reps, record.load.show(gym.unit)),
        shows: record.estimate(gym.formula).map_or("nothing".to_owned(), |max| {
            Kilograms::from_kg((max.kg() * 2.0).round() / 2.0).show(gym.unit)
        }),
        weeks: i64::from(record.days_old / 7),
        set_on: lifted.set_on,
        source: lifted.source.clone(),
    }
}

fn show_max(max: &Estimate, gym: &Gym) -> String {
    let half = |weight: Kilograms| plain((weight.in_unit(gym.unit) * 2.0).round() / 2.0);
    format!("{} ({}-{}) {}", half(max.value), half(max.low), half(max.high), gym.unit)
}

/// `GET /members`
#[get("/members")]
async fn list(state: web::Data<State>) -> Result<HttpResponse, AppError> {
    html(&page(&state, DropInForm::default(), None).await?)
}

/// The page, with the drop-in form as it was typed.
pub(super) async fn page(
    state: &State,
    drop_in: DropInForm,
    message: Option<String>,
) -> Result<MembersPage, AppError> {
    let (id, gym) = gym(state).await?;
    let stored = members::of_gym(&state.store, id, &gym, today()).await?;
    let unit = gym.unit;
    let members = stored
        .iter()
        .map(|StoredMember { id, member }| {
            let max = |lift: &str| {
                member.maxes.get(&MovementId::new(lift)).map_or("-".to_owned(), |max| max.value.show(unit))
            };
            MemberRow {
                id: *id,
                name: member.name.clone(),
                experience: member.experience.name(),
                squat: max("back-squat"),
                deadlift: max("deadlift"),
                press: max("strict-press"),
                pull_ups: member.best("pull-up").map_or("-".to_owned(), |n| n.to_string()),
                row: member.row_2k_s.map_or("-".to_owned(), clock_s),
                limits: member.limits.len(),
            }
        })
        .collect();
    Ok(MembersPage { gym: gym.name, members, drop_in, experiences: EXPERIENCES, message })
}

/// `GET /members/{id}`
#[get("/members/{id}")]
async fn show(
    state: web::Data<State>,
    path: web::Path<i64>,
    query: web::Query<TypedLift>,
) -> Result<HttpResponse, AppError> {
    let (gym_id, gym) = gym(&state).await?;
    let catalogue = catalogue(&state, gym_id).await?;
    let stored = members::of_gym(&state.store, gym_id, &gym, today()).await?;
    let StoredMember { id, member } =
        stored.into_iter().find(|stored| stored.id == *path).ok_or(AppError::NoSuchPage)?;
    let history = lifts::of_member(&state.store, gym_id, id).await?;
    let athlete = Athlete::new(&member);
    let basis = if member.row_2k_s.is_some() || member.run_1600_s.is_some() {
        "from own times"
    } else {
        "a guess from experience"
    };
    let engine = format!("about {:.0} W over 2000 m, {basis}", athlete.watts_2k);
    let fact = |name, value: Option<String>| value.map(|value| (name, value));
    let facts = [
        fact("Age", member.age.map(|age| age.to_string())),
        fact("Bodyweight", member.bodyweight.map(|weight| weight.show(gym.unit))),
        fact("2000 m row", member.row_2k_s.map(clock_s)),
        fact("400 m run", member.run_400_s.map(clock_s)),
        fact("1600 m run", member.run_1600_s.map(clock_s)),
    ];
    html(&MemberPage {
        gym: gym.name.clone(),
        name: member.name.clone(),
        experience: member.experience.name(),
        facts: facts.into_iter().flatten().collect(),
        limits: member.limits.iter().map(|limit| limit.text.clone()).collect(),
        home: member.home.clone(),
        maxes: history.into_iter().map(|lifted| max_row(&lifted, &gym, &catalogue)).collect(),
        counted: member
            .maxes
            .keys()
            .filter_map(|lift| max_for(&member, lift, &catalogue))
            .map(|max| (catalogue.name(&max.lift).to_owned(), show_max(&max, &gym), max.basis))
            .collect(),
        policy: gym.max_policy.name(),
        unit: gym.unit.name(),
        lifts: catalogue
            .iter()
            .filter(|movement| movement.is_barbell())
            .map(|movement| (movement.id.to_string(), movement.name.clone()))
            .collect(),
        today: today(),
        away_since: member
            .away_days
            .and_then(|days| today().checked_sub_days(chrono::Days::new(u64::from(days))))
            .map_or(String::new(), |day| day.to_string()),
        undo: removed_of(&query),
        id,
        reps: member.best_reps.iter().map(|(id, reps)| (catalogue.name(id).to_owned(), *reps)).collect(),
        engine,
    })
}

/// A lift for the record, as typed; or one just removed, in an address.
#[derive(Clone, Default, Deserialize)]
struct TypedLift {
    #[serde(default)]
    lift: String,
    #[serde(default)]
    weight: String,
    #[serde(default)]
    reps: String,
    #[serde(default)]
    rpe: String,
    #[serde(default)]
    on: String,
    #[serde(default)]
    source: String,
    missed: Option<String>,
}

fn removed_of(query: &TypedLift) -> Option<Removed> {
    let TypedLift { lift, weight, reps, rpe, on, source, .. } = query.clone();
    (!lift.is_empty()).then_some(Removed { lift, weight, reps, rpe, on, source })
}

/// `POST /members/{id}/lifts`: a lift for the record.
#[post("/members/{id}/lifts")]
async fn add_lift(
    state: web::Data<State>,
    path: web::Path<i64>,
    form: web::Form<TypedLift>,
) -> Result<HttpResponse, AppError> {
    let (gym_id, gym) = gym(&state).await?;
    let set = read_set(&form.weight, &form.reps, &form.rpe).map_err(AppError::Malformed)?;
    let set_on: NaiveDate =
        form.on.parse().ok().filter(|on| *on <= today()).ok_or_else(|| {
            AppError::Malformed(format!("the date `{}` is none, or still to come", form.on))
        })?;
    let new = NewLift {
        lift: &form.lift,
        load: Kilograms::from_unit(set.weight, gym.unit),
        reps: set.reps,
        rpe: set.rpe,
        missed: form.missed.is_some(),
        source: Source::named(&form.source),
        set_on,
    };
    lifts::add(&state.store, gym_id, *path, &new).await?;
    Ok(HttpResponse::SeeOther().insert_header(("Location", format!("/members/{}", *path))).finish())
}

/// `POST /members/{id}/lifts/{row}/remove`: comes back by one click.
#[post("/members/{id}/lifts/{row}/remove")]
async fn remove_lift(state: web::Data<State>, path: web::Path<(i64, i64)>) -> Result<HttpResponse, AppError> {
    let (member, row) = path.into_inner();
    let (gym_id, gym) = gym(&state).await?;
    let history = lifts::of_member(&state.store, gym_id, member).await?;
    let lifted = history.into_iter().find(|lifted| lifted.id == row).ok_or(AppError::NoSuchPage)?;
    lifts::remove(&state.store, gym_id, row).await?;
    let weight = plain(Kilograms::from_grams(lifted.grams.unsigned_abs()).in_unit(gym.unit));
    let rpe = lifted.rpe.map_or(String::new(), |rpe| rpe.to_string());
    let source = lifted.source.replace(' ', "%20");
    let to = format!(
        "/members/{member}?lift={}&weight={weight}&reps={}&rpe={rpe}&on={}&source={source}",
        lifted.lift, lifted.reps, lifted.set_on
    );
    Ok(HttpResponse::SeeOther().insert_header(("Location", to)).finish())
}
