//! A forgotten passphrase, and a new one in its place.

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, get, post, web};
use lantern_store::accounts::{self, Link};
use lantern_store::{Secret, passphrase};
use serde::Deserialize;

use crate::State;
use crate::account::{Field, PassphrasePage, ToldPage, attempt, link};
use crate::mail::Letter;
use crate::request::Form;
use crate::respond::error::{AppError, html, html_as};

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(forgotten).service(send).service(show).service(choose);
}

fn asks_for_address(email: String) -> PassphrasePage {
    let about =
        "If the address has an account, a link to a new passphrase goes there; it works once, for two hours.";
    let field = Field { label: "E-mail", name: "email", value: email };
    let page = PassphrasePage::new("The passphrase is forgotten", about.to_owned(), "Send the link");
    PassphrasePage { fields: vec![field], asks: false, ..page }
}

/// `GET /forgotten`
#[get("/forgotten")]
async fn forgotten() -> Result<HttpResponse, AppError> {
    html(&asks_for_address(String::new()))
}

#[derive(Deserialize)]
struct Address {
    email: String,
}

/// `POST /forgotten`: says the same whether there is such an account or not.
#[post("/forgotten")]
async fn send(
    state: web::Data<State>,
    request: HttpRequest,
    form: Form<Address>,
) -> Result<HttpResponse, AppError> {
    let email = match accounts::email(&form.email) {
        Ok(email) => email,
        Err(words) => {
            let page = PassphrasePage { wrong: Some(format!("{words}.")), ..asks_for_address(form.0.email) };
            return html_as(StatusCode::UNPROCESSABLE_ENTITY, &page);
        }
    };
    match attempt(&state, &request, &format!("forgotten {email}")).await {
        Err(AppError::TooFast(words)) => {
            let page = PassphrasePage { wrong: Some(words), ..asks_for_address(form.0.email) };
            return html_as(StatusCode::TOO_MANY_REQUESTS, &page);
        }
        other => other?,
    }
    if state.mail_arrives()
        && let Some((account, _)) = accounts::of_email(&state.store, &email).await?
    {
        let token = accounts::link(&state.store, Link::Passphrase(account)).await?;
        let letter = Letter {
            to: email,
            subject: "A new passphrase".to_owned(),
            words: "Somebody, you it is hoped, has asked for a new passphrase. This link works once, for two hours. If it was not you, do nothing."
                .to_owned(),
            link: link(&request, &format!("/passphrase/{}", token.expose())),
        };
        let mail = state.mail.clone();
        // Sent behind the answer: how long it takes tells nobody whether there was anything to send.
        actix_web::rt::spawn(async move {
            if let Err(error) = mail.send(letter).await {
                tracing::error!(%error, "a link to a new passphrase was not sent");
            }
        });
    }
    let (title, words) = if state.mail_arrives() {
        ("Look into your mail", "If that address has an account, a link is on its way there.")
    } else {
        (
            "Ask whoever runs this server",
            "It has no mail server: a link to a new passphrase comes from its terminal.",
        )
    };
    html(&ToldPage { title, words: words.to_owned() })
}

/// What is said of a link that leads nowhere any more.
pub(crate) fn over() -> Result<HttpResponse, AppError> {
    let words = "This link was used already, or its time is over. Ask for another.".to_owned();
    html_as(StatusCode::NOT_FOUND, &ToldPage { title: "Not any more", words })
}

fn asks_for_new() -> PassphrasePage {
    let about = "Everywhere else where you are signed in, you are signed out.".to_owned();
    PassphrasePage::new("A new passphrase", about, "Choose it")
}

/// `GET /passphrase/{token}`: looking at a link does not use it.
#[get("/passphrase/{token}")]
async fn show(state: web::Data<State>, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    match accounts::link_is(&state.store, &Secret::of(&path)).await? {
        Some(Link::Passphrase(_)) => html(&asks_for_new()),
        _ => over(),
    }
}

#[derive(Deserialize)]
struct Chosen {
    passphrase: String,
}

/// `POST /passphrase/{token}`
#[post("/passphrase/{token}")]
async fn choose(
    state: web::Data<State>,
    path: web::Path<String>,
    form: Form<Chosen>,
) -> Result<HttpResponse, AppError> {
    let token = Secret::of(&path);
    let Some(Link::Passphrase(account)) = accounts::link_is(&state.store, &token).await? else {
        return over();
    };
    let email = accounts::email_of(&state.store, account).await?;
    if let Err(why) = passphrase::checked(&form.passphrase, &email) {
        let page = PassphrasePage { wrong: Some(format!("Choose another: {why}.")), ..asks_for_new() };
        return html_as(StatusCode::UNPROCESSABLE_ENTITY, &page);
    }
    let kept = passphrase::kept(form.0.passphrase).await?;
    let Some(Link::Passphrase(account)) = accounts::use_link(&state.store, &token).await? else {
        return over();
    };
    accounts::set_passphrase(&state.store, account, &kept).await?;
    let words = "The new passphrase counts from now on.".to_owned();
    html(&ToldPage { title: "Done", words })
}
