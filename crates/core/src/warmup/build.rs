//! Choosing items: what the day demands, spent where it counts, within the minutes.

use serde::Serialize;

use super::edits::Edits;
use super::items::{Phase, WarmupItem, standard_items};
use crate::movement::{Catalogue, MovementId, Pattern};
use crate::session::{PartKind, Session, totals, works};

/// Seconds to say and show one item.
const EXPLAIN_S: u32 = 8;
/// Shares of the minutes for raise, mobilise, activate and rehearse; common practice for 8-12 minutes.
const SHARES: [(Phase, f64); 4] =
    [(Phase::Raise, 0.28), (Phase::Mobilise, 0.24), (Phase::Activate, 0.22), (Phase::SkillPrimer, 0.26)];

/// The shares when the coach's own text has raised the pulse already.
const SHARES_AFTER_OWN: [(Phase, f64); 3] =
    [(Phase::Mobilise, 0.32), (Phase::Activate, 0.30), (Phase::SkillPrimer, 0.38)];
/// Seconds for what only the conditioning needs, right before it.
const SPECIFIC_S: u32 = 180;
/// Less than this left beside the coach's own text is not filled up.
const WORTH_FILLING_S: u32 = 45;

/// What is asked of a warm-up.
#[derive(Clone, Copy, Debug)]
pub struct WarmupRequest<'a> {
    /// The day.
    pub session: &'a Session,
    /// Seconds given.
    pub seconds: u32,
    /// What the coach has changed.
    pub edits: &'a Edits,
    /// Items for which the gym has nothing today, by id: taken only where the coach keeps them.
    pub lacks: &'a [String],
    /// Movements.
    pub catalogue: &'a Catalogue,
}

/// A movement of the day and how much it asks for.
#[derive(Clone, Debug, PartialEq)]
pub struct Demand {
    /// The movement.
    pub movement: MovementId,
    /// Its weight: skill, complexity and load count, and so does appearing twice.
    pub weight: f64,
}

/// A warm-up in blocks.
#[derive(Clone, Debug, Default, PartialEq, Serialize)]
pub struct Warmup {
    /// Seconds in all.
    pub seconds: u32,
    /// Blocks in order.
    pub blocks: Vec<Block>,
    /// What only the conditioning needs, done right before it and not counted in `seconds`.
    pub specific: Option<Block>,
    /// Demanded patterns that no item prepares.
    pub gaps: Vec<String>,
    /// Items for which the gym has nothing today, by id.
    #[serde(skip)]
    pub lacks: Vec<String>,
}

/// Items of one phase.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Block {
    /// The phase.
    pub phase: Phase,
    /// Items in order.
    pub items: Vec<Item>,
}

/// One chosen item.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Item {
    /// Its identity among the items; empty for the coach's own text.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub id: String,
    /// Whether a rebuild keeps it.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub locked: bool,
    /// Its name.
    pub name: String,
    /// How much.
    pub dose: String,
    /// Seconds, explaining included.
    pub seconds: u32,
    /// Movements of the day that it prepares.
    #[serde(rename = "for")]
    pub prepares: Vec<String>,
    /// What to say.
    pub cue: String,
}

/// What the day asks for, heaviest demand first. Warm-up, mobility and home parts ask for nothing.
pub fn demands(session: &Session, catalogue: &Catalogue) -> Vec<Demand> {
    let mut demands: Vec<Demand> = Vec::new();
    let parts = session.parts.iter().filter(|part| {
        matches!(
            part.kind,
            PartKind::Strength | PartKind::Conditioning | PartKind::Skill | PartKind::Accessory
        )
    });
    for part in parts {
        let small = part.kind == PartKind::Accessory;
        for work in works(&part.tree) {
            let Some(movement) = catalogue.get(&work.movement) else { continue };
            let heavy = if part.kind == PartKind::Strength { 2.0 } else { 0.0 };
            let weight = 1.0 + f64::from(movement.skill) + f64::from(movement.complexity) * 0.5 + heavy;
            let weight = if small { weight * 0.3 } else { weight };
            match demands.iter_mut().find(|demand| demand.movement == work.movement) {
                Some(demand) => demand.weight += 0.5 * weight,
                None => demands.push(Demand { movement: work.movement.clone(), weight }),
            }
        }
    }
    demands.sort_by(|a, b| b.weight.total_cmp(&a.weight).then(a.movement.cmp(&b.movement)));
    demands
}

