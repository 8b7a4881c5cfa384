//! A piece of conditioning as its clock divides it: intervals, rests, marks at which other work cuts in, heats, the last minute.

use super::phases::{Clock, Draft, Kind, LAST_MINUTE_S, NEEDS_A_LAST_CALL_S, cut_to, each_alone};
use crate::movement::{Catalogue, Unit};
use crate::print::{bare_lines, work_text};
use crate::session::{Amount, Format, Node, Part, Work, works};
use crate::units::clock_s;

/// Most phases of one piece.
const MOST: usize = 240;

/// The phases of a piece in so many seconds, with the offsets of its heats.
pub(super) fn drafts(part: &Part, heats: &[u32], length_s: u32, catalogue: &Catalogue) -> Vec<Draft> {
    let whole = Whole { part, catalogue };
    let once = whole.lay(&part.tree, length_s).filter(|laid| !laid.is_empty() && laid.len() <= MOST);
    let lasts = |laid: &[Draft]| laid.iter().map(|draft| draft.length_s).sum::<u32>();
    match once {
        Some(laid) if heats.len() < 2 => one_after_another(laid, length_s),
        // Heats that wait for each other do all of it in turn.
        Some(laid) if heats.windows(2).all(|pair| pair[1] - pair[0] >= lasts(&laid)) => {
            let mut all = Vec::new();
            for (n, start) in heats.iter().enumerate() {
                let so_far = lasts(&all);
                if *start > so_far {
                    all.push(Draft::new(Kind::Rest, start - so_far, format!("Heat {} gets ready", n + 1)));
                }
                let of_heat = laid.iter().cloned();
                all.extend(
                    of_heat.map(|draft| Draft { title: format!("Heat {}: {}", n + 1, draft.title), ..draft }),
                );
            }
            one_after_another(all, length_s)
        }
        // Those who start behind the first do the same by the same clock, and are done later.
        Some(laid) if heats.iter().all(|start| *start < length_s) => {
            let (last, lasts) = (heats.len(), lasts(&laid));
            let mut all = laid;
            if lasts < length_s {
                let rest = Draft::new(Kind::Work, length_s - lasts, format!("Until heat {last} is done"));
                all.push(rest.saying("The first are done. The others finish."));
            }
            one_after_another(all, length_s)
        }
        _ => open(&whole, heats, length_s),
    }
}

fn one_after_another(laid: Vec<Draft>, length_s: u32) -> Vec<Draft> {
    let whole_s: u32 = laid.iter().map(|draft| draft.length_s).sum();
    let last =
        laid.iter().rposition(|draft| draft.kind == Kind::Work).filter(|_| whole_s >= NEEDS_A_LAST_CALL_S);
    let laid = each_alone(laid).into_iter().enumerate().flat_map(|(n, draft)| match draft.kind {
        Kind::Work if Some(n) == last => draft.with_last_minute(),
        Kind::Work => draft.with_last_call(),
        _ => vec![draft],
    });
    cut_to(laid.collect(), length_s)
}

