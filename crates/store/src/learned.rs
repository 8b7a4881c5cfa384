//! What results tell of pace, kept beside the members and the pieces that it is about.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Duration, NaiveDate, NaiveTime, Utc};
use diesel::prelude::*;
use diesel::sql_types::{Array, BigInt, Date, Jsonb, Nullable, Text, Timestamptz};
use diesel_async::RunQueryDsl;
use lantern_core::book::{Entry, LATE_HOURS, Told, ToldByClass};
use lantern_core::gym::Gym;
use serde_json::Value;

use crate::schema::{members, pieces};
use crate::{GymScope, MemberId, PieceId, StoreError, clock};

/// Most results of a member that are looked at, the newest.
const MOST_OF_A_MEMBER: i32 = 40;
/// Most results of a piece: of all classes of its day.
const MOST_OF_A_PIECE: i32 = 1_000;

/// What stands of results of some members and pieces: of each member in each piece the newest that nobody has taken back. `$2` the members, `$3` the
/// pieces, `$4` and `$5` how many of each.
const STANDING: &str = "
with of_members as (
    select r.* from unnest($2) m cross join lateral (
        select distinct on (r.day, r.piece_id) r.* from results r
        where r.gym_id = $1 and r.member_id = m and r.undone_at is null
        order by r.day desc, r.piece_id, r.id desc limit $4) r),
of_pieces as (
    select r.* from unnest($3) p cross join lateral (
        select distinct on (r.member_id) r.* from results r
        where r.gym_id = $1 and r.piece_id = p and r.undone_at is null
        order by r.member_id, r.id desc limit $5) r)
select day, starts, piece_id, member_id, what, made_at, null::bigint as of_piece from of_members
union all
select day, starts, piece_id, member_id, what, made_at, piece_id from of_pieces
order by day, piece_id, member_id";

#[derive(QueryableByName)]
struct Row {
    #[diesel(sql_type = Date)]
    day: NaiveDate,
    #[diesel(sql_type = Text)]
    starts: String,
    #[diesel(sql_type = BigInt)]
    member_id: MemberId,
    #[diesel(sql_type = Jsonb)]
    what: Value,
    #[diesel(sql_type = Timestamptz)]
    made_at: DateTime<Utc>,
    #[diesel(sql_type = Nullable<BigInt>)]
    of_piece: Option<PieceId>,
}

impl Row {
    fn tells(&self, gym: &Gym) -> Result<Option<Told>, StoreError> {
        let entry: Entry =
            serde_json::from_value(self.what.clone()).map_err(StoreError::unreadable("result"))?;
        let late = match NaiveTime::parse_from_str(&self.starts, "%H:%M") {
            Ok(starts) => self.made_at > clock::moment(gym, self.day, starts) + Duration::hours(LATE_HOURS),
            Err(_) => clock::day_at(gym, self.made_at) > self.day,
        };
        Ok(entry.tells(self.day, late))
    }
}

/// Makes what is told of these members and pieces anew, from the results that stand.
///
/// # Errors
/// When the database is away, or a row cannot be read.
pub(crate) async fn tell_again(
    scope: &mut GymScope,
    gym: &Gym,
    (of_members, of_pieces): (&BTreeSet<MemberId>, &BTreeSet<PieceId>),
) -> Result<(), StoreError> {
    let numbers: Vec<i64> = of_members.iter().map(|id| id.number()).collect();
    let rows: Vec<Row> = diesel::sql_query(STANDING)
        .bind::<BigInt, _>(scope.gym.0)
        .bind::<Array<BigInt>, _>(&numbers)
        .bind::<Array<BigInt>, _>(of_pieces.iter().map(|id| id.number()).collect::<Vec<i64>>())
        .bind::<diesel::sql_types::Integer, _>(MOST_OF_A_MEMBER)
        .bind::<diesel::sql_types::Integer, _>(MOST_OF_A_PIECE)
        .load(scope.connection())
        .await?;
    let mut by_member: BTreeMap<MemberId, Vec<Told>> = BTreeMap::new();
    let mut by_piece: BTreeMap<PieceId, Vec<Told>> = BTreeMap::new();
    for row in &rows {
        let Some(told) = row.tells(gym)? else { continue };
        match row.of_piece {
            Some(piece) => by_piece.entry(piece).or_default().push(told),
            None => by_member.entry(row.member_id).or_default().push(told),
        }
    }
    let kept = |told: Result<Value, serde_json::Error>| told.map_err(StoreError::unreadable("result"));
    for member in of_members {
        let told = kept(serde_json::to_value(by_member.remove(member).unwrap_or_default()))?;
        let row = members::table.filter(members::gym_id.eq(scope.gym.0)).filter(members::id.eq(member));
        diesel::update(row).set(members::told.eq(told)).execute(scope.connection()).await?;
    }
    for piece in of_pieces {
        let told = by_piece.remove(piece).and_then(|all| ToldByClass::of(&all));
        let told = told.map(|told| kept(serde_json::to_value(told))).transpose()?;
        let row = pieces::table.filter(pieces::gym_id.eq(scope.gym.0)).filter(pieces::id.eq(piece));
        diesel::update(row).set(pieces::told.eq(told)).execute(scope.connection()).await?;
    }
    Ok(())
}
