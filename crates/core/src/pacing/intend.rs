//! Which result a piece is meant to have: as it is written, else as coaches usually mean such a piece.

use super::ability::Athlete;
use super::convert::nearest;
use super::model::{IntentRule, Model};
use super::regular::typical_member;
use super::simulate::{Luck, Run, simulate};
use super::window::{Measure, Window, counted_unit, through};
use crate::member::Sex;
use crate::movement::{Catalogue, Unit};
use crate::session::{Amount, Format, Intent, Part, Score, Work, works};
use crate::units::clock;

/// The window of a part: what is written, else what a regular would do of it, drawn towards what its cap is there for.
pub fn intended_window(part: &Part, catalogue: &Catalogue, model: &Model) -> Window {
    let regular = typical_member(part, Sex::M, catalogue, model);
    let run = simulate(&part.tree, &Athlete::new(&regular), catalogue, model, Luck::MEDIAN);
    let measure = measure_of(part, &run, catalogue);
    written(part, measure)
        .or_else(|| rest_to_be_left(part, measure))
        .unwrap_or_else(|| inferred(part, measure, measure.of(&run), catalogue, model))
}

fn written(part: &Part, measure: Measure) -> Option<Window> {
    let is = |low, high, why: &str| Window { measure, low, high, inferred: false, why: why.to_owned() };
    if let Some(target) = part.target.filter(|target| target.is_given()) {
        let (low, high) = match measure {
            Measure::Finish | Measure::SlowestInterval => {
                (target.low_s.map(f64::from), target.high_s.map(f64::from))
            }
            Measure::Rounds => (target.rounds_low, target.rounds_high.map(through)),
            _ => (target.reps_low.map(f64::from), target.reps_high.map(f64::from)),
        };
        if low.is_some() || high.is_some() {
            return Some(is(low, high, "written in the session"));
        }
    }
    let limit = part.intents.iter().find_map(|intent| match intent {
        Intent::RoundUnder(seconds) => Some(f64::from(*seconds)),
        _ => None,
    });
    let each = limit.filter(|_| measure == Measure::SlowestInterval);
    each.map(|limit| is(None, Some(limit), "each round within the written time"))
}

/// Work that leaves too little rest stops being the intended work: 12 s of a minute or less, and a fifth of longer intervals (coaching
/// practice).
fn rest_to_be_left(part: &Part, measure: Measure) -> Option<Window> {
    if part.format != Some(Format::Every) || measure != Measure::SlowestInterval {
        return None;
    }
    let interval = f64::from(part.interval_s.unwrap_or(60));
    let limit = interval - (interval * 0.2).max(12.0);
    let why = format!("leaves at least {} of each {}", clock(interval - limit), clock(interval));
    Some(Window { measure: Measure::SlowestInterval, low: None, high: Some(limit), inferred: true, why })
}

/// From what a regular `does` of it.
fn inferred(part: &Part, measure: Measure, does: f64, catalogue: &Catalogue, model: &Model) -> Window {
    let rule = &model.intent;
    let until_failure = part.format == Some(Format::UntilFailure);
    if until_failure || measure.is_count() && (is_open(part) || is_timed(part, catalogue)) {
        return as_much_as_somebody_can(measure, does, rule);
    }
    let cap = part.cap_s.map(f64::from).filter(|_| measure == Measure::Finish);
    let middle = match (measure, cap) {
        (Measure::Finish, Some(cap)) => rule.with_cap(does, cap),
        (Measure::Finish, None) => rule.without_cap(does),
        _ => does,
    };
    let far = rule.width.sqrt();
    let (low, high) = rounded(measure, middle / far, middle * far);
    let high = cap.map_or(high, |cap| high.min(cap));
    let verb = if measure.is_time() { "take" } else { "do" };
    let mut why = format!("not written: a regular would {verb} {}", measure.show(does));
    if let Some(cap) = cap {
        why = format!("{why}, and a cap of {} is meant for who takes longest", clock(cap));
    }
    Window { measure, low: Some(low), high: Some(high), inferred: true, why }
}

