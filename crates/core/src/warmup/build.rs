//! The stages put into the minutes that there are.

use std::sync::Arc;

use super::coverage::{gaps, open_targets};
use super::demand::{Demand, asks_for, before_and_at_the_piece, demands};
use super::items::{Phase, WarmupItem};
use super::kit::groups;
use super::open::{self, EXPLAIN_S, in_rounds};
use super::own::own_blocks;
use super::rehearse::{spread, steps_of};
use super::{Block, Item, MOST_ITEMS, Stage, Warmup, WarmupRequest, climb};
use crate::movement::Pattern;

/// Usual length of a general warm-up, in seconds.
const USUAL_S: u32 = 600;
/// Least that a change leaves of a warm-up, in seconds.
const LEAST_S: i64 = 300;
/// Least share of the coach's own text that is left of it where the hour asks for less.
const LEAST_OF_OWN: f64 = 0.5;
/// Share of the minutes for the rounds, where there is something to rehearse; common practice for 8-12 minutes.
const SHARE_OF_ROUNDS: f64 = 0.6;
/// Most drills before the first lift or piece.
const MOST_DRILLS: usize = 4;
/// Most drills right before a piece, beside its short rounds.
const MOST_AT_THE_PIECE: usize = 2;
/// Longest that the drills and short rounds right before a piece may take, in seconds.
const AT_THE_PIECE_S: u32 = 210;
/// Sets of a drill.
const SETS: std::ops::RangeInclusive<u32> = 1..=3;
/// Seconds after each set of a drill, in which a coach looks and says something.
const LOOK_S: u32 = 14;
/// Groups beyond which a drill is not done in turns.
const MOST_TURNS: u32 = 4;
/// Longest that one set of a drill may take a class in turns, in seconds: whoever waits gets cold.
const MOST_IN_TURNS_S: u32 = 130;
/// Less than this left beside the coach's own text is not filled up.
const WORTH_FILLING_S: u32 = 45;
/// Most moves offered for what the coach's own text leaves open.
const MOST_OFFERS: usize = 4;

/// A warm-up for the day in about the seconds given. The coach's own text stands as it is written, with offers for
/// what it leaves open; locked items stay; refused ones do not come back.
pub fn build_warmup(request: WarmupRequest<'_>) -> Warmup {
    let lacks = request.lacks.to_vec();
    let all = demands(request.session, request.catalogue);
    if all.is_empty() {
        return Warmup { lacks, ..Warmup::default() };
    }
    let (first, at_the_piece) = before_and_at_the_piece(request.session, all.clone(), request.catalogue);
    let own = own_blocks(&request, &all);
    let specific = at_piece(&request, &all, &first, &at_the_piece);
    let (blocks, offers) = if own.is_empty() {
        (led(&request, (&first, &all), specific.as_ref()), Vec::new())
    } else {
        with_own(own, &request, &first, specific.as_ref())
    };
    let mut warmup = Warmup { specific, blocks, offers, lacks, ..Warmup::default() };
    warmup.seconds = warmup.blocks.iter().flat_map(|block| &block.items).map(|item| item.seconds).sum();
    warmup.gaps = gaps(&all, &warmup, request.catalogue);
    warmup
}

/// A length with a change that never leaves less than five minutes.
fn changed(seconds: u32, change_s: i64) -> u32 {
    match change_s {
        0 => seconds,
        change_s => (i64::from(seconds) + change_s).max(LEAST_S) as u32,
    }
}

