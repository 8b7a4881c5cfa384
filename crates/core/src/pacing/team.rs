//! One result of several people who share a piece, from what each of them would do of it with mates like themselves.
//!
//! Where one works at a time, the seconds of the whole are those that each takes for their own share of it, one after the other;
//! in step, the slowest sets the pace. A smaller share leaves more rest: what a share of its own costs somebody is walked, not guessed.

use super::ability::Athlete;
use super::model::Model;
use super::simulate::{How, Luck, simulate_as};
use super::spread::{Days, Instead, Prediction, Quantiles};
use super::window::{Measure, Window};
use crate::movement::Catalogue;
use crate::session::{Node, Sharing};

/// Shares at which somebody is walked, of an even one: beyond them it is hardly a team any more. Coaching judgement.
const SHARES: [f64; 5] = [0.7, 0.85, 1.0, 1.15, 1.3];
/// Steps in which shares are exchanged in search of the best, of an even one: no coach counts finer.
const A_STEP: f64 = 0.05;

/// How the first shared piece of work in a tree is shared; none where everybody works alone.
pub fn sharing(tree: &Node) -> Option<Sharing> {
    match tree {
        Node::Together { sharing, .. } => Some(*sharing),
        other => other.children().into_iter().find_map(sharing),
    }
}

/// Somebody in a team.
pub struct Mate<'a> {
    /// Who.
    pub athlete: Athlete<'a>,
    /// Their version of the piece.
    pub tree: &'a Node,
    /// What they would do with mates like themselves.
    pub predicted: &'a Prediction,
}

/// A team's result with the shares that it rests on.
#[derive(Clone, Debug, PartialEq)]
pub struct Shared {
    /// Share of the work of each, in the order of the mates; they add up to 1.
    pub shares: Vec<f64>,
    /// What to expect.
    pub predicted: Prediction,
}

/// What a team is expected to do.
pub struct Team<'a> {
    sharing: Sharing,
    mates: &'a [Mate<'a>],
    /// Of each mate at each of [`SHARES`]: what the whole would take of them at that share, against what was predicted.
    costs: Vec<[f64; SHARES.len()]>,
}

