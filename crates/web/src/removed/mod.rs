//! What was removed comes back by one click, for whoever has just removed it.

use actix_web::{HttpResponse, post, web};
use lantern_core::gym::ClockFace;
use lantern_store::removals::{self, Removed};
use lantern_store::restore;
use lantern_store::{GymScope, StoreError};

use crate::request::Form;
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::respond::error::AppError;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(bring_back);
}

/// A removal that can be taken back, as pages show it.
pub(crate) struct Undo {
    pub key: String,
    pub words: String,
}

/// What a page that was reached after a removal offers to take back; nothing when the key is none.
pub(crate) async fn undo(
    rows: &mut GymScope,
    key: Option<&str>,
    clock: ClockFace,
) -> Result<Option<Undo>, AppError> {
    let Some(key) = key else { return Ok(None) };
    match removals::find(rows, key).await {
        Ok(removed) => Ok(Some(Undo { key: key.to_owned(), words: told(&removed, clock) })),
        Err(StoreError::NotFound(_)) => Ok(None),
        Err(error) => Err(error.into()),
    }
}

fn told(removed: &Removed, clock: ClockFace) -> String {
    match removed {
        Removed::Class(class) => {
            let slot = Slot { day: class.day, starts: Some(class.starts) };
            format!("The class on {} was taken off, with {} booked.", slot.name(clock), class.booked.len())
        }
        Removed::Lift(_) => "A lift was taken off the record.".to_owned(),
        Removed::Name { alias, .. } => format!("The name `{alias}` was removed."),
        Removed::Movement(own) => format!("The movement `{}` was removed.", own.name),
        Removed::Cycle(cycle) => format!("The cycle `{}` was removed.", cycle.name),
        Removed::Habit { habit } => format!("Forgotten: {}.", habit.in_words()),
    }
}

#[derive(serde::Deserialize)]
struct Key {
    key: String,
}

/// `POST /removed`: brings back what a key stands for, and shows where it stands.
#[post("/removed")]
async fn bring_back(tenant: Tenant, form: Form<Key>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    let removed = restore::bring_back(&mut rows, &form.key).await.map_err(|error| match error {
        StoreError::NotFound(_) => {
            AppError::Taken("That is back already, or was removed too long ago.".to_owned())
        }
        StoreError::Taken(_) => AppError::Taken(
            "Its place is taken by now: remove or move what stands there, then bring it back.".to_owned(),
        ),
        other => other.into(),
    })?;
    rows.keep().await?;
    Ok(match removed {
        Removed::Class(class) => {
            see_other(format!("/days/{}/class", Slot { day: class.day, starts: Some(class.starts) }))
        }
        Removed::Lift(lift) => see_other(format!("/members/{}", lift.member_id)),
        Removed::Name { .. } | Removed::Movement(_) => see_other("/movements"),
        Removed::Cycle(_) => see_other("/gym"),
        Removed::Habit { .. } => see_other("/gym#hand"),
    })
}