/// A warm-up for the day in about the seconds given. The coach's own text stands first and is completed; locked
/// items stay; refused ones do not come back.
pub fn build_warmup(request: WarmupRequest<'_>) -> Warmup {
    let WarmupRequest { session, seconds, edits, lacks, catalogue } = request;
    let lacks = lacks.to_vec();
    let all = demands(session, catalogue);
    if all.is_empty() {
        return Warmup { lacks, ..Warmup::default() };
    }
    let mut edits = edits.clone();
    edits.refused.extend(lacks.iter().cloned());
    let edits = &edits;
    let (main, before_piece) = split_demands(session, all, catalogue);
    let own = own_text(session, &main, catalogue);
    let own_s: u32 = own.iter().map(|item| item.seconds).sum();
    let left = seconds.saturating_sub(own_s);
    let chosen = if own.is_empty() {
        choose(&SHARES, &main, left, edits, catalogue)
    } else if left >= WORTH_FILLING_S {
        choose(&SHARES_AFTER_OWN, &main, left, edits, catalogue)
    } else {
        Vec::new()
    };
    let mut blocks = blocks(&chosen, &main, edits, catalogue);
    let fitted = fit(&mut blocks, left, edits);
    if !own.is_empty() {
        blocks.insert(0, Block { phase: Phase::Own, items: own });
    }
    let specific = specific(&before_piece, &chosen, edits, catalogue);
    let last = specific.iter().flat_map(|block| &block.items).map(|item| item.id.as_str());
    let named = chosen.iter().map(|item| item.id.as_str()).chain(last).collect::<Vec<_>>();
    let everything: Vec<Demand> = main.iter().chain(&before_piece).cloned().collect();
    let gaps = super::coverage::gaps(&everything, &named, session, catalogue);
    Warmup { seconds: own_s + fitted, blocks, specific, gaps, lacks }
}

/// What the lifts and skills need goes into the warm-up; what only a later piece needs is rehearsed right before
/// it, unless there is nothing before it.
fn split_demands(session: &Session, all: Vec<Demand>, catalogue: &Catalogue) -> (Vec<Demand>, Vec<Demand>) {
    let in_kind = |kinds: &[PartKind], id: &MovementId| {
        session
            .parts
            .iter()
            .filter(|part| kinds.contains(&part.kind))
            .any(|part| works(&part.tree).iter().any(|work| work.movement == *id))
    };
    let lifts = session.parts.iter().any(|part| matches!(part.kind, PartKind::Strength | PartKind::Skill));
    let (later, main): (Vec<Demand>, Vec<Demand>) = all.into_iter().partition(|demand| {
        lifts
            && in_kind(&[PartKind::Conditioning], &demand.movement)
            && !in_kind(&[PartKind::Strength, PartKind::Skill], &demand.movement)
            && catalogue.get(&demand.movement).is_some_and(|m| !m.is_engine())
    });
    if main.is_empty() { (later, Vec::new()) } else { (main, later) }
}

/// The coach's own warm-up, with the time that a regular takes for it.
fn own_text(session: &Session, demands: &[Demand], catalogue: &Catalogue) -> Vec<Item> {
    let own = session.parts.iter().filter(|part| part.kind == PartKind::Warmup);
    own.flat_map(|part| totals(&part.tree))
        .filter_map(|total| {
            let movement = catalogue.get(&total.movement)?;
            let seconds = movement.seconds_per(total.unit, 0.4)? * total.amount + movement.setup_s;
            let prepares = demands.iter().filter(|demand| {
                catalogue.get(&demand.movement).is_some_and(|m| m.pattern == movement.pattern)
                    || demand.movement == movement.id
            });
            Some(Item {
                id: String::new(),
                locked: true,
                name: movement.name.clone(),
                dose: format!("{}{}", crate::units::plain(total.amount), total.unit.short()),
                seconds: seconds.clamp(10.0, 600.0) as u32,
                prepares: prepares.map(|demand| catalogue.name(&demand.movement).to_lowercase()).collect(),
                cue: "As the session says.".to_owned(),
            })
        })
        .collect()
}

