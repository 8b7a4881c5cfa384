//! How long each block of the hour takes, and why.

use super::blocks::{Climb, Fetched, LiftTime, PieceTime};
use crate::gym::Gym;
use crate::movement::Catalogue;
use crate::session::{Format, Part, totals, works};
use crate::units::clock_s;

/// A length in seconds: on a quick day, as planned, on a slow day.
#[derive(Clone, Copy)]
pub(super) struct Length {
    pub low: f64,
    pub middle: f64,
    pub high: f64,
}

impl Length {
    /// Not a minute more or less, because a clock runs.
    pub fn exact(seconds: u32) -> Self {
        let middle = f64::from(seconds);
        Self { low: middle, middle, high: middle }
    }

    /// Between shares of the usual; how far blocks stray is coaching judgement, to be corrected by pins.
    pub fn about(seconds: u32, low: f64, high: f64) -> Self {
        let middle = f64::from(seconds);
        Self { low: middle * low, middle, high: middle * high }
    }
}

/// A length with its reason.
pub(super) struct Takes {
    pub length: Length,
    pub why: String,
    /// What does not fit into it, and what would.
    pub tight: Option<String>,
}

impl Takes {
    /// With room enough.
    pub fn of(length: Length, why: impl Into<String>) -> Self {
        Self { length, why: why.into(), tight: None }
    }
}

/// Seconds of one lifter's turn on a ramp step, plates included, and of a step at the least: nobody climbs without a breath.
const RAMP_TURN_S: u32 = 30;
const RAMP_STEP_S: u32 = 70;
/// Seconds for one step of two or three repetitions up to the weight of a piece.
const CLIMB_STEP_S: u32 = 45;
/// Rest between work sets when none is written: general strength in a class.
pub(super) const STRENGTH_REST_S: u32 = 120;
/// The least that anybody rests between two sets of a lift that names no rest.
const LEAST_REST_S: u32 = 60;
/// Seconds for a lifter to get under the bar.
const UNDER_THE_BAR_S: u32 = 10;
/// Seconds in which two people, one a side, put a pair of plates on or take it off.
const PAIR_OF_PLATES_S: u32 = 6;
/// A walk for everybody: to put away what was used, and to fetch what is needed; then some seconds for each kind of thing, and for each
/// person beyond a dozen who queues for it.
const PUT_AWAY_S: u32 = 45;
const FETCH_S: u32 = 30;
const EACH_KIND_S: u32 = 30;
const EACH_IN_THE_QUEUE_S: u32 = 3;
const NO_QUEUE: u32 = 12;

/// Seconds of one set: its repetitions, and getting under the bar.
fn set_s(part: &Part, lift: &LiftTime) -> u32 {
    let of_sheets = (lift.reps > 0).then_some(lift.reps);
    let reps = of_sheets.or(part.strength.reps.first().copied()).unwrap_or(8);
    let rep_s = part.strength.tempo.as_ref().map_or(3, |tempo| tempo.rep_s().max(3));
    reps * rep_s + UNDER_THE_BAR_S
}

/// Seconds of one lifter's turn on a rack: a set, and the plates for whoever is next.
pub fn turn_s(part: &Part, lift: &LiftTime) -> u32 {
    set_s(part, lift) + lift.plates_a_turn.div_ceil(2) * PAIR_OF_PLATES_S
}

/// Seconds of one step of the climb, with so many to a rack.
pub fn ramp_step_s(turns: u32) -> u32 {
    RAMP_STEP_S.max(RAMP_TURN_S * turns.max(1))
}

