//! What counts, by the sentence that says so.

use lantern_session::Score;
use lantern_session::movement::Unit;

use super::{Reading, Role, Said};
use crate::lexicon::Lexicon;
use crate::say::Say;
use crate::tokens::Token;
use crate::values::Line;
use crate::weights::Weights;

/// A sentence that says what counts: "score: total reps", "your slowest round is your score".
pub(super) fn score_sentence(
    body: &[Token],
    found: &[Reading],
    lexicon: &Lexicon,
    line: &Line<'_>,
    weights: &Weights,
) -> Option<Reading> {
    let class = lexicon.class("score")?;
    let at = (0..body.len()).find(|at| line.class(*at, class).is_some())?;
    let words = |from: usize, to: usize| -> String {
        let words = body[from..to].iter().map(|token| token.word().unwrap_or(" "));
        words.collect::<Vec<_>>().join(" ")
    };
    // "Score is pull-ups": what is named counts.
    let named = (at + 1..body.len()).any(|n| !line.movements[n].is_empty());
    let numbers = body[at + 1..].iter().any(|token| token.number().is_some());
    let of_names = (named && !numbers).then_some(Score::Reps);
    // Behind the word, or, where nothing stands there, before it.
    let score = score_of(&words(at + 1, body.len())).or(of_names).or_else(|| score_of(&words(0, at)))?;
    let column = body[at].start + 1;
    let work = found.iter().find(|reading| reading.role == Role::Work)?;
    let behind = score_of(&words(at + 1, body.len())).or(of_names).is_some();
    let keeps = |said: &&Said| match said.say {
        Say::Score(_) | Say::ScoreWord => false,
        Say::Cap(_)
        | Say::Team(_)
        | Say::Sharing(_)
        | Say::Target { .. }
        | Say::OfPiece(_)
        | Say::RoundUnder(_) => true,
        _ => behind && said.column < column,
    };
    let mut says: Vec<Said> = work.says.iter().filter(keeps).cloned().collect();
    says.push(Said { say: Say::Score(score), column });
    let said = words(0, body.len());
    let names = |unit: &[&str]| unit.iter().any(|word| said.contains(word));
    let one_unit = score == Score::Reps && of_names.is_none() && !names(&["rep"]);
    let counted_in = match (names(&["cal"]), names(&["distance", "metre", "meter"])) {
        (true, false) if one_unit => Some(Unit::Calories),
        (false, true) if one_unit => Some(Unit::Metres),
        _ => None,
    };
    says.extend(counted_in.map(|unit| Said { say: Say::CountedIn(unit), column }));
    // "Score: total burpees" is of them alone.
    let of = (at + 1..body.len()).find_map(|n| line.movements[n].iter().max_by_key(|name| name.end));
    if let (Score::Reps, Some(name)) = (score, of) {
        says.push(Said { say: Say::Counted(name.id.clone()), column });
    }
    let cost = weights.of("score.each");
    Some(Reading { role: Role::Work, says, cost, ..Reading::note(0.0) })
}

/// What counts, by the words that say it.
fn score_of(text: &str) -> Option<Score> {
    let has = |words: &[&str]| words.iter().any(|word| text.contains(word));
    let less_rest = has(&[
        "working time",
        "work time",
        "minus",
        "take the",
        "off at the end",
        "without the rest",
        "without rest",
        "not count",
        "excluding",
        "sum of the times",
        "times added",
        "sum of your rounds",
        "sum of the rounds",
        "sum of all rounds",
    ]) || has(&["sum of", "added up", "add up", "added together"])
        && !has(&["rep", "cal", "met"])
        && !text.contains("sum of")
        || text.contains("sum of") && has(&["round", "interval", "set"]) && !text.contains("rep");
    if text.trim().is_empty() {
        None
    } else if has(&["slowest", "worst"]) {
        Some(Score::SlowestInterval)
    } else if has(&["lowest", "fewest"]) {
        Some(Score::Reps)
    } else if less_rest {
        Some(Score::TimeMinusRest)
    } else if has(&["none", "no score", "nothing"]) {
        Some(Score::None)
    } else if has(&["load", "weight", "heaviest", "kilos", "kg"]) {
        Some(Score::Load)
    } else if has(&[
        "round",
        "full minute",
        "full window",
        "full interval",
        "minutes completed",
        "completed minute",
        "last minute",
        "last full",
    ]) && !has(&["time of", "total time"])
    {
        Some(Score::RoundsReps)
    } else if has(&["time", "clock"]) {
        Some(Score::Time)
    } else if has(&["rep", "cal", "metre", "meter", "total", "sum", "distance", "max"]) {
        Some(Score::Reps)
    } else {
        None
    }
}
