//! How the day divides: where parts begin, and which sentences belong to them, by the cost of what comes of it.

mod above;
mod around;
mod seam;

use lantern_session::movement::{Catalogue, Movement, MovementId, normal_words};
use lantern_session::{Load, LoadUnit, PartKind, works};

use self::above::{announced, listed, teams, tools_of_the_day, windows_of_one_amrap};
use crate::accounts::unheard;
use crate::facts::{Facts, Held, is_prescription};
use crate::judge;
use crate::label::Label;
use crate::lower::{Lowered, lower};
use crate::say::{Item, Say};
use crate::unit::{Cut, Reading, Role, Said, Unit};
use crate::weights::Weights;

/// Places where parts may begin that one part may reach over; bounds the work to linear.
const FARTHEST: usize = 14;
/// Ways to divide the day that are kept.
pub(crate) const BEST: usize = 3;
/// Sentences of a part that are tried in their second reading.
const MOST_FLIPS: usize = 4;

/// A run of sentences read as one part.
#[derive(Clone)]
pub(crate) struct Segment {
    /// The sentences, by place.
    pub units: std::ops::Range<usize>,
    /// The reading of each.
    pub chosen: Vec<usize>,
    /// What came of it.
    pub lowered: Lowered,
    pub cost: f64,
    /// Its heading stands apart from its work.
    parted: bool,
    /// Matters on which two words differ.
    contradictions: usize,
}

/// A way to divide the day.
pub(crate) struct Division {
    pub segments: Vec<Segment>,
    pub cost: f64,
}

pub(crate) struct Divider<'u> {
    pub units: &'u [Unit],
    pub catalogue: &'u Catalogue,
    pub weights: &'u Weights,
    /// The kind of the last heading at or before each sentence.
    sections: Vec<Option<PartKind>>,
    /// The label of the line that each sentence stands on.
    labels: Vec<Label>,
    /// Who works together, where it was said for the day or for the piece before.
    teams: Vec<Option<u32>>,
    /// No empty line stands anywhere in the text, so that none can show where a part begins.
    no_blanks: bool,
    /// The lift that the lines above the first part announce.
    announced: Option<Item>,
    week: Option<(u32, Option<u32>)>,
    /// The machine, or the run, that the heading of each sentence or the day's name is about.
    engines: Vec<Option<MovementId>>,
    /// Loads of the tools of the day, told above the first work.
    held: Vec<Held>,
    /// The clock of bouts that were announced once, for each that is listed below.
    bouts: Vec<Option<Option<u32>>>,
    /// Where each of the bouts that were announced begins, when as many letters follow.
    listed: Vec<bool>,
    unit_of_weight: Option<lantern_session::units::WeightUnit>,
}

impl<'u> Divider<'u> {
    pub fn new(units: &'u [Unit], catalogue: &'u Catalogue, weights: &'u Weights) -> Self {
        let (mut section, mut numbered, mut lettered) = (None, false, None);
        let sections = units
            .iter()
            .map(|unit| {
                if let Some((kind, _)) = &unit.heading {
                    let counted = unit.label.is_entry() || unit.label == Label::Part;
                    (section, numbered) = (Some(*kind), counted);
                    lettered = if let Label::Letter(letter, None) = unit.label { Some(letter) } else { None };
                } else if let (Some(before), Label::Letter(now, None)) = (lettered, unit.label)
                    && now != before
                {
                    // "c. Row" below "b. Accessory" is a section of its own.
                    (section, lettered) = (None, None);
                } else if numbered
                    && (unit.label.is_entry() && unit.blank_before || unit.label == Label::Part)
                {
                    // "2. Strict pull-ups" below "1. Skill" is a section of its own.
                    section = None;
                }
                section
            })
            .collect();
        let engines = engines(units, catalogue);
        let mut label = Label::None;
        let labels = units
            .iter()
            .map(|unit| {
                if unit.starts_line || unit.label != Label::None {
                    label = unit.label;
                }
                label
            })
            .collect();
        let held = tools_of_the_day(units);
        let loads = units.iter().filter_map(|unit| unit.readings.first()).flat_map(|reading| &reading.says);
        // "One bar for two, 50/35 kg" is told beside the work.
        let beside = held.iter().filter_map(|held| held.unit?.weight());
        let unit_of_weight = loads
            .filter_map(|said| match &said.say {
                Say::Load { unit, .. } | Say::ToolLoad { unit, .. } => unit.and_then(|unit| unit.weight()),
                Say::LoadRange(_, _, unit) => unit.weight(),
                _ => None,
            })
            .chain(beside)
            .next();
        let (mut clock, mut bouts_said) = (None, false);
        let listed = listed(units);
        let mut bouts: Vec<Option<Option<u32>>> = units
            .iter()
            .zip(&listed)
            .map(|(unit, listed)| {
                for said in unit.readings.first().map_or(&[][..], |reading| &reading.says) {
                    if let Say::Bouts { seconds, open: true, .. } | Say::Amrap(Some(seconds)) = said.say {
                        clock = Some(Some(seconds));
                    }
                    bouts_said |= matches!(said.say, Say::Bouts { open: true, .. });
                }
                // "A", "B", "C" below "three AMRAPs of 6 minutes" are one each.
                let lettered = bouts_said && matches!(unit.label, Label::Letter(_, None));
                clock.filter(|_| *listed || lettered || matches!(unit.label, Label::Bout(_)))
            })
            .collect();
        windows_of_one_amrap(units, &mut bouts);
        let (announced, week) = announced(units);
        let teams = teams(units);
        Self {
            units,
            catalogue,
            weights,
            sections,
            labels,
            engines,
            bouts,
            listed,
            teams,
            no_blanks: units.iter().all(|unit| !unit.blank_before),
            announced,
            week,
            held,
            unit_of_weight,
        }
    }

