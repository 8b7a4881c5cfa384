//! Reads a coach's text into a session: candidates are weighed, and what is not clear is asked.
//!
//! 1. `tokens` cuts a line into numbers, words and signs; `lexicon` and `values` know what each can mean.
//! 2. `grammar` finds every phrase of a sentence by the rows of `data/grammar.csv`, and `cover` the best ways to explain the sentence with them.
//! 3. `unit` cuts lines into sentences and reads each in several roles: work, an aside, a note, a substitute, a level.
//! 4. `day` searches over where parts begin; `facts` and `lower` make a part of each run of sentences, `judge` says what is wrong with it.
//!
//! ```
//! use lantern_session::movement::Catalogue;
//! let reading = lantern_reader::read("5 rounds for time\n10 deadlifts @ 60 kg\ncap 12", Catalogue::standard());
//! let part = &reading.session.parts[0];
//! assert_eq!((part.rounds, part.cap_s), (Some(5), Some(720)));
//! assert!(reading.problems.is_empty());
//! ```

mod accounts;
mod aims;
pub mod complete;
pub mod corrections;
pub mod cover;
mod day;
mod days;
mod facts;
mod gloss;
pub mod grammar;
pub mod habits;
mod judge;
pub mod label;
pub mod lexicon;
mod lower;
pub mod plausible;
mod questions;
pub mod report;
pub mod say;
pub mod sections;
pub mod source;
pub mod spelling;
pub mod table;
pub mod tidy;
pub mod tokens;
mod told;
pub mod training;
pub mod unit;
pub mod values;
pub mod weights;

use std::sync::LazyLock;

use lantern_session::movement::Catalogue;
use lantern_session::units::clock_s;
use lantern_session::wire::part_json;
use lantern_session::{
    Assumption, Format, Node, Note, Part, PartKind, PercentOf, Problem, Session, Severity, check, works,
};
use serde_json::{Value, json};
use sha2::{Digest, Sha256};

pub use crate::days::Day;
pub use crate::gloss::{Gloss, Role as LineRole, Said};

use crate::corrections::{Correction, CorrectionKind, Placed};
use crate::day::{BEST, Divider, Division};
use crate::days::{day_json, days};
use crate::gloss::glosses;
use crate::habits::Habit;
use crate::questions::{contradiction, questions};
use crate::report::Question;
use crate::told::{goes_through, only_names, report_on, tell_what_is_lost};
use crate::unit::{Role, units};
use crate::weights::Weights;

/// Name and version of the JSON layout of a reading; `docs/reading.schema.json` describes it.
pub const READING_SCHEMA: &str = "honest-lantern/reading/1";
/// Most parts of a day; nobody's class has so many.
const MOST_PARTS: usize = 30;
/// Most movements of a part.
const MOST_WORKS: usize = 80;

/// Counts up when what texts are read as changes by the code; its data count by themselves.
const CODE: u32 = 2;

/// Which reader this is: two of the same name read any text the same way.
pub fn version() -> &'static str {
    static VERSION: LazyLock<String> = LazyLock::new(|| {
        let mut digest = Sha256::new();
        for data in [
            include_str!("../../../data/grammar.csv"),
            include_str!("../../../data/lexicon.csv"),
            include_str!("../../../data/reader_weights.csv"),
            include_str!("../../../data/plausible.csv"),
            include_str!("../../../data/movements.csv"),
        ] {
            digest.update(data);
        }
        let hex: String = digest.finalize().iter().take(4).map(|byte| format!("{byte:02x}")).collect();
        format!("{CODE}-{hex}")
    });
    &VERSION
}

/// A session as understood, with what was not.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Reading {
    /// What was understood.
    pub session: Session,
    /// What was not, or cannot be right.
    pub problems: Vec<Problem>,
    /// What was taken for granted.
    pub assumptions: Vec<Assumption>,
    /// Where another reading is about as likely, and would change the day.
    pub questions: Vec<Question>,
    /// What each line was understood as.
    pub lines: Vec<Gloss>,
    /// What a coach has put right, each at its place in this text.
    pub corrections: Vec<Correction>,
    /// Corrections whose lines are gone.
    pub dropped: Vec<Correction>,
    /// Other tracks of the day, apart from the class's.
    pub tracks: Vec<Track>,
    /// The days of a text that holds more than one; what else is read is the first.
    pub days: Vec<Day>,
}

