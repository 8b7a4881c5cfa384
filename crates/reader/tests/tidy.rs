//! What is offered as the plain notation reads as the same day, asks nothing, and loses no note.

use std::fs;
use std::path::Path;

use lantern_reader::corrections::{Correction, CorrectionKind};
use lantern_reader::tidy::tidy;
use lantern_reader::{Reading, read, read_corrected};
use lantern_session::movement::Catalogue;

/// Names and texts of the whole corpus.
fn texts() -> Vec<(String, String)> {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("corpus");
    let folders = fs::read_dir(root).unwrap().map(|entry| entry.unwrap().path());
    let files = folders.flat_map(|folder| fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path()));
    files
        .filter(|path| path.extension().is_some_and(|ending| ending == "txt"))
        .map(|path| (path.display().to_string(), fs::read_to_string(&path).unwrap()))
        .collect()
}

/// What stands in the trees, without who runs it.
fn work_of(reading: &Reading) -> Vec<String> {
    reading
        .session
        .parts
        .iter()
        .map(|part| format!("{:?} {:?} {:?}", part.kind, part.format, part.tree))
        .collect()
}

#[test]
fn what_is_offered_reads_as_the_same_day_and_asks_nothing_new() {
    let catalogue = Catalogue::standard();
    let (mut parts, mut as_written, mut offered) = (0, 0, 0);
    for (name, text) in texts() {
        let reading = read(&text, catalogue);
        let Some(plain) = tidy(&text, &reading, catalogue, &[]) else { continue };
        let again = read(&plain.text, catalogue);
        assert_eq!(work_of(&reading), work_of(&again), "{}\n{}", name, plain.text);
        assert!(again.questions.len() <= reading.questions.len(), "{}\n{}", name, plain.text);
        if plain.as_written.is_empty() {
            assert!(again.questions.is_empty(), "{}\n{}", name, plain.text);
            // Of talk, what counts in passing may stand apart when it is read once more.
            let twice = tidy(&plain.text, &again, catalogue, &[]);
            let talks = !again.session.notes.is_empty();
            assert!(talks || twice.is_none(), "{name}\n{}", plain.text);
        }
        for note in &reading.session.notes {
            let words = note.text.trim_matches(|c: char| !c.is_alphanumeric());
            assert!(plain.text.contains(words), "{}: {words}\n{}", name, plain.text);
        }
        offered += 1;
        parts += reading.session.parts.len();
        as_written += plain.as_written.len();
    }
    println!("{offered} texts, {as_written} of {parts} parts as written");
    assert!(as_written * 8 < parts, "{as_written} of {parts} parts cannot be said plainly");
}

#[test]
fn what_was_put_right_is_said_in_the_text() {
    let catalogue = Catalogue::standard();
    let text = "For time\n30 burpees\nscaling is up to you\n20 sit-ups";
    let cap = Correction::of_line(CorrectionKind::Part, 1, "For time", "12 min AMRAP");
    let reading = read_corrected(text, catalogue, &[cap]);
    let plain = tidy(text, &reading, catalogue, &[]).expect("an offer");
    let again = read(&plain.text, catalogue);
    assert_eq!(work_of(&reading), work_of(&again), "{}", plain.text);
    assert!(
        plain.text.contains("AMRAP 12:00") && plain.text.contains("Note: scaling is up to you"),
        "{}",
        plain.text
    );
}

#[test]
fn several_days_are_offered_nothing() {
    let catalogue = Catalogue::standard();
    let text = "Monday\n5 rounds for time\n10 burpees\n\nTuesday\nAMRAP 12\n9 sit-ups\n12 lunges\n";
    let reading = read(text, catalogue);
    assert_eq!(reading.days.len(), 2);
    assert_eq!(tidy(text, &reading, catalogue, &[]), None);
}
