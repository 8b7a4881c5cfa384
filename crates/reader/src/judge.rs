//! What makes a part hang together, and what makes it likely.

use std::ops::Range;

use lantern_session::movement::{Catalogue, MovementId, Pattern, Unit as Counts};
use lantern_session::{Amount, Format, Node, Part, PartKind, Work, totals, works};

use crate::day::{heads_a_part, is_clock, is_whole_superset, prescribes};
use crate::facts::is_prescription;
use crate::label::Label;
use crate::lower::{Lowered, counts_through};
use crate::plausible;
use crate::say::Say;
use crate::unit::{Role, Unit};
use crate::weights::Weights;

/// Work without a pause for so many times as long as its interval does not fit into it.
const MOST_OF_AN_INTERVAL: f64 = 1.3;
/// Work without a pause for so many times as long as its cap is not meant to be done under it.
const MOST_OF_A_CAP: f64 = 1.6;
/// Work without a pause for longer than this is no piece of a class, in seconds.
const LONGEST_PIECE_S: f64 = 75.0 * 60.0;
/// Shortest length in front of work that is a part of its own rather than a stay at a station, in seconds.
const SHORTEST_BLOCK_S: u32 = 300;
/// Time at one thing from which it is a block of its own in front of a lift, in seconds.
const STAY_BEFORE_A_LIFT_S: f64 = 240.0;
/// Lines that may stand between the first of a header and its work.
const HEADER_LINES: usize = 3;
/// Shortest distance that is written for a run or a machine, in metres.
const SHORTEST_M: f64 = 20.0;

