//! Clauses: the structure that coaches write around movements.
//!
//! Rules run in the order of `rules::RULES`; what a rule has claimed is hidden from the rules after it, so
//! `2 x 15/10 kg` is a load before it can be two sets of fifteen. What a rule makes of its text stands in
//! `captured`.

use std::sync::LazyLock;

use regex::{Regex, RegexSet, RegexSetBuilder};

use super::rules::{RULES, expand};
use crate::movement::{LoadKind, Unit};
use crate::session::{Intent, Load, LoadUnit, RestAfter, Score, Sharing};

/// What a rule found.
#[derive(Clone, Debug, PartialEq)]
pub(super) enum Clause {
    /// "no, sorry": what stands before it is taken back.
    Withdraw,
    /// `2)` inside a line: the next in an order.
    Place(u32),
    Week(u32, Option<u32>),
    Tempo(String),
    OnOff {
        times: Option<u32>,
        work_s: u32,
        rest_s: u32,
    },
    Tabata,
    /// As much as possible, in these seconds.
    Amrap(Option<u32>),
    /// So many bouts of the AMRAP beside it.
    Bouts(u32),
    Every {
        interval_s: u32,
        times: Option<u32>,
        total_s: Option<u32>,
    },
    /// Work that cuts in at each mark of the clock.
    Interrupt {
        every_s: u32,
        from_s: u32,
    },
    /// Work owed for each break.
    Penalty,
    UntilFailure,
    AddEach(u32),
    ForTime,
    Quality,
    Rest {
        low_s: u32,
        high_s: u32,
        after: Option<RestAfter>,
    },
    /// Rest without a length: as needed, or what the interval leaves.
    RestOpen,
    Cap(Option<u32>),
    Target {
        low: Option<f64>,
        high: Option<f64>,
        of: TargetOf,
    },
    RoundUnder(u32),
    Intent(Intent),
    Score(Score),
    Team(u32),
    Sharing(Sharing),
    BuildTo(u32),
    Percent(Vec<[f64; 2]>),
    Rpe([f64; 2]),
    Sets(u32),
    MoreSets(u32),
    TopSets(u32),
    /// `5x3`, `4 sets of 8-10`.
    SetsReps {
        sets: u32,
        reps: u32,
        upper: Option<u32>,
    },
    /// `5 @ 75%` in a list of sets.
    SetAt {
        reps: u32,
        percent: f64,
    },
    Rounds(u32),
    /// A scheme; `open` carries the step when it goes on without end.
    Scheme {
        reps: Vec<u32>,
        open: Option<u32>,
    },
    Window {
        seconds: u32,
    },
    ClockStart,
    BuyIn,
    CashOut,
    Then,
    AfterEach,
    Remaining,
    Superset,
    Max(Option<Unit>),
    Side,
    /// Bare "each": each side when the movement has sides.
    Each,
    /// `(3/3)`: how the number splits.
    Split,
    SameLoad,
    Or,
    Load(Load),
    LoadRange(f64, f64, LoadUnit),
    /// A load beside the tool that it is of: `KB 24/16`.
    ImplementLoad(ImplementLoad),
    /// A load without a unit, after `@`.
    BareLoad(f64, Option<f64>),
    Amount {
        first: f64,
        second: Option<f64>,
        unit: Option<Unit>,
    },
    /// A number in words: an amount only right before a movement.
    WordAmount(f64),
    Length(u32),
}

/// What is held, as far as a load says so.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Implement {
    Bar,
    Dumbbell,
    Kettlebell,
}

impl Implement {
    pub fn is_held_in(self, kind: LoadKind) -> bool {
        match self {
            Self::Bar => kind == LoadKind::Barbell,
            Self::Dumbbell => matches!(kind, LoadKind::DumbbellEach | LoadKind::DumbbellSingle),
            Self::Kettlebell => kind == LoadKind::Kettlebell,
        }
    }
}

/// A load beside the tool that it is of.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct ImplementLoad {
    pub implement: Implement,
    pub first: f64,
    pub second: Option<f64>,
    pub unit: Option<LoadUnit>,
    pub implements: u8,
}

impl ImplementLoad {
    pub fn load(&self) -> Option<Load> {
        let Self { first, second, implements, .. } = *self;
        self.unit.map(|unit| Load { first, second, unit, implements })
    }
}

