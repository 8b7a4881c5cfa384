//! The rules and the computation of Honest Lantern; no input or output, no clock, no global state.
//!
//! The road, in the order in which a coach works:
//!
//! 1. [`read`] turns a coach's text into a [`session::Session`]: parts with trees, problems beside them.

pub mod gym;
pub mod member;
pub mod movement;
pub mod print;
pub mod read;
pub mod session;
pub mod strength;
pub mod units;
pub mod why;