    fn best(&self, unit: usize) -> &Reading {
        &self.units[unit].readings[0]
    }

    /// The week that the lines above the first part tell.
    pub fn week(&self) -> Option<(u32, Option<u32>)> {
        self.week
    }

    /// The last load that stands above a sentence.
    fn load_before(&self, from: usize) -> Option<Load> {
        /// Sentences that are looked at.
        const MOST: usize = 12;
        let above = self.units[..from].iter().rev().take(MOST);
        let said =
            above.filter(|unit| unit.readings[0].role == Role::Work).flat_map(|unit| &unit.readings[0].says);
        said.filter_map(|said| match said.say {
            Say::Load { implements, first, second, unit } => {
                let unit = unit.or(self.unit_of_weight.map(LoadUnit::from)).unwrap_or(LoadUnit::Kg);
                let load = Load { first, second, unit, implements };
                unit.weight().is_some().then_some(load)
            }
            _ => None,
        })
        .next()
    }

    /// The sentences of a run as one part, each in the best reading for the whole.
    fn segment(&self, from: usize, to: usize) -> Segment {
        let mut chosen = vec![0; to - from];
        let mut best = self.weigh(from, to, &chosen);
        let mut close: Vec<(f64, usize, usize)> = Vec::new();
        for at in from..to {
            let readings = &self.units[at].readings;
            for (n, reading) in readings.iter().enumerate().skip(1).take(2) {
                let margin = reading.cost - readings[0].cost;
                let lays_aside = reading.role == Role::Note && readings[0].role == Role::Work;
                let most = if lays_aside { "flip.note" } else { "flip.margin" };
                if may_flip(&readings[0], reading) && margin < self.weights.of(most) {
                    close.push((margin, at - from, n));
                }
            }
        }
        close.sort_by(|a, b| a.0.total_cmp(&b.0));
        for (_, place, reading) in close.into_iter().take(MOST_FLIPS) {
            let before = std::mem::replace(&mut chosen[place], reading);
            let tried = self.weigh(from, to, &chosen);
            if tried.cost + 1e-9 < best.cost {
                best = tried;
            } else {
                chosen[place] = before;
            }
        }
        best
    }

    /// "Assistance: 5x10 @ 50%" is of the lift above it.
    fn lift_above(&self, from: usize) -> Option<Item> {
        let mut items = self.units[..from].iter().rev().flat_map(|unit| unit.readings[0].items());
        let last = items.find_map(|item| item.movement.as_ref())?;
        let lift = Item { movement: Some(last.clone()), ..Item::default() };
        self.catalogue.get(last).is_some_and(Movement::is_barbell).then_some(lift)
    }

    /// "3x2 @ 70%, then build to a heavy single": what stands right above has said the sets of a lift.
    fn behind_sets_at_a_share(&self, from: usize) -> bool {
        let above = from.checked_sub(1).map(|above| &self.units[above].readings[0]);
        above.is_some_and(|reading| reading.says(|say| matches!(say, Say::Percent(_) | Say::SetAt { .. })))
    }

