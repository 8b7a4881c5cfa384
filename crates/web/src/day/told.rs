//! Decisions of a day in words.

use std::collections::HashMap;

use lantern_core::decide::{Naming, Subjects};
use lantern_core::gym::Gym;
use lantern_core::movement::Catalogue;
use lantern_core::session::{Likeness, PartKind};
use lantern_core::warmup::standard_items;
use lantern_store::decisions::{self, Decided};
use lantern_store::pieces::{self, StoredPiece};
use lantern_store::{DecisionId, MemberId, clock, members};

use crate::request::house::House;
use crate::request::slot::Slot;
use crate::respond::error::AppError;

/// Longest name of a part in a sentence, in characters.
const LONGEST: usize = 48;

/// A decision in words.
pub(crate) struct Row {
    pub id: DecisionId,
    /// The day and the time at the gym, as `Mon 23 Nov, 18:42`.
    pub at: String,
    /// The class that it is about, as `18:00`; empty for the day.
    pub class: String,
    pub words: String,
    pub by: String,
    /// Who took it back and when; none where it stands.
    pub undone: Option<String>,
}

/// What was decided about a day, newest first: all of it, or what has some ids.
pub(crate) async fn rows(house: &House, day: Slot, ids: Option<&[DecisionId]>) -> Result<Vec<Row>, AppError> {
    let mut rows = house.look().await?;
    let catalogue = house.catalogue();
    let made = decisions::history(&mut rows, day.day, ids).await?;
    let pieces = pieces::of_day(&mut rows, day.day).await?;
    let called = members::called_by_id(&mut rows).await?;
    let told = Told::of(&pieces, &called, &catalogue);
    Ok(made.iter().filter_map(|made| told.row(made, &house.gym)).collect())
}

/// How decisions of a day are told.
struct Told<'a> {
    naming: Naming,
    parts: Vec<(PartKind, String)>,
    items: HashMap<&'a str, &'a str>,
    catalogue: &'a Catalogue,
}

impl<'a> Told<'a> {
    /// Parts that stand in the text no longer are told of too.
    fn of(rows: &[StoredPiece], members: &[(MemberId, String)], catalogue: &'a Catalogue) -> Self {
        let known: Vec<_> = rows.iter().map(|row| (Some(row.id.number()), row.likeness.kind)).collect();
        Self {
            naming: Naming::to_plan(members, &known),
            parts: rows.iter().map(|row| (row.likeness.kind, called(&row.likeness))).collect(),
            items: standard_items().iter().map(|item| (item.id.as_str(), item.name.as_str())).collect(),
            catalogue,
        }
    }

    /// None for what is about somebody who has left.
    fn row(&self, made: &Decided, gym: &Gym) -> Option<Row> {
        let item =
            |id: &str| self.items.get(id).map_or_else(|| id.replace('-', " "), |name| (*name).to_owned());
        let subjects = Subjects { parts: &self.parts, item: &item, catalogue: self.catalogue };
        let at = |moment| clock::time_text(gym, moment);
        Some(Row {
            id: made.id,
            at: at(made.made_at),
            class: made.starts.clone(),
            words: made.decision.told(&self.naming)?.words(&subjects),
            by: made.made_by.clone(),
            undone: made.undone.as_ref().map(|(moment, by)| match by.as_str() {
                "" => at(*moment),
                by => format!("{}, by {by}", at(*moment)),
            }),
        })
    }
}

/// What a part is called in a sentence: its first words.
fn called(part: &Likeness) -> String {
    let line = part.words.lines().take(2).collect::<Vec<_>>().join(", ");
    let line = if line.is_empty() { part.kind.heading().to_owned() } else { line };
    if line.chars().count() <= LONGEST {
        return line;
    }
    let short: String = line.chars().take(LONGEST).collect();
    short.rsplit_once(' ').map_or(short.clone(), |(words, _)| format!("{} …", words.trim_end_matches(',')))
}
