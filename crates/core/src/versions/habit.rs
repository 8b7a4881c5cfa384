//! What coaches do to a version again and again becomes a habit of their gym: the same movement swapped, lightened or cut in the same
//! version on three days. From then on it is done for them, says so, and can be forgotten.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};

use super::hand::HandLine;
use super::names::VersionName;
use super::rewrite::{Edit, available, unit_of};
use crate::gym::Gym;
use crate::movement::{Catalogue, MovementId, Unit};
use crate::pacing::on_a_board;
use crate::read::read;
use crate::session::{Amount, Load, Node, Work, works};
use crate::units::plain;

/// So many days make a habit.
pub const DAYS: usize = 3;
/// Most habits that a gym keeps.
pub const MOST_HABITS: usize = 100;

/// What is done to one movement of one version.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct HandHabit {
    /// In which version.
    pub version: VersionName,
    /// To which movement.
    pub movement: MovementId,
    /// What.
    pub does: Does,
    /// The day on which a coach had it forgotten; learned again from days after it only.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub forgotten_on: Option<String>,
}

/// What is done to a movement. Shares are in hundredths, so that two changes of one kind are equal.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Does {
    /// Another movement in its place, so many of it for a hundred.
    Swap {
        /// Which.
        to: MovementId,
        /// For a hundred of the old.
        for_hundred: u32,
        /// What the old one is counted in, and the new one.
        counted_in: (Unit, Unit),
        /// What the new one carries, as the coach wrote it: a load of the old one says nothing about it.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        load: Option<Load>,
    },
    /// So many hundredths of the load.
    Load(u32),
    /// So many hundredths of the number.
    Number(u32),
}

/// Shares nearer to each other than this are the same, in hundredths.
const NEAR: f64 = 5.0;

impl HandHabit {
    /// What a line written anew does, where it is of a kind that can come again: one movement, of which one thing has changed.
    pub fn of(line: &HandLine, catalogue: &Catalogue) -> Option<Self> {
        let work = |text: &str| -> Option<Work> {
            let session = read(&format!("For time\n{text}"), catalogue).session;
            let [part] = &session.parts[..] else { return None };
            let [only] = works(&part.tree)[..] else { return None };
            Some(only.clone())
        };
        if line.member.is_some() {
            return None;
        }
        let (from, to) = (work(&line.from)?, work(&line.to)?);
        let hundredths = |share: f64| ((share * 100.0 / NEAR).round() * NEAR) as u32;
        // Calories for metres are some hundredths: to be kept exactly.
        let for_hundred = |share: f64| match from.dose.unit == to.dose.unit {
            true => hundredths(share),
            false => (share * 100.0).round().max(1.0) as u32,
        };
        let number = |work: &Work| work.dose.first().filter(|number| *number > 0.0);
        let share = number(&from).zip(number(&to)).map(|(from, to)| to / from);
        let load = |work: &Work| work.load.as_ref().and_then(Load::weight).map(|weight| weight.kg());
        let does = if from.movement != to.movement {
            let counted_in = (from.dose.unit, to.dose.unit);
            // A number for none, or none for a number, is of one text only.
            let one_number = number(&from).is_some() != number(&to).is_some();
            if one_number || (share.is_none() && from.dose.unit != to.dose.unit) {
                return None;
            }
            let for_hundred = for_hundred(share.unwrap_or(1.0));
            Does::Swap { to: to.movement, for_hundred, counted_in, load: to.load }
        } else if from.dose == to.dose {
            let (before, after) = load(&from).zip(load(&to))?;
            Does::Load(hundredths(after / before))
        } else if load(&from) == load(&to) && from.dose.unit == to.dose.unit {
            Does::Number(hundredths(share?))
        } else {
            return None;
        };
        let nothing = matches!(does, Does::Load(100) | Does::Number(100));
        let habit = Self { version: line.version, movement: from.movement, does, forgotten_on: None };
        (!nothing).then_some(habit)
    }

    /// Whether it is of the same movement of the same version, whatever is done to it.
    fn is_about(&self, other: &Self) -> bool {
        self.version == other.version && self.movement == other.movement
    }

    /// Whether it is followed.
    pub fn stands(&self) -> bool {
        self.forgotten_on.is_none()
    }

    /// `Simpler: ring row in place of pull-up, 1.5 for one`.
    pub fn words(&self, catalogue: &Catalogue) -> String {
        let name = |id: &MovementId| catalogue.name(id).to_lowercase();
        let (version, of) = (self.version.label(), name(&self.movement));
        match &self.does {
            Does::Swap { to, for_hundred, load, counted_in: (from_unit, to_unit) } => {
                let with = load.map_or(String::new(), |load| format!(", {load}"));
                let for_one = match (for_hundred, from_unit == to_unit) {
                    (100, true) => String::new(),
                    (many, true) => format!(", {} for one", plain(f64::from(*many) / 100.0)),
                    (many, false) => format!(", {many}{} for 100{}", to_unit.short(), from_unit.short()),
                };
                format!("{version}: {}{with} in place of {of}{for_one}", name(to))
            }
            Does::Load(share) => format!("{version}: {of} with {share} % of the load"),
            Does::Number(share) => format!("{version}: {share} % of the {of}"),
        }
    }

