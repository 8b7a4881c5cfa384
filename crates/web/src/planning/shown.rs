//! The pages shown last, so that looking at what has not changed computes nothing and reads no text.
//!
//! A page is kept under the gym's version, which grows with whatever it is made from: another version is another page, and nothing here can be
//! out of date. What time alone changes (a class ends, a day begins) is seen within [`SHOWN_FOR`].

use std::future::Future;
use std::time::Duration;

use actix_web::http::Uri;
use actix_web::web::Bytes;
use actix_web::{HttpRequest, HttpResponse};
use askama::Template;
use chrono::NaiveDate;
use moka::sync::Cache;

use crate::request::house::House;
use crate::respond::error::AppError;

/// How long a page is shown again without being made anew.
const SHOWN_FOR: Duration = Duration::from_secs(20);
/// Most bytes of pages that are kept.
const MOST: u64 = 32 * 1024 * 1024;

/// Gym, its version, the day there, and the address with everything asked in it.
type Key = (i64, i64, NaiveDate, String);

/// Pages by what they were made from.
#[derive(Clone)]
pub(crate) struct Shown {
    pages: Cache<Key, Bytes>,
}

impl Default for Shown {
    fn default() -> Self {
        let weight = |key: &Key, page: &Bytes| u32::try_from(key.3.len() + page.len()).unwrap_or(u32::MAX);
        let pages = Cache::builder().max_capacity(MOST).weigher(weight).time_to_live(SHOWN_FOR).build();
        Self { pages }
    }
}

/// What stands in an address only to say what was done just now: `did=12,13`.
pub(crate) const DID: &str = "did=";

/// An address without what was done: what the page itself depends on.
pub(crate) fn unsaid(uri: &Uri) -> String {
    let rest: Vec<&str> = uri
        .query()
        .unwrap_or("")
        .split('&')
        .filter(|field| !field.is_empty() && !field.starts_with(DID))
        .collect();
    let asked = if rest.is_empty() { "" } else { "?" };
    format!("{}{asked}{}", uri.path(), rest.join("&"))
}

/// Longest address that a page is kept under.
const LONGEST_ADDRESS: usize = 200;

/// Shows a page, as it was made last where nothing has changed since. It must be the same for everybody who may see it.
pub(crate) async fn shown<T: Template>(
    house: &House,
    request: &HttpRequest,
    make: impl Future<Output = Result<Result<T, HttpResponse>, AppError>>,
) -> Result<HttpResponse, AppError> {
    Ok(page_of(house, request, make).await?.map_or_else(|answer| answer, as_html))
}

/// A page as the answer to a request.
pub(crate) fn as_html(page: Bytes) -> HttpResponse {
    HttpResponse::Ok().content_type("text/html; charset=utf-8").body(page)
}

/// The page itself, as it was made last where nothing has changed since; or where else to look.
pub(crate) async fn page_of<T: Template>(
    house: &House,
    request: &HttpRequest,
    make: impl Future<Output = Result<Result<T, HttpResponse>, AppError>>,
) -> Result<Result<Bytes, HttpResponse>, AppError> {
    let address = unsaid(request.uri());
    let keeps = address.len() <= LONGEST_ADDRESS;
    let key = (house.id().number(), house.version(), house.today(), address);
    let known = if keeps { house.state.shown.pages.get(&key) } else { None };
    let found = if known.is_some() { "kept" } else { "made" };
    metrics::counter!("lantern_pages_total", "page" => found).increment(1);
    if let Some(page) = known {
        return Ok(Ok(page));
    }
    let page = match make.await? {
        Ok(page) => page.render().map_err(|error| AppError::Inside(error.to_string()))?,
        Err(answer) => return Ok(Err(answer)),
    };
    let page = Bytes::from(page);
    if keeps {
        house.state.shown.pages.insert(key, page.clone());
    }
    Ok(Ok(page))
}

#[cfg(test)]
mod tests {
    use super::unsaid;

    #[test]
    fn what_was_done_is_no_part_of_the_page() {
        for (asked, page) in [
            ("/days/x/pace?member=3&did=12&a=1", "/days/x/pace?member=3&a=1"),
            ("/days/x/hour?did=12", "/days/x/hour"),
            ("/days/x/hour", "/days/x/hour"),
        ] {
            assert_eq!(unsaid(&asked.parse().unwrap()), page);
        }
    }
}
