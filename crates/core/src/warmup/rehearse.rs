//! Rehearse: the way up to a movement, from partial to full, with drills of its own family only.

use std::sync::Arc;

use super::items::{Phase, WarmupItem, standard_items};
use crate::movement::{Catalogue, LoadKind, Movement, MovementId, Pattern, Unit};
use crate::versions::Ladders;

/// Easier forms on the way up to a skill.
const MOST_FORMS: usize = 2;

/// How a movement is rehearsed.
#[derive(Clone, Debug, PartialEq)]
pub enum Rehearsal {
    /// Steps in teaching order, each of the movement's own family.
    Steps(Vec<Arc<WarmupItem>>),
    /// It needs none, and why.
    NotNeeded(&'static str),
}

impl Rehearsal {
    /// The drills that lead up to it; where there are none, what the movement itself gives: a load is lifted light
    /// first, a skill through its easier forms, a machine from easy to the day's pace.
    pub fn of(movement: &Movement, catalogue: &Catalogue) -> Self {
        let drills: Vec<Arc<WarmupItem>> = standard_items()
            .iter()
            .filter(|item| item.phase.is_drill() && item.prepares.contains(&movement.id))
            .map(Arc::clone)
            .collect();
        if !drills.is_empty() {
            return Self::Steps(drills);
        }
        // A gym's own movement is rehearsed as what it is like.
        if let Some(like) = movement.like.as_ref().and_then(|like| catalogue.get(like)) {
            return Self::of(like, catalogue);
        }
        match movement.pattern {
            Pattern::Mobility | Pattern::Prep => return Self::NotNeeded("it is part of a warm-up itself"),
            Pattern::Engine if movement.skill == 0 => return Self::Steps(vec![Arc::new(built_up(movement))]),
            _ => {}
        }
        if movement.takes_weight() && movement.load_kind != LoadKind::Vest {
            return Self::Steps(vec![Arc::new(light(movement))]);
        }
        if movement.skill == 0 {
            return Self::NotNeeded("a few slow ones of it will do");
        }
        let forms = easier_forms(movement, catalogue);
        let mut steps: Vec<Arc<WarmupItem>> =
            forms.iter().map(|form| Arc::new(form_of(movement, form))).collect();
        steps.push(Arc::new(itself(movement)));
        Self::Steps(steps)
    }

    /// The steps; none where it needs none.
    pub fn steps(self) -> Vec<Arc<WarmupItem>> {
        match self {
            Self::Steps(steps) => steps,
            Self::NotNeeded(_) => Vec::new(),
        }
    }
}

/// So many of the steps, spread over the way up: the last one always belongs to it.
pub(super) fn spread(steps: &[Arc<WarmupItem>], count: usize) -> Vec<Arc<WarmupItem>> {
    let count = count.min(steps.len());
    (0..count).map(|n| Arc::clone(&steps[(n + 1) * steps.len() / count - 1])).collect()
}

/// Easier forms of the same pattern, easiest first.
fn easier_forms<'c>(movement: &Movement, catalogue: &'c Catalogue) -> Vec<&'c Movement> {
    let rungs = Ladders::standard().of(&movement.id, "skill");
    let single = rungs.filter(|rung| rung.to.len() == 1).filter_map(|rung| catalogue.get(&rung.to[0].0));
    let mut forms: Vec<&Movement> = single
        .filter(|form| form.pattern == movement.pattern && form.id != movement.id)
        .filter(|form| form.skill < movement.skill && !form.takes_weight())
        .collect();
    // The ladder stands hardest first: what is nearest below leads up best.
    forms.truncate(MOST_FORMS);
    forms.reverse();
    forms
}

fn composed(
    movement: &Movement,
    id: String,
    name: String,
    dose: &str,
    seconds: u32,
    cue: &str,
) -> WarmupItem {
    WarmupItem {
        id,
        name,
        phase: if movement.is_barbell() { Phase::BarbellPrimer } else { Phase::SkillPrimer },
        targets: std::iter::once(super::demand::key(movement.pattern))
            .chain(movement.joints.iter().map(|(joint, _)| joint.clone()))
            .collect(),
        equipment: movement.equipment.clone(),
        dose: dose.to_owned(),
        seconds,
        prepares: vec![movement.id.clone()],
        like: vec![movement.id.clone()],
        easier: String::new(),
        harder: String::new(),
        cue: cue.to_owned(),
    }
}

