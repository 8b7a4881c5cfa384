//! The catalogue: rows from `data/movements.csv`, found by id or by name.

use std::collections::HashMap;
use std::sync::LazyLock;

use serde::Deserialize;

use super::names::{NameIndex, normal_words};
use super::spellings::respelt;
use super::{LoadKind, Movement, MovementId, MovementMatch, OwnMovement, Pace, Pattern, Share, Sides, Unit};

/// The project's own rows, embedded at build so that the program needs no files beside it.
const STANDARD: &str = include_str!("../../../../data/movements.csv");

/// All movements that a reader and a planner may speak of.
#[derive(Clone, Debug)]
pub struct Catalogue {
    rows: Vec<Movement>,
    by_id: HashMap<MovementId, usize>,
    names: NameIndex,
}

/// Why a catalogue file was refused.
#[derive(Debug, thiserror::Error)]
pub enum CatalogueError {
    /// The file is not CSV with the expected columns.
    #[error("the movement file cannot be read: {0}")]
    Csv(#[from] csv::Error),
    /// A cell does not hold what its column needs.
    #[error("movement `{id}`: {column} is `{found}`, but it should be {expected}")]
    Cell {
        /// The row.
        id: String,
        /// The column's name.
        column: &'static str,
        /// The cell's text.
        found: String,
        /// What would be right.
        expected: &'static str,
    },
    /// Two rows share an id.
    #[error("movement `{0}` stands twice")]
    Twice(String),
}

impl Catalogue {
    /// The movements that ship with the program.
    pub fn standard() -> &'static Self {
        static CATALOGUE: LazyLock<Catalogue> =
            LazyLock::new(|| Catalogue::from_csv(STANDARD).expect("the shipped movement file is tested"));
        &CATALOGUE
    }

    /// From CSV text with the columns of `data/movements.csv`.
    ///
    /// # Errors
    /// When the columns are others, a cell is malformed, or an id stands twice.
    pub fn from_csv(text: &str) -> Result<Self, CatalogueError> {
        let mut rows = Vec::new();
        for row in csv::Reader::from_reader(text.as_bytes()).deserialize::<Row>() {
            rows.push(row?.movement()?);
        }
        Self::from_rows(rows)
    }

