//! From collected facts to a part with its tree.
//!
//! `rewrites` brings what is written in different ways to one, `levels` and `items` give every item its movement and load, `groups` puts work together that repeats together,
//! `kind` says what a part is for and how it is run, `piece` and `lift` make the trees of conditioning and of strength, `rests` says what a rest stands between.

mod every_few;
mod for_reps;
mod groups;
mod items;
mod kind;
mod levels;
mod lift;
mod lists;
mod mentions;
mod piece;
mod rests;
mod rewrites;
mod rising;
mod sets;
mod teams;

use std::collections::BTreeSet;

use self::for_reps::minutes_for_reps;
pub(crate) use self::kind::counts_through;
use self::levels::levels;
use self::lists::{
    lines_that_are_counted, named_twice, rounds_of_a_list, sets_by_the_clock, sets_of_a_list,
    told_by_its_parts, topic_of_a_list, topic_of_lifts, total_of_its_loads,
};
use self::mentions::without_mentions;
use self::rests::{rest_alone, rest_by_ratio, rest_that_leads_on, walked_between};
use self::rewrites::{
    after_each_thing, any_machine_of_a_warm_up, as_far_as_it_gets, bouts_in_words, bouts_of_an_amrap,
    built_to_so_many, bursts_of_one_thing, clocks_in_words, every_so_many, heavier_until_missed,
    heights_of_stations, length_of_a_talk, minutes_in_turn, minutes_of_a_lift, minutes_of_practice,
    minutes_that_add_up, one_thing_for_a_length, one_window, schemes_side_by_side, sets_beside_rungs,
    stations_of_an_amrap, steady_rounds, windows_of_stations,
};
use self::rising::{rungs_below_the_first, rungs_in_numbers, rungs_one_by_one, rungs_that_are_told};
use self::teams::{each_of_the_team, posts_told_below};
use crate::aims::Told;
use crate::facts::{Facts, Item, Step, StepKind};
use crate::say::{Aim, LONGEST_REST_S, MACHINES};
use lantern_session::movement::{Catalogue, Movement, MovementId, Unit};
use lantern_session::units::WeightUnit;
use lantern_session::{
    Amount, Dose, Format, Intent, Node, Part, PartKind, Rest, RestAfter, Score, Target, Work, works,
};
use lantern_session::{Assumption, Problem};

/// Seconds of work and rest, and rounds, of the classic short interval; Tabata et al. 1996.
const TABATA: (u32, u32, u32) = (20, 10, 8);
/// Bar weights that only pound plates make; a bare number among them is read as pounds.
const POUND_LOADS: [f64; 16] = [
    95.0, 105.0, 115.0, 135.0, 155.0, 165.0, 185.0, 205.0, 225.0, 245.0, 275.0, 295.0, 315.0, 335.0, 365.0,
    405.0,
];
/// Kettlebells that are made in pounds alone; a bare number among them is read so.
const POUND_BELLS: [f64; 7] = [35.0, 44.0, 53.0, 62.0, 70.0, 80.0, 88.0];
/// Dumbbells from this number on are in pounds: a class holds none of 45 kg.
const POUND_DUMBBELL_FROM: f64 = 45.0;
/// Balls from this number on are in pounds: nobody throws a ball of 14 kg for repetitions.
const POUND_BALL_FROM: f64 = 14.0;
/// Below this a bare number beside a machine counts calories, from it on metres.
const METRES_FROM: f64 = 100.0;
/// Fixed work that fills this share of a length is done once, against it.
const FIXED_WORK_SHARE: f64 = 0.5;
/// From this on a rest in a line of its own is none between sets, in seconds.
const LONG_REST_S: u32 = 300;
/// Bouts or rounds that add up to more than this do not fit a class; their length is the one of all of them, in seconds.
const LONGEST_PIECE_S: u32 = 45 * 60;
/// A cycle leaves this share of its interval for rest when its movements all fit in one interval.
const INTERVAL_SHARE: f64 = 0.9;

/// Turns facts into parts; remembers the unit of the day and what it took for granted.
pub(super) struct Shaper<'c> {
    catalogue: &'c Catalogue,
    unit: Option<WeightUnit>,
    pub problems: Vec<Problem>,
    pub assumptions: Vec<Assumption>,
    /// What was named without a number; no fault of the reading, so it does not count against it.
    pub mentions: Vec<Problem>,
    /// Lines on which work was named that the piece only speaks of.
    pub spoken_of: Vec<usize>,
    /// What other pieces should take.
    pub aims: Vec<Told>,
    /// Seconds of rest that are told above all work, and so before it.
    rest_before_s: Option<u32>,
    /// Seconds of rest that lead to the next part.
    rest_after_s: Option<u32>,
}

