//! Rows of the grammar that say several things at once; the others say one (`phrase`).

use lantern_session::movement::{MovementId, Unit};
use lantern_session::{PartKind, PercentOf, RestAfter, Score, Sharing};

use super::captures::{Captures, words_between};
use super::items::{LONGEST_HOLD_S, dose, has_dose_unit, item};
use super::phrase::reps_of_a_set;
use super::sets::sets;
use super::{Item, MACHINES, MOST_OF_A_SET, Say};
use crate::grammar::Capture;
use crate::lexicon::Lexicon;
use crate::tokens::Token;
use crate::values::{Line, Value};

/// The least number behind a comma that goes on with a list of shares: "@ 80, 85, 90".
const LEAST_SHARE: f64 = 30.0;

/// What a ball, a bell, a dumbbell or a bar weighs, in kilograms or pounds.
const LOADS: std::ops::RangeInclusive<f64> = 4.0..=250.0;

/// Words beside a clock that say that entries take turns.
const ALTERNATING: [&str; 3] = ["alternating", "alternate", "alt"];

/// Shortest length of a piece that is said to be steady, in seconds; a shorter one is a bout of it.
const SHORTEST_STEADY_S: u32 = 480;

/// What is gone on for as long, or as far, whichever it is.
const ENGINES: [&str; 4] = ["row", "bike", "ski", "run"];

/// What who hangs from a bar does.
const HANG: &str = "dead-hang";

/// Words beside a clock that count how often it goes round.
const ROUNDS: [&str; 4] = ["round", "rounds", "rds", "rd"];

impl Say {
    /// From the row's name and what its pattern captured.
    pub fn all(says: &str, captures: &[Capture], line: &Line<'_>, start: usize, end: usize) -> Vec<Self> {
        let mut all = match says.strip_prefix("in.") {
            // "Build in 12 min to a heavy triple": what it is built to, and in how long.
            Some(built) => {
                let length = Captures(captures).seconds('t').map(|(seconds, _)| Self::Length(seconds));
                let built = Self::several(built, captures, line, start, end);
                length.filter(|_| !built.is_empty()).into_iter().chain(built).collect()
            }
            None => Self::several(says, captures, line, start, end),
        };
        // "40 synchro burpees"
        let in_step = || {
            let class = Lexicon::standard().class("sharetogether");
            let at = |n: usize| {
                line.classes[n].iter().any(|(known, behind)| Some(*known) == class && *behind <= end)
            };
            (start..end).any(at)
        };
        for said in &mut all {
            if let Self::Item(item) = said {
                item.in_step = in_step();
            }
        }
        // "5+": the last of these sets goes on.
        let of_sets = matches!(
            says,
            "setat" | "setat.each" | "setsreps" | "setslist" | "setpairs" | "setsreps.at" | "again"
        );
        if of_sets && !all.is_empty() && line.tokens[start..end].iter().any(|token| token.is('+')) {
            all.push(Self::OpenLast);
        }
        if (says == "every" || says.starts_with("every.")) && !all.is_empty() {
            let words = words_between(line, start, end);
            let told = |known: &[&str]| words.iter().any(|word| known.contains(&word.as_str()));
            if told(&ALTERNATING) {
                all.push(Self::Alternating);
            }
            if told(&ROUNDS) {
                all.push(Self::TimesRound);
            }
        }
        all
    }

