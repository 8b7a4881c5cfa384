//! Lifts that are trained by weeks: which week stands on which day, and what comes.

use chrono::NaiveDate;
use lantern_core::movement::Catalogue;
use lantern_core::print::week_text;
use lantern_core::strength::calendar::Standing;

/// A cycle in words.
pub(super) struct CycleRow {
    /// `Spring squat, back squat`.
    pub name: String,
    /// `week 2 of 5 on Tue`, or when it stood last.
    pub stands: String,
    /// What comes after, if anything does.
    pub next: String,
    /// Whether it is due and stands on no day of the week.
    pub due: bool,
}

impl CycleRow {
    pub fn of(standing: &Standing, monday: NaiveDate, catalogue: &Catalogue) -> Self {
        let lift = catalogue.name(&standing.lift).to_lowercase();
        let week = |week: u32| week_text(week, standing.weeks);
        let on: Vec<String> =
            standing.on.iter().map(|(day, at)| format!("{} on {}", week(*at), day.format("%a"))).collect();
        let stands = match standing.last {
            _ if !on.is_empty() => on.join(", "),
            Some((day, at)) => format!("not this week; {} was on {}", week(at), day.format("%a %-d %b")),
            None => String::new(),
        };
        let next = standing.next.as_ref().map(|(at, line)| match line {
            Some(line) => format!("{}: {line}", week(*at)),
            None => week(*at),
        });
        Self {
            name: standing.cycle.as_ref().map_or(lift.clone(), |cycle| format!("{cycle}, {lift}")),
            stands,
            next: next.unwrap_or_else(|| "that was its last week".to_owned()),
            due: standing.is_due(monday),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use chrono::Days;
    use lantern_core::movement::MovementId;

    #[test]
    fn a_cycle_is_told_with_its_days_and_what_comes() {
        let monday = NaiveDate::from_ymd_opt(2026, 3, 9).unwrap();
        let mut standing = Standing {
            cycle: Some("Spring".to_owned()),
            lift: MovementId::new("back-squat"),
            weeks: Some(5),
            on: vec![(monday, 2), (monday + Days::new(3), 2)],
            last: Some((monday - Days::new(7), 1)),
            next: Some((3, Some("5x3 @ 80%".to_owned()))),
        };
        let row = |standing: &Standing| CycleRow::of(standing, monday, Catalogue::standard());
        let now = row(&standing);
        assert_eq!(now.name, "Spring, back squat");
        assert_eq!(
            (now.stands.as_str(), now.next.as_str()),
            ("week 2 of 5 on Mon, week 2 of 5 on Thu", "week 3 of 5: 5x3 @ 80%")
        );
        standing.on.clear();
        standing.next = Some((2, None));
        let due = row(&standing);
        assert!(due.due);
        assert_eq!(
            (due.stands.as_str(), due.next.as_str()),
            ("not this week; week 1 of 5 was on Mon 2 Mar", "week 2 of 5")
        );
    }
}