/// A piece that is said to be open and to have an end: as many rounds as possible, and rounds for time.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Clash {
    /// The first line of the piece.
    pub line: usize,
    /// The last.
    pub last_line: usize,
    /// Its length as an open piece, in seconds.
    pub open_s: u32,
    /// Its rounds as a piece for time, where they are said.
    pub rounds: Option<u32>,
    /// Its limit as a piece for time, in seconds.
    pub cap_s: Option<u32>,
}

/// What came of the facts of a part.
#[derive(Clone, Debug, Default)]
pub(crate) struct Lowered {
    /// The part; none when there is no work in it.
    pub part: Option<Part>,
    /// Whether a heading stands over it.
    pub headed: bool,
    /// Whether the facts without work said how something is run.
    pub had_structure: bool,
    /// What cannot be right.
    pub problems: Vec<Problem>,
    /// What was taken for granted.
    pub assumptions: Vec<Assumption>,
    /// Two things that the text says about one matter: the line, and each as it would be run.
    pub clash: Option<Clash>,
    /// Problems that make the part unusable.
    pub errors: usize,
    /// Movements that were counted or built to a maximum, and that the part does not hold.
    pub lost: usize,
    /// Phrases that were read and are in nothing that is done.
    pub unheard: usize,
    /// Lines on which work was named that the piece only speaks of.
    pub spoken_of: Vec<usize>,
    /// The unit of weight that the part was read in.
    pub unit: Option<WeightUnit>,
    /// What other pieces should take.
    pub aims: Vec<Told>,
    /// Seconds of rest before it, after the part before.
    pub rest_before_s: Option<u32>,
    /// Its rest is that of the lifts above as well.
    pub rest_of_all: bool,
    /// Sets were told one by one, each at its share of a maximum.
    pub sets_at_shares: bool,
    /// Sets, or a heavy one to find, of no lift that is named anywhere.
    pub of_no_lift: bool,
}

/// Makes a part of facts. `section` is the kind of the last heading, `unit` the day's unit of weight as far as it is known.
pub(crate) fn lower(
    mut facts: Facts,
    section: Option<PartKind>,
    catalogue: &Catalogue,
    unit: Option<WeightUnit>,
) -> Lowered {
    // What stands below the list of a warm-up without a heading of its own is no more of it.
    let section = section.filter(|kind| !matches!(kind, PartKind::Warmup | PartKind::Mobility));
    let had_structure = facts.has_format()
        || facts.cap_s.is_some()
        || facts.target.is_some()
        || facts.score.is_some()
        || facts.rest.is_some()
        || facts.sharing.is_some()
        || facts.has_prescription()
        || facts.steps.iter().any(|step| matches!(step.what, StepKind::Rounds(_) | StepKind::Scheme { .. }));
    let headed = facts.heading.is_some();
    let rounds = facts.steps.iter().find_map(|step| match step.what {
        StepKind::Rounds(n) if n > 1 => Some(n),
        _ => None,
    });
    let clash = match facts.amrap {
        Some(Some(open_s)) if facts.for_time && (rounds.is_some() || facts.cap_s.is_some()) => Some(Clash {
            line: facts.first_line,
            last_line: facts.last_line,
            open_s,
            rounds,
            cap_s: facts.cap_s,
        }),
        _ => None,
    };
    if clash.is_some() {
        // Until it is answered the piece is open, and its rounds have no number.
        facts.steps.retain(|step| !matches!(step.what, StepKind::Rounds(_)));
    }
    walked_between(&mut facts, catalogue);
    let named = named(&facts);
    let of_no_lift = !facts.has_items()
        && (facts.strength.rm.is_some() || facts.asks_for_sets_at_a_share() || !facts.set_list.is_empty());
    let sets = facts.sets_reps.len();
    let sets_at_shares = !facts.set_list.is_empty();
    let mut shaper = Shaper::new(catalogue, unit);
    shaper.aims = std::mem::take(&mut facts.aims);
    let target = facts.target;
    let only_rest_s = rest_alone(&facts);
    let rest_of_all = facts.rest_of_all;
    let part = shaper.shape(facts, section);
    // What stands above all work is of the next that comes.
    shaper.aims.extend(target.filter(|_| part.is_none()));
    let open = |part: &Part| matches!(part.format, Some(Format::Amrap | Format::ForTime | Format::Tabata));
    // "10 singles" of an AMRAP are no sets: none of its work holds them.
    let lost = part.as_ref().map_or(0, |part| shaper.lost(&named, part) + if open(part) { sets } else { 0 });
    let errors = shaper.problems.len();
    shaper.problems.append(&mut shaper.mentions);
    Lowered {
        of_no_lift: of_no_lift && part.is_none(),
        part,
        headed,
        had_structure,
        problems: shaper.problems,
        assumptions: shaper.assumptions,
        clash,
        errors,
        lost,
        unheard: 0,
        spoken_of: shaper.spoken_of,
        aims: shaper.aims,
        rest_of_all,
        sets_at_shares,
        rest_before_s: shaper.rest_before_s.or(only_rest_s),
        unit: shaper.unit,
    }
}

