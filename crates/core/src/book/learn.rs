//! What results tell of pace: of a gym as a whole, and of each member beside it.
//!
//! Each result is one measurement of how slow somebody is beside their file, with the noise of a day in it. It is joined with what is believed
//! already as measurements are, so that few results say little; what was heard long ago fades; and no single one moves any prediction by
//! more than [`CEILING`]. Everything follows from the results that stand: one that is corrected and corrected back leaves nothing behind.

use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

use super::{Done, Entry};
use crate::member::Member;
use crate::movement::{Catalogue, MovementId};
use crate::pacing::{Apart, Athlete, Direction, Learned, Model, Normal, Rests};

/// No result moves any prediction by more, as a logarithm of pace: through what it says of its member, and through what its class says of the gym.
pub const CEILING: f64 = OWN_CEILING + CLASS_CEILING;
const OWN_CEILING: f64 = 0.10;
const CLASS_CEILING: f64 = 0.02;

/// How far members lie apart beside what is on file, one standard deviation of a logarithm of pace: all over, at each kind of work, at pieces that are
/// mostly of a family of work, and by power of e of the length. Judgement: somebody is one in eight slower or quicker than their lifts and runs say.
const MEMBERS: Apart =
    Apart { all_over: 0.12, at_work: 0.06, at_piece: 0.08, at_movement: 0.0, by_length: 0.03, rested: 0.03 };
/// The same of a whole gym: the model may be off for a kind of work, and for single movements, as people are taught them there.
const GYM: Apart =
    Apart { all_over: 0.08, at_work: 0.10, at_piece: 0.0, at_movement: 0.10, by_length: 0.05, rested: 0.08 };
/// Days in which what was heard of a member, and of a gym, fades to about a third.
const MEMBER_FADES: f64 = 365.0;
const GYM_FADES: f64 = 180.0;
/// Days in which results lose two thirds of their weight in how far days lie apart.
const SPREAD_FADES: f64 = 28.0;
/// How many results the spread that was assumed is worth, and how many it takes until results say more of somebody than the file.
const ASSUMED: f64 = 10.0;
/// The same of one member beside their gym: how many results its spread is worth, and days in which theirs lose two thirds of their weight. Some are the same
/// every day, and some are not. Of 10, of 20 and without, 20 made most members' predictions better in sixteen trials (`proof -- learning`).
const OWN_ASSUMED: f64 = 20.0;
const OWN_SPREAD_FADES: f64 = 90.0;
/// However near results lie, a day is not taken to be surer than so much of what was assumed.
const NARROWEST: f64 = 0.6;
/// A result that lies further off than so many standard deviations says no more about the spread: it is a slip, or a story of its own.
const ODD: f64 = 3.0;
/// What is told of a time that the cap has cut off is guessed from the repetitions that were left, and so much less sure.
const CUT_OFF: f64 = 0.08;
/// What was not done all out, or was entered hours later, is so many times less sure.
const LESS_SURE: f64 = 2.0;
/// What is entered so many hours after its class has begun is remembered rather than read off a clock.
pub const LATE_HOURS: i64 = 4;
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
    /// What it tells of a member's pace; nothing where it cannot be compared, where they stopped, something hurt or they went on with another version,
    /// or where what was measured says nothing of pace. What is entered hours later tells less.
    pub fn tells(&self, day: NaiveDate, late: bool) -> Option<Told> {
        let predicted = self.predicted.as_ref().filter(|_| !self.hurt && self.gone_on.is_none())?;
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

/// Less than so much slower or quicker is not worth saying, as a logarithm.
const WORTH_SAYING: f64 = 0.03;

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
        let surprises = all.iter().map(|class| (class.middle.day, class.surprise, class.count as f64));
        Self {
            believed: believed(usual.clone(), &usual, heard, today, (GYM_FADES, 1.0, CLASS_CEILING)),
            count: all.iter().map(|class| class.count).sum(),
            wider: wider((1.0, ASSUMED), surprises, today, SPREAD_FADES),
        }
    }

    /// Movements that take its people longer, or less long, than their file says, by how much as a logarithm of pace, the surest first; as far as that is
    /// more than its uncertainty and worth saying.
    pub fn stands_out(&self, catalogue: &Catalogue) -> Vec<(MovementId, f64)> {
        let of = |id: &MovementId| {
            let of = Direction::of_one(catalogue.get(id)?);
            let (slower, spread) = (self.believed.mean(&of), self.believed.spread(&of));
            (slower.abs() > spread.max(WORTH_SAYING)).then(|| (id.clone(), slower, slower.abs() / spread))
        };
        let mut all: Vec<_> = self.believed.movements().filter_map(of).collect();
        all.sort_by(|a, b| b.2.total_cmp(&a.2));
        all.into_iter().map(|(id, slower, _)| (id, slower)).collect()
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
        let surprises = own.iter().filter_map(|told| Some((told.day, told.surprise()?, 1.0)));
        let wider = wider((self.wider, OWN_ASSUMED), surprises, today, OWN_SPREAD_FADES);
        Some(Learned::new(believed, weight, wider, own.len()))
    }
}

