//! Sentences: the smallest pieces of a text that the day is divided by, each with the ways in which it can be read.

mod below_a_lift;
mod block;
mod counted;
mod ends;
mod heading;
mod in_turn;
mod role;
mod score;
mod unknown;
mod waves;
mod window;
mod written_out;

use std::collections::HashSet;

use lantern_session::PartKind;
use lantern_session::movement::{Catalogue, Unit as Counts};

use self::below_a_lift::sets_below_a_lift;
use self::block::{
    Context, Timed, has_title, instead_lines, level_lines, numbered_stations, outline_heads, plan_lines,
    says_note,
};
use self::counted::counted_lines;
use self::ends::{is_prose, sentence_end};
use self::heading::{
    framed_heading, length_ahead, length_behind, name_of_section, outline, says_skills, take_heading,
};
use self::in_turn::{rests_between_bouts, windows_in_turn};
use self::role::{offer_instead, offer_level, read_sentence};
use self::unknown::{mark_strange_names, unknown_amount};
use self::window::{
    MINUTES, STRETCH, bare_range, hour_lines, lines_with_minutes, lines_with_stretches, take_window,
    window_lines,
};
use self::written_out::first_of_levels;
use crate::label::{self, Label};
use crate::lexicon::{Class, Lexicon};
use crate::say::{BARE_SHARES, Item, Say};
use crate::source::{SourceLine, lines};
use crate::spelling::Spelling;
use crate::tokens::{Kind, Token, tokens};
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
    /// Whether a full stop stands before it on its line.
    pub after_stop: bool,
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
    /// An amount of something that has no known name: column, and the words.
    pub unknown: Option<(usize, String)>,
    /// Whether a part begins with it, as a coach has said.
    pub cut: Cut,
}

/// What a coach has said about a seam between two parts.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Cut {
    /// Nothing.
    #[default]
    Free,
    /// A part begins here.
    Must,
    /// No part begins here.
    Never,
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
    /// How many of them count something, or say when or how much: "A1" and "2b" are places.
    pub counts_left: usize,
    /// Words that mean nothing to the reader.
    pub unknown_words: usize,
    /// Names of movements that nothing explains.
    pub names_left: usize,
    /// Words beside a number whose meaning is known and that nothing explains: column, and the word.
    pub words_left: Vec<(usize, String)>,
    /// Words that were read as others they are a slip away from: column, as written, as read.
    pub mended: Vec<(usize, String, String)>,
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
        .filter(|line| line.text.len() <= LONGEST_LEVEL && line.text.contains([':', '\u{2192}', '>', '=']));
    let short: Vec<(usize, Vec<Token>)> =
        short.map(|line| (line.line_at(0), tokens(&line.text, &plain))).collect();
    // Behind a bullet too: "- 10-30: ...".
    let stretched = source.iter().filter(|line| line.text.len() <= LONGEST_LEVEL).filter_map(|line| {
        let bare = line.text.trim_start_matches(|c: char| !c.is_alphanumeric());
        let begins = bare.starts_with(|c: char| c.is_ascii_digit()) || window::begins_in_words(bare);
        begins.then(|| {
            let mut tokens = tokens(bare, &plain);
            window::without_bare_colons(&mut tokens);
            (line.line_at(0), tokens)
        })
    });
    let stretched: Vec<(usize, Vec<Token>)> = stretched.collect();
    let bracketed =
        source.iter().filter(|line| line.text.len() <= LONGEST_LEVEL && line.text.trim_end().ends_with(')'));
    let bracketed: Vec<(usize, Vec<Token>)> =
        bracketed.map(|line| (line.line_at(0), tokens(&line.text, &plain))).collect();
    let first = source.first().map_or(0, |line| line.line_at(0));
    // Where no empty line stands, none of them is right below another: those are of a list.
    let blanks = source.iter().any(|line| line.blank_before);
    let heads = source.iter().filter(|line| line.blank_before || line.line_at(0) == first);
    let heads: HashSet<usize> = heads.map(|line| line.line_at(0)).collect();
    let named: HashSet<usize> = bracketed.iter().map(|(line, _)| *line).collect();
    let heads = |line: usize| {
        if blanks {
            heads.contains(&line)
        } else {
            !named.contains(&(line + 1)) && !named.contains(&line.wrapping_sub(1))
        }
    };
    let heads: Vec<(usize, Vec<Token>)> =
        bracketed.iter().filter(|(line, _)| heads(*line)).cloned().collect();
    let timed = source.iter().filter(|line| line.text.len() <= LONGEST_LEVEL).filter_map(|line| {
        let line_text = line.text.trim_start();
        // "- 0:10 technique", behind one bullet.
        let bare =
            line_text.strip_prefix(['-', '*', '\u{2022}', '\u{2013}']).unwrap_or(line_text).trim_start();
        bare.starts_with(|c: char| c.is_ascii_digit()).then(|| Timed {
            line: line.line_at(0),
            tokens: tokens(bare, &plain),
            bullet: bare != line_text,
        })
    });
    let timed: Vec<Timed> = timed.collect();
    let mut context = Context {
        levels: level_lines(&short, &rules),
        instead: instead_lines(&short, &rules),
        windows: window_lines(&stretched, lexicon, catalogue),
        stretches: lines_with_stretches(&bracketed),
        minutes: lines_with_minutes(&heads),
        hours: hour_lines(&stretched),
        plan: plan_lines(&timed, &rules),
        stations: numbered_stations(&source, &plain),
        counted: counted_lines(&source, &plain),
        outline: outline_heads(&source, &plain, lexicon),
        ..Context::default()
    };
    context.skills = source.iter().take(1).any(|line| says_skills(&line.text, &plain, lexicon));
    context.titled = has_title(&source, &plain, lexicon);
    let top = source.first().map_or(1, |line| line.line_at(0));
    let mut after_rule = false;
    for line in &source {
        let place = Place {
            source: line,
            line: line.line_at(0),
            from_top: line.line_at(0) - top,
            indent: indent(&line.text),
            blank_before: line.blank_before || after_rule,
        };
        after_rule = is_rule(&line.text);
        if line.mute || line.text.chars().count() > LONGEST_LINE {
            let text = line.text.trim().to_owned();
            found.push(place.unit(true, Label::None, None, text, vec![Reading::note(0.0)], (0, 0)));
            continue;
        }
        let mut all = tokens(&line.text, &plain);
        spelling.mend(&mut all, lexicon);
        if context.windows.contains(&place.line) {
            window::without_bare_colons(&mut all);
        }
        context.line_begins(place.blank_before);
        line_units(&place, &line.text, &all, &rules, &mut context, &mut found);
    }
    lone_bouts(&mut found);
    shares_below_repetitions(&mut found);
    waves::of_shares(&mut found);
    waves::of_all_lifts(&mut found);
    starts_of_the_clock(&mut found);
    windows_in_turn(&mut found);
    rests_between_bouts(&mut found);
    sets_below_a_lift(&mut found);
    first_of_levels(&mut found);
    found
}

