//! Pages, one file a subject.

mod called;
mod classes;
mod days;
mod drop_in;
mod export;
mod gym_settings;
mod handouts;
mod history;
mod hour;
mod inventory;
mod loads;
mod members;
mod movements;
mod pace;
mod planned;
mod read;
mod removed;
mod roster;
mod spread;
mod versions;
mod warmup;

use std::sync::Arc;

use actix_web::web;
use chrono::NaiveDate;
use lantern_core::decide::Decision;
use lantern_core::gym::Gym;
use lantern_core::movement::{Catalogue, OwnMovement};
use lantern_store::pieces::{Kept, NewPiece};
use lantern_store::{GymId, StoreError, aliases, decisions, gyms, own_movements, sessions};

use crate::State;
use crate::error::AppError;
use crate::kept::{self, as_kept};
use crate::plans::reading_of;
use crate::slot::Slot;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    // Before the pages whose addresses hold an id, which theirs look like.
    back::routes(config);
    days::routes(config);
    read::routes(config);
    spread::routes(config);
    export::routes(config);
    planned::routes(config);
    warmup::routes(config);
    loads::routes(config);
    versions::routes(config);
    pace::routes(config);
    hour::routes(config);
    history::routes(config);
    classes::routes(config);
    handouts::routes(config);
    gym_settings::routes(config);
    inventory::routes(config);
    roster::routes(config);
    called::routes(config);
    drop_in::routes(config);
    members::routes(config);
    movements::routes(config);
    removed::routes(config);
}

/// The installation's gym.
async fn gym(state: &State) -> Result<(GymId, Gym), AppError> {
    gyms::first(&state.store).await?.ok_or(AppError::NoGym)
}

/// The catalogue with the gym's own movements and names in it.
async fn catalogue(state: &State, gym: GymId) -> Result<Arc<Catalogue>, AppError> {
    let names = aliases::of_gym(&state.store, gym).await?;
    let names: Vec<(String, String)> = names.into_iter().map(|name| (name.alias, name.movement)).collect();
    let own = own_movements::of_gym(&state.store, gym).await?;
    let own: Vec<OwnMovement> = own.into_iter().map(|(_, own)| own).collect();
    Ok(state.catalogues.with(&own, &names))
}

/// The day of an address, or the class of a day.
fn slot_of(text: &str) -> Result<Slot, AppError> {
    text.parse().map_err(|_| AppError::NoSuchDay(text.to_owned()))
}

/// The day of an address, whichever class of it is looked at.
fn day_of(text: &str) -> Result<NaiveDate, AppError> {
    slot_of(text).map(|slot| slot.day)
}

/// Today at the gym.
fn today(gym: &Gym) -> NaiveDate {
    lantern_store::clock::today(gym)
}

/// Addresses that only take forms lead back to the page that the form stands on, so that every address can be reloaded.
mod back;

/// `Mon 23 Nov`.
fn day_name(day: NaiveDate) -> String {
    day.format("%a %-d %b").to_string()
}

/// Keeps what a coach has decided about a day or a class of it; a class that is none decides nothing.
async fn decide(state: &State, day: Slot, made: &[Decision]) -> Result<(), AppError> {
    for decision in made {
        decision.checked().map_err(AppError::Malformed)?;
    }
    let (id, gym) = gym(state).await?;
    let catalogue = catalogue(state, id).await?;
    let parts = match sessions::of_day(&state.store, id, day.day).await? {
        Some(session) => {
            let kept = kept::of_day(state, id, &gym, day.day).await?;
            parts_of(session.text, session.corrections, gym, catalogue, kept).await?
        }
        None => Vec::new(),
    };
    let by = coach_of(state, id, day).await?;
    match decisions::add(&state.store, id, (day.day, day.starts), (made, &by), &parts).await {
        Err(StoreError::NotFound("part")) => Err(AppError::Malformed(
            "that part stands in the text no longer; look at the day again".to_owned(),
        )),
        made => Ok(made?),
    }
}

/// Who decides, as far as it is known: the coach who is named for the class.
async fn coach_of(state: &State, id: GymId, day: Slot) -> Result<String, AppError> {
    let Some(starts) = day.starts else { return Ok(String::new()) };
    let class = lantern_store::classes::at(&state.store, id, day.day, starts).await?;
    Ok(class.map_or(String::new(), |class| class.coach))
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
