//! Members with the maxes that their gym counts from.

use std::collections::BTreeMap;

use chrono::NaiveDate;
use diesel::prelude::*;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use lantern_core::gym::Gym;
use lantern_core::hour::HourEdits;
use lantern_core::member::Member;
use lantern_core::movement::MovementId;
use lantern_core::strength::{Record, Source, choose_max};
use lantern_core::versions::PieceEdits;

use crate::lifts::{self, NewLift};
use crate::schema::{hour_edits, maxes, members, piece_edits};
use crate::{GymId, Store, StoreError};

/// The day since which a member has been away, beside the rest of the profile.
const AWAY_SINCE: &str = "away_since";

/// A member's row.
#[derive(Clone, Debug)]
pub struct StoredMember {
    /// The row's id.
    pub id: i64,
    /// The member, with maxes aged to `today`.
    pub member: Member,
}

/// All members of a gym by name, with the maxes that its policy counts from on `today`.
///
/// # Errors
/// When the database is away or a profile cannot be read.
pub async fn of_gym(
    store: &Store,
    gym: GymId,
    settings: &Gym,
    today: NaiveDate,
) -> Result<Vec<StoredMember>, StoreError> {
    let mut connection = store.connection().await?;
    let rows: Vec<(i64, String, serde_json::Value)> = members::table
        .filter(members::gym_id.eq(gym.0))
        .order(members::name)
        .select((members::id, members::name, members::profile))
        .load(&mut connection)
        .await?;
    drop(connection);
    let mut by_member: BTreeMap<i64, BTreeMap<MovementId, Vec<Record>>> = BTreeMap::new();
    for lifted in lifts::of_gym(store, gym).await? {
        let lift = MovementId::new(&lifted.lift);
        by_member.entry(lifted.member_id).or_default().entry(lift).or_default().push(lifted.record(today));
    }
    rows.into_iter()
        .map(|(id, name, profile)| {
            let away = profile[AWAY_SINCE].as_str().and_then(|day| day.parse::<NaiveDate>().ok());
            let mut member: Member = serde_json::from_value(profile).map_err(unreadable)?;
            member.name = name;
            member.away_days = away.map(|since| (today - since).num_days().max(0) as u32);
            let records = by_member.remove(&id).unwrap_or_default();
            let chosen = |of_lift: &[Record]| choose_max(of_lift, settings.max_policy, settings.formula);
            member.maxes =
                records.into_iter().filter_map(|(lift, records)| Some((lift, chosen(&records)?))).collect();
            Ok(StoredMember { id, member })
        })
        .collect()
}

/// Writes what a roster says of a member: a new one, or news of one that the gym knows by name. Maxes are added
/// to the history unless the newest on record is the same.
///
/// # Errors
/// When the database is away.
pub async fn take_in(
    store: &Store,
    gym: GymId,
    member: &Member,
    set_on: NaiveDate,
) -> Result<(), StoreError> {
    let mut connection = store.connection().await?;
    let known: Option<(i64, serde_json::Value)> = members::table
        .filter(members::gym_id.eq(gym.0))
        .filter(members::name.eq(&member.name))
        .select((members::id, members::profile))
        .first(&mut connection)
        .await
        .optional()?;
    let Some((id, before)) = known else {
        drop(connection);
        add(store, gym, member, set_on, Source::Stated.name()).await?;
        return Ok(());
    };
    let mut profile = profile_of(member)?;
    // A roster says nothing of breaks.
    profile[AWAY_SINCE] = before[AWAY_SINCE].clone();
    diesel::update(members::table.filter(members::gym_id.eq(gym.0)).filter(members::id.eq(id)))
        .set(members::profile.eq(profile))
        .execute(&mut connection)
        .await?;
    drop(connection);
    let history = lifts::of_member(store, gym, id).await?;
    for (lift, max) in &member.maxes {
        let newest = history.iter().find(|lifted| lifted.lift == lift.as_str());
        if newest.is_none_or(|lifted| lifted.grams.unsigned_abs() != max.value.grams()) {
            let (lift, load, source) = (lift.as_str(), max.value, Source::Stated);
            let new = NewLift { lift, load, reps: 1, rpe: None, missed: false, source, set_on };
            lifts::add(store, gym, id, &new).await?;
        }
    }
    Ok(())
}

/// Notes since when a member has been away, or that they are back.
///
/// # Errors
/// When the database is away, or the gym has no such member.
pub async fn set_away(
    store: &Store,
    gym: GymId,
    id: i64,
    since: Option<NaiveDate>,
) -> Result<(), StoreError> {
    let mut connection = store.connection().await?;
    let row = members::table.filter(members::gym_id.eq(gym.0)).filter(members::id.eq(id));
    let profile: Option<serde_json::Value> =
        row.select(members::profile).first(&mut connection).await.optional()?;
    let mut profile = profile.ok_or(StoreError::NotFound("member"))?;
    profile[AWAY_SINCE] = serde_json::json!(since);
    diesel::update(row).set(members::profile.eq(profile)).execute(&mut connection).await?;
    Ok(())
}

