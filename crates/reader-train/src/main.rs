//! `cargo run --release -p reader-train` learns the weights of parts and seams from the labelled texts and writes them to
//! `data/reader_weights.csv`; with `--check` it writes nothing and fails when the file holds other weights.

use std::path::{Path, PathBuf};
use std::time::Instant;
use std::{env, fs};

use anyhow::{Context as _, Result, ensure};
use lantern_reader::training::candidates;
use lantern_reader::weights::Weights;
use lantern_session::movement::Catalogue;
use rayon::prelude::*;
use reader_train::labelled::{Labelled, all};
use reader_train::learn::{Choice, Example, goodness, held_out, learn};
use reader_train::recombine::{pairs, pieces};
use reader_train::score::{Tally, score};

/// Ways to read a text that are compared.
const MOST_WAYS: usize = 10;
/// Times that the ways are looked for anew by what has been learned.
const ROUNDS: usize = 3;
/// Parts into which the texts are divided to see what the weights are worth on texts that did not teach them.
const FOLDS: usize = 5;

fn main() -> Result<()> {
    let check = env::args().any(|argument| argument == "--check");
    let begun = Instant::now();
    let file = weights_file();
    let written = fs::read_to_string(&file).with_context(|| format!("read {}", file.display()))?;
    let by_hand = Weights::by_hand(&written);
    let learned = by_hand.learned();
    let start: Vec<f64> = learned.iter().map(|name| by_hand.of(name)).collect();
    let mut texts = all()?;
    let mut of: Vec<usize> = (0..texts.len()).collect();
    // A text teaches where parts begin where its empty lines show it, and where they do not.
    let bare = texts.iter().enumerate().filter_map(|(n, text)| Some((n, text.without_empty_lines()?)));
    let (of_bare, bare): (Vec<usize>, Vec<Labelled>) = bare.unzip();
    of.extend(of_bare);
    let taught = texts.len();
    texts.extend(bare);
    // And below the parts of other days.
    let pairs = pairs(&pieces(&texts[..taught], &by_hand));
    let place = |day: &Labelled| texts.iter().position(|text| day.name.starts_with(&text.name)).unwrap_or(0);
    of.extend(pairs.iter().map(place).collect::<Vec<_>>());
    texts.extend(pairs.into_iter().map(|day| Labelled { name: format!("pairs/{}", day.name), ..day }));
    let mut examples: Vec<Example> = of.into_iter().map(|of| Example { of, ..Example::default() }).collect();
    let mut weights = start.clone();
    for _ in 0..ROUNDS {
        let current = by_hand.with(learned.iter().map(String::as_str).zip(weights.iter().copied()));
        let found: Vec<Vec<Choice>> =
            texts.par_iter().map(|text| choices(text, &current, &learned, &weights)).collect();
        for (example, choices) in examples.iter_mut().zip(found) {
            example.choices.extend(choices);
        }
        weights = learn(&examples, &start);
    }
    print_gain(&texts, &examples, &start, &weights);
    let changed = rewritten(&written, &learned, &weights);
    println!("{} features of {} texts, {:.0} s", learned.len(), texts.len(), begun.elapsed().as_secs_f64());
    if check {
        ensure!(
            changed == written,
            "{} holds other weights than are learned: run `cargo run --release -p reader-train`",
            file.display()
        );
    } else if changed != written {
        fs::write(&file, changed).with_context(|| format!("write {}", file.display()))?;
        println!("{} written", file.display());
    }
    Ok(())
}

fn weights_file() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../data/reader_weights.csv")
}

/// The ways to read a text, with how good each is.
fn choices(text: &Labelled, current: &Weights, learned: &[String], weights: &[f64]) -> Vec<Choice> {
    let found = candidates(&text.text, Catalogue::standard(), current, learned, MOST_WAYS);
    debug_assert_eq!(learned.len(), weights.len());
    found
        .into_iter()
        .map(|candidate| {
            let mut tally = Tally::default();
            score(&candidate.reading, &text.want, &mut tally);
            let good = tally.held as f64 - tally.extra as f64;
            Choice { counts: candidate.counts, fixed: candidate.fixed, good }
        })
        .collect()
}

/// What is gained, by folder and on texts that were held out.
fn print_gain(texts: &[Labelled], examples: &[Example], start: &[f64], weights: &[f64]) {
    let mut folders: Vec<&str> = texts.iter().filter_map(|text| Some(text.name.split_once('/')?.0)).collect();
    folders.dedup();
    println!("{:<12}{:>10}{:>10}", "facts", "by hand", "learned");
    for folder in folders {
        let of_folder = texts.iter().zip(examples).filter(|(text, _)| text.name.starts_with(folder));
        let kept: Vec<Example> = of_folder.map(|(_, example)| example.clone()).collect();
        println!("{folder:<12}{:>10}{:>10}", goodness(&kept, start), goodness(&kept, weights));
    }
    println!("held out, each fold by what the others have taught (this measures the weights only):");
    for (fold, (before, after)) in held_out(examples, start, FOLDS).into_iter().enumerate() {
        println!("{:<12}{before:>10}{after:>10}", format!("fold {}", fold + 1));
    }
}

/// The file with other weights for the learned features.
fn rewritten(written: &str, learned: &[String], weights: &[f64]) -> String {
    let of = |name: &str| learned.iter().position(|known| known == name).map(|at| weights[at]);
    let lines = written.lines().map(|line| {
        let mut cells = line.splitn(4, ',');
        match (cells.next(), cells.next(), cells.next(), cells.next()) {
            (Some(name), Some(hand), Some(_), Some(what)) if !line.starts_with('#') => match of(name) {
                Some(weight) => format!("{name},{hand},{weight},{what}"),
                None => line.to_owned(),
            },
            _ => line.to_owned(),
        }
    });
    lines.map(|line| line + "\n").collect()
}
