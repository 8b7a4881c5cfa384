//! What somebody's results say of their pace beside everything on file: a correction for each kind of work, and how sure it is.
//!
//! Pace is a logarithm here: 0.05 is 5 % slower than the file says. Somebody is slower all over, slower at one kind of work, at pieces that are mostly
//! of a family of it, at one movement, and slower the longer it lasts; these add up. What is believed of them is a normal distribution over all of them together, since a slow day of
//! thrusters and runs may be either's.

use serde::{Deserialize, Serialize};

use super::by_movement::ByMovement;
use super::capability::{ByCapability, Capability, Families, Family, families};
use crate::movement::{Movement, MovementId};

/// Coordinates: each capability, all over, with the length, with rests, and for each kind of piece.
const SIZE: usize = Capability::COUNT + 3 + Family::COUNT;
const ALL_OVER: usize = Capability::COUNT;
const LENGTH: usize = Capability::COUNT + 1;
const RESTED: usize = Capability::COUNT + 2;
const PIECE: usize = Capability::COUNT + 3;
/// A piece of this length, in seconds, is neither long nor short.
const USUAL_S: f64 = 600.0;
/// Lengths beyond so many powers of e around it are no further away.
const FARTHEST: f64 = 1.5;

/// What a piece is made of: the kinds of work with their shares of the time, and how long it is.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Direction {
    /// Shares of the time at work.
    #[serde(with = "some_shares")]
    pub shares: ByCapability,
    /// Shares of the time at work by movement, machines and runs apart.
    #[serde(default, with = "some_movements", skip_serializing_if = "Vec::is_empty")]
    pub movements: Vec<(MovementId, f64)>,
    /// As an effort, in seconds.
    pub length_s: f64,
    /// Whether it is bouts with a rest between them, of which the slowest counts.
    pub rested: bool,
}

/// Shares as they are kept: those that are some, to a thousandth.
mod some_shares {
    use serde::{Deserialize as _, Deserializer, Serialize as _, Serializer};

    use crate::pacing::capability::{ByCapability, Capability};

    const STEP: f64 = 1e3;

    pub fn thousandths(share: f64) -> f64 {
        (share * STEP).round() / STEP
    }

    pub fn serialize<S: Serializer>(shares: &ByCapability, to: S) -> Result<S::Ok, S::Error> {
        let all = Capability::ALL.into_iter().zip(shares);
        let all = all.map(|(capability, share)| (capability, thousandths(*share)));
        all.filter(|(_, share)| *share > 0.0).collect::<Vec<_>>().serialize(to)
    }

    pub fn deserialize<'de, D: Deserializer<'de>>(from: D) -> Result<ByCapability, D::Error> {
        let mut shares = ByCapability::default();
        for (capability, share) in Vec::<(Capability, f64)>::deserialize(from)? {
            shares[capability as usize] = share;
        }
        Ok(shares)
    }
}

/// The same of movements.
mod some_movements {
    use serde::{Deserialize as _, Deserializer, Serialize as _, Serializer};

    use super::some_shares::thousandths;
    use crate::movement::MovementId;

    pub fn serialize<S: Serializer>(shares: &[(MovementId, f64)], to: S) -> Result<S::Ok, S::Error> {
        let all = shares.iter().map(|(movement, share)| (movement, thousandths(*share)));
        all.filter(|(_, share)| *share > 0.0).collect::<Vec<_>>().serialize(to)
    }

    pub fn deserialize<'de, D: Deserializer<'de>>(from: D) -> Result<Vec<(MovementId, f64)>, D::Error> {
        Vec::deserialize(from)
    }
}

impl Direction {
    fn vector(&self) -> [f64; SIZE] {
        let mut vector = [0.0; SIZE];
        vector[..Capability::COUNT].copy_from_slice(&self.shares);
        vector[ALL_OVER] = 1.0;
        vector[LENGTH] = lengthy(self.length_s);
        vector[RESTED] = f64::from(u8::from(self.rested));
        vector[PIECE..].copy_from_slice(&families(&self.shares));
        vector
    }
}

fn lengthy(seconds: f64) -> f64 {
    (seconds.max(1.0) / USUAL_S).ln().clamp(-FARTHEST, FARTHEST)
}

