//! Ten thousand requests, one hostile field at a time, over every route.

use std::collections::BTreeMap;
use std::sync::atomic::{AtomicUsize, Ordering};

use rand::seq::IndexedRandom;
use rand::{Rng, RngExt, SeedableRng};
use rand_pcg::Pcg64Mcg;

use crate::{TestDatabase, TestServer};

/// Every route: its method, its address with `{}` for a hostile or an ordinary value, and the fields of its form.
pub const ROUTES: &[(&str, &str, &[&str])] = &[
    ("GET", "/", &[]),
    ("GET", "/healthz", &[]),
    ("GET", "/readyz", &[]),
    ("GET", "/static/{}/{}", &[]),
    ("GET", "/days", &["from", "removed", "carried"]),
    ("GET", "/month", &["of"]),
    ("POST", "/days/{day}/carry", &["to", "how", "replace"]),
    ("POST", "/days/carried", &["carried"]),
    ("POST", "/days/{day}/texts", &["revision"]),
    ("GET", "/days/{day}", &[]),
    ("GET", "/days/{day}/read", &["saved"]),
    ("POST", "/days/{day}/read", &["text", "revision", "writer", "then"]),
    ("POST", "/days/{day}/reading", &["text", "revision"]),
    ("POST", "/days/{day}/apply", &["text", "revision", "apply"]),
    ("POST", "/days/{day}/history", &["id", "action"]),
    ("POST", "/days/{day}/read-anew", &["text"]),
    ("POST", "/days/{day}/put-together", &["base", "revision", "writer"]),
    ("GET", "/days/{day}/session.txt", &[]),
    ("GET", "/days/{day}/session.json", &[]),
    ("GET", "/days/{day}/strip", &["small"]),
    ("GET", "/days/{day}/warmup", &[]),
    ("POST", "/days/{day}/warmup", &["action", "id", "value"]),
    ("GET", "/days/{day}/loads", &["entered"]),
    ("GET", "/days/{day}/names", &[]),
    ("GET", "/days/{day}/loads.csv", &[]),
    ("GET", "/days/{day}/loads.xlsx", &[]),
    ("GET", "/days/{day}/loads.json", &[]),
    ("POST", "/days/{day}/loads", &["member", "lift", "weight", "reps", "rpe", "missed"]),
    ("POST", "/days/{day}/loads/undo", &["key"]),
    ("POST", "/days/{day}/loads/release", &["member", "lift", "hold"]),
    ("GET", "/days/{day}/versions", &[]),
    (
        "POST",
        "/days/{day}/versions",
        &["action", "piece", "member", "value", "version", "from", "to", "low", "high"],
    ),
    ("GET", "/days/{day}/plan", &[]),
    ("GET", "/days/{day}/pace", &["member"]),
    ("GET", "/days/{day}/hour", &[]),
    ("POST", "/days/{day}/hour", &["action", "value", "key", "other", "piece", "x", "y"]),
    ("GET", "/days/{day}/board", &[]),
    ("GET", "/days/{day}/cards", &[]),
    ("GET", "/days/{day}/print", &[]),
    ("GET", "/days/{day}/sheet", &[]),
    ("POST", "/days/{day}/sheet", &["words"]),
    ("GET", "/days/{day}/class", &[]),
    ("POST", "/days/{day}/class", &["booked"]),
    ("POST", "/days/{day}/bookings", &["feed", "stand_in"]),
    ("POST", "/days/{day}/classes", &["starts", "minutes", "coach"]),
    ("POST", "/days/{day}/class/remove", &[]),
    ("POST", "/removed", &["key"]),
    ("GET", "/sign-in", &["to"]),
    ("GET", "/privacy", &[]),
    ("GET", "/help", &[]),
    ("GET", "/.well-known/security.txt", &[]),
    ("POST", "/sign-in", &["email", "passphrase", "to", "typed"]),
    ("POST", "/forgotten", &["email"]),
    ("GET", "/passphrase/{token}", &[]),
    ("POST", "/passphrase/{token}", &["passphrase"]),
    ("GET", "/invited/{token}", &[]),
    ("POST", "/invited/{token}", &["passphrase"]),
    ("GET", "/start/{token}", &[]),
    ("POST", "/start/{token}", &["gym", "name", "email", "passphrase"]),
    ("GET", "/account", &[]),
    ("POST", "/account/others", &[]),
    ("POST", "/account/gym", &["place"]),
    ("GET", "/people", &[]),
    ("POST", "/people/invite", &["email", "name", "role", "member"]),
    ("POST", "/people/uninvite", &["id"]),
    ("POST", "/people/role", &["email", "role"]),
    ("POST", "/people/keys", &["name", "opens", "scope"]),
    ("POST", "/people/keys/revoke", &["id"]),
    ("GET", "/wall/{token}", &[]),
    ("GET", "/calendar/{token}/classes.ics", &[]),
    ("GET", "/demo/{token}/{who}", &[]),
    ("GET", "/me", &[]),
    ("POST", "/me/shown", &["shown"]),
    ("POST", "/members/{id}/shown", &["shown"]),
    ("GET", "/members/{id}/file.zip", &[]),
    ("GET", "/api/v1/days/{day}/session", &[]),
    ("GET", "/classes.ics", &[]),
    ("GET", "/gym", &["wave", "cycle", "removed"]),
    (
        "POST",
        "/gym",
        &["policy", "formula", "training_max", "racks", "class_minutes", "time_zone", "infer", "swap"],
    ),
    ("POST", "/gym/cycles", &["name", "lift", "weeks"]),
    ("POST", "/gym/cycles/remove", &["name"]),
    ("GET", "/days/{day}/book", &["piece", "lift"]),
    (
        "POST",
        "/days/{day}/book",
        &["piece", "lift", "text", "key", "member", "version", "effort", "note", "hurt", "sure"],
    ),
    ("POST", "/days/{day}/book/undo", &["id", "key", "piece", "action"]),
    ("GET", "/days/{day}/floor", &[]),
    (
        "POST",
        "/days/{day}/floor",
        &["what", "block", "n", "seconds", "member", "rounds", "of_ms", "at_ms", "key"],
    ),
    ("POST", "/days/{day}/floor/score", &["piece", "member", "text", "key"]),
    ("POST", "/days/{day}/floor/unscore", &["id"]),
    ("GET", "/days/{day}/floor/here", &["asked", "here", "joined"]),
    ("POST", "/days/{day}/floor/here", &["asked", "here", "joined"]),
    ("GET", "/me/now", &[]),
    ("GET", "/me/own", &[]),
    ("GET", "/time", &[]),
    ("POST", "/days/{day}/book/version", &["piece", "member", "version"]),
    ("POST", "/days/{day}/book/max", &["lift", "entered", "member", "set", "say"]),
    ("GET", "/search", &["q", "before"]),
    ("GET", "/gym/history", &["taken", "rows"]),
    ("POST", "/gym/history", &["csv", "column", "means", "order"]),
    ("POST", "/gym/history/take", &["csv", "column", "means", "order", "leave_out"]),
    ("POST", "/gym/history/back", &["key"]),
    ("POST", "/gym/history/file", &[]),
    ("GET", "/gym/lifts.csv", &[]),
    ("GET", "/gym/lifts.xlsx", &[]),
    ("GET", "/gym/lifts.json", &[]),
    ("GET", "/gym/results.csv", &[]),
    ("GET", "/gym/results.xlsx", &[]),
    ("GET", "/gym/results.json", &[]),
    ("GET", "/gym/results", &[]),
    ("POST", "/gym/results", &["learning"]),
    ("GET", "/gym/inventory", &[]),
    (
        "POST",
        "/gym/inventory",
        &["racks", "rowers", "unit", "plates", "bars", "dumbbells", "floor_width", "floor_depth"],
    ),
    ("GET", "/members", &[]),
    ("POST", "/gym/habits/hand", &["habit", "action"]),
    ("POST", "/members/drop-in", &["name", "pair", "experience", "pull_ups", "squat", "row_2k", "limits"]),
    ("POST", "/members/1/name", &["name"]),
    ("POST", "/members/1/answers", &["pair", "experience", "pull_ups", "squat", "run_400m", "limits"]),
    ("GET", "/members/import", &[]),
    ("POST", "/members/import", &["csv", "column", "means"]),
    ("POST", "/members/import/take", &["csv", "column", "means", "leave_out"]),
    ("GET", "/members.csv", &[]),
    ("GET", "/members.xlsx", &[]),
    ("GET", "/members.json", &[]),
    ("GET", "/members/{id}", &["removed"]),
    ("GET", "/members/{id}/file.json", &[]),
    ("POST", "/members/{id}/lifts", &["lift", "weight", "reps", "rpe", "on", "source", "missed"]),
    ("POST", "/members/{id}/lifts/{id}/remove", &[]),
    ("POST", "/members/{id}/away", &["since"]),
    ("POST", "/members/{id}/limits", &["limits"]),
    ("POST", "/members/{id}/limits/look", &["action", "limit", "spares"]),
    ("POST", "/members/{id}/delete", &["name", "coaches"]),
    ("GET", "/movements", &["q", "alias", "removed"]),
    ("POST", "/movements/names", &["alias", "movement"]),
    ("POST", "/movements/names/{id}/remove", &[]),
    ("POST", "/movements/own", &["name", "like", "unit", "seconds", "aliases"]),
    ("POST", "/movements/own/{id}/remove", &[]),
];

