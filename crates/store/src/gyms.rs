//! Gyms: name, equipment and choices.

use chrono::NaiveDate;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use lantern_core::gym::Gym;
use lantern_core::movement::OwnMovement;
use lantern_core::read::corrections::CorrectionKind;
use lantern_core::read::habits::Habit;
use lantern_core::strength::Cycle;
use lantern_core::versions::HandHabit;
use serde::Deserialize;
use serde_json::Value;

use crate::functions::lantern_known;
use crate::removals::{self, Removed};
use crate::schema::gyms;
use crate::{GymScope, StoreError};

/// What of a gym every page needs.
#[derive(Clone, Debug)]
pub struct Known {
    /// Its equipment and choices.
    pub gym: Gym,
    /// Grows whenever anything of the gym's changes that a plan or a page is made from.
    pub version: i64,
    /// Its names for movements: alias and movement.
    pub names: Vec<(String, String)>,
    /// Its own movements.
    pub own: Vec<OwnMovement>,
}

/// A [`Known`] as the database puts it together.
#[derive(Deserialize)]
pub(crate) struct KnownRow {
    settings: Value,
    version: i64,
    names: Value,
    own: Value,
}

impl KnownRow {
    pub(crate) fn read(self) -> Result<Known, StoreError> {
        Ok(Known {
            gym: serde_json::from_value(self.settings).map_err(StoreError::unreadable("gym"))?,
            version: self.version,
            names: serde_json::from_value(self.names).map_err(StoreError::unreadable("name"))?,
            own: serde_json::from_value(self.own).map_err(StoreError::unreadable("movement"))?,
        })
    }
}

/// What of the gym every page needs.
///
/// # Errors
/// When the database is away or something of it cannot be read.
pub async fn known(scope: &mut GymScope) -> Result<Known, StoreError> {
    let known = diesel::select(lantern_known(scope.gym.0));
    let row: Option<Value> = known.get_result(scope.connection()).await?;
    let row: KnownRow = serde_json::from_value(row.ok_or(StoreError::NotFound("gym"))?)
        .map_err(StoreError::unreadable("gym"))?;
    row.read()
}

/// A gym's equipment and choices.
///
/// # Errors
/// When the database is away or the settings cannot be read.
pub async fn settings(scope: &mut GymScope) -> Result<Gym, StoreError> {
    let row = gyms::table.filter(gyms::id.eq(scope.gym.0)).select(gyms::settings);
    let settings: Option<serde_json::Value> = row.first(scope.connection()).await.optional()?;
    let settings = settings.ok_or(StoreError::NotFound("gym"))?;
    serde_json::from_value(settings).map_err(StoreError::unreadable("gym"))
}

/// Changes a gym's equipment and choices under a lock: two who change different fields at once both have their way.
/// The change says what is wrong, or what came of it.
///
/// # Errors
/// When the database is away, or the change cannot be.
pub async fn change<T: Send>(
    scope: &mut GymScope,
    change: impl FnOnce(&mut Gym) -> Result<T, StoreError> + Send,
) -> Result<T, StoreError> {
    let row = gyms::table.filter(gyms::id.eq(scope.gym.0));
    let settings: Option<serde_json::Value> =
        row.select(gyms::settings).for_update().first(scope.connection()).await.optional()?;
    let settings = settings.ok_or(StoreError::NotFound("gym"))?;
    let mut gym: Gym = serde_json::from_value(settings).map_err(StoreError::unreadable("gym"))?;
    let came = change(&mut gym)?;
    gym.checked().map_err(StoreError::Refused)?;
    let settings = serde_json::to_value(&gym).map_err(StoreError::unreadable("gym"))?;
    diesel::update(row)
        .set((gyms::name.eq(&gym.name), gyms::settings.eq(settings)))
        .execute(scope.connection())
        .await?;
    Ok(came)
}

/// Takes a strength cycle out; gives the key with which it comes back.
///
/// # Errors
/// When the database is away, or there is no cycle of that name.
pub async fn remove_cycle(scope: &mut GymScope, name: &str) -> Result<String, StoreError> {
    let cycle: Cycle = change(scope, |gym| {
        let at = gym.cycles.iter().position(|cycle| cycle.name == name);
        Ok(gym.cycles.remove(at.ok_or(StoreError::NotFound("cycle"))?))
    })
    .await?;
    removals::keep(scope, None, &Removed::Cycle(cycle)).await
}

/// Forgets a habit of the gym's hand; gives the key with which it comes back.
///
/// # Errors
/// When the database is away, or there is no such habit.
pub async fn forget_habit(
    scope: &mut GymScope,
    kind: CorrectionKind,
    words: &str,
) -> Result<String, StoreError> {
    let habit: Habit = change(scope, |gym| {
        let at = gym.habits.iter().position(|habit| habit.kind == kind && habit.words == words);
        Ok(gym.habits.remove(at.ok_or(StoreError::NotFound("habit"))?))
    })
    .await?;
    removals::keep(scope, None, &Removed::Habit { habit }).await
}

/// Has a habit of the hand forgotten from a day on, or remembered again.
///
/// # Errors
/// When the database is away, or there is no such habit.
pub async fn forget_hand(
    scope: &mut GymScope,
    known: &HandHabit,
    on: Option<NaiveDate>,
) -> Result<(), StoreError> {
    change(scope, |gym| {
        let habit = gym.hand_habits.iter_mut().find(|habit| *habit == known);
        habit.ok_or(StoreError::NotFound("habit"))?.forgotten_on = on.map(|day| day.to_string());
        Ok(())
    })
    .await
}
