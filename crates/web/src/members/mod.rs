//! Members: who is in the class, and one member's file.

pub(crate) mod attention;
pub(crate) mod called;
pub(crate) mod done;
pub(crate) mod drop_in;
pub(crate) mod over_time;
pub(crate) mod roster;
pub(crate) mod take_along;

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, get, post, web};
use askama::Template;
use chrono::{DateTime, NaiveDate, Utc};
use lantern_core::cautions::cautions;
use lantern_core::gym::Gym;
use lantern_core::limits::{self, Limit, Looked, REASONS};
use lantern_core::member::Experience;
use lantern_core::movement::{Catalogue, MovementId, Unit};
use lantern_core::pacing::engine::{Machine, results};
use lantern_core::pacing::{Figures, Model};
use lantern_core::roster::Answers;
use lantern_core::session::Session;
use lantern_core::strength::{Estimate, Source, max_for};
use lantern_core::units::{Kilograms, clock, clock_s, plain};
use lantern_store::clock::{is_usable, time_text};
use lantern_store::lifts::{self, NewLift, StoredLift};
use lantern_store::members::{self, StoredMember};
use lantern_store::person::{self, Mentions};
use lantern_store::results as results_of;
use lantern_store::{LiftId, MemberId, StoreError, health_views};
use lantern_store::{
    name_shown::NameShown,
    privacy::{self, Consent},
};
use serde::Deserialize;

use self::done::DoneView;
use crate::day::loads::{is_a_lift, read_set};
use crate::mark::Mark;
use crate::members::drop_in::DropInForm;
use crate::removed::{Undo, undo};
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::request::{Form, Query};
use crate::respond::error::{AppError, html, html_as};
use crate::respond::filters;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    // Before the page of one member, whose address holds an id.
    take_along::routes(config);
    roster::routes(config);
    called::routes(config);
    drop_in::routes(config);
    config
        .service(list)
        .service(show)
        .service(add_lift)
        .service(remove_lift)
        .service(add_limits)
        .service(show_name)
        .service(look_at_limit);
}

#[derive(Template)]
#[template(path = "members/members.html")]
pub(crate) struct MembersPage {
    gym: String,
    members: Vec<MemberRow>,
    /// Whom a coach should look at, and why.
    attention: Vec<(MemberId, String, String)>,
    /// The drop-in form as typed, with what is wrong with it.
    name: String,
    four: Answers,
    /// The class that they came to, and what it is called.
    joins: Option<(Slot, String)>,
    unit: &'static str,
    experiences: [(&'static str, &'static str); 4],
    message: Option<String>,
}

/// Experience as somebody is asked for it: as forms send it, and in words.
fn experiences() -> [(&'static str, &'static str); 4] {
    Experience::LEVELS.map(|level| (level.name(), level.words()))
}

struct MemberRow {
    id: MemberId,
    name: String,
    experience: &'static str,
    squat: String,
    deadlift: String,
    press: String,
    pull_ups: String,
    row: String,
    limit: Option<Mark>,
}

