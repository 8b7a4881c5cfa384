//! A member as planning sees one: what they can do, what they must not, and how sure that is.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::movement::MovementId;
use crate::strength::{Formula, Record, Source};
use crate::units::{Kilograms, WeightUnit, clock_s};

/// A person in the class. All but the name may be unknown.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub struct Member {
    /// As called in class.
    pub name: String,
    /// Chooses which of a written pair of loads is offered first.
    pub sex: Option<Sex>,
    /// Whole years.
    pub age: Option<u32>,
    /// Bodyweight.
    pub bodyweight: Option<Kilograms>,
    /// Training experience.
    pub experience: Experience,
    /// One-repetition maxes by lift.
    pub maxes: BTreeMap<MovementId, Max>,
    /// Most unbroken repetitions when fresh, by movement.
    pub best_reps: BTreeMap<MovementId, u32>,
    /// Seconds for 2000 m on the rower.
    pub row_2k_s: Option<u32>,
    /// Seconds for a 400 m run.
    pub run_400_s: Option<u32>,
    /// Seconds for a 1600 m run.
    pub run_1600_s: Option<u32>,
    /// What must be spared; health data, for the coach only.
    pub limits: Vec<Limit>,
    /// Equipment at home, in the member's words.
    pub home: String,
    /// Days since the last class, when the coach has noted a break.
    #[serde(skip)]
    pub away_days: Option<u32>,
}

/// What a drop-in is asked: three quick questions.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct DropIn {
    /// As called in class.
    pub name: String,
    /// Which of a written pair is offered first.
    pub sex: Option<Sex>,
    /// How long they have trained.
    pub experience: Experience,
    /// Push-ups in one go.
    pub push_ups: Option<u32>,
    /// The heaviest squat they remember.
    pub squat: Option<Kilograms>,
}

/// Best push-ups of a regular, against which a drop-in's are held; coaching judgement.
const USUAL_PUSH_UPS: f64 = 25.0;

impl From<DropIn> for Member {
    /// A first guess: the answers, and pulling in the proportion in which they push.
    fn from(answers: DropIn) -> Self {
        let DropIn { name, sex, experience, push_ups, squat } = answers;
        let mut best_reps = BTreeMap::new();
        if let Some(push_ups) = push_ups {
            best_reps.insert(MovementId::new("push-up"), push_ups);
            // Who has a third of the push-ups has seldom a third of the pull-ups: it falls faster.
            let share = f64::from(push_ups) / USUAL_PUSH_UPS;
            let pulls = (7.0 * share.powf(1.5) * experience.level() * 2.0).min(20.0) as u32;
            best_reps.insert(MovementId::new("strict-pull-up"), pulls);
            best_reps.insert(MovementId::new("pull-up"), pulls * 2);
        }
        let maxes = squat.into_iter().map(|kg| (MovementId::new("back-squat"), Max::on_file(kg))).collect();
        Self { name, sex, experience, best_reps, maxes, ..Self::default() }
    }
}

/// Which of a written pair is offered first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub enum Sex {
    /// The lighter option first.
    F,
    /// The heavier option first.
    M,
}

/// How long and how seriously someone has trained.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Experience {
    /// First weeks.
    #[default]
    New,
    /// Under a year.
    Beginner,
    /// A regular.
    Intermediate,
    /// Years of training, competes now and then.
    Advanced,
}

impl Experience {
    /// Level from 0 (slow tier) to 1 (fast tier) at which paces are read when nothing better is known.
    /// Coaching judgement: the tiers of the pace table are newer, regular and competitive members.
    pub const fn level(self) -> f64 {
        match self {
            Self::New => 0.1,
            Self::Beginner => 0.3,
            Self::Intermediate => 0.5,
            Self::Advanced => 0.75,
        }
    }

    /// In plain words.
    pub const fn name(self) -> &'static str {
        match self {
            Self::New => "new",
            Self::Beginner => "beginner",
            Self::Intermediate => "intermediate",
            Self::Advanced => "advanced",
        }
    }
}

/// A one-repetition maximum and where it comes from.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Max {
    /// The weight.
    pub value: Kilograms,
    /// Whole weeks since it was set; none when nobody knows.
    #[serde(default)]
    pub weeks_old: Option<u32>,
    /// The set that shows it, when it was not simply stated.
    #[serde(default)]
    pub shown_by: Option<ShownBy>,
    /// How it was estimated from that set.
    #[serde(default)]
    pub formula: Formula,
}

