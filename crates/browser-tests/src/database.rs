//! A database for each test, dropped at its end.

use std::mem::ManuallyDrop;
use std::path::Path;
use std::sync::atomic::{AtomicU32, Ordering};
use std::sync::{Mutex, PoisonError};

use chrono::NaiveDate;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl, SimpleAsyncConnection};
use lantern_core::gym::Gym;
use lantern_store::{GymId, Operator, Store, demo, migrate};

/// A database of its own name beside the one that `LANTERN_TEST_DATABASE_URL` names.
pub struct TestDatabase {
    admin: String,
    name: String,
    /// Where the test's tables are.
    pub url: String,
}

impl TestDatabase {
    /// A database with tables and nothing in them.
    pub fn empty() -> Self {
        Self::copy_of("empty", Self::with_tables)
    }

    /// Adds a gym.
    pub fn gym(&self, gym: &Gym) -> GymId {
        let (url, gym) = (self.url.clone(), gym.clone());
        asked(async move {
            Operator::at(&url).await.expect("the database answers").add_gym(&gym).await.expect("a gym")
        })
    }

    /// The gym of the demo.
    pub fn demo_gym(&self) -> GymId {
        let url = self.url.clone();
        asked(async move {
            let gyms =
                Operator::at(&url).await.expect("the database answers").gyms().await.expect("the gyms");
            gyms.into_iter().next().expect("the demo").0
        })
    }

    /// Every table in whose rows a text stands.
    pub fn rows_with(&self, text: &str) -> Vec<String> {
        let (url, text) = (self.url.clone(), text.to_owned());
        asked(async move {
            let mut connection = as_operator(&url).await;
            let tables: Vec<Named> = diesel::sql_query(
                "select tablename::text as name from pg_tables where schemaname = 'public'",
            )
            .load(&mut connection)
            .await
            .expect("the tables");
            let mut found = Vec::new();
            for table in tables {
                let rows: Vec<Named> = diesel::sql_query(format!(
                    "select t::text as name from {} t where t::text like '%' || $1 || '%'",
                    table.name
                ))
                .bind::<diesel::sql_types::Text, _>(&text)
                .load(&mut connection)
                .await
                .expect("the rows");
                found.extend(rows.into_iter().map(|row| format!("{}: {}", table.name, row.name)));
            }
            found
        })
    }

    /// What a query for names finds: one column, called `name`.
    pub fn names(&self, sql: &str) -> Vec<String> {
        let (url, sql) = (self.url.clone(), sql.to_owned());
        asked(async move {
            let mut connection = as_operator(&url).await;
            let found: Vec<Named> =
                diesel::sql_query(sql).load(&mut connection).await.expect("a query for names");
            found.into_iter().map(|found| found.name).collect()
        })
    }

    /// What statements bring in a transaction that sees one gym, as the application's own do: the error, or nothing.
    pub fn try_in_gym(&self, gym: GymId, sql: &str) -> Result<(), String> {
        let (url, sql) = (self.url.clone(), sql.to_owned());
        asked(async move {
            let mut connection = AsyncPgConnection::establish(&url).await.expect("the database answers");
            let all = format!("begin; select set_config('lantern.gym', '{gym}', true); {sql}; commit");
            connection.batch_execute(&all).await.map_err(|error| error.to_string())
        })
    }

    /// A database with nothing at all in it.
    pub fn bare() -> Self {
        Self::called(Self::next_name(), admin())
    }

    fn next_name() -> String {
        static COUNT: AtomicU32 = AtomicU32::new(0);
        format!("t_{}_{}", std::process::id(), COUNT.fetch_add(1, Ordering::Relaxed))
    }

    /// One beside the database that a URL names.
    fn called(name: String, admin: String) -> Self {
        Self::create(name, admin, None)
    }

    fn create(name: String, admin: String, template: Option<&str>) -> Self {
        run(&admin, format!("drop database if exists {name} with (force)"));
        let like = template.map(|template| format!(" template {template}")).unwrap_or_default();
        run(&admin, format!("create database {name}{like}"));
        let server = admin.rsplit_once('/').expect("a URL ends in the database's name").0;
        let url = format!("{server}/{name}");
        Self { admin, name, url }
    }

    /// A database with the demo gym, its first week the one of today.
    pub fn demo() -> Self {
        Self::copy_of(&format!("demo_{}", today().format("%Y%m%d")), |database| {
            database.with_tables().with_demo()
        })
    }

    /// A copy of what is made once in a run of the tests, which the server has ready in a fraction of the time.
    fn copy_of(kind: &str, make: impl FnOnce(Self) -> Self) -> Self {
        static MADE: Mutex<Vec<String>> = Mutex::new(Vec::new());
        let admin = admin();
        let template = format!("{TEMPLATE}{}_{kind}", std::process::id());
        {
            // A test that failed while it made one has left none.
            let mut made = MADE.lock().unwrap_or_else(PoisonError::into_inner);
            if !made.contains(&template) {
                drop_templates_of_ended_runs(&admin);
                let database = ManuallyDrop::new(make(Self::called(template.clone(), admin.clone())));
                made.push(database.name.clone());
            }
        }
        Self::create(Self::next_name(), admin, Some(&template))
    }

