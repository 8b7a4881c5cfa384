//! Questions: where the day could be divided in another way that is about as likely.

use lantern_session::{Part, totals};

use crate::day::{Division, Segment};
use crate::report::{Choice, Question};
use crate::unit::Unit;
use crate::weights::Weights;

/// Most questions about one text.
const MOST: usize = 2;

/// What is asked: for each way to divide the day that is nearly as likely as the best, the run of lines in which it differs.
pub(crate) fn questions(divisions: &[Division], units: &[Unit], weights: &Weights) -> Vec<Question> {
    let Some((best, others)) = divisions.split_first() else { return Vec::new() };
    let mut found: Vec<Question> = Vec::new();
    for other in others {
        if other.cost - best.cost > weights.of("question.margin") || found.len() >= MOST {
            break;
        }
        let Some((mine, theirs)) = differing(&best.segments, &other.segments) else { continue };
        let (first, last) = (mine[0].units.start, mine[mine.len() - 1].units.end - 1);
        let (line, last_line) = (units[first].line, units[last].last_line);
        let overlaps = found.iter().any(|known| known.line <= last_line && line <= known.last_line);
        let (one, two) = (choice(mine), choice(theirs));
        if overlaps || one.effect == two.effect && one.volume == two.volume {
            continue;
        }
        let message = format!("Lines {line}-{last_line}: {}, or {}?", one.effect, two.effect);
        found.push(Question { line, last_line, column: 1, message, chosen: 0, options: vec![one, two] });
    }
    found
}

/// The runs of segments in which two divisions differ.
fn differing<'d>(a: &'d [Segment], b: &'d [Segment]) -> Option<(&'d [Segment], &'d [Segment])> {
    let alike = |a: &Segment, b: &Segment| a.units == b.units && a.chosen == b.chosen;
    let front = a.iter().zip(b).take_while(|(a, b)| alike(a, b)).count();
    let back = a[front..].iter().rev().zip(b[front..].iter().rev()).take_while(|(a, b)| alike(a, b)).count();
    let (mine, theirs) = (&a[front..a.len() - back], &b[front..b.len() - back]);
    (!mine.is_empty() && !theirs.is_empty()).then_some((mine, theirs))
}

fn choice(segments: &[Segment]) -> Choice {
    let parts: Vec<&Part> = segments.iter().filter_map(|segment| segment.lowered.part.as_ref()).collect();
    let effects: Vec<String> = parts.iter().map(|part| effect(part)).collect();
    let volumes =
        parts.iter().flat_map(|part| totals(&part.tree)).filter(|total| !total.open && total.amount > 0.0);
    let volume: Vec<String> = volumes.map(|total| format!("{} {}", total.amount, total.movement)).collect();
    let minutes =
        parts.iter().map(|part| part.duration_s.or(part.cap_s).map(|s| s / 60)).sum::<Option<u32>>();
    let label = match parts.len() {
        0 => "no part".to_owned(),
        1 => "one part".to_owned(),
        n => format!("{n} parts"),
    };
    let effect = if effects.is_empty() { "no work".to_owned() } else { effects.join(", then ") };
    Choice { label, effect, volume: volume.join(", "), minutes }
}

fn effect(part: &Part) -> String {
    let kind = part.kind.heading().to_lowercase();
    part.format.map_or(kind.clone(), |format| format!("{kind} {}", format.name()))
}
