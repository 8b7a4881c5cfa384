//! Texts that hold more than one day, or more than one track of a day: where each begins and ends.

use crate::lexicon::Lexicon;
use crate::tokens::{Kind, Token, tokens};

/// Longest line that names a day or a track, in bytes.
const LONGEST_HEADING: usize = 90;
/// Most words behind the name of a day: "Tuesday - squats and a sprint".
const MOST_WORDS: usize = 8;
/// Most days that a text is divided into: four weeks.
const MOST_DAYS: usize = 28;

/// What a heading says about its day.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct DayName {
    /// As written, without the marks around it.
    pub name: String,
    /// 1 for Monday to 7 for Sunday.
    pub weekday: Option<u32>,
    /// Day of the month, and the month, where it is said.
    pub day: Option<(u32, Option<u32>)>,
    /// The year, where it is said.
    pub year: Option<u32>,
    /// "Day 3".
    pub number: Option<u32>,
}

impl DayName {
    /// The date in full, `2026-11-25`; none where year or month is left out or there is no such day.
    pub fn iso_date(&self) -> Option<String> {
        let (year, (day, month)) = (self.year?, self.day?);
        let month = month?;
        (is_day(day, Some(month))).then(|| format!("{year:04}-{month:02}-{day:02}"))
    }

    /// Which ways of naming a day it uses; the days of one text use the same.
    fn style(&self) -> (bool, bool, bool) {
        (self.weekday.is_some(), self.day.is_some(), self.number.is_some())
    }
}

fn is_day(day: u32, month: Option<u32>) -> bool {
    (1..=31).contains(&day) && month.is_none_or(|month| (1..=12).contains(&month))
}

/// A stretch of lines with its name; the first and the last line, counted from 1.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Section<N> {
    /// What its heading says.
    pub name: N,
    /// Lines, heading included.
    pub lines: (usize, usize),
}

/// The text with only some lines; the others are empty, so that every line keeps its number.
pub fn only(text: &str, kept: impl Fn(usize) -> bool) -> String {
    let lines = text.split('\n').enumerate().map(|(n, line)| if kept(n + 1) { line } else { "" });
    lines.collect::<Vec<_>>().join("\n")
}

/// The days of a text, none when it holds one. A heading with nothing below it ("Wed - rest") counts only among others; what stands above the
/// first heading belongs to the first day.
pub fn days(text: &str) -> Vec<Section<DayName>> {
    let lexicon = Lexicon::standard();
    let raw: Vec<&str> = text.split('\n').collect();
    let mut found: Vec<(usize, DayName)> = raw
        .iter()
        .enumerate()
        .filter_map(|(n, line)| Some((n + 1, day_name(line, lexicon)?)))
        .take(MOST_DAYS + 1)
        .collect();
    if found.len() > MOST_DAYS {
        return Vec::new();
    }
    // Headings right below each other are a list of what comes, not days.
    let has_content = |n: usize, found: &[(usize, DayName)]| {
        let end = found.get(n + 1).map_or(raw.len() + 1, |(line, _)| *line);
        raw[found[n].0..end - 1].iter().any(|line| line.chars().any(char::is_alphanumeric))
    };
    let filled: Vec<bool> = (0..found.len()).map(|n| has_content(n, &found)).collect();
    let mut filled = filled.into_iter();
    found.retain(|_| filled.next() == Some(true));
    let Some(style) = found.first().map(|(_, name)| name.style()) else { return Vec::new() };
    let alike = found.iter().all(|(_, name)| name.style() == style);
    let differ = found.windows(2).all(|pair| pair[0].1 != pair[1].1);
    if found.len() < 2 || !alike || !differ {
        return Vec::new();
    }
    let starts: Vec<usize> = found.iter().map(|(line, _)| *line).collect();
    found
        .into_iter()
        .enumerate()
        .map(|(n, (line, name))| {
            let first = if n == 0 { 1 } else { line };
            Section { name, lines: (first, starts.get(n + 1).map_or(raw.len(), |next| next - 1)) }
        })
        .collect()
}

