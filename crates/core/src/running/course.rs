//! Where a class stands: from what has happened, which phase it is and how far into it.

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};

use super::onward::GoneOn;
use super::phases::{Clock, Phase, PhaseId, Timeline};
use crate::units::clock_s;

/// Something that a coach has done to the clock.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(tag = "what", rename_all = "snake_case")]
pub enum Happened {
    /// The class begins.
    Start,
    /// The clock stands.
    Pause,
    /// The clock runs again.
    Resume,
    /// A phase gets more time.
    Longer {
        /// Which, while it is the one that runs.
        phase: PhaseId,
        /// So many seconds more.
        seconds: u32,
    },
    /// A phase is over, and all that shares its clock; what comes next begins.
    Next {
        /// Which, while it is the one that runs: of two coaches who say so at once, one is heard.
        from: PhaseId,
    },
    /// A phase begins again, with all that shares its clock; in its first seconds, what came before it.
    Back {
        /// Which, while it is the one that runs.
        from: PhaseId,
    },
    /// On to a phase, from wherever the class is: a piece starts now, or once more.
    GoTo {
        /// Which.
        phase: PhaseId,
    },
    /// A block falls out.
    Without {
        /// Its key.
        block: String,
    },
    /// A block that fell out is back.
    With {
        /// Its key.
        block: String,
    },
    /// Somebody has so many rounds of a piece behind them.
    Round {
        /// The part's place in the session.
        part: usize,
        /// The number of the member's row.
        member: i64,
        /// Rounds in all.
        rounds: u32,
    },
    /// Somebody is done with an interval.
    Split {
        /// The part's place in the session.
        part: usize,
        /// The number of the member's row.
        member: i64,
        /// Which interval, from 0.
        interval: u32,
        /// Seconds since it began; 0 where that was a slip.
        seconds: u32,
    },
    /// Somebody goes on with an easier version.
    GoesOn {
        /// The part's place in the session.
        part: usize,
        /// The number of the member's row.
        member: i64,
        /// From where, with what, and what was expected of it.
        how: GoneOn,
    },
    /// What a coach notes about the class; the last that was noted stands.
    Note {
        /// In their words; nothing takes the note away.
        text: String,
    },
    /// Something never happened: a tap too many. Time has gone on as if it had not.
    Undo {
        /// When that was.
        at_ms: i64,
    },
    /// The class is over.
    Close,
    /// It is not, after all.
    Reopen,
}

/// Something that has happened, and when.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Event {
    /// When, in milliseconds since 1970.
    pub at_ms: i64,
    /// What.
    pub what: Happened,
}

/// Whether the clock runs.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum State {
    /// The class has not begun.
    #[default]
    Before,
    /// It runs.
    Running,
    /// It stands.
    Paused,
    /// The class is over.
    Closed,
}

impl State {
    /// As devices are told it.
    pub const fn name(self) -> &'static str {
        match self {
            Self::Before => "before",
            Self::Running => "running",
            Self::Paused => "paused",
            Self::Closed => "closed",
        }
    }
}

/// Seconds at the beginning of a phase in which *back* goes to the one before.
const FIRST_SECONDS_MS: i64 = 5_000;
/// Most that is added to a class in all, in seconds.
const MOST_ADDED_S: u32 = 3600;

/// What of all that has happened stands, in its order.
fn standing(events: &[Event]) -> Vec<&Event> {
    let mut stands: Vec<&Event> = Vec::new();
    for event in events {
        match event.what {
            Happened::Undo { at_ms } => {
                if let Some(n) = stands.iter().rposition(|known| known.at_ms == at_ms) {
                    stands.remove(n);
                }
            }
            _ => stands.push(event),
        }
    }
    stands
}

/// The last that was done to the clock and stands, for whoever wants to take it back; rounds are counted elsewhere, and a note is written anew.
pub fn last_done(events: &[Event]) -> Option<&Event> {
    let of_the_clock = |event: &&Event| {
        !matches!(
            event.what,
            Happened::Round { .. } | Happened::Split { .. } | Happened::GoesOn { .. } | Happened::Note { .. }
        )
    };
    standing(events).into_iter().rev().find(of_the_clock)
}

/// How somebody has last gone on with an easier version of a part.
pub fn gone_on(events: &[Event], of: (usize, i64)) -> Option<&GoneOn> {
    events.iter().rev().find_map(|event| match &event.what {
        Happened::GoesOn { part, member, how } if (*part, *member) == of => Some(how),
        _ => None,
    })
}

/// What is noted about the class; nothing where nobody noted anything.
pub fn note(events: &[Event]) -> &str {
    let mut noted = events.iter().rev().filter_map(|event| match &event.what {
        Happened::Note { text } => Some(text.as_str()),
        _ => None,
    });
    noted.next().unwrap_or_default()
}