/// Another track of the day: for competitors, beginners, another hour.
#[derive(Clone, Debug, PartialEq)]
pub struct Track {
    /// What it is called.
    pub name: String,
    /// Its first and last line, counted from 1.
    pub lines: (usize, usize),
    /// Its parts; their lines are those of the whole text.
    pub parts: Vec<Part>,
}

impl Reading {
    /// Whether every line was understood.
    pub fn is_complete(&self) -> bool {
        self.problems.iter().all(|problem| problem.severity == Severity::Warning)
    }

    /// Whether what a part says rests on a question that is still open.
    pub fn is_asked_about(&self, part: &Part) -> bool {
        self.questions
            .iter()
            .any(|question| question.line <= part.lines.1 && part.lines.0 <= question.last_line)
    }

    /// Whether there is anything to plan.
    pub fn is_usable(&self) -> bool {
        !self.session.parts.is_empty()
    }
}

/// The text with what stands at a place replaced by a suggestion; unchanged when it no longer stands there.
/// Lines and columns count from 1.
pub fn apply_suggestion(text: &str, line: usize, column: usize, found: &str, suggestion: &str) -> String {
    let mut lines: Vec<String> = text.split('\n').map(str::to_owned).collect();
    if let Some(old) = line.checked_sub(1).and_then(|n| lines.get_mut(n)) {
        let start = old.char_indices().nth(column.saturating_sub(1)).map_or(old.len(), |(at, _)| at);
        let stands =
            old.get(start..start + found.len()).is_some_and(|there| there.eq_ignore_ascii_case(found));
        if stands {
            old.replace_range(start..start + found.len(), suggestion);
        }
    }
    lines.join("\n")
}

/// Reads a session; never fails, keeps every line.
pub fn read(text: &str, catalogue: &Catalogue) -> Reading {
    read_corrected(text, catalogue, &[])
}

/// Reads a session as a coach has put it right; the reading names the corrections that stand.
pub fn read_corrected(text: &str, catalogue: &Catalogue, corrections: &[Correction]) -> Reading {
    read_in_hand(text, catalogue, corrections, &[])
}

/// Reads a session in the hand of a gym, as a coach has put it right; what its habits made of lines is said among what was taken for granted.
pub fn read_in_hand(
    text: &str,
    catalogue: &Catalogue,
    corrections: &[Correction],
    habits: &[Habit],
) -> Reading {
    let Placed { standing, dropped, problems } = corrections::place(text, corrections);
    let by_habit = habits::applied(habits, text, &standing);
    let all: Vec<Correction> =
        standing.iter().chain(by_habit.iter().map(|(_, made)| made)).cloned().collect();
    let reworded = corrections::reworded(text, &all);
    let days = days(&reworded, catalogue, &all);
    let class = days.first().map_or((1, usize::MAX), |day| day.lines);
    let within = |line: usize| class.0 <= line && line <= class.1;
    let day = sections::only(&reworded, within);
    let mut tracks = tracks(&standing, &day, catalogue);
    let set_apart: Vec<(usize, usize)> = sections::tracks(&day)
        .into_iter()
        .filter(|track| !standing.iter().any(|correction| correction.line == track.lines.0))
        .map(|track| {
            let kept = sections::only(&day, |line| (track.lines.0..=track.lines.1).contains(&line));
            let parts = read_class(&kept, catalogue, &[]).session.parts;
            tracks.push(Track { name: track.name, lines: track.lines, parts });
            track.lines
        })
        .collect();
    let apart = |line: usize| set_apart.iter().any(|(first, last)| (*first..=*last).contains(&line));
    let own = sections::only(&day, |line| !apart(line));
    let placed: Vec<Correction> = all.iter().filter(|correction| within(correction.line)).cloned().collect();
    let mut reading = read_class(&own, catalogue, &placed);
    let by_habit = by_habit.iter().filter(|(_, made)| within(made.line));
    reading.assumptions.extend(by_habit.map(|(habit, made)| {
        let message = format!("{}, as this gym writes", habit.in_words());
        Assumption { line: made.line, column: 1, message }
    }));
    reading.assumptions.sort_by_key(|assumption| (assumption.line, assumption.column));
    reading.problems.splice(0..0, problems);
    reading.dropped = dropped;
    reading.tracks = tracks;
    reading.days = days;
    if let Some(first) = reading.days.first_mut() {
        // Its tracks are apart.
        first.parts.clone_from(&reading.session.parts);
    }
    reading.corrections = standing;
    reading
}

