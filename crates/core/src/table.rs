//! Tables that people paste: commas, semicolons or tabs between the cells, the first line names the columns.

use std::collections::BTreeMap;

/// Why a row was not taken as it stands.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("line {line}: {message}")]
pub struct RowError {
    /// The line of the file, counted from 1.
    pub line: usize,
    /// What was expected, and what was found.
    pub message: String,
}

/// A row as it stands: its line, and its cells by column.
pub(crate) struct Row {
    pub line: usize,
    pub cells: Vec<String>,
}

/// The columns of a table as written, and its rows; what cannot be split into cells is named.
pub(crate) struct Table {
    pub columns: Vec<String>,
    pub rows: Vec<Row>,
    pub errors: Vec<RowError>,
}

/// What stands between the cells: whatever the first line has most of, outside quotes.
fn separator(text: &str) -> u8 {
    let header = text.lines().find(|line| !line.trim().is_empty()).unwrap_or_default();
    let mut quoted = false;
    let mut counts: BTreeMap<char, usize> = BTreeMap::new();
    for c in header.chars() {
        match c {
            '"' => quoted = !quoted,
            '\t' | ';' | ',' if !quoted => *counts.entry(c).or_default() += 1,
            _ => {}
        }
    }
    // Of equals the tab, which nobody types.
    let most = ['\t', ';', ','].into_iter().rev().max_by_key(|c| counts.get(c).copied().unwrap_or(0));
    most.map_or(b',', |c| c as u8)
}

/// Splits a pasted table. A mark of the byte order in front is no part of the first name.
pub(crate) fn table(text: &str) -> Table {
    let text = text.trim_start_matches('\u{feff}').replace("\r\n", "\n");
    let mut reader =
        csv::ReaderBuilder::new().flexible(true).delimiter(separator(&text)).from_reader(text.as_bytes());
    let columns: Vec<String> = match reader.headers() {
        Ok(headers) => headers.iter().map(|header| header.trim().to_owned()).collect(),
        Err(error) => {
            let errors = vec![RowError { line: 1, message: error.to_string() }];
            return Table { columns: Vec::new(), rows: Vec::new(), errors };
        }
    };
    let (mut rows, mut errors) = (Vec::new(), Vec::new());
    for record in reader.records() {
        match record {
            Ok(record) => {
                let line = record.position().map_or(0, |at| at.line() as usize);
                let cells: Vec<String> = record.iter().map(|cell| cell.trim().to_owned()).collect();
                let beyond = cells.iter().skip(columns.len()).find(|cell| !cell.is_empty());
                match beyond {
                    Some(cell) => errors.push(RowError {
                        line,
                        message: format!("`{cell}` stands behind the last column; is a cell with a separator in it without quotes?"),
                    }),
                    None if cells.iter().all(String::is_empty) => {}
                    None => rows.push(Row { line, cells }),
                }
            }
            Err(error) => {
                let line = error.position().map_or(0, |at| at.line() as usize);
                errors.push(RowError { line, message: error.to_string() });
            }
        }
    }
    Table { columns, rows, errors }
}

/// A cell that no spreadsheet takes for a formula: an apostrophe goes in front of what would begin one.
pub fn safe_cell(text: &str) -> String {
    let formula = text.starts_with(['=', '+', '-', '@', '\t', '\r']);
    // A negative number is no formula.
    if formula && text.parse::<f64>().is_err() { format!("'{text}") } else { text.to_owned() }
}

/// A cell as it was before [`safe_cell`].
pub fn bare_cell(text: &str) -> &str {
    let rest = text.strip_prefix('\'');
    rest.filter(|rest| rest.starts_with(['=', '+', '-', '@', '\t', '\r'])).unwrap_or(text)
}

/// A day written as 2026-03-31 that is in the calendar.
pub fn is_a_day(text: &str) -> bool {
    let numbers: Vec<u32> = text.split('-').filter_map(|part| part.parse().ok()).collect();
    let [year, month, day] = numbers[..] else { return false };
    let leap = year % 4 == 0 && (year % 100 != 0 || year % 400 == 0);
    let days = match month {
        2 => 28 + u32::from(leap),
        4 | 6 | 9 | 11 => 30,
        1..=12 => 31,
        _ => 0,
    };
    text.split('-').count() == 3 && (1900..=2199).contains(&year) && (1..=days).contains(&day)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn commas_semicolons_and_tabs_part_cells_and_quotes_keep_them() {
        for (text, cells) in [
            ("name,notes\nAda,\"a, b\"\n", ["Ada", "a, b"]),
            ("name;weight\nAda;62,5\n", ["Ada", "62,5"]),
            ("name\tnotes\nAda\ta, b; c\n", ["Ada", "a, b; c"]),
            ("\u{feff}name,notes\r\nAda,x\r\n", ["Ada", "x"]),
        ] {
            let table = table(text);
            assert_eq!(table.columns[0], "name", "{text}");
            assert_eq!(
                (table.rows[0].line, &table.rows[0].cells[..]),
                (2, &cells.map(str::to_owned)[..]),
                "{text}"
            );
        }
    }

    #[test]
    fn a_cell_too_many_is_named_with_its_line() {
        let table = table("name,weight\nAda,62,5\nBo,60\n");
        assert_eq!((table.rows.len(), table.errors[0].line), (1, 2));
    }

    #[test]
    fn only_days_of_the_calendar_are_days() {
        for day in ["2026-02-28", "2028-02-29", "2026-12-31"] {
            assert!(is_a_day(day), "{day}");
        }
        for other in ["2026-02-29", "2026-02-31", "2026-13-01", "26-1-1", "2026-1", "today", "2026-04-31", ""]
        {
            assert!(!is_a_day(other), "{other}");
        }
    }

    proptest! {
        /// No cell begins a formula, and reading gives it back.
        #[test]
        fn no_written_cell_is_a_formula(text in "[=+@'\\-\t]{0,3}[a-z0-9(]{0,6}") {
            let safe = safe_cell(&text);
            prop_assert!(!safe.starts_with(['=', '+', '@', '\t', '\r']) || safe.parse::<f64>().is_ok());
            if text == safe || text.starts_with(['=', '+', '-', '@', '\t']) {
                prop_assert!(safe == text || bare_cell(&safe) == text);
            }
        }
    }
}
