//! What coaches did to the clock of a class, and who is told of it.

use std::time::Duration;

use chrono::{NaiveDate, NaiveTime};
use diesel::dsl::{exists, sql};
use diesel::pg::Pg;
use diesel::prelude::*;
use diesel::sql_types::{Bool, Nullable, Text};
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use futures_util::StreamExt;
use lantern_core::running::{Event, Happened};
use serde_json::Value;

use crate::connect::Target;
use crate::results::key as class_key;
use crate::schema::happenings;
use crate::words::{stands_in, without};
use crate::{GymId, GymScope, StoreError};

/// Most that happens to the clock of one class; a coach does some forty things.
const MOST: i64 = 2_000;

/// Everything that happened to the clock of a class, in the order in which it happened.
///
/// # Errors
/// When the database is away, or a row cannot be read.
pub async fn of_class(
    scope: &mut GymScope,
    (day, starts): (NaiveDate, Option<NaiveTime>),
) -> Result<Vec<Event>, StoreError> {
    let rows: Vec<(i64, Value)> = happenings::table
        .filter(happenings::gym_id.eq(scope.gym.0))
        .filter(happenings::day.eq(day))
        .filter(happenings::starts.eq(class_key(starts)))
        .order((happenings::at_ms, happenings::id))
        .select((happenings::at_ms, happenings::what))
        .load(scope.connection())
        .await?;
    let event = |(at_ms, what): (i64, Value)| {
        let what = serde_json::from_value(what).map_err(StoreError::unreadable("happening"))?;
        Ok(Event { at_ms, what })
    };
    rows.into_iter().map(event).collect()
}

/// Whether a class of a day has begun: something has happened to its clock.
///
/// # Errors
/// When the database is away.
pub async fn has_begun(scope: &mut GymScope, day: NaiveDate) -> Result<bool, StoreError> {
    let of_day = happenings::table.filter(happenings::gym_id.eq(scope.gym.0)).filter(happenings::day.eq(day));
    Ok(diesel::select(exists(of_day)).get_result(scope.connection()).await?)
}

/// Keeps something that happened; what has arrived before is there already.
///
/// # Errors
/// When the database is away, or more has happened than in any class.
pub async fn add(
    scope: &mut GymScope,
    (day, starts): (NaiveDate, Option<NaiveTime>),
    event: &Event,
    (key, by): (&str, &str),
) -> Result<(), StoreError> {
    let of_class = happenings::table
        .filter(happenings::gym_id.eq(scope.gym.0))
        .filter(happenings::day.eq(day))
        .filter(happenings::starts.eq(class_key(starts)));
    let count: i64 = of_class.count().get_result(scope.connection()).await?;
    if count >= MOST {
        return Err(StoreError::Refused(format!("{MOST} things have happened to this class already")));
    }
    let row = (
        happenings::gym_id.eq(scope.gym.0),
        happenings::day.eq(day),
        happenings::starts.eq(class_key(starts)),
        happenings::at_ms.eq(event.at_ms),
        happenings::what.eq(told(&event.what)?),
        happenings::key.eq(key),
        happenings::made_by.eq(by),
    );
    diesel::insert_into(happenings::table)
        .values(row)
        .on_conflict((happenings::gym_id, happenings::key))
        .do_nothing()
        .execute(scope.connection())
        .await?;
    Ok(())
}

/// The notes of a gym.
fn notes(gym: GymId) -> happenings::BoxedQuery<'static, Pg> {
    let is_note = sql::<Bool>("what->>'what' = 'note'");
    happenings::table.filter(happenings::gym_id.eq(gym.0)).filter(is_note).into_boxed()
}

/// Notes in which a name stands: their rows, days and words.
pub(crate) async fn notes_with(
    scope: &mut GymScope,
    name: &str,
) -> Result<Vec<(i64, NaiveDate, String)>, StoreError> {
    let rows: Vec<(i64, NaiveDate, Option<String>)> = notes(scope.gym)
        .order(happenings::id)
        .select((happenings::id, happenings::day, sql::<Nullable<Text>>("what->>'text'")))
        .load(scope.connection())
        .await?;
    let named = rows.into_iter().filter_map(|(id, day, text)| Some((id, day, text?)));
    Ok(named.filter(|(.., text)| stands_in(text, name)).collect())
}