    fn several(says: &str, captures: &[Capture], line: &Line<'_>, start: usize, end: usize) -> Vec<Self> {
        // "No more than 85 %" is how heavy it gets, and no time to beat.
        if says.starts_with("target") && line.tokens.get(end).is_some_and(|token| token.is('%')) {
            return Vec::new();
        }
        if let Some(said) = sets(says, captures, line, start, end) {
            return said;
        }
        let c = Captures(captures);
        let counted = |name: char, say: fn(u32) -> Self| c.count(name).filter(|n| *n > 0).map(say);
        match says {
            "fortime" | "fortime.quality" => {
                let how = if says == "fortime" { Self::ForTime } else { Self::Quality };
                counted('n', Self::Rounds).into_iter().chain([how]).collect()
            }
            // "3 sets of 4 at 95% of the snatch" is of another lift.
            // "3 sets, 12 reps @ 55%, 10 reps @ 60%" lists one by one.
            "setsreps.share" if lists_on(line, end) => Vec::new(),
            "setsreps.share" => match (c.count('s'), c.count('n'), c.value('p')) {
                _ if line.tokens.get(end).and_then(Token::word) == Some("of") => Vec::new(),
                (Some(sets), Some(reps), Some(Value::Percents(share))) if sets > 0 && reps > 0 => {
                    vec![Self::SetsReps { sets, reps, upper: None }, Self::Percent(share.clone())]
                }
                _ => Vec::new(),
            },
            "every.setsreps" => {
                let interval_s = c.seconds('t').map_or(60, |(s, _)| s);
                // "1 rep every 40 s for 10 reps": without a number of their own they are singles.
                match (c.count('n'), c.count('r').unwrap_or(1)) {
                    (Some(sets), reps) if interval_s > 0 && sets > 0 => vec![
                        Self::Every { interval_s, times: Some(sets), total_s: None },
                        Self::SetsReps { sets, reps, upper: None },
                    ],
                    _ => Vec::new(),
                }
            }
            "item.height" => match (item("item", &c, Unit::Reps), c.value('m'), c.number('n')) {
                (Some(item), Some(Value::Movement { id, .. }), Some(height))
                    if id.as_str().contains("box")
                        && (16.0..=80.0).contains(&height)
                        && has_dose_unit(&c) =>
                {
                    vec![item, Self::Load { implements: 1, first: height, second: None, unit: None }]
                }
                _ => Vec::new(),
            },
            "onoff.each" => match (c.count('w'), c.count('r'), c.count('n')) {
                (Some(work_s), Some(rest_s), Some(rounds)) if work_s >= 10 && rest_s >= 5 && rounds > 0 => {
                    vec![Self::OnOff { times: Some(rounds), work_s, rest_s, total_s: None }]
                }
                _ => Vec::new(),
            },
            "build.complex" => vec![Self::Build, Self::Complex { named: false }],
            "amrap.partner" => {
                let amrap = c.seconds('t').filter(|(s, _)| *s > 0).map(|(s, _)| Self::Amrap(Some(s)));
                amrap.into_iter().chain([Self::Team(2)]).collect()
            }
            // "AMRAP 7, 3 min off, AMRAP 7, 3 min off, AMRAP 7"
            "bouts.list" => {
                let lengths = |name: char| {
                    captures.iter().filter_map(move |(known, value, _)| match value {
                        Some(Value::Seconds(low, _)) if *known == name => Some(*low),
                        _ => None,
                    })
                };
                let bouts: Vec<u32> = lengths('t').chain(lengths('u')).collect();
                let rests: Vec<u32> = lengths('r').collect();
                let alike = |all: &[u32]| all.windows(2).all(|pair| pair[0] == pair[1]);
                match (bouts.first(), rests.first()) {
                    (Some(&seconds), Some(&rest)) if alike(&bouts) && alike(&rests) && seconds > 0 => vec![
                        Self::Bouts { times: bouts.len() as u32, seconds, open: true },
                        Self::Rest { low_s: rest, high_s: rest, after: Some(RestAfter::Each) },
                    ],
                    _ => Vec::new(),
                }
            }
            "bouts.two" => match (c.seconds('t'), c.seconds('u')) {
                (Some((seconds, _)), Some((other, _))) if seconds == other && seconds > 0 => {
                    vec![Self::Bouts { times: 2, seconds, open: true }]
                }
                _ => Vec::new(),
            },
            // "70% x 3 x 4" is three repetitions, four times; "2 singles at 92%" one, twice.
            "setat.sets" => match (c.value('p'), c.count('n').unwrap_or(1), c.count('s')) {
                (Some(Value::Percents(share)), reps, Some(sets))
                    if share.len() == 1 && (1..=20).contains(&reps) && (1..=12).contains(&sets) =>
                {
                    vec![Self::SetAt { reps, percent: share[0] }; sets as usize]
                }
                _ => Vec::new(),
            },
            // "3 x amrap @ 65%"
            // "Pull-ups: accumulate 40" is of what is named before it, or in the line above; what is named behind has its number itself.
            "accumulate" if line.movements.iter().skip(end).all(Vec::is_empty) => {
                let amount = c.number('n').map(|n| (n, None));
                vec![Self::Collect, Self::Item(Item { amount, unit: Some(Unit::Reps), ..Item::default() })]
            }
            "accumulate" => Vec::new(),
            // "Three minutes after the last one is out" leads to what comes then.
            "rest.afterall" => match c.seconds('t') {
                Some((low_s, high_s)) => {
                    vec![Self::Then, Self::Rest { low_s, high_s, after: Some(RestAfter::All) }]
                }
                None => Vec::new(),
            },
            // "9 cleans @ 60/40 FT"
            "load.ft" => {
                let load = |first| Self::Load { implements: 1, first, second: c.number('b'), unit: None };
                c.number('a').map(load).into_iter().chain([Self::ForTime]).collect()
            }
            // "60-65-70-75" behind a lift: so many repetitions rise like that for nobody.
            "percent.bare" => match c.value('l') {
                Some(Value::List { reps: shares, open: None })
                    if shares.len() >= 3
                        && shares.iter().all(|share| (40..=110).contains(share))
                        && shares.windows(2).all(|pair| pair[0] <= pair[1])
                        && shares.first() < shares.last() =>
                {
                    vec![Self::Percent(shares.iter().map(|share| [f64::from(*share); 2]).collect())]
                }
                _ => Vec::new(),
            },
            "item.loaded" => loaded(&c),
            "tabata.turns" => vec![Self::Tabata, Self::Alternating],
            // "Push press 5 5 3 3 1"
            "item.list.spaced" => {
                let reps: Vec<u32> = captures
                    .iter()
                    .filter_map(|(name, value, _)| match value {
                        Some(Value::Count(n)) if *name == 'n' => Some(*n),
                        _ => None,
                    })
                    .collect();
                let weighs = matches!(c.value('m'), Some(Value::Movement { weighs: true, .. }));
                let sets = weighs && reps.iter().all(|reps| (1..=MOST_OF_A_SET).contains(reps));
                let scheme = Self::Scheme { reps, open: None };
                item("item.bare", &c, Unit::Reps)
                    .filter(|_| sets)
                    .into_iter()
                    .flat_map(|item| [item, scheme.clone()])
                    .collect()
            }
            "item.list" => match (item("item.bare", &c, Unit::Reps), c.value('l')) {
                (Some(item), Some(Value::List { reps, open: None })) if reps.len() >= 3 => {
                    vec![item, Self::Scheme { reps: reps.clone(), open: None }]
                }
                _ => Vec::new(),
            },
            "onetool.amrap" | "onetool.emom" | "onetool.load" => {
                let beside = match says {
                    "onetool.amrap" => "amrap",
                    "onetool.emom" => "every",
                    _ => "toolload",
                };
                let tool = Self::one("onetool", captures, line, start, end);
                tool.into_iter().chain(Self::one(beside, captures, line, start, end)).collect()
            }
            // "Back rack lunge 4x8 @ 40% back squat": of what another lift weighs.
            "percent.lift" => match (c.value('p'), c.value('m')) {
                (Some(Value::Percents(share)), Some(Value::Movement { id, weighs: true, .. }))
                    if start == 0 || line.movements[..start].iter().any(|names| !names.is_empty()) =>
                {
                    vec![Self::Percent(share.clone()), Self::PercentOf(PercentOf::Lift(id.clone()))]
                }
                _ => Vec::new(),
            },
            // "Partner hangs"
            "sharing.hangs" => {
                let hang = Item { movement: Some(MovementId::new(HANG)), meanwhile: true, ..Item::default() };
                vec![Self::Sharing(Sharing::Held), Self::Item(hang)]
            }
            "sharing.held" => {
                let held = c.value('m').and_then(|_| item("item.meanwhile", &c, Unit::Reps));
                [Self::Sharing(Sharing::Held)].into_iter().chain(held).collect()
            }
            "percent.fromto" => {
                let share = Self::one("percent.range", captures, line, start, end);
                share.into_iter().flat_map(|share| [share, Self::Climbs]).chain(of_a_lift(&c)).collect()
            }
            // "10 cal", of whatever machine.
            "dose.calories" => match dose(&c) {
                Some(Self::Item(item)) if item.unit == Some(Unit::Calories) => vec![Self::Item(item)],
                _ => Vec::new(),
            },
            // "4 min hard": of what is named above.
            "effort.dose" => match dose(&c) {
                Some(Self::Item(item)) if item.unit == Some(Unit::Seconds) => vec![Self::Item(item)],
                _ => Vec::new(),
            },
            // "12 cal row/bike/ski": one of them, for so much or for as long as is said above.
            "item.either" | "item.either.bare" => {
                let engines = c.movements('m').filter(|id| ENGINES.contains(&id.as_str()));
                let engines: Vec<MovementId> = engines.cloned().collect();
                let dose =
                    if says == "item.either" { any_dose("item.machine", &c) } else { Some(Item::default()) };
                match dose {
                    Some(dose) if engines.len() == c.movements('m').count() => either(&engines, &dose),
                    _ => Vec::new(),
                }
            }
            // "500 m on any machine": whichever is free.
            "item.machine" | "item.machine.max" => match any_dose(says, &c) {
                Some(dose) => either(&MACHINES.map(MovementId::new), &dose),
                None => Vec::new(),
            },
            "percent.half" => match c.value('m') {
                Some(Value::Movement { id, weighs: true, .. }) => {
                    vec![Self::Percent(vec![[50.0; 2]]), Self::PercentOf(PercentOf::Lift(id.clone()))]
                }
                _ => Vec::new(),
            },
            // "One bikes, one rows, one rests": a station for each of the team.
            "sharing.posts" => {
                let posts = ['m', 'n', 'o'].into_iter().filter_map(|name| match c.value(name) {
                    Some(Value::Movement { id, .. }) => {
                        Some(Self::Item(Item { movement: Some(id.clone()), max: true, ..Item::default() }))
                    }
                    _ => None,
                });
                posts.chain([Self::Sharing(Sharing::Stations)]).collect()
            }
            // "Snatch singles" is a lift, and no skipping.
            "setsof.named" => match (item("item.bare", &c, Unit::Reps), c.value('m')) {
                (Some(item), Some(Value::Movement { weighs: true, .. })) => {
                    let reps = reps_of_a_set(&words_between(line, start, end));
                    reps.map_or(Vec::new(), |reps| vec![item, Self::SetsOf(reps)])
                }
                _ => Vec::new(),
            },
            "rounds.each" => counted('n', Self::Rounds).into_iter().chain([Self::EachPerson]).collect(),
            // "Build to a heavy 3" counts repetitions of the set; "a heavy 30 m carry" is a distance.
            "build.item" if !has_dose_unit(&c) => Vec::new(),
            "build.item" => {
                item("item", &c, Unit::Reps).into_iter().flat_map(|item| [Self::Build, item]).collect()
            }
            "build.lift" => match c.value('m') {
                Some(Value::Movement { weighs: true, .. }) => item("item.bare", &c, Unit::Reps)
                    .into_iter()
                    .flat_map(|item| [Self::Build, item])
                    .collect(),
                _ => Vec::new(),
            },
            "quality.none" => vec![Self::Quality, Self::Score(Score::None)],
            "practice.of" => {
                let length = c.seconds('t').map(|(seconds, _)| Self::Practice(seconds));
                item("item.bare", &c, Unit::Reps).into_iter().chain(length).collect()
            }
            // "12 cal row (10 for the women)": the second of a pair.
            "item.women" | "item.pair" => match item("item", &c, Unit::Reps) {
                Some(Self::Item(Item { amount: Some((first, None)), unit, movement, .. })) => {
                    // Without a word for whom it is no less than half.
                    let least = if says == "item.pair" { first / 2.0 } else { 1.0 };
                    let second = c.number('n').filter(|second| (least..=first).contains(second));
                    let amount = second.map(|second| (first, Some(second)));
                    let pair = Item { amount, unit, movement, ..Item::default() };
                    amount.map(|_| Self::Item(pair)).into_iter().collect()
                }
                _ => Vec::new(),
            },
            "eased.piece" => match c.seconds('t') {
                Some((seconds, _)) if seconds >= SHORTEST_STEADY_S => {
                    vec![Self::Length(seconds), Self::Quality]
                }
                _ => Vec::new(),
            },
            "eased.rounds" => match c.count('n') {
                Some(rounds) if rounds > 0 => vec![Self::Rounds(rounds), Self::Quality],
                _ => Vec::new(),
            },
            "eased" => match (item("item", &c, Unit::Reps), c.value('d')) {
                (Some(item), Some(Value::Dose { first, unit: Some(Unit::Seconds), .. }))
                    if *first >= LONGEST_HOLD_S =>
                {
                    vec![item, Self::Quality]
                }
                _ => Vec::new(),
            },
            "kind.easy" => item("item", &c, Unit::Reps)
                .into_iter()
                .flat_map(|item| [Self::Kind(PartKind::Warmup), item])
                .collect(),
            "kind.warmup" | "kind.mobility" => {
                let length = c.seconds('t').map(|(s, _)| Self::Length(s));
                let kind = if says == "kind.warmup" { PartKind::Warmup } else { PartKind::Mobility };
                length.into_iter().chain([Self::Kind(kind)]).collect()
            }
            "item.load" => match (item("item.bare", &c, Unit::Reps), c.value('m'), c.value('l')) {
                (
                    Some(item),
                    Some(Value::Movement { weighs: true, .. }),
                    Some(Value::Load { implements, first, second: Some(second), unit: None }),
                ) if first > second => {
                    let (implements, first, second) = (*implements, *first, Some(*second));
                    vec![item, Self::Load { implements, first, second, unit: None }]
                }
                _ => Vec::new(),
            },
            "fortime.capped" => match (c.count('n'), c.count('t')) {
                (Some(rounds), Some(minutes)) if rounds > 0 && (3..=60).contains(&minutes) => {
                    vec![Self::Rounds(rounds), Self::ForTime, Self::Cap(Some(minutes * 60))]
                }
                _ => Vec::new(),
            },
            "percent.rm" => {
                let rm = c.count('n').filter(|n| (2..=20).contains(n));
                rm.map(|n| Self::PercentOf(PercentOf::Rm(n))).into_iter().collect()
            }
            // "3 by 10 @ 22.5/12.5"
            "again" if start > 1 && line.tokens[start - 1].word() == Some("by") => Vec::new(),
            "again" => match (c.count('n'), c.value('l')) {
                (Some(reps), Some(Value::Load { implements, first, second, unit })) if *first >= 5.0 => {
                    let item = Item { amount: Some((f64::from(reps), None)), ..Item::default() };
                    let load =
                        Self::Load { implements: *implements, first: *first, second: *second, unit: *unit };
                    vec![Self::Item(item), load]
                }
                _ => Vec::new(),
            },
            // "3x5 @ 75" of a lift that everybody does: nobody writes one load for all, so it is a share.
            "setsreps.at" => {
                let unit = line.load_unit(end).is_some() || line.dose_unit(end).is_some();
                let more = line.tokens.get(end).is_some_and(|token| {
                    token.is('/')
                        || token.is('-')
                        || token.is('%')
                        || token.is(',')
                            && line
                                .tokens
                                .get(end + 1)
                                .and_then(Token::number)
                                .is_some_and(|n| n >= LEAST_SHARE)
                            && !line.times(end + 2)
                });
                match (c.count('s'), c.count('n'), c.number('p')) {
                    (Some(sets), Some(reps), Some(percent))
                        if !unit
                            && !more
                            && (1..=12).contains(&sets)
                            && (1..=20).contains(&reps)
                            && (50.0..=100.0).contains(&percent) =>
                    {
                        vec![
                            Self::SetsReps { sets, reps, upper: None },
                            Self::Percent(vec![[percent, percent]]),
                        ]
                    }
                    _ => Vec::new(),
                }
            }
            // "5/3/1+": the last set is open.
            "scheme.plus" => match c.value('l') {
                Some(Value::List { reps, open: None }) => {
                    vec![Self::Scheme { reps: reps.clone(), open: None }, Self::OpenLast]
                }
                _ => Vec::new(),
            },
            "complexname" => {
                let name = item("item.bare", &c, Unit::Reps);
                name.map_or_else(Vec::new, |name| vec![Self::Complex { named: true }, name])
            }
            "roundsdose" => match (counted('n', Self::Rounds), dose(&c).filter(|_| has_dose_unit(&c))) {
                (Some(rounds), Some(dose)) => vec![rounds, dose],
                _ => Vec::new(),
            },
            // "5 x hill sprint": so many times, and nobody knows how far.
            "rounds.runs" => match (counted('n', Self::Rounds), c.value('m')) {
                (Some(rounds), Some(Value::Movement { id, .. })) => {
                    vec![rounds, Self::Item(Item { movement: Some(id.clone()), ..Item::default() })]
                }
                _ => Vec::new(),
            },
            // "4 x run 400 m"
            "roundsdose.mv" => {
                let named = item("item.behind", &c, Unit::Reps).filter(|_| has_dose_unit(&c));
                match (counted('n', Self::Rounds), named) {
                    // "3 x side plank for 30 s"
                    (Some(_), Some(Self::Item(held))) if held.unit == Some(Unit::Seconds) => {
                        vec![Self::Item(Item { sets: c.count('n'), ..held })]
                    }
                    (Some(rounds), Some(named)) => vec![rounds, named],
                    _ => Vec::new(),
                }
            }
            "percent.bodyweight" => {
                let share = Self::one("percent", captures, line, start, end);
                share.into_iter().chain([Self::PercentOf(PercentOf::Bodyweight)]).collect()
            }
            "bodyweight" | "bodyweight.half" | "bodyweight.part" => {
                let part = c.count('a').zip(c.count('b')).map(|(a, b)| f64::from(a) / f64::from(b.max(1)));
                let times = match says {
                    "bodyweight.half" => 0.5,
                    _ => part.or(c.number('n')).unwrap_or(1.0),
                };
                if !(0.2..=3.5).contains(&times) {
                    return Vec::new();
                }
                vec![Self::Percent(vec![[times * 100.0; 2]]), Self::PercentOf(PercentOf::Bodyweight)]
            }
            // "10% lighter" is of what was lifted before.
            "backoff" | "backoff.down" => match c.value('p') {
                Some(Value::Percents(off)) if off.len() == 1 && (1.0..=60.0).contains(&off[0][0]) => {
                    let left = off[0].map(|off| 100.0 - off);
                    vec![Self::Relative, Self::Percent(vec![left]), Self::PercentOf(PercentOf::Today)]
                }
                _ => vec![Self::Relative],
            },
            // "At a weight you could do for 12" is one's 12RM.
            "toprm.for" => match c.count('n') {
                Some(n @ 2..=20) => {
                    vec![Self::Percent(vec![[100.0; 2]]), Self::PercentOf(PercentOf::Rm(n))]
                }
                _ => Vec::new(),
            },
            "toprm" | "percent" | "percent.today" => {
                let of = match (c.count('n'), c.value('m')) {
                    (Some(n), _) if says != "percent.today" && (2..=20).contains(&n) => {
                        Some(PercentOf::Rm(n))
                    }
                    (_, Some(Value::Movement { id, .. })) if says == "percent" => {
                        Some(PercentOf::Lift(lift_meant(id)))
                    }
                    _ => (says == "percent.today").then_some(PercentOf::Today),
                };
                let share = Self::one(says, captures, line, start, end);
                share.into_iter().chain(of.map(Self::PercentOf)).collect()
            }
            _ => Self::one(says, captures, line, start, end).into_iter().collect(),
        }
    }
}

