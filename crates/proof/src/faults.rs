//! The world around the program breaks: processes are killed, databases stand still, disks fill, clocks jump.

use std::path::{Path, PathBuf};
use std::process::Command;
use std::time::Duration;

use anyhow::{Result, ensure};
use browser_tests::attack::{self, Crashed, Seen, Written};

use crate::BY_ITSELF;

/// Longest until pages come again after the database's connections went silent.
const RECOVERY: Duration = Duration::from_secs(10);

/// Program and database killed under writers, the database waiting for the disk.
pub fn crash(times: usize) -> bool {
    println!(
        "{:<10}{:>7}{:>14}{:>12}{:>22}{:>12}",
        "killed", "times", "acknowledged", "sent again", "wrong (lost, doubled)", "away ms"
    );
    let told = |what: &str, crashed: Result<Crashed, _>| match crashed {
        Ok(crashed) => {
            let Crashed { kills, written, longest_away_ms } = crashed;
            let Written { acknowledged, sent_again, wrong, .. } = written;
            println!(
                "{what:<10}{kills:>7}{acknowledged:>14}{sent_again:>12}{:>22}{longest_away_ms:>12}",
                wrong.len()
            );
            wrong.is_empty() && acknowledged > 0
        }
        Err(error) => {
            println!("{what}: {error:#}");
            false
        }
    };
    let program = told("program", attack::program_killed(times, BY_ITSELF));
    // A database that is killed reads its log again each time.
    told("database", attack::database_killed(times.div_ceil(5))) && program
}

/// The program, beside this one; built where it is not there, or from before a change.
pub fn built() -> Result<PathBuf> {
    let program = std::env::current_exe()?.with_file_name("honest-lantern");
    let release = (!cfg!(debug_assertions)).then_some("--release");
    let cargo = std::env::var_os("CARGO").unwrap_or_else(|| "cargo".into());
    let done = Command::new(cargo).args(["build", "-q", "-p", "honest-lantern"]).args(release).status()?;
    ensure!(done.success(), "the program cannot be built");
    Ok(program)
}

/// A row of what was seen of a fault; whether nothing acknowledged is missing, and nobody noticed where nobody was to.
fn shown(seen: Result<Seen>, is_noticed: bool) -> bool {
    match seen {
        Ok(Seen { what, written, pages, back }) => {
            println!(
                "{what:<58}{:>14}{:>12}{:>22}{:>14}{:>12}{:>10}",
                written.acknowledged,
                written.sent_again,
                written.wrong.len(),
                format!("{} of {}", pages.1, pages.0),
                written.longest_wait.as_millis(),
                back.as_millis()
            );
            let unnoticed = written.sent_again == 0 && pages.1 == 0;
            written.wrong.is_empty() && written.acknowledged > 0 && (is_noticed || unnoticed)
        }
        Err(error) => {
            println!("{error:#}");
            false
        }
    }
}

fn head_of_faults() {
    println!(
        "{:<58}{:>14}{:>12}{:>22}{:>14}{:>12}{:>10}",
        "what",
        "acknowledged",
        "sent again",
        "wrong (lost, doubled)",
        "pages failed",
        "longest ms",
        "back ms"
    );
}

/// The world around the program breaks under four who write and one who looks.
pub fn faults(restarts: usize) -> bool {
    let Ok(program) = built().inspect_err(|error| println!("{error:#}")) else { return false };
    head_of_faults();
    let second = Duration::from_secs(1);
    let kept = [
        shown(attack::rolling(&program, restarts), false),
        shown(attack::paused(&program, second * 20), true),
        shown(attack::disk_full(&program, second * 20), true),
        shown(attack::failover(&program), true),
        shown(attack::log_full(&program), false),
        shown(attack::clock_jumps(&program, second * 5), false),
    ];
    let refused = attack::backup_full();
    match &refused {
        Ok(refused) => println!("a backup without room: {refused}"),
        Err(error) => println!("a backup without room: {error:#}"),
    }
    refused.is_ok() && kept.into_iter().all(|kept| kept)
}

/// A database server lost under writers, a manager of Debian's packages at work.
pub fn failover() -> bool {
    let Ok(program) = built().inspect_err(|error| println!("{error:#}")) else { return false };
    head_of_faults();
    let promoted = shown(attack::failover(&program), true);
    shown(attack::managed(&program), true) && promoted
}

/// A pooler in transaction mode between the program and its database; how it is run is said where it is not simply `pgbouncer`.
pub fn pooler(command: &str) -> bool {
    let Ok(program) = built().inspect_err(|error| println!("{error:#}")) else { return false };
    head_of_faults();
    let command = if command.is_empty() { "pgbouncer" } else { command };
    match attack::pooled(&program, command) {
        Ok(all) => {
            // Each is told, whatever came of the one before.
            let kept: Vec<bool> =
                all.into_iter().enumerate().map(|(n, seen)| shown(Ok(seen), n > 0)).collect();
            kept.into_iter().all(|kept| kept)
        }
        Err(error) => {
            println!("{error:#}");
            false
        }
    }
}

/// An older program goes on while this one brings its tables up to date.
pub fn upgrade(older: &str) -> bool {
    let Ok(program) = built().inspect_err(|error| println!("{error:#}")) else { return false };
    head_of_faults();
    shown(attack::upgraded(Path::new(older), &program), false)
}

pub fn silence() -> bool {
    let recovery = attack::silent();
    println!(
        "first good page after {:.1} s, {} answers before it: {:?}; longest wait {:.1} s; bad of the next 20: {}",
        recovery.first_good.as_secs_f64(),
        recovery.until_then.len(),
        recovery.until_then,
        recovery.longest_wait.as_secs_f64(),
        recovery.bad_after
    );
    recovery.first_good <= RECOVERY && recovery.bad_after == 0
}

/// Whatever may come in as text, mangled for so many seconds a way in.
pub fn fuzz(seconds: u64) -> bool {
    let number = chrono::Utc::now().timestamp().unsigned_abs();
    println!("{:<14}{:>10}{:>14}  wrong (number {number})", "way in", "tried", "slowest ms");
    let mut kept = true;
    for (name, _) in attack::TARGETS {
        match attack::mangled(name, Duration::from_secs(seconds), number) {
            Ok(seen) => {
                println!(
                    "{name:<14}{:>10}{:>14}  {}",
                    seen.tried,
                    seen.slowest.as_millis(),
                    seen.wrong.len()
                );
                seen.wrong.iter().take(5).for_each(|(wrong, text)| println!("    {wrong}: {text:?}"));
                kept &= seen.wrong.is_empty();
            }
            Err(error) => {
                println!("{name}: {error:#}");
                kept = false;
            }
        }
    }
    kept
}
