//! How long each block of the hour takes, and why.

use serde::Serialize;

use super::edits::HourEdits;
use crate::floor::Station;
use crate::gym::Gym;
use crate::movement::Catalogue;
use crate::session::{Format, Part, PartKind, Session, totals, works};
use crate::units::clock_s;
use crate::warmup::Warmup;

/// A block of the class hour.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct HourBlock {
    /// What it is: `brief`, `warmup`, `strength`, `set_up`, `conditioning`, `scores`, `cool_down`.
    pub kind: &'static str,
    /// Which block it is, for pinning: `conditioning-2` belongs to part 2.
    pub key: String,
    /// As shown.
    pub label: String,
    /// Seconds from the start of class.
    pub start_s: u32,
    /// Seconds from the start of class.
    pub end_s: u32,
    /// Its length on a quick day, in seconds.
    pub low_s: u32,
    /// Its length on a slow day, in seconds.
    pub high_s: u32,
    /// The step of the rail that it belongs to.
    pub step: &'static str,
    /// Why it is as long as it is.
    pub why: String,
    /// Whether the coach has set its length.
    pub pinned: bool,
}

impl HourBlock {
    /// Its length as planned, in seconds.
    pub fn length_s(&self) -> u32 {
        self.end_s - self.start_s
    }
}

/// A length in seconds: on a quick day, as planned, on a slow day.
#[derive(Clone, Copy)]
pub(super) struct Length {
    low: f64,
    middle: f64,
    high: f64,
}

impl Length {
    /// Not a minute more or less, because a clock runs.
    fn exact(seconds: u32) -> Self {
        let middle = f64::from(seconds);
        Self { low: middle, middle, high: middle }
    }

    /// Between shares of the usual; how far blocks stray is coaching judgement, to be corrected by pins.
    fn about(seconds: u32, low: f64, high: f64) -> Self {
        let middle = f64::from(seconds);
        Self { low: middle * low, middle, high: middle * high }
    }
}

/// What the blocks are made from.
pub struct HourInput<'a> {
    /// The session, with what was taken off it.
    pub session: &'a Session,
    /// The warm-up.
    pub warmup: &'a Warmup,
    /// Conditioning by its part's place.
    pub pieces: &'a [PieceTime],
    /// Ramp steps of the first lift.
    pub ramp_steps: u32,
    /// People in the class.
    pub class_size: usize,
    /// Length of the class, racks, and what has to be moved.
    pub gym: &'a Gym,
    /// Movements.
    pub catalogue: &'a Catalogue,
    /// What the coach has decided.
    pub edits: &'a HourEdits,
}

/// How long a piece takes the class.
#[derive(Clone, Debug, PartialEq)]
pub struct PieceTime {
    /// The part's place in the session.
    pub part: usize,
    /// Seconds until the middle of the class's slowest has ended.
    pub middle_s: f64,
    /// Seconds until the last late finish, heats included.
    pub late_s: f64,
    /// How heats are run, when there are any.
    pub heats: Option<String>,
    /// Things to be set up for it.
    pub stations: Vec<Station>,
}

/// Usual lengths in seconds; common practice for a class of twelve to sixteen.
const BRIEF_S: u32 = 240;
const CONDITIONING_BRIEF_S: u32 = 180;
const SCORES_S: u32 = 120;
/// A cool-down together.
const COOL_DOWN_S: u32 = 180;
/// Seconds for one ramp step with a partner loading.
const RAMP_STEP_S: u32 = 70;
/// Rest between work sets when none is written: general strength in a class.
pub(super) const STRENGTH_REST_S: u32 = 120;
/// Seconds for a lifter to get under the bar, and for two people to change plates between turns.
const UNDER_THE_BAR_S: u32 = 10;
const PLATES_BETWEEN_TURNS_S: u32 = 20;
/// Putting away and setting up: a walk for everybody, and some seconds for each kind of thing to be fetched and for each
/// person beyond a dozen who queues for it.
const CHANGE_OVER_S: u32 = 75;
const EACH_KIND_S: u32 = 30;
const EACH_IN_THE_QUEUE_S: u32 = 3;
const NO_QUEUE: usize = 12;

