//! `serve`, `load-demo` and `import`: what needs the database.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::net::TcpListener;
use std::path::Path;
use std::process::ExitCode;

use anyhow::{Context, Result, bail};
use chrono::Utc;
use lantern_core::gym::Gym;
use lantern_core::member::roster_from_csv;
use lantern_store::{Store, demo, gyms, members, migrate};
use lantern_web::{State, serve_on};
use tracing_subscriber::EnvFilter;
use tracing_subscriber::fmt::format::FmtSpan;

use crate::settings::Settings;

/// Serves until it is told to stop, then finishes what it is doing.
pub fn serve(settings: &Settings) -> Result<ExitCode> {
    log();
    migrate(&settings.database_url).context("the database")?;
    let listener = TcpListener::bind(settings.address).with_context(|| {
        format!(
            "cannot listen on {}: is another program there? Choose another with LANTERN_ADDRESS",
            settings.address
        )
    })?;
    let state = State::new(Store::new(&settings.database_url)?, seed_of(&settings.secret));
    tracing::info!(address = %settings.address, "serving");
    actix_web::rt::System::new()
        .block_on(async move { serve_on(listener, state, settings.workers)?.await })?;
    tracing::info!("stopped");
    Ok(ExitCode::SUCCESS)
}

/// Loads the demo gym.
pub fn load_demo(url: &str, fresh: bool) -> Result<ExitCode> {
    migrate(url)?;
    let store = Store::new(url)?;
    runtime()?.block_on(async {
        if fresh {
            gyms::remove_all(&store).await?;
        }
        demo::load(&store, Utc::now().date_naive()).await
    })?;
    Ok(ExitCode::SUCCESS)
}

/// Adds the members of a roster, and the gym itself when there is none yet.
pub fn import(url: &str, roster: &Path, gym: Option<&Path>) -> Result<ExitCode> {
    let text = std::fs::read_to_string(roster).with_context(|| roster.display().to_string())?;
    let (people, errors) = roster_from_csv(&text);
    for error in &errors {
        eprintln!("{error}");
    }
    if !errors.is_empty() {
        bail!("nothing was imported: {} rows of {} cannot be read", errors.len(), roster.display());
    }
    let own = match gym {
        Some(path) => {
            Some(Gym::from_toml(&std::fs::read_to_string(path).with_context(|| path.display().to_string())?)?)
        }
        None => None,
    };
    migrate(url)?;
    let store = Store::new(url)?;
    runtime()?.block_on(async {
        let id = match (gyms::first(&store).await?, own) {
            (Some((id, _)), _) => id,
            (None, Some(gym)) => gyms::add(&store, &gym).await?,
            (None, None) => bail!("the database has no gym yet: name one with --gym GYM.toml"),
        };
        for member in &people {
            members::add(&store, id, member, Utc::now().date_naive(), "stated")
                .await
                .with_context(|| format!("{} was not added", member.name))?;
        }
        println!("{} members added", people.len());
        Ok(())
    })?;
    Ok(ExitCode::SUCCESS)
}

fn runtime() -> Result<tokio::runtime::Runtime> {
    Ok(tokio::runtime::Builder::new_current_thread().enable_all().build()?)
}

/// The same installation draws the same days; different ones need not.
fn seed_of(secret: &str) -> u64 {
    let mut hasher = DefaultHasher::new();
    secret.hash(&mut hasher);
    hasher.finish()
}

/// Structured logs on standard error; every request closes with its id, status and time.
fn log() {
    let filter = EnvFilter::try_from_env("LANTERN_LOG").unwrap_or_else(|_| EnvFilter::new("info"));
    tracing_subscriber::fmt()
        .json()
        .with_env_filter(filter)
        .with_span_events(FmtSpan::CLOSE)
        .with_writer(std::io::stderr)
        .init();
}
