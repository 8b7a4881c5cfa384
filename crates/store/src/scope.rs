//! The one door to a gym's rows: a transaction in which PostgreSQL itself shows no other gym's.
//!
//! Every query of the other files passes a [`GymScope`]; there is no other way to a gym's tables. The queries name the gym as well,
//! which finds the rows; the policies of the tables (`migrations`) are the second wall, for the day on which one forgets to.

use std::fmt;
use std::time::Duration;

use diesel_async::pooled_connection::deadpool::Object;
use diesel_async::{AnsiTransactionManager, AsyncPgConnection, TransactionManager};

use crate::{Store, StoreError};

/// How long a transaction that was left may take to be rolled back before its connection is given up.
const LEAVING: Duration = Duration::from_secs(3);

/// The identity of a gym. Whoever has one has signed in, or runs the server: none can be made of a number that came from elsewhere.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct GymId(pub(crate) i64);

impl GymId {
    /// Its number, for what is kept apart by gym; it leads to no rows.
    pub const fn number(self) -> i64 {
        self.0
    }
}

impl fmt::Display for GymId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.fmt(f)
    }
}

/// What is done in a transaction.
#[derive(Clone, Copy)]
pub(crate) enum Aim {
    /// One picture of the rows, however many queries look; nothing is written.
    Look,
    /// Rows change, and are kept by [`GymScope::keep`] only.
    Change,
}

impl Aim {
    const fn begin(self) -> &'static str {
        match self {
            Self::Look => "begin isolation level repeatable read, read only",
            Self::Change => "begin",
        }
    }
}

/// One gym's rows, in one transaction on one connection. Left without [`keep`](Self::keep), whatever was changed is as it was before.
pub struct GymScope {
    pub(crate) gym: GymId,
    /// There until the transaction ends.
    connection: Option<Object<AsyncPgConnection>>,
}

impl Store {
    /// A gym's rows to look at.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn look(&self, gym: GymId) -> Result<GymScope, StoreError> {
        self.enter(gym, Aim::Look).await
    }

    /// A gym's rows to change.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn change(&self, gym: GymId) -> Result<GymScope, StoreError> {
        self.enter(gym, Aim::Change).await
    }

    async fn enter(&self, gym: GymId, aim: Aim) -> Result<GymScope, StoreError> {
        GymScope::begin(self.connection().await?, gym, aim).await
    }
}

impl GymScope {
    pub(crate) async fn begin(
        mut connection: Object<AsyncPgConnection>,
        gym: GymId,
        aim: Aim,
    ) -> Result<Self, StoreError> {
        // Both in one message: a number needs no quoting, and the setting goes with the transaction.
        let begin = format!("{}; select set_config('lantern.gym', '{gym}', true)", aim.begin());
        AnsiTransactionManager::begin_transaction_sql(&mut *connection, &begin).await?;
        Ok(Self { gym, connection: Some(connection) })
    }

    /// Whose rows these are.
    pub fn gym(&self) -> GymId {
        self.gym
    }

    /// Where queries go.
    pub(crate) fn connection(&mut self) -> &mut AsyncPgConnection {
        self.connection.as_mut().expect("a scope has its connection until it ends")
    }

    /// Keeps what was changed.
    ///
    /// # Errors
    /// When the database is away, or does not take it; then nothing was changed.
    pub async fn keep(mut self) -> Result<(), StoreError> {
        let Some(mut connection) = self.connection.take() else { return Ok(()) };
        Ok(AnsiTransactionManager::commit_transaction(&mut *connection).await?)
    }
}

impl Drop for GymScope {
    /// Ends the transaction behind whoever leaves, who need not wait for it.
    fn drop(&mut self) {
        let Some(mut connection) = self.connection.take() else { return };
        let Ok(runtime) = tokio::runtime::Handle::try_current() else { return };
        runtime.spawn(async move {
            let ended = AnsiTransactionManager::rollback_transaction(&mut *connection);
            if !matches!(tokio::time::timeout(LEAVING, ended).await, Ok(Ok(()))) {
                drop(Object::take(connection));
            }
        });
    }
}
