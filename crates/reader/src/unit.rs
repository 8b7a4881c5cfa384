//! Sentences: the smallest pieces of a text that the day is divided by, each with the ways in which it can be read.

use lantern_session::movement::Catalogue;
use lantern_session::{PartKind, Score};
use std::collections::{HashMap, HashSet};

use crate::cover::{Covering, coverings};
use crate::label::{self, Label};
use crate::lexicon::{Class, Lexicon};
use crate::say::{Item, Say};
use crate::source::{SourceLine, lines};
use crate::spelling::Spelling;
use crate::tokens::{Kind, Token, tokens};
use crate::values::{Line, Nt};
use crate::weights::Weights;

/// A sentence with its place and its readings, best first.
#[derive(Clone, Debug)]
pub struct Unit {
    /// The line, counted from 1.
    pub line: usize,
    /// The line that it ends on.
    pub last_line: usize,
    /// Whether it is the first of its line.
    pub starts_line: bool,
    /// Whether an empty line stands before it.
    pub blank_before: bool,
    /// Spaces in front of the line.
    pub indent: usize,
    /// The mark at its front.
    pub label: Label,
    /// The kind of part that it heads, and the heading as written.
    pub heading: Option<(PartKind, String)>,
    /// As written, label and heading included.
    pub text: String,
    /// The ways to read it.
    pub readings: Vec<Reading>,
    /// Words that were read as others they are a slip away from: column, as written, as read.
    pub mended: Vec<(usize, String, String)>,
    /// An amount of something that has no known name: column, and the words.
    pub unknown: Option<(usize, String)>,
}

/// One way to read a sentence.
#[derive(Clone, Debug)]
pub struct Reading {
    /// What it is.
    pub role: Role,
    /// What it says, in order.
    pub says: Vec<Said>,
    /// What believing it costs.
    pub cost: f64,
    /// Columns of numbers that nothing explains.
    pub numbers_left: Vec<usize>,
    /// Words that mean nothing to the reader.
    pub unknown_words: usize,
    /// Names of movements that nothing explains.
    pub names_left: usize,
}

/// What a sentence is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Role {
    /// It prescribes.
    Work,
    /// Talk in which a cap, a score or a rest is said in passing.
    Aside,
    /// It adds nothing.
    Note,
    /// What may be done instead.
    Substitute,
    /// The numbers of one level of the class; 0 is the one that the text is written for.
    Level(u8),
    /// It names the day.
    Title,
}

/// Something said, with its place.
#[derive(Clone, Debug, PartialEq)]
pub struct Said {
    /// What.
    pub say: Say,
    /// First character, counted from 1.
    pub column: usize,
}

impl Reading {
    /// The items in it.
    pub fn items(&self) -> impl Iterator<Item = &Item> {
        self.says.iter().filter_map(|said| if let Say::Item(item) = &said.say { Some(item) } else { None })
    }

    /// Whether it says anything that passes a test.
    pub fn says(&self, test: impl Fn(&Say) -> bool) -> bool {
        self.says.iter().any(|said| test(&said.say))
    }
}

/// Longest line that is read word by word, in characters.
pub const LONGEST_LINE: usize = 4_000;
/// Longest line that may give the numbers of a level, in bytes.
const LONGEST_LEVEL: usize = 200;
/// Most lines that are read.
pub const MOST_LINES: usize = 1_500;

/// All sentences of a text.
pub fn units(text: &str, catalogue: &Catalogue, weights: &Weights) -> Vec<Unit> {
    let lexicon = Lexicon::standard();
    let mut spelling = Spelling::new(catalogue, lexicon);
    let mut found = Vec::new();
    let rules = Rules { catalogue, lexicon, weights };
    let plain = |word: &str| catalogue.uses_word(word) || lexicon.knows(word);
    let source = lines(text, MOST_LINES);
    let short = source
        .iter()
        .filter(|line| line.text.len() <= LONGEST_LEVEL && line.text.contains([':', '\u{2192}', '>']));
    let short: Vec<(usize, Vec<Token>)> =
        short.map(|line| (line.line_at(0), tokens(&line.text, &plain))).collect();
    let mut context = Context {
        levels: level_lines(&short, &rules),
        instead: instead_lines(&short, &rules),
        windows: window_lines(&short, lexicon),
        ..Context::default()
    };
    for line in &source {
        let place = Place {
            source: line,
            line: line.line_at(0),
            indent: indent(&line.text),
            blank_before: line.blank_before,
        };
        if line.mute || line.text.chars().count() > LONGEST_LINE {
            let text = line.text.trim().to_owned();
            found.push(place.unit(
                true,
                Label::None,
                None,
                text,
                vec![Reading::note(0.0)],
                Vec::new(),
                (0, 0),
            ));
            continue;
        }
        let mut all = tokens(&line.text, &plain);
        spelling.mend(&mut all, lexicon);
        context.line_begins(place.blank_before);
        line_units(&place, &line.text, &all, &rules, &mut context, &mut found);
    }
    found
}

fn indent(raw: &str) -> usize {
    raw.chars().take_while(|c| c.is_whitespace()).map(|c| if c == '\t' { 4 } else { 1 }).sum()
}

struct Place<'s> {
    source: &'s SourceLine,
    line: usize,
    indent: usize,
    blank_before: bool,
}

impl Place<'_> {
    #[expect(clippy::too_many_arguments, reason = "they are the fields of a sentence")]
    fn unit(
        &self,
        starts_line: bool,
        label: Label,
        heading: Option<(PartKind, String)>,
        text: String,
        readings: Vec<Reading>,
        mended: Vec<(usize, String, String)>,
        chars: (usize, usize),
    ) -> Unit {
        Unit {
            line: self.source.line_at(chars.0),
            last_line: self.source.line_at(chars.1),
            starts_line,
            blank_before: self.blank_before && starts_line,
            indent: self.indent,
            label,
            heading,
            text,
            readings,
            mended,
            unknown: None,
        }
    }
}

impl Reading {
    fn note(cost: f64) -> Self {
        Self {
            role: Role::Note,
            says: Vec::new(),
            cost,
            numbers_left: Vec::new(),
            unknown_words: 0,
            names_left: 0,
        }
    }
}

