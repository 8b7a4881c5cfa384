//! Groups: work that repeats together, and what cuts into it.

use super::every_few::{every_few, in_fews};
use super::{LONG_REST_S, Shaper};
use crate::facts::{Facts, Step, StepKind};
use crate::label::Label;
use lantern_session::movement::{Movement, Unit};
use lantern_session::{Amount, Node, PartKind, Problem, RestAfter};

/// Work that repeats together, in the order in which it is done.
#[derive(Default)]
pub(super) struct Group {
    pub repeats: Vec<Repeat>,
    pub rest_s: Option<u32>,
    pub nodes: Vec<Node>,
    pub after_each: Vec<Node>,
    /// What is done after each stands between them: not after the last.
    pub between: bool,
    /// What is done after every so many of its rounds.
    pub every_few: Option<(u32, Vec<Node>)>,
    pub first_line: usize,
    /// Buy-in, cash-out or work after the rounds: done once.
    pub once: bool,
    /// Marked as a buy-in behind its work, so what follows is no longer part of it.
    pub closed: bool,
}

pub(super) enum Repeat {
    Rounds(u32),
    Scheme(Vec<u32>),
    Ladder(u32, u32),
}

impl Repeat {
    /// All repeats but the last, and the last; nothing where there are not two, or where no end is told.
    fn but_last(&self) -> Option<(Self, Option<Self>)> {
        match self {
            Self::Rounds(times) => (*times > 1).then(|| (Self::Rounds(times - 1), None)),
            Self::Scheme(reps) => {
                let (last, reps) = reps.split_last().filter(|(_, reps)| !reps.is_empty())?;
                Some((Self::Scheme(reps.to_vec()), Some(Self::Scheme(vec![*last]))))
            }
            Self::Ladder(..) => None,
        }
    }
}

/// The groups of a facts and the work that cuts into them.
pub(super) struct Grouped {
    pub groups: Vec<Group>,
    pub interrupt: Option<(u32, u32, Vec<Node>)>,
    pub penalty: Option<Vec<Node>>,
}

#[derive(Clone, Copy, PartialEq, Eq)]
pub(super) enum Bucket {
    Main,
    AfterEach,
    EveryRounds,
    Interrupt,
    Penalty,
}

/// Rounds that a regular needs no more than so many times a length for are done within it.
const MOST_OF_A_LENGTH: f64 = 1.2;

/// Shortest time at one thing below bouts of a line that is none of them, in seconds.
const STAY_APART_S: f64 = 300.0;

