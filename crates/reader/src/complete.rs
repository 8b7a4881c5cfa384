//! What a line that is being typed could go on with: movements of the catalogue, and the usual clauses around them.

use std::sync::LazyLock;

use lantern_session::movement::{Catalogue, Movement, normal_words};
use serde::Deserialize;

/// Most that is offered at once.
const MOST_OFFERS: usize = 8;
/// Letters from which something is offered.
const FEWEST_LETTERS: usize = 2;
/// Most words of a movement's name that are looked back for.
const MOST_WORDS: usize = 5;

/// Something to go on with.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Offer {
    /// The end of the line that it takes the place of.
    pub typed: String,
    /// What would stand there.
    pub text: String,
    /// What it means, or what kind of movement it is.
    pub meaning: String,
}

/// Where a clause stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Place {
    /// It opens a line.
    Start,
    /// Behind a number that opens a line.
    Number,
    /// Behind something else.
    After,
}

/// A clause as it can be completed; a row of `data/clauses.csv`.
#[derive(Clone, Debug, Deserialize)]
pub struct Clause {
    /// Its words.
    pub clause: String,
    /// Where it stands.
    pub place: Place,
    /// What it means.
    pub meaning: String,
    /// A text that holds it; a stroke is the end of a line.
    pub example: String,
}

impl Clause {
    /// The line of its example in which it stands.
    pub fn example_line(&self) -> String {
        let mut lines = self.example.split('|');
        lines.rfind(|line| line.contains(&self.clause)).unwrap_or_default().to_owned()
    }
}

static CLAUSES: LazyLock<Vec<Clause>> = LazyLock::new(|| {
    let text = include_str!("../../../data/clauses.csv");
    let mut rows = csv::ReaderBuilder::new().comment(Some(b'#')).from_reader(text.as_bytes());
    rows.deserialize().collect::<Result<_, _>>().expect("data/clauses.csv is read by a test")
});

/// All clauses, in the order of the file.
pub fn clauses() -> &'static [Clause] {
    &CLAUSES
}

/// Ways to go on with a line up to the caret, the likeliest first; nothing in the middle of a word that is whole already.
pub fn complete(line: &str, catalogue: &Catalogue) -> Vec<Offer> {
    let line = line.trim_start();
    let mut offers: Vec<(u32, Offer)> = clauses().iter().filter_map(|clause| offered(clause, line)).collect();
    let starts = starts(line);
    for movement in catalogue.iter() {
        let best = starts.iter().filter_map(|at| Some((rank(movement, &line[*at..])?, &line[*at..])));
        if let Some((rank, typed)) = best.min_by_key(|(rank, _)| *rank) {
            let text = movement.name.to_lowercase();
            let meaning = movement.pattern.name().to_owned();
            offers.push((rank, Offer { typed: typed.to_owned(), text, meaning }));
        }
    }
    // What is typed in full needs no offer, and of what is begun the longest stretch counts: "back sq" is no clean from the squat.
    let words = |offer: &Offer| normal_words(&offer.typed).len();
    let whole = |offer: &Offer| {
        let (typed, text) = (normal_words(&offer.typed).join(" "), normal_words(&offer.text).join(" "));
        typed.strip_prefix(&text).is_some_and(|rest| matches!(rest, "" | "s" | "es"))
    };
    let most = offers.iter().map(|(_, offer)| words(offer)).max().unwrap_or_default();
    offers.retain(|(_, offer)| words(offer) == most);
    if offers.iter().any(|(_, offer)| whole(offer)) {
        return Vec::new();
    }
    offers.sort_by(|a, b| a.0.cmp(&b.0).then_with(|| a.1.text.len().cmp(&b.1.text.len())));
    offers.into_iter().take(MOST_OFFERS).map(|(_, offer)| offer).collect()
}

