//! Classes, the hour, the floor and hand-outs over HTTP, each test with its own database and server.

use std::sync::atomic::{AtomicU32, Ordering};

use anyhow::{Result, ensure};
use browser_tests::{TestDatabase, TestServer, with_browser};
use chrono::{Datelike, Days, Utc};
use fantoccini::Locator;
use fantoccini::actions::{InputSource, MOUSE_BUTTON_LEFT, MouseActions, PointerAction};
use fantoccini::key::Key;

const SESSION: &str =
    "Back squat 5x3 @ 80%\nrest 2:00\n\nFor time, cap 15\n21-15-9\nthrusters 40/30 kg\npull-ups";

fn demo() -> (TestDatabase, TestServer) {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    (database, server)
}

/// The evening class of the Monday of the demo's first week.
fn evening() -> String {
    let today = Utc::now().date_naive();
    format!("{}T18:00", today - Days::new(u64::from(today.weekday().num_days_from_monday())))
}

/// The text of the first element whose opening tag holds `mark`.
fn block<'a>(body: &'a str, mark: &str) -> &'a str {
    let from = body.find(mark).unwrap_or_else(|| panic!("{mark} is not on the page: {body}"));
    let rest = &body[from..];
    &rest[..rest.find("</section>").unwrap_or(rest.len())]
}