impl Clause {
    /// Whether it prescribes a lift: sets, a share of the maximum, a heavy set to find.
    pub fn is_prescription(&self) -> bool {
        matches!(
            self,
            Self::SetsReps { .. }
                | Self::SetAt { .. }
                | Self::Percent(_)
                | Self::BuildTo(_)
                | Self::Rpe(_)
                | Self::Tempo(_)
                | Self::Week(..)
        )
    }
}

/// What a target counts.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum TargetOf {
    Seconds,
    Rounds,
    Reps,
    /// Left open: rounds for an AMRAP, minutes otherwise.
    Bare,
}

/// A clause with its place in the line.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Claimed {
    pub start: usize,
    pub end: usize,
    pub clause: Clause,
}

/// Room for the automaton of all rules together; with less it is thrown away and begun anew within a day's text.
const AUTOMATON_BYTES: usize = 64 << 20;

struct Compiled {
    set: RegexSet,
    rules: Vec<Regex>,
}

static COMPILED: LazyLock<Compiled> = LazyLock::new(|| {
    let patterns: Vec<String> = RULES.iter().map(|rule| expand(rule.pattern)).collect();
    Compiled {
        set: RegexSetBuilder::new(&patterns).dfa_size_limit(AUTOMATON_BYTES).build().expect("tested"),
        rules: patterns.iter().map(|pattern| Regex::new(pattern).expect("tested")).collect(),
    }
});

/// Claims all clauses of a comparable text. Claimed places are overwritten with [`CLAIMED`] in `text`.
pub(super) fn claim(text: &mut String) -> Vec<Claimed> {
    let mut claimed: Vec<Claimed> = Vec::new();
    let likely = COMPILED.set.matches(text);
    for n in &likely {
        let pattern = &COMPILED.rules[n];
        let mut place = 0;
        while let Some(captures) = (place <= text.len()).then(|| pattern.captures_at(text, place)).flatten() {
            let whole = captures.get(0).expect("the whole match is always there");
            let (start, end) = (whole.start(), whole.end());
            let clauses = if start == end { Vec::new() } else { (RULES[n].read)(&captures) };
            if clauses.is_empty() {
                place = next_place(text, start + 1);
                continue;
            }
            claimed.extend(clauses.into_iter().map(|clause| Claimed { start, end, clause }));
            let hidden = CLAIMED.repeat(end - start);
            text.replace_range(start..end, &hidden);
            place = end;
        }
    }
    claimed.sort_by_key(|claim| claim.start);
    claimed
}

/// Claims the numbers of an order written along one line: `1) 12 cal row 2) 10 burpees`. `next` is the
/// number that would come first, since the front of the line may have lost its own.
pub(super) fn claim_places(text: &mut String, next: u32) -> Vec<Claimed> {
    let mut claimed = Vec::new();
    let (mut wanted, mut from) = (next, 0);
    let mut close = None;
    while let Some((start, end, closing)) = place_in_order(text, wanted, from) {
        if *close.get_or_insert(closing) != closing {
            break;
        }
        claimed.push(Claimed { start, end, clause: Clause::Place(wanted) });
        (wanted, from) = (wanted + 1, end);
    }
    if next == 1 && claimed.len() < 2 {
        return Vec::new();
    }
    for place in &claimed {
        text.replace_range(place.start..place.end, &CLAIMED.repeat(place.end - place.start));
    }
    claimed
}

/// The next `2)` or `2. ` in a text, with the mark that closes it.
fn place_in_order(text: &str, wanted: u32, from: usize) -> Option<(usize, usize, u8)> {
    let digits = wanted.to_string();
    let bytes = text.as_bytes();
    text[from..].match_indices(&digits).map(|(at, _)| from + at).find_map(|start| {
        let end = start + digits.len();
        let stands_free = start == 0 || matches!(bytes[start - 1], b' ' | b'(' | b',' | b';' | b':');
        let closing = *bytes.get(end).filter(|b| matches!(b, b')' | b'.'))?;
        let spaced = closing == b')' || bytes.get(end + 1) == Some(&b' ');
        (stands_free && spaced && bytes.len() > end + 1).then_some((start, end + 1, closing))
    })
}

/// Stands for a claimed byte; no rule and no name matches it.
pub(super) const CLAIMED: &str = "\u{1}";

fn next_place(text: &str, mut place: usize) -> usize {
    while place < text.len() && !text.is_char_boundary(place) {
        place += 1;
    }
    place
}

#[cfg(test)]
mod tests {
    use super::*;

