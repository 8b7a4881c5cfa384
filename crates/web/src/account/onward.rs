//! Where somebody goes on who signs in: into a login session of their own, with what they had typed.

use actix_web::{HttpRequest, HttpResponse};
use askama::Template;
use lantern_store::{AccountId, Secret, accounts};
use serde::Deserialize;

use crate::State;
use crate::account::back::{place, with_cookie};
use crate::request::tenant::{cookie, token_of};
use crate::request::typed;
use crate::respond::error::{AppError, html};
use crate::respond::filters;
use crate::respond::redirect::see_other;

/// Where somebody goes on who signs in, and what they had typed there.
#[derive(Deserialize)]
pub(crate) struct Onward {
    #[serde(default)]
    pub to: String,
    #[serde(default)]
    pub typed: String,
}

impl Onward {
    /// On, signed in.
    pub async fn begun(
        &self,
        state: &State,
        request: &HttpRequest,
        account: AccountId,
    ) -> Result<HttpResponse, AppError> {
        let to = place(&self.to);
        let answer = if self.typed.is_empty() { see_other(to) } else { sent_again(to, &self.typed)? };
        begin(state, request, account, answer).await
    }
}

/// Begins a login session, and ends the one that the browser was in.
pub(crate) async fn begin(
    state: &State,
    request: &HttpRequest,
    account: AccountId,
    answer: HttpResponse,
) -> Result<HttpResponse, AppError> {
    if let Some(token) = token_of(request) {
        accounts::sign_out(&state.store, &token).await?;
    }
    let token: Secret = accounts::sign_in(&state.store, account).await?;
    with_cookie(answer, &cookie(&token, request))
}

/// What was sent by somebody signed out, to be sent by them once more.
#[derive(Template)]
#[template(path = "account/sent_again.html")]
struct SentAgain<'a> {
    to: &'a str,
    fields: &'a [(String, String)],
    /// Those of the fields that somebody has written, to look at.
    texts: Vec<&'a str>,
}

/// Fields that hold what somebody wrote, rather than what a page wrote for them.
const WRITTEN: [&str; 5] = ["text", "limits", "csv", "weeks", "name"];

fn sent_again(to: &str, form: &str) -> Result<HttpResponse, AppError> {
    let fields: Vec<(String, String)> =
        serde_urlencoded::from_str(form).map_err(|error| AppError::Malformed(error.to_string()))?;
    let fields: Vec<_> = fields.into_iter().map(|(name, value)| (name, typed(&value))).collect();
    let written = |(name, _): &&(String, String)| WRITTEN.contains(&name.as_str());
    let texts = fields.iter().filter(written).map(|(_, value)| value.as_str());
    html(&SentAgain { to, fields: &fields, texts: texts.collect() })
}
