//! What can be quicker or slower of somebody than their file says: kinds of work, each learned of its own.

use serde::{Deserialize, Serialize};

use super::engine::Machine;
use super::model::Kind;
use crate::movement::Movement;

/// A kind of work at which somebody can be better than at others.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Capability {
    /// Burpees, boxes, ropes, swims: what the lungs decide.
    Breath,
    /// Squats and lunges with one's own weight.
    Legs,
    /// Pressing one's own weight.
    Push,
    /// Pulling one's own weight.
    Pull,
    /// The trunk.
    Trunk,
    /// A bar for many repetitions.
    Barbell,
    /// Bells, balls, dumbbells and carries.
    Bells,
    /// What has to be learned first.
    Skill,
    /// The rower.
    Row,
    /// The ski machine.
    Ski,
    /// The bike.
    Bike,
    /// Running.
    Run,
}

impl Capability {
    /// How many there are.
    pub const COUNT: usize = Self::ALL.len();
    /// All of them, in the order in which figures of them are kept.
    pub const ALL: [Self; 12] = [
        Self::Breath,
        Self::Legs,
        Self::Push,
        Self::Pull,
        Self::Trunk,
        Self::Barbell,
        Self::Bells,
        Self::Skill,
        Self::Row,
        Self::Ski,
        Self::Bike,
        Self::Run,
    ];

    /// What a movement asks for.
    pub fn of(movement: &Movement) -> Self {
        if let Some(machine) = Machine::of(movement.id.as_str()) {
            return Self::of_machine(machine);
        }
        match Kind::of(movement) {
            Kind::Barbell | Kind::Olympic => Self::Barbell,
            Kind::Swing | Kind::Implement | Kind::Carry => Self::Bells,
            _ if movement.skill >= SKILLED => Self::Skill,
            _ if movement.is_engine() => Self::Breath,
            Kind::Burpee | Kind::Jump => Self::Breath,
            Kind::Legs | Kind::Lunge => Self::Legs,
            Kind::Push => Self::Push,
            Kind::Pull => Self::Pull,
            Kind::Core => Self::Trunk,
        }
    }

    /// What a machine asks for.
    pub const fn of_machine(machine: Machine) -> Self {
        match machine {
            Machine::Row => Self::Row,
            Machine::Ski => Self::Ski,
            Machine::Bike => Self::Bike,
            Machine::Run => Self::Run,
        }
    }

    /// What a piece is like that is mostly of it.
    pub const fn family(self) -> Family {
        match self {
            Self::Row | Self::Ski | Self::Bike | Self::Run => Family::Engine,
            Self::Barbell => Family::Bar,
            Self::Bells => Family::Bells,
            Self::Breath | Self::Legs | Self::Push | Self::Pull | Self::Trunk | Self::Skill => {
                Family::OwnWeight
            }
        }
    }

    /// In words, as something that one is quicker at.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Breath => "burpees, jumps and ropes",
            Self::Legs => "squats and lunges",
            Self::Push => "pressing one's own weight",
            Self::Pull => "pulling one's own weight",
            Self::Trunk => "the trunk",
            Self::Barbell => "the bar",
            Self::Bells => "bells, balls and carries",
            Self::Skill => "skills",
            Self::Row => "rowing",
            Self::Ski => "the ski machine",
            Self::Bike => "the bike",
            Self::Run => "running",
        }
    }
}

/// What a piece is like, by most of its work.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Family {
    /// Machines and runs.
    Engine,
    /// One's own weight.
    OwnWeight,
    /// A bar.
    Bar,
    /// Bells, balls, dumbbells and carries.
    Bells,
}

impl Family {
    /// How many there are.
    pub const COUNT: usize = 4;
}

/// How much a piece is of each family, together 1.
pub type Families = [f64; Family::COUNT];

/// What most of a piece is decides what it is like, the more so the more it is: shares to this power.
const MOSTLY: i32 = 4;

/// How much a piece is of each family, from shares or seconds of its work; nothing of any where there is none.
pub fn families(of: &ByCapability) -> Families {
    let mut sums = Families::default();
    for (capability, share) in Capability::ALL.into_iter().zip(of) {
        sums[capability.family() as usize] += share;
    }
    let most = sums.iter().copied().fold(f64::MIN_POSITIVE, f64::max);
    let mostly = sums.map(|sum| (sum / most).powi(MOSTLY));
    let all = mostly.iter().sum::<f64>().max(f64::MIN_POSITIVE);
    mostly.map(|of| of / all)
}

/// A movement of this step of skill and beyond is done by those who have learned it.
const SKILLED: u8 = 3;

/// Shares of something by capability, in the order of [`Capability::ALL`].
pub type ByCapability = [f64; Capability::COUNT];
