//! What is kept of a result.

use serde::{Deserialize, Serialize};

use super::{Beside, Done};
use crate::pacing::{Measure, Prediction, Quantiles, Rests, Window};
use crate::running::GoneOn;
use crate::versions::VersionName;

/// Longest note, in characters.
const LONGEST_NOTE: usize = 300;

/// A result of one person in one piece, with what was predicted and meant when it was entered: whatever the model learns later, it is compared
/// with what was said before.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Entry {
    /// The version done.
    pub version: VersionName,
    /// What was done.
    pub done: Done,
    /// As it was called.
    pub said: String,
    /// What had been predicted of that version; none where nothing could be.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub predicted: Option<Predicted>,
    /// What was done in the measure of what was predicted; none where it is none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub value: Option<f64>,
    /// Whether it would have become more: the cap came first.
    #[serde(default)]
    pub at_least: bool,
    /// How they went on with this version in the middle of the piece; none where they did it from the start.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub gone_on: Option<GoneOn>,
    /// From 1 to 10, where it was told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub effort: Option<u8>,
    /// Whether something hurt; where stands with what the member spares, for the coach alone.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub hurt: bool,
    /// Whatever else was told.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
}

/// A prediction and the window it was held against, as they were.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Predicted {
    /// What is measured.
    pub measure: Measure,
    /// One day in ten is below, the middle, one day in ten is above.
    pub spread: [f64; 3],
    /// The window's ends.
    pub window: [Option<f64>; 2],
    /// What a result tells of the member's pace; none where it tells nothing.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rests: Option<Rests>,
}

impl Predicted {
    /// Of a prediction and a window, in what the version counts.
    pub fn new(predicted: &Prediction, window: &Window) -> Self {
        let Quantiles { p10, p50, p90 } = predicted.own_spread();
        let window = predicted.own_window(window);
        Self {
            measure: window.measure,
            spread: [p10, p50, p90],
            window: [window.low, window.high],
            rests: predicted.rests.clone(),
        }
    }

    /// The spread.
    pub fn quantiles(&self) -> Quantiles {
        let [p10, p50, p90] = self.spread;
        Quantiles { p10, p50, p90 }
    }

    /// `3:16 to 3:52`: one day in ten is below, one above.
    pub fn range(&self) -> String {
        let [low, _, high] = self.spread;
        self.measure.show_range(low, high)
    }

    /// The window.
    pub fn window(&self) -> Window {
        let [low, high] = self.window;
        Window { measure: self.measure, low, high, inferred: false, why: String::new() }
    }
}

impl Entry {
    /// The same of somebody who went on with its version in the middle of the piece: what was expected of them then is what it is held against.
    #[must_use]
    pub fn went_on(mut self, how: Option<&GoneOn>) -> Self {
        let Some(how) = how.filter(|how| how.to == self.version) else { return self };
        if let Some(predicted) = &mut self.predicted {
            predicted.rests = None;
            if predicted.measure == Measure::Finish {
                predicted.spread = how.ends_s.map(f64::from);
            }
        }
        Self { gone_on: Some(how.clone()), ..self }
    }

    /// Beside what was predicted and meant when it was entered; none where there is nothing to compare.
    pub fn beside(&self) -> Option<Beside> {
        Some(Beside::of(self.value?, self.at_least, self.predicted.as_ref()?))
    }

    /// Whether it can be kept; else what of it cannot.
    ///
    /// # Errors
    /// In words for whoever entered it.
    pub fn checked(&self) -> Result<(), String> {
        if self.effort.is_some_and(|effort| !(1..=10).contains(&effort)) {
            return Err("effort goes from 1 to 10".to_owned());
        }
        if self.note.chars().count() > LONGEST_NOTE {
            return Err(format!("a note has at most {LONGEST_NOTE} characters"));
        }
        if self.said.chars().count() > 200 {
            return Err("a score is not that long".to_owned());
        }
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_prediction_is_told_from_its_quick_to_its_slow_day() {
        let predicted = Predicted {
            measure: Measure::Finish,
            spread: [196.0, 210.0, 232.0],
            window: [Some(200.0), None],
            rests: None,
        };
        assert_eq!(predicted.range(), "3:16 to 3:52");
        assert_eq!(predicted.window().low, Some(200.0));
    }
}
