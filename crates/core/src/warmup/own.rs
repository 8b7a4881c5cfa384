//! The coach's own warm-up: kept as it is written, timed, and each move with what it prepares.

use std::sync::Arc;

use super::demand::{Demand, key};
use super::items::{Phase, WarmupItem};
use super::open::CHANGE_S;
use super::{Block, Stage, WarmupRequest};
use crate::movement::{Catalogue, Movement, Unit};
use crate::session::{Amount, Node, Part, PartKind, Work};
use crate::units::plain;

/// Where people go about a warm-up between slow (0), middle (0.5) and fast (1): easy.
const EASY: f64 = 0.4;
/// Shortest and longest that one line is taken to last, in seconds.
const LINE_S: std::ops::RangeInclusive<f64> = 10.0..=1_200.0;
/// Repetitions of what is done without a number.
const SOME_REPS: f64 = 10.0;

/// The coach's own text as blocks; none where the day has no warm-up of its own.
pub(super) fn own_blocks(request: &WarmupRequest<'_>, demands: &[Demand]) -> Vec<Block> {
    let parts = request.session.parts.iter().filter(|part| part.kind == PartKind::Warmup);
    parts.filter_map(|part| own_block(part, request, demands)).collect()
}

fn own_block(part: &Part, request: &WarmupRequest<'_>, demands: &[Demand]) -> Option<Block> {
    let (rounds, tree) = rounds_of(&part.tree);
    let mut timed = Timed { request, moves: Vec::new() };
    timed.walk(tree, f64::from(rounds), None);
    let mut moves = timed.moves;
    if let Some(written) = part.duration_s {
        let sum: f64 = moves.iter().map(|one| one.seconds).sum();
        moves.iter_mut().for_each(|one| one.seconds *= f64::from(written) / sum.max(1.0));
    }
    if moves.is_empty() {
        return None;
    }
    let items = moves.into_iter().map(|one| {
        let of = Arc::new(as_item(one.movement, request.catalogue));
        let seconds = one.seconds.round() as u32;
        let mut item = super::build::planned(of, one.dose, seconds, demands, request);
        item.id = String::new();
        item.locked = true;
        item
    });
    Some(Block { phase: Stage::Own, rounds, rotates: false, items: items.collect() })
}

/// How often the whole of it is done, and what of it once.
fn rounds_of(tree: &Node) -> (u32, &Node) {
    match tree {
        Node::Rounds { times: Some(times), of, .. } => (*times, of),
        Node::Seq { of } if of.len() == 1 => rounds_of(&of[0]),
        other => (1, other),
    }
}

struct Move<'c> {
    movement: &'c Movement,
    dose: String,
    seconds: f64,
}

struct Timed<'a> {
    request: &'a WarmupRequest<'a>,
    moves: Vec<Move<'a>>,
}

impl Timed<'_> {
    fn walk(&mut self, node: &Node, times: f64, scheme: Option<&[u32]>) {
        match node {
            Node::Work(work) => self.add(work, times, scheme),
            // A rest belongs to what was done before it.
            Node::Rest { seconds } => {
                if let Some(last) = self.moves.last_mut() {
                    last.seconds += times * f64::from(seconds.unwrap_or(0));
                }
            }
            Node::Rounds { times: inner, rest_s, of } => {
                let from = self.moves.len();
                let inner = f64::from(inner.unwrap_or(1));
                self.walk(of, times * inner, scheme);
                let rest = times * (inner - 1.0).max(0.0) * f64::from(rest_s.unwrap_or(0));
                if let Some(last) = self.moves[from..].last_mut() {
                    last.seconds += rest;
                }
                if inner > 1.0 {
                    let each = |own: &mut Move<'_>| own.dose = format!("{} x {}", plain(inner), own.dose);
                    self.moves[from..].iter_mut().for_each(each);
                }
            }
            Node::Scheme { reps, of, .. } => self.walk(of, times, Some(reps)),
            Node::Within { seconds, of } => self.walk_in(of, times, f64::from(*seconds), scheme),
            Node::Every { interval_s, times: starts, alternate, of } => {
                let starts = f64::from(starts.unwrap_or(of.len() as u32));
                let each = if *alternate { starts / of.len().max(1) as f64 } else { starts };
                let from = self.moves.len();
                of.iter().for_each(|node| self.walk(node, times * each, scheme));
                self.scale(from, times * starts * f64::from(*interval_s));
            }
            other => other.children().into_iter().for_each(|node| self.walk(node, times, scheme)),
        }
    }

    /// Within a window: as long as it says, whatever is done in it.
    fn walk_in(&mut self, node: &Node, times: f64, seconds: f64, scheme: Option<&[u32]>) {
        let from = self.moves.len();
        self.walk(node, times, scheme);
        self.scale(from, times * seconds);
    }

    fn scale(&mut self, from: usize, seconds: f64) {
        let sum: f64 = self.moves[from..].iter().map(|one| one.seconds).sum();
        self.moves[from..].iter_mut().for_each(|one| one.seconds *= seconds / sum.max(1.0));
    }

    fn add(&mut self, work: &Work, times: f64, scheme: Option<&[u32]>) {
        let Some(movement) = self.request.catalogue.get(&work.movement) else { return };
        let unit = work.dose.unit;
        let sides = work.dose.sides();
        let (amount, said) = match (work.dose.amount, scheme) {
            (Amount::Fixed { first, .. }, _) => (first, format!("{}{}", plain(first), called(unit))),
            (Amount::Scheme, Some(reps)) => {
                let said = reps.iter().map(u32::to_string).collect::<Vec<_>>().join("-");
                (f64::from(reps.iter().sum::<u32>()), said)
            }
            _ => (SOME_REPS, "some".to_owned()),
        };
        let per = movement.seconds_per(unit, EASY).unwrap_or(3.0);
        let one = per * amount * sides + f64::from(CHANGE_S);
        let dose = if work.dose.per_side { format!("{said} each side") } else { said };
        self.moves.push(Move { movement, dose, seconds: times * one.clamp(*LINE_S.start(), *LINE_S.end()) });
    }
}