    /// This catalogue with a gym's own names for movements it already has: `(alias, id)`.
    /// Aliases of unknown movements are left out.
    pub fn with_aliases<'a>(&self, aliases: impl IntoIterator<Item = (&'a str, &'a str)>) -> Self {
        let mut own = self.clone();
        for (alias, id) in aliases {
            if let Some(&row) = own.by_id.get(&MovementId::new(id)) {
                own.rows[row].aliases.push(alias.to_lowercase());
                own.names.add(alias, row);
            }
        }
        own
    }

    /// The standard catalogue with a gym's own movements and its names `(alias, movement id)`.
    pub fn of_gym(own: &[OwnMovement], names: &[(String, String)]) -> Self {
        let standard = Self::standard();
        // One that a newer catalogue has brought along is the catalogue's from then on.
        let own = own.iter().filter_map(|own| own.movement(standard).ok());
        let names = names.iter().map(|(alias, id)| (alias.as_str(), id.as_str()));
        standard.with_movements(own).with_aliases(names)
    }

    /// This catalogue with a gym's own movements. A row whose id is taken replaces the standard one.
    pub fn with_movements(&self, movements: impl IntoIterator<Item = Movement>) -> Self {
        let mut own = self.clone();
        for movement in movements {
            let row = match own.by_id.get(&movement.id) {
                Some(&row) => row,
                None => own.rows.len(),
            };
            for name in [movement.id.as_str(), &movement.name]
                .into_iter()
                .chain(movement.aliases.iter().map(|a| &**a))
            {
                own.names.add(name, row);
            }
            own.by_id.insert(movement.id.clone(), row);
            if row == own.rows.len() {
                own.rows.push(movement);
            } else {
                own.rows[row] = movement;
            }
        }
        own
    }

    fn from_rows(rows: Vec<Movement>) -> Result<Self, CatalogueError> {
        let mut by_id = HashMap::new();
        let mut names = NameIndex::default();
        for (n, row) in rows.iter().enumerate() {
            if by_id.insert(row.id.clone(), n).is_some() {
                return Err(CatalogueError::Twice(row.id.to_string()));
            }
            names.add(row.id.as_str(), n);
            names.add(&row.name, n);
            for alias in &row.aliases {
                names.add(alias, n);
            }
        }
        for (n, row) in rows.iter().enumerate() {
            add_turned_names(&mut names, row, n);
            add_tool_names(&mut names, row, n, |id| by_id.get(id).map(|&base| &rows[base]));
        }
        for (n, row) in rows.iter().enumerate() {
            for name in row.aliases.iter().chain([&row.name]) {
                respelt(&normal_words(name)).iter().for_each(|name| names.add(name, n));
            }
        }
        Ok(Self { rows, by_id, names })
    }

    /// The row of an id.
    pub fn get(&self, id: &MovementId) -> Option<&Movement> {
        self.by_id.get(id).map(|&row| &self.rows[row])
    }

    /// The row of an id given as text.
    pub fn find(&self, id: &str) -> Option<&Movement> {
        self.get(&MovementId::new(id))
    }

    /// The name shown for an id; the id itself when the catalogue lacks it.
    pub fn name<'a>(&'a self, id: &'a MovementId) -> &'a str {
        self.get(id).map_or(id.as_str(), |movement| &movement.name)
    }

    /// All rows in file order.
    pub fn iter(&self) -> impl Iterator<Item = &Movement> {
        self.rows.iter()
    }

    /// The longest name that the words begin with.
    pub fn match_words(&self, words: &[&str]) -> Option<MovementMatch<'_>> {
        self.names
            .longest(words)
            .map(|(row, length)| MovementMatch { movement: &self.rows[row], words: length })
    }

    /// Names close to a phrase that nobody knows, nearest first, at most `limit`.
    pub fn similar(&self, phrase: &str, limit: usize) -> Vec<&Movement> {
        self.names.similar(phrase, limit).into_iter().map(|row| &self.rows[row]).collect()
    }

    /// Whether a phrase is a name but for a slip or two.
    pub fn nearly_knows(&self, phrase: &str) -> bool {
        self.names.nearly_knows(phrase)
    }

    /// Whether any name uses this word.
    pub fn uses_word(&self, word: &str) -> bool {
        self.names.uses_word(word)
    }

    /// How many names use this word.
    pub fn uses(&self, word: &str) -> usize {
        self.names.uses(word)
    }

    /// All words that stand in names.
    pub fn words(&self) -> impl Iterator<Item = &str> {
        self.names.words()
    }
}

/// What coaches call a tool in front of a movement's name.
const TOOL_NAMES: [(&str, &[&str]); 2] =
    [("dumbbell-", &["db", "dbs", "dumbbell"]), ("kettlebell-", &["kb", "kbs", "kettlebell"])];

/// What a light pipe is called that takes the place of a bar.
const STICKS: [&str; 5] = ["pvc", "stick", "dowel", "pipe", "broomstick"];

/// Words in front of a name that say what is held, of which "goblet" is how.
const HELD: [&str; 6] = ["weighted", "db", "dumbbell", "dumbbells", "kb", "kettlebell"];

/// "Over-the-bar burpees" are burpees over the bar, and a goblet lunge is one with a weight in the hands.
fn add_turned_names(names: &mut NameIndex, row: &Movement, n: usize) {
    let held = matches!(row.load_kind, LoadKind::DumbbellEach | LoadKind::DumbbellSingle);
    for name in row.aliases.iter().chain([&row.name]) {
        let words = normal_words(name);
        let (first, behind) = words.split_first().unwrap_or((name, &[]));
        if held && row.pattern == Pattern::Lunge {
            let plain = if HELD.contains(&first.as_str()) { behind } else { &words[..] };
            names.add(&format!("goblet {}", plain.join(" ")), n);
        }
        let Some(over) = words.iter().position(|word| word == "over").filter(|at| *at > 0) else { continue };
        let thing = words[over + 1..].join(" ");
        let thing = thing.strip_prefix("the ").unwrap_or(&thing);
        if !thing.is_empty() {
            let what = words[..over].join(" ");
            names.add(&format!("over {thing} {what}"), n);
            names.add(&format!("over the {thing} {what}"), n);
            names.add(&format!("{what} over the {thing}"), n);
        }
    }
}

