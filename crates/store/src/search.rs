//! Days by words of their texts, as they were written and as they were read.

use chrono::NaiveDate;
use diesel::sql_types::{Array, BigInt, Date, Integer, Nullable, Text};
use diesel_async::RunQueryDsl;

use crate::{GymScope, StoreError};

/// A day with what it says.
#[derive(Clone, Debug, diesel::QueryableByName)]
pub struct FoundDay {
    /// The day.
    #[diesel(sql_type = Date)]
    pub day: NaiveDate,
    /// As it was written.
    #[diesel(sql_type = Text)]
    pub text: String,
    /// As its parts were read.
    #[diesel(sql_type = Text)]
    pub read: String,
}

/// Days of which every word stands in the text or in what was read of it, before a day where one is named, newest first.
const DAYS: &str = "
select day, text, read from (
    select s.day, s.text, coalesce((select string_agg(p.words, E'\\n' order by p.place) from pieces p
        where p.gym_id = s.gym_id and p.day = s.day and p.place is not null), '') as read
    from sessions s where s.gym_id = $1 and ($3 is null or s.day < $3)) d
where (text || E'\\n' || read) ilike all ($2) order by day desc limit $4";

/// Days that hold all of these words, newest first, at most so many; before a day where one is named.
///
/// # Errors
/// When the database is away.
pub async fn days(
    scope: &mut GymScope,
    words: &[String],
    (before, most): (Option<NaiveDate>, i32),
) -> Result<Vec<FoundDay>, StoreError> {
    let patterns: Vec<String> = words.iter().map(|word| format!("%{}%", literal(word))).collect();
    Ok(diesel::sql_query(DAYS)
        .bind::<BigInt, _>(scope.gym.0)
        .bind::<Array<Text>, _>(patterns)
        .bind::<Nullable<Date>, _>(before)
        .bind::<Integer, _>(most)
        .load(scope.connection())
        .await?)
}

/// A word that stands for itself in a pattern.
fn literal(word: &str) -> String {
    word.replace('\\', "\\\\").replace('%', "\\%").replace('_', "\\_")
}

#[cfg(test)]
mod tests {
    use super::literal;

    #[test]
    fn signs_of_patterns_stand_for_themselves() {
        assert_eq!(literal(r"80%_x\"), r"80\%\_x\\");
    }
}
