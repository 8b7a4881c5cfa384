//! Read: the coach's text, and beside it what was understood.

mod correct;
mod spread;
mod view;
pub(crate) mod writer;
mod writing;

use std::collections::BTreeMap;

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, get, post, web};
use askama::Template;
use lantern_core::gym::{ClockFace, Gym};
use lantern_core::import::session_as_text;
use lantern_core::movement::Catalogue;
use lantern_core::read::corrections::{Correction, MOST_CORRECTIONS};
use lantern_core::read::habits;
use lantern_core::read::{Reading, read_corrected, version};
use lantern_core::session::differences;
use lantern_store::day::{self, DayRows};
use lantern_store::pieces::{self, Kept};
use lantern_store::sessions::{self, Conflict, NewText, Saved};
use lantern_store::{StoreError, gyms, removals, running};
use serde::Deserialize;

use self::writer::Writer;
use self::writing::Offer;
use crate::day::read::view::{DatesTyped, ReadingView, Seam};
use crate::day::slot_of;
use crate::planning::kept::{as_kept, that_counts};
use crate::planning::plans::reading_of;
use crate::planning::shown::{as_html, page_of};
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::request::{Form, Query};
use crate::respond::error::{AppError, html, html_as};
use crate::respond::filters;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(save).service(reading).service(put_together).service(read_anew);
    correct::routes(config);
    spread::routes(config);
    writing::routes(config);
}

#[derive(Template)]
#[template(path = "day/read/read.html")]
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
    /// The day written plainly, offered.
    offer: Option<Offer>,
    /// The reading that was kept, where the reader of today reads otherwise.
    stands: Option<StandsAsRead>,
    view: ReadingView,
}

/// A reading that was kept, beside that of today.
struct StandsAsRead {
    /// Whether a newer reader reads otherwise, so that reading anew is for the coach to choose; else the day is over.
    newer: bool,
    /// Parts that would be others: as kept, and as they are read today.
    otherwise: Vec<(String, String)>,
}

impl StandsAsRead {
    fn of(kept: &Kept, read: &Reading, catalogue: &Catalogue) -> Self {
        let otherwise = differences(&kept.parts, &read.session.parts, catalogue);
        Self { newer: kept.reader != version(), otherwise }
    }
}

/// The reading beside the text, and a word about what was done to it.
#[derive(Template)]
#[template(path = "day/read/reading.html")]
struct ReadingFragment {
    message: Option<Message>,
    view: ReadingView,
}

pub(crate) struct Message {
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
    /// Whether the page saves it by itself while somebody types.
    #[serde(default)]
    while_typing: bool,
    /// `line|column|found|suggestion`, when a suggestion was clicked.
    apply: Option<String>,
    /// What has been put right, as JSON.
    #[serde(default)]
    corrections: String,
}

