//! A connection with limits on every wait, over TLS when the URL asks for it.

#[cfg_attr(feature = "outside", path = "connect/tls.rs")]
#[cfg_attr(not(feature = "outside"), path = "connect/no_tls.rs")]
mod tls;

use std::time::Duration;

use diesel::{ConnectionError, ConnectionResult};
use diesel_async::AsyncPgConnection;
use tokio_postgres::config::SslMode;
use tokio_postgres::{Config, NoTls};

use crate::{PATIENCE, StoreError};

/// How long the kernel waits for what it has sent to be acknowledged.
const UNACKNOWLEDGED: Duration = Duration::from_secs(8);
/// How long a connection is idle before it is asked whether it is still there.
const KEEP_ALIVE: Duration = Duration::from_secs(15);

/// Limits that the server keeps, where connecting may take so long: a lock as long, a statement somewhat longer, a transaction in which nothing
/// happens longer still.
fn limits(patience: Duration) -> String {
    let ms = patience.as_millis();
    let (statement, idle) = (ms * 5 / 3, ms * 10 / 3);
    format!(
        "-c statement_timeout={statement} -c lock_timeout={ms} -c idle_in_transaction_session_timeout={idle}"
    )
}

/// Where the database is and how it is spoken to.
#[derive(Clone)]
pub(crate) struct Target {
    config: Config,
    tls: Option<tls::Connect>,
}

impl Target {
    /// From a URL. `sslmode` is `disable`, `prefer`, `require` (encrypted, whoever answers), `verify-ca` or `verify-full` (the
    /// certificate must be good for the host, by the system's roots or by those in the file `sslrootcert`).
    pub fn new(url: &str) -> Result<Self, StoreError> {
        Self::patient(url, PATIENCE)
    }

    /// Likewise, where connecting may take so long; the server's own limits follow from it.
    pub fn patient(url: &str, patience: Duration) -> Result<Self, StoreError> {
        let refused = |why: String| StoreError::Away(format!("the database URL cannot be used: {why}"));
        let (plain, mode, roots) = without_tls_words(url);
        let mut config: Config =
            plain.parse().map_err(|error: tokio_postgres::Error| refused(error.to_string()))?;
        config
            .connect_timeout(patience)
            .tcp_user_timeout(UNACKNOWLEDGED)
            .keepalives(true)
            .keepalives_idle(KEEP_ALIVE);
        let own = config.get_options().map_or(String::new(), |own| format!(" {own}"));
        config.options(format!("{}{own}", limits(patience)));
        let tls = match mode.as_deref() {
            None | Some("disable" | "allow" | "prefer") => {
                // Nothing is gained by trying TLS first when plain text is taken as well.
                config.ssl_mode(SslMode::Disable);
                None
            }
            Some("require") if roots.is_none() => {
                config.ssl_mode(SslMode::Require);
                Some(tls::encrypted_only()?)
            }
            Some("require" | "verify-ca" | "verify-full") => {
                config.ssl_mode(SslMode::Require);
                Some(tls::verified(roots.as_deref())?)
            }
            Some(other) => return Err(refused(format!("sslmode is `{other}`"))),
        };
        Ok(Self { config, tls })
    }

    /// For whoever runs the server: a statement may take as long as it takes, and every gym's rows are shown.
    pub fn for_the_operator(mut self) -> Self {
        self.config.options("-c lantern.operator=on");
        self
    }

    pub async fn connect(&self) -> ConnectionResult<AsyncPgConnection> {
        let bad = |error: tokio_postgres::Error| ConnectionError::BadConnection(told(&error));
        match &self.tls {
            Some(tls) => {
                let (client, connection) = self.config.connect(tls.clone()).await.map_err(bad)?;
                AsyncPgConnection::try_from_client_and_connection(client, connection).await
            }
            None => {
                let (client, connection) = self.config.connect(NoTls).await.map_err(bad)?;
                AsyncPgConnection::try_from_client_and_connection(client, connection).await
            }
        }
    }
}

/// The error with what is behind it: "error connecting to server" alone tells nobody anything.
fn told(error: &tokio_postgres::Error) -> String {
    std::error::Error::source(error).map_or(error.to_string(), |source| format!("{error}: {source}"))
}

/// The URL without `sslmode` and `sslrootcert`, of which the driver knows only some values, and those.
fn without_tls_words(url: &str) -> (String, Option<String>, Option<String>) {
    let Some((base, query)) = url.split_once('?') else { return (url.to_owned(), None, None) };
    let (mut mode, mut roots, mut rest) = (None, None, Vec::new());
    for pair in query.split('&') {
        match pair.split_once('=') {
            Some(("sslmode", value)) => mode = Some(value.to_owned()),
            Some(("sslrootcert", value)) => roots = Some(value.replace("%2F", "/").replace("%2f", "/")),
            _ => rest.push(pair),
        }
    }
    let plain = if rest.is_empty() { base.to_owned() } else { format!("{base}?{}", rest.join("&")) };
    (plain, mode, roots)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_about_tls_are_taken_out_of_the_url_and_the_rest_stays() {
        let url =
            "postgres://u:p@host/db?sslmode=verify-full&application_name=x&sslrootcert=%2Fetc%2Froot.pem";
        let (plain, mode, roots) = without_tls_words(url);
        assert_eq!(plain, "postgres://u:p@host/db?application_name=x");
        assert_eq!((mode.as_deref(), roots.as_deref()), (Some("verify-full"), Some("/etc/root.pem")));
        assert!(Target::new("postgres://u@host/db?sslmode=sometimes").is_err());
        assert_eq!(Target::new("postgres://u@host/db?sslmode=require").is_ok(), cfg!(feature = "outside"));
        assert!(Target::new("postgres://u@host/db").unwrap().tls.is_none());
    }
}