/// A lift: its ramp and its sets, one set after another as the rest or the others' turns allow.
pub(super) fn strength_length(part: &Part, lift: LiftTime) -> Takes {
    let turns = lift.turns.max(1);
    // The sheets say how many sets there are and of what; without any, the text does.
    let of_sheets = |counted: u32| (counted > 0).then_some(counted);
    let sets = of_sheets(lift.sets).or(part.strength.sets).unwrap_or(4);
    let work = set_s(part, &lift);
    let rest = part.rest.map_or(STRENGTH_REST_S, |rest| rest.high_s);
    // Sharing a rack: a turn comes round when the others have lifted.
    let turn = turn_s(part, &lift);
    let ramp_step = ramp_step_s(turns);
    let ramp = lift.ramp_steps * ramp_step;
    if let Some(seconds) = part.duration_s {
        let least = part.rest.map_or(LEAST_REST_S, |rest| rest.low_s);
        let cycle = part.interval_s.unwrap_or(work + least).max(if turns > 1 { turn * turns } else { 0 });
        let tight = too_many(part, lift, Need { turn, cycle, sets: part.strength.sets, ramp, seconds });
        return Takes { tight, ..Takes::of(Length::exact(seconds), "as written") };
    }
    if let Some(interval_s) = part.interval_s {
        // A bar that rises on the clock until it is missed: the strongest go on longest.
        let why = format!("up to {sets} sets, one every {}", clock_s(interval_s));
        return Takes::of(Length::about(ramp + sets * interval_s, 0.7, 1.1), why);
    }
    let (alone, shared) = (work + rest, turn * turns);
    let cycle = alone.max(shared);
    let each =
        if shared > alone { "the others' turns take longer than the rest" } else { "the rest decides" };
    let steps = match lift.ramp_steps {
        0 => String::new(),
        steps => format!("{steps} ramp steps of {} and ", clock_s(ramp_step)),
    };
    let name = lift.place.name();
    let why = format!("{steps}{sets} sets of {}, {turns} to a {name}: {each}", clock_s(cycle));
    // A written rest is kept; without one people take more or less.
    let (low, high) = if part.rest.is_some() { (0.95, 1.1) } else { (0.85, 1.2) };
    Takes::of(Length::about(ramp + sets * cycle, low, high), why)
}

/// What the sets of a lift ask of a time that is written.
struct Need {
    /// Seconds of one turn, plates changed.
    turn: u32,
    /// Seconds from one set of a lifter to their next.
    cycle: u32,
    /// As written; without a number nothing is too many.
    sets: Option<u32>,
    /// Seconds of climbing.
    ramp: u32,
    /// Seconds there are.
    seconds: u32,
}

/// Why sets x rest x people on a bar do not fit the time that is written, and what would.
fn too_many(part: &Part, lift: LiftTime, need: Need) -> Option<String> {
    let Need { turn, cycle, sets, ramp, seconds } = need;
    let (turns, name) = (lift.turns, lift.place.name());
    if let Some(every) = part.interval_s.filter(|every| turns > 1 && turn * turns > *every) {
        let fit = (every / turn.max(1)).max(1);
        return Some(format!(
            "{turns} to a {name} take {} a round, and a set starts every {}: {fit} to a {name} would fit, or a start every {}",
            clock_s(turn * turns),
            clock_s(every),
            clock_s((turn * turns).div_ceil(15) * 15)
        ));
    }
    let sets = sets?;
    // A clock that starts the sets holds all of them; a build ends where its time ends.
    if part.interval_s.is_some() || part.format == Some(Format::BuildTo) || ramp + sets * cycle <= seconds {
        return None;
    }
    let fit = seconds.saturating_sub(ramp) / cycle.max(1);
    let fewer = if turns > 1 { format!(", or fewer to a {name}") } else { String::new() };
    Some(format!(
        "{} of climbing and {sets} sets of {}, {turns} to a {name}, take {}, and {} is written: time for {fit} of {sets} sets{fewer}",
        clock_s(ramp),
        clock_s(cycle),
        clock_s(ramp + sets * cycle),
        clock_s(seconds)
    ))
}

