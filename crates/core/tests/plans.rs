//! The plans of ten ordinary days and of a text of each other kind as they stand, line by line: whatever changes any of their figures or sentences is seen.
//!
//! A change that is meant is looked through and taken over; how true the figures are is measured elsewhere.

use std::fs;
use std::path::Path;

use lantern_core::brief::briefing;
use lantern_core::decide::Decision;
use lantern_core::gym::Gym;
use lantern_core::member::Member;
use lantern_core::movement::Catalogue;
use lantern_core::plan::{Decisions, Plan, Request, plan, plan_json, plan_with};
use lantern_core::print::loads_csv;
use lantern_core::read::{Reading, read};
use lantern_core::roster::roster_from_csv;
use lantern_core::running::{lanterns, onward, timeline};
use serde_json::{Value, json};

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

/// Texts of the kinds that the ten days have not: shared pieces, clocks of all sorts, lifts dosed in other ways, light tools, work at home.
const KINDS: [&str; 30] = [
    "08-partners",
    "09-climb",
    "14-erg-intervals",
    "16-penalty",
    "18-remaining",
    "19-trio",
    "26-at-home",
    "31-dumbbell-bar",
    "34-tabata",
    "41-teams-of-four",
    "43-complex",
    "44-two-windows",
    "53-minutes-in-turn",
    "60-buy-in-behind",
    "63-list-of-shares",
    "65-numbered-stations",
    "68-max-in-a-minute",
    "75-rest-after-the-pair",
    "80-clock-inside-for-time",
    "83-once-then-rounds",
    "89-superset-times-three",
    "91-share-of-todays-max",
    "93-zone-two",
    "96-relay",
    "98-an-effort-for-each-set",
    "99-a-bar-that-rises-until-missed",
    "101-singles-that-are-lifted",
    "113-bells-in-pounds",
    "117-long-bouts",
    "119-there-and-back",
];

/// Who comes to them: few, so that each text stays readable, and of all sorts.
const FEW: [&str; 7] = [
    "Coralie Drum",
    "Dexter Ombaye",
    "Elspeth Vane",
    "Hamish Tull",
    "Imke Rasp",
    "Ludo Pemberley",
    "Maren Thistle",
];

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

/// All that is said of a plan: its contract, thinned, and what the screens beside it say: the clock on the wall, the briefing, who may go on with what.
fn all_of(reading: &Reading, plan: &Plan, members: &[Member], gym: &Gym) -> String {
    let catalogue = Catalogue::standard();
    let mut told = plan_json(reading, plan, members, gym, catalogue);
    thinned(&mut told);
    let pieces = || plan.pieces.iter().zip(&plan.floors);
    told["phases"] = timeline(plan, catalogue).phases().map(|phase| json!(phase)).collect();
    told["briefed"] =
        pieces().map(|(piece, floor)| json!(briefing(piece.written(), piece, floor, catalogue))).collect();
    told["headlines"] = pieces().map(|(piece, _)| json!(piece.headline())).collect();
    told["lanterns"] =
        pieces().flat_map(|(piece, _)| lanterns(piece)).map(|lantern| json!(lantern)).collect();
    told["onward"] = pieces()
        .flat_map(|(piece, _)| &piece.members)
        .filter(|member| WHOLE.contains(&member.name.as_str()))
        .flat_map(onward)
        .map(|onward| json!(format!("{onward:?}")))
        .collect();
    rounded(&mut told);
    lines(&told)
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
        insta::assert_snapshot!(
            format!("day-{}", path.file_stem().unwrap().display()),
            all_of(&reading, &plan, &members, &gym)
        );
    }
}

#[test]
fn the_loads_of_a_day_stand_as_a_table() {
    let (members, catalogue) = (class(), Catalogue::standard());
    let gym = Gym::from_toml(GYM).unwrap();
    let text = "Back squat 3 x 5 @ 75%, every 3:00\n\nBench press 3-2-1, build to a heavy single\n\nDumbbell row 3 x 10";
    let plan = plan(&read(text, catalogue).session, &members, &gym, catalogue, 1);
    insta::assert_snapshot!("loads", loads_csv(&plan.strength, &gym, catalogue));
}

#[test]
fn a_day_of_each_other_kind_stands() {
    let (mut members, catalogue) = (class(), Catalogue::standard());
    members.retain(|member| FEW.contains(&member.name.as_str()));
    let gym = Gym::from_toml(GYM).unwrap();
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/fixtures");
    for kind in KINDS {
        let reading = read(&fs::read_to_string(folder.join(kind).with_extension("txt")).unwrap(), catalogue);
        let plan = plan(&reading.session, &members, &gym, catalogue, 1);
        insta::assert_snapshot!(format!("kind-{kind}"), all_of(&reading, &plan, &members, &gym));
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
    insta::assert_snapshot!("decided", all_of(&reading, &plan, &members, &gym));
}