    /// The nearest complex above a sentence: its lifts and nothing else that is said of it.
    fn complex_above(&self, from: usize) -> Option<(&Unit, Reading)> {
        self.units[..from].iter().rev().find_map(|unit| {
            let best = &unit.readings[0];
            let lifts = |said: &&Said| matches!(said.say, Say::Item(_) | Say::Plus);
            let says: Vec<Said> = best.says.iter().filter(lifts).cloned().collect();
            let joined = says.iter().any(|said| matches!(said.say, Say::Plus)) && best.items().count() > 1;
            joined.then(|| (unit, Reading { says, ..best.clone() }))
        })
    }

    fn weigh(&self, from: usize, to: usize, chosen: &[usize]) -> Segment {
        let mut facts =
            Facts { amrap: self.bouts[from], load_before: self.load_before(from), ..Facts::default() };
        facts.team = self.teams[from];
        facts.engine.clone_from(&self.engines[from]);
        let mut cost = 0.0;
        let again =
            |n: usize| self.units[from + n].readings[chosen[n]].says(|say| matches!(say, Say::ComplexAgain));
        if (0..to - from).any(again)
            && let Some((unit, complex)) = self.complex_above(from)
        {
            facts.take(unit, &complex, Label::None, self.catalogue);
        }
        for at in from..to {
            let unit = &self.units[at];
            let reading = &unit.readings[chosen[at - from]];
            cost += reading.cost;
            // "Warm-up sets: 5 @ 40, 3 @ 50" above the work sets lead up to them; alone they are what is lifted.
            let ramp = reading.says.first().is_some_and(|said| matches!(said.say, Say::RampSets));
            let sets = |say: &Say| matches!(say, Say::SetsReps { .. } | Say::SetAt { .. } | Say::Percent(_));
            let later = |later: usize| &self.units[later].readings[chosen[later - from]];
            if ramp && (at + 1..to).any(|at| later(at).says(sets)) {
                continue;
            }
            facts.take(unit, reading, self.labels[at], self.catalogue);
        }
        let contradictions = facts.contradictions.len();
        if !facts.has_items()
            && facts.has_prescription()
            && let Some(item) = self.announced.clone().or_else(|| {
                let goes_on = facts.only_builds() && self.behind_sets_at_a_share(from);
                self.lift_above(from).filter(|_| facts.asks_for_sets_at_a_share() || goes_on)
            })
        {
            facts.begin_with(&item);
            facts.strength.week = facts.strength.week.or(self.week);
        }
        let gentle = matches!(
            facts.kind,
            Some(PartKind::Warmup | PartKind::Mobility | PartKind::Skill | PartKind::Strength)
        );
        if !gentle && !facts.has_prescription() {
            let own = tools_of_the_day(&self.units[from..to]);
            facts.held.extend(if own.is_empty() { &self.held } else { &own });
        }
        facts.is_last =
            self.units[to..].iter().all(|unit| unit.heading.is_none() && unit.readings[0].says.is_empty());
        facts.leads_on = self.units.get(to).is_some_and(|next| {
            let lettered = matches!(next.label, Label::Letter(_, None) | Label::Part);
            next.blank_before && (next.heading.is_some() || lettered || next.readings[0].says(is_clock))
        });
        let mut lowered = lower(facts, self.sections[from], self.catalogue, self.unit_of_weight);
        // What contradicts itself is asked about: one of the two is in nothing.
        let part = lowered.part.as_ref().filter(|_| lowered.clash.is_none());
        lowered.unheard = part.map_or(0, |part| {
            let units = self.units[from..to].iter().zip(chosen);
            unheard(units.map(|(unit, n)| (unit, &unit.readings[*n])), part, None).len()
        });
        let next = self.units.get(to).filter(|next| next.heading.is_none());
        let empty = lowered.part.as_ref().is_none_or(|part| works(&part.tree).is_empty());
        // A heading stands over what follows; one that says how long may stand for itself above an empty line.
        let planned = next.is_some_and(|next| {
            next.readings[0].says.first().is_some_and(|said| matches!(said.say, Say::Window(_)))
        });
        let parted = !planned
            && lowered.headed
            && empty
            && next.is_some_and(|next| {
                // "Skill (12 min)", and below an empty line the names of what is practised.
                let reading = &next.readings[0];
                let names = reading.role == Role::Work
                    && reading.items().next().is_some()
                    && !reading.says(heads_a_part)
                    && !prescribes(reading);
                lowered.part.is_none() || !next.blank_before || names && next.label == Label::None
            });
        // "WU with the coach, 10 min" says all there is above "A1) ...", a clock, or a lift with its share of a max.
        let stretches =
            self.units[from].heading.as_ref().is_some_and(|(kind, _)| *kind == PartKind::Mobility);
        // A warm-up that somebody leads, and of which no more is told, says all there is to it.
        let led = self.units[from].heading.as_ref().is_some_and(|(kind, _)| *kind == PartKind::Warmup)
            && !self.units[from].text.chars().any(|c| c.is_ascii_digit());
        let said = lowered.part.is_some() || led || stretches && next.is_some_and(|next| next.blank_before);
        // "50-55 stretch" has its place in the hour, and what stands apart below it has another.
        let placed = stretches && self.units[from].label == Label::Part;
        let told = said
            && next.is_some_and(|next| {
                if placed && next.blank_before {
                    return true;
                }
                matches!(next.label, Label::Letter(..) | Label::Part)
                    || next.readings[0].says(|say| is_clock(say) || matches!(say, Say::Sharing(_)))
                    || heavy(&next.readings[0])
                        && lowered.part.as_ref().is_some_and(|part| part.kind == PartKind::Warmup)
            });
        let parted = parted && !told;
        let mut segment =
            Segment { units: from..to, chosen: chosen.to_vec(), lowered, cost, parted, contradictions };
        segment.cost += self.judged(&segment, self.weights);
        segment
    }