/// "On the 0:00", and further down "on the 12:00": where something begins at the start of the clock, the next begins at that time; without it
/// "on the 3:00" is said of what comes again.
fn starts_of_the_clock(units: &mut [Unit]) {
    let starts = |reading: &Reading| reading.says(|say| matches!(say, Say::ClockStart));
    let zero =
        |unit: &Unit| unit.text.split_whitespace().any(|word| word.trim_end_matches([':', ',']) == "0:00");
    let from_zero = |unit: &Unit| unit.readings.iter().any(starts) && zero(unit);
    if !units.iter().any(from_zero) {
        return;
    }
    for unit in units {
        if let [Said { say: say @ Say::Every { times: None, total_s: None, .. }, .. }] =
            &mut unit.readings[0].says[..]
        {
            *say = Say::ClockStart;
        }
    }
}

/// "5/3/1" and below it "75/85/95": of sets as many, the second line is how heavy they are, in percent.
fn shares_below_repetitions(units: &mut [Unit]) {
    const MOST_REPS: u32 = 20;
    let list = |unit: &Unit| match &unit.readings[0].says[..] {
        [Said { say: Say::Scheme { reps, open: None }, .. }] if unit.heading.is_none() => Some(reps.clone()),
        _ => None,
    };
    for at in 1..units.len() {
        let (Some(reps), Some(shares)) = (list(&units[at - 1]), list(&units[at])) else { continue };
        let alike = reps.len() == shares.len() && reps.len() > 1;
        let likely = reps.iter().all(|n| *n <= MOST_REPS)
            && shares.iter().all(|share| BARE_SHARES.contains(&f64::from(*share)));
        if alike && likely && !units[at].blank_before {
            let percent = shares.into_iter().map(|share| [f64::from(share); 2]).collect();
            units[at].readings[0].says[0].say = Say::Percent(percent);
        }
    }
}

