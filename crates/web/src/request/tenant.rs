//! Who asks, and at which gym. A handler that takes a [`Tenant`] is reached by nobody else; one that takes none has no way to a gym's rows.

use std::future::Future;
use std::marker::PhantomData;
use std::ops::Deref;
use std::pin::Pin;

use actix_web::cookie::time::Duration;
use actix_web::cookie::{Cookie, SameSite};
use actix_web::dev::Payload;
use actix_web::{FromRequest, HttpRequest, web};
use lantern_store::accounts;
use lantern_store::memberships::{self, Membership, SignedIn};
use lantern_store::{Role, Secret};

use crate::State;
use crate::request::house::House;
use crate::respond::error::AppError;

/// The cookie that holds a login session's token.
pub(crate) const LOGIN_COOKIE: &str = "lantern_login";

/// Which role a handler asks for.
pub(crate) trait Needs: 'static {
    const ROLE: Role;
}

/// Everybody who belongs to the gym.
pub(crate) struct AnyRole;
/// Coaches and owners.
pub(crate) struct Coaching;
/// Owners.
pub(crate) struct Owning;

impl Needs for AnyRole {
    const ROLE: Role = Role::Member;
}
impl Needs for Coaching {
    const ROLE: Role = Role::Coach;
}
impl Needs for Owning {
    const ROLE: Role = Role::Owner;
}

/// Somebody who is signed in, at the gym that they look at, with a role that is enough.
pub(crate) struct Tenant<N: Needs = Coaching> {
    /// What they are there.
    pub who: Membership,
    /// Their e-mail address.
    pub email: String,
    /// What their browser holds.
    pub token: Secret,
    house: House,
    needs: PhantomData<N>,
}

impl<N: Needs> Deref for Tenant<N> {
    type Target = House;

    fn deref(&self) -> &House {
        &self.house
    }
}

impl<N: Needs> FromRequest for Tenant<N> {
    type Error = AppError;
    type Future = Pin<Box<dyn Future<Output = Result<Self, AppError>>>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        let request = request.clone();
        Box::pin(async move {
            let state = request.app_data::<web::Data<State>>().cloned();
            let state = state.ok_or_else(|| AppError::Inside("no state".to_owned()))?;
            let token = token_of(&request).ok_or(AppError::SignedOut)?;
            let signed_in = memberships::signed_in(&state.store, &token).await?;
            let SignedIn { who, email, gym, known } = signed_in.ok_or(AppError::SignedOut)?;
            if !who.role.may(N::ROLE) {
                return Err(AppError::NotYours(N::ROLE));
            }
            Ok(Self { who, email, token, house: House::new(state, known, gym), needs: PhantomData })
        })
    }
}

/// The token that a browser holds, whether or not its session has ended.
pub(crate) fn token_of(request: &HttpRequest) -> Option<Secret> {
    request.cookie(LOGIN_COOKIE).map(|cookie| Secret::of(cookie.value()))
}

/// The cookie that keeps somebody signed in: out of reach of scripts, sent along from no other site, and over no plain connection when it came
/// over a safe one.
pub(crate) fn cookie(token: &Secret, request: &HttpRequest) -> Cookie<'static> {
    Cookie::build(LOGIN_COOKIE, token.expose().to_owned())
        .path("/")
        .http_only(true)
        .same_site(SameSite::Lax)
        .secure(request.connection_info().scheme() == "https")
        .max_age(Duration::days(accounts::LONGEST_SESSION_DAYS.into()))
        .finish()
}

/// The cookie that takes the other away.
pub(crate) fn no_cookie() -> Cookie<'static> {
    let mut cookie =
        Cookie::build(LOGIN_COOKIE, "").path("/").http_only(true).same_site(SameSite::Lax).finish();
    cookie.make_removal();
    cookie
}
