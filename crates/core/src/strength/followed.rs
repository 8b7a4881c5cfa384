//! What was on the bar in the weeks of a cycle, beside what was asked.

use chrono::NaiveDate;

use super::{Cycle, LiftSheet, SetKind};
use crate::movement::{Catalogue, MovementId};
use crate::print::work_lines;
use crate::session::{Part, PartKind, works};
use crate::units::Kilograms;

/// Repetitions with a load.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Set {
    /// What is on the bar.
    pub load: Kilograms,
    /// How often it is lifted.
    pub reps: u32,
}

impl Set {
    /// The heaviest work set of a sheet; none where it goes by feel.
    pub fn heaviest(sheet: &LiftSheet) -> Option<Self> {
        let work = sheet.sets.iter().filter(|set| set.kind == SetKind::Work);
        let loaded = work.filter_map(|set| Some(Self { reps: set.reps, load: set.load.as_ref()?.total }));
        loaded.max_by(|a, b| a.load.kg().total_cmp(&b.load.kg()))
    }
}

/// A set that was entered where one was asked for.
#[derive(Clone, Debug, PartialEq)]
pub struct SetBeside {
    /// When.
    pub day: NaiveDate,
    /// The lift.
    pub lift: MovementId,
    /// Whose it is.
    pub who: String,
    /// The heaviest that their sheet asked for when it was entered.
    pub asked: Set,
    /// What was lifted.
    pub done: Set,
    /// Whether its last repetition was missed.
    pub missed: bool,
}

/// How somebody's day with a lift went beside what was asked.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Went {
    /// With more on the bar.
    Heavier,
    /// The weight, for the repetitions.
    AsAsked,
    /// With less on the bar.
    Lighter,
    /// The weight was on the bar, and not for all repetitions.
    Short,
}

/// Two loads are one within so much of each other: less than the smallest step of any bar.
const SAME: f64 = 0.01;

impl Went {
    /// Of the sets that somebody has entered on one day; the best of them counts.
    fn of(asked: Set, sets: &[&SetBeside]) -> Self {
        let made = sets.iter().filter(|set| !set.missed && set.done.reps >= asked.reps);
        let tried = sets.iter().any(|set| set.done.load.kg() >= asked.load.kg() * (1.0 - SAME));
        let most = made.map(|set| set.done.load.kg()).fold(0.0, f64::max) / asked.load.kg();
        match most {
            more if more > 1.0 + SAME => Self::Heavier,
            same if same >= 1.0 - SAME => Self::AsAsked,
            _ if tried => Self::Short,
            _ => Self::Lighter,
        }
    }
}

/// Somebody's day with a lift.
#[derive(Clone, Debug, PartialEq)]
pub struct PersonsDay {
    /// Whose it is.
    pub who: String,
    /// The heaviest that was asked.
    pub asked: Set,
    /// The heaviest that was lifted, missed or not.
    pub done: Set,
    /// How the two compare.
    pub went: Went,
}

/// A week of a cycle on one day.
#[derive(Clone, Debug, PartialEq)]
pub struct WeekDone {
    /// When.
    pub day: NaiveDate,
    /// Which week, from 1.
    pub week: u32,
    /// What was written: `5x3 @ 78%`.
    pub line: String,
    /// Whether it tested or built to a best.
    pub tests: bool,
    /// Whoever has entered a set of it, by how it went and by name.
    pub people: Vec<PersonsDay>,
}

/// A lift that is trained by weeks, as it was followed.
#[derive(Clone, Debug, PartialEq)]
pub struct Followed {
    /// What the gym calls the cycle; nothing where only the coach's own texts count the weeks.
    pub cycle: Option<String>,
    /// The lift.
    pub lift: MovementId,
    /// How many weeks it has, where somebody says.
    pub weeks: Option<u32>,
    /// Its weeks, oldest first.
    pub done: Vec<WeekDone>,
}

