//! A card for each member: own loads, version, set breaks, checkpoints.

use actix_web::{HttpRequest, HttpResponse, get, web};
use askama::Template;
use lantern_core::movement::MovementId;
use lantern_core::plan::MemberPiece;
use lantern_core::strength::{LiftSheet, SetKind};
use lantern_core::units::{clock_s, plain};

use crate::day::last::last_time;
use crate::day::planned::{Planned, plan_page};
use crate::day::slot_of;
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::respond::error::AppError;
use crate::respond::filters;
use lantern_core::print::bare_lines;

#[derive(Template)]
#[template(path = "day/handouts/cards.html", blocks = ["main"])]
pub(super) struct CardsPage {
    gym: String,
    day: Slot,
    day_name: String,
    cards: Vec<Card>,
}

pub(crate) struct Card {
    pub name: String,
    pub lifts: Vec<CardLift>,
    pub pieces: Vec<CardPiece>,
}

pub(crate) struct CardLift {
    pub name: String,
    /// Ramp, then work: `5 x 60`.
    pub ramp: Vec<String>,
    pub work: Vec<String>,
    pub by_feel: String,
}

pub(crate) struct CardPiece {
    pub flame: u8,
    pub version: String,
    pub lines: Vec<String>,
    pub expected: String,
    pub guess: bool,
    pub sets: Vec<String>,
    pub checkpoints: Vec<(String, String)>,
    pub behind: String,
    /// What they did of it the last time.
    pub last: Option<String>,
    pub start: String,
    pub team: String,
}

/// Rounds whose set breaks stand on a card.
const CARD_ROUNDS: usize = 3;

/// `GET /days/{day}/cards`: a card for each member, eight on a sheet of A4.
#[get("/days/{day}/cards")]
pub(crate) async fn member_cards(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    plan_page(&tenant, &request, day, move |planned| cards_page(planned, day)).await
}

pub(super) fn cards_page(planned: &Planned, day: Slot) -> CardsPage {
    let Planned { people, gym, .. } = planned;
    let cards = (0..people.len()).map(|n| card(planned, n)).collect();
    CardsPage { gym: gym.name.clone(), day, day_name: day.name(gym.clock), cards }
}

/// The card of one of the people who are planned for.
pub(crate) fn card(planned: &Planned, n: usize) -> Card {
    let Planned { people, plan, .. } = planned;
    Card {
        name: people[n].name.clone(),
        lifts: plan
            .strength
            .iter()
            .flat_map(|lift| &lift.sheets)
            .filter(|sheet| sheet.name == people[n].name)
            .map(|sheet| card_lift(sheet, planned))
            .collect(),
        pieces: (0..plan.pieces.len()).map(|place| card_piece(planned, place, n)).collect(),
    }
}

fn card_lift(sheet: &LiftSheet, planned: &Planned) -> CardLift {
    let of = |kind: SetKind| {
        let mut sets: Vec<(String, u32)> = Vec::new();
        for set in sheet.sets.iter().filter(|set| set.kind == kind) {
            let Some(load) = &set.load else { continue };
            let words = format!("{} x {}", set.reps_called(), plain(load.total.in_unit(planned.gym.unit)));
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
        name: sheet.called(&planned.catalogue),
        ramp: of(SetKind::Ramp),
        work: of(SetKind::Work),
        by_feel: sheet.by_feel.clone().unwrap_or_default(),
    }
}

fn card_piece(planned: &Planned, place: usize, n: usize) -> CardPiece {
    let Planned { catalogue, plan, people, gym, .. } = planned;
    let (piece, floor) = (&plan.pieces[place], &plan.floors[place]);
    let part = piece.written();
    let member: &MemberPiece = &piece.members[n];
    let chosen = member.chosen();
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
        version: match &piece.own_lines(n, &people[n], gym, catalogue)[..] {
            [] => chosen.version.label().to_owned(),
            own => format!("{}, but {}", chosen.version.label(), own.join(", ")),
        },
        lines: bare_lines(part, &chosen.tree, catalogue),
        expected: member.predicted().said(),
        guess: member.predicted().guess,
        sets: sets.collect(),
        checkpoints: member.targets.checkpoints.iter().map(|c| (clock_s(c.at_s), c.text.clone())).collect(),
        behind: member.targets.behind.join("; "),
        last: last_time(planned, piece.part, n),
        start,
        team,
    }
}
