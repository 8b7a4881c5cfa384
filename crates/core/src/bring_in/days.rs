//! Days as tables write them.

use chrono::NaiveDate;

/// Which of two numbers with a stroke between them is the day.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum DayOrder {
    /// 31/3/2026.
    DayFirst,
    /// 3/31/2026.
    MonthFirst,
}

/// A day: 2026-03-31, 31.3.2026, or with strokes in the order that is said; what the order leaves open is asked.
///
/// # Errors
/// What was expected.
pub(super) fn day(text: &str, order: Option<DayOrder>) -> Result<NaiveDate, String> {
    // A time behind it is no part of the day.
    let text = text.split(['T', ' ']).next().unwrap_or_default();
    let wrong = || format!("`{text}` is no day such as 2026-03-31");
    let numbers = |by: char| -> Option<[u32; 3]> {
        let all: Vec<u32> = text.split(by).map(|part| part.parse().ok()).collect::<Option<_>>()?;
        all.try_into().ok()
    };
    let of = |year: u32, month: u32, day: u32| {
        let year = if year < 100 { 2000 + year } else { year };
        let known = NaiveDate::from_ymd_opt(i32::try_from(year).unwrap_or_default(), month, day);
        known.filter(|_| (1950..2200).contains(&year)).ok_or_else(wrong)
    };
    if let Some([year, month, day]) = numbers('-') {
        return if year > 31 { of(year, month, day) } else { Err(wrong()) };
    }
    if let Some([day, month, year]) = numbers('.') {
        return of(year, month, day);
    }
    let Some([first, second, year]) = numbers('/') else { return Err(wrong()) };
    match order {
        _ if first > 31 => of(first, second, year),
        Some(DayOrder::DayFirst) => of(year, second, first),
        Some(DayOrder::MonthFirst) => of(year, first, second),
        // Only one of them can be a month.
        None if first > 12 => of(year, second, first),
        None if second > 12 => of(year, first, second),
        None => Err(format!("`{text}`: say whether the day or the month comes first")),
    }
}

/// The order that a table's own days show: one of them leaves no choice, and none the other.
pub(super) fn shown_order<'a>(days: impl Iterator<Item = &'a str>) -> Option<DayOrder> {
    let (mut day_first, mut month_first) = (false, false);
    for text in days {
        let mut numbers = text.split('/').map(str::parse::<u32>);
        if let (Some(Ok(first @ ..=31)), Some(Ok(second))) = (numbers.next(), numbers.next()) {
            day_first |= first > 12;
            month_first |= second > 12;
        }
    }
    match (day_first, month_first) {
        (true, false) => Some(DayOrder::DayFirst),
        (false, true) => Some(DayOrder::MonthFirst),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn one_day_of_a_table_shows_the_order_of_all() {
        let of = |days: &[&str]| shown_order(days.iter().copied());
        assert_eq!(of(&["3/4/2026", "3/13/2026", ""]), Some(DayOrder::MonthFirst));
        assert_eq!(of(&["3/4/2026", "2026/3/13", "31/3/2026"]), Some(DayOrder::DayFirst));
        assert_eq!(of(&["3/4/2026"]), None);
        assert_eq!(of(&["13/3/2026", "3/13/2026"]), None, "a table of two minds is asked about");
    }

    #[test]
    fn days_are_read_as_they_are_written_and_asked_about_where_both_could_be() {
        let of = |text, order| day(text, order).map(|day| day.to_string());
        let last_of_march = Ok("2026-03-31".to_owned());
        for text in ["2026-03-31", "31.3.2026", "31/3/2026", "3/31/26", "2026/3/31", "2026-03-31T18:00"] {
            assert_eq!(of(text, None), last_of_march, "{text}");
        }
        assert!(of("3/4/2026", None).unwrap_err().contains("comes first"));
        assert_eq!(of("3/4/2026", Some(DayOrder::DayFirst)), Ok("2026-04-03".to_owned()));
        assert_eq!(of("3/4/2026", Some(DayOrder::MonthFirst)), Ok("2026-03-04".to_owned()));
        for text in ["", "yesterday", "31.2.2026", "12-3-4", "1/2"] {
            assert!(of(text, None).is_err(), "{text}");
        }
    }
}
