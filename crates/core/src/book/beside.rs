//! A result beside what was predicted and what was meant.

use super::calibration::median;
use super::{Done, Entry, Predicted, Scored};
use crate::movement::Unit;
use crate::pacing::{Measure, Quantiles, Side, Window};
use crate::plan::MemberPiece;
use crate::session::{Format, Node, Part, Score, Total, per_round, totals};
use crate::versions::{Choice, VersionName};

impl Scored {
    /// How a part is scored, whose result is meant to lie in a window; what is checked is counted in the version that was done.
    pub fn of(part: &Part, tree: &Node, window: &Window) -> Self {
        let reps = |work: Vec<Total>| all_counted(&work);
        match (part.score, window.measure) {
            (Some(Score::Load), _) => Self::Load,
            (_, Measure::Finish) => Self::Time { cap_s: part.cap_s, reps: reps(totals(tree)) },
            (_, measure)
                if measure.is_count()
                    && (part.format != Some(Format::Amrap) || part.score == Some(Score::Reps)) =>
            {
                Self::Reps
            }
            (_, Measure::Rounds | Measure::Reps | Measure::Calories | Measure::Metres) => {
                Self::Rounds { a_round: reps(per_round(tree)), clock_s: part.duration_s }
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
    /// Of a value in the measure of what was predicted, more of which there would have been where the cap came first.
    pub fn of(value: f64, at_least: bool, predicted: &Predicted) -> Self {
        let window = predicted.window();
        let Quantiles { p10, p50, p90 } = predicted.quantiles();
        let (best, worst) = if window.measure.is_time() { (p10, p90) } else { (p90, p10) };
        let beyond = |end: f64, worse: bool| {
            if window.measure.is_time() == worse { value > end } else { value < end }
        };
        let place = if beyond(worst, true) {
            Place::Worse
        } else if beyond(best, false) {
            Place::Better
        } else {
            Place::Within
        };
        let side =
            if at_least && window.side(value) != Side::Early { Side::Late } else { window.side(value) };
        Self { value, at_least, side, place, off: value / p50.max(1e-6) - 1.0 }
    }
}

/// What was done of a version of a part, in a measure, and whether the cap has cut it short; none for what nothing can be compared with.
pub(super) fn value(done: &Done, part: &Part, tree: &Node, measure: Measure) -> Option<(f64, bool)> {
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
        (Done::Rounds { rounds, reps }, measure) if measure.is_count() => {
            exact(f64::from(*rounds) * a_round()? + f64::from(*reps))
        }
        (Done::Rounds { rounds, .. }, Measure::FailedRound) => exact(f64::from(*rounds)),
        (Done::Reps { reps }, measure) if measure.is_count() => exact(f64::from(*reps)),
        (Done::Reps { reps }, Measure::Rounds) => exact(f64::from(*reps) / a_round()?),
        (Done::Intervals { seconds }, Measure::SlowestInterval) => exact(f64::from(*seconds.iter().max()?)),
        _ => None,
    }
}

impl Entry {
    /// How much slower it was than the middle of what was predicted, as a share, whatever is measured: half the rounds took twice the time.
    pub fn slower(&self) -> Option<f64> {
        let (beside, predicted) = (self.beside()?, self.predicted.as_ref()?);
        Some(if predicted.measure.is_time() { beside.off } else { 1.0 / (1.0 + beside.off).max(0.1) - 1.0 })
    }

    /// Whether it is better than every earlier result of the same version that can be compared, of which there is one at least.
    pub fn is_best_of<'a>(&self, earlier: impl Iterator<Item = &'a Self>) -> bool {
        let exact = |entry: &Self| {
            Some((entry.predicted.as_ref()?.measure, entry.value.filter(|_| !entry.at_least)?))
        };
        let Some((measure, value)) = exact(self) else { return false };
        let same = earlier.filter(|entry| entry.version == self.version).filter_map(exact);
        let mut same = same.filter(|(other, _)| *other == measure).map(|(_, other)| other).peekable();
        let beats = |other: f64| if measure.is_time() { value < other } else { value > other };
        same.peek().is_some() && same.all(beats)
    }
}

/// Fewest results that say something about somebody.
const FEWEST: usize = 3;
/// Most that are looked at: what was long ago was somebody else.
const LAST: usize = 8;

/// How much more than predicted somebody's last results took, as a share: the middle of them, so that one bad day says little. Positive is slower, or
/// less done. None for fewer than three. It is told beside predictions; what they learn from it is [`super::OfGym`]'s.
pub fn tendency<'a>(newest_first: impl Iterator<Item = &'a Entry>) -> Option<(f64, usize)> {
    let slower = |entry: &Entry| {
        let (beside, off) = (entry.beside()?, entry.slower()?);
        // Where the cap came first, it says no more than that it was slower.
        (!beside.at_least || off > 0.0).then_some(off)
    };
    let all: Vec<f64> = newest_first.filter_map(slower).take(LAST).collect();
    let count = all.len();
    Some((median(all.into_iter())?, count)).filter(|_| count >= FEWEST)
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

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;
    use crate::movement::Catalogue;
    use crate::read::read;

    fn timed(spread: [f64; 3]) -> Predicted {
        Predicted { measure: Measure::Finish, spread, window: [Some(480.0), Some(720.0)], rests: None }
    }

    fn entry(value: f64, at_least: bool) -> Entry {
        Entry {
            version: VersionName::AsWritten,
            done: Done::Stopped,
            said: String::new(),
            predicted: Some(timed([540.0, 600.0, 660.0])),
            value: Some(value),
            at_least,
            gone_on: None,
            effort: None,
            hurt: false,
            note: String::new(),
        }
    }

    #[test]
    fn a_result_falls_beside_window_and_spread() {
        let of = |value, at_least| {
            let beside = entry(value, at_least).beside().unwrap();
            (beside.side, beside.place)
        };
        assert_eq!(of(600.0, false), (Side::Inside, Place::Within));
        assert_eq!(of(470.0, false), (Side::Early, Place::Better));
        assert_eq!(of(700.0, false), (Side::Inside, Place::Worse));
        assert_eq!(of(730.0, false), (Side::Late, Place::Worse));
        // The cap came first: however early that was, more of it was to come.
        assert_eq!(of(600.0, true), (Side::Late, Place::Within));
    }

    #[test]
    fn what_is_odd_is_counted_in_the_version_that_was_done() {
        let part = |text: &str| read(text, Catalogue::standard()).session.parts.remove(0);
        let (written, own) =
            (part("AMRAP 12\n10 burpees\n20 air squats"), part("AMRAP 12\n6 burpees\n12 air squats"));
        let window = Window { measure: Measure::Rounds, ..timed([1.0; 3]).window() };
        let of = |tree: &Node| Scored::of(&written, tree, &window);
        assert_eq!(of(&written.tree), Scored::Rounds { a_round: Some(30), clock_s: Some(720) });
        assert_eq!(of(&own.tree), Scored::Rounds { a_round: Some(18), clock_s: Some(720) });
    }

    #[test]
    fn what_was_done_is_measured_as_it_was_predicted() {
        let part = |text: &str| read(text, Catalogue::standard()).session.parts.remove(0);
        let of = |text: &str, done: Done, measure| {
            let part = part(text);
            value(&done, &part, &part.tree, measure)
        };
        let couplet = "For time, cap 10\n50 burpees\n50 air squats";
        assert_eq!(of(couplet, Done::Finished { seconds: 500 }, Measure::Finish), Some((500.0, false)));
        // 80 of 100 in ten minutes: all of it would have taken twelve and a half.
        assert_eq!(of(couplet, Done::Capped { left: Some(20) }, Measure::Finish), Some((750.0, true)));
        assert_eq!(of(couplet, Done::Capped { left: None }, Measure::Finish), Some((600.0, true)));
        let rounds = "AMRAP 12\n10 burpees\n20 air squats";
        assert_eq!(of(rounds, Done::Rounds { rounds: 5, reps: 15 }, Measure::Rounds), Some((5.5, false)));
        assert_eq!(of(rounds, Done::Rounds { rounds: 5, reps: 15 }, Measure::Reps), Some((165.0, false)));
        assert_eq!(of(rounds, Done::Finished { seconds: 500 }, Measure::Rounds), None);
        let bouts = Done::Intervals { seconds: vec![112, 124, 118] };
        assert_eq!(of(rounds, bouts, Measure::SlowestInterval), Some((124.0, false)));
        assert_eq!(of(couplet, Done::Stopped, Measure::Finish), None);
    }

    #[test]
    fn a_best_is_better_than_each_of_the_same_version() {
        let [quick, slow, capped] =
            [(500.0, false), (520.0, false), (480.0, true)].map(|(value, least)| entry(value, least));
        let lighter = Entry { version: VersionName::Lighter, ..entry(400.0, false) };
        assert!(quick.is_best_of([&slow, &capped, &lighter].into_iter()));
        assert!(!slow.is_best_of([&quick, &lighter].into_iter()));
        assert!(!quick.is_best_of([&lighter, &capped].into_iter()), "there is none to be better than");
        assert!(!capped.is_best_of([&slow].into_iter()) && !quick.is_best_of([&quick].into_iter()));
    }

    #[test]
    fn the_middle_of_the_last_results_is_told_once_there_are_some() {
        let told = |values: &[(f64, bool)]| {
            let all: Vec<Entry> = values.iter().map(|(value, least)| entry(*value, *least)).collect();
            tendency(all.iter()).map(|(off, count)| ((off * 1000.0).round() / 1000.0, count))
        };
        assert_eq!(told(&[(540.0, false), (600.0, false)]), None);
        assert_eq!(told(&[(540.0, false), (600.0, false), (570.0, false)]), Some((-0.05, 3)));
        // One absurd day moves the middle by no more than its neighbour.
        assert_eq!(
            told(&[(5400.0, false), (600.0, false), (570.0, false), (588.0, false)]),
            Some((-0.01, 4))
        );
        // Stopped by the cap before what was predicted: it says nothing.
        assert_eq!(told(&[(590.0, true), (600.0, false), (570.0, false)]), None);
        assert_eq!(told(&[(630.0, true), (600.0, false), (570.0, false)]), Some((0.0, 3)));
    }

    proptest! {
        /// Slower is never earlier, nor better placed in the spread.
        #[test]
        fn slower_is_never_earlier(a in 60.0..3000.0_f64, b in 60.0..3000.0_f64) {
            let (quick, slow) = (a.min(b), a.max(b));
            let predicted = timed([540.0, 600.0, 660.0]);
            let (quick, slow) = (Beside::of(quick, false, &predicted), Beside::of(slow, false, &predicted));
            let order = |side| match side { Side::Early => 0, Side::Inside => 1, Side::Late => 2 };
            prop_assert!(order(quick.side) <= order(slow.side));
            prop_assert!(quick.off <= slow.off);
            prop_assert!(quick.place as u8 <= slow.place as u8);
        }
    }
}
