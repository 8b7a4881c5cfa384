//! Items made definite: which movement a shorthand means, and which load belongs to it.

use super::{POUND_BALL_FROM, POUND_BELLS, POUND_DUMBBELL_FROM, POUND_LOADS, Shaper, work_of};
use crate::facts::{Facts, Item, Step, StepKind, with_dumbbells};
use crate::say::{BARE_SHARES, MACHINES, MOST_OF_A_SET, Tool};
use lantern_session::movement::{Catalogue, LoadKind, Movement, MovementId, Unit};
use lantern_session::{Alternative, Load, LoadUnit, PartKind, PercentOf, Sharing};
use lantern_session::{Assumption, Problem, Tempo};

/// What nobody goes on with at a pace.
const WALK: &str = "walk";
/// Repetitions up to which a set is a lift's.
const FEW_REPS: u32 = 6;

/// "5-5-3-3" of one thing alone, against nothing: the sets of a lift.
fn goes_down_in_few(facts: &Facts) -> bool {
    let few = |step: &Step| matches!(&step.what, StepKind::Scheme { reps, .. } if reps.len() >= 3 && reps.iter().all(|n| *n <= FEW_REPS));
    !facts.has_format() && facts.cap_s.is_none() && facts.items().count() == 1 && facts.steps.iter().any(few)
}

/// Whether a set of so many can be lifted at such a share of the maximum, in percent: Epley's formula, and a third to spare, which is
/// judgement: sets are written below what fails.
fn can_be_shares(reps: u32, share: f64) -> bool {
    BARE_SHARES.contains(&share) && share <= 100.0 / (1.0 + f64::from(reps) / 45.0)
}

/// "5 x 5 front squats @ 70" of a lift alone: one weight for everybody would be written for men and women, so it is a share of the maximum.
fn bare_share_of_sets(facts: &mut Facts, catalogue: &Catalogue) -> bool {
    let clocked = facts.has_format() && facts.every.is_none();
    let prescribed =
        !facts.strength.percent.is_empty() || !facts.set_list.is_empty() || facts.strength.rpe.is_some();
    let [(_, reps)] = facts.sets_reps[..] else { return false };
    if clocked || prescribed || facts.has_rounds() || facts.cap_s.is_some() || facts.items().count() != 1 {
        return false;
    }
    let items = facts.steps.iter_mut().filter_map(|step| match &mut step.what {
        StepKind::Item(item) => Some(item),
        _ => None,
    });
    let Some(item) = items.last() else { return false };
    let barbell = item.movement.as_ref().and_then(|id| catalogue.get(id)).is_some_and(Movement::is_barbell);
    let Some((share, None)) = item.bare_load.filter(|(share, _)| barbell && can_be_shares(reps, *share))
    else {
        return false;
    };
    item.bare_load = None;
    facts.strength.percent = vec![[share; 2]];
    true
}

/// "8 @ 60", below it "6 @ 70", and then "4 @ 75 %": the sign at the end is that of all of them, and so are words above that say so; says
/// whether neither stands there, and they are taken for shares all the same.
fn bare_shares(facts: &mut Facts) -> bool {
    let share = |item: &Item| {
        let (reps, None) = item.amount? else { return None };
        let (bare, None) = item.bare_load? else { return None };
        let alone = item.load.is_none() && item.sets.is_none();
        (alone && BARE_SHARES.contains(&bare)).then_some((reps as u32, bare))
    };
    let one_lift = facts.items().filter(|item| item.movement.is_some()).count() == 1;
    let named = |item: &&Item| item.movement.is_some() && item.amount.is_none() && !item.max;
    let bare: Option<Vec<(u32, f64)>> = facts.items().filter(|item| !named(item)).map(share).collect();
    let announced = facts.percents_of.take();
    let signed = !facts.set_list.is_empty() || !facts.strength.percent.is_empty();
    // "3 @ 65, 3 @ 75, 5 @ 85" of a lift alone: nobody writes one weight for everybody, and each time more of it; a last set may go back.
    let clocked = facts.has_format() && facts.every.is_none();
    let alone = !clocked && !facts.has_rounds() && facts.cap_s.is_none();
    let up = |sets: &[(u32, f64)]| sets.len() > 1 && sets.windows(2).all(|pair| pair[0].1 < pair[1].1);
    let rises = |sets: &[(u32, f64)]| up(sets) || sets.split_last().is_some_and(|(_, sets)| up(sets));
    let guessed = !signed && announced.is_none();
    let likely = |sets: &Vec<(u32, f64)>| !sets.is_empty() && (!guessed || alone && rises(sets));
    let sets = bare.filter(|sets| one_lift && likely(sets));
    let own = facts.items().find_map(|item| item.movement.clone());
    if (signed || sets.is_some()) && announced != own && facts.strength.percent_of.is_none() {
        facts.strength.percent_of = announced.map(PercentOf::Lift);
    }
    let Some(mut sets) = sets else { return false };
    let shares = sets.iter().map(|(_, share)| [*share; 2]).chain(facts.strength.percent.iter().copied());
    facts.strength.percent = shares.collect();
    sets.append(&mut facts.set_list);
    facts.set_list = sets;
    facts.steps.retain_mut(|step| match &mut step.what {
        StepKind::Item(item) => {
            (item.amount, item.bare_load) = (None, None);
            item.movement.is_some()
        }
        _ => true,
    });
    guessed
}

