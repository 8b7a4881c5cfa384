//! Bookings as a booking service would send them, and a small stand-in for such a service.
//!
//! The format is CSV with the columns `starts,name,state`; `state` is `booked`, `waiting` or `cancelled`. It is
//! described in `docs/formats.md`.

use chrono::{Datelike, NaiveDate, NaiveTime};

use crate::MemberId;
use crate::members::StoredMember;

/// Reads a feed: who is booked into the class that starts then, and what could not be used, line by line.
pub fn from_csv(text: &str, starts: NaiveTime, known: &[StoredMember]) -> (Vec<MemberId>, Vec<String>) {
    let mut reader =
        csv::ReaderBuilder::new().flexible(true).trim(csv::Trim::All).from_reader(text.as_bytes());
    let columns: Vec<String> =
        reader.headers().map(|row| row.iter().map(str::to_lowercase).collect()).unwrap_or_default();
    let column = |name: &str| columns.iter().position(|column| column == name);
    let Some(name_at) = column("name") else {
        return (
            Vec::new(),
            vec!["line 1: there is no column `name`; the first line must name the columns".into()],
        );
    };
    let (mut booked, mut problems) = (Vec::new(), Vec::new());
    for (n, record) in reader.records().enumerate() {
        let line = n + 2;
        let Ok(record) = record else {
            problems.push(format!("line {line}: this row cannot be read"));
            continue;
        };
        let cell = |at: Option<usize>| at.and_then(|at| record.get(at)).unwrap_or_default();
        let time = cell(column("starts"));
        if !time.is_empty() {
            match NaiveTime::parse_from_str(time, "%H:%M") {
                Ok(time) if time == starts => {}
                Ok(_) => continue,
                Err(_) => {
                    problems.push(format!(
                        "line {line}: column `starts` is `{time}`, but it should be a time such as 18:00"
                    ));
                    continue;
                }
            }
        }
        let name = cell(Some(name_at));
        match (
            cell(column("state")).to_lowercase().as_str(),
            known.iter().find(|known| known.member.name == name),
        ) {
            ("waiting" | "cancelled", _) => {}
            ("booked" | "", Some(member)) if booked.contains(&member.id) => {}
            ("booked" | "", Some(member)) => booked.push(member.id),
            ("booked" | "", None) => problems.push(format!(
                "line {line}: nobody here is called `{name}`; take them in as a drop-in, or correct the name"
            )),
            (state, _) => problems.push(format!(
                "line {line}: column `state` is `{state}`, but it should be booked, waiting or cancelled"
            )),
        }
    }
    (booked, problems)
}

/// What a booking service would send for a class: made up from the date, the same each time. Evenings are full,
/// mornings are half full, one in twelve cancels.
pub fn stand_in<'a>(day: NaiveDate, starts: NaiveTime, names: impl Iterator<Item = &'a str>) -> String {
    let time = starts.format("%H:%M");
    let early = starts < NaiveTime::from_hms_opt(12, 0, 0).unwrap_or_default();
    let mut out = csv::Writer::from_writer(Vec::new());
    let _ = out.write_record(["starts", "name", "state"]);
    for (n, name) in names.enumerate() {
        let dice = (n as u32 * 7 + day.ordinal() * 5) % 12;
        let comes_now = if early { n % 2 == day.ordinal() as usize % 2 } else { true };
        if comes_now {
            let state = if dice == 11 && early { "cancelled" } else { "booked" };
            let _ = out.write_record([time.to_string().as_str(), name, state]);
        }
    }
    String::from_utf8(out.into_inner().unwrap_or_default()).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use lantern_core::member::Member;

    use super::*;

    fn known() -> Vec<StoredMember> {
        let stored = |(n, name): (usize, &&str)| StoredMember {
            id: MemberId::new(n as i64 + 1),
            member: Member { name: (*name).to_owned(), ..Member::default() },
            shown: crate::name_shown::NameShown::default(),
        };
        ["Ada", "Ben", "Cyd"].iter().enumerate().map(stored).collect()
    }

    fn at(hour: u32) -> NaiveTime {
        NaiveTime::from_hms_opt(hour, 0, 0).unwrap()
    }

    #[test]
    fn a_feed_books_who_is_known_and_names_what_it_cannot_use() {
        let feed = "starts,name,state\n18:00,Ada,booked\n07:00,Ben,booked\n18:00,Cyd,cancelled\n18:00,Dov,booked\nsoon,Ada,booked\n18:00,Ben,maybe\n18:00,Ada,booked\n";
        let (booked, problems) = from_csv(feed, at(18), &known());
        assert_eq!(booked, [MemberId::new(1)]);
        assert_eq!(problems.len(), 3, "{problems:?}");
        assert!(problems[0].starts_with("line 5") && problems[0].contains("Dov"));
        assert!(problems[1].contains("soon") && problems[2].contains("maybe"));
        assert!(from_csv("who\nAda\n", at(18), &known()).1[0].contains("no column `name`"));
    }

    #[test]
    fn the_stand_in_says_the_same_each_time_and_reads_back() {
        let day = NaiveDate::from_ymd_opt(2026, 11, 23).unwrap();
        let names = ["Ada", "Ben", "Cyd"];
        let evening = stand_in(day, at(18), names.into_iter());
        assert_eq!(evening, stand_in(day, at(18), names.into_iter()));
        let (booked, problems) = from_csv(&evening, at(18), &known());
        assert_eq!((booked.len(), problems.len()), (3, 0));
        let (morning, _) = from_csv(&stand_in(day, at(7), names.into_iter()), at(7), &known());
        assert!(morning.len() < 3);
    }
}
