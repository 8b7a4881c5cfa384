//! Codes that change every half minute: a second step at signing in, for whoever wants one.
//!
//! RFC 6238 with its usual choices, which every app for such codes knows: six digits, 30 seconds, HMAC-SHA-1 over 20 random bytes. A code of
//! the half minute before or after is taken too, since clocks differ; none is taken twice.

use chrono::Utc;
use diesel::dsl::sql;
use diesel::prelude::*;
use diesel::sql_types::{Array, Binary, Bool};
use diesel_async::RunQueryDsl;
use totp_rs::{Algorithm, TOTP};

use crate::schema::accounts;
use crate::secrets::Secret;
use crate::{AccountId, Store, StoreError};

/// Seconds for which a code is shown.
const STEP_S: u64 = 30;
const DIGITS: usize = 6;
/// How many half minutes a clock may be before or after.
const SKEW: u8 = 1;
/// How many spare codes somebody is given.
const SPARE: usize = 8;

/// What an app is set up with.
#[derive(Clone, Debug)]
pub struct SetUp {
    /// In letters and digits, for whoever types it.
    pub letters: Secret,
    /// As an address that apps read, for whoever shows it to a camera.
    pub address: Secret,
}

fn codes(secret: Vec<u8>, issuer: Option<&str>, email: &str) -> Result<TOTP, StoreError> {
    let issuer = issuer.map(|issuer| issuer.replace(':', " "));
    TOTP::new(Algorithm::SHA1, DIGITS, SKEW, STEP_S, secret, issuer, email.replace(':', " "))
        .map_err(|error| StoreError::Refused(error.to_string()))
}

/// Sets codes up: they are asked for when one of them has been [confirmed](confirm).
///
/// # Errors
/// When the database is away, or codes are asked for already.
pub async fn set_up(
    store: &Store,
    account: AccountId,
    issuer: &str,
    email: &str,
) -> Result<SetUp, StoreError> {
    let secret = totp_rs::Secret::generate_secret()
        .to_bytes()
        .map_err(|error| StoreError::Refused(format!("no secret could be made: {error:?}")))?;
    let codes = codes(secret.clone(), Some(issuer), email)?;
    let row = accounts::table.filter(accounts::id.eq(account.0)).filter(accounts::code_step.is_null());
    let changed = diesel::update(row)
        .set(accounts::code_secret.eq(secret))
        .execute(&mut *store.connection().await?)
        .await?;
    if changed == 0 {
        return Err(StoreError::Refused("codes are asked for already".to_owned()));
    }
    Ok(SetUp { letters: Secret::of(&codes.get_secret_base32()), address: Secret::of(&codes.get_url()) })
}

/// Has codes be asked for from now on, when one of them is right: the app makes the same. Gives spare codes, each of which works once.
///
/// # Errors
/// When the database is away.
pub async fn confirm(
    store: &Store,
    account: AccountId,
    typed: &str,
) -> Result<Option<Vec<Secret>>, StoreError> {
    let row = accounts::table.filter(accounts::id.eq(account.0)).filter(accounts::code_step.is_null());
    let mut connection = store.connection().await?;
    let secret: Option<Option<Vec<u8>>> =
        row.select(accounts::code_secret).first(&mut connection).await.optional()?;
    let Some(secret) = secret.flatten() else { return Ok(None) };
    let Some(step) = step_of(secret, typed)? else { return Ok(None) };
    let spare: Vec<Secret> = (0..SPARE).map(|_| spare_code()).collect();
    let digests: Vec<Vec<u8>> = spare.iter().map(Secret::digest).collect();
    let set = (accounts::code_step.eq(step), accounts::code_spare.eq(digests));
    let changed = diesel::update(row).set(set).execute(&mut connection).await?;
    Ok((changed == 1).then_some(spare))
}

/// How many spare codes are left where codes are asked for; nothing where they are not.
///
/// # Errors
/// When the database is away.
pub async fn asked_of(store: &Store, account: AccountId) -> Result<Option<usize>, StoreError> {
    let row: (Option<i64>, Vec<Vec<u8>>) = accounts::table
        .filter(accounts::id.eq(account.0))
        .select((accounts::code_step, accounts::code_spare))
        .first(&mut *store.connection().await?)
        .await?;
    Ok(row.0.map(|_| row.1.len()))
}

