//! What the sentences of a part say together: facts of the whole, and the steps of its work in order.

mod attach;
mod instead;
mod item;
mod whole;

use lantern_session::movement::{Catalogue, MovementId, Unit};
use lantern_session::{Alternative, Intent, Load, PartKind, Prescription, Rest, RestAfter, Score, Sharing};

pub(crate) use self::attach::{attach, with_dumbbells};
use self::attach::{drop_family, fill_what_is_left};
pub(crate) use self::item::{Held, Item, is_held_in};
use crate::aims::Told;
use crate::label::Label;
use crate::say::{Place, Say, Tool};
use crate::unit::{Reading, Role, Unit as Sentence};

/// Most sets that are spelt out one by one.
const MOST_SETS: u32 = 60;

/// A part while its sentences come in.
#[derive(Clone, Debug, Default)]
pub(crate) struct Facts {
    pub kind: Option<PartKind>,
    pub heading: Option<String>,
    pub first_line: usize,
    pub last_line: usize,
    pub label: Option<Label>,
    pub steps: Vec<Step>,
    pub amrap: Option<Option<u32>>,
    pub bouts: Option<u32>,
    pub every: Option<(u32, Option<u32>, Option<u32>)>,
    /// The clock stands in a header, before any work, or starts the rounds of the first.
    pub every_leads: bool,
    pub in_turn: bool,
    /// What comes behind the first work is done whenever so many of it are.
    pub every_reps: Option<u32>,
    /// What cuts into the work begins with the clock.
    pub interrupts_at_once: bool,
    /// What the clock gives time for takes turns, as the text says.
    pub alternating: bool,
    /// The times of the clock are rounds of what takes turns.
    pub times_round: bool,
    pub on_off: Option<(Option<u32>, u32, u32)>,
    /// How long bouts go on for, where their number is worked out from it.
    pub on_off_lasts_s: Option<u32>,
    pub station_s: Option<u32>,
    /// Seconds to get from one station to the next.
    pub station_move_s: Option<u32>,
    pub tabata: bool,
    pub for_time: bool,
    pub quality: bool,
    pub until_failure: bool,
    /// With a pause that nobody says the seconds of.
    pub paused: bool,
    /// "Death by": one more each time.
    pub rises: bool,
    pub add_each: Option<u32>,
    /// Repetitions of single minutes of those that rise, as minute and repetitions.
    pub in_minutes: Vec<(u32, u32)>,
    pub superset: bool,
    /// The line of what is done again behind each thing of the list.
    pub after_each_thing: Option<usize>,
    /// Several lifts are done with one bar.
    pub one_bar: bool,
    /// A lift stands in front as the name of a complex.
    pub names_complex: bool,
    pub remaining: bool,
    pub sets: Option<u32>,
    pub sets_reps: Vec<(u32, u32)>,
    pub set_list: Vec<(u32, f64)>,
    /// Sets that each have a weight of their own.
    pub weighed: Vec<(u32, Load)>,
    /// Shares of all sets of so many repetitions.
    pub shares_for: Vec<(u32, [f64; 2])>,
    /// Up to the heaviest that goes.
    pub to_most: bool,
    /// With a bar and nothing on it.
    pub empty_bar: bool,
    /// How heavy a lift is, in a word, as RPE.
    pub heaviness: Option<f64>,
    /// Bare numbers behind "@" are shares of this lift.
    pub percents_of: Option<MovementId>,
    /// The machine, or the run, that the heading or the day's name is about.
    pub engine: Option<MovementId>,
    /// Shares that were written before sets of as many as possible came.
    pub shares_before_open: usize,
    pub strength: Prescription,
    pub cap_s: Option<u32>,
    pub duration_s: Option<u32>,
    /// The length is that of a clock that runs, perhaps over several parts.
    pub running_s: Option<u32>,
    /// The length is that of a window on the running clock.
    pub window: bool,
    pub rest: Option<Rest>,
    /// The rest is that of the lifts above as well.
    pub rest_of_all: bool,
    /// So many times as long as the work is the rest between rounds; none where nobody says how long it is.
    pub rest_share: Option<Option<f64>>,
    pub team: Option<u32>,
    /// The part says itself who works together.
    pub own_team: bool,
    pub sharing: Option<Sharing>,
    pub target: Option<Told>,
    /// What other pieces should take.
    pub aims: Vec<Told>,
    pub round_under: Option<u32>,
    pub score: Option<Score>,
    /// By how much the next set is heavier, in percent of the maximum; whether only a change of repetitions is a step.
    pub share_step: Option<(f64, bool)>,
    /// What counts is how far one gets, or how many calories that is.
    pub counted_in: Option<Unit>,
    /// The one movement whose repetitions are the score.
    pub counted: Option<MovementId>,
    pub intents: Vec<Intent>,
    pub held: Vec<Held>,
    /// The last load of the parts before, for "same bar".
    pub load_before: Option<Load>,
    pub common_load: Option<Load>,
    pub common_bare_load: Option<(f64, Option<f64>)>,
    pub build: bool,
    /// Repetitions of each set, where the sets are told elsewhere.
    pub sets_of: Option<u32>,
    /// More weight with every set.
    pub climbs: bool,
    /// The one kind of tool that everything is done with.
    pub one_tool: Option<Tool>,
    /// Building up comes before any other sets.
    pub builds_first: bool,
    pub each_person: bool,
    pub complex: Vec<u32>,
    /// The team of the day, for pieces that say "same teams" or nothing.
    pub level_loads: Vec<(u8, Option<Tool>, Load)>,
    pub alternatives: Vec<Alternative>,
    /// A piece begins behind the empty line below.
    pub leads_on: bool,
    /// No other work follows.
    pub is_last: bool,
    /// Facts that say two different things about one matter.
    pub contradictions: Vec<&'static str>,
}

