//! Going on with an easier version from where somebody is.

use serde::{Deserialize, Serialize};

use crate::pacing::Quantiles;
use crate::plan::MemberPiece;
use crate::versions::VersionName;

/// However late it is, so much of the work is taken to be left.
const LEAST_LEFT: f64 = 0.05;

/// An easier version that somebody could go on with. What is left of their own is taken to last as long as the same share of this one: a guess, as both are
/// walked at a pace that hardly changes.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
pub struct Onward {
    /// The version.
    pub version: VersionName,
    /// When they would be done, were they to begin with it, in seconds.
    pub whole_s: f64,
    /// How much later for each second that they have done of their own.
    pub each_s: f64,
    /// Seconds that are left at the least.
    pub least_s: f64,
    /// What of the time that is left it takes on one day in ten at most.
    pub early: f64,
    /// What of the time that is left it takes on one day in ten at least.
    pub late: f64,
}

/// How somebody has gone on with an easier version.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct GoneOn {
    /// What they had begun with.
    pub from: VersionName,
    /// What they went on with.
    pub to: VersionName,
    /// Seconds from their start.
    pub at_s: u32,
    /// When they were expected to be done then: one day in ten before, the middle, one day in ten after; seconds from their start.
    pub ends_s: [u32; 3],
}

impl Onward {
    /// When they are done, in seconds from their start, after so many seconds of their own version.
    pub fn finish_s(&self, elapsed_s: f64) -> f64 {
        (self.whole_s + self.each_s * elapsed_s).max(elapsed_s + self.least_s)
    }

    /// The same with its spread: one day in ten before the first, one after the last.
    pub fn ends_s(&self, elapsed_s: f64) -> [u32; 3] {
        let left = self.finish_s(elapsed_s) - elapsed_s;
        [self.early, 1.0, self.late].map(|of| (elapsed_s + of * left).round() as u32)
    }
}

/// The versions easier than the one that somebody does, which they may do.
pub fn onward(member: &MemberPiece) -> Vec<Onward> {
    let on_the_way = [VersionName::Lighter, VersionName::Simpler, VersionName::FirstLight];
    let own_s = member.predicted().finish_s.p50.max(1.0);
    let easier = member.options.all.iter().filter(|choice| {
        choice.allowed && on_the_way.contains(&choice.version) && choice.version > member.chosen().version
    });
    let of = |version, whole: Quantiles| Onward {
        version,
        whole_s: whole.p50,
        each_s: 1.0 - whole.p50 / own_s,
        least_s: LEAST_LEFT * whole.p50,
        early: whole.p10 / whole.p50.max(1.0),
        late: whole.p90 / whole.p50.max(1.0),
    };
    easier.map(|choice| of(choice.version, choice.predicted.finish_s)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn half_of_ones_own_leaves_half_of_the_easier_one() {
        // Twenty minutes of one's own, twelve of the easier one.
        let onward = Onward {
            version: VersionName::Lighter,
            whole_s: 720.0,
            each_s: 1.0 - 720.0 / 1200.0,
            least_s: 36.0,
            early: 0.9,
            late: 1.2,
        };
        assert_eq!(onward.ends_s(600.0), [924, 960, 1032]);
        assert_eq!(onward.finish_s(0.0), 720.0);
        assert!((onward.finish_s(600.0) - 960.0).abs() < 1e-9);
        assert_eq!(onward.finish_s(1300.0), 1336.0);
    }
}
