//! What the log is told of a request: enough to find it, and no address that opens something.

use std::borrow::Cow;

use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::{Error, HttpMessage};
use tracing::Span;
use tracing_actix_web::{DefaultRootSpanBuilder, RequestId, RootSpanBuilder};

/// Addresses that hold a secret; of them the log is told where they begin.
const SECRET: [&str; 7] =
    ["/wall/", "/guest/", "/calendar/", "/passphrase/", "/invited/", "/start/", "/demo/"];

/// A path as the log is told it, without what is asked for in it.
pub(crate) fn path_of(path: &str) -> Cow<'_, str> {
    match SECRET.iter().find(|secret| path.starts_with(**secret)) {
        Some(secret) => format!("{secret}(secret)").into(),
        None => path.into(),
    }
}

/// The span of a request.
pub(crate) struct Told;

impl RootSpanBuilder for Told {
    fn on_request_start(request: &ServiceRequest) -> Span {
        let id = request.extensions().get::<RequestId>().map(ToString::to_string).unwrap_or_default();
        tracing::info_span!(
            "request",
            method = %request.method(),
            path = %path_of(request.path()),
            id = %id,
            "http.status_code" = tracing::field::Empty,
            "exception.message" = tracing::field::Empty,
            "exception.details" = tracing::field::Empty,
        )
    }

    fn on_request_end<B: MessageBody>(span: Span, outcome: &Result<ServiceResponse<B>, Error>) {
        DefaultRootSpanBuilder::on_request_end(span, outcome);
    }
}

#[cfg(test)]
mod tests {
    use super::path_of;

    #[test]
    fn no_address_that_opens_something_is_told() {
        for secret in [
            "/wall/1.abc",
            "/calendar/1.abc/classes.ics",
            "/passphrase/abc",
            "/invited/1.abc",
            "/start/abc",
            "/demo/abc/iris",
        ] {
            let told = path_of(secret);
            assert!(told.ends_with("(secret)") && !told.contains("abc"), "{told}");
        }
        assert_eq!(path_of("/days/2026-11-23/read"), "/days/2026-11-23/read");
    }
}
