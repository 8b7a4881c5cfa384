//! The short form of `cargo run --release -p proof -- crash`: program and database killed under writers lose nothing that was acknowledged, and keep nothing twice.

use std::io::{BufRead, BufReader};
use std::process::{Command, Stdio};

use browser_tests::attack::{Crashed, database_killed, program_killed};

fn whole(crashed: &Crashed) {
    assert!(crashed.wrong.is_empty() && crashed.acknowledged > crashed.kills, "{crashed:?}");
    assert!(crashed.sent_again > 0, "nobody was interrupted: {crashed:?}");
}

#[test]
fn a_killed_program_loses_nothing_that_it_acknowledged() {
    let crashed = program_killed(10, |url, address| {
        let mut child = Command::new(env!("CARGO_BIN_EXE_proof"))
            .args(["serve", url])
            .args(address)
            .stdout(Stdio::piped())
            .spawn()?;
        let mut said = String::new();
        BufReader::new(child.stdout.take().expect("it speaks")).read_line(&mut said)?;
        Ok((child, said.trim().to_owned()))
    });
    whole(&crashed.unwrap());
}

#[test]
fn a_killed_database_loses_nothing_that_it_acknowledged() {
    whole(&database_killed(3).unwrap());
}