impl Shaper<'_> {
    /// "4 x 200 m, 60 s walk", and below it "10 min jog": minutes of going easy are none of the bouts that have a line of their own.
    fn goes_home(&self, facts: &Facts, n: usize) -> bool {
        let (before, step) = (&facts.steps[..n], &facts.steps[n]);
        let StepKind::Item(item) = &step.what else { return false };
        let long = item.unit == Some(Unit::Seconds)
            && item.amount.is_some_and(|(seconds, _)| seconds >= STAY_APART_S)
            && item.movement.as_ref().and_then(|id| self.catalogue.get(id)).is_some_and(Movement::is_engine);
        let is_item = |step: &&Step| matches!(step.what, StepKind::Item(_));
        // "4 x 200" without a unit are sets.
        let header = before
            .iter()
            .rfind(|step| matches!(step.what, StepKind::Rounds(_)))
            .or(before.iter().find(is_item).filter(|_| facts.sets.is_some() || !facts.sets_reps.is_empty()));
        let Some(header) = header else { return false };
        let mut bouts = before.iter().filter(is_item).skip_while(|bout| bout.line < header.line).peekable();
        long && step.starts_line && bouts.peek().is_some() && bouts.all(|bout| bout.line == header.line)
    }

    pub(super) fn group(&mut self, facts: &Facts, kind: PartKind) -> Grouped {
        let mut grouped = Grouped { groups: vec![Group::default()], interrupt: None, penalty: None };
        let buckets = buckets(&facts.steps);
        let fixed_scheme = |group: &Group| group.repeats.iter().any(|r| !matches!(r, Repeat::Rounds(_)));
        // "3 x 20 sit-ups, 3 x 30 s hold": each has sets of its own.
        let own_sets = facts.items().count() > 1 && facts.items().all(|item| item.sets.is_some());
        // "Pull-ups: two sets from the start" says how they are broken in a time that goes round.
        let list_rounds =
            facts.sets.filter(|_| !matches!(kind, PartKind::Strength) && !own_sets && facts.amrap.is_none());
        let scheme = facts.steps.iter().any(|step| matches!(step.what, StepKind::Scheme { open: None, .. }));
        let timed = facts.on_off.is_some() || facts.tabata;
        // "15 cleans @ 60%", and below "10 cleans @ 70%": each has its own.
        let shared: Vec<&Vec<[f64; 2]>> =
            facts.items().map(|item| &item.percent).filter(|share| !share.is_empty()).collect();
        let own_shares = kind == PartKind::Conditioning
            && shared.iter().all(|share| share.len() == 1)
            && shared.windows(2).any(|pair| pair[0] != pair[1]);
        for (n, step) in facts.steps.iter().enumerate() {
            let closed = grouped.groups.last().is_some_and(|group| group.closed);
            if closed && matches!(step.what, StepKind::Item(_)) {
                grouped.groups.push(Group::default());
            }
            let current = grouped.groups.last_mut().expect("there is always one group");
            match &step.what {
                StepKind::Item(item) => {
                    // "1 min max wall balls": a window, and as much as goes into it.
                    let window = item.window_s;
                    let Some(mut work) = self.work(item) else { continue };
                    if work.dose.amount == Amount::Open {
                        if fixed_scheme(current) || facts.add_each.is_some() && facts.until_failure {
                            work.dose.amount = Amount::Scheme;
                        } else if timed {
                            work.dose.amount = Amount::Max;
                        }
                    }
                    if own_shares {
                        work.percent.clone_from(&item.percent);
                    }
                    let sets = item.sets.filter(|_| facts.sets.is_none() || own_sets);
                    let node = match sets {
                        Some(sets) => {
                            Node::Rounds { times: Some(sets), rest_s: None, of: Box::new(Node::Work(work)) }
                        }
                        None => match window {
                            Some(seconds) => Node::Within { seconds, of: Box::new(Node::Work(work)) },
                            None => Node::Work(work),
                        },
                    };
                    let again = buckets[n] == Bucket::Main
                        && ((step.starts_line || led(&facts.steps[..n], step))
                            && closes_the_circle(&grouped.groups, &node)
                            || comes_out(&facts.steps[..n], step)
                            || self.goes_home(facts, n)
                            || grouped
                                .groups
                                .last()
                                .is_some_and(|rounds| self.fills_the_clock(facts, n, rounds)));
                    if again {
                        grouped.groups.push(Group { once: true, ..Group::default() });
                    }
                    let current = grouped.groups.last_mut().expect("there is always one group");
                    match buckets[n] {
                        Bucket::Main => current.nodes.push(node),
                        Bucket::AfterEach => current.after_each.push(node),
                        Bucket::EveryRounds => {
                            current.every_few.get_or_insert_with(|| every_few(facts)).1.push(node);
                        }
                        Bucket::Interrupt => {
                            if let Some((_, _, nodes)) = &mut grouped.interrupt {
                                nodes.push(node);
                            }
                        }
                        Bucket::Penalty => grouped.penalty.get_or_insert_default().push(node),
                    }
                }
                StepKind::Rounds(times) => {
                    let trailing = !facts.steps[n + 1..].iter().any(|s| matches!(s.what, StepKind::Item(_)));
                    let ignored = trailing && (facts.every.is_some() || !current.repeats.is_empty());
                    if ignored {
                        continue;
                    }
                    let same_line_after = current.first_line == step.line && !current.nodes.is_empty();
                    let after_then = n > 0
                        && facts.steps[n - 1].what == StepKind::Then
                        && facts.steps[n - 1].line == step.line;
                    // "400 m jog + 2x (10 ring rows, 10 squats)": what is told before them stands outside.
                    let inside = facts.steps[n + 1..]
                        .iter()
                        .any(|s| s.line == step.line && matches!(s.what, StepKind::Item(_)));
                    let told = current
                        .nodes
                        .iter()
                        .all(|node| matches!(node, Node::Work(work) if work.dose.first().is_some()));
                    let outside = after_then || current.once || inside && told;
                    let same_line_after = same_line_after && !outside;
                    if current.nodes.is_empty() || trailing || same_line_after {
                        current.repeats.insert(0, Repeat::Rounds(*times));
                    } else {
                        grouped
                            .groups
                            .push(Group { repeats: vec![Repeat::Rounds(*times)], ..Group::default() });
                    }
                }
                StepKind::Scheme { reps, open } => {
                    let repeat = match open {
                        Some(step) => Repeat::Ladder(reps[0], *step),
                        None => Repeat::Scheme(reps.clone()),
                    };
                    let again = current.repeats.iter().any(|known| match (known, &repeat) {
                        (Repeat::Scheme(a), Repeat::Scheme(b)) => a == b,
                        (Repeat::Ladder(a, b), Repeat::Ladder(c, d)) => (a, b) == (c, d),
                        _ => false,
                    });
                    // In a line of its own below work it heads more work, though it is the same.
                    let beside = |s: &Step| s.line == step.line && matches!(s.what, StepKind::Item(_));
                    let heads_more = !current.nodes.is_empty() && !facts.steps.iter().any(beside);
                    if again && !heads_more {
                        continue;
                    }
                    let trailing = !facts.steps[n + 1..].iter().any(|s| matches!(s.what, StepKind::Item(_)));
                    let open =
                        |node: &Node| matches!(node, Node::Work(work) if work.dose.amount == Amount::Open);
                    if trailing
                        && current.repeats.is_empty()
                        && current.nodes.len() > 1
                        && current.nodes.iter().all(open)
                    {
                        // "AMRAP 7: thruster, pull-up (2-4-6...)": behind the work that it counts.
                        current.repeats.push(repeat);
                        continue;
                    }
                    let beside_item =
                        current.nodes.len() == 1 && current.first_line == step.line && !current.once;
                    if current.nodes.is_empty() || beside_item {
                        if let Some(Node::Work(work)) = current.nodes.first_mut()
                            && work.dose.amount == Amount::Open
                        {
                            work.dose.amount = Amount::Scheme;
                        }
                        current.repeats.push(repeat);
                    } else {
                        grouped.groups.push(Group { repeats: vec![repeat], ..Group::default() });
                    }
                }
                StepKind::Rest { seconds, after } => {
                    let nothing_before =
                        !facts.steps[..n].iter().any(|s| matches!(s.what, StepKind::Item(_)));
                    // "..., 1 min rest. 3 rounds."
                    let behind = &facts.steps[n + 1..];
                    let told_below = behind.iter().any(|s| matches!(s.what, StepKind::Rounds(2..)))
                        && !behind.iter().any(|s| matches!(s.what, StepKind::Item(_)));
                    let repeats = !current.repeats.is_empty() || list_rounds.is_some() || told_below;
                    let repeated = repeats && !current.once;
                    let rungs = current.repeats.iter().any(|repeat| matches!(repeat, Repeat::Scheme(_)));
                    let closes = facts.steps[n + 1..].iter().all(|s| match s.what {
                        StepKind::Rest { .. } => s.starts_line && s.line != step.line,
                        StepKind::Item(_) => false,
                        _ => true,
                    });
                    let leads_on = facts
                        .steps
                        .get(n + 1)
                        .is_some_and(|next| next.what == StepKind::Then && next.line == step.line);
                    let next = facts.steps.get(n + 1);
                    let rounds_follow = next.is_some_and(|next| {
                        matches!(next.what, StepKind::Rounds(_)) && next.line > step.line
                    });
                    let rungs_follow = next.is_some_and(|next| {
                        matches!(next.what, StepKind::Scheme { .. }) && next.line > step.line
                    });
                    match after {
                        _ if buckets[n] == Bucket::EveryRounds => {
                            let rest = Node::Rest { seconds: Some(*seconds) };
                            current.every_few.get_or_insert_with(|| every_few(facts)).1.push(rest);
                        }
                        // A race of two legs: what stands in a line of its own between them is rested once.
                        None if repeated
                            && step.starts_line
                            && rounds_follow
                            && facts.on_off.is_none()
                            && (facts.for_time || comes_out(&facts.steps[..n], step)) =>
                        {
                            let nodes = vec![Node::Rest { seconds: Some(*seconds) }];
                            grouped.groups.push(Group { nodes, once: true, ..Group::default() });
                        }
                        // So is what stands between two schemes that are gone through.
                        None if repeated
                            && rungs
                            && (step.starts_line || led(&facts.steps[..n], step))
                            && rungs_follow
                            && facts.on_off.is_none() =>
                        {
                            let nodes = vec![Node::Rest { seconds: Some(*seconds) }];
                            grouped.groups.push(Group { nodes, once: true, ..Group::default() });
                        }
                        Some(RestAfter::All) if nothing_before => self.rest_before_s = Some(*seconds),
                        Some(RestAfter::All) => self.rest_after_s = Some(*seconds),
                        // Between two pieces, in a paragraph of its own.
                        None if closes && step.apart && facts.leads_on => self.rest_after_s = Some(*seconds),
                        // "3 x 5:00 on, 2:00 off", and below it "rest 6:00": between bouts and rounds is rested otherwise.
                        // So is it where the rest between rounds goes by the work.
                        None if closes
                            && step.starts_line
                            && (facts.rest_share.is_some()
                                || facts
                                    .on_off
                                    .map(|(_, _, off_s)| off_s)
                                    .or(current.rest_s)
                                    .is_some_and(|between_s| (1..*seconds).contains(&between_s))) =>
                        {
                            self.rest_after_s = Some(*seconds);
                        }
                        // "21-15-9", and far below it "rest 5:00": nobody rests so long between rungs.
                        None if closes && rungs && step.starts_line && *seconds >= LONG_REST_S => {
                            self.rest_after_s = Some(*seconds);
                        }
                        // A round that starts on the clock is rested for what is left of it: longer than that is rested when all are done.
                        None if closes
                            && step.starts_line
                            && facts.every.is_some_and(|(every_s, ..)| *seconds >= every_s) =>
                        {
                            self.rest_after_s = Some(*seconds);
                        }
                        // "Rest 3 minutes, then:" parts two legs; it is no rest between rounds.
                        None if leads_on && repeated => {
                            let nodes = vec![Node::Rest { seconds: Some(*seconds) }];
                            grouped.groups.push(Group { nodes, once: true, ..Group::default() });
                        }
                        Some(RestAfter::Each) => current.rest_s = current.rest_s.or(Some(*seconds)),
                        _ if repeated
                            && (closes || next_group_follows(&facts.steps[n + 1..]))
                            && facts.on_off.is_none() =>
                        {
                            current.rest_s = current.rest_s.or(Some(*seconds));
                        }
                        _ if repeated && current.nodes.is_empty() => {
                            current.rest_s = current.rest_s.or(Some(*seconds))
                        }
                        // Above all work it leads from the part before.
                        None if !repeated && nothing_before && (facts.amrap.is_some() || facts.for_time) => {
                            self.rest_before_s = Some(*seconds);
                        }
                        // "4 x 10 rows, rest 90 s": between sets that the line counts itself.
                        _ if facts.on_off.is_none()
                            && sets_on_line(&facts.steps[..n], step, &mut current.nodes, *seconds) => {}
                        // Nothing comes after it, so it is rested in every round.
                        _ if closes && facts.is_last && facts.amrap.is_some() => {
                            current.rest_s = current.rest_s.or(Some(*seconds));
                        }
                        // A rest after the last work of the part leads to the next part.
                        _ if closes && facts.on_off.is_none() => {
                            self.rest_after_s = self
                                .rest_after_s
                                .or(Some(*seconds).filter(|_| kind == PartKind::Conditioning));
                        }
                        _ => current.nodes.push(Node::Rest { seconds: Some(*seconds) }),
                    }
                }
                StepKind::RestOpen => {
                    let station = step.starts_line
                        && matches!(
                            step.label,
                            Label::Number(_)
                                | Label::Minute(_)
                                | Label::Station(_)
                                | Label::Bullet
                                | Label::Letter(..)
                                | Label::Odd(_)
                        );
                    let clocked = facts.every.is_some() || facts.on_off.is_some();
                    // "A minute at each station", and one of them, in a line of its own, is "rest".
                    let named = facts.station_s.is_some() && step.starts_line;
                    if station && clocked || named {
                        current.nodes.push(Node::Rest { seconds: None });
                    }
                }
                StepKind::BuyIn => {
                    let behind = !current.nodes.is_empty()
                        && current.repeats.is_empty()
                        && n > 0
                        && facts.steps[n - 1].line == step.line;
                    current.once = true;
                    current.closed = behind;
                    if !current.nodes.is_empty() && !behind {
                        grouped.groups.push(Group { once: true, ..Group::default() });
                    }
                }
                StepKind::CashOut => {
                    if current.nodes.is_empty() {
                        current.once = true;
                    } else {
                        grouped.groups.push(Group { once: true, ..Group::default() });
                    }
                }
                StepKind::Then => {
                    let rounds_open = !current.repeats.is_empty() && !current.nodes.is_empty();
                    let leads_on = facts.steps[n + 1..].iter().take_while(|s| s.line == step.line).any(|s| {
                        match &s.what {
                            StepKind::Item(item) => item.max,
                            StepKind::Rounds(_) | StepKind::Scheme { .. } => true,
                            _ => false,
                        }
                    });
                    // "21-15-9 of this and that, straight into a mile": the scheme counts all that stands before it.
                    let counted =
                        |node: &Node| matches!(node, Node::Work(work) if work.dose.amount == Amount::Scheme);
                    let next = facts.steps[n + 1..].iter().find_map(|s| match &s.what {
                        StepKind::Item(item) => Some(item),
                        _ => None,
                    });
                    let after_scheme = fixed_scheme(current)
                        && !current.nodes.is_empty()
                        && current.nodes.iter().all(counted)
                        && next.is_some_and(|item| item.amount.is_some());
                    let uncounted = fixed_scheme(current) && next.is_some_and(|item| item.amount.is_none());
                    let after_rounds = rounds_open
                        && !uncounted
                        && facts.on_off.is_none()
                        && (current.first_line != step.line
                            || step.after_stop && whole_rounds(&facts.steps[..n]));
                    let clocked = facts.amrap.is_some() || facts.every.is_some();
                    if (after_scheme || after_rounds) && !leads_on && !clocked {
                        grouped.groups.push(Group { once: true, ..Group::default() });
                    } else if current.once && !current.nodes.is_empty() {
                        grouped.groups.push(Group::default());
                    }
                }
                StepKind::Main => {
                    // "A mile, then as many rounds as the time left allows": what comes before is done once.
                    let counted = |s: &Step| matches!(&s.what, StepKind::Item(item) if item.amount.is_some() && !item.max);
                    // "Walk about for a while" behind them is spoken of.
                    let open = |s: &Step| matches!(&s.what, StepKind::Item(item) if item.max);
                    let rounds_follow = !facts.steps[n + 1..].iter().any(open);
                    // "1000 m row, then as many rounds as possible of ..."
                    let led = n > 0 && facts.steps[n - 1].what == StepKind::Then;
                    let goes_on =
                        facts.remaining || led || facts.on_off.is_some() && facts.amrap == Some(None);
                    current.once |= goes_on
                        && !current.nodes.is_empty()
                        && current.repeats.is_empty()
                        && rounds_follow
                        && facts.steps[n + 1..].iter().any(counted);
                    if current.once && !current.nodes.is_empty() {
                        grouped.groups.push(Group::default());
                    }
                }
                StepKind::Interrupt { every_s, from_s } => {
                    grouped.interrupt.get_or_insert((*every_s, *from_s, Vec::new()));
                }
                StepKind::Penalty => {
                    grouped.penalty.get_or_insert_default();
                }
                StepKind::EveryRounds(_) => {}
                StepKind::AfterEach { last } => {
                    current.between = !last && kind == PartKind::Conditioning;
                }
            }
            if let Some(group) = grouped.groups.last_mut()
                && group.first_line == 0
            {
                group.first_line = step.line;
            }
        }
        // "every minute: 5 burpees" inside a piece for time cuts into it.
        if let (None, Some((every_s, None, None)), true) = (
            &grouped.interrupt,
            facts.every,
            facts.for_time
                || facts.cap_s.is_some()
                || facts.amrap.is_some()
                || scheme
                || facts.duration_s.is_none() && facts.sets.is_none() && !facts.has_rounds(),
        ) && !facts.until_failure
            && !facts.every_leads
            && let Some(last) = grouped
                .groups
                .last_mut()
                .filter(|group| group.nodes.len() > 1)
                .and_then(|group| group.nodes.pop())
        {
            grouped.interrupt = Some((every_s, every_s, vec![last]));
        }
        // Rungs are not gone through in fews, and a clock has no rounds that are counted.
        let counted = |group: &Group| match group.repeats[..] {
            [Repeat::Rounds(times)] => group.every_few.as_ref().is_none_or(|(few, _)| times >= *few),
            _ => facts.amrap.is_some() && group.repeats.is_empty(),
        };
        let few = |step: &Step| matches!(step.what, StepKind::EveryRounds(_));
        if let Some(step) = facts.steps.iter().find(|step| few(step))
            && grouped.groups.iter().any(|group| group.every_few.is_some() && !counted(group))
        {
            let message = "read as done after each one: only rounds with a number can have work after every few of them";
            self.mentions.push(Problem::warning(step.line, step.column, message.to_owned()));
        }
        grouped.groups.retain(|group| !group.nodes.is_empty() || !group.after_each.is_empty());
        if let Some(rounds) = list_rounds {
            for group in grouped.groups.iter_mut().filter(|group| group.repeats.is_empty() && !group.once) {
                group.repeats.push(Repeat::Rounds(rounds));
            }
        }
        if let Some((_, from_s, _)) = grouped.interrupt.as_mut().filter(|_| facts.interrupts_at_once) {
            *from_s = 0;
        }
        grouped.interrupt = grouped.interrupt.filter(|(_, _, nodes)| !nodes.is_empty());
        grouped.penalty = grouped.penalty.filter(|nodes| !nodes.is_empty());
        grouped
    }

    /// "In 20 min: 5 rounds of ..., then max calories": the rounds are done once, and what they leave of the length is filled.
    fn fills_the_clock(&self, facts: &Facts, n: usize, rounds: &Group) -> bool {
        let Some(length) = facts.amrap.flatten().or(facts.duration_s) else { return false };
        let StepKind::Item(item) = &facts.steps[n].what else { return false };
        let line = facts.steps[n].line;
        let led = facts.steps[..n].iter().rev().take_while(|step| step.line == line);
        let led = facts.remaining || led.into_iter().any(|step| step.what == StepKind::Then);
        let last = !facts.steps[n + 1..].iter().any(|step| matches!(step.what, StepKind::Item(_)));
        let counted = |node: &Node| matches!(node, Node::Work(work) if work.dose.first().is_some());
        let in_rounds = matches!(rounds.repeats[..], [Repeat::Rounds(2..)])
            && !rounds.nodes.is_empty()
            && rounds.nodes.iter().all(counted);
        let on_a_clock =
            facts.on_off.is_some() || facts.every.is_some() || facts.bouts.is_some() || facts.tabata;
        item.max
            && item.window_s.is_none()
            && led
            && last
            && in_rounds
            && !on_a_clock
            && self.group_seconds(rounds) <= f64::from(length) * MOST_OF_A_LENGTH
    }
}

