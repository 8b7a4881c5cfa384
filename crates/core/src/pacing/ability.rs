//! What a member can do of one movement at one load: seconds a repetition, and how many unbroken.

use std::cell::{OnceCell, RefCell};
use std::collections::HashMap;
use std::rc::Rc;

use crate::member::Member;
use crate::movement::{Catalogue, LoadKind, Movement, MovementId, Unit};
use crate::session::{LoadUnit, Work};
use crate::strength::max_for;
use crate::units::Kilograms;

use super::capability::Capability;
use super::engine::{Curve, Machine, calorie_seconds};
use super::figures::{self, skill_step, strength, usual_kg};
use super::fitness::Fitness;
use super::model::{Kind, Model};

/// No more is inferred of a lift than of somebody this strong.
const MOST_STRENGTH: f64 = 0.85;

/// Local muscle groups, in the order of [`Ability::shares`].
pub const MUSCLES: [&str; 8] = ["grip", "pull", "push", "shoulders", "quads", "posterior", "core", "calves"];

/// What decides an ability: the movement, the load in its unit, and what is counted.
type AbilityKey = (MovementId, Option<(u64, LoadUnit)>, Unit);

/// A member with what pacing needs to know, worked out once.
#[derive(Clone, Debug)]
pub struct Athlete<'a> {
    /// Abilities worked out so far: a search asks for the same ones thousands of times.
    known: RefCell<HashMap<AbilityKey, Rc<Ability>>>,
    /// The member.
    pub member: &'a Member,
    /// How fit, from everything on file.
    pub fitness: Fitness,
    /// Own runs.
    pub run: Curve,
    /// Own rowing, which the other machines are read from where they have no results.
    pub row: Curve,
    /// Own results on the ski machine and on the bike.
    ski: Option<Curve>,
    bike: Option<Curve>,
    /// How strong and how skilled, worked out when it is asked for.
    strength: OnceCell<Fitness>,
    skill: OnceCell<Fitness>,
}

/// One movement at one load, for one member.
#[derive(Clone, Debug)]
pub struct Ability {
    /// Seconds for one unit when fresh, in a piece of a minute; of a machine or a run all out for about that long.
    pub seconds: f64,
    /// Seconds to put the bar down and set up again after a repetition, as far as that is done at this load.
    pub put_down_s: f64,
    /// How far it is lifted once at a time: 0 touch and go, 1 singles.
    pub singles: f64,
    /// Fresh unbroken repetitions; infinite for what is slowed rather than broken.
    pub capacity: f64,
    /// Load as a share of the 1RM in percent, when both are known.
    pub percent: Option<f64>,
    /// Seconds of pause a repetition for each capacity spent beyond where pauses begin.
    pub pause_s: f64,
    /// Seconds of rest per break: how pauses are told as sets.
    pub rest_s: f64,
    /// Seconds to get to it.
    pub setup_s: f64,
    /// Cost by muscle group, relative to the one that tires first.
    pub shares: [f64; 8],
    /// What its rate and breaks are like.
    pub kind: Kind,
    /// What it asks for, as far as that is learned from results.
    pub capability: Capability,
    /// A machine or a run with a curve of its own, and what is counted on it.
    pub machine: Option<(Machine, Unit)>,
    /// Whether the pace is chosen so that it lasts: machines, runs, swims.
    pub steady: bool,
    /// Whether max or capacity is a guess.
    pub guess: bool,
}

impl<'a> Athlete<'a> {
    /// Works out what pacing needs from the member's results.
    pub fn new(member: &'a Member) -> Self {
        let fitness = Fitness::of(member);
        let (run, row) = (Curve::run(member, &fitness), Curve::row(member, &fitness));
        let [ski, bike] =
            [Machine::Ski, Machine::Bike].map(|machine| Curve::machine(member, machine, &fitness));
        Self {
            known: RefCell::default(),
            member,
            fitness,
            run,
            row,
            ski,
            bike,
            strength: OnceCell::new(),
            skill: OnceCell::new(),
        }
    }

