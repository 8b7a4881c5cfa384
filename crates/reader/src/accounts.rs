//! What became of what a text says: a number that was read must stand somewhere in what was made of it, and a build must be one; what went missing is told.
//!
//! Phrases that nothing explains are told by their sentence ([`Reading::numbers_left`]). This looks at the other end: at what was understood, and then lost on the way to the tree.

use lantern_session::{Amount, Format, Intent, Node, Part, Sharing, totals, works};
use serde::Serialize;
use serde_json::Value;

use crate::say::{Aim, Item, Say};
use crate::unit::{Reading, Role, Said, Unit};

/// Numbers that differ by less are one: shares and kilograms are written with at most two places.
const SAME: f64 = 0.01;

/// Something that was said and is in nothing that is done: the line, and the phrase.
pub(crate) type Unheard<'u> = (usize, &'u Said);

/// What the sentences of a part say and neither it nor what stands around it has. Before the day is divided nothing stands around it, and what other pieces may have is let go.
pub(crate) fn unheard<'u>(
    said: impl Iterator<Item = (&'u Unit, &'u Reading)>,
    part: &Part,
    around: Option<&[Part]>,
) -> Vec<Unheard<'u>> {
    let known = Known::of(part, around);
    let at_work = said.filter(|(_, reading)| reading.role == Role::Work);
    // Who corrects himself says a number that nothing is made of, and the way up to the sets is everybody's own.
    let meant = at_work.filter(|(_, reading)| {
        !reading.says(|say| matches!(say, Say::Withdraw | Say::RampSets | Say::EmptyBar))
    });
    let counts = |unit: &Unit, reading: &Reading, say: &Say| match say {
        // "Strength (20 min)" is a place in the hour, and a time of day says nothing else.
        Say::Length(_) => unit.heading.is_none() && reading.says.len() > 1,
        // "... too heavy. 95/65 is fine" goes on talking.
        Say::Load { .. } => unit.starts_line || reading.items().next().is_some(),
        _ => true,
    };
    let phrases = meant.flat_map(|(unit, reading)| {
        let counting = reading.says.iter().filter(move |said| counts(unit, reading, &said.say));
        counting.map(|said| (unit.line, said))
    });
    phrases.filter(|(_, said)| !known.has(&said.say) || !is_kept(&said.say, part)).collect()
}

/// Shortest stay at something that a day is not told of in passing, in seconds.
const STAY_TOLD_S: u32 = 480;

/// Whether a sentence that was kept as words could be read as so many minutes of something, and no part is as long.
pub(crate) fn keeps_a_length(unit: &Unit, parts: &[Part]) -> bool {
    let anywhere: Vec<f64> = parts.iter().flat_map(numbers_of).collect();
    let long = |say: &Say| match say {
        Say::Length(seconds) => *seconds >= STAY_TOLD_S && !holds(&anywhere, f64::from(*seconds)),
        _ => false,
    };
    // Beside what is done, or how; a time of day stands alone.
    let works = |say: &Say| match say {
        Say::Item(item) => item.movement.is_some(),
        Say::Intent(Intent::Feel(_)) | Say::Each | Say::Max => true,
        _ => false,
    };
    let mut read = unit.readings.iter().filter(|reading| reading.role == Role::Work);
    read.any(|reading| reading.says(long) && reading.says(works))
}

/// The numbers of all parts of a day.
pub(crate) fn known(parts: &[Part]) -> Vec<Known<'_>> {
    parts.iter().map(|part| Known::of(part, Some(parts))).collect()
}

/// The first phrase of the best that a sentence says as work whose number is in none of the parts.
pub(crate) fn in_no_part<'u>(unit: &'u Unit, known: &[Known<'_>]) -> Option<&'u Said> {
    let best = unit.readings.iter().find(|reading| reading.role == Role::Work)?;
    // "Strength (20 min)" is a place in the hour, and "good morning, doors open at 6:40" is none of the work.
    let counts = |say: &Say| !matches!(say, Say::Length(_)) || unit.heading.is_none();
    best.says.iter().find(|said| counts(&said.say) && !known.iter().any(|known| known.has(&said.say)))
}

/// The numbers of a part.
pub(crate) struct Known<'p> {
    part: &'p Part,
    own: Vec<f64>,
    /// With those of the other parts of the day, where they are known.
    anywhere: Option<Vec<f64>>,
}

