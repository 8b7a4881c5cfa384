//! Cautions as lines with a word for how serious they are.

use lantern_core::cautions::{Caution, Level};

/// One caution.
pub(crate) struct CautionView {
    pub level: &'static str,
    pub text: String,
}

impl CautionView {
    /// Those that matter at a step of the rail.
    pub fn at(step: &str, cautions: &[Caution]) -> Vec<Self> {
        cautions.iter().filter(|caution| caution.step == step).map(Self::new).collect()
    }

    pub fn new(caution: &Caution) -> Self {
        let level = match caution.level {
            Level::Stop => "stop",
            Level::Care => "care",
            Level::Note => "note",
        };
        Self { level, text: caution.text.clone() }
    }
}
