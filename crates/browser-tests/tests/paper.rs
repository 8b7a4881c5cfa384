//! Paper: what stands on the screen stands on the page that is printed, whole, for one person and for a full class.

use std::collections::BTreeSet;

use anyhow::{Context as _, Result, ensure};
use browser_tests::pages::monday;
use browser_tests::{Browser, TestDatabase, TestServer, cost, with_browser};
use lantern_documents::text_of;

/// Sizes of paper in inches: A4 as the pages ask for it themselves, and letter whatever they ask for.
const PAPERS: [(&str, Option<(f64, f64)>); 2] = [("A4", None), ("letter", Some((8.5, 11.0)))];

/// Signs that stand by themselves, and what two readers of a page join or break otherwise.
fn words(text: &str) -> BTreeSet<String> {
    let is_part = |c: char| c.is_alphanumeric() || ".:+/%-".contains(c);
    let all = text.split(|c| !is_part(c)).map(|word| word.trim_matches(|c: char| !c.is_alphanumeric()));
    all.filter(|word| word.chars().count() > 1).map(str::to_lowercase).collect()
}

/// What is shown of a page when it is printed, and the words of its paper.
async fn printed(browser: &Browser, paper: Option<(f64, f64)>) -> Result<(BTreeSet<String>, String, usize)> {
    browser.as_printed(true).await?;
    let script = "return document.querySelector('main').innerText";
    let shown = browser.client.execute(script, Vec::new()).await?;
    browser.as_printed(false).await?;
    let file = browser.pdf(paper).await?;
    let text = text_of(&file)?;
    let pages = file.windows(11).filter(|bytes| *bytes == b"/Type /Page").count();
    Ok((words(shown.as_str().context("a text")?), text, pages))
}

/// Books so many of the demo's members into the class of Monday evening.
fn book(database: &TestDatabase, server: &TestServer, count: usize) -> Result<()> {
    let members = database.names("select id::text as name from members order by id");
    let booked: Vec<(&str, &str)> = members.iter().take(count).map(|id| ("booked", id.as_str())).collect();
    ensure!(booked.len() == count, "{} members", booked.len());
    let answer = server.post(&format!("/days/{}T18:00/class", monday()), &booked);
    ensure!(answer.status == 303, "{}", answer.body);
    Ok(())
}

#[test]
fn whatever_is_on_the_screen_is_on_paper() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    // Half of them have written what they lift and do nowhere.
    cost::grow_results(&database, 14, 0);
    for people in [1, 14, 28] {
        book(&database, &server, people)?;
        let address = server.address.clone();
        with_browser(move |browser| async move {
            for page in ["loads", "warmup", "board", "cards", "sheet", "print"] {
                browser.open(&format!("{address}/days/{}T18:00/{page}", monday())).await?;
                for (name, paper) in PAPERS {
                    let (shown, text, pages) = printed(&browser, paper).await?;
                    // A reader of paper breaks words where a line ends.
                    let together: String = text.to_lowercase().split_whitespace().collect();
                    let missing: Vec<&String> =
                        shown.iter().filter(|word| !together.contains(word.as_str())).collect();
                    ensure!(shown.len() > 5, "{page} for {people} shows {shown:?}");
                    ensure!(
                        missing.is_empty(),
                        "{page} for {people} on {name}, {pages} pages, without {missing:?}"
                    );
                }
            }
            Ok(())
        })?;
    }
    Ok(())
}
