//! The short form of `cargo run --release -p proof -- fuzz`: the seeds, and half a minute of mangling them.

use std::time::Duration;

use browser_tests::attack::{TARGETS, Target, mangled};

/// How long each way in.
const LASTS: Duration = Duration::from_secs(3);

#[test]
fn nothing_that_comes_in_as_text_stops_the_program() {
    let tries = |(name, _): &(&str, Target)| {
        let seen = mangled(name, LASTS, 1).unwrap();
        assert!(seen.wrong.is_empty() && seen.tried > 1, "{name}: {:?}", seen.wrong.first());
    };
    // On two cores two at once.
    let (some, others) = TARGETS.split_at(TARGETS.len() / 2);
    std::thread::scope(|scope| {
        for half in [some, others] {
            scope.spawn(move || half.iter().for_each(tries));
        }
    });
}
