//! A complex: several lifts with one bar that is not put down between them.

use super::dose::Base;
use super::hold::Hold;
use super::lift::Lifting;
use super::maxes::max_for;
use super::sheet::LiftSheet;
use crate::limits::Ground;
use crate::movement::{Catalogue, Movement, Pattern, Property};
use crate::session::{Format, Part, works};

/// Most repetitions of a complex on a clock together: more with one bar is a piece.
const MOST_IN_A_COMPLEX: f64 = 15.0;

/// The elements of a complex with how often each is done, in their order: several lifts with one bar that is not put down between them. None
/// where each lift has a bar of its own.
pub fn complex<'c>(part: &Part, catalogue: &'c Catalogue) -> Option<Vec<(&'c Movement, u32)>> {
    let one_bar = matches!(part.format, Some(Format::Sets | Format::Every | Format::BuildTo));
    let own = works(&part.tree);
    let mut elements = Vec::new();
    for work in &own {
        let movement = catalogue.get(&work.movement).filter(|movement| movement.is_barbell())?;
        elements.push((movement, work.dose.first().unwrap_or(1.0)));
    }
    let several = elements.iter().any(|(movement, _)| movement.id != elements[0].0.id);
    // A bar goes from the floor to the shoulders or overhead: somebody who lies under one begins another.
    // What stays at the shoulders or overhead goes from one to the next as well.
    let held_up = |movement: &Movement| movement.has(Property::Overhead) || movement.has(Property::FrontRack);
    let carried = elements.iter().any(|(movement, _)| movement.pattern == Pattern::Olympic)
        || elements.iter().all(|(movement, _)| held_up(movement));
    // On a clock more than a few are a piece; sets of several lifts that are no superset are said to be a complex.
    let little = part.format != Some(Format::Every)
        || elements.iter().map(|(_, reps)| reps).sum::<f64>() <= MOST_IN_A_COMPLEX;
    let alike = own.windows(2).all(|pair| pair[0].load == pair[1].load && pair[0].percent == pair[1].percent);
    (one_bar && several && carried && little && alike)
        .then(|| elements.into_iter().map(|(movement, reps)| (movement, reps as u32)).collect())
}

