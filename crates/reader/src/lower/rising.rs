//! Repetitions that rise from one minute or round to the next.

use std::collections::BTreeSet;

use crate::facts::{Facts, Item, Step, StepKind};
use crate::label::Label;
use lantern_session::movement::MovementId;
use lantern_session::{Amount, Dose, Node, Work};

pub(super) fn movement_of(node: &Node) -> Option<&MovementId> {
    match node {
        Node::Work(work) => Some(&work.movement),
        _ => None,
    }
}

/// Start and step of repetitions that rise line by line: "min 1 - 1, min 2 - 2".
pub(super) fn rising(nodes: &[Node], add: Option<u32>) -> (u32, u32) {
    // What rises is one movement; what stands beside it with another amount stays as it is.
    let amounts: Vec<f64> = nodes
        .iter()
        .filter(|node| movement_of(node) == nodes.first().and_then(movement_of))
        .filter_map(|node| match node {
            Node::Work(Work { dose: Dose { amount: Amount::Fixed { first, .. }, .. }, .. }) => Some(*first),
            _ => None,
        })
        .collect();
    let start = amounts.first().copied().unwrap_or(1.0) as u32;
    let step = match amounts[..] {
        [first, second, ..] if second > first => (second - first) as u32,
        _ => add.unwrap_or(1),
    };
    (start, add.unwrap_or(step))
}

/// "5 thrusters, 5 burpees" of every minute until it no longer fits: as written each time. One of something is where "death by" begins.
pub(super) fn stays_the_same(nodes: &[Node]) -> bool {
    let more = |node: &Node| matches!(node, Node::Work(work) if matches!(work.dose.amount, Amount::Fixed { first, .. } if first > 1.0));
    let movements: BTreeSet<&MovementId> = nodes.iter().filter_map(movement_of).collect();
    // Nothing comes twice.
    !nodes.is_empty() && nodes.iter().all(more) && movements.len() == nodes.len()
}

/// Start and step of "2 in minute one, 4 in minute two".
pub(super) fn rung_by_rung(in_minutes: &[(u32, u32)]) -> Option<(u32, u32)> {
    let &[(1, start), ..] = in_minutes else { return None };
    let next = in_minutes.iter().find(|(minute, _)| *minute == 2);
    Some((start, next.map_or(1, |(_, reps)| reps.saturating_sub(start).max(1))))
}

/// Marks the work that starts a rising round as scheme work, and tells its start.
pub(super) fn rising_start(nodes: &mut [Node]) -> u32 {
    let (start, _) = rising(nodes, Some(1));
    for node in nodes {
        if let Node::Work(work) = node
            && (work.dose.amount == Amount::Fixed { first: f64::from(start), second: None }
                || work.dose.amount == Amount::Open)
        {
            work.dose.amount = Amount::Scheme;
        }
    }
    start
}

/// "Minute 1: 1 thruster. Minute 2: 2 thrusters. And so on": the second is what the first becomes.
pub(super) fn rungs_that_are_told(facts: &mut Facts) {
    let Some(more) = facts.add_each.filter(|_| facts.until_failure) else { return };
    let first = facts.items().next().cloned();
    let Some((movement, (start, None))) = first.and_then(|item| Some((item.movement?, item.amount?))) else {
        return;
    };
    facts.steps.retain(|step| match (&step.what, step.label) {
        (StepKind::Item(item), Label::Minute(n) | Label::Number(n) | Label::Round(n)) if n > 1 => {
            let rung = start + f64::from(more * (n - 1));
            item.movement.as_ref() != Some(&movement) || item.amount != Some((rung, None))
        }
        _ => true,
    });
}

