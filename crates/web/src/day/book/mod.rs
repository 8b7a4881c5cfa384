//! Book: results as they are called out, and at once what they say.

mod lifts;
mod view;

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, get, post, web};
use lantern_core::book::{Called, Done, Entry, Heard, Offer, call, done_as, scored};
use lantern_core::decide::{Decision, PieceDecision};
use lantern_core::limits::{self, Limit};
use lantern_core::running::{Event, GoneOn, Happened, gone_on, onward};
use lantern_core::versions::VersionName;
use lantern_store::lifts::{self as sets, StoredLift};
use lantern_store::results::{self, NewResult, OfClass};
use lantern_store::{LiftId, MemberId, ResultId, members, removals, running as happened};
use serde::Deserialize;

use self::lifts::LiftTold;
use self::view::BookPage;
pub(crate) use self::view::summed;
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
    config.service(show).service(enter).service(take_back).service(another_version).service(count_from);
}

/// Most lines that are taken in at once.
const MOST_LINES: usize = 80;

/// What is on file about a class: results, or sets that were entered.
pub(crate) struct Found {
    results: OfClass,
    lifts: Vec<(StoredLift, String)>,
    /// Whatever is on record of the lifts that were entered, of those who did them.
    on_record: Vec<StoredLift>,
}

async fn found(house: &House, day: Slot, what: What) -> Result<Found, AppError> {
    let mut rows = house.look().await?;
    let (mut results, mut lifts, mut on_record) = (OfClass::default(), Vec::new(), Vec::new());
    // Either is shown, so that only one is asked for.
    match what {
        What::Piece(_) => results = results::of_class(&mut rows, day.day, day.starts).await?,
        What::Lift(_) => {
            lifts = sets::entered_on(&mut rows, day.day).await?;
            let who: Vec<MemberId> = lifts.iter().map(|(set, _)| set.member_id).collect();
            let which: Vec<&str> = lifts.iter().map(|(set, _)| set.lift.as_str()).collect();
            on_record = sets::of_members(&mut rows, &who, &which).await?;
        }
    }
    Ok(Found { results, lifts, on_record })
}

/// What a page is about: one of the day's pieces, or one of its lifts.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum What {
    Piece(usize),
    Lift(usize),
}

impl What {
    fn of(piece: usize, lift: Option<usize>) -> Self {
        lift.map_or(Self::Piece(piece), Self::Lift)
    }

    /// How a form or an address names it.
    fn field(self) -> (&'static str, usize) {
        match self {
            Self::Piece(n) => ("piece", n),
            Self::Lift(n) => ("lift", n),
        }
    }

    /// Back to its page.
    fn shown_again(self, day: Slot) -> HttpResponse {
        let (name, n) = self.field();
        see_other(format_args!("/days/{day}/book?{name}={n}#enter"))
    }
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
    /// Or which of its lifts.
    lift: Option<usize>,
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
    let what = What::of(query.piece, query.lift);
    let made = async {
        let found = found(&tenant, day, what).await?;
        let nothing = (Vec::new(), String::new());
        let view = move |planned: &Planned| BookPage::new(planned, day, what, &found, nothing);
        Ok(with_plan(&tenant, day, view).await?.ok_or_else(|| to_read(day)))
    };
    shown(&tenant, &request, made).await
}

/// What is entered: lines as they are called, or one person's score with what else is told of it.
#[derive(Deserialize)]
pub(crate) struct Entered {
    #[serde(default)]
    piece: usize,
    lift: Option<usize>,
    text: String,
    /// Made where it is entered.
    #[serde(default)]
    pub key: String,
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
    /// Where it hurt: it goes to what they spare.
    #[serde(default)]
    hurt: String,
}

impl Entered {
    /// The lines that are taken in.
    fn lines(&self) -> impl Iterator<Item = &str> {
        self.written().take(MOST_LINES)
    }

    fn written(&self) -> impl Iterator<Item = &str> {
        self.text.lines().map(str::trim).filter(|line| !line.is_empty())
    }

