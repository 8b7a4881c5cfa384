//! A part of the day: what kind it is, how it is scored and limited, and its tree.

use std::fmt;

use serde::{Deserialize, Serialize};

use crate::movement::MovementId;

use crate::tree::{Node, Work};
use crate::units::{Kilograms, plain};

/// A block of the day with its own purpose; conditioning pieces and lifts are a part each.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Part {
    /// What it is for.
    pub kind: PartKind,
    /// Its heading as written.
    pub heading: Option<String>,
    /// First and last line of the text, counted from 1.
    pub lines: (usize, usize),
    /// How it is run.
    pub format: Option<Format>,
    /// The work.
    pub tree: Node,
    /// Limit on fixed work, in seconds.
    pub cap_s: Option<u32>,
    /// Length where the text fixes it, in seconds.
    pub duration_s: Option<u32>,
    /// Rounds as written.
    pub rounds: Option<u32>,
    /// Seconds from start to start.
    pub interval_s: Option<u32>,
    /// Seconds of work in a work and rest piece.
    pub work_s: Option<u32>,
    /// The one written rest.
    pub rest: Option<Rest>,
    /// Seconds of written rest between it and the next part.
    pub then_rest_s: Option<u32>,
    /// People sharing the work; 1 when everybody works alone.
    pub team_size: u32,
    /// How a lift is prescribed.
    pub strength: Prescription,
    /// The intended result.
    pub target: Option<Target>,
    /// What counts.
    pub score: Option<Score>,
    /// Written intents besides the target: set sizes, rates, time a round.
    pub intents: Vec<Intent>,
    /// What may be done instead, as the coach wrote it.
    pub alternatives: Vec<Alternative>,
}

/// What a part is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[expect(missing_docs, reason = "the names are the field's own")]
pub enum PartKind {
    Warmup,
    Strength,
    Skill,
    Conditioning,
    Accessory,
    Mobility,
    Home,
}

impl PartKind {
    /// The heading that the canonical text gives it.
    pub const fn heading(self) -> &'static str {
        match self {
            Self::Warmup => "Warm-up",
            Self::Strength => "Strength",
            Self::Skill => "Skill",
            Self::Conditioning => "Conditioning",
            Self::Accessory => "Accessory",
            Self::Mobility => "Mobility",
            Self::Home => "At home",
        }
    }
}

/// How a part is run.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Format {
    /// Fixed work against the clock.
    ForTime,
    /// A fixed time with as much as possible in it.
    Amrap,
    /// Bouts of the same plan with rest of a written length between them.
    Intervals,
    /// A new start on a fixed clock.
    Every,
    /// Twenty seconds on, ten off.
    Tabata,
    /// A clock, mostly with rising work, until it no longer fits.
    UntilFailure,
    /// Not for time.
    Quality,
    /// Sets of a lift.
    Sets,
    /// Building to a heavy set.
    BuildTo,
    /// Lifts in turn, set by set.
    Superset,
    /// Sets of as many as possible.
    MaxReps,
}

impl Format {
    /// In plain words, as a heading says it.
    pub const fn name(self) -> &'static str {
        match self {
            Self::ForTime => "for time",
            Self::Amrap => "as many rounds as possible",
            Self::Intervals => "intervals",
            Self::Every => "on the clock",
            Self::Tabata => "20 s on, 10 s off",
            Self::UntilFailure => "on the clock until it no longer fits",
            Self::Quality => "for quality",
            Self::Sets => "sets",
            Self::BuildTo => "build to a heavy set",
            Self::Superset => "superset",
            Self::MaxReps => "max reps",
        }
    }
}

/// What counts as the result.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Score {
    /// Time on the clock.
    Time,
    /// Time less the written rests.
    TimeMinusRest,
    /// Full rounds and repetitions of the next.
    RoundsReps,
    /// Repetitions, calories or metres.
    Reps,
    /// The heaviest load.
    Load,
    /// The slowest of the intervals.
    SlowestInterval,
    /// Nothing.
    None,
}

impl Score {
    /// As written in canonical text after `Score:`.
    pub const fn name(self) -> &'static str {
        match self {
            Self::Time => "time",
            Self::TimeMinusRest => "working time",
            Self::RoundsReps => "rounds and reps",
            Self::Reps => "total reps",
            Self::Load => "load",
            Self::SlowestInterval => "slowest round",
            Self::None => "none",
        }
    }
}

/// A written rest and what it follows.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Rest {
    /// Its shortest length in seconds.
    pub low_s: u32,
    /// Its longest length in seconds, the same when one length is written.
    pub high_s: u32,
    /// What it follows.
    pub after: RestAfter,
}

impl Rest {
    /// One written length.
    pub const fn of(seconds: u32, after: RestAfter) -> Self {
        Self { low_s: seconds, high_s: seconds, after }
    }

    /// The length, when it is a single one.
    pub fn single_s(&self) -> Option<u32> {
        (self.low_s == self.high_s).then_some(self.low_s)
    }
}

/// What a written rest follows.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum RestAfter {
    /// Each set or round, but for the last.
    Each,
    /// This place in the order.
    Here,
    /// All of the part, before the next begins.
    All,
}

/// The intended result: of one interval where the score is the slowest interval, otherwise of the
/// whole. One end may be missing.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub struct Target {
    /// Not sooner than this, in seconds.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub low_s: Option<u32>,
    /// Not later than this, in seconds.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub high_s: Option<u32>,
    /// At least so many rounds.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub rounds_low: Option<f64>,
    /// At most so many rounds.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub rounds_high: Option<f64>,
    /// At least so many repetitions.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub reps_low: Option<u32>,
    /// At most so many repetitions.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub reps_high: Option<u32>,
}

