//! A gym and its first owner.

use diesel::dsl::sql;
use diesel::prelude::*;
use diesel::sql_types::BigInt;
use diesel_async::RunQueryDsl;
use lantern_core::gym::Gym;

use crate::schema::gyms;
use crate::{AccountId, GymId, GymScope, Role, Store, StoreError, accounts, memberships};

/// Sets a gym up with its first owner, who has no account yet.
///
/// # Errors
/// When the database is away, or the gym is none that can be.
pub async fn found(
    store: &Store,
    gym: &Gym,
    (email, name): (&str, &str),
    kept: &str,
) -> Result<AccountId, StoreError> {
    gym.checked().map_err(StoreError::Refused)?;
    let settings = serde_json::to_value(gym).map_err(StoreError::unreadable("gym"))?;
    // Its rows can only be written by whoever sees them, so that its number is asked for first.
    let next = diesel::select(sql::<BigInt>("nextval('gyms_id_seq')"));
    let id: i64 = next.get_result(&mut *store.connection().await?).await?;
    let mut scope = store.change(GymId(id)).await?;
    diesel::insert_into(gyms::table)
        .values((gyms::id.eq(id), gyms::name.eq(&gym.name), gyms::settings.eq(settings)))
        .execute(scope.connection())
        .await?;
    owned(scope, (email, name), kept).await
}

/// Has somebody without an account own a gym that nobody owns yet.
///
/// # Errors
/// When the database is away.
pub async fn take_over(
    store: &Store,
    gym: GymId,
    (email, name): (&str, &str),
    kept: &str,
) -> Result<AccountId, StoreError> {
    owned(store.change(gym).await?, (email, name), kept).await
}

/// Keeps a gym with its owner.
async fn owned(
    mut scope: GymScope,
    (email, name): (&str, &str),
    kept: &str,
) -> Result<AccountId, StoreError> {
    let account = memberships::add(&mut scope, email, (Role::Owner, name), None).await?;
    accounts::first_passphrase(scope.connection(), account, kept).await?;
    scope.keep().await?;
    Ok(account)
}
