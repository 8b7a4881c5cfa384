//! Lines below a lift that is named alone: "w/u: 8 @ 40 %, 5 @ 55 %" is its way up and "work: 4 x 6 @ 72.5 %" its sets, and neither heads a part.

use lantern_session::PartKind;

use super::{Role, Said, Unit};
use crate::say::Say;

/// Takes the headings away from sets that belong to the lift above them.
pub(super) fn sets_below_a_lift(units: &mut [Unit]) {
    let (mut below, mut named) = (false, false);
    for unit in units {
        if is_bare_lift(unit) {
            (below, named) = (true, true);
            continue;
        }
        // An empty line may stand between the name and what is below it.
        below &= (named || !unit.blank_before) && prescribes_sets(unit);
        named = false;
        let heads = |kind: PartKind| matches!(kind, PartKind::Warmup | PartKind::Conditioning);
        if let Some((PartKind::Warmup, _)) = unit.heading.take_if(|(kind, _)| below && heads(*kind)) {
            let first = &mut unit.readings[0];
            first.says.insert(0, Said { say: Say::RampSets, column: 1 });
            // The way up is everybody's own: "10 @ bar".
            first.numbers_left.clear();
        }
    }
}

/// Whether a line is no more than the name of something to lift.
fn is_bare_lift(unit: &Unit) -> bool {
    let named = |says: &[Said]| matches!(says, [Said { say: Say::Item(item), .. }] if item.amount.is_none() && !item.max);
    unit.heading.is_none()
        && unit.starts_line
        && unit.readings.first().is_some_and(|reading| reading.role == Role::Work && named(&reading.says))
}

/// Whether a line says sets and shares, and names nothing that is done.
fn prescribes_sets(unit: &Unit) -> bool {
    let sets = |say: &Say| {
        matches!(
            say,
            Say::SetAt { .. }
                | Say::SetsReps { .. }
                | Say::SetWith { .. }
                | Say::Percent(_)
                | Say::Scheme { .. }
        )
    };
    unit.readings.first().is_some_and(|reading| {
        reading.role == Role::Work && reading.items().next().is_none() && reading.says(sets)
    })
}
