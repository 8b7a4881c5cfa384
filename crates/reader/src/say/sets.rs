//! Sets of a lift, and how heavy they are: what says several things at once.

use lantern_session::movement::Unit;
use lantern_session::{Load, PercentOf};

use super::BARE_SHARES;
use super::captures::{Captures, words_between};
use super::items::item;
use super::phrase::{MODERATE_RPE, SOLID_RPE, reps_of_a_set};
use super::several::of_a_lift;
use super::{Item, Say};
use crate::grammar::Capture;
use crate::values::{Line, Value};

/// Most repetitions of a set with a weight of its own, and most times that one is done again.
const MOST_REPS: u32 = 30;
const MOST_SETS_AGAIN: u32 = 11;

/// What the rows about sets say; none of any others.
pub(super) fn sets(
    says: &str,
    captures: &[Capture],
    line: &Line<'_>,
    start: usize,
    end: usize,
) -> Option<Vec<Say>> {
    let c = Captures(captures);
    let counted = |name: char, say: fn(u32) -> Say| c.count(name).filter(|n| *n > 0).map(say);
    Some(match says {
        // "6-6 @ 75%": two sets of six.
        "scheme.pair" => match (c.count('a'), c.count('b'), c.value('p')) {
            (Some(reps @ 1..=20), Some(again), Some(Value::Percents(share))) if reps == again => {
                vec![Say::SetsReps { sets: 2, reps, upper: None }, Say::Percent(share.clone())]
            }
            _ => Vec::new(),
        },
        // "Top set of 4 @ RPE 8": what is built up to, and how hard it is.
        "rm.effort" | "rm.left" => {
            let reps = c.count('n').or(reps_of_a_set(&words_between(line, start, end)));
            let effort = c.range('r').or(c.number('e').map(|n| (n, n)));
            let of_ten = effort.map(|(low, high)| match says {
                "rm.left" => [10.0 - high, 10.0 - low],
                _ => [low, high],
            });
            match (reps, of_ten) {
                (Some(reps @ 1..=20), Some([low, high])) if low >= 4.0 && high <= 10.0 => {
                    vec![Say::Rm(reps), Say::Rpe([low, high])]
                }
                _ => Vec::new(),
            }
        }
        // "A moderate double", "a solid triple": what is built up to is no heaviest.
        "rm.moderate" | "rm.solid" => {
            let reps = c.count('n').or(reps_of_a_set(&words_between(line, start, end)));
            let effort = if says == "rm.solid" { SOLID_RPE } else { MODERATE_RPE };
            match reps {
                Some(reps @ 1..=20) => vec![Say::Rm(reps), Say::Heaviness(effort)],
                _ => Vec::new(),
            }
        }
        // "4 x 55% of max reps" is so much of what each can do.
        "sets.ofmost" => match (c.value('p'), c.count('s')) {
            (Some(Value::Percents(share)), Some(sets)) if share.len() == 1 && (1..=20).contains(&sets) => {
                vec![Say::Sets(sets), Say::Percent(share.clone()), Say::PercentOf(PercentOf::MostReps)]
            }
            _ => Vec::new(),
        },
        // "4 clusters of 2.2", which looks like one number.
        "clusters.two" => match (c.count('s'), c.number('n')) {
            (Some(sets @ 1..=20), Some(n)) if n.fract() > 0.0 && (n * 10.0).fract() < 1e-9 && n < 10.0 => {
                let reps = n.trunc() as u32 + (n.fract() * 10.0).round() as u32;
                vec![Say::SetsReps { sets, reps, upper: None }]
            }
            _ => Vec::new(),
        },
        "every.failure" => {
            let every = Say::Every { interval_s: 60, times: None, total_s: None };
            vec![every, Say::UntilFailure { rises: false }]
        }
        "climbs.over" => counted('s', Say::Sets).into_iter().chain([Say::Climbs]).collect(),
        "percent.most" => {
            let share = Say::one("percent", captures, line, start, end);
            share.into_iter().chain([Say::PercentOf(PercentOf::MostReps)]).collect()
        }
        "emptybar.sets" => match (c.count('s'), c.count('n')) {
            (Some(sets @ 1..=20), Some(reps @ 1..=MOST_REPS)) => {
                vec![Say::SetsReps { sets, reps, upper: None }, Say::EmptyBar]
            }
            _ => Vec::new(),
        },
        "sets.super" | "sets.super.named" => {
            counted('s', Say::Sets).into_iter().chain([Say::Superset]).collect()
        }
        "scheme.ladder" => match (c.value('l'), c.count('n')) {
            (Some(Value::List { reps, open: None }), Some(times @ 2..=20)) => {
                vec![Say::Scheme { reps: reps.clone(), open: None }, Say::Rounds(times)]
            }
            _ => Vec::new(),
        },
        // "3 sets at 68%, 2 sets at 74%"
        "percent.sets.listed" => {
            let line = |sets: char, share: char| match (c.count(sets), c.value(share)) {
                (Some(sets @ 1..=12), Some(Value::Percents(share))) if share.len() == 1 => {
                    Some(vec![share[0]; sets as usize])
                }
                _ => None,
            };
            match (line('s', 'p'), line('t', 'q')) {
                (Some(first), Some(second)) => vec![Say::Percent([first, second].concat())],
                _ => Vec::new(),
            }
        }
        // "2 sets each at 70, 75 and 80 %"
        "percent.firsts" => match (c.value('p'), c.count('n')) {
            (Some(Value::Percents(share)), Some(sets @ 2..=12)) if share.len() == 1 => {
                vec![Say::Percent(vec![share[0]; sets as usize])]
            }
            // Without its sign.
            (_, Some(sets @ 2..=12)) => {
                let share = c.number('p').filter(|share| BARE_SHARES.contains(share));
                share.map(|share| Say::Percent(vec![[share; 2]; sets as usize])).into_iter().collect()
            }
            _ => Vec::new(),
        },
        "percent.firsts.range" => match (c.number('a'), c.number('b'), c.count('n')) {
            (Some(low), Some(high), Some(sets @ 2..=12))
                if low < high && BARE_SHARES.contains(&low) && BARE_SHARES.contains(&high) =>
            {
                vec![Say::Percent(vec![[low, high]; sets as usize])]
            }
            _ => Vec::new(),
        },
        "percent.eachsets" => match (c.value('p'), c.count('s')) {
            (Some(Value::Percents(shares)), Some(sets @ 1..=6)) if shares.len() > 1 => {
                let each = shares.iter().flat_map(|share| vec![*share; sets as usize]);
                vec![Say::Percent(each.collect())]
            }
            _ => Vec::new(),
        },
        "sets.halfmost" => {
            let named = item("item.bare", &c, Unit::Reps);
            let share = [Say::Percent(vec![[50.0; 2]]), Say::PercentOf(PercentOf::MostReps)];
            named.into_iter().chain(share).collect()
        }
        "setat.openof" => match c.value('p') {
            Some(Value::Percents(share)) if share.len() == 1 => {
                let set = Say::SetAt { reps: 0, percent: share[0] };
                // What it is of is said first: the set itself is none that others are counted from.
                vec![Say::PercentOf(PercentOf::Today), set]
            }
            _ => Vec::new(),
        },
        "setat.each" => match (c.value('p'), c.count('n')) {
            (Some(Value::Percents(shares)), Some(reps))
                if shares.len() >= 2 && reps <= MOST_REPS && shares.iter().all(|[low, _]| *low >= 40.0) =>
            {
                shares.iter().map(|share| Say::SetAt { reps, percent: *share }).collect()
            }
            _ => Vec::new(),
        },
        // "In the 8-10 range"
        "setsof.upto" => match c.range('r') {
            Some((low, high)) if low >= 1.0 && high <= f64::from(MOST_REPS) => {
                vec![Say::SetsOf(low as u32), Say::RepsHigh(high as u32)]
            }
            _ => Vec::new(),
        },
        "schemeof" => match c.value('l') {
            Some(Value::List { reps, open: None }) if reps.len() > 1 => {
                let named = c.value('m').and_then(|_| item("item.bare", &c, Unit::Reps));
                let list = Say::Scheme { reps: reps.clone(), open: None };
                named.into_iter().chain([list]).collect()
            }
            _ => Vec::new(),
        },
        // "4 sets, start with 9 reps and drop 2 reps each set"
        "schemedown" => match (c.count('s'), c.count('n'), c.count('d')) {
            (Some(sets @ 2..=12), Some(from), Some(less)) if less > 0 && (sets - 1) * less < from => {
                let reps = (0..sets).map(|n| from - n * less).collect();
                vec![Say::Scheme { reps, open: None }]
            }
            _ => Vec::new(),
        },
        // "First 2 sets @ 60 %": what is said of the rest comes behind.
        "percent.first" => match (c.value('p'), c.count('n')) {
            (Some(Value::Percents(first)), Some(sets)) if first.len() == 1 => {
                let first = vec![first[0]; sets.min(MOST_SETS_AGAIN) as usize];
                let rest = match c.value('q') {
                    Some(Value::Percents(rest)) => rest.clone(),
                    _ => Vec::new(),
                };
                vec![Say::Percent([first, rest].concat())]
            }
            _ => Vec::new(),
        },
        "build.reps" => {
            let reps = c.count('n').or(reps_of_a_set(&words_between(line, start, end)));
            match (reps, item("item.bare", &c, Unit::Reps)) {
                (Some(reps @ 1..=20), Some(named)) => vec![named, Say::Rm(reps)],
                _ => Vec::new(),
            }
        }
        "setloads" | "setloads.one" => weighed_sets(captures),
        "sharefor" => match (c.value('p'), reps_of_a_set(&words_between(line, start, end))) {
            (Some(Value::Percents(share)), Some(reps)) if share.len() == 1 => {
                vec![Say::ShareFor { reps, percent: share[0] }]
            }
            _ => Vec::new(),
        },
        // "3-position clean x 4": one from each place, so often.
        "positions" => {
            let places = c.count('n').filter(|n| (2..=5).contains(n));
            let named = item("item.bare", &c, Unit::Reps);
            match (places, named) {
                (Some(places), Some(Say::Item(named))) => {
                    let amount = Some((f64::from(places), None));
                    let all = Say::Item(Item { amount, unit: Some(Unit::Reps), ..named });
                    counted('s', Say::Sets).into_iter().chain([all]).collect()
                }
                _ => Vec::new(),
            }
        }
        // "Singles at 90% x 5" speaks of sets; nobody skips at a share of a max.
        "setsof.share" => match (c.value('p'), reps_of_a_set(&words_between(line, start, end))) {
            (Some(Value::Percents(share)), Some(reps)) => {
                let sets = c.count('s').filter(|sets| (1..=20).contains(sets));
                let said = sets.map_or(Say::SetsOf(reps), |sets| Say::SetsReps { sets, reps, upper: None });
                vec![said, Say::Percent(share.clone())]
            }
            _ => Vec::new(),
        },
        "complex.sets" => match (c.value('p'), c.count('s')) {
            (Some(Value::Percents(share)), Some(sets)) if share.len() == 1 && (1..=20).contains(&sets) => {
                let reps = ['a', 'b', 'd'].into_iter().filter_map(|name| c.count(name)).collect();
                vec![Say::ComplexReps(reps), Say::Sets(sets), Say::Percent(share.clone())]
            }
            _ => Vec::new(),
        },
        // Several with a breath between: of one lift a cluster, of several a complex.
        "clusters.plus" => match c.count('s') {
            Some(sets) if (1..=20).contains(&sets) => {
                let reps = ['a', 'b', 'd', 'e'].into_iter().filter_map(|name| c.count(name)).collect();
                vec![Say::ComplexReps(reps), Say::Sets(sets)]
            }
            _ => Vec::new(),
        },
        // A share to start at is one to climb from.
        "percent.start" => match c.value('p') {
            Some(Value::Percents(share)) if share.len() == 1 => {
                [Say::Percent(share.clone()), Say::Climbs].into_iter().chain(of_a_lift(&c)).collect()
            }
            _ => Vec::new(),
        },
        "percent.finish" => match c.value('p') {
            // The last set is somewhere within: its middle is what is built up to.
            Some(Value::Percents(share)) if share.len() == 1 => {
                let middle = (share[0][0] + share[0][1]) / 2.0;
                let share = Say::Percent(vec![[middle; 2]]);
                [share, Say::ClimbsTo].into_iter().chain(of_a_lift(&c)).collect()
            }
            _ => Vec::new(),
        },
        "percent.finish.bare" => match c.number('n').filter(|share| (40.0..=110.0).contains(share)) {
            Some(share) => vec![Say::Percent(vec![[share; 2]]), Say::ClimbsTo],
            None => Vec::new(),
        },
        // "Building to 80%" ends there.
        "percent.upto" => match c.value('p') {
            Some(Value::Percents(share)) if share.len() == 1 => {
                let of = Say::all("percent", captures, line, start, end);
                of.into_iter().chain([Say::ClimbsTo]).collect()
            }
            _ => Vec::new(),
        },
        // "3 ramping sets of 5" end at what the sets after them are done with.
        "sets.ramping" => match (c.count('s'), c.count('r')) {
            (Some(sets), Some(reps)) if (1..=12).contains(&sets) && (1..=30).contains(&reps) => {
                let named = c.value('m').and_then(|_| item("item.bare", &c, Unit::Reps));
                let sets = [Say::SetsReps { sets, reps, upper: None }, Say::ClimbsTo];
                named.into_iter().chain(sets).collect()
            }
            _ => Vec::new(),
        },
        // "From 70% adding 3% each": the next is by so much heavier.
        "percent.step" | "percent.step.wave" => match (c.value('p'), c.value('s')) {
            (Some(Value::Percents(from)), Some(Value::Percents(step)))
                if from.len() == 1 && step.len() == 1 && (0.5..=15.0).contains(&step[0][0]) =>
            {
                let by_wave = says == "percent.step.wave";
                vec![Say::Percent(from.clone()), Say::ShareStep { step: step[0][0], by_wave }]
            }
            _ => Vec::new(),
        },
        // "3 x AMRAP (-2)" stops two short.
        "setsmax.short" => match (c.count('s'), c.number('n')) {
            (Some(sets), Some(left)) if (1..=20).contains(&sets) && left <= 5.0 => {
                vec![Say::SetsMax(sets), Say::Rpe([10.0 - left; 2])]
            }
            _ => Vec::new(),
        },
        "setat.open.short" => match (c.value('p'), c.number('n')) {
            (Some(Value::Percents(share)), Some(left)) if share.len() == 1 && left <= 5.0 => {
                vec![Say::SetAt { reps: 0, percent: share[0] }, Say::Rpe([10.0 - left; 2])]
            }
            _ => Vec::new(),
        },
        "setsmax.share" => match (c.value('p'), c.count('s')) {
            (Some(Value::Percents(share)), Some(sets)) if share.len() == 1 && (1..=12).contains(&sets) => {
                vec![Say::SetAt { reps: 0, percent: share[0] }; sets as usize]
            }
            _ => Vec::new(),
        },
        // "Sets 1-2 @ 70, sets 3-4 @ 75": the share of each of them.
        "sets.share" => match (c.count('a'), c.number('p')) {
            (Some(first), Some(share)) if (40.0..=110.0).contains(&share) => {
                let last = c.count('b').unwrap_or(first);
                let sets = last.saturating_sub(first).min(11) as usize + 1;
                vec![Say::Percent(vec![[share; 2]; sets])]
            }
            _ => Vec::new(),
        },
        "setat.list" => match (c.value('l'), c.count('n')) {
            (Some(Value::List { reps: shares, open: None }), Some(reps))
                if shares.len() >= 2 && shares.iter().all(|share| (40..=110).contains(share)) =>
            {
                let percent = |share: &u32| [f64::from(*share); 2];
                shares.iter().map(|share| Say::SetAt { reps, percent: percent(share) }).collect()
            }
            _ => Vec::new(),
        },
        // "75/3 80/3 85/2": shares in front of their repetitions.
        "setpairs" => {
            let count =
                |value: &Option<Value>| if let Some(Value::Count(n)) = value { Some(*n) } else { None };
            let numbers: Vec<u32> = captures.iter().filter_map(|(_, value, _)| count(value)).collect();
            let pairs: Vec<(u32, u32)> = numbers.chunks_exact(2).map(|pair| (pair[0], pair[1])).collect();
            let likely =
                pairs.iter().all(|(share, reps)| (50..=110).contains(share) && (1..=10).contains(reps));
            let rising = pairs.windows(2).all(|pair| pair[0].0 <= pair[1].0);
            let unit = line.load_unit(end).is_some();
            if likely && rising && !unit {
                let set =
                    |(share, reps): &(u32, u32)| Say::SetAt { reps: *reps, percent: [f64::from(*share); 2] };
                pairs.iter().map(set).collect()
            } else {
                Vec::new()
            }
        }
        "setslist" => {
            let numbers: Vec<u32> = captures
                .iter()
                .filter_map(|(_, value, _)| if let Some(Value::Count(n)) = value { Some(*n) } else { None })
                .collect();
            let signed = line.tokens[start..end].iter().any(|token| token.is('%'))
                || line.tokens.get(end).is_some_and(|token| token.is('%'));
            let likely = numbers
                .chunks(2)
                .all(|pair| pair.len() == 2 && pair[0] <= 20 && (30..=110).contains(&pair[1]));
            // "5 @ 70, 5 @ 75, 3 @ 80": rising like that they are shares without the sign.
            let weights: Vec<u32> = numbers.chunks(2).filter_map(|pair| pair.get(1).copied()).collect();
            // "5 @ 70, 3 @ 80, 1 @ 90, 3 @ 80, 5 @ 70" goes up and comes down again.
            let top =
                weights.iter().position(|share| Some(share) == weights.iter().max()).unwrap_or_default();
            let falls = |pair: &[u32]| pair[0] >= pair[1];
            let rising = weights.len() >= 3
                && top > 0
                && weights[..=top].windows(2).all(|pair| pair[0] <= pair[1])
                && weights[top..].windows(2).all(falls)
                && weights.iter().all(|share| (50..=100).contains(share));
            if (signed || rising) && likely {
                numbers
                    .chunks(2)
                    .map(|pair| Say::SetAt { reps: pair[0], percent: [f64::from(pair[1]); 2] })
                    .collect()
            } else {
                Vec::new()
            }
        }
        _ => return None,
    })
}

