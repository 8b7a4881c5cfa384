//! Book: results as they are called out, and at once what they say.

mod view;

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, get, post, web};
use lantern_core::book::{Called, Entry, Offer, Scored, call, done_as};
use lantern_core::book::{Done, Heard};
use lantern_core::versions::VersionName;
use lantern_store::results::{self, NewResult, OfClass};
use lantern_store::{MemberId, ResultId, removals};
use serde::Deserialize;

use self::view::BookPage;
use crate::day::planned::{Planned, to_read, with_plan};
use crate::day::{Of, parts_now, slot_of};
use crate::planning::shown::shown;
use crate::request::house::House;
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::request::{Form, Query};
use crate::respond::error::{AppError, html_as};
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(enter).service(take_back);
}

/// Most lines that are taken in at once.
const MOST_LINES: usize = 80;

async fn found(house: &House, day: Slot) -> Result<OfClass, AppError> {
    Ok(results::of_class(&mut house.look().await?, day.day, day.starts).await?)
}

/// What was wrong with a line, and what it could mean.
pub(crate) struct Problem {
    pub why: String,
    pub offers: Vec<Offer>,
}

#[derive(Deserialize)]
struct Asked {
    /// Which of the day's pieces.
    #[serde(default)]
    piece: usize,
}

/// `GET /days/{day}/book?piece=0`
#[get("/days/{day}/book")]
async fn show(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
    query: Query<Asked>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let place = query.piece;
    let made = async {
        let found = found(&tenant, day).await?;
        let view =
            move |planned: &Planned| BookPage::new(planned, day, place, &found, (Vec::new(), String::new()));
        Ok(with_plan(&tenant, day, view).await?.ok_or_else(|| to_read(day)))
    };
    shown(&tenant, &request, made).await
}

/// What is entered: lines as they are called, or one person's score with what else is told of it.
#[derive(Deserialize)]
struct Entered {
    #[serde(default)]
    piece: usize,
    text: String,
    /// Made where it is entered.
    #[serde(default)]
    key: String,
    /// Odd scores are kept.
    sure: Option<String>,
    /// Whose score it is, where it is about one person.
    member: Option<MemberId>,
    #[serde(default)]
    version: String,
    #[serde(default)]
    effort: String,
    #[serde(default)]
    note: String,
}

/// A result that was heard: the part's place among all of the text, whose it is, and what it is.
type Told = (usize, MemberId, Entry);

/// `POST /days/{day}/book`: keeps what was called; what could mean several things, or is odd, is asked about, and what is neither stays in the field.
#[post("/days/{day}/book")]
async fn enter(
    tenant: Tenant,
    path: web::Path<String>,
    of: Query<Of>,
    form: Form<Entered>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let entered = form.0;
    let (place, key) = (entered.piece, entered.key.clone());
    let heard = with_plan(&tenant, day, move |planned| heard(planned, &entered)).await?;
    let Some((told, problems, left)) = heard else { return Ok(to_read(day)) };
    if !told.is_empty() {
        let key = if key.len() < 8 { removals::key() } else { key.chars().take(48).collect() };
        let new = told.into_iter().zip(0..).map(|((part, member, entry), n)| NewResult {
            part,
            member,
            entry,
            key: format!("{key}-{n}"),
        });
        let new: Vec<NewResult> = new.collect();
        let parts = parts_now(&tenant, day, &of).await?;
        let mut rows = tenant.change().await?;
        results::add(&mut rows, (day.day, day.starts), (&new, &tenant.who.name), &parts).await?;
        rows.keep().await?;
    }
    if problems.is_empty() {
        return Ok(see_other(format!("/days/{day}/book?piece={place}#enter")));
    }
    let found = found(&tenant, day).await?;
    let view = move |planned: &Planned| BookPage::new(planned, day, place, &found, (problems, left));
    match with_plan(&tenant, day, view).await? {
        Some(page) => html_as(StatusCode::UNPROCESSABLE_ENTITY, &page),
        None => Ok(to_read(day)),
    }
}

