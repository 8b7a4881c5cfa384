//! The short form of `cargo run --release -p proof -- fuzz`: the seeds, and some seconds of mangling them.

use std::time::Duration;

use browser_tests::attack::{TARGETS, mangled};

#[test]
fn nothing_that_comes_in_as_text_stops_the_program() {
    for (name, _) in TARGETS {
        let seen = mangled(name, Duration::from_secs(3), 1).unwrap();
        assert!(seen.wrong.is_empty() && seen.tried > 1, "{name}: {:?}", seen.wrong.first());
    }
}
