//! Work as a sentence writes it, and the tools that loads are of.

use lantern_session::movement::{LoadKind, MovementId, Unit};
use lantern_session::{Load, LoadUnit};

use crate::say::{Say, Tool};

/// Work as written: a movement with what stands beside it.
#[derive(Clone, Debug, Default, PartialEq)]
pub(crate) struct Item {
    /// None repeats the movement before it, or is named by its line.
    pub movement: Option<MovementId>,
    pub amount: Option<(f64, Option<f64>)>,
    pub unit: Option<Unit>,
    pub sets: Option<u32>,
    pub max: bool,
    pub window_s: Option<u32>,
    pub per_side: bool,
    /// All of a team do it at once.
    pub in_step: bool,
    /// Who does not work does it while another does.
    pub meanwhile: bool,
    /// "Each" stands behind it: of a team everybody does all of it.
    pub each: bool,
    pub load: Option<Load>,
    pub bare_load: Option<(f64, Option<f64>)>,
    pub same_load: bool,
    /// The load is that of a tool in the hands, not the height of a box.
    pub carried: bool,
    /// Stands after "or": a choice beside the item before it.
    pub alternative: bool,
    /// Behind a stroke: one of two ways, or the next of a list.
    pub slashed: bool,
    /// After "+", so it may belong to a complex with the item before it.
    pub joined: bool,
    /// The movement came as a bare name of several meanings, such as `squat`.
    pub generic: bool,
    /// Shares of a maximum that stand beside it alone, in percent.
    pub percent: Vec<[f64; 2]>,
    /// Sets that stand beside it alone, each with its repetitions and share.
    pub sets_at: Vec<(u32, [f64; 2])>,
}

impl Item {
    /// Whether nothing is said of how much or how often.
    pub fn is_bare(&self) -> bool {
        self.amount.is_none() && self.sets.is_none() && !self.max
    }
}

/// A load beside the tool that it is of.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Held {
    pub tool: Tool,
    pub implements: u8,
    pub first: f64,
    pub second: Option<f64>,
    pub unit: Option<LoadUnit>,
}

impl Held {
    /// What says how heavy a tool is.
    pub fn of(say: &Say) -> Option<Self> {
        let Say::ToolLoad { tool, implements, first, second, unit } = *say else { return None };
        Some(Self { tool, implements, first, second, unit })
    }

    pub fn load(&self) -> Option<Load> {
        let Self { first, second, implements, .. } = *self;
        self.unit.map(|unit| Load { first, second, unit, implements })
    }

    pub fn is_held_in(&self, kind: LoadKind) -> bool {
        is_held_in(self.tool, kind)
    }
}

/// Whether a tool is the one that loads of a kind are of.
pub(crate) fn is_held_in(tool: Tool, kind: LoadKind) -> bool {
    match tool {
        Tool::Bar => kind == LoadKind::Barbell,
        Tool::Dumbbell => matches!(kind, LoadKind::DumbbellEach | LoadKind::DumbbellSingle),
        Tool::Kettlebell => kind == LoadKind::Kettlebell,
        Tool::Ball => kind == LoadKind::Ball,
    }
}