/// Removes a member with everything on file about them: lifts and bookings go with the row, and no decision about a
/// day names them any longer.
///
/// # Errors
/// When the database is away, or a decision cannot be read.
pub async fn remove(store: &Store, gym: GymId, id: i64) -> Result<(), StoreError> {
    let mut connection = store.connection().await?;
    let row = members::table.filter(members::gym_id.eq(gym.0)).filter(members::id.eq(id));
    let name: Option<String> = row.select(members::name).first(&mut connection).await.optional()?;
    let Some(name) = name else { return Ok(()) };
    connection
        .transaction(async |connection| {
            forget_in_pieces(connection, gym, &name).await?;
            forget_in_hours(connection, gym, &name).await?;
            diesel::delete(row).execute(connection).await?;
            Ok(())
        })
        .await
}

async fn forget_in_pieces(
    connection: &mut AsyncPgConnection,
    gym: GymId,
    name: &str,
) -> Result<(), StoreError> {
    let rows: Vec<(i64, serde_json::Value)> = piece_edits::table
        .filter(piece_edits::gym_id.eq(gym.0))
        .select((piece_edits::id, piece_edits::edits))
        .load(connection)
        .await?;
    for (id, stored) in rows {
        let before: PieceEdits = serde_json::from_value(stored).map_err(unreadable)?;
        let mut edits = before.clone();
        edits.forget(name);
        if edits != before {
            let edits = serde_json::to_value(edits).map_err(unreadable)?;
            let row = piece_edits::table.filter(piece_edits::gym_id.eq(gym.0)).filter(piece_edits::id.eq(id));
            diesel::update(row).set(piece_edits::edits.eq(edits)).execute(connection).await?;
        }
    }
    Ok(())
}

async fn forget_in_hours(
    connection: &mut AsyncPgConnection,
    gym: GymId,
    name: &str,
) -> Result<(), StoreError> {
    let rows: Vec<(i64, serde_json::Value)> = hour_edits::table
        .filter(hour_edits::gym_id.eq(gym.0))
        .select((hour_edits::id, hour_edits::edits))
        .load(connection)
        .await?;
    for (id, stored) in rows {
        let before: HourEdits = serde_json::from_value(stored).map_err(unreadable)?;
        let mut edits = before.clone();
        edits.forget(name);
        if edits != before {
            let edits = serde_json::to_value(edits).map_err(unreadable)?;
            let row = hour_edits::table.filter(hour_edits::gym_id.eq(gym.0)).filter(hour_edits::id.eq(id));
            diesel::update(row).set(hour_edits::edits.eq(edits)).execute(connection).await?;
        }
    }
    Ok(())
}

fn profile_of(member: &Member) -> Result<serde_json::Value, StoreError> {
    serde_json::to_value(Member { maxes: BTreeMap::new(), ..member.clone() }).map_err(unreadable)
}

fn unreadable(error: serde_json::Error) -> StoreError {
    StoreError::Unreadable { what: "member", why: error.to_string() }
}

/// Adds a member with their maxes, all set on `set_on`.
///
/// # Errors
/// When the database is away, or the gym has a member of that name.
pub async fn add(
    store: &Store,
    gym: GymId,
    member: &Member,
    set_on: NaiveDate,
    source: &str,
) -> Result<i64, StoreError> {
    let mut connection = store.connection().await?;
    let profile = profile_of(member)?;
    let id = connection
        .transaction(async |connection| {
            let id: i64 = diesel::insert_into(members::table)
                .values((
                    members::gym_id.eq(gym.0),
                    members::name.eq(&member.name),
                    members::profile.eq(profile),
                ))
                .returning(members::id)
                .get_result(connection)
                .await?;
            let rows: Vec<_> = member
                .maxes
                .iter()
                .map(|(lift, max)| {
                    (
                        maxes::gym_id.eq(gym.0),
                        maxes::member_id.eq(id),
                        maxes::lift.eq(lift.as_str().to_owned()),
                        maxes::grams.eq(max.value.grams() as i32),
                        maxes::set_on.eq(set_on),
                        maxes::source.eq(source.to_owned()),
                    )
                })
                .collect();
            diesel::insert_into(maxes::table).values(rows).execute(connection).await?;
            diesel::QueryResult::Ok(id)
        })
        .await?;
    Ok(id)
}
