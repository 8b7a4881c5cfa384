//! What coaches decide about a day, and what stands of it.

use super::{demo, monday};

#[test]
fn a_version_that_the_coach_chose_stands_through_a_rebuild_until_it_is_let_go() {
    let (_database, server) = demo();
    let page = format!("/days/{}/versions", monday());
    let choose = [("action", "choose"), ("piece", "0"), ("member", "Dexter Ombaye"), ("value", "Simpler")];
    assert_eq!(server.post(&page, &choose).status, 303);
    assert!(server.get(&page).body.contains("your choice, kept"));
    // Another text for the day: everything is worked out anew, but not that.
    let read = format!("/days/{}/read", monday());
    let revision = server.get(&read).body;
    let revision =
        revision.split("name=\"revision\" value=\"").nth(1).unwrap().split('"').next().unwrap().to_owned();
    let text = "5 rounds for time\n10 pull-ups\n15 thrusters 40/30 kg\ngoal 12-18 min";
    assert_eq!(server.post(&read, &[("text", text), ("revision", &revision)]).status, 303);
    assert!(server.get(&page).body.contains("your choice, kept"));
    let release = [("action", "release"), ("piece", "0"), ("member", "Dexter Ombaye")];
    server.post(&page, &release);
    assert!(!server.get(&page).body.contains("your choice, kept"));
    let wrong = [("action", "choose"), ("piece", "0"), ("member", "Dexter Ombaye"), ("value", "Hardest")];
    assert_eq!(server.post(&page, &wrong).status, 422);
}

/// A piece written above the one that something was decided about takes nothing of it.
#[test]
fn a_part_above_takes_no_decision_from_the_piece_below_and_a_new_name_none_from_the_person() {
    let (_database, server) = demo();
    let (page, read) = (format!("/days/{}/versions", monday()), format!("/days/{}/read", monday()));
    let choose = [("action", "choose"), ("piece", "0"), ("member", "Dexter Ombaye"), ("value", "Simpler")];
    assert_eq!(server.post(&page, &choose).status, 303);
    let before = server.get(&read).body;
    let between =
        |from: &str, to: &str| before.split(from).nth(1).unwrap().split(to).next().unwrap().to_owned();
    let revision = between("name=\"revision\" value=\"", "\"");
    let written = between("name=\"text\"", "</textarea>");
    let written = written.split_once('>').unwrap().1.replace("&#39;", "'").replace("&#38;", "&");
    let above = format!("AMRAP 5\n5 burpees\n10 sit-ups\n\n{}", written.trim_start());
    assert_eq!(server.post(&read, &[("text", &above), ("revision", &revision)]).status, 303);
    let body = server.get(&page).body;
    let pieces: Vec<&str> = body.split("<h2").filter(|piece| piece.contains("who-table")).collect();
    let kept = |piece: &str| piece.contains("your choice, kept");
    assert_eq!(pieces.iter().map(|piece| kept(piece)).collect::<Vec<_>>(), [false, true]);
    // Called otherwise, it is still theirs.
    let member = server.get("/members").body;
    let id = member.split(">Dexter Ombaye<").next().unwrap().rsplit("/members/").next().unwrap();
    let id: String = id.chars().take_while(char::is_ascii_digit).collect();
    let called = |name: &str| server.post(&format!("/members/{id}/name"), &[("name", name)]);
    assert_eq!(called(" ").status, 422);
    assert!(called(&"x".repeat(130)).body.contains("from 1 to 120 letters"));
    assert_eq!(called("Dexter Lind").status, 303);
    let body = server.get(&page).body;
    let row = body.split("Dexter Lind").find(|row| row.contains("your choice, kept"));
    assert!(row.is_some() && !body.contains("Dexter Ombaye"));
}

