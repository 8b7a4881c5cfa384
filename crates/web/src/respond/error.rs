//! What a person sees when something goes wrong: the right status, a clear page, nothing of the inside.

use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::{StatusCode, header};
use actix_web::middleware::Next;
use actix_web::{HttpResponse, HttpResponseBuilder, ResponseError};
use askama::Template;
use lantern_store::{Role, StoreError};

use crate::respond::filters;
use crate::respond::wanted::{PROGRAMS, Wanted};

/// Why a request has no good answer.
#[derive(Debug, thiserror::Error)]
pub enum AppError {
    /// There is no such page, day or member.
    #[error("There is no such page.")]
    NoSuchPage,
    /// The day in the address is no date.
    #[error("`{0}` is no day; write it as 2026-11-23.")]
    NoSuchDay(String),
    /// A form or query lacks a field or holds what it cannot.
    #[error("The form could not be read: {0}")]
    Malformed(String),
    /// The form is too large.
    #[error("That is more than {} kB; a day's session is a few. Your text is still in the browser: go back and shorten it.", crate::LARGEST_FORM / 1024)]
    TooLarge,
    /// The request could not be answered in time.
    #[error("That took too long, so it was given up. Nothing was lost: go back, and try again in a moment.")]
    TooSlow,
    /// Too many plans are being worked out at once.
    #[error("Too much is being planned at this moment. Nothing was lost: try again in a moment.")]
    TooBusy,
    /// Too many ask at once.
    #[error("Too many ask at this moment. Nothing was lost: try again in a moment.")]
    Crowded,
    /// What was asked for stands there already, or has changed meanwhile.
    #[error("{0}")]
    Taken(String),
    /// A class of the day has begun, and its screens follow the text: half a line is nothing for them.
    #[error("A class of this day has begun: its text is saved when somebody says so.")]
    Runs,
    /// Part of a page could not be shown.
    #[error("This part could not be shown; what you typed is still there.")]
    NotShown(StatusCode),
    /// Nobody is signed in, or not any more.
    #[error("You are not signed in, or not any more.")]
    SignedOut,
    /// Somebody is signed in whose role at the gym is not enough.
    #[error("This is for {} of the gym.", plural(*.0))]
    NotYours(Role),
    /// Attempts come too fast.
    #[error("{0}")]
    TooFast(String),
    /// The server is asked for under a name that is not its own.
    #[error("This server is not known under that name. Its names are set with LANTERN_HOSTS.")]
    OtherHost,
    /// A form came from another site.
    #[error("This form did not come from this site, so nothing was changed.")]
    OtherSite,
    /// The database failed.
    #[error("{}", store_words(.0))]
    Store(#[from] StoreError),
    /// Something that should not happen did.
    #[error("Something went wrong on our side. It has been written down; try again.")]
    Inside(String),
}

impl AppError {
    /// A field that holds what it cannot, with what it should be.
    pub fn field(field: &str, value: &str, expected: &str) -> Self {
        Self::Malformed(format!("the field `{field}` is `{value}`, but it should be {expected}"))
    }
}

const fn plural(role: Role) -> &'static str {
    match role {
        Role::Member => "members",
        Role::Coach => "coaches",
        Role::Owner => "owners",
    }
}

fn store_words(error: &StoreError) -> String {
    match error {
        StoreError::Away(_) => {
            "The database does not answer just now. Nothing was lost: go back, keep this tab open, and try again in a moment.".to_owned()
        }
        StoreError::Full(_) => {
            "The database has no room left on its disk, so nothing was changed. Keep this tab open; whoever runs the server must make room.".to_owned()
        }
        StoreError::Busy(_) => {
            "The database is busy just now, so nothing was changed. Try again in a moment.".to_owned()
        }
        StoreError::NotFound(_) => "There is no such page.".to_owned(),
        StoreError::Taken(_) => {
            "There is one of that name, or at that time, already; nothing was changed.".to_owned()
        }
        StoreError::Refused(why) if !why.contains("constraint") => format!("Nothing was changed: {why}."),
        StoreError::Refused(_) => "A value is not one that can be kept, so nothing was changed.".to_owned(),
        _ => "Something went wrong with the stored data. It has been written down; nothing was changed.".to_owned(),
    }
}

impl ResponseError for AppError {
    fn status_code(&self) -> StatusCode {
        match self {
            Self::NoSuchPage | Self::NoSuchDay(_) | Self::Store(StoreError::NotFound(_)) => {
                StatusCode::NOT_FOUND
            }
            Self::Malformed(_) => StatusCode::UNPROCESSABLE_ENTITY,
            Self::TooLarge => StatusCode::PAYLOAD_TOO_LARGE,
            Self::SignedOut => StatusCode::UNAUTHORIZED,
            Self::OtherSite | Self::NotYours(_) => StatusCode::FORBIDDEN,
            Self::TooFast(_) => StatusCode::TOO_MANY_REQUESTS,
            Self::NotShown(status) => *status,
            Self::OtherHost => StatusCode::MISDIRECTED_REQUEST,
            Self::Taken(_) | Self::Store(StoreError::Taken(_)) => StatusCode::CONFLICT,
            Self::Runs => StatusCode::LOCKED,
            Self::Store(StoreError::Refused(_)) => StatusCode::UNPROCESSABLE_ENTITY,
            Self::Store(StoreError::Full(_)) => StatusCode::INSUFFICIENT_STORAGE,
            Self::TooSlow
            | Self::TooBusy
            | Self::Crowded
            | Self::Store(StoreError::Away(_) | StoreError::Busy(_)) => StatusCode::SERVICE_UNAVAILABLE,
            Self::Store(_) | Self::Inside(_) => StatusCode::INTERNAL_SERVER_ERROR,
        }
    }

