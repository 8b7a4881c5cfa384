//! Read: the coach's text, and beside it what was understood.

use std::collections::BTreeMap;
use std::sync::Arc;

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, get, post, web};
use askama::Template;
use lantern_core::gym::Gym;
use lantern_core::import::session_as_text;
use lantern_core::movement::Catalogue;
use lantern_core::read::corrections::{Correction, CorrectionKind, MOST_CORRECTIONS, with};
use lantern_core::read::habits::{self, Habit};
use lantern_core::read::tidy::{Tidy, tidy};
use lantern_core::read::{Reading, apply_suggestion, complete, read_corrected, read_in_hand};
use lantern_documents::LARGEST_FILE;
use lantern_store::sessions::{self, Conflict, NewText, Saved};
use lantern_store::{StoreError, gyms, removals};
use serde::Deserialize;

use super::{catalogue, gym, slot_of};
use crate::State;
use crate::error::{AppError, html, html_as};
use crate::filters;
use crate::plans::reading_of;
use crate::request::{Form, Query, is_part, see_other};
use crate::slot::Slot;
use crate::view::reading::{DatesTyped, ReadingView, Seam};

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(save).service(reading).service(apply).service(correct).service(put_together);
    config.service(plainly).service(take).service(go_on);
    let file = web::resource("/days/{day}/file").app_data(web::PayloadConfig::new(LARGEST_FILE));
    config.service(file.route(web::post().to(from_file)));
}

#[derive(Template)]
#[template(path = "read.html")]
struct ReadPage {
    gym: String,
    day: Slot,
    day_name: String,
    text: String,
    revision: i32,
    /// Names this page: saving twice from it is no conflict with oneself.
    writer: String,
    /// The text is not the stored one: it is kept as a draft at once.
    unsaved: bool,
    message: Option<Message>,
    /// What somebody else saved meanwhile.
    theirs: Option<String>,
    /// Both changes put together, where they touch different lines.
    together: Option<String>,
    /// What movements are called, to choose from.
    movements: Vec<String>,
    /// The day written plainly, offered.
    offer: Option<Offer>,
    view: ReadingView,
}

/// The reading beside the text, and a word about what was done to it.
#[derive(Template)]
#[template(path = "reading.html")]
struct ReadingFragment {
    message: Option<Message>,
    view: ReadingView,
}

/// The day written plainly, or why it is not offered.
#[derive(Template)]
#[template(path = "plainly.html")]
pub(super) struct Offer {
    pub tidy: Option<Tidy>,
}

/// Ways to go on with a line.
#[derive(Template)]
#[template(path = "offers.html")]
struct Offers {
    offers: Vec<complete::Offer>,
}

pub(super) struct Message {
    pub bad: bool,
    pub words: String,
}

#[derive(Deserialize)]
struct Text {
    text: String,
    #[serde(default)]
    revision: i32,
    #[serde(default)]
    writer: String,
    /// Where to go once it is saved: a step of the rail.
    #[serde(default)]
    then: String,
    /// `line|column|found|suggestion`, when a suggestion was clicked.
    apply: Option<String>,
    /// What has been put right, as JSON.
    #[serde(default)]
    corrections: String,
}

/// What has been put right, from the field of a form.
pub(super) fn corrections_in(field: &str) -> Result<Vec<Correction>, AppError> {
    if field.trim().is_empty() {
        return Ok(Vec::new());
    }
    let list: Vec<Correction> = serde_json::from_str(field)
        .map_err(|error| AppError::Malformed(format!("the field of corrections cannot be read: {error}")))?;
    if list.len() > MOST_CORRECTIONS {
        return Err(AppError::Malformed(format!("a day has at most {MOST_CORRECTIONS} corrections")));
    }
    Ok(list)
}

#[derive(Deserialize)]
struct Shown {
    saved: Option<i32>,
}

/// Steps that a text can be taken to.
const STEPS: [&str; 6] = ["read", "warmup", "loads", "versions", "pace", "hour"];

/// `GET /days/{day}/read`
#[get("/days/{day}/read")]
async fn show(
    state: web::Data<State>,
    path: web::Path<String>,
    query: Query<Shown>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let (id, gym) = gym(&state).await?;
    let catalogue = catalogue(&state, id).await?;
    let stored = sessions::of_day(&state.store, id, day.day).await?;
    let (text, revision, put_right) =
        stored.map_or_else(Default::default, |session| (session.text, session.revision, session.corrections));
    let view = ReadingView::new(&reading_of(&text, &put_right, &gym, &catalogue), &catalogue, day.day);
    let message = query.saved.map(|_| Message { bad: false, words: "Saved.".to_owned() });
    html(&ReadPage {
        gym: gym.name,
        day,
        day_name: day.name(),
        text,
        revision,
        writer: removals::key(),
        unsaved: false,
        message,
        theirs: None,
        together: None,
        movements: names_of(&catalogue),
        offer: None,
        view,
    })
}