/// The rounds and drills of a day whose coach has written no warm-up: up to what comes first of `all` that the day asks for, and with a move for each of its patterns.
fn led(
    request: &WarmupRequest<'_>,
    (demands, all): (&[Demand], &[Demand]),
    specific: Option<&Block>,
) -> Vec<Block> {
    let seconds = changed(request.seconds.unwrap_or(USUAL_S), request.change_s);
    let ways = Ways::of(demands, request);
    let mut moves = open::moves(request, demands);
    let at_the_piece = specific.iter().flat_map(|block| &block.items).map(|item| Arc::clone(&item.of));
    let beside: Vec<Arc<WarmupItem>> = at_the_piece.chain(ways.drills(1)).collect();
    let needed = open::fill(&mut moves, &beside, all, request);
    let later = specific.map_or(0, |block| block.items.len());
    let share = if ways.is_empty() { 1.0 } else { SHARE_OF_ROUNDS };
    let rounds_s = (f64::from(seconds) * share).round() as u32;
    let fitted = |(count, sets): (usize, u32)| {
        let drills = ways.drills(count);
        let rehearsed: u32 = drills.iter().map(|drill| in_sets(drill, sets, request)).sum();
        let most = MOST_ITEMS.saturating_sub(later + drills.len());
        let shape = open::shape((&moves, &needed), seconds.saturating_sub(rehearsed), most, request);
        let open_s = shape.seconds(&moves, request);
        // The minutes first, then about the usual share of them for the rounds and rather more drills than more sets.
        let uneven = open_s.abs_diff(rounds_s) / 60
            + (sets - 1)
            + (MOST_DRILLS - drills.len().min(MOST_DRILLS)) as u32;
        let rank = ((open_s + rehearsed).abs_diff(seconds) / open::NEAR_S, uneven);
        (rank, shape, drills, sets)
    };
    let choices = (1..=MOST_DRILLS).flat_map(|count| SETS.map(move |sets| (count, sets)));
    let best = choices.map(fitted).min_by_key(|(rank, ..)| *rank);
    let (_, shape, drills, sets) = best.expect("there are always choices");
    let rounds = shape.rounds;
    let raise = shape.moves.iter().map(|n| Arc::clone(&moves[*n])).map(|item| {
        let seconds = in_rounds(dosed(&item, request), rounds);
        // What is there for the sake of what comes later says so.
        let asks = if needed.contains(&item.id) { all } else { demands };
        Item { groups: 1, ..chosen(item, seconds, asks, request) }
    });
    let mut raise: Vec<Item> = raise.collect();
    let open_s: u32 = raise.iter().map(|item| item.seconds).sum();
    let rehearsed: u32 = drills.iter().map(|drill| in_sets(drill, sets, request)).sum();
    open::even_out(&mut raise, rounds, i64::from(seconds) - i64::from(open_s + rehearsed));
    let rotates = raise.iter().any(|item| groups(&item.of, request.gym, request.people) > Some(1));
    let mut rehearse = rehearsal(drills, sets, demands, request);
    as_the_coach_orders(&mut raise, request);
    as_the_coach_orders(&mut rehearse, request);
    let raise = Block { phase: Stage::Raise, rounds, rotates, items: raise };
    let rehearse = Block { phase: Stage::Rehearse, rounds: 1, rotates: false, items: rehearse };
    [raise, rehearse].into_iter().filter(|block| !block.items.is_empty()).collect()
}

