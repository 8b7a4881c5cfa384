//! What was removed, for as long as it can come back.

use chrono::{DateTime, Duration, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::rows::{KeptLift, StoredClass};
use crate::schema::removals;
use crate::{GymScope, MemberId, StoreError, words};

/// Days for which a removal can be taken back.
const DAYS: i64 = 30;

/// Something that was removed.
#[derive(Clone, Debug, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Removed {
    /// A class with who was booked.
    Class(StoredClass),
    /// A set of a member's record.
    Lift(KeptLift),
    /// A name of the gym's own: alias and movement.
    Name {
        /// The name.
        alias: String,
        /// The movement's id.
        movement: String,
    },
    /// A movement of the gym's own.
    Movement(lantern_core::movement::OwnMovement),
    /// A strength cycle.
    Cycle(lantern_core::strength::Cycle),
    /// A habit of the gym's hand.
    Habit {
        /// The habit; it has a kind of its own.
        habit: lantern_core::read::habits::Habit,
    },
}

impl Removed {
    const fn kind(&self) -> &'static str {
        match self {
            Self::Class(_) => "class",
            Self::Lift(_) => "lift",
            Self::Name { .. } => "name",
            Self::Movement(_) => "movement",
            Self::Cycle(_) => "cycle",
            Self::Habit { .. } => "habit",
        }
    }
}

/// A text that nobody guesses, for whoever has just done something to undo it with.
pub fn key() -> String {
    Uuid::new_v4().simple().to_string()
}

/// Keeps what is being removed; gives the key with which it comes back. What was removed long ago is gone for good.
pub(crate) async fn keep(
    scope: &mut GymScope,
    member: Option<MemberId>,
    removed: &Removed,
) -> Result<String, StoreError> {
    let old: DateTime<Utc> = Utc::now() - Duration::days(DAYS);
    let of_gym = removals::table.filter(removals::gym_id.eq(scope.gym.0));
    diesel::delete(of_gym.filter(removals::removed_at.lt(old))).execute(scope.connection()).await?;
    let key = key();
    diesel::insert_into(removals::table)
        .values((
            removals::gym_id.eq(scope.gym.0),
            removals::member_id.eq(member),
            removals::key.eq(&key),
            removals::kind.eq(removed.kind()),
            removals::what.eq(serde_json::to_value(removed).map_err(StoreError::unreadable("removal"))?),
        ))
        .execute(scope.connection())
        .await?;
    Ok(key)
}

/// What a key brings back, without bringing it back.
///
/// # Errors
/// When the database is away, or nothing was removed with that key.
pub async fn find(scope: &mut GymScope, key: &str) -> Result<Removed, StoreError> {
    let what: Option<serde_json::Value> = removals::table
        .filter(removals::gym_id.eq(scope.gym.0))
        .filter(removals::key.eq(key))
        .select(removals::what)
        .first(scope.connection())
        .await
        .optional()?;
    let what = what.ok_or(StoreError::NotFound("removal"))?;
    serde_json::from_value(what).map_err(StoreError::unreadable("removal"))
}

/// Forgets removals that name somebody who has left.
pub(crate) async fn forget(scope: &mut GymScope, name: &str) -> Result<(), StoreError> {
    let rows: Vec<(i64, serde_json::Value)> = removals::table
        .filter(removals::gym_id.eq(scope.gym.0))
        .select((removals::id, removals::what))
        .load(scope.connection())
        .await?;
    let named: Vec<i64> =
        rows.iter().filter(|(_, what)| words::names(what, name)).map(|(id, _)| *id).collect();
    let of_gym = removals::table.filter(removals::gym_id.eq(scope.gym.0));
    diesel::delete(of_gym.filter(removals::id.eq_any(named))).execute(scope.connection()).await?;
    Ok(())
}
