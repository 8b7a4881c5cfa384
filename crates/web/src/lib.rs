//! Pages and fragments: Actix handlers, Askama templates, static assets.
//!
//! A handler parses its input, loads rows, calls `lantern_core` and renders; a rule of the job found here
//! is in the wrong room. [`serve_on`] runs all of it on a listener.

mod assets;
mod catalogues;
mod error;
mod filters;
mod health;
mod pages;
mod plans;
mod slot;
mod view;

use std::net::TcpListener;

use actix_web::dev::Server;
use actix_web::middleware::{Compress, DefaultHeaders, from_fn};
use actix_web::{App, HttpServer, web};
use lantern_store::Store;
use tracing_actix_web::TracingLogger;

pub use catalogues::Catalogues;
pub use error::AppError;

/// Largest form that is read, in bytes; a day's text is a few thousand.
const LARGEST_FORM: usize = 256 * 1024;
/// Seconds that a stopping server gives requests to finish.
const STOP_SECONDS: u64 = 2;

/// What handlers share.
#[derive(Clone)]
pub struct State {
    /// The database.
    pub store: Store,
    /// Seed of all predictions: the same plan for everybody who looks.
    pub seed: u64,
    /// Catalogues with a gym's own names, made once for each set of names.
    pub catalogues: Catalogues,
    /// Plans made last.
    plans: plans::Plans,
}

impl State {
    /// For one process.
    pub fn new(store: Store, seed: u64) -> Self {
        Self { store, seed, catalogues: Catalogues::default(), plans: plans::Plans::default() }
    }
}

/// Runs the application on a listener until it is stopped.
///
/// # Errors
/// When the listener cannot be served.
pub fn serve_on(listener: TcpListener, state: State, workers: usize) -> std::io::Result<Server> {
    let server = HttpServer::new(move || {
        App::new()
            .wrap(from_fn(error::pages_for_errors))
            .wrap(from_fn(error::same_site_posts))
            .wrap(Compress::default())
            .wrap(
                DefaultHeaders::new()
                    .add((
                        "Content-Security-Policy",
                        "default-src 'self'; img-src 'self' data:; frame-ancestors 'none'",
                    ))
                    .add(("X-Content-Type-Options", "nosniff"))
                    .add(("Referrer-Policy", "same-origin")),
            )
            .wrap(TracingLogger::default())
            .app_data(web::Data::new(state.clone()))
            .app_data(web::FormConfig::default().limit(LARGEST_FORM).error_handler(error::form_error))
            .app_data(web::PathConfig::default().error_handler(|_, _| AppError::NoSuchPage.into()))
            .app_data(
                web::QueryConfig::default()
                    .error_handler(|error, _| AppError::Malformed(error.to_string()).into()),
            )
            .configure(health::routes)
            .configure(assets::routes)
            .configure(pages::routes)
            .default_service(web::to(async || Err::<actix_web::HttpResponse, _>(AppError::NoSuchPage)))
    });
    Ok(server.listen(listener)?.workers(workers).shutdown_timeout(STOP_SECONDS).run())
}