/// What has been put right, from the field of a form.
pub(crate) fn corrections_in(field: &str) -> Result<Vec<Correction>, AppError> {
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
const STEPS: [&str; 8] = ["read", "warmup", "loads", "versions", "pace", "hour", "floor", "book"];

/// `GET /days/{day}/read`
#[get("/days/{day}/read")]
async fn show(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
    query: Query<Shown>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let saved = query.saved.is_some();
    let made = page_of(&tenant, &request, async { stored_page(&tenant, day, saved).await.map(Ok) });
    Ok(match made.await? {
        Ok(page) => {
            // Each window has a name of its own.
            let page = String::from_utf8_lossy(&page).replacen(ANY_WRITER, &removals::key(), 1);
            as_html(page.into_bytes().into())
        }
        Err(answer) => answer,
    })
}

/// What stands for the name of a window in a page that is shown to several.
const ANY_WRITER: &str = "the-name-of-this-window";

async fn stored_page(tenant: &Tenant, day: Slot, saved: bool) -> Result<ReadPage, AppError> {
    let gym = &tenant.gym;
    let catalogue = tenant.catalogue();
    let mut rows = tenant.look().await?;
    let DayRows { texts, classes, mut kept, .. } = day::rows(&mut rows, day.day, day.day, None).await?;
    drop(rows);
    let stored = texts.into_iter().next();
    let (text, revision, put_right) =
        stored.map_or_else(Default::default, |session| (session.text, session.revision, session.corrections));
    let read = reading_of(&text, &put_right, gym, &catalogue);
    let kept = that_counts(kept.remove(&day.day), gym, day.day, &classes);
    let stands = kept.as_ref().map(|kept| StandsAsRead::of(kept, &read, &catalogue));
    let view = ReadingView::new(&as_kept(read, kept.as_ref()), &catalogue, day.day);
    let message = saved.then(|| Message { bad: false, words: "Saved.".to_owned() });
    Ok(ReadPage {
        gym: gym.name.clone(),
        day,
        day_name: day.name(gym.clock),
        text,
        revision,
        writer: ANY_WRITER.to_owned(),
        unsaved: false,
        message,
        theirs: None,
        together: None,
        offer: None,
        stands: stands.filter(|stands| !stands.otherwise.is_empty()),
        view,
    })
}

/// `POST /days/{day}/read`: saves, unless somebody else did meanwhile, and goes on to the step asked for: a plan is always of the text
/// that was in front of whoever asked.
#[post("/days/{day}/read")]
async fn save(writing: Writer, path: web::Path<String>, form: Form<Text>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let Text { text: typed, revision, writer, then, corrections, while_typing, .. } = form.0;
    let corrections = corrections_in(&corrections)?;
    let shown = |text, revision, message| {
        let (corrections, writer) = (corrections.clone(), writer.clone());
        Unsaved::new(Typed { text, corrections, revision, writer }, message)
    };
    let bad = |words: &str| Message { bad: true, words: words.to_owned() };
    let text = match session_as_text(&typed, writing.hand().0.as_ref()) {
        Ok(imported) => imported.unwrap_or(typed),
        Err(error) => {
            let message = bad(&format!("Not saved: this begins as JSON does, but {error}."));
            let status = StatusCode::UNPROCESSABLE_ENTITY;
            return page(&writing, day, shown(typed, revision, message), status).await;
        }
    };
    let then = STEPS.iter().find(|step| **step == then).copied();
    let saved = async {
        let tenant = writing.tenant()?;
        if text.trim().is_empty() && revision == 0 {
            // Nothing was written and nothing stands: there is nothing to save, and nothing to plan.
            return Ok(Saved::As(0));
        }
        // What is kept is what stands in the text that is saved.
        let catalogue = tenant.catalogue();
        let standing = read_corrected(&text, &catalogue, &corrections).corrections;
        let put_right = serde_json::to_value(&standing).unwrap_or_else(|_| serde_json::json!([]));
        let own = tenant.gym.clone();
        let parts =
            crate::day::parts_of(text.clone(), put_right.clone(), own, catalogue.clone(), None).await?;
        let new = NewText {
            text: &text,
            corrections: &put_right,
            seen: revision,
            writer: &writer,
            by: &tenant.who.name,
            parts: &parts,
            while_typing,
        };
        let mut rows = tenant.change().await?;
        if while_typing && running::has_begun(&mut rows, day.day).await? {
            return Err(AppError::Runs);
        }
        // What has taught the gym already teaches nothing anew; what is saved while somebody types is not settled.
        let teaches = !while_typing && !standing.is_empty();
        let before = if teaches { sessions::decided(&mut rows, day.day).await? } else { None };
        let before: Vec<Correction> =
            before.and_then(|stored| serde_json::from_value(stored.corrections).ok()).unwrap_or_default();
        let saved = sessions::save(&mut rows, day.day, new).await?;
        if matches!(saved, Saved::As(_)) && teaches {
            // What was put right here is how this gym writes.
            let name = crate::day::day_name(day.day);
            let learn = |gym: &mut Gym| Ok(habits::learn(&mut gym.habits, &standing, &before, &text, &name));
            gyms::change(&mut rows, learn).await?;
        }
        rows.keep().await?;
        Ok::<_, AppError>(saved)
    };
    match saved.await {
        // The page stays as it is; only its revision is another.
        Ok(Saved::As(revision)) if while_typing => {
            Ok(HttpResponse::Ok().json(serde_json::json!({ "revision": revision })))
        }
        Ok(Saved::Conflict(_)) if while_typing => Ok(HttpResponse::Conflict().finish()),
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
            page(&writing, day, unsaved, StatusCode::CONFLICT).await
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
            let standard = writing.standard();
            let unsaved = shown(text, revision, bad(&words));
            html_as(
                status,
                &unsaved_page(
                    ("Honest Lantern".to_owned(), ClockFace::default()),
                    day,
                    unsaved,
                    &standard,
                    &Gym::default(),
                ),
            )
        }
        Err(error) => Err(error),
    }
}

