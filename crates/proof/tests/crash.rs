//! The short form of `cargo run --release -p proof -- crash`: program and database killed under writers lose nothing that was acknowledged, and keep nothing twice.

use std::path::Path;

use browser_tests::attack::{Crashed, database_killed, launched, program_killed};

fn whole(crashed: &Crashed) {
    let written = &crashed.written;
    assert!(written.wrong.is_empty() && written.acknowledged > crashed.kills, "{crashed:?}");
    assert!(written.sent_again > 0, "nobody was interrupted: {crashed:?}");
}

#[test]
fn a_killed_program_loses_nothing_that_it_acknowledged() {
    let program =
        |url: &str, address: Option<&str>| launched(Path::new(env!("CARGO_BIN_EXE_proof")), url, address);
    whole(&program_killed(10, program).unwrap());
}

#[test]
fn a_killed_database_loses_nothing_that_it_acknowledged() {
    whole(&database_killed(3).unwrap());
}