/// Where as much is done as somebody can, more is never too much; too little is what is no work any more.
fn as_much_as_somebody_can(measure: Measure, does: f64, rule: &IntentRule) -> Window {
    let least = does * rule.moving;
    // Where a regular fails in none, a round to get to would be made up.
    let low = (least >= 1.0 && !measure.is_never(does)).then(|| rounded(measure, least, least).0);
    let (much, verb, too_little) = match measure {
        Measure::FailedRound if low.is_none() => ("long", "hold it for", ""),
        Measure::FailedRound => ("long", "fail in", "it is over too soon"),
        _ => ("much", "do", "it is mostly rest"),
    };
    let mut why = format!("not written: as {much} as you can; a regular would {verb} {}", measure.show(does));
    if let Some(low) = low {
        why = format!("{why}, and below {} {too_little}", measure.show(low));
    }
    Window { measure, low, high: None, inferred: true, why }
}

/// Whether as much of something is done as somebody can.
fn is_open(part: &Part) -> bool {
    works(&part.tree).iter().any(|work| matches!(work.dose.amount, Amount::Max | Amount::Open))
}

/// Whether all that counts is as much as fits into a time.
fn is_timed(part: &Part, catalogue: &Catalogue) -> bool {
    let works = works(&part.tree);
    let counts = |work: &&&Work| !work.uncounted && counted_unit(work, catalogue).is_some();
    let mut counted = works.iter().filter(counts).peekable();
    counted.peek().is_some() && counted.all(|work| work.dose.unit == Unit::Seconds)
}

impl IntentRule {
    /// The middle of the window of a piece with a cap, in seconds, from what a regular takes.
    fn with_cap(&self, does: f64, cap: f64) -> f64 {
        (cap * self.cap_share).powf(self.cap_weight) * (does * self.longer).powf(1.0 - self.cap_weight)
    }

    /// The same without a cap: coaches write towards a usual length.
    fn without_cap(&self, does: f64) -> f64 {
        self.usual_s * (does * self.longer / self.usual_s).powf(self.towards_usual)
    }
}

/// Both ends as coaches say them, the high one at most half as much again as the low one.
fn rounded(measure: Measure, low: f64, high: f64) -> (f64, f64) {
    match measure {
        Measure::Finish | Measure::SlowestInterval => {
            let low = nearest(low, step_s(low));
            let high = nearest(high, step_s(high)).max(low + step_s(low));
            let widest = low * WIDEST;
            let step = step_s(widest);
            (low, if high > widest { (widest / step).floor() * step } else { high })
        }
        // "5-6 rounds" goes on into the seventh, whoever says it.
        Measure::Rounds if low >= 2.0 => {
            let low = low.round();
            (low, through(high.round().min((low * WIDEST).floor()).max(low + 1.0)))
        }
        Measure::Rounds => (low, low * WIDEST),
        _ => {
            let low = measure.said(low);
            (low, measure.said(high).min((low * WIDEST).floor()).max(low))
        }
    }
}

/// The high end of an inferred window is at most so many times its low end.
const WIDEST: f64 = 1.5;

/// Coaches say times to the second below half a minute, to five seconds below a minute, to a quarter of a minute below three, to half a
/// minute below eight and to the minute beyond.
fn step_s(seconds: f64) -> f64 {
    match seconds {
        s if s < 30.0 => 1.0,
        s if s < 60.0 => 5.0,
        s if s < 180.0 => 15.0,
        s if s < 480.0 => 30.0,
        _ => 60.0,
    }
}

/// What is measured: what the score says, else what the format is about. `run` is a regular's.
fn measure_of(part: &Part, run: &Run, catalogue: &Catalogue) -> Measure {
    match (part.format, part.score) {
        // Whoever is still there when the time is up has failed in no round.
        (Some(Format::UntilFailure), _) if part.cap_s.or(part.duration_s).is_some() => Measure::Rounds,
        (Some(Format::UntilFailure), _) => Measure::FailedRound,
        (Some(Format::Every), Some(Score::Reps)) if is_open(part) => counted(part, catalogue),
        (_, Some(Score::SlowestInterval)) | (Some(Format::Every), _) => {
            of_time(part, run, Measure::SlowestInterval)
        }
        (Some(Format::Amrap), _)
            if part.target.is_some_and(|t| t.reps_low.is_some() || t.reps_high.is_some()) =>
        {
            counted(part, catalogue)
        }
        (Some(Format::Amrap), Some(Score::Reps)) if part.target.is_none_or(|t| t.rounds_low.is_none()) => {
            counted(part, catalogue)
        }
        (Some(Format::Amrap), _) => Measure::Rounds,
        (Some(Format::Tabata), _) => counted(part, catalogue),
        (Some(Format::Intervals), Some(Score::Reps)) => counted(part, catalogue),
        // "5 x 3:00 AMRAP, 1:00 rest between" ends when its time is up: what was done in all of them counts.
        (Some(Format::Intervals), Some(Score::RoundsReps)) => Measure::Rounds,
        _ => of_time(part, run, Measure::Finish),
    }
}

