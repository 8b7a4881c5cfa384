//! Canonical text of a session; reading it gives the same trees again.
//!
//! One line for what the piece is, one for each movement, and one for each limit, rest, target and
//! score below them.

mod clocks;
mod every_few;
mod lift;

pub use self::lift::week_text;
use std::fmt::Write as _;

use crate::movement::{Catalogue, MovementId, Unit};
use crate::units::{clock_s, plain};
use crate::{Amount, Format, Intent, Node, Part, PartKind, RestAfter, Score, Session, Sharing, Target, Work};

/// The whole day.
pub fn session_text(session: &Session, catalogue: &Catalogue) -> String {
    let mut text = String::new();
    if let Some(title) = &session.title {
        let _ = writeln!(text, "{title}\n");
    }
    let last = session.parts.len().saturating_sub(1);
    let parts = session.parts.iter().enumerate().map(|(n, part)| {
        let rest = rest_text(part).filter(|_| n < last).map(|rest| format!("\n{rest}\n"));
        part_text(part, catalogue) + &rest.unwrap_or_default()
    });
    text + &parts.collect::<Vec<_>>().join("\n")
}

/// The rest that leads from a part to the next, where one is written.
pub fn rest_text(part: &Part) -> Option<String> {
    Some(format!("rest {} before the next part", clock_s(part.then_rest_s?)))
}

/// One part with its heading.
pub fn part_text(part: &Part, catalogue: &Catalogue) -> String {
    let length = part.duration_s.filter(|_| only_the_heading_says_how_long(part));
    let length = length.map(|seconds| format!(" {}", clock_s(seconds))).unwrap_or_default();
    let mut lines = vec![format!("{}{length}", part.kind.heading())];
    let mut printer = Printer { catalogue, lines: &mut lines, scheme: false, rounds: part.rounds };
    printer.team(&part.tree);
    match part.format {
        Some(Format::Sets | Format::BuildTo | Format::Superset | Format::MaxReps) => printer.strength(part),
        Some(Format::Every)
            if (!part.strength.reps.is_empty() || !part.strength.percent.is_empty())
                && !has_shares_in_turn(&part.tree) =>
        {
            printer.piece(part);
            printer.sets_on_a_clock(part);
            printer.strength_facts(part);
        }
        _ => printer.piece(part),
    }
    printer.facts(part);
    for line in &mut lines {
        line.truncate(line.trim_end().len());
    }
    lines.join("\n") + "\n"
}

/// Whether what takes turns on a clock has shares of its own, so that each stands beside its work.
fn has_shares_in_turn(tree: &Node) -> bool {
    let shared = |node: &Node| matches!(node, Node::Work(work) if !work.percent.is_empty());
    matches!(tree, Node::Every { alternate: true, of, .. } if of.iter().any(shared))
}

/// The lines of what is done in a part, with another tree in the place of its own: no heading, and without cap, goal and score, which
/// do not change with the work.
pub fn work_lines(part: &Part, tree: &Node, catalogue: &Catalogue) -> Vec<String> {
    let text = part_text(&only_work(part, tree), catalogue);
    text.lines().skip(1).filter(|line| !line.is_empty()).map(str::to_owned).collect()
}

/// A part with nothing but this work.
pub fn only_work(part: &Part, tree: &Node) -> Part {
    Part {
        tree: tree.clone(),
        cap_s: None,
        target: None,
        score: None,
        intents: Vec::new(),
        alternatives: Vec::new(),
        ..part.clone()
    }
}

/// A lift's time on the floor, and that of a piece whose end is its work.
fn only_the_heading_says_how_long(part: &Part) -> bool {
    let clocked = matches!(part.tree, Node::Within { .. } | Node::Every { .. });
    let lifts =
        matches!(part.format, Some(Format::Sets | Format::BuildTo | Format::Superset | Format::MaxReps));
    !clocked && (lifts || part.format == Some(Format::Quality))
}

/// An intent as the text could say it.
pub fn in_words(intent: &Intent) -> String {
    match intent {
        Intent::SetsAtMost(1) => "unbroken".to_owned(),
        Intent::SetsAtMost(n) => format!("no more than {n} sets"),
        Intent::RepsPerMinute(n) => format!("{} reps a minute", plain(*n)),
        Intent::RoundUnder(s) => format!("each round in under {}", clock_s(*s)),
        Intent::RestLeft(s) => format!("at least {} to spare", clock_s(*s)),
        Intent::Feel(text) => text.clone(),
    }
}

