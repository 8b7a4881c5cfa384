//! Helps while a day is written: ways to go on, the day in plain words, the text of a file.

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, get, post, web};
use askama::Template;
use lantern_core::read::complete;
use lantern_core::read::tidy::{Tidy, tidy};
use lantern_documents::LARGEST_FILE;
use serde::Deserialize;

use crate::day::read::writer::Writer;
use crate::day::read::{Message, Text, Typed, Unsaved, corrections_in, page};
use crate::day::slot_of;
use crate::request::Form;
use crate::request::tenant::Tenant;
use crate::respond::error::{AppError, html};
use crate::respond::wanted::Wanted;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(plainly).service(take).service(go_on).service(names);
    let file = web::resource("/days/{day}/file").app_data(web::PayloadConfig::new(LARGEST_FILE));
    config.service(file.route(web::post().to(from_file)));
}

/// The day written plainly, or why it is not offered.
#[derive(Template)]
#[template(path = "day/read/plainly.html")]
pub(crate) struct Offer {
    pub tidy: Option<Tidy>,
}

/// Ways to go on with a line.
#[derive(Template)]
#[template(path = "day/read/offers.html")]
struct Offers {
    offers: Vec<complete::Offer>,
}

/// `POST /days/{day}/plainly`: the day in the plain notation, as an offer beside the text.
#[post("/days/{day}/plainly")]
async fn plainly(
    writing: Writer,
    path: web::Path<String>,
    request: HttpRequest,
    form: Form<Text>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let Text { text, revision, writer, corrections, .. } = form.0;
    let corrections = corrections_in(&corrections)?;
    let (catalogue, gym) = writing.hand();
    let asked = (text.clone(), corrections.clone());
    // Several readings of a long text take their time.
    let tidied = web::block(move || {
        let read = gym.read(&asked.0, &catalogue, &asked.1);
        tidy(&asked.0, &read, &catalogue, &gym.habits)
    });
    let offer = Offer { tidy: tidied.await.map_err(|error| AppError::Inside(error.to_string()))? };
    if Wanted::of(request.headers()) == Wanted::Part {
        return html(&offer);
    }
    let words = "The day as it is read stands below in plain words; nothing is replaced until you take it.";
    let message = Message { bad: false, words: words.to_owned() };
    let typed = Typed { text, corrections, revision, writer };
    let unsaved = Unsaved { offer: Some(offer), ..Unsaved::new(typed, message) };
    page(&writing, day, unsaved, StatusCode::OK).await
}

/// `POST /days/{day}/take`: the text in the plain notation in place of what was typed, not yet saved.
#[post("/days/{day}/take")]
async fn take(writing: Writer, path: web::Path<String>, form: Form<Taken>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let Taken { plain, revision, writer } = form.0;
    let words = "Written plainly; not saved yet.".to_owned();
    // What was put right is said in the text now.
    let typed = Typed { text: plain, corrections: Vec::new(), revision, writer };
    page(&writing, day, Unsaved::new(typed, Message { bad: false, words }), StatusCode::OK).await
}

/// The offer that was taken.
#[derive(Deserialize)]
struct Taken {
    plain: String,
    #[serde(default)]
    revision: i32,
    #[serde(default)]
    writer: String,
}

/// `POST /days/{day}/go-on`: ways to go on with a line that is being typed; with an empty line, ways to begin it.
#[post("/days/{day}/go-on")]
async fn go_on(writing: Writer, path: web::Path<String>, form: Form<GoOn>) -> Result<HttpResponse, AppError> {
    slot_of(&path)?;
    let offers = if form.line.trim().is_empty() {
        let begun = |way: &complete::Clause| complete::Offer {
            typed: String::new(),
            text: way.example_line(),
            meaning: way.meaning.clone(),
        };
        complete::ways(&form.above).into_iter().map(begun).collect()
    } else {
        complete::complete(&form.line, &writing.hand().0)
    };
    html(&Offers { offers })
}

/// What movements are called, to choose from.
#[derive(Template)]
#[template(path = "day/read/names.html")]
struct Names {
    names: Vec<String>,
}

/// `GET /days/{day}/names`: what movements are called, once somebody begins to put a line right.
#[get("/days/{day}/names")]
async fn names(writing: Writer, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    slot_of(&path)?;
    let (catalogue, _) = writing.hand();
    html(&Names { names: catalogue.iter().map(|movement| movement.name.to_lowercase()).collect() })
}

/// `POST /days/{day}/file`: the text of a document, PDF file or spreadsheet, to be shown in the text box; nothing is kept of the file.
async fn from_file(_: Tenant, path: web::Path<String>, bytes: web::Bytes) -> Result<HttpResponse, AppError> {
    slot_of(&path)?;
    let read = web::block(move || lantern_documents::text_of(&bytes)).await;
    let opened = match read.map_err(|error| AppError::Inside(error.to_string()))? {
        Ok(text) => serde_json::json!({ "text": text }),
        Err(error) => serde_json::json!({ "why": error.to_string() }),
    };
    Ok(HttpResponse::Ok().json(opened))
}

/// A line up to the caret, and the one above it.
#[derive(Deserialize)]
struct GoOn {
    line: String,
    #[serde(default)]
    above: String,
}
