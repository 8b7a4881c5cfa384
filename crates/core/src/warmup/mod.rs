//! The warm-up: built from what the day demands, to the minutes given, and the coach's to change.
//!
//! [`items`] are data; `build` chooses among them, `edits` holds what a coach has changed and a rebuild keeps, and
//! `coverage` says what is prepared by what and how to come down after, `instead` for whom something else is better,
//! `kit` what the gym has nothing for.

mod build;
mod coverage;
mod edits;
mod instead;
mod items;
mod kit;

pub use build::{Block, Demand, Item, Warmup, WarmupRequest, build_warmup, demands};
pub use coverage::{Covered, alternatives, cool_down, coverage};
pub use edits::{Edits, MINUTES};
pub use instead::{Instead, for_limits};
pub use items::{Phase, WarmupItem, standard_items};
pub(crate) use kit::not_here;
