//! Loads that stand only in the lines of levels.

use lantern_session::Load;
use lantern_session::movement::{Catalogue, LoadKind, MovementId};

use crate::facts::{Facts, Item, StepKind, is_held_in};
use crate::say::Tool;

/// Where loads stand only in the lines of levels, the level that the text is written for gives them.
pub(super) fn levels(facts: &mut Facts, catalogue: &Catalogue) {
    let best = facts.level_loads.iter().map(|(rank, ..)| *rank).min();
    let loads: Vec<(Option<Tool>, Load)> = facts
        .level_loads
        .iter()
        .filter(|(rank, ..)| Some(*rank) == best)
        .map(|(_, tool, load)| (*tool, *load))
        .collect();
    if facts.items().any(|item| item.load.is_some() || item.bare_load.is_some()) {
        // Where the piece writes its own loads the levels only change them.
        return;
    }
    let weighed = |item: &Item| {
        let movement = catalogue.get(item.movement.as_ref()?)?;
        movement.takes_weight().then(|| movement.id.clone())
    };
    // "Rx: 9/6, 24/16" gives as many weights as there are movements to take one: each its own, in order.
    let weights: Vec<Load> = loads
        .iter()
        .filter(|(tool, load)| tool.is_none() && load.unit.weight().is_some())
        .map(|(_, load)| *load)
        .collect();
    let mut takers: Vec<MovementId> = Vec::new();
    for id in facts.items().filter_map(weighed) {
        if !takers.contains(&id) {
            takers.push(id);
        }
    }
    let in_order = weights.len() >= 2 && weights.len() == takers.len();
    for step in &mut facts.steps {
        let StepKind::Item(item) = &mut step.what else { continue };
        let kind = item.movement.as_ref().and_then(|id| catalogue.get(id)).map(|movement| movement.load_kind);
        let Some(kind) = kind.filter(|kind| *kind != LoadKind::None) else { continue };
        if item.same_load {
            continue;
        }
        if facts.held.iter().any(|held| held.is_held_in(kind)) {
            continue;
        }
        let height = kind == LoadKind::BoxHeight;
        let fits = |(tool, load): &&(Option<Tool>, Load)| {
            let tool_fits = tool.is_none_or(|tool| is_held_in(tool, kind));
            (load.unit.weight().is_none() == height) && tool_fits
        };
        let place = item.movement.as_ref().and_then(|id| takers.iter().position(|taker| taker == id));
        let own = place.filter(|_| in_order).map(|at| weights[at]);
        item.load = own.or_else(|| loads.iter().find(fits).map(|(_, load)| *load));
    }
}
