//! From a collected draft to a part with its tree.

use std::collections::HashMap;

use super::clause::TargetOf;
use super::draft::{Draft, Step, StepKind};
use super::label::Label;
use super::line::Item;
use super::problem::{Assumption, Problem};
use crate::movement::{Catalogue, LoadKind, Movement, MovementId, Pattern, Unit};
use crate::session::{
    Amount, Dose, Format, Intent, Load, LoadUnit, Node, Part, PartKind, Rest, RestAfter, Score, Sharing,
    Target, Work,
};
use crate::units::WeightUnit;

/// Seconds of work and rest, and rounds, of the classic short interval; Tabata et al. 1996.
const TABATA: (u32, u32, u32) = (20, 10, 8);
/// Bar weights that only pound plates make; a bare number among them is read as pounds.
const POUND_LOADS: [f64; 16] = [
    95.0, 105.0, 115.0, 135.0, 155.0, 165.0, 185.0, 205.0, 225.0, 245.0, 275.0, 295.0, 315.0, 335.0, 365.0,
    405.0,
];
/// Below this a bare number beside a machine counts calories, from it on metres.
const METRES_FROM: f64 = 100.0;
/// A cycle leaves this share of its interval for rest when its movements all fit in one interval.
const INTERVAL_SHARE: f64 = 0.9;

/// Turns drafts into parts; remembers the unit of the day and what it took for granted.
pub(super) struct Shaper<'c> {
    catalogue: &'c Catalogue,
    unit: Option<WeightUnit>,
    pub problems: Vec<Problem>,
    pub assumptions: Vec<Assumption>,
}

/// The work of an item that stands by itself, such as an alternative.
pub(super) fn work_of(item: &Item, catalogue: &Catalogue) -> Option<Work> {
    let movement = catalogue.get(item.movement.as_ref()?)?;
    Some(Work { load: item.load, ..Work::new(movement.id.clone(), dose_of(item, movement)) })
}

fn dose_of(item: &Item, movement: &Movement) -> Dose {
    let amount = match (item.max, item.amount) {
        (true, _) => Amount::Max,
        (false, Some((first, second))) => Amount::Fixed { first, second },
        (false, None) => Amount::Open,
    };
    let number = item.amount.map_or(0.0, |(first, _)| first);
    let unit = item.unit.unwrap_or(match movement.unit {
        Unit::Calories if number >= METRES_FROM && movement.metre_pace.is_some() => Unit::Metres,
        unit => unit,
    });
    Dose { amount, unit, per_side: item.per_side }
}

/// Work that repeats together, in the order in which it is done.
#[derive(Default)]
struct Group {
    repeats: Vec<Repeat>,
    rest_s: Option<u32>,
    nodes: Vec<Node>,
    after_each: Vec<Node>,
    first_line: usize,
    /// Buy-in, cash-out or work after the rounds: done once.
    once: bool,
}

enum Repeat {
    Rounds(u32),
    Scheme(Vec<u32>),
    Ladder(u32, u32),
}

/// The groups of a draft and the work that cuts into them.
struct Grouped {
    groups: Vec<Group>,
    interrupt: Option<(u32, u32, Vec<Node>)>,
    penalty: Option<Vec<Node>>,
}

#[derive(Clone, Copy, PartialEq, Eq)]
enum Bucket {
    Main,
    AfterEach,
    Interrupt,
    Penalty,
}

impl<'c> Shaper<'c> {
    pub fn new(catalogue: &'c Catalogue, drafts: &[Draft]) -> Self {
        let loads = drafts.iter().flat_map(|draft| {
            let range = draft.strength.load_range.and_then(|(_, _, unit)| unit.weight());
            let common = draft.common_load.and_then(|load| load.unit.weight());
            draft
                .items()
                .filter_map(|item| item.load.and_then(|load| load.unit.weight()))
                .chain(common)
                .chain(range)
        });
        let unit = loads.into_iter().next();
        Self { catalogue, unit, problems: Vec::new(), assumptions: Vec::new() }
    }

    pub fn unit(&self) -> Option<WeightUnit> {
        self.unit
    }

    /// The part of a draft, or none when it holds no work at all. `section` is the kind of the last heading.
    pub fn shape(&mut self, mut draft: Draft, section: Option<PartKind>) -> Option<Part> {
        self.resolve(&mut draft);
        if !draft.has_items() {
            return None;
        }
        let kind = self.kind(&draft, section);
        let strength_like = matches!(kind, PartKind::Strength)
            || (kind == PartKind::Home && draft.has_prescription() && !draft.has_format());
        let mut part = Part {
            kind,
            heading: draft.heading.clone(),
            lines: (draft.first_line, draft.last_line),
            format: None,
            tree: Node::Seq { of: Vec::new() },
            cap_s: draft.cap_s,
            duration_s: draft.duration_s,
            rounds: None,
            interval_s: None,
            work_s: None,
            rest: draft.rest,
            team_size: draft.team.unwrap_or(if draft.sharing.is_some() { 2 } else { 1 }),
            strength: draft.strength.clone(),
            target: None,
            score: draft.score,
            intents: draft.intents.clone(),
            alternatives: draft.alternatives.clone(),
        };
        if strength_like {
            self.shape_strength(&draft, &mut part);
        } else {
            self.shape_piece(&draft, &mut part);
        }
        self.shape_target(&draft, &mut part);
        Some(part)
    }

    // --- items ------------------------------------------------------------------------------------