/// Whether a code is right, a spare one or that of now. It is used up: nobody who has seen it typed can use it again.
///
/// # Errors
/// When the database is away.
pub async fn uses(store: &Store, account: AccountId, typed: &str) -> Result<bool, StoreError> {
    let row = accounts::table.filter(accounts::id.eq(account.0)).filter(accounts::code_step.is_not_null());
    let mut connection = store.connection().await?;
    let secret: Option<Option<Vec<u8>>> =
        row.select(accounts::code_secret).first(&mut connection).await.optional()?;
    let Some(secret) = secret.flatten() else { return Ok(false) };
    let changed = match step_of(secret, typed)? {
        Some(step) => {
            let later = row.filter(accounts::code_step.lt(step));
            diesel::update(later).set(accounts::code_step.eq(step)).execute(&mut connection).await?
        }
        None => {
            let digest = Secret::of(&typed.trim().to_lowercase().replace([' ', '-'], "")).digest();
            let holds =
                row.filter(sql::<Bool>("").bind::<Binary, _>(digest.clone()).sql(" = any(code_spare)"));
            let left = sql::<Array<Binary>>("array_remove(code_spare, ").bind::<Binary, _>(digest).sql(")");
            diesel::update(holds).set(accounts::code_spare.eq(left)).execute(&mut connection).await?
        }
    };
    Ok(changed == 1)
}

/// Has no code be asked for any more.
///
/// # Errors
/// When the database is away.
pub async fn drop_of(store: &Store, account: AccountId) -> Result<(), StoreError> {
    let none = (
        accounts::code_secret.eq(None::<Vec<u8>>),
        accounts::code_step.eq(None::<i64>),
        accounts::code_spare.eq(Vec::<Vec<u8>>::new()),
    );
    let row = accounts::table.filter(accounts::id.eq(account.0));
    diesel::update(row).set(none).execute(&mut *store.connection().await?).await?;
    Ok(())
}

/// The half minute that a code belongs to, if it is one of now.
fn step_of(secret: Vec<u8>, typed: &str) -> Result<Option<i64>, StoreError> {
    let codes = codes(secret, None, "nobody")?;
    let typed: String = typed.chars().filter(|c| !matches!(c, ' ' | '-')).collect();
    let now = Utc::now().timestamp().unsigned_abs() / STEP_S;
    let near = now.saturating_sub(SKEW.into())..=now + u64::from(SKEW);
    let found = near.rev().find(|step| same(&codes.generate(step * STEP_S), &typed));
    Ok(found.and_then(|step| i64::try_from(step).ok()))
}

/// Whether two codes are the same, in a time that does not tell how far they are.
fn same(left: &str, right: &str) -> bool {
    let differ = left.bytes().zip(right.bytes()).fold(0, |differ, (a, b)| differ | (a ^ b));
    left.len() == right.len() && differ == 0
}

/// Ten letters and digits that nobody takes for others.
fn spare_code() -> Secret {
    const LETTERS: &[u8] = b"abcdefghjkmnpqrstuvwxyz23456789";
    let random = uuid::Uuid::new_v4().as_u128();
    let letter = |n: u32| char::from(LETTERS[(random >> (n * 6)) as usize % LETTERS.len()]);
    Secret::of(&(0..10).map(letter).collect::<String>())
}

#[cfg(test)]
mod tests {
    use super::*;

    /// RFC 6238, appendix B, in six of its eight digits.
    #[test]
    fn codes_are_those_of_the_standard() {
        let codes = codes(b"12345678901234567890".to_vec(), None, "nobody").unwrap();
        for (at, code) in [(59, "287082"), (1_111_111_109, "081804"), (2_000_000_000, "279037")] {
            assert_eq!(codes.generate(at), code);
        }
    }

    #[test]
    fn a_code_of_now_is_known_however_it_is_typed_and_others_are_not() {
        let secret = b"12345678901234567890".to_vec();
        let now = Utc::now().timestamp().unsigned_abs();
        let code = codes(secret.clone(), None, "nobody").unwrap().generate(now);
        let typed = format!(" {} {} ", &code[..3], &code[3..]);
        assert!(step_of(secret.clone(), &typed).unwrap().is_some());
        for wrong in ["", "12345", "1234567", "letters"] {
            assert_eq!(step_of(secret.clone(), wrong).unwrap(), None, "{wrong}");
        }
        assert!(!same("287082", "287083") && same("287082", "287082") && !same("28708", "287082"));
    }

    #[test]
    fn spare_codes_differ() {
        let all: std::collections::BTreeSet<String> =
            (0..100).map(|_| spare_code().expose().to_owned()).collect();
        assert!(all.len() == 100 && all.iter().all(|code| code.len() == 10));
    }
}
