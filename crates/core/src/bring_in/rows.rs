//! Rows read by the meanings of their columns.

use std::borrow::Cow;

use chrono::NaiveDate;
use serde_json::Value;

use super::columns::{Meaning, guess};
use super::days::{DayOrder, day, shown_order};
use crate::book::{Done, Heard, Scored};
use crate::movement::{Catalogue, MovementId, normal_words};
use crate::pacing::{Model, intended_window};
use crate::read::read;
use crate::session::{Part, PartKind};
use crate::strength::Source;
use crate::table::{Row, bare_cell, table};
use crate::units::{Kilograms, WeightUnit};
use crate::versions::VersionName;

/// Most rows that are taken in at once.
const MOST_ROWS: usize = 5_000;

/// What cannot be taken in, and where it stands.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("line {line}{}: {message}", if column.is_empty() { String::new() } else { format!(", column `{column}`") })]
pub struct CellError {
    /// The line of the table, counted from 1.
    pub line: usize,
    /// The column as it is called.
    pub column: String,
    /// What is wrong.
    pub message: String,
}

/// A lift of a row.
#[derive(Clone, Debug, PartialEq)]
pub struct PastLift {
    /// The line.
    pub line: usize,
    /// Whose it is, by name.
    pub member: String,
    /// When.
    pub on: NaiveDate,
    /// Which.
    pub lift: MovementId,
    /// What was on the bar.
    pub load: Kilograms,
    /// Repetitions.
    pub reps: u32,
    /// Effort.
    pub rpe: Option<f64>,
    /// How it came to be on record.
    pub source: Source,
}

/// A result of a row.
#[derive(Clone, Debug, PartialEq)]
pub struct PastResult {
    /// The line.
    pub line: usize,
    /// Whose it is, by name.
    pub member: String,
    /// When.
    pub on: NaiveDate,
    /// The piece as it was read.
    pub part: Part,
    /// The version done.
    pub version: VersionName,
    /// What was done.
    pub done: Done,
    /// As it stands in the table.
    pub said: String,
    /// Whatever else was told.
    pub note: String,
}

/// What a table brings.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct BroughtIn {
    /// Its columns with their meanings, as said or guessed; none where somebody must say it.
    pub columns: Vec<(String, Option<Meaning>)>,
    /// Lifts.
    pub lifts: Vec<PastLift>,
    /// Results.
    pub results: Vec<PastResult>,
    /// What cannot be taken in.
    pub errors: Vec<CellError>,
    /// Whether a day could be read in two ways.
    pub asks_order: bool,
}

/// Reads a table by the meanings that are said of its columns, by their names, and guessed for the others. In a gym's unit of weight where a row has none.
pub fn bring_in(
    text: &str,
    said: &[(String, Meaning)],
    (order, unit): (Option<DayOrder>, WeightUnit),
    catalogue: &Catalogue,
) -> BroughtIn {
    let table = match as_table(text) {
        Ok(text) => table(&text),
        Err(message) => {
            let error = CellError { line: 1, column: String::new(), message };
            return BroughtIn { errors: vec![error], ..BroughtIn::default() };
        }
    };
    let meaning = |column: &String| {
        let known = said.iter().find(|(name, _)| name == column).map(|(_, meaning)| meaning.clone());
        known.or_else(|| guess(column, catalogue))
    };
    let columns: Vec<(String, Option<Meaning>)> =
        table.columns.iter().map(|column| (column.clone(), meaning(column))).collect();
    let mut brought = BroughtIn { columns, ..BroughtIn::default() };
    let whole = |line: usize, message: String| CellError { line, column: String::new(), message };
    brought.errors = table.errors.into_iter().map(|error| whole(error.line, error.message)).collect();
    if table.rows.len() > MOST_ROWS {
        brought.errors.push(whole(1, format!("{MOST_ROWS} rows are taken in at once, and these are more")));
        return brought;
    }
    let missing = [Meaning::Name, Meaning::Day]
        .into_iter()
        .find(|wanted| !brought.columns.iter().any(|(_, meaning)| meaning.as_ref() == Some(wanted)));
    if let Some(missing) = missing {
        brought.errors.push(whole(1, format!("no column is the {}", missing.key())));
        return brought;
    }
    let of_days = brought.columns.iter().position(|(_, meaning)| *meaning == Some(Meaning::Day));
    let days = table.rows.iter().filter_map(|row| Some(row.cells.get(of_days?)?.as_str()));
    let order = order.or_else(|| shown_order(days));
    for row in &table.rows {
        let cells = Cells { row, columns: &brought.columns, order, unit, catalogue };
        match cells.read() {
            Ok((lifts, result)) => {
                brought.lifts.extend(lifts);
                brought.results.extend(result);
            }
            Err(error) => {
                brought.asks_order |= error.message.ends_with("comes first");
                brought.errors.push(error);
            }
        }
    }
    brought
}

