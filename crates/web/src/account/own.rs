//! One's own account: where it is signed in, its passphrase, its gyms.

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, get, post};
use askama::Template;
use lantern_store::{Role, accounts, clock, codes, gyms, passphrase, throttle};
use serde::Deserialize;

use crate::account::onward::begin;
use crate::account::{address, attempt};
use crate::request::Form;
use crate::request::tenant::{AnyRole, Tenant};
use crate::respond::error::{AppError, html_as};
use crate::respond::filters;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut actix_web::web::ServiceConfig) {
    config.service(show).service(sign_others_out).service(change_passphrase).service(look_at);
}

#[derive(Template)]
#[template(path = "account/account.html")]
struct AccountPage {
    gym: String,
    name: String,
    email: String,
    role: Role,
    may: &'static str,
    coach: bool,
    owner: bool,
    logins: Vec<LoginRow>,
    /// Place among the account's gyms, what it is called, and whether it is the one looked at.
    gyms: Vec<(usize, String, bool)>,
    shortest: usize,
    /// How many spare codes are left, where codes are asked for.
    codes: Option<usize>,
    wrong: Option<String>,
    told: Option<&'static str>,
}

struct LoginRow {
    since: String,
    seen: String,
    this: bool,
}

/// `GET /account`
#[get("/account")]
async fn show(tenant: Tenant<AnyRole>) -> Result<HttpResponse, AppError> {
    page(&tenant, None, None, StatusCode::OK).await
}

pub(crate) async fn page(
    tenant: &Tenant<AnyRole>,
    wrong: Option<String>,
    told: Option<&'static str>,
    status: StatusCode,
) -> Result<HttpResponse, AppError> {
    let store = &tenant.state.store;
    let at = |moment| clock::time_text(&tenant.gym, moment);
    let logins = accounts::logins(store, tenant.who.account, &tenant.token).await?;
    let row = |login: accounts::Login| LoginRow {
        since: at(login.began_at),
        seen: at(login.seen_at),
        this: login.this,
    };
    let mut known = Vec::new();
    for (place, gym) in accounts::gyms(store, tenant.who.account).await?.into_iter().enumerate() {
        let name = gyms::settings(&mut store.look(gym).await?).await?.name;
        known.push((place, name, gym == tenant.id()));
    }
    let role = tenant.who.role;
    let page = AccountPage {
        gym: tenant.gym.name.clone(),
        name: tenant.who.name.clone(),
        email: tenant.email.clone(),
        role,
        may: role.words(),
        coach: role.may(Role::Coach),
        owner: role.may(Role::Owner),
        logins: logins.into_iter().map(row).collect(),
        gyms: known,
        shortest: passphrase::SHORTEST,
        codes: codes::asked_of(store, tenant.who.account).await?,
        wrong,
        told,
    };
    html_as(status, &page)
}

/// `POST /account/others`: every other browser is signed out.
#[post("/account/others")]
async fn sign_others_out(tenant: Tenant<AnyRole>) -> Result<HttpResponse, AppError> {
    accounts::sign_others_out(&tenant.state.store, tenant.who.account, &tenant.token).await?;
    Ok(see_other("/account"))
}

/// The answer to whoever does not know the passphrase of now, or asks too fast; none where they do.
pub(crate) async fn not_theirs(
    tenant: &Tenant<AnyRole>,
    request: &HttpRequest,
    now: String,
) -> Result<Option<HttpResponse>, AppError> {
    let refused = async |words: String, status| page(tenant, Some(words), None, status).await.map(Some);
    match attempt(&tenant.state, request, &tenant.email).await {
        Err(AppError::TooFast(words)) => return refused(words, StatusCode::TOO_MANY_REQUESTS).await,
        other => other?,
    }
    let kept = accounts::of_email(&tenant.state.store, &tenant.email).await?.and_then(|(_, kept)| kept);
    if passphrase::matches(now, kept).await? {
        return Ok(None);
    }
    let words = "The passphrase of now is another one.".to_owned();
    refused(words, StatusCode::UNPROCESSABLE_ENTITY).await
}

#[derive(Deserialize)]
struct Change {
    now: String,
    passphrase: String,
}

/// `POST /account/passphrase`
#[post("/account/passphrase")]
async fn change_passphrase(
    tenant: Tenant<AnyRole>,
    request: HttpRequest,
    form: Form<Change>,
) -> Result<HttpResponse, AppError> {
    let Change { now, passphrase: new } = form.0;
    if let Some(refused) = not_theirs(&tenant, &request, now).await? {
        return Ok(refused);
    }
    let refused = async |words: String, status| page(&tenant, Some(words), None, status).await;
    let store = &tenant.state.store;
    if let Err(why) = passphrase::checked(&new, &tenant.email) {
        return refused(format!("Choose another: {why}."), StatusCode::UNPROCESSABLE_ENTITY).await;
    }
    throttle::succeeded(store, &tenant.email, &address(&request)).await?;
    accounts::set_passphrase(store, tenant.who.account, &passphrase::kept(new).await?).await?;
    // Every session has ended, this one too: it begins anew.
    begin(&tenant.state, &request, tenant.who.account, see_other("/account")).await
}

#[derive(Deserialize)]
struct Place {
    place: usize,
}

/// `POST /account/gym`: looks at another gym of the account.
#[post("/account/gym")]
async fn look_at(tenant: Tenant<AnyRole>, form: Form<Place>) -> Result<HttpResponse, AppError> {
    accounts::look_at(&tenant.state.store, &tenant.token, tenant.who.account, form.place).await?;
    Ok(see_other("/"))
}
