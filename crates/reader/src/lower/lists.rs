//! What a line lists: the topic above a list, doses that are of all that it names, and what is said twice.

use super::rewrites::SHORTEST_SECTION_S;
use crate::facts::{Facts, Item, Step, StepKind};
use crate::label::Label;
use lantern_session::PartKind;
use lantern_session::movement::{Catalogue, MovementId, Unit};

/// "Carry: 4 x 40 m farmer's walk": what is named without a number beside the same with one, in one line, is said twice.
pub(super) fn named_twice(facts: &mut Facts) {
    let item = |step: &Step| match &step.what {
        StepKind::Item(item) => Some((step.line, item.movement.clone()?, item.is_bare())),
        _ => None,
    };
    let said: Vec<_> = facts.steps.iter().map(item).collect();
    let beside = |at: usize, other: Option<usize>| {
        let (Some((line, movement, true)), Some(other)) = (&said[at], other) else { return false };
        let same =
            |(there, name, bare): &(usize, MovementId, bool)| there == line && name == movement && !bare;
        said.get(other).is_some_and(|other| other.as_ref().is_some_and(same))
    };
    let twice: Vec<bool> =
        (0..said.len()).map(|at| beside(at, at.checked_sub(1)) || beside(at, Some(at + 1))).collect();
    let mut twice = twice.into_iter();
    facts.steps.retain(|_| !twice.next().unwrap_or(false));
}

/// "30 clean and jerks: 10 at 40 kg, 10 at 50 kg, 10 at 60 kg": what stands in front is what they come to.
pub(super) fn total_of_its_loads(facts: &mut Facts) {
    fn item(step: &Step) -> Option<&Item> {
        if let StepKind::Item(item) = &step.what { Some(item) } else { None }
    }
    let whole = (0..facts.steps.len()).find(|at| {
        let Some(whole) = item(&facts.steps[*at]).filter(|item| item.load.is_none()) else { return false };
        let Some((total, None)) = whole.amount else { return false };
        let own =
            |item: &&Item| item.movement.as_ref().is_none_or(|name| whole.movement.as_ref() == Some(name));
        let loads = facts.steps[at + 1..].iter().map_while(item).take_while(own);
        let loads: Vec<&Item> =
            loads.take_while(|item| item.load.is_some() || item.bare_load.is_some()).collect();
        let sum: f64 = loads.iter().filter_map(|item| item.amount).map(|(amount, _)| amount).sum();
        loads.len() > 1 && sum == total && whole.bare_load.is_none()
    });
    // The ones without a name are of what stood in front.
    let Some(at) = whole else { return };
    let StepKind::Item(whole) = facts.steps.remove(at).what else { return };
    let nameless = facts.steps[at..].iter_mut().find_map(|step| match &mut step.what {
        StepKind::Item(item) => Some(item),
        _ => None,
    });
    if let Some(first) = nameless.filter(|item| item.movement.is_none()) {
        (first.movement, first.unit) = (whole.movement, whole.unit);
    }
}

/// "200 m shuttle (10 x 20 m)": how an amount comes about, told behind it.
pub(super) fn told_by_its_parts(facts: &mut Facts) {
    let told = facts.steps.windows(3).position(|steps| {
        let [one, rounds, other] = steps else { return false };
        let (StepKind::Item(whole), StepKind::Rounds(times), StepKind::Item(part)) =
            (&one.what, &rounds.what, &other.what)
        else {
            return false;
        };
        let (Some((amount, None)), Some((each, None)), None) = (whole.amount, part.amount, whole.sets) else {
            return false;
        };
        let same = part.movement.is_none() || part.movement == whole.movement;
        one.line == other.line && same && whole.unit == part.unit && each * f64::from(*times) == amount
    });
    if let Some(at) = told {
        facts.steps.drain(at + 1..at + 3);
    }
}

