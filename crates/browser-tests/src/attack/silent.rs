//! A database whose connections go silent while new ones work: how long until pages come again.

use std::time::{Duration, Instant};

use super::Proxy;
use crate::{TestDatabase, TestServer};

/// What a silence cost.
#[derive(Clone, Debug)]
pub struct Recovery {
    /// From the silence to the first good page.
    pub first_good: Duration,
    /// Answers until then, by status.
    pub until_then: Vec<u16>,
    /// Pages of the twenty after the first good one that were not good.
    pub bad_after: usize,
    /// The longest that anybody waited for an answer.
    pub longest_wait: Duration,
}

/// Lets all connections of a warm application go silent, and asks until a page comes; gives up after a minute.
pub fn silent() -> Recovery {
    let database = TestDatabase::demo();
    let proxy = Proxy::before(&database.url);
    let server = TestServer::start_as_shipped(None, &proxy.url);
    // Every connection of the pool has been used.
    std::thread::scope(|scope| {
        for _ in 0..16 {
            scope.spawn(|| (0..4).for_each(|_| drop(server.try_get("/days"))));
        }
    });
    proxy.go_silent();
    let begin = Instant::now();
    let (mut until_then, mut longest_wait) = (Vec::new(), Duration::ZERO);
    loop {
        let asked = Instant::now();
        let status = server.try_get("/days").unwrap_or(0);
        longest_wait = longest_wait.max(asked.elapsed());
        if status == 200 || begin.elapsed() > Duration::from_secs(60) {
            break;
        }
        until_then.push(status);
    }
    let first_good = begin.elapsed();
    let bad_after = (0..20).filter(|_| server.try_get("/days").unwrap_or(0) != 200).count();
    Recovery { first_good, until_then, bad_after, longest_wait }
}
