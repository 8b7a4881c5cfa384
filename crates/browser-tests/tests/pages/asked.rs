//! What a page asks of the database.

use browser_tests::attack::Proxy;

use super::*;

/// Most queries of a page of a day, who asks included.
const MOST: usize = 4;

#[test]
fn a_page_of_a_day_asks_at_most_four_times_and_once_when_nothing_has_changed() {
    let database = TestDatabase::demo();
    let road = Proxy::before(&database.url);
    let server = TestServer::start_on(&road.url);
    let slot = format!("{}T18:00", monday());
    let steps = ["read", "warmup", "loads", "versions", "pace", "hour", "book", "board", "cards", "sheet"];
    let pages: Vec<String> =
        steps.iter().map(|step| format!("/days/{slot}/{step}")).chain(["/days".to_owned()]).collect();
    let asked = |page: &str| {
        let before = road.queries();
        let answer = server.get(page);
        assert_eq!(answer.status, 200, "{page}");
        (road.queries() - before, answer.body)
    };
    for page in &pages {
        asked(page);
    }
    let mut left: Vec<&String> = pages.iter().collect();
    while let Some(page) = left.pop() {
        let connections = road.connections();
        // Something has changed since.
        let pin = [("action", "pin"), ("key", "warmup"), ("value", "8")];
        assert_eq!(server.post(&format!("/days/{slot}/hour"), &pin).status, 303);
        let (new, fresh) = asked(page);
        let (again, same) = asked(page);
        // A connection asks for itself when it is made, whoever it is for: then once more.
        if road.connections() > connections {
            left.push(page);
            continue;
        }
        assert!(new <= MOST, "{page}: {new} queries");
        assert_eq!(again, 1, "{page}");
        let bare = |page: &str| page.split("name=\"writer\"").next().map(str::len);
        assert_eq!(bare(&fresh), bare(&same), "{page}");
    }
}

/// Whatever changes, and however: no page shows what stood there before.
#[test]
fn a_change_of_any_kind_is_seen_at_once() {
    let (database, server) = demo();
    let day = monday();
    let version = || database.names("select version::text as name from gyms")[0].parse::<i64>().unwrap();
    let changes: [(&str, Vec<(&str, &str)>); 8] = [
        ("/movements/names", vec![("alias", "hill lap"), ("movement", "Run")]),
        ("/members/2/away", vec![("since", "2026-01-01")]),
        (
            "/members/2/lifts",
            vec![
                ("lift", "back-squat"),
                ("weight", "140"),
                ("reps", "1"),
                ("on", "2026-01-02"),
                ("source", "tested"),
            ],
        ),
        ("/members/2/name", vec![("name", "Bertil Newname")]),
        ("/gym", vec![("racks", "3"), ("was_racks", "7")]),
        ("/days/2031-03-03/read", vec![("text", "For time\n50 burpees"), ("revision", "0")]),
        ("/days/2031-03-03/classes", vec![("starts", "18:00"), ("minutes", "60")]),
        ("/days/2031-03-03T18:00/class", vec![("booked", "2")]),
    ];
    for (path, form) in changes {
        let before = version();
        assert_eq!(server.post(path, &form).status, 303, "{path}");
        assert!(version() > before, "{path}");
    }
    let loads = server.get(&format!("/days/{day}T18:00/loads")).body;
    assert!(loads.contains("Bertil Newname") && !loads.contains("Bertil Soames"));
    // What changes nothing of a plan makes no page anew.
    let before = version();
    server.post("/people/keys", &[("name", "By the rig"), ("opens", "wall")]);
    server.get("/members/2");
    assert_eq!(version(), before);
}
