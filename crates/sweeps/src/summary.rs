//! What a sweep comes to, and which bars it misses.

use std::fmt;
use std::ops::RangeInclusive;

use lantern_core::pacing::{Measure, Quantiles};

use crate::rules::Rule;
use crate::versions::{Missing, Seen};

/// What a sweep comes to.
pub struct Summary {
    /// Pieces for a class.
    pub pieces: usize,
    /// Of everybody in every piece.
    pub people: usize,
    /// Share on stimulus as written.
    pub as_written: f64,
    /// Share with versions.
    pub with_versions: f64,
    /// Share with versions and with what is offered to who is ahead.
    pub with_offers: f64,
    /// Median, and 90th percentile over pieces, of prescriptions a 14 people.
    pub prescriptions: (f64, f64),
    /// Share of those on a version whose repetitions, rounds or movements are not those on the board.
    pub own_numbers: f64,
    /// Of p90 over p10, for those with results and for those without.
    pub spread: [Quantiles; 2],
    /// Median width of windows with two ends.
    pub width: f64,
    /// By what is measured, and whether it was inferred: people, those on stimulus as written and with versions, and where the others are.
    pub kinds: Vec<Kind>,
    /// How often each rule is broken.
    pub broken: Vec<(Rule, usize)>,
}

/// Pieces in which the same is measured, by an inferred or a written window.
pub struct Kind {
    measure: Measure,
    inferred: bool,
    people: usize,
    as_written: usize,
    with_versions: usize,
    missing: Missing,
}

impl Kind {
    fn all(seen: &[Seen]) -> Vec<Self> {
        let mut kinds: Vec<Self> = Vec::new();
        for piece in seen {
            let (measure, inferred) = (piece.measure, piece.inferred);
            let place = kinds.iter().position(|kind| (kind.measure, kind.inferred) == (measure, inferred));
            let place = place.unwrap_or_else(|| {
                let missing = Missing::default();
                kinds.push(Self { measure, inferred, people: 0, as_written: 0, with_versions: 0, missing });
                kinds.len() - 1
            });
            let kind = &mut kinds[place];
            kind.people += piece.people;
            kind.as_written += piece.as_written;
            kind.with_versions += piece.with_versions;
            kind.missing = kind.missing.with(piece.missing);
        }
        kinds.sort_by_key(|kind| std::cmp::Reverse(kind.people));
        kinds
    }
}

impl fmt::Display for Kind {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let percent = |count: usize| 100.0 * count as f64 / self.people.max(1) as f64;
        let Missing { ahead, behind, unsure, against } = self.missing;
        let window = if self.inferred { "inferred" } else { "written" };
        let measure = format!("{:?}", self.measure);
        write!(f, "{measure:<16}{window:<9}{:>7}", self.people)?;
        [self.as_written, self.with_versions, ahead, behind, unsure, against]
            .into_iter()
            .try_for_each(|count| write!(f, "{:>9.1}%", percent(count)))
    }
}

/// The value at a share of the way through sorted values.
fn at(mut values: Vec<f64>, share: f64) -> f64 {
    values.sort_by(f64::total_cmp);
    let place = ((values.len().saturating_sub(1)) as f64 * share).round() as usize;
    values.get(place).copied().unwrap_or(0.0)
}

