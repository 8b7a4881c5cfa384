//! What coaches have decided: a row each, only ever inserted.

use chrono::{DateTime, NaiveDate, NaiveTime, Utc};
use diesel::prelude::*;
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use lantern_core::decide::{Decision, standing_hands};
use lantern_core::plan::Decisions;
use lantern_core::versions::HandLine;

use crate::schema::decisions;
use crate::{GymId, Store, StoreError};

/// Most decisions about one day; a coach makes some dozens.
const MOST_A_DAY: i64 = 5_000;

/// A decision with when it was made, and about which class.
#[derive(Clone, Debug)]
pub struct Decided {
    /// The row's id.
    pub id: i64,
    /// The day.
    pub day: NaiveDate,
    /// When the class starts, as 18:00; empty for the day or the whole gym.
    pub starts: String,
    /// What was decided.
    pub decision: Decision,
    /// When.
    pub made_at: DateTime<Utc>,
}

/// What stands for a day, and for one of its classes.
///
/// # Errors
/// When the database is away, or a row cannot be read.
pub async fn standing(
    store: &Store,
    gym: GymId,
    day: NaiveDate,
    starts: Option<NaiveTime>,
) -> Result<Decisions, StoreError> {
    let mut connection = store.connection().await?;
    let rows: Vec<(String, String, serde_json::Value)> = decisions::table
        .filter(decisions::gym_id.eq(gym.0))
        .filter(decisions::day.eq(day))
        .order(decisions::id)
        .select((decisions::about, decisions::starts, decisions::what))
        .load(&mut connection)
        .await?;
    let class = key(starts);
    let mut all = Decisions::default();
    for (about, starts, what) in rows {
        let decision = read(&about, what)?;
        if !decision.is_of_class() || starts == class {
            decision.apply(&mut all);
        }
    }
    Ok(all)
}

/// Most lines written anew that are looked at for a habit, newest first.
const MOST_HANDS: i64 = 1_000;

/// Lines of the board's versions that coaches have written anew on any day and that still stand, in the order in which they were.
///
/// # Errors
/// When the database is away, or a row cannot be read.
pub async fn hands(store: &Store, gym: GymId) -> Result<Vec<(NaiveDate, HandLine)>, StoreError> {
    let mut connection = store.connection().await?;
    let rows: Vec<(NaiveDate, serde_json::Value)> = decisions::table
        .filter(decisions::gym_id.eq(gym.0))
        .filter(decisions::about.eq("pieces"))
        .filter(decisions::what.retrieve_as_text("decision").eq_any(["hand", "hand_back"]))
        .order(decisions::id.desc())
        .limit(MOST_HANDS)
        .select((decisions::day, decisions::what))
        .load(&mut connection)
        .await?;
    let mut made = Vec::new();
    for (day, what) in rows.into_iter().rev() {
        if let Decision::Pieces(decision) = read("pieces", what)? {
            made.push((day, decision));
        }
    }
    Ok(standing_hands(made))
}

/// Adds decisions of one moment, all or none.
///
/// # Errors
/// When the database is away, or a day has more decisions than anybody makes.
pub async fn add(
    store: &Store,
    gym: GymId,
    day: NaiveDate,
    starts: Option<NaiveTime>,
    made: &[Decision],
) -> Result<(), StoreError> {
    let mut connection = store.connection().await?;
    let of_day = decisions::table.filter(decisions::gym_id.eq(gym.0)).filter(decisions::day.eq(day));
    let count: i64 = of_day.count().get_result(&mut connection).await?;
    if count + made.len() as i64 > MOST_A_DAY {
        return Err(StoreError::Refused(format!("a day has at most {MOST_A_DAY} decisions")));
    }
    let rows: Result<Vec<_>, StoreError> = made
        .iter()
        .map(|decision| {
            let starts = if decision.is_of_class() { key(starts) } else { String::new() };
            Ok((
                decisions::gym_id.eq(gym.0),
                decisions::day.eq(day),
                decisions::starts.eq(starts),
                decisions::about.eq(decision.about()),
                decisions::what.eq(what_of(decision)?),
            ))
        })
        .collect();
    diesel::insert_into(decisions::table).values(rows?).execute(&mut connection).await?;
    Ok(())
}

