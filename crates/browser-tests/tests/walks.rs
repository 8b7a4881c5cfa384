//! An evening by keyboard alone, another by touch alone, and what a page weighs and moves while it comes.

use std::time::Duration;

use anyhow::{Context as _, Result, ensure};
use browser_tests::pages::monday;
use browser_tests::{Browser, TestDatabase, TestServer, with_browser};
use fantoccini::actions::{InputSource, KeyAction, KeyActions};
use serde_json::json;

/// Keys as WebDriver names them.
const TAB: char = '\u{e004}';
const ENTER: char = '\u{e007}';
const RIGHT: char = '\u{e014}';

async fn press(browser: &Browser, key: char) -> Result<()> {
    let keys = KeyActions::new("keys".to_owned())
        .then(KeyAction::Down { value: key })
        .then(KeyAction::Up { value: key });
    Ok(browser.client.perform_actions(keys).await?)
}

/// Goes on with the Tab key until what has the focus is what is looked for; how often it was pressed.
async fn tab_to(browser: &Browser, css: &str) -> Result<usize> {
    for presses in 1..=120 {
        press(browser, TAB).await?;
        let is_there = "return document.activeElement?.matches(arguments[0]) ?? false";
        if browser.client.execute(is_there, vec![json!(css)]).await?.as_bool() == Some(true) {
            return Ok(presses);
        }
    }
    let at =
        browser.client.execute("return document.activeElement?.outerHTML.slice(0, 200)", Vec::new()).await?;
    anyhow::bail!("{css} is not reached by the Tab key; the focus is at {at}")
}

/// Whether what has the focus shows it: a ring of 3 px.
async fn is_ringed(browser: &Browser) -> Result<bool> {
    let script = "const style = getComputedStyle(document.activeElement); return style.outlineStyle === 'solid' && parseFloat(style.outlineWidth) >= 3";
    Ok(browser.client.execute(script, Vec::new()).await?.as_bool() == Some(true))
}

#[test]
fn an_evening_by_keyboard_alone() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days")).await?;
        let class = format!("a[href='/days/{}T18:00/hour']", monday());
        tab_to(&browser, &format!(".classes {class}")).await?;
        ensure!(is_ringed(&browser).await?, "a link does not show that it has the focus");
        press(&browser, ENTER).await?;
        browser.wait_text("main", |text| text.contains("Hand-outs")).await?;
        // A figure goes to a step; the class of fourteen is fourteen stops.
        press(&browser, '4').await?;
        browser.wait_text("main", |text| text.contains("Who does which")).await?;
        let stops = "return [...document.querySelectorAll('[data-group] button')].filter((b) => b.tabIndex === 0).length";
        let stops = browser.client.execute(stops, Vec::new()).await?;
        ensure!(stops == 14, "fourteen members are {stops} stops");
        tab_to(&browser, "#members ~ .scroll [data-group] button").await?;
        ensure!(is_ringed(&browser).await?, "a choice does not show that it has the focus");
        let name = "return document.activeElement.getAttribute('aria-label')";
        let before = browser.client.execute(name, Vec::new()).await?;
        press(&browser, RIGHT).await?;
        let after = browser.client.execute(name, Vec::new()).await?;
        ensure!(before != after, "the arrow stays at {before}");
        press(&browser, ENTER).await?;
        let said = browser.wait_text("#done", |text| !text.is_empty()).await?;
        ensure!(said.contains("Undo"), "{said}");
        // The focus stays where the decision was made.
        ensure!(browser.client.execute(name, Vec::new()).await? == after, "the focus is somewhere else");
        press(&browser, '6').await?;
        browser.wait_text("main", |text| text.contains("Hand-outs")).await?;
        tab_to(&browser, &format!("a[href='/days/{}T18:00/print']", monday())).await?;
        press(&browser, ENTER).await?;
        browser.wait_text("main", |text| text.contains("To print for")).await?;
        tab_to(&browser, "[data-print]").await?;
        // Who wants no keys of one figure has none.
        browser.client.execute("localStorage.setItem('keys', 'off')", Vec::new()).await?;
        browser.open(&format!("{address}/days/{}T18:00/versions", monday())).await?;
        press(&browser, '5').await?;
        tokio::time::sleep(Duration::from_millis(200)).await;
        ensure!(
            browser.client.current_url().await?.path().ends_with("/versions"),
            "a figure still leads away"
        );
        Ok(())
    })
}

/// Taps the first that matches, where it is big enough for a finger.
async fn tap(browser: &Browser, css: &str) -> Result<()> {
    let script = "
        const element = document.querySelector(arguments[0]);
        if (!element) return null;
        element.scrollIntoView({ block: 'center', inline: 'center', behavior: 'instant' });
        const { x, y, width, height } = element.getBoundingClientRect();
        const at = document.elementFromPoint(x + width / 2, y + height / 2);
        return [x + width / 2, y + height / 2, width, height, element.contains(at) || at?.contains(element)];
    ";
    let found = browser.client.execute(script, vec![json!(css)]).await?;
    let number = |n: usize| found[n].as_f64().with_context(|| format!("{css} is not there"));
    let (x, y, width, height) = (number(0)?, number(1)?, number(2)?, number(3)?);
    ensure!(width >= 43.5 && height >= 43.5, "{css} is {width} x {height}");
    ensure!(found[4].as_bool() == Some(true), "something lies over {css}");
    let point = json!([{ "x": x, "y": y }]);
    browser.own("Input.dispatchTouchEvent", json!({ "type": "touchStart", "touchPoints": point })).await?;
    browser.own("Input.dispatchTouchEvent", json!({ "type": "touchEnd", "touchPoints": [] })).await?;
    Ok(())
}

