//! One member doing a tree once: a clock, muscle groups that are spent and come back, and pauses.
//!
//! A repetition costs its muscle groups `1 / capacity`; time gives that back. Machines and runs go by the member's own
//! curve for the length of the piece. Nothing here draws random numbers: a day's [`Luck`] comes in.

mod body;
mod bounds;
mod length;
mod sets;
#[cfg(test)]
mod tests;

use std::cell::RefCell;
use std::rc::Rc;

use bounds::ROUNDS_WALKED;
use length::Length;

use super::ability::{Ability, Athlete, MUSCLES};
use super::capability::ByCapability;
use super::learned::Direction;
use super::model::Model;
use super::strategy::Strategy;
use crate::movement::{Catalogue, MovementId, Unit};
use crate::session::{Amount, Load, Node, Sharing, Work, works};

/// A member's day: factors on time and on capacity, 1 on a median day.
#[derive(Clone, Copy, Debug)]
pub struct Luck {
    /// On every repetition's time.
    pub pace: f64,
    /// On unbroken repetitions.
    pub capacity: f64,
}

impl Luck {
    /// A median day.
    pub const MEDIAN: Self = Self { pace: 1.0, capacity: 1.0 };
}

/// What came of one walk through a tree.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Run {
    /// Seconds on the clock at the end, rests included.
    pub finish_s: f64,
    /// Rounds done in a window, with the part of the last one.
    pub rounds: f64,
    /// Repetitions, calories and metres done that count, all movements together.
    pub reps: f64,
    /// Interval that no longer held its work, for rising pieces.
    pub failed_round: Option<u32>,
    /// Clock at the end of each round, rung or interval.
    pub round_ends: Vec<f64>,
    /// Working seconds of each interval.
    pub interval_work: Vec<f64>,
    /// Repetitions of each interval, all movements together.
    pub interval_reps: Vec<f64>,
    /// Sets of each movement in the first rounds: (round, movement, repetitions).
    pub sets: Vec<(u32, MovementId, u32)>,
    /// Seconds of work by capability, of what was walked.
    pub on: ByCapability,
    /// Breaks of sets.
    pub breaks: u32,
    /// Stretches of work before which somebody had to stand longer than a set break: they have blown up.
    pub waits: u32,
    /// Ends of sets and stretches, for checkpoints.
    pub marks: Vec<Mark>,
    /// Steps that the walk took: what it costs to do once more.
    pub steps: u32,
}

/// A place in the piece and when it was reached.
#[derive(Clone, Debug, PartialEq)]
pub struct Mark {
    /// On the clock, in seconds, when it began.
    pub from_s: f64,
    /// On the clock, in seconds, when it ended.
    pub at_s: f64,
    /// Round, rung or interval, from 1.
    pub round: u32,
    /// What was being done.
    pub movement: MovementId,
    /// How much of it was done in this place.
    pub done: f64,
    /// How much of it there is; none when it is open.
    pub of: Option<f64>,
    /// What was carried, as written.
    pub load: Option<Load>,
}

/// Longest piece that is simulated, in seconds; past it a finish is only "too long".
const GIVE_UP_S: f64 = 3.0 * 3600.0;
/// Share of a local reserve that a second of steady work costs where it bears most: ten minutes of
/// rowing take the edge off the legs, they do not spend them. Modelling choice.
const STEADY_COST: f64 = 0.0015;
/// Steady work is walked in stretches of so many seconds.
const STRETCH_S: f64 = 10.0;
/// Rounds for which sets are recorded.
const ROUNDS_KEPT: u32 = 12;
/// Most places that are recorded.
const MOST_MARKS: usize = 400;

/// Walks the tree once, with sets as planned.
pub fn simulate(tree: &Node, athlete: &Athlete<'_>, catalogue: &Catalogue, model: &Model, luck: Luck) -> Run {
    simulate_as(How::default(), tree, athlete, catalogue, model, luck)
}

/// Seconds a metre or a calorie of a machine or a run in this piece; none for what is neither.
pub fn machine_pace(
    tree: &Node,
    work: &Work,
    athlete: &Athlete<'_>,
    catalogue: &Catalogue,
    model: &Model,
) -> Option<f64> {
    let (machine, unit) = athlete.ability(work, catalogue, model).machine?;
    Some(Length::of(tree, athlete, catalogue, model).pace(machine, unit, athlete, model))
}

