//! Raise and open: a few moves, done in rounds by everybody at once.

use std::sync::Arc;

use super::WarmupRequest;
use super::coverage::open_patterns;
use super::demand::{Demand, asks_for, need};
use super::items::{Phase, WarmupItem, standard_items};
use super::kit::groups;

/// Moves of one round: fewer are no circuit, more are not kept in mind.
pub(super) const MOVES: std::ops::RangeInclusive<usize> = 4..=6;
/// Rounds that coaches lead; more only where the coach has given many minutes.
pub(super) const ROUNDS: std::ops::RangeInclusive<u32> = 2..=3;
/// Rounds for warm-ups of more than [`LONG_S`].
pub(super) const ROUNDS_IF_LONG: u32 = 5;
/// A pattern that nothing prepares is as far from what is asked for as so many times [`NEAR_S`]. Modelling choice.
const A_PATTERN_IS_WORTH: u32 = 3;
/// Seconds that make no difference between two ways to fill the minutes.
pub(super) const NEAR_S: u32 = 20;
/// From here on a warm-up is long, in seconds.
pub(super) const LONG_S: u32 = 16 * 60;
/// Seconds to change over from one move to the next.
pub(super) const CHANGE_S: u32 = 5;
/// Least and most seconds to change over, where the minutes ask for less or leave more.
const CHANGES_S: std::ops::RangeInclusive<i64> = 4..=14;
/// Seconds to say and show one move, once.
pub(super) const EXPLAIN_S: u32 = 8;
/// Longest that a move may take within a round, in seconds: long stretches belong after class.
const LONGEST_MOVE_S: u32 = 48;
/// Longest that what raises the pulse may take within a round, in seconds.
const LONGEST_RAISE_S: u32 = 75;
/// Days for which a move rests after it was done, while there is another that prepares the day.
const RESTS_DAYS: usize = 2;
/// How much less a joint or pattern asks for once a move has prepared it.
const PREPARED: f64 = 0.45;

/// Worth of what the day asks little of, as a share of what it asks much of.
const ASKED_LITTLE: f64 = 0.1;

/// What each place of a round is for, in the order in which it is led: pulse first, then opened and switched on in
/// turn.
const PLACES: [Phase; 6] =
    [Phase::Raise, Phase::Mobilise, Phase::Activate, Phase::Mobilise, Phase::Activate, Phase::Raise];

/// Up to six moves, those that the coach keeps first, in the order in which they are led.
pub(super) fn moves(request: &WarmupRequest<'_>, demands: &[Demand]) -> Vec<Arc<WarmupItem>> {
    let mut chosen: Vec<Arc<WarmupItem>> = Vec::new();
    let kept = |item: &&Arc<WarmupItem>| request.edits.locked.contains(&item.id) && item.phase.is_of_rounds();
    let mut kept: Vec<&Arc<WarmupItem>> = standard_items().iter().filter(kept).collect();
    for phase in PLACES {
        // What the coach keeps takes the first place of its phase.
        let place = kept.iter().position(|item| item.phase == phase);
        let next = match place {
            Some(place) => Some(Arc::clone(kept.remove(place))),
            None => best(phase, request, demands, &chosen),
        };
        chosen.extend(next);
    }
    chosen.extend(kept.into_iter().map(Arc::clone));
    chosen
}

/// Puts a move for each pattern that nothing prepares yet in the place of one that the patterns can do without, the last first. Gives the moves without which
/// a pattern is open, by their identity. `beside` is what is done besides the rounds, `all` what the whole day asks for.
pub(super) fn fill(
    moves: &mut [Arc<WarmupItem>],
    beside: &[Arc<WarmupItem>],
    all: &[Demand],
    request: &WarmupRequest<'_>,
) -> Vec<String> {
    let open = |moves: &[Arc<WarmupItem>]| {
        let items: Vec<Arc<WarmupItem>> = moves.iter().chain(beside).map(Arc::clone).collect();
        open_patterns(all, &items, request.catalogue)
    };
    let kept = |item: &WarmupItem| request.edits.locked.contains(&item.id);
    for pattern in open(moves) {
        let Some(item) = for_targets(std::slice::from_ref(&pattern), request, all, moves) else { continue };
        let before = open(moves).len();
        // The pulse is raised first, and what the coach keeps stays.
        let place = (1..moves.len()).rev().filter(|n| !kept(&moves[*n])).find(|n| {
            let mut others = moves.to_vec();
            others[*n] = Arc::clone(&item);
            open(&others).len() < before
        });
        if let Some(place) = place {
            moves[place] = item;
        }
    }
    let before = open(moves).len();
    let needed = |n: &usize| {
        let others: Vec<Arc<WarmupItem>> =
            moves.iter().enumerate().filter(|(at, _)| at != n).map(|(_, item)| Arc::clone(item)).collect();
        open(&others).len() > before
    };
    (0..moves.len()).filter(needed).map(|n| moves[n].id.clone()).collect()
}