/// Where a class stands.
#[derive(Clone, Debug, PartialEq)]
pub struct Course<'a> {
    phases: Vec<&'a Phase>,
    longer: BTreeMap<PhaseId, u32>,
    without: BTreeSet<String>,
    rounds: BTreeMap<(usize, i64), u32>,
    splits: BTreeMap<(usize, i64), BTreeMap<u32, u32>>,
    state: State,
    /// The phase that runs, and milliseconds since it began, at `at_ms`.
    phase: usize,
    into_ms: i64,
    at_ms: i64,
}

impl<'a> Course<'a> {
    /// After everything that has happened, in its order. What comes with an earlier time than what came before it counts as of then.
    pub fn after(timeline: &'a Timeline, events: &[Event]) -> Self {
        let mut course = Self {
            phases: timeline.phases().collect(),
            longer: BTreeMap::new(),
            without: BTreeSet::new(),
            rounds: BTreeMap::new(),
            splits: BTreeMap::new(),
            state: State::Before,
            phase: 0,
            into_ms: 0,
            at_ms: events.first().map_or(0, |event| event.at_ms),
        };
        standing(events).into_iter().for_each(|event| course.happens(event));
        course
    }

    /// The same at another time; the past is where it was.
    pub fn at(mut self, now_ms: i64) -> Self {
        self.runs_until(now_ms);
        self
    }

    /// Whether the clock runs.
    pub fn state(&self) -> State {
        self.state
    }

    /// Phases with their lengths as they are now, in milliseconds; none for what fell out.
    pub fn lengths(&self) -> impl Iterator<Item = (&'a Phase, i64)> {
        (0..self.phases.len()).map(|n| (self.phases[n], self.length_ms(n)))
    }

    /// The place of the phase that runs, among all.
    pub fn place(&self) -> usize {
        self.phase
    }

