//! Tables to take along: as CSV, as a spreadsheet, as JSON, each with the same rows.

use std::collections::BTreeMap;

use actix_web::{HttpResponse, web};
use lantern_core::table::bare_cell;
use lantern_documents::workbook;
use serde::Deserialize;

use crate::respond::error::AppError;

/// What a table is asked for as: the end of its address.
#[derive(Clone, Copy, Debug, Deserialize)]
#[serde(rename_all = "lowercase")]
pub(crate) enum TableKind {
    Csv,
    Xlsx,
    Json,
}

impl TableKind {
    const fn end(self) -> &'static str {
        match self {
            Self::Csv => "csv",
            Self::Xlsx => "xlsx",
            Self::Json => "json",
        }
    }

    const fn content_type(self) -> &'static str {
        match self {
            Self::Csv => "text/csv; charset=utf-8",
            Self::Xlsx => "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
            Self::Json => "application/json",
        }
    }

    /// The table as such a file. Only CSV needs its cells guarded: the others say themselves that a text is no formula.
    fn of(self, csv: Vec<u8>) -> Result<Vec<u8>, String> {
        let rows = || -> Result<Vec<Vec<String>>, csv::Error> {
            let mut reader = csv::ReaderBuilder::new().has_headers(false).from_reader(csv.as_slice());
            let bare = |row: csv::StringRecord| row.iter().map(|cell| bare_cell(cell).to_owned()).collect();
            reader.records().map(|row| row.map(bare)).collect()
        };
        match self {
            Self::Csv => Ok(csv),
            Self::Xlsx => workbook(&rows().map_err(|error| error.to_string())?),
            Self::Json => {
                let rows = rows().map_err(|error| error.to_string())?;
                let (header, rows) = rows.split_first().ok_or("an empty table")?;
                let rows: Vec<BTreeMap<&String, &String>> =
                    rows.iter().map(|row| header.iter().zip(row).collect()).collect();
                serde_json::to_vec_pretty(&rows).map_err(|error| error.to_string())
            }
        }
    }
}

/// The answer that gives a table out, which is CSV so far.
pub(crate) async fn download(
    csv: impl Into<Vec<u8>>,
    name: &str,
    kind: TableKind,
) -> Result<HttpResponse, AppError> {
    let csv = csv.into();
    // Years of results take their time.
    let file = web::block(move || kind.of(csv)).await.map_err(|error| AppError::Inside(error.to_string()))?;
    let file = file.map_err(AppError::Malformed)?;
    let attachment = format!("attachment; filename=\"{name}.{}\"", kind.end());
    Ok(HttpResponse::Ok()
        .content_type(kind.content_type())
        .insert_header(("Content-Disposition", attachment))
        .body(file))
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_documents::table_of;

    #[test]
    fn every_kind_holds_the_same_rows_as_they_were() {
        let csv = b"name,kg\n'=1+1,92.5\n\"Lind, Ada\",\n".to_vec();
        assert_eq!(TableKind::Csv.of(csv.clone()).unwrap(), csv);
        let json = String::from_utf8(TableKind::Json.of(csv.clone()).unwrap()).unwrap();
        let json: serde_json::Value = serde_json::from_str(&json).unwrap();
        assert_eq!(
            json,
            serde_json::json!([{ "name": "=1+1", "kg": "92.5" }, { "name": "Lind, Ada", "kg": "" }])
        );
        let sheet = table_of(&TableKind::Xlsx.of(csv).unwrap()).unwrap();
        assert_eq!(sheet, "name\tkg\n=1+1\t92.5\nLind, Ada");
    }
}