/// Gives a rest to the sets that stand before it on its line, where there are any without one.
fn sets_on_line(before: &[Step], step: &Step, nodes: &mut [Node], seconds: u32) -> bool {
    let beside =
        before.last().is_some_and(|last| last.line == step.line && matches!(last.what, StepKind::Item(_)));
    match nodes.last_mut() {
        Some(Node::Rounds { rest_s: rest_s @ None, .. }) if beside => {
            *rest_s = Some(seconds);
            true
        }
        _ => false,
    }
}

/// Work that stands farther left than all that has been listed since the rounds above it is not in the rounds.
fn comes_out(before: &[Step], step: &Step) -> bool {
    let Some(header) = before.iter().rposition(|s| matches!(s.what, StepKind::Rounds(_))) else {
        return false;
    };
    let mut inside = before[header + 1..].iter().filter(|s| matches!(s.what, StepKind::Item(_))).peekable();
    step.starts_line
        && inside.peek().is_some()
        && before[header].indent <= step.indent
        && inside.all(|s| s.line > before[header].line && s.indent > step.indent)
}

/// Whether "then" stands right before it on its line.
fn led(before: &[Step], step: &Step) -> bool {
    before.last().is_some_and(|last| last.what == StepKind::Then && last.line == step.line)
}

/// "5 rounds of this, that and those.": the sentence that ends here counts rounds and lists what is in them.
fn whole_rounds(before: &[Step]) -> bool {
    let begins = before.iter().rposition(|step| step.starts_line || step.after_stop).unwrap_or(0);
    let sentence = &before[begins..];
    let rounds = sentence.iter().position(|step| matches!(step.what, StepKind::Rounds(_)));
    let items = |steps: &[Step]| steps.iter().filter(|s| matches!(s.what, StepKind::Item(_))).count();
    rounds.is_some_and(|at| items(&sentence[at..]) > 1)
}

