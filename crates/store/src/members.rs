//! Members with the maxes that their gym counts from.

use std::collections::BTreeMap;
use std::sync::Arc;

use chrono::{Days, NaiveDate, Utc};
use diesel::prelude::*;
use diesel::sql_types::{Array, BigInt, Date, Integer, Jsonb, Nullable, Text};
use diesel_async::RunQueryDsl;
use lantern_core::book::{OfGym, Told, ToldByClass};
use lantern_core::gym::Gym;
use lantern_core::limits::{self, Limit, Looked};
use lantern_core::member::Member;
use lantern_core::movement::MovementId;
use lantern_core::strength::{RECENT_DAYS, Record, Source, choose_max};

use crate::lifts::{self, NewLift, StoredLift};
use crate::name_shown::NameShown;
use crate::schema::{maxes, members, pieces};
use crate::{GymScope, MemberId, StoreError};

/// The day since which a member has been away, beside the rest of the profile.
const AWAY_SINCE: &str = "away_since";

/// A member's row.
#[derive(Clone, Debug)]
pub struct StoredMember {
    /// The row's id.
    pub id: MemberId,
    /// The member, with maxes aged to `today`.
    pub member: Member,
    /// What the wall shows of their name.
    pub shown: NameShown,
}

/// All members of a gym by name, with the maxes that its policy counts from on `today`.
///
/// # Errors
/// When the database is away or a profile cannot be read.
pub async fn of_gym(
    scope: &mut GymScope,
    settings: &Gym,
    today: NaiveDate,
) -> Result<Vec<StoredMember>, StoreError> {
    some(scope, settings, today, None).await
}

/// As [`of_gym`], or those with these ids; with what results before a day have taught, where the gym plans with that.
///
/// # Errors
/// When the database is away or a profile cannot be read.
pub async fn planned_for(
    scope: &mut GymScope,
    settings: &Gym,
    (today, day): (NaiveDate, NaiveDate),
    ids: Option<&[MemberId]>,
) -> Result<Vec<StoredMember>, StoreError> {
    let day = settings.learns.then_some(day);
    let rows = rows(scope, (today, day), ids).await?;
    let classes = rows.iter().find_map(|row| row.classes.clone());
    let classes: Vec<ToldByClass> =
        classes.map_or_else(|| Ok(Vec::new()), serde_json::from_value).map_err(unreadable)?;
    let of_gym = day.map(|day| (OfGym::new(&classes, day), day));
    let with_told = |row: WithSets| {
        let told = row.told.clone();
        let mut stored = row.stored(settings, today)?;
        if let Some((of_gym, day)) = &of_gym {
            let told: Vec<Told> =
                told.map_or_else(|| Ok(Vec::new()), serde_json::from_value).map_err(unreadable)?;
            let before: Vec<Told> = told.into_iter().filter(|told| told.day < *day).collect();
            stored.member.learned = of_gym.of_member(&stored.member, &before, *day).map(Arc::new);
        }
        Ok(stored)
    };
    rows.into_iter().map(with_told).collect()
}

/// As [`of_gym`], only those with these ids.
///
/// # Errors
/// When the database is away or a profile cannot be read.
pub async fn with_ids(
    scope: &mut GymScope,
    settings: &Gym,
    today: NaiveDate,
    ids: &[MemberId],
) -> Result<Vec<StoredMember>, StoreError> {
    some(scope, settings, today, Some(ids)).await
}

/// Members with those of their sets that can count, as one query brings them: recent ones, and of each kind those of its newest day ([`RECENT_DAYS`]). `$2` is
/// today, `$3` the ids or nothing, `$4` the days that are recent. With what results before the day `$5` tell, where it is one: of each, and with the first
/// of them what the gym's classes of `$6` days tell.
const WITH_SETS: &str = "
select m.id, m.name, m.twin, m.profile, m.shown, coalesce((
    select jsonb_agg(jsonb_build_object('id', x.id, 'member_id', m.id, 'lift', x.lift, 'grams', x.grams, 'set_on', x.set_on,
        'source', x.source, 'reps', x.reps, 'rpe', x.rpe, 'missed', x.missed, 'kept', x.kept) order by x.set_on desc, x.id desc)
    from (select s.*, rank() over (partition by s.lift, s.source, s.reps, s.rpe, s.missed, s.kept order by s.set_on desc) as of_kind
          from maxes s where s.gym_id = m.gym_id and s.member_id = m.id) x
    where x.set_on >= $2 - $4 or x.of_kind = 1), '[]') as sets,
    case when $5 is not null then m.told end as told,
    case when $5 is not null and row_number() over (order by m.name, m.twin) = 1 then (
        select jsonb_agg(p.told order by p.day, p.id) from pieces p
        where p.gym_id = m.gym_id and p.told is not null and p.day < $5 and p.day >= $5 - $6) end as classes
