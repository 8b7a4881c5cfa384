//! A gym's own movements, used by the reader and the planner at once.

use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use lantern_core::movement::OwnMovement;

use crate::schema::gym_movements;
use crate::{GymId, Store, StoreError};

/// All movements of a gym's own, by name, with their row ids.
///
/// # Errors
/// When the database is away, or a row does not hold a description.
pub async fn of_gym(store: &Store, gym: GymId) -> Result<Vec<(i64, OwnMovement)>, StoreError> {
    let mut connection = store.connection().await?;
    let rows: Vec<(i64, serde_json::Value)> = gym_movements::table
        .filter(gym_movements::gym_id.eq(gym.0))
        .order(gym_movements::name)
        .select((gym_movements::id, gym_movements::definition))
        .load(&mut connection)
        .await?;
    rows.into_iter()
        .map(|(id, definition)| Ok((id, serde_json::from_value(definition).map_err(unreadable)?)))
        .collect()
}

/// Adds a movement, or describes it anew.
///
/// # Errors
/// When the database is away.
pub async fn put(store: &Store, gym: GymId, movement: &OwnMovement) -> Result<(), StoreError> {
    let definition = serde_json::to_value(movement).map_err(unreadable)?;
    let mut connection = store.connection().await?;
    diesel::insert_into(gym_movements::table)
        .values((
            gym_movements::gym_id.eq(gym.0),
            gym_movements::name.eq(movement.name.trim()),
            gym_movements::definition.eq(&definition),
        ))
        .on_conflict((gym_movements::gym_id, gym_movements::name))
        .do_update()
        .set(gym_movements::definition.eq(&definition))
        .execute(&mut connection)
        .await?;
    Ok(())
}

/// Removes a movement.
///
/// # Errors
/// When the database is away.
pub async fn remove(store: &Store, gym: GymId, id: i64) -> Result<(), StoreError> {
    let mut connection = store.connection().await?;
    diesel::delete(
        gym_movements::table.filter(gym_movements::gym_id.eq(gym.0)).filter(gym_movements::id.eq(id)),
    )
    .execute(&mut connection)
    .await?;
    Ok(())
}

fn unreadable(error: serde_json::Error) -> StoreError {
    StoreError::Unreadable { what: "movement", why: error.to_string() }
}
