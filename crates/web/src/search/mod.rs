//! Search over days, pieces and people.

use actix_web::{HttpResponse, get, web};
use askama::Template;
use chrono::NaiveDate;
use lantern_store::results::{self, StoredResult, standing};
use lantern_store::search::{self, FoundDay};
use lantern_store::{MemberId, members};
use serde::Deserialize;

use crate::day::day_name;
use crate::day::last::as_version;
use crate::request::Query;
use crate::request::tenant::Tenant;
use crate::respond::error::{AppError, html};
use crate::respond::filters;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(show);
}

/// Most words, and most characters of each, that are looked for.
const MOST_WORDS: usize = 8;
const LONGEST: usize = 40;
/// Days on a page, lines of each, people, and results of each.
const DAYS: i32 = 30;
const LINES: usize = 4;
const PEOPLE: usize = 8;
const RESULTS: usize = 12;
/// Results of somebody that are looked through.
const LOOKED_THROUGH: i64 = 1_000;

#[derive(Deserialize)]
struct Asked {
    #[serde(default)]
    q: String,
    /// Days before this one: the next page.
    before: Option<NaiveDate>,
}

#[derive(Template)]
#[template(path = "search/search.html")]
struct SearchPage {
    gym: String,
    q: String,
    people: Vec<PersonFound>,
    days: Vec<DayFound>,
    /// Where the next page begins.
    older: Option<NaiveDate>,
}

struct PersonFound {
    id: MemberId,
    name: String,
    results: Vec<String>,
}

struct DayFound {
    day: NaiveDate,
    name: String,
    lines: Vec<String>,
}

/// `GET /search?q=thrusters`
#[get("/search")]
async fn show(tenant: Tenant, query: Query<Asked>) -> Result<HttpResponse, AppError> {
    let words = words_of(&query.q);
    let mut page = SearchPage {
        gym: tenant.gym.name.clone(),
        q: query.q.clone(),
        people: Vec::new(),
        days: Vec::new(),
        older: None,
    };
    if words.is_empty() {
        return html(&page);
    }
    let mut rows = tenant.look_since().await?;
    if query.before.is_none() {
        let named: Vec<(MemberId, String, Vec<String>)> = members::called_by_id(&mut rows)
            .await?
            .into_iter()
            .filter_map(|(id, name)| Some((id, beyond_the_name(&words, &name)?, name)))
            .map(|(id, rest, name)| (id, name, rest))
            .take(PEOPLE)
            .collect();
        for (id, name, rest) in named {
            let all = results::of_member(&mut rows, id, LOOKED_THROUGH).await?;
            page.people.push(PersonFound { id, name, results: told(all, &rest) });
        }
    }
    let found = search::days(&mut rows, &words, (query.before, DAYS + 1)).await?;
    if found.len() > DAYS as usize {
        page.older = found.get(DAYS as usize - 1).map(|day| day.day);
    }
    page.days = found.iter().take(DAYS as usize).map(|day| DayFound::new(day, &words)).collect();
    html(&page)
}

/// What is looked for: words without their plural, so that one of several is found too.
fn words_of(text: &str) -> Vec<String> {
    let singular = |word: &str| {
        let word: String = word.to_lowercase().chars().take(LONGEST).collect();
        match word.strip_suffix('s') {
            Some(one) if one.chars().count() > 2 && !one.ends_with('s') => one.to_owned(),
            _ => word,
        }
    };
    text.split_whitespace().map(singular).take(MOST_WORDS).collect()
}

/// The words that are no part of a name; none where no word is.
fn beyond_the_name(words: &[String], name: &str) -> Option<Vec<String>> {
    let name = name.to_lowercase();
    let is_of_name = |word: &String| name.split_whitespace().any(|part| part.starts_with(word.as_str()));
    let rest: Vec<String> = words.iter().filter(|word| !is_of_name(word)).cloned().collect();
    (rest.len() < words.len()).then_some(rest)
}

/// Results that stand, newest first, of pieces that hold all of these words.
fn told(found: Vec<(StoredResult, String)>, words: &[String]) -> Vec<String> {
    let (results, said): (Vec<StoredResult>, Vec<String>) = found.into_iter().unzip();
    let stands = standing(results.into_iter().enumerate().collect());
    let holds = |said: &str| {
        let said = said.to_lowercase();
        words.iter().all(|word| said.contains(word.as_str()))
    };
    let shown = |(at, result): (usize, StoredResult)| {
        // The first line says what it is; then what was looked for.
        let all = said[at].lines().filter(|line| !line.trim().is_empty()).enumerate();
        let asked = |line: &str| words.iter().any(|word| line.to_lowercase().contains(word.as_str()));
        let piece: Vec<&str> =
            all.filter(|(n, line)| *n < 3 || asked(line)).map(|(_, line)| line).take(LINES).collect();
        let version = as_version(result.entry.version.label());
        format!("{}: {} {version}, {}", day_name(result.day), result.entry.done, piece.join(", "))
    };
    stands.into_iter().filter(|(at, _)| holds(&said[*at])).take(RESULTS).map(shown).collect()
}

impl DayFound {
    fn new(found: &FoundDay, words: &[String]) -> Self {
        let lines = |text: &str| -> Vec<String> {
            let holds = |line: &&str| {
                let line = line.to_lowercase();
                words.iter().any(|word| line.contains(word.as_str()))
            };
            text.lines().filter(holds).take(LINES).map(str::to_owned).collect()
        };
        // As written, where the words stand there; else as it was read.
        let written = lines(&found.text);
        let lines = if written.is_empty() { lines(&found.read) } else { written };
        Self { day: found.day, name: day_name(found.day), lines }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_are_found_in_the_singular_and_names_by_their_first_letters() {
        assert_eq!(words_of(" Thrusters 12 min press "), ["thruster", "12", "min", "press"]);
        let words = words_of("alb thrusters");
        assert_eq!(beyond_the_name(&words, "Alba Quenby").unwrap(), ["thruster"]);
        assert_eq!(beyond_the_name(&words, "Bertil Soames"), None);
        assert!(beyond_the_name(&words_of("quen"), "Alba Quenby").unwrap().is_empty());
    }
}
