//! Lifts and results of years before, from a table that somebody exported elsewhere: each column is given a meaning, and each row is read by it.

mod columns;
mod days;
mod rows;

pub use columns::{Meaning, guess};
pub use days::DayOrder;
pub use rows::{BroughtIn, CellError, PastLift, PastResult, bring_in};
