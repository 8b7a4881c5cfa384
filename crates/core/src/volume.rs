//! How much of each kind of work a week asks for, beside what is usual: by family of movements and by joint.

use std::collections::BTreeMap;

use chrono::NaiveDate;

use crate::movement::{Catalogue, Pattern, Unit};
use crate::pacing::{Measure, Model, intended_window};
use crate::session::{Part, PartKind, Total, per_round, totals};

/// Families that are told, in this order.
const FAMILIES: [Pattern; 11] = [
    Pattern::Squat,
    Pattern::Hinge,
    Pattern::Lunge,
    Pattern::Olympic,
    Pattern::PressVertical,
    Pattern::PressHorizontal,
    Pattern::PullVertical,
    Pattern::PullHorizontal,
    Pattern::Core,
    Pattern::Jump,
    Pattern::Burpee,
];
/// Joints that are told, as data files name them, with their words.
const JOINTS: [(&str, &str); 7] = [
    ("shoulder", "shoulders"),
    ("elbow", "elbows"),
    ("wrist", "wrists"),
    ("low_back", "low back"),
    ("hip", "hips"),
    ("knee", "knees"),
    ("ankle", "ankles"),
];
/// Weeks before that say what is usual.
pub const WEEKS_BEFORE: u64 = 4;
/// A week that asks for so many times the usual, and for at least so many repetitions, is told. Coaching judgement.
const MUCH: f64 = 1.5;
const FROM: f64 = 60.0;
/// A family that is asked for so many times on each of two days, one after the other, is told: what is worked that much is still tired the day after. Coaching judgement.
const AGAIN: f64 = 40.0;

/// Repetitions of the middle of a class, by family, and by joint weighted with how much each movement asks of it.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Volume {
    families: BTreeMap<Pattern, f64>,
    joints: BTreeMap<&'static str, f64>,
}

impl Volume {
    /// Of a day's parts. Where rounds have no number, those that are meant count; parts for at home do not.
    pub fn of<'a>(parts: impl Iterator<Item = &'a Part>, catalogue: &Catalogue) -> Self {
        let mut volume = Self::default();
        for part in parts.filter(|part| part.kind != PartKind::Home) {
            let (work, times) = work_of(part, catalogue);
            for total in work.iter().filter(|total| total.unit == Unit::Reps) {
                volume.add(total, times, catalogue);
            }
        }
        volume
    }

    fn add(&mut self, total: &Total, times: f64, catalogue: &Catalogue) {
        let Some(movement) = catalogue.get(&total.movement) else { return };
        let reps = total.amount * times;
        *self.families.entry(movement.pattern).or_default() += reps;
        for (joint, words) in JOINTS {
            *self.joints.entry(words).or_default() += reps * movement.joint(joint);
        }
    }

    /// The sum of several.
    pub fn sum<'a>(all: impl Iterator<Item = &'a Self>) -> Self {
        let mut sum = Self::default();
        for volume in all {
            for (family, reps) in &volume.families {
                *sum.families.entry(*family).or_default() += reps;
            }
            for (joint, reps) in &volume.joints {
                *sum.joints.entry(joint).or_default() += reps;
            }
        }
        sum
    }
}

/// The work of a part, and how often it is done.
fn work_of(part: &Part, catalogue: &Catalogue) -> (Vec<Total>, f64) {
    let all = totals(&part.tree);
    if !all.iter().any(|total| total.open) {
        return (all, 1.0);
    }
    let window = intended_window(part, catalogue, Model::standard());
    let a_round = per_round(&part.tree);
    let (low, high) = (window.low.or(window.high), window.high.or(window.low));
    match (window.measure, low, high) {
        (Measure::Rounds, Some(low), Some(high)) if !a_round.is_empty() => {
            (a_round, f64::midpoint(low, high))
        }
        _ => (all, 1.0),
    }
}

/// One kind of work in a week.
#[derive(Clone, Debug, PartialEq)]
pub struct Asked {
    /// `pull vertical`, or `shoulders`.
    pub name: &'static str,
    /// Repetitions until today, of the days behind.
    pub so_far: f64,
    /// What the days to come add.
    pub to_come: f64,
    /// A usual week: the mean of those before.
    pub usual: f64,
}

impl Asked {
    /// The whole week.
    pub fn week(&self) -> f64 {
        self.so_far + self.to_come
    }

    /// Whether it is much more than usual.
    pub fn is_much(&self) -> bool {
        self.usual > 0.0 && self.week() >= FROM && self.week() >= self.usual * MUCH
    }
}

/// A family that two days ask for, one right after the other.
#[derive(Clone, Debug, PartialEq)]
pub struct Running {
    /// As coaches call it.
    pub name: &'static str,
    /// The first of the two days.
    pub first: NaiveDate,
    /// Repetitions on the first and on the second.
    pub reps: (f64, f64),
}

