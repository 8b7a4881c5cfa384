//! The tree of a lift, and how it is prescribed.

use std::collections::HashSet;

use super::{Shaper, sets};
use crate::facts::{Facts, Item, Step, StepKind};
use lantern_session::movement::{MovementId, Unit};
use lantern_session::units::plain;
use lantern_session::{
    Amount, Assumption, Format, Node, Part, PercentOf, Prescription, Problem, Rest, RestAfter, Score, Work,
};

/// Most sets of one lift, and the largest share of a maximum that they climb to, in percent.
const MOST_SETS: u32 = 60;
const MOST_SHARE: f64 = 110.0;

impl Shaper<'_> {
    pub(super) fn shape_strength(&mut self, facts: &Facts, part: &mut Part) {
        let facts = &with_own_sets(with_its_share(facts, part));
        let items: Vec<&Item> = facts.items().collect();
        let with_share = |item: &&Item| Some(Work { percent: item.percent.clone(), ..self.work(item)? });
        let mut works: Vec<Work> = items.iter().filter_map(with_share).collect();
        if facts.complex.len() == works.len() && works.iter().all(|work| work.dose.amount == Amount::Open) {
            for (work, reps) in works.iter_mut().zip(&facts.complex) {
                work.dose.amount = Amount::Fixed { first: f64::from(*reps), second: None };
            }
        }
        let named_once = items.iter().any(|item| item.joined) && works.len() > 1;
        let says_reps = !facts.sets_reps.is_empty() || !facts.set_list.is_empty() || facts.sets_of.is_some();
        let has_scheme = facts.steps.iter().any(|step| matches!(step.what, StepKind::Scheme { .. }));
        if named_once
            && !says_reps
            && !has_scheme
            && facts.sets.is_some()
            && works.iter().all(|work| work.dose.amount == Amount::Open)
        {
            // "Hang clean + clean + jerk, 5 sets" is one of each.
            for work in &mut works {
                work.dose.amount = Amount::Fixed { first: 1.0, second: None };
            }
        }
        // "Deadlift" above "3 deadlifts" is what they are called.
        let dosed: Vec<MovementId> = works
            .iter()
            .filter(|work| matches!(work.dose.amount, Amount::Fixed { .. }))
            .map(|work| work.movement.clone())
            .collect();
        works.retain(|work| work.dose.amount != Amount::Open || !dosed.contains(&work.movement));
        self.one_weight_of_two(facts, &mut works);
        let strength = &mut part.strength;
        let is_weighed = !facts.weighed.is_empty() || works.iter().any(|work| work.load.is_some());
        if let (Some(rpe), None, true, false) =
            (facts.heaviness, strength.rpe, facts.strength.percent.is_empty(), is_weighed)
        {
            strength.rpe = Some([rpe; 2]);
            let message = format!("a word for how heavy it is is taken as RPE {}", plain(rpe));
            self.assumptions.push(Assumption { line: facts.first_line, column: 1, message });
        }
        let lines = facts.sets_reps.len();
        strength.percent = merged_percent(&facts.strength.percent, facts.set_list.len(), lines);
        let max_reps = items.iter().any(|item| item.max)
            && items.iter().all(|item| item.max || item.sets.is_some())
            && works.len() <= 2;
        let distinct = distinct_movements(&works);
        let labels_pair = facts.has_lettered_pair();
        let on_a_bar = |work: &Work| self.catalogue.get(&work.movement).is_some_and(|m| m.is_barbell());
        let headed = facts.heading.as_ref().is_some_and(|heading| heading.to_lowercase().contains("complex"));
        let complex =
            items.iter().any(|item| item.joined) || (facts.one_bar || headed) && works.iter().all(on_a_bar);
        let superset = distinct > 1 && !complex && (facts.superset || labels_pair || facts.every.is_none());
        let mut schemes = facts.steps.iter().filter_map(|step| match &step.what {
            StepKind::Scheme { reps, .. } => Some(reps),
            _ => None,
        });
        // "3-2-1, 3-2-1": waves follow one another.
        let scheme = match distinct {
            1 => Some(schemes.flatten().copied().collect::<Vec<u32>>()).filter(|reps| !reps.is_empty()),
            _ => schemes.next().cloned(),
        };
        let rounds = facts.steps.iter().find_map(|step| match step.what {
            StepKind::Rounds(n) => Some(n),
            _ => None,
        });
        // "Max reps @ 70%", and nothing else.
        let all_open = scheme.is_none()
            && facts.sets_reps.is_empty()
            && !facts.set_list.is_empty()
            && facts.set_list.iter().all(|(reps, _)| *reps == 0);
        let no_sets = !says_reps && !has_scheme && facts.sets.is_none();
        let builds = strength.rm.is_some() || facts.build || facts.to_most && no_sets;
        if builds
            && (facts.sets_reps.is_empty() || facts.builds_first)
            && (strength.percent.is_empty() || facts.set_list.len() > 1 || facts.builds_first)
        {
            part.format = Some(Format::BuildTo);
        } else if facts.every.is_some() {
            part.format = Some(Format::Every);
        } else if (max_reps || all_open) && distinct == 1 {
            part.format = Some(Format::MaxReps);
        } else if superset {
            part.format = Some(Format::Superset);
        } else {
            part.format = Some(Format::Sets);
        }
        if superset {
            self.list_of_one(facts, &mut works);
        }
        // "2 x max @ 75% of the 5RM", which is built in the same lines.
        if let (Some(PercentOf::Rm(n)), Some(built)) = (&part.strength.percent_of, part.strength.rm)
            && *n == built
        {
            part.strength.percent_of = Some(PercentOf::Today);
        }
        let strength = &mut part.strength;
        let written = facts.sets_reps.first().copied();
        let from_list = (!facts.set_list.is_empty())
            .then(|| facts.set_list.iter().map(|(reps, _)| *reps).collect::<Vec<u32>>());
        if let (true, Some((_, reps))) = (superset && facts.sets_reps.len() == 1, written) {
            // "Press 4 x 6, with 10 rows": the sets are of the lift that names no number of its own.
            for work in works.iter_mut().filter(|work| work.dose.amount == Amount::Open) {
                work.dose.amount = Amount::Fixed { first: f64::from(reps), second: None };
            }
        }
        let item_reps = works
            .first()
            .and_then(|work| work.dose.first())
            .filter(|_| distinct == 1 && !complex)
            .map(|n| n as u32)
            .or_else(|| {
                (distinct == 1 && !facts.complex.is_empty()).then(|| one_complex(&facts.complex, &works))
            });
        // "Sets of 3 from 60% by 5% to 80%": a set a share.
        let single_shares =
            strength.percent.len() > 1 && strength.percent.iter().all(|[low, high]| low == high);
        let one_for_all = facts.sets_of.or(item_reps);
        let climbs = one_for_all.filter(|_| single_shares).map(|_| strength.percent.len() as u32);
        // "Deadlift 6/4/2: 70% x 3, 80% x 3, 90% x 3": the sets that are told count, whatever the cycle is called.
        let scheme = scheme.filter(|reps| {
            from_list
                .as_ref()
                .is_none_or(|list: &Vec<u32>| list.len() < 2 || list.len() == reps.len() && list == reps)
        });
        let reps: Vec<u32> = match (&scheme, from_list, written) {
            (Some(reps), _, _) => reps.clone(),
            // "75% x 2 x 5 (5 doubles)" tells the same sets twice.
            (None, Some(list), Some((sets, reps)))
                if list.len() == sets as usize
                    && facts.sets_reps.len() == 1
                    && strength.percent.len() <= list.len()
                    && list.iter().all(|n| *n == reps) =>
            {
                list
            }
            (None, Some(list), Some(_))
                if distinct <= 1
                    && (list.len() > 1
                        || strength.percent.len() == list.len() + facts.sets_reps.len()
                        || matches!(facts.strength.percent_of, Some(PercentOf::TopSet(_)))) =>
            {
                let more =
                    facts.sets_reps.iter().flat_map(|(sets, reps)| vec![*reps; (*sets).min(60) as usize]);
                list.iter().copied().chain(more).collect()
            }
            // "4 rounds: press 8 @ 70%": what is said once is done in every round.
            (None, Some(list), _) if list.len() > 1 || facts.sets.or(rounds).is_none() => list,
            (None, Some(list), _) => vec![list[0]; facts.sets.or(rounds).unwrap_or(1).min(60) as usize],
            (None, None, Some((sets, reps))) if !superset => vec![reps; sets.min(60) as usize],
            _ => match (facts.sets.or(rounds).or(climbs), item_reps.or(facts.sets_of)) {
                (Some(sets), Some(reps)) if part.format != Some(Format::MaxReps) => {
                    vec![reps; sets.min(60) as usize]
                }
                _ => Vec::new(),
            },
        };
        // More lines of sets for the same lift ("1x5 @ 70%, 3x3 @ 80%") follow one another.
        let reps = if facts.sets_reps.len() > 1 && distinct == 1 && !superset {
            facts.sets_reps.iter().flat_map(|(sets, reps)| vec![*reps; (*sets).min(60) as usize]).collect()
        } else {
            reps
        };
        let takes_in_build = sets::take_in_build(part, &reps, scheme.is_some());
        let strength = &mut part.strength;
        let listed = scheme.as_deref().filter(|_| distinct == 1);
        let reps = sets::gone_through(facts, listed, rounds, strength.percent.len(), reps);
        if distinct == 1 {
            sets::share_out_by_sets(facts, &reps, &mut strength.percent);
        }
        sets::share_out_by_lines(facts, distinct, superset, strength);
        // "Start at 60 % and add weight each set": the share is that of the first.
        let from_a_share = matches!(&strength.percent[..], [] | [_]);
        strength.rises = (facts.climbs || takes_in_build)
            && from_a_share
            && strength.percent.iter().all(|[low, high]| low == high);
        strength.ends_at_share &= strength.rises && strength.percent.len() == 1;
        if let ([_, (stay, _)], true) = (&facts.sets_reps[..], strength.ends_at_share) {
            strength.top_sets = strength.top_sets.or(Some(*stay));
        }
        if !strength.rises && part.format != Some(Format::BuildTo) {
            strength.jump = None;
        }
        strength.sets = (!reps.is_empty())
            .then_some(reps.len() as u32)
            .or(written.map(|(sets, _)| sets))
            .or(facts.sets)
            .or(rounds);
        if strength.sets.is_none_or(|sets| sets as usize != strength.efforts.len()) {
            // Not one for each set: from the easiest to the hardest of them.
            strength.efforts.clear();
        }
        // As many as possible at first is none of the last set.
        strength.open_last &= reps.last() == Some(&0) || !reps.contains(&0);
        strength.reps = reps;
        // A range belongs to sets that are all alike.
        let alike = strength.reps.windows(2).all(|pair| pair[0] == pair[1]);
        strength.reps_high =
            strength.reps_high.filter(|high| alike && strength.reps.first().is_some_and(|low| low < high));
        if strength.rm.is_some() && part.format == Some(Format::BuildTo) {
            strength.sets = facts.sets;
            strength.reps.clear();
            let sets_after = !facts.sets_reps.is_empty() || !facts.set_list.is_empty();
            let climb = climbs_to_a_max(&facts.set_list);
            let after_it = facts.builds_first && sets_after && !climb && !strength.percent.is_empty();
            if after_it && strength.percent_of.is_none() {
                strength.percent_of = Some(PercentOf::Today);
                self.assumptions.push(Assumption {
                    line: facts.last_line,
                    column: 1,
                    message: "shares of sets after a build are taken of what it ends at".to_owned(),
                });
            }
            if facts.builds_first && matches!(strength.percent_of, Some(PercentOf::Today)) {
                // What is done after the heaviest set, with a share of it.
                let after = facts.sets_reps.iter();
                let single = facts.set_list.iter().map(|(reps, _)| *reps);
                strength.reps = after
                    .flat_map(|(sets, reps)| vec![*reps; (*sets).min(60) as usize])
                    .chain(single)
                    .collect();
            }
        }
        if superset {
            part.rest = part.rest.map(|rest| rest_of_all(facts, rest));
        }
        let rest_s = part.rest.map(|rest| rest.low_s);
        if let Some(rest) = &mut part.rest {
            rest.after = RestAfter::Each;
        }
        if let Some((interval_s, times, total_s)) = facts.every {
            let times = times
                .or(total_s.map(|total| total / interval_s.max(1)))
                // "4 x 6, every 3 min" under a heading of eighteen minutes are four.
                .or(written.map(|(sets, _)| sets).filter(|sets| *sets > 1))
                .or(part.duration_s.map(|total| total / interval_s.max(1)))
                .or(strength.sets)
                .or(part.cap_s.map(|cap| cap / interval_s.max(1)));
            part.interval_s = Some(interval_s);
            part.duration_s = times.map(|n| n * interval_s);
            strength.sets = times.or(strength.sets);
            if strength.reps.is_empty()
                && let (Some(reps), Some(times)) = (one_for_all, times)
            {
                strength.reps = vec![reps; times.min(120) as usize];
            }
        }
        if part.format == Some(Format::Every)
            && distinct == 1
            && strength.reps.windows(2).all(|pair| pair[0] == pair[1])
            && let Some(reps) = strength.reps.first().copied()
        {
            for work in works.iter_mut().filter(|work| work.dose.amount == Amount::Open) {
                work.dose.amount = Amount::Fixed { first: f64::from(reps), second: None };
            }
            if let Some(times) = strength.sets {
                strength.reps = vec![reps; times.min(120) as usize];
            }
        }
        if let (Some((step, by_wave)), [[from, to]], Some(sets @ 2..)) =
            (facts.share_step, &strength.percent[..], strength.sets)
            && from == to
        {
            // "From 70% adding 3% each".
            let from = *from;
            // "3-3-2-2-1-1, +5% each wave": with each change of repetitions.
            let waves = |n: usize| strength.reps[..=n].windows(2).filter(|pair| pair[0] != pair[1]).count();
            let in_waves = by_wave && strength.reps.len() == sets as usize;
            let steps = |n: u32| if in_waves { waves(n as usize) as f64 } else { f64::from(n) };
            let shares = (0..sets.min(MOST_SETS)).map(|n| [(from + steps(n) * step).min(MOST_SHARE); 2]);
            strength.percent = shares.collect();
            strength.rises = false;
        }
        let has_own = works.iter().any(|work| !work.percent.is_empty());
        if part.format == Some(Format::Superset) && has_own {
            strength.percent = shares_of(&works);
        } else {
            self.share_out(&strength.percent, distinct > 1, &mut works);
        }
        let mut works: Vec<Work> = if distinct == 1 { works.into_iter().take(1).collect() } else { works };
        part.strength.empty_bar =
            facts.empty_bar && part.strength.percent.is_empty() && works.iter().any(on_a_bar);
        if let ([work], false) = (&works[..], facts.weighed.is_empty()) {
            works = sets::with_own_weights(work, facts, part);
        }
        self.share_beside_an_effort(facts, &part.strength);
        part.tree = strength_tree(part, works, rest_s);
        part.score = part.score.or(match part.format {
            Some(Format::BuildTo) => Some(Score::Load),
            Some(Format::MaxReps) => Some(Score::Reps),
            _ => None,
        });
    }

    /// "A1. Chin-ups 5-5-3-3, A2. Bench 4 x 8": repetitions that differ from set to set are of the lift that they stand beside, and of no other.
    fn list_of_one(&self, facts: &Facts, works: &mut [Work]) {
        let beside = facts.steps.iter().find_map(|step| match &step.what {
            StepKind::Scheme { reps, open: None } if reps.windows(2).any(|pair| pair[0] != pair[1]) => {
                facts.steps.iter().find_map(|other| match &other.what {
                    StepKind::Item(item) if other.line == step.line => item.movement.clone(),
                    _ => None,
                })
            }
            _ => None,
        });
        let differ = facts.set_list.windows(2).any(|pair| pair[0].0 != pair[1].0);
        let first = || facts.items().find_map(|item| item.movement.clone()).filter(|_| differ);
        let Some(id) = beside.or_else(first) else { return };
        if let [work] = &mut works.iter_mut().filter(|work| work.movement == id).collect::<Vec<_>>()[..]
            && work.dose.unit == Unit::Reps
        {
            work.dose.amount = Amount::Scheme;
        }
    }

    /// "4 x 4 (RPE 8), back-off 1 x 10 @ 65%": nobody says which sets have the share; told.
    fn share_beside_an_effort(&mut self, facts: &Facts, strength: &Prescription) {
        let alike = strength.reps.windows(2).all(|pair| pair[0] == pair[1]);
        if strength.percent.len() == 1 && strength.rpe.is_some() && strength.efforts.is_empty() && !alike {
            let message = "a share of a maximum and an effort stand beside sets of different length: which sets have the share? Write them as two lifts";
            self.mentions.push(Problem::warning(facts.first_line, 1, message.to_owned()));
        }
    }

    /// "4x6 @ 70% + 5 kg": a share of a maximum and a weight for everybody are no two loads of one bar; the share counts, and the coach is told.
    fn one_weight_of_two(&mut self, facts: &Facts, works: &mut [Work]) {
        if facts.strength.percent.is_empty() {
            return;
        }
        let [work] = works else { return };
        let weight = work.load.filter(|load| load.second.is_none() && load.unit.weight().is_some());
        let barbell = self.catalogue.get(&work.movement).is_some_and(|movement| movement.is_barbell());
        if let (Some(load), true) = (weight, barbell) {
            work.load = None;
            let message = format!("a share of a maximum and {load} stand beside one lift: the share counts");
            let beside = |step: &&Step| matches!(&step.what, StepKind::Item(item) if item.load == Some(load));
            let line = facts.steps.iter().find(beside).map_or(facts.first_line, |step| step.line);
            self.mentions.push(Problem::warning(line, 1, message));
        }
    }

    /// Gives shares that stand beside no lift to all of them: of several to what has a maximum, not to what goes between.
    fn share_out(&self, percent: &[[f64; 2]], several: bool, works: &mut [Work]) {
        let lifts = |work: &Work| self.catalogue.get(&work.movement).is_some_and(|m| m.is_barbell());
        let some_lift = several && works.iter().any(lifts);
        for work in works {
            let has_a_share = !some_lift || lifts(work);
            work.percent = if has_a_share { percent.to_vec() } else { Vec::new() };
        }
    }
}

