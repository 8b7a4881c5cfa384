//! The hour: blocks laid end to end, and whether they fit.

use serde::Serialize;

use crate::gym::Gym;
use crate::movement::Catalogue;
use crate::session::{Format, Part, PartKind, Session, totals, works};
use crate::warmup::Warmup;

/// A block of the class hour.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct HourBlock {
    /// What it is: `brief`, `warmup`, `strength`, `set_up`, `conditioning`, `cool_down`.
    pub kind: &'static str,
    /// As shown.
    pub label: String,
    /// Seconds from the start of class.
    pub start_s: u32,
    /// Seconds from the start of class.
    pub end_s: u32,
    /// The step of the rail that it belongs to.
    pub step: &'static str,
    /// Why it is as long as it is.
    pub why: String,
}

/// A change that would make the hour fit.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Change {
    /// What to do.
    pub what: String,
    /// Seconds it saves.
    pub saves_s: u32,
    /// What is lost.
    pub loses: String,
}

/// The hour as planned.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Hour {
    /// Length of the class.
    pub minutes: u32,
    /// Whether everything ends in time.
    pub fits: bool,
    /// Seconds left; none when it runs over.
    pub spare_s: u32,
    /// Seconds over.
    pub over_s: u32,
    /// Blocks in order.
    pub blocks: Vec<HourBlock>,
    /// Changes that save time, best first; empty when it fits.
    pub changes: Vec<Change>,
}

/// Usual lengths in seconds; common practice for a class of twelve to sixteen.
const BRIEF_S: u32 = 240;
const SET_UP_S: u32 = 180;
const CONDITIONING_BRIEF_S: u32 = 180;
const SCORES_S: u32 = 120;
const COOL_DOWN_S: u32 = 180;
/// Seconds for one ramp step with a partner loading.
const RAMP_STEP_S: u32 = 70;
/// Rest between work sets when none is written: general strength in a class.
const STRENGTH_REST_S: u32 = 120;

/// Lays out the hour. `ends` is the expected end of each conditioning part
/// for the slowest members, in seconds, by its place in the session.
pub fn lay_out(
    session: &Session,
    warmup: &Warmup,
    ends: &[(usize, f64)],
    ramp_steps: u32,
    class_size: usize,
    gym: &Gym,
    catalogue: &Catalogue,
) -> Hour {
    let mut blocks: Vec<HourBlock> = Vec::new();
    let mut clock = 0;
    let mut add = |kind, label: String, seconds: u32, step, why: String| {
        if seconds > 0 {
            blocks.push(HourBlock { kind, label, start_s: clock, end_s: clock + seconds, step, why });
            clock += seconds;
        }
    };
    add(
        "brief",
        "Brief".to_owned(),
        BRIEF_S,
        "read",
        "arrive, greet, explain the board: 4 minutes is usual".to_owned(),
    );
    add("warmup", "Warm-up".to_owned(), warmup.seconds, "warmup", "the warm-up's items added up".to_owned());
    let mut rehearsal_s =
        warmup.specific.iter().flat_map(|block| &block.items).map(|item| item.seconds).sum::<u32>();
    let mut before: Option<PartKind> = None;
    let mut first_lift = true;
    for (n, part) in session.parts.iter().enumerate() {
        match part.kind {
            PartKind::Warmup | PartKind::Home => continue,
            PartKind::Strength => {
                let turns = people_per_rack(class_size, gym);
                let (seconds, why) = strength_seconds(part, if first_lift { ramp_steps } else { 2 }, turns);
                first_lift = false;
                add("strength", lift_label(part, catalogue), seconds, "loads", why);
            }
            PartKind::Skill => {
                let seconds = part.duration_s.unwrap_or(600);
                add("skill", "Skill".to_owned(), seconds, "read", "as written, else 10 minutes".to_owned());
            }
            PartKind::Conditioning => {
                if before.is_some_and(|kind| kind != PartKind::Conditioning) {
                    add(
                        "set_up",
                        "Set up".to_owned(),
                        SET_UP_S,
                        "hour",
                        "put away and set up: 3 minutes".to_owned(),
                    );
                }
                if rehearsal_s > 0 {
                    let why = "what only the piece needs, rehearsed right before it".to_owned();
                    add("warmup", "Rehearse".to_owned(), std::mem::take(&mut rehearsal_s), "warmup", why);
                }
                if before != Some(PartKind::Conditioning) {
                    add(
                        "brief",
                        "Brief the piece".to_owned(),
                        CONDITIONING_BRIEF_S,
                        "pace",
                        "standards, versions, one rehearsal round".to_owned(),
                    );
                }
                let (seconds, why) =
                    conditioning_seconds(part, ends.iter().find(|(at, _)| *at == n).map(|(_, s)| *s));
                add("conditioning", part_label(part), seconds, "pace", why);
            }
            PartKind::Accessory => {
                let (seconds, why) = list_seconds(part, catalogue);
                add("accessory", "Accessory".to_owned(), seconds, "read", why);
            }
            PartKind::Mobility => {
                let (seconds, why) = list_seconds(part, catalogue);
                add("cool_down", "Mobility".to_owned(), seconds.clamp(60, 600), "read", why);
            }
        }
        before = Some(part.kind);
    }
    add("scores", "Scores".to_owned(), SCORES_S, "book", "scores and clean-up: 2 minutes".to_owned());
    if before != Some(PartKind::Mobility) {
        add(
            "cool_down",
            "Cool down".to_owned(),
            COOL_DOWN_S,
            "warmup",
            "the first thing lost when a plan is over-full".to_owned(),
        );
    }
    let total = gym.class_minutes * 60;
    let over_s = clock.saturating_sub(total);
    let changes = if over_s > 0 { changes(session, &blocks) } else { Vec::new() };
    Hour {
        minutes: gym.class_minutes,
        fits: over_s == 0,
        spare_s: total.saturating_sub(clock),
        over_s,
        blocks,
        changes,
    }
}

