//! How good a model is, row by row, by kind of piece and by person.

use std::collections::BTreeMap;
use std::fmt;

use lantern_core::pacing::Model;

use crate::table::Case;

/// A row and what was predicted for it.
#[derive(Clone, Debug)]
pub struct Judged<'a> {
    /// The row.
    pub case: &'a Case,
    /// The prediction.
    pub predicted: f64,
}

/// What a model says of some rows.
pub fn judged<'a>(cases: impl IntoIterator<Item = &'a Case>, model: &Model) -> Vec<Judged<'a>> {
    cases.into_iter().map(|case| Judged { case, predicted: case.predicted(model) }).collect()
}

/// Figures over some rows.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Figures {
    /// Rows.
    pub rows: usize,
    /// Rows whose prediction lies in their range.
    pub inside: usize,
    /// Rows that are off by a factor of two.
    pub far: usize,
    /// Half of the rows are nearer to the middle than this, as a logarithm of the ratio.
    pub median_off: f64,
    /// The mean of the logarithms: whether predictions are rather long or short.
    pub leaning: f64,
}

impl Figures {
    /// Of some rows.
    pub fn of<'a, 'b: 'a>(judged: impl IntoIterator<Item = &'a Judged<'b>>) -> Self {
        let rows: Vec<&Judged<'_>> = judged.into_iter().collect();
        let off = |row: &&Judged<'_>| row.case.off(row.predicted);
        let mut sizes: Vec<f64> = rows.iter().map(|row| off(row).abs()).collect();
        sizes.sort_by(f64::total_cmp);
        Self {
            rows: rows.len(),
            inside: rows.iter().filter(|row| row.case.holds(row.predicted)).count(),
            far: sizes.iter().filter(|size| **size > 2.0_f64.ln()).count(),
            median_off: sizes.get(sizes.len() / 2).copied().unwrap_or(0.0),
            leaning: rows.iter().map(off).sum::<f64>() / rows.len().max(1) as f64,
        }
    }

    /// The share of rows inside.
    pub fn share(&self) -> f64 {
        self.inside as f64 / self.rows.max(1) as f64
    }
}

impl fmt::Display for Figures {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Self { rows, inside, far, median_off, leaning } = self;
        let share = self.share() * 100.0;
        write!(
            f,
            "{inside:>3} of {rows:>3} inside ({share:>3.0} %), {far} off by two, median |log| {median_off:.3}, leaning {leaning:+.3}"
        )
    }
}

/// The figures by some name of each row, as lines.
pub fn by<'a>(judged: &[Judged<'a>], name: impl Fn(&Case) -> &str) -> String {
    let mut groups: BTreeMap<&str, Vec<&Judged<'_>>> = BTreeMap::new();
    for row in judged {
        groups.entry(name(row.case)).or_default().push(row);
    }
    groups.into_iter().map(|(name, rows)| format!("  {name:<20} {}\n", Figures::of(rows))).collect()
}