from members m where m.gym_id = $1 and ($3 is null or m.id = any($3)) order by m.name, m.twin";

#[derive(diesel::QueryableByName)]
struct WithSets {
    #[diesel(sql_type = BigInt)]
    id: MemberId,
    #[diesel(sql_type = Text)]
    name: String,
    #[diesel(sql_type = Integer)]
    twin: i32,
    #[diesel(sql_type = Jsonb)]
    profile: serde_json::Value,
    #[diesel(sql_type = Text)]
    shown: String,
    #[diesel(sql_type = Jsonb)]
    sets: serde_json::Value,
    #[diesel(sql_type = Nullable<Jsonb>)]
    told: Option<serde_json::Value>,
    #[diesel(sql_type = Nullable<Jsonb>)]
    classes: Option<serde_json::Value>,
}

/// Days of which a gym's classes are looked at: what they told has faded by half.
const CLASSES_DAYS: i32 = 120;

/// What a gym's classes before a day have taught of it.
///
/// # Errors
/// When the database is away or what was told cannot be read.
pub async fn learned_of_gym(scope: &mut GymScope, day: NaiveDate) -> Result<OfGym, StoreError> {
    let told: Vec<Option<serde_json::Value>> = pieces::table
        .filter(pieces::gym_id.eq(scope.gym.0))
        .filter(pieces::told.is_not_null())
        .filter(pieces::day.lt(day))
        .filter(pieces::day.ge(day - Days::new(CLASSES_DAYS as u64)))
        .order((pieces::day, pieces::id))
        .select(pieces::told)
        .load(scope.connection())
        .await?;
    let classes = told.into_iter().flatten().map(serde_json::from_value).collect::<Result<Vec<_>, _>>();
    Ok(OfGym::new(&classes.map_err(unreadable)?, day))
}

async fn some(
    scope: &mut GymScope,
    settings: &Gym,
    today: NaiveDate,
    ids: Option<&[MemberId]>,
) -> Result<Vec<StoredMember>, StoreError> {
    let rows = rows(scope, (today, None), ids).await?;
    rows.into_iter().map(|row| row.stored(settings, today)).collect()
}

async fn rows(
    scope: &mut GymScope,
    (today, day): (NaiveDate, Option<NaiveDate>),
    ids: Option<&[MemberId]>,
) -> Result<Vec<WithSets>, StoreError> {
    let query = diesel::sql_query(WITH_SETS)
        .bind::<BigInt, _>(scope.gym.0)
        .bind::<Date, _>(today)
        .bind::<Nullable<Array<BigInt>>, _>(ids)
        .bind::<Integer, _>(RECENT_DAYS as i32)
        .bind::<Nullable<Date>, _>(day)
        .bind::<Integer, _>(CLASSES_DAYS);
    Ok(query.load(scope.connection()).await?)
}

impl WithSets {
    fn stored(self, settings: &Gym, today: NaiveDate) -> Result<StoredMember, StoreError> {
        let Self { id, name, twin, profile, shown, sets, .. } = self;
        let away = profile[AWAY_SINCE].as_str().and_then(|day| day.parse::<NaiveDate>().ok());
        let mut member: Member = serde_json::from_value(profile).map_err(unreadable)?;
        member.name = called(&name, twin);
        member.away_days = away.map(|since| (today - since).num_days().max(0) as u32);
        let sets: Vec<StoredLift> = serde_json::from_value(sets).map_err(unreadable)?;
        let mut records: BTreeMap<MovementId, Vec<Record>> = BTreeMap::new();
        for set in sets {
            records.entry(MovementId::new(&set.lift)).or_default().push(set.record(today));
        }
        let chosen = |of_lift: &[Record]| choose_max(of_lift, settings.max_policy, settings.formula);
        member.maxes =
            records.into_iter().filter_map(|(lift, records)| Some((lift, chosen(&records)?))).collect();
        Ok(StoredMember { id, member, shown: NameShown::named(&shown).unwrap_or_default() })
    }
}