/// "AMRAP 2:" is no second bout but two minutes long where no first one stands above it, by its number or with a third below.
fn lone_bouts(units: &mut [Unit]) {
    for at in 0..units.len() {
        let Label::Bout(n) = units[at].label else { continue };
        let before = |label: Label| units[..at].iter().any(|unit| unit.label == label);
        let open =
            |unit: &Unit| unit.readings[0].says(|say| matches!(say, Say::Amrap(_) | Say::Bouts { .. }));
        let third_below = || units[at + 1..].iter().any(|unit| unit.label == Label::Bout(3));
        let second = n == 2 && units[..at].iter().any(open) && third_below();
        if n < 2 || second || before(Label::Bout(n - 1)) {
            continue;
        }
        let unit = &mut units[at];
        unit.label = Label::None;
        for reading in unit.readings.iter_mut().filter(|reading| reading.role == Role::Work) {
            reading.says.insert(0, Said { say: Say::Amrap(Some(n * 60)), column: 1 });
        }
    }
}

/// A line of signs alone, such as `---`, parts what stands above it from what follows.
fn is_rule(text: &str) -> bool {
    let text = text.trim();
    text.len() >= 2 && !text.chars().any(char::is_alphanumeric)
}

fn indent(raw: &str) -> usize {
    raw.chars().take_while(|c| c.is_whitespace()).map(|c| if c == '\t' { 4 } else { 1 }).sum()
}

struct Place<'s> {
    source: &'s SourceLine,
    line: usize,
    /// Lines from the first with words on it.
    from_top: usize,
    indent: usize,
    blank_before: bool,
}

impl Place<'_> {
    fn unit(
        &self,
        starts_line: bool,
        label: Label,
        heading: Option<(PartKind, String)>,
        text: String,
        readings: Vec<Reading>,
        chars: (usize, usize),
    ) -> Unit {
        Unit {
            line: self.source.line_at(chars.0),
            last_line: self.source.line_at(chars.1),
            starts_line,
            after_stop: false,
            blank_before: self.blank_before && starts_line,
            indent: self.indent,
            label,
            heading,
            text,
            readings,
            unknown: None,
            cut: Cut::Free,
        }
    }
}

impl Reading {
    pub(crate) fn note(cost: f64) -> Self {
        Self {
            role: Role::Note,
            says: Vec::new(),
            cost,
            numbers_left: Vec::new(),
            counts_left: 0,
            unknown_words: 0,
            names_left: 0,
            words_left: Vec::new(),
            mended: Vec::new(),
        }
    }
}

