//! On stimulus: the intended window, written or inferred, and what is measured against it.

use serde::{Deserialize, Serialize};

use super::convert::on_a_board;
use super::simulate::{Run, STARTS_WITHOUT_END};
use super::spread::Quantiles;
use crate::movement::{Catalogue, Unit};
use crate::session::{Part, Work};
use crate::units::{clock, plain};

/// What is measured.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Measure {
    /// Seconds on the clock at the end.
    Finish,
    /// Rounds done.
    Rounds,
    /// Repetitions done, or whatever is counted where not all of it is the same.
    Reps,
    /// Calories done, where nothing else is counted.
    Calories,
    /// Metres done, where nothing else is counted.
    Metres,
    /// The interval in which rising work no longer fits.
    FailedRound,
    /// Working seconds of the slowest interval.
    SlowestInterval,
}

impl Measure {
    /// The measure of one walk, in what the text counts.
    pub fn of(self, run: &Run) -> f64 {
        match self {
            Self::Finish => run.finish_s,
            Self::Rounds => run.rounds,
            Self::Reps | Self::Calories | Self::Metres => run.written_reps,
            // One that is beyond all that were walked, for whoever fails in none of them.
            Self::FailedRound => f64::from(run.failed_round.unwrap_or(STARTS_WITHOUT_END + 1)),
            Self::SlowestInterval if run.interval_work.is_empty() => slowest_round(run),
            Self::SlowestInterval => run.interval_work.iter().copied().fold(0.0, f64::max),
        }
    }

    /// Whether a value is that of nobody: a round beyond all that are walked, in which nobody was seen to fail.
    pub(crate) fn is_never(self, value: f64) -> bool {
        self == Self::FailedRound && value.round() > f64::from(STARTS_WITHOUT_END)
    }

    /// A value as a coach says it: `9:40`, `5.4 rounds`.
    pub fn show(self, value: f64) -> String {
        match self {
            Self::Finish | Self::SlowestInterval => clock(value),
            Self::Rounds => format!("{value:.1}{}", self.unit()),
            Self::Reps | Self::Calories | Self::Metres => format!("{value:.0}{}", self.unit()),
            Self::FailedRound if self.is_never(value) => format!("{STARTS_WITHOUT_END} rounds and more"),
            Self::FailedRound => format!("round {value:.0}"),
        }
    }

    /// From one value to another, with what they are called once: `7:10 to 8:40`, `128 to 173 cal`.
    pub fn show_range(self, low: f64, high: f64) -> String {
        if self.is_never(low) {
            return self.show(low);
        }
        let shown = self.show(low);
        format!("{} to {}", shown.strip_suffix(self.unit()).unwrap_or(&shown), self.show(high))
    }

    /// The same where there is little room: rounds without their name, `5.4 to 6.1`.
    pub fn show_briefly(self, low: f64, high: f64) -> String {
        let round = |value: f64| match self {
            Self::FailedRound if self.is_never(value) => format!("{STARTS_WITHOUT_END} or more"),
            Self::FailedRound => format!("{value:.0}"),
            _ => plain((value * 10.0).round() / 10.0),
        };
        match self {
            Self::FailedRound if self.is_never(low) => round(low),
            Self::FailedRound | Self::Rounds => format!("{} to {}", round(low), round(high)),
            _ => self.show_range(low, high),
        }
    }

    /// What is counted where all that counts has these units.
    pub(super) fn counting(mut units: impl Iterator<Item = Unit>) -> Self {
        let Some(first) = units.next() else { return Self::Reps };
        match first {
            Unit::Calories if units.all(|unit| unit == first) => Self::Calories,
            Unit::Metres if units.all(|unit| unit == first) => Self::Metres,
            _ => Self::Reps,
        }
    }

    /// A count as it is written on boards: small numbers exactly, bigger ones in steps.
    pub(super) fn said(self, value: f64) -> f64 {
        on_a_board(value, if self == Self::Metres { Unit::Metres } else { Unit::Reps })
    }

    /// What a number of it is called, with the space before it; nothing of times.
    fn unit(self) -> &'static str {
        match self {
            Self::Rounds => " rounds",
            Self::Reps => " reps",
            Self::Calories => " cal",
            Self::Metres => " m",
            Self::Finish | Self::SlowestInterval | Self::FailedRound => "",
        }
    }

    /// Whether single repetitions, calories or metres are counted.
    pub fn is_count(self) -> bool {
        matches!(self, Self::Reps | Self::Calories | Self::Metres)
    }

    /// Whether less of it is better.
    pub fn is_time(self) -> bool {
        matches!(self, Self::Finish | Self::SlowestInterval)
    }
}