/// The movements that a part counts, or that it builds up, with their lines.
fn named(facts: &Facts) -> Vec<(MovementId, usize)> {
    let builds = facts.strength.rm.is_some() || facts.build;
    let steps = facts.steps.iter().filter_map(|step| match &step.what {
        StepKind::Item(item) if item.amount.is_some() || item.max || builds => {
            Some((item.movement.clone()?, step.line))
        }
        _ => None,
    });
    steps.collect()
}

/// The work of an item that stands by itself, such as an alternative.
pub(crate) fn work_of(item: &Item, catalogue: &Catalogue) -> Option<Work> {
    let movement = catalogue.get(item.movement.as_ref()?)?;
    Some(Work {
        load: item.load,
        in_step: item.in_step,
        ..Work::new(movement.id.clone(), dose_of(item, movement))
    })
}

fn dose_of(item: &Item, movement: &Movement) -> Dose {
    let amount = match (item.max, item.amount) {
        _ if item.meanwhile => Amount::Meanwhile,
        (true, _) => Amount::Max,
        // "8/8" is eight on either side.
        (false, Some((first, Some(second)))) if first == second => Amount::Fixed { first, second: None },
        (false, Some((first, second))) => Amount::Fixed { first, second },
        (false, None) => Amount::Open,
    };
    let alike = item.amount.is_some_and(|(first, second)| second == Some(first));
    let number = item.amount.map_or(0.0, |(first, _)| first);
    let unit = item.unit.unwrap_or(match movement.unit {
        Unit::Calories if number >= METRES_FROM && movement.metre_pace.is_some() => Unit::Metres,
        unit => unit,
    });
    Dose { amount, unit, per_side: item.per_side || alike && unit != Unit::Calories }
}

impl<'c> Shaper<'c> {
    fn new(catalogue: &'c Catalogue, unit: Option<WeightUnit>) -> Self {
        let (problems, assumptions, mentions, spoken_of, aims) = Default::default();
        let (rest_before_s, rest_after_s) = (None, None);
        Self {
            catalogue,
            unit,
            problems,
            assumptions,
            mentions,
            spoken_of,
            aims,
            rest_before_s,
            rest_after_s,
        }
    }

