//! Everything about one person in one file: JSON for programs, CSV for people.

use std::io::{Cursor, Write};

use actix_web::{HttpResponse, get, web};
use lantern_store::{GymScope, MemberId, health_views, members, person};
use serde_json::Value;
use zip::ZipWriter;
use zip::write::SimpleFileOptions;

use crate::request::house::House;
use crate::request::tenant::{AnyRole, Owning, Tenant};
use crate::respond::error::AppError;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(of_member).service(own);
}

/// Everything stored about a member, with the maxes that count today.
pub(crate) async fn everything(house: &House, rows: &mut GymScope, id: MemberId) -> Result<Value, AppError> {
    let mut file = person::everything(rows, id).await?;
    let stored = members::with_ids(rows, &house.gym, house.today(), &[id]).await?;
    if let Some(stored) = stored.first() {
        file["member"]["maxes"] = serde_json::json!(stored.member.maxes);
    }
    Ok(file)
}

/// `GET /members/{id}/file.zip`: all that is stored about one member; that it was taken is noted.
#[get("/members/{id}/file.zip")]
async fn of_member(tenant: Tenant<Owning>, path: web::Path<MemberId>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    let file = everything(&tenant, &mut rows, *path).await?;
    health_views::note(&mut rows, (tenant.who.account, &tenant.who.name), &[*path]).await?;
    rows.keep().await?;
    zipped(&file, "member.zip")
}

/// `GET /me/file.zip`: all that is stored about whoever asks.
#[get("/me/file.zip")]
async fn own(tenant: Tenant<AnyRole>) -> Result<HttpResponse, AppError> {
    let id = tenant.who.member.ok_or(AppError::NoSuchPage)?;
    let mut rows = tenant.look().await?;
    zipped(&everything(&tenant, &mut rows, id).await?, "me.zip")
}

fn zipped(file: &Value, name: &str) -> Result<HttpResponse, AppError> {
    let bytes = packed(file).map_err(AppError::Inside)?;
    Ok(HttpResponse::Ok()
        .content_type("application/zip")
        .insert_header(("Content-Disposition", format!("attachment; filename=\"{name}\"")))
        .body(bytes))
}

/// The file as JSON, and its lists as tables.
fn packed(file: &Value) -> Result<Vec<u8>, String> {
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    let json = serde_json::to_vec_pretty(file).map_err(|error| error.to_string())?;
    let mut put = |name: &str, bytes: &[u8]| {
        zip.start_file(name, SimpleFileOptions::default()).map_err(|error| error.to_string())?;
        zip.write_all(bytes).map_err(|error| error.to_string())
    };
    put("all.json", &json)?;
    for list in ["lifts", "classes", "results", "limits_opened", "agreed"] {
        put(&format!("{list}.csv"), &table(&file[list]).map_err(|error| error.to_string())?)?;
    }
    let bytes = zip.finish().map_err(|error| error.to_string())?;
    Ok(bytes.into_inner())
}

/// A list of objects, a row each; or of texts.
fn table(list: &Value) -> Result<Vec<u8>, csv::Error> {
    let mut out = csv::Writer::from_writer(Vec::new());
    let rows = list.as_array().map_or(&[][..], Vec::as_slice);
    let cell = |value: &Value| match value {
        Value::Null => String::new(),
        Value::String(text) => text.clone(),
        other => other.to_string(),
    };
    match rows.first() {
        Some(Value::Object(first)) => {
            out.write_record(first.keys())?;
            for row in rows {
                out.write_record(first.keys().map(|key| cell(&row[key])))?;
            }
        }
        _ => {
            out.write_record(["value"])?;
            for row in rows {
                out.write_record([cell(row)])?;
            }
        }
    }
    out.into_inner().map_err(|error| csv::Error::from(error.into_error()))
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn lists_become_tables_that_programs_for_tables_open() {
        let text = |list: Value| String::from_utf8(table(&list).unwrap()).unwrap();
        let lifts =
            json!([{"lift": "back-squat", "kg": 100.5, "rpe": null}, {"lift": "x, y", "kg": 1, "rpe": 8}]);
        assert_eq!(text(lifts), "lift,kg,rpe\nback-squat,100.5,\n\"x, y\",1,8\n");
        assert_eq!(text(json!(["2026-11-23T18:00"])), "value\n2026-11-23T18:00\n");
        assert_eq!(text(json!([])), "value\n");
        let packed = packed(&json!({"lifts": []})).unwrap();
        let mut zip = zip::ZipArchive::new(Cursor::new(packed)).unwrap();
        assert!(zip.by_name("all.json").is_ok() && zip.by_name("lifts.csv").is_ok());
    }
}