/// `POST /days/{day}/read`: saves, unless somebody else did meanwhile, and goes on to the step asked for: a plan is always of the text
/// that was in front of whoever asked.
#[post("/days/{day}/read")]
async fn save(
    state: web::Data<State>,
    path: web::Path<String>,
    form: Form<Text>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let Text { text: typed, revision, writer, then, corrections, .. } = form.0;
    let corrections = corrections_in(&corrections)?;
    let shown = |text, revision, message| {
        let (corrections, writer) = (corrections.clone(), writer.clone());
        Unsaved::new(Typed { text, corrections, revision, writer }, message)
    };
    let bad = |words: &str| Message { bad: true, words: words.to_owned() };
    let text = match session_as_text(&typed, known_hand(&state).await.0.as_ref()) {
        Ok(imported) => imported.unwrap_or(typed),
        Err(error) => {
            let message = bad(&format!("Not saved: this begins as JSON does, but {error}."));
            let status = StatusCode::UNPROCESSABLE_ENTITY;
            return page(&state, day, shown(typed, revision, message), status).await;
        }
    };
    let then = STEPS.iter().find(|step| **step == then).copied();
    let saved = async {
        let (id, _) = gym(&state).await?;
        if text.trim().is_empty() && revision == 0 {
            // Nothing was written and nothing stands: there is nothing to save, and nothing to plan.
            return Ok(Saved::As(0));
        }
        // What is kept is what stands in the text that is saved.
        let catalogue = catalogue(&state, id).await?;
        let standing = read_corrected(&text, &catalogue, &corrections).corrections;
        let put_right = serde_json::to_value(&standing).unwrap_or_else(|_| serde_json::json!([]));
        let new = NewText { text: &text, corrections: &put_right, seen: revision, writer: &writer };
        // What has taught the gym already teaches nothing anew.
        let before =
            if standing.is_empty() { None } else { sessions::of_day(&state.store, id, day.day).await? };
        let before: Vec<Correction> =
            before.and_then(|stored| serde_json::from_value(stored.corrections).ok()).unwrap_or_default();
        let saved = sessions::save(&state.store, id, day.day, new).await?;
        if matches!(saved, Saved::As(_)) && !standing.is_empty() {
            // What was put right here is how this gym writes.
            let name = super::day_name(day.day);
            let learn = |gym: &mut Gym| Ok(habits::learn(&mut gym.habits, &standing, &before, &text, &name));
            gyms::change(&state.store, id, learn).await?;
        }
        Ok::<_, AppError>(saved)
    };
    match saved.await {
        // The address tells the page that what this browser keeps as a draft is saved now.
        Ok(Saved::As(revision)) => {
            Ok(see_other(format!("/days/{day}/{}?saved={revision}", then.unwrap_or("read"))))
        }
        Ok(Saved::Conflict(conflict)) => {
            let Conflict { theirs, together } = *conflict;
            let words = if together.is_some() {
                "Somebody else saved this day while you were typing, in other lines. Your text is below, theirs beside it. Put both together, or save yours in place of theirs; every text is kept."
            } else {
                "Somebody else saved this day while you were typing, in the same lines. Your text is below, theirs beside it; saving now replaces theirs, which is kept all the same."
            };
            let unsaved =
                Unsaved { together, theirs: Some(theirs.text), ..shown(text, theirs.revision, bad(words)) };
            page(&state, day, unsaved, StatusCode::CONFLICT).await
        }
        // With the database away the page still comes back, with every word that was typed; nothing more is asked of it.
        Err(AppError::Store(error)) => {
            tracing::error!(%error, "a day could not be saved");
            let (why, status) = match error {
                StoreError::Full(_) => {
                    ("the database has no room left on its disk", StatusCode::INSUFFICIENT_STORAGE)
                }
                StoreError::Busy(_) => ("the database is busy just now", StatusCode::SERVICE_UNAVAILABLE),
                _ => ("the database does not answer just now", StatusCode::SERVICE_UNAVAILABLE),
            };
            let words = format!(
                "Not saved: {why}. Your text is below and kept in this browser; save again in a moment."
            );
            let standard = state.catalogues.with(&[], &[]);
            let unsaved = shown(text, revision, bad(&words));
            html_as(status, &unsaved_page("Honest Lantern".to_owned(), day, unsaved, &standard, &[]))
        }
        Err(error) => Err(error),
    }
}