    /// What speaks against a part, its sentences aside.
    fn judged(&self, segment: &Segment, weights: &Weights) -> f64 {
        let Segment { units, chosen, lowered, parted, contradictions, .. } = segment;
        judge::coherence(self.units, units.clone(), chosen, self.catalogue, weights)
            + judge::plausibility(lowered, self.catalogue, weights)
            + weights.of("part.heading_alone") * f64::from(u8::from(*parted))
            + weights.of("part.contradiction") * *contradictions as f64
    }

    /// What the learned features of a division cost by other weights.
    pub fn judge(&self, division: &Division, weights: &Weights) -> f64 {
        let segments = division.segments.iter();
        segments
            .map(|segment| self.judged(segment, weights) + self.cut_cost(segment.units.start, weights))
            .sum()
    }

    /// The best ways to divide the day, cheapest first, `most` of them.
    pub fn divide(&self, most: usize) -> Vec<Division> {
        let n = self.units.len();
        if n == 0 {
            return vec![Division { segments: Vec::new(), cost: 0.0 }];
        }
        let mut cuts: Vec<usize> = (0..n).filter(|at| self.may_cut(*at)).collect();
        cuts.push(n);
        // Ways to reach each cut: cost, the cut before, and which of its ways.
        let mut ways: Vec<Vec<(f64, usize, usize)>> = vec![Vec::new(); cuts.len()];
        let mut segments: Vec<Vec<Option<Segment>>> = vec![Vec::new(); cuts.len()];
        ways[0].push((0.0, 0, 0));
        for end in 1..cuts.len() {
            segments[end] = vec![None; end];
            let nearest = end.saturating_sub(FARTHEST);
            for begin in nearest..end {
                // A heading inside a part is no heading; nothing is read across it.
                let crosses = (cuts[begin] + 1..cuts[end]).any(|at| {
                    self.units[at].heading.is_some() && !self.heads_the_same(at)
                        || self.units[at].cut == Cut::Must
                        || self.listed[at]
                });
                if crosses || ways[begin].is_empty() {
                    continue;
                }
                let segment = self.segment(cuts[begin], cuts[end]);
                let cost = segment.cost + self.cut_cost(cuts[begin], self.weights);
                segments[end][begin] = Some(segment);
                for rank in 0..ways[begin].len() {
                    let total = ways[begin][rank].0 + cost;
                    let place = ways[end].partition_point(|(known, ..)| *known <= total);
                    if place < most {
                        ways[end].insert(place, (total, begin, rank));
                        ways[end].truncate(most);
                    }
                }
            }
        }
        let last = cuts.len() - 1;
        let ends = ways[last].clone();
        ends.into_iter()
            .map(|(cost, begin, rank)| {
                let mut found = Vec::new();
                let (mut end, mut begin, mut rank) = (last, begin, rank);
                loop {
                    found.extend(segments[end][begin].clone());
                    if begin == 0 {
                        break;
                    }
                    end = begin;
                    (_, begin, rank) = ways[end][rank];
                }
                found.reverse();
                Division { segments: found, cost }
            })
            .collect()
    }
}

