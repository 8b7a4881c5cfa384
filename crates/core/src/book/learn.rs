//! What results tell of pace: of a gym as a whole, and of each member beside it.
//!
//! Each result is one measurement of how slow somebody is beside their file, with the noise of a day in it. It is joined with what is believed
//! already as measurements are, so that few results say little; what was heard long ago fades; and no single one moves any prediction by
//! more than [`CEILING`]. Everything follows from the results that stand: one that is corrected and corrected back leaves nothing behind.

use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

use super::{Done, Entry};
use crate::member::Member;
use crate::pacing::{Apart, Athlete, Direction, Learned, Model, Normal, Rests};

/// No result moves any prediction by more, as a logarithm of pace: through what it says of its member, and through what its class says of the gym.
pub const CEILING: f64 = OWN_CEILING + CLASS_CEILING;
const OWN_CEILING: f64 = 0.06;
const CLASS_CEILING: f64 = 0.02;

/// How far members lie apart beside what is on file, one standard deviation of a logarithm of pace: all over, at each kind of work, and
/// by power of e of the length. Judgement: somebody is one in eight slower or quicker than their lifts and runs say.
const MEMBERS: Apart = Apart { all_over: 0.12, at_work: 0.08, by_length: 0.03, rested: 0.03 };
/// The same of a whole gym: the model may be off for a kind of work as people are taught it there.
const GYM: Apart = Apart { all_over: 0.08, at_work: 0.10, by_length: 0.05, rested: 0.08 };
/// Days in which what was heard of a member, and of a gym, fades to about a third.
const MEMBER_FADES: f64 = 365.0;
const GYM_FADES: f64 = 180.0;
/// Days in which results lose two thirds of their weight in how far days lie apart.
const SPREAD_FADES: f64 = 28.0;
/// How many results the spread that was assumed is worth, and how many it takes until results say more of somebody than the file.
const ASSUMED: f64 = 10.0;
/// A result that lies further off than so many standard deviations says no more about the spread: it is a slip, or a story of its own.
const ODD: f64 = 3.0;
/// What is told of a time that the cap has cut off is guessed from the repetitions that were left, and so much less sure.
const CUT_OFF: f64 = 0.08;
/// What was not done all out, or was entered hours later, is so many times less sure.
const LESS_SURE: f64 = 2.0;
/// Effort up to which somebody has not gone for it.
const EASY: u8 = 5;

/// What a result tells of a pace.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Told {
    /// When it was done.
    pub day: NaiveDate,
    /// What it was made of.
    pub of: Direction,
    /// How slow it was beside the file, as a logarithm.
    pub slower: f64,
    /// It would have been slower still: the cap came first.
    pub at_least: bool,
    /// How sure that is, one standard deviation.
    pub noise: f64,
    /// How slow it had been expected to be, and how far off that may have been.
    pub expected: (f64, f64),
}

impl Entry {
    /// What it tells of a member's pace; nothing where it cannot be compared, where they stopped or something hurt, or where what was measured says
    /// nothing of pace. What is entered hours later tells less.
    pub fn tells(&self, day: NaiveDate, late: bool) -> Option<Told> {
        let predicted = self.predicted.as_ref().filter(|_| !self.hurt)?;
        let Rests { of, pull, noise, slower, unsure } = predicted.rests.clone()?;
        let middle = predicted.quantiles().p50;
        let value = self.value.filter(|value| *value > 0.0 && middle > 0.0)?;
        let went = slower + (value / middle).ln() / pull;
        let cut = matches!(self.done, Done::Capped { left: Some(_) });
        let easy = self.effort.is_some_and(|effort| effort <= EASY);
        let factor = [late, easy].into_iter().filter(|doubt| *doubt).fold(1.0, |all, _| all * LESS_SURE);
        let noise = noise * factor;
        Some(Told {
            day,
            of,
            slower: went,
            at_least: self.at_least && !cut,
            noise: if cut { noise.hypot(CUT_OFF) } else { noise },
            expected: (slower, unsure),
        })
    }
}

impl Told {
    /// The square of how far it lies from what was expected, in standard deviations; none where the cap has cut it off.
    fn surprise(&self) -> Option<f64> {
        let (expected, unsure) = self.expected;
        let far = (self.slower - expected) / self.noise.hypot(unsure);
        (!self.at_least).then(|| far.powi(2).min(ODD * ODD))
    }
}

