//! Values that phrases are made of: counts, lengths of time, lists, percentages, loads, doses and movements. Each can be read in
//! several ways at the same place, with several ends.

mod list;
mod load;
mod time;

use lantern_session::LoadUnit;
use lantern_session::movement::{Catalogue, LoadKind, Movement, MovementId, Unit};

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
        /// Whether it can be counted in calories.
        burns: bool,
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
    /// Whether it can be counted in calories.
    pub burns: bool,
}

impl Name {
    fn of(movement: &Movement, end: usize, shorthand: bool) -> Self {
        let weighs = movement.load_kind != LoadKind::None;
        // A shorthand may be of a machine.
        let burns = shorthand || movement.unit == Unit::Calories || movement.metre_pace.is_some();
        Self { id: movement.id.clone(), end, shorthand, weighs, burns }
    }
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
        let mut line = Self { tokens, classes, movements, in_names, units: Units::new(lexicon) };
        line.forget_spoken_parts(lexicon);
        line.find_ticks();
        line
    }

    /// "10-12'" ends in minutes as much as "10-12 min".
    fn find_ticks(&mut self) {
        let minute = self.units.minute;
        for at in 1..self.tokens.len() {
            let touches = |n: usize| self.tokens.get(n).is_some_and(|token| !token.spaced);
            let counted = self.tokens[at - 1].number().is_some() && touches(at);
            let goes_on = touches(at + 1)
                && (self.is(at + 1, '\'') || self.tokens.get(at + 1).is_some_and(|t| t.number().is_some()));
            if self.is(at, '\'') && counted && !goes_on {
                self.classes[at].push((minute, at + 1));
            }
        }
    }

    /// "Wrists 1 min" and "hamstrings" in a line of its own or behind "stretch" are stretches of them; "push with the
    /// quads" speaks of them.
    fn forget_spoken_parts(&mut self, lexicon: &Lexicon) {
        let (Some(part), Some(stretching)) = (lexicon.class("bodypart"), lexicon.class("heading.mobility"))
        else {
            return;
        };
        let stretches = (0..self.tokens.len()).any(|at| self.class(at, stretching).is_some());
        for at in 0..self.tokens.len() {
            let Some(end) = self.class(at, part).filter(|_| !stretches) else { continue };
            let joined = |at: &usize| [':', ',', '-', '(', '/'].iter().any(|sign| self.is(*at, *sign));
            let behind = (end..self.tokens.len()).find(|at| !joined(at));
            let alone = at == 0 && self.tokens.get(end).is_none_or(|token| token.number().is_some());
            let timed = |at: usize| !self.lengths(at, false).is_empty();
            let before = (at.saturating_sub(4)..at).any(timed);
            if !alone && !before && !behind.is_some_and(timed) {
                self.movements[at].retain(|name| name.end != end);
            }
        }
    }

    /// Whether a phrase of a class begins here; gives its longest end.
    pub fn class(&self, at: usize, class: Class) -> Option<usize> {
        let found = self.classes.get(at)?.iter().filter(|(known, _)| *known == class);
        found.map(|(_, end)| *end).max()
    }

    /// Whether a percent sign, or its word, stands at a token.
    pub(crate) fn percent_behind(&self, at: usize) -> bool {
        self.percent_sign(at).is_some()
    }

    /// Whether a word stands at a token and touches the one before.
    fn is_glued(&self, at: usize, word: &str) -> bool {
        self.tokens.get(at).is_some_and(|token| token.word() == Some(word) && !token.spaced)
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
                    burns: name.burns,
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
}

/// Whether a height is one that anybody jumps or steps on: "10 in 5 min" is none.
fn likely(first: f64, unit: LoadUnit) -> bool {
    match unit {
        LoadUnit::In => (12.0..=48.0).contains(&first),
        LoadUnit::Cm => (15.0..=150.0).contains(&first),
        _ => true,
    }
}

pub(crate) fn movements_at(tokens: &[Token], at: usize, catalogue: &Catalogue) -> Vec<Name> {
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
                Kind::Number(value) if value.fract() == 0.0 || n == at => {
                    // "1-arm row", "1 leg squat"
                    let behind = tokens[n + 1..].iter().find_map(Token::word);
                    let single = *value == 1.0 && n == at && matches!(behind, Some("arm" | "leg"));
                    words.push(if single { "single".to_owned() } else { format!("{value}") });
                    ends.push(n + 1);
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
        // "Romanian deadlifts with dumbbells" are dumbbell Romanian deadlifts.
        if let Some((tool, last)) = tool_behind(tokens, &words, &ends) {
            let with_tool: Vec<&str> =
                std::iter::once(tool).chain(words[..last].iter().map(String::as_str)).collect();
            let whole = catalogue.match_words(&with_tool).filter(|found| found.words == with_tool.len());
            if let Some(matched) = whole {
                found.push(Name::of(matched.movement, ends[last + 1], false));
            }
        }
        let words: Vec<&str> = words.iter().map(String::as_str).collect();
        if let Some(matched) = catalogue.match_words(&words) {
            let end = ends[matched.words - 1];
            let short = is_shorthand(matched.words, matched.movement.id.as_str());
            if !found.iter().any(|known| known.end == end) {
                found.push(Name::of(matched.movement, end, short));
            }
        }
    }
    found
}

/// A tool in the words behind a name ("... with a kettlebell"): what it is called in front of one, and how many words the name has.
fn tool_behind(tokens: &[Token], words: &[String], ends: &[usize]) -> Option<(&'static str, usize)> {
    const TOOLS: [(&str, &str); 8] = [
        ("dumbbell", "dumbbell"),
        ("db", "dumbbell"),
        ("kettlebell", "kettlebell"),
        ("kb", "kettlebell"),
        ("plate", "plate"),
        ("barbell", "barbell"),
        ("sandbag", "sandbag"),
        ("band", "banded"),
    ];
    let with = words.iter().position(|word| word == "with").filter(|at| *at > 0)?;
    let tool = with + 1;
    let word = words.get(tool)?;
    // "... with the dumbbell" speaks of one that was named before.
    let gap = ends.get(tool)? - ends.get(with)?;
    if gap > 1 && tokens[ends[with]].word() == Some("the") {
        return None;
    }
    let (_, name) = TOOLS.iter().find(|(known, _)| word.trim_end_matches('s') == *known)?;
    let at = *ends.get(tool)?;
    (at <= tokens.len()).then_some((*name, with))
}
