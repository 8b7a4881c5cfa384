//! Delays that grow with each failed attempt, by account and by address. What is kept is a digest: neither stands in the table.

use chrono::{DateTime, Duration, Utc};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use sha2::{Digest, Sha256};

use crate::schema::throttles;
use crate::{Store, StoreError};

/// Attempts that cost no time: anybody mistypes.
const FREE: i32 = 4;
/// An address is shared by a whole gym.
const FREE_OF_ADDRESS: i32 = 20;
/// Longest delay, in seconds.
const LONGEST: i64 = 15 * 60;
/// Hours after which failures are forgotten.
const FORGOTTEN: i64 = 12;

/// Whose attempts are counted.
#[derive(Clone, Copy, Debug)]
pub enum Whose<'a> {
    /// Those on an account, whether there is one or not.
    Account(&'a str),
    /// Those from an address.
    Address(&'a str),
}

impl Whose<'_> {
    fn digest(self) -> Vec<u8> {
        let text = match self {
            Self::Account(email) => format!("account {email}"),
            Self::Address(address) => format!("address {address}"),
        };
        Sha256::digest(text).to_vec()
    }

    const fn free(self) -> i32 {
        match self {
            Self::Account(_) => FREE,
            Self::Address(_) => FREE_OF_ADDRESS,
        }
    }
}

/// How long after the last of so many failures the next attempt is taken: nothing at first, then a second, and twice as long each time.
fn delay(failures: i32, free: i32) -> Duration {
    if failures < free {
        return Duration::zero();
    }
    let doubled = 1_i64.checked_shl((failures - free).unsigned_abs().min(20)).unwrap_or(LONGEST);
    Duration::seconds(doubled.min(LONGEST))
}

/// Counts an attempt before it is looked at; gives the seconds to wait where it comes too early, and then does not count it. Attempts on one account, or from
/// one address, are counted one after the other: many at once are as many.
///
/// # Errors
/// When the database is away.
pub async fn attempt(store: &Store, whose: Whose<'_>) -> Result<Option<i64>, StoreError> {
    let mut connection = store.connection().await?;
    let about = whose.digest();
    connection
        .transaction(async |connection| {
            diesel::sql_query("select pg_advisory_xact_lock(hashtextextended(encode($1, 'hex'), 1))")
                .bind::<diesel::sql_types::Bytea, _>(&about)
                .execute(connection)
                .await?;
            let now = Utc::now();
            let old = throttles::table.filter(throttles::last_at.lt(now - Duration::hours(FORGOTTEN)));
            diesel::delete(old).execute(connection).await?;
            let known: Option<(i32, DateTime<Utc>)> = throttles::table
                .filter(throttles::about.eq(&about))
                .select((throttles::failures, throttles::last_at))
                .first(connection)
                .await
                .optional()?;
            if let Some((failures, last)) = known {
                let left = last + delay(failures, whose.free()) - now;
                if left > Duration::zero() {
                    return Ok(Some(left.num_seconds() + 1));
                }
            }
            diesel::insert_into(throttles::table)
                .values((throttles::about.eq(&about), throttles::failures.eq(1), throttles::last_at.eq(now)))
                .on_conflict(throttles::about)
                .do_update()
                .set((throttles::failures.eq(throttles::failures + 1), throttles::last_at.eq(now)))
                .execute(connection)
                .await?;
            Ok(None)
        })
        .await
}

/// An attempt has succeeded: those on the account are forgotten, and of the address this one was no failure. Its others stay, so that whoever has one
/// account guesses at the others no faster.
///
/// # Errors
/// When the database is away.
pub async fn succeeded(store: &Store, account: &str, address: &str) -> Result<(), StoreError> {
    let mut connection = store.connection().await?;
    let of_account = throttles::about.eq(Whose::Account(account).digest());
    diesel::delete(throttles::table.filter(of_account)).execute(&mut connection).await?;
    let of_address = throttles::table.filter(throttles::about.eq(Whose::Address(address).digest()));
    diesel::delete(of_address.clone().filter(throttles::failures.le(1))).execute(&mut connection).await?;
    diesel::update(of_address)
        .set(throttles::failures.eq(throttles::failures - 1))
        .execute(&mut connection)
        .await?;
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_first_attempts_are_free_and_each_later_one_waits_twice_as_long() {
        let seconds: Vec<i64> = (0..12).map(|n| delay(n, FREE).num_seconds()).collect();
        assert_eq!(seconds, [0, 0, 0, 0, 1, 2, 4, 8, 16, 32, 64, 128]);
        assert_eq!(delay(1_000_000, FREE).num_seconds(), LONGEST);
        assert_eq!(delay(FREE_OF_ADDRESS - 1, FREE_OF_ADDRESS), Duration::zero());
    }
}