/// A piece that runs until it is done: one clock, at which heats start and end.
fn open(whole: &Whole<'_>, heats: &[u32], length_s: u32) -> Vec<Draft> {
    let part = whole.part;
    let cue = bare_lines(part, &part.tree, whole.catalogue);
    let cap = part
        .cap_s
        .or(part.duration_s)
        .filter(|_| part.format == Some(Format::ForTime) || part.cap_s.is_some());
    // What happens at which second: a heat starts, its last minute begins, its time is up.
    let mut marks: Vec<(u32, String, Kind)> = Vec::new();
    for (n, start) in heats.iter().enumerate().filter(|_| heats.len() > 1) {
        marks.push((*start, format!("Heat {} goes", n + 1), Kind::Work));
        if let Some(cap) = cap.filter(|cap| *cap >= NEEDS_A_LAST_CALL_S) {
            marks.push((
                start + cap - LAST_MINUTE_S,
                format!("Last minute of heat {}", n + 1),
                Kind::LastMinute,
            ));
            marks.push((start + cap, format!("Heat {} is done", n + 1), Kind::Work));
        }
    }
    if heats.len() < 2 {
        let title = cap.map_or_else(|| "Work".to_owned(), |cap| format!("Cap {}", clock_s(cap)));
        marks.push((0, title, Kind::Work));
        let last = cap.unwrap_or(length_s).min(length_s);
        if last >= NEEDS_A_LAST_CALL_S && cap.is_some() {
            marks.push((last - LAST_MINUTE_S, "Last minute".to_owned(), Kind::LastMinute));
            if last < length_s {
                marks.push((last, "Time is up".to_owned(), Kind::Rest));
            }
        }
    }
    marks.retain(|(at, ..)| *at < length_s);
    marks.sort_by_key(|(at, _, kind)| (*at, *kind == Kind::LastMinute));
    marks.dedup_by_key(|(at, ..)| *at);
    if marks.first().is_none_or(|(at, ..)| *at > 0) {
        marks.insert(0, (0, "Work".to_owned(), Kind::Work));
    }
    let ends = marks.iter().skip(1).map(|(at, ..)| *at).chain([length_s]).collect::<Vec<u32>>();
    let draft = |((at, title, kind), end): (&(u32, String, Kind), u32)| {
        let say = match kind {
            Kind::LastMinute => "One minute.".to_owned(),
            Kind::Rest => "Time. Remember your score.".to_owned(),
            _ if *at == 0 => {
                cap.map_or_else(|| "Go.".to_owned(), |cap| format!("Go. The cap is {}.", clock_s(cap)))
            }
            _ => format!("{title}."),
        };
        Draft { clock: Clock::Up, ..Draft::new(*kind, end - at, &**title).showing(cue.clone()).saying(say) }
    };
    marks.iter().zip(ends).map(draft).collect()
}

struct Whole<'a> {
    part: &'a Part,
    catalogue: &'a Catalogue,
}

