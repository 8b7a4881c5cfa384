//! The book of results: who is meant, what was called out, how it stands beside what was predicted and meant, and what it tells of pace.

mod beside;
mod calibration;
mod call;
mod entry;
mod learn;
mod lifted;
mod looking_back;
mod person;
mod says;
mod score;
mod sides;
#[cfg(test)]
mod table;
mod who;

pub use beside::{Beside, Place, next_time, tendency};
pub use calibration::{Calibration, Outcome};
pub use call::{Called, Offer, call, call_among, done_as, scored};
pub use entry::{Entry, Predicted};
pub use learn::{CEILING, LATE_HOURS, OfGym, Told, ToldByClass};
pub use lifted::{MostReps, ShownMax, most_reps, shown_by};
pub use looking_back::{LookingBack, OnRecord, PieceBack, WeekBack};
pub use person::{
    Attention, LOOKED_BACK_DAYS, LiftPoint, TESTED, against_prediction, attention, bests, lift_over_time,
    sessions_kept, versions_over_time,
};
pub use score::{Done, Heard, Scored};
pub use sides::Sides;
pub use who::{Meant, divided, meant};
