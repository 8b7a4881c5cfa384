//! A day's text carried to another date, or taken away, each with a way back: nothing is lost, every text of a day is kept.

use std::fmt;
use std::str::FromStr;

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, post, web};
use chrono::{Days, NaiveDate};
use lantern_store::{GymScope, sessions};
use serde::Deserialize;

use crate::day::history::texts::{Put, put};
use crate::day::{day_name, day_of};
use crate::request::Form;
use crate::request::tenant::Tenant;
use crate::respond::error::{AppError, html_as};
use crate::respond::redirect::see_other;
use crate::week::{Week, page};

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(carry).service(carried_back);
}

/// What was done with the text of a day.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum How {
    Copied,
    Moved,
    Deleted,
}

impl How {
    const ALL: [(Self, &str); 3] = [(Self::Copied, "copy"), (Self::Moved, "move"), (Self::Deleted, "delete")];

    fn name(self) -> &'static str {
        Self::ALL.into_iter().find(|(how, _)| *how == self).map_or("", |(_, name)| name)
    }
}

/// What was carried just now, as it stands in the address of the week that is shown then: `move,2026-11-23,2026-11-30,0,4`.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Carried {
    how: How,
    from: NaiveDate,
    to: NaiveDate,
    /// Which text stood before where it came to, and where it was; 0 for none.
    before: (i32, i32),
}

impl fmt::Display for Carried {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Self { how, from, to, before } = self;
        write!(f, "{},{from},{to},{},{}", how.name(), before.0, before.1)
    }
}

impl FromStr for Carried {
    type Err = ();

    fn from_str(text: &str) -> Result<Self, ()> {
        let fields: Vec<&str> = text.split(',').collect();
        let [how, from, to, first, second] = fields.as_slice() else { return Err(()) };
        let (how, _) = How::ALL.into_iter().find(|(_, name)| name == how).ok_or(())?;
        let date = |text: &str| text.parse().map_err(|_| ());
        let number = |text: &str| text.parse().map_err(|_| ());
        Ok(Self { how, from: date(from)?, to: date(to)?, before: (number(first)?, number(second)?) })
    }
}

impl Carried {
    /// In a sentence.
    pub fn told(&self) -> String {
        let (from, to) = (day_name(self.from), day_name(self.to));
        match self.how {
            How::Copied => format!("The text of {from} stands on {to} too."),
            How::Moved => {
                format!("The text of {from} stands on {to} now. Classes and bookings stayed where they were.")
            }
            How::Deleted => format!("The text of {from} was taken off."),
        }
    }
}

/// What was typed that could not be done, and why.
pub(super) struct Refused {
    pub from: NaiveDate,
    pub to: String,
    pub words: String,
    /// Whether it can be done when what stands there may be replaced.
    pub taken: bool,
}

#[derive(Deserialize)]
struct Asked {
    #[serde(default)]
    to: String,
    how: String,
    #[serde(default)]
    replace: String,
}

