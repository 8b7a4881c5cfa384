//! Gyms: name, equipment and choices.

use chrono::NaiveDate;
use diesel::prelude::*;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use lantern_core::gym::Gym;
use lantern_core::movement::Catalogue;
use lantern_core::read::corrections::CorrectionKind;
use lantern_core::read::habits::Habit;
use lantern_core::strength::Cycle;
use lantern_core::versions::{HandHabit, habit};

use crate::decisions;
use crate::removals::{self, Removed};
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
        Ok((GymId(id), serde_json::from_value(settings).map_err(StoreError::unreadable("gym"))?))
    })
    .transpose()
}

/// Adds a gym.
///
/// # Errors
/// When the database is away, or the gym is none that can be.
pub async fn add(store: &Store, gym: &Gym) -> Result<GymId, StoreError> {
    let mut connection = store.connection().await?;
    add_in(&mut connection, gym, false).await
}

pub(crate) async fn add_in(
    connection: &mut AsyncPgConnection,
    gym: &Gym,
    demo: bool,
) -> Result<GymId, StoreError> {
    gym.checked().map_err(StoreError::Refused)?;
    let settings = serde_json::to_value(gym).map_err(StoreError::unreadable("gym"))?;
    let id = diesel::insert_into(gyms::table)
        .values((gyms::name.eq(&gym.name), gyms::settings.eq(settings), gyms::demo.eq(demo)))
        .returning(gyms::id)
        .get_result(connection)
        .await?;
    Ok(GymId(id))
}

/// How many gyms there are, and how many of them the demo has made.
///
/// # Errors
/// When the database is away.
pub async fn count(store: &Store) -> Result<(i64, i64), StoreError> {
    let mut connection = store.connection().await?;
    let all = gyms::table.count().get_result(&mut connection).await?;
    let demo = gyms::table.filter(gyms::demo.eq(true)).count().get_result(&mut connection).await?;
    Ok((all, demo))
}

/// Removes every gym that the demo has made, with all that belongs to it, and no other.
///
/// # Errors
/// When the database is away.
pub async fn remove_demo(store: &Store) -> Result<(), StoreError> {
    let mut connection = store.connection().await?;
    diesel::delete(gyms::table.filter(gyms::demo.eq(true))).execute(&mut connection).await?;
    Ok(())
}

/// Changes a gym's equipment and choices under a lock: two who change different fields at once both have their way.
/// The change says what is wrong, or what came of it.
///
/// # Errors
/// When the database is away, or the change cannot be.
pub async fn change<T: Send>(
    store: &Store,
    id: GymId,
    change: impl FnOnce(&mut Gym) -> Result<T, StoreError> + Send,
) -> Result<T, StoreError> {
    let mut connection = store.connection().await?;
    connection.transaction(async |connection| change_in(connection, id, change).await).await
}

/// As [`change`], within a transaction.
pub(crate) async fn change_in<T: Send>(
    connection: &mut AsyncPgConnection,
    id: GymId,
    change: impl FnOnce(&mut Gym) -> Result<T, StoreError> + Send,
) -> Result<T, StoreError> {
    let row = gyms::table.filter(gyms::id.eq(id.0));
    let settings: Option<serde_json::Value> =
        row.select(gyms::settings).for_update().first(connection).await.optional()?;
    let settings = settings.ok_or(StoreError::NotFound("gym"))?;
    let mut gym: Gym = serde_json::from_value(settings).map_err(StoreError::unreadable("gym"))?;
    let came = change(&mut gym)?;
    gym.checked().map_err(StoreError::Refused)?;
    let settings = serde_json::to_value(&gym).map_err(StoreError::unreadable("gym"))?;
    diesel::update(row)
        .set((gyms::name.eq(&gym.name), gyms::settings.eq(settings)))
        .execute(connection)
        .await?;
    Ok(came)
}

/// Takes a strength cycle out; gives the key with which it comes back.
///
/// # Errors
/// When the database is away, or there is no cycle of that name.
pub async fn remove_cycle(store: &Store, id: GymId, name: &str) -> Result<String, StoreError> {
    let mut connection = store.connection().await?;
    connection
        .transaction(async |connection| {
            let cycle: Cycle = change_in(connection, id, |gym| {
                let at = gym.cycles.iter().position(|cycle| cycle.name == name);
                Ok(gym.cycles.remove(at.ok_or(StoreError::NotFound("cycle"))?))
            })
            .await?;
            removals::keep(connection, id, None, &Removed::Cycle(cycle)).await
        })
        .await
}

/// Forgets a habit of the gym's hand; gives the key with which it comes back.
///
/// # Errors
/// When the database is away, or there is no such habit.
pub async fn forget_habit(
    store: &Store,
    id: GymId,
    kind: CorrectionKind,
    words: &str,
) -> Result<String, StoreError> {
    let mut connection = store.connection().await?;
    connection
        .transaction(async |connection| {
            let habit: Habit = change_in(connection, id, |gym| {
                let at = gym.habits.iter().position(|habit| habit.kind == kind && habit.words == words);
                Ok(gym.habits.remove(at.ok_or(StoreError::NotFound("habit"))?))
            })
            .await?;
            removals::keep(connection, id, None, &Removed::Habit { habit }).await
        })
        .await
}

/// Learns from the newest line that was written anew, when the same has been done on enough days; the habit, when it is new.
///
/// # Errors
/// When the database is away.
pub async fn learn_hand(
    store: &Store,
    id: GymId,
    catalogue: &Catalogue,
) -> Result<Option<HandHabit>, StoreError> {
    let made = decisions::hands(store, id).await?;
    let made: Vec<_> = made.into_iter().map(|(day, line)| (day.to_string(), line)).collect();
    change(store, id, |gym| {
        let new = habit::learn(&mut gym.hand_habits, &made, catalogue);
        Ok(gym.hand_habits.last().filter(|_| new).cloned())
    })
    .await
}

/// Has a habit of the hand forgotten from a day on, or remembered again.
///
/// # Errors
/// When the database is away, or there is no such habit.
pub async fn forget_hand(
    store: &Store,
    id: GymId,
    known: &HandHabit,
    on: Option<NaiveDate>,
) -> Result<(), StoreError> {
    change(store, id, |gym| {
        let habit = gym.hand_habits.iter_mut().find(|habit| *habit == known);
        habit.ok_or(StoreError::NotFound("habit"))?.forgotten_on = on.map(|day| day.to_string());
        Ok(())
    })
    .await
}