/// How far people, or gyms, lie apart in pace: standard deviations of its logarithm.
#[derive(Clone, Copy, Debug)]
pub struct Apart {
    /// All over.
    pub all_over: f64,
    /// At each kind of work.
    pub at_work: f64,
    /// By power of e of the length.
    pub by_length: f64,
    /// In bouts with a rest between them.
    pub rested: f64,
    /// At each movement beside its kind of work.
    pub at_movement: f64,
    /// At pieces that are mostly of a family of work.
    pub at_piece: f64,
}

/// A normal distribution over a pace all over, at each kind of work, and by length, with independent ones of each movement beside it.
#[derive(Clone, Debug, PartialEq)]
pub struct Normal {
    mean: [f64; SIZE],
    cov: [[f64; SIZE]; SIZE],
    movements: ByMovement,
}

impl Normal {
    /// Around nothing, with independent standard deviations.
    pub fn around_nothing(apart: Apart) -> Self {
        let mut cov = [[0.0; SIZE]; SIZE];
        for (n, row) in cov.iter_mut().enumerate() {
            row[n] = match n {
                ALL_OVER => apart.all_over,
                LENGTH => apart.by_length,
                RESTED => apart.rested,
                PIECE.. => apart.at_piece,
                _ => apart.at_work,
            }
            .powi(2);
        }
        Self { mean: [0.0; SIZE], cov, movements: ByMovement::around_nothing(apart.at_movement) }
    }

    /// The sum of two that have nothing to do with each other.
    pub fn plus(&self, other: &Self) -> Self {
        let mut sum = self.clone();
        sum.mean.iter_mut().zip(other.mean).for_each(|(mine, more)| *mine += more);
        for (mine, more) in sum.cov.iter_mut().flatten().zip(other.cov.iter().flatten()) {
            *mine += more;
        }
        sum.movements = self.movements.plus(&other.movements);
        sum
    }

    /// In the middle, for a piece.
    pub fn mean(&self, of: &Direction) -> f64 {
        dot(&self.mean, &of.vector()) + self.movements.mean(&of.movements)
    }

    /// For a piece, one standard deviation.
    pub fn spread(&self, of: &Direction) -> f64 {
        let along = of.vector();
        (dot(&self.times(&along), &along) + self.movements.variance(&of.movements)).max(0.0).sqrt()
    }

    /// Movements of which something was heard.
    pub fn movements(&self) -> impl Iterator<Item = &MovementId> {
        self.movements.heard()
    }

    /// As time goes by with nothing heard: what was believed fades towards `usual`, by this share.
    pub fn fade(&mut self, share: f64, usual: &Self) {
        let kept = 1.0 - share;
        for (mine, theirs) in self.mean.iter_mut().zip(usual.mean) {
            *mine = theirs + (*mine - theirs) * kept;
        }
        for (mine, theirs) in self.cov.iter_mut().flatten().zip(usual.cov.iter().flatten()) {
            *mine = *mine * kept * kept + theirs * (1.0 - kept * kept);
        }
        self.movements.fade(kept, &usual.movements);
    }

    /// Hears that a piece went at `pace`, give or take `noise`; no prediction of any piece moves by more than `ceiling` at once.
    pub fn hear(&mut self, of: &Direction, pace: f64, noise: f64, ceiling: f64) {
        let vector = of.vector();
        let along = self.times(&vector);
        let all = dot(&along, &vector) + self.movements.variance(&of.movements) + noise * noise;
        let gain = along.map(|value| value / all);
        let of_movements = self.movements.gains(&of.movements, all);
        let surprise = pace - self.mean(of);
        // The piece that would move most is of one kind of work, of one family, and of one movement or of none of these, and as long or as short as any.
        let kinds = &gain[..Capability::COUNT];
        let ends = [-FARTHEST, FARTHEST].map(|length| gain[ALL_OVER] + gain[LENGTH] * length);
        let ends = ends.into_iter().flat_map(|end| [end, end + gain[RESTED]]);
        let beside = of_movements.iter().copied().fold(0.0, f64::max);
        let families = &gain[PIECE..];
        let pieces = ends.flat_map(|end| {
            let kinds =
                kinds.iter().flat_map(move |kind| families.iter().map(move |family| end + kind + family));
            kinds.flat_map(|kind| [kind, kind + beside])
        });
        let most = pieces.map(f64::abs).fold(0.0, f64::max);
        let surprise = surprise.clamp(-ceiling / most.max(1e-9), ceiling / most.max(1e-9));
        for (row, (mean, gain)) in self.mean.iter_mut().zip(gain).enumerate() {
            *mean += gain * surprise;
            for (column, cov) in self.cov[row].iter_mut().enumerate() {
                *cov -= gain * along[column];
            }
        }
        self.movements.hear(&of.movements, &of_movements, surprise);
    }