/// "500 m row, 15-12-9 of ..., 500 m row": the work before a scheme, written again with its own amount below
/// it, is done once more at the end rather than in every rung.
fn closes_the_circle(groups: &[Group], node: &Node) -> bool {
    let [first, .., last] = groups else { return false };
    let in_scheme = |node: &Node| matches!(node, Node::Work(work) if work.dose.amount == Amount::Scheme);
    let again = match last.repeats[..] {
        [Repeat::Scheme(_), ..] => !last.nodes.is_empty() && last.nodes.iter().all(in_scheme),
        // One movement and the way back could be a round; two and more are one without it.
        [Repeat::Rounds(_), ..] => last.nodes.len() > 1 && first.nodes.len() == 1,
        _ => false,
    };
    again && first.repeats.is_empty() && first.nodes.first() == Some(node)
}

impl Group {
    /// The group as one node.
    pub(super) fn node(self) -> Node {
        let rest_s = self.rest_s;
        if self.between
            && let [ref repeat] = self.repeats[..]
            && let Some((but_last, last)) = repeat.but_last()
        {
            let but_last = Self {
                nodes: self.nodes.clone(),
                after_each: self.after_each,
                repeats: vec![but_last],
                rest_s,
                ..Self::default()
            };
            let last = Self { nodes: self.nodes, repeats: last.into_iter().collect(), ..Self::default() };
            let rest = rest_s.map(|seconds| Node::Rest { seconds: Some(seconds) });
            return Node::seq(
                [Some(but_last.node()), rest, Some(last.node())].into_iter().flatten().collect(),
            );
        }
        let mut nodes = self.nodes;
        nodes.extend(self.after_each);
        if let Some((few, work)) = self.every_few {
            match self.repeats[..] {
                [Repeat::Rounds(times)] if times >= few => return in_fews(times, few, nodes, work, rest_s),
                _ => nodes.extend(work),
            }
        }
        let mut node = Node::seq(nodes);
        for repeat in self.repeats.into_iter().rev() {
            node = match repeat {
                Repeat::Rounds(n) => Node::Rounds { times: Some(n), rest_s, of: Box::new(node) },
                Repeat::Scheme(reps) => Node::Scheme { reps, rest_s, of: Box::new(node) },
                Repeat::Ladder(start, step) => Node::Ladder { start, step, of: Box::new(node) },
            };
        }
        node
    }
}