/// A step of the work, with where it stands.
#[derive(Clone, Debug)]
pub(crate) struct Step {
    pub line: usize,
    /// Spaces before the line.
    pub indent: usize,
    pub column: usize,
    pub label: Label,
    pub starts_line: bool,
    /// A full stop stands before it on its line.
    pub after_stop: bool,
    /// An empty line stands before it.
    pub apart: bool,
    pub what: StepKind,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) enum StepKind {
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
    /// After each round, and after the last one too if `last`.
    AfterEach {
        last: bool,
    },
    /// After every so many rounds.
    EveryRounds(u32),
    Interrupt {
        every_s: u32,
        from_s: u32,
    },
    Penalty,
}

/// Something in a sentence once numbers, loads and sides have found their movement.
#[derive(Clone, Debug)]
pub(crate) enum What {
    Item(Item),
    Say(Say),
}

impl Facts {
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
            || !self.weighed.is_empty()
            || !self.strength.percent.is_empty()
            || self.strength.rm.is_some()
            || self.build
            || self.climbs
            || self.strength.rpe.is_some()
            || self.strength.tempo.is_some()
            || self.strength.week.is_some()
            || self.sets.is_some()
    }

    /// How many rounds are counted, where more than one is.
    pub fn rounds(&self) -> Option<u32> {
        self.steps.iter().find_map(|step| match step.what {
            StepKind::Rounds(n) if n > 1 => Some(n),
            _ => None,
        })
    }

    /// Whether rounds are counted.
    pub fn has_rounds(&self) -> bool {
        self.steps.iter().any(|step| matches!(step.what, StepKind::Rounds(_)))
    }

    /// `A1`, `A2`: lifts that take turns.
    pub fn has_lettered_pair(&self) -> bool {
        let lettered = |step: &&Step| {
            matches!(step.label, Label::Letter(_, Some(_))) && matches!(step.what, StepKind::Item(_))
        };
        self.steps.iter().filter(lettered).count() > 1
    }

    /// Whether it prescribes sets at a share of a maximum.
    pub fn asks_for_sets_at_a_share(&self) -> bool {
        !self.sets_reps.is_empty() && !self.strength.percent.is_empty()
    }

    /// Only says how heavy something gets, which the lines above have named.
    pub fn only_builds(&self) -> bool {
        self.strength.rm.is_some() && self.sets_reps.is_empty() && self.strength.percent.is_empty()
    }

    /// Takes the effort of sets that are told by their numbers; says whether they are.
    fn took_effort_of_sets(&mut self, label: Label, effort: f64) -> bool {
        let Label::Sets(first, last) = label else { return false };
        let strength = &mut self.strength;
        // One that is told of all of them stands without a number.
        if strength.rpe.is_some() && strength.efforts.is_empty() {
            return false;
        }
        let [low, high] = strength.rpe.unwrap_or([effort; 2]);
        strength.rpe = Some([low.min(effort), high.max(effort)]);
        let sets = (last + 1).saturating_sub(first).min(MOST_SETS) as usize;
        strength.efforts.extend(std::iter::repeat_n(effort, sets));
        true
    }

    /// Begins with a movement that the lines above have named.
    pub fn begin_with(&mut self, item: &crate::say::Item) {
        let item = Item { movement: item.movement.clone(), generic: item.shorthand, ..Item::default() };
        let (line, what) = (self.first_line, StepKind::Item(item));
        let step = Step {
            line,
            indent: 0,
            column: 1,
            label: Label::None,
            starts_line: true,
            after_stop: false,
            apart: false,
            what,
        };
        self.steps.insert(0, step);
    }

    fn only_names_a_lift(&self) -> bool {
        let mut items = self.items();
        let bare = items.next().is_some_and(|item| item.amount.is_none() && !item.max);
        bare && self.steps.len() == 1 && !self.has_prescription() && !self.has_format()
    }

    /// The machine or the run that is all that has been named so far.
    fn only_names_a_machine(&self, catalogue: &Catalogue) -> Option<MovementId> {
        let [Step { what: StepKind::Item(item), .. }] = &self.steps[..] else { return None };
        let movement = catalogue.get(item.movement.as_ref().filter(|_| item.is_bare())?)?;
        movement.is_engine().then(|| movement.id.clone())
    }

    /// Takes in a sentence as it is read. `inherited` is the label of the line it stands on.
    pub fn take(&mut self, sentence: &Sentence, reading: &Reading, inherited: Label, catalogue: &Catalogue) {
        if self.first_line == 0 {
            self.first_line = sentence.line;
        }
        self.last_line = self.last_line.max(sentence.last_line);
        if let Some((kind, text)) = &sentence.heading
            && self.heading.is_none()
        {
            self.kind = Some(*kind);
            self.heading = Some(text.clone());
        }
        match reading.role {
            Role::Note | Role::Title => {}
            Role::Substitute => self.substitute(sentence, reading, catalogue),
            Role::Level(rank) => self.level(rank, sentence, reading, catalogue),
            Role::Work | Role::Aside => self.work(sentence, reading, inherited, catalogue),
        }
    }

    fn work(&mut self, sentence: &Sentence, reading: &Reading, inherited: Label, catalogue: &Catalogue) {
        let mut found = attach(reading, catalogue);
        drop_family(&mut found, catalogue);
        fill_what_is_left(&mut found, catalogue);
        let found = found;
        let items = || {
            found.iter().filter_map(|(_, what)| if let What::Item(item) = what { Some(item) } else { None })
        };
        let says = |test: fn(&Say) -> bool| {
            found.iter().any(|(_, what)| matches!(what, What::Say(say) if test(say)))
        };
        let prescribes = says(is_prescription);
        let complex = items().filter(|item| item.joined).count() > 0;
        if (prescribes || complex) && self.only_names_a_lift() && items().any(|item| item.movement.is_some())
        {
            // "SQUAT", and below it "4 x 5 front squat": the second says it better.
            self.steps.clear();
            self.names_complex = false;
        }
        let far = |item: &Item| item.movement.is_none() && item.unit == Some(Unit::Metres);
        if says(|say| matches!(say, Say::Rounds(2..)))
            && items().next().is_some_and(far)
            && let Some(machine) = self.only_names_a_machine(catalogue)
        {
            // "Rowing", and below it "3 x 1000 m", "2 x 500 m": all of it is on that machine.
            self.steps.clear();
            self.engine = Some(machine);
        }
        if self.label.is_none() && sentence.label != Label::None {
            self.label = Some(sentence.label);
        }
        if says(|say| matches!(say, Say::Every { .. })) {
            let starts_rounds = says(|say| matches!(say, Say::Rounds(2..)));
            self.every_leads |= !self.has_items() && (items().next().is_none() || starts_rounds);
        }
        let speaks_of_result = says(|say| match say {
            Say::Score(score) => *score != Score::None,
            // "Zone 2, 45 min" is how long it takes, however it feels.
            Say::Intent(Intent::Feel(_)) => false,
            other => matches!(other, Say::Target { .. } | Say::RoundUnder(_) | Say::Intent(_)),
        });
        let (aims, of_others) = aims(&found, sentence.line);
        self.aims.extend(of_others);
        let label = if sentence.label == Label::None { inherited } else { sentence.label };
        let is_of_one = items().count() == 1;
        let mut starts = sentence.starts_line || sentence.label != Label::None;
        for (n, (column, what)) in found.iter().enumerate() {
            let starts_line = std::mem::replace(&mut starts, false);
            let after_stop = n == 0 && sentence.after_stop;
            let place = |what| Step {
                line: sentence.line,
                indent: sentence.indent,
                column: *column,
                label,
                starts_line,
                after_stop,
                apart: starts_line && sentence.blank_before,
                what,
            };
            let say = match what {
                What::Item(item) => {
                    if let (Label::Sets(first, last), Some(share), Some((reps, None))) =
                        (sentence.label, share_of_set(item), item.amount)
                    {
                        // "Set 2: 4 @ 77" of a lift: nobody writes one weight for everybody.
                        for _ in 0..(last - first + 1).min(MOST_SETS) {
                            self.fact(&Say::SetAt { reps: reps as u32, percent: [share; 2] });
                        }
                        continue;
                    }
                    let waits = |known: &&mut Item| known.is_bare() && !known.alternative;
                    if item.movement.is_none()
                        && item.amount.is_some()
                        && let Some(last) = last_named(&mut self.steps).filter(waits)
                    {
                        // "Deadlift", and below it "Set 1: 8 reps": the first of its sets.
                        if let (Label::Sets(first, end), Some((reps, _)), None) =
                            (sentence.label, item.amount, item.sets)
                        {
                            self.sets_reps.push((end - first + 1, reps as u32));
                        }
                        // "Power clean", and below it "4 x 3 reps" or "every 2:00: 3 reps".
                        (last.amount, last.unit) = (item.amount, item.unit);
                        last.load = last.load.or(item.load);
                        last.bare_load = last.bare_load.or(item.bare_load);
                        continue;
                    }
                    self.steps.push(place(StepKind::Item(item.clone())));
                    if let (Label::Sets(first, last), Some((reps, _)), None) =
                        (sentence.label, item.amount, item.sets)
                    {
                        self.sets_reps.push((last - first + 1, reps as u32));
                    }
                    continue;
                }
                What::Say(say) => say,
            };
            match say {
                // "Set 3: 2 reps @ RPE 8"
                Say::Rpe([low, high]) if low == high && self.took_effort_of_sets(sentence.label, *low) => {}
                Say::Rounds(times) => self.steps.push(place(StepKind::Rounds(*times))),
                Say::Scheme { reps, open } => {
                    self.steps.push(place(StepKind::Scheme { reps: reps.clone(), open: *open }))
                }
                Say::Rest { low_s, high_s, after } => {
                    self.steps.push(place(StepKind::Rest { seconds: *low_s, after: *after }));
                    let after = after.unwrap_or(RestAfter::Here);
                    // The rest between sets is the one that counts; a longer one at one place is not.
                    let counts = |rest: Rest| rest.after == RestAfter::Here && after == RestAfter::Each;
                    if after != RestAfter::All && self.rest.is_none_or(counts) {
                        self.rest = Some(Rest { low_s: *low_s, high_s: *high_s, after });
                    }
                }
                Say::RestOpen => {
                    self.rest_share = self.rest_share.or(Some(None));
                    self.steps.push(place(StepKind::RestOpen));
                }
                Say::RestAsWork(times) => {
                    self.rest_share = Some(Some(*times));
                    self.steps.push(place(StepKind::RestOpen));
                }
                // "800 m run to finish": told behind what it is of.
                Say::BuyIn | Say::CashOut => {
                    let step =
                        place(if matches!(say, Say::BuyIn) { StepKind::BuyIn } else { StepKind::CashOut });
                    let own =
                        |step: &Step| step.line == sentence.line && matches!(step.what, StepKind::Item(_));
                    let behind = n + 1 == found.len() && self.steps.last().is_some_and(own);
                    let at = if behind { self.steps.iter().position(own) } else { None };
                    self.steps.insert(at.unwrap_or(self.steps.len()), step);
                }
                Say::Then => self.steps.push(place(StepKind::Then)),
                Say::Remaining | Say::Amrap(_) => {
                    self.steps.push(place(StepKind::Main));
                    self.fact(say);
                }
                Say::AfterEachThing => self.after_each_thing = Some(sentence.line),
                Say::AfterEach { last } => self.steps.push(place(StepKind::AfterEach { last: *last })),
                // "Five kilograms more every two rounds", "swap every two rounds"
                Say::EveryRounds(_) if prescribes || says(|say| matches!(say, Say::Sharing(_))) => {}
                Say::EveryRounds(n) => self.steps.push(place(StepKind::EveryRounds(*n))),
                Say::Interrupt { every_s, from_s } => {
                    self.steps.push(place(StepKind::Interrupt { every_s: *every_s, from_s: *from_s }));
                }
                Say::OfBoth(amount) => self.again(*amount, &place),
                Say::BackAgain => self.back_again(&place),
                Say::Penalty => self.steps.push(place(StepKind::Penalty)),
                Say::Length(_) if speaks_of_result && n > 0 => {}
                Say::Target { .. } => {
                    let own = aims.iter().find(|(at, _)| *at == n);
                    self.target = self.target.or(own.map(|(_, told)| *told));
                }
                Say::Percent(shares) => {
                    if let Some(item) = self.last_item().filter(|_| is_of_one) {
                        item.percent.extend(shares);
                    }
                    self.fact(say);
                }
                Say::SetAt { reps, percent } => {
                    let times =
                        if let Label::Sets(first, last) = sentence.label { last - first + 1 } else { 1 };
                    for _ in 0..times.min(MOST_SETS) {
                        if let Some(item) = self.last_item().filter(|_| is_of_one) {
                            item.sets_at.push((*reps, *percent));
                        }
                        self.fact(say);
                    }
                }
                other => self.fact(other),
            }
        }
    }

    /// The item that was read last, where nothing came after it.
    fn last_item(&mut self) -> Option<&mut Item> {
        match &mut self.steps.last_mut()?.what {
            StepKind::Item(item) => Some(item),
            _ => None,
        }
    }

    /// "50 rows, 40 jumps, 30 swings, then back up": the same works the other way round, the last of them once.
    fn back_again(&mut self, place: &dyn Fn(StepKind) -> Step) {
        let works = self.steps.iter().filter(|step| matches!(step.what, StepKind::Item(_)));
        let back: Vec<StepKind> = works.rev().skip(1).map(|step| step.what.clone()).collect();
        self.steps.extend(back.into_iter().map(place));
    }

    /// "Then 12 of both" below "18 squats, 18 pull-ups": the works with one amount are done again with another.
    fn again(&mut self, amount: u32, place: &dyn Fn(StepKind) -> Step) {
        let counted = |step: &Step| match &step.what {
            StepKind::Item(item) if item.unit.is_none_or(|unit| unit == Unit::Reps) => item.amount,
            _ => None,
        };
        let Some(first) = self.steps.iter().find_map(counted) else { return };
        let works: Vec<Item> = self
            .steps
            .iter()
            .filter(|step| counted(step) == Some(first))
            .filter_map(|step| if let StepKind::Item(item) = &step.what { Some(item.clone()) } else { None })
            .collect();
        for item in works {
            let item = Item { amount: Some((f64::from(amount), None)), ..item };
            self.steps.push(place(StepKind::Item(item)));
        }
    }
}

