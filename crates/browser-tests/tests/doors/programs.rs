//! What programs get by a key.

use super::*;

#[test]
fn a_key_opens_its_scopes_and_nothing_else_until_it_is_revoked() {
    let (_database, server) = demo();
    let out = server.signed_out();
    let day = chrono::Utc::now().date_naive();
    let monday = day - chrono::Days::new(u64::from(chrono::Datelike::weekday(&day).num_days_from_monday()));
    let none = server.post("/people/keys", &[("name", "Screen"), ("opens", "api")]);
    assert_eq!(none.status, 422);
    let made = server.post(
        "/people/keys",
        &[("name", "Screen"), ("opens", "api"), ("scope", "sessions"), ("scope", "loads")],
    );
    let key = between(&made.body, "aria-label=\"The link\" value=\"", "\"").to_owned();
    let ask = |path: &str, key: &str| out.get_with(path, &[("Authorization", &format!("Bearer {key}"))]);
    let session = ask(&format!("/api/v1/days/{monday}/session"), &key);
    let session: serde_json::Value = serde_json::from_str(&session.body).unwrap();
    assert_eq!(session["schema"], "honest-lantern/reading/1");
    let loads = ask(&format!("/api/v1/days/{monday}T18:00/loads"), &key);
    let loads: serde_json::Value = serde_json::from_str(&loads.body).unwrap();
    assert!(
        loads
            .as_array()
            .unwrap()
            .iter()
            .any(|lift| lift["member"] == "Alba Quenby" && lift["sets"][0]["kg"].is_number())
    );
    let told = |answer: browser_tests::Answer| {
        let body: serde_json::Value = serde_json::from_str(&answer.body).unwrap();
        (answer.status, body["error"].as_str().unwrap().to_owned())
    };
    assert_eq!(told(ask("/api/v1/members", &key)).0, 401, "it has not that scope");
    assert_eq!(told(ask("/api/v1/days/2031-01-01/session", &key)).0, 404);
    assert_eq!(told(ask("/api/v1/days/soon/session", &key)).0, 404);
    assert_eq!(told(ask("/api/v1/members", "1.nonsense")).0, 401);
    assert_eq!(told(out.get("/api/v1/members")).0, 401);
    // It signs nobody in, and opens no page.
    assert_eq!(ask("/days", &key).status, 303);
    assert_eq!(ask(&format!("/wall/{key}"), &key).status, 404);
    let document: serde_json::Value = serde_json::from_str(&out.get("/api/v1/openapi.json").body).unwrap();
    assert!(document["paths"]["/api/v1/members"]["get"]["security"][0]["key"].is_array());
    let people = server.get("/people").body;
    let id = between(&people, "sessions, loads", "Revoke")
        .split("value=\"")
        .nth(1)
        .unwrap()
        .split('"')
        .next()
        .unwrap()
        .to_owned();
    assert_eq!(server.post("/people/keys/revoke", &[("id", &id)]).status, 303);
    assert_eq!(ask(&format!("/api/v1/days/{monday}/session"), &key).status, 401);
}

/// Members come without a word of what they spare.
#[test]
fn a_key_for_members_tells_lifts_and_no_limits() {
    let (_database, server) = demo();
    server.post("/members/2/limits", &[("limits", "left meniscus: no jumping")]);
    let made = server.post("/people/keys", &[("name", "Board"), ("opens", "api"), ("scope", "members")]);
    let key = between(&made.body, "aria-label=\"The link\" value=\"", "\"").to_owned();
    let members =
        server.signed_out().get_with("/api/v1/members", &[("Authorization", &format!("Bearer {key}"))]);
    assert!(members.body.contains("Bertil Soames") && members.body.contains("\"back-squat\":128"));
    assert!(!members.body.contains("meniscus") && !members.body.contains("limit"));
}
