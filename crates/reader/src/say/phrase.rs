//! From a row of the grammar and what its pattern captured to what it says.

use lantern_session::movement::Unit;
use lantern_session::{Intent, Jump, LoadUnit, PartKind, RestAfter, Score, Sharing};

use super::captures::{Captures, digits, has_unit, position, words_between};
use super::items::{dose, has_dose_unit, item, target};
use super::loads::load;
use super::{Aim, BARE_SHARES, Item, Place, Say, Tool};
use crate::grammar::Capture;
use crate::lexicon::Lexicon;
use crate::tokens::{Kind, Token};
use crate::values::{Line, Nt, Value};

/// Shortest pause that is a rest between sets, in seconds.
const SHORTEST_REST_S: u32 = 20;
/// Seconds for 500 m or a kilometre that anybody is asked to hold.
const PACE_S: std::ops::RangeInclusive<u32> = 60..=420;
/// Shortest time that is the most a piece may take, in seconds.
const SHORTEST_CAP_S: u32 = 240;
/// Longest interval of which sets are said to begin "on a clock", in seconds.
const LONGEST_INTERVAL_S: u32 = 300;

/// Most singles, doubles or triples that somebody lifts.
const MOST_SETS_IN_WORDS: u32 = 15;
/// Sets are counted through so far: "sets 7-8 @ 75".
const MOST_SETS_TOLD: u32 = 15;
/// Largest number of a ratio of work and rest.
const MOST_OF_A_RATIO: f64 = 6.0;
/// Walking back takes so many times as long as running there: walks go at a third of a hard run's pace.
const WALK_BACK: f64 = 3.0;
/// From so many on a bare number counts metres: no set has as many repetitions.
const LEAST_OF_METRES: u32 = 200;
/// A count that is told by its ends goes to at least so many and at most so many: "1-3" is a range.
const LEAST_COUNTED: u32 = 5;
const MOST_COUNTED: u32 = 21;
/// Longest pause within a repetition, in seconds.
const LONGEST_PAUSE_S: u32 = 6;
/// What a lift that is called light leaves in reserve, as RPE: four repetitions. Coaching practice; told as an assumption.
const LIGHT_RPE: f64 = 6.0;
/// The same of one that is called moderate: three.
pub(super) const MODERATE_RPE: f64 = 7.0;
/// The same of a single, double or triple that is to be solid, smooth or clean: two.
pub(super) const SOLID_RPE: f64 = 8.0;
/// What "close to failure" and "near max" leave, as RPE: one repetition.
const NEAR_FAILURE_RPE: f64 = 9.0;

/// Fewest metres that are a way, and no height.
const LEAST_WAY_M: f64 = 10.0;

