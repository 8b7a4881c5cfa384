//! What is kept about members, in plain words, for whoever wants to know before they say anything; and whom to tell of a hole.

use actix_web::{HttpResponse, get, web};
use askama::Template;
use chrono::{Duration, SecondsFormat, Utc};

use crate::State;
use crate::respond::error::{AppError, html};
use crate::respond::filters;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(privacy).service(security);
}

#[derive(Template)]
#[template(path = "account/privacy.html")]
struct PrivacyPage {
    /// Whom to ask; nobody where the installation names none.
    contact: Option<String>,
}

/// `GET /privacy`
#[get("/privacy")]
async fn privacy(state: web::Data<State>) -> Result<HttpResponse, AppError> {
    html(&PrivacyPage { contact: state.contact.clone() })
}

/// How long what `security.txt` says is good for.
const GOOD_FOR: Duration = Duration::days(180);

/// `GET /.well-known/security.txt`, as RFC 9116 has it; nothing where the installation names nobody.
#[get("/.well-known/security.txt")]
async fn security(state: web::Data<State>) -> Result<HttpResponse, AppError> {
    let contact = state.contact.as_ref().ok_or(AppError::NoSuchPage)?;
    let expires = (Utc::now() + GOOD_FOR).to_rfc3339_opts(SecondsFormat::Secs, true);
    let text = format!("Contact: mailto:{contact}\nExpires: {expires}\nPreferred-Languages: en\n");
    Ok(HttpResponse::Ok().content_type("text/plain; charset=utf-8").body(text))
}