/// Items phase by phase: locked ones first, then the best for what is still asked for.
fn choose(
    shares: &[(Phase, f64)],
    demands: &[Demand],
    seconds: u32,
    edits: &Edits,
    catalogue: &Catalogue,
) -> Vec<&'static WarmupItem> {
    let mut chosen: Vec<&WarmupItem> = Vec::new();
    let mut left: Vec<f64> = demands.iter().map(|demand| demand.weight).collect();
    let mut covered: Vec<String> = Vec::new();
    let mut spent = 0;
    for &(phase, share) in shares {
        let budget = (f64::from(seconds) * share) as u32;
        let mut used = 0;
        let mut kept = standard_items()
            .iter()
            .filter(|item| belongs(item, phase) && edits.locked.contains(&item.id))
            .collect::<Vec<_>>()
            .into_iter();
        loop {
            let (item, locked) = match kept.next() {
                Some(item) => (item, true),
                None => match best_item(phase, demands, &left, &chosen, &covered, edits, catalogue) {
                    Some(item) => (item, false),
                    None => break,
                },
            };
            let cost = item.seconds + EXPLAIN_S;
            let over = used + cost > budget + 25 || spent + cost > seconds + 30;
            if over && used > 0 && !locked {
                break;
            }
            used += cost;
            spent += cost;
            pay(item, demands, &mut left, catalogue);
            covered.extend(item.targets.iter().cloned());
            chosen.push(item);
            if used >= budget && kept.len() == 0 {
                break;
            }
        }
        // What a phase has prepared counts less for its own next items, not for the next phase.
        left = demands.iter().map(|demand| demand.weight).collect();
    }
    chosen
}

/// Up to three rehearsals of what only the piece needs.
fn specific(
    demands: &[Demand],
    chosen: &[&WarmupItem],
    edits: &Edits,
    catalogue: &Catalogue,
) -> Option<Block> {
    let mut taken: Vec<&WarmupItem> = chosen.to_vec();
    let mut left: Vec<f64> = demands.iter().map(|demand| demand.weight).collect();
    let mut spent = 0;
    while let Some(item) = best_item(Phase::SkillPrimer, demands, &left, &taken, &[], edits, catalogue) {
        let cost = item.seconds + EXPLAIN_S;
        if spent + cost > SPECIFIC_S {
            break;
        }
        spent += cost;
        pay(item, demands, &mut left, catalogue);
        taken.push(item);
    }
    // File order is teaching order here too.
    let new = &taken[chosen.len()..];
    let items: Vec<Item> = standard_items()
        .iter()
        .filter(|item| new.iter().any(|known| known.id == item.id))
        .map(|item| planned(item, demands, edits, catalogue))
        .collect();
    (!items.is_empty()).then_some(Block { phase: Phase::SkillPrimer, items })
}

fn belongs(item: &WarmupItem, phase: Phase) -> bool {
    item.phase == phase || (phase == Phase::SkillPrimer && item.phase == Phase::BarbellPrimer)
}

