//! The warm-up as coaches lead it: raise and open in rounds, rehearse from partial to full, climb to the day's load.
//!
//! [`items`] are data. `demand` says what the day asks for, `open` chooses the rounds, `rehearse` the way up to a
//! movement, `climb` the short rounds right before a piece, `own` times what the coach has written; `build` puts them
//! into the minutes. `edits` holds what a coach has changed and a rebuild keeps, `coverage` says what is prepared by
//! what and how to come down after, `instead` for whom something else is better, `kit` for how many there is room,
//! `past` what was done on the days before.

use std::sync::{Arc, LazyLock};

use serde::Serialize;

use crate::gym::Gym;
use crate::movement::Catalogue;
use crate::session::Session;

mod build;
mod climb;
mod coverage;
mod demand;
mod edits;
mod instead;
mod items;
mod kit;
mod open;
mod own;
mod past;
mod rehearse;

pub use build::build_warmup;
pub use coverage::{Covered, alternatives, cool_down, coverage};
pub use demand::{Demand, demands};
pub use edits::{Edits, MINUTES};
pub use instead::{Instead, for_limits};
pub use items::{Phase, WarmupItem, standard_items};
pub(crate) use kit::not_here;
pub(crate) use past::of_days_before;
pub use rehearse::Rehearsal;

/// Most items of a warm-up: more than a class can keep in mind.
pub const MOST_ITEMS: usize = 12;

/// What is asked of a warm-up.
#[derive(Clone, Copy, Debug)]
pub struct WarmupRequest<'a> {
    /// The day.
    pub session: &'a Session,
    /// Seconds given; none where the coach's own text decides, or ten minutes.
    pub seconds: Option<u32>,
    /// Seconds more than that, or less.
    pub change_s: i64,
    /// What the coach has changed.
    pub edits: &'a Edits,
    /// What there is of everything, and for how many at once.
    pub gym: &'a Gym,
    /// People in the class.
    pub people: u32,
    /// Items for which the gym has nothing today, by id: taken only where the coach keeps them.
    pub lacks: &'a [String],
    /// Ids of the items of the days before, the latest day first.
    pub past: &'a [Vec<String>],
    /// Movements.
    pub catalogue: &'a Catalogue,
}

impl<'a> WarmupRequest<'a> {
    /// For fourteen people, with nothing decided and nothing known of the days before.
    pub fn of(session: &'a Session, gym: &'a Gym, catalogue: &'a Catalogue) -> Self {
        static NO_EDITS: LazyLock<Edits> = LazyLock::new(Edits::default);
        let (lacks, past) = (&[][..], &[][..]);
        Self {
            session,
            seconds: None,
            change_s: 0,
            edits: &NO_EDITS,
            gym,
            people: 14,
            lacks,
            past,
            catalogue,
        }
    }
}

/// A part of a warm-up, in the order in which a class goes through them.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Stage {
    /// The coach's own text.
    Own,
    /// Rounds of a few moves that raise the pulse, open joints and switch patterns on.
    Raise,
    /// From partial to full, with an empty bar or a light tool.
    Rehearse,
    /// Up to the load and the pace of the piece, right before it.
    Climb,
}

impl Stage {
    /// As a heading.
    pub const fn name(self) -> &'static str {
        match self {
            Self::Own => "As written",
            Self::Raise => "Raise and open",
            Self::Rehearse => "Rehearse",
            Self::Climb => "Right before the piece",
        }
    }
}

/// A warm-up in blocks.
#[derive(Clone, Debug, Default, PartialEq, Serialize)]
pub struct Warmup {
    /// Seconds in all.
    pub seconds: u32,
    /// Blocks in order.
    pub blocks: Vec<Block>,
    /// What leads up to the piece, done right before it and not counted in `seconds`.
    pub specific: Option<Block>,
    /// Demanded patterns that no item prepares.
    pub gaps: Vec<String>,
    /// What would fill the gaps of the coach's own text, offered and not put in.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub offers: Vec<Item>,
    /// Items for which the gym has nothing today, by id.
    #[serde(skip)]
    pub lacks: Vec<String>,
}

impl Warmup {
    /// All items, those right before the piece last.
    pub fn items(&self) -> impl Iterator<Item = &Item> {
        self.blocks.iter().chain(&self.specific).flat_map(|block| &block.items)
    }

    /// Whether it is the coach's own text, which is never cut.
    pub fn is_own(&self) -> bool {
        self.blocks.iter().any(|block| block.phase == Stage::Own)
    }
}

/// Items of one stage.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Block {
    /// The stage.
    pub phase: Stage,
    /// How often a class goes through the items; 1 where each is done by itself.
    pub rounds: u32,
    /// Whether people begin at different items, since one of them is not there for everybody.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub rotates: bool,
    /// Items in order.
    pub items: Vec<Item>,
}

/// One chosen item.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Item {
    /// Its identity among the items; empty for the coach's own text.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub id: String,
    /// Whether a rebuild keeps it.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub locked: bool,
    /// Its name.
    pub name: String,
    /// How much, in one round.
    pub dose: String,
    /// Seconds in all rounds, explaining and changing over included.
    pub seconds: u32,
    /// Groups that take turns, since there is not enough for everybody; 1 for all at once.
    #[serde(skip_serializing_if = "is_one")]
    pub groups: u32,
    /// Movements of the day that it prepares.
    #[serde(rename = "for")]
    pub prepares: Vec<String>,
    /// Why it is there.
    pub why: String,
    /// What to say.
    pub cue: String,
    /// The item as such.
    #[serde(skip)]
    pub of: Arc<WarmupItem>,
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde passes references")]
fn is_one(count: &u32) -> bool {
    *count == 1
}

/// A day as read, with ten minutes of warm-up for fourteen.
#[cfg(test)]
fn of_day(text: &str) -> (Session, Warmup) {
    of_day_with(text, &Edits::default())
}

/// As [`of_day`], with what the coach has changed.
#[cfg(test)]
fn of_day_with(text: &str, edits: &Edits) -> (Session, Warmup) {
    let (catalogue, gym) = (Catalogue::standard(), Gym::default());
    let session = crate::read::read(text, catalogue).session;
    let warmup = build_warmup(WarmupRequest { edits, ..WarmupRequest::of(&session, &gym, catalogue) });
    (session, warmup)
}