/// A piece of work as a whiteboard line: `12/10 cal row`, `8 dumbbell thruster 2 x 15/10 kg`.
pub fn work_text(work: &Work, catalogue: &Catalogue) -> String {
    let name = catalogue.name(&work.movement).to_lowercase();
    let mut text = match work.dose.amount {
        Amount::Fixed { first, second } => {
            let second = second.map(|n| format!("/{}", plain(n))).unwrap_or_default();
            format!("{}{second}{} {name}", plain(first), work.dose.unit.short())
        }
        Amount::Max => format!("max{} {name}", max_unit(work, catalogue)),
        Amount::Scheme | Amount::Open => format!("{}{name}", scheme_unit(work, catalogue)),
        Amount::Meanwhile => format!("{name} while the other works"),
    };
    if work.dose.per_side {
        text.push_str(" each side");
    }
    if let Some(load) = &work.load {
        let _ = write!(text, ", {load}");
    }
    if work.in_step {
        text.push_str(", synchro");
    }
    text
}

/// The unit of open work, when it is not the movement's own.
fn scheme_unit(work: &Work, catalogue: &Catalogue) -> &'static str {
    let own = catalogue.get(&work.movement).map(|m| m.unit);
    match work.dose.unit {
        Unit::Metres if own == Some(Unit::Calories) => "m ",
        _ => "",
    }
}

fn max_unit(work: &Work, catalogue: &Catalogue) -> &'static str {
    match (work.dose.unit, catalogue.get(&work.movement).map(|m| m.unit)) {
        (Unit::Calories, _) => " calories",
        (Unit::Metres, Some(Unit::Calories)) => " metres",
        _ => "",
    }
}

/// Whether it goes round until the time is up, be it after what is done once.
fn goes_round(of: &Node) -> bool {
    let endless = |node: &Node| matches!(node, Node::Rounds { times: None, .. });
    endless(of) || matches!(of, Node::Seq { of } if of.last().is_some_and(endless))
}

struct Printer<'a> {
    catalogue: &'a Catalogue,
    lines: &'a mut Vec<String>,
    scheme: bool,
    /// The rounds that the part says it has.
    rounds: Option<u32>,
}

/// Longest turn of a list by the clock whose lines take turns though nothing but their numbers says so, in seconds: in a longer one all of them may be done.
pub const LONGEST_TURN_S: u32 = 150;