/// The item of a phase that prepares most of what is still asked for, for its time.
fn best_item(
    phase: Phase,
    demands: &[Demand],
    left: &[f64],
    chosen: &[&WarmupItem],
    covered: &[String],
    edits: &Edits,
    catalogue: &Catalogue,
) -> Option<&'static WarmupItem> {
    let own = |item: &WarmupItem| demands.iter().any(|demand| item.prepares.contains(&demand.movement));
    // Where there are drills of the day's own lifts, those that lead up to other lifts stay away.
    let own_only = phase.is_drill() && standard_items().iter().any(|item| belongs(item, phase) && own(item));
    standard_items()
        .iter()
        .filter(|item| belongs(item, phase) && !chosen.iter().any(|known| known.id == item.id))
        .filter(|item| !edits.refused.contains(&item.id) && !edits.locked.contains(&item.id))
        .filter(|item| !own_only || own(item))
        .map(|item| (worth(item, demands, left, covered, catalogue), item))
        .filter(|(score, _)| *score > 0.0)
        .max_by(|(a, one), (b, other)| a.total_cmp(b).then(other.id.cmp(&one.id)))
        .map(|(_, item)| item)
}

/// What an item gives for its time: what it prepares, the fresh targets it adds, and kit that is out anyway.
pub(super) fn worth(
    item: &WarmupItem,
    demands: &[Demand],
    left: &[f64],
    covered: &[String],
    catalogue: &Catalogue,
) -> f64 {
    let gain: f64 =
        demands.iter().zip(left).map(|(demand, left)| left * relevance(item, demand, catalogue)).sum();
    let fresh = item.targets.iter().filter(|target| !covered.contains(target)).count() as f64;
    let kit = item.equipment.iter().all(|kit| kit == "floor_space" || in_use(kit, demands, catalogue));
    gain * (1.0 + 0.15 * fresh) * if kit { 1.2 } else { 0.8 } / (30.0 + f64::from(item.seconds))
}

fn in_use(kit: &str, demands: &[Demand], catalogue: &Catalogue) -> bool {
    demands
        .iter()
        .filter_map(|demand| catalogue.get(&demand.movement))
        .any(|m| m.equipment.iter().any(|k| k == kit))
}

/// How well an item prepares a movement, 0 to 1: named for it, for its pattern, or for a joint that it asks
/// much of. Modelling choice; what is named for a movement goes before what merely suits it.
pub(super) fn relevance(item: &WarmupItem, demand: &Demand, catalogue: &Catalogue) -> f64 {
    if item.prepares.contains(&demand.movement) {
        return 1.0;
    }
    let Some(movement) = catalogue.get(&demand.movement) else { return 0.0 };
    let pattern = key(movement.pattern);
    // A drill that leads up to other lifts rehearses next to nothing of this one.
    let share = if item.phase.is_drill() { 0.1 } else { 1.0 };
    if item.targets.contains(&pattern) {
        0.35 * share
    } else if item.targets.iter().any(|target| movement.joint(target) >= 0.4) {
        0.2 * share
    } else {
        0.0
    }
}

fn pay(item: &WarmupItem, demands: &[Demand], left: &mut [f64], catalogue: &Catalogue) {
    for (demand, left) in demands.iter().zip(left) {
        *left *= 1.0 - 0.65 * relevance(item, demand, catalogue);
    }
}

fn blocks(chosen: &[&WarmupItem], demands: &[Demand], edits: &Edits, catalogue: &Catalogue) -> Vec<Block> {
    let mut blocks: Vec<Block> = Vec::new();
    for (phase, _) in SHARES.iter().chain(&[(Phase::BarbellPrimer, 0.0)]) {
        // File order is teaching order: a drill's first step stands before its second.
        let mut items: Vec<Item> = standard_items()
            .iter()
            .filter(|item| item.phase == *phase && chosen.iter().any(|known| known.id == item.id))
            .map(|item| planned(item, demands, edits, catalogue))
            .collect();
        // The coach's order goes before; what is new since then follows.
        items.sort_by_key(|item| edits.order.iter().position(|id| *id == item.id).unwrap_or(usize::MAX));
        if !items.is_empty() {
            blocks.push(Block { phase: *phase, items });
        }
    }
    blocks
}

