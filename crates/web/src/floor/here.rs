//! Who is here: ticked before the start, with what it means for racks, teams and starts before it counts.

use actix_web::{HttpRequest, HttpResponse, get, post, web};
use askama::Template;
use lantern_core::plan::moves;
use lantern_store::{MemberId, classes, members};

use super::answer;
use crate::day::planned::{Planned, planned_as, to_read};
use crate::day::slot_of;
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::request::{Form, Query};
use crate::respond::error::{AppError, html};

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(asked).service(said);
}

/// Most names that a class is asked about.
const MOST: usize = 120;

/// What a form says: `asked` for everybody whose name stood in it, `here` for those of them who are ticked, and who joins.
#[derive(Default)]
struct Ticks {
    away: Vec<MemberId>,
    joined: Vec<MemberId>,
}

impl Ticks {
    /// Nothing where the form was not sent yet.
    fn read(fields: &[(String, String)]) -> Option<Self> {
        let ids = |field: &str| -> Vec<MemberId> {
            let of_field = fields.iter().filter(|(name, _)| name == field).take(MOST);
            of_field.filter_map(|(_, id)| id.parse().ok()).collect()
        };
        let (mut away, here) = (ids("asked"), ids("here"));
        if away.is_empty() && ids("joined").is_empty() {
            return None;
        }
        away.retain(|id| !here.contains(id));
        Some(Self { away, joined: ids("joined") })
    }
}

/// Somebody of the class, or of the gym: their row and their name.
type Named = (MemberId, String);

#[derive(Template)]
#[template(path = "floor/here.html")]
struct HereForm {
    day: Slot,
    /// Who was booked, and whether they are here.
    booked: Vec<(Named, bool)>,
    /// Who came without.
    joined: Vec<Named>,
    /// Everybody else of the gym.
    others: Vec<Named>,
    /// What is formed otherwise than now, in words.
    moves: Vec<String>,
    /// Whether anything is said that does not stand yet.
    differs: bool,
    /// How many are here.
    count: usize,
}

/// `GET /days/{day}/floor/here`: the names of a class to tick, and with a form what it would change.
#[get("/days/{day}/floor/here")]
async fn asked(
    tenant: Tenant,
    path: web::Path<String>,
    fields: Query<Vec<(String, String)>>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let ticks = Ticks::read(&fields);
    let Some(now) = planned_as(&tenant, day, |_| ()).await? else { return Ok(to_read(day)) };
    let then = planned_as(&tenant, day, |class| {
        ticks.iter().for_each(|ticks| class.comes(&ticks.away, &ticks.joined))
    })
    .await?;
    let then = then.ok_or(AppError::NoSuchPage)?;
    let all = members::of_gym(&mut tenant.look().await?, &tenant.gym, tenant.today()).await?;
    let all = all.into_iter().map(|stored| (stored.id, stored.member.name)).collect();
    html(&HereForm::of(day, (&now, &then), all)?)
}

impl HereForm {
    fn of(day: Slot, (now, then): (&Planned, &Planned), all: Vec<Named>) -> Result<Self, AppError> {
        let (class, known) = then.class.as_ref().zip(now.class.as_ref()).ok_or(AppError::NoSuchPage)?;
        let (mut booked, mut joined, mut others) = (Vec::new(), Vec::new(), Vec::new());
        for named in all {
            if class.joined.contains(&named.0) {
                joined.push(named);
            } else if class.booked.contains(&named.0) {
                let here = !class.away.contains(&named.0);
                booked.push((named, here));
            } else {
                others.push(named);
            }
        }
        Ok(Self {
            day,
            booked,
            joined,
            others,
            moves: moves(&now.plan, &then.plan, &then.catalogue),
            differs: (&class.away, &class.joined) != (&known.away, &known.joined),
            count: class.here().count(),
        })
    }
}

/// `POST /days/{day}/floor/here`: that is who is here.
#[post("/days/{day}/floor/here")]
async fn said(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
    fields: Form<Vec<(String, String)>>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let starts = day.starts.ok_or(AppError::NoSuchPage)?;
    let ticks = Ticks::read(&fields).unwrap_or_default();
    let mut rows = tenant.change().await?;
    let class = classes::at(&mut rows, day.day, starts).await?.ok_or(AppError::NoSuchPage)?;
    classes::here(&mut rows, class.id, (&ticks.away, &ticks.joined)).await?;
    rows.keep().await?;
    Ok(answer(&request, day))
}
