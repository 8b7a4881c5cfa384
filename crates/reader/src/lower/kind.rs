//! What a part is for, and how it is run.

use super::groups::{Group, Grouped, Repeat};
use super::{FIXED_WORK_SHARE, Shaper, TABATA};
use crate::facts::{Facts, Step, StepKind};
use crate::label::Label;
use crate::say::Aim;
use lantern_session::movement::{LoadKind, Movement, Pattern, Unit};
use lantern_session::{Amount, Dose, Format, Node, PartKind, Score, Sharing, Work};

/// Shortest interval in which a set of a lift has work beside it, in seconds.
const SHORTEST_SET_S: u32 = 120;
/// Work of more than so many lengths is not what the length limits: nobody sets a cap of a minute on a mile.
const MOST_WORK_SHARE: f64 = 2.5;
/// Rungs that fill this share of a length are done against it.
const RUNGS_SHARE: f64 = 0.2;
/// Shortest interval in which a lift under a heading of strength has another one beside it, in seconds.
const SHORTEST_LIFT_INTERVAL_S: u32 = 90;
/// From so many rungs on a scheme that counts through is of a piece.
const RUNGS_OF_A_PIECE: usize = 8;

impl Shaper<'_> {
    pub(super) fn kind(&self, facts: &Facts, section: Option<PartKind>) -> PartKind {
        let movements = || facts.items().filter_map(|item| self.catalogue.get(item.movement.as_ref()?));
        let has_bar = movements().any(|m| m.load_kind == LoadKind::Barbell);
        let machine = movements().any(|m| m.unit == Unit::Calories);
        let max_sets = facts.sets.is_some()
            && facts.items().any(|item| item.max)
            && !facts.has_format()
            && !machine
            && facts.items().all(|item| item.window_s.is_none());
        // "Odd: 5 presses, even: 5 rows": lifts that take turns, minute by minute, are no sets of one.
        let turns = |step: &Step| matches!(step.label, Label::Odd(_) | Label::Minute(_));
        let in_turn = facts.every.is_some()
            && facts.items().count() > 1
            && facts.steps.iter().any(|step| matches!(step.what, StepKind::Item(_)) && turns(step));
        let every_lift = facts.every.is_some()
            && !facts.until_failure
            && !in_turn
            && facts.amrap.is_none()
            && (movements().all(|m| m.load_kind == LoadKind::Barbell)
                || facts.kind == Some(PartKind::Strength)
                    && facts.every.is_some_and(|(interval_s, ..)| interval_s >= SHORTEST_LIFT_INTERVAL_S)
                    && movements().next().is_some_and(|m| m.load_kind == LoadKind::Barbell)
                || !facts.strength.percent.is_empty()
                    && (facts.sets.is_some() || sets_on_a_clock(facts))
                    && movements().next().is_some_and(|m| m.load_kind == LoadKind::Barbell))
            && facts.has_items()
            && (!facts.strength.percent.is_empty()
                || facts.strength.rpe.is_some()
                || facts.climbs && facts.items().count() == 1
                || facts.build
                || (facts.sets.is_some() || facts.items().all(|item| item.sets.is_some()))
                    && facts.items().all(|item| item.load.is_none())
                || facts.kind == Some(PartKind::Strength));
        // Nobody buys in for a lift.
        let bought = facts.items().count() > 2
            && facts.steps.iter().any(|step| matches!(step.what, StepKind::BuyIn | StepKind::CashOut));
        let cashed = begins_with_a_cash_out(facts);
        let rungs = |test: fn(&[u32], bool) -> bool| {
            facts.steps.iter().any(|step| {
                matches!(&step.what, StepKind::Scheme { reps, open: None } if reps.len() > 1 && test(reps, has_bar))
            })
        };
        // "21-15-9 of power cleans at 60 % and burpees": the share is a load, and nobody rests between rungs.
        let raced = facts.items().count() > 1
            && !facts.superset
            && !facts.has_lettered_pair()
            && facts.sets.is_none()
            && (rungs(|reps, has_bar| !is_of_sets(reps, has_bar))
                || facts.cap_s.is_some() && (rungs(|_, _| true) || facts.has_rounds()));
        let plain_format = facts.amrap.is_some()
            || raced
            || facts.for_time
            || facts.tabata
            || facts.on_off.is_some()
            || facts.quality
            || facts.until_failure
            || bought
            || cashed
            || (facts.every.is_some() && !every_lift);
        let scheme_lift = !plain_format
            && facts.cap_s.is_none()
            && facts.items().count() == 1
            && facts.items().all(|item| item.amount.is_none() && item.load.is_none())
            && facts.steps.iter().any(|step| {
                matches!(&step.what, StepKind::Scheme { reps, open: None } if is_of_sets(reps, has_bar))
            });
        // "Row 4 x 3 min @ RPE 6": an effort paces a machine and is no load.
        let engines = facts.has_items() && movements().all(Movement::is_engine);
        let lift = every_lift
            || scheme_lift
            || facts.strength.rm.is_some()
            || facts.build
            || facts.climbs && movements().any(Movement::takes_weight)
            || !facts.weighed.is_empty() && facts.items().count() == 1
            || !(facts.strength.percent.is_empty() || in_turn)
            || facts.strength.rpe.is_some() && !engines
            || facts.strength.tempo.is_some()
            || facts.strength.week.is_some()
            || max_sets
            || (facts.sets.is_some()
                && !plain_format
                && facts.has_lettered_pair()
                && movements().any(Movement::takes_weight))
            || (facts.superset && facts.sets.is_some() && movements().any(Movement::takes_weight))
            // "Bench press 5-5-5-5-5, superset with 8 rows"
            || (facts.superset && rungs(is_of_sets) && movements().any(Movement::takes_weight))
            || (has_bar && (!facts.sets_reps.is_empty() || facts.sets.is_some()))
            || (!facts.sets_reps.is_empty() && movements().any(|m| m.takes_weight()))
            || (!facts.sets_reps.is_empty()
                && facts.items().count() == 1
                && facts.kind.is_none()
                && section.is_none()
                && !plain_format);
        let loaded = facts.asks_for_sets_at_a_share() && movements().all(Movement::is_barbell);
        // "Leg curls 3x15, calf raises 3x20"
        let several_with_sets =
            facts.items().count() > 1 && facts.items().all(|item| item.sets.is_some_and(|sets| sets > 1));
        let stretches = facts.has_items() && movements().all(|m| m.pattern == Pattern::Mobility);
        let builds_up = (facts.sets.is_some() || several_with_sets)
            && !plain_format
            && !lift
            && facts.cap_s.is_none()
            && !machine
            // "Run 3 x 1 mile, rest 3 min"
            && !movements().all(Movement::is_engine)
            && facts.items().all(|item| item.window_s.is_none());
        let weighed = movements().any(Movement::takes_weight);
        // Below a heading that stands above another part: what no set of a lift has tells a piece of its own.
        let piece = facts.kind.is_none() && (plain_format || self.is_of_a_piece(facts));
        match facts.kind.or(section) {
            Some(PartKind::Strength | PartKind::Skill) if piece && !lift => PartKind::Conditioning,
            Some(PartKind::Strength) if plain_format && !lift => PartKind::Conditioning,
            Some(PartKind::Strength) if facts.kind.is_none() && plain_format => PartKind::Conditioning,
            Some(PartKind::Conditioning) if lift && !plain_format && facts.cap_s.is_none() => {
                PartKind::Strength
            }
            // "Assistance: 5x10 @ 50 %" is loaded like any lift.
            Some(PartKind::Accessory) if !plain_format && loaded => PartKind::Strength,
            Some(kind) if facts.kind.is_some() => kind,
            // Stretching below another heading is stretching all the same.
            Some(PartKind::Accessory | PartKind::Skill | PartKind::Strength | PartKind::Conditioning)
                if !plain_format && !lift && stretches =>
            {
                PartKind::Mobility
            }
            Some(PartKind::Home) => PartKind::Home,
            Some(PartKind::Conditioning) if facts.kind.is_none() && builds_up => PartKind::Accessory,
            Some(PartKind::Strength) if facts.kind.is_none() && builds_up && !weighed => PartKind::Accessory,
            Some(kind @ (PartKind::Strength | PartKind::Conditioning)) if !(plain_format || lift) => kind,
            Some(kind @ (PartKind::Accessory | PartKind::Skill | PartKind::Mobility))
                if !plain_format && !lift =>
            {
                kind
            }
            _ if lift && !plain_format => PartKind::Strength,
            // "3 sets: 15 pull-aparts, 12 calf raises" without a clock builds what the lifts do not.
            None if builds_up => PartKind::Accessory,
            _ if movements().all(|m| matches!(m.pattern, Pattern::Mobility | Pattern::Prep)) => {
                PartKind::Mobility
            }
            _ => PartKind::Conditioning,
        }
    }

    /// A cap, a score, who shares the work, a window for each thing, or ground that is gone over again and again.
    fn is_of_a_piece(&self, facts: &Facts) -> bool {
        let rounds = facts.steps.iter().any(|step| matches!(step.what, StepKind::Rounds(2..)));
        let sets = facts.items().any(|item| item.sets.is_some());
        let mut movements = facts.items().filter_map(|item| self.catalogue.get(item.movement.as_ref()?));
        let raced = movements.any(Movement::is_engine)
            && !facts.superset
            && !facts.has_lettered_pair()
            && facts.sets.is_none()
            && facts.sets_reps.is_empty();
        facts.cap_s.is_some()
            || facts.target.is_some()
            || facts.team.is_some() && facts.sharing.is_some()
            || matches!(facts.score, Some(Score::Time | Score::RoundsReps | Score::SlowestInterval))
            || facts.has_items() && facts.items().all(|item| item.window_s.is_some())
            || facts.duration_s.is_some() && facts.items().any(|item| item.max)
            || raced
            || (rounds || sets) && self.goes_hard_again(facts)
    }

    /// "6 x 400 m run, rest as needed", "5 x 3 min row": one thing that covers ground, again and again, with a rest or against its own clock.
    fn goes_hard_again(&self, facts: &Facts) -> bool {
        let mut items = facts.items();
        let (Some(item), None) = (items.next(), items.next()) else { return false };
        let ground = item.movement.as_ref().and_then(|id| self.catalogue.get(id)).is_some_and(|movement| {
            movement.unit == Unit::Metres || movement.metre_pace.is_some() || movement.unit == Unit::Calories
        });
        let rests =
            facts.steps.iter().any(|step| matches!(step.what, StepKind::RestOpen | StepKind::Rest { .. }));
        ground && !facts.for_time && (rests || item.unit == Some(Unit::Seconds))
    }

    /// "Then 400 m together": one thing that covers ground, led to by a word.
    fn leads_to_ground(&self, facts: &Facts) -> bool {
        let [Step { what: StepKind::Then, .. }, Step { what: StepKind::Item(item), .. }] = &facts.steps[..]
        else {
            return false;
        };
        let ground =
            item.movement.as_ref().and_then(|id| self.catalogue.get(id)).is_some_and(Movement::is_engine);
        ground && item.amount.is_some() && matches!(item.unit, Some(Unit::Metres | Unit::Calories))
    }

    pub(super) fn format(&self, facts: &Facts, grouped: &Grouped, kind: PartKind) -> Option<Format> {
        let rounds =
            grouped.groups.iter().any(|g| g.repeats.iter().any(|r| matches!(r, Repeat::Rounds(n) if *n > 1)));
        let rest_between = grouped.groups.iter().any(|g| g.rest_s.is_some());
        let has_scheme =
            grouped.groups.iter().any(|g| g.repeats.iter().any(|r| !matches!(r, Repeat::Rounds(_))));
        let tabata =
            facts.tabata || facts.on_off.is_some_and(|(_, work, rest)| (work, rest) == (TABATA.0, TABATA.1));
        // "1 min max wall balls, 1 min max box jumps": as long at each.
        let stays = facts.items().next().is_some() && facts.items().all(|item| item.window_s.is_some());
        // A ladder without an end goes on until the time is up.
        let endless = facts.steps.iter().any(|s| matches!(s.what, StepKind::Scheme { open: Some(_), .. }));
        let times_out = facts.remaining
            || endless
            || facts.items().any(|item| item.max)
            || matches!(facts.score, Some(Score::RoundsReps | Score::Reps))
            || facts.sharing == Some(Sharing::Rounds) && !ends_behind_its_rounds(facts)
            || facts.target.is_some_and(|told| told.of == Aim::Rounds);
        if facts.until_failure && (facts.every.is_some() || facts.add_each.is_some()) {
            Some(Format::UntilFailure)
        } else if tabata {
            Some(Format::Tabata)
        } else if facts.on_off.is_some() {
            Some(Format::Intervals)
        } else if facts.amrap.is_some() {
            Some(Format::Amrap)
        } else if facts.every.is_some() && (facts.every_leads || grouped.interrupt.is_none()) {
            Some(Format::Every)
        } else if facts.quality {
            Some(Format::Quality)
        } else if rounds
            && (rest_between
                || stays
                || self.goes_hard_again(facts)
                || facts.score == Some(Score::SlowestInterval) && !facts.for_time)
            && matches!(kind, PartKind::Conditioning | PartKind::Home)
        {
            Some(Format::Intervals)
        } else if facts.for_time {
            Some(Format::ForTime)
        } else if facts.duration_s.is_some() && times_out {
            Some(Format::Amrap)
        } else if !matches!(kind, PartKind::Conditioning | PartKind::Home) {
            None
        } else if begins_with_a_cash_out(facts) || self.leads_to_ground(facts) {
            // What cashes out of a clock that has ended, or is run when it has.
            Some(Format::ForTime)
        } else {
            let limited = (facts.window && facts.every.is_none())
                || facts.cap_s.is_some()
                || self.is_fixed_work_in_a_length(facts, grouped)
                || facts.target.is_some()
                || facts.score == Some(Score::Time)
                || grouped.interrupt.is_some();
            let counted = has_scheme || (rounds && facts.duration_s.is_none());
            (limited || counted).then_some(Format::ForTime)
        }
    }

    /// Seconds that a regular member takes for a group with all of its rounds or rungs.
    pub(super) fn group_seconds(&self, group: &Group) -> f64 {
        let (times, reps) = times_and_reps(group);
        let seconds = |node: &Node| match node {
            Node::Work(work) if work.dose.amount == Amount::Scheme => {
                let movement = self.catalogue.get(&work.movement)?;
                Some(movement.seconds_per(work.dose.unit, 0.5)? * f64::from(reps))
            }
            node => Some(self.work_seconds(node)? * f64::from(times)),
        };
        group.nodes.iter().filter_map(seconds).sum()
    }

    /// "40 min: 100 burpees, 4000 m row, ...": fixed work that a regular is busy with for most of the length has
    /// that length for its limit; less of it is gone through again and again.
    pub(super) fn is_fixed_work_in_a_length(&self, facts: &Facts, grouped: &Grouped) -> bool {
        let ends = ends_behind_its_rounds(facts);
        let Some(length) =
            facts.duration_s.filter(|_| ends || facts.sharing.is_none_or(|s| s != Sharing::Rounds))
        else {
            return false;
        };
        if ends && facts.sharing.is_some() {
            return true;
        }
        let nodes = || grouped.groups.iter().flat_map(|group| &group.nodes);
        // Stays of so many minutes make up the length; nobody can be quicker.
        let timed = |node: &Node| matches!(node, Node::Work(work) if work.dose.unit == Unit::Seconds);
        if nodes().all(timed) {
            return false;
        }
        let work: f64 = grouped.groups.iter().map(|group| self.group_seconds(group)).sum();
        let length = f64::from(length);
        // Rungs that go down are gone through once, however soon.
        let rungs = |group: &Group| group.repeats.iter().any(|repeat| matches!(repeat, Repeat::Scheme(_)));
        let least = if grouped.groups.iter().all(rungs) { RUNGS_SHARE } else { FIXED_WORK_SHARE };
        let fits = (length * least..length * MOST_WORK_SHARE).contains(&work);
        (nodes().count() > 1 || grouped.penalty.is_some()) && fits
    }
}

