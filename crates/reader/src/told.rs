//! What is said to the coach about sentences: what nothing explains, what was kept as words though it looks like work, and what was read and then lost.

use lantern_session::movement::{Catalogue, Unit as Counts};
use lantern_session::{Assumption, Problem};

use crate::gloss::said_words;
use crate::label::Label;
use crate::say::{Item, Say};
use crate::tokens::{Token, tokens};
use crate::unit::{Reading as Read, Role, Said, Unit};
use crate::values::movements_at;
use crate::{Reading, accounts};

/// Most words of a line that says no more than that a part comes again.
const LONGEST_REPEAT: usize = 6;
const UNEXPLAINED: &str = "a number here is explained by nothing: is the line read as it is meant?";

/// What a sentence leaves open: an amount of something unknown, numbers that nothing explains. Whether it stands in a part decides how much of a
/// note is looked at.
pub(crate) fn report_on(unit: &Unit, read: &Read, made: bool, catalogue: &Catalogue, reading: &mut Reading) {
    /// Most suggestions for a movement that nobody knows.
    const MOST_SUGGESTIONS: usize = 3;
    /// Most problems of this kind: comparing a phrase with all names takes a millisecond or two.
    const MOST_PHRASES: usize = 40;
    for said in read.says.iter().filter(|_| read.role == Role::Work) {
        let Say::Item(Item { movement: Some(id), guessed: true, .. }) = &said.say else { continue };
        let name = catalogue.name(id).to_lowercase();
        let message = format!(
            "a word in front of `{name}` is nobody's name: read without it, though another movement may be meant"
        );
        reading.assumptions.push(Assumption { line: unit.line, column: said.column, message });
    }
    let talk = read.role == Role::Note && read.unknown_words > 3;
    if let Some((column, words)) = &unit.unknown
        && matches!(read.role, Role::Work | Role::Note | Role::Aside)
        && !talk
        && reading.problems.len() < MOST_PHRASES
    {
        let nearest = catalogue.similar(words, MOST_SUGGESTIONS);
        let nearest = nearest.iter().map(|movement| movement.name.to_lowercase()).collect();
        reading.problems.push(Problem::unknown_movement(unit.line, *column, words, nearest));
    } else if let Some(column) = read.numbers_left.first()
        && read.role == Role::Work
        && (read.items().next().is_some() || read.says(crate::facts::is_prescription))
    {
        reading.problems.push(Problem::warning(unit.line, *column, UNEXPLAINED.to_owned()));
    } else if let Some((column, word)) = read.words_left.first()
        && read.role == Role::Work
        && (read.items().next().is_some() || read.says(crate::facts::is_prescription))
    {
        let message =
            format!("`{word}` beside a number is explained by nothing: is the line read as it is meant?");
        reading.problems.push(Problem::warning(unit.line, *column, message));
    } else if matches!(read.role, Role::Note | Role::Title)
        && (begins_like_work(unit) || counts_something_strange(unit) || is_a_rung(unit))
        || matches!(read.role, Role::Note | Role::Title) && (passed_over(unit) || prescribes(unit))
        || matches!(read.role, Role::Note | Role::Aside)
            && (counts_something(unit, catalogue) || fills_a_stretch(unit, read))
        || read.role == Role::Aside && counts_unheard(unit, read)
    {
        let message = "kept as words though it begins like work: is nothing of it done?".to_owned();
        reading.problems.push(Problem::warning(unit.line, 1, message));
    } else if matches!(read.role, Role::Note | Role::Aside) && repeats_a_part(unit) {
        let message = "a part that comes again is kept as words: write out what is done".to_owned();
        reading.problems.push(Problem::warning(unit.line, 1, message));
    } else if (read.role == Role::Work || made && matches!(read.role, Role::Note | Role::Aside))
        && let Some(column) = number_left(unit)
    {
        reading.problems.push(Problem::warning(unit.line, column, UNEXPLAINED.to_owned()));
    } else if read.role == Role::Substitute && passed_over(unit) {
        let message =
            "taken for a swap though it reads like work: is it done instead of something?".to_owned();
        reading.problems.push(Problem::warning(unit.line, 1, message));
    }
}

/// Names movements, and says nothing else of them.
pub(crate) fn only_names(read: &Read) -> bool {
    read.says.iter().all(|said| matches!(&said.say, Say::Item(item) if !item.is_anchored()))
}

/// A scheme of repetitions that work goes through.
pub(crate) fn goes_through(say: &Say) -> bool {
    matches!(say, Say::Scheme { reps, .. } if reps.len() > 2)
}

