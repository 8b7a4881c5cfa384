//! Every page on the smallest phone: nothing runs out of it sideways, and whatever is touched is as big as a finger.

use anyhow::{Result, ensure};
use browser_tests::pages::{monday, of_the_owner};
use browser_tests::{TestDatabase, TestServer, with_browser};
use chrono::Days;

/// Width of the smallest phone that anybody reads on, in CSS pixels (WCAG 2.2, 1.4.10).
const NARROW: u32 = 320;

/// What is wrong with the page that is shown: how far it runs out, and what is too small to touch (44 CSS pixels high; WCAG 2.2, 2.5.5).
const WRONG: &str = r"
    const wrong = [];
    const out = document.documentElement.scrollWidth - innerWidth;
    if (out > 0) {
        const right = (e) => e.getBoundingClientRect().right;
        const beyond = [...document.querySelectorAll('body *')].filter((e) => right(e) > innerWidth + 1 && !e.closest('.scroll, .scroll *, svg *'));
        wrong.push(out + ' px too wide: ' + beyond.slice(0, 3).map((e) => e.outerHTML.slice(0, 90)).join(' | '));
    }
    const touched = 'button, .button, select, textarea, input:not([type=hidden], .picker), nav a';
    const small = [...document.querySelectorAll(touched)].filter((e) => e.checkVisibility({ visibilityProperty: true }) && !e.closest('dialog:not([open])')).filter((e) => {
        const box = (/checkbox|radio/.test(e.type) && e.closest('label')) || e;
        const { width, height } = box.getBoundingClientRect();
        return width > 0 && (height < 43.5 || width < 43.5);
    });
    if (small.length) wrong.push(small.length + ' too small: ' + small.slice(0, 4).map((e) => Math.round(e.getBoundingClientRect().width) + 'x' + Math.round(e.getBoundingClientRect().height) + ' ' + e.outerHTML.slice(0, 110)).join(' | '));
    return innerWidth === 320 ? wrong.join(' AND ') : 'the window is ' + innerWidth + ' px wide';
";

#[test]
fn every_page_holds_on_the_smallest_phone() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    let mut pages = of_the_owner(&server);
    // A day on which teams are formed.
    pages.push(format!("/days/{}T18:00/hour", monday() + Days::new(2)));
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days")).await?;
        browser.client.set_window_size(NARROW, 800).await?;
        let mut wrong = Vec::new();
        for page in pages {
            browser.client.goto(&format!("{address}{page}")).await?;
            let found = browser.client.execute(WRONG, Vec::new()).await?;
            let found = found.as_str().unwrap_or("no answer");
            if !found.is_empty() {
                wrong.push(format!("{page}: {found}"));
            }
        }
        browser.sign_in(&address, "alba").await?;
        browser.client.goto(&format!("{address}/me")).await?;
        let own = browser.client.execute(WRONG, Vec::new()).await?;
        ensure!(own.as_str() == Some(""), "/me: {own}");
        browser.client.goto(&format!("{address}/me/now")).await?;
        let now = browser.client.execute(WRONG, Vec::new()).await?;
        ensure!(now.as_str() == Some(""), "/me/now: {now}");
        browser.client.delete_all_cookies().await?;
        browser.client.goto(&format!("{address}/sign-in")).await?;
        let door = browser.client.execute(WRONG, Vec::new()).await?;
        ensure!(door.as_str() == Some(""), "/sign-in: {door}");
        ensure!(wrong.is_empty(), "{}", wrong.join("\n"));
        Ok(())
    })
}