/// The coach's own text with what they have taken of the offers, and the offers that are left. Where the coach has
/// given minutes beside the text, offers fill them.
fn with_own(
    mut own: Vec<Block>,
    request: &WarmupRequest<'_>,
    demands: &[Demand],
    specific: Option<&Block>,
) -> (Vec<Block>, Vec<Item>) {
    let kept = |item: &WarmupItem| request.edits.locked.contains(&item.id);
    let mut known: Vec<Arc<WarmupItem>> =
        own.iter().flat_map(|block| &block.items).map(|item| Arc::clone(&item.of)).collect();
    let written: u32 = own.iter().flat_map(|block| &block.items).map(|item| item.seconds).sum();
    let asked = match (request.seconds, request.change_s) {
        (None, 0) => None,
        (seconds, change_s) => Some((i64::from(seconds.unwrap_or(written)) + change_s).max(0) as u32),
    };
    if let Some(short) = asked.filter(|asked| *asked < written) {
        let share = (f64::from(short) / f64::from(written)).max(LEAST_OF_OWN);
        own.iter_mut().flat_map(|block| &mut block.items).for_each(|item| {
            item.seconds = (f64::from(item.seconds) * share).round() as u32;
            item.why = "as the session says, led shorter for the hour's sake".to_owned();
        });
    }
    let at_the_piece = specific.iter().flat_map(|block| &block.items).map(|item| Arc::clone(&item.of));
    known.extend(at_the_piece);
    let taken: Vec<Arc<WarmupItem>> =
        open::moves(request, demands).into_iter().filter(|item| kept(item)).collect();
    known.extend(taken.iter().cloned());
    let once = |item: Arc<WarmupItem>| {
        let seconds = in_rounds(dosed(&item, request), 1);
        Item { groups: 1, ..chosen(item, seconds, demands, request) }
    };
    let mut found: Vec<Item> = taken.into_iter().map(once).collect();
    let mut drills: Vec<Item> = Vec::new();
    let mut offers: Vec<Item> = Vec::new();
    // What nothing of the text opens or switches on.
    while offers.len() < MOST_OFFERS - 1 {
        let targets = open_targets(demands, &known, request.catalogue);
        let Some(item) = open::for_targets(&targets, request, demands, &known) else { break };
        known.push(Arc::clone(&item));
        offers.push(once(item));
    }
    // The first way up that the text does not go.
    let ways = Ways::of(demands, request);
    let goes = |drill: &WarmupItem| {
        known
            .iter()
            .any(|own| own.phase == Phase::Own && own.prepares.iter().any(|id| drill.prepares.contains(id)))
    };
    for drill in ways.drills(MOST_DRILLS).into_iter().filter(|drill| kept(drill) || !goes(drill)) {
        let seconds = in_sets(&drill, 1, request);
        let item = chosen(drill, seconds, demands, request);
        if item.locked {
            drills.push(item)
        } else if offers.len() < MOST_OFFERS {
            offers.push(item)
        }
    }
    if let Some(seconds) = asked {
        let mut left = seconds.saturating_sub(written);
        left = left.saturating_sub(found.iter().chain(&drills).map(|item| item.seconds).sum());
        offers.retain(|offer| {
            let fits = left >= WORTH_FILLING_S && offer.seconds <= left + EXPLAIN_S;
            if fits {
                left = left.saturating_sub(offer.seconds);
                if offer.of.phase.is_drill() { drills.push(offer.clone()) } else { found.push(offer.clone()) }
            }
            !fits
        });
    }
    as_the_coach_orders(&mut found, request);
    as_the_coach_orders(&mut drills, request);
    let mut blocks = own;
    blocks.push(Block { phase: Stage::Raise, rounds: 1, rotates: false, items: found });
    blocks.push(Block { phase: Stage::Rehearse, rounds: 1, rotates: false, items: drills });
    blocks.retain(|block| !block.items.is_empty());
    (blocks, offers)
}

/// Drills for what only the piece needs, and short rounds of it.
fn at_piece(request: &WarmupRequest<'_>, all: &[Demand], first: &[Demand], only: &[Demand]) -> Option<Block> {
    let rounds = climb::short_rounds(request, all);
    let mut left = AT_THE_PIECE_S.saturating_sub(rounds.as_ref().map_or(0, |item| item.seconds));
    let mut items: Vec<Item> = Vec::new();
    // What leads up to the lifts has been done by then.
    let done: Vec<_> =
        first.iter().flat_map(|demand| steps_of(&demand.movement, request.catalogue)).collect();
    let mut ways = Ways::of(only, request);
    ways.kept.clear();
    ways.of.iter_mut().for_each(|(_, steps)| steps.retain(|step| !done.contains(step)));
    // As many as there is time for, the last steps first: they are nearest to the piece.
    for drill in ways.drills(MOST_AT_THE_PIECE).into_iter().rev() {
        let seconds = in_sets(&drill, 1, request);
        if seconds <= left {
            left -= seconds;
            items.insert(0, chosen(drill, seconds, only, request));
        }
    }
    items.extend(rounds);
    (!items.is_empty()).then_some(Block { phase: Stage::Climb, rounds: 1, rotates: false, items })
}

