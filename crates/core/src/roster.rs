//! The roster as a table: members in, with every column accounted for, and out again.
//!
//! A column that is not known stops nothing from being read, but it is named: whoever takes the roster in must say what it
//! means, keep it as a note, or drop it. What a cell holds is never dropped in silence.

mod answers;
mod results;

use std::collections::BTreeMap;

pub use answers::Answers;
use results::{Timed, heaviest, is_possible, timed_column, timed_key};

use crate::limits::{self, Limit};
use crate::member::{Experience, Max, Member, Sex, TimedResult};
use crate::movement::{MovementId, Unit};
use crate::pacing::Machine;
use crate::table::{RowError, bare_cell, safe_cell, table};
use crate::units::{Kilograms, WeightUnit, clock_s};

/// Longest name, in characters.
pub const LONGEST_NAME: usize = 120;
/// Longest note or list of equipment, in characters.
const LONGEST_TEXT: usize = 2_000;
/// Most members that are taken in at once.
pub const MOST_MEMBERS: usize = 2_000;
/// What a lift, a body and a time can be.
const LEAST_LIFT_KG: f64 = 0.5;
const BODY_KG: std::ops::RangeInclusive<f64> = 20.0..=400.0;
const AGE: std::ops::RangeInclusive<f64> = 3.0..=120.0;
const REPS: std::ops::RangeInclusive<f64> = 0.0..=2000.0;
const SECONDS: std::ops::RangeInclusive<u32> = 10..=14_400;

/// Columns of best repetitions and the movements they speak for.
const REP_COLUMNS: &[(&str, &[&str])] = &[
    ("max_strict_pull_ups", &["strict-pull-up"]),
    ("max_kipping_pull_ups", &["pull-up", "kipping-pull-up"]),
    ("max_push_ups", &["push-up"]),
    ("max_handstand_push_ups", &["handstand-push-up"]),
    ("max_toes_to_bar", &["toes-to-bar"]),
    ("max_double_unders", &["double-under"]),
    ("muscle_ups", &["bar-muscle-up", "ring-muscle-up"]),
];

/// Columns that are no lifts, with the words for them.
const PLAIN_COLUMNS: &[(&str, &str)] = &[
    ("name", "name"),
    ("sex", "sex (F or M)"),
    ("age", "age"),
    ("bodyweight_kg", "bodyweight, kg"),
    ("bodyweight_lb", "bodyweight, lb"),
    ("experience", "experience"),
    ("row_2k", "2000 m row, min:s"),
    ("run_400m", "400 m run, min:s"),
    ("run_1600m", "1600 m run, min:s"),
    ("limits", "limits"),
    ("equipment_at_home", "equipment at home"),
    ("notes", "notes"),
    ("max_strict_pull_ups", "most strict pull-ups"),
    ("max_kipping_pull_ups", "most kipping pull-ups"),
    ("max_push_ups", "most push-ups"),
    ("max_handstand_push_ups", "most handstand push-ups"),
    ("max_toes_to_bar", "most toes-to-bar"),
    ("max_double_unders", "most double-unders"),
    ("muscle_ups", "most muscle-ups"),
];

/// Lifts that a column is offered for.
const LIFT_COLUMNS: &[&str] = &[
    "back_squat",
    "front_squat",
    "overhead_squat",
    "deadlift",
    "strict_press",
    "push_press",
    "bench_press",
    "clean",
    "clean_and_jerk",
    "snatch",
];

/// What a column that the roster does not know is to be.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Choice {
    /// A column of the roster, by its name in `docs/formats.md`.
    As(String),
    /// Kept with the member as a note.
    Note,
    /// Left out.
    Drop,
}

impl Choice {
    /// From a form: `note`, `drop`, or a column's name.
    pub fn named(text: &str) -> Option<Self> {
        match text {
            "note" => Some(Self::Note),
            "drop" => Some(Self::Drop),
            other => is_known(other).then(|| Self::As(other.to_owned())),
        }
    }
}

/// What a table held.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Roster {
    /// Members of the rows that can be read.
    pub members: Vec<Member>,
    /// The rows that cannot.
    pub errors: Vec<RowError>,
    /// Columns that nobody has said the meaning of, as written, with the likeliest meaning.
    pub unknown: Vec<(String, Option<String>)>,
}

