//! Who comes in, where, and who does not.

mod codes;
mod crossing;
mod privacy;
mod programs;
mod roles;

use browser_tests::{TestDatabase, TestServer};
use lantern_store::accounts::{self, Link};

fn demo() -> (TestDatabase, TestServer) {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    (database, server)
}

const PASSPHRASE: &str = "three grey herons wade";

/// What stands between two marks of a page.
fn between<'a>(page: &'a str, from: &str, to: &str) -> &'a str {
    page.split(from).nth(1).and_then(|rest| rest.split(to).next()).unwrap_or_default()
}

/// The path of the link that a page shows once.
fn shown_link(page: &str) -> String {
    let link = between(page, "aria-label=\"The link\" value=\"", "\"");
    let path = link.find("://").and_then(|at| link[at + 3..].find('/').map(|slash| at + 3 + slash));
    link[path.expect("a link is shown")..].to_owned()
}

/// Invites somebody as the demo's owner, and comes in as them; their cookie.
fn comes_in(server: &TestServer, email: &str, role: &str, name: &str) -> String {
    let made = server.post("/people/invite", &[("email", email), ("role", role), ("name", name)]);
    assert_eq!(made.status, 200, "{}", made.body);
    let invited = server.signed_out().post(&shown_link(&made.body), &[("passphrase", PASSPHRASE)]);
    assert_eq!((invited.status, invited.location.as_deref()), (303, Some("/")), "{}", invited.body);
    invited.cookie.expect("a login session")
}

fn sign_in(server: &TestServer, email: &str, passphrase: &str) -> browser_tests::Answer {
    server.signed_out().post("/sign-in", &[("email", email), ("passphrase", passphrase)])
}

#[test]
fn the_first_start_makes_an_owner_once() {
    let database = TestDatabase::empty();
    let runs = TestServer::start(&database);
    let server = runs.signed_out();
    let home = server.get("/days");
    assert_eq!((home.status, home.location.as_deref()), (303, Some("/sign-in?to=%2Fdays")));
    let link = database.with_store(|store| async move {
        let token = accounts::link(&store, Link::Owner(None)).await.unwrap();
        format!("/start/{}", token.expose())
    });
    assert!(server.get(&link).body.contains("The gym is called"));
    let first = |passphrase| {
        [("gym", "North Hall"), ("name", "Wren"), ("email", "wren@example.org"), ("passphrase", passphrase)]
    };
    let short = server.post(&link, &first("short"));
    assert!(short.status == 422 && short.body.contains("5 characters") && short.body.contains("North Hall"));
    let come = server.post(&link, &first(PASSPHRASE));
    assert_eq!(come.status, 303, "{}", come.body);
    let wren = server.with_cookie(&come.cookie.unwrap());
    assert!(wren.get("/days").body.contains("North Hall"));
    assert!(wren.get("/account").body.contains("owner"));
    // Once: neither the same link, nor its page.
    assert_eq!((server.post(&link, &first(PASSPHRASE)).status, server.get(&link).status), (404, 404));
}

/// A server that was started twice has printed two links: one owner comes of them.
#[test]
fn of_two_links_of_a_first_start_one_makes_an_owner() {
    let database = TestDatabase::empty();
    let server = TestServer::start(&database);
    let out = server.signed_out();
    let links = database.with_store(|store| async move {
        let mut links = Vec::new();
        for _ in 0..2 {
            let token = accounts::link(&store, Link::Owner(None)).await.unwrap();
            links.push(format!("/start/{}", token.expose()));
        }
        links
    });
    let first =
        [("gym", "North Hall"), ("name", "Wren"), ("email", "wren@example.org"), ("passphrase", PASSPHRASE)];
    assert_eq!(out.post(&links[0], &first).status, 303);
    assert_eq!((out.get(&links[1]).status, out.post(&links[1], &first).status), (404, 404));
    assert_eq!(database.names("select name from gyms"), ["North Hall"]);
}

/// Whoever asks for somebody else's new passphrase cannot have the letter lead to a place of their own.
#[test]
fn a_letter_leads_to_this_server_whatever_headers_say() {
    let (_database, server) = demo();
    let form = ("Content-Type", "application/x-www-form-urlencoded");
    for name in ["X-Forwarded-Host", "Forwarded"] {
        let value = if name == "Forwarded" { "host=evil.example" } else { "evil.example" };
        let asked = server.signed_out().post_raw(
            "/forgotten",
            &[form, (name, value)],
            "email=rowan@harbour-lane.example",
        );
        assert_eq!(asked.status, 200);
    }
    let mail = server.signed_out().get(&format!("/demo/{}", browser_tests::DEMO_KEY)).body;
    assert_eq!(mail.matches(&format!("<a href=\"{}/passphrase/", server.address)).count(), 2);
    assert!(!mail.contains("evil.example"));
}

