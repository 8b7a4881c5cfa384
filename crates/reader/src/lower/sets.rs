//! The sets of one lift as they follow one another: lists that are gone through again, builds that are in the sets, a share or a weight for each.

use lantern_session::movement::{Catalogue, Movement};
use lantern_session::{Amount, Format, Load, Part, PercentOf, Prescription, Score, Work};

use super::kind::is_of_sets;
use crate::facts::{Facts, Step, StepKind};

/// Most times that a list of sets is gone through.
const MOST_TIMES_THROUGH: u32 = 10;
/// Most repetitions of a set of a lift that is not raced.
const MOST_REPS_OF_A_LIFT: u32 = 12;
/// Most sets of a line.
const MOST_OF_A_LINE: u32 = 60;

/// "5-5-3-3-1-1, climbing to a heavy single", "5x5, build to a heavy 5": the build is in the sets, which get heavier; says whether it is.
pub(super) fn take_in_build(part: &mut Part, reps: &[u32], listed: bool) -> bool {
    let rm = part.strength.rm;
    let ends_so = rm.is_some() && rm == reps.last().copied();
    let alike = part.format == Some(Format::Sets) && reps.iter().all(|reps| Some(*reps) == rm);
    let in_sets = ends_so && reps.len() > 2 && part.strength.percent.is_empty() && (listed || alike);
    if in_sets {
        part.strength.rm = None;
        part.format = Some(Format::Sets);
    }
    in_sets
}

/// The repetitions of all sets, where those of a list are gone through several times, or a set comes behind them: `listed` is the list of one
/// lift, `shares` how many shares are written.
pub(super) fn gone_through(
    facts: &Facts,
    listed: Option<&[u32]>,
    rounds: Option<u32>,
    shares: usize,
    reps: Vec<u32>,
) -> Vec<u32> {
    let Some(listed) = listed else { return reps };
    // "8-6-4 @ 65-75-85 %, then max @ 65 %": one more set than the list has.
    let open_after = facts.set_list.len() == 1 && facts.set_list[0].0 == 0;
    if open_after && shares == listed.len() + 1 {
        return [&reps[..], &[0]].concat();
    }
    // "5 rounds: 5-5-3-3-1" is a set a round; "ladder x 3: 2-3-5" is all of it so often.
    let falls = reps.windows(2).any(|pair| pair[0] >= pair[1]);
    let again = rounds.filter(|times| *times as usize != reps.len() || !falls);
    reps.repeat(again.unwrap_or(1).min(MOST_TIMES_THROUGH) as usize)
}

/// "1x5 @ 50%, 1x3 @ 60%, 3x5 @ 75%" beside another lift: one list of sets, each with its share.
pub(super) fn one_list_beside_another(facts: &mut Facts) {
    let beside =
        facts.superset || facts.steps.iter().any(|step| matches!(step.what, StepKind::AfterEach { .. }));
    let shares = &facts.strength.percent;
    let others = facts.items().skip(1).all(|item| item.amount.is_some() && item.sets.is_none());
    let Some(at) = facts.steps.iter().position(|step| matches!(step.what, StepKind::Item(_))) else { return };
    let StepKind::Item(first) = &facts.steps[at].what else { return };
    // The first of the sets may stand beside the name.
    let beside_name = first.sets.zip(first.amount.map(|(reps, _)| reps as u32));
    let lines = &facts.sets_reps;
    if !first.is_bare() && beside_name != lines.first().copied() {
        return;
    }
    let alone = facts.items().count() < 2;
    if !beside || alone || !others || lines.len() < 2 || lines.len() != shares.len() || facts.sets.is_some() {
        return;
    }
    let times = |sets: u32| sets.min(MOST_OF_A_LINE) as usize;
    let reps = lines.iter().flat_map(|(sets, reps)| vec![*reps; times(*sets)]).collect();
    let percent: Vec<[f64; 2]> =
        lines.iter().zip(shares).flat_map(|((sets, _), share)| vec![*share; times(*sets)]).collect();
    let list = Step { what: StepKind::Scheme { reps, open: None }, ..facts.steps[at].clone() };
    if let StepKind::Item(first) = &mut facts.steps[at].what {
        (first.sets, first.amount) = (None, None);
        if !first.percent.is_empty() {
            first.percent.clone_from(&percent);
        }
    }
    facts.steps.insert(at + 1, Step { starts_line: false, ..list });
    facts.strength.percent = percent;
    facts.sets_reps.clear();
}