#[test]
fn an_evening_by_touch_alone() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days")).await?;
        let phone = json!({ "width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": true });
        browser.own("Emulation.setDeviceMetricsOverride", phone).await?;
        browser.own("Emulation.setTouchEmulationEnabled", json!({ "enabled": true })).await?;
        browser.open(&format!("{address}/days")).await?;
        tap(&browser, &format!(".classes a[href='/days/{}T18:00/hour']", monday())).await?;
        browser.wait_text("main", |text| text.contains("Hand-outs")).await?;
        tap(&browser, ".rail a[data-key='4']").await?;
        browser.wait_text("main", |text| text.contains("Who does which")).await?;
        tap(&browser, "[data-group] button[aria-pressed='false']").await?;
        browser.wait_text("#done", |text| !text.is_empty()).await?;
        tap(&browser, "#done button").await?;
        browser.wait_text("#done", |text| text.contains("Taken back")).await?;
        // The chart is a table on a phone; a name leads to the targets.
        tap(&browser, ".rail a[data-key='5']").await?;
        browser.wait_text(".aslist", |text| text.contains("As written")).await?;
        // The bar below leads anywhere.
        tap(&browser, ".top nav a[href='/members']").await?;
        browser.wait_text("h1", |text| text.contains("Members")).await?;
        Ok(())
    })
}

/// What was understood of a line stands beside it, in one line: nothing lies over what is below.
#[test]
fn what_was_understood_stands_on_the_line_that_it_is_of() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    with_browser(move |browser| async move {
        for day in 0..5 {
            let day = monday() + chrono::Days::new(day);
            browser.open(&format!("{address}/days/{day}T18:00/read")).await?;
            let script = "
                const said = [...document.querySelectorAll('.rows .said')];
                const out = said.filter((word) => word.offsetTop !== word.parentElement.querySelector('.said').offsetTop);
                return [said.length, out.map((word) => word.textContent).join(', ')];
            ";
            let told = browser.client.execute(script, Vec::new()).await?;
            ensure!(told[0].as_u64().context("words")? > 5, "{day} says nothing");
            ensure!(told[1] == "", "{day}: {} stand below their line", told[1]);
        }
        Ok(())
    })
}

/// Most that a page may weigh when nothing of it is known yet, in kilobytes as they are sent, and most by which it may move (the sum of layout shifts).
const MOST_KB: f64 = 89.5;
const MOST_SHIFT: f64 = 0.05;

#[test]
fn pages_are_light_and_stand_still() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    let steps = ["read", "warmup", "loads", "versions", "pace", "hour", "board", "cards"];
    let pages: Vec<String> = steps
        .iter()
        .map(|step| format!("/days/{}T18:00/{step}", monday()))
        .chain(["/days".to_owned(), "/members".to_owned()])
        .collect();
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/healthz")).await?;
        for (width, mobile, kb_a_second) in
            [(1280, false, 0), (390, true, 0), (390, true, 60), (1280, false, 60)]
        {
            let screen = json!({ "width": width, "height": 800, "deviceScaleFactor": 1, "mobile": mobile });
            browser.own("Emulation.setDeviceMetricsOverride", screen).await?;
            // Over a slow line fonts come when the page has long stood there.
            let through = if kb_a_second == 0 { -1 } else { kb_a_second * 1024 };
            let line = json!({ "offline": false, "latency": 0, "downloadThroughput": through, "uploadThroughput": through });
            browser.own("Network.emulateNetworkConditions", line).await?;
            for page in &pages {
                browser.own("Network.clearBrowserCache", json!({})).await?;
                browser.open(&format!("{address}{page}")).await?;
                tokio::time::sleep(Duration::from_millis(700)).await;
                let script = "
                    const done = arguments[arguments.length - 1];
                    let shift = 0;
                    new PerformanceObserver((list) => list.getEntries().forEach((entry) => { shift += entry.value; })).observe({ type: 'layout-shift', buffered: true });
                    const sent = ['navigation', 'resource'].flatMap((type) => performance.getEntriesByType(type)).reduce((sum, entry) => sum + entry.transferSize, 0);
                    setTimeout(() => done([shift, sent / 1024]), 100);
                ";
                let told = browser.client.execute_async(script, Vec::new()).await?;
                let (shift, kb) = (told[0].as_f64().context("shifts")?, told[1].as_f64().context("sizes")?);
                ensure!(kb > 20.0 && kb <= MOST_KB, "{page} at {width} weighs {kb:.0} kB");
                ensure!(shift <= MOST_SHIFT, "{page} at {width} moves by {shift:.3} over {kb_a_second} kB/s");
            }
        }
        Ok(())
    })
}
