//! The plans of ten ordinary days as they stand, line by line: whatever changes any of their figures or sentences is seen.
//!
//! A change that is meant is looked through and taken over; how true the figures are is measured elsewhere.

use std::fs;
use std::path::Path;

use lantern_core::decide::Decision;
use lantern_core::gym::Gym;
use lantern_core::member::Member;
use lantern_core::movement::Catalogue;
use lantern_core::plan::{Decisions, Request, plan, plan_json, plan_with};
use lantern_core::read::read;
use lantern_core::roster::roster_from_csv;
use lantern_core::running::timeline;
use serde_json::Value;

const ROSTER: &str = include_str!("../../../data/demo/members.csv");
const GYM: &str = include_str!("../../../data/demo/gym.toml");

/// Somebody strong, somebody with a limit of joints, somebody without a lift on record, and an expecting mother: of the others the choice alone is told.
const WHOLE: [&str; 4] = ["Dexter Ombaye", "Elspeth Vane", "Imke Rasp", "Greta Lindqvale"];

fn class() -> Vec<Member> {
    let (members, errors) = roster_from_csv(ROSTER);
    assert!(errors.is_empty(), "{errors:?}");
    members
}

/// To four figures: what a predicted time is worth is not in the fifth.
fn rounded(value: &mut Value) {
    match value {
        Value::Number(number) if number.is_f64() => {
            let exact = number.as_f64().unwrap_or_default();
            let scale = 10_f64.powi(4 - exact.abs().max(1e-6).log10().ceil() as i32);
            *value = Value::from((exact * scale).round() / scale);
        }
        Value::Array(all) => all.iter_mut().for_each(rounded),
        Value::Object(fields) => fields.values_mut().for_each(rounded),
        _ => {}
    }
}

/// A line for each thing that the plan says, and for each of a list.
fn lines(plan: &Value) -> String {
    let mut told = String::new();
    for (key, value) in plan.as_object().into_iter().flatten() {
        match value {
            Value::Array(all) if all.is_empty() => {}
            Value::Array(all) => all.iter().for_each(|one| told.push_str(&format!("{key}: {one}\n"))),
            Value::Null => {}
            one => told.push_str(&format!("{key}: {one}\n")),
        }
    }
    told
}

/// Of whom not everything is told, what they do and how long it takes.
fn thinned(plan: &mut Value) {
    let is_whole = |one: &Value| WHOLE.iter().any(|name| one["name"] == *name);
    for one in plan["members"].as_array_mut().into_iter().flatten() {
        if let (false, Some(fields)) = (is_whole(one), one.as_object_mut()) {
            fields.retain(|key, _| {
                ["name", "part", "version", "edits", "predicted", "reason"].contains(&key.as_str())
            });
        }
    }
    for lift in plan["strength"].as_array_mut().into_iter().flatten() {
        if let Some(members) = lift["members"].as_array_mut() {
            members.retain(is_whole);
        }
    }
    for told in ["parts", "people", "schema", "unit", "title"] {
        plan.as_object_mut().map(|fields| fields.remove(told));
    }
}

#[test]
fn the_plans_of_ten_days_stand() {
    let (members, catalogue) = (class(), Catalogue::standard());
    let gym = Gym::from_toml(GYM).unwrap();
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../data/demo/sessions");
    let mut paths: Vec<_> = fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path()).collect();
    paths.sort();
    assert_eq!(paths.len(), 10);
    for path in paths {
        let reading = read(&fs::read_to_string(&path).unwrap(), catalogue);
        let plan = plan(&reading.session, &members, &gym, catalogue, 1);
        let mut told = plan_json(&reading, &plan, &members, &gym, catalogue);
        thinned(&mut told);
        rounded(&mut told);
        // The same hour as the clock on the wall runs it.
        told["phases"] = timeline(&plan, catalogue).phases().map(|phase| serde_json::json!(phase)).collect();
        insta::assert_snapshot!(format!("day-{}", path.file_stem().unwrap().display()), lines(&told));
    }
}

/// What coaches have decided about the first of the days, a line each.
const DECIDED: &str = r#"[
  {"about": "pieces", "what": {"decision": "choose", "piece": 0, "member": "Fionn Harker", "version": "Lighter"}},
  {"about": "pieces", "what": {"decision": "window", "piece": 0, "low": 300.0, "high": 600.0}},
  {"about": "pieces", "what": {"decision": "more", "piece": 0, "on": true}},
  {"about": "pieces", "what": {"decision": "hand", "piece": 0, "line": {"version": "Simpler", "member": null, "from": "banded pull-up", "to": "ring row"}}},
  {"about": "pieces", "what": {"decision": "hand", "piece": 0, "line": {"version": "Simpler", "member": null, "from": "row", "to": "ring row"}}},
  {"about": "hour", "what": {"decision": "pin", "block": "warmup", "seconds": 480}},
  {"about": "loads", "what": {"decision": "hold", "member": "Dexter Ombaye", "lift": "back-squat"}}
]"#;

#[test]
fn a_day_that_coaches_have_decided_on_stands() {
    let (members, catalogue) = (class(), Catalogue::standard());
    let gym = Gym::from_toml(GYM).unwrap();
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../data/demo/sessions");
    let reading = read(&fs::read_to_string(folder.join("01.txt")).unwrap(), catalogue);
    let mut decisions = Decisions::default();
    let decided: Vec<Decision> = serde_json::from_str(DECIDED).unwrap();
    decided.iter().for_each(|decision| decision.apply(&mut decisions));
    decisions.here.away.insert("Joss Merrow".to_owned());
    let session = &reading.session;
    let plan = plan_with(Request {
        session,
        members: &members,
        gym: &gym,
        catalogue,
        seed: 1,
        decisions: &decisions,
    });
    // The line that is none of the version any more is named, the other is done.
    let edit = decisions.pieces.of(0);
    let unheld: Vec<&str> = plan.pieces[0].unheld(&edit).iter().map(|line| line.from.as_str()).collect();
    assert_eq!(unheld, ["row"]);
    let mut told = plan_json(&reading, &plan, &members, &gym, catalogue);
    thinned(&mut told);
    rounded(&mut told);
    insta::assert_snapshot!("decided", lines(&told));
}
