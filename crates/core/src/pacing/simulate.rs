//! One member doing a tree once: a clock, muscle groups that are spent and come back, and pauses.
//!
//! A repetition costs its muscle groups `1 / capacity`; time gives that back. Machines and runs go by the member's own
//! curve for the length of the piece. Nothing here draws random numbers: a day's [`Luck`] comes in.

mod body;
mod bounds;
mod length;
mod run;
mod sets;
#[cfg(test)]
mod tests;
mod work;

use std::cell::RefCell;
use std::rc::Rc;

pub use run::{Luck, Mark, Run};

use bounds::ROUNDS_WALKED;
pub(crate) use bounds::STARTS_WITHOUT_END;
use length::Length;
use work::amount;

use super::ability::{Ability, Athlete, MUSCLES};
use super::learned::Direction;
use super::model::Model;
use super::strategy::Strategy;
use super::window::counted_unit;
use crate::movement::{Catalogue, Unit};
use crate::session::{Amount, Dose, Node, Sharing, Work, works};

/// Longest piece that is simulated, in seconds; past it a finish is only "too long".
const GIVE_UP_S: f64 = 3.0 * 3600.0;
/// Rounds for which sets are recorded.
const ROUNDS_KEPT: u32 = 12;

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
    /// Whether it is gone round until time is up: there, a part of a round is told by what is written in it.
    open_rounds: bool,
    /// Of each work of the tree that a walk has come by; there are so few that looking through beats hashing.
    known: RefCell<Vec<(*const Work, Task)>>,
}

/// A work of the tree as somebody does it in this piece.
#[derive(Clone)]
struct Task {
    ability: Rc<Ability>,
    /// Seconds a unit when fresh, at the tempo of the piece.
    each_s: f64,
    /// What is counted: of seconds of something that can be counted, that.
    unit: Unit,
}

impl<'a> Course<'a> {
    pub(super) fn of(
        tree: &'a Node,
        athlete: &'a Athlete<'a>,
        catalogue: &'a Catalogue,
        model: &'a Model,
    ) -> Self {
        let length = Length::of(tree, athlete, catalogue, model);
        let open_rounds = has_open_rounds(tree);
        Self { tree, athlete, catalogue, model, length, open_rounds, known: RefCell::default() }
    }

    /// What it is made of, from the work of a walk: a result is heard along it.
    pub(super) fn direction(&self, walked: &Run) -> Direction {
        let all: f64 = walked.on.iter().sum();
        let of_all = |seconds: f64| if all > 0.0 { seconds / all } else { 0.0 };
        let movements =
            walked.by_movement.iter().map(|(movement, seconds)| (movement.clone(), of_all(*seconds)));
        Direction {
            shares: walked.on.map(of_all),
            movements: movements.collect(),
            length_s: self.length.seconds,
            rested: has_rests(self.tree),
        }
    }

    /// Once through, on such a day.
    pub(super) fn walk(&self, how: How, luck: Luck) -> Run {
        let learned = self.athlete.member.learned.as_deref();
        let of_length = learned.map_or(1.0, |learned| {
            let length = &self.length;
            learned.factor_of_piece(&length.families(), length.seconds, has_rests(self.tree))
        });
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
        let unit = Some(work.dose.unit).filter(|unit| *unit != Unit::Seconds || self.open_rounds);
        let unit = unit.or(counted_unit(work, self.catalogue)).unwrap_or(work.dose.unit);
        let dose = Dose { unit, ..work.dose };
        let ability = self.athlete.ability(&Work { dose, ..work.clone() }, self.catalogue, self.model);
        let each_s = self.pace(&ability);
        let task = Task { ability, each_s, unit };
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

/// Whether a piece has rounds or rungs without an end of their own.
fn has_open_rounds(tree: &Node) -> bool {
    matches!(tree, Node::Rounds { times: None, .. } | Node::Ladder { .. })
        || tree.children().into_iter().any(has_open_rounds)
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
            // In step nobody rests while another works, and nobody does less of it than is written.
            Node::Work(work) if work.in_step => {
                let (team, way) = (self.team, self.way);
                (self.team, self.way) = (1.0, Some(Sharing::Together));
                self.work(work, rung);
                (self.team, self.way) = (team, way);
            }
            // What is held by who does not work takes no time of its own.
            Node::Work(work) if work.dose.amount == Amount::Meanwhile => {}
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
                    let (start, counted) = (self.clock, self.run.counted());
                    let bouts = self.run.interval_work.len();
                    self.round(of, rung);
                    self.mates(start, f64::from((turns - 1).min(n - 1 - round)));
                    // A round that is rested after is a bout, where it has none of its own.
                    if rest_s.is_some() && self.run.interval_work.len() == bouts {
                        self.interval(start, counted.reps);
                    }
                    if round + turns < *n
                        && let Some(rest) = rest_s
                    {
                        self.rest_until(self.clock + f64::from(*rest));
                    }
                    round += turns;
                    if round >= ROUNDS_WALKED * turns {
                        round += self.skip_alike(start, counted, n.saturating_sub(round) / turns) * turns;
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
            let (done, before) = (self.run.counted(), self.clock);
            self.round(of, rung);
            if self.over() {
                self.run.rounds += self.share_of_round(of, rung, self.run.reps - done.reps);
            } else {
                let mates = self.mates(before, f64::from(self.turns - 1));
                self.run.rounds += 1.0 + mates;
                self.run.count_again(done, mates);
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
        let (begin, at_first) = (self.clock, self.run.counted());
        let ladder = match of {
            [Node::Ladder { start, step, of }] => Some((*start, *step, &**of)),
            _ => None,
        };
        let most = times.unwrap_or(STARTS_WITHOUT_END);
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
            self.run.count_again(at_first, f64::from(most - walked) / f64::from(walked));
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
}