/// The cycles that stood on some days, by lift, with what was entered of each week; `days` are by date, with the gym's cycles filled in.
pub fn followed<'p>(
    cycles: &[Cycle],
    days: impl IntoIterator<Item = (NaiveDate, &'p Part)>,
    sets: &[SetBeside],
    catalogue: &Catalogue,
) -> Vec<Followed> {
    let mut all: Vec<Followed> = Vec::new();
    for (day, part) in days {
        let Some((week, of)) = part.strength.week.filter(|_| part.kind == PartKind::Strength) else {
            continue;
        };
        let Some(lift) = works(&part.tree).into_iter().next().map(|work| work.movement.clone()) else {
            continue;
        };
        let done = WeekDone {
            day,
            week,
            line: line_of(part, catalogue),
            tests: part.strength.rm.is_some(),
            people: people(sets, day, &lift),
        };
        let cycle = cycles.iter().find(|cycle| cycle.lift == lift.as_str());
        let weeks = cycle.map(|cycle| cycle.weeks.len() as u32).or(of);
        match all.iter_mut().find(|followed| followed.lift == lift) {
            Some(followed) => followed.done.push(done),
            None => {
                let cycle = cycle.map(|cycle| cycle.name.clone());
                all.push(Followed { cycle, lift, weeks, done: vec![done] });
            }
        }
    }
    all.sort_by(|a, b| catalogue.name(&a.lift).cmp(catalogue.name(&b.lift)));
    all
}

/// What a lift's part asks for, without the lift's name and its week: `5x3 @ 78%`.
fn line_of(part: &Part, catalogue: &Catalogue) -> String {
    let lines = work_lines(part, &part.tree, catalogue).into_iter();
    let lines: Vec<String> =
        lines.filter(|line| !line.starts_with("rest ") && !line.starts_with("week ")).collect();
    let line = lines.join(" ");
    let lift = works(&part.tree).first().map(|work| catalogue.name(&work.movement).to_lowercase());
    let bare = lift
        .and_then(|lift| line.strip_prefix(&lift).map(|rest| rest.trim_start_matches([':', ' ']).to_owned()));
    bare.unwrap_or(line)
}