/// `POST /days/{day}/reading`: the reading of a text that is being typed.
#[post("/days/{day}/reading")]
async fn reading(
    state: web::Data<State>,
    path: web::Path<String>,
    form: Form<BTreeMap<String, String>>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let (catalogue, habits) = known_hand(&state).await;
    let field = |name: &str| form.0.get(name).cloned().unwrap_or_default();
    let typed = field("text");
    let corrections = corrections_in(&field("corrections"))?;
    let replace = form.0.contains_key("replace");
    // JSON is shown as the text that saving makes of it. A long text takes its time: not on the thread that answers everybody.
    let view = web::block(move || {
        let text = session_as_text(&typed, &catalogue).ok().flatten().unwrap_or(typed);
        ReadingView::new(&read_in_hand(&text, &catalogue, &corrections, &habits), &catalogue, day.day)
    });
    let view = view.await.map_err(|error| AppError::Inside(error.to_string()))?;
    // A date that somebody has typed beside a day stays.
    let typed = |place: usize| form.0.get(&format!("on{place}")).filter(|date| !date.is_empty());
    let dates = view.days.iter().map(|shown| typed(shown.place).unwrap_or(&shown.date).clone()).collect();
    html(&ReadingFragment { message: None, view: view.with_dates(Some(DatesTyped { dates, replace })) })
}

/// `POST /days/{day}/put-together`: both changes of a text in one, not yet saved.
#[post("/days/{day}/put-together")]
async fn put_together(
    state: web::Data<State>,
    path: web::Path<String>,
    form: Form<Together>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let Together { base, revision, writer, corrections } = form.0;
    let corrections = corrections_in(&corrections)?;
    let words = "Both changes stand in one text now; look it over and save.".to_owned();
    let message = Message { bad: false, words };
    let typed = Typed { text: base, corrections, revision, writer };
    page(&state, day, Unsaved::new(typed, message), StatusCode::OK).await
}

/// Two changes put together, as the page that found them offers it.
#[derive(Deserialize)]
struct Together {
    base: String,
    revision: i32,
    #[serde(default)]
    writer: String,
    #[serde(default)]
    corrections: String,
}

/// `POST /days/{day}/apply`: the text with a suggestion in it, not yet saved.
#[post("/days/{day}/apply")]
async fn apply(
    state: web::Data<State>,
    path: web::Path<String>,
    form: Form<Text>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let Text { text, revision, writer, apply, corrections, .. } = form.0;
    let corrections = corrections_in(&corrections)?;
    let asked = apply.unwrap_or_default();
    let mut fields = asked.splitn(4, '|');
    let number = |field: Option<&str>| field.and_then(|n| n.parse().ok());
    let (Some(line), Some(column), Some(found), Some(suggestion)) =
        (number(fields.next()), number(fields.next()), fields.next(), fields.next())
    else {
        return Err(AppError::Malformed("the field `apply` names no place in the text".to_owned()));
    };
    let text = apply_suggestion(&text, line, column, found, suggestion);
    let words = format!("Replaced `{found}` with `{suggestion}` in line {line}; not saved yet.");
    let message = Message { bad: false, words };
    let typed = Typed { text, corrections, revision, writer };
    page(&state, day, Unsaved::new(typed, message), StatusCode::OK).await
}

/// `POST /days/{day}/correct`: the text with its reading put right, not yet saved: a question answered, a line told what it is, or one of
/// these taken back.
#[post("/days/{day}/correct")]
async fn correct(
    state: web::Data<State>,
    path: web::Path<String>,
    request: HttpRequest,
    form: Form<BTreeMap<String, String>>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let field = |name: &str| form.0.get(name).cloned();
    let text = field("text").ok_or_else(|| AppError::Malformed("missing field `text`".to_owned()))?;
    let writer = field("writer").unwrap_or_default();
    let revision = field("revision").and_then(|revision| revision.parse().ok()).unwrap_or(0);
    let mut corrections = corrections_in(&field("corrections").unwrap_or_default())?;
    let mut status = StatusCode::OK;
    let message = if let Some(id) = field("undo") {
        let before = corrections.len();
        corrections.retain(|correction| correction.id != id);
        let taken_back = corrections.len() < before;
        let words =
            if taken_back { "Taken back; not saved yet." } else { "That had been taken back already." };
        Message { bad: false, words: words.to_owned() }
    } else {
        let new = match (field("answer"), field("put")) {
            (Some(answer), _) => Ok(corrections_in(&answer)?),
            (None, Some(put)) => {
                let (catalogue, habits) = known_hand(&state).await;
                let read = || read_in_hand(&text, &catalogue, &corrections, &habits);
                put_right(&text, &put, &form.0, read).map(|correction| vec![correction])
            }
            (None, None) => Err("nothing says what is to be put right".to_owned()),
        };
        match new {
            Ok(new) => {
                corrections = with(corrections, new);
                Message { bad: false, words: "Put right; not saved yet.".to_owned() }
            }
            Err(words) => {
                status = StatusCode::UNPROCESSABLE_ENTITY;
                Message { bad: true, words: format!("Nothing was changed: {words}.") }
            }
        }
    };
    if is_part(request.headers()) {
        let (catalogue, habits) = known_hand(&state).await;
        let read = read_in_hand(&text, &catalogue, &corrections, &habits);
        let view = ReadingView::new(&read, &catalogue, day.day);
        return html_as(status, &ReadingFragment { message: Some(message), view });
    }
    let typed = Typed { text, corrections, revision, writer };
    page(&state, day, Unsaved::new(typed, message), status).await
}

