//! The addresses of the demo's pages, for tests that look at every one.

use chrono::{Datelike as _, Days, NaiveDate, Utc};

use crate::TestServer;

/// The Monday of this week, on which the demo's week begins.
pub fn monday() -> NaiveDate {
    let today = Utc::now().date_naive();
    today - Days::new(u64::from(today.weekday().num_days_from_monday()))
}

/// Every page that a coach who owns the gym reaches: of a class, of a member, of the gym, and one that is not there.
pub fn of_the_owner(server: &TestServer) -> Vec<String> {
    let list = server.get("/members").body;
    let one = list.split("/members/").find_map(|rest| rest.split('"').next()?.parse::<i64>().ok());
    let of_day = [
        "read", "warmup", "loads", "versions", "pace", "hour", "history", "book", "class", "board", "cards",
        "sheet", "print", "floor",
    ];
    let of_day = of_day.map(|step| format!("/days/{}T18:00/{step}", monday()));
    let others = [
        "/days",
        "/month",
        "/members",
        "/members/import",
        "/movements",
        "/gym",
        "/gym/inventory",
        "/gym/results",
        "/gym/history",
        "/gym/health",
        "/search?q=thrusters",
        "/people",
        "/account",
        "/privacy",
        "/help",
        "/nowhere",
    ];
    let member = format!("/members/{}", one.expect("the demo has members"));
    of_day.into_iter().chain(others.map(str::to_owned)).chain([member]).collect()
}
