//! A day: what its text says, step by step, and what is decided about it.

pub(crate) mod book;
mod cautions;
pub(crate) mod class;
pub(crate) mod done;
pub(crate) mod export;
pub(crate) mod figures;
pub(crate) mod handouts;
pub(crate) mod history;
mod hour;
pub(crate) mod last;
pub(crate) mod loads;
mod pace;
pub(crate) mod planned;
mod read;
mod strip;
mod told;
mod typical;
pub(crate) mod versions;
pub(crate) mod warmup;

use std::sync::Arc;

use actix_web::web;
use chrono::NaiveDate;
use lantern_core::decide::Decision;
use lantern_core::gym::Gym;
use lantern_core::movement::Catalogue;
use lantern_core::session::Likeness;
use lantern_store::pieces::{Kept, NewPiece};
use lantern_store::{StoreError, decisions, pieces, sessions};
use serde::Deserialize;

use self::done::Did;
use crate::planning::kept::{self, as_kept};
use crate::planning::plans::reading_of;
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::respond::error::AppError;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    read::routes(config);
    export::routes(config);
    planned::routes(config);
    warmup::routes(config);
    loads::routes(config);
    versions::routes(config);
    pace::routes(config);
    hour::routes(config);
    book::routes(config);
    history::routes(config);
    class::routes(config);
    handouts::routes(config);
}

/// The day of an address, or the class of a day.
pub(crate) fn slot_of(text: &str) -> Result<Slot, AppError> {
    text.parse().map_err(|_| AppError::NoSuchDay(text.to_owned()))
}

/// The day of an address, whichever class of it is looked at.
pub(crate) fn day_of(text: &str) -> Result<NaiveDate, AppError> {
    slot_of(text).map(|slot| slot.day)
}

/// `Mon 23 Nov`.
pub(crate) fn day_name(day: NaiveDate) -> String {
    day.format("%a %-d %b").to_string()
}

/// Of which text a page was on which something is decided, as it says itself: parts are named by their places in it.
#[derive(Default, Deserialize)]
pub(crate) struct Of {
    #[serde(default)]
    of: String,
}

/// Keeps what a coach has decided about a day or a class of it, and says what was; a class that is none decides nothing.
///
/// What is decided on a page of another text than stands now is refused: its places are those of other parts.
async fn decide(tenant: &Tenant, day: Slot, made: &[Decision], of: &Of) -> Result<Did, AppError> {
    if made.is_empty() {
        return Ok(Did::of(Vec::new()));
    }
    for decision in made {
        decision.checked().map_err(AppError::Malformed)?;
    }
    let parts = parts_now(tenant, day, of).await?;
    let mut rows = tenant.change().await?;
    match decisions::add(&mut rows, (day.day, day.starts), (made, &tenant.who.name), &parts).await {
        Err(StoreError::NotFound("part")) => Err(AppError::Malformed(
            "that part stands in the text no longer; look at the day again".to_owned(),
        )),
        made => {
            let did = Did::of(made?);
            rows.keep().await?;
            Ok(did)
        }
    }
}

/// The parts of a day as its text is read now.
///
/// # Errors
/// When it is another text than the page was of on which something is done: its places are those of other parts.
async fn parts_now(tenant: &Tenant, day: Slot, of: &Of) -> Result<Vec<NewPiece>, AppError> {
    let mut rows = tenant.look().await?;
    let catalogue = tenant.catalogue();
    let session = sessions::of_day(&mut rows, day.day).await?;
    let kept = kept::of_day(&mut rows, &tenant.gym, day.day).await?;
    drop(rows);
    let parts = match session {
        Some(session) => {
            parts_of(session.text, session.corrections, tenant.gym.clone(), catalogue, kept).await?
        }
        None => Vec::new(),
    };
    let now: Vec<Likeness> = parts.iter().map(|part| part.likeness.clone()).collect();
    if !of.of.is_empty() && of.of != pieces::seen(&now) {
        return Err(AppError::Taken(
            "The day's text has changed since this page was shown, so nothing was decided. Load the page again, and decide on what it says now."
                .to_owned(),
        ));
    }
    Ok(parts)
}

/// The parts of a text in the gym's hand, to be kept. A long text takes its time: not on the thread that answers everybody.
async fn parts_of(
    text: String,
    corrections: serde_json::Value,
    gym: Gym,
    catalogue: Arc<Catalogue>,
    kept: Option<Kept>,
) -> Result<Vec<NewPiece>, AppError> {
    let read = move || {
        let reading = as_kept(reading_of(&text, &corrections, &gym, &catalogue), kept.as_ref());
        NewPiece::of(&reading.session, &catalogue)
    };
    web::block(read).await.map_err(|error| AppError::Inside(error.to_string()))
}
