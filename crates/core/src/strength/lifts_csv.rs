//! Lifts on record as CSV: one row a set, in and out.
//!
//! Columns: `name`, `lift`, `weight`, `unit` (kg when empty), `reps` (1 when empty), `rpe`, `missed`, `on`
//! (year-month-day) and `source`. Good rows come first, bad rows are named beside them.

use super::Source;
use crate::movement::{Catalogue, MovementId};
use crate::table::{RowError, is_a_day, table};
use crate::units::{Kilograms, WeightUnit};

/// A set as a row tells it.
#[derive(Clone, Debug, PartialEq)]
pub struct LiftRow {
    /// Line of the file, counted from 1.
    pub line: usize,
    /// Whose it is, by name.
    pub member: String,
    /// The lift.
    pub lift: MovementId,
    /// What was on the bar.
    pub load: Kilograms,
    /// Repetitions, 1 to 100.
    pub reps: u32,
    /// Effort, 5 to 10.
    pub rpe: Option<f64>,
    /// Whether the last repetition was missed.
    pub missed: bool,
    /// The day as `year-month-day`; empty when the row does not say.
    pub on: String,
    /// How it came about.
    pub source: Source,
}

/// Whether a first line names the columns of lifts rather than those of a roster.
pub fn is_lifts_csv(text: &str) -> bool {
    let columns: Vec<String> = table(text).columns.iter().map(|column| column.to_lowercase()).collect();
    ["name", "lift", "weight"].iter().all(|wanted| columns.iter().any(|column| column == wanted))
}

/// Columns of lifts; any other is an error.
const COLUMNS: [&str; 9] = ["name", "lift", "weight", "unit", "reps", "rpe", "missed", "on", "source"];

/// Reads lifts. A lift may be called by any name that the catalogue knows.
pub fn lifts_from_csv(text: &str, catalogue: &Catalogue) -> (Vec<LiftRow>, Vec<RowError>) {
    let table = table(text);
    let headers: Vec<String> = table.columns.iter().map(|column| column.to_lowercase()).collect();
    let mut good = Vec::new();
    let mut bad = table.errors;
    for (header, column) in headers.iter().zip(&table.columns) {
        if !header.is_empty() && !COLUMNS.contains(&header.as_str()) {
            let message = format!("there is no column `{column}`; lifts have {}", COLUMNS.join(", "));
            bad.push(RowError { line: 1, message });
        }
    }
    for row in &table.rows {
        let cell = |column: &str| {
            let place = headers.iter().position(|header| header == column);
            place.and_then(|place| row.cells.get(place)).map_or("", String::as_str)
        };
        match lift_row(row.line, cell, catalogue) {
            Ok(row) => good.push(row),
            Err(message) => bad.push(RowError { line: row.line, message }),
        }
    }
    (good, bad)
}

fn lift_row<'a>(
    line: usize,
    cell: impl Fn(&str) -> &'a str,
    catalogue: &Catalogue,
) -> Result<LiftRow, String> {
    let wrong = |column: &str, expected: &str| {
        format!("column `{column}` is `{}`, but it should be {expected}", cell(column))
    };
    let number =
        |column: &str| cell(column).replace(',', ".").parse::<f64>().ok().filter(|number| number.is_finite());
    if cell("name").is_empty() {
        return Err("this row has no name".to_owned());
    }
    let words = crate::movement::normal_words(cell("lift"));
    let words: Vec<&str> = words.iter().map(String::as_str).collect();
    let known = catalogue.match_words(&words).filter(|found| found.words == words.len());
    let lift = known.filter(|found| found.movement.takes_weight());
    let lift = lift.ok_or_else(|| wrong("lift", "a lift of the catalogue"))?;
    let unit = match cell("unit").to_lowercase().as_str() {
        "" | "kg" => WeightUnit::Kg,
        "lb" | "lbs" => WeightUnit::Lb,
        _ => return Err(wrong("unit", "kg or lb")),
    };
    let weight = number("weight").filter(|weight| (0.5..=1000.0).contains(weight));
    let reps = if cell("reps").is_empty() { Some(1.0) } else { number("reps") };
    let reps = reps.filter(|reps| reps.fract() == 0.0 && (1.0..=100.0).contains(reps));
    let rpe = if cell("rpe").is_empty() {
        None
    } else {
        let rpe = number("rpe").filter(|rpe| (5.0..=10.0).contains(rpe));
        Some(rpe.ok_or_else(|| wrong("rpe", "from 5 to 10"))?)
    };
    let on = cell("on");
    if !on.is_empty() && !is_a_day(on) {
        return Err(wrong("on", "a day of the calendar such as 2026-03-31"));
    }
    Ok(LiftRow {
        line,
        member: cell("name").to_owned(),
        lift: lift.movement.id.clone(),
        load: Kilograms::from_unit(weight.ok_or_else(|| wrong("weight", "between 0.5 and 1000"))?, unit),
        reps: reps.ok_or_else(|| wrong("reps", "whole, from 1 to 100"))? as u32,
        rpe,
        missed: matches!(cell("missed").to_lowercase().as_str(), "1" | "yes" | "true" | "x"),
        on: on.to_owned(),
        source: Source::named(cell("source")),
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_set_a_row_with_the_lift_by_any_name_and_bad_rows_named() {
        let text = "name,lift,weight,unit,reps,rpe,on,source\n\
                    Ada Lind,back squat,100,,5,8,2026-03-31,tested\n\
                    Ada Lind,C&J,135,lb,,,,\n\
                    Bo Ek,back squat,heavy,,,,,\nBo Ek,burpee,20,,,,,\nBo Ek,deadlift,100,,,,31.3.,\n";
        assert!(is_lifts_csv(text) && !is_lifts_csv("name,back_squat_kg\n"));
        let (good, bad) = lifts_from_csv(text, Catalogue::standard());
        assert_eq!((good[0].lift.as_str(), good[0].reps, good[0].rpe), ("back-squat", 5, Some(8.0)));
        assert_eq!((good[1].lift.as_str(), good[1].load), ("clean-and-jerk", Kilograms::from_lb(135.0)));
        assert_eq!(good.len(), 2);
        let bad: Vec<String> = bad.iter().map(ToString::to_string).collect();
        insta::assert_snapshot!(bad.join("\n"), @"
        line 4: column `weight` is `heavy`, but it should be between 0.5 and 1000
        line 5: column `lift` is `burpee`, but it should be a lift of the catalogue
        line 6: column `on` is `31.3.`, but it should be a day of the calendar such as 2026-03-31
        ");
    }
}