impl<'p> Known<'p> {
    fn of(part: &'p Part, around: Option<&[Part]>) -> Self {
        let mut own = numbers_of(part);
        // One is not written where it goes without saying.
        own.extend([0.0, 1.0]);
        own.push(part.strength.reps.len() as f64);
        let rests = around.iter().flat_map(|parts| parts.iter()).filter_map(|other| other.then_rest_s);
        own.extend(rests.map(f64::from));
        products(&part.tree, &mut own);
        // "15 get-ups, a carry after each third one" are five times three.
        own.extend(totals(&part.tree).into_iter().map(|total| total.amount));
        let anywhere =
            around.map(|parts| own.iter().copied().chain(parts.iter().flat_map(numbers_of)).collect());
        Self { part, own, anywhere }
    }

    fn has(&self, say: &Say) -> bool {
        let own = |number: f64| holds(&self.own, number);
        let anywhere = |number: f64| self.anywhere.as_ref().is_none_or(|known| holds(known, number));
        let count = |number: u32| own(f64::from(number));
        match say {
            // An effort of what has no share, whose arm, which piece: nothing is counted by these.
            Say::Heaviness(_) | Say::Split(..) | Say::OfPiece(_) | Say::RestAsWork(_) | Say::OfTurn(_) => {
                true
            }
            // The clock on the wall.
            Say::Clock(_) | Say::Window(_) => true,
            Say::Target { of: Aim::Bare, .. } => {
                numbers(say).into_iter().all(|number| own(number) || anywhere(60.0 * number))
            }
            Say::Target { .. } | Say::Rest { .. } => numbers(say).into_iter().all(anywhere),
            // It may begin with the second rung, where the first is written with the work.
            Say::Scheme { reps, open: Some(step) } => {
                let rung = |n: &u32| count(*n) || is_rung(&self.part.tree, f64::from(*n));
                reps.first().is_none_or(rung) && count(*step)
            }
            Say::SetsReps { sets, reps, .. } => {
                count(*reps) && (count(*sets) || self.part.strength.sets.is_some_and(|all| all > *sets))
            }
            Say::Bouts { seconds, .. } => count(*seconds),
            Say::InMinute { reps, .. } => count(*reps) || is_rung(&self.part.tree, f64::from(*reps)),
            Say::OnOff { work_s, rest_s, .. } => count(*work_s) && count(*rest_s),
            // The tools held at once may be in the movement's name, and a piece of work has one figure: a height beside a weight is let go.
            Say::Load { first, second, unit, .. } | Say::ToolLoad { first, second, unit, .. } => {
                unit.is_some_and(|unit| unit.weight().is_none()) || own(*first) && second.is_none_or(own)
            }
            // What leads up to a max keeps its shares; each climbs to it in sets of their own.
            Say::SetAt { percent, .. } if self.part.format == Some(Format::BuildTo) => {
                percent.iter().all(|share| own(*share))
            }
            Say::Item(item) => self.has_item(item),
            say => numbers(say).into_iter().all(own),
        }
    }

    fn has_item(&self, item: &Item) -> bool {
        let team = f64::from(self.part.team_size);
        let whole = |number: f64| {
            let ways = [number, 60.0 * number, number * team, number / team];
            ways.iter().any(|way| holds(&self.own, *way)) || is_rung(&self.part.tree, number)
        };
        let amount = item.amount.is_none_or(|(first, second)| whole(first) && second.is_none_or(whole))
            || self.is_station(item);
        let rest = [item.window_s, item.sets].into_iter().flatten();
        amount && rest.map(f64::from).all(|number| holds(&self.own, number))
    }
}

impl Known<'_> {
    /// "1 burpees", "2 swings" where the number counts the stations of a clock, and what is done at each has none.
    fn is_station(&self, item: &Item) -> bool {
        let Some((number, None)) = item.amount else { return false };
        let works = works(&self.part.tree);
        let at = (number as usize).checked_sub(1).and_then(|at| works.get(at));
        at.is_some_and(|work| {
            Some(&work.movement) == item.movement.as_ref()
                && matches!(work.dose.amount, Amount::Max | Amount::Open)
        })
    }
}