/// A line that only names a day: a weekday, a date or a number, and perhaps a few words.
pub fn day_name(line: &str, lexicon: &Lexicon) -> Option<DayName> {
    let plain = line.trim_matches(|c: char| c.is_whitespace() || "#*=_-~|>[]".contains(c));
    if plain.is_empty() || line.len() > LONGEST_HEADING || line.starts_with([' ', '\t']) {
        return None;
    }
    let all = tokens(plain, &|_| false);
    let mut name = DayName { name: plain.trim_end_matches(':').to_owned(), ..DayName::default() };
    let mut at = 0;
    let mut named = false;
    for _ in 0..3 {
        let before = at;
        if name.weekday.is_none()
            && let Some((weekday, end)) = weekday(&all, at, lexicon)
        {
            (name.weekday, at) = (Some(weekday), end);
        } else if name.day.is_none()
            && let Some(end) = date(&all, at, lexicon, &mut name)
        {
            at = end;
        } else if name.number.is_none()
            && all.get(at).and_then(Token::word) == Some("day")
            && let Some(number) = all.get(at + 1).and_then(Token::number)
        {
            (name.number, at) = (Some(number as u32), at + 2);
        }
        if at == before {
            break;
        }
        named = true;
        while all.get(at).is_some_and(|token| matches!(token.kind, Kind::Sign(',' | '.' | '(' | '|' | '/'))) {
            at += 1;
        }
    }
    let rest = &all[at.min(all.len())..];
    let parted = rest.first().is_none_or(|token| matches!(token.kind, Kind::Sign(_)));
    // A month alone with a number may count something else; prose goes on without a sign.
    let words = rest.iter().filter(|token| token.word().is_some()).count();
    let numbers = rest.iter().any(|token| matches!(token.kind, Kind::Clock(_)) || token.number().is_some());
    (named && parted && words <= MOST_WORDS && !numbers).then_some(name)
}

/// A weekday at a place: 1 to 7, and the token behind it.
fn weekday(all: &[Token], at: usize, lexicon: &Lexicon) -> Option<(u32, usize)> {
    const CLASSES: [&str; 7] =
        ["weekday.1", "weekday.2", "weekday.3", "weekday.4", "weekday.5", "weekday.6", "weekday.7"];
    let here = lexicon.at(all.get(..).filter(|all| at < all.len())?, at);
    CLASSES.iter().zip(1..).find_map(|(name, number)| {
        let class = lexicon.class(name)?;
        here.iter().find(|(known, _)| *known == class).map(|(_, end)| (number, *end))
    })
}

/// A year in two digits is one from here on.
const FIRST_YEAR: u32 = 20;

/// A date at a place (`14.09.`, `14/9/2026`, `2026-09-14`, `14 Sept`, `Sept 14th`); the token behind it.
fn date(all: &[Token], at: usize, lexicon: &Lexicon, name: &mut DayName) -> Option<usize> {
    let token = |n: usize| all.get(n);
    let whole = |n: usize| {
        let token = token(n)?;
        let number = token.number().or_else(|| {
            let digits = token.word()?.trim_end_matches(char::is_alphabetic);
            digits.parse().ok()
        })?;
        (number.fract() == 0.0 && number > 0.0).then_some(number as u32)
    };
    let sign = |n: usize| token(n).is_some_and(|token| token.is('.') || token.is('/') || token.is('-'));
    let month = |n: usize| {
        const FIRST: [&str; 12] =
            ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];
        let word = token(n)?.word()?;
        let class = lexicon.class("month")?;
        let known = lexicon.at(all, n).iter().any(|(found, _)| *found == class);
        let place = FIRST.iter().position(|first| word.starts_with(first))?;
        known.then_some(place as u32 + 1)
    };
    // "14.09" is one number to the tokens.
    let decimal = token(at).and_then(Token::number).filter(|number| number.fract() != 0.0).map(|number| {
        let hundredths = (number * 100.0).round() as u32;
        let (day, part) = (hundredths / 100, hundredths % 100);
        (day, if part.is_multiple_of(10) && part > 12 { part / 10 } else { part })
    });
    let (day, month, year, end) = if let Some((day, month)) = decimal {
        let year = if sign(at + 1) { whole(at + 2) } else { None };
        (day, Some(month), year, at + 1 + if year.is_some() { 2 } else { 0 })
    } else if let Some(first) = whole(at) {
        if let Some(month) = month(at + 1) {
            let year = whole(at + 2).filter(|year| *year >= 2000);
            (first, Some(month), year, at + 2 + usize::from(year.is_some()))
        } else if first >= 2000 && sign(at + 1) && sign(at + 3) {
            (whole(at + 4)?, whole(at + 2), Some(first), at + 5)
        } else if sign(at + 1) {
            let (second, year) = (whole(at + 2)?, if sign(at + 3) { whole(at + 4) } else { None });
            // "9-12-15" and "12-9-6" count repetitions, and no plan is of the years before there were any.
            let counts = |year: u32| {
                year < FIRST_YEAR || year < 100 && 2 * i64::from(second) == i64::from(first + year)
            };
            if year.is_some_and(counts) {
                return None;
            }
            (first, Some(second), year, at + 3 + if year.is_some() { 2 } else { 0 })
        } else {
            return None;
        }
    } else if let Some(month) = month(at) {
        (whole(at + 1)?, Some(month), None, at + 2)
    } else {
        return None;
    };
    let year = year.map(|year| if year < 100 { 2000 + year } else { year });
    is_day(day, month).then(|| {
        (name.day, name.year) = (Some((day, month)), year);
        end
    })
}

