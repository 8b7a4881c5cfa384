//! The plan for a class: warm-up, loads, versions, pace and the hour, from one session and its members.

mod again;
mod climb;
mod floors;
mod here;
mod json;
mod lifts;
mod moves;
mod pacing_targets;
mod stop;
mod teams;
mod typical;
mod work_rows;

use std::collections::BTreeSet;

pub use again::{Before, Request};
use floors::floors_and_hour;
pub use here::Here;
pub use json::plan_json;
use lifts::{built_before, lift_time, strength_plan};
pub use moves::moves;
pub use pacing_targets::{Checkpoint, PacingTargets, RoundTarget};
use pacing_targets::{Whose, pacing_targets};
use stop::Budget;
pub use stop::{Stop, Unplanned};
use teams::team_up;
pub use teams::{OfTeam, TeamPlan};
pub use typical::Typical;
pub use work_rows::{WorkRow, work_rows};

use crate::cautions::{Caution, PastDay, cautions, crowding};
use crate::floor::{Doer, FloorPlan, Sketch, Team};
use crate::gym::Gym;
use crate::hour::{Hour, HourEdits, LiftTime, gym_today, is_missed, with_changes};
use crate::member::{Member, Sex};
use crate::movement::{Catalogue, MovementId};
use crate::pacing::{
    Athlete, Days, How, Luck, Model, Prediction, Verdict, Window, intended_window, simulate_as,
    typical_member,
};
use crate::print::work_lines;
use crate::session::{Part, PartKind, Session, works};
use crate::strength::{LiftSheet, LightSheet, LoadEdits, RackPlan, with_cycles};
use crate::versions::hand::{self, rewritten};
use crate::versions::rewrite::for_member;
use crate::versions::rules::cannot;
use crate::versions::{
    Choice, ClassVersion, Edit, HandLine, KnownPiece, Ladders, Options, PieceEdit, PieceEdits, World,
    for_class_again,
};
use crate::warmup::{Edits, Warmup, WarmupRequest, build_warmup, not_here, of_days_before};

/// Days drawn for each prediction.
pub const SAMPLES: u32 = 200;
/// What a piece costs however short it is, in steps: its versions are tried all the same.
const STEPS_A_PIECE: u32 = 150;
/// What a movement of a piece costs besides being walked, in steps.
const STEPS_A_MOVEMENT: u32 = 10;

/// Everything a coach needs before class.
#[derive(Clone, Debug, PartialEq)]
pub struct Plan {
    /// The day as planned: with what a cycle fills in, what was changed to fit the hour, and without what is missing today.
    pub session: Session,
    /// The warm-up.
    pub warmup: Warmup,
    /// Load sheets, one for each lift.
    pub strength: Vec<StrengthPlan>,
    /// Conditioning, one for each piece.
    pub pieces: Vec<PiecePlan>,
    /// Skill and home parts: who does what of them. They stand beside the class's pieces and take no place on its floor.
    pub beside: Vec<PiecePlan>,
    /// Starts, stations and teams, one for each piece.
    pub floors: Vec<PieceFloor>,
    /// The hour.
    pub hour: Hour,
    /// What to look out for.
    pub cautions: Vec<Caution>,
    /// What typical people would do, where nothing is known of somebody.
    pub typical: Option<Typical>,
    /// Parts that are more than one day can hold: kept and shown, but not planned for.
    pub unplanned: Vec<Unplanned>,
}

/// A lift for the class.
#[derive(Clone, Debug, PartialEq)]
pub struct StrengthPlan {
    /// The part's place in the session.
    pub part: usize,
    /// The part as prescribed, with what a cycle filled in.
    pub prescription: Part,
    /// The build before it that its shares are taken of, where they are of today's heaviest.
    pub built: Option<Part>,
    /// One sheet for each member and lift.
    pub sheets: Vec<LiftSheet>,
    /// Racks of each lift with a bar; places count within the lift's own sheets.
    pub racks: Vec<(MovementId, RackPlan)>,
    /// The lifts without a bar: with bells, and at home.
    pub light: Vec<LightSheet>,
    /// What the gym's plates cannot make, and what nothing says the sets of.
    pub notes: Vec<String>,
    /// Who of the class is not here, by name: on no rack, though their sheets stay.
    pub away: BTreeSet<String>,
}