impl Printer<'_> {
    fn line(&mut self, text: impl Into<String>) {
        self.lines.push(text.into());
    }

    fn team(&mut self, tree: &Node) {
        if let Node::Together { size, sharing, .. } = tree {
            let how = match *sharing {
                Sharing::Freely => "split it any way".to_owned(),
                Sharing::Rounds => "alternating rounds".to_owned(),
                Sharing::InTurns { each, unit } => format!(
                    "switch every {each} {}",
                    if unit == Unit::Reps { "reps" } else { unit.short().trim_start() }
                ),
                Sharing::Held => "one works while the others hold".to_owned(),
                Sharing::Stations => "one at each station, all move on together".to_owned(),
                Sharing::Together => "synchro".to_owned(),
            };
            self.line(format!("Teams of {size}, {how}"));
        }
    }

    fn piece(&mut self, part: &Part) {
        let tree = match &part.tree {
            Node::Together { of, .. } => of,
            tree => tree,
        };
        let (tree, interrupt, penalty) = unwrap_breaks(tree);
        match part.format {
            Some(Format::ForTime) => self.line("For time"),
            Some(Format::Quality) => self.line("For quality"),
            Some(Format::Tabata) => self.line("Tabata"),
            _ => {}
        }
        match tree {
            Node::Within { seconds, of } if part.format == Some(Format::Amrap) => {
                self.line(format!("AMRAP {}", clock_s(*seconds)));
                self.amrap(of);
            }
            Node::Within { seconds, of } => {
                self.line(clock_s(*seconds));
                self.body(of);
            }
            Node::Every { .. } => self.every(tree),
            _ if matches!(part.format, Some(Format::Tabata)) => self.tabata(tree),
            Node::Rounds { times: Some(n), rest_s: Some(rest), of }
                if matches!(**of, Node::Within { .. }) =>
            {
                if let Node::Within { seconds, of } = &**of {
                    if goes_round(of) {
                        let rest = clock_s(*rest);
                        self.line(format!("{n} x {} AMRAP, {rest} rest between", clock_s(*seconds)));
                        self.amrap(of);
                    } else {
                        self.line(format!("{n} x {} on, {} off", clock_s(*seconds), clock_s(*rest)));
                        match &**of {
                            // What nobody counts needs no "max".
                            Node::Work(work) if part.score.is_none() && work.dose.amount == Amount::Max => {
                                let text = self.open_text(work);
                                self.line(text);
                            }
                            of => self.body(of),
                        }
                    }
                }
            }
            Node::Rounds { times: Some(n), rest_s, of } if is_stations(of) => self.stations(*n, *rest_s, of),
            _ => {
                if let (Some(seconds), None) = (part.duration_s, part.format) {
                    self.line(clock_s(seconds));
                }
                self.body(tree);
            }
        }
        if let Some((every_s, from_s, work)) = interrupt {
            let work = self.joined(work);
            self.line(format!(
                "at the start of every {}, beginning at {}, stop and do {work}",
                clock_s(every_s),
                clock_s(from_s)
            ));
        }
        if let Some(work) = penalty {
            let work = self.joined(work);
            self.line(format!("every time you break: {work}"));
        }
    }

    /// Works in one line, joined by plus signs.
    fn joined(&self, node: &Node) -> String {
        if let Node::Seq { of } = node {
            let all = of.iter().map(|node| self.joined(node)).filter(|text| !text.is_empty());
            return all.collect::<Vec<_>>().join(" + ");
        }
        if let Node::Within { seconds, of } = node
            && is_most(of)
        {
            return format!("{} {}", clock_s(*seconds), self.joined(of));
        }
        let works = crate::works(node);
        works.iter().map(|work| work_text(work, self.catalogue)).collect::<Vec<_>>().join(" + ")
    }

    fn body(&mut self, node: &Node) {
        if self.every_few(node) {
            return;
        }
        match node {
            Node::Seq { of } if self.between(of) => {}
            Node::Seq { of } => {
                let mut after_rounds = false;
                for child in of {
                    let repeats =
                        matches!(child, Node::Rounds { .. } | Node::Scheme { .. } | Node::Ladder { .. });
                    if after_rounds && !repeats {
                        let place = self.lines.len();
                        self.body(child);
                        if let Some(line) = self.lines.get_mut(place) {
                            *line = format!("then {line}");
                        }
                        after_rounds = false;
                    } else if let Some((times, round)) =
                        of.first().and_then(|first| self.circle(first, child))
                    {
                        self.line(times);
                        self.line(round);
                        after_rounds = true;
                    } else {
                        self.body(child);
                        after_rounds |= repeats;
                    }
                }
            }
            Node::Work(work) => {
                let share = lift::shares_text(&work.percent).map(|share| format!(" {share}"));
                self.line(work_text(work, self.catalogue) + &share.unwrap_or_default());
            }
            Node::Rest { seconds: Some(seconds) } => self.line(format!("rest {}", clock_s(*seconds))),
            Node::Rest { seconds: None } => self.line("rest"),
            Node::Rounds { times: Some(n), rest_s, of } => {
                self.line(format!("{n} rounds"));
                self.body(of);
                if let Some(rest) = rest_s {
                    self.line(format!("rest {} between rounds", clock_s(*rest)));
                }
            }
            Node::Rounds { times: None, of, .. } => match &**of {
                // In a line of its own below the work it would lead to the next part.
                Node::Seq { of } if let [work @ .., Node::Rest { seconds: Some(rest) }] = &of[..] => {
                    work.iter().for_each(|node| self.body(node));
                    self.line(format!("rest {} between rounds", clock_s(*rest)));
                }
                of => self.body(of),
            },
            Node::Scheme { reps, of, rest_s } => {
                self.line(lift::listed(reps));
                let scheme = std::mem::replace(&mut self.scheme, true);
                self.body(of);
                self.scheme = scheme;
                if let Some(rest) = rest_s {
                    self.line(format!("rest {} between rounds", clock_s(*rest)));
                }
            }
            Node::Ladder { start, step, of } => {
                let rungs: Vec<String> = (0..3).map(|n| (start + n * step).to_string()).collect();
                self.line(format!("{}-...", rungs.join("-")));
                self.body(of);
            }
            Node::Within { seconds, of } if is_most(of) => {
                let place = self.lines.len();
                self.body(of);
                self.lines[place].insert_str(0, &format!("{} ", clock_s(*seconds)));
            }
            Node::Within { of, .. } | Node::Together { of, .. } => self.body(of),
            Node::Every { .. } => self.every(node),
            Node::Interrupt { of, .. } | Node::Penalty { of, .. } => self.body(of),
        }
    }

    /// Rounds or rungs with work that stands between them only, so that the last is without it; says whether it is that. Five rounds
    /// and the same once more are no six.
    fn between(&mut self, of: &[Node]) -> bool {
        let (header, round, last) = match of {
            [Node::Rounds { times: Some(times), rest_s: None, of }, last @ ..]
                if self.rounds == Some(times + 1) =>
            {
                (format!("{} rounds", times + 1), of, last)
            }
            [
                Node::Scheme { reps, rest_s: None, of },
                Node::Scheme { reps: more, rest_s: None, of: last },
            ] if more.len() == 1 => {
                (lift::listed(&[&reps[..], more].concat()), of, std::slice::from_ref(&**last))
            }
            _ => return false,
        };
        let flat = |nodes: &[Node]| -> Vec<Node> {
            nodes
                .iter()
                .flat_map(|node| if let Node::Seq { of } = node { of.clone() } else { vec![node.clone()] })
                .collect()
        };
        let (round, last) = (flat(std::slice::from_ref(round)), flat(last));
        let work = |node: &Node| matches!(node, Node::Work(_));
        if last.is_empty()
            || round.len() <= last.len()
            || !round.starts_with(&last)
            || !round.iter().all(work)
        {
            return false;
        }
        self.line(header);
        let scheme = std::mem::replace(&mut self.scheme, matches!(of[0], Node::Scheme { .. }));
        last.iter().for_each(|node| self.body(node));
        self.scheme = scheme;
        let between = Node::seq(round[last.len()..].to_vec());
        self.line(format!("between the rounds: {}", self.joined(&between)));
        true
    }

    /// Rounds that end with what stands before them, in one line: in lines of its own it would be done once more at the end.
    fn circle(&self, first: &Node, rounds: &Node) -> Option<(String, String)> {
        let Node::Rounds { times: Some(n), rest_s: None, of } = rounds else { return None };
        let Node::Seq { of: round } = &**of else { return None };
        let plain = round.iter().all(|node| matches!(node, Node::Work(_)));
        (plain && round.last() == Some(first)).then(|| (format!("{n} rounds"), self.joined(of)))
    }

    fn amrap(&mut self, of: &Node) {
        let Node::Seq { of: children } = of else { return self.body(of) };
        let endless = |n: &Node| matches!(n, Node::Rounds { times: None, .. } | Node::Ladder { .. });
        let Some(endless) = children.iter().position(endless) else { return self.body(of) };
        for (n, child) in children.iter().enumerate() {
            if n < endless {
                let place = self.lines.len();
                self.body(child);
                if let Some(line) = self.lines.get_mut(place) {
                    *line = format!("Buy-in: {line}");
                }
            } else {
                if n == endless && n > 0 {
                    self.line("then");
                }
                self.body(child);
            }
        }
    }

    fn facts(&mut self, part: &Part) {
        let rest_in_tree =
            !matches!(part.format, Some(Format::Sets | Format::BuildTo | Format::Superset | Format::MaxReps));
        if let Some(rest) = part.rest.filter(|rest| !rest_in_tree && rest.after == RestAfter::Each) {
            let length = if rest.low_s == rest.high_s {
                clock_s(rest.low_s)
            } else {
                format!("{} - {}", clock_s(rest.low_s), clock_s(rest.high_s))
            };
            self.line(format!("rest {length} between sets"));
        }
        if let Some(cap) = part.cap_s {
            self.line(format!("cap {}", clock_s(cap)));
        }
        let is_piece = matches!(part.kind, PartKind::Conditioning | PartKind::Home | PartKind::Skill);
        // On a clock they stand among what is told of its sets, and where each has its own beside the work.
        let told = part.format == Some(Format::Every)
            || crate::works(&part.tree).iter().any(|work| !work.percent.is_empty());
        if is_piece
            && !told
            && let Some(shares) = lift::shares_text(&part.strength.percent)
        {
            self.line(format!("{shares}{}", self.share_of(&part.strength)));
        }
        if let Some(target) = part.target {
            let slowest = part.score == Some(Score::SlowestInterval);
            if let Some(text) = target_text(&target) {
                self.line(match (slowest, target.high_s) {
                    (true, Some(high)) => format!("each round in under {}", clock_s(high)),
                    _ => format!("goal: {text}"),
                });
            }
        }
        for intent in &part.intents {
            let text = in_words(intent);
            self.line(text);
        }
        match (part.score, counted(part)) {
            (Some(Score::Reps), Some(id)) => {
                self.line(format!("score: total {}", self.catalogue.name(id).to_lowercase()));
            }
            (Some(score), _) => self.line(format!("score: {}", score.name())),
            (None, _) => {}
        }
        // What was written on one line stays on one: the sign in front of the first is that of the others.
        for line in part.alternatives.chunk_by(|a, b| a.line == b.line) {
            let texts: Vec<&str> = line.iter().map(|alternative| alternative.text.as_str()).collect();
            self.line(texts.join("; "));
        }
    }
}

