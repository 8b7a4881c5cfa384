//! What only the coach can say: questions, and the readings to choose from.

use serde::Serialize;

use crate::corrections::Correction;

/// Something that only the coach can say: where another reading is about as likely.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Question {
    /// The first line that it is about, counted from 1.
    pub line: usize,
    /// The last.
    pub last_line: usize,
    /// The first character that it is about, counted from 1.
    pub column: usize,
    /// In words.
    pub message: String,
    /// Which of the options the reading took.
    pub chosen: usize,
    /// The readings to choose from.
    pub options: Vec<Choice>,
}

/// One answer to a question.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Choice {
    /// In a few words.
    pub label: String,
    /// What the lines would then be.
    pub effect: String,
    /// The work in them.
    pub volume: String,
    /// How long they would take, where the text fixes it, in minutes.
    pub minutes: Option<u32>,
    /// The corrections that make it so, and answer the question.
    pub corrections: Vec<Correction>,
}