/// The move of a phase that prepares most of what is still asked for.
fn best(
    phase: Phase,
    request: &WarmupRequest<'_>,
    demands: &[Demand],
    chosen: &[Arc<WarmupItem>],
) -> Option<Arc<WarmupItem>> {
    let fits = |item: &&Arc<WarmupItem>| {
        let longest = if phase == Phase::Raise { LONGEST_RAISE_S } else { LONGEST_MOVE_S };
        item.phase == phase
            && item.seconds <= longest
            && !chosen.iter().any(|known| known.id == item.id || is_same(known, item))
            && !request.edits.refused.contains(&item.id)
            && !request.edits.locked.contains(&item.id)
            && !request.lacks.contains(&item.id)
            && is_for_everybody(item, request, chosen)
    };
    let of = |rested: bool| {
        standard_items()
            .iter()
            .filter(fits)
            .filter(|item| !rested || !rests(item, request))
            .map(|item| (worth(item, request, demands, chosen), item))
            .filter(|(worth, _)| *worth > 0.0)
            .max_by(|(a, one), (b, other)| a.total_cmp(b).then(other.id.cmp(&one.id)))
    };
    of(true).or_else(|| of(false)).map(|(_, item)| Arc::clone(item))
}

/// Whether a move was done on one of the last days.
fn rests(item: &WarmupItem, request: &WarmupRequest<'_>) -> bool {
    request.past.iter().take(RESTS_DAYS).flatten().any(|id| *id == item.id)
}

/// The move that prepares most of some targets which nothing prepares yet; none where no move does.
pub(super) fn for_targets(
    targets: &[String],
    request: &WarmupRequest<'_>,
    demands: &[Demand],
    chosen: &[Arc<WarmupItem>],
) -> Option<Arc<WarmupItem>> {
    let fits = |item: &&Arc<WarmupItem>| {
        item.phase.is_of_rounds()
            && item.seconds <= LONGEST_MOVE_S
            && item.targets.iter().any(|target| targets.contains(target))
            && !chosen.iter().any(|known| known.id == item.id || is_same(known, item))
            && !request.edits.refused.contains(&item.id)
            && !request.lacks.contains(&item.id)
            && groups(item, request.gym, request.people) == Some(1)
    };
    let worth = |item: &Arc<WarmupItem>| -> f64 {
        let open = item.targets.iter().filter(|target| targets.contains(target));
        open.map(|target| need(target, demands, request.catalogue)).sum()
    };
    let found = standard_items().iter().filter(fits).map(|item| (!rests(item, request), worth(item), item));
    found
        .max_by(|(rested, a, one), (other_rested, b, other)| {
            rested.cmp(other_rested).then(a.total_cmp(b)).then(other.id.cmp(&one.id))
        })
        .map(|(_, _, item)| Arc::clone(item))
}

/// Whether two moves are the same movement under two names.
fn is_same(one: &WarmupItem, other: &WarmupItem) -> bool {
    one.like.iter().any(|id| other.like.contains(id))
}

/// Whether everybody can do it at once, or begin at another move while one is taken: only one of a round may be such
/// that people have to begin at different ones, and only with what is out for the day's work anyway.
fn is_for_everybody(item: &WarmupItem, request: &WarmupRequest<'_>, chosen: &[Arc<WarmupItem>]) -> bool {
    let turns = |item: &WarmupItem| groups(item, request.gym, request.people);
    match turns(item) {
        None => false,
        Some(1) => true,
        Some(many) => {
            let rotates = chosen.iter().any(|known| turns(known).is_some_and(|turns| turns > 1));
            many as usize <= *MOVES.start() && !rotates && is_out(item, request)
        }
    }
}

/// Whether all that an item needs is out for the day's work.
fn is_out(item: &WarmupItem, request: &WarmupRequest<'_>) -> bool {
    let used = |kit: &String| {
        let works = request.session.parts.iter().flat_map(|part| crate::session::works(&part.tree));
        let movements = works.filter_map(|work| request.catalogue.get(&work.movement));
        movements.into_iter().any(|movement| movement.equipment.contains(kit))
    };
    item.equipment.iter().all(|kit| kit == "floor_space" || used(kit))
}