    /// Hears that a piece went slower than `pace`, and nothing more: what is then believed of the piece has the mean and the spread of
    /// a normal distribution cut off there, and so does everything else that goes with it.
    pub fn hear_at_least(&mut self, of: &Direction, pace: f64, noise: f64, ceiling: f64) {
        let (mean, known) = (self.mean(of), self.spread(of).powi(2));
        let all = known + noise * noise;
        let beyond = (pace - mean) / all.sqrt();
        let hazard = hazard(beyond);
        let surprise = known / all.sqrt() * hazard;
        let left = known - known * known / all * hazard * (hazard - beyond);
        // The same as if so much had been heard, with so much noise.
        let precision = 1.0 / left.max(known * 1e-3) - 1.0 / known;
        if known > 0.0 && precision > 1e-3 {
            let heard = mean + surprise * (1.0 + 1.0 / (precision * known));
            self.hear(of, heard, precision.recip().sqrt(), ceiling);
        }
    }

    fn times(&self, of: &[f64; SIZE]) -> [f64; SIZE] {
        self.cov.map(|row| dot(&row, of))
    }
}

impl Direction {
    /// A piece of ten minutes of one movement.
    pub fn of_one(movement: &Movement) -> Self {
        let mut shares = ByCapability::default();
        shares[Capability::of(movement) as usize] = 1.0;
        let movements = vec![(movement.id.clone(), 1.0)];
        Self { shares, movements, length_s: USUAL_S, rested: false }
    }
}

fn dot(a: &[f64; SIZE], b: &[f64; SIZE]) -> f64 {
    a.iter().zip(b).map(|(a, b)| a * b).sum()
}

/// Density over what is left above, of a standard normal.
fn hazard(at: f64) -> f64 {
    // Beyond this the quotient is of two numbers that are nearly nothing.
    if at > 6.0 {
        return at + 1.0 / at;
    }
    let density = (-0.5 * at * at).exp() / (std::f64::consts::TAU).sqrt();
    density / standard_normal_below(-at)
}

/// How much of a standard normal lies below.
pub fn standard_normal_below(at: f64) -> f64 {
    0.5 * libm::erfc(-at / std::f64::consts::SQRT_2)
}

/// A logarithm of pace as coaches say it, `12 % slower`; nothing below one percent.
pub fn in_words(slower: f64) -> Option<String> {
    let share = slower.exp_m1() * 100.0;
    let word = if share > 0.0 { "slower" } else { "quicker" };
    (share.abs() >= 1.0).then(|| format!("{:.0} % {word}", share.abs()))
}

/// Most kinds of work that are named.
const MOST_TOLD: usize = 3;

/// What is believed of a member's pace from results, ready for predictions.
#[derive(Clone, Debug, PartialEq)]
pub struct Learned {
    believed: Normal,
    /// How much the spread of what results say weighs against what the file leaves open: from 0 to 1 with the results of the gym.
    weight: f64,
    /// Factor on a day's spread, from how far results lay from their predictions.
    wider: f64,
    /// Results of their own.
    own: usize,
}

impl Learned {
    /// From what is believed.
    pub fn new(believed: Normal, weight: f64, wider: f64, own: usize) -> Self {
        Self { believed, weight, wider, own }
    }

    /// On the time of a kind of work.
    pub fn factor(&self, capability: Capability) -> f64 {
        (self.believed.mean[ALL_OVER] + self.believed.mean[capability as usize]).exp()
    }

    /// On the time of a movement, beside that of its kind of work.
    pub fn factor_of(&self, movement: &MovementId) -> f64 {
        self.believed.movements.mean_of(movement).exp()
    }

    /// On all times of a piece of a length in seconds, in bouts with a rest between them or not.
    pub fn factor_of_piece(&self, of: &Families, seconds: f64, rested: bool) -> f64 {
        let mean = &self.believed.mean;
        let mostly: f64 = of.iter().zip(&mean[PIECE..]).map(|(share, mean)| share * mean).sum();
        (mostly + mean[LENGTH] * lengthy(seconds) + if rested { mean[RESTED] } else { 0.0 }).exp()
    }

    /// How much slower a piece goes than the file says, as a logarithm.
    pub fn slower(&self, of: &Direction) -> f64 {
        self.believed.mean(of)
    }

