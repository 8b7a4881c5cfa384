//! The real volume of a piece: a four-round workout hides 80 pull-ups and 160 squats.

use std::collections::BTreeMap;

use super::every_few::EveryFew;
use super::tree::{Amount, Node, Work};
use crate::movement::{Catalogue, MovementId, Pattern, Unit};

/// The work of one movement in a piece.
#[derive(Clone, Debug, PartialEq)]
pub struct Total {
    /// What is done.
    pub movement: MovementId,
    /// The fixed amount, both sides and the whole team counted.
    pub amount: f64,
    /// What it counts.
    pub unit: Unit,
    /// Whether some of it is open: max reps, penalties, interrupts, rounds without number.
    pub open: bool,
}

/// Work that the text fixes, by movement in order of first appearance; movements with open work are
/// listed and marked.
pub fn totals(tree: &Node) -> Vec<Total> {
    let mut count = Count::default();
    count.walk(tree, 1.0, None, false);
    count.totals
}

/// The work of one round of the first rounds without number, or of the only repeated round.
pub fn per_round(tree: &Node) -> Vec<Total> {
    let Some(round) = repeated(tree) else { return Vec::new() };
    totals(round)
}

/// Amounts by movement family, in reps, calories, metres and seconds apart. Open work is left out.
pub fn pattern_totals(tree: &Node, catalogue: &Catalogue) -> BTreeMap<(Pattern, Unit), f64> {
    let mut sums = BTreeMap::new();
    for total in totals(tree) {
        if let Some(movement) = catalogue.get(&total.movement) {
            *sums.entry((movement.pattern, total.unit)).or_default() += total.amount;
        }
    }
    sums.retain(|_, amount| *amount > 0.0);
    sums
}

/// All work in order of first appearance in the text, each place once.
pub fn works(tree: &Node) -> Vec<&Work> {
    match tree {
        Node::Work(work) => vec![work],
        other => other.children().into_iter().flat_map(works).collect(),
    }
}

fn repeated(node: &Node) -> Option<&Node> {
    if let Some(rounds) = EveryFew::of(node) {
        return Some(rounds.round);
    }
    match node {
        // A bout of an AMRAP is repeated itself, but its round is what repeats inside.
        Node::Rounds { of, .. } => match &**of {
            Node::Within { of: inner, .. } if matches!(**inner, Node::Rounds { times: None, .. }) => {
                repeated(inner)
            }
            _ => Some(of),
        },
        Node::Every { alternate: false, of, .. } if of.len() == 1 => Some(&of[0]),
        Node::Within { of, .. } | Node::Together { of, .. } => repeated(of),
        Node::Seq { of } => of.iter().find_map(repeated),
        Node::Interrupt { of, .. } | Node::Penalty { of, .. } => repeated(of),
        _ => None,
    }
}

#[derive(Default)]
struct Count {
    totals: Vec<Total>,
}

impl Count {
    fn walk(&mut self, node: &Node, times: f64, rung: Option<u32>, open: bool) {
        match node {
            Node::Work(work) => self.add(work, times, rung, open),
            Node::Rest { .. } => {}
            Node::Seq { of } => of.iter().for_each(|child| self.walk(child, times, rung, open)),
            Node::Rounds { times: Some(n), of, .. } => self.walk(of, times * f64::from(*n), rung, open),
            Node::Rounds { times: None, of, .. } => self.walk(of, times, rung, true),
            Node::Scheme { reps, of, .. } => {
                for &rung in reps {
                    self.walk(of, times, Some(rung), open);
                }
            }
            Node::Ladder { of, .. } => self.walk(of, times, None, true),
            Node::Within { of, .. } | Node::Together { of, .. } => self.walk(of, times, rung, open),
            Node::Every { times: None, of, .. } => {
                of.iter().for_each(|child| self.walk(child, times, rung, true))
            }
            Node::Every { times: Some(n), alternate, of, .. } => {
                for (place, child) in of.iter().enumerate() {
                    let turns = if *alternate { turns_of(place, of.len(), *n) } else { *n };
                    self.walk(child, times * f64::from(turns), rung, open);
                }
            }
            Node::Interrupt { work, of, .. } | Node::Penalty { work, of } => {
                self.walk(of, times, rung, open);
                self.walk(work, times, rung, true);
            }
        }
    }

    fn add(&mut self, work: &Work, times: f64, rung: Option<u32>, open: bool) {
        if work.dose.amount == Amount::Meanwhile {
            return;
        }
        let amount = match (work.dose.amount, rung) {
            (Amount::Fixed { first, .. }, _) => Some(first * work.dose.sides()),
            (Amount::Scheme, Some(rung)) => Some(f64::from(rung) * work.dose.sides()),
            _ => None,
        };
        let open = open || amount.is_none();
        let amount = if open { 0.0 } else { amount.unwrap_or(0.0) * times };
        let unit = work.dose.unit;
        match self.totals.iter_mut().find(|t| t.movement == work.movement && t.unit == unit) {
            Some(total) => {
                total.amount += amount;
                total.open |= open;
            }
            None => self.totals.push(Total { movement: work.movement.clone(), amount, unit, open }),
        }
    }
}

/// How often the station at `place` of `stations` has its turn in `n` intervals.
fn turns_of(place: usize, stations: usize, n: u32) -> u32 {
    let place = place as u32;
    let stations = stations as u32;
    if n <= place { 0 } else { (n - place).div_ceil(stations) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::Dose;

    fn work(id: &str, dose: Dose) -> Node {
        Node::Work(Work::new(MovementId::new(id), dose))
    }

    #[test]
    fn rounds_and_schemes_multiply_and_add_up() {
        let scheme = Dose { amount: Amount::Scheme, unit: Unit::Reps, per_side: false };
        let tree = Node::Rounds {
            times: Some(2),
            rest_s: None,
            of: Box::new(Node::Scheme {
                reps: vec![21, 15, 9],
                rest_s: None,
                of: Box::new(work("thruster", scheme)),
            }),
        };
        assert_eq!(totals(&tree)[0].amount, 90.0);
    }

    #[test]
    fn stations_of_an_alternating_clock_share_the_intervals_unevenly_when_they_must() {
        let of =
            vec![work("row", Dose::reps(10)), work("burpee", Dose::reps(5)), work("plank", Dose::reps(1))];
        let tree = Node::Every { interval_s: 60, times: Some(10), alternate: true, of };
        let amounts: Vec<f64> = totals(&tree).iter().map(|t| t.amount).collect();
        assert_eq!(amounts, [40.0, 15.0, 3.0]);
    }

    #[test]
    fn interrupting_work_is_open_and_both_sides_count() {
        let each_side = Dose { per_side: true, ..Dose::reps(10) };
        let tree = Node::Interrupt {
            every_s: 60,
            from_s: 60,
            work: Box::new(work("burpee", Dose::reps(4))),
            of: Box::new(work("dead-bug", each_side)),
        };
        let all = totals(&tree);
        assert_eq!((all[0].amount, all[0].open), (20.0, false));
        assert!(all[1].open);
    }
}
