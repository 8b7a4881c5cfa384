//! The tree of a conditioning piece, a warm-up or a list.

use super::groups::{Grouped, Repeat, interrupted, wrap};
use super::rising::{movement_of, rising, rising_start, rung_by_rung, stays_the_same};
use super::teams::{each_alone, each_does, one_at_each};
use super::{FIXED_WORK_SHARE, INTERVAL_SHARE, LONGEST_PIECE_S, Shaper, TABATA};
use crate::facts::{Facts, Step, StepKind};
use crate::label::Label;
use lantern_session::Assumption;
use lantern_session::movement::{MovementId, Unit};
use lantern_session::text::LONGEST_TURN_S;
use lantern_session::units::clock_s;
use lantern_session::{Amount, Format, Node, Part, PartKind, Rest, RestAfter, Score, Sharing, Work, works};

/// The tree of a piece that is scored in repetitions, with what does not count marked: of a named movement all others; where as much as
/// possible of one thing comes after fixed work of others and nobody says what counts, that one thing; of calories or metres nothing else; of all
/// repetitions the metres on the way.
fn only_what_counts(tree: &Node, facts: &Facts) -> Node {
    let all = works(tree);
    let as_many = |work: &&&Work| work.dose.amount == Amount::Max;
    let open: Vec<&MovementId> = all.iter().filter(as_many).map(|work| &work.movement).collect();
    let among = |id: &MovementId| all.iter().any(|work| work.movement == *id);
    let named = facts.counted.as_ref().filter(|id| among(id));
    let unsaid = facts.score.is_none() && !open.is_empty() && open.len() < all.len();
    let is_way = |work: &Work| work.dose.unit == Unit::Metres && work.dose.amount != Amount::Max;
    let only_ways = all.iter().all(|work| is_way(work));
    let open_in = |unit: Unit| all.iter().any(|work| work.dose.unit == unit && !is_way(work));
    let counted_in = facts.counted_in.filter(|unit| open_in(*unit));
    let counts = |work: &Work| match named {
        Some(id) => work.movement == *id,
        None if unsaid => open.contains(&&work.movement),
        None if counted_in.is_some() => counted_in == Some(work.dose.unit) && !is_way(work),
        None => only_ways || !is_way(work),
    };
    tree.map_work(&mut |work| Node::Work(Work { uncounted: !counts(work), ..work.clone() }))
}

