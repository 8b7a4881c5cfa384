//! Low, middle and high: the walk looked at over a member's possible days.
//!
//! A day is luck with pace and luck with capacity. The walk is done at a few points of that plane, and each
//! day is read off between them: a class of 28 with six versions and 200 days each is then some thousands of walks
//! rather than tens of thousands, and the quantiles move by a percent or two, by up to five where
//! the clock cuts in at every minute (see the test below).

use rand::SeedableRng;
use rand_distr::{Distribution, StandardNormal};
use rand_pcg::Pcg64Mcg;
use serde::{Deserialize, Serialize};

use super::ability::Athlete;
use super::learned::Direction;
use super::model::Model;
use super::simulate::{Course, How, Luck, Run};
use super::window::{Measure, Window, counted_unit};
use crate::movement::{Catalogue, Unit};
use crate::session::{Node, Work, works};

/// One in ten days is better than the low end, one in ten worse than the high end.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
pub struct Quantiles {
    /// One day in ten is below.
    pub p10: f64,
    /// The middle.
    pub p50: f64,
    /// One day in ten is above.
    pub p90: f64,
}

impl Quantiles {
    /// Of some days.
    pub(super) fn of(values: Vec<f64>) -> Self {
        quantiles(values, 0.0)
    }

    /// The value at so many standard deviations, as of a log-normal that is wider on one side than on the other.
    pub(super) fn at(self, deviations: f64) -> f64 {
        let far = if deviations > 0.0 { self.p90 } else { self.p10 };
        if self.p50 <= 0.0 || far <= 0.0 {
            return self.p50;
        }
        self.p50 * (far / self.p50).powf(deviations.abs() / ONE_IN_TEN)
    }
}

/// What a member will probably do.
#[derive(Clone, Debug, PartialEq)]
pub struct Prediction {
    /// What is measured: seconds, rounds, repetitions or the round that fails.
    pub measure: Measure,
    /// The spread of it, in what the text counts.
    pub spread: Quantiles,
    /// What is counted in this version, where that is something else.
    pub instead: Option<Instead>,
    /// Seconds on the clock, whatever is measured.
    pub finish_s: Quantiles,
    /// Share of days inside the window.
    pub chance: f64,
    /// Whether it rests on guesses about the member.
    pub guess: bool,
    /// What a result will tell of the member's pace; none where it tells nothing of theirs alone.
    pub rests: Option<Rests>,
}

/// What a version counts in place of what the text counts.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Instead {
    /// What that is.
    pub measure: Measure,
    /// So much of it is one of the text's.
    pub for_one: f64,
}

impl Prediction {
    /// The measure of the version's own count.
    pub fn own_measure(&self) -> Measure {
        self.instead.map_or(self.measure, |instead| instead.measure)
    }

    /// What is so much of the text's, in the version's own count.
    pub fn own(&self, value: f64) -> f64 {
        self.instead.map_or(value, |instead| value * instead.for_one)
    }

    /// The spread in the version's own count: what somebody will call out.
    pub fn own_spread(&self) -> Quantiles {
        let Quantiles { p10, p50, p90 } = self.spread;
        Quantiles { p10: self.own(p10), p50: self.own(p50), p90: self.own(p90) }
    }

    /// The window in the version's own count, in numbers that coaches say.
    pub fn own_window(&self, window: &Window) -> Window {
        self.aim(window).unwrap_or_else(|| window.clone())
    }

    /// What is aimed at where the version counts something else than the text.
    pub fn aim(&self, window: &Window) -> Option<Window> {
        let Instead { measure, for_one } = self.instead?;
        let own = |end: Option<f64>| end.map(|end| measure.said(end * for_one));
        Some(Window { measure, low: own(window.low), high: own(window.high), ..window.clone() })
    }

    /// Low to high as the version counts it: `1280 to 1610 m`.
    pub fn range(&self) -> String {
        let Quantiles { p10, p90, .. } = self.own_spread();
        self.own_measure().show_range(p10, p90)
    }

