//! A copy of the database that follows it, asked instead of it for what it has followed far enough to know.
//!
//! How far is told by the gym's version, which grows with whatever a plan or a page is made from: whoever has just written something is never shown what was there
//! before. A copy that is behind, or away, costs a moment and is never seen; what is written goes to the database alone.

use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};

use diesel::prelude::*;
use diesel::sql_types::{BigInt, Text};
use diesel_async::pooled_connection::deadpool::{Object, Pool};
use diesel_async::{AsyncPgConnection, RunQueryDsl};

use crate::schema::gyms;
use crate::scope::Aim;
use crate::{GymId, GymScope, Store, StoreError};

/// How long it may take to say how far it is.
const PATIENCE: Duration = Duration::from_millis(300);
/// How long one that was away is asked nothing.
const LEFT_ALONE: Duration = Duration::from_secs(5);

/// A copy that follows.
#[derive(Clone)]
pub(crate) struct Replica {
    pool: Pool<AsyncPgConnection>,
    left_alone: Arc<Mutex<Option<Instant>>>,
}

/// How far a copy is behind.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Lag {
    /// Bytes of the log of changes that it has not taken in.
    pub bytes: i64,
}

#[derive(diesel::QueryableByName)]
struct Place {
    #[diesel(sql_type = Text)]
    place: String,
}

#[derive(diesel::QueryableByName)]
struct Bytes {
    #[diesel(sql_type = BigInt)]
    bytes: i64,
}

impl Replica {
    pub(crate) fn at(pool: Pool<AsyncPgConnection>) -> Self {
        Self { pool, left_alone: Arc::default() }
    }

    fn is_left_alone(&self) -> bool {
        let since = *self.left_alone.lock().unwrap_or_else(PoisonError::into_inner);
        since.is_some_and(|since| since.elapsed() < LEFT_ALONE)
    }

    /// Asks it nothing for a while, and never again on the connections of before.
    pub(crate) fn leave_alone(&self) {
        *self.left_alone.lock().unwrap_or_else(PoisonError::into_inner) = Some(Instant::now());
        self.pool.retain(|_, _| false);
    }

    async fn look(&self, gym: GymId, version: i64) -> Option<GymScope> {
        if self.is_left_alone() {
            return None;
        }
        let asked = async {
            let connection = self.pool.get().await.map_err(|error| StoreError::Away(error.to_string()))?;
            let mut scope = GymScope::begin(connection, gym, Aim::Look).await?;
            let row = gyms::table.filter(gyms::id.eq(gym.0)).select(gyms::version);
            let known: Option<i64> = row.first(scope.connection()).await.optional()?;
            Ok::<_, StoreError>((scope, known))
        };
        let (outcome, scope) = match tokio::time::timeout(PATIENCE, asked).await {
            Ok(Ok((scope, known))) if known.is_some_and(|known| known >= version) => ("asked", Some(scope)),
            Ok(Ok(_)) => ("behind", None),
            Ok(Err(_)) | Err(_) => {
                self.leave_alone();
                ("away", None)
            }
        };
        metrics::counter!("lantern_replica_total", "outcome" => outcome).increment(1);
        scope
    }
}

impl Store {
    /// With a copy that follows the database.
    ///
    /// # Errors
    /// When its URL is none.
    pub fn with_replica(self, url: &str) -> Result<Self, StoreError> {
        Ok(Self {
            replica: Some(Replica::at(crate::pool(
                &crate::connect::Target::new(url)?,
                url,
                crate::PATIENCE,
            )?)),
            ..self
        })
    }

    /// A gym's rows to look at, as they were at a version of the gym or later: those of the copy where it has come so far. For what follows from the version alone.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn look_since(&self, gym: GymId, version: i64) -> Result<GymScope, StoreError> {
        let followed = match &self.replica {
            Some(replica) => replica.look(gym, version).await,
            None => None,
        };
        match followed {
            Some(scope) => Ok(scope),
            None => self.look(gym).await,
        }
    }

    /// How far the copy is behind; nothing where there is none.
    ///
    /// # Errors
    /// When one of the two is away.
    pub async fn lag(&self) -> Result<Option<Lag>, StoreError> {
        let Some(replica) = &self.replica else { return Ok(None) };
        let away = |error: &dyn std::fmt::Display| StoreError::Away(format!("the replica: {error}"));
        let mut followed: Object<AsyncPgConnection> =
            replica.pool.get().await.map_err(|error| away(&error))?;
        // Asked first: what comes while it answers counts as behind.
        let here: Place = diesel::sql_query("select pg_current_wal_lsn()::text as place")
            .get_result(&mut *self.connection().await?)
            .await?;
        let lag =
            "select pg_wal_lsn_diff($1::pg_lsn, coalesce(pg_last_wal_replay_lsn(), '0/0'))::bigint as bytes";
        let lag = diesel::sql_query(lag).bind::<Text, _>(here.place);
        let Bytes { bytes } = lag.get_result(&mut *followed).await?;
        Ok(Some(Lag { bytes: bytes.max(0) }))
    }
}