/// A page that was open while the text changed names parts by places that are others' now.
#[test]
fn nothing_is_decided_on_a_page_of_another_text() {
    let (_database, server) = demo();
    let (page, read) = (format!("/days/{}/versions", monday()), format!("/days/{}/read", monday()));
    let of = |body: &str| {
        let at = format!("{page}?of=");
        let rest = body.split(at.as_str()).nth(1).expect("a form says of which text it is");
        rest.split('"').next().unwrap().to_owned()
    };
    let choose = [("action", "choose"), ("piece", "0"), ("member", "Dexter Ombaye"), ("value", "Simpler")];
    let open = of(&server.get(&page).body);
    let hour = server.get(&page.replace("versions", "hour")).body;
    assert!(hour.contains(&format!("/hour?of={open}")), "the hour names parts by their places as well");
    let written = "AMRAP 5\n5 burpees\n10 sit-ups\n\nFor time, cap 12\n21-15-9\nthrusters 40/30 kg\npull-ups";
    let revision = server.get(&read).body;
    let revision = revision.split("name=\"revision\" value=\"").nth(1).unwrap().split('"').next().unwrap();
    assert_eq!(server.post(&read, &[("text", written), ("revision", revision)]).status, 303);
    let late = server.post(&format!("{page}?of={open}"), &choose);
    assert!(late.status == 409 && late.body.contains("nothing was decided"), "{}", late.body);
    let now = server.get(&page).body;
    assert!(!now.contains("your choice, kept") && of(&now) != open);
    assert_eq!(server.post(&format!("{page}?of={}", of(&now)), &choose).status, 303);
    assert!(server.get(&page).body.contains("your choice, kept"));
}

/// The history tells in sentences what was decided, by whom, and takes any of it back.
#[test]
fn the_history_of_a_day_reads_as_sentences_and_takes_back() {
    let (_database, server) = demo();
    let class = format!("/days/{}T18:00", monday());
    let (page, history) = (format!("{class}/versions"), format!("{class}/history"));
    assert!(server.get(&history).body.contains("Nothing has been decided about this day yet"));
    let choose = [("action", "choose"), ("piece", "0"), ("member", "Dexter Ombaye"), ("value", "Simpler")];
    assert_eq!(server.post(&page, &choose).status, 303);
    let body = server.get(&history).body;
    assert!(
        body.contains("Simpler for Dexter Ombaye in For time, 21-15-9") && body.contains("by Iris"),
        "{body}"
    );
    let id = body.split("name=\"id\" value=\"").nth(1).unwrap().split('"').next().unwrap();
    assert_eq!(server.post(&history, &[("id", id), ("action", "undo")]).status, 303);
    assert!(!server.get(&page).body.contains("your choice, kept"));
    let body = server.get(&history).body;
    assert!(body.contains("taken back") && body.contains("Let it stand"), "{body}");
    assert_eq!(server.post(&history, &[("id", id), ("action", "again")]).status, 303);
    assert!(server.get(&page).body.contains("your choice, kept"));
    assert_eq!(server.post(&history, &[("id", id), ("action", "forget")]).status, 422);
    assert_eq!(server.post(&history, &[("id", "999999"), ("action", "undo")]).status, 404);
}

#[test]
fn a_line_that_cannot_be_read_is_refused_by_name_and_nothing_changes() {
    let (_database, server) = demo();
    let page = format!("/days/{}/versions", monday());
    let before = server.get(&page).body;
    let hand = |from: &str, to: &str| {
        let form = [("action", "hand"), ("piece", "0"), ("version", "Lighter"), ("from", from), ("to", to)];
        server.post(&page, &form)
    };
    for (from, to) in [("pull-up", "have a lovely time"), ("10 wombats", "8 wombats")] {
        let refused = hand(from, to);
        assert_eq!(refused.status, 422, "{to}");
        assert!(refused.body.contains(if from == "pull-up" { to } else { from }), "{}", refused.body);
    }
    assert_eq!(server.get(&page).body, before);
}

