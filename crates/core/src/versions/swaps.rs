//! Which movement stands in for which: for a skill that is missing, around a joint, and at home.

use super::changes::Swap;
use super::home::HomeKit;
use super::ladder::Rung;
use super::rules::{Against, against, biggest_sets};
use super::world::World;
use crate::gym::{PushUpSchool, SwapSchool};
use crate::limits::{Ground, loads};
use crate::member::Member;
use crate::movement::{LoadKind, Movement, MovementId, Pattern, Unit};
use crate::pacing::Athlete;
use crate::session::{Dose, Node, Work, works};

/// Each swap can bring a movement that needs another; ladders are short.
const MOST_SWAPS: usize = 16;
/// Less than this share of the lift that it is measured by works one joint alone: no lift stands in for another so.
const ISOLATED: f64 = 0.2;
/// Steps looked ahead for a movement that can be done at home.
const MOST_STEPS: usize = 3;

/// Movements that the member spares or cannot do yet, swapped down their ladders.
pub(super) fn what_cannot_be(tree: &Node, athlete: &Athlete<'_>, world: &World<'_>) -> Vec<Swap> {
    let mut swaps: Vec<Swap> = Vec::new();
    let mut tree = tree.clone();
    for _ in 0..MOST_SWAPS {
        let found = biggest_sets(&tree).into_iter().find_map(|(work, set)| {
            let cause = against(work, set, athlete, world)?;
            let why = match &cause {
                // Which limit it is, is for the member's page: the swap is read by others.
                Against::Limit { .. } => "keeps a limit".to_owned(),
                Against::Skill { capacity } if *capacity < 1.0 => "not there yet".to_owned(),
                Against::Skill { capacity } => {
                    format!("about {capacity:.0} unbroken against sets of {set:.0}")
                }
                Against::Prerequisite { needs } => format!("first {needs}"),
                Against::Load { .. } | Against::Ceiling => return None,
            };
            Some(Swap { rung: rung_for(&work.movement, &cause, set, athlete, world)?, why })
        });
        let Some(swap) = found else { break };
        let again = swaps.iter().any(|known| known.rung.from == swap.rung.from);
        if again || swap.rung.to.iter().any(|(to, _)| *to == swap.rung.from) {
            break;
        }
        tree = replaced(&tree, &swap.rung, world);
        swaps.push(swap);
    }
    swaps
}

/// The first rung that the member can stand on; by the gym's schools where rungs differ in them.
fn rung_for(
    id: &MovementId,
    cause: &Against,
    set: f64,
    athlete: &Athlete<'_>,
    world: &World<'_>,
) -> Option<Rung> {
    let stands = |rung: &Rung| {
        rung.to.iter().all(|(to, factor)| {
            let work = Work::new(to.clone(), Dose::reps((set * factor).round().max(1.0) as u32));
            let blocked = against(&work, set * factor, athlete, world);
            world.catalogue.get(to).is_some() && blocked.is_none_or(|cause| cause.is_too_heavy())
        })
    };
    let rungs: Vec<Rung> = match cause {
        Against::Limit { reasons } => {
            reasons.iter().flat_map(|reason| world.ladders.of(id, reason)).cloned().collect()
        }
        Against::Skill { .. } | Against::Prerequisite { .. } => world.ladders.easier(id).cloned().collect(),
        Against::Load { .. } | Against::Ceiling => return None,
    };
    let rungs = by_school(rungs, world);
    let found = rungs.iter().find(|rung| stands(rung)).cloned();
    if let (None, Against::Limit { .. }) = (&found, cause) {
        // Where no rung stands: whatever of the family keeps every limit, else whatever is nearest to it. What is spared is never
        // given, not even as a guess; `ground` leaves it out where nothing else is left.
        let movement = world.catalogue.get(id)?;
        let kept = |other: &Movement| !Ground::of(athlete.member).spares(other);
        let all_kept = |rung: &&Rung| rung.to.iter().all(|(to, _)| world.catalogue.get(to).is_some_and(kept));
        return same_family(movement, &kept, world)
            .or_else(|| rungs.iter().find(all_kept).cloned())
            .or_else(|| nearest(movement, WHATEVER, &kept, world));
    }
    // For a skill the easiest is the last.
    found.or(rungs.last().cloned())
}

/// Rungs of the gym's schools first, the others behind; a number that keeps another school's promise is worked out
/// anew where the gym wants the time kept.
fn by_school(rungs: Vec<Rung>, world: &World<'_>) -> Vec<Rung> {
    let wanted = match world.gym.swap_school {
        SwapSchool::SameTime => "same_time",
        SwapSchool::FixedRatio => "fixed_ratio",
    };
    let other_push_up = match world.gym.push_up_school {
        PushUpSchool::HandsRaised => "knee-push-up",
        PushUpSchool::Knees => "elevated-push-up",
    };
    let suits = |rung: &Rung| {
        let school = rung.school == wanted || rung.school == "any";
        school && !rung.to.iter().any(|(to, _)| to.as_str() == other_push_up)
    };
    let (mut first, rest): (Vec<Rung>, Vec<Rung>) = rungs.into_iter().partition(suits);
    first.extend(rest.into_iter().map(|rung| {
        let keep = wanted != "same_time" || rung.school != "fixed_ratio";
        if keep { rung } else { in_the_same_time(rung, world) }
    }));
    first
}

