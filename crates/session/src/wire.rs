//! A part as JSON; `docs/reading.schema.json` describes it.

use serde_json::{Map, Value, json};

use crate::{Part, Total, per_round, totals, works};

/// A part, as the reading and the plan show it.
pub fn part_json(part: &Part) -> Value {
    let strength = &part.strength;
    let percent = strength.percent.iter().flatten().copied();
    let (low, high) =
        percent.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), p| (low.min(p), high.max(p)));
    let mut movements: Vec<&str> = Vec::new();
    let mut loads = Map::new();
    for work in works(&part.tree) {
        let id = work.movement.as_str();
        if !movements.contains(&id) {
            movements.push(id);
        }
        if let (Some(load), false) = (work.load, loads.contains_key(id)) {
            let (first, second) = (number(load.first), load.second.map(number));
            loads.insert(
                id.to_owned(),
                json!({"first": first, "second": second, "unit": load.unit, "implements": load.implements}),
            );
        }
    }
    json!({
        "kind": part.kind,
        "heading": part.heading,
        "lines": [part.lines.0, part.lines.1],
        "format": part.format,
        "cap_s": part.cap_s,
        "duration_s": part.duration_s,
        "rounds": part.rounds,
        "interval_s": part.interval_s,
        "work_s": part.work_s,
        "rest_s": part.rest.and_then(|rest| rest.single_s()),
        "then_rest_s": part.then_rest_s,
        "team_size": part.team_size,
        "percent": if strength.percent.is_empty() { Value::Null } else { json!([number(low), number(high)]) },
        "percent_of": strength.percent_of,
        "training_max": strength.training_max,
        "open_last": strength.open_last,
        "rises": strength.rises,
        "jump": strength.jump,
        "ends_at_share": strength.ends_at_share.then_some(true),
        "empty_bar": strength.empty_bar.then_some(true),
        "efforts": strength.efforts,
        "week": strength.week.map(|(k, n)| json!([k, n])),
        "sets": strength.sets,
        "reps": if strength.reps.is_empty() { Value::Null } else { json!(strength.reps) },
        "reps_high": strength.reps_high,
        "rm": strength.rm,
        "rpe": strength.rpe.map(|[low, high]| json!([number(low), number(high)])),
        "tempo": strength.tempo,
        "top_sets": strength.top_sets,
        "load_range": strength.load_range,
        "target": part.target,
        "score": part.score,
        "movements": movements,
        "totals": amounts(&totals(&part.tree)),
        "per_round": amounts(&per_round(&part.tree)),
        "loads": loads,
        "intents": part.intents,
        "alternatives": part.alternatives,
        "tree": part.tree,
    })
}

fn amounts(totals: &[Total]) -> Value {
    let mut map = Map::new();
    for total in totals.iter().filter(|total| !total.open && total.amount > 0.0) {
        // A movement whose work is open anywhere has no total.
        let open = totals.iter().any(|other| other.movement == total.movement && other.open);
        if !open && !map.contains_key(total.movement.as_str()) {
            let value = json!({"amount": number(total.amount), "unit": total.unit});
            map.insert(total.movement.as_str().to_owned(), value);
        }
    }
    Value::Object(map)
}

/// Whole numbers without a decimal point.
pub fn number(value: f64) -> Value {
    if value.fract() == 0.0 && value.abs() < 1e15 {
        json!(value as i64)
    } else {
        json!((value * 1000.0).round() / 1000.0)
    }
}
