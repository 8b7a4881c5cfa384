//! The book of results: who is meant, what was called out, and how it stands beside what was predicted and meant.

mod beside;
mod call;
mod entry;
mod lifted;
mod score;
#[cfg(test)]
mod table;
mod who;

pub use beside::{Beside, Place, next_time, tendency};
pub use call::{Called, Offer, call, call_among, done_as, scored};
pub use entry::{Entry, Predicted};
pub use lifted::{ShownMax, shown_by};
pub use score::{Done, Heard, Scored};
pub use who::{Meant, divided, meant};
