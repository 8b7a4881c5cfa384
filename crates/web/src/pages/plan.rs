//! The plan: versions and pace for the class, under the hour.

use std::collections::BTreeMap;

use actix_web::{HttpResponse, get, web};
use askama::Template;
use chrono::NaiveDate;
use lantern_core::plan::{PiecePlan, Plan};
use lantern_core::print::part_text;
use lantern_core::read::Reading;
use lantern_core::versions::VersionName;

use super::planned::{Planned, to_read, with_plan};
use super::{day_name, day_of};
use crate::State;
use crate::error::{AppError, html};
use crate::filters;
use crate::view::chart::ClassChart;
use crate::view::strip::HourStrip;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(show);
}

#[derive(Template)]
#[template(path = "plan.html")]
struct PlanPage {
    gym: String,
    day: NaiveDate,
    day_name: String,
    problems: usize,
    members: usize,
    strip: HourStrip,
    pieces: Vec<PieceView>,
    cautions: Vec<CautionView>,
}

struct PieceView {
    headline: String,
    window: String,
    intent: &'static str,
    window_why: String,
    versions: Vec<VersionView>,
    chart: ClassChart,
    /// How many have a version that is theirs alone.
    others: String,
    outside: Vec<Outside>,
}

struct VersionView {
    name: &'static str,
    flame: u8,
    people: usize,
    lines: Vec<VersionLine>,
}

struct VersionLine {
    text: String,
    changed: bool,
}

struct Outside {
    name: String,
    reason: String,
}

struct CautionView {
    level: &'static str,
    text: String,
}

/// `GET /days/{day}/plan`
#[get("/days/{day}/plan")]
async fn show(state: web::Data<State>, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let day = day_of(&path)?;
    let page = with_plan(&state, day, move |planned| {
        let Planned { reading, people, gym, catalogue, plan, .. } = planned;
        PlanPage {
            gym: gym.name.clone(),
            day,
            day_name: day_name(day),
            problems: reading.problems.len(),
            members: people.len(),
            strip: HourStrip::new(&plan.hour, day),
            pieces: pieces(&plan, &reading, &catalogue),
            cautions: plan
                .cautions
                .iter()
                .map(|caution| CautionView {
                    level: match caution.level {
                        lantern_core::cautions::Level::Stop => "stop",
                        lantern_core::cautions::Level::Care => "care",
                        lantern_core::cautions::Level::Note => "note",
                    },
                    text: caution.text.clone(),
                })
                .collect(),
        }
    })
    .await?;
    match page {
        Some(page) => html(&page),
        None => Ok(to_read(day)),
    }
}

fn pieces(plan: &Plan, reading: &Reading, catalogue: &lantern_core::movement::Catalogue) -> Vec<PieceView> {
    plan.pieces
        .iter()
        .map(|piece| {
            let part = &reading.session.parts[piece.part];
            let written = body_lines(&part_text(part, catalogue));
            let versions = piece
                .versions
                .iter()
                .map(|version| {
                    let mut lines = body_lines(&part_text(&version.part, catalogue));
                    if version.name != VersionName::AsWritten {
                        // Cap, goal and score are the piece's own; they stand with the text as written.
                        lines.retain(|line| {
                            !["cap ", "goal: ", "score: "].iter().any(|start| line.starts_with(start))
                        });
                    }
                    VersionView {
                        name: version.name.label(),
                        flame: version.name as u8,
                        people: piece
                            .members
                            .iter()
                            .filter(|member| member.chosen.version == version.name)
                            .count(),
                        lines: lines
                            .into_iter()
                            .map(|text| VersionLine { changed: !written.contains(&text), text })
                            .collect(),
                    }
                })
                .collect();
            PieceView {
                headline: piece.headline(),
                window: piece.window.show(),
                intent: piece.window.name(part),
                window_why: piece.window.why.clone(),
                versions,
                others: others(piece),
                chart: ClassChart::new(piece, part),
                outside: piece
                    .members
                    .iter()
                    .filter(|member| !member.chosen.on_stimulus)
                    .map(|member| Outside { name: member.name.clone(), reason: member.chosen.reason.clone() })
                    .collect(),
            }
        })
        .collect()
}

/// `Made for one member each: Simpler 2, First light 1.`
fn others(piece: &PiecePlan) -> String {
    let shown: Vec<VersionName> = piece.versions.iter().map(|version| version.name).collect();
    let mut counts: BTreeMap<VersionName, usize> = BTreeMap::new();
    for member in piece.members.iter().filter(|member| !shown.contains(&member.chosen.version)) {
        *counts.entry(member.chosen.version).or_default() += 1;
    }
    if counts.is_empty() {
        return String::new();
    }
    let counts: Vec<String> =
        counts.iter().map(|(name, count)| format!("{} {count}", name.label())).collect();
    format!("Made for one member each: {}.", counts.join(", "))
}

/// Canonical text without its heading.
fn body_lines(text: &str) -> Vec<String> {
    text.lines().skip(1).filter(|line| !line.is_empty()).map(str::to_owned).collect()
}
