//! Somebody's weeks, drawn: lifts with their range, pieces against what was predicted, versions and sessions.

use std::collections::{BTreeMap, BTreeSet};

use chrono::NaiveDate;
use lantern_core::book::{
    Entry, LiftPoint, against_prediction, bests, lift_over_time, sessions_kept, versions_over_time,
};
use lantern_core::gym::Gym;
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::strength::Record;
use lantern_store::lifts::StoredLift;
use lantern_store::results::StoredResult;

use crate::day::day_name;

/// Weeks that are drawn.
const WEEKS: u64 = 12;
/// Most lifts that are drawn, those with the most days first.
const MOST_LIFTS: usize = 6;
/// Size of a drawing, in its own units, with room for what is written around it.
const WIDTH: f64 = 300.0;
const HEIGHT: f64 = 84.0;
/// Shares slower and quicker than predicted that are drawn.
const FARTHEST: f64 = 0.4;

/// Somebody's weeks.
pub(crate) struct OverTime {
    pub lifts: Vec<LiftView>,
    /// Each piece against its prediction.
    pub pieces: Vec<Dot>,
    pub versions: Option<String>,
    /// Sessions of each week: its height, and what it says.
    pub weeks: Vec<Bar>,
    pub kept: String,
    pub records: Vec<RecordRow>,
}

/// The best of a lift or a piece.
pub(crate) struct RecordRow {
    pub what: String,
    pub best: String,
    pub how: String,
    pub day: String,
}

/// A lift over time.
pub(crate) struct LiftView {
    pub name: String,
    pub now: String,
    /// What the days show, and what lies around it.
    pub line: String,
    pub band: String,
    pub dots: Vec<Dot>,
    pub from: String,
    pub to: String,
    /// What has been more than ever before.
    pub best: Option<String>,
}

/// A point of a drawing.
pub(crate) struct Dot {
    pub x: f64,
    pub y: f64,
    pub class: &'static str,
    pub words: String,
}

/// A bar of a drawing.
pub(crate) struct Bar {
    pub x: f64,
    pub y: f64,
    pub height: f64,
    pub words: String,
}

impl OverTime {
    /// From the results that stand and the sets on record.
    pub fn new(
        results: &[(&StoredResult, &str)],
        sets: &[StoredLift],
        (gym, catalogue, today): (&Gym, &Catalogue, NaiveDate),
    ) -> Self {
        let mut oldest: Vec<(NaiveDate, &Entry)> =
            results.iter().map(|(result, _)| (result.day, &result.entry)).collect();
        oldest.sort_by_key(|(day, _)| *day);
        let versions: Vec<_> = oldest.iter().map(|(day, entry)| (*day, entry.version)).collect();
        let days: BTreeSet<NaiveDate> = oldest.iter().map(|(day, _)| *day).collect();
        let weeks = sessions_kept(&days, today, WEEKS);
        let all: usize = weeks.iter().map(|(_, count)| count).sum();
        Self {
            lifts: lifts(sets, gym, catalogue, today),
            records: records(results, sets, (gym, catalogue, today)),
            pieces: pieces(&oldest),
            versions: versions_over_time(&versions),
            kept: match all {
                0 => String::new(),
                _ => format!("{all} sessions in {WEEKS} weeks, {:.1} a week", all as f64 / WEEKS as f64),
            },
            weeks: if all == 0 { Vec::new() } else { bars(&weeks) },
        }
    }

    /// Whether there is nothing to draw yet.
    pub fn is_empty(&self) -> bool {
        self.lifts.is_empty() && self.pieces.is_empty()
    }
}

/// The best of each lift, and of each piece that was done again.
fn records(
    results: &[(&StoredResult, &str)],
    sets: &[StoredLift],
    (gym, catalogue, today): (&Gym, &Catalogue, NaiveDate),
) -> Vec<RecordRow> {
    let of_lift = |(lift, sets): (&str, Vec<(NaiveDate, Record)>)| {
        let points = lift_over_time(&sets, gym.formula);
        let best = points.iter().rev().max_by_key(|point| point.value)?;
        let [value, low, high] = [best.value, best.low, best.high].map(|load| load.show(gym.unit));
        Some(RecordRow {
            what: catalogue.name(&MovementId::new(lift)).to_owned(),
            best: value,
            how: format!("{low} to {high}, {}", best.source.name()),
            day: day_name(best.day),
        })
    };
    let mut pieces: BTreeMap<&str, Vec<(NaiveDate, &Entry)>> = BTreeMap::new();
    for (result, words) in results {
        pieces.entry(words).or_default().push((result.day, &result.entry));
    }
    let of_piece = |(words, all): (&str, Vec<(NaiveDate, &Entry)>)| {
        let row = |(day, entry): (NaiveDate, &Entry)| RecordRow {
            what: first_lines(words),
            best: entry.done.to_string(),
            how: format!("{}, done {} times", entry.version.label(), all.len()),
            day: day_name(day),
        };
        bests(&all).into_iter().map(row).collect::<Vec<_>>()
    };
    let lifts = by_lift(sets, today).into_iter().filter_map(of_lift);
    lifts.chain(pieces.into_iter().flat_map(of_piece)).collect()
}

