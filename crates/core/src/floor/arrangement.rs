//! Ways of arranging a class, and how each member begins.

use serde::{Deserialize, Serialize};

use crate::movement::MovementId;
use crate::units::clock;

/// Heats whose starts are told one by one.
const MOST_TOLD: usize = 4;

/// A way of arranging a class, cheapest first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Arrangement {
    /// Everybody starts together with their own equipment.
    Together,
    /// Together, some with a neighbouring weight or on another machine.
    OtherTool,
    /// Together, but some begin with another movement of the round.
    Rotating,
    /// Together, some begin elsewhere and some have other equipment.
    Mixed,
    /// As before, and some wait a moment for their turn on what stands in the gym.
    Waiting,
    /// One after another within a few minutes, so that everybody finds free what stands in the gym.
    Staggered,
    /// Partners share a bar or a bell, the second a little behind.
    Sharing,
    /// Heats, as close behind each other as the stations allow.
    Heats,
}

impl Arrangement {
    /// All, cheapest first.
    pub const ALL: [Self; 8] = [
        Self::Together,
        Self::OtherTool,
        Self::Rotating,
        Self::Mixed,
        Self::Waiting,
        Self::Staggered,
        Self::Sharing,
        Self::Heats,
    ];

    /// As chosen on the screen.
    pub const fn label(self) -> &'static str {
        match self {
            Self::Together => "All together",
            Self::OtherTool => "Some with other equipment",
            Self::Rotating => "Begin at different stations",
            Self::Mixed => "Other stations and other equipment",
            Self::Waiting => "Short waits",
            Self::Staggered => "Staggered start",
            Self::Sharing => "Partners share",
            Self::Heats => "Heats",
        }
    }

    /// With what it comes to: `3 heats at 0:00, 4:00, 8:00`, `Together, 2 with other equipment`.
    pub(super) fn words(self, starts: &[Start]) -> String {
        let mut offsets: Vec<u32> = starts.iter().map(|start| start.offset_s).collect();
        offsets.sort_unstable();
        offsets.dedup();
        let gap = offsets.windows(2).map(|pair| pair[1] - pair[0]).max().unwrap_or(0);
        let last = clock(f64::from(offsets.last().copied().unwrap_or(0)));
        let later = starts.iter().filter(|start| start.offset_s > 0).count();
        let elsewhere = starts.iter().filter(|start| start.begins_with.is_some()).count();
        let begin = if elsewhere == 1 { "begins" } else { "begin" };
        let tools = starts.iter().filter(|start| start.instead.is_some()).count();
        let all = starts.len();
        let mut words = match self {
            Self::Together => "All together".to_owned(),
            Self::OtherTool => format!("Together, {tools} with other equipment"),
            Self::Rotating => format!("Together, {elsewhere} of {all} {begin} elsewhere in the round"),
            Self::Mixed => {
                format!("Together, {elsewhere} of {all} {begin} elsewhere and {tools} with other equipment")
            }
            Self::Waiting => {
                let waiting = starts.iter().filter(|start| start.waits_s > 0).count();
                let longest = starts.iter().map(|start| start.waits_s).max().unwrap_or(0);
                let wait = if waiting == 1 { "waits" } else { "wait" };
                let also = [(elsewhere, "elsewhere"), (tools, "with other equipment")];
                let also = also.iter().filter(|(count, _)| *count > 0);
                let also: Vec<String> = also.map(|(count, what)| format!("{count} {what}, ")).collect();
                format!(
                    "Together, {}{waiting} of {all} {wait} up to {} in all",
                    also.concat(),
                    clock(f64::from(longest))
                )
            }
            Self::Staggered => format!("Staggered, {later} of {all} start up to {last} later"),
            Self::Sharing => format!("Partners share, the second {} behind", clock(f64::from(gap))),
            Self::Heats if offsets.len() < 2 => "One heat".to_owned(),
            Self::Heats if offsets.len() > MOST_TOLD => {
                format!("{} heats, {} apart", offsets.len(), clock(f64::from(gap)))
            }
            Self::Heats => {
                let at: Vec<String> = offsets.iter().map(|offset| clock(f64::from(*offset))).collect();
                format!("{} heats at {}", offsets.len(), at.join(", "))
            }
        };
        if matches!(self, Self::Staggered | Self::Sharing | Self::Heats) && tools > 0 {
            words.push_str(&format!(", {tools} with other equipment"));
        }
        words
    }
}

/// How one member begins.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Start {
    /// The member.
    pub name: String,
    /// Seconds after the first start.
    pub offset_s: u32,
    /// The movement of the round to begin with, when it is not the first.
    pub begins_with: Option<MovementId>,
    /// What is taken in place of what is short: `ski for row`, `7.5 kg for 10 kg`.
    pub instead: Option<String>,
    /// Seconds that they wait in all for what others are on; their predicted finish is without them.
    #[serde(skip_serializing_if = "is_zero")]
    pub waits_s: u32,
    /// Whose equipment is shared.
    pub shares_with: Option<String>,
    /// Not here: nothing is held for them.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub away: bool,
}

/// Whether nothing is waited.
#[expect(clippy::trivially_copy_pass_by_ref, reason = "what serde asks for")]
const fn is_zero(seconds: &u32) -> bool {
    *seconds == 0
}

impl Start {
    /// Of somebody who is not here.
    pub(crate) fn away(name: &str) -> Self {
        Self {
            name: name.to_owned(),
            offset_s: 0,
            begins_with: None,
            instead: None,
            waits_s: 0,
            shares_with: None,
            away: true,
        }
    }
}

/// One way of arranging the class, with what comes of it.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Tried {
    /// Which way.
    pub arrangement: Arrangement,
    /// Seconds from the first start to the last late finish; none when it cannot be done.
    pub ends_s: Option<f64>,
    /// What it comes to, in words; empty when it cannot be done.
    pub cost: String,
}

#[cfg(test)]
mod tests {
    use super::*;

    fn starting(offsets: &[u32]) -> Vec<Start> {
        let at = |(n, offset_s): (usize, &u32)| Start {
            name: format!("member {n}"),
            offset_s: *offset_s,
            begins_with: None,
            instead: (n == 0).then(|| "ski for row".to_owned()),
            waits_s: 0,
            shares_with: None,
            away: false,
        };
        offsets.iter().enumerate().map(at).collect()
    }

    #[test]
    fn starts_are_told_by_their_times_and_many_heats_by_how_far_they_are_apart() {
        let words = |way: Arrangement, offsets: &[u32]| way.words(&starting(offsets));
        assert_eq!(
            words(Arrangement::Heats, &[0, 0, 240, 600]),
            "3 heats at 0:00, 4:00, 10:00, 1 with other equipment"
        );
        assert_eq!(words(Arrangement::Heats, &[0, 0]), "One heat, 1 with other equipment");
        let many: Vec<u32> = (0..=MOST_TOLD as u32).map(|n| n * 300).collect();
        let told = format!("{} heats, 5:00 apart, 1 with other equipment", many.len());
        assert_eq!(words(Arrangement::Heats, &many), told);
        assert_eq!(
            words(Arrangement::Sharing, &[60, 60, 330]),
            "Partners share, the second 4:30 behind, 1 with other equipment"
        );
        assert_eq!(
            words(Arrangement::Staggered, &[0, 30, 90]),
            "Staggered, 2 of 3 start up to 1:30 later, 1 with other equipment"
        );
        assert_eq!(words(Arrangement::OtherTool, &[0, 0]), "Together, 1 with other equipment");
    }
}
