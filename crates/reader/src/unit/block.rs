//! Lines that belong together: levels, substitutes, talk; and what the sentences before make of the next one.

use std::collections::{HashMap, HashSet};
use std::ops::RangeInclusive;

use super::heading::take_heading;
use super::window::EARLIEST_HOUR_S;
use super::{Role, Rules, Unit, indent};
use crate::label::{self, Label};
use crate::lexicon::{Class, Lexicon};
use crate::source::SourceLine;
use crate::tokens::{Kind, Token, tokens};
use crate::values::{Line, movements_at};
use lantern_session::movement::Catalogue;

/// Longest line that names a station, in bytes.
pub(super) const LONGEST_STATION: usize = 200;

/// Lines of one layout, two or more below each other, that name somebody in front of a colon and a load or work behind it
/// ("Tall ones: 60/40 kg bar"): the levels of the class in the gym's own words. Gives the place of each in its block.
pub(super) fn level_lines(lines: &[(usize, Vec<Token>)], rules: &Rules<'_>) -> HashMap<usize, u8> {
    let free =
        ["level", "adj", "fillers", "alternative", "talk", "discourse", "men", "women", "person", "team"];
    let free: Vec<Class> = free.iter().filter_map(|name| rules.lexicon.class(name)).collect();
    let names = |tokens: &[Token]| -> bool {
        if numbers_an_entry(tokens, rules) {
            return false;
        }
        let marks = tokens.iter().take_while(|token| matches!(token.kind, Kind::Sign(_))).count();
        let tokens = &tokens[marks..];
        let Some(colon) = tokens
            .iter()
            .position(|token| token.is(':') || token.is('>') || token.is('='))
            .filter(|at| (1..=4).contains(at))
        else {
            return false;
        };
        let line = Line::new(tokens, rules.lexicon, rules.catalogue);
        // "Otters = as above"
        let as_is = rules.lexicon.class("asis").is_some_and(|class| {
            tokens.len() > colon + 1
                && line.class(colon + 1, class).is_some_and(|end| tokens.len() <= end + 2)
        });
        let plain = (0..colon).all(|at| {
            (tokens[at].word().is_some() || at > 0 && tokens[at].number().is_some())
                && line.movements[at].is_empty()
                && line.classes[at].iter().all(|(class, _)| free.contains(class))
        });
        let counts = tokens[colon + 1..].iter().any(|token| token.number().is_some())
            || (colon + 1..tokens.len()).any(|at| !line.movements[at].is_empty());
        plain && (counts || as_is)
    };
    runs(lines, names)
}

/// Words that tell how heavy a lift gets.
const HEAVY: [&str; 5] = ["heavy", "rm", "1rm", "build", "triple"];

/// Lines below each other that each name a movement and offer something behind a colon or an arrow: what may be done instead.
pub(super) fn instead_lines(lines: &[(usize, Vec<Token>)], rules: &Rules<'_>) -> HashMap<usize, u8> {
    let names = |tokens: &[Token]| -> bool {
        if numbers_an_entry(tokens, rules) {
            return false;
        }
        let marks = tokens.iter().take_while(|token| matches!(token.kind, Kind::Sign(_))).count();
        let tokens = &tokens[marks..];
        let at =
            tokens.iter().position(|token| token.is(':') || token.is('>')).filter(|at| (1..=4).contains(at));
        at.is_some_and(|at| {
            let line = Line::new(tokens, rules.lexicon, rules.catalogue);
            // "Squat: 3 x 5 @ 75 %" prescribes.
            let prescribes = (at + 1..tokens.len()).any(|n| {
                let times = tokens[n].word() == Some("x") && tokens[n - 1].number().is_some();
                times || tokens[n].is('@') || tokens[n].is('%')
            });
            // "Row: 4 sets of 8" too.
            let sets = rules.lexicon.class("set");
            let counts = tokens.get(at + 1).is_some_and(|token| token.number().is_some())
                && rules.lexicon.at(tokens, at + 2).iter().any(|(class, _)| Some(*class) == sets);
            // "Snatch: work to a heavy single"
            let heavy = |token: &Token| token.word().is_some_and(|word| HEAVY.contains(&word));
            // "Burpees: 12", "row: 500 m" is how much of it; "thrusters: 40/30" is a lighter bar.
            let names_nothing = line.movements[at..].iter().all(Vec::is_empty);
            let amount = names_nothing && is_an_amount(&tokens[at + 1..], rules.lexicon);
            let prescribes = prescribes || counts || amount || tokens[at + 1..].iter().any(heavy);
            line.movements[0].iter().any(|name| name.end == at) && tokens.len() > at + 1 && !prescribes
        })
    };
    runs(lines, names)
}

