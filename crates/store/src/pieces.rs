//! Parts of a saved day, a row each: what a text says changes, and the part stays who it is.

use std::collections::BTreeMap;

use chrono::NaiveDate;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use lantern_core::movement::Catalogue;
use lantern_core::session::{Likeness, Part, PartKind, Session, same_parts};
use serde_json::Value;
use sha2::{Digest, Sha256};

use crate::schema::pieces;
use crate::{GymScope, PieceId, StoreError};

/// A part that has stood in the text of a day.
#[derive(Clone, Debug, PartialEq)]
pub struct StoredPiece {
    /// The row's id.
    pub id: PieceId,
    /// Its place among the parts of the text, from 0; none when it stands there no longer.
    pub place: Option<i32>,
    /// What tells it apart from others.
    pub likeness: Likeness,
}

/// A part as it is read now.
#[derive(Clone, Debug, PartialEq)]
pub struct NewPiece {
    /// What tells it apart from others.
    pub likeness: Likeness,
    /// What it says whatever its loads and its cap.
    pub shape: String,
    /// The part with its tree.
    pub tree: Value,
}

impl NewPiece {
    /// The parts of a session.
    pub fn of(session: &Session, catalogue: &Catalogue) -> Vec<Self> {
        let new = |part: &Part| Self {
            likeness: Likeness::of(part, catalogue),
            shape: fingerprint(&Likeness::whatever_the_load(part, catalogue)),
            tree: serde_json::to_value(part).unwrap_or_default(),
        };
        session.parts.iter().map(new).collect()
    }
}

/// All parts that have stood in the text of a day: those that stand there in its order, then those that are gone, newest first.
///
/// # Errors
/// When the database is away, or a row cannot be read.
pub async fn of_day(scope: &mut GymScope, day: NaiveDate) -> Result<Vec<StoredPiece>, StoreError> {
    let rows: Vec<(PieceId, Option<i32>, String, String)> = pieces::table
        .filter(pieces::gym_id.eq(scope.gym.0))
        .filter(pieces::day.eq(day))
        .order((pieces::place.asc().nulls_last(), pieces::id.desc()))
        .select((pieces::id, pieces::place, pieces::kind, pieces::words))
        .load(scope.connection())
        .await?;
    rows.into_iter().map(|(id, place, kind, words)| stored(id, place, kind, words)).collect()
}

/// A part of its columns.
pub(crate) fn stored(
    id: PieceId,
    place: Option<i32>,
    kind: String,
    words: String,
) -> Result<StoredPiece, StoreError> {
    let kind: PartKind =
        serde_json::from_value(Value::String(kind)).map_err(StoreError::unreadable("part"))?;
    Ok(StoredPiece { id, place, likeness: Likeness { kind, words } })
}

/// The parts of a day as they were kept.
#[derive(Clone, Debug, PartialEq)]
pub struct Kept {
    /// In the order of the text.
    pub parts: Vec<Part>,
    /// The reader that they were read by.
    pub reader: String,
}

/// The kept parts of each day from one to another, both included; a day without any is not among them.
///
/// # Errors
/// When the database is away, or a part cannot be read.
pub async fn kept(
    scope: &mut GymScope,
    from: NaiveDate,
    to: NaiveDate,
) -> Result<BTreeMap<NaiveDate, Kept>, StoreError> {
    let rows: Vec<(NaiveDate, Value, String)> = pieces::table
        .filter(pieces::gym_id.eq(scope.gym.0))
        .filter(pieces::day.between(from, to))
        .filter(pieces::place.is_not_null())
        .order((pieces::day, pieces::place))
        .select((pieces::day, pieces::tree, pieces::reader))
        .load(scope.connection())
        .await?;
    let mut days: BTreeMap<NaiveDate, Kept> = BTreeMap::new();
    for (day, tree, reader) in rows {
        let part: Part = serde_json::from_value(tree).map_err(StoreError::unreadable("part"))?;
        days.entry(day).or_insert_with(|| Kept { parts: Vec::new(), reader }).parts.push(part);
    }
    Ok(days)
}