/// "Push press 5-5-3-3-1", and below it "between sets: 8 pull-ups": a list of sets of a bar takes turns with what stands between them, and is no race.
pub(super) fn work_between_sets(facts: &mut Facts, catalogue: &Catalogue) {
    let is_between = |step: &Step| matches!(step.what, StepKind::AfterEach { .. });
    let raced = facts.has_format() || facts.cap_s.is_some() || facts.score == Some(Score::Time);
    let sets = |step: &Step| matches!(&step.what, StepKind::Scheme { reps, open: None } if reps.len() > 1 && is_of_sets(reps, true));
    let of_a_bar = facts.items().next().is_some_and(|first| {
        let movement = first.movement.as_ref().and_then(|id| catalogue.get(id));
        first.is_bare() && first.load.is_none() && movement.is_some_and(Movement::is_barbell)
    });
    let counted = facts.items().skip(1).all(|item| item.amount.is_some());
    let lists = facts.steps.iter().filter(|step| matches!(step.what, StepKind::Scheme { .. })).count();
    if !raced
        && of_a_bar
        && counted
        && lists == 1
        && facts.items().count() > 1
        && facts.steps.iter().any(sets)
        && facts.steps.iter().any(is_between)
    {
        facts.steps.retain(|step| !is_between(step));
        facts.superset = true;
    }
}

/// "A1 push press 5-5-5-5", "A2 pull-ups 5-5-5-5": lists of sets that are all alike, of lifts that take turns, are so many sets.
pub(super) fn alike_sets_in_turn(facts: &mut Facts) {
    if !facts.has_lettered_pair() {
        return;
    }
    let alike = |step: &Step| match &step.what {
        StepKind::Scheme { reps, open: None } if reps.len() > 1 => {
            reps.iter().all(|n| *n == reps[0]).then(|| (reps.len() as u32, reps[0]))
        }
        _ => None,
    };
    let length = |step: &Step| match &step.what {
        StepKind::Scheme { reps, .. } => Some(reps.len()),
        _ => None,
    };
    let lengths: Vec<usize> = facts.steps.iter().filter_map(length).collect();
    // One of them may be a list of its own, set by set.
    let own = lengths.len() - facts.steps.iter().filter_map(alike).count();
    // "A1 press 5-4-3-2-1", "A2 5 pull-ups": nobody races through so few.
    let few = |step: &Step| match &step.what {
        StepKind::Scheme { reps, .. } => reps.iter().all(|n| *n <= MOST_REPS_OF_A_LIFT),
        _ => true,
    };
    let beside = lengths.len() > 1 || facts.items().filter(|item| item.is_bare()).count() == 1;
    let raced = facts.has_format() || !facts.steps.iter().all(few);
    if own > 1 || lengths.is_empty() || !beside || raced || lengths.windows(2).any(|pair| pair[0] != pair[1])
    {
        return;
    }
    facts.superset = true;
    for at in (1..facts.steps.len()).rev() {
        let Some((sets, reps)) = alike(&facts.steps[at]) else { continue };
        let StepKind::Item(item) = &mut facts.steps[at - 1].what else { continue };
        if item.is_bare() {
            item.amount = Some((f64::from(reps), None));
            item.sets = Some(sets).filter(|_| own == 0);
            facts.steps.remove(at);
            if own == 0 {
                facts.sets_reps.insert(0, (sets, reps));
            }
        }
    }
}

