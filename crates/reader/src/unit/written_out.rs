//! A piece that is written out for each level, a line for each: the first is the piece.

use super::{Role, Unit};
use crate::day::is_clock;
use crate::say::{Item, Say};

/// "RX: 21-15-9 ...", and below it "INT: 21-15-9 ...": where no work stands above the lines, the first of them is what the class does.
pub(super) fn first_of_levels(units: &mut [Unit]) {
    for at in 0..units.len() {
        if !is_whole(&units[at], 0) || !units.get(at + 1).is_some_and(|next| is_whole(next, 1)) {
            continue;
        }
        // Below the work of a piece they say what else may be done.
        let works =
            |unit: &Unit| unit.readings[0].role == Role::Work && unit.readings[0].items().next().is_some();
        let heads = |unit: &Unit| unit.heading.is_some() || unit.readings[0].says(runs);
        let above = units[..at].iter().rev().find(|unit| works(unit) || heads(unit));
        if above.is_some_and(works) {
            continue;
        }
        let readings = &mut units[at].readings;
        let cost = readings[0].cost;
        readings.retain(|reading| !matches!(reading.role, Role::Level(_)));
        if let Some(work) = readings.iter_mut().find(|reading| reading.role == Role::Work) {
            work.cost = cost;
        }
        readings.sort_by(|a, b| a.cost.total_cmp(&b.cost));
    }
}

/// Whether the line of a level says work and how it is run.
fn is_whole(unit: &Unit, place: u8) -> bool {
    let reading = &unit.readings[0];
    let counted = reading.items().any(Item::is_anchored) && reading.items().count() > 1;
    reading.role == Role::Level(place) && reading.items().next().is_some() && (reading.says(runs) || counted)
}

fn runs(say: &Say) -> bool {
    is_clock(say) || matches!(say, Say::Scheme { .. } | Say::Rounds(_))
}