/// "2 x 5 deadlifts, muscle cleans, front squats": the sets in front of a list in one line are of all that it names.
pub(super) fn sets_of_a_list(facts: &mut Facts) {
    /// One more name may be of how it is done: "3 x 10 wall balls, full squat".
    const FEWEST: usize = 2;
    for at in 0..facts.steps.len() {
        let StepKind::Item(first) = &facts.steps[at].what else { continue };
        let timed = first.unit == Some(Unit::Seconds);
        if first.sets.is_none() && !timed || first.amount.is_none() {
            continue;
        }
        let (line, first) = (facts.steps[at].line, first.clone());
        let bare = |step: &&mut Step| match &step.what {
            StepKind::Item(item) => step.line == line && item.is_bare() && !item.alternative && !item.joined,
            _ => false,
        };
        let others = facts.steps[at + 1..].iter().take_while(|step| step.line == line).count();
        let mut named: Vec<&mut Step> = facts.steps[at + 1..].iter_mut().take_while(bare).collect();
        if named.len() < FEWEST || named.len() < others {
            continue;
        }
        for step in &mut named {
            if let StepKind::Item(item) = &mut step.what {
                (item.amount, item.unit) = (first.amount, first.unit);
                (item.sets, item.per_side) = (first.sets, first.per_side);
            }
        }
    }
}

/// "3x 9 squats, 7 push-ups, 6 rows": a number in front of a list in one line, each thing of it with its own, is how often all of it is done.
pub(super) fn rounds_of_a_list(facts: &mut Facts) {
    /// Behind one thing more its sets may be its own: "3 x 10 rows, 15 raises".
    const FEWEST: usize = 2;
    let [Step { what: StepKind::Item(first), line, .. }, ..] = &facts.steps[..] else { return };
    let own = |step: &Step| {
        let StepKind::Item(item) = &step.what else { return false };
        step.line == *line
            && item.sets.is_none()
            && item.movement.is_some()
            && (item.amount.is_some() || item.max)
            && !item.alternative
    };
    let (Some(times), others) = (first.sets, &facts.steps[1..]) else { return };
    if times < 2 || others.len() < FEWEST || !others.iter().all(own) || facts.superset {
        return;
    }
    let place = facts.steps[0].clone();
    if let StepKind::Item(item) = &mut facts.steps[0].what {
        item.sets = None;
    }
    facts.sets_reps.clear();
    facts.steps.insert(0, Step { what: StepKind::Rounds(times), ..place });
}

/// "7 x 12 push-ups every 80 s" in a piece: a set of twelve begins with each interval.
pub(super) fn sets_by_the_clock(facts: &mut Facts) {
    let Some((_, times, None)) = facts.every else { return };
    let sets: Vec<Option<u32>> = facts.items().map(|item| item.sets).collect();
    let Some(Some(first)) = sets.first().copied() else { return };
    if sets.iter().any(|sets| *sets != Some(first)) || times.is_some_and(|times| times != first) {
        return;
    }
    if let Some((_, times, _)) = &mut facts.every {
        *times = Some(first);
    }
    for step in &mut facts.steps {
        if let StepKind::Item(item) = &mut step.what {
            item.sets = None;
        }
    }
}

/// "Clean (18 min)" in a line of its own, and below it lifts with sets of their own in every line: what they are about.
pub(super) fn topic_of_lifts(facts: &mut Facts) {
    let [Step { what: StepKind::Item(topic), line, .. }, below @ ..] = &facts.steps[..] else { return };
    let sets = facts.sets.is_some();
    let with_sets = |step: &Step| matches!(&step.what, StepKind::Item(item) if (sets || item.sets.is_some()) && item.amount.is_some());
    let bare = topic.is_bare() && facts.duration_s.is_some() && !facts.superset;
    let own = !below.is_empty()
        && below.iter().all(|step| step.line > *line)
        && below.iter().all(|step| with_sets(step) || !matches!(step.what, StepKind::Item(_)))
        && below.iter().any(with_sets);
    if bare && own {
        facts.steps.remove(0);
    }
}

/// "1 burpees", "2 swings", "3 sit-ups", "4 bike" below a clock that goes from one to the next: the numbers count the lines. Says whether.
pub(super) fn lines_that_are_counted(facts: &mut Facts) -> bool {
    let bouts = facts.on_off.is_some() || facts.tabata || facts.station_s.is_some();
    if !bouts && facts.every.is_none() {
        return false;
    }
    let fewest = if bouts { 3 } else { 4 };
    let counted = |step: &Step, item: &Item, n: u32| {
        step.starts_line
            && step.label == Label::None
            && item.amount == Some((f64::from(n), None))
            && item.unit.is_none()
            && item.sets.is_none()
    };
    let items = facts.steps.iter().filter_map(|step| match &step.what {
        StepKind::Item(item) => Some((step, item)),
        _ => None,
    });
    let mut lines = 0;
    for (step, item) in items {
        lines += 1;
        if !counted(step, item, lines) {
            return false;
        }
    }
    if lines < fewest {
        return false;
    }
    let mut n = 0;
    for step in &mut facts.steps {
        if let StepKind::Item(item) = &mut step.what {
            n += 1;
            (item.amount, step.label) = (None, Label::Number(n));
        }
    }
    true
}

