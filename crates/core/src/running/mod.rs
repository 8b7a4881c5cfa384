//! Running the class: the hour as phases end to end, where what happens puts the clock, and where each version should be by now.
//!
//! [`timeline`] cuts the blocks of the hour into phases: items of the warm-up, sets, intervals, rests, heats, the last minute. [`Course`] says from what has
//! happened which phase it is and how far into it, so that any screen that joins late is right at once. [`lanterns`] is what the wall shows moving.

mod course;
mod lanterns;
mod lift;
mod onward;
mod phases;
mod piece;
mod warmup;

pub use course::{Course, Event, Happened, State, gone_on, last_done, note};
pub use lanterns::{Lantern, Place, lanterns};
pub use onward::{GoneOn, Onward, onward};
pub use phases::{Block, Clock, Kind, Phase, PhaseId, Timeline, timeline};

#[cfg(test)]
mod tests;
