//! What could be taken off a session that does not fit its hour, or added to one that leaves time.

use serde::{Deserialize, Serialize};

use super::blocks::HourBlock;
use super::circumstances::{Without, missed, without};
use super::lengths::STRENGTH_REST_S;
use crate::gym::Gym;
use crate::movement::Catalogue;
use crate::session::{Format, Part, PartKind, Session};
use crate::units::clock_s;
use crate::versions::rewrite::shorten;

/// One change to a session.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case", tag = "change")]
pub enum Change {
    /// The accessory work is given for home.
    AccessoryHome {
        /// The part's place in the session.
        part: usize,
    },
    /// One work set less.
    OneSetLess {
        /// The part's place in the session.
        part: usize,
    },
    /// The general warm-up is two minutes shorter.
    ShorterWarmup,
    /// The cap comes two minutes sooner.
    LowerCap {
        /// The part's place in the session.
        part: usize,
    },
    /// The AMRAP or interval piece is two minutes shorter.
    ShorterPiece {
        /// The part's place in the session.
        part: usize,
    },
    /// Everybody cools down alone after class.
    CoolDownAlone,
    /// Two minutes more of warm-up.
    LongerWarmup,
    /// One work set more.
    OneSetMore {
        /// The part's place in the session.
        part: usize,
    },
    /// Three minutes more to cool down together.
    LongerCoolDown,
    /// What is there on other days is missing today.
    Without {
        /// Which of it.
        what: Without,
    },
}

/// A change with what it brings and costs.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Suggestion {
    /// What to do.
    #[serde(flatten)]
    pub change: Change,
    /// In words.
    pub what: String,
    /// Seconds it saves; below nothing for what takes time.
    pub saves_s: i64,
    /// What is lost by it, or gained.
    pub loses: String,
}

impl Change {
    /// Seconds by which a cap or a window is moved at a time.
    pub const PIECE_STEP_S: u32 = 120;
    /// Seconds by which the warm-up is changed at a time.
    pub const WARMUP_STEP_S: u32 = 120;
    /// Seconds by which the cool-down is lengthened at a time.
    pub const COOL_DOWN_STEP_S: u32 = 180;

    /// In words.
    pub fn words(&self, session: &Session) -> String {
        let part = |n: &usize| session.parts.get(*n);
        match self {
            Self::AccessoryHome { .. } => "Give the accessory work for home".to_owned(),
            Self::OneSetLess { .. } => "One work set less".to_owned(),
            Self::ShorterWarmup => "Warm-up two minutes shorter".to_owned(),
            Self::LowerCap { part: n } => {
                let cap = part(n).and_then(|part| part.cap_s).unwrap_or(0);
                format!("Cap two minutes sooner than {}", clock_s(cap))
            }
            Self::ShorterPiece { part: n } => {
                let length = part(n).and_then(|part| part.duration_s).unwrap_or(0);
                format!("Piece two minutes shorter than {}", clock_s(length))
            }
            Self::CoolDownAlone => "Cool down on their own".to_owned(),
            Self::LongerWarmup => "Two minutes more warm-up".to_owned(),
            Self::OneSetMore { .. } => "One work set more".to_owned(),
            Self::LongerCoolDown => "Three minutes more to cool down".to_owned(),
            Self::Without { what } => what.label().to_owned(),
        }
    }

    /// The session with this change made, where it can be made at all.
    fn apply(&self, session: &mut Session) {
        let mut part = |n: &usize, change: &dyn Fn(&mut Part)| {
            if let Some(part) = session.parts.get_mut(*n) {
                change(part);
            }
        };
        match self {
            Self::AccessoryHome { part: n } => part(n, &|part| part.kind = PartKind::Home),
            Self::OneSetLess { part: n } => part(n, &|part| sets(part, -1)),
            Self::OneSetMore { part: n } => part(n, &|part| sets(part, 1)),
            Self::LowerCap { part: n } => part(n, &|part| {
                part.cap_s = part.cap_s.map(|cap| shorter(cap, Self::PIECE_STEP_S));
            }),
            Self::ShorterPiece { part: n } => part(n, &|part| {
                if let Some(length) = part.duration_s {
                    let seconds = shorter(length, Self::PIECE_STEP_S);
                    part.tree = shorten(&part.tree, seconds, "so that it fits the hour").0;
                    part.duration_s = Some(seconds);
                }
            }),
            Self::ShorterWarmup
            | Self::LongerWarmup
            | Self::CoolDownAlone
            | Self::LongerCoolDown
            | Self::Without { .. } => {}
        }
    }
}

fn shorter(seconds: u32, by: u32) -> u32 {
    if seconds > 2 * by { seconds - by } else { seconds }
}

/// One set more or less: the lightest goes first and the last is done once more, so that the top set stays.
fn sets(part: &mut Part, by: i32) {
    let before = part.strength.sets.unwrap_or(4);
    let after = before.saturating_add_signed(by).max(1);
    part.strength.sets = Some(after);
    step(&mut part.strength.reps, before, after);
    step(&mut part.strength.percent, before, after);
    if let crate::session::Node::Rounds { times: Some(times), .. } = &mut part.tree
        && *times == before
    {
        *times = after;
    }
}