/// Families that are worked two days running; the days in their order.
pub fn running(days: &[(NaiveDate, Volume)]) -> Vec<Running> {
    let pairs = days.windows(2).filter(|pair| pair[0].0.succ_opt() == Some(pair[1].0));
    let of_pair = |pair: &[(NaiveDate, Volume)]| {
        let reps = |volume: &Volume, family| volume.families.get(&family).copied().unwrap_or(0.0);
        let both = |family: Pattern| {
            let reps = (reps(&pair[0].1, family), reps(&pair[1].1, family));
            let is_much = reps.0 >= AGAIN && reps.1 >= AGAIN;
            is_much.then_some(Running { name: family.name(), first: pair[0].0, reps })
        };
        FAMILIES.into_iter().filter_map(both).collect::<Vec<_>>()
    };
    pairs.flat_map(of_pair).collect()
}

/// A week's families and joints, those that there are; `before` are the sums of the weeks before, which say what is usual.
pub fn week(so_far: &Volume, to_come: &Volume, before: &[Volume]) -> (Vec<Asked>, Vec<Asked>) {
    let weeks = before.len().max(1) as f64;
    let usual = Volume::sum(before.iter());
    let of_families = FAMILIES.into_iter().map(|family| {
        let of = |volume: &Volume| volume.families.get(&family).copied().unwrap_or(0.0);
        Asked { name: family.name(), so_far: of(so_far), to_come: of(to_come), usual: of(&usual) / weeks }
    });
    let of_joints = JOINTS.into_iter().map(|(_, words)| {
        let of = |volume: &Volume| volume.joints.get(words).copied().unwrap_or(0.0);
        Asked { name: words, so_far: of(so_far), to_come: of(to_come), usual: of(&usual) / weeks }
    });
    let some = |asked: &Asked| asked.week() >= 1.0 || asked.usual >= 1.0;
    (of_families.filter(some).collect(), of_joints.filter(some).collect())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::read::read;

    fn of(text: &str) -> Volume {
        let catalogue = Catalogue::standard();
        Volume::of(read(text, catalogue).session.parts.iter(), catalogue)
    }

    fn reps(volume: &Volume, family: Pattern) -> f64 {
        volume.families.get(&family).copied().unwrap_or(0.0)
    }

    #[test]
    fn fixed_work_counts_as_written_and_rounds_without_number_as_they_are_meant() {
        let fixed = of("For time\n21-15-9\nthrusters 40/30 kg\npull-ups");
        assert_eq!((reps(&fixed, Pattern::Squat), reps(&fixed, Pattern::PullVertical)), (45.0, 45.0));
        let open = of("AMRAP 20\n5 pull-ups\n10 push-ups\n15 air squats\ngoal 14-16 rounds");
        let squats = reps(&open, Pattern::Squat);
        assert!((15.0 * 14.0..=15.0 * 17.0).contains(&squats), "{squats}");
        assert!(open.joints["shoulders"] > 0.0 && open.joints["knees"] > 0.0);
    }

    #[test]
    fn a_week_is_held_against_those_before() {
        let (day, other) = (of("For time\n100 pull-ups"), of("For time\n40 push-ups"));
        let before =
            [Volume::sum([&day].into_iter()), Volume::default(), Volume::default(), Volume::default()];
        let (families, joints) = week(&day, &other, &before);
        let pulls = families.iter().find(|asked| asked.name == Pattern::PullVertical.name()).unwrap();
        assert_eq!((pulls.so_far, pulls.to_come, pulls.usual), (100.0, 0.0, 25.0));
        assert!(pulls.is_much());
        let presses = families.iter().find(|asked| asked.name == Pattern::PressHorizontal.name()).unwrap();
        assert!(presses.to_come == 40.0 && !presses.is_much(), "nothing is known of what is usual");
        assert!(joints.iter().any(|asked| asked.name == "shoulders"));
        let week = |usual| Asked { usual, so_far: 60.0, to_come: 40.0, ..pulls.clone() };
        assert!(week(100.0 / MUCH).is_much() && !week(100.0 / MUCH + 1.0).is_much());
        let little = Asked { so_far: FROM / 2.0, to_come: FROM / 4.0, usual: 1.0, ..pulls.clone() };
        assert!(!little.is_much(), "a few are never much");
        assert!(!families.iter().any(|asked| asked.name == Pattern::Lunge.name()));
    }
    #[test]
    fn what_is_worked_two_days_running_is_told() {
        let date = |day| NaiveDate::from_ymd_opt(2026, 11, day).unwrap();
        let (squats, few) = (of("For time\n60 air squats"), of("For time\n20 air squats"));
        let told = |days: &[(NaiveDate, Volume)]| running(days);
        let both = told(&[(date(23), squats.clone()), (date(24), squats.clone())]);
        assert_eq!((both.len(), both[0].name, both[0].first), (1, Pattern::Squat.name(), date(23)));
        assert!(told(&[(date(23), squats.clone()), (date(24), few)]).is_empty());
        assert!(told(&[(date(23), squats.clone()), (date(25), squats)]).is_empty());
    }
}
