//! `read` and `plan`: files in, text or JSON out.

use std::fmt::Write as _;
use std::fs;
use std::io::{Read as _, Write as _};
use std::path::Path;
use std::process::ExitCode;

use anyhow::{Context, Result, bail};
use lantern_core::decide::Decision;
use lantern_core::gym::Gym;
use lantern_core::import::session_as_text;
use lantern_core::member::Member;
use lantern_core::movement::Catalogue;
use lantern_core::plan::{Decisions, Plan, Request, plan_json, plan_with};
use lantern_core::print::{reading_json, session_text};
use lantern_core::read::Reading;
use lantern_core::read::corrections::Correction;
use lantern_core::roster::roster_from_csv;
use lantern_core::units::clock_s;

/// `read SESSION.txt`
pub fn read(session: &Path, gym: Option<&Path>, corrections: Option<&Path>, json: bool) -> Result<ExitCode> {
    let catalogue = Catalogue::standard();
    let corrections = corrections_of(corrections)?;
    let gym = gym_of(gym)?;
    let reading = gym.read(&session_of(session, catalogue)?, catalogue, &corrections);
    report(&reading);
    if json {
        emit(&(serde_json::to_string_pretty(&reading_json(&reading))? + "\n"))?;
    } else {
        emit(&session_text(&reading.session, catalogue))?;
    }
    Ok(code(&reading))
}

/// The files that a plan is made from.
#[derive(Clone, Copy)]
pub struct PlanFiles<'a> {
    /// The session.
    pub session: &'a Path,
    /// The class.
    pub roster: &'a Path,
    /// The gym.
    pub gym: Option<&'a Path>,
    /// What has been put right in the text.
    pub corrections: Option<&'a Path>,
    /// What a coach has decided.
    pub decisions: Option<&'a Path>,
}

/// `plan SESSION.txt --roster ROSTER.csv`
pub fn plan(files: &PlanFiles<'_>, minutes: u32, seed: u64, json: bool) -> Result<ExitCode> {
    let PlanFiles { session, roster, gym, corrections, decisions } = *files;
    let catalogue = Catalogue::standard();
    let corrections = corrections_of(corrections)?;
    let decisions = decisions_of(decisions)?;
    let gym = Gym { class_minutes: minutes, ..gym_of(gym)? };
    let reading = gym.read(&session_of(session, catalogue)?, catalogue, &corrections);
    report(&reading);
    if !reading.is_usable() {
        if json {
            emit(&(serde_json::to_string_pretty(&reading_json(&reading))? + "\n"))?;
        }
        return Ok(ExitCode::from(2));
    }
    let (members, errors) = roster_from_csv(&text_of(roster)?);
    for error in &errors {
        eprintln!("roster {error}");
    }
    if members.is_empty() {
        bail!("{} has no member that can be read", roster.display());
    }
    let session = &reading.session;
    let request = Request { session, members: &members, gym: &gym, catalogue, seed, decisions: &decisions };
    let plan = plan_with(request);
    for (place, piece) in plan.pieces.iter().enumerate() {
        for line in piece.unheld(&decisions.pieces.of(place)) {
            eprintln!("not changed by hand: `{}` is no line of {} any more", line.from, line.version.label());
        }
    }
    if json {
        emit(
            &(serde_json::to_string_pretty(&plan_json(&reading, &plan, &members, &gym, catalogue))? + "\n"),
        )?;
    } else {
        emit(&summary(&plan, &gym))?;
    }
    let unread = unread_limits(&members);
    Ok(if unread && code(&reading) == ExitCode::SUCCESS { ExitCode::from(1) } else { code(&reading) })
}

/// Names the limits that were not understood; whether there are any.
fn unread_limits(members: &[Member]) -> bool {
    let mut found = false;
    for member in members {
        for limit in member.limits.iter().filter(|limit| limit.is_unread()) {
            eprintln!("{}: not accounted for, look: `{}`", member.name, limit.text);
            found = true;
        }
    }
    found
}

/// Prints to standard output. Who stops reading early, as `head` does, has seen enough.
fn emit(text: &str) -> Result<()> {
    match std::io::stdout().write_all(text.as_bytes()) {
        Err(error) if error.kind() == std::io::ErrorKind::BrokenPipe => Ok(()),
        written => Ok(written?),
    }
}

/// A session file: text as coaches write it, a document that holds it, or the JSON of a reading.
fn session_of(path: &Path, catalogue: &Catalogue) -> Result<String> {
    let bytes = bytes_of(path)?;
    if lantern_documents::is_document(&bytes) {
        return lantern_documents::text_of(&bytes).with_context(|| path.display().to_string());
    }
    let text = lantern_documents::decoded(&bytes);
    let imported = session_as_text(&text, catalogue).with_context(|| path.display().to_string())?;
    Ok(imported.unwrap_or(text))
}