/// Reads the lines of one day and one track; `corrections` stand at their places already.
fn read_class(text: &str, catalogue: &Catalogue, corrections: &[Correction]) -> Reading {
    let weights = Weights::standard();
    let mut units = units(text, catalogue, weights);
    corrections::constrain(&mut units, corrections, catalogue, weights);
    let units = units;
    let divider = Divider::new(&units, catalogue, weights);
    let divisions = divider.divide(BEST);
    let raw: Vec<&str> = text.split('\n').collect();
    let mut reading =
        Reading { questions: questions(&divisions, &units, &raw, weights), ..Reading::default() };
    let lines = raw.len();
    if lines > unit::MOST_LINES {
        reading.problems.push(Problem::too_many_lines(unit::MOST_LINES + 1, unit::MOST_LINES));
    }
    for (n, line) in text.split('\n').enumerate().take(unit::MOST_LINES) {
        if line.chars().count() > unit::LONGEST_LINE {
            reading.problems.push(Problem::too_long_line(n + 1, unit::LONGEST_LINE));
        }
        if n >= unit::MOST_LINES {
            reading.session.notes.push(Note { line: n + 1, text: line.trim().to_owned() });
        }
    }
    let Some(best) = divisions.into_iter().next() else { return reading };
    let taken = assemble(best, &divider, &raw, &mut reading);
    keep_the_rest(&mut reading, &raw);
    reading.session.notes.sort_by_key(|note| note.line);
    reading.session.notes.dedup();
    check(&reading.session, text, catalogue, &mut reading.problems);
    reading.problems.sort_by_key(|problem| (problem.line, problem.column));
    reading.assumptions.sort_by_key(|assumption| (assumption.line, assumption.column));
    reading.lines = glosses(text, &taken, &reading.session, &reading.problems, catalogue);
    reading
}

/// Where the talk begins that stands behind an empty line below the last work of a part.
fn tail(segment: &day::Segment, units: &[unit::Unit]) -> usize {
    let of = |n: usize| &units[segment.units.start + n];
    let works = |n: &usize| {
        of(*n).heading.is_some()
            || !matches!(of(*n).readings[segment.chosen[*n]].role, Role::Note | Role::Title)
    };
    let all = segment.units.len();
    let behind = (0..all).rev().find(works).map_or(0, |last| last + 1);
    (behind..all).find(|n| of(*n).blank_before).unwrap_or(all)
}

