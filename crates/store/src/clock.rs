//! What day and time it is at the gym.

use chrono::{DateTime, Datelike, LocalResult, NaiveDate, NaiveDateTime, NaiveTime, TimeZone, Utc};
use chrono_tz::Tz;
use lantern_core::gym::Gym;

use crate::rows::StoredClass;

/// Days that the application speaks of; PostgreSQL and the calendar know many more, no gym does.
pub const YEARS: std::ops::RangeInclusive<i32> = 2000..=2199;

/// A zone by its IANA name.
pub fn zone_named(name: &str) -> Option<Tz> {
    name.trim().parse().ok()
}

/// Where a gym is; UTC when its zone is none.
pub fn zone(gym: &Gym) -> Tz {
    zone_named(&gym.time_zone).unwrap_or(Tz::UTC)
}

/// All names of zones, for a list to choose from.
pub fn zones() -> impl Iterator<Item = &'static str> {
    chrono_tz::TZ_VARIANTS.iter().map(|zone| zone.name())
}

/// Today at the gym.
pub fn today(gym: &Gym) -> NaiveDate {
    day_at(gym, Utc::now())
}

/// The day at the gym at a moment.
pub fn day_at(gym: &Gym, moment: DateTime<Utc>) -> NaiveDate {
    moment.with_timezone(&zone(gym)).date_naive()
}

/// Now at the gym, as 2026-11-23 18:05.
pub fn now_text(gym: &Gym) -> String {
    Utc::now().with_timezone(&zone(gym)).format("%Y-%m-%d %H:%M").to_string()
}

/// A moment at the gym, as `Mon 23 Nov, 18:42` or as the gym tells the time.
pub fn time_text(gym: &Gym, moment: DateTime<Utc>) -> String {
    let local = moment.with_timezone(&zone(gym));
    format!("{}, {}", local.format("%a %-d %b"), gym.clock.told(local.time()))
}

/// The moment at which a class of a day begins. A time that the clock skips in spring is the one after the gap, one that it shows
/// twice in autumn is the first.
pub fn moment(gym: &Gym, day: NaiveDate, starts: NaiveTime) -> DateTime<Utc> {
    let zone = zone(gym);
    let mut local: NaiveDateTime = day.and_time(starts);
    for _ in 0..8 {
        match zone.from_local_datetime(&local) {
            LocalResult::Single(found) | LocalResult::Ambiguous(found, _) => {
                return found.with_timezone(&Utc);
            }
            LocalResult::None => local += chrono::Duration::minutes(30),
        }
    }
    Utc.from_utc_datetime(&local)
}

/// Whether a day is over at a moment: its last class has ended, or it has gone by where there is none.
pub fn is_over(gym: &Gym, day: NaiveDate, classes: &[StoredClass], now: DateTime<Utc>) -> bool {
    let of_day = classes.iter().filter(|class| class.day == day);
    let ends = of_day
        .map(|class| moment(gym, day, class.starts) + chrono::Duration::minutes(i64::from(class.minutes)));
    ends.max().map_or(day < day_at(gym, now), |end| end <= now)
}

/// Whether a day is one that the application speaks of.
pub fn is_usable(day: NaiveDate) -> bool {
    YEARS.contains(&day.year())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn gym(zone: &str) -> Gym {
        Gym { time_zone: zone.to_owned(), ..Gym::default() }
    }

    #[test]
    fn today_is_the_gyms() {
        let moment: DateTime<Utc> = "2026-11-22T11:30:00Z".parse().unwrap();
        let day = |zone: &str| day_at(&gym(zone), moment).to_string();
        assert_eq!((day("UTC"), day("Pacific/Auckland")), ("2026-11-22".into(), "2026-11-23".into()));
        let late: DateTime<Utc> = "2026-11-23T04:30:00Z".parse().unwrap();
        assert_eq!(day_at(&gym("America/Los_Angeles"), late).to_string(), "2026-11-22");
        assert_eq!(zone(&gym("Nowhere/At_All")), Tz::UTC);
    }

    #[test]
    fn a_day_is_over_when_its_last_class_is() {
        let gym = gym("Europe/Berlin");
        let day: NaiveDate = "2026-11-23".parse().unwrap();
        let class = |hour| StoredClass {
            id: crate::ClassId::new(1),
            day,
            starts: NaiveTime::from_hms_opt(hour, 0, 0).unwrap(),
            minutes: 60,
            coach: String::new(),
            booked: Vec::new(),
            away: Vec::new(),
            joined: Vec::new(),
        };
        let over = |classes: &[StoredClass], now: &str| is_over(&gym, day, classes, now.parse().unwrap());
        // 19:00 in Berlin in winter is 18:00 in Greenwich.
        assert!(!over(&[class(18), class(7)], "2026-11-23T17:59:00Z"));
        assert!(over(&[class(18), class(7)], "2026-11-23T18:00:00Z"));
        assert!(!over(&[], "2026-11-23T22:59:00Z") && over(&[], "2026-11-23T23:00:00Z"));
    }

    #[test]
    fn a_class_in_the_hour_that_the_clock_skips_or_repeats_has_one_moment() {
        let at = |day: &str, hour, minute| {
            let starts = NaiveTime::from_hms_opt(hour, minute, 0).unwrap();
            moment(&gym("Europe/Berlin"), day.parse().unwrap(), starts).to_string()
        };
        assert_eq!(at("2026-07-01", 18, 0), "2026-07-01 16:00:00 UTC");
        assert_eq!(at("2026-12-01", 18, 0), "2026-12-01 17:00:00 UTC");
        // On 29 March 2026 the clock goes from 2:00 to 3:00; on 25 October it shows 2:30 twice.
        assert_eq!(at("2026-03-29", 2, 30), "2026-03-29 01:00:00 UTC");
        assert_eq!(at("2026-10-25", 2, 30), "2026-10-25 00:30:00 UTC");
    }
}
