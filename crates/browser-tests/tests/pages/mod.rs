//! Pages over HTTP, each test with its own database and server.

mod asked;
mod brought_in;
mod decided;
mod kept;
mod people;

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
        format!("/days/{day}/versions"),
        format!("/days/{day}/pace"),
        format!("/days/{day}/pace?member=1"),
        format!("/days/{day}/hour"),
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
        (
            "versions",
            &[
                "of 14 finish inside the window",
                "First light",
                "Around it",
                "At home",
                "Dexter Ombaye",
                "Aim here",
            ][..],
        ),
        ("pace", &["of 14 finish inside the window", "Dexter Ombaye", "Where each version should be"]),
        (
            "hour",
            &["Brief", "Ends at", "of 60:00, latest", "To look out for", "Why so long", "Stations", "Heats"],
        ),
        ("loads", &["Back squat", "Rack 1", "Dexter Ombaye", "by feel", "no max on file", "latest"]),
        (
            "warmup",
            &[
                "As written",
                "Your own warm-up stands",
                "Right before the piece",
                "What is covered",
                "For one person",
                "After class",
                "latest",
            ],
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
fn a_test_week_five_weeks_and_a_retest_carry_the_loads_along() {
    let (_database, server) = demo();
    let weeks = "build to a 1RM in 20 min\n5x5 @ 70%\n5x5 @ 75%\n5x3 @ 80%\n5x3 @ 85%\n3x2 @ 90%\nbuild to a 1RM in 20 min";
    let cycle = [("name", "Seven weeks"), ("lift", "deadlift"), ("weeks", weeks)];
    assert_eq!(server.post("/gym/cycles", &cycle).status, 303);
    // Seven weeks in which the demo has nothing yet.
    let first = Utc::now().date_naive() + Days::new(21);
    let day = |week: u64| first + Days::new(7 * (week - 1));
    for week in 1..=7 {
        let text = format!("Strength\nDeadlift, week {week} of 7");
        server.post(&format!("/days/{}/read", day(week)), &[("text", &text), ("revision", "0")]);
    }
    // What is better than before is asked about where it is entered, and the coach says yes.
    let lift = |week: u64, weight: &str, reps: &str| {
        let result = [("member", "1"), ("lift", "deadlift"), ("weight", weight), ("reps", reps), ("rpe", "")];
        let entered = server.post(&format!("/days/{}/loads", day(week)), &result);
        let told = server.get(&entered.location.unwrap()).body;
        let Some(set) = told.split("name=\"set\" value=\"").nth(1) else { return false };
        let said = [("member", "1"), ("set", set.split('"').next().unwrap()), ("say", "yes")];
        assert_eq!(server.post(&format!("/days/{}/book/max", day(week)), &said).status, 303);
        true
    };
    let name = server.get("/members/1/file.json").body;
    let name: serde_json::Value = serde_json::from_str(&name).unwrap();
    let name = name["member"]["name"].as_str().unwrap().to_owned();
    let work = |week: u64| -> Vec<String> {
        let csv = server.get(&format!("/days/{}/loads.csv", day(week))).body;
        let rows = csv.lines().filter(|line| line.contains(&name) && line.contains(",work,"));
        rows.map(|line| line.to_owned()).collect()
    };
    // The load is the last column but one.
    let load = |row: &String| row.rsplit(',').nth(1).unwrap().parse::<f64>().unwrap();
    let top = |week: u64| work(week).iter().map(load).fold(0.0, f64::max);

    // The test: 160 kg stands. 70, 75, 80, 85 and 90 % of it are 112, 120, 128, 136 and 144 kg, each to the nearest plates.
    assert!(lift(1, "160", "1"));
    assert_eq!(top(2), 112.5);
    assert_eq!([3, 4, 5, 6].map(top), [120.0, 127.5, 135.0, 145.0]);
    // Sets short of failure change nothing; a strong triple does: 150 kg x 3 shows 165 kg.
    assert!(!lift(2, "110", "5"));
    assert_eq!(top(3), 120.0);
    assert!(lift(5, "150", "3"));
    assert_eq!(top(6), 147.5);
    // The retest climbs to what is known, more is up to the day, and its result takes over.
    assert_eq!(top(7), 165.0);
    assert!(lift(7, "172.5", "1"));
    assert_eq!(top(6), 155.0);
}

#[test]
fn a_skill_part_says_who_does_what_of_it() {
    let (_database, server) = demo();
    let day = "2031-05-07";
    let text = "Skill: EMOM 8\n3 strict pull-ups\n\n21-15-9 for time\nthrusters 40/30 kg\npull-ups";
    server.post(&format!("/days/{day}/read"), &[("text", text), ("revision", "0")]);
    let page = server.get(&format!("/days/{day}/versions")).body;
    let (_, beside) = page.split_once("who does what").expect("the skill part is shown");
    assert!(beside.contains("3 strict pull-up") && beside.contains("Alba Quenby"), "{beside}");
}

#[test]
fn a_wrong_address_gets_a_clear_page_and_its_status() {
    let (_database, server) = demo();
    for (path, status, words) in [
        ("/days/tomorrow/read", 404, "is no day"),
        ("/days/2026-13-40/pace", 404, "is no day"),
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
    // Each page has a name of its own.
    let page = || {
        let body = server.get(&path).body;
        body.lines().filter(|line| !line.contains("name=\"writer\"")).collect::<Vec<_>>().join("\n")
    };
    let before = page();
    let kind = ("Content-Type", "application/x-www-form-urlencoded");
    let here = ("Origin", server.address.as_str());
    let malformed = server.post_raw(&path, &[kind, here], "text=10+burpees&revision=many");
    assert_eq!(malformed.status, 422);
    assert!(malformed.body.contains("could not be read"));
    let oversized = server.post(&path, &[("text", &"10 burpees\n".repeat(40_000)), ("revision", "1")]);
    assert_eq!(oversized.status, 413);
    assert!(oversized.body.contains("still in the browser"));
    let foreign = server.post_raw(&path, &[kind, ("Sec-Fetch-Site", "cross-site")], "text=gone&revision=1");
    assert_eq!(foreign.status, 403);
    for (name, value) in
        [("Origin", "http://evil.example"), ("Origin", "null"), ("Referer", "http://evil.example/x")]
    {
        let foreign = server.post_raw(&path, &[kind, (name, value)], "text=gone&revision=1");
        assert_eq!(foreign.status, 403, "{name}: {value}");
    }
    let elsewhere = server.post_raw(&path, &[kind, ("Host", "evil.example")], "text=gone&revision=1");
    assert_eq!(elsewhere.status, 421);
    assert_eq!(page(), before);
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
    assert_eq!(server.get("/days").status, 200);
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
fn other_tracks_of_a_day_are_at_hand_for_versions() {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let day = Utc::now().date_naive() + Days::new(76);
    let text = "CLASS\n5 rounds for time\n12 wall balls\n9 pull-ups\n\nCOMPETITORS\n5 rounds for time\n20 wall balls\n15 chest-to-bar pull-ups\n";
    let saved = server.post(&format!("/days/{day}/read"), &[("text", text), ("revision", "0")]);
    assert_eq!(saved.status, 303);
    let versions = server.get(&format!("/days/{day}/versions")).body;
    let (class, beside) = versions.split_once("Also written for this day").expect("the other track is shown");
    assert!(class.contains("12 wall ball") && !class.contains("20 wall ball"), "the class's is planned");
    assert!(beside.contains("COMPETITORS") && beside.contains("15 chest-to-bar pull-up"), "{beside}");
}
