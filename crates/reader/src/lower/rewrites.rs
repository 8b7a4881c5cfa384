//! The same piece written in other ways, brought to one: bouts told in words, stations, bursts, schemes beside each other.

use lantern_session::movement::{Catalogue, LoadKind, Movement, Unit};
use lantern_session::{Load, LoadUnit, PartKind, Rest, RestAfter, Score};

use super::LONGEST_PIECE_S;
use crate::aims::Told;
use crate::facts::{Facts, Item, Step, StepKind};
use crate::label::Label;
use crate::say::{Aim, MACHINES};

/// Most repetitions that a max is built to.
const MOST_OF_A_MAX: u32 = 10;
/// Shortest length of a section of an outline, in seconds; a shorter one is a hold.
pub(super) const SHORTEST_SECTION_S: u32 = 240;
/// Longest stay at a station of which nobody says that it is counted, in seconds.
const LONGEST_STATION_S: f64 = 120.0;
/// Longest burst of work and of rest between bursts that are counted, in seconds.
const LONGEST_BURST_S: u32 = 60;

/// "1 clean every 30 s, add 5 kg until you miss": it is the bar that rises until it is too heavy, not the repetitions.
pub(super) fn heavier_until_missed(facts: &mut Facts, catalogue: &Catalogue) {
    let movements: Vec<_> = facts
        .items()
        .filter_map(|item| catalogue.get(item.movement.as_ref()?))
        .map(|movement| movement.load_kind)
        .collect();
    let one_bar = movements == [LoadKind::Barbell];
    if facts.until_failure && facts.climbs && facts.add_each.is_none() && one_bar {
        facts.until_failure = false;
        facts.build = true;
        let reps = facts.items().find_map(|item| item.amount).map(|(reps, _)| reps as u32);
        facts.strength.rm = facts.strength.rm.or(reps.filter(|reps| (1..=MOST_OF_A_MAX).contains(reps)));
        facts.kind = Some(PartKind::Strength);
    }
}

/// "Working to a tough set of 3 in the clean": so many are what it builds to.
pub(super) fn built_to_so_many(facts: &mut Facts, catalogue: &Catalogue) {
    let mut items = facts.items();
    let (Some(item), None) = (items.next(), items.next()) else { return };
    let lift = item.movement.as_ref().and_then(|id| catalogue.get(id)).is_some_and(Movement::is_barbell);
    let reps =
        item.amount.filter(|_| item.unit.is_none_or(|unit| unit == Unit::Reps)).map(|(reps, _)| reps as u32);
    let reps = reps.filter(|reps| lift && (1..=MOST_OF_A_MAX).contains(reps));
    drop(items);
    let lone = facts.sets.is_none() && facts.sets_reps.is_empty() && facts.every.is_none();
    if facts.build && lone && facts.strength.rm.is_none() {
        facts.strength.rm = reps;
    }
    // "Every 3 min x 5: 3 front squats, build to a heavy 3": the sets of the clock, each heavier than the one before.
    let ends = facts.every.is_some_and(|(_, times, total_s)| times.or(total_s).is_some());
    if ends && reps.is_some() && facts.strength.rm == reps {
        (facts.strength.rm, facts.climbs) = (None, true);
    }
}

/// "50 wall balls, 40 sit-ups, 30 lunges; 200 m run after each movement": the run comes three times.
pub(super) fn after_each_thing(facts: &mut Facts) {
    let Some(line) = facts.after_each_thing else { return };
    let own = |step: &Step| step.line == line && matches!(step.what, StepKind::Item(_));
    let others = facts.items().count() - facts.steps.iter().filter(|step| own(step)).count();
    let Some(at) = facts.steps.iter().position(own).filter(|_| others > 1) else { return };
    let again = Step { starts_line: false, ..facts.steps.remove(at) };
    let steps = std::mem::take(&mut facts.steps).into_iter();
    facts.steps = steps
        .flat_map(|step| {
            let behind = matches!(step.what, StepKind::Item(_)).then(|| again.clone());
            [Some(step), behind].into_iter().flatten()
        })
        .collect();
}