/// "40 kg x 8, 50 kg x 6 x 2": each set with its weight; the unit that is said once is that of all.
fn weighed_sets(captures: &[Capture]) -> Vec<Say> {
    let mut sets: Vec<Say> = Vec::new();
    let (mut weight, mut count) = (None, None);
    let unit = captures.iter().find_map(|(_, value, _)| match value {
        Some(Value::Load { unit, .. }) => *unit,
        _ => None,
    });
    for (name, value, _) in captures {
        match (name, value) {
            ('l', Some(Value::Load { implements: 1, first, second, unit: own })) => {
                let unit = own.or(unit).filter(|unit| unit.weight().is_some());
                weight = unit.map(|unit| Load { first: *first, second: *second, unit, implements: 1 });
            }
            ('n', Some(Value::Count(n))) => count = Some(*n).filter(|n| (1..=MOST_REPS).contains(n)),
            ('s', Some(Value::Count(n))) => {
                let again = sets.last().cloned();
                sets.extend(
                    again.into_iter().cycle().take(n.saturating_sub(1).min(MOST_SETS_AGAIN) as usize),
                );
            }
            _ => return Vec::new(),
        }
        if let (Some(load), Some(reps)) = (weight, count) {
            sets.push(Say::SetWith { reps, load });
            (weight, count) = (None, None);
        }
    }
    if weight.is_some() || count.is_some() { Vec::new() } else { sets }
}
