//! Building to a heavy set against the clock: steps toward what the day's effort says, in repetitions that fall as the bar gets heavier.

use super::dose::{Asked, Base};
use super::percent::{percent_for_rpe, rpe_for_percent};
use crate::member::{Experience, Member};
use crate::session::Part;

/// Sets of a build by repetitions, in percent of the 1RM that the last of them ends at: common coaching practice for about 15 minutes.
const SINGLE: &[f64] = &[50.0, 60.0, 70.0, 78.0, 85.0, 90.0, 94.0, 98.0, 101.0];
const TRIPLE: &[f64] = &[45.0, 55.0, 65.0, 73.0, 80.0, 85.0, 89.0, 92.5];
const FIVE: &[f64] = &[40.0, 50.0, 60.0, 68.0, 75.0, 80.0, 84.0, 87.0];
/// Minutes that one set of a build takes, loading and turns included: seven in twelve minutes, nine in fifteen.
const MINUTES_A_SET: f64 = 1.65;
/// Fewest sets of a build.
const FEWEST: usize = 4;
/// Effort at which somebody newer stops, and one without a maximum: technique goes before the number.
pub(super) const NEWER_STOPS_AT: f64 = 8.0;
/// Shares of the last set below which a build to a single goes up in threes, and in twos.
const THREES_BELOW: f64 = 58.0;
const TWOS_BELOW: f64 = 76.0;

/// The steps of a build: as many as its minutes allow, the last at the day's effort.
pub(super) fn build(part: &Part, member: &Member, known: bool) -> Vec<Asked> {
    let rm = part.strength.rm.unwrap_or(1).max(1);
    let table = match rm {
        1 => SINGLE,
        2..=3 => TRIPLE,
        _ => FIVE,
    };
    let written = part.strength.rpe.map(|[low, high]| (low + high) / 2.0);
    let newer = member.experience <= Experience::Beginner || !known;
    let effort = match written {
        Some(rpe) if newer => rpe.min(NEWER_STOPS_AT),
        Some(rpe) => rpe,
        None if newer => NEWER_STOPS_AT,
        None => 10.0,
    };
    // "A heavy single, nothing over 90 %": it ends there, however it feels.
    let most = part.strength.percent.last().filter(|_| is_of_the_max(part)).map(|[_, most]| *most);
    let hardest = percent_for_rpe(rm, effort);
    let (ends, effort) = match most.filter(|most| *most < hardest) {
        Some(most) => (most, rpe_for_percent(rm, most)),
        None => (hardest, effort),
    };
    let count = part
        .duration_s
        .map_or(table.len(), |s| (f64::from(s) / 60.0 / MINUTES_A_SET).floor() as usize)
        .clamp(FEWEST, table.len());
    let last = table[table.len() - 1];
    // Evenly thinned, so that the jumps stay even and the last set stays the last.
    let picked = (0..count).map(|n| table[n * (table.len() - 1) / (count - 1)]);
    picked
        .map(|percent| {
            let of_last = percent / last * 100.0;
            let reps = match rm {
                1 if of_last < THREES_BELOW => 3,
                1 if of_last < TWOS_BELOW => 2,
                rm => rm,
            };
            Asked { reps, percent: percent / last * ends, base: Base::Build(effort), open: false }
        })
        .collect()
}

/// Whether the share beside a build is of the lift's own maximum and of no sets that follow.
fn is_of_the_max(part: &Part) -> bool {
    part.strength.percent_of.is_none() && part.strength.reps.is_empty()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::movement::Catalogue;
    use crate::read::read;

    fn of(text: &str, experience: Experience, known: bool) -> Vec<Asked> {
        let part = read(text, Catalogue::standard()).session.parts.remove(0);
        build(&part, &Member { experience, ..Member::default() }, known)
    }

    #[test]
    fn a_build_ends_at_what_the_effort_says() {
        let hard = of("Deadlift: build to a heavy triple in 15 min", Experience::Advanced, true);
        assert_eq!(hard.last().unwrap().percent, 92.5);
        let eased = of("Deadlift: build to a heavy triple in 15 min, RPE 8", Experience::Advanced, true);
        // Three with two in reserve is what five allow.
        assert_eq!(eased.last().unwrap().percent, 87.0);
        assert!(eased.iter().all(|set| set.reps == 3) && eased.len() == 8);
        assert!(eased.windows(2).all(|pair| pair[0].percent < pair[1].percent));
        // A share is not gone over, and tells how hard it is.
        let held = of("Clean: heavy double in 12 min, nothing over 90 %", Experience::Advanced, true);
        let last = held.last().unwrap();
        assert_eq!((last.percent, &last.base), (90.0, &Base::Build(8.0)));
        let light = of("Clean: heavy double in 12 min, nothing over 50 %", Experience::Advanced, true);
        assert_eq!((light.last().unwrap().percent, &light[0].base), (50.0, &Base::Build(5.0)));
        let newer = of("Deadlift: build to a heavy triple in 15 min", Experience::Beginner, true);
        assert_eq!(newer.last().unwrap().percent, 87.0);
    }

    #[test]
    fn a_single_is_climbed_to_in_threes_and_twos() {
        let reps: Vec<u32> =
            of("Back squat: build to a heavy single in 12 minutes", Experience::Advanced, true)
                .iter()
                .map(|set| set.reps)
                .collect();
        assert_eq!((reps.len(), reps[0], reps[reps.len() - 1]), (7, 3, 1));
        assert!(reps.windows(2).all(|pair| pair[0] >= pair[1]), "{reps:?}");
    }
}