/// The aims of a sentence: those of its own piece, by place, and those that it tells of others ("5 rounds in the first piece, under 7 in the second").
fn aims(found: &[(usize, What)], line: usize) -> (Vec<(usize, Told)>, Vec<Told>) {
    let says = found.iter().enumerate().filter_map(|(n, (_, what))| match what {
        What::Say(say) => Some((n, say)),
        What::Item(_) => None,
    });
    let (mut own, mut others, mut place, mut waiting) = (Vec::new(), Vec::new(), None, None::<(usize, Told)>);
    // The piece stands in front of all its aims, or behind each.
    let leads = says.clone().find(|(_, say)| matches!(say, Say::Target { .. } | Say::OfPiece(_)));
    let leads = leads.is_some_and(|(_, say)| matches!(say, Say::OfPiece(_)));
    for (n, say) in says {
        match say {
            Say::Target { low, high, of } => {
                let told = Told { line, low: *low, high: *high, of: *of, place: Place::Next };
                match place.filter(|_| leads) {
                    Some(place) => others.push(Told { place, ..told }),
                    None => own.extend(waiting.replace((n, told))),
                }
            }
            Say::OfPiece(of) => {
                place = Some(*of);
                others.extend(waiting.take().map(|(_, told)| Told { place: *of, ..told }));
            }
            // "Aim for 4-5 rounds of each"
            Say::Each if waiting.is_some_and(|(at, _)| at + 1 == n) => {
                others.extend(waiting.map(|(_, told)| Told { place: Place::Each, ..told }));
            }
            _ => {}
        }
    }
    own.extend(waiting);
    (own, others)
}