impl StrengthPlan {
    /// The sheets of one of its lifts, as its racks count them.
    pub fn sheets_of(&self, lift: &str) -> Vec<&LiftSheet> {
        self.sheets.iter().filter(|sheet| sheet.written() == lift).collect()
    }

    /// The sheets of those who are here.
    fn sheets_here(&self) -> impl Iterator<Item = &LiftSheet> {
        self.sheets.iter().filter(|sheet| !self.away.contains(&sheet.name))
    }

    /// The lifts that were written, by id in the order of the text.
    pub fn written(&self) -> Vec<&str> {
        let mut written: Vec<&str> = Vec::new();
        for sheet in &self.sheets {
            if !written.contains(&sheet.written()) {
                written.push(sheet.written());
            }
        }
        written
    }

    /// How long it takes the class, as its sheets and racks say.
    pub fn time(&self) -> LiftTime {
        lift_time(self)
    }

    /// Most steps that anybody climbs to their first work set: counted within the lift's own time.
    pub fn ramp_steps(&self) -> u32 {
        lift_time(self).ramp_steps
    }
}

/// A piece for the class.
#[derive(Clone, Debug, PartialEq)]
pub struct PiecePlan {
    /// The part's place in the session.
    pub part: usize,
    /// The intended result.
    pub window: Window,
    /// Class versions, as written first.
    pub versions: Vec<ClassVersion>,
    /// One entry for each member, in roster order.
    pub members: Vec<MemberPiece>,
    /// Teams, where the piece is shared.
    pub teams: Vec<TeamPlan>,
}

/// The floor for a piece.
#[derive(Clone, Debug, PartialEq)]
pub struct PieceFloor {
    /// The part's place in the session.
    pub part: usize,
    /// Starts and stations.
    pub floor: FloorPlan,
    /// Teams, when the piece or the coach asks for them.
    pub teams: Vec<Team>,
    /// The floor from above, with places moved by hand.
    pub sketch: Sketch,
}

/// A member's piece.
#[derive(Clone, Debug, PartialEq)]
pub struct MemberPiece {
    /// The member's name.
    pub name: String,
    /// Their six versions, the one chosen and the next best.
    pub options: Options,
    /// Splits, sets and checkpoints of the chosen version.
    pub targets: PacingTargets,
    /// Why they cannot do it as written at all, and because of which movement.
    pub cannot: Option<(MovementId, String)>,
    /// What their team is expected to do, where the piece is shared.
    pub team: Option<OfTeam>,
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

    /// What to expect: of the team, where the piece is shared.
    pub fn predicted(&self) -> &Prediction {
        self.team.as_ref().map_or(&self.chosen().predicted, |team| &team.predicted)
    }

    /// Whether they, or their team, are on stimulus with the versions chosen.
    pub fn is_on_stimulus(&self) -> bool {
        self.team.as_ref().map_or(self.chosen().on_stimulus, |team| team.on_stimulus)
    }

    /// Whether they, or their team, are on stimulus as written.
    pub fn is_on_stimulus_as_written(&self) -> bool {
        self.team.as_ref().map_or(self.as_written().on_stimulus, |team| team.as_written)
    }

    /// How they, or their team, stand to a window.
    pub fn verdict(&self, window: &Window, model: &Model) -> Verdict {
        match &self.team {
            Some(team) if self.chosen().allowed => Verdict::of(&team.predicted, window, model),
            _ => self.chosen().verdict(window, model),
        }
    }

    /// One sentence about what to expect: of the team, where the piece is shared and nothing speaks against their version.
    pub fn reason(&self) -> String {
        match &self.team {
            Some(OfTeam { predicted, .. }) if self.chosen().allowed => {
                format!("with their team {}", predicted.said())
            }
            _ => self.chosen().reason.clone(),
        }
    }

    /// Whether the version chosen is not on stimulus because it ends ahead of a window too often: more can be offered.
    pub fn is_ahead(&self, window: &Window) -> bool {
        self.chosen().allowed && !self.is_on_stimulus() && window.leans_early(self.predicted().spread)
    }

