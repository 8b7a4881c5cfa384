//! How well a reading agrees with a labelled text: facts that hold, what is stated beside them, what is wrong in silence.

use std::collections::HashSet;

use serde_json::{Map, Value};

fn same(a: &Value, b: &Value) -> bool {
    match (a, b) {
        (Value::Number(a), Value::Number(b)) => {
            let (a, b) = (a.as_f64().unwrap(), b.as_f64().unwrap());
            (a - b).abs() <= 0.011 * a.abs().max(1.0)
        }
        (Value::Array(a), Value::Array(b)) => a.len() == b.len() && a.iter().zip(b).all(|(a, b)| same(a, b)),
        _ => a == b,
    }
}

/// Each fact of an expected part, and whether a read part states it.
pub fn facts(want: &Map<String, Value>, got: &Value) -> Vec<(bool, String)> {
    let mut found = Vec::new();
    for (key, value) in want {
        let have = &got[key];
        match key.as_str() {
            "movements" => {
                let known: Vec<&Value> = have.as_array().into_iter().flatten().collect();
                found.extend(
                    value.as_array().unwrap().iter().map(|m| (known.contains(&m), format!("movement {m}"))),
                );
            }
            "totals" | "per_round" | "loads" => {
                for (movement, amount) in value.as_object().unwrap() {
                    let have = &have[movement];
                    let keys: &[&str] = if key == "loads" { &["first", "unit"] } else { &["amount", "unit"] };
                    let second = key != "loads"
                        || amount["second"].is_null()
                        || same(&amount["second"], &have["second"]);
                    let holds = second && keys.iter().all(|key| same(&amount[*key], &have[*key]));
                    found.push((holds, format!("{key} {movement}: {amount} not {have}")));
                }
            }
            "target" => {
                for (end, value) in value.as_object().unwrap().iter().filter(|(_, value)| !value.is_null()) {
                    found.push((same(value, &have[end]), format!("target {end}: {value} not {}", have[end])));
                }
            }
            "reps" if value.is_number() && have.is_array() => {
                let all = have.as_array().unwrap();
                found.push((
                    !all.is_empty() && all.iter().all(|reps| same(value, reps)),
                    format!("reps: {value} not {have}"),
                ));
            }
            _ => found.push((same(value, have), format!("{key}: {value} not {have}"))),
        }
    }
    found
}

/// Pairs of expected and read parts, in order, with the most facts held.
pub fn align(want: &[Value], got: &[Value]) -> Vec<Option<usize>> {
    let held = |i: usize, j: usize| {
        facts(want[i].as_object().unwrap(), &got[j]).iter().filter(|(ok, _)| *ok).count()
    };
    let (n, m) = (want.len(), got.len());
    let mut best = vec![vec![(0, Vec::new()); m + 1]; n + 1];
    for i in (0..n).rev() {
        for j in (0..=m).rev() {
            let prepend = |pair: Option<usize>, rest: &(usize, Vec<Option<usize>>), gain: usize| {
                (rest.0 + gain, std::iter::once(pair).chain(rest.1.iter().copied()).collect::<Vec<_>>())
            };
            let mut choice = prepend(None, &best[i + 1][j], 0);
            if j < m {
                if best[i][j + 1].0 > choice.0 {
                    choice = best[i][j + 1].clone();
                }
                let gain = held(i, j);
                if gain + best[i + 1][j + 1].0 > choice.0 {
                    choice = prepend(Some(j), &best[i + 1][j + 1], gain);
                }
            }
            best[i][j] = choice;
        }
    }
    best[0][0].1.clone()
}

fn span(part: &Value) -> HashSet<u64> {
    (part["lines"][0].as_u64().unwrap()..=part["lines"][1].as_u64().unwrap()).collect()
}

/// Counts over texts.
#[derive(Clone, Copy, Debug, Default)]
pub struct Tally {
    /// Facts that the labels state.
    pub facts: usize,
    /// Those that the readings state too.
    pub held: usize,
    /// Movements and parts that only the readings state.
    pub extra: usize,
    /// Facts that are wrong in parts of which the reading asks and says nothing.
    pub silent: usize,
    /// Questions and problems.
    pub raised: usize,
    /// Texts.
    pub texts: usize,
    /// Texts of which nothing is wrong.
    pub perfect: usize,
}

