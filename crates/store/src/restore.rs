//! Brings back what was removed.

use diesel::prelude::*;
use diesel_async::RunQueryDsl;

use crate::removals::Removed;
use crate::schema::removals;
use crate::{GymScope, StoreError, aliases, classes, gyms, lifts, own_movements};

/// Brings back what was removed; once.
///
/// # Errors
/// When the database is away, nothing was removed with that key, or its place is taken meanwhile.
pub async fn bring_back(scope: &mut GymScope, key: &str) -> Result<Removed, StoreError> {
    let row = removals::table.filter(removals::gym_id.eq(scope.gym.0)).filter(removals::key.eq(key));
    let what: Option<serde_json::Value> =
        diesel::delete(row).returning(removals::what).get_result(scope.connection()).await.optional()?;
    let what = what.ok_or(StoreError::NotFound("removal"))?;
    let removed: Removed = serde_json::from_value(what).map_err(StoreError::unreadable("removal"))?;
    match &removed {
        Removed::Class(class) => classes::insert(scope, class).await?,
        Removed::Lift(lift) => lifts::insert_kept(scope, lift).await?,
        Removed::Name { alias, movement } => {
            aliases::put(scope, alias, movement).await?;
        }
        Removed::Movement(own) => own_movements::put(scope, own).await?,
        Removed::Cycle(cycle) => {
            gyms::change(scope, |settings| {
                settings.cycles.retain(|known| known.name != cycle.name);
                settings.cycles.push(cycle.clone());
                Ok(())
            })
            .await?;
        }
        Removed::Habit { habit } => {
            gyms::change(scope, |settings| {
                settings.habits.retain(|known| known.words != habit.words || known.kind != habit.kind);
                settings.habits.push(habit.clone());
                Ok(())
            })
            .await?;
        }
    }
    Ok(removed)
}
