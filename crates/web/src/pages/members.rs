//! Members: who is in the class, and one member's file.

use actix_web::{HttpResponse, get, web};
use askama::Template;
use chrono::NaiveDate;
use lantern_core::movement::MovementId;
use lantern_core::pacing::Athlete;
use lantern_core::units::{Kilograms, clock_s};
use lantern_store::members::{self, StoredMember};

use super::{catalogue, gym, today};
use crate::State;
use crate::error::{AppError, html};
use crate::filters;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(list).service(show);
}

#[derive(Template)]
#[template(path = "members.html")]
struct MembersPage {
    gym: String,
    members: Vec<MemberRow>,
}

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
    reps: Vec<(String, u32)>,
    engine: String,
}

struct MaxRow {
    lift: String,
    weight: String,
    set_on: NaiveDate,
    weeks: i64,
    source: String,
}

/// `GET /members`
#[get("/members")]
async fn list(state: web::Data<State>) -> Result<HttpResponse, AppError> {
    let (id, gym) = gym(&state).await?;
    let stored = members::of_gym(&state.store, id, today()).await?;
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
    html(&MembersPage { gym: gym.name, members })
}

/// `GET /members/{id}`
#[get("/members/{id}")]
async fn show(state: web::Data<State>, path: web::Path<i64>) -> Result<HttpResponse, AppError> {
    let (gym_id, gym) = gym(&state).await?;
    let catalogue = catalogue(&state, gym_id).await?;
    let stored = members::of_gym(&state.store, gym_id, today()).await?;
    let StoredMember { id, member } =
        stored.into_iter().find(|stored| stored.id == *path).ok_or(AppError::NoSuchPage)?;
    let history = members::max_history(&state.store, gym_id, id).await?;
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
        gym: gym.name,
        name: member.name.clone(),
        experience: member.experience.name(),
        facts: facts.into_iter().flatten().collect(),
        limits: member.limits.iter().map(|limit| limit.text.clone()).collect(),
        home: member.home.clone(),
        maxes: history
            .into_iter()
            .map(|max| MaxRow {
                lift: catalogue.name(&MovementId::new(&max.lift)).to_owned(),
                weight: Kilograms::from_grams(max.grams.unsigned_abs()).show(gym.unit),
                weeks: (today() - max.set_on).num_weeks(),
                set_on: max.set_on,
                source: max.source,
            })
            .collect(),
        reps: member.best_reps.iter().map(|(id, reps)| (catalogue.name(id).to_owned(), *reps)).collect(),
        engine,
    })
}