impl Say {
    /// What a row says that says one thing.
    pub(super) fn one(
        says: &str,
        captures: &[Capture],
        line: &Line<'_>,
        start: usize,
        end: usize,
    ) -> Option<Self> {
        let c = Captures(captures);
        let word_at = |n: usize| line.tokens.get(n).and_then(|token| token.word()).unwrap_or_default();
        let captured_word = |name: char| {
            captures.iter().find(|(known, ..)| *known == name).map_or("", |(.., at)| word_at(*at))
        };
        Some(match says {
            "withdraw" => Self::Withdraw,
            "week" => Self::Week(c.count('k')?, c.count('n')),
            "tempo" => Self::Tempo(digits(c.count('t')?)),
            // "(2-1-1-0)": a zero or an x tells it from repetitions.
            "tempo.dash" => {
                let third = c.count('c').map_or("X".to_owned(), |n| n.to_string());
                let (a, b, d) = (c.count('a')?, c.count('b')?, c.count('d')?);
                let tempo = format!("{a}{b}{third}{d}");
                (tempo.len() == 4 && tempo.contains(['0', 'X'])).then_some(Self::Tempo(tempo))?
            }
            // Down, at the bottom, and up: efforts and shares are larger numbers.
            "tempo.dash.short" => {
                let all = [c.count('a')?, c.count('b')?, c.count('c')?];
                let seconds = (1..=6).contains(&all[0]) && all[1..].iter().all(|n| *n <= 3);
                seconds.then(|| Self::Tempo(all.map(|n| n.to_string()).concat()))?
            }
            "tempo.x" => {
                let letters = digits(c.count('t')?);
                let shaped = letters.len() == 4 || letters.len() == 3 && letters.ends_with(['X', '1', '0']);
                (letters.contains('X') && shaped).then_some(Self::Tempo(letters))?
            }
            // "@3110": four digits that no bar weighs; a year is none.
            "tempo.digits" => {
                let letters = c.count('t')?.to_string();
                let year = letters.starts_with("202") && !letters.ends_with('0');
                (letters.len() == 4 && !letters.contains('9') && !year).then_some(Self::Tempo(letters))?
            }
            "pause.down" => {
                let down = c.count('t').filter(|t| *t < 10)?;
                Self::Tempo(format!("{down}{}X0", c.count('p').filter(|p| *p < 10).unwrap_or(0)))
            }
            "pause.some" => Self::Paused,
            "pause.hold" => {
                Self::Tempo(format!("2{}X0", c.count('p').filter(|p| (1..=LONGEST_PAUSE_S).contains(p))?))
            }
            // A number for each set: from the easiest to the hardest of them.
            "rpe.sets" => {
                let each: Vec<f64> = captures
                    .iter()
                    .filter_map(|(_, value, _)| match value {
                        Some(Value::Number(n)) => Some(*n),
                        Some(Value::Count(n)) => Some(f64::from(*n)),
                        _ => None,
                    })
                    .collect();
                each.iter().all(|effort| (4.0..=10.0).contains(effort)).then_some(Self::Efforts(each))?
            }
            "rpe" => {
                let (low, high) = c.range('r').or_else(|| c.number('n').map(|n| (n, n)))?;
                (low >= 4.0 && high <= 10.0).then_some(Self::Rpe([low, high]))?
            }
            // "@7-8"
            "rpe.at" => {
                let (low, high) = c.range('r')?;
                (low >= 5.0 && low < high && high <= 10.0).then_some(Self::Rpe([low, high]))?
            }
            "rir" => {
                let (low, high) = c.range('r').or_else(|| c.number('n').map(|n| (n, n)))?;
                (high <= 5.0).then_some(Self::Rpe([10.0 - high, 10.0 - low]))?
            }
            "rm" => {
                let words = words_between(line, start, end);
                let n = c.count('n').or(reps_of_a_set(&words))?;
                // "Test the 2k row" is a distance.
                let measured = line.dose_unit(end).is_some_and(|(unit, ..)| unit != Unit::Reps);
                (!measured && (1..=20).contains(&n)).then_some(Self::Rm(n))?
            }
            // "Sets 1-3 @ 65-70%": each of them.
            "percent.sets" => {
                let (from, to, Value::Percents(list)) = (c.count('a')?, c.count('b')?, c.value('p')?) else {
                    return None;
                };
                let sets =
                    if from < to && to <= MOST_SETS_TOLD && list.len() == 1 { to - from + 1 } else { 1 };
                Self::Percent(list.iter().copied().cycle().take(list.len() * sets as usize).collect())
            }
            "toprm" | "percent" | "percent.today" => match c.value('p')? {
                Value::Percents(list) => Self::Percent(list.clone()),
                _ => return None,
            },
            "effort.light" => Self::Heaviness(LIGHT_RPE),
            "effort.moderate" => Self::Heaviness(MODERATE_RPE),
            "rpe.near" => Self::Rpe([NEAR_FAILURE_RPE; 2]),
            "openlast" => Self::OpenLast,
            "build" => Self::Build,
            "climbs" => Self::Climbs,
            "climbs.most" => Self::ClimbsToMost,
            "emptybar" => Self::EmptyBar,
            "rounds.ladder" => Self::Rounds(c.count('n').filter(|n| (2..=20).contains(n))?),
            "climbs.by" => {
                let unit = if c.has('p') { LoadUnit::Lb } else { LoadUnit::Kg };
                // "2.5-5 kg" is from so much on; "5/2.5 kg" is a pair.
                let (first, second) = match (c.number('n')?, c.number('m')) {
                    (low, Some(high)) if low < high => (low, None),
                    pair => pair,
                };
                let likely =
                    [Some(first), second].into_iter().flatten().all(|jump| (0.5..=60.0).contains(&jump));
                likely.then_some(Self::ClimbsBy(Jump { first, second, unit }))?
            }
            "onetool" => {
                let kettlebell = words_between(line, start, end).iter().any(|word| word.starts_with('k'));
                Self::OneTool(if kettlebell { Tool::Kettlebell } else { Tool::Dumbbell })
            }
            "item.women" | "item.pair" | "practice.of" | "eased" | "eased.piece" | "eased.rounds"
            | "kind.easy" | "kind.warmup" | "kind.mobility" | "build.lift" | "quality.none"
            | "sharing.hangs" | "sharing.held" => return None,
            "kind.warm" => Self::Kind(PartKind::Warmup),
            "kind.skill" => Self::Kind(PartKind::Skill),
            "practice" => Self::Practice(c.seconds('t')?.0),
            "kind.home" => Self::Kind(PartKind::Home),
            "rounds.twice" => Self::Rounds(c.count('n').filter(|n| c.count('k') == Some(*n))?),
            "team.same" => Self::SameTeam,
            "running" => Self::Running,
            "main" => Self::Then,
            "complexreps" => {
                let counts = captures.iter().filter_map(|(_, value, _)| {
                    if let Some(Value::Count(n)) = value { Some(*n) } else { None }
                });
                let counts: Vec<u32> = counts.collect();
                let named = line.movements.get(end).is_some_and(|names| !names.is_empty());
                (counts.iter().all(|n| (1..=6).contains(n)) && !named).then_some(Self::ComplexReps(counts))?
            }
            "clusters" => match c.value('l')? {
                Value::List { reps, open: None } if is_cluster(line, start, end, reps) => {
                    Self::SetsReps { sets: c.count('s')?, reps: reps.iter().sum(), upper: None }
                }
                _ => return None,
            },
            "percent.range" => {
                let (low, high) = (c.number('a')?, c.number('b')?);
                let likely = low < high && (30.0..=120.0).contains(&low) && high <= 120.0;
                likely.then_some(Self::Percent(vec![[low, high]]))?
            }
            "percent.list" => match c.value('l')? {
                Value::List { reps: shares, open: None }
                    if shares.len() >= 3 && shares.iter().all(|share| (50..=110).contains(share)) =>
                {
                    Self::Percent(shares.iter().map(|share| [f64::from(*share); 2]).collect())
                }
                _ => return None,
            },
            // "@ 72.5, 75, 77.5"
            "percent.tenths" => {
                let shares: Vec<f64> = c.numbers('p').collect();
                let told = shares.len() >= 3
                    && shares.iter().any(|share| share.fract() != 0.0)
                    && shares.iter().all(|share| (50.0..=110.0).contains(share));
                Self::Percent(told.then(|| shares.into_iter().map(|share| [share; 2]).collect())?)
            }
            // "From 60% by 5% a set to 80%" is five sets.
            "percent.climb" => {
                let one = |name: char| match c.value(name)? {
                    Value::Percents(share) if share.len() == 1 => Some(share[0][0]),
                    _ => None,
                };
                let (from, step, to) = (one('a')?, one('s')?, one('b')?);
                let climbs = (40.0..to).contains(&from) && (1.0..=20.0).contains(&step) && to <= 110.0;
                let sets = climbs.then(|| ((to - from) / step).floor() as u32 + 1)?;
                let shares = (0..sets).map(|n| [from + f64::from(n) * step; 2]);
                Self::Percent(shares.collect())
            }
            "percent.end" => {
                // "Begin on fifty-five percent ... and end on seventy."
                let told = line.tokens.iter().any(|token| token.is('%') || token.word() == Some("percent"));
                let end = c.number('n').filter(|n| told && (40.0..=110.0).contains(n))?;
                Self::Percent(vec![[end, end]])
            }
            "lighter" => Self::Relative,
            "setat" => match c.value('p')? {
                // "15 deadlifts 60% / 15 push-ups": the next work begins there.
                Value::Percents(_) if !says_reps_of_it(line, end) => return None,
                Value::Percents(list) if list.len() == 1 => {
                    Self::SetAt { reps: c.count('n')?, percent: list[0] }
                }
                _ => return None,
            },
            "setsreps" => {
                let (sets, reps) = (c.count('s')?, c.count('n')?);
                // "5 x 500 m" and "2 x 15 kg" count something else.
                let at = position(captures, 'n')?;
                let other = |value: &Value| match value {
                    Value::Dose { unit, .. } => unit.is_some_and(|unit| unit != Unit::Reps),
                    _ => true,
                };
                let counts_other = line
                    .read(Nt::Dose, at)
                    .iter()
                    .chain(&line.read(Nt::Load, at))
                    .any(|(value, ..)| other(value));
                if reps >= LEAST_OF_METRES && (1..=20).contains(&sets) && !counts_other {
                    // "Run: 4 x 400" counts metres.
                    let amount = Some((f64::from(reps), None));
                    let item = Item { amount, unit: Some(Unit::Metres), sets: Some(sets), ..Item::default() };
                    return Some(Self::Item(item));
                }
                // "5x3 - 80%"
                let share = c.has('u') && line.percent_behind(end);
                (sets > 0 && sets <= 20 && reps > 0 && !counts_other && !share).then_some(Self::SetsReps {
                    sets,
                    reps,
                    upper: c.count('u').filter(|upper| *upper > reps),
                })?
            }
            "setsreps.reps" => {
                let reps = reps_of_a_set(&words_between(line, start, end))?;
                // "100 doubles" is skipped with a rope.
                let sets = c.count('s').filter(|sets| *sets <= MOST_SETS_IN_WORDS)?;
                Self::SetsReps { sets, reps, upper: None }
            }
            "setsmax" => Self::SetsMax(c.count('s')?),
            "setsmax.one" => Self::SetsMax(1),
            "setat.open" => match c.value('p')? {
                Value::Percents(share) if share.len() == 1 => Self::SetAt { reps: 0, percent: share[0] },
                _ => return None,
            },
            "setslength" => Self::SetsLength(c.count('s')?, c.seconds('t')?.0),
            "sets" => Self::Sets(c.count('s')?),
            "setsof" => Self::SetsOf(c.count('n')?),
            "setsof.word" => Self::SetsOf(reps_of_a_set(&words_between(line, start, end))?),
            "moresets" => Self::MoreSets(c.count('n')?),
            "topsets" => Self::TopSets(c.count('n')?),
            "superset" => Self::Superset,
            "superset.with" => Self::SupersetWith,
            "complex" => Self::Complex { named: false },
            "complex.again" => Self::ComplexAgain,
            "interrupt" => {
                let every_s = c.seconds('t').map(|(s, _)| s).or(c.count('n').map(|n| n * 60)).unwrap_or(60);
                let from_s = match (c.count('f'), c.seconds('f')) {
                    (Some(minute), _) => minute.saturating_sub(1) * 60,
                    (None, Some((from, _))) => from,
                    (None, None) => every_s,
                };
                Self::Interrupt { every_s: every_s.max(1), from_s }
            }
            "penalty" => {
                // What is owed, or a sign that leads to it, stands behind.
                let leads = line
                    .tokens
                    .get(end)
                    .is_none_or(|token| token.number().is_some() || matches!(token.kind, Kind::Sign(_)))
                    || !line.movements[end].is_empty()
                    || matches!(line.tokens[end - 1].kind, Kind::Sign(_))
                    || line.tokens.get(end).and_then(|token| token.word()).is_some_and(|word| {
                        crate::values::number_word(word).is_some() || matches!(word, "do" | "run" | "a")
                    });
                leads.then_some(Self::Penalty)?
            }
            "tabata" => Self::Tabata,
            "onoff.ratio" => {
                let work_s = c.seconds('w')?.0;
                let part = |name| c.number(name).unwrap_or(1.0).clamp(1.0, MOST_OF_A_RATIO);
                let rest_s = (f64::from(work_s) * part('b') / part('a')).round() as u32;
                Self::OnOff { times: c.count('k'), work_s, rest_s, total_s: None }
            }
            "onoff.short" => {
                let (times, work_s, rest_s) = (c.count('k')?, c.count('w')?, c.count('r')?);
                let likely = times >= 4
                    && (15..=60).contains(&work_s)
                    && (5..=60).contains(&rest_s)
                    && work_s % 5 == 0
                    && rest_s % 5 == 0;
                likely.then_some(Self::OnOff { times: Some(times), work_s, rest_s, total_s: None })?
            }
            "onoff" | "onoff.bare" => {
                // "8 DB presses 25s/15s" are dumbbells.
                let at = position(captures, 'w')?;
                if line.is_plural_of_a_weight(at + 1, line.tokens[at].number().unwrap_or_default()) {
                    return None;
                }
                let length = |name: char| {
                    let (low, _) = c.seconds(name)?;
                    // A bare number of an interval is seconds when it is longer than any interval in minutes.
                    let bare = matches!(line.tokens.get(position(captures, name)?)?.kind, Kind::Number(_));
                    let unit = bare && !has_unit(line, position(captures, name)?);
                    Some(if unit && low >= 600 { low / 60 } else { low })
                };
                let work_s = length('w').or(c.count('w'))?;
                let rest_s = length('r').or(c.count('r'))?;
                (work_s > 0).then_some(Self::OnOff {
                    times: c.count('k').or(c.count('n')),
                    work_s,
                    rest_s,
                    total_s: c.seconds('d').map(|(s, _)| s),
                })?
            }
            "stationtime" => {
                Self::StationTime { work_s: c.seconds('w')?.0, move_s: c.seconds('r').map(|(low, _)| low) }
            }
            "every" | "every.emom" | "every.x" => {
                let interval_s = c
                    .seconds('t')
                    .map(|(s, _)| s)
                    .or(c.number('t').map(|minutes| (minutes * 60.0) as u32))
                    .unwrap_or(60);
                let total_s = c.seconds('d').map(|(s, _)| s);
                let times = c.count('n').or(total_s.map(|total| total / interval_s.max(1)));
                (interval_s > 0).then_some(Self::Every { interval_s, times, total_s })?
            }
            // "Every third minute for 8 sets"
            "every.nth" => {
                let words = words_between(line, start, end);
                let other = words.iter().any(|word| word == "other").then_some(2);
                let nth = other.or_else(|| nth(&words)).filter(|n| (2..=10).contains(n))?;
                let total_s = c.seconds('d').map(|(s, _)| s);
                let times = c.count('n').or(total_s.map(|total| total / (nth * 60)));
                Self::Every { interval_s: nth * 60, times, total_s }
            }
            "every.turn" => {
                let minutes = c.number('t').map(|minutes| (minutes * 60.0) as u32);
                Self::InTurn(c.seconds('t').map(|(s, _)| s).or(minutes).unwrap_or(60))
            }
            "alternating" => Self::Alternating,
            "fromstart" => Self::FromTheStart,
            "backagain" => Self::BackAgain,
            "everyrounds" => Self::EveryRounds(c.count('n').filter(|n| *n > 1)?),
            "everyrounds.word" => {
                let words = words_between(line, start, end);
                let other = words.iter().any(|word| word == "other");
                Self::EveryRounds(if other { 2 } else { nth(&words)? })
            }
            "everyreps" => Self::EveryReps(c.count('n').filter(|n| *n > 1)?),
            "everyreps.word" => Self::EveryReps(nth(&words_between(line, start, end)).filter(|n| *n > 1)?),
            "onoff.table" => Self::OnOff {
                times: c.count('k').filter(|times| *times > 0),
                work_s: c.seconds('w')?.0,
                rest_s: c.seconds('r')?.0,
                total_s: None,
            },
            "bouts" | "bouts.plain" => Self::Bouts {
                times: c.count('k').filter(|times| *times > 0 && *times <= 60)?,
                seconds: c.seconds('t')?.0,
                open: says == "bouts",
            },
            "amrap" => {
                // "AMRAP: 10 deadlifts" is no length.
                let at = position(captures, 't')?;
                let colon = line.tokens[start..end].iter().any(|token| token.is(':'));
                let counts = line.movements.get(end).is_some_and(|names| !names.is_empty());
                // "AMRAP 10 swings, 10 push-ups": where the others are counted, so is the first.
                let others = (end + 1..line.tokens.len())
                    .any(|n| line.tokens[n - 1].number().is_some() && !line.movements[n].is_empty());
                if (colon || others) && counts && !has_unit(line, at) {
                    return None;
                }
                Self::Amrap(Some(c.seconds('t')?.0))
            }
            "amrap.open" => Self::Amrap(None),
            "clock" => Self::Clock(c.seconds('t')?.0),
            // "On a 90 second clock" is said of sets that begin with each.
            "clock.long" => Self::Clock(c.seconds('t').filter(|(s, _)| *s > LONGEST_INTERVAL_S)?.0),
            "failure" | "failure.death" => Self::UntilFailure { rises: says == "failure.death" },
            "addeach.from" => {
                Self::Scheme { reps: vec![c.count('f')?], open: c.count('n').filter(|n| *n > 0) }
            }
            "inminute" => Self::InMinute { minute: c.count('k')?, reps: c.count('n')? },
            "addeach" => Self::AddEach(c.count('n').unwrap_or_else(|| {
                let words = words_between(line, start, end);
                if words.iter().any(|w| w == "twos") {
                    2
                } else if words.iter().any(|w| w == "threes") {
                    3
                } else {
                    1
                }
            })),
            "quality" => Self::Quality,
            "cap" => Self::Cap(Some(c.seconds('t')?.1)),
            // Shorter ones are of a hold or an attempt.
            "cap.most" => {
                let most = c.seconds('t')?.1;
                (most >= SHORTEST_CAP_S).then_some(Self::Cap(Some(most)))?
            }
            "cap.open" => Self::Cap(None),
            "clockstart" => Self::ClockStart,
            // Behind a name in brackets seconds are of a hold, and two strokes are inches.
            "length" | "length.framed" => {
                let (low, high) = c.seconds('t')?;
                (low == high && (says == "length" || low >= 60)).then_some(Self::Length(low))?
            }
            "rest.pause" => {
                // A pause of a few seconds is one inside a repetition.
                let (low_s, high_s) = c.seconds('t').filter(|(low, _)| *low >= SHORTEST_REST_S)?;
                Self::Rest { low_s, high_s, after: None }
            }
            "rest" | "rest.each" | "rest.all" => {
                let (low_s, high_s) = c.seconds('t')?;
                let bare = !has_unit(line, position(captures, 't')?)
                    && matches!(line.tokens[position(captures, 't')?].kind, Kind::Number(_));
                // "rest 90" is seconds, "rest 2" is minutes.
                let scale = |s: u32| if bare && s >= 15 * 60 { s / 60 } else { s };
                let after = match says {
                    "rest.each" => Some(RestAfter::Each),
                    "rest.all" => Some(RestAfter::All),
                    _ => None,
                };
                Self::Rest { low_s: scale(low_s), high_s: scale(high_s), after }
            }
            "restopen" => Self::RestOpen,
            "restaswork" => {
                let (work, rest) = (c.number('a')?, c.number('b')?);
                let ratio =
                    (1.0..=MOST_OF_A_RATIO).contains(&work) && (1.0..=MOST_OF_A_RATIO).contains(&rest);
                ratio.then_some(Self::RestAsWork(rest / work))?
            }
            "restaswork.half" => Self::RestAsWork(0.5),
            "restaswork.same" => Self::RestAsWork(1.0),
            "restaswork.back" => Self::RestAsWork(WALK_BACK),
            "whenready" => Self::WhenReady,
            "roundunder" => Self::RoundUnder(c.seconds('t')?.0),
            "target.or" => Self::Target {
                low: c.number('a'),
                high: c.number('b').filter(|b| c.number('a').is_some_and(|a| a < *b))?.into(),
                of: Aim::Rounds,
            },
            "roundunder.work" => Self::RoundUnder(c.seconds('t')?.1),
            "roundwithin" => {
                let (low, high) = c.seconds('d')?;
                if low < high {
                    Self::Target { low: Some(f64::from(low)), high: Some(f64::from(high)), of: Aim::Seconds }
                } else {
                    Self::RoundUnder(high)
                }
            }
            "target.between" => {
                let (low, high) = (f64::from(c.seconds('a')?.0), f64::from(c.seconds('b')?.1));
                // The unit of the second number speaks for both.
                let low =
                    if low < 60.0 * high.min(60.0) / 60.0 && high >= 120.0 { low.max(60.0) } else { low };
                let (of, scale) = if c.has('k') { (Aim::Rounds, 60.0) } else { (Aim::Seconds, 1.0) };
                (low < high).then_some(Self::Target {
                    low: Some(low / scale),
                    high: Some(high / scale),
                    of,
                })?
            }
            "target.plus" => {
                Self::Target { low: c.number('n').filter(|n| *n > 0.0), high: None, of: Aim::Rounds }
            }
            "target" | "target.nice" => {
                // "At most one miss": a bare number so small is no time.
                let bare = position(captures, 'd').filter(|at| {
                    let number =
                        line.tokens.get(*at).is_some_and(|token| !matches!(token.kind, Kind::Clock(_)));
                    number && !has_unit(line, *at)
                });
                // "Miss at most 4" counts, of whatever it speaks.
                let loose = matches!(captured_word('u'), "no" | "at" | "less" | "within" | "not");
                let short = loose || c.seconds('d').is_some_and(|(_, high)| high <= 60);
                return target(&c, captured_word('k')).filter(|_| bare.is_none() || !short);
            }
            // Minutes, where nothing else is said.
            "target.by" => {
                let high = c.number('n').filter(|n| (2.0..=60.0).contains(n))? * 60.0;
                Self::Target { low: None, high: Some(high), of: Aim::Seconds }
            }
            "target.minutes" => {
                let (low, high) = c.range('r').filter(|(low, high)| *low >= 2.0 && *high <= 60.0)?;
                Self::Target { low: Some(low * 60.0), high: Some(high * 60.0), of: Aim::Seconds }
            }
            "trainingmax" => match c.value('p') {
                Some(Value::Percents(share)) => match share[..] {
                    [[low, high]] if low == high && (50.0..=100.0).contains(&low) => {
                        Self::OfTrainingMax(Some(low))
                    }
                    _ => return None,
                },
                Some(_) => return None,
                None => Self::OfTrainingMax(None),
            },
            "choose" => Self::ChooseOne,
            "score.metres" => Self::CountedIn(Unit::Metres),
            "score.words" => Self::ScoreWord,
            "score.reps" => Self::Score(Score::Reps),
            "score.slowest" => Self::Score(Score::SlowestInterval),
            "score.lowest" => Self::Score(Score::Reps),
            "score.minusrest" => Self::Score(Score::TimeMinusRest),
            "score.rounds" => Self::Score(Score::RoundsReps),
            "score.total" => Self::Score(Score::Time),
            "effort" => match c.value('p')? {
                Value::Percents(share) if share.len() == 1 => Self::Intent(effort(share[0])),
                _ => return None,
            },
            "feel" => Self::Intent(Intent::Feel(words_between(line, start, end).join(" "))),
            "setsatmost" => Self::Intent(Intent::SetsAtMost(c.count('n')?)),
            "setsatmost.one" => Self::Intent(Intent::SetsAtMost(1)),
            "repspermin" => Self::Intent(Intent::RepsPerMinute(f64::from(c.count('n')?))),
            "restleft" => Self::Intent(Intent::RestLeft(c.seconds('t').or(c.seconds('d'))?.0)),
            "team" => Self::Team(c.count('n').filter(|n| (2..=12).contains(n))?),
            // "3 paused front squats (2s)": the pause.
            "team.two" | "team.three" if paused(line.tokens) && line.tokens[start].is('(') => return None,
            "team.two" => Self::Team(2),
            "team.three" => Self::Team(3),
            "sharing.rounds" => Self::Sharing(Sharing::Rounds),
            "sharing.free" => Self::Sharing(Sharing::Freely),
            "sharing.turns" => match c.value('d')? {
                Value::Dose { unit: Some(Unit::Seconds), .. } => Self::Told,
                Value::Dose { first, unit, .. } if *first >= 1.0 => {
                    // Nobody waits for five hundred repetitions: "switch every 500" of a row.
                    let metres = *first >= f64::from(LEAST_OF_METRES);
                    let unit = unit.unwrap_or(if metres { Unit::Metres } else { Unit::Reps });
                    Self::Sharing(Sharing::InTurns { each: *first as u32, unit })
                }
                _ => return None,
            },
            "sharing.held.beside" => Self::Sharing(Sharing::Held),
            "sharing.stations" => Self::Sharing(Sharing::Stations),
            "instep" => Self::InStep,
            "fromhang" => Self::FromHang,
            "percentsof" => match c.value('m')? {
                Value::Movement { id, weighs: true, .. } => Self::PercentsOf(id.clone()),
                _ => return None,
            },
            "setat.open.bare" => {
                let share = c.number('n').filter(|n| BARE_SHARES.contains(n))?;
                Self::SetAt { reps: 0, percent: [share; 2] }
            }
            // "4-6 @ 70" below sets that are counted through.
            "percent.sets.on" => {
                let (from, to, share) = (c.count('a')?, c.count('b')?, c.number('n')?);
                let likely = from < to && to <= MOST_SETS_TOLD && BARE_SHARES.contains(&share);
                likely.then(|| Self::Percent(vec![[share; 2]; (to - from + 1) as usize]))?
            }
            "sharing.together" => Self::Sharing(Sharing::Together),
            "rampsets" => Self::RampSets,
            "buyin" => Self::BuyIn,
            "cashout" => Self::CashOut,
            "scheme.count" => {
                let (from, to) = (c.count('a')?, c.count('b')?);
                let counts = from.min(to) == 1 && (LEAST_COUNTED..=MOST_COUNTED).contains(&from.max(to));
                let reps = if from < to { (from..=to).collect() } else { (to..=from).rev().collect() };
                counts.then_some(Self::Scheme { reps, open: None })?
            }
            "rungs" | "rungs.on" => {
                let (reps, step) = rungs(&c)?;
                let goes_on = says == "rungs.on";
                Self::Scheme { reps, open: if goes_on { Some(u32::try_from(step).ok()?) } else { None } }
            }
            // Behind work that has the first of them for its number.
            "rungs.behind" => Self::AddEach(u32::try_from(rungs(&c)?.1).ok()?),
            "aftereach.thing" => Self::AfterEachThing,
            "aftereach" => Self::AfterEach { last: true },
            "betweeneach" => Self::AfterEach { last: false },
            "remaining" => Self::Remaining,
            "then" => Self::Then,
            "rounds.once" => Self::Rounds(1),
            "rounds" | "rounds.x" => Self::Rounds(c.count('n').or(Some(2))?),
            "roundsrange" => Self::Rounds(c.range('r')?.0 as u32),
            "scheme" => match c.value('l')? {
                Value::List { reps, open } => Self::Scheme { reps: reps.clone(), open: *open },
                _ => return None,
            },
            // A ball is thrown so high; nobody covers three metres of ground.
            "told.height" => {
                c.number('n').filter(|metres| (2.0..=4.0).contains(metres)).map(|_| Self::Told)?
            }
            "scheme.by" => {
                let step = c.count('n').filter(|n| (1..=10).contains(n))?;
                Self::Scheme { reps: vec![step], open: Some(step) }
            }
            "scheme.waves" => match (c.count('k')?, c.value('l')?) {
                (times @ 1..=6, Value::List { reps, open: None }) => {
                    Self::Scheme { reps: reps.repeat(times as usize), open: None }
                }
                _ => return None,
            },
            "forboth" => Self::ForBoth,
            "ofboth" => Self::OfBoth(c.count('n').filter(|n| *n > 0)?),
            "scheme.updown" => match c.value('l')? {
                Value::List { reps, open: None } => Self::Scheme { reps: there_and_back(reps), open: None },
                _ => return None,
            },
            "eachofthem" => Self::Each,
            "side" => Self::Side,
            "side.both" => Self::BothSides,
            "split" => Self::Split(c.count('a')?, c.count('b').filter(|b| Some(*b) == c.count('a'))?),
            "split.each" => Self::Split(c.count('a')?, c.count('b').unwrap_or(c.count('a')?)),
            "same" => Self::Same,
            "or" => Self::Or,
            "slash" => Self::Slash,
            "plus" => Self::Plus,
            "load" | "load.levels" | "load.plural" | "bareload" | "bareload.pair" | "bareload.plain"
            | "loadrange" | "loadpair" | "toolload" | "toolload.behind" => {
                return load(says, &c, line, start, end);
            }
            // "Row @ 2:05-2:15" is how quick, and not how long.
            "told.pace" => {
                let clock = |name: char| {
                    let at = position(captures, name)?;
                    let seconds = c.seconds(name)?.0;
                    let written = matches!(line.tokens.get(at)?.kind, Kind::Clock(_));
                    (written && PACE_S.contains(&seconds)).then_some(seconds)
                };
                (clock('a')? < clock('b')?).then_some(Self::Told)?
            }
            "max" => Self::Max,
            "item" | "item.guess" | "item.behind" | "item.sets" | "item.bare" | "item.laps" | "item.max"
            | "item.maxbehind" | "item.meanwhile" | "item.timed" | "item.effort" | "item.within"
            | "item.window" | "item.side" | "item.unitbehind" | "item.twice" | "item.comma" | "item.end" => {
                // "40 KBS / 40 cal bike" is two kinds of work, and none of them foreign.
                // "Find a 5 rep max press": the most is of the load.
                let rep = |token: &Token| matches!(token.word(), Some("rep" | "reps"));
                if says == "item.max" && start > 0 && line.tokens.get(start - 1).is_some_and(rep) {
                    return None;
                }
                if says == "item.twice"
                    && line.movements.get(start + 1).is_some_and(|names| !names.is_empty())
                {
                    return None;
                }
                // "Pull-ups: three sets" is no three of them.
                let sets =
                    || Lexicon::standard().class("set").is_some_and(|set| line.class(end, set).is_some());
                if says == "item.behind" && sets() {
                    return None;
                }
                // Metres, a distance, or as far as it goes.
                let metres = captured_word('u').starts_with(['m', 'd', 'f']);
                return item(says, &c, if metres { Unit::Metres } else { Unit::Calories });
            }
            // "2 rope climbs (4.5 m)": how high; nobody goes so few metres anywhere.
            "item.size" => {
                return item("item", &c, Unit::Reps)
                    .filter(|_| c.number('n').is_some_and(|n| n < LEAST_WAY_M));
            }
            "dose" if line.tokens[start].number().is_some() => return dose(&c).filter(|_| has_dose_unit(&c)),
            "dose" => return None,
            "told" => Self::Told,
            "ofpiece" | "ofpart" => {
                let words = words_between(line, start, end);
                let last = words.iter().any(|word| word == "last").then_some(0);
                let n = c.count('n').filter(|n| *n > 0).or_else(|| ordinal(&words)).or(last)?;
                Self::OfPiece(if says == "ofpiece" { Place::Piece(n) } else { Place::Part(n) })
            }
            other => {
                debug_assert!(false, "the grammar says `{other}`, which means nothing");
                return None;
            }
        })
    }
}