/// What is counted of a work, by its number or as much of it as fits into a time; none of what is held.
pub(super) fn counted_unit(work: &Work, catalogue: &Catalogue) -> Option<Unit> {
    let of_movement = || catalogue.get(&work.movement).map(|movement| movement.unit);
    let unit = if work.is_as_much_as_fits(catalogue) { of_movement()? } else { work.dose.unit };
    (unit != Unit::Seconds).then_some(unit)
}

/// The longest of rounds that follow one another without a clock or a rest; the whole where there are none.
fn slowest_round(run: &Run) -> f64 {
    let starts = std::iter::once(&0.0).chain(&run.round_ends);
    let longest = starts.zip(&run.round_ends).map(|(start, end)| end - start).fold(0.0, f64::max);
    if longest > 0.0 { longest } else { run.finish_s }
}

/// The intended result.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Window {
    /// What is measured.
    pub measure: Measure,
    /// The lower end, if there is one.
    pub low: Option<f64>,
    /// The upper end, if there is one.
    pub high: Option<f64>,
    /// Whether it is inferred rather than written.
    pub inferred: bool,
    /// In words, with where it comes from.
    pub why: String,
}

/// Where a result lies beside the window.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Side {
    /// Sooner, or more, than intended.
    Early,
    /// As intended.
    Inside,
    /// Later, or less, than intended.
    Late,
}

/// "5-6 rounds" is kept by whoever is somewhere in the seventh: the rest of a round beyond the upper end, which is meant and not
/// said.
const REST_OF_A_ROUND: f64 = 0.999;

/// The end of the last round that is meant.
pub(super) fn through(rounds: f64) -> f64 {
    if rounds.fract() == 0.0 { rounds + REST_OF_A_ROUND } else { rounds }
}

/// So far beyond the only end of a window, as a share of it, a version has taken more than it had to. Coaching judgement.
const OVERDONE: f64 = 0.4;

/// A window with one end only counts as this wide, as a share of it.
const WIDTH_OF_ONE_END: f64 = 0.24;

impl Window {
    /// Where a value lies.
    pub fn side(&self, value: f64) -> Side {
        let (below, above) =
            if self.measure.is_time() { (Side::Early, Side::Late) } else { (Side::Late, Side::Early) };
        match (self.low, self.high) {
            _ if self.holds(value) => Side::Inside,
            (Some(low), _) if value < low => below,
            _ => above,
        }
    }

    /// As [`side`](Self::side), with what ends in the last `margin` of the window, a share of it, counted as late.
    pub fn comfortably(&self, value: f64, margin: f64) -> Side {
        let margin = self.width() * margin;
        let late = if self.measure.is_time() {
            self.high.is_some_and(|high| value > high - margin)
        } else {
            self.low.is_some_and(|low| value < low + margin)
        };
        if late { Side::Late } else { self.side(value) }
    }

    /// Whether a value keeps a `margin` of the window, a share of it, from both of its ends.
    pub fn keeps_margin(&self, value: f64, margin: f64) -> bool {
        let margin = self.width() * margin;
        self.low.is_none_or(|low| value >= low + margin)
            && self.high.is_none_or(|high| value <= high - margin)
    }

    /// Whether a value lies so far beyond the only end of a window that much less would have had to be taken away.
    pub fn is_overdone(&self, value: f64) -> bool {
        match (self.low, self.high) {
            (Some(low), None) => value > low * (1.0 + OVERDONE),
            (None, Some(high)) => value < high / (1.0 + OVERDONE),
            _ => false,
        }
    }

    /// How far outside a value lies: the logarithm of its ratio to the nearer end; 0 inside.
    pub fn off_by(&self, value: f64) -> f64 {
        let beyond = |over: f64, under: f64| (over.max(1e-3) / under.max(1e-3)).ln().max(0.0);
        let below = self.low.map_or(0.0, |low| beyond(low, value));
        let above = self.high.map_or(0.0, |high| beyond(value, high));
        below.max(above)
    }

    fn width(&self) -> f64 {
        match (self.low, self.high) {
            (Some(low), Some(high)) => high - low,
            (low, high) => high.or(low).unwrap_or(0.0) * WIDTH_OF_ONE_END,
        }
    }

    /// Whether what lies outside of a spread lies mostly on the early side.
    pub fn leans_early(&self, spread: Quantiles) -> bool {
        let below = self.low.map_or(0.0, |low| (low - spread.p10).max(0.0) + (low - spread.p50).max(0.0));
        let above = self.high.map_or(0.0, |high| (spread.p90 - high).max(0.0) + (spread.p50 - high).max(0.0));
        if self.measure.is_time() { below > above } else { above > below }
    }

