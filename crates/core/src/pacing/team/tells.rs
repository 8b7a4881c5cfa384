//! What a team's result tells of each of its members.
//!
//! One number stands for the pace of several. Of each it is heard as if all had been as much slower, and so much less surely that as much is left
//! open of them as the number leaves open: what their mates' files and days may have been off by lies in it too.

use crate::pacing::spread::{FINE, Rests};

/// Who does how much is theirs to say, and nobody tells: so far that may move what somebody takes, one standard deviation of a logarithm. Judgement.
const SHARES_UNTOLD: f64 = 0.05;
/// Whoever moves the result by less than so much of it is not heard in it.
const LEAST_PART: f64 = 0.15;

/// Of each mate, from what a result of theirs alone would tell and how much of the team's moves with it (all of them together 1). None where it tells
/// nothing of one of them alone.
pub(super) fn tells(alone: &[(Option<&Rests>, f64)], theirs_to_share: bool) -> Vec<Option<Rests>> {
    let all: Option<Vec<(&Rests, f64)>> =
        alone.iter().map(|(rests, part)| Some(((*rests)?, part * rests.as_ref()?.pull))).collect();
    let Some(all) = all else { return vec![None; alone.len()] };
    let pull: f64 = all.iter().map(|(_, pull)| pull).sum();
    let open: f64 =
        all.iter().map(|(rests, pull)| pull.powi(2) * (rests.noise.powi(2) + rests.unsure.powi(2))).sum();
    let untold = if theirs_to_share { SHARES_UNTOLD } else { 0.0 };
    let of = |(rests, own): (&Rests, f64)| {
        (own / pull >= LEAST_PART).then(|| {
            let beside = (open / own.powi(2) - rests.unsure.powi(2)).max(0.0).sqrt();
            let part = own / pull;
            let [pull, noise, part] =
                [pull, beside.hypot(untold), part].map(|value| (value / FINE).round() * FINE);
            Rests { pull, noise, part, ..rests.clone() }
        })
    };
    all.into_iter().map(of).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::pacing::{Capability, Direction};

    fn rests(noise: f64, unsure: f64) -> Rests {
        let mut shares = [0.0; Capability::COUNT];
        shares[Capability::Breath as usize] = 1.0;
        let of = Direction { shares, length_s: 600.0, ..Direction::default() };
        Rests { of, pull: 1.0, noise, slower: 0.0, unsure, part: 1.0 }
    }

    /// What is left open of somebody, a normal distribution, after something was heard of it with a noise.
    fn left(unsure: f64, noise: f64) -> f64 {
        let known = unsure.powi(2);
        known * noise.powi(2) / (known + noise.powi(2))
    }

    #[test]
    fn as_much_is_left_open_of_somebody_as_the_teams_number_leaves() {
        let (ann, bo) = (rests(0.06, 0.12), rests(0.08, 0.2));
        let told = tells(&[(Some(&ann), 0.4), (Some(&bo), 0.6)], false);
        // By hand: the number is 0.4 of one and 0.6 of the other, each with their day.
        let all = 0.16 * (0.0036 + 0.0144) + 0.36 * (0.0064 + 0.04);
        for (own, part, told) in [(&ann, 0.4, &told[0]), (&bo, 0.6, &told[1])] {
            let known = own.unsure.powi(2);
            let by_hand = known - (part * known).powi(2) / all;
            let noise = told.as_ref().unwrap().noise;
            assert!((left(own.unsure, noise) - by_hand).abs() < 1e-5, "{noise}");
            assert!(noise > own.noise && (told.as_ref().unwrap().pull - 1.0).abs() < 1e-9);
        }
        let untold = tells(&[(Some(&ann), 0.4), (Some(&bo), 0.6)], true);
        assert!(untold[0].as_ref().unwrap().noise > told[0].as_ref().unwrap().noise);
    }

    #[test]
    fn alone_it_is_ones_own_and_who_does_not_count_is_not_heard() {
        let own = rests(0.06, 0.12);
        let alone = tells(&[(Some(&own), 1.0)], false).remove(0).unwrap();
        assert!((alone.noise - own.noise).abs() < 1e-9, "{alone:?}");
        assert_eq!(Rests { noise: own.noise, ..alone }, own);
        let told = tells(&[(Some(&own), 0.95), (Some(&own), 0.05)], false);
        assert!(told[0].is_some() && told[1].is_none(), "in step, the quicker of two sets no pace");
        assert_eq!(tells(&[(Some(&own), 0.5), (None, 0.5)], false), [None, None]);
    }
}
