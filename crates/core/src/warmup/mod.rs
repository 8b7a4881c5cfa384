//! The warm-up: built from what the day demands, to the minutes given.

mod build;
mod items;

pub use build::{Block, Demand, Item, Warmup, build_warmup, demands};
pub use items::{Phase, WarmupItem, standard_items};
