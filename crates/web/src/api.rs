//! What programs ask for: JSON by keys with scopes, described by an OpenAPI document; a test makes it from this code and compares.

use std::future::Future;
use std::marker::PhantomData;
use std::ops::Deref;
use std::pin::Pin;

use actix_web::dev::Payload;
use actix_web::http::StatusCode;
use actix_web::http::header::AUTHORIZATION;
use actix_web::{FromRequest, HttpRequest, HttpResponse, ResponseError, get, web};
use lantern_core::print::reading_json;
use lantern_core::strength::SetKind;
use lantern_store::keys::{ApiScope, Opens};
use lantern_store::members;
use serde::Serialize;

use crate::State;
use crate::day::export::reading_of_day;
use crate::day::planned::with_plan;
use crate::day::slot_of;
use crate::request::house::House;
use crate::respond::error::AppError;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(session).service(loads).service(people).service(document);
}

/// What went wrong, for a program.
#[derive(Debug, thiserror::Error)]
#[error("{0}")]
pub(crate) struct ApiError(AppError);

impl<E: Into<AppError>> From<E> for ApiError {
    fn from(error: E) -> Self {
        Self(error.into())
    }
}

/// What went wrong, in words.
#[derive(Serialize)]
#[cfg_attr(test, derive(utoipa::ToSchema))]
struct Wrong {
    /// For whoever reads the log of the program.
    error: String,
}

impl ResponseError for ApiError {
    fn status_code(&self) -> StatusCode {
        self.0.status_code()
    }

    fn error_response(&self) -> HttpResponse {
        HttpResponse::build(self.status_code()).json(Wrong { error: self.0.to_string() })
    }
}

/// Which scope a handler asks for.
pub(crate) trait Asks: 'static {
    const SCOPE: ApiScope;
}

/// What is written for a day.
pub(crate) struct Sessions;
/// What goes on each bar.
pub(crate) struct Loads;
/// Members with their lifts.
pub(crate) struct Members;

impl Asks for Sessions {
    const SCOPE: ApiScope = ApiScope::Sessions;
}
impl Asks for Loads {
    const SCOPE: ApiScope = ApiScope::Loads;
}
impl Asks for Members {
    const SCOPE: ApiScope = ApiScope::Members;
}

/// A program with a key whose scopes are enough.
pub(crate) struct Program<A: Asks> {
    house: House,
    asks: PhantomData<A>,
}

impl<A: Asks> Deref for Program<A> {
    type Target = House;

    fn deref(&self) -> &House {
        &self.house
    }
}

impl<A: Asks> FromRequest for Program<A> {
    type Error = ApiError;
    type Future = Pin<Box<dyn Future<Output = Result<Self, ApiError>>>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        let request = request.clone();
        Box::pin(async move {
            let state = request.app_data::<web::Data<State>>().cloned();
            let state = state.ok_or_else(|| AppError::Inside("no state".to_owned()))?;
            let key = request.headers().get(AUTHORIZATION).and_then(|value| value.to_str().ok());
            let key = key.and_then(|value| value.strip_prefix("Bearer ")).ok_or(AppError::SignedOut)?;
            let house = House::of_key(state, (Opens::Api, Some(A::SCOPE)), key.trim()).await?;
            Ok(Self { house: house.ok_or(AppError::SignedOut)?, asks: PhantomData })
        })
    }
}

/// The reading of a day: its parts as trees, problems beside them.
///
/// The layout is `honest-lantern/reading/1`, described by `docs/reading.schema.json`.
#[cfg_attr(test, utoipa::path(get, path = "/api/v1/days/{day}/session", tag = "sessions", security(("key" = ["sessions"])),
    params(("day" = String, Path, description = "A day such as 2026-11-23")),
    responses((status = 200, body = serde_json::Value), (status = 401, body = Wrong), (status = 404, body = Wrong))))]
#[get("/api/v1/days/{day}/session")]
async fn session(program: Program<Sessions>, path: web::Path<String>) -> Result<HttpResponse, ApiError> {
    let (reading, _) = reading_of_day(&program, &path).await?;
    Ok(HttpResponse::Ok().json(reading_json(&reading)))
}

/// A lift of a member on a day.
#[derive(Serialize)]
#[cfg_attr(test, derive(utoipa::ToSchema))]
struct LiftOfMember {
    /// What the member is called.
    member: String,
    /// The lift's id.
    lift: String,
    /// Why it goes by feel, where it does.
    by_feel: Option<String>,
    /// The sets in order, those that lead up to the work among them.
    sets: Vec<Set>,
}

