//! Stretches of the running clock at the front of a line.

use std::collections::{HashMap, HashSet};

use lantern_session::movement::Catalogue;

use crate::lexicon::Lexicon;
use crate::tokens::{Kind, Token};
use crate::values::movements_at;

/// A stretch shorter than this is one of hours and minutes, in seconds.
const SHORTEST_STRETCH_S: f64 = 60.0;
/// Five o'clock, read as minutes and seconds: nobody's class begins before.
pub(super) const EARLIEST_HOUR_S: u32 = 300;

/// Lines that begin with a stretch of the clock in bare minutes: "0-5: ...", "8-18: ...", each behind the one before.
pub(super) fn window_lines(
    lines: &[(usize, Vec<Token>)],
    lexicon: &Lexicon,
    catalogue: &Catalogue,
) -> HashSet<usize> {
    let stretches: Vec<Stretch> = lines
        .iter()
        .filter(|(_, tokens)| take_window(tokens, lexicon, true, false).0.is_some())
        .filter_map(|(line, tokens)| {
            let tokens = &tokens[leads(tokens)..];
            let number = |at: usize| tokens.get(at).and_then(Token::number);
            let counts = tokens.len() > 3 && !movements_at(tokens, 3, catalogue).is_empty();
            Some(Stretch { line: *line, from: number(0)?, to: number(2)?, counts })
        })
        .collect();
    let from_the_start = stretches.first().is_some_and(|first| first.from == 0.0);
    let goes_on = |pair: &&[Stretch]| {
        let [one, next] = pair else { return false };
        if from_the_start {
            one.to <= next.from
        } else {
            // "6-8 rows, 8-10 dips" are repetitions, however they go on from one another.
            one.to == next.from && !(one.counts && next.counts)
        }
    };
    let in_numbers = stretches.windows(2).filter(goes_on).flat_map(|pair| [pair[0].line, pair[1].line]);
    in_numbers.chain(stretches_in_words(lines, lexicon)).collect()
}

/// "From 0-8: ..." says no more than "0-8: ...".
fn leads(tokens: &[Token]) -> usize {
    usize::from(tokens.first().and_then(Token::word) == Some("from"))
}

/// Whether a line may begin with a stretch that is led by a word.
pub(super) fn begins_in_words(line: &str) -> bool {
    let first = line.split_whitespace().next().unwrap_or_default().to_lowercase();
    matches!(first.as_str(), "from" | "first" | "next" | "last" | "final")
}

/// Lines below each other that divide a clock in words: "first 5 min: ...", "next 10: ...", "last 5: ...".
fn stretches_in_words(lines: &[(usize, Vec<Token>)], lexicon: &Lexicon) -> Vec<usize> {
    let told: Vec<(usize, bool)> = lines
        .iter()
        .filter(|(_, tokens)| stretch_in_words(tokens, lexicon).is_some())
        .map(|(line, tokens)| (*line, tokens.first().and_then(Token::word) == Some("first")))
        .collect();
    let begins = matches!(told[..], [(_, true), (_, false), ..]) && told[1..].iter().all(|(_, first)| !first);
    // What is done in each minute, or again and again, is no stretch of its own.
    let format = |(_, tokens): &&(usize, Vec<Token>)| {
        let mut words = (0..tokens.len()).flat_map(|at| lexicon.at(tokens, at));
        let classes = ["emom", "amrap", "tabata"].map(|name| lexicon.class(name));
        words.any(|(known, _)| classes.contains(&Some(known)))
    };
    let above = told.first().and_then(|(first, _)| lines.iter().rev().find(|(line, _)| line < first));
    if begins && above.is_none_or(|line| !format(&line)) {
        told.into_iter().map(|(line, _)| line).collect()
    } else {
        Vec::new()
    }
}

/// A stretch in words at the front of tokens: its seconds, and the token behind it.
fn stretch_in_words(tokens: &[Token], lexicon: &Lexicon) -> Option<(u32, usize)> {
    let word = tokens.first().and_then(Token::word)?;
    let minutes = tokens.get(1).and_then(Token::number).filter(|n| n.fract() == 0.0 && *n <= 60.0)?;
    let unit = lexicon.class("unit.min").and_then(|class| {
        lexicon.at(tokens, 2).iter().find(|(known, _)| *known == class).map(|(_, end)| *end)
    });
    let unit = unit.or(tokens.get(2).filter(|token| token.is('\'') && !token.spaced).map(|_| 3));
    let bare = matches!(word, "next" | "last" | "final")
        && tokens.get(2).is_some_and(|token| token.is('-') || token.is(':'));
    if !matches!(word, "first" | "next" | "last" | "final") || unit.is_none() && !bare {
        return None;
    }
    let mut end = unit.unwrap_or(2);
    while tokens.get(end).is_some_and(|token| matches!(token.kind, Kind::Sign('-' | ':' | ','))) {
        end += 1;
    }
    (end < tokens.len()).then_some(((minutes * 60.0) as u32, end))
}

