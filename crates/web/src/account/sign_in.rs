//! Signing in and out.

use actix_web::http::{StatusCode, header};
use actix_web::{HttpRequest, HttpResponse, get, post, web};
use askama::Template;
use lantern_store::{accounts, codes, passphrase, throttle};
use serde::Deserialize;

use crate::State;
use crate::account::back::{place, with_cookie};
use crate::account::onward::Onward;
use crate::account::{address, attempt, code};
use crate::request::tenant::{no_cookie, token_of};
use crate::request::{Form, Query};
use crate::respond::error::{AppError, html, html_as};
use crate::respond::filters;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(enter).service(leave);
}

/// The page to sign in, with where to go on and what had been typed there.
#[derive(Default, Template)]
#[template(path = "account/sign_in.html")]
pub(crate) struct SignInPage {
    to: String,
    /// A form that was sent by somebody signed out, as it was sent.
    typed: String,
    email: String,
    wrong: Option<String>,
    told: Option<&'static str>,
}

impl SignInPage {
    /// For somebody who has sent a form and is signed in no longer.
    pub fn again(to: String, typed: String) -> Self {
        let told = (!typed.is_empty()).then_some(
            "You are not signed in any more. What you typed is kept: it comes back when you have.",
        );
        Self { to, typed, told, ..Self::default() }
    }

    /// As the answer to such a form.
    pub fn answer(&self) -> Result<HttpResponse, AppError> {
        html_as(StatusCode::UNAUTHORIZED, self)
    }
}

#[derive(Deserialize)]
struct Asked {
    #[serde(default)]
    to: String,
}

/// `GET /sign-in`
#[get("/sign-in")]
async fn show(query: Query<Asked>) -> Result<HttpResponse, AppError> {
    html(&SignInPage { to: place(&query.to).to_owned(), ..SignInPage::default() })
}

#[derive(Deserialize)]
struct SignIn {
    email: String,
    passphrase: String,
    #[serde(default)]
    to: String,
    #[serde(default)]
    typed: String,
}

/// What is said of any pair that is none: nobody learns from it which e-mail addresses have an account.
const NO_PAIR: &str = "That e-mail and that passphrase do not belong together.";

/// `POST /sign-in`: begins a login session of its own, whatever the browser held before.
#[post("/sign-in")]
async fn enter(
    state: web::Data<State>,
    request: HttpRequest,
    form: Form<SignIn>,
) -> Result<HttpResponse, AppError> {
    let SignIn { email, passphrase, to, typed } = form.0;
    let back = |wrong: String, status| {
        let page = SignInPage {
            to: place(&to).to_owned(),
            typed: typed.clone(),
            email: email.clone(),
            wrong: Some(wrong),
            told: None,
        };
        html_as(status, &page)
    };
    let Ok(known) = accounts::email(&email) else {
        return back(NO_PAIR.to_owned(), StatusCode::UNPROCESSABLE_ENTITY);
    };
    match attempt(&state, &request, &known).await {
        Err(AppError::TooFast(words)) => return back(words, StatusCode::TOO_MANY_REQUESTS),
        other => other?,
    }
    let found = accounts::of_email(&state.store, &known).await?;
    let (account, kept) = found.map_or((None, None), |(account, kept)| (Some(account), kept));
    let same = passphrase::matches(passphrase, kept).await?;
    let Some(account) = account.filter(|_| same) else {
        return back(NO_PAIR.to_owned(), StatusCode::UNPROCESSABLE_ENTITY);
    };
    throttle::succeeded(&state.store, &known, &address(&request)).await?;
    let onward = Onward { to, typed };
    if codes::asked_of(&state.store, account).await?.is_some() {
        return code::asks(&state, account, onward).await;
    }
    onward.begun(&state, &request, account).await
}

/// `POST /sign-out`
#[post("/sign-out")]
async fn leave(state: web::Data<State>, request: HttpRequest) -> Result<HttpResponse, AppError> {
    if let Some(token) = token_of(&request) {
        accounts::sign_out(&state.store, &token).await?;
    }
    let mut answer = see_other("/sign-in");
    // Drafts that this browser keeps go too: the next one at it may be somebody else.
    answer.headers_mut().insert(
        header::HeaderName::from_static("clear-site-data"),
        header::HeaderValue::from_static("\"storage\""),
    );
    with_cookie(answer, &no_cookie())
}