/// The same rung with as many repetitions as take the time of the old ones, in the proportion that it has.
fn in_the_same_time(mut rung: Rung, world: &World<'_>) -> Rung {
    let seconds = |id: &MovementId| {
        world.catalogue.get(id).and_then(|movement| movement.seconds_per(movement.unit, 0.5)).unwrap_or(2.0)
    };
    let new: f64 = rung.to.iter().map(|(to, factor)| seconds(to) * factor).sum();
    let scale = seconds(&rung.from) / new.max(0.1);
    for (_, factor) in &mut rung.to {
        *factor = (*factor * scale * 4.0).round().max(1.0) / 4.0;
    }
    rung
}

/// What somebody does in place of a lift that they spare: down the ladders of their limits, else the nearest of its family, what
/// takes a weight before what takes none. None where nothing keeps every limit.
pub fn lift_instead(lift: &Movement, member: &Member, world: &World<'_>) -> Option<MovementId> {
    let rungs = || {
        Ground::of(member).reasons(lift).flat_map(|reason| world.ladders.of(&lift.id, reason)).filter_map(
            |rung| match &rung.to[..] {
                [(to, _)] => world.catalogue.get(to),
                _ => None,
            },
        )
    };
    let kept = |other: &Movement| !Ground::of(member).spares(other);
    let whole = |other: &Movement| other.load_ref.as_ref().is_none_or(|(_, share)| *share >= ISOLATED);
    let weighted = |other: &Movement| kept(other) && other.takes_weight() && whole(other);
    let family = |suits: &dyn Fn(&Movement) -> bool| {
        let near = same_family(lift, suits, world).or_else(|| nearest(lift, WHATEVER, suits, world))?;
        near.to.into_iter().next().map(|(to, _)| to)
    };
    let rung =
        |suits: &dyn Fn(&Movement) -> bool| rungs().find(|other| suits(other)).map(|other| other.id.clone());
    rung(&weighted).or_else(|| rung(&kept)).or_else(|| family(&weighted)).or_else(|| family(&kept))
}

/// What somebody does in place of a lift with their own weight for sets of so many, and why: with nothing hung on it where there are no more
/// than that without, else the first easier movement that they can. None where they can do it.
pub fn lift_they_can(
    lift: &Movement,
    reps: u32,
    member: &Member,
    world: &World<'_>,
) -> Option<(MovementId, String)> {
    if lift.load_kind == LoadKind::Vest {
        let without = lift.prerequisites.iter().find_map(|id| Some((id, member.best(id.as_str())?)));
        let (bare, most) = without.filter(|(_, most)| *most <= reps)?;
        let bare = world.catalogue.get(bare)?;
        let why =
            if most == 0 { "not there yet".to_owned() } else { format!("{most} in a row without a weight") };
        return lift_they_can(bare, reps, member, world).or(Some((bare.id.clone(), why)));
    }
    if lift.takes_weight() || lift.unit != Unit::Reps {
        return None;
    }
    let set = Node::Work(Work::new(lift.id.clone(), Dose::reps(reps.max(1))));
    let swaps = what_cannot_be(&set, &Athlete::new(member), world);
    let (first, last) = (swaps.first()?, swaps.last()?);
    let (to, _) = last.rung.to.first().filter(|(to, _)| *to != lift.id)?;
    let with = last.rung.to[1..].iter().map(|(other, _)| world.catalogue.name(other).to_lowercase());
    let with: String = with.map(|other| format!(", with as many {other}s")).collect();
    Some((to.clone(), format!("{}{with}", first.why)))
}

/// Swaps around a joint (or in pregnancy) for everything in the tree that loads it.
pub(super) fn around(tree: &Node, reason: &str, world: &World<'_>) -> Vec<Swap> {
    let mut seen: Vec<&MovementId> = Vec::new();
    let mut swaps = Vec::new();
    for work in works(tree) {
        let Some(movement) = world.catalogue.get(&work.movement) else { continue };
        if seen.contains(&&work.movement) || !loads(movement, reason) {
            continue;
        }
        seen.push(&work.movement);
        let gentle = |rung: &&Rung| {
            rung.to.iter().all(|(to, _)| world.catalogue.get(to).is_some_and(|m| !loads(m, reason)))
        };
        let rung = world.ladders.of(&work.movement, reason).find(gentle);
        let rung = rung.or_else(|| world.ladders.of(&work.movement, reason).next()).cloned();
        if let Some(rung) = rung.or_else(|| same_family(movement, &|other| !loads(other, reason), world)) {
            swaps.push(Swap { rung, why: "keeps a limit".to_owned() });
        }
    }
    swaps
}