/// Keeps the parts of a day as the reader of today reads them.
///
/// # Errors
/// When the database is away.
pub async fn read_anew(scope: &mut GymScope, day: NaiveDate, now: &[NewPiece]) -> Result<(), StoreError> {
    keep(scope, day, now).await.map(|_| ())
}

/// Which row each part of a text is; none for one that has no row yet.
pub fn matched(rows: &[StoredPiece], now: &[Likeness]) -> Vec<Option<PieceId>> {
    let (stand, gone): (Vec<&StoredPiece>, Vec<&StoredPiece>) =
        rows.iter().partition(|row| row.place.is_some());
    let likeness = |rows: &[&StoredPiece]| rows.iter().map(|row| row.likeness.clone()).collect::<Vec<_>>();
    let mut found: Vec<Option<PieceId>> =
        same_parts(&likeness(&stand), now).into_iter().map(|old| old.map(|old| stand[old].id)).collect();
    // What was taken out and comes back word for word is what it was.
    let mut gone: Vec<&StoredPiece> = gone;
    for (part, id) in now.iter().zip(&mut found).filter(|(_, id)| id.is_none()) {
        if let Some(at) = gone.iter().position(|row| row.likeness == *part) {
            *id = Some(gone.remove(at).id);
        }
    }
    found
}

/// The rows of the parts of a day as they are read now; parts that have none yet get one.
pub(crate) async fn known_or_kept(
    scope: &mut GymScope,
    day: NaiveDate,
    now: &[NewPiece],
) -> Result<Vec<PieceId>, StoreError> {
    let likeness: Vec<Likeness> = now.iter().map(|part| part.likeness.clone()).collect();
    let rows = of_day(scope, day).await?;
    match matched(&rows, &likeness).into_iter().collect() {
        Some(known) => Ok(known),
        None => keep(scope, day, now).await,
    }
}

/// Keeps the parts of a day as they are read now: each in the row that it had before, new ones in new rows; those that stand in the text no
/// longer keep theirs without a place. Gives the rows' ids in the order of the parts.
pub(crate) async fn keep(
    scope: &mut GymScope,
    day: NaiveDate,
    now: &[NewPiece],
) -> Result<Vec<PieceId>, StoreError> {
    // Two who keep the parts of one day at the same moment keep the same rows.
    diesel::sql_query("select pg_advisory_xact_lock(hashtextextended($1, 0))")
        .bind::<diesel::sql_types::Text, _>(format!("pieces {} {day}", scope.gym.0))
        .execute(scope.connection())
        .await?;
    let rows = of_day(scope, day).await?;
    let likeness: Vec<Likeness> = now.iter().map(|piece| piece.likeness.clone()).collect();
    let known = matched(&rows, &likeness);
    let of_day = pieces::table.filter(pieces::gym_id.eq(scope.gym.0)).filter(pieces::day.eq(day));
    diesel::update(of_day).set(pieces::place.eq(None::<i32>)).execute(scope.connection()).await?;
    let mut ids = Vec::new();
    for ((piece, known), place) in now.iter().zip(known).zip(0_i32..) {
        let kind = serde_json::to_value(piece.likeness.kind).map_err(StoreError::unreadable("part"))?;
        let what = (
            pieces::place.eq(place),
            pieces::kind.eq(kind.as_str().unwrap_or_default().to_owned()),
            pieces::words.eq(&piece.likeness.words),
            pieces::fingerprint.eq(fingerprint(&piece.likeness)),
            pieces::shape.eq(&piece.shape),
            pieces::tree.eq(&piece.tree),
            pieces::reader.eq(lantern_core::read::version()),
        );
        let id = match known {
            Some(id) => {
                let row = pieces::table.filter(pieces::gym_id.eq(scope.gym.0)).filter(pieces::id.eq(id));
                diesel::update(row).set(what).execute(scope.connection()).await?;
                id
            }
            None => {
                let new = (pieces::gym_id.eq(scope.gym.0), pieces::day.eq(day));
                diesel::insert_into(pieces::table)
                    .values((new, what))
                    .returning(pieces::id)
                    .get_result(scope.connection())
                    .await?
            }
        };
        ids.push(id);
    }
    Ok(ids)
}

