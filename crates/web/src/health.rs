//! For machines that watch: the process, and the database behind it.

use std::time::Duration;

use actix_web::{HttpResponse, route, web};
use lantern_store::StoreError;

use crate::State;

/// How long the database may take to show that it is there.
const PATIENCE: Duration = Duration::from_secs(4);

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(healthz).service(readyz);
}

/// `GET /healthz`: the process answers.
#[route("/healthz", method = "GET", method = "HEAD")]
async fn healthz() -> &'static str {
    "ok\n"
}

/// `GET /readyz`: the database answers too, and has room.
#[route("/readyz", method = "GET", method = "HEAD")]
async fn readyz(state: web::Data<State>) -> HttpResponse {
    let ready = tokio::time::timeout(PATIENCE, state.store.ready());
    let ready = ready.await.unwrap_or_else(|_| Err(StoreError::Away("no answer in time".to_owned())));
    match ready {
        Ok(()) => HttpResponse::Ok().body("ok\n"),
        Err(error @ StoreError::Full(_)) => {
            tracing::error!(%error, "not ready");
            HttpResponse::ServiceUnavailable().body("the database has no room left\n")
        }
        Err(error) => {
            tracing::warn!(%error, "not ready");
            // Whoever watches asks again: not on the same connection.
            state.store.doubt();
            HttpResponse::ServiceUnavailable().body("the database does not answer\n")
        }
    }
}
