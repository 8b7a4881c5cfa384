//! Gym: the schools of thought that loads follow, and strength cycles.

pub(crate) mod bring_in;
mod cycles;
mod health;
pub(crate) mod inventory;
pub(crate) mod movements;
pub(crate) mod results;

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, get, post, web};
use askama::Template;
use lantern_core::gym::{ClockFace, Gym, KippingSchool, PushUpSchool, ShrinkFirst, SwapSchool};
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::read::corrections::CorrectionKind;
use lantern_core::strength::cycle::{Cycle, WAVES, Wave};
use lantern_core::strength::{Formula, MaxPolicy};
use lantern_store::{clock, gyms};
use serde::Deserialize;

use crate::removed::{Undo, undo};
use crate::request::tenant::{Owning, Tenant};
use crate::request::{Form, Query};
use crate::respond::error::{AppError, html, html_as};
use crate::respond::filters;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    bring_in::routes(config);
    health::routes(config);
    inventory::routes(config);
    movements::routes(config);
    results::routes(config);
    config
        .service(show)
        .service(choose)
        .service(keep_cycle)
        .service(remove_cycle)
        .service(forget_habit)
        .service(forget_hand)
        .service(as_toml);
}

#[derive(Template)]
#[template(path = "gym/gym.html")]
struct GymPage {
    gym: String,
    settings: Gym,
    policies: [MaxPolicy; 3],
    formulas: [Formula; 5],
    training_max: u32,
    schools: Vec<SchoolView>,
    lifts: Vec<(String, String)>,
    cycles: Vec<CycleView>,
    /// How the gym writes, as corrections have taught.
    habits: Vec<HabitView>,
    /// What is always done to versions.
    hand_habits: Vec<HandHabitView>,
    /// A cycle being written, as typed.
    draft: CycleForm,
    waves: &'static [Wave],
    problems: Vec<String>,
    undo: Option<Undo>,
    zones: Vec<&'static str>,
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
        view!("The time of day is told as", "clock", ClockFace, gym.clock),
    ]
}

struct CycleView {
    name: String,
    lift: String,
    weeks: Vec<String>,
}

struct HandHabitView {
    words: String,
    stands: bool,
    /// As the button sends it.
    value: String,
}

struct HabitView {
    words: String,
    origin: String,
    /// `kind|words`, for the button that forgets it.
    key: String,
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
    /// The key of what was just removed.
    removed: Option<String>,
}

/// `GET /gym`
#[get("/gym")]
async fn show(tenant: Tenant, query: Query<Asked>) -> Result<HttpResponse, AppError> {
    let gym = tenant.gym.clone();
    let catalogue = tenant.catalogue();
    let mut draft = CycleForm::default();
    if let Some(wave) = query.wave.and_then(|n| WAVES.get(n)) {
        draft =
            CycleForm { name: wave.name.to_owned(), lift: "back-squat".into(), weeks: wave.weeks.join("\n") };
    } else if let Some(cycle) = query.cycle.and_then(|n| gym.cycles.get(n)) {
        let Cycle { name, lift, weeks } = cycle.clone();
        draft = CycleForm { name, lift, weeks: weeks.join("\n") };
    }
    let undo = undo(&mut tenant.look().await?, query.removed.as_deref(), tenant.gym.clock).await?;
    html(&GymPage { undo, ..page(&gym, &catalogue, draft) })
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
        habits: gym
            .habits
            .iter()
            .map(|habit| HabitView {
                words: habit.in_words(),
                origin: habit.origin.clone(),
                key: format!("{}|{}", kind_key(habit.kind), habit.words),
            })
            .collect(),
        hand_habits: gym
            .hand_habits
            .iter()
            .map(|habit| HandHabitView {
                words: habit.words(catalogue),
                stands: habit.stands(),
                value: serde_json::to_string(habit).unwrap_or_default(),
            })
            .collect(),
        settings: gym.clone(),
        draft,
        waves: WAVES,
        problems: Vec::new(),
        undo: None,
        zones: clock::zones().collect(),
    }
}

