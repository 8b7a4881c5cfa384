//! The short form of `cargo run --release -p proof -- faults`: the world around the program breaks under people who write.

use std::path::Path;
use std::time::Duration;

use browser_tests::attack::{self, Seen};

fn program() -> &'static Path {
    Path::new(env!("CARGO_BIN_EXE_honest-lantern"))
}

/// Whatever was acknowledged is there, once.
fn kept(seen: Seen) -> Seen {
    assert!(seen.written.wrong.is_empty() && seen.written.acknowledged > 20, "{seen:?}");
    seen
}

/// Whether the system gives this test a disk of its own; not every container does. `proof faults` does without no row.
fn has_small_disks() -> bool {
    let tried = attack::SmallDisk::of_mb(1);
    if let Err(why) = &tried {
        println!("not tried here: {why:#}");
    }
    tried.is_ok()
}

/// Nobody has noticed anything.
fn unnoticed(seen: Seen) {
    let seen = kept(seen);
    assert_eq!((seen.written.sent_again, seen.pages.1), (0, 0), "{seen:?}");
    assert!(seen.pages.0 > 0, "{seen:?}");
}

#[test]
fn two_processes_share_an_address_and_are_replaced_without_a_failed_request() {
    unnoticed(attack::rolling(program(), 12).unwrap());
}

#[test]
fn a_database_that_stands_still_loses_nothing() {
    let seen = kept(attack::paused(program(), Duration::from_secs(9)).unwrap());
    assert!(seen.written.sent_again > 0, "nobody was interrupted: {seen:?}");
}

#[test]
fn a_full_disk_loses_nothing_that_was_acknowledged() {
    if !has_small_disks() {
        return;
    }
    let seen = kept(attack::disk_full(program(), Duration::from_secs(2)).unwrap());
    assert!(seen.written.sent_again > 0, "nobody was interrupted: {seen:?}");
}

#[test]
fn a_server_that_is_lost_takes_nothing_along_that_was_acknowledged() {
    let seen = kept(attack::failover(program()).unwrap());
    assert!(seen.written.sent_again > 0, "nobody was interrupted: {seen:?}");
}

#[test]
fn a_log_that_cannot_be_written_stops_nobody() {
    unnoticed(attack::log_full(program()).unwrap());
}

#[test]
fn a_new_secret_signs_nobody_out() {
    assert_eq!(attack::another_secret(program()).unwrap(), (200, 200), "before and after");
}

#[test]
fn a_backup_without_room_says_so_and_leaves_nothing() {
    if !has_small_disks() {
        return;
    }
    let refused = attack::backup_full().unwrap();
    assert!(refused.contains("monday.lantern") && refused.contains("No space"), "{refused}");
}

#[test]
fn a_clock_that_jumps_stops_nobody() {
    unnoticed(attack::clock_jumps(program(), Duration::from_millis(500)).unwrap());
}
