//! What is said above the work and holds below it: a lift that is announced, the tools of the day, who works together.

use std::collections::BTreeSet;

use super::is_clock;
use crate::facts::Held;
use crate::label::Label;
use crate::say::{Item, Say};
use crate::unit::{Reading, Role, TITLE_LINES, Unit};

/// What the lines above the first part announce: "Deadlift 1RM", "push press, week 2 of 3".
pub(super) fn announced(units: &[Unit]) -> (Option<Item>, Option<(u32, Option<u32>)>) {
    let top = units.first().map_or(1, |unit| unit.line);
    let title: Vec<&Unit> =
        units.iter().take_while(|unit| unit.heading.is_none() && unit.line < top + TITLE_LINES).collect();
    let naming =
        title.iter().filter(|unit| unit.readings.iter().any(|reading| reading.items().next().is_some()));
    let several = naming.count() > 1;
    let (mut item, mut week) = (None, None);
    for unit in title {
        let Some(work) = unit.readings.iter().find(|reading| reading.role == Role::Work) else { continue };
        if work.items().any(Item::is_anchored)
            || work.says(|say| matches!(say, Say::SetsReps { .. } | Say::Rounds(_)))
        {
            break;
        }
        item = item.or_else(|| work.items().next().filter(|_| !several).cloned());
        week = week.or_else(|| {
            work.says.iter().find_map(|said| if let Say::Week(k, n) = said.say { Some((k, n)) } else { None })
        });
    }
    (item, week)
}

/// Where each bout begins below "three AMRAPs of 6 minutes each", when as many letters follow as were announced.
pub(super) fn listed(units: &[Unit]) -> Vec<bool> {
    let mut listed = vec![false; units.len()];
    let announces = |unit: &Unit| {
        unit.readings[0].says.iter().find_map(|said| match said.say {
            Say::Bouts { times, open: true, .. } if times > 1 => Some(times as usize),
            _ => None,
        })
    };
    let Some((at, times)) = units.iter().enumerate().find_map(|(at, unit)| Some((at, announces(unit)?)))
    else {
        return listed;
    };
    let lettered = |at: &usize| matches!(units[*at].label, Label::Letter(_, None) | Label::Part);
    let letters: Vec<usize> = (at + 1..units.len()).filter(lettered).collect();
    if letters.len() == times {
        letters.into_iter().for_each(|at| listed[at] = true);
    }
    listed
}

/// "AMRAP in 3 parts", and below it a list for each stretch of the clock: every one of them is gone round as often as it goes.
pub(super) fn windows_of_one_amrap(units: &[Unit], bouts: &mut [Option<Option<u32>>]) {
    let window = |unit: &Unit| unit.readings[0].says(|say| matches!(say, Say::Window(_)));
    let rests = |unit: &Unit| unit.readings[0].says(|say| matches!(say, Say::Rest { .. } | Say::RestOpen));
    let heads = |unit: &Unit| {
        let reading = &unit.readings[0];
        reading.items().next().is_none() && reading.says(|say| matches!(say, Say::Amrap(None)))
    };
    for at in 1..units.len() {
        if !heads(&units[at - 1]) || !window(&units[at]) {
            continue;
        }
        let below = units[at..].iter().take_while(|unit| unit.heading.is_none() && !heads(unit));
        let windows: Vec<usize> =
            below.enumerate().filter(|(_, unit)| window(unit) && !rests(unit)).map(|(n, _)| at + n).collect();
        if windows.len() > 1 {
            windows.into_iter().for_each(|window| bouts[window] = Some(None));
        }
    }
}

/// "One bell throughout, 20/14 kg" above the first work: what everybody holds where nothing else is said.
pub(super) fn tools_of_the_day(units: &[Unit]) -> Vec<Held> {
    let works = |unit: &&Unit| unit.heading.is_some() || unit.readings[0].items().next().is_some();
    let above = units.iter().take_while(|unit| !works(unit));
    let read = above.filter_map(|unit| {
        unit.readings.iter().take(3).find(|reading| reading.says(|say| matches!(say, Say::ToolLoad { .. })))
    });
    read.flat_map(|reading| &reading.says).filter_map(|said| Held::of(&said.say)).collect()
}

/// The size of the teams that each sentence inherits: said for the whole day above the first part, or by "same teams".
pub(super) fn teams(units: &[Unit]) -> Vec<Option<u32>> {
    let (mut day, mut last, mut begun, mut together) = (None, None, false, None);
    // "Tue - press, Thu - pull-ups, Fri - deadlifts with a partner": who works together on other days is theirs.
    let names = |unit: &&Unit| {
        unit.readings[0].role == Role::Title
            && unit.readings.iter().any(|reading| reading.items().next().is_some())
    };
    let week = units.iter().take_while(|unit| unit.heading.is_none()).filter(names).count() > 1;
    let clock = |say: &Say| is_clock(say) || matches!(say, Say::Length(_) | Say::Rounds(_));
    let clocked: BTreeSet<usize> =
        units.iter().filter(|unit| unit.readings[0].says(clock)).map(|unit| unit.line).collect();
    let inherited = units.iter().enumerate().map(|(at, unit)| {
        let reading = &unit.readings[0];
        // "Threes, 36 minutes:" above 0-12, 12-24 and 24-36 is of all of them.
        let windows = units.get(at + 1).is_some_and(
            |next| matches!(next.readings[0].says.first(), Some(said) if matches!(said.say, Say::Window(_))),
        );
        let of_today = |reading: &&Reading| reading.role != Role::Note && !(week && names(&unit));
        let own = unit.readings.iter().filter(of_today).find_map(|reading| {
            reading
                .says
                .iter()
                .find_map(|said| if let Say::Team(size) = said.say { Some(size) } else { None })
        });
        let works = reading.items().next().is_some() && matches!(reading.role, Role::Work);
        begun |= works || unit.heading.is_some();
        // "Teams of 3, 24 minutes" heads a piece, as "teams of 3" does above "24 minutes"; who works together all day is told by itself.
        let above_its_clock = units[at..].iter().find(|next| next.line > unit.line).is_some_and(|next| {
            next.line == unit.line + 1 && next.heading.is_none() && clocked.contains(&next.line)
        });
        let heads_its_clock = above_its_clock && reading.role == Role::Work;
        if !begun && (windows || !clocked.contains(&unit.line) && !heads_its_clock) {
            day = day.or(own);
        }
        // "Pairs" alone above two clocks in lines that nothing parts is of both.
        if unit.heading.is_some() || unit.blank_before {
            together = None;
        }
        let alone = reading.says.len() == 1 && unit.starts_line;
        let told = reading.says(|say| matches!(say, Say::Team(_)));
        together = own.filter(|_| alone && heads_its_clock).or(together);
        last = own.filter(|_| reading.role != Role::Note).or(last);
        let same = reading.says(|say| matches!(say, Say::SameTeam));
        let of_day = day.filter(|_| own.is_none() || reading.role == Role::Title);
        if same { last.or(day) } else { of_day.or(together.filter(|_| !told)) }
    });
    inherited.collect()
}