/// Begins with a number of repetitions, or with a number or a pair of something that is done or gone.
fn is_an_amount(tokens: &[Token], lexicon: &Lexicon) -> bool {
    const UNITS: [&str; 8] = ["rep", "m", "km", "mile", "ft", "cal", "s", "min"];
    let numbers = tokens.iter().take_while(|token| token.number().is_some() || token.is('/')).count();
    let units = UNITS.map(|unit| lexicon.class(&format!("unit.{unit}")));
    let counted = || lexicon.at(tokens, numbers).iter().any(|(class, _)| units.contains(&Some(*class)));
    match numbers {
        0 => false,
        1 if tokens.len() == 1 => true,
        _ => counted(),
    }
}

/// "1st: ...", "min 2: ...", "odd: ...": the place of an entry, and nobody's name.
fn numbers_an_entry(tokens: &[Token], rules: &Rules<'_>) -> bool {
    let label = label::take(tokens, true, rules.lexicon).0;
    matches!(
        label,
        Label::Number(_)
            | Label::Minute(_)
            | Label::Station(_)
            | Label::Odd(_)
            | Label::Sets(..)
            | Label::Round(_)
    )
}

/// The place of each line in a run of two or more lines below each other that pass a test.
fn runs(lines: &[(usize, Vec<Token>)], passes: impl Fn(&[Token]) -> bool) -> HashMap<usize, u8> {
    let (mut found, mut block, mut last) = (HashMap::new(), Vec::new(), 0);
    for (number, tokens) in lines {
        let passes = passes(tokens);
        if *number != last + 1 || !passes {
            keep_block(&mut block, &mut found);
        }
        if passes {
            block.push(*number);
        }
        last = *number;
    }
    keep_block(&mut block, &mut found);
    found
}

/// Lines below each other that begin with 1, 2, 3 and a name, under a line about stations or about so long at each of something: the numbers are
/// places and no repetitions.
pub(super) fn numbered_stations(source: &[SourceLine], plain: &dyn Fn(&str) -> bool) -> HashSet<usize> {
    const FEWEST: usize = 3;
    let mut found = HashSet::new();
    let (mut run, mut announced) = (Vec::new(), false);
    let mut keep = |run: &mut Vec<usize>| {
        if run.len() >= FEWEST {
            found.extend(run.iter().copied());
        }
        run.clear();
    };
    for line in source.iter().filter(|line| line.text.len() <= LONGEST_STATION) {
        let tokens = tokens(&line.text, plain);
        let place = tokens.first().and_then(Token::number);
        let named = tokens.get(1).is_some_and(|token| token.spaced && token.word().is_some());
        if announced && named && place == Some((run.len() + 1) as f64) {
            run.push(line.line_at(0));
        } else {
            keep(&mut run);
            let mut words = tokens.iter().filter_map(Token::word);
            announced = words.any(|word| word.starts_with("station"))
                || tokens.windows(2).any(|pair| {
                    let each = matches!(pair[0].word(), Some("each" | "every" | "per"));
                    each && matches!(pair[1].word(), Some("movement" | "exercise" | "move"))
                });
        }
    }
    keep(&mut run);
    found
}

/// A line that begins with a number.
pub(super) struct Timed {
    pub line: usize,
    pub tokens: Vec<Token>,
    /// Whether a bullet stands in front of it.
    pub bullet: bool,
}

