//! The ways to read a text as the trainer compares them.

use lantern_session::movement::Catalogue;
use serde_json::Value;

use crate::day::Divider;
use crate::unit::units;
use crate::weights::Weights;
use crate::{Reading, assemble, reading_json};

/// A way to read a text.
pub struct Candidate {
    /// How often each learned feature holds in it, in the order of the names asked for.
    pub counts: Vec<f64>,
    /// What it costs besides.
    pub fixed: f64,
    /// What it says: the parts of the day, as JSON.
    pub reading: Value,
}

/// The best ways to read a text by some weights, cheapest first, `most` of them.
pub fn candidates(
    text: &str,
    catalogue: &Catalogue,
    weights: &Weights,
    learned: &[String],
    most: usize,
) -> Vec<Candidate> {
    let units = units(text, catalogue, weights);
    let divider = Divider::new(&units, catalogue, weights);
    let raw: Vec<&str> = text.split('\n').collect();
    let counting: Vec<Weights> = learned.iter().map(|name| weights.counting(name)).collect();
    let divisions = divider.divide(most).into_iter().map(|division| {
        let counts = counting.iter().map(|weights| divider.judge(&division, weights)).collect();
        let fixed = division.cost - divider.judge(&division, weights);
        let mut reading = Reading::default();
        assemble(division, &divider, &raw, &mut reading);
        Candidate { counts, fixed, reading: reading_json(&reading) }
    });
    divisions.collect()
}
