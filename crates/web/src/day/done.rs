//! What was decided just now, said at the foot of the page that it was decided on, with the way back beside it.
//!
//! It stands in the address that a decision leads to, so that it is said without scripts as well, and is no part of the page that is kept for
//! everybody who looks.

use std::fmt::Display;

use actix_web::web::Bytes;
use actix_web::{HttpRequest, HttpResponse};
use askama::Template;
use lantern_store::DecisionId;

use crate::day::{slot_of, told};
use crate::planning::shown::{DID, as_html, page_of};
use crate::request::house::House;
use crate::request::slot::Slot;
use crate::respond::error::AppError;
use crate::respond::redirect::see_other;

/// Where it is said on every page; empty where nothing was done.
const PLACE: &str = r#"<div id="done" role="status"></div>"#;
/// Most decisions that one press of a button makes.
const MOST: usize = 40;
/// Most of them that are told one by one.
const MOST_TOLD: usize = 2;

/// Decisions of one moment, by their ids.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) struct Did(Vec<DecisionId>);

impl Did {
    /// Of ids that were given when they were kept.
    pub fn of(ids: Vec<DecisionId>) -> Self {
        Self(ids)
    }

    /// From `12,13`; nothing where that is no list of ids.
    pub fn read(text: &str) -> Option<Self> {
        let ids: Result<Vec<DecisionId>, _> = text.split(',').take(MOST + 1).map(str::parse).collect();
        let mut ids = ids.ok().filter(|ids| ids.len() <= MOST)?;
        ids.sort_unstable();
        ids.dedup();
        Some(Self(ids))
    }

    /// What they are.
    pub fn ids(&self) -> &[DecisionId] {
        &self.0
    }

    /// Back to a page, at a place of it, where they are said.
    pub fn said_at(&self, page: impl Display, place: &str) -> HttpResponse {
        let hash = if place.is_empty() { "" } else { "#" };
        match self.0.as_slice() {
            [] => see_other(format_args!("{page}{hash}{place}")),
            _ => see_other(format_args!("{page}?{DID}{}{hash}{place}", self.list())),
        }
    }

    fn list(&self) -> String {
        self.0.iter().map(DecisionId::to_string).collect::<Vec<_>>().join(",")
    }
}

#[derive(Template)]
#[template(path = "day/done.html")]
struct Said {
    day: Slot,
    step: String,
    ids: String,
    words: String,
    undone: bool,
}

/// Shows a page, as it was made last where nothing has changed since, with what was done said on it.
pub(crate) async fn shown<T: Template>(
    house: &House,
    request: &HttpRequest,
    make: impl Future<Output = Result<Result<T, HttpResponse>, AppError>>,
) -> Result<HttpResponse, AppError> {
    match page_of(house, request, make).await? {
        Ok(page) => Ok(as_html(said_on(page, house, request).await?)),
        Err(elsewhere) => Ok(elsewhere),
    }
}

/// A page with what was done said on it, where its address says that something was.
async fn said_on(page: Bytes, house: &House, request: &HttpRequest) -> Result<Bytes, AppError> {
    let fields = request.uri().query().unwrap_or("").split('&');
    let did = fields.filter_map(|field| field.strip_prefix(DID)).find_map(Did::read);
    let (Some(did), Some(day)) = (did, request.match_info().get("day")) else { return Ok(page) };
    let day = slot_of(day)?;
    let mut rows = told::rows(house, day, Some(did.ids())).await?;
    rows.reverse();
    let (Some(first), Some(at)) =
        (rows.first(), page.windows(PLACE.len()).position(|at| at == PLACE.as_bytes()))
    else {
        return Ok(page);
    };
    let words: Vec<&str> = rows.iter().take(MOST_TOLD).map(|row| row.words.as_str()).collect();
    let more = rows.len() - words.len();
    let mut words = words.join("; ");
    if more > 0 {
        words = format!("{words}; and {more} more");
    }
    let said = Said {
        day,
        step: request.path().rsplit('/').next().unwrap_or_default().to_owned(),
        ids: Did(rows.iter().map(|row| row.id).collect()).list(),
        words: sentence(&words),
        undone: first.undone.is_some(),
    };
    let said = said.render().map_err(|error| AppError::Inside(error.to_string()))?;
    Ok(Bytes::from([&page[..at], said.as_bytes(), &page[at + PLACE.len()..]].concat()))
}

/// With a capital letter and a full stop.
fn sentence(words: &str) -> String {
    let mut letters = words.chars();
    let first: String = letters.next().into_iter().flat_map(char::to_uppercase).collect();
    format!("{first}{}.", letters.as_str())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_was_done_is_read_back_from_its_address() {
        let did = Did::of([13, 12].map(DecisionId::new).to_vec());
        let to = did.said_at("/days/2026-11-23/hour", "hour-blocks");
        let to = to.headers().get("location").unwrap().to_str().unwrap();
        assert_eq!(to, "/days/2026-11-23/hour?did=13,12#hour-blocks");
        assert_eq!(Did::read("13,12"), Some(Did([12, 13].map(DecisionId::new).to_vec())));
    }

    #[test]
    fn what_is_no_list_of_ids_says_nothing() {
        for wrong in ["", "x", "1,", "1;2", "99999999999999999999", &"1,".repeat(50)] {
            assert_eq!(Did::read(wrong), None, "{wrong}");
        }
    }

    #[test]
    fn every_page_has_a_place_for_it() {
        let base =
            std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/src/respond/base.html")).unwrap();
        assert_eq!(base.matches(PLACE).count(), 1);
        // Nothing else on any page takes it for its own.
        let mut rooms = vec![std::path::PathBuf::from(concat!(env!("CARGO_MANIFEST_DIR"), "/src"))];
        while let Some(room) = rooms.pop() {
            for entry in std::fs::read_dir(room).unwrap().map(Result::unwrap) {
                let path = entry.path();
                if path.is_dir() {
                    rooms.push(path);
                } else if path.extension().is_some_and(|end| end == "html") {
                    let own = ["respond/base.html", "day/done.html"].iter().any(|name| path.ends_with(name));
                    let text = std::fs::read_to_string(&path).unwrap();
                    assert!(own || !text.contains(r#"id="done""#), "{}", path.display());
                }
            }
        }
    }
}
