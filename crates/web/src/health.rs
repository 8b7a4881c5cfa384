//! For machines that watch: the process, and the database behind it.

use actix_web::{HttpResponse, route, web};

use crate::State;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(healthz).service(readyz);
}

/// `GET /healthz`: the process answers.
#[route("/healthz", method = "GET", method = "HEAD")]
async fn healthz() -> &'static str {
    "ok\n"
}

/// `GET /readyz`: the database answers too.
#[route("/readyz", method = "GET", method = "HEAD")]
async fn readyz(state: web::Data<State>) -> HttpResponse {
    match state.store.ping().await {
        Ok(()) => HttpResponse::Ok().body("ok\n"),
        Err(error) => {
            tracing::warn!(%error, "not ready");
            HttpResponse::ServiceUnavailable().body("the database does not answer\n")
        }
    }
}
