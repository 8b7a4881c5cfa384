//! Somebody drops in, or comes back: three quick questions, and how long they have been away.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, post, web};
use chrono::NaiveDate;
use lantern_core::gym::Gym;
use lantern_core::limits::Limit;
use lantern_core::member::{DropIn, Experience, Member, Sex};
use lantern_core::strength::Source;
use lantern_core::units::Kilograms;
use lantern_store::StoreError;
use lantern_store::clock::is_usable;
use lantern_store::members::{self, StoredMember};
use serde::Deserialize;

use super::{gym, today};
use crate::State;
use crate::error::{AppError, html_as};
use crate::request::{Form, see_other};

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(take_in).service(away);
}

/// The answers, as typed.
#[derive(Clone, Default, Deserialize)]
pub(super) struct DropInForm {
    pub name: String,
    #[serde(default)]
    pub pair: String,
    pub experience: Experience,
    #[serde(default)]
    pub push_ups: String,
    #[serde(default)]
    pub squat: String,
    /// What they spare, sentence by sentence.
    #[serde(default)]
    pub limits: String,
}

impl DropInForm {
    /// The answers, or what is wrong with which of them.
    fn read(&self, gym: &Gym, known: &[StoredMember]) -> Result<DropIn, String> {
        let name = self.name.trim();
        if name.is_empty() || name.chars().count() > 120 {
            return Err("The name should have from 1 to 120 letters.".to_owned());
        }
        if known.iter().any(|stored| stored.member.name == name) {
            return Err(format!("There is a {name} already; add a letter of the family name."));
        }
        let number = |what: &str, text: &str, most: f64| -> Result<Option<f64>, String> {
            let typed = text.trim().replace(',', ".");
            if typed.is_empty() {
                return Ok(None);
            }
            let value = typed.parse::<f64>().ok().filter(|value| (0.0..=most).contains(value));
            value.map(Some).ok_or_else(|| format!("{what}: `{text}` should be from 0 to {most}, or empty."))
        };
        let squat = number("3. Heaviest squat", &self.squat, 500.0)?.filter(|weight| *weight > 0.0);
        Ok(DropIn {
            name: name.to_owned(),
            sex: match self.pair.as_str() {
                "first" => Some(Sex::M),
                "second" => Some(Sex::F),
                _ => None,
            },
            experience: self.experience,
            push_ups: number("2. Push-ups in one go", &self.push_ups, 200.0)?.map(|n| n as u32),
            squat: squat.map(|weight| Kilograms::from_unit(weight, gym.unit)),
        })
    }
}

/// `POST /members/drop-in`: a member with a first guess, who takes part at once. An answer that cannot be read shows
/// the form again, as typed.
#[post("/members/drop-in")]
async fn take_in(state: web::Data<State>, form: Form<DropInForm>) -> Result<HttpResponse, AppError> {
    let (id, gym) = gym(&state).await?;
    let known = members::of_gym(&state.store, id, &gym, today(&gym)).await?;
    let added = match form.read(&gym, &known) {
        Ok(answers) => {
            let limits: Vec<Limit> = Limit::several(&form.limits).collect();
            let member = Member { limits, ..Member::from(answers) };
            match members::add(&state.store, id, &member, today(&gym), Source::Stated).await {
                Ok(_) => Ok(()),
                // Twice at once: the other one was quicker.
                Err(StoreError::Taken(_)) => {
                    Err(format!("There is a {} already; add a letter of the family name.", form.name.trim()))
                }
                Err(error) => return Err(error.into()),
            }
        }
        Err(wrong) => Err(wrong),
    };
    match added {
        Ok(()) => Ok(see_other("/members")),
        Err(wrong) => {
            let page = super::members::page(&state, form.0, Some(wrong)).await?;
            html_as(StatusCode::UNPROCESSABLE_ENTITY, &page)
        }
    }
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
    form: Form<Away>,
) -> Result<HttpResponse, AppError> {
    let (id, gym) = gym(&state).await?;
    let since = match form.since.trim() {
        "" => None,
        text => Some(
            text.parse::<NaiveDate>().ok().filter(|day| is_usable(*day) && *day <= today(&gym)).ok_or_else(
                || {
                    AppError::Malformed(format!(
                        "the field `since` is `{text}`, which is no day, or still to come"
                    ))
                },
            )?,
        ),
    };
    members::set_away(&state.store, id, *path, since).await?;
    Ok(see_other(format!("/members/{}", *path)))
}