/// `POST /gym`: schools and numbers, field by field: what the form shows as it was is left as somebody else may have set it meanwhile.
#[post("/gym")]
async fn choose(tenant: Tenant<Owning>, form: Form<Vec<(String, String)>>) -> Result<HttpResponse, AppError> {
    let gym = tenant.gym.clone();
    let fields = ChangedFields(&form);
    let mut trial = gym.clone();
    let problems = choices(&mut trial, &fields);
    if !problems.is_empty() {
        let catalogue = tenant.catalogue();
        let page = GymPage { problems, ..page(&gym, &catalogue, CycleForm::default()) };
        return html_as(StatusCode::UNPROCESSABLE_ENTITY, &page);
    }
    let mut rows = tenant.change().await?;
    gyms::change(&mut rows, |gym| {
        choices(gym, &fields);
        Ok(())
    })
    .await?;
    rows.keep().await?;
    Ok(to_gym())
}

/// The fields of a form that somebody changed: beside each stands what it was when the form was shown. A field without that was changed.
pub(crate) struct ChangedFields<'a>(pub &'a [(String, String)]);

impl ChangedFields<'_> {
    pub fn get(&self, name: &str) -> Option<&str> {
        let field =
            |name: &str| self.0.iter().find(|(known, _)| known == name).map(|(_, value)| value.trim());
        let now = field(name)?;
        let before = field(&format!("was_{name}"));
        (before != Some(now)).then_some(now)
    }
}

/// Makes the changes of a form; gives what is wrong with which field.
fn choices(gym: &mut Gym, fields: &ChangedFields<'_>) -> Vec<String> {
    fn named<T: serde::de::DeserializeOwned>(text: &str) -> Option<T> {
        serde_json::from_value(serde_json::Value::String(text.to_owned())).ok()
    }
    let number = |text: &str, range: std::ops::RangeInclusive<u32>| {
        text.parse::<u32>().ok().filter(|n| range.contains(n))
    };
    let mut problems = Vec::new();
    if let Some(text) = fields.get("training_max") {
        match number(text, 50..=100) {
            Some(percent) => gym.training_max = f64::from(percent) / 100.0,
            None => problems.push(format!("training max: `{text}` is not from 50 to 100 %")),
        }
    }
    if let Some(text) = fields.get("racks") {
        match number(text, 1..=60) {
            Some(racks) => gym.racks = racks,
            None => problems.push(format!("racks: `{text}` is not from 1 to 60")),
        }
    }
    if let Some(text) = fields.get("class_minutes") {
        match number(text, 30..=90) {
            Some(minutes) => gym.class_minutes = minutes,
            None => problems.push(format!("class: `{text}` is not from 30 to 90 minutes")),
        }
    }
    if let Some(text) = fields.get("limits_kept") {
        match (text.trim(), number(text.trim(), 1..=120)) {
            ("", _) => gym.limits_kept_months = None,
            (_, Some(months)) => gym.limits_kept_months = Some(months),
            _ => problems.push(format!("what members spare: `{text}` is not from 1 to 120 months, or empty")),
        }
    }
    if let Some(text) = fields.get("time_zone") {
        match clock::zone_named(text) {
            Some(zone) => gym.time_zone = zone.name().to_owned(),
            None => problems.push(format!("time zone: `{text}` is none; write one such as Europe/Berlin")),
        }
    }
    if let Some(text) = fields.get("policy") {
        match named(text) {
            Some(policy) => gym.max_policy = policy,
            None => problems.push(format!("percentages: `{text}` is no choice")),
        }
    }
    if let Some(text) = fields.get("formula") {
        match named(text) {
            Some(formula) => gym.formula = formula,
            None => problems.push(format!("formula: `{text}` is no choice")),
        }
    }
    if let Some(text) = fields.get("infer") {
        gym.infer_maxes = text == "1";
    }
    // An answer that is none leaves the gym's as it is.
    let answer = |name: &str| fields.get(name).unwrap_or_default().to_owned();
    gym.swap_school = SwapSchool::from_key(&answer("swap")).unwrap_or(gym.swap_school);
    gym.push_up_school = PushUpSchool::from_key(&answer("push_up")).unwrap_or(gym.push_up_school);
    gym.shrink_first = ShrinkFirst::from_key(&answer("shrink")).unwrap_or(gym.shrink_first);
    gym.kipping = KippingSchool::from_key(&answer("kipping")).unwrap_or(gym.kipping);
    gym.clock = ClockFace::from_key(&answer("clock")).unwrap_or(gym.clock);
    problems
}

