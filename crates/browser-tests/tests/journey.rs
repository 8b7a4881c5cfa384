//! What a coach does, in a real browser.

use anyhow::{Result, ensure};
use browser_tests::{TestDatabase, TestServer, with_browser};
use chrono::{Datelike, Days, NaiveDate, Utc};

const SESSION: &str = "Back squat 5x3 @ 80%\n\nFor time, cap 15\n21-15-9\nthrusters 40/30 kg\npull-ups";

/// The Monday of the demo's first week.
fn monday() -> NaiveDate {
    let today = Utc::now().date_naive();
    today - Days::new(u64::from(today.weekday().num_days_from_monday()))
}

#[test]
fn a_coach_pastes_a_session_sees_the_plan_follow_the_text_and_finds_it_again() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    // A day that the demo leaves empty.
    let day = Utc::now().date_naive() + Days::new(60);
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days?from={day}")).await?;
        browser.click(".daycard p a[href$='/read']").await?;
        browser.open(&format!("{address}/days/{day}/read")).await?;
        browser.type_over("#text", SESSION).await?;
        // The reading follows the typing.
        let reading = browser.wait_text("#reading", |text| text.contains("45 thruster")).await?;
        ensure!(reading.contains("5 × 3 back squat") && reading.contains("cap 15:00"), "{reading}");
        browser.click("button[type=submit]").await?;
        browser.wait_text(".notice", |text| text.contains("Saved")).await?;
        browser.click("button.is-lit").await?;
        let before_times = browser.text(".chart").await?;
        ensure!(browser.text(".lead").await?.contains("of 14 finish inside the window"));
        browser.open(&format!("{address}/days/{day}/loads")).await?;
        let before_loads = browser.text(".loadtable").await?;

        // A heavier bar and a higher percentage change finish times and loads.
        browser.open(&format!("{address}/days/{day}/read")).await?;
        browser.type_over("#text", &SESSION.replace("40/30", "60/42.5").replace("80%", "85%")).await?;
        browser.wait_text("#reading", |text| text.contains("60/42.5 kg")).await?;
        browser.click("button[type=submit]").await?;
        browser.wait_text(".notice", |text| text.contains("Saved")).await?;
        browser.click("button.is-lit").await?;
        ensure!(browser.text(".chart").await? != before_times, "finish times follow the load");
        browser.open(&format!("{address}/days/{day}/loads")).await?;
        ensure!(browser.text(".loadtable").await? != before_loads, "loads follow the percentage");

        // Still there after a reload.
        browser.open(&format!("{address}/days/{day}/read")).await?;
        browser.client.refresh().await?;
        ensure!(browser.value("#text").await?.contains("thrusters 60/42.5 kg"));
        Ok(())
    })
}

#[test]
fn a_suggestion_is_one_click_and_a_draft_survives_a_reload() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    let day = Utc::now().date_naive() + Days::new(61);
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/read")).await?;
        browser.saves_nothing_by_itself().await?;
        browser.type_over("#text", "5 rounds for time\n10 box jumpfrogs\n12 push-ups").await?;
        browser.wait_text(".problem", |text| text.contains("no movement I know")).await?;

        // Not saved, and the page is loaded anew: the words are still there.
        browser.client.refresh().await?;
        browser.wait_text("#draft", |text| text.contains("brought back")).await?;
        ensure!(browser.value("#text").await?.contains("box jumpfrogs"));

        browser.wait_text(".fixes", |text| !text.is_empty()).await?;
        browser.click(".fixes button").await?;
        browser.wait_text("#draft", |text| text.contains("Replaced")).await?;
        ensure!(!browser.value("#text").await?.contains("jumpfrogs"));
        browser.wait_text("#reading", |text| !text.contains("no movement I know")).await?;
        ensure!(browser.client.find_all(fantoccini::Locator::Css(".problem")).await?.is_empty());

        // What a suggestion has put in is part of the draft, at an address that can be loaded anew.
        browser.client.refresh().await?;
        browser.wait_text("#draft", |text| text.contains("brought back")).await?;
        ensure!(!browser.value("#text").await?.contains("jumpfrogs"));

        // Keys go along the rail.
        browser.click("button[type=submit]").await?;
        browser.wait_text(".notice", |text| text.contains("Saved")).await?;
        browser.click("h1").await?;
        browser.client.active_element().await?.send_keys("5").await?;
        browser.wait_text(".lead", |text| text.contains("finish inside the window")).await?;
        Ok(())
    })
}