/// What a move gives: the demand for what it targets, less what is prepared already, and less where something has to
/// be fetched for it. Modelling choice.
pub(super) fn worth(
    item: &WarmupItem,
    request: &WarmupRequest<'_>,
    demands: &[Demand],
    chosen: &[Arc<WarmupItem>],
) -> f64 {
    let asked =
        |target: &&String| demands.iter().any(|demand| asks_for(&demand.movement, target, request.catalogue));
    let gain = |target: &String| {
        let prepared = chosen.iter().filter(|known| known.targets.contains(target)).count();
        need(target, demands, request.catalogue) * f64::powi(PREPARED, prepared as i32)
    };
    // What the day asks little of is moved last.
    let share = |target: &String| if asked(&target) { 1.0 } else { ASKED_LITTLE };
    let gained: f64 = item.targets.iter().map(|target| share(target) * gain(target)).sum();
    // A pulse is raised whatever the day asks for.
    let gained = gained + if item.phase == Phase::Raise { 0.5 } else { 0.0 };
    gained * if is_out(item, request) { 1.0 } else { 0.7 }
}

/// Which moves and how many rounds come nearest to the seconds given, the first move and what the coach keeps always among them, and those that are
/// `needed` for a pattern where the minutes allow it; where several come about as near, fewer rounds and the moves chosen first.
pub(super) fn shape(
    (moves, needed): (&[Arc<WarmupItem>], &[String]),
    seconds: u32,
    most: usize,
    request: &WarmupRequest<'_>,
) -> Shape {
    let each: Vec<u32> = moves.iter().map(|item| super::build::dosed(item, request)).collect();
    let stays = |n: usize| n == 0 || request.edits.locked.contains(&moves[n].id);
    let kept = (0..moves.len()).filter(|n| stays(*n)).count();
    let counts = (*MOVES.start()).min(moves.len())..=(*MOVES.end()).min(most).min(moves.len()).max(kept);
    // All choices of the moves, by the bits of a number.
    let sets = (0..1_u32 << moves.len().min(16))
        .map(|bits| (0..moves.len()).filter(|n| bits >> n & 1 == 1 || stays(*n)).collect::<Vec<usize>>())
        .filter(|set| counts.contains(&set.len()));
    let rounds = *ROUNDS.start()..=if seconds > LONG_S / 2 { ROUNDS_IF_LONG } else { *ROUNDS.end() };
    let shapes = sets.flat_map(|set| rounds.clone().map(move |rounds| Shape { moves: set.clone(), rounds }));
    let rank = |shape: &Shape| {
        let length: u32 = shape.moves.iter().map(|n| in_rounds(each[*n], shape.rounds)).sum();
        let left_out =
            (0..moves.len()).filter(|n| !shape.moves.contains(n) && needed.contains(&moves[*n].id));
        let away = length.abs_diff(seconds) / NEAR_S + A_PATTERN_IS_WORTH * left_out.count() as u32;
        (away, shape.rounds, shape.moves.clone())
    };
    shapes
        .min_by_key(rank)
        .unwrap_or_else(|| Shape { moves: (0..moves.len()).collect(), rounds: *ROUNDS.start() })
}

/// Moves by their places, and how often they are done.
pub(super) struct Shape {
    pub(super) moves: Vec<usize>,
    pub(super) rounds: u32,
}

impl Shape {
    /// Seconds of it all.
    pub(super) fn seconds(&self, moves: &[Arc<WarmupItem>], request: &WarmupRequest<'_>) -> u32 {
        let each = self.moves.iter().map(|n| super::build::dosed(&moves[*n], request));
        each.map(|seconds| in_rounds(seconds, self.rounds)).sum()
    }
}

/// Seconds of one move in all rounds.
pub(super) fn in_rounds(seconds: u32, rounds: u32) -> u32 {
    EXPLAIN_S + rounds * (seconds + CHANGE_S)
}

/// Changes over as quickly or as easily as makes the moves last so many seconds more, or less.
pub(super) fn even_out(moves: &mut [super::Item], rounds: u32, more_s: i64) {
    let changes = i64::from(rounds) * moves.len().max(1) as i64;
    let change = (i64::from(CHANGE_S) + more_s / changes).clamp(*CHANGES_S.start(), *CHANGES_S.end());
    let each = i64::from(rounds) * (change - i64::from(CHANGE_S));
    moves.iter_mut().for_each(|item| item.seconds = (i64::from(item.seconds) + each) as u32);
}
