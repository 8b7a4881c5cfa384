//! Sessions: the coach's text of a day, with a revision so that nobody overwrites anybody unseen, and every text that the day
//! has had.

use chrono::{DateTime, NaiveDate, TimeDelta, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use serde_json::Value;

use crate::pieces::{self, NewPiece};
use crate::schema::{session_texts, sessions};
use crate::{GymScope, StoreError};

/// A stored day.
#[derive(Clone, Debug, PartialEq, Queryable, Selectable, serde::Deserialize)]
#[diesel(table_name = sessions)]
pub struct StoredSession {
    /// The day.
    pub day: NaiveDate,
    /// The text as typed.
    pub text: String,
    /// Counts up with each save.
    pub revision: i32,
    /// When it was last saved.
    pub updated_at: DateTime<Utc>,
    /// What was put right in its reading, as the reader's corrections.
    pub corrections: Value,
}

/// What came of a save.
#[derive(Clone, Debug, PartialEq)]
pub enum Saved {
    /// Saved as this revision, or standing as this revision already.
    As(i32),
    /// Somebody else saved in between.
    Conflict(Box<Conflict>),
}

/// Two changes of one text.
#[derive(Clone, Debug, PartialEq)]
pub struct Conflict {
    /// What stands now.
    pub theirs: StoredSession,
    /// Both changes put together, where they touch different lines of the text that both began from.
    pub together: Option<String>,
}

/// A text to save.
#[derive(Clone, Copy, Debug)]
pub struct NewText<'a> {
    /// The text.
    pub text: &'a str,
    /// What was put right in its reading, as the reader's corrections.
    pub corrections: &'a Value,
    /// The revision that the writer saw; 0 for a day without a session.
    pub seen: i32,
    /// Its parts, as they are read.
    pub parts: &'a [NewPiece],
    /// The page that it was written on: the same page saving again is no conflict. Empty for nobody in particular.
    pub writer: &'a str,
    /// Who saves it, as they are called. Empty for a program.
    pub by: &'a str,
    /// Whether it is saved by itself while somebody types: the next text of the same page takes its place among those that the day has had.
    pub while_typing: bool,
}

/// A text that a day has had, or has.
#[derive(Clone, Debug, PartialEq, Queryable, Selectable)]
#[diesel(table_name = session_texts)]
pub struct PastText {
    /// Which of its texts, from 1.
    pub revision: i32,
    /// The text as typed.
    pub text: String,
    /// What was put right in its reading.
    pub corrections: Value,
    /// When it was saved.
    pub saved_at: DateTime<Utc>,
    /// Who saved it, as they were called then. Empty where nobody has said.
    pub saved_by: String,
}

/// Most texts of a day that are looked at.
const MOST_TEXTS: i64 = 60;

/// Sessions from one day to another, both included, by day.
///
/// # Errors
/// When the database is away.
pub async fn between(
    scope: &mut GymScope,
    from: NaiveDate,
    to: NaiveDate,
) -> Result<Vec<StoredSession>, StoreError> {
    Ok(sessions::table
        .filter(sessions::gym_id.eq(scope.gym.0))
        .filter(sessions::day.between(from, to))
        .order(sessions::day)
        .select(StoredSession::as_select())
        .load(scope.connection())
        .await?)
}

/// The session of a day, if there is one.
///
/// # Errors
/// When the database is away.
pub async fn of_day(scope: &mut GymScope, day: NaiveDate) -> Result<Option<StoredSession>, StoreError> {
    Ok(between(scope, day, day).await?.into_iter().next())
}

/// Saves a day's text if it still has the revision that the writer saw. Saving what stands already changes nothing, and a page that
/// saves again after itself is no conflict: only somebody else's text in between is one.
///
/// # Errors
/// When the database is away.
pub async fn save(scope: &mut GymScope, day: NaiveDate, new: NewText<'_>) -> Result<Saved, StoreError> {
    let NewText { text, corrections, seen, writer, parts, .. } = new;
    let first: Option<i32> = diesel::insert_into(sessions::table)
        .values((
            sessions::gym_id.eq(scope.gym.0),
            sessions::day.eq(day),
            sessions::text.eq(text),
            sessions::corrections.eq(corrections),
        ))
        .on_conflict((sessions::gym_id, sessions::day))
        .do_nothing()
        .returning(sessions::revision)
        .get_result(scope.connection())
        .await
        .optional()?;
    if let Some(revision) = first {
        keep(scope, day, revision, new).await?;
        pieces::keep(scope, day, parts).await?;
        return Ok(Saved::As(revision));
    }
    let row = sessions::table.filter(sessions::gym_id.eq(scope.gym.0)).filter(sessions::day.eq(day));
    let stored: StoredSession =
        row.select(StoredSession::as_select()).for_update().first(scope.connection()).await?;
    if stored.text == text && stored.corrections == *corrections {
        if !new.while_typing {
            decided_on(scope, day, stored.revision).await?;
        }
        return Ok(Saved::As(stored.revision));
    }
    if stored.revision != seen && !all_by(scope, day, seen, writer).await? {
        let base = text_at(scope, day, seen).await?.map(|base| base.text);
        let together = diffy::merge(&base.unwrap_or_default(), text, &stored.text).ok();
        return Ok(Saved::Conflict(Box::new(Conflict { theirs: stored, together })));
    }
    let revision = stored.revision + 1;
    diesel::update(row)
        .set((
            sessions::text.eq(text),
            sessions::corrections.eq(corrections),
            sessions::revision.eq(revision),
            sessions::updated_at.eq(Utc::now()),
        ))
        .execute(scope.connection())
        .await?;
    keep(scope, day, revision, new).await?;
    pieces::keep(scope, day, parts).await?;
    Ok(Saved::As(revision))
}

