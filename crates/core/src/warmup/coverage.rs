//! What is prepared by what, and how to come down after.

use std::sync::Arc;

use serde::Serialize;

use super::Warmup;
use super::build::called;
use super::demand::{DEMANDED, Demand, asks_for, demands, key, need};
use super::edits::Edits;
use super::items::{Phase, WarmupItem, standard_items};
use crate::movement::{Catalogue, Pattern};
use crate::session::Session;

/// Most alternatives offered.
const MOST_ALTERNATIVES: usize = 6;
/// Items suggested for after class.
const COOL_DOWN_ITEMS: usize = 3;

/// Something that the day demands, and the items that prepare it.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Covered {
    /// A pattern or a joint, in words.
    pub what: String,
    /// Whether it is a joint.
    pub joint: bool,
    /// Movements of the day that ask for it.
    pub asked_by: Vec<String>,
    /// Names of the items; none is a gap.
    pub by: Vec<String>,
}

/// Every demanded pattern and joint, patterns first.
pub fn coverage(session: &Session, warmup: &Warmup, catalogue: &Catalogue) -> Vec<Covered> {
    rows(&demands(session, catalogue), warmup, catalogue)
}

/// Demanded patterns that nothing prepares.
pub(super) fn gaps(demands: &[Demand], warmup: &Warmup, catalogue: &Catalogue) -> Vec<String> {
    let open = |row: &Covered| row.by.is_empty() && !row.joint;
    rows(demands, warmup, catalogue).into_iter().filter(open).map(|row| row.what).collect()
}

fn rows(demands: &[Demand], warmup: &Warmup, catalogue: &Catalogue) -> Vec<Covered> {
    let row = |(target, joint): (String, bool)| {
        let asked = |demand: &&Demand| asks_for(&demand.movement, &target, catalogue);
        let asked: Vec<&Demand> = demands.iter().filter(asked).collect();
        let mut by: Vec<String> = Vec::new();
        let does = |item: &WarmupItem| {
            item.targets.contains(&target) || !joint && readies(item, &target, demands, catalogue)
        };
        for item in warmup.items().filter(|item| does(&item.of)) {
            if !by.contains(&item.name) {
                by.push(item.name.clone());
            }
        }
        let asked_by = asked.iter().map(|demand| catalogue.name(&demand.movement).to_lowercase()).collect();
        Covered { what: called(&target), joint, asked_by, by }
    };
    targets(demands, catalogue).into_iter().map(row).collect()
}

/// Whether an item prepares a pattern: by what it switches on, as what leads up to one of its movements, and whatever raises the pulse readies the engine.
fn readies(item: &WarmupItem, pattern: &str, demands: &[Demand], catalogue: &Catalogue) -> bool {
    let leads = |demand: &Demand| {
        item.prepares.contains(&demand.movement) && asks_for(&demand.movement, pattern, catalogue)
    };
    item.targets.iter().any(|target| target == pattern)
        || item.phase == Phase::Raise && pattern == key(Pattern::Engine)
        || demands.iter().any(leads)
}

/// Demanded patterns that none of some items prepares, by their keys.
pub(super) fn open_patterns(
    demands: &[Demand],
    items: &[Arc<WarmupItem>],
    catalogue: &Catalogue,
) -> Vec<String> {
    let patterns = targets(demands, catalogue).into_iter().filter(|(_, joint)| !joint);
    let open = |pattern: &String| !items.iter().any(|item| readies(item, pattern, demands, catalogue));
    patterns.map(|(pattern, _)| pattern).filter(open).collect()
}

/// Demanded patterns and then joints, by their keys; a joint is marked.
fn targets(demands: &[Demand], catalogue: &Catalogue) -> Vec<(String, bool)> {
    let movements = || demands.iter().filter_map(|demand| catalogue.get(&demand.movement));
    let patterns = movements().map(|movement| (key(movement.pattern), false));
    let joints = movements().flat_map(|movement| {
        let much = movement.joints.iter().filter(|(_, stress)| *stress >= DEMANDED);
        much.map(|(joint, _)| (joint.clone(), true))
    });
    let mut found: Vec<(String, bool)> = Vec::new();
    for target in patterns.chain(joints) {
        if !found.contains(&target) {
            found.push(target);
        }
    }
    found
}

/// Demanded patterns and joints that none of some items prepares, by their keys.
pub(super) fn open_targets(
    demands: &[Demand],
    known: &[Arc<WarmupItem>],
    catalogue: &Catalogue,
) -> Vec<String> {
    let raised = known.iter().any(|item| item.phase == Phase::Raise);
    let prepared = |target: &String| {
        known.iter().any(|item| item.targets.contains(target)) || raised && *target == key(Pattern::Engine)
    };
    targets(demands, catalogue)
        .into_iter()
        .map(|(target, _)| target)
        .filter(|target| !prepared(target))
        .collect()
}

