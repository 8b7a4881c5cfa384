//! How long a piece is for somebody: what decides the tempo, and the pace of machines and runs.

use super::work::amount;
use crate::movement::{Catalogue, Unit};
use crate::pacing::ability::Athlete;
use crate::pacing::capability::{ByCapability, Capability, Families, families};
use crate::pacing::engine::Machine;
use crate::pacing::model::Model;
use crate::session::{Amount, Node, Sharing, Work};

/// Rungs of a rising ladder that are looked at.
const RUNGS: u32 = 6;
/// Repetitions of what is open.
const OPEN: f64 = 10.0;

/// The length of a piece as an effort, in seconds: rests that let somebody recover count for less.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(super) struct Length {
    /// As an effort.
    pub seconds: f64,
    /// At work, all rounds together.
    work: f64,
    /// Of that at each kind of work, machines among them.
    on: ByCapability,
}

impl Length {
    /// Of a whole tree.
    pub(super) fn of(tree: &Node, athlete: &Athlete<'_>, catalogue: &Catalogue, model: &Model) -> Self {
        Look { athlete, catalogue, model }.node(tree, None)
    }

    /// What the piece is mostly.
    pub(super) fn families(&self) -> Families {
        families(&self.on)
    }

    /// The share of the work that is something else than this machine.
    fn besides(&self, machine: Machine) -> f64 {
        let on = self.on[Capability::of_machine(machine) as usize];
        if self.work <= 0.0 { 0.0 } else { 1.0 - (on / self.work).clamp(0.0, 1.0) }
    }

    /// Seconds for one unit on a machine or a run: as fast as lasts for the length of the piece, slower beside other work.
    pub(super) fn pace(&self, machine: Machine, unit: Unit, athlete: &Athlete<'_>, model: &Model) -> f64 {
        let engine = &model.fitted.engine;
        let held = athlete.machine_seconds(machine, unit, self.seconds, model);
        let mixed = if machine == Machine::Run { engine.mixed_run } else { engine.mixed_machine };
        let slower = (1.0 + engine.mixed_slow * (0.5 - athlete.level())).max(0.2);
        // Watts fall three times as fast as pace.
        let of_pace = if unit == Unit::Calories { 3.0 } else { 1.0 };
        let beside = (3.0 * self.besides(machine)).tanh();
        held * (1.0 + (engine.class_day - 1.0 + mixed * slower * beside) * of_pace)
    }

    fn and(self, other: Self) -> Self {
        let mut on = self.on;
        on.iter_mut().zip(other.on).for_each(|(mine, more)| *mine += more);
        Self { seconds: self.seconds + other.seconds, work: self.work + other.work, on }
    }

    /// As much of it as takes so long, in seconds.
    fn filling(self, seconds: f64) -> Self {
        self.scaled(if self.work > 0.0 { seconds / self.work } else { 1.0 }, seconds)
    }

    /// So many times the work, and another length.
    fn scaled(self, work: f64, seconds: f64) -> Self {
        Self { seconds, work: self.work * work, on: self.on.map(|on| on * work) }
    }
}

struct Look<'a> {
    athlete: &'a Athlete<'a>,
    catalogue: &'a Catalogue,
    model: &'a Model,
}