fn planned(item: &WarmupItem, demands: &[Demand], edits: &Edits, catalogue: &Catalogue) -> Item {
    let dose = edits.doses.get(&item.id);
    let own = |demand: &Demand| item.prepares.contains(&demand.movement);
    let named = item.phase.is_drill() && demands.iter().any(own);
    Item {
        id: item.id.clone(),
        locked: edits.locked.contains(&item.id),
        name: item.name.clone(),
        dose: dose.unwrap_or(&item.dose).clone(),
        seconds: dose.map_or(item.seconds, |dose| scaled(item, dose)) + EXPLAIN_S,
        prepares: demands
            .iter()
            .filter(|demand| if named { own(demand) } else { relevance(item, demand, catalogue) > 0.0 })
            .map(|demand| catalogue.name(&demand.movement).to_lowercase())
            .collect(),
        cue: item.cue.clone(),
    }
}

/// Seconds of a dose in the coach's words: twice the number takes twice as long.
fn scaled(item: &WarmupItem, dose: &str) -> u32 {
    let number = |text: &str| -> Option<f64> {
        let digits: String = text.chars().take_while(|c| c.is_ascii_digit() || *c == '.').collect();
        digits.parse().ok().filter(|n| *n > 0.0)
    };
    match (number(&item.dose), number(dose)) {
        (Some(usual), Some(wanted)) => (f64::from(item.seconds) * wanted / usual).clamp(5.0, 600.0) as u32,
        _ => item.seconds,
    }
}

/// Longest that one item is stretched to, in seconds; shortest that it is pressed to.
const ITEM_S: (i64, i64) = (20, 240);

/// Spreads what is left of the minutes, or takes the overhang off, over the items phase by phase: the first
/// phase's doses are the easiest to stretch. An item that has become twice as long says that it is done twice.
fn fit(blocks: &mut [Block], seconds: u32, edits: &Edits) -> u32 {
    let sum =
        |blocks: &[Block]| blocks.iter().flat_map(|block| &block.items).map(|item| item.seconds).sum::<u32>();
    for n in 0..blocks.len() {
        let left = i64::from(seconds) - i64::from(sum(blocks));
        // A dose that the coach has set stays as it is.
        let items: Vec<&mut Item> =
            blocks[n].items.iter_mut().filter(|item| !edits.doses.contains_key(&item.id)).collect();
        let each = left / items.len().max(1) as i64;
        for item in items {
            let before = item.seconds;
            item.seconds = (i64::from(before) + each).clamp(ITEM_S.0, ITEM_S.1) as u32;
            let times = item.seconds / before.max(1);
            if times >= 2 {
                item.dose = format!("{times} times {}", item.dose);
            }
        }
    }
    sum(blocks)
}

