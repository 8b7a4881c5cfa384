//! Tables of repetitions, effort and share of the 1RM.

/// Percent of the 1RM that can be lifted for 1 to 16 repetitions to failure: the coaching table of
/// Baechle & Earle 2008 with its uneven steps smoothed.
const PERCENT_FOR_REPS: [f64; 16] =
    [100.0, 95.5, 92.5, 90.0, 87.0, 84.5, 82.0, 79.5, 77.0, 75.0, 73.0, 71.0, 69.0, 67.5, 66.0, 64.5];

/// Percent of the 1RM for a number of repetitions to failure; fractions of a repetition are interpolated,
/// more than 16 count as 16.
pub fn percent_for_reps(reps: f64) -> f64 {
    let place = (reps - 1.0).clamp(0.0, 15.0);
    let below = place.floor() as usize;
    let above = (below + 1).min(15);
    PERCENT_FOR_REPS[below] + (PERCENT_FOR_REPS[above] - PERCENT_FOR_REPS[below]) * place.fract()
}

/// Percent of the 1RM for `reps` at an effort, on the scale of repetitions in reserve where RPE 10
/// leaves none and each point less leaves one (Zourdos et al. 2016).
pub fn percent_for_rpe(reps: u32, rpe: f64) -> f64 {
    percent_for_reps(f64::from(reps) + (10.0 - rpe.clamp(5.0, 10.0)))
}

/// The effort of `reps` at a share of the 1RM in percent, as RPE from 5 to 10 in halves: the hardest whose share is no larger.
pub fn rpe_for_percent(reps: u32, percent: f64) -> f64 {
    /// Of percent: shares are compared after being worked out.
    const NOTHING: f64 = 1e-9;
    let mut halves = (10..=20).rev().map(|halves| f64::from(halves) / 2.0);
    halves.find(|rpe| percent_for_rpe(reps, *rpe) <= percent + NOTHING).unwrap_or(5.0)
}

/// Fresh repetitions to failure at a share of the 1RM: Wathan 1994, inverted; valid from 55 to 95 %.
/// Below 55 % breath and grip end the set first, so the answer stops rising at 50.
pub fn reps_at_percent(percent: f64) -> f64 {
    if percent >= 100.0 {
        return 1.0;
    }
    if percent <= 50.5 {
        return 50.0;
    }
    (-((percent - 48.8) / 53.8).ln() / 0.075).clamp(1.0, 50.0)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_table_is_read_between_its_rows() {
        assert_eq!(percent_for_reps(5.0), 87.0);
        assert_eq!(percent_for_reps(5.5), 85.75);
        assert_eq!(percent_for_rpe(5, 8.0), 82.0);
        assert_eq!(percent_for_rpe(3, 10.0), 92.5);
        assert_eq!(
            [92.5, 92.0, 87.0, 40.0].map(|percent| rpe_for_percent(3, percent)),
            [10.0, 9.5, 8.0, 5.0]
        );
    }

    #[test]
    fn lighter_is_never_fewer_reps() {
        let reps: Vec<f64> = (40..=100).map(|percent| reps_at_percent(f64::from(percent))).collect();
        assert!(reps.windows(2).all(|pair| pair[0] >= pair[1]));
        assert!((reps_at_percent(80.0) - 7.3).abs() < 0.3, "{}", reps_at_percent(80.0));
    }
}
