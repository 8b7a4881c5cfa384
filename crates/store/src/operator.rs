//! What whoever runs the server may do with all gyms at once. The commands of the terminal and the demo come in here; no page does.

use diesel::dsl::{array_remove, sql};
use diesel::prelude::*;
use diesel::sql_types::Bool;
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use lantern_core::gym::Gym;

use crate::schema::{accounts, gyms};
use crate::{GymId, StoreError, connect};

/// A connection to which the policies of the tables show every gym.
pub struct Operator {
    pub(crate) connection: AsyncPgConnection,
}

impl Operator {
    /// A connection of its own, not out of the pool that answers requests.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn at(url: &str) -> Result<Self, StoreError> {
        let target = connect::Target::new(url)?.for_the_operator();
        let connection = target.connect().await.map_err(|error| StoreError::Away(error.to_string()))?;
        Ok(Self::over(connection))
    }

    pub(crate) fn over(connection: AsyncPgConnection) -> Self {
        Self { connection }
    }

    /// Every gym, by age, and whether the demo has made it.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn gyms(&mut self) -> Result<Vec<(GymId, String, bool)>, StoreError> {
        let rows: Vec<(i64, String, bool)> = gyms::table
            .order(gyms::id)
            .select((gyms::id, gyms::name, gyms::demo))
            .load(&mut self.connection)
            .await?;
        Ok(rows.into_iter().map(|(id, name, demo)| (GymId(id), name, demo)).collect())
    }

    /// Whether the role of this connection passes over the policies of the tables.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn is_above_policies(&mut self) -> Result<bool, StoreError> {
        let role = diesel::select(sql::<Bool>(
            "(select rolsuper or rolbypassrls from pg_roles where rolname = current_user)",
        ));
        Ok(role.get_result(&mut self.connection).await?)
    }

    /// Adds a gym.
    ///
    /// # Errors
    /// When the database is away, or the gym is none that can be.
    pub async fn add_gym(&mut self, gym: &Gym) -> Result<GymId, StoreError> {
        self.add(gym, false).await
    }

    pub(crate) async fn add(&mut self, gym: &Gym, demo: bool) -> Result<GymId, StoreError> {
        gym.checked().map_err(StoreError::Refused)?;
        let settings = serde_json::to_value(gym).map_err(StoreError::unreadable("gym"))?;
        let id = diesel::insert_into(gyms::table)
            .values((gyms::name.eq(&gym.name), gyms::settings.eq(settings), gyms::demo.eq(demo)))
            .returning(gyms::id)
            .get_result(&mut self.connection)
            .await?;
        Ok(GymId(id))
    }

    /// Removes every gym that the demo has made, with all that belongs to it, and no other.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn remove_demo(&mut self) -> Result<(), StoreError> {
        let made = gyms::table.filter(gyms::demo.eq(true));
        let gone: Vec<i64> =
            diesel::delete(made).returning(gyms::id).get_results(&mut self.connection).await?;
        self.without_gyms(&gone).await
    }

    /// People without gyms that are gone; who has no other one goes along.
    pub(crate) async fn without_gyms(&mut self, gone: &[i64]) -> Result<(), StoreError> {
        for &gym in gone {
            let theirs = accounts::table.filter(accounts::gyms.contains(vec![gym]));
            let others = theirs.filter(accounts::gyms.ne(vec![gym]));
            diesel::update(others)
                .set(accounts::gyms.eq(array_remove(accounts::gyms, gym)))
                .execute(&mut self.connection)
                .await?;
            diesel::delete(accounts::table.filter(accounts::gyms.eq(vec![gym])))
                .execute(&mut self.connection)
                .await?;
        }
        Ok(())
    }
}
