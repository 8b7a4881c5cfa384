//! Hand-outs: the wall board, a card for each member, and the coach's run sheet; made to be printed or shown large.

use actix_web::{HttpResponse, get, web};
use askama::Template;
use chrono::Duration;
use lantern_core::brief::{Briefing, briefing};
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::plan::{MemberPiece, PiecePlan, StrengthPlan};
use lantern_core::print::part_text;
use lantern_core::session::{Part, works};
use lantern_core::strength::{LiftSheet, SetKind};
use lantern_core::units::{clock_s, plain};
use lantern_core::versions::VersionName;

use super::planned::{Planned, to_read, with_plan};
use super::slot_of;
use crate::State;
use crate::error::{AppError, html};
use crate::filters;
use crate::slot::Slot;
use crate::view::cautions::CautionView;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(wall_board).service(member_cards).service(run_sheet);
}

#[derive(Template)]
#[template(path = "board.html")]
struct BoardPage {
    gym: String,
    day: Slot,
    day_name: String,
    lifts: Vec<BoardLift>,
    pieces: Vec<BoardPiece>,
}

struct BoardLift {
    name: String,
    sets: String,
}

struct BoardPiece {
    title: String,
    window: String,
    floor: String,
    columns: Vec<BoardColumn>,
    /// Who has something of their own, which is nobody else's business.
    own: Vec<String>,
    /// What the text says for who lacks something.
    notes: Vec<String>,
    /// Few lines are written larger.
    few: bool,
}

struct BoardColumn {
    flame: u8,
    name: &'static str,
    about: String,
    lines: Vec<String>,
    people: Vec<String>,
}

/// `GET /days/{day}/board`: for the wall screen and for paper.
#[get("/days/{day}/board")]
async fn wall_board(state: web::Data<State>, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let page = with_plan(&state, day, move |planned| {
        let Planned { reading, gym, catalogue, plan, .. } = planned;
        BoardPage {
            gym: gym.name.clone(),
            day,
            day_name: day.name(),
            lifts: plan.strength.iter().map(|lift| board_lift(lift, catalogue)).collect(),
            pieces: plan
                .pieces
                .iter()
                .zip(&plan.floors)
                .map(|(piece, floor)| {
                    let part = &reading.session.parts[piece.part];
                    let columns = columns(piece, catalogue);
                    let cap = part.cap_s.map_or(String::new(), |cap| format!(", cap {}", clock_s(cap)));
                    let own = piece.members.iter().filter(|m| !ON_THE_WALL.contains(&m.chosen().version));
                    BoardPiece {
                        title: title(part, catalogue),
                        window: format!("aim {}{cap}", piece.window.show()),
                        own: own.map(|member| first_name(&member.name, piece)).collect(),
                        notes: part.alternatives.iter().map(|other| other.text.clone()).collect(),
                        few: columns.iter().all(|column| column.lines.len() <= FEW_LINES),
                        floor: if floor.floor.is_staggered() {
                            floor.floor.sentence()
                        } else {
                            String::new()
                        },
                        columns,
                    }
                })
                .collect(),
        }
    });
    page.await?.map_or_else(|| Ok(to_read(day)), |page| html(&page))
}

fn board_lift(lift: &StrengthPlan, catalogue: &Catalogue) -> BoardLift {
    let text = part_text(&lift.prescription, catalogue);
    let name = works(&lift.prescription.tree)
        .first()
        .map_or("Strength".to_owned(), |work| catalogue.name(&work.movement).to_owned());
    let sets = text.lines().skip(1).filter(|line| !line.is_empty()).collect::<Vec<_>>().join(" · ");
    BoardLift { name, sets }
}

/// Versions on the wall. What spares somebody or is done at home stands on their own card only.
const ON_THE_WALL: [VersionName; 4] =
    [VersionName::AsWritten, VersionName::Lighter, VersionName::Simpler, VersionName::FirstLight];
/// Lines that a piece may have to be written larger.
const FEW_LINES: usize = 5;

