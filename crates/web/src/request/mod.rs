//! What comes in: forms and queries without characters that nobody types, hosts and origins that are ours, and a time by which
//! every request has its answer.

pub(crate) mod class_code;
pub(crate) mod house;
pub(crate) mod slot;
pub(crate) mod tenant;
pub(crate) mod told;

use std::future::Future;
use std::net::IpAddr;
use std::pin::Pin;
use std::time::{Duration, Instant};

use actix_web::body::{BoxBody, MessageBody};
use actix_web::dev::{Payload, ServiceRequest, ServiceResponse};
use actix_web::error::InternalError;
use actix_web::http::{ConnectionType, Method, header};
use actix_web::middleware::Next;
use actix_web::{FromRequest, HttpRequest, HttpResponse, web};
use serde::de::DeserializeOwned;

use crate::State;
use crate::request::tenant::LOGIN_COOKIE;
use crate::request::told::path_of;
use crate::respond::error::{self, AppError};
use crate::respond::wanted::Wanted;

/// Longest field that is no text, in bytes.
const LONGEST_FIELD: usize = 8 * 1024;
/// Fields that hold texts, or a form that was sent before; they may be as long as a form.
const TEXTS: [&str; 7] = ["text", "csv", "feed", "weeks", "base", "plain", "typed"];
/// How long a request may take altogether, its body included, where nothing else is asked for.
pub(crate) const DEADLINE: Duration = Duration::from_secs(8);

/// Requests under way at once; on two cores the last of so many that make a page anew has it before its time is up.
pub(crate) const MOST_AT_ONCE: usize = 256;

/// A form, its fields without control characters but line breaks and tabs.
pub(crate) struct Form<T>(pub T);

/// A query, likewise.
pub(crate) struct Query<T>(pub T);

impl<T> std::ops::Deref for Form<T> {
    type Target = T;

    fn deref(&self) -> &T {
        &self.0
    }
}

impl<T> std::ops::Deref for Query<T> {
    type Target = T;

    fn deref(&self) -> &T {
        &self.0
    }
}

impl<T: DeserializeOwned + 'static> FromRequest for Form<T> {
    type Error = AppError;
    type Future = Pin<Box<dyn Future<Output = Result<Self, AppError>>>>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let body = web::Bytes::from_request(request, payload);
        Box::pin(async move {
            let body =
                body.await.map_err(|error| match error.as_response_error().status_code().as_u16() {
                    413 => AppError::TooLarge,
                    _ => AppError::Malformed("it did not arrive in full".to_owned()),
                })?;
            let body =
                std::str::from_utf8(&body).map_err(|_| AppError::Malformed("it is no text".to_owned()))?;
            read(body).map(Self)
        })
    }
}

impl<T: DeserializeOwned + 'static> FromRequest for Query<T> {
    type Error = AppError;
    type Future = std::future::Ready<Result<Self, AppError>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        std::future::ready(read(request.query_string()).map(Self))
    }
}

fn read<T: DeserializeOwned>(encoded: &str) -> Result<T, AppError> {
    let malformed = |error: serde_urlencoded::de::Error| AppError::Malformed(error.to_string());
    let fields: Vec<(String, String)> = serde_urlencoded::from_str(encoded).map_err(malformed)?;
    let mut clean: Vec<(String, String)> = Vec::with_capacity(fields.len());
    for (name, value) in fields {
        if name.len() > 200 || (!TEXTS.contains(&name.as_str()) && value.len() > LONGEST_FIELD) {
            let name: String = name.chars().take(40).collect();
            return Err(AppError::Malformed(format!(
                "the field `{name}` has {} characters, which is more than anybody types there",
                value.chars().count()
            )));
        }
        clean.push((name, typed(&value)));
    }
    let clean = serde_urlencoded::to_string(clean).map_err(|error| AppError::Malformed(error.to_string()))?;
    serde_urlencoded::from_str(&clean).map_err(malformed)
}

/// A text as somebody can have typed it: control characters but line breaks and tabs show nothing and break much.
pub(crate) fn typed(text: &str) -> String {
    let kept = |c: &char| !c.is_control() || matches!(c, '\n' | '\t');
    text.replace("\r\n", "\n").replace('\r', "\n").chars().filter(kept).collect()
}

/// `HEAD` is answered as `GET`, without the body.
pub(crate) async fn head_as_get<B: MessageBody>(
    mut request: ServiceRequest,
    next: Next<B>,
) -> Result<ServiceResponse<B>, actix_web::Error> {
    if request.method() == Method::HEAD {
        request.head_mut().method = Method::GET;
    }
    next.call(request).await
}

/// Every request has its answer in time, whatever the database does. A request that has waited in vain tells the store, so that the
/// next one does not wait for the same connection.
pub(crate) async fn in_time<B: MessageBody + 'static>(
    request: ServiceRequest,
    next: Next<B>,
) -> Result<ServiceResponse<BoxBody>, actix_web::Error> {
    // The request itself must not be held: routing needs it alone.
    let state = request.app_data::<web::Data<State>>().cloned();
    let path = path_of(request.path()).into_owned();
    let begun = Instant::now();
    let wanted = Wanted::of(request.headers());
    let turned_away = |error: AppError| {
        let answer = turned_away(wanted, &error);
        Err(InternalError::from_response(error, answer).into())
    };
    // Whoever comes when too many are in already is told to come again, rather than made to wait for what comes too late. Whether the program lives, it always says.
    let room = state.as_ref().map(|state| state.room.clone().try_acquire_owned());
    if matches!(room, Some(Err(_))) && !path.ends_with("/healthz") {
        metrics::counter!("lantern_turned_away_total").increment(1);
        return turned_away(AppError::Crowded);
    }
    let deadline = state.as_ref().map_or(DEADLINE, |state| state.deadline);
    let Ok(answer) = tokio::time::timeout(deadline, next.call(request)).await else {
        if let Some(state) = state {
            state.store.doubt();
        }
        tracing::warn!(path, "no answer in time");
        return turned_away(AppError::TooSlow);
    };
    drop(room);
    let mut answer = answer?;
    // The next click is another process's.
    if state.is_some_and(|state| state.hub.is_closing()) {
        answer.response_mut().head_mut().set_connection_type(ConnectionType::Close);
    }
    let route = answer.request().match_pattern().unwrap_or_else(|| "none".to_owned());
    let status = answer.status().as_u16().to_string();
    metrics::histogram!("lantern_request_seconds", "route" => route, "status" => status)
        .record(begun.elapsed());
    Ok(answer.map_into_boxed_body())
}