/// Every column that an unknown one can be said to be, with the words for it.
pub fn columns() -> Vec<(String, String)> {
    let plain = PLAIN_COLUMNS.iter().map(|(key, words)| ((*key).to_owned(), (*words).to_owned()));
    let lifts = LIFT_COLUMNS.iter().flat_map(|lift| {
        ["kg", "lb"].map(|unit| (format!("{lift}_{unit}"), format!("{} 1RM, {unit}", lift.replace('_', " "))))
    });
    plain.chain(lifts).collect()
}

fn is_known(key: &str) -> bool {
    PLAIN_COLUMNS.iter().any(|(known, _)| *known == key)
        || lift_column(key).is_some()
        || timed_column(key).is_some()
}

/// What is wrong with a cell.
enum Wrong {
    /// Nobody knows what it says; the row waits for it.
    Cell(String),
    /// It says what cannot be: it is named and not used.
    Impossible(String),
}

/// Members from a table, by the meaning of its columns; `choices` say what the unknown ones are, by their names as
/// written.
pub fn read_roster(text: &str, choices: &BTreeMap<String, Choice>) -> Roster {
    let table = table(text);
    let mut roster = Roster { errors: table.errors, ..Roster::default() };
    let mut meanings: Vec<Option<Choice>> = Vec::new();
    for column in &table.columns {
        let key = column.to_lowercase();
        let known = is_known(&key).then(|| Choice::As(key.clone()));
        let meaning = known.or_else(|| choices.get(column).cloned());
        // A column without a name and without a cell is what a trailing separator leaves.
        let n = meanings.len();
        let empty = table.rows.iter().all(|row| row.cells.get(n).is_none_or(String::is_empty));
        if meaning.is_none() && !empty {
            roster.unknown.push((column.clone(), likeliest(&key)));
        }
        meanings.push(meaning);
    }
    let mapped = |key: &str| meanings.iter().flatten().filter(|m| **m == Choice::As(key.to_owned())).count();
    if mapped("name") == 0 {
        let message = "there is no column `name`; the first line must name the columns".to_owned();
        roster.errors.insert(0, RowError { line: 1, message });
        return roster;
    }
    for column in &table.columns {
        let key = column.to_lowercase();
        if is_known(&key)
            && mapped(&key) > 1
            && !roster.errors.iter().any(|error| error.message.contains(&key))
        {
            let message = format!("two columns are `{key}`; say which of them counts");
            roster.errors.push(RowError { line: 1, message });
        }
    }
    if table.rows.len() > MOST_MEMBERS {
        let message =
            format!("{} rows are more than the {MOST_MEMBERS} that are taken in at once", table.rows.len());
        roster.errors.push(RowError { line: 1, message });
        return roster;
    }
    for row in &table.rows {
        let cells = meanings.iter().zip(&table.columns).zip(&row.cells);
        let cells = cells.filter_map(|((meaning, column), cell)| {
            Some((meaning.as_ref()?, column.as_str(), cell.as_str()))
        });
        match member_from_cells(cells, row.line) {
            Ok((member, impossible)) => match roster.members.iter().any(|known| known.name == member.name) {
                true => roster.errors.push(RowError {
                    line: row.line,
                    message: format!("{} stands in this file twice", member.name),
                }),
                false => {
                    roster.members.push(member);
                    roster.errors.extend(impossible);
                }
            },
            Err(error) => roster.errors.push(error),
        }
    }
    roster.errors.sort_by_key(|error| error.line);
    roster
}

/// Members from a table whose unknown columns are kept as notes. Good rows come first, bad rows are named beside them.
pub fn roster_from_csv(text: &str) -> (Vec<Member>, Vec<RowError>) {
    let unknown = read_roster(text, &BTreeMap::new()).unknown;
    let choices = unknown.into_iter().map(|(column, _)| (column, Choice::Note)).collect();
    let roster = read_roster(text, &choices);
    (roster.members, roster.errors)
}

