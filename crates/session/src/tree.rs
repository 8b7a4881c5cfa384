//! The tree of a piece: few node kinds, freely combined. A new format should be a new combination.

use std::fmt;

use serde::{Deserialize, Serialize};

use crate::movement::{Catalogue, Movement, MovementId, Unit};
use crate::units::{Kilograms, WeightUnit, plain};

/// A node of a piece.
///
/// An AMRAP is a [`Within`](Node::Within) around [`Rounds`](Node::Rounds) without a number; "three
/// minutes on, one off" is rounds with a rest around a window; a tabata is the same with 20 and 10 s.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(tag = "node", rename_all = "snake_case")]
pub enum Node {
    /// One movement, once.
    Work(Work),
    /// A written rest; without seconds it lasts as needed, or as long as the interval leaves.
    Rest {
        /// Its length.
        seconds: Option<u32>,
    },
    /// One after another.
    Seq {
        /// In this order.
        of: Vec<Node>,
    },
    /// The same again, `times` over; without a number as often as the window around it allows.
    Rounds {
        /// How often.
        times: Option<u32>,
        /// Rest between two rounds, in seconds.
        rest_s: Option<u32>,
        /// The round.
        of: Box<Node>,
    },
    /// The same again, with these repetitions in turn for work whose amount is [`Amount::Scheme`].
    Scheme {
        /// Such as 21, 15, 9.
        reps: Vec<u32>,
        /// Rest between two rungs, in seconds.
        rest_s: Option<u32>,
        /// One rung.
        of: Box<Node>,
    },
    /// Rising repetitions without an end: `start`, `start + step`, and so on.
    Ladder {
        /// Repetitions of the first rung.
        start: u32,
        /// More in each following rung.
        step: u32,
        /// One rung.
        of: Box<Node>,
    },
    /// A window of time; open work inside goes on until it closes.
    Within {
        /// Its length.
        seconds: u32,
        /// What is done in it.
        of: Box<Node>,
    },
    /// A new start on a fixed clock.
    Every {
        /// Seconds from start to start.
        interval_s: u32,
        /// How many starts; none means until the work no longer fits.
        times: Option<u32>,
        /// One entry an interval in turn, rather than all of them in each.
        alternate: bool,
        /// The intervals' work.
        of: Vec<Node>,
    },
    /// Work that cuts into other work at each mark of the clock.
    Interrupt {
        /// Seconds between marks.
        every_s: u32,
        /// The first mark; 0 when the piece opens with it.
        from_s: u32,
        /// What is done at a mark.
        work: Box<Node>,
        /// What goes on between marks.
        of: Box<Node>,
    },
    /// Work owed for each break of the set.
    Penalty {
        /// What is owed.
        work: Box<Node>,
        /// What must not be broken.
        of: Box<Node>,
    },
    /// Work shared by a pair or a team.
    Together {
        /// People in it.
        size: u32,
        /// How they share.
        sharing: Sharing,
        /// The team's work.
        of: Box<Node>,
    },
}

/// How a pair or team shares its work.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Sharing {
    /// Repetitions split as they like, one working.
    Freely,
    /// Whole rounds in turn.
    Rounds,
    /// One works, and they change over after so much of it.
    InTurns {
        /// How much in one turn.
        each: u32,
        /// Of what.
        unit: Unit,
    },
    /// One works as long as the others hold a position; whoever holds does not rest.
    Held,
    /// Everybody at a station of their own, and all move on when the last of them is done.
    Stations,
    /// All at once, in step.
    Together,
}

impl Sharing {
    /// Whether one works at a time and each does a part of what is written.
    pub const fn splits_work(self) -> bool {
        matches!(self, Self::Freely | Self::Rounds | Self::InTurns { .. } | Self::Held)
    }
}

/// One movement with its amount and load.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Work {
    /// What is done.
    pub movement: MovementId,
    /// How much of it.
    pub dose: Dose,
    /// The written load, if any.
    #[serde(skip_serializing_if = "Option::is_none", default)]
    pub load: Option<Load>,
    /// The effort as a share of the 1RM, one range for all sets or one for each, in percent.
    #[serde(skip_serializing_if = "Vec::is_empty", default)]
    pub percent: Vec<[f64; 2]>,
    /// Whether it is done without being part of the score: of repetitions that are counted, those of another movement, or the way there.
    #[serde(skip_serializing_if = "std::ops::Not::not", default)]
    pub uncounted: bool,
    /// Whether everybody of a team does all of it, in step, where they share the rest.
    #[serde(skip_serializing_if = "std::ops::Not::not", default)]
    pub in_step: bool,
    /// What it counts for where it is done in place of what is written.
    #[serde(skip_serializing_if = "Option::is_none", default)]
    pub stands_for: Option<StandsFor>,
}

