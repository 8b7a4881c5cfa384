//! Sessions: the coach's text of a day, with a revision so that nobody overwrites anybody unseen.

use chrono::{DateTime, NaiveDate, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;

use crate::schema::sessions;
use crate::{GymId, Store, StoreError};

/// A stored day.
#[derive(Clone, Debug, PartialEq, Queryable)]
pub struct StoredSession {
    /// The day.
    pub day: NaiveDate,
    /// The text as typed.
    pub text: String,
    /// Counts up with each save.
    pub revision: i32,
    /// When it was last saved.
    pub updated_at: DateTime<Utc>,
}

/// What came of a save.
#[derive(Clone, Debug, PartialEq)]
pub enum Saved {
    /// Saved as this revision.
    As(i32),
    /// Somebody else saved in between; this is what stands now.
    Conflict(StoredSession),
}

/// Sessions from one day to another, both included, by day.
///
/// # Errors
/// When the database is away.
pub async fn between(
    store: &Store,
    gym: GymId,
    from: NaiveDate,
    to: NaiveDate,
) -> Result<Vec<StoredSession>, StoreError> {
    let mut connection = store.connection().await?;
    Ok(sessions::table
        .filter(sessions::gym_id.eq(gym.0))
        .filter(sessions::day.between(from, to))
        .order(sessions::day)
        .select((sessions::day, sessions::text, sessions::revision, sessions::updated_at))
        .load(&mut connection)
        .await?)
}

/// The session of a day, if there is one.
///
/// # Errors
/// When the database is away.
pub async fn of_day(store: &Store, gym: GymId, day: NaiveDate) -> Result<Option<StoredSession>, StoreError> {
    Ok(between(store, gym, day, day).await?.into_iter().next())
}

/// Saves a day's text if it still has the revision that the writer saw; 0 for a day without a session.
///
/// # Errors
/// When the database is away.
pub async fn save(
    store: &Store,
    gym: GymId,
    day: NaiveDate,
    text: &str,
    seen: i32,
) -> Result<Saved, StoreError> {
    let mut connection = store.connection().await?;
    let saved: Option<i32> = if seen == 0 {
        diesel::insert_into(sessions::table)
            .values((sessions::gym_id.eq(gym.0), sessions::day.eq(day), sessions::text.eq(text)))
            .on_conflict((sessions::gym_id, sessions::day))
            .do_nothing()
            .returning(sessions::revision)
            .get_result(&mut connection)
            .await
            .optional()?
    } else {
        diesel::update(sessions::table)
            .filter(sessions::gym_id.eq(gym.0))
            .filter(sessions::day.eq(day))
            .filter(sessions::revision.eq(seen))
            .set((
                sessions::text.eq(text),
                sessions::revision.eq(seen + 1),
                sessions::updated_at.eq(Utc::now()),
            ))
            .returning(sessions::revision)
            .get_result(&mut connection)
            .await
            .optional()?
    };
    drop(connection);
    match saved {
        Some(revision) => Ok(Saved::As(revision)),
        None => match of_day(store, gym, day).await? {
            Some(current) => Ok(Saved::Conflict(current)),
            // The day was removed in between: nothing is overwritten by saving it anew.
            None => Box::pin(save(store, gym, day, text, 0)).await,
        },
    }
}