/// A gym's file, or the usual gym.
fn gym_of(path: Option<&Path>) -> Result<Gym> {
    match path {
        Some(path) => Gym::from_toml(&text_of(path)?).with_context(|| path.display().to_string()),
        None => Ok(Gym::default()),
    }
}

/// A file of corrections: a list, or anything with a list `corrections` in it, as the JSON of a reading has.
fn corrections_of(path: Option<&Path>) -> Result<Vec<Correction>> {
    let Some(path) = path else { return Ok(Vec::new()) };
    let wrong = || format!("{}: no list of corrections", path.display());
    let mut value: serde_json::Value = serde_json::from_str(&text_of(path)?).with_context(wrong)?;
    let list = match value.get_mut("corrections") {
        Some(list) => list.take(),
        None => value,
    };
    serde_json::from_value(list).with_context(wrong)
}

/// What a coach has decided, in the order in which it was.
fn decisions_of(path: Option<&Path>) -> Result<Decisions> {
    let mut standing = Decisions::default();
    let Some(path) = path else { return Ok(standing) };
    let list: Vec<Decision> = serde_json::from_str(&text_of(path)?)
        .with_context(|| format!("{}: no list of decisions", path.display()))?;
    for (n, decision) in list.iter().enumerate() {
        if let Err(wrong) = decision.checked() {
            bail!("{}: decision {}: {wrong}", path.display(), n + 1);
        }
        decision.apply(&mut standing);
    }
    Ok(standing)
}

fn text_of(path: &Path) -> Result<String> {
    Ok(lantern_documents::decoded(&bytes_of(path)?))
}

fn bytes_of(path: &Path) -> Result<Vec<u8>> {
    if path == Path::new("-") {
        let mut bytes = Vec::new();
        std::io::stdin().read_to_end(&mut bytes).context("standard input")?;
        return Ok(bytes);
    }
    fs::read(path).with_context(|| path.display().to_string())
}

fn report(reading: &Reading) {
    for problem in &reading.problems {
        eprintln!("{}:{}: {}", problem.line, problem.column, problem.message);
    }
}

fn code(reading: &Reading) -> ExitCode {
    if !reading.is_usable() {
        ExitCode::from(2)
    } else if !reading.is_complete() {
        ExitCode::from(1)
    } else {
        ExitCode::SUCCESS
    }
}

fn summary(plan: &Plan, gym: &Gym) -> String {
    let mut text = String::new();
    let _ = writeln!(text, "Warm-up {}", clock_s(plan.warmup.seconds));
    for block in &plan.warmup.blocks {
        let items: Vec<String> =
            block.items.iter().map(|item| format!("{} {}", item.name, item.dose)).collect();
        let rounds = if block.rounds > 1 { format!(", {} rounds", block.rounds) } else { String::new() };
        let _ = writeln!(text, "  {}{rounds}: {}", block.phase.name(), items.join("; "));
    }
    for lift in &plan.strength {
        for sheet in &lift.sheets {
            let sets: Vec<String> = sheet
                .sets
                .iter()
                .map(|set| {
                    let load = set.load.as_ref().map(|load| load.total.show(gym.unit));
                    load.map_or("by feel".to_owned(), |load| format!("{} x {load}", set.reps))
                })
                .collect();
            let _ = writeln!(text, "{}, {}: {}", sheet.name, sheet.lift, sets.join(", "));
        }
    }
    for piece in &plan.pieces {
        let _ = writeln!(text, "{} ({})", piece.headline(), piece.window.show());
        for member in &piece.members {
            let _ = writeln!(
                text,
                "  {}: {}. {}",
                member.name,
                member.chosen().version.label(),
                member.chosen().reason
            );
        }
    }
    for floor in &plan.floors {
        let _ = writeln!(text, "{}", floor.floor.sentence());
        for line in floor.floor.unplaced.iter().chain(&floor.floor.proof) {
            let _ = writeln!(text, "! {line}");
        }
    }
    let _ = writeln!(text, "{}", plan.hour.sentence());
    for change in &plan.hour.changes {
        let saves = clock_s(change.saves_s.unsigned_abs() as u32);
        let _ = writeln!(text, "  {}: saves {saves}, loses {}", change.what, change.loses);
    }
    for caution in &plan.cautions {
        let _ = writeln!(text, "! {}", caution.text);
    }
    text
}
