//! Questions: where the day could be divided in another way that is about as likely.

use lantern_session::movement::Unit as Counts;
use lantern_session::units::{clock_s, plain};
use lantern_session::{Part, PartKind, Problem, Total, per_round, totals};

use crate::corrections::{Correction, CorrectionKind};
use crate::day::{Division, Segment};
use crate::lower::Clash;
use crate::report::{Choice, Question};
use crate::unit::{Role, Unit};
use crate::weights::Weights;

/// Most questions about one text.
const MOST: usize = 2;

/// What is asked: for each way to divide the day that is nearly as likely as the best, the run of lines in which it differs.
pub(crate) fn questions(
    divisions: &[Division],
    units: &[Unit],
    raw: &[&str],
    weights: &Weights,
) -> Vec<Question> {
    let Some((best, others)) = divisions.split_first() else { return Vec::new() };
    let mut found: Vec<Question> = Vec::new();
    for other in others {
        if other.cost - best.cost > weights.of("question.margin") || found.len() >= MOST {
            break;
        }
        let Some((mine, theirs)) = differing(&best.segments, &other.segments) else { continue };
        let disputed = disputed(mine, theirs);
        let (Some(first), Some(last)) = (disputed.first(), disputed.last()) else { continue };
        let (line, last_line) = (units[*first].line, units[*last].last_line);
        // "Then" in a line of its own: whether it ends one part or begins the next is one question.
        let beside = |known: &Question| {
            (known.last_line + 1 == line || last_line + 1 == known.line)
                && known.options.iter().any(|option| option.effect == choice(theirs).effect)
        };
        let overlaps =
            found.iter().any(|known| known.line <= last_line && line <= known.last_line || beside(known));
        let answer = |segments: &[Segment]| answers(segments, &disputed, units, raw);
        let (mut one, mut two) = (choice(mine), choice(theirs));
        (one.corrections, two.corrections) = (answer(mine), answer(theirs));
        let same_list = list_kind(mine).is_some_and(|kind| list_kind(theirs) == Some(kind));
        if overlaps || one.volume == two.volume && (one.effect == two.effect || same_list) {
            continue;
        }
        let message = format!("Lines {line}-{last_line}: {}, or {}?", one.effect, two.effect);
        found.push(Question { line, last_line, column: 1, message, chosen: 0, options: vec![one, two] });
    }
    found
}

/// A piece that contradicts itself: how it is run is asked, and the problem says so.
pub(crate) fn contradiction(clash: &Clash, part: &Part, raw: &[&str]) -> (Problem, Question) {
    let run_as = |value: String| {
        let words = raw.get(clash.line - 1).copied().unwrap_or_default();
        let made = Correction::of_line(CorrectionKind::Part, clash.line, words, &value);
        Correction { last_line: clash.last_line, ..made }
    };
    let open = format!("as many rounds as possible in {}", clock_s(clash.open_s));
    let rounds = clash.rounds.map(|n| format!("{n} rounds ")).unwrap_or_default();
    let cap = clash.cap_s.map(|cap| format!(", cap {}", clock_s(cap))).unwrap_or_default();
    let closed = format!("{rounds}for time{cap}");
    let message = format!("This is said to be {open} and {closed}: which of the two is meant?");
    let volume = |amounts: Vec<Total>| -> String {
        let amounts = amounts.iter().filter(|total| total.amount > 0.0);
        amounts.map(amount).collect::<Vec<_>>().join(", ")
    };
    let round = volume(per_round(&part.tree));
    let times = clash.rounds.unwrap_or(1);
    let all = per_round(&part.tree)
        .into_iter()
        .map(|total| Total { amount: total.amount * f64::from(times), ..total });
    let options = vec![
        Choice {
            label: "open".to_owned(),
            effect: open,
            volume: format!("each round {round}"),
            minutes: Some(clash.open_s / 60),
            corrections: vec![run_as(format!("AMRAP {}", clock_s(clash.open_s)))],
        },
        Choice {
            label: "for time".to_owned(),
            effect: closed,
            volume: volume(all.collect()),
            minutes: clash.cap_s.map(|cap| cap / 60),
            corrections: vec![run_as(format!("{rounds}for time{cap}"))],
        },
    ];
    let problem = Problem::error(clash.line, 1, message.clone());
    let Clash { line, last_line, .. } = *clash;
    (problem, Question { line, last_line, column: 1, message, chosen: 0, options })
}

