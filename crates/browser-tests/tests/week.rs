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