impl<'a> Team<'a> {
    /// A team that shares in this way.
    pub fn new(sharing: Sharing, mates: &'a [Mate<'a>], catalogue: &Catalogue, model: &Model) -> Self {
        let even = 1.0 / mates.len().max(1) as f64;
        let walk = |mate: &Mate<'_>, share: Option<f64>| {
            let how = How { share, ..How::default() };
            let run = simulate_as(how, mate.tree, &mate.athlete, catalogue, model, Luck::MEDIAN);
            mate.predicted.measure.of(&run)
        };
        let cost = |mate: &Mate<'_>| {
            if !may_share_out(sharing) {
                return [1.0; SHARES.len()];
            }
            let alike = walk(mate, None).max(1e-9);
            SHARES.map(|of_even| {
                let own = walk(mate, Some(even * of_even)).max(1e-9);
                if mate.predicted.measure.is_time() { own / alike } else { alike / own }
            })
        };
        Self { sharing, mates, costs: mates.iter().map(cost).collect() }
    }

    /// With even shares, or those that whole rounds in turn come to: what a coach expects unless told otherwise.
    pub fn even(&self, window: &Window, days: &Days) -> Shared {
        let count = self.mates.len().max(1);
        let in_turn = self.mates.first().filter(|_| self.sharing == Sharing::Rounds);
        let shares = in_turn.and_then(|mate| of_rounds(mate.tree, count));
        self.with(shares.unwrap_or_else(|| vec![1.0 / count as f64; count]), window, days)
    }

    /// With the shares that make the best result; none where the work is not theirs to share out, or even ones are the best.
    pub fn best(&self, window: &Window, days: &Days) -> Option<Shared> {
        let count = self.mates.len();
        if !may_share_out(self.sharing) || count < 2 {
            return None;
        }
        let even = 1.0 / count as f64;
        let mut shares = vec![even; count];
        let mut now = self.seconds(&shares);
        let step = even * A_STEP;
        let ends = (even * SHARES[0], even * SHARES[SHARES.len() - 1]);
        while let Some((then, better)) = exchanges(&shares, step, ends)
            .map(|shares| (self.seconds(&shares), shares))
            .min_by(|a, b| a.0.total_cmp(&b.0))
            .filter(|(then, _)| *then < now - 1e-9)
        {
            (now, shares) = (then, better);
        }
        (shares.iter().any(|share| (share - even).abs() > step)).then(|| self.with(shares, window, days))
    }

    /// What the whole takes on a median day, in seconds, or in windows a round or a repetition.
    fn seconds(&self, shares: &[f64]) -> f64 {
        let each = self.mates.iter().zip(shares).enumerate();
        each.map(|(n, (mate, share))| {
            share * self.cost(n, *share) * cost_of(mate.predicted.measure, mate.predicted.spread.p50)
        })
        .sum()
    }

    /// How much more than predicted the whole would take of a mate at a share, between the shares that were walked.
    fn cost(&self, mate: usize, share: f64) -> f64 {
        let at = share * self.mates.len() as f64;
        let costs = &self.costs[mate];
        let cell = SHARES.windows(2).position(|pair| at <= pair[1] + 1e-9).unwrap_or(SHARES.len() - 2);
        let into = ((at - SHARES[cell]) / (SHARES[cell + 1] - SHARES[cell])).clamp(0.0, 1.0);
        costs[cell] + (costs[cell + 1] - costs[cell]) * into
    }

    /// Each mate has a day of their own; the team's days are put together from them.
    fn with(&self, shares: Vec<f64>, window: &Window, days: &Days) -> Shared {
        let measure = self.mates.first().map_or(Measure::Finish, |mate| mate.predicted.measure);
        let factors: Vec<f64> =
            shares.iter().enumerate().map(|(n, share)| share * self.cost(n, *share)).collect();
        let on = |day: usize, measure: Measure, spread: fn(&Prediction) -> Quantiles| {
            let own = self
                .mates
                .iter()
                .enumerate()
                .map(|(n, mate)| cost_of(measure, spread(mate.predicted).at(days.luck_of(n, day))));
            let whole: f64 = match self.sharing {
                Sharing::Together | Sharing::Stations => own.fold(0.0, f64::max),
                Sharing::Freely | Sharing::Rounds | Sharing::InTurns { .. } | Sharing::Held => {
                    own.zip(&factors).map(|(cost, factor)| cost * factor).sum()
                }
            };
            cost_of(measure, whole)
        };
        let all = |measure: Measure, spread: fn(&Prediction) -> Quantiles| -> Vec<f64> {
            (0..days.len()).map(|day| on(day, measure, spread)).collect()
        };
        let values = all(measure, |own| own.spread);
        let inside = values.iter().filter(|value| window.holds(**value)).count();
        let finishes = match measure {
            Measure::Finish => values.clone(),
            _ => all(Measure::Finish, |own| own.finish_s),
        };
        let predicted = Prediction {
            measure,
            spread: Quantiles::of(values),
            instead: self.instead(),
            finish_s: Quantiles::of(finishes),
            chance: inside as f64 / days.len().max(1) as f64,
            guess: self.mates.iter().any(|mate| mate.predicted.guess),
            // It says how quick they are together, and of nobody alone.
            rests: None,
        };
        Shared { shares, predicted }
    }

    /// What they all count in place of what the text counts; none where not all of them count the same.
    fn instead(&self) -> Option<Instead> {
        let all: Vec<Instead> =
            self.mates.iter().map(|mate| mate.predicted.instead).collect::<Option<_>>()?;
        let measure =
            all.first().map(|own| own.measure).filter(|first| all.iter().all(|own| own.measure == *first))?;
        let for_one = all.iter().map(|own| own.for_one).sum::<f64>() / all.len() as f64;
        Some(Instead { measure, for_one })
    }
}

/// Whether it is theirs to say who does how much.
fn may_share_out(sharing: Sharing) -> bool {
    matches!(sharing, Sharing::Freely | Sharing::Held)
}

/// What each of several does of a piece whose rounds they take in turn, the first in the team first: three of five rounds, or the 21 and the 9
/// of 21-15-9. None where rounds go on until the time is up.
fn of_rounds(tree: &Node, mates: usize) -> Option<Vec<f64>> {
    let rounds: Vec<f64> = match tree {
        Node::Together { of, .. } => return of_rounds(of, mates),
        Node::Rounds { times: Some(n), .. } => vec![1.0; *n as usize],
        Node::Scheme { reps, .. } => reps.iter().map(|reps| f64::from(*reps)).collect(),
        _ => return None,
    };
    let all: f64 = rounds.iter().sum();
    let of = |mate: usize| rounds.iter().skip(mate).step_by(mates.max(1)).sum::<f64>() / all;
    (all > 0.0).then(|| (0..mates).map(of).collect())
}

/// Seconds are what something costs; of rounds and repetitions it is the clock that each of them takes. Its own inverse.
fn cost_of(measure: Measure, value: f64) -> f64 {
    if measure.is_time() { value } else { 1.0 / value.max(1e-9) }
}

