//! What is learned from: every label can be held against a reading, and no text teaches twice.

use std::collections::BTreeSet;

use lantern_session::movement::Catalogue;
use reader_train::labelled::all;

#[test]
fn labels_name_movements_that_there_are_and_every_text_stands_once() {
    let texts = all().unwrap();
    assert!(texts.len() > 300, "{} texts", texts.len());
    let (mut names, mut bodies) = (BTreeSet::new(), BTreeSet::new());
    for text in &texts {
        assert!(names.insert(&text.name) && bodies.insert(text.text.trim()), "{} stands twice", text.name);
        for part in text.want["parts"].as_array().into_iter().flatten() {
            for movement in part["movements"].as_array().into_iter().flatten() {
                let id = movement.as_str().unwrap_or_default();
                assert!(Catalogue::standard().find(id).is_some(), "{}: no movement `{id}`", text.name);
            }
        }
    }
}
