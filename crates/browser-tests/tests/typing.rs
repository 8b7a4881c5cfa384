//! What helps while a day is typed: ways to go on, the day written plainly, and nothing lost when the connection is.

use std::fs;
use std::io::Write as _;

use anyhow::{Result, ensure};
use browser_tests::running::ClassNow;
use browser_tests::{Browser, TestDatabase, TestServer, with_browser};
use chrono::{Days, NaiveDate, Utc};
use fantoccini::key::Key;

fn day(days: u64) -> NaiveDate {
    Utc::now().date_naive() + Days::new(days)
}

/// Presses keys in the text box, where its caret stands.
async fn keys(browser: &Browser, keys: &str) -> Result<()> {
    Ok(browser.client.find(fantoccini::Locator::Css("#text")).await?.send_keys(keys).await?)
}

fn undo() -> String {
    format!("{}z{}", char::from(Key::Control), char::from(Key::Null))
}

#[test]
fn movements_and_clauses_are_completed_with_keys_and_can_be_undone() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, day) = (server.address.clone(), day(70));
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/read")).await?;
        ensure!(
            browser.text(".begin-with").await?.contains("rounds for time"),
            "an empty page shows ways to begin"
        );
        keys(&browser, "am").await?;
        browser.wait_text("#offers", |text| text.contains("AMRAP 12:00")).await?;
        keys(&browser, &char::from(Key::Tab).to_string()).await?;
        ensure!(browser.value("#text").await? == "AMRAP 12:00");
        // Enter is a new line as long as nothing is chosen in the list.
        keys(&browser, "\n12 pul").await?;
        browser.wait_text("#offers", |text| text.contains("pull-up")).await?;
        keys(&browser, "\n").await?;
        ensure!(browser.value("#text").await? == "AMRAP 12:00\n12 pul\n");
        keys(&browser, "9 wall").await?;
        browser.wait_text("#offers", |text| text.contains("wall ball")).await?;
        let options = browser.text("#offers").await?;
        let place = options.lines().position(|line| line.starts_with("wall ball")).unwrap_or_default();
        let down = char::from(Key::Down).to_string().repeat(place + 1);
        keys(&browser, &(down + "\n")).await?;
        let whole = browser.value("#text").await?;
        ensure!(whole == "AMRAP 12:00\n12 pul\n9 wall ball", "{whole}");
        browser.wait_text("#reading", |text| text.contains("9 wall ball")).await?;
        // What was taken is undone like anything typed.
        keys(&browser, &undo()).await?;
        ensure!(browser.value("#text").await?.ends_with("9 wall"));
        // Escape closes the list and takes nothing.
        keys(&browser, " b").await?;
        browser.wait_text("#offers", |text| text.contains("wall ball")).await?;
        keys(&browser, &char::from(Key::Escape).to_string()).await?;
        ensure!(browser.text("#offers").await?.is_empty());
        ensure!(browser.value("#text").await?.ends_with("9 wall b"));
        Ok(())
    })
}

#[test]
fn the_day_is_written_plainly_only_when_it_is_taken() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, day) = (server.address.clone(), day(71));
    let typed = "5 rds 4 time!\n12 wallballs\n9 sit-ups\nmats along the wall";
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/read")).await?;
        browser.type_over("#text", typed).await?;
        browser.wait_text("#reading", |text| text.contains("12 wall ball")).await?;
        browser.click(".written h2 button").await?;
        browser.wait_text("#offer", |text| text.contains("Written plainly")).await?;
        ensure!(browser.value("#text").await? == typed, "an offer replaces nothing");
        browser.click("#offer [formaction=take]").await?;
        let plain = browser.value("#text").await?;
        ensure!(plain.contains("5 rounds\n12 wall ball\n9 sit-up"), "{plain}");
        ensure!(plain.contains("Note: mats along the wall"), "{plain}");
        browser.wait_text("#reading", |text| text.contains("note")).await?;
        keys(&browser, &undo()).await?;
        ensure!(browser.value("#text").await? == typed, "taking it is undone like anything typed");
        Ok(())
    })
}

#[test]
fn what_is_put_right_keeps_the_caret_and_what_can_be_undone() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, day) = (server.address.clone(), day(72));
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/read")).await?;
        keys(&browser, "For time\n30 burpees\n10 lunges").await?;
        browser.wait_text("#reading", |text| text.contains("10 lunge")).await?;
        browser.client.execute("document.getElementById('text').setSelectionRange(4, 4)", vec![]).await?;
        browser.click(".row[data-line='3'] summary").await?;
        browser.click(".row[data-line='3'] button[value^='note']").await?;
        browser.wait_text(".corrected", |text| text.contains("line 3: a note")).await?;
        // What movements are called is there once somebody has begun to put a line right.
        let names = browser
            .client
            .execute("return document.querySelectorAll('#names option').length", vec![])
            .await?;
        ensure!(names.as_u64().is_some_and(|names| names > 100), "{names}");
        let caret =
            browser.client.execute("return document.getElementById('text').selectionStart", vec![]).await?;
        ensure!(caret == 4, "{caret}");
        keys(&browser, &undo()).await?;
        ensure!(
            browser.value("#text").await? != "For time\n30 burpees\n10 lunges",
            "typing can still be undone"
        );
        Ok(())
    })
}

