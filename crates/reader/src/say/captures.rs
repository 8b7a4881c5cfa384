//! What the pattern of a row has captured, by its letter.

use lantern_session::movement::MovementId;

use crate::grammar::Capture;
use crate::tokens::Kind;
use crate::values::{Line, Nt, Value};

pub(super) struct Captures<'c>(pub(super) &'c [Capture]);

impl Captures<'_> {
    pub(super) fn value(&self, name: char) -> Option<&Value> {
        self.0.iter().find(|(known, ..)| *known == name).and_then(|(_, value, _)| value.as_ref())
    }
    pub(super) fn has(&self, name: char) -> bool {
        self.0.iter().any(|(known, ..)| *known == name)
    }
    pub(super) fn count(&self, name: char) -> Option<u32> {
        match self.value(name)? {
            Value::Count(n) => Some(*n),
            _ => None,
        }
    }
    pub(super) fn number(&self, name: char) -> Option<f64> {
        self.value(name).and_then(number)
    }
    /// All numbers with a name, in order.
    pub(super) fn numbers(&self, name: char) -> impl Iterator<Item = f64> {
        self.0
            .iter()
            .filter(move |(known, ..)| *known == name)
            .filter_map(|(_, value, _)| number(value.as_ref()?))
    }
    /// All movements with a name, in order.
    pub(super) fn movements(&self, name: char) -> impl Iterator<Item = &MovementId> {
        self.0.iter().filter(move |(known, ..)| *known == name).filter_map(|(_, value, _)| match value {
            Some(Value::Movement { id, .. }) => Some(id),
            _ => None,
        })
    }
    pub(super) fn seconds(&self, name: char) -> Option<(u32, u32)> {
        match self.value(name)? {
            Value::Seconds(low, high) => Some((*low, *high)),
            _ => None,
        }
    }
    pub(super) fn range(&self, name: char) -> Option<(f64, f64)> {
        match self.value(name)? {
            Value::Range(low, high) => Some((*low, *high)),
            _ => None,
        }
    }
}

fn number(value: &Value) -> Option<f64> {
    match value {
        Value::Count(n) => Some(f64::from(*n)),
        Value::Number(n) => Some(*n),
        _ => None,
    }
}

pub(super) fn digits(packed: u32) -> String {
    packed.to_be_bytes().into_iter().filter(|byte| *byte != 0).map(char::from).collect()
}

pub(super) fn position(captures: &[Capture], name: char) -> Option<usize> {
    captures.iter().find(|(known, ..)| *known == name).map(|(.., at)| *at)
}

/// Whether a number is followed by a unit of time.
pub(super) fn has_unit(line: &Line<'_>, at: usize) -> bool {
    !matches!(line.read(Nt::Dur, at).as_slice(), [])
}

/// The words and numbers of a phrase.
pub(super) fn words_between(line: &Line<'_>, start: usize, end: usize) -> Vec<String> {
    line.tokens[start..end]
        .iter()
        .map(|token| match &token.kind {
            Kind::Word { text, .. } => text.clone(),
            Kind::Number(n) => format!("{n}"),
            _ => String::new(),
        })
        .filter(|word| !word.is_empty())
        .collect()
}