/// All ways to give a step of one's share to another.
fn exchanges(shares: &[f64], step: f64, (least, most): (f64, f64)) -> impl Iterator<Item = Vec<f64>> {
    let count = shares.len();
    (0..count * count).filter_map(move |n| {
        let (from, to) = (n / count, n % count);
        let possible = from != to && shares[from] - step >= least - 1e-9 && shares[to] + step <= most + 1e-9;
        possible.then(|| {
            let mut shares = shares.to_vec();
            shares[from] -= step;
            shares[to] += step;
            shares
        })
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::member::{Experience, Member, Sex};
    use crate::pacing::{intended_window, predict};
    use crate::read::read;

    fn member(row_2k_s: u32, run_1600_s: u32) -> Member {
        Member {
            sex: Some(Sex::M),
            experience: Experience::Intermediate,
            row_2k_s: Some(row_2k_s),
            run_1600_s: Some(run_1600_s),
            ..Member::default()
        }
    }

    /// What each of two does with a mate alike, what both do with even shares, and with the best ones.
    fn pair(text: &str) -> (Vec<f64>, Shared, Option<Shared>) {
        let (catalogue, model, days) = (Catalogue::standard(), Model::standard(), Days::new(200, 1));
        let part = read(text, catalogue).session.parts.remove(0);
        let window = intended_window(&part, catalogue, model);
        let members = [member(400, 345), member(520, 560)];
        let own: Vec<Prediction> = members
            .iter()
            .map(|member| predict(&part.tree, &Athlete::new(member), catalogue, model, &window, &days).0)
            .collect();
        let both = members.iter().zip(&own);
        let mates: Vec<Mate<'_>> = both
            .map(|(member, predicted)| Mate { athlete: Athlete::new(member), tree: &part.tree, predicted })
            .collect();
        let sharing = sharing(&part.tree).unwrap();
        let team = Team::new(sharing, &mates, catalogue, model);
        let alone = own.iter().map(|own| own.spread.p50).collect();
        (alone, team.even(&window, &days), team.best(&window, &days))
    }

    #[test]
    fn shared_work_lies_between_the_two_and_the_quicker_one_doing_more_is_quicker() {
        let (alone, even, best) = pair("In pairs, share as you like\nFor time\n100 cal row\n100 burpees");
        let middle = even.predicted.spread.p50;
        assert!(alone[0] < middle && middle < alone[1], "{alone:?} {middle}");
        assert!((middle / (alone[0] + alone[1]) * 2.0 - 1.0).abs() < 0.03, "{alone:?} {middle}");
        let best = best.unwrap();
        assert!(best.predicted.spread.p50 < middle && best.shares[0] > 0.52, "{best:?}");
        assert!((best.shares.iter().sum::<f64>() - 1.0).abs() < 1e-9);
    }

    #[test]
    fn in_step_the_slower_one_sets_the_pace_and_there_is_nothing_to_share_out() {
        let (alone, even, best) = pair("In pairs, synchro\nFor time\n60 burpees\n60 air squats");
        assert!(even.predicted.spread.p50 >= alone[1] * 0.98, "{alone:?} {:?}", even.predicted);
        assert_eq!(best, None);
    }

    #[test]
    fn who_begins_does_the_odd_round() {
        let (alone, even, _) =
            pair("In pairs, alternating rounds\n5 rounds for time\n20 cal row\n15 burpees");
        assert!((even.shares[0] - 0.6).abs() < 1e-9 && (even.shares[1] - 0.4).abs() < 1e-9, "{even:?}");
        // The quicker one begins here, and does three of five.
        let middle = (alone[0] + alone[1]) / 2.0;
        assert!(even.predicted.spread.p50 < middle, "{alone:?} {even:?}");
        let (_, falling, _) = pair("In pairs, alternating rounds\n21-15-9 for time\nburpees\nair squats");
        assert!((falling.shares[0] - 30.0 / 45.0).abs() < 1e-9, "{falling:?}");
    }

    #[test]
    fn short_turns_cost_changes_and_a_hold_is_no_rest() {
        let of = |way: &str| pair(&format!("In pairs, {way}\nFor time\n2000 m row\n120 wall balls 9/6 kg")).1;
        let time = |way: &str| of(way).predicted.spread.p50;
        let (free, long, short) =
            (time("share as you like"), time("switch every 500 m"), time("switch every 50 m"));
        assert!(long < short && free < short, "{free} {long} {short}");
        assert!(time("one works while the other holds a plank") > free);
    }

    #[test]
    fn a_team_moves_on_with_the_slowest_of_its_stations() {
        let (alone, even, _) =
            pair("In pairs, one at each station\n4 rounds for time\n15 cal row\n15 burpees");
        assert!(even.predicted.spread.p50 >= alone[1] * 0.98 && alone[0] < alone[1], "{alone:?} {even:?}");
        let (alike, ..) = pair("In pairs, synchro\n4 rounds for time\n15 cal row\n15 burpees");
        assert!(alone[0] > alike[0], "whoever is done waits for the station that takes longest");
    }

    #[test]
    fn rounds_of_a_window_lie_between_the_two_and_two_vary_less_than_one() {
        let (alone, even, _) = pair("In pairs, share as you like\nAMRAP 15\n10 burpees\n15 cal row");
        let spread = even.predicted.spread;
        assert!(alone[1] < spread.p50 && spread.p50 < alone[0], "{alone:?} {spread:?}");
        assert!(spread.p90 / spread.p10 < 1.35, "{spread:?}");
    }
}
