//! PostgreSQL through Diesel: migrations, rows and queries, one file a subject.
//!
//! Rules of the job live in `lantern_core`; a query here only finds and keeps rows. Every query passes the [`GymScope`] of
//! the gym whose rows it may see. What coaches decide is only ever inserted ([`decisions`]), settings are changed under a lock,
//! and nothing is read, changed and written back across two queries.

pub mod accounts;
pub mod aliases;
pub mod bookings;
pub mod classes;
pub mod clock;
pub mod codes;
mod connect;
pub mod contents;
pub mod day;
pub mod decisions;
pub mod demo;
pub mod error;
pub mod founding;
mod functions;
pub mod gyms;
pub mod habits;
pub mod health_views;
mod identify;
mod ids;
pub mod keys;
mod learned;
pub mod lifts;
pub mod members;
pub mod memberships;
pub mod moving;
pub mod name_shown;
pub mod operator;
pub mod own_movements;
pub mod passphrase;
pub mod past;
pub mod person;
pub mod pieces;
pub mod privacy;
pub mod removals;
mod replica;
pub mod restore;
pub mod results;
pub mod role;
pub mod rows;
pub mod running;
mod schema;
mod scope;
pub mod search;
pub mod secrets;
pub mod sessions;
pub mod throttle;
mod words;

use std::sync::Arc;
use std::time::{Duration, Instant};

use diesel::migration::MigrationSource;
use diesel::pg::Pg;
use diesel_async::pooled_connection::deadpool::{Object, Pool};
use diesel_async::pooled_connection::{AsyncDieselConnectionManager, ManagerConfig, RecyclingMethod};
use diesel_async::{AsyncMigrationHarness, AsyncPgConnection, RunQueryDsl};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};

pub use accounts::AccountId;
pub use error::StoreError;
pub use ids::{ClassId, DecisionId, LiftId, MemberId, PieceId, ResultId};
pub use operator::Operator;
pub use replica::Lag;
pub use role::Role;
pub use scope::{GymId, GymScope};
pub use secrets::Secret;

const MIGRATIONS: EmbeddedMigrations = embed_migrations!();

/// Connections a process keeps; more were slower on two cores.
const CONNECTIONS: usize = 8;
/// How long a request waits for a connection before it says that the database is away, where nothing else is asked for.
const PATIENCE: Duration = Duration::from_secs(3);
/// How long an idle connection may take to show that it still works, when there is doubt.
const DOUBT: Duration = Duration::from_millis(800);

/// A pool of connections.
#[derive(Clone)]
pub struct Store {
    pool: Pool<AsyncPgConnection>,
    /// Connections made before this moment are not trusted: a request has waited for one in vain.
    doubted: Arc<std::sync::Mutex<Option<Instant>>>,
    /// Past a pooler, where one stands between: for what needs a connection of its own for longer than a transaction.
    direct: connect::Target,
    replica: Option<replica::Replica>,
}

/// Connections to a target, made as they are needed.
fn pool(
    target: &connect::Target,
    url: &str,
    patience: Duration,
) -> Result<Pool<AsyncPgConnection>, StoreError> {
    let mut config = ManagerConfig::default();
    // Verified would cost a round trip for each checkout; Fast still replaces killed connections, and those that
    // a request has waited for in vain are replaced by `connection`.
    config.recycling_method = RecyclingMethod::Fast;
    let target = target.clone();
    config.custom_setup = Box::new(move |_| {
        let target = target.clone();
        Box::pin(async move { target.connect().await })
    });
    let manager = AsyncDieselConnectionManager::<AsyncPgConnection>::new_with_config(url, config);
    Pool::builder(manager)
        .max_size(CONNECTIONS)
        .wait_timeout(Some(patience))
        .create_timeout(Some(patience))
        .recycle_timeout(Some(DOUBT))
        .runtime(deadpool::Runtime::Tokio1)
        .build()
        .map_err(|error| StoreError::Away(error.to_string()))
}

impl Store {
    /// A pool for a database URL. Nothing is connected yet.
    ///
    /// # Errors
    /// When the pool cannot be built from the settings.
    pub fn new(url: &str) -> Result<Self, StoreError> {
        Self::patient(url, PATIENCE)
    }

