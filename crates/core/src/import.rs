//! A session from elsewhere: our own JSON, read back into the text that a coach can edit.

use serde::Deserialize;

use crate::movement::Catalogue;
use crate::print::{READING_SCHEMA, session_text};
use crate::session::{
    Alternative, Format, Intent, Jump, LoadUnit, Node, Note, Part, PartKind, PercentOf, Prescription, Rest,
    RestAfter, Score, Session, Target, Tempo, TrainingMax, works,
};

/// Why a JSON text is no session.
#[derive(Debug, thiserror::Error)]
pub enum ImportError {
    /// Not JSON, or keys that mean something else.
    #[error("line {line}, column {column} of the JSON: {why}")]
    Json {
        /// Counted from 1.
        line: usize,
        /// Counted from 1.
        column: usize,
        /// What is wrong there.
        why: String,
    },
    /// JSON of another program or version.
    #[error("the schema is `{0}`; this version reads `{READING_SCHEMA}`")]
    Schema(String),
}

#[derive(Deserialize)]
struct ReadingIn {
    schema: String,
    #[serde(default)]
    title: Option<String>,
    parts: Vec<PartIn>,
    #[serde(default)]
    notes: Vec<Note>,
}

/// A part as `read --json` writes it. What follows from the tree (totals, movements) is not read.
#[derive(Deserialize)]
struct PartIn {
    kind: PartKind,
    tree: Node,
    heading: Option<String>,
    format: Option<Format>,
    cap_s: Option<u32>,
    duration_s: Option<u32>,
    rounds: Option<u32>,
    interval_s: Option<u32>,
    work_s: Option<u32>,
    rest_s: Option<u32>,
    team_size: Option<u32>,
    percent: Option<[f64; 2]>,
    #[serde(default)]
    percent_of: Option<PercentOf>,
    training_max: Option<TrainingMax>,
    #[serde(default)]
    open_last: bool,
    #[serde(default)]
    then_rest_s: Option<u32>,
    #[serde(default)]
    rises: bool,
    #[serde(default)]
    jump: Option<Jump>,
    #[serde(default)]
    ends_at_share: Option<bool>,
    #[serde(default)]
    empty_bar: Option<bool>,
    #[serde(default)]
    efforts: Vec<f64>,
    week: Option<(u32, Option<u32>)>,
    sets: Option<u32>,
    reps: Option<Vec<u32>>,
    #[serde(default)]
    reps_high: Option<u32>,
    rm: Option<u32>,
    rpe: Option<[f64; 2]>,
    tempo: Option<Tempo>,
    top_sets: Option<u32>,
    load_range: Option<(f64, f64, LoadUnit)>,
    target: Option<Target>,
    score: Option<Score>,
    #[serde(default)]
    intents: Vec<Intent>,
    #[serde(default)]
    alternatives: Vec<AlternativeIn>,
}

#[derive(Deserialize)]
struct AlternativeIn {
    text: String,
}

/// The text of a session: as it stands, or, when it is our JSON, written out as canonical text with its notes
/// below.
///
/// # Errors
/// When it begins as JSON does and is not a reading of this schema.
pub fn session_as_text(raw: &str, catalogue: &Catalogue) -> Result<Option<String>, ImportError> {
    if !raw.trim_start().starts_with('{') {
        return Ok(None);
    }
    let session = session_from_json(raw)?;
    let mut text = session_text(&session, catalogue);
    for note in &session.notes {
        text.push('\n');
        text.push_str(&note.text);
    }
    Ok(Some(text))
}

/// A session from the JSON of a reading.
///
/// # Errors
/// When it is no JSON, lacks a key, or has another schema.
pub fn session_from_json(json: &str) -> Result<Session, ImportError> {
    let found: ReadingIn = serde_json::from_str(json).map_err(|error| ImportError::Json {
        line: error.line(),
        column: error.column(),
        why: error.to_string(),
    })?;
    if found.schema != READING_SCHEMA {
        return Err(ImportError::Schema(found.schema));
    }
    let parts = found.parts.into_iter().map(part).collect();
    Ok(Session { title: found.title, parts, notes: found.notes, ..Session::default() })
}

fn part(found: PartIn) -> Part {
    let written = works(&found.tree).into_iter().map(|work| work.percent.clone()).find(|p| !p.is_empty());
    Part {
        kind: found.kind,
        heading: found.heading,
        lines: (1, 1),
        format: found.format,
        cap_s: found.cap_s,
        duration_s: found.duration_s,
        rounds: found.rounds,
        interval_s: found.interval_s,
        work_s: found.work_s,
        rest: found.rest_s.map(|seconds| Rest::of(seconds, RestAfter::Each)),
        then_rest_s: found.then_rest_s,
        team_size: found.team_size.unwrap_or(1),
        strength: Prescription {
            sets: found.sets,
            reps: found.reps.unwrap_or_default(),
            reps_high: found.reps_high,
            percent: written.or(found.percent.map(|range| vec![range])).unwrap_or_default(),
            percent_of: found.percent_of,
            training_max: found.training_max,
            open_last: found.open_last,
            rises: found.rises,
            jump: found.jump,
            ends_at_share: found.ends_at_share.unwrap_or_default(),
            empty_bar: found.empty_bar.unwrap_or_default(),
            efforts: found.efforts,
            week: found.week,
            rm: found.rm,
            rpe: found.rpe,
            tempo: found.tempo,
            load_range: found.load_range,
            top_sets: found.top_sets,
        },
        target: found.target,
        score: found.score,
        intents: found.intents,
        alternatives: found
            .alternatives
            .into_iter()
            .map(|found| Alternative { line: 1, text: found.text, work: Vec::new(), replaces: None })
            .collect(),
        tree: found.tree,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::print::reading_json;
    use crate::read::read;

    const DAY: &str = "Monday\n\nStrength\nBack squat 4x4 @ 77-82%, last two at the working weight\nrest 2:00 between sets\n\n\
                       Conditioning\n5 rounds for time\n12 thrusters 40/30 kg\n200 m run\ngoal 9-14 min\ncap 16\n\
                       or, with a lighter weight: 12 dumbbell thrusters\n\nBring water, it will be warm in here tonight.";

    #[test]
    fn json_that_was_written_reads_back_as_the_same_parts() {
        let catalogue = Catalogue::standard();
        let first = read(DAY, catalogue);
        let json = reading_json(&first).to_string();
        let text = session_as_text(&json, catalogue).unwrap().unwrap();
        let second = read(&text, catalogue);
        assert_eq!(first.session.title, second.session.title);
        for (a, b) in first.session.parts.iter().zip(&second.session.parts) {
            assert_eq!(
                (&a.tree, &a.strength, a.target, a.cap_s),
                (&b.tree, &b.strength, b.target, b.cap_s),
                "{text}"
            );
            assert_eq!(a.alternatives.len(), b.alternatives.len(), "{text}");
        }
        assert!(second.session.notes.iter().any(|note| note.text.starts_with("Bring water")), "{text}");
    }

    #[test]
    fn text_stays_text_and_bad_json_names_its_place() {
        let catalogue = Catalogue::standard();
        assert_eq!(session_as_text(DAY, catalogue).unwrap(), None);
        let error = session_as_text("{\n \"schema\": 1", catalogue).unwrap_err().to_string();
        assert!(error.starts_with("line 2, column"), "{error}");
        let error = session_as_text("{\"schema\": \"other/2\", \"parts\": []}", catalogue).unwrap_err();
        assert_eq!(
            error.to_string(),
            format!("the schema is `other/2`; this version reads `{READING_SCHEMA}`")
        );
    }
}
