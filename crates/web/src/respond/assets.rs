//! `GET` of fonts, styles and scripts.

use actix_web::http::header::{ACCEPT_ENCODING, CACHE_CONTROL, CONTENT_ENCODING, ETAG, IF_NONE_MATCH, VARY};
use actix_web::{HttpRequest, HttpResponse, get, route, web};

use crate::respond::error::AppError;
use crate::respond::files::{Files, HASH, packed};

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(static_file).service(worker);
}

/// `GET /worker.js`: what keeps the page of a running class on a device. It speaks for all pages, so it stands above them.
#[get("/worker.js")]
async fn worker() -> Result<HttpResponse, AppError> {
    let file = Files::get("worker.js").ok_or(AppError::NoSuchPage)?;
    Ok(HttpResponse::Ok()
        .content_type("text/javascript; charset=utf-8")
        .insert_header((CACHE_CONTROL, "no-cache"))
        .body(file.data.into_owned()))
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
    let mut answer = HttpResponse::Ok();
    answer
        .content_type(mime_guess::from_path(&name).first_or_octet_stream().as_ref())
        .insert_header((CACHE_CONTROL, keep))
        .insert_header((ETAG, tag));
    let takes = request.headers().get(ACCEPT_ENCODING).and_then(|takes| takes.to_str().ok());
    let takes_gzip = takes.is_some_and(|takes| takes.split(',').any(|one| one.trim() == "gzip"));
    Ok(match packed(&name).filter(|_| takes_gzip) {
        Some(packed) => answer
            .insert_header((CONTENT_ENCODING, "gzip"))
            .insert_header((VARY, "Accept-Encoding"))
            .body(packed),
        // What is packed by its own format (fonts) only grows by packing it again.
        None => answer.insert_header((CONTENT_ENCODING, "identity")).body(file.data.into_owned()),
    })
}
