//! Classes of a day, who is booked into them, and what coaches have decided about their hours.

use std::collections::BTreeMap;

use chrono::{NaiveDate, NaiveTime};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use lantern_core::hour::HourEdits;

use crate::schema::{bookings, classes, hour_edits, members};
use crate::{GymId, Store, StoreError};

/// A class.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct StoredClass {
    /// The row's id.
    pub id: i64,
    /// The day.
    pub day: NaiveDate,
    /// When it starts, in the gym's own time.
    pub starts: NaiveTime,
    /// How long it is.
    pub minutes: u32,
    /// Who coaches it; may be empty.
    pub coach: String,
    /// Row ids of who is booked.
    pub booked: Vec<i64>,
}

/// A class to be made or changed.
#[derive(Clone, Debug)]
pub struct NewClass {
    /// The day.
    pub day: NaiveDate,
    /// When it starts.
    pub starts: NaiveTime,
    /// 30 to 90.
    pub minutes: u32,
    /// Who coaches it; may be empty.
    pub coach: String,
}

/// The classes between two days, both included, in order.
///
/// # Errors
/// When the database is away.
pub async fn between(
    store: &Store,
    gym: GymId,
    from: NaiveDate,
    to: NaiveDate,
) -> Result<Vec<StoredClass>, StoreError> {
    let mut connection = store.connection().await?;
    let rows: Vec<(i64, NaiveDate, NaiveTime, i32, String)> = classes::table
        .filter(classes::gym_id.eq(gym.0))
        .filter(classes::day.between(from, to))
        .order((classes::day, classes::starts))
        .select((classes::id, classes::day, classes::starts, classes::minutes, classes::coach))
        .load(&mut connection)
        .await?;
    let ids: Vec<i64> = rows.iter().map(|row| row.0).collect();
    let booked: Vec<(i64, i64)> = bookings::table
        .filter(bookings::gym_id.eq(gym.0))
        .filter(bookings::class_id.eq_any(&ids))
        .order(bookings::id)
        .select((bookings::class_id, bookings::member_id))
        .load(&mut connection)
        .await?;
    let mut by_class: BTreeMap<i64, Vec<i64>> = BTreeMap::new();
    for (class, member) in booked {
        by_class.entry(class).or_default().push(member);
    }
    let class = |(id, day, starts, minutes, coach): (i64, NaiveDate, NaiveTime, i32, String)| {
        let booked = by_class.remove(&id).unwrap_or_default();
        StoredClass { id, day, starts, minutes: minutes.unsigned_abs(), coach, booked }
    };
    Ok(rows.into_iter().map(class).collect())
}

/// The class that starts at a time of a day.
///
/// # Errors
/// When the database is away.
pub async fn at(
    store: &Store,
    gym: GymId,
    day: NaiveDate,
    starts: NaiveTime,
) -> Result<Option<StoredClass>, StoreError> {
    Ok(between(store, gym, day, day).await?.into_iter().find(|class| class.starts == starts))
}

/// Days and starts of the classes that a member is booked into, in order.
///
/// # Errors
/// When the database is away.
pub async fn of_member(
    store: &Store,
    gym: GymId,
    member: i64,
) -> Result<Vec<(NaiveDate, NaiveTime)>, StoreError> {
    let mut connection = store.connection().await?;
    let booked = bookings::table
        .filter(bookings::gym_id.eq(gym.0))
        .filter(bookings::member_id.eq(member))
        .select(bookings::class_id);
    Ok(classes::table
        .filter(classes::gym_id.eq(gym.0))
        .filter(classes::id.eq_any(booked))
        .order((classes::day, classes::starts))
        .select((classes::day, classes::starts))
        .load(&mut connection)
        .await?)
}