/// "Bench press 5-5-5-5-5, rows 5x8 after each set": both are told by their sets.
pub(super) fn sets_beside_rungs(facts: &mut Facts) {
    let alike = |reps: &[u32]| reps.len() > 1 && reps.windows(2).all(|pair| pair[0] == pair[1]);
    let rungs = facts
        .steps
        .iter()
        .position(|step| matches!(&step.what, StepKind::Scheme { reps, open: None } if alike(reps)));
    if let Some(at) = rungs.filter(|_| facts.superset && facts.sets_reps.len() == 1)
        && let StepKind::Scheme { reps, .. } = facts.steps.remove(at).what
    {
        facts.sets_reps.insert(0, (reps.len() as u32, reps[0]));
        let open = facts.steps.iter_mut().find_map(|step| match &mut step.what {
            StepKind::Item(item) if item.amount.is_none() && !item.max => Some(item),
            _ => None,
        });
        if let Some(item) = open {
            item.amount = Some((f64::from(reps[0]), None));
        }
    }
}

/// "Deadlift, 20 min, up to a heavy 3": so long there is for the lift, and nobody holds it.
pub(super) fn minutes_of_a_lift(facts: &mut Facts, catalogue: &Catalogue) {
    if !facts.has_prescription() || facts.has_format() || facts.duration_s.is_some() {
        return;
    }
    let lifted = |item: &Item| {
        let movement = item.movement.as_ref().and_then(|id| catalogue.get(id));
        // "8 min row" is on the machine.
        movement.is_some_and(|movement| {
            movement.unit == Unit::Reps && movement.takes_weight() || item.generic && !movement.is_engine()
        })
    };
    let minutes = |step: &mut Step| match &mut step.what {
        StepKind::Item(item) if item.unit == Some(Unit::Seconds) && !item.max && lifted(item) => {
            let seconds = item.amount.map_or(0, |(seconds, _)| seconds as u32);
            (seconds >= SHORTEST_SECTION_S).then(|| {
                (item.amount, item.unit) = (None, None);
                seconds
            })
        }
        _ => None,
    };
    facts.duration_s = facts.steps.iter_mut().find_map(minutes);
}

/// "Learn: air squat, push-up, ring row (15 min)": so long there is for all of it, and nobody does the last for so long.
pub(super) fn minutes_of_practice(facts: &mut Facts, section: Option<PartKind>, catalogue: &Catalogue) {
    let practice = facts.kind.or(section) == Some(PartKind::Skill);
    if !practice || facts.has_format() || facts.duration_s.is_some() || facts.has_rounds() {
        return;
    }
    let mut items = facts.steps.iter_mut().rev().filter_map(|step| match &mut step.what {
        StepKind::Item(item) => Some(item),
        _ => None,
    });
    let Some(last) = items.next() else { return };
    let counted = |item: &Item| {
        let movement = item.movement.as_ref().and_then(|id| catalogue.get(id));
        movement.is_some_and(|movement| movement.unit == Unit::Reps)
    };
    let bare =
        items.next().is_some_and(|item| item.amount.is_none()) && items.all(|item| item.amount.is_none());
    if let (Some((seconds, None)), Some(Unit::Seconds), true, true) =
        (last.amount, last.unit, bare, counted(last))
        && seconds >= f64::from(SHORTEST_SECTION_S)
    {
        (last.amount, last.unit) = (None, None);
        facts.duration_s = Some(seconds as u32);
    }
}

/// "100 step-ups; every 20 reps: 10 push-ups" is five rounds of 20 and 10.
pub(super) fn every_so_many(facts: &mut Facts) {
    let Some(each) = facts.every_reps.filter(|_| facts.rounds().is_none() && facts.items().count() > 1)
    else {
        return;
    };
    let first = facts.steps.iter().position(|step| matches!(step.what, StepKind::Item(_)));
    let Some(Step { what: StepKind::Item(item), .. }) = first.and_then(|at| facts.steps.get_mut(at)) else {
        return;
    };
    let Some((all, None)) = item.amount else { return };
    let rounds = all as u32 / each;
    if rounds < 2 || all != f64::from(rounds * each) {
        return;
    }
    item.amount = Some((f64::from(each), None));
    let header = Step { what: StepKind::Rounds(rounds), ..facts.steps[first.unwrap_or_default()].clone() };
    facts.steps.insert(first.unwrap_or_default(), header);
}