/// "3 x what we did on Friday with 12 rows": a line that begins with a number and names an amount of something, whatever else it says.
fn begins_like_work(unit: &Unit) -> bool {
    let far = |unit: Option<Counts>| matches!(unit, Some(Counts::Calories | Counts::Metres));
    let counted = |item: &Item| item.movement.is_some() || item.is_anchored() && far(item.unit);
    let mut work = unit.readings.iter().filter(|read| read.role == Role::Work);
    let number = unit.text.starts_with(|c: char| c.is_ascii_digit());
    // A name in quotes is no work, whatever is in it.
    let named = unit.text.starts_with('"') && unit.text.ends_with('"');
    // "..., 4 sets of 8 presses as you like": the sets of something, wherever they stand.
    let sets = |read: &Read| {
        read.says(|say| matches!(say, Say::SetsReps { .. } | Say::Sets(_)))
            && read.items().any(|item| item.movement.is_some())
    };
    !named
        && work.any(|read| {
            let begins = read.says(goes_through) || number && read.items().any(counted);
            unit.starts_line && begins || number && sets(read)
        })
}

/// "18:00-22:00 max cal on something nobody knows": a stretch of the clock in which something is counted.
fn fills_a_stretch(unit: &Unit, read: &Read) -> bool {
    let counted = ["max", "cal", "cals", "calories"];
    let tokens = tokens(&unit.text, &|_| false);
    read.says(|say| matches!(say, Say::Window(_)))
        && read.items().all(|item| item.movement.is_none())
        && tokens.iter().filter_map(Token::word).any(|word| counted.contains(&word))
}

/// "Repeat A", "then the same as part 1": all that it says.
fn repeats_a_part(unit: &Unit) -> bool {
    let tokens = tokens(&unit.text, &|_| false);
    let words: Vec<&str> = tokens.iter().filter_map(Token::word).collect();
    let again = ["repeat", "same", "again"].iter().any(|again| words.contains(again));
    let last = tokens.last().is_some_and(|token| match token.word() {
        Some(word) => word.len() == 1 && word.is_ascii(),
        None => token.number().is_some(),
    });
    again && last && words.len() <= LONGEST_REPEAT
}

/// "- Finish: 100 sit-ups": read as work by itself, and as words or a swap only because it fits nothing around it.
fn passed_over(unit: &Unit) -> bool {
    let first = unit.readings.first().filter(|read| read.role == Role::Work);
    unit.starts_line
        && first.is_some_and(|read| {
            read.items().any(|item| item.movement.is_some() && item.is_anchored())
                && read.numbers_left.is_empty()
        })
}

/// "Press: go up over 5 sets of 2, the last one a 9": the sets of something that is named, in a sentence that was kept as words.
fn prescribes(unit: &Unit) -> bool {
    let sets = |say: &Say| matches!(say, Say::SetsReps { .. } | Say::SetAt { .. } | Say::Percent(_));
    let mut work = unit.readings.iter().filter(|read| read.role == Role::Work);
    work.any(|read| read.says(sets) && read.items().any(|item| item.movement.is_some()))
}

/// A long sentence, or one about those who do otherwise.
fn talks(unit: &Unit) -> bool {
    /// Words of a line that says how work is run.
    const MOST_WORDS: usize = 14;
    let first = unit.text.split(|c: char| !c.is_alphanumeric()).find(|word| !word.is_empty());
    let others = ["if", "when", "anyone", "anybody", "who", "whoever", "everyone", "everybody"];
    first.is_some_and(|word| others.contains(&word.to_lowercase().as_str()))
        || unit.text.split_whitespace().count() > MOST_WORDS
}

/// "4 goes through, no hurry:": the column of a number that no reading of a short sentence explains.
fn number_left(unit: &Unit) -> Option<usize> {
    /// Words of a line that says how work is run; talk is longer.
    const MOST_WORDS: usize = 9;
    let work = unit.readings.iter().filter(|read| read.role == Role::Work);
    let least = work.min_by_key(|read| read.counts_left).filter(|read| read.counts_left > 0)?;
    // "Minute 3 - 9" of one that rises: a number alone, which its ladder has.
    let rung =
        matches!(unit.label, Label::Minute(_)) && unit.readings.iter().all(|read| read.says.is_empty());
    let short = unit.text.split_whitespace().count() <= MOST_WORDS;
    least.numbers_left.first().copied().filter(|_| short && !rung)
}

