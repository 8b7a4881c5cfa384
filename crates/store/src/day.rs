//! What is stored about a day and those before it, in one query: a page of the day asks for all of it at once.

use std::collections::BTreeMap;

use chrono::{NaiveDate, NaiveTime};
use diesel::sql_types::{BigInt, Date, Jsonb, Text};
use diesel_async::RunQueryDsl;
use serde::de::DeserializeOwned;
use serde_json::Value;

use crate::decisions::Standing;
use crate::pieces::{Kept, StoredPiece};
use crate::results::LastTime;
use crate::rows::StoredClass;
use crate::sessions::StoredSession;
use crate::{GymScope, PieceId, StoreError, decisions, pieces, results};

/// What is stored about a day and those before it.
#[derive(Clone, Debug)]
pub struct DayRows {
    /// The texts, by day.
    pub texts: Vec<StoredSession>,
    /// The kept parts of each day that has some.
    pub kept: BTreeMap<NaiveDate, Kept>,
    /// What is decided about the last day, or one of its classes.
    pub standing: Standing,
    /// The classes in order, with who is booked.
    pub classes: Vec<StoredClass>,
    /// What members did of the last day's parts the last time.
    pub last: Vec<LastTime>,
    /// What is noted about the class; nothing where nobody noted anything.
    pub note: String,
}

#[derive(diesel::QueryableByName)]
struct Row {
    #[diesel(sql_type = Jsonb)]
    texts: Value,
    #[diesel(sql_type = Jsonb)]
    pieces: Value,
    #[diesel(sql_type = Jsonb)]
    decisions: Value,
    #[diesel(sql_type = Jsonb)]
    classes: Value,
    #[diesel(sql_type = Jsonb)]
    last: Value,
    #[diesel(sql_type = Text)]
    note: String,
}

/// Each subquery is what `sessions::between`, `pieces::kept` with `pieces::of_day`, `decisions::standing` and `classes::between` ask for.
const ALL: &str = "
select
  coalesce((select jsonb_agg(jsonb_build_object('day', day, 'text', text, 'revision', revision,
      'updated_at', updated_at, 'corrections', corrections) order by day)
    from sessions where gym_id = $1 and day between $2 and $3), '[]') as texts,
  coalesce((select jsonb_agg(jsonb_build_object('day', day, 'id', id, 'place', place, 'kind', kind, 'words', words,
      'tree', case when place is not null then tree end, 'reader', reader) order by day, place nulls last, id desc)
    from pieces where gym_id = $1 and day between $2 and $3 and (place is not null or day = $3)), '[]') as pieces,
  coalesce((select jsonb_agg(jsonb_build_array(about, starts, what) order by id)
    from decisions where gym_id = $1 and day = $3 and undone_at is null), '[]') as decisions,
  coalesce((select jsonb_agg(jsonb_build_object('id', c.id, 'day', c.day, 'starts', c.starts, 'minutes', c.minutes,
      'coach', c.coach, 'booked', coalesce(w.booked, '[]'), 'away', coalesce(w.away, '[]'), 'joined', coalesce(w.joined, '[]')) order by c.day, c.starts)
    from classes c cross join lateral (select jsonb_agg(b.member_id order by b.id) as booked,
        jsonb_agg(b.member_id order by b.id) filter (where b.came = 'away') as away,
        jsonb_agg(b.member_id order by b.id) filter (where b.came = 'joined') as joined
      from bookings b where b.gym_id = c.gym_id and b.class_id = c.id) w
    where c.gym_id = $1 and c.day between $2 and $3), '[]') as classes,
  coalesce((select jsonb_agg(jsonb_build_object('place', t.place, 'member', x.member_id, 'day', x.day,
      'word_for_word', x.word_for_word, 'what', x.what #- '{predicted,rests}') order by t.place, x.member_id)
    from pieces t cross join lateral (
      select distinct on (r.member_id) r.member_id, r.day, r.what, p.fingerprint = t.fingerprint as word_for_word
      from (select p.gym_id, p.id, p.fingerprint from pieces p
          where p.gym_id = t.gym_id and p.shape = t.shape and p.day < t.day order by p.day desc limit 24) p
        join results r on r.gym_id = p.gym_id and r.piece_id = p.id and r.undone_at is null
          and ($4 = '' or r.member_id = any (array(
            select b.member_id from classes c join bookings b on b.gym_id = c.gym_id and b.class_id = c.id
            where c.gym_id = $1 and c.day = $3 and to_char(c.starts, 'HH24:MI') = $4)))
      order by r.member_id, r.day desc, r.id desc) x
    where t.gym_id = $1 and t.day = $3 and t.place is not null), '[]') as last,
  coalesce((select h.what ->> 'text' from happenings h where h.gym_id = $1 and h.day = $3 and h.starts = $4
      and h.what ->> 'what' = 'note' order by h.at_ms desc, h.id desc limit 1), '') as note";

/// A part as it comes with the day.
#[derive(serde::Deserialize)]
struct Piece {
    day: NaiveDate,
    id: PieceId,
    place: Option<i32>,
    kind: String,
    words: String,
    tree: Option<Value>,
    reader: String,
}

/// What is stored from one day to another, both included; decisions are those about the last, and about the class of it that starts then.
///
/// # Errors
/// When the database is away, or a row cannot be read.
pub async fn rows(
    scope: &mut GymScope,
    from: NaiveDate,
    day: NaiveDate,
    starts: Option<NaiveTime>,
) -> Result<DayRows, StoreError> {
    let query = diesel::sql_query(ALL)
        .bind::<BigInt, _>(scope.gym.0)
        .bind::<Date, _>(from)
        .bind::<Date, _>(day)
        .bind::<Text, _>(results::key(starts));
    let row: Row = query.get_result(scope.connection()).await?;
    let mut kept: BTreeMap<NaiveDate, Kept> = BTreeMap::new();
    let mut of_day: Vec<StoredPiece> = Vec::new();
    for piece in read::<Vec<Piece>>("part", row.pieces)? {
        if piece.day == day {
            of_day.push(pieces::stored(piece.id, piece.place, piece.kind, piece.words)?);
        }
        if let Some(tree) = piece.tree {
            let part = serde_json::from_value(tree).map_err(StoreError::unreadable("part"))?;
            let new = || Kept { parts: Vec::new(), reader: piece.reader };
            kept.entry(piece.day).or_insert_with(new).parts.push(part);
        }
    }
    Ok(DayRows {
        texts: read("day", row.texts)?,
        kept,
        standing: decisions::standing_of(read("decision", row.decisions)?, starts, of_day)?,
        classes: read("class", row.classes)?,
        last: read("result", row.last)?,
        note: row.note,
    })
}

fn read<T: DeserializeOwned>(what: &'static str, value: Value) -> Result<T, StoreError> {
    serde_json::from_value(value).map_err(StoreError::unreadable(what))
}

/// What stands for a day, and for one of its classes.
///
/// # Errors
/// When the database is away, or a row cannot be read.
pub async fn standing(
    scope: &mut GymScope,
    day: NaiveDate,
    starts: Option<NaiveTime>,
) -> Result<decisions::Standing, StoreError> {
    Ok(rows(scope, day, day, starts).await?.standing)
}
