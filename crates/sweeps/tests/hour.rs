//! The hour and the floor of a part of all texts for all classes: racks are even, blocks last to the cap, no way to arrange a class is taken where a
//! cheaper one would do, and what is missing is swapped. The whole is `cargo run --release -p proof -- hour`.

use sweeps::fixtures::fixtures;
use sweeps::hour::sweep;
use sweeps::rosters::rosters;

/// A twentieth of the texts.
const EVERY: usize = 20;

#[test]
fn hours_and_floors_hold_of_every_class() {
    let some: Vec<_> = fixtures().unwrap().into_iter().skip(5).step_by(EVERY).collect();
    let seen = sweep(&some, &rosters().unwrap());
    assert!(seen.lifts > 20 && seen.swapped > 10 && seen.arranged.len() > 2, "{seen}");
    assert!(seen.broken.is_empty() && seen.off * 5 <= seen.pieces, "{seen}\n{:#?}", seen.broken);
}