    /// The heaviest load of the version chosen, in kilograms; 0 without one.
    pub fn heaviest_kg(&self) -> f64 {
        let loads = works(&self.chosen().tree).into_iter().filter_map(|work| work.load?.weight());
        loads.map(crate::units::Kilograms::kg).fold(0.0, f64::max)
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
    /// About whose loads are not held back.
    pub loads: LoadEdits,
    /// About the hour and the floor of the class.
    pub hour: HourEdits,
    /// The days of the last four weeks, which say what is usual.
    pub recent: Vec<PastDay>,
    /// Who of the class is here.
    pub here: Here,
}

impl PiecePlan {
    /// The piece as planned: as written, but for what was changed to fit the hour.
    pub fn written(&self) -> &Part {
        &self.versions[0].part
    }

    /// The class as the floor needs it; `people` are the same members in the same order.
    fn doers<'a>(&'a self, people: &'a [Member]) -> impl Iterator<Item = Doer<'a>> {
        let cap_s = self.written().cap_s.map_or(f64::INFINITY, f64::from);
        self.members.iter().zip(people).map(move |(member, person)| {
            let Choice { tree, run, .. } = member.chosen();
            let late_s = member.predicted().finish_s.p90.min(cap_s);
            Doer { name: &member.name, tree, run, late_s, cap_s, member: person }
        })
    }

    /// Lines that the coach has written anew and that do not fit the text any more; nothing of them is lost.
    pub fn unheld<'e>(&self, edit: &'e PieceEdit) -> Vec<&'e HandLine> {
        let held = |line: &&HandLine| {
            let of_line = Edit::by_hand(line);
            match &line.member {
                None => {
                    self.versions.iter().any(|own| own.name == line.version && own.edits.contains(&of_line))
                }
                Some(name) => self
                    .members
                    .iter()
                    .filter(|own| own.name == *name)
                    .flat_map(|own| own.options.all.iter())
                    .any(|own| own.version == line.version && own.edits.contains(&of_line)),
            }
        };
        edit.hand.iter().filter(|line| !held(line)).collect()
    }

    /// Whether a line can be written anew beside those of `edit`.
    ///
    /// # Errors
    /// The person or the line is not there any more, what is to stand there cannot be read, or there are too many.
    pub fn try_by_hand(
        &self,
        line: &HandLine,
        edit: &PieceEdit,
        catalogue: &Catalogue,
    ) -> Result<(), String> {
        if edit.hand.len() >= hand::MOST {
            return Err(format!("{} lines are written anew; take one of them back first", hand::MOST));
        }
        let tree = match &line.member {
            None => {
                let of_board = self.versions.iter().find(|version| version.name == line.version);
                of_board.map(|version| &version.part.tree)
            }
            Some(name) => self
                .members
                .iter()
                .filter(|member| member.name == *name)
                .flat_map(|member| member.options.all.iter())
                .find(|choice| choice.version == line.version)
                .map(|choice| &choice.tree),
        };
        let Some(tree) = tree else {
            return Err("who does it is not in this class any more".to_owned());
        };
        rewritten(self.written(), tree, &line.from, &line.to, catalogue).map(|_| ())
    }

    /// The lines of what the `n`th member does that are not those of the version on the board, with their own of its pairs of numbers.
    pub fn own_lines(&self, n: usize, person: &Member, gym: &Gym, catalogue: &Catalogue) -> Vec<String> {
        let (chosen, part) = (self.members[n].chosen(), self.written());
        let Some(board) = self.versions.iter().find(|version| version.name == chosen.version) else {
            return Vec::new();
        };
        let of_board = work_lines(part, &for_member(&board.part, person, gym, catalogue), catalogue);
        let mut own = work_lines(part, &chosen.tree, catalogue);
        own.retain(|line| !of_board.contains(line));
        own
    }

    /// Members on stimulus as written, and with the chosen versions.
    pub fn on_stimulus(&self) -> (usize, usize) {
        let count =
            |test: fn(&MemberPiece) -> bool| self.members.iter().filter(|member| test(member)).count();
        (count(MemberPiece::is_on_stimulus_as_written), count(MemberPiece::is_on_stimulus))
    }

    /// The headline: `As written 5 of 14 finish inside the window; with these versions 11 do, and 2 could do more.`
    pub fn headline(&self) -> String {
        let (before, after) = self.on_stimulus();
        let all = self.members.len();
        // Ahead of the window on most days, or too often; nobody is given more unasked.
        let more = match self.members.iter().filter(|member| member.is_ahead(&self.window)).count() {
            0 => String::new(),
            ahead => format!(", and {ahead} could do more"),
        };
        format!(
            "As written {before} of {all} finish inside the window; with these versions {after} do{more}."
        )
    }
}