/// What is counted of a piece.
fn counted(part: &Part, catalogue: &Catalogue) -> Measure {
    let works = works(&part.tree);
    let unit = |work: &Work| match work.stands_for {
        Some(of) => Some(of.unit),
        None => counted_unit(work, catalogue),
    };
    Measure::counting(works.iter().filter(|work| !work.uncounted).filter_map(|work| unit(work)))
}

/// Times that are written may be of one round or of the whole: far from the one and near to the other, they are of that.
fn of_time(part: &Part, run: &Run, usual: Measure) -> Measure {
    let other = if usual == Measure::Finish { Measure::SlowestInterval } else { Measure::Finish };
    let written = part.target.and_then(|target| target.high_s.or(target.low_s)).map(f64::from);
    let off = |measure: Measure| Some((written? / measure.of(run).max(1.0)).ln().abs());
    let rounds = part.rounds.is_some_and(|rounds| rounds > 1) || part.format == Some(Format::Every);
    let another =
        rounds && off(usual).zip(off(other)).is_some_and(|(usual, other)| usual > FAR_OFF && other < NEAR);
    if another { other } else { usual }
}

/// Further than this from what a regular does, as a logarithm, a written time is of something else; nearer than the other, of that.
const FAR_OFF: f64 = 0.7;
const NEAR: f64 = 0.5;

#[cfg(test)]
mod tests {
    use super::*;
    use crate::read::read;
    use proptest::prelude::*;

    fn window(text: &str) -> Window {
        let catalogue = Catalogue::standard();
        intended_window(&read(text, catalogue).session.parts[0], catalogue, Model::standard())
    }

    #[test]
    fn few_rounds_are_no_whole_ones() {
        let (low, high) = rounded(Measure::Rounds, 1.4, 2.6);
        assert!((low - 1.4).abs() < 1e-9 && (high - 2.1).abs() < 1e-9, "{low} to {high}");
        let said = |low: f64, high: f64| {
            let (low, high) = rounded(Measure::Rounds, low, high);
            Window {
                measure: Measure::Rounds,
                low: Some(low),
                high: Some(high),
                inferred: true,
                why: String::new(),
            }
        };
        assert_eq!(said(2.2, 2.4).show(), "2-3 rounds");
        assert_eq!(said(5.1, 11.8).show(), "5-7 rounds");
        // Who is in the seventh round has done six.
        let window = said(5.1, 6.4);
        assert!(window.show() == "5-6 rounds" && window.holds(6.4) && !window.holds(7.0));
        assert_eq!(rounded(Measure::Reps, 100.0, 300.0), (100.0, 150.0));
    }

    /// A clock that ends by itself is no time to beat: what was done in all of its bouts counts.
    #[test]
    fn bouts_that_go_round_are_measured_in_rounds() {
        let list = "200 m run\n8 kettlebell swings 24/16 kg\n8 push-ups";
        let bouts = window(&format!("4 x 4:00 AMRAP, 2:00 rest between\n{list}"));
        let one = window(&format!("AMRAP 4\n{list}"));
        assert_eq!((bouts.measure, one.measure), (Measure::Rounds, Measure::Rounds));
        let low = |window: &Window| window.low.unwrap_or_default();
        assert!(low(&bouts) > low(&one) * 2.0, "{} rounds of four bouts, {} of one", low(&bouts), low(&one));
    }

    #[test]
    fn a_cap_says_how_long_a_piece_is_meant_to_be() {
        let piece = "3 rounds for time\n15 thrusters 30/20 kg\n300 m run";
        let middle = |text: &str| {
            let window = window(text);
            (window.low.unwrap() * window.high.unwrap()).sqrt()
        };
        let (short, long) = (format!("{piece}\ncap 10"), format!("{piece}\ncap 16"));
        assert!(middle(&short) < middle(&long));
        let window = window(&short);
        assert!(window.inferred && window.high.unwrap() <= 600.0, "{}", window.show());
        assert!(window.why.contains("10:00"), "{}", window.why);
    }

