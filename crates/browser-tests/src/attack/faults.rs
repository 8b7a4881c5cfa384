//! The world around the program breaks: what people who write meanwhile see of it, and whether all that was acknowledged is there.

use std::fs::File;
use std::net::TcpListener;
use std::path::{Path, PathBuf};
use std::process::Stdio;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::time::Duration;

use anyhow::{Context as _, Result, ensure};
use lantern_backup::Passphrase;

use super::managed::Managed;
use super::pooled::{Pooler, limits_of};
use super::{Process, Program, SmallDisk, Writers, Written};
use crate::cluster::Cluster;
use crate::{TestDatabase, TestServer};

/// What was seen of one fault.
#[derive(Debug)]
pub struct Seen {
    /// The fault.
    pub what: &'static str,
    /// What the writers wrote.
    pub written: Written,
    /// Pages that were asked for meanwhile, and those of them that did not come.
    pub pages: (usize, usize),
    /// From the end of the fault until something was acknowledged again.
    pub back: Duration,
}

/// The program of a test on a database of its own.
struct Set {
    socket: TcpListener,
    program: Program,
    database: TestDatabase,
}

impl Set {
    fn on(path: &Path, database: TestDatabase) -> Result<Self> {
        let socket = TcpListener::bind("127.0.0.1:0")?;
        Ok(Self { socket, program: Program::new(path, &database.url), database })
    }

    fn start(&self) -> Result<Process> {
        self.program.start(&self.socket, |_| ())
    }
}

/// Somebody who looks at a page again and again.
struct Looker {
    stop: Arc<AtomicBool>,
    seen: Arc<(AtomicUsize, AtomicUsize)>,
    thread: std::thread::JoinHandle<()>,
}

impl Looker {
    fn at(address: &str) -> Self {
        let (stop, seen) = (Arc::new(AtomicBool::new(false)), Arc::<(AtomicUsize, AtomicUsize)>::default());
        let (server, over, counted) = (TestServer::at(address), stop.clone(), seen.clone());
        let thread = std::thread::spawn(move || {
            while !over.load(Ordering::SeqCst) {
                let came = server.try_get("/days") == Ok(200);
                counted.0.fetch_add(1, Ordering::SeqCst);
                counted.1.fetch_add(usize::from(!came), Ordering::SeqCst);
            }
        });
        Self { stop, seen, thread }
    }

    fn stop(self) -> (usize, usize) {
        self.stop.store(true, Ordering::SeqCst);
        self.thread.join().expect("whoever looks goes on");
        (self.seen.0.load(Ordering::SeqCst), self.seen.1.load(Ordering::SeqCst))
    }
}

/// How much more people write before and after what happens: it is seen as well.
const SOME_MORE: usize = 24;

/// Something happens under writers and somebody who looks; the time it gives is how long it took until something was acknowledged again.
fn under(
    what: &'static str,
    (address, database): (&str, &TestDatabase),
    happens: impl FnOnce(&Writers) -> Result<Duration>,
) -> Result<Seen> {
    let (writers, looker) = (Writers::start(address), Looker::at(address));
    let happened = writers.go_on().and_then(|_| happens(&writers));
    let went_on = writers.go_on_by(SOME_MORE);
    let pages = looker.stop();
    let written = writers.stop(database)?;
    went_on?;
    Ok(Seen { what, written, pages, back: happened? })
}

/// Two processes behind one socket, each replaced in turn so many times.
///
/// # Errors
/// When one does not start or stop.
pub fn rolling(path: &Path, times: usize) -> Result<Seen> {
    let set = Set::on(path, TestDatabase::demo())?;
    let mut two = [set.start()?, set.start()?];
    let address = two[0].address.clone();
    under("two processes, each replaced in turn", (&address, &set.database), |writers| {
        for n in 0..times {
            let old = std::mem::replace(&mut two[n % 2], set.start()?);
            let (_, status) = old.stop()?;
            ensure!(status.success(), "it ended with {status}");
        }
        writers.go_on()
    })
}

/// An older program goes on while a newer one brings the tables up to date and serves beside it.
///
/// # Errors
/// When one does not start.
pub fn upgraded(old: &Path, new: &Path) -> Result<Seen> {
    let database = TestDatabase::bare();
    let old = Program::new(old, &database.url);
    old.load_demo()?;
    let before = old.start_alone()?;
    let set = Set::on(new, database)?;
    under("an older program, the tables brought up to date", (&before.address, &set.database), |writers| {
        let after = set.start()?;
        std::thread::sleep(Duration::from_secs(2));
        ensure!(after.server().try_get("/days") == Ok(200), "the newer one does not answer");
        writers.go_on()
    })
}

/// A database that stands still for a while, its connections open.
///
/// # Errors
/// When it does not come back.
pub fn paused(path: &Path, still: Duration) -> Result<Seen> {
    let cluster = Cluster::start()?;
    let set = Set::on(path, TestDatabase::demo_at(&cluster.url()))?;
    let process = set.start()?;
    under("the database stands still", (&process.address, &set.database), |writers| {
        cluster.pause()?;
        std::thread::sleep(still);
        cluster.resume()?;
        writers.go_on()
    })
}

