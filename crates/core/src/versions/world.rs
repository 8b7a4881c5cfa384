//! What versions are made with.

use super::ladder::Ladders;
use crate::gym::Gym;
use crate::movement::Catalogue;
use crate::pacing::{Days, Model};

/// What a search needs to know.
pub struct World<'a> {
    /// Movements.
    pub catalogue: &'a Catalogue,
    /// Swaps.
    pub ladders: &'a Ladders,
    /// Pacing parameters.
    pub model: &'a Model,
    /// Equipment and schools.
    pub gym: &'a Gym,
    /// Days drawn for predictions.
    pub days: &'a Days,
}
