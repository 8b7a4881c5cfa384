//! A table as a spreadsheet file.

use rust_xlsxwriter::{Format, Workbook, XlsxError};

/// Most rows of a table that become a spreadsheet: it is put together in memory, and an .xlsx file holds no more than 1 048 576.
pub const MOST_ROWS_OUT: usize = 200_000;

/// A table as an .xlsx file of one sheet: its first row names the columns and stays in view, numbers are numbers, everything else is text and never a
/// formula.
///
/// # Errors
/// When it has more than [`MOST_ROWS_OUT`] rows, or a cell holds more than a spreadsheet takes.
pub fn workbook<R: AsRef<[String]>>(rows: &[R]) -> Result<Vec<u8>, String> {
    if rows.len() > MOST_ROWS_OUT {
        return Err(format!("{} rows are more than {MOST_ROWS_OUT}; as CSV they all go out", rows.len()));
    }
    written(rows).map_err(|error| error.to_string())
}

fn written<R: AsRef<[String]>>(rows: &[R]) -> Result<Vec<u8>, XlsxError> {
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    sheet.set_freeze_panes(1, 0)?;
    let bold = Format::new().set_bold();
    for (row, cells) in (0..).zip(rows) {
        for (column, cell) in (0..).zip(cells.as_ref()) {
            match number(cell) {
                Some(number) => sheet.write_number(row, column, number)?,
                None if row == 0 => sheet.write_string_with_format(row, column, cell, &bold)?,
                None => sheet.write_string(row, column, cell)?,
            };
        }
    }
    book.save_to_buffer()
}

/// A cell that is a number and nothing else; not `007`, which is somebody's code, nor `1e5` or `inf`.
fn number(cell: &str) -> Option<f64> {
    let digits = cell.strip_prefix('-').unwrap_or(cell);
    let plain = digits.bytes().all(|byte| byte.is_ascii_digit() || byte == b'.');
    let coded = digits.len() > 1 && digits.starts_with('0') && !digits.starts_with("0.");
    cell.parse().ok().filter(|_| plain && !coded)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::table_of;

    #[test]
    fn what_is_written_is_read_again_cell_by_cell() {
        let rows = [
            ["name", "day", "weight", "score"],
            ["=SUM(A1:A9)", "2026-03-31", "92.5", "-3"],
            ["Zo\u{eb} \"Z\" Lind", "", "007", "12:41"],
        ];
        let rows = rows.map(|row| row.map(str::to_owned));
        let read = table_of(&workbook(&rows).unwrap()).unwrap();
        let read: Vec<&str> = read.lines().collect();
        assert_eq!(read[0], "name\tday\tweight\tscore");
        assert_eq!(read[1], "=SUM(A1:A9)\t2026-03-31\t92.5\t-3");
        assert_eq!(read[2], "\"Zo\u{eb} \"\"Z\"\" Lind\"\t\t007\t12:41");
    }

    #[test]
    fn more_rows_than_it_takes_are_refused_in_words() {
        let rows = vec![[String::new()]; MOST_ROWS_OUT + 1];
        assert!(workbook(&rows).unwrap_err().starts_with("200001 rows are more"));
    }
}
