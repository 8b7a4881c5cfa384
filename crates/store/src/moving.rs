//! One gym's rows as they are, out of a database and into another one.
//!
//! A row's id means something only together with its gym, which stands first in every key and reference; so rows keep their ids, the gym gets a new one, and
//! accounts, which belong to several gyms, are found again by their address or made anew.

use std::collections::BTreeMap;

use diesel::prelude::*;
use diesel::sql_types::{BigInt, Text};
use diesel_async::{AsyncConnection, RunQueryDsl};
use serde_json::Value;

use crate::contents::{Contents, TableSum};
use crate::schema::gyms;
use crate::{GymId, Operator, StoreError};

/// Tables that stay behind: who is signed in, links and invitations under way, and what opens doors to programs and screens.
const STAY: [&str; 4] = ["login_sessions", "one_time_links", "invitations", "keys"];

/// A row with the name of its table; what belongs to a database alone is left out of it.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize)]
pub struct MovedRow {
    /// The table.
    pub table: String,
    /// Its columns by name, as PostgreSQL writes them in JSON.
    pub row: Value,
}

#[derive(QueryableByName)]
struct OneText {
    #[diesel(sql_type = Text)]
    text: String,
}

#[derive(QueryableByName)]
struct OneNumber {
    #[diesel(sql_type = BigInt)]
    number: i64,
}

/// The tables that belong to gyms, each after those that its rows refer to.
const OF_GYMS: &str = "with recursive of_gyms as (\
    select c.oid, c.relname::text as name from pg_class c join pg_attribute a on a.attrelid = c.oid \
    where c.relkind = 'r' and c.relnamespace = 'public'::regnamespace and a.attname = 'gym_id' and not a.attisdropped), \
  depth(oid, deep) as (\
    select oid, 0 from of_gyms \
    union select r.conrelid, d.deep + 1 from depth d join pg_constraint r on r.confrelid = d.oid and r.contype = 'f' \
      and r.conrelid <> r.confrelid join of_gyms o on o.oid = r.conrelid) \
  select o.name as text from of_gyms o join depth using (oid) group by o.name order by max(deep), o.name";

