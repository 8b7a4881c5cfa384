//! What can hurt a person or lose work, over HTTP: limits, health words, undo, imports, decisions.

use browser_tests::{TestDatabase, TestServer, in_gym};
use chrono::{Datelike, Days, NaiveDate, Utc};
use lantern_core::limits::Limit;
use lantern_core::member::Member;
use lantern_core::strength::Source;
use lantern_store::members;

fn demo() -> (TestDatabase, TestServer) {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    (database, server)
}

fn monday() -> NaiveDate {
    let today = Utc::now().date_naive();
    today - Days::new(u64::from(today.weekday().num_days_from_monday()))
}

/// Limits with words that stand in no other text of the application.
const SEEDED: [(&str, &str); 7] = [
    ("Una First", "left meniscus: no jumping"),
    ("Duo Second", "heart condition"),
    ("Tria Third", "hamstring strain"),
    ("Quart Fourth", "pregnant, week 31"),
    ("Quint Fifth", "ask Marie about the carpal tunnel"),
    ("Sext Sixth", "neck: nothing overhead"),
    ("Sept Seventh", "sciatica; hernia; epilepsy"),
];
/// Words of health in them.
const WORDS: [&str; 12] = [
    "meniscus",
    "heart condition",
    "hamstring strain",
    "pregnan",
    "carpal",
    "Zenobia",
    "nothing overhead",
    "sciatica",
    "hernia",
    "epilepsy",
    "midwife",
    "Under 18",
];

#[test]
fn no_page_and_no_print_shows_a_health_word_beside_a_name() {
    let database = TestDatabase::demo();
    let gym = database.demo_gym();
    let ids = database.with_store(move |store| async move {
        let mut ids = Vec::new();
        for (name, limits) in SEEDED {
            let limits = Limit::several(limits).collect();
            let member = Member { name: name.to_owned(), limits, age: Some(16), ..Member::default() };
            ids.push(in_gym!(store, gym, members::add, &member, monday(), Source::Stated).unwrap());
        }
        ids
    });
    let server = TestServer::start(&database);
    let mut pages =
        vec!["/days".to_owned(), "/members".to_owned(), "/gym".to_owned(), "/classes.ics".to_owned()];
    for day in 0..5 {
        let day = monday() + Days::new(day);
        for step in [
            "read",
            "warmup",
            "loads",
            "versions",
            "pace",
            "hour",
            "board",
            "cards",
            "sheet",
            "loads.csv",
            "strip",
        ] {
            pages.push(format!("/days/{day}/{step}"));
        }
        pages.extend(ids.iter().map(|id| format!("/days/{day}/pace?member={id}")));
    }
    for page in &pages {
        let body = server.get(page).body;
        for word in WORDS {
            assert!(!body.contains(word), "{page} says `{word}`");
        }
    }
    let loads = server.get(&format!("/days/{}/loads", monday())).body;
    assert!(loads.contains("not accounted for: look") && loads.contains("limit kept"));
    // The words stand on the person's own page, and on the sheet when its switch is on.
    assert!(server.get(&format!("/members/{}", ids[0])).body.contains("meniscus"));
    let sheet = server.post(&format!("/days/{}/sheet", monday()), &[("words", "on")]);
    assert!(sheet.status == 200 && sheet.body.contains("left meniscus: no jumping"));
}

#[test]
fn a_limit_is_kept_asked_about_and_looked_at() {
    let (_database, server) = demo();
    let added = server.post("/members/1/limits", &[("limits", "ask Marie first; left wrist: no front rack")]);
    assert_eq!(added.status, 303);
    let page = server.get("/members/1").body;
    assert!(page.contains("ask Marie first") && page.contains("not accounted for: look"));
    assert!(server.get("/members").body.contains("not accounted for: look"));
    let looked = [("limit", "ask Marie first"), ("action", "look"), ("spares", "knee")];
    assert_eq!(server.post("/members/1/limits/look", &looked).status, 303);
    let page = server.get("/members/1").body;
    assert!(
        page.contains("looked at on") && page.contains("spares knee") && !page.contains("not accounted for")
    );
    let csv = "name,limits\nNew One,bad stuff with my zorble\n";
    let preview = server.post("/members/import", &[("csv", csv)]).body;
    assert!(preview.contains("is not understood"), "{preview}");
    let long = "x".repeat(600);
    let refused = server.post("/members/1/limits", &[("limits", long.as_str())]);
    assert!(refused.status == 422 && refused.body.contains(&long));
}