/// The first line of a part's text below its heading.
fn title(part: &Part, catalogue: &Catalogue) -> String {
    let text = part_text(part, catalogue);
    text.lines().filter(|line| !line.is_empty()).nth(1).unwrap_or("Conditioning").to_owned()
}

/// As written, and the versions that somebody does.
fn columns(piece: &PiecePlan, catalogue: &Catalogue) -> Vec<BoardColumn> {
    let doing = |name| piece.members.iter().filter(move |member| member.chosen().version == name);
    let used = piece.versions.iter().filter(|version| ON_THE_WALL.contains(&version.name));
    used.filter(|version| version.name == VersionName::AsWritten || doing(version.name).next().is_some())
        .map(|version| BoardColumn {
            flame: version.name as u8,
            name: version.name.label(),
            about: version.about.clone(),
            lines: bare_lines(&version.part, catalogue),
            people: doing(version.name).map(|member| first_name(&member.name, piece)).collect(),
        })
        .collect()
}

/// The work of a part, line by line: cap, goal and score stand in a heading.
fn bare_lines(part: &Part, catalogue: &Catalogue) -> Vec<String> {
    let bare = Part {
        cap_s: None,
        target: None,
        score: None,
        intents: Vec::new(),
        alternatives: Vec::new(),
        ..part.clone()
    };
    let text = part_text(&bare, catalogue);
    let mut lines: Vec<String> =
        text.lines().filter(|line| !line.is_empty()).skip(1).map(str::to_owned).collect();
    // The heading says already that it is for time.
    if lines.len() > 1 && lines[0].eq_ignore_ascii_case("for time") {
        lines.remove(0);
    }
    lines
}

/// The first name, with a letter of the family name where two share it.
fn first_name(name: &str, piece: &PiecePlan) -> String {
    let (first, rest) = name.split_once(' ').unwrap_or((name, ""));
    let shared = piece.members.iter().filter(|other| other.name.split(' ').next() == Some(first)).count() > 1;
    match rest.chars().next() {
        Some(letter) if shared => format!("{first} {letter}."),
        _ => first.to_owned(),
    }
}

#[derive(Template)]
#[template(path = "cards.html")]
struct CardsPage {
    gym: String,
    day: Slot,
    day_name: String,
    cards: Vec<Card>,
}

struct Card {
    name: String,
    lifts: Vec<CardLift>,
    pieces: Vec<CardPiece>,
}

struct CardLift {
    name: String,
    /// Ramp, then work: `5 x 60`.
    ramp: Vec<String>,
    work: Vec<String>,
    by_feel: String,
}

struct CardPiece {
    flame: u8,
    version: &'static str,
    lines: Vec<String>,
    expected: String,
    guess: bool,
    sets: Vec<String>,
    checkpoints: Vec<(String, String)>,
    start: String,
    team: String,
}

/// Rounds whose set breaks stand on a card.
const CARD_ROUNDS: usize = 3;

/// `GET /days/{day}/cards`: a card for each member, eight on a sheet of A4.
#[get("/days/{day}/cards")]
async fn member_cards(state: web::Data<State>, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let page = with_plan(&state, day, move |planned| {
        let Planned { people, gym, plan, .. } = planned;
        let card = |n: usize| Card {
            name: people[n].name.clone(),
            lifts: plan
                .strength
                .iter()
                .flat_map(|lift| &lift.sheets)
                .filter(|sheet| sheet.name == people[n].name)
                .map(|sheet| card_lift(sheet, planned))
                .collect(),
            pieces: (0..plan.pieces.len()).map(|place| card_piece(planned, place, n)).collect(),
        };
        CardsPage {
            gym: gym.name.clone(),
            day,
            day_name: day.name(),
            cards: (0..people.len()).map(card).collect(),
        }
    });
    page.await?.map_or_else(|| Ok(to_read(day)), |page| html(&page))
}