/// How a walk is done.
#[derive(Clone, Copy, Debug, Default)]
pub struct How {
    /// How sets are broken.
    pub strategy: Strategy,
    /// Whether sets and places are written down; a search does without.
    pub record: bool,
    /// Share of freely shared work that is one's own, where it is not an even one.
    pub share: Option<f64>,
}

/// Walks the tree once, in the way asked for.
pub fn simulate_as(
    how: How,
    tree: &Node,
    athlete: &Athlete<'_>,
    catalogue: &Catalogue,
    model: &Model,
    luck: Luck,
) -> Run {
    Course::of(tree, athlete, catalogue, model).walk(how, luck)
}

/// A piece and who does it: what all their walks of it share, whatever the day is like.
pub(super) struct Course<'a> {
    tree: &'a Node,
    athlete: &'a Athlete<'a>,
    catalogue: &'a Catalogue,
    model: &'a Model,
    /// The length of the piece, which decides tempo and pace.
    length: Length,
    /// Of each work of the tree that a walk has come by; there are so few that looking through beats hashing.
    known: RefCell<Vec<(*const Work, Task)>>,
}

/// A work of the tree as somebody does it in this piece.
#[derive(Clone)]
struct Task {
    ability: Rc<Ability>,
    /// Seconds a unit when fresh, at the tempo of the piece.
    each_s: f64,
}

impl<'a> Course<'a> {
    pub(super) fn of(
        tree: &'a Node,
        athlete: &'a Athlete<'a>,
        catalogue: &'a Catalogue,
        model: &'a Model,
    ) -> Self {
        let length = Length::of(tree, athlete, catalogue, model);
        Self { tree, athlete, catalogue, model, length, known: RefCell::default() }
    }

    /// What it is made of, from the work of a walk: a result is heard along it.
    pub(super) fn direction(&self, on: &ByCapability) -> Direction {
        let all: f64 = on.iter().sum();
        let shares = if all > 0.0 { on.map(|seconds| seconds / all) } else { ByCapability::default() };
        Direction { shares, length_s: self.length.seconds, rested: has_rests(self.tree) }
    }

    /// Once through, on such a day.
    pub(super) fn walk(&self, how: How, luck: Luck) -> Run {
        let learned = self.athlete.member.learned.as_deref();
        let of_length = learned
            .map_or(1.0, |learned| learned.factor_of_length(self.length.seconds, has_rests(self.tree)));
        let luck = Luck { pace: luck.pace * of_length, ..luck };
        let mut walk = Walk {
            how,
            course: self,
            athlete: self.athlete,
            model: self.model,
            luck,
            clock: 0.0,
            deadline: GIVE_UP_S,
            quick: [0.0; MUSCLES.len()],
            slow: [0.0; MUSCLES.len()],
            last: None,
            round: 1,
            team: 1.0,
            turns: 1,
            way: None,
            interrupt: None,
            penalty: None,
            run: Run::default(),
        };
        walk.node(self.tree, None);
        walk.run.finish_s = walk.clock.min(GIVE_UP_S);
        walk.run
    }

    fn task(&self, work: &Work) -> Task {
        let key = std::ptr::from_ref(work);
        if let Some((_, known)) = self.known.borrow().iter().find(|(known, _)| *known == key) {
            return known.clone();
        }
        let ability = self.athlete.ability(work, self.catalogue, self.model);
        let each_s = self.pace(&ability);
        let task = Task { ability, each_s };
        self.known.borrow_mut().push((key, task.clone()));
        task
    }

    /// Seconds for one unit. A machine or a run goes as fast as lasts for the length of the piece, slower beside other work.
    fn pace(&self, ability: &Ability) -> f64 {
        match ability.machine {
            Some((machine, unit)) => self.length.pace(machine, unit, self.athlete, self.model),
            None => ability.seconds * self.tempo(ability.kind),
        }
    }
}

/// Whether a piece is bouts with a rest between them.
fn has_rests(tree: &Node) -> bool {
    match tree {
        Node::Every { .. } | Node::Rounds { rest_s: Some(_), .. } | Node::Scheme { rest_s: Some(_), .. } => {
            true
        }
        Node::Seq { of } => of.iter().any(has_rests),
        _ => false,
    }
}