    /// The lines beyond those, which stay in the field; a problem says so.
    fn too_many<'a>(&'a self, problems: &mut Vec<Problem>) -> impl Iterator<Item = &'a str> {
        let rest: Vec<&str> = self.written().skip(MOST_LINES).collect();
        if !rest.is_empty() {
            let why = format!("{MOST_LINES} lines are taken in at once; the rest is still in the field");
            problems.push(Problem { why, offers: Vec::new() });
        }
        rest.into_iter()
    }
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
    let what = What::of(entered.piece, entered.lift);
    let key = match entered.key.len() {
        0..8 => removals::key(),
        _ => entered.key.chars().take(48).collect(),
    };
    let hurt = entered.member.filter(|_| !entered.hurt.trim().is_empty());
    let hurt = hurt.map(|member| (member, Limit::hurt(&entered.hurt, &day.day.to_string())));
    if hurt.as_ref().is_some_and(|(_, limit)| limit.text.chars().count() > limits::LONGEST) {
        return Err(AppError::field("hurt", &entered.hurt, "a few words, such as `left knee`"));
    }
    let heard = with_plan(&tenant, day, move |planned| match what {
        What::Piece(_) => {
            let (told, problems, left) = heard(planned, &entered);
            (told, Vec::new(), problems, left)
        }
        What::Lift(lift) => {
            let (told, problems, left) = lifts::heard(planned, &entered, lift);
            (Vec::new(), told, problems, left)
        }
    });
    let Some((told, lifted, problems, left)) = heard.await? else { return Ok(to_read(day)) };
    let hurt = hurt.filter(|_| !told.is_empty());
    keep(&tenant, day, &of, (told, &lifted), (&key, hurt)).await?;
    if problems.is_empty() {
        return Ok(what.shown_again(day));
    }
    let found = found(&tenant, day, what).await?;
    let view = move |planned: &Planned| BookPage::new(planned, day, what, &found, (problems, left));
    match with_plan(&tenant, day, view).await? {
        Some(page) => html_as(StatusCode::UNPROCESSABLE_ENTITY, &page),
        None => Ok(to_read(day)),
    }
}

