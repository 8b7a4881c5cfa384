//! The text of a spreadsheet, sheet by sheet.

use std::io::Cursor;

use calamine::{DataRef, ExcelDateTime, Reader, Xlsx};

use crate::grid::{Grid, MOST_ROWS};

/// Cells that are read of a sheet.
const MOST_CELLS: usize = 50_000;

/// All sheets, each under its name when there are several.
///
/// # Errors
/// What is wrong with the file.
pub fn text(bytes: &[u8]) -> Result<String, String> {
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(bytes)).map_err(|error| error.to_string())?;
    let names = book.sheet_names();
    let mut texts = Vec::new();
    for name in &names {
        let grid = grid(&mut book, name).map_err(|error| format!("sheet `{name}`: {error}"))?.text();
        if !grid.is_empty() {
            texts.push((name, grid));
        }
    }
    let several = texts.len() > 1;
    let titled = texts.into_iter().map(|(name, text)| if several { format!("{name}\n{text}") } else { text });
    Ok(titled.collect::<Vec<_>>().join("\n\n"))
}

/// The first sheet that holds something, as a table.
///
/// # Errors
/// What is wrong with the file.
pub fn table(bytes: &[u8]) -> Result<String, String> {
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(bytes)).map_err(|error| error.to_string())?;
    for name in book.sheet_names() {
        let table = grid(&mut book, &name).map_err(|error| format!("sheet `{name}`: {error}"))?.table();
        if !table.is_empty() {
            return Ok(table);
        }
    }
    Ok(String::new())
}

/// The cells that hold something, one after the other: a sheet may name its last corner and hold nothing between.
fn grid(book: &mut Xlsx<Cursor<&[u8]>>, name: &str) -> Result<Grid, calamine::XlsxError> {
    let mut grid = Grid::default();
    let mut cells = book.worksheet_cells_reader(name)?;
    let shares: Vec<bool> = cells
        .styles()
        .iter()
        .map(|style| style.number_format.as_ref().is_some_and(|format| format.format_code.contains('%')))
        .collect();
    for _ in 0..MOST_CELLS {
        let Some((cell, style)) = cells.next_cell_with_style_id()? else { break };
        let (row, column) = cell.get_position();
        if row as usize >= MOST_ROWS {
            break;
        }
        let share = shares.get(style).is_some_and(|share| *share);
        grid.put(row as usize, column as usize, &shown(cell.get_value(), share));
    }
    Ok(grid)
}

/// A value as the sheet shows it.
fn shown(value: &DataRef<'_>, share: bool) -> String {
    match value {
        DataRef::Float(number) if share => format!("{}%", rounded(number * 100.0)),
        #[expect(clippy::cast_precision_loss, reason = "a share of thousands of millions is none")]
        DataRef::Int(number) if share => format!("{}%", rounded(*number as f64 * 100.0)),
        DataRef::Float(number) => rounded(*number),
        DataRef::Int(number) => number.to_string(),
        DataRef::String(text) => text.clone(),
        DataRef::SharedString(text) => (*text).to_owned(),
        DataRef::DateTime(time) => time_shown(*time),
        DataRef::DateTimeIso(text) | DataRef::DurationIso(text) => text.clone(),
        DataRef::Bool(_) | DataRef::Error(_) | DataRef::Empty => String::new(),
    }
}

/// Without the dust of binary fractions.
fn rounded(number: f64) -> String {
    ((number * 1e4).round() / 1e4).to_string()
}

/// A date, or a time of the day: what somebody typed as `12:00` is kept as one.
fn time_shown(time: ExcelDateTime) -> String {
    let (year, month, day, hours, minutes, seconds, _) = time.to_ymd_hms_milli();
    if time.as_f64() >= 1.0 && !time.is_duration() {
        return format!("{year:04}-{month:02}-{day:02}");
    }
    match (hours, seconds) {
        (_, 0) => format!("{hours}:{minutes:02}"),
        (0, _) => format!("{minutes}:{seconds:02}"),
        _ => format!("{hours}:{minutes:02}:{seconds:02}"),
    }
}
