//! The plan for a class: warm-up, loads, versions, pace and the hour, from one session and its members.

mod json;
mod pacing_targets;

pub use json::plan_json;
pub use pacing_targets::{Checkpoint, PacingTargets, RoundTarget};
use pacing_targets::{Whose, pacing_targets};

use crate::cautions::{Caution, cautions};
use crate::gym::Gym;
use crate::hour::{Hour, lay_out};
use crate::member::Member;
use crate::movement::{Catalogue, MovementId};
use crate::pacing::{Days, Model, Window, intended_window};
use crate::session::{Part, PartKind, Session, works};
use crate::strength::{LiftSheet, RackPlan, SetKind, lift_sheet, rack_groups, with_cycles};
use crate::versions::{Choice, ClassVersion, Ladders, Options, PieceEdit, PieceEdits, World, for_class};
use crate::warmup::{Edits, Warmup, WarmupRequest, build_warmup};

/// Days drawn for each prediction.
pub const SAMPLES: u32 = 200;
/// Usual length of a general warm-up, in seconds.
const WARMUP_S: u32 = 600;

/// Everything a coach needs before class.
#[derive(Clone, Debug)]
pub struct Plan {
    /// The warm-up.
    pub warmup: Warmup,
    /// Load sheets, one for each lift.
    pub strength: Vec<StrengthPlan>,
    /// Conditioning, one for each piece.
    pub pieces: Vec<PiecePlan>,
    /// The hour.
    pub hour: Hour,
    /// What to look out for.
    pub cautions: Vec<Caution>,
}

/// A lift for the class.
#[derive(Clone, Debug)]
pub struct StrengthPlan {
    /// The part's place in the session.
    pub part: usize,
    /// The part as prescribed, with what a cycle filled in.
    pub prescription: Part,
    /// One sheet for each member and lift.
    pub sheets: Vec<LiftSheet>,
    /// Racks of each lift with a bar; places count within the lift's own sheets.
    pub racks: Vec<(MovementId, RackPlan)>,
}

/// A piece for the class.
#[derive(Clone, Debug)]
pub struct PiecePlan {
    /// The part's place in the session.
    pub part: usize,
    /// The intended result.
    pub window: Window,
    /// Class versions, as written first.
    pub versions: Vec<ClassVersion>,
    /// One entry for each member, in roster order.
    pub members: Vec<MemberPiece>,
}

/// A member's piece.
#[derive(Clone, Debug)]
pub struct MemberPiece {
    /// The member's name.
    pub name: String,
    /// Their six versions, the one chosen and the next best.
    pub options: Options,
    /// Splits, sets and checkpoints of the chosen version.
    pub targets: PacingTargets,
}

impl MemberPiece {
    /// As written.
    pub fn as_written(&self) -> &Choice {
        &self.options.as_written
    }

    /// The version chosen, by the coach or by the numbers.
    pub fn chosen(&self) -> &Choice {
        &self.options.all[self.options.chosen]
    }

    /// Whether the version chosen is not on stimulus because it ends ahead of a window too often: more can be offered.
    pub fn is_ahead(&self, window: &Window) -> bool {
        self.chosen().is_ahead(window)
    }

    /// The next best alternative.
    pub fn next(&self) -> Option<&Choice> {
        self.options.next.map(|place| &self.options.all[place])
    }
}

/// What coaches have decided about a day, which a rebuild keeps, and what went before it.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Decisions {
    /// About the warm-up.
    pub warmup: Edits,
    /// About the pieces: intended results and versions.
    pub pieces: PieceEdits,
    /// The sessions of the last four weeks, which say what is usual.
    pub recent: Vec<Session>,
}

impl PiecePlan {
    /// Members on stimulus as written, and with the chosen versions.
    pub fn on_stimulus(&self) -> (usize, usize) {
        let count =
            |test: fn(&MemberPiece) -> bool| self.members.iter().filter(|member| test(member)).count();
        (count(|m| m.as_written().on_stimulus), count(|m| m.chosen().on_stimulus))
    }

    /// The headline: `As written 5 of 14 are on stimulus. With these versions: 13.`
    pub fn headline(&self) -> String {
        let (before, after) = self.on_stimulus();
        let all = self.members.len();
        format!("As written {before} of {all} finish inside the window. With these versions: {after}.")
    }
}

