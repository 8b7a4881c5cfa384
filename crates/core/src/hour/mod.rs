//! The hour: blocks laid end to end, whether they fit, and what to change when they do not.

mod blocks;
mod changes;
mod circumstances;
mod edits;
mod lengths;
#[cfg(test)]
mod tests;

use serde::Serialize;

pub use blocks::{Climb, Fetched, HourBlock, HourInput, LiftTime, PieceTime};
pub use changes::{Change, Suggestion, with_changes};
pub use circumstances::{Without, gym_today, is_missed, offered};
pub use edits::HourEdits;
pub use lengths::{ramp_step_s, turn_s};

use crate::units::clock_s;

/// The hour as planned.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Hour {
    /// Length of the class.
    pub minutes: u32,
    /// Whether everything ends in time as planned.
    pub fits: bool,
    /// Seconds left; none when it runs over.
    pub spare_s: u32,
    /// Seconds over.
    pub over_s: u32,
    /// When it ends as planned, in seconds.
    pub ends_s: u32,
    /// When it ends on a quick day: one in ten ends sooner.
    pub earliest_s: u32,
    /// When it ends on a slow day: one in ten ends later.
    pub latest_s: u32,
    /// Blocks in order.
    pub blocks: Vec<HourBlock>,
    /// Changes that save time, least lost first; empty when it fits.
    pub changes: Vec<Suggestion>,
    /// How many of the changes, from the first, make it fit as planned; none when it fits, or when all of them are
    /// not enough.
    pub enough: Option<usize>,
    /// What could be added to the time that is left; empty when there is little.
    pub additions: Vec<Suggestion>,
}

/// Less than this left over is no slack to fill, in seconds.
const SLACK_S: u32 = 240;

/// Lays out the hour.
pub fn lay_out(input: &HourInput<'_>) -> Hour {
    let blocks = blocks::blocks(input);
    let ends_s = blocks.last().map_or(0, |block| block.end_s);
    // Blocks are late or early on their own account, so that their spreads add up as squares do.
    let spread = |side: fn(&HourBlock) -> u32| {
        blocks.iter().map(|block| f64::from(side(block)).powi(2)).sum::<f64>().sqrt().round() as u32
    };
    let late = spread(|block| block.high_s - block.length_s());
    let early = spread(|block| block.length_s() - block.low_s);
    let total = input.gym.class_minutes * 60;
    let (over_s, spare_s) = (ends_s.saturating_sub(total), total.saturating_sub(ends_s));
    let latest_s = ends_s + late;
    let changes = if latest_s > total { changes::cuts(input.session, &blocks) } else { Vec::new() };
    let enough = changes::enough(&changes, over_s);
    let slack = total.saturating_sub(latest_s);
    let additions =
        if slack >= SLACK_S { changes::additions(input.session, slack, &blocks) } else { Vec::new() };
    Hour {
        minutes: input.gym.class_minutes,
        fits: over_s == 0,
        spare_s,
        over_s,
        ends_s,
        earliest_s: ends_s.saturating_sub(early),
        latest_s,
        blocks,
        changes,
        enough,
        additions,
    }
}

impl Hour {
    /// When it ends, on a usual and on a slow day: `Ends at 54:47 of 60:00, latest 58:13.`
    pub fn sentence(&self) -> String {
        let (ends, latest, minutes) = (clock_s(self.ends_s), clock_s(self.latest_s), self.minutes);
        if self.is_tight() {
            format!("Ends at {ends}; a slow day runs to {latest}, past the {minutes}:00.")
        } else if self.fits {
            format!("Ends at {ends} of {minutes}:00, latest {latest}.")
        } else {
            let over = clock_s(self.over_s);
            format!("Ends at {ends}, {over} past the {minutes}:00; latest {latest}.")
        }
    }

    /// Whether a slow day runs over although the plan fits.
    pub fn is_tight(&self) -> bool {
        self.fits && self.latest_s > self.minutes * 60
    }

    /// Seconds that a block would have, were everything else as planned; what it is pinned to, when it is.
    pub fn room_for(&self, key: &str) -> f64 {
        let block = self.blocks.iter().find(|block| block.key == key);
        if let Some(pinned) = block.filter(|block| block.pinned) {
            return f64::from(pinned.length_s());
        }
        let block = block.map_or(0, HourBlock::length_s);
        f64::from(self.minutes * 60) - f64::from(self.ends_s - block)
    }
}
