//! Pages over HTTP, each test with its own database and server.

use browser_tests::{TestDatabase, TestServer};
use chrono::{Datelike, Days, Utc};

fn demo() -> (TestDatabase, TestServer) {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    (database, server)
}

/// The Monday of the demo's first week.
fn monday() -> String {
    let today = Utc::now().date_naive();
    (today - Days::new(u64::from(today.weekday().num_days_from_monday()))).to_string()
}

#[test]
fn every_page_of_the_demo_opens() {
    let (_database, server) = demo();
    let day = monday();
    for path in [
        "/days".to_owned(),
        format!("/days/{day}/read"),
        format!("/days/{day}/plan"),
        format!("/days/{day}/warmup"),
        format!("/days/{day}/loads"),
        format!("/days/{day}/loads.csv"),
        format!("/days/{day}/strip"),
        "/gym?wave=1".to_owned(),
        "/members/import".to_owned(),
        "/members.csv".to_owned(),
        "/members/1/file.json".to_owned(),
        "/members".to_owned(),
        "/members/1".to_owned(),
        "/movements?q=pull".to_owned(),
    ] {
        let answer = server.get(&path);
        assert_eq!(answer.status, 200, "{path}");
        assert!(answer.policy.is_some_and(|policy| policy.contains("default-src 'self'")), "{path}");
    }
    assert_eq!(server.get("/").location.as_deref(), Some("/days"));
}

#[test]
fn the_screens_of_a_day_show_loads_warm_up_finish_times_and_the_hour() {
    let (_database, server) = demo();
    for (step, all) in [
        ("plan", &["of 14 finish inside the window", "Dexter Ombaye", "to spare", "To look out for"][..]),
        ("loads", &["Back squat", "Rack 1", "Dexter Ombaye", "by feel", "no max on file", "to spare"]),
        (
            "warmup",
            &["As written", "Mobilise", "What is covered", "For one person", "After class", "to spare"],
        ),
    ] {
        let body = server.get(&format!("/days/{}/{step}", monday())).body;
        for words in all {
            assert!(body.contains(words), "{step}: {words}");
        }
    }
}

#[test]
fn a_load_sheet_goes_out_as_csv_with_plates_and_racks() {
    let (_database, server) = demo();
    let csv = server.get(&format!("/days/{}/loads.csv", monday())).body;
    let mut lines = csv.lines();
    assert!(
        lines.next().unwrap().starts_with("lift,rack,turn,member,max,max_from,set,kind,reps,percent,load")
    );
    let work: Vec<&str> = lines.filter(|line| line.contains(",work,")).collect();
    assert!(work.len() >= 5 * 14 && work.iter().any(|line| line.contains("Alba Quenby")), "{csv}");
}

#[test]
fn a_roster_is_looked_at_first_and_only_its_good_rows_are_taken_in() {
    let (_database, server) = demo();
    let csv = "name,experience,back_squat_kg\nAda Lind,beginner,62.5\nBo Ek,beginner,heavy\nAlba Quenby,advanced,120\n";
    let looked = server.post("/members/import", &[("csv", csv)]);
    assert_eq!(looked.status, 200);
    for words in ["2 can be taken in, 1 cannot", "line 3", "back_squat_kg", "Ada Lind", "news"] {
        assert!(looked.body.contains(words), "{words}");
    }
    assert!(!server.get("/members").body.contains("Ada Lind"), "nothing is taken in by looking");
    assert_eq!(server.post("/members/import/take", &[("csv", csv)]).status, 303);
    let members = server.get("/members").body;
    assert!(members.contains("Ada Lind") && !members.contains("Bo Ek"));
    assert!(server.get("/members.csv").body.contains("Ada Lind,,,,beginner"));
}

#[test]
fn a_week_of_a_cycle_fills_in_the_loads_of_a_day() {
    let (_database, server) = demo();
    let day = "2031-03-04";
    let text = "Strength\nFront squat, week 2 of 3";
    server.post(&format!("/days/{day}/read"), &[("text", text), ("revision", "0")]);
    let bad = [("name", "Autumn"), ("lift", "front-squat"), ("weeks", "5x5 @ 70%\nsomething heavy")];
    let refused = server.post("/gym/cycles", &bad);
    assert_eq!(refused.status, 422);
    assert!(refused.body.contains("week 2") && refused.body.contains("something heavy"), "{}", refused.body);
    let good = [
        ("name", "Autumn"),
        ("lift", "front-squat"),
        ("weeks", "5x5 @ 70%\n6x2 @ 85%\nbuild to a 1RM in 20 min"),
    ];
    assert_eq!(server.post("/gym/cycles", &good).status, 303);
    let loads = server.get(&format!("/days/{day}/loads")).body;
    assert!(loads.contains("6x2") && loads.contains("85 % of that is"), "{loads}");
}

