//! Which reading of a day counts: of a day that is over the one that was kept, and so of any other while a newer reader has not been asked.

use chrono::{NaiveDate, Utc};
use lantern_core::gym::Gym;
use lantern_core::read::{Reading, version};
use lantern_store::GymScope;
use lantern_store::clock::is_over;
use lantern_store::pieces::{self, Kept};
use lantern_store::{classes, rows::StoredClass};

use crate::respond::error::AppError;

/// What of a day was kept, where that is what counts. A day that is still to come is read by the reader that has read it before as the gym writes
/// now: what a coach has taught since counts at once.
pub(crate) fn that_counts(
    kept: Option<Kept>,
    gym: &Gym,
    day: NaiveDate,
    classes: &[StoredClass],
) -> Option<Kept> {
    kept.filter(|kept| kept.reader != version() || is_over(gym, day, classes, Utc::now()))
}

/// What of a day was kept, where that is what counts.
pub(crate) async fn of_day(rows: &mut GymScope, gym: &Gym, day: NaiveDate) -> Result<Option<Kept>, AppError> {
    let mut kept = pieces::kept(rows, day, day).await?;
    let classes = classes::between(rows, day, day).await?;
    Ok(that_counts(kept.remove(&day), gym, day, &classes))
}

/// A reading with the parts that were kept. What the reader of today asks about other parts is no question any more.
pub(crate) fn as_kept(mut reading: Reading, kept: Option<&Kept>) -> Reading {
    if let Some(kept) = kept.filter(|kept| kept.parts != reading.session.parts) {
        reading.session.parts.clone_from(&kept.parts);
        reading.problems.clear();
        reading.assumptions.clear();
        reading.questions.clear();
    }
    reading
}
