//! The application on a port of its own, and a plain HTTP client for it.

use std::net::TcpListener;
use std::sync::mpsc;
use std::thread::JoinHandle;

use actix_web::dev::ServerHandle;
use lantern_store::Store;
use lantern_web::{Hosts, State, serve_on};

use crate::TestDatabase;

/// A running application.
pub struct TestServer {
    /// `http://127.0.0.1:PORT`
    pub address: String,
    /// What runs it here; nothing for one that runs elsewhere.
    runs: Option<(ServerHandle, JoinHandle<()>)>,
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
}

impl TestServer {
    /// The application on a database.
    pub fn start(database: &TestDatabase) -> Self {
        Self::start_on(&database.url)
    }

    /// The application on whatever answers at a database URL.
    pub fn start_on(url: &str) -> Self {
        Self::listening(TcpListener::bind("127.0.0.1:0").expect("a free port"), url)
    }

    /// The application again at the address of one that has gone.
    pub fn start_again(address: &str, database: &TestDatabase) -> Self {
        let port = address.trim_start_matches("http://");
        Self::listening(TcpListener::bind(port).expect("the port is free again"), &database.url)
    }

    fn listening(listener: TcpListener, url: &str) -> Self {
        let address = format!("http://{}", listener.local_addr().expect("bound"));
        let url = url.to_owned();
        let (send, receive) = mpsc::channel();
        let thread = std::thread::spawn(move || {
            actix_web::rt::System::new().block_on(async move {
                let state = State::new(Store::new(&url).expect("a pool"), 1, Hosts::default());
                let server = serve_on(listener, state, 1).expect("the server starts");
                send.send(server.handle()).expect("the test waits");
                server.await.expect("the server ends well");
            });
        });
        let handle = receive.recv().expect("the server is up");
        Self { address, runs: Some((handle, thread)) }
    }

    /// One that runs elsewhere.
    pub fn at(address: &str) -> Self {
        Self { address: address.to_owned(), runs: None }
    }

    /// `GET path`
    pub fn get(&self, path: &str) -> Answer {
        answer(agent().get(format!("{}{path}", self.address)).call())
    }

    /// `HEAD path`
    pub fn head(&self, path: &str) -> Answer {
        answer(agent().head(format!("{}{path}", self.address)).call())
    }

    /// The status of `GET path`.
    ///
    /// # Errors
    /// When there was no answer.
    pub fn try_get(&self, path: &str) -> Result<u16, String> {
        let answer = agent().get(format!("{}{path}", self.address)).call();
        answer.map(|answer| answer.status().as_u16()).map_err(|error| error.to_string())
    }

    /// The status of `POST path` with an encoded form.
    ///
    /// # Errors
    /// When there was no answer.
    pub fn try_post(&self, path: &str, form: &str) -> Result<u16, String> {
        let request = agent().post(format!("{}{path}", self.address));
        let answer = request.header("Content-Type", "application/x-www-form-urlencoded").send(form);
        answer.map(|answer| answer.status().as_u16()).map_err(|error| error.to_string())
    }

    /// `POST path` with a form.
    pub fn post(&self, path: &str, form: &[(&str, &str)]) -> Answer {
        answer(agent().post(format!("{}{path}", self.address)).send_form(form.iter().copied()))
    }

    /// `POST path` with a body and headers as they are.
    pub fn post_raw(&self, path: &str, headers: &[(&str, &str)], body: &str) -> Answer {
        let mut request = agent().post(format!("{}{path}", self.address));
        for (name, value) in headers {
            request = request.header(*name, *value);
        }
        answer(request.send(body))
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

fn agent() -> ureq::Agent {
    ureq::Agent::config_builder().http_status_as_error(false).max_redirects(0).build().into()
}

fn answer(result: Result<ureq::http::Response<ureq::Body>, ureq::Error>) -> Answer {
    let mut response = result.expect("the server answers");
    let header =
        |name: &str| response.headers().get(name).and_then(|value| value.to_str().ok()).map(str::to_owned);
    let (location, policy) = (header("location"), header("content-security-policy"));
    let kept = header("cache-control");
    Answer {
        kept,
        status: response.status().as_u16(),
        location,
        policy,
        body: response.body_mut().read_to_string().expect("the body is text"),
    }
}