/// Tracks beside the class's: headings in one style that name who they are for, each with lines of its own, and whole versions "instead of the
/// above". The first of a row of headings is the class's, unless it is for competitors or beginners and another is for all.
pub fn tracks(text: &str) -> Vec<Section<String>> {
    let lexicon = Lexicon::standard();
    let raw: Vec<&str> = text.split('\n').collect();
    let short = raw.iter().enumerate().filter(|(_, line)| line.len() <= LONGEST_HEADING);
    let headings: Vec<(usize, TrackName)> =
        short.filter_map(|(n, line)| Some((n + 1, track_name(line, lexicon)?))).collect();
    let written = |first: usize, last: usize| {
        raw.get(first..last)
            .unwrap_or_default()
            .iter()
            .filter(|line| line.chars().any(char::is_alphanumeric))
            .count()
    };
    let ends = |n: usize| headings.get(n + 1).map_or(raw.len(), |(line, _)| line - 1);
    let whole = |n: &usize| written(headings[*n].0, ends(*n)) >= FEWEST_LINES;
    let framed: Vec<usize> = (0..headings.len()).filter(|n| headings[*n].1.framed).filter(whole).collect();
    let row = framed.iter().filter(|n| headings[**n].1.for_somebody).count() > 1;
    let class = framed
        .iter()
        .position(|n| headings[*n].1.for_somebody && !headings[*n].1.special)
        .or_else(|| framed.iter().position(|n| headings[*n].1.for_somebody));
    let mut found = Vec::new();
    for (n, (line, name)) in headings.iter().enumerate() {
        let place = framed.iter().position(|known| *known == n);
        let beside = row && name.for_somebody && place.is_some() && place != class;
        if name.instead && whole(&n) || beside {
            found.push(Section { name: name.words.clone(), lines: (*line, ends(n)) });
        }
    }
    found
}

/// Fewest lines below the heading of a track.
const FEWEST_LINES: usize = 3;

struct TrackName {
    words: String,
    /// Set off from the text: in a frame of signs, or in capitals.
    framed: bool,
    /// It names who it is for.
    for_somebody: bool,
    /// For competitors, or for beginners.
    special: bool,
    /// "Instead of the above".
    instead: bool,
}

/// A line that heads a track, or another section framed like one.
fn track_name(line: &str, lexicon: &Lexicon) -> Option<TrackName> {
    let bare = line.trim();
    let plain = bare.trim_matches(|c: char| c.is_whitespace() || "#*=_-~|>[]:".contains(c));
    let letters: Vec<char> = plain.chars().filter(|c| c.is_alphabetic()).collect();
    let capitals = letters.len() > 2 && letters.iter().filter(|c| c.is_lowercase()).count() == 0;
    let front: String = plain.split(['(', '-', ':']).next().unwrap_or_default().trim().to_owned();
    let front_letters: Vec<char> = front.chars().filter(|c| c.is_alphabetic()).collect();
    let front_capitals = front_letters.len() > 2 && front_letters.iter().all(|c| !c.is_lowercase());
    let framed = capitals || front_capitals || bare.len() > plain.len() + 3 || bare.starts_with('#');
    let all = tokens(plain, &|_| false);
    let class = |name: &str, at: usize| {
        let class = lexicon.class(name);
        lexicon.at(&all, at).iter().any(|(known, _)| Some(*known) == class)
    };
    let first = all.first()?.word().is_some();
    let for_somebody = first && (class("level", 0) || class("track", 0));
    let special = class("track.special", 0);
    let lower = plain.to_lowercase();
    let instead = ["instead of the above", "instead of all that", "in place of the above", "instead of that"]
        .iter()
        .any(|words| lower.contains(words));
    let numbers = all.iter().any(|token| token.number().is_some());
    let heads = instead || framed && !numbers;
    if !heads || all.len() > 4 * MOST_WORDS {
        return None;
    }
    // Where a section of the day begins that is nobody's track, a track ends.
    Some(TrackName { words: front, framed, for_somebody, special, instead })
}