/// `POST /days/{day}/plainly`: the day in the plain notation, as an offer beside the text.
#[post("/days/{day}/plainly")]
async fn plainly(
    state: web::Data<State>,
    path: web::Path<String>,
    request: HttpRequest,
    form: Form<Text>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let Text { text, revision, writer, corrections, .. } = form.0;
    let corrections = corrections_in(&corrections)?;
    let (catalogue, habits) = known_hand(&state).await;
    let asked = (text.clone(), corrections.clone());
    // Several readings of a long text take their time.
    let tidied = web::block(move || {
        let read = read_in_hand(&asked.0, &catalogue, &asked.1, &habits);
        tidy(&asked.0, &read, &catalogue, &habits)
    });
    let offer = Offer { tidy: tidied.await.map_err(|error| AppError::Inside(error.to_string()))? };
    if is_part(request.headers()) {
        return html(&offer);
    }
    let words = "The day as it is read stands below in plain words; nothing is replaced until you take it.";
    let message = Message { bad: false, words: words.to_owned() };
    let typed = Typed { text, corrections, revision, writer };
    let unsaved = Unsaved { offer: Some(offer), ..Unsaved::new(typed, message) };
    page(&state, day, unsaved, StatusCode::OK).await
}

/// `POST /days/{day}/take`: the text in the plain notation in place of what was typed, not yet saved.
#[post("/days/{day}/take")]
async fn take(
    state: web::Data<State>,
    path: web::Path<String>,
    form: Form<Taken>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let Taken { plain, revision, writer } = form.0;
    let words = "Written plainly; not saved yet.".to_owned();
    // What was put right is said in the text now.
    let typed = Typed { text: plain, corrections: Vec::new(), revision, writer };
    page(&state, day, Unsaved::new(typed, Message { bad: false, words }), StatusCode::OK).await
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
async fn go_on(
    state: web::Data<State>,
    path: web::Path<String>,
    form: Form<GoOn>,
) -> Result<HttpResponse, AppError> {
    slot_of(&path)?;
    let offers = if form.line.trim().is_empty() {
        let begun = |way: &complete::Clause| complete::Offer {
            typed: String::new(),
            text: way.example_line(),
            meaning: way.meaning.clone(),
        };
        complete::ways(&form.above).into_iter().map(begun).collect()
    } else {
        complete::complete(&form.line, &known_hand(&state).await.0)
    };
    html(&Offers { offers })
}

/// `POST /days/{day}/file`: the text of a document, PDF file or spreadsheet, to be shown in the text box; nothing is kept of the file.
async fn from_file(path: web::Path<String>, bytes: web::Bytes) -> Result<HttpResponse, AppError> {
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

/// The correction of a line that a button asks for: `kind|line|value`. How a part is run, which words mean others, and where a track ends is
/// taken from the fields of that line and from the reading.
fn put_right(
    text: &str,
    asked: &str,
    fields: &BTreeMap<String, String>,
    read: impl FnOnce() -> Reading,
) -> Result<Correction, String> {
    let mut asked = asked.splitn(3, '|');
    let kind = asked.next().unwrap_or_default();
    let kind: CorrectionKind = serde_json::from_value(serde_json::json!(kind))
        .map_err(|_| format!("`{kind}` is nothing that a line can be put right to"))?;
    let lines: Vec<&str> = text.split('\n').collect();
    let line = asked.next().and_then(|line| line.parse::<usize>().ok()).filter(|line| *line > 0);
    let (Some(line), Some(words)) = (line, line.and_then(|line| lines.get(line - 1))) else {
        return Err("the line to put right is not in the text".to_owned());
    };
    let value = asked.next().unwrap_or_default();
    let typed = |name: &str| fields.get(&format!("{name}{line}")).map_or("", |typed| typed.trim());
    let made = |value: &str| Correction::of_line(kind, line, words, value);
    match kind {
        CorrectionKind::Part => {
            let run = typed("run");
            if run.is_empty() {
                return Err(format!("how the part of line {line} is run was not written"));
            }
            let known = read();
            let within = |lines: &(usize, usize)| lines.0 <= line && line <= lines.1;
            let part = known.session.parts.iter().map(|part| part.lines).find(within);
            let (first, last) = part.unwrap_or((line, line));
            Ok(Correction { last_line: last, ..Correction::of_line(kind, first, lines[first - 1], run) })
        }
        CorrectionKind::Word => {
            let known = read();
            let unknown = known.problems.iter().find(|p| p.line == line && !p.found.is_empty());
            let from = Some(typed("from")).filter(|from| !from.is_empty());
            let from = from.or(unknown.map(|problem| problem.found.as_str())).unwrap_or_default();
            let to = typed("to");
            if to.is_empty() || from.is_empty() {
                return Err(format!("which words of line {line} mean what was not written"));
            }
            if !words.contains(from) {
                return Err(format!("`{from}` does not stand in line {line}"));
            }
            Ok(Correction { words: from.to_owned(), ..Correction::of_line(kind, line, from, to) })
        }
        CorrectionKind::Track => {
            let below = lines[line - 1..].iter().take_while(|line| !line.trim().is_empty()).count();
            let name = words.trim_matches(|c: char| !c.is_alphanumeric());
            let name: String = name.chars().take(40).collect();
            Ok(Correction { last_line: line + below.max(1) - 1, ..made(&name) })
        }
        _ => Ok(made(value)),
    }
}

/// A text that is not the stored one, and why it is shown.
pub(super) struct Unsaved {
    pub text: String,
    pub corrections: Vec<Correction>,
    pub revision: i32,
    pub writer: String,
    pub message: Message,
    pub theirs: Option<String>,
    pub together: Option<String>,
    /// The dates typed beside the days of the text.
    pub dates: Option<DatesTyped>,
    /// The day written plainly.
    pub offer: Option<Offer>,
}

impl Unsaved {
    /// With a word about why, and nothing else beside it.
    pub fn new(typed: Typed, message: Message) -> Self {
        let Typed { text, corrections, revision, writer } = typed;
        let (theirs, together, dates, offer) = (None, None, None, None);
        Self { text, corrections, revision, writer, message, theirs, together, dates, offer }
    }
}

/// What a form of the page holds: the text, how it was put right, which revision it was made from and by which window.
#[derive(Clone)]
pub(super) struct Typed {
    pub text: String,
    pub corrections: Vec<Correction>,
    pub revision: i32,
    pub writer: String,
}

/// The page with a text that is not the stored one.
pub(super) async fn page(
    state: &State,
    day: Slot,
    unsaved: Unsaved,
    status: StatusCode,
) -> Result<HttpResponse, AppError> {
    let name = gym(state).await.map_or_else(|_| "Honest Lantern".to_owned(), |(_, gym)| gym.name);
    let (catalogue, habits) = known_hand(state).await;
    html_as(status, &unsaved_page(name, day, unsaved, &catalogue, &habits))
}

fn unsaved_page(
    gym: String,
    day: Slot,
    unsaved: Unsaved,
    catalogue: &Catalogue,
    habits: &[Habit],
) -> ReadPage {
    let Unsaved { text, corrections, revision, writer, message, theirs, together, dates, offer } = unsaved;
    let read = read_in_hand(&text, catalogue, &corrections, habits);
    let view = ReadingView::new(&read, catalogue, day.day);
    ReadPage {
        gym,
        day,
        day_name: day.name(),
        view: view.with_dates(dates),
        text,
        revision,
        writer: if writer.is_empty() { removals::key() } else { writer },
        unsaved: true,
        message: Some(message),
        theirs,
        together,
        movements: names_of(catalogue),
        offer,
    }
}

fn names_of(catalogue: &Catalogue) -> Vec<String> {
    catalogue.iter().map(|movement| movement.name.to_lowercase()).collect()
}

/// The gym's catalogue and how it writes, or the standard one and nothing while the database is away: reading needs no database.
async fn known_hand(state: &State) -> (Arc<Catalogue>, Vec<Habit>) {
    let own = async {
        let (id, gym) = gym(state).await?;
        Ok::<_, AppError>((catalogue(state, id).await?, gym.habits))
    };
    own.await.unwrap_or_else(|_| (state.catalogues.with(&[], &[]), Vec::new()))
}