/// "3 jerks, 3 burpees, 6/6, 9/9, ...": a line that begins with a number of something, of which no reading could make work.
fn counts_something(unit: &Unit, catalogue: &Catalogue) -> bool {
    let tokens = tokens(&unit.text, &|word| catalogue.uses_word(word));
    let counted = tokens.first().is_some_and(|token| token.number().is_some());
    let named = || movements_at(&tokens, 1, catalogue).iter().any(|name| !name.shorthand);
    // What is too long to be read has no reading but the one as words.
    unit.starts_line && unit.readings.len() > 1 && counted && tokens.len() > 1 && named()
}

/// "*with it* 6 tall box jumps": a short line that is no talk, with a movement and a number that was not understood.
fn counts_something_strange(unit: &Unit) -> bool {
    /// Words of a line that lists work; talk is longer.
    const MOST_WORDS: usize = 7;
    /// Words of a line that begins with the name: "Jerk - 13 min, then 2 more (no misses)".
    const MOST_WORDS_BEHIND_A_NAME: usize = 12;
    let named = |read: &Read| read.items().any(|item| item.movement.is_some() && !item.is_anchored());
    let mut work = unit.readings.iter().filter(|read| read.role == Role::Work);
    // "Good morning all, 6:10 is full": what heads something has a sign behind it.
    let name = unit.text.split(|c: char| c.is_ascii_digit()).next().unwrap_or_default();
    let heads = [" - ", " \u{2013} ", ": ", " ("].iter().any(|sign| name.contains(sign));
    let first =
        |read: &Read| heads && matches!(read.says.first(), Some(Said { say: Say::Item(_), column: 1 }));
    let words = unit.text.split_whitespace().count();
    unit.starts_line
        && words <= MOST_WORDS_BEHIND_A_NAME
        && work
            .any(|read| named(read) && !read.numbers_left.is_empty() && (words <= MOST_WORDS || first(read)))
}

/// "12 / 12" in a line of its own: as many of each thing above, which no reading made a rung of.
fn is_a_rung(unit: &Unit) -> bool {
    let mut numbers = unit.text.split('/').map(|number| number.trim().parse::<u32>());
    let Some(Ok(first)) = numbers.next() else { return false };
    let others: Vec<_> = numbers.collect();
    // Alone at the top it is a date.
    let below = unit.line > 1 && !unit.blank_before;
    unit.starts_line && below && !others.is_empty() && others.iter().all(|other| *other == Ok(first))
}

/// "Test: 4 x 4 min @ rate 24, 2 min between": a count of bouts that is not in what was made of it.
fn counts_unheard(unit: &Unit, read: &Read) -> bool {
    let counts = |say: &Say| matches!(say, Say::Rounds(2..) | Say::Bouts { .. });
    let unheard = |other: &Read| other.role == Role::Aside && other.says(counts);
    let only_rests =
        |said: &Said| matches!(said.say, Say::Rest { .. } | Say::RestOpen | Say::Intent(_) | Say::Each);
    unit.starts_line && read.says.iter().all(only_rests) && unit.readings.iter().any(unheard)
}

/// What the day that was taken does not hold of its sentences; `accounts` has those of each part, by its place, and `idle` those that are in
/// no part or were kept as words in one.
pub(crate) fn tell_what_is_lost(
    taken: &[(&Unit, &Read)],
    idle: &[(&Unit, &Read)],
    accounts: Vec<(usize, Vec<(&Unit, &Read)>)>,
    catalogue: &Catalogue,
    reading: &mut Reading,
) {
    let told = |reading: &Reading, line: usize| reading.problems.iter().any(|problem| problem.line == line);
    for (unit, read) in taken {
        let kept = matches!(read.role, Role::Note | Role::Aside);
        if kept && accounts::keeps_a_length(unit, &reading.session.parts) && !told(reading, unit.line) {
            let message = "so many minutes are kept as words: is nothing of it done?".to_owned();
            reading.problems.push(Problem::warning(unit.line, 1, message));
        }
    }
    let parts = &reading.session.parts;
    let known = accounts::known(parts);
    let talk_aside = idle.iter().filter(|(unit, _)| !talks(unit));
    let of_no_part =
        talk_aside.filter_map(|(unit, _)| Some((unit.line, accounts::in_no_part(unit, &known)?)));
    let of_a_part = accounts
        .into_iter()
        .flat_map(|(n, said)| accounts::unheard(said.into_iter(), &parts[n], Some(parts)));
    for (line, said) in of_no_part.chain(of_a_part) {
        if !reading.problems.iter().any(|problem| problem.line == line) {
            let words = said_words(&said.say, catalogue).unwrap_or_else(|| "something".to_owned());
            let message =
                format!("read here as `{words}`, and in nothing that is done: is it read as it is meant?");
            reading.problems.push(Problem::warning(line, said.column, message));
        }
    }
}
