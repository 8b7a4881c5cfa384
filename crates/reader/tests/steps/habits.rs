//! How a gym writes: learned from what was put right, and made again.

use lantern_reader::corrections::{Correction, CorrectionKind};
use lantern_reader::habits::{Habit, applied, learn};

fn taught(kind: CorrectionKind, text: &str, line: usize, value: &str) -> Option<Habit> {
    let words = text.split('\n').nth(line - 1).unwrap();
    Habit::taught_by(&Correction::of_line(kind, line, words, value), text, "3 Mar")
}

#[test]
fn what_would_come_again_is_learned_and_nothing_else() {
    let tied = |kind, text, line, value| taught(kind, text, line, value).map(|habit| habit.words);
    assert_eq!(tied(CorrectionKind::Heading, "Gears: 300 m row", 1, "warmup").as_deref(), Some("gears"));
    assert_eq!(tied(CorrectionKind::Heading, "** The Forge **", 1, "strength").as_deref(), Some("the forge"));
    assert_eq!(tied(CorrectionKind::Note, "Vibe: calm", 1, "").as_deref(), Some("vibe"));
    assert_eq!(tied(CorrectionKind::Note, "%% not today", 1, "").as_deref(), Some("%%"));
    assert_eq!(tied(CorrectionKind::Split, "5x5\n~~\n10 burpees", 3, "").as_deref(), Some("~~"));
    assert_eq!(tied(CorrectionKind::Note, "15 sit-ups", 1, ""), None);
    assert_eq!(tied(CorrectionKind::Heading, "5 rounds for time", 1, "conditioning"), None);
    assert_eq!(tied(CorrectionKind::Part, "Gears: 5 rounds", 1, "AMRAP 12"), None);
}

#[test]
fn a_habit_makes_its_correction_where_it_fits_and_the_coach_outweighs_it() {
    let mut habits = Vec::new();
    let text = "Gears: 300 m row\n10 lunges";
    let said = Correction::of_line(CorrectionKind::Heading, 1, "Gears: 300 m row", "warmup");
    assert_eq!(learn(&mut habits, std::slice::from_ref(&said), &[], text, "3 Mar"), 1);
    let again = [said];
    assert_eq!(learn(&mut habits, &again, &[], text, "4 Mar"), 0, "it is known already");
    let mut forgotten = Vec::new();
    assert_eq!(learn(&mut forgotten, &again, &again, text, "3 Mar"), 0, "the text has taught it before");
    let next = "GEARS: 2 min bike\n8 ring rows";
    let made: Vec<Correction> = applied(&habits, next, &[]).into_iter().map(|(_, made)| made).collect();
    assert_eq!((made.len(), made[0].kind, made[0].value.as_str()), (1, CorrectionKind::Heading, "warmup"));
    let own = [Correction::of_line(CorrectionKind::Note, 1, "GEARS: 2 min bike", "")];
    assert_eq!(applied(&habits, next, &own), []);
    // The newer word on a matter stands.
    assert_eq!(learn(&mut habits, &own, &[], next, "5 Mar"), 1);
    assert_eq!((habits.len(), habits[0].kind), (1, CorrectionKind::Note));
}

#[test]
fn a_word_is_read_as_another_by_itself_only() {
    let habit = Habit {
        kind: CorrectionKind::Word,
        words: "gr".to_owned(),
        value: "goblet squats".to_owned(),
        origin: String::new(),
    };
    let made = applied(std::slice::from_ref(&habit), "10 GR, 8 great lunges, 6 gr", &[]);
    let words: Vec<&str> = made.iter().map(|(_, made)| made.words.as_str()).collect();
    assert_eq!(words, ["GR", "gr"]);
}
