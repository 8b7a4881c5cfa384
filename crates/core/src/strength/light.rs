//! A lift without a bar: with the gym's light equipment, or at home. Lighter for more repetitions, to the same effort.

use serde::Serialize;

use crate::gym::{Gym, SwapSchool};
use crate::movement::{Catalogue, Movement};
use crate::session::Part;
use crate::versions::Ladders;

/// Fewest and most repetitions of a light set: below it nothing is asked of a light load, above it breath is what ends it
/// (Schoenfeld et al. 2017: loads from 30 % of a maximum build strength when sets go near failure).
const LIGHT_REPS: (u32, u32) = (8, 20);
/// How many more repetitions a set may come to than it begins with.
const RANGE: f64 = 1.5;
/// Effort of light sets, as RPE: near failure, or they are too light.
const LIGHT_RPE: f64 = 8.0;
/// Sets where the text says no number.
const USUAL_SETS: u32 = 4;
/// How many repetitions a light load takes for the time of one with a bar: what the school of the same time adds.
const SAME_TIME: f64 = 1.3;

/// What stands in for a lift where there is no bar.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct LightSheet {
    /// The lift that was written.
    pub instead_of: String,
    /// Whether it is for at home; else it is for a class without a rack.
    pub at_home: bool,
    /// What is done.
    pub lift: String,
    /// Sets.
    pub sets: u32,
    /// Repetitions to begin with.
    pub reps: u32,
    /// Repetitions that it may come to.
    pub reps_high: u32,
    /// How hard, as RPE.
    pub effort: f64,
    /// What to take.
    pub load: String,
    /// What to say.
    pub cue: String,
}

/// The sheets of a lift without a bar: with bells, and at home. None for lifts without a bar.
pub fn light_sheets(part: &Part, lift: &Movement, gym: &Gym, catalogue: &Catalogue) -> Vec<LightSheet> {
    if !lift.is_barbell() {
        return Vec::new();
    }
    let strength = &part.strength;
    let most = strength.reps.iter().copied().max().or(strength.rm).unwrap_or(LIGHT_REPS.0);
    let sets = strength.sets.unwrap_or(USUAL_SETS).clamp(1, 10);
    let of = |reason: &str| {
        let rung = Ladders::standard().of(&lift.id, reason).find(|rung| rung.to.len() == 1)?;
        let (to, factor) = &rung.to[0];
        catalogue.get(to)?;
        let school = if gym.swap_school == SwapSchool::SameTime { SAME_TIME } else { 1.0 };
        let reps = (f64::from(most) * factor * school).round() as u32;
        let reps = reps.clamp(LIGHT_REPS.0, LIGHT_REPS.1);
        Some(LightSheet {
            instead_of: lift.id.to_string(),
            at_home: reason == "home",
            lift: to.to_string(),
            sets,
            reps,
            reps_high: ((f64::from(reps) * RANGE).round() as u32).min(LIGHT_REPS.1.max(reps)),
            effort: LIGHT_RPE,
            load: rung.load_note.clone(),
            cue: rung.cue.clone(),
        })
    };
    ["equipment", "home"].into_iter().filter_map(of).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::read::read;

    #[test]
    fn a_lift_without_a_bar_is_lighter_for_more_and_as_hard() {
        let (catalogue, gym) = (Catalogue::standard(), Gym::default());
        let of = |text: &str, lift: &str| {
            let part = read(text, catalogue).session.parts.remove(0);
            light_sheets(&part, catalogue.find(lift).unwrap(), &gym, catalogue)
        };
        let squat = of("Back squat 5x3 @ 85%", "back-squat");
        assert_eq!(squat.iter().map(|sheet| sheet.at_home).collect::<Vec<_>>(), [false, true]);
        for sheet in &squat {
            assert!(sheet.sets == 5 && sheet.reps >= 8 && sheet.reps < sheet.reps_high, "{sheet:?}");
            assert!(!catalogue.find(&sheet.lift).unwrap().is_barbell(), "{sheet:?}");
        }
        // More repetitions of the bar are more of the bell.
        assert!(of("Back squat 3x12 @ 60%", "back-squat")[0].reps > squat[0].reps);
        assert_eq!(of("Pull-up 5x5", "pull-up"), []);
    }

    #[test]
    fn every_common_lift_has_one_for_at_home() {
        let catalogue = Catalogue::standard();
        let part = read("Back squat 5x3 @ 85%", catalogue).session.parts.remove(0);
        for lift in
            ["back-squat", "front-squat", "deadlift", "bench-press", "strict-press", "clean", "snatch"]
        {
            let found = light_sheets(&part, catalogue.find(lift).unwrap(), &Gym::default(), catalogue);
            assert!(found.iter().any(|sheet| sheet.at_home), "{lift}");
        }
    }
}
