//! Movements: the catalogue, the gym's own names for them, and movements of its own.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, get, post, web};
use askama::Template;
use lantern_core::movement::{Catalogue, MovementId, OwnMovement, Unit};
use lantern_store::{aliases, own_movements};
use serde::Deserialize;

use crate::removed::{Undo, undo};
use crate::request::tenant::Tenant;
use crate::request::{Form, Query};
use crate::respond::error::{AppError, html, html_as};
use crate::respond::filters;
use crate::respond::redirect::see_other;

/// Most rows shown at once; a search narrows them.
const MOST_ROWS: usize = 60;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(list).service(add).service(remove).service(add_own).service(remove_own);
}

#[derive(Template)]
#[template(path = "gym/movements.html")]
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
async fn list(tenant: Tenant, query: Query<Search>) -> Result<HttpResponse, AppError> {
    let mut page = page(&tenant, &query.q).await?;
    page.alias.clone_from(&query.alias);
    page.undo = undo(&mut tenant.look().await?, query.removed.as_deref(), tenant.gym.clock).await?;
    html(&page)
}

/// `POST /movements/names`: a name of the gym's own, used by the reader at once.
#[post("/movements/names")]
async fn add(tenant: Tenant, form: Form<NewName>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    let known = tenant.catalogue();
    let refused = match find(&known, &form.movement) {
        _ if form.alias.trim().is_empty() => "Write the name that your coaches use.".to_owned(),
        _ if form.alias.len() > 80 => "A name has at most 80 characters.".to_owned(),
        None => format!("`{}` is no movement in the list; search for it below.", form.movement.trim()),
        Some(movement) => {
            aliases::put(&mut rows, &form.alias, movement.as_str()).await?;
            rows.keep().await?;
            return Ok(see_other("/movements"));
        }
    };
    let mut page = page(&tenant, "").await?;
    let NewName { alias, movement } = form.0;
    (page.alias, page.movement, page.message) = (alias, movement, Some(refused));
    html_as(StatusCode::UNPROCESSABLE_ENTITY, &page)
}

/// `POST /movements/names/{id}/remove`
#[post("/movements/names/{id}/remove")]
async fn remove(tenant: Tenant, path: web::Path<i64>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    let key = aliases::remove(&mut rows, *path).await?;
    rows.keep().await?;
    Ok(see_other(format!("/movements?removed={key}")))
}

/// `POST /movements/own`: a movement of the gym's own, used by the reader at once.
#[post("/movements/own")]
async fn add_own(tenant: Tenant, form: Form<NewMovement>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    let known = tenant.catalogue();
    let refused = match own_movement(&known, &form) {
        Ok(own) => {
            own_movements::put(&mut rows, &own).await?;
            rows.keep().await?;
            return Ok(see_other("/movements"));
        }
        Err(message) => message,
    };
    let mut page = page(&tenant, "").await?;
    (page.new, page.message) = (form.0, Some(refused));
    html_as(StatusCode::UNPROCESSABLE_ENTITY, &page)
}

/// `POST /movements/own/{id}/remove`
#[post("/movements/own/{id}/remove")]
async fn remove_own(tenant: Tenant, path: web::Path<i64>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    let key = own_movements::remove(&mut rows, *path).await?;
    rows.keep().await?;
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

async fn page(tenant: &Tenant, search: &str) -> Result<MovementsPage, AppError> {
    let gym = tenant.gym.clone();
    let mut rows = tenant.look().await?;
    let catalogue = tenant.catalogue();
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
    let own = aliases::of_gym(&mut rows)
        .await?
        .into_iter()
        .map(|name| OwnName {
            id: name.id,
            movement: catalogue.name(&MovementId::new(&name.movement)).to_owned(),
            alias: name.alias,
        })
        .collect();
    let movements = own_movements::of_gym(&mut rows).await?;
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
