//! Help: what the steps are for, what words mean, the keys, and how a device is set.

use actix_web::{HttpResponse, get, web};
use askama::Template;
use lantern_core::versions::VersionName;

use crate::respond::error::{AppError, html};
use crate::respond::filters;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(help);
}

#[derive(Template)]
#[template(path = "help/help.html")]
struct HelpPage {
    versions: [VersionName; 6],
}

/// `GET /help`: of no gym, and open to everybody.
#[get("/help")]
async fn help() -> Result<HttpResponse, AppError> {
    html(&HelpPage { versions: VersionName::ALL })
}