/// "3. Rings - 15 min" above a list of work of its own: the name only says what it is about, and how long.
pub(super) fn topic_of_a_list(facts: &mut Facts, catalogue: &Catalogue) {
    let minutes = |item: &Item| {
        let (seconds, _) = item.amount.filter(|_| item.unit == Some(Unit::Seconds) && item.sets.is_none())?;
        let counted = catalogue.get(item.movement.as_ref()?)?.unit == Unit::Reps;
        (counted && seconds >= f64::from(SHORTEST_SECTION_S)).then_some(seconds as u32)
    };
    let bare = |step: &Step| matches!(&step.what, StepKind::Item(item) if item.amount.is_none());
    if facts.kind == Some(PartKind::Skill)
        && let [Step { what: StepKind::Item(topic), .. }, rest @ ..] = &mut facts.steps[..]
        && rest.iter().all(bare)
        && let Some(length) = minutes(topic)
    {
        // "Skill: rope climbs for 12 minutes" is practice of that length.
        (topic.amount, topic.unit) = (None, None);
        facts.duration_s = facts.duration_s.or(Some(length));
        return;
    }
    let [Step { what: StepKind::Item(topic), line, .. }, rest @ ..] = &facts.steps[..] else { return };
    let counts = |item: &Item| !item.is_bare();
    let heads = matches!(facts.label, Some(Label::Part | Label::Letter(_, None)));
    let begins = rest.first().is_some_and(|step| step.line > *line && matches!(step.what, StepKind::Item(_)));
    let listed = rest.iter().any(|step| matches!(&step.what, StepKind::Item(item) if counts(item)));
    let length = topic.amount.filter(|_| topic.unit == Some(Unit::Seconds) && topic.sets.is_none());
    let length = length.map(|(seconds, _)| seconds as u32).filter(|seconds| *seconds >= SHORTEST_SECTION_S);
    if !heads {
        let items = rest.iter().filter(|step| matches!(step.what, StepKind::Item(_))).count();
        if facts.names_complex && items > 1 && !counts(topic) {
            facts.steps.remove(0);
            return;
        }
        // "Clean complex, 6 sets:" above the lifts that it is made of.
        let name = |item: &Item| item.movement.as_ref().map(|id| catalogue.name(id).to_lowercase());
        let known = name(topic).unwrap_or_default();
        let below: Vec<&Item> = rest
            .iter()
            .filter_map(|step| if let StepKind::Item(item) = &step.what { Some(item) } else { None })
            .collect();
        let of_it = |item: &&Item| name(item).is_some_and(|name| name.contains(&known));
        let (elements, named): (Vec<&Item>, Vec<&Item>) = below.iter().partition(|item| counts(item));
        // "Missed the hang clean?" names one of them again.
        let again = |item: &&Item| elements.iter().any(|element| element.movement == item.movement);
        let made_of_them = elements.len() > 1
            // "Handstands: 3 rounds of"
            && rest.iter().all(|step| step.line > *line || matches!(step.what, StepKind::Rounds(_)))
            && named.iter().all(again)
            && below.iter().any(of_it);
        if made_of_them && !counts(topic) {
            facts.steps.remove(0);
        }
        return;
    }
    if *line == facts.first_line && begins && listed && (!counts(topic) || length.is_some()) {
        facts.duration_s = facts.duration_s.or(length);
        facts.steps.remove(0);
    } else if let (Some(length), Some(PartKind::Skill)) = (length, facts.kind)
        && let StepKind::Item(topic) = &mut facts.steps[0].what
    {
        facts.duration_s = facts.duration_s.or(Some(length));
        (topic.amount, topic.unit) = (None, None);
    }
}
