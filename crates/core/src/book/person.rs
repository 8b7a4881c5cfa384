//! One person's weeks: lifts, pieces, versions and sessions over time, and what a coach should look at.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{Datelike, Days, NaiveDate};

use super::{Entry, Outcome, shown_by};
use crate::gym::Gym;
use crate::pacing::Side;
use crate::strength::{Formula, Record, Source, to_be_asked};
use crate::units::Kilograms;
use crate::versions::VersionName;

/// What the sets of one day show of a lift.
#[derive(Clone, Debug, PartialEq)]
pub struct LiftPoint {
    /// The day.
    pub day: NaiveDate,
    /// The 1RM that they show, with its range.
    pub value: Kilograms,
    /// The lower end.
    pub low: Kilograms,
    /// The upper end.
    pub high: Kilograms,
    /// How the best of them came to be on record.
    pub source: Source,
    /// More than on every day before.
    pub best: bool,
}

/// A lift day by day, oldest first: what the sets of each day show by a formula. Sets come with their day.
pub fn lift_over_time(sets: &[(NaiveDate, Record)], formula: Formula) -> Vec<LiftPoint> {
    let mut days: BTreeMap<NaiveDate, Vec<Record>> = BTreeMap::new();
    for (day, record) in sets {
        // As it was on that day: what has aged since is said elsewhere.
        days.entry(*day).or_default().push(Record { days_old: 0, ..*record });
    }
    let mut most = Kilograms::default();
    let mut point = |(day, of_day): (NaiveDate, Vec<Record>)| {
        let shown = shown_by(of_day.iter().copied(), formula)?;
        let source = of_day.iter().find(|record| record.estimate(formula) == Some(shown.value))?.source;
        let best = most > Kilograms::default() && shown.value > most;
        most = most.max(shown.value);
        Some(LiftPoint { day, value: shown.value, low: shown.low, high: shown.high, source, best })
    };
    days.into_iter().filter_map(&mut point).collect()
}

/// What somebody's versions have become: `First light to Lighter in nine weeks`; none where they are the same as at first, or few.
pub fn versions_over_time(oldest_first: &[(NaiveDate, VersionName)]) -> Option<String> {
    // Around a limit, and at home, it says nothing of somebody's way.
    let on_the_way: Vec<_> = oldest_first
        .iter()
        .filter(|(_, version)| !matches!(version, VersionName::AroundIt | VersionName::AtHome))
        .collect();
    if on_the_way.len() < 2 * FEW {
        return None;
    }
    let usual = |of: &[&(NaiveDate, VersionName)]| {
        let mut all: Vec<VersionName> = of.iter().map(|(_, version)| *version).collect();
        all.sort();
        all[all.len() / 2]
    };
    let (first, last) = (usual(&on_the_way[..FEW]), usual(&on_the_way[on_the_way.len() - FEW..]));
    let weeks = (on_the_way.last()?.0 - on_the_way.first()?.0).num_days() / 7;
    let known = first != last && weeks > 0;
    known.then(|| format!("{} to {} in {weeks} weeks", first.label(), last.label()))
}

/// How many results say what somebody usually does.
const FEW: usize = 3;

/// Sessions of each week, oldest first, of so many weeks up to a day; days with a result count, and days booked.
pub fn sessions_kept(days: &BTreeSet<NaiveDate>, today: NaiveDate, weeks: u64) -> Vec<(NaiveDate, usize)> {
    let monday = today - Days::new(u64::from(today.weekday().num_days_from_monday()));
    let week = |ago: u64| {
        let from = monday - Days::new(7 * ago);
        (from, days.range(from..from + Days::new(7)).count())
    };
    (0..weeks).rev().map(week).collect()
}

/// What a coach should look at about somebody.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Attention {
    /// Not seen for so many days.
    Away(i64),
    /// After the window so many times of the last.
    Late(usize, usize),
    /// Before the window so many times of the last.
    Early(usize, usize),
    /// A lift that has not been tested for so many weeks.
    Stale(String, i64),
    /// A lift of which a class has shown a better max that nobody was asked about.
    Waits(String, String),
    /// A lift that was never tested, only stated or inferred.
    Untested(String),
    /// A lift that shows no more than so many weeks ago.
    Stalls(String, i64),
}

