//! The rules and the computation of Honest Lantern; no input or output, no clock, no global state.
//!
//! The road, in the order in which a coach works:
//!
//! 1. [`read`] turns a coach's text into a [`session::Session`]: parts with trees, problems beside them.
//! 2. [`strength`] turns percentages into plates for each member.
//! 3. [`warmup`] prepares what the day demands.
//! 4. [`pacing`] simulates one member doing a tree, with a spread; [`intent`] names what a piece is meant to be.
//! 5. [`versions`] rewrites a piece so that it keeps its intent for somebody else.
//! 6. [`floor`] finds everybody a turn on what the gym has, [`hour`] lays the blocks into the class hour, and
//!    [`cautions`] says what to look out for.
//! 7. [`plan`] puts all of it together for a class, [`brief`] says it to them; [`print`] writes readings down and [`import`] takes
//!    them in again.
//! 8. [`running`] runs the class by phases and what happens; [`book`] hears what was done, sets it beside what was predicted and learns from it; [`bring_in`] takes in what was done before.

pub mod book;
pub mod brief;
pub mod bring_in;
pub mod cautions;
pub mod decide;
pub mod floor;
pub mod gym;
pub mod hour;
pub mod import;
pub mod intent;
pub mod limits;
pub mod member;
pub mod pacing;
pub mod plan;
pub mod print;
pub mod roster;
pub mod running;
pub mod strength;
pub mod table;
pub mod versions;
pub mod volume;
pub mod warmup;
pub mod week;
pub mod why;

pub use lantern_reader as read;
pub use lantern_session::{movement, units};

/// The language of sessions.
pub mod session {
    pub use lantern_session::{
        Alternative, Amount, Assumption, Dose, Format, Intent, Jump, Likeness, Load, LoadUnit, Node, Note,
        Part, PartKind, PercentOf, Prescription, Problem, Rest, RestAfter, Score, Session, Severity, Sharing,
        StandsFor, Target, Tempo, Total, TrainingMax, Work, check, differences, pattern_totals, per_round,
        same_parts, totals, works,
    };
}
