//! Amounts of what is nobody's name.

use std::cell::LazyCell;

use super::{Reading, Rules};
use crate::grammar::{Grammar, Phrase};
use crate::say::Say;
use crate::tokens::{Kind, Token};
use crate::values::{Line, Nt};

/// "12 zorbles", "3 x 10 gruntwax": a number and words that are nobody's name, at the front of a sentence or behind a comma.
pub(super) fn unknown_amount(body: &[Token], chars: &[char], rules: &Rules<'_>) -> Option<(usize, String)> {
    /// Words of a name that nobody knows.
    const MOST_WORDS: usize = 4;
    let line = Line::new(body, rules.lexicon, rules.catalogue);
    let starts = (0..body.len())
        .filter(|at| *at == 0 || matches!(body[at - 1].kind, Kind::Sign(',' | '+' | ':' | '(')));
    for at in starts {
        let sets = sets_at(body, at);
        let dose = line.read(Nt::Dose, at).into_iter().map(|(_, end, _)| end).max();
        let Some(end) = sets.or(dose) else { continue };
        if body[at].number().is_none() {
            continue;
        }
        // "6 box hop-ons": a name of several words may be held together by hyphens.
        let hyphen = |n: usize| {
            let joins = |n: usize| body.get(n).is_some_and(|token| !token.spaced);
            n > end && body[n].is('-') && joins(n) && joins(n + 1)
        };
        let words: Vec<usize> = (end..body.len())
            .take_while(|n| body[*n].word().is_some() || hyphen(*n))
            .filter(|n| body[*n].word().is_some())
            .collect();
        let names = words.iter().any(|n| !line.movements[*n].is_empty());
        // "400 m hill lap": a lap of something.
        let lap = |n: usize| n > end && Some(n) == words.last().copied() && body[n].word() == Some("lap");
        // "12 dumbbell wombats": what it is done with stands in front of the name.
        let tool = |n: usize| {
            n == end && words.len() > 1 && body[n].word().is_some_and(|word| TOOLS.contains(&word))
        };
        let means = words.iter().any(|n| {
            !lap(*n) && !tool(*n) && line.classes[*n].iter().any(|(class, _)| !rules.is_free(*class))
        });
        let is_strange =
            |n: usize| line.classes[n].is_empty() && body[n].word().is_some_and(|word| word.len() > 2);
        let strange = words.iter().any(|n| is_strange(*n));
        // Nothing but a name stands behind sets.
        let means = means && sets.is_none();
        if !strange || names || means || words.len() > MOST_WORDS {
            continue;
        }
        // "3 sec lowering": a phrase knows the words, if nobody else.
        let phrases = Grammar::standard().phrases(&line);
        let whole =
            |phrase: &Phrase| phrase.start <= at && words.last().is_some_and(|last| phrase.end > *last);
        // "4 x 200 m, slightly faster": or says what stands behind the amount.
        let behind = |n: usize| {
            phrases.iter().any(|phrase| phrase.start >= end && (phrase.start..phrase.end).contains(&n))
        };
        let told = phrases.iter().any(whole) || words.iter().filter(|n| is_strange(**n)).all(|n| behind(*n));
        if !told {
            let (first, last) = (&body[words[0]], &body[*words.last()?]);
            return Some((first.start + 1, chars[first.start..last.end].iter().collect()));
        }
    }
    unknown_lift(body, chars, &line).or_else(|| unknown_to_the_end(body, chars, &line))
}

/// What a movement may be done with, as the first word of its name.
const TOOLS: [&str; 10] =
    ["dumbbell", "dumbbells", "db", "dbs", "kettlebell", "kb", "barbell", "bb", "sandbag", "cable"];