/// A JSON list of rows as a table, its columns in order of appearance; any other text as it stands.
fn as_table(text: &str) -> Result<Cow<'_, str>, String> {
    if !text.trim_start().starts_with('[') {
        return Ok(Cow::Borrowed(text));
    }
    let rows: Vec<serde_json::Map<String, Value>> =
        serde_json::from_str(text).map_err(|error| format!("this is no JSON list of rows: {error}"))?;
    let mut columns: Vec<&String> = Vec::new();
    for column in rows.iter().flat_map(serde_json::Map::keys) {
        if !columns.contains(&column) {
            columns.push(column);
        }
    }
    let mut out = csv::Writer::from_writer(Vec::new());
    let shown = |value: Option<&Value>| match value {
        None | Some(Value::Null) => String::new(),
        Some(Value::String(text)) => text.clone(),
        Some(other) => other.to_string(),
    };
    let written = out.write_record(&columns).and_then(|()| {
        rows.iter().try_for_each(|row| out.write_record(columns.iter().map(|column| shown(row.get(*column)))))
    });
    written.map_err(|error| error.to_string())?;
    let bytes = out.into_inner().map_err(|error| error.to_string())?;
    String::from_utf8(bytes).map(Cow::Owned).map_err(|error| error.to_string())
}

/// A row with what its columns mean.
struct Cells<'a> {
    row: &'a Row,
    columns: &'a [(String, Option<Meaning>)],
    order: Option<DayOrder>,
    unit: WeightUnit,
    catalogue: &'a Catalogue,
}