/// Lines at the top of a text among which the day's name stands.
pub(crate) const TITLE_LINES: usize = 3;

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
    let mut spoken = false;
    let mut after_stop = false;
    while at < all.len() {
        let (label, behind) = match outline.filter(|_| first) {
            Some((number, _)) => (Label::Number(number), 0),
            None if first && context.stations.contains(&place.line) => {
                (Label::Number(all[0].number().unwrap_or_default() as u32), 1)
            }
            None if first && context.counted.contains(&place.line) => (Label::None, 0),
            None => label::take(&all[at..], first, lexicon),
        };
        let heads_list = first && context.outline.contains(&place.line);
        let label = if heads_list && matches!(label, Label::Number(_)) { Label::Part } else { label };
        let start = at;
        at += behind;
        let planned = first && context.plan.contains(&place.line);
        if planned {
            at += 1;
            at += all[at..]
                .iter()
                .take_while(|token| matches!(token.kind, Kind::Sign('-' | ':' | '|')))
                .count();
        }
        // Stretches of the class plan that go on from one another are a part each.
        let in_hours = context.hours.contains(&place.line);
        let planned = planned || first && (in_hours || context.windows.contains(&place.line));
        let label = if planned && matches!(label, Label::None | Label::Bullet) { Label::Part } else { label };
        if first && let Some(end) = framed_heading(&all[at..], rules) {
            at += end;
        }
        // "20' strength: ...": how long stands in front of what it is.
        let ahead = if first { length_ahead(&all[at..], rules) } else { None };
        at += ahead.map_or(0, |(_, end)| end);
        let before = at;
        // "Part 2 (15:00-27:00)"
        let bracketed = usize::from(label == Label::Part && all.get(at).is_some_and(|token| token.is('(')));
        let (mut window, behind) = if first {
            take_window(&all[at + bracketed..], lexicon, context.windows.contains(&place.line), in_hours)
        } else {
            (None, 0)
        };
        at += if window.is_some() { behind + bracketed } else { 0 };
        // "2-3 min rest" is how long to rest, unless the lines go on from one another.
        let rest = lexicon.class("rest").is_some_and(|class| {
            at < all.len() && lexicon.at(&all[at..], 0).iter().any(|(known, _)| *known == class)
        });
        let clocked = all[before..at].iter().any(|token| matches!(token.kind, Kind::Clock(_)));
        if window.is_some() && rest && !clocked && !context.windows.contains(&place.line) {
            (window, at) = (None, before);
        }
        let framed = window.is_some();
        let (heading, behind) =
            take_heading(&all[at..], rules, first, first && (place.blank_before || place.from_top == 0));
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
        let (heading, behind) = match heading {
            // On a day of skills the sections of the outline are practice of what they name.
            None if heads_list && context.skills => (Some(PartKind::Skill), 0),
            heading => (heading, behind),
        };
        let heading = heading.filter(|_| !(context.titled && place.from_top == 0 && all.len() > at + behind));
        let behind = if heading.is_none() { 0 } else { behind };
        let heading_end = at + if behind == 0 { name_of_section(&all[at..]) } else { behind };
        let heading = heading.map(|kind| (kind, text_of(&chars, &all[start..heading_end])));
        at += behind;
        let ahead = ahead.or_else(|| {
            heading.as_ref().and_then(|_| length_behind(&all[at..], rules)).inspect(|(_, end)| at += end)
        });
        if heading.is_some() {
            at += at_will(&all[at..]);
        }
        let mut label = label;
        if heading.is_some() && label == Label::None && at < all.len() {
            let (own, behind) = label::take(&all[at..], false, lexicon);
            if matches!(own, Label::Letter(..)) {
                label = own;
                at += behind;
            }
        }
        // A sentence that is told in clauses stays so to its end.
        spoken = is_prose(&all[at..], spoken);
        let end = sentence_end(&all[at..], &chars, lexicon, (spoken, label)) + at;
        // "Jerk (18)": how long it has is no number of it.
        let minutes =
            context.minutes.get(&place.line).filter(|_| first && end == all.len() && end >= at + MINUTES);
        // "Strength (0-25)": where it stands in the hour is nothing that is done.
        let placed =
            first && context.stretches.contains(&place.line) && end == all.len() && end >= at + STRETCH;
        let body = &all[at..end - if placed { STRETCH } else { minutes.map_or(0, |_| MINUTES) }];
        // What a piece has of the hour is no length of it.
        let piece = matches!(heading, Some((PartKind::Conditioning, _)));
        let ahead = ahead.or(minutes.filter(|_| !piece).map(|seconds| (*seconds, end)));
        if body.is_empty() && heading.is_none() && label == Label::None && end > at {
            at = end;
            continue;
        }
        let mut readings =
            read_sentence(body, catalogue, lexicon, weights, first && place.from_top < TITLE_LINES);
        // "8-10 rest", "8-10: rest and strip the bar to 60 %": the bar is made ready meanwhile.
        let rests = |said: &Said| matches!(said.say, Say::RestOpen | Say::RestAsWork(_) | Say::Rest { .. });
        let rests = readings[0].role != Role::Note
            && readings[0].says.first().is_some_and(rests)
            && (readings[0].says.iter().all(rests)
                || readings[0].items().next().is_none() && !readings[0].says(crate::day::is_clock));
        if let Some(seconds) = window.filter(|_| rests) {
            // "6-9 rest"
            readings[0].says.truncate(1);
            readings[0].says[0].say = Say::Rest { low_s: seconds, high_s: seconds, after: None };
        } else if let Some(seconds) = window {
            let said = Said { say: Say::Window(seconds), column: all[start].start + 1 };
            for reading in &mut readings {
                reading.says.insert(0, said.clone());
                if reading.role == Role::Note {
                    reading.role = Role::Aside;
                }
            }
        }
        if let Some((seconds, _)) = ahead {
            let said = Said { say: Say::Length(seconds), column: all[start].start + 1 };
            for reading in
                readings.iter_mut().filter(|reading| matches!(reading.role, Role::Work | Role::Aside))
            {
                reading.says.insert(0, said.clone());
            }
        }
        if let Some(place) = context.levels.get(&place.line).filter(|_| first) {
            offer_level(&mut readings, *place, weights);
        }
        // "² Work three, rest three": a footnote.
        let footnote =
            raw.trim_start().starts_with(['\u{b9}', '\u{b2}', '\u{b3}', '\u{2074}', '\u{2075}', '\u{2076}']);
        context.noted |= first && (footnote || says_note(body, lexicon));
        if context.noted {
            // What limits or scores a piece counts in passing too.
            let said = |reading: &&mut Reading| match reading.role {
                Role::Note => false,
                Role::Aside => reading
                    .says(|say| crate::day::is_clock(say) || footnote && matches!(say, Say::Rest { .. })),
                _ => true,
            };
            readings.iter_mut().filter(said).for_each(|reading| reading.cost += weights.of("work.said_note"));
        }
        if context.talk {
            for reading in readings.iter_mut().filter(|reading| reading.role != Role::Note) {
                reading.cost += weights.of("work.in_talk_block");
            }
        }
        if context.noted || context.talk {
            readings.sort_by(|a, b| a.cost.total_cmp(&b.cost));
        }
        // "No rower? Run 400 m. Before that we press: ..." is of the day again.
        let word = |n: usize| body.get(n).and_then(Token::word);
        if matches!((word(0), word(1)), (Some("before" | "after"), Some("that"))) {
            context.line = false;
        }
        if context.block || context.line || context.instead.contains_key(&place.line) {
            offer_instead(&mut readings, weights);
        }
        mark_strange_names(&mut readings, body, rules);
        let text = text_of(&chars, &all[start..end]);
        let reach = (all[start].start, all[end.max(start + 1) - 1].end - 1);
        let unknown = unknown_amount(body, &chars, rules);
        let of_nobody = |reading: &&mut Reading| {
            reading.items().next().is_none()
                && reading.says(|say| matches!(say, Say::SetsReps { .. } | Say::Max))
        };
        if unknown.is_some() {
            // Sets of what nobody knows are none of what stands in the next line.
            readings
                .iter_mut()
                .filter(of_nobody)
                .for_each(|reading| reading.cost += weights.of("work.of_nobody"));
            readings.sort_by(|a, b| a.cost.total_cmp(&b.cost));
        }
        let tabata = |text: &str| {
            text.to_lowercase().split(|c: char| !c.is_alphanumeric()).any(|word| word == "tabata")
        };
        if heading.as_ref().is_some_and(|(_, words)| tabata(words)) {
            // "Core tabata: ..." says the clock with the kind.
            let clock = Said { say: Say::Tabata, column: 1 };
            let work = readings.iter_mut().filter(|reading| reading.role == Role::Work);
            work.for_each(|reading| reading.says.insert(0, clock.clone()));
        }
        if let Some((column, _)) = &unknown {
            // "500 m zorbling" is no run.
            let metres = |said: &Said| matches!(&said.say, Say::Item(item) if item.movement.is_none() && item.unit == Some(Counts::Metres));
            for reading in &mut readings {
                let before = reading.says.iter().rposition(|said| said.column < *column);
                if let Some(at) = before.filter(|at| metres(&reading.says[*at])) {
                    reading.says.remove(at);
                }
            }
        }
        let mut unit = place.unit(first, label, heading, text, readings, reach);
        unit.unknown = unknown;
        unit.after_stop = std::mem::take(&mut after_stop);
        let asks = all.get(end).is_some_and(|token| token.is('?'));
        context.take_in(&unit, body, asks, rules);
        found.push(unit);
        first = false;
        at = end;
        // The sign that ends the sentence.
        while at < all.len() && matches!(all[at].kind, Kind::Sign('.' | '!' | '?' | ';' | '|')) {
            (spoken, after_stop) = (false, true);
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

/// "Extras, if you want: ...": words between a heading and its work that leave it to everybody, with the colon behind them.
fn at_will(tokens: &[Token]) -> usize {
    /// Most words of such a clause.
    const MOST_WORDS: usize = 6;
    if tokens.first().and_then(Token::word) != Some("if") {
        return 0;
    }
    let colon = tokens.iter().take(MOST_WORDS + 1).position(|token| token.is(':'));
    let at =
        colon.filter(|at| tokens[..*at].iter().all(|token| token.word().is_some()) && tokens.len() > at + 1);
    at.map_or(0, |at| at + 1)
}

fn text_of(chars: &[char], tokens: &[Token]) -> String {
    let (Some(first), Some(last)) = (tokens.first(), tokens.last()) else { return String::new() };
    chars[first.start..last.end].iter().collect()
}
