//! The door of the demo: a link that signs in as one of its people, on this computer only and as long as this run lasts; and the mailbox in which
//! its letters arrive.

use actix_web::{HttpRequest, HttpResponse, get, web};
use askama::Template;
use lantern_store::demo::PEOPLE;
use lantern_store::{Secret, accounts};

use crate::State;
use crate::account::onward::begin;
use crate::mail::Letter;
use crate::respond::error::{AppError, html};
use crate::respond::filters;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(people).service(enter);
}

#[derive(Template)]
#[template(path = "account/demo.html")]
struct DemoPage {
    gym: &'static str,
    /// Link, name, and what to expect.
    who: Vec<(String, String, &'static str)>,
    mail: Vec<Letter>,
}

/// Whether the key of an address is the one of this run, and whoever asks sits at this computer.
fn is_this_run(state: &State, request: &HttpRequest, key: &str) -> bool {
    let near = request.peer_addr().is_some_and(|peer| peer.ip().is_loopback());
    // What a proxy on this computer passes on comes from elsewhere.
    let passed_on = ["Forwarded", "X-Forwarded-For"].iter().any(|name| request.headers().contains_key(*name));
    near && !passed_on && state.demo.as_ref().is_some_and(|known| *known == Secret::of(key))
}

/// `GET /demo/{key}`: who can be tried, and their mail.
#[get("/demo/{key}")]
async fn people(
    state: web::Data<State>,
    request: HttpRequest,
    path: web::Path<String>,
) -> Result<HttpResponse, AppError> {
    if !is_this_run(&state, &request, &path) {
        return Err(AppError::NoSuchPage);
    }
    let key = path.into_inner();
    let row = |person: &lantern_store::demo::Person| {
        (format!("/demo/{key}/{}", person.key), format!("{}, {}", person.name, person.role), person.about)
    };
    html(&DemoPage {
        gym: lantern_store::demo::GYM_NAME,
        who: PEOPLE.iter().map(row).collect(),
        mail: state.mail.letters(),
    })
}

/// `GET /demo/{key}/{who}`: signs in as one of the demo's people.
#[get("/demo/{key}/{who}")]
async fn enter(
    state: web::Data<State>,
    request: HttpRequest,
    path: web::Path<(String, String)>,
) -> Result<HttpResponse, AppError> {
    let (key, who) = path.into_inner();
    let person = PEOPLE.iter().find(|person| person.key == who);
    let (true, Some(person)) = (is_this_run(&state, &request, &key), person) else {
        return Err(AppError::NoSuchPage);
    };
    let (account, _) = accounts::of_email(&state.store, person.email).await?.ok_or(AppError::NoSuchPage)?;
    begin(&state, &request, account, see_other("/")).await
}