impl Tally {
    /// This and another.
    pub fn with(self, other: Self) -> Self {
        Self {
            facts: self.facts + other.facts,
            held: self.held + other.held,
            extra: self.extra + other.extra,
            silent: self.silent + other.silent,
            raised: self.raised + other.raised,
            texts: self.texts + other.texts,
            perfect: self.perfect + other.perfect,
        }
    }

    /// A count as a share of the facts, in percent.
    pub fn percent(&self, count: usize) -> f64 {
        100.0 * count as f64 / self.facts.max(1) as f64
    }
}

/// Counts what a reading, as JSON, makes of a label; gives each wrong fact in words.
pub fn score(got: &Value, want: &Value, tally: &mut Tally) -> Vec<String> {
    let empty = Vec::new();
    let parts = got["parts"].as_array().unwrap_or(&empty);
    let raised: Vec<&Value> =
        ["problems", "questions"].iter().filter_map(|key| got[*key].as_array()).flatten().collect();
    let asked: HashSet<u64> = raised
        .iter()
        .flat_map(|raised| {
            let first = raised["line"].as_u64().unwrap();
            first..=raised["last_line"].as_u64().unwrap_or(first)
        })
        .collect();
    let mut wrong = Vec::new();
    let expected = want["parts"].as_array().unwrap();
    let (mut held, mut silent, mut extra) = (0, 0, 0);
    if !want["unit"].is_null() {
        let ok = want["unit"] == got["unit"];
        held += usize::from(ok);
        silent += usize::from(!ok && asked.is_empty());
        if !ok {
            wrong.push(format!("unit {} not {}", want["unit"], got["unit"]));
        }
        tally.facts += 1;
    }
    let pairs = align(expected, parts);
    for (want, pair) in expected.iter().zip(&pairs) {
        let part = pair.map_or(&Value::Null, |j| &parts[j]);
        let told = pair.map_or(!asked.is_empty(), |_| !asked.is_disjoint(&span(part)));
        for (ok, label) in facts(want.as_object().unwrap(), part) {
            tally.facts += 1;
            held += usize::from(ok);
            silent += usize::from(!ok && !told);
            if !ok {
                wrong.push(label);
            }
        }
        let known = want["movements"].as_array();
        if let (Some(known), Some(read)) = (known, part["movements"].as_array()) {
            extra += read.iter().filter(|movement| !known.contains(movement)).count();
        }
    }
    let unused = parts.iter().enumerate().filter(|(j, _)| !pairs.contains(&Some(*j)));
    extra +=
        unused.filter(|(_, part)| part["movements"].as_array().is_some_and(|list| !list.is_empty())).count();
    tally.held += held;
    tally.silent += silent;
    tally.extra += extra;
    tally.raised += raised.len();
    tally.texts += 1;
    tally.perfect += usize::from(wrong.is_empty() && extra == 0);
    wrong
}

/// What a change to texts or to the reader costs, over some texts.
#[derive(Clone, Copy, Debug, Default)]
pub struct Loss {
    /// Texts that were read both ways.
    pub texts: usize,
    /// Facts that their labels state.
    pub facts: usize,
    /// Facts that were right before and are not now; where the reader is changed, also what it states beside them.
    pub lost: usize,
    /// Those of them of which the reading asks and says nothing.
    pub silent: usize,
}

impl Loss {
    /// This and another.
    pub fn with(self, other: Self) -> Self {
        Self {
            texts: self.texts + other.texts,
            facts: self.facts + other.facts,
            lost: self.lost + other.lost,
            silent: self.silent + other.silent,
        }
    }

    /// A count as a share of the facts, in percent.
    pub fn percent(self, count: usize) -> f64 {
        100.0 * count as f64 / self.facts.max(1) as f64
    }

    /// What is silent of what is lost, in percent.
    pub fn silence(self) -> f64 {
        100.0 * self.silent as f64 / self.lost.max(1) as f64
    }
}