impl Max {
    /// A weight whose history nobody knows.
    pub fn on_file(value: Kilograms) -> Self {
        Self { value, weeks_old: None, shown_by: None, formula: Formula::default() }
    }
}

/// The set that a max was read from.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct ShownBy {
    /// What was on the bar.
    pub load: Kilograms,
    /// Repetitions.
    pub reps: u32,
    /// Effort, where it was noted.
    pub rpe: Option<f64>,
    /// How it came to be on record.
    pub source: Source,
    /// Share by which the true max may differ.
    pub spread: f64,
}

impl From<Record> for ShownBy {
    fn from(record: Record) -> Self {
        let Record { load, reps, rpe, source, .. } = record;
        Self { load, reps, rpe, source, spread: record.spread() }
    }
}

/// Something to spare.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Limit {
    /// The reason that swaps are looked up by: a joint, or `pregnancy`.
    pub reason: String,
    /// In the member's or coach's words.
    pub text: String,
}

/// Joints that limits speak of, as words that coaches use and as data files name them.
const JOINT_WORDS: &[(&str, &str)] = &[
    ("shoulder", "shoulder"),
    ("elbow", "elbow"),
    ("wrist", "wrist"),
    ("low back", "low_back"),
    ("lower back", "low_back"),
    ("back", "low_back"),
    ("hip", "hip"),
    ("knee", "knee"),
    ("ankle", "ankle_impact"),
    ("achilles", "ankle_impact"),
    ("calf", "ankle_impact"),
    ("pregnan", "pregnancy"),
];

impl Limit {
    /// A limit from a sentence such as `left knee: no jumping`; none when it names nothing to spare.
    pub fn from_text(text: &str) -> Option<Self> {
        let lower = text.to_lowercase();
        let (_, reason) = JOINT_WORDS.iter().find(|(word, _)| lower.contains(word))?;
        Some(Self { reason: (*reason).to_owned(), text: text.trim().to_owned() })
    }
}

impl Member {
    /// Whether the heavier of a written pair is offered first. Unknown means the lighter.
    pub fn takes_first_of_pair(&self) -> bool {
        self.sex == Some(Sex::M)
    }

    /// Best unbroken repetitions of a movement, if known.
    pub fn best(&self, id: &str) -> Option<u32> {
        self.best_reps.get(&MovementId::new(id)).copied()
    }
}

/// Why a roster was not taken as it stands.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("roster line {line}: {message}")]
pub struct RosterError {
    /// The line of the file, counted from 1.
    pub line: usize,
    /// What was expected, and what was found.
    pub message: String,
}

/// Columns of best repetitions and the movements they speak for.
const REP_COLUMNS: &[(&str, &[&str])] = &[
    ("max_strict_pull_ups", &["strict-pull-up"]),
    ("max_kipping_pull_ups", &["pull-up", "kipping-pull-up"]),
    ("max_push_ups", &["push-up"]),
    ("max_handstand_push_ups", &["handstand-push-up"]),
    ("max_toes_to_bar", &["toes-to-bar"]),
    ("max_double_unders", &["double-under"]),
    ("muscle_ups", &["bar-muscle-up", "ring-muscle-up"]),
];

/// Members from CSV with the columns in `docs/formats.md`. Empty cells are unknown. Good rows come
/// first, bad rows are named beside them.
pub fn roster_from_csv(text: &str) -> (Vec<Member>, Vec<RosterError>) {
    let mut reader = csv::ReaderBuilder::new().flexible(true).from_reader(text.as_bytes());
    let mut members = Vec::new();
    let mut errors = Vec::new();
    let headers: Vec<String> = match reader.headers() {
        Ok(headers) => headers.iter().map(|h| h.trim().to_lowercase()).collect(),
        Err(error) => return (members, vec![RosterError { line: 1, message: error.to_string() }]),
    };
    if !headers.iter().any(|h| h == "name") {
        let message = "there is no column `name`; the first line must name the columns".to_owned();
        return (members, vec![RosterError { line: 1, message }]);
    }
    for (n, record) in reader.records().enumerate() {
        let line = n + 2;
        let parsed = match record {
            Ok(record) => {
                let cells = headers.iter().zip(record.iter()).map(|(key, cell)| (key.as_str(), cell.trim()));
                member_from_cells(cells, line)
            }
            Err(error) => Err(RosterError { line, message: error.to_string() }),
        };
        match parsed {
            Ok(member) => members.push(member),
            Err(error) => errors.push(error),
        }
    }
    (members, errors)
}

