//! What coaches have decided about the pieces of days.

use chrono::NaiveDate;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use lantern_core::versions::PieceEdits;

use crate::schema::piece_edits;
use crate::{GymId, Store, StoreError};

/// The changes of a day; none made yet gives the default.
///
/// # Errors
/// When the database is away, or the row cannot be read.
pub async fn of_day(store: &Store, gym: GymId, day: NaiveDate) -> Result<PieceEdits, StoreError> {
    let mut connection = store.connection().await?;
    let row: Option<serde_json::Value> = piece_edits::table
        .filter(piece_edits::gym_id.eq(gym.0))
        .filter(piece_edits::day.eq(day))
        .select(piece_edits::edits)
        .first(&mut connection)
        .await
        .optional()?;
    row.map_or(Ok(PieceEdits::default()), |edits| serde_json::from_value(edits).map_err(unreadable))
}

/// Keeps the changes of a day.
///
/// # Errors
/// When the database is away.
pub async fn put(store: &Store, gym: GymId, day: NaiveDate, edits: &PieceEdits) -> Result<(), StoreError> {
    let edits = serde_json::to_value(edits).map_err(unreadable)?;
    let mut connection = store.connection().await?;
    diesel::insert_into(piece_edits::table)
        .values((piece_edits::gym_id.eq(gym.0), piece_edits::day.eq(day), piece_edits::edits.eq(&edits)))
        .on_conflict((piece_edits::gym_id, piece_edits::day))
        .do_update()
        .set(piece_edits::edits.eq(&edits))
        .execute(&mut connection)
        .await?;
    Ok(())
}

fn unreadable(error: serde_json::Error) -> StoreError {
    StoreError::Unreadable { what: "pieces", why: error.to_string() }
}
