//! Finding a movement by what a coach calls it: longest known name first, then close spellings.

use std::collections::{BTreeMap, HashMap};

use super::Movement;

/// A movement found at the start of some words, and how many of them its name took.
#[derive(Clone, Copy, Debug)]
pub struct MovementMatch<'a> {
    /// The movement.
    pub movement: &'a Movement,
    /// Words of the text that its name took.
    pub words: usize,
}

/// The words of a name as they are compared: lower case, hyphens as spaces, apostrophes kept, "&" as "and".
///
/// ```
/// # use lantern_session::movement::normal_words;
/// assert_eq!(normal_words("Farmer's Walk"), ["farmer's", "walk"]);
/// assert_eq!(normal_words("toes-to-bar"), ["toes", "to", "bar"]);
/// assert_eq!(normal_words("clean & jerk"), ["clean", "and", "jerk"]);
/// ```
pub fn normal_words(name: &str) -> Vec<String> {
    name.to_lowercase()
        .replace('\u{2019}', "'")
        .split(|c: char| !(c.is_alphanumeric() || c == '\'' || c == '&'))
        .filter(|word| !word.is_empty())
        .map(|word| if word == "&" { "and" } else { word }.to_owned())
        .collect()
}

/// All names, by their first word, longest name first.
#[derive(Clone, Debug, Default)]
pub(super) struct NameIndex {
    by_first_word: HashMap<String, Vec<Name>>,
    /// Sorted, so that suggestions do not depend on hashing.
    word_uses: BTreeMap<String, usize>,
}

#[derive(Clone, Debug)]
struct Name {
    words: Vec<String>,
    row: usize,
}

/// Share of the letters in place from which two names without a word in common are alike.
const LIKE: f64 = 0.6;

impl NameIndex {
    pub fn add(&mut self, name: &str, row: usize) {
        let words = normal_words(name);
        let Some(first) = words.first().cloned() else { return };
        for word in &words {
            *self.word_uses.entry(word.clone()).or_default() += 1;
        }
        let names = self.by_first_word.entry(first).or_default();
        if names.iter().any(|known| known.words == words) {
            return;
        }
        let place = names.partition_point(|known| known.words.len() >= words.len());
        names.insert(place, Name { words, row });
    }

    /// The row of the longest name that the words begin with, and how many of them it takes; its last word may stand in the plural.
    pub fn longest(&self, words: &[&str]) -> Option<(usize, usize)> {
        let first = words.first()?;
        let plural = |word: &str| word.strip_suffix('s').map(str::to_owned);
        let same = |name: &Name, words: &[&str]| {
            let (last, front) = name.words.split_last().expect("a name has a word");
            let found = words[front.len()];
            front.iter().zip(words).all(|(known, found)| known == found)
                && (last == found || plural(found).is_some_and(|one| one == *last))
        };
        let begin = |first: &str| self.by_first_word.get(first).into_iter().flatten();
        let named = |name: &&Name| name.words.len() <= words.len() && same(name, words);
        let known = begin(first).find(named).or_else(|| {
            let one = plural(first)?;
            begin(&one).find(|name| name.words.len() == 1)
        })?;
        Some((known.row, known.words.len()))
    }

    pub fn similar(&self, phrase: &str, limit: usize) -> Vec<usize> {
        let wanted = normal_words(phrase).join(" ");
        if wanted.is_empty() {
            return Vec::new();
        }
        let mut best: BTreeMap<usize, f64> = BTreeMap::new();
        for name in self.by_first_word.values().flatten() {
            let text = name.words.join(" ");
            // Sharing a whole word ("ring" something) is worth as much as close spelling.
            let shared = name.words.iter().filter(|word| wanted.split(' ').any(|w| w == *word)).count();
            let spelled = strsim::normalized_damerau_levenshtein(&wanted, &text);
            // Neither a word in common nor most of the letters: a guess would be nonsense.
            if shared == 0 && spelled < LIKE {
                continue;
            }
            let score = spelled + 0.4 * shared as f64 / name.words.len() as f64;
            let kept = best.entry(name.row).or_default();
            *kept = kept.max(score);
        }
        let mut ranked: Vec<(usize, f64)> = best.into_iter().filter(|&(_, score)| score > 0.45).collect();
        ranked.sort_by(|a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
        ranked.into_iter().take(limit).map(|(row, _)| row).collect()
    }

    pub fn nearly_knows(&self, phrase: &str) -> bool {
        let wanted = normal_words(phrase).join(" ");
        let names = self.by_first_word.values().flatten().map(|name| name.words.join(" "));
        names.into_iter().any(|name| {
            let slips = if wanted.len() >= 8 { 2 } else { 1 };
            name.len().abs_diff(wanted.len()) <= slips && strsim::damerau_levenshtein(&wanted, &name) <= slips
        })
    }

    pub fn uses_word(&self, word: &str) -> bool {
        self.word_uses.contains_key(word)
    }

    /// How many names use a word.
    pub fn uses(&self, word: &str) -> usize {
        self.word_uses.get(word).copied().unwrap_or_default()
    }

    pub fn words(&self) -> impl Iterator<Item = &str> {
        self.word_uses.keys().map(String::as_str)
    }
}

#[cfg(test)]
mod tests {
    use crate::movement::Catalogue;

    #[test]
    fn the_longest_name_wins_over_a_shorter_one_inside_it() {
        let found = Catalogue::standard().match_words(&["burpee", "box", "jump", "overs"]).unwrap();
        assert_eq!((found.movement.id.as_str(), found.words), ("burpee-box-jump-over", 4));
    }

    #[test]
    fn the_last_word_may_stand_in_the_plural_and_the_name_in_the_file_comes_first() {
        let id = |words: &[&str]| {
            Catalogue::standard().match_words(words).map(|found| found.movement.id.as_str().to_owned())
        };
        assert_eq!(id(&["turkish", "get", "ups"]), id(&["turkish", "get", "up"]));
        assert_eq!(id(&["l", "sits"]), id(&["l", "sit"]));
        assert_eq!(id(&["pres"]), None);
    }

    #[test]
    fn close_spellings_come_back_nearest_first() {
        let names: Vec<&str> = Catalogue::standard()
            .similar("muscle upp", 2)
            .iter()
            .map(|movement| movement.id.as_str())
            .collect();
        assert!(names.iter().any(|name| name.contains("muscle-up")), "{names:?}");
    }
}