/// Members as CSV with the columns that [`roster_from_csv`] reads: reading it gives the same members again, maxes
/// to the gram.
pub fn roster_to_csv(members: &[Member]) -> String {
    let mut lifts: Vec<&MovementId> = members.iter().flat_map(|member| member.maxes.keys()).collect();
    lifts.sort();
    lifts.dedup();
    let mut header: Vec<String> =
        ["name", "sex", "age", "bodyweight_kg", "experience"].map(str::to_owned).to_vec();
    header.extend(lifts.iter().map(|lift| format!("{}_kg", lift.as_str().replace('-', "_"))));
    header.extend(REP_COLUMNS.iter().map(|(column, _)| (*column).to_owned()));
    header.extend(["row_2k", "run_400m", "run_1600m", "limits", "equipment_at_home"].map(str::to_owned));
    let mut out = csv::Writer::from_writer(Vec::new());
    let known = |value: Option<String>| value.unwrap_or_default();
    let mut rows = vec![header];
    for member in members {
        let mut row = vec![
            member.name.clone(),
            known(member.sex.map(|sex| format!("{sex:?}"))),
            known(member.age.map(|age| age.to_string())),
            known(member.bodyweight.map(|weight| weight.kg().to_string())),
            member.experience.name().to_owned(),
        ];
        row.extend(
            lifts.iter().map(|lift| known(member.maxes.get(*lift).map(|max| max.value.kg().to_string()))),
        );
        row.extend(
            REP_COLUMNS
                .iter()
                .map(|(_, ids)| known(member.best_reps.get(&MovementId::new(ids[0])).map(u32::to_string))),
        );
        row.extend([member.row_2k_s, member.run_400_s, member.run_1600_s].map(|s| known(s.map(clock_s))));
        row.push(member.limits.iter().map(|limit| limit.text.as_str()).collect::<Vec<_>>().join("; "));
        row.push(member.home.clone());
        rows.push(row);
    }
    for row in rows {
        out.write_record(&row).expect("writing to memory does not fail");
    }
    String::from_utf8(out.into_inner().unwrap_or_default()).unwrap_or_default()
}

fn member_from_cells<'a>(
    cells: impl Iterator<Item = (&'a str, &'a str)>,
    line: usize,
) -> Result<Member, RosterError> {
    let mut member = Member::default();
    for (key, cell) in cells.filter(|(_, cell)| !cell.is_empty()) {
        let wrong = |expected: &str| RosterError {
            line,
            message: format!("column `{key}` is `{cell}`, but it should be {expected}"),
        };
        let number =
            || cell.replace(',', ".").parse::<f64>().ok().filter(|n| n.is_finite() && (0.0..1e5).contains(n));
        let count = || number().map(|n| n as u32);
        match key {
            "name" => member.name = cell.to_owned(),
            "sex" => {
                member.sex = match cell.to_lowercase().as_str() {
                    "f" | "w" | "female" => Some(Sex::F),
                    "m" | "male" => Some(Sex::M),
                    _ => None,
                }
            }
            "age" => member.age = Some(count().ok_or_else(|| wrong("whole years"))?),
            "bodyweight_kg" => {
                member.bodyweight = Some(Kilograms::from_kg(number().ok_or_else(|| wrong("kilograms"))?));
            }
            "experience" => {
                member.experience = match cell.to_lowercase().as_str() {
                    "new" => Experience::New,
                    "beginner" => Experience::Beginner,
                    "intermediate" => Experience::Intermediate,
                    "advanced" => Experience::Advanced,
                    _ => return Err(wrong("new, beginner, intermediate or advanced")),
                }
            }
            "row_2k" => member.row_2k_s = Some(time(cell).ok_or_else(|| wrong("a time such as 7:45"))?),
            "run_400m" => member.run_400_s = Some(time(cell).ok_or_else(|| wrong("a time such as 1:30"))?),
            "run_1600m" => member.run_1600_s = Some(time(cell).ok_or_else(|| wrong("a time such as 7:00"))?),
            "limits" => member.limits.extend(cell.split(';').filter_map(Limit::from_text)),
            "equipment_at_home" => member.home = cell.to_owned(),
            _ => {
                if let Some((_, ids)) = REP_COLUMNS.iter().find(|(column, _)| *column == key) {
                    let best = count().ok_or_else(|| wrong("a number of repetitions"))?;
                    member.best_reps.extend(ids.iter().map(|id| (MovementId::new(id), best)));
                } else if let Some((lift, unit)) = lift_column(key) {
                    let value = number().filter(|n| *n > 0.0).ok_or_else(|| wrong("a weight"))?;
                    let max = Max::on_file(Kilograms::from_unit(value, unit));
                    member.maxes.insert(lift, max);
                }
            }
        }
    }
    if member.name.is_empty() {
        return Err(RosterError { line, message: "this row has no name".to_owned() });
    }
    Ok(member)
}

