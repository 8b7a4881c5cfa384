//! Every route that the application has, as its source says: without signing in, and with the ids of another gym.

use std::path::Path;

use browser_tests::pages::monday;
use lantern_core::gym::Gym;
use lantern_store::{Role, memberships};

use super::*;

/// Method and path of every handler. Read from the source, so that none is forgotten.
fn routes() -> Vec<(String, String)> {
    fn sources(folder: &Path, found: &mut String) {
        for entry in std::fs::read_dir(folder).unwrap() {
            let path = entry.unwrap().path();
            if path.is_dir() {
                sources(&path, found);
            } else {
                found.push_str(&std::fs::read_to_string(path).unwrap());
            }
        }
    }
    let mut source = String::new();
    sources(&Path::new(env!("CARGO_MANIFEST_DIR")).join("../web/src"), &mut source);
    let source = source.split_whitespace().collect::<Vec<_>>().join(" ");
    let mut routes = Vec::new();
    for (mark, method) in
        [("#[get(", "GET"), ("#[post(", "POST"), ("#[route(", "GET"), ("web::resource(", "POST")]
    {
        for rest in source.split(mark).skip(1) {
            let path = rest.trim_start().trim_start_matches('"').split('"').next().unwrap();
            // Of several forms in one address the first stands for all.
            let mut plain = String::new();
            let mut depth = 0;
            for c in path.chars() {
                match c {
                    '{' => depth += 1,
                    '}' => depth -= 1,
                    _ => {}
                }
                plain.push(c);
            }
            assert_eq!(depth, 0, "{path}");
            routes.push((method.to_owned(), plain));
        }
    }
    assert!(routes.len() > 80, "{}", routes.len());
    routes
}

/// A path with each of its places filled.
fn filled(path: &str, fill: &dyn Fn(&str) -> String) -> String {
    let (mut out, mut place, mut depth) = (String::new(), String::new(), 0);
    for c in path.chars() {
        match c {
            '{' => {
                depth += 1;
                if depth > 1 {
                    place.push(c);
                }
            }
            '}' if depth == 1 => {
                depth = 0;
                let (name, pattern) = place.split_once(':').unwrap_or((&place, ""));
                out.push_str(&match pattern {
                    "" | "[0-9]+" => fill(name),
                    one_of => one_of.split('|').next().unwrap_or_default().replace(".*", "x"),
                });
                place.clear();
            }
            '}' => {
                depth -= 1;
                place.push(c);
            }
            c if depth > 0 => place.push(c),
            c => out.push(c),
        }
    }
    out
}

/// Open to everybody: for machines that watch, what time it is, for signing in, and what a secret address opens.
fn is_open(path: &str) -> bool {
    [
        "/healthz",
        "/readyz",
        "/time",
        "/guest",
        "/privacy",
        "/help",
        "/.well-known/security.txt",
        "/worker.js",
        "/api/v1/openapi.json",
        "/static",
        "/sign-in",
        "/sign-out",
        "/forgotten",
        "/passphrase/",
        "/invited/",
        "/start/",
    ]
    .iter()
    .chain(&["/demo/", "/wall/", "/calendar/", "/assets", "/lantern"])
    .any(|open| path.starts_with(open))
}

#[test]
fn nothing_is_open_without_signing_in() {
    let (_database, server) = demo();
    let out = server.signed_out();
    let fill = |name: &str| if name == "day" { format!("{}T18:00", monday()) } else { "1".to_owned() };
    for (method, path) in routes().iter().filter(|(_, path)| !is_open(path)) {
        let address = filled(path, &fill);
        let answer = if method == "GET" { out.get(&address) } else { out.post(&address, &[("text", "x")]) };
        assert!([303, 401, 403].contains(&answer.status), "{method} {address}: {}", answer.status);
        let to = answer.location.unwrap_or_default();
        assert!(answer.status != 303 || to.starts_with('/'), "{method} {address} leads to {to}");
        for name in ["Quenby", "Harbour Lane", "Iris"] {
            assert!(!answer.body.contains(name), "{method} {address} names {name}");
        }
    }
    // Secret addresses and links that are none open nothing.
    for (method, path) in routes().iter().filter(|(_, path)| is_open(path) && path.contains('{')) {
        let address = filled(path, &|_| "1.x".to_owned());
        let answer = if method == "GET" {
            out.get(&address)
        } else {
            out.post(&address, &[("passphrase", PASSPHRASE)])
        };
        assert_eq!(answer.status, 404, "{method} {address}");
    }
}