    /// The middle and the range, `7:50 (7:10 to 8:40)`; once where nobody is seen to fail.
    pub fn said(&self) -> String {
        let middle = self.show(self.spread.p50);
        if self.measure.is_never(self.spread.p10) { middle } else { format!("{middle} ({})", self.range()) }
    }

    /// A value of the text's count as the version counts it: `1450 m`.
    pub fn show(&self, value: f64) -> String {
        self.own_measure().show(self.own(value))
    }
}

/// What a prediction rests on, so that a result can be told from a day's luck: pace is a logarithm, above nothing where somebody is slower.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Rests {
    /// Which kinds of work it is made of, and how long it is.
    pub of: Direction,
    /// How much what is measured grows with the pace, both as logarithms: 1 for a time that is all work, -1 for rounds.
    pub pull: f64,
    /// How far a day lies from another in pace, one standard deviation, before results have widened it.
    pub noise: f64,
    /// How slow somebody was taken to be beside their file.
    pub slower: f64,
    /// How far off that may have been, one standard deviation, before results have widened it.
    pub unsure: f64,
}

/// Days drawn once and used for everybody and every version, so that differences are differences of people and
/// versions. The same seed gives the same days.
#[derive(Clone, Debug)]
pub struct Days {
    /// Luck with pace, with capacity, and with single sets, each in standard deviations.
    draws: Vec<[f64; 3]>,
}

impl Days {
    /// So many days.
    pub fn new(count: u32, seed: u64) -> Self {
        let mut rng = Pcg64Mcg::seed_from_u64(seed);
        let mut draw = || StandardNormal.sample(&mut rng);
        Self { draws: (0..count).map(|_| [draw(), draw(), draw()]).collect() }
    }

    /// How many.
    pub(super) fn len(&self) -> usize {
        self.draws.len()
    }

    /// The luck of one of several people on a day, in standard deviations: the same days in an order of their own, so that not everybody
    /// has a good one at once.
    pub(super) fn luck_of(&self, person: usize, day: usize) -> f64 {
        self.draws[(day + person * APART) % self.draws.len()][0]
    }
}

/// Days by which people's luck is moved against each other.
const APART: usize = 61;
/// Standard deviations at which one day in ten is beyond.
pub(crate) const ONE_IN_TEN: f64 = 1.2816;

/// Points at which the walk is done, in standard deviations of pace and of capacity; closer on the slow side, where work runs into
/// the next start.
const PACE_POINTS: [f64; 6] = [-1.9, -0.9, 0.0, 0.7, 1.3, 2.0];
const CAPACITY_POINTS: [f64; 5] = [-2.2, -1.0, 0.0, 1.0, 2.2];

/// What is read off a walk, at every point of the plane of luck.
struct Surface {
    value: Table,
    finish: Table,
}

type Table = [[f64; CAPACITY_POINTS.len()]; PACE_POINTS.len()];

impl Surface {
    /// Straight between the points.
    fn at(table: &Table, pace: f64, capacity: f64) -> f64 {
        let ((row, down), (column, right)) = (cell(&PACE_POINTS, pace), cell(&CAPACITY_POINTS, capacity));
        let [near, far] = [row, row + 1]
            .map(|row| table[row][column] + (table[row][column + 1] - table[row][column]) * right);
        near + (far - near) * down
    }
}

impl Surface {
    /// What a result tells of pace; none where what is measured hardly moves with it.
    fn rests(&self, athlete: &Athlete<'_>, of: Direction, sigmas: &Sigmas, sets: f64) -> Option<Rests> {
        let log = |row: usize, column: usize| self.value[row][column].max(1e-6).ln();
        let pull = (log(QUICKER.1, MEDIAN.1) - log(QUICKER.0, MEDIAN.1))
            / ((PACE_POINTS[QUICKER.1] - PACE_POINTS[QUICKER.0]) * sigmas.pace());
        if !pull.is_finite() || pull.abs() < LEAST_PULL {
            return None;
        }
        let by_capacity = (log(MEDIAN.0, FRESHER.1) - log(MEDIAN.0, FRESHER.0))
            / (CAPACITY_POINTS[FRESHER.1] - CAPACITY_POINTS[FRESHER.0]);
        let noise = sigmas.day.hypot(by_capacity / pull).hypot(sets / pull);
        let learned = athlete.member.learned.as_deref();
        let (slower, wider) = learned.map_or((0.0, 1.0), |learned| (learned.slower(&of), learned.wider()));
        let [pull, noise, slower, unsure] =
            [pull, noise / wider, slower, sigmas.unsure / wider].map(|value| (value / FINE).round() * FINE);
        Some(Rests { of, pull, noise, slower, unsure })
    }
}

