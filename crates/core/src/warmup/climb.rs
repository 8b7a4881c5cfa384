//! Right before the piece: short rounds of it at half size or less, up to its load and pace.

use std::sync::Arc;

use super::demand::Demand;
use super::items::{Phase, WarmupItem};
use super::open::{CHANGE_S, EXPLAIN_S};
use super::{Item, WarmupRequest};
use crate::movement::{MovementId, Unit};
use crate::session::{Amount, Part, PartKind, Work, works};
use crate::units::plain;

/// Movements of one short round.
const MOST_MOVEMENTS: usize = 4;
/// Longest that one movement may take in a short round, in seconds for somebody in the middle.
const EACH_S: f64 = 14.0;
/// As [`EACH_S`], for what is held at a pace where the piece is not much else.
const ENGINE_S: f64 = 30.0;
/// Longest that the short rounds may take in all, in seconds; longer ones are done once.
const ALL_S: u32 = 150;

/// Two short rounds of the first piece, the second with the day's load; none where a day has no piece.
pub(super) fn short_rounds(request: &WarmupRequest<'_>, demands: &[Demand]) -> Option<Item> {
    let part = request.session.parts.iter().find(|part| part.kind == PartKind::Conditioning)?;
    let round = round_of(part, request, demands);
    if round.is_empty() {
        return None;
    }
    let once: f64 = round.iter().map(|one| one.seconds + f64::from(CHANGE_S)).sum();
    let rounds = if EXPLAIN_S + 2 * once.round() as u32 > ALL_S { 1 } else { 2 };
    let dose = round.iter().map(|one| one.said.as_str()).collect::<Vec<_>>().join(", ");
    let loaded = round.iter().any(|one| one.loaded);
    let (name, cue) = match (rounds, loaded) {
        (1, true) => ("One short round of the piece", "With the day's load, at the day's pace."),
        (1, false) => ("One short round of the piece", "At the day's pace."),
        (_, true) => (
            "Two short rounds of the piece",
            "The first lighter, the second with the day's load and at the day's pace.",
        ),
        (_, false) => ("Two short rounds of the piece", "The first easy, the second at the day's pace."),
    };
    let of = WarmupItem {
        id: "short-rounds".to_owned(),
        name: name.to_owned(),
        phase: Phase::SkillPrimer,
        targets: Vec::new(),
        equipment: Vec::new(),
        dose: dose.clone(),
        seconds: rounds * once.round() as u32,
        prepares: round.iter().map(|one| one.movement.clone()).collect(),
        // Everybody does the movements of their own version, so that nothing of it is against a limit.
        like: Vec::new(),
        easier: "Everybody the movements of their own version".to_owned(),
        harder: String::new(),
        cue: cue.to_owned(),
    };
    let seconds = EXPLAIN_S + of.seconds;
    let refused = request.edits.refused.contains(&of.id);
    (!refused).then(|| super::build::planned(Arc::new(of), dose, seconds, demands, request))
}

struct Short {
    movement: MovementId,
    said: String,
    seconds: f64,
    loaded: bool,
}

/// Half of what one round has of each movement, and not more than a few seconds of it; the heaviest demands first
/// where there are more than fit, in the order of the text.
fn round_of(part: &Part, request: &WarmupRequest<'_>, demands: &[Demand]) -> Vec<Short> {
    let mut all: Vec<&Work> = Vec::new();
    for work in works(&part.tree) {
        if !all.iter().any(|known| known.movement == work.movement) {
            all.push(work);
        }
    }
    let rank = |work: &&Work| {
        demands.iter().position(|demand| demand.movement == work.movement).unwrap_or(usize::MAX)
    };
    let mut ranks: Vec<usize> = all.iter().map(rank).collect();
    ranks.sort_unstable();
    let last = ranks.get(MOST_MOVEMENTS - 1).copied().unwrap_or(usize::MAX);
    all.retain(|work| rank(work) <= last);
    all.truncate(MOST_MOVEMENTS);
    let engine_s = if all.len() <= 2 { ENGINE_S } else { EACH_S };
    all.into_iter().filter_map(|work| short(work, engine_s, request)).collect()
}

fn short(work: &Work, engine_s: f64, request: &WarmupRequest<'_>) -> Option<Short> {
    let movement = request.catalogue.get(&work.movement)?;
    let per = movement.seconds_per(work.dose.unit, 0.5)?;
    let written = match work.dose.amount {
        Amount::Fixed { first, .. } => first / 2.0,
        Amount::Scheme | Amount::Max | Amount::Open | Amount::Meanwhile => f64::INFINITY,
    };
    let longest = if movement.is_engine() { engine_s } else { EACH_S };
    let amount = written.min(longest / per);
    // As somebody would say it: whole repetitions, metres in tens.
    let amount = match work.dose.unit {
        Unit::Metres if amount >= 20.0 => (amount / 10.0).round() * 10.0,
        Unit::Metres | Unit::Seconds if amount >= 5.0 => (amount / 5.0).round() * 5.0,
        _ => amount.floor().max(1.0),
    };
    let said = format!("{}{} {}", plain(amount), work.dose.unit.short(), movement.name.to_lowercase());
    Some(Short {
        movement: movement.id.clone(),
        said,
        seconds: amount * per * work.dose.sides() + movement.setup_s.min(10.0),
        loaded: movement.takes_weight(),
    })
}

#[cfg(test)]
mod tests {
    use crate::warmup::of_day;

    fn rounds(text: &str) -> String {
        let (_, warmup) = of_day(text);
        let block = warmup.specific.unwrap();
        let item = block.items.last().unwrap();
        format!("{}: {}", item.name, item.dose)
    }

    #[test]
    fn short_rounds_are_of_the_piece_and_at_most_half_of_a_round() {
        let said = rounds("5 rounds for time\n6 thrusters 40/30 kg\n4 pull-ups\n400 m run");
        assert!(said.starts_with("Two short rounds of the piece: 3 thruster, 2 pull-up"), "{said}");
        let long = rounds("For time\n100 wall balls\n2000 m row");
        assert!(!long.contains("100") && !long.contains("2000"), "{long}");
        // A few seconds of each, however much of it there is.
        let balls = long.split(": ").nth(1).and_then(|said| said.split(' ').next()?.parse::<u32>().ok());
        assert!(balls.is_some_and(|balls| (2..10).contains(&balls)), "{long}");
    }

    #[test]
    fn a_day_without_a_piece_has_none() {
        assert_eq!(of_day("Strength\nBack squat 5x3 @ 80%").1.specific, None);
    }
}
