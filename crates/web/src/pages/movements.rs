//! Movements: the catalogue, the gym's own names for them, and movements of its own.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, get, post, web};
use askama::Template;
use lantern_core::movement::{Catalogue, MovementId, OwnMovement, Unit};
use lantern_store::{aliases, own_movements};
use serde::Deserialize;

use super::removed::{Undo, undo};
use super::{catalogue, gym};
use crate::State;
use crate::error::{AppError, html, html_as};
use crate::filters;
use crate::request::{Form, Query, see_other};

/// Most rows shown at once; a search narrows them.
const MOST_ROWS: usize = 60;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(list).service(add).service(remove).service(add_own).service(remove_own);
}

#[derive(Template)]
#[template(path = "movements.html")]
struct MovementsPage {
    gym: String,
    search: String,
    rows: Vec<MovementRow>,
    /// Every name, to choose from.
    names: Vec<String>,
    more: usize,
    own: Vec<OwnName>,
    movements: Vec<OwnRow>,
    alias: String,
    movement: String,
    new: NewMovement,
    units: [Unit; 4],
    message: Option<String>,
    undo: Option<Undo>,
}

struct OwnRow {
    id: i64,
    name: String,
    told: String,
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
    /// The key of what was just removed.
    removed: Option<String>,
}

#[derive(Deserialize)]
struct NewName {
    alias: String,
    movement: String,
}

/// A movement of the gym's own, as typed.
#[derive(Clone, Deserialize)]
struct NewMovement {
    name: String,
    like: String,
    unit: Unit,
    #[serde(default)]
    seconds: String,
    #[serde(default)]
    aliases: String,
}

impl Default for NewMovement {
    fn default() -> Self {
        let empty = String::new;
        Self { name: empty(), like: empty(), unit: Unit::Reps, seconds: empty(), aliases: empty() }
    }
}

/// `GET /movements?q=pull`
#[get("/movements")]
async fn list(state: web::Data<State>, query: Query<Search>) -> Result<HttpResponse, AppError> {
    let mut page = page(&state, &query.q).await?;
    page.alias.clone_from(&query.alias);
    let (id, _) = gym(&state).await?;
    page.undo = undo(&state, id, query.removed.as_deref()).await?;
    html(&page)
}

/// `POST /movements/names`: a name of the gym's own, used by the reader at once.
#[post("/movements/names")]
async fn add(state: web::Data<State>, form: Form<NewName>) -> Result<HttpResponse, AppError> {
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
        None => Ok(see_other("/movements")),
        message => {
            let mut page = page(&state, "").await?;
            let NewName { alias, movement } = form.0;
            (page.alias, page.movement, page.message) = (alias, movement, message);
            html_as(StatusCode::UNPROCESSABLE_ENTITY, &page)
        }
    }
}

/// `POST /movements/names/{id}/remove`
#[post("/movements/names/{id}/remove")]
async fn remove(state: web::Data<State>, path: web::Path<i64>) -> Result<HttpResponse, AppError> {
    let (id, _) = gym(&state).await?;
    let key = aliases::remove(&state.store, id, *path).await?;
    Ok(see_other(format!("/movements?removed={key}")))
}

/// `POST /movements/own`: a movement of the gym's own, used by the reader at once.
#[post("/movements/own")]
async fn add_own(state: web::Data<State>, form: Form<NewMovement>) -> Result<HttpResponse, AppError> {
    let (id, _) = gym(&state).await?;
    let known = catalogue(&state, id).await?;
    let refused = match own_movement(&known, &form) {
        Ok(own) => {
            own_movements::put(&state.store, id, &own).await?;
            return Ok(see_other("/movements"));
        }
        Err(message) => message,
    };
    let mut page = page(&state, "").await?;
    (page.new, page.message) = (form.0, Some(refused));
    html_as(StatusCode::UNPROCESSABLE_ENTITY, &page)
}

/// `POST /movements/own/{id}/remove`
#[post("/movements/own/{id}/remove")]
async fn remove_own(state: web::Data<State>, path: web::Path<i64>) -> Result<HttpResponse, AppError> {
    let (id, _) = gym(&state).await?;
    let key = own_movements::remove(&state.store, id, *path).await?;
    Ok(see_other(format!("/movements?removed={key}")))
}

/// What was typed as a movement, or why it cannot be one.
fn own_movement(known: &Catalogue, form: &NewMovement) -> Result<OwnMovement, String> {
    let seconds = match form.seconds.trim().replace(',', ".") {
        empty if empty.is_empty() => None,
        text => Some(text.parse().map_err(|_| format!("`{text}` is no number of seconds."))?),
    };
    let own = OwnMovement {
        name: form.name.trim().to_owned(),
        like: find(known, &form.like).unwrap_or_else(|| MovementId::new(form.like.trim())),
        unit: form.unit,
        seconds,
        aliases: form
            .aliases
            .split(',')
            .map(|name| name.trim().to_owned())
            .filter(|n| !n.is_empty())
            .collect(),
    };
    own.movement(known).map_err(|error| format!("{error}."))?;
    Ok(own)
}

fn find(catalogue: &Catalogue, name: &str) -> Option<MovementId> {
    let words = lantern_core::movement::normal_words(name);
    let words: Vec<&str> = words.iter().map(String::as_str).collect();
    catalogue
        .match_words(&words)
        .filter(|found| found.words == words.len())
        .map(|found| found.movement.id.clone())
}

async fn page(state: &State, search: &str) -> Result<MovementsPage, AppError> {
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
    let movements = own_movements::of_gym(&state.store, id).await?;
    let told = |own: &OwnMovement| {
        let like = catalogue.name(&own.like).to_lowercase();
        let seconds = own.seconds.map_or(String::new(), |s| format!(", about {s} s each"));
        let names = own.aliases.join(", ");
        let names = if names.is_empty() { names } else { format!("; also written {names}") };
        format!("much like {like}, counted in {}{seconds}{names}", own.unit.name())
    };
    Ok(MovementsPage {
        gym: gym.name,
        search: search.to_owned(),
        names: catalogue.iter().map(|movement| movement.name.clone()).collect(),
        more: matches.len().saturating_sub(MOST_ROWS),
        rows: matches.into_iter().take(MOST_ROWS).collect(),
        own,
        movements: movements
            .iter()
            .map(|(id, own)| OwnRow { id: *id, name: own.name.clone(), told: told(own) })
            .collect(),
        alias: String::new(),
        movement: String::new(),
        new: NewMovement::default(),
        units: [Unit::Reps, Unit::Calories, Unit::Metres, Unit::Seconds],
        message: None,
        undo: None,
    })
}