/// Points on both sides of a median day by which it is seen how much a result moves with pace and with capacity.
const QUICKER: (usize, usize) = (1, 3);
const FRESHER: (usize, usize) = (1, 3);
const MEDIAN: (usize, usize) = (2, 2);
/// Figures of a prediction that are kept with a result, to so much.
const FINE: f64 = 1e-4;
/// What moves less than this with the pace says nothing of it.
const LEAST_PULL: f64 = 0.3;

/// The interval in which a value lies, and how far into it; somewhat beyond both ends.
fn cell(points: &[f64], value: f64) -> (usize, f64) {
    let last = points.len() - 2;
    let cell = points.iter().skip(1).position(|point| value <= *point).unwrap_or(last);
    (cell, ((value - points[cell]) / (points[cell + 1] - points[cell])).clamp(-0.5, 1.5))
}

/// Spread of pace, of capacity and of sets, as sigmas of log-normals: a day's own, and what is not known of somebody.
struct Sigmas {
    /// A day's own.
    day: f64,
    /// Of pace, because nobody knows how fit somebody is.
    unsure: f64,
    capacity: f64,
    set: f64,
}

impl Sigmas {
    fn of(athlete: &Athlete<'_>, guess: bool, of: &Direction, model: &Model) -> Self {
        let luck = &model.luck;
        let extra = if guess { luck.guess } else { 0.0 };
        let (day, capacity) = (luck.pace + extra * 0.4, luck.capacity + extra);
        let by_file = athlete.unsure(model);
        match athlete.member.learned.as_deref() {
            None => Self { day, unsure: by_file, capacity, set: luck.set },
            Some(learned) => {
                let wider = learned.wider();
                Self {
                    day: day * wider,
                    unsure: learned.unsure(of, by_file) * wider,
                    capacity: capacity * wider,
                    set: luck.set * wider,
                }
            }
        }
    }

    /// Of pace, all together.
    fn pace(&self) -> f64 {
        self.day.hypot(self.unsure)
    }
}

/// Predicts over the days given, and gives the median walk beside it.
pub fn predict(
    tree: &Node,
    athlete: &Athlete<'_>,
    catalogue: &Catalogue,
    model: &Model,
    window: &Window,
    days: &Days,
) -> (Prediction, Run) {
    let guess = athlete.fitness.is_of_anybody()
        || works(tree).iter().any(|work| athlete.ability(work, catalogue, model).guess);
    let mut surface = Surface { value: Default::default(), finish: Default::default() };
    let course = Course::of(tree, athlete, catalogue, model);
    let middle = course.walk(How { record: true, ..How::default() }, Luck::MEDIAN);
    let of = course.direction(&middle);
    let sigmas = Sigmas::of(athlete, guess, &of, model);
    let (pace, capacity) = (sigmas.pace(), sigmas.capacity);
    for (row, p) in PACE_POINTS.iter().enumerate() {
        for (column, c) in CAPACITY_POINTS.iter().enumerate() {
            let luck = Luck { pace: (p * pace).exp(), capacity: (c * capacity).exp() };
            let walked = (*p != 0.0 || *c != 0.0).then(|| course.walk(How::default(), luck));
            let run = walked.as_ref().unwrap_or(&middle);
            surface.value[row][column] = window.measure.of(run);
            surface.finish[row][column] = run.finish_s;
        }
    }
    let middle_value = window.measure.of(&middle);
    // A stay of so many minutes ends on its second, whatever the day: there is nothing to be lucky with.
    let moves = surface.value.iter().flatten().any(|value| (value - middle_value).abs() > 1e-6);
    // Luck with single sets evens out over many of them.
    let sets = if moves { sigmas.set / (f64::from(middle.breaks) + 1.0).sqrt() } else { 0.0 };
    let mut values = Vec::with_capacity(days.draws.len());
    let mut finishes = Vec::with_capacity(days.draws.len());
    let mut inside = 0_u32;
    for [p, c, s] in &days.draws {
        let set_luck = (s * sets).exp();
        let value = Surface::at(&surface.value, *p, *c).max(0.0);
        let value = match window.measure {
            Measure::Finish | Measure::SlowestInterval => value * set_luck,
            Measure::Rounds | Measure::Reps | Measure::Calories | Measure::Metres => value / set_luck,
            Measure::FailedRound => value.round(),
        };
        inside += u32::from(window.holds(value));
        values.push(value);
        finishes.push(match window.measure {
            Measure::Finish => value,
            _ => Surface::at(&surface.finish, *p, *c).max(0.0),
        });
    }
    let prediction = Prediction {
        measure: window.measure,
        spread: quantiles(values, middle_value),
        instead: instead(tree, &middle, window.measure, catalogue),
        finish_s: quantiles(finishes, middle.finish_s),
        chance: f64::from(inside) / days.draws.len().max(1) as f64,
        guess,
        rests: surface.rests(athlete, of, &sigmas, sets),
    };
    (prediction, middle)
}