/// Makes a class, or changes the one that starts then.
///
/// # Errors
/// When the database is away.
pub async fn put(store: &Store, gym: GymId, class: &NewClass) -> Result<i64, StoreError> {
    let mut connection = store.connection().await?;
    let minutes = class.minutes as i32;
    Ok(diesel::insert_into(classes::table)
        .values((
            classes::gym_id.eq(gym.0),
            classes::day.eq(class.day),
            classes::starts.eq(class.starts),
            classes::minutes.eq(minutes),
            classes::coach.eq(&class.coach),
        ))
        .on_conflict((classes::gym_id, classes::day, classes::starts))
        .do_update()
        .set((classes::minutes.eq(minutes), classes::coach.eq(&class.coach)))
        .returning(classes::id)
        .get_result(&mut connection)
        .await?)
}

/// Takes a class off the day, with its bookings.
///
/// # Errors
/// When the database is away.
pub async fn remove(store: &Store, gym: GymId, id: i64) -> Result<(), StoreError> {
    let mut connection = store.connection().await?;
    diesel::delete(classes::table.filter(classes::gym_id.eq(gym.0)).filter(classes::id.eq(id)))
        .execute(&mut connection)
        .await?;
    Ok(())
}

/// Books exactly these members of the gym into a class; ids of nobody are passed over.
///
/// # Errors
/// When the database is away.
pub async fn book(store: &Store, gym: GymId, class: i64, who: &[i64]) -> Result<(), StoreError> {
    let mut connection = store.connection().await?;
    connection
        .transaction(async |connection| {
            let of_class =
                bookings::table.filter(bookings::gym_id.eq(gym.0)).filter(bookings::class_id.eq(class));
            diesel::delete(of_class).execute(connection).await?;
            let known: Vec<i64> = members::table
                .filter(members::gym_id.eq(gym.0))
                .filter(members::id.eq_any(who))
                .order(members::name)
                .select(members::id)
                .load(connection)
                .await?;
            let rows: Vec<_> = known
                .into_iter()
                .map(|member| {
                    (bookings::gym_id.eq(gym.0), bookings::class_id.eq(class), bookings::member_id.eq(member))
                })
                .collect();
            diesel::insert_into(bookings::table).values(rows).execute(connection).await?;
            diesel::QueryResult::Ok(())
        })
        .await?;
    Ok(())
}

/// What has been decided about the hour of a class, or of the whole gym at once.
///
/// # Errors
/// When the database is away, or the row cannot be read.
pub async fn hour_edits(
    store: &Store,
    gym: GymId,
    day: NaiveDate,
    starts: Option<NaiveTime>,
) -> Result<HourEdits, StoreError> {
    let mut connection = store.connection().await?;
    let row: Option<serde_json::Value> = hour_edits::table
        .filter(hour_edits::gym_id.eq(gym.0))
        .filter(hour_edits::day.eq(day))
        .filter(hour_edits::starts.eq(key(starts)))
        .select(hour_edits::edits)
        .first(&mut connection)
        .await
        .optional()?;
    row.map_or(Ok(HourEdits::default()), |edits| serde_json::from_value(edits).map_err(unreadable))
}

/// Keeps what has been decided about an hour.
///
/// # Errors
/// When the database is away.
pub async fn put_hour_edits(
    store: &Store,
    gym: GymId,
    day: NaiveDate,
    starts: Option<NaiveTime>,
    edits: &HourEdits,
) -> Result<(), StoreError> {
    let edits = serde_json::to_value(edits).map_err(unreadable)?;
    let mut connection = store.connection().await?;
    diesel::insert_into(hour_edits::table)
        .values((
            hour_edits::gym_id.eq(gym.0),
            hour_edits::day.eq(day),
            hour_edits::starts.eq(key(starts)),
            hour_edits::edits.eq(&edits),
        ))
        .on_conflict((hour_edits::gym_id, hour_edits::day, hour_edits::starts))
        .do_update()
        .set(hour_edits::edits.eq(&edits))
        .execute(&mut connection)
        .await?;
    Ok(())
}

fn key(starts: Option<NaiveTime>) -> String {
    starts.map_or(String::new(), |starts| starts.format("%H:%M").to_string())
}

fn unreadable(error: serde_json::Error) -> StoreError {
    StoreError::Unreadable { what: "hour", why: error.to_string() }
}