/// The place that the first of such words tells.
fn ordinal(words: &[String]) -> Option<u32> {
    nth(words).filter(|n| *n <= 4)
}

/// "Third" is 3.
fn nth(words: &[String]) -> Option<u32> {
    const ORDINALS: [(&str, u32); 10] = [
        ("first", 1),
        ("second", 2),
        ("third", 3),
        ("fourth", 4),
        ("fifth", 5),
        ("tenth", 10),
        ("2nd", 2),
        ("3rd", 3),
        ("4th", 4),
        ("5th", 5),
    ];
    words.iter().find_map(|word| ORDINALS.iter().find(|(known, _)| known == word).map(|(_, n)| *n))
}

/// Repetitions of "3/3, 6/6, 9/9", the same of both movements in each rung, and by how much they change from one to the next.
fn rungs(c: &Captures<'_>) -> Option<(Vec<u32>, i32)> {
    let halves: Vec<u32> = c.numbers('a').map(|reps| reps as u32).collect();
    let alike = halves.chunks(2).all(|pair| matches!(pair, [a, b] if a == b));
    let reps: Vec<u32> = halves.into_iter().step_by(2).collect();
    let steps: Vec<i32> = reps.windows(2).map(|pair| pair[1] as i32 - pair[0] as i32).collect();
    let step = *steps.first().filter(|step| **step != 0)?;
    (alike && steps.iter().all(|other| *other == step)).then_some((reps, step))
}

