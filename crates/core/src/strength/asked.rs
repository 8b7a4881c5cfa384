//! What a part asks of each work set: repetitions and a share of the maximum, written, climbed through or built to, and what a tempo
//! takes off.

use super::percent::{percent_for_reps, percent_for_rpe};
use crate::member::Member;
use crate::session::{Format, Part, Tempo};

/// Sets of a heavy build by repetitions, in percent of the known or expected 1RM: common practice for
/// about 15 minutes.
const BUILD_SINGLE: &[f64] = &[50.0, 60.0, 70.0, 78.0, 85.0, 90.0, 94.0, 98.0, 101.0];
const BUILD_TRIPLE: &[f64] = &[45.0, 55.0, 65.0, 73.0, 80.0, 85.0, 89.0, 92.5];
const BUILD_FIVE: &[f64] = &[40.0, 50.0, 60.0, 68.0, 75.0, 80.0, 84.0, 87.0];
/// Who has a max on file ends a build this far past what it says they can do: common practice for a retest.
const PAST_THE_OLD: f64 = 1.03;
/// Minutes of a build that one planned set takes.
const BUILD_MINUTES_A_SET: f64 = 1.8;
/// The most that tempo elements together take off, in percent.
const MOST_TEMPO_CUT: f64 = 30.0;

/// Repetitions and percentage of each work set.
pub(super) fn work_plan(part: &Part, member: &Member, known: bool) -> Vec<(u32, f64)> {
    let strength = &part.strength;
    if part.format == Some(Format::BuildTo) {
        return build_plan(part, member, known);
    }
    let count = strength.sets.unwrap_or(1).clamp(1, 60) as usize;
    let reps: Vec<u32> = match strength.reps.len() {
        0 => vec![if part.format == Some(Format::MaxReps) { 0 } else { 5 }; count],
        n if n < count => vec![strength.reps[0]; count],
        _ => strength.reps.clone(),
    };
    let count = reps.len();
    let percent = percents(part, &reps, count);
    reps.into_iter().zip(percent).collect()
}

/// One percentage a set: written, climbing through a range, from the RPE, or what the repetitions
/// allow with two in reserve.
fn percents(part: &Part, reps: &[u32], count: usize) -> Vec<f64> {
    let strength = &part.strength;
    match &strength.percent[..] {
        [] => {
            let rpe = strength.rpe.map_or(8.0, |[low, high]| (low + high) / 2.0);
            reps.iter().map(|&r| percent_for_rpe(r.max(1), rpe)).collect()
        }
        [[low, high]] => {
            // The last sets stay at the top; the ones before climb to it in even steps.
            let top = strength.top_sets.unwrap_or(1).max(1) as usize;
            let steps = count.saturating_sub(top).max(1) as f64;
            (0..count).map(|n| (low + (high - low) * (n as f64 / steps)).min(*high)).collect()
        }
        each => (0..count)
            .map(|n| each.get(n).or(each.last()).map_or(70.0, |[low, high]| (low + high) / 2.0))
            .collect(),
    }
}

/// Attempts of a build: as many sets as the clock allows, the last ones kept; a newer member stops short, and who has
/// a max on file ends a little past it.
fn build_plan(part: &Part, member: &Member, known: bool) -> Vec<(u32, f64)> {
    let rm = part.strength.rm.unwrap_or(1);
    let table: &[f64] = match rm {
        1 => BUILD_SINGLE,
        2..=3 => BUILD_TRIPLE,
        _ => BUILD_FIVE,
    };
    let fit =
        part.duration_s.map_or(table.len(), |s| (f64::from(s) / 60.0 / BUILD_MINUTES_A_SET).floor() as usize);
    let fit = fit.clamp(4, table.len());
    let top = percent_for_reps(f64::from(rm));
    // Evenly thinned, so that the jumps stay even and the last set stays the last.
    let picked = (0..fit).map(|n| table[n * (table.len() - 1) / (fit - 1)]);
    let stop_short = member.experience <= crate::member::Experience::Beginner;
    let last = table.last().copied().unwrap_or(top);
    picked
        .map(|percent| if percent >= last && known && !stop_short { top * PAST_THE_OLD } else { percent })
        .map(|percent| if rm > 5 { percent * top / 87.0 } else { percent })
        .filter(|percent| !stop_short || *percent <= top - 2.0)
        .map(|percent| {
            (
                if percent >= 78.0 || rm > 1 {
                    rm
                } else if percent < 60.0 {
                    3
                } else {
                    2.min(rm + 1)
                },
                percent,
            )
        })
        .collect()
}

/// Percent to take off for a tempo: lowering, pause and raising added up, at most 30; common practice,
/// its direction supported by Wilk et al. 2021.
pub fn tempo_cut(tempo: &Tempo) -> f64 {
    let lowering = match tempo.lowering_s() {
        0..=2 => 0.0,
        3 => 5.0,
        4..=5 => 12.5,
        _ => 25.0,
    };
    let pause = match tempo.pause_s() {
        0 => 0.0,
        1 => 3.5,
        _ => 7.5,
    };
    let raising = if tempo.raising_s() >= 3 { 17.5 } else { 0.0 };
    f64::min(lowering + pause + raising, MOST_TEMPO_CUT)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn tempo_takes_load_off_and_names_how_much() {
        assert_eq!(tempo_cut(&Tempo("31X1".into())), 8.5);
        assert_eq!(tempo_cut(&Tempo("6330".into())), 30.0);
    }
}
