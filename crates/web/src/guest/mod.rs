//! A class for whoever has its code and nothing else: the clock, and what somebody like them would do. No names but those on the wall.

use std::sync::Arc;

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, Responder, get, web};
use askama::Template;
use chrono::{Days, Duration, Utc};
use lantern_core::member::{Experience, Member, Sex};
use lantern_core::plan::{PiecePlan, Typical};
use lantern_core::print::bare_lines;
use lantern_core::strength::{LiftSheet, sets_now};
use lantern_store::rows::StoredClass;
use lantern_store::{classes, clock};
use serde::Deserialize;

use crate::State;
use crate::day::planned::with_plan;
use crate::floor::hub::Audience;
use crate::floor::own::Own;
use crate::floor::{class_shown, follow, within_a_page};
use crate::planning::plans::Planned;
use crate::request::Query;
use crate::request::class_code::{code_of, gym_of, written};
use crate::request::house::House;
use crate::request::slot::Slot;
use crate::respond::error::{AppError, html, html_as};
use crate::respond::filters;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(ask).service(show).service(live);
}

/// How long before its start and after its end the code of a class opens it.
const BEFORE: Duration = Duration::hours(3);
const AFTER: Duration = Duration::hours(1);

#[derive(Template)]
#[template(path = "guest/ask.html")]
struct AskPage {
    code: String,
    wrong: Option<&'static str>,
}

#[derive(Template)]
#[template(path = "guest/guest.html")]
struct GuestPage {
    gym: String,
    day_name: String,
    code: String,
    /// Which of the levels was chosen.
    level: Option<usize>,
    /// Each level for her and for him: the place among typical people, and the version in words.
    levels: Vec<(&'static str, [(usize, &'static str); 2])>,
    /// What somebody like that lifts: the lift, and the sets or where to begin.
    lifts: Vec<(String, String)>,
    /// What somebody like that does: version, what to expect, and the lines of each piece.
    pieces: Vec<(&'static str, String, Vec<String>)>,
    /// What the page's script begins with.
    shown: Arc<str>,
    own: String,
}

#[derive(Deserialize)]
struct Asked {
    #[serde(default)]
    code: String,
}

/// `GET /guest`: the code of a class is asked for.
#[get("/guest")]
async fn ask(state: web::Data<State>, query: Query<Asked>) -> Result<HttpResponse, AppError> {
    let code = written(&query.code);
    if code.is_empty() {
        return html(&AskPage { code, wrong: None });
    }
    match class_of(&state, &code).await? {
        Some(_) => Ok(see_other(format!("/guest/{code}"))),
        None => {
            let wrong = Some("No class that is on or about to begin has this code.");
            html_as(StatusCode::NOT_FOUND, &AskPage { code: query.0.code, wrong })
        }
    }
}

/// The class that a code opens now. A code is one of 30 to the power of 8 and lasts for hours: nobody finds it by trying.
async fn class_of(state: &web::Data<State>, code: &str) -> Result<Option<(House, Slot)>, AppError> {
    let Some(gym) = gym_of(code) else { return Ok(None) };
    let Some(house) = House::named_by_code(state.clone(), gym).await? else { return Ok(None) };
    let today = house.today();
    let mut rows = house.look().await?;
    let near = classes::between(&mut rows, today - Days::new(1), today + Days::new(1)).await?;
    let is_on = |class: &&StoredClass| {
        let starts = clock::moment(&house.gym, class.day, class.starts);
        let ends = starts + Duration::minutes(i64::from(class.minutes));
        (starts - BEFORE..ends + AFTER).contains(&Utc::now())
    };
    let slot = |class: &StoredClass| Slot { day: class.day, starts: Some(class.starts) };
    let found = near.iter().filter(is_on).map(slot).find(|slot| code_of(state, &house, *slot) == code);
    drop(rows);
    Ok(found.map(|slot| (house, slot)))
}

#[derive(Deserialize)]
struct Like {
    /// Place among typical people.
    like: Option<usize>,
}

/// `GET /guest/{code}`
#[get("/guest/{code}")]
async fn show(
    state: web::Data<State>,
    path: web::Path<String>,
    query: Query<Like>,
) -> Result<HttpResponse, AppError> {
    let (house, slot) = class_of(&state, &path).await?.ok_or(AppError::NoSuchPage)?;
    let like = query.like;
    let seen = with_plan(&house, slot, move |planned| Seen::of(planned, like)).await?;
    let shown = class_shown(&house, slot, Audience::Wall).await?;
    let Some((seen, shown)) = seen.zip(shown) else {
        return html_as(
            StatusCode::NOT_FOUND,
            &AskPage { code: path.into_inner(), wrong: Some("Nothing is written for this class yet.") },
        );
    };
    let own = serde_json::to_string(&seen.own).map_err(|error| AppError::Inside(error.to_string()))?;
    html(&GuestPage {
        gym: house.gym.name.clone(),
        day_name: slot.name(house.gym.clock),
        code: path.into_inner(),
        level: seen.level,
        levels: seen.levels,
        lifts: seen.lifts,
        pieces: seen.pieces,
        shown,
        own: within_a_page(&own),
    })
}

/// What a guest sees of a plan.
struct Seen {
    level: Option<usize>,
    levels: Vec<(&'static str, [(usize, &'static str); 2])>,
    lifts: Vec<(String, String)>,
    pieces: Vec<(&'static str, String, Vec<String>)>,
    own: Option<Own>,
}

impl Seen {
    fn of(planned: &Planned, like: Option<usize>) -> Self {
        let Typical { people, pieces, strength } = planned.typical();
        let level = like.filter(|level| *level < people.len());
        let of = |experience: Experience| {
            let place = |sex: Sex| {
                let is_one = |one: &&Member| (one.experience, one.sex) == (experience, Some(sex));
                people.iter().position(|one| is_one(&one)).unwrap_or(0)
            };
            let version = |place: usize| {
                pieces.first().map_or("", |piece| piece.members[place].chosen().version.label())
            };
            (experience.words(), [Sex::F, Sex::M].map(|sex| (place(sex), version(place(sex)))))
        };
        let piece = |level: usize| {
            let of = move |piece: &PiecePlan| {
                let own = &piece.members[level];
                let lines = bare_lines(piece.written(), &own.chosen().tree, &planned.catalogue);
                (own.chosen().version.label(), own.predicted().said(), lines)
            };
            pieces.iter().map(of).collect()
        };
        let lifts = |level: usize| {
            let theirs = strength.iter().flat_map(|lift| &lift.sheets);
            let theirs = theirs.filter(|sheet| sheet.name == people[level].name);
            let lift = |sheet: &LiftSheet| {
                let (sets, _) = sets_now(sheet, &[], &planned.gym);
                (sheet.called(&planned.catalogue), sheet.by_feel.clone().unwrap_or_else(|| sets.join(", ")))
            };
            theirs.map(lift).collect()
        };
        Self {
            level,
            lifts: level.map_or_else(Vec::new, lifts),
            levels: Experience::LEVELS.into_iter().map(of).collect(),
            pieces: level.map_or_else(Vec::new, piece),
            own: level.map(|level| Own::of_typical(planned, level)),
        }
    }
}

/// `GET /guest/{code}/live`: the class whenever something about it has changed, with what the wall shows of it.
#[get("/guest/{code}/live")]
async fn live(state: web::Data<State>, path: web::Path<String>) -> Result<impl Responder, AppError> {
    let (house, slot) = class_of(&state, &path).await?.ok_or(AppError::NoSuchPage)?;
    Ok(follow(state, house.id(), slot, Audience::Wall))
}