/// A pause without its seconds, as a tempo: two at the bottom, as it is usually done.
const A_PAUSE: &str = "22X0";

/// Of two machines to choose from one takes no more than so many times as long as the other.
const MOST_OF_A_CHOICE: f64 = 1.8;

impl Shaper<'_> {
    /// Gives every item its movement, its load's unit, and the load that "same bar" points at.
    pub(super) fn resolve(&mut self, facts: &mut Facts) {
        if facts.paused && facts.strength.tempo.is_none() {
            facts.strength.tempo = Some(Tempo(A_PAUSE.to_owned()));
            let message = "how long the pause is nobody says: read as two seconds".to_owned();
            self.assumptions.push(Assumption { line: facts.first_line, column: 1, message });
        }
        if bare_shares(facts) || bare_share_of_sets(facts, self.catalogue) {
            let message = "no unit stands beside these numbers: read as percent of the maximum".to_owned();
            self.assumptions.push(Assumption { line: facts.first_line, column: 1, message });
        }
        let gentle = matches!(facts.kind, Some(PartKind::Warmup | PartKind::Mobility));
        let heavy_work = facts.has_prescription() && !facts.has_format() && !gentle;
        let prescribed = !facts.strength.percent.is_empty()
            || facts.climbs
            || facts.strength.rpe.is_some() && !facts.sets_reps.is_empty()
            || (heavy_work && facts.strength.rm.is_some())
            // "5 x 5" is a lift's; nobody counts sets of a handful without a bar.
            || (heavy_work && facts.sets_reps.iter().any(|(sets, reps)| *sets >= 3 && *reps <= FEW_REPS))
            || (heavy_work && facts.kind == Some(PartKind::Strength))
            || goes_down_in_few(facts);
        let common = (facts.common_load, facts.common_bare_load);
        let held = std::mem::take(&mut facts.held);
        let mut last_movement: Option<MovementId> = None;
        let mut last_weighed: Option<MovementId> = None;
        let mut last_machine: Option<MovementId> = None;
        let before = facts.load_before;
        let mut last_load: Option<Load> = None;
        let mut kept = Vec::new();
        for mut step in std::mem::take(&mut facts.steps) {
            if let StepKind::Item(item) = &mut step.what {
                if item.movement.is_none() {
                    // "6 @ 70/50" below other work is of the last that takes a weight.
                    let weighs = item.load.is_some() || item.bare_load.is_some();
                    let last = last_weighed.as_ref().filter(|_| weighs).or(last_movement.as_ref());
                    // "20 cal" further down a list is of the machine named above, and of nothing else.
                    let calories = item.unit == Some(Unit::Calories);
                    let last = if calories { last_machine.as_ref() } else { last };
                    item.movement = self.unnamed(item, (last, facts.engine.as_ref()), step.line, step.column);
                }
                if let Some(tool) = facts.one_tool {
                    self.in_hand(item, tool, step.line, step.column);
                }
                let Some(id) = item.movement.clone() else {
                    let message = "a number without a movement; name what is to be done".to_owned();
                    if item.max && item.load.is_none() {
                        // "AMRAP" on its own, in a heading.
                        facts.amrap.get_or_insert(None);
                    } else if item.load.is_some() || item.unit == Some(Unit::Calories) {
                        self.problems.push(Problem::error(step.line, step.column, message));
                    }
                    continue;
                };
                // "Box step-ups with the same dumbbells, 50 cm": what is held again counts before the height.
                if let (true, Some(height), Some(held)) = (item.same_load, item.load, last_load)
                    && height.unit.weight().is_none()
                {
                    item.load = Some(held);
                }
                self.settle_movement(item, &id, prescribed, &step.line, step.column);
                let kind = item.movement.as_ref().and_then(|id| self.catalogue.get(id)).map(|m| m.load_kind);
                let tool = held.iter().find(|held| kind.is_some_and(|kind| held.is_held_in(kind)));
                if let (Some(held), None, None) = (tool, item.load, item.bare_load) {
                    item.load = held.load();
                    item.bare_load = Some((held.first, held.second));
                }
                if item.same_load && last_load.is_none() {
                    item.load = item.load.or(before);
                }
                self.settle_load(item, common, last_load, step.line, step.column);
                if let Some(load) = item.load.filter(|load| load.unit.weight().is_some()) {
                    last_load = Some(load);
                }
                // Nobody walks on fast: what is walked is between two of the same.
                if item.movement.as_ref().is_none_or(|id| id.as_str() != WALK) || last_movement.is_none() {
                    last_movement.clone_from(&item.movement);
                }
                let weighs = item.movement.as_ref().and_then(|id| self.catalogue.get(id));
                if weighs.is_some_and(Movement::takes_weight) {
                    last_weighed.clone_from(&item.movement);
                }
                if weighs.is_some_and(|movement| movement.unit == Unit::Calories) {
                    last_machine.clone_from(&item.movement);
                }
            }
            kept.push(step);
        }
        facts.steps = kept;
        self.one_of_two_machines(facts);
        self.alternatives_aside(facts);
    }

    /// A number without a name goes on with the movement before it; metres that it has none of are of what the heading is about, or run.
    fn unnamed(
        &mut self,
        item: &Item,
        (last, engine): (Option<&MovementId>, Option<&MovementId>),
        line: usize,
        column: usize,
    ) -> Option<MovementId> {
        let covers_ground = |id: &MovementId| {
            self.catalogue.get(id).is_some_and(|m| m.unit == Unit::Metres || m.metre_pace.is_some())
        };
        if item.unit == Some(Unit::Calories) && last.is_none() {
            let [machine, ..] = MACHINES;
            let calories = item.amount.map_or(0.0, |(first, _)| first);
            let name = self.catalogue.find(machine)?.name.to_lowercase();
            let message = format!("no machine beside {calories} cal: any will do, read as a {name}");
            self.assumptions.push(Assumption { line, column, message });
            return Some(MovementId::new(machine));
        }
        if item.unit != Some(Unit::Metres) || last.is_some_and(covers_ground) {
            return last.cloned();
        }
        let metres = item.amount.map_or(0.0, |(first, _)| first);
        if let Some(engine) = engine {
            let name = self.catalogue.name(engine).to_lowercase();
            let message = format!("no movement beside {metres} m: read as {name}, which the heading names");
            self.assumptions.push(Assumption { line, column, message });
            return Some(engine.clone());
        }
        let run = self.catalogue.find("run")?;
        let message = format!("no movement beside {metres} m: read as a run");
        self.assumptions.push(Assumption { line, column, message });
        Some(run.id.clone())
    }

    /// "Kettlebell complex": the lifts below it are done with that tool, where there is such a movement; says so.
    fn in_hand(&mut self, item: &mut Item, tool: Tool, line: usize, column: usize) {
        let tool = match tool {
            Tool::Kettlebell => "kettlebell",
            Tool::Dumbbell => "dumbbell",
            Tool::Bar | Tool::Ball => return,
        };
        let Some(from) = item.movement.as_ref().and_then(|id| self.catalogue.get(id)) else { return };
        let names = match from.id.as_str() {
            "air-squat" if item.generic => vec![format!("{tool}-front-squat")],
            id if from.is_barbell() => vec![format!("{tool}-{id}"), format!("{tool}-power-{id}")],
            _ => return,
        };
        let Some(to) = names.iter().find_map(|name| self.catalogue.find(name)) else { return };
        let message = format!("read `{}` as {}", from.name.to_lowercase(), to.name.to_lowercase());
        self.assumptions.push(Assumption { line, column, message });
        item.movement = Some(to.id.clone());
    }

    /// Shorthand of several meanings resolves by what stands beside it, and says so.
    pub(super) fn settle_movement(
        &mut self,
        item: &mut Item,
        id: &MovementId,
        prescribed: bool,
        line: &usize,
        column: usize,
    ) {
        let weight = item.load.filter(|load| load.unit.weight().is_some()).or_else(|| {
            item.bare_load.filter(|_| item.carried).map(|(kg, _)| Load::single(kg, LoadUnit::Kg))
        });
        let few = item.amount.is_some_and(|(reps, _)| reps <= f64::from(MOST_OF_A_SET));
        let better = match id.as_str() {
            "air-squat" if item.generic && (prescribed || weight.is_some()) => Some("back-squat"),
            "row" if item.generic && item.unit.is_none() && weight.is_some() => Some("bent-over-row"),
            // "Row 4x8": nobody sits down for eight of anything that is not named.
            "row" if item.generic && item.unit.is_none() && item.sets.is_some() && few => {
                Some("bent-over-row")
            }
            "row" if item.generic && item.unit.is_none() && item.per_side => Some("dumbbell-row"),
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
        let own_weight = || {
            let from = self.catalogue.get(id).filter(|_| item.carried && weight.is_some())?;
            with_dumbbells(from, self.catalogue).map(|with| with.id.to_string())
        };
        let Some(better) = better.map(str::to_owned).or_else(dumbbells).or_else(own_weight) else { return };
        if let (Some(from), Some(to)) = (self.catalogue.get(id), self.catalogue.find(&better)) {
            let carried = item.load.is_some() || item.bare_load.is_some();
            let why = if carried { "the load beside it" } else { "how it is prescribed" };
            let message =
                format!("read `{}` as {} because of {why}", from.name.to_lowercase(), to.name.to_lowercase());
            self.assumptions.push(Assumption { line: *line, column, message });
            item.movement = Some(to.id.clone());
        }
    }

    pub(super) fn settle_load(
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
        let only_height =
            item.load.is_some_and(|load| load.unit.weight().is_none()) && weighs && !wants_height;
        if only_height && item.bare_load.is_some() {
            // "Dumbbell step-overs 22.5/15 (50 cm)": what is carried counts.
            item.load = None;
        }
        if item.same_load && (item.load.is_none() || only_height) {
            item.load = last_load.or(item.load);
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

    pub(super) fn unit_of_bare(&self, first: f64, movement: &Movement, last_load: Option<Load>) -> LoadUnit {
        if movement.load_kind == LoadKind::BoxHeight {
            return if first <= 36.0 { LoadUnit::In } else { LoadUnit::Cm };
        }
        if let Some(unit) = last_load.map(|load| load.unit).filter(|unit| unit.weight().is_some()) {
            return unit;
        }
        match self.unit {
            Some(unit) => unit.into(),
            None if movement.is_barbell() && POUND_LOADS.contains(&first) => LoadUnit::Lb,
            None if movement.load_kind == LoadKind::Kettlebell && POUND_BELLS.contains(&first) => {
                LoadUnit::Lb
            }
            None if matches!(movement.load_kind, LoadKind::DumbbellEach | LoadKind::DumbbellSingle)
                && first >= POUND_DUMBBELL_FROM =>
            {
                LoadUnit::Lb
            }
            None if movement.load_kind == LoadKind::Ball
                && first >= POUND_BALL_FROM
                && !movement.id.as_str().contains("slam") =>
            {
                LoadUnit::Lb
            }
            None => LoadUnit::Kg,
        }
    }

    /// "500 m row / 400 m run" among other work: one or the other, since they take about as long; a line of strokes that is all
    /// there is to do is a list.
    pub(super) fn one_of_two_machines(&self, facts: &mut Facts) {
        let engine = |item: &Item| {
            let movement = item.movement.as_ref().and_then(|id| self.catalogue.get(id));
            movement.filter(|movement| movement.is_engine())
        };
        let seconds = |item: &Item| {
            let movement = engine(item)?;
            movement
                .seconds_per(item.unit.unwrap_or(movement.unit), 0.5)
                .zip(item.amount)
                .map(|(each, (n, _))| each * n)
        };
        let lines: Vec<usize> = facts
            .steps
            .iter()
            .filter(|step| matches!(step.what, StepKind::Item(_)))
            .map(|step| step.line)
            .collect();
        let mut first: Option<(usize, f64)> = None;
        let mut found = false;
        for step in &mut facts.steps {
            let StepKind::Item(item) = &mut step.what else { continue };
            let (line, takes) = (step.line, seconds(item));
            let others = lines.iter().any(|other| *other != line);
            match (first, takes) {
                (Some((at, beside)), Some(takes))
                    if at == line
                        && item.slashed
                        && others
                        && takes.max(beside) <= takes.min(beside) * MOST_OF_A_CHOICE =>
                {
                    item.alternative = true;
                    found = true;
                }
                _ => first = takes.map(|takes| (line, takes)),
            }
        }
        // "(alternate)": from one round to the next, and nothing else takes turns.
        facts.alternating &= !found;
        if found && facts.team.is_none() && facts.sharing == Some(Sharing::Rounds) {
            facts.sharing = None;
        }
    }

    /// Items after "or" become alternatives of the item before them.
    pub(super) fn alternatives_aside(&self, facts: &mut Facts) {
        let mut before: Option<MovementId> = None;
        for step in std::mem::take(&mut facts.steps) {
            match &step.what {
                StepKind::Item(item) if item.alternative => {
                    let Some(work) = work_of(item, self.catalogue) else { continue };
                    let text = format!("or {}", lantern_session::text::work_text(&work, self.catalogue));
                    let replaces = before.clone();
                    facts.alternatives.push(Alternative {
                        line: step.line,
                        text,
                        work: vec![work],
                        replaces,
                    });
                }
                what => {
                    if let StepKind::Item(item) = what {
                        before.clone_from(&item.movement);
                    }
                    facts.steps.push(step);
                }
            }
        }
    }
}
