//! Windows of one length that take turns with a rest between them, each with a header of its own, and gone through more than once: one piece whose
//! stations are what is done in each, and not as many pieces.

use super::{Cut, Reading, Role, Said, Unit};
use crate::label::Label;
use crate::say::Say;
use lantern_session::RestAfter;

/// Windows of a turn, as they are written.
struct Windows {
    /// Units at which they begin, each with its header.
    begin: Vec<usize>,
    /// Behind the last of them and its rest.
    end: usize,
    seconds: u32,
    /// Shortest and longest, in seconds.
    rest: (u32, u32),
}

/// Joins them, where somebody says how often all of them are done: above the first, or below the last.
pub(super) fn windows_in_turn(units: &mut [Unit]) {
    let mut at = 0;
    while at < units.len() {
        let Some(windows) = windows_from(units, at) else {
            at += 1;
            continue;
        };
        let above = windows.begin[0].checked_sub(1).filter(|at| times(&units[*at]).is_some());
        let below = Some(windows.end).filter(|at| units.get(*at).is_some_and(|unit| times(unit).is_some()));
        at = windows.end;
        if let Some(said) = above.or(below) {
            join(units, &windows, said);
        }
    }
}

/// The windows that begin at a unit; none where there is one alone, where they are not alike, or something else stands between them.
fn windows_from(units: &[Unit], from: usize) -> Option<Windows> {
    let seconds = window(units.get(from)?)?;
    let (mut begin, mut at, mut rest) = (Vec::new(), from, None);
    while units.get(at).and_then(window) == Some(seconds) {
        let inside = units[at + 1..].iter().take_while(|unit| is_inside(unit)).count();
        let own = usize::from(units[at].readings[0].items().next().is_some());
        if inside + own == 0 {
            return None;
        }
        begin.push(at);
        at += 1 + inside;
        let Some(said) = units.get(at).and_then(rest_alone) else { break };
        if *rest.get_or_insert(said) != said {
            return None;
        }
        at += 1;
    }
    // One of another length goes round with them.
    let alike = units.get(at).and_then(window).is_none();
    (begin.len() > 1 && alike).then_some(Windows { begin, end: at, seconds, rest: rest? })
}

/// How long a window is that a line is the header of, or the whole.
fn window(unit: &Unit) -> Option<u32> {
    let reading = first(unit)?;
    let mut all = reading.says.iter().filter(|said| !matches!(said.say, Say::Item(_) | Say::Load { .. }));
    match (&all.next()?.say, all.next()) {
        (Say::Amrap(Some(seconds)), None) => Some(*seconds),
        _ => None,
    }
}

/// Whether a line says what is done in a window.
fn is_inside(unit: &Unit) -> bool {
    let does = |reading: &Reading| {
        reading.items().next().is_some()
            && !reading.says(|say| matches!(say, Say::Amrap(_) | Say::Rest { .. }))
    };
    unit.heading.is_none() && first(unit).is_some_and(does)
}

fn rest_alone(unit: &Unit) -> Option<(u32, u32)> {
    match &first(unit)?.says[..] {
        [Said { say: Say::Rest { low_s, high_s, .. }, .. }] => Some((*low_s, *high_s)),
        _ => None,
    }
}

/// How often, of a line that says nothing else.
fn times(unit: &Unit) -> Option<u32> {
    let reading = first(unit)?;
    let says = reading.says.iter().map(|said| &said.say).filter(|say| !matches!(say, Say::ForBoth));
    match says.collect::<Vec<_>>()[..] {
        [Say::Rounds(n) | Say::Sets(n)] => Some(*n).filter(|n| *n > 1),
        _ => None,
    }
}

fn first(unit: &Unit) -> Option<&Reading> {
    unit.readings.first().filter(|reading| reading.role == Role::Work)
}

fn join(units: &mut [Unit], windows: &Windows, said: usize) {
    let Some(times) = times(&units[said]) else { return };
    let count = windows.begin.len() as u32;
    let Some(all) = times.checked_mul(count) else { return };
    let head = windows.begin[0].min(said);
    let end = windows.end.max(said + 1);
    for (at, unit) in units.iter_mut().enumerate().take(end).skip(head) {
        unit.readings.truncate(1);
        if at > head {
            (unit.cut, unit.blank_before) = (Cut::Never, false);
        }
        for said in &mut unit.readings[0].says {
            if matches!(said.say, Say::Amrap(_) | Say::Rest { .. } | Say::Rounds(_) | Say::Sets(_)) {
                said.say = Say::OfTurn(Box::new(said.say.clone()));
            }
        }
    }
    for (n, at) in windows.begin.iter().enumerate() {
        units[*at].label = Label::None;
        let place = usize::from(units[*at].readings[0].items().next().is_none());
        units[at + place].label = Label::Number(n as u32 + 1);
    }
    let (low_s, high_s) = windows.rest;
    let rest = Say::Rest { low_s, high_s, after: Some(RestAfter::Each) };
    let bouts = Say::Bouts { times: all, seconds: windows.seconds, open: true };
    let head = &mut units[head].readings[0];
    head.says.splice(0..0, [bouts, rest].map(|say| Said { say, column: 1 }));
}

/// "3 AMRAPs of 4 min, 2 min rest between", and below it one after the other: behind each but the last is rested.
pub(super) fn rests_between_bouts(units: &mut [Unit]) {
    let announced = |unit: &Unit| {
        let reading = first(unit).filter(|reading| reading.items().next().is_none())?;
        let rest = |said: &Said| match said.say {
            Say::Rest { low_s, high_s, .. } => Some((low_s, high_s)),
            _ => None,
        };
        let several = reading.says(|say| matches!(say, Say::Bouts { times: 2.., open: true, .. }));
        reading.says.iter().find_map(rest).filter(|_| several)
    };
    let Some((head, (low_s, high_s))) =
        units.iter().enumerate().find_map(|(at, unit)| Some((at, announced(unit)?)))
    else {
        return;
    };
    let below = &mut units[head + 1..];
    let end = below.iter().position(|unit| unit.heading.is_some()).unwrap_or(below.len());
    let below = &mut below[..end];
    if below.iter().any(|unit| rest_alone(unit).is_some()) {
        return;
    }
    // "Block 1: ...", "block 2: ..."
    let is_bout = |unit: &Unit| matches!(unit.label, Label::Bout(_) | Label::Letter(_, None) | Label::Part);
    let begin: Vec<usize> = (0..below.len()).filter(|at| is_bout(&below[*at])).skip(1).collect();
    for next in begin {
        let last = &mut below[next - 1];
        for reading in last.readings.iter_mut().filter(|reading| reading.role == Role::Work) {
            let rest = Say::Rest { low_s, high_s, after: Some(RestAfter::All) };
            reading.says.push(Said { say: rest, column: 1 });
        }
    }
}
