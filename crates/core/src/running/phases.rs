//! The hour cut into phases.

use serde::{Deserialize, Serialize};

use super::{lift, piece, warmup};
use crate::hour::HourBlock;
use crate::movement::Catalogue;
use crate::plan::Plan;
use crate::print::bare_lines;
use crate::units::clock_s;

/// What a phase is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Kind {
    /// The coach talks, or the class moves things.
    Talk,
    /// Work at nobody's clock: warm-up, skill, accessory, cool-down.
    Ease,
    /// Climbing to the work.
    Climb,
    /// The count-in of a piece.
    Ready,
    /// Work on the clock.
    Work,
    /// The last minute before a cap or the end.
    LastMinute,
    /// Sets of a lift, in turns.
    Lift,
    /// Rest that is written, or that the turns leave.
    Rest,
}

impl Kind {
    /// Whether somebody's score grows in it.
    pub const fn is_on_the_clock(self) -> bool {
        matches!(self, Self::Work | Self::LastMinute)
    }
}

/// How the clock of a phase runs.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Clock {
    /// From the start of its group.
    Up,
    /// To the end of its group.
    Down,
}

/// A phase by its name: what stays the same when something before it changes.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub struct PhaseId {
    /// The block's key.
    pub block: String,
    /// Which of its phases, from 0.
    pub n: usize,
}

/// A stretch of the hour in which one thing is done.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Phase {
    /// Its name.
    pub id: PhaseId,
    /// What it is.
    pub kind: Kind,
    /// Seconds from the start of class, as planned.
    pub start_s: u32,
    /// Its length in seconds.
    pub length_s: u32,
    /// How its clock runs.
    pub clock: Clock,
    /// Phases of a block with the same number share a clock.
    pub group: u32,
    /// Whether it begins only when the coach says so: what comes before goes on until then.
    pub waits: bool,
    /// What it is called: `Set 2 of 5`.
    pub title: String,
    /// What is shown, line by line.
    pub cue: Vec<String>,
    /// What to say when it begins.
    pub say: String,
    /// The work set of a lift, from 0.
    pub set: Option<u32>,
    /// People who take turns in it.
    pub turns: u32,
}

/// A block of the hour with its phases.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Block {
    /// The block's key in the hour.
    pub key: String,
    /// What it is: `warmup`, `strength`, `conditioning`.
    pub kind: &'static str,
    /// As shown.
    pub label: String,
    /// The part's place in the session, where it is one.
    pub part: Option<usize>,
    /// Whether a class that runs late can do without it.
    pub spare: bool,
    /// Its phases, end to end.
    pub phases: Vec<Phase>,
}

/// A class from its first to its last second.
#[derive(Clone, Debug, Default, PartialEq, Serialize)]
pub struct Timeline {
    /// Blocks, end to end.
    pub blocks: Vec<Block>,
}

impl Timeline {
    /// All phases in order.
    pub fn phases(&self) -> impl Iterator<Item = &Phase> {
        self.blocks.iter().flat_map(|block| &block.phases)
    }

    /// Seconds in all, as planned.
    pub fn length_s(&self) -> u32 {
        self.phases().map(|phase| phase.length_s).sum()
    }
}

/// Seconds of the count-in, taken from what comes before a piece.
pub(super) const COUNT_IN_S: u32 = 10;
/// A block that is shorter than this keeps all of its seconds.
const LONG_ENOUGH_S: u32 = 40;
/// The last call before an end, in seconds, of work that is long enough to need one.
pub(super) const LAST_MINUTE_S: u32 = 60;
pub(super) const NEEDS_A_LAST_CALL_S: u32 = 180;

/// A phase that has no place yet.
#[derive(Clone, Debug)]
pub(super) struct Draft {
    pub kind: Kind,
    pub length_s: u32,
    pub clock: Clock,
    pub group: u32,
    pub title: String,
    pub cue: Vec<String>,
    pub say: String,
    pub set: Option<u32>,
    pub turns: u32,
    /// Whether its last minute is called, where it is long enough: not before each of many intervals ends.
    pub is_called: bool,
}

