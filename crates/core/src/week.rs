//! A pasted week: which date each of its days is meant for.

use chrono::{Datelike, Days, NaiveDate};
use lantern_reader::sections::DayName;

/// Half a year: a date without its year is the nearest one.
const HALF_A_YEAR: i64 = 183;

/// The dates of the days of a text, in its order, as seen from the day on which it was pasted. A date stands as written, the nearest such day when
/// its year is left out; weekdays begin in the week of that day and go on from one another; "day 1" is that day itself. None where a name
/// says nothing of the kind, or there is no such day.
pub fn dates(names: &[&DayName], pasted: NaiveDate) -> Vec<Option<NaiveDate>> {
    let monday = pasted - Days::new(u64::from(pasted.weekday().num_days_from_monday()));
    let mut last: Option<NaiveDate> = None;
    names
        .iter()
        .map(|name| {
            let date = written(name, pasted).or_else(|| {
                if let Some(weekday) = name.weekday {
                    let first = monday + Days::new(u64::from(weekday - 1));
                    // Below Friday, "Monday" is the next one.
                    let behind = last.map_or(0, |last| (last - first).num_days().div_euclid(7) + 1).max(0);
                    Some(first + Days::new(7 * behind as u64))
                } else {
                    name.number.map(|number| pasted + Days::new(u64::from(number.saturating_sub(1))))
                }
            });
            last = date.or(last);
            date
        })
        .collect()
}

/// The date that a name writes out.
fn written(name: &DayName, near: NaiveDate) -> Option<NaiveDate> {
    let (day, month) = name.day?;
    if let Some(year) = name.year {
        return NaiveDate::from_ymd_opt(year as i32, month?, day);
    }
    let month = month.unwrap_or(near.month());
    let years = [near.year(), near.year() + 1, near.year() - 1];
    let dates = years.into_iter().filter_map(|year| NaiveDate::from_ymd_opt(year, month, day));
    dates
        .into_iter()
        .filter(|date| (*date - near).num_days().abs() <= HALF_A_YEAR)
        .min_by_key(|date| (*date - near).num_days().abs())
}

#[cfg(test)]
mod tests {
    use lantern_reader::sections::days;
    use proptest::prelude::*;

    use super::*;

    fn date(text: &str) -> NaiveDate {
        text.parse().unwrap()
    }

    fn of(text: &str, pasted: &str) -> Vec<Option<String>> {
        let days = days(text);
        let names: Vec<&DayName> = days.iter().map(|day| &day.name).collect();
        dates(&names, date(pasted)).into_iter().map(|date| date.map(|date| date.to_string())).collect()
    }

    #[test]
    fn weekdays_begin_in_the_week_of_the_day_and_go_on_from_one_another() {
        let text = "Monday\n5x5\nFriday\n5x5\nMonday\n5x5";
        let expected = ["2026-11-23", "2026-11-27", "2026-11-30"].map(|date| Some(date.to_owned()));
        assert_eq!(of(text, "2026-11-25"), expected);
        assert_eq!(
            of("Sunday\n5x5\nMonday\n5x5", "2026-11-23"),
            [Some("2026-11-29".to_owned()), Some("2026-11-30".to_owned())]
        );
    }

    #[test]
    fn a_date_without_its_year_is_the_nearest() {
        assert_eq!(
            of("2 Jan\n5x5\n3 Jan\n5x5", "2026-12-28"),
            [Some("2027-01-02".to_owned()), Some("2027-01-03".to_owned())]
        );
        assert_eq!(
            of("30.12.\n5x5\n31.12.\n5x5", "2027-01-03"),
            [Some("2026-12-30".to_owned()), Some("2026-12-31".to_owned())]
        );
    }

    #[test]
    fn written_dates_stand_and_days_that_do_not_exist_have_none() {
        assert_eq!(
            of("2026-03-02\n5x5\n2026-03-04\n5x5", "2026-11-25"),
            [Some("2026-03-02".to_owned()), Some("2026-03-04".to_owned())]
        );
        assert_eq!(of("30.2.\n5x5\n1.3.\n5x5", "2026-02-25"), [None, Some("2026-03-01".to_owned())]);
        assert_eq!(
            of("Day 1\n5x5\nDay 3\n5x5", "2026-11-25"),
            [Some("2026-11-25".to_owned()), Some("2026-11-27".to_owned())]
        );
    }

    proptest! {
        #[test]
        fn weekdays_always_rise(weekdays in prop::collection::vec(1_u32..=7, 1..20), offset in 0_u64..4000) {
            let names: Vec<DayName> =
                weekdays.iter().map(|weekday| DayName { weekday: Some(*weekday), ..DayName::default() }).collect();
            let refs: Vec<&DayName> = names.iter().collect();
            let found = dates(&refs, date("2024-01-01") + Days::new(offset));
            for (weekday, found) in weekdays.iter().zip(&found) {
                prop_assert_eq!(found.unwrap().weekday().number_from_monday(), *weekday);
            }
            for pair in found.windows(2) {
                prop_assert!(pair[0] < pair[1]);
            }
        }
    }
}