/// Items of the same phase that could stand in for one, best first.
pub fn alternatives(
    session: &Session,
    warmup: &Warmup,
    id: &str,
    edits: &Edits,
    catalogue: &Catalogue,
) -> Vec<Arc<WarmupItem>> {
    let Some(item) = warmup.items().find(|item| item.id == id) else { return Vec::new() };
    let demands = demands(session, catalogue);
    let worth = |other: &WarmupItem| -> f64 {
        let led = other.prepares.iter().filter_map(|id| demands.iter().find(|demand| demand.movement == *id));
        let led: f64 = led.map(|demand| demand.weight).sum();
        if other.phase.is_drill() {
            return led;
        }
        other.targets.iter().map(|target| need(target, &demands, catalogue)).sum()
    };
    let same = |other: &Arc<WarmupItem>| {
        other.phase == item.of.phase || (other.phase.is_drill() && item.of.phase.is_drill())
    };
    let mut ranked: Vec<(f64, &Arc<WarmupItem>)> = standard_items()
        .iter()
        .filter(|other| same(other) && !warmup.items().any(|known| known.id == other.id))
        .filter(|other| !warmup.lacks.contains(&other.id))
        .map(|other| (worth(other), other))
        .filter(|(worth, other)| *worth > 0.0 || edits.refused.contains(&other.id))
        .collect();
    ranked.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1.id.cmp(&b.1.id)));
    ranked.into_iter().take(MOST_ALTERNATIVES).map(|(_, item)| Arc::clone(item)).collect()
}

/// Stretches for what the day asked most of, with what the gym has today.
pub fn cool_down(session: &Session, warmup: &Warmup, catalogue: &Catalogue) -> Vec<Arc<WarmupItem>> {
    let demands = demands(session, catalogue);
    let score = |item: &WarmupItem| -> f64 {
        item.targets.iter().map(|target| need(target, &demands, catalogue)).sum()
    };
    let mut ranked: Vec<(f64, &Arc<WarmupItem>)> = standard_items()
        .iter()
        .filter(|item| item.phase == Phase::CoolDown && !warmup.lacks.contains(&item.id))
        .map(|item| (score(item), item))
        .filter(|(score, _)| *score > 0.0)
        .collect();
    ranked.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1.id.cmp(&b.1.id)));
    ranked.into_iter().take(COOL_DOWN_ITEMS).map(|(_, item)| Arc::clone(item)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::warmup::of_day;

    const DAY: &str = "Strength\nBack squat 5x3 @ 80%\n\nFor time\n50 box jumps 60/50 cm\n50 pull-ups";

    fn day() -> (Session, Warmup) {
        of_day(DAY)
    }

    #[test]
    fn every_demanded_pattern_has_a_row_and_an_item_or_is_a_gap() {
        let (session, warmup) = day();
        let rows = coverage(&session, &warmup, Catalogue::standard());
        let patterns: Vec<&str> = rows.iter().filter(|row| !row.joint).map(|row| row.what.as_str()).collect();
        assert!(
            ["squat", "jump", "vertical pull"].iter().all(|what| patterns.contains(what)),
            "{patterns:?}"
        );
        for row in rows.iter().filter(|row| !row.joint) {
            assert_eq!(row.by.is_empty(), warmup.gaps.contains(&row.what), "{row:?}");
        }
        assert!(rows.iter().any(|row| row.joint && row.what == "knee" && !row.asked_by.is_empty()));
    }

    #[test]
    fn alternatives_are_of_the_same_phase_and_not_used_yet() {
        let (session, warmup) = day();
        let first = &warmup.blocks[0].items[0];
        let found = alternatives(&session, &warmup, &first.id, &Edits::default(), Catalogue::standard());
        assert!(!found.is_empty());
        assert!(found.iter().all(|item| item.phase == first.of.phase && item.id != first.id));
    }

    #[test]
    fn after_class_comes_what_the_day_asked_most_of() {
        let (session, warmup) = day();
        let catalogue = Catalogue::standard();
        let all = cool_down(&session, &warmup, catalogue);
        assert_eq!(all.len(), COOL_DOWN_ITEMS);
        // What the gym has nothing for is neither done after class nor offered in the place of another.
        let lacks: Vec<String> = standard_items().iter().map(|item| item.id.clone()).collect();
        let edits = Edits::default();
        let bare = Warmup { lacks, ..warmup.clone() };
        assert!(cool_down(&session, &bare, catalogue).is_empty());
        let offered = |item: &crate::warmup::Item| alternatives(&session, &bare, &item.id, &edits, catalogue);
        assert!(warmup.items().all(|item| offered(item).is_empty()));
    }
}