impl Draft {
    pub fn new(kind: Kind, length_s: u32, title: impl Into<String>) -> Self {
        let title = title.into();
        Self {
            kind,
            length_s,
            clock: Clock::Down,
            group: 0,
            say: format!("{title}."),
            title,
            cue: Vec::new(),
            set: None,
            turns: 1,
            is_called: true,
        }
    }

    pub fn showing(self, cue: Vec<String>) -> Self {
        Self { cue, ..self }
    }

    pub fn saying(self, say: impl Into<String>) -> Self {
        Self { say: say.into(), ..self }
    }

    /// This with its last minute apart, where it is long enough to need a last call; both share a clock.
    pub fn with_last_call(self) -> Vec<Self> {
        if self.length_s < NEEDS_A_LAST_CALL_S || !self.is_called {
            return vec![self];
        }
        self.with_last_minute()
    }

    /// This with its last minute apart, or all of it where it lasts no longer; less than a minute stays what it is.
    pub fn with_last_minute(self) -> Vec<Self> {
        if self.length_s < LAST_MINUTE_S {
            return vec![self];
        }
        let last = |say| Self { kind: Kind::LastMinute, length_s: LAST_MINUTE_S, say, ..self.clone() };
        if self.length_s == LAST_MINUTE_S {
            return vec![last(format!("The last minute. {}", self.say))];
        }
        let last = last("One minute.".to_owned());
        vec![Self { length_s: self.length_s - LAST_MINUTE_S, ..self }, last]
    }
}

/// Each by itself on the clock.
pub(super) fn each_alone(drafts: Vec<Draft>) -> Vec<Draft> {
    drafts.into_iter().zip(0..).map(|(draft, group)| Draft { group, ..draft }).collect()
}

/// The same in proportion, so that they last as long as their block: what is nothing then is left out.
pub(super) fn fitted(drafts: Vec<Draft>, length_s: u32) -> Vec<Draft> {
    let all: u64 = drafts.iter().map(|draft| u64::from(draft.length_s)).sum();
    if all == 0 {
        return drafts.into_iter().take(1).map(|draft| Draft { length_s, ..draft }).collect();
    }
    let (mut before, mut laid) = (0_u64, 0_u32);
    let mut fit = |draft: Draft| {
        before += u64::from(draft.length_s);
        let end = (before * u64::from(length_s) / all) as u32;
        let length_s = end - laid;
        laid = end;
        (length_s > 0).then_some(Draft { length_s, ..draft })
    };
    drafts.into_iter().filter_map(&mut fit).collect()
}

/// Exactly as long as their block: what is over at the end is cut off, and what is missing is time after the last.
pub(super) fn cut_to(drafts: Vec<Draft>, length_s: u32) -> Vec<Draft> {
    let (mut laid, mut kept) = (0, Vec::new());
    let mut group = 0;
    for draft in drafts {
        let room = length_s - laid;
        if room == 0 {
            break;
        }
        let draft = Draft { length_s: draft.length_s.min(room), ..draft };
        group = draft.group;
        laid += draft.length_s;
        kept.push(draft);
    }
    if laid < length_s {
        let over = Draft::new(Kind::Rest, length_s - laid, "Time is up").saying("Time. Take a breath.");
        kept.push(Draft { group: group + 1, ..over });
    }
    kept
}

/// The class as phases.
pub fn timeline(plan: &Plan, catalogue: &Catalogue) -> Timeline {
    let mut blocks: Vec<Block> = Vec::new();
    for block in &plan.hour.blocks {
        let part = part_of(block);
        let drafts = drafts(plan, block, part, catalogue);
        // A clock that rests as written goes on by itself.
        let after_rest = blocks.last().is_some_and(|block| block.kind == "rest");
        let on_the_clock = matches!(block.kind, "strength" | "conditioning") && !after_rest;
        let mut drafts = drafts;
        if block.kind == "conditioning" && take_from_the_last(&mut blocks) {
            let last = drafts.iter().map(|draft| draft.group + 1).max().unwrap_or(0);
            let ready = Draft::new(Kind::Ready, COUNT_IN_S, "Get ready").saying("Ten seconds.");
            let cue = drafts.first().map_or_else(Vec::new, |draft| draft.cue.clone());
            drafts.insert(0, Draft { group: last, ..ready.showing(cue) });
        }
        let mut start_s = blocks
            .last()
            .and_then(|block| block.phases.last())
            .map_or(0, |phase| phase.start_s + phase.length_s);
        let follows = !blocks.is_empty();
        let place = |(draft, n): (Draft, usize)| {
            let phase = Phase {
                id: PhaseId { block: block.key.clone(), n },
                kind: draft.kind,
                start_s,
                length_s: draft.length_s,
                clock: draft.clock,
                group: draft.group,
                waits: n == 0 && on_the_clock && follows,
                title: draft.title,
                cue: draft.cue,
                say: draft.say,
                set: draft.set,
                turns: draft.turns.max(1),
            };
            start_s += draft.length_s;
            phase
        };
        blocks.push(Block {
            key: block.key.clone(),
            kind: block.kind,
            label: block.label.clone(),
            part,
            spare: matches!(block.kind, "accessory" | "cool_down" | "scores"),
            phases: drafts.into_iter().zip(0..).map(place).collect(),
        });
    }
    Timeline { blocks }
}

