//! Every page by the rules of WCAG 2.2, A and AA, as far as a program can tell: axe, which ships with these tests.

use std::collections::BTreeSet;

use anyhow::{Context as _, Result, ensure};
use browser_tests::pages::{monday, of_the_owner};
use browser_tests::running::ClassNow;
use browser_tests::{Browser, TestDatabase, TestServer, with_browser};
use serde_json::json;

/// Accessibility rules as a script (MPL 2.0); nothing of the program itself.
const AXE: &str = include_str!("../vendor/axe.min.js");

const RUN: &str = r"
    const done = arguments[arguments.length - 1];
    const rules = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];
    const lamp = ['color-contrast'];
    if (arguments[0]) { document.documentElement.dataset.look = 'lamp'; rules.splice(0, 5, ...lamp); }
    axe.run(document, { runOnly: rules, resultTypes: ['violations'] }).then(({ violations, passes }) => {
        const told = violations.map(({ id, help, nodes }) =>
            id + ': ' + help + ': ' + nodes.length + ' times: ' + nodes.slice(0, 3).map((node) => node.html.slice(0, 140) + ' ' + (node.any[0]?.message ?? '')).join(' | '));
        done([passes.length, told.join('\n')]);
    });
";

/// What the page that is shown breaks, if anything.
async fn broken(browser: &Browser) -> Result<String> {
    browser.client.execute(AXE, Vec::new()).await?;
    let told = browser.client.execute_async(RUN, vec![false.into()]).await?;
    ensure!(told[0].as_u64().context("no answer")? > 5, "hardly a rule was looked at: {told}");
    Ok(told[1].as_str().unwrap_or("no answer").to_owned())
}

/// What of the page that was just looked at cannot be read by lamplight.
async fn unread_by_lamplight(browser: &Browser) -> Result<String> {
    let told = browser.client.execute_async(RUN, vec![true.into()]).await?;
    ensure!(told[0].as_u64().context("no answer")? > 0, "no contrast was looked at: {told}");
    Ok(told[1].as_str().unwrap_or("no answer").to_owned())
}

#[test]
fn every_page_keeps_the_rules() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let address = server.address.clone();
    let pages = of_the_owner(&server);
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days")).await?;
        // Colours go over into others at once.
        let still = json!({ "features": [{ "name": "prefers-reduced-motion", "value": "reduce" }] });
        browser.own("Emulation.setEmulatedMedia", still).await?;
        let mut wrong = Vec::new();
        for page in pages {
            browser.client.goto(&format!("{address}{page}")).await?;
            for found in [broken(&browser).await?, unread_by_lamplight(&browser).await?] {
                if !found.is_empty() {
                    wrong.push(format!("{page}: {found}"));
                }
            }
        }
        browser.sign_in(&address, "alba").await?;
        browser.client.goto(&format!("{address}/me")).await?;
        wrong.extend(Some(broken(&browser).await?).filter(|found| !found.is_empty()));
        browser.client.delete_all_cookies().await?;
        for page in ["/sign-in", "/guest"] {
            browser.client.goto(&format!("{address}{page}")).await?;
            let found = broken(&browser).await?;
            if !found.is_empty() {
                wrong.push(format!("{page}: {found}"));
            }
        }
        ensure!(wrong.is_empty(), "{}", wrong.join("\n\n"));
        Ok(())
    })
}

/// Control, wall, phone and guest's page, in each state of a class.
#[test]
fn a_running_class_keeps_the_rules_on_every_screen() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let class = ClassNow::new(&database, &server);
    let wall = server.signed_out().get(&class.wall).body;
    let code = wall.split("/guest</b> code <b>").nth(1).context("a code")?;
    let code = code.split('<').next().unwrap_or_default().to_owned();
    let (floor, address) = (format!("/days/{}/floor", class.slot), server.address.clone());
    let pages = [floor.clone(), class.wall.clone(), "/me/now".to_owned(), format!("/guest/{code}?like=3")];
    with_browser(move |browser| async move {
        browser.open(&format!("{address}/days")).await?;
        let mut wrong = Vec::new();
        let states: [(&str, &[(&str, &str)]); 6] = [
            ("before", &[]),
            ("brief", &[("what", "start")]),
            ("lift", &[("what", "go_to"), ("block", "strength-0"), ("n", "1")]),
            ("piece", &[("what", "go_to"), ("block", "conditioning-1"), ("n", "1")]),
            ("paused", &[("what", "pause")]),
            ("closed", &[("what", "close")]),
        ];
        for (state, happens) in states {
            if !happens.is_empty() {
                ensure!(server.post(&floor, happens).status == 303, "{state}");
            }
            for page in &pages {
                let who = if page == "/me/now" { "alba" } else { "iris" };
                browser.sign_in(&address, who).await?;
                browser.client.goto(&format!("{address}{page}")).await?;
                browser.until("return Boolean(document.querySelector('[data-floor]').dataset.phase)").await?;
                let found = broken(&browser).await?;
                if !found.is_empty() {
                    wrong.push(format!("{page}, {state}: {found}"));
                }
            }
        }
        ensure!(wrong.is_empty(), "{}", wrong.join("\n\n"));
        Ok(())
    })
}

/// With colours of the person's own choice, what only a colour tells is still told, and drawings follow the light or dark that was chosen.
#[test]
fn forced_colours_keep_what_is_chosen_and_what_a_chart_means() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let (address, day) = (server.address.clone(), monday());
    with_browser(move |browser| async move {
        let chosen = json!({ "features": [
            { "name": "forced-colors", "value": "active" }, { "name": "prefers-color-scheme", "value": "light" }] });
        browser.own("Emulation.setEmulatedMedia", chosen).await?;
        browser.open(&format!("{address}/days/{day}/versions")).await?;
        const GROUNDS: &str =
            "const ground = (css) => getComputedStyle(document.querySelector(css)).backgroundColor;
            return [ground('.pickone[aria-pressed=true]'), ground('.pickone[aria-pressed=false]')];";
        let grounds = browser.client.execute(GROUNDS, vec![]).await?;
        ensure!(grounds[0] != grounds[1], "the chosen version: {grounds}");
        browser.open(&format!("{address}/days/{day}/pace")).await?;
        const LEGEND: &str = "document.documentElement.dataset.look = 'lamp';
            return [...document.querySelectorAll('.legend .k')].map((k) => getComputedStyle(k).backgroundColor).concat(
                getComputedStyle(document.documentElement).colorScheme);";
        let legend = browser.client.execute(LEGEND, vec![]).await?;
        let colours: BTreeSet<&str> =
            legend.as_array().into_iter().flatten().filter_map(|one| one.as_str()).collect();
        ensure!(colours.len() == 5 && colours.contains("light dark"), "{legend}");
        Ok(())
    })
}