/// Places at which a name could have begun: the last few words, the longest stretch first.
fn starts(line: &str) -> Vec<usize> {
    let mut starts: Vec<usize> = Vec::new();
    let mut before = ' ';
    for (at, letter) in line.char_indices() {
        if letter.is_alphabetic() && !(before.is_alphanumeric() || before == '\'') {
            starts.push(at);
        } else if !(letter.is_alphanumeric() || matches!(letter, ' ' | '-' | '\'')) || letter.is_ascii_digit()
        {
            // A name does not go on over a number or another sign.
            starts.clear();
        }
        before = letter;
    }
    let from = starts.len().saturating_sub(MOST_WORDS);
    starts.split_off(from)
}

/// How well typed letters begin a name of a movement, the lower the better: whole names first, then those that begin so, then those of which a later
/// word does; among them the shortest, which the others are made from.
fn rank(movement: &Movement, typed: &str) -> Option<u32> {
    let words = normal_words(typed);
    if typed.ends_with(' ') || words.iter().map(String::len).sum::<usize>() < FEWEST_LETTERS {
        return None;
    }
    let (last, front) = words.split_last()?;
    let begins = |name: &[String]| {
        name.len() >= words.len() && name.starts_with(front) && name[front.len()].starts_with(last.as_str())
    };
    let length = |name: &[String]| (10 * name.len() + name.concat().len()).min(90) as u32;
    let name = normal_words(&movement.name);
    let also = movement.aliases.iter().map(|alias| normal_words(alias)).filter(|alias| begins(alias));
    let also = also.min_by_key(|alias| length(alias));
    let later = (1..name.len()).map(|at| &name[at..]).find(|name| begins(name));
    let place = match (&also, later) {
        _ if name == words => 0,
        (Some(alias), _) if *alias == words => 1,
        _ if begins(&name) => 2,
        // "jump" ends "box jump"
        (_, Some(later)) if later == words => 3,
        (Some(_), _) => 4,
        (_, Some(_)) => 5,
        _ => return None,
    };
    let name = if place == 4 { also.unwrap_or(name) } else { name };
    // More words typed say more.
    let more = words.len().min(MOST_WORDS) as u32;
    Some(100 * place + 20 * (5 - more) + length(&name))
}

fn offered(clause: &Clause, line: &str) -> Option<(u32, Offer)> {
    let digits = line.len() - line.trim_start_matches(|c: char| c.is_ascii_digit()).len();
    let typed = match clause.place {
        Place::Start => line,
        Place::Number if digits > 0 && line[digits..].starts_with(' ') => line[digits..].trim_start(),
        Place::Number => return None,
        Place::After => {
            let words = line.char_indices().filter(|(at, _)| *at > 0 && line[..*at].ends_with(' '));
            let begins = |at: &usize| begins(&clause.clause, &line[*at..]);
            let at = words.map(|(at, _)| at).find(begins)?;
            &line[at..]
        }
    };
    let sign = typed.starts_with(|c: char| !c.is_alphabetic());
    let long = typed.len() >= if clause.place == Place::Number { 1 } else { FEWEST_LETTERS };
    let rank = if clause.place == Place::Number && typed.len() < FEWEST_LETTERS { 400 } else { 200 };
    (begins(&clause.clause, typed) && (long || sign)).then(|| {
        let (text, meaning) = (clause.clause.clone(), clause.meaning.clone());
        (rank, Offer { typed: typed.to_owned(), text, meaning })
    })
}

/// Whether letters begin a clause, in whatever case.
fn begins(clause: &str, typed: &str) -> bool {
    !typed.is_empty() && clause.get(..typed.len()).is_some_and(|front| front.eq_ignore_ascii_case(typed))
}

/// Two or three ways to write a line below what stands above it, for whoever does not know how to begin.
pub fn ways(above: &str) -> Vec<&'static Clause> {
    let before = above.lines().map(str::trim).next_back().unwrap_or_default();
    let known = |names: &[&str]| {
        names.iter().filter_map(|name| clauses().iter().find(|c| c.clause == *name)).collect()
    };
    match before.to_lowercase().as_str() {
        "strength" => known(&["5x5", "@ 75%", "build to a 3RM"]),
        "warm-up" | "accessory" => known(&["rounds", "s plank"]),
        "" | "conditioning" => known(&["AMRAP 12:00", "rounds for time", "Every 2:00 x 6"]),
        _ => known(&["cal row", "m run", "goal: 8:00-12:00"]),
    }
}