impl Whole<'_> {
    /// The phases of a node whose length follows from what is written; none where it lasts until it is done. What has no end of its own lasts as long as there is
    /// time.
    fn lay(&self, node: &Node, room_s: u32) -> Option<Vec<Draft>> {
        match node {
            Node::Rest { seconds } => {
                let rest = Draft::new(Kind::Rest, (*seconds)?, format!("Rest {}", clock_s((*seconds)?)));
                Some(vec![rest])
            }
            Node::Work(work) if work.dose.unit == Unit::Seconds => {
                let seconds = work.dose.first().filter(|seconds| *seconds >= 1.0)?;
                Some(vec![self.work(node, seconds as u32, format!("Work {}", clock_s(seconds as u32)))])
            }
            Node::Every { interval_s, times, alternate, of } => {
                Some(self.every(*interval_s, *times, (*alternate, of), room_s))
                    .filter(|laid| !laid.is_empty())
            }
            Node::Within { seconds, of } => Some(self.within(*seconds, of)),
            Node::Rounds { times: Some(times), rest_s, of } => {
                let round = self.lay(of, room_s)?;
                self.rounds(&round, *times, rest_s.unwrap_or(0))
            }
            Node::Seq { of } => {
                let mut all = Vec::new();
                for node in of {
                    all.extend(self.lay(node, room_s)?);
                }
                Some(all)
            }
            Node::Together { of, .. } => self.lay(of, room_s),
            Node::Interrupt { every_s, from_s, work, of } => {
                self.cut_into((*every_s, *from_s), (work, of), room_s)
            }
            Node::Work(_)
            | Node::Rounds { .. }
            | Node::Scheme { .. }
            | Node::Ladder { .. }
            | Node::Penalty { .. } => None,
        }
    }

    fn rounds(&self, round: &[Draft], times: u32, rest_s: u32) -> Option<Vec<Draft>> {
        if round.len() as u64 * u64::from(times) > MOST as u64 {
            return None;
        }
        let mut all = Vec::new();
        for n in 1..=times {
            all.extend(round.iter().cloned().map(|draft| numbered(draft, n, times)));
            if rest_s > 0 && n < times {
                all.push(Draft::new(Kind::Rest, rest_s, format!("Rest {}", clock_s(rest_s))));
            }
        }
        Some(all)
    }

    fn every(
        &self,
        interval_s: u32,
        times: Option<u32>,
        (alternate, of): (bool, &[Node]),
        room_s: u32,
    ) -> Vec<Draft> {
        if interval_s == 0 || of.is_empty() {
            return Vec::new();
        }
        let count = times.unwrap_or(room_s / interval_s).min(MOST as u32);
        let name = if interval_s == 60 { "Minute" } else { "Interval" };
        let interval = |n: u32| {
            let title = match times {
                Some(times) => format!("{name} {} of {times}", n + 1),
                None => format!("{name} {}", n + 1),
            };
            let node = if alternate { of[n as usize % of.len()].clone() } else { Node::seq(of.to_vec()) };
            let is_last = times.is_some_and(|times| n + 1 == times);
            Draft { is_called: is_last, ..self.work(&at_rung(&node, n), interval_s, title) }
        };
        (0..count).map(interval).collect()
    }

    /// A window: what is divided by a clock in it is laid out as often as it fits, all else is one stretch.
    fn within(&self, seconds: u32, of: &Node) -> Vec<Draft> {
        let (again, times) = match of {
            Node::Rounds { times: None, of, rest_s: None } => (&**of, u32::MAX),
            other => (other, 1),
        };
        let round = self.lay(again, seconds).unwrap_or_default();
        let lasts: u32 = round.iter().map(|draft| draft.length_s).sum();
        if lasts == 0 || lasts > seconds || (seconds / lasts) as usize * round.len() > MOST {
            let title = if times == 1 { "Work" } else { "AMRAP" };
            return vec![self.work(of, seconds, format!("{title} {}", clock_s(seconds)))];
        }
        let count = (seconds / lasts).min(times);
        let mut all: Vec<Draft> = Vec::new();
        for n in 1..=count {
            let named = |draft: Draft| if count > 1 { numbered(draft, n, count) } else { draft };
            all.extend(round.iter().cloned().map(named));
        }
        if count * lasts < seconds {
            all.push(Draft::new(Kind::Rest, seconds - count * lasts, "Rest"));
        }
        all
    }

    /// At each mark of the clock something else comes first.
    fn cut_into(
        &self,
        (every_s, from_s): (u32, u32),
        (cuts, goes_on): (&Node, &Node),
        room_s: u32,
    ) -> Option<Vec<Draft>> {
        if every_s == 0 || (room_s / every_s) as usize > MOST {
            return None;
        }
        let mut all = Vec::new();
        if from_s > 0 {
            all.push(self.work(goes_on, from_s.min(room_s), "Work"));
        }
        let cut = self.lines(cuts).join(", ");
        for at in (from_s..room_s).step_by(every_s as usize) {
            let mut draft =
                self.work(goes_on, every_s.min(room_s - at), format!("At {}: {cut}", clock_s(at)));
            draft.cue.insert(0, cut.clone());
            draft.say = format!("{cut}, then go on.");
            all.push(draft);
        }
        Some(all)
    }

    fn work(&self, node: &Node, seconds: u32, title: impl Into<String>) -> Draft {
        let cue = self.lines(node);
        let title = title.into();
        let say = format!("{title}: {}.", cue.join(", "));
        Draft::new(Kind::Work, seconds, title).showing(cue).saying(say)
    }

    fn lines(&self, node: &Node) -> Vec<String> {
        // Its name stands for the whole of it, and says nothing of what is done now.
        if self.part.format == Some(Format::Tabata) {
            return works(node).into_iter().map(|work| work_text(work, self.catalogue)).collect();
        }
        bare_lines(self.part, node, self.catalogue)
    }
}

/// A rising node as it is in one of its intervals, counted from 0.
fn at_rung(node: &Node, n: u32) -> Node {
    match node {
        Node::Ladder { start, step, of } => of.map_work(&mut |work: &Work| {
            let mut work = work.clone();
            if work.dose.amount == Amount::Scheme {
                work.dose.amount = Amount::Fixed { first: f64::from(start + step * n), second: None };
            }
            Node::Work(work)
        }),
        Node::Seq { of } => Node::seq(of.iter().map(|node| at_rung(node, n)).collect()),
        other => other.clone(),
    }
}

fn numbered(draft: Draft, n: u32, of: u32) -> Draft {
    let title = match draft.kind {
        Kind::Rest => draft.title,
        _ => format!("Round {n} of {of}: {}", draft.title),
    };
    Draft { title, ..draft }
}