/// What is counted in place of what the text counts, by the median walk.
fn instead(tree: &Node, middle: &Run, measure: Measure, catalogue: &Catalogue) -> Option<Instead> {
    let works = works(tree);
    let counted = || works.iter().filter(|work| !work.uncounted);
    if !measure.is_count() || middle.written_reps <= 0.0 || counted().all(|work| work.stands_for.is_none()) {
        return None;
    }
    let own = Measure::counting(counted().filter_map(|work| counted_unit(work, catalogue)));
    // Metres among repetitions make no number that anybody calls out: there, what they stand for is counted.
    let is_a_way = |work: &Work| {
        counted_unit(work, catalogue) == Some(Unit::Metres) && work.counts_for().unit != Unit::Metres
    };
    if own == Measure::Reps && counted().any(|work| is_a_way(work)) {
        return None;
    }
    let for_one = middle.reps / middle.written_reps;
    (own != measure || (for_one - 1.0).abs() > 1e-9).then_some(Instead { measure: own, for_one })
}

fn quantiles(mut values: Vec<f64>, middle: f64) -> Quantiles {
    if values.is_empty() {
        return Quantiles { p10: middle, p50: middle, p90: middle };
    }
    let last = (values.len() - 1) as f64;
    let mut at = |share: f64| {
        let place = (last * share).round() as usize;
        *values.select_nth_unstable_by(place, f64::total_cmp).1
    };
    Quantiles { p10: at(0.1), p50: at(0.5), p90: at(0.9) }
}

#[cfg(test)]
mod tests {
    use std::sync::Arc;

    use super::*;
    use crate::member::{Experience, Member, Sex};
    use crate::movement::MovementId;
    use crate::pacing::{Apart, Learned, Normal, intended_window, simulate};
    use crate::plan::SAMPLES;
    use crate::read::read;

    const PIECES: [&str; 5] = [
        "21-15-9 for time\nthrusters 40/30 kg\npull-ups",
        "AMRAP 20\n5 pull-ups\n10 push-ups\n15 air squats",
        "4 rounds for time\n400 m run\n15 kettlebell swings 24/16 kg\n10 box jumps",
        "Every 4:00 for 5 rounds\n400 m row\n12 push-ups\n12 push press 30/20 kg\nscore: slowest round",
        "For time\n60 wall balls 9/6 kg\nat the start of every minute: 4 burpees",
    ];

