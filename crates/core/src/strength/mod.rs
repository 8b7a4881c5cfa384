//! Strength loads: from a percentage to plates on a bar, with every step on record.
//!
//! [`hold`] keeps loads down for whoever has a limit, [`history`] chooses among the lifts on record, [`maxes`] finds the 1RM to count from, [`cycle`] fills in the weeks
//! of a cycle, [`calendar`] says where they stand among the gym's days, [`followed`] how they went, [`racks`] shares bars out and `stack` leaves plates on them, [`percent`] holds the tables of repetitions and effort,
//! `lifts_csv` takes histories in, [`bar`] rounds to what a bar can hold, [`ramp`] climbs to the work, `rising` makes sets heavier, `most_reps` counts shares of a best set, `dose` says what a part wants of each set, `lift` puts
//! a lift together for one member, and [`sheet`] is what comes of it.

pub mod bar;
mod build;
pub mod calendar;
mod complex;
pub mod cycle;
mod dose;
pub mod followed;
pub mod history;
pub mod hold;
mod left;
mod lift;
mod lifts_csv;
mod light;
mod loading;
pub mod maxes;
mod most_reps;
pub mod percent;
pub mod racks;
pub mod ramp;
mod rising;
pub mod sheet;
mod stack;
pub mod tempo;

pub use bar::{LoadedBar, load_bar, nearest_bar, usual_bar};
pub use complex::complex;
pub(crate) use cycle::answered;
pub use cycle::{Cycle, with_cycles};
pub use dose::{Base, Counted, ShareOf};
pub use history::{Formula, MaxPolicy, RECENT_DAYS, Record, Source, choose_max, to_be_asked};
pub use hold::{HELD_AT, Hold, LoadEdits, Release, UNSIGNED};
pub use left::{Left, left_after, sets_now};
pub use lift::{Lifting, lift_sheet};
pub use lifts_csv::{LiftRow, is_lifts_csv, lifts_from_csv};
pub use light::{LightSheet, light_sheets};
pub use maxes::{Estimate, estimate_1rm, max_for};
pub use racks::{LiftPlace, Rack, RackPlan, one_bar_a_rack, rack_groups, rack_groups_again};
pub(crate) use ramp::ramp;
pub use sheet::{LiftSheet, SetKind, SetLoad};
pub use stack::leave_plates_on;