    /// Gives every item its movement, its load's unit, and the load that "same bar" points at.
    fn resolve(&mut self, draft: &mut Draft) {
        let heavy_work = draft.has_prescription() && !draft.has_format();
        let prescribed = !draft.strength.percent.is_empty() || (heavy_work && draft.strength.rm.is_some());
        let common = (draft.common_load, draft.common_bare_load);
        let mut last_movement: Option<MovementId> = None;
        let mut last_load: Option<Load> = None;
        let mut kept = Vec::new();
        for mut step in std::mem::take(&mut draft.steps) {
            if let StepKind::Item(item) = &mut step.what {
                if item.movement.is_none() {
                    item.movement.clone_from(&last_movement);
                }
                let Some(id) = item.movement.clone() else {
                    let message = "a number without a movement; name what is to be done".to_owned();
                    if item.load.is_some() || item.max {
                        self.problems.push(Problem::error(step.line, step.column, message));
                    }
                    continue;
                };
                self.settle_movement(item, &id, prescribed, &step.line, step.column);
                self.settle_load(item, common, last_load, step.line, step.column);
                if let Some(load) = item.load.filter(|load| load.unit.weight().is_some()) {
                    last_load = Some(load);
                }
                last_movement.clone_from(&item.movement);
            }
            kept.push(step);
        }
        draft.steps = kept;
        self.alternatives_aside(draft);
    }

    /// Shorthand of several meanings resolves by what stands beside it, and says so.
    fn settle_movement(
        &mut self,
        item: &mut Item,
        id: &MovementId,
        prescribed: bool,
        line: &usize,
        column: usize,
    ) {
        let weight = item.load.filter(|load| load.unit.weight().is_some());
        let better = match id.as_str() {
            "air-squat" if item.generic && (prescribed || weight.is_some()) => Some("back-squat"),
            "row" if item.generic && item.unit.is_none() && weight.is_some() => Some("bent-over-row"),
            "box-step-up" if weight.is_some() => Some("weighted-box-step-up"),
            "box-step-over" if weight.is_some() => Some("dumbbell-box-step-over"),
            _ => None,
        };
        let dumbbells = || {
            let pair =
                item.load.or_else(|| item.bare_load.map(|(first, _)| Load::single(first, LoadUnit::Kg)));
            let two = item.load.is_some_and(|load| load.implements == 2) && pair.is_some();
            let bar = self.catalogue.get(id).is_some_and(Movement::is_barbell);
            let name = format!("dumbbell-{id}");
            (two && bar && self.catalogue.find(&name).is_some()).then_some(name)
        };
        let Some(better) = better.map(str::to_owned).or_else(dumbbells) else { return };
        if let (Some(from), Some(to)) = (self.catalogue.get(id), self.catalogue.find(&better)) {
            let message = format!(
                "read `{}` as {} because of the load beside it",
                from.name.to_lowercase(),
                to.name.to_lowercase()
            );
            self.assumptions.push(Assumption { line: *line, column, message });
            item.movement = Some(to.id.clone());
        }
    }

    fn settle_load(
        &mut self,
        item: &mut Item,
        common: (Option<Load>, Option<(f64, Option<f64>)>),
        last_load: Option<Load>,
        line: usize,
        column: usize,
    ) {
        let Some(movement) = item.movement.as_ref().and_then(|id| self.catalogue.get(id)) else { return };
        let wants_height = movement.load_kind == LoadKind::BoxHeight;
        let weighs = movement.takes_weight();
        if item.same_load && item.load.is_none() {
            item.load = last_load;
        }
        if item.load.is_none() && weighs && movement.load_kind != LoadKind::Vest {
            item.load = common.0.filter(|load| load.unit.weight().is_some() && movement.is_barbell());
            if item.bare_load.is_none() && movement.is_barbell() {
                item.bare_load = common.1;
            }
        }
        if let (None, Some((first, second))) = (item.load, item.bare_load) {
            let unit = self.unit_of_bare(first, movement, last_load);
            let known = last_load.is_some_and(|load| load.unit == unit)
                || self.unit.map(LoadUnit::from) == Some(unit);
            if !known {
                let message = format!("no unit beside {first}: read as {}", unit.name());
                self.assumptions.push(Assumption { line, column, message });
                self.unit = self.unit.or(unit.weight());
            }
            item.load = Some(Load { first, second, unit, implements: 1 });
        }
        // A height beside a weighted movement says where to step or throw, not what to carry.
        if item.load.is_some_and(|load| load.unit.weight().is_none() != wants_height)
            && !(weighs || wants_height)
        {
            let carried = item.load.filter(|load| load.unit.weight().is_some());
            item.load = carried;
        } else if item.load.is_some_and(|load| load.unit.weight().is_none()) && !wants_height {
            item.load = None;
        }
    }

    fn unit_of_bare(&self, first: f64, movement: &Movement, last_load: Option<Load>) -> LoadUnit {
        if movement.load_kind == LoadKind::BoxHeight {
            return if first <= 36.0 { LoadUnit::In } else { LoadUnit::Cm };
        }
        if let Some(unit) = last_load.map(|load| load.unit).filter(|unit| unit.weight().is_some()) {
            return unit;
        }
        match self.unit {
            Some(unit) => unit.into(),
            None if movement.is_barbell() && POUND_LOADS.contains(&first) => LoadUnit::Lb,
            None => LoadUnit::Kg,
        }
    }