/// Lines of one layout, two or more below each other, that name somebody in front of a colon and a load or work behind it
/// ("Tall ones: 60/40 kg bar"): the levels of the class in the gym's own words. Gives the place of each in its block.
fn level_lines(lines: &[(usize, Vec<Token>)], rules: &Rules<'_>) -> HashMap<usize, u8> {
    let free =
        ["level", "adj", "fillers", "alternative", "talk", "discourse", "men", "women", "person", "team"];
    let free: Vec<Class> = free.iter().filter_map(|name| rules.lexicon.class(name)).collect();
    let names = |tokens: &[Token]| -> bool {
        let marks = tokens.iter().take_while(|token| matches!(token.kind, Kind::Sign(_))).count();
        let tokens = &tokens[marks..];
        let Some(colon) =
            tokens.iter().position(|token| token.is(':') || token.is('>')).filter(|at| (1..=4).contains(at))
        else {
            return false;
        };
        let line = Line::new(tokens, rules.lexicon, rules.catalogue);
        let plain = (0..colon).all(|at| {
            (tokens[at].word().is_some() || at > 0 && tokens[at].number().is_some())
                && line.movements[at].is_empty()
                && line.classes[at].iter().all(|(class, _)| free.contains(class))
        });
        let counts = tokens[colon + 1..].iter().any(|token| token.number().is_some())
            || (colon + 1..tokens.len()).any(|at| !line.movements[at].is_empty());
        plain && counts
    };
    let mut found = HashMap::new();
    let mut block: Vec<usize> = Vec::new();
    let mut last = 0;
    for (number, tokens) in lines {
        let goes_on = *number == last + 1;
        if !goes_on || !names(tokens) {
            keep_block(&mut block, &mut found);
        }
        if names(tokens) {
            block.push(*number);
        }
        last = *number;
    }
    keep_block(&mut block, &mut found);
    found
}

/// Lines below each other that each name a movement and offer something behind a colon or an arrow: what may be done instead.
fn instead_lines(lines: &[(usize, Vec<Token>)], rules: &Rules<'_>) -> HashMap<usize, u8> {
    let names = |tokens: &[Token]| -> bool {
        let marks = tokens.iter().take_while(|token| matches!(token.kind, Kind::Sign(_))).count();
        let tokens = &tokens[marks..];
        let at =
            tokens.iter().position(|token| token.is(':') || token.is('>')).filter(|at| (1..=4).contains(at));
        at.is_some_and(|at| {
            let line = Line::new(tokens, rules.lexicon, rules.catalogue);
            line.movements[0].iter().any(|name| name.end == at) && tokens.len() > at + 1
        })
    };
    let (mut found, mut block, mut last) = (HashMap::new(), Vec::new(), 0);
    for (number, tokens) in lines {
        if *number != last + 1 || !names(tokens) {
            keep_block(&mut block, &mut found);
        }
        if names(tokens) {
            block.push(*number);
        }
        last = *number;
    }
    keep_block(&mut block, &mut found);
    found
}

fn keep_block(block: &mut Vec<usize>, found: &mut HashMap<usize, u8>) {
    if block.len() > 1 {
        found.extend(block.iter().enumerate().map(|(place, line)| (*line, place as u8)));
    }
    block.clear();
}

/// What every sentence is read by.
struct Rules<'r> {
    catalogue: &'r Catalogue,
    lexicon: &'r Lexicon,
    weights: &'r Weights,
}

impl Rules<'_> {
    /// Whether words of a class may stand anywhere.
    fn is_free(&self, class: Class) -> bool {
        ["fillers", "adj", "discourse"].iter().any(|name| self.lexicon.class(name) == Some(class))
    }
}

/// What the sentences before make of the next one.
#[derive(Default)]
struct Context {
    /// A line said that what follows may be done instead ("Scaling"); until an empty line.
    block: bool,
    /// A line said that what follows is talk ("How to pace it"); until an empty line.
    talk: bool,
    /// A sentence of this line said so ("No bar? ...").
    line: bool,
    /// Lines that give the numbers of a level, with the place in their block.
    levels: HashMap<usize, u8>,
    /// Lines that begin with a stretch of the clock in bare minutes: each goes on behind the one before.
    windows: HashSet<usize>,
    /// Lines that offer something instead of the movement they name.
    instead: HashMap<usize, u8>,
}

impl Context {
    fn line_begins(&mut self, blank_before: bool) {
        self.line = false;
        if blank_before {
            self.block = false;
            self.talk = false;
        }
    }

    fn take_in(&mut self, unit: &Unit, body: &[Token], asks: bool, rules: &Rules<'_>) {
        let alternative = rules.lexicon.class("alternative");
        let opens = alternative.is_some_and(|class| {
            !body.is_empty() && rules.lexicon.at(body, 0).iter().any(|(known, _)| *known == class)
        });
        let says_nothing = unit.readings.iter().all(|reading| reading.items().next().is_none());
        if unit.heading.is_some() {
            self.block = false;
            self.talk = false;
        }
        let talks = rules.lexicon.class("talkblock").is_some_and(|class| {
            !body.is_empty()
                && rules
                    .lexicon
                    .at(body, 0)
                    .iter()
                    .any(|(known, end)| *known == class && body.len() <= end + 2)
        });
        if talks && unit.starts_line && says_nothing {
            self.talk = true;
        }
        if opens && says_nothing && body.len() <= 4 && unit.starts_line {
            self.block = true;
        }
        let negates = matches!(
            body.first().and_then(Token::word),
            Some("no" | "can't" | "cannot" | "too" | "not" | "without")
        );
        let role = unit.readings.first().map(|reading| reading.role);
        self.line |= matches!(role, Some(Role::Substitute | Role::Level(_))) || asks && negates;
    }
}