/// The ways up to the day's movements.
struct Ways {
    /// The weight of each movement and its steps, heaviest first.
    of: Vec<(f64, Vec<Arc<WarmupItem>>)>,
    /// Drills that the coach keeps.
    kept: Vec<Arc<WarmupItem>>,
}

impl Ways {
    fn of(demands: &[Demand], request: &WarmupRequest<'_>) -> Self {
        let edits = request.edits;
        let can = |item: &Arc<WarmupItem>| {
            !edits.refused.contains(&item.id)
                && !request.lacks.contains(&item.id)
                && groups(item, request.gym, request.people).is_some_and(|turns| {
                    turns <= MOST_TURNS && (turns == 1 || turns * dosed(item, request) <= MOST_IN_TURNS_S)
                })
        };
        let mut of: Vec<(f64, Vec<Arc<WarmupItem>>)> = Vec::new();
        for demand in demands {
            let mut steps = steps_of(&demand.movement, request.catalogue);
            // A step that leads up to two movements is done once.
            steps.retain(|step| can(step) && !of.iter().any(|(_, known)| known.contains(step)));
            if !steps.is_empty() {
                of.push((demand.weight, steps));
            }
        }
        let kept = super::standard_items()
            .iter()
            .filter(|item| item.phase.is_drill() && edits.locked.contains(&item.id))
            .map(Arc::clone)
            .collect();
        Self { of, kept }
    }

    fn is_empty(&self) -> bool {
        self.of.is_empty() && self.kept.is_empty()
    }

    /// So many drills, shared out among the movements by their weight, each from partial to full; what the coach
    /// keeps is always among them.
    fn drills(&self, count: usize) -> Vec<Arc<WarmupItem>> {
        let mut shares = vec![0_usize; self.of.len()];
        let open = count.saturating_sub(self.kept.len());
        for _ in 0..open {
            let next = (0..self.of.len())
                .filter(|n| shares[*n] < self.of[*n].1.len())
                .map(|n| (self.of[n].0 / (shares[n] + 1) as f64, n))
                .max_by(|(a, one), (b, other)| a.total_cmp(b).then(other.cmp(one)));
            match next {
                Some((_, n)) => shares[n] += 1,
                None => break,
            }
        }
        let mut drills: Vec<Arc<WarmupItem>> = Vec::new();
        let spread = self.of.iter().zip(shares).flat_map(|((_, steps), count)| spread(steps, count));
        for drill in self.kept.iter().cloned().chain(spread) {
            if !drills.iter().any(|known| known.id == drill.id) {
                drills.push(drill);
            }
        }
        drills
    }
}

/// Seconds of a drill in so many sets, in turns where there is not enough for everybody.
fn in_sets(drill: &Arc<WarmupItem>, sets: u32, request: &WarmupRequest<'_>) -> u32 {
    let turns = groups(drill, request.gym, request.people).unwrap_or(1);
    EXPLAIN_S + sets * (dosed(drill, request) * turns + LOOK_S)
}

fn rehearsal(
    drills: Vec<Arc<WarmupItem>>,
    sets: u32,
    demands: &[Demand],
    request: &WarmupRequest<'_>,
) -> Vec<Item> {
    let with_sets = |drill: Arc<WarmupItem>| {
        let seconds = in_sets(&drill, sets, request);
        let mut item = chosen(drill, seconds, demands, request);
        if sets > 1 {
            item.dose = format!("{sets} x {}", item.dose);
        }
        item
    };
    drills.into_iter().map(with_sets).collect()
}

/// Seconds of one set of an item, in the coach's dose where there is one.
pub(super) fn dosed(item: &WarmupItem, request: &WarmupRequest<'_>) -> u32 {
    request.edits.doses.get(&item.id).map_or(item.seconds, |dose| scaled(item, dose))
}

/// The coach's order goes before; what is new since then follows as it is taught.
fn as_the_coach_orders(items: &mut [Item], request: &WarmupRequest<'_>) {
    let order = &request.edits.order;
    items.sort_by_key(|item| order.iter().position(|id| *id == item.id).unwrap_or(usize::MAX));
}

