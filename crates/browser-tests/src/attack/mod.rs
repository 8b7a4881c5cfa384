//! Attacks on the running application: hostile requests on every route, texts that ask for too much, a database that goes silent, programs that are killed. Long
//! forms run by the `proof` program, short ones by the tests.

mod crash;
mod fuzz;
mod hostile;
mod killed;
mod proxy;
mod silent;
mod tls;

pub use crash::{Crashed, database_killed, program_killed};
pub use fuzz::{Fuzzed, ROUTES, fuzz};
pub use hostile::{Launch, Page, hostile, resident_mb, texts};
pub use killed::{Killed, Run, killed, launched};
pub use proxy::Proxy;
pub use silent::{Recovery, silent};
pub use tls::tls_before;
