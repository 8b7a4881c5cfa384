//! The wall: a screen that signs in nowhere, by its own secret address. It shows the class that runs or comes next: before it the board, while it runs the
//! clock, with names as their members wish.

use std::sync::Arc;

use actix_web::{HttpResponse, Responder, get, web};
use askama::Template;
use chrono::{Days, Duration, Utc};
use lantern_store::clock;
use lantern_store::keys::Opens;
use lantern_store::{classes, rows::StoredClass};

use crate::State;
use crate::day::handouts::board::{Board, board};
use crate::day::planned::with_plan;
use crate::floor::hub::Audience;
use crate::floor::{class_shown, follow, read_aloud};
use crate::request::class_code::code_of;
use crate::request::house::House;
use crate::request::slot::Slot;
use crate::respond::error::{AppError, html};
use crate::respond::filters;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(wall).service(live).service(digits);
}

/// Days ahead in which the next class is looked for.
const AHEAD: Days = Days::new(7);
/// How long after its hour a class that runs late is still the one on the wall.
const LATE: Duration = Duration::minutes(10);

#[derive(Template)]
#[template(path = "wall/quiet_wall.html")]
struct QuietWall {
    gym: String,
    words: &'static str,
}

#[derive(Template)]
#[template(path = "wall/live_wall.html")]
struct LiveWall {
    gym: String,
    key: String,
    /// With what guests look in.
    code: String,
    board: Board,
    /// What the page's script begins with.
    shown: Arc<str>,
}

/// The class that is on the wall of a gym now.
async fn on_it(house: &House) -> Result<Option<Slot>, AppError> {
    let mut rows = house.look().await?;
    let today = house.today();
    let classes = classes::between(&mut rows, today - Days::new(1), today + AHEAD).await?;
    let ends = |class: &&StoredClass| {
        let minutes = Duration::minutes(i64::from(class.minutes));
        clock::moment(&house.gym, class.day, class.starts) + minutes + LATE > Utc::now()
    };
    let class = classes.iter().find(ends);
    Ok(class.map(|class| Slot { day: class.day, starts: Some(class.starts) }))
}

async fn house(state: web::Data<State>, key: &str) -> Result<House, AppError> {
    House::of_key(state, (Opens::Wall, None), key).await?.ok_or(AppError::NoSuchPage)
}

/// `GET /wall/{key}`
#[get("/wall/{key}")]
async fn wall(state: web::Data<State>, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let house = house(state, &path).await?;
    let quiet = |words| html(&QuietWall { gym: house.gym.name.clone(), words });
    let Some(slot) = on_it(&house).await? else { return quiet("No class in the days to come.") };
    let board = with_plan(&house, slot, move |planned| board(planned, slot)).await?;
    let shown = class_shown(&house, slot, Audience::Wall).await?;
    let Some((board, shown)) = board.zip(shown) else {
        return quiet("Nothing is written for the next class yet.");
    };
    let code = code_of(&house.state, &house, slot);
    html(&LiveWall { gym: house.gym.name.clone(), key: path.into_inner(), code, board, shown })
}

/// `GET /wall/{key}/live`: the class whenever something about it has changed.
#[get("/wall/{key}/live")]
async fn live(state: web::Data<State>, path: web::Path<String>) -> Result<impl Responder, AppError> {
    let house = house(state.clone(), &path).await?;
    let slot = on_it(&house).await?.ok_or(AppError::NoSuchPage)?;
    Ok(follow(state, house.id(), slot, Audience::Wall))
}

/// `GET /wall/{key}/digits`: what the clock of the class reads, every second, for a timer that only shows digits: `12:34 running`.
#[get("/wall/{key}/digits")]
async fn digits(state: web::Data<State>, path: web::Path<String>) -> Result<impl Responder, AppError> {
    let house = house(state.clone(), &path).await?;
    let slot = on_it(&house).await?.ok_or(AppError::NoSuchPage)?;
    Ok(read_aloud(state, house, slot))
}