/// Ordinary values of fields, so that only one is hostile at a time.
const ORDINARY: &[(&str, &[&str])] = &[
    (
        "text",
        &[
            "For time\n50 burpees",
            "Back squat 5x5 @ 75%\n\nAMRAP 12\n10 pull-ups",
            "AMRAP 10\n5 thrustrs 40/30 kg",
        ],
    ),
    (
        "action",
        &[
            "choose", "release", "window", "pin", "unpin", "change", "undo", "arrange", "place", "teams",
            "with", "lock", "up", "swap", "dose", "minutes", "reset", "look", "remove",
        ],
    ),
    ("piece", &["0", "1"]),
    ("member", &["1", "Alba Quenby"]),
    ("value", &["Lighter", "8:30", "3", "{\"change\":\"shorter_warmup\"}"]),
    ("lift", &["back-squat", "deadlift"]),
    ("weight", &["80", "82,5"]),
    ("reps", &["5", "1"]),
    ("revision", &["0", "1"]),
    ("starts", &["18:00", "07:00"]),
    ("minutes", &["60"]),
    ("csv", &["name,age,back_squat_kg\nNew One,30,80\n", "name,lift,weight\nAlba Quenby,back squat,80\n"]),
    ("column", &["Notes"]),
    ("means", &["note", "drop"]),
    ("name", &["New One", "Squat"]),
    ("experience", &["beginner"]),
    ("unit", &["reps", "seconds", "lb"]),
    ("like", &["burpee"]),
    ("on", &["2026-03-02"]),
    ("since", &["2026-03-02", ""]),
    ("source", &["tested"]),
    ("weeks", &["5x5 @ 70%\n5x4 @ 75%"]),
    ("policy", &["tested"]),
    ("formula", &["epley"]),
    ("movement", &["burpee"]),
    ("limits", &["left knee: no jumping"]),
];