    fn follow(&self, work: &Work, gym: &Gym, catalogue: &Catalogue) -> Option<Work> {
        let share = |hundredths: u32| f64::from(hundredths) / 100.0;
        let scaled = |amount: Amount, by: f64, unit| match amount {
            Amount::Fixed { first, second } => Amount::Fixed {
                first: on_a_board(first * by, unit),
                second: second.map(|second| on_a_board(second * by, unit)),
            },
            other => other,
        };
        let mut work = work.clone();
        match &self.does {
            Does::Swap { to, for_hundred, counted_in: (from_unit, to_unit), load } => {
                catalogue.get(to)?;
                // Rungs count both alike, or neither.
                let of_scheme = work.dose.amount == Amount::Scheme;
                if work.dose.unit != *from_unit
                    || (of_scheme && (*for_hundred != 100 || from_unit != to_unit))
                {
                    return None;
                }
                work.dose.amount = scaled(work.dose.amount, share(*for_hundred), *to_unit);
                work.dose.unit = *to_unit;
                work.load = *load;
                work.movement = to.clone();
            }
            Does::Load(hundredths) => {
                let movement = catalogue.get(&work.movement)?;
                let load = work.load.as_mut()?;
                let lighter = |weight: crate::units::Kilograms| {
                    available(weight.share(share(*hundredths)), movement, gym)
                };
                let (first, second) = (load.weight()?, load.second.and(load.lighter_weight()));
                let unit = unit_of(*load, lighter(first), movement, gym);
                load.first = lighter(first).in_unit(unit);
                load.second = second.map(|second| lighter(second).in_unit(unit));
                load.unit = unit.into();
            }
            Does::Number(hundredths) => {
                work.dose.amount = scaled(work.dose.amount, share(*hundredths), work.dose.unit);
            }
        }
        Some(work)
    }
}

/// A version's tree as the gym's coaches always change it, with what was done.
pub(super) fn by_habit(
    name: VersionName,
    tree: &Node,
    gym: &Gym,
    catalogue: &Catalogue,
) -> (Node, Vec<Edit>) {
    let mut edits: Vec<Edit> = Vec::new();
    let tree = tree.map_work(&mut |work| {
        let habits = gym.hand_habits.iter().filter(|habit| habit.stands() && habit.version == name);
        let followed = habits
            .filter(|habit| habit.movement == work.movement)
            .find_map(|habit| Some((habit, habit.follow(work, gym, catalogue)?)));
        let Some((habit, changed)) = followed else { return Node::Work(work.clone()) };
        let swap = matches!(habit.does, Does::Swap { .. });
        let edit = Edit::of_habit(habit.words(catalogue), swap);
        if !edits.contains(&edit) {
            edits.push(edit);
        }
        Node::Work(changed)
    });
    (tree, edits)
}

/// Learns what has been done on enough days, each given as a date that sorts; the newest of what is done to one movement of a version counts.
/// True when something is new.
pub fn learn(habits: &mut Vec<HandHabit>, made: &[(String, HandLine)], catalogue: &Catalogue) -> bool {
    let Some(newest) = made.last().and_then(|(_, line)| HandHabit::of(line, catalogue)) else { return false };
    let known = habits.iter().position(|habit| habit.is_about(&newest) && habit.does == newest.does);
    let since = known.and_then(|at| habits[at].forgotten_on.clone()).unwrap_or_default();
    if known.is_some_and(|at| habits[at].stands()) {
        return false;
    }
    let days: BTreeSet<&str> = made
        .iter()
        .filter(|(day, line)| *day > since && HandHabit::of(line, catalogue).as_ref() == Some(&newest))
        .map(|(day, _)| day.as_str())
        .collect();
    if days.len() < DAYS || habits.len() >= MOST_HABITS {
        return false;
    }
    habits.retain(|habit| !habit.is_about(&newest));
    habits.push(newest);
    true
}

#[cfg(test)]
mod tests {
    use super::*;

    fn line(from: &str, to: &str) -> HandLine {
        HandLine { version: VersionName::Simpler, member: None, from: from.to_owned(), to: to.to_owned() }
    }

    fn words(from: &str, to: &str) -> Option<String> {
        let catalogue = Catalogue::standard();
        HandHabit::of(&line(from, to), catalogue).map(|habit| habit.words(catalogue))
    }