pub(super) fn key(pattern: Pattern) -> String {
    serde_json::to_value(pattern).ok().and_then(|value| value.as_str().map(str::to_owned)).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::read::read;

    fn built(session: &Session, edits: &Edits) -> Warmup {
        build_warmup(WarmupRequest {
            session,
            seconds: 600,
            edits,
            lacks: &[],
            catalogue: Catalogue::standard(),
        })
    }

    fn ids(warmup: &Warmup) -> Vec<String> {
        warmup.blocks.iter().flat_map(|block| &block.items).map(|item| item.id.clone()).collect()
    }

    const DAY: &str =
        "Strength\nBack squat 5x3 @ 80%\n\nConditioning\n21-15-9 for time\nthrusters 40/30 kg\npull-ups";

    #[test]
    fn a_warm_up_raises_before_it_rehearses_and_names_what_it_prepares() {
        let catalogue = Catalogue::standard();
        let session = read(DAY, catalogue).session;
        let warmup = built(&session, &Edits::default());
        assert!(warmup.seconds.abs_diff(600) <= 60, "{}", warmup.seconds);
        assert_eq!(warmup.blocks[0].phase, Phase::Raise);
        assert!(warmup.blocks.iter().flat_map(|block| &block.items).all(|item| !item.prepares.is_empty()));
        assert_eq!(warmup.gaps, [""; 0]);
    }

    #[test]
    fn a_day_without_work_needs_no_warm_up() {
        assert_eq!(built(&Session::default(), &Edits::default()), Warmup::default());
    }

    #[test]
    fn what_only_the_piece_needs_is_rehearsed_right_before_it() {
        let session = read(DAY, Catalogue::standard()).session;
        let specific = built(&session, &Edits::default()).specific.unwrap();
        assert!(specific.items.iter().all(|item| !item.prepares.iter().any(|name| name == "back squat")));
        assert!(specific.items.iter().any(|item| item.prepares.iter().any(|name| name == "pull-up")));
    }

    #[test]
    fn drills_are_of_the_days_own_lifts_and_in_teaching_order() {
        let session = read(DAY, Catalogue::standard()).session;
        let warmup = built(&session, &Edits::default());
        let blocks = warmup.blocks.iter().filter(|block| block.phase.is_drill()).chain(&warmup.specific);
        let mut drills = 0;
        for block in blocks {
            let places: Vec<usize> = block
                .items
                .iter()
                .map(|item| standard_items().iter().position(|known| known.id == item.id).unwrap())
                .collect();
            assert!(places.is_sorted(), "{:?}", block.items);
            for place in places {
                let item = &standard_items()[place];
                let own = ["back-squat", "thruster", "pull-up"];
                assert!(item.prepares.iter().any(|id| own.contains(&id.as_str())), "{}", item.name);
                drills += 1;
            }
        }
        assert!(drills >= 4, "{drills}");
    }

    #[test]
    fn a_rebuild_keeps_what_is_locked_and_does_not_bring_back_what_was_refused() {
        let session = read(DAY, Catalogue::standard()).session;
        let before = ids(&built(&session, &Edits::default()));
        let mut edits = Edits::default();
        edits.refuse(&before[0]);
        edits.keep("cat-cow-flow");
        edits.dose("cat-cow-flow", "20 reps");
        // Another day's work: what was locked stays all the same.
        for text in [DAY, "AMRAP 12\n10 burpees\n12 deadlifts 60/40 kg"] {
            let session = read(text, Catalogue::standard()).session;
            let warmup = built(&session, &edits);
            let after = ids(&warmup);
            assert!(after.contains(&"cat-cow-flow".to_owned()) && !after.contains(&before[0]), "{after:?}");
            let kept =
                warmup.blocks.iter().flat_map(|block| &block.items).find(|item| item.id == "cat-cow-flow");
            assert_eq!(kept.unwrap().dose, "20 reps");
            assert!(warmup.seconds.abs_diff(600) <= 60, "{}", warmup.seconds);
        }
    }

    #[test]
    fn the_order_of_the_coach_is_kept() {
        let session = read(DAY, Catalogue::standard()).session;
        let warmup = built(&session, &Edits::default());
        let block = warmup.blocks.iter().find(|block| block.items.len() > 1).unwrap();
        let second = block.items[1].id.clone();
        let mut edits = Edits::default();
        let (other, seen) = Edits::neighbour(&warmup, &second, false).unwrap();
        edits.exchange(&second, &other, &seen);
        let again = built(&session, &edits);
        let block = again.blocks.iter().find(|known| known.phase == block.phase).unwrap();
        assert_eq!(block.items[0].id, second);
    }

    #[test]
    fn own_text_is_completed_and_not_replaced() {
        let text = format!("Warm-up\n2 rounds\n250 m row\n10 air squats\n\n{DAY}");
        let session = read(&text, Catalogue::standard()).session;
        let warmup = built(&session, &Edits::default());
        assert_eq!(warmup.blocks[0].phase, Phase::Own);
        let own: Vec<&str> = warmup.blocks[0].items.iter().map(|item| item.name.as_str()).collect();
        assert_eq!(own, ["Row", "Air squat"]);
        assert!(warmup.blocks.len() > 1 && warmup.blocks.iter().all(|block| block.phase != Phase::Raise));
        assert!(warmup.seconds.abs_diff(600) <= 60, "{}", warmup.seconds);
    }
}