/// Rungs up and back down, the turning point once.
fn there_and_back(reps: &[u32]) -> Vec<u32> {
    reps.iter().chain(reps.iter().rev().skip(1)).copied().collect()
}

/// A share of one's all, written of work that no bar weighs.
pub(crate) fn effort(share: [f64; 2]) -> Intent {
    let [low, high] = share;
    Intent::Feel(if low < high { format!("{low}-{high} % effort") } else { format!("{low} % effort") })
}

/// Repetitions of "a heavy single", "doubles", "a triple".
pub(super) fn reps_of_a_set(words: &[String]) -> Option<u32> {
    words.iter().find_map(|word| match word.trim_end_matches('s') {
        "single" => Some(1),
        "double" => Some(2),
        "triple" => Some(3),
        _ => None,
    })
}

/// "4 x 2.2.2" and "4 x (2-2-2)" are single ones with a breath between; "4 x (5-3-1)" is gone through.
fn is_cluster(line: &Line<'_>, start: usize, end: usize, reps: &[u32]) -> bool {
    let has = |sign: char| line.tokens[start..end].iter().any(|token| token.is(sign));
    let alike = reps.windows(2).all(|pair| pair[0] == pair[1]);
    has('.') || has('(') && alike
}

/// Whether a number that ends a set at a share is not that of the movement behind it.
fn says_reps_of_it(line: &Line<'_>, end: usize) -> bool {
    let counted = end > 0 && line.tokens[end - 1].number().is_some();
    !(counted && line.movements.get(end).is_some_and(|names| !names.is_empty()))
}

/// Whether a line says that something is held.
fn paused(tokens: &[Token]) -> bool {
    tokens.iter().any(|token| matches!(token.word(), Some("pause" | "paused" | "pauses" | "hold")))
}
