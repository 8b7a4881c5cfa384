//! A pooler between the program and its database, in transaction mode: PgBouncer as Debian ships it, from 1.21 on.

use std::fs;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

use anyhow::{Context as _, Result, ensure};
use tempfile::TempDir;

use crate::cluster::{free_port, is_root, owned_by_server};

/// How long it may take to come up.
const PATIENCE: Duration = Duration::from_secs(10);
/// Connections to the database that it keeps: far fewer than the programs before it have.
const KEPT: usize = 4;

/// A running pooler; it ends with this.
pub struct Pooler {
    /// How it is run: its name, and what stands before it where it stands in a root of its own.
    command: Vec<String>,
    folder: TempDir,
    port: u16,
    child: Option<Child>,
}

impl Pooler {
    /// In front of the server of a URL.
    ///
    /// # Errors
    /// When it is not installed, or does not come up.
    pub fn start(command: &str, server: &str) -> Result<Self> {
        let port_of_server = server.rsplit_once(':').context("a port")?.1;
        let port_of_server = port_of_server.split('/').next().unwrap_or_default();
        let (folder, port) = (tempfile::tempdir()?, free_port()?);
        let users = folder.path().join("users.txt");
        fs::write(&users, "\"postgres\" \"\"\n")?;
        let settings = format!(
            "[databases]
* = host=127.0.0.1 port={port_of_server}
[pgbouncer]
listen_addr = 127.0.0.1
listen_port = {port}
unix_socket_dir =
auth_type = trust
auth_file = {}
pool_mode = transaction
default_pool_size = {KEPT}
max_client_conn = 500
max_prepared_statements = 200
ignore_startup_parameters = options
server_login_retry = 1
{}",
            users.display(),
            if is_root() { "user = nobody\n" } else { "" }
        );
        fs::write(folder.path().join("pgbouncer.ini"), settings)?;
        owned_by_server(folder.path())?;
        let readable = Command::new("chmod").args(["-R", "a+rX"]).arg(folder.path()).status()?;
        ensure!(readable.success(), "its settings cannot be read by it");
        let command = command.split_whitespace().map(str::to_owned).collect();
        let mut pooler = Self { command, folder, port, child: None };
        pooler.start_again()?;
        Ok(pooler)
    }

    /// The URL of a database through it.
    pub fn url_like(&self, direct: &str) -> String {
        let name = direct.rsplit('/').next().unwrap_or_default();
        format!("postgres://postgres@127.0.0.1:{}/{name}", self.port)
    }

    /// Kills it: no connection is told.
    ///
    /// # Errors
    /// When it does not run.
    pub fn kill(&mut self) -> Result<()> {
        // What stands before it may have gone over into it or have stayed above it.
        let settings = self.settings();
        Command::new("pkill").args(["-9", "-f", &settings]).status()?;
        self.child.take().context("it does not run")?.wait()?;
        Ok(())
    }

    fn settings(&self) -> String {
        self.folder.path().join("pgbouncer.ini").display().to_string()
    }

    /// Starts it where it was; how long it took until it answered.
    ///
    /// # Errors
    /// When it does not come up.
    pub fn start_again(&mut self) -> Result<Duration> {
        let began = Instant::now();
        let log = fs::File::create(self.folder.path().join("log"))?;
        let child = Command::new(&self.command[0])
            .args(&self.command[1..])
            .arg(self.settings())
            .stdin(Stdio::null())
            .stdout(log.try_clone()?)
            .stderr(log)
            .spawn()
            .with_context(|| format!("{}: is the package pgbouncer installed?", self.command.join(" ")))?;
        self.child = Some(child);
        while std::net::TcpStream::connect(("127.0.0.1", self.port)).is_err() {
            let said = || fs::read_to_string(self.folder.path().join("log")).unwrap_or_default();
            ensure!(began.elapsed() < PATIENCE, "the pooler does not come up: {}", said());
            std::thread::sleep(Duration::from_millis(5));
        }
        Ok(began.elapsed())
    }
}

impl Drop for Pooler {
    fn drop(&mut self) {
        let _ = self.kill();
    }
}

/// What makes a user's connections keep the limits that the program asks for when it connects, which a pooler does not hand on.
pub fn limits_of(user: &str) -> String {
    let limits =
        [("statement_timeout", "5s"), ("lock_timeout", "3s"), ("idle_in_transaction_session_timeout", "10s")];
    limits.map(|(name, limit)| format!("alter role {user} set {name} = '{limit}'; ")).concat()
}
