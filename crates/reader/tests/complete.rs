//! What is offered while somebody types is read as what it says.

use lantern_reader::complete::{clauses, complete, ways};
use lantern_reader::read;
use lantern_session::movement::Catalogue;
use lantern_session::works;
use proptest::prelude::*;

#[test]
fn every_clause_reads_in_its_example_without_a_question() {
    for clause in clauses() {
        let text = clause.example.replace('|', "\n");
        assert!(text.contains(&clause.clause), "`{}` is not in `{text}`", clause.clause);
        let reading = read(&text, Catalogue::standard());
        assert_eq!(reading.problems, [], "{text}");
        assert_eq!(reading.questions, [], "{text}");
        assert_eq!(reading.session.parts.len(), 1, "{text}");
    }
}

#[test]
fn every_movement_is_offered_for_the_most_of_its_name_and_read_as_itself() {
    let catalogue = Catalogue::standard();
    for movement in catalogue.iter() {
        let name = movement.name.to_lowercase();
        let typed: String = name.chars().take(name.chars().count() - 1).collect();
        let line = format!("12 {typed}");
        let offers = complete(&line, catalogue);
        let whole = |line: &str| read(&format!("For time\n{line}\n10 burpee"), catalogue);
        // What is a name already needs none.
        let known = works(&whole(&line).session.parts[0].tree).len() == 2;
        assert!(known || offers.iter().any(|offer| offer.text == name), "{line}: {offers:?}");
        let reading = whole(&format!("12 {name}"));
        let first = works(&reading.session.parts[0].tree)[0].movement.clone();
        assert_eq!(first, movement.id, "{name}");
    }
}

#[test]
fn whoever_does_not_know_how_to_begin_is_shown_ways() {
    for above in ["", "Strength", "For time", "Warm-up"] {
        assert!((2..=3).contains(&ways(above).len()), "{above}");
    }
}

proptest! {
    /// An offer goes on with what is typed: taken, it stands at the end of the line.
    #[test]
    fn prop_an_offer_takes_the_place_of_the_end_of_the_line(line in "[0-9a-z@:+\u{e9} -]{0,24}") {
        for offer in complete(&line, Catalogue::standard()) {
            prop_assert!(line.ends_with(&offer.typed) && !offer.typed.is_empty());
            prop_assert!(!offer.text.is_empty() && !offer.meaning.is_empty());
        }
    }
}

fn texts(line: &str) -> Vec<String> {
    complete(line, Catalogue::standard()).into_iter().map(|offer| offer.text).collect()
}

#[test]
fn names_are_found_by_their_first_letters_by_other_names_and_by_later_words() {
    assert_eq!(texts("12 pul")[0], "pull-up");
    assert_eq!(texts("20 du")[0], "double-under", "another name of it");
    assert!(texts("10 jum").contains(&"box jump".to_owned()));
    let longest = complete("10 burpees + 5 strict pu", Catalogue::standard());
    assert!(longest.iter().all(|offer| offer.typed == "strict pu"), "{longest:?}");
}

#[test]
fn clauses_are_found_where_they_stand() {
    assert_eq!(texts("am")[0], "AMRAP 12:00");
    assert_eq!(texts("5 ro")[0], "rounds");
    assert_eq!(texts("back squat 5x5 @")[0], "@ 75%");
    assert!(!texts("12 am").contains(&"AMRAP 12:00".to_owned()));
    assert_eq!(texts("12 min a")[0], "min AMRAP");
}

#[test]
fn nothing_is_offered_for_what_is_whole_or_not_begun() {
    for line in ["", "1", "12 ", "12 pull-up ", "12 pull-up", "12 pull-ups", "x", "12 ...", "For time"] {
        assert_eq!(complete(line, Catalogue::standard()), [], "{line}");
    }
}
