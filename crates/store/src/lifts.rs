//! Lifts on record: the history that maxes are chosen from.

use chrono::NaiveDate;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use lantern_core::strength::{Record, Source};
use lantern_core::units::Kilograms;

use crate::schema::{maxes, members};
use crate::{GymId, Store, StoreError};

/// A set on record.
#[derive(Clone, Debug, Queryable, Selectable)]
#[diesel(table_name = maxes)]
pub struct StoredLift {
    /// The row's id.
    pub id: i64,
    /// Whose it is.
    pub member_id: i64,
    /// The lift's id.
    pub lift: String,
    /// What was on the bar, in grams.
    pub grams: i32,
    /// When.
    pub set_on: NaiveDate,
    /// How it came to be on record: a name of [`Source`].
    pub source: String,
    /// Repetitions.
    pub reps: i32,
    /// Effort.
    pub rpe: Option<f32>,
    /// Whether the last repetition was missed.
    pub missed: bool,
}

impl StoredLift {
    /// As the core sees it on a day.
    pub fn record(&self, today: NaiveDate) -> Record {
        Record {
            load: Kilograms::from_grams(self.grams.unsigned_abs()),
            reps: self.reps.unsigned_abs(),
            rpe: self.rpe.map(f64::from),
            missed: self.missed,
            source: Source::named(&self.source),
            days_old: (today - self.set_on).num_days().max(0) as u32,
        }
    }
}

/// A set to put on record.
#[derive(Clone, Copy, Debug)]
pub struct NewLift<'a> {
    /// The lift's id.
    pub lift: &'a str,
    /// What was on the bar.
    pub load: Kilograms,
    /// Repetitions.
    pub reps: u32,
    /// Effort, 5 to 10.
    pub rpe: Option<f64>,
    /// Whether the last repetition was missed.
    pub missed: bool,
    /// How it came about.
    pub source: Source,
    /// When.
    pub set_on: NaiveDate,
}

/// Every set of a gym's members, newest first.
///
/// # Errors
/// When the database is away.
pub async fn of_gym(store: &Store, gym: GymId) -> Result<Vec<StoredLift>, StoreError> {
    let mut connection = store.connection().await?;
    Ok(maxes::table
        .filter(maxes::gym_id.eq(gym.0))
        .order((maxes::set_on.desc(), maxes::id.desc()))
        .select(StoredLift::as_select())
        .load(&mut connection)
        .await?)
}

/// Every set of a member, newest first.
///
/// # Errors
/// When the database is away.
pub async fn of_member(store: &Store, gym: GymId, member: i64) -> Result<Vec<StoredLift>, StoreError> {
    let mut connection = store.connection().await?;
    Ok(maxes::table
        .filter(maxes::gym_id.eq(gym.0))
        .filter(maxes::member_id.eq(member))
        .order((maxes::set_on.desc(), maxes::id.desc()))
        .select(StoredLift::as_select())
        .load(&mut connection)
        .await?)
}

/// Puts a set on record.
///
/// # Errors
/// When the database is away, or the gym has no such member.
pub async fn add(store: &Store, gym: GymId, member: i64, new: &NewLift<'_>) -> Result<i64, StoreError> {
    let mut connection = store.connection().await?;
    let known: Option<i64> = members::table
        .filter(members::gym_id.eq(gym.0))
        .filter(members::id.eq(member))
        .select(members::id)
        .first(&mut connection)
        .await
        .optional()?;
    let member = known.ok_or(StoreError::NotFound("member"))?;
    Ok(diesel::insert_into(maxes::table)
        .values((
            maxes::gym_id.eq(gym.0),
            maxes::member_id.eq(member),
            maxes::lift.eq(new.lift),
            maxes::grams.eq(new.load.grams() as i32),
            maxes::set_on.eq(new.set_on),
            maxes::source.eq(new.source.name()),
            maxes::reps.eq(new.reps as i32),
            maxes::rpe.eq(new.rpe.map(|rpe| rpe as f32)),
            maxes::missed.eq(new.missed),
        ))
        .returning(maxes::id)
        .get_result(&mut connection)
        .await?)
}

/// Takes a set off the record.
///
/// # Errors
/// When the database is away.
pub async fn remove(store: &Store, gym: GymId, id: i64) -> Result<(), StoreError> {
    let mut connection = store.connection().await?;
    diesel::delete(maxes::table.filter(maxes::gym_id.eq(gym.0)).filter(maxes::id.eq(id)))
        .execute(&mut connection)
        .await?;
    Ok(())
}
