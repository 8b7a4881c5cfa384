//! What coaches have decided: a row each, only ever inserted.

use chrono::{DateTime, NaiveDate, NaiveTime, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use lantern_core::decide::{Decision, KnownPart, Naming, id_of, standing_hands};
use lantern_core::plan::Decisions;
use lantern_core::session::Likeness;
use lantern_core::versions::HandLine;

use crate::members;
use crate::pieces::{self, NewPiece, StoredPiece};
use crate::schema::decisions;
use crate::words::{names, says};
use crate::{DecisionId, GymScope, MemberId, PieceId, StoreError};

/// Most decisions about one day; a coach makes some dozens.
const MOST_A_DAY: i64 = 5_000;

/// A decision with when it was made, and about which class.
#[derive(Clone, Debug)]
pub struct Decided {
    /// The row's id.
    pub id: DecisionId,
    /// The day.
    pub day: NaiveDate,
    /// When the class starts, as 18:00; empty for the day or the whole gym.
    pub starts: String,
    /// What was decided.
    pub decision: Decision,
    /// When.
    pub made_at: DateTime<Utc>,
    /// Who decided, where that is known.
    pub made_by: String,
    /// When it was taken back, and by whom; none where it stands.
    pub undone: Option<(DateTime<Utc>, String)>,
}

/// A row as it is loaded.
#[derive(Queryable, Selectable)]
#[diesel(table_name = decisions)]
struct Row {
    id: DecisionId,
    day: NaiveDate,
    starts: String,
    about: String,
    what: serde_json::Value,
    made_at: DateTime<Utc>,
    made_by: String,
    undone_at: Option<DateTime<Utc>>,
    undone_by: Option<String>,
}

impl Row {
    fn decided(self) -> Result<Decided, StoreError> {
        Ok(Decided {
            id: self.id,
            day: self.day,
            starts: self.starts,
            decision: read(&self.about, self.what)?,
            made_at: self.made_at,
            made_by: self.made_by,
            undone: self.undone_at.map(|at| (at, self.undone_by.unwrap_or_default())),
        })
    }
}

/// What is decided about a day or a class of it, as its rows name it: members and parts by their ids.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Standing {
    made: Vec<Decision>,
    pieces: Vec<StoredPiece>,
}

impl Standing {
    /// Decisions as rows name them, with the parts that they are about.
    pub fn new(made: Vec<Decision>, pieces: Vec<StoredPiece>) -> Self {
        Self { made, pieces }
    }

    /// What stands for the parts of a text as they are read now, and for members as they are called now. What was decided about somebody
    /// who has left, or a part that was taken out, is not among it.
    pub fn of(&self, parts: &[Likeness], members: &[(MemberId, String)]) -> Decisions {
        let naming = Naming::to_plan(members, &known_parts(&self.pieces, parts));
        let mut all = Decisions::default();
        self.made.iter().filter_map(|made| made.told(&naming)).for_each(|decision| decision.apply(&mut all));
        all
    }
}

/// The parts of a text with the ids of their rows.
fn known_parts(rows: &[StoredPiece], parts: &[Likeness]) -> Vec<KnownPart> {
    let ids = pieces::matched(rows, parts);
    ids.into_iter().zip(parts).map(|(id, part)| (id.map(PieceId::number), part.kind)).collect()
}

/// What stands, of the rows of a day: what each is about, of which class, and what.
pub(crate) fn standing_of(
    rows: Vec<(String, String, serde_json::Value)>,
    starts: Option<NaiveTime>,
    pieces: Vec<StoredPiece>,
) -> Result<Standing, StoreError> {
    let class = key(starts);
    let mut made = Vec::new();
    for (about, starts, what) in rows {
        let decision = read(&about, what)?;
        if !decision.is_of_class() || starts == class {
            made.push(decision);
        }
    }
    let pieces = if made.is_empty() { Vec::new() } else { pieces };
    Ok(Standing { made, pieces })
}

/// Most lines written anew that are looked at for a habit, newest first.
const MOST_HANDS: i64 = 1_000;

