//! What a member is called.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, post, web};
use lantern_core::roster::LONGEST_NAME;
use lantern_store::MemberId;
use lantern_store::members;
use serde::Deserialize;

use crate::request::Form;
use crate::request::tenant::Tenant;
use crate::respond::error::{AppError, html_as};
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(call);
}

#[derive(Deserialize)]
struct Called {
    name: String,
}

/// What is wrong with a name; none where nothing is.
pub(crate) fn wrong_with(name: &str) -> Option<String> {
    let fits = !name.is_empty() && name.chars().count() <= LONGEST_NAME;
    (!fits).then(|| format!("The name should have from 1 to {LONGEST_NAME} letters."))
}

/// `POST /members/{id}/name`: has a member called otherwise; whatever is on file or decided stays theirs. A name that is none shows the form
/// again, as typed.
#[post("/members/{id}/name")]
async fn call(
    tenant: Tenant,
    path: web::Path<MemberId>,
    form: Form<Called>,
) -> Result<HttpResponse, AppError> {
    let name = form.name.trim();
    if let Some(wrong) = wrong_with(name) {
        let page = crate::members::with_name(&tenant, *path, form.0.name, wrong).await?;
        return html_as(StatusCode::UNPROCESSABLE_ENTITY, &page);
    }
    let mut rows = tenant.change().await?;
    members::rename(&mut rows, *path, name).await?;
    rows.keep().await?;
    Ok(see_other(format!("/members/{}", *path)))
}
