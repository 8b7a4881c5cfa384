//! The second step at signing in: a code that changes every half minute, for whoever wants one.

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, get, post, web};
use askama::Template;
use lantern_store::accounts::{self, Link};
use lantern_store::codes::{self, SetUp};
use lantern_store::{AccountId, Secret, throttle};
use qrcodegen::{QrCode, QrCodeEcc};
use serde::Deserialize;

use crate::State;
use crate::account::onward::Onward;
use crate::account::passphrase::over;
use crate::account::{ToldPage, address, attempt, own};
use crate::request::Form;
use crate::request::tenant::{AnyRole, Tenant};
use crate::respond::error::{AppError, html, html_as};
use crate::respond::filters;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(again).service(enter).service(set_up).service(confirm).service(leave);
}

#[derive(Template)]
#[template(path = "account/code.html")]
struct CodePage {
    token: String,
    to: String,
    typed: String,
    wrong: Option<String>,
}

/// Asks for the code of somebody who has given the right passphrase.
pub(crate) async fn asks(
    state: &State,
    account: AccountId,
    Onward { to, typed }: Onward,
) -> Result<HttpResponse, AppError> {
    let token = accounts::link(&state.store, Link::Code(account)).await?.expose().to_owned();
    html(&CodePage { token, to, typed, wrong: None })
}

/// `GET /sign-in/code`: what stands between passphrase and code is on no address, so it begins anew.
#[get("/sign-in/code")]
async fn again() -> HttpResponse {
    see_other("/sign-in")
}

#[derive(Deserialize)]
struct Entered {
    token: String,
    code: String,
    #[serde(default)]
    to: String,
    #[serde(default)]
    typed: String,
}

/// `POST /sign-in/code`
#[post("/sign-in/code")]
async fn enter(
    state: web::Data<State>,
    request: HttpRequest,
    form: Form<Entered>,
) -> Result<HttpResponse, AppError> {
    let Entered { token, code, to, typed } = form.0;
    let link = Secret::of(&token);
    let Some(Link::Code(account)) = accounts::link_is(&state.store, &link).await? else { return over() };
    let email = accounts::email_of(&state.store, account).await?;
    // Counted apart from passphrases: whoever knows one may not guess at codes either.
    let about = format!("code {email}");
    let wrong = |words: String, status| {
        let (token, to, typed) = (token.clone(), to.clone(), typed.clone());
        html_as(status, &CodePage { token, to, typed, wrong: Some(words) })
    };
    match attempt(&state, &request, &about).await {
        Err(AppError::TooFast(words)) => return wrong(words, StatusCode::TOO_MANY_REQUESTS),
        other => other?,
    }
    if !codes::uses(&state.store, account, &code).await? {
        let words = "That code is not the one of now, or was used already. Wait for the next one.".to_owned();
        return wrong(words, StatusCode::UNPROCESSABLE_ENTITY);
    }
    if accounts::use_link(&state.store, &link).await?.is_none() {
        return over();
    }
    throttle::succeeded(&state.store, &about, &address(&request)).await?;
    Onward { to, typed }.begun(&state, &request, account).await
}

#[derive(Template)]
#[template(path = "account/codes.html")]
struct CodesPage {
    /// A square of modules, a path of unit squares; its side with the quiet zone around it.
    qr: (String, i32),
    letters: String,
}

impl CodesPage {
    fn of(made: &SetUp) -> Result<Self, AppError> {
        let qr = QrCode::encode_text(made.address.expose(), QrCodeEcc::Medium)
            .map_err(|error| AppError::Inside(error.to_string()))?;
        let letters: Vec<char> = made.letters.expose().chars().collect();
        let groups: Vec<String> = letters.chunks(4).map(|group| group.iter().collect()).collect();
        Ok(Self { qr: drawn(&qr), letters: groups.join(" ") })
    }
}

/// Light around a square, in modules, as readers of such squares expect it.
const QUIET_ZONE: i32 = 4;

/// The dark modules as one path, and the side of the whole.
fn drawn(qr: &QrCode) -> (String, i32) {
    let side = qr.size();
    let dark = (0..side).flat_map(|y| (0..side).map(move |x| (x, y))).filter(|(x, y)| qr.get_module(*x, *y));
    let path = dark.map(|(x, y)| format!("M{} {}h1v1h-1z", x + QUIET_ZONE, y + QUIET_ZONE)).collect();
    (path, side + 2 * QUIET_ZONE)
}

#[derive(Deserialize)]
struct Now {
    now: String,
}

/// `POST /account/codes`: shows what an app is set up with. The passphrase is asked for, so that nobody at a browser left open shuts its owner out.
#[post("/account/codes")]
async fn set_up(
    tenant: Tenant<AnyRole>,
    request: HttpRequest,
    form: Form<Now>,
) -> Result<HttpResponse, AppError> {
    if let Some(refused) = own::not_theirs(&tenant, &request, form.0.now).await? {
        return Ok(refused);
    }
    let store = &tenant.state.store;
    throttle::succeeded(store, &tenant.email, &address(&request)).await?;
    let issuer = format!("Honest Lantern, {}", tenant.gym.name);
    let made = codes::set_up(store, tenant.who.account, &issuer, &tenant.email).await?;
    html(&CodesPage::of(&made)?)
}

#[derive(Deserialize)]
struct Typed {
    code: String,
}

/// `POST /account/codes/confirm`: codes are asked for from now on.
#[post("/account/codes/confirm")]
async fn confirm(tenant: Tenant<AnyRole>, form: Form<Typed>) -> Result<HttpResponse, AppError> {
    let Some(spare) = codes::confirm(&tenant.state.store, tenant.who.account, &form.code).await? else {
        let words = "That was not the code of now, so nothing has changed. Begin again.".to_owned();
        return own::page(&tenant, Some(words), None, StatusCode::UNPROCESSABLE_ENTITY).await;
    };
    let spare: Vec<&str> = spare.iter().map(Secret::expose).collect();
    let words = format!(
        "A code is asked for from now on, after the passphrase. For the day on which the device is lost, write these down: each works once in place of a code. {}",
        spare.join(", ")
    );
    html(&ToldPage { title: "Codes are on", words })
}

/// `POST /account/codes/off`: no code is asked for any more; a last one is.
#[post("/account/codes/off")]
async fn leave(
    tenant: Tenant<AnyRole>,
    request: HttpRequest,
    form: Form<Typed>,
) -> Result<HttpResponse, AppError> {
    let about = format!("code {}", tenant.email);
    let refused = async |words: String, status| own::page(&tenant, Some(words), None, status).await;
    match attempt(&tenant.state, &request, &about).await {
        Err(AppError::TooFast(words)) => return refused(words, StatusCode::TOO_MANY_REQUESTS).await,
        other => other?,
    }
    let (store, account) = (&tenant.state.store, tenant.who.account);
    if !codes::uses(store, account, &form.code).await? {
        let words = "That was not the code of now, so it is still asked for.".to_owned();
        return refused(words, StatusCode::UNPROCESSABLE_ENTITY).await;
    }
    throttle::succeeded(store, &about, &address(&request)).await?;
    codes::drop_of(store, account).await?;
    own::page(&tenant, None, Some("No code is asked for any more."), StatusCode::OK).await
}
