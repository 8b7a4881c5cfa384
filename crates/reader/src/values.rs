//! Values that phrases are made of: counts, lengths of time, lists, percentages, loads, doses and movements. Each can be read in
//! several ways at the same place, with several ends.

use lantern_session::LoadUnit;
use lantern_session::movement::{Catalogue, LoadKind, MovementId, Unit};

use crate::lexicon::{Class, Lexicon};
use crate::tokens::{Kind, Token};

/// Metres in a mile and in a yard, exact by definition; a foot is a third of a yard.
const METRES_IN_A_MILE: f64 = 1609.344;
/// Metres in a yard.
const METRES_IN_A_YARD: f64 = 0.9144;
/// What each further token of a name costs: a longer name explains more than a shorter one with a word before it.
const LONGER_NAME: f64 = -0.06;
/// Most repetitions that are read in one list.
const LONGEST_LIST: usize = 60;

/// The value of a capture.
#[derive(Clone, Debug, PartialEq)]
pub enum Value {
    /// A whole number.
    Count(u32),
    /// Any number.
    Number(f64),
    /// A length of time: shortest and longest, in seconds.
    Seconds(u32, u32),
    /// `5-6`.
    Range(f64, f64),
    /// `21-15-9`; `open` carries the step of one that goes on without end.
    List {
        /// The numbers in order.
        reps: Vec<u32>,
        /// What each adds to the one before, when there is no last one.
        open: Option<u32>,
    },
    /// Shares of a maximum, one range for all or one each.
    Percents(Vec<[f64; 2]>),
    /// A weight or height.
    Load {
        /// Implements at once.
        implements: u8,
        /// The first number.
        first: f64,
        /// The lighter of a pair.
        second: Option<f64>,
        /// The unit, when written.
        unit: Option<LoadUnit>,
    },
    /// An amount of work.
    Dose {
        /// The number.
        first: f64,
        /// The other of a pair, or the end of a range.
        second: Option<f64>,
        /// Whether `second` ends a range rather than a pair.
        range: bool,
        /// What it counts, when written.
        unit: Option<Unit>,
    },
    /// A movement.
    Movement {
        /// Which.
        id: MovementId,
        /// Whether its name is a shorthand of several.
        shorthand: bool,
        /// Whether a load or a height can stand beside it.
        weighs: bool,
    },
}

/// A value with the token behind it and what the reading costs.
pub type Read = (Value, usize, f64);

/// A kind of value, as the grammar names it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[expect(missing_docs, reason = "the names are those of the grammar file")]
pub enum Nt {
    Int,
    Num,
    /// A length of time with its unit, or a range of them.
    Dur,
    /// A length of time, or a bare number of minutes.
    Len,
    Range,
    List,
    Pct,
    Load,
    Weight,
    Dose,
    Mv,
    Tempo,
}

impl Nt {
    /// From its name in the grammar.
    pub fn named(name: &str) -> Option<Self> {
        Some(match name {
            "int" => Self::Int,
            "num" => Self::Num,
            "dur" => Self::Dur,
            "len" => Self::Len,
            "range" => Self::Range,
            "list" => Self::List,
            "pct" => Self::Pct,
            "load" => Self::Load,
            "weight" => Self::Weight,
            "dose" => Self::Dose,
            "mv" => Self::Mv,
            "tempo" => Self::Tempo,
            _ => return None,
        })
    }
}

/// A line's tokens with the lexicon's phrases at each of them.
pub struct Line<'a> {
    /// The tokens.
    pub tokens: &'a [Token],
    /// Phrases that begin at each token.
    pub classes: Vec<Vec<(Class, usize)>>,
    /// The movements that begin at each token.
    pub movements: Vec<Vec<Name>>,
    /// Whether each token is a word of any movement's name.
    pub in_names: Vec<bool>,
    units: Units,
}

/// A movement's name in a line.
pub struct Name {
    /// The movement.
    pub id: MovementId,
    /// The token behind it.
    pub end: usize,
    /// Whether it is a shorthand of several.
    pub shorthand: bool,
    /// Whether a load or a height can stand beside it.
    pub weighs: bool,
}