/// Factor on a day's spread: what was assumed, worth so many results, and the mean square of how far results lay off since, each with its day and how many it stands for.
fn wider(
    (assumed, worth): (f64, f64),
    surprises: impl Iterator<Item = (NaiveDate, f64, f64)>,
    today: NaiveDate,
    fades: f64,
) -> f64 {
    let (mut all, mut weights) = (assumed * assumed * worth, worth);
    for (day, surprise, count) in surprises {
        let days = (today - day).num_days().max(0) as f64;
        let weight = count * (-days / fades).exp();
        all += surprise * weight;
        weights += weight;
    }
    (all / weights).sqrt().max(NARROWEST)
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::book::Predicted;
    use crate::pacing::{Capability, Measure};
    use crate::running::GoneOn;
    use crate::versions::VersionName;

    fn day(n: u64) -> NaiveDate {
        NaiveDate::from_ymd_opt(2026, 3, 2).unwrap() + chrono::Days::new(n)
    }

    fn entry(times: f64, done: Done) -> Entry {
        let mut shares = [0.0; Capability::COUNT];
        shares[Capability::Breath as usize] = 1.0;
        let of = Direction { shares, length_s: 600.0, ..Direction::default() };
        let rests = Rests { of, pull: 1.0, noise: 0.08, slower: 0.05, unsure: 0.1 };
        let predicted = Predicted {
            measure: Measure::Finish,
            spread: [540.0, 600.0, 660.0],
            window: [Some(480.0), Some(720.0)],
            rests: Some(rests),
        };
        Entry {
            version: VersionName::AsWritten,
            done,
            said: String::new(),
            predicted: Some(predicted),
            value: Some(600.0 * times),
            at_least: false,
            gone_on: None,
            effort: None,
            hurt: false,
            note: String::new(),
        }
    }

    fn finished(times: f64) -> Entry {
        entry(times, Done::Finished { seconds: (600.0 * times) as u32 })
    }

    #[test]
    fn a_result_tells_what_it_can_and_no_more() {
        let tells = |entry: &Entry, late| entry.tells(day(0), late);
        let plain = tells(&finished(1.1), false).unwrap();
        // Beside the file: what had been learned before is in what was predicted.
        assert!((plain.slower - (0.05 + 1.1_f64.ln())).abs() < 1e-9 && !plain.at_least);
        assert!(tells(&finished(1.1), true).unwrap().noise > plain.noise * 1.9);
        let easy = Entry { effort: Some(4), ..finished(1.1) };
        assert!(tells(&easy, false).unwrap().noise > plain.noise * 1.9);
        let capped = |left| Entry { at_least: true, ..entry(1.2, Done::Capped { left }) };
        assert!(tells(&capped(None), false).unwrap().at_least);
        let guessed = tells(&capped(Some(9)), false).unwrap();
        assert!(!guessed.at_least && guessed.noise > plain.noise * 1.3);
        let stopped = Entry { value: None, ..entry(1.0, Done::Stopped) };
        for nothing in
            [stopped, Entry { hurt: true, ..finished(1.1) }, Entry { predicted: None, ..finished(1.1) }]
        {
            assert_eq!(tells(&nothing, false), None);
        }
        // Whoever went on with something easier did neither of the two: what was expected then is what it is held against, and it teaches nothing.
        let how = GoneOn {
            from: VersionName::Lighter,
            to: VersionName::AsWritten,
            at_s: 300,
            ends_s: [600, 640, 700],
        };
        let went_on = finished(1.1).went_on(Some(&how));
        assert_eq!(tells(&went_on, false), None);
        assert_eq!(went_on.predicted.as_ref().unwrap().spread, [600.0, 640.0, 700.0]);
        let other = GoneOn { to: VersionName::FirstLight, ..how };
        assert_eq!(finished(1.1).went_on(Some(&other)), finished(1.1), "another version stands");
        // Of rounds, more is quicker.
        let mut rounds = finished(1.1);
        rounds.predicted.as_mut().unwrap().rests.as_mut().unwrap().pull = -1.0;
        assert!(tells(&rounds, false).unwrap().slower < 0.0);
    }

    #[test]
    fn the_middle_of_a_class_is_told_unless_the_cap_came_first_for_most() {
        let told = |times: f64| finished(times).tells(day(0), false).unwrap();
        let class = ToldByClass::of(&[told(0.9), told(1.0), told(3.0)]).unwrap();
        assert!((class.middle.slower - 0.05).abs() < 1e-9 && class.count == 3);
        assert!(class.middle.noise < told(1.0).noise.hypot(MEMBERS.all_over));
        let capped = |times| Told { at_least: true, ..told(times) };
        assert_eq!(ToldByClass::of(&[capped(0.8), capped(0.8), told(1.0)]), None);
        assert!(ToldByClass::of(&[capped(0.8), told(1.0), told(1.1)]).is_some());
        assert_eq!(ToldByClass::of(&[]), None);
    }

    #[test]
    fn few_results_say_little_and_many_say_nearly_all() {
        let of = finished(1.0).tells(day(0), false).unwrap().of;
        let member = Member::default();
        let after = |count: u64| {
            let told: Vec<Told> = (0..count).map(|n| finished(1.1).tells(day(n), false).unwrap()).collect();
            let classes: Vec<ToldByClass> =
                told.iter().filter_map(|one| ToldByClass::of(std::slice::from_ref(one))).collect();
            let gym = OfGym::new(&classes, day(count));
            gym.of_member(&member, &told, day(count)).map_or(0.0, |learned| learned.slower(&of))
        };
        let all = 0.05 + 1.1_f64.ln();
        let [none, one, five, many] = [0, 1, 5, 40].map(after);
        assert!(none == 0.0 && one > 0.02 && one <= CEILING, "{one}");
        assert!(five > one && many > five && (many - all).abs() < 0.02, "{five} {many} of {all}");
        // Long after, it is mostly forgotten.
        let told = [finished(1.1).tells(day(0), false).unwrap()];
        let classes = [ToldByClass::of(&told).unwrap()];
        let later = OfGym::new(&classes, day(1500)).of_member(&member, &told, day(1500));
        assert!(later.unwrap().slower(&of) < one / 10.0);
    }

    /// Where classes take longer over burpees again and again, that is said of burpees; what goes as predicted is not named.
    #[test]
    fn a_movement_that_a_gym_is_slow_at_is_named() {
        let catalogue = Catalogue::standard();
        let of = |id: &str| Direction::of_one(catalogue.get(&MovementId::new(id)).unwrap());
        let class = |id: &str, times: f64, n: u64| {
            let told = finished(times).tells(day(n), false).unwrap();
            let told: Vec<Told> =
                (0..12).map(|_| Told { of: of(id), slower: times.ln(), ..told.clone() }).collect();
            ToldByClass::of(&told).unwrap()
        };
        let all = |count: u64| -> Vec<ToldByClass> {
            (0..count)
                .flat_map(|n| [class("burpee", 1.2, 2 * n), class("thruster", 1.0, 2 * n + 1)])
                .collect()
        };
        let named = |count| OfGym::new(&all(count), day(2 * count)).stands_out(catalogue);
        assert_eq!(named(1), []);
        let many = named(20);
        assert_eq!(many.len(), 1, "{many:?}");
        assert!(many[0].0.as_str() == "burpee" && (0.1..0.18).contains(&many[0].1), "{many:?}");

        // Whoever has no result of their own is expected to be slow at it too, and at nothing else for the same reason.
        let learned = OfGym::new(&all(20), day(40)).of_member(&Member::default(), &[], day(40)).unwrap();
        let of_one = |id: &str| learned.factor_of(&MovementId::new(id));
        assert!(of_one("burpee") > 1.03 && of_one("box-jump") == 1.0, "{}", of_one("burpee"));
        assert!(learned.slower(&of("burpee")) > learned.slower(&of("box-jump")) + 0.03);
    }

    #[test]
    fn results_far_off_make_spreads_wider_and_near_ones_narrower() {
        let class = |times: f64, n: u64| {
            let told: Vec<Told> = (0..12).map(|_| finished(times).tells(day(n), false).unwrap()).collect();
            ToldByClass::of(&told).unwrap()
        };
        let wider = |times: f64| {
            let classes: Vec<ToldByClass> = (0..5).map(|n| class(times, n)).collect();
            let gym = OfGym::new(&classes, day(5));
            gym.of_member(&Member::default(), &[], day(5)).unwrap().wider()
        };
        assert!(wider(1.3) > 1.3, "{}", wider(1.3));
        assert!((NARROWEST..0.7).contains(&wider(1.0)), "{}", wider(1.0));
    }

    #[test]
    fn who_is_the_same_every_day_has_a_narrower_spread_than_the_class_and_who_is_not_a_wider_one() {
        // A class as far apart as was assumed.
        let gym = OfGym::new(&[], day(0));
        let gym = OfGym { count: 1, ..gym };
        let wider = |all: &[f64]| {
            let told = |(n, times): (usize, &f64)| finished(*times).tells(day(n as u64), false).unwrap();
            let own: Vec<Told> = all.iter().enumerate().map(told).collect();
            gym.of_member(&Member::default(), &own, day(30)).unwrap().wider()
        };
        let (none, same, far) = (wider(&[]), wider(&[1.0; 30]), wider(&[1.3, 0.75].repeat(15)));
        assert!(none == 1.0 && same < 0.8 && far > 1.3, "{none} {same} {far}");
        // Few results say little, and one slip not much.
        let (few, slip) = (wider(&[1.0; 3]), wider(&[3.0]));
        assert!(few > 0.9 && (1.0..1.2).contains(&slip), "{few} {slip}");
    }
}
