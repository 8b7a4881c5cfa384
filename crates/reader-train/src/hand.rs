//! A gym that writes in a hand of its own, drawn by a seed, and how soon the reader knows it.

use lantern_reader::corrections::{Correction, CorrectionKind};
use lantern_reader::habits::{Habit, learn};
use lantern_reader::{read, read_in_hand, reading_json};
use lantern_session::movement::Catalogue;
use rand::seq::{IndexedRandom, SliceRandom};
use rand::{RngExt, SeedableRng};
use rand_pcg::Pcg64Mcg;
use serde_json::Value;

use crate::labelled::Labelled;
use crate::score::{Tally, score};

/// Headings that a hand has a word of its own for, and what they head.
const HEADINGS: [(&[&str], &str); 4] = [
    (&["warm-up", "warm up", "warmup"], "warmup"),
    (&["strength"], "strength"),
    (&["metcon", "conditioning"], "conditioning"),
    (&["accessory", "accessories"], "accessory"),
];
/// Movements that it may have a word of its own for.
const MOVEMENTS: [&str; 14] = [
    "burpees",
    "push-ups",
    "kettlebell swings",
    "box jumps",
    "sit-ups",
    "air squats",
    "wall balls",
    "pull-ups",
    "lunges",
    "deadlifts",
    "thrusters",
    "double unders",
    "toes to bar",
    "ring rows",
];
/// How many of them it has.
const WORDS_OF_ITS_OWN: usize = 6;
/// What it says about the day, behind a word of its own.
const TALK: [&str; 2] =
    ["12 on the list today, 3 of them new, bring 2 towels", "20 spots left for the 4 o'clock on the 15th"];
/// Texts from which what is still asked is counted, from 0.
const SETTLED: usize = 4;

/// A dozen habits, none of them known to anybody else.
#[derive(Debug)]
pub struct Hand {
    headings: Vec<(&'static [&'static str], String, &'static str)>,
    words: Vec<(&'static str, String)>,
    talk: Vec<String>,
}

impl Hand {
    /// The hand of a seed.
    pub fn drawn(seed: u64) -> Self {
        let mut dice = Pcg64Mcg::seed_from_u64(seed);
        let mut words = MOVEMENTS.to_vec();
        words.shuffle(&mut dice);
        words.truncate(WORDS_OF_ITS_OWN);
        Self {
            headings: HEADINGS.iter().map(|(old, kind)| (*old, title(&strange(&mut dice)), *kind)).collect(),
            words: words.into_iter().map(|old| (old, strange(&mut dice) + "s")).collect(),
            talk: TALK.iter().map(|words| format!("{}: {words}", title(&strange(&mut dice)))).collect(),
        }
    }

    /// A text in this hand, with the corrections that its coach would make in it.
    pub fn rewritten(&self, text: &str) -> (String, Vec<Correction>) {
        let mut lines: Vec<String> = Vec::new();
        let mut corrections = Vec::new();
        let mut right = |kind, line: usize, words: &str, value: &str| {
            corrections.push(Correction::of_line(kind, line, words, value));
        };
        for line in text.split('\n') {
            let mut line = line.to_owned();
            let plain = line.trim_matches(|c: char| !c.is_alphanumeric()).to_lowercase();
            let number = lines.len() + 1;
            if let Some((_, new, kind)) = self.headings.iter().find(|(old, ..)| old.contains(&&*plain)) {
                line.clone_from(new);
                right(CorrectionKind::Heading, number, &line, kind);
            }
            for (old, new) in &self.words {
                let lower = line.to_lowercase();
                if lower.len() == line.len()
                    && let Some(at) = lower.find(old)
                {
                    line.replace_range(at..at + old.len(), new);
                    right(CorrectionKind::Word, number, new, old);
                }
            }
            lines.push(line);
        }
        lines.push(String::new());
        for talk in &self.talk {
            right(CorrectionKind::Note, lines.len() + 1, talk, "");
            lines.push(talk.clone());
        }
        (lines.join("\n"), corrections)
    }