#[test]
fn a_lift_on_record_can_be_put_in_taken_out_and_brought_back() {
    let (_database, server) = demo();
    let path = "/members/1/lifts";
    let mut lift = vec![
        ("lift", "back-squat"),
        ("weight", "150,5"),
        ("reps", "1"),
        ("rpe", ""),
        ("on", "2026-01-05"),
        ("source", "tested"),
    ];
    assert_eq!(server.post(path, &lift).status, 303);
    let page = server.get("/members/1").body;
    assert!(page.contains("1 x 150.5 kg"), "{page}");
    let row =
        page.split("/members/1/lifts/").find_map(|rest| rest.split_once("/remove")).unwrap().0.to_owned();
    let removed = server.post(&format!("{path}/{row}/remove"), &[]);
    let back = server.get(&removed.location.unwrap()).body;
    assert!(back.contains("Undo") && back.contains("Removed"), "{back}");
    lift[1].1 = "a lot";
    let refused = server.post(path, &lift);
    assert_eq!(refused.status, 422);
    assert!(refused.body.contains("the weight `a lot`"), "{}", refused.body);
}

#[test]
fn a_members_file_can_be_taken_along_and_deleted_for_good() {
    let (_database, server) = demo();
    let file: serde_json::Value = serde_json::from_str(&server.get("/members/1/file.json").body).unwrap();
    let name = file["member"]["name"].as_str().unwrap().to_owned();
    assert!(file["lifts"].as_array().is_some_and(|lifts| !lifts.is_empty()));
    assert_eq!(server.post("/members/1/delete", &[("name", "somebody else")]).status, 422);
    assert_eq!(server.get("/members/1").status, 200);
    assert_eq!(server.post("/members/1/delete", &[("name", &name)]).status, 303);
    assert_eq!(server.get("/members/1").status, 404);
    assert!(!server.get("/members").body.contains(&name));
}

#[test]
fn a_wrong_address_gets_a_clear_page_and_its_status() {
    let (_database, server) = demo();
    for (path, status, words) in [
        ("/days/tomorrow/read", 404, "is no day"),
        ("/days/2026-13-40/plan", 404, "is no day"),
        ("/members/99999", 404, "no such page"),
        ("/members/nobody", 404, "no such page"),
        ("/nowhere", 404, "no such page"),
        ("/static/0/../secret", 404, "no such page"),
    ] {
        let answer = server.get(path);
        assert_eq!(answer.status, status, "{path}");
        assert!(answer.body.contains(words), "{path}: {}", answer.body);
        assert!(!answer.body.contains("panicked") && !answer.body.contains("src/"), "{path}");
    }
}

#[test]
fn a_malformed_an_oversized_and_a_foreign_form_change_nothing() {
    let (_database, server) = demo();
    let path = format!("/days/{}/read", monday());
    let before = server.get(&path).body;
    let kind = ("Content-Type", "application/x-www-form-urlencoded");
    let malformed = server.post_raw(&path, &[kind], "text=10+burpees&revision=many");
    assert_eq!(malformed.status, 422);
    assert!(malformed.body.contains("could not be read"));
    let oversized = server.post(&path, &[("text", &"10 burpees\n".repeat(40_000)), ("revision", "1")]);
    assert_eq!(oversized.status, 413);
    assert!(oversized.body.contains("still in the browser"));
    let foreign = server.post_raw(&path, &[kind, ("Sec-Fetch-Site", "cross-site")], "text=gone&revision=1");
    assert_eq!(foreign.status, 403);
    assert_eq!(server.get(&path).body, before);
}

#[test]
fn two_people_never_overwrite_each_other_unseen() {
    let (_database, server) = demo();
    let path = format!("/days/{}/read", monday());
    let first = server.post(&path, &[("text", "AMRAP 10\n10 burpees"), ("revision", "1")]);
    assert_eq!(first.status, 303);
    let second = server.post(&path, &[("text", "AMRAP 12\n12 burpees"), ("revision", "1")]);
    assert_eq!(second.status, 409);
    assert!(second.body.contains("AMRAP 12") && second.body.contains("AMRAP 10"), "both texts are shown");
    assert!(server.get(&path).body.contains("AMRAP 10"));
    // Having seen theirs, the second may replace it.
    assert_eq!(server.post(&path, &[("text", "AMRAP 12\n12 burpees"), ("revision", "2")]).status, 303);
    assert!(server.get(&path).body.contains("AMRAP 12"));
}

