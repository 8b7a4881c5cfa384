//! The wall: a screen that signs in nowhere, by its own secret address. It shows the board of the class that runs or comes next, with names as their
//! members wish.

use actix_web::{HttpRequest, HttpResponse, get, web};
use askama::Template;
use chrono::{Days, Duration, Utc};
use lantern_store::clock;
use lantern_store::keys::Opens;
use lantern_store::{classes, rows::StoredClass};

use crate::State;
use crate::day::handouts::board::board;
use crate::day::planned::with_plan;
use crate::planning::shown::shown;
use crate::request::house::House;
use crate::request::slot::Slot;
use crate::respond::error::{AppError, html};
use crate::respond::filters;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(wall);
}

/// Days ahead in which the next class is looked for.
const AHEAD: Days = Days::new(7);

#[derive(Template)]
#[template(path = "wall/quiet_wall.html")]
struct QuietWall {
    gym: String,
    words: &'static str,
}

/// `GET /wall/{key}`
#[get("/wall/{key}")]
async fn wall(
    state: web::Data<State>,
    request: HttpRequest,
    path: web::Path<String>,
) -> Result<HttpResponse, AppError> {
    let house = House::of_key(state, (Opens::Wall, None), &path).await?.ok_or(AppError::NoSuchPage)?;
    let mut rows = house.look().await?;
    let today = house.today();
    let classes = classes::between(&mut rows, today - Days::new(1), today + AHEAD).await?;
    drop(rows);
    let ends = |class: &&StoredClass| {
        let minutes = Duration::minutes(i64::from(class.minutes));
        clock::moment(&house.gym, class.day, class.starts) + minutes > Utc::now()
    };
    let quiet = |words| html(&QuietWall { gym: house.gym.name.clone(), words });
    let Some(class) = classes.iter().find(ends) else { return quiet("No class in the days to come.") };
    let slot = Slot { day: class.day, starts: Some(class.starts) };
    let shown = shown(&house, &request, async {
        let board = with_plan(&house, slot, move |planned| board(planned, slot, true)).await?;
        match board {
            Some(board) => Ok(Ok(board)),
            None => Ok(Err(quiet("Nothing is written for the next class yet.")?)),
        }
    });
    shown.await
}
