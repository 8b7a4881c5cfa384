//! The best ways to cover a sentence with phrases: each token is explained once or left over at a cost.

use std::rc::Rc;

use crate::grammar::{Grammar, Phrase};
use crate::lexicon::{Class, Lexicon};
use crate::tokens::Kind;
use crate::values::{Line, number_word};
use crate::weights::Weights;

/// Coverings that are kept of one sentence.
const BEST: usize = 3;

/// One way to read a sentence.
#[derive(Clone, Debug)]
pub struct Covering {
    /// The phrases in order.
    pub phrases: Vec<Rc<Phrase>>,
    /// What it costs, left-over tokens included.
    pub cost: f64,
    /// Numbers that no phrase explains, by token.
    pub numbers_left: Vec<usize>,
    /// Words that mean nothing to the reader and that no phrase explains.
    pub unknown_words: usize,
    /// Movement names that no phrase explains, by token.
    pub names_left: usize,
    /// Words whose meaning is known and that no phrase explains, by token.
    pub known_left: Vec<usize>,
}

struct Path {
    phrase: Option<Rc<Phrase>>,
    token: usize,
    before: Option<Rc<Path>>,
}

/// What a token is when nothing explains it.
#[derive(Clone, Copy, PartialEq)]
enum Left {
    Number,
    Name,
    Known,
    /// The word that makes a length a rest.
    Rest,
    Filler,
    Unknown,
    Sign,
    /// A sign that belongs to a number.
    Mark,
}

fn left(line: &Line<'_>, at: usize, filler: Class, rest: Class) -> Left {
    match &line.tokens[at].kind {
        Kind::Number(_) | Kind::Clock(_) => Left::Number,
        Kind::Sign('/' | '%' | '@') => Left::Mark,
        Kind::Sign('-') if between_numbers(line, at) => Left::Mark,
        Kind::Sign(_) => Left::Sign,
        Kind::Word { text, .. } => {
            if text == "x" && between_numbers(line, at) {
                Left::Mark
            } else if rests_for(line, at, rest) {
                Left::Rest
            } else if line.class(at, filler).is_some() && !begins_a_longer_name(line, at) {
                Left::Filler
            } else if !line.movements[at].is_empty() {
                Left::Name
            } else if number_word(text).is_some() || !line.classes[at].is_empty() {
                Left::Known
            } else {
                Left::Unknown
            }
        }
    }
}

/// "Back squat": a word that may stand anywhere is none where a name of several begins with it, and what is left of that would be another movement.
fn begins_a_longer_name(line: &Line<'_>, at: usize) -> bool {
    let within =
        |end: usize| (at + 1..end).any(|later| line.movements[later].iter().any(|name| name.end == end));
    line.movements[at].iter().any(|name| within(name.end))
}

/// Whether a word says of the length beside it that it is rest.
fn rests_for(line: &Line<'_>, at: usize, rest: Class) -> bool {
    let clock = |at: usize| matches!(line.tokens.get(at).map(|token| &token.kind), Some(Kind::Clock(_)));
    let unit = |at: usize| clock(at) || line.is_time_unit(at);
    let number = |at: usize| line.tokens.get(at).is_some_and(|token| token.number().is_some());
    line.class(at, rest).is_some()
        && (at > 0 && unit(at - 1) || clock(at + 1) || number(at + 1) && unit(at + 2))
}

fn between_numbers(line: &Line<'_>, at: usize) -> bool {
    let number = |at: Option<usize>| {
        at.and_then(|at| line.tokens.get(at)).is_some_and(|token| token.number().is_some())
    };
    number(at.checked_sub(1)) && number(Some(at + 1))
}