impl Shaper<'_> {
    pub(super) fn shape_piece(&mut self, facts: &Facts, part: &mut Part) {
        let mut grouped = self.group(facts, part.kind);
        self.rest_as_work(facts, &mut grouped, part);
        part.format = self.format(facts, &grouped, part.kind);
        if part.format.is_none() && part.kind == PartKind::Conditioning && self.goes_round(facts, &grouped) {
            part.format = Some(Format::Amrap);
            self.guess(
                facts,
                "nothing says how this is run, and once through fills less than half of its time: taken as gone \
                 round as often as it goes"
                    .to_owned(),
            );
        }
        if facts.for_time && part.format == Some(Format::ForTime) && part.kind == PartKind::Conditioning {
            // "For time. You have 15 minutes."
            part.cap_s = part.cap_s.or(part.duration_s.take());
        }
        if part.format == Some(Format::ForTime) && self.is_fixed_work_in_a_length(facts, &grouped) {
            part.cap_s = part.cap_s.or(part.duration_s.take());
        }
        let counted: Vec<u32> = grouped
            .groups
            .iter()
            .filter_map(|group| match group.repeats.first() {
                Some(Repeat::Rounds(n)) => Some(*n),
                _ => None,
            })
            .collect();
        part.rounds = if let [only] = counted[..] { Some(only) } else { None };
        if matches!(
            part.kind,
            PartKind::Accessory | PartKind::Warmup | PartKind::Mobility | PartKind::Skill | PartKind::Home
        ) {
            let first_sets = facts.items().find_map(|item| item.sets);
            // "4 x 25 s plank": rounds of one thing are sets of it.
            let of_one = part.rounds.filter(|_| {
                part.kind == PartKind::Accessory && !facts.has_format() && facts.items().count() == 1
            });
            part.strength.sets = facts.sets.or(first_sets).or(of_one);
        }
        part.strength.percent.clone_from(&facts.strength.percent);
        let tree = match part.format {
            Some(Format::Amrap) => self.amrap(facts, grouped, part),
            Some(Format::Tabata | Format::Intervals) if facts.on_off.is_some() || facts.tabata => {
                self.on_off(facts, grouped, part)
            }
            Some(Format::Every | Format::UntilFailure) => self.every(facts, grouped, part),
            _ => {
                let tree = wrap(grouped, Node::seq);
                match (part.duration_s, part.format) {
                    (Some(seconds), None) if part.kind == PartKind::Conditioning => {
                        Node::Within { seconds, of: Box::new(tree) }
                    }
                    _ => tree,
                }
            }
        };
        if let (Node::Within { seconds, of }, None) = (&tree, part.format)
            && matches!(&**of, Node::Work(work) if work.dose.amount == Amount::Max)
        {
            // "3 min max push-ups": a window with one kind of work, as much as goes in.
            part.format = Some(Format::Amrap);
            part.duration_s = Some(*seconds);
            part.score = part.score.or(Some(Score::Reps));
        }
        let bouts = matches!(part.format, Some(Format::Tabata | Format::Intervals));
        let between_sets =
            part.kind == PartKind::Accessory && part.strength.sets.is_some() && rests_between(&tree);
        if between_sets && let Some(rest) = &mut part.rest {
            rest.after = RestAfter::Each;
        }
        if !bouts && part.rest.is_some_and(|r| r.after == RestAfter::Here) {
            // A rest at one place is a step of the work, or leads to the next part; it is not the rest of
            // the piece.
            part.rest = None;
        }
        if part.format == Some(Format::Tabata) && part.score == Some(Score::SlowestInterval) {
            // The worst round of a tabata is the one with the fewest repetitions.
            part.score = Some(Score::Reps);
        }
        if part.format == Some(Format::Intervals)
            && part.work_s.is_none()
            && let [work] = works(&tree)[..]
            && work.dose.unit == Unit::Seconds
        {
            // "3 x 2:40 row": the work is as long as it says.
            part.work_s = work.dose.first().map(|seconds| seconds as u32);
        }
        let size = part.team_size;
        let tree = if facts.each_person && size > 1 { each_does(tree, size) } else { tree };
        part.tree = if size > 1 {
            let told = facts.sharing.unwrap_or(if one_at_each(facts, size) {
                Sharing::Stations
            } else {
                Sharing::Freely
            });
            let all = works(&tree);
            let all_in_step = !all.is_empty() && all.iter().all(|work| work.in_step);
            let sharing = if all_in_step { Sharing::Together } else { told };
            let tree = if sharing.splits_work() { tree } else { each_alone(&tree) };
            Node::Together { size, sharing, of: Box::new(tree) }
        } else {
            each_alone(&tree)
        };
        part.score = part.score.or(match part.format {
            Some(Format::ForTime) => Some(Score::Time),
            Some(Format::Amrap) if self.counts_reps(facts) => Some(Score::Reps),
            Some(Format::Amrap | Format::UntilFailure) => Some(Score::RoundsReps),
            Some(Format::Quality) => Some(Score::None),
            _ if facts.counted_in.is_some() && facts.items().any(|item| item.max) => Some(Score::Reps),
            Some(Format::Intervals) if facts.items().any(|item| item.max) => Some(Score::Reps),
            _ => None,
        });
        if part.score == Some(Score::Reps) {
            part.tree = only_what_counts(&part.tree, facts);
        }
    }

    /// Whether an AMRAP without a written score is counted in repetitions: ladders and open last work.
    pub(super) fn counts_reps(&self, facts: &Facts) -> bool {
        let mut items = facts.items();
        // "AMRAP 7: burpees": one movement without a number is counted as it comes.
        let one = items.next().is_some_and(|item| item.amount.is_none()) && items.next().is_none();
        one || facts.items().any(|item| item.max)
            || facts.steps.iter().any(|step| matches!(step.what, StepKind::Scheme { open: Some(_), .. }))
    }

    pub(super) fn amrap(&mut self, facts: &Facts, mut grouped: Grouped, part: &mut Part) -> Node {
        let seconds = facts.amrap.flatten().or(facts.duration_s);
        part.duration_s = seconds;
        if let Some(step) = facts.add_each {
            for group in grouped.groups.iter_mut().filter(|group| !group.once && group.repeats.is_empty()) {
                let start = rising_start(&mut group.nodes);
                group.repeats.push(Repeat::Ladder(start, step));
            }
        }
        let mut seq = Vec::new();
        let interrupt = grouped.interrupt.take();
        let penalty = grouped.penalty.take();
        for group in grouped.groups {
            let open_end = group
                .nodes
                .iter()
                .any(|node| matches!(node, Node::Work(work) if work.dose.amount == Amount::Max));
            let endless = group.repeats.is_empty() && !group.once && !open_end;
            let ladder = group.repeats.iter().any(|repeat| matches!(repeat, Repeat::Ladder(..)));
            if endless {
                let mut nodes = group.nodes;
                if let Some((few, work)) = group.every_few.filter(|(_, work)| !work.is_empty()) {
                    let of = Box::new(Node::seq(nodes));
                    nodes = [vec![Node::Rounds { times: Some(few), rest_s: None, of }], work].concat();
                }
                nodes.extend(group.rest_s.map(|seconds| Node::Rest { seconds: Some(seconds) }));
                let of = Box::new(Node::seq(nodes));
                seq.push(Node::Rounds { times: None, rest_s: None, of });
            } else if ladder {
                let (start, step) = group
                    .repeats
                    .iter()
                    .find_map(|repeat| if let Repeat::Ladder(a, b) = repeat { Some((*a, *b)) } else { None })
                    .unwrap_or((1, 1));
                let mut nodes = group.nodes;
                nodes.extend(group.after_each);
                seq.push(Node::Ladder { start, step, of: Box::new(Node::seq(nodes)) });
            } else {
                seq.push(group.node());
            }
        }
        let of = interrupted(Node::seq(seq), interrupt, penalty);
        Node::Within { seconds: seconds.unwrap_or(0), of: Box::new(of) }
    }

    pub(super) fn on_off(&mut self, facts: &Facts, grouped: Grouped, part: &mut Part) -> Node {
        let (times, work_s, rest_s) = facts.on_off.unwrap_or((None, TABATA.0, TABATA.1));
        let rounds = grouped.groups.iter().find_map(|g| match g.repeats.first() {
            Some(Repeat::Rounds(n)) => Some(*n),
            _ => None,
        });
        part.work_s = Some(work_s);
        let long_rest = part.rest.filter(|rest| rest.low_s != rest_s).map(|rest| rest.low_s);
        part.rest =
            Some(Rest::of(if rest_s == 0 { long_rest.unwrap_or(0) } else { rest_s }, RestAfter::Each))
                .filter(|rest| rest.low_s > 0);
        let mut groups = grouped.groups;
        // "Run 200 m, then as many rounds as you can": in each bout the run comes first, once.
        let first = match &mut groups[..] {
            [first, _, ..] if first.once && (facts.amrap.is_some() || facts.bouts.is_some()) => {
                std::mem::take(&mut first.nodes)
            }
            _ => Vec::new(),
        };
        let mut nodes: Vec<Node> = groups
            .into_iter()
            .flat_map(|group| group.nodes)
            // A rest without a length is a station that everybody rests at; the one behind all others lies between rounds.
            .filter(|node| matches!(node, Node::Work(_) | Node::Rest { seconds: None }))
            .collect();
        let window = |of: Node| Node::Within { seconds: work_s, of: Box::new(of) };
        let open = |node: &Node| matches!(node, Node::Work(work) if work.dose.amount == Amount::Max);
        if part.format == Some(Format::Tabata) {
            let count = times.or(rounds).unwrap_or(TABATA.2);
            let things = nodes.len() as u32;
            if facts.alternating && things > 1 && long_rest.is_none() && count.is_multiple_of(things) {
                // "Tabata, alternating this and that": its intervals are of all of them together.
                part.rounds = Some(count / things);
                let rest = Node::Rest { seconds: Some(rest_s) };
                let round = nodes.into_iter().flat_map(|node| [window(node), rest.clone()]).collect();
                return Node::Rounds { times: part.rounds, rest_s: None, of: Box::new(Node::seq(round)) };
            }
            part.rounds = Some(count);
            let mut seq = Vec::new();
            for (n, node) in nodes.into_iter().enumerate() {
                if n > 0
                    && let Some(seconds) = long_rest
                {
                    seq.push(Node::Rest { seconds: Some(seconds) });
                }
                seq.push(Node::Rounds {
                    times: Some(count),
                    rest_s: Some(rest_s),
                    of: Box::new(window(node)),
                });
            }
            return Node::seq(seq);
        }
        let rests = |node: &Node| matches!(node, Node::Rest { .. });
        if nodes.last().is_some_and(rests) {
            nodes.pop();
        }
        let open_stations = nodes.len() > 1 && nodes.iter().all(|node| open(node) || rests(node));
        // "12 min, 40 s on, 20 s off" of one thing is as many as go into it.
        let fills = part.duration_s.filter(|_| nodes.len() == 1).map(|s| s / (work_s + rest_s).max(1));
        let count = times.or(rounds).or(fills.filter(|n| *n > 1));
        part.rounds = part.rounds.or(count);
        if open_stations {
            let mut round: Vec<Node> = Vec::new();
            for node in nodes {
                let rests = rests(&node);
                round.push(if rests { Node::Rest { seconds: Some(work_s + rest_s) } } else { window(node) });
                if rest_s > 0 && !rests {
                    round.push(Node::Rest { seconds: Some(rest_s) });
                }
            }
            // "4 on, 1 off, x 5" above five stations is once round them.
            let stations = round.iter().filter(|node| !matches!(node, Node::Rest { .. })).count() as u32;
            let once_round = times.filter(|n| {
                n.is_multiple_of(stations) && all_together(*n, stations, work_s + rest_s) > LONGEST_PIECE_S
            });
            // "40 s on, 20 s off for 12 min" over three stations is four times round them.
            let lasts = facts.on_off_lasts_s.filter(|_| rounds.is_none());
            let by_length =
                lasts.and_then(|all_s| self.times_round(facts, all_s, (stations, work_s + rest_s)));
            let once_round = once_round.filter(|_| by_length.is_none());
            if rounds.is_none()
                && let Some(n) = once_round
            {
                self.guess(
                    facts,
                    format!("{n} intervals over {stations} stations: taken as those of all of them together"),
                );
            }
            let told = rounds.or(by_length).or(once_round.map(|n| n / stations)).or(times);
            let mut rounds = told
                .or_else(|| self.times_round(facts, part.duration_s?, (stations, work_s + rest_s)))
                .unwrap_or(1);
            part.rounds = Some(rounds);
            if facts.steps.iter().any(|step| matches!(step.label, Label::Odd(_))) {
                // Odd and even rounds take turns: two of them are one time through.
                rounds = (rounds / 2).max(1);
            }
            part.score = part.score.or(Some(Score::Reps));
            return Node::Rounds { times: Some(rounds), rest_s: long_rest, of: Box::new(Node::seq(round)) };
        }
        if let (Some(turns), Some(count)) = (stations(facts, &nodes), count)
            && (count as usize).is_multiple_of(turns.len())
        {
            // "A: ...", "B: ...": the intervals take turns.
            let times = count / turns.len() as u32;
            let open = facts.bouts.is_some() && part.score == Some(Score::RoundsReps);
            let mut round: Vec<Node> = Vec::new();
            for node in turns {
                // "3 x AMRAP 5" above three lists: as often as it goes of each.
                let again = |of: Node| Node::Rounds { times: None, rest_s: None, of: Box::new(of) };
                let node = if open { again(node) } else { node };
                round.extend([window(node), Node::Rest { seconds: Some(rest_s) }]);
            }
            // Each once: the last of them ends it.
            round.truncate(if times == 1 { round.len() - 1 } else { round.len() });
            return Node::Rounds { times: Some(times), rest_s: None, of: Box::new(Node::seq(round)) };
        }
        // Work that fills less than half of each bout is gone round again and again.
        let seconds: Option<f64> = nodes.iter().map(|node| self.work_seconds(node)).sum();
        let fixed = nodes.len() > 1 && !nodes.iter().any(open);
        let said = part.score.is_some() || facts.amrap.is_some();
        if fixed && !said && seconds.is_some_and(|seconds| seconds < f64::from(work_s) * FIXED_WORK_SHARE) {
            part.score = Some(Score::RoundsReps);
            self.guess(
                facts,
                "the work fills less than half of its time: taken as gone round again and again".to_owned(),
            );
        }
        let mut of = Node::seq(nodes);
        if facts.amrap.is_some() && !facts.items().any(|item| item.max) {
            part.score = part.score.or(Some(Score::RoundsReps));
        }
        let bouts = facts.bouts.is_some() || facts.amrap.is_some();
        if (bouts || fixed) && part.score == Some(Score::RoundsReps) {
            of = Node::Rounds { times: None, rest_s: None, of: Box::new(of) };
        }
        if !first.is_empty() {
            of = Node::seq(first.into_iter().chain([of]).collect());
        }
        // "3 x 8:00", and below it "rest 2:00 between".
        let between = if rest_s == 0 { long_rest.unwrap_or(0) } else { rest_s };
        Node::Rounds { times: Some(count.unwrap_or(1)), rest_s: Some(between), of: Box::new(window(of)) }
    }

    pub(super) fn every(&mut self, facts: &Facts, mut grouped: Grouped, part: &mut Part) -> Node {
        let (interval_s, times, total_s) = facts.every.unwrap_or((60, None, None));
        part.interval_s = Some(interval_s);
        let interrupt = grouped.interrupt.take();
        let rounds = grouped.groups.iter().find_map(|g| match g.repeats.first() {
            Some(Repeat::Rounds(n)) => Some(*n),
            _ => None,
        });
        let ladder = grouped.groups.iter().find_map(|g| match g.repeats.first() {
            Some(Repeat::Ladder(a, b)) => Some((*a, *b)),
            _ => None,
        });
        // "+2 each minute, start with 4" in a line below the work.
        let rises = facts.steps.iter().find_map(|step| match &step.what {
            StepKind::Scheme { reps, open: Some(step) } => Some((*reps.first()?, *step)),
            _ => None,
        });
        let rises = rises.or_else(|| rung_by_rung(&facts.in_minutes));
        let ladder = ladder.or(rises.filter(|_| facts.until_failure));
        let scheme = grouped.groups.iter().find_map(|g| match g.repeats.first() {
            Some(Repeat::Scheme(reps)) => Some(reps.clone()),
            _ => None,
        });
        let mut nodes: Vec<Node> = grouped.groups.into_iter().flat_map(|group| group.nodes).collect();
        // "odd:" and "even:", and stations by name, take turns however long they are; so does whatever one of them rests in.
        let counted = facts.steps.iter().any(|step| matches!(step.label, Label::Odd(_) | Label::Station(_)));
        let rests = nodes.iter().any(|node| matches!(node, Node::Rest { seconds: None }));
        let too_much = self.is_too_much(&nodes, interval_s);
        let in_turn = stations(facts, &nodes)
            .filter(|_| counted || rests || too_much || facts.in_turn || interval_s <= LONGEST_TURN_S)
            .or_else(|| taking_turns(facts, &nodes));
        let rises = facts.rises || ladder.is_some() || facts.add_each.is_some() || !stays_the_same(&nodes);
        if part.format == Some(Format::UntilFailure) && !rises {
            if part.cap_s.or(part.duration_s).is_none_or(|s| s <= interval_s) {
                part.rounds = None;
                return Node::Every { interval_s, times: None, alternate: false, of: vec![Node::seq(nodes)] };
            }
            // "For as long as you can, at most 20 minutes" is a clock of that length: who holds it fails in none of its rounds.
            part.format = Some(Format::Every);
        }
        if part.format == Some(Format::UntilFailure) {
            let (start, step) = ladder.unwrap_or_else(|| rising(&nodes, facts.add_each));
            if let Some(first) = nodes.first().cloned() {
                let same = nodes.iter().all(|node| movement_of(node) == movement_of(&first));
                if same {
                    nodes.truncate(1);
                }
            }
            for node in &mut nodes {
                if let Node::Work(work) = node
                    && (ladder.is_some()
                        || matches!(work.dose.amount, Amount::Fixed { first, .. } if first == f64::from(start))
                        || work.dose.amount == Amount::Open)
                {
                    work.dose.amount = Amount::Scheme;
                }
            }
            part.rounds = None;
            let of = vec![Node::Ladder { start, step, of: Box::new(Node::seq(nodes)) }];
            let rising = Node::Every { interval_s, times: None, alternate: false, of };
            return match part.cap_s.or(part.duration_s).filter(|limit| *limit > interval_s) {
                Some(seconds) => Node::Within { seconds, of: Box::new(rising) },
                None => rising,
            };
        }
        let alternate = in_turn.is_some() || self.alternates(facts, &nodes, interval_s);
        nodes = in_turn.unwrap_or(nodes);
        let first = facts.steps.iter().find(|step| matches!(step.what, StepKind::Item(_)));
        if alternate && nodes.len() == 2 && first.is_some_and(|step| step.label == Label::Odd(false)) {
            // The even minutes are written first and come second.
            nodes.reverse();
        }
        let stations = nodes.len() as u32;
        let length = total_s
            .or(part.duration_s.filter(|s| *s > interval_s))
            .or(part.cap_s.filter(|s| *s > interval_s && times.is_none()));
        // "EMOM x 5 rounds" of four minutes goes round them five times.
        // Odd and even rounds are counted one by one.
        let by_ones = facts.steps.iter().any(|step| matches!(step.label, Label::Odd(_)));
        let round = times
            .filter(|_| facts.times_round && alternate && !by_ones)
            .filter(|n| {
                let seconds = all_together(*n, stations, interval_s);
                seconds <= LONGEST_PIECE_S && part.duration_s.is_none_or(|total| total == seconds)
            })
            .map(|n| n * stations);
        let times = round
            .or(times)
            .or(length.map(|total| total / interval_s.max(1)))
            .or(facts.items().find_map(|item| item.sets))
            .or(rounds.map(|n| if alternate { n * stations } else { n }))
            .or(facts.sets)
            .or(scheme.as_ref().map(|reps| reps.len() as u32));
        if !alternate || stations <= 2 {
            part.rounds = part.rounds.or(times);
        }
        part.duration_s = times.map(|n| n * interval_s).or(length);
        if part.cap_s == part.duration_s {
            part.cap_s = None;
        }
        if let (Some(step), false) = (facts.add_each, alternate) {
            let start = rising_start(&mut nodes);
            let of = vec![Node::Ladder { start, step, of: Box::new(Node::seq(nodes)) }];
            return Node::Every { interval_s, times, alternate: false, of };
        }
        let of = if alternate { nodes } else { vec![Node::seq(nodes)] };
        interrupted(Node::Every { interval_s, times, alternate, of }, interrupt, None)
    }

    /// Whether the entries take turns: numbered stations, odd and even minutes, or a list that cannot
    /// fit one interval together.
    pub(super) fn alternates(&mut self, facts: &Facts, nodes: &[Node], interval_s: u32) -> bool {
        if nodes.len() < 2 {
            return false;
        }
        // "Change machines every 10 min: row, bike, ski"
        if facts.in_turn && facts.items().all(|item| item.amount.is_none()) {
            return true;
        }
        let lines: Vec<usize> =
            facts.steps.iter().filter(|s| matches!(s.what, StepKind::Item(_))).map(|s| s.line).collect();
        let labels: Vec<&Label> = facts
            .steps
            .iter()
            .filter(|step| matches!(step.what, StepKind::Item(_) | StepKind::RestOpen) && step.starts_line)
            .map(|step| &step.label)
            .collect();
        if nodes.iter().any(|node| matches!(node, Node::Rest { seconds: None })) {
            return true;
        }
        let numbered = labels
            .iter()
            .filter(|label| {
                matches!(
                    label,
                    Label::Number(_)
                        | Label::Minute(_)
                        | Label::Station(_)
                        | Label::Odd(_)
                        | Label::Letter(..)
                )
            })
            .count();
        let odd = labels.iter().any(|label| matches!(label, Label::Odd(_) | Label::Station(_)));
        let turns = odd || interval_s <= LONGEST_TURN_S || self.is_too_much(nodes, interval_s);
        if numbered >= 2 && numbered == nodes.len() && turns {
            return true;
        }
        let one_a_line = lines.windows(2).all(|pair| pair[0] != pair[1]);
        let joined = facts.items().any(|item| item.joined);
        let seconds = self.seconds_together(nodes);
        let too_much = self.is_too_much(nodes, interval_s);
        if interval_s <= 60 && one_a_line && !joined && too_much {
            if let Some(step) = facts.steps.iter().find(|step| matches!(step.what, StepKind::Item(_))) {
                let message = format!(
                    "about {seconds:.0} s of work does not fit {interval_s} s: read as one movement each interval, in turn"
                );
                self.assumptions.push(Assumption { line: step.line, column: step.column, message });
            }
            return true;
        }
        false
    }

    /// Something of the clock that is taken for granted, told on the first line of the part.
    /// "8 min, 30 s on, 15 s off" above four things: as often round them as comes nearest to the length, a guess where it is not it.
    fn times_round(&mut self, facts: &Facts, all_s: u32, (stations, interval_s): (u32, u32)) -> Option<u32> {
        let round_s = all_together(1, stations, interval_s).max(1);
        let times = f64::from(all_s) / f64::from(round_s);
        let nearest = times.round() as u32;
        if nearest < 2 {
            return None;
        }
        if !all_s.is_multiple_of(round_s) {
            let (all, round) = (clock_s(all_s), clock_s(round_s));
            self.guess(facts, format!("{all} are {times:.1} times round {stations} stations of {round} together: taken as {nearest}"));
        }
        Some(nearest)
    }

    fn guess(&mut self, facts: &Facts, message: String) {
        self.assumptions.push(Assumption { line: facts.first_line, column: 1, message });
    }

    /// Whether the work of all entries together does not fit one interval.
    fn is_too_much(&self, nodes: &[Node], interval_s: u32) -> bool {
        self.seconds_together(nodes) > f64::from(interval_s) * INTERVAL_SHARE
    }

    /// Seconds of work that are known of all entries together.
    fn seconds_together(&self, nodes: &[Node]) -> f64 {
        nodes.iter().filter_map(|node| self.work_seconds(node)).sum()
    }

    /// Seconds that a regular member takes for a node's written work.
    pub(super) fn work_seconds(&self, node: &Node) -> Option<f64> {
        let Node::Work(work) = node else { return None };
        let movement = self.catalogue.get(&work.movement)?;
        Some(movement.seconds_per(work.dose.unit, 0.5)? * work.dose.first()? + movement.setup_s)
    }
}

