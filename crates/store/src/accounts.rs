//! Accounts, and who is signed in. These tables are found without a gym and hold no personal data but the e-mail.

use chrono::{DateTime, Duration, Utc};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};

use crate::schema::{accounts, login_sessions, one_time_links};
use crate::secrets::Secret;
use crate::{GymId, Store, StoreError};

/// Days after which somebody signs in again, whatever they do.
pub const LONGEST_SESSION_DAYS: i32 = 30;
/// Days without a look after which somebody signs in again.
pub(crate) const IDLE_DAYS: i32 = 14;
/// Minutes after which it is noted again that somebody is still there.
pub(crate) const NOTED_EVERY_MINUTES: i32 = 10;
/// Hours for which a link to a new passphrase works.
const PASSPHRASE_LINK_HOURS: i64 = 2;
/// Minutes between the passphrase and the code.
const CODE_LINK_MINUTES: i64 = 5;
/// Hours for which the link of the first owner works.
const OWNER_LINK_HOURS: i64 = 24;

/// The identity of an account.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct AccountId(pub(crate) i64);

/// An e-mail address as accounts are found by it.
///
/// # Errors
/// When it is none; in words for whoever typed it.
pub fn email(typed: &str) -> Result<String, String> {
    let email = typed.trim().to_lowercase();
    let (name, place) = email.rsplit_once('@').unwrap_or_default();
    let usual = |c: char| !c.is_whitespace() && !c.is_control() && !"<>()[],;:\\\"@".contains(c);
    let good = !name.is_empty()
        && place.contains('.')
        && !place.starts_with('.')
        && !place.ends_with('.')
        && email.len() <= 254
        && name.chars().chain(place.chars()).all(usual);
    if good { Ok(email) } else { Err(format!("`{}` is no e-mail address", typed.trim())) }
}

/// The e-mail address of an account.
///
/// # Errors
/// When the database is away, or the account is gone.
pub async fn email_of(store: &Store, account: AccountId) -> Result<String, StoreError> {
    let row = accounts::table.filter(accounts::id.eq(account.0)).select(accounts::email);
    Ok(row.first(&mut *store.connection().await?).await?)
}

/// How many accounts there are.
///
/// # Errors
/// When the database is away.
pub async fn count(store: &Store) -> Result<i64, StoreError> {
    Ok(accounts::table.count().get_result(&mut *store.connection().await?).await?)
}

/// The account of an e-mail address, with what is kept of its passphrase.
///
/// # Errors
/// When the database is away.
pub async fn of_email(store: &Store, email: &str) -> Result<Option<(AccountId, Option<String>)>, StoreError> {
    let row: Option<(i64, Option<String>)> = accounts::table
        .filter(accounts::email.eq(email))
        .select((accounts::id, accounts::passphrase))
        .first(&mut *store.connection().await?)
        .await
        .optional()?;
    Ok(row.map(|(id, passphrase)| (AccountId(id), passphrase)))
}

/// The account of an e-mail address, made where there is none.
pub(crate) async fn put(connection: &mut AsyncPgConnection, email: &str) -> Result<AccountId, StoreError> {
    let made: Option<i64> = diesel::insert_into(accounts::table)
        .values(accounts::email.eq(email))
        .on_conflict(accounts::email)
        .do_nothing()
        .returning(accounts::id)
        .get_result(connection)
        .await
        .optional()?;
    match made {
        Some(id) => Ok(AccountId(id)),
        None => {
            let known = accounts::table.filter(accounts::email.eq(email)).select(accounts::id);
            Ok(AccountId(known.first(connection).await?))
        }
    }
}

/// The gyms of an account, the one joined first before the others.
///
/// # Errors
/// When the database is away, or the account is gone.
pub async fn gyms(store: &Store, account: AccountId) -> Result<Vec<GymId>, StoreError> {
    let row = accounts::table.filter(accounts::id.eq(account.0)).select(accounts::gyms);
    let gyms: Vec<i64> = row.first(&mut *store.connection().await?).await?;
    Ok(gyms.into_iter().map(GymId).collect())
}

/// Gives an account its passphrase, and ends every login session that it has: whoever knew the old one is out.
///
/// # Errors
/// When the database is away, or the account is gone.
pub async fn set_passphrase(store: &Store, account: AccountId, kept: &str) -> Result<(), StoreError> {
    let mut connection = store.connection().await?;
    connection
        .transaction(async |connection| {
            let row = accounts::table.filter(accounts::id.eq(account.0));
            match diesel::update(row).set(accounts::passphrase.eq(kept)).execute(connection).await? {
                0 => return Err(StoreError::NotFound("account")),
                _ => sign_out_everywhere(connection, account, None).await?,
            }
            let links = one_time_links::table.filter(one_time_links::account_id.eq(account.0));
            diesel::delete(links).execute(connection).await?;
            Ok(())
        })
        .await
}

