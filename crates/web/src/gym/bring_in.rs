//! Lifts and results of before: from a table in, and all of them out again.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, get, post, web};
use askama::Template;
use chrono::{Days, NaiveDate};
use lantern_core::book::Entry;
use lantern_core::bring_in::{BroughtIn, DayOrder, Meaning, PastLift, PastResult, bring_in};
use lantern_core::movement::Catalogue;
use lantern_core::session::Session;
use lantern_core::table::safe_cell;
use lantern_store::lifts::NewLift;
use lantern_store::past::{self, OldResult};
use lantern_store::pieces::NewPiece;
use lantern_store::{MemberId, StoreError, lifts, members, removals, results};
use serde::Deserialize;

use crate::day::day_name;
use crate::request::tenant::{Owning, Tenant};
use crate::request::{Form, Query};
use crate::respond::error::{AppError, html, html_as};
use crate::respond::filters;
use crate::respond::redirect::see_other;
use crate::respond::tables::{TableKind, download};

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config
        .service(show)
        .service(look)
        .service(take_in)
        .service(take_back)
        .service(lifts_out)
        .service(results_out);
    config.service(
        web::resource("/gym/history/file")
            .app_data(web::PayloadConfig::new(LARGEST_FILE))
            .route(web::post().to(from_file)),
    );
}

/// Largest file, in bytes.
const LARGEST_FILE: usize = 4 * 1024 * 1024;
/// Rows that are shown before they are taken in.
const SHOWN: usize = 12;
/// Errors that are named.
const NAMED: usize = 30;

#[derive(Default, Template)]
#[template(path = "gym/bring_in.html")]
struct BringInPage {
    gym: String,
    csv: String,
    looked: bool,
    columns: Vec<ColumnView>,
    meanings: Vec<(String, String)>,
    order: &'static str,
    asks_order: bool,
    rows: Vec<RowView>,
    /// Lifts and results that can be taken in.
    lifts: usize,
    results: usize,
    errors: Vec<String>,
    more_errors: usize,
    /// Whether every column has a meaning.
    ready: bool,
    message: Option<String>,
    /// What was just taken in.
    taken: Option<Taken>,
}

struct Taken {
    key: String,
    rows: usize,
}

struct ColumnView {
    name: String,
    chosen: String,
}

struct RowView {
    name: String,
    day: String,
    told: String,
}

#[derive(Deserialize)]
struct Asked {
    /// The key of what was just taken in, and how many rows it was.
    taken: Option<String>,
    rows: Option<usize>,
}

/// `GET /gym/history`
#[get("/gym/history")]
async fn show(tenant: Tenant<Owning>, query: Query<Asked>) -> Result<HttpResponse, AppError> {
    let taken = query.taken.clone().map(|key| Taken { key, rows: query.rows.unwrap_or_default() });
    html(&BringInPage { gym: tenant.gym.name.clone(), taken, ..BringInPage::default() })
}

/// `POST /gym/history/file`: the table of a spreadsheet or a text file, to be shown in the field; nothing is kept of the file.
async fn from_file(_: Tenant<Owning>, bytes: web::Bytes) -> Result<HttpResponse, AppError> {
    let read = web::block(move || lantern_documents::table_of(&bytes)).await;
    let opened = match read.map_err(|error| AppError::Inside(error.to_string()))? {
        Ok(text) => serde_json::json!({ "text": text }),
        Err(error) => serde_json::json!({ "why": error.to_string() }),
    };
    Ok(HttpResponse::Ok().json(opened))
}

/// The form: the table, `column` and `means` in turn, and how days with strokes are read.
struct Typed {
    csv: String,
    said: Vec<(String, Meaning)>,
    order: &'static str,
    leave_out: bool,
}

