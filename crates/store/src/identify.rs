//! Days of before whose parts have no rows, and decisions that name members by name and parts by place: brought to ids once, when a newer program
//! starts on an older database. What a place meant only the reader knows, so that no migration in SQL could do it.

use std::collections::BTreeSet;

use chrono::NaiveDate;
use diesel::prelude::*;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use lantern_core::gym::Gym;
use lantern_core::movement::{Catalogue, OwnMovement};
use lantern_core::read::corrections::Correction;
use lantern_core::read::read_in_hand;
use serde_json::Value;

use crate::pieces::NewPiece;
use crate::schema::{decisions, gym_movements, gyms, movement_aliases, pieces, sessions};
use crate::{GymId, StoreError};

/// Keeps the parts of every day that has none, and brings every decision that is not named by id to ids, a day at a time.
pub(crate) async fn days(connection: &mut AsyncPgConnection) -> Result<(), StoreError> {
    let of_day =
        pieces::table.filter(pieces::gym_id.eq(sessions::gym_id)).filter(pieces::day.eq(sessions::day));
    let unread: Vec<(i64, NaiveDate)> = sessions::table
        .filter(sessions::text.ne(""))
        .filter(diesel::dsl::not(diesel::dsl::exists(of_day)))
        .select((sessions::gym_id, sessions::day))
        .load(connection)
        .await?;
    let by_name: Vec<(i64, NaiveDate)> = decisions::table
        .filter(decisions::by_id.eq(false))
        .select((decisions::gym_id, decisions::day))
        .distinct()
        .load(connection)
        .await?;
    let days: BTreeSet<(i64, NaiveDate)> = unread.into_iter().chain(by_name).collect();
    for (gym, day) in days {
        connection
            .transaction(async |connection| {
                let parts = parts_of(connection, GymId(gym), day).await?;
                crate::pieces::keep(connection, GymId(gym), day, &parts).await?;
                crate::decisions::bring_to_ids(connection, GymId(gym), day, &parts).await
            })
            .await?;
    }
    Ok(())
}

/// The parts of a day's text, read in the gym's hand.
async fn parts_of(
    connection: &mut AsyncPgConnection,
    gym: GymId,
    day: NaiveDate,
) -> Result<Vec<NewPiece>, StoreError> {
    let text: Option<(String, Value)> = sessions::table
        .filter(sessions::gym_id.eq(gym.0))
        .filter(sessions::day.eq(day))
        .select((sessions::text, sessions::corrections))
        .first(connection)
        .await
        .optional()?;
    let Some((text, corrections)) = text else { return Ok(Vec::new()) };
    let settings: Value =
        gyms::table.filter(gyms::id.eq(gym.0)).select(gyms::settings).first(connection).await?;
    let settings: Gym = serde_json::from_value(settings).map_err(StoreError::unreadable("gym"))?;
    let own: Vec<Value> = gym_movements::table
        .filter(gym_movements::gym_id.eq(gym.0))
        .order(gym_movements::name)
        .select(gym_movements::definition)
        .load(connection)
        .await?;
    let names: Vec<(String, String)> = movement_aliases::table
        .filter(movement_aliases::gym_id.eq(gym.0))
        .order(movement_aliases::alias)
        .select((movement_aliases::alias, movement_aliases::movement))
        .load(connection)
        .await?;
    let own: Result<Vec<OwnMovement>, _> = own.into_iter().map(serde_json::from_value).collect();
    let catalogue = Catalogue::of_gym(&own.map_err(StoreError::unreadable("movement"))?, &names);
    let corrections: Vec<Correction> = serde_json::from_value(corrections).unwrap_or_default();
    let reading = read_in_hand(&text, &catalogue, &corrections, &settings.habits);
    Ok(NewPiece::of(&reading.session, &catalogue))
}
