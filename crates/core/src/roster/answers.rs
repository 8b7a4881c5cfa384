//! Four questions that stand for a row: a lift, pull-ups, a row or a run, what hurts. Asked of whoever dropped in, and of members of whom
//! nothing is known yet.

use std::collections::BTreeMap;

use serde::Deserialize;

use super::read_roster;
use crate::member::{Experience, Member};
use crate::table::RowError;
use crate::units::WeightUnit;

/// What is asked, as typed; an empty answer says nothing.
#[derive(Clone, Debug, Default, PartialEq, Deserialize)]
#[serde(default)]
pub struct Answers {
    /// Which of a pair of loads they take: `first` or `second`.
    pub pair: String,
    /// How long they have trained, in a word of the roster.
    pub experience: String,
    /// The heaviest squat, in the gym's unit.
    pub squat: String,
    /// Pull-ups in one go.
    pub pull_ups: String,
    /// 2000 m on the rower.
    pub row_2k: String,
    /// A run of 400 m.
    pub run_400m: String,
    /// A run of 1600 m.
    pub run_1600m: String,
    /// What hurts or is spared, sentence by sentence.
    pub limits: String,
}

impl Answers {
    /// The member that they describe, still without a name.
    ///
    /// # Errors
    /// Which answer cannot be read or is impossible, in words.
    pub fn read(&self, unit: WeightUnit) -> Result<Member, String> {
        let pair = match self.pair.as_str() {
            "first" => "M",
            "second" => "F",
            _ => "",
        };
        let squat = format!("back_squat_{}", unit.name());
        let cells = [
            ("name", "somebody", "Name"),
            ("sex", pair, "Pair"),
            ("experience", &self.experience, "Trains for"),
            (&squat, self.squat.trim(), "1. Heaviest squat"),
            ("max_kipping_pull_ups", self.pull_ups.trim(), "2. Pull-ups in one go"),
            ("row_2k", self.row_2k.trim(), "3. 2000 m row"),
            ("run_400m", self.run_400m.trim(), "3. 400 m run"),
            ("run_1600m", self.run_1600m.trim(), "3. 1600 m run"),
            ("limits", self.limits.trim(), "4. What hurts"),
        ];
        let mut table = csv::Writer::from_writer(Vec::new());
        let wrong = |error: csv::Error| error.to_string();
        table.write_record(cells.map(|(column, ..)| column)).map_err(wrong)?;
        table.write_record(cells.map(|(_, cell, _)| cell)).map_err(wrong)?;
        let table = table.into_inner().map_err(|error| error.to_string())?;
        let roster = read_roster(&String::from_utf8_lossy(&table), &BTreeMap::new());
        if let Some(RowError { message, .. }) = roster.errors.first() {
            // Said of the question, not of the column of a table that nobody sees.
            let named = cells.iter().find(|(column, ..)| message.contains(&format!("`{column}`")));
            return Err(named.map_or(message.clone(), |(column, _, words)| {
                message.replace(&format!("`{column}`"), words)
            }));
        }
        let member = roster.members.into_iter().next().unwrap_or_default();
        Ok(Member { name: String::new(), ..member })
    }
}

impl Member {
    /// What a member's answers say, beside what is known of them already; what they say nothing of stays. Maxes are records and go to the history.
    pub fn answered(&mut self, said: Self) {
        let Self { sex, experience, best_reps, row_2k_s, run_400_s, run_1600_s, limits, .. } = said;
        self.sex = sex.or(self.sex);
        if experience != Experience::Unknown {
            self.experience = experience;
        }
        self.best_reps.extend(best_reps);
        self.row_2k_s = row_2k_s.or(self.row_2k_s);
        self.run_400_s = run_400_s.or(self.run_400_s);
        self.run_1600_s = run_1600_s.or(self.run_1600_s);
        for limit in limits {
            if self.limits.iter().all(|known| known.text != limit.text) {
                self.limits.push(limit);
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::movement::MovementId;
    use crate::units::Kilograms;

    fn answers() -> Answers {
        Answers {
            pair: "first".to_owned(),
            squat: "100".to_owned(),
            pull_ups: "12".to_owned(),
            row_2k: "7:40".to_owned(),
            limits: "left knee: no jumping".to_owned(),
            ..Answers::default()
        }
    }

    #[test]
    fn four_answers_make_a_member_and_an_empty_one_says_nothing() {
        let member = answers().read(WeightUnit::Kg).unwrap();
        assert_eq!(member.maxes[&MovementId::new("back-squat")].value, Kilograms::from_kg(100.0));
        assert_eq!((member.best("pull-up"), member.row_2k_s), (Some(12), Some(460)));
        assert_eq!((member.limits.len(), member.experience), (1, Experience::Unknown));
        let mut known = Member { run_400_s: Some(80), experience: Experience::Beginner, ..Member::default() };
        known.answered(member);
        assert_eq!((known.run_400_s, known.row_2k_s), (Some(80), Some(460)));
        assert_eq!(known.experience, Experience::Beginner);
        assert!(Answers::default().read(WeightUnit::Kg).unwrap().best_reps.is_empty());
    }

    #[test]
    fn an_answer_that_cannot_be_is_named_as_it_was_asked() {
        let wrong = |change: fn(&mut Answers)| {
            let mut asked = answers();
            change(&mut asked);
            asked.read(WeightUnit::Kg).unwrap_err()
        };
        assert!(wrong(|asked| "soon".clone_into(&mut asked.row_2k)).contains("2000 m row"));
        assert!(wrong(|asked| "1:00".clone_into(&mut asked.row_2k)).contains("2000 m row"));
        assert!(wrong(|asked| "900".clone_into(&mut asked.squat)).contains("squat"));
    }
}