/// Putting away, and setting up what a piece needs.
pub(super) fn set_up_length(stations: &[Fetched], put_away: bool) -> Takes {
    let away = if put_away { PUT_AWAY_S } else { 0 };
    let each = |kind: &Fetched| EACH_KIND_S + kind.at_once.saturating_sub(NO_QUEUE) * EACH_IN_THE_QUEUE_S;
    let seconds = away + FETCH_S + stations.iter().map(each).sum::<u32>();
    let names: Vec<String> = stations.iter().map(|kind| kind.station.counted(kind.count)).collect();
    let fetch = format!("fetch {}", names.join(", "));
    let why = match (put_away, names.is_empty()) {
        (_, true) => "put away; nothing to fetch for the piece".to_owned(),
        (true, false) => format!("put away, {fetch}"),
        (false, false) => fetch,
    };
    Takes::of(Length::about(seconds, 0.7, 1.4), why)
}

/// The way up to the weight of a piece, for whoever has the longest; all others are done sooner.
pub(super) fn climb_length(climb: &Climb, gym: &Gym) -> Takes {
    let Climb { who, to, steps, plates } = climb;
    let seconds = steps * CLIMB_STEP_S + plates.div_ceil(2) * PAIR_OF_PLATES_S;
    let counted = if *steps == 1 { "one step".to_owned() } else { format!("{steps} steps") };
    let why = format!("{counted} up to {}, for {who}, who has the furthest to go", to.show(gym.unit));
    Takes::of(Length::about(seconds, 0.8, 1.3), why)
}

/// A piece: to its cap, or where it has none until the last has finished.
pub(super) fn conditioning_length(part: &Part, piece: Option<&PieceTime>) -> Takes {
    let heats = piece.and_then(|piece| piece.heats.as_ref());
    let in_heats = |why: &str| heats.map_or(why.to_owned(), |heats| format!("{heats}; {why}"));
    if let Some(seconds) = part.duration_s.filter(|_| part.format != Some(Format::ForTime)) {
        let length = piece.filter(|_| heats.is_some()).map_or(seconds, |piece| piece.late_s.ceil() as u32);
        return Takes::of(Length::exact(length), in_heats("as written"));
    }
    let Some(piece) = piece else {
        let guess = part.cap_s.unwrap_or(600);
        return Takes::of(Length::about(guess, 0.8, 1.1), "no estimate: a guess");
    };
    let late = piece.late_s.min(LONGEST_PIECE_S);
    match part.cap_s {
        // Whoever is inside the cap may be the last of the room on another day: the clock runs until it.
        Some(cap) => {
            let middle = late.max(f64::from(cap));
            let length = Length { low: piece.middle_s.min(middle), middle, high: middle };
            Takes::of(length, in_heats("until the cap"))
        }
        // Without a cap nothing stops the clock for whoever has a bad day.
        None => {
            let length = Length { low: piece.middle_s.min(late), middle: late, high: late * 1.1 };
            Takes::of(length, in_heats("the slowest member's late finish; there is no cap"))
        }
    }
}

/// A piece is planned for up to so many seconds; what takes longer is over-full all the same.
const LONGEST_PIECE_S: f64 = 5400.0;

/// A list of movements to be worked through: its work at a steady pace, `most` seconds at most.
pub(super) fn list_length(part: &Part, catalogue: &Catalogue, most: u32) -> Takes {
    if let Some(seconds) = part.duration_s {
        return Takes::of(Length::exact(seconds), "as written");
    }
    let work: f64 = totals(&part.tree)
        .iter()
        .filter_map(|total| {
            let movement = catalogue.get(&total.movement)?;
            Some(movement.seconds_per(total.unit, 0.4)? * total.amount + movement.setup_s)
        })
        .sum();
    let pauses =
        15.0 * works(&part.tree).len() as f64 * f64::from(part.strength.sets.or(part.rounds).unwrap_or(1));
    let seconds = ((work + pauses).ceil() as u32).clamp(60, most.max(60));
    Takes::of(Length::about(seconds, 0.8, 1.2), "its work at a steady pace, with short pauses")
}
