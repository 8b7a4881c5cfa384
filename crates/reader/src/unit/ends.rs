//! Where a sentence ends: signs, words that lead on, and the clauses of what is spoken.

use crate::label::Label;
use crate::lexicon::Lexicon;
use crate::tokens::{Kind, Token};

/// Words behind which a full stop ends no sentence.
const ABBREVIATIONS: [&str; 16] = [
    "min", "mins", "sec", "secs", "alt", "approx", "max", "ea", "no", "vs", "incl", "cal", "wk", "st", "ca",
    "etc",
];

/// What is odd or even: "odd sets 3 cleans, even sets 12 cal row".
const COUNTED: [&str; 9] =
    ["min", "mins", "minute", "minutes", "set", "sets", "round", "rounds", "intervals"];

/// Where the sentence at the front of tokens ends; one that is told in `prose` ends with each of its clauses.
pub(super) fn sentence_end(
    tokens: &[Token],
    chars: &[char],
    lexicon: &Lexicon,
    (prose, label): (bool, Label),
) -> usize {
    let then = lexicon.class("then");
    let mut depth = 0;
    for (n, token) in tokens.iter().enumerate() {
        let next = tokens.get(n + 1);
        match token.kind {
            Kind::Sign('(') => depth += 1,
            Kind::Sign(')') => depth -= 1,
            Kind::Sign('!' | '?' | ';' | '|') => return n,
            // "1. ski 2. plank 3. rest": the next of a list that goes on in its line.
            Kind::Number(k) if n >= 1 && depth <= 0 && numbers_next(tokens, n, label, k) => return n,
            // "Superset: A1 row 3 x 10, A2 ring dip 3 x 8"
            Kind::Word { .. } if n >= 1 && depth <= 0 && is_lettered(tokens, n, label) => return n,
            Kind::Sign('/') if next.is_some_and(|next| next.is('/')) && token.spaced => return n,
            Kind::Sign('.') => {
                let free = next.is_none_or(|next| next.spaced);
                let upper = next
                    .is_none_or(|next| chars[next.start].is_uppercase() || chars[next.start].is_numeric());
                let short = n > 0 && tokens[n - 1].word().is_some_and(|word| ABBREVIATIONS.contains(&word));
                if free && (!short || upper && next.is_none_or(|next| chars[next.start].is_uppercase())) {
                    return n;
                }
            }
            Kind::Sign(',') if prose && depth <= 0 && n >= 3 && clause_ends(tokens, n) => return n + 1,
            Kind::Word { .. }
                if prose
                    && depth <= 0
                    && n >= 4
                    && token.word() == Some("and")
                    && begins_clause(tokens, n + 1) =>
            {
                return n;
            }
            Kind::Word { .. }
                if n >= 1
                    && depth <= 0
                    && matches!(token.word(), Some("odd" | "even" | "odds" | "evens"))
                    && (next.is_some_and(|next| next.number().is_some() || next.is(':') || next.is('='))
                        || next.and_then(Token::word).is_some_and(|word| COUNTED.contains(&word))
                            && tokens.get(n + 2).is_some_and(|next| {
                                next.number().is_some() || next.is(':') || next.is('=')
                            })) =>
            {
                return n;
            }
            // "min 1 = 12 cal ski, min 2 - 15 push-ups", "min 1 12 cal ski"; "min 0-15" is a window, "8 min 1 mile" a length.
            Kind::Word { .. }
                if n >= 1
                    && depth <= 0
                    && matches!(token.word(), Some("min" | "minute"))
                    && next.is_some_and(|next| next.number().is_some())
                    && tokens.get(n + 2).is_some_and(|sign| sign.is('=') || sign.is(':') || sign.is('-') && sign.spaced || sign.number().is_some() && tokens[n - 1].number().is_none())
                    // "minute 1 = 1 burpee, minute 2 = 2 burpees" tells how it rises.
                    && (n + 2..n + 4).all(|at| tokens.get(at).and_then(Token::number) != tokens[n + 1].number()) =>
            {
                return n;
            }
            Kind::Word { .. } if n >= 2 && depth <= 0 => {
                let leads =
                    then.is_some_and(|then| lexicon.at(tokens, n).iter().any(|(class, _)| *class == then));
                // "3-6-9, then back down" is one shape; "right, then left" are both arms.
                let turns = next
                    .and_then(Token::word)
                    .is_some_and(|word| matches!(word, "back" | "down" | "up" | "left" | "right"));
                let goes_on = tokens.len() > n + 2 && !turns;
                if leads && goes_on && token.word() != Some("next") {
                    // The comma or "and" before it stays behind.
                    return n;
                }
            }
            _ => {}
        }
    }
    tokens.len()
}