/// Gives an account its first passphrase; one that has one keeps it.
pub(crate) async fn first_passphrase(
    connection: &mut AsyncPgConnection,
    account: AccountId,
    kept: &str,
) -> Result<(), StoreError> {
    let new = accounts::table.filter(accounts::id.eq(account.0)).filter(accounts::passphrase.is_null());
    diesel::update(new).set(accounts::passphrase.eq(kept)).execute(connection).await?;
    Ok(())
}

/// Begins a login session, at one of the account's gyms.
///
/// # Errors
/// When the database is away, or the account has no gym any more.
pub async fn sign_in(store: &Store, account: AccountId) -> Result<Secret, StoreError> {
    let gyms = gyms(store, account).await?;
    let gym = gyms.into_iter().next().ok_or(StoreError::NotFound("gym"))?;
    let token = Secret::new();
    let mut connection = store.connection().await?;
    // Those that have ended go when somebody begins one.
    diesel::delete(login_sessions::table.filter(ended())).execute(&mut connection).await?;
    diesel::insert_into(login_sessions::table)
        .values((
            login_sessions::token.eq(token.digest()),
            login_sessions::account_id.eq(account.0),
            login_sessions::gym_id.eq(gym.0),
        ))
        .execute(&mut connection)
        .await?;
    Ok(token)
}

/// That a login session has ended.
type Ended = diesel::dsl::Or<
    diesel::dsl::Lt<login_sessions::began_at, DateTime<Utc>>,
    diesel::dsl::Lt<login_sessions::seen_at, DateTime<Utc>>,
>;

fn ended() -> Ended {
    let now = Utc::now();
    login_sessions::began_at
        .lt(now - Duration::days(LONGEST_SESSION_DAYS.into()))
        .or(login_sessions::seen_at.lt(now - Duration::days(IDLE_DAYS.into())))
}

/// Has a login session look at another gym of its account.
///
/// # Errors
/// When the database is away, or it is not one of theirs.
pub async fn look_at(
    store: &Store,
    token: &Secret,
    account: AccountId,
    place: usize,
) -> Result<(), StoreError> {
    let gym = *gyms(store, account).await?.get(place).ok_or(StoreError::NotFound("gym"))?;
    let session = login_sessions::table.filter(login_sessions::token.eq(token.digest()));
    let changed = diesel::update(session)
        .set(login_sessions::gym_id.eq(gym.0))
        .execute(&mut *store.connection().await?)
        .await?;
    if changed == 0 { Err(StoreError::NotFound("session")) } else { Ok(()) }
}

/// Ends a login session.
///
/// # Errors
/// When the database is away.
pub async fn sign_out(store: &Store, token: &Secret) -> Result<(), StoreError> {
    let session = login_sessions::table.filter(login_sessions::token.eq(token.digest()));
    diesel::delete(session).execute(&mut *store.connection().await?).await?;
    Ok(())
}

/// A login session as its account sees it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Login {
    /// When it began.
    pub began_at: DateTime<Utc>,
    /// When it was last used, within some minutes.
    pub seen_at: DateTime<Utc>,
    /// Whether it is the one that asks.
    pub this: bool,
}

/// The login sessions of an account, newest first.
///
/// # Errors
/// When the database is away.
pub async fn logins(store: &Store, account: AccountId, token: &Secret) -> Result<Vec<Login>, StoreError> {
    let rows: Vec<(Vec<u8>, DateTime<Utc>, DateTime<Utc>)> = login_sessions::table
        .filter(login_sessions::account_id.eq(account.0))
        .filter(diesel::dsl::not(ended()))
        .order(login_sessions::began_at.desc())
        .select((login_sessions::token, login_sessions::began_at, login_sessions::seen_at))
        .load(&mut *store.connection().await?)
        .await?;
    let own = token.digest();
    let login = |(digest, began_at, seen_at)| Login { began_at, seen_at, this: digest == own };
    Ok(rows.into_iter().map(login).collect())
}

/// Ends every other login session of an account.
///
/// # Errors
/// When the database is away.
pub async fn sign_others_out(store: &Store, account: AccountId, token: &Secret) -> Result<(), StoreError> {
    sign_out_everywhere(&mut *store.connection().await?, account, Some(token)).await
}

