//! Windows that nobody wrote against those that coaches wrote: each written window is hidden and inferred.

use std::fmt;

use lantern_core::movement::Catalogue;
use lantern_core::pacing::{Model, Window, intended_window};
use lantern_core::session::{Part, PartKind};

use crate::fixtures::Fixture;

/// One piece whose window is written.
pub struct Row {
    /// The text it stands in.
    pub text: String,
    /// The piece in the plain notation.
    pub title: String,
    /// As the coach wrote it.
    pub written: Window,
    /// As it is inferred without that.
    pub inferred: Window,
}

impl Row {
    /// The share of the written window that the inferred one covers; of one with a single end, the share of the inferred one that
    /// lies in it.
    pub fn overlap(&self) -> f64 {
        let (low, high) = ends(&self.inferred);
        let (from, to) = ends(&self.written);
        let both = (high.min(to) - low.max(from)).max(0.0);
        let whole = if from > 0.0 && to.is_finite() { to - from } else { high - low };
        both / whole.max(1e-9)
    }

    /// How many times its low end the high end of the inferred window is; 1 where only one end is meant.
    pub fn width(&self) -> f64 {
        let (low, high) = ends(&self.inferred);
        if low > 0.0 { high / low } else { 1.0 }
    }
}

/// Both ends as they are said.
fn ends(window: &Window) -> (f64, f64) {
    (window.low.unwrap_or(0.0), window.said_high().unwrap_or(f64::INFINITY))
}

/// Every piece of the fixtures whose window is written.
pub fn rows(fixtures: &[Fixture]) -> Vec<Row> {
    let pieces =
        fixtures.iter().flat_map(|fixture| fixture.session.parts.iter().map(move |part| (fixture, part)));
    pieces.filter_map(|(fixture, part)| row(&fixture.name, part)).collect()
}

fn row(text: &str, part: &Part) -> Option<Row> {
    let (catalogue, model) = (Catalogue::standard(), Model::standard());
    if part.kind != PartKind::Conditioning || !part.target.is_some_and(|target| target.is_given()) {
        return None;
    }
    let hidden = Part { target: None, ..part.clone() };
    let written = intended_window(part, catalogue, model);
    let inferred = intended_window(&hidden, catalogue, model);
    let comparable = !written.inferred && inferred.inferred && written.measure == inferred.measure;
    comparable.then(|| Row {
        text: text.to_owned(),
        title: lantern_core::print::part_text(part, catalogue).replace("\n", "; "),
        written,
        inferred,
    })
}

/// At least so many of the written windows are to be covered by half, and no inferred one is to be wider.
pub const COVERED: f64 = 0.8;
/// The high end over the low end.
pub const WIDEST: f64 = 1.5;

/// The share of the rows whose written window is covered by half or more.
pub fn covered(rows: &[Row]) -> f64 {
    rows.iter().filter(|row| row.overlap() >= 0.5 - 1e-9).count() as f64 / rows.len().max(1) as f64
}

impl fmt::Display for Row {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let (written, inferred) = (self.written.show(), self.inferred.show());
        write!(
            f,
            "{:<44}{written:>18}{inferred:>18}{:>6.0} %  {}",
            self.text,
            self.overlap() * 100.0,
            self.title
        )
    }
}