/// A text that was saved while somebody typed is now one that somebody has saved.
async fn decided_on(scope: &mut GymScope, day: NaiveDate, revision: i32) -> Result<(), StoreError> {
    diesel::update(session_texts::table)
        .filter(session_texts::gym_id.eq(scope.gym.0))
        .filter(session_texts::day.eq(day))
        .filter(session_texts::revision.eq(revision))
        .filter(session_texts::while_typing)
        .set(session_texts::while_typing.eq(false))
        .execute(scope.connection())
        .await?;
    Ok(())
}

async fn keep(
    scope: &mut GymScope,
    day: NaiveDate,
    revision: i32,
    new: NewText<'_>,
) -> Result<(), StoreError> {
    diesel::insert_into(session_texts::table)
        .values((
            session_texts::gym_id.eq(scope.gym.0),
            session_texts::day.eq(day),
            session_texts::revision.eq(revision),
            session_texts::text.eq(new.text),
            session_texts::corrections.eq(new.corrections),
            session_texts::writer.eq(new.writer),
            session_texts::saved_by.eq(new.by),
            session_texts::while_typing.eq(new.while_typing),
        ))
        .execute(scope.connection())
        .await?;
    pass_over(scope, day, revision - 1, new.writer).await
}

/// What a page saved while somebody typed is no text of its own once the page has saved another; it is kept for a day, for whoever has begun from it.
async fn pass_over(
    scope: &mut GymScope,
    day: NaiveDate,
    before: i32,
    writer: &str,
) -> Result<(), StoreError> {
    let passed = diesel::update(session_texts::table)
        .filter(session_texts::gym_id.eq(scope.gym.0))
        .filter(session_texts::day.eq(day))
        .filter(session_texts::revision.eq(before))
        .filter(session_texts::while_typing)
        .filter(session_texts::writer.eq(writer))
        .set(session_texts::passed_over.eq(true))
        .execute(scope.connection())
        .await?;
    if passed > 0 {
        diesel::delete(session_texts::table)
            .filter(session_texts::gym_id.eq(scope.gym.0))
            .filter(session_texts::day.eq(day))
            .filter(session_texts::passed_over)
            .filter(session_texts::saved_at.lt(Utc::now() - TimeDelta::days(1)))
            .execute(scope.connection())
            .await?;
    }
    Ok(())
}

/// The texts of a day, newest first: of those that one page saved by itself, one after the other, the last.
///
/// # Errors
/// When the database is away.
pub async fn texts(scope: &mut GymScope, day: NaiveDate) -> Result<Vec<PastText>, StoreError> {
    Ok(session_texts::table
        .filter(session_texts::gym_id.eq(scope.gym.0))
        .filter(session_texts::day.eq(day))
        .filter(session_texts::passed_over.eq(false))
        .order(session_texts::revision.desc())
        .limit(MOST_TEXTS)
        .select(PastText::as_select())
        .load(scope.connection())
        .await?)
}

/// The text that somebody saved last, which is not that of a page that saves by itself while somebody types.
///
/// # Errors
/// When the database is away.
pub async fn decided(scope: &mut GymScope, day: NaiveDate) -> Result<Option<PastText>, StoreError> {
    Ok(session_texts::table
        .filter(session_texts::gym_id.eq(scope.gym.0))
        .filter(session_texts::day.eq(day))
        .filter(session_texts::while_typing.eq(false))
        .order(session_texts::revision.desc())
        .select(PastText::as_select())
        .first(scope.connection())
        .await
        .optional()?)
}

/// A text that a day has had; none before its first.
///
/// # Errors
/// When the database is away.
pub async fn text_at(
    scope: &mut GymScope,
    day: NaiveDate,
    revision: i32,
) -> Result<Option<PastText>, StoreError> {
    Ok(session_texts::table
        .filter(session_texts::gym_id.eq(scope.gym.0))
        .filter(session_texts::day.eq(day))
        .filter(session_texts::revision.eq(revision))
        .select(PastText::as_select())
        .first(scope.connection())
        .await
        .optional()?)
}

/// Whether every text since the one that was seen was saved by the same page.
async fn all_by(scope: &mut GymScope, day: NaiveDate, seen: i32, writer: &str) -> Result<bool, StoreError> {
    if writer.is_empty() {
        return Ok(false);
    }
    let writers: Vec<String> = session_texts::table
        .filter(session_texts::gym_id.eq(scope.gym.0))
        .filter(session_texts::day.eq(day))
        .filter(session_texts::revision.gt(seen))
        .select(session_texts::writer)
        .load(scope.connection())
        .await?;
    Ok(!writers.is_empty() && writers.iter().all(|known| known == writer))
}
