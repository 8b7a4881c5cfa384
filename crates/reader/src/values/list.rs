//! Ranges and lists of repetitions, and shares of a maximum.

use super::time::WIDEST_RANGE;
use super::{LONGEST_LIST, Line, Read, Value};
use crate::tokens::Token;

/// What a range costs that is written with spaces.
const APART: f64 = 0.3;

/// Words behind a list that say that it goes on.
const GOES_ON: [&[&str]; 4] = [&["and", "so", "on"], &["and", "so", "forth"], &["and", "on"], &["etc"]];

impl Line<'_> {
    pub(super) fn range(&self, at: usize) -> Vec<Read> {
        let Some((low, end)) = self.number(at) else { return Vec::new() };
        // "two or three"
        let or = || {
            let or = self.tokens.get(end).and_then(Token::word) == Some("or");
            self.number(end + 1)
                .filter(|(high, _)| or && *high == low + 1.0)
                .map(|(high, end)| (high, end, 0.0))
        };
        let high = self.up_to(end, low).or_else(or);
        high.map(|(high, end, cost)| (Value::Range(low, high), end, cost)).into_iter().collect()
    }

    /// The upper end of a range whose lower one ends here, with what it costs to take two numbers with a dash between them for one.
    pub(super) fn up_to(&self, end: usize, low: f64) -> Option<(f64, usize, f64)> {
        let next = if self.is(end, '-') { Some(end + 1) } else { self.class(end, self.units.to) };
        let (high, behind) = next.and_then(|next| self.number(next)).filter(|(high, _)| *high > low)?;
        // "AMRAP 2 - 10 box jumps"
        let apart = self.is(end, '-') && self.tokens[end].spaced;
        (!apart || high <= WIDEST_RANGE * low).then_some((high, behind, if apart { APART } else { 0.0 }))
    }

    pub(super) fn list(&self, at: usize) -> Vec<Read> {
        let mut found = Vec::new();
        for sign in ['-', ',', '/', '.'] {
            if let Some(read) = self.list_with(at, sign) {
                found.push(read);
            }
        }
        // "twenty-one fifteen nine", as it is said.
        if self.tokens[at].word().is_some() {
            let (mut reps, mut end, mut behind) = (Vec::new(), at, at);
            while let Some((value, next)) = self.number(end).filter(|_| self.tokens[end].word().is_some()) {
                reps.push(value as u32);
                // "nine, seven and five"
                let sign = usize::from(self.is(next, ','));
                let joined =
                    sign + usize::from(self.tokens.get(next + sign).and_then(Token::word) == Some("and"));
                let goes_on = self.tokens.get(next + joined).is_some_and(|token| token.word().is_some())
                    && self.number(next + joined).is_some();
                (end, behind) = (if goes_on { next + joined } else { next }, next);
                if !goes_on {
                    break;
                }
            }
            let falls = reps.windows(2).all(|pair| pair[0] > pair[1])
                || reps.windows(2).all(|pair| pair[0] < pair[1]);
            if reps.len() >= 3 && falls {
                found.push((Value::List { reps, open: None }, behind, 0.0));
            }
        }
        // "10 down to 1", "1 up to 10", "10 to 1"
        if let Some((first, end)) = self.number(at)
            && let Some(behind) =
                if self.is(end, '>') { Some(end + 1) } else { self.class(end, self.units.to) }
            && let Some((last, end)) = self.number(behind)
            && (first == 1.0 || last == 1.0)
            && (first - last).abs() >= 3.0
            && first.max(last) <= LONGEST_LIST as f64
        {
            let (first, last) = (first as u32, last as u32);
            let reps: Vec<u32> =
                if first > last { (last..=first).rev().collect() } else { (first..=last).collect() };
            found.push((Value::List { reps, open: None }, end, 0.0));
        }
        found
    }

    pub(super) fn list_with(&self, at: usize, sign: char) -> Option<Read> {
        let whole = |n: usize| {
            let value = self.tokens.get(n)?.number()?;
            (value.fract() == 0.0 && value <= 1000.0).then_some(value as u32)
        };
        let mut reps = vec![whole(at)?];
        let mut end = at + 1;
        // "20/14 / 9 sit-ups": a slash with room around it parts what the ones without join.
        let tight = sign == '/' && self.tokens.get(end).is_some_and(|token| !token.spaced);
        let mut dots = false;
        loop {
            let mut next = end;
            let and =
                sign == ',' && reps.len() >= 2 && self.tokens.get(next).and_then(Token::word) == Some("and");
            if tight && self.is(next, sign) && self.tokens[next].spaced {
                break;
            }
            if self.is(next, sign) || and {
                next += 1;
            }
            if sign == ',' && self.tokens.get(next).and_then(Token::word) == Some("and") {
                next += 1;
            }
            let word = |n: usize| self.tokens.get(next + n).and_then(Token::word);
            let on = GOES_ON.iter().find(|phrase| (0..phrase.len()).all(|n| word(n) == Some(phrase[n])));
            if self.is(next, '\u{2026}') || on.is_some() {
                dots = true;
                end = next + on.map_or(1, |phrase| phrase.len());
                let last = if self.is(end, sign) || self.is(end, '-') { end + 1 } else { end };
                let step = reps.windows(2).last().map(|pair| i64::from(pair[1]) - i64::from(pair[0]));
                if let (Some(last_value), Some(step)) = (whole(last), step)
                    && step != 0
                    && reps.len() >= 2
                {
                    let mut value = i64::from(*reps.last()?) + step;
                    let goal = i64::from(last_value);
                    while (step > 0 && value <= goal || step < 0 && value >= goal)
                        && reps.len() < LONGEST_LIST
                    {
                        reps.push(value.max(0) as u32);
                        value += step;
                    }
                    return (reps.last() == Some(&last_value)).then_some((
                        Value::List { reps, open: None },
                        last + 1,
                        0.0,
                    ));
                }
                break;
            }
            if next == end {
                break;
            }
            // "5-5-max": as many as possible in a set.
            if sign == '-' && next > end && self.tokens.get(next).and_then(Token::word) == Some("max") {
                reps.push(0);
                end = next + 1;
                continue;
            }
            let Some(value) = whole(next) else { break };
            if reps.len() >= LONGEST_LIST {
                break;
            }
            reps.push(value);
            end = next + 1;
        }
        if dots {
            let step = match reps[..] {
                [a, b, ..] if b > a => b - a,
                _ => return None,
            };
            return Some((Value::List { reps, open: Some(step) }, end, 0.0));
        }
        // A unit behind the last number makes it something else; two numbers are a range or a pair.
        let units = self.units;
        let unit = [units.kilogram, units.pound, units.percent, units.centimetre, units.inch]
            .into_iter()
            .any(|unit| self.class(end, unit).is_some())
            || self.is(end, '%')
            || self.is(end, '#');
        if unit || reps.len() < 2 {
            return None;
        }
        // "21/15/9" falls too fast to be what three levels do.
        let falls = reps.last().is_some_and(|last| last * 2 < reps[0]);
        let cost = match (reps.len(), sign) {
            (2, '-') => 0.8,
            (2, _) => return None,
            (_, '-') => 0.0,
            (_, '/') if falls => 0.0,
            _ => 0.4,
        };
        Some((Value::List { reps, open: None }, end, cost))
    }

    pub(crate) fn times(&self, at: usize) -> bool {
        self.tokens.get(at).and_then(Token::word) == Some("x") || self.is(at, '*')
    }

    pub(super) fn percent_sign(&self, at: usize) -> Option<usize> {
        // "80+%"
        let at = at + usize::from(self.is(at, '+') && self.is(at + 1, '%'));
        if self.is(at, '%') { Some(at + 1) } else { self.class(at, self.units.percent) }
    }

    pub(super) fn percents(&self, at: usize) -> Vec<Read> {
        let Some((first, end)) = self.digits(at).or_else(|| self.number(at)) else { return Vec::new() };
        let mut listed = vec![first];
        let mut signed = self.percent_sign(end);
        // With its sign any number is a share, even one that cannot be: the check of the session says so.
        if !(1.0..=150.0).contains(&first) && signed.is_none() {
            return Vec::new();
        }
        let mut end = signed.unwrap_or(end);
        let mut range = false;
        loop {
            let next = if self.is(end, '-') || self.is(end, '/') || self.is(end, ',') || self.is(end, '>') {
                range |= self.is(end, '-');
                end + 1
            } else if let Some(next) = self.class(end, self.units.to) {
                range = true;
                next
            } else if listed.len() > 1 && self.tokens.get(end).and_then(Token::word) == Some("and") {
                // "65, 75 and 85 %"
                end
            } else {
                break;
            };
            let next =
                if self.tokens.get(next).and_then(Token::word) == Some("and") { next + 1 } else { next };
            let Some((value, behind)) = self
                .digits(next)
                .or_else(|| self.number(next))
                .filter(|(value, _)| (1.0..=150.0).contains(value))
            else {
                break;
            };
            let behind_sign = self.percent_sign(behind);
            if behind_sign.is_none() && signed.is_some() {
                break;
            }
            listed.push(value);
            signed = behind_sign;
            end = signed.unwrap_or(behind);
        }
        if self.percent_sign(end - 1) != Some(end) && signed.is_none() {
            return Vec::new();
        }
        let percents = match listed[..] {
            // "3 - 70%" is three at that share.
            [low, high] if range && low * 3.0 < high => return Vec::new(),
            [low, high] if range && high > low => vec![[low, high]],
            _ => listed.iter().map(|value| [*value, *value]).collect(),
        };
        vec![(Value::Percents(percents), end, 0.0)]
    }
}