    /// The part of the facts, or none when they hold no work at all. `section` is the kind of the last heading.
    fn shape(&mut self, mut facts: Facts, section: Option<PartKind>) -> Option<Part> {
        length_of_a_talk(&mut facts);
        levels(&mut facts, self.catalogue);
        heavier_until_missed(&mut facts, self.catalogue);
        built_to_so_many(&mut facts, self.catalogue);
        sets_beside_rungs(&mut facts);
        after_each_thing(&mut facts);
        total_of_its_loads(&mut facts);
        every_so_many(&mut facts);
        rungs_that_are_told(&mut facts);
        rungs_below_the_first(&mut facts);
        rungs_in_numbers(&mut facts);
        rungs_one_by_one(&mut facts);
        any_machine_of_a_warm_up(&mut facts);
        if minutes_that_add_up(&mut facts, self.catalogue) {
            let message = "these numbers add up to the length: read as minutes".to_owned();
            self.assumptions.push(Assumption { line: facts.first_line, column: 1, message });
        }
        steady_rounds(&mut facts);
        if let Some(reps) = sets::empty_bar_on_the_way_up(&mut facts) {
            let message =
                format!("{reps} with the empty bar lead up to the sets with a share: they are none of them");
            self.assumptions.push(Assumption { line: facts.first_line, column: 1, message });
        }
        sets::one_list_beside_another(&mut facts);
        sets::alike_sets_in_turn(&mut facts);
        sets::work_between_sets(&mut facts, self.catalogue);
        posts_told_below(&mut facts);
        for (line, column, message) in each_of_the_team(&mut facts) {
            self.assumptions.push(Assumption { line, column, message });
        }
        minutes_of_a_lift(&mut facts, self.catalogue);
        minutes_of_practice(&mut facts, section, self.catalogue);
        rest_by_ratio(&mut facts);
        minutes_for_reps(&mut facts, self.catalogue);
        clocks_in_words(&mut facts);
        if lines_that_are_counted(&mut facts) {
            let message = "the numbers in front of these lines count them: read as stations".to_owned();
            self.assumptions.push(Assumption { line: facts.first_line, column: 1, message });
        }
        topic_of_a_list(&mut facts, self.catalogue);
        topic_of_lifts(&mut facts);
        named_twice(&mut facts);
        told_by_its_parts(&mut facts);
        rounds_of_a_list(&mut facts);
        sets_of_a_list(&mut facts);
        windows_of_stations(&mut facts, section);
        self.resolve(&mut facts);
        heights_of_stations(&mut facts, self.catalogue);
        bouts_in_words(&mut facts);
        bouts_of_an_amrap(&mut facts);
        one_window(&mut facts);
        stations_of_an_amrap(&mut facts, self.catalogue);
        bursts_of_one_thing(&mut facts, self.catalogue);
        minutes_in_turn(&mut facts);
        schemes_side_by_side(&mut facts);
        let kind = self.kind(&facts, section);
        if kind != PartKind::Strength {
            sets_by_the_clock(&mut facts);
        }
        if matches!(kind, PartKind::Conditioning | PartKind::Home) {
            as_far_as_it_gets(&mut facts, self.catalogue);
            one_thing_for_a_length(&mut facts, self.catalogue);
        }
        // "Warm up: 8 min with the coach" is a part of the hour, whatever is done in it.
        let timed_list = matches!(facts.kind, Some(PartKind::Warmup | PartKind::Mobility | PartKind::Skill))
            && facts.duration_s.is_some();
        if !facts.has_items() && !timed_list {
            return None;
        }
        let strength_like = matches!(kind, PartKind::Strength)
            || (kind == PartKind::Home && facts.has_prescription() && !facts.has_format());
        let mut part = Part {
            kind,
            heading: facts.heading.clone(),
            lines: (facts.first_line, facts.last_line),
            format: None,
            tree: Node::Seq { of: Vec::new() },
            cap_s: facts.cap_s,
            duration_s: facts.duration_s,
            rounds: None,
            interval_s: None,
            work_s: None,
            rest: facts.rest,
            then_rest_s: None,
            team_size: facts.team.unwrap_or(if facts.sharing.is_some() { 2 } else { 1 }),
            strength: facts.strength.clone(),
            target: None,
            score: facts.score,
            intents: facts.intents.clone(),
            alternatives: facts.alternatives.clone(),
        };
        if facts.window && kind == PartKind::Conditioning && !facts.has_format() {
            // Fixed work in a window of the clock: what is not done when it ends stays undone.
            part.cap_s = part.cap_s.or(part.duration_s);
        }
        if strength_like {
            part.then_rest_s = rest_that_leads_on(&facts);
            let rests = facts.steps.iter().filter(|step| matches!(step.what, StepKind::Rest { .. })).count();
            // The only rest that is told is the one between sets or the one that leads on.
            part.rest = part.rest.filter(|_| part.then_rest_s.is_none() || rests > 1);
            if let (None, Some(seconds), None) = (part.rest, facts.duration_s, facts.every)
                && seconds <= LONGEST_REST_S
                && !facts.sets_reps.is_empty()
                && !facts.window
            {
                // "Front squat 5x3 @ 80%, 2'": a short length behind sets is the rest between them.
                part.rest = Some(Rest::of(seconds, RestAfter::Each));
                part.duration_s = None;
                facts.duration_s = None;
            }
            // The team of the day shares the piece; everybody lifts.
            if facts.sharing.is_none() && !facts.own_team {
                part.team_size = 1;
            }
            self.shape_strength(&facts, &mut part);
        } else {
            // And everybody warms up and stretches.
            let own = matches!(kind, PartKind::Warmup | PartKind::Mobility | PartKind::Skill);
            if own && facts.sharing.is_none() && !facts.own_team {
                part.team_size = 1;
            }
            self.shape_piece(&facts, &mut part);
            part.then_rest_s = self.rest_after_s;
        }
        self.shape_target(&facts, &mut part);
        if matches!(part.kind, PartKind::Conditioning | PartKind::Home) {
            let (tree, mentioned) =
                without_mentions(std::mem::replace(&mut part.tree, Node::Seq { of: Vec::new() }));
            part.tree = tree;
            let bare = |step: &Step, among: &[MovementId]| {
                matches!(&step.what, StepKind::Item(item)
                    if item.amount.is_none() && item.movement.as_ref().is_some_and(|id| among.contains(id)))
            };
            let spoken_of = facts.steps.iter().filter(|step| bare(step, &mentioned.all));
            self.spoken_of = spoken_of.map(|step| step.line).collect();
            if let Some(first) = mentioned.uncounted.first() {
                let names: Vec<String> = mentioned
                    .uncounted
                    .iter()
                    .map(|id| format!("`{}`", self.catalogue.name(id).to_lowercase()))
                    .collect();
                let message =
                    format!("no number stands beside {}: taken as spoken of, not as work", names.join(", "));
                let named = |step: &&Step| bare(step, std::slice::from_ref(first));
                let line = facts.steps.iter().find(named).map_or(part.lines.0, |step| step.line);
                self.mentions.push(Problem::warning(line, 1, message));
            }
        }
        Some(part)
    }

