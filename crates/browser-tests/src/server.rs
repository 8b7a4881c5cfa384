//! The application on a port of its own, and a plain HTTP client for it.

use std::io::{BufRead, BufReader};
use std::net::TcpListener;
use std::sync::mpsc;
use std::thread::JoinHandle;
use std::time::Duration;

use actix_web::dev::ServerHandle;
use std::sync::OnceLock;

use lantern_store::{Secret, Store};
use lantern_web::{Hosts, State, serve_on};
use tokio_rustls::rustls::ServerConfig;

use crate::TestDatabase;

/// What stands in the link that signs in as one of the demo's people, in tests.
pub const DEMO_KEY: &str = "a-key-that-only-tests-know-0123456789";

/// How long an answer is waited for: longer than the application itself takes for any.
const PATIENCE: Duration = Duration::from_secs(100);

/// How long the application waits for its database, and whoever asks for an answer, in tests that are about something else: the machine may be busy with other work,
/// and what comes late is no fault there.
const PATIENT: (Duration, Duration) = (Duration::from_secs(30), Duration::from_secs(90));

/// A running application.
pub struct TestServer {
    /// `http://127.0.0.1:PORT`
    pub address: String,
    /// What runs it here; nothing for one that runs elsewhere.
    runs: Option<(ServerHandle, JoinHandle<()>)>,
    /// Who asks, as the demo names them; nobody for who is signed out.
    who: Option<&'static str>,
    /// The cookie that says so, once it was asked for.
    cookie: OnceLock<String>,
}

/// What came back.
pub struct Answer {
    /// Status code.
    pub status: u16,
    /// Body as text.
    pub body: String,
    /// Where a redirect leads.
    pub location: Option<String>,
    /// The policy for scripts and styles.
    pub policy: Option<String>,
    /// What is said about keeping it.
    pub kept: Option<String>,
    /// The cookie that it sets, as it is sent back.
    pub cookie: Option<String>,
}

impl TestServer {
    /// The application on a database.
    pub fn start(database: &TestDatabase) -> Self {
        Self::start_on(&database.url)
    }

    /// The application with classes that run quicker than the world.
    pub fn start_quick(database: &TestDatabase, speed: f64) -> Self {
        Self::listening(any_port(), &database.url, speed, None)
    }

    /// The application over HTTPS; who asks has to speak it.
    pub fn start_secure(database: &TestDatabase, tls: ServerConfig) -> Self {
        Self::listening(any_port(), &database.url, 1.0, Some(tls))
    }

    /// The application on whatever answers at a database URL.
    pub fn start_on(url: &str) -> Self {
        Self::listening(any_port(), url, 1.0, None)
    }

    /// The application again at the address of one that has gone.
    pub fn start_again(address: &str, url: &str) -> Self {
        Self::listening(port_of(address), url, 1.0, None)
    }

    /// The application with the limits on every wait that a gym's has; at the address of one that has gone, or at any.
    pub fn start_as_shipped(address: Option<&str>, url: &str) -> Self {
        let listener = address.map_or_else(any_port, port_of);
        Self::of(listener, state_on(Store::new(url).expect("a pool")), None)
    }

    /// The application on a database and a copy that follows it.
    pub fn start_with_replica(database: &TestDatabase, replica: &str) -> Self {
        let store = Store::patient(&database.url, PATIENT.0).and_then(|store| store.with_replica(replica));
        Self::of(any_port(), state_on(store.expect("pools")).with_deadline(PATIENT.1), None)
    }

    fn listening(listener: TcpListener, url: &str, speed: f64, tls: Option<ServerConfig>) -> Self {
        let state = state_on(Store::patient(url, PATIENT.0).expect("a pool")).with_deadline(PATIENT.1);
        Self::of(listener, state.with_speed(speed), tls)
    }

    fn of(listener: TcpListener, state: State, tls: Option<ServerConfig>) -> Self {
        let address = format!("http://{}", listener.local_addr().expect("bound"));
        let (send, receive) = mpsc::channel();
        let thread = std::thread::spawn(move || {
            actix_web::rt::System::new().block_on(async move {
                let server = serve_on(listener, state, 1, tls).expect("the server starts");
                send.send(server.handle()).expect("the test waits");
                server.await.expect("the server ends well");
            });
        });
        let handle = receive.recv().expect("the server is up");
        let mut server = Self::at(&address);
        server.runs = Some((handle, thread));
        server
    }

