//! Strength loads: from a percentage to plates on a bar, with every step on record.
//!
//! [`maxes`] finds the 1RM to count from, [`percent`] holds the tables of repetitions and effort,
//! [`bar`] rounds to what a bar can hold, [`ramp`] climbs to the work, and [`sheet`] puts a lift
//! together for one member.

pub mod bar;
pub mod maxes;
pub mod percent;
pub mod ramp;
pub mod sheet;

pub use bar::{LoadedBar, load_bar};
pub use maxes::{Estimate, estimate_1rm, max_for};
pub use sheet::{LiftSheet, SetKind, SetLoad, lift_sheet};