/// The row of a part that was done on a day, whether it stands in the day's text or not: the one that says the same word for word, or a new one
/// without a place.
pub(crate) async fn past(
    scope: &mut GymScope,
    day: NaiveDate,
    piece: &NewPiece,
) -> Result<PieceId, StoreError> {
    let same = fingerprint(&piece.likeness);
    let known: Option<PieceId> = pieces::table
        .filter(pieces::gym_id.eq(scope.gym.0))
        .filter(pieces::day.eq(day))
        .filter(pieces::fingerprint.eq(&same))
        .order((pieces::place.asc().nulls_last(), pieces::id))
        .select(pieces::id)
        .first(scope.connection())
        .await
        .optional()?;
    if let Some(id) = known {
        return Ok(id);
    }
    let kind = serde_json::to_value(piece.likeness.kind).map_err(StoreError::unreadable("part"))?;
    let new = (
        pieces::gym_id.eq(scope.gym.0),
        pieces::day.eq(day),
        pieces::kind.eq(kind.as_str().unwrap_or_default().to_owned()),
        pieces::words.eq(&piece.likeness.words),
        pieces::fingerprint.eq(same),
        pieces::shape.eq(&piece.shape),
        pieces::tree.eq(&piece.tree),
        pieces::reader.eq(lantern_core::read::version()),
    );
    let made = diesel::insert_into(pieces::table).values(new).returning(pieces::id);
    Ok(made.get_result(scope.connection()).await?)
}

/// Takes a name out of what was written beside parts of any day.
pub(crate) async fn forget(scope: &mut GymScope, name: &str) -> Result<(), StoreError> {
    let of_gym = pieces::table.filter(pieces::gym_id.eq(scope.gym.0));
    let rows: Vec<(PieceId, Value)> =
        of_gym.select((pieces::id, pieces::tree)).load(scope.connection()).await?;
    for (id, read) in rows {
        let mut tree = read.clone();
        without(&mut tree, name);
        if tree == read {
            continue;
        }
        let row = pieces::table.filter(pieces::gym_id.eq(scope.gym.0)).filter(pieces::id.eq(id));
        diesel::update(row).set(pieces::tree.eq(tree)).execute(scope.connection()).await?;
    }
    Ok(())
}

/// Fields of a part in which a coach's own words stand; what a movement is called names nobody.
const OWN_WORDS: [&str; 3] = ["text", "heading", "feel"];

fn without(value: &mut Value, name: &str) {
    match value {
        Value::Array(all) => all.iter_mut().for_each(|one| without(one, name)),
        Value::Object(map) => {
            for (field, one) in map {
                match one {
                    Value::String(words) if OWN_WORDS.contains(&field.as_str()) => {
                        *words = crate::words::without(words, name);
                    }
                    other => without(other, name),
                }
            }
        }
        _ => {}
    }
}

/// What two texts have in common whose parts say the same word for word, in the same order: short enough for an address.
pub fn seen(parts: &[Likeness]) -> String {
    let all: Vec<String> = parts.iter().map(fingerprint).collect();
    Sha256::digest(all.concat()).iter().take(6).map(|byte| format!("{byte:02x}")).collect()
}

/// What two parts have in common that say the same word for word.
fn fingerprint(likeness: &Likeness) -> String {
    let digest = Sha256::digest(format!("{:?}\n{}", likeness.kind, likeness.words));
    digest.iter().map(|byte| format!("{byte:02x}")).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn a_name_goes_out_of_the_words_beside_a_part_and_out_of_no_movement() {
        let work = json!({"node": "work", "movement": "bench-press"});
        let mut part = json!({"tree": work, "alternatives": [{"text": "or BEN's way", "work": [work]}],
            "intents": [{"feel": "as Ben likes it"}], "heading": "Ben's piece"});
        without(&mut part, "Ben");
        assert_eq!(
            part,
            json!({"tree": work, "alternatives": [{"text": "or 's way", "work": [work]}],
                "intents": [{"feel": "as  likes it"}], "heading": "'s piece"})
        );
    }
}