impl Operator {
    /// The tables that go along with a gym, in the order in which they come in again.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn moving_tables(&mut self) -> Result<Vec<String>, StoreError> {
        let all: Vec<OneText> = diesel::sql_query(OF_GYMS).load(&mut self.connection).await?;
        let all = all.into_iter().map(|table| table.text);
        Ok(all.filter(|table| !STAY.contains(&table.as_str())).collect())
    }

    /// The gym itself, the accounts that its rows name by address, and all of its rows, table by table.
    ///
    /// # Errors
    /// When the database is away, or there is no such gym.
    pub async fn rows_of(&mut self, gym: GymId) -> Result<Vec<MovedRow>, StoreError> {
        let mut rows = Vec::new();
        self.take(&mut rows, ("gyms", "to_jsonb(t) - 'id' - 'version' - 'changed_in'"), "id = $1", gym)
            .await?;
        if rows.is_empty() {
            return Err(StoreError::NotFound("gym"));
        }
        let account = "jsonb_build_object('id', t.id, 'email', t.email)";
        self.take(&mut rows, ("accounts", account), "gyms @> array[$1]", gym).await?;
        for table in self.moving_tables().await? {
            self.take(&mut rows, (&table, "to_jsonb(t) - 'gym_id'"), "gym_id = $1", gym).await?;
        }
        Ok(rows)
    }

    async fn take(
        &mut self,
        rows: &mut Vec<MovedRow>,
        (table, columns): (&str, &str),
        of: &str,
        gym: GymId,
    ) -> Result<(), StoreError> {
        let all = format!("select ({columns})::text as text from \"{table}\" t where {of} order by 1");
        let all: Vec<OneText> =
            diesel::sql_query(all).bind::<BigInt, _>(gym.0).load(&mut self.connection).await?;
        for OneText { text } in all {
            let row = serde_json::from_str(&text).map_err(StoreError::unreadable("row"))?;
            rows.push(MovedRow { table: table.to_owned(), row });
        }
        Ok(())
    }

    /// What every table holds of a gym, in a form in which two databases are compared.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn contents_of(&mut self, gym: GymId) -> Result<Contents, StoreError> {
        let mut contents = Contents::new();
        for table in self.moving_tables().await? {
            let sum = format!(
                "select count(*) as rows, coalesce(sum(('x' || left(md5((to_jsonb(t) - 'gym_id' - 'account_id')::text), 16))::bit(64)::bigint::numeric), 0)::text as sum \
                 from \"{table}\" t where gym_id = $1"
            );
            let sum: TableSum =
                diesel::sql_query(sum).bind::<BigInt, _>(gym.0).get_result(&mut self.connection).await?;
            contents.insert(table, sum);
        }
        Ok(contents)
    }

    /// Takes a gym in, all of it or nothing: a new gym beside those that there are.
    ///
    /// # Errors
    /// When the database is away, or rows do not fit together.
    pub async fn take_in(&mut self, rows: &[MovedRow]) -> Result<(GymId, Contents), StoreError> {
        let tables = self.moving_tables().await?;
        let gym = self
            .connection
            .transaction(async |connection| {
                let mut gym = None;
                let mut accounts = BTreeMap::new();
                for MovedRow { table, row } in rows {
                    match (table.as_str(), gym) {
                        ("gyms", None) => {
                            let new = "insert into gyms (name, settings, created_at, demo) \
                                select name, settings, created_at, false from jsonb_populate_record(null::gyms, $1::jsonb) \
                                returning id as number";
                            let new: OneNumber = diesel::sql_query(new)
                                .bind::<Text, _>(row.to_string())
                                .get_result(connection)
                                .await?;
                            gym = Some(new.number);
                        }
                        ("accounts", Some(gym)) => {
                            // Whoever is not known here has no passphrase here, and asks for a link.
                            let found = "insert into accounts (email, gyms) values ($1, array[$2]) \
                                on conflict (email) do update set gyms = array_append(accounts.gyms, $2) returning id as number";
                            let found: OneNumber = diesel::sql_query(found)
                                .bind::<Text, _>(row["email"].as_str().unwrap_or_default())
                                .bind::<BigInt, _>(gym)
                                .get_result(connection)
                                .await?;
                            accounts.insert(row["id"].as_i64(), found.number);
                        }
                        (table, Some(gym)) if tables.iter().any(|known| known == table) => {
                            let mut row = row.clone();
                            row["gym_id"] = gym.into();
                            if let Some(there) = row["account_id"].as_i64() {
                                // Somebody whose account is gone is nobody of those here.
                                row["account_id"] = accounts.get(&Some(there)).copied().unwrap_or(-there).into();
                            }
                            let all = format!(
                                "insert into \"{table}\" overriding system value select * from jsonb_populate_record(null::\"{table}\", $1::jsonb)"
                            );
                            diesel::sql_query(all).bind::<Text, _>(row.to_string()).execute(connection).await?;
                        }
                        _ => return Err(StoreError::Refused(format!("rows of `{table}` do not go along with a gym"))),
                    }
                }
                let gym = gym.ok_or(StoreError::NotFound("gym"))?;
                // What is made here from now on gets ids that none of these has.
                for table in &tables {
                    let on = format!(
                        "select coalesce(setval(s.name, greatest(nextval(s.name), m.most)), 0) as number \
                         from (select pg_get_serial_sequence('\"{table}\"', a.attname) as name from pg_attribute a \
                           where a.attrelid = '\"{table}\"'::regclass and a.attname = 'id') s, \
                         lateral (select coalesce(max((to_jsonb(t)->>'id')::bigint), 0) as most from \"{table}\" t where gym_id = $1) m \
                         where s.name is not null"
                    );
                    let _: Vec<OneNumber> =
                        diesel::sql_query(on).bind::<BigInt, _>(gym).load(connection).await?;
                }
                Ok::<_, StoreError>(GymId(gym))
            })
            .await?;
        Ok((gym, self.contents_of(gym).await?))
    }

    /// Removes a gym with all that belongs to it; people without another one go along.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn remove_gym(&mut self, gym: GymId) -> Result<(), StoreError> {
        diesel::delete(gyms::table.filter(gyms::id.eq(gym.0))).execute(&mut self.connection).await?;
        self.without_gyms(&[gym.0]).await
    }
}