/// Days of results that are looked at for whom a coach should look at.
pub const LOOKED_BACK_DAYS: u64 = 84;
/// Lifts whose tests a coach plans with.
pub const TESTED: [&str; 4] = ["back-squat", "deadlift", "strict-press", "clean"];
/// Days without a session from which somebody is missed.
const MISSED_DAYS: i64 = 21;
/// Results that are looked at, and how many of them on one side of the window are a habit.
const LAST: usize = 6;
const HABIT: usize = 4;
/// Weeks after which a test is old: a tested max stands for twelve weeks of training.
const STALE_WEEKS: i64 = 12;
/// Weeks without more on the bar that are a standstill, in a lift that was done on so many days.
const STALL_WEEKS: i64 = 8;
const STALL_DAYS: usize = 3;

/// What should be looked at: sessions and results newest first, and each lift by its name with its sets and their days.
pub fn attention(
    last_seen: Option<NaiveDate>,
    newest_first: &[&Entry],
    lifts: &[(String, Vec<(NaiveDate, Record)>)],
    (today, gym): (NaiveDate, &Gym),
) -> Vec<Attention> {
    let mut all = Vec::new();
    let away = last_seen.map(|day| (today - day).num_days()).filter(|days| *days >= MISSED_DAYS);
    all.extend(away.map(Attention::Away));
    let sides: Vec<Side> =
        newest_first.iter().filter_map(|entry| Some(entry.beside()?.side)).take(LAST).collect();
    let count = |side: Side| sides.iter().filter(|known| **known == side).count();
    if count(Side::Late) >= HABIT {
        all.push(Attention::Late(count(Side::Late), sides.len()));
    } else if count(Side::Early) >= HABIT {
        all.push(Attention::Early(count(Side::Early), sides.len()));
    }
    for (lift, sets) in lifts {
        let records: Vec<Record> = sets.iter().map(|(_, record)| *record).collect();
        let waits = to_be_asked(&records, gym.max_policy, gym.formula, None);
        all.extend(waits.map(|(_, max)| Attention::Waits(lift.to_lowercase(), max.show(gym.unit))));
        all.extend(of_lift(lift, sets, today, gym.formula));
    }
    all
}

fn of_lift(
    lift: &str,
    sets: &[(NaiveDate, Record)],
    today: NaiveDate,
    formula: Formula,
) -> Option<Attention> {
    let tested = sets.iter().filter(|(_, record)| record.source == Source::Tested && !record.missed);
    let weeks = |day: NaiveDate| (today - day).num_days() / 7;
    let Some(tested) = tested.map(|(day, _)| *day).max() else {
        return (!sets.is_empty()).then(|| Attention::Untested(lift.to_owned()));
    };
    let points = lift_over_time(sets, formula);
    let best = points.iter().max_by(|a, b| a.value.kg().total_cmp(&b.value.kg()).then(b.day.cmp(&a.day)))?;
    let since = points.iter().filter(|point| point.day > best.day).count();
    if since >= STALL_DAYS && weeks(best.day) >= STALL_WEEKS {
        return Some(Attention::Stalls(lift.to_owned(), weeks(best.day)));
    }
    (weeks(tested) >= STALE_WEEKS).then(|| Attention::Stale(lift.to_owned(), weeks(tested)))
}

impl Attention {
    /// In words, beside a name.
    pub fn told(&self) -> String {
        match self {
            Self::Away(days) => format!("not here for {} weeks", days / 7),
            Self::Late(late, of) => format!("late in {late} of the last {of}"),
            Self::Early(early, of) => format!("early in {early} of the last {of}: could do more"),
            Self::Stale(lift, weeks) => format!("{lift} last tested {weeks} weeks ago"),
            Self::Waits(lift, max) => format!("a class has shown a {lift} of about {max}: count from it?"),
            Self::Untested(lift) => format!("{lift} never tested"),
            Self::Stalls(lift, weeks) => format!("{lift} shows no more than {weeks} weeks ago"),
        }
    }
}

/// Pieces against what was predicted, oldest first: how much slower than the middle, as a share, and whether that is within the spread.
pub fn against_prediction(oldest_first: &[(NaiveDate, &Entry)]) -> Vec<(NaiveDate, f64, bool)> {
    let of = |(day, entry): &(NaiveDate, &Entry)| {
        let outcome = Outcome::of(entry)?;
        Some((*day, outcome.off.exp() - 1.0, outcome.is_within()))
    };
    oldest_first.iter().filter_map(of).collect()
}

