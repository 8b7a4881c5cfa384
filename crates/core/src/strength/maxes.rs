//! The 1RM that loads are counted from: on file, inferred from a related lift, or not known.

use serde::Serialize;

use super::dose::written_shares;
use crate::member::{Max, Member};
use crate::movement::{Catalogue, LoadKind, Movement, MovementId, Pattern};
use crate::session::Part;
use crate::units::{Kilograms, WeightUnit, plain};

/// Most repetitions from which a 1RM is estimated; above it the formulas part company (Reynolds et al. 2006).
pub const MOST_REPS_FOR_ESTIMATE: u32 = 10;
/// Spread of a max on file, either way: day-to-day variation of a tested lift; coaching judgement.
const SPREAD_ON_FILE: f64 = 0.03;
/// Spread of a max inferred from a related lift: people differ by 8-12 % from the usual ratios.
const SPREAD_INFERRED: f64 = 0.10;

/// A 1RM with its range and where it comes from.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Estimate {
    /// The lift it is for.
    pub lift: MovementId,
    /// The middle of the range.
    pub value: Kilograms,
    /// The lower end.
    pub low: Kilograms,
    /// The upper end.
    pub high: Kilograms,
    /// Where it comes from, in words.
    pub basis: String,
    /// Whether it is inferred rather than known.
    pub guess: bool,
    /// Whether it was set so long ago that it is time to test it again.
    #[serde(skip)]
    pub stale: bool,
}

/// The 1RM estimated from a set of `reps` with `load` at or near failure: Epley 1985, `w * (1 + r / 30)`
/// for 2 to 10 repetitions; a single counts as itself. None beyond 10 repetitions, or for none.
///
/// ```
/// # use lantern_core::{strength::estimate_1rm, units::Kilograms};
/// assert_eq!(estimate_1rm(Kilograms::from_kg(100.0), 5), Some(Kilograms::from_grams(116_667)));
/// assert_eq!(estimate_1rm(Kilograms::from_kg(100.0), 1), Some(Kilograms::from_kg(100.0)));
/// assert_eq!(estimate_1rm(Kilograms::from_kg(100.0), 11), None);
/// ```
pub fn estimate_1rm(load: Kilograms, reps: u32) -> Option<Kilograms> {
    match reps {
        0 => None,
        1 => Some(load),
        2..=MOST_REPS_FOR_ESTIMATE => Some(load.share(1.0 + f64::from(reps) / 30.0)),
        _ => None,
    }
}

/// Weeks for which a max stands for whoever trains; after that it is a range and a question. Coaching practice.
const STANDS_WEEKS: u32 = 12;
/// How far below an old max somebody may be: what is lost in a few months without that lift.
const MAY_HAVE_LOST: f64 = 0.10;

/// Share by which an old record counts against a fresh one when the best of several is looked for: 5 % less after 4 weeks, 10 % after 8.
/// Nobody's load is cut by it.
pub fn share_after(weeks: u32) -> f64 {
    match weeks {
        0..=4 => 1.0,
        5..=8 => 0.95,
        _ => 0.90,
    }
}

/// The member's 1RM of a movement: their own record, or the usual share of the nearest related lift
/// they have a record of. None when nothing is on file.
pub fn max_for(member: &Member, id: &MovementId, catalogue: &Catalogue) -> Option<Estimate> {
    if let Some(max) = member.maxes.get(id) {
        let value = max.value;
        let stale = max.weeks_old.is_some_and(|weeks| weeks > STANDS_WEEKS);
        let age = match max.weeks_old {
            Some(0) => "set this week".to_owned(),
            Some(1) => "set a week ago".to_owned(),
            Some(weeks) if stale => format!("set {weeks} weeks ago: begin lower by feel, and test it again"),
            Some(weeks) => format!("set {weeks} weeks ago"),
            None => "date not known".to_owned(),
        };
        let spread = max.shown_by.map_or(SPREAD_ON_FILE, |shown| shown.spread);
        return Some(Estimate {
            lift: id.clone(),
            value,
            low: value.share(1.0 - if stale { spread.max(MAY_HAVE_LOST) } else { spread }),
            high: value.share(1.0 + spread),
            basis: format!("{} 1RM {}, {age}", catalogue.name(id).to_lowercase(), shown(max)),
            guess: false,
            stale,
        });
    }
    let (from, share) = related(member, id, catalogue)?;
    let known = &member.maxes[&from];
    let value = known.value.share(share);
    Some(Estimate {
        lift: id.clone(),
        value,
        low: value.share(1.0 - SPREAD_INFERRED),
        high: value.share(1.0 + SPREAD_INFERRED),
        basis: format!(
            "about {} % of the {} 1RM {} on file (usual ratio, a guess)",
            plain((share * 100.0).round()),
            catalogue.name(&from).to_lowercase(),
            known.value
        ),
        guess: true,
        stale: false,
    })
}

/// Whether a part asks for one's own weight with more hung on it, so that shares are of both together: a lift that is always
/// weighted, or a share of one that is mostly done without anything.
pub fn is_hung(lift: &Movement, part: &Part) -> bool {
    let weighted = lift.load_kind == LoadKind::Vest
        || lift.load_kind == LoadKind::None && !written_shares(part, lift).is_empty();
    weighted && matches!(lift.pattern, Pattern::PullVertical | Pattern::PressVertical)
}