/// `POST /days/{day}/read-anew`: what a newer reader makes of the text is kept from now on.
#[post("/days/{day}/read-anew")]
async fn read_anew(tenant: Tenant, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let mut rows = tenant.look().await?;
    let catalogue = tenant.catalogue();
    let session = sessions::of_day(&mut rows, day.day).await?.ok_or(AppError::NoSuchPage)?;
    drop(rows);
    let gym = tenant.gym.clone();
    let parts = crate::day::parts_of(session.text, session.corrections, gym, catalogue, None).await?;
    let mut rows = tenant.change().await?;
    pieces::read_anew(&mut rows, day.day, &parts).await?;
    rows.keep().await?;
    Ok(see_other(format!("/days/{day}/read")))
}

/// `POST /days/{day}/reading`: the reading of a text that is being typed.
#[post("/days/{day}/reading")]
async fn reading(
    writing: Writer,
    path: web::Path<String>,
    form: Form<BTreeMap<String, String>>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let (catalogue, gym) = writing.hand();
    let field = |name: &str| form.0.get(name).cloned().unwrap_or_default();
    let typed = field("text");
    let corrections = corrections_in(&field("corrections"))?;
    let replace = form.0.contains_key("replace");
    // JSON is shown as the text that saving makes of it. A long text takes its time: not on the thread that answers everybody.
    let view = web::block(move || {
        let text = session_as_text(&typed, &catalogue).ok().flatten().unwrap_or(typed);
        ReadingView::new(&gym.read(&text, &catalogue, &corrections), &catalogue, day.day)
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
    writing: Writer,
    path: web::Path<String>,
    form: Form<Together>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let Together { base, revision, writer, corrections } = form.0;
    let corrections = corrections_in(&corrections)?;
    let words = "Both changes stand in one text now; look it over and save.".to_owned();
    let message = Message { bad: false, words };
    let typed = Typed { text: base, corrections, revision, writer };
    page(&writing, day, Unsaved::new(typed, message), StatusCode::OK).await
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

/// A text that is not the stored one, and why it is shown.
pub(crate) struct Unsaved {
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
pub(crate) struct Typed {
    pub text: String,
    pub corrections: Vec<Correction>,
    pub revision: i32,
    pub writer: String,
}

/// The page with a text that is not the stored one.
pub(crate) async fn page(
    writing: &Writer,
    day: Slot,
    unsaved: Unsaved,
    status: StatusCode,
) -> Result<HttpResponse, AppError> {
    let (catalogue, hand) = writing.hand();
    html_as(status, &unsaved_page(writing.gym_name_and_clock(), day, unsaved, &catalogue, &hand))
}

fn unsaved_page(
    (gym, clock): (String, ClockFace),
    day: Slot,
    unsaved: Unsaved,
    catalogue: &Catalogue,
    hand: &Gym,
) -> ReadPage {
    let Unsaved { text, corrections, revision, writer, message, theirs, together, dates, offer } = unsaved;
    let read = hand.read(&text, catalogue, &corrections);
    let view = ReadingView::new(&read, catalogue, day.day);
    ReadPage {
        gym,
        day,
        day_name: day.name(clock),
        view: view.with_dates(dates),
        text,
        revision,
        writer: if writer.is_empty() { removals::key() } else { writer },
        unsaved: true,
        message: Some(message),
        theirs,
        together,
        offer,
        stands: None,
    }
}
