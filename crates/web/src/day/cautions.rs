//! Cautions as lines with a word for how serious they are. What is known of somebody's health stands on their own page: here only that
//! it matters today.

use lantern_core::cautions::{Caution, Level};
use lantern_store::MemberId;

use crate::planning::plans::Planned;

/// One caution.
pub(crate) struct CautionView {
    pub level: &'static str,
    pub text: String,
    /// Whom it is about, with their row ids.
    pub people: Vec<(String, MemberId)>,
}

impl CautionView {
    /// Those that matter at a step of the rail.
    pub fn at(step: &str, planned: &Planned) -> Vec<Self> {
        Self::of(planned, |caution| caution.step == step)
    }

    /// All of them.
    pub fn all(planned: &Planned) -> Vec<Self> {
        Self::of(planned, |_| true)
    }

    /// All of them with every word, for the coach's own hand.
    pub fn in_full(planned: &Planned) -> Vec<Self> {
        planned.plan.cautions.iter().map(Self::plain).collect()
    }

    fn of(planned: &Planned, test: impl Fn(&Caution) -> bool) -> Vec<Self> {
        let wanted: Vec<&Caution> = planned.plan.cautions.iter().filter(|caution| test(caution)).collect();
        let (health, plain): (Vec<&Caution>, Vec<&Caution>) =
            wanted.into_iter().partition(|caution| caution.is_health());
        let mut people: Vec<(String, MemberId)> = Vec::new();
        for name in health.iter().flat_map(|caution| &caution.members) {
            let place = planned.people.iter().position(|member| member.name == *name);
            let Some(entry) = place.map(|place| (name.clone(), planned.ids[place])) else { continue };
            if !people.contains(&entry) {
                people.push(entry);
            }
        }
        let mut all: Vec<Self> = plain.into_iter().map(Self::plain).collect();
        if !people.is_empty() {
            let text =
                "Limits matter today; loads and versions keep them. The words stand on each one's own page:"
                    .to_owned();
            all.insert(0, Self { level: "care", text, people });
        }
        all
    }

    fn plain(caution: &Caution) -> Self {
        let level = match caution.level {
            Level::Stop => "stop",
            Level::Care => "care",
            Level::Note => "note",
        };
        Self { level, text: caution.text.clone(), people: Vec::new() }
    }
}