/// Plans a session for a class. The same input and seed give the same plan.
pub fn plan(session: &Session, members: &[Member], gym: &Gym, catalogue: &Catalogue, seed: u64) -> Plan {
    plan_with(Request { session, members, gym, catalogue, seed, decisions: &Decisions::default() })
}

/// As [`plan`], with what coaches have decided.
pub fn plan_with(request: Request<'_>) -> Plan {
    plan_again(request, None)
}

/// As [`plan_with`]; what an earlier plan of the day already holds is taken from there instead of worked out
/// anew. The result is the same.
pub fn plan_again(request: Request<'_>, before: Option<Before<'_>>) -> Plan {
    plan_until(request, before, &Stop::default()).expect("nobody says stop")
}

/// As [`plan_again`], given up as soon as somebody says stop; then there is no plan.
pub fn plan_until(request: Request<'_>, before: Option<Before<'_>>, stop: &Stop) -> Option<Plan> {
    let before = before.filter(|before| before.speaks_for(&request));
    let changes = &request.decisions.hour.changes;
    // From here on the gym is what the class finds today.
    let today = &gym_today(request.gym, changes);
    let of_cycle = with_cycles(request.session, &today.cycles, request.catalogue);
    let session = &with_changes(&of_cycle, changes, request.gym, request.catalogue);
    let Request { members, gym, catalogue, seed, decisions, .. } = Request { gym: today, ..request };
    let (model, ladders) = (Model::standard(), Ladders::standard());
    let days = Days::new(SAMPLES, seed);
    let world = World { catalogue, ladders, model, gym, days: &days };
    let (minutes, pinned) = (decisions.warmup.minutes, decisions.hour.pins.get("warmup").copied());
    let seconds = pinned.or(minutes.map(|minutes| minutes * 60));
    let change_s = if pinned.is_some() { 0 } else { decisions.hour.warmup_change_s() };
    let known = before.and_then(|before| before.warmup(&request));
    let warmup = known.unwrap_or_else(|| {
        let lacks = not_here(gym, &|movement| is_missed(changes, movement), catalogue);
        let edits = &decisions.warmup;
        let people = decisions.here.count(members) as u32;
        let past = of_days_before(&decisions.recent, gym, people, catalogue);
        let (lacks, past) = (&lacks[..], &past[..]);
        build_warmup(WarmupRequest { session, seconds, change_s, edits, gym, people, lacks, past, catalogue })
    });
    let (mut strength, mut pieces, mut unplanned) = (Vec::new(), Vec::new(), Vec::new());
    let mut beside = Vec::new();
    let mut budget = Budget::new(members.len());
    let lift_plan = |n: usize, part: &Part| {
        let built = built_before(session, n);
        let known = before.and_then(|before| before.strength(&request, (n, part), built));
        known.unwrap_or_else(|| strength_plan((n, part), built, members, decisions, &world))
    };
    for (n, part) in session.parts.iter().enumerate() {
        if stop.is_stopped() {
            return None;
        }
        match part.kind {
            PartKind::Strength if !budget.lifts(sets_each(part)) => unplanned.push(too_much(n, "sets")),
            PartKind::Strength => {
                strength.push(lift_plan(n, part));
            }
            PartKind::Conditioning if !budget.piece(steps_of(part, &world)) => {
                unplanned.push(too_much(n, "work"));
            }
            PartKind::Conditioning => {
                let edit = decisions.pieces.of(pieces.len());
                let known = before.and_then(|before| before.piece(&request, pieces.len(), n, part));
                pieces.push(piece_plan(n, part, members, &edit, &world, known, stop)?);
            }
            PartKind::Skill | PartKind::Home if works(&part.tree).is_empty() => {}
            PartKind::Skill | PartKind::Home if !budget.piece(steps_of(part, &world)) => {
                unplanned.push(too_much(n, "work"));
            }
            PartKind::Skill | PartKind::Home => {
                let known = before.and_then(|before| before.beside(&request, n, part));
                beside.push(piece_plan(n, part, members, &PieceEdit::default(), &world, known, stop)?);
            }
            PartKind::Accessory if !has_loads(part, catalogue) => {}
            PartKind::Accessory if !budget.lifts(sets_each(part)) => unplanned.push(too_much(n, "sets")),
            PartKind::Accessory => {
                strength.push(lift_plan(n, part));
            }
            PartKind::Warmup | PartKind::Mobility => {}
        }
    }
    let typical = Typical::of(&request, session, (&strength, &pieces), &world, stop);
    if stop.is_stopped() {
        return None;
    }
    let formed: Vec<Vec<Team>> = pieces
        .iter_mut()
        .enumerate()
        .map(|(place, piece)| {
            team_up(piece, members, (&decisions.hour.floor(place).teams, &decisions.here), &world)
        })
        .collect();
    let (floors, hour) =
        floors_and_hour(&Request { gym, ..request }, session, &warmup, &strength, &pieces, formed);
    let crowded = floors.iter().find_map(|floor| crowding(floor.sketch.places.len(), floor.sketch.room_for));
    let mut cautions = cautions(session, members, &decisions.recent, catalogue);
    // The stop rule stays last.
    cautions.splice(cautions.len() - 1..cautions.len() - 1, crowded);
    let session = session.clone();
    Some(Plan { session, warmup, strength, pieces, beside, floors, hour, cautions, typical, unplanned })
}

