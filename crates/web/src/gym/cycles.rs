//! How a cycle's weeks were followed: what was asked, and what was on the bar.

use lantern_core::movement::Catalogue;
use lantern_core::print::week_text;
use lantern_core::strength::followed::{Followed, PersonsDay, WeekDone, Went};
use lantern_core::units::{WeightUnit, plain};

use crate::day::day_name;

/// A lift with its weeks.
pub(super) struct CycleView {
    /// `Autumn press, push press`.
    pub name: String,
    pub weeks: Vec<WeekView>,
}

/// One week of it.
pub(super) struct WeekView {
    pub day: String,
    /// `week 2 of 5`.
    pub week: String,
    /// `5x3 @ 78%`.
    pub asked: String,
    pub tests: bool,
    /// `9 entered: 6 as asked, 1 with more, 2 with less`.
    pub went: String,
    /// Whoever lifted something else than was asked: `Ann 82.5 for 80 kg`.
    pub otherwise: Vec<String>,
}

impl CycleView {
    pub fn of(followed: &Followed, unit: WeightUnit, catalogue: &Catalogue) -> Self {
        let lift = catalogue.name(&followed.lift);
        let week = |done: &WeekDone| WeekView {
            day: day_name(done.day),
            week: week_text(done.week, followed.weeks),
            asked: done.line.clone(),
            tests: done.tests,
            went: went(&done.people),
            otherwise: done.people.iter().filter_map(|day| otherwise(day, unit)).collect(),
        };
        Self {
            name: followed
                .cycle
                .as_ref()
                .map_or(lift.to_owned(), |cycle| format!("{cycle}, {}", lift.to_lowercase())),
            weeks: followed.done.iter().rev().map(week).collect(),
        }
    }
}

/// How many did what.
fn went(people: &[PersonsDay]) -> String {
    if people.is_empty() {
        return "nothing entered".to_owned();
    }
    let named = [
        (Went::AsAsked, "as asked"),
        (Went::Heavier, "with more"),
        (Went::Lighter, "with less"),
        (Went::Short, "short of the repetitions"),
    ];
    let count = |went: Went| people.iter().filter(|day| day.went == went).count();
    let counted = named.map(|(went, words)| (count(went), words)).into_iter().filter(|(count, _)| *count > 0);
    let told: Vec<String> = counted.map(|(count, words)| format!("{count} {words}")).collect();
    format!("{} entered: {}", people.len(), told.join(", "))
}

fn otherwise(day: &PersonsDay, unit: WeightUnit) -> Option<String> {
    let PersonsDay { who, asked, done, went } = day;
    let load = |load: lantern_core::units::Kilograms| plain((load.in_unit(unit) * 2.0).round() / 2.0);
    match went {
        Went::AsAsked => None,
        Went::Heavier | Went::Lighter => {
            Some(format!("{who} {} for {} {unit}", load(done.load), load(asked.load)))
        }
        Went::Short => Some(format!("{who} {} of {} with {} {unit}", done.reps, asked.reps, load(done.load))),
    }
}

#[cfg(test)]
mod tests {
    use chrono::NaiveDate;
    use lantern_core::movement::MovementId;
    use lantern_core::strength::followed::Set;
    use lantern_core::units::Kilograms;

    use super::*;

    #[test]
    fn a_week_says_how_many_did_what_and_who_did_not() {
        let set = |kg, reps| Set { load: Kilograms::from_kg(kg), reps };
        let day = |who: &str, done, went| PersonsDay { who: who.to_owned(), asked: set(80.0, 3), done, went };
        let people = vec![
            day("Ann", set(82.5, 3), Went::Heavier),
            day("Bo", set(80.0, 3), Went::AsAsked),
            day("Cy", set(80.0, 3), Went::AsAsked),
            day("Di", set(80.0, 2), Went::Short),
        ];
        let week = |day: u32, week, people| WeekDone {
            day: NaiveDate::from_ymd_opt(2026, 3, day).unwrap(),
            week,
            line: "5x3 @ 80%".to_owned(),
            tests: false,
            people,
        };
        let followed = Followed {
            cycle: Some("Spring".to_owned()),
            lift: MovementId::new("back-squat"),
            weeks: Some(5),
            done: vec![week(2, 1, people), week(9, 2, Vec::new())],
        };
        let view = CycleView::of(&followed, WeightUnit::Kg, Catalogue::standard());
        assert_eq!(view.name, "Spring, back squat");
        let newest = &view.weeks[0];
        assert_eq!((newest.week.as_str(), newest.went.as_str()), ("week 2 of 5", "nothing entered"));
        let first = &view.weeks[1];
        assert_eq!(first.went, "4 entered: 2 as asked, 1 with more, 1 short of the repetitions");
        assert_eq!(first.otherwise, ["Ann 82.5 for 80 kg", "Di 2 of 3 with 80 kg"]);
        let pounds = CycleView::of(&followed, WeightUnit::Lb, Catalogue::standard());
        assert_eq!(pounds.weeks[1].otherwise[0], "Ann 182 for 176.5 lb");
    }
}
