//! The roster in and out: a table with a preview in which every column is accounted for, and one member's file to take along or to
//! delete.

use std::collections::BTreeMap;

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, get, post, web};
use askama::Template;
use chrono::NaiveDate;
use lantern_core::member::Member;
use lantern_core::roster::{self, Choice, read_roster, roster_to_csv};
use lantern_core::strength::{LiftRow, is_lifts_csv, lifts_from_csv};
use lantern_core::table::RowError;
use lantern_store::lifts::NewLift;
use lantern_store::members::StoredMember;
use lantern_store::person::{self, Also};
use lantern_store::{MemberId, StoreError, health_views, lifts, members};
use serde::Deserialize;

use crate::members::take_along;
use crate::request::Form;
use crate::request::tenant::{Owning, Tenant};
use crate::respond::error::{AppError, html, html_as};
use crate::respond::filters;
use crate::respond::redirect::see_other;
use crate::respond::tables::{TableKind, download};

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(preview).service(take_in).service(out).service(file_of).service(delete);
}

#[derive(Default, Template)]
#[template(path = "members/roster.html")]
struct RosterPage {
    gym: String,
    csv: String,
    /// Rows that can be taken in, once looked at.
    good: Vec<GoodRow>,
    bad: Vec<String>,
    looked: bool,
    /// Columns that somebody must say the meaning of.
    columns: Vec<ColumnView>,
    /// What a column can be.
    meanings: Vec<(String, String)>,
    /// Whether everything that must be said has been said.
    ready: bool,
    message: Option<String>,
}

struct ColumnView {
    name: String,
    /// The meaning chosen or likeliest.
    chosen: String,
}

struct GoodRow {
    name: String,
    news: &'static str,
    told: String,
    /// Limits that were not understood.
    unread: Vec<String>,
}

/// The form: the text, `column` and `means` in turn for each unknown column, and whether bad rows are left out.
struct Typed {
    csv: String,
    choices: BTreeMap<String, Choice>,
    leave_out: bool,
}

impl Typed {
    fn read(form: &[(String, String)]) -> Self {
        let field = |name: &str| form.iter().find(|(known, _)| known == name).map(|(_, value)| value.clone());
        let columns = form.iter().filter(|(name, _)| name == "column").map(|(_, value)| value.clone());
        let means = form.iter().filter(|(name, _)| name == "means").map(|(_, value)| Choice::named(value));
        Self {
            csv: field("csv").unwrap_or_default(),
            choices: columns.zip(means).filter_map(|(column, choice)| Some((column, choice?))).collect(),
            leave_out: field("leave_out").is_some(),
        }
    }
}

/// What a table would bring.
enum Looked {
    People(roster::Roster),
    Lifts(Vec<(MemberId, LiftRow)>, Vec<RowError>),
}

impl Looked {
    fn bad(&self) -> &[RowError] {
        match self {
            Self::People(roster) => &roster.errors,
            Self::Lifts(_, bad) => bad,
        }
    }
}

/// `GET /members/import`
#[get("/members/import")]
async fn show(tenant: Tenant) -> Result<HttpResponse, AppError> {
    let gym = tenant.gym.clone();
    html(&RosterPage { gym: gym.name, ..RosterPage::default() })
}

/// `POST /members/import`: what the table would bring, and nothing else.
#[post("/members/import")]
async fn preview(tenant: Tenant, form: Form<Vec<(String, String)>>) -> Result<HttpResponse, AppError> {
    looked_at(&tenant, Typed::read(&form), None).await
}

