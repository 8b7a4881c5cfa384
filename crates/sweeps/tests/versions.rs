//! Versions of a part of all texts for all classes: the rules hold of everybody, and most are on stimulus with what they are offered.
//! The whole is `cargo run --release -p proof -- versions`.

use sweeps::fixtures::fixtures;
use sweeps::rosters::rosters;
use sweeps::summary::{PRESCRIPTIONS, Summary};
use sweeps::versions::sweep;

/// A tenth of the texts.
const EVERY: usize = 10;

#[test]
fn rules_hold_of_everybody_and_rooms_stay_simple() {
    let (fixtures, rosters) = (fixtures().unwrap(), rosters().unwrap());
    let some: Vec<_> = fixtures.into_iter().step_by(EVERY).collect();
    let seen = sweep(&some, &rosters);
    let summary = Summary::of(&seen);
    let broken: Vec<&String> = seen.iter().flat_map(|piece| &piece.broken).map(|(_, what)| what).collect();
    assert!(summary.pieces > 30 && summary.keeps_all_rules(), "{summary}\n{broken:#?}");
    assert!(summary.prescriptions.1 <= PRESCRIPTIONS, "{summary}");
    assert!((0.25..0.67).contains(&summary.as_written) && summary.with_offers >= 0.85, "{summary}");
    let [with_results, strangers] = summary.spread;
    assert!(
        with_results.p10 >= 1.12 && with_results.p90 <= 1.35 && strangers.p50 > with_results.p90,
        "{summary}"
    );
}

#[test]
fn a_drawn_class_is_the_same_twice_and_mixed() {
    let drawn = || rosters().unwrap().pop().unwrap().members;
    let (once, twice) = (drawn(), drawn());
    assert_eq!(once, twice);
    assert_eq!(once.len(), 28);
    let rows: Vec<u32> = once.iter().filter_map(|member| member.row_2k_s).collect();
    assert!(rows.iter().max().unwrap() - rows.iter().min().unwrap() > 100, "{rows:?}");
    assert!(once.iter().any(|member| !member.limits.is_empty()));
}