/// What a division of the day says; gives each sentence with the reading that it was taken in.
fn assemble<'u>(
    best: Division,
    divider: &Divider<'u>,
    raw: &[&str],
    reading: &mut Reading,
) -> Vec<(&'u unit::Unit, &'u unit::Reading)> {
    let (units, catalogue) = (divider.units, divider.catalogue);
    let mut taken: Vec<(&'u unit::Unit, &'u unit::Reading)> = Vec::new();
    let mut aims = Vec::new();
    let (mut accounts, mut idle) = (Vec::new(), Vec::new());
    for segment in best.segments {
        let made = segment.lowered.part.is_some();
        let tail = tail(&segment, units);
        for (n, at) in segment.units.clone().enumerate() {
            let unit = &units[at];
            let read = &unit.readings[segment.chosen[n]];
            let talks = made && segment.lowered.spoken_of.contains(&unit.line) && only_names(read);
            if !talks {
                taken.push((unit, read));
            }
            match read.role {
                // "Run the block clockwise" beside a run that is counted: kept as it stands.
                Role::Work if talks => reading.session.notes.extend(notes_of(unit, raw)),
                Role::Title if reading.session.title.is_none() => {
                    reading.session.title =
                        Some(unit.text.trim_matches(['#', '*', '=', ':', ' ']).to_owned());
                    // A title that is its whole line says it all; else every line of it is kept.
                    if Some(raw[unit.line - 1].trim()) != reading.session.title.as_deref() {
                        reading.session.notes.extend(
                            (unit.line..=unit.last_line)
                                .map(|line| Note { line, text: raw[line - 1].trim().to_owned() }),
                        );
                    }
                }
                Role::Work | Role::Substitute | Role::Level(_) if made => {}
                Role::Work if read.says(goes_through) => {
                    // "Second ladder: 8-7-6-5 of the same"
                    let message = "a scheme without work: what is done by it?".to_owned();
                    reading.problems.push(Problem::warning(unit.line, 1, message));
                    reading.session.notes.extend(notes_of(unit, raw));
                }
                _ => reading.session.notes.extend(notes_of(unit, raw)),
            }
            report_on(unit, read, made && n < tail, catalogue, reading);
            let idles = match read.role {
                Role::Title => false,
                // Above the first of the work a time is one of the day.
                Role::Note => made && n < tail && unit.line > 1,
                Role::Aside => !made || n < tail,
                Role::Work | Role::Substitute | Role::Level(_) => !made,
            };
            if idles {
                idle.push((unit, read));
            }
            if read.role != Role::Note {
                for (column, from, to) in &read.mended {
                    let message = format!("read `{from}` as `{to}`");
                    reading.assumptions.push(Assumption { line: unit.line, column: *column, message });
                }
            }
        }
        if let (Some(clash), Some(part)) = (&segment.lowered.clash, &segment.lowered.part) {
            let (problem, question) = contradiction(clash, part, raw);
            reading.problems.push(problem);
            reading.questions.insert(0, question);
        }
        if let (Some(seconds), Some(before)) =
            (segment.lowered.rest_before_s, reading.session.parts.last_mut())
        {
            before.then_rest_s = before.then_rest_s.or(Some(seconds));
        }
        // "Both: rest 1:30" below two lifts.
        if let Some(rest) = segment.lowered.part.as_ref().and_then(|part| part.rest)
            && segment.lowered.rest_of_all
        {
            let above = reading.session.parts.iter_mut().rev();
            above
                .take_while(|part| part.kind == PartKind::Strength && part.rest.is_none())
                .for_each(|part| part.rest = Some(rest));
        }
        if segment.lowered.of_no_lift {
            let mut prescribing = segment.units.clone().zip(&segment.chosen);
            let line =
                prescribing.find(|(at, n)| units[*at].readings[**n].says(crate::facts::is_prescription));
            let line = line.map_or(0, |(at, _)| units[at].line);
            let told = |problem: &Problem| problem.line == line;
            if line > 0 && !reading.problems.iter().any(told) {
                let message =
                    "sets of which lift? No lift is named beside them or above them: write its name in front";
                reading.problems.push(Problem::warning(line, 1, message.to_owned()));
            }
        }
        aims.extend(segment.lowered.aims.into_iter().map(|told| (reading.session.parts.len(), told)));
        reading.problems.extend(segment.lowered.problems);
        reading.assumptions.extend(segment.lowered.assumptions);
        reading.session.unit = reading.session.unit.or(segment.lowered.unit);
        if let Some(mut part) = segment.lowered.part {
            let first = units[segment.units.start].line;
            for doubt in judge::doubts(&part, catalogue) {
                reading.problems.push(Problem::warning(part.lines.0, 1, doubt.words(catalogue)));
            }
            let full = if reading.session.parts.len() >= MOST_PARTS {
                Some(Problem::too_many_parts(first, MOST_PARTS))
            } else if works(&part.tree).len() > MOST_WORKS {
                Some(Problem::too_many_movements(first, MOST_WORKS))
            } else {
                None
            };
            if let Some(problem) = full {
                // One message is enough; every line is kept.
                if !reading.problems.iter().any(|known| known.message == problem.message) {
                    reading.problems.push(problem);
                }
                let kept = segment.units.clone().flat_map(|at| notes_of(&units[at], raw));
                reading.session.notes.extend(kept);
                continue;
            }
            let worked = segment.units.clone().enumerate().filter(|(n, at)| {
                let unit = &units[*at];
                // What is told of a line above its work is told of the part; what is nobody's name is told of itself.
                let told = reading.problems.iter().any(|problem| problem.line == unit.line);
                unit.heading.is_some()
                    || told && *n == 0 && unit.unknown.is_none()
                    || !matches!(unit.readings[segment.chosen[*n]].role, Role::Note | Role::Title)
            });
            let lines: Vec<(usize, usize)> =
                worked.map(|(_, at)| (units[at].line, units[at].last_line)).collect();
            if let (Some(first), Some(last)) = (lines.first(), lines.last()) {
                part.lines = (first.0, last.1);
            }
            let said = segment.units.clone().enumerate().map(|(n, at)| {
                let unit = &units[at];
                (unit, &unit.readings[segment.chosen[n]])
            });
            accounts.push((reading.session.parts.len(), said.collect::<Vec<_>>()));
            reading.session.parts.push(part);
        }
    }
    // Behind the last part of the class nothing comes that a rest could lead to: what is done at home is done another time.
    let parts = &mut reading.session.parts;
    let last = parts.iter().rposition(|part| part.kind != PartKind::Home).unwrap_or(0);
    parts.iter_mut().skip(last).for_each(|part| part.then_rest_s = None);
    share_length(reading);
    shares_of_what_was_built(&mut reading.session.parts);
    aims::place(&aims, &mut reading.session.parts, &mut reading.assumptions);
    let hard = |part: &Part| matches!(part.kind, PartKind::Strength | PartKind::Conditioning);
    let leads_up = reading.session.parts.iter().skip(1).any(hard);
    if let Some(first) = reading.session.parts.first_mut().filter(|_| leads_up) {
        // What is done first and not against anything gets the class warm.
        let plain = first.heading.is_none()
            && first.format.is_none()
            && first.score.is_none()
            && first.duration_s.is_none()
            && first.rest.is_none();
        let unloaded = works(&first.tree).iter().all(|work| work.load.is_none());
        if first.kind == PartKind::Conditioning && plain && unloaded {
            first.kind = PartKind::Warmup;
        }
    }
    let lift = reading.session.parts.iter_mut().find(|part| part.kind == PartKind::Strength);
    if let Some(lift) = lift {
        lift.strength.week = lift.strength.week.or(divider.week());
    }
    tell_what_is_lost(&taken, &idle, accounts, catalogue, reading);
    taken
}