/// Keeps what was heard under the key that it came with.
async fn keep(
    tenant: &Tenant,
    day: Slot,
    of: &Of,
    (told, lifted): (Vec<Told>, &[LiftTold]),
    (key, hurt): (&str, Option<(MemberId, Limit)>),
) -> Result<(), AppError> {
    if told.is_empty() && lifted.is_empty() {
        return Ok(());
    }
    let parts = parts_now(tenant, day, of).await?;
    let mut rows = tenant.change().await?;
    let events = if told.is_empty() {
        Vec::new()
    } else {
        happened::of_class(&mut rows, (day.day, day.starts)).await?
    };
    let new = told.into_iter().zip(0..).map(|((part, member, entry), n)| NewResult {
        part,
        member,
        entry: entry.went_on(gone_on(&events, (part, member.number()))),
        key: format!("{key}-{n}"),
        said_at: None,
    });
    let new: Vec<NewResult> = new.collect();
    let lifted: Vec<_> = lifted.iter().map(|told| told.as_new(day.day)).collect();
    if !new.is_empty() {
        results::add(&mut rows, (day.day, day.starts), (&new, &tenant.who.name), (&parts, &tenant.gym))
            .await?;
    }
    sets::add_once(&mut rows, &lifted, key).await?;
    if let Some((member, limit)) = hurt {
        members::add_limits(&mut rows, member, &[limit]).await?;
    }
    Ok(rows.keep().await?)
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
    for line in entered.lines() {
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
    left.extend(entered.too_many(&mut problems));
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
    let done: Done = match scored(piece, person, version).hear(&entered.text) {
        Heard::Kept(done) | Heard::Asked { done, .. } => done,
        Heard::Refused(why) => return Err(format!("{}: {why}", person.name)),
    };
    let effort = match entered.effort.trim() {
        "" => None,
        text => Some(text.parse().map_err(|_| format!("effort goes from 1 to 10, not `{text}`"))?),
    };
    let entry = Entry::new(piece, person, version, done, entered.text.trim().to_owned());
    let hurt = !entered.hurt.trim().is_empty();
    let entry = Entry { effort, hurt, note: entered.note.trim().to_owned(), ..entry };
    entry.checked()?;
    Ok((piece.part, member, entry))
}

/// Keeps one person's score of a piece under a key, and that of whoever shares it with them; why not, where it is none. Nothing where the day has no text.
pub(crate) async fn keep_score(
    tenant: &Tenant,
    day: Slot,
    entered: Entered,
    key: &str,
) -> Result<Option<Result<(), String>>, AppError> {
    let told = with_plan(tenant, day, move |planned| {
        let piece = planned.plan.pieces.get(entered.piece).ok_or("no such piece")?;
        let member = entered.member.ok_or("a member is missing")?;
        let place = planned.ids.iter().position(|id| *id == member).ok_or("nobody of this class")?;
        let team = piece.teams.iter().find(|team| team.members.contains(&place));
        let whose = team.map_or(vec![place], |team| team.members.clone());
        whose.into_iter().map(|place| of_one(planned, &entered, planned.ids[place])).collect()
    });
    let told: Option<Result<Vec<Told>, String>> = told.await?;
    match told {
        None => Ok(None),
        Some(Err(why)) => Ok(Some(Err(why))),
        Some(Ok(told)) => {
            keep(tenant, day, &Of::default(), (told, &[]), (key, None)).await?;
            Ok(Some(Ok(())))
        }
    }
}

#[derive(Deserialize)]
struct AnotherVersion {
    #[serde(default)]
    piece: usize,
    member: MemberId,
    version: String,
    /// Seconds from their start, where they go on with it from there.
    at_s: Option<u32>,
}

/// `POST /days/{day}/book/version`: somebody does another version than planned; where their score stands already, it is theirs in that version.
#[post("/days/{day}/book/version")]
async fn another_version(
    tenant: Tenant,
    path: web::Path<String>,
    of: Query<Of>,
    form: Form<AnotherVersion>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let AnotherVersion { piece, member, version, at_s } = form.0;
    let Some(version) = VersionName::named(&version) else {
        return Err(AppError::field("version", &version, "one of the six versions"));
    };
    let found = found(&tenant, day, What::Piece(piece)).await?;
    let changed = with_plan(&tenant, day, move |planned| {
        let of_piece = planned.plan.pieces.get(piece)?;
        let place = planned.ids.iter().position(|id| *id == member)?;
        let person = of_piece.members.get(place)?;
        done_as(person, version)?;
        let goes_on = at_s.zip(onward(person).into_iter().find(|onward| onward.version == version));
        let goes_on = goes_on.map(|(at_s, onward)| Happened::GoesOn {
            part: of_piece.part,
            member: member.number(),
            how: GoneOn {
                from: person.chosen().version,
                to: version,
                at_s,
                ends_s: onward.ends_s(f64::from(at_s)),
            },
        });
        let stands = results::standing(found.results.said);
        let entered =
            stands.into_iter().find(|(part, result)| *part == of_piece.part && result.member == member);
        let again = entered.map(|(part, result)| {
            let Entry { done, said, effort, hurt, note, .. } = result.entry;
            (part, member, Entry { effort, hurt, note, ..Entry::new(of_piece, person, version, done, said) })
        });
        Some((person.name.clone(), goes_on, again))
    });
    let Some(changed) = changed.await? else { return Ok(to_read(day)) };
    let (name, goes_on, again) = changed.ok_or(AppError::NoSuchPage)?;
    if let Some(what) = goes_on {
        let mut rows = tenant.change().await?;
        let event = Event { at_ms: tenant.state.beat.now_ms(), what };
        let by = (&*removals::key(), &*tenant.who.name);
        happened::add(&mut rows, (day.day, day.starts), &event, by).await?;
        rows.keep().await?;
    }
    match again {
        Some(told) => keep(&tenant, day, &of, (vec![told], &[]), (&removals::key(), None)).await?,
        None => {
            let chosen = Decision::Pieces(PieceDecision::Choose { piece, member: name, version });
            crate::day::decide(&tenant, day, &[chosen], &of).await?;
        }
    }
    Ok(What::Piece(piece).shown_again(day))
}

#[derive(Deserialize)]
struct Back {
    /// A result.
    id: Option<ResultId>,
    /// Or the key of a set.
    #[serde(default)]
    key: String,
    #[serde(default)]
    piece: usize,
    lift: Option<usize>,
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
    match form.id {
        Some(id) => results::undo(&mut rows, day.day, id, (by, &tenant.gym)).await?,
        None => sets::take_back(&mut rows, day.day, &form.key).await?,
    }
    rows.keep().await?;
    Ok(What::of(form.piece, form.lift).shown_again(day))
}

#[derive(Deserialize)]
struct Counted {
    #[serde(default)]
    lift: usize,
    /// The key of a set that was entered on Loads, where it is asked there.
    entered: Option<String>,
    member: MemberId,
    /// The set on record.
    set: LiftId,
    /// `yes`, `no`, or `ask` again.
    say: String,
}

/// `POST /days/{day}/book/max`: whether loads are counted from a better max that a class has shown.
#[post("/days/{day}/book/max")]
async fn count_from(
    tenant: Tenant,
    path: web::Path<String>,
    form: Form<Counted>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let kept = match form.say.as_str() {
        "yes" => Some(true),
        "no" => Some(false),
        "ask" => None,
        other => return Err(AppError::field("say", other, "yes, no or ask")),
    };
    let mut rows = tenant.change().await?;
    sets::count_from(&mut rows, form.member, form.set, kept).await?;
    rows.keep().await?;
    Ok(match &form.entered {
        Some(key) => see_other(format_args!("/days/{day}/loads?entered={}", key)),
        None => What::Lift(form.lift).shown_again(day),
    })
}