fn holds(known: &[f64], number: f64) -> bool {
    known.iter().any(|known| (known - number).abs() < SAME)
}

/// Whether what is said without a number has left its mark on the part.
fn is_kept(say: &Say, part: &Part) -> bool {
    let strength = &part.strength;
    let rising = |shares: &[[f64; 2]]| shares.len() > 1 || shares.iter().any(|[low, high]| low < high);
    match say {
        Say::Build | Say::Climbs | Say::ClimbsTo | Say::ClimbsToMost => {
            part.format == Some(Format::BuildTo)
                || strength.rises
                || strength.ends_at_share
                || strength.jump.is_some()
                || strength.efforts.len() > 1
                || strength.load_range.is_some()
                || rising(&strength.percent)
                || works(&part.tree).iter().any(|work| rising(&work.percent))
        }
        Say::OpenLast => is_open(part),
        Say::Item(item) if item.max => is_open(part) || is_post(item, part),
        Say::Penalty => part.tree.any(&|node| matches!(node, Node::Penalty { .. })),
        Say::Tempo(_) | Say::Paused => strength.tempo.is_some(),
        _ => true,
    }
}

/// "One rows, one bikes": who is where, and below it how much each does there.
fn is_post(item: &Item, part: &Part) -> bool {
    let stations = |node: &Node| matches!(node, Node::Together { sharing: Sharing::Stations, .. });
    part.tree.any(&stations)
        && works(&part.tree).iter().any(|work| Some(&work.movement) == item.movement.as_ref())
}

/// As many as possible of something, or for as long as it goes.
fn is_open(part: &Part) -> bool {
    part.strength.open_last
        || part.format == Some(Format::MaxReps)
        || works(&part.tree).iter().any(|work| matches!(work.dose.amount, Amount::Max | Amount::Open))
}

/// A number of repetitions that a rising piece comes to.
fn is_rung(tree: &Node, number: f64) -> bool {
    tree.any(&|node| match node {
        Node::Ladder { start, step, .. } => {
            let above = number - f64::from(*start);
            above >= 0.0 && *step > 0 && (above / f64::from(*step)).fract().abs() < SAME
        }
        _ => false,
    })
}

/// All numbers of a part but those of its lines.
fn numbers_of(part: &Part) -> Vec<f64> {
    let mut found = numbers(&part.tree);
    let said = (part.cap_s, part.duration_s, part.rounds, part.interval_s, part.work_s, part.then_rest_s);
    found.extend(numbers(&said));
    found.extend(numbers(&(part.rest, part.team_size, &part.strength, part.target, &part.intents)));
    found.extend(part.alternatives.iter().flat_map(|other| numbers(&other.work)));
    found
}

/// All numbers in it.
fn numbers(of: &impl Serialize) -> Vec<f64> {
    fn collect(value: &Value, found: &mut Vec<f64>) {
        match value {
            Value::Number(number) => found.extend(number.as_f64()),
            Value::Array(of) => of.iter().for_each(|value| collect(value, found)),
            Value::Object(of) => of.values().for_each(|value| collect(value, found)),
            _ => {}
        }
    }
    let mut found = Vec::new();
    collect(&serde_json::to_value(of).unwrap_or_default(), &mut found);
    found
}

/// The lengths that the turns of a clock, and rounds of windows, come to.
fn products(node: &Node, known: &mut Vec<f64>) {
    match node {
        Node::Every { interval_s, times: Some(times), of, .. } => {
            known.push(f64::from(*interval_s) * f64::from(*times));
            // What takes turns on the clock is gone round so often.
            known.push(f64::from(*times) / of.len() as f64);
        }
        Node::Rounds { times: Some(times), of, .. } => {
            known.extend(window_s(of).map(|seconds| seconds * f64::from(*times)));
        }
        _ => {}
    }
    node.children().into_iter().for_each(|child| products(child, known));
}

/// How long the windows in it are together, in seconds.
fn window_s(node: &Node) -> Option<f64> {
    match node {
        Node::Within { seconds, .. } => Some(f64::from(*seconds)),
        Node::Seq { of } => of.iter().map(window_s).sum(),
        _ => None,
    }
}
