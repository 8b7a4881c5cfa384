//! Labelled days taken apart and put together anew: a part of one day below a part of another must be read as each is by itself.

use lantern_reader::training::candidates;
use lantern_reader::weights::Weights;
use lantern_reader::{read, reading_json};
use lantern_session::movement::Catalogue;
use rand::{RngExt, SeedableRng};
use rand_pcg::Pcg64Mcg;
use rayon::prelude::*;
use serde_json::{Value, json};
use sha2::{Digest as _, Sha256};

use crate::labelled::Labelled;
use crate::score::{Tally, score};

/// Kinds of parts in the order in which a class does them; what is done at home is no part of one.
const ORDER: [&str; 6] = ["warmup", "skill", "strength", "conditioning", "accessory", "mobility"];
/// Most parts of a day that is put together.
const MOST_PARTS: usize = 4;

/// The lines of one part of a labelled text, and what its label says of it.
#[derive(Clone, Debug)]
pub struct Piece {
    /// The text, and which part of it.
    pub name: String,
    text: String,
    part: Value,
    /// Its place in [`ORDER`].
    place: usize,
}

/// By some weights, and without what is asked of it.
fn read_by(text: &str, weights: &Weights) -> Value {
    let best = candidates(text, Catalogue::standard(), weights, &[], 1).into_iter().next();
    best.map_or(Value::Null, |way| way.reading)
}

fn is_right(reading: &Value, want: &Value) -> bool {
    let mut tally = Tally::default();
    score(reading, want, &mut tally);
    tally.held == tally.facts && tally.extra == 0
}

/// The parts of texts that some weights read rightly, as a whole and each part by itself, but for those that begin with the number or
/// letter of their place in the day, and for days in pounds: what they say needs the rest of the day.
pub fn pieces(texts: &[Labelled], weights: &Weights) -> Vec<Piece> {
    texts.par_iter().flat_map(|text| pieces_of(text, weights)).collect()
}

fn pieces_of(text: &Labelled, weights: &Weights) -> Vec<Piece> {
    let reading = read_by(&text.text, weights);
    let parts = |day: &Value| day["parts"].as_array().cloned().unwrap_or_default();
    let (read_as, want) = (parts(&reading), parts(&text.want));
    if text.want["unit"] == "lb" || read_as.len() != want.len() || !is_right(&reading, &text.want) {
        return Vec::new();
    }
    let lines: Vec<&str> = text.text.lines().collect();
    let mut begins: Vec<usize> =
        read_as.iter().map(|part| part["lines"][0].as_u64().map_or(0, |line| line as usize - 1)).collect();
    begins.push(lines.len());
    let cut = want.into_iter().enumerate().filter_map(|(n, part)| {
        let own = lines.get(begins[n]..begins[n + 1])?.join("\n").trim().to_owned();
        let place = ORDER.iter().position(|kind| part["kind"] == *kind)?;
        let alone = read_by(&own, weights);
        let free = !is_numbered(&own) && is_right(&alone, &json!({ "parts": [part] }));
        free.then(|| Piece { name: format!("{}#{}", text.name, n + 1), text: own, part, place })
    });
    cut.collect()
}

/// "B) ...", "2. ...", "C2 ..."
fn is_numbered(text: &str) -> bool {
    let mut signs = text.chars();
    let (Some(first), Some(second)) = (signs.next(), signs.next()) else { return false };
    first.is_alphanumeric() && matches!(second, '.' | ')' | ':')
        || first.is_ascii_uppercase() && second.is_ascii_digit()
}

/// A day of some pieces, in the order of a class, with an empty line between.
fn day(mut pieces: Vec<&Piece>) -> Labelled {
    pieces.sort_by_key(|piece| piece.place);
    let joined = |of: fn(&Piece) -> &str, with: &str| {
        pieces.iter().map(|piece| of(piece)).collect::<Vec<_>>().join(with)
    };
    Labelled {
        name: joined(|piece| &piece.name, " + "),
        text: joined(|piece| &piece.text, "\n\n"),
        want: json!({ "parts": pieces.iter().map(|piece| &piece.part).collect::<Vec<_>>() }),
    }
}

/// Days of two parts: every other piece with one that its name picks, so that a new text changes few of them.
pub fn pairs(pieces: &[Piece]) -> Vec<Labelled> {
    let mut ring: Vec<(u64, &Piece)> = pieces.iter().map(|piece| (mark(&piece.name, "is"), piece)).collect();
    ring.sort_by_key(|(mark, _)| *mark);
    let picked = |one: &Piece| {
        let at = ring.partition_point(|(is, _)| *is < mark(&one.name, "picks"));
        ring.iter().cycle().skip(at).map(|(_, other)| *other).find(|other| other.name != one.name)
    };
    let pairs = pieces.iter().filter(|piece| mark(&piece.name, "picks").is_multiple_of(2));
    pairs.filter_map(|one| Some(day(vec![one, picked(one)?]))).collect()
}

/// A number that a name always has.
fn mark(name: &str, of: &str) -> u64 {
    let digest = Sha256::digest(format!("{of} {name}"));
    digest.iter().take(8).fold(0, |mark, byte| mark << 8 | u64::from(*byte))
}

/// What is read of days as their labels say.
pub fn tally(days: &[Labelled]) -> Tally {
    let of = |day: &Labelled| {
        let mut tally = Tally::default();
        score(&reading_json(&read(&day.text, Catalogue::standard())), &day.want, &mut tally);
        tally
    };
    days.par_iter().map(of).reduce(Tally::default, Tally::with)
}

/// So many days of two to four parts, the same for the same seed.
pub fn days(pieces: &[Piece], seed: u64, count: usize) -> Vec<Labelled> {
    let mut dice = Pcg64Mcg::seed_from_u64(seed);
    let mut one = || {
        let mut picked: Vec<&Piece> = Vec::new();
        let parts = dice.random_range(2..=MOST_PARTS);
        while picked.len() < parts {
            let piece = &pieces[dice.random_range(0..pieces.len())];
            if picked.iter().all(|other| other.name != piece.name) {
                picked.push(piece);
            }
        }
        day(picked)
    };
    (0..count).map(|_| one()).collect()
}
