//! What somebody meets who is signed in no longer: the page to sign in, and on it what they had typed, which comes back when they have.

use actix_web::body::{BoxBody, MessageBody};
use actix_web::dev::{Payload, ServiceRequest, ServiceResponse};
use actix_web::http::{Method, StatusCode, header};
use actix_web::middleware::Next;
use actix_web::web;

use crate::account::sign_in::SignInPage;
use crate::respond::error::{self, AppError};
use crate::respond::redirect::see_other;
use crate::respond::wanted::PROGRAMS;
use crate::respond::wanted::Wanted;

/// Answers of a handler that nobody is signed in for become the way to sign in: for a look a page that leads back, for a form one that holds what
/// was typed.
pub(crate) async fn signs_in<B: MessageBody + 'static>(
    mut request: ServiceRequest,
    next: Next<B>,
) -> Result<ServiceResponse<BoxBody>, actix_web::Error> {
    let to = request.uri().path_and_query().map_or("/", |to| to.as_str()).to_owned();
    let (method, wanted) = (request.method().clone(), Wanted::of(request.headers()));
    let kind = request.headers().get(header::CONTENT_TYPE).and_then(|kind| kind.to_str().ok());
    let is_form = kind.is_some_and(|kind| kind.starts_with("application/x-www-form-urlencoded"));
    // The body is read before anything else is done, so that whoever sends one slowly holds nothing.
    let mut typed = String::new();
    if method == Method::POST && is_form {
        let body = match request.extract::<web::Bytes>().await {
            Ok(body) => body,
            Err(error) => {
                let too_large = error.as_response_error().status_code() == StatusCode::PAYLOAD_TOO_LARGE;
                let error = if too_large {
                    AppError::TooLarge
                } else {
                    AppError::Malformed("it did not arrive in full".to_owned())
                };
                return Ok(request.into_response(error::answer(wanted, &error)));
            }
        };
        typed = String::from_utf8_lossy(&body).into_owned();
        request.set_payload(Payload::from(body));
    }
    let answer = next.call(request).await?;
    if answer.status() != StatusCode::UNAUTHORIZED || to.starts_with(PROGRAMS) {
        return Ok(answer.map_into_boxed_body());
    }
    let (request, _) = answer.into_parts();
    let way = if wanted == Wanted::Part {
        error::answer(wanted, &AppError::SignedOut)
    } else if method == Method::POST {
        // A passphrase is carried through no page.
        let (to, typed) =
            if to.starts_with("/account/") { ("/account".to_owned(), String::new()) } else { (to, typed) };
        SignInPage::again(to, typed).answer()?
    } else {
        let back = serde_urlencoded::to_string([("to", to)]).unwrap_or_default();
        see_other(format!("/sign-in?{back}"))
    };
    Ok(ServiceResponse::new(request, way))
}
