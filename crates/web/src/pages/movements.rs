//! Movements: the catalogue, and the gym's own names for them.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, get, post, web};
use askama::Template;
use lantern_core::movement::{Catalogue, MovementId};
use lantern_store::aliases;
use serde::Deserialize;

use super::{catalogue, gym};
use crate::State;
use crate::error::{AppError, html, html_as};
use crate::filters;

/// Most rows shown at once; a search narrows them.
const MOST_ROWS: usize = 60;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(list).service(add).service(remove);
}

#[derive(Template)]
#[template(path = "movements.html")]
struct MovementsPage {
    gym: String,
    search: String,
    rows: Vec<MovementRow>,
    more: usize,
    own: Vec<OwnName>,
    alias: String,
    movement: String,
    message: Option<String>,
}

struct MovementRow {
    name: String,
    pattern: &'static str,
    unit: &'static str,
    aliases: String,
}

struct OwnName {
    id: i64,
    alias: String,
    movement: String,
}

#[derive(Deserialize)]
struct Search {
    #[serde(default)]
    q: String,
    #[serde(default)]
    alias: String,
}

#[derive(Deserialize)]
struct NewName {
    alias: String,
    movement: String,
}

/// `GET /movements?q=pull`
#[get("/movements")]
async fn list(state: web::Data<State>, query: web::Query<Search>) -> Result<HttpResponse, AppError> {
    let page = page(&state, &query.q, query.alias.clone(), String::new(), None).await?;
    html(&page)
}

/// `POST /movements/names`: a name of the gym's own, used by the reader at once.
#[post("/movements/names")]
async fn add(state: web::Data<State>, form: web::Form<NewName>) -> Result<HttpResponse, AppError> {
    let (id, _) = gym(&state).await?;
    let known = catalogue(&state, id).await?;
    let refused = match find(&known, &form.movement) {
        _ if form.alias.trim().is_empty() => Some("Write the name that your coaches use.".to_owned()),
        _ if form.alias.len() > 80 => Some("A name has at most 80 characters.".to_owned()),
        None => Some(format!("`{}` is no movement in the list; search for it below.", form.movement.trim())),
        Some(movement) => {
            aliases::put(&state.store, id, &form.alias, movement.as_str()).await?;
            None
        }
    };
    match refused {
        None => Ok(HttpResponse::SeeOther().insert_header(("Location", "/movements")).finish()),
        message => {
            let page = page(&state, "", form.alias.clone(), form.movement.clone(), message).await?;
            html_as(StatusCode::UNPROCESSABLE_ENTITY, &page)
        }
    }
}

/// `POST /movements/names/{id}/remove`
#[post("/movements/names/{id}/remove")]
async fn remove(state: web::Data<State>, path: web::Path<i64>) -> Result<HttpResponse, AppError> {
    let (id, _) = gym(&state).await?;
    aliases::remove(&state.store, id, *path).await?;
    Ok(HttpResponse::SeeOther().insert_header(("Location", "/movements")).finish())
}

fn find(catalogue: &Catalogue, name: &str) -> Option<MovementId> {
    let words = lantern_core::movement::normal_words(name);
    let words: Vec<&str> = words.iter().map(String::as_str).collect();
    catalogue
        .match_words(&words)
        .filter(|found| found.words == words.len())
        .map(|found| found.movement.id.clone())
}

async fn page(
    state: &State,
    search: &str,
    alias: String,
    movement: String,
    message: Option<String>,
) -> Result<MovementsPage, AppError> {
    let (id, gym) = gym(state).await?;
    let catalogue = catalogue(state, id).await?;
    let wanted = search.trim().to_lowercase();
    let matches: Vec<MovementRow> = catalogue
        .iter()
        .filter(|m| {
            wanted.is_empty()
                || m.name.to_lowercase().contains(&wanted)
                || m.aliases.iter().any(|a| a.contains(&wanted))
        })
        .map(|m| MovementRow {
            name: m.name.clone(),
            pattern: m.pattern.name(),
            unit: m.unit.name(),
            aliases: m.aliases.iter().take(6).cloned().collect::<Vec<_>>().join(", "),
        })
        .collect();
    let own = aliases::of_gym(&state.store, id)
        .await?
        .into_iter()
        .map(|name| OwnName {
            id: name.id,
            movement: catalogue.name(&MovementId::new(&name.movement)).to_owned(),
            alias: name.alias,
        })
        .collect();
    Ok(MovementsPage {
        gym: gym.name,
        search: search.to_owned(),
        more: matches.len().saturating_sub(MOST_ROWS),
        rows: matches.into_iter().take(MOST_ROWS).collect(),
        own,
        alias,
        movement,
        message,
    })
}