/// All rows of a gym, as text.
fn rows_of(database: &TestDatabase, gym: &str) -> Vec<String> {
    let tables = database.names(
        "select c.relname::text as name from pg_class c join pg_namespace n on n.oid = c.relnamespace
         join pg_attribute a on a.attrelid = c.oid where n.nspname = 'public' and c.relkind = 'r'
         and a.attname = 'gym_id' and c.relname not in ('login_sessions', 'one_time_links') order by 1",
    );
    let tables = tables.iter().map(|table| (table.as_str(), "gym_id")).chain([("gyms", "id")]);
    tables
        .flat_map(|(table, column)| {
            database
                .names(&format!("select t::text as name from {table} t where {column} = {gym} order by 1"))
        })
        .collect()
}

/// Whoever owns another gym, and sends this one's ids to every route in every form: sees nothing of it and changes nothing.
#[test]
fn an_owner_of_another_gym_crosses_over_nowhere() {
    let (database, server) = demo();
    let theirs = database.demo_gym();
    let gym = Gym { name: "Elsewhere".to_owned(), ..Gym::default() };
    let ours = database.gym(&gym);
    database.with_store(move |store| async move {
        let eve = (Role::Owner, "Eve");
        browser_tests::in_gym!(store, ours, memberships::add, "eve@example.org", eve, None).unwrap();
        let (account, _) = accounts::of_email(&store, "eve@example.org").await.unwrap().unwrap();
        let kept = lantern_store::passphrase::kept(PASSPHRASE.to_owned()).await.unwrap();
        accounts::set_passphrase(&store, account, &kept).await.unwrap();
    });
    let eve = || server.with_cookie(&sign_in(&server, "eve@example.org", PASSPHRASE).cookie.unwrap());
    let mut seen_by_eve = eve();
    // Their ids, of every kind.
    let ids = |table: &str| {
        database.names(&format!("select id::text as name from {table} where gym_id = {theirs} limit 2"))
    };
    server.post("/movements/names", &[("alias", "hill lap"), ("movement", "Run")]);
    let day = database
        .names(&format!("select day::text as name from classes where gym_id = {theirs} order by 1 limit 1"));
    let scores = [("piece", "0"), ("text", "alba 4:05\nbertil 5:41")];
    assert_eq!(server.post(&format!("/days/{}T18:00/book", day[0]), &scores).status, 303);
    server.post("/people/keys", &[("name", "By the rig"), ("opens", "wall")]);
    server.post("/people/invite", &[("email", "x@example.org"), ("role", "coach"), ("name", "X")]);
    let kinds = [
        "members",
        "maxes",
        "classes",
        "movement_aliases",
        "decisions",
        "pieces",
        "results",
        "keys",
        "invitations",
    ];
    let mut values: Vec<String> = kinds.iter().flat_map(|table| ids(table)).collect();
    values.sort();
    values.dedup();
    let removed =
        database.names(&format!("select key as name from removals where gym_id = {theirs} limit 1"));
    let keys = removed.iter().map(String::as_str).chain(["x"]).collect::<Vec<_>>();
    let before = rows_of(&database, &theirs.to_string());
    assert!(before.len() > 100, "{}", before.len());
    for (method, path) in routes().iter().filter(|(_, path)| !is_open(path)) {
        for id in &values {
            let fill = |name: &str| match name {
                "day" => format!("{}T18:00", day[0]),
                _ => id.clone(),
            };
            let address = filled(path, &fill);
            let answer = if method == "GET" {
                seen_by_eve.get(&address)
            } else {
                let form = [
                    ("id", id.as_str()),
                    ("member", id),
                    ("booked", id),
                    ("piece", "0"),
                    ("key", keys[0]),
                    ("place", "0"),
                    ("email", "rowan@harbour-lane.example"),
                    ("role", "member"),
                    ("action", "undo"),
                    ("name", "Alba Quenby"),
                    ("lift", "back-squat"),
                    ("weight", "100"),
                    ("reps", "1"),
                    ("limits", "left knee"),
                    ("since", ""),
                    ("text", "For time\n50 burpees"),
                    ("revision", "1"),
                ];
                seen_by_eve.post(&address, &form)
            };
            assert!(answer.status < 500, "{method} {address}: {}", answer.status);
            // What she typed herself comes back; what else stands there is theirs.
            for name in ["Bertil", "Harbour Lane", "Iris"] {
                assert!(!answer.body.contains(name), "{method} {address} shows {name}");
            }
            if !path.contains('{') && method == "GET" {
                break;
            }
            if seen_by_eve.get("/account").status != 200 {
                // She has signed herself out, or given her role away, on the way.
                seen_by_eve = eve();
            }
        }
    }
    assert_eq!(before, rows_of(&database, &theirs.to_string()));
}
