//! The day written plainly: an offer, made only where it reads as the same day.

use lantern_session::Part;
use lantern_session::movement::Catalogue;
use lantern_session::text::{part_text, rest_text};

use crate::gloss::Role;
use crate::habits::Habit;
use crate::{Reading, read_in_hand};

/// How often the whole day is read for an offer; each time a part less is in plain words. A long text takes its time each time.
const MOST_TRIES: usize = 8;

/// A text in the plain notation.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Tidy {
    /// The whole day.
    pub text: String,
    /// First and last lines of the parts that stand in it as the coach wrote them: the notation cannot say them.
    pub as_written: Vec<(usize, usize)>,
}

/// A part in the text to be offered.
struct Block<'a> {
    part: &'a Part,
    plain: bool,
}

/// The text in the plain notation, with every note; what was corrected or asked is said in it, so that it needs neither. Nothing when no part would
/// change, when the text holds more than one day or track, or when what is written would not read as the same day.
pub fn tidy(text: &str, reading: &Reading, catalogue: &Catalogue, habits: &[Habit]) -> Option<Tidy> {
    if !reading.days.is_empty() || !reading.tracks.is_empty() || reading.session.parts.is_empty() {
        return None;
    }
    let raw: Vec<&str> = text.split('\n').collect();
    let again = |text: &str| read_in_hand(text, catalogue, &[], habits);
    let mut blocks: Vec<Block<'_>> = reading
        .session
        .parts
        .iter()
        .map(|part| {
            let alone = again(&part_text(part, catalogue));
            let plain = is_quiet(&alone) && alone.session.parts.len() == 1;
            // A rest that leads on is told below the part.
            let apart = Part { then_rest_s: None, ..part.clone() };
            Block { part, plain: plain && says_the_same(&apart, &alone.session.parts[0]) }
        })
        .collect();
    // What reads well alone may read otherwise beside the rest: then it stays as it is written.
    for _ in 0..MOST_TRIES {
        if !blocks.iter().any(|block| block.plain) {
            return None;
        }
        let offered = written(&blocks, reading, &raw, catalogue);
        let read = again(&offered);
        let parts = &read.session.parts;
        let differs = |n: usize, part: &Part| parts.get(n).is_none_or(|found| !says_the_same(part, found));
        let first = blocks.iter().enumerate().position(|(n, block)| differs(n, block.part));
        let nothing_lost = parts.len() == blocks.len() && read.questions.len() <= reading.questions.len();
        match first {
            None if nothing_lost => {
                if offered.trim() == text.trim() {
                    return None;
                }
                let own = blocks.iter().filter(|block| !block.plain);
                return Some(Tidy { text: offered, as_written: own.map(|block| block.part.lines).collect() });
            }
            at => {
                let upto = at.unwrap_or(blocks.len() - 1);
                // The one before may have swallowed it.
                let last = blocks[..=upto].iter().rposition(|block| block.plain);
                let last = last.or_else(|| blocks.iter().position(|block| block.plain))?;
                blocks[last].plain = false;
            }
        }
    }
    None
}

/// "Note: ..." in one line.
fn note_line(text: &str) -> String {
    let text = text.trim().trim_start_matches(['-', '*', '#', '>', ' ']);
    if text.to_lowercase().starts_with("note:") { format!("{text}\n") } else { format!("Note: {text}\n") }
}

/// Each part with the notes that follow it; those above the first stand on their own.
fn written(blocks: &[Block<'_>], reading: &Reading, raw: &[&str], catalogue: &Catalogue) -> String {
    let title = reading.session.title.as_deref();
    let notes = |from: usize, before: usize| {
        let mut notes: Vec<(usize, &str)> = Vec::new();
        for note in reading.session.notes.iter().filter(|note| (from..before).contains(&note.line)) {
            // A line that is nothing else stays one.
            let whole = reading.lines.get(note.line - 1).is_some_and(|gloss| gloss.role == Role::Note);
            let words = if whole { raw[note.line - 1] } else { &note.text };
            if Some(words) != title && !(whole && notes.last().is_some_and(|(line, _)| *line == note.line)) {
                notes.push((note.line, words));
            }
        }
        notes.into_iter().map(|(_, words)| note_line(words)).collect::<String>()
    };
    let first = blocks.first().map_or(usize::MAX, |block| block.part.lines.0);
    let mut paragraphs = vec![title.map(str::to_owned).unwrap_or_default(), notes(0, first)];
    for (n, block) in blocks.iter().enumerate() {
        let next = blocks.get(n + 1).map_or(usize::MAX, |next| next.part.lines.0);
        let (first, last) = block.part.lines;
        paragraphs.push(if block.plain {
            let rest = rest_text(block.part).map(|rest| format!("\n{rest}\n"));
            part_text(block.part, catalogue) + &rest.unwrap_or_default() + &notes(first, next)
        } else {
            raw[first - 1..last].join("\n").trim_end().to_owned() + "\n" + &notes(last + 1, next)
        });
    }
    let paragraphs: Vec<&str> = paragraphs.iter().map(|text| text.trim_end()).collect();
    let said: Vec<&str> = paragraphs.into_iter().filter(|text| !text.is_empty()).collect();
    said.join("\n\n") + "\n"
}

fn is_quiet(reading: &Reading) -> bool {
    reading.problems.is_empty() && reading.questions.is_empty()
}

/// Whether two parts are the same but for where and in which words they are written.
fn says_the_same(one: &Part, other: &Part) -> bool {
    let meant = |part: &Part| {
        let mut part = part.clone();
        part.lines = (0, 0);
        part.heading = None;
        if part.format.is_none() {
            // The tree says them.
            part.rounds = None;
            part.strength.sets = None;
        }
        for alternative in &mut part.alternatives {
            alternative.line = 0;
        }
        part
    };
    meant(one) == meant(other)
}
