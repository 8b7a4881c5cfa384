//! The coach's hand: what corrections teach about how a gym writes, and where it applies in the next texts.
//!
//! A habit is tied to something that comes again: words in front of a colon, a mark in a line of its own, a word that stands for another. It makes
//! the correction that taught it, in every line that it fits; what a coach says of a line itself always outweighs it.

use serde::{Deserialize, Serialize};

use crate::corrections::{Correction, CorrectionKind};

/// Most habits of a gym.
pub const MOST_HABITS: usize = 200;
/// Most words that a habit is tied to.
const MOST_WORDS: usize = 4;
/// Longest words that a habit is tied to, in characters.
const LONGEST: usize = 40;
/// Most lines of a text that habits are looked for in.
const MOST_LINES: usize = 1_500;

/// A way of writing that a gym has been seen to have.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(default)]
pub struct Habit {
    /// What it makes of the lines that it fits.
    pub kind: CorrectionKind,
    /// What it is tied to: words in front of a colon, a mark, a word; in small letters.
    pub words: String,
    /// What it is instead: the kind of a heading, other words.
    pub value: String,
    /// Where it comes from: the day, and the line that was put right.
    pub origin: String,
}

impl Habit {
    /// What a correction of a text teaches, if anything: a line that begins with nothing that would come again teaches nothing.
    pub fn taught_by(correction: &Correction, text: &str, day: &str) -> Option<Self> {
        let lines: Vec<&str> = text.split('\n').collect();
        let line = lines.get(correction.line.checked_sub(1)?)?;
        let (words, value) = match correction.kind {
            CorrectionKind::Heading => (label(line, true)?, correction.value.clone()),
            CorrectionKind::Note | CorrectionKind::Substitute => (label(line, false)?, String::new()),
            CorrectionKind::Split => {
                let above = lines[..correction.line - 1].iter().rev().find(|line| !line.trim().is_empty())?;
                (mark(above)?, String::new())
            }
            CorrectionKind::Word => {
                let words = correction.words.trim().to_lowercase();
                let lettered = words.chars().any(char::is_alphabetic) && words.chars().count() >= 2;
                let other = !correction.value.trim().is_empty();
                (lettered && other && short(&words)).then(|| (words, correction.value.trim().to_owned()))?
            }
            CorrectionKind::Belongs | CorrectionKind::Track | CorrectionKind::Join | CorrectionKind::Part => {
                return None;
            }
        };
        let shown: String = line.trim().chars().take(LONGEST).collect();
        Some(Self { kind: correction.kind, words, value, origin: format!("{day}: {shown}") })
    }

    /// In words, for whoever wants to forget it.
    pub fn in_words(&self) -> String {
        let Self { words, value, .. } = self;
        match self.kind {
            CorrectionKind::Heading => format!("`{words}` heads {value}"),
            CorrectionKind::Note => format!("what begins with `{words}` is a note"),
            CorrectionKind::Substitute => format!("what begins with `{words}` may be done instead"),
            CorrectionKind::Split => format!("`{words}` in a line of its own parts two pieces"),
            CorrectionKind::Word => format!("`{words}` reads as `{value}`"),
            CorrectionKind::Belongs | CorrectionKind::Track | CorrectionKind::Join | CorrectionKind::Part => {
                String::new()
            }
        }
    }

    /// Whether both answer the same question about the same words.
    fn says_again(&self, other: &Self) -> bool {
        let of_line = |kind: CorrectionKind| {
            matches!(kind, CorrectionKind::Heading | CorrectionKind::Note | CorrectionKind::Substitute)
        };
        self.words == other.words && (self.kind == other.kind || of_line(self.kind) && of_line(other.kind))
    }

    /// The corrections that it makes of a line.
    fn fits(&self, lines: &[&str], at: usize) -> Vec<Correction> {
        let line = lines[at];
        let one = || vec![Correction::of_line(self.kind, at + 1, line, &self.value)];
        match self.kind {
            CorrectionKind::Heading if label(line, true).as_ref() == Some(&self.words) => one(),
            CorrectionKind::Note | CorrectionKind::Substitute
                if label(line, false).as_ref() == Some(&self.words) =>
            {
                one()
            }
            CorrectionKind::Split => {
                let above = lines[..at].iter().rev().find(|line| !line.trim().is_empty());
                let says = line.chars().any(char::is_alphanumeric);
                let parts = above.and_then(|above| mark(above)).as_ref() == Some(&self.words);
                if says && parts { one() } else { Vec::new() }
            }
            CorrectionKind::Word => whole_words(line, &self.words)
                .into_iter()
                .map(|found| {
                    let made = Correction::of_line(self.kind, at + 1, found, &self.value);
                    Correction { words: found.to_owned(), ..made }
                })
                .collect(),
            _ => Vec::new(),
        }
    }
}

