//! A rail a version: where somebody typical of those who do it should be when.

use lantern_core::plan::{MemberPiece, PiecePlan};
use lantern_core::session::Part;
use lantern_core::units::clock;

/// One version's rail, 900 units wide.
pub(crate) struct PaceRail {
    pub version: &'static str,
    pub flame: u8,
    /// Whose walk it is.
    pub whose: String,
    pub end_x: f64,
    pub end: String,
    pub rounds: Vec<RailMark>,
    pub points: Vec<RailPoint>,
    pub window_x: Option<(f64, f64)>,
    pub cap_x: Option<f64>,
}

pub(crate) struct RailMark {
    pub x: f64,
    pub title: String,
}

pub(crate) struct RailPoint {
    pub x: f64,
    pub label: String,
    pub text: String,
    pub above: bool,
}

const WIDTH: f64 = 900.0;

impl PaceRail {
    /// One for each version that somebody does, by the member in the middle of them.
    pub fn of(piece: &PiecePlan, part: &Part) -> Vec<Self> {
        let longest = piece.members.iter().map(|member| member.chosen().run.finish_s).fold(1.0, f64::max);
        let scale = WIDTH / longest.max(part.cap_s.map_or(0.0, f64::from)).min(4.0 * 3600.0);
        piece
            .versions
            .iter()
            .filter_map(|version| {
                let mut doing: Vec<&MemberPiece> =
                    piece.members.iter().filter(|member| member.chosen().version == version.name).collect();
                doing.sort_by(|a, b| a.chosen().run.finish_s.total_cmp(&b.chosen().run.finish_s));
                let middle = *doing.get(doing.len() / 2)?;
                Some(Self::new(middle, doing.len(), piece, part, scale))
            })
            .collect()
    }

    fn new(member: &MemberPiece, people: usize, piece: &PiecePlan, part: &Part, scale: f64) -> Self {
        let choice = member.chosen();
        let x = |seconds: f64| (seconds * scale).min(WIDTH);
        let rounds = choice
            .run
            .round_ends
            .iter()
            .zip(1..)
            .map(|(end, n)| RailMark { x: x(*end), title: format!("round {n} ends at {}", clock(*end)) });
        let points = member.targets.checkpoints.iter().enumerate().map(|(n, point)| RailPoint {
            x: x(f64::from(point.at_s)),
            label: clock(f64::from(point.at_s)),
            text: point.text.clone(),
            above: n % 2 == 0,
        });
        let timed = piece.window.measure == lantern_core::pacing::Measure::Finish;
        let window_x = timed.then(|| (piece.window.low.map_or(0.0, x), piece.window.high.map_or(WIDTH, x)));
        Self {
            version: choice.version.label(),
            flame: choice.version as u8,
            whose: match people {
                1 => member.name.clone(),
                n => format!("{n} people, as {} walks it", member.name),
            },
            end_x: x(choice.run.finish_s),
            end: clock(choice.run.finish_s),
            rounds: rounds.collect(),
            points: points.collect(),
            window_x,
            cap_x: part.cap_s.map(|cap| x(f64::from(cap))),
        }
    }
}