/// What of the lines is kept, what is asked or refused, and the lines that are left to be put right.
fn heard(planned: &Planned, entered: &Entered) -> (Vec<Told>, Vec<Problem>, String) {
    let Some(piece) = planned.plan.pieces.get(entered.piece) else {
        let why = "that piece stands in the text no longer; look at the day again".to_owned();
        return (Vec::new(), vec![Problem { why, offers: Vec::new() }], entered.text.clone());
    };
    let sure = entered.sure.is_some();
    if let Some(member) = entered.member {
        return match of_one(planned, entered, member) {
            Ok(told) => (vec![told], Vec::new(), String::new()),
            Err(why) => (Vec::new(), vec![Problem { why, offers: Vec::new() }], String::new()),
        };
    }
    let (mut told, mut problems, mut left) = (Vec::new(), Vec::new(), Vec::new());
    let lines = entered.text.lines().map(str::trim).filter(|line| !line.is_empty());
    for (n, line) in lines.enumerate() {
        if n == MOST_LINES {
            let why = format!("at most {MOST_LINES} lines are taken in at once");
            problems.push(Problem { why, offers: Vec::new() });
            break;
        }
        match call(line, piece, sure) {
            Called::Kept { who, done, said } => told.extend(who.into_iter().map(|who| {
                let member = &piece.members[who];
                let version = member.chosen().version;
                (piece.part, planned.ids[who], Entry::new(piece, member, version, done.clone(), said.clone()))
            })),
            Called::Asked { why, offers } => problems.push(Problem { why, offers }),
            Called::Refused(why) => {
                left.push(line);
                problems.push(Problem { why, offers: Vec::new() });
            }
        }
    }
    if told.is_empty() && problems.is_empty() {
        let why = "a name and a score are missing".to_owned();
        problems.push(Problem { why, offers: Vec::new() });
    }
    (told, problems, left.join("\n"))
}

/// One person's score with what else is told of it. It was looked at, so that what is odd is kept.
fn of_one(planned: &Planned, entered: &Entered, member: MemberId) -> Result<Told, String> {
    let place = planned.ids.iter().position(|id| *id == member).ok_or("nobody of this class")?;
    let piece = &planned.plan.pieces[entered.piece];
    let person = piece.members.get(place).ok_or("nobody of this piece")?;
    let version = match entered.version.as_str() {
        "" => person.chosen().version,
        name => VersionName::named(name).ok_or("one of the six versions is missing")?,
    };
    if done_as(person, version).is_none() {
        return Err(format!("{} is no version of this piece", version.label()));
    }
    let done: Done = match Scored::of(piece.written(), &piece.window).hear(&entered.text) {
        Heard::Kept(done) | Heard::Asked { done, .. } => done,
        Heard::Refused(why) => return Err(format!("{}: {why}", person.name)),
    };
    let effort = match entered.effort.trim() {
        "" => None,
        text => Some(text.parse().map_err(|_| format!("effort goes from 1 to 10, not `{text}`"))?),
    };
    let entry = Entry::new(piece, person, version, done, entered.text.trim().to_owned());
    let entry = Entry { effort, note: entered.note.trim().to_owned(), ..entry };
    entry.checked()?;
    Ok((piece.part, member, entry))
}

#[derive(Deserialize)]
struct Back {
    id: ResultId,
    #[serde(default)]
    piece: usize,
    /// `undo` takes it back, `again` has it stand again.
    action: String,
}

/// `POST /days/{day}/book/undo`: a result is taken back, and what stood there before stands again; or it stands again itself.
#[post("/days/{day}/book/undo")]
async fn take_back(
    tenant: Tenant,
    path: web::Path<String>,
    form: Form<Back>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let by = match form.action.as_str() {
        "undo" => Some(tenant.who.name.as_str()),
        "again" => None,
        other => return Err(AppError::field("action", other, "undo or again")),
    };
    let mut rows = tenant.change().await?;
    results::undo(&mut rows, day.day, form.id, by).await?;
    rows.keep().await?;
    Ok(see_other(format!("/days/{day}/book?piece={}#enter", form.piece)))
}