    /// What results taught is in what is predicted: all over, by kind of work, by what a piece is mostly, by movement and by length.
    #[test]
    fn a_prediction_is_as_much_slower_as_results_say_of_its_piece() {
        let (catalogue, model) = (Catalogue::standard(), Model::standard());
        let plain = Member { sex: Some(Sex::M), experience: Experience::Intermediate, ..Member::default() };
        let apart = Apart {
            all_over: 0.08,
            at_work: 0.08,
            at_piece: 0.08,
            at_movement: 0.10,
            by_length: 0.03,
            rested: 0.03,
        };
        let days = Days::new(SAMPLES, 7);
        let of_one = |id: &str| Direction::of_one(catalogue.get(&MovementId::new(id)).unwrap());
        let mut believed = Normal::around_nothing(apart);
        for (id, slower) in [("thruster", 0.2), ("wall-ball", -0.15), ("pull-up", 0.1), ("push-up", 0.0)] {
            believed.hear(&of_one(id), slower, 0.03, 1.0);
        }
        let learned = Arc::new(Learned::new(believed, 1.0, 1.0, 4));
        let taught = Member { learned: Some(learned.clone()), ..plain.clone() };
        for text in PIECES {
            let part = read(text, catalogue).session.parts.remove(0);
            let window = intended_window(&part, catalogue, model);
            let of = |member: &Member| {
                predict(&part.tree, &Athlete::new(member), catalogue, model, &window, &days).0
            };
            let (file, with) = (of(&plain), of(&taught));
            let Rests { of, pull, .. } = with.rests.unwrap();
            assert!(
                !of.movements.is_empty() && of.movements.iter().all(|(id, _)| id.as_str() != "run"),
                "{of:?}"
            );
            let moved = (with.spread.p50 / file.spread.p50).ln() / pull;
            let said = learned.slower(&of);
            assert!((moved - said).abs() < 0.015, "{text}: {moved:.3} where {said:.3} is said");
        }
    }

    #[test]
    fn a_stay_of_so_many_minutes_ends_on_its_second() {
        let (catalogue, model) = (Catalogue::standard(), Model::standard());
        let member = Member { sex: Some(Sex::F), experience: Experience::Intermediate, ..Member::default() };
        let finish = |text: &str| {
            let part = read(text, catalogue).session.parts.remove(0);
            let window = intended_window(&part, catalogue, model);
            let days = Days::new(SAMPLES, 7);
            predict(&part.tree, &Athlete::new(&member), catalogue, model, &window, &days).0.finish_s
        };
        let stay = finish("10 min easy bike");
        assert_eq!([stay.p10, stay.p50, stay.p90], [600.0; 3]);
        // What is counted takes as long as it takes.
        let counted = finish("For time\n100 cal bike");
        assert!(counted.p90 / counted.p10 > 1.1, "{counted:?}");
    }

    #[test]
    fn reading_days_off_the_surface_is_as_good_as_walking_each_of_them() {
        let (catalogue, model) = (Catalogue::standard(), Model::standard());
        let member = Member { sex: Some(Sex::M), experience: Experience::Intermediate, ..Member::default() };
        let athlete = Athlete::new(&member);
        let days = Days::new(400, 7);
        for text in PIECES {
            let part = read(text, catalogue).session.parts.remove(0);
            let window = intended_window(&part, catalogue, model);
            let (read_off, _) = predict(&part.tree, &athlete, catalogue, model, &window, &days);
            let of = read_off.rests.map(|rests| rests.of).unwrap_or_default();
            let sigmas = Sigmas::of(&athlete, read_off.guess, &of, model);
            let (pace, capacity) = (sigmas.pace(), sigmas.capacity);
            let walked = days.draws.iter().map(|[p, c, _]| {
                let luck = Luck { pace: (p * pace).exp(), capacity: (c * capacity).exp() };
                window.measure.of(&simulate(&part.tree, &athlete, catalogue, model, luck))
            });
            let walked = quantiles(walked.collect(), 0.0);
            for (near, far) in [
                (read_off.spread.p10, walked.p10),
                (read_off.spread.p50, walked.p50),
                (read_off.spread.p90, walked.p90),
            ] {
                assert!((near / far - 1.0).abs() < 0.05, "{text}: {:?} against {walked:?}", read_off.spread);
            }
        }
    }

    #[test]
    fn the_same_seed_draws_the_same_days_and_more_days_begin_alike() {
        let (few, many) = (Days::new(10, 3), Days::new(20, 3));
        assert_eq!(few.draws[..], many.draws[..10]);
        assert_ne!(few.draws, Days::new(10, 4).draws);
    }
}
