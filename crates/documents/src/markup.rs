//! Documents that are marked-up text: paragraphs, breaks, tables.

use quick_xml::Reader;
use quick_xml::events::{BytesStart, Event};

use crate::grid::{Grid, MOST_COLUMNS};

/// How a kind of document marks its text.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Dialect {
    /// Text stands in elements of its own inside a paragraph.
    Runs,
    /// Text stands in the paragraph.
    Open,
}

/// What is no part of the text as it reads: deleted, said about it, or there twice.
const ASIDE: [&str; 9] = [
    "del",
    "moveFrom",
    "Fallback",
    "instrText",
    "annotation",
    "tracked-changes",
    "forms",
    "binData",
    "pPrChange",
];

/// A table that is being read.
#[derive(Default)]
struct Table {
    grid: Grid,
    row: usize,
    column: usize,
    /// How often the cell stands beside itself.
    repeated: usize,
    /// What stood before the table on the level around it.
    around: String,
}

/// The text of a document's markup.
///
/// # Errors
/// What is wrong with the markup.
pub fn text(xml: &str, dialect: Dialect) -> Result<String, String> {
    let mut reader = Reader::from_str(xml);
    let mut text = String::new();
    let mut tables: Vec<Table> = Vec::new();
    let (mut aside, mut said) = (0_usize, 0_usize);
    loop {
        match reader.read_event().map_err(|error| error.to_string())? {
            Event::Eof => break,
            Event::Start(start) => {
                let name = start.local_name();
                let name: &str = name.as_ref();
                if aside > 0 || ASIDE.contains(&name) {
                    aside += 1;
                    continue;
                }
                match name {
                    "tbl" | "table" => {
                        tables.push(Table { around: std::mem::take(&mut text), ..Table::default() });
                    }
                    "tc" | "table-cell" | "covered-table-cell" => {
                        text.clear();
                        if let Some(table) = tables.last_mut() {
                            table.repeated = repeated(&start);
                        }
                    }
                    _ => {}
                }
                said += usize::from(says(name, dialect));
                mark(name, &start, &mut text);
            }
            Event::Empty(start) if aside == 0 => {
                let name = start.local_name();
                mark(name.as_ref(), &start, &mut text);
                if let ("tc" | "table-cell" | "covered-table-cell", Some(table)) =
                    (name.as_ref(), tables.last_mut())
                {
                    table.column = (table.column + repeated(&start)).min(MOST_COLUMNS);
                }
            }
            Event::End(_) if aside > 0 => aside -= 1,
            Event::End(end) => {
                let name = end.local_name();
                let name: &str = name.as_ref();
                said = said.saturating_sub(usize::from(says(name, dialect)));
                match (name, tables.last_mut()) {
                    ("p" | "h", _) => text.push('\n'),
                    ("tc" | "table-cell" | "covered-table-cell", Some(table)) => {
                        // A merged cell is said once.
                        table.grid.put(table.row, table.column, &text);
                        table.column = (table.column + table.repeated).min(MOST_COLUMNS);
                        text.clear();
                    }
                    ("tr" | "table-row", Some(table)) => {
                        table.row += 1;
                        table.column = 0;
                    }
                    ("tbl" | "table", Some(_)) => {
                        let table = tables.pop().unwrap_or_default();
                        text = table.around + "\n" + &table.grid.text() + "\n\n";
                    }
                    _ => {}
                }
            }
            Event::Text(words) if aside == 0 && said > 0 => text.push_str(&one_line(&words)),
            Event::CData(words) if aside == 0 && said > 0 => text.push_str(&one_line(&words)),
            Event::GeneralRef(sign) if aside == 0 && said > 0 => {
                let letter = sign.resolve_char_ref().map_err(|error| error.to_string())?;
                match letter {
                    Some(letter) => text.push(letter),
                    None => {
                        text.push_str(quick_xml::escape::resolve_predefined_entity(&sign).unwrap_or_default())
                    }
                }
            }
            _ => {}
        }
    }
    // A document that ends inside a table is cut off; what there is of it counts.
    for table in tables.into_iter().rev() {
        text = table.around + "\n" + &table.grid.text() + "\n" + &text;
    }
    Ok(text)
}

/// Whether what stands in an element is text.
fn says(name: &str, dialect: Dialect) -> bool {
    match dialect {
        Dialect::Runs => name == "t",
        Dialect::Open => matches!(name, "p" | "h"),
    }
}

/// Breaks, tabs and spaces are elements.
fn mark(name: &str, start: &BytesStart<'_>, text: &mut String) {
    match name {
        "br" | "cr" | "line-break" => text.push('\n'),
        // Not where tab stops are set.
        "tab" if start.attributes().count() == 0 => text.push('\t'),
        "s" => text.push(' '),
        _ => {}
    }
}

/// How often a cell stands beside itself.
fn repeated(start: &BytesStart<'_>) -> usize {
    let mut attributes = start.attributes();
    let mut all = attributes.with_checks(false).flatten();
    let named = all.find(|attribute| attribute.key.local_name().as_ref() == "number-columns-repeated");
    named.and_then(|attribute| attribute.value.parse().ok()).unwrap_or(1).clamp(1, MOST_COLUMNS)
}

/// Line ends in the markup are none in the text.
fn one_line(words: &str) -> String {
    words.replace(['\n', '\r'], " ")
}