/// The tracks that corrections have named, each read by itself.
fn tracks(corrections: &[Correction], text: &str, catalogue: &Catalogue) -> Vec<Track> {
    let raw: Vec<&str> = text.split('\n').collect();
    let named = corrections.iter().filter(|correction| correction.kind == CorrectionKind::Track);
    named
        .map(|correction| {
            let (first, last) = (correction.line, correction.last_line);
            // Empty lines in front keep every line at its place.
            let text = "\n".repeat(first - 1) + &raw[first - 1..last].join("\n");
            let parts = read_class(&text, catalogue, &[]).session.parts;
            Track { name: correction.value.clone(), lines: (first, last), parts }
        })
        .collect()
}

/// Lines of which nothing was made (the stamp of a message without words, a frame) are notes: none is lost.
fn keep_the_rest(reading: &mut Reading, raw: &[&str]) {
    let mut kept = vec![false; raw.len() + 1];
    let spans = reading.session.parts.iter().map(|part| part.lines);
    let notes = reading.session.notes.iter().map(|note| (note.line, note.line));
    for (first, last) in spans.chain(notes) {
        kept[first.min(raw.len())..=last.min(raw.len())].fill(true);
    }
    let title = reading.session.title.clone();
    for (n, line) in raw.iter().enumerate() {
        let text = line.trim();
        if !kept[n + 1] && text.chars().any(char::is_alphanumeric) && title.as_deref() != Some(text) {
            reading.session.notes.push(Note { line: n + 1, text: text.to_owned() });
        }
    }
}