fn line_units(
    place: &Place<'_>,
    raw: &str,
    all: &[Token],
    rules: &Rules<'_>,
    context: &mut Context,
    found: &mut Vec<Unit>,
) {
    let Rules { catalogue, lexicon, weights } = *rules;
    let chars: Vec<char> = raw.chars().collect();
    let outline = outline(all, &chars);
    let mut at = outline.map_or(0, |(_, end)| end);
    let mut first = true;
    while at < all.len() {
        let (label, behind) = match outline.filter(|_| first) {
            Some((number, _)) => (Label::Number(number), 0),
            None => label::take(&all[at..], first, lexicon),
        };
        let start = at;
        at += behind;
        if first && let Some(end) = framed_heading(&all[at..], rules) {
            at += end;
        }
        let before = at;
        let (mut window, behind) = if first { take_window(&all[at..], lexicon) } else { (None, 0) };
        at += behind;
        let framed = window.is_some();
        let (heading, behind) =
            take_heading(&all[at..], rules, first, first && (place.blank_before || place.line == 1));
        if heading.is_some() {
            // Minutes of the class plan that frame a block are no length of it.
            window = None;
        } else if framed && bare_range(&all[before..at]) && all[before..at].iter().any(|token| token.is('|'))
        {
            // A cell of the class plan.
            window = None;
        } else if framed && bare_range(&all[before..at]) && !context.windows.contains(&place.line) {
            // "10-25 Back squat": without a heading behind them they are two numbers.
            (window, at) = (None, before);
        }
        let heading = heading.map(|kind| (kind, text_of(&chars, &all[start..at + behind])));
        at += behind;
        let mut label = label;
        if heading.is_some() && label == Label::None && at < all.len() {
            let (own, behind) = label::take(&all[at..], false, lexicon);
            if matches!(own, Label::Letter(..)) {
                label = own;
                at += behind;
            }
        }
        let end = sentence_end(&all[at..], &chars, lexicon) + at;
        let body = &all[at..end];
        if body.is_empty() && heading.is_none() && label == Label::None && end > at {
            at = end;
            continue;
        }
        let mut readings = read_sentence(body, catalogue, lexicon, weights, first && place.line <= 3);
        if let Some(seconds) = window {
            let said = Said { say: Say::Window(seconds), column: all[start].start + 1 };
            for reading in &mut readings {
                reading.says.insert(0, said.clone());
                if reading.role == Role::Note {
                    reading.role = Role::Aside;
                }
            }
        }
        if let Some(place) = context.levels.get(&place.line).filter(|_| first) {
            offer_level(&mut readings, *place, weights);
        }
        if context.talk {
            for reading in readings.iter_mut().filter(|reading| reading.role != Role::Note) {
                reading.cost += weights.of("work.in_talk_block");
            }
            readings.sort_by(|a, b| a.cost.total_cmp(&b.cost));
        }
        if context.block || context.line || context.instead.contains_key(&place.line) {
            offer_instead(&mut readings, weights);
        }
        let mended = mended(body);
        let text = text_of(&chars, &all[start..end]);
        let reach = (all[start].start, all[end.max(start + 1) - 1].start);
        let mut unit = place.unit(first, label, heading, text, readings, mended, reach);
        unit.unknown = unknown_amount(body, &chars, rules);
        let asks = all.get(end).is_some_and(|token| token.is('?'));
        context.take_in(&unit, body, asks, rules);
        found.push(unit);
        first = false;
        at = end;
        // The sign that ends the sentence.
        while at < all.len() && matches!(all[at].kind, Kind::Sign('.' | '!' | '?' | ';' | '|')) {
            at += 1;
        }
        if all.get(at).is_some_and(|token| token.is('/'))
            && all.get(at + 1).is_some_and(|token| token.is('/'))
        {
            at += 2;
        }
        if end == start {
            at = at.max(end + 1);
        }
    }
}

/// A line in a block of levels gives the numbers of one.
fn offer_level(readings: &mut Vec<Reading>, place: u8, weights: &Weights) {
    let work =
        readings.iter().find(|reading| reading.role == Role::Work && !reading.says.is_empty()).cloned();
    for reading in readings
        .iter_mut()
        .filter(|reading| matches!(reading.role, Role::Work | Role::Aside | Role::Substitute))
    {
        reading.cost += weights.of("work.in_level_block");
    }
    if let Some(work) = work {
        let cost = weights.of("level.each") + 0.2 * work.cost.max(0.0);
        readings.retain(|reading| !matches!(reading.role, Role::Level(_)));
        readings.push(Reading { role: Role::Level(place), cost, ..work });
    }
    readings.sort_by(|a, b| a.cost.total_cmp(&b.cost));
}

/// Work among substitutes is one of them.
fn offer_instead(readings: &mut Vec<Reading>, weights: &Weights) {
    let works: Vec<Reading> = readings
        .iter()
        .filter(|reading| reading.role == Role::Work && !reading.says.is_empty())
        .cloned()
        .collect();
    for reading in readings.iter_mut().filter(|reading| matches!(reading.role, Role::Work | Role::Aside)) {
        reading.cost += weights.of("work.among_substitutes");
    }
    for work in works.into_iter().take(2) {
        let cost = weights.of("substitute.each") + 0.2 * work.cost.max(0.0);
        readings.push(Reading { role: Role::Substitute, cost, ..work });
    }
    readings.sort_by(|a, b| a.cost.total_cmp(&b.cost));
}

fn text_of(chars: &[char], tokens: &[Token]) -> String {
    let (Some(first), Some(last)) = (tokens.first(), tokens.last()) else { return String::new() };
    chars[first.start..last.end].iter().collect()
}

fn mended(tokens: &[Token]) -> Vec<(usize, String, String)> {
    let slips = tokens.iter().filter_map(|token| match &token.kind {
        Kind::Word { text, mended: Some(better) } => Some((token.start + 1, text.clone(), better.clone())),
        _ => None,
    });
    slips.collect()
}

/// "12 zorbles", "3 x 10 gruntwax": a number and words that are nobody's name, at the front of a sentence or behind a comma.
fn unknown_amount(body: &[Token], chars: &[char], rules: &Rules<'_>) -> Option<(usize, String)> {
    /// Words of a name that nobody knows.
    const MOST_WORDS: usize = 4;
    let line = Line::new(body, rules.lexicon, rules.catalogue);
    let starts = (0..body.len())
        .filter(|at| *at == 0 || matches!(body[at - 1].kind, Kind::Sign(',' | '+' | ':' | '(')));
    for at in starts {
        let Some((_, end, _)) = line.read(Nt::Dose, at).into_iter().max_by_key(|(_, end, _)| *end) else {
            continue;
        };
        if body[at].number().is_none() {
            continue;
        }
        let words: Vec<usize> = (end..body.len()).take_while(|n| body[*n].word().is_some()).collect();
        let names = words.iter().any(|n| !line.movements[*n].is_empty());
        let means = words.iter().any(|n| line.classes[*n].iter().any(|(class, _)| !rules.is_free(*class)));
        let strange = words
            .iter()
            .any(|n| line.classes[*n].is_empty() && body[*n].word().is_some_and(|word| word.len() > 2));
        if strange && !names && !means && words.len() <= MOST_WORDS {
            let (first, last) = (&body[words[0]], &body[*words.last()?]);
            return Some((first.start + 1, chars[first.start..last.end].iter().collect()));
        }
    }
    unknown_lift(body, chars, &line)
}