/// The shares that stand beside several lifts: what all of them share, or one after the other.
fn shares_of(works: &[Work]) -> Vec<[f64; 2]> {
    let mut each: Vec<&Vec<[f64; 2]>> =
        works.iter().map(|work| &work.percent).filter(|percent| !percent.is_empty()).collect();
    each.dedup();
    each.into_iter().flatten().copied().collect()
}

fn strength_tree(part: &Part, works: Vec<Work>, rest_s: Option<u32>) -> Node {
    let strength = &part.strength;
    let sets = strength.sets;
    let uniform = strength.reps.windows(2).all(|pair| pair[0] == pair[1]);
    let with_reps = |mut work: Work, amount: Amount| {
        if !matches!(work.dose.amount, Amount::Max) {
            work.dose.amount = amount;
            if work.dose.unit != Unit::Seconds && work.dose.unit != Unit::Metres {
                work.dose.unit = Unit::Reps;
            }
        }
        Node::Work(work)
    };
    match part.format {
        Some(Format::Every) => {
            let interval_s = part.interval_s.unwrap_or(60);
            let of = vec![Node::seq(works.into_iter().map(Node::Work).collect())];
            Node::Every { interval_s, times: sets, alternate: false, of }
        }
        Some(Format::BuildTo) => {
            let rm = Amount::Fixed { first: f64::from(strength.rm.unwrap_or(1)), second: None };
            // A complex is built as it is told: "2+1".
            let several = works.len() > 1;
            let of = Node::seq(
                works
                    .into_iter()
                    .map(|work| match work.dose.amount {
                        // So far is it carried each time.
                        Amount::Fixed { .. } if several || work.dose.unit == Unit::Metres => Node::Work(work),
                        _ => with_reps(work, rm),
                    })
                    .collect(),
            );
            let of = Box::new(Node::Rounds { times: sets, rest_s, of: Box::new(of) });
            match part.duration_s {
                Some(seconds) => Node::Within { seconds, of },
                None => *of,
            }
        }
        Some(Format::Superset) if works.iter().any(|work| work.dose.amount == Amount::Scheme) => {
            let of = Node::seq(works.into_iter().map(Node::Work).collect());
            Node::Scheme { reps: strength.reps.clone(), rest_s, of: Box::new(of) }
        }
        Some(Format::Sets) if !uniform && works.len() == 1 => {
            let of = Node::seq(works.into_iter().map(|work| with_reps(work, Amount::Scheme)).collect());
            Node::Scheme { reps: strength.reps.clone(), rest_s, of: Box::new(of) }
        }
        // A set each, with its own weight.
        Some(Format::Sets) if works.len() > 1 && sets == Some(works.len() as u32) && is_one_lift(&works) => {
            let of = Box::new(Node::seq(works.into_iter().map(Node::Work).collect()));
            Node::Rounds { times: Some(1), rest_s, of }
        }
        _ => {
            let fixed = |reps: &u32| match reps {
                0 => Amount::Max,
                reps => Amount::Fixed { first: f64::from(*reps), second: None },
            };
            let amount = strength.reps.first().map(fixed);
            let of = works.into_iter().map(|work| match (amount, work.dose.amount) {
                (Some(amount), Amount::Open) => with_reps(work, amount),
                _ => Node::Work(work),
            });
            let of = Box::new(Node::seq(of.collect()));
            Node::Rounds { times: sets, rest_s, of }
        }
    }
}