struct Walk<'a> {
    how: How,
    course: &'a Course<'a>,
    athlete: &'a Athlete<'a>,
    model: &'a Model,
    luck: Luck,
    clock: f64,
    /// The window around closes here.
    deadline: f64,
    /// What is spent of each group and comes back within a minute or so, in capacities.
    quick: [f64; MUSCLES.len()],
    /// What is spent and comes back over many minutes.
    slow: [f64; MUSCLES.len()],
    last: Option<&'a Work>,
    round: u32,
    /// People sharing repetitions freely.
    team: f64,
    /// People taking whole rounds in turn.
    turns: u32,
    /// How work is shared around here.
    way: Option<Sharing>,
    interrupt: Option<Interruption<'a>>,
    penalty: Option<&'a Node>,
    run: Run,
}

#[derive(Clone, Copy)]
struct Interruption<'a> {
    every_s: f64,
    next_s: f64,
    work: &'a Node,
}

impl<'a> Walk<'a> {
    fn over(&self) -> bool {
        self.clock >= self.deadline - 1e-9
    }

    fn node(&mut self, node: &'a Node, rung: Option<u32>) {
        self.step();
        if self.over() {
            return;
        }
        match node {
            Node::Work(work) => self.work(work, rung),
            Node::Rest { seconds } => {
                if let Some(seconds) = seconds {
                    self.rest_until(self.clock + f64::from(*seconds));
                }
            }
            Node::Seq { of } => of.iter().for_each(|child| self.node(child, rung)),
            Node::Rounds { times: Some(n), rest_s, of } => {
                let turns = self.turns;
                let mut round = 0;
                while round < *n && !self.over() {
                    let (start, reps) = (self.clock, self.run.reps);
                    self.round(of, rung);
                    self.mates(start, f64::from((turns - 1).min(n - 1 - round)));
                    if rest_s.is_some() && !matches!(**of, Node::Within { .. }) {
                        self.interval(start, reps);
                    }
                    if round + turns < *n
                        && let Some(rest) = rest_s
                    {
                        self.rest_until(self.clock + f64::from(*rest));
                    }
                    round += turns;
                    if round >= ROUNDS_WALKED * turns {
                        round += self.skip_alike(start, reps, n.saturating_sub(round) / turns) * turns;
                    }
                }
            }
            Node::Rounds { times: None, of, .. } => self.rounds_until_over(of, rung),
            Node::Scheme { reps, rest_s, of } => {
                for (n, reps_now) in reps.iter().enumerate() {
                    self.round(of, Some(*reps_now));
                    if n + 1 < reps.len()
                        && let Some(rest) = rest_s
                    {
                        self.rest_until(self.clock + f64::from(*rest));
                    }
                }
            }
            Node::Ladder { start, step, of } => {
                let mut now = *start;
                while !self.over() {
                    let done = self.run.reps;
                    let before = self.clock;
                    self.round(of, Some(now));
                    if !self.over() {
                        self.run.rounds += 1.0;
                    } else {
                        self.run.rounds += self.share_of_round(of, Some(now), self.run.reps - done);
                    }
                    now += step;
                    if self.clock <= before {
                        break;
                    }
                }
            }
            Node::Within { seconds, of } => self.within(f64::from(*seconds), of, rung),
            Node::Every { interval_s, times, alternate, of } => {
                self.every(f64::from(*interval_s), *times, *alternate, of, rung);
            }
            Node::Interrupt { every_s, from_s, work, of } => {
                let every_s = f64::from((*every_s).max(1));
                let next_s = self.clock + f64::from(*from_s);
                let outer = self.interrupt.replace(Interruption { every_s, next_s, work });
                self.node(of, rung);
                self.interrupt = outer;
            }
            Node::Penalty { work, of } => {
                let outer = self.penalty.replace(work);
                self.node(of, rung);
                self.penalty = outer;
            }
            Node::Together { size, sharing, of } => self.together(*size, *sharing, of, rung),
        }
    }

    fn round(&mut self, of: &'a Node, rung: Option<u32>) {
        match (self.way, of) {
            (Some(Sharing::Stations), Node::Seq { of }) => self.stations(of, rung),
            _ => self.node(of, rung),
        }
        if !self.over() {
            self.run.round_ends.push(self.clock);
            self.round += 1;
        }
    }