/// What speaks against reading a run of sentences as one part, before it is made into one.
pub(crate) fn coherence(
    units: &[Unit],
    range: Range<usize>,
    chosen: &[usize],
    catalogue: &Catalogue,
    weights: &Weights,
) -> f64 {
    let of = |name: &str| weights.of(name);
    let mut cost = 0.0;
    let (mut clocks, mut lifts, mut items, mut rests, mut lengths) = (0, 0, 0, 0, 0);
    let mut unprescribed = 0;
    let (mut led, mut ends) = (false, false);
    let (mut raced, mut in_turn, mut ends_with_team) = (false, false, false);
    let mut known: Vec<&MovementId> = Vec::new();
    let gentle = units[range.start]
        .heading
        .as_ref()
        .is_some_and(|(kind, _)| matches!(kind, PartKind::Warmup | PartKind::Mobility));
    let skill = units[range.start].heading.as_ref().is_some_and(|(kind, _)| *kind == PartKind::Skill);
    let list = units[range.clone()].iter().find_map(|unit| unit.heading.as_ref()).is_some_and(|(kind, _)| {
        matches!(kind, PartKind::Accessory | PartKind::Warmup | PartKind::Mobility | PartKind::Skill)
    });
    let (mut clock_after_lift, mut header_after_items) = (false, false);
    let (mut letter, mut ownerless, mut run_below, mut sections) = (None, false, false, false);
    let (mut superset, mut rounds_with_work) = (false, false);
    let (mut lettered, mut stretched, mut bought_in) = (0, false, false);
    let (mut stays, mut counted, mut sets_at_a_share) = (false, false, false);
    let (mut led_on, mut until_failure) = (false, false);
    let (mut rounds_of, mut counted_in_rounds) = (None, false);
    let mut sets_said = None;
    let (mut windows, mut rested) = (0, false);
    // An empty line stands somewhere above, with nothing but talk since.
    let mut blank = false;
    let mut listed = false;
    // "Mobility, 10 min", "Back squat", and below it its sets: the lift is none of what loosens up.
    let last = range.end.checked_sub(1).filter(|last| gentle && *last > range.start);
    let lift_ahead = last.is_some_and(|last| {
        let reading = &units[last].readings[chosen[last - range.start]];
        let barbell = |id: &MovementId| catalogue.get(id).is_some_and(|lift| lift.is_barbell());
        reading.items().count() == 1
            && reading.items().all(|item| !item.is_anchored() && item.movement.as_ref().is_some_and(barbell))
    });
    let sets_below = units.get(range.end).is_some_and(|below| {
        let reading = &below.readings[0];
        !below.blank_before && prescribes(reading) && reading.items().all(|item| item.movement.is_none())
    });
    if lift_ahead && sets_below {
        cost += of("part.header_after_items");
    }
    for (n, unit) in units[range.clone()].iter().enumerate() {
        let reading = &unit.readings[chosen[n]];
        if !matches!(reading.role, Role::Work | Role::Aside) {
            blank |= unit.blank_before;
            // Nothing stands there yet that it could be done instead of.
            if reading.role == Role::Substitute && items == 0 && (n == 0 || unit.heading.is_some()) {
                cost += of("part.substitute_first");
            }
            // A name behind the next letter ("C) The long one") begins something, though it says nothing.
            if let Label::Letter(now, None) = unit.label
                && letter.is_some_and(|before| before != now)
                && items > 0
            {
                cost += of("part.letters");
                letter = Some(now);
            }
            continue;
        }
        let lifts_before = lifts;
        let blank_before = std::mem::take(&mut blank) || unit.blank_before;
        let named: Vec<&MovementId> = reading.items().filter_map(|item| item.movement.as_ref()).collect();
        let again = named.iter().all(|id| known.contains(id));
        let goes_on = matches!(reading.says.first().map(|said| &said.say), Some(Say::Then));
        let above = (n > 0).then(|| &units[range.start + n - 1].readings[chosen[n - 1]]);
        // Work right below, or below more that is told of it.
        let heads_work = || {
            let below = units[range.clone()].iter().enumerate().skip(n + 1).take(HEADER_LINES);
            let mut below =
                below.take_while(|(_, unit)| !unit.blank_before).map(|(n, unit)| &unit.readings[chosen[n]]);
            below.any(|below| below.items().next().is_some())
        };
        // "300 m run", "2 rounds", "100 m run + 300 m run": what is gone round may have been bought in with.
        let gone_round = above.is_some_and(|above| {
            above.items().next().is_none()
                && above.says(|say| matches!(say, Say::Rounds(_) | Say::Scheme { .. }))
        });
        // "3 wall walks, 6 snatches", and below it "6 wall walks, 9 snatches": a rung of the same work.
        let rung = above.is_some_and(|above| {
            above.items().map(|item| &item.movement).eq(reading.items().map(|item| &item.movement))
                && above.items().zip(reading.items()).all(|(above, item)| above.amount != item.amount)
        });
        if named.len() >= 2
            && again
            && !goes_on
            && !gone_round
            && !rung
            && !unit.label.is_entry()
            && !matches!(unit.label, Label::Round(_) | Label::Sets(..))
        {
            cost += of("part.work_again");
        } else if named.len() >= 2
            && known.contains(&named[0])
            && reading.items().next().is_some_and(|item| !item.is_anchored())
        {
            cost += of("part.names_again");
        }
        // Rolling out and stretching below other work has its own place in the hour.
        let stretches = |id: &&MovementId| {
            catalogue.get(id).is_some_and(|movement| movement.pattern == Pattern::Mobility)
        };
        if !named.is_empty() && named.iter().all(stretches) && !gentle && !skill {
            stretched |= known.iter().any(|id| !stretches(id));
        }
        let (any_new, all_new) =
            (named.iter().any(|id| !known.contains(id)), named.iter().all(|id| !known.contains(id)));
        known.extend(&named);
        let kind = reading
            .says
            .iter()
            .find_map(|said| if let Say::Kind(kind) = said.say { Some(kind) } else { None });
        if items > 0 && kind.is_some_and(|kind| kind != PartKind::Home) {
            cost += of("part.kind_again");
        }
        let own_items = reading.items().filter(|item| item.movement.is_some()).count();
        // "every minute: 5 burpees" in a piece for time cuts into it.
        let cuts_in =
            raced && reading.says(|say| matches!(say, Say::Every { times: None, total_s: None, .. }));
        // "Partner B: as many rounds as possible of ..." goes on as long as the clock of both.
        let beside =
            matches!(unit.label, Label::Station(_)) && reading.says(|say| matches!(say, Say::Amrap(None)));
        let goes_on = cuts_in || beside && clocks > 0;
        let clock = !goes_on && reading.says(|say| is_clock(say) && !matches!(say, Say::ForTime));
        let for_time = reading.says(|say| matches!(say, Say::ForTime));
        // "Spend 8 min on kips. Then deadlift 5 x 3": a stay of minutes at one thing is no part of a lift.
        let sets = reading.says(|say| matches!(say, Say::SetsReps { .. } | Say::Percent(_)))
            || reading.items().any(|item| item.sets.is_some());
        if stays && sets && any_new {
            cost += of("part.stay_then_lift");
            stays = false;
        }
        // "3 min row", "10 squats", and then a lift that is built up to its heaviest.
        let builds = reading.says(|say| matches!(say, Say::Rm(_) | Say::Build));
        if builds && counted && own_items > 0 && all_new {
            cost += of("part.work_then_build");
        }
        // "3x2 @ 70%, then build to a heavy single": sets at their share do not get there.
        let shares = |say: &Say| matches!(say, Say::Percent(_));
        let at_a_share = reading.says(shares)
            && (reading.says(|say| matches!(say, Say::SetsReps { .. }))
                || reading.items().any(|item| item.sets.is_some()));
        if builds && sets_at_a_share && own_items == 0 && !reading.says(shares) {
            cost += of("part.sets_then_build");
        }
        sets_at_a_share |= at_a_share && !builds;
        counted |= reading.role == Role::Work && reading.items().any(|item| item.is_anchored());
        let minutes = |item: &crate::say::Item| {
            item.unit == Some(Counts::Seconds)
                && item.amount.is_some_and(|(amount, _)| amount >= STAY_BEFORE_A_LIFT_S)
        };
        // What has a number of its own heads a list.
        stays |= items == 0
            && unit.label == Label::None
            && (own_items == 1 && reading.items().any(minutes)
                || reading.says(|say| matches!(say, Say::Practice(_))));
        // "Finish with 100 sit-ups" below a clock that ends by itself is done when it has ended.
        let leads = matches!(reading.says.first().map(|said| &said.say), Some(Say::Then | Say::CashOut));
        let own = matches!(unit.label, Label::None | Label::Letter(_, None));
        // "Once you fail, rest, then" in a line of its own leads to what is in the next.
        let leads = leads || led_on && until_failure;
        until_failure |= reading.says(|say| matches!(say, Say::UntilFailure { .. }));
        led_on = reading.items().next().is_none()
            && reading.says.last().is_some_and(|said| matches!(said.say, Say::Then));
        let fixed = reading.items().any(|item| item.is_anchored() && !item.max && item.window_s.is_none());
        // So are sets of their own behind a race.
        let counts_sets = reading.items().any(|item| item.sets.is_some_and(|sets| sets > 1))
            || reading.says(|say| matches!(say, Say::Sets(2..) | Say::SetsLength(2.., _)));
        let own_sets_behind = raced && counts_sets && own_items > 0 && !reading.says(is_clock);
        // "- Metcon: AMRAP 14", its lines, and "- Finish: 100 sit-ups" behind the next bullet of the day.
        let bulleted = |n: usize| units[range.start + n].label == Label::Bullet;
        let next_bullet = n > 1 && bulleted(0) && bulleted(n) && !bulleted(n - 1) && raced && fixed;
        let behind_the_end = own && (ends && fixed || own_sets_behind) || next_bullet;
        if behind_the_end && items > 0 && leads && unit.starts_line {
            cost += of("part.then_after_end");
        }
        ends |= reading.says(|say| {
            matches!(
                say,
                Say::Tabata
                    | Say::OnOff { .. }
                    | Say::Every { times: Some(_), .. }
                    | Say::Bouts { .. }
                    | Say::UntilFailure { .. }
            ) || matches!(say, Say::Every { total_s: Some(_), .. })
        });
        let raced_above = raced;
        raced |= for_time || reading.says(|say| matches!(say, Say::Amrap(_)));
        superset |= reading.says(|say| matches!(say, Say::SupersetWith));
        if reading.says(|say| matches!(say, Say::Superset)) {
            let headed = own_items == 0 && (unprescribed == 0 || superset) || is_whole_superset(reading);
            if items > 0 && headed && unit.starts_line {
                cost += of("part.superset_after_lift");
            }
            superset = true;
        }
        if matches!(unit.label, Label::Letter(_, Some(_))) {
            if lettered == 0 && lifts > 0 {
                cost += of("part.superset_after_lift");
            }
            lettered += 1;
        }
        if let Label::Letter(now, _) = unit.label {
            let heads = reading.says(heads_a_part) || prescribes(reading) || unit.heading.is_some();
            // Where one letter heads a part of its own, the next one does.
            let heads = heads || sections && (ends || !reading.says(|say| matches!(say, Say::CashOut)));
            sections |= heads && matches!(unit.label, Label::Letter(_, None));
            if letter.is_some_and(|before| before != now) && items > 0 && heads {
                cost += of("part.letters");
            }
            letter = Some(now);
        }
        // "Five sets of three" of a lift that was passed over, and then a clock, rounds or rungs with work of their own.
        let runs = |say: &Say| {
            is_clock(say) || matches!(say, Say::ForTime | Say::Rounds(_) | Say::Scheme { open: None, .. })
        };
        let counted_here = reading.items().any(|item| item.is_anchored());
        if ownerless
            && (own_items > 0 && (clock || reading.says(runs) && !prescribes(reading))
                || counted_here && run_below)
        {
            cost += of("part.lift_then_clock");
            ownerless = false;
        }
        run_below |= ownerless && own_items == 0 && unit.starts_line && reading.says(runs);
        if !ownerless && items == 0 && own_items == 0 && prescribes(reading) && !reading.says(is_clock) {
            (ownerless, run_below) = (true, false);
        }
        // "3 rounds for time" of something, and below an empty line sets of nothing that is in it.
        let sets_of_nothing =
            |say: &Say| matches!(say, Say::SetsReps { .. } | Say::SetAt { .. } | Say::Rm(_) | Say::Build);
        if clocks > 0 && items > 0 && own_items == 0 && blank_before && unit.readings[0].says(sets_of_nothing)
        {
            cost += of("part.clock_then_lift");
        }
        // Below an empty line a header or a turn of its own heads something else than what has had one.
        let turn_begins = matches!(unit.label, Label::Odd(_) | Label::Minute(1))
            && !matches!(units[(range.start + n).saturating_sub(1)].label, Label::Odd(_) | Label::Minute(_));
        let header = own_items == 0 && (clock || for_time || reading.says(heads_a_part)) && heads_work();
        let headed_above = clocks > 0 || lifts > 0 || rounds_of.is_some() || gentle;
        if blank_before && items > 0 && headed_above && (turn_begins || header) {
            cost += of("part.header_again");
        }
        if clock || for_time {
            if clocks > 0 && items > 0 && own_items + usize::from(for_time) > 0 {
                cost += of("part.two_clocks");
            } else if clocks > 0 && items > 0 {
                cost += of("part.clock_again");
                if clock && unit.blank_before {
                    cost += of("part.clock_below");
                }
            } else if clock && items > 0 && own_items > 0 && rounds_with_work {
                // "Eight rounds of ..." and below it a clock with work of its own.
                cost += of("part.rounds_then_clock");
            } else if clock && items > 0 && lifts == 0 && unit.blank_before {
                cost += of("part.late_clock");
            }
            clock_after_lift |= lifts > 0 && items > 0;
            header_after_items |= clock && lifts == 0 && clocks == 0 && items > 0 && own_items == 0;
            // "For time:" in a line of its own below the list of a warm-up.
            header_after_items |= for_time && gentle && items > 0 && own_items == 0;
            if for_time && (lifts > 0 || lettered > 1) && items > 0 {
                cost += of("part.lift_then_clock");
                clock_after_lift = false;
            }
            clocks += 1;
        }
        // Who shares the work is told above it, and nobody shares a warm-up that is over.
        header_after_items |=
            gentle && items > 0 && own_items == 0 && reading.says(|say| matches!(say, Say::Sharing(_)));
        // What is done without a clock is told above it: "3 rounds not for time:" below rounds that were rested between.
        header_after_items |= !gentle
            && items > 0
            && own_items == 0
            && unit.starts_line
            && reading.says(|say| matches!(say, Say::Quality))
            && reading.says(|say| matches!(say, Say::Rounds(_) | Say::Length(_)));
        // "Finish: 3 rounds of ..., not for time" is done without one from its first word.
        let own_pace = !gentle
            && !list
            && items > 0
            && own_items > 0
            && unit.starts_line
            && unit.readings[0].says(|say| matches!(say, Say::Quality))
            && unit.readings[0].says(|say| matches!(say, Say::Rounds(_)));
        if own_pace && !again {
            cost += of("part.header_after_items");
        }
        if header_after_items && own_items > 0 && !again {
            cost += of("part.header_after_items");
            header_after_items = false;
        }
        if clock_after_lift && own_items > 0 {
            cost += of("part.lift_then_clock");
            clock_after_lift = false;
        }
        if lifts > 0 && own_items > 0 && !in_turn && matches!(unit.label, Label::Minute(_) | Label::Odd(_)) {
            cost += of("part.lift_then_clock");
            in_turn = true;
        }
        // "Between sets: 10 rows" has the sets of the lift above.
        let between_sets =
            reading.says(|say| matches!(say, Say::AfterEach { .. })) && lifts > 0 && clocks == 0;
        superset |= between_sets && own_items > 0;
        unprescribed += own_items;
        let one_name = unprescribed == 1 && own_items <= 1 && clocks == 0 && !for_time;
        let sets = |say: &Say| {
            is_prescription(say)
                || matches!(say, Say::Sets(_) | Say::SetsMax(_))
                || one_name && matches!(say, Say::Scheme { reps, .. } if !counts_through(reps))
        };
        // "Back squat, week 3 of 5": its sets are still to come.
        let week_alone = reading.says(|say| matches!(say, Say::Week(..)))
            && reading.items().all(|item| item.sets.is_none())
            && !reading.says(|say| sets(say) && !matches!(say, Say::Week(..)));
        if (reading.says(sets) || prescribes(reading)) && unprescribed > 0 && !week_alone {
            // Sets for what has been named since the last ones.
            let heavy = reading.says(|say| matches!(say, Say::Rm(_) | Say::Build));
            // "9 power snatches @ 60%" in a list of work is a dose of it.
            let dose = reading.items().all(|item| item.is_anchored() && item.sets.is_none())
                && !reading.says(|say| is_prescription(say) && !matches!(say, Say::Percent(_)));
            let lift = prescribes(reading) && !dose && (heavy || !again);
            if clocks > 0 && items > 0 && own_items > 0 && lift {
                cost += of("part.clock_then_lift");
            }
            // Below a clock it is none of the sets of a lift.
            // Nor is what has the even minutes a lift behind the one of the odd ones.
            let in_turn = lifts > 0
                && (matches!(unit.label, Label::Odd(_) | Label::Minute(_))
                    || matches!(unit.label, Label::Number(_)) && clocks > 0);
            if !(in_turn || dose && raced_above && own_items > 0) {
                lifts += 1;
                unprescribed = 0;
            }
        }
        // "2 rounds" of something, and then sets of its own of something else.
        let own_sets = reading.items().find_map(|item| item.sets);
        if let (Some(times), Some(sets)) = (rounds_of, own_sets)
            && times != sets
            && counted_in_rounds
            && all_new
        {
            cost += of("part.own_sets_in_rounds");
            rounds_of = None;
        }
        for said in &reading.says {
            if let Say::Sets(n) = said.say {
                sets_said = Some(n);
            }
            if let Say::Rounds(n) | Say::Sets(n) = said.say {
                rounds_of = Some(n);
                counted_in_rounds = false;
            }
        }
        counted_in_rounds |= own_items > 0;
        rounds_with_work |= own_items > 0 && reading.says(|say| matches!(say, Say::Rounds(_)));
        let header = reading.says(|say| matches!(say, Say::Rounds(_) | Say::Scheme { .. }));
        bought_in |= reading.says(|say| matches!(say, Say::BuyIn));
        if skill
            && items > 0
            && own_items == 0
            && reading.says(|say| matches!(say, Say::Quality | Say::Sets(_) | Say::Rounds(_)))
        {
            cost += of("part.header_after_items");
        }
        // What cashes out below a lift is done once, and is none of its sets.
        if lifts_before > 0 && clocks == 0 && reading.says(|say| matches!(say, Say::CashOut)) {
            cost += of("part.cash_out_of_a_lift");
        }
        // "A1 press 5-5-5", "A2 pull-ups 5-5-5": lists of what takes turns head nothing.
        let in_turn_too = lettered > 1 && own_items > 0;
        // "5 sets", and below it "4-4-3-2-2": the repetitions of each.
        let of_the_sets = own_items == 0
            && reading.says(
                |say| matches!(say, Say::Scheme { reps, open: None } if sets_said == Some(reps.len() as u32)),
            );
        if header && items > 0 && !in_turn_too && !of_the_sets {
            if lifts_before > 0 {
                cost += of("part.lift_then_rounds");
            } else if bought_in {
                // What is bought in with stands above the rounds.
                bought_in = false;
            } else if unit.blank_before && clocks == 0 {
                cost += of("part.rounds_after_blank");
            } else if unit.blank_before {
                cost += of("part.clock_then_rounds_after_blank");
            }
        }
        if blank_before && items > 0 && own_items > 0 {
            cost += of(if gentle { "part.list_after_blank" } else { "part.items_after_blank" });
            // "Row 2 km", and below an empty line "back squat 5x5".
            let pair = superset || lettered > 0 || list;
            // "Split jerk 5x2 @ 75%", and below an empty line what is done after it.
            if lifts_before > 0 && clocks == 0 && !pair && any_new && !listed {
                cost += of("part.items_after_lift");
                listed = true;
            }
            if prescribes(reading) && lifts_before == 0 && clocks == 0 && all_new && !pair {
                cost += of("part.lift_after_blank");
            }
        }
        if reading.says(|say| say.rests_once() || matches!(say, Say::WhenReady)) && items > 0 {
            rests += 1;
        }
        let window = own_items == 1 && reading.items().any(|item| item.window_s.is_some());
        // "6 min: ...", a rest, "6 min: ...": a length in front of work, again.
        let timed = unit.starts_line
            && own_items > 0
            && matches!(reading.says.first().map(|said| &said.say), Some(Say::Length(_)));
        let long = reading
            .says
            .iter()
            .any(|said| matches!(said.say, Say::Length(seconds) if seconds >= SHORTEST_BLOCK_S));
        if timed && lengths > 0 && (led || long && unit.label == Label::None) {
            cost += of("part.two_clocks");
        }
        lengths += usize::from(timed);
        // "45 s max dips. Rest 2. 45 s max squats." goes round nothing.
        let timed_max = own_items == 1
            && reading.items().any(|item| item.max && item.window_s.is_none())
            && reading.says(|say| matches!(say, Say::Length(_)));
        let filled = window || timed_max;
        if filled && windows > 0 && rested && rounds_of.is_none() && clocks == 0 {
            cost += of("part.window_after_clock");
        }
        windows += usize::from(filled);
        rested = matches!(&reading.says[..], [said] if matches!(said.say, Say::Rest { .. }));
        if window && clocks > 0 && items > 0 && led {
            cost += of("part.window_after_clock");
        }
        led = reading.says.last().is_some_and(|said| said.say.leads_on());
        // Who works together is told above the work.
        ends_with_team = items > 0
            && own_items == 0
            && unit.blank_before
            && reading.says(|say| matches!(say, Say::Team(_) | Say::Sharing(_) | Say::Running));
        items += own_items;
    }
    if stretched {
        cost += of("part.stretch_in_piece");
    }
    if ends_with_team {
        cost += of("part.ends_with_team");
    }
    if lifts > 0 && unprescribed > 0 && clocks == 0 && !superset && lettered < 2 && !list {
        cost += of("part.loose_lift");
    }
    if lifts > 1 && !superset && lettered < 2 && !list {
        cost += of("part.two_lifts") * (lifts - 1) as f64;
    }
    if rests > 0 && clocks > 1 {
        cost += of("part.rest_between_clocks");
    }
    if lifts == 1 && items == 1 && !superset && has_sets_behind_a_list(units[range].iter().zip(chosen)) {
        cost += of("part.sets_behind_a_list");
    }
    cost
}

