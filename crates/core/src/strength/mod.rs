//! Strength loads: from a percentage to plates on a bar, with every step on record.
//!
//! [`hold`] keeps loads down for whoever has a limit, [`history`] chooses among the lifts on record, [`maxes`] finds the 1RM to count from, [`cycle`] fills in the weeks
//! of a cycle, [`racks`] shares bars out, [`percent`] holds the tables of repetitions and effort,
//! `lifts_csv` takes histories in, [`bar`] rounds to what a bar can hold, [`ramp`] climbs to the work, `asked` says what a part wants of each set, and [`sheet`] puts a lift
//! together for one member.

mod asked;
pub mod bar;
pub mod cycle;
pub mod history;
pub mod hold;
mod lifts_csv;
pub mod maxes;
pub mod percent;
pub mod racks;
pub mod ramp;
pub mod sheet;

pub use bar::{LoadedBar, load_bar};
pub use cycle::{Cycle, with_cycles};
pub use history::{Formula, MaxPolicy, Record, Source, choose_max};
pub use hold::{HELD_AT, Hold, LoadEdits, Release, UNSIGNED};
pub use lifts_csv::{LiftRow, is_lifts_csv, lifts_from_csv};
pub use maxes::{Estimate, estimate_1rm, max_for};
pub use racks::{LiftPlace, Rack, RackPlan, rack_groups};
pub(crate) use ramp::ramp;
pub use sheet::{LiftSheet, SetKind, SetLoad, lift_sheet, lift_sheet_released};
