//! Shares of more than one line: waves of a lift, and what is said of all lifts at once.

use super::{Reading, Said, Unit};
use crate::say::Say;

/// "7-5-3 @ 60-65-70%" and below it "7-5-3 @ 65-70-75%": waves of one lift, each set at its share.
pub(super) fn of_shares(units: &mut [Unit]) {
    let sets = |unit: &Unit| match &unit.readings[0].says[..] {
        [Said { say: Say::Scheme { reps, open: None }, column }, Said { say: Say::Percent(shares), .. }]
            if reps.len() == shares.len() && unit.starts_line =>
        {
            let sets = reps.iter().zip(shares);
            let set = |(reps, percent): (&u32, &[f64; 2])| Said {
                say: Say::SetAt { reps: *reps, percent: *percent },
                column: *column,
            };
            Some(sets.map(set).collect::<Vec<_>>())
        }
        _ => None,
    };
    let found: Vec<Option<Vec<Said>>> = units.iter().map(sets).collect();
    for (at, sets) in found.iter().enumerate().filter_map(|(at, sets)| Some((at, sets.as_ref()?))) {
        let beside =
            |other: Option<usize>| other.is_some_and(|other| matches!(found.get(other), Some(Some(_))));
        let above = !units[at].blank_before && beside(at.checked_sub(1));
        let below = beside(Some(at + 1)) && !units[at + 1].blank_before;
        if above || below {
            units[at].readings[0].says.clone_from(sets);
        }
    }
}

/// "All lifts at 55-60%" above a list of lifts with their sets: the share of each that has none of its own.
pub(super) fn of_all_lifts(units: &mut [Unit]) {
    let of_all = |unit: &Unit| match &unit.readings[0].says[..] {
        [Said { say: Say::ForBoth, .. }, share @ Said { say: Say::Percent(_), .. }]
        | [share @ Said { say: Say::Percent(_), .. }, Said { say: Say::ForBoth, .. }] => Some(share.clone()),
        _ => None,
    };
    let lifts = |reading: &Reading| {
        let sets = reading.says(|say| matches!(say, Say::SetsReps { .. }))
            || reading.items().any(|item| item.sets.is_some());
        let weighed =
            |say: &Say| matches!(say, Say::Percent(_) | Say::SetAt { .. } | Say::Load { .. } | Say::Rpe(_));
        sets && reading.items().any(|item| item.movement.is_some()) && !reading.says(weighed)
    };
    for at in 0..units.len() {
        let Some(share) = of_all(&units[at]) else { continue };
        let below = units[at + 1..].iter().take_while(|unit| lifts(&unit.readings[0])).count();
        if below < 2 {
            continue;
        }
        for unit in &mut units[at + 1..=at + below] {
            let readings = unit.readings.iter_mut().filter(|reading| lifts(reading));
            readings.for_each(|reading| reading.says.push(share.clone()));
        }
        units[at].readings[0].says = vec![Said { say: Say::Told, ..share }];
    }
}
