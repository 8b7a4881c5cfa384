//! Pages and fragments: Actix handlers, Askama templates, static assets.
//!
//! A handler parses its input, loads rows, calls `lantern_core` and renders; a rule of the job found here
//! is in the wrong room. [`serve_on`] runs all of it on a listener.

mod account;
mod api;
mod back;
mod day;
mod floor;
mod guest;
mod gym;
mod health;
mod help;
#[cfg_attr(not(feature = "outside"), path = "no_https.rs")]
mod https;
mod mail;
mod mark;
mod me;
mod members;
mod people;
mod planning;
mod removed;
mod request;
mod respond;
mod search;
pub mod timer;
mod wall;
mod week;

use std::net::{SocketAddr, TcpListener};
use std::sync::Arc;
use std::time::Duration;

use actix_web::dev::{Server, ServerHandle};
use actix_web::http::Method;
use actix_web::middleware::{Compress, DefaultHeaders, from_fn};
use actix_web::{App, HttpServer, web};
use lantern_store::{Secret, Store};
use listenfd::ListenFd;
use tokio::signal::unix::{SignalKind, signal};
use tokio::sync::Semaphore;
use tracing_actix_web::TracingLogger;

pub use https::{Https, tls};
pub use mail::{Letter, Mail, MailError};
pub use planning::catalogues::Catalogues;
pub use request::Hosts;
pub use respond::error::AppError;

/// Largest form that is read, in bytes; a day's text is a few thousand.
const LARGEST_FORM: usize = 256 * 1024;
/// How long a connection is kept for the next click: longer than most people take for it. One that is closed in the moment in which somebody clicks costs another try.
const KEPT_FOR: Duration = Duration::from_secs(30);
/// Seconds that a stopping server gives requests to finish: more than one may take ([`request::DEADLINE`]).
const STOP_SECONDS: u64 = 9;

/// What handlers share.
#[derive(Clone)]
pub struct State {
    /// The database: to a gym's rows only through [`request::house`] and [`request::tenant`].
    store: Store,
    /// What takes letters.
    mail: Mail,
    /// What stands in the link that signs in as one of the demo's people; none but in the demo.
    demo: Option<Secret>,
    /// Whom people ask, and tell of holes: an e-mail address.
    contact: Option<String>,
    /// What the codes of classes follow from.
    codes: Secret,
    /// Seed of all predictions: the same plan for everybody who looks.
    pub seed: u64,
    /// Names under which this server may be asked for.
    pub hosts: Hosts,
    /// Catalogues with a gym's own names, made once for each set of names.
    pub catalogues: Catalogues,
    /// Plans made last.
    plans: planning::plans::Plans,
    /// Pages shown last.
    shown: planning::shown::Shown,
    /// Who watches which class.
    hub: floor::hub::Hub,
    /// The clock that classes run by.
    beat: floor::beat::Beat,
    /// Room for requests.
    room: Arc<Semaphore>,
    /// How long a request may take.
    deadline: Duration,
}

impl State {
    /// For one process.
    pub fn new(store: Store, seed: u64, hosts: Hosts) -> Self {
        let (catalogues, plans, shown, hub, beat) = Default::default();
        let codes = Secret::new();
        Self {
            store,
            mail: Mail::mailbox(),
            demo: None,
            contact: None,
            codes,
            seed,
            hosts,
            catalogues,
            plans,
            shown,
            hub,
            beat,
            room: Arc::new(Semaphore::new(request::MOST_AT_ONCE)),
            deadline: request::DEADLINE,
        }
    }

    /// Whether somebody reads the letters that are sent: a mail server takes them, or the demo shows them.
    fn mail_arrives(&self) -> bool {
        self.mail.leaves() || self.demo.is_some()
    }

    /// With letters going elsewhere than into a mailbox of this process.
    #[must_use]
    pub fn with_mail(self, mail: Mail) -> Self {
        Self { mail, ..self }
    }

    /// With somebody whom people ask.
    #[must_use]
    pub fn with_contact(self, email: String) -> Self {
        Self { contact: Some(email), ..self }
    }

    /// With codes of classes that are the same in every process of an installation.
    #[must_use]
    pub fn with_codes(self, secret: Secret) -> Self {
        Self { codes: secret, ..self }
    }

    /// With classes running quicker than the world, to look at a whole one in a minute.
    #[must_use]
    pub fn with_speed(self, speed: f64) -> Self {
        Self { beat: floor::beat::Beat::at_speed(speed), ..self }
    }

    /// With so long for a request: on a machine that is busy with something else, eight seconds are no sign that anything is wrong.
    #[must_use]
    pub fn with_deadline(self, deadline: Duration) -> Self {
        Self { deadline, ..self }
    }

