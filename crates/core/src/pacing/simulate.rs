//! One member doing a tree once: a clock, reserves that empty and refill, and sets that break.
//!
//! Work is done repetition by repetition. A repetition costs its muscle groups `1 / capacity`; rest
//! gives most of that back. Breath is one reserve above a critical demand. Machines and runs are
//! slowed rather than broken. Nothing here draws random numbers: a day's [`Luck`] comes in.

use std::collections::HashMap;

use super::ability::{Ability, Athlete, MUSCLES};
use super::model::Model;
use crate::movement::{Catalogue, MovementId, Unit};
use crate::session::{Amount, Node, Sharing, Work};

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
#[derive(Clone, Debug, Default)]
pub struct Run {
    /// Seconds on the clock at the end, rests included.
    pub finish_s: f64,
    /// Rounds done in a window, with the part of the last one.
    pub rounds: f64,
    /// Repetitions, calories and metres done, all movements together.
    pub reps: f64,
    /// Interval that no longer held its work, for rising pieces.
    pub failed_round: Option<u32>,
    /// Clock at the end of each round, rung or interval.
    pub round_ends: Vec<f64>,
    /// Working seconds of each interval.
    pub interval_work: Vec<f64>,
    /// Sets of each movement in the first rounds: (round, movement, repetitions).
    pub sets: Vec<(u32, MovementId, u32)>,
    /// Breaks of sets.
    pub breaks: u32,
}

/// Longest piece that is simulated, in seconds; past it a finish is only "too long".
const GIVE_UP_S: f64 = 3.0 * 3600.0;
/// Share of a local reserve that a second of steady work costs where it bears most: ten minutes of
/// rowing take the edge off the legs, they do not spend them. Modelling choice.
const STEADY_COST: f64 = 0.0015;
/// Rounds for which sets are recorded.
const ROUNDS_KEPT: u32 = 12;

/// Walks the tree once.
pub fn simulate(tree: &Node, athlete: &Athlete<'_>, catalogue: &Catalogue, model: &Model, luck: Luck) -> Run {
    let mut walk = Walk {
        athlete,
        catalogue,
        model,
        luck,
        clock: 0.0,
        deadline: GIVE_UP_S,
        local: [1.0; MUSCLES.len()],
        lasting: [0.0; MUSCLES.len()],
        breath: 1.0,
        critical: model.engine.critical_base + model.engine.critical_rise * athlete.engine,
        last: None,
        round: 1,
        team: 1.0,
        interrupt: None,
        penalty: None,
        abilities: HashMap::new(),
        run: Run::default(),
    };
    walk.node(tree, None);
    walk.run.finish_s = walk.clock.min(GIVE_UP_S);
    walk.run
}