/// "DB deads" is the dumbbell deadlift because "deads" is a deadlift: every name of the plain movement, behind the
/// tool. A name that the file gives to another row stays that row's.
fn add_tool_names<'r>(
    names: &mut NameIndex,
    row: &Movement,
    n: usize,
    plain: impl Fn(&MovementId) -> Option<&'r Movement>,
) {
    for (prefix, tools) in TOOL_NAMES {
        let base = row.id.as_str().strip_prefix(prefix).and_then(|id| plain(&MovementId::new(id)));
        for alias in base.into_iter().flat_map(|base| &base.aliases) {
            tools.iter().for_each(|tool| names.add(&format!("{tool} {alias}"), n));
        }
    }
    // "Overhead squats with a stick"
    let base = row.id.as_str().strip_prefix("pvc-").and_then(|id| plain(&MovementId::new(id)));
    if let Some(base) = base {
        for name in base.aliases.iter().chain([&base.name]) {
            for stick in STICKS {
                names.add(&format!("{stick} {name}"), n);
                ["a", "the"].iter().for_each(|the| names.add(&format!("{name} with {the} {stick}"), n));
            }
        }
    }
}

/// A row as it stands in the file; columns are explained in `docs/formats.md`.
#[derive(Deserialize)]
struct Row {
    id: String,
    name: String,
    aliases: String,
    pattern: Pattern,
    unit: Unit,
    equipment: String,
    load_kind: LoadKind,
    load_ref: String,
    load_ref_fraction: Option<f64>,
    muscles: String,
    joints: String,
    skill: u8,
    prerequisite: String,
    sec_per_unit_fast: f64,
    sec_per_unit_mid: f64,
    sec_per_unit_slow: f64,
    setup_s: f64,
    unilateral: Sides,
    complexity: u8,
    notes: String,
}

impl Row {
    fn movement(self) -> Result<Movement, CatalogueError> {
        let id = self.id.clone();
        let cell = |column, found: &str, expected| CatalogueError::Cell {
            id: id.clone(),
            column,
            found: found.to_owned(),
            expected,
        };
        let shares = |column, text: &str| -> Result<Vec<Share>, CatalogueError> {
            list(text)
                .map(|part| {
                    part.split_once(':')
                        .and_then(|(name, weight)| Some((name.to_owned(), weight.parse().ok()?)))
                        .ok_or_else(|| cell(column, part, "`name:weight` pairs"))
                })
                .collect()
        };
        let pace =
            Pace { fast: self.sec_per_unit_fast, mid: self.sec_per_unit_mid, slow: self.sec_per_unit_slow };
        if !(0.0 < pace.fast && pace.fast <= pace.mid && pace.mid <= pace.slow) {
            let found = format!("{}/{}/{}", pace.fast, pace.mid, pace.slow);
            return Err(cell("sec_per_unit", &found, "rising from fast to slow"));
        }
        Ok(Movement {
            muscles: shares("muscles", &self.muscles)?,
            joints: shares("joints", &self.joints)?,
            metre_pace: token(&self.notes, "alt:metres=").and_then(three_paces),
            singles_pace: token(&self.notes, "singles:").and_then(three_paces),
            other_equipment: token(&self.notes, "alt_equipment:").map(owned).unwrap_or_default(),
            id: MovementId::new(&self.id),
            name: self.name,
            aliases: owned(&self.aliases),
            pattern: self.pattern,
            unit: self.unit,
            equipment: owned(&self.equipment),
            load_kind: self.load_kind,
            load_ref: self
                .load_ref_fraction
                .map(|share| (MovementId::new(&self.load_ref.replace('_', "-")), share)),
            skill: self.skill,
            prerequisites: list(&self.prerequisite).map(MovementId::new).collect(),
            pace,
            setup_s: self.setup_s,
            sides: self.unilateral,
            complexity: self.complexity,
            properties: super::properties::properties_of(&self.id),
            like: None,
            notes: self.notes,
        })
    }
}

fn list(text: &str) -> impl Iterator<Item = &str> {
    text.split('|').filter(|part| !part.is_empty())
}

fn owned(text: &str) -> Vec<String> {
    list(text).map(str::to_owned).collect()
}