    /// From 0, the slow end of an ordinary class, to 1, the quick end, and somewhat beyond.
    pub fn level(&self) -> f64 {
        self.fitness.value.clamp(-0.4, 1.3)
    }

    /// How far a pace may be off because nobody knows how fit they are, as the sigma of a log-normal.
    pub fn unsure(&self, model: &Model) -> f64 {
        let beyond = self.fitness.spread.powi(2) - model.luck.known.powi(2);
        model.luck.stranger * beyond.max(0.0).sqrt()
    }

    /// The movement at the work's load. The load must be this member's: see `versions`. One athlete is asked with one
    /// catalogue and one model.
    pub fn ability(&self, work: &Work, catalogue: &Catalogue, model: &Model) -> Rc<Ability> {
        let load = work.load.map(|load| (load.first.to_bits(), load.unit));
        let key = (work.movement.clone(), load, work.dose.unit);
        if let Some(known) = self.known.borrow().get(&key) {
            return known.clone();
        }
        let ability = Rc::new(self.worked_out(work, catalogue, model));
        self.known.borrow_mut().insert(key, ability.clone());
        ability
    }

    fn worked_out(&self, work: &Work, catalogue: &Catalogue, model: &Model) -> Ability {
        let Some(movement) = catalogue.get(&work.movement) else { return Ability::unknown() };
        let weight = work.load.as_ref().and_then(|load| load.weight());
        let max = movement.takes_weight().then(|| self.most(movement, catalogue, model)).flatten();
        let percent = match (weight, max) {
            (Some(weight), Some((max, _))) => Some(weight.kg() / max.kg().max(1.0) * 100.0),
            _ => None,
        };
        let kind = Kind::of(movement);
        let (capacity, capacity_guess) = self.capacity(movement, percent, kind, catalogue, model);
        let strongest = MUSCLES.iter().map(|muscle| movement.muscle(muscle)).fold(0.01, f64::max);
        let level = self.level();
        let breaks = &model.breaks;
        let rest_factor = breaks.slow + (breaks.quick - breaks.slow) * level.clamp(0.0, 1.0);
        let slower = 1.0 + model.fitted.pause.slow * (0.5 - level);
        let machine = Machine::of(movement.id.as_str()).map(|machine| (machine, work.dose.unit));
        let machine = machine.filter(|(_, unit)| matches!(unit, Unit::Metres | Unit::Calories));
        let barbell = movement.is_barbell().then_some(percent).flatten();
        let engine_guess = machine.is_some_and(|(machine, _)| self.curve(machine).guess);
        let usual = movement.seconds_per(work.dose.unit, 0.5).unwrap_or(1.0);
        let capability = Capability::of(movement);
        let learned = self.member.learned.as_deref();
        let learned =
            learned.map_or(1.0, |learned| learned.factor(capability) * learned.factor_of(&movement.id));
        Ability {
            // What is learned of a machine is in its own pace already.
            seconds: self.seconds(movement, work, percent, capacity, model)
                * if machine.is_some() { 1.0 } else { learned },
            put_down_s: barbell.map_or(0.0, |percent| model.put_down(percent) * usual * learned),
            singles: barbell.map_or(0.0, |percent| model.singles(percent)),
            capacity,
            percent,
            pause_s: model.pause(movement, kind) * slower.max(0.3) * learned,
            rest_s: model.rest_per_break(movement) * rest_factor,
            setup_s: movement.setup_s.min(15.0),
            shares: MUSCLES.map(|muscle| movement.muscle(muscle) / strongest),
            kind,
            capability,
            machine,
            steady: movement.is_engine(),
            guess: capacity_guess || engine_guess || max.is_some_and(|(_, guess)| guess),
        }
    }

    /// The curve that a machine is read from.
    pub fn curve(&self, machine: Machine) -> &Curve {
        match machine {
            Machine::Run => &self.run,
            Machine::Row => &self.row,
            Machine::Ski => self.ski.as_ref().unwrap_or(&self.row),
            Machine::Bike => self.bike.as_ref().unwrap_or(&self.row),
        }
    }