struct Walk<'a> {
    athlete: &'a Athlete<'a>,
    catalogue: &'a Catalogue,
    model: &'a Model,
    luck: Luck,
    clock: f64,
    /// The window around closes here.
    deadline: f64,
    local: [f64; MUSCLES.len()],
    lasting: [f64; MUSCLES.len()],
    breath: f64,
    critical: f64,
    last: Option<(MovementId, Option<u64>)>,
    round: u32,
    /// People sharing repetitions freely.
    team: f64,
    interrupt: Option<Interruption<'a>>,
    penalty: Option<&'a Node>,
    abilities: HashMap<*const Work, std::rc::Rc<Ability>>,
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
                for round in 0..*n {
                    let start = self.clock;
                    self.round(of, rung);
                    if rest_s.is_some() && !matches!(**of, Node::Within { .. }) {
                        self.run.interval_work.push(self.clock - start);
                    }
                    if round + 1 < *n
                        && let Some(rest) = rest_s
                    {
                        self.rest_until(self.clock + f64::from(*rest));
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
        self.node(of, rung);
        if !self.over() {
            self.run.round_ends.push(self.clock);
            self.round += 1;
        }
    }

    fn rounds_until_over(&mut self, of: &'a Node, rung: Option<u32>) {
        while !self.over() {
            let (done, before) = (self.run.reps, self.clock);
            self.round(of, rung);
            if self.over() {
                self.run.rounds += self.share_of_round(of, rung, self.run.reps - done);
            } else {
                self.run.rounds += 1.0;
            }
            // A round that takes no time would never end.
            if self.clock <= before {
                break;
            }
        }
    }

    /// How much of a round so many repetitions are.
    fn share_of_round(&self, of: &Node, rung: Option<u32>, done: f64) -> f64 {
        let whole: f64 = crate::session::works(of)
            .iter()
            .map(|work| amount(work, rung, self.athlete).unwrap_or(0.0))
            .sum();
        if whole > 0.0 { (done / whole).clamp(0.0, 1.0) } else { 0.0 }
    }

    fn within(&mut self, seconds: f64, of: &'a Node, rung: Option<u32>) {
        let outer = self.deadline;
        let end = (self.clock + seconds).min(outer);
        self.deadline = end;
        let start = self.clock;
        self.node(of, rung);
        self.run.interval_work.push((self.clock - start).min(seconds));
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
        for n in 0..most {
            let start = begin + interval * f64::from(n);
            self.rest_until(start);
            if self.over() {
                break;
            }
            let outer = self.deadline;
            let end = start + interval;
            // Work that does not fit runs into the next interval; a rising piece ends there.
            if times.is_none() {
                self.deadline = end.min(outer);
            }
            match ladder {
                Some((first, step, of)) => self.node(of, Some(first + step * n)),
                None if alternate => self.node(&of[n as usize % of.len().max(1)], rung),
                None => of.iter().for_each(|child| self.node(child, rung)),
            }
            let cut = times.is_none() && self.over();
            self.deadline = outer;
            self.run.interval_work.push(self.clock - start);
            self.run.round_ends.push(self.clock);
            self.round += 1;
            if cut {
                self.run.failed_round = Some(n + 1);
                return;
            }
            self.run.rounds += 1.0;
        }
        if let Some(n) = times {
            let end = begin + interval * f64::from(n);
            if self.clock < end {
                self.rest_until(end.min(self.deadline));
            }
        }
    }

    fn together(&mut self, size: u32, sharing: Sharing, of: &'a Node, rung: Option<u32>) {
        let outer = self.team;
        match sharing {
            // Each does a share at a fresher pace, and the clock runs for all of it.
            Sharing::Freely => self.team = f64::from(size.max(1)),
            Sharing::Rounds => self.team = f64::from(size.max(1)),
            Sharing::Together => {}
        }
        self.node(of, rung);
        self.team = outer;
    }

    fn work(&mut self, work: &'a Work, rung: Option<u32>) {
        let ability = self.ability(work);
        self.transition(work, &ability);
        let target = amount(work, rung, self.athlete);
        if ability.capacity.is_infinite() || work.dose.unit != Unit::Reps {
            self.steady(work, &ability, target);
        } else {
            self.sets(work, &ability, target);
        }
    }

    fn ability(&mut self, work: &'a Work) -> std::rc::Rc<Ability> {
        let key = std::ptr::from_ref(work);
        let (athlete, catalogue, model) = (self.athlete, self.catalogue, self.model);
        self.abilities
            .entry(key)
            .or_insert_with(|| std::rc::Rc::new(athlete.ability(work, catalogue, model)))
            .clone()
    }

    fn transition(&mut self, work: &Work, ability: &Ability) {
        let load = work.load.map(|load| load.first.to_bits());
        let seconds = match &self.last {
            Some((movement, known)) if *movement == work.movement => {
                if *known == load {
                    0.0
                } else {
                    self.model.transition.change_load_s
                }
            }
            Some(_) => self.model.transition.same_spot_s + ability.setup_s * 0.5,
            None => 0.0,
        };
        self.last = Some((work.movement.clone(), load));
        self.pass(seconds * self.luck.pace, 0.15, None);
    }

    /// Machines, runs, carries and holds: slowed as breath runs out, never broken.
    fn steady(&mut self, work: &Work, ability: &Ability, target: Option<f64>) {
        let mut left = target.unwrap_or(f64::INFINITY);
        while left > 1e-9 && !self.over() {
            let hold = work.dose.unit == Unit::Seconds;
            let slow = if hold { 1.0 } else { self.slow(ability) };
            let each = ability.seconds * slow * if hold { 1.0 } else { self.luck.pace } * self.team_tag();
            // Ten seconds at a time, so that breath is looked at often enough.
            let chunk = (10.0 / each).min(left).min((self.deadline - self.clock) / each);
            self.pass(chunk * each, self.demand(ability), Some((ability, chunk * each * STEADY_COST)));
            left -= chunk;
            if !hold {
                self.run.reps += chunk;
            }
            if chunk <= 0.0 {
                break;
            }
            self.cut_in();
        }
    }

    fn sets(&mut self, work: &Work, ability: &Ability, target: Option<f64>) {
        let capacity = ability.capacity * self.luck.capacity;
        let mut left = target.unwrap_or(f64::INFINITY);
        while left > 1e-9 && !self.over() {
            let available = capacity * self.reserve(ability);
            let size = self.set_size(capacity, available, left, ability);
            let mut done: f64 = 0.0;
            while done < size && left > 1e-9 && !self.over() {
                let deep = (done / capacity.max(1.0)).min(1.5);
                let tired = 1.0 + self.model.fatigue.slope * deep * deep;
                let each = ability.seconds * tired * self.slow(ability) * self.luck.pace * self.team_tag();
                let rep = left.min(1.0);
                if self.clock + each * rep > self.deadline {
                    // The repetition that the bell interrupts does not count.
                    self.pass(self.deadline - self.clock, self.demand(ability), None);
                    break;
                }
                self.pass(
                    each * rep,
                    self.demand(ability),
                    Some((ability, rep / capacity.max(0.5) / self.team)),
                );
                done += rep;
                left -= rep;
                self.run.reps += rep;
                if self.cut_in() {
                    break;
                }
            }
            if self.round <= ROUNDS_KEPT && done > 0.0 {
                self.run.sets.push((self.round, work.movement.clone(), done.round() as u32));
            }
            if left > 1e-9 && !self.over() {
                self.take_break(ability, capacity);
            }
        }
    }

    /// A set that leaves something in the tank, or the whole remainder when that is within reach.
    fn set_size(&self, capacity: f64, available: f64, left: f64, ability: &Ability) -> f64 {
        let sets = &self.model.sets;
        if left <= available * sets.finish_share {
            return left;
        }
        // Heavy singles: touch and go is over from about 70 % of the 1RM.
        if ability.percent.is_some_and(|percent| percent >= 70.0) {
            return 1.0;
        }
        (capacity * sets.share).min(available * sets.finish_share).floor().max(1.0)
    }

    fn take_break(&mut self, ability: &Ability, capacity: f64) {
        self.run.breaks += 1;
        if let Some(work) = self.penalty.take() {
            self.node(work, None);
            self.penalty = Some(work);
            self.last = None;
        }
        // A team mate goes on instead.
        if self.team > 1.0 {
            self.pass(self.model.transition.tag_s, 0.1, None);
            return;
        }
        self.pass(ability.rest_s * self.luck.pace, 0.1, None);
        // Not a repetition left: wait until one is there, and no longer than a minute at a time.
        let mut waits = 0;
        while capacity * self.reserve(ability) < 1.0 && waits < 4 && !self.over() {
            let wait = if capacity < 1.0 { 15.0 / capacity.max(0.1) } else { 10.0 };
            self.pass(wait.min(60.0), 0.1, None);
            waits += 1;
        }
    }

    /// What is left of the muscle groups that matter, 1 fresh.
    fn reserve(&self, ability: &Ability) -> f64 {
        let spent = (0..MUSCLES.len()).map(|n| (1.0 - self.local[n]) * ability.shares[n]).fold(0.0, f64::max);
        (1.0 - spent).max(0.02)
    }

    fn demand(&self, ability: &Ability) -> f64 {
        // One of a team working rests while the others do.
        ability.lungs / self.team.sqrt()
    }

    /// Slower as breath runs out, towards what can be kept up.
    fn slow(&self, ability: &Ability) -> f64 {
        let from = self.model.engine.slow_from;
        if self.breath >= from {
            return 1.0;
        }
        let over = (self.demand(ability) / self.critical - 1.0).max(0.0);
        1.0 + over * (from - self.breath) / from
    }

    /// Sharing costs a tag every few repetitions.
    fn team_tag(&self) -> f64 {
        if self.team > 1.0 { 1.03 } else { 1.0 }
    }

    /// At a mark of the clock, other work cuts in. True when it did.
    fn cut_in(&mut self) -> bool {
        let Some(mut now) = self.interrupt.take() else { return false };
        let due = self.clock >= now.next_s;
        if due {
            while now.next_s <= self.clock {
                now.next_s += now.every_s;
            }
            self.last = None;
            self.node(now.work, None);
            self.last = None;
        }
        self.interrupt = Some(now);
        due
    }

    fn rest_until(&mut self, time: f64) {
        let until = time.min(self.deadline);
        if until > self.clock {
            self.pass(until - self.clock, 0.1, None);
        }
    }

    /// Time goes by: breath follows demand, and rested groups refill while worked ones pay.
    fn pass(&mut self, seconds: f64, demand: f64, cost: Option<(&Ability, f64)>) {
        let seconds = seconds.max(0.0);
        self.clock += seconds;
        let over = demand - self.critical;
        if over > 0.0 {
            self.breath = (self.breath - over * seconds / self.model.engine.reserve_s).max(0.0);
        } else {
            self.breath +=
                (1.0 - self.breath) * (-over * seconds / (self.model.engine.reserve_s * 0.5)).min(1.0);
        }
        let back = 1.0 - (-seconds / self.model.fatigue.half_time_s * std::f64::consts::LN_2).exp();
        for n in 0..MUSCLES.len() {
            let ceiling = 1.0 - self.lasting[n];
            let paid = cost.map_or(0.0, |(ability, each)| ability.shares[n] * each);
            // A group under load does not refill.
            let resting = 1.0 - cost.map_or(0.0, |(ability, _)| ability.shares[n]);
            self.local[n] += (ceiling - self.local[n]).max(0.0) * back * resting;
            self.local[n] = (self.local[n] - paid).max(0.0);
            self.lasting[n] = (self.lasting[n] + paid * self.model.fatigue.lasting).min(0.45);
        }
    }
}

