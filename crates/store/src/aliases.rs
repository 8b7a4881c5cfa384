//! A gym's own names for movements, used by the reader at once.

use diesel::prelude::*;
use diesel_async::RunQueryDsl;

use crate::removals::{self, Removed};
use crate::schema::movement_aliases;
use crate::{GymScope, StoreError};

/// A name and the movement it stands for.
#[derive(Clone, Debug, PartialEq, Queryable)]
pub struct Alias {
    /// The row's id.
    pub id: i64,
    /// The name, lower case.
    pub alias: String,
    /// The movement's id.
    pub movement: String,
}

/// All names of a gym.
///
/// # Errors
/// When the database is away.
pub async fn of_gym(scope: &mut GymScope) -> Result<Vec<Alias>, StoreError> {
    Ok(movement_aliases::table
        .filter(movement_aliases::gym_id.eq(scope.gym.0))
        .order(movement_aliases::alias)
        .select((movement_aliases::id, movement_aliases::alias, movement_aliases::movement))
        .load(scope.connection())
        .await?)
}

/// Adds a name, or points it at another movement.
///
/// # Errors
/// When the database is away.
pub async fn put(scope: &mut GymScope, alias: &str, movement: &str) -> Result<(), StoreError> {
    diesel::insert_into(movement_aliases::table)
        .values((
            movement_aliases::gym_id.eq(scope.gym.0),
            movement_aliases::alias.eq(alias.trim().to_lowercase()),
            movement_aliases::movement.eq(movement),
        ))
        .on_conflict((movement_aliases::gym_id, movement_aliases::alias))
        .do_update()
        .set(movement_aliases::movement.eq(movement))
        .execute(scope.connection())
        .await?;
    Ok(())
}

/// Removes a name; gives the key with which it comes back.
///
/// # Errors
/// When the database is away, or there is no such name.
pub async fn remove(scope: &mut GymScope, id: i64) -> Result<String, StoreError> {
    let row = movement_aliases::table
        .filter(movement_aliases::gym_id.eq(scope.gym.0))
        .filter(movement_aliases::id.eq(id));
    let gone: Option<(String, String)> = diesel::delete(row)
        .returning((movement_aliases::alias, movement_aliases::movement))
        .get_result(scope.connection())
        .await
        .optional()?;
    let (alias, movement) = gone.ok_or(StoreError::NotFound("name"))?;
    removals::keep(scope, None, &Removed::Name { alias, movement }).await
}
