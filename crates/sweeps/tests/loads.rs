//! Load sheets and warm-ups of a part of all texts for all classes keep everybody's limits. The whole is
//! `cargo run --release -p proof -- loads`.

use sweeps::fixtures::fixtures;
use sweeps::loads::sweep;
use sweeps::rosters::rosters;

/// A tenth of the texts.
const EVERY: usize = 10;

#[test]
fn sheets_and_warm_ups_keep_limits() {
    let some: Vec<_> = fixtures().unwrap().into_iter().skip(3).step_by(EVERY).collect();
    let seen = sweep(&some, &rosters().unwrap());
    assert!(seen.instead > 20 && seen.items > 20 && seen.broken.is_empty(), "{seen}\n{:#?}", seen.broken);
}
