//! A lift without a bar: with the gym's light equipment, or at home. Lighter for more repetitions, to the same effort.

use serde::Serialize;

use crate::gym::SwapSchool;
use crate::member::Member;
use crate::movement::Movement;
use crate::session::Part;
use crate::versions::{HomeKit, Rung, World, at_home};

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
    /// What there is at home, in words; empty for nothing, and for a class.
    pub kit: String,
    /// Whose kit that is.
    pub whose: Vec<String>,
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

/// The sheets of a lift without a bar: with bells, at home with nothing, and with what members have there where that is something else. None
/// for lifts without a bar.
pub fn light_sheets(part: &Part, lift: &Movement, members: &[Member], world: &World<'_>) -> Vec<LightSheet> {
    if !lift.is_barbell() {
        return Vec::new();
    }
    let in_class = world.ladders.of(&lift.id, "equipment").find(|rung| rung.to.len() == 1);
    let in_class = in_class.and_then(|rung| light_sheet(part, rung, world));
    let with = |kit: &HomeKit| {
        let rung = at_home(lift, kit, world).filter(|rung| rung.to.len() == 1)?;
        Some(LightSheet { at_home: true, ..light_sheet(part, &rung, world)? })
    };
    // Everybody has a bag to fill: what the ladder says of home goes before what needs nothing at all.
    let bag = world.ladders.of(&lift.id, "home").find(|rung| rung.to.len() == 1);
    let bag = bag.and_then(|rung| Some(LightSheet { at_home: true, ..light_sheet(part, rung, world)? }));
    let nothing = bag.or_else(|| with(&HomeKit::from_words("")));
    let mut found: Vec<LightSheet> = in_class.into_iter().chain(nothing).collect();
    for member in members.iter().filter(|member| !member.home.trim().is_empty()) {
        let kit = HomeKit::from_words(&member.home);
        // Whoever has a bar at home lifts.
        let Some(own) = (!kit.allows(lift)).then(|| with(&kit)).flatten() else { continue };
        let as_with_nothing =
            |known: &LightSheet| known.at_home && known.kit.is_empty() && known.lift == own.lift;
        if found.iter().any(as_with_nothing) {
            continue;
        }
        match found.iter_mut().find(|known| known.kit == kit.name) {
            Some(known) => known.whose.push(member.name.clone()),
            None => found.push(LightSheet { kit: kit.name, whose: vec![member.name.clone()], ..own }),
        }
    }
    found
}

/// The sheet of what a rung leads to.
fn light_sheet(part: &Part, rung: &Rung, world: &World<'_>) -> Option<LightSheet> {
    let (to, factor) = rung.to.first()?;
    world.catalogue.get(to)?;
    let strength = &part.strength;
    let most = strength.reps.iter().copied().max().or(strength.rm).unwrap_or(LIGHT_REPS.0);
    let school = if world.gym.swap_school == SwapSchool::SameTime { SAME_TIME } else { 1.0 };
    let reps = ((f64::from(most) * factor * school).round() as u32).clamp(LIGHT_REPS.0, LIGHT_REPS.1);
    Some(LightSheet {
        instead_of: rung.from.to_string(),
        at_home: false,
        kit: String::new(),
        whose: Vec::new(),
        lift: to.to_string(),
        sets: strength.sets.unwrap_or(USUAL_SETS).clamp(1, 10),
        reps,
        reps_high: ((f64::from(reps) * RANGE).round() as u32).min(LIGHT_REPS.1.max(reps)),
        effort: LIGHT_RPE,
        load: rung.load_note.clone(),
        cue: rung.cue.clone(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::gym::Gym;
    use crate::movement::Catalogue;
    use crate::pacing::{Days, Model};
    use crate::read::read;
    use crate::versions::Ladders;

    fn of(text: &str, lift: &str, members: &[Member]) -> Vec<LightSheet> {
        let (catalogue, gym) = (Catalogue::standard(), Gym::default());
        let part = read(text, catalogue).session.parts.remove(0);
        let (ladders, model, days) = (Ladders::standard(), &Model::standard(), &Days::new(1, 1));
        let world = World { catalogue, ladders, model, gym: &gym, days };
        light_sheets(&part, catalogue.find(lift).unwrap(), members, &world)
    }

    #[test]
    fn a_lift_without_a_bar_is_lighter_for_more_and_as_hard() {
        let squat = of("Back squat 5x3 @ 85%", "back-squat", &[]);
        assert_eq!(squat.iter().map(|sheet| sheet.at_home).collect::<Vec<_>>(), [false, true]);
        for sheet in &squat {
            assert!(sheet.sets == 5 && sheet.reps >= 8 && sheet.reps < sheet.reps_high, "{sheet:?}");
            assert!(!Catalogue::standard().find(&sheet.lift).unwrap().is_barbell(), "{sheet:?}");
        }
        // More repetitions of the bar are more of the bell.
        assert!(of("Back squat 3x12 @ 60%", "back-squat", &[])[0].reps > squat[0].reps);
        assert_eq!(of("Pull-up 5x5", "pull-up", &[]), []);
    }

    #[test]
    fn every_common_lift_has_one_for_at_home() {
        for lift in
            ["back-squat", "front-squat", "deadlift", "bench-press", "strict-press", "clean", "snatch"]
        {
            let found = of("Back squat 5x3 @ 85%", lift, &[]);
            assert!(found.iter().any(|sheet| sheet.at_home), "{lift}");
        }
    }

    #[test]
    fn what_somebody_has_at_home_is_used_and_a_bar_is_a_bar() {
        let member = |name: &str, home: &str| Member {
            name: name.to_owned(),
            home: home.to_owned(),
            ..Member::default()
        };
        let people = [member("Bell", "kettlebell 16 kg"), member("Bar", "barbell, rack"), member("None", "")];
        let found = of("Deadlift 5x3 @ 85%", "deadlift", &people);
        let own: Vec<&LightSheet> = found.iter().filter(|sheet| !sheet.whose.is_empty()).collect();
        assert_eq!(own.iter().flat_map(|sheet| &sheet.whose).collect::<Vec<_>>(), ["Bell"], "{found:?}");
        let lift = Catalogue::standard().find(&own[0].lift).unwrap();
        assert!(HomeKit::from_words("kettlebell 16 kg").allows(lift) && own[0].at_home, "{own:?}");
    }
}
