//! Strength cycles: what "week 3 of 6" means for a lift, a line a week, in the words of the reader.
//!
//! A cycle is written as coaches write any lift: `5x5 @ 70%`, `5-3-1 @ 75-85-95%`, `build to a 1RM in 20 min`.
//! There is no notation of its own, so the reader's understanding is the cycle's.

use lantern_session::check;
use serde::{Deserialize, Serialize};

use crate::movement::{Catalogue, MovementId};
use crate::read::read;
use crate::session::{Part, PartKind, Problem, Session, works};

/// Most weeks that a cycle is planned for.
pub const MOST_WEEKS: usize = 16;

/// A lift over some weeks.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Cycle {
    /// As the gym calls it.
    pub name: String,
    /// The lift's id.
    pub lift: String,
    /// What is done in each week, first week first.
    pub weeks: Vec<String>,
}

/// A usual wave to start from.
#[derive(Clone, Copy, Debug)]
pub struct Wave {
    /// What it is.
    pub name: &'static str,
    /// Whom it suits, in a sentence.
    pub about: &'static str,
    /// A line a week; the last week tests.
    pub weeks: &'static [&'static str],
}

/// The usual waves, generic; common coaching practice.
pub const WAVES: &[Wave] = &[
    Wave {
        name: "Straight sets, a little more each week",
        about: "Newer members: the same fives, two and a half percent up a week.",
        weeks: &[
            "5x5 @ 70%",
            "5x5 @ 72.5%",
            "5x5 @ 75%",
            "5x5 @ 77.5%",
            "5x5 @ 80%",
            "build to a 5RM in 20 min",
        ],
    },
    Wave {
        name: "Fewer repetitions, more weight",
        about: "Regulars: from fives down to singles, then a test.",
        weeks: &[
            "5x5 @ 70-75%",
            "5x4 @ 75-80%",
            "5x3 @ 80-84%",
            "4x2 @ 84-88%",
            "5x1 @ 88-92%",
            "build to a 1RM in 20 min",
        ],
    },
    Wave {
        name: "Three-week waves",
        about: "Two waves of three weeks, the second a step higher, then a light week and a test.",
        weeks: &[
            "3x5 @ 65-75-80%",
            "3x3 @ 70-80-85%",
            "5-3-1 @ 75-85-90%",
            "3x5 @ 67.5-77.5-82.5%",
            "3x3 @ 72.5-82.5-87.5%",
            "5-3-1 @ 77.5-87.5-92.5%",
            "3x5 @ 50-60-65%",
            "build to a 3RM in 18 min",
        ],
    },
    Wave {
        name: "Heavy, light, medium",
        about: "One heavy, one light and one middle class, twice over.",
        weeks: &["4x3 @ 85%", "4x6 @ 70%", "4x4 @ 78%", "4x3 @ 87%", "4x6 @ 72%", "build to a 3RM in 18 min"],
    },
];

impl Cycle {
    /// The part of a week, counted from 1; none when the cycle has no such week or its line is no lift.
    pub fn week(&self, week: u32, catalogue: &Catalogue) -> Option<Part> {
        let line = self.weeks.get((week as usize).checked_sub(1)?)?;
        let name = &catalogue.get(&MovementId::new(&self.lift))?.name;
        let reading = read(&format!("Strength\n{name} {line}"), catalogue);
        let one = reading.session.parts.len() == 1 && reading.problems.is_empty();
        let part = reading.session.parts.into_iter().next().filter(|_| one)?;
        let strength = &part.strength;
        let prescribed = strength.rm.is_some() || (strength.sets.is_some() && !strength.reps.is_empty());
        (part.kind == PartKind::Strength && prescribed).then_some(part)
    }

    /// What cannot be used, in a sentence for each: a lift that nobody knows, weeks that do not read as a lift.
    pub fn problems(&self, catalogue: &Catalogue) -> Vec<String> {
        let mut found = Vec::new();
        if self.name.trim().is_empty() {
            found.push("a cycle needs a name".to_owned());
        }
        if !catalogue.get(&MovementId::new(&self.lift)).is_some_and(|movement| movement.is_barbell()) {
            found.push(format!("`{}` is no lift with a bar", self.lift));
            return found;
        }
        if self.weeks.is_empty() || self.weeks.len() > MOST_WEEKS {
            found.push(format!("a cycle has from 1 to {MOST_WEEKS} weeks, not {}", self.weeks.len()));
        }
        for (line, week) in self.weeks.iter().zip(1..) {
            if self.week(week, catalogue).is_none() {
                found.push(format!("week {week}: `{line}` is no lift that I can read; try `5x5 @ 70%`"));
            }
        }
        found
    }
}

/// The session with every lift that only names its week filled in from the gym's cycle for it.
pub fn with_cycles(session: &Session, cycles: &[Cycle], catalogue: &Catalogue) -> Session {
    let mut filled = session.clone();
    for part in filled.parts.iter_mut().filter(|part| part.kind == PartKind::Strength) {
        let strength = &part.strength;
        let open = strength.percent.is_empty() && strength.rm.is_none() && strength.rpe.is_none();
        let (Some((week, _)), true) = (strength.week, open) else { continue };
        let lift = works(&part.tree).first().map(|work| work.movement.clone());
        let of_cycle = cycles
            .iter()
            .find(|cycle| lift.as_ref().is_some_and(|lift| lift.as_str() == cycle.lift))
            .and_then(|cycle| cycle.week(week, catalogue));
        if let Some(planned) = of_cycle {
            let written = part.strength.clone();
            part.tree = planned.tree;
            part.format = planned.format;
            part.duration_s = part.duration_s.or(planned.duration_s);
            part.strength = planned.strength;
            part.strength.week = written.week;
            part.strength.tempo = written.tempo.or(part.strength.tempo.take());
        }
    }
    filled
}

