//! Results: a row each time that somebody says one, only ever inserted.

use std::collections::BTreeSet;

use chrono::{DateTime, NaiveDate, NaiveTime, Utc};
use diesel::deserialize::{FromSql, FromSqlRow};
use diesel::pg::{Pg, PgValue};
use diesel::prelude::*;
use diesel::sql_types::{BigInt, Bool, Date, Integer, Jsonb, Text};
use diesel_async::RunQueryDsl;
use lantern_core::book::{Entry, OnRecord};
use lantern_core::gym::Gym;
use serde::Deserialize;
use serde_json::Value;

use crate::learned::tell_again;
use crate::pieces::{NewPiece, known_or_kept};
use crate::schema::{pieces, results};
use crate::{GymScope, MemberId, PieceId, ResultId, StoreError};

/// Most results about one day; a gym has some hundred.
const MOST_A_DAY: i64 = 5_000;

/// A result to be kept.
#[derive(Clone, Debug)]
pub struct NewResult {
    /// The part's place in the text.
    pub part: usize,
    /// Whose it is.
    pub member: MemberId,
    /// What it is.
    pub entry: Entry,
    /// Made where it was entered: what arrives twice is kept once.
    pub key: String,
    /// When it was said, where that was not just now.
    pub said_at: Option<DateTime<Utc>>,
}

/// A result as it was said once.
#[derive(Clone, Debug, PartialEq)]
pub struct StoredResult {
    /// The row's id.
    pub id: ResultId,
    /// The day.
    pub day: NaiveDate,
    /// When the class starts, as 18:00; empty for the whole gym.
    pub starts: String,
    /// The part.
    pub piece: PieceId,
    /// Whose it is.
    pub member: MemberId,
    /// What it is.
    pub entry: Entry,
    /// When it was entered, and by whom.
    pub made: (DateTime<Utc>, String),
    /// When it was taken back, and by whom; none where it stands, or where a later one has taken its place.
    pub undone: Option<(DateTime<Utc>, String)>,
}

/// An entry as it is kept, read at once: a page of a class reads some hundred.
#[derive(Debug, FromSqlRow)]
struct Kept(Result<Entry, serde_json::Error>);

impl FromSql<Jsonb, Pg> for Kept {
    fn from_sql(bytes: PgValue<'_>) -> diesel::deserialize::Result<Self> {
        // The first byte is the version of the format; the rest is JSON.
        let json = bytes.as_bytes().get(1..).unwrap_or_default();
        Ok(Self(serde_json::from_slice(json)))
    }
}

#[derive(Queryable, QueryableByName, Selectable)]
#[diesel(table_name = results)]
struct Row {
    id: ResultId,
    day: NaiveDate,
    starts: String,
    piece_id: PieceId,
    member_id: MemberId,
    what: Kept,
    made_at: DateTime<Utc>,
    made_by: String,
    undone_at: Option<DateTime<Utc>>,
    undone_by: Option<String>,
}

impl Row {
    fn stored(self) -> Result<StoredResult, StoreError> {
        Ok(StoredResult {
            id: self.id,
            day: self.day,
            starts: self.starts,
            piece: self.piece_id,
            member: self.member_id,
            entry: self.what.0.map_err(StoreError::unreadable("result"))?,
            made: (self.made_at, self.made_by),
            undone: self.undone_at.map(|at| (at, self.undone_by.unwrap_or_default())),
        })
    }
}

/// A result of a part that stands in the text of a day.
#[derive(QueryableByName)]
struct OfPart {
    #[diesel(embed)]
    said: Row,
    #[diesel(sql_type = Integer)]
    place: i32,
    #[diesel(sql_type = Bool)]
    word_for_word: bool,
}

/// Keeps results of a class, all or none; what has arrived before is there already. Parts are named by their places in the text as it is read now.
///
/// # Errors
/// When the database is away, an entry cannot be kept, a day has more results than any gym, or one is about a part or member that is not there.
pub async fn add(
    scope: &mut GymScope,
    (day, starts): (NaiveDate, Option<NaiveTime>),
    (new, by): (&[NewResult], &str),
    (parts, gym): (&[NewPiece], &Gym),
) -> Result<(), StoreError> {
    let of_day = results::table.filter(results::gym_id.eq(scope.gym.0)).filter(results::day.eq(day));
    let count: i64 = of_day.count().get_result(scope.connection()).await?;
    if count + new.len() as i64 > MOST_A_DAY {
        return Err(StoreError::Refused(format!("a day has at most {MOST_A_DAY} results")));
    }
    let ids = known_or_kept(scope, day, parts).await?;
    let starts = key(starts);
    let (mut members, mut of_pieces) = (BTreeSet::new(), BTreeSet::new());
    let (now, mut rows) = (Utc::now(), Vec::new());
    for result in new {
        result.entry.checked().map_err(StoreError::Refused)?;
        let piece = *ids.get(result.part).ok_or(StoreError::NotFound("part"))?;
        members.insert(result.member);
        of_pieces.insert(piece);
        rows.push((
            results::gym_id.eq(scope.gym.0),
            results::day.eq(day),
            results::starts.eq(starts.clone()),
            results::piece_id.eq(piece),
            results::member_id.eq(result.member),
            results::what.eq(serde_json::to_value(&result.entry).map_err(StoreError::unreadable("result"))?),
            results::key.eq(&result.key),
            results::made_by.eq(by),
            results::made_at.eq(result.said_at.unwrap_or(now)),
        ));
    }
    diesel::insert_into(results::table)
        .values(rows)
        .on_conflict((results::gym_id, results::key))
        .do_nothing()
        .execute(scope.connection())
        .await?;
    tell_again(scope, gym, (&members, &of_pieces)).await
}

