//! How strong, how skilled and how quick somebody is, each a figure of its own beside the engine: from what is on file where anything is, else as
//! fit as their engine, which says little about it.
//!
//! All are on the same scale: 0 is the slow or weak end of an ordinary class, 1 the other.

use super::fitness::{Evidence, Fitness, SPEED_400, Source, kilograms};
use super::model::Model;
use crate::member::Member;
use crate::movement::{Catalogue, LoadKind, Movement};
use crate::units::clock_s;

/// How far strength, skill and speed lie from the engine in one person, as one standard deviation; judgement.
const BESIDE_THE_ENGINE: f64 = 0.3;
/// How far one lift, one skill or one sprint may be off for the whole of it.
const A_LIFT: f64 = 0.11;
const A_SKILL: f64 = 0.28;
const A_SPRINT: f64 = 0.12;
/// Beyond these ends nobody of a class is.
const ENDS: (f64, f64) = (-0.4, 1.3);
/// The back squat for the bodyweight at the weak end of a class, and how much more it is at the strong one; the other sex lifts this share of
/// it. Judgement, from usual strength tables: a man of 83 kg 50 kg and 183 kg.
const WEAK_SQUAT: f64 = 0.6;
const STRONG_IS_MORE: f64 = 1.6;
const LIGHTER_SEX: f64 = 0.78;
/// Of a good engine alone no more is inferred than this share of the way to the strong end: most who run well have not lifted for years.
const STRENGTH_OF_ENGINE: f64 = 0.625;

/// Everything that is known or inferred of how somebody trains.
#[derive(Clone, Debug, PartialEq)]
pub struct Figures {
    /// What lasts: machines and runs.
    pub engine: Fitness,
    /// What is lifted once, for the bodyweight.
    pub strength: Fitness,
    /// How many of a skill in one go.
    pub skill: Fitness,
    /// What is run in a lap.
    pub speed: Fitness,
}

impl Figures {
    /// Of a member.
    pub fn of(member: &Member, catalogue: &Catalogue, model: &Model) -> Self {
        let engine = Fitness::of(member);
        let strength = strength(member, &engine, catalogue);
        let skill = skill(member, &engine, catalogue, model);
        let speed = speed(member, &engine);
        Self { engine, strength, skill, speed }
    }

    /// Each with its name and what it rests on, in words.
    pub fn told(&self) -> Vec<(&'static str, String)> {
        let all = [
            ("Engine", &self.engine),
            ("Strength", &self.strength),
            ("Skill", &self.skill),
            ("Speed", &self.speed),
        ];
        all.map(|(name, figure)| (name, figure.told())).to_vec()
    }

    /// The one test that would tell most: of the figure that rests on nothing of its own and is least sure.
    pub fn test_that_tells_most(&self) -> &'static str {
        let rests_on = |figure: &Fitness| {
            figure
                .evidence
                .iter()
                .any(|said| !matches!(said.source, Source::Word | Source::Engine | Source::Squat))
        };
        let all = [
            (&self.engine, "a 2000 m row, or a 1600 m run"),
            (&self.strength, "a heavy back squat or deadlift"),
            (&self.skill, "pull-ups in one go"),
            (&self.speed, "a 400 m run"),
        ];
        let open = all.into_iter().filter(|(figure, _)| !rests_on(figure));
        let least_sure = open.max_by(|a, b| a.0.spread.total_cmp(&b.0.spread));
        least_sure.map_or("nothing much: each rests on results", |(_, test)| test)
    }
}

/// The figure of the engine, where nothing of its own is known.
fn beside(engine: &Fitness, share: f64) -> Evidence {
    let (value, spread) = (engine.value * share, engine.spread.hypot(BESIDE_THE_ENGINE) * share);
    Evidence { source: Source::Engine, from: "the engine".to_owned(), value, spread }
}

/// What is known of a figure of its own, beside a share of the engine.
fn joined(engine: &Fitness, share: f64, mut own: Vec<Evidence>) -> Fitness {
    own.push(beside(engine, share));
    own.sort_by(|a, b| a.spread.total_cmp(&b.spread));
    Fitness::joined(own)
}

/// What somebody lifts once for each whole of their strength, in kilograms: a lift's share of the back squat, by usual ratios. None for what hangs
/// on no lift.
fn of_the_squat(movement: &Movement, catalogue: &Catalogue) -> Option<f64> {
    let mut share = 1.0;
    let mut at = movement;
    for _ in 0..6 {
        let Some((next, fraction)) = &at.load_ref else { break };
        if *next == at.id {
            break;
        }
        share *= fraction;
        at = catalogue.get(next)?;
    }
    let root = match at.id.as_str() {
        "back-squat" => 1.0,
        "deadlift" => 1.22,
        "bench-press" => 0.72,
        "strict-press" => 0.45,
        _ => return None,
    };
    Some(root * share)
}

fn frame(member: &Member) -> f64 {
    kilograms(member) * if member.takes_first_of_pair() { 1.0 } else { LIGHTER_SEX }
}

/// What somebody of this strength, bodyweight and sex usually lifts once, in kilograms.
pub(super) fn usual_kg(
    member: &Member,
    strength: f64,
    movement: &Movement,
    catalogue: &Catalogue,
) -> Option<f64> {
    Some(frame(member) * (WEAK_SQUAT + STRONG_IS_MORE * strength) * of_the_squat(movement, catalogue)?)
}