/// "A1) ... rest 60 s / A2) ... rest 90 s": from the shortest to the longest where each lift has its own.
fn rest_of_all(facts: &Facts, first: Rest) -> Rest {
    let has_item = |line: usize| {
        facts.steps.iter().any(|step| step.line == line && matches!(step.what, StepKind::Item(_)))
    };
    let own = facts.steps.iter().filter_map(|step| match step.what {
        StepKind::Rest { seconds, after } if after != Some(RestAfter::All) && has_item(step.line) => {
            Some((step.line, seconds))
        }
        _ => None,
    });
    let own: Vec<(usize, u32)> = own.collect();
    let lines: HashSet<usize> = own.iter().map(|(line, _)| *line).collect();
    if lines.len() < 2 {
        return first;
    }
    own.iter().fold(first, |rest, (_, seconds)| Rest {
        low_s: rest.low_s.min(*seconds),
        high_s: rest.high_s.max(*seconds),
        ..rest
    })
}

/// A set of as many as possible after the others belongs to them where every line of sets has a share of its own, one is said of all, or
/// none is written; else nobody knows what a share is of, and it is left to the coach.
fn with_its_share(facts: &Facts, part: &mut Part) -> Facts {
    let mut facts = facts.clone();
    let open = facts.sets_reps.iter().any(|(_, reps)| *reps == 0);
    let shares = facts.strength.percent.len();
    if open && shares > 0 && shares == facts.shares_before_open && shares + 1 == facts.sets_reps.len() {
        // What comes after the share of the others is as heavy.
        facts.strength.percent.extend(facts.strength.percent.last().copied());
    }
    // "3x5, then one of max reps, all at 75 %": said last, the one share is of all; and without any the weight stays on.
    let of_all = shares == 1 && facts.shares_before_open == 0 && facts.strength.rpe.is_none();
    if open && of_all {
        let share = facts.strength.percent[0];
        facts.strength.percent = vec![share; facts.sets_reps.len()];
    }
    if open && shares > 0 && facts.sets_reps.len() != facts.strength.percent.len() {
        facts.sets_reps.retain(|(_, reps)| *reps > 0);
        part.strength.open_last = false;
    }
    facts
}