    /// A pool whose requests wait so long for a connection, and as much longer for everything else. On a machine that is busy with
    /// something else three seconds say nothing about the database.
    ///
    /// # Errors
    /// When the pool cannot be built from the settings.
    pub fn patient(url: &str, patience: Duration) -> Result<Self, StoreError> {
        let direct = connect::Target::patient(url, patience)?;
        let pool = pool(&direct, url, patience)?;
        Ok(Self { pool, doubted: Arc::default(), direct, replica: None })
    }

    /// With another way to the same database, past a pooler in transaction mode, over which nobody can listen.
    ///
    /// # Errors
    /// When the URL cannot be used.
    pub fn with_direct(self, url: &str) -> Result<Self, StoreError> {
        Ok(Self { direct: connect::Target::new(url)?, ..self })
    }

    pub(crate) async fn connection(&self) -> Result<Object<AsyncPgConnection>, StoreError> {
        let asked = Instant::now();
        let connection = self.next_connection().await;
        metrics::histogram!("lantern_pool_wait_seconds").record(asked.elapsed());
        connection
    }

    async fn next_connection(&self) -> Result<Object<AsyncPgConnection>, StoreError> {
        loop {
            let connection = self.pool.get().await.map_err(|error| StoreError::Away(error.to_string()))?;
            let doubted = *self.doubted.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
            if doubted.is_none_or(|since| Object::metrics(&connection).created > since) {
                return Ok(connection);
            }
            // On a silent network an old connection never says that it is dead: it is closed, and a new one made.
            drop(Object::take(connection));
        }
    }

    /// Says that a request has waited in vain: connections of before are not used again. New ones are made at once,
    /// so a database that was only slow costs eight of them.
    pub fn doubt(&self) {
        *self.doubted.lock().unwrap_or_else(std::sync::PoisonError::into_inner) = Some(Instant::now());
        // Nor is the copy trusted: it may have been the one that was waited for.
        self.replica.iter().for_each(replica::Replica::leave_alone);
    }

    /// A connection of its own that hears what changes about classes.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn listen(&self) -> Result<running::Listener, StoreError> {
        running::Listener::at(&self.direct).await
    }

    /// Whether the database answers and can be written to: a full disk is no readiness.
    ///
    /// # Errors
    /// When it does not, or has no room left.
    pub async fn ready(&self) -> Result<(), StoreError> {
        use diesel_async::AsyncConnection;
        let mut connection = self.connection().await?;
        connection
            .transaction(async |connection| {
                // A page of a table that is gone with the transaction: nothing less shows that there is room.
                diesel::sql_query(
                    "create temporary table room_left on commit drop as select repeat('x', 100) from generate_series(1, 200)",
                )
                .execute(connection)
                .await?;
                Ok(())
            })
            .await
    }
}

/// Serialises migrations of processes that start at the same moment; any number does that no other program uses.
const MIGRATION_LOCK: i64 = 0x1a47_e21b;

/// The newest migration that this program knows, as the database numbers them.
pub fn newest_migration() -> String {
    let known = MigrationSource::<Pg>::migrations(&MIGRATIONS).unwrap_or_default();
    known.iter().map(|migration| migration.name().version().to_string()).max().unwrap_or_default()
}

/// Brings the database's tables up to date. Runs on a thread of its own, since the migration harness
/// blocks. Of several processes that start at once one migrates and the others wait for it.
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
            let target = connect::Target::new(&url)?.for_the_operator();
            let connect =
                async || target.connect().await.map_err(|error| StoreError::Away(error.to_string()));
            let mut guard = connect().await?;
            diesel::sql_query(format!("select pg_advisory_lock({MIGRATION_LOCK})"))
                .execute(&mut guard)
                .await?;
            let mut harness = AsyncMigrationHarness::new(connect().await?);
            // The lock goes with its connection.
            harness
                .run_pending_migrations(MIGRATIONS)
                .map_err(|error| StoreError::Migration(error.to_string()))?;
            identify::days(Operator::over(connect().await?), &Store::new(&url)?).await
        })
    })
    .join()
    .unwrap_or_else(|_| Err(StoreError::Migration("the migration stopped without a word".to_owned())))
}