    /// One that runs elsewhere.
    pub fn at(address: &str) -> Self {
        Self { address: address.to_owned(), runs: None, who: Some("iris"), cookie: OnceLock::new() }
    }

    /// The same application as somebody else of the demo sees it.
    pub fn seen_by(&self, who: &'static str) -> Self {
        let mut server = Self::at(&self.address);
        server.who = Some(who);
        server
    }

    /// The same application as somebody sees it who is signed out.
    pub fn signed_out(&self) -> Self {
        let mut server = Self::at(&self.address);
        server.who = None;
        server
    }

    /// The same application as whoever holds this cookie sees it.
    pub fn with_cookie(&self, cookie: &str) -> Self {
        let mut server = Self::at(&self.address);
        server.cookie = OnceLock::from(cookie.to_owned());
        server
    }

    /// What whoever asks sends along; nothing for who is signed out, or while nobody can be signed in.
    pub fn cookie(&self) -> String {
        let Some(who) = self.who else { return String::new() };
        if let Some(cookie) = self.cookie.get() {
            return cookie.clone();
        }
        let asked = agent().get(format!("{}/demo/{DEMO_KEY}/{who}", self.address)).call();
        let set = asked.ok().and_then(|answer| {
            let set = answer.headers().get("set-cookie")?.to_str().ok()?;
            Some(set.split(';').next()?.to_owned())
        });
        match set {
            Some(cookie) => self.cookie.get_or_init(|| cookie).clone(),
            None => String::new(),
        }
    }

    /// `GET path`
    pub fn get(&self, path: &str) -> Answer {
        answer(agent().get(format!("{}{path}", self.address)).header("Cookie", self.cookie()).call())
    }

    /// A connection that stays open.
    pub fn road(&self) -> Road {
        Road { agent: agent(), address: self.address.clone(), cookie: self.cookie() }
    }

    /// The bytes of `GET path`.
    pub fn bytes(&self, path: &str) -> Vec<u8> {
        let asked = agent().get(format!("{}{path}", self.address)).header("Cookie", self.cookie()).call();
        asked.expect("the server answers").body_mut().read_to_vec().expect("a body")
    }

    /// `GET path` with headers.
    pub fn get_with(&self, path: &str, headers: &[(&str, &str)]) -> Answer {
        let mut request = agent().get(format!("{}{path}", self.address)).header("Cookie", self.cookie());
        for (name, value) in headers {
            request = request.header(*name, *value);
        }
        answer(request.call())
    }

    /// `HEAD path`
    pub fn head(&self, path: &str) -> Answer {
        answer(agent().head(format!("{}{path}", self.address)).header("Cookie", self.cookie()).call())
    }

    /// The status of `GET path`.
    ///
    /// # Errors
    /// When there was no answer.
    pub fn try_get(&self, path: &str) -> Result<u16, String> {
        let answer = agent().get(format!("{}{path}", self.address)).header("Cookie", self.cookie()).call();
        answer.map(|answer| answer.status().as_u16()).map_err(|error| error.to_string())
    }

    /// The status of `POST path` with an encoded form.
    ///
    /// # Errors
    /// When there was no answer.
    pub fn try_post(&self, path: &str, form: &str) -> Result<u16, String> {
        let answer = self.form(path).header("Content-Type", "application/x-www-form-urlencoded").send(form);
        answer.map(|answer| answer.status().as_u16()).map_err(|error| error.to_string())
    }

    /// A form from a page of this application, as browsers send it.
    fn form(&self, path: &str) -> ureq::RequestBuilder<ureq::typestate::WithBody> {
        let request = agent().post(format!("{}{path}", self.address)).header("Cookie", self.cookie());
        request.header("Origin", &self.address)
    }

    /// `POST path` with a form.
    pub fn post(&self, path: &str, form: &[(&str, &str)]) -> Answer {
        answer(self.form(path).send_form(form.iter().copied()))
    }

