//! Who is who: signing in, joining, passphrases, one's own account.

mod back;
mod code;
mod demo;
pub(crate) mod joining;
pub(crate) mod onward;
pub(crate) mod own;
pub(crate) mod passphrase;
mod privacy;
pub(crate) mod sign_in;
pub(crate) mod signed_out;

use actix_web::http::header;
use actix_web::{HttpRequest, web};
use askama::Template;
use lantern_store::passphrase as rules;
use lantern_store::throttle::{self, Whose};

use crate::State;
use crate::respond::error::AppError;
use crate::respond::filters;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    sign_in::routes(config);
    passphrase::routes(config);
    joining::routes(config);
    own::routes(config);
    code::routes(config);
    demo::routes(config);
    privacy::routes(config);
}

/// A page on which somebody without an account says who they are, or chooses a passphrase.
#[derive(Template)]
#[template(path = "account/passphrase.html")]
struct PassphrasePage {
    title: String,
    about: String,
    fields: Vec<Field>,
    /// Whether a passphrase is asked for, and whether it is one that they have already.
    asks: bool,
    known: bool,
    button: &'static str,
    wrong: Option<String>,
    shortest: usize,
}

impl PassphrasePage {
    fn new(title: &str, about: String, button: &'static str) -> Self {
        let (title, fields, asks, known, wrong) = (title.to_owned(), Vec::new(), true, false, None);
        Self { title, about, fields, asks, known, button, wrong, shortest: rules::SHORTEST }
    }
}

/// A field beside the passphrase, as typed.
struct Field {
    label: &'static str,
    name: &'static str,
    value: String,
}

/// A word to somebody who has nothing to fill in.
#[derive(Template)]
#[template(path = "account/told.html")]
struct ToldPage {
    title: &'static str,
    words: String,
}

/// Counts an attempt by its account and its address.
///
/// # Errors
/// When it comes too early.
async fn attempt(state: &State, request: &HttpRequest, email: &str) -> Result<(), AppError> {
    for whose in [Whose::Account(email), Whose::Address(&address(request))] {
        if let Some(seconds) = throttle::attempt(&state.store, whose).await? {
            let words = format!("Too many attempts: the next one is taken in {seconds} s.");
            return Err(AppError::TooFast(words));
        }
    }
    Ok(())
}

/// Where a request comes from. What a proxy says of it counts only when the proxy is on this machine.
fn address(request: &HttpRequest) -> String {
    let peer = request.peer_addr().map(|peer| peer.ip());
    let near = peer.is_some_and(|peer| peer.is_loopback());
    let told = request.headers().get("X-Forwarded-For").and_then(|told| told.to_str().ok());
    match told.filter(|_| near) {
        Some(told) => last_told(told).to_owned(),
        None => peer.map_or_else(String::new, |peer| peer.to_string()),
    }
}

/// The address that the nearest proxy has seen: it adds its own at the end, and what stands before it anybody can have written.
fn last_told(told: &str) -> &str {
    told.rsplit(',').next().unwrap_or_default().trim()
}

/// An address of this server as whoever asks knows it, for letters. Its name is the one that was checked to be ours, whatever a header besides says.
pub(crate) fn link(request: &HttpRequest, path: &str) -> String {
    let host = request.headers().get(header::HOST).and_then(|host| host.to_str().ok()).unwrap_or("localhost");
    format!("{}://{host}{path}", request.connection_info().scheme())
}

#[cfg(test)]
mod tests {
    use super::last_told;

    #[test]
    fn an_address_is_the_one_that_the_nearest_proxy_has_seen() {
        assert_eq!(last_told("203.0.113.7"), "203.0.113.7");
        assert_eq!(last_told("198.51.100.1, 192.0.2.9 , 203.0.113.7"), "203.0.113.7");
    }
}