    /// Items after "or" become alternatives of the part.
    fn alternatives_aside(&self, draft: &mut Draft) {
        let (aside, kept): (Vec<Step>, Vec<Step>) = std::mem::take(&mut draft.steps)
            .into_iter()
            .partition(|step| matches!(&step.what, StepKind::Item(item) if item.alternative));
        draft.steps = kept;
        for step in aside {
            let StepKind::Item(item) = &step.what else { continue };
            let Some(work) = work_of(item, self.catalogue) else { continue };
            let text = format!("or {}", crate::print::work_text(&work, self.catalogue));
            draft.alternatives.push(crate::session::Alternative { line: step.line, text, work: vec![work] });
        }
    }

    fn work(&self, item: &Item) -> Option<Work> {
        work_of(item, self.catalogue)
    }

    // --- kind and format ----------------------------------------------------------------------------

    fn kind(&self, draft: &Draft, section: Option<PartKind>) -> PartKind {
        let movements = || draft.items().filter_map(|item| self.catalogue.get(item.movement.as_ref()?));
        let has_bar = movements().any(|m| m.load_kind == LoadKind::Barbell);
        let max_sets = draft.sets.is_some() && draft.items().any(|item| item.max) && !draft.has_format();
        let every_lift = draft.every.is_some()
            && !draft.until_failure
            && draft.amrap.is_none()
            && movements().all(|m| m.load_kind == LoadKind::Barbell)
            && (!draft.strength.percent.is_empty() || draft.strength.rpe.is_some());
        let plain_format = draft.amrap.is_some()
            || draft.for_time
            || draft.tabata
            || draft.on_off.is_some()
            || draft.quality
            || draft.until_failure
            || (draft.every.is_some() && !every_lift);
        let lift = every_lift
            || draft.strength.rm.is_some()
            || !draft.strength.percent.is_empty()
            || draft.strength.rpe.is_some()
            || draft.strength.tempo.is_some()
            || draft.strength.week.is_some()
            || max_sets
            || (has_bar && (!draft.sets_reps.is_empty() || draft.sets.is_some()))
            || (!draft.sets_reps.is_empty() && movements().any(|m| m.takes_weight()));
        match draft.kind.or(section) {
            Some(PartKind::Strength) if plain_format && !lift => PartKind::Conditioning,
            Some(PartKind::Strength) if draft.kind.is_none() && plain_format => PartKind::Conditioning,
            Some(PartKind::Conditioning) if lift && !plain_format && draft.cap_s.is_none() => {
                PartKind::Strength
            }
            Some(kind) if draft.kind.is_some() => kind,
            Some(PartKind::Home) => PartKind::Home,
            Some(kind @ (PartKind::Strength | PartKind::Conditioning)) if !(plain_format || lift) => kind,
            Some(kind @ (PartKind::Accessory | PartKind::Skill | PartKind::Mobility))
                if !plain_format && !lift =>
            {
                kind
            }
            _ if lift && !plain_format => PartKind::Strength,
            _ if movements().all(|m| matches!(m.pattern, Pattern::Mobility | Pattern::Prep)) => {
                PartKind::Mobility
            }
            _ => PartKind::Conditioning,
        }
    }

    fn format(&self, draft: &Draft, grouped: &Grouped, kind: PartKind) -> Option<Format> {
        let rounds =
            grouped.groups.iter().any(|g| g.repeats.iter().any(|r| matches!(r, Repeat::Rounds(n) if *n > 1)));
        let rest_between = grouped.groups.iter().any(|g| g.rest_s.is_some());
        let has_scheme =
            grouped.groups.iter().any(|g| g.repeats.iter().any(|r| !matches!(r, Repeat::Rounds(_))));
        let tabata =
            draft.tabata || draft.on_off.is_some_and(|(_, work, rest)| (work, rest) == (TABATA.0, TABATA.1));
        let times_out = draft.remaining
            || matches!(draft.score, Some(Score::RoundsReps | Score::Reps))
            || draft.sharing == Some(Sharing::Rounds)
            || matches!(draft.target, Some((_, _, TargetOf::Rounds)));
        if draft.until_failure && (draft.every.is_some() || draft.add_each.is_some()) {
            Some(Format::UntilFailure)
        } else if tabata {
            Some(Format::Tabata)
        } else if draft.on_off.is_some() {
            Some(Format::Intervals)
        } else if draft.amrap.is_some() {
            Some(Format::Amrap)
        } else if draft.every.is_some() {
            Some(Format::Every)
        } else if draft.quality {
            Some(Format::Quality)
        } else if rounds && rest_between && kind == PartKind::Conditioning {
            Some(Format::Intervals)
        } else if draft.for_time {
            Some(Format::ForTime)
        } else if draft.duration_s.is_some() && times_out {
            Some(Format::Amrap)
        } else if !matches!(kind, PartKind::Conditioning | PartKind::Home) {
            None
        } else {
            let limited = draft.cap_s.is_some() || draft.target.is_some() || grouped.interrupt.is_some();
            let counted = has_scheme || (rounds && draft.duration_s.is_none());
            (limited || counted).then_some(Format::ForTime)
        }
    }

    // --- conditioning, warm-ups and lists ---------------------------------------------------------------