    #[test]
    fn a_line_written_anew_says_what_it_does_to_its_movement() {
        let said = |from, to| words(from, to).unwrap();
        assert_eq!(said("10 pull-up", "15 ring row"), "Simpler: ring row in place of pull-up, 1.5 for one");
        assert_eq!(
            said("10 thruster, 40/30 kg", "10 thruster, 32/24 kg"),
            "Simpler: thruster with 80 % of the load"
        );
        assert_eq!(said("20 burpee", "12 burpee"), "Simpler: 60 % of the burpee");
        assert_eq!(said("400 m run", "30 cal bike"), "Simpler: bike in place of run, 8 cal for 100 m");
        let loaded = said("10 thruster, 40/30 kg", "10 dumbbell thruster, 2x15 kg");
        assert!(loaded.starts_with("Simpler: dumbbell thruster, 2") && loaded.contains("15"), "{loaded}");
        // Two things at once, or nothing, are of no kind.
        assert_eq!(words("10 thruster, 40/30 kg", "6 thruster, 30/20 kg"), None);
        assert_eq!(words("20 burpee", "20 burpee"), None);
        assert_eq!(words("20 burpee", ""), None);
    }

    #[test]
    fn three_days_make_a_habit_and_what_was_forgotten_begins_anew() {
        let catalogue = Catalogue::standard();
        let on = |day: &str| (day.to_owned(), line("10 pull-up", "10 ring row"));
        let mut habits = Vec::new();
        assert!(!learn(&mut habits, &[on("2026-01-05"), on("2026-01-05"), on("2026-01-07")], catalogue));
        let days = ["2026-01-05", "2026-01-07", "2026-01-09"].map(on);
        assert!(learn(&mut habits, &days, catalogue) && habits.len() == 1);
        assert!(!learn(&mut habits, &days, catalogue), "it is known already");
        habits[0].forgotten_on = Some("2026-01-10".to_owned());
        let more: Vec<_> = days.into_iter().chain([on("2026-01-12"), on("2026-01-14")]).collect();
        assert!(!learn(&mut habits, &more, catalogue) && !habits[0].stands());
        let enough: Vec<_> = more.into_iter().chain([on("2026-01-16")]).collect();
        assert!(learn(&mut habits, &enough, catalogue) && habits[0].stands());
    }

    #[test]
    fn a_habit_is_followed_in_its_version_only_and_says_so() {
        let catalogue = Catalogue::standard();
        let tree = read("5 rounds for time\n10 pull-ups\n12 thrusters 40/30 kg", catalogue)
            .session
            .parts
            .remove(0)
            .tree;
        let habit = |from, to| HandHabit::of(&line(from, to), catalogue).unwrap();
        let gym = Gym {
            hand_habits: vec![
                habit("10 pull-up", "15 ring row"),
                habit("9 thruster, 50 kg", "9 thruster, 40 kg"),
            ],
            ..Gym::default()
        };
        let (changed, edits) = by_habit(VersionName::Simpler, &tree, &gym, catalogue);
        let all = works(&changed);
        assert_eq!((all[0].movement.as_str(), all[0].dose.first()), ("ring-row", Some(15.0)));
        let load = all[1].load.unwrap();
        assert!((30.0..=32.5).contains(&load.first) && load.second.is_some() && edits.len() == 2, "{load:?}");
        assert_eq!(by_habit(VersionName::Lighter, &tree, &gym, catalogue), (tree, Vec::new()));
        // A swap takes the coach's own load along, counts in the new one's unit, and leaves what is counted otherwise alone.
        let after = |text: &str, hand_habits: Vec<HandHabit>| {
            let tree = read(text, catalogue).session.parts.remove(0).tree;
            let gym = Gym { hand_habits, ..Gym::default() };
            let (changed, _) = by_habit(VersionName::Simpler, &tree, &gym, catalogue);
            works(&changed)[0].clone()
        };
        let bells = habit("10 thruster, 40/30 kg", "10 dumbbell thruster, 2x15 kg");
        let swapped = after("For time\n20 thrusters 60/40 kg\n10 burpees", vec![bells]);
        let load = swapped.load.unwrap();
        assert_eq!((swapped.movement.as_str(), load.first, load.implements), ("dumbbell-thruster", 15.0, 2));
        let bike = || vec![habit("400 m run", "30 cal bike")];
        let cycled = after("For time\n800 m run\n10 burpees", bike());
        assert_eq!((cycled.dose.first(), cycled.dose.unit), (Some(65.0), Unit::Calories));
        let timed = after("3 rounds\n2 min run\n10 burpees", bike());
        assert_eq!(timed.movement.as_str(), "run", "{timed:?}");
    }
}
