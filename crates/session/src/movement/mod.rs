//! What a movement is: its names, what it asks of the body, its pace, and what its load is measured against.
//!
//! The rows come from `data/movements.csv`; a gym can add rows and names of its own. Nothing here
//! knows of sessions or members.

mod catalogue;
mod names;
mod own;
mod properties;
mod spellings;

use std::fmt;
use std::sync::Arc;

use serde::{Deserialize, Serialize};

pub use catalogue::{Catalogue, CatalogueError};
pub use names::{MovementMatch, normal_words};
pub use own::{OwnMovement, OwnMovementError};
pub use properties::Property;

/// The identity of a movement, such as `back-squat`.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(transparent)]
pub struct MovementId(Arc<str>);

impl MovementId {
    /// From its kebab-case text; whether a catalogue knows it is the catalogue's to say.
    pub fn new(id: &str) -> Self {
        Self(id.into())
    }

    /// The kebab-case text.
    pub fn as_str(&self) -> &str {
        &self.0
    }
}

impl fmt::Display for MovementId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.0)
    }
}

/// The family a movement belongs to; warm-ups and weekly balance are counted by it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[expect(missing_docs, reason = "the names are the field's own")]
pub enum Pattern {
    Squat,
    Hinge,
    Lunge,
    Olympic,
    PressVertical,
    PressHorizontal,
    PullVertical,
    PullHorizontal,
    Core,
    Jump,
    Burpee,
    Engine,
    Carry,
    Prep,
    Mobility,
}

impl Pattern {
    /// As written in data files and shown to coaches: `press vertical`.
    pub fn name(self) -> &'static str {
        match self {
            Self::Squat => "squat",
            Self::Hinge => "hinge",
            Self::Lunge => "lunge",
            Self::Olympic => "olympic lift",
            Self::PressVertical => "vertical press",
            Self::PressHorizontal => "horizontal press",
            Self::PullVertical => "vertical pull",
            Self::PullHorizontal => "horizontal pull",
            Self::Core => "core",
            Self::Jump => "jump",
            Self::Burpee => "burpee",
            Self::Engine => "engine",
            Self::Carry => "carry",
            Self::Prep => "preparation",
            Self::Mobility => "mobility",
        }
    }
}

/// What a written number counts.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Unit {
    /// Repetitions.
    Reps,
    /// Calories on a machine's monitor.
    Calories,
    /// Metres.
    Metres,
    /// Seconds held or worked.
    Seconds,
}

impl Unit {
    /// `reps`, `calories`, `metres` or `seconds`, as in the JSON.
    pub const fn name(self) -> &'static str {
        match self {
            Self::Reps => "reps",
            Self::Calories => "calories",
            Self::Metres => "metres",
            Self::Seconds => "seconds",
        }
    }

    /// As written after a number on a whiteboard; reps go unsaid.
    pub const fn short(self) -> &'static str {
        match self {
            Self::Reps => "",
            Self::Calories => " cal",
            Self::Metres => " m",
            Self::Seconds => " s",
        }
    }
}

/// What the number beside a movement weighs or measures.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum LoadKind {
    /// Bodyweight or machine: no load to choose.
    None,
    /// A bar with plates; the bar counts.
    Barbell,
    /// Two dumbbells; the number is for one of them.
    DumbbellEach,
    /// One dumbbell.
    DumbbellSingle,
    /// A kettlebell, or one of a pair.
    Kettlebell,
    /// A medicine ball or slam ball.
    Ball,
    /// The height of a box.
    BoxHeight,
    /// A weighted vest.
    Vest,
    /// What lies on a sled, fills a bag or is set at a machine: taken as written, since gyms differ.
    Sled,
}

/// Which sides a written number counts.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Sides {
    /// Both sides at once.
    None,
    /// Sides alternate and each counts one.
    Alternating,
    /// The number is usually meant for each side.
    EachSide,
}

/// A muscle group and how much of a movement's local load it bears, 0 to 1.
pub type Share = (String, f64);

/// Seconds for one unit of work at a fast, middle and slow member's steady pace.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Pace {
    /// A competitive member.
    pub fast: f64,
    /// A regular member.
    pub mid: f64,
    /// A newer member.
    pub slow: f64,
}