/// The classes that values ask for.
#[derive(Clone, Copy)]
struct Units {
    minute: Class,
    second: Class,
    hour: Class,
    metre: Class,
    kilometre: Class,
    mile: Class,
    yard: Class,
    foot: Class,
    calorie: Class,
    repetition: Class,
    kilogram: Class,
    pound: Class,
    centimetre: Class,
    inch: Class,
    percent: Class,
    to: Class,
    maximum: Class,
}

impl Units {
    fn new(lexicon: &Lexicon) -> Self {
        let class = |name: &str| lexicon.class(name).unwrap_or(Class(u16::MAX));
        Self {
            minute: class("unit.min"),
            second: class("unit.s"),
            hour: class("unit.h"),
            metre: class("unit.m"),
            kilometre: class("unit.km"),
            mile: class("unit.mile"),
            yard: class("unit.yd"),
            foot: class("unit.ft"),
            calorie: class("unit.cal"),
            repetition: class("unit.rep"),
            kilogram: class("unit.kg"),
            pound: class("unit.lb"),
            centimetre: class("unit.cm"),
            inch: class("unit.in"),
            percent: class("percent"),
            to: class("to"),
            maximum: class("rm"),
        }
    }
}

/// The number that a word stands for.
pub fn number_word(word: &str) -> Option<f64> {
    const SMALL: [&str; 21] = [
        "zero",
        "one",
        "two",
        "three",
        "four",
        "five",
        "six",
        "seven",
        "eight",
        "nine",
        "ten",
        "eleven",
        "twelve",
        "thirteen",
        "fourteen",
        "fifteen",
        "sixteen",
        "seventeen",
        "eighteen",
        "nineteen",
        "twenty",
    ];
    const TENS: [(&str, f64); 7] = [
        ("thirty", 30.0),
        ("forty", 40.0),
        ("fifty", 50.0),
        ("sixty", 60.0),
        ("seventy", 70.0),
        ("eighty", 80.0),
        ("ninety", 90.0),
    ];
    let small = SMALL.iter().position(|known| *known == word).map(|n| n as f64);
    let tens = || TENS.iter().find(|(known, _)| *known == word).map(|(_, n)| *n);
    let others = || match word {
        "hundred" => Some(100.0),
        "thousand" => Some(1000.0),
        "twice" => Some(2.0),
        "thrice" => Some(3.0),
        "single" => Some(1.0),
        "double" => Some(2.0),
        "triple" => Some(3.0),
        "dozen" => Some(12.0),
        _ => None,
    };
    small.or_else(tens).or_else(others)
}

/// Names that mean one thing beside a load and another without.
fn is_shorthand(words: usize, id: &str) -> bool {
    words == 1 && matches!(id, "air-squat" | "row")
}

impl<'a> Line<'a> {
    /// Looks up phrases and movements of a line.
    pub fn new(tokens: &'a [Token], lexicon: &Lexicon, catalogue: &Catalogue) -> Self {
        let classes = (0..tokens.len()).map(|at| lexicon.at(tokens, at)).collect();
        let movements = (0..tokens.len()).map(|at| movements_at(tokens, at, catalogue)).collect();
        let in_names =
            tokens.iter().map(|token| token.word().is_some_and(|word| catalogue.uses_word(word))).collect();
        Self { tokens, classes, movements, in_names, units: Units::new(lexicon) }
    }

    /// Whether a phrase of a class begins here; gives its longest end.
    pub fn class(&self, at: usize, class: Class) -> Option<usize> {
        let found = self.classes.get(at)?.iter().filter(|(known, _)| *known == class);
        found.map(|(_, end)| *end).max()
    }

    fn is(&self, at: usize, sign: char) -> bool {
        self.tokens.get(at).is_some_and(|token| token.is(sign))
    }

