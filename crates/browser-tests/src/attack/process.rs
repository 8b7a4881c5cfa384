//! The program itself as a process of its own, on a socket that whoever started it holds: another one can take its place while people wait in the queue.

use std::net::TcpListener;
use std::os::fd::OwnedFd;
use std::path::{Path, PathBuf};
use std::process::{Child, Command, ExitStatus, Stdio};
use std::time::{Duration, Instant};

use anyhow::{Context as _, Result, ensure};

use crate::{DEMO_KEY, TestServer};

/// How long a start may take.
const PATIENCE: Duration = Duration::from_secs(60);
const SECRET: &str = "a-secret-that-only-tests-know-0123456789";

/// What is run, on which database.
#[derive(Clone, Debug)]
pub struct Program {
    path: PathBuf,
    url: String,
}

/// One that runs; it ends with this.
pub struct Process {
    child: Child,
    /// `http://127.0.0.1:PORT`
    pub address: String,
}

impl Program {
    /// `honest-lantern` at a path.
    pub fn new(path: &Path, url: &str) -> Self {
        Self { path: path.to_owned(), url: url.to_owned() }
    }

    /// Loads the demo into its database.
    ///
    /// # Errors
    /// When it cannot.
    pub fn load_demo(&self) -> Result<()> {
        let mut command = Command::new(&self.path);
        command.args(["load-demo", "--database-url", &self.url]).stdout(Stdio::null());
        ensure!(command.status()?.success(), "the demo was not loaded");
        Ok(())
    }

    /// `honest-lantern serve` on a socket that is handed over as a service manager does; returns when it answers, if nobody else does on that socket.
    ///
    /// # Errors
    /// When it does not start.
    pub fn start(&self, socket: &TcpListener, change: impl FnOnce(&mut Command)) -> Result<Process> {
        let handed_over = OwnedFd::from(socket.try_clone()?);
        self.start_as(&socket.local_addr()?.to_string(), |command| {
            command.envs([("LISTEN_FDS", "1"), ("LISTEN_FDS_FIRST_FD", "0")]).stdin(handed_over);
            change(command);
        })
    }

    /// The same on an address of its own.
    ///
    /// # Errors
    /// When it does not start.
    pub fn start_alone(&self) -> Result<Process> {
        let free = TcpListener::bind("127.0.0.1:0")?.local_addr()?.to_string();
        self.start_as(&free, |command| {
            command.env("LANTERN_ADDRESS", &free);
        })
    }

    fn start_as(&self, address: &str, change: impl FnOnce(&mut Command)) -> Result<Process> {
        let address = format!("http://{address}");
        let mut command = Command::new(&self.path);
        command
            .arg("serve")
            .envs([
                ("LANTERN_DATABASE_URL", self.url.as_str()),
                ("LANTERN_SECRET", SECRET),
                ("LANTERN_DEMO_KEY", DEMO_KEY),
            ])
            .stderr(Stdio::null());
        change(&mut command);
        let child = command.spawn().with_context(|| self.path.display().to_string())?;
        let mut process = Process { child, address };
        process.answers()?;
        Ok(process)
    }
}

impl Process {
    /// The application as the demo's owner sees it.
    pub fn server(&self) -> TestServer {
        TestServer::at(&self.address)
    }

    fn answers(&mut self) -> Result<()> {
        let (began, server) = (Instant::now(), self.server().signed_out());
        while server.try_get("/readyz") != Ok(200) {
            let ended = self.child.try_wait()?;
            ensure!(ended.is_none(), "it ended: {ended:?}");
            ensure!(began.elapsed() < PATIENCE, "it does not answer");
            std::thread::sleep(Duration::from_millis(20));
        }
        Ok(())
    }

    /// Its number.
    pub fn id(&self) -> u32 {
        self.child.id()
    }

    /// Whether it still runs.
    ///
    /// # Errors
    /// When the system does not say.
    pub fn runs(&mut self) -> Result<bool> {
        Ok(self.child.try_wait()?.is_none())
    }

    /// Asks it to stop, as a service manager does, and waits until it has.
    ///
    /// # Errors
    /// When it does not.
    pub fn stop(mut self) -> Result<(Duration, ExitStatus)> {
        let began = Instant::now();
        Command::new("kill").arg(self.child.id().to_string()).status()?;
        let status = self.child.wait()?;
        Ok((began.elapsed(), status))
    }
}

impl Drop for Process {
    fn drop(&mut self) {
        let _ = (self.child.kill(), self.child.wait());
    }
}
