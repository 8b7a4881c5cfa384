//! Everything that is printed for a class, as one document: one press of a button before it.

use actix_web::{HttpRequest, HttpResponse, get, web};
use askama::Template;

use crate::day::handouts::board::{Board, board};
use crate::day::handouts::cards::{CardsPage, cards_page};
use crate::day::handouts::sheet::{SheetPage, sheet_page};
use crate::day::loads::{self, LoadsPage};
use crate::day::planned::plan_page;
use crate::day::slot_of;
use crate::day::warmup::{self, WarmupPage};
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::respond::error::AppError;
use crate::respond::filters;

/// The coach's run sheet, without words of limits, then what hangs on the wall and stands at the racks, and last what is cut and given out.
#[derive(Template)]
#[template(path = "day/handouts/all.html")]
struct AllPage {
    day: Slot,
    day_name: String,
    sheet: SheetPage,
    warmup: WarmupPage,
    loads: LoadsPage,
    board: Board,
    cards: CardsPage,
}

/// `GET /days/{day}/print`
#[get("/days/{day}/print")]
pub(super) async fn all(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    plan_page(&tenant, &request, day, move |planned| AllPage {
        day,
        day_name: day.name(planned.gym.clock),
        sheet: sheet_page(planned, day, false),
        warmup: warmup::page(planned, day),
        loads: loads::view(planned, day, None),
        board: board(planned, day),
        cards: cards_page(planned, day),
    })
    .await
}
