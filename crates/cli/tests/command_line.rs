//! The command line that other programs call.

use std::io::Write as _;
use std::process::{Command, Output, Stdio};

const ROSTER: &str = "name,sex,experience,bodyweight_kg,back_squat_kg,max_kipping_pull_ups,row_2k\n\
                      Ada Fern,F,intermediate,64,80,10,8:05\nBo Reed,M,advanced,85,150,30,6:55\nCy Dell,,new,,,,\n";

fn run(arguments: &[&str], input: &str) -> Output {
    let mut child = Command::new(env!("CARGO_BIN_EXE_honest-lantern"))
        .args(arguments)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    child.stdin.take().unwrap().write_all(input.as_bytes()).unwrap();
    child.wait_with_output().unwrap()
}

fn roster() -> tempfile::NamedTempFile {
    let mut file = tempfile::NamedTempFile::new().unwrap();
    file.write_all(ROSTER.as_bytes()).unwrap();
    file
}

fn json(output: &Output) -> serde_json::Value {
    serde_json::from_slice(&output.stdout).unwrap()
}

#[test]
fn exit_codes_tell_understood_partly_understood_and_nothing_usable() {
    assert_eq!(run(&["read", "-"], "5 rounds for time\n10 burpees").status.code(), Some(0));
    let partly = run(&["read", "-", "--json"], "5 rounds for time\n10 burpees\n10 flying wombats");
    assert_eq!(partly.status.code(), Some(1));
    assert!(
        String::from_utf8_lossy(&partly.stderr).starts_with("3:4: `flying wombats` is no movement I know")
    );
    assert_eq!(json(&partly)["problems"][0]["line"], 3);
    assert_eq!(run(&["read", "-"], "See you all at the party!").status.code(), Some(2));
    assert_eq!(run(&["read", "no-such-file.txt"], "").status.code(), Some(2));
}

#[test]
fn a_plan_has_every_section_and_is_the_same_byte_for_byte() {
    let roster = roster();
    let path = roster.path().to_str().unwrap();
    let session = "Back squat 5x3 @ 80%\n\nFor time, cap 12\n21-15-9\nthrusters 40/30 kg\npull-ups";
    let arguments = ["plan", "-", "--roster", path, "--seed", "7", "--json"];
    let first = run(&arguments, session);
    assert_eq!(first.status.code(), Some(0));
    let plan = json(&first);
    assert_eq!(plan["schema"], "honest-lantern/reading/1");
    assert!((540..=660).contains(&plan["warmup"]["seconds"].as_u64().unwrap()));
    assert_eq!(plan["strength"][0]["members"].as_array().unwrap().len(), 3);
    assert_eq!(plan["versions"][0]["name"], "As written");
    let member = &plan["members"][0];
    let finish = &member["predicted"]["finish_s"];
    assert!(
        finish["p10"].as_f64() <= finish["p50"].as_f64() && finish["p50"].as_f64() <= finish["p90"].as_f64()
    );
    assert!(member["as_written"]["chance"].is_number() && member["pacing"]["rounds"].is_array());
    assert_eq!(plan["hour"]["minutes"], 60);
    assert!(plan["cautions"].as_array().unwrap().iter().any(|caution| caution["code"] == "stop-now"));
    let floor = &plan["floors"][0];
    assert!(floor["sentence"].as_str().is_some_and(|sentence| sentence.ends_with('.')), "{floor}");
    assert_eq!(floor["starts"].as_array().map(Vec::len), plan["members"].as_array().map(Vec::len), "{floor}");
    assert!(plan["hour"]["latest_s"].as_u64() >= plan["hour"]["ends_s"].as_u64());
    assert_eq!(run(&arguments, session).stdout, first.stdout);
}

#[test]
fn a_heavier_load_in_the_text_changes_loads_and_times() {
    let roster = roster();
    let path = roster.path().to_str().unwrap();
    let plan = |text: &str| json(&run(&["plan", "-", "--roster", path, "--json"], text));
    let light = plan("Back squat 5x3 @ 70%\n\nFor time\n21-15-9\nthrusters 30 kg\nburpees");
    let heavy = plan("Back squat 5x3 @ 80%\n\nFor time\n21-15-9\nthrusters 50 kg\nburpees");
    let last_load = |plan: &serde_json::Value| {
        plan["strength"][0]["members"][1]["sets"].as_array().unwrap().last().unwrap()["load"]
            .as_f64()
            .unwrap()
    };
    assert_eq!((last_load(&light), last_load(&heavy)), (105.0, 120.0));
    let time =
        |plan: &serde_json::Value| plan["members"][1]["as_written"]["finish_s"]["p50"].as_f64().unwrap();
    assert!(time(&heavy) > time(&light));
    // What is above the most that somebody lifts has no time, and says why.
    let cannot = &heavy["members"][0]["as_written"];
    assert_eq!(cannot["cannot"]["movement"], "thruster", "{cannot}");
    assert!(cannot["finish_s"].is_null() && light["members"][0]["as_written"]["finish_s"].is_object());
}

#[test]
fn a_reader_that_stops_early_is_no_failure() {
    let roster = roster();
    let mut child = Command::new(env!("CARGO_BIN_EXE_honest-lantern"))
        .args(["plan", "-", "--roster", roster.path().to_str().unwrap(), "--json"])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    drop(child.stdout.take());
    child.stdin.take().unwrap().write_all(b"5 rounds for time\n10 burpees\n20 air squats").unwrap();
    let output = child.wait_with_output().unwrap();
    assert_eq!(output.status.code(), Some(0), "{}", String::from_utf8_lossy(&output.stderr));
    assert_eq!(String::from_utf8_lossy(&output.stderr), "");
}