/// A set with its load.
#[derive(Serialize)]
#[cfg_attr(test, derive(utoipa::ToSchema))]
struct Set {
    /// Whether it leads up to the work.
    ramp: bool,
    /// Repetitions; 0 for as many as possible.
    reps: u32,
    /// What is on the bar, in kilograms.
    kg: Option<f64>,
}

/// What goes on each bar of a day, or of a class of it.
#[cfg_attr(test, utoipa::path(get, path = "/api/v1/days/{day}/loads", tag = "loads", security(("key" = ["loads"])),
    params(("day" = String, Path, description = "A day such as 2026-11-23, or a class of it such as 2026-11-23T18:00")),
    responses((status = 200, body = Vec<LiftOfMember>), (status = 401, body = Wrong), (status = 404, body = Wrong))))]
#[get("/api/v1/days/{day}/loads")]
async fn loads(program: Program<Loads>, path: web::Path<String>) -> Result<HttpResponse, ApiError> {
    let day = slot_of(&path)?;
    let all = with_plan(&program, day, |planned| {
        let sheets = planned.plan.strength.iter().flat_map(|lift| &lift.sheets);
        let set = |set: &lantern_core::strength::SetLoad| Set {
            ramp: set.kind == SetKind::Ramp,
            reps: set.reps,
            kg: set.load.as_ref().map(|load| load.total.kg()),
        };
        let lift = |sheet: &lantern_core::strength::LiftSheet| LiftOfMember {
            member: sheet.name.clone(),
            lift: sheet.lift.clone(),
            by_feel: sheet.by_feel.clone(),
            sets: sheet.sets.iter().map(set).collect(),
        };
        sheets.map(lift).collect::<Vec<_>>()
    });
    let all = all.await?.ok_or(AppError::NoSuchPage)?;
    Ok(HttpResponse::Ok().json(all))
}

/// A member with their lifts; nothing of what they spare.
#[derive(Serialize)]
#[cfg_attr(test, derive(utoipa::ToSchema))]
struct PersonOfGym {
    /// The row's id.
    id: i64,
    /// What they are called.
    name: String,
    /// 1RM that loads are counted from, in kilograms, by the lift's id.
    maxes: std::collections::BTreeMap<String, f64>,
}

/// The members of the gym.
#[cfg_attr(test, utoipa::path(get, path = "/api/v1/members", tag = "members", security(("key" = ["members"])),
    responses((status = 200, body = Vec<PersonOfGym>), (status = 401, body = Wrong))))]
#[get("/api/v1/members")]
async fn people(program: Program<Members>) -> Result<HttpResponse, ApiError> {
    let mut rows = program.look().await?;
    let known = members::of_gym(&mut rows, &program.gym, program.today()).await?;
    let person = |stored: members::StoredMember| PersonOfGym {
        id: stored.id.number(),
        name: stored.member.name,
        maxes: stored.member.maxes.iter().map(|(lift, max)| (lift.to_string(), max.value.kg())).collect(),
    };
    Ok(HttpResponse::Ok().json(known.into_iter().map(person).collect::<Vec<_>>()))
}

/// What a program may ask for.
const DOCUMENT: &str = include_str!("../../../docs/openapi.json");

/// `GET /api/v1/openapi.json`: no secret stands in it.
#[get("/api/v1/openapi.json")]
async fn document() -> HttpResponse {
    HttpResponse::Ok().content_type("application/json").body(DOCUMENT)
}

#[cfg(test)]
mod tests {
    use utoipa::openapi::security::{HttpAuthScheme, HttpBuilder, SecurityScheme};
    use utoipa::{Modify, OpenApi};

    use super::*;

    #[derive(OpenApi)]
    #[openapi(paths(session, loads, people), components(schemas(Wrong)), modifiers(&Keys), info(
        title = "Honest Lantern",
        description = "What a program may ask a gym for. A key is made by an owner of the gym, with scopes; it is sent as `Authorization: Bearer KEY`.",
        version = "1"
    ))]
    struct Described;

    struct Keys;

    impl Modify for Keys {
        fn modify(&self, openapi: &mut utoipa::openapi::OpenApi) {
            let key = SecurityScheme::Http(HttpBuilder::new().scheme(HttpAuthScheme::Bearer).build());
            openapi.components.get_or_insert_default().add_security_scheme("key", key);
        }
    }

    /// The OpenAPI document of this code.
    fn described() -> String {
        let mut text = Described::openapi().to_pretty_json().unwrap_or_default();
        text.push('\n');
        text
    }

    #[test]
    fn the_document_in_the_repository_is_the_one_of_this_code() {
        assert_eq!(DOCUMENT, described(), "put this into docs/openapi.json:\n{}", described());
    }
}
