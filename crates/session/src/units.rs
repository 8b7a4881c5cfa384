//! Weights, lengths and times, each with its unit in its type.
//!
//! A weight is converted once, from the unit the coach wrote, and rounded once, to what a bar can
//! hold; in between it stays exact because [`Kilograms`] counts whole grams.

use std::fmt;
use std::iter::Sum;
use std::ops::{Add, Mul, Sub};

use serde::{Deserialize, Serialize};

/// Grams in one avoirdupois pound; exact by definition (1 lb = 0.45359237 kg).
const GRAMS_PER_POUND: f64 = 453.592_37;

/// A weight in kilograms, held as whole grams so that adding plates stays exact.
///
/// ```
/// # use lantern_session::units::Kilograms;
/// let bar = Kilograms::from_grams(20_000);
/// let pair = Kilograms::from_grams(2 * 1_250);
/// assert_eq!((bar + pair).to_string(), "22.5 kg");
/// ```
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(transparent)]
pub struct Kilograms {
    grams: u32,
}

impl Kilograms {
    /// No weight at all.
    pub const ZERO: Self = Self { grams: 0 };

    /// From whole grams.
    pub const fn from_grams(grams: u32) -> Self {
        Self { grams }
    }

    /// From kilograms with decimals, to the nearest gram. Negative and non-finite values become zero.
    pub fn from_kg(kg: f64) -> Self {
        Self { grams: (kg * 1000.0).round().max(0.0) as u32 }
    }

    /// From pounds, to the nearest gram.
    pub fn from_lb(lb: f64) -> Self {
        Self { grams: (lb * GRAMS_PER_POUND).round().max(0.0) as u32 }
    }

    /// From a number in either unit.
    pub fn from_unit(value: f64, unit: WeightUnit) -> Self {
        match unit {
            WeightUnit::Kg => Self::from_kg(value),
            WeightUnit::Lb => Self::from_lb(value),
        }
    }

    /// Whole grams.
    pub const fn grams(self) -> u32 {
        self.grams
    }

    /// Kilograms as a decimal number.
    pub fn kg(self) -> f64 {
        f64::from(self.grams) / 1000.0
    }

    /// Pounds as a decimal number.
    pub fn lb(self) -> f64 {
        f64::from(self.grams) / GRAMS_PER_POUND
    }

    /// The number a coach in that unit would say, to a tenth.
    pub fn in_unit(self, unit: WeightUnit) -> f64 {
        let exact = match unit {
            WeightUnit::Kg => self.kg(),
            WeightUnit::Lb => self.lb(),
        };
        (exact * 100.0).round() / 100.0
    }

    /// The unit in which it is a round number, as weights are made and records kept: pounds where it is a whole number of them, or one of the halves that
    /// plates make, and no quarter of a kilogram; else kilograms.
    ///
    /// ```
    /// use lantern_session::units::{Kilograms, WeightUnit};
    /// assert_eq!(Kilograms::from_lb(53.0).made_in(), WeightUnit::Lb);
    /// assert_eq!(Kilograms::from_kg(22.5).made_in(), WeightUnit::Kg);
    /// ```
    pub fn made_in(self) -> WeightUnit {
        let is_made_by = |pounds: f64| self.grams > 0 && Self::from_lb(pounds).grams == self.grams;
        let (whole, by_plates) = (self.lb().round(), (self.lb() / 2.5).round() * 2.5);
        if !self.grams.is_multiple_of(250) && (is_made_by(whole) || is_made_by(by_plates)) {
            WeightUnit::Lb
        } else {
            WeightUnit::Kg
        }
    }

    /// The difference, or zero when `other` is heavier.
    pub fn saturating_sub(self, other: Self) -> Self {
        Self { grams: self.grams.saturating_sub(other.grams) }
    }

    /// A share of this weight, to the nearest gram.
    pub fn share(self, fraction: f64) -> Self {
        Self::from_kg(self.kg() * fraction)
    }

    /// With its unit, as a person reads it: `42.5 kg`, `95 lb`.
    pub fn show(self, unit: WeightUnit) -> String {
        format!("{} {unit}", plain(self.in_unit(unit)))
    }
}

impl Add for Kilograms {
    type Output = Self;
    fn add(self, other: Self) -> Self {
        Self { grams: self.grams + other.grams }
    }
}

impl Sub for Kilograms {
    type Output = Self;
    fn sub(self, other: Self) -> Self {
        self.saturating_sub(other)
    }
}

impl Mul<u32> for Kilograms {
    type Output = Self;
    fn mul(self, times: u32) -> Self {
        Self { grams: self.grams * times }
    }
}

impl Sum for Kilograms {
    fn sum<I: Iterator<Item = Self>>(weights: I) -> Self {
        weights.fold(Self::ZERO, Add::add)
    }
}

/// In the unit in which it is made.
impl fmt::Display for Kilograms {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.show(self.made_in()))
    }
}

/// The unit of weight that a coach writes in.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum WeightUnit {
    /// Kilograms.
    #[default]
    Kg,
    /// Avoirdupois pounds.
    Lb,
}

impl WeightUnit {
    /// `kg` or `lb`.
    pub const fn name(self) -> &'static str {
        match self {
            Self::Kg => "kg",
            Self::Lb => "lb",
        }
    }
}

impl fmt::Display for WeightUnit {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.name())
    }
}

/// A number without needless decimals: `5`, `2.5`, `47.25`.
pub fn plain(value: f64) -> String {
    let rounded = (value * 100.0).round() / 100.0;
    if rounded.fract() == 0.0 { format!("{rounded:.0}") } else { format!("{rounded}") }
}

/// Seconds as a coach reads a clock: `0:45`, `12:05`, `61:10`.
///
/// ```
/// assert_eq!(lantern_session::units::clock(725.4), "12:05");
/// ```
pub fn clock(seconds: f64) -> String {
    let whole = seconds.round().max(0.0) as u64;
    format!("{}:{:02}", whole / 60, whole % 60)
}

/// The clock reading of whole seconds.
pub fn clock_s(seconds: u32) -> String {
    clock(f64::from(seconds))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_pound_is_exactly_453_592_37_grams() {
        assert_eq!(Kilograms::from_lb(100.0).grams(), 45_359);
        assert_eq!(Kilograms::from_lb(135.0).in_unit(WeightUnit::Lb), 135.0);
    }

    #[test]
    fn numbers_lose_needless_decimals_only() {
        assert_eq!(plain(20.0), "20");
        assert_eq!(plain(47.5), "47.5");
        assert_eq!(plain(1.25), "1.25");
    }

    #[test]
    fn clock_rounds_to_the_nearest_second_and_keeps_minutes_over_an_hour() {
        assert_eq!(clock(59.6), "1:00");
        assert_eq!(clock(3670.0), "61:10");
        assert_eq!(clock(-3.0), "0:00");
    }
}