    /// Seconds a metre or a calorie at what is held for `length_s` seconds.
    pub fn machine_seconds(&self, machine: Machine, unit: Unit, length_s: f64, model: &Model) -> f64 {
        let learned = self.member.learned.as_deref();
        let learned = learned.map_or(1.0, |learned| learned.factor(Capability::of_machine(machine)));
        let pace = self.curve(machine).pace_for(length_s);
        let of_itself = match machine {
            Machine::Ski => self.ski.is_some(),
            Machine::Bike => self.bike.is_some(),
            Machine::Run | Machine::Row => false,
        };
        if of_itself {
            let own = if unit == Unit::Calories { calorie_seconds(machine.watts(pace)) } else { pace };
            return own * learned;
        }
        let ski = model.fitted.engine.ski_power;
        let read = if unit == Unit::Calories { machine.calorie(pace, ski) } else { machine.metre(pace, ski) };
        read * learned
    }

    /// The most that is lifted or thrown once, and whether that is a guess.
    fn most(&self, movement: &Movement, catalogue: &Catalogue, model: &Model) -> Option<(Kilograms, bool)> {
        let Some(thrown) = model.thrown.iter().find(|row| row.movement == movement.id.as_str()) else {
            return self.one_rep_max(movement, catalogue);
        };
        let (most, guess) = self.one_rep_max(catalogue.get(&MovementId::new(&thrown.of))?, catalogue)?;
        Some((most.share(thrown.share), guess))
    }

    /// The 1RM of a loaded movement: on file, by its usual share of a lift on file, or from bodyweight, which alone is a guess.
    fn one_rep_max(&self, movement: &Movement, catalogue: &Catalogue) -> Option<(Kilograms, bool)> {
        if let Some(estimate) = max_for(self.member, &movement.id, catalogue) {
            return Some((estimate.value, false));
        }
        Some((self.usual_max(movement, catalogue)?, true))
    }

    /// What somebody of this bodyweight, sex and strength usually lifts once: a usual back squat, and the usual ratios from there. A guess,
    /// for where nothing is on file.
    pub fn usual_max(&self, movement: &Movement, catalogue: &Catalogue) -> Option<Kilograms> {
        let strength = self.strength.get_or_init(|| strength(self.member, &self.fitness, catalogue));
        let kg = usual_kg(self.member, strength.value.clamp(0.0, MOST_STRENGTH), movement, catalogue)?;
        Some(Kilograms::from_kg(kg))
    }

    /// Fresh unbroken repetitions, and whether they are a guess.
    fn capacity(
        &self,
        movement: &Movement,
        percent: Option<f64>,
        kind: Kind,
        catalogue: &Catalogue,
        model: &Model,
    ) -> (f64, bool) {
        if movement.is_engine() || movement.unit == Unit::Seconds {
            return (f64::INFINITY, false);
        }
        if let Some(percent) = percent {
            // With a light load the engine decides how long a set can be, with a heavy one the muscle.
            let endurance =
                model.fitted.pause.endurance * (self.level() - 0.5) * (1.0 - percent / 100.0).max(0.0);
            // One hand rests while the other works.
            let hands = if movement.load_kind == LoadKind::DumbbellSingle { TWO_HANDS } else { 1.0 };
            let reps = model.reps_at(percent, movement) * hands;
            return (if kind.is_loaded() { reps * endurance.exp() } else { reps }, false);
        }
        let known = |id: &str| self.member.best(id).map(f64::from);
        if let Some(best) = known(movement.id.as_str()) {
            return (best.max(0.2), false);
        }
        let skill = skill_step(movement);
        // What nearly everybody can do is a matter of the engine, the rest of what they have learned.
        let level = match skill {
            0 => self.level(),
            _ => {
                let of_skill = || figures::skill(self.member, &self.fitness, catalogue, model);
                self.skill.get_or_init(of_skill).value.clamp(-0.4, 1.3)
            }
        };
        let usual = model.capacity.bodyweight_base[skill] + model.capacity.bodyweight_rise[skill] * level;
        if let Some(best) = self.by_a_related_movement(movement.id.as_str(), model) {
            // Few of the harder movement says little about one that nearly everybody can do.
            let floor = if skill <= 1 { 0.6 * usual } else { 0.2 };
            return (best.max(floor), true);
        }
        (usual.max(0.2), skill >= 2)
    }

