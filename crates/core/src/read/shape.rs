//! From a collected draft to a part with its tree.
//!
//! `items` gives every item its movement and load, `groups` puts work together that repeats together,
//! `piece` and `lift` make the trees of conditioning and of strength.

mod groups;
mod items;
mod lift;
mod piece;

use self::groups::{Grouped, Repeat};
use super::clause::TargetOf;
use super::draft::{Draft, Step, StepKind};
use super::label::Label;
use super::line::Item;
use crate::movement::{Catalogue, LoadKind, Movement, Pattern, Unit};
use crate::session::{
    Amount, Dose, Format, Intent, Node, Part, PartKind, RestAfter, Score, Sharing, Target, Work,
};
use crate::session::{Assumption, Problem};
use crate::units::WeightUnit;

/// Seconds of work and rest, and rounds, of the classic short interval; Tabata et al. 1996.
const TABATA: (u32, u32, u32) = (20, 10, 8);
/// Bar weights that only pound plates make; a bare number among them is read as pounds.
const POUND_LOADS: [f64; 16] = [
    95.0, 105.0, 115.0, 135.0, 155.0, 165.0, 185.0, 205.0, 225.0, 245.0, 275.0, 295.0, 315.0, 335.0, 365.0,
    405.0,
];
/// Balls from this number on are in pounds: nobody throws a ball of 14 kg for repetitions.
const POUND_BALL_FROM: f64 = 14.0;
/// Below this a bare number beside a machine counts calories, from it on metres.
const METRES_FROM: f64 = 100.0;
/// Fixed work that fills this share of a length is done once, against it.
const FIXED_WORK_SHARE: f64 = 0.5;
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
        bouts_in_words(&mut draft);
        bouts_of_an_amrap(&mut draft);
        minutes_in_turn(&mut draft);
        schemes_side_by_side(&mut draft);
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
        if draft.window && kind == PartKind::Conditioning && !draft.has_format() {
            // Fixed work in a window of the clock: what is not done when it ends stays undone.
            part.cap_s = part.cap_s.or(part.duration_s);
        }
        if strength_like {
            self.shape_strength(&draft, &mut part);
        } else {
            self.shape_piece(&draft, &mut part);
        }
        self.shape_target(&draft, &mut part);
        Some(part)
    }
    fn work(&self, item: &Item) -> Option<Work> {
        work_of(item, self.catalogue)
    }

    fn kind(&self, draft: &Draft, section: Option<PartKind>) -> PartKind {
        let movements = || draft.items().filter_map(|item| self.catalogue.get(item.movement.as_ref()?));
        let has_bar = movements().any(|m| m.load_kind == LoadKind::Barbell);
        let machine = movements().any(|m| m.unit == Unit::Calories);
        let max_sets =
            draft.sets.is_some() && draft.items().any(|item| item.max) && !draft.has_format() && !machine;
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
        let scheme_lift = !plain_format
            && draft.cap_s.is_none()
            && draft.items().count() == 1
            && draft.items().all(|item| item.amount.is_none() && item.load.is_none())
            && has_bar
            && draft.steps.iter().any(|step| {
                matches!(&step.what, StepKind::Scheme { reps, open: None } if reps.iter().all(|n| *n <= 12))
            });
        let lift = every_lift
            || scheme_lift
            || draft.strength.rm.is_some()
            || !draft.strength.percent.is_empty()
            || draft.strength.rpe.is_some()
            || draft.strength.tempo.is_some()
            || draft.strength.week.is_some()
            || max_sets
            || (draft.sets.is_some()
                && !plain_format
                && draft.has_lettered_pair()
                && movements().any(Movement::takes_weight))
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
            || draft.items().any(|item| item.max)
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
        } else if draft.every.is_some() && (draft.every_leads || grouped.interrupt.is_none()) {
            Some(Format::Every)
        } else if draft.quality {
            Some(Format::Quality)
        } else if rounds && rest_between && matches!(kind, PartKind::Conditioning | PartKind::Home) {
            Some(Format::Intervals)
        } else if draft.for_time {
            Some(Format::ForTime)
        } else if draft.duration_s.is_some() && times_out {
            Some(Format::Amrap)
        } else if !matches!(kind, PartKind::Conditioning | PartKind::Home) {
            None
        } else {
            let limited = (draft.window && draft.every.is_none())
                || draft.cap_s.is_some()
                || self.is_fixed_work_in_a_length(draft, grouped)
                || draft.target.is_some()
                || grouped.interrupt.is_some();
            let counted = has_scheme || (rounds && draft.duration_s.is_none());
            (limited || counted).then_some(Format::ForTime)
        }
    }

    /// "40 min: 100 burpees, 4000 m row, ...": fixed work that a regular is busy with for most of the length has
    /// that length for its limit; less of it is gone through again and again.
    fn is_fixed_work_in_a_length(&self, draft: &Draft, grouped: &Grouped) -> bool {
        let Some(length) = draft.duration_s.filter(|_| draft.sharing.is_none_or(|s| s != Sharing::Rounds))
        else {
            return false;
        };
        let nodes = || grouped.groups.iter().flat_map(|group| &group.nodes);
        let work: f64 = nodes().filter_map(|node| self.work_seconds(node)).sum();
        nodes().count() > 1 && work >= f64::from(length) * FIXED_WORK_SHARE
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

/// "Three minutes to do A and B, then as many C as the time allows; rest a minute, four rounds" is bouts
/// with rest, said in words.
fn bouts_in_words(draft: &mut Draft) {
    let rounds = draft.steps.iter().find_map(|step| match step.what {
        StepKind::Rounds(n) if n > 1 => Some(n),
        _ => None,
    });
    let open = draft.items().any(|item| item.max);
    let plain = !draft.has_format() && draft.sets.is_none();
    if let (Some(work_s), Some(n), Some(rest), true) = (draft.duration_s, rounds, draft.rest, open && plain) {
        draft.on_off = Some((Some(n), work_s, rest.low_s));
        draft.duration_s = None;
        draft.steps.retain(|step| !matches!(step.what, StepKind::Rounds(_) | StepKind::Rest { .. }));
    }
}

/// "3 x 5:00 AMRAP, 2:00 rest between" with one list of work: the same bout again. Bouts that are listed one by
/// one ("AMRAP 1:") are parts of their own.
fn bouts_of_an_amrap(draft: &mut Draft) {
    let one_by_one = matches!(draft.label, Some(Label::Bout(_)));
    let rests = draft.rest.is_some_and(|rest| rest.after == RestAfter::Each);
    if draft.bouts.is_none() && matches!(draft.amrap, Some(Some(_))) && rests {
        // "5 sets" above a short AMRAP with a rest between sets says the same.
        let rounds = draft.steps.iter().find_map(|step| match step.what {
            StepKind::Rounds(n) if n > 1 => Some(n),
            _ => None,
        });
        draft.bouts = rounds.or(draft.sets.take());
        draft.steps.retain(|step| !matches!(step.what, StepKind::Rounds(_)));
    }
    if let (Some(times), Some(Some(work_s)), false) = (draft.bouts, draft.amrap, one_by_one) {
        draft.on_off = Some((Some(times), work_s, draft.rest.map_or(0, |rest| rest.low_s)));
        draft.amrap = None;
        draft.score = draft.score.or(Some(if draft.items().any(|item| item.max) {
            Score::Reps
        } else {
            Score::RoundsReps
        }));
        draft.steps.retain(|step| !matches!(step.what, StepKind::Rest { .. } | StepKind::Main));
    }
}

/// "min 1 - ..., min 2 - ...": labels that count minutes are a clock of their own.
fn minutes_in_turn(draft: &mut Draft) {
    let minutes = draft
        .steps
        .iter()
        .filter(|step| step.starts_line && matches!(step.label, Label::Minute(_) | Label::Odd(_)));
    let clock = draft.amrap.is_some() || draft.every.is_some() || draft.on_off.is_some() || draft.for_time;
    if minutes.count() > 1 && !clock && !draft.tabata {
        draft.every = Some((60, None, draft.duration_s));
    }
}

/// "40-30-20-10 double-unders and 20-15-10-5 calories": schemes of one length, each with its own work on
/// its line, go down together, rung by rung.
fn schemes_side_by_side(draft: &mut Draft) {
    let mut columns: Vec<(Vec<u32>, Vec<Step>)> = Vec::new();
    for step in &draft.steps {
        match &step.what {
            StepKind::Scheme { reps, open: None } => columns.push((reps.clone(), Vec::new())),
            StepKind::Item(item) if item.amount.is_none() && !item.max => match columns.last_mut() {
                Some((_, work)) => work.push(step.clone()),
                None => return,
            },
            _ => return,
        }
    }
    let Some(rungs) = columns.first().map(|(reps, _)| reps.len()) else { return };
    let beside = columns.iter().all(|(reps, work)| {
        let on_one_line = work.windows(2).all(|pair| pair[0].line == pair[1].line);
        reps.len() == rungs && !work.is_empty() && on_one_line
    });
    let alike = columns.windows(2).all(|pair| pair[0].0 == pair[1].0);
    if columns.len() < 2 || !beside || alike {
        return;
    }
    draft.for_time |= draft.amrap.is_none();
    draft.steps.clear();
    for rung in 0..rungs {
        for (reps, work) in &columns {
            draft.steps.extend(work.iter().cloned().map(|mut step| {
                if let StepKind::Item(item) = &mut step.what {
                    item.amount = Some((f64::from(reps[rung]), None));
                }
                step
            }));
        }
    }
}