    fn number(&self, at: usize) -> Option<(f64, usize)> {
        let token = self.tokens.get(at)?;
        let value = match &token.kind {
            Kind::Number(value) => *value,
            Kind::Word { text, .. } => {
                let value = number_word(text)?;
                // "twenty four", "a hundred and fifty"
                let mut next = at + 1;
                if self.is(next, '-') && !self.tokens[next].spaced {
                    next += 1;
                }
                let word = |n: usize| self.tokens.get(n).and_then(Token::word).and_then(number_word);
                if (20.0..100.0).contains(&value)
                    && let Some(unit) = word(next).filter(|unit| (1.0..10.0).contains(unit))
                {
                    return Some((value + unit, next + 1));
                }
                if value < 10.0 && word(at + 1) == Some(100.0) {
                    return Some((value * 100.0, at + 2));
                }
                value
            }
            _ => return None,
        };
        Some((value, at + 1))
    }

    fn digits(&self, at: usize) -> Option<(f64, usize)> {
        let value = self.tokens.get(at)?.number()?;
        // "1/2 mile"
        if value == 1.0
            && self.is(at + 1, '/')
            && let Some(below) =
                self.tokens.get(at + 2).and_then(Token::number).filter(|n| (2.0..=4.0).contains(n))
            && self.is_unit_of_length(at + 3)
        {
            return Some((value / below, at + 3));
        }
        Some((value, at + 1))
    }

    fn is_unit_of_length(&self, at: usize) -> bool {
        self.class(at, self.units.mile).or(self.class(at, self.units.kilometre)).is_some()
    }

    /// All readings of a kind of value that begin here.
    pub fn read(&self, nt: Nt, at: usize) -> Vec<Read> {
        match nt {
            Nt::Int => self.count(at),
            Nt::Num => self.number(at).map(|(n, end)| (Value::Number(n), end, 0.0)).into_iter().collect(),
            Nt::Dur => self.lengths(at, false),
            Nt::Len => self.lengths(at, true),
            Nt::Range => self.range(at),
            Nt::List => self.list(at),
            Nt::Pct => self.percents(at),
            Nt::Load => self.loads(at, true),
            Nt::Weight => self.loads(at, false),
            Nt::Dose => self.doses(at),
            Nt::Mv => self.movements.get(at).map_or_else(Vec::new, |found| {
                let cost = |end: usize| LONGER_NAME * (end - at - 1) as f64;
                let value = |name: &Name| Value::Movement {
                    id: name.id.clone(),
                    shorthand: name.shorthand,
                    weighs: name.weighs,
                };
                found.iter().map(|name| (value(name), name.end, cost(name.end))).collect()
            }),
            Nt::Tempo => self.tempo(at),
        }
    }

    fn count(&self, at: usize) -> Vec<Read> {
        let whole = |(n, end): (f64, usize)| (n.fract() == 0.0).then_some((Value::Count(n as u32), end, 0.0));
        self.number(at).and_then(whole).into_iter().collect()
    }