    fn error_response(&self) -> HttpResponse {
        let status = self.status_code();
        if status.is_server_error() {
            tracing::error!(error = ?self, "request failed");
        }
        page(status, &self.to_string())
    }
}

#[derive(Template)]
#[template(path = "respond/error.html")]
struct ErrorPage<'a> {
    status: u16,
    title: &'a str,
    message: &'a str,
}

/// What went wrong, as the answer to what was wanted: a whole page has no place in a part of one. Where a decision was made in place, the page
/// stays as it is with everything typed on it, and the words stand where it would have said what was done.
pub(crate) fn answer(wanted: Wanted, error: &AppError) -> HttpResponse {
    if wanted == Wanted::Page {
        return error.error_response();
    }
    let words = error.to_string();
    let part = Part { words: &words }.render().unwrap_or_else(|_| words.clone());
    let mut answer = built(error.status_code());
    if wanted == Wanted::InPlace {
        let places =
            [("HX-Retarget", "#done"), ("HX-Reswap", "innerHTML show:none"), ("HX-Reselect", ".notice")];
        places.into_iter().for_each(|place| {
            answer.insert_header(place);
        });
    }
    answer.content_type("text/html; charset=utf-8").body(part)
}

/// What went wrong, in place of the part of a page that was asked for.
#[derive(Template)]
#[template(source = "<p class=\"notice bad\" role=\"alert\">{{ words }}</p>", ext = "html")]
struct Part<'a> {
    words: &'a str,
}

fn page(status: StatusCode, message: &str) -> HttpResponse {
    let title = match status {
        StatusCode::NOT_FOUND => "Not here",
        StatusCode::SERVICE_UNAVAILABLE => "Not just now",
        StatusCode::INSUFFICIENT_STORAGE => "No room left",
        StatusCode::CONFLICT => "Somebody was quicker",
        StatusCode::PAYLOAD_TOO_LARGE => "Too much at once",
        StatusCode::UNPROCESSABLE_ENTITY | StatusCode::BAD_REQUEST => "That form was not right",
        _ => "That did not work",
    };
    let page = ErrorPage { status: status.as_u16(), title, message };
    let body = page.render().unwrap_or_else(|_| message.to_owned());
    built(status).content_type("text/html; charset=utf-8").body(body)
}

/// Seconds after which it is worth to ask again where it is only a matter of time.
const AGAIN: &str = "2";

fn built(status: StatusCode) -> HttpResponseBuilder {
    let mut answer = HttpResponse::build(status);
    if status == StatusCode::SERVICE_UNAVAILABLE {
        answer.insert_header((header::RETRY_AFTER, AGAIN));
    }
    answer
}

/// Gives errors that Actix makes itself the same pages.
pub(crate) async fn pages_for_errors<B: MessageBody + 'static>(
    request: ServiceRequest,
    next: Next<B>,
) -> Result<ServiceResponse<actix_web::body::BoxBody>, actix_web::Error> {
    let wanted = Wanted::of(request.headers());
    let response = next.call(request).await?;
    let status = response.status();
    let failed = status.is_client_error() || status.is_server_error();
    let own = response.response().error().and_then(|error| error.as_error::<AppError>());
    // A page of its own that names the field takes its place like any other.
    let whole =
        wanted == Wanted::InPlace && own.is_none() && response.headers().contains_key(header::CONTENT_TYPE);
    if failed && wanted != Wanted::Page && !whole {
        let answer = match (status, own) {
            (StatusCode::PAYLOAD_TOO_LARGE, _) => answer(wanted, &AppError::TooLarge),
            (_, Some(error)) if wanted == Wanted::InPlace => answer(wanted, error),
            (StatusCode::SERVICE_UNAVAILABLE, _) => answer(wanted, &AppError::TooSlow),
            _ => answer(wanted, &AppError::NotShown(status)),
        };
        let (request, _) = response.into_parts();
        return Ok(ServiceResponse::new(request, answer));
    }
    let plain = response
        .headers()
        .get(header::CONTENT_TYPE)
        .is_none_or(|kind| !kind.to_str().unwrap_or_default().starts_with("text/html"));
    let itself = ["/healthz", "/readyz", PROGRAMS];
    let answered_itself = itself.iter().any(|path| response.request().path().starts_with(path));
    if failed && plain && !answered_itself {
        let (request, _) = response.into_parts();
        let message = if status == StatusCode::METHOD_NOT_ALLOWED {
            "This page cannot be used that way."
        } else {
            "There is no such page."
        };
        return Ok(ServiceResponse::new(request, page(status, message)));
    }
    Ok(response.map_into_boxed_body())
}

/// A rendered page.
pub(crate) fn html(template: &impl Template) -> Result<HttpResponse, AppError> {
    html_as(StatusCode::OK, template)
}

/// A rendered page with a status of its own.
pub(crate) fn html_as(status: StatusCode, template: &impl Template) -> Result<HttpResponse, AppError> {
    let body = template.render().map_err(|error| AppError::Inside(error.to_string()))?;
    Ok(HttpResponse::build(status).content_type("text/html; charset=utf-8").body(body))
}