/// The same line written anew on three days is done for the coach on the fourth, says so, and is forgotten by one click.
#[test]
fn what_is_done_on_three_days_becomes_a_habit_and_can_be_forgotten() {
    let (_database, server) = demo();
    let text = "5 rounds for time\n10 burpees\n15 air squats\n12 kettlebell swings 24/16 kg\ngoal 10-14 min";
    let page = |day: u32| format!("/days/2031-06-0{day}/versions");
    let read = |day: u32| {
        let form = [("text", text), ("revision", "0")];
        server.post(&format!("/days/2031-06-0{day}/read"), &form);
        server.get(&page(day)).body
    };
    for day in 1..=3 {
        let body = read(day);
        assert!(!body.contains("habit of this gym"), "on day {day}");
        let lines = body.split(r#"name="version" value="Lighter""#).skip(1);
        let mut lines =
            lines.filter_map(|rest| rest.split_once(r#"name="from" value=""#)?.1.split('"').next());
        let swing =
            lines.find(|line| line.contains("kettlebell swing")).expect("a line of Lighter").to_owned();
        let form = [
            ("action", "hand"),
            ("piece", "0"),
            ("version", "Lighter"),
            ("from", &swing),
            ("to", "12 sit-ups"),
        ];
        assert_eq!(server.post(&page(day), &form).status, 303, "{swing}");
    }
    let fourth = read(4);
    assert!(fourth.contains("habit of this gym"), "{fourth}");
    let gym = server.get("/gym").body;
    assert!(gym.contains("Lighter: sit-up in place of kettlebell swing"), "{gym}");
    let value = gym.split(r#"name="habit" value=""#).nth(1).unwrap().split('"').next().unwrap();
    let value = value.replace("&#34;", "\"").replace("&quot;", "\"");
    let forget = |action| server.post("/gym/habits/hand", &[("habit", &value), ("action", action)]);
    assert_eq!(forget("forget").status, 303);
    assert!(server.get("/gym").body.contains("Remember again"));
    assert!(!server.get(&page(4)).body.contains("habit of this gym"));
    assert_eq!(forget("lose").status, 422);
}

/// Rowers out: one click swaps what is rowed for everybody, says what became of it, and another takes it back.
#[test]
fn what_is_missing_today_is_swapped_for_everybody_until_it_is_taken_back() {
    let (_database, server) = demo();
    let day = "2031-06-05";
    let text = "AMRAP 15\n400 m run\n15/12 cal row\n20 air squats\ngoal 4-5 rounds";
    server.post(&format!("/days/{day}/read"), &[("text", text), ("revision", "0")]);
    let hour = format!("/days/{day}/hour");
    assert!(server.get(&hour).body.contains("Missing today"));
    let change = r#"{"change":"without","what":"rowers"}"#;
    let board = || server.get(&format!("/days/{day}/board")).body;
    assert!(board().contains("cal row"));
    assert_eq!(server.post(&hour, &[("action", "change"), ("value", change)]).status, 303);
    let without = server.get(&hour).body;
    assert!(without.contains("Rowers out: 15/12 cal row becomes"), "{without}");
    assert!(!board().contains("cal row") && board().contains("400 m run"), "{}", board());
    server.post(&hour, &[("action", "change"), ("value", r#"{"change":"without","what":"running"}"#)]);
    assert!(!board().contains("run"), "{}", board());
    server.post(&hour, &[("action", "undo"), ("value", change)]);
    assert!(board().contains("cal row") && !board().contains("400 m run"), "{}", board());
}

#[test]
fn the_intent_can_be_set_and_everything_aims_at_it() {
    let (_database, server) = demo();
    let page = format!("/days/{}/versions", monday());
    let before = server.get(&page).body;
    let set = [("action", "window"), ("piece", "0"), ("low", "2:00"), ("high", "3:30")];
    assert_eq!(server.post(&page, &set).status, 303);
    let after = server.get(&page).body;
    assert!(after.contains("set by the coach") && after.contains("2:00-3:30") && after != before);
    let wrong =
        server.post(&page, &[("action", "window"), ("piece", "0"), ("low", "soon"), ("high", "3:30")]);
    assert_eq!(wrong.status, 422);
    assert!(wrong.body.contains("soon"), "{}", wrong.body);
    server.post(&page, &[("action", "as-read"), ("piece", "0")]);
    assert!(!server.get(&page).body.contains("set by the coach"));
}

#[test]
fn a_school_of_the_gym_changes_what_a_skill_is_swapped_for() {
    let (_database, server) = demo();
    let day = "2031-05-06";
    let text = "5 rounds for time\n4 ring muscle-ups\n200 m run\ngoal 8-12 min";
    server.post(&format!("/days/{day}/read"), &[("text", text), ("revision", "0")]);
    let same_time = server.get(&format!("/days/{day}/versions")).body;
    let gym = [
        ("policy", "best_recent"),
        ("formula", "epley"),
        ("training_max", "100"),
        ("racks", "7"),
        ("class_minutes", "60"),
        ("infer", "1"),
        ("swap", "FixedRatio"),
    ];
    assert_eq!(server.post("/gym", &gym).status, 303);
    let fixed_ratio = server.get(&format!("/days/{day}/versions")).body;
    assert_ne!(same_time, fixed_ratio);
}