/// "Gruntwax 3 x 10": words that are nobody's name in front of sets.
fn unknown_lift(body: &[Token], chars: &[char], line: &Line<'_>) -> Option<(usize, String)> {
    /// Words of such a name.
    const MOST_WORDS: usize = 3;
    let words = body.iter().take_while(|token| token.word().is_some()).count();
    let by = |at: usize| body.get(at).is_some_and(|token| token.is('*') || token.word() == Some("x"));
    // "x" is a word to the tokens, and no part of the name.
    let sets = (1..=words.min(MOST_WORDS))
        .find(|at| body.get(*at).is_some_and(|token| token.number().is_some()) && by(at + 1))?;
    let counted = body.get(sets + 2).is_some_and(|token| token.number().is_some());
    let unnamed = (0..sets).all(|at| line.movements[at].is_empty() && line.classes[at].is_empty());
    let first = body.first()?;
    (counted && unnamed && first.end - first.start > 2)
        .then(|| (first.start + 1, chars[first.start..body[sets - 1].end].iter().collect()))
}

/// Words behind which a full stop ends no sentence.
const ABBREVIATIONS: [&str; 16] = [
    "min", "mins", "sec", "secs", "alt", "approx", "max", "ea", "no", "vs", "incl", "cal", "wk", "st", "ca",
    "etc",
];

/// Where the sentence at the front of tokens ends.
fn sentence_end(tokens: &[Token], chars: &[char], lexicon: &Lexicon) -> usize {
    let then = lexicon.class("then");
    let prose = is_prose(tokens);
    let mut depth = 0;
    for (n, token) in tokens.iter().enumerate() {
        let next = tokens.get(n + 1);
        match token.kind {
            Kind::Sign('(') => depth += 1,
            Kind::Sign(')') => depth -= 1,
            Kind::Sign('!' | '?' | ';' | '|') => return n,
            Kind::Sign('/') if next.is_some_and(|next| next.is('/')) && token.spaced => return n,
            Kind::Sign('.') => {
                let free = next.is_none_or(|next| next.spaced);
                let upper = next
                    .is_none_or(|next| chars[next.start].is_uppercase() || chars[next.start].is_numeric());
                let short = n > 0 && tokens[n - 1].word().is_some_and(|word| ABBREVIATIONS.contains(&word));
                if free && (!short || upper && next.is_none_or(|next| chars[next.start].is_uppercase())) {
                    return n;
                }
            }
            Kind::Sign(',') if prose && depth <= 0 && n >= 3 && clause_ends(tokens, n) => return n + 1,
            Kind::Word { .. }
                if prose
                    && depth <= 0
                    && n >= 4
                    && token.word() == Some("and")
                    && begins_clause(tokens, n + 1) =>
            {
                return n;
            }
            Kind::Word { .. } if n >= 2 && depth <= 0 => {
                let leads =
                    then.is_some_and(|then| lexicon.at(tokens, n).iter().any(|(class, _)| *class == then));
                // "3-6-9, then back down" is one shape.
                let turns =
                    next.and_then(Token::word).is_some_and(|word| matches!(word, "back" | "down" | "up"));
                let goes_on = tokens.len() > n + 2 && !turns;
                if leads && goes_on && token.word() != Some("next") {
                    // The comma or "and" before it stays behind.
                    return n;
                }
            }
            _ => {}
        }
    }
    tokens.len()
}

/// Lines that begin with a stretch of the clock in bare minutes: "0-5: ...", "8-18: ...", each behind the one before.
fn window_lines(lines: &[(usize, Vec<Token>)], lexicon: &Lexicon) -> HashSet<usize> {
    let number = |tokens: &[Token], at: usize| tokens.get(at).and_then(Token::number);
    let stretches: Vec<(usize, f64, f64)> = lines
        .iter()
        .filter(|(_, tokens)| take_window(tokens, lexicon).0.is_some())
        .filter_map(|(line, tokens)| Some((*line, number(tokens, 0)?, number(tokens, 2)?)))
        .collect();
    let from_the_start = stretches.first().is_some_and(|(_, from, _)| *from == 0.0);
    let goes_on =
        |pair: &&[(usize, f64, f64)]| pair[0].2 == pair[1].1 || from_the_start && pair[0].2 < pair[1].1;
    stretches.windows(2).filter(goes_on).flat_map(|pair| [pair[0].0, pair[1].0]).collect()
}

/// Whether a window is written as two bare numbers.
fn bare_range(tokens: &[Token]) -> bool {
    !tokens.iter().any(|token| token.word().is_some() || matches!(token.kind, Kind::Clock(_)))
}

/// "Kraft / Strength": a heading in two languages.
fn second_language(
    tokens: &[Token],
    kinds: &[(&str, PartKind)],
    rules: &Rules<'_>,
) -> Option<(Option<PartKind>, usize)> {
    let at = tokens
        .iter()
        .position(|token| token.is('/') || token.is('*') || token.is('|'))
        .filter(|at| (1..=4).contains(at))?;
    if !tokens[..at].iter().all(|token| token.word().is_some()) || at + 1 >= tokens.len() {
        return None;
    }
    let (kind, end) = kinds.iter().find_map(|(name, kind)| {
        let class = rules.lexicon.class(name)?;
        let ends = rules.lexicon.at(tokens, at + 1).into_iter().filter(|(known, _)| *known == class);
        ends.map(|(_, end)| (*kind, end)).max_by_key(|(_, end)| *end)
    })?;
    let closed = tokens.get(end).is_none_or(|token| matches!(token.kind, Kind::Sign(':' | '(' | '-' | ',')));
    let end = end + usize::from(tokens.get(end).is_some_and(|token| !token.is('(')));
    closed.then_some((Some(kind), end))
}

/// Whether a line goes on with a few words that prescribe nothing.
fn only_words(tokens: &[Token], catalogue: &Catalogue) -> bool {
    const MOST: usize = 6;
    let words: Vec<&str> = tokens.iter().filter_map(Token::word).collect();
    let numbers = tokens.iter().any(|token| matches!(token.kind, Kind::Number(_) | Kind::Clock(_)));
    let sentence = tokens.iter().any(|token| token.is('.') || token.is('!') || token.is('?'));
    let named = (0..words.len()).any(|at| catalogue.match_words(&words[at..]).is_some());
    tokens.len() <= MOST && !numbers && !sentence && !named
}