/// What was said about the parts of a class, newest first, by their places in the text; and what stands of days before of parts that say the same,
/// whatever the loads and the cap.
#[derive(Clone, Debug, Default)]
pub struct OfClass {
    /// Of the class itself, what was taken back among it.
    pub said: Vec<(usize, StoredResult)>,
    /// Of days before.
    pub before: Vec<(usize, StoredResult)>,
    /// Those of before whose piece had other loads, or another cap.
    pub otherwise: BTreeSet<ResultId>,
}

/// `t` are the parts of the day.
const SAID: &str = "
select r.*, t.place, true as word_for_word from pieces t
    join results r on r.gym_id = t.gym_id and r.piece_id = t.id
    where t.gym_id = $1 and t.day = $2 and t.place is not null and r.starts = $3
    order by r.id desc limit 5000";

/// `t` are the parts of the day, `p` the last ones before that say the same, of which results of the class's people are.
const BEFORE: &str = "
select r.*, t.place, p.fingerprint = t.fingerprint as word_for_word from pieces t
    cross join lateral (select p.gym_id, p.id, p.fingerprint from pieces p
        where p.gym_id = t.gym_id and p.shape = t.shape and p.day < $2 order by p.day desc limit 24) p
    join results r on r.gym_id = p.gym_id and r.piece_id = p.id and ($3 = '' or r.member_id = any (array(
        select b.member_id from classes c join bookings b on b.gym_id = c.gym_id and b.class_id = c.id
        where c.gym_id = $1 and c.day = $2 and to_char(c.starts, 'HH24:MI') = $3)))
    where t.gym_id = $1 and t.day = $2 and t.place is not null and r.undone_at is null
    order by r.day desc, r.id desc limit 2000";

/// What somebody did of a part the last time that it was programmed.
#[derive(Clone, Debug, PartialEq, Deserialize)]
pub struct LastTime {
    /// The part's place in the text of today.
    pub place: usize,
    /// Whose it is.
    pub member: MemberId,
    /// When.
    pub day: NaiveDate,
    /// Whether it was the same word for word: else its loads or its cap were others.
    pub word_for_word: bool,
    /// What it was.
    pub what: Entry,
}

/// What was said about a class, and about the same parts before.
///
/// # Errors
/// When the database is away, or a row cannot be read.
pub async fn of_class(
    scope: &mut GymScope,
    day: NaiveDate,
    starts: Option<NaiveTime>,
) -> Result<OfClass, StoreError> {
    // In one question: a page of a day asks a few times at most.
    let (mut found, mut before) = (OfClass::default(), Vec::new());
    let both = format!("({SAID}) union all ({BEFORE})");
    for OfPart { said, place, word_for_word } in of_parts(scope, &both, (day, starts)).await? {
        if !word_for_word {
            found.otherwise.insert(said.id);
        }
        let of = if said.day == day { &mut found.said } else { &mut before };
        of.push((place.unsigned_abs() as usize, said.stored()?));
    }
    found.before = standing(before);
    Ok(found)
}

/// What was said about a class, newest first, by the places of its parts in the text; what was taken back among it.
///
/// # Errors
/// When the database is away, or a row cannot be read.
pub async fn said(
    scope: &mut GymScope,
    day: NaiveDate,
    starts: Option<NaiveTime>,
) -> Result<Vec<(usize, StoredResult)>, StoreError> {
    let rows = of_parts(scope, SAID, (day, starts)).await?;
    rows.into_iter().map(|row| Ok((row.place.unsigned_abs() as usize, row.said.stored()?))).collect()
}

/// Results of the parts of a class, as a query finds them.
async fn of_parts(
    scope: &mut GymScope,
    query: &str,
    (day, starts): (NaiveDate, Option<NaiveTime>),
) -> Result<Vec<OfPart>, StoreError> {
    let found = diesel::sql_query(query)
        .bind::<BigInt, _>(scope.gym.0)
        .bind::<Date, _>(day)
        .bind::<Text, _>(key(starts));
    Ok(found.load(scope.connection()).await?)
}

