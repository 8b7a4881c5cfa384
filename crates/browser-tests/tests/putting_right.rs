//! A reading that is not clear is asked about, and put right by pointing at it, with and without scripts.

use anyhow::{Result, ensure};
use browser_tests::{TestDatabase, TestServer, with_browser};
use chrono::{Days, NaiveDate, Utc};

/// It says two things at once, and its last line could be anything.
const UNCLEAR: &str = "30 min AMRAP, 3 rounds for time\n10 burpees\n200 m run\n15 sit-ups";

fn day(days: u64) -> NaiveDate {
    Utc::now().date_naive() + Days::new(days)
}

#[test]
fn from_an_unclear_text_over_a_question_and_two_corrections_to_a_right_plan() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, day) = (server.address.clone(), day(63));
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/read")).await?;
        browser.type_over("#text", UNCLEAR).await?;
        let question =
            browser.wait_text(".question", |text| text.contains("which of the two is meant?")).await?;
        ensure!(
            question.contains("30 burpee") && question.contains("30 min"),
            "volume and minutes stand beside: {question}"
        );
        // One click answers.
        browser.click(".question .answer:nth-of-type(3) button").await?;
        browser.wait_text(".notice", |text| text.contains("Put right")).await?;
        ensure!(browser.client.find_all(fantoccini::Locator::Css(".question")).await?.is_empty());
        ensure!(browser.text(".sum h3").await?.to_lowercase().contains("put right"));
        // Two clicks tell what a line is.
        browser.click(".row[data-line='4'] summary").await?;
        browser.click(".row[data-line='4'] button[value^='note']").await?;
        browser.wait_text(".corrected", |text| text.contains("line 4: a note")).await?;
        ensure!(browser.text(".row[data-line='4']").await?.contains("note"));
        // Typing above moves the corrections with their lines.
        let text = browser.value("#text").await?;
        browser.type_over("#text", &format!("Hello all\n\n{text}")).await?;
        browser.wait_text(".corrected", |text| text.contains("line 6: a note")).await?;
        // What is planned is the text as put right.
        browser.click("button.is-lit").await?;
        browser.wait_text(".lead", |text| !text.is_empty()).await?;
        let page = browser.text("main").await?;
        ensure!(!page.contains("is not saved"), "what was just saved is no draft any more: {page}");
        ensure!(page.to_lowercase().contains("for time") && !page.contains("sit-up"), "{page}");
        // It stands after a reload, and each can be taken back by itself.
        browser.open(&format!("{address}/days/{day}/read")).await?;
        browser.wait_text(".corrected", |text| text.contains("line 6: a note")).await?;
        browser.click(".corrected li:last-child button").await?;
        browser.wait_text(".notice", |text| text.contains("Taken back")).await?;
        browser.wait_text("#reading", |text| text.contains("15 sit-up")).await?;
        ensure!(browser.client.find_all(fantoccini::Locator::Css(".corrected li")).await?.len() == 1);
        Ok(())
    })
}

#[test]
fn a_line_is_put_right_with_the_keyboard_alone() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, day) = (server.address.clone(), day(64));
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/read")).await?;
        browser.type_over("#text", "4 rounds for time\n12 wall balls\n9 sit-ups").await?;
        browser.wait_text("#reading", |text| text.contains("12 wall ball")).await?;
        let enter = fantoccini::key::Key::Enter.to_string();
        let summary = browser.client.find(fantoccini::Locator::Css(".row[data-line='3'] summary")).await?;
        summary.send_keys(&enter).await?;
        let note = browser
            .client
            .find(fantoccini::Locator::Css(".row[data-line='3'] button[value^='note']"))
            .await?;
        note.send_keys(&enter).await?;
        browser.wait_text(".corrected", |text| text.contains("line 3: a note")).await?;
        Ok(())
    })
}

#[test]
fn forms_put_right_without_scripts_and_bad_ones_are_refused_in_words() {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let path = format!("/days/{}", day(65));
    let put = server
        .post(&format!("{path}/correct"), &[("text", UNCLEAR), ("put", "note|4|"), ("corrections", "")]);
    assert_eq!(put.status, 200);
    assert!(
        put.body.contains("line 4: a note") && put.body.contains("15 sit-ups"),
        "what was typed is still there"
    );
    let list = r#"[{"line":4,"words":"15 sit-ups","kind":"note"}]"#;
    let saved =
        server.post(&format!("{path}/read"), &[("text", UNCLEAR), ("revision", "0"), ("corrections", list)]);
    assert_eq!(saved.status, 303);
    let json = server.get(&format!("{path}/session.json")).body;
    assert!(json.contains(r#""kind":"note""#), "{json}");
    for (field, value) in
        [("put", "sing|4|"), ("put", "note|99|"), ("put", ""), ("answer", "{"), ("corrections", "7")]
    {
        let refused = server.post(&format!("{path}/correct"), &[("text", UNCLEAR), (field, value)]);
        assert_eq!(refused.status, 422, "{field}={value}");
    }
}

#[test]
fn what_is_put_right_teaches_how_the_gym_writes_and_can_be_forgotten() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, first, next) = (server.address.clone(), day(70), day(71));
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{first}/read")).await?;
        browser.type_over("#text", "Anvilry\nBack squat 5 x 3\n\nBlazing\n12 min AMRAP\n9 burpees").await?;
        browser.wait_text("#reading", |text| text.contains("15 back squat")).await?;
        browser.click(".row[data-line='1'] summary").await?;
        browser.click(".row[data-line='1'] button[value='heading|1|strength']").await?;
        browser.wait_text(".corrected", |text| text.contains("line 1: heads strength")).await?;
        browser.click(".headline button:not([name])").await?;
        browser.wait_text(".notice", |text| text.contains("Saved")).await?;
        // The next day is read so without a word.
        browser.open(&format!("{address}/days/{next}/read")).await?;
        browser.type_over("#text", "ANVILRY\nplank 3 x 40 s").await?;
        let read = browser.wait_text("#reading", |text| text.contains("taken for granted")).await?;
        ensure!(read.to_lowercase().contains("strength"), "{read}");
        // The gym's settings list it in words, with where it comes from; it is forgotten by one click and comes back by one.
        browser.open(&format!("{address}/gym")).await?;
        let listed = browser.text("#hand").await?;
        ensure!(listed.contains("`anvilry` heads strength") && listed.contains("Anvilry"), "{listed}");
        browser.click("#hand button").await?;
        browser.wait_text("main", |text| text.contains("Forgotten")).await?;
        ensure!(!browser.text("#hand").await?.contains("anvilry"));
        browser.click("main form[action='/removed'] button").await?;
        browser.wait_text("#hand", |text| text.contains("anvilry")).await?;
        Ok(())
    })
}

