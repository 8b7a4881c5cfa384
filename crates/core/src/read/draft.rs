//! A part while its lines come in: facts where they are known, and the steps of its work in order.

use super::clause::{Clause, ImplementLoad, TargetOf};
use super::label::Label;
use super::line::{Found, Item, Line, What};
use crate::movement::MovementId;
use crate::session::{
    Alternative, Intent, LoadUnit, PartKind, Prescription, Rest, RestAfter, Score, Sharing, Tempo,
};

/// Shorter lengths belong to a hold or a pause, not to a part.
const SHORTEST_PART_S: u32 = 15;

/// A part being collected.
#[derive(Clone, Debug, Default)]
pub(super) struct Draft {
    pub kind: Option<PartKind>,
    pub heading: Option<String>,
    pub first_line: usize,
    pub last_line: usize,
    pub label: Option<Label>,
    pub steps: Vec<Step>,
    pub amrap: Option<Option<u32>>,
    /// Bouts of the AMRAP, with the written rest between them.
    pub bouts: Option<u32>,
    pub every: Option<(u32, Option<u32>, Option<u32>)>,
    /// The clock stands in a header, before any work.
    pub every_leads: bool,
    pub on_off: Option<(Option<u32>, u32, u32)>,
    pub tabata: bool,
    pub for_time: bool,
    pub quality: bool,
    pub until_failure: bool,
    pub add_each: Option<u32>,
    pub superset: bool,
    pub remaining: bool,
    pub sets: Option<u32>,
    pub sets_reps: Vec<(u32, u32)>,
    pub set_list: Vec<(u32, f64)>,
    pub strength: Prescription,
    pub cap_s: Option<u32>,
    pub duration_s: Option<u32>,
    /// The length is that of a window on the running clock.
    pub window: bool,
    pub rest: Option<Rest>,
    pub team: Option<u32>,
    pub sharing: Option<Sharing>,
    pub target: Option<(Option<f64>, Option<f64>, TargetOf)>,
    pub round_under: Option<u32>,
    pub score: Option<Score>,
    pub intents: Vec<Intent>,
    /// Loads of the tools in the piece, written apart from the work.
    pub held: Vec<ImplementLoad>,
    pub common_load: Option<crate::session::Load>,
    pub common_bare_load: Option<(f64, Option<f64>)>,
    pub alternatives: Vec<Alternative>,
}

/// A step of the work, with where it stands.
#[derive(Clone, Debug)]
pub(super) struct Step {
    pub line: usize,
    pub column: usize,
    pub label: Label,
    pub starts_line: bool,
    pub what: StepKind,
}

#[derive(Clone, Debug, PartialEq)]
pub(super) enum StepKind {
    Item(Item),
    Rounds(u32),
    Scheme {
        reps: Vec<u32>,
        open: Option<u32>,
    },
    Rest {
        seconds: u32,
        after: Option<RestAfter>,
    },
    RestOpen,
    BuyIn,
    CashOut,
    Then,
    /// What came before was done once; the piece itself begins.
    Main,
    AfterEach,
    Interrupt {
        every_s: u32,
        from_s: u32,
    },
    Penalty,
}

impl Draft {
    pub fn new(kind: Option<PartKind>, heading: Option<String>, line: usize) -> Self {
        Self { kind, heading, first_line: line, last_line: line, ..Self::default() }
    }

    pub fn items(&self) -> impl Iterator<Item = &Item> {
        self.steps.iter().filter_map(|step| match &step.what {
            StepKind::Item(item) => Some(item),
            _ => None,
        })
    }

    pub fn has_items(&self) -> bool {
        self.items().next().is_some()
    }

    /// Whether anything says how the piece is run.
    pub fn has_format(&self) -> bool {
        self.amrap.is_some()
            || self.every.is_some()
            || self.on_off.is_some()
            || self.tabata
            || self.for_time
            || self.quality
            || self.until_failure
    }

    /// Whether a lift is prescribed: sets, a share of the maximum, a heavy set to find.
    pub fn has_prescription(&self) -> bool {
        !self.sets_reps.is_empty()
            || !self.set_list.is_empty()
            || !self.strength.percent.is_empty()
            || self.strength.rm.is_some()
            || self.strength.rpe.is_some()
            || self.strength.tempo.is_some()
            || self.strength.week.is_some()
            || self.sets.is_some()
    }

