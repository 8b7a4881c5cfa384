//! Cautions as lines with a word for how serious they are.

use lantern_core::cautions::{Caution, Level};

/// One caution.
pub(crate) struct CautionView {
    pub level: &'static str,
    pub text: String,
}

impl CautionView {
    pub fn new(caution: &Caution) -> Self {
        let level = match caution.level {
            Level::Stop => "stop",
            Level::Care => "care",
            Level::Note => "note",
        };
        Self { level, text: caution.text.clone() }
    }
}