/// What a column is likely meant to be: "Back Squat 1RM (kg)" is the back squat in kilograms.
fn likeliest(column: &str) -> Option<String> {
    let words: String = column.chars().map(|c| if c.is_alphanumeric() { c } else { ' ' }).collect();
    let words: Vec<&str> = words
        .split_whitespace()
        .filter(|word| !matches!(*word, "1rm" | "max" | "rm" | "pr" | "best"))
        .collect();
    let (unit, words): (Vec<&str>, Vec<&str>) =
        words.into_iter().partition(|word| matches!(*word, "kg" | "lb" | "lbs" | "kilos" | "pounds"));
    let key = words.join("_");
    let unit = match unit.first() {
        Some(unit) if unit.starts_with('l') || unit.starts_with('p') => "lb",
        _ => "kg",
    };
    if LIFT_COLUMNS.contains(&key.as_str()) {
        return Some(format!("{key}_{unit}"));
    }
    let known = match key.as_str() {
        "member" | "athlete" | "full_name" | "person" => "name",
        "gender" | "m_f" => "sex",
        "weight" | "bodyweight" | "body_weight" => return Some(format!("bodyweight_{unit}")),
        "level" => "experience",
        "limit" | "limitations" | "injuries" | "injury" | "health" | "restrictions" => "limits",
        "note" | "notes" | "comment" | "comments" | "remarks" => "notes",
        "equipment" | "home" => "equipment_at_home",
        _ => return PLAIN_COLUMNS.iter().map(|(name, _)| (*name).to_owned()).find(|name| *name == key),
    };
    Some(known.to_owned())
}

/// Members as CSV with the columns that [`read_roster`] knows: reading it gives the same members again, maxes to the gram.
/// No cell begins a formula.
pub fn roster_to_csv(members: &[Member]) -> String {
    let mut lifts: Vec<&MovementId> = members.iter().flat_map(|member| member.maxes.keys()).collect();
    lifts.sort();
    lifts.dedup();
    let mut header: Vec<String> =
        ["name", "sex", "age", "bodyweight_kg", "experience"].map(str::to_owned).to_vec();
    header.extend(lifts.iter().map(|lift| format!("{}_kg", lift.as_str().replace('-', "_"))));
    header.extend(REP_COLUMNS.iter().map(|(column, _)| (*column).to_owned()));
    let mut results: Vec<String> =
        members.iter().flat_map(|member| member.results.iter().map(timed_key)).collect();
    results.sort();
    results.dedup();
    header.extend(results.iter().cloned());
    let last = ["row_2k", "run_400m", "run_1600m", "limits", "equipment_at_home", "notes"];
    header.extend(last.map(str::to_owned));
    let mut out = csv::Writer::from_writer(Vec::new());
    let known = |value: Option<String>| value.unwrap_or_default();
    let mut rows = vec![header];
    for member in members {
        let mut row = vec![
            member.name.clone(),
            known(member.sex.map(|sex| format!("{sex:?}"))),
            known(member.age.map(|age| age.to_string())),
            known(member.bodyweight.map(|weight| weight.kg().to_string())),
            if member.experience == Experience::Unknown { "" } else { member.experience.name() }.to_owned(),
        ];
        row.extend(
            lifts.iter().map(|lift| known(member.maxes.get(*lift).map(|max| max.value.kg().to_string()))),
        );
        row.extend(
            REP_COLUMNS
                .iter()
                .map(|(_, ids)| known(member.best_reps.get(&MovementId::new(ids[0])).map(u32::to_string))),
        );
        row.extend(results.iter().map(|key| {
            let result = member.results.iter().find(|result| timed_key(result) == *key);
            known(result.map(|result| match result.unit {
                Unit::Calories => result.amount.to_string(),
                _ => clock_s(result.seconds as u32),
            }))
        }));
        row.extend([member.row_2k_s, member.run_400_s, member.run_1600_s].map(|s| known(s.map(clock_s))));
        row.push(member.limits.iter().map(|limit| limit.text.as_str()).collect::<Vec<_>>().join("; "));
        row.push(member.home.clone());
        row.push(member.notes.clone());
        rows.push(row);
    }
    for row in rows {
        let row: Vec<String> = row.iter().map(|cell| safe_cell(cell)).collect();
        out.write_record(&row).expect("writing to memory does not fail");
    }
    String::from_utf8(out.into_inner().unwrap_or_default()).unwrap_or_default()
}