    /// How many of the movements that were named are in no work of the part; each is told on its line.
    fn lost(&mut self, named: &[(MovementId, usize)], part: &Part) -> usize {
        let done = |id: &MovementId| works(&part.tree).iter().any(|work| work.movement == *id);
        let offered = |id: &MovementId| {
            part.alternatives.iter().flat_map(|other| &other.work).any(|work| work.movement == *id)
        };
        // "5 min on any machine" of a warm-up is none of them.
        let any = |id: &MovementId| part.kind == PartKind::Warmup && MACHINES.contains(&id.as_str());
        let missing: Vec<_> = named.iter().filter(|(id, _)| !done(id) && !offered(id) && !any(id)).collect();
        // One that is done as another of its family, for the load beside it, is there.
        let distinct = |ids: &mut dyn Iterator<Item = &MovementId>| ids.collect::<BTreeSet<_>>().len();
        let all = distinct(&mut named.iter().map(|(id, _)| id));
        let there = distinct(&mut works(&part.tree).iter().map(|work| &work.movement));
        let lost = &missing[..missing.len().min(all.saturating_sub(there))];
        for (id, line) in lost {
            let name = self.catalogue.name(id).to_lowercase();
            self.mentions.push(Problem::warning(
                *line,
                1,
                format!("`{name}` is named here and is not in the part as it is read: look"),
            ));
        }
        lost.len()
    }

    fn work(&self, item: &Item) -> Option<Work> {
        work_of(item, self.catalogue)
    }

    fn shape_target(&mut self, facts: &Facts, part: &mut Part) {
        let slowest = part.score == Some(Score::SlowestInterval);
        if let Some(seconds) = facts.round_under {
            if slowest {
                part.target = Some(Target::seconds(None, Some(seconds)));
            } else {
                part.intents.push(Intent::RoundUnder(seconds));
            }
        }
        let Some(told) = facts.target else { return };
        if let (Some(Format::BuildTo), None, Some(high), Aim::Seconds) =
            (part.format, part.duration_s, told.high, told.of)
        {
            // "Find a heavy five in about 20 minutes" is how long there is, and nothing to beat.
            part.duration_s = Some(high as u32);
            return;
        }
        let raced = matches!(part.kind, PartKind::Conditioning | PartKind::Home) || part.format.is_some();
        if !raced || part.kind == PartKind::Strength && part.interval_s.is_none() {
            // Nobody beats a time with sets of a lift, or by stretching: it is told of what comes before or behind.
            self.aims.push(told);
            return;
        }
        part.target = part.target.or(Some(told.target(part.format)));
    }
}