async fn looked_at(tenant: &Tenant, typed: Typed, message: Option<String>) -> Result<HttpResponse, AppError> {
    let gym = tenant.gym.clone();
    let mut rows = tenant.look().await?;
    let known = members::of_gym(&mut rows, &gym, tenant.today()).await?;
    let looked = look(tenant, &typed, &known).await?;
    let catalogue = tenant.catalogue();
    let (good, columns) = match &looked {
        Looked::Lifts(rows, _) => {
            let told = |row: &LiftRow| {
                let set = format!("{} x {}", row.reps, row.load.show(gym.unit));
                format!("{} {set} {}", catalogue.name(&row.lift).to_lowercase(), row.on)
            };
            let row = |(_, row): &(MemberId, LiftRow)| GoodRow {
                name: row.member.clone(),
                news: "lift",
                told: told(row),
                unread: Vec::new(),
            };
            (rows.iter().map(row).collect::<Vec<_>>(), Vec::new())
        }
        Looked::People(roster) => {
            let row = |member: &Member| {
                let stands = known.iter().any(|stored| stored.member.name == member.name);
                let unread = member.limits.iter().filter(|limit| limit.is_unread());
                GoodRow {
                    name: member.name.clone(),
                    news: if stands { "news" } else { "new" },
                    told: told(member),
                    unread: unread.map(|limit| limit.text.clone()).collect(),
                }
            };
            let open = roster.unknown.iter().map(|(name, likely)| ColumnView {
                name: name.clone(),
                chosen: likely.clone().unwrap_or_default(),
            });
            let said = typed.choices.iter().map(|(name, choice)| ColumnView {
                name: name.clone(),
                chosen: match choice {
                    Choice::As(key) => key.clone(),
                    Choice::Note => "note".to_owned(),
                    Choice::Drop => "drop".to_owned(),
                },
            });
            (roster.members.iter().map(row).collect(), said.chain(open).collect::<Vec<_>>())
        }
    };
    let open = matches!(&looked, Looked::People(roster) if !roster.unknown.is_empty());
    let status =
        if good.is_empty() || message.is_some() { StatusCode::UNPROCESSABLE_ENTITY } else { StatusCode::OK };
    let page = RosterPage {
        gym: gym.name,
        csv: typed.csv,
        ready: !open && !good.is_empty(),
        good,
        bad: looked.bad().iter().map(ToString::to_string).collect(),
        looked: true,
        meanings: if columns.is_empty() { Vec::new() } else { roster::columns() },
        columns,
        message,
    };
    html_as(status, &page)
}

async fn look(tenant: &Tenant, typed: &Typed, known: &[StoredMember]) -> Result<Looked, AppError> {
    if !is_lifts_csv(&typed.csv) {
        return Ok(Looked::People(read_roster(&typed.csv, &typed.choices)));
    }
    let catalogue = tenant.catalogue();
    let (lifts, mut bad) = lifts_from_csv(&typed.csv, &catalogue);
    let mut good = Vec::new();
    for row in lifts {
        let late = row.on.parse::<NaiveDate>().is_ok_and(|on| on > tenant.today());
        match known.iter().find(|stored| stored.member.name == row.member) {
            _ if late => {
                bad.push(RowError {
                    line: row.line,
                    message: format!("the day `{}` is still to come", row.on),
                });
            }
            Some(stored) => good.push((stored.id, row)),
            None => {
                let message = format!("nobody here is called `{}`; take in the member first", row.member);
                bad.push(RowError { line: row.line, message });
            }
        }
    }
    bad.sort_by_key(|error| error.line);
    Ok(Looked::Lifts(good, bad))
}

/// A row in a few words.
fn told(member: &Member) -> String {
    let mut words = vec![member.experience.name().to_owned()];
    words.push(match member.maxes.len() {
        0 => "no maxes".to_owned(),
        1 => "1 max".to_owned(),
        n => format!("{n} maxes"),
    });
    if !member.limits.is_empty() {
        words.push(format!("{} to spare", member.limits.len()));
    }
    if !member.notes.is_empty() {
        words.push("notes".to_owned());
    }
    words.join(", ")
}