    /// Best repetitions from those of a related movement, by way of another where need be: pull-ups tell of strict ones,
    /// and those of chin-ups.
    fn by_a_related_movement(&self, id: &str, model: &Model) -> Option<f64> {
        const MOST_STEPS: usize = 3;
        let (mut at, mut share) = (id, 1.0);
        for _ in 0..MOST_STEPS {
            let row = model.related.iter().find(|row| row.movement == at)?;
            share *= row.share;
            if let Some(best) = self.member.best(&row.of) {
                return Some(f64::from(best) * share);
            }
            at = &row.of;
        }
        None
    }

    /// Seconds for one unit when fresh.
    fn seconds(
        &self,
        movement: &Movement,
        work: &Work,
        percent: Option<f64>,
        capacity: f64,
        model: &Model,
    ) -> f64 {
        let unit = work.dose.unit;
        if unit == Unit::Seconds {
            return 1.0;
        }
        if let (Some(machine), Unit::Metres | Unit::Calories) = (Machine::of(movement.id.as_str()), unit) {
            return self.machine_seconds(machine, unit, ABOUT_S, model);
        }
        let kind = Kind::of(movement);
        let mut level = self.level();
        if movement.skill >= 2 && percent.is_none() && capacity.is_finite() {
            // Who has many of a skill does them quickly, whatever the engine.
            level = 0.5 * (level + ((capacity + 1.0).ln() / SKILLED_REPS.ln()).clamp(0.0, 1.2));
        }
        let rate = |level: f64| movement.seconds_per(unit, level).unwrap_or(1.0);
        let (slow, middle, quick) = (rate(0.0), rate(0.5), rate(1.0));
        // In proportion rather than in seconds, so that it goes on beyond both ends.
        let from_middle = 2.0 * (level - 0.5) * model.spread_of(kind);
        let far = if from_middle >= 0.0 { quick / middle } else { middle / slow };
        middle
            * far.powf(from_middle)
            * model.rate(kind)
            * percent.map_or(1.0, |percent| model.load_factor(percent))
    }
}

/// A length in seconds for which the pace of a machine is given where the piece is not known.
const ABOUT_S: f64 = 480.0;
/// Repetitions of both hands in turn against one of them, unbroken.
const TWO_HANDS: f64 = 1.7;
/// Repetitions of a skill of somebody at the quick end.
const SKILLED_REPS: f64 = 46.0;

impl Ability {
    fn unknown() -> Self {
        Self {
            seconds: 2.0,
            put_down_s: 0.0,
            singles: 0.0,
            capacity: 20.0,
            percent: None,
            pause_s: 1.0,
            rest_s: 6.0,
            setup_s: 4.0,
            shares: [0.0; 8],
            kind: Kind::Legs,
            capability: Capability::Legs,
            machine: None,
            steady: false,
            guess: true,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::member::Max;
    use crate::read::read;
    use crate::session::works;

    #[test]
    fn only_a_lift_with_nothing_related_on_file_is_a_guess() {
        let catalogue = Catalogue::standard();
        let session = read("For time\n21 thrusters 40/30 kg\n21 wall balls 9/6 kg", catalogue).session;
        let guesses = |lifts: &[&str]| -> Vec<bool> {
            let maxes =
                lifts.iter().map(|lift| (MovementId::new(lift), Max::on_file(Kilograms::from_kg(90.0))));
            let member = Member { maxes: maxes.collect(), ..Member::default() };
            let athlete = Athlete::new(&member);
            let guess = |work| athlete.ability(work, catalogue, Model::standard()).guess;
            works(&session.parts[0].tree).into_iter().map(guess).collect()
        };
        assert_eq!(guesses(&[]), [true, true]);
        assert_eq!(guesses(&["front-squat", "push-press"]), [false, false]);
        assert!(guesses(&["bench-press"])[0], "a bench says nothing of a thruster");
    }
}
