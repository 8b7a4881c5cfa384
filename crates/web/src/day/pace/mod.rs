//! Pace: the class chart, a rail a version, and one member's targets.

mod chart;
mod rail;

use actix_web::{HttpRequest, HttpResponse, get, web};
use askama::Template;
use lantern_core::member::Member;
use lantern_core::movement::Catalogue;
use lantern_core::pacing::{Athlete, Days, Model, Outcome, Window, compare_strategies};
use lantern_core::plan::{MemberPiece, PacingTargets, PiecePlan};
use lantern_core::units::clock_s;
use lantern_core::versions::rules::load_checks;
use lantern_core::versions::{Ladders, World};
use lantern_store::MemberId;
use serde::Deserialize;

use crate::day::last::last_time;
use crate::day::pace::chart::ClassChart;
use crate::day::pace::rail::PaceRail;
use crate::day::planned::{Planned, plan_page};
use crate::day::slot_of;
use crate::day::strip::HourStrip;
use crate::request::Query;
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::respond::error::AppError;
use crate::respond::filters;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(old_address);
}

#[derive(Template)]
#[template(path = "day/pace/pace.html")]
struct PacePage {
    gym: String,
    day: Slot,
    day_name: String,
    problems: usize,
    members: usize,
    strip: HourStrip,
    pieces: Vec<PieceView>,
}

struct PieceView {
    place: usize,
    headline: String,
    window: String,
    intent: &'static str,
    window_why: String,
    chart: ClassChart,
    rails: Vec<PaceRail>,
    outside: Vec<Outside>,
    one: Option<OneMember>,
}

struct Outside {
    name: String,
    reason: String,
    next: String,
}

/// One member's targets.
struct OneMember {
    name: String,
    version: &'static str,
    flame: u8,
    expected: String,
    chance: String,
    guess: bool,
    /// What they did of it the last time.
    last: Option<String>,
    /// What results say beside the file.
    learned: Option<String>,
    lines: Vec<String>,
    edits: Vec<String>,
    targets: PacingTargets,
    splits: Vec<Split>,
    checks: Vec<Check>,
    strategies: Vec<StrategyRow>,
}

struct Split {
    end: String,
    took: String,
    sets: String,
}

struct Check {
    what: String,
    rules: Vec<(bool, String)>,
}

struct StrategyRow {
    words: &'static str,
    middle: String,
    range: String,
    risk: String,
    best: bool,
}

#[derive(Deserialize)]
struct Asked {
    /// Row id of the member to show.
    member: Option<MemberId>,
}

/// `GET /days/{day}/plan`: an old address.
#[get("/days/{day}/plan")]
async fn old_address(_: Tenant, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    Ok(see_other(format!("/days/{day}/pace")))
}

/// `GET /days/{day}/pace?member=12`
#[get("/days/{day}/pace")]
async fn show(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
    query: Query<Asked>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let asked = query.member;
    plan_page(&tenant, &request, day, move |planned| page(planned, day, asked)).await
}

fn page(planned: &Planned, day: Slot, asked: Option<MemberId>) -> PacePage {
    let Planned { reading, people, ids, gym, plan, .. } = planned;
    let pieces = plan.pieces.iter().enumerate().map(|(place, piece)| {
        let part = piece.written();
        let one = asked.and_then(|id| ids.iter().position(|known| *known == id));
        PieceView {
            place,
            headline: piece.headline(),
            window: piece.window.show(),
            intent: piece.window.name(part),
            window_why: piece.window.why.clone(),
            chart: ClassChart::new(piece, part, ids),
            rails: PaceRail::of(piece, part),
            outside: piece
                .members
                .iter()
                .filter(|member| !member.is_on_stimulus())
                .map(|member| outside(member, &piece.window))
                .collect(),
            one: one.map(|n| one_member(planned, piece, n)),
        }
    });
    PacePage {
        gym: gym.name.clone(),
        day,
        day_name: day.name(gym.clock),
        problems: reading.problems.len(),
        members: people.len(),
        strip: HourStrip::of(planned, day),
        pieces: pieces.collect(),
    }
}

