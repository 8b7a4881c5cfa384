//! Targets in sentences, one rule a function: each says nothing where it has nothing to say.

use super::{Whose, is_clocked, said, sets_in, worked};
use crate::movement::{MovementId, Unit};
use crate::pacing::Measure;
use crate::session::{Amount, Format, Intent, Node, Sharing, totals, works};

/// A first round faster than the mean by more than this is too hot.
const TOO_HOT: f64 = 0.9;
/// Sets from this number on are not told one by one.
const MANY_SETS: usize = 8;
/// The share of each interval that should be left as rest where nothing is written; coaching practice.
const REST_SHARE: f64 = 0.2;
/// Turns of a team that works in turn: this share of what is unbroken when fresh; coaching practice.
const TURN_SHARE: f64 = 0.35;

pub(super) fn advice(whose: &Whose<'_>) -> Vec<String> {
    let rules: [fn(&Whose<'_>) -> Vec<String>; 7] =
        [set_breaks, opening, result, rest_left, remaining, penalty, team];
    rules.iter().flat_map(|rule| rule(whose)).collect()
}

/// "12 = 7+5, then 6+6": how the sets break in the first round, and in a later one where that differs.
fn set_breaks(whose: &Whose<'_>) -> Vec<String> {
    let run = &whose.choice.run;
    let mut said = Vec::new();
    let mut seen: Vec<&MovementId> = Vec::new();
    for (round, movement, _) in &run.sets {
        if *round != 1 || seen.contains(&movement) {
            continue;
        }
        seen.push(movement);
        let name = whose.catalogue.name(movement).to_lowercase();
        let first = sets_in(whose.choice, 1, movement);
        let later = (2..=3).map(|round| sets_in(whose.choice, round, movement)).find(|sets| !sets.is_empty());
        let total: u32 = first.iter().sum();
        let mut text = match first.len() {
            0 => continue,
            1 => format!("{name}: {total} unbroken"),
            n if n > MANY_SETS && first.iter().all(|reps| *reps <= 2) => {
                said.push(format!("{name}: singles from the start, short and steady"));
                continue;
            }
            n if n > MANY_SETS => format!("{name}: {total} in sets of about {}", total.div_ceil(n as u32)),
            _ => format!("{name}: {total} = {}", sum(&first)),
        };
        if let Some(later) = later.filter(|later| later.len() != first.len() && later.len() <= MANY_SETS) {
            text.push_str(&format!(", then {}", sum(&later)));
        }
        said.push(text);
    }
    said
}

fn sum(sets: &[u32]) -> String {
    sets.iter().map(u32::to_string).collect::<Vec<_>>().join("+")
}

/// The pace that lasts, round for round, and what would be too hot for it.
fn opening(whose: &Whose<'_>) -> Vec<String> {
    let rounds = worked(whose.choice);
    let shared = matches!(whose.choice.tree, Node::Together { .. });
    // Rungs of a scheme are of different length; only rounds can be compared, and only whole ones.
    let whole = whose.choice.run.round_ends.len().min(rounds.len());
    // Where each stay ends by the clock, a round takes as long as it takes.
    let timed = works(&whose.choice.tree).iter().all(|work| work.dose.unit == Unit::Seconds);
    if whole < 3 || is_clocked(whose) || timed || shared || has_scheme(&whose.choice.tree) {
        return Vec::new();
    }
    let (first, mean) = (rounds[0], rounds[..whole].iter().sum::<f64>() / whole as f64);
    if first < mean * TOO_HOT {
        let faster = (1.0 - first / mean) * 100.0;
        return vec![format!(
            "round 1 will want to go in {}, {faster:.0} % faster than what lasts; open at {}",
            said(first),
            said(mean)
        )];
    }
    vec![format!(
        "about {} a round, from the first on; under {} is too hot",
        said(mean),
        said(mean * TOO_HOT)
    )]
}

fn has_scheme(node: &Node) -> bool {
    matches!(node, Node::Scheme { .. } | Node::Ladder { .. }) || node.children().into_iter().any(has_scheme)
}

/// What to aim for, in the unit of the score.
pub(super) fn result(whose: &Whose<'_>) -> Vec<String> {
    let predicted = whose.predicted();
    let middle = predicted.spread.p50;
    match predicted.measure {
        Measure::Rounds => {
            let round: f64 = crate::session::per_round(&whose.choice.tree)
                .iter()
                .filter(|total| total.unit == Unit::Reps)
                .map(|total| total.amount)
                .sum();
            let reps = (middle.fract() * round).round();
            vec![format!("goal: {} rounds and {reps:.0}", middle.floor())]
        }
        Measure::Reps | Measure::Calories | Measure::Metres => {
            let bouts = whose.choice.run.interval_work.len().max(1);
            let each = predicted.own(middle) / bouts as f64;
            match bouts {
                1 => vec![format!("goal: {} in all", predicted.show(middle))],
                _ => vec![format!(
                    "hold {each:.0} in each of the {bouts} bouts, {} in all",
                    predicted.show(middle)
                )],
            }
        }
        measure if measure.is_never(middle) => {
            vec!["may hold this for as long as you let them: agree on an end".to_owned()]
        }
        Measure::FailedRound => vec![format!("expect to stop in round {middle:.0}")],
        Measure::Finish | Measure::SlowestInterval => Vec::new(),
    }
}

/// Work and rest of an interval, and a warning where the intended rest is not left.
fn rest_left(whose: &Whose<'_>) -> Vec<String> {
    let (Some(Format::Every), Some(interval)) = (whose.part.format, whose.part.interval_s) else {
        return Vec::new();
    };
    let interval = f64::from(interval);
    let slowest = whose.choice.run.interval_work.iter().copied().fold(0.0, f64::max);
    let written = whose.part.intents.iter().find_map(|intent| match intent {
        Intent::RestLeft(seconds) => Some(f64::from(*seconds)),
        _ => None,
    });
    // As many as possible until the next start leave no rest, and are not meant to.
    let open = works(&whose.choice.tree).iter().any(|work| work.dose.amount == Amount::Max);
    if open && written.is_none() {
        return Vec::new();
    }
    let wanted = written.unwrap_or(interval * REST_SHARE);
    let rest = interval - slowest;
    let mut text = vec![format!(
        "about {} of work and {} of rest in the slowest interval",
        said(slowest),
        said(rest.max(0.0))
    )];
    if rest < wanted {
        text.push(format!(
            "less rest than intended ({} asked): cut the repetitions before it turns into something else",
            said(wanted)
        ));
    }
    text
}

/// Open work at the end of a bout: how much goes into what is left.
fn remaining(whose: &Whose<'_>) -> Vec<String> {
    let run = &whose.choice.run;
    let bouts = run.interval_work.len().max(1) as f64;
    let open: Vec<&MovementId> = works(&whose.choice.tree)
        .into_iter()
        .filter(|work| work.dose.amount == Amount::Max)
        .map(|work| &work.movement)
        .collect();
    let fixed = totals(&whose.choice.tree).iter().any(|total| !total.open && total.amount > 0.0);
    if open.len() != 1 || !fixed {
        return Vec::new();
    }
    let done: f64 = run
        .marks
        .windows(2)
        .filter(|pair| pair[1].movement == *open[0] && pair[1].of.is_none())
        .map(|pair| if pair[0].movement == pair[1].movement { pair[1].done.max(0.0) } else { pair[1].done })
        .sum();
    let name = whose.catalogue.name(open[0]).to_lowercase();
    if done < 1.0 {
        Vec::new()
    } else {
        vec![format!("about {:.0} {name} in what is left of each bout", done / bouts)]
    }
}

/// How often the penalty is likely to be paid.
fn penalty(whose: &Whose<'_>) -> Vec<String> {
    let owed = matches!(whose.choice.tree, Node::Penalty { .. });
    let breaks = whose.choice.run.breaks;
    if owed { vec![format!("about {breaks} breaks, and the penalty for each of them")] } else { Vec::new() }
}

/// Who does what: turns before anybody slows down, and a share of the whole.
fn team(whose: &Whose<'_>) -> Vec<String> {
    let Node::Together { size, sharing, of } = &whose.choice.tree else { return Vec::new() };
    if *sharing != Sharing::Freely {
        return Vec::new();
    }
    let athlete = crate::pacing::Athlete::new(whose.member);
    totals(of)
        .iter()
        .filter(|total| total.amount > 0.0)
        .map(|total| {
            let share = total.amount / f64::from(*size);
            let name = whose.catalogue.name(&total.movement).to_lowercase();
            let work = works(of).into_iter().find(|work| work.movement == total.movement);
            let ability = work.map(|work| athlete.ability(work, whose.catalogue, whose.model));
            let unit = total.unit.short();
            match ability
                .map(|ability| ability.capacity)
                .filter(|n| n.is_finite() && total.unit == Unit::Reps)
            {
                Some(capacity) => format!(
                    "{name}: about {share:.0} of {:.0}, in turns of {:.0}",
                    total.amount,
                    (capacity * TURN_SHARE).round().clamp(1.0, share.max(1.0))
                ),
                None => format!(
                    "{name}: about {share:.0}{unit} of {:.0}{unit}, swap before you slow down",
                    total.amount
                ),
            }
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use crate::gym::Gym;
    use crate::member::{Experience, Member, Sex};
    use crate::movement::{Catalogue, MovementId};
    use crate::plan::{PacingTargets, plan};
    use crate::read::read;

    fn targets(text: &str) -> PacingTargets {
        let catalogue = Catalogue::standard();
        let member = Member {
            name: "Regular".to_owned(),
            sex: Some(Sex::M),
            experience: Experience::Intermediate,
            best_reps: [("pull-up", 18), ("strict-pull-up", 7), ("push-up", 30)]
                .map(|(id, reps)| (MovementId::new(id), reps))
                .into(),
            row_2k_s: Some(460),
            run_400_s: Some(85),
            ..Member::default()
        };
        let plan = plan(&read(text, catalogue).session, &[member], &Gym::default(), catalogue, 1);
        plan.pieces[0].members[0].targets.clone()
    }

    fn says(targets: &PacingTargets, words: &str) -> bool {
        let all = [&targets.advice, &targets.behind, &targets.machines];
        all.into_iter().flatten().any(|line| line.contains(words))
    }

    #[test]
    fn sets_break_round_by_round_and_the_pace_that_lasts_is_named() {
        let targets =
            targets("5 rounds for time, cap 20\n400 m run\n14 pull-ups\n20 air squats\ngoal 15-20 min");
        assert!(says(&targets, "pull-up: 14 = 8+6"), "{targets:?}");
        assert!(
            says(&targets, "a round") && says(&targets, "too hot") || says(&targets, "what lasts"),
            "{:?}",
            targets.advice
        );
        assert!(targets.checkpoints.iter().any(|point| point.text.starts_with("round 2")), "{targets:?}");
        assert!(says(&targets, "half way") && targets.checkpoints.last().unwrap().text.contains("last call"));
        assert!(says(&targets, "run: 400 m in about"), "{:?}", targets.machines);
    }

    #[test]
    fn who_is_done_long_before_the_cap_hears_no_last_call() {
        let texts = |cap: u32| -> Vec<String> {
            let text = format!("3 rounds for time, cap {cap}\n400 m run\n20 air squats\ngoal 6-12 min");
            targets(&text).checkpoints.into_iter().map(|point| point.text).collect()
        };
        assert!(!texts(40).iter().any(|text| text.contains("last call")), "{:?}", texts(40));
        assert!(texts(9).iter().any(|text| text.contains("last call")), "{:?}", texts(9));
    }

    #[test]
    fn written_rests_are_no_part_of_a_round_and_who_is_late_is_told_in_numbers() {
        let rested = targets(
            "4 rounds for time, cap 30\n400 m run\n14 pull-ups\n20 air squats\nrest 2:00 between rounds\ngoal 18-26 min",
        );
        let straight =
            targets("4 rounds for time, cap 30\n400 m run\n14 pull-ups\n20 air squats\ngoal 12-18 min");
        let round = |targets: &PacingTargets| {
            let line =
                targets.advice.iter().find(|line| line.contains("a round, from") || line.contains("open at"));
            let line = line.unwrap_or_else(|| panic!("{:?}", targets.advice)).clone();
            let clock = line.split([' ', ';', ',']).find(|word| word.contains(':')).unwrap().to_owned();
            let (minutes, seconds) = clock.split_once(':').unwrap();
            minutes.parse::<f64>().unwrap() * 60.0 + seconds.parse::<f64>().unwrap()
        };
        // With two minutes of rest a round is quicker, and the rest is not counted to it.
        assert!(round(&rested) <= round(&straight), "{:?}\n{:?}", rested.advice, straight.advice);
        assert!(
            says(&straight, "half way is") && says(&straight, "you still end by 18:00"),
            "{:?}",
            straight.behind
        );
        assert!(says(&straight, "in place of"), "{:?}", straight.behind);
        let amrap = targets("AMRAP 16\n5 pull-ups\n10 push-ups\n15 air squats\ngoal 8+ rounds");
        assert!(says(&amrap, "half way at 8:00"), "{:?}", amrap.behind);
    }

    #[test]
    fn an_amrap_has_a_goal_in_rounds_and_repetitions() {
        assert!(says(&targets("AMRAP 12\n5 pull-ups\n10 push-ups\n15 air squats"), "goal: "));
    }

    #[test]
    fn work_and_rest_of_an_interval_are_told_and_too_little_rest_is_warned_of() {
        let easy = targets("Every 3:00 x 5\n10 push-ups\n10 air squats");
        assert!(says(&easy, "of rest in the slowest interval") && !says(&easy, "less rest than intended"));
        // Who goes on until the next start has no rest to be warned of.
        let open = targets("Every 3:00 for 4 rounds\n12 cal row\nmax burpees in the time left");
        assert!(!says(&open, "of rest in the slowest") && says(&open, "in what is left of each bout"));
    }

    #[test]
    fn open_work_penalties_and_teams_say_what_to_expect() {
        assert!(says(
            &targets("4 x 3:00 on, 1:30 off\n200 m run\nthen max burpees in the remaining time"),
            "burpee in what is left"
        ));
        assert!(says(
            &targets("For time, cap 13\n90 wall balls 6/4 kg\nevery time you break: run 100 m"),
            "breaks, and the penalty"
        ));
        let team = targets("Teams of 3, one works, two rest\nFor time, cap 30\n120 cal row\n90 air squats");
        assert!(
            says(&team, "air squat: about 30 of 90, in turns of")
                && says(&team, "row: about 40 cal of 120 cal"),
            "{team:?}"
        );
    }

    #[test]
    fn a_bar_that_gets_heavier_has_a_time_for_each_change() {
        let targets = targets(
            "12 minute clock, score = total reps\n15 deadlifts at 60/40 kg\n15 deadlifts at 80/50 kg\nthen max deadlifts at 100/60 kg",
        );
        assert!(targets.checkpoints.iter().any(|point| point.text.contains("kg done, on to")), "{targets:?}");
    }

    #[test]
    fn rowing_has_a_split_and_calories_an_hour_from_the_members_own_time() {
        let targets = targets("4 rounds for time\n500 m row\n15 push-ups");
        assert!(
            says(&targets, "row: ") && says(&targets, "/500 m") && says(&targets, "cal an hour"),
            "{targets:?}"
        );
    }
}
