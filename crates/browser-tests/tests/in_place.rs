//! Decisions change the page around them: focus, scroll and what is open stay, one status says what was done, and the way back is beside it.

use anyhow::{Result, ensure};
use browser_tests::{Browser, TestDatabase, TestServer, with_browser};
use chrono::{Datelike, Days, NaiveDate, Utc};
use serde_json::Value;

fn monday() -> NaiveDate {
    let today = Utc::now().date_naive();
    today - Days::new(u64::from(today.weekday().num_days_from_monday()))
}

/// What a script on the page says.
async fn says(browser: &Browser, script: &str) -> Result<Value> {
    Ok(browser.client.execute(&format!("return {script}"), Vec::new()).await?)
}

/// Marks the page, so that another one is noticed.
async fn mark(browser: &Browser) -> Result<()> {
    says(browser, "window.marked = true").await.map(|_| ())
}

async fn is_same_page(browser: &Browser) -> Result<bool> {
    Ok(says(browser, "window.marked === true").await? == Value::Bool(true))
}

#[test]
fn a_decision_leaves_focus_scroll_and_what_is_open_and_says_what_was_done() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    let day = monday();
    with_browser(move |browser| async move {
        let page = format!("{address}/days/{day}/versions");
        browser.open(&page).await?;
        mark(&browser).await?;
        let row = |n: u32| format!(".who-table tbody tr:nth-child({n})");
        browser.click(&format!("{} .hand.own summary", row(2))).await?;
        let name = browser.text(&format!("{} th a", row(6))).await?;
        // By keyboard: a button far down the page, and Enter.
        let focus = format!(
            "(() => {{ const b = document.querySelector('{} .pickone[value=FirstLight]'); b.scrollIntoView({{block: 'center'}}); b.focus(); }})()",
            row(6)
        );
        says(&browser, &focus).await?;
        let scroll = says(&browser, "Math.round(scrollY)").await?;
        ensure!(scroll.as_i64() > Some(200), "the row is far down: {scroll}");
        browser.client.active_element().await?.send_keys("\u{e007}").await?;

        let said = browser.wait_text("#done", |text| text.contains("Undo")).await?;
        ensure!(said.contains(&name) && said.contains("First light"), "{said}");
        ensure!(is_same_page(&browser).await?, "the page was loaded anew");
        ensure!(browser.client.current_url().await?.as_str() == page, "its address stays");
        let focused = says(&browser, "document.activeElement.getAttribute('aria-label')").await?;
        ensure!(focused.as_str() == Some(&format!("{name}: First light")), "{focused}");
        ensure!(says(&browser, "Math.round(scrollY)").await? == scroll, "the page has jumped");
        let open = format!("document.querySelector('{} .hand.own').open", row(2));
        ensure!(says(&browser, &open).await? == Value::Bool(true), "what was open has closed");
        ensure!(browser.text(&row(6)).await?.contains("your choice, kept"));

        // The way back is beside it, and so is the way forth.
        browser.click("#done button").await?;
        let said = browser.wait_text("#done", |text| text.contains("Taken back")).await?;
        ensure!(
            said.contains(&name) && !browser.text(&row(6)).await?.contains("your choice, kept"),
            "{said}"
        );
        browser.click("#done button").await?;
        browser.wait_text("#done", |text| text.contains("Undo")).await?;
        ensure!(browser.text(&row(6)).await?.contains("your choice, kept"));
        ensure!(is_same_page(&browser).await?);

        // Two quick decisions about different people both stand, and both are seen.
        let quick = format!(
            "['{}', '{}'].forEach((row) => document.querySelector(row + ' .pickone[value=FirstLight]').click())",
            row(3),
            row(4)
        );
        says(&browser, &quick).await?;
        for n in [3, 4] {
            browser.wait_text(&row(n), |text| text.contains("your choice, kept")).await?;
        }
        Ok(())
    })
}

#[test]
fn what_cannot_be_is_said_in_place_and_what_was_typed_stays() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    let day = monday();
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/versions")).await?;
        mark(&browser).await?;
        browser.type_over("input[name=low]", "soon\u{e007}").await?;
        let said = browser.wait_text("#done", |text| !text.is_empty()).await?;
        ensure!(said.contains("soon") && said.contains("8:00"), "{said}");
        ensure!(browser.value("input[name=low]").await? == "soon" && is_same_page(&browser).await?);

        // A block's length; a good one after a bad one takes the words away.
        browser.open(&format!("{address}/days/{day}/hour")).await?;
        mark(&browser).await?;
        let length = "tr[id^=block-] input[name=value]";
        browser.type_over(length, "never\u{e007}").await?;
        browser.wait_text("#done", |text| text.contains("never") && text.contains("minutes")).await?;
        browser.type_over(length, "7\u{e007}").await?;
        let said = browser.wait_text("#done", |text| text.contains("Undo")).await?;
        ensure!(!said.contains("never") && browser.text("tr[id^=block-]").await?.contains("7:00"), "{said}");
        ensure!(is_same_page(&browser).await?);
        Ok(())
    })
}