/// "Death by burpees" is one more each minute; "50 s per station" goes round them.
pub(super) fn clocks_in_words(facts: &mut Facts) {
    if facts.until_failure && facts.every.is_none() && facts.add_each.is_none() && !facts.has_prescription() {
        facts.every = Some((60, None, None));
    }
    let gentle = matches!(facts.kind, Some(PartKind::Warmup | PartKind::Mobility));
    if let (Some(work_s), true) = (facts.station_s, gentle) {
        // "60 s each" above stretches is how long each is held.
        for step in &mut facts.steps {
            if let StepKind::Item(item) = &mut step.what
                && item.amount.is_none()
            {
                (item.amount, item.unit) = (Some((f64::from(work_s), None)), Some(Unit::Seconds));
            }
        }
    } else if let (None, Some(work_s)) = (facts.on_off, facts.station_s) {
        let move_s = facts.station_move_s.or_else(|| take_rest_above(facts)).unwrap_or(0);
        facts.on_off = Some((None, work_s, move_s));
        // "1 minute each of: ..., rest": the last of the stations is a rest as long as the others.
        if facts.steps.last().is_some_and(|step| step.what == StepKind::RestOpen) && facts.rest.is_none() {
            facts.rest = Some(Rest::of(work_s, RestAfter::Each));
        }
    }
}

/// The rest that stands above the stations, taken out of the steps: what lies between two of them, unless it is of their rounds.
fn take_rest_above(facts: &mut Facts) -> Option<u32> {
    if facts.has_rounds() {
        return None;
    }
    let work = facts.steps.iter().position(|step| matches!(step.what, StepKind::Item(_)))?;
    let rest = |step: &Step| match step.what {
        StepKind::Rest { seconds, after: None } => Some(seconds),
        _ => None,
    };
    let at = facts.steps[..work].iter().position(|step| rest(step).is_some())?;
    rest(&facts.steps.remove(at))
}

/// "Three minutes to do A and B, then as many C as the time allows; rest a minute, four rounds" is bouts
/// with rest, said in words.
pub(super) fn bouts_in_words(facts: &mut Facts) {
    let rounds = facts.rounds();
    let open = facts.items().any(|item| item.max);
    let plain = !facts.has_format() && (facts.sets.is_none() || rounds.is_none());
    let rounds = rounds.or(facts.sets);
    if let (Some(work_s), Some(n), Some(rest), true) = (facts.duration_s, rounds, facts.rest, open && plain)
        && n.saturating_mul(work_s) <= LONGEST_PIECE_S
    {
        facts.sets = None;
        facts.on_off = Some((Some(n), work_s, rest.low_s));
        facts.duration_s = None;
        facts.steps.retain(|step| !matches!(step.what, StepKind::Rounds(_) | StepKind::Rest { .. }));
    }
}

/// "4 x 6:00 AMRAP, 90 s rest between" with one list of work: the same bout again. Bouts that are listed one by
/// one ("AMRAP 1:") are parts of their own.
pub(super) fn bouts_of_an_amrap(facts: &mut Facts) {
    // "Score each round" of bouts that are gone round again counts what is done in each.
    if facts.amrap.is_some() && facts.score == Some(Score::SlowestInterval) {
        facts.score = None;
    }
    let one_by_one = matches!(facts.label, Some(Label::Bout(_)));
    let last = facts.steps.last().map(|step| &step.what);
    let below = facts.sets.is_some() && matches!(last, Some(StepKind::Rest { .. }));
    let rests = facts.rest.is_some_and(|rest| rest.after == RestAfter::Each) || below;
    if one_by_one && matches!(facts.steps.first().map(|step| &step.what), Some(StepKind::Rest { .. })) {
        // The rest that stands above the first bout lies between them.
        facts.steps.remove(0);
    }
    if facts.bouts.is_none() && matches!(facts.amrap, Some(Some(_))) && rests {
        // "5 sets" above a short AMRAP with a rest between sets says the same.
        facts.bouts = facts.rounds().or(facts.sets.take());
        facts.steps.retain(|step| !matches!(step.what, StepKind::Rounds(_)));
    }
    if let (Some(times), Some(Some(work_s)), false) = (facts.bouts, facts.amrap, one_by_one) {
        facts.on_off = Some((Some(times), work_s, facts.rest.map_or(0, |rest| rest.low_s)));
        facts.amrap = None;
        facts.score = facts.score.or(Some(if facts.items().any(|item| item.max) {
            Score::Reps
        } else {
            Score::RoundsReps
        }));
        facts.steps.retain(|step| !matches!(step.what, StepKind::Rest { .. } | StepKind::Main));
    }
}