impl Lifting<'_> {
    /// The sheet of a complex: one bar, and the element that somebody can lift least of decides what is on it. None for who spares all of
    /// it.
    pub fn complex(&self, elements: &[(&Movement, u32)]) -> Option<LiftSheet> {
        let Self { member, released, catalogue, .. } = *self;
        let ground = Ground::of(member);
        let (kept, spared): (Vec<_>, Vec<_>) = elements
            .iter()
            .copied()
            .partition(|(movement, _)| released.is_some() || !ground.spares(movement));
        let (first, _) = elements.first()?;
        let most = |movement: &Movement| max_for(member, &movement.id, catalogue).map(|max| max.value);
        // Of a maximum that nobody knows nothing is known: what is on file decides.
        let known = |(movement, _): &&(&Movement, u32)| most(movement).is_some();
        let (weakest, _) =
            kept.iter().filter(known).min_by_key(|(movement, _)| most(movement)).or(kept.first())?;
        // What holds one of the elements holds the bar.
        let held = |(movement, _): &(&Movement, u32)| {
            let hold = Hold::of(member, movement, self.part)?;
            let of_max = most(movement).map(|max| max.share(hold.ceiling_percent / 100.0));
            [of_max.filter(|_| hold.ceiling_percent < 100.0), hold.load].into_iter().flatten().min()
        };
        let sheet = self.sheet(weakest, weakest);
        let heaviest = sheet.sets.iter().filter_map(|set| set.load.as_ref()).map(|load| load.total).max();
        let ceiling = kept.iter().filter_map(held).min();
        let mut sheet = match (ceiling.filter(|most| heaviest.is_some_and(|load| load > *most)), released) {
            (None, _) => sheet,
            (Some(_), Some(word)) => LiftSheet { released: Some(word.clone()), ..sheet },
            (Some(most), None) => {
                let said =
                    format!("no more than {} in any part of it, to keep a limit", most.show(self.gym.unit));
                Self { most: Some(most), ..*self }.sheet(weakest, weakest).held_too(said)
            }
        };
        if let Some(max) = &mut sheet.max {
            let name = weakest.name.to_lowercase();
            max.basis = format!("{name} decides, the least of the complex: {}", max.basis);
        }
        let mut sheet = sheet.of_complex(first, &kept);
        // Every step of a build is all of the complex, once.
        let once = kept.first().map_or(1, |(_, reps)| (*reps).max(1));
        let steps = sheet.sets.iter_mut().filter(|set| matches!(set.base, Some(Base::Build(_))));
        steps.for_each(|set| set.reps = once);
        if !spared.is_empty() {
            let names: Vec<String> =
                spared.iter().map(|(movement, _)| movement.name.to_lowercase()).collect();
            let left_out = format!("without {}, to keep a limit", names.join(" and "));
            sheet = sheet.held_too(left_out);
        }
        Some(sheet)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::member::{Max, Member};
    use crate::movement::MovementId;
    use crate::read::read;
    use crate::strength::hold::Release;
    use crate::strength::lift::tests::{lifting, work_loads};
    use crate::units::Kilograms;

    #[test]
    fn a_complex_is_one_bar_and_a_superset_is_two() {
        let catalogue = Catalogue::standard();
        let elements = |text: &str| {
            let part = read(text, catalogue).session.parts.remove(0);
            complex(&part, catalogue).map(|found| found.iter().map(|(_, reps)| *reps).collect::<Vec<_>>())
        };
        let bar = "Every 90 s x 8\n1 power clean + 2 front squats + 1 jerk @ 70-80 %";
        assert_eq!(elements(bar), Some(vec![1, 2, 1]));
        assert_eq!(elements("Superset x 4\nBench press 8 @ 70 %\nBarbell row 10"), None);
        assert_eq!(elements("Back squat 5x5 @ 75 %"), None);
        // What stays overhead or at the shoulders is one bar, without anything from the floor.
        let overhead = "Jerk complex: 1 push press + 1 push jerk + 1 split jerk x 5 sets, building";
        assert_eq!(elements(overhead), Some(vec![1, 1, 1]));
    }

    #[test]
    fn every_step_of_a_build_is_all_of_the_complex_once() {
        let catalogue = Catalogue::standard();
        let part =
            read("Hang power clean + push jerk (2+1), build to a heavy", catalogue).session.parts.remove(0);
        let maxes = [("hang-power-clean", 80.0), ("push-jerk", 90.0)];
        let maxes =
            maxes.map(|(lift, kg)| (MovementId::new(lift), Max::on_file(Kilograms::from_kg(kg)))).into();
        let member = Member { maxes, ..Member::default() };
        let elements = complex(&part, catalogue).unwrap();
        let sheet = lifting(&part, &member).complex(&elements).unwrap();
        assert!(sheet.sets.len() > 3 && sheet.sets.iter().all(|set| set.reps == 2), "{:?}", sheet.sets);
    }

    #[test]
    fn an_element_that_comes_twice_is_one_set() {
        let catalogue = Catalogue::standard();
        let text = "Every 2 min x 5: 1 power clean + 1 front squat + 1 power clean @ 70%";
        let part = read(text, catalogue).session.parts.remove(0);
        let maxes = [("power-clean", 80.0), ("front-squat", 120.0)];
        let maxes =
            maxes.map(|(lift, kg)| (MovementId::new(lift), Max::on_file(Kilograms::from_kg(kg)))).into();
        let member = Member { maxes, ..Member::default() };
        let elements = complex(&part, catalogue).unwrap();
        let sheet = lifting(&part, &member).complex(&elements).unwrap();
        assert_eq!((work_loads(&sheet), sheet.elements.len()), (vec![55.0; 5], 3));
    }

    #[test]
    fn a_complex_is_loaded_for_its_weakest_element() {
        let catalogue = Catalogue::standard();
        let part = read("Every 2 min x 5: 1 power clean + 2 front squats + 1 jerk @ 70%", catalogue);
        let part = part.session.parts[0].clone();
        let maxes = [("clean", 100.0), ("front-squat", 130.0), ("split-jerk", 80.0)];
        let maxes =
            maxes.map(|(lift, kg)| (MovementId::new(lift), Max::on_file(Kilograms::from_kg(kg)))).into();
        let member = Member { maxes, ..Member::default() };
        let elements = complex(&part, catalogue).unwrap();
        let sheet = lifting(&part, &member).complex(&elements).unwrap();
        // 70 % of the jerk's 80 kg are 56 kg.
        assert_eq!(work_loads(&sheet), [55.0; 5]);
        assert_eq!((sheet.lift.as_str(), sheet.elements.len()), ("power-clean", 3));
        assert!(sheet.max.unwrap().basis.starts_with("split jerk decides"));
        // A joint that the first element loads holds all of it, though another one is the weakest.
        let elbow =
            Member { limits: vec![crate::limits::Limit::new("front squat at most 40 %")], ..member.clone() };
        let held = lifting(&part, &elbow).complex(&elements).unwrap();
        // 40 % of 130 kg are 52 kg.
        assert_eq!(work_loads(&held), [50.0; 5], "{held:?}");
        assert!(held.held_why.unwrap().contains("no more than 52 kg in any part of it"));
        // A coach's word is kept and shown, and a limit that is not reached says nothing.
        let word = Release {
            member: String::new(),
            lift: "power-clean".to_owned(),
            by: "Coach".to_owned(),
            at: "2026-11-23 18:05".to_owned(),
        };
        let told = Lifting { released: Some(&word), ..lifting(&part, &elbow) }.complex(&elements).unwrap();
        assert_eq!((work_loads(&told), told.released.is_some()), (vec![55.0; 5], true));
        let far =
            Member { limits: vec![crate::limits::Limit::new("front squat at most 75 %")], ..member.clone() };
        assert_eq!(lifting(&part, &far).complex(&elements).unwrap().held_why, None);
        let sore = Member { limits: vec![crate::limits::Limit::new("no jerks")], ..member };
        let sheet = lifting(&part, &sore).complex(&elements).unwrap();
        assert!(sheet.elements.iter().all(|(lift, _)| lift != "split-jerk"), "{sheet:?}");
        assert!(sheet.held_why.unwrap().contains("without split jerk"));
    }
}