impl Cells<'_> {
    /// The cell of a meaning; empty where there is none.
    fn cell(&self, wanted: &Meaning) -> &str {
        let place = self.columns.iter().position(|(_, meaning)| meaning.as_ref() == Some(wanted));
        place.and_then(|place| self.row.cells.get(place)).map_or("", |cell| bare_cell(cell))
    }

    fn wrong(&self, at: &Meaning, message: impl Into<String>) -> CellError {
        let column = self.columns.iter().find(|(_, meaning)| meaning.as_ref() == Some(at));
        let column = column.map(|(name, _)| name.clone()).unwrap_or_default();
        CellError { line: self.row.line, column, message: message.into() }
    }

    fn read(&self) -> Result<(Vec<PastLift>, Option<PastResult>), CellError> {
        let member = self.cell(&Meaning::Name).to_owned();
        if member.is_empty() {
            return Err(self.wrong(&Meaning::Name, "this row is nobody's"));
        }
        let on = day(self.cell(&Meaning::Day), self.order).map_err(|why| self.wrong(&Meaning::Day, why))?;
        let mut lifts = Vec::new();
        if !self.cell(&Meaning::Lift).is_empty() || !self.cell(&Meaning::Weight).is_empty() {
            lifts.push(self.lift(&member, on)?);
        }
        for (_, meaning) in self.columns {
            let Some(max @ Meaning::MaxOf(lift)) = meaning else { continue };
            if !self.cell(max).is_empty() {
                let load = self.load(max)?;
                let (line, member, lift) = (self.row.line, member.clone(), lift.clone());
                let source = Source::Stated;
                lifts.push(PastLift { line, member, on, lift, load, reps: 1, rpe: None, source });
            }
        }
        let scored = !self.cell(&Meaning::Score).is_empty();
        let result = if scored { Some(self.result(member, on)?) } else { None };
        if lifts.is_empty() && result.is_none() {
            return Err(self.wrong(&Meaning::Name, "this row has neither a lift nor a score"));
        }
        Ok((lifts, result))
    }

    fn load(&self, at: &Meaning) -> Result<Kilograms, CellError> {
        let text = self.cell(at).to_lowercase().replace(',', ".");
        let (number, own) = match text.strip_suffix("kg").or_else(|| text.strip_suffix("kgs")) {
            Some(number) => (number, Some(WeightUnit::Kg)),
            None => match text.strip_suffix("lbs").or_else(|| text.strip_suffix("lb")) {
                Some(number) => (number, Some(WeightUnit::Lb)),
                None => (text.as_str(), None),
            },
        };
        let header = self.columns.iter().find(|(_, meaning)| meaning.as_ref() == Some(at));
        let of_header = header.and_then(|(name, _)| {
            let words = normal_words(name);
            let has = |unit: &str| words.iter().any(|word| word == unit);
            if has("kg") { Some(WeightUnit::Kg) } else { (has("lb") || has("lbs")).then_some(WeightUnit::Lb) }
        });
        let of_row = match self.cell(&Meaning::Unit).to_lowercase().as_str() {
            "" => None,
            "kg" | "kgs" => Some(WeightUnit::Kg),
            "lb" | "lbs" => Some(WeightUnit::Lb),
            other => return Err(self.wrong(&Meaning::Unit, format!("`{other}` is neither kg nor lb"))),
        };
        let number = number.trim().parse::<f64>().ok().filter(|number| (0.5..=1000.0).contains(number));
        let number = number
            .ok_or_else(|| self.wrong(at, format!("`{}` is no weight from 0.5 to 1000", self.cell(at))))?;
        Ok(Kilograms::from_unit(number, own.or(of_row).or(of_header).unwrap_or(self.unit)))
    }

    fn lift(&self, member: &str, on: NaiveDate) -> Result<PastLift, CellError> {
        let words = normal_words(self.cell(&Meaning::Lift));
        let words: Vec<&str> = words.iter().map(String::as_str).collect();
        let known = self.catalogue.match_words(&words).filter(|found| found.words == words.len());
        let known = known.filter(|found| found.movement.takes_weight());
        let lift = known.ok_or_else(|| {
            let message = format!("`{}` is no lift of the catalogue", self.cell(&Meaning::Lift));
            self.wrong(&Meaning::Lift, message)
        })?;
        let number = |at: &Meaning| self.cell(at).replace(',', ".").parse::<f64>().ok();
        let reps = if self.cell(&Meaning::Reps).is_empty() { Some(1.0) } else { number(&Meaning::Reps) };
        let reps = reps.filter(|reps| reps.fract() == 0.0 && (1.0..=100.0).contains(reps));
        let reps = reps.ok_or_else(|| self.wrong(&Meaning::Reps, "repetitions are whole, from 1 to 100"))?;
        let rpe = match self.cell(&Meaning::Rpe) {
            "" => None,
            _ => Some(
                number(&Meaning::Rpe)
                    .filter(|rpe| (5.0..=10.0).contains(rpe))
                    .ok_or_else(|| self.wrong(&Meaning::Rpe, "effort goes from 5 to 10"))?,
            ),
        };
        Ok(PastLift {
            line: self.row.line,
            member: member.to_owned(),
            on,
            lift: lift.movement.id.clone(),
            load: self.load(&Meaning::Weight)?,
            reps: reps as u32,
            rpe,
            source: Source::named(self.cell(&Meaning::Source)),
        })
    }

    fn result(&self, member: String, on: NaiveDate) -> Result<PastResult, CellError> {
        // In one cell a line break is often a semicolon, or a stroke.
        let text = self.cell(&Meaning::Piece).replace([';', '|'], "\n");
        let reading = read(&text, self.catalogue);
        let mut parts = reading.session.parts.into_iter();
        let part = parts.find(|part| part.kind == PartKind::Conditioning).ok_or_else(|| {
            let message = format!("no piece of conditioning is read in `{}`", self.cell(&Meaning::Piece));
            self.wrong(&Meaning::Piece, message)
        })?;
        let said = self.cell(&Meaning::Score).to_owned();
        let window = intended_window(&part, self.catalogue, Model::standard());
        let done = match Scored::of(&part, &part.tree, &window).hear(&said) {
            // It has been lived with for long: what is odd about it is not asked any more.
            Heard::Kept(done) | Heard::Asked { done, .. } => done,
            Heard::Refused(why) => return Err(self.wrong(&Meaning::Score, why)),
        };
        let version = match self.cell(&Meaning::Version) {
            "" => VersionName::AsWritten,
            text => VersionName::named(text).or_else(|| often(text)).ok_or_else(|| {
                let labels = VersionName::ALL.map(VersionName::label).join(", ");
                self.wrong(&Meaning::Version, format!("`{text}` is none of {labels}"))
            })?,
        };
        let note = self.cell(&Meaning::Note).chars().take(300).collect();
        Ok(PastResult { line: self.row.line, member, on, part, version, done, said, note })
    }
}

