//! `serve`, `load-demo` and `import`: what needs the database.

use std::collections::BTreeMap;
use std::io::Write as _;
use std::net::TcpListener;
use std::path::Path;
use std::process::ExitCode;
use std::time::Duration;

use anyhow::{Context, Result, bail};
use lantern_core::gym::Gym;
use lantern_core::roster::{Choice, Roster, read_roster};
use lantern_store::accounts::{self, Link};
use lantern_store::{Operator, Store, clock, codes, demo, gyms, members, migrate, privacy};
use lantern_web::{Hosts, Mail, State, serve_on, tls};
use sha2::{Digest, Sha256};
use tracing_subscriber::EnvFilter;
use tracing_subscriber::fmt::format::FmtSpan;

use crate::settings::Settings;

/// Serves until it is told to stop, then finishes what it is doing.
pub fn serve(settings: &Settings) -> Result<ExitCode> {
    log();
    migrate(settings.direct_url.expose()).context("the database")?;
    let listener = lantern_web::socket(settings.address).with_context(|| {
        format!(
            "cannot listen on {}: is another program there? Choose another with LANTERN_ADDRESS",
            settings.address
        )
    })?;
    let mut store = Store::new(settings.database_url.expose())?.with_direct(settings.direct_url.expose())?;
    if let Some(replica) = &settings.replica_url {
        store = store.with_replica(replica.expose())?;
    }
    let mut state =
        State::new(store.clone(), seed_of(settings.secret.expose()), Hosts(settings.hosts.clone()))
            .with_codes(lantern_store::Secret::of(settings.secret.expose()));
    if let Some((url, from)) = &settings.mail {
        state = state.with_mail(Mail::server(url.expose(), from)?);
    }
    if let Some(contact) = &settings.contact {
        state = state.with_contact(contact.clone());
    }
    if let Some(key) = &settings.demo_key {
        state = state.with_demo(lantern_store::Secret::of(key.expose()));
    }
    if let Some(speed) = settings.class_speed {
        state = state.with_speed(speed);
    }
    let tls = settings.tls.as_ref().map(|(certificate, key)| tls(certificate, key)).transpose();
    let tls = tls.context("the certificate for HTTPS")?;
    let figures = settings.metrics_address.map(crate::figures::at).transpose()?;
    tracing::info!(address = %settings.address, "serving");
    actix_web::rt::System::new().block_on(async move {
        greet(&store, settings).await?;
        if let Some(figures) = figures {
            actix_web::rt::spawn(figures);
            actix_web::rt::spawn(crate::watch::watch(store.clone()));
        }
        actix_web::rt::spawn(forgetting(store, settings.direct_url.expose().to_owned()));
        Ok::<_, anyhow::Error>(serve_on(listener, state, settings.workers, tls)?.await?)
    })?;
    tracing::info!("stopped");
    Ok(ExitCode::SUCCESS)
}

/// What whoever starts the server must know: the link of a first start, and a role in the database that nothing would hold.
async fn greet(store: &Store, settings: &Settings) -> Result<()> {
    let mut operator = Operator::at(settings.direct_url.expose()).await?;
    if operator.is_above_policies().await? {
        tracing::warn!(
            "the database role is a superuser, or passes over row security: gyms are kept apart by the program alone. Use a role of its own"
        );
    }
    if accounts::count(store).await? == 0 {
        let gym = operator.gyms().await?.first().map(|(id, ..)| *id);
        let token = accounts::link(store, Link::Owner(gym)).await?;
        let told = writeln!(
            std::io::stderr(),
            "Nobody has an account yet. Whoever opens this link within a day becomes the owner: {}://{}/start/{}",
            if settings.tls.is_some() { "https" } else { "http" },
            settings.address,
            token.expose()
        );
        told.context("the link of the first start cannot be shown")?;
    }
    Ok(())
}

/// How often it is looked whether the time for something is over.
const A_DAY: Duration = Duration::from_secs(24 * 3600);

/// Forgets what members spare where a gym's time for it is over: at the start, and every day.
async fn forgetting(store: Store, url: String) {
    loop {
        if let Err(error) = forget_old(&store, &url).await {
            tracing::error!(%error, "what is too old was not forgotten; tried again tomorrow");
        }
        actix_web::rt::time::sleep(A_DAY).await;
    }
}

async fn forget_old(store: &Store, url: &str) -> Result<()> {
    for (id, ..) in Operator::at(url).await?.gyms().await? {
        let mut rows = store.change(id).await?;
        let gym = gyms::settings(&mut rows).await?;
        let members = privacy::forget_old(&mut rows, &gym, clock::today(&gym)).await?;
        rows.keep().await?;
        if members > 0 {
            tracing::info!(gym = %id, members, "what they spare was kept long enough, and forgotten");
        }
    }
    Ok(())
}