/// "5-5-3-3-1-1", and below it "then 3 x 5 @ 70%": sets that are none of the list.
fn has_sets_behind_a_list<'a>(chosen: impl Iterator<Item = (&'a Unit, &'a usize)>) -> bool {
    let (mut list, mut shared): (Option<&[u32]>, bool) = (None, false);
    for (unit, n) in chosen {
        let reading = &unit.readings[*n];
        if !matches!(reading.role, Role::Work | Role::Aside) {
            continue;
        }
        let of_list = |sets: u32, reps: u32| {
            list.is_none_or(|list| list.len() == sets as usize && list.iter().all(|n| *n == reps))
        };
        let behind = |say: &Say| matches!(say, Say::SetsReps { sets, reps, .. } if !of_list(*sets, *reps));
        // "..., then max @ 70%": one more set, unless each of the list has a share too.
        let one_more = |say: &Say| matches!(say, Say::SetAt { .. } | Say::SetsMax(_));
        let single = reading.says.iter().filter(|said| one_more(&said.say)).count() == 1;
        // Nor is their share one of the list that is said in passing.
        let passing =
            reading.role == Role::Aside && unit.readings[0].says(|say| behind(say) || one_more(say));
        if reading.says(behind) || list.is_some() && (passing || single && !shared) {
            return true;
        }
        shared |= reading.says(|say| matches!(say, Say::Percent(_) | Say::SetAt { .. }));
        list = list.or(reading.says.iter().find_map(|said| match &said.say {
            Say::Scheme { reps, open: None } if reps.len() > 2 => Some(&reps[..]),
            _ => None,
        }));
    }
    false
}