    /// The same measure with the ends that the coach has set; without any, as it is.
    pub fn set_by_coach(self, low: Option<f64>, high: Option<f64>) -> Self {
        if low.is_none() && high.is_none() {
            return self;
        }
        let high = if self.measure == Measure::Rounds { high.map(through) } else { high };
        Self { low, high, inferred: false, why: "set by the coach".to_owned(), ..self }
    }

    /// The upper end as it was written or set, and as it is said: `6` of "5-6 rounds".
    pub fn said_high(&self) -> Option<f64> {
        let said = |high: f64| {
            let whole = high - REST_OF_A_ROUND;
            let rounded = self.measure == Measure::Rounds && (whole - whole.round()).abs() < 1e-6;
            if rounded { whole.round() } else { high }
        };
        self.high.map(said)
    }

    /// Whether a value lies inside.
    pub fn holds(&self, value: f64) -> bool {
        self.low.is_none_or(|low| value >= low - 1e-9) && self.high.is_none_or(|high| value <= high + 1e-9)
    }

    /// `9:00 - 14:00`, `under 7:00`, `5-6 rounds`.
    pub fn show(&self) -> String {
        let number = |value: f64| match self.measure {
            Measure::Finish | Measure::SlowestInterval => clock(value),
            Measure::Rounds => plain((value * 10.0).round() / 10.0),
            _ => format!("{value:.0}"),
        };
        let what = self.measure.unit();
        match (self.low, self.said_high()) {
            (Some(low), None) if self.measure == Measure::FailedRound => {
                format!("at least {}", self.measure.show(low))
            }
            (Some(low), Some(high)) if low == high => format!("{}{what}", number(low)),
            (Some(low), Some(high)) => format!("{}-{}{what}", number(low), number(high)),
            (Some(low), None) => format!("at least {}{what}", number(low)),
            (None, Some(high)) => format!("under {}{what}", number(high)),
            (None, None) if self.measure == Measure::FailedRound => "as long as you can".to_owned(),
            (None, None) => "no window".to_owned(),
        }
    }

    /// The intent in a coach's words, by length: sprint, short, medium, long, steady.
    pub fn name(&self, part: &Part) -> &'static str {
        let seconds = match self.measure {
            Measure::Finish => self.high.or(self.low),
            _ => part.duration_s.map(f64::from),
        };
        match seconds {
            None => "open",
            Some(s) if s < 180.0 => "sprint",
            Some(s) if s <= 420.0 => "short and hard",
            Some(s) if s <= 900.0 => "medium",
            Some(s) if s <= 1800.0 => "long",
            Some(_) => "steady",
        }
    }
}

#[cfg(test)]
mod tests {
    use crate::movement::Catalogue;
    use crate::pacing::{Measure, Model, Run, intended_window};
    use crate::read::read;

    #[test]
    fn the_slowest_of_rounds_without_a_rest_is_the_longest_of_them() {
        let run = Run { round_ends: vec![60.0, 130.0, 195.0], finish_s: 195.0, ..Run::default() };
        assert!((Measure::SlowestInterval.of(&run) - 70.0).abs() < 1e-9);
        let clocked = Run { interval_work: vec![40.0, 45.0], ..run };
        assert!((Measure::SlowestInterval.of(&clocked) - 45.0).abs() < 1e-9);
    }

    #[test]
    fn what_a_range_is_of_is_said_once() {
        let said = [
            (Measure::Finish, 430.0, 520.0),
            (Measure::Rounds, 5.04, 6.5),
            (Measure::Calories, 128.0, 173.2),
        ]
        .map(|(measure, low, high)| measure.show_range(low, high));
        assert_eq!(said, ["7:10 to 8:40", "5.0 to 6.5 rounds", "128 to 173 cal"]);
    }

    #[test]
    fn the_coachs_own_window_is_said_as_written_and_kept_into_the_next_round() {
        let catalogue = Catalogue::standard();
        let part = |text: &str| read(text, catalogue).session.parts.remove(0);
        for (text, said) in [
            ("AMRAP 12\n10 burpees\nGoal: 5-6 rounds", "5-6 rounds"),
            ("AMRAP 12\n10 burpees\nGoal: 7 rounds or more", "at least 7 rounds"),
        ] {
            let window = intended_window(&part(text), catalogue, Model::standard());
            assert_eq!(window.show(), said);
        }
        let window =
            intended_window(&part("AMRAP 12\n10 burpees\nGoal: 5-6 rounds"), catalogue, Model::standard());
        assert!(window.holds(6.9) && !window.holds(7.0));
        let set = window.set_by_coach(Some(4.0), Some(5.0));
        assert!(set.show() == "4-5 rounds" && set.holds(5.9) && !set.holds(6.0));
    }
}