/// "60 % of the 3RM" below the 3RM that is built is of today's.
fn shares_of_what_was_built(parts: &mut [Part]) {
    for n in 1..parts.len() {
        let (before, rest) = parts.split_at_mut(n);
        let part = &mut rest[0];
        let Some(PercentOf::Rm(rm)) = part.strength.percent_of else { continue };
        let lifts = works(&part.tree);
        let built = |other: &Part| {
            other.format == Some(Format::BuildTo)
                && other.strength.rm == Some(rm)
                && works(&other.tree)
                    .iter()
                    .any(|work| lifts.iter().any(|lift| lift.movement == work.movement))
        };
        if before.iter().any(built) {
            part.strength.percent_of = Some(PercentOf::Today);
        }
    }
}

/// A piece without a length, of a kind that needs one, is as long as the piece before it: "each is 6 minutes" is said once.
fn share_length(reading: &mut Reading) {
    for n in 1..reading.session.parts.len() {
        let (before, rest) = reading.session.parts.split_at_mut(n);
        let (before, part) = (&before[n - 1], &mut rest[0]);
        let open = |part: &Part| part.format == Some(Format::Amrap) && part.kind == PartKind::Conditioning;
        let (true, true, None, Some(seconds)) =
            (open(before), open(part), part.duration_s, before.duration_s)
        else {
            continue;
        };
        part.duration_s = Some(seconds);
        set_open_length(&mut part.tree, seconds);
        let message = format!("as long as the piece before it: {}", clock_s(seconds));
        reading.assumptions.push(Assumption { line: part.lines.0, column: 1, message });
    }
}

/// Gives a length to the window that has none.
fn set_open_length(node: &mut Node, length: u32) {
    match node {
        Node::Within { seconds, .. } if *seconds == 0 => *seconds = length,
        Node::Together { of, .. } | Node::Interrupt { of, .. } | Node::Penalty { of, .. } => {
            set_open_length(of, length);
        }
        _ => {}
    }
}

/// A sentence kept as it stands; of one that goes over several lines, each line.
fn notes_of(unit: &unit::Unit, raw: &[&str]) -> Vec<Note> {
    if unit.line == unit.last_line {
        return vec![Note { line: unit.line, text: unit.text.clone() }];
    }
    (unit.line..=unit.last_line).map(|line| Note { line, text: raw[line - 1].trim().to_owned() }).collect()
}

/// The whole reading as JSON.
pub fn reading_json(reading: &Reading) -> Value {
    json!({
        "schema": READING_SCHEMA,
        "unit": reading.session.unit,
        "title": reading.session.title,
        "parts": reading.session.parts.iter().map(part_json).collect::<Vec<_>>(),
        "notes": reading.session.notes,
        "problems": reading.problems,
        "assumptions": reading.assumptions,
        "questions": reading.questions,
        "corrections": reading.corrections,
        "tracks": reading.tracks.iter().map(track_json).collect::<Vec<_>>(),
        "days": reading.days.iter().map(day_json).collect::<Vec<_>>(),
    })
}

fn track_json(track: &Track) -> Value {
    json!({
        "name": track.name,
        "lines": [track.lines.0, track.lines.1],
        "parts": track.parts.iter().map(part_json).collect::<Vec<_>>(),
    })
}

/// How the day could divide, best first: what each way costs, and what each of its parts does.
pub fn explain(text: &str, catalogue: &Catalogue) -> String {
    use std::fmt::Write as _;
    let weights = Weights::standard();
    let units = units(text, catalogue, weights);
    let mut told = String::new();
    let divider = Divider::new(&units, catalogue, weights);
    for division in divider.divide(BEST) {
        let _ = writeln!(told, "{:.2}", division.cost);
        for segment in division.segments {
            let lines = (units[segment.units.start].line, units[segment.units.end - 1].line);
            let part = segment.lowered.part.as_ref().map(|part| (part.kind, part.format));
            let _ = writeln!(
                told,
                "  lines {lines:?} {:.2}{:+.2} {part:?} chosen {:?}",
                segment.cost,
                divider.cut_cost(segment.units.start, weights),
                segment.chosen
            );
        }
    }
    told
}
