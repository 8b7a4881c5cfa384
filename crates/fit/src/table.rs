//! The table: what pieces take people who are described in full.

use anyhow::{Context as _, Result, anyhow};
use lantern_core::gym::Gym;
use lantern_core::member::Member;
use lantern_core::movement::Catalogue;
use lantern_core::pacing::{Athlete, Luck, Model, Run, simulate};
use lantern_core::read::read;
use lantern_core::roster::roster_from_csv;
use lantern_core::session::{Format, Node};
use lantern_core::versions::rewrite::for_member;
use serde::Deserialize;

/// A row as it stands in the file.
#[derive(Debug, Deserialize)]
struct Row {
    id: String,
    piece: String,
    category: String,
    text: String,
    who: String,
    kind: Kind,
    low: f64,
    high: f64,
    confidence: Confidence,
}

/// What was measured.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Kind {
    /// Seconds on the clock.
    FinishS,
    /// Rounds.
    Rounds,
    /// Seconds of one interval at work, the mean of all.
    SplitS,
    /// Repetitions: of the lowest interval, or of the whole where there is none.
    RepsInInterval,
}

/// How sure whoever made the row was.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
enum Confidence {
    High,
    Medium,
    Low,
}

impl Confidence {
    const fn weight(self) -> f64 {
        match self {
            Self::High => 1.0,
            Self::Medium => 0.7,
            Self::Low => 0.4,
        }
    }
}

/// A row made ready: the piece as this person does it.
#[derive(Clone, Debug)]
pub struct Case {
    /// Its name.
    pub id: String,
    /// The piece, which several people did.
    pub piece: String,
    /// The kind of piece.
    pub category: String,
    /// In one line.
    pub text: String,
    /// Who did it.
    pub member: Member,
    /// What was measured.
    pub kind: Kind,
    /// What it takes: the lower and upper end.
    pub range: (f64, f64),
    /// How much the row counts.
    pub weight: f64,
    tree: Node,
    lowest: bool,
}

impl Case {
    /// What the model says.
    pub fn predicted(&self, model: &Model) -> f64 {
        let run =
            simulate(&self.tree, &Athlete::new(&self.member), Catalogue::standard(), model, Luck::MEDIAN);
        self.measured(&run)
    }

    fn measured(&self, run: &Run) -> f64 {
        let intervals = run.interval_work.len().max(1) as f64;
        match self.kind {
            Kind::FinishS => run.finish_s,
            Kind::Rounds => run.rounds,
            Kind::SplitS => run.interval_work.iter().sum::<f64>() / intervals,
            Kind::RepsInInterval if self.lowest => {
                run.interval_reps.iter().copied().fold(f64::INFINITY, f64::min)
            }
            Kind::RepsInInterval => run.reps,
        }
    }

    /// The middle of the range, in proportion.
    pub fn middle(&self) -> f64 {
        (self.range.0 * self.range.1).sqrt()
    }

    /// Whether a prediction lies in the range.
    pub fn holds(&self, predicted: f64) -> bool {
        (self.range.0..=self.range.1).contains(&predicted)
    }

    /// How far off a prediction is: the logarithm of its ratio to the middle.
    pub fn off(&self, predicted: f64) -> f64 {
        (predicted.max(1e-3) / self.middle()).ln()
    }

    /// The same in half-widths of the range.
    pub fn off_in_widths(&self, predicted: f64) -> f64 {
        self.off(predicted) / ((self.range.1 / self.range.0).ln() / 2.0)
    }
}

/// All rows, in the order of the file.
///
/// # Errors
/// When the file names somebody who is not described or holds a text that is not read as one piece.
pub fn cases() -> Result<Vec<Case>> {
    let (people, wrong) = roster_from_csv(include_str!("../data/people.csv"));
    if let Some(first) = wrong.first() {
        return Err(anyhow!("people.csv: {first:?}"));
    }
    let mut rows = csv::Reader::from_reader(include_bytes!("../data/table.csv").as_slice());
    rows.deserialize().map(|row| case(row.context("table.csv")?, &people)).collect()
}

fn case(row: Row, people: &[Member]) -> Result<Case> {
    let catalogue = Catalogue::standard();
    let member = people.iter().find(|member| member.name.eq_ignore_ascii_case(&row.who));
    let member = member.with_context(|| format!("{}: nobody is called {}", row.id, row.who))?.clone();
    let reading = read(&row.text.replace(" | ", "\n"), catalogue);
    let part = reading.session.parts.first().with_context(|| format!("{}: no piece is read", row.id))?;
    Ok(Case {
        tree: for_member(part, &member, &Gym::default(), catalogue),
        lowest: part.format != Some(Format::Amrap),
        id: row.id,
        piece: row.piece,
        category: row.category,
        text: row.text,
        member,
        kind: row.kind,
        range: (row.low, row.high),
        weight: row.confidence.weight(),
    })
}