/// Habits with what corrections of a text teach that it did not have `before`: the newer word on a matter stands, and what has been forgotten since is
/// not taught again by saving the text once more. Gives how many are new or changed.
pub fn learn(
    habits: &mut Vec<Habit>,
    corrections: &[Correction],
    before: &[Correction],
    text: &str,
    day: &str,
) -> usize {
    let mut learned = 0;
    // Wherever its line stands by now.
    let stood = |made: &Correction| {
        let said = |one: &Correction| (one.kind, one.words.clone(), one.value.clone());
        before.iter().any(|known| said(known) == said(made))
    };
    let new = corrections.iter().filter(|made| !stood(made));
    for habit in new.filter_map(|correction| Habit::taught_by(correction, text, day)) {
        let known = habits.iter().any(|known| {
            (known.kind, &known.words, &known.value) == (habit.kind, &habit.words, &habit.value)
        });
        if known || habits.len() >= MOST_HABITS {
            continue;
        }
        habits.retain(|known| !known.says_again(&habit));
        habits.push(habit);
        learned += 1;
    }
    learned
}

/// The corrections that habits make of a text, each with its habit; lines of which a coach has said something himself are left to him.
pub fn applied<'h>(habits: &'h [Habit], text: &str, own: &[Correction]) -> Vec<(&'h Habit, Correction)> {
    if habits.is_empty() {
        return Vec::new();
    }
    let lines: Vec<&str> = text.split('\n').take(MOST_LINES).collect();
    let told = |made: &Correction| {
        own.iter().any(|own| {
            own.line <= made.line
                && made.line <= own.last_line.max(own.line)
                && (own.kind == CorrectionKind::Word) == (made.kind == CorrectionKind::Word)
        })
    };
    let made = (0..lines.len())
        .flat_map(|at| habits.iter().flat_map(move |habit| std::iter::repeat(habit).zip([at])))
        .flat_map(|(habit, at)| habit.fits(&lines, at).into_iter().map(move |made| (habit, made)));
    made.filter(|(_, made)| !told(made)).collect()
}

fn short(words: &str) -> bool {
    words.chars().count() <= LONGEST && words.split_whitespace().count() <= MOST_WORDS
}

/// What a line begins with that would come again: a mark such as `//`, words in front of a colon or an arrow; with `alone` also all the words of a
/// line without numbers.
fn label(line: &str, alone: bool) -> Option<String> {
    let line = line.trim().to_lowercase();
    let marked: String = line.chars().take_while(|c| !c.is_alphanumeric() && !c.is_whitespace()).collect();
    let plain = line.trim_matches(|c: char| !c.is_alphanumeric());
    let end = plain.find([':', '>', '\u{2192}', '=']);
    let front = end.map(|end| plain[..end].trim().to_owned());
    let whole = (alone && !plain.chars().any(|c| c.is_ascii_digit())).then(|| plain.to_owned());
    let words = front.or(whole).filter(|words| {
        short(words) && words.chars().any(char::is_alphabetic) && !words.contains(['/', '(', ','])
    });
    // Two signs and more are a mark of somebody's own; one is a bullet, and says nothing.
    words.or_else(|| (!alone && marked.chars().count() >= 2).then_some(marked))
}

/// A line of signs alone.
fn mark(line: &str) -> Option<String> {
    let line = line.trim();
    let signs = !line.is_empty() && !line.chars().any(char::is_alphanumeric) && line.chars().count() <= 8;
    signs.then(|| line.to_owned())
}

/// Where a word stands in a line by itself, whatever its letters' case.
fn whole_words<'l>(line: &'l str, word: &str) -> Vec<&'l str> {
    let lower = line.to_lowercase();
    if lower.len() != line.len() {
        // Letters that change their length with their case: places would not agree.
        return Vec::new();
    }
    let bounded = |at: usize, end: usize| {
        let before = line[..at].chars().next_back().is_none_or(|c| !c.is_alphanumeric());
        before && line[end..].chars().next().is_none_or(|c| !c.is_alphanumeric())
    };
    let places = lower.match_indices(word).map(|(at, found)| (at, at + found.len()));
    places
        .filter(|(at, end)| line.is_char_boundary(*at) && line.is_char_boundary(*end) && bounded(*at, *end))
        .map(|(at, end)| &line[at..end])
        .collect()
}