fn card_lift(sheet: &LiftSheet, planned: &Planned) -> CardLift {
    let of = |kind: SetKind| {
        let mut sets: Vec<(String, u32)> = Vec::new();
        for set in sheet.sets.iter().filter(|set| set.kind == kind) {
            let Some(load) = &set.load else { continue };
            let reps = if set.reps == 0 { "max".to_owned() } else { set.reps.to_string() };
            let words = format!("{reps} x {}", plain(load.total.in_unit(planned.gym.unit)));
            match sets.last_mut() {
                Some((last, count)) if *last == words => *count += 1,
                _ => sets.push((words, 1)),
            }
        }
        let sets = sets.into_iter();
        sets.map(|(words, count)| if count > 1 { format!("{count} sets of {words}") } else { words })
            .collect()
    };
    CardLift {
        name: planned.catalogue.name(&MovementId::new(&sheet.lift)).to_owned(),
        ramp: of(SetKind::Ramp),
        work: of(SetKind::Work),
        by_feel: sheet.by_feel.clone().unwrap_or_default(),
    }
}

fn card_piece(planned: &Planned, place: usize, n: usize) -> CardPiece {
    let Planned { catalogue, plan, reading, .. } = planned;
    let (piece, floor) = (&plan.pieces[place], &plan.floors[place]);
    let part = &reading.session.parts[piece.part];
    let member: &MemberPiece = &piece.members[n];
    let chosen = member.chosen();
    let spread = chosen.predicted.spread;
    let show = |value| chosen.predicted.measure.show(value);
    let start = floor.floor.starts.get(n).map_or(String::new(), |start| {
        let mut words: Vec<String> = Vec::new();
        if floor.floor.is_staggered() {
            words.push(format!("start at {}", clock_s(start.offset_s)));
        }
        words.extend(
            start.begins_with.iter().map(|id| format!("begin with {}", catalogue.name(id).to_lowercase())),
        );
        words.extend(start.instead.clone());
        words.extend(start.shares_with.iter().map(|name| format!("share with {name}")));
        words.join(", ")
    });
    let team = floor.teams.iter().find(|team| team.members.contains(&n)).map_or(String::new(), |team| {
        let mates =
            team.members.iter().filter(|mate| **mate != n).map(|mate| piece.members[*mate].name.clone());
        format!("with {}", mates.collect::<Vec<_>>().join(" and "))
    });
    let sets = member.targets.rounds.iter().take(CARD_ROUNDS).enumerate().filter_map(|(n, round)| {
        let broken = round.sets.iter().filter_map(|(id, sets)| {
            let sets: Vec<String> = sets.as_array()?.iter().map(ToString::to_string).collect();
            let name = catalogue.name(&MovementId::new(id)).to_lowercase();
            (sets.len() > 1).then(|| format!("{name} {}", sets.join("+")))
        });
        let broken: Vec<String> = broken.collect();
        (!broken.is_empty()).then(|| format!("{}. {}", n + 1, broken.join(", ")))
    });
    CardPiece {
        flame: chosen.version as u8,
        version: chosen.version.label(),
        lines: bare_lines(&Part { tree: chosen.tree.clone(), ..part.clone() }, catalogue),
        expected: format!("{} ({} to {})", show(spread.p50), show(spread.p10), show(spread.p90)),
        guess: chosen.predicted.guess,
        sets: sets.collect(),
        checkpoints: member.targets.checkpoints.iter().map(|c| (clock_s(c.at_s), c.text.clone())).collect(),
        start,
        team,
    }
}

#[derive(Template)]
#[template(path = "sheet.html")]
struct SheetPage {
    gym: String,
    day: Slot,
    day_name: String,
    coach: String,
    people: usize,
    sentence: String,
    blocks: Vec<SheetBlock>,
    lifts: Vec<SheetLift>,
    pieces: Vec<SheetPiece>,
    cautions: Vec<CautionView>,
    changed: Vec<String>,
}

struct SheetBlock {
    /// On the wall clock for a class, else from the start.
    at: String,
    label: String,
    minutes: String,
}

struct SheetLift {
    name: String,
    racks: Vec<String>,
}

struct SheetPiece {
    headline: String,
    text: Vec<String>,
    briefing: Briefing,
    versions: Vec<(String, String)>,
    outside: Vec<(String, String)>,
    teams: Vec<String>,
}

