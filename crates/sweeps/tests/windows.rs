//! Inferred windows against written ones: most are covered, and none buys that by being wide.

use sweeps::fixtures::fixtures;
use sweeps::windows::{COVERED, WIDEST, covered, rows};

#[test]
fn most_written_windows_are_found_when_they_are_hidden() {
    let rows = rows(&fixtures().unwrap());
    assert!(rows.len() > 100, "{}", rows.len());
    let missed: Vec<String> =
        rows.iter().filter(|row| row.overlap() < 0.5).map(ToString::to_string).collect();
    assert!(covered(&rows) >= COVERED, "{:.2}\n{}", covered(&rows), missed.join("\n"));
    let wide: Vec<String> =
        rows.iter().filter(|row| row.width() > WIDEST + 1e-9).map(ToString::to_string).collect();
    assert!(wide.is_empty(), "{}", wide.join("\n"));
}
