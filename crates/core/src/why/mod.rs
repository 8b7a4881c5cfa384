//! Why a figure is what it is: built where the figure is computed, rendered by one component.

use serde::Serialize;

/// The derivation of one figure.
#[derive(Clone, Debug, Default, PartialEq, Serialize)]
pub struct Why {
    /// The figure, as shown: `42.5 kg`.
    pub figure: String,
    /// How it came about, step by step, in words for a coach.
    pub steps: Vec<String>,
    /// Whether it rests on a guess.
    pub guess: bool,
}

impl Why {
    /// A derivation of `figure`.
    pub fn new(figure: impl Into<String>) -> Self {
        Self { figure: figure.into(), ..Self::default() }
    }

    /// With one more step.
    #[must_use]
    pub fn because(mut self, step: impl Into<String>) -> Self {
        self.steps.push(step.into());
        self
    }

    /// Marked as resting on a guess.
    #[must_use]
    pub fn guessed(mut self) -> Self {
        self.guess = true;
        self
    }
}