/// What a piece is known by.
pub(super) fn first_lines(words: &str) -> String {
    let lines: Vec<&str> = words.lines().filter(|line| !line.trim().is_empty()).take(3).collect();
    lines.join(", ")
}

fn bars(weeks: &[(NaiveDate, usize)]) -> Vec<Bar> {
    let most = weeks.iter().map(|(_, count)| *count).max().unwrap_or(0).max(3) as f64;
    let step = WIDTH / weeks.len().max(1) as f64;
    let bar = |(n, (from, count)): (usize, &(NaiveDate, usize))| {
        let height = HEIGHT * *count as f64 / most;
        let words = format!("week from {}: {count}", day_name(*from));
        Bar { x: n as f64 * step, y: HEIGHT - height, height, words }
    };
    weeks.iter().enumerate().map(bar).collect()
}

fn pieces(oldest_first: &[(NaiveDate, &Entry)]) -> Vec<Dot> {
    let all = against_prediction(oldest_first);
    let x = scale(all.iter().map(|(day, ..)| *day));
    let dot = |(day, slower, within): &(NaiveDate, f64, bool)| {
        let word = if *slower > 0.0 { "slower" } else { "quicker" };
        Dot {
            x: x(*day),
            y: HEIGHT / 2.0 * (1.0 + slower.clamp(-FARTHEST, FARTHEST) / FARTHEST),
            class: if *within { "within" } else { "beyond" },
            words: format!("{}: {:.0} % {word} than predicted", day_name(*day), slower.abs() * 100.0),
        }
    };
    all.iter().map(dot).collect()
}

/// Days from left to right.
fn scale(days: impl Iterator<Item = NaiveDate> + Clone) -> impl Fn(NaiveDate) -> f64 {
    let (first, last) = (days.clone().min(), days.max());
    move |day| {
        let long = first.zip(last).map_or(0, |(first, last)| (last - first).num_days()).max(1) as f64;
        first.map_or(0.0, |first| (day - first).num_days() as f64 / long * WIDTH)
    }
}

/// Each lift's sets with their days, by its id.
pub(crate) fn by_lift(sets: &[StoredLift], today: NaiveDate) -> BTreeMap<&str, Vec<(NaiveDate, Record)>> {
    let mut by_lift: BTreeMap<&str, Vec<(NaiveDate, Record)>> = BTreeMap::new();
    for set in sets {
        by_lift.entry(&set.lift).or_default().push((set.set_on, set.record(today)));
    }
    by_lift
}

fn lifts(sets: &[StoredLift], gym: &Gym, catalogue: &Catalogue, today: NaiveDate) -> Vec<LiftView> {
    let points = by_lift(sets, today)
        .into_iter()
        .map(|(lift, sets)| (lift, lift_over_time(&sets, gym.formula)))
        .filter(|(_, points)| points.len() > 1);
    let mut all: Vec<(&str, Vec<LiftPoint>)> = points.collect();
    all.sort_by_key(|(lift, points)| (std::cmp::Reverse(points.len()), *lift));
    all.truncate(MOST_LIFTS);
    all.iter()
        .map(|(lift, points)| LiftView::new(catalogue.name(&MovementId::new(lift)), points, gym))
        .collect()
}

impl LiftView {
    fn new(name: &str, points: &[LiftPoint], gym: &Gym) -> Self {
        let x = scale(points.iter().map(|point| point.day));
        let low = points.iter().map(|point| point.low.kg()).fold(f64::INFINITY, f64::min);
        let high = points.iter().map(|point| point.high.kg()).fold(0.0, f64::max);
        let y = |kg: f64| HEIGHT * (1.0 - (kg - low) / (high - low).max(1.0));
        let place = |day: NaiveDate, kg: f64| format!("{:.1},{:.1}", x(day), y(kg));
        let line: Vec<String> = points.iter().map(|point| place(point.day, point.value.kg())).collect();
        let upper = points.iter().map(|point| place(point.day, point.high.kg()));
        let lower = points.iter().rev().map(|point| place(point.day, point.low.kg()));
        let band: Vec<String> = upper.chain(lower).collect();
        let shown = |point: &LiftPoint| {
            let [value, low, high] = [point.value, point.low, point.high].map(|load| load.show(gym.unit));
            format!("{}: {value} ({low} to {high}), {}", day_name(point.day), point.source.name())
        };
        let dot = |point: &LiftPoint| Dot {
            x: x(point.day),
            y: y(point.value.kg()),
            class: if point.best { "best" } else { "within" },
            words: shown(point),
        };
        let best = points.iter().rev().find(|point| point.best);
        Self {
            name: name.to_owned(),
            now: points.last().map_or_else(String::new, |point| point.value.show(gym.unit)),
            line: line.join(" "),
            band: band.join(" "),
            dots: points.iter().map(dot).collect(),
            from: points.first().map_or_else(String::new, |point| day_name(point.day)),
            to: points.last().map_or_else(String::new, |point| day_name(point.day)),
            best: best.map(|best| format!("best {} on {}", best.value.show(gym.unit), day_name(best.day))),
        }
    }
}
