//! What a member decides about what is known of them.

use std::io::Read;

use super::*;

#[test]
fn the_wall_shows_each_name_as_its_member_wishes() {
    let (_database, server) = demo();
    let alba = server.seen_by("alba");
    let day = chrono::Utc::now().date_naive();
    let monday = day - chrono::Days::new(u64::from(chrono::Datelike::weekday(&day).num_days_from_monday()));
    let board = || server.get(&format!("/days/{monday}T18:00/board")).body;
    assert!(board().contains("Alba") && !board().contains("Quenby"));
    for (shown, there, not) in [
        ("full", "Alba Quenby", "A.Q."),
        ("initials", "A.Q.", "Alba"),
        ("hidden", "Your own card has yours", "Alba"),
    ] {
        assert_eq!(alba.post("/me/shown", &[("shown", shown)]).status, 303);
        let board = board();
        assert!(board.contains(there) && !board.contains(not), "{shown}: {board}");
    }
    assert_eq!(alba.post("/me/shown", &[("shown", "backwards")]).status, 422);
    // A coach sets it for somebody who has no account.
    assert_eq!(server.post("/members/2/shown", &[("shown", "initials")]).status, 303);
    assert!(board().contains("B.S.") && !board().contains("Bertil"));
}

#[test]
fn consent_is_recorded_and_taken_back_with_what_it_was_for() {
    let (database, server) = demo();
    let alba = server.seen_by("alba");
    server.post("/members/1/limits", &[("limits", "left elbow: no ring work")]);
    assert!(server.get("/members/1").body.contains("not on record yet"));
    assert_eq!(alba.post("/me/agree", &[]).status, 303);
    let page = server.get("/members/1").body;
    assert!(page.contains("They agreed that it is kept") && page.contains("noted by Alba Quenby"));
    assert_eq!(alba.post("/me/withdraw", &[]).status, 303);
    let me = alba.get("/me").body;
    assert!(me.contains("Nothing is noted") && me.contains("I agree that it is kept"));
    assert_eq!(database.rows_with("no ring work"), Vec::<String>::new());
    // A coach notes it with the words, when they say so.
    server.post("/members/2/limits", &[("limits", "right wrist: no front rack"), ("agreed", "1")]);
    assert!(server.get("/members/2").body.contains("noted by Iris"));
}

#[test]
fn a_person_takes_all_of_it_along_and_deletes_it() {
    let (database, server) = demo();
    let alba = server.seen_by("alba");
    let mut names = Vec::new();
    for (whose, path) in [(&alba, "/me/file.zip"), (&server, "/members/1/file.zip")] {
        let mut zip = zip::ZipArchive::new(std::io::Cursor::new(whose.bytes(path))).unwrap();
        let mut lifts = String::new();
        zip.by_name("lifts.csv").unwrap().read_to_string(&mut lifts).unwrap();
        assert!(lifts.starts_with("lift,kg,") && lifts.contains("back-squat,112"), "{lifts}");
        let mut all = String::new();
        zip.by_name("all.json").unwrap().read_to_string(&mut all).unwrap();
        names.push(serde_json::from_str::<serde_json::Value>(&all).unwrap()["member"]["name"].clone());
    }
    assert_eq!(names, ["Alba Quenby", "Alba Quenby"]);
    let unsure = alba.post("/me/delete", &[("name", "Alba")]);
    assert!(unsure.status == 422 && unsure.body.contains("type Alba Quenby"));
    assert_eq!(alba.post("/me/delete", &[("name", "Alba Quenby")]).status, 303);
    assert_eq!(alba.get("/me").status, 303, "the account is gone as well");
    assert_eq!(database.rows_with("Quenby"), Vec::<String>::new());
    assert_eq!(database.rows_with("alba@harbour"), Vec::<String>::new());
}

/// A name can be a word of the gym's texts: who deletes themselves takes nothing out of them.
#[test]
fn deleting_oneself_leaves_the_texts_of_the_gym_as_they_are() {
    let (database, server) = demo();
    let text = "AMRAP 10\nmax burpees\n10 bench presses";
    let day = "2031-05-05";
    assert_eq!(server.post(&format!("/days/{day}/read"), &[("text", text), ("revision", "0")]).status, 303);
    server.post("/members/1/name", &[("name", "Max")]);
    let alba = server.seen_by("alba");
    assert_eq!(alba.post("/me/delete", &[("name", "Max")]).status, 303);
    assert_eq!(database.names(&format!("select text as name from sessions where day = '{day}'")), [text]);
    // An owner who asks for it takes out words that are the name, and none that hold its letters.
    server.post("/members/2/name", &[("name", "Ben")]);
    let sure = [("name", "Ben"), ("texts", "1"), ("cycles", "1"), ("names", "1")];
    assert_eq!(server.post("/members/2/delete", &sure).status, 303);
    assert_eq!(database.names(&format!("select text as name from sessions where day = '{day}'")), [text]);
}

/// Somebody who coaches and trains: what they noted about others stays, without their name.
#[test]
fn a_coach_who_is_deleted_as_a_member_is_named_in_no_table() {
    let (database, server) = demo();
    let invited =
        [("email", "cora@example.org"), ("role", "coach"), ("name", "Cora of the evenings"), ("member", "3")];
    let made = server.post("/people/invite", &invited);
    let come = server.signed_out().post(&shown_link(&made.body), &[("passphrase", PASSPHRASE)]);
    let cora = server.with_cookie(&come.cookie.unwrap());
    let limits = [("limits", "right wrist: no front rack"), ("agreed", "1")];
    assert_eq!(cora.post("/members/2/limits", &limits).status, 303);
    cora.get("/members/2");
    let day = chrono::Utc::now().date_naive();
    let pin = [("action", "pin"), ("key", "warmup"), ("value", "8")];
    assert_eq!(cora.post(&format!("/days/{day}/hour"), &pin).status, 303);
    assert!(database.rows_with("Cora of the evenings").len() >= 4);
    assert_eq!(server.post("/members/3/delete", &[("name", "Coralie Drum")]).status, 303);
    for name in ["Cora of the evenings", "Coralie Drum", "cora@example.org"] {
        assert_eq!(database.rows_with(name), Vec::<String>::new());
    }
    let page = server.get("/members/2").body;
    assert!(page.contains("noted by somebody who has left") && page.contains(": somebody who has left"));
}
