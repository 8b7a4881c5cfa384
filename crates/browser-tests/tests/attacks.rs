//! Short forms of the long proofs: hostile requests, hostile texts, a silent database, TLS to the database.

use std::time::{Duration, Instant};

use browser_tests::attack::{Proxy, fuzz, hostile, silent, tls_before};
use browser_tests::cost::processor;
use browser_tests::{TestDatabase, TestServer, in_gym};
use lantern_core::movement::Catalogue;
use lantern_core::read::read;
use lantern_core::session::Likeness;

/// Ten rounds over every route with one hostile field each: the server never fails, and nothing panics.
#[test]
fn no_request_brings_the_server_down() {
    let fuzzed = fuzz(1_200, 5);
    assert_eq!((fuzzed.failed.len(), fuzzed.panics), (0, 0), "{:#?}", fuzzed.failed);
    assert!(fuzzed.by_status.get(&200).is_some_and(|count| *count > 100), "{:?}", fuzzed.by_status);
}

/// The first texts of the long proof: every page comes, and none takes as long as a request may.
#[test]
fn a_text_that_asks_for_too_much_is_answered_all_the_same() {
    for page in hostile(Some(3), &|database| (TestServer::start(database), std::process::id(), Box::new(())))
    {
        assert!(page.bad.is_empty(), "{page:?}");
    }
}

/// Connections that never answer again are given up by themselves.
#[test]
fn a_database_that_goes_silent_is_found_again_without_a_restart() {
    let recovery = silent();
    assert!(recovery.first_good < Duration::from_secs(30), "{recovery:?}");
    assert!(recovery.until_then.len() <= 2 && recovery.bad_after == 0, "{recovery:?}");
}

/// A database that speaks only TLS is reached, and one whose certificate is not trusted is not.
#[test]
fn the_database_is_reached_over_tls_when_the_address_says_so() {
    let database = TestDatabase::demo();
    let (certificate, key) = (include_bytes!("tls/cert.pem"), include_bytes!("tls/key.pem"));
    let road = tls_before(&database.url, certificate, key);
    let roots = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/tls/cert.pem");
    for (query, status) in [
        ("?sslmode=require".to_owned(), 200),
        (format!("?sslmode=verify-full&sslrootcert={roots}"), 200),
        ("?sslmode=verify-full".to_owned(), 503),
        ("?sslmode=disable".to_owned(), 503),
    ] {
        let server = TestServer::start_on(&format!("{road}{query}"));
        assert_eq!(server.get("/readyz").status, status, "{query}");
    }
}

/// Going back to the older tables and forward again loses nothing but what they have no place for, and what was decided by name and place is
/// brought to ids.
#[test]
fn the_tables_go_back_and_forward_again() {
    let database = TestDatabase::demo();
    let steps = [
        (
            include_str!("../../store/migrations/2026-11-25-000006_nothing_lost/up.sql"),
            include_str!("../../store/migrations/2026-11-25-000006_nothing_lost/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-25-000007_corrections/up.sql"),
            include_str!("../../store/migrations/2026-11-25-000007_corrections/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-25-000008_habits/up.sql"),
            include_str!("../../store/migrations/2026-11-25-000008_habits/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-27-000009_identity/up.sql"),
            include_str!("../../store/migrations/2026-11-27-000009_identity/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-27-000010_history/up.sql"),
            include_str!("../../store/migrations/2026-11-27-000010_history/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-27-000011_by_gym/up.sql"),
            include_str!("../../store/migrations/2026-11-27-000011_by_gym/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-27-000012_accounts/up.sql"),
            include_str!("../../store/migrations/2026-11-27-000012_accounts/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-27-000013_row_security/up.sql"),
            include_str!("../../store/migrations/2026-11-27-000013_row_security/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-27-000014_versions/up.sql"),
            include_str!("../../store/migrations/2026-11-27-000014_versions/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-27-000015_privacy/up.sql"),
            include_str!("../../store/migrations/2026-11-27-000015_privacy/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-27-000016_who_asks/up.sql"),
            include_str!("../../store/migrations/2026-11-27-000016_who_asks/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-27-000017_codes/up.sql"),
            include_str!("../../store/migrations/2026-11-27-000017_codes/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-27-000018_results/up.sql"),
            include_str!("../../store/migrations/2026-11-27-000018_results/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-27-000019_learned/up.sql"),
            include_str!("../../store/migrations/2026-11-27-000019_learned/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-27-000020_shapes/up.sql"),
            include_str!("../../store/migrations/2026-11-27-000020_shapes/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-27-000021_asked/up.sql"),
            include_str!("../../store/migrations/2026-11-27-000021_asked/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-27-000022_happenings/up.sql"),
            include_str!("../../store/migrations/2026-11-27-000022_happenings/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-27-000023_who_is_here/up.sql"),
            include_str!("../../store/migrations/2026-11-27-000023_who_is_here/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-27-000024_backups/up.sql"),
            include_str!("../../store/migrations/2026-11-27-000024_backups/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-28-000025_saved_by/up.sql"),
            include_str!("../../store/migrations/2026-11-28-000025_saved_by/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-28-000026_while_typing/up.sql"),
            include_str!("../../store/migrations/2026-11-28-000026_while_typing/down.sql"),
        ),
        (
            include_str!("../../store/migrations/2026-11-30-000027_what_was_asked_of_lifts/up.sql"),
            include_str!("../../store/migrations/2026-11-30-000027_what_was_asked_of_lifts/down.sql"),
        ),
    ];
    steps.iter().rev().for_each(|(_, down)| database.run(down));
    let text = "For time\n50 burpees";
    database.run(&format!(
        "insert into sessions (gym_id, day, text) select id, '2026-03-02', '{text}' from gyms"
    ));
    database.run("insert into piece_edits (gym_id, day, edits) select id, '2026-03-02', '{\"pieces\":{\"0\":{\"more\":true}}}' from gyms");
    steps.iter().for_each(|(up, _)| database.run(up));
    lantern_store::migrate(&database.url).unwrap();
    let gym = database.demo_gym();
    let stands = database.with_store(move |store| async move {
        let day = chrono::NaiveDate::from_ymd_opt(2026, 3, 2).unwrap();
        let catalogue = Catalogue::standard();
        let parts = &read(text, catalogue).session.parts;
        let likeness: Vec<Likeness> = parts.iter().map(|part| Likeness::of(part, catalogue)).collect();
        in_gym!(store, gym, lantern_store::day::standing, day, None).unwrap().of(&likeness, &[])
    });
    assert!(stands.pieces.of(0).more);
    // Days without a decision keep their parts as well.
    let without = "select s.day::text as name from sessions s where not exists
                   (select from pieces p where p.gym_id = s.gym_id and p.day = s.day)";
    assert_eq!(database.names(without), Vec::<String>::new());
    // Accounts went with their tables; whoever gets one sees the days as before.
    database.with_store(move |store| async move {
        let (email, owner) = ("iris@harbour-lane.example", (lantern_store::Role::Owner, "Iris"));
        in_gym!(store, gym, lantern_store::memberships::add, email, owner, None).unwrap();
    });
    assert_eq!(TestServer::start(&database).get("/days").status, 200);
}

