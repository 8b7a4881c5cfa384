//! Attacks on the running application: hostile requests on every route, texts that ask for too much, a database that goes silent, programs that are killed. Long
//! forms run by the `proof` program, short ones by the tests.

mod crash;
mod faults;
mod fuzz;
mod hostile;
mod killed;
mod managed;
mod mangled;
mod pooled;
mod process;
mod proxy;
mod silent;
mod small_disk;
mod tls;
mod writers;

pub use crash::{Crashed, database_killed, program_killed};
pub use faults::{
    Seen, another_secret, backup_full, clock_jumps, disk_full, failover, log_full, managed, paused, pooled,
    rolling, upgraded,
};
pub use fuzz::{Fuzzed, ROUTES, fuzz};
pub use hostile::{Launch, Page, hostile, resident_mb, texts};
pub use killed::{Killed, Run, killed, launched};
pub use mangled::{Mangled, TARGETS, Target, mangled};
pub use process::{Process, Program};
pub use proxy::Proxy;
pub use silent::{Recovery, silent};
pub use small_disk::SmallDisk;
pub use tls::tls_before;
pub use writers::{Writers, Written};