    /// Once through stations that all of a team move on from together: each of them lasts as long as the slowest.
    fn stations(&mut self, of: &'a [Node], rung: Option<u32>) {
        let mut took = Vec::with_capacity(of.len());
        for station in of {
            let before = self.clock;
            self.node(station, rung);
            took.push(self.clock - before);
        }
        let slowest = took.iter().copied().fold(0.0, f64::max);
        // When one waits does not matter to the clock: all of it comes at the end of the round.
        self.idle(took.iter().map(|own| slowest - own).sum());
    }

    /// Team mates do the round that began at `start` in turn, at the same pace, while this member rests. Gives how
    /// many of their rounds were done in time.
    fn mates(&mut self, start: f64, rounds: f64) -> f64 {
        let took = (self.clock - start) * rounds;
        if took <= 0.0 || self.over() {
            return 0.0;
        }
        let done = rounds * ((self.deadline - self.clock) / took).min(1.0);
        self.rest_until(self.clock + took);
        done
    }

    fn rounds_until_over(&mut self, of: &'a Node, rung: Option<u32>) {
        let mut walked = 0;
        while !self.over() {
            let (done, before) = (self.run.reps, self.clock);
            self.round(of, rung);
            if self.over() {
                self.run.rounds += self.share_of_round(of, rung, self.run.reps - done);
            } else {
                let own = self.run.reps - done;
                let mates = self.mates(before, f64::from(self.turns - 1));
                self.run.rounds += 1.0 + mates;
                self.run.reps += own * mates;
            }
            // A round that takes no time would never end.
            if self.clock <= before {
                break;
            }
            walked += 1;
            if walked >= ROUNDS_WALKED {
                let alike = self.skip_alike(before, done, u32::MAX);
                self.run.rounds += f64::from(alike) * f64::from(self.turns);
            }
        }
    }

    /// How much of a round so many repetitions are.
    fn share_of_round(&self, of: &Node, rung: Option<u32>, done: f64) -> f64 {
        let whole: f64 = works(of).iter().map(|work| amount(work, rung, self.athlete).unwrap_or(0.0)).sum();
        if whole > 0.0 { (done / whole).clamp(0.0, 1.0) } else { 0.0 }
    }

    fn within(&mut self, seconds: f64, of: &'a Node, rung: Option<u32>) {
        let outer = self.deadline;
        let end = (self.clock + seconds).min(outer);
        self.deadline = end;
        let (start, reps) = (self.clock, self.run.reps);
        self.node(of, rung);
        self.interval(start, reps);
        self.deadline = outer;
        self.rest_until(end);
    }

    fn every(
        &mut self,
        interval: f64,
        times: Option<u32>,
        alternate: bool,
        of: &'a [Node],
        rung: Option<u32>,
    ) {
        let begin = self.clock;
        let ladder = match of {
            [Node::Ladder { start, step, of }] => Some((*start, *step, &**of)),
            _ => None,
        };
        let most = times.unwrap_or(60);
        let as_many = |node: &Node| works(node).iter().any(|work| work.dose.amount == Amount::Max);
        // As many as possible are as many as fit before the next start.
        let until_next = times.is_none() || of.iter().any(as_many);
        // Beyond many starts each is as the last that was walked.
        let walked = most.min(ROUNDS_WALKED * of.len().max(1) as u32);
        for n in 0..walked {
            let start = begin + interval * f64::from(n);
            self.rest_until(start);
            if self.over() {
                break;
            }
            // Who is late begins late: what they take is theirs, and not what they were late by.
            let (outer, reps, began) = (self.deadline, self.run.reps, self.clock);
            let end = start + interval;
            // Work that does not fit runs into the next interval; a rising piece ends there.
            if until_next {
                self.deadline = end.min(outer);
            }
            match ladder {
                Some((first, step, of)) => self.node(of, Some(first + step * n)),
                None if alternate => self.node(&of[n as usize % of.len().max(1)], rung),
                None => of.iter().for_each(|child| self.node(child, rung)),
            }
            let cut = times.is_none() && self.over();
            self.deadline = outer;
            self.interval(began, reps);
            self.run.round_ends.push(self.clock);
            self.round += 1;
            if cut {
                self.run.failed_round = Some(n + 1);
                return;
            }
            self.run.rounds += 1.0;
        }
        if most > walked && !self.over() {
            self.run.rounds += f64::from(most - walked);
            self.run.reps += self.run.reps / f64::from(walked) * f64::from(most - walked);
        }
        if let Some(n) = times {
            let end = begin + interval * f64::from(n);
            if self.clock < end {
                self.rest_until(end.min(self.deadline));
            }
        }
    }

