//! What a gym learns from what its coaches do again and again.

use lantern_core::movement::Catalogue;
use lantern_core::versions::habit::{self, HandHabit};

use crate::{GymScope, StoreError, decisions, gyms};

/// Learns from the newest line that was written anew, when the same has been done on enough days; the habit, when it is new.
///
/// # Errors
/// When the database is away.
pub async fn learn_hand(
    scope: &mut GymScope,
    catalogue: &Catalogue,
) -> Result<Option<HandHabit>, StoreError> {
    let made = decisions::hands(scope).await?;
    let made: Vec<_> = made.into_iter().map(|(day, line)| (day.to_string(), line)).collect();
    gyms::change(scope, |gym| {
        let new = habit::learn(&mut gym.hand_habits, &made, catalogue);
        Ok(gym.hand_habits.last().filter(|_| new).cloned())
    })
    .await
}
