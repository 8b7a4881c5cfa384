//! How fit somebody is, from everything on file: one continuous figure for the engine, with how sure it is and what it rests on.
//!
//! Each result gives an estimate of the same figure; they are joined by how sure each is, as independent measurements are. The
//! word for experience is one of them, and a weak one: it decides where nothing else is known.

use crate::member::{Experience, Member};
use crate::units::Kilograms;

use super::engine::{Machine, erg_watts, speed_over_1600, watts_over_2000};
use super::model::Model;

/// Watts a kilogram over 2000 m on the rower at the slow and at the quick end of a class. Coaching judgement: 128 W at 70 kg is
/// about 9:20, 365 W at 84 kg about 6:35.
pub(super) const WATTS_PER_KG: (f64, f64) = (1.82, 4.33);
/// Metres a second over 1600 m at the slow and at the quick end: 10:40 and 5:30.
pub(super) const SPEED_1600: (f64, f64) = (2.5, 4.85);
/// The same over 400 m: 2:15 and 1:08.
pub(super) const SPEED_400: (f64, f64) = (2.96, 5.88);
/// Kilograms of somebody whose weight is not known, by which of a pair they take.
const USUAL_KG: (f64, f64) = (83.0, 67.0);
/// Nobody in a class is lighter; less is a slip of the pen.
const LEAST_KG: f64 = 35.0;
/// Spread of each kind of evidence, on the scale from slow (0) to quick (1). Judgement: a row and a mile say most.
const SURE_OF: Sure = Sure {
    word: 0.25,
    nobody_said: 0.35,
    row: 0.10,
    other_row: 0.12,
    ski: 0.15,
    bike: 0.18,
    run_1600: 0.09,
    other_run: 0.11,
    run_400: 0.13,
    lifts: 0.3,
};
/// A year beyond this age takes off `A_YEAR` of what the word alone would say.
const AGE: f64 = 35.0;
const A_YEAR: f64 = 0.006;

/// What a figure rests on is told up to so many things, the surest first.
const MOST_TOLD: usize = 4;

struct Sure {
    word: f64,
    /// Where there is no word either: anybody of a class.
    nobody_said: f64,
    row: f64,
    /// On the rower over another distance.
    other_row: f64,
    ski: f64,
    bike: f64,
    run_1600: f64,
    /// A run over another distance than a lap or a mile.
    other_run: f64,
    run_400: f64,
    lifts: f64,
}

/// Bodyweight in kilograms, or a usual one.
pub(super) fn kilograms(member: &Member) -> f64 {
    let usual = if member.takes_first_of_pair() { USUAL_KG.0 } else { USUAL_KG.1 };
    member.bodyweight.map_or(usual, Kilograms::kg).max(LEAST_KG)
}

/// The value at a place between the slow and the quick end of a range.
pub(super) fn between((slow, quick): (f64, f64), place: f64) -> f64 {
    slow * (quick / slow).powf(place)
}

/// What says how fit somebody is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Source {
    /// 2000 m on the rower.
    Row,
    /// Another result on a machine, or another run.
    Other(Machine),
    /// A run over so many metres.
    Run(u32),
    /// The back squat for the bodyweight.
    Squat,
    /// A lift.
    Lift,
    /// Repetitions in one go.
    Skill,
    /// The engine, for a figure of which nothing else is known.
    Engine,
    /// The word for experience.
    Word,
}

/// What one thing on file says.
#[derive(Clone, Debug, PartialEq)]
pub struct Evidence {
    /// Which thing.
    pub source: Source,
    /// In words: `2000 m row in 7:20`.
    pub from: String,
    /// The figure that it speaks for.
    pub value: f64,
    /// How far off it may be, as one standard deviation.
    pub spread: f64,
}

/// An estimate with its uncertainty: 0 is the slow end of an ordinary class, 1 the quick end.
#[derive(Clone, Debug, PartialEq)]
pub struct Fitness {
    /// The figure.
    pub value: f64,
    /// One standard deviation of it.
    pub spread: f64,
    /// What it rests on, the surest first.
    pub evidence: Vec<Evidence>,
}

