//! Waves of a lift, one below the other.

use super::{Said, Unit};
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