/// A machine-readable token in the notes column ends at `;`, a space or the end of the note.
fn token<'a>(notes: &'a str, key: &str) -> Option<&'a str> {
    let rest = &notes[notes.find(key)? + key.len()..];
    Some(&rest[..rest.find([';', ' ']).unwrap_or(rest.len())])
}

fn three_paces(text: &str) -> Option<Pace> {
    let mut numbers = text.split('/').map(|n| n.parse().ok());
    Some(Pace { fast: numbers.next()??, mid: numbers.next()??, slow: numbers.next()?? })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_reference_of_the_shipped_rows_is_a_row() {
        let catalogue = Catalogue::standard();
        assert!(catalogue.iter().count() >= 280);
        for movement in catalogue.iter() {
            for need in &movement.prerequisites {
                let need = catalogue.get(need).unwrap_or_else(|| panic!("{}: {need} is no row", movement.id));
                assert!(need.skill <= movement.skill, "{} asks for the harder {}", movement.id, need.id);
            }
            if let Some((lift, share)) = &movement.load_ref {
                assert!(catalogue.get(lift).is_some(), "{}: {lift} is no row", movement.id);
                assert!((0.0..=1.6).contains(share), "{}: share {share}", movement.id);
            }
        }
    }

    #[test]
    fn every_name_of_the_shipped_rows_leads_to_its_own_row() {
        let catalogue = Catalogue::standard();
        for movement in catalogue.iter() {
            for name in movement.aliases.iter().chain([&movement.name]) {
                let words = super::super::normal_words(name);
                let words: Vec<&str> = words.iter().map(String::as_str).collect();
                let found = catalogue.match_words(&words).unwrap_or_else(|| panic!("`{name}` is not found"));
                assert_eq!(found.movement.id, movement.id, "`{name}`");
                assert_eq!(found.words, words.len(), "`{name}`");
            }
        }
    }

    #[test]
    fn machine_readable_notes_become_paces_and_equipment() {
        let catalogue = Catalogue::standard();
        let row = catalogue.find("row").unwrap();
        assert!(row.metre_pace.unwrap().mid < 0.3);
        assert_eq!(catalogue.find("deadlift").unwrap().singles_pace.unwrap().mid, 3.8);
        assert!(catalogue.find("goblet-squat").unwrap().other_equipment.contains(&"dumbbell".to_owned()));
    }

    #[test]
    fn names_can_be_turned_round_and_say_how_a_weight_is_held() {
        let named = |words: &str| {
            let words = normal_words(words);
            let words: Vec<&str> = words.iter().map(String::as_str).collect();
            let found = Catalogue::standard().match_words(&words).unwrap();
            assert_eq!(found.words, words.len(), "{words:?}");
            found.movement.id.to_string()
        };
        assert_eq!(named("over-the-rower burpees"), "lateral-burpee-over-rower");
        assert_eq!(named("over the bar burpee"), "lateral-burpee-over-bar");
        assert_eq!(named("burpees over the dumbbells"), "lateral-burpee-over-dumbbell");
        assert_eq!(named("goblet split squats"), "split-squat");
        assert_eq!(named("goblet squats"), "goblet-squat");
        assert_eq!(named("goblet box step ups"), "weighted-box-step-up");
    }

    #[test]
    fn a_gym_can_add_names_of_its_own() {
        let catalogue =
            Catalogue::standard().with_aliases([("hill lap", "run"), ("nothing", "no-such-movement")]);
        assert_eq!(catalogue.match_words(&["hill", "lap"]).unwrap().movement.id.as_str(), "run");
        assert!(catalogue.match_words(&["nothing"]).is_none());
    }

    #[test]
    fn a_malformed_cell_is_named_with_its_row_and_column() {
        let header = STANDARD.lines().next().unwrap();
        let row = "x-lift,X lift,,squat,weightlifting,reps,barbell,barbell,,,quads,knee:1,0,,3,2,1,1,none,1,";
        let error = Catalogue::from_csv(&format!("{header}\n{row}")).unwrap_err();
        insta::assert_snapshot!(error, @"movement `x-lift`: sec_per_unit is `3/2/1`, but it should be rising from fast to slow");
    }
}
