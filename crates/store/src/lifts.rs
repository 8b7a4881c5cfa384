//! Lifts on record: the history that maxes are chosen from.

use chrono::NaiveDate;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use lantern_core::movement::MovementId;
use lantern_core::strength::followed::{Set, SetBeside};
use lantern_core::strength::{Record, Source};
use lantern_core::units::Kilograms;
use serde::Deserialize;

use crate::removals::{self, Removed};
use crate::rows::KeptLift;
use crate::schema::{maxes, members};
use crate::{GymScope, LiftId, MemberId, StoreError};

/// A set on record.
#[derive(Clone, Debug, Queryable, Selectable, Deserialize)]
#[diesel(table_name = maxes)]
pub struct StoredLift {
    /// The row's id.
    pub id: LiftId,
    /// Whose it is.
    pub member_id: MemberId,
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
    /// What a coach has said of loads being counted from it.
    #[serde(default)]
    pub kept: Option<bool>,
    /// The heaviest that was asked when it was entered, in grams.
    #[serde(default)]
    pub asked_grams: Option<i32>,
    /// How often that was to be lifted.
    #[serde(default)]
    pub asked_reps: Option<i32>,
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
            kept: self.kept,
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
    /// Whether a coach has looked at it and had loads counted from it; what a class has shown waits to be asked about.
    pub kept: Option<bool>,
    /// The heaviest set that their sheet asked for, where it was entered beside one.
    pub asked: Option<Set>,
}

impl<'a> NewLift<'a> {
    /// A single that is on file as somebody's max.
    pub fn single(lift: &'a str, load: Kilograms, source: Source, set_on: NaiveDate) -> Self {
        Self { lift, load, reps: 1, rpe: None, missed: false, source, set_on, kept: None, asked: None }
    }
}

/// Every set of a gym's members, newest first.
///
/// # Errors
/// When the database is away.
pub async fn of_gym(scope: &mut GymScope) -> Result<Vec<StoredLift>, StoreError> {
    Ok(maxes::table
        .filter(maxes::gym_id.eq(scope.gym.0))
        .order((maxes::set_on.desc(), maxes::id.desc()))
        .select(StoredLift::as_select())
        .load(scope.connection())
        .await?)
}

/// Every set of a member, newest first.
///
/// # Errors
/// When the database is away.
pub async fn of_member(scope: &mut GymScope, member: MemberId) -> Result<Vec<StoredLift>, StoreError> {
    Ok(maxes::table
        .filter(maxes::gym_id.eq(scope.gym.0))
        .filter(maxes::member_id.eq(member))
        .order((maxes::set_on.desc(), maxes::id.desc()))
        .select(StoredLift::as_select())
        .load(scope.connection())
        .await?)
}

/// Puts a set on record; gives the key with which whoever entered it can take it back.
///
/// # Errors
/// When the database is away, or the gym has no such member.
pub async fn add(scope: &mut GymScope, member: MemberId, new: &NewLift<'_>) -> Result<String, StoreError> {
    let known: Option<MemberId> = members::table
        .filter(members::gym_id.eq(scope.gym.0))
        .filter(members::id.eq(member))
        .select(members::id)
        .first(scope.connection())
        .await
        .optional()?;
    let member = known.ok_or(StoreError::NotFound("member"))?;
    let key = removals::key();
    insert(scope, &[(member, *new)], Some(&key)).await?;
    Ok(key)
}

