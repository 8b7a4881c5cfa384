//! The reader without one row of its grammar at a time: what it then gets wrong is what a hand costs that it has not met, and how much of that it tells.

use std::collections::BTreeSet;

use lantern_reader::grammar::{Grammar, matching, without};
use lantern_reader::{read, reading_json};
use lantern_session::movement::Catalogue;
use rayon::prelude::*;

use crate::labelled::Labelled;
use crate::score::{Loss, Tally, score};

/// A text as it is read with all rows.
pub struct Read<'t> {
    text: &'t Labelled,
    tally: Tally,
    /// The rows that match anything in it.
    rows: BTreeSet<usize>,
}

/// The texts as they are read.
pub fn read_all<'t>(texts: &'t [Labelled], catalogue: &Catalogue) -> Vec<Read<'t>> {
    let of = |text: &'t Labelled| {
        let (reading, rows) = matching(|| reading_json(&read(&text.text, catalogue)));
        let mut tally = Tally::default();
        score(&reading, &text.want, &mut tally);
        Read { text, tally, rows }
    };
    texts.par_iter().map(of).collect()
}

/// What each row costs that matches in any of them, over at most `most` of the texts in which it does, spread over all of them.
pub fn losses(texts: &[Read<'_>], most: usize, catalogue: &Catalogue) -> Vec<(usize, Loss)> {
    let rows: Vec<usize> = (0..Grammar::standard().rows.len()).collect();
    let losses = rows.into_par_iter().map(|row| (row, loss(texts, row, most, catalogue)));
    losses.filter(|(_, loss)| loss.texts > 0).collect()
}

fn loss(texts: &[Read<'_>], row: usize, most: usize, catalogue: &Catalogue) -> Loss {
    let matched: Vec<&Read<'_>> = texts.iter().filter(|text| text.rows.contains(&row)).collect();
    let every = matched.len().div_ceil(most.max(1)).max(1);
    let one = |read_with: &&Read<'_>| {
        let Read { text, tally: before, .. } = read_with;
        let reading = without(row, || reading_json(&read(&text.text, catalogue)));
        let mut after = Tally::default();
        score(&reading, &text.want, &mut after);
        let lost = before.held.saturating_sub(after.held) + after.extra.saturating_sub(before.extra);
        let silent = after.silent.saturating_sub(before.silent).min(lost);
        Loss { texts: 1, facts: before.facts, lost, silent }
    };
    matched.iter().step_by(every).map(one).fold(Loss::default(), Loss::with)
}