/// A list with an entry a set, one set shorter or longer; any other list stays as it is.
fn step<T: Copy>(list: &mut Vec<T>, before: u32, after: u32) {
    if list.len() != before as usize {
        return;
    }
    if after < before {
        list.remove(0);
    } else if after > before {
        list.extend(list.last().copied());
    }
}

/// A session with all changes made; what is missed today is swapped last, all of it at once.
pub fn with_changes(session: &Session, changes: &[Change], gym: &Gym, catalogue: &Catalogue) -> Session {
    with_changes_told(session, changes, gym, catalogue).0
}

/// As [`with_changes`], with what became of what for want of something.
pub(super) fn with_changes_told(
    session: &Session,
    changes: &[Change],
    gym: &Gym,
    catalogue: &Catalogue,
) -> (Session, Vec<String>) {
    let mut session = session.clone();
    changes.iter().for_each(|change| change.apply(&mut session));
    let said = missed(changes);
    let told = if said.is_empty() { Vec::new() } else { without(&mut session, &said, gym, catalogue) };
    (session, told)
}

/// What could go, least lost first.
pub(super) fn cuts(session: &Session, blocks: &[HourBlock]) -> Vec<Suggestion> {
    let length = |key: &str| {
        let block = blocks.iter().find(|block| block.key == key && !block.pinned);
        block.map_or(0, |block| i64::from(block.length_s()))
    };
    let mut found: Vec<(Change, i64, &str)> = Vec::new();
    for (n, part) in session.parts.iter().enumerate() {
        if part.kind == PartKind::Accessory {
            found.push((
                Change::AccessoryHome { part: n },
                length(&format!("accessory-{n}")),
                "the accessory work in class",
            ));
        }
    }
    if length("warmup") >= 480 {
        found.push((
            Change::ShorterWarmup,
            i64::from(Change::WARMUP_STEP_S),
            "an item or two of the warm-up",
        ));
    }
    found.push((Change::CoolDownAlone, length("cool_down"), "the shared cool-down"));
    for (n, part) in session.parts.iter().enumerate() {
        let sets = part.strength.sets.unwrap_or(4);
        if part.kind == PartKind::Strength && part.duration_s.is_none() && sets > 1 {
            let block = length(&format!("strength-{n}"));
            let rest = i64::from(part.rest.map_or(STRENGTH_REST_S, |rest| rest.high_s) + 30);
            let each = if block > 0 { rest.max(block / i64::from(sets + 2)) } else { 0 };
            found.push((Change::OneSetLess { part: n }, each, "one set of the lift, the lightest"));
        }
    }
    for (n, part) in session.parts.iter().enumerate().filter(|(_, part)| part.kind == PartKind::Conditioning)
    {
        let step = i64::from(Change::PIECE_STEP_S);
        let block = length(&format!("conditioning-{n}"));
        if let Some(cap) = part.cap_s.filter(|cap| shorter(*cap, Change::PIECE_STEP_S) < *cap) {
            // A cap that nobody reaches saves nothing.
            let saves = (block - i64::from(cap) + step).clamp(0, step);
            found.push((Change::LowerCap { part: n }, saves, "the last two minutes of the slowest"));
        }
        let timed = matches!(part.format, Some(Format::Amrap));
        if timed
            && part.duration_s.is_some_and(|length| shorter(length, Change::PIECE_STEP_S) < length)
            && block > 0
        {
            found.push((Change::ShorterPiece { part: n }, step, "about a round of the piece"));
        }
    }
    let all = found.into_iter().filter(|(_, saves, _)| *saves > 0);
    all.map(|(change, saves_s, loses)| suggestion(change, session, saves_s, loses)).collect()
}

/// How many changes from the first save so many seconds together; none when nothing is over, or all do not.
pub(super) fn enough(changes: &[Suggestion], over_s: u32) -> Option<usize> {
    let mut saved = 0;
    let place = changes.iter().position(|change| {
        saved += change.saves_s;
        saved >= i64::from(over_s)
    });
    place.filter(|_| over_s > 0).map(|place| place + 1)
}

/// What could be added to time that is left, most useful first.
pub(super) fn additions(session: &Session, spare_s: u32, blocks: &[HourBlock]) -> Vec<Suggestion> {
    let mut found: Vec<(Change, u32, &str)> = Vec::new();
    let warmup = blocks.iter().find(|block| block.key == "warmup").map_or(0, HourBlock::length_s);
    if warmup < 900 {
        found.push((Change::LongerWarmup, Change::WARMUP_STEP_S, "more time to open up and rehearse"));
    }
    for (n, part) in session.parts.iter().enumerate() {
        if part.kind == PartKind::Strength && part.duration_s.is_none() {
            let each = part.rest.map_or(STRENGTH_REST_S, |rest| rest.high_s) + 30;
            found.push((Change::OneSetMore { part: n }, each, "one more set at the last weight"));
        }
    }
    if blocks.iter().any(|block| block.key == "cool_down") {
        found.push((Change::LongerCoolDown, Change::COOL_DOWN_STEP_S, "time together to come down"));
    }
    let fitting = found.into_iter().filter(|(_, takes, _)| *takes <= spare_s);
    fitting.map(|(change, takes, gains)| suggestion(change, session, -i64::from(takes), gains)).collect()
}

fn suggestion(change: Change, session: &Session, saves_s: i64, loses: &str) -> Suggestion {
    Suggestion { what: change.words(session), change, saves_s, loses: loses.to_owned() }
}
