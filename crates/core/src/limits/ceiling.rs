//! Ceilings of load: "deadlift max 50 %", "nothing over 40 kg".

use std::fmt;

use serde::Serialize;

use super::{Limit, is_of_family};
use crate::movement::Movement;
use crate::units::{Kilograms, plain};

/// The most that somebody lifts.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Ceiling {
    /// In percent of the own maximum.
    pub percent: Option<f64>,
    /// In kilograms.
    pub kg: Option<f64>,
    /// Patterns of movement ids; empty means everything.
    pub of: Vec<String>,
}

impl Ceiling {
    fn speaks_of(&self, movement: &Movement) -> bool {
        self.of.is_empty() || self.of.iter().any(|pattern| is_of_family(movement, pattern))
    }
}

impl fmt::Display for Ceiling {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match (self.percent, self.kg) {
            (Some(percent), _) => write!(f, "at most {} %", plain(percent))?,
            (None, Some(kg)) => write!(f, "at most {} kg", plain(kg))?,
            (None, None) => {}
        }
        if self.of.is_empty() { Ok(()) } else { f.write_str(" of what is named") }
    }
}

/// The strictest of several limits for one movement.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Strictest {
    /// The lowest ceiling in percent of the own maximum.
    pub percent: Option<f64>,
    /// The lowest ceiling in weight.
    pub load: Option<Kilograms>,
    /// The lowest effort, as RPE.
    pub effort: Option<f64>,
}

impl Strictest {
    /// Of everything that somebody spares.
    pub fn of(limits: &[Limit], movement: &Movement) -> Self {
        let lowest = |values: &mut dyn Iterator<Item = f64>| values.min_by(f64::total_cmp);
        let ceilings: Vec<&Ceiling> =
            limits.iter().flat_map(Limit::ceilings).filter(|ceiling| ceiling.speaks_of(movement)).collect();
        Self {
            percent: lowest(&mut ceilings.iter().filter_map(|ceiling| ceiling.percent)),
            load: lowest(&mut ceilings.iter().filter_map(|ceiling| ceiling.kg)).map(Kilograms::from_kg),
            effort: lowest(&mut limits.iter().filter_map(Limit::effort)),
        }
    }
}