    /// A length of time with its unit: `90 s`, `1:30`, `2 min`, `2'`, `a minute and a half`.
    fn one_length(&self, at: usize) -> Option<(f64, usize)> {
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
                let skip =
                    usize::from(self.tokens.get(at + 1).and_then(Token::word).is_some_and(|w| w == "a"));
                return unit(at + 1 + skip, 0.5);
            }
        }
        let (value, mut end) = self.number(at).or_else(|| self.digits(at))?;
        // "three and a half minutes"
        let is_word = |n: usize, word: &str| self.tokens.get(n).and_then(Token::word) == Some(word);
        let half = is_word(end, "and") && is_word(end + 1, "a") && is_word(end + 2, "half");
        let (value, end_of_half) = if half { (value + 0.5, end + 3) } else { (value, end) };
        end = end_of_half;
        if self.is(end, '-') && !self.tokens[end].spaced && self.class(end + 1, units.minute).is_some() {
            end += 1;
        }
        if let Some(next) = self.class(end, units.hour) {
            return Some((value * 3600.0, next));
        }
        if let Some(next) = self.class(end, units.minute) {
            // "2 min 30 s", "1 min 30"
            if let Some((more, behind)) = self.digits(next)
                && more < 60.0
                && let Some(behind) = self.class(behind, units.second)
            {
                return Some((value * 60.0 + more, behind));
            }
            return Some((value * 60.0, next));
        }
        if let Some(next) = self.class(end, units.second) {
            return Some((value, next));
        }
        let touches = |n: usize| self.tokens.get(n).is_some_and(|token| !token.spaced);
        if self.is(end, '\'') && touches(end) && token.number().is_some() {
            if self.is(end + 1, '\'') && touches(end + 1) {
                return Some((value, end + 2));
            }
            if let Some((more, behind)) = self
                .digits(end + 1)
                .filter(|(more, behind)| *more < 60.0 && (touches(end + 1) || self.is(*behind, '"')))
            {
                let behind = if self.is(behind, '"') { behind + 1 } else { behind };
                return Some((value * 60.0 + more, behind));
            }
            return Some((value * 60.0, end + 1));
        }
        if self.is(end, '"') && touches(end) && token.number().is_some() {
            return Some((value, end + 1));
        }
        None
    }

    fn lengths(&self, at: usize, bare: bool) -> Vec<Read> {
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
            if low > 0.0 && low < high {
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
            if let Some((high, end)) = second(end).and_then(|next| self.number(next))
                && high > minutes
                && high <= 120.0
            {
                found.push((Value::Seconds((minutes * 60.0) as u32, (high * 60.0) as u32), end, 0.05));
            }
            found.push((Value::Seconds((minutes * 60.0) as u32, (minutes * 60.0) as u32), end, 0.05));
        }
        found
    }

    /// Whether a number is followed by what is no minutes: "six months", "two of you".
    fn counts_other(&self, at: usize) -> bool {
        let word = self.tokens.get(at).and_then(Token::word);
        matches!(
            word,
            Some(
                "months"
                    | "month"
                    | "weeks"
                    | "week"
                    | "days"
                    | "years"
                    | "people"
                    | "of"
                    | "members"
                    | "percent"
            )
        )
    }

    fn range(&self, at: usize) -> Vec<Read> {
        let Some((low, end)) = self.number(at) else { return Vec::new() };
        let next = if self.is(end, '-') { Some(end + 1) } else { self.class(end, self.units.to) };
        let high = next.and_then(|next| self.number(next)).filter(|(high, _)| *high > low);
        high.map(|(high, end)| (Value::Range(low, high), end, 0.0)).into_iter().collect()
    }

    fn list(&self, at: usize) -> Vec<Read> {
        let mut found = Vec::new();
        for sign in ['-', ',', '/', '.'] {
            if let Some(read) = self.list_with(at, sign) {
                found.push(read);
            }
        }
        // "twenty-one fifteen nine", as it is said.
        if self.tokens[at].word().is_some() {
            let (mut reps, mut end) = (Vec::new(), at);
            while let Some((value, next)) = self.number(end).filter(|_| self.tokens[end].word().is_some()) {
                reps.push(value as u32);
                end = next;
            }
            let falls = reps.windows(2).all(|pair| pair[0] > pair[1])
                || reps.windows(2).all(|pair| pair[0] < pair[1]);
            if reps.len() >= 3 && falls {
                found.push((Value::List { reps, open: None }, end, 0.0));
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

    fn list_with(&self, at: usize, sign: char) -> Option<Read> {
        let whole = |n: usize| {
            let value = self.tokens.get(n)?.number()?;
            (value.fract() == 0.0 && value <= 1000.0).then_some(value as u32)
        };
        let mut reps = vec![whole(at)?];
        let mut end = at + 1;
        let mut dots = false;
        loop {
            let mut next = end;
            let and =
                sign == ',' && reps.len() >= 2 && self.tokens.get(next).and_then(Token::word) == Some("and");
            if self.is(next, sign) || and {
                next += 1;
            }
            if sign == ',' && self.tokens.get(next).and_then(Token::word) == Some("and") {
                next += 1;
            }
            if self.is(next, '\u{2026}') || self.tokens.get(next).and_then(Token::word) == Some("etc") {
                dots = true;
                end = next + 1;
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
        let cost = match (reps.len(), sign) {
            (2, '-') => 0.8,
            (2, _) => return None,
            (_, '-') => 0.0,
            _ => 0.4,
        };
        Some((Value::List { reps, open: None }, end, cost))
    }

    fn times(&self, at: usize) -> bool {
        self.tokens.get(at).and_then(Token::word) == Some("x") || self.is(at, '*')
    }

    fn percent_sign(&self, at: usize) -> Option<usize> {
        if self.is(at, '%') { Some(at + 1) } else { self.class(at, self.units.percent) }
    }

    fn percents(&self, at: usize) -> Vec<Read> {
        let Some((first, end)) = self.digits(at).or_else(|| self.number(at)) else { return Vec::new() };
        if !(1.0..=150.0).contains(&first) {
            return Vec::new();
        }
        let mut listed = vec![first];
        let mut signed = self.percent_sign(end);
        let mut end = signed.unwrap_or(end);
        let mut range = false;
        loop {
            let next = if self.is(end, '-') || self.is(end, '/') || self.is(end, ',') || self.is(end, '>') {
                range |= self.is(end, '-');
                end + 1
            } else if let Some(next) = self.class(end, self.units.to) {
                range = true;
                next
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
            [low, high] if range && high > low => vec![[low, high]],
            _ => listed.iter().map(|value| [*value, *value]).collect(),
        };
        vec![(Value::Percents(percents), end, 0.0)]
    }

    fn load_unit(&self, at: usize) -> Option<(LoadUnit, usize)> {
        let units = self.units;
        let skip = usize::from(self.is(at, '-') && !self.tokens[at].spaced);
        let at = at + skip;
        if self.is(at, '#') {
            return Some((LoadUnit::Lb, at + 1));
        }
        if self.is(at, '"') && !self.tokens[at].spaced {
            return Some((LoadUnit::In, at + 1));
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
    fn loads(&self, at: usize, with_unit: bool) -> Vec<Read> {
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
        let own = self.load_unit(end);
        let after = own.map_or(end, |(_, end)| end);
        let or = |n: usize| self.tokens.get(n).and_then(Token::word) == Some("or");
        let article = |n: usize| matches!(self.tokens.get(n).and_then(Token::word), Some("a" | "an"));
        let slash = |n: usize| {
            let or = or(n) && own.is_none();
            (self.is(n, '/') || or).then_some(n + 1 + usize::from(or && article(n + 1)))
        };
        if let Some((second, end)) =
            slash(after).and_then(|next| self.digits(next).or_else(|| self.number(next)))
        {
            // A third number of a triple ("60/50/40") is for somebody else.
            let third = slash(end)
                .filter(|_| !self.tokens[end].spaced)
                .filter(|next| self.tokens.get(*next).and_then(Token::number).is_some());
            let end = third.map_or(end, |next| next + 1);
            let unit = self.load_unit(end);
            let end = unit.map_or(end, |(_, end)| end);
            let unit = unit.or(own).map(|(unit, _)| unit);
            if unit.is_some() || !with_unit && self.percent_sign(end).is_none() {
                found.push((Value::Load { implements, first, second: Some(second), unit }, end, 0.0));
            }
        }
        // "60 50 centimetres", as it is said.
        if own.is_none()
            && let Some((second, end)) =
                self.digits(after).filter(|(second, _)| *second < first && *second * 2.0 > first)
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

    fn dose_unit(&self, at: usize) -> Option<(Unit, f64, usize)> {
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

    fn doses(&self, at: usize) -> Vec<Read> {
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
            |first: f64, second: Option<f64>, range: bool, unit: Option<(Unit, f64, usize)>, end: usize| {
                let (unit, factor, end) =
                    unit.map_or((None, 1.0, end), |(unit, factor, end)| (Some(unit), factor, end));
                let scaled = |value: f64| (value * factor * 10.0).round() / 10.0;
                found.push((
                    Value::Dose { first: scaled(first), second: second.map(scaled), range, unit },
                    end,
                    0.0,
                ));
            };
        if self.is(behind, '/')
            && let Some(second) = self.tokens.get(behind + 1).and_then(Token::number)
        {
            let mut end = behind + 2;
            // "16/14/12 cal": the first counts for the pair as written.
            if self.is(end, '/')
                && !self.tokens[end].spaced
                && self.tokens.get(end + 1).and_then(Token::number).is_some()
            {
                end += 2;
            }
            let unit = self.dose_unit(end).or(own.map(|(u, f, _)| (u, f, end)));
            if unit.is_some() || self.load_unit(end).is_none() && self.percent_sign(end).is_none() {
                push(first, Some(second), false, unit, end);
            }
        }
        let next = if self.is(end, '-') { Some(end + 1) } else { self.class(end, self.units.to) };
        if let Some((high, end)) = next.and_then(|next| self.number(next)).filter(|(high, _)| *high > first) {
            push(first, Some(high), true, self.dose_unit(end), end);
        }
        // "40" of "40/30 kg", "75" of "75 %" and "12" of "12:" are no amounts of work.
        let maximum = self.class(end, self.units.maximum).is_some();
        let part_of_more = own.is_none()
            && (maximum
                || (self.is(end, '/') || self.is(end, '-') || self.times(end))
                    && self.tokens.get(end + 1).and_then(Token::number).is_some()
                || self.percent_sign(end).is_some()
                || self.load_unit(end).is_some());
        if !part_of_more {
            push(first, None, false, own, end);
        }
        found
    }

    /// `31X1`, `3-1-x-1`, `30x0`, after the word itself or standing alone with an x in it.
    fn tempo(&self, at: usize) -> Vec<Read> {
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
            if letters.len() > 4 {
                break;
            }
            end += 1;
            if letters.len() == 4 {
                break;
            }
        }
        if !(3..=4).contains(&letters.len()) {
            return Vec::new();
        }
        let reps = letters.bytes().fold(0, |packed: u32, byte| packed << 8 | u32::from(byte));
        vec![(Value::Count(reps), end, 0.0)]
    }
}

/// Whether a height is one that anybody jumps or steps on: "10 in 5 min" is none.
fn likely(first: f64, unit: LoadUnit) -> bool {
    match unit {
        LoadUnit::In => (12.0..=48.0).contains(&first),
        LoadUnit::Cm => (15.0..=150.0).contains(&first),
        _ => true,
    }
}

fn movements_at(tokens: &[Token], at: usize, catalogue: &Catalogue) -> Vec<Name> {
    /// Words of the longest name.
    const LONGEST: usize = 7;
    if tokens[at].word().is_none() && tokens[at].number().is_none_or(|n| n > 3.0) {
        return Vec::new();
    }
    let mut found: Vec<Name> = Vec::new();
    for (mended, articles) in [(false, true), (true, true), (true, false)] {
        let mut words: Vec<String> = Vec::new();
        let mut ends: Vec<usize> = Vec::new();
        let mut n = at;
        while n < tokens.len() && words.len() < LONGEST {
            match &tokens[n].kind {
                Kind::Word { text, .. }
                    if !articles && n > at && matches!(text.as_str(), "the" | "a" | "an" | "your") => {}
                Kind::Word { text, mended: better } => {
                    words.push(better.as_ref().filter(|_| mended).unwrap_or(text).clone());
                    ends.push(n + 1);
                }
                Kind::Number(value) if value.fract() == 0.0 && !words.is_empty() || n == at => {
                    let Some(value) = tokens[n].number() else { break };
                    words.push(format!("{value}"));
                    ends.push(n + 1);
                    let _ = value;
                }
                Kind::Sign('-' | '.') if n > at => {}
                Kind::Sign('&') if n > at => {
                    words.push("&".to_owned());
                    ends.push(n + 1);
                }
                Kind::Sign('/') if n > at && words.len() == 1 && words[0].len() == 1 => {}
                _ => break,
            }
            n += 1;
        }
        let words: Vec<&str> = words.iter().map(String::as_str).collect();
        if let Some(matched) = catalogue.match_words(&words) {
            let id = matched.movement.id.clone();
            let end = ends[matched.words - 1];
            let short = is_shorthand(matched.words, id.as_str());
            let weighs = matched.movement.load_kind != LoadKind::None;
            if !found.iter().any(|known| known.end == end) {
                found.push(Name { id, end, shorthand: short, weighs });
            }
        }
    }
    found
}