/// Plans a session for a class. The same input and seed give the same plan.
pub fn plan(session: &Session, members: &[Member], gym: &Gym, catalogue: &Catalogue, seed: u64) -> Plan {
    plan_with(session, members, gym, catalogue, seed, &Decisions::default())
}

/// As [`plan`], with what coaches have decided.
pub fn plan_with(
    session: &Session,
    members: &[Member],
    gym: &Gym,
    catalogue: &Catalogue,
    seed: u64,
    decisions: &Decisions,
) -> Plan {
    let edits = &decisions.warmup;
    let session = &with_cycles(session, &gym.cycles, catalogue);
    let (model, ladders) = (Model::standard(), Ladders::standard());
    let days = Days::new(SAMPLES, seed);
    let world = World { catalogue, ladders, model, gym, days: &days };
    let own_warmup =
        session.parts.iter().find(|part| part.kind == PartKind::Warmup).and_then(|part| part.duration_s);
    let seconds = edits.minutes.map(|minutes| minutes * 60).or(own_warmup).unwrap_or(WARMUP_S);
    let warmup = build_warmup(WarmupRequest { session, seconds, edits, catalogue });
    let mut strength = Vec::new();
    let mut pieces = Vec::new();
    for (n, part) in session.parts.iter().enumerate() {
        match part.kind {
            PartKind::Strength => strength.push(strength_plan(n, part, members, gym, catalogue)),
            PartKind::Conditioning => {
                let edit = decisions.pieces.of(pieces.len());
                pieces.push(piece_plan(n, part, members, &edit, &world));
            }
            _ => {}
        }
    }
    let ramp_steps = strength.first().map_or(0, most_ramp_steps);
    let ends: Vec<(usize, f64)> = pieces.iter().map(|piece| (piece.part, latest_end(piece))).collect();
    let hour = lay_out(session, &warmup, &ends, ramp_steps, members.len(), gym, catalogue);
    let cautions = cautions(session, members, &decisions.recent, catalogue);
    Plan { warmup, strength, pieces, hour, cautions }
}

fn strength_plan(
    n: usize,
    part: &Part,
    members: &[Member],
    gym: &Gym,
    catalogue: &Catalogue,
) -> StrengthPlan {
    let mut lifts = Vec::new();
    for work in works(&part.tree) {
        if let Some(movement) = catalogue.get(&work.movement)
            && !lifts.iter().any(|known: &&crate::movement::Movement| known.id == movement.id)
        {
            lifts.push(movement);
        }
    }
    let sheets: Vec<LiftSheet> = members
        .iter()
        .flat_map(|member| lifts.iter().map(move |lift| lift_sheet(part, lift, member, gym, catalogue)))
        .collect();
    let racks = lifts
        .iter()
        .filter(|lift| lift.is_barbell())
        .map(|lift| {
            let of_lift: Vec<LiftSheet> =
                sheets.iter().filter(|sheet: &&LiftSheet| sheet.lift == lift.id.as_str()).cloned().collect();
            (lift.id.clone(), rack_groups(&of_lift, gym))
        })
        .collect();
    StrengthPlan { part: n, prescription: part.clone(), sheets, racks }
}

fn piece_plan(n: usize, part: &Part, members: &[Member], edit: &PieceEdit, world: &World<'_>) -> PiecePlan {
    let window = intended_window(part, world.catalogue, world.model).set_by_coach(edit.low, edit.high);
    let (versions, own) = for_class(part, members, &window, edit, world);
    let members = members
        .iter()
        .zip(own)
        .map(|(member, options)| {
            let choice = &options.all[options.chosen];
            let World { catalogue, model, .. } = *world;
            let targets = pacing_targets(Whose { part, choice, member, catalogue, model });
            MemberPiece { name: member.name.clone(), options, targets }
        })
        .collect();
    PiecePlan { part: n, versions, window, members }
}

fn most_ramp_steps(plan: &StrengthPlan) -> u32 {
    let steps = |sheet: &LiftSheet| sheet.sets.iter().filter(|set| set.kind == SetKind::Ramp).count() as u32;
    plan.sheets.iter().map(steps).max().unwrap_or(0)
}

fn latest_end(piece: &PiecePlan) -> f64 {
    piece.members.iter().map(|member| member.chosen().predicted.finish_s.p90).fold(0.0, f64::max)
}
