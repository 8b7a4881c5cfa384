//! Numbers in front of lines that are how many, though they stand like the numbers of a list.

use std::collections::HashSet;

use super::block::LONGEST_STATION;
use crate::source::SourceLine;
use crate::tokens::{Token, tokens};

/// Lines below each other that begin with a number and a dash, or with one in brackets, and a name: "12 - swings", "(9) burpees".
/// Where the numbers do not count 1, 2, 3 they say how many.
pub(super) fn counted_lines(source: &[SourceLine], plain: &dyn Fn(&str) -> bool) -> HashSet<usize> {
    let mut found = HashSet::new();
    let mut run: Vec<(usize, f64)> = Vec::new();
    let mut keep = |run: &mut Vec<(usize, f64)>| {
        let listed = run.windows(2).any(|pair| pair[1].1 == pair[0].1 + 1.0)
            || run.first().is_some_and(|(_, n)| *n <= 1.0);
        if run.len() > 1 && !listed {
            found.extend(run.iter().map(|(line, _)| *line));
        }
        run.clear();
    };
    for line in source.iter().filter(|line| line.text.len() <= LONGEST_STATION) {
        let place = line.line_at(0);
        if run.last().is_some_and(|(last, _)| last + 1 != place) {
            keep(&mut run);
        }
        match number_in_front(&tokens(&line.text, plain)) {
            Some(number) => run.push((place, number)),
            None => keep(&mut run),
        }
    }
    keep(&mut run);
    found
}

fn number_in_front(tokens: &[Token]) -> Option<f64> {
    let named = |at: usize| tokens.get(at).is_some_and(|token| token.word().is_some());
    match tokens {
        [open, number, close, ..] if open.is('(') && close.is(')') && named(3) => number.number(),
        [number, dash, ..] if dash.is('-') && dash.spaced && named(2) => number.number(),
        _ => None,
    }
}
