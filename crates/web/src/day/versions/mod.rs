//! Versions: the piece as written and its versions side by side, the intent, and who does which.

pub(crate) mod view;

use actix_web::{HttpRequest, HttpResponse, get, post, web};
use askama::Template;
use lantern_core::decide::{Decision as Decided, PieceDecision};
use lantern_core::intent::named_intent;
use lantern_core::movement::Catalogue;
use lantern_core::pacing::{Measure, Model, Window};
use lantern_core::plan::PiecePlan;
use lantern_core::print::{part_text, work_lines};
use lantern_core::read::Track;
use lantern_core::units::{clock, plain};
use lantern_core::versions::{ClassVersion, HandLine, HomeKit, PieceEdit};
use lantern_store::habits;
use serde::Deserialize;

use crate::day::cautions::CautionView;
use crate::day::last::last_time;
use crate::day::planned::{Planned, plan_page, with_plan};
use crate::day::strip::HourStrip;
use crate::day::typical::TypicalView;
use crate::day::versions::view::{VersionTable, version_named};
use crate::day::{Of, slot_of};
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::request::{Form, Query};
use crate::respond::error::AppError;
use crate::respond::filters;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(decide);
}

#[derive(Template)]
#[template(path = "day/versions/versions.html")]
struct VersionsPage {
    gym: String,
    day: Slot,
    day_name: String,
    /// Of which text it is: parts are named by their places in it.
    seen: String,
    problems: usize,
    strip: HourStrip,
    pieces: Vec<PieceView>,
    /// Skill and home parts: who does what of them.
    beside: Vec<BesideView>,
    /// What is written for others of the gym on this day.
    tracks: Vec<TrackView>,
    typical: Option<TypicalView>,
    cautions: Vec<CautionView>,
}

/// A skill or home part, and who does which version of it.
struct BesideView {
    kind: &'static str,
    versions: Vec<BesideVersion>,
}

struct BesideVersion {
    name: &'static str,
    flame: u8,
    lines: String,
    people: String,
}

impl BesideView {
    fn new(piece: &PiecePlan, catalogue: &Catalogue) -> Self {
        let doing = |version: &ClassVersion| {
            let own = piece.members.iter().filter(|member| member.chosen().version == version.name);
            own.map(|member| member.name.as_str()).collect::<Vec<_>>().join(", ")
        };
        let view = |version: &ClassVersion| BesideVersion {
            name: version.name.label(),
            flame: version.name as u8,
            lines: work_lines(&version.part, &version.part.tree, catalogue).join("; "),
            people: doing(version),
        };
        let versions = piece.versions.iter().map(view).filter(|version| !version.people.is_empty());
        Self { kind: piece.written().kind.heading(), versions: versions.collect() }
    }
}

/// Another track of the day, at hand for who is better served by it.
struct TrackView {
    name: String,
    lines: (usize, usize),
    /// Its parts in plain words.
    parts: Vec<String>,
}

impl TrackView {
    fn new(track: &Track, catalogue: &Catalogue) -> Self {
        let parts = track.parts.iter().map(|part| part_text(part, catalogue).trim_end().to_owned()).collect();
        Self { name: track.name.clone(), lines: track.lines, parts }
    }
}