/// The blocks, end to end.
pub(super) fn blocks(input: &HourInput<'_>) -> Vec<HourBlock> {
    let HourInput { session, warmup, pieces, ramp_steps, class_size, gym, catalogue, edits } = *input;
    let mut blocks: Vec<HourBlock> = Vec::new();
    let mut add =
        |kind: &'static str, part: Option<usize>, label: String, length: Length, step, why: String| {
            let key = part.map_or(kind.to_owned(), |part| format!("{kind}-{part}"));
            let pin = edits.pins.get(&key).copied();
            let (length, why) = match pin {
                Some(seconds) => (Length::exact(seconds), "set by the coach".to_owned()),
                None => (length, why),
            };
            let seconds = length.middle.round() as u32;
            if seconds > 0 {
                let start_s = blocks.last().map_or(0, |block: &HourBlock| block.end_s);
                blocks.push(HourBlock {
                    kind,
                    key,
                    label,
                    start_s,
                    end_s: start_s + seconds,
                    low_s: (length.low.round() as u32).min(seconds),
                    high_s: (length.high.round() as u32).max(seconds),
                    step,
                    why,
                    pinned: pin.is_some(),
                });
            }
        };
    let arrive = Length::about(BRIEF_S, 0.75, 1.5);
    add(
        "brief",
        None,
        "Brief".to_owned(),
        arrive,
        "read",
        "arrive, greet, explain the board: 4 minutes is usual".to_owned(),
    );
    let general = Length::about(warmup.seconds, 1.0, 1.1);
    add("warmup", None, "Warm-up".to_owned(), general, "warmup", "the warm-up's items added up".to_owned());
    let mut rehearsal_s =
        warmup.specific.iter().flat_map(|block| &block.items).map(|item| item.seconds).sum::<u32>();
    let mut before: Option<PartKind> = None;
    let mut first_lift = true;
    for (n, part) in session.parts.iter().enumerate() {
        match part.kind {
            PartKind::Warmup | PartKind::Home => continue,
            PartKind::Strength => {
                let turns = people_per_rack(part, class_size, gym, catalogue);
                let (length, why) = strength_length(part, if first_lift { ramp_steps } else { 2 }, turns);
                first_lift = false;
                add("strength", Some(n), lift_label(part, catalogue), length, "loads", why);
            }
            PartKind::Skill => {
                let length = Length::about(part.duration_s.unwrap_or(600), 0.8, 1.1);
                let why = match part.duration_s {
                    Some(_) => "as written",
                    None => "no length is written: 10 minutes, a guess",
                };
                add("skill", Some(n), "Skill".to_owned(), length, "read", why.to_owned());
            }
            PartKind::Conditioning => {
                let piece = pieces.iter().find(|piece| piece.part == n);
                if before.is_some_and(|kind| kind != PartKind::Conditioning) {
                    let (length, why) = set_up(piece.map_or(&[], |piece| &piece.stations), class_size);
                    add("set_up", Some(n), "Set up".to_owned(), length, "hour", why);
                }
                if rehearsal_s > 0 {
                    let why = "what only the piece needs, rehearsed right before it".to_owned();
                    let length = Length::about(std::mem::take(&mut rehearsal_s), 0.9, 1.15);
                    add("warmup", Some(n), "Rehearse".to_owned(), length, "warmup", why);
                }
                if before != Some(PartKind::Conditioning) {
                    let length = Length::about(CONDITIONING_BRIEF_S, 0.7, 1.4);
                    let why = "standards, versions, one rehearsal round".to_owned();
                    add("brief", Some(n), "Brief the piece".to_owned(), length, "pace", why);
                }
                let (length, why) = conditioning_length(part, piece);
                add("conditioning", Some(n), part_label(part), length, "pace", why);
            }
            PartKind::Accessory => {
                let (length, why) = list_length(part, catalogue, u32::MAX);
                add("accessory", Some(n), "Accessory".to_owned(), length, "read", why);
            }
            PartKind::Mobility => {
                let (length, why) = list_length(part, catalogue, 600);
                add("cool_down", Some(n), "Mobility".to_owned(), length, "read", why);
            }
        }
        before = Some(part.kind);
    }
    let scores = Length::about(SCORES_S, 0.7, 1.5);
    add("scores", None, "Scores".to_owned(), scores, "hour", "scores and clean-up: 2 minutes".to_owned());
    let cool_down_s = (COOL_DOWN_S + edits.longer_cool_down_s()) * u32::from(!edits.cools_down_alone());
    if before != Some(PartKind::Mobility) {
        let why = "the first thing lost when a plan is over-full".to_owned();
        let length = Length::about(cool_down_s, 0.5, 1.0);
        add("cool_down", None, "Cool down".to_owned(), length, "warmup", why);
    }
    blocks
}