#[derive(Template)]
#[template(path = "members/member.html")]
pub(crate) struct MemberPage {
    gym: String,
    /// The four questions as typed, and what is wrong with them.
    four: Answers,
    four_wrong: Option<String>,
    /// The name as typed, and what is wrong with it.
    called: String,
    called_wrong: Option<String>,
    experiences: [(&'static str, &'static str); 4],
    name: String,
    experience: &'static str,
    facts: Vec<(String, String)>,
    /// Results that others speak against: shown and not used.
    contradicted: Vec<String>,
    limits: Vec<LimitView>,
    reasons: &'static [(&'static str, &'static str)],
    advice: Vec<String>,
    notes: String,
    mentions: Mentions,
    /// What was typed as a limit, and what was wrong with it.
    typed: String,
    wrong: Option<String>,
    home: String,
    maxes: Vec<MaxRow>,
    /// Lift, 1RM with its range, and where it comes from.
    counted: Vec<(String, String, String)>,
    policy: &'static str,
    unit: &'static str,
    lifts: Vec<(String, String)>,
    today: NaiveDate,
    /// The day since which the member has been away; empty when not.
    away_since: String,
    undo: Option<Undo>,
    id: MemberId,
    reps: Vec<(String, u32)>,
    /// What the wall shows of the name.
    shown: NameShown,
    all_shown: [NameShown; 4],
    /// Since when and by whose note their agreement stands; none where it does not.
    agreed: Option<String>,
    /// Who has opened the words of the limits, and in which hour at the gym.
    opened: Vec<(String, String)>,
    /// What they have done of pieces.
    done: DoneView,
    /// Engine, strength, skill and speed, each with what it rests on; and the test that would tell most.
    figures: Vec<(&'static str, String)>,
    test: &'static str,
}

struct MaxRow {
    id: LiftId,
    lift_id: String,
    lift: String,
    /// `5 x 90 kg`.
    set: String,
    /// What it shows, where it shows anything.
    shows: String,
    set_on: NaiveDate,
    weeks: i64,
    source: String,
}

fn max_row(lifted: &StoredLift, gym: &Gym, catalogue: &Catalogue) -> MaxRow {
    let record = lifted.record(lantern_store::clock::today(gym));
    let rpe = record.rpe.map_or(String::new(), |rpe| format!(" at RPE {}", plain(rpe)));
    let missed = if record.missed { ", missed" } else { "" };
    MaxRow {
        id: lifted.id,
        lift_id: lifted.lift.clone(),
        lift: catalogue.name(&MovementId::new(&lifted.lift)).to_owned(),
        set: format!("{} x {}{rpe}{missed}", record.reps, record.load.show(gym.unit)),
        shows: record.estimate(gym.formula).map_or("nothing".to_owned(), |max| {
            Kilograms::from_kg((max.kg() * 2.0).round() / 2.0).show(gym.unit)
        }),
        weeks: i64::from(record.days_old / 7),
        set_on: lifted.set_on,
        source: lifted.source.clone(),
    }
}

fn show_max(max: &Estimate, gym: &Gym) -> String {
    let half = |weight: Kilograms| plain((weight.in_unit(gym.unit) * 2.0).round() / 2.0);
    format!("{} ({}-{}) {}", half(max.value), half(max.low), half(max.high), gym.unit)
}

/// `GET /members`
#[get("/members")]
async fn list(tenant: Tenant, query: Query<Joins>) -> Result<HttpResponse, AppError> {
    let form = DropInForm { joins: query.0.joins, ..DropInForm::default() };
    html(&page(&tenant, form, None).await?)
}

/// The class that somebody new comes to.
#[derive(Deserialize)]
struct Joins {
    #[serde(default)]
    joins: String,
}

/// The page, with the drop-in form as it was typed.
pub(crate) async fn page(
    tenant: &Tenant,
    drop_in: DropInForm,
    message: Option<String>,
) -> Result<MembersPage, AppError> {
    let gym = tenant.gym.clone();
    let mut rows = tenant.look().await?;
    let stored = members::of_gym(&mut rows, &gym, tenant.today()).await?;
    let today = tenant.today();
    let attention = attention::of_gym(&mut rows, &stored, (&gym, &tenant.catalogue(), today)).await?;
    drop(rows);
    let unit = gym.unit;
    let members = stored
        .iter()
        .map(|StoredMember { id, member, .. }| {
            let max = |lift: &str| {
                member.maxes.get(&MovementId::new(lift)).map_or("-".to_owned(), |max| max.value.show(unit))
            };
            MemberRow {
                id: *id,
                name: member.name.clone(),
                experience: member.experience.name(),
                squat: max("back-squat"),
                deadlift: max("deadlift"),
                press: max("strict-press"),
                pull_ups: member.best("pull-up").map_or("-".to_owned(), |n| n.to_string()),
                row: member.row_2k_s.map_or("-".to_owned(), clock_s),
                limit: Mark::of(member),
            }
        })
        .collect();
    let DropInForm { name, four, joins } = drop_in;
    let unit = gym.unit.name();
    Ok(MembersPage {
        gym: gym.name,
        members,
        attention,
        name,
        four,
        joins: joins.parse().ok().map(|slot: Slot| (slot, slot.name(gym.clock))),
        unit,
        experiences: experiences(),
        message,
    })
}

/// A limit as the member's page shows it.
struct LimitView {
    text: String,
    /// How it was understood.
    told: String,
    mark: Option<Mark>,
    /// On which day a coach looked at it, and what it stands for since.
    looked: Option<String>,
}

impl LimitView {
    fn new(limit: &Limit) -> Self {
        let looked = limit.looked.as_ref().map(|looked| {
            let words = |key: &String| {
                REASONS
                    .iter()
                    .find(|(known, _)| known == key)
                    .map_or(key.clone(), |(_, words)| (*words).to_owned())
            };
            let spares: Vec<String> = looked.spares.iter().map(words).collect();
            let spares = if spares.is_empty() { "nothing besides".to_owned() } else { spares.join(", ") };
            format!("looked at on {}: spares {spares}", looked.on)
        });
        let mark = match (limit.is_unread(), limit.is_nothing()) {
            (true, _) => Some(Mark::Look),
            (_, true) => None,
            _ => Some(Mark::Kept),
        };
        Self { text: limit.text.clone(), told: limit.told(), mark, looked }
    }
}

#[derive(Deserialize)]
struct Shown {
    /// The key of what was just removed.
    removed: Option<String>,
}

/// `GET /members/{id}`
#[get("/members/{id}")]
async fn show(
    tenant: Tenant,
    path: web::Path<MemberId>,
    query: Query<Shown>,
) -> Result<HttpResponse, AppError> {
    let undo = undo(&mut tenant.look().await?, query.removed.as_deref(), tenant.gym.clock).await?;
    html(&member_page(&tenant, *path, undo).await?)
}

async fn member_page(tenant: &Tenant, asked: MemberId, undo: Option<Undo>) -> Result<MemberPage, AppError> {
    let gym = tenant.gym.clone();
    // Who opens the words of somebody's limits is noted in the transaction that shows them.
    let mut rows = tenant.change().await?;
    let catalogue = tenant.catalogue();
    let stored = members::with_ids(&mut rows, &gym, tenant.today(), &[asked]).await?;
    let StoredMember { id, member, shown } = stored.into_iter().next().ok_or(AppError::NoSuchPage)?;
    let history = lifts::of_member(&mut rows, id).await?;
    let done = results_of::of_member(&mut rows, id, done::MOST).await?;
    let mentions = person::mentions(&mut rows, &member.name).await?;
    if !member.limits.is_empty() && tenant.who.member != Some(id) {
        health_views::note(&mut rows, (tenant.who.account, &tenant.who.name), &[id]).await?;
    }
    let opened = health_views::of_member(&mut rows, id).await?;
    let agreed = privacy::consents(&mut rows, id).await?;
    rows.keep().await?;
    let figures = Figures::of(&member, &catalogue, Model::standard());
    let done = DoneView::new(done, &history, (&gym, &catalogue, tenant.today()));
    let fact = |name, value: Option<String>| value.map(|value| (name, value));
    let facts = [
        fact("Age", member.age.map(|age| age.to_string())),
        fact("Bodyweight", member.bodyweight.map(|weight| weight.show(gym.unit))),
        fact("2000 m row", member.row_2k_s.map(clock_s)),
        fact("400 m run", member.run_400_s.map(clock_s)),
        fact("1600 m run", member.run_1600_s.map(clock_s)),
    ];
    let others = member.results.iter().map(|result| {
        let machine = result.machine.name();
        match result.unit {
            Unit::Calories => {
                let what = format!("{machine}, {} min", plain(result.seconds / 60.0));
                (what, format!("{} cal", plain(result.amount)))
            }
            _ => (format!("{} m {machine}", plain(result.amount)), clock(result.seconds)),
        }
    });
    let contradicted: Vec<String> =
        Machine::ALL.into_iter().flat_map(|machine| results(&member, machine).contradicted).collect();
    let today = tenant.today();
    Ok(MemberPage {
        gym: gym.name.clone(),
        four: Answers::default(),
        four_wrong: None,
        called: member.name.clone(),
        called_wrong: None,
        experiences: experiences(),
        name: member.name.clone(),
        experience: member.experience.name(),
        facts: facts
            .into_iter()
            .flatten()
            .map(|(name, value): (&str, String)| (name.to_owned(), value))
            .chain(others)
            .collect(),
        contradicted,
        limits: member.limits.iter().map(LimitView::new).collect(),
        reasons: &REASONS,
        advice: cautions(&Session::default(), std::slice::from_ref(&member), &[], &catalogue)
            .into_iter()
            .filter(lantern_core::cautions::Caution::is_health)
            .map(|caution| caution.text)
            .collect(),
        notes: member.notes.clone(),
        mentions,
        typed: String::new(),
        wrong: None,
        home: member.home.clone(),
        maxes: history.into_iter().map(|lifted| max_row(&lifted, &gym, &catalogue)).collect(),
        counted: member
            .maxes
            .keys()
            .filter_map(|lift| max_for(&member, lift, &catalogue))
            .map(|max| (catalogue.name(&max.lift).to_owned(), show_max(&max, &gym), max.basis))
            .collect(),
        policy: gym.max_policy.name(),
        unit: gym.unit.name(),
        lifts: catalogue
            .iter()
            .filter(|movement| movement.is_barbell())
            .map(|movement| (movement.id.to_string(), movement.name.clone()))
            .collect(),
        today,
        away_since: member
            .away_days
            .and_then(|days| today.checked_sub_days(chrono::Days::new(u64::from(days))))
            .map_or(String::new(), |day| day.to_string()),
        undo,
        id,
        reps: member.best_reps.iter().map(|(id, reps)| (catalogue.name(id).to_owned(), *reps)).collect(),
        shown,
        all_shown: NameShown::ALL,
        agreed: standing(&agreed, &gym),
        opened: told_views(opened, &gym),
        done,
        figures: figures.told(),
        test: figures.test_that_tells_most(),
    })
}

/// The agreement that stands, in words.
pub(crate) fn standing(consents: &[Consent], gym: &Gym) -> Option<String> {
    let stands = consents.iter().find(|consent| consent.withdrawn_at.is_none())?;
    Some(format!("{}, noted by {}", time_text(gym, stands.given_at), or_gone(&stands.noted_by)))
}

/// Who has opened somebody's limits, and in which hour at the gym.
pub(crate) fn told_views(opened: Vec<(DateTime<Utc>, String)>, gym: &Gym) -> Vec<(String, String)> {
    opened.into_iter().map(|(hour, by)| (time_text(gym, hour), or_gone(&by).to_owned())).collect()
}

/// A name, or that whoever had it has left.
fn or_gone(name: &str) -> &str {
    if name.is_empty() { "somebody who has left" } else { name }
}

/// The member's page with answers that cannot be kept, as typed.
pub(crate) async fn with_answers(
    tenant: &Tenant,
    id: MemberId,
    four: Answers,
    wrong: String,
) -> Result<MemberPage, AppError> {
    let page = member_page(tenant, id, None).await?;
    Ok(MemberPage { four, four_wrong: Some(wrong), ..page })
}

/// The member's page with a name that cannot be kept, as typed.
pub(crate) async fn with_name(
    tenant: &Tenant,
    id: MemberId,
    called: String,
    wrong: String,
) -> Result<MemberPage, AppError> {
    let page = member_page(tenant, id, None).await?;
    Ok(MemberPage { called, called_wrong: Some(wrong), ..page })
}

/// A lift for the record, as typed; or one just removed, in an address.
#[derive(Clone, Default, Deserialize)]
struct TypedLift {
    #[serde(default)]
    lift: String,
    #[serde(default)]
    weight: String,
    #[serde(default)]
    reps: String,
    #[serde(default)]
    rpe: String,
    #[serde(default)]
    on: String,
    #[serde(default)]
    source: String,
    missed: Option<String>,
}

/// `POST /members/{id}/lifts`: a lift for the record.
#[post("/members/{id}/lifts")]
async fn add_lift(
    tenant: Tenant,
    path: web::Path<MemberId>,
    form: Form<TypedLift>,
) -> Result<HttpResponse, AppError> {
    let gym = tenant.gym.clone();
    let set = read_set(&form.weight, &form.reps, &form.rpe).map_err(AppError::Malformed)?;
    let set_on: NaiveDate =
        form.on.parse().ok().filter(|on| is_usable(*on) && *on <= tenant.today()).ok_or_else(|| {
            AppError::Malformed(format!("the date `{}` is none, or still to come", form.on))
        })?;
    if !is_a_lift(&tenant, &form.lift).await? {
        return Err(AppError::field("lift", &form.lift, "a lift of the list"));
    }
    let new = NewLift {
        lift: &form.lift,
        load: Kilograms::from_unit(set.weight, gym.unit),
        reps: set.reps,
        rpe: set.rpe,
        missed: form.missed.is_some(),
        source: Source::named(&form.source),
        set_on,
        // Whoever puts it on record here has looked at it.
        kept: Some(true),
        asked: None,
    };
    let mut rows = tenant.change().await?;
    lifts::add(&mut rows, *path, &new).await?;
    rows.keep().await?;
    Ok(see_other(format!("/members/{}", *path)))
}

/// `POST /members/{id}/lifts/{row}/remove`: comes back by one click.
#[post("/members/{id}/lifts/{row}/remove")]
async fn remove_lift(tenant: Tenant, path: web::Path<(MemberId, LiftId)>) -> Result<HttpResponse, AppError> {
    let (member, row) = path.into_inner();
    let mut rows = tenant.change().await?;
    let key = lifts::remove(&mut rows, member, row).await?;
    rows.keep().await?;
    Ok(see_other(format!("/members/{member}?removed={key}")))
}

#[derive(Deserialize)]
struct TypedLimits {
    limits: String,
    /// They have said that it may be kept.
    agreed: Option<String>,
}

#[derive(Deserialize)]
struct Choice {
    shown: String,
}

/// `POST /members/{id}/shown`: what the wall shows of their name, as they wish.
#[post("/members/{id}/shown")]
async fn show_name(
    tenant: Tenant,
    path: web::Path<MemberId>,
    form: Form<Choice>,
) -> Result<HttpResponse, AppError> {
    let shown = NameShown::named(&form.shown)
        .ok_or_else(|| AppError::field("shown", &form.shown, "full, first, initials or hidden"))?;
    let mut rows = tenant.change().await?;
    privacy::show_name(&mut rows, *path, shown).await?;
    rows.keep().await?;
    Ok(see_other(format!("/members/{}", *path)))
}

/// `POST /members/{id}/limits`: what else they spare, sentence by sentence; what is not understood is asked about on the same page.
#[post("/members/{id}/limits")]
async fn add_limits(
    tenant: Tenant,
    path: web::Path<MemberId>,
    form: Form<TypedLimits>,
) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    let typed: Vec<Limit> = Limit::several(&form.limits).collect();
    let longest = typed.iter().map(|limit| limit.text.chars().count()).max().unwrap_or(0);
    let wrong = match longest {
        0 => Some("Write what they spare, for example `left knee: no jumping`.".to_owned()),
        n if n > limits::LONGEST => {
            Some(format!("A limit has at most {} characters, not {n}.", limits::LONGEST))
        }
        _ => match members::add_limits(&mut rows, *path, &typed).await {
            Ok(()) => {
                if form.agreed.is_some() {
                    privacy::agree(&mut rows, *path, &tenant.who.name).await?;
                }
                rows.keep().await?;
                None
            }
            Err(StoreError::Refused(why)) => Some(format!("Not kept: {why}.")),
            Err(error) => return Err(error.into()),
        },
    };
    match wrong {
        None => Ok(see_other(format!("/members/{}#limits", *path))),
        wrong => {
            let page = member_page(&tenant, *path, None).await?;
            html_as(StatusCode::UNPROCESSABLE_ENTITY, &MemberPage { typed: form.0.limits, wrong, ..page })
        }
    }
}

/// `POST /members/{id}/limits/look`: a coach has looked at words that were not understood, and says what they stand for; or takes a
/// limit off.
#[post("/members/{id}/limits/look")]
async fn look_at_limit(
    tenant: Tenant,
    path: web::Path<MemberId>,
    form: Form<Vec<(String, String)>>,
) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    let field =
        |name: &str| form.iter().find(|(known, _)| known == name).map_or("", |(_, value)| value.as_str());
    let text = field("limit");
    match field("action") {
        "look" => {
            let spares: Vec<String> = form
                .iter()
                .filter(|(name, value)| name == "spares" && REASONS.iter().any(|(key, _)| key == value))
                .map(|(_, value)| value.clone())
                .collect();
            let looked = Looked { on: tenant.today().to_string(), spares };
            members::look_at_limit(&mut rows, *path, text, looked).await?;
        }
        "remove" => members::remove_limit(&mut rows, *path, text).await?,
        other => return Err(AppError::field("action", other, "look or remove")),
    }
    rows.keep().await?;
    Ok(see_other(format!("/members/{}#limits", *path)))
}