#[test]
fn every_page_of_a_class_opens_and_plans_for_those_who_are_booked() {
    let (_database, server) = demo();
    let class = evening();
    for step in ["read", "warmup", "loads", "versions", "pace", "hour", "class", "board", "cards", "sheet"] {
        assert_eq!(server.get(&format!("/days/{class}/{step}")).status, 200, "{step}");
    }
    let morning = class.replace("18:00", "07:00");
    let booked = |body: &str| body.matches(r#"name="booked""#).count() - body.matches("checked").count();
    assert!(booked(&server.get(&format!("/days/{morning}/class")).body) > 0, "the morning is not full");
    let cards = |class: &str| server.get(&format!("/days/{class}/cards")).body.matches("<article").count();
    assert!(cards(&morning) < cards(&class));
    // No class starts then.
    assert_eq!(server.get(&format!("/days/{}/hour", class.replace("18:00", "03:00"))).status, 404);
    assert_eq!(server.get("/days/2026-11-23T25:00/hour").status, 404);
}

#[test]
fn a_class_is_made_filled_from_a_feed_and_taken_off_again() {
    let (_database, server) = demo();
    let day = evening().replace("T18:00", "");
    let add = |starts: &str, minutes: &str| {
        server.post(
            &format!("/days/{day}/classes"),
            &[("starts", starts), ("minutes", minutes), ("coach", "Ola")],
        )
    };
    assert_eq!(add("noonish", "60").status, 422);
    let wrong = add("12:15", "15");
    assert!(wrong.status == 422 && wrong.body.contains("from 30 to 90"), "{}", wrong.body);
    assert_eq!(add("12:15", "45").location.as_deref(), Some(&*format!("/days/{day}T12:15/class")));
    let class = format!("/days/{day}T12:15");
    // Nobody is booked yet: everything is still there to look at.
    let empty = server.get(&format!("{class}/hour"));
    assert!(empty.status == 200 && empty.body.contains("Nobody is booked"), "{}", empty.body);
    for page in ["board", "cards", "sheet", "versions", "pace", "loads"] {
        assert_eq!(server.get(&format!("{class}/{page}")).status, 200, "{page}");
    }
    let feed =
        "starts,name,state\n12:15,Dexter Ombaye,booked\n12:15,Nobody Here,booked\n18:00,Alba Quenby,booked\n";
    let taken = server.post(&format!("{class}/bookings"), &[("feed", feed)]);
    assert!(
        taken.body.contains("1 booked from the feed") && taken.body.contains("line 3: nobody here is called")
    );
    assert!(taken.body.contains("Nobody Here,booked"), "what was pasted is still there");
    let hour = server.get(&format!("{class}/hour")).body;
    assert!(
        hour.contains("1 booked, with Ola") && hour.contains("of 45:00") || hour.contains("past the 45:00"),
        "{hour}"
    );
    let stand_in = server.post(&format!("{class}/bookings"), &[("stand_in", "1")]);
    assert!(stand_in.body.contains("14 booked from the feed"), "{}", stand_in.body);
    let feed = server.get("/classes.ics");
    assert!(
        feed.body.starts_with("BEGIN:VCALENDAR") && feed.body.contains("Class with Ola"),
        "{}",
        feed.body
    );
    assert!(!feed.body.contains("Dexter"), "a calendar names no member");
    assert_eq!(server.post(&format!("{class}/class/remove"), &[]).status, 303);
    assert_eq!(server.get(&format!("{class}/hour")).status, 404);
}

#[test]
fn a_change_to_the_hour_is_one_click_and_comes_back_with_another() {
    let (_database, server) = demo();
    let class = format!("/days/{}", evening());
    let sentence = || {
        let body = server.get(&format!("{class}/hour")).body;
        block(&body, r#"id="hour""#).to_owned()
    };
    let ends = |text: &str| text.split("Ends at ").nth(1).unwrap()[..5].to_owned();
    let before = sentence();
    let change = r#"{"change":"one_set_less","part":1}"#;
    let made = server.post(&format!("{class}/hour"), &[("action", "change"), ("value", change)]);
    assert_eq!(made.status, 303);
    let page = server.get(&format!("{class}/hour")).body;
    assert!(page.contains("One work set less") && page.contains("Undo"));
    assert!(ends(&sentence()) < ends(&before), "{} {before}", sentence());
    assert!(server.get(&format!("{class}/sheet")).body.contains("Changed from the text: One work set less"));
    // What was changed is what is handed out and aimed at.
    let cap = r#"{"change":"lower_cap","part":2}"#;
    server.post(&format!("{class}/hour"), &[("action", "change"), ("value", cap)]);
    for page in ["board", "sheet", "versions"] {
        let body = server.get(&format!("{class}/{page}")).body;
        assert!(body.contains("cap 10:00") && !body.contains("cap 12:00"), "{page}");
    }
    server.post(&format!("{class}/hour"), &[("action", "undo"), ("value", cap)]);
    assert!(server.get(&format!("{class}/board")).body.contains("cap 12:00"));
    // Only this class is changed.
    let morning = class.replace("18:00", "07:00");
    assert!(!server.get(&format!("{morning}/sheet")).body.contains("Changed from the text"));
    server.post(&format!("{class}/hour"), &[("action", "undo"), ("value", change)]);
    assert_eq!(sentence(), before);
    // A pin sets a block's length, and a wrong one is named.
    server.post(&format!("{class}/hour"), &[("action", "pin"), ("key", "brief"), ("value", "1:00")]);
    assert!(server.get(&format!("{class}/hour")).body.contains("set by the coach"));
    let wrong =
        server.post(&format!("{class}/hour"), &[("action", "pin"), ("key", "brief"), ("value", "long")]);
    assert!(wrong.status == 422 && wrong.body.contains("`long`"));
    server.post(&format!("{class}/hour"), &[("action", "unpin"), ("key", "brief")]);
    assert_eq!(sentence(), before);
}

#[test]
fn the_floor_is_arranged_moved_and_put_into_teams() {
    let (_database, server) = demo();
    let class = format!("/days/{}", evening());
    let floor = || {
        let body = server.get(&format!("{class}/hour")).body;
        block(&body, r#"id="floor-0""#).to_owned()
    };
    let post = |fields: &[(&str, &str)]| server.post(&format!("{class}/hour"), fields).status;
    assert_eq!(post(&[("action", "arrange"), ("piece", "0"), ("value", "Heats")]), 303);
    assert!(floor().contains("Heat 1 at 0:00") || floor().contains("One heat"), "{}", floor());
    assert!(floor().contains("Let it choose"));
    assert_eq!(post(&[("action", "arrange"), ("piece", "0"), ("value", "Anyhow")]), 422);
    post(&[("action", "arrange"), ("piece", "0"), ("value", "")]);
    assert!(!floor().contains("Let it choose"));
    // Somebody is moved by hand, and everybody goes back.
    post(&[("action", "place"), ("piece", "0"), ("key", "Dexter Ombaye"), ("x", "5"), ("y", "3.5")]);
    assert!(floor().contains("Everybody back"));
    post(&[("action", "places-back"), ("piece", "0")]);
    assert!(!floor().contains("Everybody back"));
    // Pairs, with two people who want to be together.
    post(&[("action", "teams"), ("piece", "0"), ("value", "2")]);
    post(&[("action", "with"), ("piece", "0"), ("key", "Dexter Ombaye"), ("other", "Alba Quenby")]);
    let made = floor();
    assert!(made.contains("Alba Quenby, Dexter Ombaye") && made.contains("Team 7"), "{made}");
    assert!(server.get(&format!("{class}/cards")).body.contains("with Alba Quenby"));
    assert_eq!(
        post(&[("action", "with"), ("piece", "0"), ("key", "Dexter Ombaye"), ("other", "Dexter Ombaye")]),
        422
    );
    post(&[("action", "drop-with"), ("piece", "0"), ("key", "Dexter Ombaye"), ("other", "Alba Quenby")]);
    assert!(!floor().contains("Dexter Ombaye with Alba Quenby"));
}

#[test]
fn hand_outs_hold_what_each_reader_needs_and_no_health_data() {
    let (_database, server) = demo();
    let class = format!("/days/{}", evening());
    let [board, cards, sheet] =
        ["board", "cards", "sheet"].map(|page| server.get(&format!("{class}/{page}")).body);
    assert!(board.contains("As written") && board.contains("Back squat"));
    assert_eq!(cards.matches("<article").count(), 14);
    for words in ["18:00", "Brief", "Hips below knees", "Who does which", "To look out for", "Rack 1"] {
        assert!(sheet.contains(words), "{words}: {sheet}");
    }
    // What a member spares stands in the coach's hand only.
    let limits: Vec<String> = lantern_limits();
    assert!(!limits.is_empty());
    for limit in limits {
        assert!(!board.contains(&limit) && !cards.contains(&limit), "{limit}");
    }
}

/// What the demo's members spare, in their words.
fn lantern_limits() -> Vec<String> {
    let roster = include_str!("../../../data/demo/members.csv");
    let (members, _) = lantern_core::roster::roster_from_csv(roster);
    members.into_iter().flat_map(|member| member.limits).map(|limit| limit.text).collect()
}

#[test]
fn the_evening_before_takes_at_most_twelve_clicks() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    // A day with no session yet, and a class that nobody has been booked into.
    let day = Utc::now().date_naive() + Days::new(40);
    let made = server
        .post(&format!("/days/{day}/classes"), &[("starts", "18:00"), ("minutes", "60"), ("coach", "Iris")]);
    assert_eq!(made.status, 303);
    with_browser(move |browser| async move {
        let clicks = AtomicU32::new(0);
        let click = async |css: &str| {
            clicks.fetch_add(1, Ordering::Relaxed);
            browser.click(css).await
        };
        browser.open(&format!("{address}/days?from={day}")).await?;
        let slot = format!("/days/{day}T18:00");
        click(&format!(r#"a[href="{slot}/hour"]"#)).await?;
        // Without a text the class begins at Read.
        browser.type_over("#text", SESSION).await?;
        click("button[type=submit]").await?;
        browser.wait_text(".notice", |text| text.contains("Saved")).await?;
        click(r#"[data-key="6"]"#).await?;
        browser.wait_text(".notice", |text| text.contains("Nobody is booked")).await?;
        click(".notice a").await?;
        click("button[name=stand_in]").await?;
        browser.wait_text(".notice", |text| text.contains("booked from the feed")).await?;
        click("a.is-lit").await?;
        let hour = browser.text("#hour").await?;
        ensure!(hour.contains("Ends at"), "{hour}");
        // What does not fit is made to fit by one more click.
        if hour.contains("latest") {
            click("#changes .enough button").await?;
            // Only then is there a page whose links stay.
            browser.wait_text("#hour", |text| text.contains("Ends at") && text != hour).await?;
        }
        for (link, kind) in [("board", ".board"), ("cards", ".cards"), ("sheet", ".sheet")] {
            click(&format!(r#"a[href="{slot}/{link}"]"#)).await?;
            let handout = browser.text(&format!("body{kind} main")).await?;
            ensure!(handout.contains("Dexter"), "{link}: {handout}");
            // The dialog of the printer is the system's; that the page asks for it is ours.
            ensure!(browser.text("[data-print]").await? == "Print");
        }
        let clicks = clicks.load(Ordering::Relaxed);
        ensure!(clicks <= 12, "{clicks} clicks");
        Ok(())
    })
}

#[test]
fn a_place_on_the_floor_is_moved_by_keys_and_stays() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, class) = (server.address.clone(), evening());
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{class}/hour")).await?;
        let spot = r#"[data-place="Dexter Ombaye"]"#;
        let at = async || -> Result<String> {
            let found = browser.client.find(Locator::Css(spot)).await?;
            Ok(found.attr("transform").await?.unwrap_or_default())
        };
        let before = at().await?;
        let found = browser.client.find(Locator::Css(spot)).await?;
        found.send_keys(&format!("{0}{0}{1}", Key::Right, Key::Enter)).await?;
        browser.wait_text(".sketch", |text| text.contains("Everybody back")).await?;
        let after = at().await?;
        ensure!(after != before, "{before}");
        browser.client.refresh().await?;
        ensure!(at().await? == after, "the place is kept");
        Ok(())
    })
}

#[test]
fn a_place_on_the_floor_is_dragged_and_stays() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, class) = (server.address.clone(), evening());
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{class}/hour")).await?;
        let spot = r#"[data-place="Alba Quenby"]"#;
        let found = browser.client.find(Locator::Css(spot)).await?;
        let before = found.attr("transform").await?;
        let drag = MouseActions::new("mouse".to_owned())
            .then(PointerAction::MoveToElement { element: found, duration: None, x: 0.0, y: 0.0 })
            .then(PointerAction::Down { button: MOUSE_BUTTON_LEFT })
            .then(PointerAction::MoveBy { duration: None, x: 40.0, y: -30.0 })
            .then(PointerAction::Up { button: MOUSE_BUTTON_LEFT });
        browser.client.perform_actions(drag).await?;
        browser.wait_text(".sketch", |text| text.contains("Everybody back")).await?;
        let after = browser.client.find(Locator::Css(spot)).await?.attr("transform").await?;
        ensure!(after != before, "{before:?}");
        Ok(())
    })
}

