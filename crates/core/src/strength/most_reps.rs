//! Sets with a share of the most repetitions in a row: how many each one does follows from their own best, and no load.

use super::dose::{Asked, Base, ShareOf};
use crate::member::Member;
use crate::movement::Movement;
use crate::units::plain;

/// The most repetitions in a row of what somebody does, where they are on file; who can do none has no share of them.
fn best(member: &Member, lift: &Movement) -> Option<u32> {
    // Who does so many strictly does as many in any way.
    let strict = format!("strict-{}", lift.id);
    member.best(lift.id.as_str()).or(member.best(&strict)).filter(|most| *most > 0)
}

/// What is known of sets of so many, or of as many as possible where it is 0, of a `lift` that takes no weight.
pub(super) fn on_file(member: &Member, lift: &Movement, reps: u32) -> String {
    match best(member, lift) {
        Some(most) if reps > most => format!("{most} in a row on file: break the {reps} before they fail"),
        Some(most) => format!("nothing to load, {most} in a row on file"),
        None => "nothing to load".to_owned(),
    }
}

/// The sets with the repetitions that their shares come to for the `lift` that is done, one at least; 0 where no best is on file.
pub(super) fn counted(sets: Vec<Asked>, member: &Member, lift: &Movement) -> Vec<Asked> {
    let of_best = |set: Asked| {
        if !matches!(set.base, Base::Share(ShareOf::MostReps(_))) {
            return set;
        }
        let most = best(member, lift);
        let reps = most.map_or(0, |most| (f64::from(most) * set.percent / 100.0).round().max(1.0) as u32);
        Asked { reps, base: Base::Share(ShareOf::MostReps(most)), ..set }
    };
    sets.into_iter().map(of_best).collect()
}

/// A set that leaves what an effort, as RPE, leaves in reserve; one repetition at least.
pub(super) fn held(set: Asked, most: Option<u32>, effort: f64) -> Asked {
    let reserve = (10.0 - effort).ceil().max(0.0) as u32;
    let reps = most.map_or(set.reps, |most| set.reps.min(most.saturating_sub(reserve).max(1)));
    Asked { reps, open: false, ..set }
}

/// How many a set and why, for the row; none of sets that are no share of the most repetitions.
pub(super) fn told(set: &Asked) -> Option<String> {
    let Base::Share(ShareOf::MostReps(most)) = set.base else { return None };
    let (reps, share) = (set.reps, plain(set.percent));
    Some(match most {
        Some(most) => format!("{reps} a set: {share} % of {most} in a row, on file"),
        None => format!("no best set on file: stop at about {share} % of what they could do"),
    })
}