fn member_from_cells<'a>(
    cells: impl Iterator<Item = (&'a Choice, &'a str, &'a str)>,
    line: usize,
) -> Result<(Member, Vec<RowError>), RowError> {
    let mut member = Member::default();
    let mut impossible: Vec<RowError> = Vec::new();
    let mut notes: Vec<String> = Vec::new();
    for (meaning, column, cell) in cells.filter(|(_, _, cell)| !cell.is_empty()) {
        let cell = bare_cell(cell);
        match meaning {
            Choice::Drop => {}
            Choice::Note => notes.push(format!("{column}: {cell}")),
            Choice::As(key) => match take(&mut member, &mut notes, key, column, cell) {
                Err(Wrong::Cell(message)) => return Err(RowError { line, message }),
                Err(Wrong::Impossible(message)) => impossible.push(RowError { line, message }),
                Ok(()) => {}
            },
        }
    }
    member.notes = notes.join("; ");
    member.results.sort_by_key(timed_key);
    let wrong = |message: String| Err(RowError { line, message });
    if member.name.is_empty() {
        return wrong("this row has no name".to_owned());
    }
    if member.name.chars().count() > LONGEST_NAME {
        return wrong(format!(
            "the name has {} characters; {LONGEST_NAME} are the most",
            member.name.chars().count()
        ));
    }
    if member.limits.len() > limits::MOST {
        return wrong(format!(
            "{} limits are more than the {} of one person",
            member.limits.len(),
            limits::MOST
        ));
    }
    let longest = member.limits.iter().map(|limit| limit.text.chars().count()).max().unwrap_or(0);
    if longest > limits::LONGEST {
        return wrong(format!("a limit has {longest} characters; {} are the most", limits::LONGEST));
    }
    if member.home.chars().count().max(member.notes.chars().count()) > LONGEST_TEXT {
        return wrong(format!("a note has more than {LONGEST_TEXT} characters"));
    }
    Ok((member, impossible))
}

/// Writes one cell into a member.
fn take(
    member: &mut Member,
    notes: &mut Vec<String>,
    key: &str,
    column: &str,
    cell: &str,
) -> Result<(), Wrong> {
    let wrong =
        |expected: &str| Wrong::Cell(format!("column `{column}` is `{cell}`, but it should be {expected}"));
    let impossible =
        || Wrong::Impossible(format!("column `{column}` is `{cell}`, which nobody does: it is not used"));
    let number = |range: std::ops::RangeInclusive<f64>| {
        cell.replace(',', ".").parse::<f64>().ok().filter(|n| n.is_finite() && range.contains(n))
    };
    let clock = || time(cell).filter(|seconds| SECONDS.contains(seconds));
    match key {
        "name" => member.name = cell.split_whitespace().collect::<Vec<_>>().join(" "),
        "sex" => {
            member.sex = match cell.to_lowercase().as_str() {
                "f" | "w" | "female" | "woman" => Some(Sex::F),
                "m" | "male" | "man" => Some(Sex::M),
                "x" | "d" | "-" | "?" | "other" | "diverse" | "unknown" => None,
                _ => return Err(wrong("F or M, or empty")),
            }
        }
        "age" => {
            let years = number(AGE).filter(|years| years.fract() == 0.0);
            member.age = Some(years.ok_or_else(|| wrong("whole years, 3 to 120"))? as u32);
        }
        "bodyweight_kg" => {
            member.bodyweight =
                Some(Kilograms::from_kg(number(BODY_KG).ok_or_else(|| wrong("kilograms, 20 to 400"))?));
        }
        "bodyweight_lb" => {
            let pounds = number(44.0..=880.0).ok_or_else(|| wrong("pounds, 44 to 880"))?;
            member.bodyweight = Some(Kilograms::from_unit(pounds, WeightUnit::Lb));
        }
        "experience" => {
            member.experience = match cell.to_lowercase().as_str() {
                "new" => Experience::New,
                "beginner" => Experience::Beginner,
                "intermediate" => Experience::Intermediate,
                "advanced" => Experience::Advanced,
                _ => return Err(wrong("new, beginner, intermediate or advanced")),
            }
        }
        "row_2k" | "row_2000m" | "run_400m" | "run_1600m" => {
            let seconds = clock().ok_or_else(|| wrong("a time such as 7:45"))?;
            let (machine, amount, of) = match key {
                "run_400m" => (Machine::Run, 400.0, &mut member.run_400_s),
                "run_1600m" => (Machine::Run, 1600.0, &mut member.run_1600_s),
                _ => (Machine::Row, 2000.0, &mut member.row_2k_s),
            };
            let result = TimedResult { machine, amount, unit: Unit::Metres, seconds: f64::from(seconds) };
            if !is_possible(&result) {
                return Err(impossible());
            }
            *of = Some(seconds);
        }
        "limits" => member.limits.extend(Limit::several(cell)),
        "equipment_at_home" => cell.clone_into(&mut member.home),
        "notes" => notes.push(cell.to_owned()),
        _ => {
            if let Some((_, ids)) = REP_COLUMNS.iter().find(|(column, _)| *column == key) {
                let best = number(REPS).ok_or_else(|| wrong("a number of repetitions"))? as u32;
                member.best_reps.extend(ids.iter().map(|id| (MovementId::new(id), best)));
            } else if let Some((lift, unit)) = lift_column(key) {
                let value = number(0.0..=f64::MAX).ok_or_else(|| wrong("a weight"))?;
                let load = Kilograms::from_unit(value, unit);
                if !(LEAST_LIFT_KG..=heaviest(&lift)).contains(&load.kg()) {
                    return Err(impossible());
                }
                member.maxes.insert(lift, Max::on_file(load));
            } else if let Some((machine, timed)) = timed_column(key) {
                let result = match timed {
                    Timed::Metres(amount) => {
                        let seconds = clock().ok_or_else(|| wrong("a time such as 7:45"))?;
                        TimedResult { machine, amount, unit: Unit::Metres, seconds: f64::from(seconds) }
                    }
                    Timed::CaloriesIn(seconds) => {
                        let amount = number(0.0..=f64::MAX).ok_or_else(|| wrong("a number of calories"))?;
                        TimedResult { machine, amount, unit: Unit::Calories, seconds }
                    }
                };
                if !is_possible(&result) {
                    return Err(impossible());
                }
                member.results.push(result);
            }
        }
    }
    Ok(())
}

