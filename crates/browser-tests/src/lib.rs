//! The running application for tests: a database, a server and a browser, each test its own.

pub mod attack;
mod browser;
mod database;
mod server;

pub use browser::{Browser, with_browser};
pub use database::TestDatabase;
pub use server::{Answer, TestServer};