impl Fitness {
    /// Of a member's engine.
    pub fn of(member: &Member) -> Self {
        let heavier = member.takes_first_of_pair();
        let kg = kilograms(member);
        let place =
            |value: f64, (slow, quick): (f64, f64)| (value.max(1e-3) / slow).ln() / (quick / slow).ln();
        let mut evidence = Vec::new();
        let mut say = |source: Source, from: String, value: f64, spread: f64| {
            evidence.push(Evidence { source, from, value: value.clamp(-0.6, 1.4), spread });
        };
        if let Some(seconds) = member.row_2k_s {
            let watts = erg_watts(f64::from(seconds) / 2000.0);
            let from = format!("2000 m row in {}", crate::units::clock_s(seconds));
            say(Source::Row, from, place(watts / kg, WATTS_PER_KG), SURE_OF.row);
        }
        let ski_power = Model::standard().fitted.engine.ski_power;
        let mut machine = |machine: Machine, sure: f64| {
            if let Some((watts, from)) = watts_over_2000(member, machine, ski_power) {
                say(Source::Other(machine), from, place(watts / kg, WATTS_PER_KG), sure);
            }
        };
        if member.row_2k_s.is_none() {
            machine(Machine::Row, SURE_OF.other_row);
        }
        machine(Machine::Ski, SURE_OF.ski);
        machine(Machine::Bike, SURE_OF.bike);
        let runs = member.results.iter().any(|result| result.machine == Machine::Run);
        if let Some((speed, from)) = speed_over_1600(member).filter(|_| runs && member.run_1600_s.is_none()) {
            say(Source::Other(Machine::Run), from, place(speed, SPEED_1600), SURE_OF.other_run);
        }
        if let Some(seconds) = member.run_1600_s {
            let from = format!("1600 m run in {}", crate::units::clock_s(seconds));
            say(Source::Run(1600), from, place(1600.0 / f64::from(seconds), SPEED_1600), SURE_OF.run_1600);
        }
        if let Some(seconds) = member.run_400_s {
            let from = format!("400 m run in {}", crate::units::clock_s(seconds));
            say(Source::Run(400), from, place(400.0 / f64::from(seconds), SPEED_400), SURE_OF.run_400);
        }
        if let Some(squat) = member.maxes.get(&crate::movement::MovementId::new("back-squat")) {
            // Who is strong for their weight trains, which says a little.
            let share = squat.value.kg() / kg * if heavier { 1.0 } else { 1.2 };
            say(
                Source::Squat,
                "back squat for the bodyweight".to_owned(),
                place(share, (0.8, 2.3)),
                SURE_OF.lifts,
            );
        }
        let older = member.age.map_or(0.0, |age| (f64::from(age) - AGE).max(0.0) * A_YEAR);
        let unknown = member.experience == Experience::Unknown;
        let word = match unknown {
            true => "nothing said: anybody of a class".to_owned(),
            false => format!("experience: {}", member.experience.name()),
        };
        let sure = if unknown { SURE_OF.nobody_said } else { SURE_OF.word };
        say(Source::Word, word, member.experience.level() * 1.25 - 0.125 - older, sure);
        evidence.sort_by(|a, b| a.spread.total_cmp(&b.spread));
        Self::joined(evidence)
    }

    /// Whether nothing at all is known: the figure is that of anybody of a class.
    pub fn is_of_anybody(&self) -> bool {
        matches!(&self.evidence[..], [only] if only.source == Source::Word && only.spread >= SURE_OF.nobody_said)
    }

    /// Independent measurements of one figure, each weighted by how sure it is.
    pub(super) fn joined(evidence: Vec<Evidence>) -> Self {
        let weight = |said: &Evidence| 1.0 / (said.spread * said.spread);
        let all: f64 = evidence.iter().map(weight).sum();
        let value = evidence.iter().map(|said| said.value * weight(said)).sum::<f64>() / all;
        Self { value, spread: all.sqrt().recip(), evidence }
    }

    /// In words, with what it rests on: `62, give or take 11 (from 2000 m row in 7:20)`.
    pub fn told(&self) -> String {
        let hundred = |value: f64| (value * 100.0).round();
        let mut from: Vec<String> = self.evidence.iter().map(|said| said.from.clone()).collect();
        if from.len() > MOST_TOLD {
            let more = from.split_off(MOST_TOLD - 1).len();
            from.push(format!("{more} more"));
        }
        let (value, spread) = (hundred(self.value), hundred(self.spread));
        format!("{value:.0}, give or take {spread:.0} (from {})", from.join(", "))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::member::Sex;

    fn member(row: Option<u32>, run: Option<u32>, experience: Experience) -> Member {
        Member {
            sex: Some(Sex::M),
            bodyweight: Some(Kilograms::from_kg(80.0)),
            row_2k_s: row,
            run_1600_s: run,
            experience,
            ..Member::default()
        }
    }

    #[test]
    fn the_word_fills_gaps_and_results_outweigh_it() {
        let by_word = |experience| Fitness::of(&member(None, None, experience)).value;
        assert!(by_word(Experience::Advanced) > by_word(Experience::Beginner) + 0.3);
        let with = |experience| Fitness::of(&member(Some(440), Some(420), experience)).value;
        assert!((with(Experience::Advanced) - with(Experience::New)).abs() < 0.1);
    }

    #[test]
    fn who_is_not_known_is_anybody_of_a_class_and_never_sure() {
        let nobody = Fitness::of(&member(None, None, Experience::Unknown));
        assert!(nobody.is_of_anybody() && (0.3..0.6).contains(&nobody.value), "{nobody:?}");
        let new = Fitness::of(&member(None, None, Experience::New));
        assert!(!new.is_of_anybody() && new.spread < nobody.spread && new.value < nobody.value);
        assert!(!Fitness::of(&member(Some(440), None, Experience::Unknown)).is_of_anybody());
    }

    #[test]
    fn more_on_file_is_surer_and_quicker_is_fitter() {
        let one = Fitness::of(&member(Some(440), None, Experience::Intermediate));
        let two = Fitness::of(&member(Some(440), Some(420), Experience::Intermediate));
        assert!(two.spread < one.spread);
        let quicker = Fitness::of(&member(Some(400), None, Experience::Intermediate));
        assert!(quicker.value > one.value);
        assert!(one.evidence[0].from.contains("2000 m row in 7:20"), "{:?}", one.evidence);
    }
}
