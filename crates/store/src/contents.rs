//! What a whole database holds, in a form in which two are compared; and the backups that were made of it.

use std::collections::BTreeMap;

use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel::sql_types::{BigInt, Text};
use diesel_async::RunQueryDsl;
use serde::{Deserialize, Serialize};

use crate::schema::backups;
use crate::{Operator, StoreError};

/// What a table holds.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, QueryableByName)]
pub struct TableSum {
    /// How many rows.
    #[diesel(sql_type = BigInt)]
    pub rows: i64,
    /// Of all of its rows as text, whatever their order.
    #[diesel(sql_type = Text)]
    pub sum: String,
}

/// Tables by name.
pub type Contents = BTreeMap<String, TableSum>;

/// A backup that was made.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct BackedUp {
    /// When.
    pub made_at: DateTime<Utc>,
    /// When it was restored elsewhere and compared; none where it never was.
    pub verified_at: Option<DateTime<Utc>>,
    /// How big the file is.
    pub bytes: i64,
    /// Rows of all tables.
    pub rows: i64,
}

#[derive(QueryableByName)]
struct Word {
    #[diesel(sql_type = Text)]
    word: String,
}

/// Rows are compared as text, and text depends on these.
const AS_TEXT: &str = "set timezone = 'UTC'; set datestyle = 'ISO, MDY'; set intervalstyle = 'postgres'; \
                       set bytea_output = 'hex'; set extra_float_digits = 1";

impl Operator {
    async fn words(&mut self, query: &str) -> Result<Vec<String>, StoreError> {
        let rows: Vec<Word> = diesel::sql_query(query).load(&mut self.connection).await?;
        Ok(rows.into_iter().map(|row| row.word).collect())
    }

    /// Holds the database as it is now, for this connection and for whoever is told the name of the snapshot, until the connection is gone.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn hold(&mut self) -> Result<String, StoreError> {
        diesel::sql_query("begin isolation level repeatable read, read only")
            .execute(&mut self.connection)
            .await?;
        let name = self.words("select pg_export_snapshot() as word").await?;
        Ok(name.into_iter().next().unwrap_or_default())
    }

    /// What every table holds.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn contents(&mut self) -> Result<Contents, StoreError> {
        for setting in AS_TEXT.split(';') {
            diesel::sql_query(setting).execute(&mut self.connection).await?;
        }
        let mut contents = Contents::new();
        for table in self.tables().await? {
            let sum = format!(
                "select count(*) as rows, coalesce(sum(('x' || left(md5(t::text), 16))::bit(64)::bigint::numeric), 0)::text as sum from \"{table}\" t"
            );
            let sum: TableSum = diesel::sql_query(sum).get_result(&mut self.connection).await?;
            contents.insert(table, sum);
        }
        Ok(contents)
    }

    /// The tables that there are.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn tables(&mut self) -> Result<Vec<String>, StoreError> {
        self.words("select tablename::text as word from pg_tables where schemaname = 'public' order by 1")
            .await
    }

    /// The newest migration that was run: `20261127000023`; nothing in a database without tables.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn migration(&mut self) -> Result<String, StoreError> {
        let newest = "select coalesce(max(version), '')::text as word from __diesel_schema_migrations";
        Ok(self.words(newest).await?.into_iter().next().unwrap_or_default())
    }

    /// Makes an empty database beside this one.
    ///
    /// # Errors
    /// When the role may not, or the name is taken.
    pub async fn make_database(&mut self, name: &str) -> Result<(), StoreError> {
        diesel::sql_query(format!("create database \"{name}\"")).execute(&mut self.connection).await?;
        Ok(())
    }

    /// Drops a database that [`make_database`](Self::make_database) has made.
    ///
    /// # Errors
    /// When somebody is still connected to it.
    pub async fn drop_database(&mut self, name: &str) -> Result<(), StoreError> {
        let drop = format!("drop database if exists \"{name}\" with (force)");
        diesel::sql_query(drop).execute(&mut self.connection).await?;
        Ok(())
    }

    /// Notes that a backup was made, and whether it was proven.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn note_backup(&mut self, made: &BackedUp) -> Result<(), StoreError> {
        let row = (
            backups::made_at.eq(made.made_at),
            backups::verified_at.eq(made.verified_at),
            backups::bytes.eq(made.bytes),
            backups::rows.eq(made.rows),
        );
        diesel::insert_into(backups::table).values(row).execute(&mut self.connection).await?;
        Ok(())
    }
}

/// The newest backup, and the newest that was proven.
///
/// # Errors
/// When the database is away.
pub async fn last_backups(store: &crate::Store) -> Result<[Option<BackedUp>; 2], StoreError> {
    type Row = (DateTime<Utc>, Option<DateTime<Utc>>, i64, i64);
    let mut connection = store.connection().await?;
    let newest = backups::table.order(backups::made_at.desc()).select((
        backups::made_at,
        backups::verified_at,
        backups::bytes,
        backups::rows,
    ));
    let stored = |(made_at, verified_at, bytes, rows): Row| BackedUp { made_at, verified_at, bytes, rows };
    let last: Option<Row> = newest.first(&mut connection).await.optional()?;
    let proven = newest.filter(backups::verified_at.is_not_null());
    let proven: Option<Row> = proven.first(&mut connection).await.optional()?;
    Ok([last.map(stored), proven.map(stored)])
}
