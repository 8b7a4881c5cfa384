//! What each role may see and do.

use super::*;

#[test]
fn a_member_sees_their_own_card_and_numbers_and_nobody_elses() {
    let (_database, server) = demo();
    let alba = server.seen_by("alba");
    assert_eq!(alba.get("/").location.as_deref(), Some("/me"));
    let me = alba.get("/me").body;
    assert!(me.contains("Alba Quenby") && me.contains("My 1RMs") && me.contains("Back squat"));
    assert!(!me.contains("Bertil") && !me.contains("Iris"), "{me}");
    for closed in
        ["/days", "/members", "/members/2", "/gym", "/people", "/members.csv", "/members/1/file.json"]
    {
        assert_eq!(alba.get(closed).status, 403, "{closed}");
    }
    let file: serde_json::Value = serde_json::from_str(&alba.get("/me/file.json").body).unwrap();
    assert_eq!(file["member"]["name"], "Alba Quenby");
}

#[test]
fn a_coach_coaches_and_an_owner_gives_roles() {
    let (_database, server) = demo();
    let rowan = server.seen_by("rowan");
    assert_eq!((rowan.get("/days").status, rowan.get("/members/2").status), (200, 200));
    for closed in ["/people", "/members.csv", "/members/2/file.json"] {
        assert_eq!(rowan.get(closed).status, 403, "{closed}");
    }
    assert_eq!(rowan.post("/gym", &[("racks", "1")]).status, 403);
    assert_eq!(rowan.post("/members/2/delete", &[("name", "x")]).status, 403);
    // A role counts at the next look, wherever somebody is signed in.
    let rowans = ("email", "rowan@harbour-lane.example");
    assert_eq!(server.post("/people/role", &[rowans, ("role", "owner")]).status, 303);
    assert_eq!(rowan.get("/people").status, 200);
    assert_eq!(server.post("/people/role", &[rowans, ("role", "member")]).status, 303);
    assert_eq!(rowan.get("/days").status, 403);
    assert_eq!(server.post("/people/remove", &[rowans]).status, 303);
    assert_eq!(rowan.get("/me").status, 303);
    // The last owner stays one.
    let own = ("email", "iris@harbour-lane.example");
    let refused = server.post("/people/role", &[own, ("role", "coach")]);
    assert!(refused.status == 422 && refused.body.contains("at least one owner"));
    assert_eq!(server.post("/people/remove", &[own]).status, 422);
    assert_eq!(server.get("/people").status, 200);
}

#[test]
fn an_invitation_works_once_and_can_be_taken_back() {
    let (_database, server) = demo();
    let invite = |email: &'static str, role: &'static str, member: &'static str| {
        server
            .post("/people/invite", &[("email", email), ("role", role), ("name", "Kit"), ("member", member)])
    };
    assert!(invite("nobody", "coach", "").body.contains("no e-mail address"));
    let nobody = invite("kit@example.org", "member", "");
    assert!(
        nobody.status == 422 && nobody.body.contains("kit@example.org"),
        "a member is somebody of the list"
    );
    assert_eq!(invite("kit@example.org", "king", "").status, 422);
    assert_eq!(
        invite("alba@harbour-lane.example", "coach", "").status,
        422,
        "she belongs to the gym already"
    );
    assert_eq!(invite("kit@example.org", "member", "1").status, 422, "that member has an account");
    let made = invite("kit@example.org", "member", "2");
    let link = shown_link(&made.body);
    let out = server.signed_out();
    assert!(out.get(&link).body.contains("Harbour Lane Hall"));
    assert_eq!(out.post(&link, &[("passphrase", "Password1234")]).status, 422);
    let kit = server.with_cookie(&out.post(&link, &[("passphrase", PASSPHRASE)]).cookie.unwrap());
    assert!(kit.get("/me").body.contains("Bertil Soames"));
    assert_eq!(out.post(&link, &[("passphrase", PASSPHRASE)]).status, 404);
    // Taken back before it is taken up.
    let made = invite("kat@example.org", "coach", "");
    let id = between(
        &made.body,
        "action=\"/people/uninvite\"><button class=\"button is-small\" name=\"id\" value=\"",
        "\"",
    );
    assert_eq!(server.post("/people/uninvite", &[("id", id)]).status, 303);
    assert_eq!(out.get(&shown_link(&made.body)).status, 404);
    // The letters are in the demo's mailbox.
    let mail = out.get(&format!("/demo/{}", browser_tests::DEMO_KEY)).body;
    assert!(mail.contains("Come in to Harbour Lane Hall") && mail.contains("kat@example.org"));
}

#[test]
fn a_wall_and_a_calendar_open_by_their_own_address_until_it_is_revoked() {
    let (_database, server) = demo();
    let out = server.signed_out();
    let make = |opens| server.post("/people/keys", &[("name", "By the rig"), ("opens", opens)]).body;
    let wall = shown_link(&make("wall"));
    let board = out.get(&wall).body;
    assert!(
        board.contains("Harbour Lane Hall") && !board.contains("Quenby") && !board.contains("href=\"/days")
    );
    let calendar = shown_link(&make("calendar"));
    assert!(out.get(&calendar).body.contains("BEGIN:VCALENDAR"));
    // One opens what it was made for, and nothing else.
    let key = wall.trim_start_matches("/wall/");
    assert_eq!(out.get(&format!("/calendar/{key}/classes.ics")).status, 404);
    for wrong in ["/wall/1.abc", "/wall/x", "/wall/-1.x", "/wall/99999999999999999999.x"] {
        assert_eq!(out.get(wrong).status, 404, "{wrong}");
    }
    let people = server.get("/people").body;
    for id in people.split("name=\"id\" value=\"").skip(1).filter_map(|rest| rest.split('"').next()) {
        assert_eq!(server.post("/people/keys/revoke", &[("id", id)]).status, 303);
    }
    assert_eq!((out.get(&wall).status, out.get(&calendar).status), (404, 404));
}

#[test]
fn opening_the_words_of_a_limit_is_noted_once_an_hour_and_step_pages_note_nothing() {
    let (database, server) = demo();
    let views =
        || database.names("select viewer || ' ' || member_id::text as name from health_views order by 1");
    let limits = [("limits", "left knee: no jumping")];
    assert_eq!(server.post("/members/2/limits", &limits).status, 303);
    let day = chrono::Utc::now().date_naive();
    for step in ["warmup", "loads", "versions", "pace", "hour", "cards", "sheet"] {
        server.get(&format!("/days/{day}/{step}"));
    }
    assert_eq!(views(), Vec::<String>::new());
    let rowan = server.seen_by("rowan");
    rowan.get("/members/2");
    rowan.get("/members/2");
    assert_eq!(views(), ["Rowan 2"]);
    assert!(server.get("/members/2").body.contains("Who has opened these words"));
    assert_eq!(views(), ["Iris 2", "Rowan 2"]);
    // The person is told too.
    let made =
        server.post("/people/invite", &[("email", "b@example.org"), ("role", "member"), ("member", "2")]);
    let come = server.signed_out().post(&shown_link(&made.body), &[("passphrase", PASSPHRASE)]);
    let me = server.with_cookie(&come.cookie.unwrap()).get("/me").body;
    assert!(me.contains("left knee: no jumping") && me.contains("Rowan"));
    assert_eq!(views().len(), 2, "one's own words are one's own");
}
