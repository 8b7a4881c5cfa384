//! Lifts and results of before: looked at first, taken in whole, taken back whole, and out again as they came in.

use std::collections::{BTreeMap, BTreeSet};

use lantern_documents::table_of;

use super::demo;

const TABLE: &str = "Athlete,Date,Exercise,Load,Reps,Workout,Score\n\
    Alba Quenby,2025-03-03,back squat,90,5,,\n\
    Alba Quenby,2025-03-05,,,,For time; 50 burpees; cap 10,6:12\n\
    Nobody Atall,2025-03-05,,,,For time; 50 burpees; cap 10,7:12\n\
    Bertil Soames,2025-03-05,,,,For time; 50 burpees; cap 10,soon\n";

/// The form with the meanings that the page has guessed.
fn fields<'a>(csv: &'a str, more: &[(&'a str, &'a str)]) -> Vec<(&'a str, &'a str)> {
    let mut fields = vec![("csv", csv)];
    fields.extend_from_slice(more);
    fields
}

#[test]
fn a_table_of_before_is_looked_at_taken_in_whole_and_taken_back_whole() {
    let (_database, server) = demo();
    let looked = server.post("/gym/history", &fields(TABLE, &[]));
    assert_eq!(looked.status, 200);
    for part in [
        "1 lifts and 1 results can be taken in, 2 rows cannot",
        "line 4: nobody here is called `Nobody Atall`",
        "line 5, column `Score`: `soon` is none",
        "5 x 90 kg back squat",
    ] {
        assert!(looked.body.contains(part), "{part} in {}", looked.body);
    }
    // All or nothing, unless it is asked to leave rows out.
    let refused = server.post("/gym/history/take", &fields(TABLE, &[]));
    assert!(refused.status == 422 && refused.body.contains("Nothing was taken in"), "{}", refused.body);
    let taken = server.post("/gym/history/take", &fields(TABLE, &[("leave_out", "1")]));
    assert_eq!(taken.status, 303);
    let to = taken.location.unwrap();
    assert!(server.get(&to).body.contains("2 taken in."));
    let alba = |what: &str| {
        let members = server.get("/members").body;
        let id = members.split("Alba Quenby").next().unwrap().rsplit("/members/").next().unwrap();
        let id = id.split('"').next().unwrap().to_owned();
        server.get(&format!("/members/{id}")).body.contains(what)
    };
    assert!(alba("5 x 90 kg") && alba("<b>6:12</b>"));
    // What goes out comes in again, and nothing of it is lost.
    let lifts = server.get("/gym/lifts.csv").body;
    assert!(lifts.contains("Alba Quenby,2025-03-03,back squat,90,kg,5,"), "{lifts}");
    let results = server.get("/gym/results.csv").body;
    let again = server.post("/gym/history", &fields(&results, &[]));
    assert!(again.body.contains("0 lifts and 1 results can be taken in<"), "{}", again.body);
    let again = server.post("/gym/history", &fields(&lifts, &[]));
    let sets = lifts.lines().count() - 1;
    assert!(again.body.contains(&format!("{sets} lifts and 0 results can be taken in<")), "{sets}");
    // The same as a spreadsheet and as JSON.
    let sheet = table_of(&server.bytes("/gym/lifts.xlsx")).unwrap();
    assert_eq!(sheet.lines().count(), lifts.lines().count());
    assert!(sheet.contains("Alba Quenby\t2025-03-03\tback squat\t90\tkg\t5\t"), "{sheet}");
    let again = server.post("/gym/history", &fields(&sheet, &[]));
    assert!(again.body.contains(&format!("{sets} lifts and 0 results can be taken in<")), "{sets}");
    let json: Vec<BTreeMap<String, String>> =
        serde_json::from_str(&server.get("/gym/lifts.json").body).unwrap();
    assert!(
        json.len() == sets && json.iter().any(|set| set["name"] == "Alba Quenby" && set["weight"] == "90")
    );
    follows_the_schema(&json, "lift");
    let results: Vec<BTreeMap<String, String>> =
        serde_json::from_str(&server.get("/gym/results.json").body).unwrap();
    follows_the_schema(&results, "result");
    assert_eq!(server.get("/gym/lifts.exe").status, 404);
    // Back, all of it, once.
    let key = to.split("taken=").nth(1).unwrap().split('&').next().unwrap().to_owned();
    assert_eq!(server.post("/gym/history/back", &[("key", &key)]).status, 303);
    assert!(!alba("5 x 90 kg") && !alba("<b>6:12</b>"));
    assert_eq!(server.post("/gym/history/back", &[("key", &key)]).status, 404);
    assert_eq!(server.post("/gym/history/back", &[("key", "%")]).status, 404);
    // However long ago and however far apart, everything goes out.
    let far = "name,day,piece,score\nAlba Quenby,2019-01-07,For time; 50 burpees,6:12\nBertil Soames,2025-11-05,For time; 50 burpees,7:00\n";
    assert_eq!(server.post("/gym/history/take", &fields(far, &[])).status, 303);
    let results = server.get("/gym/results.csv").body;
    assert!(
        results.contains("Alba Quenby,2019-01-07") && results.contains("Bertil Soames,2025-11-05"),
        "{results}"
    );
}

/// Whether a list has the columns that the schema in the docs describes, and each of them filled that it asks for.
fn follows_the_schema(list: &[BTreeMap<String, String>], what: &str) {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/lists.schema.json");
    let schema: serde_json::Value = serde_json::from_str(&std::fs::read_to_string(path).unwrap()).unwrap();
    let row = &schema["$defs"][what];
    let columns: BTreeSet<&str> = row["properties"].as_object().unwrap().keys().map(String::as_str).collect();
    let asked: Vec<&str> =
        row["required"].as_array().unwrap().iter().map(|key| key.as_str().unwrap()).collect();
    assert!(!list.is_empty(), "nothing to look at");
    for found in list {
        assert_eq!(found.keys().map(String::as_str).collect::<BTreeSet<_>>(), columns);
        assert!(asked.iter().all(|key| !found[*key].is_empty()), "{found:?}");
        for (column, value) in found {
            let one_of = row["properties"][column]["enum"].as_array();
            assert!(one_of.is_none_or(|known| known.iter().any(|known| known == value)), "{column}: {value}");
        }
    }
}

#[test]
fn columns_that_nobody_knows_and_days_that_could_be_two_are_asked_about() {
    let (_database, server) = demo();
    let table = "Sportlerin,Tag,Kniebeuge\nAlba Quenby,3/4/2025,100\n";
    let looked = server.post("/gym/history", &fields(table, &[]));
    assert!(looked.status == 422 && looked.body.contains("no column is the name"), "{}", looked.body);
    let said = [
        ("column", "Sportlerin"),
        ("means", "name"),
        ("column", "Tag"),
        ("means", "day"),
        ("column", "Kniebeuge"),
        ("means", "max:back-squat"),
    ];
    let looked = server.post("/gym/history", &fields(table, &said));
    assert!(looked.body.contains("say whether the day or the month comes first"), "{}", looked.body);
    let mut said = said.to_vec();
    said.push(("order", "day"));
    let looked = server.post("/gym/history", &fields(table, &said));
    assert!(looked.status == 200 && looked.body.contains("2025-04-03"), "{}", looked.body);
    let rowan = server.seen_by("rowan");
    assert_eq!(rowan.get("/gym/history").status, 403, "who runs the gym brings its history in");
}