/// `POST /members/import/take`: all of it or nothing. Bad rows are left out only when that was asked for, and every column must have its
/// meaning.
#[post("/members/import/take")]
async fn take_in(tenant: Tenant, form: Form<Vec<(String, String)>>) -> Result<HttpResponse, AppError> {
    let typed = Typed::read(&form);
    let gym = tenant.gym.clone();
    let mut rows = tenant.change().await?;
    let known = members::of_gym(&mut rows, &gym, tenant.today()).await?;
    let looked = look(&tenant, &typed, &known).await?;
    if let Looked::People(roster) = &looked
        && let Some((column, _)) = roster.unknown.first()
    {
        let message = format!("Nothing was taken in: say what the column `{column}` means first.");
        return looked_at(&tenant, typed, Some(message)).await;
    }
    if !looked.bad().is_empty() && !typed.leave_out {
        let message =
            "Nothing was taken in: mend the rows named below, or tick that they are left out.".to_owned();
        return looked_at(&tenant, typed, Some(message)).await;
    }
    let taken = match &looked {
        Looked::People(roster) => members::take_in(&mut rows, &roster.members, tenant.today()).await,
        Looked::Lifts(lifts, _) => {
            let new = |(member, row): &(MemberId, LiftRow)| {
                // A row without a day is of today; one with a day has one of the calendar.
                let set_on = row.on.parse().unwrap_or_else(|_| tenant.today());
                let LiftRow { load, reps, rpe, missed, source, .. } = *row;
                (*member, set_on, load, reps, rpe, missed, source)
            };
            let lifts: Vec<_> = lifts.iter().map(|row| (new(row), row.1.lift.to_string())).collect();
            let sets: Vec<(MemberId, NewLift<'_>)> = lifts
                .iter()
                .map(|((member, set_on, load, reps, rpe, missed, source), lift)| {
                    let (set_on, load, reps, rpe) = (*set_on, *load, *reps, *rpe);
                    (
                        *member,
                        NewLift {
                            lift,
                            load,
                            reps,
                            rpe,
                            missed: *missed,
                            source: *source,
                            set_on,
                            kept: Some(true),
                            asked: None,
                        },
                    )
                })
                .collect();
            lifts::add_all(&mut rows, &sets).await
        }
    };
    match taken {
        Ok(()) => {
            rows.keep().await?;
            Ok(see_other("/members"))
        }
        // Taken in twice at the same moment, or somebody was removed meanwhile: nothing of it is stored.
        Err(error @ (StoreError::Taken(_) | StoreError::NotFound(_) | StoreError::Refused(_))) => {
            tracing::info!(%error, "an import was refused");
            let message =
                "Nothing was taken in: somebody else changed the members at this moment. Look again."
                    .to_owned();
            looked_at(&tenant, typed, Some(message)).await
        }
        Err(error) => Err(error.into()),
    }
}

/// `GET /members.csv`, `.xlsx` or `.json`: everybody, as the import reads it.
#[get("/members.{kind}")]
async fn out(tenant: Tenant<Owning>, kind: web::Path<TableKind>) -> Result<HttpResponse, AppError> {
    let gym = tenant.gym.clone();
    let mut rows = tenant.change().await?;
    let stored = members::of_gym(&mut rows, &gym, tenant.today()).await?;
    let shown: Vec<MemberId> =
        stored.iter().filter(|stored| !stored.member.limits.is_empty()).map(|stored| stored.id).collect();
    health_views::note(&mut rows, (tenant.who.account, &tenant.who.name), &shown).await?;
    rows.keep().await?;
    let people: Vec<Member> = stored.into_iter().map(|stored| stored.member).collect();
    download(roster_to_csv(&people), "members", *kind).await
}

/// `GET /members/{id}/file.json`: all that is stored about one member, limits included.
#[get("/members/{id}/file.json")]
async fn file_of(tenant: Tenant<Owning>, path: web::Path<MemberId>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    let file = take_along::everything(&tenant, &mut rows, *path).await?;
    health_views::note(&mut rows, (tenant.who.account, &tenant.who.name), &[*path]).await?;
    rows.keep().await?;
    Ok(HttpResponse::Ok()
        .insert_header(("Content-Disposition", "attachment; filename=\"member.json\""))
        .json(file))
}

#[derive(Deserialize)]
struct Sure {
    /// The member's name, typed again.
    name: String,
    coaches: Option<String>,
    cycles: Option<String>,
    names: Option<String>,
    texts: Option<String>,
}

/// `POST /members/{id}/delete`: everything on file about a member goes; the name typed again stands for being sure.
#[post("/members/{id}/delete")]
async fn delete(
    tenant: Tenant<Owning>,
    path: web::Path<MemberId>,
    form: Form<Sure>,
) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    let stored = members::with_ids(&mut rows, &tenant.gym, tenant.today(), &[*path]).await?;
    let stored = stored.into_iter().next().ok_or(AppError::NoSuchPage)?;
    if form.name.trim() != stored.member.name {
        return Err(AppError::Malformed(format!(
            "the field `name` is `{}`, but deleting everything on file needs `{}`",
            form.name, stored.member.name
        )));
    }
    let also = Also {
        coaches: form.coaches.is_some(),
        cycles: form.cycles.is_some(),
        names: form.names.is_some(),
        texts: form.texts.is_some(),
    };
    person::remove(&mut rows, stored.id, also).await?;
    rows.keep().await?;
    Ok(see_other("/members"))
}
