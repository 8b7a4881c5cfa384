//! Sets that get heavier: the steps up to the first work set, and work sets that rise by what is written or by the smallest plates.

use super::bar::{at_most, nearest_bar, usual_bar};
use super::lift::percent_of;
use super::loading::Loading;
use super::maxes::Estimate;
use super::percent::percent_for_rpe;
use super::ramp::{in_big_plates, ramp};
use super::sheet::{SetKind, SetLoad};
use crate::units::Kilograms;
use crate::why::Why;

/// The hardest that a set gets by adding what is written, as RPE.
const MOST_RPE: f64 = 10.0;
/// Share of a 1RM that nobody knows for which a climb to a written weight is made.
const UNKNOWN_PERCENT: f64 = 75.0;

/// The steps up to the first work set, each heavier than the one before and lighter than the work.
pub(super) fn climb_to(first: Option<&SetLoad>, loading: &Loading<'_>) -> Vec<SetLoad> {
    let Some((set, first)) = first.and_then(|set| Some((set, set.load.as_ref()?))) else { return Vec::new() };
    let Loading { gym, max, first_of_pair, .. } = *loading;
    let bar = usual_bar(gym, first_of_pair);
    let steps = ramp(first.total, set.percent.unwrap_or(UNKNOWN_PERCENT), bar);
    let mut climb: Vec<SetLoad> = Vec::new();
    for (load, reps) in in_big_plates(steps, first.total, bar, gym.unit) {
        let load = nearest_bar(gym, bar, load);
        let before = climb.last().and_then(|set| set.load.as_ref());
        if before.is_some_and(|before| before.total >= load.total) || load.total >= first.total {
            continue;
        }
        let why = Why::new(load.total.show(gym.unit))
            .because(format!("climb to the first working weight of {}", first.total.show(gym.unit)));
        climb.push(SetLoad {
            set: 0,
            reps,
            reps_high: None,
            open: false,
            base: None,
            percent: max.map(|max| percent_of(load.total, max).round()),
            load: Some(load),
            range: None,
            kind: SetKind::Ramp,
            why,
        });
    }
    climb
}

/// Sets that get heavier do so by what is written, or at least by the smallest plates, down from the last of them; the empty bar is where it ends.
pub(super) fn rise(work: &mut [SetLoad], jump: Option<Kilograms>, loading: &Loading<'_>) {
    let Loading { gym, max, first_of_pair, .. } = *loading;
    let smallest =
        gym.plates.iter().filter(|plate| plate.count > 1).map(|plate| gym.weight(plate.weight)).min();
    let Some(smallest) = smallest.map(|plate| plate * 2) else { return };
    let step = jump.map_or(smallest, |jump| jump.max(smallest));
    for n in (1..work.len()).rev() {
        let (before, after) = work.split_at_mut(n);
        let (set, next) = (&mut before[n - 1], &after[0]);
        let (Some(load), Some(above)) = (&set.load, &next.load) else { continue };
        if load.total >= above.total || jump.is_some() {
            let bar = usual_bar(gym, first_of_pair);
            let wanted = above.total.saturating_sub(step).max(bar);
            let lower = at_most(gym, bar, wanted);
            set.percent = max.map(|max| percent_of(lower.total, max));
            set.why.figure = lower.total.show(gym.unit);
            let by = if jump.is_some() { "as much as is written" } else { "the smallest plates" };
            set.why.steps.push(format!("lighter than the next by {by}: {}", set.why.figure));
            set.load = Some(lower);
        }
    }
}

/// Each set heavier than the one before by a written jump, from the first on: none heavier than somebody can lift so often.
pub(super) fn rise_from(work: &mut [SetLoad], jump: Kilograms, loading: &Loading<'_>) {
    let Loading { gym, max, first_of_pair, .. } = *loading;
    let bar = usual_bar(gym, first_of_pair);
    for n in 1..work.len() {
        let (before, after) = work.split_at_mut(n);
        let (Some(below), set) = (&before[n - 1].load, &mut after[0]) else { continue };
        let most = |max: &Estimate| max.value.share(percent_for_rpe(set.reps.max(1), MOST_RPE) / 100.0);
        let wanted =
            max.map_or(below.total + jump, |max| (below.total + jump).min(most(max)).max(below.total));
        let load = nearest_bar(gym, bar, wanted);
        set.percent = max.map(|max| percent_of(load.total, max));
        set.why.figure = load.total.show(gym.unit);
        set.why
            .steps
            .push(format!("heavier than the one before by as much as is written: {}", set.why.figure));
        set.load = Some(load);
    }
}