/// Light and slow, before the day's load.
fn light(movement: &Movement) -> WarmupItem {
    let (name, dose) = match movement.unit {
        Unit::Metres => (format!("{}, light", movement.name), "10 m"),
        Unit::Seconds => (format!("{}, light", movement.name), "15 s"),
        _ if movement.is_barbell() => (format!("{}, empty bar", movement.name), "5 slow reps"),
        _ => (format!("{}, light", movement.name), "5 slow reps"),
    };
    let cue = "Slow and full first; three with the day's load when it looks good.";
    composed(movement, format!("light-{}", movement.id), name, dose, 25, cue)
}

/// From easy to the pace of the day.
fn built_up(movement: &Movement) -> WarmupItem {
    let name = format!("{}, from easy to the day's pace", movement.name);
    let cue = "Quicker every 15 seconds; the last ones at the pace that you will hold.";
    composed(movement, format!("build-{}", movement.id), name, "60 s", 60, cue)
}

/// An easier form on the way up.
fn form_of(movement: &Movement, form: &Movement) -> WarmupItem {
    let dose = if form.unit == Unit::Seconds { "10 s" } else { "4 slow reps" };
    let cue = "The easier form first: own every part of it.";
    let id = format!("form-{}-{}", movement.id, form.id);
    WarmupItem { prepares: vec![movement.id.clone()], ..composed(form, id, form.name.clone(), dose, 22, cue) }
}

/// The movement itself, a few of it.
fn itself(movement: &Movement) -> WarmupItem {
    let dose = match movement.unit {
        Unit::Seconds => "10 s",
        Unit::Metres => "5 m",
        _ => "3 slow reps",
    };
    let cue = "As it will be done today, one at a time; whoever has another version does that.";
    composed(movement, format!("full-{}", movement.id), movement.name.clone(), dose, 20, cue)
}

/// The steps of a movement, by its identity.
pub(super) fn steps_of(id: &MovementId, catalogue: &Catalogue) -> Vec<Arc<WarmupItem>> {
    catalogue.get(id).map(|movement| Rehearsal::of(movement, catalogue).steps()).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::warmup::demand::asks_for;

    /// Movements of the same family: those that a drill may lead up to or be done as.
    fn is_family(movement: &Movement, other: &Movement) -> bool {
        let on_ladder = |a: &Movement, b: &Movement| {
            Ladders::standard().all(&a.id).any(|rung| rung.to.iter().any(|(to, _)| *to == b.id))
        };
        movement.pattern == other.pattern || on_ladder(movement, other) || on_ladder(other, movement)
    }

    #[test]
    fn every_movement_has_steps_of_its_family_or_says_that_it_needs_none() {
        let catalogue = Catalogue::standard();
        let mut without = 0;
        for movement in catalogue.iter() {
            match Rehearsal::of(movement, catalogue) {
                Rehearsal::Steps(steps) => {
                    assert!(!steps.is_empty(), "{}", movement.id);
                    for step in &steps {
                        assert!(step.prepares.contains(&movement.id), "{}: {}", movement.id, step.id);
                        let like = step.like.iter().filter_map(|id| catalogue.get(id)).collect::<Vec<_>>();
                        // A drill of a part (a jump and shrug before a clean) asks for the same as the whole.
                        let bar = |movement: &Movement| movement.equipment.iter().any(|kit| kit == "barbell");
                        let asks = |of: &Movement, target: &str| asks_for(&of.id, target, catalogue);
                        let part = |like: &Movement| {
                            step.targets.iter().any(|target| asks(movement, target) && asks(like, target))
                        };
                        let family = like.iter().any(|like| {
                            is_family(movement, like) || (bar(movement) && bar(like)) || part(like)
                        });
                        // Or it leads up to others like it, such as a shape that is held before it is swung.
                        let led = step.prepares.iter().filter_map(|id| catalogue.get(id));
                        let family = family || led.filter(|other| is_family(movement, other)).count() > 1;
                        assert!(family, "{}: {} is like {:?}", movement.id, step.id, step.like);
                        let barbell = step.equipment.iter().any(|kit| kit == "barbell");
                        assert!(!barbell || bar(movement), "{}: {} needs a bar", movement.id, step.id);
                    }
                }
                Rehearsal::NotNeeded(why) => {
                    let itself = matches!(movement.pattern, Pattern::Mobility | Pattern::Prep);
                    assert!(itself || movement.skill == 0, "{}: {why}", movement.id);
                    without += 1;
                }
            }
        }
        assert!(without * 2 < catalogue.iter().count(), "{without} need none");
    }

    #[test]
    fn a_way_up_always_ends_with_its_last_step() {
        let catalogue = Catalogue::standard();
        let steps = steps_of(&MovementId::new("clean"), catalogue);
        for count in 1..=steps.len() {
            let some = spread(&steps, count);
            assert_eq!(some.len(), count);
            assert_eq!(some.last(), steps.last());
        }
        assert_eq!(spread(&[], 3), []);
    }
}