/// Whether the number at a token is the one behind the label of its sentence, with a sign of its own.
fn numbers_next(tokens: &[Token], n: usize, label: Label, k: f64) -> bool {
    let sign = tokens.get(n + 1).is_some_and(|token| (token.is('.') || token.is(')')) && !token.spaced);
    let behind = tokens.get(n + 2).is_some_and(|token| token.spaced);
    matches!(label, Label::Number(before) if f64::from(before + 1) == k) && sign && behind
}

/// Whether a letter with a number stands at a token that is one of a row in one line: "A1 ..., A2 ...".
fn is_lettered(tokens: &[Token], n: usize, label: Label) -> bool {
    let at = |n: usize| {
        let letter = tokens.get(n).and_then(Token::word).filter(|word| word.len() == 1)?.chars().next()?;
        let number = tokens.get(n + 1).filter(|number| !number.spaced).and_then(Token::number)?;
        // "Go A1 to A2" names them.
        let between = matches!(tokens.get(n + 2).and_then(Token::word), Some("to" | "and" | "then" | "or"));
        let work = tokens.get(n + 2).is_some_and(|token| token.spaced || token.is(':') || token.is(')'));
        let work = work && !between;
        (work && ('a'..='d').contains(&letter) && tokens[n].spaced).then_some((letter, number as u32))
    };
    let Some((letter, number)) = at(n) else { return false };
    let before = number > 1 && label == Label::Letter(letter, Some(number - 1));
    let below = || (n + 1..tokens.len()).any(|below| at(below) == Some((letter, 2)));
    before || number == 1 && below()
}

/// Words of a sentence from which on it is read clause by clause.
const LONG_SENTENCE: usize = 18;

/// Whether a long sentence, or what is left of one, is spoken rather than listed: words that people say to each other stand between
/// the numbers.
pub(super) fn is_prose(tokens: &[Token], left_of_one: bool) -> bool {
    const SPOKEN: [&str; 26] = [
        "we",
        "we're",
        "you",
        "you're",
        "it's",
        "it",
        "i",
        "is",
        "are",
        "going",
        "because",
        "when",
        "that's",
        "so",
        "just",
        "my",
        "your",
        "they",
        "there's",
        "we've",
        "i'd",
        "that",
        "who",
        "nobody",
        "everybody",
        "want",
    ];
    let end = tokens.iter().position(|token| token.is('.') || token.is('!')).unwrap_or(tokens.len());
    let spoken =
        tokens[..end].iter().filter(|token| token.word().is_some_and(|word| SPOKEN.contains(&word))).count();
    (left_of_one || end >= LONG_SENTENCE) && spoken >= 2
}

/// Whether a comma ends a clause: enough stands on either side, and nothing is taken back.
pub(super) fn clause_ends(tokens: &[Token], at: usize) -> bool {
    let word = |n: usize| tokens.get(n).and_then(Token::word);
    let takes_back = |n: usize| {
        matches!(
            word(n),
            Some("no" | "sorry" | "wait" | "make" | "rather" | "hang" | "actually" | "let's" | "say")
        )
    };
    let before = at >= 1 && takes_back(at - 1);
    // "it is all one bell, 20/14 kg"
    let number = |n: usize| tokens.get(n).is_some_and(|token| token.number().is_some());
    let pair = number(at + 1) && tokens[at + 2].is('/') && number(at + 3);
    tokens.len() > at + 3 && !takes_back(at + 1) && !before && !pair
}

/// "and I like ...", "and if you finish ..."
pub(super) fn begins_clause(tokens: &[Token], at: usize) -> bool {
    matches!(
        tokens.get(at).and_then(Token::word),
        Some("i" | "we" | "you" | "when" | "if" | "then" | "it's" | "we're" | "you're")
    )
}
