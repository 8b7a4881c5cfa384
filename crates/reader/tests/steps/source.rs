//! A text as lines, whatever it was copied from.

use lantern_reader::source::lines;

fn plain(text: &str) -> Vec<String> {
    lines(text, 100).into_iter().map(|line| line.text.trim().to_owned()).collect()
}

#[test]
fn tags_and_emphasis_are_taken_off() {
    assert_eq!(
        plain("<p><b>Lift</b><br>Squat 5x5 @ 75&#37;</p>\n<ul><li>10 burpees</li></ul>"),
        ["Lift", "Squat 5x5 @ 75%", "10 burpees"]
    );
    assert_eq!(
        plain("**Lift** 5 x 5\n* 10 burpees\n_rest_ 2 min"),
        ["Lift 5 x 5", "* 10 burpees", "rest 2 min"]
    );
    assert_eq!(plain("[03.05., 20:11] Pia: 10 burpees"), ["10 burpees"]);
    assert_eq!(
        plain("[Core]\n[Lift] Squat 5x5\n[ ] 10 burpees"),
        ["Core", "Lift: Squat 5x5", "[ ] 10 burpees"]
    );
}

#[test]
fn a_sentence_wrapped_at_the_edge_is_one_and_keeps_its_lines() {
    let text = "Lift. Front squat, six sets of three at eigh-\nty percent of what you did last Thursday, and\nninety seconds between sets.";
    let found = lines(text, 100);
    assert_eq!(found.len(), 1);
    assert!(found[0].text.contains("eighty percent") && found[0].text.contains("and ninety seconds"));
    assert_eq!((found[0].line_at(0), found[0].line_at(60), found[0].line_at(100)), (1, 2, 3));
    assert_eq!(plain("10 burpees\n12 lunges\nrun 200 m").len(), 3);
}
