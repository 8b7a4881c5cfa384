//! PostgreSQL through Diesel: migrations, rows and queries, one file a subject.
//!
//! Rules of the job live in `lantern_core`; a query here only finds and keeps rows. Every query names the
//! gym whose rows it may see.

pub mod aliases;
pub mod bookings;
pub mod classes;
pub mod demo;
pub mod error;
pub mod gyms;
pub mod lifts;
pub mod members;
pub mod own_movements;
pub mod pieces;
mod schema;
pub mod sessions;
pub mod warmups;

use std::time::Duration;

use diesel_async::pooled_connection::deadpool::{Object, Pool};
use diesel_async::pooled_connection::{AsyncDieselConnectionManager, ManagerConfig, RecyclingMethod};
use diesel_async::{AsyncMigrationHarness, AsyncPgConnection, RunQueryDsl};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};

pub use error::StoreError;

const MIGRATIONS: EmbeddedMigrations = embed_migrations!();

/// Connections a process keeps; more were slower on two cores.
const CONNECTIONS: usize = 8;
/// How long a request waits for a connection before it says that the database is away.
const PATIENCE: Duration = Duration::from_secs(3);

/// The identity of a gym.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct GymId(pub i64);

/// A pool of connections.
#[derive(Clone)]
pub struct Store {
    pool: Pool<AsyncPgConnection>,
}

impl Store {
    /// A pool for a database URL. Nothing is connected yet.
    ///
    /// # Errors
    /// When the pool cannot be built from the settings.
    pub fn new(url: &str) -> Result<Self, StoreError> {
        let mut config = ManagerConfig::default();
        // Verified would cost a round trip for each checkout; Fast still replaces killed connections.
        config.recycling_method = RecyclingMethod::Fast;
        let manager = AsyncDieselConnectionManager::<AsyncPgConnection>::new_with_config(url, config);
        let pool = Pool::builder(manager)
            .max_size(CONNECTIONS)
            .wait_timeout(Some(PATIENCE))
            .create_timeout(Some(PATIENCE))
            .runtime(deadpool::Runtime::Tokio1)
            .build()
            .map_err(|error| StoreError::Away(error.to_string()))?;
        Ok(Self { pool })
    }

    pub(crate) async fn connection(&self) -> Result<Object<AsyncPgConnection>, StoreError> {
        self.pool.get().await.map_err(|error| StoreError::Away(error.to_string()))
    }

    /// Whether the database answers.
    ///
    /// # Errors
    /// When it does not.
    pub async fn ping(&self) -> Result<(), StoreError> {
        let mut connection = self.connection().await?;
        diesel::sql_query("select 1").execute(&mut connection).await?;
        Ok(())
    }
}

/// Brings the database's tables up to date. Runs on a thread of its own, since the migration harness
/// blocks.
///
/// # Errors
/// When the database cannot be reached or a migration fails.
pub fn migrate(url: &str) -> Result<(), StoreError> {
    let url = url.to_owned();
    std::thread::spawn(move || {
        let runtime = tokio::runtime::Builder::new_multi_thread()
            .worker_threads(1)
            .enable_all()
            .build()
            .map_err(|error| StoreError::Away(error.to_string()))?;
        runtime.block_on(async move {
            use diesel_async::AsyncConnection;
            let connection = AsyncPgConnection::establish(&url)
                .await
                .map_err(|error| StoreError::Away(error.to_string()))?;
            let mut harness = AsyncMigrationHarness::new(connection);
            harness
                .run_pending_migrations(MIGRATIONS)
                .map(|_| ())
                .map_err(|error| StoreError::Migration(error.to_string()))
        })
    })
    .join()
    .unwrap_or_else(|_| Err(StoreError::Migration("the migration stopped without a word".to_owned())))
}