/// `POST /gym/cycles`: a cycle, new or under a name that stands already.
#[post("/gym/cycles")]
async fn keep_cycle(tenant: Tenant, form: Form<CycleForm>) -> Result<HttpResponse, AppError> {
    let gym = tenant.gym.clone();
    let mut rows = tenant.change().await?;
    let catalogue = tenant.catalogue();
    let lines = form.weeks.lines().map(str::trim).filter(|line| !line.is_empty());
    let cycle = Cycle {
        name: form.name.trim().to_owned(),
        lift: form.lift.trim().to_owned(),
        weeks: lines.map(str::to_owned).collect(),
    };
    let problems = cycle.problems(&catalogue);
    if !problems.is_empty() {
        let page = GymPage { problems, ..page(&gym, &catalogue, form.0) };
        return html_as(StatusCode::UNPROCESSABLE_ENTITY, &page);
    }
    gyms::change(&mut rows, |gym| {
        match gym.cycles.iter_mut().find(|known| known.name == cycle.name || known.lift == cycle.lift) {
            Some(known) => *known = cycle,
            None => gym.cycles.push(cycle),
        }
        Ok(())
    })
    .await?;
    rows.keep().await?;
    Ok(to_gym())
}

#[derive(Deserialize)]
struct Named {
    name: String,
}

/// `POST /gym/cycles/remove`: comes back by one click.
#[post("/gym/cycles/remove")]
async fn remove_cycle(tenant: Tenant, form: Form<Named>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    let key = gyms::remove_cycle(&mut rows, &form.name).await?;
    rows.keep().await?;
    Ok(see_other(format!("/gym?removed={key}")))
}

/// The name of a kind of correction, as forms send it.
fn kind_key(kind: CorrectionKind) -> String {
    serde_json::to_value(kind).ok().and_then(|kind| kind.as_str().map(str::to_owned)).unwrap_or_default()
}

/// `POST /gym/habits/forget`: a habit of the gym's hand; comes back by one click.
#[post("/gym/habits/forget")]
async fn forget_habit(tenant: Tenant, form: Form<Named>) -> Result<HttpResponse, AppError> {
    let none = || AppError::Malformed("no habit is named".to_owned());
    let (kind, words) = form.name.split_once('|').ok_or_else(none)?;
    let kind = serde_json::from_value(serde_json::json!(kind)).map_err(|_| none())?;
    let mut rows = tenant.change().await?;
    let key = gyms::forget_habit(&mut rows, kind, words).await?;
    rows.keep().await?;
    Ok(see_other(format!("/gym?removed={key}#hand")))
}

#[derive(Deserialize)]
struct HandForgotten {
    habit: String,
    /// `forget`, or `remember`.
    action: String,
}

/// `POST /gym/habits/hand`: what is always done to a version is done no more, or again.
#[post("/gym/habits/hand")]
async fn forget_hand(tenant: Tenant, form: Form<HandForgotten>) -> Result<HttpResponse, AppError> {
    let habit = serde_json::from_str(&form.habit)
        .map_err(|_| AppError::field("habit", &form.habit, "one of the list"))?;
    let on = match form.action.as_str() {
        "forget" => Some(tenant.today()),
        "remember" => None,
        other => return Err(AppError::field("action", other, "forget or remember")),
    };
    let mut rows = tenant.change().await?;
    gyms::forget_hand(&mut rows, &habit, on).await?;
    rows.keep().await?;
    Ok(see_other("/gym#hand"))
}

/// `GET /gym/gym.toml`: equipment, choices, cycles and habits, as `import --gym` and `plan --gym` take them.
#[get("/gym/gym.toml")]
async fn as_toml(tenant: Tenant) -> Result<HttpResponse, AppError> {
    let gym = tenant.gym.clone();
    let text = gym.to_toml().map_err(|error| AppError::Inside(error.to_string()))?;
    Ok(HttpResponse::Ok().content_type("application/toml; charset=utf-8").body(text))
}

fn to_gym() -> HttpResponse {
    see_other("/gym")
}