/// Lines of the board's versions that coaches have written anew on any day and that still stand, in the order in which they were.
///
/// # Errors
/// When the database is away, or a row cannot be read.
pub async fn hands(scope: &mut GymScope) -> Result<Vec<(NaiveDate, HandLine)>, StoreError> {
    let rows: Vec<(NaiveDate, serde_json::Value)> = decisions::table
        .filter(decisions::gym_id.eq(scope.gym.0))
        .filter(decisions::about.eq("pieces"))
        .filter(decisions::undone_at.is_null())
        .filter(decisions::what.retrieve_as_text("decision").eq_any(["hand", "hand_back"]))
        .order(decisions::id.desc())
        .limit(MOST_HANDS)
        .select((decisions::day, decisions::what))
        .load(scope.connection())
        .await?;
    let mut made = Vec::new();
    for (day, what) in rows.into_iter().rev() {
        if let Decision::Pieces(decision) = read("pieces", what)? {
            made.push((day, decision));
        }
    }
    Ok(standing_hands(made))
}

/// Adds decisions of one moment, all or none, and says by which ids they are told and taken back. They are made about the parts of the text as
/// they are read now, by name and place; their rows name the same by id.
///
/// # Errors
/// When the database is away, a day has more decisions than anybody makes, or one is about a part that is not there.
pub async fn add(
    scope: &mut GymScope,
    (day, starts): (NaiveDate, Option<NaiveTime>),
    (made, by): (&[Decision], &str),
    parts: &[NewPiece],
) -> Result<Vec<DecisionId>, StoreError> {
    let of_day = decisions::table.filter(decisions::gym_id.eq(scope.gym.0)).filter(decisions::day.eq(day));
    let count: i64 = of_day.count().get_result(scope.connection()).await?;
    if count + made.len() as i64 > MOST_A_DAY {
        return Err(StoreError::Refused(format!("a day has at most {MOST_A_DAY} decisions")));
    }
    let naming = naming_of(scope, day, parts).await?;
    let rows: Result<Vec<_>, StoreError> = made
        .iter()
        .map(|decision| {
            let starts = if decision.is_of_class() { key(starts) } else { String::new() };
            let row = decision.told(&naming).ok_or(StoreError::NotFound("part"))?;
            Ok((
                decisions::gym_id.eq(scope.gym.0),
                decisions::day.eq(day),
                decisions::starts.eq(starts),
                decisions::about.eq(row.about()),
                decisions::what.eq(what_of(&row)?),
                decisions::by_id.eq(true),
                decisions::made_by.eq(by),
            ))
        })
        .collect();
    let added = diesel::insert_into(decisions::table).values(rows?).returning(decisions::id);
    Ok(added.get_results(scope.connection()).await?)
}

/// Most decisions of a day that are told.
const MOST_TOLD: i64 = 300;

/// Decisions about a day and its classes, newest first, those that were taken back among them: every one, or those with some ids.
///
/// # Errors
/// When the database is away, or a row cannot be read.
pub async fn history(
    scope: &mut GymScope,
    day: NaiveDate,
    ids: Option<&[DecisionId]>,
) -> Result<Vec<Decided>, StoreError> {
    let mut of_day = decisions::table
        .filter(decisions::gym_id.eq(scope.gym.0))
        .filter(decisions::day.eq(day))
        .into_boxed();
    if let Some(ids) = ids {
        of_day = of_day.filter(decisions::id.eq_any(ids.to_vec()));
    }
    let rows: Vec<Row> = of_day
        .order(decisions::id.desc())
        .limit(MOST_TOLD)
        .select(Row::as_select())
        .load(scope.connection())
        .await?;
    rows.into_iter().map(Row::decided).collect()
}