/// `GET /days/{day}/sheet`: what the coach holds in the hand.
#[get("/days/{day}/sheet")]
async fn run_sheet(state: web::Data<State>, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let page = with_plan(&state, day, move |planned| sheet_page(planned, day));
    page.await?.map_or_else(|| Ok(to_read(day)), |page| html(&page))
}

fn sheet_page(planned: &Planned, day: Slot) -> SheetPage {
    let Planned { reading, people, gym, catalogue, plan, decisions, class, .. } = planned;
    let at = |seconds: u32| match day.starts {
        Some(starts) => (starts + Duration::seconds(i64::from(seconds))).format("%H:%M").to_string(),
        None => clock_s(seconds),
    };
    let hour = &plan.hour;
    SheetPage {
        gym: gym.name.clone(),
        day,
        day_name: day.name(),
        coach: class.as_ref().map_or(String::new(), |class| class.coach.clone()),
        people: people.len(),
        sentence: crate::view::strip::HourStrip::new(hour, day).sentence,
        blocks: hour
            .blocks
            .iter()
            .map(|block| SheetBlock {
                at: at(block.start_s),
                label: block.label.clone(),
                minutes: clock_s(block.length_s()),
            })
            .collect(),
        lifts: plan.strength.iter().flat_map(|lift| sheet_lifts(lift, planned)).collect(),
        pieces: plan
            .pieces
            .iter()
            .zip(&plan.floors)
            .map(|(piece, floor)| {
                let part = &reading.session.parts[piece.part];
                let of = |team: &lantern_core::floor::Team| {
                    team.members
                        .iter()
                        .map(|n| piece.members[*n].name.as_str())
                        .collect::<Vec<_>>()
                        .join(", ")
                };
                SheetPiece {
                    headline: piece.headline(),
                    text: part_text(part, catalogue).lines().skip(1).map(str::to_owned).collect(),
                    briefing: briefing(part, piece, floor, catalogue),
                    versions: who_does_which(piece),
                    outside: piece
                        .members
                        .iter()
                        .filter(|member| !member.chosen().on_stimulus)
                        .map(|member| (member.name.clone(), member.chosen().reason.clone()))
                        .collect(),
                    teams: floor.teams.iter().map(of).collect(),
                }
            })
            .collect(),
        cautions: plan.cautions.iter().map(CautionView::new).collect(),
        changed: decisions.hour.changes.iter().map(|change| change.words(&reading.session)).collect(),
    }
}

fn who_does_which(piece: &PiecePlan) -> Vec<(String, String)> {
    let of = |name| {
        let doing = piece.members.iter().filter(move |member| member.chosen().version == name);
        doing.map(|member| member.name.as_str()).collect::<Vec<_>>().join(", ")
    };
    let versions = piece.versions.iter().map(|version| (version.name.label().to_owned(), of(version.name)));
    versions.filter(|(_, names)| !names.is_empty()).collect()
}

fn sheet_lifts(lift: &StrengthPlan, planned: &Planned) -> Vec<SheetLift> {
    lift.racks
        .iter()
        .map(|(id, plan)| {
            let sheets: Vec<&LiftSheet> =
                lift.sheets.iter().filter(|sheet| sheet.lift == id.as_str()).collect();
            let unit = planned.gym.unit;
            let rack = |(n, rack): (usize, &lantern_core::strength::Rack)| {
                let names: Vec<&str> = rack.order.iter().map(|n| sheets[*n].name.as_str()).collect();
                let (low, high) = (rack.low.show(unit), rack.high.show(unit));
                let weights = if low == high { low } else { format!("{low} to {high}") };
                format!("Rack {}, {weights}: {}", n + 1, names.join(", "))
            };
            let mut racks: Vec<String> = plan.racks.iter().enumerate().map(rack).collect();
            if !plan.by_feel.is_empty() {
                let names: Vec<&str> = plan.by_feel.iter().map(|n| sheets[*n].name.as_str()).collect();
                racks.push(format!("By feel, where there is room: {}", names.join(", ")));
            }
            racks.extend(plan.shortages.clone());
            SheetLift { name: planned.catalogue.name(id).to_owned(), racks }
        })
        .collect()
}
