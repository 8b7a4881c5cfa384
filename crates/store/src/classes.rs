//! Classes of a day, and who is booked into them.

use std::collections::BTreeMap;

use chrono::{NaiveDate, NaiveTime};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;

use crate::removals::{self, Removed};
use crate::rows::StoredClass;
use crate::schema::{bookings, classes, members};
use crate::{ClassId, GymScope, MemberId, StoreError};

/// How rows say that somebody is booked, and nothing else was said.
const BOOKED: &str = "booked";
/// How rows say that somebody who was booked is not here.
pub(crate) const AWAY: &str = "away";
/// How rows say that somebody came without having been booked.
const JOINED: &str = "joined";

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
    scope: &mut GymScope,
    from: NaiveDate,
    to: NaiveDate,
) -> Result<Vec<StoredClass>, StoreError> {
    let rows: Vec<(ClassId, NaiveDate, NaiveTime, i32, String)> = classes::table
        .filter(classes::gym_id.eq(scope.gym.0))
        .filter(classes::day.between(from, to))
        .order((classes::day, classes::starts))
        .select((classes::id, classes::day, classes::starts, classes::minutes, classes::coach))
        .load(scope.connection())
        .await?;
    let ids: Vec<ClassId> = rows.iter().map(|row| row.0).collect();
    let booked: Vec<(ClassId, MemberId, String)> = bookings::table
        .filter(bookings::gym_id.eq(scope.gym.0))
        .filter(bookings::class_id.eq_any(&ids))
        .order(bookings::id)
        .select((bookings::class_id, bookings::member_id, bookings::came))
        .load(scope.connection())
        .await?;
    let mut by_class: BTreeMap<ClassId, Vec<(MemberId, String)>> = BTreeMap::new();
    for (class, member, came) in booked {
        by_class.entry(class).or_default().push((member, came));
    }
    let class = |(id, day, starts, minutes, coach): (ClassId, NaiveDate, NaiveTime, i32, String)| {
        let booked = by_class.remove(&id).unwrap_or_default();
        let who = |came: &str| booked.iter().filter(|(_, known)| known == came).map(|(id, _)| *id).collect();
        let (away, joined) = (who(AWAY), who(JOINED));
        let booked = booked.into_iter().map(|(id, _)| id).collect();
        StoredClass { id, day, starts, minutes: minutes.unsigned_abs(), coach, booked, away, joined }
    };
    Ok(rows.into_iter().map(class).collect())
}

/// The class that starts at a time of a day.
///
/// # Errors
/// When the database is away.
pub async fn at(
    scope: &mut GymScope,
    day: NaiveDate,
    starts: NaiveTime,
) -> Result<Option<StoredClass>, StoreError> {
    Ok(between(scope, day, day).await?.into_iter().find(|class| class.starts == starts))
}

/// Days and starts of the classes that a member is booked into and was not away from, in order.
///
/// # Errors
/// When the database is away.
pub async fn of_member(
    scope: &mut GymScope,
    member: MemberId,
) -> Result<Vec<(NaiveDate, NaiveTime)>, StoreError> {
    let booked = bookings::table
        .filter(bookings::gym_id.eq(scope.gym.0))
        .filter(bookings::member_id.eq(member))
        .filter(bookings::came.ne(AWAY))
        .select(bookings::class_id);
    Ok(classes::table
        .filter(classes::gym_id.eq(scope.gym.0))
        .filter(classes::id.eq_any(booked))
        .order((classes::day, classes::starts))
        .select((classes::day, classes::starts))
        .load(scope.connection())
        .await?)
}

/// Makes a class, or changes the one that starts then.
///
/// # Errors
/// When the database is away.
pub async fn put(scope: &mut GymScope, class: &NewClass) -> Result<ClassId, StoreError> {
    let minutes = class.minutes as i32;
    Ok(diesel::insert_into(classes::table)
        .values((
            classes::gym_id.eq(scope.gym.0),
            classes::day.eq(class.day),
            classes::starts.eq(class.starts),
            classes::minutes.eq(minutes),
            classes::coach.eq(&class.coach),
        ))
        .on_conflict((classes::gym_id, classes::day, classes::starts))
        .do_update()
        .set((classes::minutes.eq(minutes), classes::coach.eq(&class.coach)))
        .returning(classes::id)
        .get_result(scope.connection())
        .await?)
}