/// What is to be asked of a text as it stands and is no question once the gym's cycles have filled in its weeks.
pub(crate) fn answered(
    session: &Session,
    text: &str,
    cycles: &[Cycle],
    catalogue: &Catalogue,
) -> Vec<Problem> {
    if cycles.is_empty() {
        return Vec::new();
    }
    let asked = |session: &Session| {
        let mut problems = Vec::new();
        check(session, text, catalogue, &mut problems);
        problems
    };
    let left = asked(&with_cycles(session, cycles, catalogue));
    asked(session).into_iter().filter(|problem| !left.contains(problem)).collect()
}

/// The week of a cycle that comes after the one of a part.
#[derive(Clone, Debug, PartialEq)]
pub struct Ahead<'a> {
    /// The cycle.
    pub cycle: &'a Cycle,
    /// The week, from 1.
    pub week: u32,
    /// What is written for it.
    pub line: &'a str,
    /// The same as a part.
    pub part: Part,
}

/// What comes after a part that names its week; nothing after the last one, and where the gym has no cycle for the lift.
pub fn ahead<'a>(part: &Part, cycles: &'a [Cycle], catalogue: &Catalogue) -> Option<Ahead<'a>> {
    let week = part.strength.week?.0 + 1;
    let lift = works(&part.tree).first().map(|work| work.movement.clone())?;
    let cycle = cycles.iter().find(|cycle| cycle.lift == lift.as_str())?;
    let line = cycle.weeks.get((week as usize).checked_sub(1)?)?;
    Some(Ahead { cycle, week, line, part: cycle.week(week, catalogue)? })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::gym::Gym;

    fn cycle(weeks: &[&str]) -> Cycle {
        let weeks = weeks.iter().map(|line| (*line).to_owned()).collect();
        Cycle { name: "Squat".into(), lift: "back-squat".into(), weeks }
    }

    #[test]
    fn every_week_of_the_usual_waves_reads_as_a_lift_and_the_last_one_tests() {
        let catalogue = Catalogue::standard();
        for wave in WAVES {
            let cycle = cycle(wave.weeks);
            assert_eq!(cycle.problems(catalogue), [""; 0], "{}", wave.name);
            let last = cycle.week(wave.weeks.len() as u32, catalogue).unwrap();
            assert!(last.strength.rm.is_some() && last.duration_s.is_some(), "{}", wave.name);
        }
    }

    #[test]
    fn a_week_without_figures_is_filled_in_from_the_cycle() {
        let catalogue = Catalogue::standard();
        let cycles = [cycle(&["5x5 @ 70%", "5x4 @ 75-80%", "build to a 1RM in 20 min"])];
        let session = read("Strength\nBack squat, week 2 of 3, rest 2:00\n", catalogue).session;
        let filled = &with_cycles(&session, &cycles, catalogue).parts[0];
        assert_eq!((filled.strength.sets, filled.strength.reps.clone()), (Some(5), vec![4; 5]));
        assert_eq!(
            (&filled.strength.percent[..], filled.strength.week),
            (&[[75.0, 80.0]][..], Some((2, Some(3))))
        );
        // What the coach wrote goes before the cycle.
        let written = read("Strength\nBack squat, week 2 of 3, 3x3 @ 60%\n", catalogue).session;
        assert_eq!(with_cycles(&written, &cycles, catalogue), written);
    }

    #[test]
    fn the_week_ahead_is_the_next_line() {
        let catalogue = Catalogue::standard();
        let cycles = [cycle(&["5x5 @ 70%", "5x4 @ 75-80%", "build to a 1RM in 20 min"])];
        let part = |week| {
            let text = format!("Strength\nBack squat, week {week} of 3, rest 2:00\n");
            read(&text, catalogue).session.parts.remove(0)
        };
        let (first, last) = (part(1), part(3));
        let next = ahead(&first, &cycles, catalogue).unwrap();
        assert_eq!((next.week, next.line), (2, "5x4 @ 75-80%"));
        assert_eq!(next.part.strength.percent, [[75.0, 80.0]]);
        assert_eq!(ahead(&last, &cycles, catalogue), None);
        assert_eq!(ahead(&first, &[], catalogue), None);
    }

    #[test]
    fn a_week_that_cannot_be_read_is_named() {
        let problems = cycle(&["5x5 @ 70%", "whatever feels right"]).problems(Catalogue::standard());
        assert!(problems[0].starts_with("week 2: `whatever feels right`"), "{problems:?}");
    }

    #[test]
    fn a_week_is_asked_for_where_no_cycle_answers_it() {
        let catalogue = Catalogue::standard();
        let press = Cycle {
            name: "Autumn press".to_owned(),
            lift: "push-press".to_owned(),
            weeks: vec!["5x5 @ 70%".to_owned(), "5x3 @ 78%".to_owned()],
        };
        let gym = Gym { cycles: vec![press], ..Gym::default() };
        let asked = |gym: &Gym, lift: &str, week: u32| {
            let text = format!("Strength\n{lift}, week {week} of 5\n\nAMRAP 10\n10 burpees\n12 sit-ups");
            gym.read(&text, catalogue, &[])
                .problems
                .into_iter()
                .map(|problem| problem.message)
                .collect::<Vec<_>>()
        };
        assert_eq!(asked(&gym, "Push press", 2), [""; 0]);
        for (gym, lift, week) in
            [(&gym, "Push press", 3), (&gym, "Back squat", 2), (&Gym::default(), "Push press", 2)]
        {
            let found = asked(gym, lift, week);
            let question = format!("which sets are week {week} of `{}`?", lift.to_lowercase());
            assert!(found.len() == 1 && found[0].starts_with(&question), "{found:?}");
        }
    }
}
