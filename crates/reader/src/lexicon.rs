//! Words and short phrases that mean something to the reader, by class; the rows stand in `data/lexicon.csv`.

use std::collections::{HashMap, HashSet};
use std::sync::LazyLock;

use crate::tokens::{Kind, Token};

/// A class of phrases, by its place in the file.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct Class(pub u16);

/// The phrases of all classes.
pub struct Lexicon {
    classes: HashMap<String, Class>,
    by_first: HashMap<String, Vec<(Vec<String>, Class)>>,
    all_words: HashSet<String>,
}

static STANDARD: LazyLock<Lexicon> =
    LazyLock::new(|| Lexicon::from_csv(include_str!("../../../data/lexicon.csv")));

impl Lexicon {
    /// The rows that ship with the program.
    pub fn standard() -> &'static Self {
        &STANDARD
    }

    fn from_csv(text: &str) -> Self {
        let mut lexicon =
            Self { classes: HashMap::new(), by_first: HashMap::new(), all_words: HashSet::new() };
        let mut reader = csv::ReaderBuilder::new().comment(Some(b'#')).from_reader(text.as_bytes());
        for row in reader.records().flatten() {
            let (Some(class), Some(phrases)) = (row.get(0), row.get(1)) else { continue };
            let next = Class(lexicon.classes.len() as u16);
            let class = *lexicon.classes.entry(class.to_owned()).or_insert(next);
            for phrase in phrases.split('|').map(str::trim).filter(|phrase| !phrase.is_empty()) {
                let words: Vec<String> = phrase.split(' ').map(str::to_owned).collect();
                lexicon.all_words.extend(words.iter().cloned());
                lexicon.by_first.entry(words[0].clone()).or_default().push((words, class));
            }
        }
        for phrases in lexicon.by_first.values_mut() {
            phrases.sort_by_key(|(words, class)| (std::cmp::Reverse(words.len()), *class));
        }
        lexicon
    }

    /// A class by its name; none when no row names it.
    pub fn class(&self, name: &str) -> Option<Class> {
        self.classes.get(name).copied()
    }

    /// Whether a word stands in any phrase.
    pub fn knows(&self, word: &str) -> bool {
        self.all_words.contains(word)
    }

    /// Every word that stands in a phrase.
    pub fn words(&self) -> impl Iterator<Item = &str> {
        self.by_first.values().flatten().flat_map(|(words, _)| words.iter().map(String::as_str))
    }

    /// The phrases that begin at a token, with the token behind each. Hyphens between the words of a phrase are passed over.
    pub fn at(&self, tokens: &[Token], from: usize) -> Vec<(Class, usize)> {
        let mut found: Vec<(Class, usize)> = Vec::new();
        let Some(Kind::Word { text, mended }) = tokens.get(from).map(|token| &token.kind) else {
            return found;
        };
        for first in std::iter::once(text).chain(mended) {
            for (words, class) in self.by_first.get(first).into_iter().flatten() {
                if let Some(end) = ends(words, tokens, from) {
                    found.push((*class, end));
                }
            }
        }
        found
    }
}

fn ends(words: &[String], tokens: &[Token], from: usize) -> Option<usize> {
    let mut at = from + 1;
    for word in &words[1..] {
        if tokens.get(at).is_some_and(|token| token.is('-')) {
            at += 1;
        }
        let token = tokens.get(at)?;
        let fits = match &token.kind {
            Kind::Word { text, mended } => text == word || mended.as_ref() == Some(word),
            Kind::Number(n) => word.parse::<f64>().ok() == Some(*n),
            Kind::Sign(c) => word.chars().eq([*c]),
            Kind::Clock(_) => false,
        };
        if !fits {
            return None;
        }
        at += 1;
    }
    Some(at)
}
