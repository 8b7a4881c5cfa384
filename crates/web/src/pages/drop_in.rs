//! Somebody drops in, or comes back: three quick questions, and how long they have been away.

use actix_web::{HttpResponse, post, web};
use chrono::NaiveDate;
use lantern_core::member::{DropIn, Experience, Member, Sex};
use lantern_core::strength::Source;
use lantern_core::units::Kilograms;
use lantern_store::members;
use serde::Deserialize;

use super::{gym, today};
use crate::State;
use crate::error::AppError;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(take_in).service(away);
}

/// The answers, as typed.
#[derive(Deserialize)]
struct Answers {
    name: String,
    #[serde(default)]
    pair: String,
    experience: Experience,
    #[serde(default)]
    push_ups: String,
    #[serde(default)]
    squat: String,
}

/// `POST /members/drop-in`: a member with a first guess, who takes part at once.
#[post("/members/drop-in")]
async fn take_in(state: web::Data<State>, form: web::Form<Answers>) -> Result<HttpResponse, AppError> {
    let (id, gym) = gym(&state).await?;
    let wrong = |field: &str, value: &str, expected: &str| {
        AppError::Malformed(format!("the field `{field}` is `{value}`, but it should be {expected}"))
    };
    let name = form.name.trim().to_owned();
    if name.is_empty() || name.chars().count() > 120 {
        return Err(wrong("name", &form.name, "from 1 to 120 letters"));
    }
    let known = members::of_gym(&state.store, id, &gym, today()).await?;
    if known.iter().any(|stored| stored.member.name == name) {
        return Err(wrong("name", &name, "a name that nobody here has yet"));
    }
    let number = |field: &str, text: &str, most: f64| -> Result<Option<f64>, AppError> {
        let text = text.trim().replace(',', ".");
        if text.is_empty() {
            return Ok(None);
        }
        let value = text.parse::<f64>().ok().filter(|value| (0.0..=most).contains(value));
        value.map(Some).ok_or_else(|| wrong(field, &text, &format!("from 0 to {most}, or empty")))
    };
    let squat = number("squat", &form.squat, 500.0)?.filter(|weight| *weight > 0.0);
    let answers = DropIn {
        name,
        sex: match form.pair.as_str() {
            "first" => Some(Sex::M),
            "second" => Some(Sex::F),
            _ => None,
        },
        experience: form.experience,
        push_ups: number("push_ups", &form.push_ups, 200.0)?.map(|n| n as u32),
        squat: squat.map(|weight| Kilograms::from_unit(weight, gym.unit)),
    };
    members::add(&state.store, id, &Member::from(answers), today(), Source::Stated.name()).await?;
    Ok(HttpResponse::SeeOther().insert_header(("Location", "/members")).finish())
}

#[derive(Deserialize)]
struct Away {
    /// A day, or empty when the member is back.
    since: String,
}

/// `POST /members/{id}/away`: since when somebody has been away; an empty day says that they are back to normal.
#[post("/members/{id}/away")]
async fn away(
    state: web::Data<State>,
    path: web::Path<i64>,
    form: web::Form<Away>,
) -> Result<HttpResponse, AppError> {
    let (id, _) = gym(&state).await?;
    let since = match form.since.trim() {
        "" => None,
        text => Some(text.parse::<NaiveDate>().ok().filter(|day| *day <= today()).ok_or_else(|| {
            AppError::Malformed(format!("the field `since` is `{text}`, which is no day, or still to come"))
        })?),
    };
    members::set_away(&state.store, id, *path, since).await?;
    Ok(HttpResponse::SeeOther().insert_header(("Location", format!("/members/{}", *path))).finish())
}
