//! The running application for tests: a database, a server and a browser, each test its own.

pub mod attack;
mod browser;
pub mod cluster;
pub mod cost;
mod database;
pub mod load;
pub mod pages;
pub mod running;
mod server;

/// One call about a gym's rows, in a transaction of its own that is kept when it went well.
#[macro_export]
macro_rules! in_gym {
    ($store:expr, $gym:expr, $call:path $(, $argument:expr)* $(,)?) => {{
        let mut rows = $store.change($gym).await.expect("the database answers");
        let done = $call(&mut rows $(, $argument)*).await;
        if done.is_ok() {
            rows.keep().await.expect("it is kept");
        }
        done
    }};
}

pub use browser::{Browser, soon, with_browser};
pub use database::TestDatabase;
pub use server::{Answer, DEMO_KEY, Road, TestServer};
