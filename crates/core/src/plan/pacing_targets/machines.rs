//! Splits on machines and runs, from the member's own times.

use super::Whose;
use crate::movement::{MovementId, Unit};
use crate::pacing::engine::{Machine, calorie_seconds, erg_watts, metre_seconds, results};
use crate::pacing::{Athlete, machine_pace};
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
            "row" | "ski" => split(work, whose, athlete),
            _ => stretch(work, whose, athlete),
        });
    }
    said
}

/// The pace of this piece as a split and as calories an hour: what the monitor shows.
fn split(work: &Work, whose: &Whose<'_>, athlete: &Athlete<'_>) -> Option<String> {
    let pace = machine_pace(&whose.choice.tree, work, athlete, whose.catalogue, whose.model)?;
    let (metre, calorie) = if work.dose.unit == Unit::Calories {
        // As the monitor converts: calories an hour to watts, watts to a pace.
        (metre_seconds((3600.0 / pace - 300.0) / (4.0 * 0.8604)), pace)
    } else {
        (pace, calorie_seconds(erg_watts(pace)))
    };
    let machine = Machine::of(work.movement.as_str())?;
    let own = &results(athlete.member, machine).points;
    let from = |points: &[(f64, f64)]| {
        let said = points.iter().map(|(metres, seconds)| format!("{} for {metres:.0} m", clock(*seconds)));
        format!("from {}", said.collect::<Vec<_>>().join(", "))
    };
    let basis = match (own.is_empty(), athlete.curve(machine).guess) {
        (false, _) => from(own),
        (true, false) => format!("{} on the rower", from(&results(athlete.member, Machine::Row).points)),
        (true, true) => "a guess, no 2000 m on file".to_owned(),
    };
    let name = whose.catalogue.name(&work.movement).to_lowercase();
    Some(format!(
        "{name}: {}/500 m, about {:.0} cal an hour ({basis})",
        clock(metre * 500.0),
        3600.0 / calorie
    ))
}

/// Seconds for the written stretch.
fn stretch(work: &Work, whose: &Whose<'_>, athlete: &Athlete<'_>) -> Option<String> {
    let Amount::Fixed { first, .. } = work.dose.amount else { return None };
    let ability = athlete.ability(work, whose.catalogue, whose.model);
    let pace = machine_pace(&whose.choice.tree, work, athlete, whose.catalogue, whose.model);
    let known = ability.machine.is_some_and(|(machine, _)| !athlete.curve(machine).guess);
    let guess = if known { "" } else { ", a guess" };
    let name = whose.catalogue.name(&work.movement).to_lowercase();
    let amount = format!("{first:.0}{}", work.dose.unit.short());
    (work.dose.unit != Unit::Seconds).then(|| {
        format!("{name}: {amount} in about {}{guess}", clock(pace.unwrap_or(ability.seconds) * first))
    })
}