/// "And then the skill is ten minutes": the kind of part said in passing, in front of its work.
fn spoken_heading(
    tokens: &[Token],
    kinds: &[(&str, PartKind)],
    rules: &Rules<'_>,
) -> (Option<PartKind>, usize) {
    let word = |n: usize| tokens.get(n).and_then(Token::word);
    for at in 1..tokens.len().min(8) {
        if !matches!(tokens[at - 1].kind, Kind::Word { .. } | Kind::Sign(',')) {
            break;
        }
        if !matches!(word(at - 1), Some("the" | "some" | "our" | "a" | "little" | "bit")) {
            continue;
        }
        let found = kinds.iter().find_map(|(name, kind)| {
            let class = rules.lexicon.class(name)?;
            let end = rules
                .lexicon
                .at(tokens, at)
                .iter()
                .filter(|(known, _)| *known == class)
                .map(|(_, end)| *end)
                .max()?;
            Some((*kind, end))
        });
        let Some((kind, mut end)) = found else { continue };
        if matches!(word(end), Some("bit" | "part" | "piece" | "work" | "stuff")) {
            end += 1;
        }
        let closed = matches!(word(end), Some("is" | "will"))
            || tokens.get(end).is_some_and(|token| token.is(',') || token.is(':'));
        if closed && tokens.len() > end + 1 {
            return (Some(kind), end + 1);
        }
    }
    (None, 0)
}

/// "Later, back inside, stretching:" ends with what it heads.
fn late_heading(
    tokens: &[Token],
    kinds: &[(&str, PartKind)],
    rules: &Rules<'_>,
    apart: bool,
) -> (Option<PartKind>, usize) {
    let spoken = spoken_heading(tokens, kinds, rules);
    if spoken.0.is_some() || !apart {
        return spoken;
    }
    let Some(colon) = tokens.iter().position(|token| token.is(':')).filter(|colon| (2..=8).contains(colon))
    else {
        return (None, 0);
    };
    let words = tokens[..colon].iter().all(|token| token.word().is_some() || token.is(',') || token.is('-'));
    let found = kinds.iter().find_map(|(name, kind)| {
        let class = rules.lexicon.class(name)?;
        let at = (1..colon).find(|at| {
            rules
                .lexicon
                .at(&tokens[..colon], *at)
                .iter()
                .any(|(known, end)| *known == class && *end == colon)
        });
        at.map(|_| *kind)
    });
    match found {
        Some(kind) if words => (Some(kind), colon + 1),
        _ => (None, 0),
    }
}

/// Words of a sentence from which on it is read clause by clause.
const LONG_SENTENCE: usize = 18;

/// What stands in front of a heading and only frames it: a time of day (`9:12 --`), a number with a gap behind it.
fn framed_heading(tokens: &[Token], rules: &Rules<'_>) -> Option<usize> {
    let first = tokens.first()?;
    let mut end = 1;
    while tokens.get(end).is_some_and(|token| matches!(token.kind, Kind::Sign('-' | '*' | '=' | '|' | ':'))) {
        end += 1;
    }
    let gap = tokens.get(end).is_some_and(|token| token.gap);
    let frames = match first.kind {
        Kind::Clock(_) => end > 1 || gap,
        Kind::Number(n) => n.fract() == 0.0 && n <= 20.0 && gap,
        _ => false,
    };
    let heads = || take_heading(&tokens[end..], rules, true, true).0.is_some();
    (frames && tokens.len() > end && heads()).then_some(end)
}

/// The number of an outline at the front of a line (`1.2.1   8 swings`): a gap parts it from what it numbers.
fn outline(tokens: &[Token], chars: &[char]) -> Option<(u32, usize)> {
    let mut end = 0;
    let mut last = None;
    while let Some(token) = tokens.get(end) {
        match token.kind {
            Kind::Number(n) if end == 0 || !token.spaced => last = Some(n),
            Kind::Sign('.') if end > 0 && !token.spaced => {}
            _ => break,
        }
        end += 1;
    }
    let dotted = tokens[..end].iter().any(|token| token.is('.')) || last.is_some_and(|n| n.fract() != 0.0);
    let behind = tokens.get(end)?;
    let gap = behind.start - tokens[end.checked_sub(1)?].end;
    let tab = chars[tokens[end - 1].end..behind.start].contains(&'\t');
    let number = last.map(|n| if n.fract() == 0.0 { n } else { (n.fract() * 10.0).round() });
    (dotted && (gap >= 2 || tab)).then_some((number? as u32, end))
}

/// Whether a long sentence is spoken rather than listed: words that people say to each other stand between the numbers.
fn is_prose(tokens: &[Token]) -> bool {
    const SPOKEN: [&str; 26] = [
        "we",
        "we're",
        "you",
        "you're",
        "it's",
        "it",
        "i",
        "is",
        "are",
        "going",
        "because",
        "when",
        "that's",
        "so",
        "just",
        "my",
        "your",
        "they",
        "there's",
        "we've",
        "i'd",
        "that",
        "who",
        "nobody",
        "everybody",
        "want",
    ];
    let end = tokens.iter().position(|token| token.is('.') || token.is('!')).unwrap_or(tokens.len());
    let spoken =
        tokens[..end].iter().filter(|token| token.word().is_some_and(|word| SPOKEN.contains(&word))).count();
    end >= LONG_SENTENCE && spoken >= 2
}

/// Whether a comma ends a clause: enough stands on either side, and nothing is taken back.
fn clause_ends(tokens: &[Token], at: usize) -> bool {
    let word = |n: usize| tokens.get(n).and_then(Token::word);
    let takes_back = |n: usize| {
        matches!(word(n), Some("no" | "sorry" | "wait" | "make" | "rather" | "hang" | "let's" | "say"))
    };
    let before = at >= 1 && takes_back(at - 1);
    tokens.len() > at + 3 && !takes_back(at + 1) && !before
}

/// "and I like ...", "and if you finish ..."
fn begins_clause(tokens: &[Token], at: usize) -> bool {
    matches!(
        tokens.get(at).and_then(Token::word),
        Some("i" | "we" | "you" | "when" | "if" | "then" | "it's" | "we're" | "you're")
    )
}

/// A stretch of the running clock at the front of tokens (`0:00-12:00`, `min 0-12`): its length, and the token behind it.
fn take_window(tokens: &[Token], lexicon: &Lexicon) -> (Option<u32>, usize) {
    let word = |n: usize| tokens.get(n).and_then(Token::word);
    let mut at = usize::from(matches!(word(0), Some("from")));
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
    if bare
        && tokens.get(at + 3).is_none_or(|token| token.word().is_none() && !token.is('|') && !token.is(':'))
    {
        return (None, 0);
    }
    let dash = tokens.get(at + 1).is_some_and(|token| token.is('-') || token.is('>'));
    let between = dash || matches!(word(at + 1), Some("to" | "until"));
    let Some(to) = clock(at + 2).filter(|to| between && *to > from) else { return (None, 0) };
    let mut end = at + 3;
    if let Some(class) = lexicon.class("unit.min")
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
    (Some((to - from) as u32), end)
}