#[test]
fn a_lost_connection_loses_no_words_and_no_correction() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, day) = (server.address.clone(), day(73));
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/read")).await?;
        browser.type_over("#text", "For time\n30 burpees\n10 lunges").await?;
        browser.wait_text("#reading", |text| text.contains("10 lunge")).await?;
        browser.click(".row[data-line='3'] summary").await?;
        browser.click(".row[data-line='3'] button[value^='note']").await?;
        browser.wait_text(".corrected", |text| text.contains("line 3: a note")).await?;
        drop(server);
        // What is typed now is not read, and the page says so.
        keys(&browser, "\n15 sit-ups").await?;
        browser.wait_text("#behind", |text| text.contains("does not answer")).await?;
        browser.click(".row[data-line='2'] summary").await?;
        browser.click(".row[data-line='2'] button[value^='note']").await?;
        browser.wait_text("#behind", |text| text.contains("Nothing was put right")).await?;
        ensure!(browser.value("#text").await?.ends_with("15 sit-ups"));
        let _again = TestServer::start_again(&address, &database.url);
        browser.client.refresh().await?;
        browser.wait_text("#draft", |text| text.contains("brought back")).await?;
        browser.wait_text("#reading", |text| text.contains("15 sit-up")).await?;
        let put_right = browser.text(".corrected").await?;
        ensure!(put_right.contains("line 3: a note") && !put_right.contains("line 2"), "{put_right}");
        ensure!(browser.value("#text").await? == "For time\n30 burpees\n10 lunges\n15 sit-ups");
        Ok(())
    })
}

#[test]
fn what_is_typed_while_a_correction_is_on_its_way_is_in_the_draft() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, day) = (server.address.clone(), day(77));
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/read")).await?;
        browser.saves_nothing_by_itself().await?;
        keys(&browser, "For time\n30 burpees").await?;
        browser.wait_text("#reading", |text| text.contains("30 burpee")).await?;
        // A server that takes its time.
        browser.client.execute("window.fetch = () => new Promise(() => {})", vec![]).await?;
        browser.click(".row[data-line='2'] summary").await?;
        browser.click(".row[data-line='2'] button[value^='note']").await?;
        keys(&browser, "\n15 sit-ups").await?;
        browser.client.refresh().await?;
        browser.wait_text("#draft", |text| text.contains("brought back")).await?;
        ensure!(browser.value("#text").await? == "For time\n30 burpees\n15 sit-ups");
        Ok(())
    })
}

#[test]
fn a_document_is_shown_as_text_first_and_a_bad_one_changes_nothing() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, day) = (server.address.clone(), day(74));
    let folder = tempfile::tempdir()?;
    let xml = "<office:body><text:h>Conditioning</text:h><text:p>5 rounds for time</text:p><text:p>12 wall balls</text:p></office:body>";
    let mut zip = zip::ZipWriter::new(fs::File::create(folder.path().join("day.odt"))?);
    zip.start_file("content.xml", zip::write::SimpleFileOptions::default())?;
    zip.write_all(xml.as_bytes())?;
    zip.finish()?;
    fs::write(folder.path().join("broken.pdf"), "%PDF-1.4 and nothing")?;
    fs::write(folder.path().join("old.txt"), b"3 rounds \xD7 for time\n9 burpees")?;
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/read")).await?;
        browser.saves_nothing_by_itself().await?;
        keys(&browser, "9 sit-ups").await?;
        let pick = |name: &str| folder.path().join(name).display().to_string();
        let file = browser.client.find(fantoccini::Locator::Css("#file")).await?;
        file.send_keys(&pick("broken.pdf")).await?;
        browser
            .wait_text("#behind", |text| text.contains("broken.pdf was not opened: this PDF file"))
            .await?;
        ensure!(browser.value("#text").await? == "9 sit-ups");
        file.send_keys(&pick("day.odt")).await?;
        browser.wait_text("#reading", |text| text.contains("12 wall ball")).await?;
        ensure!(browser.value("#text").await? == "Conditioning\n5 rounds for time\n12 wall balls");
        ensure!(browser.text("#draft").await?.contains("day.odt; not saved yet"));
        keys(&browser, &undo()).await?;
        ensure!(browser.value("#text").await? == "9 sit-ups", "what stood there before is not lost");
        file.send_keys(&pick("old.txt")).await?;
        browser.wait_text("#draft", |text| text.contains("old.txt; not saved yet")).await?;
        ensure!(browser.value("#text").await?.starts_with("3 rounds \u{d7} for time"));
        Ok(())
    })
}