/// The runs of segments in which two divisions differ.
fn differing<'d>(a: &'d [Segment], b: &'d [Segment]) -> Option<(&'d [Segment], &'d [Segment])> {
    let alike = |a: &Segment, b: &Segment| a.units == b.units && a.chosen == b.chosen;
    let front = a.iter().zip(b).take_while(|(a, b)| alike(a, b)).count();
    let back = a[front..].iter().rev().zip(b[front..].iter().rev()).take_while(|(a, b)| alike(a, b)).count();
    let (mine, theirs) = (&a[front..a.len() - back], &b[front..b.len() - back]);
    (!mine.is_empty() && !theirs.is_empty()).then_some((mine, theirs))
}

/// The corrections that make the disputed sentences what a division takes them for. A sentence inside a line has no place of its own.
fn answers(segments: &[Segment], disputed: &[usize], units: &[Unit], raw: &[&str]) -> Vec<Correction> {
    let made = disputed.iter().filter(|at| units[**at].starts_line).filter_map(|at| {
        let unit = &units[*at];
        let segment = segments.iter().find(|segment| segment.units.contains(at))?;
        let role = unit.readings[segment.chosen[at - segment.units.start]].role;
        let begins = segment.units.start == *at;
        let kind = match role {
            Role::Note | Role::Title => CorrectionKind::Note,
            Role::Substitute | Role::Level(_) => CorrectionKind::Substitute,
            Role::Work | Role::Aside if begins => CorrectionKind::Split,
            Role::Work | Role::Aside => CorrectionKind::Join,
        };
        Some(Correction::of_line(kind, unit.line, raw.get(unit.line - 1)?, ""))
    });
    made.collect()
}

/// The kind of all parts of a run, where it is one that is gone through as a list: into how many parts a list is divided changes nothing.
fn list_kind(segments: &[Segment]) -> Option<PartKind> {
    let mut kinds = segments.iter().filter_map(|segment| segment.lowered.part.as_ref()).map(|part| part.kind);
    let first = kinds.next()?;
    let listed =
        matches!(first, PartKind::Accessory | PartKind::Mobility | PartKind::Warmup | PartKind::Skill);
    (listed && kinds.all(|kind| kind == first)).then_some(first)
}

/// The sentences about which two divisions differ: those that begin a part in one of them only, and those read in another role.
fn disputed(mine: &[Segment], theirs: &[Segment]) -> Vec<usize> {
    let begins =
        |segments: &[Segment]| segments.iter().map(|segment| segment.units.start).collect::<Vec<_>>();
    let (ours, others) = (begins(mine), begins(theirs));
    let chosen = |segments: &[Segment], at: usize| {
        let segment = segments.iter().find(|segment| segment.units.contains(&at))?;
        Some(segment.chosen[at - segment.units.start])
    };
    let range = mine[0].units.start..mine[mine.len() - 1].units.end;
    range
        .filter(|at| ours.contains(at) != others.contains(at) || chosen(mine, *at) != chosen(theirs, *at))
        .collect()
}

fn choice(segments: &[Segment]) -> Choice {
    let parts: Vec<&Part> = segments.iter().filter_map(|segment| segment.lowered.part.as_ref()).collect();
    let effects: Vec<String> = parts.iter().map(|part| effect(part)).collect();
    let volumes =
        parts.iter().flat_map(|part| totals(&part.tree)).filter(|total| !total.open && total.amount > 0.0);
    let volume: Vec<String> =
        volumes.map(|total| format!("{} {}", plain(total.amount), total.movement)).collect();
    let minutes =
        parts.iter().map(|part| part.duration_s.or(part.cap_s).map(|s| s / 60)).sum::<Option<u32>>();
    let label = match parts.len() {
        0 => "no part".to_owned(),
        1 => "one part".to_owned(),
        n => format!("{n} parts"),
    };
    let effect = if effects.is_empty() { "no work".to_owned() } else { effects.join(", then ") };
    Choice { label, effect, volume: volume.join(", "), minutes, corrections: Vec::new() }
}

/// "600 m run".
fn amount(total: &Total) -> String {
    let unit = if total.unit == Counts::Reps { "" } else { total.unit.short() };
    format!("{}{unit} {}", plain(total.amount), total.movement.as_str().replace('-', " "))
}

fn effect(part: &Part) -> String {
    let kind = part.kind.heading().to_lowercase();
    part.format.map_or(kind.clone(), |format| format!("{kind} {}", format.name()))
}
