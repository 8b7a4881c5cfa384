//! Fonts, styles and scripts, inside the program. Their address holds a hash of all of them, so a
//! browser may keep them for ever and still gets the new ones after an update.

use std::sync::LazyLock;

use actix_web::http::header::{CACHE_CONTROL, ETAG, IF_NONE_MATCH};
use actix_web::{HttpRequest, HttpResponse, route, web};
use rust_embed::RustEmbed;
use sha2::{Digest, Sha256};

use crate::respond::error::AppError;

#[derive(RustEmbed)]
#[folder = "static"]
struct Files;

static HASH: LazyLock<String> = LazyLock::new(|| {
    let mut names: Vec<_> = Files::iter().collect();
    names.sort();
    let mut hasher = Sha256::new();
    for file in names.iter().filter_map(|name| Files::get(name)) {
        hasher.update(file.metadata.sha256_hash());
    }
    hasher.finalize().iter().take(6).map(|byte| format!("{byte:02x}")).collect()
});

/// The address of a file below `static/`.
pub(crate) fn address(name: &str) -> String {
    format!("/static/{}/{name}", *HASH)
}

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(static_file);
}

/// `GET /static/{hash}/{name}`
#[route("/static/{hash}/{name:.*}", method = "GET", method = "HEAD")]
async fn static_file(
    request: HttpRequest,
    path: web::Path<(String, String)>,
) -> Result<HttpResponse, AppError> {
    let (hash, name) = path.into_inner();
    let file = Files::get(&name).ok_or(AppError::NoSuchPage)?;
    let tag = format!("\"{}\"", *HASH);
    let known = request.headers().get(IF_NONE_MATCH).is_some_and(|value| value.as_bytes() == tag.as_bytes());
    if known {
        return Ok(HttpResponse::NotModified().finish());
    }
    let keep = if hash == *HASH { "public, max-age=31536000, immutable" } else { "no-cache" };
    Ok(HttpResponse::Ok()
        .content_type(mime_guess::from_path(&name).first_or_octet_stream().as_ref())
        .insert_header((CACHE_CONTROL, keep))
        .insert_header((ETAG, tag))
        .body(file.data.into_owned()))
}
