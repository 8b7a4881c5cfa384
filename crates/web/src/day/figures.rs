//! Figures and verdicts as pages show them.

use lantern_core::pacing::{Measure, Side, Verdict, Window};

/// The colour class and the word for where a result lies: never colour alone.
pub(crate) fn side_marked(side: Option<Side>, measure: Measure) -> (&'static str, &'static str) {
    let timed = measure.is_time();
    match side {
        Some(Side::Inside) => ("on", "on stimulus"),
        Some(Side::Early) => ("early", if timed { "early" } else { "ahead" }),
        Some(Side::Late) => ("late", if timed { "late" } else { "behind" }),
        None => ("unsure", "not compared"),
    }
}

/// The colour class and the word of a verdict: never colour alone.
pub(crate) fn marked(verdict: Verdict, window: &Window) -> (&'static str, &'static str) {
    let side = |side| side_marked(Some(side), window.measure);
    match verdict {
        Verdict::OnStimulus => side(Side::Inside),
        Verdict::Unsure => ("unsure", "unsure"),
        Verdict::Early => side(Side::Early),
        Verdict::Late => side(Side::Late),
        Verdict::AgainstRule => ("late", "against a rule"),
    }
}
