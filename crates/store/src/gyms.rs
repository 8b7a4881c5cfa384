//! Gyms: name, equipment and choices.

use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use lantern_core::gym::Gym;

use crate::schema::gyms;
use crate::{GymId, Store, StoreError};

/// The first gym of an installation, if there is one yet.
///
/// # Errors
/// When the database is away or the settings cannot be read.
pub async fn first(store: &Store) -> Result<Option<(GymId, Gym)>, StoreError> {
    let mut connection = store.connection().await?;
    let row: Option<(i64, serde_json::Value)> = gyms::table
        .order(gyms::id)
        .select((gyms::id, gyms::settings))
        .first(&mut connection)
        .await
        .optional()?;
    row.map(|(id, settings)| {
        let gym = serde_json::from_value(settings)
            .map_err(|error| StoreError::Unreadable { what: "gym", why: error.to_string() })?;
        Ok((GymId(id), gym))
    })
    .transpose()
}

/// Adds a gym.
///
/// # Errors
/// When the database is away or refuses the name.
pub async fn add(store: &Store, gym: &Gym) -> Result<GymId, StoreError> {
    let mut connection = store.connection().await?;
    let settings = serde_json::to_value(gym)
        .map_err(|error| StoreError::Unreadable { what: "gym", why: error.to_string() })?;
    let id = diesel::insert_into(gyms::table)
        .values((gyms::name.eq(&gym.name), gyms::settings.eq(settings)))
        .returning(gyms::id)
        .get_result(&mut connection)
        .await?;
    Ok(GymId(id))
}

/// Removes every gym with all that belongs to it.
///
/// # Errors
/// When the database is away.
pub async fn remove_all(store: &Store) -> Result<(), StoreError> {
    let mut connection = store.connection().await?;
    diesel::delete(gyms::table).execute(&mut connection).await?;
    Ok(())
}

/// Keeps a gym's equipment and choices.
///
/// # Errors
/// When the database is away.
pub async fn save(store: &Store, id: GymId, gym: &Gym) -> Result<(), StoreError> {
    let settings = serde_json::to_value(gym)
        .map_err(|error| StoreError::Unreadable { what: "gym", why: error.to_string() })?;
    let mut connection = store.connection().await?;
    diesel::update(gyms::table.filter(gyms::id.eq(id.0)))
        .set((gyms::name.eq(&gym.name), gyms::settings.eq(settings)))
        .execute(&mut connection)
        .await?;
    Ok(())
}
