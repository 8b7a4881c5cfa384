//! Somebody drops in, or nothing is known of them yet: four quick questions; and how long somebody has been away.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, post, web};
use chrono::NaiveDate;
use lantern_core::gym::Gym;
use lantern_core::member::Member;
use lantern_core::roster::Answers;
use lantern_core::strength::Source;
use lantern_store::StoreError;
use lantern_store::clock::is_usable;
use lantern_store::members::{self, StoredMember};
use serde::Deserialize;

use super::called::wrong_with;
use super::{gym, today};
use crate::State;
use crate::error::{AppError, html_as};
use crate::request::{Form, see_other};

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(take_in).service(answers).service(away);
}

/// A name and the answers, as typed.
#[derive(Clone, Default, Deserialize)]
pub(super) struct DropInForm {
    pub name: String,
    #[serde(flatten)]
    pub four: Answers,
}

impl DropInForm {
    /// Who they are, or what is wrong with which answer.
    fn read(&self, gym: &Gym, known: &[StoredMember]) -> Result<Member, String> {
        let name = self.name.trim();
        if let Some(wrong) = wrong_with(name) {
            return Err(wrong);
        }
        if known.iter().any(|stored| stored.member.name == name) {
            return Err(format!("There is a {name} already; add a letter of the family name."));
        }
        Ok(Member { name: name.to_owned(), ..self.four.read(gym.unit)? })
    }
}

/// `POST /members/drop-in`: a member with a first guess, who takes part at once. An answer that cannot be read shows
/// the form again, as typed.
#[post("/members/drop-in")]
async fn take_in(state: web::Data<State>, form: Form<DropInForm>) -> Result<HttpResponse, AppError> {
    let (id, gym) = gym(&state).await?;
    let known = members::of_gym(&state.store, id, &gym, today(&gym)).await?;
    let added = match form.read(&gym, &known) {
        Ok(member) => {
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

/// `POST /members/{id}/answers`: the four questions, asked of a member; an empty answer changes nothing. One that cannot be read shows the
/// form again, as typed.
#[post("/members/{id}/answers")]
async fn answers(
    state: web::Data<State>,
    path: web::Path<i64>,
    form: Form<Answers>,
) -> Result<HttpResponse, AppError> {
    let (id, gym) = gym(&state).await?;
    let kept = match form.read(gym.unit) {
        Ok(said) => match members::answer(&state.store, id, *path, said, today(&gym)).await {
            Ok(()) => Ok(()),
            Err(StoreError::Refused(why)) => Err(format!("Not kept: {why}.")),
            Err(error) => return Err(error.into()),
        },
        Err(wrong) => Err(wrong),
    };
    match kept {
        Ok(()) => Ok(see_other(format!("/members/{}#four", *path))),
        Err(wrong) => {
            let page = super::members::with_answers(&state, *path, form.0, wrong).await?;
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