#[test]
fn the_file_of_a_gym_holds_its_hand() {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let text = "Vibe: calm, 12 of you\n5 rounds for time\n9 burpees";
    let list = r#"[{"line":1,"words":"Vibe: calm, 12 of you","kind":"note"}]"#;
    let path = format!("/days/{}/read", day(72));
    let saved = server.post(&path, &[("text", text), ("revision", "0"), ("corrections", list)]);
    assert_eq!(saved.status, 303);
    let file = server.get("/gym/gym.toml").body;
    assert!(file.contains("[[habit]]") && file.contains("words = \"vibe\""), "{file}");
    let gym = lantern_core::gym::Gym::from_toml(&file).expect("the file is read again");
    assert_eq!(gym.habits.len(), 1);
    // What is forgotten stays forgotten when the day that taught it is saved again.
    assert_eq!(server.post("/gym/habits/forget", &[("name", "note|vibe")]).status, 303);
    let more = format!("{text}\n9 sit-ups");
    let saved = server.post(&path, &[("text", &more), ("revision", "1"), ("corrections", list)]);
    assert_eq!(saved.status, 303);
    assert!(!server.get("/gym/gym.toml").body.contains("[[habit]]"));
    let refused = server.post("/gym/habits/forget", &[("name", "sing|vibe")]);
    assert_eq!(refused.status, 422);
}

#[test]
fn how_a_part_is_run_and_what_words_mean_is_told_beside_the_line() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, day) = (server.address.clone(), day(73));
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/read")).await?;
        browser.type_over("#text", "9 floppers\n9 box jumps\n9 sit-ups").await?;
        browser.wait_text(".problem", |text| text.contains("floppers")).await?;
        // The words that nobody knows stand in the field already.
        browser.click(".row[data-line='1'] summary").await?;
        ensure!(browser.value("#from1").await? == "floppers");
        browser.type_over("#to1", "burpees").await?;
        browser.click(".row[data-line='1'] button[value^='word']").await?;
        browser.wait_text(".corrected", |text| text.contains("`floppers` reads as `burpees`")).await?;
        browser.wait_text("#reading", |text| text.contains("9 burpee")).await?;
        browser.click(".row[data-line='2'] summary").await?;
        browser.type_over("#run2", "12 min AMRAP").await?;
        browser.click(".row[data-line='2'] button[value^='part']").await?;
        browser.wait_text(".corrected", |text| text.contains("run as 12 min AMRAP")).await?;
        browser.wait_text(".sums", |text| text.contains("as many rounds as possible")).await?;
        Ok(())
    })
}

#[test]
fn a_track_ends_at_the_empty_line_and_what_says_nothing_changes_nothing() {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let path = format!("/days/{}/correct", day(74));
    let text = "5 rounds for time\n9 burpees\n\nTeens\n3 rounds for time\n6 burpees\n\ncap 12";
    let put = server.post(&path, &[("text", text), ("put", "track|4|"), ("corrections", "")]);
    assert_eq!(put.status, 200);
    assert!(put.body.contains("lines 4-6: another track, Teens"), "{}", put.body);
    for (fields, words) in [
        ([("put", "part|2|"), ("run2", " ")], "how the part of line 2 is run was not written"),
        ([("put", "word|2|"), ("to2", "burpees")], "which words of line 2 mean what was not written"),
        ([("put", "word|2|"), ("from2", "wombats")], "which words of line 2 mean what was not written"),
    ] {
        let form: Vec<(&str, &str)> = [("text", text)].into_iter().chain(fields).collect();
        let refused = server.post(&path, &form);
        assert_eq!(refused.status, 422, "{words}");
        assert!(refused.body.contains(words) && refused.body.contains("9 burpees"), "{}", refused.body);
    }
    let strange = [("text", text), ("put", "word|2|"), ("from2", "wombats"), ("to2", "burpees")];
    assert!(server.post(&path, &strange).body.contains("`wombats` does not stand in line 2"));
}