fn called(unit: Unit) -> &'static str {
    match unit {
        Unit::Reps => " reps",
        other => other.short(),
    }
}

/// A movement as what it does in a warm-up.
fn as_item(movement: &Movement, catalogue: &Catalogue) -> WarmupItem {
    let joints = movement.joints.iter().filter(|(_, stress)| *stress > 0.0).map(|(joint, _)| joint.clone());
    WarmupItem {
        id: String::new(),
        name: movement.name.clone(),
        phase: Phase::Own,
        targets: std::iter::once(key(movement.pattern)).chain(joints).collect(),
        equipment: movement.equipment.clone(),
        dose: String::new(),
        seconds: 0,
        prepares: vec![movement.id.clone()],
        like: vec![movement.id.clone()],
        easier: easier(movement, catalogue),
        harder: String::new(),
        cue: "As the session says.".to_owned(),
    }
}

/// The next easier form of a movement, by the ladder; empty where there is none.
fn easier(movement: &Movement, catalogue: &Catalogue) -> String {
    let rung = crate::versions::Ladders::standard().of(&movement.id, "skill").find(|rung| rung.to.len() == 1);
    rung.map(|rung| catalogue.name(&rung.to[0].0).to_owned()).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use crate::warmup::of_day;

    fn own(text: &str) -> (u32, Vec<(String, String)>) {
        let (_, warmup) = of_day(&format!("Warm-up\n{text}\n\nFor time\n50 air squats\n400 m run"));
        let block = &warmup.blocks[0];
        let items = block.items.iter().map(|item| (item.name.clone(), item.dose.clone())).collect();
        (block.items.iter().map(|item| item.seconds).sum(), items)
    }

    #[test]
    fn rounds_count_as_often_as_they_are_done() {
        let (once, items) = own("250 m row\n10 air squats");
        let (thrice, again) = own("3 rounds\n250 m row\n10 air squats");
        assert_eq!(items, again);
        assert_eq!(items[0], ("Row".to_owned(), "250 m".to_owned()));
        assert!(thrice.abs_diff(3 * once) <= 3, "{once} {thrice}");
    }

    #[test]
    fn rounds_within_a_warm_up_count_as_often_as_they_are_done() {
        let (once, _) = own("400 m run\n20 air squats");
        let (run, _) = own("400 m run");
        let (thrice, items) = own("400 m run\n3 rounds:\n20 air squats");
        assert_eq!(items[1].1, "3 x 20 reps");
        assert!((thrice - run).abs_diff(3 * (once - run)) <= 3, "{run} {once} {thrice}");
    }

    #[test]
    fn a_written_time_is_the_time_it_takes() {
        let (seconds, _) = own("AMRAP 6\n200 m run\n10 push-ups");
        assert!(seconds.abs_diff(360) <= 2, "{seconds}");
    }
}