#[test]
fn of_what_is_taken_out_the_way_back_has_the_focus() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    let day = monday() + Days::new(1);
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/warmup")).await?;
        mark(&browser).await?;
        let item = browser.text(".wu-item:has(.wu-more) b").await?;
        browser.click(".wu-item .wu-more summary").await?;
        browser.click(".wu-more[open] button[value=refuse]").await?;
        browser.wait_text("#done", |text| text.contains("Undo")).await?;
        ensure!(browser.text(".wu-item:has(.wu-more) b").await? != item);
        ensure!(
            says(&browser, "document.activeElement.closest('#done') !== null").await? == Value::Bool(true)
        );
        browser.client.active_element().await?.send_keys("\u{e007}").await?;
        browser.wait_text(".wu-item:has(.wu-more) b", |text| text == item).await?;
        ensure!(is_same_page(&browser).await?);
        Ok(())
    })
}

#[test]
fn a_place_on_the_floor_is_moved_in_place() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    let day = monday();
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}T18:00/hour")).await?;
        mark(&browser).await?;
        says(&browser, "document.querySelector('[data-place]').focus()").await?;
        let name = says(&browser, "document.activeElement.dataset.place").await?;
        browser.client.active_element().await?.send_keys("\u{e014}\u{e014}\u{e007}").await?;
        let said = browser.wait_text("#done", |text| text.contains("Undo")).await?;
        ensure!(name.as_str().is_some_and(|name| said.contains(name)), "{said} of {name}");
        ensure!(is_same_page(&browser).await?);
        ensure!(
            says(&browser, "document.activeElement.dataset.place").await? == name,
            "the place keeps the focus"
        );
        Ok(())
    })
}

#[test]
fn a_decision_that_nobody_answers_says_so_and_changes_nothing() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    let day = monday();
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/versions")).await?;
        mark(&browser).await?;
        let row = ".who-table tbody tr:nth-child(2)";
        let before = browser.text(row).await?;
        drop(server);
        browser.click(&format!("{row} .pickone[value=FirstLight]")).await?;
        let said = browser.wait_text("#done", |text| !text.is_empty()).await?;
        ensure!(said.contains("did not answer") && browser.text(row).await? == before, "{said}");
        ensure!(is_same_page(&browser).await?);
        Ok(())
    })
}

#[test]
fn a_decision_after_an_expired_login_is_kept_until_signed_in_again() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    let day = monday();
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/versions")).await?;
        browser.client.delete_all_cookies().await?;
        browser.click(".who-table tbody tr:nth-child(2) .pickone[value=FirstLight]").await?;
        let asked = browser.wait_text("main", |text| text.contains("Passphrase")).await?;
        ensure!(asked.contains("Sign in"), "{asked}");
        let typed = browser.value("input[name=typed]").await?;
        ensure!(typed.contains("FirstLight"), "{typed}");
        Ok(())
    })
}

#[test]
fn without_scripts_a_decision_is_said_and_taken_back_as_well() {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let day = monday();
    let page = format!("/days/{day}/warmup");
    let answer = server.post(&page, &[("action", "minutes"), ("value", "11")]);
    let to = answer.location.expect("it leads back");
    assert!(to.starts_with(&format!("{page}?did=")), "{to}");
    let shown = server.get(to.split('#').next().unwrap()).body;
    assert!(shown.contains("11 minutes of warm-up.") && shown.contains(">Undo</button>"), "{shown}");
    assert!(!server.get(&page).body.contains("minutes of warm-up."), "it is said once, to whom it is told");
    let id = to.split("did=").nth(1).unwrap().split('#').next().unwrap().to_owned();
    let back = [("id", id.as_str()), ("action", "undo"), ("step", "warmup")];
    let to = server.post(&format!("/days/{day}/history"), &back).location.unwrap();
    assert!(server.get(&to).body.contains("Taken back: 11 minutes of warm-up."), "{to}");

    // Nothing of another day's, nothing of nobody's, nothing that is none.
    for nothing in ["0", "999999999", "x", "1,1,x"] {
        let shown = server.get(&format!("{page}?did={nothing}"));
        assert!(shown.status == 200 && shown.body.contains(r#"<div id="done" role="status"></div>"#));
    }
    let other = server.get(&format!("/days/{}/warmup?did={id}", day + Days::new(1))).body;
    assert!(!other.contains("minutes of warm-up."));
    let wrong = server.post(&format!("/days/{day}/history"), &[("id", "1,2,999999999"), ("action", "undo")]);
    assert_eq!(wrong.status, 404, "all of them or none");
}