impl Target {
    /// A window of seconds.
    pub fn seconds(low_s: Option<u32>, high_s: Option<u32>) -> Self {
        Self { low_s, high_s, ..Self::default() }
    }

    /// A band of rounds.
    pub fn rounds(low: Option<f64>, high: Option<f64>) -> Self {
        Self { rounds_low: low, rounds_high: high, ..Self::default() }
    }

    /// Whether any end is given.
    pub fn is_given(&self) -> bool {
        *self != Self::default()
    }
}

/// How a lift is prescribed; empty for other parts.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub struct Prescription {
    /// Sets as written.
    pub sets: Option<u32>,
    /// Repetitions set by set; one number when all are alike.
    pub reps: Vec<u32>,
    /// Upper end where the repetitions are a range ("4 x 8-10").
    #[serde(skip_serializing_if = "Option::is_none")]
    pub reps_high: Option<u32>,
    /// Share of the 1RM in percent: one range for all sets, or one for each.
    pub percent: Vec<[f64; 2]>,
    /// What the shares are of, where that is not the 1RM of the lift.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub percent_of: Option<PercentOf>,
    /// The training max that the shares are of, where the text speaks of one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub training_max: Option<TrainingMax>,
    /// Each set is heavier than the one before, without a share that says how much.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub rises: bool,
    /// How much heavier each set is than the one before, where that is written.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub jump: Option<Jump>,
    /// The share is where the sets end that are built up to it.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub ends_at_share: bool,
    /// All sets are done with a bar and nothing on it.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub empty_bar: bool,
    /// The last set goes on for as many repetitions as possible.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub open_last: bool,
    /// Week k of n.
    pub week: Option<(u32, Option<u32>)>,
    /// N of "build to an N-rep max".
    pub rm: Option<u32>,
    /// Effort on the 1-10 scale of reps in reserve.
    pub rpe: Option<[f64; 2]>,
    /// The effort of each set on the same scale, where each has its own.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub efforts: Vec<f64>,
    /// Speed of the repetition.
    pub tempo: Option<Tempo>,
    /// A written range of loads, such as 50-60 kg.
    pub load_range: Option<(f64, f64, crate::tree::LoadUnit)>,
    /// Sets at the end that stay at the top of the range ("the last two at the working weight").
    pub top_sets: Option<u32>,
}

/// The part of a max that shares are taken of.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum TrainingMax {
    /// Whatever the gym takes for one.
    Usual,
    /// So much of the max, in percent.
    Percent(f64),
}

/// How much is put on between two sets: one figure, or one for each of a pair.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Jump {
    /// For the first of the pair.
    pub first: f64,
    /// For the second, where it is another.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub second: Option<f64>,
    /// Kilograms or pounds.
    pub unit: crate::tree::LoadUnit,
}

impl Jump {
    /// Of the first of the pair, or of the second.
    pub fn of(&self, first: bool) -> Option<Kilograms> {
        let jump = if first { self.first } else { self.second.unwrap_or(self.first) };
        self.unit.weight().map(|unit| Kilograms::from_unit(jump, unit))
    }
}

impl fmt::Display for Jump {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let second = self.second.map(|second| format!("/{}", plain(second))).unwrap_or_default();
        write!(f, "{}{second} {}", plain(self.first), self.unit.name())
    }
}

/// What a share is of, where it is not the 1RM of the lift.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum PercentOf {
    /// An n-rep max.
    Rm(u32),
    /// The heaviest set of the day, built to before.
    Today,
    /// The first sets of this part: so many of them, and the shares of the others are of the heaviest of these.
    TopSet(u32),
    /// One's own weight.
    Bodyweight,
    /// The most repetitions that one can do in a row: the share is of repetitions and not of a weight.
    MostReps,
    /// The 1RM of another lift.
    Lift(MovementId),
}

/// Four letters in the order lowering, pause, raising, pause; `X` is as fast as possible.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(transparent)]
pub struct Tempo(pub String);

impl Tempo {
    /// Seconds of lowering.
    pub fn lowering_s(&self) -> u32 {
        self.digit(0)
    }

    /// Seconds of the pause in the hard position.
    pub fn pause_s(&self) -> u32 {
        self.digit(1)
    }

    /// Seconds of raising.
    pub fn raising_s(&self) -> u32 {
        self.digit(2)
    }

    /// Seconds for one repetition; `X` counts one.
    pub fn rep_s(&self) -> u32 {
        self.0.chars().map(|c| c.to_digit(10).unwrap_or(1)).sum()
    }

    fn digit(&self, place: usize) -> u32 {
        self.0.chars().nth(place).and_then(|c| c.to_digit(10)).unwrap_or(0)
    }
}

/// A written intent besides the target.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Intent {
    /// At most this many sets a round ("unbroken or two sets").
    SetsAtMost(u32),
    /// At least this many repetitions a minute.
    RepsPerMinute(f64),
    /// Each round within these seconds.
    RoundUnder(u32),
    /// The load should feel like this, as written ("light enough to cycle").
    Feel(String),
    /// Rest that must be left in each interval, in seconds.
    RestLeft(u32),
}

/// What may be done instead, as the coach wrote it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Alternative {
    /// The line it stands on, counted from 1.
    pub line: usize,
    /// As written.
    pub text: String,
    /// The work that was recognised in it.
    pub work: Vec<Work>,
    /// The movement that it stands in for; none when it is meant for the whole part.
    pub replaces: Option<MovementId>,
}