#[test]
fn held_loads_can_be_let_go_on_a_coachs_word_and_held_again() {
    let (_database, server) = demo();
    let day = monday();
    let slot = format!("/days/{day}T18:00");
    server.post("/members/4/limits", &[("limits", "heart: no maximal singles")]);
    let text = "Back squat 5x1 @ 95%";
    let page = server.get(&format!("/days/{day}/read")).body;
    let revision = page.split("name=\"revision\" value=\"").nth(1).unwrap().split('"').next().unwrap();
    server.post(&format!("/days/{day}/read"), &[("text", text), ("revision", revision)]);
    let name = "Dexter Ombaye";
    let row = || {
        let csv = server.get(&format!("{slot}/loads.csv")).body;
        let lines: Vec<String> = csv
            .lines()
            .filter(|line| line.contains(name) && line.contains(",work,"))
            .map(str::to_owned)
            .collect();
        lines.join("\n")
    };
    assert!(row().contains(",80,"), "{}", row());
    let form = [("member", "4"), ("lift", "back-squat")];
    assert_eq!(server.post(&format!("{slot}/loads/release"), &form).status, 303);
    assert!(row().contains(",95,"), "{}", row());
    let loads = server.get(&format!("{slot}/loads")).body;
    assert!(loads.contains("on the word of Iris"), "whoever is signed in has signed");
    let again = [("member", "4"), ("lift", "back-squat"), ("hold", "1")];
    server.post(&format!("{slot}/loads/release"), &again);
    assert!(row().contains(",80,"));
    // Another coach has signed when it was another.
    server.seen_by("rowan").post(&format!("/days/{day}/loads/release"), &form);
    assert!(server.get(&format!("/days/{day}/loads")).body.contains("on the word of Rowan"));
}

#[test]
fn nobody_takes_back_somebody_elses_lift() {
    let (_database, server) = demo();
    let day = monday();
    for row in 1..40 {
        let gone = server.post(&format!("/days/2020-01-01/loads/{row}/undo"), &[]);
        assert!(gone.status == 404 || gone.status == 405, "{}", gone.status);
    }
    let form = [("member", "1"), ("lift", "back-squat"), ("weight", "90"), ("reps", "5"), ("rpe", "")];
    let entered = server.post(&format!("/days/{day}/loads"), &form).location.unwrap();
    let key = entered.split("entered=").nth(1).unwrap().to_owned();
    assert_eq!(server.post("/days/2026-01-01/loads/undo", &[("key", &key)]).status, 404);
    assert_eq!(server.post(&format!("/days/{day}/loads/undo"), &[("key", "guess")]).status, 404);
    assert!(server.get("/members/1").body.contains("5 x 90 kg"));
    assert_eq!(server.post(&format!("/days/{day}/loads/undo"), &[("key", &key)]).status, 303);
    assert!(!server.get("/members/1").body.contains("5 x 90 kg"));
}

#[test]
fn a_class_that_was_taken_off_comes_back_by_one_click() {
    let (_database, server) = demo();
    let class = format!("/days/{}T18:00/class", monday());
    let before = server.get(&class).body;
    let to = server.post(&format!("{class}/remove"), &[]).location.unwrap();
    assert_eq!(server.get(&class).status, 404);
    let week = server.get(&to).body;
    assert!(week.contains("Bring it back"));
    let key = to.split("removed=").nth(1).unwrap();
    assert_eq!(server.post("/removed", &[("key", key)]).status, 303);
    assert_eq!(server.get(&class).body, before);
}