#[test]
fn a_text_that_contradicts_itself_is_asked_about_and_a_correction_answers() {
    let text = "30 min AMRAP, 3 rounds for time\n10 burpees\n200 m run";
    let asked = run(&["read", "-", "--json"], text);
    assert_eq!(asked.status.code(), Some(1));
    let question = &json(&asked)["questions"][0];
    assert_eq!(question["options"].as_array().unwrap().len(), 2);
    let mut file = tempfile::NamedTempFile::new().unwrap();
    file.write_all(question["options"][1]["corrections"].to_string().as_bytes()).unwrap();
    let path = file.path().to_str().unwrap();
    let answered = run(&["read", "-", "--corrections", path, "--json"], text);
    assert_eq!(answered.status.code(), Some(0));
    let reading = json(&answered);
    assert_eq!(
        (&reading["parts"][0]["format"], &reading["parts"][0]["rounds"]),
        (&"for_time".into(), &3.into())
    );
    // The JSON of the reading is itself a file of its corrections.
    let mut whole = tempfile::NamedTempFile::new().unwrap();
    whole.write_all(&answered.stdout).unwrap();
    let again = run(&["read", "-", "--corrections", whole.path().to_str().unwrap(), "--json"], text);
    assert_eq!(again.stdout, answered.stdout);
    std::fs::write(file.path(), "\"no list\"").unwrap();
    let refused = run(&["read", "-", "--corrections", path], text);
    assert_eq!(refused.status.code(), Some(2));
    assert!(String::from_utf8_lossy(&refused.stderr).contains("no list of corrections"));
}

#[test]
fn a_text_is_read_in_the_hand_of_its_gym() {
    let text = "Anvilry\nplank 3 x 40 s\n\n10 min AMRAP\n9 floppers\n9 sit-ups";
    let mut gym = tempfile::NamedTempFile::new().unwrap();
    gym.write_all(
        b"name = \"Quay\"\n[[habit]]\nkind = \"heading\"\nwords = \"anvilry\"\nvalue = \"strength\"\n\
          [[habit]]\nkind = \"word\"\nwords = \"floppers\"\nvalue = \"burpees\"\n",
    )
    .unwrap();
    let path = gym.path().to_str().unwrap();
    assert_eq!(run(&["read", "-", "--json"], text).status.code(), Some(1), "nobody knows floppers");
    let read = run(&["read", "-", "--json", "--gym", path], text);
    assert_eq!(read.status.code(), Some(0));
    let reading = json(&read);
    assert_eq!(reading["parts"][0]["kind"], "strength");
    assert!(reading["parts"][1]["movements"].as_array().unwrap().iter().any(|name| name == "burpee"));
    let mut other = tempfile::NamedTempFile::new().unwrap();
    other.write_all(b"name = \"Quay\"\n[[habit]]\nkind = \"part\"\nwords = \"x\"\n").unwrap();
    let refused = run(&["read", "-", "--gym", other.path().to_str().unwrap()], text);
    assert_eq!(refused.status.code(), Some(2));
    assert!(String::from_utf8_lossy(&refused.stderr).contains("habit"));
}

#[test]
fn what_a_coach_has_decided_comes_in_as_a_file_and_what_no_longer_fits_is_named() {
    let (roster, mut file) = (roster(), tempfile::NamedTempFile::new().unwrap());
    let decisions = r#"[
        {"about": "pieces", "what": {"decision": "choose", "piece": 0, "member": "Bo Reed", "version": "Simpler"}},
        {"about": "pieces", "what": {"decision": "hand", "piece": 0, "line":
            {"version": "Lighter", "member": "Ada Fern", "from": "pull-up", "to": "ring row"}}},
        {"about": "pieces", "what": {"decision": "hand", "piece": 0, "line":
            {"version": "Lighter", "from": "20 wombat", "to": "20 burpees"}}}
    ]"#;
    file.write_all(decisions.as_bytes()).unwrap();
    let session = "For time, cap 12\n21-15-9\nthrusters 40/30 kg\npull-ups";
    let [roster, decisions] = [&roster, &file].map(|file| file.path().to_str().unwrap());
    let planned = run(&["plan", "-", "--roster", roster, "--decisions", decisions, "--json"], session);
    let told = String::from_utf8_lossy(&planned.stderr);
    assert!(told.contains("20 wombat") && !told.contains("`pull-up`"), "{told}");
    let plan = json(&planned);
    let row =
        |name: &str| plan["members"].as_array().unwrap().iter().find(|row| row["name"] == name).unwrap();
    assert_eq!(
        (row("Bo Reed")["version"].as_str(), row("Bo Reed")["by_coach"].as_bool()),
        (Some("Simpler"), Some(true))
    );
    let ada = row("Ada Fern");
    assert_eq!(ada["version"], "Lighter");
    assert!(ada["work"].as_array().unwrap().iter().any(|work| work["movement"] == "ring-row"), "{ada}");
    let wrong = r#"[{"about": "pieces", "what": {"decision": "hand", "piece": 0, "line":
        {"version": "AsWritten", "from": "pull-up", "to": "ring row"}}}]"#;
    let mut file = tempfile::NamedTempFile::new().unwrap();
    file.write_all(wrong.as_bytes()).unwrap();
    let decisions = file.path().to_str().unwrap();
    let refused = run(&["plan", "-", "--roster", roster, "--decisions", decisions], session);
    assert_eq!(refused.status.code(), Some(2));
    assert!(String::from_utf8_lossy(&refused.stderr).contains("decision 1: the text itself"), "{refused:?}");
}
