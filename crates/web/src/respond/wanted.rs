//! What an answer is for.

use actix_web::http::header;

/// What an answer is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Wanted {
    /// A page.
    Page,
    /// A part of a page, which a script asks for.
    Part,
    /// A page whose middle takes the place of the one that a decision was made on.
    InPlace,
}

impl Wanted {
    /// What the headers of a request say.
    pub fn of(headers: &header::HeaderMap) -> Self {
        if headers.contains_key("HX-Boosted") {
            Self::InPlace
        } else if headers.contains_key("HX-Request") {
            Self::Part
        } else {
            Self::Page
        }
    }
}

/// Addresses under which programs ask.
pub(crate) const PROGRAMS: &str = "/api/";