/// "1x10 with the empty bar, 1x5 @ 50%, 3x5 @ 75%": the first leads up to those with a share; says how many repetitions it has.
pub(super) fn empty_bar_on_the_way_up(facts: &mut Facts) -> Option<u32> {
    let (lines, shares) = (facts.sets_reps.len(), facts.strength.percent.len());
    if !facts.empty_bar || shares == 0 {
        return None;
    }
    let first = facts.steps.iter_mut().find_map(|step| match &mut step.what {
        StepKind::Item(item) => Some(item),
        _ => None,
    });
    let first = first.filter(|_| shares + 1 == lines && facts.sets_reps[0].0 == 1)?;
    (first.sets, first.amount) = (None, None);
    let (_, reps) = facts.sets_reps.remove(0);
    facts.empty_bar = false;
    Some(reps)
}

/// Gives each set its share, where they are written for one wave of several, or by how many repetitions a set has.
pub(super) fn share_out_by_sets(facts: &Facts, reps: &[u32], percent: &mut Vec<[f64; 2]>) {
    // "2 waves of 3-2-1 @ 80/85/90 %": the shares of one wave are those of the others.
    let wave = percent.len();
    if wave > 1 && reps.len() > wave && reps.len().is_multiple_of(wave) {
        let differ = reps[..wave].windows(2).any(|pair| pair[0] != pair[1]);
        if differ && reps.chunks(wave).all(|each| *each == reps[..wave]) {
            *percent = percent.repeat(reps.len() / wave);
        }
    }
    // "85 % for the doubles"
    let share_for = |reps: &u32| facts.shares_for.iter().find(|(n, _)| n == reps).map(|(_, share)| *share);
    if percent.is_empty() && !facts.shares_for.is_empty() {
        percent.extend(reps.iter().map(share_for).collect::<Option<Vec<_>>>().unwrap_or_default());
    }
}

/// Gives each set the share of its line, where every line of sets has its own.
pub(super) fn share_out_by_lines(
    facts: &Facts,
    distinct: usize,
    superset: bool,
    strength: &mut Prescription,
) {
    // Each line of sets has its own share: one for each of its sets.
    let of_lines = |shares: &[[f64; 2]]| -> Vec<[f64; 2]> {
        let each = facts.sets_reps.iter().zip(shares);
        each.flat_map(|((sets, _), share)| vec![*share; (*sets).min(MOST_OF_A_LINE) as usize]).collect()
    };
    let (single, lines) = (facts.set_list.len(), facts.sets_reps.len());
    let shared = lines > 1 && lines == facts.strength.percent.len();
    if shared && distinct == 1 && !superset && single == 0 {
        strength.percent = of_lines(&facts.strength.percent);
    }
    // "5 @ 60%, 3 @ 70%, 3x3 @ 80%": single sets with a share each, and then lines of sets with theirs.
    if single > 0 && lines > 0 && strength.percent.len() == single + lines && distinct <= 1 {
        let after = strength.percent.split_off(single);
        strength.percent.extend(of_lines(&after));
    }
    // "Top set of 5 @ 80%, then 3x5 @ 90% of that": each line of sets has its own share after those of the top.
    if let (Some(PercentOf::TopSet(first)), true) = (&strength.percent_of, distinct <= 1) {
        let after = strength.percent.split_off((*first as usize).min(strength.percent.len()));
        strength.percent.extend(of_lines(&after));
    }
}

/// "40 kg x 8, 50 kg x 6": a set for each weight.
pub(super) fn with_own_weights(work: &Work, facts: &Facts, part: &mut Part) -> Vec<Work> {
    part.format = Some(Format::Sets);
    // "Bench press 10 @ 40 kg, 8 @ 50 kg": the first of them stands beside the name.
    let beside =
        work.load.zip(work.dose.first()).filter(|_| matches!(work.dose.amount, Amount::Fixed { .. }));
    let sets: Vec<(u32, Load)> = beside
        .map(|(load, reps)| (reps as u32, load))
        .into_iter()
        .chain(facts.weighed.iter().copied())
        .collect();
    part.strength.reps = sets.iter().map(|(reps, _)| *reps).collect();
    part.strength.sets = Some(sets.len() as u32);
    let set = |(reps, load): &(u32, Load)| {
        let mut work = Work { load: Some(*load), ..work.clone() };
        work.dose.amount = Amount::Fixed { first: f64::from(*reps), second: None };
        work
    };
    sets.iter().map(set).collect()
}