    fn clauses(text: &str) -> Vec<Clause> {
        let mut text = text.to_owned();
        claim(&mut text).into_iter().map(|claim| claim.clause).collect()
    }

    #[test]
    fn every_rule_claims_its_own_example() {
        for (n, rule) in RULES.iter().enumerate() {
            assert!(COMPILED.rules[n].is_match(rule.example), "{}", rule.example);
        }
    }

    #[test]
    fn a_load_is_claimed_before_it_can_be_sets() {
        let pair = Load { first: 15.0, second: Some(10.0), unit: LoadUnit::Kg, implements: 2 };
        assert_eq!(clauses("2 x 15/10 kg"), [Clause::Load(pair)]);
        assert_eq!(clauses("2x15/10kg"), [Clause::Load(pair)]);
        assert_eq!(clauses("5x3"), [Clause::SetsReps { sets: 5, reps: 3, upper: None }]);
    }

    #[test]
    fn percentages_are_a_share_a_range_or_one_for_each_set() {
        assert_eq!(clauses("@ 75%"), [Clause::Percent(vec![[75.0, 75.0]])]);
        assert_eq!(clauses("@ 70-75%"), [Clause::Percent(vec![[70.0, 75.0]])]);
        assert_eq!(clauses("from 55 to 75% and up"), [Clause::Percent(vec![[55.0, 75.0]])]);
        assert_eq!(clauses("@ 70-75-80-85%").len(), 1);
        assert!(clauses("10% lighter").iter().all(|clause| !matches!(clause, Clause::Percent(_))));
    }

    #[test]
    fn schemes_with_dots_are_spelt_out_or_left_open() {
        assert_eq!(clauses("10-9-8...1"), [Clause::Scheme { reps: (1..=10).rev().collect(), open: None }]);
        assert_eq!(clauses("2-4-6-..."), [Clause::Scheme { reps: vec![2, 4, 6], open: Some(2) }]);
        assert_eq!(
            clauses("20-18-16-...-10"),
            [Clause::Scheme { reps: vec![20, 18, 16, 14, 12, 10], open: None }]
        );
    }

    #[test]
    fn clocks_of_every_handwriting_are_read() {
        let every = |interval_s, times, total_s| vec![Clause::Every { interval_s, times, total_s }];
        assert_eq!(clauses("emom 16"), every(60, Some(16), Some(960)));
        assert_eq!(clauses("e2mom x 7"), every(120, Some(7), None));
        assert_eq!(clauses("every 4:00 for 5 rounds"), every(240, Some(5), None));
        assert_eq!(clauses("every 75 s x 9"), every(75, Some(9), None));
        assert_eq!(clauses("every 2 min for 14 min"), every(120, Some(7), Some(840)));
        assert_eq!(clauses("12 min emom"), every(60, Some(12), Some(720)));
        assert_eq!(clauses("every minute on the minute"), every(60, None, None));
    }

    #[test]
    fn rests_know_what_they_follow() {
        let each = Some(RestAfter::Each);
        assert_eq!(
            clauses("rest 2:00 between sets"),
            [Clause::Rest { low_s: 120, high_s: 120, after: each }]
        );
        assert_eq!(
            clauses("rest exactly 3:00 after rounds one and two"),
            [Clause::Rest { low_s: 180, high_s: 180, after: each }]
        );
        assert_eq!(clauses("one minute between them"), [Clause::Rest { low_s: 60, high_s: 60, after: each }]);
        assert_eq!(clauses("rest 90 s"), [Clause::Rest { low_s: 90, high_s: 90, after: None }]);
        assert_eq!(clauses("rest as needed"), [Clause::RestOpen]);
    }

    #[test]
    fn targets_speak_of_minutes_rounds_or_leave_it_open() {
        let target = |low, high, of| vec![Clause::Target { low, high, of }];
        assert_eq!(clauses("goal: 5-6 rounds"), target(Some(5.0), Some(6.0), TargetOf::Rounds));
        assert_eq!(clauses("sub 7"), target(None, Some(420.0), TargetOf::Seconds));
        assert_eq!(clauses("shooting for 12-16"), target(Some(12.0), Some(16.0), TargetOf::Bare));
        assert_eq!(clauses("4+ rounds"), target(Some(4.0), None, TargetOf::Rounds));
        assert_eq!(clauses("around 15 to 18 min"), target(Some(900.0), Some(1080.0), TargetOf::Seconds));
        assert_eq!(clauses("each round in under 3:00"), [Clause::RoundUnder(180)]);
    }
}
