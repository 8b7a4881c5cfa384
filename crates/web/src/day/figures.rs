//! Figures and verdicts as pages show them.

use lantern_core::pacing::{Prediction, Verdict, Window};

/// `7:50 (7:10 to 8:40)`.
pub(crate) fn spread(predicted: &Prediction) -> String {
    let show = |value: f64| predicted.measure.show(value);
    format!(
        "{} ({} to {})",
        show(predicted.spread.p50),
        show(predicted.spread.p10),
        show(predicted.spread.p90)
    )
}

/// The colour class and the word of a verdict: never colour alone.
pub(crate) fn marked(verdict: Verdict, window: &Window) -> (&'static str, &'static str) {
    let timed = window.measure.is_time();
    match verdict {
        Verdict::OnStimulus => ("on", "on stimulus"),
        Verdict::Unsure => ("unsure", "unsure"),
        Verdict::Early => ("early", if timed { "early" } else { "ahead" }),
        Verdict::Late => ("late", if timed { "late" } else { "behind" }),
        Verdict::AgainstRule => ("late", "against a rule"),
    }
}
