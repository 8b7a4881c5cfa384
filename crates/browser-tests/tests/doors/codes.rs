//! A second step at signing in: codes that change every half minute.

use std::time::{SystemTime, UNIX_EPOCH};

use totp_rs::{Algorithm, Secret, TOTP};

use super::*;

/// An app that was given the letters of a page.
fn app(page: &str) -> TOTP {
    let letters = between(page, "<p class=\"link\">", "</p>").replace(' ', "");
    assert_eq!(letters.len(), 32, "{page}");
    let secret = Secret::Encoded(letters).to_bytes().expect("letters of an app");
    TOTP::new(Algorithm::SHA1, 6, 1, 30, secret, None, "kit".to_owned()).expect("codes")
}

/// The code of some half minutes from now.
fn code(app: &TOTP, steps: u64) -> String {
    let now = SystemTime::now().duration_since(UNIX_EPOCH).expect("a clock").as_secs();
    app.generate(now + 30 * steps)
}

fn token(page: &str) -> String {
    between(page, "name=\"token\" value=\"", "\"").to_owned()
}

#[test]
fn codes_are_asked_for_once_they_have_worked_and_each_works_once() {
    let (_database, server) = demo();
    let kit = comes_in(&server, "kit@example.org", "coach", "Kit");
    let own = server.with_cookie(&kit);
    let refused = own.post("/account/codes", &[("now", "not the passphrase")]);
    assert!(
        refused.status == 422
            && refused.body.contains("another one")
            && !refused.body.contains("class=\"qr\"")
    );
    let page = own.post("/account/codes", &[("now", PASSPHRASE)]).body;
    let first = app(&page);
    assert!(page.contains("class=\"qr\"") && page.contains("<path d=\"M"), "{page}");
    // Set up is not asked for: a device that makes other codes shuts nobody out.
    assert_eq!(sign_in(&server, "kit@example.org", PASSPHRASE).status, 303);
    assert_eq!(own.post("/account/codes/confirm", &[("code", "000000")]).status, 422);
    let app = app(&own.post("/account/codes", &[("now", PASSPHRASE)]).body);
    assert_ne!(app.secret, first.secret, "each set-up has its own");
    let used = code(&app, 0);
    let told = own.post("/account/codes/confirm", &[("code", &used)]).body;
    let spare = between(&told, "in place of a code. ", "</p>");
    let spare: Vec<&str> = spare.split(", ").collect();
    assert_eq!(spare.len(), 8, "{told}");
    assert!(own.get("/account").body.contains("8 spare codes are left"));
    assert_eq!(
        own.post("/account/codes", &[("now", PASSPHRASE)]).status,
        422,
        "not over the one that counts"
    );

    // The passphrase alone leads no further, and is carried through no page.
    let asked = server
        .signed_out()
        .post("/sign-in", &[("email", "kit@example.org"), ("passphrase", PASSPHRASE), ("to", "/members")]);
    assert!(
        asked.status == 200 && asked.cookie.is_none() && !asked.body.contains(PASSPHRASE),
        "{}",
        asked.body
    );
    let enter = |token: &str, code: &str| {
        server.signed_out().post("/sign-in/code", &[("token", token), ("code", code), ("to", "/members")])
    };
    let link = token(&asked.body);
    for wrong in [used.as_str(), "", "12345x"] {
        let again = enter(&link, wrong);
        assert!(
            again.status == 422 && again.cookie.is_none() && again.body.contains("used already"),
            "{wrong}"
        );
    }
    let next = code(&app, 1);
    let inside = enter(&link, &next);
    assert_eq!((inside.status, inside.location.as_deref()), (303, Some("/members")), "{}", inside.body);
    assert_eq!(server.with_cookie(&inside.cookie.unwrap()).get("/members").status, 200);
    assert_eq!(enter(&link, spare[0]).status, 404, "the way between passphrase and code works once");
    let link = token(&sign_in(&server, "kit@example.org", PASSPHRASE).body);
    assert_eq!(enter(&link, &next).status, 422, "whoever has seen a code typed has nothing of it");

    // A spare one works once, however it is typed.
    assert_eq!(enter(&link, &format!(" {}-{} ", &spare[1][..5], spare[1][5..].to_uppercase())).status, 303);
    let link = token(&sign_in(&server, "kit@example.org", PASSPHRASE).body);
    assert_eq!(enter(&link, spare[1]).status, 422);
    assert!(own.get("/account").body.contains("7 spare codes are left"));

    // Off again only with a code.
    assert_eq!(own.post("/account/codes/off", &[("code", "000000")]).status, 422);
    assert!(own.post("/account/codes/off", &[("code", spare[2])]).body.contains("No code is asked for"));
    assert_eq!(sign_in(&server, "kit@example.org", PASSPHRASE).status, 303);
}

#[test]
fn nobody_guesses_at_codes() {
    let (database, server) = demo();
    let own = server.with_cookie(&comes_in(&server, "kit@example.org", "coach", "Kit"));
    let app = app(&own.post("/account/codes", &[("now", PASSPHRASE)]).body);
    own.post("/account/codes/confirm", &[("code", &code(&app, 0))]);
    let link = token(&sign_in(&server, "kit@example.org", PASSPHRASE).body);
    let tried = (0..30).map(|n| {
        let guess = format!("{n:06}");
        server.signed_out().post("/sign-in/code", &[("token", &link), ("code", &guess)]).status
    });
    let tried: Vec<u16> = tried.collect();
    assert!(tried.contains(&429) && !tried.contains(&303), "{tried:?}");
    // The right one comes too early as well, however slow this machine is: a dozen failures more make it wait for a quarter of an hour.
    database.run("update throttles set failures = failures + 12");
    assert_eq!(
        server.signed_out().post("/sign-in/code", &[("token", &link), ("code", &code(&app, 1))]).status,
        429
    );
}

/// A form that was sent while signed out comes back after the code.
#[test]
fn what_was_typed_goes_through_both_steps() {
    let (_database, server) = demo();
    let own = server.with_cookie(&comes_in(&server, "kit@example.org", "coach", "Kit"));
    let app = app(&own.post("/account/codes", &[("now", PASSPHRASE)]).body);
    own.post("/account/codes/confirm", &[("code", &code(&app, 0))]);
    let form = [("text", "AMRAP 12\n10 burpees"), ("revision", "0")];
    let asked = server.signed_out().post("/days/2031-05-05/read", &form).body;
    let typed = between(&asked, "name=\"typed\" value=\"", "\"").replace("&amp;", "&").replace("&#38;", "&");
    let step = server.signed_out().post(
        "/sign-in",
        &[
            ("email", "kit@example.org"),
            ("passphrase", PASSPHRASE),
            ("to", "/days/2031-05-05/read"),
            ("typed", &typed),
        ],
    );
    let typed =
        between(&step.body, "name=\"typed\" value=\"", "\"").replace("&amp;", "&").replace("&#38;", "&");
    let done = server.signed_out().post(
        "/sign-in/code",
        &[
            ("token", &token(&step.body)),
            ("code", &code(&app, 1)),
            ("to", "/days/2031-05-05/read"),
            ("typed", &typed),
        ],
    );
    assert!(done.status == 200 && done.cookie.is_some() && done.body.contains("10 burpees"), "{}", done.body);
}