/// An item as it stands in a warm-up.
fn chosen(item: Arc<WarmupItem>, seconds: u32, demands: &[Demand], request: &WarmupRequest<'_>) -> Item {
    let dose = request.edits.doses.get(&item.id).unwrap_or(&item.dose).clone();
    planned(item, dose, seconds, demands, request)
}

/// An item with its dose and its time, and why it is there.
pub(super) fn planned(
    of: Arc<WarmupItem>,
    dose: String,
    seconds: u32,
    demands: &[Demand],
    request: &WarmupRequest<'_>,
) -> Item {
    let catalogue = request.catalogue;
    let asks = |demand: &&Demand| {
        let named = of.prepares.contains(&demand.movement);
        // What a move opens or switches on it does for everything that asks for that.
        named
            || (!of.phase.is_drill()
                && of.targets.iter().any(|target| asks_for(&demand.movement, target, catalogue)))
    };
    let prepares: Vec<String> =
        demands.iter().filter(asks).map(|demand| catalogue.name(&demand.movement).to_lowercase()).collect();
    Item {
        id: of.id.clone(),
        locked: request.edits.locked.contains(&of.id),
        name: of.name.clone(),
        dose,
        seconds,
        groups: groups(&of, request.gym, request.people).unwrap_or(1),
        why: why(&of, &prepares, demands, request),
        prepares,
        cue: of.cue.clone(),
        of,
    }
}

/// Why an item is there: what it does, and for what of the day.
fn why(item: &WarmupItem, prepares: &[String], demands: &[Demand], request: &WarmupRequest<'_>) -> String {
    let asked =
        |target: &&String| demands.iter().any(|demand| asks_for(&demand.movement, target, request.catalogue));
    let targets: Vec<String> = item.targets.iter().filter(asked).map(|target| called(target)).collect();
    let for_what = match prepares {
        [] => String::new(),
        [one] => format!(" for {one}"),
        [one, two] => format!(" for {one} and {two}"),
        [one, two, more @ ..] => format!(" for {one}, {two} and {} more", more.len()),
    };
    match item.phase {
        Phase::Own => "as the session says".to_owned(),
        Phase::Raise if targets.is_empty() => "gets the pulse up".to_owned(),
        Phase::Raise => format!("gets the pulse up, readies {}{for_what}", targets.join(" and ")),
        Phase::Mobilise if targets.is_empty() => "opens what the day asks little of".to_owned(),
        Phase::Mobilise => format!("opens {}{for_what}", targets.join(" and ")),
        Phase::Activate if targets.is_empty() => "moves what the day asks little of".to_owned(),
        Phase::Activate => format!("switches on {}{for_what}", targets.join(" and ")),
        Phase::SkillPrimer | Phase::BarbellPrimer if item.id == "short-rounds" => {
            "up to what the piece asks for".to_owned()
        }
        Phase::SkillPrimer | Phase::BarbellPrimer => format!("leads up to {}", prepares.join(" and ")),
        Phase::CoolDown => "after class".to_owned(),
    }
}

/// A pattern or joint in words.
pub(super) fn called(target: &str) -> String {
    let pattern: Option<Pattern> = serde_json::from_value(serde_json::Value::String(target.to_owned())).ok();
    pattern.map_or_else(|| target.replace('_', " "), |pattern| pattern.name().to_owned())
}

/// Seconds of a dose in the coach's words: twice the number takes twice as long.
fn scaled(item: &WarmupItem, dose: &str) -> u32 {
    let number = |text: &str| -> Option<f64> {
        let digits: String = text.chars().take_while(|c| c.is_ascii_digit() || *c == '.').collect();
        digits.parse().ok().filter(|n| *n > 0.0)
    };
    match (number(&item.dose), number(dose)) {
        (Some(usual), Some(wanted)) => (f64::from(item.seconds) * wanted / usual).clamp(5.0, 600.0) as u32,
        _ => item.seconds,
    }
}

#[cfg(test)]
#[path = "tests.rs"]
mod tests;
