//! A gym's own names for movements, used by the reader at once.

use diesel::prelude::*;
use diesel_async::RunQueryDsl;

use crate::schema::movement_aliases;
use crate::{GymId, Store, StoreError};

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
pub async fn of_gym(store: &Store, gym: GymId) -> Result<Vec<Alias>, StoreError> {
    let mut connection = store.connection().await?;
    Ok(movement_aliases::table
        .filter(movement_aliases::gym_id.eq(gym.0))
        .order(movement_aliases::alias)
        .select((movement_aliases::id, movement_aliases::alias, movement_aliases::movement))
        .load(&mut connection)
        .await?)
}

/// Adds a name, or points it at another movement.
///
/// # Errors
/// When the database is away.
pub async fn put(store: &Store, gym: GymId, alias: &str, movement: &str) -> Result<(), StoreError> {
    let mut connection = store.connection().await?;
    diesel::insert_into(movement_aliases::table)
        .values((
            movement_aliases::gym_id.eq(gym.0),
            movement_aliases::alias.eq(alias.trim().to_lowercase()),
            movement_aliases::movement.eq(movement),
        ))
        .on_conflict((movement_aliases::gym_id, movement_aliases::alias))
        .do_update()
        .set(movement_aliases::movement.eq(movement))
        .execute(&mut connection)
        .await?;
    Ok(())
}

/// Removes a name.
///
/// # Errors
/// When the database is away.
pub async fn remove(store: &Store, gym: GymId, id: i64) -> Result<(), StoreError> {
    let mut connection = store.connection().await?;
    diesel::delete(
        movement_aliases::table
            .filter(movement_aliases::gym_id.eq(gym.0))
            .filter(movement_aliases::id.eq(id)),
    )
    .execute(&mut connection)
    .await?;
    Ok(())
}
