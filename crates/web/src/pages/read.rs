//! Read: the coach's text, and beside it what was understood.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, get, post, web};
use askama::Template;
use lantern_core::import::session_as_text;
use lantern_core::read::{apply_suggestion, read};
use lantern_store::sessions::{self, Saved};
use serde::Deserialize;

use super::{catalogue, gym, slot_of};
use crate::State;
use crate::error::{AppError, html, html_as};
use crate::filters;
use crate::slot::Slot;
use crate::view::reading::ReadingView;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(save).service(reading).service(apply);
}

#[derive(Template)]
#[template(path = "read.html")]
struct ReadPage {
    gym: String,
    day: Slot,
    day_name: String,
    text: String,
    revision: i32,
    message: Option<Message>,
    /// What somebody else saved meanwhile.
    theirs: Option<String>,
    view: ReadingView,
}

#[derive(Template)]
#[template(path = "reading.html")]
struct ReadingFragment {
    view: ReadingView,
}

struct Message {
    bad: bool,
    words: String,
}

#[derive(Deserialize)]
struct Text {
    text: String,
    #[serde(default)]
    revision: i32,
    /// `line|column|found|suggestion`, when a suggestion was clicked.
    apply: Option<String>,
}

#[derive(Deserialize)]
struct Shown {
    saved: Option<i32>,
}

/// `GET /days/{day}/read`
#[get("/days/{day}/read")]
async fn show(
    state: web::Data<State>,
    path: web::Path<String>,
    query: web::Query<Shown>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let (id, gym) = gym(&state).await?;
    let catalogue = catalogue(&state, id).await?;
    let stored = sessions::of_day(&state.store, id, day.day).await?;
    let (text, revision) = stored.map_or((String::new(), 0), |session| (session.text, session.revision));
    let view = ReadingView::new(&read(&text, &catalogue), &catalogue);
    let message = query.saved.map(|_| Message { bad: false, words: "Saved.".to_owned() });
    html(&ReadPage { gym: gym.name, day, day_name: day.name(), text, revision, message, theirs: None, view })
}

/// `POST /days/{day}/read`: saves, unless somebody else did meanwhile.
#[post("/days/{day}/read")]
async fn save(
    state: web::Data<State>,
    path: web::Path<String>,
    form: web::Form<Text>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let typed = form.text.replace("\r\n", "\n");
    let text = match session_as_text(&typed, known_catalogue(&state).await.as_ref()) {
        Ok(imported) => imported.unwrap_or(typed),
        Err(error) => {
            let words = format!("Not saved: this begins as JSON does, but {error}.");
            let message = Message { bad: true, words };
            let status = StatusCode::UNPROCESSABLE_ENTITY;
            return page(&state, day, typed, form.revision, message, None, status).await;
        }
    };
    // With the database away the page still comes back, with every word that was typed.
    let saved = async {
        let (id, _) = gym(&state).await?;
        Ok::<_, AppError>(sessions::save(&state.store, id, day.day, &text, form.revision).await?)
    };
    match saved.await {
        Ok(Saved::As(revision)) => {
            let to = format!("/days/{day}/read?saved={revision}");
            Ok(HttpResponse::SeeOther().insert_header(("Location", to)).finish())
        }
        Ok(Saved::Conflict(theirs)) => {
            let words =
                "Somebody else saved this day while you were typing. Your text is below, theirs beside it; \
                         saving now replaces theirs."
                    .to_owned();
            page(
                &state,
                day,
                text,
                theirs.revision,
                Message { bad: true, words },
                Some(theirs.text),
                StatusCode::CONFLICT,
            )
            .await
        }
        Err(AppError::Store(error)) => {
            tracing::error!(%error, "a day could not be saved");
            let words = "Not saved: the database does not answer just now. Your text is below and kept in this browser; save again in a moment.".to_owned();
            page(
                &state,
                day,
                text,
                form.revision,
                Message { bad: true, words },
                None,
                StatusCode::SERVICE_UNAVAILABLE,
            )
            .await
        }
        Err(error) => Err(error),
    }
}

/// `POST /days/{day}/reading`: the reading of a text that is being typed.
#[post("/days/{day}/reading")]
async fn reading(
    state: web::Data<State>,
    path: web::Path<String>,
    form: web::Form<Text>,
) -> Result<HttpResponse, AppError> {
    slot_of(&path)?;
    let catalogue = known_catalogue(&state).await;
    let typed = form.text.replace("\r\n", "\n");
    // JSON is shown as the text that saving makes of it.
    let text = session_as_text(&typed, &catalogue).ok().flatten().unwrap_or(typed);
    let view = ReadingView::new(&read(&text, &catalogue), &catalogue);
    html(&ReadingFragment { view })
}

/// `POST /days/{day}/apply`: the text with a suggestion in it, not yet saved.
#[post("/days/{day}/apply")]
async fn apply(
    state: web::Data<State>,
    path: web::Path<String>,
    form: web::Form<Text>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let text = form.text.replace("\r\n", "\n");
    let asked = form.apply.as_deref().unwrap_or_default();
    let mut fields = asked.splitn(4, '|');
    let number = |field: Option<&str>| field.and_then(|n| n.parse().ok());
    let (Some(line), Some(column), Some(found), Some(suggestion)) =
        (number(fields.next()), number(fields.next()), fields.next(), fields.next())
    else {
        return Err(AppError::Malformed("the field `apply` names no place in the text".to_owned()));
    };
    let text = apply_suggestion(&text, line, column, found, suggestion);
    let words = format!("Replaced `{found}` with `{suggestion}` in line {line}; not saved yet.");
    page(&state, day, text, form.revision, Message { bad: false, words }, None, StatusCode::OK).await
}

/// The page with a text that is not the stored one.
async fn page(
    state: &State,
    day: Slot,
    text: String,
    revision: i32,
    message: Message,
    theirs: Option<String>,
    status: StatusCode,
) -> Result<HttpResponse, AppError> {
    let name = gym(state).await.map_or_else(|_| "Honest Lantern".to_owned(), |(_, gym)| gym.name);
    let catalogue = known_catalogue(state).await;
    let view = ReadingView::new(&read(&text, &catalogue), &catalogue);
    let page = ReadPage {
        gym: name,
        day,
        day_name: day.name(),
        text,
        revision,
        message: Some(message),
        theirs,
        view,
    };
    html_as(status, &page)
}

/// The gym's catalogue, or the standard one while the database is away: reading needs no database.
async fn known_catalogue(state: &State) -> std::sync::Arc<lantern_core::movement::Catalogue> {
    let own = async {
        let (id, _) = gym(state).await?;
        catalogue(state, id).await
    };
    own.await.unwrap_or_else(|_| state.catalogues.with(&[], &[]))
}
