//! A pasted week: each of its days put on its own date.

use std::collections::BTreeMap;

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, post, web};
use chrono::NaiveDate;
use lantern_core::read::Day;
use lantern_core::read::corrections::Correction;
use lantern_store::sessions::{self, NewText, Saved, StoredSession};

use crate::day::read::view::DatesTyped;
use crate::day::read::writer::Writer;
use crate::day::read::{Message, Typed, Unsaved, corrections_in, page};
use crate::day::{day_name, slot_of};
use crate::request::Form;
use crate::respond::error::AppError;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(spread);
}

/// `POST /days/{day}/spread`: the days of the text, each on the date that stands beside it. Days that hold something else are only replaced
/// when that is asked for; what stood there is kept among their texts.
#[post("/days/{day}/spread")]
async fn spread(
    writing: Writer,
    path: web::Path<String>,
    form: Form<BTreeMap<String, String>>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let field = |name: &str| form.0.get(name).cloned().unwrap_or_default();
    let (text, writer) = (field("text"), field("writer"));
    let revision: i32 = field("revision").parse().unwrap_or(0);
    let corrections = corrections_in(&field("corrections"))?;
    let tenant = writing.tenant()?;
    let gym = tenant.gym.clone();
    let mut rows = tenant.look().await?;
    let catalogue = tenant.catalogue();
    let reading = gym.read(&text, &catalogue, &corrections);
    let typed: Vec<String> = (0..reading.days.len()).map(|n| field(&format!("on{n}"))).collect();
    let replace = form.0.contains_key("replace");
    let back = |words: String| {
        let dates = Some(DatesTyped { dates: typed.clone(), replace });
        let message = Message { bad: true, words };
        let (text, corrections, writer) = (text.clone(), corrections.clone(), writer.clone());
        Unsaved { dates, ..Unsaved::new(Typed { text, corrections, revision, writer }, message) }
    };
    if reading.days.is_empty() {
        let words = "Nothing put anywhere: the text holds one day only.".to_owned();
        return page(&writing, day, back(words), StatusCode::UNPROCESSABLE_ENTITY).await;
    }
    let dates = match dates_of(&reading.days, &typed) {
        Ok(dates) => dates,
        Err(words) => return page(&writing, day, back(words), StatusCode::UNPROCESSABLE_ENTITY).await,
    };
    let (Some(first), Some(last)) = (dates.iter().min(), dates.iter().max()) else {
        return Err(AppError::Malformed("no day has a date".to_owned()));
    };
    let stored = sessions::between(&mut rows, *first, *last).await?;
    let texts: Vec<(String, Vec<Correction>)> =
        reading.days.iter().map(|day| day.by_itself(&text, &reading.corrections)).collect();
    let own = |date: NaiveDate| date == day.day;
    let taken: Vec<String> = dates
        .iter()
        .zip(&texts)
        .filter(|(date, (text, _))| {
            let other = |stored: &&StoredSession| stored.day == **date && !stored.text.trim().is_empty();
            !own(**date) && stored.iter().find(other).is_some_and(|stored| stored.text != *text)
        })
        .map(|(date, _)| day_name(*date))
        .collect();
    if !taken.is_empty() && !replace {
        let words = format!(
            "Nothing saved yet: {} {} a session already. Tick the box to put these in their place; what stands there is kept among the texts of the day.",
            taken.join(", "),
            if taken.len() == 1 { "holds" } else { "hold" }
        );
        return page(&writing, day, back(words), StatusCode::CONFLICT).await;
    }
    drop(rows);
    let mut new = Vec::new();
    for (date, (text, own_corrections)) in dates.iter().zip(&texts) {
        let put_right = serde_json::to_value(own_corrections).unwrap_or_else(|_| serde_json::json!([]));
        let seen = stored.iter().find(|stored| stored.day == *date).map_or(0, |stored| stored.revision);
        let seen = if own(*date) { revision } else { seen };
        let parts =
            crate::day::parts_of(text.clone(), put_right.clone(), gym.clone(), catalogue.clone(), None)
                .await?;
        new.push((*date, text, put_right, seen, parts));
    }
    let mut shown = None;
    let mut rows = tenant.change().await?;
    for (date, text, corrections, seen, parts) in &new {
        let new = NewText {
            text,
            corrections,
            seen: *seen,
            writer: &writer,
            by: &tenant.who.name,
            parts,
            while_typing: false,
        };
        match sessions::save(&mut rows, *date, new).await? {
            Saved::As(revision) if own(*date) => shown = Some(revision),
            Saved::As(_) => {}
            Saved::Conflict(_) => {
                let words = format!(
                    "Somebody else saved {} meanwhile, so nothing was put anywhere. Look at it, and put the days where they belong again.",
                    day_name(*date)
                );
                return page(&writing, day, back(words), StatusCode::CONFLICT).await;
            }
        }
    }
    rows.keep().await?;
    // The page that is left keeps no draft of what is saved now.
    Ok(match shown {
        Some(revision) => see_other(format!("/days/{day}/read?saved={revision}")),
        None => see_other(format!("/days?from={first}")),
    })
}

/// The dates typed beside the days, or what is wrong with them.
fn dates_of(days: &[Day], typed: &[String]) -> Result<Vec<NaiveDate>, String> {
    let mut dates: Vec<NaiveDate> = Vec::new();
    for (day, typed) in days.iter().zip(typed) {
        let name = &day.name.name;
        let date: NaiveDate = typed
            .trim()
            .parse()
            .map_err(|_| format!("Nothing saved yet: `{name}` has no date; write it as 2026-11-23."))?;
        if dates.contains(&date) {
            return Err(format!(
                "Nothing saved yet: two days of the text are on {}; `{name}` needs a date of its own.",
                day_name(date)
            ));
        }
        dates.push(date);
    }
    Ok(dates)
}