    /// `A1`, `A2`: lifts that take turns.
    pub fn has_lettered_pair(&self) -> bool {
        let lettered = |step: &&Step| {
            matches!(step.label, Label::Letter(_, Some(_))) && matches!(step.what, StepKind::Item(_))
        };
        self.steps.iter().filter(lettered).count() > 1
    }

    /// Whether the lift named so far still waits for its sets.
    pub fn lacks_sets(&self) -> bool {
        self.sets_reps.is_empty()
            && self.set_list.is_empty()
            && self.sets.is_none()
            && self.strength.rm.is_none()
    }

    /// Begins with a movement that its line leaves to the part above.
    pub fn begin_with(&mut self, line: &Line, movement: MovementId) {
        let item = Item { movement: Some(movement), ..Item::default() };
        let (label, what) = (Label::None, StepKind::Item(item));
        self.steps.push(Step { line: line.number, column: 1, label, starts_line: true, what });
    }

    /// Whether nothing but the name of a lift stands here so far.
    pub fn only_names_a_lift(&self) -> bool {
        let mut items = self.items();
        let bare = items.next().is_some_and(|item| item.amount.is_none() && !item.max);
        bare && self.steps.len() == 1 && !self.has_prescription() && !self.has_format()
    }

    /// Takes in what a line says.
    pub fn add(&mut self, line: &Line) {
        self.last_line = self.last_line.max(line.number);
        let prescribes = line.clauses().any(Clause::is_prescription);
        if prescribes && self.only_names_a_lift() && line.items().any(|item| item.movement.is_some()) {
            // "PRESS", and below it "3 x 6 strict press": the second says it better.
            self.steps.clear();
        }
        if self.label.is_none() && line.label != Label::None {
            self.label = Some(line.label.clone());
        }
        if line.clauses().any(|clause| matches!(clause, Clause::Every { .. })) {
            self.every_leads |= !self.has_items() && line.items().next().is_none();
        }
        let speaks_of_result = line.clauses().any(|clause| {
            matches!(
                clause,
                Clause::Target { .. } | Clause::RoundUnder(_) | Clause::Score(_) | Clause::Intent(_)
            )
        });
        let mut label = line.label.clone();
        let mut starts = true;
        for (n, Found { column, what }) in line.found.iter().enumerate() {
            if let What::Clause(Clause::Place(number)) = what {
                (label, starts) = (Label::Number(*number), true);
                continue;
            }
            let starts_line = std::mem::replace(&mut starts, false);
            let mut step = |what| {
                let (line, label) = (line.number, label.clone());
                self.steps.push(Step { line, column: *column, label, starts_line, what });
            };
            let clause = match what {
                What::Item(item) => {
                    step(StepKind::Item(item.clone()));
                    if let (Label::Sets(first, last), Some((reps, _)), None) =
                        (&line.label, item.amount, item.sets)
                    {
                        self.sets_reps.push((last - first + 1, reps as u32));
                    }
                    continue;
                }
                What::Clause(clause) => clause,
            };
            match clause {
                Clause::Rounds(n) => step(StepKind::Rounds(*n)),
                Clause::Scheme { reps, open } => step(StepKind::Scheme { reps: reps.clone(), open: *open }),
                Clause::Rest { low_s, high_s, after } => {
                    step(StepKind::Rest { seconds: *low_s, after: *after });
                    let after = after.unwrap_or(RestAfter::Here);
                    // The rest between sets is the one that counts; a longer one at one place is not.
                    if self.rest.is_none_or(|rest| rest.after == RestAfter::Here && after == RestAfter::Each)
                    {
                        self.rest = Some(Rest { low_s: *low_s, high_s: *high_s, after });
                    }
                }
                Clause::RestOpen => step(StepKind::RestOpen),
                Clause::BuyIn => step(StepKind::BuyIn),
                Clause::CashOut => step(StepKind::CashOut),
                Clause::Then => step(StepKind::Then),
                Clause::Remaining | Clause::Amrap(_) => {
                    step(StepKind::Main);
                    self.fact(clause);
                }
                Clause::AfterEach => step(StepKind::AfterEach),
                Clause::Interrupt { every_s, from_s } => {
                    step(StepKind::Interrupt { every_s: *every_s, from_s: *from_s })
                }
                Clause::Penalty => step(StepKind::Penalty),
                Clause::Length(_) if speaks_of_result && n > 0 => {}
                Clause::SetAt { .. } => {
                    let times = if let Label::Sets(first, last) = line.label { last - first + 1 } else { 1 };
                    (0..times.min(60)).for_each(|_| self.fact(clause));
                }
                other => self.fact(other),
            }
        }
    }