fn people(sets: &[SetBeside], day: NaiveDate, lift: &MovementId) -> Vec<PersonsDay> {
    let of_day: Vec<&SetBeside> = sets.iter().filter(|set| set.day == day && set.lift == *lift).collect();
    let mut names: Vec<&str> = of_day.iter().map(|set| set.who.as_str()).collect();
    names.sort_unstable();
    names.dedup();
    let person = |who: &str| {
        let own: Vec<&SetBeside> = of_day.iter().copied().filter(|set| set.who == who).collect();
        let heaviest = |set: &&&SetBeside| set.done.load.grams();
        let best = own.iter().max_by_key(heaviest)?;
        // A sheet follows what was entered before: the first that was asked counts.
        let asked = own.iter().map(|set| set.asked).min_by(|a, b| a.load.kg().total_cmp(&b.load.kg()))?;
        Some(PersonsDay { who: who.to_owned(), asked, done: best.done, went: Went::of(asked, &own) })
    };
    let mut people: Vec<PersonsDay> = names.into_iter().filter_map(person).collect();
    people.sort_by(|a, b| (a.went, &a.who).cmp(&(b.went, &b.who)));
    people
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;
    use crate::gym::Gym;
    use crate::member::{Max, Member};
    use crate::read::read;
    use crate::strength::{lift_sheet, with_cycles};

    fn on(day: u32) -> NaiveDate {
        NaiveDate::from_ymd_opt(2026, 3, day).unwrap()
    }

    fn kg(load: f64, reps: u32) -> Set {
        Set { load: Kilograms::from_kg(load), reps }
    }

    fn beside(who: &str, asked: Set, done: Set, missed: bool) -> SetBeside {
        SetBeside {
            day: on(2),
            lift: MovementId::new("back-squat"),
            who: who.to_owned(),
            asked,
            done,
            missed,
        }
    }

    #[test]
    fn a_cycle_says_of_each_week_who_lifted_what_was_asked() {
        let catalogue = Catalogue::standard();
        let weeks = ["5x5 @ 70%", "5x4 @ 75%", "build to a 1RM in 20 min"].map(str::to_owned).to_vec();
        let cycles = [Cycle { name: "Spring".to_owned(), lift: "back-squat".to_owned(), weeks }];
        let part = |week: u32| {
            let text = format!("Strength\nBack squat, week {week} of 3, rest 2:00");
            with_cycles(&read(&text, catalogue).session, &cycles, catalogue).parts.remove(0)
        };
        let parts = [(on(2), part(1)), (on(9), part(2)), (on(16), part(3))];
        let asked = kg(70.0, 5);
        let sets = [
            beside("Bo", asked, kg(70.0, 5), false),
            beside("Ann", asked, kg(72.5, 5), false),
            beside("Cy", asked, kg(60.0, 5), false),
            // The weight, not the repetitions; then lighter, for all of them.
            beside("Di", asked, kg(70.0, 3), false),
            beside("Di", asked, kg(65.0, 5), false),
            // Another day and another lift are not this one.
            SetBeside { day: on(3), ..beside("Eve", asked, kg(70.0, 5), false) },
            SetBeside { lift: MovementId::new("deadlift"), ..beside("Fi", asked, kg(70.0, 5), false) },
        ];
        let days = parts.iter().map(|(day, part)| (*day, part));
        let all = followed(&cycles, days, &sets, catalogue);
        assert_eq!(all.len(), 1);
        let Followed { cycle, weeks, done, .. } = &all[0];
        assert_eq!((cycle.as_deref(), *weeks), (Some("Spring"), Some(3)));
        let lines: Vec<(&str, bool)> = done.iter().map(|week| (week.line.as_str(), week.tests)).collect();
        assert_eq!(lines[..2], [("5x5 @ 70%", false), ("5x4 @ 75%", false)]);
        assert_eq!(lines[2], ("build to a 1RM in 20:00", true));
        let went: Vec<(&str, Went)> = done[0].people.iter().map(|day| (day.who.as_str(), day.went)).collect();
        assert_eq!(
            went,
            [("Ann", Went::Heavier), ("Bo", Went::AsAsked), ("Cy", Went::Lighter), ("Di", Went::Short)]
        );
        assert_eq!(done[0].people[3].done, kg(70.0, 3));
        assert!(done[1].people.is_empty());
    }

    #[test]
    fn the_heaviest_that_a_sheet_asks_for_is_a_work_set() {
        let catalogue = Catalogue::standard();
        let lift = catalogue.find("back-squat").unwrap();
        let member = Member {
            maxes: [(lift.id.clone(), Max::on_file(Kilograms::from_kg(100.0)))].into(),
            ..Member::default()
        };
        let heaviest = |text: &str, member: &Member| {
            let part = read(text, catalogue).session.parts.remove(0);
            Set::heaviest(&lift_sheet(&part, lift, member, &Gym::default(), catalogue))
        };
        assert_eq!(heaviest("Back squat 3x5 @ 65-75-80%", &member), Some(kg(80.0, 5)));
        assert_eq!(heaviest("Back squat 3x5 @ 80%", &Member::default()), None);
    }

    proptest! {
        /// More on the bar is never a worse day, and a set that was missed never makes it better.
        #[test]
        fn more_on_the_bar_is_no_worse(asked in 20.0..200.0_f64, done in 20.0..200.0_f64, more in 0.0..40.0_f64) {
            let asked = kg(asked, 5);
            let went = |load: f64, missed: bool| {
                let set = beside("Ann", asked, kg(load, 5), missed);
                Went::of(asked, &[&set])
            };
            let rank = |went: Went| matches!(went, Went::AsAsked) as u8 + 2 * matches!(went, Went::Heavier) as u8;
            prop_assert!(rank(went(done + more, false)) >= rank(went(done, false)));
            prop_assert_eq!(rank(went(done, true)), 0);
        }
    }
}
