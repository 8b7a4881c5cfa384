//! The application on a port of its own, and a plain HTTP client for it.

use std::net::TcpListener;
use std::sync::mpsc;
use std::thread::JoinHandle;

use actix_web::dev::ServerHandle;
use lantern_store::Store;
use lantern_web::{State, serve_on};

use crate::TestDatabase;

/// A running application.
pub struct TestServer {
    /// `http://127.0.0.1:PORT`
    pub address: String,
    handle: ServerHandle,
    thread: Option<JoinHandle<()>>,
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
}

impl TestServer {
    /// The application on a database.
    pub fn start(database: &TestDatabase) -> Self {
        let listener = TcpListener::bind("127.0.0.1:0").expect("a free port");
        let address = format!("http://{}", listener.local_addr().expect("bound"));
        let url = database.url.clone();
        let (send, receive) = mpsc::channel();
        let thread = std::thread::spawn(move || {
            actix_web::rt::System::new().block_on(async move {
                let state = State::new(Store::new(&url).expect("a pool"), 1);
                let server = serve_on(listener, state, 1).expect("the server starts");
                send.send(server.handle()).expect("the test waits");
                server.await.expect("the server ends well");
            });
        });
        let handle = receive.recv().expect("the server is up");
        Self { address, handle, thread: Some(thread) }
    }

    /// `GET path`
    pub fn get(&self, path: &str) -> Answer {
        answer(agent().get(format!("{}{path}", self.address)).call())
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
        let stopped = self.handle.stop(false);
        drop(stopped);
        if let Some(thread) = self.thread.take() {
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
    Answer {
        status: response.status().as_u16(),
        location,
        policy,
        body: response.body_mut().read_to_string().expect("the body is text"),
    }
}
