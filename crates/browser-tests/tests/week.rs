//! A pasted week: each day is put on its own date, and nothing that stands somewhere is lost.

use anyhow::{Result, ensure};
use browser_tests::{TestDatabase, TestServer, with_browser};
use chrono::{Datelike, Days, NaiveDate, Utc};

const WEEK: &str = "Base block, week 2\n\nMONDAY\nBack squat 5x5 @ 75%\n\nTUESDAY - engine\n12 min AMRAP\n9 burpees\n9 box jumps\n\nTHURSDAY\n4 rounds for time\n12 wall balls\n200 m run\n";

/// A Wednesday, some weeks ahead.
fn wednesday(weeks: u64) -> NaiveDate {
    let today = Utc::now().date_naive();
    let monday = today - Days::new(u64::from(today.weekday().num_days_from_monday()));
    monday + Days::new(7 * weeks + 2)
}

#[test]
fn a_pasted_week_is_put_on_its_days() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, day) = (server.address.clone(), wednesday(12));
    let (monday, thursday) = (day - Days::new(2), day + Days::new(1));
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/read")).await?;
        browser.type_over("#text", WEEK).await?;
        let offered = browser.wait_text(".days", |text| text.contains("holds 3 days")).await?;
        ensure!(offered.contains("TUESDAY - engine") && offered.contains("lines 1-5"), "{offered}");
        ensure!(browser.value("#on0").await? == monday.to_string(), "Monday is that of the week");
        ensure!(browser.value("#on2").await? == thursday.to_string());
        // Beside the text stands the first day only.
        let read = browser.text("#reading").await?;
        ensure!(read.contains("25 back squat") && !read.contains("box jump"), "{read}");
        ensure!(browser.text(".row[data-line='11']").await?.contains("a day of its own"));
        browser.click("button[formaction='spread']").await?;
        let week = browser.wait_text("main", |text| text.contains("Week of")).await?;
        ensure!(
            week.contains("back squat") && week.contains("box jump") && week.contains("wall ball"),
            "{week}"
        );
        browser.open(&format!("{address}/days/{monday}/read")).await?;
        let text = browser.value("#text").await?;
        ensure!(text.starts_with("Base block, week 2") && text.ends_with("@ 75%"), "{text}");
        Ok(())
    })
}

#[test]
fn what_stands_on_a_day_is_only_replaced_when_asked_for_and_bad_dates_come_back() {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let day = wednesday(13);
    let (monday, tuesday, thursday) = (day - Days::new(2), day - Days::new(1), day + Days::new(1));
    let path = format!("/days/{day}/spread");
    let dates = [monday.to_string(), tuesday.to_string(), thursday.to_string()];
    let form = |replace: bool, first: &str| {
        let mut fields = vec![("text", WEEK), ("revision", "0"), ("on1", &dates[1]), ("on2", &dates[2])]
            .into_iter()
            .map(|(name, value)| (name.to_owned(), value.to_owned()))
            .collect::<Vec<_>>();
        fields.push(("on0".to_owned(), first.to_owned()));
        if replace {
            fields.push(("replace".to_owned(), "1".to_owned()));
        }
        fields
    };
    let post = |fields: Vec<(String, String)>| {
        let fields: Vec<(&str, &str)> =
            fields.iter().map(|(name, value)| (name.as_str(), value.as_str())).collect();
        server.post(&path, &fields)
    };
    server.post(&format!("/days/{tuesday}/read"), &[("text", "Row 5 km"), ("revision", "0")]);
    let refused = post(form(false, &dates[0]));
    assert_eq!(refused.status, 409);
    assert!(refused.body.contains("holds a session already") && refused.body.contains("12 min AMRAP"));
    assert!(!server.get(&format!("/days/{monday}/read")).body.contains("Base block"), "nothing was saved");
    for (first, words) in
        [("", "has no date"), ("tomorrow", "has no date"), (&*dates[1], "two days of the text")]
    {
        let refused = post(form(true, first));
        assert_eq!(refused.status, 422, "{first}");
        assert!(
            refused.body.contains(words) && refused.body.contains(&dates[2]),
            "{first}: what was typed stays"
        );
    }
    let saved = post(form(true, &dates[0]));
    assert_eq!(saved.status, 303);
    assert!(server.get(&format!("/days/{tuesday}/read")).body.contains("TUESDAY - engine"));
    assert!(server.get(&format!("/days/{thursday}/read")).body.contains("12 wall balls"));
    // A text of one day is put nowhere.
    let one = server.post(&path, &[("text", "Row 5 km"), ("revision", "0")]);
    assert_eq!(one.status, 422);
}

/// Where an answer leads to, followed there.
fn led(server: &TestServer, answer: &browser_tests::Answer) -> String {
    assert_eq!(answer.status, 303, "{}", answer.body);
    server.get(answer.location.as_deref().expect("a place")).body
}

/// The text that a day's page holds.
fn text_of(server: &TestServer, day: NaiveDate) -> String {
    let text = server.get(&format!("/days/{day}/session.txt"));
    if text.status == 200 { text.body } else { String::new() }
}