/// What one repetition, calorie or metre of a substitute counts for in a score.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct StandsFor {
    /// So much of what is written.
    pub each: f64,
    /// What that is counted in.
    pub unit: Unit,
}

impl Work {
    /// Work without load.
    pub fn new(movement: MovementId, dose: Dose) -> Self {
        Self {
            movement,
            dose,
            load: None,
            percent: Vec::new(),
            uncounted: false,
            in_step: false,
            stands_for: None,
        }
    }

    /// Whether it is as much of something that is counted as fits into a time: "40 s burpees", and not "40 s plank".
    pub fn is_as_much_as_fits(&self, catalogue: &Catalogue) -> bool {
        let counted = |movement: &Movement| movement.unit != Unit::Seconds;
        self.dose.unit == Unit::Seconds && catalogue.get(&self.movement).is_some_and(counted)
    }

    /// What one of it counts for in the score of the text: one of itself, but for substitutes.
    pub fn counts_for(&self) -> StandsFor {
        self.stands_for.unwrap_or(StandsFor { each: 1.0, unit: self.dose.unit })
    }

    /// In place of another, of which `of_old` were what `of_this` of it are now: the score of the text goes on counting what was written.
    #[must_use]
    pub fn in_place_of(self, old: &Self, of_old: f64, of_this: f64) -> Self {
        let StandsFor { each, unit } = old.counts_for();
        let each = each * of_old / of_this;
        let stands_for = (each.is_finite() && each > 0.0).then_some(StandsFor { each, unit });
        Self { uncounted: old.uncounted, in_step: old.in_step, stands_for, ..self }
    }
}

/// How much of a movement.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Dose {
    /// The number, or where it comes from.
    pub amount: Amount,
    /// What it counts.
    pub unit: Unit,
    /// Whether the number is for each side.
    #[serde(skip_serializing_if = "std::ops::Not::not", default)]
    pub per_side: bool,
}

impl Dose {
    /// A fixed number of repetitions.
    pub fn reps(count: u32) -> Self {
        Self::fixed(f64::from(count), Unit::Reps)
    }

    /// A fixed amount of anything.
    pub fn fixed(amount: f64, unit: Unit) -> Self {
        Self { amount: Amount::Fixed { first: amount, second: None }, unit, per_side: false }
    }

    /// The first written number with both sides counted, none when it is not fixed by the work itself.
    pub fn first(&self) -> Option<f64> {
        match self.amount {
            Amount::Fixed { first, .. } => Some(first * self.sides()),
            _ => None,
        }
    }

    /// 2 when the number is for each side, else 1.
    pub fn sides(&self) -> f64 {
        if self.per_side { 2.0 } else { 1.0 }
    }
}

/// The number of a dose, or where it comes from.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Amount {
    /// Written; `second` is the lower of a pair such as 12/10 calories.
    Fixed {
        /// The first or only number.
        first: f64,
        /// The other of a pair.
        #[serde(skip_serializing_if = "Option::is_none", default)]
        second: Option<f64>,
    },
    /// The number of the scheme or ladder around it.
    Scheme,
    /// As many as possible.
    Max,
    /// Not said.
    Open,
    /// As long as another of the team works: what is held by who does not.
    Meanwhile,
}

impl Amount {
    /// The number that one person does: of a pair their own, of a scheme the rung that it stands at. None where it is not said.
    pub fn own(self, first_of_pair: bool, rung: Option<u32>) -> Option<f64> {
        match self {
            Self::Fixed { first, second } => {
                Some(if first_of_pair { first } else { second.unwrap_or(first) })
            }
            Self::Scheme => rung.map(f64::from),
            Self::Max | Self::Open | Self::Meanwhile => None,
        }
    }
}