/// What speaks against a part once it is made.
pub(crate) fn plausibility(lowered: &Lowered, catalogue: &Catalogue, weights: &Weights) -> f64 {
    let of = |name: &str| weights.of(name);
    let Some(part) = &lowered.part else {
        return match (lowered.of_no_lift, lowered.had_structure) {
            // It is told, so that nothing is made of other work.
            (true, _) => of("part.of_no_lift"),
            (false, true) => of("part.structure_alone"),
            (false, false) => 0.0,
        };
    };
    let mut cost = lowered.errors as f64 * of("part.error")
        + lowered.lost as f64 * of("part.lost")
        + lowered.unheard as f64 * of("part.unheard");
    if part.format.is_none() && part.kind == PartKind::Conditioning && part.duration_s.is_none() {
        cost += of("part.no_format");
    }
    for doubt in doubts(part, catalogue) {
        cost += of(doubt.feature());
    }
    if part.kind == PartKind::Strength {
        cost += of("part.long_set") * plausible::long_sets(&part.tree, catalogue) as f64;
    }
    for total in totals(&part.tree) {
        let far = total.movement.as_str() == "run";
        if far && total.unit == Counts::Metres && total.amount > 0.0 && total.amount < SHORTEST_M {
            cost += of("part.short_run");
        }
    }
    let open = |node: &Node| works(node).iter().all(|work| work.dose.amount == Amount::Open);
    if part.format.is_none() && part.kind == PartKind::Conditioning && !lowered.headed && open(&part.tree) {
        cost += of("part.nothing_counted");
    }
    if part.kind == PartKind::Strength && part.strength.sets.is_none() && part.strength.rm.is_none() {
        cost += of("part.no_sets");
    }
    let gentle = matches!(part.kind, PartKind::Warmup | PartKind::Mobility);
    let lift = &part.strength;
    let heavy = lift.rm.is_some() || lift.tempo.is_some() || lift.rpe.is_some() || lowered.sets_at_shares;
    let shares = !part.strength.percent.is_empty() || works(&part.tree).iter().any(|w| !w.percent.is_empty());
    if gentle && (heavy || shares) {
        cost += of("part.lift_in_warmup");
    }
    if part.kind == PartKind::Strength && part.strength.reps.len() as u32 > 15 {
        cost += of("part.many_sets");
    }
    cost
}