    /// Ten texts in which it shows, and their corrections.
    pub fn texts<'t>(&self, all: &'t [Labelled]) -> Vec<(&'t Labelled, String, Vec<Correction>)> {
        let written = all.iter().map(|text| {
            let (written, corrections) = self.rewritten(&text.text);
            (text, written, corrections)
        });
        let shows = |(_, _, corrections): &(&Labelled, String, Vec<Correction>)| {
            let of = |kind| corrections.iter().filter(|correction| correction.kind == kind).count();
            of(CorrectionKind::Heading) > 0 && of(CorrectionKind::Word) > 0
        };
        written.filter(shows).take(10).collect()
    }
}

/// What ten texts in a hand came to.
#[derive(Debug, Default)]
pub struct Trial {
    /// Questions and problems from the fifth text on, by a reader that knows nothing of the hand.
    pub raised_by_a_stranger: usize,
    /// The same by one that has learned from the texts before.
    pub raised: usize,
    /// How those texts were read by a stranger.
    pub strange: Tally,
    /// How they were read in the hand.
    pub known: Tally,
    /// What was learned.
    pub habits: Vec<Habit>,
}

/// Ten texts, one after the other, each put right by its coach before the next.
pub fn trial(hand: &Hand, all: &[Labelled]) -> Trial {
    let mut trial = Trial::default();
    for (n, (text, written, corrections)) in hand.texts(all).into_iter().enumerate() {
        if n >= SETTLED {
            let (without, with) = (reading(&written, &[]), reading(&written, &trial.habits));
            score(&without, &text.want, &mut trial.strange);
            score(&with, &text.want, &mut trial.known);
            trial.raised_by_a_stranger += raised(&without);
            trial.raised += raised(&with);
        }
        learn(&mut trial.habits, &corrections, &[], &written, "some day");
    }
    trial
}

/// Names of another gym's texts that a hand makes worse.
pub fn spoiled(habits: &[Habit], others: &[Labelled]) -> Vec<String> {
    let worse = |text: &&Labelled| {
        let (mut plain, mut in_hand) = (Tally::default(), Tally::default());
        score(&reading(&text.text, &[]), &text.want, &mut plain);
        score(&reading(&text.text, habits), &text.want, &mut in_hand);
        (in_hand.held, in_hand.extra) != (plain.held, plain.extra)
    };
    others.iter().filter(worse).map(|text| text.name.clone()).collect()
}

fn reading(text: &str, habits: &[Habit]) -> Value {
    reading_json(&read_in_hand(text, Catalogue::standard(), &[], habits))
}

fn raised(reading: &Value) -> usize {
    ["questions", "problems"].iter().filter_map(|key| reading[*key].as_array()).map(Vec::len).sum()
}

/// A word that nobody knows: as a movement it is asked about.
fn strange(dice: &mut Pcg64Mcg) -> String {
    const FIRST: [&str; 8] = ["zo", "quin", "va", "pli", "gru", "mor", "fen", "tazz"];
    const THEN: [&str; 8] = ["bel", "dor", "mik", "lun", "vash", "rop", "zek", "tum"];
    const LAST: [&str; 6] = ["er", "ing", "o", "an", "le", "ix"];
    loop {
        let mut word = String::new();
        for syllables in [&FIRST[..], &THEN[..], &LAST[..]] {
            word.push_str(syllables.choose(dice).expect("there are some"));
        }
        if dice.random_range(0..2) == 0 {
            word = word.replacen("e", "ee", 1);
        }
        let text = format!("For time\n10 {word}\n12 burpees");
        let unknown = read(&text, Catalogue::standard()).problems.iter().any(|problem| problem.found == word);
        if unknown {
            return word;
        }
    }
}

fn title(word: &str) -> String {
    word[..1].to_uppercase() + &word[1..]
}