#[test]
fn signing_in_begins_a_session_of_its_own_and_signing_out_ends_it() {
    let (_database, server) = demo();
    let first = comes_in(&server, "kit@example.org", "coach", "Kit");
    let wrong = sign_in(&server, "kit@example.org", "another passphrase");
    assert!(wrong.status == 422 && wrong.cookie.is_none() && wrong.body.contains("kit@example.org"));
    // Whoever planted a cookie has nothing of it: the session that begins has another, and an old one of the browser ends.
    let again = server.with_cookie(&first).post(
        "/sign-in",
        &[("email", "Kit@Example.org"), ("passphrase", PASSPHRASE), ("to", "//evil.example")],
    );
    assert_eq!((again.status, again.location.as_deref()), (303, Some("/")));
    let second = again.cookie.unwrap();
    assert_ne!(first, second);
    assert_eq!(server.with_cookie(&first).get("/days").status, 303);
    assert_eq!(server.with_cookie(&second).get("/days").status, 200);
    let planted = server
        .with_cookie("lantern_login=planted")
        .post("/sign-in", &[("email", "kit@example.org"), ("passphrase", PASSPHRASE)]);
    assert!(!planted.cookie.clone().unwrap().contains("planted"));
    // One browser ends the others; signing out ends its own.
    let third = server.with_cookie(&planted.cookie.unwrap());
    assert_eq!(third.post("/account/others", &[]).status, 303);
    assert_eq!(server.with_cookie(&second).get("/days").status, 303);
    assert_eq!(third.get("/days").status, 200);
    third.post("/sign-out", &[]);
    assert_eq!(third.get("/days").status, 303);
}

#[test]
fn a_new_passphrase_signs_everybody_else_out_and_its_link_works_once() {
    let (database, server) = demo();
    let first = comes_in(&server, "kit@example.org", "coach", "Kit");
    let same = |email| server.signed_out().post("/forgotten", &[("email", email)]).body;
    assert_eq!(same("kit@example.org"), same("nobody@example.org"), "nobody learns who has an account");
    let link = database.with_store(|store| async move {
        let (account, _) = accounts::of_email(&store, "kit@example.org").await.unwrap().unwrap();
        let token = accounts::link(&store, Link::Passphrase(account)).await.unwrap();
        format!("/passphrase/{}", token.expose())
    });
    let out = server.signed_out();
    assert_eq!(out.get(&link).status, 200);
    let new = "nine brown otters sing";
    assert_eq!(out.post(&link, &[("passphrase", "Password1234")]).status, 422);
    assert_eq!(out.post(&link, &[("passphrase", "kit@example.org")]).status, 422);
    assert_eq!(out.post(&link, &[("passphrase", new)]).status, 200);
    assert_eq!(out.post(&link, &[("passphrase", new)]).status, 404);
    assert_eq!(server.with_cookie(&first).get("/days").status, 303);
    assert_eq!((sign_in(&server, "kit@example.org", PASSPHRASE).status), 422);
    let kit = server.with_cookie(&sign_in(&server, "kit@example.org", new).cookie.unwrap());
    // Changed by its owner: the one of now is asked for.
    let change = |now| [("now", now), ("passphrase", "four blue herons rest")];
    assert_eq!(kit.post("/account/passphrase", &change(PASSPHRASE)).status, 422);
    let changed = kit.post("/account/passphrase", &change(new));
    assert_eq!(changed.status, 303);
    assert_eq!(kit.get("/days").status, 303);
    assert_eq!(server.with_cookie(&changed.cookie.unwrap()).get("/days").status, 200);
}