    /// The phase that runs; none where the class has none.
    pub fn phase(&self) -> Option<&'a Phase> {
        self.phases.get(self.phase).copied()
    }

    /// Milliseconds since it began. Where the next one waits for the coach it grows beyond the length.
    pub fn into_ms(&self) -> i64 {
        self.into_ms
    }

    /// The time at which it was so, in milliseconds since 1970.
    pub fn at_ms(&self) -> i64 {
        self.at_ms
    }

    /// Milliseconds until the end of class, where nothing more is waited for.
    pub fn left_ms(&self) -> i64 {
        let after: i64 = (self.phase + 1..self.phases.len()).map(|n| self.length_ms(n)).sum();
        if self.phases.is_empty() { 0 } else { after + (self.length_ms(self.phase) - self.into_ms).max(0) }
    }

    /// Milliseconds that the clock of the phase shows that runs: since its group began, and until it ends.
    pub fn group_ms(&self) -> (i64, i64) {
        if self.phases.is_empty() {
            return (0, 0);
        }
        let same = |n: &usize| self.shares_the_clock(*n);
        let before: i64 = (0..self.phase).rev().take_while(same).map(|n| self.length_ms(n)).sum();
        let after: i64 =
            (self.phase + 1..self.phases.len()).take_while(same).map(|n| self.length_ms(n)).sum();
        (before + self.into_ms, after + self.length_ms(self.phase) - self.into_ms)
    }

    /// What the clock reads: since the start of what runs, or until its end; how long it has been over, with a plus.
    pub fn reads(&self) -> String {
        let Some(now) = self.phase() else { return clock_s(0) };
        let over = self.into_ms - self.length_ms(self.phase);
        let (since, until) = self.group_ms();
        let whole = |ms: i64| (ms.max(0) / 1_000) as u32;
        if over > 0 && self.following(self.phase).is_some() {
            return format!("+{}", clock_s(whole(over)));
        }
        match now.clock {
            Clock::Up => clock_s(whole(since)),
            // A second that has begun is still there.
            Clock::Down => clock_s(whole(until + 999)),
        }
    }

    /// Blocks that fell out, by key.
    pub fn without(&self) -> impl Iterator<Item = &str> {
        self.without.iter().map(String::as_str)
    }

    /// Rounds that somebody has behind them in a part, as they were counted.
    pub fn rounds(&self, part: usize, member: i64) -> Option<u32> {
        self.rounds.get(&(part, member)).copied()
    }

    /// Intervals that somebody is done with, from 0, each with its seconds.
    pub fn splits(&self, part: usize, member: i64) -> impl Iterator<Item = (u32, u32)> {
        self.splits
            .get(&(part, member))
            .into_iter()
            .flatten()
            .map(|(interval, seconds)| (*interval, *seconds))
    }

    /// The count-in of the next piece, or the first phase that waits for the coach, from where the class is.
    pub fn next_start(&self) -> Option<&'a Phase> {
        let ahead = self.phases.iter().enumerate().skip(self.phase + 1);
        ahead.filter(|(n, phase)| phase.waits && self.length_ms(*n) > 0).map(|(_, phase)| *phase).next()
    }

    /// Whether a phase shares its clock with the one that runs.
    fn shares_the_clock(&self, n: usize) -> bool {
        let (other, now) = (self.phases[n], self.phases[self.phase]);
        other.id.block == now.id.block && other.group == now.group
    }

    fn length_ms(&self, n: usize) -> i64 {
        let phase = self.phases[n];
        if self.without.contains(&phase.id.block) {
            return 0;
        }
        let more = self.longer.get(&phase.id).copied().unwrap_or(0);
        1_000 * i64::from(phase.length_s + more)
    }

    fn runs_until(&mut self, now_ms: i64) {
        let gone = (now_ms - self.at_ms).max(0);
        self.at_ms = self.at_ms.max(now_ms);
        if self.state != State::Running || self.phases.is_empty() {
            return;
        }
        self.into_ms += gone;
        while let Some(next) = self.following(self.phase) {
            let over = self.into_ms - self.length_ms(self.phase);
            if over < 0 || self.phases[next].waits {
                break;
            }
            (self.phase, self.into_ms) = (next, over);
        }
    }

    /// The next phase that has not fallen out.
    fn following(&self, n: usize) -> Option<usize> {
        (n + 1..self.phases.len()).find(|n| self.length_ms(*n) > 0)
    }

    fn begin(&mut self, n: usize) {
        (self.phase, self.into_ms) = (n, 0);
        if matches!(self.state, State::Before | State::Paused) {
            self.state = State::Running;
        }
    }

    fn is_now(&self, phase: &PhaseId) -> bool {
        self.phase().is_some_and(|now| now.id == *phase)
    }

    /// Whether a block has not begun yet.
    fn is_ahead(&self, block: &str) -> bool {
        let ahead = self.phases.iter().skip(self.phase + 1).any(|phase| phase.id.block == block);
        ahead && self.phase().is_some_and(|now| now.id.block != block)
    }

    fn happens(&mut self, event: &Event) {
        self.runs_until(event.at_ms);
        match &event.what {
            Happened::Start if self.state == State::Before => self.state = State::Running,
            Happened::Pause if self.state == State::Running => self.state = State::Paused,
            Happened::Resume if self.state == State::Paused => self.state = State::Running,
            Happened::Longer { phase, seconds } if self.is_now(phase) => {
                let added: u32 = self.longer.values().sum();
                let more = (*seconds).min(MOST_ADDED_S.saturating_sub(added));
                *self.longer.entry(phase.clone()).or_default() += more;
            }
            Happened::Next { from } if self.is_now(from) && self.state != State::Closed => {
                match (self.phase + 1..self.phases.len())
                    .find(|n| self.length_ms(*n) > 0 && !self.shares_the_clock(*n))
                {
                    Some(next) => self.begin(next),
                    None => self.state = State::Closed,
                }
            }
            Happened::Back { from } if self.is_now(from) => {
                let first = |of: &Self| (0..of.phase).rev().take_while(|n| of.shares_the_clock(*n)).last();
                let begun = self.group_ms().0;
                self.phase = first(self).unwrap_or(self.phase);
                if begun < FIRST_SECONDS_MS
                    && let Some(before) = (0..self.phase).rev().find(|n| self.length_ms(*n) > 0)
                {
                    self.phase = before;
                    self.phase = first(self).unwrap_or(before);
                }
                self.begin(self.phase);
            }
            Happened::GoTo { phase } if self.state != State::Closed => {
                if let Some(n) = self.phases.iter().position(|known| known.id == *phase) {
                    self.without.remove(&phase.block);
                    self.begin(n);
                }
            }
            // What has begun stays: it is ended by going on.
            Happened::Without { block } if self.is_ahead(block) => {
                self.without.insert(block.clone());
            }
            Happened::With { block } => {
                self.without.remove(block);
            }
            Happened::Round { part, member, rounds } => {
                self.rounds.insert((*part, *member), *rounds);
            }
            Happened::Split { part, member, interval, seconds } => {
                let theirs = self.splits.entry((*part, *member)).or_default();
                match seconds {
                    0 => theirs.remove(interval),
                    _ => theirs.insert(*interval, *seconds),
                };
            }
            Happened::Close => self.state = State::Closed,
            Happened::Reopen if self.state == State::Closed => self.state = State::Paused,
            _ => {}
        }
    }
}
