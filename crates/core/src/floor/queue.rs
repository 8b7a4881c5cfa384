//! A class at once, each waiting in line for what others are on.

use std::cmp::Reverse;
use std::collections::{BTreeMap, BinaryHeap};

use super::demand::Claim;
use super::stations::{Inventory, Station};
use super::timeline::{at_once, carried_and_turns, held_on, moved};

/// What came of somebody's waiting.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct Waited {
    /// What they hold and when, waits included.
    pub claims: Vec<Claim>,
    /// Seconds that they wait in all.
    pub all_s: f64,
    /// The longest of their waits.
    pub longest_s: f64,
}

/// Somebody's way through the piece.
struct InLine<'a> {
    turns: Vec<&'a [Claim]>,
    next: usize,
    waited: Waited,
}

/// The next full millisecond, so that moments can be put in order.
fn moment(seconds: f64) -> u64 {
    (seconds * 1000.0).ceil() as u64
}

/// Everybody through their claims, who comes first served first; none where they carry more than there is. `stops_s` is when each has to stop.
pub(super) fn queue(people: &[(&[Claim], f64)], inventory: &Inventory) -> Option<Vec<Waited>> {
    let split: Vec<(Vec<Claim>, Vec<Claim>)> =
        people.iter().map(|(claims, _)| carried_and_turns(claims)).collect();
    let mut carried: BTreeMap<Station, u32> = BTreeMap::new();
    for claim in split.iter().flat_map(|(carried, _)| carried) {
        *carried.entry(claim.station).or_default() += claim.count;
    }
    if carried.iter().any(|(station, count)| *count > inventory.count(*station)) {
        return None;
    }
    let there = |station: Station| inventory.count(station) - carried.get(&station).copied().unwrap_or(0);
    let mut people_in_line: Vec<InLine<'_>> = split
        .iter()
        .map(|(_, turns)| InLine { turns: at_once(turns), next: 0, waited: Waited::default() })
        .collect();
    // Who asks for a turn, at which moment, and since when: who has waited longest comes first.
    let mut asking: BinaryHeap<Reverse<(u64, u64, usize)>> = BinaryHeap::new();
    let asks = |one: &InLine<'_>| one.turns.get(one.next).map(|turn| turn[0].from_s + one.waited.all_s);
    for (n, one) in people_in_line.iter().enumerate() {
        asking.extend(asks(one).map(|at_s| Reverse((moment(at_s), moment(at_s), n))));
    }
    let mut held: Vec<Claim> = Vec::new();
    while let Some(Reverse((now, since, n))) = asking.pop() {
        let one = &mut people_in_line[n];
        let (turn, stops_s) = (one.turns[one.next], people[n].1);
        // Begun at the very millisecond, so that nobody is on before somebody is off.
        let waited_s = now as f64 / 1000.0 - (turn[0].from_s + one.waited.all_s);
        let claims = moved(turn, one.waited.all_s + waited_s, stops_s);
        let short = claims.iter().find(|claim| {
            let busy = held.iter().filter(|other| other.station == claim.station && moment(other.to_s) > now);
            busy.map(|other| other.count).sum::<u32>() + claim.count > there(claim.station)
        });
        match short {
            Some(claim) if claim.count > there(claim.station) => return None,
            Some(claim) => {
                let ends = held.iter().filter(|other| other.station == claim.station);
                let free = ends.map(|other| moment(other.to_s)).filter(|end| *end > now).min()?;
                asking.push(Reverse((free, since, n)));
            }
            None => {
                held.extend(&claims);
                one.waited.claims.extend(claims);
                one.waited.all_s += waited_s;
                one.waited.longest_s = one.waited.longest_s.max(waited_s);
                one.next += 1;
                asking.extend(asks(one).map(|at_s| Reverse((moment(at_s), moment(at_s), n))));
            }
        }
    }
    let done =
        people_in_line.into_iter().zip(&split).zip(people).map(|((mut one, (carried, _)), (_, stops_s))| {
            let all_s = one.waited.all_s;
            one.waited.claims.extend(carried.iter().map(|claim| held_on(claim, all_s, *stops_s)));
            one.waited
        });
    Some(done.collect())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::floor::demand::peak;
    use crate::gym::Gym;
    use proptest::prelude::*;

    fn rows(from_s: f64, to_s: f64) -> Claim {
        Claim { station: Station::Rower, count: 1, from_s, to_s }
    }

    fn inventory(rowers: u32) -> Inventory {
        Inventory::of(&Gym { rowers, ..Gym::default() })
    }

    #[test]
    fn who_comes_later_waits_until_who_came_first_is_off() {
        let (ada, ben) = ([rows(0.0, 60.0), rows(100.0, 160.0)], [rows(40.0, 90.0), rows(150.0, 200.0)]);
        let people: [(&[Claim], f64); 2] = [(&ada, f64::INFINITY), (&ben, f64::INFINITY)];
        let waited = queue(&people, &inventory(1)).unwrap();
        // Ben waits 20 s, rows to 110; Ada 10 s, rows to 170; and so Ben from 170 is right on time.
        assert_eq!((waited[0].all_s, waited[1].all_s), (10.0, 20.0));
        assert_eq!(waited[1].claims, [rows(60.0, 110.0), rows(170.0, 220.0)]);
        assert!(queue(&people, &inventory(2)).unwrap().iter().all(|waited| waited.all_s == 0.0));
        assert!(queue(&people, &inventory(0)).is_none());
    }

    proptest! {
        #[test]
        fn prop_nobody_is_on_what_somebody_else_is_on_and_all_do_all_of_their_turns(
            people in prop::collection::vec((5.0..80.0_f64, 5.0..80.0_f64, 1_usize..5), 1..12),
            rowers in 1_u32..5,
        ) {
            let walks: Vec<Vec<Claim>> = people
                .iter()
                .map(|(row, off, turns)| {
                    let begins = |n: usize| n as f64 * (row + off);
                    (0..*turns).map(|n| rows(begins(n), begins(n) + row)).collect()
                })
                .collect();
            let all: Vec<(&[Claim], f64)> = walks.iter().map(|walk| (&walk[..], f64::INFINITY)).collect();
            let waited = queue(&all, &inventory(rowers)).unwrap();
            prop_assert!(peak(waited.iter().flat_map(|waited| &waited.claims), Station::Rower) <= rowers);
            for (walk, waited) in walks.iter().zip(&waited) {
                prop_assert_eq!(walk.len(), waited.claims.len());
                for (own, held) in walk.iter().zip(&waited.claims) {
                    prop_assert!(held.from_s >= own.from_s - 1e-6 && held.from_s <= own.from_s + waited.all_s + 1e-6);
                    prop_assert!(((held.to_s - held.from_s) - (own.to_s - own.from_s)).abs() < 1e-6);
                }
            }
        }
    }
}