/// Puts sets on record under a key that was made where they were entered: what arrives twice is there once. Each is taken back by the key with
/// its number at the end.
///
/// # Errors
/// When the database is away, or a member has left meanwhile.
pub async fn add_once(
    scope: &mut GymScope,
    new: &[(MemberId, NewLift<'_>)],
    key: &str,
) -> Result<(), StoreError> {
    for (n, (member, new)) in new.iter().enumerate() {
        let undo = format!("{key}-{n}");
        let known: i64 = maxes::table
            .filter(maxes::gym_id.eq(scope.gym.0))
            .filter(maxes::undo_key.eq(&undo))
            .count()
            .get_result(scope.connection())
            .await?;
        if known == 0 {
            insert(scope, &[(*member, *new)], Some(&undo)).await?;
        }
    }
    Ok(())
}

/// The sets that were entered for a day, newest first, each with the key that takes it back.
///
/// # Errors
/// When the database is away.
pub async fn entered_on(
    scope: &mut GymScope,
    day: NaiveDate,
) -> Result<Vec<(StoredLift, String)>, StoreError> {
    let rows: Vec<(StoredLift, Option<String>)> = maxes::table
        .filter(maxes::gym_id.eq(scope.gym.0))
        .filter(maxes::set_on.eq(day))
        .filter(maxes::undo_key.is_not_null())
        .order(maxes::id.desc())
        .select((StoredLift::as_select(), maxes::undo_key))
        .load(scope.connection())
        .await?;
    Ok(rows.into_iter().filter_map(|(lift, key)| Some((lift, key?))).collect())
}

/// Whatever is on record of lifts that some members have done, newest first.
///
/// # Errors
/// When the database is away.
pub async fn of_members(
    scope: &mut GymScope,
    members: &[MemberId],
    lifts: &[&str],
) -> Result<Vec<StoredLift>, StoreError> {
    Ok(maxes::table
        .filter(maxes::gym_id.eq(scope.gym.0))
        .filter(maxes::member_id.eq_any(members))
        .filter(maxes::lift.eq_any(lifts))
        .order((maxes::set_on.desc(), maxes::id.desc()))
        .select(StoredLift::as_select())
        .load(scope.connection())
        .await?)
}

/// The sets since a day that were entered beside what was asked, oldest first, with whose they are.
///
/// # Errors
/// When the database is away.
pub async fn beside_what_was_asked(
    scope: &mut GymScope,
    since: NaiveDate,
) -> Result<Vec<SetBeside>, StoreError> {
    let of_member = members::gym_id.eq(maxes::gym_id).and(members::id.eq(maxes::member_id));
    let rows: Vec<(StoredLift, String)> = maxes::table
        .inner_join(members::table.on(of_member))
        .filter(maxes::gym_id.eq(scope.gym.0))
        .filter(maxes::set_on.ge(since))
        .filter(maxes::asked_grams.is_not_null())
        .order((maxes::set_on, maxes::id))
        .select((StoredLift::as_select(), members::name))
        .load(scope.connection())
        .await?;
    let beside = |(set, who): (StoredLift, String)| {
        let of = |grams: i32, reps: i32| Set {
            load: Kilograms::from_grams(grams.unsigned_abs()),
            reps: reps.unsigned_abs(),
        };
        Some(SetBeside {
            day: set.set_on,
            lift: MovementId::new(&set.lift),
            who,
            asked: of(set.asked_grams?, set.asked_reps?),
            done: of(set.grams, set.reps),
            missed: set.missed,
        })
    };
    Ok(rows.into_iter().filter_map(beside).collect())
}

/// Puts several sets on record, all or none.
///
/// # Errors
/// When the database is away, or a member has left meanwhile.
pub async fn add_all(scope: &mut GymScope, new: &[(MemberId, NewLift<'_>)]) -> Result<(), StoreError> {
    insert(scope, new, None).await
}

pub(crate) async fn insert(
    scope: &mut GymScope,
    new: &[(MemberId, NewLift<'_>)],
    undo: Option<&str>,
) -> Result<(), StoreError> {
    let row = |(member, new): &(MemberId, NewLift<'_>)| {
        (
            maxes::gym_id.eq(scope.gym.0),
            maxes::member_id.eq(*member),
            maxes::lift.eq(new.lift.to_owned()),
            maxes::grams.eq(new.load.grams() as i32),
            maxes::set_on.eq(new.set_on),
            maxes::source.eq(new.source.name()),
            maxes::reps.eq(new.reps as i32),
            maxes::rpe.eq(new.rpe.map(|rpe| rpe as f32)),
            maxes::missed.eq(new.missed),
            maxes::undo_key.eq(undo.map(str::to_owned)),
            maxes::kept.eq(new.kept),
            maxes::asked_grams.eq(new.asked.map(|asked| asked.load.grams() as i32)),
            maxes::asked_reps.eq(new.asked.map(|asked| asked.reps as i32)),
        )
    };
    let rows: Vec<_> = new.iter().map(row).collect();
    // PostgreSQL takes 65,535 values in one statement.
    for rows in rows.chunks(2_000) {
        diesel::insert_into(maxes::table).values(rows.to_vec()).execute(scope.connection()).await?;
    }
    Ok(())
}

pub(crate) async fn insert_kept(scope: &mut GymScope, kept: &KeptLift) -> Result<(), StoreError> {
    diesel::insert_into(maxes::table)
        .values((
            maxes::gym_id.eq(scope.gym.0),
            maxes::member_id.eq(kept.member_id),
            maxes::lift.eq(&kept.lift),
            maxes::grams.eq(kept.grams),
            maxes::set_on.eq(kept.set_on),
            maxes::source.eq(&kept.source),
            maxes::reps.eq(kept.reps),
            maxes::rpe.eq(kept.rpe),
            maxes::missed.eq(kept.missed),
            maxes::kept.eq(kept.kept),
            maxes::asked_grams.eq(kept.asked.map(|(grams, _)| grams)),
            maxes::asked_reps.eq(kept.asked.map(|(_, reps)| reps)),
        ))
        .execute(scope.connection())
        .await?;
    Ok(())
}

/// The set that was entered with a key on a day.
///
/// # Errors
/// When the database is away.
pub async fn entered(
    scope: &mut GymScope,
    day: NaiveDate,
    key: &str,
) -> Result<Option<StoredLift>, StoreError> {
    Ok(maxes::table
        .filter(maxes::gym_id.eq(scope.gym.0))
        .filter(maxes::set_on.eq(day))
        .filter(maxes::undo_key.eq(key))
        .select(StoredLift::as_select())
        .first(scope.connection())
        .await
        .optional()?)
}

/// Takes back what was entered with a key on a day; without the key nothing is taken back.
///
/// # Errors
/// When the database is away, or nothing was entered with that key on that day.
pub async fn take_back(scope: &mut GymScope, day: NaiveDate, key: &str) -> Result<(), StoreError> {
    let row = maxes::table
        .filter(maxes::gym_id.eq(scope.gym.0))
        .filter(maxes::set_on.eq(day))
        .filter(maxes::undo_key.eq(key));
    match diesel::delete(row).execute(scope.connection()).await? {
        0 => Err(StoreError::NotFound("entry")),
        _ => Ok(()),
    }
}

/// Notes what a coach says of loads being counted from a member's set: yes, no, or that it is asked again.
///
/// # Errors
/// When the database is away, or the member has no such set.
pub async fn count_from(
    scope: &mut GymScope,
    member: MemberId,
    id: LiftId,
    kept: Option<bool>,
) -> Result<(), StoreError> {
    let row = maxes::table
        .filter(maxes::gym_id.eq(scope.gym.0))
        .filter(maxes::member_id.eq(member))
        .filter(maxes::id.eq(id));
    match diesel::update(row).set(maxes::kept.eq(kept)).execute(scope.connection()).await? {
        0 => Err(StoreError::NotFound("lift")),
        _ => Ok(()),
    }
}

/// Takes a member's set off the record; gives the key with which it comes back.
///
/// # Errors
/// When the database is away, or the member has no such set.
pub async fn remove(scope: &mut GymScope, member: MemberId, id: LiftId) -> Result<String, StoreError> {
    let row = maxes::table
        .filter(maxes::gym_id.eq(scope.gym.0))
        .filter(maxes::member_id.eq(member))
        .filter(maxes::id.eq(id));
    let gone: Option<StoredLift> = diesel::delete(row)
        .returning(StoredLift::as_select())
        .get_result(scope.connection())
        .await
        .optional()?;
    let StoredLift { lift, grams, set_on, source, reps, rpe, missed, kept, asked_grams, asked_reps, .. } =
        gone.ok_or(StoreError::NotFound("lift"))?;
    let asked = asked_grams.zip(asked_reps);
    let gone = KeptLift { member_id: member, lift, grams, set_on, source, reps, rpe, missed, kept, asked };
    removals::keep(scope, Some(member), &Removed::Lift(gone)).await
}
