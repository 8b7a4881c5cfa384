//! Rows that go and come back whole.

use chrono::{NaiveDate, NaiveTime};
use serde::{Deserialize, Serialize};

use crate::{ClassId, MemberId};

/// A class.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct StoredClass {
    /// The row's id.
    pub id: ClassId,
    /// The day.
    pub day: NaiveDate,
    /// When it starts, in the gym's own time.
    pub starts: NaiveTime,
    /// How long it is.
    pub minutes: u32,
    /// Who coaches it; may be empty.
    pub coach: String,
    /// Row ids of who is booked, or came without.
    pub booked: Vec<MemberId>,
    /// Of them, who is not here.
    #[serde(default)]
    pub away: Vec<MemberId>,
    /// Of them, who came without having been booked when the class was planned.
    #[serde(default)]
    pub joined: Vec<MemberId>,
}

impl StoredClass {
    /// Who is here, or is not known to be away.
    pub fn here(&self) -> impl Iterator<Item = &MemberId> {
        self.booked.iter().filter(|id| !self.away.contains(id))
    }

    /// The class when these are away and these are here without having been booked; everybody else who is booked is here. Who
    /// came without having been booked and has gone again was never of the class.
    pub fn comes(&mut self, away: &[MemberId], joined: &[MemberId]) {
        let gone = |id: &MemberId| self.joined.contains(id) && !joined.contains(id);
        self.booked.retain(|id| !gone(id));
        self.joined.retain(|id| joined.contains(id));
        let new: Vec<MemberId> = joined.iter().copied().filter(|id| !self.booked.contains(id)).collect();
        self.joined.extend(&new);
        self.booked.extend(new);
        self.away = self.booked.iter().copied().filter(|id| away.contains(id)).collect();
    }
}

/// A removed set, with whose it is.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct KeptLift {
    /// Whose it is.
    pub member_id: MemberId,
    /// The lift's id.
    pub lift: String,
    /// What was on the bar, in grams.
    pub grams: i32,
    /// When.
    pub set_on: NaiveDate,
    /// How it came to be on record.
    pub source: String,
    /// Repetitions.
    pub reps: i32,
    /// Effort.
    pub rpe: Option<f32>,
    /// Whether the last repetition was missed.
    pub missed: bool,
    /// What a coach has said of loads being counted from it.
    #[serde(default)]
    pub kept: Option<bool>,
    /// The heaviest that was asked when it was entered: grams and repetitions.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub asked: Option<(i32, i32)>,
}
