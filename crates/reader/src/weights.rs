//! The weights of the judge's features, by name; `data/reader_weights.csv`, each with what it is for.

use std::collections::BTreeMap;
use std::sync::LazyLock;

/// Weights by feature. A weight is a cost: the higher, the less a reading with that feature is believed.
#[derive(Clone, Debug)]
pub struct Weights {
    by_name: BTreeMap<String, f64>,
}

static STANDARD: LazyLock<Weights> =
    LazyLock::new(|| Weights::from_csv(include_str!("../../../data/reader_weights.csv")));

impl Weights {
    /// Those that ship with the program.
    pub fn standard() -> &'static Self {
        &STANDARD
    }

    /// From rows of `feature,hand,weight,what it is for`.
    pub fn from_csv(text: &str) -> Self {
        Self::column(text, 2)
    }

    /// The weights that the rows begin with, before anything is learned.
    pub fn by_hand(text: &str) -> Self {
        Self::column(text, 1)
    }

    fn column(text: &str, column: usize) -> Self {
        let mut reader =
            csv::ReaderBuilder::new().comment(Some(b'#')).flexible(true).from_reader(text.as_bytes());
        let rows = reader.records().flatten();
        let pairs =
            rows.filter_map(|row| Some((row.get(0)?.to_owned(), row.get(column)?.trim().parse().ok()?)));
        Self { by_name: pairs.collect() }
    }

    /// The features that are learned: those of parts, and of the seams between them.
    pub fn learned(&self) -> Vec<String> {
        let learned = |name: &&String| name.starts_with("cut.") || name.starts_with("part.");
        self.by_name.keys().filter(learned).cloned().collect()
    }

    /// With other weights for some features.
    pub fn with<'n>(&self, weights: impl IntoIterator<Item = (&'n str, f64)>) -> Self {
        let mut changed = self.clone();
        for (name, weight) in weights {
            changed.by_name.insert(name.to_owned(), weight);
        }
        changed
    }

    /// One for a feature and nothing for all others, so that a cost counts how often it holds.
    pub fn counting(&self, feature: &str) -> Self {
        let one = |name: &String| f64::from(u8::from(name == feature));
        Self { by_name: self.by_name.keys().map(|name| (name.clone(), one(name))).collect() }
    }

    /// The weight of a feature; nothing when no row names it.
    pub fn of(&self, feature: &str) -> f64 {
        debug_assert!(self.by_name.contains_key(feature), "no row gives a weight to {feature}");
        self.by_name.get(feature).copied().unwrap_or(0.0)
    }
}