/// What a member is called: by their name, the second of it with a number.
pub(crate) fn called(name: &str, twin: i32) -> String {
    if twin > 1 { format!("{name} ({twin})") } else { name.to_owned() }
}

/// The name and the number of what a member is called.
fn parted(called: &str) -> (&str, i32) {
    let number = called.strip_suffix(')').and_then(|open| open.rsplit_once(" ("));
    let number = number.and_then(|(name, twin)| Some((name, twin.parse().ok().filter(|twin| *twin > 1)?)));
    number.unwrap_or((called, 1))
}

/// What all members of a gym are called, with their ids.
///
/// # Errors
/// When the database is away.
pub async fn called_by_id(scope: &mut GymScope) -> Result<Vec<(MemberId, String)>, StoreError> {
    let rows: Vec<(MemberId, String, i32)> = members::table
        .filter(members::gym_id.eq(scope.gym.0))
        .order(members::id)
        .select((members::id, members::name, members::twin))
        .load(scope.connection())
        .await?;
    Ok(rows.into_iter().map(|(id, name, twin)| (id, called(&name, twin))).collect())
}

/// Has a member called otherwise from now on. Whatever is on file about them, and whatever is decided, stays theirs; a name that somebody has
/// already is told apart by a number. Gives what they are called.
///
/// # Errors
/// When the database is away, or the gym has no such member.
pub async fn rename(scope: &mut GymScope, id: MemberId, name: &str) -> Result<String, StoreError> {
    // A number behind a name tells two apart, so that nobody is given one by name.
    let (name, _) = parted(name);
    let of_gym = members::table.filter(members::gym_id.eq(scope.gym.0));
    let taken: Vec<i32> = of_gym
        .filter(members::name.eq(name))
        .filter(members::id.ne(id))
        .select(members::twin)
        .load(scope.connection())
        .await?;
    let twin = (1..).find(|twin| !taken.contains(twin)).unwrap_or(1);
    let row = of_gym.filter(members::id.eq(id));
    let changed = diesel::update(row)
        .set((members::name.eq(name), members::twin.eq(twin)))
        .execute(scope.connection())
        .await?;
    if changed == 0 {
        return Err(StoreError::NotFound("member"));
    }
    Ok(called(name, twin))
}

/// Writes what a roster says: new members, and news of those whom the gym knows by name; all of it or nothing. Maxes are added to
/// the history unless the newest on record is the same. What a roster says nothing of stays: breaks, and limits that a coach
/// has looked at.
///
/// # Errors
/// When the database is away.
pub async fn take_in(scope: &mut GymScope, people: &[Member], set_on: NaiveDate) -> Result<(), StoreError> {
    take_in_all(scope, people, set_on, Source::Stated).await
}

