//! What stands around a seam: what ends above it, and what begins below.

use lantern_session::PartKind;
use lantern_session::movement::{Pattern, Unit as Counts};

use super::{Divider, heads_a_part, heavy, is_clock, prescribes};
use crate::label::Label;
use crate::say::{Item, Say};
use crate::unit::{Reading, Role, Said, Unit};

/// Sentences among which something is bought in with, above what goes on with it.
pub(super) const BOUGHT_IN: usize = 3;

/// From this on a rest in a line of its own may part two pieces, in seconds.
const LONG_REST_S: u32 = 120;

/// What the name of a piece stands in.
const QUOTES: [char; 4] = ['"', '\'', '\u{201c}', '\u{2018}'];

/// Sentences in which a lift is told right above what comes next.
const LIFT_LINES: usize = 3;

impl Divider<'_> {
    /// "Jerk day" below an empty line and above sets that name no lift.
    pub(super) fn is_named_for_a_lift(&self, at: usize) -> bool {
        let unit = &self.units[at];
        let names = |reading: &Reading| reading.role == Role::Work && reading.items().count() == 1;
        let sets = |next: &Unit| {
            let reading = &next.readings[0];
            let says = |say: &Say| matches!(say, Say::Rm(_) | Say::Build);
            !next.blank_before
                && reading.items().next().is_none()
                && (prescribes(reading) || reading.says(says))
        };
        unit.blank_before
            && unit.readings[0].role == Role::Title
            && unit.readings.iter().any(names)
            && self.units.get(at + 1).is_some_and(sets)
    }

    /// Whether the sentence before says of itself that it is the warm-up: "we get warm for ...".
    pub(super) fn warmed_up(&self, at: usize) -> bool {
        let warm = |say: &Say| matches!(say, Say::Kind(PartKind::Warmup));
        at > 0 && self.best(at - 1).says(warm)
    }

    /// "Cash out: 50 sit-ups" below a lift, or the word alone above its work: done once, after the sets.
    pub(super) fn cashes_out_of_a_lift(&self, at: usize) -> bool {
        let cashes =
            |at: usize| matches!(self.best(at).says.first().map(|said| &said.say), Some(Say::CashOut));
        let sets = |reading: &Reading| {
            prescribes(reading)
                || reading.says(|say| matches!(say, Say::Superset | Say::Sets(_)))
                || reading.items().count() == 1
                    && reading.says(|say| matches!(say, Say::Scheme { .. } | Say::Rpe(_)))
        };
        let above = || self.units[..at].iter().rev().take(LIFT_LINES).map(|unit| &unit.readings[0]);
        self.units[at].starts_line
            && cashes(at)
            && above().any(sets)
            && !above().any(|reading| {
                reading.says(is_clock) || reading.says(|say| matches!(say, Say::Rounds(_) | Say::ForTime))
            })
    }

    /// Whether the sentence before is practice for so long.
    pub(super) fn practised(&self, at: usize) -> bool {
        let practice = |say: &Say| matches!(say, Say::Kind(PartKind::Skill) | Say::Practice(_));
        let long = |say: &Say| matches!(say, Say::Length(_) | Say::Practice(_));
        at > 0 && self.best(at - 1).says(practice) && self.best(at - 1).says(long)
    }

    /// Whether only what is bought in with stands between "buy-in" in a line of its own and a sentence.
    pub(super) fn bought_in(&self, at: usize) -> bool {
        let above = self.units[..at].iter().rev().take(BOUGHT_IN);
        let buys = |unit: &&Unit| !unit.readings[0].says(|say| matches!(say, Say::BuyIn));
        let only_work = |unit: &Unit| {
            unit.heading.is_none()
                && unit.readings[0]
                    .says
                    .iter()
                    .all(|said| matches!(said.say, Say::Item(_) | Say::Load { .. }))
        };
        let since: Vec<&Unit> = above.take_while(buys).collect();
        let line = at.checked_sub(since.len() + 1).map(|line| &self.units[line]);
        let bought = |line: &Unit| line.readings[0].says(|say| matches!(say, Say::BuyIn));
        since.into_iter().all(only_work)
            && line.is_some_and(|line| bought(line) && !self.has_its_own_clock(at, line))
    }

    /// "0:00-8:00 buy-in: ...", and below it "8:00-20:00 AMRAP": each has its stretch of the clock, and neither is a step of the other.
    pub(super) fn has_its_own_clock(&self, at: usize, above: &Unit) -> bool {
        let window = |reading: &Reading| reading.says(|say| matches!(say, Say::Window(_)));
        window(&above.readings[0]) && window(self.best(at))
    }

    /// "Then for 5:00: max push-ups", or a line of such work below "rest 2:00, then".
    pub(super) fn opens_window(&self, at: usize) -> bool {
        let reading = self.best(at);
        let window = reading.items().count() == 1 && reading.items().any(|item| item.window_s.is_some());
        let led = at.checked_sub(1).is_some_and(|before| {
            let last = self.best(before).says.last().map(|said| &said.say);
            last.is_some_and(Say::leads_on)
        });
        // "45 s max dips. Rest 2. 45 s max squats": in one line too.
        let parted = at.checked_sub(1).is_some_and(|before| {
            let says = &self.best(before).says;
            matches!(&says[..], [rest] if matches!(rest.say, Say::Rest { .. }))
        });
        then_max(reading) || window && led && (parted || self.units[at].starts_line) && !self.in_circuit(at)
    }

    /// "Dumbbell day (2x22.5/15)" below an empty line, above the rounds that they are for.
    fn arms_what_follows(&self, at: usize) -> bool {
        let tools = |say: &Say| matches!(say, Say::ToolLoad { .. } | Say::OneTool(_));
        let reading = self.best(at);
        let next = self.units.get(at + 1);
        self.units[at].blank_before
            && reading.says(tools)
            && reading.items().next().is_none()
            && next.is_some_and(|next| !next.blank_before && next.readings[0].says(heads_a_part))
    }

    /// A line without work that stands over what is next.
    pub(super) fn tells_of_what_follows(&self, at: usize) -> bool {
        self.caps_what_follows(at) || self.counts_what_follows(at) || self.arms_what_follows(at)
    }

    /// "For most calories:" or "week 3 of 5" in a line of its own below an empty one, "A grinder, 28 min cap." in front of its work.
    pub(super) fn counts_what_follows(&self, at: usize) -> bool {
        let unit = &self.units[at];
        let says = &self.best(at).says;
        let only = |of: fn(&Say) -> bool| !says.is_empty() && says.iter().all(|said| of(&said.say));
        let counts = only(|say| matches!(say, Say::Score(_))) && unit.text.trim_end().ends_with(':')
            || only(|say| matches!(say, Say::Week(..)));
        let caps = only(|say| matches!(say, Say::Cap(_)));
        let work = |next: &Unit| {
            !next.blank_before
                && next.readings[0].items().next().is_some()
                && (counts && next.starts_line || caps)
        };
        // Where no empty line can show it, a cap with a name in front of it does.
        let apart = unit.blank_before || self.no_blanks && caps && self.best(at).unknown_words > 0;
        unit.starts_line && apart && self.units.get(at + 1).is_some_and(work)
    }

    /// "15 min cap" in a line of its own below a lift, above the rounds that it is of.
    pub(super) fn caps_what_follows(&self, at: usize) -> bool {
        let says = &self.best(at).says;
        let alone = !says.is_empty() && says.iter().all(|said| matches!(said.say, Say::Cap(_)));
        let headed = self.units.get(at + 1).is_some_and(|next| {
            !next.blank_before
                && next.heading.is_none()
                && next.readings[0]
                    .says(|say| matches!(say, Say::Rounds(_) | Say::Scheme { .. } | Say::ForTime))
        });
        let above = || self.units[..at].iter().rev().take(LIFT_LINES).map(|unit| &unit.readings[0]);
        let sets =
            |reading: &Reading| prescribes(reading) || reading.says(|say| matches!(say, Say::Scheme { .. }));
        let lift = above().any(sets) && !above().any(|reading| reading.says(is_clock));
        self.units[at].starts_line && alone && headed && lift
    }

    /// "3 rounds" above "2 min max row", "1 min rest", "2 min max burpees": windows that are gone round again.
    fn in_circuit(&self, at: usize) -> bool {
        if self.units[at].blank_before {
            return false;
        }
        for before in (0..at).rev() {
            let reading = self.best(before);
            if reading.says(|say| matches!(say, Say::Rounds(_) | Say::Sets(_))) {
                return reading.items().next().is_none();
            }
            let timed = |item: &Item| item.window_s.is_some() || item.unit == Some(Counts::Seconds);
            let rests = !reading.says.is_empty()
                && reading.says(|say| matches!(say, Say::Rest { .. } | Say::RestOpen | Say::RestAsWork(_)));
            if self.units[before].blank_before || !(rests || reading.items().any(timed)) {
                return false;
            }
        }
        false
    }

    /// Whether a line begins with the next letter: "C) ..." somewhere below "B) ..." or below the pair "B1) ...", "B2) ...".
    pub(super) fn new_letter(&self, at: usize) -> bool {
        let Label::Letter(now, None) = self.units[at].label else { return false };
        let before = self.units[..at].iter().rev().find_map(|unit| match unit.label {
            Label::Letter(letter, _) => Some(letter),
            _ => None,
        });
        self.units[at].starts_line
            && before.is_some_and(|letter| u32::from(now) == u32::from(letter) + 1)
            && !self.takes_turns(at)
    }

    /// "4 supersets:", and below it "a) ...", "b) ...": letters of what takes turns.
    fn takes_turns(&self, at: usize) -> bool {
        let lettered = |unit: &Unit| matches!(unit.label, Label::Letter(_, None));
        let row = self.units[..=at].iter().rev().take_while(|unit| lettered(unit)).count();
        let begins = at + 1 - row;
        let Some(header) = begins.checked_sub(1).map(|above| self.best(above)) else { return false };
        self.units[begins].label == Label::Letter('a', None)
            && self.units[begins..=at].iter().all(|unit| !unit.blank_before)
            && header.items().next().is_none()
            && header.says(|say| matches!(say, Say::Superset))
            && header.says(|say| matches!(say, Say::Sets(_)))
    }

    /// Whether every number above ("1. Squat 5 x 5", "2. 4 rounds", with a list below) stands in front of a whole part: so does the next.
    pub(super) fn lists_wholes(&self, at: usize) -> bool {
        let Label::Number(now) = self.units[at].label else { return false };
        let whole = |n: u32| {
            let is = |unit: &Unit, n: u32| unit.label == Label::Number(n) && unit.starts_line;
            let first = self.units[..at].iter().rposition(|unit| is(unit, n));
            first.is_some_and(|first| {
                let line = self.units[first].line;
                let mut said = (first..at).take_while(|other| self.units[*other].line == line);
                let heads = |reading: &Reading| {
                    reading.says(|say| heads_a_part(say) || matches!(say, Say::Superset | Say::Sets(_)))
                        || prescribes(reading)
                        // "2) max pull-ups", a test of its own behind that of a lift.
                        || n > 1 && reading.says(|say| matches!(say, Say::Max) || matches!(say, Say::Item(item) if item.max))
                };
                let all = first..(first + 1..at).find(|other| is(&self.units[*other], n + 1)).unwrap_or(at);
                said.any(|other| heads(self.best(other))) && { all }
                    .any(|other| self.best(other).items().next().is_some())
            })
        };
        now > 1 && self.units[at].starts_line && (1..now).all(whole)
    }

    /// "We finish with three minutes of couch stretch": the last of the day, wherever it stands in its line.
    pub(super) fn winds_down(&self, at: usize) -> bool {
        let reading = self.best(at);
        let leads = reading.says.first().is_some_and(|said| matches!(said.say, Say::Then));
        let stretch = |item: &Item| {
            let movement = item.movement.as_ref().and_then(|id| self.catalogue.get(id));
            item.is_anchored() && movement.is_some_and(|movement| movement.pattern == Pattern::Mobility)
        };
        let stretches = reading.items().next().is_some() && reading.items().all(stretch);
        stretches && (leads || self.follows_talk(at))
    }

    /// Whether nothing but talk stands between a line and the empty line above it.
    pub(super) fn follows_talk(&self, at: usize) -> bool {
        let talk = self.units[..at].iter().rev();
        let named = |unit: &Unit| unit.readings[0].role == Role::Title && unit.text.starts_with(QUOTES);
        // "Groups of six begin every 8 min from 18:10" is read, and is talk all the same.
        let told = |unit: &Unit| {
            let says = &unit.readings[0].says;
            !says.is_empty() && says.iter().all(|said| matches!(said.say, Say::Told))
        };
        let mut talk = talk.take_while(|unit| {
            (unit.readings[0].role == Role::Note || named(unit) || told(unit)) && unit.heading.is_none()
        });
        talk.any(|unit| unit.blank_before)
    }

    /// "Every 3:00 for 5 sets", a lift and "then 8 ring rows" below it, without an empty line: all of it is done each time.
    pub(super) fn on_the_clock_above(&self, at: usize) -> bool {
        let paragraph = (0..at).rev().take_while(|n| !self.units[n + 1].blank_before);
        let clock = |n: usize| self.best(n).says(|say| matches!(say, Say::Every { .. }));
        paragraph.take(LIFT_LINES).any(clock)
    }

    /// "Then 400 m together" in a line of its own below stations that each have so many minutes.
    pub(super) fn follows_stations(&self, at: usize) -> bool {
        let reading = self.best(at);
        let stations = |unit: &Unit| unit.readings[0].says(|say| matches!(say, Say::StationTime { .. }));
        let left = |say: &Say| matches!(say, Say::Remaining);
        self.units[at].starts_line
            && leads_work(reading)
            && !reading.says(left)
            && self.units[..at].iter().any(stations)
    }

    /// Whether the piece above runs on a clock that ends by itself: what comes then is no part of it.
    pub(super) fn ended(&self, at: usize) -> bool {
        // "AMRAP 10", its work, and below an empty line "then 400 m together".
        let unit = &self.units[at];
        let leads = unit.blank_before
            && unit.readings[0].says.first().is_some_and(|said| matches!(said.say, Say::Then));
        let ends = |say: &Say| {
            leads && matches!(say, Say::Amrap(Some(_)))
                || matches!(
                    say,
                    Say::Tabata
                        | Say::OnOff { .. }
                        | Say::StationTime { .. }
                        | Say::Bouts { .. }
                        | Say::UntilFailure { .. }
                )
                || matches!(say, Say::Every { times, total_s, .. } if times.is_some() || total_s.is_some())
        };
        let above = self.units[..at].iter().rev();
        let mut piece = above.take_while(|unit| !unit.blank_before || unit.readings[0].says(ends));
        piece.any(|unit| unit.readings[0].says(ends))
    }

    /// Whether a sentence starts its line, and whether an empty line stands before it, talk before it on its line passed over:
    /// "This one is quick. Seven minutes, ..."
    pub(super) fn place(&self, at: usize) -> (bool, bool) {
        let line = self.units[at].line;
        let before = self.units[..at].iter().rev().take_while(|unit| unit.line == line);
        let talk = before.clone().all(|unit| unit.readings[0].role == Role::Note && unit.heading.is_none());
        match before.last().filter(|_| talk) {
            Some(first) => (first.starts_line, first.blank_before),
            None => {
                let unit = &self.units[at];
                (unit.starts_line, unit.blank_before || unit.starts_line && self.follows_talk(at))
            }
        }
    }

    /// Whether what could begin a part is one more entry of the part that stands above: a lift of a superset, or rounds
    /// alone in a piece for time ("For time / 15 burpees / 6 rounds / ...").
    pub(super) fn belongs_above(&self, at: usize) -> bool {
        let reading = self.best(at);
        let lists = |reading: &&Reading| {
            matches!(reading.role, Role::Work) && reading.items().next().is_some() && !reading.says(is_clock)
        };
        let header = self.units[..at].iter().rev().map(|unit| &unit.readings[0]).find(|above| !lists(above));
        let rounds_alone = reading.says.iter().all(|said| matches!(said.say, Say::Rounds(_)));
        header.is_some_and(|header| {
            heavy(reading) && header.says(|say| matches!(say, Say::Superset))
                || rounds_alone && header.says(|say| matches!(say, Say::ForTime))
        })
    }

    /// "For time:" in a line of its own, "1 km run" below it, and then "3 rounds of: ...".
    pub(super) fn rounds_of_what_is_raced(&self, at: usize) -> bool {
        let raced = |reading: &Reading| {
            reading.says(|say| matches!(say, Say::ForTime)) && reading.items().next().is_none()
        };
        let listed = |unit: &Unit| {
            let reading = &unit.readings[0];
            let only = |said: &Said| matches!(said.say, Say::Item(_) | Say::Load { .. });
            !unit.blank_before
                && unit.heading.is_none()
                && reading.items().next().is_some()
                && reading.says.iter().all(only)
        };
        let list = self.units[..at].iter().rev().take_while(|unit| listed(unit)).count();
        let rounds = matches!(self.best(at).says.first().map(|said| &said.say), Some(Say::Rounds(_)));
        let unit = &self.units[at];
        rounds
            && unit.starts_line
            && !unit.blank_before
            && unit.label == Label::None
            && (1..=BOUGHT_IN).contains(&list)
            && at.checked_sub(list + 1).is_some_and(|header| raced(self.best(header)))
    }

    /// Whether a sentence is the name of a lift whose sets stand in the next.
    pub(super) fn names_lift(&self, at: usize) -> bool {
        let reading = self.best(at);
        let bare = reading.says.len() == 1 && reading.items().any(|item| !item.is_anchored());
        // "Clean complex", "1 clean + 2 front squats", and then the sets of it.
        let made_of = |reading: &&Reading| {
            reading.says(|say| matches!(say, Say::Plus)) && reading.items().all(Item::is_anchored)
        };
        let mut below = self.units[at + 1..].iter().map(|unit| &unit.readings[0]).skip_while(made_of);
        let next = below.next();
        let clock = |next: &Reading| {
            next.says(|say| matches!(say, Say::Every { .. }))
                && next.items().all(|item| item.movement.is_none())
        };
        let sets = next.is_some_and(|next| prescribes(next) || clock(next));
        bare && self.units[at].starts_line && (sets || self.first_letter(at))
    }

    /// Whether a rest of its own line stands right above.
    pub(super) fn rested(&self, at: usize) -> bool {
        let above = at.checked_sub(1).map(|above| &self.units[above]);
        above.is_some_and(|unit| {
            let says = &unit.readings[0].says;
            unit.starts_line && matches!(&says[..], [rest] if matches!(rest.say, Say::Rest { low_s, .. } if low_s >= LONG_REST_S))
        })
    }

    /// "A) Back squat" where "B)" comes below: letters stand in front of the parts of the day.
    fn first_letter(&self, at: usize) -> bool {
        let lettered = |unit: &Unit, letter: char| {
            matches!(unit.label, Label::Letter(now, None) if now == letter) && unit.starts_line
        };
        let below = || self.units[at + 1..].iter().filter(|unit| matches!(unit.label, Label::Letter(..)));
        lettered(&self.units[at], 'a') && below().next().is_some_and(|unit| lettered(unit, 'b'))
    }

    /// Whether a sentence says how something is run or prescribes a lift.
    pub(super) fn heads(&self, at: usize) -> bool {
        let reading = self.best(at);
        self.units[at].heading.is_some()
            || reading.says(heads_a_part)
            || prescribes(reading)
            || reading.says(|say| matches!(say, Say::Sets(_)))
            || self.units[at].blank_before
    }

    /// "4 x 500 m, 90 s rest", below it "3 min off", and then "4 x 250 m": a rest in a line of its own parts rounds that each count their own.
    pub(super) fn rounds_after_a_rest(&self, at: usize) -> bool {
        let rounds = |reading: &Reading| {
            reading.says(|say| matches!(say, Say::Rounds(_))) && reading.items().any(Item::is_anchored)
        };
        let rests =
            |reading: &Reading| reading.says(|say| matches!(say, Say::Rest { .. } | Say::RestAsWork(_)));
        let [first, rest, own] = &self.units[at.saturating_sub(2)..=at] else { return false };
        let [first, alone, own] = [first, rest, own].map(|unit| &unit.readings[0]);
        let lone = alone.says.len() == 1 && rest.starts_line && self.units[at].starts_line;
        rounds(first) && rests(first) && lone && rests(alone) && rounds(own)
    }

    /// Whether a heading stands right below one of the same kind that has nothing but a length so far: "Skill (10 min)", "Practice: ...".
    pub(super) fn heads_the_same(&self, at: usize) -> bool {
        let Some(above) = at.checked_sub(1).map(|above| &self.units[above]) else { return false };
        let kind = |unit: &Unit| unit.heading.as_ref().map(|(kind, _)| *kind);
        let says = &above.readings[0].says;
        !self.units[at].blank_before
            && self.units[at].label == Label::None
            && kind(above) == kind(&self.units[at])
            && says.iter().all(|said| matches!(said.say, Say::Length(_)))
    }
}

/// "Then: 100 leg curls": work with its amount, led to by a word.
pub(super) fn leads_work(reading: &Reading) -> bool {
    let leads = reading.says.first().is_some_and(|said| matches!(said.say, Say::Then));
    leads && reading.items().any(|item| item.is_anchored() && item.movement.is_some())
}

/// "then press 5x3 @ 80 %": a lift with its sets, led to by a word.
pub(super) fn leads_lift(reading: &Reading) -> bool {
    let leads = reading.says.first().is_some_and(|said| matches!(said.say, Say::Then));
    leads && prescribes(reading) && reading.items().next().is_some()
}

/// "then for 5:00: max push-ups": as much as goes into a length, after something else.
fn then_max(reading: &Reading) -> bool {
    reading.says(|say| matches!(say, Say::Then)) && reading.items().any(|item| item.window_s.is_some())
}
