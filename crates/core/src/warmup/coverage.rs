//! What is prepared by what, and how to come down after.

use serde::Serialize;

use super::build::{Demand, Warmup, demands, key, relevance, worth};
use super::edits::Edits;
use super::items::{Phase, WarmupItem, standard_items};
use crate::movement::{Catalogue, MovementId};
use crate::session::{PartKind, Session, works};

/// Stress from which a joint counts as demanded.
const DEMANDED: f64 = 0.4;
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
    let demands = demands(session, catalogue);
    let ids: Vec<&str> = planned_ids(warmup);
    rows(&demands, &ids, session, catalogue)
}

/// Demanded patterns that nothing prepares.
pub(super) fn gaps(
    demands: &[Demand],
    ids: &[&str],
    session: &Session,
    catalogue: &Catalogue,
) -> Vec<String> {
    let open = |row: &Covered| row.by.is_empty() && !row.joint;
    rows(demands, ids, session, catalogue).into_iter().filter(open).map(|row| row.what).collect()
}

fn planned_ids(warmup: &Warmup) -> Vec<&str> {
    let blocks = warmup.blocks.iter().chain(&warmup.specific);
    blocks.flat_map(|block| &block.items).map(|item| item.id.as_str()).collect()
}

fn rows(demands: &[Demand], ids: &[&str], session: &Session, catalogue: &Catalogue) -> Vec<Covered> {
    let items: Vec<&WarmupItem> =
        standard_items().iter().filter(|item| ids.contains(&item.id.as_str())).collect();
    let own: Vec<MovementId> = session
        .parts
        .iter()
        .filter(|part| part.kind == PartKind::Warmup)
        .flat_map(|part| works(&part.tree))
        .map(|work| work.movement.clone())
        .collect();
    let mut patterns: Vec<Covered> = Vec::new();
    let mut joints: Vec<Covered> = Vec::new();
    for demand in demands {
        let Some(movement) = catalogue.get(&demand.movement) else { continue };
        let name = movement.name.to_lowercase();
        let pattern = movement.pattern;
        let row = entry(&mut patterns, pattern.name(), false);
        row.asked_by.push(name.clone());
        for item in &items {
            let prepares = item.targets.contains(&key(pattern)) || item.prepares.contains(&movement.id);
            if prepares && !row.by.contains(&item.name) {
                row.by.push(item.name.clone());
            }
        }
        for known in own.iter().filter_map(|id| catalogue.get(id)).filter(|known| known.pattern == pattern) {
            if !row.by.contains(&known.name) {
                row.by.push(known.name.clone());
            }
        }
        for (joint, _) in movement.joints.iter().filter(|(_, stress)| *stress >= DEMANDED) {
            let row = entry(&mut joints, &joint.replace('_', " "), true);
            row.asked_by.push(name.clone());
            for item in items.iter().filter(|item| item.targets.contains(joint)) {
                if !row.by.contains(&item.name) {
                    row.by.push(item.name.clone());
                }
            }
            for known in
                own.iter().filter_map(|id| catalogue.get(id)).filter(|known| known.joint(joint) > 0.0)
            {
                if !row.by.contains(&known.name) {
                    row.by.push(known.name.clone());
                }
            }
        }
    }
    patterns.append(&mut joints);
    patterns
}

fn entry<'r>(rows: &'r mut Vec<Covered>, what: &str, joint: bool) -> &'r mut Covered {
    let at = rows.iter().position(|row| row.what == what).unwrap_or_else(|| {
        rows.push(Covered { what: what.to_owned(), joint, asked_by: Vec::new(), by: Vec::new() });
        rows.len() - 1
    });
    &mut rows[at]
}

/// Items of the same phase that could stand in for one, best first.
pub fn alternatives(
    session: &Session,
    warmup: &Warmup,
    id: &str,
    edits: &Edits,
    catalogue: &Catalogue,
) -> Vec<&'static WarmupItem> {
    let Some(item) = standard_items().iter().find(|item| item.id == id) else { return Vec::new() };
    let demands = demands(session, catalogue);
    let left: Vec<f64> = demands.iter().map(|demand| demand.weight).collect();
    let used = planned_ids(warmup);
    let mut ranked: Vec<(f64, &WarmupItem)> = standard_items()
        .iter()
        .filter(|other| other.phase == item.phase && !used.contains(&other.id.as_str()))
        .filter(|other| !warmup.lacks.contains(&other.id))
        .map(|other| (worth(other, &demands, &left, &[], catalogue), other))
        .filter(|(worth, other)| *worth > 0.0 || edits.refused.contains(&other.id))
        .collect();
    ranked.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1.id.cmp(&b.1.id)));
    ranked.into_iter().take(MOST_ALTERNATIVES).map(|(_, item)| item).collect()
}

/// Stretches for what the day asked most of, with what the gym has today.
pub fn cool_down(session: &Session, warmup: &Warmup, catalogue: &Catalogue) -> Vec<&'static WarmupItem> {
    let demands = demands(session, catalogue);
    let score = |item: &WarmupItem| -> f64 {
        demands.iter().map(|demand| demand.weight * relevance(item, demand, catalogue)).sum()
    };
    let mut ranked: Vec<(f64, &WarmupItem)> = standard_items()
        .iter()
        .filter(|item| item.phase == Phase::CoolDown && !warmup.lacks.contains(&item.id))
        .map(|item| (score(item), item))
        .filter(|(score, _)| *score > 0.0)
        .collect();
    ranked.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1.id.cmp(&b.1.id)));
    ranked.into_iter().take(COOL_DOWN_ITEMS).map(|(_, item)| item).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::read::read;
    use crate::warmup::{WarmupRequest, build_warmup};

    const DAY: &str = "Strength\nBack squat 5x3 @ 80%\n\nFor time\n50 box jumps 60/50 cm\n50 pull-ups";

    fn day() -> (Session, Warmup) {
        let catalogue = Catalogue::standard();
        let session = read(DAY, catalogue).session;
        let edits = Edits::default();
        let warmup = build_warmup(WarmupRequest {
            session: &session,
            seconds: 600,
            edits: &edits,
            lacks: &[],
            catalogue,
        });
        (session, warmup)
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
        let first = &warmup.blocks[0].items[0].id;
        let found = alternatives(&session, &warmup, first, &Edits::default(), Catalogue::standard());
        let phase = standard_items().iter().find(|item| item.id == *first).unwrap().phase;
        assert!(!found.is_empty() && found.iter().all(|item| item.phase == phase && item.id != *first));
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
        let planned = planned_ids(&warmup);
        assert!(planned.iter().all(|id| alternatives(&session, &bare, id, &edits, catalogue).is_empty()));
    }
}
