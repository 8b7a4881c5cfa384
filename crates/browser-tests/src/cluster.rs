//! A database server of one test's own, which it may kill: it waits for the disk, as a real one does.

use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

use anyhow::{Context as _, Result, bail, ensure};
use tempfile::TempDir;

/// How long a server may take to come up.
const PATIENCE: Duration = Duration::from_secs(60);
/// Who it runs as where the test is root: the server refuses to be root.
const SERVER_USER: &str = "postgres";

/// A running database server.
pub struct Cluster {
    folder: TempDir,
    programs: PathBuf,
    port: u16,
}

impl Cluster {
    /// A new one, on loopback. Nothing is switched off: what it has acknowledged is on the disk.
    ///
    /// # Errors
    /// When PostgreSQL's programs are missing, or it does not come up.
    pub fn start() -> Result<Self> {
        let versions = std::fs::read_dir("/usr/lib/postgresql").context("PostgreSQL is not installed")?;
        let programs = versions
            .flatten()
            .map(|entry| entry.path().join("bin"))
            .filter(|bin| bin.join("initdb").exists());
        let programs = programs.max().context("PostgreSQL is not installed")?;
        let folder = tempfile::tempdir()?;
        let port = std::net::TcpListener::bind("127.0.0.1:0")?.local_addr()?.port();
        let cluster = Self { folder, programs, port };
        if is_root() {
            run(Command::new("chown").arg(SERVER_USER).arg(cluster.folder.path()))?;
        }
        let data = cluster.data();
        run(cluster.program("initdb").arg("-D").arg(&data).args([
            "-U",
            "postgres",
            "-A",
            "trust",
            "-E",
            "UTF8",
            "--locale=C.UTF-8",
        ]))?;
        cluster.start_again()?;
        Ok(cluster)
    }

    fn data(&self) -> PathBuf {
        self.folder.path().join("data")
    }

    /// The URL of its first database; others are made beside it.
    pub fn url(&self) -> String {
        format!("postgres://postgres@127.0.0.1:{}/postgres", self.port)
    }

    fn program(&self, name: &str) -> Command {
        let path = self.programs.join(name);
        let mut command = if is_root() {
            let mut command = Command::new("runuser");
            command.args(["-u", SERVER_USER, "--"]).arg(path);
            command
        } else {
            Command::new(path)
        };
        command.current_dir("/").stdin(Stdio::null());
        command
    }

    /// Kills it: no process of it has a chance to do anything.
    ///
    /// # Errors
    /// When it does not run.
    pub fn kill(&self) -> Result<()> {
        let file = std::fs::read_to_string(self.data().join("postmaster.pid"))?;
        let first = file.lines().next().context("no process")?;
        let theirs = children(first);
        for process in std::iter::once(first.to_owned()).chain(theirs) {
            // Some end by themselves the moment that the first one is gone.
            let _ = Command::new("kill").args(["-9", &process]).stderr(Stdio::null()).status()?;
        }
        let gone = Instant::now() + Duration::from_secs(5);
        while Path::new("/proc").join(first).exists() && Instant::now() < gone {
            std::thread::sleep(Duration::from_millis(5));
        }
        Ok(())
    }

    /// Starts it where it was; how long it took until it answered.
    ///
    /// # Errors
    /// When it does not come up.
    pub fn start_again(&self) -> Result<Duration> {
        let began = Instant::now();
        let options = format!("-p {} -c listen_addresses=127.0.0.1 -c unix_socket_directories=''", self.port);
        loop {
            let mut start = self.program("pg_ctl");
            start
                .arg("-D")
                .arg(self.data())
                .args(["-w", "-t", "30", "-s", "-o", &options, "-l"])
                .arg(self.folder.path().join("data/server.log"));
            // What is left of one that was killed may hold its memory for a moment.
            if start.arg("start").stdout(Stdio::null()).stderr(Stdio::null()).status()?.success() {
                return Ok(began.elapsed());
            }
            ensure!(began.elapsed() < PATIENCE, "the database does not come up");
            std::thread::sleep(Duration::from_millis(100));
        }
    }
}

impl Drop for Cluster {
    fn drop(&mut self) {
        let data = self.data();
        let _ = self
            .program("pg_ctl")
            .arg("-D")
            .arg(data)
            .args(["-m", "immediate", "-s", "stop"])
            .stderr(Stdio::null())
            .status();
    }
}

fn is_root() -> bool {
    std::fs::metadata("/proc/self").is_ok_and(|own| std::os::unix::fs::MetadataExt::uid(&own) == 0)
}

/// The processes that another one has started.
fn children(of: &str) -> Vec<String> {
    let all = std::fs::read_to_string(format!("/proc/{of}/task/{of}/children")).unwrap_or_default();
    all.split_whitespace().map(str::to_owned).collect()
}

fn run(command: &mut Command) -> Result<()> {
    let done = command.stdout(Stdio::null()).output()?;
    if !done.status.success() {
        bail!("{command:?}: {}", String::from_utf8_lossy(&done.stderr));
    }
    Ok(())
}