impl Summary {
    /// Of some pieces.
    pub fn of(seen: &[Seen]) -> Self {
        let people: usize = seen.iter().map(|piece| piece.people).sum();
        let share =
            |count: fn(&Seen) -> usize| seen.iter().map(count).sum::<usize>() as f64 / people.max(1) as f64;
        let (own, on_a_version) = seen
            .iter()
            .map(|piece| piece.own_numbers)
            .fold((0, 0), |sum, (own, all)| (sum.0 + own, sum.1 + all));
        let prescriptions: Vec<f64> = seen.iter().map(|piece| piece.prescriptions as f64).collect();
        let spread = |of: fn(&Seen) -> &Vec<f64>| {
            let all: Vec<f64> = seen.iter().flat_map(|piece| of(piece).iter().copied()).collect();
            Quantiles { p10: at(all.clone(), 0.1), p50: at(all.clone(), 0.5), p90: at(all, 0.9) }
        };
        let count =
            |rule| seen.iter().flat_map(|piece| &piece.broken).filter(|(broken, _)| *broken == rule).count();
        Self {
            pieces: seen.len(),
            people,
            as_written: share(|piece| piece.as_written),
            with_versions: share(|piece| piece.with_versions),
            with_offers: share(|piece| piece.with_offers),
            prescriptions: (at(prescriptions.clone(), 0.5), at(prescriptions, 0.9)),
            own_numbers: own as f64 / on_a_version.max(1) as f64,
            spread: [spread(|piece| &piece.spreads), spread(|piece| &piece.spreads_of_strangers)],
            width: at(seen.iter().filter_map(|piece| piece.width).collect(), 0.5),
            kinds: Kind::all(seen),
            broken: Rule::ALL.map(|rule| (rule, count(rule))).to_vec(),
        }
    }
}

/// What a sweep is to come to, rules aside: as written a third to two thirds of a class on stimulus, most with versions, and few
/// different prescriptions in a room of 14.
pub const AS_WRITTEN: RangeInclusive<f64> = 1.0 / 3.0..=2.0 / 3.0;
/// Least share on stimulus with versions.
pub const WITH_VERSIONS: f64 = 0.9;
/// Most prescriptions, at the 90th percentile.
pub const PRESCRIPTIONS: f64 = 6.0;

impl Summary {
    /// Whether no rule is broken by anybody.
    pub fn keeps_all_rules(&self) -> bool {
        self.broken.iter().all(|(_, count)| *count == 0)
    }

    /// Bars that are missed, in words.
    pub fn missed(&self) -> Vec<String> {
        let bars = [
            (self.keeps_all_rules(), "a rule is broken".to_owned()),
            (AS_WRITTEN.contains(&self.as_written), format!("as written {:.2}", self.as_written)),
            (
                self.with_versions >= WITH_VERSIONS,
                format!("with versions {:.2} of {WITH_VERSIONS}", self.with_versions),
            ),
            (self.prescriptions.1 <= PRESCRIPTIONS, format!("{:.0} prescriptions", self.prescriptions.1)),
        ];
        bars.into_iter().filter(|(kept, _)| !kept).map(|(_, what)| what).collect()
    }
}

impl fmt::Display for Summary {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Self { pieces, people, prescriptions, spread, .. } = self;
        writeln!(
            f,
            "{pieces} pieces, {people} people in them: on stimulus as written {:.0} %, with versions {:.0} %, with offers {:.0} %",
            self.as_written * 100.0,
            self.with_versions * 100.0,
            self.with_offers * 100.0
        )?;
        writeln!(
            f,
            "prescriptions a 14 people: {:.0} in the middle, {:.0} at the 90th percentile",
            prescriptions.0, prescriptions.1
        )?;
        writeln!(
            f,
            "of those on a version {:.0} % have other numbers than the board",
            self.own_numbers * 100.0
        )?;
        for (who, Quantiles { p10, p50, p90 }) in ["with results", "without"].into_iter().zip(spread) {
            writeln!(f, "p90 over p10 of a finish {who}: {p10:.2} / {p50:.2} / {p90:.2}")?;
        }
        writeln!(f, "windows {:.2} wide in the middle", self.width)?;
        writeln!(
            f,
            "measured        window    people  written  version    ahead   behind   unsure  against"
        )?;
        self.kinds.iter().try_for_each(|kind| writeln!(f, "{kind}"))?;
        self.broken.iter().try_for_each(|(rule, count)| writeln!(f, "{rule:?} broken: {count}"))
    }
}