/// Why nobody would programme a part as it is read.
#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Doubt {
    /// More of a movement than anybody does in one.
    ManyReps(MovementId),
    /// More on an implement than anybody lifts.
    TooHeavy(MovementId),
    /// More work than its interval holds.
    FullInterval,
    /// More work than fits under its cap.
    ShortCap,
    /// A round that does not fit into its window.
    LongRound,
    /// Longer than a class.
    LongPiece,
}

impl Doubt {
    /// The weight of it.
    fn feature(&self) -> &'static str {
        match self {
            Self::ManyReps(_) => "part.many_reps",
            Self::TooHeavy(_) => "part.too_heavy",
            Self::FullInterval => "part.interval_too_full",
            Self::ShortCap => "part.cap_too_short",
            Self::LongRound => "part.round_too_long",
            Self::LongPiece => "part.too_long",
        }
    }

    /// What a coach is told of it.
    pub fn words(&self, catalogue: &Catalogue) -> String {
        let name = |id: &MovementId| catalogue.name(id).to_lowercase();
        let what = match self {
            Self::ManyReps(id) => format!("more of `{}` than anybody programmes", name(id)),
            Self::TooHeavy(id) => format!("more weight on `{}` than anybody lifts", name(id)),
            Self::FullInterval => "more work than its interval holds".to_owned(),
            Self::ShortCap => "more work than fits under its cap".to_owned(),
            Self::LongRound => "one round is more work than fits into its time".to_owned(),
            Self::LongPiece => "more work than a class has time for".to_owned(),
        };
        format!("{what}: is it read as it is meant?")
    }
}