    fn shape_piece(&mut self, draft: &Draft, part: &mut Part) {
        let grouped = self.group(draft, part.kind);
        part.format = self.format(draft, &grouped, part.kind);
        let counted: Vec<u32> = grouped
            .groups
            .iter()
            .filter_map(|group| match group.repeats.first() {
                Some(Repeat::Rounds(n)) => Some(*n),
                _ => None,
            })
            .collect();
        part.rounds = if let [only] = counted[..] { Some(only) } else { None };
        if matches!(
            part.kind,
            PartKind::Accessory | PartKind::Warmup | PartKind::Mobility | PartKind::Skill | PartKind::Home
        ) {
            let first_sets = draft.items().find_map(|item| item.sets).map(|(sets, _)| sets);
            part.strength.sets = draft.sets.or(first_sets);
        }
        part.strength.percent.clone_from(&draft.strength.percent);
        let tree = match part.format {
            Some(Format::Amrap) => self.amrap(draft, grouped, part),
            Some(Format::Tabata | Format::Intervals) if draft.on_off.is_some() || draft.tabata => {
                self.on_off(draft, grouped, part)
            }
            Some(Format::Every | Format::UntilFailure) => self.every(draft, grouped, part),
            _ => {
                let tree = wrap(grouped, Node::seq);
                match (part.duration_s, part.format) {
                    (Some(seconds), None) if part.kind == PartKind::Conditioning => {
                        Node::Within { seconds, of: Box::new(tree) }
                    }
                    _ => tree,
                }
            }
        };
        let bouts = matches!(part.format, Some(Format::Tabata | Format::Intervals));
        if !bouts && part.rest.is_some_and(|r| r.after == RestAfter::Here) {
            // A rest at one place is a step of the work, or leads to the next part; it is not the rest of
            // the piece.
            part.rest = None;
        }
        let size = part.team_size;
        part.tree = if size > 1 {
            let sharing = draft.sharing.unwrap_or(Sharing::Freely);
            Node::Together { size, sharing, of: Box::new(tree) }
        } else {
            tree
        };
        part.score = part.score.or(match part.format {
            Some(Format::ForTime) => Some(Score::Time),
            Some(Format::Amrap) if self.counts_reps(draft) => Some(Score::Reps),
            Some(Format::Amrap | Format::UntilFailure) => Some(Score::RoundsReps),
            Some(Format::Quality) => Some(Score::None),
            _ => None,
        });
    }

    /// Whether an AMRAP without a written score is counted in repetitions: ladders and open last work.
    fn counts_reps(&self, draft: &Draft) -> bool {
        draft.items().any(|item| item.max)
            || draft.steps.iter().any(|step| matches!(step.what, StepKind::Scheme { open: Some(_), .. }))
    }

