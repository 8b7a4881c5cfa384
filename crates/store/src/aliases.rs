//! A gym's own names for movements, used by the reader at once.

use diesel::prelude::*;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};

use crate::removals::{self, Removed};
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
    insert(&mut *store.connection().await?, gym, alias, movement).await
}

pub(crate) async fn insert(
    connection: &mut AsyncPgConnection,
    gym: GymId,
    alias: &str,
    movement: &str,
) -> Result<(), StoreError> {
    diesel::insert_into(movement_aliases::table)
        .values((
            movement_aliases::gym_id.eq(gym.0),
            movement_aliases::alias.eq(alias.trim().to_lowercase()),
            movement_aliases::movement.eq(movement),
        ))
        .on_conflict((movement_aliases::gym_id, movement_aliases::alias))
        .do_update()
        .set(movement_aliases::movement.eq(movement))
        .execute(connection)
        .await?;
    Ok(())
}

/// Removes a name; gives the key with which it comes back.
///
/// # Errors
/// When the database is away, or there is no such name.
pub async fn remove(store: &Store, gym: GymId, id: i64) -> Result<String, StoreError> {
    let mut connection = store.connection().await?;
    connection
        .transaction(async |connection| {
            let row = movement_aliases::table
                .filter(movement_aliases::gym_id.eq(gym.0))
                .filter(movement_aliases::id.eq(id));
            let gone: Option<(String, String)> = diesel::delete(row)
                .returning((movement_aliases::alias, movement_aliases::movement))
                .get_result(connection)
                .await
                .optional()?;
            let (alias, movement) = gone.ok_or(StoreError::NotFound("name"))?;
            removals::keep(connection, gym, None, &Removed::Name { alias, movement }).await
        })
        .await
}
