//! Coming in: by an invitation, or as the first owner of an installation.

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, get, post, web};
use lantern_core::gym::Gym;
use lantern_store::accounts::{self, Link};
use lantern_store::memberships::{self, Invitation};
use lantern_store::{Secret, StoreError, codes, founding, passphrase, throttle};
use serde::Deserialize;

use crate::State;
use crate::account::code;
use crate::account::onward::{Onward, begin};
use crate::account::passphrase::over;
use crate::account::{Field, PassphrasePage, address, attempt};
use crate::request::Form;
use crate::respond::error::{AppError, html, html_as};
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(invited).service(accept).service(start).service(found);
}

fn asks_invited(invitation: &Invitation, gym: &Gym, known: bool) -> PassphrasePage {
    let Invitation { email, role, name, .. } = invitation;
    let then = if known {
        "You have an account already: its passphrase, please."
    } else {
        "Choose a passphrase for your account."
    };
    let about = format!(
        "{name}, you are invited as {}, who {}. Your e-mail is {email}. {then}",
        role.named(),
        role.words()
    );
    let page = PassphrasePage::new(&format!("Welcome to {}", gym.name), about, "Come in");
    PassphrasePage { known, ..page }
}

/// `GET /invited/{link}`: looking at an invitation does not take it up.
#[get("/invited/{link}")]
async fn invited(state: web::Data<State>, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let Some((invitation, gym)) = memberships::invitation_of(&state.store, &path).await? else {
        return over();
    };
    let known = accounts::of_email(&state.store, &invitation.email).await?;
    html(&asks_invited(&invitation, &gym, known.is_some_and(|(_, kept)| kept.is_some())))
}

#[derive(Deserialize)]
struct Chosen {
    passphrase: String,
}

/// `POST /invited/{link}`: once. Whoever has an account already shows with its passphrase that it is theirs.
#[post("/invited/{link}")]
async fn accept(
    state: web::Data<State>,
    request: HttpRequest,
    path: web::Path<String>,
    form: Form<Chosen>,
) -> Result<HttpResponse, AppError> {
    let Some((invitation, gym)) = memberships::invitation_of(&state.store, &path).await? else {
        return over();
    };
    let known = accounts::of_email(&state.store, &invitation.email).await?;
    let kept = known.and_then(|(_, kept)| kept);
    let page = asks_invited(&invitation, &gym, kept.is_some());
    let wrong = |words: String, status| html_as(status, &PassphrasePage { wrong: Some(words), ..page });
    match attempt(&state, &request, &invitation.email).await {
        Err(AppError::TooFast(words)) => return wrong(words, StatusCode::TOO_MANY_REQUESTS),
        other => other?,
    }
    let chosen = form.0.passphrase;
    let new = match kept {
        Some(kept) if !passphrase::matches(chosen.clone(), Some(kept.clone())).await? => {
            let words = "That is not the passphrase of your account.".to_owned();
            return wrong(words, StatusCode::UNPROCESSABLE_ENTITY);
        }
        Some(_) => None,
        None => {
            if let Err(why) = passphrase::checked(&chosen, &invitation.email) {
                return wrong(format!("Choose another: {why}."), StatusCode::UNPROCESSABLE_ENTITY);
            }
            Some(passphrase::kept(chosen).await?)
        }
    };
    let account = match memberships::accept(&state.store, &path, new.as_deref()).await {
        Err(StoreError::NotFound(_)) => return over(),
        account => account?,
    };
    throttle::succeeded(&state.store, &invitation.email, &address(&request)).await?;
    if codes::asked_of(&state.store, account).await?.is_some() {
        return code::asks(&state, account, Onward { to: "/".to_owned(), typed: String::new() }).await;
    }
    begin(&state, &request, account, see_other("/")).await
}

/// What the first owner is asked.
#[derive(Default, Deserialize)]
struct First {
    #[serde(default)]
    gym: String,
    #[serde(default)]
    name: String,
    #[serde(default)]
    email: String,
    #[serde(default)]
    passphrase: String,
}

/// Of a gym that stands already only its owner is asked for.
fn asks_first(stands: bool, first: First) -> PassphrasePage {
    let about = "Nobody has an account here yet. Yours is that of the gym's owner: you invite the others.";
    let field = |label, name, value| Field { label, name, value };
    let gym = (!stands).then(|| field("The gym is called", "gym", first.gym));
    let own = [field("You are called", "name", first.name), field("E-mail", "email", first.email)];
    let fields = gym.into_iter().chain(own).collect();
    PassphrasePage { fields, ..PassphrasePage::new("A first start", about.to_owned(), "Begin") }
}

/// `GET /start/{token}`: the link that the terminal prints when nobody has an account yet.
#[get("/start/{token}")]
async fn start(state: web::Data<State>, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    match accounts::link_is(&state.store, &Secret::of(&path)).await? {
        Some(Link::Owner(gym)) => html(&asks_first(gym.is_some(), First::default())),
        _ => over(),
    }
}

/// `POST /start/{token}`: the gym and its owner, once.
#[post("/start/{token}")]
async fn found(
    state: web::Data<State>,
    request: HttpRequest,
    path: web::Path<String>,
    form: Form<First>,
) -> Result<HttpResponse, AppError> {
    let token = Secret::of(&path);
    let Some(Link::Owner(gym)) = accounts::link_is(&state.store, &token).await? else { return over() };
    let first = form.0;
    let name = first.name.trim().to_owned();
    let new = Gym { name: first.gym.trim().to_owned(), ..Gym::default() };
    let fits = |text: &str| (1..=120).contains(&text.chars().count());
    let email = accounts::email(&first.email);
    let wrong = match &email {
        _ if gym.is_none() && !fits(&new.name) => {
            Some("The gym needs a name of 1 to 120 letters.".to_owned())
        }
        _ if !fits(&name) => Some("You need a name of 1 to 120 letters.".to_owned()),
        Err(words) => Some(format!("{words}.")),
        Ok(email) => passphrase::checked(&first.passphrase, email)
            .err()
            .map(|why| format!("Choose another passphrase: {why}.")),
    };
    let (Ok(email), None) = (email, &wrong) else {
        let page = PassphrasePage { wrong, ..asks_first(gym.is_some(), first) };
        return html_as(StatusCode::UNPROCESSABLE_ENTITY, &page);
    };
    let kept = passphrase::kept(first.passphrase).await?;
    let Some(Link::Owner(stands)) = accounts::use_link(&state.store, &token).await? else { return over() };
    let account = match stands {
        Some(gym) => founding::take_over(&state.store, gym, (&email, &name), &kept).await?,
        None => founding::found(&state.store, &new, (&email, &name), &kept).await?,
    };
    begin(&state, &request, account, see_other("/gym")).await
}