/// Swaps to what a kit allows, by the ladders for home, equipment and space, else to the nearest movement of the
/// family that needs nothing.
pub(super) fn to_home(tree: &Node, kit: &HomeKit, world: &World<'_>) -> Vec<Swap> {
    let mut swaps: Vec<Swap> = Vec::new();
    for work in works(tree) {
        let Some(movement) = world.catalogue.get(&work.movement) else { continue };
        if kit.allows(movement) || swaps.iter().any(|swap| swap.rung.from == work.movement) {
            continue;
        }
        if let Some(rung) = at_home(movement, kit, world) {
            swaps.push(Swap { rung, why: format!("with {} at home", kit.name) });
        }
    }
    swaps
}

/// What a movement becomes with what is at home, by the ladders for home, equipment and space, else the nearest of its family.
pub fn at_home(movement: &Movement, kit: &HomeKit, world: &World<'_>) -> Option<Rung> {
    let fits = |rung: &Rung| {
        rung.to.iter().all(|(to, _)| world.catalogue.get(to).is_some_and(|movement| kit.allows(movement)))
    };
    let rank = |rung: &Rung| match rung.reason.as_str() {
        "home" => 0,
        "equipment" => 1,
        "space" => 2,
        _ => 3,
    };
    let mut wave: Vec<Rung> = world.ladders.all(&movement.id).cloned().collect();
    for _ in 0..MOST_STEPS {
        wave.sort_by_key(rank);
        if let Some(found) = wave.iter().find(|rung| fits(rung)) {
            return Some(found.clone());
        }
        // One step further along those that lead to a single movement.
        wave = wave.iter().flat_map(|rung| further(rung, world)).collect();
    }
    same_family(movement, &|other| kit.allows(other), world)
}

fn further(rung: &Rung, world: &World<'_>) -> Vec<Rung> {
    let [(to, factor)] = &rung.to[..] else { return Vec::new() };
    let next = world.ladders.all(to).filter(|next| next.to.iter().all(|(id, _)| *id != rung.from));
    next.map(|next| Rung {
        from: rung.from.clone(),
        to: next.to.iter().map(|(id, share)| (id.clone(), share * factor)).collect(),
        ..next.clone()
    })
    .collect()
}

/// Families that are looked through in turn where nothing of a movement's own is left.
const WHATEVER: &[Pattern] = &[
    Pattern::Squat,
    Pattern::Hinge,
    Pattern::PressHorizontal,
    Pattern::PullHorizontal,
    Pattern::PressVertical,
    Pattern::Core,
    Pattern::Lunge,
    Pattern::Engine,
];

/// The movement of the same family that works the same muscles most alike, for the same time.
fn same_family(movement: &Movement, suits: &dyn Fn(&Movement) -> bool, world: &World<'_>) -> Option<Rung> {
    let families: &[Pattern] = match movement.pattern {
        Pattern::Engine | Pattern::Carry => &[Pattern::Jump, Pattern::Burpee],
        Pattern::PullVertical | Pattern::PullHorizontal => {
            &[Pattern::PullHorizontal, Pattern::PressHorizontal]
        }
        Pattern::Olympic => &[Pattern::Olympic, Pattern::Burpee, Pattern::Squat],
        Pattern::PressVertical => &[Pattern::PressVertical, Pattern::PressHorizontal],
        _ => std::slice::from_ref(&movement.pattern),
    };
    nearest(movement, families, suits, world)
}

/// The movement of the first of these families that holds one, the one that works the same muscles most alike, for the same time.
fn nearest(
    movement: &Movement,
    families: &[Pattern],
    suits: &dyn Fn(&Movement) -> bool,
    world: &World<'_>,
) -> Option<Rung> {
    let alike = |other: &Movement| -> f64 {
        let apart = |muscle: &str| (movement.muscle(muscle) - other.muscle(muscle)).abs();
        crate::pacing::MUSCLES.iter().map(|muscle| apart(muscle)).sum()
    };
    let candidates = |family: &Pattern| {
        let family = *family;
        let counted = |other: &&Movement| {
            other.unit == Unit::Reps || family == Pattern::Engine && other.unit == Unit::Calories
        };
        world
            .catalogue
            .iter()
            .filter(move |other| other.pattern == family && other.skill <= 1)
            .filter(counted)
            .filter(|other| suits(other) && other.id != movement.id)
            .min_by(|a, b| alike(a).total_cmp(&alike(b)).then(a.id.cmp(&b.id)))
    };
    let to = families.iter().find_map(candidates)?;
    let factor = movement.seconds_per(movement.unit, 0.5)? / to.seconds_per(to.unit, 0.5)?;
    Some(Rung {
        from: movement.id.clone(),
        to: vec![(to.id.clone(), factor)],
        reason: "home".to_owned(),
        school: "same_time".to_owned(),
        load_note: String::new(),
        cue: String::new(),
    })
}

/// The tree with one rung taken, for looking at what it asks; loads do not matter here.
fn replaced(tree: &Node, rung: &Rung, world: &World<'_>) -> Node {
    super::rewrite::swap(tree, rung, 1.0, None, world.gym, world.catalogue, "").0
}