/// From the lifts on file, for the bodyweight.
pub(super) fn strength(member: &Member, engine: &Fitness, catalogue: &Catalogue) -> Fitness {
    let own = member.maxes.iter().filter_map(|(lift, max)| {
        let movement = catalogue.get(lift).filter(|movement| movement.is_barbell())?;
        let squat = max.value.kg() / (frame(member) * of_the_squat(movement, catalogue)?);
        let value = (squat - WEAK_SQUAT) / STRONG_IS_MORE;
        let from = format!("{} {}", movement.name.to_lowercase(), max.value);
        Some(Evidence { source: Source::Lift, from, value: value.clamp(ENDS.0, ENDS.1), spread: A_LIFT })
    });
    joined(engine, STRENGTH_OF_ENGINE, own.collect())
}

/// From repetitions in one go.
pub(super) fn skill(member: &Member, engine: &Fitness, catalogue: &Catalogue, model: &Model) -> Fitness {
    let own = member.best_reps.iter().filter_map(|(id, best)| {
        let movement = catalogue.get(id)?;
        let step = skill_step(movement);
        let (base, rise) = (model.capacity.bodyweight_base[step], model.capacity.bodyweight_rise[step]);
        let value = (f64::from(*best) - base) / rise.max(1.0);
        let from = format!("{best} {}", movement.name.to_lowercase());
        // None of a hard one says nothing about who would not be expected to have any.
        let expected = *best == 0 && value > engine.value;
        (step > 0 && !expected).then(|| Evidence {
            source: Source::Skill,
            from,
            value: value.clamp(ENDS.0, ENDS.1),
            spread: A_SKILL,
        })
    });
    joined(engine, 1.0, own.collect())
}

/// How much of a skill a movement is; a box asks for none.
pub(super) fn skill_step(movement: &Movement) -> usize {
    if movement.load_kind == LoadKind::BoxHeight { 0 } else { usize::from(movement.skill.min(4)) }
}

/// From a lap.
fn speed(member: &Member, engine: &Fitness) -> Fitness {
    let (slow, quick) = SPEED_400;
    let own = member.run_400_s.map(|seconds| {
        let value = (400.0 / f64::from(seconds) / slow).ln() / (quick / slow).ln();
        let from = format!("400 m run in {}", clock_s(seconds));
        Evidence { source: Source::Run(400), from, value: value.clamp(ENDS.0, ENDS.1), spread: A_SPRINT }
    });
    joined(engine, 1.0, own.into_iter().collect())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::member::{Experience, Max, Sex};
    use crate::movement::MovementId;
    use crate::units::Kilograms;

    fn with(lifts: &[(&str, f64)], reps: &[(&str, u32)]) -> Figures {
        let member = Member {
            sex: Some(Sex::M),
            experience: Experience::Intermediate,
            bodyweight: Some(Kilograms::from_kg(80.0)),
            maxes: lifts
                .iter()
                .map(|(lift, kg)| (MovementId::new(lift), Max::on_file(Kilograms::from_kg(*kg))))
                .collect(),
            best_reps: reps.iter().map(|(id, best)| (MovementId::new(id), *best)).collect(),
            ..Member::default()
        };
        Figures::of(&member, Catalogue::standard(), Model::standard())
    }

    #[test]
    fn a_lap_says_how_fast_somebody_is() {
        let speed = |seconds| {
            let member = Member { run_400_s: Some(seconds), ..Member::default() };
            Figures::of(&member, Catalogue::standard(), Model::standard()).speed.value
        };
        let laps = [110, 90, 75, 62].map(speed);
        assert!(laps.is_sorted() && laps[3] > laps[0] + 0.3, "{laps:?}");
    }

    #[test]
    fn a_lift_says_how_strong_somebody_is_and_not_how_fit() {
        let (weak, strong) = (with(&[("bench-press", 50.0)], &[]), with(&[("bench-press", 110.0)], &[]));
        assert!(strong.strength.value > weak.strength.value + 0.2, "{strong:?}");
        assert_eq!(strong.engine, weak.engine);
        let two = with(&[("bench-press", 110.0), ("deadlift", 190.0)], &[]);
        assert!(two.strength.spread < strong.strength.spread);
    }

    #[test]
    fn the_least_sure_figure_names_the_test() {
        let nothing = with(&[], &[]);
        let lifts =
            with(&[("back-squat", 120.0), ("deadlift", 150.0)], &[("pull-up", 10), ("toes-to-bar", 8)]);
        assert!(lifts.skill.spread < nothing.skill.spread);
        let asked = lifts.test_that_tells_most();
        assert!(asked.contains("run"), "{asked}");
        // None of a hard skill never speaks for somebody; none of an easy one speaks against them more.
        let none_of = |id| with(&[], &[(id, 0)]).skill.value;
        assert!(
            none_of("ring-muscle-up") <= nothing.skill.value
                && none_of("pull-up") < none_of("ring-muscle-up")
        );
        assert!(lifts.told().iter().any(|(name, words)| *name == "Strength" && words.contains("120 kg")));
    }
}