/// The 1RM of somebody's own weight and what hangs on it together: from a record of what was added, or from how many they do without
/// (Epley 1985, up to ten). None without a bodyweight on file.
pub fn system_max(member: &Member, lift: &Movement, catalogue: &Catalogue) -> Option<Estimate> {
    let body = member.bodyweight?;
    if let Some(added) = max_for(member, &lift.id, catalogue).filter(|max| !max.guess) {
        let with = |kg: Kilograms| body + kg;
        return Some(Estimate {
            value: with(added.value),
            low: with(added.low),
            high: with(added.high),
            basis: format!("own weight of {body} and {}", added.basis),
            ..added
        });
    }
    // What always has a weight is named after what is asked for first; of anything else another movement says nothing.
    let bare = lift.prerequisites.iter().filter(|_| lift.load_kind == LoadKind::Vest);
    let without = bare.chain([&lift.id]).find_map(|id| member.best_reps.get(id)).copied();
    let reps = without.filter(|reps| *reps > 0)?.min(MOST_REPS_FOR_ESTIMATE);
    let value = estimate_1rm(body, reps)?;
    Some(Estimate {
        lift: lift.id.clone(),
        value,
        low: value.share(1.0 - SPREAD_INFERRED),
        high: value.share(1.0 + SPREAD_INFERRED),
        basis: format!("own weight of {body} for {reps} without more on it: about {value} in all, a guess"),
        guess: true,
        stale: false,
    })
}

/// A max with the set that shows it: `105 kg, from 5 x 90 kg (class result, Epley)`.
fn shown(max: &Max) -> String {
    match max.shown_by {
        None => format!("{} on file", max.value),
        Some(shown) if shown.reps == 1 && shown.rpe.is_none() => {
            format!("{} {}", max.value, shown.source.name())
        }
        Some(shown) => {
            let rpe = shown.rpe.map_or(String::new(), |rpe| format!(" at RPE {}", plain(rpe)));
            let (source, formula) = (shown.source.name(), max.formula.name());
            let value = match shown.load.made_in() {
                WeightUnit::Kg => Kilograms::from_kg((max.value.kg() * 2.0).round() / 2.0),
                WeightUnit::Lb => Kilograms::from_lb(max.value.lb().round()),
            };
            format!("about {value}, from {} x {}{rpe} ({source}, {formula})", shown.reps, shown.load)
        }
    }
}

/// The nearest lift on file along the chain of references, up or down, and the movement's share of it.
fn related(member: &Member, id: &MovementId, catalogue: &Catalogue) -> Option<(MovementId, f64)> {
    // Up: the movement's own reference, its reference's reference, and so on.
    let mut share = 1.0;
    let mut at = id.clone();
    let mut chain = vec![(at.clone(), share)];
    while let Some((next, fraction)) = catalogue.get(&at).and_then(|movement| movement.load_ref.clone()) {
        if next == at || chain.iter().any(|(seen, _)| *seen == next) {
            break;
        }
        share *= fraction;
        at = next;
        if member.maxes.contains_key(&at) {
            return Some((at, share));
        }
        chain.push((at.clone(), share));
    }
    // Down: a lift on file whose reference is on the chain.
    chain.into_iter().find_map(|(link, share)| {
        member.maxes.keys().find_map(|lift| {
            let (reference, fraction) = catalogue.get(lift)?.load_ref.clone()?;
            (reference == link && fraction > 0.0 && *lift != link).then(|| (lift.clone(), share / fraction))
        })
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn member(lifts: &[(&str, f64)]) -> Member {
        let maxes = lifts
            .iter()
            .map(|(lift, kg)| (MovementId::new(lift), Max::on_file(Kilograms::from_kg(*kg))))
            .collect();
        Member { maxes, ..Member::default() }
    }

    #[test]
    fn an_own_record_is_preferred_to_any_ratio() {
        let catalogue = Catalogue::standard();
        let estimate = max_for(
            &member(&[("back-squat", 100.0), ("front-squat", 90.0)]),
            &MovementId::new("front-squat"),
            catalogue,
        )
        .unwrap();
        assert_eq!((estimate.value.kg(), estimate.guess), (90.0, false));
    }

    #[test]
    fn a_missing_lift_is_inferred_along_the_chain_and_marked() {
        let catalogue = Catalogue::standard();
        // Thruster is 70 % of the front squat, the front squat 85 % of the back squat.
        let estimate =
            max_for(&member(&[("back-squat", 100.0)]), &MovementId::new("thruster"), catalogue).unwrap();
        assert!(estimate.guess && (estimate.value.kg() - 59.5).abs() < 0.01, "{estimate:?}");
        assert!(estimate.low.kg() < 54.0 && estimate.high.kg() > 65.0);
        // Downwards: a back squat from a front squat.
        let estimate =
            max_for(&member(&[("front-squat", 85.0)]), &MovementId::new("back-squat"), catalogue).unwrap();
        assert!((estimate.value.kg() - 100.0).abs() < 0.01);
        assert_eq!(max_for(&member(&[]), &MovementId::new("thruster"), catalogue), None);
    }

    #[test]
    fn an_old_record_counts_less_on_both_sides_of_four_weeks() {
        assert_eq!((share_after(4), share_after(5), share_after(8), share_after(9)), (1.0, 0.95, 0.95, 0.90));
    }
}
