//! Where the gym's cycles stand among its days: which week comes when, and what is on no day yet.

use chrono::{Days, NaiveDate};

use crate::movement::{Catalogue, MovementId};
use crate::session::{Part, PartKind, works};
use crate::strength::Cycle;

/// A lift that is trained by weeks, as it stands in a week of the calendar.
#[derive(Clone, Debug, PartialEq)]
pub struct Standing {
    /// What the gym calls the cycle; nothing where only the coach's own texts count the weeks.
    pub cycle: Option<String>,
    /// The lift.
    pub lift: MovementId,
    /// How many weeks it has, where somebody says.
    pub weeks: Option<u32>,
    /// Days of this week on which it stands, each with the week of the cycle.
    pub on: Vec<(NaiveDate, u32)>,
    /// The week before on which it stood last, if it did.
    pub last: Option<(NaiveDate, u32)>,
    /// The week of the cycle that comes next after what stands, with its line where the gym has one; nothing at its end.
    pub next: Option<(u32, Option<String>)>,
}

impl Standing {
    /// Whether a week of it is due and stands on no day: its last one was in the week right before, and it goes on.
    pub fn is_due(&self, monday: NaiveDate) -> bool {
        let right_before = |(day, _): (NaiveDate, u32)| day >= monday - Days::new(7);
        self.on.is_empty() && self.next.is_some() && self.last.is_some_and(right_before)
    }

    /// Whether nothing of it comes any more: it ended before this week.
    pub fn is_over(&self) -> bool {
        self.on.is_empty() && self.next.is_none()
    }
}

/// The gym's cycles and the lifts whose weeks a coach counts, in the week that begins on a Monday; `days` are by date, those before it among them.
/// A cycle that stood nowhere is left out.
pub fn standings<'p>(
    cycles: &[Cycle],
    days: impl IntoIterator<Item = (NaiveDate, &'p Part)>,
    monday: NaiveDate,
    catalogue: &Catalogue,
) -> Vec<Standing> {
    let mut all: Vec<Standing> = Vec::new();
    for (day, part) in days {
        let Some((week, of)) = part.strength.week.filter(|_| part.kind == PartKind::Strength) else {
            continue;
        };
        let Some(work) = works(&part.tree).into_iter().next() else { continue };
        let lift = &work.movement;
        let cycle = cycles.iter().find(|cycle| cycle.lift == lift.as_str());
        let at = all.iter().position(|standing| standing.lift == *lift).unwrap_or_else(|| {
            let (lift, cycle) = (lift.clone(), cycle.map(|cycle| cycle.name.clone()));
            all.push(Standing { cycle, lift, weeks: None, on: Vec::new(), last: None, next: None });
            all.len() - 1
        });
        let standing = &mut all[at];
        standing.weeks = cycle.map(|cycle| cycle.weeks.len() as u32).or(of);
        if day < monday {
            standing.last = Some((day, week));
        } else {
            standing.on.push((day, week));
        }
        let goes_on = standing.weeks.is_none_or(|weeks| week < weeks);
        let line = cycle.and_then(|cycle| cycle.weeks.get(week as usize).cloned());
        standing.next = goes_on.then_some((week + 1, line));
    }
    all.sort_by(|a, b| catalogue.name(&a.lift).cmp(catalogue.name(&b.lift)));
    all
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::read::read;

    fn on(day: u32) -> NaiveDate {
        NaiveDate::from_ymd_opt(2026, 3, day).unwrap()
    }

    fn part(text: &str) -> Part {
        read(&format!("Strength\n{text}"), Catalogue::standard()).session.parts.remove(0)
    }

    fn squat() -> Vec<Cycle> {
        let weeks = ["5x5 @ 70%", "5x4 @ 75%", "build to a 1RM in 20 min"].map(str::to_owned).to_vec();
        vec![Cycle { name: "Spring squat".to_owned(), lift: "back-squat".to_owned(), weeks }]
    }

    fn of(days: &[(u32, &str)], cycles: &[Cycle]) -> Vec<Standing> {
        let parts: Vec<(NaiveDate, Part)> = days.iter().map(|(day, text)| (on(*day), part(text))).collect();
        let days = parts.iter().map(|(day, part)| (*day, part));
        standings(cycles, days, on(9), Catalogue::standard())
    }

    #[test]
    fn a_cycle_says_which_week_stands_and_what_comes() {
        let now = &of(&[(2, "Back squat, week 1 of 3"), (9, "Back squat, week 2 of 3")], &squat())[0];
        assert_eq!((&now.on[..], now.last), (&[(on(9), 2)][..], Some((on(2), 1))));
        assert_eq!(now.next, Some((3, Some("build to a 1RM in 20 min".to_owned()))));
        assert_eq!((now.weeks, now.cycle.as_deref()), (Some(3), Some("Spring squat")));
        assert!(!now.is_due(on(9)) && !now.is_over());
    }

    #[test]
    fn a_week_that_stands_on_no_day_is_due_until_a_week_was_left_out() {
        let due = &of(&[(3, "Back squat, week 1 of 3")], &squat())[0];
        assert!(due.is_due(on(9)) && !due.is_due(on(16)));
        let over = &of(&[(3, "Back squat, week 3 of 3")], &squat())[0];
        assert!(over.is_over() && !over.is_due(on(9)));
    }

    #[test]
    fn weeks_that_only_a_text_counts_have_no_line_to_come() {
        let counted = &of(&[(10, "Push press, week 2 of 5: 5x3 @ 78%, rest 2:00")], &[])[0];
        assert_eq!((counted.cycle.as_deref(), counted.weeks), (None, Some(5)));
        assert_eq!(counted.next, Some((3, None)));
        assert_eq!(of(&[(10, "Push press 5x3 @ 78%")], &squat()), []);
    }
}