fn people_per_rack(class_size: usize, gym: &Gym) -> u32 {
    (class_size as u32).div_ceil(gym.racks.max(1)).max(1)
}

fn strength_seconds(part: &Part, ramp_steps: u32, turns: u32) -> (u32, String) {
    if let Some(seconds) = part.duration_s {
        return (seconds, "as written".to_owned());
    }
    let sets = part.strength.sets.unwrap_or(4);
    let reps = part.strength.reps.first().copied().unwrap_or(8);
    let rep_s = part.strength.tempo.as_ref().map_or(3, |tempo| tempo.rep_s().max(3));
    let work = reps * rep_s + 10;
    let rest = part.rest.map_or(STRENGTH_REST_S, |rest| rest.high_s);
    // Sharing a rack: a turn comes round when the others have lifted.
    let cycle = (work + rest).max(work * turns + 20 * turns);
    let seconds = ramp_steps * RAMP_STEP_S + sets * cycle;
    (seconds, format!("{ramp_steps} ramp steps and {sets} sets, {turns} to a rack"))
}

fn conditioning_seconds(part: &Part, slowest: Option<f64>) -> (u32, String) {
    if let Some(seconds) = part.duration_s.filter(|_| part.format != Some(Format::ForTime)) {
        return (seconds, "as written".to_owned());
    }
    match (part.cap_s, slowest) {
        (Some(cap), Some(end)) if end < f64::from(cap) => {
            (end.ceil() as u32, "the slowest member's late finish, inside the cap".to_owned())
        }
        (Some(cap), _) => (cap, "the cap".to_owned()),
        (None, Some(end)) => {
            (end.ceil().min(5400.0) as u32, "the slowest member's late finish; there is no cap".to_owned())
        }
        (None, None) => (600, "no estimate: 10 minutes, a guess".to_owned()),
    }
}