struct PieceView {
    place: usize,
    headline: String,
    intent: String,
    window: WindowView,
    kits: Vec<(&'static str, bool)>,
    /// Somebody is ahead, or has been given more.
    ahead: bool,
    more: bool,
    table: VersionTable,
    /// Lines that the coach has written anew.
    by_hand: Vec<HandView>,
    /// What this gym\'s coaches always do to its versions.
    habits: Vec<String>,
}

/// A line that the coach has written anew, as it is said and as it is sent back.
struct HandView {
    told: String,
    /// It does not fit the text any more.
    gone: bool,
    version: String,
    line: HandLine,
}

/// The intended result as the form shows it.
struct WindowView {
    low: String,
    high: String,
    unit: &'static str,
    why: String,
    by_coach: bool,
}

/// `GET /days/{day}/versions`
#[get("/days/{day}/versions")]
async fn show(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    plan_page(&tenant, &request, day, move |planned| page(planned, day)).await
}

fn page(planned: &Planned, day: Slot) -> VersionsPage {
    let Planned { reading, people, ids, decisions, gym, catalogue, plan, .. } = planned;
    let pieces = plan.pieces.iter().enumerate().map(|(place, piece)| {
        let part = piece.written();
        let edit = decisions.pieces.of(place);
        let home = edit.home.as_deref().unwrap_or("nothing");
        let mut intent = named_intent(part, catalogue, Model::standard());
        intent.window = piece.window.clone();
        PieceView {
            place,
            headline: piece.headline(),
            intent: intent.words(),
            window: window_view(&piece.window, edit.low.is_some() || edit.high.is_some()),
            ahead: edit.more || piece.members.iter().any(|member| member.is_ahead(&piece.window)),
            more: edit.more,
            kits: HomeKit::USUAL.into_iter().map(|kit| (kit, kit == home)).collect(),
            table: VersionTable::new(piece, part, ids, people, catalogue, |id| {
                last_time(planned, piece.part, ids.iter().position(|known| *known == id)?)
            }),
            by_hand: by_hand(piece, &edit),
            habits: piece
                .versions
                .iter()
                .flat_map(|version| &version.edits)
                .filter(|edit| edit.is_of_habit())
                .map(|edit| edit.what.clone())
                .collect(),
        }
    });
    VersionsPage {
        gym: gym.name.clone(),
        day,
        day_name: day.name(gym.clock),
        seen: planned.seen.clone(),
        problems: reading.problems.len(),
        strip: HourStrip::of(planned, day),
        pieces: pieces.collect(),
        beside: plan.beside.iter().map(|piece| BesideView::new(piece, catalogue)).collect(),
        tracks: reading.tracks.iter().map(|track| TrackView::new(track, catalogue)).collect(),
        typical: TypicalView::of(planned),
        cautions: CautionView::at("versions", planned),
    }
}

fn by_hand(piece: &PiecePlan, edit: &PieceEdit) -> Vec<HandView> {
    let gone = piece.unheld(edit);
    let view = |line: &HandLine| {
        let whose = match &line.member {
            Some(name) => format!("{name}, {}", line.version.label()),
            None => line.version.label().to_owned(),
        };
        let told = match line.to.trim() {
            "" => format!("{whose}: without {}", line.from),
            to => format!("{whose}: {to} in place of {}", line.from),
        };
        let version = format!("{:?}", line.version);
        HandView { told, gone: gone.contains(&line), version, line: line.clone() }
    };
    edit.hand.iter().map(view).collect()
}

fn window_view(window: &Window, by_coach: bool) -> WindowView {
    let typed = |end: Option<f64>| match end {
        None => String::new(),
        Some(value) if window.measure.is_time() => clock(value),
        Some(value) => plain((value * 10.0).round() / 10.0),
    };
    let unit = match window.measure {
        Measure::Finish => "min:s on the clock",
        Measure::SlowestInterval => "min:s in the slowest interval",
        Measure::Rounds => "rounds",
        Measure::Reps => "reps",
        Measure::Calories => "calories",
        Measure::Metres => "metres",
        Measure::FailedRound => "round that fails",
    };
    WindowView {
        low: typed(window.low),
        high: typed(window.said_high()),
        unit,
        why: window.why.clone(),
        by_coach,
    }
}

/// A decision, as a button or field sends it.
#[derive(Deserialize)]
struct Decision {
    action: String,
    piece: usize,
    #[serde(default)]
    member: String,
    #[serde(default)]
    value: String,
    /// Of a line written anew: its version, the line as it stood, and what is to stand there.
    #[serde(default)]
    version: String,
    #[serde(default)]
    from: String,
    #[serde(default)]
    to: String,
    #[serde(default)]
    low: String,
    #[serde(default)]
    high: String,
}

/// `POST /days/{day}/versions`: one decision; everything else is worked out anew around it.
#[post("/days/{day}/versions")]
async fn decide(
    tenant: Tenant,
    path: web::Path<String>,
    of: Query<Of>,
    form: Form<Decision>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let decided = decided(&form)?;
    if let PieceDecision::Hand { piece, line } = &decided {
        let (piece, line) = (*piece, line.clone());
        let tried = with_plan(&tenant, day, move |planned| {
            let edit = planned.decisions.pieces.of(piece);
            let piece = planned.plan.pieces.get(piece);
            piece.map_or(Ok(()), |piece| piece.try_by_hand(&line, &edit, &planned.catalogue))
        });
        tried.await?.unwrap_or(Ok(())).map_err(AppError::Malformed)?;
    }
    let by_hand = matches!(&decided, PieceDecision::Hand { line, .. } if line.member.is_none());
    let did = crate::day::decide(&tenant, day, &[Decided::Pieces(decided)], &of).await?;
    if by_hand {
        let mut rows = tenant.change().await?;
        let catalogue = tenant.catalogue();
        habits::learn_hand(&mut rows, &catalogue).await?;
        rows.keep().await?;
    }
    let place = if form.member.is_empty() { format!("piece-{}", form.piece) } else { "members".to_owned() };
    Ok(did.said_at(format_args!("/days/{day}/versions"), &place))
}

/// The decision that a form stands for.
fn decided(form: &Decision) -> Result<PieceDecision, AppError> {
    let wrong = |field, value: &str, expected| Err(AppError::field(field, value, expected));
    let (piece, member) = (form.piece, form.member.clone());
    Ok(match form.action.as_str() {
        "choose" => match version_named(&form.value) {
            Some(version) => PieceDecision::Choose { piece, member, version },
            None => return wrong("value", &form.value, "one of the six versions"),
        },
        action @ ("hand" | "hand-back") => {
            let Some(version) = version_named(&form.version) else {
                return wrong("version", &form.version, "one of the six versions");
            };
            let member = Some(member).filter(|name| !name.is_empty());
            let (from, to) = (form.from.clone(), form.to.trim().to_owned());
            let line = HandLine { version, member, from, to };
            if action == "hand" {
                PieceDecision::Hand { piece, line }
            } else {
                PieceDecision::HandBack { piece, line }
            }
        }
        "release" => PieceDecision::Release { piece, member },
        "window" => match (end(&form.low), end(&form.high)) {
            (Some(low), Some(high)) => PieceDecision::Window { piece, low, high },
            _ => {
                let ends = format!("{} / {}", form.low, form.high);
                return wrong("low / high", &ends, "times such as 8:00, or numbers");
            }
        },
        "as-read" => PieceDecision::Window { piece, low: None, high: None },
        "more" => PieceDecision::More { piece, on: form.value != "off" },
        "home" => {
            let kit = Some(form.value.trim().to_owned()).filter(|kit| !kit.is_empty() && kit != "nothing");
            PieceDecision::Home { piece, kit }
        }
        other => return wrong("action", other, "a decision"),
    })
}

/// An end of the window as typed: empty for none, `8:00`, or a number.
fn end(text: &str) -> Option<Option<f64>> {
    let text = text.trim().replace(',', ".");
    if text.is_empty() {
        return Some(None);
    }
    let value = match text.split_once(':') {
        Some((minutes, seconds)) => {
            let seconds = seconds.parse::<u32>().ok().filter(|s| *s < 60)?;
            f64::from(minutes.parse::<u32>().ok()?.checked_mul(60)?.checked_add(seconds)?)
        }
        None => text.parse::<f64>().ok()?,
    };
    (value.is_finite() && (0.0..=36_000.0).contains(&value)).then_some(Some(value))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ends_of_a_window_are_times_numbers_or_nothing() {
        assert_eq!(end("8:30"), Some(Some(510.0)));
        assert_eq!(end(" 5,5 "), Some(Some(5.5)));
        assert_eq!(end(""), Some(None));
        assert_eq!((end("soon"), end("8:75"), end("-3")), (None, None, None));
    }
}