/// A heading at the front of tokens: the kind of part, and the token behind it.
fn take_heading(
    tokens: &[Token],
    rules: &Rules<'_>,
    starts_line: bool,
    apart: bool,
) -> (Option<PartKind>, usize) {
    const KINDS: [(&str, PartKind); 7] = [
        ("heading.home", PartKind::Home),
        ("heading.mobility", PartKind::Mobility),
        ("heading.warmup", PartKind::Warmup),
        ("heading.accessory", PartKind::Accessory),
        ("heading.strength", PartKind::Strength),
        ("heading.skill", PartKind::Skill),
        ("heading.conditioning", PartKind::Conditioning),
    ];
    let Rules { catalogue, lexicon, .. } = *rules;
    let word = |n: usize| tokens.get(n).and_then(Token::word);
    let mut from = 0;
    while matches!(
        word(from),
        Some("the" | "then" | "now" | "and" | "today's" | "our" | "optional" | "short" | "quick")
    ) && from < 2
        && lexicon.class("heading.accessory").is_some()
    {
        from += 1;
    }
    if word(from).is_none() {
        return (None, 0);
    }
    // "Snatch technique, 10 minutes:" heads practice of what is named.
    if starts_line
        && let Some(at) = (from + 1..tokens.len().min(from + 4))
            .find(|at| matches!(word(*at), Some("skill" | "skills" | "technique" | "practice" | "drills")))
    {
        let words = tokens[from..at].iter().all(|token| token.word().is_some() || token.is('-'));
        let closed =
            tokens.get(at + 1).is_none_or(|token| matches!(token.kind, Kind::Sign(':' | ',' | '-' | '(')));
        if words && closed {
            let end = at + 1 + usize::from(tokens.get(at + 1).is_some_and(|token| !token.is('(')));
            return (Some(PartKind::Skill), end);
        }
    }
    let found = KINDS
        .iter()
        .filter_map(|(name, kind)| {
            let class = lexicon.class(name)?;
            let ends = lexicon.at(tokens, from).into_iter().filter(|(known, _)| *known == class);
            ends.map(|(_, end)| end).max().map(|end| (end, *kind))
        })
        .max_by_key(|(end, _)| *end);
    if found.is_none()
        && let Some(end) = second_language(tokens, &KINDS, rules)
    {
        return end;
    }
    let Some((mut end, kind)) = found else {
        return late_heading(tokens, &KINDS, rules, apart);
    };
    // "Strength & conditioning" names two; "core" may begin a movement's name.
    let words: Vec<&str> = tokens[from..].iter().map_while(Token::word).take(6).collect();
    let longer = catalogue.match_words(&words).is_some_and(|found| found.words > end - from);
    if longer {
        return (None, 0);
    }
    if matches!(word(end), Some("piece" | "part" | "work" | "block" | "section" | "session")) {
        end += 1;
    }
    let next = tokens.get(end);
    // "STR  push press", "WU 5 min bike": a gap, or a short form that means nothing else.
    let gap = end > 0 && tokens.get(end).is_some_and(|token| token.gap);
    let short_form = end == from + 1
        && matches!(
            word(from),
            Some("wu" | "str" | "met" | "metcon" | "wod" | "acc" | "cond" | "cool" | "cd" | "mob" | "warmup")
        );
    let says_is = matches!(word(end), Some("is" | "will" | "today" | "was"));
    let closes = |token: &Token| {
        matches!(
            token.kind,
            Kind::Sign(
                '|' | ':' | '-' | '.' | ',' | '(' | '!' | '/' | '&' | '+' | '"' | '>' | '=' | '*' | '#'
            )
        )
    };
    let lists = matches!(kind, PartKind::Warmup | PartKind::Accessory | PartKind::Mobility | PartKind::Home);
    let spoken = word(end).is_some_and(|word| crate::values::number_word(word).is_some());
    let number = spoken || next.is_some_and(|token| matches!(token.kind, Kind::Number(_) | Kind::Clock(_)));
    let colon = tokens[end.min(tokens.len())..].iter().take(5).position(|token| token.is(':'));
    let short = tokens.len() - end <= 4 && starts_line && !number;
    let plain_words = |upto: usize| tokens[end..end + upto].iter().all(|token| token.word().is_some());
    let named = short && {
        let words: Vec<&str> = tokens[end..].iter().filter_map(Token::word).collect();
        words.len() == tokens.len() - end && catalogue.match_words(&words).is_none() && words.len() <= 3
    };
    let fits = match next {
        None => true,
        Some(token) if closes(token) => true,
        Some(_) if says_is || short_form || gap && starts_line => true,
        Some(_) if spoken && (lists || from > 0) => true,
        Some(_) if number => {
            lists || tokens.len() - end <= 3 || word(end + 1).is_some_and(|w| w.starts_with("min"))
        }
        Some(_) if colon.is_some_and(plain_words) => true,
        Some(token)
            if matches!(token.word(), Some("together" | "with" | "for" | "as" | "today")) && lists =>
        {
            true
        }
        _ => named || apart && only_words(&tokens[end..], catalogue),
    };
    if !fits
        || (kind == PartKind::Conditioning
            && word(from) == Some("main")
            && end == from + 1
            && next.is_some_and(|t| !closes(t)))
    {
        return (None, 0);
    }
    if let Some(upto) = colon.filter(|upto| *upto > 0 && plain_words(*upto)) {
        end += upto;
    }
    while tokens.get(end).is_some_and(|token| {
        matches!(token.kind, Kind::Sign(':' | '-' | '.' | ',' | '!' | '/' | '&' | '+' | '=' | '*' | '#'))
    }) {
        end += 1;
    }
    (Some(kind), end)
}

fn strong(say: &Say) -> bool {
    matches!(
        say,
        Say::Cap(Some(_))
            | Say::Target { .. }
            | Say::RoundUnder(_)
            | Say::Score(_)
            | Say::Team(_)
            | Say::Sharing(_)
            | Say::Rest { .. }
            | Say::ForTime
            | Say::Quality
            | Say::UntilFailure
            | Say::AddEach(_)
            | Say::Intent(_)
            | Say::Tabata
            | Say::Amrap(Some(_))
            | Say::Every { .. }
            | Say::OnOff { .. }
            | Say::Rm(_)
            | Say::Week(..)
            | Say::Rounds(_)
            | Say::TopSets(_)
            | Say::Percent(_)
            | Say::Rpe(_)
            | Say::Superset
            | Say::Window(_)
            | Say::Clock(_)
            | Say::Tempo(_)
    )
}