/// From so many seconds on a machine alone is steady work, whatever is not said; shorter it may as well be a test.
const STEADY_S: f64 = 900.0;

/// Whether the text says how it is run: for time, on a clock, or so many rounds.
fn is_raced_or_clocked(facts: &Facts) -> bool {
    facts.for_time
        || facts.tabata
        || facts.amrap.is_some()
        || facts.every.is_some()
        || facts.on_off.is_some()
        || facts.has_rounds()
}

/// "30 min steady: row", "40 min easy run": one machine or a run for a length is held, and nothing of it is scored.
pub(super) fn one_thing_for_a_length(facts: &mut Facts, catalogue: &Catalogue) {
    let is_run_otherwise = is_raced_or_clocked(facts)
        || facts.remaining
        || facts.add_each.is_some()
        || facts.target.is_some()
        || facts.score.is_some_and(|score| score != Score::None);
    let alone = facts.steps.iter().all(|step| matches!(step.what, StepKind::Item(_) | StepKind::Main));
    let (length, eased) = (facts.duration_s, facts.quality);
    let mut items = facts.steps.iter_mut().filter_map(|step| match &mut step.what {
        StepKind::Item(item) => Some(item),
        _ => None,
    });
    let (Some(item), None, false, true) = (items.next(), items.next(), is_run_otherwise, alone) else {
        return;
    };
    let movement = item.movement.as_ref().and_then(|id| catalogue.get(id));
    let seconds = match (item.amount, item.unit, length) {
        (None, _, Some(seconds)) => f64::from(seconds),
        (Some((seconds, None)), Some(Unit::Seconds), None) => seconds,
        _ => return,
    };
    if item.max || !movement.is_some_and(Movement::is_engine) || !eased && seconds < STEADY_S {
        return;
    }
    (item.amount, item.unit) = (Some((seconds, None)), Some(Unit::Seconds));
    facts.quality = true;
}

/// "20 min at a steady pace", above a list: gone round until the time is up, and nobody counts how often.
pub(super) fn steady_rounds(facts: &mut Facts) {
    let piece = matches!(facts.kind, None | Some(PartKind::Conditioning | PartKind::Home));
    let clocked = is_raced_or_clocked(facts) || facts.cap_s.is_some();
    let list = facts.items().count() > 1
        && facts.items().all(|item| item.amount.is_some())
        && facts.items().any(|item| item.unit != Some(Unit::Seconds));
    if let (Some(seconds), true, true, false, true) = (facts.duration_s, facts.quality, piece, clocked, list)
    {
        facts.amrap = Some(Some(seconds));
        facts.score = facts.score.or(Some(Score::None));
    }
}

/// "Warm-up: 5 min on any machine" is how long it takes, and no machine's work.
pub(super) fn any_machine_of_a_warm_up(facts: &mut Facts) {
    if facts.kind != Some(PartKind::Warmup) {
        return;
    }
    let is = |step: &Step, machine: &str| matches!(&step.what, StepKind::Item(item) if item.movement.as_ref().is_some_and(|id| id.as_str() == machine));
    let any = |steps: &[Step]| steps.iter().zip(MACHINES).all(|(step, machine)| is(step, machine));
    let Some(at) = facts.steps.windows(MACHINES.len()).position(any) else { return };
    if let StepKind::Item(Item { amount: Some((seconds, None)), unit: Some(Unit::Seconds), .. }) =
        &facts.steps[at].what
    {
        facts.duration_s = facts.duration_s.or(Some(*seconds as u32));
        facts.steps.drain(at..at + MACHINES.len());
    }
}