    /// How far that may be off, where the file alone would leave so much open.
    pub(super) fn unsure(&self, of: &Direction, by_file: f64) -> f64 {
        let known = self.believed.spread(of).powi(2);
        (known * self.weight + by_file.powi(2) * (1.0 - self.weight)).sqrt()
    }

    /// Factor on a day's spread.
    pub fn wider(&self) -> f64 {
        self.wider
    }

    /// How many results of their own it rests on.
    pub fn own(&self) -> usize {
        self.own
    }

    /// In words, for a piece: what it rests on, and what stands out.
    pub fn told(&self, of: &Direction) -> String {
        let whose = match self.own {
            0 => "the gym's results, none of their own yet".to_owned(),
            1 => "1 result of their own".to_owned(),
            n => format!("{n} results of their own"),
        };
        let all = in_words(self.slower(of)).map_or_else(
            || "as the file says".to_owned(),
            |words| format!("{words} than the file alone says"),
        );
        let out = self.stands_out().into_iter().filter_map(|(capability, slower)| {
            in_words(slower).map(|words| format!("{words} at {}", capability.words()))
        });
        let out: Vec<String> = out.take(MOST_TOLD).collect();
        let out = if out.is_empty() { String::new() } else { format!("; {}", out.join(", ")) };
        format!("From {whose}: {all}{out}")
    }

    /// What stands out: kinds of work with how much slower they go than the file says, the surest and largest first, as far as that is more than
    /// its uncertainty.
    pub fn stands_out(&self) -> Vec<(Capability, f64)> {
        let of = |capability: Capability| {
            let mut shares = ByCapability::default();
            shares[capability as usize] = 1.0;
            let of = Direction { shares, length_s: USUAL_S, ..Direction::default() };
            (capability, self.believed.mean(&of), self.believed.spread(&of))
        };
        let mut all: Vec<_> = Capability::ALL.into_iter().map(of).collect();
        all.retain(|(_, slower, spread)| slower.abs() > *spread);
        all.sort_by(|a, b| (b.1.abs() / b.2).total_cmp(&(a.1.abs() / a.2)));
        all.into_iter().map(|(capability, slower, _)| (capability, slower)).collect()
    }
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    const APART: Apart = Apart {
        all_over: 0.12,
        at_work: 0.08,
        by_length: 0.03,
        rested: 0.03,
        at_movement: 0.1,
        at_piece: 0.05,
    };
    const CEILING: f64 = 0.06;

    fn pure(capability: Capability, length_s: f64, rested: bool) -> Direction {
        let mut shares = ByCapability::default();
        shares[capability as usize] = 1.0;
        Direction { shares, length_s, rested, ..Direction::default() }
    }

    fn movement(n: usize) -> MovementId {
        MovementId::new(["box-jump", "wall-ball", "burpee"][n % 3])
    }

    fn mixed(seed: u8, length_s: f64, rested: bool) -> Direction {
        let mut shares = ByCapability::default();
        let place = usize::from(seed) % Capability::COUNT;
        shares[place] += 0.6;
        shares[(place + 5) % Capability::COUNT] += 0.4;
        let movements = vec![(movement(place), 0.6), (movement(place + 1), 0.4)];
        Direction { shares, movements, length_s, rested }
    }

    #[test]
    fn what_is_open_lies_between_what_results_and_the_file_leave_open() {
        let of = pure(Capability::Push, 600.0, false);
        let by_file = 0.3;
        let unsure =
            |weight| Learned::new(Normal::around_nothing(APART), weight, 1.0, 0).unsure(&of, by_file);
        let by_results = Normal::around_nothing(APART).spread(&of);
        assert!((unsure(0.0) - by_file).abs() < 1e-9 && (unsure(1.0) - by_results).abs() < 1e-9);
        let half = f64::midpoint(by_file.powi(2), by_results.powi(2)).sqrt();
        assert!((unsure(0.5) - half).abs() < 1e-9, "{} for {half}", unsure(0.5));
        let of_own = |own| Learned::new(Normal::around_nothing(APART), 0.5, 1.2, own);
        assert_eq!((of_own(0).own(), of_own(4).own(), of_own(4).wider()), (0, 4, 1.2));
    }

