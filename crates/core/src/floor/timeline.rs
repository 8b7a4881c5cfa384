//! Use of stations over time, in slots.

use std::collections::BTreeMap;
use std::ops::Range;

use super::demand::Claim;
use super::stations::{Inventory, Station};

/// Length of a slot in which use is counted, in seconds; a slot that is touched counts as used.
const SLOT_S: f64 = 5.0;

/// Use of all stations over time.
pub(super) struct Timeline<'a> {
    inventory: &'a Inventory,
    used: BTreeMap<Station, Vec<u32>>,
}

impl<'a> Timeline<'a> {
    pub fn new(inventory: &'a Inventory) -> Self {
        Self { inventory, used: BTreeMap::new() }
    }

    fn slots(claim: &Claim, offset_s: f64) -> Range<usize> {
        let from = ((claim.from_s + offset_s) / SLOT_S).floor().max(0.0) as usize;
        let to = ((claim.to_s + offset_s) / SLOT_S).ceil() as usize;
        from..to.max(from)
    }

    /// Whether all of these could be held as well, begun so much later.
    pub fn free(&self, claims: &[Claim], offset_s: f64) -> bool {
        claims.iter().all(|claim| {
            let there = self.inventory.count(claim.station);
            match self.used.get(&claim.station) {
                _ if claim.count > there => false,
                Some(used) => {
                    let slots = Self::slots(claim, offset_s);
                    let slots = slots.start.min(used.len())..slots.end.min(used.len());
                    used[slots].iter().all(|used| used + claim.count <= there)
                }
                None => true,
            }
        })
    }

    /// Holds them.
    pub fn take(&mut self, claims: &[Claim], offset_s: f64) {
        for claim in claims {
            let (used, slots) = (self.used.entry(claim.station).or_default(), Self::slots(claim, offset_s));
            used.resize(used.len().max(slots.end), 0);
            used[slots].iter_mut().for_each(|used| *used += claim.count);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::gym::Gym;

    #[test]
    fn a_slot_that_is_touched_is_used_and_the_next_one_is_free() {
        let inventory = Inventory::of(&Gym { rowers: 1, ..Gym::default() });
        let mut timeline = Timeline::new(&inventory);
        let claim = Claim { station: Station::Rower, count: 1, from_s: 0.0, to_s: 31.0 };
        assert!(timeline.free(&[claim], 0.0));
        timeline.take(&[claim], 0.0);
        assert!(!timeline.free(&[claim], 30.0) && !timeline.free(&[claim], 34.0));
        assert!(timeline.free(&[claim], 35.0));
        // More than there is of it is never free.
        assert!(!timeline.free(&[Claim { count: 2, ..claim }], 500.0));
        assert!(timeline.free(&[Claim { station: Station::Ski, ..claim }], 0.0));
    }
}