    fn group(&mut self, draft: &Draft, kind: PartKind) -> Grouped {
        let mut grouped = Grouped { groups: vec![Group::default()], interrupt: None, penalty: None };
        let buckets = buckets(&draft.steps);
        let fixed_scheme = |group: &Group| group.repeats.iter().any(|r| !matches!(r, Repeat::Rounds(_)));
        let list_rounds = draft.sets.filter(|_| !matches!(kind, PartKind::Strength));
        let timed = draft.on_off.is_some() || draft.tabata;
        for (n, step) in draft.steps.iter().enumerate() {
            let current = grouped.groups.last_mut().expect("there is always one group");
            match &step.what {
                StepKind::Item(item) => {
                    let Some(mut work) = self.work(item) else { continue };
                    if work.dose.amount == Amount::Open {
                        if fixed_scheme(current) || draft.add_each.is_some() && draft.until_failure {
                            work.dose.amount = Amount::Scheme;
                        } else if timed {
                            work.dose.amount = Amount::Max;
                        }
                    }
                    let sets = item.sets.map(|(sets, _)| sets).filter(|_| draft.sets.is_none());
                    let node = match sets {
                        Some(sets) => {
                            Node::Rounds { times: Some(sets), rest_s: None, of: Box::new(Node::Work(work)) }
                        }
                        None => Node::Work(work),
                    };
                    match buckets[n] {
                        Bucket::Main => current.nodes.push(node),
                        Bucket::AfterEach => current.after_each.push(node),
                        Bucket::Interrupt => {
                            if let Some((_, _, nodes)) = &mut grouped.interrupt {
                                nodes.push(node);
                            }
                        }
                        Bucket::Penalty => grouped.penalty.get_or_insert_default().push(node),
                    }
                }
                StepKind::Rounds(times) => {
                    let trailing = !draft.steps[n + 1..].iter().any(|s| matches!(s.what, StepKind::Item(_)));
                    let ignored = trailing && (draft.every.is_some() || !current.repeats.is_empty());
                    if ignored {
                        continue;
                    }
                    let same_line_after = current.first_line == step.line && !current.nodes.is_empty();
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
                    if again {
                        continue;
                    }
                    let beside_item = current.nodes.len() == 1 && current.first_line == step.line;
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
                    let repeated = !current.repeats.is_empty() && !current.once;
                    let closes = draft.steps[n + 1..]
                        .iter()
                        .all(|s| !matches!(s.what, StepKind::Item(_) | StepKind::Rest { .. }));
                    match after {
                        Some(RestAfter::Each) => current.rest_s = current.rest_s.or(Some(*seconds)),
                        _ if repeated
                            && (closes || next_group_follows(&draft.steps[n + 1..]))
                            && draft.on_off.is_none() =>
                        {
                            current.rest_s = current.rest_s.or(Some(*seconds));
                        }
                        _ if repeated && current.nodes.is_empty() => {
                            current.rest_s = current.rest_s.or(Some(*seconds))
                        }
                        // A rest after the last work of the part leads to the next part.
                        _ if closes && draft.on_off.is_none() => {}
                        _ => current.nodes.push(Node::Rest { seconds: Some(*seconds) }),
                    }
                }
                StepKind::RestOpen => {
                    let station = step.starts_line
                        && matches!(
                            step.label,
                            Label::Number(_)
                                | Label::Minute(_)
                                | Label::Bullet
                                | Label::Letter(..)
                                | Label::Odd(_)
                        );
                    if station && draft.every.is_some() {
                        current.nodes.push(Node::Rest { seconds: None });
                    }
                }
                StepKind::BuyIn => {
                    current.once = true;
                    if !current.nodes.is_empty() {
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
                    let leads_on = draft.steps[n + 1..].iter().take_while(|s| s.line == step.line).any(|s| {
                        match &s.what {
                            StepKind::Item(item) => item.max,
                            StepKind::Rounds(_) | StepKind::Scheme { .. } => true,
                            _ => false,
                        }
                    });
                    if rounds_open
                        && !leads_on
                        && draft.amrap.is_none()
                        && draft.every.is_none()
                        && draft.on_off.is_none()
                        && current.first_line != step.line
                    {
                        grouped.groups.push(Group { once: true, ..Group::default() });
                    } else if current.once && !current.nodes.is_empty() {
                        grouped.groups.push(Group::default());
                    }
                }
                StepKind::Interrupt { every_s, from_s } => {
                    grouped.interrupt.get_or_insert((*every_s, *from_s, Vec::new()));
                }
                StepKind::Penalty => {
                    grouped.penalty.get_or_insert_default();
                }
                StepKind::AfterEach => {}
            }
            if let Some(group) = grouped.groups.last_mut()
                && group.first_line == 0
            {
                group.first_line = step.line;
            }
        }
        // "every minute: 5 burpees" inside a piece for time cuts into it.
        if let (None, Some((every_s, None, None)), true) =
            (&grouped.interrupt, draft.every, draft.for_time || draft.cap_s.is_some())
            && !draft.until_failure
            && let Some(last) = grouped
                .groups
                .last_mut()
                .filter(|group| group.nodes.len() > 1)
                .and_then(|group| group.nodes.pop())
        {
            grouped.interrupt = Some((every_s, every_s, vec![last]));
        }
        grouped.groups.retain(|group| !group.nodes.is_empty() || !group.after_each.is_empty());
        if let Some(rounds) = list_rounds {
            for group in grouped.groups.iter_mut().filter(|group| group.repeats.is_empty() && !group.once) {
                group.repeats.push(Repeat::Rounds(rounds));
            }
        }
        grouped.interrupt = grouped.interrupt.filter(|(_, _, nodes)| !nodes.is_empty());
        grouped.penalty = grouped.penalty.filter(|nodes| !nodes.is_empty());
        grouped
    }

    fn amrap(&mut self, draft: &Draft, mut grouped: Grouped, part: &mut Part) -> Node {
        let seconds = draft.amrap.flatten().or(draft.duration_s);
        part.duration_s = seconds;
        if let Some(step) = draft.add_each {
            for group in grouped.groups.iter_mut().filter(|group| !group.once && group.repeats.is_empty()) {
                let start = rising_start(&mut group.nodes);
                group.repeats.push(Repeat::Ladder(start, step));
            }
        }
        let mut seq = Vec::new();
        let interrupt = grouped.interrupt.take();
        let penalty = grouped.penalty.take();
        for group in grouped.groups {
            let open_end = group
                .nodes
                .iter()
                .any(|node| matches!(node, Node::Work(work) if work.dose.amount == Amount::Max));
            let endless = group.repeats.is_empty() && !group.once && !open_end;
            let ladder = group.repeats.iter().any(|repeat| matches!(repeat, Repeat::Ladder(..)));
            if endless {
                let of = Box::new(Node::seq(group.nodes));
                seq.push(Node::Rounds { times: None, rest_s: None, of });
            } else if ladder {
                let (start, step) = group
                    .repeats
                    .iter()
                    .find_map(|repeat| if let Repeat::Ladder(a, b) = repeat { Some((*a, *b)) } else { None })
                    .unwrap_or((1, 1));
                let mut nodes = group.nodes;
                nodes.extend(group.after_each);
                seq.push(Node::Ladder { start, step, of: Box::new(Node::seq(nodes)) });
            } else {
                seq.push(group.node());
            }
        }
        let of = interrupted(Node::seq(seq), interrupt, penalty);
        Node::Within { seconds: seconds.unwrap_or(0), of: Box::new(of) }
    }

    fn on_off(&mut self, draft: &Draft, grouped: Grouped, part: &mut Part) -> Node {
        let (times, work_s, rest_s) = draft.on_off.unwrap_or((None, TABATA.0, TABATA.1));
        let rounds = grouped.groups.iter().find_map(|g| match g.repeats.first() {
            Some(Repeat::Rounds(n)) => Some(*n),
            _ => None,
        });
        part.work_s = Some(work_s);
        let long_rest = part.rest.filter(|rest| rest.low_s != rest_s).map(|rest| rest.low_s);
        part.rest = Some(Rest::of(rest_s, RestAfter::Each));
        let nodes: Vec<Node> = grouped
            .groups
            .into_iter()
            .flat_map(|group| group.nodes)
            .filter(|node| matches!(node, Node::Work(_)))
            .collect();
        let window = |of: Node| Node::Within { seconds: work_s, of: Box::new(of) };
        let open = |node: &Node| matches!(node, Node::Work(work) if work.dose.amount == Amount::Max);
        if part.format == Some(Format::Tabata) {
            let count = times.or(rounds).unwrap_or(TABATA.2);
            part.rounds = Some(count);
            let mut seq = Vec::new();
            for (n, node) in nodes.into_iter().enumerate() {
                if n > 0
                    && let Some(seconds) = long_rest
                {
                    seq.push(Node::Rest { seconds: Some(seconds) });
                }
                seq.push(Node::Rounds {
                    times: Some(count),
                    rest_s: Some(rest_s),
                    of: Box::new(window(node)),
                });
            }
            return Node::seq(seq);
        }
        let stations = nodes.len() > 1 && nodes.iter().all(open);
        let count = times.or(rounds);
        part.rounds = part.rounds.or(count);
        if stations {
            let mut round: Vec<Node> = Vec::new();
            for node in nodes {
                round.push(window(node));
                round.push(Node::Rest { seconds: Some(rest_s) });
            }
            let rounds = rounds.or(times).unwrap_or(1);
            part.rounds = Some(rounds);
            part.score = part.score.or(Some(Score::Reps));
            return Node::Rounds { times: Some(rounds), rest_s: long_rest, of: Box::new(Node::seq(round)) };
        }
        let of = Box::new(window(Node::seq(nodes)));
        Node::Rounds { times: Some(count.unwrap_or(1)), rest_s: Some(rest_s), of }
    }

    fn every(&mut self, draft: &Draft, mut grouped: Grouped, part: &mut Part) -> Node {
        let (interval_s, times, total_s) = draft.every.unwrap_or((60, None, None));
        part.interval_s = Some(interval_s);
        let interrupt = grouped.interrupt.take();
        let rounds = grouped.groups.iter().find_map(|g| match g.repeats.first() {
            Some(Repeat::Rounds(n)) => Some(*n),
            _ => None,
        });
        let ladder = grouped.groups.iter().find_map(|g| match g.repeats.first() {
            Some(Repeat::Ladder(a, b)) => Some((*a, *b)),
            _ => None,
        });
        let scheme = grouped.groups.iter().find_map(|g| match g.repeats.first() {
            Some(Repeat::Scheme(reps)) => Some(reps.clone()),
            _ => None,
        });
        let mut nodes: Vec<Node> = grouped.groups.into_iter().flat_map(|group| group.nodes).collect();
        if part.format == Some(Format::UntilFailure) {
            let (start, step) = ladder.unwrap_or_else(|| rising(&nodes, draft.add_each));
            if let Some(first) = nodes.first().cloned() {
                let same = nodes.iter().all(|node| movement_of(node) == movement_of(&first));
                if same {
                    nodes.truncate(1);
                }
            }
            for node in &mut nodes {
                if let Node::Work(work) = node
                    && (ladder.is_some()
                        || matches!(work.dose.amount, Amount::Fixed { first, .. } if first == f64::from(start))
                        || work.dose.amount == Amount::Open)
                {
                    work.dose.amount = Amount::Scheme;
                }
            }
            part.rounds = None;
            let of = vec![Node::Ladder { start, step, of: Box::new(Node::seq(nodes)) }];
            return Node::Every { interval_s, times: None, alternate: false, of };
        }
        let alternate = self.alternates(draft, &nodes, interval_s);
        let stations = nodes.len() as u32;
        let length = total_s
            .or(part.duration_s.filter(|s| *s > interval_s))
            .or(part.cap_s.filter(|s| *s > interval_s && times.is_none()));
        let times = times
            .or(length.map(|total| total / interval_s.max(1)))
            .or(rounds.map(|n| if alternate { n * stations } else { n }))
            .or(draft.sets)
            .or(scheme.as_ref().map(|reps| reps.len() as u32));
        if total_s.is_none() && draft.duration_s.is_none() && !alternate {
            part.rounds = part.rounds.or(times);
        }
        part.duration_s = times.map(|n| n * interval_s).or(length);
        if part.cap_s == part.duration_s {
            part.cap_s = None;
        }
        if let (Some(step), false) = (draft.add_each, alternate) {
            let start = rising_start(&mut nodes);
            let of = vec![Node::Ladder { start, step, of: Box::new(Node::seq(nodes)) }];
            return Node::Every { interval_s, times, alternate: false, of };
        }
        let of = if alternate { nodes } else { vec![Node::seq(nodes)] };
        interrupted(Node::Every { interval_s, times, alternate, of }, interrupt, None)
    }

    /// Whether the entries take turns: numbered stations, odd and even minutes, or a list that cannot
    /// fit one interval together.
    fn alternates(&mut self, draft: &Draft, nodes: &[Node], interval_s: u32) -> bool {
        if nodes.len() < 2 {
            return false;
        }
        let lines: Vec<usize> =
            draft.steps.iter().filter(|s| matches!(s.what, StepKind::Item(_))).map(|s| s.line).collect();
        let labels: Vec<&Label> = draft
            .steps
            .iter()
            .filter(|step| matches!(step.what, StepKind::Item(_) | StepKind::RestOpen) && step.starts_line)
            .map(|step| &step.label)
            .collect();
        if nodes.iter().any(|node| matches!(node, Node::Rest { seconds: None })) {
            return true;
        }
        let numbered = labels
            .iter()
            .filter(|label| {
                matches!(label, Label::Number(_) | Label::Minute(_) | Label::Odd(_) | Label::Letter(..))
            })
            .count();
        if numbered >= 2 && numbered == nodes.len() && interval_s <= 150 {
            return true;
        }
        let one_a_line = lines.windows(2).all(|pair| pair[0] != pair[1]);
        let joined = draft.items().any(|item| item.joined);
        let seconds: f64 = nodes.iter().filter_map(|node| self.work_seconds(node)).sum();
        let too_much = seconds > f64::from(interval_s) * INTERVAL_SHARE;
        if interval_s <= 60 && one_a_line && !joined && too_much {
            if let Some(step) = draft.steps.iter().find(|step| matches!(step.what, StepKind::Item(_))) {
                let message = format!(
                    "about {seconds:.0} s of work does not fit {interval_s} s: read as one movement each interval, in turn"
                );
                self.assumptions.push(Assumption { line: step.line, column: step.column, message });
            }
            return true;
        }
        false
    }

    /// Seconds that a regular member takes for a node's written work.
    fn work_seconds(&self, node: &Node) -> Option<f64> {
        let Node::Work(work) = node else { return None };
        let movement = self.catalogue.get(&work.movement)?;
        Some(movement.seconds_per(work.dose.unit, 0.5)? * work.dose.first()? + movement.setup_s)
    }

    // --- strength -----------------------------------------------------------------------------------

    fn shape_strength(&mut self, draft: &Draft, part: &mut Part) {
        let items: Vec<&Item> = draft.items().collect();
        let mut works: Vec<Work> = items.iter().filter_map(|item| self.work(item)).collect();
        let strength = &mut part.strength;
        strength.percent = merged_percent(&draft.strength.percent, draft.set_list.len());
        let max_reps = items.iter().any(|item| item.max)
            && items.iter().all(|item| item.max || item.sets.is_some())
            && works.len() <= 2;
        let distinct = distinct_movements(&works);
        let labels_pair = draft
            .steps
            .iter()
            .filter(|s| matches!(s.label, Label::Letter(_, Some(_))) && matches!(s.what, StepKind::Item(_)))
            .count()
            > 1;
        let complex = items.iter().any(|item| item.joined);
        let superset = distinct > 1 && !complex && (draft.superset || labels_pair || draft.every.is_none());
        let scheme = draft.steps.iter().find_map(|step| match &step.what {
            StepKind::Scheme { reps, .. } => Some(reps.clone()),
            _ => None,
        });
        let rounds = draft.steps.iter().find_map(|step| match step.what {
            StepKind::Rounds(n) => Some(n),
            _ => None,
        });
        if strength.rm.is_some() && strength.percent.is_empty() && draft.sets_reps.is_empty() {
            part.format = Some(Format::BuildTo);
        } else if draft.every.is_some() {
            part.format = Some(Format::Every);
        } else if max_reps && distinct == 1 {
            part.format = Some(Format::MaxReps);
        } else if superset {
            part.format = Some(Format::Superset);
        } else {
            part.format = Some(Format::Sets);
        }
        let written = draft.sets_reps.first().copied();
        let from_list = (!draft.set_list.is_empty())
            .then(|| draft.set_list.iter().map(|(reps, _)| *reps).collect::<Vec<u32>>());
        let item_reps = works
            .first()
            .and_then(|work| work.dose.first())
            .filter(|_| distinct == 1 && !complex)
            .map(|n| n as u32);
        let reps: Vec<u32> = match (&scheme, from_list, written) {
            (Some(reps), _, _) => reps.clone(),
            (None, Some(list), _) if list.len() > 1 || draft.sets.is_none() => list,
            (None, Some(list), _) => vec![list[0]; draft.sets.unwrap_or(1) as usize],
            (None, None, Some((sets, reps))) if !superset => vec![reps; sets.min(60) as usize],
            _ => match (draft.sets.or(rounds), item_reps) {
                (Some(sets), Some(reps)) if part.format != Some(Format::MaxReps) => {
                    vec![reps; sets.min(60) as usize]
                }
                _ => Vec::new(),
            },
        };
        // More lines of sets for the same lift ("1x5 @ 70%, 3x3 @ 80%") follow one another.
        let reps = if draft.sets_reps.len() > 1 && distinct == 1 && !superset {
            draft.sets_reps.iter().flat_map(|(sets, reps)| vec![*reps; (*sets).min(60) as usize]).collect()
        } else {
            reps
        };
        strength.sets = (!reps.is_empty())
            .then_some(reps.len() as u32)
            .or(written.map(|(sets, _)| sets))
            .or(draft.sets)
            .or(rounds);
        strength.reps = reps;
        if strength.rm.is_some() && part.format == Some(Format::BuildTo) {
            strength.sets = draft.sets;
            strength.reps.clear();
        }
        let rest_s = part.rest.map(|rest| rest.low_s);
        if let Some(rest) = &mut part.rest {
            rest.after = RestAfter::Each;
        }
        if let Some((interval_s, times, total_s)) = draft.every {
            let times = times
                .or(total_s.or(part.duration_s).map(|total| total / interval_s.max(1)))
                .or(strength.sets)
                .or(part.cap_s.map(|cap| cap / interval_s.max(1)));
            part.interval_s = Some(interval_s);
            part.duration_s = times.map(|n| n * interval_s);
            strength.sets = times.or(strength.sets);
            if strength.reps.is_empty()
                && let (Some(reps), Some(times)) = (item_reps, times)
            {
                strength.reps = vec![reps; times.min(120) as usize];
            }
        }
        let percent = strength.percent.clone();
        for work in &mut works {
            work.percent.clone_from(&percent);
        }
        let works: Vec<Work> = if distinct == 1 { works.into_iter().take(1).collect() } else { works };
        part.tree = strength_tree(part, works, rest_s);
        part.score = part.score.or(match part.format {
            Some(Format::BuildTo) => Some(Score::Load),
            Some(Format::MaxReps) => Some(Score::Reps),
            _ => None,
        });
    }

    fn shape_target(&mut self, draft: &Draft, part: &mut Part) {
        let slowest = part.score == Some(Score::SlowestInterval);
        if let Some(seconds) = draft.round_under {
            if slowest {
                part.target = Some(Target::seconds(None, Some(seconds)));
            } else {
                part.intents.push(Intent::RoundUnder(seconds));
            }
        }
        let Some((low, high, of)) = draft.target else { return };
        let whole = |value: Option<f64>, factor: f64| value.map(|v| (v * factor).round() as u32);
        let of = match of {
            TargetOf::Bare if part.format == Some(Format::Amrap) => TargetOf::Rounds,
            TargetOf::Bare => {
                let target = Target::seconds(whole(low, 60.0), whole(high, 60.0));
                part.target = part.target.or(Some(target));
                return;
            }
            other => other,
        };
        let target = match of {
            TargetOf::Rounds => Target::rounds(low, high),
            TargetOf::Reps => {
                Target { reps_low: whole(low, 1.0), reps_high: whole(high, 1.0), ..Target::default() }
            }
            TargetOf::Seconds | TargetOf::Bare => Target::seconds(whole(low, 1.0), whole(high, 1.0)),
        };
        part.target = part.target.or(Some(target));
    }
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
            let of = Node::seq(works.into_iter().map(|work| with_reps(work, rm)).collect());
            let of = Box::new(Node::Rounds { times: sets, rest_s, of: Box::new(of) });
            match part.duration_s {
                Some(seconds) => Node::Within { seconds, of },
                None => *of,
            }
        }
        Some(Format::Sets) if !uniform && works.len() == 1 => {
            let of = Node::seq(works.into_iter().map(|work| with_reps(work, Amount::Scheme)).collect());
            Node::Scheme { reps: strength.reps.clone(), rest_s, of: Box::new(of) }
        }
        _ => {
            let amount =
                strength.reps.first().map(|reps| Amount::Fixed { first: f64::from(*reps), second: None });
            let of = works.into_iter().map(|work| match (amount, work.dose.amount) {
                (Some(amount), Amount::Open) => with_reps(work, amount),
                _ => Node::Work(work),
            });
            let of = Box::new(Node::seq(of.collect()));
            Node::Rounds { times: sets, rest_s, of }
        }
    }
}