/// A class as results name it; empty for the whole gym.
pub(crate) fn key(starts: Option<NaiveTime>) -> String {
    starts.map_or_else(String::new, |starts| starts.format("%H:%M").to_string())
}

/// What somebody has done, newest day first, at most so many; each with what the part says.
///
/// # Errors
/// When the database is away, or a row cannot be read.
pub async fn of_member(
    scope: &mut GymScope,
    member: MemberId,
    most: i64,
) -> Result<Vec<(StoredResult, String)>, StoreError> {
    let of_part = pieces::gym_id.eq(results::gym_id).and(pieces::id.eq(results::piece_id));
    let rows: Vec<(Row, String)> = results::table
        .inner_join(pieces::table.on(of_part))
        .filter(results::gym_id.eq(scope.gym.0))
        .filter(results::member_id.eq(member))
        .order((results::day.desc(), results::id.desc()))
        .limit(most)
        .select((Row::as_select(), pieces::words))
        .load(scope.connection())
        .await?;
    rows.into_iter().map(|(row, words)| Ok((row.stored()?, words))).collect()
}

/// Behind every day that the application speaks of.
pub const LAST_DAY: NaiveDate = NaiveDate::from_ymd_opt(2200, 1, 1).expect("a day of the calendar");
/// Most results that are looked back on at once.
const MOST_LOOKED_BACK: i64 = 20_000;

/// What stands of a gym's results since a day, newest first, at most so many as can be looked through at once.
///
/// # Errors
/// When the database is away, or a row cannot be read.
pub async fn since(scope: &mut GymScope, day: NaiveDate) -> Result<Vec<OnRecord>, StoreError> {
    between(scope, (day, LAST_DAY), MOST_LOOKED_BACK).await
}

/// The day of the first result.
///
/// # Errors
/// When the database is away.
pub async fn first_day(scope: &mut GymScope) -> Result<Option<NaiveDate>, StoreError> {
    let of_gym = results::table.filter(results::gym_id.eq(scope.gym.0));
    Ok(of_gym.select(diesel::dsl::min(results::day)).first(scope.connection()).await?)
}

/// What stands of a gym's results from one day to another, the last not included, newest first, at most so many.
///
/// # Errors
/// When the database is away, or a row cannot be read.
pub async fn between(
    scope: &mut GymScope,
    (from, to): (NaiveDate, NaiveDate),
    most: i64,
) -> Result<Vec<OnRecord>, StoreError> {
    let of_part = pieces::gym_id.eq(results::gym_id).and(pieces::id.eq(results::piece_id));
    let rows: Vec<(NaiveDate, MemberId, PieceId, Value, String)> = results::table
        .inner_join(pieces::table.on(of_part))
        .filter(results::gym_id.eq(scope.gym.0))
        .filter(results::day.ge(from))
        .filter(results::day.lt(to))
        .filter(results::undone_at.is_null())
        .distinct_on((results::day, results::piece_id, results::member_id))
        .order((results::day.desc(), results::piece_id.desc(), results::member_id, results::id.desc()))
        .limit(most)
        .select((results::day, results::member_id, results::piece_id, results::what, pieces::words))
        .load(scope.connection())
        .await?;
    rows.into_iter()
        .map(|(day, member, piece, what, words)| {
            let entry = serde_json::from_value(what).map_err(StoreError::unreadable("result"))?;
            Ok(OnRecord { day, member: member.number(), piece: piece.number(), words, entry })
        })
        .collect()
}

/// What stands of results, newest first: of each person in each part the newest that nobody has taken back.
pub fn standing(all: Vec<(usize, StoredResult)>) -> Vec<(usize, StoredResult)> {
    let mut seen = BTreeSet::new();
    all.into_iter()
        .filter(|(_, result)| result.undone.is_none())
        .filter(|(_, result)| seen.insert((result.piece, result.member)))
        .collect()
}

/// Takes a result back, or has it stand again where nobody is named. Twice is once.
///
/// # Errors
/// When the database is away, or the day has no such result.
pub async fn undo(
    scope: &mut GymScope,
    day: NaiveDate,
    id: ResultId,
    (by, gym): (Option<&str>, &Gym),
) -> Result<(), StoreError> {
    let row = results::table
        .filter(results::gym_id.eq(scope.gym.0))
        .filter(results::day.eq(day))
        .filter(results::id.eq(id));
    let known = row.select((results::member_id, results::piece_id));
    let known: Option<(MemberId, PieceId)> = known.first(scope.connection()).await.optional()?;
    let (member, piece) = known.ok_or(StoreError::NotFound("result"))?;
    let other = row.filter(results::undone_at.is_null().eq(by.is_some()));
    let change = (results::undone_at.eq(by.map(|_| Utc::now())), results::undone_by.eq(by));
    diesel::update(other).set(change).execute(scope.connection()).await?;
    tell_again(scope, gym, (&[member].into(), &[piece].into())).await
}
