//! Fewer repetitions in numbers that a coach would write: a scheme keeps its even steps, long distances and big sets
//! their round figures.

use crate::movement::Unit;
use crate::pacing::{nearest, step};

/// A share of an amount, rounded, never more than it and never nothing.
pub(super) fn share_of(amount: f64, unit: Unit, share: f64) -> f64 {
    nearest(amount * share, step(amount, unit)).min(amount)
}

/// What a scheme is counted in: fives stay fives, and threes that rise or fall stay threes, as coaches write them, until the smallest rung
/// is less than that.
fn counted_in(reps: &[u32], factor: f64) -> f64 {
    let smallest = reps.iter().copied().min().map_or(0.0, f64::from) * factor;
    let level = reps.windows(2).all(|pair| pair[0] == pair[1]);
    let units: &[u32] = if level { &[5] } else { &[5, 3] };
    let unit = units.iter().copied().find(|unit| reps.iter().all(|reps| reps % unit == 0));
    unit.map(f64::from).filter(|unit| smallest >= *unit).unwrap_or(1.0)
}

/// A share of a scheme. Even steps stay even (21-15-9 becomes 18-12-6), fives stay fives and threes threes; any other scheme is cut
/// number by number. No rung is more than it was, and none is nothing.
pub(super) fn scheme_share(reps: &[u32], share: f64) -> Vec<u32> {
    let by_number = || reps.iter().map(|reps| share_of(f64::from(*reps), Unit::Reps, share) as u32).collect();
    let numbers: Vec<f64> = reps.iter().map(|reps| f64::from(*reps)).collect();
    let (Some(first), Some(last)) = (numbers.first(), numbers.last()) else { return Vec::new() };
    let steps = numbers.len() as f64 - 1.0;
    let even = numbers.windows(2).all(|pair| pair[1] - pair[0] == numbers[1] - first);
    if numbers.len() < 3 || !even {
        return by_number();
    }
    let unit = counted_in(reps, share);
    let middle = (first + last) / 2.0 * share;
    let wanted = (first - last).abs() / steps * share;
    let mut between = if first == last { 0.0 } else { (wanted / unit).round().max(1.0) * unit };
    // Narrower steps until the smallest rung is something, and the whole lies inside the old scheme.
    loop {
        let low = ((middle - between * steps / 2.0) / unit).round() * unit;
        let high = low + between * steps;
        if low >= unit && high <= first.max(*last) && low <= first.min(*last) {
            let rung =
                |n: usize| if first >= last { high - between * n as f64 } else { low + between * n as f64 };
            return (0..numbers.len()).map(|n| rung(n) as u32).collect();
        }
        if between < unit * 2.0 {
            return by_number();
        }
        between -= unit;
    }
}

/// A scheme taken up by a factor, with even steps kept even, and in fives where the numbers are big.
pub(super) fn scheme_times(reps: &[u32], factor: f64) -> Vec<u32> {
    let scaled: Vec<f64> = reps.iter().map(|reps| f64::from(*reps) * factor).collect();
    let (Some(first), Some(last)) = (scaled.first(), scaled.last()) else { return Vec::new() };
    let even = scaled.windows(2).all(|pair| (pair[1] - pair[0] - (scaled[1] - first)).abs() < 1e-9);
    if scaled.len() < 3 || !even {
        return scaled.iter().map(|reps| (reps.round() as u32).max(1)).collect();
    }
    let big = first.max(*last) >= 30.0 && first.min(*last) >= 10.0;
    let unit = if big { 5.0 } else { counted_in(reps, factor) };
    let steps = scaled.len() as f64 - 1.0;
    let between = ((last - first) / steps / unit).round() * unit;
    let start = (((first + last - between * steps) / 2.0) / unit).round() * unit;
    (0..scaled.len()).map(|n| (start + between * n as f64).max(1.0) as u32).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn schemes_keep_their_even_steps() {
        assert_eq!(scheme_share(&[21, 15, 9], 0.8), [18, 12, 6]);
        assert_eq!(scheme_share(&[21, 15, 9], 0.7), [15, 12, 9]);
        assert_eq!(scheme_share(&[50, 40, 30, 20, 10], 0.75), [45, 35, 25, 15, 5]);
        assert_eq!(scheme_share(&[3, 6, 9, 12], 0.6), [2, 4, 6, 8]);
        assert_eq!(scheme_share(&[12, 12, 12], 0.7), [8, 8, 8]);
        assert_eq!(scheme_share(&[30, 20, 10, 20, 30], 0.5), [15, 10, 5, 10, 15]);
    }

    #[test]
    fn schemes_go_up_in_even_steps_too() {
        assert_eq!(scheme_times(&[21, 15, 9], 1.75), [35, 25, 15]);
        assert_eq!(scheme_times(&[21, 15, 9], 1.2), [24, 18, 12]);
        assert_eq!(scheme_times(&[1, 2, 3, 4], 2.0), [2, 4, 6, 8]);
        assert_eq!(scheme_times(&[12, 12, 12], 1.25), [15, 15, 15]);
        assert_eq!(scheme_times(&[30, 20, 30], 1.5), [45, 30, 45]);
    }

    #[test]
    fn big_numbers_are_round_and_small_ones_exact() {
        assert_eq!(share_of(50.0, Unit::Reps, 0.7), 35.0);
        assert_eq!(share_of(12.0, Unit::Reps, 0.7), 8.0);
        assert_eq!(share_of(800.0, Unit::Metres, 0.7), 550.0);
        assert_eq!(share_of(1.0, Unit::Reps, 0.3), 1.0);
    }

    proptest! {
        #[test]
        fn prop_no_rung_grows_or_vanishes(start in 1_u32..60, step in 0_u32..10, rungs in 2_usize..8, up: bool, share in 0.3..1.0_f64) {
            let mut scheme: Vec<u32> = (0..rungs as u32).map(|n| start + n * step).collect();
            if !up {
                scheme.reverse();
            }
            let cut = scheme_share(&scheme, share);
            prop_assert_eq!(cut.len(), scheme.len());
            prop_assert!(cut.iter().all(|rung| *rung >= 1));
            prop_assert!(cut.iter().sum::<u32>() <= scheme.iter().sum::<u32>(), "{:?} {:?}", scheme, cut);
            let asked: f64 = scheme.iter().map(|rung| f64::from(*rung)).sum::<f64>() * share;
            let got = f64::from(cut.iter().sum::<u32>());
            prop_assert!((got - asked).abs() <= 5.0 * rungs as f64, "{:?} {:?}", scheme, cut);
        }
    }
}
