//! A gym's own movements, used by the reader and the planner at once.

use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use lantern_core::movement::OwnMovement;

use crate::removals::{self, Removed};
use crate::schema::gym_movements;
use crate::{GymScope, StoreError};

/// All movements of a gym's own, by name, with their row ids.
///
/// # Errors
/// When the database is away, or a row does not hold a description.
pub async fn of_gym(scope: &mut GymScope) -> Result<Vec<(i64, OwnMovement)>, StoreError> {
    let rows: Vec<(i64, serde_json::Value)> = gym_movements::table
        .filter(gym_movements::gym_id.eq(scope.gym.0))
        .order(gym_movements::name)
        .select((gym_movements::id, gym_movements::definition))
        .load(scope.connection())
        .await?;
    rows.into_iter()
        .map(|(id, definition)| {
            Ok((id, serde_json::from_value(definition).map_err(StoreError::unreadable("movement"))?))
        })
        .collect()
}

/// Adds a movement, or describes it anew.
///
/// # Errors
/// When the database is away.
pub async fn put(scope: &mut GymScope, movement: &OwnMovement) -> Result<(), StoreError> {
    let definition = serde_json::to_value(movement).map_err(StoreError::unreadable("movement"))?;
    diesel::insert_into(gym_movements::table)
        .values((
            gym_movements::gym_id.eq(scope.gym.0),
            gym_movements::name.eq(movement.name.trim()),
            gym_movements::definition.eq(&definition),
        ))
        .on_conflict((gym_movements::gym_id, gym_movements::name))
        .do_update()
        .set(gym_movements::definition.eq(&definition))
        .execute(scope.connection())
        .await?;
    Ok(())
}

/// Removes a movement; gives the key with which it comes back.
///
/// # Errors
/// When the database is away, or there is no such movement.
pub async fn remove(scope: &mut GymScope, id: i64) -> Result<String, StoreError> {
    let row =
        gym_movements::table.filter(gym_movements::gym_id.eq(scope.gym.0)).filter(gym_movements::id.eq(id));
    let gone: Option<serde_json::Value> = diesel::delete(row)
        .returning(gym_movements::definition)
        .get_result(scope.connection())
        .await
        .optional()?;
    let gone = gone.ok_or(StoreError::NotFound("movement"))?;
    let own = serde_json::from_value(gone).map_err(StoreError::unreadable("movement"))?;
    removals::keep(scope, None, &Removed::Movement(own)).await
}
