//! The blocks of the hour in their order.

use std::collections::BTreeMap;

use serde::Serialize;

use super::edits::HourEdits;
use super::lengths::{
    Length, Takes, climb_length, conditioning_length, list_length, set_up_length, strength_length,
};
use crate::floor::Station;
use crate::gym::Gym;
use crate::movement::Catalogue;
use crate::session::{Format, Part, PartKind, Session, works};
use crate::strength::LiftPlace;
use crate::units::{Kilograms, clock_s};
use crate::warmup::Warmup;

/// A block of the class hour.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct HourBlock {
    /// What it is: `brief`, `warmup`, `strength`, `set_up`, `climb`, `rest`, `conditioning`, `scores`, `cool_down`.
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
    /// What does not fit into it, and what would.
    pub tight: Option<String>,
}

impl HourBlock {
    /// Its length as planned, in seconds.
    pub fn length_s(&self) -> u32 {
        self.end_s - self.start_s
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
    /// Lifts by their part's place.
    pub lifts: &'a [LiftTime],
    /// Length of the class, racks, and what has to be moved.
    pub gym: &'a Gym,
    /// Movements.
    pub catalogue: &'a Catalogue,
    /// What the coach has decided.
    pub edits: &'a HourEdits,
}

/// What decides how long a lift takes the class, as its sheets and racks say.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct LiftTime {
    /// The part's place in the session.
    pub part: usize,
    /// Most steps that anybody climbs.
    pub ramp_steps: u32,
    /// Most work sets on anybody's sheet; 0 where nobody has a sheet, and the text decides.
    pub sets: u32,
    /// Most repetitions of one of them, all elements of a complex counted; 0 as with `sets`.
    pub reps: u32,
    /// Most lifters on one rack or bar.
    pub turns: u32,
    /// Plates that are moved between two turns where most are.
    pub plates_a_turn: u32,
    /// What a rack or bar is called: `rack`.
    pub place: LiftPlace,
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
    pub stations: Vec<Fetched>,
    /// Who has to climb furthest to the weight of a bar, when anybody has to.
    pub climb: Option<Climb>,
}

/// A kind of thing that is set up before a piece.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Fetched {
    /// Which.
    pub station: Station,
    /// How many.
    pub count: u32,
    /// How many of the class would have one at once: so many go for it.
    pub at_once: u32,
}

/// The way up to the weight of a piece.
#[derive(Clone, Debug, PartialEq)]
pub struct Climb {
    /// Whose way is the longest.
    pub who: String,
    /// Up to which load.
    pub to: Kilograms,
    /// In how many steps after the empty bar.
    pub steps: u32,
    /// Plates that are on the bar then.
    pub plates: u32,
}

/// Usual lengths in seconds; common practice for a class of twelve to sixteen.
const BRIEF_S: u32 = 240;
const CONDITIONING_BRIEF_S: u32 = 180;
const SCORES_S: u32 = 120;
/// A cool-down together.
const COOL_DOWN_S: u32 = 180;

/// Blocks as they are laid end to end.
struct Laid<'a> {
    edits: &'a HourEdits,
    blocks: Vec<HourBlock>,
}

impl Laid<'_> {
    /// One more block, as long as it takes or as the coach has set it; none when it takes no time.
    fn add(
        &mut self,
        kind: &'static str,
        part: Option<usize>,
        label: &str,
        step: &'static str,
        takes: Takes,
    ) {
        let key = part.map_or(kind.to_owned(), |part| format!("{kind}-{part}"));
        let pin = self.edits.pins.get(&key).copied();
        let Takes { length, why, tight } = match pin {
            Some(seconds) => {
                Takes { tight: takes.tight, ..Takes::of(Length::exact(seconds), "set by the coach") }
            }
            None => takes,
        };
        let seconds = length.middle.round() as u32;
        if seconds > 0 {
            let start_s = self.end_s();
            self.blocks.push(HourBlock {
                kind,
                key,
                label: label.to_owned(),
                start_s,
                end_s: start_s + seconds,
                low_s: (length.low.round() as u32).min(seconds),
                high_s: (length.high.round() as u32).max(seconds),
                step,
                why,
                pinned: pin.is_some(),
                tight,
            });
        }
    }

    /// Seconds from the start of class to the end of what is laid.
    fn end_s(&self) -> u32 {
        self.blocks.last().map_or(0, |block| block.end_s)
    }

    /// What is left of the rest that is written before a part, once what is done in it has been laid.
    fn rest(&mut self, part: usize, written: Option<Resting>) {
        let Some(Resting { seconds, since_s }) = written else { return };
        let left = seconds.saturating_sub(self.end_s() - since_s);
        let why = if left < seconds {
            format!("what setting up leaves of {} of rest", clock_s(seconds))
        } else {
            "as written between the two".to_owned()
        };
        self.add("rest", Some(part), "Rest", "pace", Takes::of(Length::exact(left), why));
    }
}

/// A rest that is written between two parts.
#[derive(Clone, Copy)]
struct Resting {
    seconds: u32,
    /// Seconds from the start of class to its beginning.
    since_s: u32,
}

