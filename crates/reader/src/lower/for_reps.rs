//! Minutes at each thing of which as much as goes in is counted.

use std::collections::BTreeSet;

use lantern_session::movement::{Catalogue, Unit};
use lantern_session::{PartKind, Score};

use crate::facts::{Facts, Item, StepKind};

/// "For reps: 3 min wall balls, 3 min row, 1 min rest between": as much as goes into each of them.
pub(super) fn minutes_for_reps(facts: &mut Facts, catalogue: &Catalogue) {
    let gentle = matches!(facts.kind, Some(kind) if kind != PartKind::Conditioning);
    let plain =
        !facts.has_format() && !facts.has_rounds() && facts.sets.is_none() && !facts.has_prescription();
    if facts.score != Some(Score::Reps) || gentle || !plain {
        return;
    }
    let seconds = |item: &Item| {
        let movement = catalogue.get(item.movement.as_ref()?)?;
        let held = movement.unit == Unit::Seconds;
        let (seconds, None) = item.amount.filter(|_| item.unit == Some(Unit::Seconds) && !held)? else {
            return None;
        };
        Some(seconds as u32)
    };
    let all: Option<Vec<u32>> = facts.items().map(seconds).collect();
    let Some([work_s, more @ ..]) = all.as_deref() else { return };
    if more.is_empty() || more.iter().any(|other| other != work_s) {
        return;
    }
    let rests = facts.steps.iter().filter_map(|step| match step.what {
        StepKind::Rest { seconds, .. } => Some(seconds),
        _ => None,
    });
    let rests: BTreeSet<u32> = rests.collect();
    if rests.len() > 1 {
        return;
    }
    facts.on_off = Some((Some(1), *work_s, rests.first().copied().unwrap_or(0)));
    facts.steps.retain(|step| !matches!(step.what, StepKind::Rest { .. }));
    for step in &mut facts.steps {
        if let StepKind::Item(item) = &mut step.what {
            (item.max, item.amount, item.unit) = (true, None, None);
        }
    }
}
