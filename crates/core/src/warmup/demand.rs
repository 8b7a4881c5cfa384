//! What the day demands: its movements by weight, and through them patterns and joints.

use crate::movement::{Catalogue, MovementId, Pattern};
use crate::session::{PartKind, Session, works};

/// Stress from which a joint counts as demanded.
pub(super) const DEMANDED: f64 = 0.4;

/// A movement of the day and how much it asks for.
#[derive(Clone, Debug, PartialEq)]
pub struct Demand {
    /// The movement.
    pub movement: MovementId,
    /// Its weight: skill, complexity and load count, and so does appearing twice.
    pub weight: f64,
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

/// What of the day's work belongs to the lifts and skills that come first, and what only to the piece after them,
/// which is rehearsed right before it. Where nothing comes before the piece, all of it comes first.
pub(super) fn before_and_at_the_piece(
    session: &Session,
    all: Vec<Demand>,
    catalogue: &Catalogue,
) -> (Vec<Demand>, Vec<Demand>) {
    let in_kind = |kinds: &[PartKind], id: &MovementId| {
        let parts = session.parts.iter().filter(|part| kinds.contains(&part.kind));
        parts.flat_map(|part| works(&part.tree)).any(|work| work.movement == *id)
    };
    let lifts = session.parts.iter().any(|part| matches!(part.kind, PartKind::Strength | PartKind::Skill));
    let (later, first): (Vec<Demand>, Vec<Demand>) = all.into_iter().partition(|demand| {
        lifts
            && in_kind(&[PartKind::Conditioning], &demand.movement)
            && !in_kind(&[PartKind::Strength, PartKind::Skill], &demand.movement)
            && catalogue.get(&demand.movement).is_some_and(|movement| !movement.is_engine())
    });
    if first.is_empty() { (later, Vec::new()) } else { (first, later) }
}

/// How much the day asks of a pattern or joint, by its key.
pub(super) fn need(target: &str, demands: &[Demand], catalogue: &Catalogue) -> f64 {
    let asks = |demand: &Demand| {
        let movement = catalogue.get(&demand.movement)?;
        let pattern = if key(movement.pattern) == target { 1.0 } else { 0.0 };
        Some(demand.weight * f64::max(pattern, movement.joint(target)))
    };
    demands.iter().filter_map(asks).sum()
}

/// Whether a movement asks for a pattern or much of a joint.
pub(super) fn asks_for(id: &MovementId, target: &str, catalogue: &Catalogue) -> bool {
    catalogue
        .get(id)
        .is_some_and(|movement| key(movement.pattern) == target || movement.joint(target) >= DEMANDED)
}

/// A pattern as items name it.
pub(super) fn key(pattern: Pattern) -> String {
    serde_json::to_value(pattern).ok().and_then(|value| value.as_str().map(str::to_owned)).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::read::read;

    #[test]
    fn a_lift_asks_for_more_than_what_goes_with_it_and_a_home_part_for_nothing() {
        let catalogue = Catalogue::standard();
        let day = "Strength\nBack squat 5x3 @ 80%\n\nAMRAP 10\n10 push-ups\n10 sit-ups\n\nHome\n50 lunges";
        let session = read(day, catalogue).session;
        let found = demands(&session, catalogue);
        assert_eq!(found[0].movement.as_str(), "back-squat");
        assert!(found.iter().all(|demand| demand.movement.as_str() != "lunge"), "{found:?}");
        assert!(need("squat", &found, catalogue) > need("core", &found, catalogue));
        let (first, at_the_piece) = before_and_at_the_piece(&session, found, catalogue);
        assert_eq!(first.len(), 1);
        assert_eq!(at_the_piece.len(), 2);
    }
}
