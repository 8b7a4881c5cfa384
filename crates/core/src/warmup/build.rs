//! Choosing items: what the day demands, spent where it counts, within the minutes.

use serde::Serialize;

use super::items::{Phase, WarmupItem, standard_items};
use crate::movement::{Catalogue, MovementId, Pattern};
use crate::session::{PartKind, Session, works};

/// Seconds to say and show one item.
const EXPLAIN_S: u32 = 8;
/// Shares of the minutes for raise, mobilise, activate and rehearse; common practice for 8-12 minutes.
const SHARES: [(Phase, f64); 4] =
    [(Phase::Raise, 0.28), (Phase::Mobilise, 0.24), (Phase::Activate, 0.22), (Phase::SkillPrimer, 0.26)];

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
    /// Demanded patterns that no item prepares.
    pub gaps: Vec<String>,
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

/// A warm-up for the day in about `seconds`.
pub fn build_warmup(session: &Session, seconds: u32, catalogue: &Catalogue) -> Warmup {
    let demands = demands(session, catalogue);
    if demands.is_empty() {
        return Warmup::default();
    }
    let mut chosen: Vec<&WarmupItem> = Vec::new();
    let mut left: Vec<f64> = demands.iter().map(|demand| demand.weight).collect();
    let mut covered: Vec<String> = Vec::new();
    let mut spent = 0;
    for (phase, share) in SHARES {
        let budget = (f64::from(seconds) * share) as u32;
        let mut used = 0;
        while let Some(item) = best_item(phase, &demands, &left, &chosen, &covered, catalogue) {
            let cost = item.seconds + EXPLAIN_S;
            let over = used + cost > budget + 25 || spent + cost > seconds + 30;
            if over && used > 0 {
                break;
            }
            used += cost;
            spent += cost;
            pay(item, &demands, &mut left, catalogue);
            covered.extend(item.targets.iter().cloned());
            chosen.push(item);
            if used >= budget {
                break;
            }
        }
        // What a phase has prepared counts less for its own next items, not for the next phase.
        left = demands.iter().map(|demand| demand.weight).collect();
    }
    let mut blocks = blocks(&chosen, &demands, catalogue);
    let fitted = fit(&mut blocks, seconds);
    let gaps = gaps(&demands, &chosen, catalogue);
    Warmup { seconds: fitted, blocks, gaps }
}

/// The item of a phase that prepares most of what is still asked for, for its time.
fn best_item(
    phase: Phase,
    demands: &[Demand],
    left: &[f64],
    chosen: &[&WarmupItem],
    covered: &[String],
    catalogue: &Catalogue,
) -> Option<&'static WarmupItem> {
    let belongs = |item: &WarmupItem| {
        item.phase == phase || (phase == Phase::SkillPrimer && item.phase == Phase::BarbellPrimer)
    };
    let score = |item: &WarmupItem| {
        let gain: f64 =
            demands.iter().zip(left).map(|(demand, left)| left * relevance(item, demand, catalogue)).sum();
        let fresh = item.targets.iter().filter(|target| !covered.contains(target)).count() as f64;
        let kit = item.equipment.iter().all(|kit| kit == "floor_space" || in_use(kit, demands, catalogue));
        gain * (1.0 + 0.15 * fresh) * if kit { 1.2 } else { 0.8 } / (30.0 + f64::from(item.seconds))
    };
    standard_items()
        .iter()
        .filter(|item| belongs(item) && !chosen.iter().any(|known| known.id == item.id))
        .map(|item| (score(item), item))
        .filter(|(score, _)| *score > 0.0)
        .max_by(|(a, one), (b, other)| a.total_cmp(b).then(other.id.cmp(&one.id)))
        .map(|(_, item)| item)
}

fn in_use(kit: &str, demands: &[Demand], catalogue: &Catalogue) -> bool {
    demands
        .iter()
        .filter_map(|demand| catalogue.get(&demand.movement))
        .any(|m| m.equipment.iter().any(|k| k == kit))
}

