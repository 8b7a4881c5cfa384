//! Words that are a slip or two away from a word the reader knows. The slip is a sense beside the word as written, never instead of it.

use std::cell::OnceCell;
use std::collections::{BTreeMap, HashMap, HashSet};
use std::sync::LazyLock;

use lantern_session::movement::Catalogue;

use crate::lexicon::Lexicon;
use crate::tokens::{Kind, Token};

/// Shortest word that is looked at: shorter ones are slips of everything.
const SHORTEST: usize = 4;
/// A shorter word is only looked at as one that lacks a letter.
const SHORTEST_LACKING: usize = 3;
/// From this length on two slips are forgiven.
const TWO_SLIPS: usize = 8;
/// Most different words that are looked at in one text.
const MOST_WORDS: usize = 300;

static COMMON: LazyLock<HashSet<&'static str>> = LazyLock::new(|| {
    include_str!("../../../data/common_words.txt")
        .lines()
        .filter(|line| !line.starts_with('#'))
        .flat_map(str::split_whitespace)
        .collect()
});

/// English words: none of them is a slip of another, unless a number stands before it ("10 burps").
static ENGLISH: LazyLock<HashSet<&'static str>> = LazyLock::new(|| {
    include_str!("../../../data/english_words.txt")
        .lines()
        .filter(|line| !line.starts_with('#'))
        .flat_map(str::split_whitespace)
        .collect()
});

/// What short forms stand for: `data/short_words.csv`.
static SHORT: LazyLock<HashMap<&'static str, &'static str>> = LazyLock::new(|| {
    include_str!("../../../data/short_words.csv")
        .lines()
        .filter(|line| !line.starts_with('#'))
        .skip(1)
        .filter_map(|line| line.split_once(','))
        .collect()
});

/// Mends words against a catalogue's names and the lexicon.
pub struct Spelling<'c> {
    catalogue: &'c Catalogue,
    lexicon: &'static Lexicon,
    /// Every known word by its length; made for the first word that nobody knows.
    by_length: OnceCell<BTreeMap<usize, Vec<&'c str>>>,
    looked_at: BTreeMap<(String, bool), Option<String>>,
}

impl<'c> Spelling<'c> {
    /// For one text.
    pub fn new(catalogue: &'c Catalogue, lexicon: &'static Lexicon) -> Self {
        Self { catalogue, lexicon, by_length: OnceCell::new(), looked_at: BTreeMap::new() }
    }

    fn words_by_length(&self) -> &BTreeMap<usize, Vec<&'c str>> {
        self.by_length.get_or_init(|| {
            let mut by_length: BTreeMap<usize, Vec<&'c str>> = BTreeMap::new();
            let words = self.catalogue.words().chain(self.lexicon.words());
            let words = words.filter(|word| word.len() >= SHORTEST_LACKING);
            for word in words.filter(|word| word.chars().all(char::is_alphabetic)) {
                by_length.entry(word.len()).or_default().push(word);
            }
            for words in by_length.values_mut() {
                words.sort_unstable();
                words.dedup();
            }
            by_length
        })
    }

    /// Notes beside each unknown word the nearest known one.
    pub fn mend(&mut self, tokens: &mut [Token], lexicon: &Lexicon) {
        let mut counted = false;
        for token in tokens {
            if let Kind::Word { text, mended } = &mut token.kind {
                *mended = self.nearest(text, counted, lexicon);
            }
            counted = token.number().is_some();
        }
    }

    /// `counted` says whether a number stands before it.
    fn nearest(&mut self, word: &str, counted: bool, lexicon: &Lexicon) -> Option<String> {
        let known = || {
            let singular = word.strip_suffix('s').unwrap_or(word);
            COMMON.contains(word)
                || COMMON.contains(singular)
                || self.catalogue.uses_word(word)
                || lexicon.knows(word)
        };
        if let Some(word) = SHORT.get(word).filter(|_| !known()) {
            return Some((*word).to_owned());
        }
        if word.len() < SHORTEST_LACKING
            || word.len() > 20
            || !word.chars().all(char::is_alphabetic)
            || known()
        {
            return None;
        }
        if let Some(found) = self.looked_at.get(&(word.to_owned(), counted)) {
            return found.clone();
        }
        if self.looked_at.len() >= MOST_WORDS {
            return None;
        }
        let slips = if word.len() >= TWO_SLIPS { 2 } else { 1 };
        let first = word.chars().next();
        let near = self.words_by_length().range(word.len().saturating_sub(slips)..=word.len() + slips);
        let found = near
            .flat_map(|(_, words)| words)
            // Each slip changes the letters that occur by two at most; most words are out by that alone.
            .filter(|known| (letters_of(word) ^ letters_of(known)).count_ones() as usize <= 2 * slips)
            .filter_map(|known| {
                let distance = strsim::damerau_levenshtein(word, known);
                (distance <= slips).then(|| Slip {
                    distance,
                    other_letters: letters(word) != letters(known) && single(word) != single(known),
                    other_first: known.chars().next() != first,
                    rare: std::cmp::Reverse(self.catalogue.uses(known)),
                    known,
                })
            })
            .filter(|slip| slip.distance <= slips && !(slip.other_first && slip.distance > 1))
            .filter(|slip| match (word.len(), slip.known.len()) {
                // Of a short word the letters are there in another order, or one is missing.
                (..SHORTEST, long) => long > word.len() || !slip.other_letters && !slip.other_first,
                // Of four letters another letter makes another word: "stim" is no slip of "swim".
                (SHORTEST, SHORTEST) => counted || !slip.other_letters,
                // A short word is meant where a letter stands twice.
                (_, ..SHORTEST) => !slip.other_first && doubled(word),
                _ => true,
            })
            .min()
            .filter(|slip| {
                // "Alternates" is another form of a word that is known.
                let form = slip.known.starts_with(word) || word.starts_with(slip.known);
                !ENGLISH.contains(word) || form || counted && self.catalogue.uses_word(slip.known)
            })
            .map(|slip| slip.known.to_owned());
        self.looked_at.insert((word.to_owned(), counted), found.clone());
        found
    }
}

/// A known word and how far it is: two letters that changed places, and one that stands twice or should, are the likeliest slips.
#[derive(PartialEq, Eq, PartialOrd, Ord)]
struct Slip<'k> {
    distance: usize,
    other_letters: bool,
    other_first: bool,
    rare: std::cmp::Reverse<usize>,
    known: &'k str,
}

/// Which letters occur in a word, a bit each.
fn letters_of(word: &str) -> u32 {
    word.bytes().fold(0, |set, byte| set | 1 << (byte & 31))
}

fn letters(word: &str) -> Vec<char> {
    let mut letters: Vec<char> = word.chars().collect();
    letters.sort_unstable();
    letters
}

/// A word with every letter once where it stands twice.
fn single(word: &str) -> Vec<char> {
    let mut letters: Vec<char> = word.chars().collect();
    letters.dedup();
    letters
}

fn doubled(word: &str) -> bool {
    word.as_bytes().windows(2).any(|pair| pair[0] == pair[1])
}