#[test]
fn with_the_database_away_nothing_typed_is_lost_and_it_comes_back() {
    let (database, server) = demo();
    let path = format!("/days/{}/read", monday());
    database.cut_off();
    let saved = server.post(&path, &[("text", "7 rounds of my own words"), ("revision", "1")]);
    assert_eq!(saved.status, 503);
    assert!(saved.body.contains("7 rounds of my own words") && saved.body.contains("Not saved"));
    let page = server.get("/days");
    assert_eq!(page.status, 503);
    assert!(page.body.contains("Nothing was lost") && !page.body.contains("postgres"));
    assert_eq!((server.get("/healthz").status, server.get("/readyz").status), (200, 503));
    database.give_back();
    assert_eq!((server.get("/readyz").status, server.get("/days").status), (200, 200));
}

#[test]
fn a_name_of_the_gyms_own_is_read_at_once() {
    let (_database, server) = demo();
    let path = format!("/days/{}/reading", monday());
    let reading = |text| server.post(&path, &[("text", text)]).body;
    assert!(reading("For time\n400 m hill lap").contains("no movement I know"));
    assert_eq!(server.post("/movements/names", &[("alias", "hill lap"), ("movement", "Run")]).status, 303);
    assert!(reading("For time\n400 m hill lap").contains("400 m run"));
    let refused =
        server.post("/movements/names", &[("alias", "moon walk"), ("movement", "walking on the moon")]);
    assert_eq!(refused.status, 422);
    assert!(refused.body.contains("moon walk"), "what was typed is still there");
}

#[test]
fn a_movement_of_the_gyms_own_is_read_and_planned_at_once() {
    let (_database, server) = demo();
    let path = format!("/days/{}/reading", monday());
    let reading = || server.post(&path, &[("text", "For time\n12 tyre flips\n400 m run")]).body;
    assert!(reading().contains("no movement I know"));
    let mut tyre = vec![("name", "Tyre flip"), ("like", "Deadlift"), ("unit", "reps"), ("seconds", "6,5")];
    assert_eq!(server.post("/movements/own", &tyre).status, 303);
    assert!(reading().contains("12 tyre flip") && !reading().contains("no movement I know"));
    assert!(server.get("/movements").body.contains("much like deadlift, counted in reps, about 6.5 s each"));
    tyre[1].1 = "a walk on the moon";
    tyre[0].1 = "Moon walk";
    let refused = server.post("/movements/own", &tyre);
    assert_eq!(refused.status, 422);
    assert!(refused.body.contains("is no movement in the list") && refused.body.contains("Moon walk"));
}

#[test]
fn a_day_can_be_taken_along_as_text_and_as_json() {
    let (_database, server) = demo();
    let text = server.get(&format!("/days/{}/session.txt", monday())).body;
    assert!(text.contains("back squat 5x5") && text.contains("21-15-9"), "{text}");
    let json: serde_json::Value =
        serde_json::from_str(&server.get(&format!("/days/{}/session.json", monday())).body).unwrap();
    assert_eq!(json["schema"], "honest-lantern/reading/1");
    // What was taken along comes back in, by the same form that text is pasted into.
    let other = "2031-03-03";
    let json = json.to_string();
    let saved = server.post(&format!("/days/{other}/read"), &[("text", &json), ("revision", "0")]);
    assert_eq!(saved.status, 303);
    let again = server.get(&format!("/days/{other}/session.txt")).body;
    assert!(again.contains("back squat 5x5") && again.contains("21-15-9"), "{again}");
    let broken =
        server.post(&format!("/days/{other}/read"), &[("text", "{ \"schema\": 7"), ("revision", "1")]);
    assert_eq!(broken.status, 422);
    assert!(broken.body.contains("line 1, column") && broken.body.contains("schema&#34;"), "{}", broken.body);
}

#[test]
fn an_installation_without_a_gym_says_what_to_do() {
    let database = TestDatabase::empty();
    let server = TestServer::start(&database);
    let answer = server.get("/days");
    assert_eq!(answer.status, 503);
    assert!(answer.body.contains("No gym is set up yet"));
}
