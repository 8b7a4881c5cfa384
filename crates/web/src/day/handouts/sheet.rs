//! The coach's run sheet: when, what, who, and what to say.

use actix_web::{HttpRequest, HttpResponse, get, post, web};
use askama::Template;
use chrono::Duration;
use lantern_core::brief::{Briefing, briefing};
use lantern_core::movement::MovementId;
use lantern_core::plan::{PiecePlan, StrengthPlan};
use lantern_core::print::{part_text, rest_text};
use lantern_core::strength::LiftSheet;
use lantern_core::units::clock_s;
use lantern_store::MemberId;
use lantern_store::health_views;
use serde::Deserialize;

use crate::day::cautions::CautionView;
use crate::day::planned::{Planned, plan_page, to_read, with_plan};
use crate::day::slot_of;
use crate::mark::Mark;
use crate::request::Form;
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::respond::error::{AppError, html};
use crate::respond::filters;

#[derive(Template)]
#[template(path = "day/handouts/sheet.html", blocks = ["main"])]
pub(super) struct SheetPage {
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
    /// Name, mark and, where the switch is on, the words of what each spares.
    limits: Vec<(String, Mark, String)>,
    words: bool,
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
pub(crate) async fn run_sheet(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    plan_page(&tenant, &request, day, move |planned| sheet_page(planned, day, false)).await
}

#[derive(Deserialize)]
struct Shown {
    #[serde(default)]
    words: String,
}

/// `POST /days/{day}/sheet`: with the words of limits, or without again. The address stays as it is, so that it can be shared.
#[post("/days/{day}/sheet")]
pub(crate) async fn with_words(
    tenant: Tenant,
    path: web::Path<String>,
    form: Form<Shown>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let words = form.words == "on";
    let page = with_plan(&tenant, day, move |planned| {
        let spares = planned.people.iter().zip(&planned.ids).filter(|(member, _)| !member.limits.is_empty());
        (sheet_page(planned, day, words), spares.map(|(_, id)| *id).collect::<Vec<MemberId>>())
    });
    let Some((page, shown)) = page.await? else { return Ok(to_read(day)) };
    if words {
        let mut rows = tenant.change().await?;
        health_views::note(&mut rows, (tenant.who.account, &tenant.who.name), &shown).await?;
        rows.keep().await?;
    }
    html(&page)
}

pub(super) fn sheet_page(planned: &Planned, day: Slot, words: bool) -> SheetPage {
    let Planned { reading, people, gym, catalogue, plan, decisions, class, .. } = planned;
    let at = |seconds: u32| match day.starts {
        Some(starts) => gym.clock.told(starts + Duration::seconds(i64::from(seconds))),
        None => clock_s(seconds),
    };
    let hour = &plan.hour;
    SheetPage {
        gym: gym.name.clone(),
        day,
        day_name: day.name(gym.clock),
        coach: class.as_ref().map_or(String::new(), |class| class.coach.clone()),
        people: people.len(),
        sentence: hour.sentence(),
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
                let part = piece.written();
                let of = |team: &lantern_core::floor::Team| {
                    team.members
                        .iter()
                        .map(|n| piece.members[*n].name.as_str())
                        .collect::<Vec<_>>()
                        .join(", ")
                };
                SheetPiece {
                    headline: piece.headline(),
                    text: part_text(part, catalogue)
                        .lines()
                        .skip(1)
                        .map(str::to_owned)
                        .chain(rest_text(part))
                        .collect(),
                    briefing: briefing(part, piece, floor, catalogue),
                    versions: who_does_which(piece),
                    outside: piece
                        .members
                        .iter()
                        .filter(|member| !member.is_on_stimulus())
                        .map(|member| (member.name.clone(), member.reason()))
                        .collect(),
                    teams: floor.teams.iter().map(of).collect(),
                }
            })
            .collect(),
        cautions: if words { CautionView::in_full(planned) } else { CautionView::all(planned) },
        limits: people
            .iter()
            .filter_map(|member| Some((member, Mark::of(member)?)))
            .map(|(member, mark)| {
                let said: Vec<&str> = member.limits.iter().map(|limit| limit.text.as_str()).collect();
                (member.name.clone(), mark, if words { said.join("; ") } else { String::new() })
            })
            .collect(),
        words,
        changed: decisions.hour.told(&reading.session, gym, catalogue),
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

/// A lifter, with the lift that they do where it is not the one written.
fn who(sheet: &LiftSheet, planned: &Planned) -> String {
    match sheet.instead_of {
        Some(_) => {
            let own = planned.catalogue.name(&MovementId::new(&sheet.lift)).to_lowercase();
            format!("{} ({own})", sheet.name)
        }
        None => sheet.name.clone(),
    }
}

fn sheet_lifts(lift: &StrengthPlan, planned: &Planned) -> Vec<SheetLift> {
    lift.racks
        .iter()
        .map(|(id, plan)| {
            let sheets = lift.sheets_of(id.as_str());
            let unit = planned.gym.unit;
            let rack = |(called, rack): (String, &lantern_core::strength::Rack)| {
                let names: Vec<String> = rack.order.iter().map(|n| who(sheets[*n], planned)).collect();
                let (low, high) = (rack.low.show(unit), rack.high.show(unit));
                let weights = if low == high { low } else { format!("{low} to {high}") };
                format!("{called}, {weights}: {}", names.join(", "))
            };
            let mut racks: Vec<String> = plan.in_use().map(rack).collect();
            if !plan.by_feel.is_empty() {
                let names: Vec<String> = plan.by_feel.iter().map(|n| who(sheets[*n], planned)).collect();
                racks.push(format!("By feel, where there is room: {}", names.join(", ")));
            }
            if !plan.beside.is_empty() {
                let names: Vec<String> = plan.beside.iter().map(|n| who(sheets[*n], planned)).collect();
                racks.push(format!("Without a {}: {}", plan.place.name(), names.join(", ")));
            }
            racks.extend(plan.shortages.clone());
            let called = sheets
                .iter()
                .filter(|sheet| !sheet.elements.is_empty())
                .max_by_key(|sheet| sheet.elements.len());
            let name = called.map_or_else(
                || planned.catalogue.name(id).to_owned(),
                |sheet| sheet.called(&planned.catalogue),
            );
            SheetLift { name, racks }
        })
        .collect()
}
