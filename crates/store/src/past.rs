//! Lifts and results of before, taken in from a table at once and taken back at once.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{NaiveDate, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use lantern_core::book::Entry;
use lantern_core::gym::Gym;

use crate::learned::tell_again;
use crate::lifts::{NewLift, add_once};
use crate::pieces::{self, NewPiece};
use crate::schema::{maxes, results};
use crate::{GymScope, MemberId, PieceId, StoreError};

/// In front of the key of whatever came from a table.
const FROM_A_TABLE: &str = "table-";

/// A result of before.
#[derive(Clone, Debug)]
pub struct OldResult {
    /// Whose it is.
    pub member: MemberId,
    /// When it was done.
    pub day: NaiveDate,
    /// What the piece was.
    pub piece: NewPiece,
    /// What it is.
    pub entry: Entry,
}

/// Takes all of it in, or nothing, under a key: what arrives twice is there once.
///
/// # Errors
/// When the database is away, an entry cannot be kept, or a member has left meanwhile.
pub async fn take_in(
    scope: &mut GymScope,
    (lifts, old): (&[(MemberId, NewLift<'_>)], &[OldResult]),
    (key, by): (&str, &str),
    gym: &Gym,
) -> Result<(), StoreError> {
    let key = format!("{FROM_A_TABLE}{key}");
    add_once(scope, lifts, &key).await?;
    let mut known: BTreeMap<(NaiveDate, &str), PieceId> = BTreeMap::new();
    let (mut of_members, mut of_pieces) = (BTreeSet::new(), BTreeSet::new());
    for (n, result) in old.iter().enumerate() {
        result.entry.checked().map_err(StoreError::Refused)?;
        let same = (result.day, result.piece.likeness.words.as_str());
        let piece = match known.get(&same) {
            Some(piece) => *piece,
            None => pieces::past(scope, result.day, &result.piece).await?,
        };
        known.insert(same, piece);
        of_members.insert(result.member);
        of_pieces.insert(piece);
        let row = (
            results::gym_id.eq(scope.gym.0),
            results::day.eq(result.day),
            results::starts.eq(""),
            results::piece_id.eq(piece),
            results::member_id.eq(result.member),
            results::what.eq(serde_json::to_value(&result.entry).map_err(StoreError::unreadable("result"))?),
            results::key.eq(format!("{key}-{n}")),
            results::made_by.eq(by),
        );
        diesel::insert_into(results::table)
            .values(row)
            .on_conflict((results::gym_id, results::key))
            .do_nothing()
            .execute(scope.connection())
            .await?;
    }
    tell_again(scope, gym, (&of_members, &of_pieces)).await
}

/// Takes back whatever came from one table: lifts go, results are marked as taken back. Gives how many rows that were.
///
/// # Errors
/// When the database is away, or nothing came under the key.
pub async fn take_back(
    scope: &mut GymScope,
    (key, by): (&str, &str),
    gym: &Gym,
) -> Result<usize, StoreError> {
    // A key is letters and digits, so that none of it is a pattern.
    if key.is_empty() || !key.chars().all(|c| c.is_ascii_alphanumeric() || c == '-') {
        return Err(StoreError::NotFound("import"));
    }
    let like = format!("{FROM_A_TABLE}{key}-%");
    let lifts = maxes::table.filter(maxes::gym_id.eq(scope.gym.0)).filter(maxes::undo_key.like(&like));
    let gone = diesel::delete(lifts).execute(scope.connection()).await?;
    let rows = results::table
        .filter(results::gym_id.eq(scope.gym.0))
        .filter(results::key.like(&like))
        .filter(results::undone_at.is_null());
    let back: Vec<(MemberId, PieceId)> = diesel::update(rows)
        .set((results::undone_at.eq(Some(Utc::now())), results::undone_by.eq(Some(by))))
        .returning((results::member_id, results::piece_id))
        .get_results(scope.connection())
        .await?;
    if gone + back.len() == 0 {
        return Err(StoreError::NotFound("import"));
    }
    let (of_members, of_pieces) = back.iter().copied().unzip();
    tell_again(scope, gym, (&of_members, &of_pieces)).await?;
    Ok(gone + back.len())
}
