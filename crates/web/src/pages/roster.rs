//! The roster in and out: CSV with a preview, and one member's file to take along or to delete.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, get, post, web};
use askama::Template;
use chrono::NaiveDate;
use lantern_core::member::{Member, RosterError, roster_from_csv, roster_to_csv};
use lantern_core::strength::{LiftRow, is_lifts_csv, lifts_from_csv};
use lantern_store::lifts::NewLift;
use lantern_store::members::StoredMember;
use lantern_store::{classes, lifts, members};
use serde::Deserialize;
use serde_json::json;

use super::{catalogue, gym, today};
use crate::State;
use crate::error::{AppError, html, html_as};
use crate::filters;
use crate::slot::Slot;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(preview).service(take_in).service(out).service(file_of).service(delete);
}

#[derive(Template)]
#[template(path = "roster.html")]
struct RosterPage {
    gym: String,
    csv: String,
    /// Rows that can be taken in, once looked at.
    good: Vec<GoodRow>,
    bad: Vec<String>,
    looked: bool,
}

struct GoodRow {
    name: String,
    news: &'static str,
    told: String,
}

#[derive(Deserialize)]
struct Csv {
    csv: String,
}

/// `GET /members/import`
#[get("/members/import")]
async fn show(state: web::Data<State>) -> Result<HttpResponse, AppError> {
    let (_, gym) = gym(&state).await?;
    html(&RosterPage { gym: gym.name, csv: String::new(), good: Vec::new(), bad: Vec::new(), looked: false })
}

/// `POST /members/import`: what the CSV would bring, and nothing else.
#[post("/members/import")]
async fn preview(state: web::Data<State>, form: web::Form<Csv>) -> Result<HttpResponse, AppError> {
    let (id, gym) = gym(&state).await?;
    let known = members::of_gym(&state.store, id, &gym, today()).await?;
    if is_lifts_csv(&form.csv) {
        let catalogue = catalogue(&state, id).await?;
        let (good, bad) = lifts_of(&form.csv, &known, &catalogue);
        let told = |row: &LiftRow| {
            let set = format!("{} x {}", row.reps, row.load.show(gym.unit));
            format!("{} {set} {}", catalogue.name(&row.lift).to_lowercase(), row.on)
        };
        let good =
            good.iter().map(|(_, row)| GoodRow { name: row.member.clone(), news: "lift", told: told(row) });
        return looked(gym.name, form.into_inner().csv, good.collect(), &bad);
    }
    let (good, bad) = roster_from_csv(&form.csv);
    let good: Vec<GoodRow> = good
        .iter()
        .map(|member| {
            let stands = known.iter().any(|stored| stored.member.name == member.name);
            GoodRow {
                name: member.name.clone(),
                news: if stands { "news" } else { "new" },
                told: told(member),
            }
        })
        .collect();
    looked(gym.name, form.into_inner().csv, good, &bad)
}

/// What was found in a file, before anything is taken in.
fn looked(
    gym: String,
    csv: String,
    good: Vec<GoodRow>,
    bad: &[RosterError],
) -> Result<HttpResponse, AppError> {
    let status = if good.is_empty() { StatusCode::UNPROCESSABLE_ENTITY } else { StatusCode::OK };
    let bad = bad.iter().map(ToString::to_string).collect();
    html_as(status, &RosterPage { gym, csv, good, bad, looked: true })
}

/// Lifts of members whom the gym knows, with their row ids; the others are named.
fn lifts_of(
    csv: &str,
    known: &[StoredMember],
    catalogue: &lantern_core::movement::Catalogue,
) -> (Vec<(i64, LiftRow)>, Vec<RosterError>) {
    let (rows, mut bad) = lifts_from_csv(csv, catalogue);
    let mut good = Vec::new();
    for row in rows {
        match known.iter().find(|stored| stored.member.name == row.member) {
            Some(stored) => good.push((stored.id, row)),
            None => {
                let message = format!("nobody here is called `{}`; take in the member first", row.member);
                bad.push(RosterError { line: row.line, message });
            }
        }
    }
    bad.sort_by_key(|error| error.line);
    (good, bad)
}

/// A row in a few words.
fn told(member: &Member) -> String {
    let mut words = vec![member.experience.name().to_owned()];
    words.push(match member.maxes.len() {
        0 => "no maxes".to_owned(),
        1 => "1 max".to_owned(),
        n => format!("{n} maxes"),
    });
    if !member.limits.is_empty() {
        words.push(format!("{} to spare", member.limits.len()));
    }
    words.join(", ")
}

