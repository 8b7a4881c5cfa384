//! What coaches have changed in the warm-ups of days.

use chrono::NaiveDate;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use lantern_core::warmup::Edits;

use crate::schema::warmup_edits;
use crate::{GymId, Store, StoreError};

/// The changes of a day; none made yet gives the default.
///
/// # Errors
/// When the database is away, or the row cannot be read.
pub async fn of_day(store: &Store, gym: GymId, day: NaiveDate) -> Result<Edits, StoreError> {
    let mut connection = store.connection().await?;
    let row: Option<serde_json::Value> = warmup_edits::table
        .filter(warmup_edits::gym_id.eq(gym.0))
        .filter(warmup_edits::day.eq(day))
        .select(warmup_edits::edits)
        .first(&mut connection)
        .await
        .optional()?;
    row.map_or(Ok(Edits::default()), |edits| serde_json::from_value(edits).map_err(unreadable))
}

/// Keeps the changes of a day.
///
/// # Errors
/// When the database is away.
pub async fn put(store: &Store, gym: GymId, day: NaiveDate, edits: &Edits) -> Result<(), StoreError> {
    let edits = serde_json::to_value(edits).map_err(unreadable)?;
    let mut connection = store.connection().await?;
    diesel::insert_into(warmup_edits::table)
        .values((warmup_edits::gym_id.eq(gym.0), warmup_edits::day.eq(day), warmup_edits::edits.eq(&edits)))
        .on_conflict((warmup_edits::gym_id, warmup_edits::day))
        .do_update()
        .set(warmup_edits::edits.eq(&edits))
        .execute(&mut connection)
        .await?;
    Ok(())
}

fn unreadable(error: serde_json::Error) -> StoreError {
    StoreError::Unreadable { what: "warm-up", why: error.to_string() }
}
