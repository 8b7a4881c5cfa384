//! Lengths of time and tempo.

use super::{Line, Read, Value};
use crate::tokens::{Kind, Token};

/// The ends of a range that is written with spaces lie no farther apart than so many times.
pub(super) const WIDEST_RANGE: f64 = 4.0;

/// Words behind "two of" that say who.
const PEOPLE: [&str; 6] = ["you", "us", "them", "the", "these", "those"];

impl Line<'_> {
    pub(super) fn is_unit_of_length(&self, at: usize) -> bool {
        self.class(at, self.units.mile).or(self.class(at, self.units.kilometre)).is_some()
    }

    /// Whether seconds or minutes stand here.
    pub(crate) fn is_time_unit(&self, at: usize) -> bool {
        [self.units.second, self.units.minute].into_iter().any(|unit| self.class(at, unit).is_some())
    }

    /// A length of time with its unit: `90 s`, `1:30`, `2 min`, `2'`, `a minute and a half`.
    pub(crate) fn one_length(&self, at: usize) -> Option<(f64, usize)> {
        let units = self.units;
        let token = self.tokens.get(at)?;
        if let Kind::Clock(seconds) = token.kind {
            let end = self.class(at + 1, units.minute).or(self.class(at + 1, units.hour)).unwrap_or(at + 1);
            return Some((f64::from(seconds), end));
        }
        if let Some(word) = token.word() {
            let unit = |n: usize, value: f64| {
                let minute = self.class(n, units.minute).map(|end| (value * 60.0, end));
                minute.or_else(|| self.class(n, units.hour).map(|end| (value * 3600.0, end)))
            };
            let half = |n: usize| self.tokens.get(n).and_then(Token::word) == Some("half");
            if matches!(word, "a" | "an" | "one")
                && let Some((seconds, end)) = unit(at + 1, 1.0)
            {
                let and_a = |n: usize, word: &str| self.tokens.get(n).and_then(Token::word) == Some(word);
                if and_a(end, "and") && and_a(end + 1, "a") && half(end + 2) {
                    return Some((seconds * 1.5, end + 3));
                }
                return Some((seconds, end));
            }
            if half(at) {
                let skip = usize::from(
                    self.tokens.get(at + 1).and_then(Token::word).is_some_and(|w| w == "a" || w == "an"),
                );
                return unit(at + 1 + skip, 0.5);
            }
        }
        let (value, mut end) = self.number(at).or_else(|| self.digits(at))?;
        // "three and a half minutes"
        let is_word = |n: usize, word: &str| self.tokens.get(n).and_then(Token::word) == Some(word);
        let joined = is_word(end, "and") || is_word(end, "n");
        let half = joined && is_word(end + 1, "a") && is_word(end + 2, "half");
        let (value, end_of_half) = if half { (value + 0.5, end + 3) } else { (value, end) };
        end = end_of_half;
        // "20-minute", "30-second"
        let hyphened = self.is(end, '-') && !self.tokens[end].spaced;
        if hyphened && [units.minute, units.second].iter().any(|unit| self.class(end + 1, *unit).is_some()) {
            end += 1;
        }
        if let Some(next) = self.class(end, units.hour) {
            return Some((value * 3600.0, next));
        }
        // "1m30s", glued
        let touches = |n: usize| self.tokens.get(n).is_some_and(|token| !token.spaced);
        if is_word(end, "m")
            && (end..end + 3).all(touches)
            && let Some((more, behind)) = self.digits(end + 1).filter(|(more, _)| *more < 60.0)
            && let Some(behind) = self.class(behind, units.second)
        {
            return Some((value * 60.0 + more, behind));
        }
        if let Some(next) = self.class(end, units.minute).filter(|_| !self.is(end, '\'')) {
            // "2 min 30 s", "1 min 30"
            if let Some((more, behind)) = self.digits(next)
                && more < 60.0
                && let Some(behind) = self.class(behind, units.second)
            {
                return Some((value * 60.0 + more, behind));
            }
            return Some((value * 60.0, next));
        }
        // "22.5s/15s" is a pair of bells each.
        let plural = value.fract() != 0.0 && is_word(end, "s");
        if let Some(next) = self.class(end, units.second).filter(|_| !plural) {
            return Some((value, next));
        }
        if self.is(end, '\'') && touches(end) && token.number().is_some() {
            if self.is(end + 1, '\'') && touches(end + 1) {
                return Some((value, end + 2));
            }
            if let Some((more, behind)) = self
                .digits(end + 1)
                .map(|(more, behind)| (more, behind, self.class(behind, units.second)))
                .filter(|(more, behind, unit)| {
                    *more < 60.0 && (touches(end + 1) || unit.is_some() || self.is(*behind, '"'))
                })
                .map(|(more, behind, unit)| (more, unit.unwrap_or(behind)))
            {
                let behind = if self.is(behind, '"') { behind + 1 } else { behind };
                return Some((value * 60.0 + more, behind));
            }
            return Some((value * 60.0, end + 1));
        }
        if self.is(end, '"') && touches(end) && token.number().is_some() && !self.quoted(end) {
            return Some((value, end + 1));
        }
        None
    }

    /// Whether a quote at `end` closes the name of a piece, "AMRAP 7", and stands for no seconds.
    fn quoted(&self, end: usize) -> bool {
        let opens = |at: &usize| {
            let word = |token: &Token| !token.spaced && token.word().is_some();
            self.is(*at, '"')
                && (*at == 0 || self.tokens[*at].spaced)
                && self.tokens.get(at + 1).is_some_and(word)
        };
        (0..end).any(|at| opens(&at)) && (0..end).filter(|at| self.is(*at, '"')).count() % 2 == 1
    }

    pub(super) fn lengths(&self, at: usize, bare: bool) -> Vec<Read> {
        let mut found = Vec::new();
        let second = |n: usize| -> Option<usize> {
            if self.is(n, '-') { Some(n + 1) } else { self.class(n, self.units.to) }
        };
        // "2-3 min": the unit stands behind the last number.
        if let Some((low, end)) = self.number(at)
            && let Some((high, end)) = second(end).and_then(|next| self.one_length(next))
        {
            let apart = self.tokens.get(at + 1).is_some_and(|token| token.is('-') && token.spaced);
            let factor = if high >= low * 60.0 { 60.0 } else { 1.0 };
            let low = low * factor;
            // "Team of 2 - 18 min AMRAP": two numbers with a dash between them.
            let wide = apart && high > WIDEST_RANGE * low;
            if low > 0.0 && low < high && !wide {
                found.push((Value::Seconds(low as u32, high as u32), end, if apart { 0.3 } else { 0.0 }));
            }
        }
        if let Some((low, end)) = self.one_length(at) {
            if let Some((high, end)) =
                second(end).and_then(|next| self.one_length(next)).filter(|(high, _)| *high > low)
            {
                found.push((Value::Seconds(low as u32, high as u32), end, 0.0));
            } else if let Kind::Clock(_) = self.tokens[at].kind
                && let Some((high, end)) =
                    second(end).and_then(|next| self.number(next)).filter(|(high, _)| high * 60.0 > low)
                && bare
            {
                found.push((Value::Seconds(low as u32, (high * 60.0) as u32), end, 0.2));
            }
            found.push((Value::Seconds(low as u32, low as u32), end, 0.0));
        } else if bare
            && let Some((minutes, end)) = self.number(at).or_else(|| self.digits(at))
            && !self.counts_other(end)
            && minutes > 0.0
            && minutes <= 120.0
        {
            if let Some((high, end, cost)) = self.up_to(end, minutes).filter(|(high, ..)| *high <= 120.0) {
                found.push((Value::Seconds((minutes * 60.0) as u32, (high * 60.0) as u32), end, 0.05 + cost));
            }
            found.push((Value::Seconds((minutes * 60.0) as u32, (minutes * 60.0) as u32), end, 0.05));
        }
        found
    }

    /// Whether a number is followed by what is no minutes: "six months", "two of you".
    pub(super) fn counts_other(&self, at: usize) -> bool {
        let word = |at: usize| self.tokens.get(at).and_then(Token::word);
        // "EMOM 16 of:"
        if word(at) == Some("of") {
            return word(at + 1).is_some_and(|behind| PEOPLE.contains(&behind));
        }
        matches!(
            word(at),
            Some("months" | "month" | "weeks" | "week" | "days" | "years" | "people" | "members" | "percent")
        )
    }

    /// `31X1`, `3-1-x-1`, `30x0`, after the word itself or standing alone with an x in it.
    pub(super) fn tempo(&self, at: usize) -> Vec<Read> {
        let mut letters = String::new();
        let mut end = at;
        while let Some(token) = self.tokens.get(end) {
            match &token.kind {
                Kind::Number(n) if n.fract() == 0.0 && *n >= 0.0 => {
                    let width = token.end - token.start;
                    letters.push_str(&format!("{:0width$}", *n as u64));
                }
                Kind::Word { text, .. } if text.len() <= 2 && text.chars().all(|c| c == 'x' || c == 'a') => {
                    letters.push_str(&text.to_uppercase());
                }
                Kind::Sign('-' | '/' | '.') if !letters.is_empty() && !token.spaced => {}
                _ => break,
            }
            let apart = token.spaced && end > at && token.end - token.start > 1;
            // "x 10" counts: a tempo begins with the way down, which nobody leaves to chance.
            if letters.len() > 4 || apart || letters.starts_with('X') {
                return Vec::new();
            }
            end += 1;
            if letters.len() == 4 {
                break;
            }
        }
        // "6 x 1" is sets of one, "5x8" of eight, whatever word stands beside them.
        let spaced = || self.tokens[at..end].iter().skip(1).any(|token| token.spaced);
        // So is "5x1" where a line begins.
        let begins = || at == 0 || at == 1 && matches!(self.tokens[0].kind, Kind::Sign(_));
        let named = || self.tokens.get(end).is_some_and(|token| token.word() == Some("tempo"));
        let sets = letters.get(1..).is_some_and(|letters| letters.starts_with('X'))
            && match letters.len() {
                3 => spaced() || !letters.ends_with(['0', '1', 'X']) || begins() && !named(),
                // "3x20" counts too; "3-x-2-0" is a tempo.
                _ => end - at == 3,
            };
        if sets || !(3..=4).contains(&letters.len()) {
            return Vec::new();
        }
        let reps = letters.bytes().fold(0, |packed: u32, byte| packed << 8 | u32::from(byte));
        vec![(Value::Count(reps), end, 0.0)]
    }
}