/// Lines below each other that begin with a stretch of the class in hours and minutes ("0:00-0:12", "0:12-0:32"): nobody gives a
/// part of a class some seconds.
pub(super) fn hour_lines(lines: &[(usize, Vec<Token>)]) -> HashSet<usize> {
    const FEWEST: usize = 3;
    let clock = |tokens: &[Token], at: usize| match tokens.get(at).map(|token| &token.kind) {
        Some(Kind::Clock(seconds)) => Some(f64::from(*seconds)),
        _ => None,
    };
    let stretches: Vec<(usize, f64, f64)> = lines
        .iter()
        .filter(|(_, tokens)| tokens.get(1).is_some_and(|token| token.is('-')))
        .filter_map(|(line, tokens)| Some((*line, clock(tokens, 0)?, clock(tokens, 2)?)))
        .collect();
    let short = stretches.iter().all(|(_, from, to)| (0.0..SHORTEST_STRETCH_S).contains(&(to - from)));
    let rising = stretches.windows(2).all(|pair| pair[0].2 <= pair[1].1);
    if short && rising && stretches.len() >= FEWEST {
        stretches.into_iter().map(|(line, ..)| line).collect()
    } else {
        HashSet::new()
    }
}

/// Lines that are a name and a stretch of the hour in brackets, "Strength (0-25)", each behind the one before.
pub(super) fn lines_with_stretches(lines: &[(usize, Vec<Token>)]) -> HashSet<usize> {
    let named = |tokens: &[Token]| tokens.iter().any(|token| token.word().is_some());
    let plain = |tokens: &[Token]| tokens.iter().all(|token| token.number().is_none());
    let stretches: Vec<(usize, f64, f64)> = lines
        .iter()
        .filter_map(|(line, tokens)| {
            let at = tokens.len().checked_sub(STRETCH)?;
            let (name, stretch) = tokens.split_at(at);
            let (from, to) = stretch_in_brackets(stretch)?;
            (named(name) && plain(name)).then_some((*line, from, to))
        })
        .collect();
    let rising = stretches.windows(2).all(|pair| pair[0].2 <= pair[1].1);
    let rising = rising && stretches.len() > 1;
    stretches.into_iter().filter(|_| rising).map(|(line, ..)| line).collect()
}

/// Lines at the head of their blocks that are a name and minutes in brackets, "Jerk (18)", with the minutes; one alone may be a count.
pub(super) fn lines_with_minutes(heads: &[(usize, Vec<Token>)]) -> HashMap<usize, u32> {
    let minutes: HashMap<usize, u32> = heads
        .iter()
        .filter_map(|(line, tokens)| {
            let at = tokens.len().checked_sub(MINUTES)?;
            let (name, [open, minutes, close]) = tokens.split_at(at) else { return None };
            let seconds = minutes.number().filter(|n| n.fract() == 0.0 && CLASS_MINUTES.contains(n))? * 60.0;
            let words = name.iter().all(|token| {
                token.word().is_some() || matches!(token.kind, Kind::Sign('-' | ':' | '&' | '+'))
            });
            (words && !name.is_empty() && open.is('(') && close.is(')')).then_some((*line, seconds as u32))
        })
        .collect();
    if minutes.len() > 1 { minutes } else { HashMap::new() }
}

/// Tokens of "(18)".
pub(super) const MINUTES: usize = 3;
/// What a part of a class may last, in minutes.
const CLASS_MINUTES: std::ops::RangeInclusive<f64> = 3.0..=60.0;

/// Tokens of "(0-25)".
pub(super) const STRETCH: usize = 5;

/// The minutes of "(0-25)".
fn stretch_in_brackets(tokens: &[Token]) -> Option<(f64, f64)> {
    let [open, from, dash, to, close] = tokens else { return None };
    let (from, to) = (from.number()?, to.number()?);
    (open.is('(') && dash.is('-') && close.is(')') && from < to).then_some((from, to))
}

