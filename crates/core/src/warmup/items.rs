//! Warm-up items, from `data/warmup_items.csv`.

use std::sync::{Arc, LazyLock};

use serde::{Deserialize, Serialize};

use crate::movement::MovementId;

/// What an item does for the body, in the order of a warm-up.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Phase {
    /// The coach's own text.
    Own,
    /// Gets the pulse up.
    Raise,
    /// Opens the joints that are needed.
    Mobilise,
    /// Switches the patterns on.
    Activate,
    /// Rehearses a skill, partial before full.
    SkillPrimer,
    /// Rehearses a lift with the empty bar.
    BarbellPrimer,
    /// Brings the pulse down after.
    CoolDown,
}

impl Phase {
    /// Whether its items rehearse certain movements rather than ready the body.
    pub const fn is_drill(self) -> bool {
        matches!(self, Self::SkillPrimer | Self::BarbellPrimer)
    }

    /// Whether its items are done in rounds, by everybody.
    pub const fn is_of_rounds(self) -> bool {
        matches!(self, Self::Raise | Self::Mobilise | Self::Activate)
    }
}

/// One item.
#[derive(Clone, Debug, PartialEq)]
pub struct WarmupItem {
    /// Its identity.
    pub id: String,
    /// Its name.
    pub name: String,
    /// Where it belongs.
    pub phase: Phase,
    /// Patterns and joints that it prepares.
    pub targets: Vec<String>,
    /// Equipment it needs.
    pub equipment: Vec<String>,
    /// How much: `10 reps`.
    pub dose: String,
    /// Seconds for that, getting into position included.
    pub seconds: u32,
    /// Movements that it leads up to.
    pub prepares: Vec<MovementId>,
    /// Movements that it is much like, for what a limit spares; none for what is left to whoever does it.
    pub like: Vec<MovementId>,
    /// An easier way.
    pub easier: String,
    /// A harder way.
    pub harder: String,
    /// What to say.
    pub cue: String,
}

#[derive(Deserialize)]
struct Row {
    id: String,
    name: String,
    phase: Phase,
    targets: String,
    equipment: String,
    dose: String,
    seconds_for_dose: u32,
    progression_for: String,
    like: String,
    easier: String,
    harder: String,
    cue: String,
}

/// The items that ship with the program.
pub fn standard_items() -> &'static [Arc<WarmupItem>] {
    static ITEMS: LazyLock<Vec<Arc<WarmupItem>>> = LazyLock::new(|| {
        let text = include_str!("../../../../data/warmup_items.csv");
        let rows = csv::Reader::from_reader(text.as_bytes()).into_deserialize::<Row>();
        rows.map(|row| Arc::new(row.expect("the shipped items are tested").into())).collect()
    });
    &ITEMS
}

impl From<Row> for WarmupItem {
    fn from(row: Row) -> Self {
        let list = |text: &str| text.split('|').filter(|part| !part.is_empty()).map(str::to_owned).collect();
        let ids = |text: &str| text.split('|').filter(|id| !id.is_empty()).map(MovementId::new).collect();
        Self {
            targets: list(&row.targets),
            equipment: list(&row.equipment),
            prepares: ids(&row.progression_for),
            like: ids(&row.like),
            id: row.id,
            name: row.name,
            phase: row.phase,
            dose: row.dose,
            easier: row.easier,
            harder: row.harder,
            seconds: row.seconds_for_dose,
            cue: row.cue,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::movement::Catalogue;

    #[test]
    fn every_item_prepares_movements_of_the_catalogue_and_is_like_some() {
        assert!(standard_items().len() >= 120);
        for item in standard_items() {
            assert!(item.seconds > 0, "{}", item.id);
            for id in item.prepares.iter().chain(&item.like) {
                assert!(Catalogue::standard().get(id).is_some(), "{}: {id}", item.id);
            }
        }
    }
}