/// Values that break programs.
fn hostile(dice: &mut Pcg64Mcg) -> String {
    const FIXED: &[&str] = &[
        "",
        "\0",
        "a\0b",
        "\r\nX-Injected: 1",
        "\r",
        "nan",
        "NaN",
        "inf",
        "-inf",
        "1e309",
        "-1",
        "0",
        "1e9",
        "4294967295",
        "4294967296",
        "9223372036854775807",
        "9223372036854775808",
        "18446744073709551616",
        "71582789:00",
        "99:99",
        "-262143-01-01",
        "+262142-12-31",
        "0000-00-00",
        "2026-02-31",
        "2026-13-01",
        "1999-12-31",
        "9999-12-31",
        "2026-11-23T25:00",
        "2026-11-23T18:00",
        "=HYPERLINK(\"x\")",
        "@SUM(1)",
        "+1",
        "' or 1=1 --",
        "<script>alert(1)</script>",
        "\"><img src=x>",
        "../../etc/passwd",
        "%00",
        "%s%n",
        "{}",
        "[]",
        "null",
        "true",
        "{\"change\":\"lower_cap\",\"part\":99999}",
        "\u{202e}",
        "\u{feff}",
        "\u{1f4aa}\u{1f3fd}",
        "e\u{301}\u{301}\u{301}",
        "\u{fffd}",
        "\u{ffff}",
        "\x7f",
        "\x1b[31m",
        "#",
        "?",
        "&",
        ";",
        "%",
        "a=b&c=d",
        "1|1|x|y",
        "|||",
        "100000 rounds for time\n10 burpees",
        "every 1s for 99999 min: 1 burpee",
        "AMRAP 4294967295\n1 burpee",
        "Tabata\nburpees\n\nTabata\nburpees",
        "name,name\na,b",
        "name;x\n;;;",
        "name\t\n\"",
        "\"unclosed",
        "0 burpees\n0 rounds",
        "week 0 of 0",
        "1e309 pull-ups",
        "5x0 @ 0%",
    ];
    match dice.random_range(0..12) {
        0 => "x".repeat(dice.random_range(100..70_000)),
        1 => (0..dice.random_range(1..40))
            .map(|_| char::from_u32(dice.random_range(0..0xd7ff)).unwrap_or(' '))
            .collect(),
        2 => dice.random::<i64>().to_string(),
        _ => (*FIXED.choose(dice).unwrap_or(&"")).to_owned(),
    }
}

