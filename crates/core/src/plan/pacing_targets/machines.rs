//! Splits on machines and runs, from the member's own times.

use super::Whose;
use crate::movement::{MovementId, Unit};
use crate::pacing::Athlete;
use crate::pacing::ability::{calorie_seconds, metre_seconds};
use crate::session::{Amount, Work, works};
use crate::units::clock;

/// One sentence for each machine and each run in the piece. A number that rests on no test says so.
pub(super) fn machines(whose: &Whose<'_>, athlete: &Athlete<'_>) -> Vec<String> {
    let mut seen: Vec<(&MovementId, Unit)> = Vec::new();
    let mut said = Vec::new();
    for work in works(&whose.choice.tree) {
        let engine = whose.catalogue.get(&work.movement).is_some_and(|movement| movement.is_engine());
        if !engine || seen.contains(&(&work.movement, work.dose.unit)) {
            continue;
        }
        seen.push((&work.movement, work.dose.unit));
        said.extend(match work.movement.as_str() {
            "row" | "ski" => Some(split(work, whose, athlete)),
            _ => stretch(work, whose, athlete),
        });
    }
    said
}

/// Power inside mixed work as a split and as calories an hour: what the monitor shows.
fn split(work: &Work, whose: &Whose<'_>, athlete: &Athlete<'_>) -> String {
    let share = whose.model.engine.erg_share * if work.movement.as_str() == "ski" { 0.9 } else { 1.0 };
    let watts = athlete.watts_2k * share;
    let (pace, hour) = (clock(metre_seconds(watts) * 500.0), 3600.0 / calorie_seconds(watts));
    let basis = match athlete.member.row_2k_s {
        Some(seconds) => format!("from {} for 2000 m", crate::units::clock_s(seconds)),
        None => "a guess, no 2000 m on file".to_owned(),
    };
    let name = whose.catalogue.name(&work.movement).to_lowercase();
    format!("{name}: {pace}/500 m, about {hour:.0} cal an hour ({basis})")
}

/// Seconds for the written stretch.
fn stretch(work: &Work, whose: &Whose<'_>, athlete: &Athlete<'_>) -> Option<String> {
    let Amount::Fixed { first, .. } = work.dose.amount else { return None };
    let ability = athlete.ability(work, whose.catalogue, whose.model);
    let known = match work.movement.as_str() {
        "run" => athlete.member.run_400_s.is_some() || athlete.member.run_1600_s.is_some(),
        _ => athlete.member.row_2k_s.is_some(),
    };
    let guess = if known { "" } else { ", a guess" };
    let name = whose.catalogue.name(&work.movement).to_lowercase();
    let amount = format!("{first:.0}{}", work.dose.unit.short());
    (work.dose.unit != Unit::Seconds)
        .then(|| format!("{name}: {amount} in about {}{guess}", clock(ability.seconds * first)))
}
