//! How long somebody waits for a turn before other ways are better.

use super::queue::Waited;
use crate::session::{Format, Node, Part, Score};

/// Longest wait for a turn at once, and the share of their piece that anybody waits in all: less than one day differs from another;
/// coaching practice.
const LONGEST_WAIT_S: f64 = 40.0;
const MOST_WAITING: f64 = 0.05;
/// The same of a piece that nobody scores.
const LONGEST_EASY_WAIT_S: f64 = 180.0;
const MOST_EASY_WAITING: f64 = 0.5;
/// Whether a piece leaves time to wait for a turn.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Waits {
    /// Each interval begins by the clock.
    Never,
    /// A moment.
    Shortly,
    /// Nobody scores it.
    Easily,
}

impl Waits {
    /// Of a piece.
    pub fn of(part: &Part) -> Self {
        fn clocked(node: &Node) -> bool {
            matches!(node, Node::Every { .. }) || node.children().into_iter().any(clocked)
        }
        match part.format {
            Some(Format::Every | Format::Intervals | Format::Tabata | Format::UntilFailure) => Self::Never,
            _ if clocked(&part.tree) => Self::Never,
            Some(Format::Quality) => Self::Easily,
            _ if part.score == Some(Score::None) => Self::Easily,
            _ => Self::Shortly,
        }
    }

    /// Whether somebody waits no longer than is worth it, in a piece that takes them so many seconds.
    pub fn bears(self, waited: &Waited, late_s: f64) -> bool {
        let (longest_s, share) = match self {
            Self::Never => (0.0, 0.0),
            Self::Shortly => (LONGEST_WAIT_S, MOST_WAITING),
            Self::Easily => (LONGEST_EASY_WAIT_S, MOST_EASY_WAITING),
        };
        waited.longest_s <= longest_s && waited.all_s <= late_s * share
    }
}
