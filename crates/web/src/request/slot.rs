//! A day, or one class of it: `2026-11-23`, or `2026-11-23T18:00`. Addresses of all screens begin with it.

use std::fmt;
use std::str::FromStr;

use chrono::{NaiveDate, NaiveTime};
use lantern_core::gym::ClockFace;
use lantern_store::clock::is_usable;

/// Which day, and which class of it; without a start the whole gym is planned for at once.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub(crate) struct Slot {
    pub day: NaiveDate,
    pub starts: Option<NaiveTime>,
}

impl Slot {
    /// `Mon 23 Nov`, or `Mon 23 Nov, 18:00`, as a gym tells the time.
    pub fn name(self, clock: ClockFace) -> String {
        let day = self.day.format("%a %-d %b").to_string();
        self.starts.map_or(day.clone(), |starts| format!("{day}, {}", clock.told(starts)))
    }

    /// `18:00` as in addresses, or nothing for the whole gym.
    pub fn starts_text(&self) -> String {
        self.starts.map_or(String::new(), |starts| starts.format("%H:%M").to_string())
    }
}

impl From<NaiveDate> for Slot {
    fn from(day: NaiveDate) -> Self {
        Self { day, starts: None }
    }
}

impl fmt::Display for Slot {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}", self.day)?;
        if self.starts.is_some() { write!(f, "T{}", self.starts_text()) } else { Ok(()) }
    }
}

/// The text is neither a day nor a class of one.
#[derive(Debug)]
pub(crate) struct NoSlot;

impl FromStr for Slot {
    type Err = NoSlot;

    fn from_str(text: &str) -> Result<Self, NoSlot> {
        let (day, starts) = text.split_once('T').map_or((text, None), |(day, starts)| (day, Some(starts)));
        let starts = starts.map(|starts| NaiveTime::parse_from_str(starts, "%H:%M")).transpose();
        // Ten digits and two dashes: chrono also reads years that no calendar and no database knows.
        let day: NaiveDate =
            if day.len() == 10 { day.parse().map_err(|_| NoSlot)? } else { return Err(NoSlot) };
        if !is_usable(day) {
            return Err(NoSlot);
        }
        Ok(Self { day, starts: starts.map_err(|_| NoSlot)? })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_slot_is_a_day_or_a_class_and_reads_back() {
        for text in ["2026-11-23", "2026-11-23T18:00", "2026-11-23T07:30"] {
            assert_eq!(text.parse::<Slot>().unwrap().to_string(), text);
        }
        assert_eq!(
            "2026-11-23T18:00".parse::<Slot>().unwrap().name(ClockFace::TwentyFour),
            "Mon 23 Nov, 18:00"
        );
        for wrong in [
            "today",
            "2026-11-23T",
            "2026-11-23T25:00",
            "2026-13-01",
            "-262143-01-01",
            "+262142-12-31",
            "1999-12-31",
            "2200-01-01",
            "26-1-1",
        ] {
            assert!(wrong.parse::<Slot>().is_err(), "{wrong}");
        }
    }
}