async fn take_in_all(
    scope: &mut GymScope,
    people: &[Member],
    set_on: NaiveDate,
    source: Source,
) -> Result<(), StoreError> {
    let names: Vec<&str> = people.iter().map(|member| parted(&member.name).0).collect();
    let known: Vec<(MemberId, String, i32, serde_json::Value)> = members::table
        .filter(members::gym_id.eq(scope.gym.0))
        .filter(members::name.eq_any(&names))
        .order(members::id)
        .select((members::id, members::name, members::twin, members::profile))
        .for_update()
        .load(scope.connection())
        .await?;
    let known: BTreeMap<String, (MemberId, serde_json::Value)> =
        known.into_iter().map(|(id, name, twin, profile)| (called(&name, twin), (id, profile))).collect();
    let ids: Vec<MemberId> = known.values().map(|(id, _)| *id).collect();
    let history: Vec<StoredLift> = maxes::table
        .filter(maxes::gym_id.eq(scope.gym.0))
        .filter(maxes::member_id.eq_any(&ids))
        .order((maxes::set_on.desc(), maxes::id.desc()))
        .select(StoredLift::as_select())
        .load(scope.connection())
        .await?;
    let mut sets: Vec<(MemberId, NewLift<'_>)> = Vec::new();
    let new_set = |lift: &MovementId, max: &lantern_core::member::Max| (lift.clone(), max.value);
    let mut fresh: Vec<&Member> = Vec::new();
    let mut lifted: Vec<(MemberId, MovementId, lantern_core::units::Kilograms)> = Vec::new();
    for member in people {
        let Some((id, before)) = known.get(&member.name) else {
            fresh.push(member);
            continue;
        };
        let mut profile = profile_of(member)?;
        profile[AWAY_SINCE] = before[AWAY_SINCE].clone();
        let looked: Member = serde_json::from_value(before.clone()).map_err(unreadable)?;
        let limits: Vec<Limit> = member
            .limits
            .iter()
            .map(|limit| {
                let known = looked.limits.iter().find(|known| known.text == limit.text);
                known.cloned().unwrap_or_else(|| limit.clone())
            })
            .collect();
        profile["limits"] = serde_json::to_value(limits).map_err(unreadable)?;
        let row = members::table.filter(members::gym_id.eq(scope.gym.0)).filter(members::id.eq(*id));
        diesel::update(row).set(members::profile.eq(profile)).execute(scope.connection()).await?;
        for (lift, max) in &member.maxes {
            let newest = history.iter().find(|known| known.member_id == *id && known.lift == lift.as_str());
            if newest.is_none_or(|known| known.grams.unsigned_abs() != max.value.grams()) {
                let (lift, load) = new_set(lift, max);
                lifted.push((*id, lift, load));
            }
        }
    }
    let rows: Result<Vec<_>, StoreError> = fresh
        .iter()
        .map(|member| {
            let (name, twin) = parted(&member.name);
            Ok((
                members::gym_id.eq(scope.gym.0),
                members::name.eq(name.to_owned()),
                members::twin.eq(twin),
                members::profile.eq(profile_of(member)?),
            ))
        })
        .collect();
    let made: Vec<(MemberId, String, i32)> = diesel::insert_into(members::table)
        .values(rows?)
        .returning((members::id, members::name, members::twin))
        .get_results(scope.connection())
        .await?;
    for (id, name, twin) in made {
        let name = called(&name, twin);
        let maxes = fresh.iter().filter(|member| member.name == name).flat_map(|member| &member.maxes);
        lifted.extend(maxes.map(|(lift, max)| (id, lift.clone(), max.value)));
    }
    for (id, lift, load) in &lifted {
        let new = NewLift::single(lift.as_str(), *load, source, set_on);
        sets.push((*id, new));
    }
    lifts::insert(scope, &sets, None).await
}

/// Keeps what a member has answered beside what is known of them: figures in their profile, a lift on record.
///
/// # Errors
/// When the database is away, the gym has no such member, or nobody has so many limits.
pub async fn answer(
    scope: &mut GymScope,
    id: MemberId,
    said: Member,
    on: NaiveDate,
) -> Result<(), StoreError> {
    let maxes = said.maxes.clone();
    let change = |profile: &mut serde_json::Value| {
        let away = profile[AWAY_SINCE].clone();
        let mut member: Member = serde_json::from_value(profile.clone()).map_err(unreadable)?;
        member.answered(said);
        match member.limits.len() {
            n if n > limits::MOST => {
                return Err(StoreError::Refused(format!("{n} limits are more than {}", limits::MOST)));
            }
            _ => *profile = profile_of(&member)?,
        }
        profile[AWAY_SINCE] = away;
        Ok(())
    };
    let sets: Vec<(MemberId, NewLift<'_>)> = maxes
        .iter()
        .map(|(lift, max)| {
            let (lift, load, source) = (lift.as_str(), max.value, Source::Stated);
            (id, NewLift::single(lift, load, source, on))
        })
        .collect();
    change_profile(scope, id, change).await?;
    lifts::insert(scope, &sets, None).await
}

/// Notes since when a member has been away, or that they are back.
///
/// # Errors
/// When the database is away, or the gym has no such member.
pub async fn set_away(
    scope: &mut GymScope,
    id: MemberId,
    since: Option<NaiveDate>,
) -> Result<(), StoreError> {
    change_profile(scope, id, |profile| {
        profile[AWAY_SINCE] = serde_json::json!(since);
        Ok(())
    })
    .await
}

/// Adds limits to what a member spares, each a sentence; one that stands already is not added again.
///
/// # Errors
/// When the database is away, the gym has no such member, or nobody has so many limits.
pub async fn add_limits(scope: &mut GymScope, id: MemberId, new: &[Limit]) -> Result<(), StoreError> {
    change_limits(scope, id, |all| {
        for limit in new {
            if all.iter().all(|known| known.text != limit.text) {
                all.push(limit.clone());
            }
        }
        match all.len() {
            n if n > limits::MOST => {
                Err(StoreError::Refused(format!("{n} limits are more than {}", limits::MOST)))
            }
            _ => Ok(()),
        }
    })
    .await
}

/// Takes a limit off, by its words.
///
/// # Errors
/// When the database is away, or the gym has no such member.
pub async fn remove_limit(scope: &mut GymScope, id: MemberId, text: &str) -> Result<(), StoreError> {
    change_limits(scope, id, |all| {
        all.retain(|limit| limit.text != text);
        Ok(())
    })
    .await
}

/// Notes that a coach has looked at a limit, and what it stands for.
///
/// # Errors
/// When the database is away, or the gym has no such member.
pub async fn look_at_limit(
    scope: &mut GymScope,
    id: MemberId,
    text: &str,
    looked: Looked,
) -> Result<(), StoreError> {
    change_limits(scope, id, |all| {
        all.iter_mut()
            .filter(|limit| limit.text == text)
            .for_each(|limit| limit.looked = Some(looked.clone()));
        Ok(())
    })
    .await
}

async fn change_limits(
    scope: &mut GymScope,
    id: MemberId,
    change: impl FnOnce(&mut Vec<Limit>) -> Result<(), StoreError> + Send,
) -> Result<(), StoreError> {
    change_profile(scope, id, |profile| {
        let mut all: Vec<Limit> = serde_json::from_value(profile["limits"].clone()).unwrap_or_default();
        change(&mut all)?;
        profile["limits"] = serde_json::to_value(all).map_err(unreadable)?;
        Ok(())
    })
    .await
}

/// Changes a member's profile under a lock: two who change different things at once both have their way.
pub(crate) async fn change_profile(
    scope: &mut GymScope,
    id: MemberId,
    change: impl FnOnce(&mut serde_json::Value) -> Result<(), StoreError> + Send,
) -> Result<(), StoreError> {
    let row = members::table.filter(members::gym_id.eq(scope.gym.0)).filter(members::id.eq(id));
    let profile: Option<serde_json::Value> =
        row.select(members::profile).for_update().first(scope.connection()).await.optional()?;
    let mut profile = profile.ok_or(StoreError::NotFound("member"))?;
    let limits = profile["limits"].clone();
    change(&mut profile)?;
    // What somebody spares is as old as the last word on it.
    let said = (profile["limits"] != limits).then(|| members::limits_on.eq(Utc::now().date_naive()));
    diesel::update(row).set((members::profile.eq(profile), said)).execute(scope.connection()).await?;
    Ok(())
}

fn profile_of(member: &Member) -> Result<serde_json::Value, StoreError> {
    serde_json::to_value(Member { maxes: BTreeMap::new(), ..member.clone() }).map_err(unreadable)
}

pub(crate) fn unreadable(error: serde_json::Error) -> StoreError {
    StoreError::unreadable("member")(error)
}

/// Adds a member with their maxes, all set on `set_on`.
///
/// # Errors
/// When the database is away, or the gym has a member of that name.
pub async fn add(
    scope: &mut GymScope,
    member: &Member,
    set_on: NaiveDate,
    source: Source,
) -> Result<MemberId, StoreError> {
    let (name, twin) = parted(&member.name);
    let id: MemberId = diesel::insert_into(members::table)
        .values((
            members::gym_id.eq(scope.gym.0),
            members::name.eq(name),
            members::twin.eq(twin),
            members::profile.eq(profile_of(member)?),
        ))
        .returning(members::id)
        .get_result(scope.connection())
        .await?;
    let set = |(lift, max): (&MovementId, &lantern_core::member::Max)| (lift.clone(), max.value);
    let lifted: Vec<_> = member.maxes.iter().map(set).collect();
    let sets: Vec<(MemberId, NewLift<'_>)> = lifted
        .iter()
        .map(|(lift, load)| {
            let (lift, load) = (lift.as_str(), *load);
            (id, NewLift::single(lift, load, source, set_on))
        })
        .collect();
    lifts::insert(scope, &sets, None).await?;
    Ok(id)
}