/// What lies out for a piece and for those that follow it without another part between: each kind once, as many as the piece needs that needs most of it.
fn lies_out(session: &Session, pieces: &[PieceTime], part: usize) -> Vec<Fetched> {
    let follows = session.parts[part..].iter().take_while(|part| part.kind == PartKind::Conditioning).count();
    let mut out: BTreeMap<Station, Fetched> = BTreeMap::new();
    for piece in pieces.iter().filter(|piece| (part..part + follows).contains(&piece.part)) {
        for fetched in &piece.stations {
            let most = out.entry(fetched.station).or_insert(*fetched);
            most.count = most.count.max(fetched.count);
            most.at_once = most.at_once.max(fetched.at_once);
        }
    }
    out.into_values().collect()
}

/// The blocks, end to end.
pub(super) fn blocks(input: &HourInput<'_>) -> Vec<HourBlock> {
    let HourInput { session, warmup, pieces, lifts, catalogue, edits, .. } = *input;
    let mut laid = Laid { edits, blocks: Vec::new() };
    let arrive =
        Takes::of(Length::about(BRIEF_S, 0.75, 1.5), "arrive, greet, explain the board: 4 minutes is usual");
    laid.add("brief", None, "Brief", "read", arrive);
    let general = Takes::of(Length::about(warmup.seconds, 1.0, 1.1), "the warm-up's items added up");
    laid.add("warmup", None, "Warm-up", "warmup", general);
    let mut rehearsal_s =
        warmup.specific.iter().flat_map(|block| &block.items).map(|item| item.seconds).sum::<u32>();
    let mut before: Option<PartKind> = None;
    let mut resting: Option<Resting> = None;
    for (n, part) in session.parts.iter().enumerate() {
        let at = Some(n);
        if !matches!(part.kind, PartKind::Warmup | PartKind::Home | PartKind::Conditioning) {
            laid.rest(n, resting.take());
        }
        match part.kind {
            PartKind::Warmup | PartKind::Home => continue,
            PartKind::Strength => {
                let lift = lifts.iter().find(|lift| lift.part == n).copied().unwrap_or_default();
                laid.add("strength", at, &lift_label(part, catalogue), "loads", strength_length(part, lift));
            }
            PartKind::Skill => {
                let why = match part.duration_s {
                    Some(_) => "as written",
                    None => "no length is written: 10 minutes, a guess",
                };
                let length = Length::about(part.duration_s.unwrap_or(600), 0.8, 1.1);
                laid.add("skill", at, "Skill", "read", Takes::of(length, why));
            }
            PartKind::Conditioning => {
                let piece = pieces.iter().find(|piece| piece.part == n);
                let stations = lies_out(session, pieces, n);
                let put_away = before.is_some();
                // What lies out for a piece stays out for the next, whose things are fetched in the same walk.
                if before != Some(PartKind::Conditioning) && (put_away || !stations.is_empty()) {
                    laid.add("set_up", at, "Set up", "hour", set_up_length(&stations, put_away));
                }
                if rehearsal_s > 0 {
                    let length = Length::about(std::mem::take(&mut rehearsal_s), 0.9, 1.15);
                    let why = "what only the piece needs, rehearsed right before it";
                    laid.add("warmup", at, "Rehearse", "warmup", Takes::of(length, why));
                }
                if let Some(climb) = piece.and_then(|piece| piece.climb.as_ref()) {
                    laid.add("climb", at, "Climb", "pace", climb_length(climb, input.gym));
                }
                if before != Some(PartKind::Conditioning) {
                    let length = Length::about(CONDITIONING_BRIEF_S, 0.7, 1.4);
                    let takes = Takes::of(length, "standards, versions, one rehearsal round");
                    laid.add("brief", at, "Brief the piece", "pace", takes);
                }
                laid.rest(n, resting.take());
                laid.add("conditioning", at, &part_label(part), "pace", conditioning_length(part, piece));
            }
            PartKind::Accessory => {
                laid.add("accessory", at, "Accessory", "read", list_length(part, catalogue, u32::MAX));
            }
            PartKind::Mobility => {
                laid.add("cool_down", at, "Mobility", "read", list_length(part, catalogue, 600));
            }
        }
        before = Some(part.kind);
        resting = part.then_rest_s.map(|seconds| Resting { seconds, since_s: laid.end_s() });
    }
    let scores = Takes::of(Length::about(SCORES_S, 0.7, 1.5), "scores and clean-up: 2 minutes");
    laid.add("scores", None, "Scores", "hour", scores);
    let cool_down_s = (COOL_DOWN_S + edits.longer_cool_down_s()) * u32::from(!edits.cools_down_alone());
    if before != Some(PartKind::Mobility) {
        let length = Length::about(cool_down_s, 0.5, 1.0);
        let takes = Takes::of(length, "the first thing lost when a plan is over-full");
        laid.add("cool_down", None, "Cool down", "warmup", takes);
    }
    laid.blocks
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
