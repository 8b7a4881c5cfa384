//! Gyms: name, equipment and choices.

use chrono::NaiveDate;
use diesel::dsl::sql;
use diesel::expression::SqlLiteral;
use diesel::prelude::*;
use diesel::sql_types::Jsonb;
use diesel_async::RunQueryDsl;
use lantern_core::gym::Gym;
use lantern_core::movement::OwnMovement;
use lantern_core::read::corrections::CorrectionKind;
use lantern_core::read::habits::Habit;
use lantern_core::strength::Cycle;
use lantern_core::versions::HandHabit;

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

/// The columns of [`Known`], of the gym that a query has joined.
pub(crate) type KnownColumns = (gyms::settings, gyms::version, SqlLiteral<Jsonb>, SqlLiteral<Jsonb>);
/// What they bring.
pub(crate) type KnownRow = (serde_json::Value, i64, serde_json::Value, serde_json::Value);

pub(crate) fn known_columns() -> KnownColumns {
    let names = "coalesce((select jsonb_agg(jsonb_build_array(a.alias, a.movement) order by a.alias)
                 from movement_aliases a where a.gym_id = gyms.id), '[]')";
    let own = "coalesce((select jsonb_agg(o.definition order by o.name)
               from gym_movements o where o.gym_id = gyms.id), '[]')";
    (gyms::settings, gyms::version, sql::<Jsonb>(names), sql::<Jsonb>(own))
}

pub(crate) fn known_of((settings, version, names, own): KnownRow) -> Result<Known, StoreError> {
    Ok(Known {
        gym: serde_json::from_value(settings).map_err(StoreError::unreadable("gym"))?,
        version,
        names: serde_json::from_value(names).map_err(StoreError::unreadable("name"))?,
        own: serde_json::from_value(own).map_err(StoreError::unreadable("movement"))?,
    })
}

/// What of the gym every page needs.
///
/// # Errors
/// When the database is away or something of it cannot be read.
pub async fn known(scope: &mut GymScope) -> Result<Known, StoreError> {
    let row = gyms::table.filter(gyms::id.eq(scope.gym.0)).select(known_columns());
    let row: Option<KnownRow> = row.first(scope.connection()).await.optional()?;
    known_of(row.ok_or(StoreError::NotFound("gym"))?)
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