/// What is answered when time is up, or there is no room. It leaves by an error, past the middleware that adds headers to other answers.
fn turned_away(wanted: Wanted, error: &AppError) -> HttpResponse {
    let mut answer = error::answer(wanted, error);
    for (name, value) in crate::HEADERS {
        let name = header::HeaderName::from_bytes(name.as_bytes()).expect("a header's name");
        answer.headers_mut().insert(name, header::HeaderValue::from_static(value));
    }
    answer
}

/// Names under which this server may be asked for: numbers and `localhost`, and those of the settings. A page elsewhere cannot make a
/// browser speak to it under a name of its own.
#[derive(Clone, Debug, Default)]
pub struct Hosts(pub Vec<String>);

impl Hosts {
    fn knows(&self, host: &str) -> bool {
        let name = match host.strip_prefix('[').and_then(|rest| rest.split_once(']')) {
            Some((six, _)) => six,
            None => host.rsplit_once(':').map_or(host, |(name, _)| name),
        };
        name.eq_ignore_ascii_case("localhost")
            || name.parse::<IpAddr>().is_ok()
            || self.0.iter().any(|known| known.eq_ignore_ascii_case(name) || known.eq_ignore_ascii_case(host))
    }
}

/// Requests come under a name that is ours, and forms from a page that is.
pub(crate) async fn from_here<B: MessageBody + 'static>(
    request: ServiceRequest,
    next: Next<B>,
) -> Result<ServiceResponse<BoxBody>, actix_web::Error> {
    let text = |name: header::HeaderName| {
        request.headers().get(name).and_then(|value| value.to_str().ok()).map(str::to_owned)
    };
    let host = text(header::HOST).or_else(|| request.uri().host().map(str::to_owned)).unwrap_or_default();
    let hosts = request.app_data::<web::Data<State>>().map(|state| state.hosts.clone()).unwrap_or_default();
    // Who names no host is no browser: a monitor that speaks the oldest HTTP.
    if !host.is_empty() && !hosts.knows(&host) {
        return Ok(request.error_response(AppError::OtherHost).map_into_boxed_body());
    }
    let safe = matches!(*request.method(), Method::GET | Method::HEAD | Method::OPTIONS);
    let elsewhere = |origin: &str| {
        let place = origin.split_once("://").map(|(_, place)| place);
        !place.is_some_and(|place| place.eq_ignore_ascii_case(&host))
    };
    // Browsers name the origin with every form.
    let origin = text(header::ORIGIN).or_else(|| {
        let from = text(header::REFERER)?;
        let end = from.find("://").map(|at| at + 3)?;
        let path = from[end..].find('/').map_or(from.len(), |at| end + at);
        Some(from[..path].to_owned())
    });
    let site = request.headers().get("Sec-Fetch-Site").and_then(|value| value.to_str().ok());
    // Whoever sends a login along is a browser: one that does not say where the form stands is not believed.
    let unsaid = origin.is_none() && site.is_none() && request.cookie(LOGIN_COOKIE).is_some();
    let foreign = matches!(site, Some("cross-site" | "same-site"))
        || origin.as_deref().is_some_and(elsewhere)
        || unsaid;
    if !safe && foreign {
        return Ok(request.error_response(AppError::OtherSite).map_into_boxed_body());
    }
    Ok(next.call(request).await?.map_into_boxed_body())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_field_keeps_what_can_be_typed_and_nothing_else() {
        assert_eq!(typed("a\0b\u{1b}c\r\nd\te\rf"), "abc\nd\te\nf");
        let fields: Vec<(String, String)> = read("a=1%00&b=%0D%0AX").unwrap();
        assert_eq!(fields, [("a".to_owned(), "1".to_owned()), ("b".to_owned(), "\nX".to_owned())]);
        let long = format!("id={}", "x".repeat(LONGEST_FIELD + 1));
        assert!(read::<Vec<(String, String)>>(&long).unwrap_err().to_string().contains("`id`"));
    }

    #[test]
    fn an_answer_that_comes_too_late_is_as_guarded_as_any_other() {
        for answer in [Wanted::Page, Wanted::Part, Wanted::InPlace]
            .map(|wanted| turned_away(wanted, &AppError::TooSlow))
        {
            for (name, value) in crate::HEADERS {
                assert_eq!(answer.headers().get(name).unwrap(), value, "{name}");
            }
        }
    }

    #[test]
    fn names_of_elsewhere_are_not_ours() {
        let hosts = Hosts(vec!["gym.example".to_owned()]);
        for ours in ["127.0.0.1:8080", "localhost", "[::1]:80", "gym.example:443", "GYM.example", "10.0.0.7"]
        {
            assert!(hosts.knows(ours), "{ours}");
        }
        for other in ["evil.example", "gym.example.evil.example", "", "localhost.evil.example:80"] {
            assert!(!hosts.knows(other), "{other}");
        }
    }
}