    proptest! {
        /// Whatever is heard, however often before, no piece of any kind moves by more than the ceiling; hearing makes surer, and slower
        /// makes slower.
        #[test]
        fn nothing_that_is_heard_moves_anything_beyond_the_ceiling(
            before in prop::collection::vec((0_u8..24, 60.0..3000.0_f64, any::<bool>(), -0.4..0.4_f64), 0..12),
            last in (0_u8..24, 60.0..3000.0_f64, any::<bool>(), -3.0..3.0_f64),
            at_least in any::<bool>(),
        ) {
            let mut believed = Normal::around_nothing(APART);
            for (seed, length, rested, pace) in before {
                believed.hear(&mixed(seed, length, rested), pace, 0.08, CEILING);
            }
            let (seed, length, rested, pace) = last;
            let of = mixed(seed, length, rested);
            let mut after = believed.clone();
            if at_least {
                after.hear_at_least(&of, pace, 0.08, CEILING);
                prop_assert!(after.mean(&of) >= believed.mean(&of) - 1e-9, "a lower bound makes nobody quicker");
            } else {
                after.hear(&of, pace, 0.08, CEILING);
                prop_assert!((pace - believed.mean(&of)) * (after.mean(&of) - believed.mean(&of)) >= -1e-12);
            }
            prop_assert!(after.spread(&of) <= believed.spread(&of) + 1e-9);
            for capability in Capability::ALL {
                for (place, length_s) in [60.0, 600.0, 3000.0].into_iter().enumerate() {
                    for rested in [false, true] {
                        let piece = pure(capability, length_s, rested);
                        let of_one = Direction { movements: vec![(movement(place), 1.0)], ..piece.clone() };
                        for piece in [piece, of_one] {
                            let moved = (after.mean(&piece) - believed.mean(&piece)).abs();
                            prop_assert!(moved <= CEILING + 1e-9, "{piece:?} by {moved}");
                        }
                    }
                }
            }
        }
    }

    #[test]
    fn what_is_learned_of_one_kind_of_work_says_less_about_another() {
        let mut believed = Normal::around_nothing(APART);
        let bar = pure(Capability::Barbell, 600.0, false);
        for _ in 0..6 {
            believed.hear(&bar, 0.15, 0.08, CEILING);
        }
        let run = pure(Capability::Run, 600.0, false);
        let (at_the_bar, running) = (believed.mean(&bar), believed.mean(&run));
        assert!((0.11..0.15).contains(&at_the_bar), "{at_the_bar}");
        assert!(running > 0.05 && running < at_the_bar * 0.8, "{running}");
        assert!(believed.spread(&bar) < believed.spread(&run));
    }

    /// What is slow in pieces with boxes and not without them is the boxes: whoever does other things for breath is as quick as ever.
    #[test]
    fn a_movement_that_is_slow_is_told_from_its_kind_of_work() {
        let mut believed = Normal::around_nothing(APART);
        let breath =
            |n| Direction { movements: vec![(movement(n), 1.0)], ..pure(Capability::Breath, 600.0, false) };
        for _ in 0..12 {
            believed.hear(&breath(0), 0.2, 0.08, 1.0);
            believed.hear(&breath(2), 0.0, 0.08, 1.0);
        }
        let [boxes, other, burpees] = [0, 1, 2].map(|n| believed.mean(&breath(n)));
        assert!(boxes > 0.15 && burpees < 0.05 && (0.05..0.15).contains(&other), "{boxes} {other} {burpees}");
        let learned = Learned::new(believed, 1.0, 1.0, 24);
        assert!(learned.factor_of(&movement(0)) > 1.05 && learned.factor_of(&movement(2)) < 0.97);
    }

    #[test]
    fn who_is_slow_where_the_bar_is_most_of_a_piece_is_less_so_where_it_is_a_little() {
        let mut believed = Normal::around_nothing(APART);
        let with_bar = |share: f64| {
            let mut shares = ByCapability::default();
            (shares[Capability::Barbell as usize], shares[Capability::Run as usize]) = (share, 1.0 - share);
            Direction { shares, length_s: 600.0, ..Direction::default() }
        };
        for _ in 0..12 {
            believed.hear(&with_bar(0.7), 0.15, 0.08, 1.0);
            believed.hear(&with_bar(0.3), 0.0, 0.08, 1.0);
        }
        let [most, half, little] = [0.7, 0.5, 0.3].map(|share| believed.mean(&with_bar(share)));
        assert!(most > half + 0.04 && half > little + 0.04, "{most} {half} {little}");
        // The piece's own part of it is on all of its time.
        let learned = Learned::new(believed, 1.0, 1.0, 24);
        let of = |share: f64| learned.factor_of_piece(&families(&with_bar(share).shares), 600.0, false);
        assert!(of(0.7) > 1.02 && of(0.3) < of(0.7) - 0.03, "{} {}", of(0.7), of(0.3));
    }