/// Two bare numbers at the front of a line, as a stretch of the clock in minutes.
struct Stretch {
    line: usize,
    from: f64,
    to: f64,
    /// Whether a movement stands right behind them, so that they may be how often it is done.
    counts: bool,
}

/// Whether a window is written as two bare numbers.
pub(super) fn bare_range(tokens: &[Token]) -> bool {
    !tokens.iter().any(|token| token.word().is_some() || matches!(token.kind, Kind::Clock(_)))
}

/// ":10-:25" is the stretch "10-25": the colons in front of its minutes go.
pub(super) fn without_bare_colons(tokens: &mut Vec<Token>) {
    /// Characters of minutes with nothing in front of their colon.
    const LONGEST_BARE: usize = 3;
    let bare = |tokens: &[Token], at: usize| {
        let minutes = tokens.get(at + 1).is_some_and(|token| token.number().is_some() && !token.spaced);
        let first =
            at.checked_sub(1).is_none_or(|before| tokens.get(before).is_some_and(|token| token.is('-')));
        tokens.get(at).is_some_and(|token| token.is(':')) && minutes && first
    };
    // At the front of a line ":10" may be seconds.
    if let Some(first) = tokens.first_mut().filter(|first| first.end - first.start <= LONGEST_BARE)
        && let Kind::Clock(seconds) = first.kind
    {
        first.kind = Kind::Number(f64::from(seconds));
    }
    if bare(tokens, 0) {
        tokens.remove(0);
    }
    if bare(tokens, 2) {
        tokens.remove(2);
    }
}

/// A stretch of the running clock at the front of tokens (`0:00-12:00`, `min 0-12`): its length, and the token behind it.
/// `chained` says that the lines go on from one another, so that a number may stand behind two bare ones, `hours` that they are told
/// in hours and minutes.
pub(super) fn take_window(
    tokens: &[Token],
    lexicon: &Lexicon,
    chained: bool,
    hours: bool,
) -> (Option<u32>, usize) {
    if chained && let Some((seconds, end)) = stretch_in_words(tokens, lexicon) {
        return (Some(seconds), end);
    }
    let word = |n: usize| tokens.get(n).and_then(Token::word);
    let mut at = leads(tokens);
    let minutes = matches!(word(at), Some("min" | "mins" | "minute" | "minutes"));
    at += usize::from(minutes);
    let clock = |n: usize| match tokens.get(n).map(|token| &token.kind) {
        Some(Kind::Clock(seconds)) => Some(f64::from(*seconds)),
        Some(Kind::Number(n)) if n.fract() == 0.0 && (minutes || *n <= 75.0) => Some(n * 60.0),
        _ => None,
    };
    let Some(from) = clock(at) else { return (None, 0) };
    // "10-25 " in front of words, no scheme of repetitions.
    let bare = !minutes && matches!(tokens[at].kind, Kind::Number(_));
    let led = |token: &Token| {
        token.word().is_some()
            || token.is('|')
            || token.is(':')
            || token.is('\'') && !token.spaced
            || chained && token.is('"')
            || chained && token.number().is_some() && token.spaced
    };
    // "5 to 6 rounds expected"
    let round = lexicon
        .class("round")
        .is_some_and(|class| lexicon.at(tokens, at + 3).iter().any(|(known, _)| *known == class));
    if bare && (round || tokens.get(at + 3).is_none_or(|token| !led(token))) {
        return (None, 0);
    }
    let dash = tokens.get(at + 1).is_some_and(|token| token.is('-') || token.is('>'));
    let between = dash || matches!(word(at + 1), Some("to" | "until" | "till"));
    let Some(to) = clock(at + 2).filter(|to| between && *to > from) else { return (None, 0) };
    let mut end = at + 3;
    if tokens.get(end).is_some_and(|token| token.is('\'') && !token.spaced) {
        end += 1;
    } else if let Some(class) = lexicon.class("unit.min")
        && end < tokens.len()
        && lexicon.at(tokens, end).iter().any(|(known, _)| *known == class)
    {
        end += 1;
    }
    while tokens
        .get(end)
        .is_some_and(|token| matches!(token.kind, Kind::Sign('-' | ':' | ',' | '.' | ')' | '|')))
    {
        end += 1;
    }
    // "6:15-6:35" is told by the clock on the wall: hours and minutes.
    let seconds = if (to - from) < SHORTEST_STRETCH_S && (hours || from >= f64::from(EARLIEST_HOUR_S)) {
        (to - from) * 60.0
    } else {
        to - from
    };
    (Some(seconds as u32), end)
}