/// A written load or height, for one implement.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Load {
    /// The first or only number.
    pub first: f64,
    /// The lighter of a pair.
    pub second: Option<f64>,
    /// What it is measured in.
    pub unit: LoadUnit,
    /// Implements carried at once, 2 for a pair of dumbbells.
    #[serde(skip_serializing_if = "is_one", default = "one")]
    pub implements: u8,
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde passes references")]
fn is_one(count: &u8) -> bool {
    *count == 1
}

fn one() -> u8 {
    1
}

impl Load {
    /// A single number.
    pub fn single(first: f64, unit: LoadUnit) -> Self {
        Self { first, second: None, unit, implements: 1 }
    }

    /// The first number as a weight; none for a height.
    pub fn weight(&self) -> Option<Kilograms> {
        self.unit.weight().map(|unit| Kilograms::from_unit(self.first, unit))
    }

    /// The lighter number as a weight, the only one when there is no pair.
    pub fn lighter_weight(&self) -> Option<Kilograms> {
        self.unit.weight().map(|unit| Kilograms::from_unit(self.second.unwrap_or(self.first), unit))
    }
}

impl fmt::Display for Load {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        if self.implements > 1 {
            write!(f, "{} x ", self.implements)?;
        }
        write!(f, "{}", plain(self.first))?;
        if let Some(second) = self.second {
            write!(f, "/{}", plain(second))?;
        }
        write!(f, " {}", self.unit.name())
    }
}

/// What a load or height is measured in.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum LoadUnit {
    /// Kilograms.
    Kg,
    /// Pounds.
    Lb,
    /// Centimetres of height.
    Cm,
    /// Inches of height.
    In,
}

impl LoadUnit {
    /// The unit of weight; none for heights.
    pub const fn weight(self) -> Option<WeightUnit> {
        match self {
            Self::Kg => Some(WeightUnit::Kg),
            Self::Lb => Some(WeightUnit::Lb),
            Self::Cm | Self::In => None,
        }
    }

    /// `kg`, `lb`, `cm` or `in`.
    pub const fn name(self) -> &'static str {
        match self {
            Self::Kg => "kg",
            Self::Lb => "lb",
            Self::Cm => "cm",
            Self::In => "in",
        }
    }
}

impl From<WeightUnit> for LoadUnit {
    fn from(unit: WeightUnit) -> Self {
        match unit {
            WeightUnit::Kg => Self::Kg,
            WeightUnit::Lb => Self::Lb,
        }
    }
}

impl Node {
    /// One after another; a single node stays itself.
    pub fn seq(mut of: Vec<Node>) -> Self {
        if of.len() == 1 { of.remove(0) } else { Self::Seq { of } }
    }

    /// The nodes directly below, in order.
    pub fn children(&self) -> Vec<&Node> {
        match self {
            Self::Work(_) | Self::Rest { .. } => Vec::new(),
            Self::Seq { of } | Self::Every { of, .. } => of.iter().collect(),
            Self::Rounds { of, .. }
            | Self::Scheme { of, .. }
            | Self::Ladder { of, .. }
            | Self::Within { of, .. }
            | Self::Together { of, .. } => vec![of],
            Self::Interrupt { work, of, .. } | Self::Penalty { work, of } => vec![of, work],
        }
    }

    /// Whether it or any node below it passes a test.
    pub fn any(&self, test: &impl Fn(&Node) -> bool) -> bool {
        test(self) || self.children().into_iter().any(|child| child.any(test))
    }

    /// This tree with every piece of work replaced by what `change` makes of it.
    pub fn map_work(&self, change: &mut impl FnMut(&Work) -> Node) -> Node {
        let mut node = self.clone();
        node.change_work(change);
        node
    }

    fn change_work(&mut self, change: &mut impl FnMut(&Work) -> Node) {
        match self {
            Self::Work(work) => *self = change(work),
            Self::Rest { .. } => {}
            Self::Seq { of } | Self::Every { of, .. } => {
                of.iter_mut().for_each(|node| node.change_work(change))
            }
            Self::Rounds { of, .. }
            | Self::Scheme { of, .. }
            | Self::Ladder { of, .. }
            | Self::Within { of, .. }
            | Self::Together { of, .. } => of.change_work(change),
            Self::Interrupt { work, of, .. } | Self::Penalty { work, of } => {
                of.change_work(change);
                work.change_work(change);
            }
        }
    }
}