fn read_sentence(
    body: &[Token],
    catalogue: &Catalogue,
    lexicon: &Lexicon,
    weights: &Weights,
    near_top: bool,
) -> Vec<Reading> {
    if body.is_empty() {
        return vec![Reading { role: Role::Work, ..Reading::note(0.0) }];
    }
    let line = Line::new(body, lexicon, catalogue);
    let begins = |name: &str| lexicon.class(name).and_then(|class| line.class(0, class));
    let discourse = lexicon.class("discourse");
    let mut opening = 0;
    // "Okay so ..." says nothing yet.
    while opening < body.len() && opening < 6 {
        match discourse.and_then(|class| line.class(opening, class)) {
            Some(end) if end < body.len() => opening = end,
            _ if body[opening].is(',') => opening += 1,
            _ => break,
        }
    }
    let begins_at = |name: &str, at: usize| lexicon.class(name).and_then(|class| line.class(at, class));
    let talk = begins_at("talk", opening.min(body.len() - 1));
    let (alternative, level) = (begins("alternative"), begins("level"));
    let instead = lexicon
        .class("altmid")
        .is_some_and(|class| (1..body.len()).any(|at| line.class(at, class).is_some()));
    let starts_with_number = matches!(body[0].kind, Kind::Number(_) | Kind::Clock(_));
    let day_first = lexicon.class("dayname").is_some_and(|class| {
        line.class(0, class).is_some_and(|end| {
            body.get(end).is_none_or(|token| matches!(token.kind, Kind::Sign('-' | ':' | ',' | '/')))
        })
    });
    let names_day = (body.len() <= 9 && near_top || day_first)
        && (0..body.len()).any(|at| {
            ["dayname", "month"]
                .iter()
                .any(|name| lexicon.class(name).is_some_and(|class| line.class(at, class).is_some()))
        });
    let mut found = Vec::new();
    // "Level 2 - 50/35 kg, step-ups": what stands behind the name of the level is read by itself.
    let behind_level = level.filter(|end| {
        body.get(*end).is_some_and(|token| matches!(token.kind, Kind::Sign(':' | '-' | '=' | '>')))
            && body.len() > end + 1
    });
    let leveled = behind_level.is_some();
    if let Some(end) = behind_level {
        let rest = &body[end + 1..];
        let line = Line::new(rest, lexicon, catalogue);
        let next = lexicon
            .class("level")
            .and_then(|class| (0..rest.len()).find(|at| line.class(*at, class).is_some()));
        let upto = next.map_or(usize::MAX, |at| rest[at].start + 1);
        if let Some(covering) = coverings(&line, weights).into_iter().next() {
            let mut says = said(&covering, rest);
            says.retain(|said| said.column < upto);
            let cost = weights.of("level.each") + 0.3 * covering.cost.max(0.0);
            found.push(Reading { role: Role::Level(level_rank(body)), says, cost, ..Reading::note(0.0) });
        }
    }
    let named =
        body.iter().take(7).position(|token| matches!(token.kind, Kind::Sign(':' | '>' | '='))).filter(
            |at| {
                *at > 0
                    && body[..*at]
                        .iter()
                        .all(|token| token.word().is_some() || matches!(token.kind, Kind::Sign(_)))
            },
        );
    for covering in coverings(&line, weights) {
        let says = said(&covering, body);
        let mut work = Reading {
            role: Role::Work,
            says,
            cost: covering.cost,
            numbers_left: covering.numbers_left.iter().map(|at| body[*at].start + 1).collect(),
            unknown_words: covering.unknown_words,
            names_left: covering.names_left,
        };
        let anchored = work.items().filter(|item| item.is_anchored() && item.movement.is_some()).count();
        let loose = work.items().filter(|item| item.movement.is_none()).count();
        let bare = work.items().count() - anchored - loose;
        let structure = work
            .says
            .iter()
            .filter(|said| {
                strong(&said.say)
                    || matches!(
                        said.say,
                        Say::SetsReps { .. }
                            | Say::Sets(_)
                            | Say::Scheme { .. }
                            | Say::Load { .. }
                            | Say::SetAt { .. }
                            | Say::SetsMax(_)
                    )
            })
            .count();
        let rest = work.says.len() - anchored - bare - loose - structure;
        let drops = weights.of("note.item") * anchored as f64
            + weights.of("note.bare") * (bare + covering.names_left) as f64
            + weights.of("note.number") * covering.numbers_left.len() as f64
            + weights.of("note.loose") * loose as f64;
        if talk.is_some() && !starts_with_number {
            let share = if anchored > 0 { 0.5 } else { 1.0 };
            work.cost += share * weights.of("work.talk_opener");
        }
        if work.says.is_empty() {
            work.cost += weights.of("work.empty");
        }
        // "sub 7" is a time to beat.
        let aims = matches!(work.says.first().map(|said| &said.say), Some(Say::Target { .. }));
        let offers =
            anchored + bare > 0 || work.says(|say| matches!(say, Say::Load { .. } | Say::ToolLoad { .. }));
        let chooses = work.says(|say| matches!(say, Say::Or)) && anchored > 0;
        if instead && offers && alternative.is_none() && !chooses {
            let cost = weights.of("substitute.inside") + 0.3 * covering.cost.max(0.0);
            found.push(Reading { role: Role::Substitute, cost, ..work.clone() });
            work.cost += weights.of("work.alternative_inside");
        }
        if alternative.is_some() && !starts_with_number && !aims && offers {
            work.cost += weights.of("work.alternative_opener");
            let role = Role::Substitute;
            let cost = weights.of("substitute.each") + 0.3 * covering.cost;
            found.push(Reading { role, cost, ..work.clone() });
        }
        if let Some(end) = level
            && !leveled
            && body.get(end).is_none_or(|token| {
                matches!(token.kind, Kind::Sign(':' | '-' | '=' | '(' | ',' | '/') | Kind::Number(_))
                    || token.word().is_some_and(|word| word == "is" || word == "at")
            })
        {
            let first = lexicon
                .class("level")
                .and_then(|class| (end..body.len()).find(|at| line.class(*at, class).is_some()));
            let upto = first.map_or(usize::MAX, |at| body[at].start + 1);
            let says = work.says.iter().filter(|said| said.column < upto).cloned().collect();
            let role = Role::Level(level_rank(body));
            found.push(Reading {
                role,
                says,
                cost: weights.of("level.each") + 0.3 * covering.cost,
                ..work.clone()
            });
            work.cost += weights.of("work.level_opener");
        }
        if named.is_some() && anchored + bare > 0 && !starts_with_number {
            let cost = work.cost + weights.of("substitute.named");
            found.push(Reading { role: Role::Substitute, cost, ..work.clone() });
        }
        if let Some(colon) = named {
            // "Press complex: push press + push jerk": bare names before a colon head the names behind it.
            let column = body[colon].start + 1;
            let (before, behind): (Vec<&Said>, Vec<&Said>) =
                work.says.iter().partition(|said| said.column < column);
            let heads = before.iter().any(|said| matches!(said.say, Say::Item(_)))
                && before.iter().all(|said| match &said.say {
                    Say::Item(item) => !item.is_anchored(),
                    Say::Week(..) => true,
                    _ => false,
                });
            if heads
                && behind.iter().any(|said| matches!(&said.say, Say::Item(item) if item.movement.is_some()))
            {
                let says = work
                    .says
                    .iter()
                    .filter(|said| said.column >= column || !matches!(said.say, Say::Item(_)));
                let says = says.cloned().collect();
                found.push(Reading { says, cost: work.cost - weights.of("work.topic"), ..work.clone() });
            }
        }
        if names_day && anchored == 0 && structure == 0 {
            let cost = weights.of("title.each");
            found.push(Reading {
                role: Role::Title,
                says: Vec::new(),
                cost,
                numbers_left: Vec::new(),
                ..work.clone()
            });
        }
        let note = weights.of("note.each")
            + drops
            + weights.of("note.structure") * structure as f64
            + weights.of("note.other") * rest as f64;
        found.push(Reading { unknown_words: work.unknown_words, ..Reading::note(note) });
        if structure > 0 {
            let kept: Vec<Said> = work.says.iter().filter(|said| strong(&said.say)).cloned().collect();
            if !kept.is_empty() {
                let cost = weights.of("aside.each")
                    + drops
                    + weights.of("aside.unknown") * covering.unknown_words as f64
                    + weights.of("aside.number") * covering.numbers_left.len() as f64;
                found.push(Reading {
                    role: Role::Aside,
                    says: kept,
                    cost,
                    numbers_left: Vec::new(),
                    ..work.clone()
                });
            }
        }
        found.push(work);
    }
    if let Some(scored) = score_sentence(body, &found, lexicon, &line, weights) {
        found.push(scored);
    }
    found.sort_by(|a, b| a.cost.total_cmp(&b.cost).then(b.says.len().cmp(&a.says.len())));
    let mut kept: Vec<Reading> = Vec::new();
    for reading in found {
        if !kept.iter().any(|known| known.role == reading.role && known.says == reading.says) {
            kept.push(reading);
        }
    }
    kept.truncate(6);
    kept
}