/// How much of a piece of work, both sides counted; none when it is open. The lighter number of a pair
/// of calories or metres goes to who takes the lighter load.
fn amount(work: &Work, rung: Option<u32>, athlete: &Athlete<'_>) -> Option<f64> {
    let sides = work.dose.sides();
    match (work.dose.amount, rung) {
        (Amount::Fixed { first, second }, _) => {
            let own = if athlete.member.takes_first_of_pair() { first } else { second.unwrap_or(first) };
            Some(own * sides)
        }
        (Amount::Scheme, Some(rung)) => Some(f64::from(rung) * sides),
        (Amount::Max, _) => None,
        // Not said: a handful, so that time goes by.
        (Amount::Open | Amount::Scheme, _) => Some(10.0),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::member::{Experience, Member, Sex};
    use crate::read::read;
    use proptest::prelude::*;

    fn run(text: &str, member: &Member) -> Run {
        let catalogue = Catalogue::standard();
        let reading = read(text, catalogue);
        let tree = &reading.session.parts[0].tree;
        simulate(tree, &Athlete::new(member), catalogue, Model::standard(), Luck::MEDIAN)
    }

    fn regular() -> Member {
        Member { sex: Some(Sex::M), experience: Experience::Intermediate, ..Member::default() }
    }

    #[test]
    fn an_amrap_ends_when_its_time_is_up_and_counts_parts_of_rounds() {
        let run = run("AMRAP 10\n10 push-ups\n15 air squats", &regular());
        assert_eq!(run.finish_s, 600.0);
        assert!(run.rounds > 4.0 && run.rounds < 20.0 && run.rounds.fract() > 0.0, "{}", run.rounds);
    }

    #[test]
    fn written_rests_count_on_the_clock() {
        let with = run("3 rounds\n20 air squats\nrest 1:00 between rounds", &regular());
        let without = run("3 rounds for time\n20 air squats", &regular());
        assert!(with.finish_s > without.finish_s + 60.0, "{} {}", with.finish_s, without.finish_s);
    }

    #[test]
    fn a_rising_clock_ends_in_the_interval_that_no_longer_holds() {
        let run = run(
            "Every minute on the minute until you can't\nmin 1 - 1 burpee\nmin 2 - 2 burpees\nmin 3 - 3",
            &regular(),
        );
        let failed = run.failed_round.unwrap();
        assert!((10..=20).contains(&failed), "{failed}");
    }

    #[test]
    fn interruptions_and_penalties_cost_time() {
        let plain = run("For time\n60 wall balls 9/6 kg", &regular()).finish_s;
        let cut = run("For time\n60 wall balls 9/6 kg\nat the start of every minute: 5 burpees", &regular())
            .finish_s;
        let owed =
            run("For time\n60 wall balls 9/6 kg\nevery time you break: run 100 m", &regular()).finish_s;
        assert!(cut > plain && owed > plain, "{plain} {cut} {owed}");
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(40))]

        #[test]
        fn prop_more_reps_and_more_rounds_never_finish_sooner(reps in 3_u32..40, rounds in 1_u32..6, level in 0_usize..4) {
            let experience = [Experience::New, Experience::Beginner, Experience::Intermediate, Experience::Advanced][level];
            let member = Member { experience, ..regular() };
            let time = |rounds: u32, reps: u32| {
                run(&format!("{rounds} rounds for time\n{reps} thrusters 40 kg\n{reps} burpees"), &member).finish_s
            };
            let base = time(rounds, reps);
            prop_assert!(time(rounds + 1, reps) >= base);
            prop_assert!(time(rounds, reps + 5) >= base);
        }

        #[test]
        fn prop_a_longer_window_never_holds_fewer_reps(minutes in 3_u32..20) {
            let reps = |m: u32| run(&format!("AMRAP {m}\n8 pull-ups\n12 push-ups\n200 m run"), &regular()).reps;
            prop_assert!(reps(minutes + 1) >= reps(minutes));
        }
    }
}