#[test]
fn a_day_that_is_too_full_is_made_to_fit_by_one_click_and_undone_again() {
    let (_database, server) = demo();
    let class = evening();
    let (day, page) = (class.replace("T18:00", ""), format!("/days/{class}/hour"));
    // The evening class gets a quarter of an hour less.
    let less = [("starts", "18:00"), ("minutes", "50"), ("coach", "Iris")];
    assert_eq!(server.post(&format!("/days/{day}/classes"), &less).status, 303);
    let body = server.get(&page).body;
    assert!(body.contains("past the 50:00"), "{body}");
    let form = block(&body, r#"class="enough""#);
    let value = form.split(r#"value=""#).nth(1).unwrap().split('"').next().unwrap().replace("&#34;", "\"");
    assert!(value.starts_with("[{"), "{value}");
    assert_eq!(server.post(&page, &[("action", "changes"), ("value", &value)]).status, 303);
    let fits = server.get(&page).body;
    assert!(fits.contains("of 50:00") || fits.contains("a slow day runs to"), "{fits}");
    // Each change is undone by its own button, from the last.
    for place in (0..fits.matches(r#"value="undo""#).count()).rev() {
        server.post(&page, &[("action", "undo"), ("value", &place.to_string())]);
    }
    assert!(server.get(&page).body.contains("past the 50:00"));
    let wrong = server.post(&page, &[("action", "changes"), ("value", "[{\"change\":\"everything\"}]")]);
    assert_eq!(wrong.status, 422);
}

#[test]
fn who_is_deleted_is_named_by_no_decision_any_longer() {
    let (_database, server) = demo();
    let (class, name) = (evening(), "Dexter Ombaye");
    let versions = format!("/days/{class}/versions");
    let choose = [("action", "choose"), ("piece", "0"), ("member", name), ("value", "Simpler")];
    server.post(&versions, &choose);
    let place = [("action", "place"), ("piece", "0"), ("key", name), ("x", "5"), ("y", "3")];
    server.post(&format!("/days/{class}/hour"), &place);
    assert!(server.get(&versions).body.contains("your choice, kept"));
    assert!(server.get(&format!("/days/{class}/hour")).body.contains("Everybody back"));
    let members = server.get("/members").body;
    let id = members.split(&format!(r#"">{name}"#)).next().unwrap().rsplit('/').next().unwrap();
    let file = server.get(&format!("/members/{id}/file.json")).body;
    assert!(file.contains(&class), "the file names the classes booked: {file}");
    assert_eq!(server.post(&format!("/members/{id}/delete"), &[("name", name)]).status, 303);
    // Somebody of the same name begins with a clean sheet.
    let answers = [("name", name), ("experience", "advanced"), ("pull_ups", "30"), ("squat", "140")];
    assert_eq!(server.post("/members/drop-in", &answers).status, 303);
    server.post(&format!("/days/{class}/bookings"), &[("stand_in", "1")]);
    let again = server.get(&versions).body;
    assert!(again.contains(name) && !again.contains("your choice, kept"));
    assert!(!server.get(&format!("/days/{class}/hour")).body.contains("Everybody back"));
}