fn outside(member: &MemberPiece, window: &Window) -> Outside {
    let chance = member.predicted().chance;
    let better = member.next().filter(|next| next.on_stimulus || next.predicted.chance > chance);
    let next = match better {
        _ if member.is_ahead(window) => "More can be offered on Versions.".to_owned(),
        Some(next) => format!("Next best: {}, {}", next.version.label(), next.reason),
        None => String::new(),
    };
    Outside { name: member.name.clone(), reason: member.reason(), next }
}

fn one_member(planned: &Planned, piece: &PiecePlan, n: usize) -> OneMember {
    let Planned { people, gym, catalogue, .. } = planned;
    let (member, person) = (&piece.members[n], &people[n]);
    let chosen = member.chosen();
    let athlete = Athlete::new(person);
    let model = Model::standard();
    let days = Days::new(1, 0);
    let world = World { catalogue, ladders: Ladders::standard(), model, gym, days: &days };
    let checks = load_checks(&chosen.tree, &athlete, &world).into_iter().map(|check| Check {
        what: format!("{}, {}", check.movement, check.load),
        rules: check.rules.into_iter().chain([check.two_sets]).map(|rule| (rule.kept, rule.words)).collect(),
    });
    let strategies = if chosen.run.breaks > 0 {
        compare_strategies(&chosen.tree, &athlete, catalogue, model, &piece.window)
    } else {
        Vec::new()
    };
    let measure = piece.window.measure;
    let best = strategies.first().map(|outcome| outcome.strategy);
    let strategy = |outcome: &Outcome| StrategyRow {
        words: outcome.strategy.words(),
        middle: measure.show(outcome.middle),
        range: measure.show_range(outcome.range.0, outcome.range.1),
        risk: format!("{:.0} %", outcome.blow_up * 100.0),
        best: Some(outcome.strategy) == best,
    };
    OneMember {
        name: member.name.clone(),
        version: chosen.version.label(),
        flame: chosen.version as u8,
        expected: member.predicted().said(),
        chance: format!(
            "{:.0} % of days inside {}",
            member.predicted().chance * 100.0,
            member.predicted().own_window(&piece.window).show()
        ),
        guess: member.predicted().guess,
        last: last_time(planned, piece.part, n),
        learned: learned(person, member),
        lines: works_lines(&chosen.tree, catalogue),
        edits: chosen.edits.iter().map(|edit| format!("{}: {}", edit.what, edit.why)).collect(),
        splits: splits(&member.targets, catalogue),
        targets: member.targets.clone(),
        checks: checks.collect(),
        strategies: strategies.iter().map(strategy).collect(),
    }
}

/// What results say of a member in their version, beside what is on file.
fn learned(person: &Member, member: &MemberPiece) -> Option<String> {
    let rests = member.predicted().rests.as_ref()?;
    Some(person.learned.as_ref()?.told(&rests.of))
}

fn works_lines(tree: &lantern_core::session::Node, catalogue: &Catalogue) -> Vec<String> {
    lantern_core::session::works(tree)
        .into_iter()
        .map(|work| lantern_core::print::work_text(work, catalogue))
        .collect()
}

fn splits(targets: &PacingTargets, catalogue: &Catalogue) -> Vec<Split> {
    let mut before = 0;
    targets
        .rounds
        .iter()
        .map(|round| {
            let sets = round.sets.iter().map(|(id, sets)| {
                let name = catalogue.find(id).map_or(id.as_str(), |movement| &movement.name).to_lowercase();
                let sets: Vec<String> =
                    sets.as_array().into_iter().flatten().map(ToString::to_string).collect();
                format!("{name} {}", sets.join("+"))
            });
            let split = Split {
                end: clock_s(round.end_s),
                took: clock_s(round.end_s.saturating_sub(before)),
                sets: sets.collect::<Vec<_>>().join(", "),
            };
            before = round.end_s;
            split
        })
        .collect()
}