/// Forgets everything about somebody who has left.
pub(crate) async fn forget(
    connection: &mut AsyncPgConnection,
    gym: GymId,
    name: &str,
) -> Result<(), StoreError> {
    for decided in about(connection, gym, name).await? {
        let row = decisions::table.filter(decisions::gym_id.eq(gym.0)).filter(decisions::id.eq(decided.id));
        match decided.decision.without(name) {
            Some(left) => {
                diesel::update(row).set(decisions::what.eq(what_of(&left)?)).execute(connection).await?;
            }
            None => {
                diesel::delete(row).execute(connection).await?;
            }
        }
    }
    Ok(())
}

/// Every decision in which somebody is named.
pub(crate) async fn about(
    connection: &mut AsyncPgConnection,
    gym: GymId,
    name: &str,
) -> Result<Vec<Decided>, StoreError> {
    type Row = (i64, NaiveDate, String, String, serde_json::Value, DateTime<Utc>);
    let columns = (
        decisions::id,
        decisions::day,
        decisions::starts,
        decisions::about,
        decisions::what,
        decisions::made_at,
    );
    let rows: Vec<Row> = decisions::table
        .filter(decisions::gym_id.eq(gym.0))
        .order(decisions::id)
        .select(columns)
        .load(connection)
        .await?;
    let named = rows.into_iter().filter(|row| names(&row.4, name));
    named
        .map(|(id, day, starts, about, what, made_at)| {
            Ok(Decided { id, day, starts, decision: read(&about, what)?, made_at })
        })
        .collect()
}

/// Whether a name stands anywhere in a value, as a text, within one as whole words, or as a key.
pub(crate) fn names(value: &serde_json::Value, name: &str) -> bool {
    match value {
        serde_json::Value::String(text) => says(text, name),
        serde_json::Value::Array(all) => all.iter().any(|one| names(one, name)),
        serde_json::Value::Object(map) => map.iter().any(|(key, one)| key == name || names(one, name)),
        _ => false,
    }
}

/// Whether a text says a name as whole words: "Al" is not in "Alba".
fn says(text: &str, name: &str) -> bool {
    let inside = |c: Option<char>| c.is_some_and(char::is_alphanumeric);
    text.match_indices(name).any(|(at, _)| {
        !inside(text[..at].chars().next_back()) && !inside(text[at + name.len()..].chars().next())
    })
}

fn key(starts: Option<NaiveTime>) -> String {
    starts.map_or(String::new(), |starts| starts.format("%H:%M").to_string())
}

fn read(about: &str, what: serde_json::Value) -> Result<Decision, StoreError> {
    let whole = serde_json::json!({"about": about, "what": what});
    serde_json::from_value(whole).map_err(StoreError::unreadable("decision"))
}

fn what_of(decision: &Decision) -> Result<serde_json::Value, StoreError> {
    let mut whole = serde_json::to_value(decision).map_err(StoreError::unreadable("decision"))?;
    Ok(whole["what"].take())
}

#[cfg(test)]
mod tests {
    use serde_json::json;

    use super::names;

    #[test]
    fn a_name_is_found_wherever_it_stands_and_not_within_another() {
        for value in
            [json!("Al"), json!(["x", "for Al, lighter"]), json!({"Al": 1}), json!({"who": {"name": "Al"}})]
        {
            assert!(names(&value, "Al"), "{value}");
        }
        for value in [json!("Alba"), json!(["Sal"]), json!({"Alba": 1}), json!(7)] {
            assert!(!names(&value, "Al"), "{value}");
        }
    }
}
