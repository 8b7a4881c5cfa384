//! Hour: the blocks of the class, what to change when they do not fit, the floor, and what to look out for.

mod floor;

use actix_web::{HttpRequest, HttpResponse, get, post, web};
use askama::Template;
use lantern_core::decide::{Decision as Decided, HourDecision};
use lantern_core::hour::{Change, HourBlock, Suggestion, offered};
use lantern_core::units::clock_s;
use serde::Deserialize;

use crate::day::cautions::CautionView;
use crate::day::hour::floor::{FloorView, way_named};
use crate::day::planned::{Planned, plan_page};
use crate::day::strip::HourStrip;
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
#[template(path = "day/hour/hour.html")]
struct HourPage {
    gym: String,
    day: Slot,
    day_name: String,
    /// Of which text it is: parts are named by their places in it.
    seen: String,
    strip: HourStrip,
    blocks: Vec<BlockRow>,
    /// Changes made: in words, and as the button that takes one back sends it.
    made: Vec<(String, String)>,
    suggestions: Vec<SuggestionRow>,
    /// What could be missing today: as its button sends it, and its words.
    missing: Vec<(String, &'static str)>,
    /// The first changes that make it fit together, as the button sends them, and how many they are.
    enough: Option<(String, usize)>,
    /// Whether it does not fit even with all of them.
    too_full: bool,
    /// Whether the suggestions take time off, rather than fill time that is left.
    cutting: bool,
    floors: Vec<FloorView>,
    cautions: Vec<CautionView>,
    people: usize,
    class: Option<String>,
}

struct BlockRow {
    key: String,
    from: String,
    label: String,
    length: String,
    /// `9:30 to 12:00`, where it is not ruled by a clock.
    range: String,
    why: String,
    pinned: bool,
    tight: Option<String>,
    /// What the field for pinning it holds.
    typed: String,
}

struct SuggestionRow {
    /// The change as the button sends it.
    value: String,
    what: String,
    time: String,
    loses: String,
}

/// `GET /days/{day}/hour`
#[get("/days/{day}/hour")]
async fn show(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    plan_page(&tenant, &request, day, move |planned| page(planned, day)).await
}

fn page(planned: &Planned, day: Slot) -> HourPage {
    let Planned { reading, people, decisions, gym, catalogue, plan, class, .. } = planned;
    let hour = &plan.hour;
    let cutting = !hour.changes.is_empty();
    let suggestions = if cutting { &hour.changes } else { &hour.additions };
    HourPage {
        gym: gym.name.clone(),
        day,
        day_name: day.name(gym.clock),
        seen: planned.seen.clone(),
        strip: HourStrip::of(planned, day),
        blocks: hour.blocks.iter().map(block_row).collect(),
        made: decisions
            .hour
            .told(&reading.session, gym, catalogue)
            .into_iter()
            .zip(&decisions.hour.changes)
            .map(|(words, change)| (words, serde_json::to_string(change).unwrap_or_default()))
            .collect(),
        suggestions: suggestions.iter().map(suggestion_row).collect(),
        missing: offered(&reading.session, gym, &decisions.hour.changes, catalogue)
            .into_iter()
            .map(|what| (serde_json::to_string(&Change::Without { what }).unwrap_or_default(), what.label()))
            .collect(),
        enough: hour.enough.map(|count| {
            let changes: Vec<&Change> = hour.changes[..count].iter().map(|row| &row.change).collect();
            (serde_json::to_string(&changes).unwrap_or_default(), count)
        }),
        too_full: !hour.fits && hour.enough.is_none(),
        cutting,
        floors: (0..plan.pieces.len()).filter_map(|n| FloorView::new(planned, n)).collect(),
        cautions: CautionView::all(planned),
        people: people.len(),
        class: class.as_ref().map(|class| class.coach.clone()),
    }
}

fn block_row(block: &HourBlock) -> BlockRow {
    let range = if block.high_s > block.low_s {
        format!("{} to {}", clock_s(block.low_s), clock_s(block.high_s))
    } else {
        String::new()
    };
    BlockRow {
        key: block.key.clone(),
        from: clock_s(block.start_s),
        label: block.label.clone(),
        length: clock_s(block.length_s()),
        range,
        why: block.why.clone(),
        pinned: block.pinned,
        tight: block.tight.clone(),
        typed: clock_s(block.length_s()),
    }
}

fn suggestion_row(suggestion: &Suggestion) -> SuggestionRow {
    let time = clock_s(suggestion.saves_s.unsigned_abs() as u32);
    SuggestionRow {
        value: serde_json::to_string(&suggestion.change).unwrap_or_default(),
        what: suggestion.what.clone(),
        time: if suggestion.saves_s < 0 { format!("takes {time}") } else { format!("saves {time}") },
        loses: suggestion.loses.clone(),
    }
}

/// A decision, as a button or field sends it.
#[derive(Deserialize)]
struct Decision {
    action: String,
    #[serde(default)]
    value: String,
    /// A block, or a member.
    #[serde(default)]
    key: String,
    #[serde(default)]
    other: String,
    #[serde(default)]
    piece: usize,
    #[serde(default)]
    x: f64,
    #[serde(default)]
    y: f64,
}

/// `POST /days/{day}/hour`: one decision; the hour and the floor are worked out anew around it.
#[post("/days/{day}/hour")]
async fn decide(
    tenant: Tenant,
    path: web::Path<String>,
    of: Query<Of>,
    form: Form<Decision>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let (decided, place) = decided(&form)?;
    let did = crate::day::decide(&tenant, day, &decided, &of).await?;
    Ok(did.said_at(format_args!("/days/{day}/hour"), &place))
}

/// The decisions that a form stands for, and the place of the page that they belong to.
fn decided(form: &Decision) -> Result<(Vec<Decided>, String), AppError> {
    let wrong = |field, value: &str, expected| Err(AppError::field(field, value, expected));
    let floor = format!("floor-{}", form.piece);
    let blocks = "hour-blocks".to_owned();
    let piece = form.piece;
    let pair = (form.key.clone(), form.other.clone());
    let (made, place) = match form.action.as_str() {
        "change" | "undo" => {
            let Ok(change) = serde_json::from_str::<Change>(&form.value) else {
                return wrong("value", &form.value, "a change that was offered");
            };
            let back = form.action == "undo";
            (if back { HourDecision::TakeBack { change } } else { HourDecision::Make { change } }, blocks)
        }
        "changes" => {
            let Ok(changes) = serde_json::from_str::<Vec<Change>>(&form.value) else {
                return wrong("value", &form.value, "changes that were offered");
            };
            let make = |change| Decided::Hour(HourDecision::Make { change });
            return Ok((changes.into_iter().take(MOST_AT_ONCE).map(make).collect(), blocks));
        }
        "pin" => {
            let Some(seconds) = minutes(&form.value) else {
                return wrong("length", &form.value, "minutes such as 8 or 8:30, at most 90");
            };
            (HourDecision::Pin { block: form.key.clone(), seconds }, blocks)
        }
        "unpin" => (HourDecision::Unpin { block: form.key.clone() }, blocks),
        "arrange" => {
            let way = way_named(&form.value);
            if way.is_none() && !form.value.is_empty() {
                return wrong("value", &form.value, "a way to arrange the class");
            }
            (HourDecision::Arrange { piece, way }, floor)
        }
        "place" => (HourDecision::Place { piece, who: form.key.clone(), at: (form.x, form.y) }, floor),
        "places-back" => (HourDecision::PlacesBack { piece }, floor),
        "teams" => {
            let size = form.value.parse::<u32>().ok();
            if size.is_none() && !form.value.is_empty() {
                return wrong("team size", &form.value, "from 1 to 6");
            }
            (HourDecision::TeamSize { piece, size }, floor)
        }
        action @ ("alike" | "mixed") => (HourDecision::TeamsAlike { piece, alike: action == "alike" }, floor),
        action @ ("with" | "apart") => {
            (HourDecision::Wish { piece, pair, together: action == "with" }, floor)
        }
        action @ ("drop-with" | "drop-apart") => {
            (HourDecision::DropWish { piece, pair, together: action == "drop-with" }, floor)
        }
        other => return wrong("action", other, "a decision"),
    };
    Ok((vec![Decided::Hour(made)], place))
}

/// Most changes that one button makes.
const MOST_AT_ONCE: usize = 20;

/// A length as typed: `8`, `8:30` or `8,5`.
fn minutes(text: &str) -> Option<u32> {
    let text = text.trim().replace(',', ".");
    let seconds = match text.split_once(':') {
        Some((minutes, seconds)) => {
            let seconds = seconds.parse::<u32>().ok().filter(|s| *s < 60)?;
            minutes.parse::<u32>().ok()?.checked_mul(60)?.checked_add(seconds)?
        }
        None => (text.parse::<f64>().ok().filter(|n| (0.0..=90.0).contains(n))? * 60.0).round() as u32,
    };
    (30..=5400).contains(&seconds).then_some(seconds)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn lengths_are_minutes_or_clock_times() {
        assert_eq!((minutes("8"), minutes("8:30"), minutes(" 7,5 ")), (Some(480), Some(510), Some(450)));
        assert_eq!((minutes("soon"), minutes("8:70"), minutes("0"), minutes("91")), (None, None, None, None));
        assert_eq!(minutes("71582789:00"), None);
    }
}