/// The best coverings of a line, cheapest first; there is always one.
pub fn coverings(line: &Line<'_>, weights: &Weights) -> Vec<Covering> {
    let class = |name: &str| Lexicon::standard().class(name).unwrap_or(Class(u16::MAX));
    let (filler, rest) = (class("fillers"), class("rest"));
    let phrases: Vec<Rc<Phrase>> = Grammar::standard().phrases(line).into_iter().map(Rc::new).collect();
    let n = line.tokens.len();
    let mut starting: Vec<Vec<&Rc<Phrase>>> = vec![Vec::new(); n + 1];
    for phrase in &phrases {
        starting[phrase.start].push(phrase);
    }
    let lefts: Vec<Left> = (0..n).map(|at| left(line, at, filler, rest)).collect();
    // What stands in brackets is said aside.
    let mut depth = 0_usize;
    let aside: Vec<bool> = line
        .tokens
        .iter()
        .map(|token| {
            depth = if token.is('(') { depth + 1 } else { depth };
            let inside = depth > 0;
            depth = if token.is(')') { depth.saturating_sub(1) } else { depth };
            inside
        })
        .collect();
    let in_brackets = weights.of("left.in_brackets");
    let skip = |kind: Left| {
        weights.of(match kind {
            Left::Number => "left.number",
            Left::Name => "left.name",
            Left::Known => "left.known",
            Left::Rest => "left.rest",
            Left::Filler => "left.filler",
            Left::Unknown => "left.unknown",
            Left::Sign => "left.sign",
            Left::Mark => "left.mark",
        })
    };
    let each = weights.of("phrase.each");
    let explained = weights.of("phrase.token");
    let mended = weights.of("phrase.mended");
    let mut best: Vec<Vec<(f64, Option<Rc<Path>>)>> = vec![Vec::new(); n + 1];
    best[0].push((0.0, None));
    for at in 0..n {
        let here = best[at].clone();
        for (cost, path) in here {
            let keep = |list: &mut Vec<(f64, Option<Rc<Path>>)>, cost: f64, path: Path| {
                let place = list.partition_point(|(known, _)| *known <= cost);
                if place < BEST {
                    list.insert(place, (cost, Some(Rc::new(path))));
                    list.truncate(BEST);
                }
            };
            let next = Path { phrase: None, token: at, before: path.clone() };
            let share =
                if aside[at] && matches!(lefts[at], Left::Unknown | Left::Known) { in_brackets } else { 1.0 };
            keep(&mut best[at + 1], cost + share * skip(lefts[at]), next);
            for phrase in &starting[at] {
                let slips = line.tokens[phrase.start..phrase.end]
                    .iter()
                    .filter(|token| matches!(&token.kind, Kind::Word { mended: Some(_), .. }))
                    .count();
                let tokens = (phrase.end - phrase.start) as f64;
                let cost = cost + each + phrase.cost + explained * tokens + mended * slips as f64;
                let next = Path { phrase: Some(Rc::clone(phrase)), token: at, before: path.clone() };
                keep(&mut best[phrase.end], cost, next);
            }
        }
    }
    let mut found: Vec<Covering> = Vec::new();
    for (cost, path) in best.swap_remove(n) {
        let mut covering = Covering {
            phrases: Vec::new(),
            cost,
            numbers_left: Vec::new(),
            unknown_words: 0,
            names_left: 0,
            known_left: Vec::new(),
        };
        let mut step = path;
        while let Some(path) = step {
            match &path.phrase {
                Some(phrase) => covering.phrases.push(Rc::clone(phrase)),
                None => match lefts[path.token] {
                    Left::Number => covering.numbers_left.push(path.token),
                    Left::Unknown => covering.unknown_words += 1,
                    Left::Known | Left::Rest => covering.known_left.push(path.token),
                    Left::Name => covering.names_left += 1,
                    _ => {}
                },
            }
            step = path.before.clone();
        }
        covering.phrases.reverse();
        covering.numbers_left.reverse();
        let says = |covering: &Covering| -> Vec<Vec<crate::say::Say>> {
            covering.phrases.iter().map(|phrase| phrase.says.clone()).collect()
        };
        if !found.iter().any(|known| says(known) == says(&covering)) {
            found.push(covering);
        }
    }
    found
}
