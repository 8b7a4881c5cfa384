//! A result beside what was predicted and what was meant.

use super::{Done, Predicted, Scored};
use crate::movement::Unit;
use crate::pacing::{Measure, Quantiles, Side, Window};
use crate::plan::MemberPiece;
use crate::session::{Format, Node, Part, Score, Total, per_round, totals};
use crate::versions::{Choice, VersionName};

/// Standard deviations from the middle of a normal spread to its ninth tenth.
const NINE_TENTHS: f64 = 1.2816;

impl Scored {
    /// How a part is scored, whose result is meant to lie in a window.
    pub fn of(part: &Part, window: &Window) -> Self {
        let reps = |work: Vec<Total>| all_counted(&work);
        match (part.score, window.measure) {
            (Some(Score::Load), _) => Self::Load,
            (_, Measure::Finish) => Self::Time { cap_s: part.cap_s, reps: reps(totals(&part.tree)) },
            (_, Measure::Reps) if part.format != Some(Format::Amrap) || part.score == Some(Score::Reps) => {
                Self::Reps
            }
            (_, Measure::Rounds | Measure::Reps) => {
                Self::Rounds { a_round: reps(per_round(&part.tree)), clock_s: part.duration_s }
            }
            (_, Measure::FailedRound) => Self::Rounds { a_round: None, clock_s: None },
            (_, Measure::SlowestInterval) => {
                let count = part.rounds.unwrap_or(1).max(1);
                Self::Intervals { count, every_s: part.interval_s }
            }
        }
    }
}

/// All of it, where all of it is counted one by one.
fn all_counted(work: &[Total]) -> Option<u32> {
    let counted = |total: &Total| !total.open && matches!(total.unit, Unit::Reps | Unit::Calories);
    let all = work.iter().map(|total| total.amount).sum::<f64>();
    (!work.is_empty() && work.iter().all(counted) && all >= 1.0).then_some(all.round() as u32)
}

/// Where a result fell in the spread that was predicted.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Place {
    /// Sooner, or more, than on nine days of ten.
    Better,
    /// Among the eight days of ten in the middle.
    Within,
    /// Later, or less, than on nine days of ten.
    Worse,
}

/// A result beside window and prediction.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Beside {
    /// In the window's measure.
    pub value: f64,
    /// Whether it would have become more: the cap came first.
    pub at_least: bool,
    /// Beside the window.
    pub side: Side,
    /// Beside the spread.
    pub place: Place,
    /// By how much it is more than the predicted middle, as a share of it: 0.08 is 8 % longer, or 8 % more rounds.
    pub off: f64,
}

impl Beside {
    /// Of what was done in a version of a part; none for what nothing can be compared with.
    pub fn of(done: &Done, (part, tree): (&Part, &Node), predicted: &Predicted) -> Option<Self> {
        let window = predicted.window();
        let (value, at_least) = value(done, part, tree, predicted.measure)?;
        let Quantiles { p10, p50, p90 } = predicted.quantiles();
        let (best, worst) = if window.measure.is_time() { (p10, p90) } else { (p90, p10) };
        let beyond =
            |end: f64, worse: bool| if window.measure.is_time() == worse { value > end } else { value < end };
        let place = if beyond(worst, true) {
            Place::Worse
        } else if beyond(best, false) {
            Place::Better
        } else {
            Place::Within
        };
        let side =
            if at_least && window.side(value) != Side::Early { Side::Late } else { window.side(value) };
        Some(Self { value, at_least, side, place, off: value / p50.max(1e-6) - 1.0 })
    }

    /// How far from the middle of the spread, in its standard deviations; more is slower, or less done.
    pub fn deviations(&self, predicted: &Predicted) -> f64 {
        let Quantiles { p10, p50, p90 } = predicted.quantiles();
        let far = (self.value / p50).ln();
        let width = if far > 0.0 { (p90 / p50).ln() } else { (p50 / p10).ln() } / NINE_TENTHS;
        let deviations = far / width.max(1e-3);
        if predicted.measure.is_time() { deviations } else { -deviations }
    }
}

/// What was done, in a measure, and whether the cap has cut it short.
fn value(done: &Done, part: &Part, tree: &Node, measure: Measure) -> Option<(f64, bool)> {
    let a_round = || all_counted(&per_round(tree)).map(f64::from).filter(|reps| *reps > 0.0);
    let exact = |value: f64| Some((value, false));
    match (done, measure) {
        (Done::Finished { seconds }, Measure::Finish | Measure::SlowestInterval) => {
            exact(f64::from(*seconds))
        }
        (Done::Capped { left }, Measure::Finish) => {
            let cap = f64::from(part.cap_s?);
            let all = all_counted(&totals(tree)).map(f64::from);
            // As much again a repetition as those before took: what is left is seldom the quickest.
            let whole = all.zip(*left).map(|(all, left)| cap * all / (all - f64::from(left)).max(1.0));
            Some((whole.unwrap_or(cap), true))
        }
        (Done::Rounds { rounds, reps }, Measure::Rounds) => {
            let begun =
                if *reps == 0 { 0.0 } else { f64::from(*reps) / a_round().unwrap_or(f64::from(*reps) * 2.0) };
            exact(f64::from(*rounds) + begun.min(0.999))
        }
        (Done::Rounds { rounds, reps }, Measure::Reps) => {
            exact(f64::from(*rounds) * a_round()? + f64::from(*reps))
        }
        (Done::Rounds { rounds, .. }, Measure::FailedRound) => exact(f64::from(*rounds)),
        (Done::Reps { reps }, Measure::Reps) => exact(f64::from(*reps)),
        (Done::Reps { reps }, Measure::Rounds) => exact(f64::from(*reps) / a_round()?),
        (Done::Intervals { seconds }, Measure::SlowestInterval) => exact(f64::from(*seconds.iter().max()?)),
        _ => None,
    }
}

/// The version that would have been on stimulus for somebody who was as far from what was predicted as this: the one that departs least from the
/// text. None where it is the one that was done.
pub fn next_time(member: &MemberPiece, window: &Window, beside: &Beside) -> Option<VersionName> {
    let expected = |choice: &Choice| choice.predicted.spread.p50 * (1.0 + beside.off);
    let on_the_way = |choice: &&Choice| {
        // Around a limit, and at home, nobody goes for a result.
        !matches!(choice.version, VersionName::AroundIt | VersionName::AtHome)
            || choice.version == member.chosen().version
    };
    let all = member.options.all.iter().filter(on_the_way).filter(|choice| choice.allowed);
    let fits = all.filter(|choice| window.holds(expected(choice)));
    let best = fits.min_by(|a, b| a.departure.total_cmp(&b.departure))?;
    (best.version != member.chosen().version).then_some(best.version)
}
