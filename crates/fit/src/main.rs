//! `cargo run --release -p fit` fits the pacing model to the table and writes `data/pacing.toml`; with `--check` it writes nothing and
//! fails when the file holds other values. `--rows` prints every row that lies outside.

use std::collections::BTreeSet;
use std::path::Path;
use std::time::Instant;
use std::{env, fs};

use anyhow::{Context as _, Result, ensure};
use fit::learn::fit;
use fit::priors::{priors, rewritten, with};
use fit::report::{Figures, Judged, by, judged};
use fit::table::{Case, cases};
use lantern_core::pacing::Model;
use rayon::prelude::*;

/// Parts into which the pieces are divided to see what the fit is worth on pieces that it has not seen.
const FOLDS: usize = 5;

fn main() -> Result<()> {
    let asked = |flag: &str| env::args().any(|argument| argument == flag);
    let begun = Instant::now();
    let file = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../data/pacing.toml");
    let written = fs::read_to_string(&file).with_context(|| format!("read {}", file.display()))?;
    let (cases, priors, model) = (cases()?, priors()?, Model::standard());
    let all: Vec<&Case> = cases.iter().collect();

    let believed = with(model, &priors, &vec![0.0; priors.len()])?;
    println!("believed    {}", Figures::of(&judged(&cases, &believed)));
    let off = fit(&all, &priors, model)?;
    let fitted = with(model, &priors, &off)?;
    let found = judged(&cases, &fitted);
    println!("fitted      {}", Figures::of(&found));
    if !asked("--check") {
        let unseen = held_out(&cases, &priors, model)?;
        println!("held out    {}", Figures::of(&unseen));
        if asked("--rows") {
            print_rows("held out", &unseen);
        }
        println!(
            "by category\n{}by person\n{}",
            by(&found, |case| &case.category),
            by(&found, |case| &case.member.name)
        );
    }
    if asked("--rows") {
        print_rows("fitted", &found);
        for (prior, off) in priors.iter().zip(&off) {
            println!("{:<24} {:>8.3} from {:>8.3}  {off:+.1}", prior.key, prior.at(*off), prior.value);
        }
    }
    let changed = rewritten(&written, &priors, &off);
    println!("{} parameters, {} rows, {:.0} s", priors.len(), cases.len(), begun.elapsed().as_secs_f64());
    if asked("--check") {
        ensure!(
            changed == written,
            "{} holds other values than are fitted: run `cargo run --release -p fit`",
            file.display()
        );
    } else if changed != written {
        fs::write(&file, changed).with_context(|| format!("write {}", file.display()))?;
        println!("{} written", file.display());
    }
    Ok(())
}

fn print_rows(what: &str, judged: &[Judged<'_>]) {
    for Judged { case, predicted } in judged.iter().filter(|row| !row.case.holds(row.predicted)) {
        let Case { id, range: (low, high), text, member, .. } = case;
        println!("{what}: {id} {}: {predicted:.1} against {low}-{high}: {text}", member.name);
    }
}

/// Every row, as it is predicted by a fit that has not seen its piece.
fn held_out<'a>(cases: &'a [Case], priors: &[fit::priors::Prior], model: &Model) -> Result<Vec<Judged<'a>>> {
    let pieces: BTreeSet<&str> = cases.iter().map(|case| case.piece.as_str()).collect();
    let fold = |case: &Case| pieces.iter().position(|piece| *piece == case.piece).unwrap_or(0) % FOLDS;
    let folds: Vec<Vec<Judged<'a>>> = (0..FOLDS)
        .into_par_iter()
        .map(|n| {
            let seen: Vec<&Case> = cases.iter().filter(|case| fold(case) != n).collect();
            let fitted = with(model, priors, &fit(&seen, priors, model)?)?;
            Ok(judged(cases.iter().filter(|case| fold(case) == n), &fitted))
        })
        .collect::<Result<_>>()?;
    Ok(folds.into_iter().flatten().collect())
}
