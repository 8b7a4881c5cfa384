//! The rules and the computation of Honest Lantern; no input or output, no clock, no global state.
pub mod movement;
pub mod print;
pub mod read;
pub mod session;
pub mod units;