/// The target in words: `9:00 - 14:00`, `under 7:00`, `5-6 rounds`.
/// The one movement whose repetitions are the score, where others are counted too, but not for it.
fn counted(part: &Part) -> Option<&MovementId> {
    let all = crate::works(&part.tree);
    let mut of_it = all.iter().filter(|work| !work.uncounted).map(|work| &work.movement);
    let first = of_it.next()?;
    let beside = all.iter().any(|work| work.uncounted && work.dose.unit != Unit::Metres);
    (beside && of_it.all(|movement| movement == first)).then_some(first)
}

fn target_text(target: &Target) -> Option<String> {
    let band = |low: Option<String>, high: Option<String>, what: &str| match (low, high) {
        (Some(low), Some(high)) => Some(format!("{low}-{high}{what}")),
        (Some(low), None) => Some(format!("at least {low}{what}")),
        (None, Some(high)) => Some(format!("under {high}{what}")),
        (None, None) => None,
    };
    band(target.low_s.map(clock_s), target.high_s.map(clock_s), "")
        .or_else(|| band(target.rounds_low.map(plain), target.rounds_high.map(plain), " rounds"))
        .or_else(|| {
            band(target.reps_low.map(|n| n.to_string()), target.reps_high.map(|n| n.to_string()), " reps")
        })
}