    /// Writes down an interval that began at `start` with so many repetitions done.
    fn interval(&mut self, start: f64, reps: f64) {
        self.run.interval_work.push(self.clock - start);
        self.run.interval_reps.push(self.run.reps - reps);
    }

    fn together(&mut self, size: u32, sharing: Sharing, of: &'a Node, rung: Option<u32>) {
        let (team, turns, way) = (self.team, self.turns, self.way);
        self.way = Some(sharing);
        match sharing {
            // Each does a share at a fresher pace, and the clock runs for all of it.
            Sharing::Freely | Sharing::InTurns { .. } | Sharing::Held => {
                self.team = self.how.share.map_or(f64::from(size.max(1)), |share| 1.0 / share.max(0.01));
            }
            Sharing::Rounds => self.turns = size.max(1),
            Sharing::Stations | Sharing::Together => {}
        }
        self.node(of, rung);
        (self.team, self.turns, self.way) = (team, turns, way);
    }

    fn work(&mut self, work: &'a Work, rung: Option<u32>) {
        let task = self.course.task(work);
        self.transition(work, &task.ability);
        let target = amount(work, rung, self.athlete);
        let (from_s, others) = (self.clock, self.run.on.iter().sum::<f64>());
        if task.ability.capacity.is_infinite() || work.dose.unit != Unit::Reps {
            self.steady(work, &task, target);
        } else {
            self.sets(work, &task, target);
        }
        // What has cut in is on its own account.
        let others = self.run.on.iter().sum::<f64>() - others;
        self.run.on[task.ability.capability as usize] += (self.clock - from_s - others).max(0.0);
    }

    fn transition(&mut self, work: &'a Work, ability: &Ability) {
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
        let Task { ability, each_s } = task;
        let mut left = target.unwrap_or(f64::INFINITY);
        let from_s = self.clock;
        let hold = work.dose.unit == Unit::Seconds;
        let each = if hold { 1.0 } else { each_s * self.luck.pace * self.tag(*each_s, work.dose.unit) };
        while left > 1e-9 && !self.over() {
            // Ten seconds at a time, so that the marks of the clock are not missed.
            let chunk = (STRETCH_S / each).min(left).min((self.deadline - self.clock) / each);
            self.pass(chunk * each, Some((ability, chunk * each * STEADY_COST)));
            left -= chunk;
            if !hold && !work.uncounted {
                self.run.reps += chunk;
            }
            if chunk <= 0.0 {
                break;
            }
            self.step();
            if self.cut_in() {
                self.transition(work, ability);
            }
        }
        self.mark(work, from_s, target.unwrap_or(0.0) - if left.is_finite() { left } else { 0.0 }, target);
    }

    fn mark(&mut self, work: &Work, from_s: f64, done: f64, of: Option<f64>) {
        if self.how.record && self.run.marks.len() < MOST_MARKS {
            let (at_s, round, movement) = (self.clock, self.round, work.movement.clone());
            self.run.marks.push(Mark { from_s, at_s, round, movement, done, of, load: work.load });
        }
    }

    /// At a mark of the clock, other work cuts in. True when it did.
    fn cut_in(&mut self) -> bool {
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

/// Repetitions where none are said.
const A_HANDFUL: f64 = 10.0;

/// How much of a piece of work, both sides counted; none when it is open. The lighter number of a pair
/// of calories or metres goes to who takes the lighter load.
fn amount(work: &Work, rung: Option<u32>, athlete: &Athlete<'_>) -> Option<f64> {
    let own = work.dose.amount.own(athlete.member.takes_first_of_pair(), rung);
    match work.dose.amount {
        Amount::Max => None,
        // Not said: a handful, so that time goes by.
        Amount::Open | Amount::Scheme if own.is_none() => Some(A_HANDFUL),
        _ => own.map(|own| own * work.dose.sides()),
    }
}