pub(super) fn wrap(grouped: Grouped, join: fn(Vec<Node>) -> Node) -> Node {
    let mut nodes = Vec::new();
    for group in grouped.groups {
        if group.repeats.is_empty() && group.every_few.is_none() {
            nodes.extend(group.nodes);
            nodes.extend(group.after_each);
        } else {
            nodes.push(group.node());
        }
    }
    interrupted(join(nodes), grouped.interrupt, grouped.penalty)
}

pub(super) fn interrupted(
    node: Node,
    interrupt: Option<(u32, u32, Vec<Node>)>,
    penalty: Option<Vec<Node>>,
) -> Node {
    let node = match interrupt {
        Some((every_s, from_s, work)) => {
            Node::Interrupt { every_s, from_s, work: Box::new(Node::seq(work)), of: Box::new(node) }
        }
        None => node,
    };
    match penalty {
        Some(work) => Node::Penalty { work: Box::new(Node::seq(work)), of: Box::new(node) },
        None => node,
    }
}

pub(super) fn next_group_follows(rest: &[Step]) -> bool {
    matches!(
        rest.first().map(|step| &step.what),
        Some(StepKind::Rounds(_) | StepKind::Scheme { .. } | StepKind::CashOut | StepKind::Then)
    )
}

/// Which work each step belongs to: a marker takes the items after it on its line, else the one before
/// it, else those of the next line.
pub(super) fn buckets(steps: &[Step]) -> Vec<Bucket> {
    let mut buckets = vec![Bucket::Main; steps.len()];
    for (n, step) in steps.iter().enumerate() {
        let bucket = match step.what {
            StepKind::AfterEach { .. } => Bucket::AfterEach,
            StepKind::EveryRounds(_) => Bucket::EveryRounds,
            StepKind::Interrupt { .. } => Bucket::Interrupt,
            StepKind::Penalty => Bucket::Penalty,
            _ => continue,
        };
        let is_item = |m: &usize| match steps[*m].what {
            StepKind::Item(_) => true,
            StepKind::Rest { .. } => bucket == Bucket::EveryRounds,
            _ => false,
        };
        let after: Vec<usize> =
            (n + 1..steps.len()).take_while(|&m| steps[m].line == step.line).filter(is_item).collect();
        let before: Option<usize> = (0..n).rev().take_while(|&m| steps[m].line == step.line).find(is_item);
        if !after.is_empty() {
            after.into_iter().for_each(|m| buckets[m] = bucket);
        } else if let Some(m) = before {
            buckets[m] = bucket;
        } else if let Some(next) = (n + 1..steps.len()).find(is_item)
            && (bucket != Bucket::EveryRounds || step.starts_line)
        {
            let line = steps[next].line;
            (next..steps.len()).take_while(|&m| steps[m].line == line).for_each(|m| buckets[m] = bucket);
        }
    }
    buckets
}