/// Shortest length that a list is gone round in without a word about it, in seconds.
const SHORTEST_CIRCUIT_S: u32 = 300;

impl Shaper<'_> {
    /// "Metcon - 12 min", and below it a list that a regular is through in less than half of that: nobody stops after the first time.
    pub(super) fn goes_round(&self, facts: &Facts, grouped: &Grouped) -> bool {
        let [group] = &grouped.groups[..] else { return false };
        let lone = group.repeats.is_empty()
            && !group.once
            && group.rest_s.is_none()
            && grouped.interrupt.is_none()
            && grouped.penalty.is_none()
            && facts.rest.is_none()
            && facts.cap_s.is_none();
        let counted = |node: &Node| {
            matches!(node, Node::Work(Work { dose: Dose { amount: Amount::Fixed { .. }, .. }, .. }))
        };
        // Of minutes nobody says what comes when they are over.
        let timed = |node: &Node| matches!(node, Node::Work(work) if work.dose.unit == Unit::Seconds);
        let listed =
            group.nodes.len() > 1 && group.nodes.iter().all(counted) && !group.nodes.iter().all(timed);
        let length = facts.duration_s.filter(|length| *length >= SHORTEST_CIRCUIT_S);
        lone && listed
            && length.is_some_and(|length| self.group_seconds(group) < f64::from(length) * FIXED_WORK_SHARE)
    }
}

