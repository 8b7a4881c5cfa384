//! Days of before whose parts have no rows, and decisions that name members by name and parts by place: brought to ids once, when a newer program
//! starts on an older database. What a place meant only the reader knows, so that no migration in SQL could do it.

use std::collections::BTreeSet;

use chrono::NaiveDate;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use lantern_core::movement::Catalogue;
use lantern_core::read::corrections::Correction;
use lantern_core::read::read_in_hand;

use crate::pieces::NewPiece;
use crate::schema::{decisions, pieces, sessions};
use crate::{GymId, GymScope, Operator, Store, StoreError, aliases, gyms, own_movements};

/// Keeps the parts of every day that has none, and brings every decision that is not named by id to ids, a day at a time.
pub(crate) async fn days(mut operator: Operator, store: &Store) -> Result<(), StoreError> {
    let of_day =
        pieces::table.filter(pieces::gym_id.eq(sessions::gym_id)).filter(pieces::day.eq(sessions::day));
    let unread: Vec<(i64, NaiveDate)> = sessions::table
        .filter(sessions::text.ne(""))
        .filter(diesel::dsl::not(diesel::dsl::exists(of_day)))
        .select((sessions::gym_id, sessions::day))
        .load(&mut operator.connection)
        .await?;
    let by_name: Vec<(i64, NaiveDate)> = decisions::table
        .filter(decisions::by_id.eq(false))
        .select((decisions::gym_id, decisions::day))
        .distinct()
        .load(&mut operator.connection)
        .await?;
    let days: BTreeSet<(i64, NaiveDate)> = unread.into_iter().chain(by_name).collect();
    for (gym, day) in days {
        let mut scope = store.change(GymId(gym)).await?;
        let parts = parts_of(&mut scope, day).await?;
        crate::pieces::keep(&mut scope, day, &parts).await?;
        crate::decisions::bring_to_ids(&mut scope, day, &parts).await?;
        scope.keep().await?;
    }
    Ok(())
}

/// The parts of a day's text, read in the gym's hand.
async fn parts_of(scope: &mut GymScope, day: NaiveDate) -> Result<Vec<NewPiece>, StoreError> {
    let Some(session) = crate::sessions::of_day(scope, day).await? else { return Ok(Vec::new()) };
    let gym = gyms::settings(scope).await?;
    let own = own_movements::of_gym(scope).await?.into_iter().map(|(_, own)| own).collect::<Vec<_>>();
    let names = aliases::of_gym(scope).await?.into_iter().map(|name| (name.alias, name.movement));
    let catalogue = Catalogue::of_gym(&own, &names.collect::<Vec<_>>());
    let corrections: Vec<Correction> = serde_json::from_value(session.corrections).unwrap_or_default();
    let reading = read_in_hand(&session.text, &catalogue, &corrections, &gym.habits);
    Ok(NewPiece::of(&reading.session, &catalogue))
}
