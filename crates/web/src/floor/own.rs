//! What of a class is somebody's own: what they lift, what they do, and where they should be when.

use lantern_core::gym::Gym;
use lantern_core::plan::{PiecePlan, StrengthPlan};
use lantern_core::strength::{LiftSheet, Record, sets_now};
use lantern_store::lifts::StoredLift;
use serde::Serialize;

use crate::planning::plans::Planned;

/// What of a class is somebody's own.
#[derive(Serialize)]
pub(crate) struct Own {
    lifts: Vec<OwnLift>,
    pieces: Vec<OwnPiece>,
}

#[derive(Serialize)]
struct OwnLift {
    part: usize,
    /// What goes on the bar in each work set: `5 x 82.5`.
    sets: Vec<String>,
    /// Why those that are left are others than planned, or where to begin.
    why: Option<String>,
}

#[derive(Serialize)]
struct OwnPiece {
    part: usize,
    /// Seconds after the first start.
    start_s: u32,
    /// Seconds from one's own start, and where one should be then.
    checkpoints: Vec<(u32, String)>,
    /// Set breaks, the opening, what to hold.
    advice: Vec<String>,
    behind: Vec<String>,
}

impl Own {
    /// Of a member, with the sets that they have lifted already.
    pub fn of(planned: &Planned, place: usize, done: &[StoredLift]) -> Self {
        let Planned { plan, gym, people, .. } = planned;
        let sheets = sheets_of(&plan.strength, &people[place].name);
        let lifts = sheets.map(|(part, sheet)| {
            let of_lift = done.iter().filter(|set| set.lift == sheet.lift);
            let done: Vec<Record> = of_lift.map(|set| set.record(set.set_on)).collect();
            OwnLift::new(part, sheet, &done, gym)
        });
        let start_s = |piece: &PiecePlan| {
            let floor = plan.floors.iter().find(|floor| floor.part == piece.part);
            floor.and_then(|floor| floor.floor.starts.get(place)).map_or(0, |start| start.offset_s)
        };
        let pieces = plan.pieces.iter().map(|piece| OwnPiece::new(piece, place, start_s(piece)));
        Self { lifts: lifts.collect(), pieces: pieces.collect() }
    }

    /// Of somebody of whom only a level is known: a guess.
    pub fn of_typical(planned: &Planned, level: usize) -> Self {
        let typical = planned.typical();
        let sheets = sheets_of(&typical.strength, &typical.people[level].name);
        let lifts = sheets.map(|(part, sheet)| OwnLift::new(part, sheet, &[], &planned.gym));
        let pieces = typical.pieces.iter().map(|piece| OwnPiece::new(piece, level, 0));
        Self { lifts: lifts.collect(), pieces: pieces.collect() }
    }
}

fn sheets_of<'a>(lifts: &'a [StrengthPlan], name: &str) -> impl Iterator<Item = (usize, &'a LiftSheet)> {
    let all = lifts.iter().flat_map(|lift| lift.sheets.iter().map(|sheet| (lift.part, sheet)));
    all.filter(move |(_, sheet)| sheet.name == name)
}

impl OwnLift {
    fn new(part: usize, sheet: &LiftSheet, done: &[Record], gym: &Gym) -> Self {
        let (sets, why) = sets_now(sheet, done, gym);
        Self { part, sets, why: why.or_else(|| sheet.by_feel.clone()) }
    }
}

impl OwnPiece {
    fn new(piece: &PiecePlan, place: usize, start_s: u32) -> Self {
        let targets = &piece.members[place].targets;
        let checkpoints = targets.checkpoints.iter().map(|point| (point.at_s, point.text.clone()));
        Self {
            part: piece.part,
            start_s,
            checkpoints: checkpoints.collect(),
            advice: targets.advice.clone(),
            behind: targets.behind.clone(),
        }
    }
}