/// Takes decisions back, whatever came after them, or has them stand again where nobody is named. Twice is once.
///
/// # Errors
/// When the database is away, or the day lacks one of them.
pub async fn undo(
    scope: &mut GymScope,
    day: NaiveDate,
    ids: &[DecisionId],
    by: Option<&str>,
) -> Result<(), StoreError> {
    let rows = decisions::table
        .filter(decisions::gym_id.eq(scope.gym.0))
        .filter(decisions::day.eq(day))
        .filter(decisions::id.eq_any(ids.to_vec()));
    let known: i64 = rows.clone().count().get_result(scope.connection()).await?;
    if usize::try_from(known).ok() != Some(ids.len()) {
        return Err(StoreError::NotFound("decision"));
    }
    // Whoever was first is the one who took it back.
    let other = rows.filter(decisions::undone_at.is_null().eq(by.is_some()));
    let change = (decisions::undone_at.eq(by.map(|_| Utc::now())), decisions::undone_by.eq(by));
    diesel::update(other).set(change).execute(scope.connection()).await?;
    Ok(())
}

/// How the parts and members of a day are named in rows; parts that have no row yet get one.
async fn naming_of(scope: &mut GymScope, day: NaiveDate, parts: &[NewPiece]) -> Result<Naming, StoreError> {
    let ids = pieces::known_or_kept(scope, day, parts).await?;
    let known: Vec<KnownPart> =
        ids.into_iter().zip(parts).map(|(id, part)| (Some(id.number()), part.likeness.kind)).collect();
    Ok(Naming::to_rows(&members::called_by_id(scope).await?, &known))
}

/// Brings decisions of a day that name members and parts by name and place, as they all did once, to ids. What is about a part that is not
/// there stood for nothing and goes.
pub(crate) async fn bring_to_ids(
    scope: &mut GymScope,
    day: NaiveDate,
    parts: &[NewPiece],
) -> Result<(), StoreError> {
    let naming = naming_of(scope, day, parts).await?;
    let rows: Vec<(i64, String, serde_json::Value)> = decisions::table
        .filter(decisions::gym_id.eq(scope.gym.0))
        .filter(decisions::day.eq(day))
        .filter(decisions::by_id.eq(false))
        .order(decisions::id)
        .select((decisions::id, decisions::about, decisions::what))
        .load(scope.connection())
        .await?;
    for (id, about, what) in rows {
        let row = decisions::table.filter(decisions::gym_id.eq(scope.gym.0)).filter(decisions::id.eq(id));
        match read(&about, what)?.told(&naming) {
            Some(told) => {
                let told = (decisions::what.eq(what_of(&told)?), decisions::by_id.eq(true));
                diesel::update(row).set(told).execute(scope.connection()).await?;
            }
            None => {
                diesel::delete(row).execute(scope.connection()).await?;
            }
        }
    }
    Ok(())
}

/// Forgets everything about somebody who has left.
pub(crate) async fn forget(scope: &mut GymScope, (id, name): (MemberId, &str)) -> Result<(), StoreError> {
    for decided in about(scope, (id, name)).await? {
        let row =
            decisions::table.filter(decisions::gym_id.eq(scope.gym.0)).filter(decisions::id.eq(decided.id));
        // By id as a member, by name in a coach's own words.
        let left = decided.decision.without(&id_of(id)).and_then(|left| left.without(name));
        match left {
            Some(left) => {
                diesel::update(row)
                    .set(decisions::what.eq(what_of(&left)?))
                    .execute(scope.connection())
                    .await?;
            }
            None => {
                diesel::delete(row).execute(scope.connection()).await?;
            }
        }
    }
    Ok(())
}

/// Every decision in which somebody is named, as rows name them.
pub(crate) async fn about(
    scope: &mut GymScope,
    (id, name): (MemberId, &str),
) -> Result<Vec<Decided>, StoreError> {
    let rows: Vec<Row> = decisions::table
        .filter(decisions::gym_id.eq(scope.gym.0))
        .order(decisions::id)
        .select(Row::as_select())
        .load(scope.connection())
        .await?;
    let id = id_of(id);
    let by = |by: Option<&str>| by.is_some_and(|by| says(by, name));
    let named = rows.into_iter().filter(|row| {
        names(&row.what, &id)
            || names(&row.what, name)
            || by(Some(&row.made_by))
            || by(row.undone_by.as_deref())
    });
    named.map(Row::decided).collect()
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
