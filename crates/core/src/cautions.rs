//! Usual cautions, shown where their trigger is computed. A caution informs; it never blocks, diagnoses
//! or clears anyone. Medical professionals, the gym's own rules and local law stand above it.
//!
//! Trigger figures are coaching judgement and starting points for the gym.

use serde::Serialize;

use crate::member::Member;
use crate::movement::{Catalogue, Pattern, Unit};
use crate::session::{Session, totals, works};
use crate::versions::rules::JOINT_LIMIT;

/// How serious a caution is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Level {
    /// For the coach to know.
    Note,
    /// Tell the class and offer options.
    Care,
    /// Think before this goes on the board.
    Stop,
}

/// One caution with what set it off.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Caution {
    /// Its short name.
    pub code: &'static str,
    /// How serious it is.
    pub level: Level,
    /// Members it is about; empty when it is about everybody.
    pub members: Vec<String>,
    /// In words.
    pub text: String,
}

/// Most cautions shown beside the stop rule; more teaches people to skip them.
const MOST_SHOWN: usize = 3;
/// Vertical pulls in a day from which the warning signs of muscle breakdown are told.
const MANY_PULLS: f64 = 100.0;
/// Pushing repetitions likewise.
const MANY_PUSHES: f64 = 150.0;
/// Squats, lunges and jumps likewise.
const MANY_LEGS: f64 = 300.0;

/// The cautions for a day and a class, most serious first, with the stop rule at the end.
pub fn cautions(session: &Session, members: &[Member], catalogue: &Catalogue) -> Vec<Caution> {
    let sum = |test: &dyn Fn(&crate::movement::Movement) -> bool| -> f64 {
        session
            .parts
            .iter()
            .flat_map(|part| totals(&part.tree))
            .filter(|total| total.unit == Unit::Reps)
            .filter(|total| catalogue.get(&total.movement).is_some_and(test))
            .map(|total| total.amount)
            .sum()
    };
    let mut found = Vec::new();
    let mut say =
        |code, level, members: Vec<String>, text: String| found.push(Caution { code, level, members, text });
    let pulls = sum(&|m| m.pattern == Pattern::PullVertical && m.muscle("pull") >= 0.5);
    if pulls >= MANY_PULLS {
        say(
            "rhabdo-pull",
            Level::Stop,
            Vec::new(),
            format!(
                "{pulls:.0} pulling reps today. Offer ring rows or smaller totals, above all to new and returning people, and tell everyone the warning signs: swelling or weakness far beyond soreness, very dark urine."
            ),
        );
    }
    let pushes = sum(&|m| {
        matches!(m.pattern, Pattern::PressHorizontal | Pattern::PressVertical)
            && m.load_kind == crate::movement::LoadKind::None
    });
    if pushes >= MANY_PUSHES {
        say(
            "rhabdo-push",
            Level::Care,
            Vec::new(),
            format!(
                "{pushes:.0} pushing reps today. Raise the hands before form goes and let people stop at two thirds."
            ),
        );
    }
    let legs = sum(&|m| {
        matches!(m.pattern, Pattern::Squat | Pattern::Lunge | Pattern::Jump) && m.muscle("quads") >= 0.4
    });
    if legs >= MANY_LEGS {
        say(
            "rhabdo-legs",
            Level::Care,
            Vec::new(),
            format!(
                "{legs:.0} squats, lunges and jumps today. Expect deep soreness; scale totals for anyone new or coming back."
            ),
        );
    }
    let all_works: Vec<&crate::session::Work> =
        session.parts.iter().flat_map(|part| works(&part.tree)).collect();
    if all_works.iter().any(|work| work.movement.as_str().contains("rope-climb")) {
        say("rope-height", Level::Stop, Vec::new(), "Rope climbs: mats down, one person per rope, legs clamped on the way down. If anyone doubts the trip down, they pull from the floor instead.".to_owned());
    }
    for member in members {
        for limit in &member.limits {
            let loading: Vec<String> = all_works
                .iter()
                .filter_map(|work| catalogue.get(&work.movement))
                .filter(|movement| movement.joint(&limit.reason) >= JOINT_LIMIT)
                .map(|movement| movement.name.to_lowercase())
                .fold(Vec::new(), |mut names, name| {
                    if !names.contains(&name) {
                        names.push(name);
                    }
                    names
                });
            if limit.reason == "pregnancy" {
                say(
                    "pregnancy",
                    Level::Care,
                    vec![member.name.clone()],
                    format!(
                        "{}: with a midwife's or doctor's go-ahead. Talk-test effort, no falls, breath holding or testing; use the options around it.",
                        member.name
                    ),
                );
            } else if !loading.is_empty() {
                say(
                    "pain-flag",
                    Level::Care,
                    vec![member.name.clone()],
                    format!(
                        "{}: {} flagged and {} loads it. Offer the options around it; pain above 3 out of 10 means leave it out and see a clinician.",
                        member.name,
                        limit.reason.replace('_', " "),
                        loading.join(", ")
                    ),
                );
            }
        }
    }
    found.sort_by_key(|caution| std::cmp::Reverse(caution.level));
    found.truncate(MOST_SHOWN.max(found.iter().filter(|c| !c.members.is_empty()).count()));
    found.push(Caution {
        code: "stop-now",
        level: Level::Stop,
        members: Vec::new(),
        text: "Stop anyone who has chest pain, unusual breathlessness, faintness or confusion. Call the local emergency number, fetch the defibrillator, stay with them.".to_owned(),
    });
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::member::Limit;
    use crate::read::read;

    fn codes(text: &str, members: &[Member]) -> Vec<&'static str> {
        let catalogue = Catalogue::standard();
        cautions(&read(text, catalogue).session, members, catalogue)
            .iter()
            .map(|caution| caution.code)
            .collect()
    }

    #[test]
    fn a_hundred_pulls_warn_and_ninety_nine_do_not() {
        assert_eq!(codes("10 rounds for time\n10 pull-ups", &[]), ["rhabdo-pull", "stop-now"]);
        assert_eq!(codes("9 rounds for time\n11 pull-ups", &[]), ["stop-now"]);
    }

    #[test]
    fn a_flagged_joint_warns_only_when_the_day_loads_it() {
        let member =
            Member { limits: vec![Limit::from_text("left knee: no jumping").unwrap()], ..Member::default() };
        assert_eq!(codes("For time\n30 box jumps", std::slice::from_ref(&member)), ["pain-flag", "stop-now"]);
        assert_eq!(codes("For time\n30 ring rows", &[member]), ["stop-now"]);
    }
}