/// How well an item prepares a movement, 0 to 1: named for it, for its pattern, or for a joint that it asks
/// much of. Modelling choice; what is named for a movement goes before what merely suits it.
fn relevance(item: &WarmupItem, demand: &Demand, catalogue: &Catalogue) -> f64 {
    if item.prepares.contains(&demand.movement) {
        return 1.0;
    }
    let Some(movement) = catalogue.get(&demand.movement) else { return 0.0 };
    let pattern = key(movement.pattern);
    if item.targets.contains(&pattern) {
        0.35
    } else if item.targets.iter().any(|target| movement.joint(target) >= 0.4) {
        0.2
    } else {
        0.0
    }
}

fn pay(item: &WarmupItem, demands: &[Demand], left: &mut [f64], catalogue: &Catalogue) {
    for (demand, left) in demands.iter().zip(left) {
        *left *= 1.0 - 0.65 * relevance(item, demand, catalogue);
    }
}

fn blocks(chosen: &[&WarmupItem], demands: &[Demand], catalogue: &Catalogue) -> Vec<Block> {
    let mut blocks: Vec<Block> = Vec::new();
    for (phase, _) in SHARES.iter().chain(&[(Phase::BarbellPrimer, 0.0)]) {
        // File order is teaching order: a drill's first step stands before its second.
        let items: Vec<Item> = standard_items()
            .iter()
            .filter(|item| item.phase == *phase && chosen.iter().any(|known| known.id == item.id))
            .map(|item| Item {
                name: item.name.clone(),
                dose: item.dose.clone(),
                seconds: item.seconds + EXPLAIN_S,
                prepares: demands
                    .iter()
                    .filter(|demand| relevance(item, demand, catalogue) > 0.0)
                    .map(|demand| catalogue.name(&demand.movement).to_lowercase())
                    .collect(),
                cue: item.cue.clone(),
            })
            .collect();
        if !items.is_empty() {
            blocks.push(Block { phase: *phase, items });
        }
    }
    blocks
}

/// Longest that one item is stretched to, in seconds; shortest that it is pressed to.
const ITEM_S: (i64, i64) = (20, 240);

/// Spreads what is left of the minutes, or takes the overhang off, over the items phase by phase: the first
/// phase's doses are the easiest to stretch. An item that has become twice as long says that it is done twice.
fn fit(blocks: &mut [Block], seconds: u32) -> u32 {
    let sum =
        |blocks: &[Block]| blocks.iter().flat_map(|block| &block.items).map(|item| item.seconds).sum::<u32>();
    for n in 0..blocks.len() {
        let left = i64::from(seconds) - i64::from(sum(blocks));
        let items = &mut blocks[n].items;
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

fn gaps(demands: &[Demand], chosen: &[&WarmupItem], catalogue: &Catalogue) -> Vec<String> {
    let mut gaps: Vec<String> = Vec::new();
    for demand in demands {
        let Some(movement) = catalogue.get(&demand.movement) else { continue };
        let pattern = movement.pattern;
        let by_pattern = chosen.iter().any(|item| item.targets.iter().any(|target| *target == key(pattern)));
        let by_movement = chosen.iter().any(|item| item.prepares.contains(&demand.movement));
        let name = pattern.name().to_owned();
        if !by_pattern && !by_movement && !gaps.contains(&name) {
            gaps.push(name);
        }
    }
    gaps
}

fn key(pattern: Pattern) -> String {
    serde_json::to_value(pattern).ok().and_then(|value| value.as_str().map(str::to_owned)).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::read::read;

    #[test]
    fn a_warm_up_raises_before_it_rehearses_and_names_what_it_prepares() {
        let catalogue = Catalogue::standard();
        let session = read(
            "Strength\nBack squat 5x3 @ 80%\n\nConditioning\n21-15-9 for time\nthrusters 40/30 kg\npull-ups",
            catalogue,
        )
        .session;
        let warmup = build_warmup(&session, 600, catalogue);
        assert!(warmup.seconds.abs_diff(600) <= 60, "{}", warmup.seconds);
        assert_eq!(warmup.blocks[0].phase, Phase::Raise);
        assert!(warmup.blocks.iter().flat_map(|block| &block.items).all(|item| !item.prepares.is_empty()));
        assert_eq!(warmup.gaps, [""; 0]);
    }

    #[test]
    fn a_day_without_work_needs_no_warm_up() {
        assert_eq!(build_warmup(&Session::default(), 600, Catalogue::standard()), Warmup::default());
    }
}