/// What speaks against a part by the table of what is plausible.
pub(crate) fn doubts(part: &Part, catalogue: &Catalogue) -> Vec<Doubt> {
    let mut doubts: Vec<Doubt> =
        plausible::too_many(&part.tree, catalogue).into_iter().map(Doubt::ManyReps).collect();
    doubts.extend(plausible::too_heavy(&part.tree, catalogue).into_iter().map(Doubt::TooHeavy));
    if matches!(part.format, Some(Format::Every | Format::UntilFailure))
        && let (Some(interval), Some(busy)) = (part.interval_s, busiest(&part.tree, catalogue))
        && busy > f64::from(interval) * MOST_OF_AN_INTERVAL
    {
        doubts.push(Doubt::FullInterval);
    }
    if has_overfull_window(&part.tree) {
        doubts.push(Doubt::FullInterval);
    }
    // What is done once must fit: under a cap, and into a window that goes round. How a team shares it is its own affair.
    let once = match &part.tree {
        Node::Together { .. } => 0.0,
        tree => plausible::seconds(tree, catalogue),
    };
    if part.format == Some(Format::ForTime) {
        if part.cap_s.is_some_and(|cap| once > f64::from(cap) * MOST_OF_A_CAP) {
            doubts.push(Doubt::ShortCap);
        }
        if once > LONGEST_PIECE_S {
            doubts.push(Doubt::LongPiece);
        }
    }
    if let Node::Within { seconds, of: rounds } = &part.tree
        && *seconds > 0
        && let Node::Rounds { times: None, of: round, .. } = &**rounds
        && plausible::seconds(round, catalogue) > f64::from(*seconds) * MOST_OF_A_CAP
    {
        doubts.push(Doubt::LongRound);
    }
    doubts
}

/// Whether so many seconds of one thing stand in a window that closes before they are over.
fn has_overfull_window(tree: &Node) -> bool {
    let longer = |of: &Node, window: u32| {
        let lasts =
            |work: &&Work| work.dose.unit == Counts::Seconds && work.dose.first() > Some(f64::from(window));
        works(of).iter().any(lasts)
    };
    tree.any(&|node| matches!(node, Node::Within { seconds, of } if *seconds > 0 && longer(of, *seconds)))
}

/// Seconds of work in the fullest interval of a clock.
fn busiest(tree: &Node, catalogue: &Catalogue) -> Option<f64> {
    match tree {
        Node::Every { of, .. } => {
            of.iter().map(|node| plausible::seconds(node, catalogue)).max_by(f64::total_cmp)
        }
        other => other.children().into_iter().find_map(|child| busiest(child, catalogue)),
    }
}