/// The server of the database is lost for good, and the one that follows it takes its place: what was acknowledged is there too, for none was before it had it.
///
/// # Errors
/// When the second one does not follow, or does not take over.
pub fn failover(path: &Path) -> Result<Seen> {
    let first = Cluster::start()?;
    let database = TestDatabase::demo_at(&first.url());
    let second = first.copy(true)?;
    second.start_again()?;
    first.set(&["synchronous_standby_names = '*'"])?;
    first.reload()?;
    let follows = || {
        !database
            .names("select sync_state as name from pg_stat_replication where sync_state = 'sync'")
            .is_empty()
    };
    let began = std::time::Instant::now();
    while !follows() {
        ensure!(began.elapsed() < Duration::from_secs(30), "the second server does not follow");
        std::thread::sleep(Duration::from_millis(50));
    }
    let url = first.url_of_both(&second, database.name());
    lost(
        "the database's server lost, the second one promoted",
        (path, &url),
        (database, &second.url()),
        || {
            first.kill()?;
            second.promote()
        },
    )
}

/// The same, and a manager decides that it is lost and who takes its place.
///
/// # Errors
/// When Patroni or etcd is not installed, or nobody takes over.
pub fn managed(path: &Path) -> Result<Seen> {
    let servers = Managed::start()?;
    let database = TestDatabase::demo_at(&servers.url(0));
    let url = servers.url_of_both(database.name());
    lost(
        "the same, by a manager (20 s until it gives up a lost one)",
        (path, &url),
        (database, &servers.url(1)),
        || servers.lose_the_first(),
    )
}

/// A pooler in transaction mode before the database, with fewer connections than two programs have: nothing happens, it is killed, the database behind it is killed.
///
/// # Errors
/// When it is not installed, or does not come up.
pub fn pooled(path: &Path, pooler: &str) -> Result<Vec<Seen>> {
    let cluster = Cluster::start()?;
    let database = TestDatabase::demo_at(&cluster.url());
    database.run(&limits_of("postgres"));
    let mut pooler = Pooler::start(pooler, &cluster.url())?;
    let program = Program::new(path, &pooler.url_like(&database.url));
    let direct = database.url.clone();
    let start = |socket: &TcpListener| {
        program.start(socket, |command| {
            command.env("LANTERN_DIRECT_URL", &direct);
        })
    };
    let sockets = [TcpListener::bind("127.0.0.1:0")?, TcpListener::bind("127.0.0.1:0")?];
    let (first, second) = (start(&sockets[0])?, start(&sockets[1])?);
    let mut all =
        vec![under("a pooler, two programs, four connections", (&first.address, &database), |writers| {
            std::thread::sleep(Duration::from_secs(5));
            ensure!(second.server().try_get("/days") == Ok(200), "the second program does not answer");
            writers.go_on()
        })?];
    database.run("delete from happenings where key like 'writer-%'");
    all.push(under("the pooler killed, and started again", (&first.address, &database), |writers| {
        pooler.kill()?;
        std::thread::sleep(Duration::from_secs(2));
        pooler.start_again()?;
        writers.go_on()
    })?);
    database.run("delete from happenings where key like 'writer-%'");
    all.push(under(
        "the database behind it killed, and started again",
        (&first.address, &database),
        |writers| {
            cluster.kill()?;
            cluster.start_again()?;
            writers.go_on()
        },
    )?);
    Ok(all)
}

fn lost(
    what: &'static str,
    (path, url): (&Path, &str),
    (database, second): (TestDatabase, &str),
    lose: impl FnOnce() -> Result<()>,
) -> Result<Seen> {
    let socket = TcpListener::bind("127.0.0.1:0")?;
    let process = Program::new(path, url).start(&socket, |_| ())?;
    let (writers, looker) = (Writers::start(&process.address), Looker::at(&process.address));
    writers.go_on_by(SOME_MORE)?;
    let since = std::time::Instant::now();
    lose()?;
    // What was on its way when it was lost may still have been acknowledged.
    std::thread::sleep(Duration::from_millis(50));
    let back = writers.go_on().map(|_| since.elapsed());
    writers.go_on_by(SOME_MORE)?;
    let pages = looker.stop();
    let written = writers.stop(&database.moved_to(second))?;
    Ok(Seen { what, written, pages, back: back? })
}

/// Room that the database of the demo takes, with its logs, in megabytes, and some more.
const DATABASE_MB: u32 = 220;