/// A sentence that says what counts: "score: total reps", "your slowest round is your score".
fn score_sentence(
    body: &[Token],
    found: &[Reading],
    lexicon: &Lexicon,
    line: &Line<'_>,
    weights: &Weights,
) -> Option<Reading> {
    let class = lexicon.class("score")?;
    let at = (0..body.len()).find(|at| line.class(*at, class).is_some())?;
    let words = |from: usize, to: usize| -> String {
        let words = body[from..to].iter().map(|token| token.word().unwrap_or(" "));
        words.collect::<Vec<_>>().join(" ")
    };
    // Behind the word, or, where nothing stands there, before it.
    let score = score_of(&words(at + 1, body.len())).or_else(|| score_of(&words(0, at)))?;
    let column = body[at].start + 1;
    let work = found.iter().find(|reading| reading.role == Role::Work)?;
    let behind = score_of(&words(at + 1, body.len())).is_some();
    let keeps = |said: &&Said| match said.say {
        Say::Score(_) | Say::ScoreWord => false,
        Say::Cap(_) | Say::Team(_) | Say::Sharing(_) => true,
        _ => behind && said.column < column,
    };
    let mut says: Vec<Said> = work.says.iter().filter(keeps).cloned().collect();
    says.push(Said { say: Say::Score(score), column });
    let cost = weights.of("score.each");
    Some(Reading { role: Role::Work, says, cost, numbers_left: Vec::new(), unknown_words: 0, names_left: 0 })
}

/// What counts, by the words that say it.
fn score_of(text: &str) -> Option<Score> {
    let has = |words: &[&str]| words.iter().any(|word| text.contains(word));
    let less_rest = has(&[
        "working time",
        "work time",
        "minus",
        "take the",
        "off at the end",
        "without the rest",
        "without rest",
        "not count",
        "excluding",
        "sum of the times",
        "times added",
        "added up",
        "add up",
    ]);
    if text.trim().is_empty() {
        None
    } else if has(&["slowest", "worst"]) {
        Some(Score::SlowestInterval)
    } else if less_rest {
        Some(Score::TimeMinusRest)
    } else if has(&["lowest", "fewest"]) {
        Some(Score::Reps)
    } else if has(&["none", "no score", "nothing"]) {
        Some(Score::None)
    } else if has(&["load", "weight", "heaviest", "kilos", "kg"]) {
        Some(Score::Load)
    } else if has(&[
        "round",
        "full minute",
        "minutes completed",
        "completed minute",
        "last minute",
        "last full",
    ]) && !has(&["time of", "total time"])
    {
        Some(Score::RoundsReps)
    } else if has(&["time", "clock"]) {
        Some(Score::Time)
    } else if has(&["rep", "cal", "metre", "meter", "total", "sum", "distance", "max"]) {
        Some(Score::Reps)
    } else {
        None
    }
}

/// 0 for the level that the text is written for; the others follow.
fn level_rank(body: &[Token]) -> u8 {
    let word = body[0].word().unwrap_or_default();
    let number = body.get(1).and_then(Token::number);
    match (word, number) {
        (
            "rx" | "elite" | "advanced" | "performance" | "sport" | "competitor" | "competitors" | "compete"
            | "comp" | "experienced",
            _,
        ) => 0,
        ("level" | "l", Some(n)) => 10u8.saturating_sub(n as u8),
        ("intermediate" | "fitness", _) => 4,
        _ => 6,
    }
}

/// What a covering says, sides and loads still apart.
fn said(covering: &Covering, body: &[Token]) -> Vec<Said> {
    let phrases = covering.phrases.iter();
    phrases
        .flat_map(|phrase| {
            let column = body[phrase.start].start + 1;
            phrase.says.iter().map(move |say| Said { say: say.clone(), column })
        })
        .collect()
}
