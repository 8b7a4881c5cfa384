//! Headless Chromium through ChromeDriver, handed on from test to test.

use std::io::{BufRead, BufReader};
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{LazyLock, Mutex, PoisonError};
use std::time::Duration;

use anyhow::{Context, Result, bail, ensure};
use base64::Engine as _;
use base64::prelude::BASE64_STANDARD;
use fantoccini::elements::Element;
use fantoccini::error::{CmdError, ErrorStatus};
use fantoccini::wd::{Capabilities, WebDriverCompatibleCommand};
use fantoccini::{Client, ClientBuilder, Locator};
use http::Method;
use hyper_util::client::legacy::connect::HttpConnector;
use serde_json::{Value, json};
use tokio::runtime::Runtime;
use url::{ParseError, Url};

use crate::DEMO_KEY;

/// How long a page may take to show what is waited for; generous, since the machine is shared.
const PATIENCE: Duration = Duration::from_secs(60);

/// How long a script may take that answers later: looking at a whole page takes seconds where nothing else runs.
const SCRIPT: Duration = Duration::from_secs(180);

/// A window of 1280 by 800, with what Chromium puts around it.
const WINDOW: (u32, u32) = (1280, 943);

/// A browser window.
pub struct Browser {
    /// For whatever the helpers below do not do.
    pub client: Client,
    is_signed_in: AtomicBool,
}