/// The disk of the database is full for a while.
///
/// # Errors
/// When the system has no small disk for us, or what is said of it is not that nothing was saved.
pub fn disk_full(path: &Path, full: Duration) -> Result<Seen> {
    let disk = SmallDisk::of_mb(DATABASE_MB)?;
    let cluster = Cluster::start_in(tempfile::tempdir_in(disk.path())?)?;
    let set = Set::on(path, TestDatabase::demo_at(&cluster.url()))?;
    let process = set.start()?;
    under("the disk of the database is full", (&process.address, &set.database), |writers| {
        disk.fill()?;
        std::thread::sleep(full);
        let server = process.server();
        ensure!(server.signed_out().try_get("/readyz") != Ok(200), "it says that it can be written to");
        ensure!(server.signed_out().try_get("/healthz") == Ok(200), "it is said to be dead");
        disk.give_room()?;
        // A database that could not even write its own log has ended; whoever watches over it starts it again.
        if !cluster.runs() {
            cluster.start_again()?;
        }
        writers.go_on()
    })
}

/// What the program says of itself goes nowhere: the disk of its log is full.
///
/// # Errors
/// When it ends.
pub fn log_full(path: &Path) -> Result<Seen> {
    let set = Set::on(path, TestDatabase::demo())?;
    let full = || Ok::<_, anyhow::Error>(Stdio::from(File::options().write(true).open("/dev/full")?));
    let (said, errors) = (full()?, full()?);
    let mut process = set.program.start(&set.socket, |command| {
        command.stdout(said).stderr(errors);
    })?;
    let address = process.address.clone();
    let seen = under("the disk of the log is full", (&address, &set.database), |writers| {
        std::thread::sleep(Duration::from_secs(1));
        writers.go_on()
    })?;
    ensure!(process.runs()?, "it ended");
    Ok(seen)
}

/// Another secret for the installation: the statuses of a page for somebody who signed in before it, before and after.
///
/// # Errors
/// When the program does not start with one of them.
pub fn another_secret(path: &Path) -> Result<(u16, u16)> {
    let set = Set::on(path, TestDatabase::demo())?;
    let first = set.start()?;
    let somebody = first.server().with_cookie(&first.server().cookie());
    let before = somebody.get("/days").status;
    first.stop()?;
    let _second = set.program.start(&set.socket, |command| {
        command.env("LANTERN_SECRET", "another-secret-that-only-tests-know-0123456");
    })?;
    Ok((before, somebody.get("/days").status))
}

/// There is no room for the backup: it says so, and nothing stays in its place.
///
/// # Errors
/// When a backup was made after all, or something is left of it.
pub fn backup_full() -> Result<String> {
    let disk = SmallDisk::of_mb(1)?;
    disk.fill()?;
    let database = TestDatabase::demo();
    let (url, file) = (database.url.clone(), disk.path().join("monday.lantern"));
    let passphrase = Passphrase::new("a passphrase of a test")?;
    let made = tokio::runtime::Runtime::new()?
        .block_on(async move { lantern_backup::backup(&url, &file, &passphrase).await });
    let refused = made.err().context("a backup on a full disk")?;
    let left =
        std::fs::read_dir(disk.path())?.flatten().filter(|entry| entry.file_name() != "something-else");
    ensure!(left.count() == 0, "something is left of it");
    Ok(format!("{refused:#}"))
}

/// What shows another time to a program, where Debian puts it.
fn other_time() -> Result<PathBuf> {
    let by_machine = std::fs::read_dir("/usr/lib")?.flatten();
    let mut libraries = by_machine.map(|entry| entry.path().join("faketime/libfaketimeMT.so.1"));
    libraries.find(|library| library.exists()).context("the package libfaketime is missing")
}

/// What the clock of the machine does: in seconds from the true time.
const JUMPS: [i64; 6] = [0, 3_600, -3_600, 90_000, -90_000, 0];

/// The clock of the machine jumps: an hour on, two back, a day on, two back.
///
/// # Errors
/// When the program ends, or forgets who is signed in.
pub fn clock_jumps(path: &Path, between: Duration) -> Result<Seen> {
    let other_time = other_time()?;
    let set = Set::on(path, TestDatabase::demo())?;
    let folder = tempfile::tempdir()?;
    let time = folder.path().join("time");
    let is = |seconds: i64| std::fs::write(&time, format!("{seconds:+}\n"));
    is(0)?;
    let process = set.program.start(&set.socket, |command| {
        command.env("LD_PRELOAD", other_time).env("FAKETIME_TIMESTAMP_FILE", &time);
        // Timers go by the time since the machine was started, which never jumps.
        command.envs([("FAKETIME_NO_CACHE", "1"), ("DONT_FAKE_MONOTONIC", "1")]);
    })?;
    let server = process.server();
    under("the clock of the machine jumps", (&process.address, &set.database), |writers| {
        let mut longest = Duration::ZERO;
        for seconds in JUMPS {
            is(seconds)?;
            std::thread::sleep(between);
            longest = longest.max(writers.go_on()?);
            // It sees the other time, or nothing was tried.
            let shown: i64 = serde_json::from_str::<serde_json::Value>(&server.get("/time").body)?["now_ms"]
                .as_i64()
                .context("a time")?;
            let apart = shown / 1000 - chrono::Utc::now().timestamp();
            ensure!((apart - seconds).abs() < 5, "{apart} s from the true time, not {seconds}");
        }
        Ok(longest)
    })
}
