//! One movement's work: getting to it, a pace that is held, and what cuts in.

use super::{Mark, Task, Walk};
use crate::movement::Unit;
use crate::pacing::ability::{Ability, Athlete};
use crate::session::{Amount, Work};

/// Share of a local reserve that a second of steady work costs where it bears most: ten minutes of
/// rowing take the edge off the legs, they do not spend them. Modelling choice.
const STEADY_COST: f64 = 0.0015;
/// Steady work is walked in stretches of so many seconds.
const STRETCH_S: f64 = 10.0;
/// Most places that are recorded.
const MOST_MARKS: usize = 400;
/// Repetitions where none are said.
const A_HANDFUL: f64 = 10.0;

impl<'a> Walk<'a> {
    pub(super) fn work(&mut self, work: &'a Work, rung: Option<u32>) {
        let task = self.course.task(work);
        let begun = self.clock;
        self.transition(work, &task.ability);
        let target = amount(work, rung, self.athlete);
        let (from_s, others) = (self.clock, self.run.on.iter().sum::<f64>());
        // Half a minute of something is as much of it as fits, the way there included.
        let timed = target.filter(|_| task.unit != work.dose.unit);
        let outer = self.deadline;
        if let Some(seconds) = timed {
            self.deadline = (begun + seconds).min(outer);
        }
        let target = target.filter(|_| timed.is_none());
        if task.ability.capacity.is_infinite() || task.unit != Unit::Reps {
            self.steady(work, &task, target);
        } else {
            self.sets(work, &task, target);
        }
        self.deadline = outer;
        if let Some(seconds) = timed {
            self.mark(work, begun, self.clock - begun, Some(seconds));
        }
        // What has cut in is on its own account.
        let others = self.run.on.iter().sum::<f64>() - others;
        let own = (self.clock - from_s - others).max(0.0);
        self.run.on[task.ability.capability as usize] += own;
        if self.how.record && task.ability.machine.is_none() {
            match self.run.by_movement.iter_mut().find(|(movement, _)| *movement == work.movement) {
                Some((_, seconds)) => *seconds += own,
                None => self.run.by_movement.push((work.movement.clone(), own)),
            }
        }
    }

    pub(super) fn transition(&mut self, work: &'a Work, ability: &Ability) {
        let load = |work: &Work| work.load.map(|load| load.first.to_bits());
        let seconds = match self.last {
            Some(last) if last.movement == work.movement => {
                if load(last) == load(work) {
                    0.0
                } else {
                    self.model.fitted.change.change_load_s
                }
            }
            Some(_) => {
                let change = &self.model.fitted.change;
                let slower = 1.0 + change.slow * (0.5 - self.athlete.level());
                (change.same_spot_s + ability.setup_s * change.setup_share) * slower.max(0.3)
            }
            None => 0.0,
        };
        self.last = Some(work);
        self.idle(seconds * self.luck.pace);
    }

    /// Machines, runs, carries and holds: a pace that lasts, never broken.
    fn steady(&mut self, work: &'a Work, task: &Task, target: Option<f64>) {
        let Task { ability, each_s, unit } = task;
        let mut left = target.unwrap_or(f64::INFINITY);
        let from_s = self.clock;
        let hold = *unit == Unit::Seconds;
        let each = if hold { 1.0 } else { each_s * self.luck.pace * self.tag(*each_s, *unit) };
        while left > 1e-9 && !self.over() {
            // Ten seconds at a time, so that the marks of the clock are not missed.
            let chunk = (STRETCH_S / each).min(left).min((self.deadline - self.clock) / each);
            self.pass(chunk * each, Some((ability, chunk * each * STEADY_COST)));
            left -= chunk;
            if !hold {
                self.run.count(work, chunk);
            }
            if chunk <= 0.0 {
                break;
            }
            self.step();
            if self.cut_in() {
                self.transition(work, ability);
            }
        }
        if *unit == work.dose.unit {
            self.mark(
                work,
                from_s,
                target.unwrap_or(0.0) - if left.is_finite() { left } else { 0.0 },
                target,
            );
        }
    }

    pub(super) fn mark(&mut self, work: &Work, from_s: f64, done: f64, of: Option<f64>) {
        if self.how.record && self.run.marks.len() < MOST_MARKS {
            let (at_s, round, movement) = (self.clock, self.round, work.movement.clone());
            self.run.marks.push(Mark { from_s, at_s, round, movement, done, of, load: work.load });
        }
    }

    /// At a mark of the clock, other work cuts in. True when it did.
    pub(super) fn cut_in(&mut self) -> bool {
        let Some(mut now) = self.interrupt.take() else { return false };
        let due = self.clock >= now.next_s;
        if due {
            while now.next_s <= self.clock {
                now.next_s += now.every_s;
            }
            self.node(now.work, None);
        }
        self.interrupt = Some(now);
        due
    }
}

/// How much of a piece of work, both sides counted; none when it is open. The lighter number of a pair
/// of calories or metres goes to who takes the lighter load.
pub(super) fn amount(work: &Work, rung: Option<u32>, athlete: &Athlete<'_>) -> Option<f64> {
    let own = work.dose.amount.own(athlete.member.takes_first_of_pair(), rung);
    match work.dose.amount {
        Amount::Max => None,
        // Not said: a handful, so that time goes by.
        Amount::Open | Amount::Scheme | Amount::Meanwhile if own.is_none() => Some(A_HANDFUL),
        _ => own.map(|own| own * work.dose.sides()),
    }
}
