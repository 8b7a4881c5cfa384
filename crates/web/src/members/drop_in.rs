//! Somebody drops in, or nothing is known of them yet: four quick questions; and how long somebody has been away.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, post, web};
use chrono::NaiveDate;
use lantern_core::gym::Gym;
use lantern_core::member::Member;
use lantern_core::roster::Answers;
use lantern_core::strength::Source;
use lantern_store::clock::is_usable;
use lantern_store::members::{self, StoredMember};
use lantern_store::{GymScope, MemberId, StoreError, classes};
use serde::Deserialize;

use crate::day::slot_of;
use crate::members::called::wrong_with;
use crate::request::Form;
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::respond::error::{AppError, html_as};
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(take_in).service(answers).service(away);
}

/// A name and the answers, as typed.
#[derive(Clone, Default, Deserialize)]
pub(crate) struct DropInForm {
    pub name: String,
    #[serde(flatten)]
    pub four: Answers,
    /// The class that they came to, when it runs: `2026-11-23T18:00`.
    #[serde(default)]
    pub joins: String,
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
async fn take_in(tenant: Tenant, form: Form<DropInForm>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    let known = members::of_gym(&mut rows, &tenant.gym, tenant.today()).await?;
    let added = match form.read(&tenant.gym, &known) {
        Ok(member) => {
            match members::add(&mut rows, &member, tenant.today(), Source::Stated).await {
                Ok(id) => {
                    join(&mut rows, &form.joins, id).await?;
                    Ok(rows.keep().await?)
                }
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
        Ok(()) if slot_of(&form.joins).is_ok() => Ok(see_other(format!("/days/{}/floor", form.joins))),
        Ok(()) => Ok(see_other("/members")),
        Err(wrong) => {
            let page = crate::members::page(&tenant, form.0, Some(wrong)).await?;
            html_as(StatusCode::UNPROCESSABLE_ENTITY, &page)
        }
    }
}

/// Somebody comes to a class without having been booked; to none where none is named.
async fn join(rows: &mut GymScope, joins: &str, id: MemberId) -> Result<(), AppError> {
    let Ok(Slot { day, starts: Some(starts) }) = slot_of(joins) else { return Ok(()) };
    let class = classes::at(rows, day, starts).await?.ok_or(AppError::NoSuchPage)?;
    let joined: Vec<MemberId> = class.joined.into_iter().chain([id]).collect();
    Ok(classes::here(rows, class.id, (&class.away, &joined)).await?)
}

/// `POST /members/{id}/answers`: the four questions, asked of a member; an empty answer changes nothing. One that cannot be read shows the
/// form again, as typed.
#[post("/members/{id}/answers")]
async fn answers(
    tenant: Tenant,
    path: web::Path<MemberId>,
    form: Form<Answers>,
) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    let kept = match form.read(tenant.gym.unit) {
        Ok(said) => match members::answer(&mut rows, *path, said, tenant.today()).await {
            Ok(()) => Ok(rows.keep().await?),
            Err(StoreError::Refused(why)) => Err(format!("Not kept: {why}.")),
            Err(error) => return Err(error.into()),
        },
        Err(wrong) => Err(wrong),
    };
    match kept {
        Ok(()) => Ok(see_other(format!("/members/{}#four", *path))),
        Err(wrong) => {
            let page = crate::members::with_answers(&tenant, *path, form.0, wrong).await?;
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
async fn away(tenant: Tenant, path: web::Path<MemberId>, form: Form<Away>) -> Result<HttpResponse, AppError> {
    let since = match form.since.trim() {
        "" => None,
        text => Some(
            text.parse::<NaiveDate>()
                .ok()
                .filter(|day| is_usable(*day) && *day <= tenant.today())
                .ok_or_else(|| {
                    AppError::Malformed(format!(
                        "the field `since` is `{text}`, which is no day, or still to come"
                    ))
                })?,
        ),
    };
    let mut rows = tenant.change().await?;
    members::set_away(&mut rows, *path, since).await?;
    rows.keep().await?;
    Ok(see_other(format!("/members/{}", *path)))
}
