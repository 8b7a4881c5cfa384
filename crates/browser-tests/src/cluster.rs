//! A database server of one test's own, which it may kill: it waits for the disk, as a real one does.

use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

use anyhow::{Context as _, Result, bail, ensure};
use tempfile::TempDir;

/// How long a server may take to come up.
const PATIENCE: Duration = Duration::from_secs(60);
/// Keeps its log of changes in little room.
const SMALL_LOG: &str = "max_wal_size = '32MB'\nmin_wal_size = '32MB'";
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
        Self::start_in(folder()?)
    }

    /// A new one in a folder, such as one on a small disk; it keeps its log of changes small.
    ///
    /// # Errors
    /// When PostgreSQL's programs are missing, or it does not come up.
    pub fn start_in(folder: TempDir) -> Result<Self> {
        let programs = programs()?;
        let cluster = Self { folder, programs, port: free_port()? };
        owned_by_server(cluster.folder.path())?;
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
        let settings = ["listen_addresses = '127.0.0.1'", "unix_socket_directories = ''", SMALL_LOG];
        cluster.set(&settings)?;
        cluster.start_again()?;
        Ok(cluster)
    }

    /// A copy of it as it is now, which does not run yet. A following one takes in whatever changes here from then on.
    ///
    /// # Errors
    /// When it does not run.
    pub fn copy(&self, is_following: bool) -> Result<Self> {
        let copy = Self { folder: folder()?, programs: self.programs.clone(), port: free_port()? };
        let mut base = self.program("pg_basebackup");
        base.args(["-h", "127.0.0.1", "-U", "postgres", "-X", "stream", "-c", "fast", "-p"]);
        base.arg(self.port.to_string()).arg("-D").arg(copy.data()).args(is_following.then_some("-R"));
        run(&mut base)?;
        Ok(copy)
    }

    /// Reads its settings again while it runs.
    ///
    /// # Errors
    /// When it does not run.
    pub fn reload(&self) -> Result<()> {
        run(self.program("pg_ctl").arg("-D").arg(self.data()).arg("reload"))
    }

    /// Lets a following one follow no longer, and take changes itself.
    ///
    /// # Errors
    /// When it follows nobody.
    pub fn promote(&self) -> Result<()> {
        run(self.program("pg_ctl").arg("-D").arg(self.data()).args(["-w", "promote"]))
    }

    /// The URL of a database that is at whichever of these takes changes.
    pub fn url_of_both(&self, other: &Self, name: &str) -> String {
        let (own, other) = (self.port, other.port);
        format!(
            "postgres://postgres@127.0.0.1:{own},127.0.0.1:{other}/{name}?target_session_attrs=read-write"
        )
    }

    /// Makes a file in its data, such as the one that says that it is to recover.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn mark(&self, name: &str) -> Result<()> {
        let file = self.data().join(name);
        std::fs::write(&file, "")?;
        owned_by_server(&file)
    }

    /// A folder beside its data, which it may write to; it goes with it.
    ///
    /// # Errors
    /// When it cannot be made.
    pub fn folder_beside(&self, name: &str) -> Result<PathBuf> {
        let folder = self.folder.path().join(name);
        std::fs::create_dir(&folder)?;
        owned_by_server(&folder)?;
        Ok(folder)
    }

    /// Adds lines to its settings; they count from its next start on.
    ///
    /// # Errors
    /// When they cannot be written.
    pub fn set(&self, lines: &[&str]) -> Result<()> {
        let file = self.data().join("postgresql.conf");
        let mut settings = std::fs::read_to_string(&file)?;
        lines.iter().for_each(|line| settings.extend([line, "\n"]));
        Ok(std::fs::write(file, settings)?)
    }

    /// Stops it where it is, between two instructions: connections stay open, and nothing comes back on them.
    ///
    /// # Errors
    /// When it does not run.
    pub fn pause(&self) -> Result<()> {
        self.signal("-STOP")
    }

    /// Lets it go on.
    ///
    /// # Errors
    /// When it does not run.
    pub fn resume(&self) -> Result<()> {
        self.signal("-CONT")
    }

    fn signal(&self, signal: &str) -> Result<()> {
        send(&self.data(), signal)
    }

    /// Whether it runs.
    pub fn runs(&self) -> bool {
        processes(&self.data()).is_ok_and(|processes| Path::new("/proc").join(&processes[0]).exists())
    }

    fn data(&self) -> PathBuf {
        self.folder.path().join("data")
    }

    /// Where the database of a URL of another cluster is here.
    pub fn url_like(&self, other: &str) -> String {
        let name = other.rsplit('/').next().unwrap_or_default();
        format!("postgres://postgres@127.0.0.1:{}/{name}", self.port)
    }

    /// The URL of its first database; others are made beside it.
    pub fn url(&self) -> String {
        format!("postgres://postgres@127.0.0.1:{}/postgres", self.port)
    }

    fn program(&self, name: &str) -> Command {
        server_program(&self.programs.join(name))
    }

    /// Kills it: no process of it has a chance to do anything.
    ///
    /// # Errors
    /// When it does not run.
    pub fn kill(&self) -> Result<()> {
        let first = processes(&self.data())?.swap_remove(0);
        self.signal("-9")?;
        let gone = Instant::now() + Duration::from_secs(5);
        while Path::new("/proc").join(&first).exists() && Instant::now() < gone {
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
        let options = format!("-p {}", self.port);
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

/// Where the newest PostgreSQL's programs are.
pub(crate) fn programs() -> Result<PathBuf> {
    let versions = std::fs::read_dir("/usr/lib/postgresql").context("PostgreSQL is not installed")?;
    let programs =
        versions.flatten().map(|entry| entry.path().join("bin")).filter(|bin| bin.join("initdb").exists());
    programs.max().context("PostgreSQL is not installed")
}

/// A program that is run as the server is.
pub(crate) fn server_program(path: &Path) -> Command {
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

/// The processes of the server of some data, the first one that of the whole.
fn processes(data: &Path) -> Result<Vec<String>> {
    let file = std::fs::read_to_string(data.join("postmaster.pid"))?;
    let first = file.lines().next().context("no process")?.to_owned();
    let theirs = children(&first);
    Ok(std::iter::once(first).chain(theirs).collect())
}

/// A signal for each of them.
pub(crate) fn send(data: &Path, signal: &str) -> Result<()> {
    for process in processes(data)? {
        // Some end by themselves the moment that the first one is gone.
        Command::new("kill").args([signal, &process]).stderr(Stdio::null()).status()?;
    }
    Ok(())
}

fn folder() -> Result<TempDir> {
    let folder = tempfile::tempdir()?;
    owned_by_server(folder.path())?;
    Ok(folder)
}

pub(crate) fn free_port() -> Result<u16> {
    Ok(std::net::TcpListener::bind("127.0.0.1:0")?.local_addr()?.port())
}

pub(crate) fn owned_by_server(path: &Path) -> Result<()> {
    if is_root() { run(Command::new("chown").arg(SERVER_USER).arg(path)) } else { Ok(()) }
}

pub(crate) fn is_root() -> bool {
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
