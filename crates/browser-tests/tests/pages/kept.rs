//! What a day was read as stays, until somebody asks for another reading.

use super::demo;

/// A movement's name that is taught later changes the days to come at once, and none that is over.
#[test]
fn a_day_that_is_over_stays_as_it_was_read() {
    let (_database, server) = demo();
    let text = "3 rounds for time\n10 wobblewogs\n12 air squats";
    let json = |day: &str| server.get(&format!("/days/{day}/session.json")).body;
    for day in ["2021-03-01", "2031-03-03"] {
        let form = [("text", text), ("revision", "0")];
        assert_eq!(server.post(&format!("/days/{day}/read"), &form).status, 303);
        assert!(!json(day).contains("\"burpee\""), "{day}");
    }
    server.post("/movements/names", &[("alias", "wobblewog"), ("movement", "burpee")]);
    assert!(json("2031-03-03").contains("\"burpee\""), "{}", json("2031-03-03"));
    assert!(!json("2021-03-01").contains("\"burpee\""));
    let read = server.get("/days/2021-03-01/read").body;
    assert!(
        read.contains("This day is over") && read.contains("10 burpee"),
        "it says what would be otherwise"
    );
    assert!(!read.contains("Read it anew"));
    // Whoever saves it anew wants it read anew.
    let form = [("text", &*format!("{text}\ncap 12")), ("revision", "1")];
    assert_eq!(server.post("/days/2021-03-01/read", &form).status, 303);
    assert!(json("2021-03-01").contains("\"burpee\""));
}

/// What a newer reader makes of a day to come is offered with its differences and never taken in silence.
#[test]
fn a_newer_reader_is_offered_and_not_taken_in_silence() {
    let (database, server) = demo();
    let day = "/days/2031-03-04";
    let form = [("text", "For time, cap 10\n50 burpees"), ("revision", "0")];
    assert_eq!(server.post(&format!("{day}/read"), &form).status, 303);
    assert!(!server.get(&format!("{day}/read")).body.contains("The reader has learned"));
    database.run("update pieces set reader = 'older', tree = jsonb_set(tree, '{cap_s}', '840') where day = '2031-03-04'");
    let json = || server.get(&format!("{day}/session.json")).body;
    assert!(json().contains("\"cap_s\":840"), "{}", json());
    let read = server.get(&format!("{day}/read")).body;
    assert!(read.contains("The reader has learned: one part") && read.contains("cap 14:00"), "{read}");
    assert!(server.get(&format!("{day}/pace")).body.contains("14:00"));
    assert_eq!(server.post(&format!("{day}/read-anew"), &[]).status, 303);
    assert!(json().contains("\"cap_s\":600"));
    assert!(!server.get(&format!("{day}/read")).body.contains("The reader has learned"));
}