/// Two single figures on their own ("start at 60 %, finish at 80 %") are the ends of a climb.
fn merged_percent(found: &[[f64; 2]], listed: usize) -> Vec<[f64; 2]> {
    if listed == 0 && found.len() == 2 && found.iter().all(|[low, high]| low == high) {
        return vec![[found[0][0].min(found[1][0]), found[0][0].max(found[1][0])]];
    }
    found.to_vec()
}

fn distinct_movements(works: &[Work]) -> usize {
    let mut seen: HashMap<&MovementId, ()> = HashMap::new();
    for work in works {
        seen.insert(&work.movement, ());
    }
    seen.len()
}

fn movement_of(node: &Node) -> Option<&MovementId> {
    match node {
        Node::Work(work) => Some(&work.movement),
        _ => None,
    }
}

/// Start and step of repetitions that rise line by line: "min 1 - 1, min 2 - 2".
fn rising(nodes: &[Node], add: Option<u32>) -> (u32, u32) {
    let amounts: Vec<f64> = nodes
        .iter()
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

/// Marks the work that starts a rising round as scheme work, and tells its start.
fn rising_start(nodes: &mut [Node]) -> u32 {
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

impl Group {
    /// The group as one node.
    fn node(self) -> Node {
        let mut nodes = self.nodes;
        nodes.extend(self.after_each);
        let mut node = Node::seq(nodes);
        let rest_s = self.rest_s;
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

fn wrap(grouped: Grouped, join: fn(Vec<Node>) -> Node) -> Node {
    let mut nodes = Vec::new();
    for group in grouped.groups {
        if group.repeats.is_empty() {
            nodes.extend(group.nodes);
            nodes.extend(group.after_each);
        } else {
            nodes.push(group.node());
        }
    }
    interrupted(join(nodes), grouped.interrupt, grouped.penalty)
}

fn interrupted(node: Node, interrupt: Option<(u32, u32, Vec<Node>)>, penalty: Option<Vec<Node>>) -> Node {
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

fn next_group_follows(rest: &[Step]) -> bool {
    matches!(
        rest.first().map(|step| &step.what),
        Some(StepKind::Rounds(_) | StepKind::Scheme { .. } | StepKind::CashOut | StepKind::Then)
    )
}

/// Which work each step belongs to: a marker takes the items after it on its line, else the one before
/// it, else those of the next line.
fn buckets(steps: &[Step]) -> Vec<Bucket> {
    let mut buckets = vec![Bucket::Main; steps.len()];
    for (n, step) in steps.iter().enumerate() {
        let bucket = match step.what {
            StepKind::AfterEach => Bucket::AfterEach,
            StepKind::Interrupt { .. } => Bucket::Interrupt,
            StepKind::Penalty => Bucket::Penalty,
            _ => continue,
        };
        let is_item = |m: &usize| matches!(steps[*m].what, StepKind::Item(_));
        let after: Vec<usize> =
            (n + 1..steps.len()).take_while(|&m| steps[m].line == step.line).filter(is_item).collect();
        let before: Option<usize> = (0..n).rev().take_while(|&m| steps[m].line == step.line).find(is_item);
        if !after.is_empty() {
            after.into_iter().for_each(|m| buckets[m] = bucket);
        } else if let Some(m) = before {
            buckets[m] = bucket;
        } else if let Some(next) = (n + 1..steps.len()).find(is_item) {
            let line = steps[next].line;
            (next..steps.len()).take_while(|&m| steps[m].line == line).for_each(|m| buckets[m] = bucket);
        }
    }
    buckets
}