/// "70 % of your squat" is of the one with a bar.
fn lift_meant(id: &MovementId) -> MovementId {
    if id.as_str() == "air-squat" { MovementId::new("back-squat") } else { id.clone() }
}

/// "... of your clean": the lift that a share is of.
/// "10 kettlebell swings 24", "12 dumbbell deadlifts 2 x 22.5": a number behind work that has its own is what it weighs.
fn loaded(c: &Captures<'_>) -> Vec<Say> {
    let weighs = matches!(c.value('m'), Some(Value::Movement { weighs: true, .. }));
    let first = c.number('a').filter(|load| weighs && LOADS.contains(load));
    let implements = match c.count('k') {
        None => Some(1),
        Some(2) => Some(2),
        Some(_) => None,
    };
    let (Some(item), Some(first), Some(implements)) = (item("item", c, Unit::Reps), first, implements) else {
        return Vec::new();
    };
    vec![item, Say::Load { implements, first, second: None, unit: None }]
}

pub(super) fn of_a_lift(c: &Captures<'_>) -> Option<Say> {
    match c.value('m')? {
        Value::Movement { id, weighs: true, .. } => Some(Say::PercentOf(PercentOf::Lift(id.clone()))),
        _ => None,
    }
}

/// How much of whatever machine: so much, or as much as goes in.
fn any_dose(says: &str, c: &Captures<'_>) -> Option<Item> {
    if says == "item.machine.max" {
        let unit = if c.has('u') { Unit::Calories } else { Unit::Metres };
        return Some(Item { max: true, unit: Some(unit), ..Item::default() });
    }
    match dose(c).filter(|_| has_dose_unit(c))? {
        Say::Item(dose) => Some(dose),
        _ => None,
    }
}

/// Whether another set with its repetitions and its share follows behind a comma.
fn lists_on(line: &Line<'_>, at: usize) -> bool {
    let comma = line.tokens.get(at).is_some_and(|token| token.is(',') || token.is(';'));
    let counted = line.tokens.get(at + 1).is_some_and(|token| token.number().is_some());
    let shared =
        |at: usize| line.tokens.get(at).is_some_and(|token| token.is('@') || token.word() == Some("at"));
    comma && counted && (shared(at + 2) || shared(at + 3))
}

/// One of several things, for so much.
fn either(of: &[MovementId], dose: &Item) -> Vec<Say> {
    let one = |(n, id): (usize, &MovementId)| {
        let own = if n == 0 { dose.clone() } else { Item::default() };
        [(n > 0).then_some(Say::Or), Some(Say::Item(Item { movement: Some(id.clone()), ..own }))]
    };
    of.iter().enumerate().flat_map(one).flatten().collect()
}
