//! Secret addresses of a gym: a screen on the wall, a calendar that follows the classes. Whoever has one needs no account, and sees that alone.

use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;

use crate::memberships::addressed;
use crate::schema::keys;
use crate::secrets::Secret;
use crate::{GymId, GymScope, Store, StoreError};

/// What a key opens.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Opens {
    /// The boards of the day's classes, with names as their members wish.
    Wall,
    /// When classes are and what is done.
    Calendar,
    /// What a program may ask for, by its scopes.
    Api,
}

/// What a program may ask for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum ApiScope {
    /// What is written for a day, as text and as a tree.
    Sessions,
    /// What goes on each bar.
    Loads,
    /// Members with their lifts, without a word of what they spare.
    Members,
}

impl ApiScope {
    /// All of them.
    pub const ALL: [Self; 3] = [Self::Sessions, Self::Loads, Self::Members];

    /// As rows and forms name it.
    pub const fn key(self) -> &'static str {
        match self {
            Self::Sessions => "sessions",
            Self::Loads => "loads",
            Self::Members => "members",
        }
    }

    /// What rows and forms name so.
    pub fn named(key: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|scope| scope.key() == key)
    }
}

impl Opens {
    /// As rows and forms name it.
    pub const fn key(self) -> &'static str {
        match self {
            Self::Wall => "wall",
            Self::Calendar => "calendar",
            Self::Api => "api",
        }
    }

    /// What rows and forms name so.
    pub fn named(key: &str) -> Option<Self> {
        [Self::Wall, Self::Calendar, Self::Api].into_iter().find(|opens| opens.key() == key)
    }
}

/// A key as the gym sees it: its secret was shown once.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Key {
    /// The row's id.
    pub id: i64,
    /// What it opens.
    pub opens: Opens,
    /// What a program may ask for with it.
    pub scopes: Vec<ApiScope>,
    /// What it is for, in the words of whoever made it.
    pub name: String,
    /// When it was made.
    pub made_at: DateTime<Utc>,
    /// When it was last used, to the hour.
    pub used_at: Option<DateTime<Utc>>,
}

/// Makes a key; gives what stands in its address.
///
/// # Errors
/// When the database is away, or nobody writes such a name.
pub async fn make(
    scope: &mut GymScope,
    (opens, scopes): (Opens, &[ApiScope]),
    name: &str,
) -> Result<Secret, StoreError> {
    let scopes: Vec<&str> = scopes.iter().map(|scope| scope.key()).collect();
    let token = Secret::new();
    diesel::insert_into(keys::table)
        .values((
            keys::gym_id.eq(scope.gym.0),
            keys::kind.eq(opens.key()),
            keys::token.eq(token.digest()),
            keys::name.eq(name),
            keys::scopes.eq(scopes),
        ))
        .execute(scope.connection())
        .await?;
    Ok(Secret::of(&format!("{}.{}", scope.gym, token.expose())))
}

/// The keys of a gym, newest first.
///
/// # Errors
/// When the database is away.
pub async fn all(scope: &mut GymScope) -> Result<Vec<Key>, StoreError> {
    type Row = (i64, String, Vec<String>, String, DateTime<Utc>, Option<DateTime<Utc>>);
    let rows: Vec<Row> = keys::table
        .filter(keys::gym_id.eq(scope.gym.0))
        .order(keys::id.desc())
        .select((keys::id, keys::kind, keys::scopes, keys::name, keys::made_at, keys::used_at))
        .load(scope.connection())
        .await?;
    let key = |(id, kind, scopes, name, made_at, used_at): Row| {
        let scopes = scopes.iter().filter_map(|key| ApiScope::named(key)).collect();
        Some(Key { id, opens: Opens::named(&kind)?, scopes, name, made_at, used_at })
    };
    Ok(rows.into_iter().filter_map(key).collect())
}

/// Takes a key back: what has it sees nothing from now on.
///
/// # Errors
/// When the database is away, or there is no such key.
pub async fn revoke(scope: &mut GymScope, id: i64) -> Result<(), StoreError> {
    let row = keys::table.filter(keys::gym_id.eq(scope.gym.0)).filter(keys::id.eq(id));
    match diesel::delete(row).execute(scope.connection()).await? {
        0 => Err(StoreError::NotFound("key")),
        _ => Ok(()),
    }
}

/// The gym that the code of a class names. A code is not stored: whoever asks compares it with what follows from the secret of the installation
/// before anything of the gym is shown.
pub fn named_by_code(number: i64) -> GymId {
    GymId(number)
}

/// The gym whose key an address holds; nothing where it opens something else, or nothing any more.
///
/// # Errors
/// When the database is away.
pub async fn opened(
    store: &Store,
    (opens, asked): (Opens, Option<ApiScope>),
    address: &str,
) -> Result<Option<GymId>, StoreError> {
    let Some((gym, token)) = addressed(address) else { return Ok(None) };
    let mut scope = store.change(gym).await?;
    let known: Option<(i64, Option<DateTime<Utc>>, Vec<String>)> = keys::table
        .filter(keys::gym_id.eq(scope.gym.0))
        .filter(keys::kind.eq(opens.key()))
        .filter(keys::token.eq(token.digest()))
        .select((keys::id, keys::used_at, keys::scopes))
        .first(scope.connection())
        .await
        .optional()?;
    let Some((id, used, scopes)) = known else { return Ok(None) };
    if asked.is_some_and(|asked| !scopes.iter().any(|scope| scope == asked.key())) {
        return Ok(None);
    }
    if used.is_none_or(|used| Utc::now() - used > chrono::Duration::hours(1)) {
        let row = keys::table.filter(keys::gym_id.eq(scope.gym.0)).filter(keys::id.eq(id));
        diesel::update(row).set(keys::used_at.eq(Utc::now())).execute(scope.connection()).await?;
        scope.keep().await?;
    }
    Ok(Some(gym))
}
