//! Members with the newest max of each lift.

use std::collections::BTreeMap;

use chrono::NaiveDate;
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use lantern_core::member::{Max, Member};
use lantern_core::movement::MovementId;
use lantern_core::units::Kilograms;

use crate::schema::{maxes, members};
use crate::{GymId, Store, StoreError};

/// A member's row.
#[derive(Clone, Debug)]
pub struct StoredMember {
    /// The row's id.
    pub id: i64,
    /// The member, with maxes aged to `today`.
    pub member: Member,
}

/// A max in a member's history.
#[derive(Clone, Debug, Queryable)]
pub struct StoredMax {
    /// The lift's id.
    pub lift: String,
    /// Weight in grams.
    pub grams: i32,
    /// When it was set.
    pub set_on: NaiveDate,
    /// `tested`, `estimated`, `stated`.
    pub source: String,
}

/// All members of a gym by name. `today` ages the maxes.
///
/// # Errors
/// When the database is away or a profile cannot be read.
pub async fn of_gym(store: &Store, gym: GymId, today: NaiveDate) -> Result<Vec<StoredMember>, StoreError> {
    let mut connection = store.connection().await?;
    let rows: Vec<(i64, String, serde_json::Value)> = members::table
        .filter(members::gym_id.eq(gym.0))
        .order(members::name)
        .select((members::id, members::name, members::profile))
        .load(&mut connection)
        .await?;
    let newest: Vec<(i64, String, i32, NaiveDate)> = maxes::table
        .filter(maxes::gym_id.eq(gym.0))
        .distinct_on((maxes::member_id, maxes::lift))
        .order((maxes::member_id, maxes::lift, maxes::set_on.desc(), maxes::id.desc()))
        .select((maxes::member_id, maxes::lift, maxes::grams, maxes::set_on))
        .load(&mut connection)
        .await?;
    let mut by_member: BTreeMap<i64, BTreeMap<MovementId, Max>> = BTreeMap::new();
    for (member, lift, grams, set_on) in newest {
        let weeks = (today - set_on).num_weeks().max(0) as u32;
        let max = Max { value: Kilograms::from_grams(grams.unsigned_abs()), weeks_old: Some(weeks) };
        by_member.entry(member).or_default().insert(MovementId::new(&lift), max);
    }
    rows.into_iter()
        .map(|(id, name, profile)| {
            let mut member: Member = serde_json::from_value(profile)
                .map_err(|error| StoreError::Unreadable { what: "member", why: error.to_string() })?;
            member.name = name;
            member.maxes = by_member.remove(&id).unwrap_or_default();
            Ok(StoredMember { id, member })
        })
        .collect()
}

/// The history of a member's maxes, newest first.
///
/// # Errors
/// When the database is away.
pub async fn max_history(store: &Store, gym: GymId, member: i64) -> Result<Vec<StoredMax>, StoreError> {
    let mut connection = store.connection().await?;
    Ok(maxes::table
        .filter(maxes::gym_id.eq(gym.0))
        .filter(maxes::member_id.eq(member))
        .order((maxes::set_on.desc(), maxes::lift))
        .select((maxes::lift, maxes::grams, maxes::set_on, maxes::source))
        .load(&mut connection)
        .await?)
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
    let profile = serde_json::to_value(Member { maxes: BTreeMap::new(), ..member.clone() })
        .map_err(|error| StoreError::Unreadable { what: "member", why: error.to_string() })?;
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