/// Lifters in a turn on one rack, or on one bar when there are fewer of those or no rack is needed.
fn people_per_rack(part: &Part, class_size: usize, gym: &Gym, catalogue: &Catalogue) -> u32 {
    let lifts = works(&part.tree);
    let mut movements = lifts.iter().filter_map(|work| catalogue.get(&work.movement));
    let Some(lift) = movements.find(|movement| movement.is_barbell()) else { return 1 };
    let bars: u32 = gym.bars.iter().map(|bar| bar.count).sum();
    let racked = lift.equipment.iter().any(|kit| kit == "rack");
    let places = if racked { bars.min(gym.racks) } else { bars };
    (class_size as u32).div_ceil(places.max(1)).max(1)
}

fn strength_length(part: &Part, ramp_steps: u32, turns: u32) -> (Length, String) {
    if let Some(seconds) = part.duration_s {
        return (Length::exact(seconds), "as written".to_owned());
    }
    let sets = part.strength.sets.unwrap_or(4);
    let reps = part.strength.reps.first().copied().unwrap_or(8);
    let rep_s = part.strength.tempo.as_ref().map_or(3, |tempo| tempo.rep_s().max(3));
    let work = reps * rep_s + UNDER_THE_BAR_S;
    let rest = part.rest.map_or(STRENGTH_REST_S, |rest| rest.high_s);
    // Sharing a rack: a turn comes round when the others have lifted.
    let alone = work + rest;
    let shared = (work + PLATES_BETWEEN_TURNS_S) * turns;
    let cycle = alone.max(shared);
    let seconds = ramp_steps * RAMP_STEP_S + sets * cycle;
    let each =
        if shared > alone { "the others' turns take longer than the rest" } else { "the rest decides" };
    let why = format!(
        "{ramp_steps} ramp steps of {} and {sets} sets of {}, {turns} to a bar: {each}",
        clock_s(RAMP_STEP_S),
        clock_s(cycle)
    );
    // A written rest is kept; without one people take more or less.
    let (low, high) = if part.rest.is_some() { (0.95, 1.1) } else { (0.85, 1.2) };
    (Length::about(seconds, low, high), why)
}

fn set_up(stations: &[Station], class_size: usize) -> (Length, String) {
    let kinds = stations.len() as u32;
    let queue = class_size.saturating_sub(NO_QUEUE) as u32;
    let seconds = CHANGE_OVER_S + kinds * (EACH_KIND_S + queue * EACH_IN_THE_QUEUE_S);
    let names: Vec<String> = stations.iter().map(|station| station.name(2)).collect();
    let why = if names.is_empty() {
        "put away; nothing to fetch for the piece".to_owned()
    } else {
        format!("put away, fetch {} for {class_size}", names.join(", "))
    };
    (Length::about(seconds, 0.7, 1.4), why)
}

fn conditioning_length(part: &Part, piece: Option<&PieceTime>) -> (Length, String) {
    let heats = piece.and_then(|piece| piece.heats.as_ref());
    let in_heats = |why: &str| heats.map_or(why.to_owned(), |heats| format!("{heats}; {why}"));
    if let Some(seconds) = part.duration_s.filter(|_| part.format != Some(Format::ForTime)) {
        let length = piece.filter(|_| heats.is_some()).map_or(seconds, |piece| piece.late_s.ceil() as u32);
        return (Length::exact(length), in_heats("as written"));
    }
    let Some(piece) = piece else {
        let guess = part.cap_s.unwrap_or(600);
        return (Length::about(guess, 0.8, 1.1), "no estimate: a guess".to_owned());
    };
    let late = piece.late_s.min(5400.0);
    let length = Length { low: piece.middle_s.min(late), middle: late, high: late };
    let why = match part.cap_s {
        Some(cap) if late >= f64::from(cap) - 1.0 && heats.is_none() => "the cap".to_owned(),
        Some(_) => in_heats("the slowest member's late finish, inside the cap"),
        None => in_heats("the slowest member's late finish; there is no cap"),
    };
    // Without a cap nothing stops the clock for whoever has a bad day.
    let high = if part.cap_s.is_some() { late } else { late * 1.1 };
    (Length { high, ..length }, why)
}

fn list_length(part: &Part, catalogue: &Catalogue, most: u32) -> (Length, String) {
    if let Some(seconds) = part.duration_s {
        return (Length::exact(seconds), "as written".to_owned());
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
    let seconds = ((work + pauses).ceil() as u32).clamp(60, most.max(60));
    (Length::about(seconds, 0.8, 1.2), "its work at a steady pace, with short pauses".to_owned())
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