impl Typed {
    fn read(form: &[(String, String)], catalogue: &Catalogue) -> Self {
        let field =
            |name: &str| form.iter().find(|(known, _)| known == name).map(|(_, value)| value.as_str());
        let all = |wanted: &'static str| {
            form.iter().filter(move |(name, _)| name == wanted).map(|(_, value)| value)
        };
        let said = all("column").zip(all("means"));
        Self {
            csv: field("csv").unwrap_or_default().to_owned(),
            said: said
                .filter_map(|(column, key)| Some((column.clone(), Meaning::from_key(key, catalogue)?)))
                .collect(),
            order: match field("order") {
                Some("day") => "day",
                Some("month") => "month",
                _ => "",
            },
            leave_out: field("leave_out").is_some(),
        }
    }

    fn brought(&self, tenant: &Tenant<Owning>) -> BroughtIn {
        let order = match self.order {
            "day" => Some(DayOrder::DayFirst),
            "month" => Some(DayOrder::MonthFirst),
            _ => None,
        };
        bring_in(&self.csv, &self.said, (order, tenant.gym.unit), &tenant.catalogue())
    }
}

/// What of a table can be taken in, with whose it is; and what cannot.
struct Looked {
    lifts: Vec<(MemberId, PastLift)>,
    results: Vec<(MemberId, PastResult)>,
    errors: Vec<String>,
}

impl Looked {
    fn new(brought: &BroughtIn, known: &[(MemberId, String)], today: NaiveDate) -> Self {
        let mut errors: Vec<(usize, String)> =
            brought.errors.iter().map(|error| (error.line, error.to_string())).collect();
        let mut whose = |line: usize, name: &str, on: NaiveDate| {
            let wrong = match known.iter().find(|(_, known)| known.eq_ignore_ascii_case(name)) {
                Some((id, _)) if on <= today => return Some(*id),
                Some(_) => format!("line {line}: {on} is still to come"),
                None => format!("line {line}: nobody here is called `{name}`; take in the member first"),
            };
            errors.push((line, wrong));
            None
        };
        let lifts = brought.lifts.iter();
        let lifts = lifts.filter_map(|row| Some((whose(row.line, &row.member, row.on)?, row.clone())));
        let lifts: Vec<_> = lifts.collect();
        let results = brought.results.iter();
        let results = results.filter_map(|row| Some((whose(row.line, &row.member, row.on)?, row.clone())));
        let results = results.collect();
        errors.sort();
        Self { lifts, results, errors: errors.into_iter().map(|(_, told)| told).collect() }
    }
}

/// `POST /gym/history`: what the table would bring, and nothing else.
#[post("/gym/history")]
async fn look(tenant: Tenant<Owning>, form: Form<Vec<(String, String)>>) -> Result<HttpResponse, AppError> {
    let typed = Typed::read(&form, &tenant.catalogue());
    looked_at(&tenant, &typed, None).await
}

