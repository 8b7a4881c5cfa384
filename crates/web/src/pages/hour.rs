//! Hour: the blocks of the class, what to change when they do not fit, and what to look out for.

use actix_web::{HttpResponse, get, web};
use askama::Template;
use chrono::NaiveDate;
use lantern_core::units::clock_s;

use super::planned::{to_read, with_plan};
use super::{day_name, day_of};
use crate::State;
use crate::error::{AppError, html};
use crate::filters;
use crate::view::cautions::CautionView;
use crate::view::strip::HourStrip;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(show);
}

#[derive(Template)]
#[template(path = "hour.html")]
struct HourPage {
    gym: String,
    day: NaiveDate,
    day_name: String,
    strip: HourStrip,
    blocks: Vec<BlockRow>,
    cautions: Vec<CautionView>,
}

struct BlockRow {
    from: String,
    to: String,
    label: String,
    length: String,
    why: String,
}

/// `GET /days/{day}/hour`
#[get("/days/{day}/hour")]
async fn show(state: web::Data<State>, path: web::Path<String>) -> Result<HttpResponse, AppError> {
    let day = day_of(&path)?;
    let page = with_plan(&state, day, move |planned| HourPage {
        gym: planned.gym.name.clone(),
        day,
        day_name: day_name(day),
        strip: HourStrip::new(&planned.plan.hour, day),
        blocks: planned
            .plan
            .hour
            .blocks
            .iter()
            .map(|block| BlockRow {
                from: clock_s(block.start_s),
                to: clock_s(block.end_s),
                label: block.label.clone(),
                length: clock_s(block.end_s - block.start_s),
                why: block.why.clone(),
            })
            .collect(),
        cautions: planned.plan.cautions.iter().map(CautionView::new).collect(),
    });
    page.await?.map_or_else(|| Ok(to_read(day)), |page| html(&page))
}
