//! Two database servers and a manager, as Debian ships them: Patroni decides which of the two takes changes, by what etcd says.

use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

use anyhow::{Context as _, Result, ensure};
use tempfile::TempDir;

use crate::cluster::{free_port, owned_by_server, programs, send, server_program};

/// How long two servers may take to find each other.
const PATIENCE: Duration = Duration::from_secs(90);

/// The first of two is the leader when both run.
pub struct Managed {
    folder: TempDir,
    ports: [u16; 2],
    etcd: Child,
    nodes: [Child; 2],
}

impl Managed {
    /// Starts etcd, one server, and a second that follows; the first acknowledges nothing that the second does not have.
    ///
    /// # Errors
    /// When Patroni or etcd is not installed, or they do not come up.
    pub fn start() -> Result<Self> {
        let folder = tempfile::tempdir()?;
        owned_by_server(folder.path())?;
        let (client, peer) = (free_port()?, free_port()?);
        let at = |port: u16| format!("http://127.0.0.1:{port}");
        let etcd = Command::new("etcd")
            .arg("--data-dir")
            .arg(folder.path().join("etcd"))
            .args(["--listen-client-urls", &at(client), "--advertise-client-urls", &at(client)])
            .args(["--listen-peer-urls", &at(peer), "--initial-advertise-peer-urls", &at(peer)])
            .args(["--initial-cluster", &format!("default={}", at(peer))])
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .context("etcd: is the package etcd-server installed?")?;
        let ports = [free_port()?, free_port()?];
        let first = node(folder.path(), 1, (client, ports[0]))?;
        let mut managed = Self { ports, etcd, nodes: [first, Command::new("true").spawn()?], folder };
        managed.until("t", "select (not pg_is_in_recovery())::text::char")?;
        managed.nodes[1] = node(managed.folder.path(), 2, (client, ports[1]))?;
        managed.until("sync", "select sync_state from pg_stat_replication")?;
        Ok(managed)
    }

    /// Waits until the first server says so.
    fn until(&self, expected: &str, sql: &str) -> Result<()> {
        let began = Instant::now();
        loop {
            let told =
                Command::new("psql").args(["-XAtc", sql, &self.url(0)]).stderr(Stdio::null()).output()?;
            if String::from_utf8_lossy(&told.stdout).trim() == expected {
                return Ok(());
            }
            ensure!(began.elapsed() < PATIENCE, "the servers do not come up: {}", self.log());
            std::thread::sleep(Duration::from_millis(200));
        }
    }

    fn log(&self) -> String {
        std::fs::read_to_string(self.folder.path().join("node1.log")).unwrap_or_default()
    }

    /// The URL of the first database of a server.
    pub fn url(&self, server: usize) -> String {
        format!("postgres://postgres@127.0.0.1:{}/postgres", self.ports[server])
    }

    /// The URL of a database at whichever takes changes.
    pub fn url_of_both(&self, name: &str) -> String {
        let [one, two] = self.ports;
        format!("postgres://postgres@127.0.0.1:{one},127.0.0.1:{two}/{name}?target_session_attrs=read-write")
    }

    /// The machine of the first server is gone, its manager with it.
    ///
    /// # Errors
    /// When it does not run.
    pub fn lose_the_first(&self) -> Result<()> {
        self.end(1)
    }

    fn end(&self, number: usize) -> Result<()> {
        let settings = self.folder.path().join(format!("node{number}.yml"));
        Command::new("pkill").arg("-9").arg("-f").arg(settings).status()?;
        send(&self.folder.path().join(format!("data{number}")), "-9")
    }
}

impl Drop for Managed {
    fn drop(&mut self) {
        let _ = (self.end(1), self.end(2), self.etcd.kill(), self.etcd.wait());
        for node in &mut self.nodes {
            let _ = (node.kill(), node.wait());
        }
    }
}

fn node(folder: &Path, number: usize, (etcd, port): (u16, u16)) -> Result<Child> {
    let bin: PathBuf = programs()?;
    let (data, web) = (folder.join(format!("data{number}")), free_port()?);
    let settings = format!(
        "scope: lantern
name: node{number}
restapi: {{listen: '127.0.0.1:{web}', connect_address: '127.0.0.1:{web}'}}
etcd3: {{hosts: '127.0.0.1:{etcd}'}}
bootstrap:
  dcs: {{ttl: 20, loop_wait: 2, retry_timeout: 5, synchronous_mode: true}}
  initdb: [{{encoding: UTF8}}, {{locale: C.UTF-8}}, {{auth: trust}}]
postgresql:
  listen: '127.0.0.1:{port}'
  connect_address: '127.0.0.1:{port}'
  data_dir: '{}'
  bin_dir: '{}'
  authentication: {{superuser: {{username: postgres}}, replication: {{username: postgres}}}}
  parameters: {{unix_socket_directories: ''}}
  pg_hba: ['host all all 127.0.0.1/32 trust', 'host replication all 127.0.0.1/32 trust']
",
        data.display(),
        bin.display()
    );
    let file = folder.join(format!("node{number}.yml"));
    std::fs::write(&file, settings)?;
    owned_by_server(&file)?;
    let log = std::fs::File::create(folder.join(format!("node{number}.log")))?;
    let patroni = server_program(Path::new("patroni")).arg(file).stdout(log.try_clone()?).stderr(log).spawn();
    patroni.context("patroni: is the package installed?")
}