/// "45 min: 15 bike, 15 row, 15 run" are minutes, since they add up to them; says whether they are taken so.
pub(super) fn minutes_that_add_up(facts: &mut Facts, catalogue: &Catalogue) -> bool {
    let clocked = facts.has_format() && !facts.quality || facts.has_rounds();
    let Some(length) = facts.duration_s.filter(|_| !clocked) else { return false };
    let machine = |item: &Item| {
        item.unit.is_none()
            && item.movement.as_ref().and_then(|id| catalogue.get(id)).is_some_and(Movement::is_engine)
    };
    let minutes: Option<f64> =
        facts.items().map(|item| item.amount.filter(|_| machine(item)).map(|(first, _)| first)).sum();
    if facts.items().count() < 2 || minutes.is_none_or(|minutes| minutes * 60.0 != f64::from(length)) {
        return false;
    }
    for step in &mut facts.steps {
        if let StepKind::Item(item) = &mut step.what {
            (item.amount, item.unit) =
                (item.amount.map(|(minutes, _)| (minutes * 60.0, None)), Some(Unit::Seconds));
        }
    }
    true
}

/// "Warm-up", and below it "coach led, 8-10 min": how long it takes, and nothing to aim at.
pub(super) fn length_of_a_talk(facts: &mut Facts) {
    let gentle = matches!(facts.kind, Some(PartKind::Warmup | PartKind::Mobility | PartKind::Skill));
    if let (true, false, None, Some(Told { high: Some(high), of: Aim::Seconds, .. })) =
        (gentle, facts.has_items(), facts.duration_s, facts.target)
    {
        facts.duration_s = Some(high as u32);
        facts.target = None;
    }
}

/// "Box jumps 50" among stations that count what is done in them: how high, and not how many.
pub(super) fn heights_of_stations(facts: &mut Facts, catalogue: &Catalogue) {
    let timed = facts.on_off.is_some() || facts.station_s.is_some() || facts.tabata;
    let counted = facts.items().filter(|item| item.amount.is_some()).count();
    if !timed || 2 * counted >= facts.items().count() {
        return;
    }
    for step in &mut facts.steps {
        let StepKind::Item(item) = &mut step.what else { continue };
        let movement = item.movement.as_ref().and_then(|id| catalogue.get(id));
        let on_a_box = movement.is_some_and(|movement| movement.load_kind == LoadKind::BoxHeight);
        if let (true, Some((first, second)), None, None) = (on_a_box, item.amount, item.unit, item.load)
            && let Some(unit) = height_unit(first)
        {
            item.load = Some(Load { first, second, unit, implements: 1 });
            item.amount = None;
        }
    }
}

/// The unit of a bare number that can be the height of a box.
fn height_unit(height: f64) -> Option<LoadUnit> {
    match height as u32 {
        40..=76 => Some(LoadUnit::Cm),
        20 | 24 | 30 => Some(LoadUnit::In),
        _ => None,
    }
}

/// "6 min row for distance", "5 min ski, score is calories": as much of one thing as goes into its length.
pub(super) fn as_far_as_it_gets(facts: &mut Facts, catalogue: &Catalogue) {
    let open = facts.score == Some(Score::Reps) || facts.counted_in == Some(Unit::Metres);
    if !open || facts.has_format() || facts.has_rounds() || facts.items().count() != 1 {
        return;
    }
    let metres = facts.counted_in == Some(Unit::Metres);
    let length = facts.duration_s;
    let mut items = facts.steps.iter_mut().filter_map(|step| match &mut step.what {
        StepKind::Item(item) => Some(item),
        _ => None,
    });
    let Some(item) = items.next() else { return };
    let movement = item.movement.as_ref().and_then(|id| catalogue.get(id));
    let seconds = match (item.amount, item.unit, length) {
        (None, _, Some(seconds)) => seconds,
        (Some((seconds, None)), Some(Unit::Seconds), None) => seconds as u32,
        _ => return,
    };
    if item.max || !movement.is_some_and(Movement::is_engine) {
        return;
    }
    (item.amount, item.max) = (None, true);
    item.unit = metres.then_some(Unit::Metres);
    facts.duration_s = None;
    facts.amrap = Some(Some(seconds));
    facts.score = Some(Score::Reps);
}