/// Waits until it is so, as long as a page may take.
pub async fn soon(what: &str, mut is_so: impl FnMut() -> bool) -> Result<()> {
    let deadline = tokio::time::Instant::now() + PATIENCE;
    while !is_so() {
        ensure!(tokio::time::Instant::now() < deadline, "not so after {PATIENCE:?}: {what}");
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    Ok(())
}

/// Chromium, and the shell that ends it.
struct Kept {
    client: Client,
    /// Ends the driver and clears up after it once nobody holds its input, whatever becomes of the tests.
    keeper: Child,
}

/// Those that no test is using. Starting one takes as long as many a test: whatever ended well is handed on, without what it remembers.
static IDLE: Mutex<Vec<Kept>> = Mutex::new(Vec::new());

/// What talks to them, as long as there are tests.
static RUNTIME: LazyLock<Runtime> = LazyLock::new(|| Runtime::new().expect("threads"));

/// Runs a test in a window of 1280 by 800. A browser whose test failed is ended.
pub fn with_browser<F>(test: impl FnOnce(Browser) -> F + Send + 'static) -> Result<()>
where
    F: Future<Output = Result<()>> + Send + 'static,
{
    let idle = IDLE.lock().unwrap_or_else(PoisonError::into_inner).pop();
    let kept = idle.map_or_else(start, Ok)?;
    let outcome = RUNTIME.block_on(async {
        let browser = Browser { client: kept.client.clone(), is_signed_in: AtomicBool::new(false) };
        RUNTIME.spawn(test(browser)).await
    });
    let outcome = outcome.map_err(anyhow::Error::from).flatten();
    if outcome.is_ok() && RUNTIME.block_on(forget(&kept.client)).is_ok() {
        IDLE.lock().unwrap_or_else(PoisonError::into_inner).push(kept);
    } else {
        end(kept.keeper)?;
    }
    outcome
}

/// Ends a driver and its browser.
fn end(mut keeper: Child) -> Result<()> {
    drop(keeper.stdin.take());
    keeper.wait()?;
    Ok(())
}

/// A window as if nobody had been there: what was set for a window goes with it.
async fn forget(client: &Client) -> Result<()> {
    let fresh = client.new_window(false).await?.handle;
    for window in client.windows().await? {
        if window != fresh {
            client.switch_to_window(window).await?;
            client.close_window().await?;
        }
    }
    client.switch_to_window(fresh).await?;
    client.set_window_size(WINDOW.0, WINDOW.1).await?;
    for clear in ["Network.clearBrowserCookies", "Network.clearBrowserCache"] {
        client.issue_cmd(Own { name: clear, parameters: json!({}) }).await?;
    }
    Ok(())
}

fn start() -> Result<Kept> {
    let profile = tempfile::tempdir()?.keep();
    let (keeper, port) = start_driver(&profile)?;
    Ok(Kept { client: RUNTIME.block_on(connect(port, &profile))?, keeper })
}

/// The port that it finds free for one family of addresses may be taken in the other: then it ends at once, and is asked again.
fn start_driver(profile: &Path) -> Result<(Child, u16)> {
    const TIMES: usize = 3;
    for _ in 1..TIMES {
        if let Ok(started) = try_driver(profile) {
            return Ok(started);
        }
    }
    try_driver(profile)
}

fn try_driver(profile: &Path) -> Result<(Child, u16)> {
    // Chromium ends a little later than its driver, and writes to its profile until then.
    let script = r#"chromedriver --port=0 & exec >&-; read -r end; kill $!; wait; sleep 1; rm -rf "$0""#;
    let mut keeper = Command::new("sh")
        .args(["-c", script])
        .arg(profile)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::null())
        .spawn()?;
    let lines = BufReader::new(keeper.stdout.take().context("its output")?).lines();
    for line in lines {
        // "ChromeDriver was started successfully on port 37041."
        let line = line?;
        if let Some((_, rest)) = line.split_once("on port ") {
            let digits: String = rest.chars().take_while(char::is_ascii_digit).collect();
            if line.contains("success") {
                return Ok((keeper, digits.parse()?));
            }
        }
    }
    end(keeper)?;
    bail!("chromedriver did not start: `./lantern test` installs it")
}

async fn connect(port: u16, profile: &Path) -> Result<Client> {
    let mut arguments: Vec<String> = [
        "--headless=new",
        "--remote-debugging-pipe",
        "--disable-gpu",
        "--disable-dev-shm-usage",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--disable-extensions",
        "--hide-scrollbars",
        "--force-device-scale-factor=1",
        "--lang=en-GB",
        // Tests run as root on build machines, where Chromium's own sandbox cannot start.
        "--no-sandbox",
    ]
    .map(str::to_owned)
    .to_vec();
    arguments.push(format!("--window-size={},{}", WINDOW.0, WINDOW.1));
    arguments.push(format!("--user-data-dir={}", profile.display()));
    let mut capabilities = Capabilities::new();
    capabilities.insert("goog:chromeOptions".to_owned(), json!({ "args": arguments }));
    capabilities.insert("timeouts".to_owned(), json!({ "script": SCRIPT.as_millis() as u64 }));
    let client = ClientBuilder::new(HttpConnector::new())
        .capabilities(capabilities)
        .connect(&format!("http://127.0.0.1:{port}"))
        .await?;
    Ok(client)
}

/// A command of Chromium's own, past what all browsers have.
#[derive(Debug)]
struct Own {
    name: &'static str,
    parameters: Value,
}

impl WebDriverCompatibleCommand for Own {
    fn endpoint(&self, base: &Url, session: Option<&str>) -> Result<Url, ParseError> {
        base.join(&format!("session/{}/goog/cdp/execute", session.unwrap_or_default()))
    }

    fn method_and_body(&self, _: &Url) -> (Method, Option<String>) {
        (Method::POST, Some(json!({ "cmd": self.name, "params": self.parameters }).to_string()))
    }
}

impl Browser {
    /// Shows the page as it is printed, or as on a screen again.
    pub async fn as_printed(&self, printed: bool) -> Result<()> {
        let media = if printed { "print" } else { "" };
        self.own("Emulation.setEmulatedMedia", json!({ "media": media })).await?;
        Ok(())
    }

    /// The page as a PDF file, on the paper that it asks for or on another, which is so many inches wide and high.
    pub async fn pdf(&self, paper: Option<(f64, f64)>) -> Result<Vec<u8>> {
        let parameters = match paper {
            None => json!({ "printBackground": true, "preferCSSPageSize": true }),
            Some((width, height)) => {
                json!({ "printBackground": true, "paperWidth": width, "paperHeight": height })
            }
        };
        let answer = self.own("Page.printToPDF", parameters).await?;
        Ok(BASE64_STANDARD.decode(answer["data"].as_str().context("a file")?)?)
    }

    /// A command of Chromium's own.
    pub async fn own(&self, name: &'static str, parameters: Value) -> Result<Value> {
        Ok(self.client.issue_cmd(Own { name, parameters }).await?)
    }

    /// Opens an address; the first time as the demo's head coach, who is signed in before.
    pub async fn open(&self, address: &str) -> Result<()> {
        if !self.is_signed_in.swap(true, Ordering::SeqCst) {
            self.sign_in(address, "iris").await?;
        }
        Ok(self.client.goto(address).await?)
    }

    /// Signs in as one of the demo's people at the application that has an address.
    pub async fn sign_in(&self, address: &str, who: &str) -> Result<()> {
        self.is_signed_in.store(true, Ordering::SeqCst);
        let end = address.find("://").map_or(0, |at| at + 3);
        let end = address[end..].find('/').map_or(address.len(), |at| end + at);
        Ok(self.client.goto(&format!("{}/demo/{DEMO_KEY}/{who}", &address[..end])).await?)
    }

    /// Does something with the first element, once there is one. An element that a page swapped for another
    /// between being found and being used is looked for again, as an eye does.
    async fn with_element<T, F>(&self, css: &str, act: impl Fn(Client, Element) -> F) -> Result<T>
    where
        F: Future<Output = Result<T, CmdError>>,
    {
        let deadline = tokio::time::Instant::now() + PATIENCE;
        loop {
            let wait = self.client.wait().at_most(PATIENCE);
            let element = wait.for_element(Locator::Css(css)).await.context(css.to_owned())?;
            match act(self.client.clone(), element).await {
                Err(CmdError::Standard(gone))
                    if gone.error == ErrorStatus::StaleElementReference
                        && tokio::time::Instant::now() < deadline =>
                {
                    tokio::time::sleep(Duration::from_millis(50)).await;
                }
                outcome => return outcome.context(css.to_owned()),
            }
        }
    }

    /// The text of the first element, once there is one.
    pub async fn text(&self, css: &str) -> Result<String> {
        self.with_element(css, |_, element| async move { element.text().await }).await
    }

    /// Waits until the element's text satisfies `holds`, and gives it.
    pub async fn wait_text(&self, css: &str, holds: impl Fn(&str) -> bool) -> Result<String> {
        let deadline = tokio::time::Instant::now() + PATIENCE;
        loop {
            let text = self.text(css).await.unwrap_or_default();
            if holds(&text) {
                return Ok(text);
            }
            if tokio::time::Instant::now() > deadline {
                bail!("`{css}` still says {text:?}");
            }
            tokio::time::sleep(Duration::from_millis(100)).await;
        }
    }

    /// Waits until a script says that it is so.
    pub async fn until(&self, script: &str) -> Result<()> {
        let deadline = tokio::time::Instant::now() + PATIENCE;
        while self.client.execute(script, Vec::new()).await? != true {
            ensure!(tokio::time::Instant::now() < deadline, "not so after {PATIENCE:?}: {script}");
            tokio::time::sleep(Duration::from_millis(100)).await;
        }
        Ok(())
    }

    /// Clicks the first element.
    pub async fn click(&self, css: &str) -> Result<()> {
        self.with_element(css, |client, element| async move {
            // As a hand does: what lies under the rail at the top is moved out from under it first.
            let middle = "arguments[0].scrollIntoView({block: 'center'})";
            client.execute(middle, vec![serde_json::to_value(&element)?]).await?;
            element.click().await
        })
        .await
    }

    /// Replaces what a field holds by typing.
    pub async fn type_over(&self, css: &str, text: &str) -> Result<()> {
        self.with_element(css, |_, element| async move {
            element.clear().await?;
            element.send_keys(text).await
        })
        .await
    }

    /// What is typed from now on stays a draft of this browser until it is saved.
    pub async fn saves_nothing_by_itself(&self) -> Result<()> {
        self.client.execute("localStorage.setItem('saving', 'off')", vec![]).await?;
        Ok(())
    }

    /// What a field holds.
    pub async fn value(&self, css: &str) -> Result<String> {
        let held = self.with_element(css, |_, element| async move { element.prop("value").await }).await?;
        Ok(held.unwrap_or_default())
    }
}
