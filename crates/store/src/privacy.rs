//! What others see of a member's name, what they have agreed to, and for how long what they spare is kept.

use chrono::{DateTime, Days, NaiveDate, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use lantern_core::gym::Gym;

use crate::name_shown::NameShown;
use crate::schema::{consents, members};
use crate::{GymScope, MemberId, StoreError};

/// Chooses what the wall shows of a member's name.
///
/// # Errors
/// When the database is away, or the gym has no such member.
pub async fn show_name(scope: &mut GymScope, member: MemberId, shown: NameShown) -> Result<(), StoreError> {
    let row = members::table.filter(members::gym_id.eq(scope.gym.0)).filter(members::id.eq(member));
    match diesel::update(row).set(members::shown.eq(shown.key())).execute(scope.connection()).await? {
        0 => Err(StoreError::NotFound("member")),
        _ => Ok(()),
    }
}

/// That a member has agreed to what they spare being kept, as noted.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Consent {
    /// Who has noted it.
    pub noted_by: String,
    /// When.
    pub given_at: DateTime<Utc>,
    /// When it was taken back.
    pub withdrawn_at: Option<DateTime<Utc>>,
}

/// What a member has agreed to, newest first.
///
/// # Errors
/// When the database is away.
pub async fn consents(scope: &mut GymScope, member: MemberId) -> Result<Vec<Consent>, StoreError> {
    let rows: Vec<(String, DateTime<Utc>, Option<DateTime<Utc>>)> = consents::table
        .filter(consents::gym_id.eq(scope.gym.0))
        .filter(consents::member_id.eq(member))
        .order(consents::id.desc())
        .select((consents::noted_by, consents::given_at, consents::withdrawn_at))
        .load(scope.connection())
        .await?;
    let consent = |(noted_by, given_at, withdrawn_at)| Consent { noted_by, given_at, withdrawn_at };
    Ok(rows.into_iter().map(consent).collect())
}

/// Notes that a member agrees; one that stands already is not noted again.
///
/// # Errors
/// When the database is away, or the gym has no such member.
pub async fn agree(scope: &mut GymScope, member: MemberId, noted_by: &str) -> Result<(), StoreError> {
    if consents(scope, member).await?.iter().any(|consent| consent.withdrawn_at.is_none()) {
        return Ok(());
    }
    diesel::insert_into(consents::table)
        .values((
            consents::gym_id.eq(scope.gym.0),
            consents::member_id.eq(member),
            consents::noted_by.eq(noted_by),
        ))
        .execute(scope.connection())
        .await?;
    Ok(())
}

/// Takes it back: what they spare, and the notes about them, go with it.
///
/// # Errors
/// When the database is away, or the gym has no such member.
pub async fn withdraw(scope: &mut GymScope, member: MemberId) -> Result<(), StoreError> {
    let standing = consents::table
        .filter(consents::gym_id.eq(scope.gym.0))
        .filter(consents::member_id.eq(member))
        .filter(consents::withdrawn_at.is_null());
    diesel::update(standing).set(consents::withdrawn_at.eq(Utc::now())).execute(scope.connection()).await?;
    crate::members::change_profile(scope, member, |profile| {
        forget(profile);
        Ok(())
    })
    .await
}

fn forget(profile: &mut serde_json::Value) {
    profile["limits"] = serde_json::json!([]);
    profile["notes"] = serde_json::json!("");
}

/// Forgets what members spare, and notes about them, where nobody has said or looked at them for as long as the gym keeps them; how many
/// members it was. A gym that has set no time keeps them.
///
/// # Errors
/// When the database is away.
pub async fn forget_old(scope: &mut GymScope, gym: &Gym, today: NaiveDate) -> Result<usize, StoreError> {
    let Some(months) = gym.limits_kept_months.filter(|months| *months > 0) else { return Ok(0) };
    let before = today - Days::new(u64::from(months) * 30);
    let old: Vec<MemberId> = members::table
        .filter(members::gym_id.eq(scope.gym.0))
        .filter(members::limits_on.lt(before))
        .select(members::id)
        .load(scope.connection())
        .await?;
    let mut forgotten = 0;
    for member in old {
        let mut held = false;
        crate::members::change_profile(scope, member, |profile| {
            let limits = profile["limits"].as_array().is_some_and(|limits| !limits.is_empty());
            held = limits || profile["notes"].as_str().is_some_and(|notes| !notes.is_empty());
            forget(profile);
            Ok(())
        })
        .await?;
        forgotten += usize::from(held);
    }
    Ok(forgotten)
}