/// So many who ask at once take every connection of the pool.
const ALL_AT_ONCE: usize = 40;

/// More at once than there is room for, because nothing comes back from the database: those who find no room are told at once when to come again, whether the program
/// lives is always said, and afterwards everything is as before.
#[test]
fn whoever_finds_no_room_is_told_when_to_come_again() {
    let database = TestDatabase::demo();
    let road = Proxy::before(&database.url);
    let server = TestServer::start_as_shipped(None, &road.url);
    let cookie = server.cookie();
    // All connections of the pool are open: one that is opened later would not be silent.
    std::thread::scope(|scope| {
        for n in 0..ALL_AT_ONCE {
            let road = server.with_cookie(&cookie).road();
            // On a busy machine the first of so many may come too late.
            scope.spawn(move || while road.status(&format!("/days?n={n}")).0 != 200 {});
        }
    });
    road.go_silent();
    let begun = Instant::now();
    let told = std::thread::scope(|scope| {
        let asks: Vec<_> = (0..320)
            .map(|_| {
                let road = server.with_cookie(&cookie).road();
                scope.spawn(move || (road.said("/days"), begun.elapsed()))
            })
            .collect();
        std::thread::sleep(Duration::from_millis(1_500));
        assert_eq!(server.signed_out().try_get("/healthz"), Ok(200));
        assert!(!asks.iter().all(|asks| asks.is_finished()), "it is said when nobody waits any more");
        asks.into_iter().map(|asks| asks.join().expect("whoever asks goes on")).collect::<Vec<_>>()
    });
    let waited: Vec<_> = told
        .iter()
        .map(|((status, when, said), after)| {
            (*status, *when, said.contains("Too many ask at this moment"), *after)
        })
        .collect();
    assert!(
        waited.iter().all(|(status, when, ..)| *status == 200 || (*status == 503 && *when)),
        "{waited:?}"
    );
    // At once: before anybody who was let in.
    let (away, in_vain): (Vec<_>, Vec<_>) =
        waited.iter().partition(|(_, _, is_turned_away, _)| *is_turned_away);
    let first = |of: &[&(u16, bool, bool, Duration)]| of.iter().map(|(.., after)| *after).min();
    assert!(away.len() >= 30 && first(&away) < first(&in_vain), "{waited:?}");
    assert_eq!(server.get("/days").status, 200);
}

/// What the long proofs take a cost from.
#[test]
fn processor_time_of_this_process_grows() {
    let before = processor(std::process::id());
    let begun = Instant::now();
    let mut sum = 0_u64;
    // It is counted in hundredths of a second, and this program may have to wait for its turn.
    while processor(std::process::id()) <= before {
        sum = std::hint::black_box(sum.wrapping_mul(31).wrapping_add(1));
        assert!(begun.elapsed() < Duration::from_secs(60), "{sum}");
    }
}