/// `back_squat_kg` speaks of `back-squat` in kilograms.
fn lift_column(key: &str) -> Option<(MovementId, WeightUnit)> {
    let (lift, unit) = match (key.strip_suffix("_kg"), key.strip_suffix("_lb")) {
        (Some(lift), _) => (lift, WeightUnit::Kg),
        (_, Some(lift)) => (lift, WeightUnit::Lb),
        _ => return None,
    };
    Some((MovementId::new(&lift.replace('_', "-")), unit))
}

fn time(text: &str) -> Option<u32> {
    let (minutes, seconds) = text.split_once(':')?;
    Some(minutes.trim().parse::<u32>().ok()? * 60 + seconds.trim().parse::<u32>().ok()?)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_roster_is_read_with_unknown_cells_left_unknown() {
        let text = "name,sex,experience,back_squat_kg,max_push_ups,row_2k,limits\n\
                    Ada Fern,F,intermediate,80,20,8:05,left knee: no jumping\n\
                    Bo Reed,,new,,,,\n";
        let (members, errors) = roster_from_csv(text);
        assert_eq!(errors, []);
        assert_eq!(members[0].maxes[&MovementId::new("back-squat")].value, Kilograms::from_kg(80.0));
        assert_eq!(members[0].limits[0].reason, "knee");
        assert_eq!((members[0].row_2k_s, members[0].best("push-up")), (Some(485), Some(20)));
        assert!(members[1].maxes.is_empty() && members[1].sex.is_none());
    }

    #[test]
    fn a_roster_that_is_written_reads_back_the_same() {
        let text = "name,sex,bodyweight_kg,experience,back_squat_kg,muscle_ups,row_2k,limits\n\
                    Ada Lind,F,61.5,advanced,92.5,2,7:45,left shoulder; no jumping\nBo Ek,,,new,,,,\n";
        let (members, errors) = roster_from_csv(text);
        assert!(errors.is_empty());
        assert_eq!(roster_from_csv(&roster_to_csv(&members)), (members, Vec::new()));
    }

    #[test]
    fn three_answers_of_a_drop_in_give_a_first_guess() {
        let answers = |push_ups| DropIn {
            name: "Vi".to_owned(),
            experience: Experience::Intermediate,
            push_ups: Some(push_ups),
            squat: Some(Kilograms::from_kg(80.0)),
            ..DropIn::default()
        };
        let (strong, newer) = (Member::from(answers(25)), Member::from(answers(5)));
        assert_eq!((strong.best("strict-pull-up"), newer.best("strict-pull-up")), (Some(7), Some(0)));
        assert_eq!(strong.maxes[&MovementId::new("back-squat")].value, Kilograms::from_kg(80.0));
        assert!(Member::from(DropIn::default()).best_reps.is_empty());
    }

    #[test]
    fn a_bad_row_is_named_and_the_good_ones_kept() {
        let (members, errors) = roster_from_csv("name,age\nAda,34\nBo,old\n,12\n");
        assert_eq!(members.len(), 1);
        insta::assert_snapshot!(errors[0], @"roster line 3: column `age` is `old`, but it should be whole years");
        insta::assert_snapshot!(errors[1], @"roster line 4: this row has no name");
    }
}