/// Takes a name out of every note.
pub(crate) async fn forget_name(scope: &mut GymScope, name: &str) -> Result<(), StoreError> {
    for (id, _, text) in notes_with(scope, name).await? {
        let row = happenings::table.filter(happenings::gym_id.eq(scope.gym.0)).filter(happenings::id.eq(id));
        let what = told(&Happened::Note { text: without(&text, name) })?;
        diesel::update(row).set(happenings::what.eq(what)).execute(scope.connection()).await?;
    }
    Ok(())
}

fn told(what: &Happened) -> Result<Value, StoreError> {
    serde_json::to_value(what).map_err(StoreError::unreadable("happening"))
}

/// A gym, or one of its classes, about which something has changed.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub struct Changed {
    /// The number of the gym.
    pub gym: i64,
    /// The day of a class and when it starts, none for the whole gym at once; nothing where any class may be another now.
    pub class: Option<(NaiveDate, Option<NaiveTime>)>,
}

impl Changed {
    fn read(payload: &str) -> Option<Self> {
        let mut words = payload.splitn(3, ' ');
        let gym = words.next()?.parse().ok()?;
        let Some(day) = words.next() else { return Some(Self { gym, class: None }) };
        let starts = words.next().filter(|starts| !starts.is_empty());
        let starts = starts.map(|starts| NaiveTime::parse_from_str(starts, "%H:%M")).transpose().ok()?;
        Some(Self { gym, class: Some((day.parse().ok()?, starts)) })
    }
}

/// How long nothing is heard before it is asked whether the connection is still there, and how long the answer may take.
const QUIET: Duration = Duration::from_secs(15);
const ANSWER: Duration = Duration::from_secs(3);

/// A connection that hears what changes, whichever process changes it.
pub struct Listener {
    connection: AsyncPgConnection,
}

impl Listener {
    /// Begins to listen.
    pub(crate) async fn at(target: &Target) -> Result<Self, StoreError> {
        let away = |error: diesel::ConnectionError| StoreError::Away(error.to_string());
        let mut connection = target.connect().await.map_err(away)?;
        diesel::sql_query("listen lantern_class").execute(&mut connection).await?;
        Ok(Self { connection })
    }

    /// The next class about which something has changed.
    ///
    /// # Errors
    /// When the connection is gone: whatever changes meanwhile is not heard.
    pub async fn next(&mut self) -> Result<Changed, StoreError> {
        loop {
            let told = {
                let mut stream = std::pin::pin!(self.connection.notifications_stream());
                tokio::time::timeout(QUIET, stream.next()).await
            };
            match told {
                Ok(Some(told)) => {
                    if let Some(changed) = Changed::read(&told?.payload) {
                        return Ok(changed);
                    }
                }
                Ok(None) => return Err(StoreError::Away("nothing is told any more".to_owned())),
                Err(_) => {
                    let asked = diesel::sql_query("select 1").execute(&mut self.connection);
                    let answer = tokio::time::timeout(ANSWER, asked).await;
                    answer.map_err(|_| StoreError::Away("no answer".to_owned()))??;
                }
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_class_is_told_by_gym_day_and_start() {
        let day = NaiveDate::from_ymd_opt(2026, 11, 23).unwrap();
        let starts = NaiveTime::from_hms_opt(18, 0, 0);
        assert_eq!(Changed::read("3 2026-11-23 18:00"), Some(Changed { gym: 3, class: Some((day, starts)) }));
        assert_eq!(Changed::read("3 2026-11-23 "), Some(Changed { gym: 3, class: Some((day, None)) }));
        assert_eq!(Changed::read("3"), Some(Changed { gym: 3, class: None }));
        assert_eq!(
            (Changed::read("3 2026-11-23 noon"), Changed::read("x"), Changed::read("")),
            (None, None, None)
        );
    }
}