#[test]
fn parts_are_split_and_joined_at_the_seam_by_keys_and_by_pointing() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, day) = (server.address.clone(), day(75));
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/read")).await?;
        browser.type_over("#text", "For time\n30 burpees\n3 rounds\n10 lunges\n12 sit-ups").await?;
        browser.wait_text("#reading", |text| text.contains("12 sit-up")).await?;
        let parts = || async {
            let found = browser.client.find_all(fantoccini::Locator::Css(".sum:not(.corrected) h3")).await?;
            anyhow::Ok(found.len())
        };
        ensure!(parts().await? == 1);
        // The caret stands in the last line; two up is where the rounds begin.
        let up = char::from(Key::Up).to_string().repeat(2);
        let split = format!("{}{}{}", char::from(Key::Alt), char::from(Key::Down), char::from(Key::Null));
        keys(&browser, &(up + &split)).await?;
        browser.wait_text(".corrected", |text| text.contains("line 3: a part begins here")).await?;
        ensure!(parts().await? == 2);
        // Where they meet, a click joins them again.
        browser.click(".row[data-line='3'] .seam").await?;
        browser.wait_text(".corrected", |text| text.contains("line 3: goes on with the part above")).await?;
        ensure!(parts().await? == 1);
        Ok(())
    })
}

#[test]
fn what_stands_still_is_saved_by_itself_and_is_one_text_of_the_day_however_often() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, day) = (server.address.clone(), day(78));
    let path = format!("/days/{day}");
    let colleague = TestServer::at(&address);
    with_browser(move |browser| async move {
        let stands = || colleague.get(&format!("{path}/session.txt")).body;
        browser.open(&format!("{address}{path}/read")).await?;
        keys(&browser, "For time\n30 burpees").await?;
        browser.wait_text("#draft", |text| text == "Saved while you type.").await?;
        ensure!(stands().contains("30 burpee"), "{}", stands());
        keys(&browser, "\n15 sit-ups").await?;
        browser.wait_text("#draft", |text| text.starts_with("Draft kept")).await?;
        browser.wait_text("#draft", |text| text == "Saved while you type.").await?;
        ensure!(stands().contains("15 sit-up"));
        ensure!(browser.value("#text").await?.ends_with("15 sit-ups"), "the page stays as it is");

        // Loaded again it is the day's, and no draft; of the two only the last is a text that the day has had.
        browser.client.refresh().await?;
        browser.wait_text("#hour", |text| text.contains("Ends at")).await?;
        ensure!(
            browser.text("#draft").await?.is_empty() && browser.value("#text").await?.ends_with("15 sit-ups")
        );
        let texts = || colleague.get(&format!("{path}/history")).body.matches("class=\"diff\"").count();
        ensure!(texts() == 1, "{}", texts());

        // Where somebody has saved meanwhile nothing is saved without a click, and that one compares.
        let theirs = [("text", "For time\n30 burpees\n20 sit-ups"), ("revision", "2")];
        ensure!(colleague.post(&format!("{path}/read"), &theirs).status == 303);
        keys(&browser, "\n10 lunges").await?;
        browser.wait_text("#draft", |text| text.contains("Somebody else has saved")).await?;
        ensure!(stands().contains("20 sit-up"));
        browser.click("button[type=submit]").await?;
        browser.wait_text(".notice", |text| text.contains("Somebody else saved this day")).await?;
        ensure!(texts() == 2);
        Ok(())
    })
}

#[test]
fn what_could_not_be_saved_by_itself_is_saved_once_the_server_is_back() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, day) = (server.address.clone(), day(79));
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days/{day}/read")).await?;
        drop(server);
        keys(&browser, "For time\n30 burpees").await?;
        browser.wait_text("#behind", |text| text.contains("does not answer")).await?;
        let again = TestServer::start_again(&address, &database.url);
        browser.wait_text("#draft", |text| text == "Saved while you type.").await?;
        ensure!(again.get(&format!("/days/{day}/session.txt")).body.contains("30 burpee"));
        Ok(())
    })
}

/// Its screens follow the text, and half a line is nothing for them.
#[test]
fn nothing_is_saved_by_itself_on_the_day_of_a_class_that_has_begun() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let class = ClassNow::new(&database, &server);
    let address = server.address.clone();
    let begun = [("what", "go_to"), ("block", "brief"), ("n", "0")];
    ensure!(server.post(&format!("/days/{}/floor", class.slot), &begun).status == 303);
    with_browser(move |browser| async move {
        let stands = || server.get(&format!("/days/{}/session.txt", class.slot)).body;
        browser.open(&format!("{address}/days/{}/read", class.slot)).await?;
        keys(&browser, "\n15 sit-ups").await?;
        browser.wait_text("#draft", |text| text.contains("class of this day has begun")).await?;
        ensure!(!stands().contains("sit-up"), "{}", stands());
        browser.click("button[type=submit]").await?;
        browser.wait_text(".notice", |text| text.contains("Saved")).await?;
        ensure!(stands().contains("15 sit-up"));
        Ok(())
    })
}