/// Lines of a class plan: each begins with the time at which it starts, later than the one before, from 0:00 on or in front of
/// headings.
pub(super) fn plan_lines(lines: &[Timed], rules: &Rules<'_>) -> HashSet<usize> {
    const FEWEST: usize = 3;
    let mut timed: Vec<(usize, u32, bool)> = lines
        .iter()
        .filter_map(|Timed { line, tokens, .. }| {
            let Kind::Clock(start) = tokens.first()?.kind else { return None };
            let signs = tokens[1..].iter().take_while(|token| matches!(token.kind, Kind::Sign(_))).count();
            let behind = &tokens[1 + signs..];
            let says = behind.first()?.word().is_some() || behind.first()?.number().is_some();
            let heads = take_heading(behind, rules, true, true).0.is_some();
            says.then_some((*line, start, heads))
        })
        .collect();
    // "7:00 class" above "0:00 ..." says which class it is.
    if matches!(timed[..], [(_, 1.., _), (_, 0, _), ..]) {
        timed.remove(0);
    }
    let rising = timed.windows(2).all(|pair| pair[0].1 < pair[1].1);
    let headed = timed.iter().filter(|(.., heads)| *heads).count();
    let plan = timed.len() >= FEWEST
        && rising
        && (timed[0].1 == 0 || headed * 2 > timed.len() || is_wall_clock(&timed));
    if plan {
        timed.into_iter().map(|(line, ..)| line).collect()
    } else {
        minute_column(lines, rules.catalogue)
    }
}

/// "17:30 ..., 17:45 ..., 18:20 ...": hours and minutes of a class on the clock on the wall, each on five minutes.
fn is_wall_clock(timed: &[(usize, u32, bool)]) -> bool {
    const MINUTES: RangeInclusive<u32> = 30..=150;
    let (Some((_, first, _)), Some((_, last, _))) = (timed.first(), timed.last()) else { return false };
    *first >= EARLIEST_HOUR_S
        && MINUTES.contains(&last.saturating_sub(*first))
        && timed.iter().all(|(_, at, _)| at.is_multiple_of(5))
}

/// Lines of a class plan whose minutes are bare numbers in a column of their own, each later than the one before: "20   strength".
fn minute_column(lines: &[Timed], catalogue: &Catalogue) -> HashSet<usize> {
    const FEWEST: usize = 4;
    const LONGEST_HOUR: f64 = 120.0;
    let column: Vec<(usize, f64, bool)> = lines
        .iter()
        .filter(|timed| !timed.bullet)
        .filter_map(|Timed { line, tokens, .. }| {
            let minute = tokens.first()?.number().filter(|n| n.fract() == 0.0 && *n <= LONGEST_HOUR)?;
            let behind = tokens.get(1).filter(|behind| behind.gap)?;
            behind.word()?;
            Some((*line, minute, !movements_at(tokens, 1, catalogue).is_empty()))
        })
        .collect();
    let rising = column.windows(2).all(|pair| pair[0].1 < pair[1].1);
    // "10   push-ups", "20   squats" is work, however it rises.
    let counted = column.iter().filter(|(.., counts)| *counts).count();
    let plan = column.len() >= FEWEST && rising && counted * 3 <= column.len();
    if plan { column.into_iter().map(|(line, ..)| line).collect() } else { HashSet::new() }
}

/// Whether the first line is words alone, and a lettered or numbered part begins below it behind an empty line.
pub(super) fn has_title(source: &[SourceLine], plain: &dyn Fn(&str) -> bool, lexicon: &Lexicon) -> bool {
    let [first, second, ..] = source else { return false };
    if first.text.len() > LONGEST_STATION || second.text.len() > LONGEST_STATION || !second.blank_before {
        return false;
    }
    let name = tokens(&first.text, plain);
    let words =
        name.iter().all(|token| token.word().is_some() || matches!(token.kind, Kind::Sign(c) if c != ':'));
    let below = label::take(&tokens(&second.text, plain), true, lexicon).0;
    words && matches!(below, Label::Letter(..) | Label::Number(_) | Label::Part)
}

