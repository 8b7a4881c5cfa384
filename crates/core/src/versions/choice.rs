//! A member's six versions, the one chosen among them and the next best.

use std::cmp::Ordering;
use std::sync::Arc;

use super::changes::Changes;
use super::names::VersionName;
use super::rewrite::Edit;
use crate::member::Member;
use crate::pacing::{Model, Prediction, Run, Verdict, Window};
use crate::session::Node;

/// A member's version of a piece, with what to expect of it.
#[derive(Clone, Debug, PartialEq)]
pub struct Choice {
    /// Which of the six it is.
    pub version: VersionName,
    /// What was changed and why.
    pub edits: Vec<Edit>,
    /// Whether it differs from the board's in a load or a number.
    pub personal: bool,
    /// The member's own tree.
    pub tree: Node,
    /// What to expect.
    pub predicted: Prediction,
    /// The median walk, for splits and sets.
    pub run: Run,
    /// How far it departs from the text; 0 as written.
    pub departure: f64,
    /// What makes it of the text, lines by hand aside.
    pub(super) changes: Changes,
    /// Nothing speaks against it: no limit, no missing skill, no load that is too heavy.
    pub allowed: bool,
    /// Whether it is on stimulus: inside the window likely enough, and no rule against it.
    pub on_stimulus: bool,
    /// How far outside of the window the median lies, as the logarithm of a ratio; 0 inside.
    pub(super) off_by: f64,
    /// One sentence.
    pub reason: String,
}

impl Choice {
    /// How it stands to a window.
    pub fn verdict(&self, window: &Window, model: &Model) -> Verdict {
        if self.allowed { Verdict::of(&self.predicted, window, model) } else { Verdict::AgainstRule }
    }

    /// What nothing speaks against before what something does, on stimulus before off it, then by chance; where there is none, what comes
    /// nearest.
    pub(super) fn likelier(&self, other: &Self) -> Ordering {
        let rank = |choice: &Self| (choice.allowed, choice.on_stimulus);
        rank(self)
            .cmp(&rank(other))
            .then(self.predicted.chance.total_cmp(&other.predicted.chance))
            .then(other.off_by.total_cmp(&self.off_by))
    }

    /// Whether it is not on stimulus because it ends ahead of a window too often: more can be offered.
    pub fn is_ahead(&self, window: &Window) -> bool {
        self.allowed && !self.on_stimulus && window.leans_early(self.predicted.spread)
    }
}

/// A member's six versions, the one chosen, and the next best.
#[derive(Clone, Debug, PartialEq)]
pub struct Options {
    /// The text as it stands, whatever more may have been offered.
    pub as_written: Arc<Choice>,
    /// In the order of [`VersionName::ALL`].
    pub all: Arc<[Choice]>,
    /// Place of the one that follows from the numbers.
    pub best: usize,
    /// Place of the chosen one.
    pub chosen: usize,
    /// Place of the next best alternative, if any other is allowed.
    pub next: Option<usize>,
    /// Whether the coach has chosen it.
    pub by_coach: bool,
}

impl Options {
    /// With the version that the coach has chosen, which stands whatever follows from the numbers; the best
    /// without one.
    pub(super) fn choose(self, by_coach: Option<VersionName>, member: &Member, window: &Window) -> Self {
        let by_coach = by_coach.and_then(|name| self.all.iter().position(|choice| choice.version == name));
        let chosen = by_coach.unwrap_or(self.best);
        let next = next_best(&self.all, chosen, member, window);
        Self { chosen, next, by_coach: by_coach.is_some(), ..self }
    }
}

/// The place of the likeliest among some; of equals the first in order.
pub(super) fn likeliest(all: &[Choice], among: &[usize]) -> Option<usize> {
    among.iter().copied().rev().max_by(|a, b| all[*a].likelier(&all[*b]))
}

fn next_best(all: &[Choice], chosen: usize, member: &Member, window: &Window) -> Option<usize> {
    // Whoever is ahead can be given more; an easier piece that happens to take longer is no advice.
    if all[chosen].is_ahead(window) {
        return None;
    }
    // What spares a joint is no advice for who has none to spare.
    let sound = member.limits.is_empty();
    let offered = |version| version != VersionName::AtHome && !(sound && version == VersionName::AroundIt);
    let others: Vec<usize> = (0..all.len())
        .filter(|n| *n != chosen && offered(all[*n].version) && all[*n].allowed)
        .filter(|n| all[*n].tree != all[chosen].tree)
        .collect();
    likeliest(all, &others)
}