    /// Its name on its server.
    pub fn name(&self) -> &str {
        &self.name
    }

    /// The same on the server that has taken the place of the first.
    #[must_use]
    pub fn moved_to(mut self, server: &str) -> Self {
        self.admin = server.to_owned();
        self.url = format!(
            "{}/{}",
            server.rsplit_once('/').expect("a URL ends in the database's name").0,
            self.name
        );
        self
    }

    /// The same on a server of its own.
    pub fn demo_at(server: &str) -> Self {
        Self::called(Self::next_name(), server.to_owned()).with_tables().with_demo()
    }

    fn with_tables(self) -> Self {
        migrate(&self.url).expect("migrations");
        self
    }

    fn with_demo(self) -> Self {
        let url = self.url.clone();
        in_runtime(async move {
            demo::load(&url, Some(today())).await.expect("the demo");
        });
        self
    }

    /// Does something with the store and gives what came of it.
    pub fn with_store<T: Send + 'static, F: Future<Output = T> + Send + 'static>(
        &self,
        work: impl FnOnce(Store) -> F + Send + 'static,
    ) -> T {
        let url = self.url.clone();
        asked(async move { work(Store::new(&url).expect("a pool")).await })
    }

    /// Runs statements in it.
    pub fn run(&self, sql: &str) {
        run(&self.url, sql.to_owned());
    }

    /// Takes the database away while the application runs.
    pub fn cut_off(&self) {
        run(&self.admin, format!("alter database {} with allow_connections false", self.name));
        run(
            &self.admin,
            format!("select pg_terminate_backend(pid) from pg_stat_activity where datname = '{}'", self.name),
        );
    }

    /// Gives it back.
    pub fn give_back(&self) {
        run(&self.admin, format!("alter database {} with allow_connections true", self.name));
    }
}

impl Drop for TestDatabase {
    fn drop(&mut self) {
        run(&self.admin, format!("drop database if exists {} with (force)", self.name));
    }
}

/// What the names of databases that others are copies of begin with; the number of the process that made one follows.
const TEMPLATE: &str = "like_";

fn admin() -> String {
    std::env::var("LANTERN_TEST_DATABASE_URL")
        .expect("LANTERN_TEST_DATABASE_URL names a server for tests; `./lantern test` starts one and sets it")
}

fn today() -> NaiveDate {
    chrono::Utc::now().date_naive()
}

/// No test is the last to know of a template, so the next run takes them away.
fn drop_templates_of_ended_runs(admin: &str) {
    let url = admin.to_owned();
    let databases = asked(async move {
        let mut connection = as_operator(&url).await;
        let databases: Vec<Named> = diesel::sql_query("select datname::text as name from pg_database")
            .load(&mut connection)
            .await
            .expect("the databases");
        databases
    });
    let ended = |name: &&str| {
        let process = name.strip_prefix(TEMPLATE).and_then(|rest| rest.split('_').next());
        process.is_some_and(|process| !Path::new("/proc").join(process).exists())
    };
    for name in databases.iter().map(|database| database.name.as_str()).filter(ended) {
        run(admin, format!("drop database if exists {name} with (force)"));
    }
}

#[derive(diesel::QueryableByName)]
struct Named {
    #[diesel(sql_type = diesel::sql_types::Text)]
    name: String,
}

/// How often a command that the server's own cleaning is in the way of is given again.
const TRIES: u32 = 50;

fn run(url: &str, sql: String) {
    let url = url.to_owned();
    in_runtime(async move {
        let mut connection = as_operator(&url).await;
        let mut tries = 0;
        while let Err(error) = connection.batch_execute(&sql).await {
            // The server's own cleaning may be at work in the database, and nobody but the server may send it away: it does so where no force is asked for.
            let told = error.to_string();
            let busy = told.contains("being terminated") || told.contains("being accessed by other users");
            assert!(busy && tries < TRIES, "{sql}: {error}");
            tries += 1;
            let gently = sql.replace(" with (force)", "");
            if connection.batch_execute(&gently).await.is_ok() {
                break;
            }
            tokio::time::sleep(std::time::Duration::from_millis(200)).await;
        }
    });
}

/// A connection to which every gym's rows are shown.
async fn as_operator(url: &str) -> AsyncPgConnection {
    let mut connection = AsyncPgConnection::establish(url).await.expect("the test database server answers");
    connection.batch_execute("set lantern.operator = 'on'").await.expect("a setting");
    connection
}

/// What comes of work on a thread of its own.
fn asked<T: Send + 'static>(work: impl Future<Output = T> + Send + 'static) -> T {
    let (send, receive) = std::sync::mpsc::channel();
    in_runtime(async move { send.send(work.await).expect("somebody waits for it") });
    receive.recv().expect("the work was done")
}

/// On a thread of its own, so that it works inside and outside of other runtimes.
fn in_runtime(work: impl Future<Output = ()> + Send + 'static) {
    std::thread::spawn(move || {
        tokio::runtime::Builder::new_current_thread().enable_all().build().expect("a runtime").block_on(work);
    })
    .join()
    .expect("the database did as asked");
}
