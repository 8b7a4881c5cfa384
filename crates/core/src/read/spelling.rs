//! Mending words that are one or two slips away from a word the reader knows: `dealifts`, `ronds`.

use std::collections::{BTreeSet, HashMap, HashSet};
use std::sync::LazyLock;

use super::heading::heading_words;
use super::rules::{KEYWORDS, rule_words};
use super::text::Plain;
use crate::movement::Catalogue;

/// Most different unknown words looked at in one text; beyond it, words stay as they are. Chosen so
/// that a text of nothing but unknown words is still answered within a second.
const MOST_WORDS: usize = 300;

static COMMON: LazyLock<HashSet<&'static str>> = LazyLock::new(|| {
    include_str!("../../../../data/common_words.txt")
        .lines()
        .filter(|line| !line.starts_with('#'))
        .flat_map(str::split_whitespace)
        .chain(rule_words())
        .chain(heading_words().filter(|word| word.len() >= 3))
        .collect()
});

static KEYWORD_SET: LazyLock<BTreeSet<&'static str>> =
    LazyLock::new(|| KEYWORDS.split_whitespace().collect());

/// Mends spelling against a catalogue's names and the reader's own keywords; remembers what it found.
pub(super) struct Spelling<'c> {
    catalogue: &'c Catalogue,
    words: Option<BTreeSet<&'c str>>,
    known: HashMap<String, Option<String>>,
}

/// A word that was read as another.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Mended {
    pub column: usize,
    pub from: String,
    pub to: String,
}

impl<'c> Spelling<'c> {
    pub fn new(catalogue: &'c Catalogue) -> Self {
        Self { catalogue, words: None, known: HashMap::new() }
    }

    /// Mends the words of a line in place.
    pub fn mend(&mut self, plain: &mut Plain) -> Vec<Mended> {
        let mut mended = Vec::new();
        let mut place = 0;
        while let Some((start, end)) = next_word(&plain.text, place) {
            let word = &plain.text[start..end];
            place = end;
            if let Some(better) = self.better(word) {
                mended.push(Mended {
                    column: plain.column(start),
                    from: word.to_owned(),
                    to: better.clone(),
                });
                plain.replace(start, end, &better);
                place = start + better.len();
            }
        }
        mended
    }

    fn better(&mut self, word: &str) -> Option<String> {
        if word.len() < 3 || word.len() > 20 || self.is_known(word) {
            return None;
        }
        if let Some(found) = self.known.get(word) {
            return found.clone();
        }
        if self.known.len() >= MOST_WORDS {
            return None;
        }
        let found = self.nearest(word);
        self.known.insert(word.to_owned(), found.clone());
        found
    }

    fn is_known(&self, word: &str) -> bool {
        let bare = word.strip_suffix("'s").unwrap_or(word);
        COMMON.contains(word)
            || KEYWORD_SET.contains(word)
            || self.catalogue.uses_word(word)
            || COMMON.contains(bare)
            || word.strip_suffix('s').is_some_and(|one| COMMON.contains(one) || KEYWORD_SET.contains(one))
    }

    /// The one nearest known word: one slip for short words, two for longer ones. The first letter is
    /// nearly always right in a typing slip, or swapped with the second.
    fn nearest(&mut self, word: &str) -> Option<String> {
        let words = self.words.get_or_insert_with(|| {
            let mut all: BTreeSet<&str> =
                self.catalogue.words().filter(|w| w.len() >= 3 && w.is_ascii()).collect();
            all.extend(KEYWORD_SET.iter());
            all
        });
        let mut letters = word.chars();
        let (first, second) = (letters.next()?, letters.next()?);
        let slips = if word.len() >= 6 { 2 } else { 1 };
        let mut best: Option<(usize, &str)> = None;
        let mut tied = false;
        for initial in [first, second] {
            for candidate in words.iter().filter(|w| w.starts_with(initial)) {
                if candidate.len().abs_diff(word.len()) > slips
                    || (word.len() < 5 && candidate.len() < word.len())
                {
                    continue;
                }
                if initial == second && !candidate[1..].starts_with(first) {
                    continue;
                }
                let distance = strsim::damerau_levenshtein(word, candidate);
                // Of three letters, only swapped ones are a slip of typing: "rnu".
                let other_word = word.len() == 3 && candidate.len() == 3 && !same_letters(word, candidate);
                if distance == 0 || distance > slips || other_word {
                    continue;
                }
                // Plural and singular of one word are no tie: the longer spelling is nearer to what was meant.
                match best {
                    Some((known, _)) if known < distance => {}
                    Some((known, other)) if known == distance && other != *candidate => {
                        tied = !(other.starts_with(*candidate) || candidate.starts_with(other));
                        if KEYWORD_SET.contains(candidate) && !KEYWORD_SET.contains(other) {
                            best = Some((distance, candidate));
                            tied = false;
                        }
                    }
                    _ => {
                        best = Some((distance, candidate));
                        tied = false;
                    }
                }
            }
        }
        best.filter(|_| !tied).map(|(_, found)| found.to_owned())
    }
}

fn same_letters(a: &str, b: &str) -> bool {
    let sorted = |text: &str| {
        let mut letters: Vec<char> = text.chars().collect();
        letters.sort_unstable();
        letters
    };
    sorted(a) == sorted(b)
}

/// The next run of letters at or after `from`, as byte places. Letters beside digits are units or
/// shorthand (`10kg`, `t2b`), not words.
fn next_word(text: &str, from: usize) -> Option<(usize, usize)> {
    let is_letter = |c: char| c.is_alphabetic() || c == '\'';
    let mut place = from;
    loop {
        let start = place + text[place..].find(is_letter)?;
        let end = start + text[start..].find(|c: char| !is_letter(c)).unwrap_or(text.len() - start);
        let beside_digit = text[..start].ends_with(|c: char| c.is_ascii_digit())
            || text[end..].starts_with(|c: char| c.is_ascii_digit());
        if !beside_digit {
            return Some((start, end));
        }
        place = end;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn mended(line: &str) -> String {
        let mut plain = Plain::new(line);
        Spelling::new(Catalogue::standard()).mend(&mut plain);
        plain.text
    }

    #[test]
    fn slips_of_typing_are_mended() {
        assert_eq!(mended("5 ronds for tme"), "5 rounds for time");
        assert_eq!(mended("8 dealifts 90/60kg"), "8 deadlifts 90/60kg");
        assert_eq!(mended("12 jumping lunegs"), "12 jumping lunges");
        assert_eq!(mended("10 arm cirlces, 10 air sqauts"), "10 arm circles, 10 air squats");
        assert_eq!(mended("wamup"), "warmup");
        assert_eq!(mended("condtioning"), "conditioning");
    }

    #[test]
    fn everyday_words_stay_as_they_are() {
        for line in ["bring a towel and your own tape please", "you went out too hot", "the bar gets lighter"]
        {
            assert_eq!(mended(line), line);
        }
    }
}