/// "10 rounds of ..., 1 km run to finish": so many, and then it is over.
fn ends_behind_its_rounds(facts: &Facts) -> bool {
    let at = |is: fn(&StepKind) -> bool| facts.steps.iter().position(|step| is(&step.what));
    let rounds = at(|step| matches!(step, StepKind::Rounds(2..)));
    let out = at(|step| matches!(step, StepKind::CashOut));
    rounds.zip(out).is_some_and(|(rounds, out)| rounds < out)
}

fn begins_with_a_cash_out(facts: &Facts) -> bool {
    facts.steps.first().is_some_and(|step| matches!(step.what, StepKind::CashOut))
}

/// How often a group is done, and the repetitions of its rungs all together.
fn times_and_reps(group: &Group) -> (u32, u32) {
    group.repeats.iter().fold((1, 0), |(times, reps), repeat| match repeat {
        Repeat::Rounds(n) => (times * n, reps * n),
        Repeat::Scheme(rungs) => (times * rungs.len() as u32, times * rungs.iter().sum::<u32>()),
        Repeat::Ladder(..) => (times, reps),
    })
}

/// Whether a list is of sets: of a bar one that does not count through, of what one does with one's own weight one that stays alike.
pub(super) fn is_of_sets(reps: &[u32], has_bar: bool) -> bool {
    let alike = reps.len() > 2 && reps.windows(2).all(|pair| pair[0] == pair[1]);
    reps.iter().all(|n| *n <= 12) && !counts_through(reps) && (has_bar || alike)
}

/// "10-9-8-...-1" counts down; sets of a lift are fewer, or stay alike.
pub(crate) fn counts_through(reps: &[u32]) -> bool {
    reps.len() >= RUNGS_OF_A_PIECE
        && (reps.windows(2).all(|pair| pair[0] == pair[1] + 1)
            || reps.windows(2).all(|pair| pair[0] + 1 == pair[1]))
}

/// "Every 3:00: 3 squats @ 80 %, 6 jumps": a set begins with each interval, and nothing takes turns.
fn sets_on_a_clock(facts: &Facts) -> bool {
    let long = facts.every.is_some_and(|(interval_s, ..)| interval_s >= SHORTEST_SET_S);
    let turns = |step: &Step| {
        step.starts_line
            && matches!(step.label, Label::Number(_) | Label::Minute(_) | Label::Station(_) | Label::Odd(_))
    };
    long && !facts.has_rounds() && !facts.steps.iter().any(turns)
}