#[test]
fn guessing_is_slowed_down_for_an_account_and_for_none() {
    let (database, server) = demo();
    comes_in(&server, "kit@example.org", "coach", "Kit");
    for email in ["kit@example.org", "nobody@example.org"] {
        let tries: Vec<u16> =
            (0..8).map(|n| sign_in(&server, email, &format!("guess number {n}")).status).collect();
        assert_eq!(tries[..4], [422; 4]);
        assert!(tries[4..].contains(&429), "{email}: {tries:?}");
    }
    // Many at once are as many.
    let taken: usize = std::thread::scope(|scope| {
        let guess = |n: usize| {
            let server = &server;
            scope.spawn(move || sign_in(server, "many@example.org", &format!("guess number {n}")).status)
        };
        let all: Vec<_> = (0..12).map(guess).collect();
        all.into_iter().map(|guess| usize::from(guess.join().unwrap() != 429)).sum()
    });
    assert!(taken <= 6, "{taken} of 12 were looked at");
    // A gym has one address: who signs in well slows nobody down.
    comes_in(&server, "wren@example.org", "coach", "Wren");
    for _ in 0..25 {
        assert_eq!(sign_in(&server, "wren@example.org", PASSPHRASE).status, 303);
    }
    // While it waits the right one is not taken either.
    while sign_in(&server, "kit@example.org", "another guess").status != 429 {}
    database.run("update throttles set failures = failures + 12");
    let waits = sign_in(&server, "kit@example.org", PASSPHRASE);
    assert!(waits.status == 429 && waits.body.contains("Too many attempts") && waits.cookie.is_none());
}

#[test]
fn what_was_typed_at_an_expired_login_comes_back() {
    let (_database, server) = demo();
    let cookie = comes_in(&server, "kit@example.org", "coach", "Kit");
    let kit = server.with_cookie(&cookie);
    kit.post("/sign-out", &[]);
    let path = "/days/2031-05-05/read";
    let text = "7 rounds of \"my own\" words & <more>";
    let answer = kit.post(path, &[("text", text), ("revision", "0")]);
    assert_eq!(answer.status, 401);
    let hidden = |name: &str| {
        let value = between(&answer.body, &format!("name=\"{name}\" value=\""), "\"");
        value.replace("&#38;", "&").replace("&amp;", "&")
    };
    assert_eq!(hidden("to"), path);
    let (to, typed) = (hidden("to"), hidden("typed"));
    let again = server.signed_out().post(
        "/sign-in",
        &[("email", "kit@example.org"), ("passphrase", PASSPHRASE), ("to", &to), ("typed", &typed)],
    );
    assert_eq!(again.status, 200);
    assert!(again.body.contains(&format!("action=\"{path}\"")) && again.body.contains("7 rounds of"));
    assert!(!again.body.contains("<more>"));
    // A passphrase that was typed is carried through no page.
    let change = [("now", PASSPHRASE), ("passphrase", "four blue herons rest")];
    let asked = kit.post("/account/passphrase", &change);
    assert!(
        asked.status == 401 && !asked.body.contains("herons") && asked.body.contains("value=\"/account\"")
    );
    // What only takes forms leads back to its page.
    assert_eq!(server.get("/people/invite").location.as_deref(), Some("/people"));
    // A script that asks for a part of a page is told in place.
    let headers = [("HX-Request", "true"), ("Content-Type", "application/x-www-form-urlencoded")];
    let part = server.signed_out().post_raw("/days/2031-05-05/reading", &headers, "text=burpees");
    assert!(part.status == 401 && part.body.contains("not signed in") && !part.body.contains("<html"));
}

/// A form of another site, with what browsers say of it and without: a login that came along is misused by none.
#[test]
fn a_form_of_another_site_does_nothing_with_somebodys_login() {
    let (_database, server) = demo();
    let kind = ("Content-Type", "application/x-www-form-urlencoded");
    let away = "since=2026-01-01";
    let said: [&[(&str, &str)]; 5] = [
        &[kind, ("Sec-Fetch-Site", "cross-site")],
        &[kind, ("Origin", "https://evil.example")],
        &[kind, ("Origin", "null")],
        &[kind, ("Referer", "https://evil.example/page")],
        &[kind],
    ];
    for headers in said {
        assert_eq!(server.post_raw("/members/2/away", headers, away).status, 403, "{headers:?}");
    }
    assert!(!server.get("/members/2").body.contains("value=\"2026-01-01\""));
    assert_eq!(server.post_raw("/members/2/away", &[kind, ("Origin", &server.address)], away).status, 303);
}

#[test]
fn the_demos_door_is_for_this_computer_and_this_run() {
    let (_database, server) = demo();
    let out = server.signed_out();
    let key = browser_tests::DEMO_KEY;
    assert!(out.get(&format!("/demo/{key}")).body.contains("Alba Quenby"));
    assert_eq!(out.get(&format!("/demo/{key}/iris")).status, 303);
    for wrong in ["/demo/another-key/iris".to_owned(), format!("/demo/{key}/nobody"), "/demo/x".to_owned()] {
        assert_eq!(out.get(&wrong).status, 404, "{wrong}");
    }
    let passed_on = out.get_with(&format!("/demo/{key}/iris"), &[("X-Forwarded-For", "203.0.113.7")]);
    assert!(passed_on.status == 404 && passed_on.cookie.is_none());
}