    #[test]
    fn a_time_that_only_one_round_can_take_is_of_one_round() {
        let text = |goal: &str| format!("5 rounds\n300 m row\nrest 2:00 between rounds\ngoal under {goal}");
        assert_eq!(window(&text("1:10")).measure, Measure::SlowestInterval);
        assert_eq!(window(&text("16:00")).measure, Measure::Finish);
    }

    #[test]
    fn as_much_as_you_can_has_a_least_and_no_most() {
        for text in [
            "4 rounds\n1:00 max burpees\n1:00 rest\nscore: total reps",
            "Every 1:00 until you fail\nburpees 1-2-3 and so on",
        ] {
            let window = window(text);
            assert!(window.low.is_some() && window.high.is_none(), "{text}: {window:?}");
        }
    }

    #[test]
    fn ends_are_said_as_coaches_say_them() {
        for (low, high, said) in
            [(101.0, 141.0, (105.0, 135.0)), (350.0, 500.0, (360.0, 480.0)), (700.0, 1010.0, (720.0, 1020.0))]
        {
            assert_eq!(rounded(Measure::Finish, low, high), said);
        }
        assert_eq!(rounded(Measure::Rounds, 4.7, 6.6), (5.0, through(7.0)));
        assert_eq!(rounded(Measure::Rounds, 3.1, 4.4), (3.0, through(4.0)));
    }

    proptest! {
        #[test]
        fn prop_no_inferred_window_is_wide_or_upside_down(middle in 20.0..6000.0_f64) {
            let far = Model::standard().intent.width.sqrt();
            for measure in [Measure::Finish, Measure::SlowestInterval, Measure::Rounds, Measure::Reps] {
                let (low, high) = rounded(measure, middle / far, middle * far);
                let said = Window { measure, low: Some(low), high: Some(high), inferred: true, why: String::new() };
                let high = said.said_high().unwrap();
                prop_assert!(low > 0.0 && low <= high && high <= low * WIDEST + 1e-9, "{measure:?} {low} {high}");
                prop_assert!(low <= middle && said.holds(middle * 0.99), "{measure:?} {low} {middle} {high}");
            }
        }
    }

    #[test]
    fn times_are_said_in_steps_that_grow_with_them() {
        let steps = [29.0, 30.0, 59.0, 60.0, 179.0, 180.0, 479.0, 480.0, 3000.0].map(step_s);
        assert_eq!(steps, [1.0, 5.0, 5.0, 15.0, 15.0, 30.0, 30.0, 60.0, 60.0]);
        let said = [29.0, 33.0, 104.0].map(|reps| Measure::Reps.said(reps));
        assert_eq!((said, Measure::Metres.said(1180.0)), ([29.0, 35.0, 100.0], 1200.0));
    }

    #[test]
    fn what_is_measured_is_what_the_score_says_else_what_the_format_is_about() {
        let cases = [
            ("For time\n50 burpees", Measure::Finish),
            ("AMRAP 12\n9 burpees\n12 air squats", Measure::Rounds),
            ("AMRAP 12\n9 burpees\n12 air squats\nscore: total reps", Measure::Reps),
            ("Every 2:00 for 5 sets\n200 m row\n10 burpees", Measure::SlowestInterval),
            (
                "Every 2:00 for 5 sets\n200 m row\nthen max burpees in the remaining time\nscore: total burpees",
                Measure::Reps,
            ),
            ("Every 2:00 for 5 sets\n10 burpees\n15 air squats\nscore: total reps", Measure::SlowestInterval),
            ("Every 2:00 for 5 sets\n10 burpees\nmax calories row\nscore: total calories", Measure::Calories),
            ("3 rounds\n1:00 max burpees\n1:00 max calorie row\n1:00 rest\nscore: total reps", Measure::Reps),
            ("AMRAP 12\nrow for max metres\nscore: metres", Measure::Metres),
            ("3 rounds\n1:00 max calorie bike\n1:00 rest\nscore: total calories", Measure::Calories),
            ("Every 1:00 until you fail\nburpees 1-2-3 and so on", Measure::FailedRound),
            ("4 x 400 m run\nrest 2:00 between\nscore: slowest interval", Measure::SlowestInterval),
        ];
        for (text, measure) in cases {
            assert_eq!(window(text).measure, measure, "{text}");
        }
    }
}