/// As much as possible of one thing.
fn is_most(node: &Node) -> bool {
    matches!(node, Node::Work(work) if work.dose.amount == Amount::Max)
}

fn is_stations(node: &Node) -> bool {
    let Node::Seq { of } = node else { return false };
    let lengths = |node: &Node| if let Node::Within { seconds, .. } = node { Some(*seconds) } else { None };
    let mut windows = of.iter().filter_map(lengths);
    let first = windows.next();
    first.is_some()
        && windows.all(|seconds| Some(seconds) == first)
        && of.iter().all(|node| matches!(node, Node::Within { .. } | Node::Rest { .. }))
}

/// Seconds between marks, seconds to the first, and the work that cuts in.
type CutIn<'a> = (u32, u32, &'a Node);

/// A tree with what cuts into it, the way it was written.
fn unwrap_breaks(tree: &Node) -> (&Node, Option<CutIn<'_>>, Option<&Node>) {
    match tree {
        Node::Penalty { work, of } => {
            let (tree, interrupt, _) = unwrap_breaks(of);
            (tree, interrupt, Some(work))
        }
        Node::Interrupt { every_s, from_s, work, of } => (of, Some((*every_s, *from_s, work)), None),
        Node::Within { of, .. } if matches!(**of, Node::Interrupt { .. } | Node::Penalty { .. }) => {
            let (_, interrupt, penalty) = unwrap_breaks(of);
            (tree, interrupt, penalty)
        }
        tree => (tree, None, None),
    }
}
