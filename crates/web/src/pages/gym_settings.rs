//! Gym: the schools of thought that loads follow, and strength cycles.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, get, post, web};
use askama::Template;
use lantern_core::gym::{Gym, KippingSchool, PushUpSchool, ShrinkFirst, SwapSchool};
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::strength::cycle::{Cycle, WAVES, Wave};
use lantern_core::strength::{Formula, MaxPolicy};
use lantern_store::gyms;
use serde::Deserialize;

use super::{catalogue, gym};
use crate::State;
use crate::error::{AppError, html, html_as};
use crate::filters;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(choose).service(keep_cycle).service(remove_cycle);
}

#[derive(Template)]
#[template(path = "gym.html")]
struct GymPage {
    gym: String,
    settings: Gym,
    policies: [MaxPolicy; 3],
    formulas: [Formula; 5],
    training_max: u32,
    schools: Vec<SchoolView>,
    lifts: Vec<(String, String)>,
    cycles: Vec<CycleView>,
    /// A cycle being written, as typed.
    draft: CycleForm,
    waves: &'static [Wave],
    problems: Vec<String>,
    message: Option<String>,
}

/// A question on which coaches differ, with its answers.
struct SchoolView {
    question: &'static str,
    name: &'static str,
    /// Key, words, and whether it is the gym's.
    answers: Vec<(String, &'static str, bool)>,
}

/// The questions about versions, as they are sent by the form.
fn schools(gym: &Gym) -> Vec<SchoolView> {
    macro_rules! view {
        ($question:literal, $name:literal, $school:ident, $chosen:expr) => {
            SchoolView {
                question: $question,
                name: $name,
                answers: $school::ALL
                    .iter()
                    .map(|answer| (answer.key(), answer.words(), *answer == $chosen))
                    .collect(),
            }
        };
    }
    vec![
        view!("Swapping a skill keeps", "swap", SwapSchool, gym.swap_school),
        view!("A push-up is made easier", "push_up", PushUpSchool, gym.push_up_school),
        view!("What shrinks first", "shrink", ShrinkFirst, gym.shrink_first),
        view!("Kipping", "kipping", KippingSchool, gym.kipping),
    ]
}

struct CycleView {
    name: String,
    lift: String,
    weeks: Vec<String>,
}

/// A cycle as typed: a line a week.
#[derive(Clone, Default, Deserialize)]
struct CycleForm {
    #[serde(default)]
    name: String,
    #[serde(default)]
    lift: String,
    #[serde(default)]
    weeks: String,
}

#[derive(Deserialize)]
struct Asked {
    /// A usual wave to start from.
    wave: Option<usize>,
    /// A cycle to write on.
    cycle: Option<usize>,
}

/// `GET /gym`
#[get("/gym")]
async fn show(state: web::Data<State>, query: web::Query<Asked>) -> Result<HttpResponse, AppError> {
    let (id, gym) = gym(&state).await?;
    let catalogue = catalogue(&state, id).await?;
    let mut draft = CycleForm::default();
    if let Some(wave) = query.wave.and_then(|n| WAVES.get(n)) {
        draft =
            CycleForm { name: wave.name.to_owned(), lift: "back-squat".into(), weeks: wave.weeks.join("\n") };
    } else if let Some(cycle) = query.cycle.and_then(|n| gym.cycles.get(n)) {
        let Cycle { name, lift, weeks } = cycle.clone();
        draft = CycleForm { name, lift, weeks: weeks.join("\n") };
    }
    html(&page(&gym, &catalogue, draft))
}

fn page(gym: &Gym, catalogue: &Catalogue, draft: CycleForm) -> GymPage {
    let lifts = catalogue.iter().filter(|movement| movement.is_barbell());
    GymPage {
        gym: gym.name.clone(),
        policies: MaxPolicy::ALL,
        formulas: Formula::ALL,
        training_max: (gym.training_max * 100.0).round() as u32,
        schools: schools(gym),
        lifts: lifts.map(|movement| (movement.id.to_string(), movement.name.clone())).collect(),
        cycles: gym
            .cycles
            .iter()
            .map(|cycle| CycleView {
                name: cycle.name.clone(),
                lift: catalogue.name(&MovementId::new(&cycle.lift)).to_owned(),
                weeks: cycle.weeks.clone(),
            })
            .collect(),
        settings: gym.clone(),
        draft,
        waves: WAVES,
        problems: Vec::new(),
        message: None,
    }
}

#[derive(Deserialize)]
struct Choices {
    policy: MaxPolicy,
    formula: Formula,
    training_max: String,
    racks: String,
    class_minutes: String,
    infer: Option<String>,
    #[serde(default)]
    swap: String,
    #[serde(default)]
    push_up: String,
    #[serde(default)]
    shrink: String,
    #[serde(default)]
    kipping: String,
}

/// `POST /gym`: schools and numbers.
#[post("/gym")]
async fn choose(state: web::Data<State>, form: web::Form<Choices>) -> Result<HttpResponse, AppError> {
    let (id, mut gym) = gym(&state).await?;
    let number = |text: &str, range: std::ops::RangeInclusive<u32>| {
        text.trim().parse::<u32>().ok().filter(|n| range.contains(n))
    };
    let mut problems = Vec::new();
    match number(&form.training_max, 50..=100) {
        Some(percent) => gym.training_max = f64::from(percent) / 100.0,
        None => problems.push(format!("training max: `{}` is not from 50 to 100 %", form.training_max)),
    }
    match number(&form.racks, 1..=60) {
        Some(racks) => gym.racks = racks,
        None => problems.push(format!("racks: `{}` is not from 1 to 60", form.racks)),
    }
    match number(&form.class_minutes, 30..=90) {
        Some(minutes) => gym.class_minutes = minutes,
        None => problems.push(format!("class: `{}` is not from 30 to 90 minutes", form.class_minutes)),
    }
    (gym.max_policy, gym.formula, gym.infer_maxes) = (form.policy, form.formula, form.infer.is_some());
    // A form without the questions leaves the gym's answers as they are.
    gym.swap_school = SwapSchool::from_key(&form.swap).unwrap_or(gym.swap_school);
    gym.push_up_school = PushUpSchool::from_key(&form.push_up).unwrap_or(gym.push_up_school);
    gym.shrink_first = ShrinkFirst::from_key(&form.shrink).unwrap_or(gym.shrink_first);
    gym.kipping = KippingSchool::from_key(&form.kipping).unwrap_or(gym.kipping);
    if !problems.is_empty() {
        let catalogue = catalogue(&state, id).await?;
        let page = GymPage { problems, ..page(&gym, &catalogue, CycleForm::default()) };
        return html_as(StatusCode::UNPROCESSABLE_ENTITY, &page);
    }
    gyms::save(&state.store, id, &gym).await?;
    Ok(to_gym())
}

/// `POST /gym/cycles`: a cycle, new or under a name that stands already.
#[post("/gym/cycles")]
async fn keep_cycle(state: web::Data<State>, form: web::Form<CycleForm>) -> Result<HttpResponse, AppError> {
    let (id, mut gym) = gym(&state).await?;
    let catalogue = catalogue(&state, id).await?;
    let lines = form.weeks.lines().map(str::trim).filter(|line| !line.is_empty());
    let cycle = Cycle {
        name: form.name.trim().to_owned(),
        lift: form.lift.trim().to_owned(),
        weeks: lines.map(str::to_owned).collect(),
    };
    let problems = cycle.problems(&catalogue);
    if !problems.is_empty() {
        let page = GymPage { problems, ..page(&gym, &catalogue, form.into_inner()) };
        return html_as(StatusCode::UNPROCESSABLE_ENTITY, &page);
    }
    match gym.cycles.iter_mut().find(|known| known.name == cycle.name || known.lift == cycle.lift) {
        Some(known) => *known = cycle,
        None => gym.cycles.push(cycle),
    }
    gyms::save(&state.store, id, &gym).await?;
    Ok(to_gym())
}

/// `POST /gym/cycles/{place}/remove`: comes back as a draft, so that one click keeps it again.
#[post("/gym/cycles/{place}/remove")]
async fn remove_cycle(state: web::Data<State>, path: web::Path<usize>) -> Result<HttpResponse, AppError> {
    let (id, mut gym) = gym(&state).await?;
    if *path >= gym.cycles.len() {
        return Err(AppError::NoSuchPage);
    }
    let Cycle { name, lift, weeks } = gym.cycles.remove(*path);
    gyms::save(&state.store, id, &gym).await?;
    let catalogue = catalogue(&state, id).await?;
    let message = Some(format!("{name} is removed. It stands below as it was; Keep brings it back."));
    let draft = CycleForm { name, lift, weeks: weeks.join("\n") };
    html(&GymPage { message, ..page(&gym, &catalogue, draft) })
}

fn to_gym() -> HttpResponse {
    HttpResponse::SeeOther().insert_header(("Location", "/gym")).finish()
}