/// `POST /members/import/take`: the good rows are taken in, the bad ones left out.
#[post("/members/import/take")]
async fn take_in(state: web::Data<State>, form: web::Form<Csv>) -> Result<HttpResponse, AppError> {
    let (id, gym) = gym(&state).await?;
    if is_lifts_csv(&form.csv) {
        let known = members::of_gym(&state.store, id, &gym, today()).await?;
        let (good, _) = lifts_of(&form.csv, &known, catalogue(&state, id).await?.as_ref());
        for (member, row) in &good {
            let LiftRow { load, reps, rpe, missed, source, .. } = *row;
            let set_on = NaiveDate::parse_from_str(&row.on, "%Y-%m-%d").unwrap_or_else(|_| today());
            let new = NewLift { lift: row.lift.as_str(), load, reps, rpe, missed, source, set_on };
            lifts::add(&state.store, id, *member, &new).await?;
        }
        return Ok(HttpResponse::SeeOther().insert_header(("Location", "/members")).finish());
    }
    let (good, _) = roster_from_csv(&form.csv);
    for member in &good {
        members::take_in(&state.store, id, member, today()).await?;
    }
    Ok(HttpResponse::SeeOther().insert_header(("Location", "/members")).finish())
}

/// `GET /members.csv`: everybody, as the import reads it.
#[get("/members.csv")]
async fn out(state: web::Data<State>) -> Result<HttpResponse, AppError> {
    let (id, gym) = gym(&state).await?;
    let stored = members::of_gym(&state.store, id, &gym, today()).await?;
    let people: Vec<Member> = stored.into_iter().map(|stored| stored.member).collect();
    Ok(HttpResponse::Ok()
        .content_type("text/csv; charset=utf-8")
        .insert_header(("Content-Disposition", "attachment; filename=\"members.csv\""))
        .body(roster_to_csv(&people)))
}

/// `GET /members/{id}/file.json`: all that is on file about one member, limits included.
#[get("/members/{id}/file.json")]
async fn file_of(state: web::Data<State>, path: web::Path<i64>) -> Result<HttpResponse, AppError> {
    let (gym_id, gym) = gym(&state).await?;
    let stored = members::of_gym(&state.store, gym_id, &gym, today()).await?;
    let stored = stored.into_iter().find(|stored| stored.id == *path).ok_or(AppError::NoSuchPage)?;
    let history = lifts::of_member(&state.store, gym_id, stored.id).await?;
    let history: Vec<_> = history
        .iter()
        .map(|lifted| {
            json!({
                "lift": lifted.lift, "kg": f64::from(lifted.grams) / 1000.0, "reps": lifted.reps, "rpe": lifted.rpe,
                "missed": lifted.missed, "on": lifted.set_on, "source": lifted.source,
            })
        })
        .collect();
    let booked = classes::of_member(&state.store, gym_id, stored.id).await?;
    let booked: Vec<String> =
        booked.into_iter().map(|(day, starts)| Slot { day, starts: Some(starts) }.to_string()).collect();
    Ok(HttpResponse::Ok().json(json!({
        "schema": "honest-lantern/member/1", "member": stored.member, "lifts": history, "classes": booked,
    })))
}

#[derive(Deserialize)]
struct Sure {
    /// The member's name, typed again.
    name: String,
}

/// `POST /members/{id}/delete`: everything on file about a member goes; the name typed again stands for being sure.
#[post("/members/{id}/delete")]
async fn delete(
    state: web::Data<State>,
    path: web::Path<i64>,
    form: web::Form<Sure>,
) -> Result<HttpResponse, AppError> {
    let (gym_id, gym) = gym(&state).await?;
    let stored = members::of_gym(&state.store, gym_id, &gym, today()).await?;
    let stored = stored.into_iter().find(|stored| stored.id == *path).ok_or(AppError::NoSuchPage)?;
    if form.name.trim() != stored.member.name {
        return Err(AppError::Malformed(format!(
            "the field `name` is `{}`, but deleting everything on file needs `{}`",
            form.name, stored.member.name
        )));
    }
    members::remove(&state.store, gym_id, stored.id).await?;
    Ok(HttpResponse::SeeOther().insert_header(("Location", "/members")).finish())
}