/// `conditioning-2` belongs to part 2.
fn part_of(block: &HourBlock) -> Option<usize> {
    block.key.rsplit_once('-')?.1.parse().ok()
}

/// Ten seconds off what comes before, for the count-in, where there are so many.
fn take_from_the_last(blocks: &mut [Block]) -> bool {
    let last = blocks.last_mut().and_then(|block| block.phases.last_mut());
    match last {
        Some(phase) if phase.length_s >= LONG_ENOUGH_S => {
            phase.length_s -= COUNT_IN_S;
            true
        }
        _ => false,
    }
}

fn drafts(plan: &Plan, block: &HourBlock, part: Option<usize>, catalogue: &Catalogue) -> Vec<Draft> {
    let length_s = block.length_s();
    let one =
        |kind, say: String, cue| vec![Draft::new(kind, length_s, &*block.label).showing(cue).saying(say)];
    let lines = || {
        part.and_then(|n| plan.session.parts.get(n))
            .map_or_else(Vec::new, |part| bare_lines(part, &part.tree, catalogue))
    };
    match block.kind {
        "brief" => match part {
            None => {
                let parts = plan
                    .hour
                    .blocks
                    .iter()
                    .filter(|block| matches!(block.kind, "strength" | "skill" | "conditioning"));
                let today: Vec<String> = parts.map(|block| block.label.clone()).collect();
                one(Kind::Talk, "Welcome. What we do today, and why.".to_owned(), today)
            }
            Some(_) => {
                one(Kind::Talk, "The piece: standards, versions, who starts where.".to_owned(), lines())
            }
        },
        "warmup" => fitted(warmup::drafts(plan, part.is_some()), length_s),
        "strength" => match plan.strength.iter().find(|lift| Some(lift.part) == part) {
            Some(of_lift) => lift::drafts(of_lift, length_s, catalogue),
            None => one(Kind::Lift, format!("{}.", block.label), lines()),
        },
        "conditioning" => {
            let floor = plan.floors.iter().find(|floor| Some(floor.part) == part);
            let heats: Vec<u32> = floor.map_or_else(Vec::new, |floor| {
                floor.floor.heats().into_iter().map(|(offset, _)| offset).collect()
            });
            match part.and_then(|n| plan.session.parts.get(n)) {
                Some(written) => piece::drafts(written, &heats, length_s, catalogue),
                None => one(Kind::Work, format!("{}.", block.label), Vec::new()),
            }
        }
        "climb" => one(
            Kind::Climb,
            "Climb to your weight, two or three repetitions a step.".to_owned(),
            vec![block.why.clone()],
        ),
        "rest" => one(Kind::Rest, format!("Rest: {}.", clock_s(length_s)), lines()),
        "set_up" => one(Kind::Talk, format!("Set up: {}.", block.why), vec![block.why.clone()]),
        "skill" | "accessory" => one(Kind::Ease, format!("{}: {}.", block.label, clock_s(length_s)), lines()),
        "scores" => one(Kind::Talk, "Scores, and everything back in its place.".to_owned(), Vec::new()),
        "cool_down" => one(Kind::Ease, "Cool down together.".to_owned(), lines()),
        _ => one(Kind::Talk, format!("{}.", block.label), lines()),
    }
}