impl Look<'_> {
    fn node(&self, node: &Node, rung: Option<u32>) -> Length {
        let all =
            |of: &[Node]| of.iter().fold(Length::default(), |sum, child| sum.and(self.node(child, rung)));
        match node {
            Node::Work(work) => self.work(work, rung),
            Node::Rest { .. } => Length::default(),
            Node::Seq { of } => all(of),
            Node::Rounds { times: Some(n), rest_s, of } => {
                let bout = self.node(of, rung);
                let count = self.carried(f64::from(*n), rest_s.map_or(0.0, f64::from));
                bout.scaled(f64::from(*n), bout.seconds * count)
            }
            Node::Rounds { times: None, of, .. } => self.node(of, rung),
            Node::Scheme { reps, rest_s, of } => {
                let sum =
                    reps.iter().fold(Length::default(), |sum, rung| sum.and(self.node(of, Some(*rung))));
                let count = f64::from(reps.len().max(1) as u32);
                sum.scaled(1.0, sum.seconds * self.carried(count, rest_s.map_or(0.0, f64::from)) / count)
            }
            Node::Ladder { start, step, of } => {
                (0..RUNGS).fold(Length::default(), |sum, n| sum.and(self.node(of, Some(start + step * n))))
            }
            Node::Within { seconds, of } => {
                let inner = self.node(of, rung);
                let window = f64::from(*seconds);
                inner.filling(if is_open(of) { window } else { inner.seconds.min(window) })
            }
            Node::Every { interval_s, times, alternate, of } => {
                // As much as there is room for lasts until the next start; what rises by itself, as a ladder does, keeps its rests.
                let until_next = |length: Length, of: &[Node]| match of.iter().any(fills) {
                    true => length.filling(f64::from(*interval_s)),
                    false => length,
                };
                let bout = if *alternate {
                    let stations = of.chunks(1).map(|station| until_next(all(station), station));
                    stations.fold(Length::default(), Length::and)
                } else {
                    until_next(all(of), of)
                };
                let bouts = if *alternate { of.len().max(1) } else { 1 };
                let n = times.map_or(15.0, |times| f64::from(times) / bouts as f64);
                let rest = (f64::from(*interval_s) * bouts as f64 - bout.seconds).max(0.0);
                bout.scaled(n, bout.seconds * self.carried(n, rest))
            }
            Node::Interrupt { every_s, work, of, .. } => {
                let (inner, cut) = (self.node(of, rung), self.node(work, None));
                let free = (f64::from((*every_s).max(1)) - cut.seconds).max(5.0);
                let cuts = inner.seconds / free;
                inner.and(cut.scaled(cuts, cut.seconds * cuts))
            }
            Node::Penalty { of, .. } => self.node(of, rung),
            Node::Together { size, sharing, of } => {
                let inner = self.node(of, rung);
                // Somebody who rests while the others work goes harder.
                let share = match sharing {
                    Sharing::Together | Sharing::Stations => 1.0,
                    // Whoever holds while another works does not come back fresh.
                    Sharing::Held => f64::from((*size).max(1)).sqrt().sqrt(),
                    Sharing::Freely | Sharing::Rounds | Sharing::InTurns { .. } => {
                        f64::from((*size).max(1)).sqrt()
                    }
                };
                inner.scaled(1.0, inner.seconds / share)
            }
        }
    }

    /// How many bouts count that are done one behind another with a rest: all of them without one, hardly more than one with
    /// a long one.
    fn carried(&self, bouts: f64, rest_s: f64) -> f64 {
        let kept = (-rest_s / self.model.fitted.recovery.between_s).exp();
        if kept > 0.9999 { bouts } else { (1.0 - kept.powf(bouts)) / (1.0 - kept) }
    }

    fn work(&self, work: &Work, rung: Option<u32>) -> Length {
        let ability = self.athlete.ability(work, self.catalogue, self.model);
        let amount = amount(work, rung, self.athlete).unwrap_or(OPEN);
        let mut seconds = (ability.seconds + ability.put_down_s) * amount;
        if let Some((machine, unit)) = ability.machine {
            // The pace goes by the length and the length by the pace: twice is near enough.
            if unit == Unit::Metres && machine == Machine::Run {
                seconds = self.athlete.run.seconds(amount);
            }
            for _ in 0..2 {
                seconds = self.athlete.machine_seconds(machine, unit, seconds, self.model) * amount;
            }
        }
        let mut on = ByCapability::default();
        on[ability.capability as usize] = seconds;
        Length { seconds, work: seconds, on }
    }
}

/// Whether work in a window goes on until it closes.
fn is_open(node: &Node) -> bool {
    match node {
        Node::Work(work) => is_max(work),
        Node::Rounds { times: None, .. } | Node::Ladder { .. } => true,
        other => other.children().into_iter().any(is_open),
    }
}

/// Whether it lasts until the next start: as much of something as there is time for, in no window of its own.
fn fills(node: &Node) -> bool {
    match node {
        Node::Work(work) => is_max(work),
        Node::Within { .. } => false,
        other => other.children().into_iter().any(fills),
    }
}

fn is_max(work: &Work) -> bool {
    matches!(work.dose.amount, Amount::Max)
}