#[test]
fn a_draft_never_takes_the_place_of_what_somebody_has_saved_since() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    let day = Utc::now().date_naive() + Days::new(62);
    let path = format!("/days/{day}/read");
    let save =
        |text: &str, revision: &str| server.post(&path, &[("text", text), ("revision", revision)]).status;
    ensure!(save("5 rounds for time\n10 burpees\n20 air squats\n30 sit-ups", "0") == 303);
    with_browser({
        let (address, path, colleague) = (address.clone(), path.clone(), TestServer::at(&address));
        move |browser| async move {
            browser.open(&format!("{address}{path}")).await?;
            browser.saves_nothing_by_itself().await?;
            browser.type_over("#text", "5 rounds for time\n12 burpees\n20 air squats\n30 sit-ups").await?;
            browser.wait_text("#reading", |text| text.contains("60 burpee")).await?;

            // A colleague saves meanwhile; coming back shows theirs and offers the draft.
            let theirs =
                [("text", "5 rounds for time\n10 burpees\n20 air squats\n35 sit-ups"), ("revision", "1")];
            ensure!(colleague.post(&path, &theirs).status == 303);
            browser.client.refresh().await?;
            browser.wait_text("[role=alert]", |text| text.contains("Somebody has saved this day")).await?;
            ensure!(browser.value("#text").await?.contains("35 sit-ups"), "theirs is shown");

            // The draft, once asked for, is set beside theirs when it is saved, and both are put together by a click.
            browser.click("[role=alert] button").await?;
            browser.wait_text("#draft", |text| text.contains("Your draft")).await?;
            ensure!(browser.value("#text").await?.contains("12 burpees"));
            browser.click("button[type=submit]").await?;
            browser.wait_text(".notice", |text| text.contains("Somebody else saved this day")).await?;
            browser.click("button[formaction$=put-together]").await?;
            let both = |text: &str| text.contains("60 burpee") && text.contains("175 sit-up");
            browser.wait_text("#reading", both).await?;
            browser.click("button[type=submit]").await?;
            browser.wait_text(".notice", |text| text.contains("Saved")).await?;
            let text = browser.value("#text").await?;
            ensure!(text.contains("12 burpees") && text.contains("35 sit-ups"), "{text}");
            Ok(())
        }
    })
}

#[test]
fn a_lift_entered_on_the_sheet_moves_the_loads_and_can_be_taken_back() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    let day = monday();
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/loads")).await?;
        let before = browser.text(".loadtable").await?;
        ensure!(before.contains("Rack 1") && before.contains("Set 5 · 5"), "{before}");

        let first = browser.text(".workset summary").await?;
        // Every weight says why, in place.
        browser.click(".workset summary").await?;
        browser.wait_text(".workset details[open] .steps", |why| why.contains("75 % of that is")).await?;

        // Far more than before, for five: a new max, which is asked about, and other loads at once.
        browser.click(".enter summary").await?;
        browser.type_over(".enter[open] input[name=weight]", "100").await?;
        browser.type_over(".enter[open] input[name=reps]", "5").await?;
        browser.click(".enter[open] button").await?;
        browser.wait_text(".notice", |text| text.contains("5 x 100 kg shows a 1RM of about 117 kg")).await?;
        ensure!(browser.text(".workset summary").await? == first, "nobody has been asked yet");
        browser.click(".notice button[value=yes]").await?;
        browser.wait_text(".notice", |text| text.contains("Loads follow the")).await?;
        browser.wait_text(".workset summary", |load| load != first).await?;

        browser.click(".notice form[action$=undo] button").await?;
        browser.wait_text(".loadtable", |text| text == before).await?;
        Ok(())
    })
}