/// A class of before, with those of its bookings whose members are still there.
pub(crate) async fn insert(scope: &mut GymScope, class: &StoredClass) -> Result<(), StoreError> {
    let id: ClassId = diesel::insert_into(classes::table)
        .values((
            classes::gym_id.eq(scope.gym.0),
            classes::day.eq(class.day),
            classes::starts.eq(class.starts),
            classes::minutes.eq(class.minutes as i32),
            classes::coach.eq(&class.coach),
        ))
        .returning(classes::id)
        .get_result(scope.connection())
        .await?;
    write(scope, id, class).await
}

/// Takes a class off the day, with its bookings; gives the key with which it comes back. What was decided about its hour waits
/// for it.
///
/// # Errors
/// When the database is away, or there is no such class.
pub async fn remove(scope: &mut GymScope, class: &StoredClass) -> Result<String, StoreError> {
    let row = classes::table.filter(classes::gym_id.eq(scope.gym.0)).filter(classes::id.eq(class.id));
    match diesel::delete(row).execute(scope.connection()).await? {
        0 => Err(StoreError::NotFound("class")),
        _ => removals::keep(scope, None, &Removed::Class(class.clone())).await,
    }
}

/// A class of the gym, locked: whoever else changes who comes to it waits.
async fn locked(scope: &mut GymScope, class: ClassId) -> Result<StoredClass, StoreError> {
    let row = classes::table.filter(classes::gym_id.eq(scope.gym.0)).filter(classes::id.eq(class));
    let row = row.select((classes::day, classes::starts)).for_update();
    let locked: Option<(NaiveDate, NaiveTime)> = row.first(scope.connection()).await.optional()?;
    let (day, starts) = locked.ok_or(StoreError::NotFound("class"))?;
    // Read once it is ours: who waited sees what the other one wrote.
    at(scope, day, starts).await?.ok_or(StoreError::NotFound("class"))
}

/// Who of these is a member of the gym, by name.
async fn of_gym(scope: &mut GymScope, who: &[MemberId]) -> Result<Vec<MemberId>, StoreError> {
    Ok(members::table
        .filter(members::gym_id.eq(scope.gym.0))
        .filter(members::id.eq_any(who))
        .order(members::name)
        .select(members::id)
        .load(scope.connection())
        .await?)
}

/// Writes who is booked into a class, in their order, and how they came; who is no member of the gym is passed over.
async fn write(scope: &mut GymScope, id: ClassId, class: &StoredClass) -> Result<(), StoreError> {
    let known = of_gym(scope, &class.booked).await?;
    let came = |member: &MemberId| match member {
        _ if class.away.contains(member) => AWAY,
        _ if class.joined.contains(member) => JOINED,
        _ => BOOKED,
    };
    let booked = class.booked.iter().filter(|member| known.contains(member));
    let rows: Vec<_> = booked
        .map(|member| {
            (
                bookings::gym_id.eq(scope.gym.0),
                bookings::class_id.eq(id),
                bookings::member_id.eq(*member),
                bookings::came.eq(came(member)),
            )
        })
        .collect();
    let before = bookings::table.filter(bookings::gym_id.eq(scope.gym.0)).filter(bookings::class_id.eq(id));
    diesel::delete(before).execute(scope.connection()).await?;
    diesel::insert_into(bookings::table).values(rows).execute(scope.connection()).await?;
    Ok(())
}

/// Books exactly these members of the gym into a class; ids of nobody are passed over. Of two sets sent at once the later one stands
/// as it was sent: they never become a third. Who is here stays as it was.
///
/// # Errors
/// When the database is away, or the gym has no such class.
pub async fn book(scope: &mut GymScope, class: ClassId, who: &[MemberId]) -> Result<(), StoreError> {
    let mut class = locked(scope, class).await?;
    class.booked = of_gym(scope, who).await?;
    write(scope, class.id, &class).await
}

/// Says who of a class is away, and who is here without having been booked ([`StoredClass::comes`]).
///
/// # Errors
/// When the database is away, or the gym has no such class.
pub async fn here(
    scope: &mut GymScope,
    class: ClassId,
    (away, joined): (&[MemberId], &[MemberId]),
) -> Result<(), StoreError> {
    let mut class = locked(scope, class).await?;
    class.comes(away, joined);
    write(scope, class.id, &class).await
}
