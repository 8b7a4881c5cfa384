//! What goes on the bar for the sets that are left, after what has become of the last one.

use super::bar::{LoadedBar, nearest_bar};
use super::history::Record;
use super::sheet::{LiftSheet, SetKind, SetLoad};
use crate::gym::Gym;
use crate::units::plain;

/// From this effort on a set was hard enough that the next one of the same weight may be missed, and below this one there was much left. Common coaching
/// practice with repetitions in reserve (Zourdos et al. 2016).
const HARD: f64 = 9.5;
const EASY: f64 = 6.0;
/// Shares of what was on the bar that follow: after a miss, after a hard set, after an easy one. Coaching judgement: a step that most bars can make.
const AFTER_A_MISS: f64 = 0.9;
const AFTER_HARD: f64 = 0.95;
const AFTER_EASY: f64 = 1.025;

/// A load for the sets that are left, and why it is another one.
#[derive(Clone, Debug, PartialEq)]
pub struct Left {
    /// What goes on the bar.
    pub load: LoadedBar,
    /// Why.
    pub why: String,
}

/// The load of a set that is left, where the last one says that it should be another than planned; nothing where it stands.
pub fn left_after(last: &Record, planned: &LoadedBar, gym: &Gym) -> Option<Left> {
    let rpe = last.rpe;
    let (share, why) = if last.missed {
        (AFTER_A_MISS, format!("{} was missed", last.load.show(gym.unit)))
    } else {
        match rpe {
            Some(rpe) if rpe >= HARD => {
                (AFTER_HARD, format!("RPE {} with {}", plain(rpe), last.load.show(gym.unit)))
            }
            Some(rpe) if rpe <= EASY => {
                (AFTER_EASY, format!("RPE {} with {}", plain(rpe), last.load.show(gym.unit)))
            }
            _ => return None,
        }
    };
    let wanted = last.load.share(share);
    // Whoever climbs goes on no higher than planned after a miss, and no lower than planned after an easy set.
    let wanted = if share < 1.0 { wanted.min(planned.total) } else { wanted.max(planned.total) };
    let load = nearest_bar(gym, planned.bar, wanted);
    (load.total != planned.total).then_some(Left { load, why })
}

/// The work sets of a sheet as they are called now, `5 x 82.5` or `5 by feel`: those that are left follow what has become of the last one; and why, where
/// they are others than planned. Sets of today come newest first.
pub fn sets_now(sheet: &LiftSheet, done: &[Record], gym: &Gym) -> (Vec<String>, Option<String>) {
    let mut why = None;
    let mut called = |(n, set): (usize, &SetLoad)| {
        let reps = set.reps_called();
        let Some(planned) = &set.load else { return format!("{reps} by feel") };
        let left = done.first().filter(|_| n >= done.len());
        let left = left.and_then(|last| left_after(last, planned, gym));
        let total = left.as_ref().map_or(planned.total, |left| left.load.total);
        why = why.take().or(left.map(|left| left.why));
        format!("{reps} x {}", plain(total.in_unit(gym.unit)))
    };
    let work = sheet.sets.iter().filter(|set| set.kind == SetKind::Work);
    (work.enumerate().map(&mut called).collect(), why)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::member::{Max, Member};
    use crate::movement::Catalogue;
    use crate::read::read;
    use crate::strength::{Source, lift_sheet};
    use crate::units::Kilograms;

    #[test]
    fn a_miss_and_a_hard_set_take_off_and_an_easy_one_adds() {
        let gym = Gym::default();
        let kg = Kilograms::from_kg;
        let planned = |total| nearest_bar(&gym, kg(20.0), kg(total));
        let set = |load, rpe, missed| Record {
            load: kg(load),
            reps: 5,
            rpe,
            missed,
            source: Source::ClassResult,
            days_old: 0,
            kept: None,
        };
        let left = |last: &Record, next| {
            left_after(last, &planned(next), &gym).map(|left| (left.load.total.kg(), left.why))
        };
        assert_eq!(left(&set(100.0, None, true), 100.0), Some((90.0, "100 kg was missed".to_owned())));
        assert_eq!(
            left(&set(100.0, Some(10.0), false), 105.0),
            Some((95.0, "RPE 10 with 100 kg".to_owned()))
        );
        assert_eq!(left(&set(100.0, Some(6.0), false), 100.0), Some((102.5, "RPE 6 with 100 kg".to_owned())));
        // What is planned stands where the last set was as it should be, and where it is lighter or heavier already.
        assert_eq!(left(&set(100.0, Some(8.0), false), 100.0), None);
        assert_eq!(left(&set(100.0, None, true), 60.0), None);
        assert_eq!(left(&set(100.0, Some(6.0), false), 110.0), None);
    }

    #[test]
    fn sets_are_called_as_planned_until_the_last_one_says_otherwise() {
        let (gym, catalogue) = (Gym::default(), Catalogue::standard());
        let part = read("Back squat 3x5 @ 80%", catalogue).session.parts.remove(0);
        let squat = catalogue.find("back-squat").unwrap();
        let maxes = [(squat.id.clone(), Max::on_file(Kilograms::from_kg(100.0)))].into();
        let sheet = lift_sheet(&part, squat, &Member { maxes, ..Member::default() }, &gym, catalogue);
        let (planned, why) = sets_now(&sheet, &[], &gym);
        assert_eq!((planned, why), (vec!["5 x 80".to_owned(); 3], None));
        let missed = Record {
            load: Kilograms::from_kg(80.0),
            reps: 3,
            rpe: None,
            missed: true,
            source: Source::ClassResult,
            days_old: 0,
            kept: None,
        };
        let (after, why) = sets_now(&sheet, &[missed], &gym);
        assert_eq!(after, ["5 x 80", "5 x 72.5", "5 x 72.5"]);
        assert_eq!(why.as_deref(), Some("80 kg was missed"));
    }
}