#[test]
fn a_day_is_copied_moved_repeated_and_deleted_and_each_is_taken_back() {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let day = wednesday(14);
    let (other, week_after) = (day + Days::new(1), day + Days::new(7));
    let text = "For time\n50 burpees\n400 m run";
    server.post(&format!("/days/{day}/read"), &[("text", text), ("revision", "0")]);
    let carry = |how: &str, to: &str, replace: &str| {
        server.post(&format!("/days/{day}/carry"), &[("how", how), ("to", to), ("replace", replace)])
    };
    let back = |page: &str| {
        let carried = page.split("name=\"carried\" value=\"").nth(1).expect("a way back");
        let carried = carried.split('"').next().unwrap_or_default();
        server.post("/days/carried", &[("carried", carried)])
    };
    let holds = |day: NaiveDate| text_of(&server, day).contains("50 burpee");

    let copied = led(&server, &carry("copy", &other.to_string(), ""));
    assert!(copied.contains("stands on") && holds(day) && holds(other));
    led(&server, &back(&copied));
    assert!(holds(day) && !holds(other));

    let repeated = led(&server, &carry("next-week", "", ""));
    assert!(holds(week_after));
    led(&server, &back(&repeated));

    let moved = led(&server, &carry("move", &other.to_string(), ""));
    assert!(!holds(day) && holds(other), "{}", text_of(&server, day));
    led(&server, &back(&moved));
    assert!(holds(day) && !holds(other));

    let deleted = led(&server, &carry("delete", "", ""));
    assert!(!holds(day) && deleted.contains("was taken off"));
    // Whoever writes something there meanwhile loses nothing by it.
    let revision =
        database.names(&format!("select revision::text as name from sessions where day = '{day}'"));
    server.post(&format!("/days/{day}/read"), &[("text", "AMRAP 5\n5 pull-ups"), ("revision", &revision[0])]);
    let refused = back(&deleted);
    assert_eq!(refused.status, 409);
    assert!(refused.body.contains("changed since"), "{}", refused.body);
    assert!(text_of(&server, day).contains("pull-up"));
}

#[test]
fn what_cannot_be_carried_comes_back_with_what_was_typed() {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let day = wednesday(15);
    let other = day + Days::new(1);
    for (day, text) in [(day, "For time\n50 burpees"), (other, "AMRAP 5\n5 pull-ups")] {
        server.post(&format!("/days/{day}/read"), &[("text", text), ("revision", "0")]);
    }
    let carry = |to: &str, replace: &str| {
        let form = [("how", "copy"), ("to", to), ("replace", replace)];
        server.post(&format!("/days/{day}/carry"), &form)
    };
    for (to, status, words) in [
        ("soon", 422, "`soon` is no date"),
        ("", 422, "Say to which date"),
        (&*day.to_string(), 422, "the day itself"),
        (&*other.to_string(), 409, "holds a text already"),
    ] {
        let refused = carry(to, "");
        assert_eq!(refused.status, status, "{to}");
        assert!(refused.body.contains(words), "{to}");
        assert!(refused.body.contains(&format!("name=\"to\" value=\"{to}\"")), "{to} is lost");
    }
    assert!(text_of(&server, other).contains("pull-up"));
    led(&server, &carry(&other.to_string(), "yes"));
    assert!(text_of(&server, other).contains("50 burpee"));
}

#[test]
fn every_text_of_a_day_is_told_and_comes_back() {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let day = wednesday(16);
    for (seen, text) in [("0", "For time\n50 burpees"), ("1", "For time\n60 burpees\n400 m run")] {
        let saved = server.post(&format!("/days/{day}/read"), &[("text", text), ("revision", seen)]);
        assert_eq!(saved.status, 303);
    }
    let history = server.get(&format!("/days/{day}/history")).body;
    assert!(history.contains("by Iris") && history.contains("stands now"), "{history}");
    assert!(history.contains("- 50 burpees") && history.contains("+ 60 burpees"), "{history}");
    led(&server, &server.post(&format!("/days/{day}/texts"), &[("revision", "1")]));
    assert!(text_of(&server, day).contains("50 burpee"));
    assert_eq!(server.post(&format!("/days/{day}/texts"), &[("revision", "77")]).status, 404);
    // Nobody of another gym, and no member, brings anything back.
    let asked = server.seen_by("alba").post(&format!("/days/{day}/texts"), &[("revision", "1")]);
    assert_eq!(asked.status, 403);
}

#[test]
fn a_month_shows_what_each_day_asks_for() {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let day = wednesday(17);
    server.post(
        &format!("/days/{day}/read"),
        &[("text", "Back squat 5x5 @ 75%\n\nFor time\n50 burpees"), ("revision", "0")],
    );
    let month = server.get(&format!("/month?of={day}")).body;
    assert!(month.contains("back squat 5x5 @ 75%") && month.contains("For time: burpee"), "{month}");
    assert!(server.get("/month?of=nothing").status == 404 || server.get("/month?of=nothing").status == 400);
    let again = format!("/days?from={day}");
    assert!(server.get(&again).body.contains("For time<"), "a card says what the piece is");
}
