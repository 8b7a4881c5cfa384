//! The way back from addresses that only take forms.

use actix_web::{HttpResponse, get, web};

use crate::day::slot_of;
use crate::respond::error::AppError;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config
        .service(of_day)
        .service(of_class)
        .service(of_members)
        .service(of_member)
        .service(of_gym)
        .service(of_people);
}

/// `GET` of what only takes forms about a day.
#[get("/days/{day}/{form:apply|reading|classes|put-together}")]
async fn of_day(path: web::Path<(String, String)>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path.0)?;
    Ok(match path.1.as_str() {
        "classes" => see_other(format!("/days?from={}", day.day)),
        _ => see_other(format!("/days/{day}/read")),
    })
}

/// `GET` of what only takes forms about a class or its loads.
#[get("/days/{day}/{form:bookings|class/remove|loads/undo|loads/release|book/undo|book/max|book/version}")]
async fn of_class(path: web::Path<(String, String)>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path.0)?;
    let page = ["loads", "book"].into_iter().find(|page| path.1.starts_with(page)).unwrap_or("class");
    Ok(see_other(format!("/days/{day}/{page}")))
}

/// `GET` of what only takes forms about members.
#[get("/members/{form:drop-in|import/take}")]
async fn of_members(path: web::Path<String>) -> HttpResponse {
    see_other(if path.as_str() == "drop-in" { "/members" } else { "/members/import" })
}

/// `GET` of what only takes forms about one member.
#[get("/members/{id:[0-9]+}/{form:lifts|away|answers|delete|name|shown|limits|limits/.*|lifts/.*}")]
async fn of_member(path: web::Path<(String, String)>) -> HttpResponse {
    see_other(format!("/members/{}", path.0))
}

/// `GET` of what only takes forms about the gym.
#[get(
    "/{page:gym|movements}/{form:cycles|cycles/remove|habits/forget|habits/hand|names|own|(?:names|own)/[0-9]+/remove}"
)]
async fn of_gym(path: web::Path<(String, String)>) -> HttpResponse {
    see_other(format!("/{}", path.0))
}

/// `GET` of what only takes forms about people, one's own account or oneself.
#[get(
    "/{page:people|account|me}/{form:invite|uninvite|role|remove|keys|keys/revoke|others|passphrase|codes|codes/confirm|codes/off|gym|shown|agree|withdraw|delete}"
)]
async fn of_people(path: web::Path<(String, String)>) -> HttpResponse {
    see_other(format!("/{}", path.0))
}
