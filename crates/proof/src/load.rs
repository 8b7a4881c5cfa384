//! Many people at once: how long answers take, whether memory grows, what happens when there are too many.

use std::net::TcpListener;
use std::time::{Duration, Instant};

use anyhow::Result;
use browser_tests::attack::Program;
use browser_tests::load::{Load, Loaded};
use browser_tests::{TestDatabase, cost};
use lantern_backup::Passphrase;

use crate::faults::built;

/// Longest that 99 of a hundred answers may take, the clicking people on the same two cores.
const P99: Duration = Duration::from_millis(250);
/// The same where everybody waits for the plan of one class of sixty.
const P99_OF_A_CROWD: Duration = Duration::from_secs(2);
/// How much memory may grow between the first third of the time and its end.
const GROWTH: f64 = 1.02;

/// Two hundred people who click every five seconds, and twenty live screens.
const A_LOT: Load = Load {
    people: 200,
    pause: Duration::from_secs(5),
    lasts: Duration::from_secs(600),
    changes: 5,
    screens: 20,
    anew: false,
    slow: 0,
    together: false,
};

fn on_a_demo(load: Load) -> Result<(Loaded, Loaded)> {
    on(&TestDatabase::demo(), load)
}

fn on(database: &TestDatabase, load: Load) -> Result<(Loaded, Loaded)> {
    let socket = TcpListener::bind("127.0.0.1:0")?;
    let process = Program::new(&built()?, &database.url).start(&socket, |_| ())?;
    let server = process.server();
    let loaded = load.on(database, (&server, process.id()))?;
    // A few who come afterwards see what is left of it.
    let few = Load {
        people: 5,
        pause: Duration::from_millis(200),
        lasts: Duration::from_secs(5),
        changes: 0,
        screens: 0,
        ..A_LOT
    };
    let after = few.on(database, (&server, process.id()))?;
    Ok((loaded, after))
}

fn told(what: &str, loaded: &Loaded) {
    println!(
        "{what:<22}{:>9} answers {:?}, {} failed, half within {} ms, 95 % {} ms, 99 % {} ms, longest {} ms; changes {} of {}; heard {}; MB {:?}",
        loaded.took.len(),
        loaded.by_status,
        loaded.failed,
        loaded.quantile(500).as_millis(),
        loaded.quantile(950).as_millis(),
        loaded.quantile(990).as_millis(),
        loaded.quantile(1000).as_millis(),
        loaded.changes.1,
        loaded.changes.0,
        loaded.heard,
        loaded.mb
    );
}

fn shown(loaded: Result<(Loaded, Loaded)>, is_good: impl Fn(&Loaded, &Loaded) -> bool) -> bool {
    match loaded {
        Ok((loaded, after)) => {
            told("under it", &loaded);
            told("afterwards", &after);
            is_good(&loaded, &after)
        }
        Err(error) => {
            println!("{error:#}");
            false
        }
    }
}

/// So many minutes of it: no errors, quick answers, nothing acknowledged lost.
pub fn load(minutes: u64) -> bool {
    let load = Load { lasts: Duration::from_secs(minutes * 60), ..A_LOT };
    shown(on_a_demo(load), |loaded, _| {
        let refused = loaded.by_status.contains_key(&503);
        loaded.failed == 0 && !refused && loaded.quantile(990) <= P99 && loaded.changes.0 == loaded.changes.1
    })
}

/// The same for longer: memory stays.
pub fn soak(minutes: u64) -> bool {
    let load = Load { lasts: Duration::from_secs(minutes * 60), ..A_LOT };
    shown(on_a_demo(load), |loaded, _| {
        let (before, after) = (loaded.mb[2], loaded.mb.last().copied().unwrap_or_default());
        loaded.failed == 0 && after as f64 <= before as f64 * GROWTH
    })
}

/// Far too many without a pause, each at pages that nobody has looked at, beside connections that never say what they want: some are told to come again, the others are
/// answered, and then everything is as before.
pub fn overload(people: usize) -> bool {
    let load = Load {
        people,
        pause: Duration::ZERO,
        lasts: Duration::from_secs(30),
        changes: 2,
        anew: true,
        slow: 200,
        ..A_LOT
    };
    shown(on_a_demo(load), |loaded, after| {
        loaded.failed == 0
            && loaded.without_when == 0
            && loaded.by_status.contains_key(&503)
            && loaded.changes.0 == loaded.changes.1
            && after.failed == 0
            && !after.by_status.contains_key(&503)
            && after.quantile(990) <= P99
    })
}

/// A class of so many whose whole plan is made anew every three seconds, while sixty look at nothing else.
pub fn crowd(members: u32) -> bool {
    let database = TestDatabase::demo();
    let there = database.names("select count(*)::text as name from members");
    let there: u32 = there.concat().parse().unwrap_or_default();
    cost::grow_results(&database, members.saturating_sub(there), 0);
    let load = Load {
        people: 60,
        pause: Duration::from_secs(2),
        lasts: Duration::from_secs(120),
        changes: 0,
        together: true,
        ..A_LOT
    };
    shown(on(&database, load), |loaded, _| {
        loaded.failed == 0 && !loaded.by_status.contains_key(&503) && loaded.quantile(990) <= P99_OF_A_CROWD
    })
}

/// What an installation of so many gyms of two hundred members each takes, while fifty people click in one of them.
pub fn sizing() -> bool {
    println!(
        "{:>6}{:>10}{:>13}{:>13}{:>10}{:>10}{:>18}",
        "gyms", "members", "database MB", "program MB", "half ms", "99 % ms", "backup, proven s"
    );
    let mut kept = true;
    for gyms in [1, 10, 100] {
        match sized(gyms) {
            Ok(good) => kept &= good,
            Err(error) => {
                println!("{gyms:>6}  {error:#}");
                kept = false;
            }
        }
    }
    kept
}

fn sized(gyms: u32) -> Result<bool> {
    let database = TestDatabase::demo();
    cost::grow(&database, gyms - 1, 200);
    let socket = TcpListener::bind("127.0.0.1:0")?;
    let process = Program::new(&built()?, &database.url).start(&socket, |_| ())?;
    let load = Load { people: 50, lasts: Duration::from_secs(60), ..A_LOT };
    let loaded = load.on(&database, (&process.server(), process.id()))?;
    let mb = database.names("select (pg_database_size(current_database()) / 1000000)::text as name");
    let members = database.names("select count(*)::text as name from members");
    let folder = tempfile::tempdir()?;
    let (url, file) = (database.url.clone(), folder.path().join("all.lantern"));
    let passphrase = Passphrase::new("a passphrase of a proof")?;
    let began = Instant::now();
    tokio::runtime::Runtime::new()?.block_on(async {
        lantern_backup::backup(&url, &file, &passphrase).await?;
        lantern_backup::verify(&url, &file, &passphrase).await
    })?;
    println!(
        "{gyms:>6}{:>10}{:>13}{:>13}{:>10}{:>10}{:>18.1}",
        members.concat(),
        mb.concat(),
        loaded.mb.last().copied().unwrap_or_default(),
        loaded.quantile(500).as_millis(),
        loaded.quantile(990).as_millis(),
        began.elapsed().as_secs_f64()
    );
    Ok(loaded.failed == 0 && loaded.quantile(990) <= P99)
}
