//! Loads and doses: what is lifted, and how much of a movement is done.

use lantern_session::LoadUnit;
use lantern_session::movement::Unit;

use super::{Line, METRES_IN_A_MILE, METRES_IN_A_YARD, Read, Value, likely};
use crate::tokens::Token;

/// From this on three numbers with strokes between them may be loads.
const LIGHTEST_OF_THREE: f64 = 15.0;

/// What is taken in pairs, so that a plural behind it may be of weights, and how many tokens behind it that may be.
const BELLS: [&str; 10] =
    ["db", "dbs", "dumbbell", "dumbbells", "kb", "kbs", "kettlebell", "kettlebells", "farmer", "farmers"];
const FARTHEST_BELL: usize = 7;

/// The lighter pair as a share of the heavier one.
const LIGHTER: std::ops::RangeInclusive<f64> = 0.55..=0.85;

/// Words before which "in" is no unit.
const BEHIND_IN: [&str; 14] = [
    "the", "a", "an", "your", "under", "each", "every", "any", "all", "total", "this", "that", "pairs",
    "teams",
];

impl Line<'_> {
    pub(crate) fn load_unit(&self, at: usize) -> Option<(LoadUnit, usize)> {
        let units = self.units;
        let skip = usize::from(self.is(at, '-') && !self.tokens[at].spaced);
        let at = at + skip;
        if self.is(at, '#') {
            return Some((LoadUnit::Lb, at + 1));
        }
        if self.is(at, '"') && !self.tokens[at].spaced {
            return Some((LoadUnit::In, at + 1));
        }
        // "50/35 in the time that is left" is no height.
        let word = |at: usize| self.tokens.get(at).and_then(Token::word);
        if word(at) == Some("in") && word(at + 1).is_some_and(|next| BEHIND_IN.contains(&next)) {
            return None;
        }
        [
            (units.kilogram, LoadUnit::Kg),
            (units.pound, LoadUnit::Lb),
            (units.centimetre, LoadUnit::Cm),
            (units.inch, LoadUnit::In),
        ]
        .into_iter()
        .find_map(|(class, unit)| self.class(at, class).map(|end| (unit, end)))
    }

    /// Weights and heights: `60/40 kg`, `2 x 15 kg`, and with `bare` only those that have a unit.
    pub(super) fn loads(&self, at: usize, with_unit: bool) -> Vec<Read> {
        let mut found = Vec::new();
        let mut from = at;
        let mut implements = 1;
        if let Some((count, end)) = self.number(at).filter(|(n, _)| *n == 1.0 || *n == 2.0)
            && self.times(end)
            && self.digits(end + 1).is_some()
        {
            implements = count as u8;
            from = end + 1;
        }
        let Some((first, end)) = self.digits(from).or_else(|| self.number(from)) else { return found };
        let (own, end) = match self.load_unit(end) {
            None if self.is_plural_of_a_weight(end, first) => (None, end + 1),
            own => (own, end),
        };
        let after = own.map_or(end, |(_, end)| end);
        let or = |n: usize| self.tokens.get(n).and_then(Token::word) == Some("or");
        let article = |n: usize| matches!(self.tokens.get(n).and_then(Token::word), Some("a" | "an"));
        let slash = |n: usize| {
            let or = or(n) && own.is_none();
            (self.is(n, '/') || or).then_some(n + 1 + usize::from(or && article(n + 1)))
        };
        // "2x24/2x16": as many of the lighter ones.
        let again = |next: usize| {
            let counted =
                implements > 1 && self.digits(next).is_some_and(|(n, _)| n == f64::from(implements));
            if counted && self.times(next + 1) { next + 2 } else { next }
        };
        // "3x8 @ 60 kg / 2x5 @ 70 kg": the next sets are no second weight.
        let sets = |end: usize| {
            own.is_some() && self.times(end) && self.tokens.get(end + 1).and_then(Token::number).is_some()
        };
        if let Some((second, end)) = slash(after)
            .map(again)
            .and_then(|next| self.digits(next).or_else(|| self.number(next)))
            .filter(|(_, end)| !sets(*end))
        {
            // A third number of a triple ("60/50/40") is for somebody else.
            let third = slash(end)
                .filter(|_| !self.tokens[end].spaced)
                .filter(|next| self.tokens.get(*next).and_then(Token::number).is_some());
            let triple = third.is_some();
            let end = third.map_or(end, |next| next + 1);
            let end = end + usize::from(self.is_plural_of_a_weight(end, first));
            // "60/40k"
            let thousands = self.is_glued(end, "k").then_some((LoadUnit::Kg, end + 1));
            let unit = self.load_unit(end).or(thousands);
            let end = unit.map_or(end, |(_, end)| end);
            let unit = unit.or(own).map(|(unit, _)| unit);
            // "5/3/1" is sets; nobody lifts so little in three shares.
            let sets = triple && unit.is_none() && first < LIGHTEST_OF_THREE;
            if sets {
            } else if unit.is_some() || !with_unit && self.percent_sign(end).is_none() {
                found.push((Value::Load { implements, first, second: Some(second), unit }, end, 0.0));
            }
        }
        // "60 50 centimetres", as it is said; "60 & 40 kg"
        let and = usize::from(self.tokens.get(after).and_then(Token::word) == Some("and"));
        if own.is_none()
            && let Some((second, end)) =
                self.digits(after + and).filter(|(second, _)| *second < first && *second * 2.0 > first)
            && let Some((unit, end)) = self.load_unit(end)
        {
            found.push((Value::Load { implements, first, second: Some(second), unit: Some(unit) }, end, 0.1));
        }
        if let Some((unit, end)) = own.filter(|(unit, _)| likely(first, *unit)) {
            found.push((Value::Load { implements, first, second: None, unit: Some(unit) }, end, 0.0));
        } else if !with_unit && self.percent_sign(end).is_none() {
            found.push((Value::Load { implements, first, second: None, unit: None }, end, 0.0));
        }
        found
    }

    /// "22.5s/15s": a pair of each; nothing lasts so many seconds and a half. "8 DB presses with 20s": nor do dumbbells.
    pub(crate) fn is_plural_of_a_weight(&self, at: usize, first: f64) -> bool {
        let plural =
            |at: usize| self.tokens.get(at).is_some_and(|token| !token.spaced && token.word() == Some("s"));
        let before = &self.tokens[at.saturating_sub(FARTHEST_BELL)..at.min(self.tokens.len())];
        let bells = || before.iter().filter_map(Token::word).any(|word| BELLS.contains(&word));
        // "DB snatches 40s/20s" are on and off: women's dumbbells weigh more than half of the men's.
        let lighter = self.is(at + 1, '/').then(|| self.digits(at + 2)).flatten();
        let pair = || lighter.is_none_or(|(second, end)| !plural(end) || LIGHTER.contains(&(second / first)));
        plural(at) && (first.fract() != 0.0 || bells() && pair())
    }

    pub(crate) fn dose_unit(&self, at: usize) -> Option<(Unit, f64, usize)> {
        let units = self.units;
        let skip = usize::from(self.is(at, '-') && !self.tokens[at].spaced);
        let at = at + skip;
        [
            (units.repetition, Unit::Reps, 1.0),
            (units.calorie, Unit::Calories, 1.0),
            (units.kilometre, Unit::Metres, 1000.0),
            (units.mile, Unit::Metres, METRES_IN_A_MILE),
            (units.yard, Unit::Metres, METRES_IN_A_YARD),
            (units.foot, Unit::Metres, METRES_IN_A_YARD / 3.0),
            (units.metre, Unit::Metres, 1.0),
        ]
        .into_iter()
        .find_map(|(class, unit, factor)| self.class(at, class).map(|end| (unit, factor, end)))
    }

    pub(super) fn doses(&self, at: usize) -> Vec<Read> {
        let mut found = Vec::new();
        for (value, end, cost) in self.lengths(at, false) {
            if let Value::Seconds(low, high) = value {
                let second = (high > low).then_some(f64::from(high));
                let dose =
                    Value::Dose { first: f64::from(low), second, range: true, unit: Some(Unit::Seconds) };
                found.push((dose, end, cost));
            }
        }
        let Some((first, end)) = self.digits(at).or_else(|| self.number(at)) else { return found };
        let own = self.dose_unit(end);
        let behind = own.map_or(end, |(_, _, end)| end);
        let mut push =
            |first: f64, second: Option<f64>, (range, cost), unit: Option<(Unit, f64, usize)>, end: usize| {
                // Nothing is done two and a half times.
                if unit.is_none() && first.fract() != 0.0 {
                    return;
                }
                let (unit, factor, end) =
                    unit.map_or((None, 1.0, end), |(unit, factor, end)| (Some(unit), factor, end));
                // Miles, yards and feet come to whole metres.
                let places: f64 = if factor.fract() == 0.0 { 10.0 } else { 1.0 };
                let scaled = |value: f64| (value * factor * places).round() / places;
                found.push((
                    Value::Dose { first: scaled(first), second: second.map(scaled), range, unit },
                    end,
                    cost,
                ));
            };
        // "10 cal / 12 lunges" are two things.
        let other = own.is_some_and(|(unit, ..)| unit == Unit::Calories)
            && self.dose_unit(behind + 2).is_none()
            && self
                .movements
                .get(behind + 2)
                .is_some_and(|names| !names.is_empty() && !names.iter().any(|name| name.burns));
        if self.is(behind, '/')
            && !other
            && let Some(second) = self.tokens.get(behind + 1).and_then(Token::number)
        {
            let mut end = behind + 2;
            let third = self.tokens.get(end + 1).and_then(Token::number);
            let third = third.filter(|_| self.is(end, '/') && !self.tokens[end].spaced);
            // "16/14/12 cal": the first counts for the pair as written.
            end += third.map_or(0, |_| 2);
            // "21/15/9 cal bike / pull-ups" are rounds: nobody gets less than half of what another does.
            let rungs = third.is_some_and(|third| third * 2.0 < first);
            // "30/25 s" is a pair; "40/20 s" is work and rest, "20/15s" is a pair of bells.
            let near = second < first && second * 2.0 > first;
            let apart = self.tokens.get(end).is_some_and(|token| token.spaced);
            let held = self.class(end, self.units.second).filter(|_| near && apart);
            let unit = self.dose_unit(end).or(held.map(|end| (Unit::Seconds, 1.0, end)));
            let unit = unit.or(own.map(|(u, f, _)| (u, f, end)));
            let bare = self.load_unit(end).is_none() && self.percent_sign(end).is_none();
            if (unit.is_some() || bare) && !rungs {
                push(first, Some(second), (false, 0.0), unit, end);
            }
        }
        if let Some((high, end, cost)) = self.up_to(end, first) {
            push(first, Some(high), (true, cost), self.dose_unit(end), end);
        }
        // "40" of "40/30 kg", "75" of "75 %" and "12" of "12:" are no amounts of work.
        let maximum = self.class(end, self.units.maximum).is_some();
        // "5 inch worms" are no inches.
        let named_longer =
            self.movements.get(end).is_some_and(|names| names.iter().any(|name| name.end > end + 1));
        let part_of_more = own.is_none()
            && (maximum
                || (self.is(end, '/') || self.is(end, '-') || self.times(end))
                    && self.tokens.get(end + 1).and_then(Token::number).is_some()
                || self.percent_sign(end).is_some()
                || self.load_unit(end).is_some() && !named_longer);
        if !part_of_more {
            push(first, None, (false, 0.0), own, end);
        }
        found
    }
}
