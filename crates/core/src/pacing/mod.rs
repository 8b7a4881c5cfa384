//! Pace: one member doing a tree, simulated movement by movement, with a spread.
//!
//! [`model`] holds the parameters, [`ability`] what a member can do of one movement at one load,
//! [`simulate`] walks the tree once with one day's luck, [`strategy`] compares ways to break sets, [`spread`] repeats that and reads off low,
//! middle and high, `intend` says which result a piece is meant to have,
//! [`Learned`] what results say beside the file, `regular` for whom it was written, [`window`] what lies inside, [`team`] what several do together, and `convert` the same effort on
//! another machine.

pub mod ability;
mod by_movement;
mod capability;
mod convert;
pub mod engine;
mod figures;
pub mod fitness;
mod intend;
mod learned;
pub mod model;
mod regular;
pub mod simulate;
pub mod spread;
pub mod strategy;
pub mod team;
mod verdict;
mod window;

pub use ability::{Ability, Athlete, MUSCLES};
pub use capability::{ByCapability, Capability};
pub use convert::{in_the_time_of, keeps_count};
pub(crate) use convert::{nearest, on_a_board, step};
pub use engine::Machine;
pub use figures::Figures;
pub use fitness::{Evidence, Fitness};
pub use intend::intended_window;
pub use learned::{Apart, Direction, Learned, Normal, in_words, standard_normal_below};
pub use model::Model;
pub use regular::{regular, typical_member};
pub use simulate::{How, Luck, Mark, Run, machine_pace, simulate, simulate_as};
pub(crate) use spread::ONE_IN_TEN;
pub use spread::{Days, Instead, Prediction, Quantiles, Rests, predict};
pub use strategy::{Outcome, Strategy, compare_strategies};
pub use verdict::Verdict;
pub use window::{Measure, Side, Window};
