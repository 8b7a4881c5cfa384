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

    /// From rows of `feature,weight,what it is for`.
    pub fn from_csv(text: &str) -> Self {
        let mut reader =
            csv::ReaderBuilder::new().comment(Some(b'#')).flexible(true).from_reader(text.as_bytes());
        let rows = reader.records().flatten();
        let pairs = rows.filter_map(|row| Some((row.get(0)?.to_owned(), row.get(1)?.trim().parse().ok()?)));
        Self { by_name: pairs.collect() }
    }

    /// The weight of a feature; nothing when no row names it.
    pub fn of(&self, feature: &str) -> f64 {
        debug_assert!(self.by_name.contains_key(feature), "no row gives a weight to {feature}");
        self.by_name.get(feature).copied().unwrap_or(0.0)
    }
}
