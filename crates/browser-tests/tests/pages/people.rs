//! Members: rosters, lifts on record, drop-ins, who is not known yet, who comes back.

use chrono::{Days, Utc};

use super::{demo, monday};

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
    // All or nothing, unless somebody says that the bad ones are left out.
    let refused = server.post("/members/import/take", &[("csv", csv)]);
    assert_eq!(refused.status, 422);
    assert!(
        refused.body.contains("Nothing was taken in") && !server.get("/members").body.contains("Ada Lind")
    );
    assert_eq!(server.post("/members/import/take", &[("csv", csv), ("leave_out", "1")]).status, 303);
    let members = server.get("/members").body;
    assert!(members.contains("Ada Lind") && !members.contains("Bo Ek"));
    assert!(server.get("/members.csv").body.contains("Ada Lind,,,,beginner"));
}

#[test]
fn a_file_of_lifts_goes_into_the_histories_of_those_whom_the_gym_knows() {
    let (_database, server) = demo();
    let csv = "name,lift,weight,unit,reps,on,source\nAlba Quenby,back squat,100,kg,5,2026-11-02,tested\n\
               Nobody Here,deadlift,120,,,,\nAlba Quenby,wombat press,50,,,,\n";
    let looked = server.post("/members/import", &[("csv", csv)]).body;
    for words in
        ["1 can be taken in, 2 cannot", "nobody here is called", "wombat press", "back squat 5 x 100 kg"]
    {
        assert!(looked.contains(words), "{words}: {looked}");
    }
    assert_eq!(server.post("/members/import/take", &[("csv", csv), ("leave_out", "1")]).status, 303);
    let members = server.get("/members").body;
    let id =
        members.split("/members/").filter_map(|rest| rest.split_once("\">Alba Quenby")).next().unwrap().0;
    assert!(server.get(&format!("/members/{id}")).body.contains("5 x 100 kg"));
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
    let own =
        |rest: &&str| rest.split("</form>").next().is_some_and(|form| form.contains("Remove 1 x 150.5"));
    let row =
        page.split("/members/1/lifts/").find(own).and_then(|rest| rest.split_once("/remove")).unwrap().0;
    let removed = server.post(&format!("{path}/{row}/remove"), &[]);
    let to = removed.location.unwrap();
    // Nothing personal stands in the address, and the key in it brings the lift back once. (A key may have the digits 150 in it by chance.)
    let (before_key, key) = to.split_once("removed=").unwrap();
    assert!(!before_key.contains("150") && !to.contains("squat"), "{to}");
    assert!(key.len() == 32 && key.chars().all(|c| c.is_ascii_hexdigit()), "{to}");
    let back = server.get(&to).body;
    assert!(back.contains("Bring it back") && !back.contains("1 x 150.5 kg"));
    let key = to.split("removed=").nth(1).unwrap();
    assert_eq!(server.post("/removed", &[("key", key)]).status, 303);
    assert!(server.get("/members/1").body.contains("1 x 150.5 kg"));
    assert_eq!(server.post("/removed", &[("key", key)]).status, 409);
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
fn a_drop_in_answers_four_questions_and_takes_part_with_a_first_guess() {
    let (_database, server) = demo();
    let answers = [
        ("name", "Vi Marsh"),
        ("pair", "second"),
        ("experience", "beginner"),
        ("pull_ups", "3"),
        ("squat", ""),
        ("row_2k", "9:10"),
    ];
    assert_eq!(server.post("/members/drop-in", &answers).status, 303);
    assert!(server.get(&format!("/days/{}/versions", monday())).body.contains("Vi Marsh"));
    assert!(server.get(&format!("/days/{}/pace", monday())).body.contains("of 15 finish inside the window"));
    let again = server.post("/members/drop-in", &answers);
    assert_eq!(again.status, 422);
    assert!(again.body.contains("There is a Vi Marsh already"), "{}", again.body);
    // Nothing typed is lost to a wrong answer.
    let wrong = [("name", "Ola Reed"), ("experience", "advanced"), ("pull_ups", "lots"), ("squat", "90")];
    let again = server.post("/members/drop-in", &wrong).body;
    for kept in [
        "2. Pull-ups in one go",
        "lots",
        r#"value="Ola Reed""#,
        r#"value="lots""#,
        r#"value="90""#,
        r#"value="advanced" selected"#,
    ] {
        assert!(again.contains(kept), "{kept}: {again}");
    }
}

/// The first evening: a name and nothing else, placed by eye among four levels; after four answers there is nothing left to guess of them.
#[test]
fn who_is_not_known_is_placed_by_eye_until_four_questions_are_answered() {
    let (_database, server) = demo();
    assert_eq!(server.post("/members/drop-in", &[("name", "Nobody Yet")]).status, 303);
    let versions = format!("/days/{}/versions", monday());
    let id = {
        let members = server.get("/members").body;
        members.split(r#"">Nobody Yet"#).next().unwrap().rsplit('/').next().unwrap().to_owned()
    };
    for page in [versions.clone(), format!("/days/{}/loads", monday())] {
        let body = server.get(&page).body;
        assert!(body.contains("Not known yet: 1 of 15") && body.contains("first weeks"), "{page}: {body}");
        assert!(body.contains(&format!(r#"href="/members/{id}#four""#)), "{page}");
    }
    let wrong = [("row_2k", "1:00"), ("pull_ups", "4")];
    let again = server.post(&format!("/members/{id}/answers"), &wrong);
    assert_eq!(again.status, 422);
    assert!(again.body.contains("3. 2000 m row") && again.body.contains(r#"value="1:00""#), "{}", again.body);
    let answers =
        [("row_2k", "8:40"), ("pull_ups", "4"), ("squat", "70"), ("limits", "left knee: no jumping")];
    assert_eq!(server.post(&format!("/members/{id}/answers"), &answers).status, 303);
    let page = server.get(&format!("/members/{id}")).body;
    assert!(page.contains("8:40") && page.contains("left knee: no jumping"), "{page}");
    assert!(!server.get(&versions).body.contains("Not known yet"));
    // What is left empty stays.
    server.post(&format!("/members/{id}/answers"), &[("run_400m", "1:45")]);
    let page = server.get(&format!("/members/{id}")).body;
    assert!(page.contains("8:40") && page.contains("1:45"), "{page}");
}

#[test]
fn who_comes_back_after_a_break_is_named_in_the_cautions() {
    let (_database, server) = demo();
    let since = (Utc::now().date_naive() - Days::new(20)).to_string();
    assert_eq!(server.post("/members/1/away", &[("since", &since)]).status, 303);
    let hour = server.get(&format!("/days/{}/hour", monday())).body;
    assert!(hour.contains("is back after 20 days"), "{hour}");
    server.post("/members/1/away", &[("since", "")]);
    assert!(!server.get(&format!("/days/{}/hour", monday())).body.contains("is back after"));
}