/// `back_squat_kg` speaks of `back-squat` in kilograms.
fn lift_column(key: &str) -> Option<(MovementId, WeightUnit)> {
    let (lift, unit) = match (key.strip_suffix("_kg"), key.strip_suffix("_lb")) {
        (Some(lift), _) => (lift, WeightUnit::Kg),
        (_, Some(lift)) => (lift, WeightUnit::Lb),
        _ => return None,
    };
    let id = MovementId::new(&lift.replace('_', "-"));
    let known =
        crate::movement::Catalogue::standard().get(&id).is_some_and(|movement| movement.takes_weight());
    known.then_some((id, unit))
}

fn time(text: &str) -> Option<u32> {
    let (minutes, seconds) = text.split_once(':')?;
    let seconds = seconds.trim().parse::<u32>().ok().filter(|seconds| *seconds < 60)?;
    minutes.trim().parse::<u32>().ok()?.checked_mul(60)?.checked_add(seconds)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_roster_is_read_with_unknown_cells_left_unknown() {
        let text = "name,sex,experience,back_squat_kg,max_push_ups,row_2k,limits\n\
                    Ada Fern,F,intermediate,80,20,8:05,left knee: no jumping\n\
                    Bo Reed,,new,,,,\n";
        let (members, errors) = roster_from_csv(text);
        assert_eq!(errors, []);
        assert_eq!(members[0].maxes[&MovementId::new("back-squat")].value, Kilograms::from_kg(80.0));
        assert_eq!(members[0].limits[0].reasons().next(), Some("knee"));
        assert_eq!((members[0].row_2k_s, members[0].best("push-up")), (Some(485), Some(20)));
        assert!(members[1].maxes.is_empty() && members[1].sex.is_none());
    }

    #[test]
    fn a_roster_that_is_written_reads_back_the_same() {
        let text = "name,sex,bodyweight_kg,experience,back_squat_kg,muscle_ups,row_2k,limits,notes\n\
                    Ada Lind,F,61.5,advanced,92.5,2,7:45,left shoulder; no jumping,=1+1\nBo Ek,,,new,,,,,\n";
        let (members, errors) = roster_from_csv(text);
        assert!(errors.is_empty());
        let written = roster_to_csv(&members);
        assert!(written.contains("'=1+1"));
        assert_eq!(roster_from_csv(&written), (members, Vec::new()));
    }

    #[test]
    fn results_over_any_distance_come_in_and_go_out_again() {
        let text = "name,row_500m,row_2000m,ski_10min_cal,bike_4000m,run_5000m\n\
                    Ada Lind,1:49,7:50,130,7:10,24:30\nBo Ek,,,,,\n";
        let (members, errors) = roster_from_csv(text);
        assert_eq!(errors, []);
        assert_eq!(
            (members[0].row_2k_s, members[0].results.len(), members[1].results.len()),
            (Some(470), 4, 0)
        );
        let written = roster_to_csv(&members);
        assert!(written.contains("ski_10min_cal") && written.contains("24:30"), "{written}");
        assert_eq!(roster_from_csv(&written), (members, Vec::new()));
    }

    #[test]
    fn what_nobody_does_is_named_and_not_used_and_the_person_stays() {
        let text = "name,strict_press_kg,back_squat_kg,row_2k,run_400m,ski_1min_cal\n\
                    Ada,400,0,1:00,0:20,200\nBo,80,140,7:00,1:10,25\n";
        let (members, errors) = roster_from_csv(text);
        assert_eq!(members.len(), 2);
        let ada = &members[0];
        assert!(ada.maxes.is_empty() && ada.results.is_empty(), "{ada:?}");
        assert_eq!((ada.row_2k_s, ada.run_400_s), (None, None));
        assert_eq!(errors.len(), 5);
        insta::assert_snapshot!(errors[0], @"line 2: column `strict_press_kg` is `400`, which nobody does: it is not used");
        assert_eq!((members[1].maxes.len(), members[1].row_2k_s), (2, Some(420)));
    }

    #[test]
    fn a_bad_row_is_named_and_the_good_ones_kept() {
        let (members, errors) = roster_from_csv("name,age\nAda,34\nBo,old\n,12\nAda,12\n");
        assert_eq!(members.len(), 1);
        insta::assert_snapshot!(errors[0], @"line 3: column `age` is `old`, but it should be whole years, 3 to 120");
        insta::assert_snapshot!(errors[1], @"line 4: this row has no name");
        insta::assert_snapshot!(errors[2], @"line 5: Ada stands in this file twice");
    }

    #[test]
    fn a_column_that_nobody_knows_waits_for_its_meaning() {
        let text =
            "Name\tSex\tBack Squat 1RM (kg)\tNotes on health\tShoe size\nAda Lind\tF\t70\tbad knee\t41\n";
        let roster = read_roster(text, &BTreeMap::new());
        let unknown: Vec<(&str, Option<&str>)> =
            roster.unknown.iter().map(|(column, likely)| (column.as_str(), likely.as_deref())).collect();
        let squat = ("Back Squat 1RM (kg)", Some("back_squat_kg"));
        assert_eq!(unknown, [squat, ("Notes on health", None), ("Shoe size", None)]);
        let choice = |column: &str, choice| (column.to_owned(), choice);
        let choices = BTreeMap::from([
            choice("Back Squat 1RM (kg)", Choice::As("back_squat_kg".to_owned())),
            choice("Notes on health", Choice::As("limits".to_owned())),
            choice("Shoe size", Choice::Note),
        ]);
        let roster = read_roster(text, &choices);
        assert!(roster.unknown.is_empty() && roster.errors.is_empty());
        let ada = &roster.members[0];
        assert_eq!(ada.maxes.len(), 1);
        assert_eq!((ada.limits[0].text.as_str(), ada.notes.as_str()), ("bad knee", "Shoe size: 41"));
    }

    #[test]
    fn figures_that_nobody_has_are_refused_with_their_column() {
        for (column, cell) in [
            ("age", "nan"),
            ("age", "200"),
            ("bodyweight_kg", "inf"),
            ("row_2k", "7:75"),
            ("row_2k", "99999999:00"),
            ("sex", "yes"),
            ("max_push_ups", "-1"),
        ] {
            let (members, errors) = roster_from_csv(&format!("name,{column}\nAda,{cell}\n"));
            assert!(members.is_empty() && errors[0].message.contains(column), "{column} {cell}: {errors:?}");
        }
        let long = "x".repeat(LONGEST_NAME + 1);
        assert!(roster_from_csv(&format!("name\n{long}\n")).1[0].message.contains("121 characters"));
    }

    #[test]
    fn as_many_as_are_taken_in_at_once_are_and_one_more_is_not() {
        let rows = |count: usize| (0..count).map(|n| format!("Member {n}\n")).collect::<String>();
        let (members, errors) = roster_from_csv(&format!("name\n{}", rows(MOST_MEMBERS)));
        assert_eq!((members.len(), errors.len()), (MOST_MEMBERS, 0));
        let (members, errors) = roster_from_csv(&format!("name\n{}", rows(MOST_MEMBERS + 1)));
        assert!(members.is_empty() && errors[0].message.contains("2001 rows are more"), "{errors:?}");
    }
}