async fn looked_at(
    tenant: &Tenant<Owning>,
    typed: &Typed,
    message: Option<String>,
) -> Result<HttpResponse, AppError> {
    let catalogue = tenant.catalogue();
    let known = members::called_by_id(&mut tenant.look().await?).await?;
    let brought = typed.brought(tenant);
    let looked = Looked::new(&brought, &known, tenant.today());
    let unit = tenant.gym.unit;
    let lift = |(_, row): &(MemberId, PastLift)| RowView {
        name: row.member.clone(),
        day: format!("{} {}", day_name(row.on), row.on),
        told: format!("{} x {} {}", row.reps, row.load.show(unit), catalogue.name(&row.lift).to_lowercase()),
    };
    let result = |(_, row): &(MemberId, PastResult)| RowView {
        name: row.member.clone(),
        day: format!("{} {}", day_name(row.on), row.on),
        told: format!("{} {}", row.done, row.version.label()),
    };
    let chosen = |(name, meaning): &(String, Option<Meaning>)| ColumnView {
        name: name.clone(),
        chosen: meaning.as_ref().map(Meaning::key).unwrap_or_default(),
    };
    let maxes = catalogue.iter().filter(|movement| movement.is_barbell()).map(|movement| {
        (Meaning::MaxOf(movement.id.clone()).key(), format!("1RM of {}", movement.name.to_lowercase()))
    });
    let page = BringInPage {
        gym: tenant.gym.name.clone(),
        csv: typed.csv.clone(),
        looked: true,
        columns: brought.columns.iter().map(chosen).collect(),
        meanings: Meaning::all().map(|(key, words)| (key, words.to_owned())).chain(maxes).collect(),
        order: typed.order,
        asks_order: brought.asks_order || !typed.order.is_empty(),
        rows: looked.lifts.iter().map(lift).chain(looked.results.iter().map(result)).take(SHOWN).collect(),
        lifts: looked.lifts.len(),
        results: looked.results.len(),
        more_errors: looked.errors.len().saturating_sub(NAMED),
        errors: looked.errors.into_iter().take(NAMED).collect(),
        ready: brought.columns.iter().all(|(_, meaning)| meaning.is_some()),
        message,
        taken: None,
    };
    let nothing = page.lifts + page.results == 0 || page.message.is_some();
    html_as(if nothing { StatusCode::UNPROCESSABLE_ENTITY } else { StatusCode::OK }, &page)
}