/// Marks what is named behind a word that is nobody's name, or that names another tool than the movement's own: "gruntwax press 3 x 5",
/// "cable good morning". It is read without the word, and the coach is told.
pub(super) fn mark_strange_names(readings: &mut [Reading], body: &[Token], rules: &Rules<'_>) {
    /// Tokens of the longest name.
    const LONGEST_NAME: usize = 8;
    let line = Line::new(body, rules.lexicon, rules.catalogue);
    // Most sentences have no such word: the phrases of the others alone are sought again.
    let told = LazyCell::new(|| {
        let mut told = vec![false; body.len()];
        for phrase in Grammar::standard().phrases(&line) {
            told[phrase.start..phrase.end].fill(true);
        }
        told
    });
    let strange = |at: usize| {
        let Some(word) = at.checked_sub(1).and_then(|before| body[before].word()) else { return false };
        let mut before = at.saturating_sub(LONGEST_NAME)..at;
        let named = before.any(|from| line.movements[from].iter().any(|name| name.end >= at));
        let first = at < 2 || body[at - 2].word().is_none();
        let unclassed = word.len() > 2 && line.classes[at - 1].is_empty();
        first && !named && (TOOLS.contains(&word) || unclassed && !told[at - 1])
    };
    for said in readings.iter_mut().flat_map(|reading| &mut reading.says) {
        let Say::Item(item) = &mut said.say else { continue };
        let at = body.binary_search_by_key(&said.column, |token| token.start + 1).ok();
        let named_first = |at: &usize| !line.movements[*at].is_empty();
        item.guessed |= item.movement.is_some() && at.filter(named_first).is_some_and(strange);
    }
}

/// "Gruntwax hold, as long as you can": words that are nobody's name in front of as much as one can.
fn unknown_to_the_end(body: &[Token], chars: &[char], line: &Line<'_>) -> Option<(usize, String)> {
    /// Words of such a name.
    const MOST_WORDS: usize = 4;
    let words = body.iter().take_while(|token| token.word().is_some()).count();
    let sign = body.get(words).is_some_and(|token| matches!(token.kind, Kind::Sign(',' | ':')));
    let most =
        |phrase: &Phrase| (words..=words + 1).contains(&phrase.start) && phrase.says.contains(&Say::Max);
    let strange = (0..words).any(|at| line.classes[at].is_empty());
    // "Seven minutes, as many rounds as you can" names nothing.
    let counts = (0..words).any(|at| !line.read(Nt::Dose, at).is_empty());
    let unnamed = !counts && (0..words).all(|at| line.movements[at].is_empty());
    let found = sign && (2..=MOST_WORDS).contains(&words) && strange && unnamed;
    (found && Grammar::standard().phrases(line).iter().any(most))
        .then(|| (body[0].start + 1, chars[body[0].start..body[words - 1].end].iter().collect()))
}

/// "2 x 10 hip turns", "3 x 6 90/90 hip turns": the first word behind sets of a number.
fn sets_at(body: &[Token], at: usize) -> Option<usize> {
    let number = |n: usize| body.get(n).is_some_and(|token| token.number().is_some());
    let by = body.get(at + 1).is_some_and(|token| token.is('*') || token.word() == Some("x"));
    if !(number(at) && by && number(at + 2)) {
        return None;
    }
    let figures = body[at + 3..].iter().take_while(|token| token.number().is_some() || token.is('/')).count();
    Some(at + 3 + figures)
}

/// "Gruntwax 3 x 10": words that are nobody's name in front of sets.
pub(super) fn unknown_lift(body: &[Token], chars: &[char], line: &Line<'_>) -> Option<(usize, String)> {
    /// Words of such a name.
    const MOST_WORDS: usize = 3;
    let words = body.iter().take_while(|token| token.word().is_some()).count();
    let by = |at: usize| body.get(at).is_some_and(|token| token.is('*') || token.word() == Some("x"));
    let number = |at: usize| body.get(at).is_some_and(|token| token.number().is_some());
    // "Gruntwax with a band 3 x 10": what it is done with stands behind the name.
    let with = (1..words).find(|at| matches!(body[*at].word(), Some("with" | "w")));
    let tool = |at: usize| body[at].word().is_some() || body[at].is('/');
    let behind = with.and_then(|with| (with..body.len()).find(|at| !tool(*at)));
    // "x" is a word to the tokens, and no part of the name.
    let name = (1..=words).find(|at| number(*at)).or(with).filter(|end| *end <= MOST_WORDS)?;
    let sets = (1..=words.min(MOST_WORDS)).find(|at| number(*at) && by(at + 1)).or(behind)?;
    let counted = number(sets) && by(sets + 1) && number(sets + 2);
    // "Leg extension": a word of another kind may stand in front of it.
    let unnamed = (0..name).all(|at| line.movements[at].is_empty())
        && line.classes[name - 1].is_empty()
        && body[name - 1].word().is_some_and(|word| word.len() > 2);
    let first = body.first()?;
    (counted && unnamed && first.end - first.start > 2)
        .then(|| (first.start + 1, chars[first.start..body[name - 1].end].iter().collect()))
}
