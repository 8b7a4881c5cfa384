//! Who has opened the words of whose limits: a row a person, viewer and hour.

use chrono::{DateTime, DurationRound, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;

use crate::accounts::AccountId;
use crate::schema::health_views;
use crate::{GymScope, MemberId, StoreError};

/// Notes that somebody opens the words of members' limits, in the transaction that shows them.
///
/// # Errors
/// When the database is away: then nothing is shown.
pub async fn note(
    scope: &mut GymScope,
    (account, viewer): (AccountId, &str),
    members: &[MemberId],
) -> Result<(), StoreError> {
    if members.is_empty() {
        return Ok(());
    }
    let now = Utc::now();
    let hour = now.duration_trunc(chrono::Duration::hours(1)).unwrap_or(now);
    let rows: Vec<_> = members
        .iter()
        .map(|member| {
            (
                health_views::gym_id.eq(scope.gym.0),
                health_views::member_id.eq(*member),
                health_views::hour.eq(hour),
                health_views::account_id.eq(account.0),
                health_views::viewer.eq(viewer),
            )
        })
        .collect();
    diesel::insert_into(health_views::table)
        .values(rows)
        .on_conflict_do_nothing()
        .execute(scope.connection())
        .await?;
    Ok(())
}

/// Most views that are told.
const MOST_TOLD: i64 = 200;

/// Who has opened the words of a member's limits and in which hour, newest first.
///
/// # Errors
/// When the database is away.
pub async fn of_member(
    scope: &mut GymScope,
    member: MemberId,
) -> Result<Vec<(DateTime<Utc>, String)>, StoreError> {
    Ok(health_views::table
        .filter(health_views::gym_id.eq(scope.gym.0))
        .filter(health_views::member_id.eq(member))
        .order(health_views::hour.desc())
        .limit(MOST_TOLD)
        .select((health_views::hour, health_views::viewer))
        .load(scope.connection())
        .await?)
}