/// "3 wall walks, 6 snatches, 9 cal bike", and below the last such line "9 / 12 / 15": as many numbers as there is work, of which each has one more.
pub(super) fn rungs_in_numbers(facts: &mut Facts) {
    let Some(at) =
        facts.steps.iter().rposition(|step| matches!(step.what, StepKind::Scheme { open: None, .. }))
    else {
        return;
    };
    let StepKind::Scheme { reps, .. } = facts.steps[at].what.clone() else { return };
    let item = |step: &Step| match &step.what {
        StepKind::Item(item) => Some(item.clone()),
        _ => None,
    };
    let Some(line) = facts.steps[..at].iter().rev().find(|step| item(step).is_some()).map(|step| step.line)
    else {
        return;
    };
    let above: Vec<Step> =
        facts.steps[..at].iter().filter(|step| step.line == line && item(step).is_some()).cloned().collect();
    let numbered =
        |step: &Step| item(step).is_some_and(|item| item.amount.is_some_and(|(_, second)| second.is_none()));
    // A list of repetitions above work, or of a lift, is a scheme.
    let last = facts.steps[at].line > line && !facts.steps[at + 1..].iter().any(|step| item(step).is_some());
    let alone = !facts
        .steps
        .iter()
        .enumerate()
        .any(|(n, step)| n != at && matches!(step.what, StepKind::Scheme { .. } | StepKind::Rounds(_)));
    if !last || !alone || above.len() < 2 || above.len() != reps.len() || !above.iter().all(numbered) {
        return;
    }
    let place = facts.steps.remove(at);
    let rung = above.into_iter().zip(reps).map(|(mut step, n)| {
        if let StepKind::Item(item) = &mut step.what {
            item.amount = Some((f64::from(n), None));
        }
        Step { line: place.line, column: place.column, ..step }
    });
    facts.steps.splice(at..at, rung);
}

/// "12 min AMRAP: 3 push-ups, 3 squats, 6 push-ups, 6 squats, 9 ...": rungs that rise by as much each time go on for as long as there is time.
pub(super) fn rungs_one_by_one(facts: &mut Facts) {
    let open = facts.amrap.is_some() || facts.duration_s.is_some() && !facts.has_format();
    let items: Vec<&Item> = facts.items().collect();
    // "Ascending by 3" may stand above them.
    let told = |what: &StepKind| match what {
        StepKind::Scheme { open, .. } => *open,
        _ => None,
    };
    let others = facts
        .steps
        .iter()
        .any(|s| !matches!(s.what, StepKind::Item(_) | StepKind::Main) && told(&s.what).is_none());
    if !open || facts.for_time || items.is_empty() || others {
        return;
    }
    let Some(wide) = items.iter().skip(1).position(|item| item.movement == items[0].movement) else { return };
    let rungs: Vec<&[&Item]> = items.chunks(wide + 1).collect();
    let reps = |rung: &[&Item]| {
        let (reps, None) = rung[0].amount? else { return None };
        let alike = rung.iter().zip(rungs[0]).all(|(item, first)| {
            item.amount == rung[0].amount && item.movement == first.movement && item.unit.is_none()
        });
        (alike && rung.len() == wide + 1).then_some(reps as u32)
    };
    let Some(reps): Option<Vec<u32>> = rungs.iter().map(|rung| reps(rung)).collect() else { return };
    let [first, second, ..] = reps[..] else { return };
    let step = second.saturating_sub(first);
    let as_told = facts.steps.iter().filter_map(|s| told(&s.what)).all(|told| told == step);
    let rises = step > 0 && as_told && reps.windows(2).all(|pair| pair[0] + step == pair[1]);
    // Two rungs are enough where the first is the step.
    if !rises || reps.len() < 3 && first != step {
        return;
    }
    facts.steps.retain(|step| matches!(step.what, StepKind::Item(_)));
    facts.steps.truncate(wide + 1);
    for step in &mut facts.steps {
        if let StepKind::Item(item) = &mut step.what {
            item.amount = None;
        }
    }
    let ladder = Step { what: StepKind::Scheme { reps, open: Some(step) }, ..facts.steps[0].clone() };
    facts.steps.insert(0, ladder);
    facts.amrap.get_or_insert(facts.duration_s);
}

/// "2 thrusters, 2 pull-ups" and below them "4/4, 6/6, 8/8 and so on": what they become, and nothing else that is done.
pub(super) fn rungs_below_the_first(facts: &mut Facts) {
    let rungs =
        facts.steps.iter().position(|step| matches!(step.what, StepKind::Scheme { open: Some(_), .. }));
    let Some(at) = rungs.filter(|at| *at + 1 == facts.steps.len() && facts.add_each.is_none()) else {
        return;
    };
    let StepKind::Scheme { reps, open: Some(step) } = &facts.steps[at].what else { return };
    let (Some(second), step) = (reps.first().copied(), *step) else { return };
    let first = f64::from(second.saturating_sub(step));
    let begins = |item: &Item| item.amount == Some((first, None)) && item.sets.is_none();
    if first > 0.0 && facts.items().next().is_some() && facts.items().all(begins) {
        facts.add_each = Some(step);
        facts.steps.remove(at);
    }
}