/// Work under labels of its own ("A: row + devil's press", "B: lunges + burpees") as one node a label; none
/// where every label has one line of work, or there are no labels.
fn stations(facts: &Facts, nodes: &[Node]) -> Option<Vec<Node>> {
    let steps = entries(facts);
    let labelled = |label: &Label| {
        matches!(
            label,
            Label::Number(_) | Label::Minute(_) | Label::Station(_) | Label::Odd(_) | Label::Letter(..)
        )
    };
    if steps.len() != nodes.len() || !steps.first().is_some_and(|step| labelled(&step.label)) {
        return None;
    }
    let stations = joined(&steps, nodes, |step| !(step.starts_line && labelled(&step.label)));
    (stations.len() > 1 && stations.len() < nodes.len()).then_some(stations)
}

/// "EMOM 12, alternating: A, B + C", or a line for each: what takes turns where the text says that something does.
fn taking_turns(facts: &Facts, nodes: &[Node]) -> Option<Vec<Node>> {
    let steps = entries(facts);
    if !facts.alternating || steps.len() != nodes.len() {
        return None;
    }
    let one_line = steps.windows(2).all(|pair| pair[0].line == pair[1].line);
    let goes_on = |step: &Step| match &step.what {
        StepKind::Item(item) if one_line => item.joined,
        _ => !one_line && !step.starts_line,
    };
    let turns = joined(&steps, nodes, goes_on);
    (turns.len() > 1).then_some(turns)
}

/// What takes a turn or shares one: work, and an open rest.
fn entries(facts: &Facts) -> Vec<&Step> {
    facts.steps.iter().filter(|step| matches!(step.what, StepKind::Item(_) | StepKind::RestOpen)).collect()
}

/// One node for each turn; an entry that goes on shares the turn of the one before it.
fn joined(steps: &[&Step], nodes: &[Node], goes_on: impl Fn(&Step) -> bool) -> Vec<Node> {
    let mut turns: Vec<Vec<Node>> = Vec::new();
    for (step, node) in steps.iter().zip(nodes) {
        match turns.last_mut() {
            Some(turn) if goes_on(step) => turn.push(node.clone()),
            _ => turns.push(vec![node.clone()]),
        }
    }
    turns.into_iter().map(Node::seq).collect()
}

/// Seconds that so many times round so many stations take; a text may name any number.
fn all_together(times: u32, stations: u32, interval_s: u32) -> u32 {
    times.saturating_mul(stations).saturating_mul(interval_s)
}

/// Whether a rest stands between rounds somewhere in a tree.
fn rests_between(tree: &Node) -> bool {
    matches!(tree, Node::Rounds { rest_s: Some(_), .. }) || tree.children().into_iter().any(rests_between)
}