    #[test]
    fn a_lower_bound_far_below_says_nothing_and_one_above_what_was_believed_says_much() {
        let of = pure(Capability::Breath, 600.0, false);
        let fresh = Normal::around_nothing(APART);
        let heard = |pace: f64| {
            let mut believed = fresh.clone();
            believed.hear_at_least(&of, pace, 0.08, 1.0);
            believed.mean(&of)
        };
        assert!(heard(-0.6).abs() < 0.002);
        assert!(heard(0.0) > 0.05 && heard(0.2) > heard(0.0));
        // The mean of a standard normal beyond its middle is 0.798: of what is known, along what is heard.
        let known = 0.12_f64.powi(2) + 0.08_f64.powi(2) + 0.05_f64.powi(2);
        let all = known + 0.08_f64.powi(2);
        assert!((heard(0.0) - 0.7979 * known / all.sqrt()).abs() < 1e-3, "{}", heard(0.0));
    }

    #[test]
    fn with_time_what_was_believed_fades_to_what_is_usual() {
        let of = Direction { movements: vec![(movement(0), 1.0)], ..pure(Capability::Run, 600.0, false) };
        let usual = Normal::around_nothing(APART);
        let mut believed = usual.clone();
        believed.hear(&of, 0.2, 0.05, 1.0);
        let (mean, spread) = (believed.mean(&of), believed.spread(&of));
        believed.fade(0.5, &usual);
        assert!((believed.mean(&of) - mean / 2.0).abs() < 1e-12);
        assert!(believed.spread(&of) > spread && believed.spread(&of) < usual.spread(&of));
        believed.fade(1.0, &usual);
        assert!(believed.mean(&of).abs() < 1e-12);
    }

    #[test]
    fn a_direction_is_kept_short_and_comes_back() {
        let of = mixed(3, 612.5, true);
        let kept = serde_json::to_string(&of).unwrap();
        assert_eq!(
            kept,
            r#"{"shares":[["pull",0.6],["row",0.4]],"movements":[["box-jump",0.6],["wall-ball",0.4]],"length_s":612.5,"rested":true}"#
        );
        assert_eq!(serde_json::from_str::<Direction>(&kept).unwrap(), of);
        // As they were kept before movements were.
        let before = r#"{"shares":[["pull",0.6],["row",0.4]],"length_s":612.5,"rested":true}"#;
        let without = Direction { movements: Vec::new(), ..of };
        assert_eq!(serde_json::from_str::<Direction>(before).unwrap(), without);
    }

    #[test]
    fn what_stands_out_is_told_and_what_does_not_is_not() {
        let mut believed = Normal::around_nothing(APART);
        for _ in 0..20 {
            believed.hear(&pure(Capability::Row, 600.0, false), -0.2, 0.05, 1.0);
            believed.hear(&pure(Capability::Legs, 600.0, false), 0.0, 0.05, 1.0);
        }
        let learned = Learned::new(believed, 1.0, 1.0, 20);
        let told = learned.told(&pure(Capability::Row, 600.0, false));
        assert!(
            told.starts_with("From 20 results of their own: 1") && told.contains("quicker at rowing"),
            "{told}"
        );
        assert!(!told.contains("squats"), "{told}");
        assert!(learned.factor(Capability::Row) < 0.9);
    }

    /// Of a standard normal that is known to lie above 0, and above 1: the mean and the spread of what is left, as any table has them.
    #[test]
    fn what_is_only_known_to_have_been_slower_is_a_distribution_cut_off() {
        for (bound, mean, spread) in [(0.0, 0.798, 0.603), (0.1, 1.525, 0.446)] {
            let of = pure(Capability::Legs, USUAL_S, false);
            let mut believed = Normal::around_nothing(Apart {
                all_over: 0.1,
                at_work: 0.0,
                at_piece: 0.0,
                at_movement: 0.0,
                by_length: 0.0,
                rested: 0.0,
            });
            believed.hear_at_least(&of, bound, 1e-6, 10.0);
            let (heard, left) = (believed.mean(&of) / 0.1, believed.spread(&of) / 0.1);
            assert!((heard - mean).abs() < 0.01 && (left - spread).abs() < 0.01, "{bound}: {heard} {left}");
        }
    }
}