/// Prints a link with which whoever has lost both passphrase and mailbox chooses a new passphrase.
pub fn passphrase_link(url: &str, email: &str, address: &str, without_codes: bool) -> Result<ExitCode> {
    migrate(url)?;
    let email = accounts::email(email).map_err(anyhow::Error::msg)?;
    let store = Store::new(url)?;
    runtime()?.block_on(async {
        let (account, _) =
            accounts::of_email(&store, &email).await?.with_context(|| format!("{email} has no account"))?;
        if without_codes {
            codes::drop_of(&store, account).await?;
        }
        let token = accounts::link(&store, Link::Passphrase(account)).await?;
        println!("{}/passphrase/{}", address.trim_end_matches('/'), token.expose());
        Ok::<_, anyhow::Error>(())
    })?;
    Ok(ExitCode::SUCCESS)
}

/// Stands in for a timer on the wall.
pub fn timer_stand_in(device: &str, page: &str) -> Result<ExitCode> {
    let listen =
        |address: &str| TcpListener::bind(address).with_context(|| format!("cannot listen on {address}"));
    let (device, shown) = (listen(device)?, listen(page)?);
    println!("The timer's digits: http://{page}");
    actix_web::rt::System::new().block_on(lantern_web::timer::stand_in(device, shown))?;
    Ok(ExitCode::SUCCESS)
}

/// Loads the demo gym.
pub fn load_demo(url: &str, fresh: bool) -> Result<ExitCode> {
    migrate(url)?;
    runtime()?.block_on(async {
        if fresh {
            demo::remove(url).await?;
        }
        let gym = demo::load(url, None).await?;
        crate::history::of_demo(url, gym).await
    })?;
    Ok(ExitCode::SUCCESS)
}

/// Adds the members of a roster, and the gym itself when there is none yet.
pub fn import(url: &str, roster: &Path, columns: &[String], gym: Option<&Path>) -> Result<ExitCode> {
    let bytes = std::fs::read(roster).with_context(|| roster.display().to_string())?;
    let text = String::from_utf8_lossy(&bytes);
    let Roster { members: people, errors, unknown } = read_roster(&text, &choices(columns)?);
    for error in &errors {
        eprintln!("roster {error}");
    }
    for (column, likely) in &unknown {
        let likely = likely.as_deref().unwrap_or("note");
        eprintln!(
            "roster line 1: the column `{column}` is not known; say what it is with --column '{column}={likely}', or =note, or =drop"
        );
    }
    if !errors.is_empty() || !unknown.is_empty() {
        let (rows, columns) = (errors.len(), unknown.len());
        bail!(
            "nothing was imported: {rows} rows and {columns} columns of {} cannot be read",
            roster.display()
        );
    }
    for limit in people.iter().flat_map(|member| &member.limits).filter(|limit| limit.is_unread()) {
        eprintln!("not accounted for, look at it on the member's page: `{}`", limit.text);
    }
    let own = match gym {
        Some(path) => {
            let gym =
                Gym::from_toml(&std::fs::read_to_string(path).with_context(|| path.display().to_string())?)?;
            if clock::zone_named(&gym.time_zone).is_none() {
                bail!(
                    "{}: time_zone `{}` is none; write one such as Europe/Berlin",
                    path.display(),
                    gym.time_zone
                );
            }
            Some(gym)
        }
        None => None,
    };
    migrate(url)?;
    let store = Store::new(url)?;
    runtime()?.block_on(async {
        let mut operator = Operator::at(url).await?;
        let id = match (&operator.gyms().await?[..], own) {
            ([(id, ..)], _) => *id,
            ([], Some(gym)) => operator.add_gym(&gym).await?,
            ([], None) => bail!("the database has no gym yet: name one with --gym GYM.toml"),
            (several, _) => {
                bail!("the database has {} gyms: import the roster on the page of its members", several.len())
            }
        };
        let mut scope = store.change(id).await?;
        let gym = gyms::settings(&mut scope).await?;
        members::take_in(&mut scope, &people, clock::today(&gym)).await.context("nothing was imported")?;
        scope.keep().await?;
        println!("{} members taken in", people.len());
        Ok(())
    })?;
    Ok(ExitCode::SUCCESS)
}

/// What is said of unknown columns: `Header=meaning`.
fn choices(columns: &[String]) -> Result<BTreeMap<String, Choice>> {
    let choice = |column: &String| {
        let (name, means) =
            column.rsplit_once('=').with_context(|| format!("`{column}` is not like Header=note"))?;
        let choice = Choice::named(means).with_context(|| format!("`{means}` is no column, note or drop"))?;
        Ok((name.to_owned(), choice))
    };
    columns.iter().map(choice).collect()
}

pub(crate) fn runtime() -> Result<tokio::runtime::Runtime> {
    Ok(tokio::runtime::Builder::new_current_thread().enable_all().build()?)
}

/// The same installation draws the same days; different ones need not.
fn seed_of(secret: &str) -> u64 {
    let digest = Sha256::digest(secret.as_bytes());
    u64::from_be_bytes(std::array::from_fn(|n| digest[n]))
}

/// Structured logs on standard error; every request closes with its id, status and time.
fn log() {
    let filter = EnvFilter::try_from_env("LANTERN_LOG").unwrap_or_else(|_| EnvFilter::new("info"));
    tracing_subscriber::fmt()
        .json()
        .with_env_filter(filter)
        .with_span_events(FmtSpan::CLOSE)
        .with_writer(std::io::stderr)
        // A log that cannot be written is no reason to stop; telling standard error so would be, for it is where the log goes.
        .log_internal_errors(false)
        .init();
}