/// The best of the results of one piece in each version that was done more than once, in the order of the versions; of equal ones the first that was.
pub fn bests<'a>(of_piece: &[(NaiveDate, &'a Entry)]) -> Vec<(NaiveDate, &'a Entry)> {
    let mut by_version: BTreeMap<VersionName, Vec<(NaiveDate, &Entry)>> = BTreeMap::new();
    for (day, entry) in of_piece {
        by_version.entry(entry.version).or_default().push((*day, entry));
    }
    let best = |mut all: Vec<(NaiveDate, &'a Entry)>| {
        all.sort_by_key(|(day, _)| *day);
        let beats = |n: usize| all[n].1.is_best_of(all[..n].iter().map(|(_, entry)| *entry));
        let exact = |n: &usize| all[*n].1.value.is_some() && !all[*n].1.at_least;
        let first = (0..all.len()).find(exact)?;
        // Each that beats all before it; the last of them is the best.
        let best = (first + 1..all.len()).filter(exact).rev().find(|n| beats(*n)).unwrap_or(first);
        ((0..all.len()).filter(exact).count() > 1).then(|| all[best])
    };
    by_version.into_values().filter_map(best).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::book::{Done, Predicted};
    use crate::pacing::Measure;

    fn day(n: u64) -> NaiveDate {
        NaiveDate::from_ymd_opt(2026, 1, 5).unwrap() + Days::new(n)
    }

    fn set(days: u64, kg: f64, reps: u32, source: Source) -> (NaiveDate, Record) {
        let load = Kilograms::from_kg(kg);
        (day(days), Record { load, reps, rpe: None, missed: false, source, days_old: 0, kept: None })
    }

    fn predicted_finish() -> Predicted {
        Predicted {
            measure: Measure::Finish,
            spread: [540.0, 600.0, 660.0],
            window: [Some(480.0), Some(720.0)],
            rests: None,
        }
    }

    /// A piece that was finished, as it was predicted.
    fn entry(version: VersionName, seconds: u32) -> Entry {
        Entry {
            version,
            done: Done::Finished { seconds },
            said: String::new(),
            predicted: Some(predicted_finish()),
            value: Some(f64::from(seconds)),
            at_least: false,
            gone_on: None,
            effort: None,
            hurt: false,
            note: String::new(),
        }
    }

    #[test]
    fn a_lift_over_time_knows_its_bests() {
        let sets = [
            set(0, 100.0, 1, Source::Tested),
            set(7, 80.0, 5, Source::ClassResult),
            set(14, 92.5, 5, Source::ClassResult),
            set(14, 60.0, 5, Source::ClassResult),
        ];
        let points = lift_over_time(&sets, Formula::Epley);
        let told: Vec<(f64, bool)> =
            points.iter().map(|point| ((point.value.kg() * 10.0).round() / 10.0, point.best)).collect();
        assert_eq!(told, [(100.0, false), (93.3, false), (107.9, true)]);
        assert!(points.iter().all(|point| point.low < point.value && point.value < point.high));
        assert_eq!(points[2].source, Source::ClassResult);
    }

    #[test]
    fn versions_are_told_from_what_was_usual_first_to_what_is_now() {
        let done = |n: u64, version| (day(n * 7), version);
        use VersionName::{AroundIt, AsWritten, FirstLight, Lighter};
        let way = [
            done(0, FirstLight),
            done(1, FirstLight),
            done(2, Lighter),
            done(3, AroundIt),
            done(6, Lighter),
            done(8, AsWritten),
            done(9, Lighter),
        ];
        assert_eq!(versions_over_time(&way).unwrap(), "First light to Lighter in 9 weeks");
        assert_eq!(versions_over_time(&way[..4]), None);
    }

    #[test]
    fn the_best_of_a_piece_is_found_in_each_version() {
        let entry = |version, seconds, at_least| Entry { at_least, ..entry(version, seconds) };
        use VersionName::{AsWritten, FirstLight, Lighter};
        let all = [
            (day(30), entry(AsWritten, 600, false)),
            (day(0), entry(AsWritten, 590, false)),
            (day(60), entry(AsWritten, 590, false)),
            (day(61), entry(AsWritten, 400, true)),
            (day(5), entry(Lighter, 700, false)),
            (day(9), entry(Lighter, 650, false)),
            (day(9), entry(FirstLight, 500, false)),
        ];
        let all: Vec<(NaiveDate, &Entry)> = all.iter().map(|(day, entry)| (*day, entry)).collect();
        let found: Vec<_> = bests(&all).into_iter().map(|(day, entry)| (day, entry.version)).collect();
        // Done once it is no record, and what the cap cut short is none.
        assert_eq!(found, [(day(0), AsWritten), (day(9), Lighter)]);
    }

    #[test]
    fn a_piece_is_held_against_its_prediction_where_there_is_one() {
        let entry = |seconds, predicted| Entry {
            predicted: Some(predicted_finish()).filter(|_| predicted),
            ..entry(VersionName::AsWritten, seconds)
        };
        let all = [(day(0), entry(600, true)), (day(3), entry(720, true)), (day(5), entry(500, false))];
        let all: Vec<(NaiveDate, &Entry)> = all.iter().map(|(day, entry)| (*day, entry)).collect();
        let found = against_prediction(&all);
        let told: Vec<_> =
            found.iter().map(|(day, off, within)| (*day, (off * 100.0).round(), *within)).collect();
        // Nothing is said of what nobody predicted.
        assert_eq!(told, [(day(0), 0.0, true), (day(3), 20.0, false)]);
    }

    #[test]
    fn a_result_that_cannot_be_is_refused_in_words() {
        let entry = |effort, note: usize, said: usize| Entry {
            effort,
            note: "x".repeat(note),
            said: "x".repeat(said),
            ..entry(VersionName::AsWritten, 600)
        };
        assert_eq!(entry(Some(10), 20, 200).checked(), Ok(()));
        for (entry, word) in [
            (entry(Some(11), 0, 0), "effort"),
            (entry(Some(0), 0, 0), "effort"),
            (entry(None, 10_000, 0), "note"),
            (entry(None, 0, 201), "score"),
        ] {
            assert!(entry.checked().unwrap_err().contains(word), "{word}");
        }
    }

    #[test]
    fn sessions_are_counted_by_week_whoever_comes_twice_a_day() {
        let days: BTreeSet<NaiveDate> = [day(0), day(2), day(9), day(14)].into();
        let kept = sessions_kept(&days, day(16), 3);
        assert_eq!(kept, [(day(0), 2), (day(7), 1), (day(14), 1)]);
    }

    #[test]
    fn a_coach_is_told_who_is_missed_who_stands_still_and_whose_test_is_old() {
        let today = day(120);
        let stale = vec![set(10, 100.0, 1, Source::Tested)];
        let stalls: Vec<_> = (0..5).map(|n| set(10 + n * 20, 100.0 - n as f64, 1, Source::Tested)).collect();
        let stated = vec![set(100, 60.0, 1, Source::Stated)];
        let lifts = [("Deadlift", stale), ("Back squat", stalls), ("Snatch", stated)];
        let lifts = lifts.map(|(name, sets)| (name.to_owned(), sets));
        let told = |seen| -> Vec<String> {
            let all = attention(Some(seen), &[], &lifts, (today, &Gym::default()));
            all.iter().map(Attention::told).collect()
        };
        assert_eq!(
            told(day(90)),
            [
                "not here for 4 weeks",
                "Deadlift last tested 15 weeks ago",
                "Back squat shows no more than 15 weeks ago",
                "Snatch never tested"
            ]
        );
        assert_eq!(told(day(110)).len(), 3);
        // Two days after the best are too few to say that a lift stands still.
        let few: Vec<_> = (0..3).map(|n| set(10 + n * 20, 100.0 - n as f64, 1, Source::Tested)).collect();
        let few = attention(None, &[], &[("Back squat".to_owned(), few)], (today, &Gym::default()));
        assert_eq!(few.iter().map(Attention::told).collect::<Vec<_>>(), Vec::<String>::new());
        let shown = vec![set(100, 100.0, 1, Source::Tested), set(115, 100.0, 3, Source::ClassResult)];
        let all = attention(None, &[], &[("Clean".to_owned(), shown)], (today, &Gym::default()));
        let told: Vec<String> = all.iter().map(Attention::told).collect();
        assert_eq!(told, ["a class has shown a clean of about 110 kg: count from it?"]);
    }
}
