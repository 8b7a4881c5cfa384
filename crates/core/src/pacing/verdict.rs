//! How a prediction stands to the intended window, in a word.

use super::model::Model;
use super::spread::Prediction;
use super::window::{Side, Window};

/// What a coach is told of somebody and a version.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Verdict {
    /// Inside the window on enough days; how many are enough is the model's `intent.chance`.
    OnStimulus,
    /// Inside on a median day, but not often enough.
    Unsure,
    /// Ahead of the window on a median day: sooner, or more.
    Early,
    /// Behind it on a median day: later, or less.
    Late,
    /// Whatever the clock says: against a limit, a missing skill, or a rule about loads.
    AgainstRule,
}

impl Verdict {
    /// Of a prediction that no rule speaks against.
    pub fn of(predicted: &Prediction, window: &Window, model: &Model) -> Self {
        if predicted.chance >= model.intent.chance {
            return Self::OnStimulus;
        }
        match window.side(predicted.spread.p50) {
            Side::Inside => Self::Unsure,
            Side::Early => Self::Early,
            Side::Late => Self::Late,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::movement::Catalogue;
    use crate::pacing::{Quantiles, intended_window};
    use crate::read::read;

    fn verdict(text: &str, p50: f64, chance: f64) -> Verdict {
        let (catalogue, model) = (Catalogue::standard(), Model::standard());
        let part = read(text, catalogue).session.parts.remove(0);
        let window = intended_window(&part, catalogue, model);
        let spread = Quantiles { p10: p50 * 0.9, p50, p90: p50 * 1.1 };
        let measure = window.measure;
        let predicted = Prediction {
            measure,
            spread,
            instead: None,
            finish_s: spread,
            chance,
            guess: false,
            rests: None,
        };
        Verdict::of(&predicted, &window, model)
    }

    #[test]
    fn enough_days_inside_are_on_stimulus_and_the_median_says_the_rest() {
        let text = "For time\n50 burpees\ngoal 4-6 min";
        let enough = Model::standard().intent.chance;
        assert_eq!(verdict(text, 300.0, enough), Verdict::OnStimulus);
        assert_eq!(verdict(text, 300.0, enough - 0.01), Verdict::Unsure);
        assert_eq!(verdict(text, 200.0, 0.2), Verdict::Early);
        assert_eq!(verdict(text, 400.0, 0.2), Verdict::Late);
    }

    #[test]
    fn more_rounds_than_intended_are_ahead_and_fewer_behind() {
        let text = "AMRAP 12\n10 burpees\n10 air squats\ngoal 5-6 rounds";
        assert_eq!(verdict(text, 8.0, 0.1), Verdict::Early);
        assert_eq!(verdict(text, 3.0, 0.1), Verdict::Late);
    }
}