fn list_seconds(part: &Part, catalogue: &Catalogue) -> (u32, String) {
    if let Some(seconds) = part.duration_s {
        return (seconds, "as written".to_owned());
    }
    let work: f64 = totals(&part.tree)
        .iter()
        .filter_map(|total| {
            let movement = catalogue.get(&total.movement)?;
            Some(movement.seconds_per(total.unit, 0.4)? * total.amount + movement.setup_s)
        })
        .sum();
    let pauses =
        15.0 * works(&part.tree).len() as f64 * f64::from(part.strength.sets.or(part.rounds).unwrap_or(1));
    ((work + pauses).ceil() as u32, "its work at a steady pace, with short pauses".to_owned())
}

fn lift_label(part: &Part, catalogue: &Catalogue) -> String {
    works(&part.tree).first().map_or("Strength".to_owned(), |work| catalogue.name(&work.movement).to_owned())
}

fn part_label(part: &Part) -> String {
    match part.format {
        Some(Format::Amrap) => format!("AMRAP {}", part.duration_s.unwrap_or(0) / 60),
        Some(Format::ForTime) => "For time".to_owned(),
        Some(Format::Every) => "On the clock".to_owned(),
        Some(Format::Intervals | Format::Tabata) => "Intervals".to_owned(),
        _ => "Conditioning".to_owned(),
    }
}

/// What could go, most minutes first within what costs the session least.
fn changes(session: &Session, blocks: &[HourBlock]) -> Vec<Change> {
    let length =
        |kind: &str| blocks.iter().filter(|b| b.kind == kind).map(|b| b.end_s - b.start_s).sum::<u32>();
    let mut changes = Vec::new();
    if length("accessory") > 0 {
        changes.push(Change {
            what: "Give the accessory work for home".to_owned(),
            saves_s: length("accessory"),
            loses: "the accessory work in class".to_owned(),
        });
    }
    for part in
        session.parts.iter().filter(|part| part.kind == PartKind::Strength && part.duration_s.is_none())
    {
        let cycle = 30 + part.rest.map_or(STRENGTH_REST_S, |rest| rest.high_s);
        changes.push(Change {
            what: "One work set less".to_owned(),
            saves_s: cycle,
            loses: "one set of the lift".to_owned(),
        });
    }
    for part in &session.parts {
        if let (PartKind::Conditioning, Some(cap)) = (part.kind, part.cap_s) {
            changes.push(Change {
                what: format!("Cap the piece at {} minutes", cap / 60 - 2),
                saves_s: 120,
                loses: "the last two minutes of the slowest".to_owned(),
            });
        } else if part.kind == PartKind::Conditioning && part.format == Some(Format::Amrap) {
            changes.push(Change {
                what: "Shorten the piece by two minutes".to_owned(),
                saves_s: 120,
                loses: "about a round".to_owned(),
            });
        }
    }
    changes.push(Change {
        what: "Cool down on their own".to_owned(),
        saves_s: length("cool_down"),
        loses: "the shared cool-down".to_owned(),
    });
    changes.retain(|change| change.saves_s > 0);
    changes
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::read::read;

    fn hour(text: &str, minutes: u32) -> Hour {
        let catalogue = Catalogue::standard();
        let gym = Gym { class_minutes: minutes, ..Gym::default() };
        let warmup = Warmup { seconds: 600, ..Warmup::default() };
        lay_out(&read(text, catalogue).session, &warmup, &[], 4, 14, &gym, catalogue)
    }

    #[test]
    fn blocks_follow_each_other_without_gaps() {
        let hour = hour("Back squat 5x5 @ 75%\nrest 2:00\n\nConditioning\nAMRAP 12\n10 burpees", 60);
        assert!(hour.blocks.windows(2).all(|pair| pair[0].end_s == pair[1].start_s));
        assert!(hour.fits && hour.changes.is_empty(), "{hour:?}");
    }

    #[test]
    fn a_plan_that_is_too_long_says_by_how_much_and_what_to_change() {
        let hour = hour("Back squat 8x5 @ 75%\nrest 3:00\n\nConditioning\nFor time\n100 burpees\ncap 30", 45);
        assert!(!hour.fits && hour.over_s > 600);
        assert!(
            hour.changes.iter().any(|change| change.what == "One work set less" && change.saves_s == 210)
        );
    }
}
