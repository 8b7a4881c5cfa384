//! Rests that are told without their length, by the work, or for what comes next.

use super::groups::{Group, Grouped, Repeat};
use super::{LONG_REST_S, Shaper};
use crate::facts::{Facts, Item, Step, StepKind};
use lantern_session::movement::{Catalogue, Movement, Unit};
use lantern_session::units::clock_s;
use lantern_session::{Assumption, Node, Part, PartKind, Rest, RestAfter};

/// A rest of which nobody says how long it is is guessed in steps of so many seconds, up to the longest.
const REST_STEP_S: f64 = 15.0;
const LONGEST_OPEN_REST_S: f64 = 300.0;

/// What nobody does for its own sake between hard runs.
const WALK: &str = "walk";

/// "8 x 400 m, 90 s walk": minutes walked behind each of what is gone round at a pace are its rest.
pub(super) fn walked_between(facts: &mut Facts, catalogue: &Catalogue) {
    let gentle = matches!(facts.kind, Some(PartKind::Warmup | PartKind::Mobility));
    if gentle || facts.rest.is_some() || facts.rounds().is_none() || facts.has_format() {
        return;
    }
    let mut items = facts.items();
    let (Some(hard), Some(walk), None) = (items.next(), items.next(), items.next()) else { return };
    let engine = |item: &Item| {
        let movement = item.movement.as_ref().and_then(|id| catalogue.get(id));
        movement.is_some_and(Movement::is_engine)
            || item.movement.is_none() && item.unit == Some(Unit::Metres)
    };
    let walked = |item: &Item| item.movement.as_ref().is_some_and(|id| id.as_str() == WALK);
    let (true, true, Some((seconds, None)), Some(Unit::Seconds)) =
        (engine(hard) && !walked(hard), walked(walk), walk.amount, walk.unit)
    else {
        return;
    };
    drop(items);
    facts.rest = Some(Rest::of(seconds as u32, RestAfter::Each));
    for step in &mut facts.steps {
        if matches!(&step.what, StepKind::Item(item) if walked(item)) {
            step.what = StepKind::Rest { seconds: seconds as u32, after: Some(RestAfter::Each) };
        }
    }
}

impl Shaper<'_> {
    /// "Rest as needed", "rest 1:1" between rounds: as long as a regular member works in one, or so many times that; a guess, and said to be one.
    pub(super) fn rest_as_work(&mut self, facts: &Facts, grouped: &mut Grouped, part: &mut Part) {
        let Some(share) = facts.rest_share else { return };
        let clocked =
            facts.amrap.is_some() || facts.every.is_some() || facts.on_off.is_some() || facts.tabata;
        // In a piece for time everybody rests at will, and the time goes on; in a team while the others work.
        let at_will = share.is_none() && (facts.for_time || facts.cap_s.is_some());
        if clocked
            || at_will
            || facts.team.is_some()
            || facts.sharing.is_some()
            || !matches!(part.kind, PartKind::Conditioning | PartKind::Home)
        {
            return;
        }
        let repeats = |group: &&mut Group| {
            group.rest_s.is_none() && matches!(group.repeats[..], [Repeat::Rounds(n), ..] if n > 1)
        };
        let Some(group) = grouped.groups.iter_mut().find(repeats) else { return };
        let held = |node: &Node| match node {
            Node::Work(work) if work.dose.unit == Unit::Seconds => work.dose.first(),
            _ => None,
        };
        let known = share.is_some() && group.nodes.iter().all(|node| held(node).is_some());
        let work: f64 =
            group.nodes.iter().filter_map(|node| held(node).or_else(|| self.work_seconds(node))).sum();
        let rest = work * share.unwrap_or(1.0);
        let rest_s = if known {
            rest.round() as u32
        } else {
            ((rest / REST_STEP_S).round() * REST_STEP_S).min(LONGEST_OPEN_REST_S) as u32
        };
        if rest_s == 0 {
            return;
        }
        group.rest_s = Some(rest_s);
        part.rest = Some(Rest::of(rest_s, RestAfter::Each));
        if known {
            return;
        }
        let message = format!(
            "nobody says how long the rest is: {} is a guess, by how long the work takes a regular",
            clock_s(rest_s)
        );
        self.assumptions.push(Assumption { line: facts.last_line, column: 1, message });
    }
}

/// "5 x 3 min row, rest 1:1": as long as the work, or so many times that.
pub(super) fn rest_by_ratio(facts: &mut Facts) {
    if let (Some((_, work_s, rest_s @ 0)), Some(Some(share))) = (&mut facts.on_off, facts.rest_share) {
        *rest_s = (f64::from(*work_s) * share).round() as u32;
    }
}

/// Below a lift: told to be before the next part, or in a line of its own and long, or below a clock; between sets it would be told with them.
pub(super) fn rest_that_leads_on(facts: &Facts) -> Option<u32> {
    let Some(Step { what: StepKind::Rest { seconds, after }, line, .. }) = facts.steps.last() else {
        return None;
    };
    let alone = facts.steps.iter().filter(|step| step.line == *line).count() == 1;
    // "8:00-10:00 rest" is of the class, and not between sets.
    let between = *seconds < LONG_REST_S && facts.every.is_none() && !facts.window;
    let leads_on = after.is_none() && alone && !between && facts.steps.len() > 1;
    (*after == Some(RestAfter::All) || leads_on).then_some(*seconds)
}

/// The rest of a part that holds nothing else: it stands between two others.
pub(super) fn rest_alone(facts: &Facts) -> Option<u32> {
    let mut steps = facts.steps.iter().map(|step| &step.what).filter(|what| !matches!(what, StepKind::Then));
    match (steps.next(), steps.next()) {
        (Some(StepKind::Rest { seconds, after: None | Some(RestAfter::All) }), None) => Some(*seconds),
        _ => None,
    }
}