/// Of several lifts each has the one set that stands beside it: "bench press 8 @ 70 %, back squat 6 @ 60 %" are no two sets of both.
fn with_own_sets(mut facts: Facts) -> Facts {
    let items: Vec<&Item> = facts.items().collect();
    let movements: HashSet<&MovementId> = items.iter().filter_map(|item| item.movement.as_ref()).collect();
    let beside: usize = items.iter().map(|item| item.sets_at.len()).sum();
    let one_each = items.iter().all(|item| item.sets_at.len() <= 1 && !item.joined);
    if movements.len() < 2 || !one_each || beside == 0 || beside != facts.set_list.len() {
        return facts;
    }
    for step in &mut facts.steps {
        if let StepKind::Item(item) = &mut step.what
            && let Some((reps, share)) = item.sets_at.pop()
        {
            item.amount = item.amount.or(Some((f64::from(reps), None)));
            item.percent.push(share);
        }
    }
    facts.set_list.clear();
    facts
}

/// Two single figures on their own ("begin with 55 %, finish on 75 %") are the ends of a climb.
fn merged_percent(found: &[[f64; 2]], listed: usize, lines: usize) -> Vec<[f64; 2]> {
    if listed == 0 && lines < 2 && found.len() == 2 && found.iter().all(|[low, high]| low == high) {
        return vec![[found[0][0].min(found[1][0]), found[0][0].max(found[1][0])]];
    }
    found.to_vec()
}

