//! The texts that a day has had: who saved which when, what it changed, and back to any of them.

use actix_web::{HttpResponse, post, web};
use chrono::NaiveDate;
use diffy::{Line, create_patch};
use lantern_core::gym::Gym;
use lantern_store::clock;
use lantern_store::sessions::{self, NewText, PastText, Saved};
use serde::Deserialize;
use serde_json::Value;

use crate::day::{day_name, day_of, parts_of};
use crate::request::Form;
use crate::request::tenant::Tenant;
use crate::respond::error::AppError;
use crate::respond::redirect::see_other;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(back);
}

/// A text, and what it changed of the one before.
pub(super) struct TextRow {
    pub revision: i32,
    /// The day and the time at the gym.
    pub at: String,
    pub by: String,
    /// Lines that are new, and lines that are gone.
    pub counts: (usize, usize),
    /// `+`, `-` or a space, and the line.
    pub lines: Vec<(char, String)>,
}

/// Of the texts of a day, newest first.
pub(super) fn rows(texts: &[PastText], gym: &Gym) -> Vec<TextRow> {
    let before = texts.iter().skip(1).map(|text| text.text.as_str()).chain([""]);
    texts.iter().zip(before).map(|(text, before)| row(text, before, gym)).collect()
}

fn row(text: &PastText, before: &str, gym: &Gym) -> TextRow {
    // Each line ends: the last one too, which makes it no other.
    let ended = |text: &str| format!("{}\n", text.trim_end());
    let (old, new) = (ended(before), ended(&text.text));
    let patch = create_patch(&old, &new);
    let lines: Vec<(char, String)> = patch
        .hunks()
        .iter()
        .flat_map(|hunk| hunk.lines())
        .map(|line| match line {
            Line::Context(line) => (' ', (*line).to_owned()),
            Line::Delete(line) => ('-', (*line).to_owned()),
            Line::Insert(line) => ('+', (*line).to_owned()),
        })
        .map(|(sign, line)| (sign, line.trim_end().to_owned()))
        .filter(|(sign, line)| *sign == ' ' || !line.is_empty())
        .collect();
    let count = |sign| lines.iter().filter(|line| line.0 == sign).count();
    TextRow {
        revision: text.revision,
        at: clock::time_text(gym, text.saved_at),
        by: text.saved_by.clone(),
        counts: (count('+'), count('-')),
        lines,
    }
}

#[derive(Deserialize)]
struct To {
    revision: i32,
}

/// `POST /days/{day}/texts`: an earlier text is saved anew; the one that stood is among the others then.
#[post("/days/{day}/texts")]
async fn back(tenant: Tenant, path: web::Path<String>, form: Form<To>) -> Result<HttpResponse, AppError> {
    let day = day_of(&path)?;
    let mut rows = tenant.look().await?;
    let old = sessions::text_at(&mut rows, day, form.revision).await?.ok_or(AppError::NoSuchPage)?;
    let stands = sessions::of_day(&mut rows, day).await?;
    drop(rows);
    let seen = stands.map_or(0, |stands| stands.revision);
    put(&tenant, vec![Put { day, seen, text: old.text, corrections: old.corrections }]).await?;
    Ok(see_other(format!("/days/{}/read?saved={}", path.into_inner(), seen + 1)))
}

/// A text that is put on a day, as it was read where it stood.
pub(crate) struct Put {
    pub day: NaiveDate,
    /// The revision of the day's text that was seen; 0 for none.
    pub seen: i32,
    pub text: String,
    pub corrections: Value,
}

/// Saves texts on their days as whoever is signed in: all of them, or none.
///
/// # Errors
/// When somebody has saved another one meanwhile.
pub(crate) async fn put(tenant: &Tenant, all: Vec<Put>) -> Result<(), AppError> {
    let mut read = Vec::new();
    // What takes its time is done before anything is held.
    for Put { day, seen, text, corrections } in all {
        let (gym, catalogue) = (tenant.gym.clone(), tenant.catalogue());
        let parts = parts_of(text.clone(), corrections.clone(), gym, catalogue, None).await?;
        read.push((day, seen, text, corrections, parts));
    }
    let mut rows = tenant.change().await?;
    for (day, seen, text, corrections, parts) in &read {
        let new = NewText {
            text,
            corrections,
            seen: *seen,
            writer: "",
            by: &tenant.who.name,
            parts,
            while_typing: false,
        };
        if let Saved::Conflict(_) = sessions::save(&mut rows, *day, new).await? {
            return Err(AppError::Taken(format!(
                "Somebody else has saved {} meanwhile, so nothing was changed. Load the page again, and decide on what stands there now.",
                day_name(*day)
            )));
        }
    }
    Ok(rows.keep().await?)
}

#[cfg(test)]
mod tests {
    use super::*;
    use chrono::Utc;

    #[test]
    fn a_row_says_which_lines_came_and_which_went() {
        let text = |revision, text: &str| PastText {
            revision,
            text: text.to_owned(),
            corrections: serde_json::json!([]),
            saved_at: Utc::now(),
            saved_by: "Iris".to_owned(),
        };
        let all = [text(2, "For time\n30 burpees\nrun 400 m\n"), text(1, "For time\n20 burpees")];
        let rows = rows(&all, &Gym::default());
        assert_eq!((rows[0].counts, rows[1].counts), ((2, 1), (2, 0)));
        let shown: Vec<String> = rows[0].lines.iter().map(|(sign, line)| format!("{sign}{line}")).collect();
        assert_eq!(shown, [" For time", "-20 burpees", "+30 burpees", "+run 400 m"]);
    }
}
