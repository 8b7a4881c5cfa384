//! What a piece is meant to be, in the words of a coach: how long, how heavy, in what sets, and what will
//! limit it.

use serde::Serialize;

use crate::member::Sex;
use crate::movement::Catalogue;
use crate::pacing::{Athlete, MUSCLES, Model, Window, intended_window, regular};
use crate::print::in_words;
use crate::session::{Part, totals, works};

/// How a written load should feel to the person it was written for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum LoadFeel {
    /// At or under 40 % of the movement's 1RM: not put down in the first round.
    Light,
    /// Up to 60 %: a few sets.
    Moderate,
    /// Up to 80 %: small sets or quick singles.
    Heavy,
    /// Above: singles with thought.
    VeryHeavy,
}

impl LoadFeel {
    /// From a share of the 1RM in percent. The bounds are coaching practice.
    pub fn of(percent: f64) -> Self {
        match percent {
            p if p <= 40.0 => Self::Light,
            p if p <= 60.0 => Self::Moderate,
            p if p <= 80.0 => Self::Heavy,
            _ => Self::VeryHeavy,
        }
    }

    /// As said to a class.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Light => "light enough to cycle",
            Self::Moderate => "moderate load, a few sets",
            Self::Heavy => "heavy, small sets or quick singles",
            Self::VeryHeavy => "very heavy, one at a time",
        }
    }
}

/// The intent of a piece.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct NamedIntent {
    /// By length: sprint, short and hard, medium, long, steady.
    pub length: &'static str,
    /// The intended result.
    pub window: Window,
    /// How the heaviest written load should feel; none where nothing is loaded.
    pub load: Option<LoadFeel>,
    /// Sets, rates and feel as written.
    pub written: Vec<String>,
    /// What gives out first: lungs, grip, a muscle group.
    pub limiter: Option<&'static str>,
}

impl NamedIntent {
    /// `medium, 8:00-12:00 (inferred), light enough to cycle, no more than two sets`.
    pub fn words(&self) -> String {
        let inferred = if self.window.inferred { " (inferred)" } else { "" };
        let mut words = vec![self.length.to_owned(), format!("{}{inferred}", self.window.show())];
        words.extend(self.load.map(|load| load.words().to_owned()));
        words.extend(self.written.iter().cloned());
        words.join(", ")
    }
}

/// The intent of a conditioning piece: what is written, completed by what follows from the work.
pub fn named_intent(part: &Part, catalogue: &Catalogue, model: &Model) -> NamedIntent {
    let window = intended_window(part, catalogue, model);
    NamedIntent {
        length: window.name(part),
        load: load_feel(part, catalogue, model),
        written: part.intents.iter().map(in_words).collect(),
        limiter: limiter(part, catalogue),
        window,
    }
}

/// The heaviest written load against what the regular lifts once; the first of a pair is a man's.
fn load_feel(part: &Part, catalogue: &Catalogue, model: &Model) -> Option<LoadFeel> {
    let athlete = Athlete::new(regular(Sex::M));
    works(&part.tree)
        .into_iter()
        .filter_map(|work| athlete.ability(work, catalogue, model).percent)
        .max_by(f64::total_cmp)
        .map(LoadFeel::of)
}

/// What bears most of the work: each movement's shares, weighted by the time that a regular spends on it.
/// Lungs are named only when no muscle comes near: they are in everything.
fn limiter(part: &Part, catalogue: &Catalogue) -> Option<&'static str> {
    const NEAR: f64 = 0.75;
    let all = totals(&part.tree);
    let weight = |muscle: &str| -> f64 {
        all.iter()
            .filter_map(|total| {
                let movement = catalogue.get(&total.movement)?;
                let amount = if total.open { 1.0 } else { total.amount };
                let seconds = movement.seconds_per(total.unit, 0.5).unwrap_or(1.0) * amount;
                Some(movement.muscle(muscle) * seconds)
            })
            .sum()
    };
    let lungs = weight("lungs");
    let (muscle, most) =
        MUSCLES.iter().map(|muscle| (*muscle, weight(muscle))).max_by(|a, b| a.1.total_cmp(&b.1))?;
    match (muscle, most) {
        (_, most) if most <= 0.0 && lungs <= 0.0 => None,
        (muscle, most) if most >= NEAR * lungs => Some(spoken(muscle)),
        _ => Some("lungs"),
    }
}

fn spoken(muscle: &'static str) -> &'static str {
    match muscle {
        "pull" => "pulling",
        "push" => "pressing",
        "quads" => "legs",
        "posterior" => "hips and back",
        other => other,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::read::read;

    fn intent(text: &str) -> NamedIntent {
        let catalogue = Catalogue::standard();
        named_intent(&read(text, catalogue).session.parts[0], catalogue, Model::standard())
    }

    #[test]
    fn length_window_load_and_sets_are_named() {
        let named = intent(
            "5 rounds for time\n12 thrusters 20/15 kg\n200 m run\ngoal 8-12 min\nno more than two sets",
        );
        assert_eq!(named.words(), "medium, 8:00-12:00, light enough to cycle, no more than 2 sets");
        let named = intent("For time\n10 clean and jerks 100/70 kg\ngoal sub 3");
        assert_eq!((named.length, named.load), ("short and hard", Some(LoadFeel::VeryHeavy)));
    }

    #[test]
    fn an_unwritten_window_says_that_it_is_inferred() {
        assert!(intent("For time\n50 burpees").words().contains("(inferred)"));
    }

    #[test]
    fn what_gives_out_first_follows_from_the_work() {
        assert_eq!(intent("For time\n100 pull-ups\ngoal 6-9 min").limiter, Some("pulling"));
        assert_eq!(intent("For time\n5 km run").limiter, Some("lungs"));
        assert_eq!(intent("For time\n150 air squats").limiter, Some("legs"));
    }

    #[test]
    fn heavier_never_feels_lighter() {
        let feels: Vec<LoadFeel> = (0..120).map(|percent| LoadFeel::of(f64::from(percent))).collect();
        assert!(feels.is_sorted());
        use LoadFeel::{Heavy, Light, Moderate, VeryHeavy};
        assert_eq!(
            [40.0, 41.0, 60.0, 61.0, 80.0, 81.0].map(LoadFeel::of),
            [Light, Moderate, Moderate, Heavy, Heavy, VeryHeavy]
        );
    }
}