/// Whether a second reading of a sentence may be tried to make a part hang together. What is written is never talked away: no name, number, clock or
/// amount that the first reading explains may be lost.
fn may_flip(first: &Reading, other: &Reading) -> bool {
    match (first.role, other.role) {
        // A clock with its work is no talk.
        (Role::Work, Role::Note | Role::Aside) => {
            return !(first.says(is_clock) && first.items().next().is_some());
        }
        (_, Role::Work) if first.says(is_clock) && !other.says(is_clock) => return false,
        (Role::Work, Role::Work) => {}
        _ => return true,
    }
    let bound = |reading: &Reading| {
        reading.items().filter(|item| item.movement.is_some() && item.is_anchored()).count()
    };
    let loose = |reading: &Reading| reading.items().filter(|item| item.movement.is_none()).count();
    let passes_over =
        other.names_left > first.names_left || other.numbers_left.len() > first.numbers_left.len();
    // "Each side" stays, however much it makes of the work.
    let forgets =
        other.says.len() < first.says.len() && other.says.iter().all(|said| first.says.contains(said));
    let sides = |reading: &Reading| reading.says(|say| matches!(say, Say::Side));
    let forgets = forgets || sides(first) && !sides(other);
    // A movement keeps its amount.
    let unbinds = bound(other) < bound(first) || loose(other) > loose(first);
    !(passes_over || forgets || unbinds)
}

/// Whether it prescribes a lift: sets of it, or as many as possible in sets.
pub(crate) fn prescribes(reading: &Reading) -> bool {
    let sets = reading.says(|say| matches!(say, Say::Sets(_)));
    reading.says(is_prescription)
        || reading.says(|say| matches!(say, Say::SetsMax(_)))
        || reading.items().any(|item| item.sets.is_some())
        || sets && reading.items().any(|item| item.max)
}

/// Whether a reading asks for what nobody does to get warm: a share of a maximum, a heavy set, sets up to an effort.
pub(crate) fn heavy(reading: &Reading) -> bool {
    reading.says(|say| {
        matches!(
            say,
            Say::Percent(_) | Say::SetAt { .. } | Say::Rm(_) | Say::Build | Say::Rpe(_) | Say::Efforts(_)
        )
    })
}

/// The machine, or the run, that the heading above each sentence names, or else the name of the day: bare metres below are of it.
fn engines(units: &[Unit], catalogue: &Catalogue) -> Vec<Option<MovementId>> {
    let named = |words: &str| {
        let words = normal_words(words);
        let words: Vec<&str> = words.iter().map(String::as_str).collect();
        let found = (0..words.len()).filter_map(|n| catalogue.match_words(&words[n..]));
        found
            .map(|found| found.movement)
            .find(|movement| movement.is_engine())
            .map(|movement| movement.id.clone())
    };
    let of_the_day = units.first().filter(|unit| unit.readings[0].role == Role::Title);
    let of_the_day = of_the_day.and_then(|unit| named(&unit.text));
    let mut engine = of_the_day.clone();
    let of = |unit: &Unit| {
        match &unit.heading {
            Some((_, words)) => engine = named(words).or_else(|| of_the_day.clone()),
            None if matches!(unit.label, Label::Part | Label::Letter(_, None)) => {
                engine.clone_from(&of_the_day)
            }
            None => {}
        }
        engine.clone()
    };
    units.iter().map(of).collect()
}

/// Whether it says how a piece is run against a clock.
pub(crate) fn is_clock(say: &Say) -> bool {
    matches!(
        say,
        Say::Amrap(_)
            | Say::ForTime
            | Say::Every { .. }
            | Say::OnOff { .. }
            | Say::Tabata
            | Say::Bouts { .. }
            | Say::InTurn(_)
            | Say::Window(_)
            | Say::ClockStart
            | Say::UntilFailure { .. }
            | Say::Running
    )
}

/// "Superset 2 x 3: 10 dips, 12 rows": how often, and all that takes turns.
pub(crate) fn is_whole_superset(reading: &Reading) -> bool {
    reading.says(|say| matches!(say, Say::Superset))
        && reading.says(|say| matches!(say, Say::Sets(_)))
        && reading.items().count() > 1
}

pub(crate) fn heads_a_part(say: &Say) -> bool {
    is_clock(say)
        || matches!(
            say,
            Say::Rounds(_)
                | Say::Scheme { .. }
                | Say::Quality
                | Say::UntilFailure { .. }
                | Say::Length(_)
                | Say::Clock(_)
                | Say::CountedIn(_)
                | Say::Collect
                | Say::Team(_)
                | Say::StationTime { .. }
        )
}
