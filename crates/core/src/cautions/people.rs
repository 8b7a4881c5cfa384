//! What is known of the people in the class: breaks, age, and what they spare. Health data: for the coach only.

use super::{Caution, Level, Say};
use crate::member::Member;
use crate::movement::Catalogue;
use crate::session::{Session, works};

/// Days off from which somebody counts as returning.
const AWAY_DAYS: u32 = 14;
/// Days off from which the way back takes two weeks.
const LONG_AWAY_DAYS: u32 = 28;
/// Below this age a member is a minor.
const OF_AGE: u32 = 18;

/// Everything that follows from who comes.
pub(super) fn people(session: &Session, members: &[Member], catalogue: &Catalogue, found: &mut Vec<Caution>) {
    let mut say = Say { found, step: "versions" };
    for member in members.iter().filter(|member| member.away_days.is_some_and(|days| days >= AWAY_DAYS)) {
        let days = member.away_days.unwrap_or_default();
        let way = if days >= LONG_AWAY_DAYS {
            "60 % of the work for two weeks"
        } else {
            "half the work today, 70 % next time"
        };
        let text = format!(
            "{} is back after {days} days: {way}, no slow lowering and no failure. Very dark urine or a swollen, painful limb in the next days: see a doctor at once.",
            member.name
        );
        say.members("returning", Level::Stop, vec![&member.name], text);
    }
    let minors: Vec<&str> = members
        .iter()
        .filter(|member| member.age.is_some_and(|age| age < OF_AGE))
        .map(|member| member.name.as_str())
        .collect();
    if !minors.is_empty() {
        let text = format!(
            "Under {OF_AGE}: {}. Qualified supervision, a guardian's consent and the local rules for minors; skill before load, 6 to 15 reps, no tests of a max.",
            minors.join(", ")
        );
        say.members("minors", Level::Stop, minors, text);
    }
    let all_works: Vec<&crate::session::Work> =
        session.parts.iter().flat_map(|part| works(&part.tree)).collect();
    for member in members {
        for limit in &member.limits {
            let loading: Vec<String> = all_works
                .iter()
                .filter_map(|work| catalogue.get(&work.movement))
                .filter(|movement| limit.spares(movement))
                .map(|movement| movement.name.to_lowercase())
                .fold(Vec::new(), |mut names, name| {
                    if !names.contains(&name) {
                        names.push(name);
                    }
                    names
                });
            if limit.condition() == Some("pregnancy") {
                say.members(
                    "pregnancy",
                    Level::Care,
                    vec![&member.name],
                    format!(
                        "{}: with a midwife's or doctor's go-ahead. Talk-test effort, no falls, breath holding or testing; use the options around it.",
                        member.name
                    ),
                );
            } else if !loading.is_empty() {
                say.members(
                    "pain-flag",
                    Level::Care,
                    vec![&member.name],
                    format!(
                        "{}: {} is given as a limit, and {} goes against it. Offer the options around it; pain above 3 out of 10 means leave it out and see a clinician.",
                        member.name,
                        limit.text,
                        loading.join(", ")
                    ),
                );
            }
        }
    }
}