/// The bare number behind the repetitions of a set, where it can be a share of the maximum.
fn share_of_set(item: &Item) -> Option<f64> {
    let (share, second) = item.bare_load.filter(|_| item.movement.is_none())?;
    (second.is_none() && (40.0..=110.0).contains(&share)).then_some(share)
}

/// The last work that has been named, whatever was said of its rounds since.
fn last_named(steps: &mut [Step]) -> Option<&mut Item> {
    let last = steps.iter_mut().rev().find(|step| !matches!(step.what, StepKind::Rounds(_)))?;
    if let StepKind::Item(item) = &mut last.what { Some(item) } else { None }
}

/// Whether it prescribes a lift: sets, a share of the maximum, a heavy set to find.
pub(crate) fn is_prescription(say: &Say) -> bool {
    matches!(
        say,
        Say::SetsReps { .. }
            | Say::SetAt { .. }
            | Say::Percent(_)
            | Say::Rm(_)
            | Say::Build
            | Say::Climbs
            | Say::ClimbsBy(_)
            | Say::ClimbsTo
            | Say::ShareStep { .. }
            | Say::SetWith { .. }
            | Say::ShareFor { .. }
            | Say::ClimbsToMost
            | Say::Rpe(_)
            | Say::Efforts(_)
            | Say::Tempo(_)
            | Say::Paused
            | Say::Week(..)
    )
}