async fn sign_out_everywhere(
    connection: &mut AsyncPgConnection,
    account: AccountId,
    but: Option<&Secret>,
) -> Result<(), StoreError> {
    let kept = but.map(Secret::digest).unwrap_or_default();
    let theirs = login_sessions::table
        .filter(login_sessions::account_id.eq(account.0))
        .filter(login_sessions::token.ne(kept));
    diesel::delete(theirs).execute(connection).await?;
    Ok(())
}

/// What a one-time link is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Link {
    /// The first owner of an installation signs up: of a gym that stands already, or of one that they name.
    Owner(Option<GymId>),
    /// Somebody chooses a new passphrase.
    Passphrase(AccountId),
    /// Somebody has given the right passphrase, and is asked for a code.
    Code(AccountId),
}

impl Link {
    /// As rows name it, what it is about, and the minutes for which it works.
    fn parts(self) -> (&'static str, Option<i64>, Option<i64>, i64) {
        match self {
            Self::Owner(gym) => ("owner", gym.map(|gym| gym.0), None, OWNER_LINK_HOURS * 60),
            Self::Passphrase(account) => ("passphrase", None, Some(account.0), PASSPHRASE_LINK_HOURS * 60),
            Self::Code(account) => ("code", None, Some(account.0), CODE_LINK_MINUTES),
        }
    }
}

/// Makes a link that works once, for some hours.
///
/// # Errors
/// When the database is away.
pub async fn link(store: &Store, link: Link) -> Result<Secret, StoreError> {
    let (kind, gym, account, minutes) = link.parts();
    let token = Secret::new();
    let mut connection = store.connection().await?;
    let old = one_time_links::table.filter(one_time_links::ends_at.lt(Utc::now()));
    diesel::delete(old).execute(&mut connection).await?;
    diesel::insert_into(one_time_links::table)
        .values((
            one_time_links::token.eq(token.digest()),
            one_time_links::kind.eq(kind),
            one_time_links::gym_id.eq(gym),
            one_time_links::account_id.eq(account),
            one_time_links::ends_at.eq(Utc::now() + Duration::minutes(minutes)),
        ))
        .execute(&mut connection)
        .await?;
    Ok(token)
}

/// What a link is for, without using it; nothing when it was used, or its time is over.
///
/// # Errors
/// When the database is away.
pub async fn link_is(store: &Store, token: &Secret) -> Result<Option<Link>, StoreError> {
    let row: Option<LinkRow> = one_time_links::table
        .filter(one_time_links::token.eq(token.digest()))
        .filter(one_time_links::ends_at.gt(Utc::now()))
        .select((one_time_links::kind, one_time_links::gym_id, one_time_links::account_id))
        .first(&mut *store.connection().await?)
        .await
        .optional()?;
    Ok(row.and_then(|row| known(&row)))
}

/// Uses a link, once. Others for the same go with it: a server that was started twice has printed two, and makes one owner.
///
/// # Errors
/// When the database is away.
pub async fn use_link(store: &Store, token: &Secret) -> Result<Option<Link>, StoreError> {
    let Some(link) = link_is(store, token).await? else { return Ok(None) };
    let (kind, _, account, _) = link.parts();
    let same = one_time_links::table
        .filter(one_time_links::kind.eq(kind))
        .filter(one_time_links::account_id.is_not_distinct_from(account));
    let gone: Vec<Vec<u8>> = diesel::delete(same)
        .returning(one_time_links::token)
        .get_results(&mut *store.connection().await?)
        .await?;
    // Of two who use links for the same at one moment, the second finds its own gone.
    Ok(gone.contains(&token.digest()).then_some(link))
}

/// Kind, gym, account.
type LinkRow = (String, Option<i64>, Option<i64>);

fn known((kind, gym, account): &LinkRow) -> Option<Link> {
    match (kind.as_str(), account) {
        ("owner", None) => Some(Link::Owner(gym.map(GymId))),
        ("passphrase", Some(account)) => Some(Link::Passphrase(AccountId(*account))),
        ("code", Some(account)) => Some(Link::Code(AccountId(*account))),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::email;

    #[test]
    fn an_address_is_found_however_it_is_typed_and_what_is_none_is_said() {
        assert_eq!(email(" Iris@Example.org ").unwrap(), "iris@example.org");
        for wrong in
            ["", "iris", "@example.org", "iris@", "iris@org", "i ris@example.org", "a@b@c.de", "a@.de"]
        {
            assert!(email(wrong).unwrap_err().contains("no e-mail"), "{wrong}");
        }
    }
}