    /// Facts of the whole part; the first word on a matter wins.
    fn fact(&mut self, clause: &Clause) {
        match clause {
            Clause::Week(k, n) => self.strength.week = self.strength.week.or(Some((*k, *n))),
            Clause::Tempo(text) => {
                self.strength.tempo.get_or_insert_with(|| Tempo(text.clone()));
            }
            Clause::OnOff { times, work_s, rest_s } => {
                self.on_off.get_or_insert((*times, *work_s, *rest_s));
            }
            Clause::Tabata => self.tabata = true,
            Clause::Amrap(seconds) => match &mut self.amrap {
                Some(known) => *known = known.or(*seconds),
                None => self.amrap = Some(*seconds),
            },
            Clause::Bouts(times) => self.bouts = self.bouts.or(Some(*times)),
            Clause::Every { interval_s, times, total_s } => match &mut self.every {
                Some((_, known_times, known_total)) => {
                    *known_times = known_times.or(*times);
                    *known_total = known_total.or(*total_s);
                }
                None => self.every = Some((*interval_s, *times, *total_s)),
            },
            Clause::UntilFailure => self.until_failure = true,
            Clause::AddEach(step) => self.add_each = self.add_each.or(Some(*step)),
            Clause::ForTime => self.for_time = true,
            Clause::Quality => self.quality = true,
            Clause::Cap(seconds) => self.cap_s = self.cap_s.or(*seconds),
            Clause::Target { low, high, of } => {
                self.target.get_or_insert((*low, *high, *of));
            }
            Clause::RoundUnder(seconds) => self.round_under = self.round_under.or(Some(*seconds)),
            Clause::Intent(intent) => self.intents.push(intent.clone()),
            Clause::Score(score) => self.score = self.score.or(Some(*score)),
            Clause::Team(size) => self.team = self.team.or(Some(*size)),
            Clause::Sharing(sharing) => self.sharing = self.sharing.or(Some(*sharing)),
            Clause::BuildTo(rm) => self.strength.rm = self.strength.rm.or(Some(*rm)),
            Clause::Percent(shares) => self.strength.percent.extend(shares),
            Clause::Rpe(range) => self.strength.rpe = self.strength.rpe.or(Some(*range)),
            Clause::Sets(n) => self.sets = self.sets.or(Some(*n)),
            Clause::MoreSets(n) => {
                if let Some((sets, _)) = self.sets_reps.first_mut() {
                    *sets += n;
                } else if let Some(sets) = &mut self.sets {
                    *sets += n;
                }
            }
            Clause::TopSets(n) => self.strength.top_sets = self.strength.top_sets.or(Some(*n)),
            Clause::SetsReps { sets, reps, upper } => {
                self.sets_reps.push((*sets, *reps));
                self.strength.reps_high = self.strength.reps_high.or(upper.filter(|upper| upper > reps));
            }
            Clause::SetAt { reps, percent } => {
                self.set_list.push((*reps, *percent));
                self.strength.percent.push([*percent, *percent]);
            }
            // A pause of some seconds is no length of a part.
            Clause::Length(seconds) if *seconds < SHORTEST_PART_S => {}
            Clause::Window { seconds } | Clause::Length(seconds) => {
                self.window |= matches!(clause, Clause::Window { .. }) && self.duration_s.is_none();
                self.duration_s = self.duration_s.or(Some(*seconds));
            }
            Clause::Remaining => self.remaining = true,
            Clause::Superset => self.superset = true,
            Clause::Load(load) => self.common_load = self.common_load.or(Some(*load)),
            Clause::LoadRange(low, high, unit) => {
                let range: (f64, f64, LoadUnit) = (*low, *high, *unit);
                self.strength.load_range = self.strength.load_range.or(Some(range));
            }
            Clause::ImplementLoad(held) => self.held.push(*held),
            Clause::BareLoad(first, second) => {
                self.common_bare_load = self.common_bare_load.or(Some((*first, *second)));
            }
            _ => {}
        }
    }
}