#[test]
fn a_warm_up_keeps_what_the_coach_has_chosen() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    let (day, next) = (monday(), monday() + Days::new(1));
    with_browser(move |browser| async move {
        // The coach's own text stands; what it leaves open is added by one click.
        browser.open(&format!("{address}/days/{day}/warmup")).await?;
        let own = browser.text(".wu-block").await?;
        ensure!(own.contains("As written") && own.contains("Row"), "{own}");
        let offered = browser.text(".wu-offers li b").await?;
        browser.click(".wu-offers button.is-primary").await?;
        let filled = browser.wait_text(".wu-blocks", |text| text.contains(&offered)).await?;
        ensure!(filled.contains("As written") && filled.contains("Rehearse"), "{filled}");
        ensure!(browser.text(".cover").await?.contains("squat"));

        // On a day without a text of its own an item is swapped, and stays when all else is built anew.
        browser.open(&format!("{address}/days/{next}/warmup")).await?;
        let swappable = ".wu-item .wu-more summary";
        browser.click(swappable).await?;
        let wanted = browser.text(".wu-more[open] .swaps button").await?;
        browser.click(".wu-more[open] .swaps button").await?;
        let kept = browser.wait_text(".wu-item.locked:not([id=''])", |text| text.contains(&wanted)).await?;
        ensure!(kept.contains("Kept"), "{kept}");

        // More minutes build it anew around what is kept.
        browser.type_over("#minutes", "14").await?;
        browser.click(".headline form button").await?;
        browser.wait_text("h1", |text| text.contains("14:") || text.contains("13:")).await?;
        let rebuilt = browser.text(".wu-blocks").await?;
        ensure!(rebuilt.contains(&wanted), "{rebuilt}");
        Ok(())
    })
}

#[test]
fn a_coach_overrules_a_version_by_one_click_and_sees_one_persons_targets() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    let day = monday();
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/versions")).await?;
        let headline = browser.text(".lead").await?;
        ensure!(headline.starts_with("As written"), "{headline}");
        ensure!(browser.text(".vtable").await?.contains("At home"));

        // One click for the version of a newcomer.
        let first = ".who-table tbody tr:first-child";
        let before = browser.text(first).await?;
        browser.click(&format!("{first} .pickone[value=FirstLight]")).await?;
        let after = browser.wait_text(first, |text| text.contains("your choice, kept")).await?;
        ensure!(after.contains("First light") && after != before, "{after}");

        // Still there after a reload, and let go by one more click.
        browser.client.refresh().await?;
        browser.wait_text(first, |text| text.contains("your choice, kept")).await?;
        browser.click(&format!("{first} .kept button")).await?;
        browser.wait_text(first, |text| text == before).await?;

        // A line of a version is written anew in its place: touch it, type, Enter. Everybody who does it follows.
        browser.open(&format!("{address}/days/{day}/versions")).await?;
        let lighter = ".vtable tbody tr:nth-child(3) td:nth-child(2)";
        ensure!(browser.text(lighter).await?.contains("thruster"));
        let expected = ".vtable .vsum:last-child td:nth-child(2)";
        let as_it_was = browser.text(expected).await?;
        browser.click(&format!("{lighter} summary")).await?;
        browser.type_over(&format!("{lighter} input[name=to]"), "thruster, 20/15 kg\u{e007}").await?;
        browser.wait_text(".byhand", |text| text.contains("Lighter: thruster, 20/15 kg in place of")).await?;
        ensure!(browser.text(lighter).await?.contains("thruster, 20/15 kg"));
        ensure!(browser.text(expected).await? != as_it_was, "the finish follows the load");
        // One person's row, and what is no line of a piece is refused by name.
        browser.click(&format!("{first} .hand.own summary")).await?;
        let own = format!("{first} .hand.own form:nth-of-type(4) input[name=to]");
        browser.type_over(&own, "ring row\u{e007}").await?;
        browser.wait_text(".byhand", |text| text.contains("ring row in place of")).await?;
        browser.click(".byhand li:last-child button").await?;
        browser.wait_text(".byhand", |text| !text.contains("ring row")).await?;
        browser.click(".byhand li:last-child button").await?;
        browser.wait_text(expected, |text| text == as_it_was).await?;
        if browser.text(first).await?.contains("your choice, kept") {
            browser.click(&format!("{first} .kept button")).await?;
        }

        // The name leads to the targets.
        browser.click(&format!("{first} th a")).await?;
        let one = browser.wait_text("#one", |text| text.contains("Where to be")).await?;
        ensure!(one.contains("How to go") && one.contains("When behind") && one.contains("kept:"), "{one}");
        // Each rail says where to be when; everybody is done long before the cap, so that no last call is on it.
        let rails = browser.text(".rails").await?;
        ensure!(
            rails.contains("round 1, ") && rails.contains("round 2, ") && !rails.contains("last call"),
            "{rails}"
        );
        Ok(())
    })
}