/// What came of a run.
#[derive(Debug, Default)]
pub struct Fuzzed {
    /// Requests sent.
    pub requests: usize,
    /// Answers by status.
    pub by_status: BTreeMap<u16, usize>,
    /// Requests that were answered with a server error, or not at all.
    pub failed: Vec<String>,
    /// Panics of the program while it ran; not those of tests that run beside it in the same process.
    pub panics: usize,
}

static PANICS: AtomicUsize = AtomicUsize::new(0);

/// Sends so many requests to an application with the demo, by seed.
pub fn fuzz(requests: usize, seed: u64) -> Fuzzed {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let before = std::panic::take_hook();
    std::panic::set_hook(Box::new(|info| {
        let is_a_test = info.location().is_some_and(|at| at.file().contains("browser-tests"));
        PANICS.fetch_add(usize::from(!is_a_test), Ordering::SeqCst);
        eprintln!("{info}");
    }));
    let mut dice = Pcg64Mcg::seed_from_u64(seed);
    let mut fuzzed = Fuzzed::default();
    let today = chrono::Utc::now().date_naive();
    let monday =
        today - chrono::Days::new(u64::from(chrono::Datelike::weekday(&today).num_days_from_monday()));
    for n in 0..requests {
        let (method, path, fields) = ROUTES[n % ROUTES.len()];
        // One hostile place: in the address, or in one of the fields.
        let places = path.matches('{').count() + fields.len();
        // Now and then nothing is, so that what follows meets a day with something on it.
        let bad = dice.random_range(0..places + 2);
        let mut place = 0;
        let mut address = String::new();
        for piece in path.split('/').skip(1) {
            address.push('/');
            if !piece.contains('{') {
                address.push_str(piece);
                continue;
            }
            let ordinary = match piece {
                "{day}" if dice.random_bool(0.6) => format!("{monday}T18:00"),
                "{day}" => monday.to_string(),
                "{id}" => dice.random_range(1..15).to_string(),
                _ => "x".to_owned(),
            };
            let value = if place == bad { hostile(&mut dice) } else { ordinary };
            let short: String = value.chars().take(2_000).collect();
            address.push_str(&encoded(&short));
            place += 1;
        }
        let mut form: Vec<(String, String)> = Vec::new();
        for field in fields {
            let usual =
                ORDINARY.iter().find(|(name, _)| name == field).map_or(&[""][..], |(_, values)| values);
            let usual = (*usual.choose(&mut dice).unwrap_or(&"")).to_owned();
            form.push(((*field).to_owned(), if place == bad { hostile(&mut dice) } else { usual }));
            place += 1;
        }
        let (status, what) = send(&server, method, &address, &form, &mut dice);
        *fuzzed.by_status.entry(status).or_default() += 1;
        fuzzed.requests += 1;
        if status == 0 || status >= 500 {
            let form: Vec<String> =
                form.iter().map(|(k, v)| format!("{k}={}", v.chars().take(60).collect::<String>())).collect();
            fuzzed.failed.push(format!("{status} {what} {address:.200} {form:?}"));
        }
    }
    std::panic::set_hook(before);
    fuzzed.panics = PANICS.swap(0, Ordering::SeqCst);
    fuzzed
}

fn send(
    server: &TestServer,
    method: &str,
    address: &str,
    form: &[(String, String)],
    dice: &mut impl Rng,
) -> (u16, String) {
    let pairs: Vec<String> = form.iter().map(|(k, v)| format!("{}={}", encoded(k), encoded(v))).collect();
    let query = pairs.join("&");
    let tried = match method {
        "GET" if form.is_empty() => server.try_get(address),
        "GET" => server.try_get(&format!("{address}?{}", query.chars().take(6_000).collect::<String>())),
        // Now and then a form is cut off in the middle of what it says.
        _ if dice.random_bool(0.02) => server.try_post(address, query.get(..query.len() / 2).unwrap_or("")),
        _ => server.try_post(address, &query),
    };
    match tried {
        Ok(status) => (status, method.to_owned()),
        Err(error) => (0, format!("{method} {error}")),
    }
}

fn encoded(text: &str) -> String {
    text.bytes()
        .map(|byte| match byte {
            b'a'..=b'z' | b'A'..=b'Z' | b'0'..=b'9' | b'-' | b'_' | b'.' | b'~' => {
                char::from(byte).to_string()
            }
            _ => format!("%{byte:02X}"),
        })
        .collect()
}