/// `POST /days/{day}/carry`: copies a day's text to a date or moves it there, repeats it next week, or takes it off.
#[post("/days/{day}/carry")]
async fn carry(tenant: Tenant, path: web::Path<String>, form: Form<Asked>) -> Result<HttpResponse, AppError> {
    let from = day_of(&path)?;
    let (how, to) = match form.how.as_str() {
        "copy" => (How::Copied, form.to.trim().parse().ok()),
        "move" => (How::Moved, form.to.trim().parse().ok()),
        "next-week" => (How::Copied, Some(from + Days::new(7))),
        "delete" => (How::Deleted, Some(from)),
        other => return Err(AppError::field("how", other, "copy, move, next-week or delete")),
    };
    let refused = async |words: String, taken: bool, status| {
        let refused = Refused { from, to: form.to.clone(), words, taken };
        html_as(status, &page(&tenant, &Week::of(from), Some(refused)).await?)
    };
    let Some(to) = to else {
        let words = match form.to.trim() {
            "" => "Say to which date.".to_owned(),
            typed => format!("`{typed}` is no date; write it as 2026-11-30."),
        };
        return refused(words, false, StatusCode::UNPROCESSABLE_ENTITY).await;
    };
    if to == from && how != How::Deleted {
        let words = "That is the day itself: choose another date.".to_owned();
        return refused(words, false, StatusCode::UNPROCESSABLE_ENTITY).await;
    }
    let mut rows = tenant.look().await?;
    let (text, there) = (standing(&mut rows, from).await?, standing(&mut rows, to).await?);
    drop(rows);
    if text.text.trim().is_empty() {
        return refused("There is no text on this day.".to_owned(), false, StatusCode::CONFLICT).await;
    }
    let is_taken = how != How::Deleted && !there.text.trim().is_empty() && there.text != text.text;
    if is_taken && form.replace.is_empty() {
        let words = format!(
            "{} holds a text already. Tick the box to put this one in its place; the other is kept among its texts.",
            day_name(to)
        );
        return refused(words, true, StatusCode::CONFLICT).await;
    }
    let carried = Carried { how, from, to, before: (there.seen, text.seen) };
    let mut all = Vec::new();
    if how != How::Copied {
        all.push(Put { seen: text.seen, ..nothing(from) });
    }
    if how != How::Deleted {
        all.push(Put { day: to, seen: there.seen, ..text });
    }
    put(&tenant, all).await?;
    Ok(see_other(format!("/days?from={to}&carried={carried}")))
}

/// The text of a day as it stands; an empty one where there is none.
async fn standing(rows: &mut GymScope, day: NaiveDate) -> Result<Put, AppError> {
    let stands = sessions::of_day(rows, day).await?;
    Ok(stands.map_or_else(
        || nothing(day),
        |stands| Put { day, seen: stands.revision, text: stands.text, corrections: stands.corrections },
    ))
}

fn nothing(day: NaiveDate) -> Put {
    Put { day, seen: 0, text: String::new(), corrections: serde_json::json!([]) }
}

#[derive(Deserialize)]
struct Back {
    carried: String,
}

/// `POST /days/carried`: what was carried goes back, where nobody has changed it since.
#[post("/days/carried")]
async fn carried_back(tenant: Tenant, form: Form<Back>) -> Result<HttpResponse, AppError> {
    let carried: Carried = form
        .carried
        .parse()
        .map_err(|()| AppError::field("carried", &form.carried, "what was carried, as the address says"))?;
    let mut rows = tenant.look().await?;
    let mut all = Vec::new();
    if carried.how != How::Deleted {
        all.extend(before(&mut rows, carried.to, carried.before.0).await?);
    }
    if carried.how != How::Copied {
        all.extend(before(&mut rows, carried.from, carried.before.1).await?);
    }
    drop(rows);
    put(&tenant, all).await?;
    Ok(see_other(format!("/days?from={}", carried.from)))
}

/// The text that stood on a day before it was changed once; none where it stands already.
async fn before(rows: &mut GymScope, day: NaiveDate, revision: i32) -> Result<Option<Put>, AppError> {
    let stands = standing(rows, day).await?;
    if stands.seen == revision {
        return Ok(None);
    }
    if Some(stands.seen) != revision.checked_add(1) {
        return Err(AppError::Taken(format!(
            "{} has been changed since, so nothing was taken back. Its History has every text of it.",
            day_name(day)
        )));
    }
    let seen = stands.seen;
    let old = sessions::text_at(rows, day, revision).await?;
    Ok(Some(old.map_or_else(
        || Put { seen, ..nothing(day) },
        |old| Put { day, seen, text: old.text, corrections: old.corrections },
    )))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_was_carried_is_read_back_from_the_address() {
        let day = |day| NaiveDate::from_ymd_opt(2026, 11, day).unwrap();
        for (how, _) in How::ALL {
            let carried = Carried { how, from: day(23), to: day(30), before: (0, 4) };
            assert_eq!(carried.to_string().parse(), Ok(carried.clone()));
            assert!(carried.told().contains("Mon 23 Nov"));
        }
        for wrong in
            ["", "copy", "copy,2026-11-23,2026-11-30,0", "burn,2026-11-23,2026-11-30,0,1", "copy,x,y,0,1"]
        {
            assert_eq!(wrong.parse::<Carried>(), Err(()), "{wrong}");
        }
    }
}
