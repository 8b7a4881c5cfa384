//! Use of stations over time, in slots.

use std::collections::BTreeMap;
use std::ops::Range;

use super::demand::{Claim, HANDING_OVER_S};
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

    /// The same with a wait wherever what comes next is taken, and how long all waits are; everything is given back when all stop. None
    /// where somebody would wait longer than `longest_s` at once, or would have to wait for what they carry.
    pub fn waited(&self, claims: &[Claim], stops_s: f64, longest_s: f64) -> Option<(Vec<Claim>, f64)> {
        let (carried, turns) = carried_and_turns(claims);
        let (mut held, mut waited_s) = (Vec::new(), 0.0);
        for turn in at_once(&turns) {
            let moved = |wait_s: f64| moved(turn, waited_s + wait_s, stops_s);
            let steps = (longest_s / SLOT_S) as u32;
            let wait_s =
                (0..=steps).map(|n| f64::from(n) * SLOT_S).find(|wait_s| self.free(&moved(*wait_s), 0.0))?;
            held.extend(moved(wait_s));
            waited_s += wait_s;
        }
        let carried: Vec<Claim> = carried.iter().map(|claim| held_on(claim, waited_s, stops_s)).collect();
        if !self.free(&carried, 0.0) {
            return None;
        }
        held.extend(carried);
        Some((held, waited_s))
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

/// What is held from the first second to the last, and what is gone to in turns, the earliest first.
pub(super) fn carried_and_turns(claims: &[Claim]) -> (Vec<Claim>, Vec<Claim>) {
    let last_s = claims.iter().map(|claim| claim.to_s).fold(0.0, f64::max);
    let throughout =
        |claim: &Claim| claim.station.is_carried() && claim.from_s <= 0.0 && claim.to_s >= last_s;
    let (carried, mut turns): (Vec<Claim>, Vec<Claim>) = claims.iter().copied().partition(throughout);
    turns.sort_by(|a, b| a.from_s.total_cmp(&b.from_s));
    (carried, turns)
}

/// A turn so many seconds later; everything is given back when all stop, and nothing is begun after that.
pub(super) fn moved(turn: &[Claim], seconds: f64, stops_s: f64) -> Vec<Claim> {
    let later = turn.iter().map(|claim| claim.later(seconds)).filter(|claim| claim.from_s < stops_s);
    later.map(|claim| Claim { to_s: claim.to_s.min(stops_s + HANDING_OVER_S), ..claim }).collect()
}

/// What is carried, for so many seconds more.
pub(super) fn held_on(claim: &Claim, seconds: f64, stops_s: f64) -> Claim {
    Claim { to_s: (claim.to_s + seconds).min(stops_s + HANDING_OVER_S), ..*claim }
}

/// Claims that are held at the same time, together; handing over to oneself is no overlap.
pub(super) fn at_once(turns: &[Claim]) -> Vec<&[Claim]> {
    let (mut all, mut first, mut ends_s) = (Vec::new(), 0, f64::NEG_INFINITY);
    for (n, claim) in turns.iter().enumerate() {
        if n > first && claim.from_s >= ends_s - HANDING_OVER_S {
            all.push(&turns[first..n]);
            first = n;
        }
        ends_s = if n == first { claim.to_s } else { ends_s.max(claim.to_s) };
    }
    if first < turns.len() {
        all.push(&turns[first..]);
    }
    all
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

    #[test]
    fn who_waits_for_a_turn_is_late_for_all_that_comes_after_and_holds_what_they_carry_for_longer() {
        let inventory = Inventory::of(&Gym { rowers: 1, skis: 1, ..Gym::default() });
        let mut timeline = Timeline::new(&inventory);
        let claim = |station, from_s, to_s| Claim { station, count: 1, from_s, to_s };
        timeline.take(&[claim(Station::Rower, 0.0, 70.0)], 0.0);
        let bell = Station::Kettlebells(16_000);
        let own =
            [claim(bell, 0.0, 200.0), claim(Station::Rower, 40.0, 100.0), claim(Station::Ski, 95.0, 160.0)];
        let (held, waited_s) = timeline.waited(&own, f64::INFINITY, 30.0).unwrap();
        assert_eq!(waited_s, 30.0);
        let at = |station| held.iter().find(|claim| claim.station == station).map(|c| (c.from_s, c.to_s));
        assert_eq!(at(Station::Rower), Some((70.0, 130.0)));
        assert_eq!(at(Station::Ski), Some((125.0, 190.0)));
        assert_eq!(at(bell), Some((0.0, 230.0)));
        // All stop at the cap, and nothing is begun after it.
        let (held, _) = timeline.waited(&own, 120.0, 30.0).unwrap();
        assert!(held.iter().all(|claim| claim.from_s < 120.0 && claim.to_s <= 120.0 + HANDING_OVER_S));
        assert!(held.iter().all(|claim| claim.station != Station::Ski), "{held:?}");
        assert!(timeline.waited(&own, f64::INFINITY, 25.0).is_none());
    }
}
