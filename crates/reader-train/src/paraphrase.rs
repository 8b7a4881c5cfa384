//! Labelled texts with a phrase put otherwise: the same day in the words of another coach, to be read as the same.

use std::fs;
use std::path::Path;

use anyhow::{Context as _, Result};
use lantern_reader::{read, reading_json};
use lantern_session::movement::{Catalogue, normal_words};
use rayon::prelude::*;
use regex::Regex;

use crate::labelled::Labelled;
use crate::score::{Loss, Tally, score};

/// A phrase, and another way to put it.
pub struct Paraphrase {
    written: Regex,
    otherwise: String,
}

/// Every so-many-th way of `paraphrases.csv`, in the file's order.
///
/// # Errors
/// When the file cannot be read, or a row's pattern is none; the message names it.
pub fn each(step: usize, catalogue: &Catalogue) -> Result<Vec<Paraphrase>> {
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("paraphrases.csv");
    let text = fs::read_to_string(&path).with_context(|| format!("read {}", path.display()))?;
    let names = names(catalogue);
    let mut rows = csv::ReaderBuilder::new().comment(Some(b'#')).from_reader(text.as_bytes());
    rows.records()
        .step_by(step)
        .map(|row| {
            let row = row?;
            let pattern = format!("(?m){}", row[0].replace("<mv>", &names));
            let written = Regex::new(&pattern).with_context(|| format!("the pattern `{}`", &row[0]))?;
            Ok(Paraphrase { written, otherwise: row[1].to_owned() })
        })
        .collect()
}

/// Every name of a movement, the longest first, in small letters or large, with or without hyphens and an s.
fn names(catalogue: &Catalogue) -> String {
    let mut names: Vec<String> = catalogue
        .iter()
        .flat_map(|movement| movement.aliases.iter().map(|alias| &**alias).chain([movement.name.as_str()]))
        .map(|name| normal_words(name).join(" "))
        .filter(|name| name.len() > 2 && !name.contains(|c: char| c.is_ascii_digit()))
        // "cal row" is an amount as well.
        .filter(|name| !["m ", "cal ", "cals ", "meter ", "metre "].iter().any(|unit| name.starts_with(unit)))
        .collect();
    names.sort_by_key(|name| std::cmp::Reverse(name.len()));
    names.dedup();
    let names: Vec<String> = names.iter().map(|name| regex::escape(name).replace(' ', "[ -]")).collect();
    format!("(?i-u:(?:{})s?)", names.join("|"))
}

impl Paraphrase {
    /// A text with the phrase put otherwise wherever it stands; none where it does not.
    pub fn of(&self, text: &str) -> Option<String> {
        let said = self.written.replace_all(text, self.otherwise.as_str());
        (said != text).then(|| said.into_owned())
    }

    /// What it costs over some texts, at most so many of those in which the phrase stands, spread over all of them.
    pub fn cost(&self, texts: &[Labelled], most: usize, catalogue: &Catalogue) -> Loss {
        let changed: Vec<(&Labelled, String)> =
            texts.iter().filter_map(|text| Some((text, self.of(&text.text)?))).collect();
        let every = changed.len().div_ceil(most.max(1)).max(1);
        let picked: Vec<_> = changed.iter().step_by(every).collect();
        let costs = picked.par_iter().map(|(text, said)| {
            let read_as = |words: &str| {
                let mut tally = Tally::default();
                score(&reading_json(&read(words, catalogue)), &text.want, &mut tally);
                tally
            };
            let (before, after) = (read_as(&text.text), read_as(said));
            Loss {
                texts: 1,
                facts: before.facts,
                lost: before.held.saturating_sub(after.held),
                silent: after.silent.saturating_sub(before.silent),
            }
        });
        costs.reduce(Loss::default, Loss::with)
    }

    /// What stands in a text, and what instead.
    pub fn name(&self) -> String {
        let pattern = self.written.as_str();
        // The names of all movements are many.
        let pattern = if pattern.len() > 200 { "... a movement ..." } else { &pattern["(?m)".len()..] };
        format!("{pattern} -> {}", self.otherwise)
    }
}