/// Versions as they are often called.
fn often(text: &str) -> Option<VersionName> {
    match text.to_lowercase().as_str() {
        "rx" | "as prescribed" | "prescribed" | "yes" => Some(VersionName::AsWritten),
        "scaled" | "light" | "no" => Some(VersionName::Lighter),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn of(text: &str, said: &[(&str, &str)]) -> BroughtIn {
        let catalogue = Catalogue::standard();
        let said = said.iter().map(|(column, key)| {
            ((*column).to_owned(), Meaning::from_key(key, catalogue).expect("a meaning"))
        });
        bring_in(text, &said.collect::<Vec<_>>(), (None, WeightUnit::Kg), catalogue)
    }

    #[test]
    fn sets_a_row_maxes_a_column_and_scores_of_pieces_are_read_together() {
        let brought = of(
            "Athlete,Date,Exercise,Load,Reps,Deadlift 1RM (lb),Workout,Score,Scaling\n\
             Ada Lind,2026-03-02,back squat,\"92,5\",5,,,,\n\
             Ada Lind,2.3.2026,,,,225,For time; 50 burpees; cap 10,6:12,rx\n\
             Bo Ek,2026-03-02,,,,,AMRAP 12; 10 burpees; 20 air squats,5+13,scaled\n",
            &[],
        );
        assert_eq!(brought.errors, []);
        let lifts: Vec<(&str, f64, u32)> =
            brought.lifts.iter().map(|row| (row.lift.as_str(), row.load.kg().round(), row.reps)).collect();
        assert_eq!(lifts, [("back-squat", 93.0, 5), ("deadlift", 102.0, 1)]);
        let results: Vec<(&str, String, VersionName)> = brought
            .results
            .iter()
            .map(|row| (row.member.as_str(), row.done.to_string(), row.version))
            .collect();
        assert_eq!(
            results,
            [
                ("Ada Lind", "6:12".to_owned(), VersionName::AsWritten),
                ("Bo Ek", "5+13".to_owned(), VersionName::Lighter)
            ]
        );
    }

    #[test]
    fn what_cannot_be_read_is_named_by_line_and_column_and_the_rest_is_read() {
        let brought = of(
            "name,day,lift,weight,reps,piece,score\n\
             Ada,2026-03-02,back squat,heavy,5,,\n\
             Ada,2026-03-02,burpee,20,,,\n\
             Ada,3/4/2026,deadlift,100,1,,\n\
             ,2026-03-02,deadlift,100,1,,\n\
             Ada,2026-03-02,,,,tea and cake,12:00\n\
             Ada,2026-03-02,,,,For time; 50 burpees,quick\n\
             Ada,2026-03-02,,,,,\n\
             Ada,2026-03-02,deadlift,100,1,,\n",
            &[],
        );
        assert_eq!(brought.lifts.len(), 1);
        assert!(brought.asks_order);
        let told: Vec<String> = brought.errors.iter().map(ToString::to_string).collect();
        insta::assert_snapshot!(told.join("\n"), @"
        line 2, column `weight`: `heavy` is no weight from 0.5 to 1000
        line 3, column `lift`: `burpee` is no lift of the catalogue
        line 4, column `day`: `3/4/2026`: say whether the day or the month comes first
        line 5, column `name`: this row is nobody's
        line 6, column `piece`: no piece of conditioning is read in `tea and cake`
        line 7, column `score`: `quick` is none: a time such as 12:41, or cap+8 with the repetitions that were left
        line 8, column `name`: this row has neither a lift nor a score
        ");
    }

    #[test]
    fn a_json_list_of_rows_is_a_table() {
        let brought = of(
            r#"[{"name": "Ada", "day": "2026-03-02", "lift": "deadlift", "weight": 100},
                {"name": "Bo", "day": "2026-03-02", "piece": "For time\n50 burpees", "score": "6:12"}]"#,
            &[],
        );
        assert_eq!((brought.lifts.len(), brought.results.len(), brought.errors.len()), (1, 1, 0));
        assert!(of("[1, 2]", &[]).errors[0].message.contains("no JSON list of rows"));
    }

    #[test]
    fn a_column_that_nobody_knows_waits_for_its_meaning() {
        let text = "Sportler;Tag;Kniebeuge\nAda;31.3.2026;100\n";
        let unknown = of(text, &[]);
        assert!(unknown.columns.iter().all(|(_, meaning)| meaning.is_none()));
        assert_eq!(unknown.errors[0].message, "no column is the name");
        let said = of(text, &[("Sportler", "name"), ("Tag", "day"), ("Kniebeuge", "max:back-squat")]);
        assert_eq!((said.lifts.len(), said.errors.len()), (1, 0));
    }
}