impl Pace {
    /// Between the three points: level 0 is slow, 0.5 middle, 1 fast. Levels outside are held at the ends.
    pub fn at(self, level: f64) -> f64 {
        let level = level.clamp(0.0, 1.0);
        if level >= 0.5 {
            self.mid + (self.fast - self.mid) * (level - 0.5) * 2.0
        } else {
            self.slow + (self.mid - self.slow) * level * 2.0
        }
    }
}

/// One row of the catalogue.
#[derive(Clone, Debug, PartialEq)]
pub struct Movement {
    /// Its identity.
    pub id: MovementId,
    /// Its name as a heading shows it.
    pub name: String,
    /// Other ways coaches write it, lower case.
    pub aliases: Vec<String>,
    /// Its family.
    pub pattern: Pattern,
    /// What a bare number beside it counts.
    pub unit: Unit,
    /// All equipment it needs at once.
    pub equipment: Vec<String>,
    /// Equipment of which any one would do instead.
    pub other_equipment: Vec<String>,
    /// What a load beside it measures.
    pub load_kind: LoadKind,
    /// The lift its own 1RM is estimated from, and its share of that lift.
    pub load_ref: Option<(MovementId, f64)>,
    /// Local load by muscle group.
    pub muscles: Vec<Share>,
    /// Stress by joint.
    pub joints: Vec<Share>,
    /// What it asks for that somebody may have to spare.
    pub properties: Vec<Property>,
    /// For one of a gym's own: the movement that it is much like.
    pub like: Option<MovementId>,
    /// 0 anybody, 4 few members.
    pub skill: u8,
    /// Movements to own first.
    pub prerequisites: Vec<MovementId>,
    /// Seconds for one unit of work, in its own [`Unit`].
    pub pace: Pace,
    /// Seconds for one metre, for machines counted in calories.
    pub metre_pace: Option<Pace>,
    /// Seconds for one dropped and reset repetition at about 60-75 % of the 1RM, rest not included.
    pub singles_pace: Option<Pace>,
    /// Seconds to get to it and into position.
    pub setup_s: f64,
    /// Which sides a number counts.
    pub sides: Sides,
    /// Coaching effort, 1 to 5.
    pub complexity: u8,
    /// Remarks from the data file.
    pub notes: String,
}

impl Movement {
    /// How much of the local load falls on `muscle`, 0 when none.
    pub fn muscle(&self, muscle: &str) -> f64 {
        share_of(&self.muscles, muscle)
    }

    /// How much the movement asks of `joint`, 0 when nothing.
    pub fn joint(&self, joint: &str) -> f64 {
        share_of(&self.joints, joint)
    }

    /// Whether it asks for something that a limit can forbid.
    pub fn has(&self, property: Property) -> bool {
        self.properties.contains(&property)
    }

    /// Seconds for one `unit` of this work at `level`, or none when it is not counted so.
    pub fn seconds_per(&self, unit: Unit, level: f64) -> Option<f64> {
        match (unit, self.unit) {
            (Unit::Seconds, _) => Some(1.0),
            (asked, own) if asked == own => Some(self.pace.at(level)),
            (Unit::Metres, Unit::Calories) => self.metre_pace.map(|pace| pace.at(level)),
            (Unit::Reps, Unit::Metres | Unit::Calories) => Some(self.pace.at(level)),
            _ => None,
        }
    }

    /// Whether a load beside it is a weight rather than a height.
    pub fn takes_weight(&self) -> bool {
        !matches!(self.load_kind, LoadKind::None | LoadKind::BoxHeight)
    }

    /// A machine, a run or a swim: work whose pace is held rather than broken into sets.
    pub fn is_engine(&self) -> bool {
        self.pattern == Pattern::Engine
    }

    /// Whether it is lifted with a bar and plates.
    pub fn is_barbell(&self) -> bool {
        self.load_kind == LoadKind::Barbell
    }
}

fn share_of(shares: &[Share], name: &str) -> f64 {
    shares.iter().find(|(key, _)| key == name).map_or(0.0, |(_, value)| *value)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn pace_is_interpolated_between_slow_middle_and_fast() {
        let pace = Pace { fast: 1.0, mid: 2.0, slow: 4.0 };
        assert_eq!(pace.at(0.0), 4.0);
        assert_eq!(pace.at(0.25), 3.0);
        assert_eq!(pace.at(0.75), 1.5);
        assert_eq!(pace.at(7.0), 1.0);
    }
}