/// "As many reps as you can: 1 min burpees, 1 min row, 1 min rest, x 3": stays at stations, and what is done in each counts.
pub(super) fn stations_of_an_amrap(facts: &mut Facts, catalogue: &Catalogue) {
    let counted = |item: &Item| {
        let movement = item.movement.as_ref().and_then(|id| catalogue.get(id));
        item.unit == Some(Unit::Seconds) && movement.is_some_and(|movement| movement.unit != Unit::Seconds)
    };
    let lengths: Vec<f64> = facts.items().filter_map(|item| item.amount.map(|(amount, _)| amount)).collect();
    let [work_s, ..] = lengths[..] else { return };
    let alike = lengths.len() == facts.items().count() && lengths.iter().all(|s| *s == work_s);
    // "Three rounds of 1 min wall balls, 1 min box jumps, 1 min row" is counted, whether it says so or not.
    let piece = matches!(facts.kind, None | Some(PartKind::Conditioning));
    let told = facts.score == Some(Score::Reps)
        || facts.score.is_none() && piece && lengths.len() > 2 && work_s <= LONGEST_STATION_S;
    let rounds_of_counts = told && facts.has_rounds() && !facts.has_format();
    if !(facts.amrap.is_some() || rounds_of_counts)
        || lengths.len() < 2
        || !alike
        || !facts.items().all(counted)
    {
        return;
    }
    facts.amrap = None;
    facts.duration_s = None;
    // "3 min double-unders, 1 min rest, 3 min row, 1 min rest, ...": rested after each of them.
    let rests: Vec<u32> = facts
        .steps
        .iter()
        .filter_map(|step| if let StepKind::Rest { seconds, .. } = step.what { Some(seconds) } else { None })
        .collect();
    let between = rests.len() + 1 >= lengths.len() && rests.windows(2).all(|pair| pair[0] == pair[1]);
    let rest_s = rests.first().copied().filter(|_| between).unwrap_or(0);
    if rest_s > 0 {
        facts.steps.retain(|step| !matches!(step.what, StepKind::Rest { .. }));
    }
    facts.on_off = Some((None, work_s as u32, rest_s));
    count_what_is_done(facts);
}

/// "Eight rounds of 20 seconds push-ups, 10 seconds rest": short bursts of one thing, and what is done in each counts.
pub(super) fn bursts_of_one_thing(facts: &mut Facts, catalogue: &Catalogue) {
    let rounds = facts.rounds();
    let mut items = facts.items();
    let (Some(item), None) = (items.next(), items.next()) else { return };
    let movement = item.movement.as_ref().and_then(|id| catalogue.get(id));
    let counted = movement.is_some_and(|movement| movement.unit == Unit::Reps);
    let work_s = item.amount.filter(|_| item.unit == Some(Unit::Seconds) && counted).map(|(s, _)| s as u32);
    let rest_s = facts.rest.map(|rest| rest.low_s);
    drop(items);
    if let (Some(n), Some(work_s), Some(rest_s)) = (rounds, work_s, rest_s)
        && work_s <= LONGEST_BURST_S
        && rest_s <= LONGEST_BURST_S
        && facts.sets.is_none()
        && !facts.has_format()
    {
        facts.on_off = Some((Some(n), work_s, rest_s));
        facts.steps.retain(|step| !matches!(step.what, StepKind::Rounds(_) | StepKind::Rest { .. }));
        count_what_is_done(facts);
    }
}

/// What is done in the time that is given counts, instead of the time.
fn count_what_is_done(facts: &mut Facts) {
    for step in &mut facts.steps {
        if let StepKind::Item(item) = &mut step.what {
            (item.amount, item.unit, item.max) = (None, None, true);
        }
    }
}

/// "min 1 - ..., min 2 - ...": labels that count minutes are a clock of their own.
pub(super) fn minutes_in_turn(facts: &mut Facts) {
    let minutes = facts
        .steps
        .iter()
        .filter(|step| step.starts_line && matches!(step.label, Label::Minute(_) | Label::Odd(_)));
    let clock = facts.amrap.is_some() || facts.every.is_some() || facts.on_off.is_some() || facts.for_time;
    let several = minutes.count() > 1;
    if let (true, Some((Some(times), seconds, 0)), None) = (several, facts.on_off, facts.every) {
        // "10 x 1 min: odd ..., even ..."
        facts.every = Some((seconds, Some(times), None));
        (facts.on_off, facts.bouts) = (None, None);
        return;
    }
    if several && !clock && !facts.tabata {
        facts.every = Some((60, None, facts.duration_s));
        // Rising with the minutes, and no end is written.
        facts.until_failure |= facts.add_each.is_some() && facts.duration_s.is_none();
    }
}