    /// With a link that signs in as one of the demo's people.
    #[must_use]
    pub fn with_demo(self, key: Secret) -> Self {
        Self { demo: Some(key), ..self }
    }
}

/// The socket that whoever started this process hands over, as service managers do; else one at an address. One that is handed over outlives the process: what
/// comes while another takes its place waits in its queue.
///
/// # Errors
/// When the address is taken, or what is handed over is no socket.
pub fn socket(address: SocketAddr) -> std::io::Result<TcpListener> {
    match ListenFd::from_env().take_tcp_listener(0)? {
        Some(socket) => Ok(socket),
        None => TcpListener::bind(address),
    }
}

/// Runs the application on a listener until it is stopped; over HTTPS where there is something to serve it with.
///
/// # Errors
/// When the listener cannot be served.
pub fn serve_on(
    listener: TcpListener,
    state: State,
    workers: usize,
    tls: Option<Https>,
) -> std::io::Result<Server> {
    let hub = state.hub.clone();
    actix_web::rt::spawn(hub.clone().listen(state.store.clone()));
    let server = HttpServer::new(move || {
        App::new()
            .wrap(from_fn(respond::error::pages_for_errors))
            .wrap(from_fn(account::signed_out::signs_in))
            .wrap(from_fn(request::in_time))
            .wrap(from_fn(request::from_here))
            .wrap(Compress::default())
            .wrap(headers())
            .wrap(from_fn(request::head_as_get))
            .wrap(TracingLogger::<request::told::Told>::new())
            .app_data(web::Data::new(state.clone()))
            .app_data(web::PayloadConfig::new(LARGEST_FORM))
            .app_data(web::PathConfig::default().error_handler(|_, _| AppError::NoSuchPage.into()))
            .configure(health::routes)
            .configure(respond::assets::routes)
            .configure(api::routes)
            .configure(pages)
            .default_service(web::to(nothing_here))
    });
    let server = match tls {
        #[cfg(feature = "outside")]
        Some(config) => server.listen_rustls_0_23(listener, config)?,
        _ => server.listen(listener)?,
    };
    let server =
        server.workers(workers).keep_alive(KEPT_FOR).shutdown_timeout(STOP_SECONDS).disable_signals().run();
    actix_web::rt::spawn(stops(server.handle(), hub));
    Ok(server)
}

/// How long whoever was let in last may take to reach a worker.
const LAST: Duration = Duration::from_secs(1);

/// Stops a server when it is told to, so that nobody notices who asks again at a socket that goes on: first it lets nobody more in, then those who are in finish.
async fn stops(server: ServerHandle, hub: floor::hub::Hub) {
    told_to_stop().await;
    server.pause().await;
    hub.close();
    actix_web::rt::time::sleep(LAST).await;
    server.stop(true).await;
}

/// Until somebody at the terminal, or the service manager, says so.
async fn told_to_stop() {
    let Ok(mut term) = signal(SignalKind::terminate()) else { return std::future::pending().await };
    tokio::select! {
        _ = term.recv() => {}
        _ = tokio::signal::ctrl_c() => {}
    }
}

/// The pages of every feature.
fn pages(config: &mut web::ServiceConfig) {
    // Before the pages whose addresses hold an id, which theirs look like.
    back::routes(config);
    account::routes(config);
    people::routes(config);
    wall::routes(config);
    guest::routes(config);
    me::routes(config);
    week::routes(config);
    floor::routes(config);
    day::routes(config);
    gym::routes(config);
    members::routes(config);
    removed::routes(config);
    search::routes(config);
    help::routes(config);
}

/// What every answer says to browsers. Pages hold personal data, so none is kept; files with a hash say so themselves.
const HEADERS: [(&str, &str); 7] = [
    (
        "Content-Security-Policy",
        "default-src 'self'; img-src 'self' data:; frame-ancestors 'none'; form-action 'self'; base-uri 'none'; object-src 'none'",
    ),
    ("X-Content-Type-Options", "nosniff"),
    ("Referrer-Policy", "same-origin"),
    ("Cross-Origin-Opener-Policy", "same-origin"),
    ("Cross-Origin-Resource-Policy", "same-origin"),
    ("Permissions-Policy", "camera=(), geolocation=(), microphone=(), payment=(), usb=()"),
    ("Cache-Control", "no-store"),
];

fn headers() -> DefaultHeaders {
    HEADERS.into_iter().fold(DefaultHeaders::new(), DefaultHeaders::add)
}

/// An address that leads nowhere, or a method that no page has.
async fn nothing_here(request: actix_web::HttpRequest) -> Result<actix_web::HttpResponse, AppError> {
    match *request.method() {
        Method::GET | Method::POST => Err(AppError::NoSuchPage),
        _ => Ok(actix_web::HttpResponse::MethodNotAllowed()
            .insert_header(("Allow", "GET, HEAD, POST"))
            .finish()),
    }
}
