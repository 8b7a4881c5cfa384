//! Putting a reading right: suggestions taken, questions answered, lines told what they are.

use std::collections::BTreeMap;

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, post, web};
use lantern_core::read::corrections::{Correction, CorrectionKind, with};
use lantern_core::read::{Reading, apply_suggestion};

use crate::day::read::view::ReadingView;
use crate::day::read::writer::Writer;
use crate::day::read::{Message, ReadingFragment, Text, Typed, Unsaved, corrections_in, page};
use crate::day::slot_of;
use crate::request::Form;
use crate::respond::error::{AppError, html_as};
use crate::respond::wanted::Wanted;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(apply).service(correct);
}

/// `POST /days/{day}/apply`: the text with a suggestion in it, not yet saved.
#[post("/days/{day}/apply")]
async fn apply(writing: Writer, path: web::Path<String>, form: Form<Text>) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let Text { text, revision, writer, apply, corrections, .. } = form.0;
    let corrections = corrections_in(&corrections)?;
    let asked = apply.unwrap_or_default();
    let mut fields = asked.splitn(4, '|');
    let number = |field: Option<&str>| field.and_then(|n| n.parse().ok());
    let (Some(line), Some(column), Some(found), Some(suggestion)) =
        (number(fields.next()), number(fields.next()), fields.next(), fields.next())
    else {
        return Err(AppError::Malformed("the field `apply` names no place in the text".to_owned()));
    };
    let text = apply_suggestion(&text, line, column, found, suggestion);
    let words = format!("Replaced `{found}` with `{suggestion}` in line {line}; not saved yet.");
    let message = Message { bad: false, words };
    let typed = Typed { text, corrections, revision, writer };
    page(&writing, day, Unsaved::new(typed, message), StatusCode::OK).await
}

/// `POST /days/{day}/correct`: the text with its reading put right, not yet saved: a question answered, a line told what it is, or one of
/// these taken back.
#[post("/days/{day}/correct")]
async fn correct(
    writing: Writer,
    path: web::Path<String>,
    request: HttpRequest,
    form: Form<BTreeMap<String, String>>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    let field = |name: &str| form.0.get(name).cloned();
    let text = field("text").ok_or_else(|| AppError::Malformed("missing field `text`".to_owned()))?;
    let writer = field("writer").unwrap_or_default();
    let revision = field("revision").and_then(|revision| revision.parse().ok()).unwrap_or(0);
    let mut corrections = corrections_in(&field("corrections").unwrap_or_default())?;
    let mut status = StatusCode::OK;
    let message = if let Some(id) = field("undo") {
        let before = corrections.len();
        corrections.retain(|correction| correction.id != id);
        let taken_back = corrections.len() < before;
        let words =
            if taken_back { "Taken back; not saved yet." } else { "That had been taken back already." };
        Message { bad: false, words: words.to_owned() }
    } else {
        let new = match (field("answer"), field("put")) {
            (Some(answer), _) => Ok(corrections_in(&answer)?),
            (None, Some(put)) => {
                let (catalogue, gym) = writing.hand();
                let read = || gym.read(&text, &catalogue, &corrections);
                put_right(&text, &put, &form.0, read).map(|correction| vec![correction])
            }
            (None, None) => Err("nothing says what is to be put right".to_owned()),
        };
        match new {
            Ok(new) => {
                corrections = with(corrections, new);
                Message { bad: false, words: "Put right; not saved yet.".to_owned() }
            }
            Err(words) => {
                status = StatusCode::UNPROCESSABLE_ENTITY;
                Message { bad: true, words: format!("Nothing was changed: {words}.") }
            }
        }
    };
    if Wanted::of(request.headers()) == Wanted::Part {
        let (catalogue, gym) = writing.hand();
        let read = gym.read(&text, &catalogue, &corrections);
        let view = ReadingView::new(&read, &catalogue, day.day);
        return html_as(status, &ReadingFragment { message: Some(message), view });
    }
    let typed = Typed { text, corrections, revision, writer };
    page(&writing, day, Unsaved::new(typed, message), status).await
}

/// The correction of a line that a button asks for: `kind|line|value`. How a part is run, which words mean others, and where a track ends is
/// taken from the fields of that line and from the reading.
fn put_right(
    text: &str,
    asked: &str,
    fields: &BTreeMap<String, String>,
    read: impl FnOnce() -> Reading,
) -> Result<Correction, String> {
    let mut asked = asked.splitn(3, '|');
    let kind = asked.next().unwrap_or_default();
    let kind: CorrectionKind = serde_json::from_value(serde_json::json!(kind))
        .map_err(|_| format!("`{kind}` is nothing that a line can be put right to"))?;
    let lines: Vec<&str> = text.split('\n').collect();
    let line = asked.next().and_then(|line| line.parse::<usize>().ok()).filter(|line| *line > 0);
    let (Some(line), Some(words)) = (line, line.and_then(|line| lines.get(line - 1))) else {
        return Err("the line to put right is not in the text".to_owned());
    };
    let value = asked.next().unwrap_or_default();
    let typed = |name: &str| fields.get(&format!("{name}{line}")).map_or("", |typed| typed.trim());
    let made = |value: &str| Correction::of_line(kind, line, words, value);
    match kind {
        CorrectionKind::Part => {
            let run = typed("run");
            if run.is_empty() {
                return Err(format!("how the part of line {line} is run was not written"));
            }
            let known = read();
            let within = |lines: &(usize, usize)| lines.0 <= line && line <= lines.1;
            let part = known.session.parts.iter().map(|part| part.lines).find(within);
            let (first, last) = part.unwrap_or((line, line));
            Ok(Correction { last_line: last, ..Correction::of_line(kind, first, lines[first - 1], run) })
        }
        CorrectionKind::Word => {
            let known = read();
            let unknown = known.problems.iter().find(|p| p.line == line && !p.found.is_empty());
            let from = Some(typed("from")).filter(|from| !from.is_empty());
            let from = from.or(unknown.map(|problem| problem.found.as_str())).unwrap_or_default();
            let to = typed("to");
            if to.is_empty() || from.is_empty() {
                return Err(format!("which words of line {line} mean what was not written"));
            }
            if !words.contains(from) {
                return Err(format!("`{from}` does not stand in line {line}"));
            }
            Ok(Correction { words: from.to_owned(), ..Correction::of_line(kind, line, from, to) })
        }
        CorrectionKind::Track => {
            let below = lines[line - 1..].iter().take_while(|line| !line.trim().is_empty()).count();
            let name = words.trim_matches(|c: char| !c.is_alphanumeric());
            let name: String = name.chars().take(40).collect();
            Ok(Correction { last_line: line + below.max(1) - 1, ..made(&name) })
        }
        _ => Ok(made(value)),
    }
}