#[test]
fn the_plan_is_of_the_text_in_front_of_you() {
    let (_database, server) = demo();
    let day = monday() + Days::new(12);
    let save = |text: &str, revision: &str, then: &str| {
        let form = [("text", text), ("revision", revision), ("writer", "me"), ("then", then)];
        server.post(&format!("/days/{day}/read"), &form)
    };
    let planned = save("AMRAP 12\n10 burpees", "0", "pace");
    let location = planned.location.unwrap_or_default();
    assert!(location.starts_with(&format!("/days/{day}/pace?saved=")), "{location}");
    // A double click, and going back and saving again: no conflict with oneself.
    assert_eq!(save("AMRAP 12\n10 burpees", "0", "").status, 303);
    assert_eq!(save("AMRAP 20\n10 burpees", "0", "board").status, 303);
    assert!(server.get(&format!("/days/{day}/board")).body.contains("20:00"));
    let other = [("text", "AMRAP 8\n5 burpees"), ("revision", "1"), ("writer", "somebody else")];
    let conflict = server.post(&format!("/days/{day}/read"), &other);
    assert_eq!(conflict.status, 409);
    assert!(conflict.body.contains("AMRAP 20") && conflict.body.contains("AMRAP 8"));
    // Every address can be opened again.
    for form in ["apply", "reading", "put-together", "classes", "loads/undo", "loads/release"] {
        assert_eq!(server.get(&format!("/days/{day}/{form}")).status, 303, "{form}");
    }
    for form in
        ["/members/drop-in", "/members/import/take", "/members/1/away", "/gym/cycles", "/movements/names"]
    {
        assert_eq!(server.get(form).status, 303, "{form}");
    }
}

#[test]
fn no_column_of_an_import_is_lost() {
    let (_database, server) = demo();
    let csv = "Name\tBack Squat 1RM (kg)\tHealth notes\tShoe\nAda Lind\t70\tbad knee\t41\n";
    let looked = server.post("/members/import", &[("csv", csv)]);
    assert!(looked.body.contains("What these columns mean") && looked.body.contains("Health notes"));
    let refused = server.post("/members/import/take", &[("csv", csv)]);
    assert_eq!(refused.status, 422);
    assert!(!server.get("/members").body.contains("Ada Lind"));
    let form = [
        ("csv", csv),
        ("column", "Back Squat 1RM (kg)"),
        ("means", "back_squat_kg"),
        ("column", "Health notes"),
        ("means", "limits"),
        ("column", "Shoe"),
        ("means", "note"),
    ];
    assert_eq!(server.post("/members/import/take", &form).status, 303);
    let members = server.get("/members").body;
    let id = members.split("/members/").find_map(|rest| rest.split_once("\">Ada Lind")).unwrap().0;
    let page = server.get(&format!("/members/{id}")).body;
    assert!(page.contains("bad knee") && page.contains("Shoe: 41") && page.contains("70 kg"));
    let impossible = "name,lift,weight,on\nAda Lind,back squat,70,2026-02-31\n";
    let refused = server.post("/members/import/take", &[("csv", impossible)]);
    assert!(refused.status == 422 && refused.body.contains("line 2"), "{}", refused.body);
    // No cell of a download begins a formula.
    server.post("/members/drop-in", &[("name", "=HYPERLINK(1)"), ("experience", "new")]);
    let csv = server.get("/members.csv").body;
    assert!(csv.contains("'=HYPERLINK(1)") && !csv.lines().any(|line| line.starts_with('=')));
}

#[test]
fn head_answers_like_get_and_personal_pages_are_not_kept() {
    let (_database, server) = demo();
    for path in ["/days", "/members", "/members/1", "/healthz", "/members.csv"] {
        let (get, head) = (server.get(path), server.head(path));
        assert_eq!((get.status, head.status, head.body.len()), (200, 200, 0), "{path}");
        assert_eq!(get.kept.as_deref(), Some("no-store"), "{path}");
    }
}