/// `POST /gym/history/take`: all of it or nothing; rows that cannot be read are left out only when that was asked for.
#[post("/gym/history/take")]
async fn take_in(
    tenant: Tenant<Owning>,
    form: Form<Vec<(String, String)>>,
) -> Result<HttpResponse, AppError> {
    let catalogue = tenant.catalogue();
    let typed = Typed::read(&form, &catalogue);
    let brought = typed.brought(&tenant);
    if let Some((column, _)) = brought.columns.iter().find(|(_, meaning)| meaning.is_none()) {
        let message = format!("Nothing was taken in: say what the column `{column}` means first.");
        return looked_at(&tenant, &typed, Some(message)).await;
    }
    let mut rows = tenant.change().await?;
    let known = members::called_by_id(&mut rows).await?;
    let looked = Looked::new(&brought, &known, tenant.today());
    if !looked.errors.is_empty() && !typed.leave_out {
        drop(rows);
        let message = "Nothing was taken in: mend the rows named below, or tick that they are left out.";
        return looked_at(&tenant, &typed, Some(message.to_owned())).await;
    }
    let lifts: Vec<(MemberId, NewLift<'_>)> = looked.lifts.iter().map(new_lift).collect();
    let old = |(member, row): &(MemberId, PastResult)| {
        let session = Session { parts: vec![row.part.clone()], ..Session::default() };
        let piece = NewPiece::of(&session, &catalogue).remove(0);
        let entry = Entry {
            version: row.version,
            done: row.done.clone(),
            said: row.said.clone(),
            // What was predicted then, nobody knows.
            predicted: None,
            value: None,
            at_least: false,
            gone_on: None,
            effort: None,
            hurt: false,
            note: row.note.clone(),
        };
        OldResult { member: *member, day: row.on, piece, entry }
    };
    let old: Vec<OldResult> = looked.results.iter().map(old).collect();
    let (key, count) = (removals::key(), lifts.len() + old.len());
    let by = (key.as_str(), tenant.who.name.as_str());
    match past::take_in(&mut rows, (&lifts, &old), by, &tenant.gym).await {
        Ok(()) => {
            rows.keep().await?;
            Ok(see_other(format_args!("/gym/history?taken={key}&rows={count}")))
        }
        Err(StoreError::Refused(why)) => {
            drop(rows);
            looked_at(&tenant, &typed, Some(format!("Nothing was taken in: {why}."))).await
        }
        Err(error) => Err(error.into()),
    }
}

fn new_lift((member, row): &(MemberId, PastLift)) -> (MemberId, NewLift<'_>) {
    let PastLift { lift, load, reps, rpe, source, on, .. } = row;
    let new = NewLift {
        lift: lift.as_str(),
        load: *load,
        reps: *reps,
        rpe: *rpe,
        missed: false,
        source: *source,
        set_on: *on,
        kept: Some(true),
        asked: None,
    };
    (*member, new)
}

#[derive(Deserialize)]
struct Back {
    key: String,
}

/// `POST /gym/history/back`: whatever came from one table goes again.
#[post("/gym/history/back")]
async fn take_back(tenant: Tenant<Owning>, form: Form<Back>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    past::take_back(&mut rows, (&form.key, &tenant.who.name), &tenant.gym).await?;
    rows.keep().await?;
    Ok(see_other("/gym/history"))
}

/// `GET /gym/lifts.csv`, `.xlsx` or `.json`: every set on record, as the import reads it.
#[get("/gym/lifts.{kind}")]
async fn lifts_out(tenant: Tenant<Owning>, kind: web::Path<TableKind>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.look().await?;
    let names = members::called_by_id(&mut rows).await?;
    let all = lifts::of_gym(&mut rows).await?;
    let mut out = csv::Writer::from_writer(Vec::new());
    let header = ["name", "day", "lift", "weight", "unit", "reps", "rpe", "missed", "source"];
    out.write_record(header).map_err(|error| AppError::Inside(error.to_string()))?;
    for set in all {
        let name = names.iter().find(|(id, _)| *id == set.member_id).map_or("", |(_, name)| name.as_str());
        let kg = f64::from(set.grams) / 1000.0;
        let row = [
            safe_cell(name),
            set.set_on.to_string(),
            set.lift.replace('-', " "),
            kg.to_string(),
            "kg".to_owned(),
            set.reps.to_string(),
            set.rpe.map(|rpe| rpe.to_string()).unwrap_or_default(),
            if set.missed { "yes" } else { "" }.to_owned(),
            set.source,
        ];
        out.write_record(row).map_err(|error| AppError::Inside(error.to_string()))?;
    }
    given_out(out, "lifts", *kind).await
}

/// `GET /gym/results.csv`, `.xlsx` or `.json`: every result that stands, as the import reads it.
#[get("/gym/results.{kind}")]
async fn results_out(tenant: Tenant<Owning>, kind: web::Path<TableKind>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.look().await?;
    let names = members::called_by_id(&mut rows).await?;
    let mut out = csv::Writer::from_writer(Vec::new());
    let header = ["name", "day", "piece", "score", "version", "note"];
    out.write_record(header).map_err(|error| AppError::Inside(error.to_string()))?;
    // Some weeks at a time: ten years of rows with what was predicted of them need not be in memory at once.
    let mut from = results::first_day(&mut rows).await?.unwrap_or(results::LAST_DAY);
    while from < results::LAST_DAY {
        let to = (from + Days::new(DAYS_AT_ONCE)).min(results::LAST_DAY);
        for result in results::between(&mut rows, (from, to), i64::MAX).await? {
            let id = MemberId::new(result.member);
            let name = names.iter().find(|(known, _)| *known == id).map_or("", |(_, name)| name.as_str());
            let row = [
                safe_cell(name),
                result.day.to_string(),
                safe_cell(&result.words),
                result.entry.done.to_string(),
                result.entry.version.label().to_owned(),
                safe_cell(&result.entry.note),
            ];
            out.write_record(row).map_err(|error| AppError::Inside(error.to_string()))?;
        }
        from = if to > tenant.today() { results::LAST_DAY } else { to };
    }
    given_out(out, "results", *kind).await
}

/// Days of results that are read at once on their way out.
const DAYS_AT_ONCE: u64 = 84;

async fn given_out(out: csv::Writer<Vec<u8>>, name: &str, kind: TableKind) -> Result<HttpResponse, AppError> {
    let csv = out.into_inner().map_err(|error| AppError::Inside(error.to_string()))?;
    download(csv, name, kind).await
}