/// "60-40-20 sit-ups and 15-10-5 deadlifts": schemes of one length, each with its own work on
/// its line, go down together, rung by rung.
pub(super) fn schemes_side_by_side(facts: &mut Facts) {
    let mut columns: Vec<(Vec<u32>, Vec<Step>)> = Vec::new();
    // "30 double-unders after each round"
    let each = facts.steps.iter().find_map(|step| match step.what {
        StepKind::AfterEach { last } => Some((step.line, last)),
        _ => None,
    });
    let mut after = Vec::new();
    for step in &facts.steps {
        match &step.what {
            StepKind::AfterEach { .. } => {}
            StepKind::Then if columns.is_empty() => {}
            StepKind::Item(item)
                if each.is_some_and(|(line, _)| line == step.line) && item.amount.is_some() =>
            {
                after.push(step.clone());
            }
            StepKind::Scheme { reps, open: None } => columns.push((reps.clone(), Vec::new())),
            StepKind::Item(item) if item.amount.is_none() && !item.max => match columns.last_mut() {
                Some((_, work)) => work.push(step.clone()),
                None => return,
            },
            _ => return,
        }
    }
    let Some(rungs) = columns.first().map(|(reps, _)| reps.len()) else { return };
    let beside = columns.iter().all(|(reps, work)| {
        let on_one_line = work.windows(2).all(|pair| pair[0].line == pair[1].line);
        reps.len() == rungs && !work.is_empty() && on_one_line
    });
    let alike = columns.windows(2).all(|pair| pair[0].0 == pair[1].0);
    if columns.len() < 2 || !beside || alike {
        return;
    }
    facts.for_time |= facts.amrap.is_none();
    facts.steps.clear();
    for rung in 0..rungs {
        for (reps, work) in &columns {
            facts.steps.extend(work.iter().cloned().map(|mut step| {
                if let StepKind::Item(item) = &mut step.what {
                    item.amount = Some((f64::from(reps[rung]), None));
                }
                step
            }));
        }
        if rung + 1 < rungs || each.is_none_or(|(_, last)| last) {
            facts.steps.extend(after.iter().cloned());
        }
    }
}

/// "1 min: pull-ups": as many as go in, but in a warm-up or a list as long as it says.
pub(super) fn windows_of_stations(facts: &mut Facts, section: Option<PartKind>) {
    let gentle = matches!(
        facts.kind.or(section),
        Some(PartKind::Warmup | PartKind::Mobility | PartKind::Skill | PartKind::Accessory)
    );
    for step in &mut facts.steps {
        let StepKind::Item(item) = &mut step.what else { continue };
        let Some(seconds) = item.window_s.filter(|_| !item.max) else { continue };
        if gentle {
            (item.amount, item.unit, item.window_s) =
                (Some((f64::from(seconds), None)), Some(Unit::Seconds), None);
        } else {
            item.max = true;
        }
    }
}

/// "For 8:00: max calories": as much as goes into the length of the only work.
pub(super) fn one_window(facts: &mut Facts) {
    let windows: Vec<u32> = facts.items().filter_map(|item| item.window_s).collect();
    let owed = facts.steps.iter().any(|step| step.what == StepKind::Penalty);
    let [seconds] = windows[..] else { return };
    if facts.has_format() || facts.has_prescription() || facts.items().count() > 1 + usize::from(owed) {
        return;
    }
    match (facts.rounds(), facts.rest) {
        // "1 min max double-unders, 1 min rest, 5 rounds" is bouts.
        (Some(n), Some(rest)) => {
            facts.on_off = Some((Some(n), seconds, rest.low_s));
            facts.steps.retain(|step| !matches!(step.what, StepKind::Rounds(_) | StepKind::Rest { .. }));
        }
        _ => facts.amrap = Some(Some(seconds)),
    }
    for step in &mut facts.steps {
        if let StepKind::Item(item) = &mut step.what {
            item.window_s = None;
        }
    }
}
