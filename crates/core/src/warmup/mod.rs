//! The warm-up: built from what the day demands, to the minutes given, and the coach's to change.
//!
//! [`items`] are data; `build` chooses among them, `edits` holds what a coach has changed and a rebuild keeps, and
//! `coverage` says what is prepared by what, for whom something else is better, and how to come down after.

mod build;
mod coverage;
mod edits;
mod items;

pub use build::{Block, Demand, Item, Warmup, WarmupRequest, build_warmup, demands};
pub use coverage::{Covered, Instead, alternatives, cool_down, coverage, for_limits};
pub use edits::{Edits, MINUTES};
pub use items::{Phase, WarmupItem, standard_items};