/// Numbered lines with a list of their own below, farther in or behind bullets: the sections of an outline ("1. Rings, 15 min").
pub(super) fn outline_heads(
    source: &[SourceLine],
    plain: &dyn Fn(&str) -> bool,
    lexicon: &Lexicon,
) -> HashSet<usize> {
    const FEWEST: usize = 2;
    let lines: Vec<(usize, usize, Label, bool)> = source
        .iter()
        .filter(|line| line.text.len() <= LONGEST_STATION)
        .map(|line| {
            let tokens = tokens(&line.text, plain);
            let (label, end) = label::take(&tokens, true, lexicon);
            let named = tokens.get(end).is_some_and(|token| token.word().is_some());
            (line.line_at(0), indent(&line.text), label, named)
        })
        .collect();
    let heads = lines.windows(2).filter_map(|pair| {
        let [(line, indent, label, named), (next, deeper, below, _)] = pair else { return None };
        let numbered = matches!(label, Label::Number(_) | Label::Letter(_, None)) && *named;
        let owns = deeper > indent || *below == Label::Bullet;
        (numbered && owns && *next == line + 1).then_some(*line)
    });
    let heads: HashSet<usize> = heads.collect();
    if heads.len() >= FEWEST { heads } else { HashSet::new() }
}

pub(super) fn keep_block(block: &mut Vec<usize>, found: &mut HashMap<usize, u8>) {
    if block.len() > 1 {
        found.extend(block.iter().enumerate().map(|(place, line)| (*line, place as u8)));
    }
    block.clear();
}

/// What the sentences before make of the next one.
#[derive(Default)]
pub(super) struct Context {
    /// A line said that what follows may be done instead ("Scaling"); until an empty line.
    pub(super) block: bool,
    /// A line said that what follows is talk ("How to pace it"); until an empty line.
    pub(super) talk: bool,
    /// A sentence of this line said so ("No bar? ...").
    pub(super) line: bool,
    /// Lines that give the numbers of a level, with the place in their block.
    pub(super) levels: HashMap<usize, u8>,
    /// Lines that begin with a stretch of the clock in bare minutes: each goes on behind the one before.
    pub(super) windows: HashSet<usize>,
    /// Heads of blocks with minutes in brackets behind them, in seconds.
    pub(super) minutes: HashMap<usize, u32>,
    /// Headings with a stretch of the hour in brackets behind them.
    pub(super) stretches: HashSet<usize>,
    /// Lines that begin with a stretch of the class in hours and minutes.
    pub(super) hours: HashSet<usize>,
    /// Lines that begin with the number of their station.
    pub(super) stations: HashSet<usize>,
    /// Lines that begin with how many, set off like the number of a list.
    pub(super) counted: HashSet<usize>,
    /// Lines that begin with the time of the class plan at which they start.
    pub(super) plan: HashSet<usize>,
    /// The first line names the day, and no part of it.
    pub(super) titled: bool,
    /// The name of the day says that skills are practised.
    pub(super) skills: bool,
    /// Numbered lines that head a list of their own.
    pub(super) outline: HashSet<usize>,
    /// The line calls itself a note.
    pub(super) noted: bool,
    /// Lines that offer something instead of the movement they name.
    pub(super) instead: HashMap<usize, u8>,
}

impl Context {
    pub(super) fn line_begins(&mut self, blank_before: bool) {
        self.line = false;
        self.noted = false;
        if blank_before {
            self.block = false;
            self.talk = false;
        }
    }

    pub(super) fn take_in(&mut self, unit: &Unit, body: &[Token], asks: bool, rules: &Rules<'_>) {
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
        ) || rules.lexicon.class("complaint").is_some_and(|class| {
            (0..body.len()).any(|at| rules.lexicon.at(body, at).iter().any(|(known, _)| *known == class))
        });
        let role = unit.readings.first().map(|reading| reading.role);
        self.line |= matches!(role, Some(Role::Substitute | Role::Level(_))) || asks && negates;
    }
}

/// "Note: ...": a sentence that calls itself a note.
pub(super) fn says_note(body: &[Token], lexicon: &Lexicon) -> bool {
    let class = lexicon.class("notemark");
    lexicon.at(body, 0).into_iter().any(|(known, end)| {
        Some(known) == class && body.get(end).is_some_and(|token| token.is(':')) && body.len() > end + 1
    })
}