/// Why a part is not planned for.
fn too_much(part: usize, what: &str) -> Unplanned {
    let why = format!("more {what} than a class hour can hold: kept in the text, but not planned for");
    Unplanned { part, why }
}

/// Whether anything in a part is done with a weight.
fn has_loads(part: &Part, catalogue: &Catalogue) -> bool {
    let mut movements = works(&part.tree).into_iter().filter_map(|work| catalogue.get(&work.movement));
    movements.any(|movement| movement.takes_weight())
}

/// Sets that a part asks of each member, lift by lift.
fn sets_each(part: &Part) -> u32 {
    let lifts = works(&part.tree).len() as u32;
    lifts.saturating_mul(part.strength.sets.unwrap_or(1).clamp(1, 60))
}

/// What one walk through a piece costs.
fn steps_of(part: &Part, world: &World<'_>) -> u32 {
    let member = typical_member(part, Sex::M, world.catalogue, world.model);
    let walk = simulate_as(
        How::default(),
        &part.tree,
        &Athlete::new(&member),
        world.catalogue,
        world.model,
        Luck::MEDIAN,
    );
    // Each movement is also looked up, fitted and written down.
    STEPS_A_PIECE + walk.steps + works(&part.tree).len() as u32 * STEPS_A_MOVEMENT
}

/// Targets of a member's version.
fn targets(
    part: &Part,
    choice: &Choice,
    member: &Member,
    window: &Window,
    world: &World<'_>,
) -> PacingTargets {
    let World { catalogue, model, .. } = *world;
    pacing_targets(Whose { part, choice, member, window, catalogue, model, team: None })
}

fn piece_plan(
    n: usize,
    part: &Part,
    members: &[Member],
    edit: &PieceEdit,
    world: &World<'_>,
    known: Option<KnownPiece<'_>>,
    stop: &Stop,
) -> Option<PiecePlan> {
    let window = intended_window(part, world.catalogue, world.model).set_by_coach(edit.low, edit.high);
    let (versions, own) = for_class_again(part, members, &window, edit, world, known, stop)?;
    let members = members
        .iter()
        .zip(own)
        .map(|(member, options)| {
            let choice = &options.all[options.chosen];
            let targets = targets(part, choice, member, &window, world);
            let cannot = cannot(&options.as_written.tree, &Athlete::new(member), world);
            MemberPiece { name: member.name.clone(), options, targets, cannot, team: None }
        })
        .collect();
    Some(PiecePlan { part: n, versions, window, members, teams: Vec::new() })
}
