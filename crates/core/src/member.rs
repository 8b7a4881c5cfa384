//! A member as planning sees one: what they can do, what they must not, and how sure that is.

use std::collections::BTreeMap;
use std::sync::Arc;

use serde::{Deserialize, Serialize};

use crate::limits::Limit;
use crate::movement::{MovementId, Unit};
use crate::pacing::{Learned, Machine};
use crate::strength::{Formula, Record, Source};
use crate::units::Kilograms;

/// A person in the class. All but the name may be unknown.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub struct Member {
    /// As called in class.
    pub name: String,
    /// Chooses which of a written pair of loads is offered first.
    pub sex: Option<Sex>,
    /// Whole years.
    pub age: Option<u32>,
    /// Bodyweight.
    pub bodyweight: Option<Kilograms>,
    /// Training experience.
    pub experience: Experience,
    /// One-repetition maxes by lift.
    pub maxes: BTreeMap<MovementId, Max>,
    /// Most unbroken repetitions when fresh, by movement.
    pub best_reps: BTreeMap<MovementId, u32>,
    /// Seconds for 2000 m on the rower.
    pub row_2k_s: Option<u32>,
    /// Seconds for a 400 m run.
    pub run_400_s: Option<u32>,
    /// Seconds for a 1600 m run.
    pub run_1600_s: Option<u32>,
    /// Other results on machines and runs, all out.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub results: Vec<TimedResult>,
    /// What must be spared; health data, for the coach only.
    pub limits: Vec<Limit>,
    /// Equipment at home, in the member's words.
    pub home: String,
    /// What else a roster said of them, kept as it stood.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub notes: String,
    /// Days since the last class, when the coach has noted a break.
    #[serde(skip)]
    pub away_days: Option<u32>,
    /// What results say beside all of this; nothing where there are none, or where a gym plans without.
    #[serde(skip)]
    pub learned: Option<Arc<Learned>>,
}

/// A result on a machine or a run, all out: so many metres or calories in a time.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct TimedResult {
    /// On what.
    pub machine: Machine,
    /// How much of it.
    pub amount: f64,
    /// Metres or calories.
    pub unit: Unit,
    /// Seconds that it took.
    pub seconds: f64,
}

/// Which of a written pair is offered first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub enum Sex {
    /// The lighter option first.
    F,
    /// The heavier option first.
    M,
}

/// How long and how seriously someone has trained. What nobody has said is least of all: no caution is lifted by it.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Experience {
    /// Nobody has said.
    #[default]
    Unknown,
    /// First weeks.
    New,
    /// Under a year.
    Beginner,
    /// A regular.
    Intermediate,
    /// Years of training, competes now and then.
    Advanced,
}

impl Experience {
    /// Level from 0 (slow tier) to 1 (fast tier) at which paces are read when nothing better is known.
    /// Coaching judgement: the tiers of the pace table are newer, regular and competitive members.
    pub const fn level(self) -> f64 {
        match self {
            // Somebody of the middle of a class, for want of anything better.
            Self::Unknown => 0.45,
            Self::New => 0.1,
            Self::Beginner => 0.3,
            Self::Intermediate => 0.5,
            Self::Advanced => 0.75,
        }
    }

    /// From the first weeks to years of training; not what nobody has said.
    pub const LEVELS: [Self; 4] = [Self::New, Self::Beginner, Self::Intermediate, Self::Advanced];

    /// As somebody is asked for it.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Unknown => "not said",
            Self::New => "first weeks",
            Self::Beginner => "under a year",
            Self::Intermediate => "years, regularly",
            Self::Advanced => "years, and competes",
        }
    }

    /// In a word, as rosters have it.
    pub const fn name(self) -> &'static str {
        match self {
            Self::Unknown => "not known",
            Self::New => "new",
            Self::Beginner => "beginner",
            Self::Intermediate => "intermediate",
            Self::Advanced => "advanced",
        }
    }
}

/// A one-repetition maximum and where it comes from.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Max {
    /// The weight.
    pub value: Kilograms,
    /// Whole weeks since it was set; none when nobody knows.
    #[serde(default)]
    pub weeks_old: Option<u32>,
    /// The set that shows it, when it was not simply stated.
    #[serde(default)]
    pub shown_by: Option<ShownBy>,
    /// How it was estimated from that set.
    #[serde(default)]
    pub formula: Formula,
}

impl Max {
    /// A weight whose history nobody knows.
    pub fn on_file(value: Kilograms) -> Self {
        Self { value, weeks_old: None, shown_by: None, formula: Formula::default() }
    }
}

/// The set that a max was read from.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct ShownBy {
    /// What was on the bar.
    pub load: Kilograms,
    /// Repetitions.
    pub reps: u32,
    /// Effort, where it was noted.
    pub rpe: Option<f64>,
    /// How it came to be on record.
    pub source: Source,
    /// Share by which the true max may differ.
    pub spread: f64,
}

impl From<Record> for ShownBy {
    fn from(record: Record) -> Self {
        let Record { load, reps, rpe, source, .. } = record;
        Self { load, reps, rpe, source, spread: record.spread() }
    }
}

impl Member {
    /// Whether the heavier of a written pair is offered first. Unknown means the lighter.
    pub fn takes_first_of_pair(&self) -> bool {
        self.sex == Some(Sex::M)
    }

    /// Best unbroken repetitions of a movement, if known.
    pub fn best(&self, id: &str) -> Option<u32> {
        self.best_reps.get(&MovementId::new(id)).copied()
    }
}