    /// `POST path` with a body and headers as they are.
    pub fn post_raw(&self, path: &str, headers: &[(&str, &str)], body: &str) -> Answer {
        let mut request = agent().post(format!("{}{path}", self.address)).header("Cookie", self.cookie());
        for (name, value) in headers {
            request = request.header(*name, *value);
        }
        answer(request.send(body))
    }
}

/// A connection that stays open, for asking often.
pub struct Road {
    agent: ureq::Agent,
    address: String,
    cookie: String,
}

impl Road {
    /// The status of `GET path`, and whether it is said when to come again; 0 where no answer came.
    pub fn status(&self, path: &str) -> (u16, bool) {
        let (status, is_when_said, _) = self.said(path);
        (status, is_when_said)
    }

    /// Likewise, and what is said.
    pub fn said(&self, path: &str) -> (u16, bool, String) {
        told(self.agent.get(format!("{}{path}", self.address)).header("Cookie", &self.cookie).call())
    }

    /// The same of `POST path` with an encoded form.
    pub fn send(&self, path: &str, form: &str) -> (u16, bool) {
        let form_of_page = self.agent.post(format!("{}{path}", self.address)).header("Cookie", &self.cookie);
        let form_of_page = form_of_page.header("Origin", &self.address);
        let (status, is_when_said, _) =
            told(form_of_page.header("Content-Type", "application/x-www-form-urlencoded").send(form));
        (status, is_when_said)
    }

    /// `GET path`, to the last byte; a page that is not there is a fault.
    pub fn ask(&self, path: &str) {
        let asked = self.agent.get(format!("{}{path}", self.address)).header("Cookie", &self.cookie).call();
        let mut answer = asked.expect("the server answers");
        assert_eq!(answer.status().as_u16(), 200, "{path}");
        answer.body_mut().read_to_vec().expect("a body");
    }
}

fn told(answered: Result<ureq::http::Response<ureq::Body>, ureq::Error>) -> (u16, bool, String) {
    let Ok(mut answer) = answered else { return (0, false, String::new()) };
    let is_when_said = answer.headers().contains_key("retry-after");
    match answer.body_mut().read_to_vec() {
        Ok(body) => (answer.status().as_u16(), is_when_said, String::from_utf8_lossy(&body).into_owned()),
        Err(_) => (0, false, String::new()),
    }
}

impl Drop for TestServer {
    fn drop(&mut self) {
        // Stopping is asked for at once; the thread ends when it is done.
        if let Some((handle, thread)) = self.runs.take() {
            drop(handle.stop(false));
            drop(thread);
        }
    }
}

fn state_on(store: Store) -> State {
    State::new(store, 1, Hosts::default()).with_demo(Secret::of(DEMO_KEY))
}

fn any_port() -> TcpListener {
    TcpListener::bind("127.0.0.1:0").expect("a free port")
}

fn port_of(address: &str) -> TcpListener {
    TcpListener::bind(address.trim_start_matches("http://")).expect("the port is free again")
}

fn agent() -> ureq::Agent {
    let agent = ureq::Agent::config_builder().http_status_as_error(false).max_redirects(0);
    // Whoever has gone in the middle of an answer answers nobody any more.
    agent.timeout_global(Some(PATIENCE)).build().into()
}

fn answer(result: Result<ureq::http::Response<ureq::Body>, ureq::Error>) -> Answer {
    let mut response = result.expect("the server answers");
    let header =
        |name: &str| response.headers().get(name).and_then(|value| value.to_str().ok()).map(str::to_owned);
    let (location, policy) = (header("location"), header("content-security-policy"));
    let kept = header("cache-control");
    let goes_on = header("content-type").is_some_and(|kind| kind.starts_with("text/event-stream"));
    let cookie = header("set-cookie").and_then(|set| set.split(';').next().map(str::to_owned));
    Answer {
        kept,
        cookie,
        status: response.status().as_u16(),
        location,
        policy,
        body: if goes_on {
            first_event(&mut response)
        } else {
            response.body_mut().read_to_string().expect("the body is text")
        },
    }
}

/// What a stream of events says first.
fn first_event(response: &mut ureq::http::Response<ureq::Body>) -> String {
    let mut lines = BufReader::new(response.body_mut().as_reader()).lines();
    let event = lines.by_ref().map_while(Result::ok).take_while(|line| !line.is_empty());
    event.collect::<Vec<_>>().join("\n")
}