/// What all results of one piece tell of the gym.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct ToldByClass {
    /// The middle one of them, as one result.
    pub middle: Told,
    /// How many there are.
    pub count: usize,
    /// The mean square of how far they lay from what was expected, in standard deviations.
    pub surprise: f64,
}

impl ToldByClass {
    /// Of the results of one piece on one day; none where there are none, or where the cap has cut off more than half.
    pub fn of(all: &[Told]) -> Option<Self> {
        let mut sorted: Vec<&Told> = all.iter().collect();
        // Whoever was cut off is slower than anybody who was not.
        sorted.sort_by(|a, b| a.at_least.cmp(&b.at_least).then(a.slower.total_cmp(&b.slower)));
        let middle = (*sorted.get(sorted.len() / 2)?).clone();
        if middle.at_least {
            return None;
        }
        let surprises: Vec<f64> = all.iter().filter_map(Told::surprise).collect();
        let count = all.len();
        // People lie apart, which evens out over a class; the piece itself may be off.
        let noise = (MEMBERS.all_over.hypot(middle.noise) / (count as f64).sqrt()).hypot(OF_A_PIECE);
        let surprise = surprises.iter().sum::<f64>() / surprises.len().max(1) as f64;
        Some(Self { middle: Told { noise, ..middle }, count, surprise })
    }
}

/// How far one piece lies from others of its kind for everybody, one standard deviation.
const OF_A_PIECE: f64 = 0.06;

/// What is believed of a gym from the results of its classes.
#[derive(Clone, Debug, PartialEq)]
pub struct OfGym {
    believed: Normal,
    /// How many results there are.
    count: usize,
    wider: f64,
}

impl OfGym {
    /// On a day, from what classes have told before, oldest first.
    pub fn new(all: &[ToldByClass], today: NaiveDate) -> Self {
        let usual = Normal::around_nothing(GYM);
        let heard = all.iter().map(|class| &class.middle);
        let (mut surprises, mut weights) = (ASSUMED, ASSUMED);
        for class in all {
            let days = (today - class.middle.day).num_days().max(0) as f64;
            let weight = class.count as f64 * (-days / SPREAD_FADES).exp();
            surprises += class.surprise * weight;
            weights += weight;
        }
        Self {
            believed: believed(usual.clone(), &usual, heard, today, (GYM_FADES, 1.0, CLASS_CEILING)),
            count: all.iter().map(|class| class.count).sum(),
            wider: (surprises / weights).sqrt(),
        }
    }

    /// What is believed of a member of it from their own results, oldest first; nothing as long as the gym has none.
    pub fn of_member(&self, member: &Member, own: &[Told], today: NaiveDate) -> Option<Learned> {
        if self.count == 0 {
            return None;
        }
        // Of whom little is on file, results say all the more.
        let all_over = Athlete::new(member).unsure(Model::standard()).hypot(MEMBERS.all_over);
        let usual = self.believed.plus(&Normal::around_nothing(Apart { all_over, ..MEMBERS }));
        let believed =
            believed(usual.clone(), &usual, own.iter(), today, (MEMBER_FADES, self.wider, OWN_CEILING));
        let weight = self.count as f64 / (self.count as f64 + ASSUMED);
        Some(Learned::new(believed, weight, self.wider, own.len()))
    }
}

/// What is believed on a day after all that was heard until then, oldest first.
fn believed<'a>(
    mut believed: Normal,
    usual: &Normal,
    heard: impl Iterator<Item = &'a Told>,
    today: NaiveDate,
    (fades, wider, ceiling): (f64, f64, f64),
) -> Normal {
    let mut last: Option<NaiveDate> = None;
    let mut wait = |believed: &mut Normal, until: NaiveDate| {
        let days = last.map_or(0.0, |last| (until - last).num_days().max(0) as f64);
        believed.fade(1.0 - (-days / fades).exp(), usual);
        last = Some(until);
    };
    for told in heard {
        wait(&mut believed, told.day);
        let noise = told.noise * wider;
        if told.at_least {
            believed.hear_at_least(&told.of, told.slower, noise, ceiling);
        } else {
            believed.hear(&told.of, told.slower, noise, ceiling);
        }
    }
    wait(&mut believed, today);
    believed
}
