//! What a result says of itself: how its bouts went, and what it is the first of.

use super::{Done, Entry};
use crate::pacing::Side;
use crate::versions::VersionName;

/// Bouts that differ by less than this share are even.
const EVEN: f64 = 0.04;
/// The last bout is clearly slower, or quicker, than the first by more than this share.
const CLEARLY: f64 = 0.08;
/// Fewest bouts that have a shape.
const FEWEST: usize = 3;

impl Entry {
    /// The likely reason for where it came to lie, from its bouts; none without bouts, or where they say nothing.
    pub fn likely_reason(&self) -> Option<String> {
        let Done::Intervals { seconds } = &self.done else { return None };
        if seconds.len() < FEWEST {
            return None;
        }
        let (first, last) = (f64::from(*seconds.first()?), f64::from(*seconds.last()?));
        let (least, most) = (f64::from(*seconds.iter().min()?), f64::from(*seconds.iter().max()?));
        let fade = last / first.max(1.0) - 1.0;
        let side = self.beside().map(|beside| beside.side);
        if fade > CLEARLY {
            let percent = (fade * 100.0).round();
            return Some(format!("the last bout took {percent} % longer than the first: begin slower"));
        }
        if fade < -CLEARLY {
            return Some("the last bout was the quickest: there was more in the ones before".to_owned());
        }
        match side {
            _ if most / least.max(1.0) - 1.0 > EVEN => None,
            Some(Side::Late) => {
                Some("even all the way: the load or the work was too much, not the pace".to_owned())
            }
            Some(Side::Early) => Some("even all the way, with room: more load or more work".to_owned()),
            _ => None,
        }
    }

    /// What it is the first of, among earlier results of the same piece: as written, or without a movement swapped.
    pub fn first_of<'a>(&self, earlier: impl Iterator<Item = &'a Self>) -> Option<&'static str> {
        if self.done == Done::Stopped {
            return None;
        }
        let before: Vec<VersionName> = earlier.map(|entry| entry.version).collect();
        let swapped =
            |version: &VersionName| !matches!(version, VersionName::AsWritten | VersionName::Lighter);
        match self.version {
            _ if before.is_empty() => None,
            VersionName::AsWritten if !before.contains(&VersionName::AsWritten) => {
                Some("first time as written")
            }
            VersionName::AsWritten | VersionName::Lighter if before.iter().all(swapped) => {
                Some("first time without a swap")
            }
            _ => None,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::book::Predicted;
    use crate::pacing::Measure;

    fn bouts(seconds: &[u32]) -> Entry {
        let predicted = Predicted {
            measure: Measure::SlowestInterval,
            spread: [100.0, 110.0, 120.0],
            window: [Some(100.0), Some(125.0)],
            rests: None,
        };
        Entry {
            version: VersionName::AsWritten,
            done: Done::Intervals { seconds: seconds.to_vec() },
            said: String::new(),
            predicted: Some(predicted),
            value: seconds.iter().max().map(|slowest| f64::from(*slowest)),
            at_least: false,
            gone_on: None,
            effort: None,
            hurt: false,
            note: String::new(),
        }
    }

    #[test]
    fn bouts_tell_whether_it_was_the_pace_or_the_work() {
        let of = |seconds: &[u32]| bouts(seconds).likely_reason().unwrap_or_default();
        assert!(of(&[112, 115, 118, 124]).contains("11 % longer than the first"));
        assert!(of(&[118, 115, 105]).contains("more in the ones before"));
        assert!(of(&[130, 131, 132]).contains("too much, not the pace"));
        assert!(of(&[95, 96, 95]).contains("with room"));
        for quiet in [&[112, 113, 112][..], &[112, 120], &[112, 120, 113]] {
            assert_eq!(of(quiet), "");
        }
    }

    #[test]
    fn a_first_time_needs_times_before_it() {
        let of = |version| Entry { version, ..bouts(&[110, 110, 110]) };
        use VersionName::{AsWritten, FirstLight, Lighter, Simpler};
        let told = |now, before: &[VersionName]| {
            let before: Vec<Entry> = before.iter().map(|version| of(*version)).collect();
            of(now).first_of(before.iter())
        };
        assert_eq!(told(AsWritten, &[Simpler, Lighter]), Some("first time as written"));
        assert_eq!(told(Lighter, &[Simpler, FirstLight]), Some("first time without a swap"));
        assert_eq!(told(Lighter, &[Simpler, Lighter]), None);
        assert_eq!(told(AsWritten, &[]), None);
        assert_eq!(told(Simpler, &[FirstLight]), None);
        let stopped = Entry { done: Done::Stopped, ..of(AsWritten) };
        assert_eq!(stopped.first_of([of(Simpler)].iter()), None);
    }
}