fn is_one_lift(works: &[Work]) -> bool {
    works.windows(2).all(|pair| pair[0].movement == pair[1].movement)
}

fn distinct_movements(works: &[Work]) -> usize {
    works.iter().map(|work| &work.movement).collect::<HashSet<&MovementId>>().len()
}

/// "Build to a max: 6 @ 45, 4 @ 58, 2 @ 72, 1 @ 84": sets that start light and get heavier, with ever fewer repetitions, lead up
/// to it.
fn climbs_to_a_max(sets: &[(u32, f64)]) -> bool {
    const FEWEST: usize = 3;
    const LIGHT: f64 = 65.0;
    sets.len() >= FEWEST
        && sets[0].1 <= LIGHT
        && sets.windows(2).all(|pair| pair[0].1 < pair[1].1 && pair[0].0 >= pair[1].0)
}

/// Repetitions of "2+1" of one lift: all of them with a breath between; "1+1" of what is a clean and a jerk is one of each.
fn one_complex(reps: &[u32], works: &[Work]) -> u32 {
    let of_two = works.iter().all(|work| work.movement.as_str().ends_with(OF_TWO));
    match reps {
        [one, other] if of_two && one == other => *one,
        _ => reps.iter().sum(),
    }
}

/// How a lift of two ends: each of its repetitions is one of both.
const OF_TWO: &str = "clean-and-jerk";
